"""A reckoner for lace and cord: a criss-cross through eyelets, and the disc its lace is cut from."""

from PySide6.QtWidgets import QDialog, QFormLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from ...core.errors import VowLineError
from ...core.quantity import Kind, Q, Units, write
from ...core.texts import Said, heading, said, tell
from ...core.thread.lace import Lacing, picture, sums
from ...core.typed import read
from ..board.shown import Shown
from ..look.ink import BOLD, SEMI, Ink, type_
from ..look.words import Words
from ..session import Session

ASKED: tuple[tuple[str, Said, Kind], ...] = (
    ("eyelets", said("eyelets on a side"), "count"), ("gap_mm", said("gap between the rows"), "length"),
    ("spacing_mm", said("from eyelet to eyelet"), "length"), ("tail_mm", said("left at each end to tie"), "length"),
    ("wide_mm", said("lace, wide"), "length"), ("core_mm", said("core that is left of the disc"), "length"),
    ("leather_mm", said("leather it goes through, thick"), "length"),
)  # fmt: skip


class LaceDialog(QDialog):
    """What is typed is reckoned at once."""

    def __init__(self, parent: QWidget, units: Units, ink: Ink) -> None:
        super().__init__(parent)
        self.setWindowTitle(tell("Lace and cord"))
        self.resize(900, 560)
        self.units, self.ink = units, ink
        self.lacing = Lacing(leather_mm=2.0)
        self.fields: dict[str, QLineEdit] = {}
        self.sums = {r.key: Words(self) for r in sums(self.lacing)}
        form = QFormLayout()
        form.setVerticalSpacing(10)
        for name, says, kind in ASKED:
            field = QLineEdit(write(Q(kind, float(getattr(self.lacing, name))), units), self)
            field.setFont(type_(18, BOLD))
            field.setAccessibleName(says.write(units))
            field.editingFinished.connect(self.take)
            self.fields[name] = field
            label = Words(says.write(units), self)
            label.setFont(type_(15))
            form.addRow(label, field)
        self.wrong = Words(self)
        self.wrong.setObjectName("wrong")
        self.wrong.setWordWrap(True)
        self.wrong.setFont(type_(15))
        self.wrong.hide()
        left = QVBoxLayout()
        left.addLayout(form)
        left.addWidget(self.wrong)
        for label in self.sums.values():
            label.setWordWrap(True)
            label.setFont(type_(16, SEMI))
            left.addWidget(label)
        left.addStretch(1)
        self.picture = Shown(
            self, ink, picture(self.lacing), tell("The criss-cross, and the disc its lace is cut from")
        )
        both = QHBoxLayout(self)
        both.setContentsMargins(24, 20, 24, 20)
        both.setSpacing(24)
        both.addLayout(left, 4)
        both.addWidget(self.picture, 5)
        self._show()

    def take(self) -> None:
        """Reckon with what stands in the fields; what cannot be read is said, and what was reckoned stays."""
        typed: dict[str, float] = {}
        for name, says, kind in ASKED:
            try:
                typed[name] = read(kind, self.fields[name].text(), self.units)
            except VowLineError as error:
                self._complain(f"{heading(says)}: {error}")
                return
        try:
            self.lacing = Lacing.model_validate(typed | {"eyelets": round(typed["eyelets"])})
        except ValueError:
            self._complain(tell("These sizes are no lacing: two eyelets at least, and every size above nothing."))
            return
        self._complain("")
        self._show()

    def _complain(self, says: str) -> None:
        self.wrong.setText(says)
        self.wrong.setVisible(bool(says))

    def _show(self) -> None:
        for r in sums(self.lacing):
            self.sums[r.key].setText(
                f"{r.name.write(self.units)}: {r.value.write(self.units)}\n{r.sum.write(self.units)}"
            )
        self.picture.marks = picture(self.lacing)


def ask_lace(session: Session, parent: QWidget, ink: Ink) -> None:
    """Open the reckoner."""
    LaceDialog(parent, session.units, ink).open()
