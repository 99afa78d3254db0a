"""The words and small marks of a printed page, each where it covers no hole."""

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np
import shapely
import shapely.ops
from shapely.geometry.base import BaseGeometry

from ..core.curve import Line, arc_length, walk
from ..core.drawing import Mark
from ..core.made import Made, Marking
from ..core.pages import OnPage, Page, Room, turned
from ..core.plan import Plan
from ..core.quantity import Units
from ..core.texts import NOTHING, said, tell
from .print_made import paint_arrow, paint_letter, paint_made, shape_of
from .print_marks import HEAD_MM, label
from .print_type import thin_pen, wide_of, write_at

if TYPE_CHECKING:
    from PySide6.QtCore import QPointF
    from PySide6.QtGui import QPainter

NAME_MM, SAYS_MM = 3.4, 2.5  # words on a piece
LETTER_MM = 2.2, 1.5, 1.1  # half across a partner's letter, as large as there is room for
START_MM, UP_MM = 2.2, 9.0  # where a seam starts; what is up
SLANTS = tuple(np.pi / 8 * np.arange(4))
COMPASS = np.array([[0, 0], [1, 0], [0, 1], [-1, 0], [0, -1]])
MADE_MM = (75.0, 60.0, 48.0, 38.0, 30.0)  # how large the made thing is tried
HEAD_ROOM_MM = 30.0
NEAR_MM = 1.0  # a letter stands on the page that its place is on, or so near


def words_on(
    painter: "QPainter", *, plan: Plan, marks: Mapping[str, tuple[Mark, ...]], markings: Mapping[str, Marking], page: Page,
    room: tuple[float, float], made: Made | None,
) -> None:  # fmt: skip
    """Names of the pieces and what they are cut from, where they cover no hole: on the piece where that has room, or beside it;
    on leather an arrow along which it should stretch least; partners' letters, where seams begin, what is up; the made thing
    where there is room for it. The painter's origin is the corner of the room.
    """
    sheet = shapely.box(0, 0, *room)
    areas = [shapely.Polygon(on.onto(on.piece.outline)).buffer(0).intersection(sheet) for on in page.pieces]
    free = Room(sheet.difference(shapely.union_all([a.buffer(1.5) for a in areas])))
    for on, area in zip(page.pieces, areas, strict=True):
        if area.is_empty:
            continue
        lines = [m.line for m in marks[on.piece.id] if m.size_mm or m.pairs or m.meaning == "fold"]
        holes = on.onto(np.concatenate([_close(line) for line in lines])) if lines else np.empty((0, 2))
        inside, near = Room(area.buffer(-0.5)), (float(area.centroid.x), float(area.centroid.y))
        way = float(on.turn_rad) % np.pi
        if on.piece.turns != "any" and on.piece.stock.sort == "leather":
            best_rad = on.turn_rad + (np.pi / 2 if on.piece.turns == "across" else 0.0)
            for long in (30.0, 15.0):
                put = inside.place((5.0, long), [best_rad], holes, near)
                if put is not None:
                    ends = np.array(put[:2]) + turned(np.array([[0.0, -0.5], [0.0, 0.5]]) * long, best_rad)
                    _best_way(painter, ends[0], ends[1])
                    holes = np.concatenate([holes, np.linspace(ends[0], ends[1], 12)])
                    break
        marking = markings.get(on.piece.id, Marking())
        holes = _together(painter, on, area, inside, marking, holes)
        name, *rest = label(plan, on.piece, marking.outside)
        blocks = [[name, " · ".join(rest)], [name, *rest], [name]]
        turns = [0.0, -np.pi / 2, way if way < np.pi / 2 else way - np.pi]
        for block in blocks:
            size = (max(wide_of(t, NAME_MM if k == 0 else SAYS_MM) for k, t in enumerate(block)) + 1.5,
                    NAME_MM * 1.3 + SAYS_MM * 1.3 * (len(block) - 1))  # fmt: skip
            put = inside.place(size, turns, holes, near)
            if put is not None:
                _block(painter, block, put, size)
                break
            beside = free.place(size, [0.0, -np.pi / 2], np.empty((0, 2)), near)
            if beside is not None and area.distance(shapely.Point(beside[:2])) < max(size):
                _block(painter, block, beside, size)
                to = shapely.get_coordinates(shapely.ops.nearest_points(area, shapely.Point(beside[:2]))[0])[0]
                painter.setPen(thin_pen())
                painter.drawLine(*_ends(beside, size, to))
                free = Room(free.area.difference(shapely.Point(beside[:2]).buffer(max(size) / 2 + 1)))
                break
    if made is not None:
        _made(painter, made, free, room)


