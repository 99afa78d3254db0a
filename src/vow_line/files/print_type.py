"""Type and pen of a printed page, whose unit is 1 mm."""

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from PySide6.QtGui import QFont, QPainter, QPen


def type_of(bold: bool = False) -> "QFont":
    """The type of all pages, 100 units high."""
    from PySide6.QtGui import QFont

    font = QFont("Source Sans 3")
    font.setPixelSize(100)  # of which as many mm are taken as the words are to be high
    font.setBold(bold)
    return font


def write_at(painter: "QPainter", x: float, y: float, text: str, size_mm: float, bold: bool = False) -> None:
    """Words whose line begins at a place."""
    from PySide6.QtCore import QPointF

    painter.save()
    painter.translate(x, y)
    painter.scale(size_mm / 100, size_mm / 100)
    painter.setFont(type_of(bold))
    painter.drawText(QPointF(0, 0), text)
    painter.restore()


def wide_of(text: str, size_mm: float) -> float:
    """How wide words so high are, mm."""
    from PySide6.QtGui import QFontMetricsF

    return QFontMetricsF(type_of()).horizontalAdvance(text) * size_mm / 100


def thin_pen() -> "QPen":
    """The pen of all that is not cut."""
    from PySide6.QtCore import Qt
    from PySide6.QtGui import QColor, QPen

    pen = QPen(QColor("black"), 0.2)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    return pen
