"""Patterns as PDF at 1:1, tiled on A4 or Letter: every page has a length to check, a map, and marks to join by."""

from collections.abc import Callable, Container, Mapping
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from ..core.curve import Line
from ..core.draft import Piece
from ..core.draft.ids import own
from ..core.draft.together import patterns
from ..core.drawing import Mark
from ..core.made import Marking
from ..core.made import markings as markings_of
from ..core.meanings import PRINTS, Print
from ..core.pages import OVERLAP_MM, Page, pages_of, turned
from ..core.plan import Plan
from ..core.quantity import INCH_MM, SHEETS_MM, PrintSheet, Units
from ..core.reckoning import count
from ..core.stitch.pattern import pattern
from ..core.texts import said, several, tell
from .print_marks import CHECK_IN, CHECK_MM, HEAD_MM, caption, heading
from .print_type import thin_pen, wide_of, write_at
from .print_words import words_on
from .recorded import Recorded
from .whole import write_whole

if TYPE_CHECKING:  # Qt is imported only when something is written, so that the other formats work without it
    from PySide6.QtGui import QPagedPaintDevice, QPainter, QPen

NAME, SUFFIX = said("Patterns, PDF at 1:1"), ".pdf"
BORDER_MM = 10.0
FOOT_MM = 16.0  # check lengths below it
LINE_REACH_MM = 2.0  # beyond what is seen, no line is wider
KEY_TYPE_MM = 3.0
KEY_MM, KEY_GAP_MM = 14.0, 5.5  # of each line in the key, and between them with its word


def room_of(sheet_mm: tuple[float, float]) -> tuple[float, float]:
    """How much of a sheet is for patterns."""
    return sheet_mm[0] - 2 * BORDER_MM, sheet_mm[1] - 2 * BORDER_MM - HEAD_MM - FOOT_MM


def write(plan: Plan, path: Path, sheet: PrintSheet = "A4") -> None:
    """Write the patterns. Raises FailedWrite."""
    write_whole(path, render(plan, sheet))


Sheets = tuple[tuple[Piece, tuple[Mark, ...]], ...]


@dataclass(frozen=True, eq=False)
class Paper:
    """The pages of a plan on sheets of a size: their pieces with their marks, and the words on each."""

    plan: Plan
    sheet: PrintSheet
    pages: tuple[Page, ...]
    marks: Mapping[str, tuple[Mark, ...]]
    words: tuple[Recorded, ...]

    @property
    def size_mm(self) -> tuple[float, float]:
        """Of a sheet."""
        return SHEETS_MM[self.sheet]


def paper_of(plan: Plan, sheet: PrintSheet = "A4", drawn: Sheets | None = None) -> Paper:
    """The pages of the pieces and marks that are `drawn`, or of all patterns, the made thing on the first. It may take a
    second, and needs a QGuiApplication.
    """
    from ..resources import load_fonts

    assert plan.whole is not None
    assert plan.sewing is not None
    markings: Mapping[str, Marking] = {}
    made = None
    if drawn is None:
        drawn = tuple((p, pattern(p, plan.sewing)) for p in patterns(plan.whole))
        markings, made = _markings(plan), plan.made
    load_fonts()
    room, marks = room_of(SHEETS_MM[sheet]), {piece.id: marks for piece, marks in drawn}
    pages = pages_of([piece for piece, _ in drawn], room)
    words = (
        partial(words_on, plan=plan, marks=marks, markings=markings, page=page, room=room, made=None if k else made)
        for k, page in enumerate(pages)
    )
    return Paper(plan, sheet, pages, marks, tuple(Recorded(w) for w in words))


def _markings(plan: Plan) -> Mapping[str, Marking]:
    """What is marked on every pattern; what is the same seam has the same letter, whoever it is for."""
    found = {}
    for number, one in plan.each:
        if one.draft is not None and one.stitching is not None:
            marked = markings_of(one.draft.assembly, one.stitching.seams)
            found.update({own(id, number): marking for id, marking in marked.items()})
    return found


def render(plan: Plan, sheet: PrintSheet = "A4", drawn: Sheets | None = None) -> bytes:
    """The PDF document: of the pieces and marks that are `drawn`, or of all patterns."""
    from PySide6.QtCore import QBuffer, QIODevice, QMarginsF
    from PySide6.QtGui import QGuiApplication, QPageLayout, QPageSize, QPainter, QPdfWriter

    app = QGuiApplication.instance() or QGuiApplication(["vow-line", "-platform", "offscreen"])
    paper = paper_of(plan, sheet, drawn)
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
    paint_pages(painter, writer, paper, 1200)
    painter.end()
    del app
    return bytes(buffer.data().data())


