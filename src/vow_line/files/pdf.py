"""Patterns as PDF at 1:1, tiled on A4 or Letter: every page has a length to check, a map, and marks to join by."""

from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from ..core.curve import Line
from ..core.draft import Piece
from ..core.drawing import Mark
from ..core.meanings import PRINTS, Print
from ..core.plan import Plan
from ..core.quantity import INCH_MM, SHEETS_MM, PrintSheet, Q, Units
from ..core.stitch.pattern import moved, pattern
from ..core.texts import said, tell
from .print_marks import CHECK_IN, CHECK_MM, caption
from .whole import write_whole

if TYPE_CHECKING:  # Qt is imported only when something is written, so that the other formats work without it
    from PySide6.QtGui import QPagedPaintDevice, QPainter, QPen

NAME, SUFFIX = said("Patterns, PDF at 1:1"), ".pdf"
BORDER_MM = 10.0
OVERLAP_MM = 12.0
HEAD_MM = 16.0  # caption above the pattern
FOOT_MM = 16.0  # check lengths below it
KEY_MM, KEY_GAP_MM = 14.0, 5.5  # of each line in the key, and between them with its word


@dataclass(frozen=True, slots=True)
class Tile:
    """One page: a piece, its place in the grid of pages, and the corner of the pattern it begins at, mm."""

    piece: Piece
    column: int
    row: int
    columns: int
    rows: int
    left_mm: float
    top_mm: float


def tiles(piece: Piece, sheet_mm: tuple[float, float]) -> tuple[Tile, ...]:
    """The pages that cover a piece, neighbours overlapping by 12 mm."""
    room = _room(sheet_mm)
    low, size = piece.outline.min(axis=0), np.ptp(piece.outline, axis=0) + 2
    counts = [max(1, int(np.ceil((size[i] - OVERLAP_MM) / (room[i] - OVERLAP_MM)))) for i in (0, 1)]
    return tuple(
        Tile(
            piece, c, r, counts[0], counts[1], float(low[0]) - 1 + c * (room[0] - OVERLAP_MM),
            float(low[1]) - 1 + r * (room[1] - OVERLAP_MM),
        )
        for r in range(counts[1])
        for c in range(counts[0])
    )  # fmt: skip


def _room(sheet_mm: tuple[float, float]) -> tuple[float, float]:
    return sheet_mm[0] - 2 * BORDER_MM, sheet_mm[1] - 2 * BORDER_MM - HEAD_MM - FOOT_MM


def write(plan: Plan, path: Path, sheet: PrintSheet = "A4") -> None:
    """Write the patterns. Raises FailedWrite."""
    write_whole(path, render(plan, sheet))


Sheets = tuple[tuple[Piece, tuple[Mark, ...]], ...]


def render(plan: Plan, sheet: PrintSheet = "A4", drawn: Sheets | None = None) -> bytes:
    """The PDF document: of the pieces and marks that are `drawn`, or of all patterns."""
    from PySide6.QtCore import QBuffer, QIODevice, QMarginsF
    from PySide6.QtGui import QGuiApplication, QPageLayout, QPageSize, QPainter, QPdfWriter

    from ..resources import load_fonts

    assert plan.draft is not None
    assert plan.stitching is not None
    app = QGuiApplication.instance() or QGuiApplication(["vow-line", "-platform", "offscreen"])
    load_fonts()
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setTitle(plan.job.name)
    writer.setCreator("Vow Line")
    writer.setResolution(1200)
    size = QPageSize.PageSizeId.A4 if sheet == "A4" else QPageSize.PageSizeId.Letter
    layout = QPageLayout(QPageSize(size), QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0))
    layout.setMode(QPageLayout.Mode.FullPageMode)
    writer.setPageLayout(layout)
    painter = QPainter(writer)
    paint_pages(painter, writer, plan, sheet, 1200, drawn)
    painter.end()
    del app
    return bytes(buffer.data().data())


