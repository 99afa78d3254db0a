"""Name, maker, whose it is, and the date promised, if one was."""

from datetime import date

from PySide6.QtCore import QDate
from PySide6.QtWidgets import QCheckBox, QDateEdit, QDialog, QDialogButtonBox, QFormLayout, QLineEdit, QWidget

from ...core.job import Job, change, value_at
from ...core.texts import said, tell
from ..session import Session

NAMES = (
    (said("Job"), "name"),
    (said("Maker"), "maker"),
    (said("For"), "whose"),
    (said("What is measured"), "thing.name"),
)


class NamesDialog(QDialog):
    """Asks for them; `named` puts the answers into a job."""

    def __init__(self, job: Job, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tell("Name, maker and date"))
        form = QFormLayout(self)
        self.fields = {name: QLineEdit(str(value_at(job, name)), self) for _, name in NAMES}
        for label, name in NAMES:
            form.addRow(label.write(job.units), self.fields[name])
        self.fields["thing.name"].setEnabled(job.vowed is None)  # what was measured is vowed
        today = QDate.currentDate()
        on = job.promised
        self.promised = QDateEdit(QDate(on.year, on.month, on.day) if on else today, self)
        self.promised.setCalendarPopup(True)
        self.promised.setDisplayFormat("d MMM yyyy")
        self.is_promised = QCheckBox(tell("Promised by"), self)
        self.is_promised.setChecked(on is not None)
        self.promised.setEnabled(on is not None)
        self.is_promised.toggled.connect(self.promised.setEnabled)
        self.promised.setAccessibleName(tell("The date promised"))
        form.addRow(self.is_promised, self.promised)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel, parent=self
        )
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        form.addRow(buttons)

    def named(self, job: Job) -> Job:
        """The job with the answers. Raises RefusedChange for an empty name."""
        for name, field in self.fields.items():
            job = change(job, name, field.text().strip())
        day = self.promised.date()
        on = date(day.year(), day.month(), day.day()) if self.is_promised.isChecked() else None
        return change(job, "promised", on)


def ask_names(session: Session, parent: QWidget) -> None:
    """Ask for the name, the maker, whose it is and the date promised."""
    if session.open:
        asked = NamesDialog(session.job, parent)
        if asked.exec():
            session.do(tell("name the job"), asked.named)