def _together(
    painter: "QPainter", on: OnPage, area: BaseGeometry, inside: Room, marking: Marking, holes: Line
) -> Line:  # fmt: skip
    """A piece's marks for coming together with others, where they cover no hole: the places that are taken now."""
    painter.setPen(thin_pen())
    for start, way in marking.starts:
        at = on.onto(np.array([start]))[0]
        along = turned(np.array([way]), on.turn_rad)[0]
        for side in (1, -1):
            beside = at + START_MM * side * np.array([-along[1], along[0]])
            ends = beside - along * START_MM, beside + along * 1.5 * START_MM
            if inside.area.contains(shapely.LineString(ends)):
                paint_arrow(painter, *ends, 1.2)
                holes = np.concatenate([holes, np.linspace(*ends, 6)])
                break
    for letter, point in marking.letters:
        near = on.onto(np.array([point]))[0]
        if area.distance(shapely.Point(near)) > NEAR_MM:
            continue  # its place is on another page
        for radius in LETTER_MM:
            put = inside.place((2 * radius, 2 * radius), SLANTS, holes, (float(near[0]), float(near[1])))
            if put is not None:
                paint_letter(painter, put[:2], radius)
                high = radius * 1.3 / len(letter) ** 0.5
                write_at(painter, put[0] - wide_of(letter, high) / 2, put[1] + high * 0.36, letter, high, True)
                holes = np.concatenate([holes, np.array(put[:2]) + radius * COMPASS])
                break
    if marking.up is not None:
        way = turned(np.array([marking.up]), on.turn_rad)[0]
        top = on.onto(on.piece.outline)
        high = top[int(np.argmax(top @ way))]
        for word in (said("up"), NOTHING):
            text = word.write(Units())
            wide = wide_of(text, SAYS_MM)
            turn = float(np.arctan2(way[0], -way[1]))
            put = inside.place((max(wide + 2.5, 2.5), UP_MM), [turn], holes, (float(high[0]), float(high[1])))
            if put is not None:
                middle = np.array(put[:2])
                square = np.array([-way[1], way[0]]) * ((wide + 1.0) / 2 if text else 0.0)
                paint_arrow(painter, middle - square - way * UP_MM / 2, middle - square + way * UP_MM / 2, 1.5)
                painter.save()
                painter.translate(*(middle + square * 0.5))
                painter.rotate(float(np.degrees(turn)))
                write_at(painter, -wide / 2 + 0.6, SAYS_MM / 3, text, SAYS_MM)
                painter.restore()
                across = np.array([-way[1], way[0]]) * (wide / 2 + 1)
                corners = np.linspace(middle - way * UP_MM / 2, middle + way * UP_MM / 2, 6)
                holes = np.concatenate([holes, corners, corners + across, corners - across])
                break
    return holes


def _made(painter: "QPainter", made: Made, free: Room, room: tuple[float, float]) -> None:
    """The made thing, as large as there is room for beside the pieces, or small at the head."""
    from PySide6.QtCore import QRectF

    wide, high = shape_of(made)
    head = QRectF(room[0] - HEAD_ROOM_MM, -HEAD_MM + 0.5, HEAD_ROOM_MM, HEAD_MM - 4.5)
    titles = [tell("as it will be, not to scale"), *(s.write(Units()) for s in made.says)]
    for most in MADE_MM:
        scale = most / max(wide, high)
        words = max(wide_of(title, SAYS_MM) for title in titles)
        size = max(wide * scale, words) + 4, high * scale + 5 + SAYS_MM * 1.4 * len(titles)
        put = free.place(size, [0.0], np.empty((0, 2)), (room[0], 0.0))
        if put is not None:
            left, top = put[0] - size[0] / 2 + 2, put[1] - size[1] / 2 + 2
            high = paint_made(painter, made, QRectF(put[0] - wide * scale / 2, top, wide * scale, high * scale))
            painter.setPen("black")
            for n, title in enumerate(titles):
                write_at(painter, left, top + high + 4 + SAYS_MM * 1.4 * n, title, SAYS_MM)
            return
    paint_made(painter, made, head)
    painter.setPen("black")
    write_at(painter, head.left() - wide_of(titles[0], SAYS_MM) - 2, head.center().y(), titles[0], SAYS_MM)


def _close(line: Line) -> Line:
    """The points of a line, and more where they lie far apart."""
    return (
        np.concatenate([line, walk(line, np.arange(0.0, float(arc_length(line)[-1]), 2.0))]) if len(line) > 1 else line
    )


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
        write_at(painter, -wide_of(text, mm) / 2, y, text, mm, k == 0)
    painter.restore()


def _best_way(painter: "QPainter", a: Line, b: Line) -> None:
    """An arrow with two heads along which the leather should stretch least."""
    from PySide6.QtCore import QLineF

    painter.setPen(thin_pen())
    way = (b - a) / max(float(np.hypot(*(b - a))), 1e-9)
    across = np.array([-way[1], way[0]])
    painter.drawLine(QLineF(*a, *b))
    for end, back in ((a, way), (b, -way)):
        for side in (across, -across):
            painter.drawLine(QLineF(*end, *(end + 3.0 * back + 1.2 * side)))
