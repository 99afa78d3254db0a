"""How a reading was taken: when, by whom, with what, over what."""

from PySide6.QtCore import QDate
from PySide6.QtWidgets import QCheckBox, QDateEdit, QDialog, QDialogButtonBox, QFormLayout, QLineEdit, QWidget

from ...core.job import value_at
from ...core.measure import Reading, Taken
from ...core.steps import say_taken
from ...core.texts import said, tell
from ..session import Session

WORDS = ((said("By"), "by"), (said("With"), "using"), (said("Over"), "over"))


class TakenDialog(QDialog):
    """Asks for it; `taken` gives the answers."""

    def __init__(self, taken: Taken, maker: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tell("How this reading was taken"))
        form = QFormLayout(self)
        today = QDate.currentDate()
        on = taken.on
        self.is_known = QCheckBox(tell("On"), self)
        self.is_known.setChecked(on is not None)
        self.on = QDateEdit(QDate(on.year, on.month, on.day) if on else today, self)
        self.on.setCalendarPopup(True)
        self.on.setDisplayFormat("d MMM yyyy")
        self.on.setAccessibleName(tell("The day it was taken"))
        self.on.setEnabled(on is not None)
        self.is_known.toggled.connect(self.on.setEnabled)
        form.addRow(self.is_known, self.on)
        self.fields = {name: QLineEdit(getattr(taken, name), self) for _, name in WORDS}
        for label, name in WORDS:
            self.fields[name].setMaxLength(200)
            form.addRow(tell(label.template), self.fields[name])
        self.fields["by"].setPlaceholderText(maker)
        self.fields["using"].setPlaceholderText(tell("a caliper, a tape, a rule"))
        self.fields["over"].setPlaceholderText(tell("nothing, a sleeve, a sock, film"))
        self.all = QCheckBox(tell("So too for all readings that do not say, and for those that follow"), self)
        form.addRow(self.all)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel, parent=self
        )
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        form.addRow(buttons)

    def taken(self) -> Taken:
        """The answers."""
        on = self.on.date().toPython() if self.is_known.isChecked() else None
        return Taken.model_validate({"on": on, **{name: field.text().strip() for name, field in self.fields.items()}})


def ask_taken(session: Session, path: str, parent: QWidget) -> None:
    """Ask how the reading at a place of the board was taken."""
    place, _, which = path.rpartition(".")
    if not session.open or which not in ("first", "second"):
        session.say(tell("Put the focus on a reading first."), wrong=True)
        return
    reading = value_at(session.job, place)
    assert isinstance(reading, Reading)
    asked = TakenDialog(getattr(reading, f"{which}_taken"), session.job.maker, parent)
    if not asked.exec():
        return
    taken, all_silent = asked.taken(), asked.all.isChecked()
    if session.do(
        tell("say how it was read"),
        lambda job: say_taken(job, reading=place, which=which, taken=taken, all_silent=all_silent),
    ):
        session.taking = taken.model_copy(update={"on": None}) if all_silent else session.taking
