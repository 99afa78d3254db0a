"""What is not saved yet, kept beside, so that neither a closed window nor a lost current loses it."""

import hashlib
import itertools
import json
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from threading import RLock

from PySide6.QtCore import QLockFile, QObject, Signal

from ...core.errors import UnreadableFile, VowLineError
from ...core.job import Job
from ...core.texts import tell
from ...files.job_json import JOB_SUFFIX, MOST_BYTES, dump, load, read_job
from ...files.whole import read_whole, write_whole
from .worker import Tell, Worker

HEAD_BYTES = 20_000  # more than the longest name of a file takes, with escapes
PROBE_MS = 50  # another program that only looks lets go long before


@dataclass(frozen=True, eq=False)
class Kept:
    """Unsaved work: where it is kept, since when, the job, or why it cannot be read; its file, and the digest of what that held
    when the work grew from it, where these are known.
    """

    place: Path
    at: datetime
    job: Job | None
    path: Path | None = None
    grew_from: str = ""
    wrong: str = ""

    def belongs(self, path: Path, content: str) -> bool:
        """Whether its file still holds what it grew from. Where that was not written down, whether it is newer."""
        if self.job is None:
            return False
        if self.grew_from:
            return self.grew_from == content
        return path.exists() and self.at.timestamp() >= path.stat().st_mtime


class Autosave(QObject):
    """Unsaved jobs in one folder, named after the files they belong to; written one after another, off the main thread.

    A window that has a job open holds a place for it where nothing is kept yet; another on the same job holds another, and
    what is kept in a place is written over by nobody but who holds it. `failed` says what could not be kept.
    """

    failed = Signal(str)

    def __init__(self, folder: Path) -> None:
        super().__init__()
        self.folder = folder
        self.writer = Worker(self, at_once=1)
        self.why = ""  # the last could not be kept
        self._held: tuple[Path, Path, QLockFile] | None = None
        self._probing = RLock()  # the shelf is read in another thread, and to see whether a place is held is to hold it

    def take(self, path: Path) -> bool:
        """Hold a place for the unsaved work on a file; false when another window has it open."""
        self.let_go()
        with suppress(OSError):
            self.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        alone = True
        with self._probing:
            for place in self._places(path):
                lock = _lock(place)
                if lock.tryLock(PROBE_MS):
                    if place.exists():
                        lock.unlock()  # of a window that has gone
                        continue
                    self._held = path, place, lock
                    return alone
                if lock.error() != QLockFile.LockError.LockFailedError:
                    return True  # nothing can be kept here, which is said when it is tried
                alone = False
        return alone

    def adopt(self, kept: Kept) -> None:
        """Go on with work that was kept: from now on it is what is written over. Where another window has taken it up
        meanwhile, nothing changes.
        """
        lock = _lock(kept.place)
        with self._probing:
            if self._held is not None and lock.tryLock(PROBE_MS):
                path, _, before = self._held
                self._held = path, kept.place, lock
                before.unlock()

    def let_go(self) -> None:
        """Hold no place any more."""
        if self._held is not None:
            self._held[2].unlock()
            self._held = None

    def _places(self, path: Path) -> Iterator[Path]:
        name = hashlib.sha256(str(path.resolve()).encode(errors="surrogateescape")).hexdigest()[:24]
        return (
            self.folder / f"{name}{k}{JOB_SUFFIX}" for k in itertools.chain([""], (f"-{n}" for n in itertools.count(2)))
        )

    def _place(self, path: Path) -> Path | None:
        return self._held[1] if self._held is not None and self._held[0] == path else None

    def keep(self, path: Path, job: Job, grew_from: str) -> None:
        """Keep the job beside its file, for which a place is held; `grew_from`: the digest of what the file held."""
        place = self._place(path)

        def write(_: Tell) -> None:
            target = place or next(p for p in self._places(path) if not p.exists())
            head = json.dumps({"kept_for": str(path), "grew_from": grew_from})
            self.why = tell("It was not written.")
            try:
                write_whole(target, head[:-1].encode() + b', "job": ' + dump(job) + b"}\n", private=True)
            except VowLineError as error:
                self.why = str(error)
                raise
            self.why = ""

        self.writer.start(tell("keeping what is not saved"), write, failed=self._failed)

    def _failed(self, says: str) -> None:
        self.failed.emit(tell("What is not saved could not be kept beside. {why}", why=says))

    def drop(self, path: Path) -> None:
        """The file has it now."""
        self.settle()
        place = self._place(path)
        if place is not None:
            place.unlink(missing_ok=True)

    def throw_away(self, kept: Kept) -> None:
        """This is kept elsewhere now."""
        kept.place.unlink(missing_ok=True)

    def settle(self) -> None:
        """Wait until all is written."""
        self.writer.wait()

    def works(self, path: Path) -> tuple[Kept, ...]:
        """What was not saved to that file and is in no other window's hands, the newest first; looking changes nothing."""
        self.settle()
        first = next(self._places(path)).name.removesuffix(JOB_SUFFIX)
        there = [p for p in self.folder.glob(f"{first}*{JOB_SUFFIX}") if self._free(p)]
        return tuple(sorted((k for k in map(_read, there) if k is not None), key=lambda k: k.at, reverse=True))

    def orphans(self) -> tuple[Path, ...]:
        """The files that are gone, and have unsaved work; what is damaged past telling whose it is stands for itself."""
        found: dict[Path, None] = {}
        for place in sorted(self.folder.glob(f"*{JOB_SUFFIX}")):
            file = _kept_for(place)
            if file is None and (kept := _read(place)) is not None:
                file = kept.path or (kept.place if kept.job is None else None)
            if file is not None and (file.parent == self.folder or not file.exists()) and self._free(place):
                found[file] = None
        return tuple(found)

    def _free(self, place: Path) -> bool:
        """Whether no other window holds a place."""
        with self._probing:
            if self._held is not None and self._held[1] == place:
                return True
            lock = _lock(place)
            if lock.tryLock(PROBE_MS):
                lock.unlock()
                return True
        return lock.error() != QLockFile.LockError.LockFailedError


