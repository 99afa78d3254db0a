"""A monkey on the desk: keys, clicks and menus at random at every station and in every dialog, with faults put in.

A full disk, a slow disk and a locked book come and go. No error is uncaught, Qt warns of nothing, no act takes two seconds, and
at the end what is open is saved or kept.
"""

import os
import sqlite3
import sys
import tempfile
import time
from contextlib import suppress
from pathlib import Path
from types import TracebackType
from typing import Any

import numpy as np

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PySide6.QtCore import QMessageLogContext, QPoint, Qt, QTimer, QtMsgType, qInstallMessageHandler
from PySide6.QtGui import QAction
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog, QFileDialog, QInputDialog, QWidget

from vow_line.desk.line import LINE
from vow_line.desk.session import fault_log
from vow_line.desk.start import Places, application, lay_out_demo, make_window
from vow_line.desk.window.desk import Desk
from vow_line.desk.window.faults import HARMLESS
from vow_line.files.job_json import dump

from .trying import Tried, go_on, told

KEYS = (Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Escape, Qt.Key.Key_Space, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left,
        Qt.Key.Key_Right, Qt.Key.Key_Backspace, Qt.Key.Key_Delete, Qt.Key.Key_PageDown, Qt.Key.Key_Home)  # fmt: skip
TYPED = ("4", "12.5", "1/2", "3 1/4 in", "-1", "0", "1e9", "wide", "", "%", "31,7", "6 oz", "<b>")
NEVER = ("quit", "caliper", "print", "card")  # these leave, or ask a device that is not there
WAIT_S = 60.0