def paint_pages(
    painter: "QPainter", paper: "QPagedPaintDevice", plan: Plan, sheet: PrintSheet, dots_per_inch: float,
    drawn: Sheets | None = None,
) -> None:  # fmt: skip
    """Paint all pages of all pieces on paper whose whole sheet is painted on at `dots_per_inch`."""
    assert plan.draft is not None
    assert plan.stitching is not None
    first = True
    if drawn is None:
        drawn = tuple((p, pattern(p, plan.stitching)) for p in plan.draft.pieces)
    for piece, marks in drawn:
        for tile in tiles(piece, SHEETS_MM[sheet]):
            if not first:
                paper.newPage()
            first = False
            painter.resetTransform()
            painter.scale(dots_per_inch / INCH_MM, dots_per_inch / INCH_MM)
            paint_page(painter, plan, tile, marks, SHEETS_MM[sheet])


def paint_page(
    painter: "QPainter", plan: Plan, tile: Tile, marks: tuple[Mark, ...], sheet_mm: tuple[float, float]
) -> None:
    """Paint one page; the painter's unit is 1 mm, its origin the corner of the sheet."""
    from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
    from PySide6.QtGui import QColor, QFont, QPen, QPolygonF

    room = _room(sheet_mm)
    origin = (BORDER_MM, BORDER_MM + HEAD_MM)
    ink = QColor("black")

    def pen(width: float, colour: QColor = ink) -> QPen:
        return QPen(colour, width)

    def polygon(line: Line) -> QPolygonF:
        return QPolygonF([QPointF(x, y) for x, y in line])

    def write_at(x: float, y: float, text: str, size_mm: float = 3.6, bold: bool = False) -> None:
        font = QFont("Source Sans 3")
        font.setPixelSize(100)
        font.setBold(bold)
        painter.save()
        painter.translate(x, y)
        painter.scale(size_mm / 100, size_mm / 100)
        painter.setFont(font)
        painter.drawText(QPointF(0, 0), text)
        painter.restore()

    painter.save()
    painter.setClipRect(QRectF(origin[0], origin[1], room[0], room[1]))
    shift = (origin[0] - tile.left_mm, origin[1] - tile.top_mm)
    for mark in marks:
        look = PRINTS.get(mark.meaning)
        if look is None:
            continue
        line = moved(mark, shift).line
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(_pen(look))
        if mark.size_mm:
            for x, y in line:
                painter.drawEllipse(QPointF(x, y), mark.size_mm / 2, mark.size_mm / 2)
        elif mark.pairs:
            painter.drawLines([QLineF(*a, *b) for a, b in line.reshape(-1, 2, 2).tolist()])
        elif mark.closed:
            painter.drawPolygon(polygon(line))
        else:
            painter.drawPolyline(polygon(line))
    painter.restore()
    painter.setPen(pen(0.2))
    for x in (origin[0], origin[0] + room[0]):
        for y in (origin[1], origin[1] + room[1]):
            painter.drawLine(QLineF(x - 4, y, x + 4, y))
            painter.drawLine(QLineF(x, y - 4, x, y + 4))
    overlap = pen(0.15, colour=QColor("#888888"))
    overlap.setDashPattern([10, 10])
    painter.setPen(overlap)
    if tile.column + 1 < tile.columns:
        x = origin[0] + room[0] - OVERLAP_MM
        painter.drawLine(QLineF(x, origin[1], x, origin[1] + room[1]))
    if tile.row + 1 < tile.rows:
        y = origin[1] + room[1] - OVERLAP_MM
        painter.drawLine(QLineF(origin[0], y, origin[0] + room[0], y))
    painter.setPen(pen(0.2))
    write_at(BORDER_MM, BORDER_MM + 5, caption(plan, tile.piece), 4.2, True)
    page = tell(
        "page {k} of {n} of this piece", k=tile.row * tile.columns + tile.column + 1, n=tile.rows * tile.columns
    )
    stock = tile.piece.stock
    cut_from = said("{stock} {t}", stock=stock.title, t=Q("leather", stock.thickness_mm)).write(plan.job.units)
    if stock.sort == "leather":
        way = (
            tell("best way of the leather runs up and down this page")
            if tile.piece.turns == "along"
            else tell("any way of the leather")
        )
        cut_from = f"{way} · {cut_from}"
    write_at(BORDER_MM, BORDER_MM + 10.5, f"{page} · {cut_from}", 3.4)
    _key(painter, marks, room[0])
    _page_map(painter, tile, sheet_mm)
    if tile.piece.turns == "along":
        _best_way(painter, sheet_mm[0] - BORDER_MM - 6, origin[1] + 24)
    foot = sheet_mm[1] - BORDER_MM - 3
    _check(painter, BORDER_MM, foot, CHECK_MM, 10, tell("100 mm: measure this before you cut"))
    _check(painter, BORDER_MM, foot - 9, CHECK_IN * INCH_MM, 4, "4 in")
    write_at(BORDER_MM + 116, foot - 9, tell("Print at 100 %, never fitted to the page."), 3.2)


