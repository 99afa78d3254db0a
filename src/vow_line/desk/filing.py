"""Jobs fetched, saved and taken off the shelf, patterns exported and printed."""

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QFileDialog

from ..core.errors import VowLineError
from ..files.job_json import JOB_SUFFIX, write_job
from .export import Exporting
from .export import print_patterns as print_at_true_size

if TYPE_CHECKING:
    from .window import Window

NO_PATTERN = "There is no pattern yet: this job waits for readings at Measure."
FILES = f"Vow Line jobs (*{JOB_SUFFIX});;All files (*)"


def fetch(window: "Window") -> None:
    """Ask for a job file, and open it."""
    chosen, _ = QFileDialog.getOpenFileName(window, "Fetch a job file", str(window.jobs_folder), FILES)
    if chosen:
        window.open(Path(chosen))


def forget(window: "Window") -> None:
    """Take the job chosen on the shelf off it; its file stays where it is."""
    index = window.shelf.list.currentIndex()
    if window.store is None and index.isValid():
        path = window.shelf.jobs[index.row()].path
        window.workshop.forget(path)
        window.show_shelf()
        window.say(f"Off the shelf. The file stays: {path}")


def save(window: "Window") -> bool:
    """Save to the job's file."""
    if window.store is None or window.path is None:
        return False
    try:
        write_job(window.store.job, window.path)
    except VowLineError as error:
        window.say(str(error), wrong=True)
        return False
    window.store.saved = window.store.job
    window.saved()
    return True


def save_as(window: "Window") -> None:
    """Ask for a place, and save there."""
    if window.store is None or window.path is None:
        return
    chosen, _ = QFileDialog.getSaveFileName(window, "Save the job as", str(window.path), FILES)
    if chosen:
        before = window.path
        path = Path(chosen)
        window.path = path if path.name.endswith(JOB_SUFFIX) else path.with_name(path.name + JOB_SUFFIX)
        if save(window):
            window.autosave.drop(before)
            window.workshop.remember(window.path)
        else:
            window.path = before


def export(window: "Window", folder: Path | None = None) -> None:
    """Write patterns, cutting list and calendar, off the main thread."""
    if window.store is None or window.store.plan.draft is None or window.path is None:
        window.say(NO_PATTERN, wrong=True)
        return
    if window.exporting is not None:
        window.say("An export is under way.")
        return
    if folder is None:
        chosen = QFileDialog.getExistingDirectory(window, "Export into", str(window.path.parent))
        if not chosen:
            return
        folder = Path(chosen)
    name = window.path.name.removesuffix(JOB_SUFFIX)
    window.exporting = Exporting(window.store.plan, folder, name, window)
    window.exporting.said.connect(window.say)
    window.exporting.ended.connect(window.export_ended)
    window.exporting.start()


def print_patterns(window: "Window") -> None:
    """Print the patterns at 1:1."""
    if window.store is None or window.store.plan.draft is None:
        window.say(NO_PATTERN, wrong=True)
    elif not print_at_true_size(window.store.plan, window.preferences.sheet, window):
        window.say("The printer did not answer. Export the PDF, and print that at 100 %.", wrong=True)
