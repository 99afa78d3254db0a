"""Patterns as PDF at 1:1, tiled on A4 or Letter: every page has a length to check, a map, and marks to join by."""

from collections.abc import Container, Mapping
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
import shapely
import shapely.ops
from shapely.geometry.base import BaseGeometry

from ..core.curve import Line
from ..core.draft import Piece
from ..core.drawing import Mark
from ..core.made import Made, Marking
from ..core.made import markings as markings_of
from ..core.meanings import PRINTS, Print
from ..core.pages import OVERLAP_MM, OnPage, Page, pages_of, room_for, turned
from ..core.plan import Plan
from ..core.quantity import INCH_MM, SHEETS_MM, PrintSheet, Units
from ..core.reckoning import count
from ..core.stitch.pattern import pattern
from ..core.texts import NOTHING, said, several, tell
from .print_made import paint_arrow, paint_letter, paint_made, shape_of
from .print_marks import CHECK_IN, CHECK_MM, caption, heading, label
from .recorded import Recorded
from .whole import write_whole

if TYPE_CHECKING:  # Qt is imported only when something is written, so that the other formats work without it
    from PySide6.QtCore import QPointF
    from PySide6.QtGui import QFont, QPagedPaintDevice, QPainter, QPen

NAME, SUFFIX = said("Patterns, PDF at 1:1"), ".pdf"
BORDER_MM = 10.0
NAME_MM, SAYS_MM = 3.4, 2.5  # words on a piece
HEAD_MM = 16.0  # caption above the pattern
FOOT_MM = 16.0  # check lengths below it
KEY_TYPE_MM = 3.0
LETTER_MM = 2.2, 1.5, 1.1  # half across a partner's letter, as large as there is room for
START_MM, UP_MM = 2.2, 9.0  # where a seam starts; what is up
SLANTS = tuple(np.pi / 8 * np.arange(4))
COMPASS = np.array([[0, 0], [1, 0], [0, 1], [-1, 0], [0, -1]])
MADE_MM = (75.0, 60.0, 48.0, 38.0, 30.0)  # how large the made thing is tried
HEAD_ROOM_MM = 30.0
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

    assert plan.draft is not None
    assert plan.stitching is not None
    markings: Mapping[str, Marking] = {}
    made = None
    if drawn is None:
        drawn = tuple((p, pattern(p, plan.stitching)) for p in plan.draft.pieces)
        markings, made = markings_of(plan.draft.assembly, plan.stitching.seams), plan.made
    load_fonts()
    room, marks = room_of(SHEETS_MM[sheet]), {piece.id: marks for piece, marks in drawn}
    pages = pages_of([piece for piece, _ in drawn], room)
    words = (
        partial(_labels, plan=plan, marks=marks, markings=markings, page=page, room=room, made=None if k else made)
        for k, page in enumerate(pages)
    )
    return Paper(plan, sheet, pages, marks, tuple(Recorded(w) for w in words))


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
    painter: "QPainter", on: "QPagedPaintDevice", paper: Paper, dots_per_inch: float, only: Container[int] | None = None
) -> None:
    """Paint the pages, or `only` some by their number from 0, on a device whose whole sheet is painted on at
    `dots_per_inch`.
    """
    printed = [k for k in range(len(paper.pages)) if only is None or k in only]
    for n, k in enumerate(printed):
        if n:
            on.newPage()
        painter.resetTransform()
        painter.scale(dots_per_inch / INCH_MM, dots_per_inch / INCH_MM)
        paint_page(painter, paper, k)


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
        _marks(painter, marks[on.piece.id])
        painter.restore()
    painter.restore()
    painter.setPen(_thin())
    for x in (origin[0], origin[0] + room[0]):
        for y in (origin[1], origin[1] + room[1]):
            painter.drawLine(QLineF(x - 4, y, x + 4, y))
            painter.drawLine(QLineF(x, y - 4, x, y + 4))
    _joins(painter, page, origin, room)
    painter.setPen(_thin())
    split = page.columns * page.rows > 1
    if len(page.pieces) == 1:
        head = caption(plan, page.pieces[0].piece)
    else:
        n = count(len(page.pieces))
        head = heading(plan, said("{job}: {pieces}", job=plan.job.name, pieces=several("{n} piece", "{n} pieces", n=n)))
    _write(painter, BORDER_MM, BORDER_MM + 5, head, 4.2, True)
    says = tell("page {k} of {n}", k=k + 1, n=len(paper.pages))
    if split:
        part = tell("{k} of {n} of this piece", k=page.part, n=page.parts)
        says = f"{says} · {part}"
    way = tell("arrows: the best way of the leather")
    _write(painter, BORDER_MM, BORDER_MM + 10.5, f"{says} · {way}", 3.4)
    painter.save()
    painter.translate(*origin)
    paper.words[k].play(painter)
    painter.restore()
    _key(painter, tuple(m for on in page.pieces for m in marks[on.piece.id]), room[0])
    if split:
        _page_map(painter, page, sheet_mm)
    painter.setPen(_thin())
    foot = sheet_mm[1] - BORDER_MM - 3
    _check(painter, BORDER_MM, foot, CHECK_MM, 10, tell("100 mm: measure this before you cut"))
    _check(painter, BORDER_MM, foot - 9, CHECK_IN * INCH_MM, 4, "4 in")
    _write(painter, BORDER_MM + 116, foot - 9, tell("Print at 100 %, never fitted to the page."), 3.2)


