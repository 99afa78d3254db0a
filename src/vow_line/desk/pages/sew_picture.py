"""The sewing as it is seen: the holes about the next one from the front, and the seam cut along them with the thread moving."""

import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from ...core.curve import Line
from ...core.texts import tell
from ...core.thread import SewnSeam
from ...core.thread.section import Lying, lying, places
from ...core.work.prompts import Prompt
from ..look.ink import SEMI, Ink, type_

HOLE_PX = 86.0
ROW_PX = 30  # from the gap of a butt seam to the holes of either edge
SECTION_HOLES = 3.4  # pitches that the section shows


def _pen(colour: QColor, width: float, dashed: bool = False) -> QPen:
    pen = QPen(colour, width)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap if dashed else Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    if dashed:
        pen.setDashPattern([2.2, 2.2])
    return pen


def band(painter: QPainter, ink: Ink, box: QRectF, sewn: SewnSeam, passes: tuple[Prompt, ...], made: int) -> None:
    """The leather with the holes about the next one, and the thread that lies on its front already."""
    painter.save()
    painter.setClipRect(box.adjusted(0, -120, 0, 0))
    painter.fillRect(box, ink.colour("grain"))
    seam, middle = sewn.seam, box.center().y()
    place: dict[int, int] = {}
    for hole in seam.order:
        place.setdefault(hole, len(place))
    here = passes[min(made, len(passes) - 1)].hole
    shown = int(box.width() / HOLE_PX)
    first = max(0, min(place[here] - shown * 3 // 5, len(place) - shown))

    def x(hole: int) -> float:
        return box.left() + 70 + (place[hole] - first) * HOLE_PX

    butt = seam.line.shape == "butt"
    if butt:
        painter.setPen(QPen(ink.colour("ink"), 2))
        painter.drawLine(QLineF(box.left(), middle, box.right(), middle))
    painter.setPen(_pen(ink.colour("woad"), 9))
    upto = passes[made - 1].move + 1 if made else 0
    for move in sewn.moves[:upto]:
        a, b = seam.hole_of(move.hole), seam.hole_of(move.to)
        if move.act == "edge":
            painter.drawLine(QLineF(x(b) - (x(b) - x(a)) * 0.4, box.top(), x(b), middle))
        elif move.act == "run" and move.face == "front" and (butt or abs(place[a] - place[b]) <= 3):
            if butt:
                up, down = (middle + ROW_PX * seam.row_of(k) for k in (move.hole, move.to))
                painter.drawLine(QLineF(x(a), up, x(b), down))
            else:
                left, right = sorted((x(a), x(b)))
                painter.drawLine(QLineF(left + 12, middle - 4, right - 6, middle + 5))
    rows = (-ROW_PX, ROW_PX) if butt else (0,)
    for hole in place:
        if not box.left() - 20 < x(hole) < box.right() + 20:
            continue
        is_here = hole == here and made < len(passes)
        painter.setPen(_pen(ink.colour("madder" if is_here else "ink"), 7 if is_here else 4))
        for row in rows:
            painter.drawLine(QLineF(x(hole) - 5, middle + row + 10, x(hole) + 5, middle + row - 10))
        painter.setFont(type_(15, SEMI))
        painter.setPen(ink.colour("ink"))
        painter.drawText(QRectF(x(hole) - 30, box.bottom() - 26, 60, 20), Qt.AlignmentFlag.AlignCenter, str(hole + 1))
    if made < len(passes):
        _needle(painter, ink, passes[made], QPointF(x(here), middle), box)
    painter.restore()


def where(
    painter: QPainter, ink: Ink, box: QRectF, outline: Line, sewn: SewnSeam, passes: tuple[Prompt, ...], made: int
) -> None:
    """The piece with its holes, those that are sewn filled and the next one ringed, laid along the box."""
    turned = np.array([[0.0, 1.0], [-1.0, 0.0]]) if np.ptp(outline[:, 1]) > np.ptp(outline[:, 0]) else np.eye(2)
    ring, holes = outline @ turned, sewn.seam.points @ turned
    low, size = ring.min(axis=0), np.maximum(np.ptp(ring, axis=0), 1.0)
    scale = min(box.width() / size[0], box.height() / size[1])
    shift = np.array([box.right(), box.center().y()]) - (low + size * [1.0, 0.5]) * scale
    painter.save()
    painter.setPen(QPen(ink.colour("quiet"), 1.2))
    painter.setBrush(ink.colour("grain"))
    painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y in (ring * scale + shift).tolist()]))
    done = {p.hole for p in passes[:made]}
    here = passes[min(made, len(passes) - 1)].hole
    for k, (x, y) in enumerate((holes * scale + shift).tolist()):
        painter.setPen(QPen(ink.colour("woad"), 1.2))
        painter.setBrush(ink.colour("woad") if k in done else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QPointF(x, y), 2.2, 2.2)
    x, y = (holes[here] * scale + shift).tolist()
    painter.setPen(QPen(ink.colour("madder"), 2.6))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(QPointF(x, y), 8, 8)
    painter.restore()


