"""What went wrong in the program itself: kept, written down, and said in one window."""

import sys
import threading
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from types import TracebackType

from PySide6.QtCore import QMessageLogContext, QObject, Qt, QtMsgType, Signal, qInstallMessageHandler
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QDialog, QHBoxLayout, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from ...core.texts import tell
from ..look.ink import BOLD, SEMI, type_
from ..look.words import Words
from ..session import fault_log

HARMLESS = (
    "This plugin does not support",
    "Populating font family aliases",
    "QStandardPaths: ",
    "qt.qpa.",
    "Could not register app ID",
)


class FaultWindow(QDialog):
    """One window for all that goes wrong while it is open; what it shows can be copied for a report."""

    def __init__(self, parent: QWidget, log: Path) -> None:
        super().__init__(parent)
        self.setWindowTitle(tell("Something went wrong"))
        self.setMinimumWidth(640)
        self.log = log
        title = Words(tell("Something went wrong in the program."), self)
        title.setFont(type_(20, BOLD))
        self.says = Words("", self)
        self.says.setWordWrap(True)
        self.says.setFont(type_(15))
        self.details = QPlainTextEdit(self)
        self.details.setReadOnly(True)
        self.details.setAccessibleName(tell("What is written down of it"))
        copy, close = QPushButton(tell("&Copy for a report"), self), QPushButton(tell("&Go on"), self)
        copy.clicked.connect(lambda: QGuiApplication.clipboard().setText(self.details.toPlainText()))
        close.clicked.connect(self.accept)
        close.setDefault(True)
        row = QHBoxLayout()
        row.addStretch(1)
        for button in (copy, close):
            button.setFont(type_(15, SEMI))
            row.addWidget(button)
        under = QVBoxLayout(self)
        under.setContentsMargins(26, 22, 26, 20)
        under.setSpacing(12)
        for part in (title, self.says, self.details):
            under.addWidget(part)
        under.addLayout(row)

    def add(self, trace: str, kept: bool) -> None:
        """Show another fault, and whether the work is safe."""
        safe = tell("Nothing of your work is lost: what is not saved is kept beside, and will be here again.")
        words = safe if kept else tell("What is not saved could not be kept. Save it, elsewhere if need be.")
        where = tell("What is written down of it, in {log}, holds no names and no readings.", log=str(self.log))
        self.says.setText(f"{words}\n\n{where}")
        self.details.appendPlainText(f"{fault_log.impersonal(trace).strip()}\n")
        self.show()


class LogWindow(QDialog):
    """The log, as it lies on the disk."""

    def __init__(self, parent: QWidget, log: Path) -> None:
        super().__init__(parent)
        self.setWindowTitle(tell("What went wrong before"))
        self.resize(820, 520)
        self.text = QPlainTextEdit(self)
        self.text.setReadOnly(True)
        self.text.setAccessibleName(tell("The log"))
        try:
            self.text.setPlainText(log.read_text(errors="replace"))
        except OSError:
            self.text.setPlainText(tell("Nothing yet."))
        where = Words(str(log), self)
        where.setFont(type_(14))
        where.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        under = QVBoxLayout(self)
        under.addWidget(where)
        under.addWidget(self.text)


class Faults(QObject):
    """Told of every error that nothing caught: of Python, in any thread, and of Qt. `keep` keeps what is not saved and says
    whether it could.
    """

    _met = Signal(str)

    def __init__(self, parent: QWidget, state: Path, keep: Callable[[], bool]) -> None:
        super().__init__(parent)
        self._parent, self._state, self._keep = parent, state, keep
        self.window: FaultWindow | None = None
        self._busy = False
        self._met.connect(self._show, Qt.ConnectionType.QueuedConnection)

    def watch(self) -> None:
        """From now on, until `let_be`."""
        sys.excepthook = self._raised
        threading.excepthook = lambda given: self.meet(fault_log.told(given.exc_value)) if given.exc_value else None
        qInstallMessageHandler(self._qt)

    def let_be(self) -> None:
        """No longer."""
        if sys.excepthook != self._raised:
            return
        sys.excepthook, threading.excepthook = sys.__excepthook__, threading.__excepthook__
        qInstallMessageHandler(None)

    def meet(self, trace: str) -> None:
        """Keep what is not saved, write this down, and say it; from any thread."""
        self._met.emit(trace)

    def _raised(self, kind: type[BaseException], error: BaseException, _: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt | SystemExit):
            sys.__excepthook__(kind, error, error.__traceback__)
        else:
            self.meet(fault_log.told(error))

    def _qt(self, kind: QtMsgType, context: QMessageLogContext, says: str) -> None:
        sys.stderr.write(f"{says}\n")
        if kind not in (QtMsgType.QtDebugMsg, QtMsgType.QtInfoMsg) and not any(word in says for word in HARMLESS):
            fault_log.write(f"Qt: {says}", self._state, datetime.now())

    def _show(self, trace: str) -> None:
        if self._busy:  # keeping it failed too
            return
        self._busy = True
        try:
            kept = self._keep()
            fault_log.write(trace, self._state, datetime.now())
            if self.window is None or not self.window.isVisible():
                self.window = FaultWindow(self._parent, fault_log.log_in(self._state))
            self.window.add(trace, kept)
        finally:
            self._busy = False
