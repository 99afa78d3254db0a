"""The one place where the job changes: named steps, undo and redo, and who is told."""

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from ...core.job import Job, stepped
from ...core.plan import Plan, plan


class Store(QObject):
    """Holds the job, its plan, and every job before it. `changed` carries the plan before and the plan after."""

    changed = Signal(object, object)

    def __init__(self, job: Job, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._done: list[tuple[str, Job]] = []
        self._undone: list[tuple[str, Job]] = []
        self._merge = ""
        self.plan: Plan = plan(job)
        self.saved: Job | None = job  # None where no file has it as it stands

    @property
    def job(self) -> Job:
        """The job as it stands."""
        return self.plan.job

    @property
    def unsaved(self) -> bool:
        """Whether it differs from what was last saved."""
        return self.job != self.saved

    def do(self, name: str, step: Callable[[Job], Job], *, merge: str = "") -> None:
        """Change the job by a named step. Steps with the same `merge` in a row become one.

        Whatever the step raises is raised here, and then nothing has changed. Raises RefusedChange too.
        """
        job = stepped(self.job, step)
        if job == self.job:
            return
        if not (merge and merge == self._merge and self._done):
            self._done.append((name, self.job))
        self._merge = merge
        self._undone.clear()
        self._show(job)

    def undo(self) -> None:
        """Go back one step."""
        if self._done:
            name, job = self._done.pop()
            self._undone.append((name, self.job))
            self._merge = ""
            self._show(job)

    def redo(self) -> None:
        """Go forward one step again."""
        if self._undone:
            name, job = self._undone.pop()
            self._done.append((name, self.job))
            self._merge = ""
            self._show(job)

    @property
    def undo_name(self) -> str:
        """What undo would take back, or nothing."""
        return self._done[-1][0] if self._done else ""

    @property
    def redo_name(self) -> str:
        """What redo would do again, or nothing."""
        return self._undone[-1][0] if self._undone else ""

    def _show(self, job: Job) -> None:
        before, self.plan = self.plan, plan(job)
        self.changed.emit(before, self.plan)