def _needle(painter: QPainter, ink: Ink, prompt: Prompt, at: QPointF, box: QRectF) -> None:
    """The needle about to pass: solid when it comes from the front, dashed behind the leather."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(ink.colour("madder"), 3))
    painter.drawEllipse(at, 31, 31)
    front = prompt.hand == "right"
    way = 1.0 if at.x() + 200 < box.right() else -1.0
    tip, eye = QPointF(at.x() + way * 20, at.y() - 26), QPointF(at.x() + way * 130, box.top() - 34)
    tail = QPointF(eye.x() + way * 60, box.top() - 58)
    for a, b, colour, width in ((tip, eye, "ink", 5.0), (eye, tail, "woad", 4.0)):
        painter.setPen(_pen(ink.colour(colour), width, dashed=not front))
        painter.drawLine(a, b)


def section(
    painter: QPainter, ink: Ink, box: QRectF, sewn: SewnSeam, passes: tuple[Prompt, ...], made: int, share: float
) -> None:
    """The seam cut along its holes, the front above; `share` of the next move of thread is drawn, and the needle at its end."""
    seam = sewn.seam
    at = places(sewn)
    prompt = passes[min(made, len(passes) - 1)]
    pitch = max(seam.pitch_mm, 1.0)
    here = at[prompt.hole]
    low, high = here - SECTION_HOLES / 2 * pitch, here + SECTION_HOLES / 2 * pitch
    stack = float(seam.stack_mm[prompt.hole])
    scale = min(box.width() / (high - low), (box.height() - 64) / max(stack + 4 * sewn.thread_mm, 1.0))
    low, high = here - box.width() / scale / 2, here + box.width() / scale / 2
    middle = box.center()

    def px(points: np.ndarray) -> QPolygonF:
        return QPolygonF(
            [QPointF(middle.x() + (x - here) * scale, middle.y() + (z - stack / 2) * scale) for x, z in points]
        )

    painter.save()
    painter.setClipRect(box)
    painter.fillRect(box, ink.colour("slip"))
    holes = [x for x in at.values() if low - pitch < x < high + pitch]
    for z0, z1, colour in ((0.0, stack, "grain"),):
        corner = px(np.array([[low - pitch, z0], [high + pitch, z1]]))
        painter.fillRect(QRectF(corner.at(0), corner.at(1)), ink.colour(colour))
    depth = 0.0
    shares = [float(ply[prompt.hole]) for ply in seam.plies_mm]
    painter.setPen(QPen(ink.colour("quiet"), 1, Qt.PenStyle.DotLine))
    for thick in shares[:0:-1]:
        depth += thick
        line = px(np.array([[low - pitch, depth], [high + pitch, depth]]))
        painter.drawLine(line.at(0), line.at(1))
    wide = 2.6 * sewn.thread_mm
    for x in holes:
        corner = px(np.array([[x - wide / 2, 0.0], [x + wide / 2, stack]]))
        painter.fillRect(QRectF(corner.at(0), corner.at(1)), ink.colour("slip"))
    begins = passes[made - 1].move + 1 if made else 0
    ends = prompt.move + 1 if made < len(passes) else len(sewn.moves)
    moving = np.concatenate([[0.0], np.cumsum([max(sum_, 1e-6) for sum_ in _long(sewn, begins, ends)])])
    now = share * moving[-1]
    k = int(np.clip(np.searchsorted(moving, now, side="right") - 1, 0, max(len(moving) - 2, 0)))
    part = (now - moving[k]) / (moving[k + 1] - moving[k]) if len(moving) > 1 else 0.0
    drawn = lying(sewn, begins + k, float(part), low - pitch, high + pitch) if made < len(passes) else lying(
        sewn, len(sewn.moves), 0.0, low - pitch, high + pitch)  # fmt: skip
    for one in drawn:
        _thread(painter, ink, one, px(one.line), sewn.thread_mm * scale)
    if drawn and made < len(passes):
        _point(painter, ink, px(drawn[-1].line))
    painter.setFont(type_(15, SEMI))
    painter.setPen(ink.colour("quiet"))
    painter.drawText(box.adjusted(10, 4, -10, -4), Qt.AlignmentFlag.AlignLeft, tell("front, right hand"))
    painter.drawText(
        box.adjusted(10, 4, -10, -4),
        int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom),
        tell("back, left hand"),
    )
    painter.setPen(QPen(ink.colour("rules"), 1))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5))
    painter.restore()


def _long(sewn: SewnSeam, begins: int, ends: int) -> list[float]:
    every = [mm for cut in sewn.cuts for mm in cut.move_mm.tolist()]
    return every[begins:ends]


def _thread(painter: QPainter, ink: Ink, one: Lying, line: QPolygonF, wide: float) -> None:
    """One thread solid, the other lighter with a line along it, so that they are not passes apart by colour alone."""
    wide = max(wide, 4.0)
    painter.setPen(_pen(ink.colour("woad"), wide, dashed=one.over_edge))
    painter.drawPolyline(line)
    if one.needle:
        painter.setPen(_pen(ink.colour("slip"), max(wide * 0.34, 1.6)))
        painter.drawPolyline(line)


def _point(painter: QPainter, ink: Ink, line: QPolygonF) -> None:
    """The needle at the end of what is drawn, pointing on."""
    a, b = line.at(line.size() - 2), line.at(line.size() - 1)
    way = QPointF(b.x() - a.x(), b.y() - a.y())
    long = max((way.x() ** 2 + way.y() ** 2) ** 0.5, 1e-6)
    tip = QPointF(b.x() + way.x() / long * 34, b.y() + way.y() / long * 34)
    painter.setPen(_pen(ink.colour("ink"), 5))
    painter.drawLine(b, tip)
