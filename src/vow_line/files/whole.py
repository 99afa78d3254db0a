"""Files written whole or not at all."""

import contextlib
import os
import shutil
import tempfile
from pathlib import Path

from ..core.errors import FailedWrite
from ..core.texts import tell


def last_good(path: Path) -> Path:
    """Where the file stays that one written whole took the place of."""
    return path.with_name(path.name + "~")


def write_whole(path: Path, content: bytes, *, keep_last: bool = False) -> None:
    """Put `content` in place of what is at `path`, in one step; with `keep_last` the old file stays as `NAME~`.

    Raises FailedWrite, and then what stood there before still stands.
    """
    temporary = None
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name}.")
        os.fchmod(handle, 0o666 & ~_umask())
        with os.fdopen(handle, "wb") as out:
            out.write(content)
            out.flush()
            os.fsync(out.fileno())
        if keep_last and path.exists():
            last = last_good(path)
            with contextlib.suppress(FileNotFoundError):
                last.unlink()
            try:
                os.link(path, last)
            except OSError:  # where files have one name only
                shutil.copy2(path, last)
        os.replace(temporary, path)
    except OSError as error:
        if temporary is not None:
            with contextlib.suppress(OSError):
                os.unlink(temporary)
        raise FailedWrite(
            tell("It could not be written: {why}.", why=str(error.strerror or error)), str(path),
            tell("What was there before is untouched. Choose another place, or make room."),
        ) from error  # fmt: skip


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask
