"""Job files fetched, and saved elsewhere."""

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from ...core.texts import tell
from ...files.job_json import JOB_SUFFIX
from ..session import Session


def _files() -> str:
    """What a file dialog lets be chosen, as Qt wants it."""
    ours, every = tell("Vow Line jobs"), tell("All files")
    return f"{ours} (*{JOB_SUFFIX});;{every} (*)"


def fetch(session: Session, parent: QWidget) -> None:
    """Ask for a job file, and open it."""
    chosen, _ = QFileDialog.getOpenFileName(parent, tell("Fetch a job file"), str(session.jobs_folder), _files())
    if chosen:
        session.open_file(Path(chosen))


def save_as(session: Session, parent: QWidget) -> None:
    """Ask for a place, and save there."""
    if session.path is None:
        return
    chosen, _ = QFileDialog.getSaveFileName(parent, tell("Save the job as"), str(session.path), _files())
    if chosen:
        path = Path(chosen)
        session.save(path if path.name.endswith(JOB_SUFFIX) else path.with_name(path.name + JOB_SUFFIX))
