"""What is not saved yet, kept beside, so that neither a closed window nor a lost current loses it."""

import hashlib
from contextlib import suppress
from pathlib import Path

from PySide6.QtCore import QLockFile, QObject, Signal

from ...core.errors import VowLineError
from ...core.job import Job
from ...core.texts import tell
from ...files.job_json import JOB_SUFFIX, dump, read_job
from ...files.whole import write_whole
from .worker import Tell, Worker

MOST_WINDOWS = 9  # on one job at once


class Autosave(QObject):
    """Unsaved jobs in one folder, named after the files they belong to; written one after another, off the main thread.

    A window that has a job open holds a place for it; another on the same job holds another, so that neither writes over what
    the other keeps. `failed` says what could not be kept.
    """

    failed = Signal(str)

    def __init__(self, folder: Path) -> None:
        super().__init__()
        self.folder = folder
        self._writer = Worker(self, at_once=1)
        self._held: tuple[Path, Path, QLockFile] | None = None

    def take(self, path: Path) -> bool:
        """Hold a place for the unsaved work on a file; false when another window has it open."""
        self.let_go()
        with suppress(OSError):
            self.folder.mkdir(parents=True, exist_ok=True)
        for number, place in enumerate(self._places(path)):
            lock = QLockFile(str(place.with_suffix(".lock")))
            lock.setStaleLockTime(0)  # a window may stay open for days; one that is gone is known by its process
            if lock.tryLock(0):
                self._held = path, place, lock
                return number == 0
            if lock.error() != QLockFile.LockError.LockFailedError:
                return True  # nothing can be kept here, which is said when it is tried
        return False

    def let_go(self) -> None:
        """Hold no place any more."""
        if self._held is not None:
            self._held[2].unlock()
            self._held = None

    def _places(self, path: Path) -> list[Path]:
        name = hashlib.sha256(str(path.resolve()).encode()).hexdigest()[:24]
        return [self.folder / f"{name}{k}{JOB_SUFFIX}" for k in ("", *(f"-{n}" for n in range(2, MOST_WINDOWS + 1)))]

    def _place(self, path: Path) -> Path:
        """The place held for a file, or its first."""
        return self._held[1] if self._held is not None and self._held[0] == path else self._places(path)[0]

    def _free(self, place: Path) -> bool:
        """Whether no other window holds a place."""
        if self._held is not None and self._held[1] == place:
            return True
        lock = QLockFile(str(place.with_suffix(".lock")))
        lock.setStaleLockTime(0)
        if not lock.tryLock(0):
            return False
        lock.unlock()
        return True

    def keep(self, path: Path, job: Job) -> None:
        """Keep the job beside its file."""
        place = self._place(path)

        def write(_: Tell) -> None:
            write_whole(place, dump(job))

        self._writer.start(tell("keeping what is not saved"), write, failed=self._failed)

    def _failed(self, says: str) -> None:
        self.failed.emit(tell("What is not saved could not be kept beside. {why}", why=says))

    def drop(self, path: Path) -> None:
        """The file has it now."""
        self.settle()
        self._place(path).unlink(missing_ok=True)

    def settle(self) -> None:
        """Wait until all is written."""
        self._writer.wait()

    def recover(self, path: Path) -> Job | None:
        """What was not saved to that file, if anything, the newest that no other window holds; what is in another's place comes
        to the one held here.
        """
        self.settle()
        there = [p for p in self._places(path) if p.exists() and self._free(p)]
        for place in sorted(there, key=lambda p: p.stat().st_mtime, reverse=True):
            try:
                job = read_job(place)
            except VowLineError:
                continue
            if place != self._place(path):
                place.replace(self._place(path))
            return job
        return None
