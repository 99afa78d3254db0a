"""The line along the top: a thread over and under the band, ten stations as its stitches, the vow as a knot."""

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QAbstractButton, QHBoxLayout, QSizePolicy, QWidget

from ..core.finding import Level, Station
from ..core.quantity import Units
from ..core.texts import Said, said, tell
from .look.ink import BOLD, DAY, SEMI, Ink, type_

LINE: tuple[tuple[Station, Said], ...] = (
    ("measure", said("Measure")), ("draft", said("Draft")), ("stitch", said("Stitch")), ("thread", said("Thread")),
    ("layout", said("Lay out")), ("vow", said("the vow")), ("cut", said("Cut")), ("form", said("Form")), ("sew", said("Sew")),
    ("edge", said("Edge")), ("record", said("Record")),
)  # fmt: skip
FLAGS: dict[Level, Said] = {"hold": said("hold"), "look": said("look"), "note": said("note")}
THREAD_Y = 15.0


@dataclass(frozen=True)
class Stand:
    """How one station stands: sewn when done, here when looked at, flagged by a hold or a look."""

    sewn: bool = False
    next_sewn: bool = False
    here: bool = False
    flag: Level | None = None


def draw_knot(painter: QPainter, centre: QPointF, colour: QColor, tied: bool) -> None:
    """The knot of the vow: a loop that crosses itself, drawn fast when it is tied."""
    x, y = centre.x(), centre.y()
    pen = QPen(colour, 3.2 if tied else 2.6)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    loop = QPainterPath(QPointF(x - 14, y + 6))
    loop.cubicTo(QPointF(x - 4, y - 16), QPointF(x + 16, y - 13), QPointF(x + 8, y - 1))
    loop.cubicTo(QPointF(x + 2, y + 9), QPointF(x - 14, y + 5), QPointF(x - 8, y - 5))
    loop.cubicTo(QPointF(x - 2, y - 12), QPointF(x + 6, y - 4), QPointF(x + 14, y + 7))
    painter.drawPath(loop)


class StationButton(QAbstractButton):
    """One station on the line."""

    def __init__(self, station: Station, name: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.station = station
        self.setText(name)
        self.setObjectName(f"station-{station}")
        self.setAccessibleName(name)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.stand = Stand()
        self.ink: Ink = DAY

    def sizeHint(self) -> QSize:
        return QSize(100, 54)

    def show_stand(self, stand: Stand, ink: Ink) -> None:
        """Stand as given."""
        if (stand, ink) == (self.stand, self.ink) and self.accessibleDescription():
            return
        self.stand, self.ink = stand, ink
        flag = FLAGS[stand.flag].write(Units()) if stand.flag else ""
        says = [self.text(), tell("done") if stand.sewn else tell("ahead"), tell("here") if stand.here else "", flag]
        self.setAccessibleDescription(", ".join(s for s in says[1:] if s))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink, stand, wide = self.ink, self.stand, float(self.width())
        middle = wide / 2
        if self.station == "vow":
            self._between(painter, 0, middle - 18)
            self._between(painter, middle + 18, wide)
            draw_knot(
                painter, QPointF(middle, THREAD_Y), ink.colour("verdigris" if stand.sewn else "madder"), stand.sewn
            )
        else:
            left, right = middle - 30, middle + 30
            self._between(painter, 0, left)
            self._between(painter, right, wide)
            pen = QPen(ink.colour("woad"), 5.0 if stand.here else 3.6)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            if stand.sewn or stand.here:
                if not stand.sewn:
                    pen.setColor(ink.colour("quiet"))
                painter.setPen(pen)
                painter.drawLine(QPointF(left, THREAD_Y), QPointF(right, THREAD_Y))
            for x in (left, right):
                painter.setPen(QPen(ink.colour("quiet"), 1.4))
                painter.setBrush(ink.colour("board"))
                if not stand.sewn:
                    painter.drawEllipse(QPointF(x, THREAD_Y), 2.6, 2.6)
        self._words(painter, middle)
        if self.hasFocus():
            painter.setPen(QPen(ink.colour("woad"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(3, 1, wide - 6, self.height() - 3), 4, 4)

    def _words(self, painter: QPainter, middle: float) -> None:
        ink, stand = self.ink, self.stand
        strong = stand.here or self.station == "vow"
        font = type_(16 if stand.here else 15, BOLD if stand.here else SEMI if strong else SEMI.Normal)
        colour = "ink" if stand.here or stand.sewn else "quiet"
        if self.station == "vow":
            colour = "verdigris" if stand.sewn else "madder"
        painter.setFont(font)
        painter.setPen(ink.colour(colour))
        box = QRectF(0, 26, self.width(), 24)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.text())
        if stand.flag:
            half = painter.fontMetrics().horizontalAdvance(self.text()) / 2
            x, y = middle + half + 8, 31.0
            flag = ink.colour("madder" if stand.flag == "hold" else "weld")
            painter.setPen(QPen(flag, 1.8))
            painter.drawLine(QPointF(x, y), QPointF(x, y + 15))
            painter.setBrush(flag if stand.flag == "hold" else Qt.BrushStyle.NoBrush)
            painter.drawPolygon(QPolygonF([QPointF(x, y), QPointF(x + 11, y + 4), QPointF(x, y + 8)]))

    def _between(self, painter: QPainter, a: float, b: float) -> None:
        """The thread between stitches: under the band, or only pricked ahead."""
        ink = self.ink
        sewn = self.stand.sewn and (b < self.width() / 2 or self.stand.next_sewn)
        pen = QPen(ink.colour("woad") if sewn else ink.colour("rules"), 2.4)
        pen.setDashPattern([2.4, 1.6] if sewn else [0.6, 3.0])
        pen.setCapStyle(Qt.PenCapStyle.FlatCap if sewn else Qt.PenCapStyle.RoundCap)
        painter.setPen(pen)
        painter.drawLine(QPointF(a, THREAD_Y), QPointF(b, THREAD_Y))


class LineBar(QWidget):
    """The whole line; `went` names the station chosen."""

    went = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("line")
        self.setAccessibleName(tell("The line of stations"))
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 0, 14, 0)
        row.setSpacing(0)
        self.stitches: dict[Station, StationButton] = {}
        for station, name in LINE:
            stitch = StationButton(station, name.write(Units()), self)
            stitch.clicked.connect(lambda _=False, s=station: self.went.emit(s))
            row.addWidget(stitch)
            self.stitches[station] = stitch

    def show_line(self, here: Station | None, sewn: set[Station], flags: dict[Station, Level], ink: Ink) -> None:
        """Show where the job stands."""
        names = [s for s, _ in LINE]
        for i, (station, stitch) in enumerate(self.stitches.items()):
            following = names[i + 1] if i + 1 < len(names) else None
            stitch.show_stand(Stand(station in sewn, following in sewn, station == here, flags.get(station)), ink)