def _marks(painter: "QPainter", marks: tuple[Mark, ...]) -> None:
    """The marks of one piece in its own frame."""
    from PySide6.QtCore import QLineF, QPointF, Qt
    from PySide6.QtGui import QPolygonF

    def polygon(line: Line) -> QPolygonF:
        return QPolygonF([QPointF(x, y) for x, y in line])

    for mark in marks:
        look = PRINTS.get(mark.meaning)
        if look is None:
            continue
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(_pen(look))
        if mark.size_mm:
            for x, y in mark.line:
                painter.drawEllipse(QPointF(x, y), mark.size_mm / 2, mark.size_mm / 2)
        elif mark.pairs:
            painter.drawLines([QLineF(*a, *b) for a, b in mark.line.reshape(-1, 2, 2).tolist()])
        elif mark.closed:
            painter.drawPolygon(polygon(mark.line))
        else:
            painter.drawPolyline(polygon(mark.line))


def _type(bold: bool = False) -> "QFont":
    from PySide6.QtGui import QFont

    font = QFont("Source Sans 3")
    font.setPixelSize(100)  # of which as many mm are taken as the words are to be high
    font.setBold(bold)
    return font


def _write(painter: "QPainter", x: float, y: float, text: str, size_mm: float, bold: bool = False) -> None:
    """Words whose line begins at a place."""
    from PySide6.QtCore import QPointF

    painter.save()
    painter.translate(x, y)
    painter.scale(size_mm / 100, size_mm / 100)
    painter.setFont(_type(bold))
    painter.drawText(QPointF(0, 0), text)
    painter.restore()


def _wide(text: str, size_mm: float) -> float:
    from PySide6.QtGui import QFontMetricsF

    return QFontMetricsF(_type()).horizontalAdvance(text) * size_mm / 100


def _labels(
    painter: "QPainter", *, plan: Plan, marks: Mapping[str, tuple[Mark, ...]], markings: Mapping[str, Marking], page: Page,
    room: tuple[float, float], made: Made | None,
) -> None:  # fmt: skip
    """Names of the pieces and what they are cut from, where they cover no hole: on the piece where that has room, or beside it;
    on leather an arrow along which it should stretch least; partners' letters, where seams begin, what is up; the made thing
    where there is room for it. The painter's origin is the corner of the room.
    """
    sheet = shapely.box(0, 0, *room)
    areas = [shapely.Polygon(on.onto(on.piece.outline)).buffer(0).intersection(sheet) for on in page.pieces]
    free = sheet.difference(shapely.union_all([a.buffer(1.5) for a in areas]))
    for on, area in zip(page.pieces, areas, strict=True):
        if area.is_empty:
            continue
        lines = [m.line for m in marks[on.piece.id] if m.size_mm or m.pairs or m.meaning == "fold"]
        holes = on.onto(np.concatenate([_close(line) for line in lines])) if lines else np.empty((0, 2))
        near = (float(area.centroid.x), float(area.centroid.y))
        way = float(on.turn_rad) % np.pi
        if on.piece.turns == "along" and on.piece.stock.sort == "leather":
            for long in (30.0, 15.0):
                put = room_for(area.buffer(-1.0), (5.0, long), [on.turn_rad], holes, near)
                if put is not None:
                    ends = np.array(put[:2]) + turned(np.array([[0.0, -0.5], [0.0, 0.5]]) * long, on.turn_rad)
                    _best_way(painter, ends[0], ends[1])
                    holes = np.concatenate([holes, np.linspace(ends[0], ends[1], 12)])
                    break
        marking = markings.get(on.piece.id, Marking())
        holes = _together(painter, on, area, marking, holes)
        name, *rest = label(plan, on.piece, marking.outside)
        blocks = [[name, " · ".join(rest)], [name, *rest], [name]]
        turns = [0.0, -np.pi / 2, way if way < np.pi / 2 else way - np.pi]
        for block in blocks:
            size = (max(_wide(t, NAME_MM if k == 0 else SAYS_MM) for k, t in enumerate(block)) + 1.5,
                    NAME_MM * 1.3 + SAYS_MM * 1.3 * (len(block) - 1))  # fmt: skip
            put = room_for(area.buffer(-0.5), size, turns, holes, near)
            if put is not None:
                _block(painter, block, put, size)
                break
            beside = room_for(free, size, [0.0, -np.pi / 2], np.empty((0, 2)), near)
            if beside is not None and area.distance(shapely.Point(beside[:2])) < max(size):
                _block(painter, block, beside, size)
                to = shapely.get_coordinates(shapely.ops.nearest_points(area, shapely.Point(beside[:2]))[0])[0]
                painter.setPen(_thin())
                painter.drawLine(*_ends(beside, size, to))
                free = free.difference(shapely.Point(beside[:2]).buffer(max(size) / 2 + 1))
                break
    if made is not None:
        _made(painter, made, free, room)