class Monkey:
    """One desk, and what it does next."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.places = Places(folder, folder / "state")
        self.wrong: list[str] = []
        self.app = application()
        self.frame = make_window(self.places, demo=True)
        self.frame.show()
        self.frame.fill()
        assert isinstance(self.frame.desk, Desk)
        self.desk = self.frame.desk
        self.paths = lay_out_demo(self.places)
        self.locked: sqlite3.Connection | None = None
        self.sync = os.fsync
        sys.excepthook = self._raised
        qInstallMessageHandler(self._qt)
        for name in ("getOpenFileName", "getSaveFileName"):
            setattr(QFileDialog, name, staticmethod(lambda *_, **__: (str(folder / "other.vow.json"), "")))
        QFileDialog.getExistingDirectory = staticmethod(lambda *_, **__: str(folder))  # type: ignore[method-assign]
        QInputDialog.getItem = staticmethod(lambda *given, **__: (given[3][0] if given[3] else "", False))  # type: ignore[method-assign]
        QInputDialog.getText = staticmethod(lambda *_, **__: ("", False))  # type: ignore[method-assign]

    def _raised(self, kind: type[BaseException], error: BaseException, _: TracebackType | None) -> None:
        self.wrong.append(fault_log.told(error))

    def _qt(self, kind: QtMsgType, _: QMessageLogContext, says: str) -> None:
        if kind not in (QtMsgType.QtDebugMsg, QtMsgType.QtInfoMsg) and not any(word in says for word in HARMLESS):
            self.wrong.append(f"Qt: {says}")

    def act(self, rng: np.random.Generator) -> str:
        """Do something; gives what."""
        session = self.desk.session
        QTimer.singleShot(0, lambda: self._answer(np.random.default_rng(int(rng.integers(1 << 30)))))
        which = rng.random()
        if not session.open or which < 0.03:
            path = self.paths[int(rng.integers(len(self.paths)))]
            session.open_file(path)
            return f"open {path.name}"
        if which < 0.18:
            station = LINE[int(rng.integers(len(LINE)))][0]
            session.go(station)
            return f"go to {station}"
        if which < 0.40:
            fields = [f for f in self.desk.pages.station.board.fields.values() if f.isVisible() and not f.isReadOnly()]
            if fields:
                field = fields[int(rng.integers(len(fields)))]
                field.setFocus()
                field.selectAll()
                QTest.keyClicks(field, str(rng.choice(TYPED)))
                QTest.keyClick(field, KEYS[int(rng.integers(2))])
                return "type"
        if which < 0.62:
            names = [n for n, a in self.desk.actions_.items() if n not in NEVER and a.isEnabled()]
            name = names[int(rng.integers(len(names)))]
            self._trigger(self.desk.actions_[name])
            return f"menu {name}"
        if which < 0.66:
            return self._fault(rng)
        focus = QApplication.focusWidget() or self.frame.focusWidget() or self.frame
        if which < 0.88:
            key = KEYS[int(rng.integers(len(KEYS)))]
            QTest.keyClick(focus, key)
            return f"key {key.name}"
        shown = [w for w in self.desk.findChildren(QWidget) if w.isVisible() and w.isEnabled() and w.width() > 4]
        if shown:
            widget = shown[int(rng.integers(len(shown)))]
            at = QPoint(int(rng.integers(widget.width())), int(rng.integers(max(widget.height(), 1))))
            QTest.mouseClick(widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
        return "click"

    def _trigger(self, action: QAction) -> None:
        action.trigger()

    def _answer(self, rng: np.random.Generator) -> None:
        """Whatever is asked is answered somehow, or left."""
        dialog = QApplication.activeModalWidget() or QApplication.activePopupWidget()
        if dialog is None:
            return
        QTimer.singleShot(0, lambda: self._answer(rng))
        if dialog.property("pressed") is not None and int(dialog.property("pressed")) > 6:
            dialog.reject() if isinstance(dialog, QDialog) else dialog.close()
            return
        dialog.setProperty("pressed", int(dialog.property("pressed") or 0) + 1)
        within = [w for w in dialog.findChildren(QWidget) if w.isVisible() and w.isEnabled()] or [dialog]
        widget = within[int(rng.integers(len(within)))]
        if rng.random() < 0.5:
            QTest.mouseClick(widget, Qt.MouseButton.LeftButton)
        else:
            QTest.keyClick(widget, KEYS[int(rng.integers(len(KEYS)))])

    def _fault(self, rng: np.random.Generator) -> str:
        """A fault comes, or those that are there go."""
        if self.locked is not None:
            self.locked.close()
        self.locked, os.fsync = None, self.sync
        match int(rng.integers(4)):
            case 0:

                def full(_: object) -> None:
                    raise OSError(28, "No space left on device")

                os.fsync = full  # type: ignore[assignment]
                return "full disk"
            case 1:

                def slow(handle: Any) -> None:
                    time.sleep(0.2)
                    self.sync(handle)

                os.fsync = slow  # type: ignore[assignment]
                return "slow disk"
            case 2:
                with suppress(sqlite3.Error):
                    self.locked = sqlite3.connect(self.places.home / "workshop.sqlite", timeout=0)
                    self.locked.execute("begin exclusive")
                return "locked book"
            case _:
                return "all well"

    def settle(self) -> None:
        """Until nothing is under way and nothing is asked."""
        until = time.monotonic() + WAIT_S
        while self.desk.session.worker.busy and time.monotonic() < until:
            QApplication.processEvents()
            time.sleep(0.002)
        assert time.monotonic() < until, "work under way never ends"
        QApplication.processEvents()
        while (dialog := QApplication.activeModalWidget()) is not None and time.monotonic() < until:
            dialog.close()
            QApplication.processEvents()

    def trial(self, rng: np.random.Generator) -> Tried:
        """One act."""
        session = self.desk.session
        at = f"{session.path.name if session.path else ''} {session.station}"

        def do() -> None:
            did = tried.did = f"at {at}: {self.act(rng)}"
            QApplication.processEvents()
            if self.wrong:
                wrong, self.wrong = self.wrong, []
                raise AssertionError(f"{did}\n" + "\n".join(wrong))

        self.settle()
        tried = Tried("acts", dump(session.job) if session.open else b"", ".vow.json", do)
        return tried


if __name__ == "__main__":
    minutes, seed = told("soak monkey", sys.argv[1:])
    with tempfile.TemporaryDirectory() as made:
        monkey = Monkey(Path(made))
        failed = go_on("monkey", monkey.trial, minutes, seed)
        os.fsync = monkey.sync
        if monkey.locked is not None:
            monkey.locked.close()
        monkey.settle()
        kept = monkey.desk.session.keep_now()
        monkey.frame.close()
        sys.exit(int(failed > 0 or not kept))