def paint_pages(
    painter: "QPainter", on: "QPagedPaintDevice", paper: Paper, dots_per_inch: float, only: Container[int] | None = None,
    progress: Callable[[float], bool] = lambda _: True,
) -> bool:  # fmt: skip
    """Paint the pages, or `only` some by their number from 0, on a device whose whole sheet is painted on at
    `dots_per_inch`, until `progress`, told how far it is, says to stop; whether all were painted.
    """
    printed = [k for k in range(len(paper.pages)) if only is None or k in only]
    for n, k in enumerate(printed):
        if not progress(n / len(printed)):
            return False
        if n:
            on.newPage()
        painter.resetTransform()
        painter.scale(dots_per_inch / INCH_MM, dots_per_inch / INCH_MM)
        paint_page(painter, paper, k)
    return True


def paint_page(painter: "QPainter", paper: Paper, k: int) -> None:
    """Paint one page; the painter's unit is 1 mm, its origin the corner of the sheet."""
    from PySide6.QtCore import QLineF, QRectF

    plan, page, marks, sheet_mm = paper.plan, paper.pages[k], paper.marks, paper.size_mm
    room = room_of(sheet_mm)
    origin = (BORDER_MM, BORDER_MM + HEAD_MM)
    painter.save()
    painter.setClipRect(QRectF(origin[0], origin[1], room[0], room[1]))
    for on in page.pieces:
        painter.save()
        painter.translate(origin[0] + on.shift[0], origin[1] + on.shift[1])
        painter.rotate(float(np.degrees(on.turn_rad)))
        corners = np.array([[0, 0], [1, 0], [1, 1], [0, 1]]) * room
        sheet = turned(corners - on.shift, -on.turn_rad)  # as the piece lies on it
        _marks(painter, marks[on.piece.id], sheet.min(axis=0), sheet.max(axis=0))
        painter.restore()
    painter.restore()
    painter.setPen(thin_pen())
    for x in (origin[0], origin[0] + room[0]):
        for y in (origin[1], origin[1] + room[1]):
            painter.drawLine(QLineF(x - 4, y, x + 4, y))
            painter.drawLine(QLineF(x, y - 4, x, y + 4))
    _joins(painter, page, origin, room)
    painter.setPen(thin_pen())
    split = page.columns * page.rows > 1
    if len(page.pieces) == 1:
        head = caption(plan, page.pieces[0].piece)
    else:
        n = count(len(page.pieces))
        head = heading(plan, said("{job}: {pieces}", job=plan.job.name, pieces=several("{n} piece", "{n} pieces", n=n)))
    write_at(painter, BORDER_MM, BORDER_MM + 5, head, 4.2, True)
    says = tell("page {k} of {n}", k=k + 1, n=len(paper.pages))
    if split:
        part = tell("{k} of {n} of this piece", k=page.part, n=page.parts)
        says = f"{says} · {part}"
    way = tell("arrows: the best way of the leather")
    write_at(painter, BORDER_MM, BORDER_MM + 10.5, f"{says} · {way}", 3.4)
    painter.save()
    painter.translate(*origin)
    paper.words[k].play(painter)
    painter.restore()
    _key(painter, tuple(m for on in page.pieces for m in marks[on.piece.id]), room[0])
    if split:
        _page_map(painter, page, sheet_mm)
    painter.setPen(thin_pen())
    foot = sheet_mm[1] - BORDER_MM - 3
    _check(painter, BORDER_MM, foot, CHECK_MM, 10, tell("100 mm: measure this before you cut"))
    _check(painter, BORDER_MM, foot - 9, CHECK_IN * INCH_MM, 4, "4 in")
    write_at(painter, BORDER_MM + 116, foot - 9, tell("Print at 100 %, never fitted to the page."), 3.2)


