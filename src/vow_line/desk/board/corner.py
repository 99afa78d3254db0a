"""The second small drawing in a corner of the board, as a section is: what it is above, what it says below."""

import numpy as np
from PySide6.QtCore import QPointF, QRect, QRectF, Qt
from PySide6.QtGui import QFont, QPainter, QPaintEvent, QPen, QStaticText, QTransform
from PySide6.QtWidgets import QWidget

from ...core.quantity import Units
from ...core.texts import Said
from ..look.ink import DAY, SEMI, Ink, type_
from .painter import paint, paintable
from .scene import Inset
from .words import SMALL, Placed, label_type, laid, placed

WIDE_PX, HIGH_PX = 224, 184
SMALL_PX = 196, 132  # on a board lower than this:
LOW_PX = 430
LABELLED_PX = 304, 196  # where there are words on it
BESIDE_PX = 88  # for them, on either side
SIDE_PX, ENDS_PX, OVER_PX = 33, 69, 34
CLEAR_PX = 24  # from the border, and from what is drawn, on both sides together
WORDS_PX = (14, 13, 12)  # how high letters are above and below it: the first with which they have room


def corner_px(board_px: int, inset: Inset | None) -> tuple[int, int]:
    """How wide and high it is on a board so high."""
    if inset is not None and inset.labelled:
        return LABELLED_PX
    return SMALL_PX if board_px < LOW_PX else (WIDE_PX, HIGH_PX)


class Corner(QWidget):
    """Shows an inset; a widget of its own, so that neither it nor the board is painted again for the other's sake."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.hide()
        self._board = parent
        self._inset: Inset | None = None
        self._ink, self._units = DAY, Units()
        self._lit: frozenset[str] = frozenset()
        self._words: list[Placed] = []

    def show_inset(self, inset: Inset | None, ink: Ink, units: Units) -> None:
        """Show this drawing, or nothing."""
        self._inset, self._ink, self._units = inset, ink, units
        self.setVisible(inset is not None)
        if inset is not None:
            marks, labels = inset.draw()
            points = np.concatenate([m.line for m in marks])
            low, high = points.min(axis=0), points.max(axis=0)
            wide, tall = self.width(), self.height()
            beside, ends = (2 * BESIDE_PX, ENDS_PX + OVER_PX) if inset.labelled else (SIDE_PX, ENDS_PX)
            for label in (k for k in labels if k.align != "centre"):
                words = laid(label.says.write(units), label_type(label, SMALL)).size().width()
                beside = max(beside, round(2 * words) + CLEAR_PX)
            scale = float((np.array([wide - beside, tall - ends]) / np.maximum(high - low, 1)).min())
            middle = (low + high) / 2
            self._to_px = QTransform.fromTranslate(wide / 2, tall / 2).scale(scale, scale)
            self._to_px.translate(-middle[0], -middle[1])
            self._paintable = paintable(marks, scale)
            self._words = placed(labels, self._to_px, units, SMALL, 24.0, tall - 26.0)
            self.setAccessibleName(f"{inset.title.write(units)}: {inset.says.write(units)}")
            self.update()

    def light(self, marks: frozenset[str]) -> None:
        """Make these marks glow."""
        if marks != self._lit:
            self._lit = marks
            self.update()

    def put(self, right: int, bottom: int) -> None:
        """Put it where its right and its bottom edge are to be."""
        wide, high = corner_px(self._board.height(), self._inset)
        resized = (wide, high) != (self.width(), self.height())
        self.setGeometry(QRect(right - wide, bottom - high, wide, high))
        if resized:
            self.show_inset(self._inset, self._ink, self._units)

    def _fitted(self, text: Said, weight: QFont.Weight = QFont.Weight.Normal) -> tuple[QStaticText, QFont]:
        """Words in letters that leave as much room at their end as at their beginning, where there are such."""
        for px in WORDS_PX:
            font = type_(px, weight)
            words = laid(text.write(self._units), font)
            if words.size().width() <= self.width() - 24:
                break
        return words, font

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._inset is None:
            return
        painter, ink, box = QPainter(self), self._ink, QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        painter.fillRect(self.rect(), ink.colour("board"))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(ink.colour("slip"))
        painter.drawRoundedRect(box, 4, 4)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(ink.colour("rules"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(ink.colour("quiet"))
        title, head = self._fitted(self._inset.title, SEMI)
        painter.setFont(head)
        painter.drawStaticText(QPointF(12, 8), title)
        says, body = self._fitted(self._inset.says)
        painter.setFont(body)
        painter.drawStaticText(QPointF(12, self.height() - 9 - says.size().height()), says)
        paint(painter, self._paintable, ink, self._to_px, self._lit)
        for place, label, words in self._words:
            painter.setPen(ink.colour("ink" if label.strong else "quiet"))
            painter.setFont(label_type(label, SMALL))
            painter.drawStaticText(place.topLeft(), words)
