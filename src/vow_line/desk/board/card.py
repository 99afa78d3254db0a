"""A card that lies on the board for a while, with names beside the values that are put on it."""

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QFrame, QWidget

from ..look.ink import type_


class Card(QFrame):
    """`says` are its words and where they stand."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("card")
        self.says: list[tuple[QRectF, str]] = []
        self.hide()

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setFont(type_(14))
        painter.setPen(self.palette().windowText().color())
        for box, words in self.says:
            painter.drawText(box, Qt.AlignmentFlag.AlignLeft, words)
