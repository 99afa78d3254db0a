"""Outlines traced from pictures."""

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QInputDialog, QLabel, QProgressBar, QPushButton, QWidget

from ...core import job as steps
from ...core.errors import VowLineError
from ...core.measure.traced import DrawnWith, within_line
from ...core.quantity import SHEETS_MM, Sheet, write
from ...core.reckoning import length
from ...core.texts import said, tell
from ...core.typed import read
from ..look.ink import type_
from ..session import Session, Task, Tell
from .outline import ask_what_drew

PICTURES = "Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.bmp)"


class TracingBar(QWidget):
    """Says how far the tracing is, and stops it."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.session = session
        self.task: Task | None = None
        self.says = QLabel(tell("Tracing the picture"), self)
        self.says.setFont(type_(15))
        self.bar = QProgressBar(self)
        self.bar.setRange(0, 100)
        self.bar.setAccessibleName(tell("How far the tracing is"))
        self.halt = QPushButton(tell("Stop"), self)
        self.halt.clicked.connect(self.stop)
        row = QHBoxLayout(self)
        row.setContentsMargins(26, 6, 26, 6)
        for part in (self.says, self.bar, self.halt):
            row.addWidget(part)
        self.hide()

    def ask(self) -> None:
        """Ask for a picture and what it was taken on, and trace it."""
        chosen, _ = QFileDialog.getOpenFileName(self, tell("A picture of it on paper"), "", PICTURES)
        if not chosen:
            return
        sheet, yes = QInputDialog.getItem(
            self, tell("The paper under it"), tell("It lies on"), list(SHEETS_MM), editable=False
        )
        drew = ask_what_drew(self, tell("The picture shows")) if yes else None
        high_mm = self._ask_high() if drew == "nothing" else 0.0
        if drew is not None and high_mm is not None:
            self.trace(Path(chosen), sheet, drew, high_mm)  # type: ignore[arg-type]

    def _ask_high(self) -> float | None:
        """How high above the paper its outline lies; None when that was not said."""
        text, yes = QInputDialog.getText(
            self, tell("How high it lies"),
            tell("How far above the paper its outline lies: a blade 0, a round handle half its thickness"),
            text=write(length(0.0), self.session.units),
        )  # fmt: skip
        if not yes:
            return None
        try:
            return read("length", text, self.session.units)
        except VowLineError as error:
            self.session.say(str(error), wrong=True)
            return None

    def trace(self, path: Path, sheet: Sheet = "A4", drew: DrawnWith = "nothing", high_mm: float = 0.0) -> None:
        """Trace a picture of the thing, or of a line drawn round it."""
        if self.task is not None:
            self.session.say(tell("A picture is being traced already."))
            return

        def work(tell: Tell) -> object:
            from ...instruments.camera import read_picture
            from ...instruments.tracing import trace

            return trace(read_picture(path), sheet, tell.progress, high_mm=high_mm)

        self.bar.setValue(0)
        self.show()
        self.task = self.session.worker.start(
            tell("tracing the picture"), work, done=lambda found: self._done(found, drew),
            failed=lambda says: self.session.say(says, wrong=True),
            progress=lambda share, _: self.bar.setValue(round(100 * share)),
        )  # fmt: skip
        self.task.ended.connect(self._ended)

    def stop(self) -> None:
        """Stop at the next step."""
        if self.task is not None:
            self.task.stop()

    @property
    def busy(self) -> bool:
        """Whether a picture is being traced."""
        return self.task is not None

    def _ended(self) -> None:
        self.task = None
        self.hide()

    def _done(self, found: object, drew: DrawnWith) -> None:
        from ...instruments.tracing import Traced

        if not isinstance(found, Traced):
            self.session.say(tell("The tracing was stopped; the outline is as it was."))
            return
        ring = within_line(found.outline, drew)
        if self.session.do(tell("trace the outline"), lambda j: steps.take_outline(j, ring=ring, drawn_with=drew)):
            by = said("the card") if found.by_card else said("the sheet")
            says = said(
                "Traced, {n} points, its scale from {scale}. What lies {high} higher is seen up to {off} too far out. Check it "
                "by one length measured across, and put the ends of its edge right.",
                n=len(found.outline), scale=by, high=length(10.0), off=length(10.0 * found.astray),
            )  # fmt: skip
            self.session.say(says.write(self.session.units))
