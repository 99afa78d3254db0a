"""The real window over the demo, in folders of its own; nothing of it may outlive a test."""

from collections.abc import Callable, Iterator
from datetime import datetime
from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import QEvent, QPoint, QSettings, Qt, QTimer
from PySide6.QtGui import QImage, QKeyEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMessageBox, QWidget

from vow_line.desk.board.field import Field
from vow_line.desk.look.ink import DAY, palette
from vow_line.desk.pages.card import OnShelf
from vow_line.desk.start import Places, application, make_window
from vow_line.desk.window.desk import Desk as DeskWidget
from vow_line.desk.window.main_window import MainWindow


def grey_of(image: QImage) -> np.ndarray:
    """A picture as `(height, width)` of grey, 0 to 255."""
    grey = image.convertToFormat(QImage.Format.Format_Grayscale8)
    rows = np.frombuffer(grey.constBits(), np.uint8).reshape(grey.height(), grey.bytesPerLine())
    return rows[:, : grey.width()].copy()


class Desk:
    """What a maker does at the window: keys, clicks, and reading what is on it."""

    def __init__(self, window: DeskWidget, places: Places) -> None:
        self.window, self.places = window, places

    def open(self, name: str) -> None:
        """Open a demo job."""
        assert self.window.session.open_file(self.places.home / "demo" / f"{name}.vow.json")
        QApplication.processEvents()

    def shelf(self) -> list[OnShelf]:
        """The jobs on the shelf, all of them read."""
        shelf = self.window.pages.shelf
        while self.window.session.worker.busy or any(j.card is None and not j.wrong for j in shelf.jobs):
            QTest.qWait(5)
        return shelf.jobs

    def key(self, key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        """Press a key where the focus is, and wait for what it opens."""
        QTest.keyClick(self.focused() or self.window, key, modifier)
        QApplication.processEvents()
        self.wait_for_opening()

    def wait_for_opening(self) -> None:
        """Until the job that was chosen on the shelf is open."""
        while self.window.pages.opening:
            QTest.qWait(2)

    def hold_down(self, key: Qt.Key, times: int = 12, *, only_held: bool = False) -> None:
        """Hold a key down where the focus is: what comes after the first press is sent on by the keyboard alone; or nothing but
        that.
        """
        text = {Qt.Key.Key_Space: " ", Qt.Key.Key_Return: "\r"}.get(key, "")
        for k in range(times):
            for kind in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
                event = QKeyEvent(kind, key, Qt.KeyboardModifier.NoModifier, text, k > 0 or only_held)
                QApplication.sendEvent(self.focused() or self.window, event)
        QApplication.processEvents()

    def answer(self, says: str, within_s: float = 0.5) -> list[str]:
        """Press this answer of the question that will be asked next; gives what it asked, when it has been."""
        asked: list[str] = []
        waited: list[int] = []

        def press() -> None:
            box = QApplication.activeModalWidget()
            if not isinstance(box, QMessageBox):
                waited.append(1)
                if len(waited) < within_s * 100:
                    QTimer.singleShot(10, press)
                return
            asked.append(box.text())
            next(b for b in box.buttons() if b.text().replace("&", "") == says.replace("&", "")).click()

        QTimer.singleShot(0, press)
        return asked

    def write(self, text: str) -> None:
        """Type characters into whatever has the focus."""
        for character in text:
            focused = QApplication.focusWidget()
            assert focused is not None
            QTest.keyClicks(focused, character)
            QApplication.processEvents()

    def focused(self) -> QWidget | None:
        """Where the focus is; on a bare screen no window manager gives it to a window, which keeps it all the same."""
        return QApplication.focusWidget() or self.window.window_.focusWidget()

    def click(self, widget: QWidget, at: QPoint | None = None) -> None:
        """Click on a widget."""
        QTest.mouseClick(
            widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at or widget.rect().center()
        )
        QApplication.processEvents()

    def station(self, name: str) -> None:
        """Click a station on the line."""
        self.click(self.window.line.stitches[name])  # type: ignore[index]

    def field(self, path: str) -> Field:
        """A value on the board."""
        return self.window.pages.station.board.fields[path]

    def type(self, path: str, text: str, end: Qt.Key = Qt.Key.Key_Return) -> None:
        """Click a value on the board, type another, press Enter."""
        field = self.field(path)
        self.click(field)
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, end)
        QApplication.processEvents()

    def slip(self) -> dict[str, str]:
        """Names and values on the slip."""
        QApplication.processEvents()
        return {r.name: r.value for r in self.window.pages.station.slip.rows}

    def slip_row(self, name: str) -> str:
        """What stands under a name on the slip."""
        QApplication.processEvents()
        return next(r.detail for r in self.window.pages.station.slip.rows if r.name == name)

    def findings(self) -> list[str]:
        """What lies below the board."""
        QApplication.processEvents()
        return [r.name for r in self.window.pages.station.findings.rows]

    def picture(self, widget: QWidget | None = None) -> QImage:
        """What is on the screen."""
        QApplication.processEvents()
        return (widget or self.window).grab().toImage()


@pytest.fixture(autouse=True)
def no_question_waits_for_ever(monkeypatch: pytest.MonkeyPatch) -> None:
    """A question that no test answers answers itself by Escape, so that the test fails where else it would hang."""
    ask = QMessageBox.exec

    def asked(box: QMessageBox) -> int:
        QTimer.singleShot(3000, box, box.reject)
        return ask(box)

    monkeypatch.setattr(QMessageBox, "exec", asked)


@pytest.fixture
def make_desk(qtbot: object, tmp_path: Path) -> Iterator[Callable[[], Desk]]:
    """Makes a window; called again, another over the same folders, as after a restart."""
    app = application()
    app.setCursorFlashTime(0)  # pictures are compared
    app.setPalette(palette(DAY))  # what a test before this one left would be taken for the system's
    QSettings.setPath(QSettings.Format.NativeFormat, QSettings.Scope.UserScope, str(tmp_path / "settings"))
    places = Places(tmp_path / "home", tmp_path / "state")
    windows: list[MainWindow] = []

    def make() -> Desk:
        outer = make_window(places, demo=True)
        outer.show()
        outer.activateWindow()
        outer.fill()
        windows.append(outer)
        window = outer.desk
        assert window is not None
        window.session.now = lambda: datetime(2027, 1, 6, 20, 15)
        QTest.qWait(10)
        return Desk(window, places)

    yield make
    for outer in windows:
        if isinstance(outer.desk, DeskWidget):
            outer.desk.session.may_leave = lambda _: True
            outer.desk.pages.leave_untaken()
        outer.close()
        outer.deleteLater()
    app.processEvents()
    QTest.qWait(10)


@pytest.fixture
def desk(make_desk: Callable[[], Desk]) -> Desk:
    return make_desk()