def digest(path: Path) -> str:
    """What a file holds now, as a digest; nothing where it cannot be read."""
    try:
        return hashlib.sha256(read_whole(path, MOST_BYTES)).hexdigest()
    except UnreadableFile:
        return ""


def _lock(place: Path) -> QLockFile:
    lock = QLockFile(str(place.with_suffix(".lock")))
    lock.setStaleLockTime(0)  # a window may stay open for days; one that is gone is known by its process
    return lock


def _kept_for(place: Path) -> Path | None:
    """The file that a work is kept for, by the head it was written with: of many works not all are read for it."""
    try:
        with place.open("rb") as kept:
            head, job, _ = kept.read(HEAD_BYTES).partition(b', "job": ')
        return Path(str(json.loads(head + b"}")["kept_for"])) if job else None
    except (OSError, ValueError, LookupError, TypeError):
        return None


def _read(place: Path) -> Kept | None:
    """What is kept in a place; None where it has gone meanwhile."""
    try:
        content = read_whole(place, 2 * MOST_BYTES)
        at = datetime.fromtimestamp(place.stat().st_mtime)
    except (OSError, UnreadableFile):
        return None
    path, grew_from = None, ""
    try:
        data = json.loads(content)
        if isinstance(data, dict) and "kept_for" in data:
            path, grew_from = Path(str(data["kept_for"])), str(data["grew_from"])
            return Kept(place, at, load(json.dumps(data["job"]).encode(), str(place)), path, grew_from)
        return Kept(place, at, read_job(place))  # as it was kept at first
    except VowLineError as error:
        return Kept(place, at, None, path, grew_from, str(error))
    except (ValueError, LookupError, RecursionError):
        return Kept(place, at, None, path, grew_from, tell("{place} is damaged.", place=str(place)))
