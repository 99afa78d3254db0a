"""Export off the main thread, a format at a time, with progress and a stop; and printing."""

from pathlib import Path
from typing import TYPE_CHECKING, Literal

from PySide6.QtCore import QObject, Qt, QThread, Signal
from PySide6.QtWidgets import QFileDialog, QProgressDialog, QWidget

from ..core.errors import VowLineError
from ..core.plan import Plan
from ..files import formats

if TYPE_CHECKING:
    from .window import Window


class _Work(QThread):
    progressed = Signal(int, int, str)
    failed = Signal(str)

    def __init__(self, plan: Plan, folder: Path, name: str, parent: QObject) -> None:
        super().__init__(parent)
        self.plan, self.folder, self.name_ = plan, folder, name
        self.written: list[Path] = []

    def run(self) -> None:
        """Write each format, unless told to stop."""
        every = formats(self.plan)
        for k, form in enumerate(every):
            if self.isInterruptionRequested():
                return
            self.progressed.emit(k, len(every), form.name)
            path = self.folder / f"{self.name_}{form.suffix}"
            try:
                form.write(self.plan, path)
            except VowLineError as error:
                self.failed.emit(str(error))
                return
            self.written.append(path)
        self.progressed.emit(len(every), len(every), "")


class Exporting(QObject):
    """One export under way. `said` carries what became of it and whether that is an error."""

    said = Signal(str, bool)
    ended = Signal()

    def __init__(self, plan: Plan, folder: Path, name: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.folder = folder
        self._wrong = ""
        self.work = _Work(plan, folder, name, self)
        self.shown = QProgressDialog("Exporting", "Stop", 0, 0, parent)
        self.shown.setWindowModality(Qt.WindowModality.NonModal)
        self.shown.setMinimumDuration(500)
        self.shown.canceled.connect(self.stop)
        self.work.progressed.connect(self._progressed)
        self.work.failed.connect(self._failed)
        self.work.finished.connect(self._finished)

    def start(self) -> None:
        """Begin."""
        self.work.start()

    def stop(self) -> None:
        """Stop after the format being written."""
        self.work.requestInterruption()
        self.work.wait()

    def _progressed(self, done: int, of: int, name: str) -> None:
        self.shown.setMaximum(of)
        self.shown.setLabelText(f"Exporting: {name}")
        self.shown.setValue(done)

    def _failed(self, says: str) -> None:
        self._wrong = says

    def _finished(self) -> None:
        self.work.wait()  # "finished" comes a moment before the thread has ended
        self.shown.canceled.disconnect(self.stop)
        self.shown.close()
        self.shown.deleteLater()
        names = ", ".join(p.name for p in self.work.written)
        if self._wrong:
            self.said.emit(self._wrong, True)
        else:
            self.said.emit(f"Written into {self.folder}: {names}." if names else "Nothing was written.", False)
        self.ended.emit()
        self.deleteLater()


def print_patterns(plan: Plan, sheet: Literal["A4", "Letter"], parent: QWidget) -> bool:
    """Ask for a printer and print the patterns at 1:1; false when the printer does not answer."""
    from PySide6.QtGui import QPageLayout, QPageSize, QPainter
    from PySide6.QtPrintSupport import QPrintDialog, QPrinter

    from ..files.pdf import paint_pages

    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setFullPage(True)
    printer.setPageSize(QPageSize(QPageSize.PageSizeId.A4 if sheet == "A4" else QPageSize.PageSizeId.Letter))
    printer.setPageOrientation(QPageLayout.Orientation.Portrait)
    if not QPrintDialog(printer, parent).exec():
        return True
    painter = QPainter()
    if not painter.begin(printer):
        return False
    paint_pages(painter, printer, plan, sheet, printer.resolution())
    painter.end()
    return True


def print_card(window: "Window", path: Path | None = None) -> None:
    """Write the card for pictures as a PDF, to be printed at true size."""
    from ..files.card import write_card

    if path is None:
        chosen, _ = QFileDialog.getSaveFileName(window, "The card, as a PDF", "card.pdf", "PDF (*.pdf)")
        if not chosen:
            return
        path = Path(chosen)
    try:
        write_card(path, window.preferences.sheet)
    except VowLineError as error:
        window.say(str(error), wrong=True)
    else:
        window.say(f"Written: {path}. Print it at 100 %, and measure its check line before you trust it.")
