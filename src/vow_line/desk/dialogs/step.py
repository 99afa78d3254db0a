"""How a step went: the minutes it took, and what went wrong."""

from PySide6.QtWidgets import QComboBox, QDialog, QDialogButtonBox, QFormLayout, QLineEdit, QWidget

from ...core.errors import VowLineError
from ...core.job import Job
from ...core.plan import Plan
from ...core.quantity import Q, write
from ...core.steps import how_it_went
from ...core.texts import tell
from ...core.typed import read
from ..look.words import Words
from ..session import Session


class StepDialog(QDialog):
    """Asks for it, of the steps that are ticked off, the last first."""

    def __init__(self, plan: Plan, step: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tell("How a step went"))
        self.job = job = plan.job
        names = {s.id: s.name for s in plan.work.steps} if plan.work else {}
        self.ticks = [t for t in reversed(job.work.done) if t.step in names]
        form = QFormLayout(self)
        self.step = QComboBox(self)
        self.step.setAccessibleName(tell("The step"))
        self.step.addItems([names[t.step].write(job.units) for t in self.ticks])
        self.minutes, self.slip = QLineEdit(self), QLineEdit(self)
        self.minutes.setPlaceholderText(tell("not noted"))
        self.slip.setPlaceholderText(tell("nothing"))
        self.slip.setMaxLength(2000)
        form.addRow(tell("Step"), self.step)
        form.addRow(tell("Minutes it took"), self.minutes)
        form.addRow(tell("What went wrong"), self.slip)
        self.wrong = Words(self)
        self.wrong.setObjectName("wrong")
        self.wrong.hide()
        form.addRow(self.wrong)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel, parent=self
        )
        buttons.accepted.connect(self._take)
        buttons.rejected.connect(self.reject)
        form.addRow(buttons)
        self.step.currentIndexChanged.connect(self._show)
        at = next((k for k, t in enumerate(self.ticks) if t.step == step), 0)
        self.step.setCurrentIndex(at)
        self._show(at)

    def _show(self, at: int) -> None:
        tick = self.ticks[at]
        self.minutes.setText("" if tick.minutes is None else write(Q("count", tick.minutes), self.job.units))
        self.slip.setText(tick.slip)

    def _take(self) -> None:
        try:
            self.went(self.job)
        except VowLineError as error:
            self.wrong.setText(str(error))
            self.wrong.show()
        else:
            self.accept()

    def went(self, job: Job) -> Job:
        """The job with the answers. Raises RefusedChange and UnreadableQuantity."""
        text = self.minutes.text().strip()
        minutes = read("minutes", text, job.units) if text else None
        return how_it_went(job, step=self.ticks[self.step.currentIndex()].step, minutes=minutes, slip=self.slip.text())


def ask_step(session: Session, step: str, parent: QWidget) -> None:
    """Ask how a step went: the one named, or the last that was ticked off."""
    if not session.open:
        return
    asked = StepDialog(session.plan, step, parent) if session.job.work.done else None
    if asked is None or not asked.ticks:
        session.say(tell("No step is ticked off yet."), wrong=True)
    elif asked.exec():
        session.do(tell("say how a step went"), asked.went)
