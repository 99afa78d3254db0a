"""The card for pictures, as a PDF at true size."""

from pathlib import Path

import numpy as np

from ..core.quantity import INCH_MM, SHEETS_MM, PrintSheet
from ..core.texts import tell
from ..instruments.tracing import CARD_MM
from .print_marks import CHECK_MM
from .whole import write_whole


def write_card(path: Path, sheet: PrintSheet = "A4") -> None:
    """Write the card on a sheet. Raises FailedWrite."""
    write_whole(path, render_card(sheet))


def render_card(sheet: PrintSheet = "A4") -> bytes:
    """The card as a PDF: its four squares, and a line of 100 mm to check the print by."""
    from PySide6.QtCore import QBuffer, QIODevice, QLineF, QMarginsF, QPointF, QRectF
    from PySide6.QtGui import QColor, QFont, QGuiApplication, QImage, QPageLayout, QPageSize, QPainter, QPdfWriter, QPen

    from ..instruments.tracing import SQUARE_MM, card_squares
    from ..resources import load_fonts

    app = QGuiApplication.instance() or QGuiApplication(["vow-line", "-platform", "offscreen"])
    load_fonts()
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setTitle(tell("Card for pictures"))
    writer.setCreator("Vow Line")
    writer.setResolution(1200)
    size = QPageSize.PageSizeId.A4 if sheet == "A4" else QPageSize.PageSizeId.Letter
    writer.setPageLayout(QPageLayout(QPageSize(size), QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0)))
    painter = QPainter(writer)
    painter.scale(1200 / INCH_MM, 1200 / INCH_MM)
    wide, high = SHEETS_MM[sheet]
    left, top = (wide - CARD_MM[0]) / 2, (high - CARD_MM[1]) / 2
    for corner, cells in card_squares():
        side = len(cells)
        image = QImage(np.ascontiguousarray(cells).tobytes(), side, side, side, QImage.Format.Format_Grayscale8)
        painter.drawImage(QRectF(left + corner[0], top + corner[1], SQUARE_MM, SQUARE_MM), image.copy())
    middle, y = wide / 2, top + CARD_MM[1] + 8
    painter.setPen(QPen(QColor("black"), 0.3))
    painter.drawLine(QLineF(middle - CHECK_MM / 2, y, middle + CHECK_MM / 2, y))
    for x in (middle - CHECK_MM / 2, middle + CHECK_MM / 2):
        painter.drawLine(QLineF(x, y - 2, x, y + 2))
    font = QFont("Source Sans 3")
    font.setPixelSize(100)
    painter.translate(middle - 40, y + 6)
    painter.scale(0.036, 0.036)
    painter.setFont(font)
    painter.drawText(QPointF(0, 0), tell("100 mm when printed at 100 %. Lay the thing between the four squares."))
    painter.end()
    del app
    return bytes(buffer.data().data())