def _pen(look: Print) -> "QPen":
    from PySide6.QtCore import Qt
    from PySide6.QtGui import QColor, QPen

    pen = QPen(QColor("#666666" if look.grey else "black"), look.width_mm)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    if look.dash_mm:
        pen.setDashPattern([d / look.width_mm for d in look.dash_mm])
    return pen


def _key(painter: "QPainter", marks: tuple[Mark, ...], room_mm: float) -> None:
    """What the lines of this page are for, in a row; where there are many, with shorter samples."""
    from PySide6.QtCore import QLineF, QPointF
    from PySide6.QtGui import QFont, QFontMetricsF

    font = QFont("Source Sans 3")
    font.setPixelSize(100)
    wide = QFontMetricsF(font).horizontalAdvance
    there = {m.meaning for m in marks}
    looks = [look for meaning, look in PRINTS.items() if meaning in there and look.key]
    words = sum(wide(look.key.write(Units())) for look in looks) * 0.03
    long = min(KEY_MM, (room_mm - 12.0 - words) / max(len(looks), 1) - KEY_GAP_MM)
    x, y = BORDER_MM + 6.0, BORDER_MM + 15.0
    painter.save()
    for look in looks:
        painter.setPen(_pen(look))
        painter.drawLine(QLineF(x, y - 1, x + long, y - 1))
        painter.save()
        painter.translate(x + long + 1.5, y)
        painter.scale(0.03, 0.03)
        painter.setFont(font)
        painter.setPen("black")
        painter.drawText(QPointF(0, 0), look.key.write(Units()))
        painter.restore()
        x += long + KEY_GAP_MM + wide(look.key.write(Units())) * 0.03
    painter.restore()


def _page_map(painter: "QPainter", tile: Tile, sheet_mm: tuple[float, float]) -> None:
    from PySide6.QtCore import QRectF, Qt
    from PySide6.QtGui import QColor

    cell = 4.0
    left, top = sheet_mm[0] - BORDER_MM - cell * tile.columns, BORDER_MM
    for r in range(tile.rows):
        for c in range(tile.columns):
            here = (r, c) == (tile.row, tile.column)
            painter.setBrush(QColor("black") if here else Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(left + c * cell, top + r * cell * 1.3, cell, cell * 1.3))
    painter.setBrush(Qt.BrushStyle.NoBrush)


def _best_way(painter: "QPainter", x: float, y: float, long_mm: float = 40.0) -> None:
    """An arrow with two heads along which the leather should stretch least."""
    from PySide6.QtCore import QLineF

    painter.drawLine(QLineF(x, y, x, y + long_mm))
    for end, back in ((y, 4.0), (y + long_mm, -4.0)):
        painter.drawLine(QLineF(x, end, x - 1.6, end + back))
        painter.drawLine(QLineF(x, end, x + 1.6, end + back))


def _check(painter: "QPainter", x: float, y: float, long_mm: float, parts: int, says: str) -> None:
    from PySide6.QtCore import QLineF, QPointF
    from PySide6.QtGui import QFont

    painter.drawLine(QLineF(x, y, x + long_mm, y))
    for i in range(parts + 1):
        at = x + long_mm * i / parts
        painter.drawLine(QLineF(at, y, at, y - (3 if i in (0, parts) else 1.5)))
    font = QFont("Source Sans 3")
    font.setPixelSize(100)
    painter.save()
    painter.translate(x + long_mm + 2, y)
    painter.scale(0.032, 0.032)
    painter.setFont(font)
    painter.drawText(QPointF(0, 0), says)
    painter.restore()