def _marks(painter: "QPainter", marks: tuple[Mark, ...], low: Line, high: Line) -> None:
    """The marks of one piece in its own frame, of which what lies between two corners is seen: a page need not hold the
    holes of all others.
    """
    from PySide6.QtCore import QLineF, QPointF, Qt
    from PySide6.QtGui import QPolygonF

    def polygon(line: Line) -> QPolygonF:
        return QPolygonF([QPointF(x, y) for x, y in line])

    for mark in marks:
        look = PRINTS.get(mark.meaning)
        if look is None or not len(mark.line):
            continue
        reach = mark.size_mm / 2 + LINE_REACH_MM
        parts = mark.line[:, None] if mark.size_mm else mark.line.reshape(-1, 2, 2) if mark.pairs else mark.line[None]
        parts = parts[((parts.max(axis=1) > low - reach) & (parts.min(axis=1) < high + reach)).all(axis=1)]
        if not len(parts):
            continue
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(_pen(look))
        if mark.size_mm:
            for x, y in parts[:, 0].tolist():
                painter.drawEllipse(QPointF(x, y), mark.size_mm / 2, mark.size_mm / 2)
        elif mark.pairs:
            painter.drawLines([QLineF(*a, *b) for a, b in parts.tolist()])
        elif mark.closed:
            painter.drawPolygon(polygon(mark.line))
        else:
            painter.drawPolyline(polygon(mark.line))


def _joins(painter: "QPainter", page: Page, origin: tuple[float, float], room: tuple[float, float]) -> None:
    """Where the next page of a piece begins, with a letter that both pages have."""
    from PySide6.QtCore import QLineF
    from PySide6.QtGui import QColor, QPen

    overlap = QPen(QColor("#888888"), 0.15)
    overlap.setDashPattern([10, 10])

    def letter(column: int, row: int, down: bool) -> str:
        return chr(ord("A") + (2 * (row * page.columns + column) + down) % 26)

    for k, (here, most) in enumerate(((page.column, page.columns), (page.row, page.rows))):
        for step in (0, -1):  # to the next page, from the one before
            if not 0 <= here + step < most - 1:
                continue
            at = origin[k] + (room[k] - OVERLAP_MM if step == 0 else OVERLAP_MM)
            middle = origin[1 - k] + room[1 - k] / 2
            painter.setPen(overlap)
            line = (
                QLineF(at, origin[1], at, origin[1] + room[1])
                if k == 0
                else QLineF(origin[0], at, origin[0] + room[0], at)
            )
            painter.drawLine(line)
            painter.setPen(thin_pen())
            name = letter(page.column + (step if k == 0 else 0), page.row + (step if k == 1 else 0), k == 1)
            x, y = (at + 1.5, middle) if k == 0 else (middle, at - 1.5)
            write_at(painter, x, y, name, 5.0, True)


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
    from PySide6.QtCore import QLineF

    there = {m.meaning for m in marks}
    looks = [look for meaning, look in PRINTS.items() if meaning in there and look.key]
    words = sum(wide_of(look.key.write(Units()), KEY_TYPE_MM) for look in looks)
    long = min(KEY_MM, (room_mm - 12.0 - words) / max(len(looks), 1) - KEY_GAP_MM)
    x, y = BORDER_MM + 6.0, BORDER_MM + 15.0
    for look in looks:
        says = look.key.write(Units())
        painter.setPen(_pen(look))
        painter.drawLine(QLineF(x, y - 1, x + long, y - 1))
        painter.setPen("black")
        write_at(painter, x + long + 1.5, y, says, KEY_TYPE_MM)
        x += long + KEY_GAP_MM + wide_of(says, KEY_TYPE_MM)


def _page_map(painter: "QPainter", page: Page, sheet_mm: tuple[float, float]) -> None:
    from PySide6.QtCore import QRectF, Qt
    from PySide6.QtGui import QColor

    cell = 4.0
    left, top = sheet_mm[0] - BORDER_MM - cell * page.columns, BORDER_MM
    for r in range(page.rows):
        for c in range(page.columns):
            here = (r, c) == (page.row, page.column)
            painter.setBrush(QColor("black") if here else Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(left + c * cell, top + r * cell * 1.3, cell, cell * 1.3))
    painter.setBrush(Qt.BrushStyle.NoBrush)


def _check(painter: "QPainter", x: float, y: float, long_mm: float, parts: int, says: str) -> None:
    from PySide6.QtCore import QLineF

    painter.drawLine(QLineF(x, y, x + long_mm, y))
    for i in range(parts + 1):
        at = x + long_mm * i / parts
        painter.drawLine(QLineF(at, y, at, y - (3 if i in (0, parts) else 1.5)))
    write_at(painter, x + long_mm + 2, y, says, 3.2)
