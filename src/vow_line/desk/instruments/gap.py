"""How deep a gap in a traced outline goes, where no picture shows it: asked, with a drawing of what is to be measured."""

from PySide6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ...core.curve import Line
from ...core.errors import VowLineError
from ...core.quantity import Units
from ...core.reckoning import length
from ...core.texts import said, tell
from ...core.typed import read
from ...instruments.gaps import Gap, ended, gaps_of, shown
from ..board.shown import Shown
from ..look.ink import BOLD, SEMI, Ink, type_
from ..look.words import Words


class GapDialog(QDialog):
    """Takes a length that agrees with the picture; `ring` then has the gap as it was measured."""

    def __init__(self, parent: QWidget, units: Units, ink: Ink, ring: Line, gap: Gap) -> None:
        super().__init__(parent)
        self.setWindowTitle(tell("A gap that narrows out of sight"))
        self.resize(860, 520)
        self.units, self.ring, self.gap = units, ring, gap
        says = said(
            "No picture shows where this gap ends: its sides come too near each other. It seems to be {seems} from the mark "
            "in it to the other, {off} more or less. Measure that, straight across, the blades as they lay.",
            seems=length(gap.seems_mm), off=length(gap.off_mm),
        )  # fmt: skip
        words = Words(says.write(units), self)
        words.setWordWrap(True)
        words.setFont(type_(16))
        self.field = QLineEdit(self)
        self.field.setFont(type_(20, BOLD))
        self.field.setAccessibleName(tell("From the end of the gap to the other mark"))
        self.wrong = Words(self)
        self.wrong.setObjectName("wrong")
        self.wrong.setWordWrap(True)
        self.wrong.setFont(type_(15))
        self.wrong.hide()
        self.take, leave = QPushButton(tell("&Take it"), self), QPushButton(tell("&Leave the outline as it was"), self)
        self.take.clicked.connect(self._take)
        leave.clicked.connect(self.reject)
        self.take.setDefault(True)
        left = QVBoxLayout()
        left.setSpacing(16)
        for part in (words, self.field, self.wrong):
            left.addWidget(part)
        left.addStretch(1)
        for button in (self.take, leave):
            button.setFont(type_(15, SEMI))
            left.addWidget(button)
        both = QHBoxLayout(self)
        both.setContentsMargins(24, 20, 24, 20)
        both.setSpacing(24)
        both.addLayout(left, 4)
        both.addWidget(Shown(self, ink, shown(ring, gap), tell("What is to be measured")), 5)
        self.field.setFocus()

    def _take(self) -> None:
        try:
            ring = ended(self.ring, self.gap, read("length", self.field.text(), self.units))
        except VowLineError as error:
            self._complain(str(error))
            return
        if ring is not None:
            self.ring = ring
            self.accept()
            return
        says = said("In the picture it is {least} to {most}. Measure between the two marks, the blades as they lay.",
                    least=length(self.gap.least_mm), most=length(self.gap.most_mm))  # fmt: skip
        self._complain(says.write(self.units))

    def _complain(self, says: str) -> None:
        self.wrong.setText(says)
        self.wrong.show()
        self.field.selectAll()
        self.field.setFocus()


def ask_gaps(parent: QWidget, units: Units, ink: Ink, ring: Line) -> Line | None:
    """The outline with each of its gaps ended where the maker measured it; None where one was not."""
    for gap in gaps_of(ring):
        dialog = GapDialog(parent, units, ink, ring, gap)
        taken = dialog.exec()
        ring = dialog.ring
        dialog.deleteLater()
        if taken != QDialog.DialogCode.Accepted:
            return None
    return ring
