"""Marks in the bench's ink: each meaning has its own line, so that none is told by colour alone."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache, lru_cache

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QPainter, QPainterPath, QPen, QPolygonF, QTransform
from shiboken6 import Shiboken, VoidPtr

from ...core.curve import Line
from ...core.drawing import Mark
from ...core.meanings import LOOKS, Meaning, Pattern
from ...core.ring import closed
from ..look.ink import Ink

PATTERNS: dict[Pattern, Qt.BrushStyle] = {
    "solid": Qt.BrushStyle.SolidPattern,
    "dotted": Qt.BrushStyle.Dense7Pattern,
    "hatched": Qt.BrushStyle.BDiagPattern,
    "crossed": Qt.BrushStyle.CrossPattern,
    "crossed aslant": Qt.BrushStyle.DiagCrossPattern,
}
TRACED = 2048  # marks of so many drawings as are looked at in turn are kept ready
LEAST_MM = 0.01  # no box is so narrow that Qt takes it for nothing
PEN_PX = 16.0  # no pen, nor what a corner adds to it, reaches farther from its line


@dataclass(frozen=True, slots=True, eq=False)
class Paintable:
    """A mark with its line and inner rings as a path in mm, and what a wide pen draws of it as `strokes`, two points each; all
    of it lies within the `box`, but for its pens. Where a line lies over the `covered` edge of its fill, the fill need not be
    smooth there, and takes a third of the time.
    """

    mark: Mark
    path: QPainterPath
    strokes: QPolygonF
    covered: bool
    box: QRectF


def paintable(marks: Iterable[Mark], scale: float) -> list[Paintable]:
    """The marks made ready to be painted at `scale` px to the mm; one that was so before is the same again."""
    marks = list(marks)
    cut = {m.id for m in marks if m.meaning == "cut"}
    return [_trace(m, scale, m.id in cut) for m in marks]


@lru_cache(TRACED)
def _trace(mark: Mark, scale: float, cut: bool) -> Paintable:
    look, path, strokes = LOOKS.get(mark.meaning), QPainterPath(), QPolygonF()
    if look is None:
        pass  # it is not seen on a board
    elif mark.pairs:
        strokes = _polygon(mark.line)
    elif not mark.size_mm:
        for line, round_ in ((mark.line, mark.closed), *((ring, True) for ring in mark.rings)):
            path.addPolygon(_polygon(line))
            if round_:
                path.closeSubpath()
        if look.width > 1 and not look.dash and not _filled(mark):
            strokes = _polygon(
                _sides(closed(mark.line) if mark.closed else mark.line, mark.closed, look.width / 2 / scale)
            )
    patterned = look is not None and look.pattern != "solid"
    half = max(mark.size_mm / 2, LEAST_MM)
    box = (_polygon(mark.line) if mark.size_mm else path if path.elementCount() else strokes).boundingRect()
    return Paintable(
        mark, path, strokes, cut or patterned or bool(look and look.pen), box.adjusted(-half, -half, half, half)
    )


def _polygon(line: Line) -> QPolygonF:
    """A polygon from an array, written where its points lie: to make a point at a time takes longer than painting it."""
    polygon = QPolygonF()
    polygon.resize(len(line))
    if len(line):
        points = VoidPtr(Shiboken.getCppPointer(polygon.data())[0], line.size * 8, True)  # type: ignore[call-arg]
        np.frombuffer(points, np.float64).reshape(line.shape)[:] = line  # type: ignore[call-overload]
    return polygon


def _sides(line: Line, round_: bool, half_mm: float) -> Line:
    """Each side of a line as a stroke of its own, `(2 n, 2)`, run on as far as its corners need: Qt paints straight strokes
    several times as fast as a bent one of the same width.
    """
    if len(line) < 2:
        return np.empty((0, 2))
    at = line @ np.array([1, 1j])
    along = at[1:] - at[:-1]
    along /= np.maximum(np.abs(along), 1e-9)
    turn = np.append(along[1:], along[:1]) * along.conj()
    on = half_mm * np.minimum(np.abs(turn.imag) / np.maximum(1 + turn.real, 1e-9), 1)  # the tangent of half the turning
    if not round_:
        on[-1] = half_mm
    sides = np.column_stack([at[:-1] - along * np.append(on[-1:], on[:-1]), at[1:] + along * on])
    return sides.view(np.float64).reshape(-1, 2)


def _filled(mark: Mark) -> bool:
    return bool(LOOKS[mark.meaning].fill) and (mark.closed or bool(mark.size_mm))


def paint(
    painter: QPainter, marks: Iterable[Paintable], ink: Ink, to_px: QTransform, lit: frozenset[str] = frozenset(),
    fine: float = 1.0, asked: QRectF | None = None,
) -> None:  # fmt: skip
    """Paint marks given in mm where `to_px` puts them, all or those that reach where it is `asked` for, in px; the marks named
    in `lit` glow. In a small picture lines are `fine`.

    They are brought to px here: a painter that scales strokes and fills patterns half as fast.
    """
    near = None if asked is None else _near(asked, to_px)
    for ready in marks:
        mark = ready.mark
        if mark.meaning not in LOOKS or (near is not None and not near.intersects(ready.box)):
            continue
        filled, glowing = _filled(mark), mark.id in lit and bool(mark.id)
        pen, brush = _hand(ink, mark.meaning, filled, glowing, fine)
        if glowing and filled and not mark.size_mm:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(ink.colour("glow"))
            painter.drawPath(to_px.map(ready.path))
        painter.setPen(pen)
        painter.setBrush(brush)
        if filled and ready.covered and not mark.size_mm:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            painter.drawPath(to_px.map(ready.path))
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
            if pen.style() != Qt.PenStyle.NoPen:
                painter.strokePath(to_px.map(ready.path), pen)
        elif mark.size_mm:
            across = mark.size_mm / 2 * to_px.m11()
            if across < pen.widthF():  # nothing is seen within it: a dot
                across += pen.widthF() / 2
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(pen.color())
            for x, y in mark.line.tolist():
                painter.drawEllipse(to_px.map(QPointF(x, y)), across, across)
        elif ready.strokes.size():
            strokes = to_px.map(ready.strokes)
            painter.drawLines(strokes.data(), strokes.size() // 2)
        else:
            painter.drawPath(to_px.map(ready.path))


def _near(asked: QRectF, to_px: QTransform) -> QRectF:
    """Where what reaches into an area in px can lie, in mm."""
    inverse, _ = to_px.inverted()
    by = PEN_PX / to_px.m11()
    return inverse.mapRect(asked).adjusted(-by, -by, by, by)


def reach(ready: Paintable, to_px: QTransform) -> QRectF:
    """Where it is painted, in px, with its pens and its glow."""
    return to_px.mapRect(ready.box).adjusted(-PEN_PX, -PEN_PX, PEN_PX, PEN_PX)


@cache
def _hand(ink: Ink, meaning: Meaning, filled: bool, glowing: bool, fine: float) -> tuple[QPen, QBrush]:
    """Pen and brush of a mark."""
    look = LOOKS[meaning]
    brush = QBrush(ink.colour(look.fill, look.alpha), PATTERNS[look.pattern]) if filled else QBrush()
    if not look.pen:
        return QPen(Qt.PenStyle.NoPen), brush
    width = look.width * fine * (1.6 if glowing else 1)
    pen = QPen(ink.colour(look.pen, 255 if filled else look.alpha), width)
    pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    if look.dash:
        pen.setDashPattern([d / max(width, 0.5) for d in look.dash])
    return pen, brush
