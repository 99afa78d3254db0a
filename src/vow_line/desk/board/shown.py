"""Marks shown as large as there is room for, in a dialog."""

from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter, QPaintEvent, QTransform
from PySide6.QtWidgets import QWidget

from ...core.drawing import Mark
from ..look.ink import Ink
from .painter import paint, paintable


class Shown(QWidget):
    """Draws its `marks`; set others, and it draws those."""

    def __init__(self, parent: QWidget, ink: Ink, marks: Sequence[Mark], name: str) -> None:
        super().__init__(parent)
        self.ink, self._marks = ink, marks
        self.setAccessibleName(name)

    @property
    def marks(self) -> Sequence[Mark]:
        """What is drawn."""
        return self._marks

    @marks.setter
    def marks(self, marks: Sequence[Mark]) -> None:
        self._marks = marks
        self.update()

    def paintEvent(self, _: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), self.ink.colour("board"))
        points = np.concatenate([m.line for m in self._marks])
        low, size = points.min(axis=0), np.maximum(np.ptp(points, axis=0), 1.0)
        room = QRectF(self.rect()).adjusted(24, 24, -24, -24)
        scale = min(room.width() / size[0], room.height() / size[1])
        middle = low + size / 2
        to_px = QTransform.fromTranslate(room.center().x(), room.center().y()).scale(scale, scale)
        paint(painter, paintable(self._marks, scale), self.ink, to_px.translate(-middle[0], -middle[1]))
