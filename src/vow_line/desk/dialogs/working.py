"""A dialog whose work is done off the main thread."""

from PySide6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QWidget

from ..look.ink import SEMI, type_
from ..session import Session, Task


class WorkingDialog(QDialog):
    """Has at most one `task` under way. Closed, it stops that, and goes away when it has ended: till then it is told of it."""

    def __init__(self, session: Session, parent: QWidget, title: str) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.session, self.plan = session, session.plan
        self.task: Task | None = None

    def row_of(self, *buttons: QPushButton) -> QHBoxLayout:
        """Buttons at the foot, to the right; the last is what Enter presses."""
        row = QHBoxLayout()
        row.addStretch(1)
        for button in buttons:
            button.setFont(type_(15, SEMI))
            row.addWidget(button)
        buttons[-1].setDefault(True)
        return row

    def done(self, result: int) -> None:
        """Close."""
        super().done(result)
        if self.task is not None and self.task.running:
            self.task.ended.connect(self.deleteLater)
            self.task.stop()
        else:
            self.deleteLater()
