"""The thread, its needles and the hand that draws them: everything the drawing has no room for."""

from typing import Any, TypeVar

from PySide6.QtWidgets import QComboBox, QDialog, QDialogButtonBox, QFormLayout, QLabel, QLineEdit, QWidget

from ...core.errors import VowLineError
from ...core.job import Job, change, value_at
from ...core.quantity import Kind, Q, write
from ...core.texts import Said, said, tell
from ...core.thread.choices import MATERIALS
from ...core.typed import read
from ..lists.rows import heading
from ..look.ink import type_
from ..session import Session

WORDS = (
    (said("its name"), "thread.thread.name"),
    (said("colour"), "thread.thread.colour"),
    (said("sold as"), "thread.thread.sold_as"),
)
CHOSEN: tuple[tuple[Said, str, tuple[tuple[Said, Any], ...]], ...] = (
    (said("made of"), "thread.thread.material", tuple((word, m) for m, word in MATERIALS.items())),
    (said("it comes"), "thread.thread.waxed", ((said("waxed"), True), (said("to be waxed"), False))),
    (said("first through is the needle at the"), "thread.first_needle", ((said("left hand"), "left"), (said("right hand"),
                                                                                                       "right"))),
    (said("the second goes"), "thread.second_needle", ((said("below the first thread"), "below"), (said("above it"), "above"))),
)  # fmt: skip
NUMBERS: tuple[tuple[Said, str, Kind], ...] = (
    (said("a metre costs"), "thread.thread.price_m", "money"), (said("needle, thick"), "thread.needle_thick_mm", "fine"),
    (said("the stack is known to"), "thread.stack_spread", "percent"), (said("the pitch is known to"), "thread.pitch_spread",
                                                                        "percent"),
    (said("the next job strays by"), "thread.slack.spread", "percent"),
)  # fmt: skip


Row = TypeVar("Row", QLineEdit, QComboBox)


class ThreadDialog(QDialog):
    """Asks for them; `chosen` puts the answers into a job."""

    def __init__(self, job: Job, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tell("Thread, needle and hand"))
        self.job, self.units = job, job.units
        self.words: dict[str, QLineEdit] = {}
        self.choices: dict[str, QComboBox] = {}
        self.numbers: dict[str, QLineEdit] = {}
        form = QFormLayout(self)
        form.setVerticalSpacing(9)
        for says, path in WORDS:
            self.words[path] = self._row(form, says, QLineEdit(str(value_at(job, path)), self))
        for says, path, items in CHOSEN:
            combo = self.choices[path] = self._row(form, says, QComboBox(self))
            combo.addItems([word.write(self.units) for word, _ in items])
            combo.setCurrentIndex([value for _, value in items].index(value_at(job, path)))
        for says, path, kind in NUMBERS:
            text = write(Q(kind, float(value_at(job, path))), self.units)
            self.numbers[path] = self._row(form, says, QLineEdit(text, self))
        self.wrong = QLabel(self)
        self.wrong.setObjectName("wrong")
        self.wrong.setWordWrap(True)
        self.wrong.hide()
        form.addRow(self.wrong)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel, parent=self
        )
        buttons.accepted.connect(self._take)
        buttons.rejected.connect(self.reject)
        form.addRow(buttons)

    def _row(self, form: QFormLayout, says: Said, widget: Row) -> Row:
        widget.setAccessibleName(says.write(self.units))
        widget.setFont(type_(16))
        form.addRow(heading(says), widget)
        return widget

    def _take(self) -> None:
        try:
            self.chosen(self.job)
        except VowLineError as error:
            self.wrong.setText(str(error))
            self.wrong.show()
        else:
            self.accept()

    def chosen(self, job: Job) -> Job:
        """The job with the answers. Raises RefusedChange and UnreadableQuantity."""
        for path, field in self.words.items():
            job = change(job, path, field.text().strip())
        for _, path, items in CHOSEN:
            job = change(job, path, items[self.choices[path].currentIndex()][1])
        for _, path, kind in NUMBERS:
            was = write(Q(kind, float(value_at(job, path))), self.units)
            if self.numbers[path].text().strip() != was:  # a number that was only rounded for showing stays as it was
                job = change(job, path, read(kind, self.numbers[path].text(), self.units))
        return job


def ask_thread(session: Session, parent: QWidget) -> None:
    """Ask for what is known of the thread, its needles and the hand."""
    if session.open:
        asked = ThreadDialog(session.job, parent)
        if asked.exec():
            session.do(tell("thread, needle and hand"), asked.chosen)
