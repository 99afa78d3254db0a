"""Patterns, cutting list and calendar written off the main thread, a format at a time; patterns and the card printed."""

from pathlib import Path

from PySide6.QtCore import QObject, Qt
from PySide6.QtWidgets import QFileDialog, QProgressDialog, QWidget

from ...core.plan import Plan
from ...core.quantity import PrintSheet
from ...core.texts import said, tell
from ...files import export
from ...files.job_json import JOB_SUFFIX
from ..session import Session, Task, Tell

NO_PATTERN = said("There is no pattern yet: this job waits for readings at Measure.")


class Exports(QObject):
    """Exports, one at a time, with their progress and a stop."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.session, self._over = session, parent
        self.task: Task | None = None

    def ask(self, folder: Path | None = None) -> None:
        """Write every format into a folder that is asked for."""
        session = self.session
        if not session.open or session.plan.draft is None or session.path is None:
            session.say(NO_PATTERN, wrong=True)
            return
        if self.task is not None:
            session.say(tell("An export is under way."))
            return
        if folder is None:
            chosen = QFileDialog.getExistingDirectory(self._over, tell("Export into"), str(session.path.parent))
            if not chosen:
                return
            folder = Path(chosen)
        self._begin(session.plan, folder, session.path.name.removesuffix(JOB_SUFFIX))

    def _begin(self, plan: Plan, folder: Path, name: str) -> None:
        def write(tell: Tell) -> tuple[Path, ...]:
            return export(plan, folder, name, tell.progress)

        def done(written: tuple[Path, ...]) -> None:
            names = ", ".join(p.name for p in written)
            self.session.say(
                tell("Written into {folder}: {names}.", folder=str(folder), names=names)
                if names
                else tell("Nothing was written.")
            )

        self._shown = QProgressDialog(tell("Exporting"), tell("Stop"), 0, 100, self._over)
        self._shown.setWindowModality(Qt.WindowModality.NonModal)
        self._shown.setMinimumDuration(500)
        self.task = self.session.worker.start(
            tell("exporting"),
            write,
            done=done,
            failed=lambda says: self.session.say(says, wrong=True),
            progress=self._progressed,
        )
        self._shown.canceled.connect(self.task.stop)
        self.task.ended.connect(self._ended)

    def _progressed(self, share: float, says: str) -> None:
        self._shown.setLabelText(tell("Exporting: {says}", says=says))
        self._shown.setValue(round(100 * share))

    def _ended(self) -> None:
        self.task = None
        self._shown.close()
        self._shown.deleteLater()


def print_patterns(session: Session, parent: QWidget) -> None:
    """Print the patterns at 1:1."""
    if not session.open or session.plan.draft is None:
        session.say(NO_PATTERN, wrong=True)
    elif not _print(session.plan, session.preferences.sheet, parent):
        session.say(tell("The printer did not answer. Export the PDF, and print that at 100 %."), wrong=True)


def _print(plan: Plan, sheet: PrintSheet, parent: QWidget) -> bool:
    """Ask for a printer and print; false when the printer does not answer."""
    from PySide6.QtGui import QPageLayout, QPageSize, QPainter
    from PySide6.QtPrintSupport import QPrintDialog, QPrinter

    from ...files.pdf import paint_pages, paper_of

    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setFullPage(True)
    printer.setPageSize(QPageSize(QPageSize.PageSizeId.A4 if sheet == "A4" else QPageSize.PageSizeId.Letter))
    printer.setPageOrientation(QPageLayout.Orientation.Portrait)
    if not QPrintDialog(printer, parent).exec():
        return True
    painter = QPainter()
    if not painter.begin(printer):
        return False
    paint_pages(painter, printer, paper_of(plan, sheet), printer.resolution())
    painter.end()
    return True


def print_card(session: Session, parent: QWidget, path: Path | None = None) -> None:
    """Write the card for pictures as a PDF, to be printed at true size."""
    from ...files.card import write_card

    if path is None:
        chosen, _ = QFileDialog.getSaveFileName(parent, tell("The card, as a PDF"), "card.pdf", "PDF (*.pdf)")
        if not chosen:
            return
        path = Path(chosen)
    to, sheet = path, session.preferences.sheet
    written = tell("Written: {path}. Print it at 100 %, and measure its check line before you trust it.", path=str(to))
    session.worker.start(
        tell("writing the card"),
        lambda _: write_card(to, sheet),
        done=lambda _: session.say(written),
        failed=lambda says: session.say(says, wrong=True),
    )