def _together(painter: "QPainter", on: OnPage, area: BaseGeometry, marking: Marking, holes: Line) -> Line:
    """A piece's marks for coming together with others, where they cover no hole: the places that are taken now."""
    painter.setPen(_thin())
    inside = area.buffer(-0.4)
    for start, way in marking.starts:
        at = on.onto(np.array([start]))[0]
        along = turned(np.array([way]), on.turn_rad)[0]
        for side in (1, -1):
            beside = at + START_MM * side * np.array([-along[1], along[0]])
            ends = beside - along * START_MM, beside + along * 1.5 * START_MM
            if inside.contains(shapely.LineString(ends)):
                paint_arrow(painter, *ends, 1.2)
                holes = np.concatenate([holes, np.linspace(*ends, 6)])
                break
    for letter, point in marking.letters:
        near = on.onto(np.array([point]))[0]
        for radius in LETTER_MM:
            put = room_for(inside, (2 * radius, 2 * radius), SLANTS, holes, (float(near[0]), float(near[1])))
            if put is not None:
                paint_letter(painter, put[:2], radius)
                high = radius * 1.3 / len(letter) ** 0.5
                _write(painter, put[0] - _wide(letter, high) / 2, put[1] + high * 0.36, letter, high, True)
                holes = np.concatenate([holes, np.array(put[:2]) + radius * COMPASS])
                break
    if marking.up is not None:
        way = turned(np.array([marking.up]), on.turn_rad)[0]
        top = on.onto(on.piece.outline)
        high = top[int(np.argmax(top @ way))]
        for word in (said("up"), NOTHING):
            text = word.write(Units())
            wide = _wide(text, SAYS_MM)
            turn = float(np.arctan2(way[0], -way[1]))
            put = room_for(inside, (max(wide + 2.5, 2.5), UP_MM), [turn], holes, (float(high[0]), float(high[1])))
            if put is not None:
                middle = np.array(put[:2])
                square = np.array([-way[1], way[0]]) * ((wide + 1.0) / 2 if text else 0.0)
                paint_arrow(painter, middle - square - way * UP_MM / 2, middle - square + way * UP_MM / 2, 1.5)
                painter.save()
                painter.translate(*(middle + square * 0.5))
                painter.rotate(float(np.degrees(turn)))
                _write(painter, -wide / 2 + 0.6, SAYS_MM / 3, text, SAYS_MM)
                painter.restore()
                across = np.array([-way[1], way[0]]) * (wide / 2 + 1)
                corners = np.linspace(middle - way * UP_MM / 2, middle + way * UP_MM / 2, 6)
                holes = np.concatenate([holes, corners, corners + across, corners - across])
                break
    return holes


