"""What a printed pattern shows besides its lines: the made thing, small, and the marks by which pieces come together."""

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from ..core.curve import Line
from ..core.drawing import Mark
from ..core.made import Made
from ..core.meanings import Meaning

if TYPE_CHECKING:
    from PySide6.QtCore import QRectF
    from PySide6.QtGui import QPainter

GAP_MM = 3.0
INKS: dict[Meaning, tuple[str, float, str]] = {
    "grain": ("", 0.0, "#ffffff"), "flesh": ("", 0.0, "#f2f2f2"), "cut": ("#000000", 0.2, ""),
    "thing": ("#777777", 0.1, "#d8d8d8"), "belt": ("", 0.0, "#bbbbbb"), "stitch": ("#000000", 0.22, ""),
    "dimension": ("#777777", 0.12, ""), "done": ("#000000", 0.15, "#999999"), "crease": ("#555555", 0.12, ""),
    "stamp": ("#555555", 0.12, ""),
}  # fmt: skip
"""Line, its width in mm, and fill of each meaning on paper: grey and black alone."""


def shape_of(made: Made) -> tuple[float, float]:
    """How wide and high both sides are together, mm, where they are as large as they will be: beside each other, or where they
    are wide one below the other.
    """
    (w, h), (v, g) = (f.box[1] for f in made.faces)
    if _beside(made):
        return float(w + v), float(max(h, g))
    return float(max(w, v)), float(h + g)


def _beside(made: Made) -> bool:
    wide, high = made.faces[0].box[1]
    return bool(wide <= high)


def paint_made(painter: "QPainter", made: Made, box: "QRectF") -> float:
    """Both sides in a box, at one scale, from its top: how high they are then. The painter's unit is 1 mm."""
    from PySide6.QtCore import QPointF, Qt
    from PySide6.QtGui import QColor, QPen, QPolygonF

    beside = _beside(made)
    wide, high = shape_of(made)
    room = (box.width() - GAP_MM * beside, box.height() - GAP_MM * (not beside))
    scale = min(room[0] / wide, room[1] / high)
    at = np.array([box.left(), box.top()])
    for face in made.faces:
        low, size = face.box

        def put(line: Line, low: Line = low, at: Line = at) -> QPolygonF:
            return QPolygonF([QPointF(x, y) for x, y in ((line - low) * scale + at).tolist()])

        for mark in face.marks:
            pen, width, fill = INKS.get(mark.meaning, ("#555555", 0.12, ""))
            painter.setPen(QPen(QColor(pen), width) if pen else Qt.PenStyle.NoPen)
            painter.setBrush(QColor(fill) if fill else Qt.BrushStyle.NoBrush)
            _paint(painter, mark, put, scale)
        step = size * scale + GAP_MM
        at = at + (np.array([step[0], 0.0]) if beside else np.array([0.0, step[1]]))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    return high * scale + GAP_MM * (not beside)


def _paint(painter: "QPainter", mark: Mark, put, scale: float) -> None:  # type: ignore[no-untyped-def]
    from PySide6.QtGui import QPainterPath

    line = put(mark.line)
    if mark.size_mm:
        for point in line:
            painter.drawEllipse(point, mark.size_mm / 2 * scale, mark.size_mm / 2 * scale)
    elif mark.pairs:
        painter.drawLines(line)
    elif mark.closed:
        path = QPainterPath()
        for ring in (line, *(put(r) for r in mark.rings)):
            path.addPolygon(ring)
            path.closeSubpath()
        painter.drawPath(path)
    else:
        painter.drawPolyline(line)


def paint_letter(painter: "QPainter", at: Sequence[float], radius_mm: float) -> None:
    """The ring about a partner's letter."""
    from PySide6.QtCore import QPointF

    painter.drawEllipse(QPointF(at[0], at[1]), radius_mm, radius_mm)


def paint_arrow(painter: "QPainter", a: Line, b: Line, head_mm: float) -> None:
    """An arrow from a to b."""
    from PySide6.QtCore import QLineF

    way = (b - a) / max(float(np.hypot(*(b - a))), 1e-9)
    across = np.array([-way[1], way[0]])
    painter.drawLine(QLineF(*a, *b))
    for side in (across, -across):
        painter.drawLine(QLineF(*b, *(b - head_mm * way + head_mm * 0.45 * side)))
