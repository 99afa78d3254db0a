"""Sew: one seam, one hole, large enough to read from two metres; one key forward, one back."""

from dataclasses import dataclass

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFont, QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from ..core.plan import Plan
from ..core.reckoning import count, long, said
from ..core.thread import SewnSeam
from ..core.work import Step
from ..core.work.prompts import Prompt, prompts, thread_says, time_left
from .ink import BOLD, DAY, SEMI, Ink, type_

HOLE_PX = 86.0
ROW_PX = 30  # from the gap of a butt seam to the holes of either edge
FORWARD = (
    Qt.Key.Key_Space,
    Qt.Key.Key_Right,
    Qt.Key.Key_Return,
    Qt.Key.Key_Enter,
    Qt.Key.Key_PageDown,
    Qt.Key.Key_Down,
)
BACK = (Qt.Key.Key_Backspace, Qt.Key.Key_Left, Qt.Key.Key_PageUp, Qt.Key.Key_Up)


@dataclass(frozen=True, eq=False)
class _Sewing:
    sewn: SewnSeam
    prompts: tuple[Prompt, ...]
    made: int
    first: Step | None


class SewPage(QWidget):
    """Shows the next pass, or what has to be done before it.

    `made` carries the seam and the number of passes made, `finished` the seam, `stepped` a step done here, `elsewhere` the
    station that has to be gone to first.
    """

    made = Signal(str, int)
    finished = Signal(str)
    stepped = Signal(str)
    elsewhere = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sew")
        self.setAccessibleName("Sewing")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.ink: Ink = DAY
        self.plan: Plan | None = None
        self.seam = ""
        self._now: _Sewing | None = None

    def show_plan(self, plan: Plan, ink: Ink) -> None:
        """Show where the sewing stands."""
        self.plan, self.ink = plan, ink
        names = [s.seam.name for s in plan.threading.seams] if plan.threading else []
        if self.seam not in names:
            self.seam = next((n for n in names if not plan.job.work.is_done(f"sew/{n}")), names[-1] if names else "")
        self._now = None
        if plan.threading and self.seam:
            sewn = plan.threading.seam(self.seam)
            told = prompts(sewn, plan.job.thread, plan.job.work.measured(self.seam))
            self._now = _Sewing(sewn, told, min(plan.job.work.passes(self.seam), len(told)), self._first(plan))
        self.setAccessibleDescription(" ".join(self.lines()))
        self.update()

    def _first(self, plan: Plan) -> Step | None:
        """What must still be done before this seam is sewn."""
        done = plan.job.work.is_done
        before = plan.work.before(f"sew/{self.seam}") if plan.work else ()
        return None if done(f"sew/{self.seam}") else next((s for s in before if not done(s.id)), None)

    def lines(self) -> tuple[str, ...]:
        """What is shown, as words."""
        now, plan = self._now, self.plan
        if now is None or plan is None:
            return ("Nothing to sew yet: this station waits for the readings.",)
        units = plan.job.units
        if now.first is not None:
            here = now.first.station == "sew"
            return (
                f"First, {'here' if here else f'at {now.first.station.capitalize()}'}",
                now.first.name,
                now.first.says.write(units),
                now.first.caution,
                "Space when it is done." if here else f"Space goes to {now.first.station.capitalize()}.",
            )
        if now.made >= len(now.prompts):
            return (f"The {self.seam} is sewn.", "Space goes on to the next seam, Backspace takes the last pass back.")
        prompt = now.prompts[now.made]
        total = len(now.sewn.seam.points)
        before = now.prompts[now.made - 1] if now.made else None
        left = before.thread_left_mm if before else now.sewn.cuts[0].total_mm
        return (
            said(f"Hole {prompt.hole + 1} of {{n}}", n=count(total)).write(units),
            f"{prompt.hand.capitalize()} needle, {prompt.way}",
            prompt.how,
            prompt.then,
            said("Thread left {t}", t=long(left)).write(units),
            thread_says(before or prompt).write(units),
            time_left(prompt, plan.job.work.pace_mm_per_min).write(units),
        )

    def forward(self) -> None:
        """One pass made; at the end, on to the next seam."""
        now = self._now
        if now is None:
            return
        if now.first is not None:
            (self.stepped if now.first.station == "sew" else self.elsewhere).emit(
                now.first.id if now.first.station == "sew" else now.first.station
            )
        elif now.made < len(now.prompts):
            self.made.emit(self.seam, now.made + 1)
            if now.made + 1 == len(now.prompts):
                self.finished.emit(self.seam)
        else:
            self.next_seam()

    def back(self) -> None:
        """One pass taken back."""
        if self._now and self._now.made:
            self.made.emit(self.seam, self._now.made - 1)

    def next_seam(self) -> None:
        """The next seam that is not sewn, or simply the next."""
        if self.plan is None or self.plan.threading is None:
            return
        names = [s.seam.name for s in self.plan.threading.seams]
        k = names.index(self.seam)
        self.seam = names[(k + 1) % len(names)]
        self.show_plan(self.plan, self.ink)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if key in FORWARD:
            self.forward()
        elif key in BACK:
            self.back()
        elif key == Qt.Key.Key_N:
            self.next_seam()
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink = self.ink
        painter.fillRect(self.rect(), ink.colour("ground"))
        wide, high = float(self.width()), float(self.height())
        now, lines = self._now, self.lines()
        if self.hasFocus():
            painter.setPen(QPen(ink.colour("woad"), 2))
            painter.drawRect(QRectF(1, 1, wide - 2, high - 2))
        if now is not None and now.first is not None:
            self._write(painter, lines[0], type_(36), "quiet", QRectF(56, 30, wide - 112, 60))
            self._write(painter, lines[1], type_(64, BOLD), "ink", QRectF(54, 90, wide - 100, 200))
            self._write(painter, lines[2], type_(28), "quiet", QRectF(56, 270, wide - 112, 130))
            self._write(painter, lines[3], type_(24, SEMI), "weld", QRectF(56, 410, wide - 112, 90))
            self._write(painter, lines[4], type_(26, SEMI), "ink", QRectF(56, high - 90, wide - 112, 60))
            return
        if now is None or self.plan is None or now.made >= len(now.prompts):
            self._write(
                painter, lines[0], type_(64, BOLD), "verdigris" if now else "quiet", QRectF(56, 60, wide - 112, 200)
            )
            if len(lines) > 1:
                self._write(painter, lines[1], type_(26), "quiet", QRectF(56, 260, wide - 112, 80))
            if now:
                self._band(painter, now, high * 0.52)
            return
        prompt = now.prompts[now.made]
        hole, big, how, then, left, wanted, time = lines
        self._write(painter, hole, type_(36), "quiet", QRectF(56, 18, wide * 0.5, 50))
        begins = now.sewn.seam.line.begins
        self._write(painter, f"{self.seam}, from {begins}" if begins else self.seam, type_(24), "quiet",
                    QRectF(wide * 0.5, 26, wide * 0.5 - 56, 40), Qt.AlignmentFlag.AlignRight)  # fmt: skip
        size = 76 if high > 560 else 60
        first, second = big.split(", ", 1)
        self._write(painter, f"{first},", type_(size, BOLD), "ink", QRectF(54, 62, wide - 80, size * 1.3))
        self._write(painter, second, type_(size, BOLD), "ink", QRectF(54, 62 + size * 1.02, wide - 80, size * 1.3))
        y = 62 + size * 2.3
        self._write(painter, how, type_(30), "quiet", QRectF(56, y, wide * 0.75, 44))
        band = max(y + 58, high * 0.46)
        self._band(painter, now, band)
        foot = band + 150
        self._write(painter, "then", type_(22), "quiet", QRectF(56, foot, 70, 36))
        self._write(painter, then, type_(26, SEMI), "ink", QRectF(118, foot - 3, wide - 170, 40))
        short = prompt.thread_left_mm < prompt.wanted_mm
        y = min(foot + 58, high - 74)
        self._write(painter, left, type_(30, BOLD), "ink", QRectF(56, y, wide * 0.35, 44))
        x = 56 + QFontMetrics(type_(30, BOLD)).horizontalAdvance(left) + 40
        self._write(
            painter, wanted, type_(24, SEMI), "madder" if short else "verdigris", QRectF(x, y + 5, wide * 0.5, 40)
        )
        self._write(painter, time, type_(24), "quiet", QRectF(wide * 0.6, y + 5, wide * 0.4 - 56, 40),
                    Qt.AlignmentFlag.AlignRight)  # fmt: skip
        self._write(painter, "Space: next    Backspace: back    N: next seam    Awl and needles away from the other hand.",
                    type_(15), "quiet", QRectF(56, high - 30, wide - 112, 24))  # fmt: skip

    def _write(
        self, painter: QPainter, text: str, font: QFont, colour: str, box: QRectF,
        align: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignLeft,
    ) -> None:  # fmt: skip
        painter.setFont(font)
        painter.setPen(self.ink.colour(colour))
        painter.drawText(box, int(align | Qt.AlignmentFlag.AlignTop) | int(Qt.TextFlag.TextWordWrap), text)

    def _band(self, painter: QPainter, now: _Sewing, top: float) -> None:
        """The leather with the holes about the next one, and the thread that lies on its front already."""
        ink, wide = self.ink, float(self.width())
        band = QRectF(0, top, wide, 132)
        painter.fillRect(band, ink.colour("grain"))
        middle = band.center().y()
        place: dict[int, int] = {}
        seam = now.sewn.seam
        for hole in now.sewn.seam.order:
            place.setdefault(hole, len(place))
        here = now.prompts[min(now.made, len(now.prompts) - 1)].hole
        shown = int(wide / HOLE_PX)
        first = max(0, min(place[here] - shown * 3 // 5, len(place) - shown))

        def x(hole: int) -> float:
            return 70 + (place[hole] - first) * HOLE_PX

        rows = (-ROW_PX, ROW_PX) if seam.line.shape == "butt" else (0,)
        if seam.line.shape == "butt":
            painter.setPen(QPen(ink.colour("ink"), 2))
            painter.drawLine(QLineF(0, middle, wide, middle))
        passed = 0
        pen = QPen(ink.colour("woad"), 9)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(pen)
        for move in now.sewn.moves:
            if passed >= now.made:
                break
            a, b = seam.hole_of(move.hole), seam.hole_of(move.to)
            if move.act == "run" and move.face == "front" and abs(place[a] - place[b]) <= 1:
                if seam.line.shape == "butt":
                    up, down = (middle + ROW_PX * seam.row_of(k) for k in (move.hole, move.to))
                    painter.drawLine(QLineF(x(a), up, x(b), down))
                else:
                    left, right = sorted((x(a), x(b)))
                    painter.drawLine(QLineF(left + 12, middle - 4, right - 6, middle + 5))
            passed += move.act == "pass"
        for hole in place:
            if not -20 < x(hole) < wide + 20:
                continue
            is_here = hole == here and now.made < len(now.prompts)
            pen = QPen(ink.colour("madder" if is_here else "ink"), 7 if is_here else 4)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            painter.setPen(pen)
            for row in rows:
                painter.drawLine(QLineF(x(hole) - 5, middle + row + 10, x(hole) + 5, middle + row - 10))
            painter.setFont(type_(15, SEMI))
            painter.setPen(ink.colour("ink"))
            painter.drawText(
                QRectF(x(hole) - 30, band.bottom() - 26, 60, 20), Qt.AlignmentFlag.AlignCenter, str(hole + 1)
            )
        if now.made < len(now.prompts):
            self._needle(painter, now.prompts[now.made], QPointF(x(here), middle), top)

    def _needle(self, painter: QPainter, prompt: Prompt, at: QPointF, top: float) -> None:
        """The needle about to pass: solid when it comes from the front, dashed behind the leather."""
        ink = self.ink
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(ink.colour("madder"), 3))
        painter.drawEllipse(at, 31, 31)
        front = prompt.way.startswith("front")
        tip, eye = QPointF(at.x() + 20, at.y() - 26), QPointF(at.x() + 130, top - 34)
        tail = QPointF(eye.x() + 190, top - 78)
        for a, b, colour, width in ((tip, eye, "ink", 5.0), (eye, tail, "woad", 4.0)):
            pen = QPen(ink.colour(colour), width)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            if not front:
                pen.setDashPattern([2.2, 2.2])
                pen.setCapStyle(Qt.PenCapStyle.FlatCap)
            painter.setPen(pen)
            painter.drawLine(a, b)
        painter.setFont(type_(17, SEMI))
        painter.setPen(ink.colour("quiet"))
        painter.drawText(QPointF(eye.x() + 16, eye.y() + 6), "over the leather" if front else "from behind")
