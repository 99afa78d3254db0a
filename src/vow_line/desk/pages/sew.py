"""Sew: one seam, one hole, large enough to read from two metres; one key forward, one back."""

import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace

from PySide6.QtCore import QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QFont, QFontMetrics, QHideEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QApplication, QWidget

from ...core.curve import Line
from ...core.plan import Plan
from ...core.quantity import Units
from ...core.reckoning import long
from ...core.texts import said, tell
from ...core.thread import SewnSeam
from ...core.thread.stitches import STITCHES
from ...core.work import Step
from ...core.work.practice import practice
from ...core.work.prompts import Prompt, eye_says, prompts, runs_out, thread_says, time_left
from ..line import LINE
from ..look.ink import BOLD, DAY, SEMI, Ink, type_
from . import sew_picture

FRAME_MS, PASS_MS, REST_MS = 33, 1100, 700
PAUSE_S = 90.0  # a pause longer than this is not sewing
PACE_FROM = 6  # passes until a pace is worth saying
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
    units: Units
    pace: float
    outlines: Mapping[str, Line] = field(default_factory=dict)

    @property
    def outline(self) -> Line | None:
        """The outline of the piece in whose frame the seam is."""
        return self.outlines.get(self.sewn.seam.line.placed[0].piece)


class SewPage(QWidget):
    """Shows the next pass, or what has to be done before it; or a stitch practised on scrap.

    `made` carries the seam and the number of passes made, `finished` the seam, `stepped` a step done here, `elsewhere` the
    station that has to be gone to first, `measuring` a seam whose thread is to be measured, `left` that practice is over.
    """

    made = Signal(str, int)
    finished = Signal(str)
    stepped = Signal(str)
    elsewhere = Signal(str)
    measuring = Signal(str)
    left = Signal()

    def __init__(self, parent: QWidget | None = None, clock: Callable[[], float] = time.monotonic) -> None:
        super().__init__(parent)
        self.setObjectName("sew")
        self.setAccessibleName(tell("Sewing"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.ink: Ink = DAY
        self.plan: Plan | None = None
        self.seam = ""
        self.sounds = False
        self.practising = ""
        self._clock = clock
        self._now: _Sewing | None = None
        self._first: Step | None = None
        self._beats: list[tuple[float, float]] = []
        self._moving = QTimer(self)
        self._moving.setInterval(FRAME_MS)
        self._moving.timeout.connect(self._move)
        self._shown_ms = 0

    def show_plan(self, plan: Plan, ink: Ink) -> None:
        """Show where the sewing stands."""
        self.plan, self.ink, self.practising = plan, ink, ""
        ids = [s.seam.id for s in plan.threading.seams] if plan.threading else []
        if self.seam not in ids:
            self.seam = next((n for n in ids if not plan.job.work.is_done(f"sew/{n}")), ids[-1] if ids else "")
        before, self._now, self._first = self._now, None, self._undone(plan)
        if plan.threading and self.seam:
            sewn, work = plan.threading.seam(self.seam), plan.job.work
            in_hand = work.measured(self.seam)
            passes = prompts(sewn, plan.job.thread.of(self.seam), in_hand)
            self._now = _Sewing(
                sewn, passes, min(work.passes(self.seam), len(passes)), plan.job.units, work.pace_mm_per_min,
                {p.id: p.outline for p in plan.whole.pieces} if plan.whole else {},
            )  # fmt: skip
            self._beat(before)
        self._show()

    @property
    def title(self) -> str:
        """What is sewn, or practised."""
        if self.practising:
            return STITCHES[self.practising].title.write(Units())
        return self._now.sewn.seam.title.write(self._now.units) if self._now else ""

    def practise(self, stitch: str, ink: Ink) -> None:
        """Sew a stitch on a strip of scrap; nothing of it is kept."""
        self.practising, self.ink, self.seam = stitch, ink, tell("a strip of scrap")
        self._first = None
        sewn, passes = practice(stitch)
        self._now = _Sewing(sewn, passes, 0, Units(), 25.0)
        self._beats = []
        self._show()

    def _show(self) -> None:
        self._shown_ms = 0
        self.setAccessibleDescription(" ".join(self.lines()))
        sewing = self._now is not None and self._first is None and self._now.made < len(self._now.prompts)
        (self._moving.start if sewing else self._moving.stop)()
        self.update()

    def _undone(self, plan: Plan) -> Step | None:
        """What must still be done before this seam is sewn; when all are, what else is done at this station."""
        if plan.work is None:
            return None
        work, done = plan.work, plan.job.work.is_done
        left = [s for s in work.at("sew") if not done(s.id)]
        seam = next((s for s in left if s.id == f"sew/{self.seam}"), None)
        step = seam or next((s for s in left if not any(x.id.startswith("sew/") for x in left)), None)
        if step is None:
            return None
        return next((s for s in work.before(step.id) if not done(s.id)), None if step is seam else step)

    def _to_sew(self) -> bool:
        """Whether a seam is still to be sewn."""
        if self.plan is None or self.plan.work is None:
            return False
        done = self.plan.job.work.is_done
        return any(s.id.startswith("sew/") and not done(s.id) for s in self.plan.work.steps)

    def _beat(self, before: _Sewing | None) -> None:
        """Count the pace of passes made one after another; a pause begins it anew."""
        now = self._now
        if now is None or before is None or before.sewn.seam.id != now.sewn.seam.id or now.made != before.made + 1:
            self._beats = []
            return
        at = self._clock()
        if self._beats and at - self._beats[-1][0] > PAUSE_S:
            self._beats = []
        self._beats.append((at, now.prompts[now.made - 1].to_go_mm))

    def pace(self) -> float | None:
        """How fast it goes now, mm a minute, once there is something to tell it from."""
        if len(self._beats) < PACE_FROM:
            return None
        (t0, far), (t1, near) = self._beats[0], self._beats[-1]
        return (far - near) / (t1 - t0) * 60 if t1 > t0 and far > near else None

    def lines(self) -> tuple[str, ...]:
        """What is shown, as words."""
        now, first = self._now, self._first
        if first is not None and self.plan is not None:
            here = first.station == "sew"
            where = dict(LINE)[first.station]
            which = (said("First, here") if here else said("First, at {station}")) if self._to_sew() else (
                said("Next, here") if here else said("Next, at {station}"))  # fmt: skip
            return (
                which.filled(station=where).write(self.plan.job.units),
                first.name.write(self.plan.job.units),
                first.says.write(self.plan.job.units),
                first.caution.write(self.plan.job.units),
                tell("Space when it is done.") if here else tell("Space goes to {station}.", station=where),
            )
        if now is None:
            sewn = self.plan is not None and self.plan.threading is not None
            return (
                tell("Nothing is sewn on this piece.")
                if sewn
                else tell("Nothing to sew yet: this station waits for the readings."),
            )
        units = now.units
        if now.made >= len(now.prompts):
            after = tell("Space begins again, Escape ends.") if self.practising else tell(
                "Space goes on to the next seam, Backspace takes the last pass back.")  # fmt: skip
            return (tell("The {seam} is sewn.", seam=self.title), after)
        prompt = now.prompts[now.made]
        pace = self.pace()
        time = time_left(now.prompts, now.made, pace or now.pace).write(units)
        return (
            tell("Hole {k} of {n}", k=prompt.hole + 1, n=len(now.sewn.seam.points)),
            (said("Left needle,\n{way}") if prompt.hand == "left" else said("Right needle,\n{way}"))
            .filled(way=prompt.way)
            .write(units),
            prompt.how.write(units),
            prompt.then.write(units),
            said("Thread left {t}", t=long(prompt.left_before_mm)).write(units),
            thread_says(now.prompts, now.made).write(units),
            tell("{time} at your pace now", time=time) if pace else time,
            eye_says(now.sewn, prompt, now.outlines).write(units),
            *((tell("Remember: {what}", what=prompt.reminds),) if prompt.reminds else ()),
        )

    def forward(self) -> None:
        """One pass made; at the end, on to the next seam."""
        now, first = self._now, self._first
        if now is None and first is None:
            return
        if self.sounds:
            QApplication.beep()
        if first is not None:
            here = first.station == "sew"
            (self.stepped if here else self.elsewhere).emit(first.id if here else first.station)
        elif now is None:
            return
        elif self.practising:
            self._count(0 if now.made >= len(now.prompts) else now.made + 1)
        elif now.made < len(now.prompts):
            self.made.emit(self.seam, now.made + 1)
            if now.made + 1 == len(now.prompts):
                self.finished.emit(self.seam)
        else:
            self.next_seam()

    def back(self) -> None:
        """One pass taken back."""
        if self._now and self._now.made:
            if self.practising:
                self._count(self._now.made - 1)
            else:
                self.made.emit(self.seam, self._now.made - 1)

    def _count(self, made: int) -> None:
        before = self._now
        if before is not None:
            self._now = replace(before, made=made)
            self._beat(before)
            self._show()

    def next_seam(self) -> None:
        """The next seam that is not sewn, or simply the next."""
        if self.plan is None or self.plan.threading is None or self.practising:
            return
        ids = [s.seam.id for s in self.plan.threading.seams]
        if not ids:
            return
        self.seam = ids[(ids.index(self.seam) + 1) % len(ids)]
        self.show_plan(self.plan, self.ink)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.isAutoRepeat():
            return  # each press is a pass of the needle
        key = Qt.Key(event.key())
        if key in FORWARD:
            self.forward()
        elif key in BACK:
            self.back()
        elif key == Qt.Key.Key_N:
            self.next_seam()
        elif key == Qt.Key.Key_L and not self.practising and self._now is not None:
            self.measuring.emit(self.seam)
        elif key == Qt.Key.Key_Escape and self.practising:
            self.practising, self._now = "", None
            self.left.emit()
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self._moving.stop()

    def _move(self) -> None:
        """The thread a little farther; it rests where it arrives, and goes again."""
        self._shown_ms = (self._shown_ms + FRAME_MS) % (PASS_MS + REST_MS)
        box, k = self._section_box(), self._enlarged()
        self.update(QRectF(box.x() * k, box.y() * k, box.width() * k, box.height() * k).toAlignedRect())

    def _enlarged(self) -> float:
        """How many times larger than on a small window everything is."""
        return max(1.0, min(self.height() / 660, self.width() / 1280))

    def _top(self) -> float:
        high = self.height() / self._enlarged()
        return max(62 + (76 if high > 560 else 60) * 2.3 + 70, high * 0.47)

    def _section_box(self) -> QRectF:
        """Where the cut seam is shown, before it is enlarged."""
        wide = self.width() / self._enlarged()
        return QRectF(wide * 0.66, self._top() - 26, wide * 0.34 - 30, 184)

    # painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink = self.ink
        now = self._now
        sewing = now is not None and self._first is None and now.made < len(now.prompts)
        k = self._enlarged()
        painter.scale(k, k)
        asked = QRectF(event.rect())
        asked = QRectF(asked.x() / k, asked.y() / k, asked.width() / k, asked.height() / k)
        if sewing and now is not None and self._section_box().contains(asked.adjusted(1, 1, -1, -1)):
            self._paint_section(painter, now)
            return
        wide, high = self.width() / k, self.height() / k
        painter.fillRect(QRectF(0, 0, wide, high), ink.colour("ground"))
        lines = self.lines()
        if self.hasFocus():
            painter.setPen(QPen(ink.colour("woad"), 2))
            painter.drawRect(QRectF(1, 1, wide - 2, high - 2))
        if self._first is not None:
            self._write(painter, lines[0], type_(36), "quiet", QRectF(56, 30, wide - 112, 60))
            self._write(painter, lines[1], type_(64, BOLD), "ink", QRectF(54, 90, wide - 100, 200))
            self._write(painter, lines[2], type_(28), "quiet", QRectF(56, 270, wide - 112, 130))
            self._write(painter, lines[3], type_(24, SEMI), "weld", QRectF(56, 410, wide - 112, 90))
            self._write(painter, lines[4], type_(26, SEMI), "ink", QRectF(56, high - 90, wide - 112, 60))
            return
        if now is None or not sewing:
            self._write(
                painter, lines[0], type_(64, BOLD), "verdigris" if now else "quiet", QRectF(56, 60, wide - 112, 200)
            )
            if len(lines) > 1:
                self._write(painter, lines[1], type_(26), "quiet", QRectF(56, 260, wide - 112, 80))
            if now:
                box = QRectF(0, high * 0.52, wide, 132)
                sew_picture.band(painter, ink, box, now.sewn, now.prompts, now.made)
            return
        self._paint_sewing(painter, now, lines, wide, high)

    def _paint_sewing(self, painter: QPainter, now: _Sewing, lines: tuple[str, ...], wide: float, high: float) -> None:
        hole, big, how, then, left, wanted, pace, eye, *reminds = lines
        self._write(painter, hole, type_(36), "quiet", QRectF(56, 18, wide * 0.5, 50))
        begins = now.sewn.seam.line.sewing.begins
        which = tell("practising: {title}", title=self.title) if self.practising else self.title
        self._write(painter, tell("{seam}, from {begins}", seam=which, begins=begins) if begins else which, type_(24), "quiet",
                    QRectF(wide * 0.5, 26, wide * 0.5 - 56, 40), Qt.AlignmentFlag.AlignRight)  # fmt: skip
        size = 76 if high > 560 else 60
        first, _, second = big.partition("\n")
        self._write(painter, first, type_(size, BOLD), "ink", QRectF(54, 62, wide - 80, size * 1.3))
        self._write(painter, second, type_(size, BOLD), "ink", QRectF(54, 62 + size * 1.02, wide - 80, size * 1.3))
        y = 62 + size * 2.3
        self._write(painter, how, type_(30), "quiet", QRectF(56, y, wide * 0.75, 44))
        top = self._top()
        box = self._section_box()
        if now.outline is not None:
            room = QRectF(box.left(), 70, box.width(), box.top() - 70 - 76)
            sew_picture.where(painter, self.ink, room, now.outline, now.sewn, now.prompts, now.made)
        self._write(painter, eye, type_(20), "quiet", QRectF(box.left(), box.top() - 62, box.width(), 60))
        sew_picture.band(painter, self.ink, QRectF(0, top, wide * 0.64, 132), now.sewn, now.prompts, now.made)
        self._paint_section(painter, now)
        foot = top + 156
        self._write(painter, tell("then"), type_(22), "quiet", QRectF(56, foot, 70, 36))
        self._write(painter, then, type_(26, SEMI), "ink", QRectF(118, foot - 3, wide * 0.55, 40))
        if reminds:
            self._write(painter, reminds[0], type_(22, SEMI), "weld", QRectF(wide * 0.5, foot + 1, wide * 0.5 - 30, 36),
                        Qt.AlignmentFlag.AlignRight)  # fmt: skip
        short = runs_out(now.prompts, now.made) is not None
        y = min(foot + 58, high - 74)
        self._write(painter, left, type_(30, BOLD), "ink", QRectF(56, y, wide * 0.35, 44))
        x = 56 + QFontMetrics(type_(30, BOLD)).horizontalAdvance(left) + 40
        self._write(
            painter, wanted, type_(24, SEMI), "madder" if short else "verdigris", QRectF(x, y + 5, wide * 0.5, 40)
        )
        self._write(painter, pace, type_(24), "quiet", QRectF(wide * 0.6, y + 5, wide * 0.4 - 56, 40),
                    Qt.AlignmentFlag.AlignRight)  # fmt: skip
        keys = tell(
            "Space: next    Backspace: back    Escape: leave off    Awl and needles away from the other hand."
        ) if self.practising else tell(
            "Space: next    Backspace: back    N: next seam    L: measure the thread left    "
            "Awl and needles away from the other hand."
        )  # fmt: skip
        self._write(painter, keys, type_(15), "quiet",
                    QRectF(56, high - 30, wide - 112, 24))  # fmt: skip

    def _paint_section(self, painter: QPainter, now: _Sewing) -> None:
        share = min(self._shown_ms / PASS_MS, 1.0)
        sew_picture.section(painter, self.ink, self._section_box(), now.sewn, now.prompts, now.made, share)

    def _write(
        self, painter: QPainter, text: str, font: QFont, colour: str, box: QRectF,
        align: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignLeft,
    ) -> None:  # fmt: skip
        painter.setFont(font)
        painter.setPen(self.ink.colour(colour))
        painter.drawText(box, int(align | Qt.AlignmentFlag.AlignTop) | int(Qt.TextFlag.TextWordWrap), text)