def _made(painter: "QPainter", made: Made, free: BaseGeometry, room: tuple[float, float]) -> None:
    """The made thing, as large as there is room for beside the pieces, or small at the head."""
    from PySide6.QtCore import QRectF

    wide, high = shape_of(made)
    head = QRectF(room[0] - HEAD_ROOM_MM, -HEAD_MM + 0.5, HEAD_ROOM_MM, HEAD_MM - 4.5)
    titles = [tell("as it will be, not to scale"), *(s.write(Units()) for s in made.says)]
    for most in MADE_MM:
        scale = most / max(wide, high)
        words = max(_wide(title, SAYS_MM) for title in titles)
        size = max(wide * scale, words) + 4, high * scale + 5 + SAYS_MM * 1.4 * len(titles)
        put = room_for(free, size, [0.0], np.empty((0, 2)), (room[0], 0.0))
        if put is not None:
            left, top = put[0] - size[0] / 2 + 2, put[1] - size[1] / 2 + 2
            high = paint_made(painter, made, QRectF(put[0] - wide * scale / 2, top, wide * scale, high * scale))
            painter.setPen("black")
            for n, title in enumerate(titles):
                _write(painter, left, top + high + 4 + SAYS_MM * 1.4 * n, title, SAYS_MM)
            return
    paint_made(painter, made, head)
    painter.setPen("black")
    _write(painter, head.left() - _wide(titles[0], SAYS_MM) - 2, head.center().y(), titles[0], SAYS_MM)


def _close(line: Line) -> Line:
    """The points of a line, and more where they lie far apart."""
    return shapely.get_coordinates(shapely.segmentize(shapely.LineString(line), 2.0)) if len(line) > 1 else line


def _thin() -> "QPen":
    from PySide6.QtCore import Qt
    from PySide6.QtGui import QColor, QPen

    pen = QPen(QColor("black"), 0.2)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    return pen


def _ends(put: tuple[float, float, float], size: tuple[float, float], to: Line) -> "tuple[QPointF, QPointF]":
    """From the border of a block of words towards a place."""
    from PySide6.QtCore import QPointF

    middle = np.array(put[:2])
    box = shapely.Polygon(middle + turned(np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * np.array(size) / 2, put[2]))
    start = shapely.get_coordinates(shapely.ops.nearest_points(box, shapely.Point(to))[0])[0]
    return QPointF(*start), QPointF(*to)


def _block(painter: "QPainter", lines: list[str], put: tuple[float, float, float], size: tuple[float, float]) -> None:
    """Words one below another about a place, turned."""
    painter.save()
    painter.translate(put[0], put[1])
    painter.rotate(float(np.degrees(put[2])))
    painter.setPen("black")
    y = -size[1] / 2
    for k, text in enumerate(lines):
        mm = NAME_MM if k == 0 else SAYS_MM
        y += mm * 1.2
        _write(painter, -_wide(text, mm) / 2, y, text, mm, k == 0)
    painter.restore()


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
            painter.setPen(_thin())
            name = letter(page.column + (step if k == 0 else 0), page.row + (step if k == 1 else 0), k == 1)
            x, y = (at + 1.5, middle) if k == 0 else (middle, at - 1.5)
            _write(painter, x, y, name, 5.0, True)


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
    words = sum(_wide(look.key.write(Units()), KEY_TYPE_MM) for look in looks)
    long = min(KEY_MM, (room_mm - 12.0 - words) / max(len(looks), 1) - KEY_GAP_MM)
    x, y = BORDER_MM + 6.0, BORDER_MM + 15.0
    for look in looks:
        says = look.key.write(Units())
        painter.setPen(_pen(look))
        painter.drawLine(QLineF(x, y - 1, x + long, y - 1))
        painter.setPen("black")
        _write(painter, x + long + 1.5, y, says, KEY_TYPE_MM)
        x += long + KEY_GAP_MM + _wide(says, KEY_TYPE_MM)


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


def _best_way(painter: "QPainter", a: Line, b: Line) -> None:
    """An arrow with two heads along which the leather should stretch least."""
    from PySide6.QtCore import QLineF

    painter.setPen(_thin())
    way = (b - a) / max(float(np.hypot(*(b - a))), 1e-9)
    across = np.array([-way[1], way[0]])
    painter.drawLine(QLineF(*a, *b))
    for end, back in ((a, way), (b, -way)):
        for side in (across, -across):
            painter.drawLine(QLineF(*end, *(end + 3.0 * back + 1.2 * side)))


def _check(painter: "QPainter", x: float, y: float, long_mm: float, parts: int, says: str) -> None:
    from PySide6.QtCore import QLineF

    painter.drawLine(QLineF(x, y, x + long_mm, y))
    for i in range(parts + 1):
        at = x + long_mm * i / parts
        painter.drawLine(QLineF(at, y, at, y - (3 if i in (0, parts) else 1.5)))
    _write(painter, x + long_mm + 2, y, says, 3.2)
