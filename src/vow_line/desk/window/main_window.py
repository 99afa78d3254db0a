"""The window itself: painted at once with what costs nothing to know, filled by the desk when that has been seen."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QSettings, QTimer
from PySide6.QtGui import QCloseEvent, QPaintEvent
from PySide6.QtWidgets import QApplication, QMainWindow, QVBoxLayout, QWidget

from ...core.language import translated
from ..look.ink import BOLD, LEAST_PX, SEMI, Ink, palette, style, type_
from ..look.words import Words


class Filling(QWidget):
    """What takes the place of the first paint."""

    def settle(self) -> None:
        """Begin, once it lies in the window."""

    def may_close(self) -> bool:
        """Whether the window may close now."""
        return True

    def put_away(self) -> None:
        """End, before the window closes."""


class MainWindow(QMainWindow):
    """Shows the shelf's titles first; `fill`, called once after the first paint, makes the desk that takes their place: that
    loads the whole core, and the first paint does not wait for it.
    """

    def __init__(self, ink: Ink, jobs: tuple[Path, ...], fill: Callable[["MainWindow"], Filling]) -> None:
        super().__init__()
        self.setWindowTitle("Vow Line")
        self.desk: Filling | None = None
        self._fill: Callable[[MainWindow], Filling] | None = fill
        self.menuBar().addMenu(translated("&File"))
        self.use_ink(ink)
        first = QWidget(self)
        column = QVBoxLayout(first)
        column.setContentsMargins(48, 30, 48, 20)
        for text, font in (
            (translated("The shelf"), type_(30, BOLD)),
            *((j.name.partition(".")[0], type_(18, SEMI)) for j in jobs[:8]),
        ):
            label = Words(text, first)
            label.setFont(font)
            column.addWidget(label)
        column.addStretch(1)  # and no alignment: the first use of Qt's own names costs as much as half a window
        self.setCentralWidget(first)
        self.setMinimumSize(*LEAST_PX)
        self.resize(1280, 800)

    def use_ink(self, ink: Ink) -> None:
        """Use this bench's colours everywhere."""
        self.ink = ink
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        app.setPalette(palette(ink))
        if self.styleSheet() != style(ink):  # to set it again would have every widget polished again
            self.setStyleSheet(
                style(ink)
            )  # on the window and what it asks, which takes a third of what the program's takes

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self._fill is not None:
            QTimer.singleShot(0, self.fill)

    def fill(self) -> None:
        """Make the desk, once."""
        if self._fill is not None:
            make, self._fill = self._fill, None
            self.menuBar().clear()
            self.desk = make(self)
            self.setCentralWidget(self.desk)
            self.desk.settle()

    def closeEvent(self, event: QCloseEvent) -> None:
        if self.desk is not None:
            if not self.desk.may_close():
                event.ignore()
                return
            self.desk.put_away()
        QSettings().setValue("window/geometry", self.saveGeometry())
        super().closeEvent(event)
