"""What is not saved yet, kept beside, so that neither a closed window nor a lost current loses it."""

import hashlib
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from ...core.errors import VowLineError
from ...core.job import Job
from ...core.texts import tell
from ...files.job_json import JOB_SUFFIX, dump, read_job
from ...files.whole import write_whole
from .worker import Tell, Worker


class Autosave(QObject):
    """Unsaved jobs in one folder, named after the files they belong to; written one after another, off the main thread.

    `failed` says what could not be kept.
    """

    failed = Signal(str)

    def __init__(self, folder: Path) -> None:
        super().__init__()
        self.folder = folder
        self._writer = Worker(self, at_once=1)

    def _place(self, path: Path) -> Path:
        name = hashlib.sha256(str(path.resolve()).encode()).hexdigest()[:24]
        return self.folder / f"{name}{JOB_SUFFIX}"

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
        """What was not saved to that file, if anything."""
        self.settle()
        place = self._place(path)
        if not place.exists():
            return None
        try:
            return read_job(place)
        except VowLineError:
            return None
