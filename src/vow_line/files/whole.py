"""Files written whole or not at all, and read within bounds."""

import contextlib
import hashlib
import os
import shutil
import stat
import tempfile
import time
from collections.abc import Iterable
from pathlib import Path

from ..core.errors import FailedWrite, UnreadableFile
from ..core.texts import tell

LONGEST_NAME = 255  # bytes, on every file system that a Linux desktop is likely to have
PART = ".vow-line-"
STALE_S = 600.0  # what is still being written is younger


class HasOtherNames(FailedWrite):
    """A file with more than one name: written whole, the others would keep what it held."""


def last_good(path: Path) -> Path:
    """Where the file stays that one written whole took the place of."""
    name = os.fsencode(path.name)
    if len(name) + 1 > LONGEST_NAME:
        name = name[:200] + b"-" + hashlib.sha256(name).hexdigest()[:8].encode()
    return path.with_name(os.fsdecode(name + b"~"))


def write_whole(
    path: Path, content: bytes, *, keep_last: bool = False, private: bool = False, part: bool = False
) -> None:
    """Put `content` in place of what is at `path`, in one step; with `keep_last` the old file stays beside it as `NAME~`. Links
    are followed, and the file's mode is kept; a new one is its owner's alone where it is `private`.

    Raises FailedWrite, and then what stood there before still stands; HasOtherNames where it would `part` from other names.
    """
    parts: list[str] = []
    try:
        path = Path(os.path.realpath(path)) if path.is_symlink() else path
        path.parent.mkdir(parents=True, exist_ok=True)
        before = _there(path, part)
        mode = before if before is not None else 0o600 if private else 0o666 & ~_umask()
        parts.append(_written(path.parent, content, mode))
        if keep_last and before is not None:
            parts.append(_written(path.parent, path.read_bytes(), mode))
            shutil.copystat(path, parts[1])
            os.replace(parts[1], last_good(path))
        os.replace(parts[0], path)
        _settle(path.parent)
    except OSError as error:
        for name in parts:
            with contextlib.suppress(OSError):
                os.unlink(name)
        if isinstance(error, FailedWrite):
            raise
        raise FailedWrite(
            tell("It could not be written: {why}.", why=str(error.strerror or error)), str(path),
            tell("What was there before is untouched. Choose another place, or make room."),
        ) from error  # fmt: skip


def _there(path: Path, part: bool) -> int | None:
    """The mode of the file that is there; None where none is. Raises FailedWrite where it is not to be written over."""
    try:
        there = path.stat()
    except FileNotFoundError:
        return None
    if not stat.S_ISREG(there.st_mode):
        raise FailedWrite(tell("It is no file."), str(path), tell("Choose another place."))
    if not there.st_mode & 0o222 or not os.access(path, os.W_OK):
        raise FailedWrite(tell("It may only be read."), str(path), tell("Save it elsewhere, or let it be written."))
    if there.st_nlink > 1 and not part:
        raise HasOtherNames(
            tell("It has {n} names. Written, it parts from the others, which keep what it holds now.", n=str(there.st_nlink)),
            str(path), tell("Save it elsewhere, or take the other names away."),
        )  # fmt: skip
    return stat.S_IMODE(there.st_mode)


def _written(folder: Path, content: bytes, mode: int) -> str:
    """A new file of some name in a folder, on the disk."""
    handle, name = tempfile.mkstemp(dir=folder, prefix=PART)
    try:
        with os.fdopen(handle, "wb") as out:
            os.fchmod(handle, mode)
            out.write(content)
            out.flush()
            os.fsync(handle)
    except OSError:
        with contextlib.suppress(OSError):
            os.unlink(name)
        raise
    return name


def _settle(folder: Path) -> None:
    """Have the folder itself on the disk: a new name is lost with the current else."""
    with contextlib.suppress(OSError):  # where folders cannot be opened so, or not synced
        handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def sweep(folders: Iterable[Path]) -> None:
    """Take away what saves that were killed left in these folders."""
    for folder in folders:
        with contextlib.suppress(OSError):
            for left in folder.glob(f"{PART}*"):
                with contextlib.suppress(OSError):
                    if time.time() - left.stat().st_mtime > STALE_S:
                        left.unlink()


def read_whole(path: Path, most_bytes: int) -> bytes:
    """What a file holds. Raises UnreadableFile where it is none, or larger than `most_bytes`, or cannot be read: a pipe or a
    device would be waited for, or have no end.
    """
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        with os.fdopen(handle, "rb") as file:
            if not stat.S_ISREG(os.fstat(handle).st_mode):
                raise UnreadableFile(tell("It is no file."), str(path))
            content = file.read(most_bytes + 1)
    except OSError as error:
        raise UnreadableFile(
            tell("It could not be opened: {why}.", why=str(error.strerror or error)), str(path)
        ) from error
    if len(content) > most_bytes:
        raise UnreadableFile(
            tell("It is larger than {n} MB: nothing that is read here is.", n=str(most_bytes // 1_000_000)), str(path)
        )
    return content


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask
