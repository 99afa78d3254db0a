"""What is not saved yet, kept beside, so that neither a closed window nor a lost current loses it."""

import hashlib
from pathlib import Path

from ..core.errors import VowLineError
from ..core.job import Job
from ..files.job_json import JOB_SUFFIX, dump, read_job
from ..files.whole import write_whole


class Autosave:
    """Unsaved jobs in one folder, named after the files they belong to."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def _place(self, path: Path) -> Path:
        name = hashlib.sha256(str(path.resolve()).encode()).hexdigest()[:24]
        return self.folder / f"{name}{JOB_SUFFIX}"

    def keep(self, path: Path, job: Job) -> None:
        """Keep the job beside its file. Raises FailedWrite."""
        write_whole(self._place(path), dump(job))

    def drop(self, path: Path) -> None:
        """The file has it now."""
        self._place(path).unlink(missing_ok=True)

    def recover(self, path: Path) -> Job | None:
        """What was not saved to that file, if anything."""
        place = self._place(path)
        if not place.exists():
            return None
        try:
            return read_job(place)
        except VowLineError:
            return None
