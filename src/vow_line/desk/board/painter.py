"""Marks in the bench's ink: each meaning has its own line, so that none is told by colour alone."""

import struct
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QByteArray, QDataStream, QLineF, QPointF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from ...core.curve import Line, thinned
from ...core.drawing import Mark, Meaning
from ..ink import Ink


@dataclass(frozen=True)
class Look:
    """Line and fill of one meaning: names of inks, width in px, dash pattern, fill pattern, its opacity."""

    pen: str = ""
    width: float = 1.2
    dash: tuple[float, ...] = ()
    fill: str = ""
    pattern: Qt.BrushStyle = Qt.BrushStyle.SolidPattern
    alpha: int = 255


LOOKS: dict[Meaning, Look] = {
    "grain": Look(fill="grain"),
    "flesh": Look(fill="flesh"),
    "glue": Look(fill="ink", pattern=Qt.BrushStyle.Dense7Pattern, alpha=50),
    "skive": Look(pen="quiet", width=0.8, fill="quiet", pattern=Qt.BrushStyle.BDiagPattern, alpha=150),
    "welt": Look(pen="ink", width=0.9, fill="flesh"),
    "fold": Look("weld", 2.2, (8, 4)),
    "cut": Look("ink", 2.0),
    "edge": Look("weld", 4.5, (9, 4), alpha=170),
    "stitch": Look("woad", 2.4),
    "thing": Look("steel", 1.3, fill="steel", alpha=70),
    "ghost": Look("steel", 1.1, fill="grain", alpha=110),
    "mark": Look("quiet", 1.0),
    "strike": Look("ink", 1.3),
    "dimension": Look("quiet", 1.0, (3, 3)),
    "alarm": Look("madder", 2.4),
    "band": Look("quiet", 1.0, fill="quiet", alpha=70),
    "front thread": Look("woad", 4.0),
    "back thread": Look("woad", 4.0),
    "hide": Look("ink", 1.6, fill="grain"),
    "done": Look("verdigris", 1.6, fill="verdigris", alpha=90),
    "crease": Look("ink", 1.0),
    "stamp": Look("quiet", 1.0, (2, 3), fill="quiet", pattern=Qt.BrushStyle.CrossPattern, alpha=60),
    "void": Look("madder", 1.2, fill="madder", pattern=Qt.BrushStyle.DiagCrossPattern, alpha=120),
}
"""No look for `hole`: on a board its slit is drawn instead."""


MANY = 60  # a line of so many points is worth thinning before it is painted


def path_of(mark: Mark, within_mm: float = 0.02) -> QPainterPath:
    """The mark's line and its inner rings as a path in mm, true to `within_mm`; empty for circles and strokes."""
    path = QPainterPath()
    if mark.pairs or mark.size_mm:
        return path
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for line, closed in ((mark.line, mark.closed), *((r, True) for r in mark.rings)):
        path.addPolygon(_polygon(thinned(line, within_mm) if len(line) > MANY else line))
        if closed:
            path.closeSubpath()
    return path


def _polygon(line: Line) -> QPolygonF:
    """A polygon from an array, by way of Qt's stream format: a point at a time would take longer than painting it."""
    polygon = QPolygonF()
    QDataStream(QByteArray(struct.pack(">I", len(line)) + line.astype(">f8").tobytes())) >> polygon
    return polygon


def paint(
    painter: QPainter, marks: Iterable[tuple[Mark, QPainterPath]], ink: Ink, to_px: QTransform,
    lit: frozenset[str] = frozenset(),
) -> None:  # fmt: skip
    """Paint marks given in mm where `to_px` puts them; the marks named in `lit` glow.

    They are brought to px here: a painter that scales strokes and fills patterns half as fast.
    """
    scale, shift = to_px.m11(), np.array([to_px.dx(), to_px.dy()])
    for mark, path in marks:
        look = LOOKS.get(mark.meaning)
        if look is None:
            continue
        glowing = mark.id in lit and bool(mark.id)
        pen = QPen(Qt.PenStyle.NoPen)
        if look.pen:
            fill = look.fill and (mark.closed or mark.size_mm)
            colour = ink.colour(look.pen, 255 if fill else look.alpha)
            pen = _pen(colour, look.width * (1.6 if glowing else 1), look.dash)
        if mark.pairs:
            pen.setCapStyle(Qt.PenCapStyle.FlatCap)
            painter.setPen(pen)
            ends = (mark.line * scale + shift).reshape(-1, 4)
            painter.drawLines([QLineF(*e) for e in ends.tolist()])
            continue
        outline = to_px.map(path)
        if glowing and mark.closed and look.fill:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(ink.colour("glow"))
            painter.drawPath(outline)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if look.fill and (mark.closed or mark.size_mm):
            painter.setBrush(QBrush(ink.colour(look.fill, look.alpha), look.pattern))
        if mark.size_mm:
            across = mark.size_mm / 2 * scale
            for x, y in (mark.line * scale + shift).tolist():
                painter.drawEllipse(QPointF(x, y), across, across)
        else:
            painter.drawPath(outline)


def _pen(colour: QColor, width: float, dash: tuple[float, ...]) -> QPen:
    pen = QPen(colour, width)
    pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap if dash else Qt.PenCapStyle.RoundCap)
    if dash:
        pen.setDashPattern([d / max(width, 0.5) for d in dash])
    return pen
