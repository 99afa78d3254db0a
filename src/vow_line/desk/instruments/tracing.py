"""Outlines traced from pictures."""

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QInputDialog, QLabel, QProgressBar, QPushButton, QWidget

from ...core import job as steps
from ...core.measure.traced import DrawnWith, within_line
from ...core.quantity import SHEETS_MM, Sheet
from ...core.texts import tell
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
        if drew is not None:
            self.trace(Path(chosen), sheet, drew)  # type: ignore[arg-type]

    def trace(self, path: Path, sheet: Sheet = "A4", drew: DrawnWith = "nothing") -> None:
        """Trace a picture of the thing, or of a line drawn round it."""
        if self.task is not None:
            self.session.say(tell("A picture is being traced already."))
            return

        def work(tell: Tell) -> object:
            from ...instruments.camera import read_picture
            from ...instruments.tracing import trace

            return trace(read_picture(path), sheet, tell.progress)

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
            self.session.say(
                tell(
                    "Traced, {n} points, its scale from {scale}. Check it by one length measured across, and put the ends of "
                    "its edge right.",
                    n=len(found.outline),
                    scale=found.scale_from,
                )
            )
