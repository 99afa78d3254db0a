"""The week and the bench: when the work can begin and be done, how fast, how edges are finished; units and paper."""

from collections.abc import Callable
from datetime import datetime

from PySide6.QtCore import QDate, QDateTime, QTime
from PySide6.QtWidgets import QCheckBox, QComboBox, QDateTimeEdit, QWidget

from ...core.job import Job, change
from ...core.texts import WEEKDAYS, said, tell
from ...core.work.hours import hours_of, with_hours
from ..session import Session
from .values import Chosen, Lines, Numbers, ValuesDialog, ask

CHOSEN: Chosen = (
    (said("edges are"), "work.edge_school", ((said("burnished"), "burnish"), (said("painted"), "paint"))),
    (said("lengths in"), "unit", ((said("millimetres"), "mm"), (said("inches"), "in"))),
    (said("inches in"), "fraction", ((said("16ths"), 16), (said("32nds"), 32))),
    (said("leather in"), "leather_unit", ((said("millimetres"), "mm"), (said("ounces"), "oz"))),
)
NUMBERS: Numbers = ((said("seam sewn in a minute"), "work.pace_mm_per_min", "length"),)
SHEETS = ("A4", "Letter")


def _sitting(weekday: int) -> Lines:
    def write(job: Job) -> str:
        return hours_of(job.work.sessions, weekday)

    def take(job: Job, text: str) -> Job:
        return change(job, "work.sessions", with_hours(job.work.sessions, weekday, text))

    return Lines(said("at the bench on {day}", day=WEEKDAYS[weekday]), write, take)


class BenchDialog(ValuesDialog):
    """Asks for them; the paper is kept for every job."""

    def __init__(self, job: Job, sheet: str, parent: QWidget) -> None:
        self._sheet, self._begins = sheet, job.work.begins
        super().__init__(
            job, tell("The week and the bench"), parent, chosen=CHOSEN, numbers=NUMBERS,
            lines=tuple(_sitting(k) for k in range(7)),
        )  # fmt: skip

    def _more(self) -> None:
        at = self._begins or datetime.now().replace(second=0, microsecond=0)
        self.begins = QDateTimeEdit(QDateTime(QDate(at.year, at.month, at.day), QTime(at.hour, at.minute)), self)
        self.begins.setCalendarPopup(True)
        self.begins.setDisplayFormat("d MMM yyyy HH:mm")
        self.begins.setAccessibleName(tell("When the work can begin"))
        self.is_begun = QCheckBox(tell("The work begins on"), self)
        self.is_begun.setChecked(self._begins is not None)
        self.begins.setEnabled(self._begins is not None)
        self.is_begun.toggled.connect(self.begins.setEnabled)
        self.form.addRow(self.is_begun, self.begins)
        self.sheet = self._row(said("printed on"), QComboBox(self))
        self.sheet.addItems(list(SHEETS))
        self.sheet.setCurrentText(self._sheet)

    def chosen(self, job: Job) -> Job:
        """The job with the answers. Raises RefusedChange and UnreadableQuantity."""
        day, time = self.begins.date(), self.begins.time()
        at = datetime(day.year(), day.month(), day.day(), time.hour(), time.minute())
        begins = at if self.is_begun.isChecked() else None
        if begins != (self._begins and self._begins.replace(second=0, microsecond=0)):
            job = change(job, "work.begins", begins)
        return super().chosen(job)


def ask_bench(session: Session, parent: QWidget, made: Callable[..., BenchDialog] = BenchDialog) -> None:
    """Ask for the week and the bench."""
    if session.open:
        asked = made(session.job, session.preferences.sheet, parent)
        if ask(session, asked, tell("the week and the bench")):
            session.prefer(sheet=asked.sheet.currentText())
