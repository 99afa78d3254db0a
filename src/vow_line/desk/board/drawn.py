"""A drawing at true scale on a board: its marks, labels and points, a ruler along its edge."""

from itertools import pairwise

import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRect, QRectF, QSizeF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPixmap, QPolygonF, QTransform
from PySide6.QtWidgets import QWidget

from ...core.curve import Line
from ...core.drawing import Callout, Handle
from ...core.job import Job
from ...core.quantity import INCH_MM, Units
from ...core.texts import tell
from ..look.ink import DAY, SEMI, Ink, type_
from .corner import Corner, corner_px
from .dimensions import BESIDE_PX, LYING, Point
from .painter import Paintable, paint, paintable, reach
from .scene import Inset, Scene
from .words import LARGE, Placed, label_type, laid, placed

SENTENCE_PX = 16
COLUMN_PX = 158  # left and right of the drawing, for callouts
RULER_PX = 30
MOST_IN_COLUMN = 8
FEW_SELDOM = 4
LOW_PX, FEW, INLINE_PX = 460, 2, 300.0  # on a lower board more values than so few stand in a line each, so wide
HELD = 0.02  # an edit that moves the drawing's bounds by less than this share does not move the drawing
ROOMY_PX = 840, 360  # on a board smaller than that nothing large is in the corner
MANY_HANDLES = 30  # so many are drawn small


class Tie:
    """The lines that tie a value to what it measures, ready to be painted; a leader ends in a dot."""

    def __init__(self, lines: list[list[Point]], arrows: list[tuple[Point, Point]], active: bool) -> None:
        self.ways, self.active = lines, active
        self.lines = [QLineF(*a, *b) for line in lines for a, b in pairwise(line)]
        self.arrows = [
            QPolygonF([QPointF(x, y), QPointF(x - 7 * dx + 2.6 * dy, y - 7 * dy + 2.6 * dx),
                       QPointF(x - 7 * dx - 2.6 * dy, y - 7 * dy - 2.6 * dx)])
            for (x, y), (dx, dy) in arrows
        ]  # fmt: skip
        self.dot = QPointF(*lines[0][-1]) if len(lines) == 1 and not arrows else None
        x, y = ([p[k] for line in lines for p in line] or [0.0] for k in (0, 1))
        by = 3 if arrows else 2  # not so far as the words: fields that are not touched are not painted again
        self.box = QRectF(min(x) - by, min(y) - 3, max(x) - min(x) + 2 * by, max(y) - min(y) + 6) if lines else QRectF()


class Painted:
    """What a drawing was painted from, by which it is known where it must be painted again."""

    def __init__(self, drawn: "Drawn") -> None:
        lit = drawn.lit
        self.to_px = drawn.transform()
        self.marks = {(ready, bool(ready.mark.id) and ready.mark.id in lit): None for ready in drawn.paintable}
        self.ties = {*drawn.ties}
        self._words = drawn.words  # as long as they are here, none of those that come has the place of one of them
        self.words = {(id(says), box.getRect(), k.meaning, k.strong): box for box, k, says in drawn.words}
        self.leaders, self.handles = drawn.drawn_leaders(), {h.at for h in drawn.scene.handles}

    def since(self, before: "Painted | None") -> QRectF | None:
        """Where it is not as it was `before`, in px: one rectangle, as a clip of several costs more than what lies between;
        None where it moved.
        """
        if before is None or before.to_px != self.to_px:
            return None
        stayed = [[k for k in one.marks if k in other.marks] for one, other in ((self, before), (before, self))]
        if stayed[0] != stayed[1]:  # they lie over each other otherwise
            return None
        changed = QRectF()
        for ready, _ in self.marks.keys() ^ before.marks.keys():
            changed |= reach(ready, self.to_px)
        for tie in self.ties ^ before.ties:
            changed |= tie.box
        for key in self.words.keys() ^ before.words.keys():
            changed |= (self.words.get(key) or before.words[key]).adjusted(-8, -4, 8, 4)
        for at in self.handles ^ before.handles:
            changed |= QRectF(self.to_px.map(QPointF(*at)), QSizeF()).adjusted(-6, -6, 6, 6)
        if self.leaders != before.leaders:
            for points, _ in (*self.leaders, *before.leaders):
                changed |= QPolygonF(points).boundingRect().adjusted(-5, -5, 5, 5)
        return changed


class Drawn(QWidget):
    """Paints a scene. What stands around the drawing, and where, is for whoever puts callouts on it to say."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("board")
        self.setAccessibleName(tell("The board"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # what lies behind need not be painted first
        self.ink: Ink = DAY
        self.units = Units()
        self.scene = Scene()
        self.lit: frozenset[str] = frozenset()
        self.paintable: list[Paintable] = []
        self.corner = Corner(self)
        self._names: list[tuple[QRectF, str, Qt.AlignmentFlag]] = []
        self._leaders: list[tuple[QPointF, QPointF, str, str]] = []
        self._sentence_px = 0.0
        self._prompt_px = 0
        self._said_words: list[tuple[QRectF, str]] = []
        self._grounds: list[QRectF] = []
        self.ties: list[Tie] = []
        self._beside_px = {"left": 0.0, "right": 0.0}
        self._zoom = 1.0
        self._pan = QPointF(0, 0)
        self._held_handle: Handle | None = None
        self._handle_at = QPointF()
        self._fitted = self._held = QRectF(0, 0, 100, 100)
        self._to_px = QTransform()
        self.words: list[Placed] = []
        self._painted: Painted | None = None
        self._settled_about: object = None
        self._still = QPixmap()
        self._still_is: object = None
        self.awaiting = False  # of another scene, what it lies in being laid out

    def _make_fields(self, job: Job) -> None:
        """Make what is edited in place for the scene's callouts."""

    def _place(self) -> None:
        """Settle where the drawing lies, and what stands around it."""
        self._to_px = self._made_transform()
        self.corner.put(self.width() - 15, self.height() - 9 - RULER_PX)

    def drawn_leaders(self) -> list[tuple[list[QPointF], bool]]:
        """The leaders that are seen, from the value to its place, and whether their field is under the hand."""
        return []

    def show_scene(self, scene: Scene, job: Job, ink: Ink, at_once: bool = True) -> None:
        """Show this scene of this job, but for what is in its corner; or, where nothing that stands about the drawing came or
        went, the drawing alone: the rest stays where it is till it is `settled`.
        """
        self.scene, self.ink, self.units = scene, ink, job.units
        if scene.marks:
            staying = [m.line for m in scene.marks if m.meaning != "hole" and m.id not in scene.passing]
            more = [scene.reach] if scene.reach is not None else []
            self._fitted = _box([*staying, *more, np.array([label.at for label in scene.labels]).reshape(-1, 2)])
            if not _nearly(self._fitted, self._held):
                self._held = self._fitted
        self._make_fields(job)
        about = self._about_it()
        if at_once or about != self._settled_about:
            self.settle()
        else:
            self._paint_anew()
        self._settled_about = about

    def _about_it(self) -> object:
        """What stands about the drawing, wherever that is."""
        scene = self.scene
        return (
            len(scene.labels), scene.measured, scene.waits, scene.caution, scene.inset is None, self.ruler_px, self.units,
            self.ink.name,
        )  # fmt: skip

    @property
    def inset(self) -> Inset | None:
        """What is in the corner: nothing that is large, where the board is small."""
        small = self.width() < ROOMY_PX[0] or self.height() < ROOMY_PX[1]
        return None if self.scene.inset is not None and self.scene.inset.labelled and small else self.scene.inset

    def show_corner(self) -> None:
        """Show what is in the corner of this scene, and say what is on all of it."""
        said_there = (*(c.name for c in self.scene.callouts), *(label.says for label in self.scene.labels))
        self.setAccessibleDescription(", ".join(dict.fromkeys(text.write(self.units) for text in said_there)))
        self.corner.show_inset(self.inset, self.ink, self.units)

    def settle(self) -> None:
        """Settle where everything lies, and have it painted."""
        self._place()
        self.words = self._worded()
        self._paint_anew()

    def _paint_anew(self) -> None:
        """Have the marks painted, and what stands about them where it stands."""
        self.paintable = paintable(self.scene.marks, self.scale)
        self._redraw()

    def light(self, marks: frozenset[str]) -> None:
        """Make these marks glow."""
        if marks != self.lit:
            self.lit = marks
            self.corner.light(marks)
            self._redraw()

    def _redraw(self) -> None:
        """Paint again what an edit can have changed: all of it when what stands around the drawing moved."""
        painted = Painted(self)
        changed = painted.since(self._painted) if self._still_is == self._standing() else None
        if changed is None:
            self.update()
        else:
            self.update(changed.toAlignedRect())
        self._painted = painted

    def fit(self) -> None:
        """Show the whole drawing."""
        self._zoom, self._pan = 1.0, QPointF(0, 0)
        self._held = self._fitted
        if not self.awaiting:
            self.settle()

    def _frame(self) -> QRectF:
        """Where the drawing goes, in px."""
        sides = {c.side for c in self._about()}
        left = float(COLUMN_PX * self._left_columns() if "left" in sides else 34)
        right = COLUMN_PX + 16.0 if "right" in sides else 34.0
        left = INLINE_PX if self._inline() else left
        top: float = (164 if "above" in sides else 30) + self._top() - 8
        bottom: float = (120 if "below" in sides else 34) + self.ruler_px + self._prompt_px
        if self.scene.measured:
            left, right = (max(self._beside_px[side], 34.0) for side in ("left", "right"))
            if self._held.width() > LYING * self._held.height():
                left = right = 34.0
                top, bottom = top + BESIDE_PX, bottom + BESIDE_PX
        beside, above = (right, bottom), (right, bottom)
        if self.inset:  # the drawing keeps clear of the corner on that side where it comes out larger
            wide, high = corner_px(self.height(), self.inset)
            beside, above = (max(right, wide + 44.0), bottom), (right, bottom + high)
        frames = [
            QRectF(left, top, max(self.width() - left - r, 50), max(self.height() - top - b, 50))
            for r, b in (beside, above)
        ]
        return max(frames, key=lambda f: min(f.width() / self._held.width(), f.height() / self._held.height()))

    @property
    def room_px(self) -> tuple[float, float]:
        """How large a drawing can be, between what stands about this one."""
        frame = self._frame()
        return round(frame.width()), round(frame.height())

    def _top(self) -> float:
        """Where caution and sentence end, in px."""
        return (30.0 if self.scene.caution else 8.0) + self._sentence_px

    def _inline(self) -> bool:
        """Whether there is too little height between the rows for the values left of the drawing but in a line each."""
        sides = [c.side for c in self._about()]
        return not self.scene.measured and self.height() < LOW_PX and "above" in sides and sides.count("left") > FEW

    def _about(self) -> list[Callout]:
        """The values that stand about the drawing: where many are seldom changed these wait behind a word."""
        often = [c for c in self.scene.callouts if not c.seldom]
        few = self.scene.measured or len(self.scene.callouts) - len(often) <= FEW_SELDOM
        return list(self.scene.callouts) if few else often

    @property
    def ruler_px(self) -> int:
        """How high the ruler is: none where every line is needed for values."""
        return RULER_PX if self.scene.ruler and not self.scene.waits and not self._inline() else 0

    def _left_columns(self) -> int:
        """Many values stand in two columns, those that are chosen nearer to the drawing."""
        if self.scene.measured:
            return 1
        return 2 if len([c for c in self._about() if c.side == "left"]) > MOST_IN_COLUMN else 1

    @property
    def scale(self) -> float:
        """Pixels per mm."""
        return self._to_px.m11()

    def transform(self) -> QTransform:
        """From mm to pixels."""
        return self._to_px

    def _made_transform(self) -> QTransform:
        frame, box = self._frame(), self._held
        scale = min(frame.width() / box.width(), frame.height() / box.height()) * self._zoom
        middle = self._held.center()
        made = QTransform()
        made.translate(frame.center().x() + self._pan.x(), frame.center().y() + self._pan.y())
        made.scale(scale, scale)
        made.translate(-middle.x(), -middle.y())
        return made

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink = self.ink
        card = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        if card.adjusted(4, 4, -4, -4).contains(QRectF(event.rect())):
            painter.fillRect(event.rect(), ink.colour("board"))
        else:
            painter.fillRect(event.rect(), ink.colour("ground"))
            painter.setPen(QPen(ink.colour("woad" if self.hasFocus() else "rules"), 2 if self.hasFocus() else 1))
            painter.setBrush(ink.colour("board"))
            painter.drawRoundedRect(card, 4, 4)
        if self.scene.waits:
            painter.setFont(type_(20))
            painter.setPen(ink.colour("quiet"))
            painter.drawText(card.adjusted(80, 0, -80, 0), int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap),
                             self.scene.waits.write(self.units))  # fmt: skip
            if self._said_words:
                painter.drawPixmap(0, 0, self._stood())
            return
        asked = QRectF(event.rect())
        painter.save()
        painter.setClipRect(card.adjusted(2, 2, -2, -2), Qt.ClipOperation.IntersectClip)
        paint(painter, self.paintable, ink, self.transform(), self.lit, asked=asked)
        painter.restore()
        self._paint_leaders(painter)
        self._paint_dimensions(painter)
        if any(box.intersects(event.rect()) for box in self._beside()):
            painter.drawPixmap(0, 0, self._stood())
        self._paint_handles(painter)
        self._paint_labels(painter, asked)

    def _standing(self) -> object:
        """What stands around the drawing: while it is the same, its picture is."""
        ruled = self.transform() if self.ruler_px else None
        names = [(box.getRect(), name) for box, name, _ in self._names]
        names += [(box.getRect(), words) for box, words in self._said_words]
        names += [(box.getRect(), "") for box in self._grounds]
        return self.size(), self.devicePixelRatioF(), self.ink.name, self.units, self.scene.caution, ruled, names

    def _beside(self) -> list[QRect]:
        """Where names, ruler and caution stand."""
        wide, high = self.width(), self.height()
        ruler = [QRect(0, high - RULER_PX, wide, RULER_PX)] if self.ruler_px else []
        caution = [QRect(0, 0, wide, 32)] if self.scene.caution else []
        words = [box for box, _ in self._said_words]
        names = [box for box, _, _ in self._names]
        return [*ruler, *caution, *(box.toAlignedRect() for box in (*words, *names, *self._grounds))]

    def _stood(self) -> QPixmap:
        """The picture of names, ruler and caution, painted again only when one of them changes."""
        standing = self._standing()
        if self._still_is != standing:
            ratio = self.devicePixelRatioF()
            self._still = QPixmap(self.size() * ratio)
            self._still.setDevicePixelRatio(ratio)
            self._still.fill(Qt.GlobalColor.transparent)
            self._still_is = standing
            painter = QPainter(self._still)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            for ground in self._grounds:
                painter.fillRect(ground, self.ink.colour("board"))
            painter.setPen(self.ink.colour("quiet"))
            painter.setFont(type_(SENTENCE_PX))
            for box, words in self._said_words:
                painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, words)
            painter.setFont(type_(14))
            for box, name, align in self._names:
                painter.drawText(box, align, name)
            if self.ruler_px:
                self._paint_ruler(painter)
            if self.scene.caution:
                painter.setFont(type_(14, SEMI))
                painter.setPen(self.ink.colour("weld"))
                painter.drawText(
                    QRectF(20, 10, self.width() - 40, 20),
                    Qt.AlignmentFlag.AlignLeft,
                    self.scene.caution.write(self.units),
                )
            painter.end()
        return self._still

    def _paint_leaders(self, painter: QPainter) -> None:
        ink = self.ink
        for points, active in self.drawn_leaders():
            painter.setPen(QPen(ink.colour("woad" if active else "rules"), 1.6 if active else 1.0))
            painter.drawPolyline(points)
            painter.setBrush(ink.colour("woad" if active else "quiet"))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawEllipse(points[-1], 3.2 if active else 2.0, 3.2 if active else 2.0)

    def _paint_dimensions(self, painter: QPainter) -> None:
        for active in (False, True):
            ties = [t for t in self.ties if t.active == active]
            colour = self.ink.colour("woad" if active else "quiet")
            painter.setPen(QPen(colour, 1.6 if active else 1.0))
            painter.drawLines([line for tie in ties for line in tie.lines])
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour)
            for tie in ties:
                for arrow in tie.arrows:
                    painter.drawPolygon(arrow)
                if tie.dot is not None:
                    painter.drawEllipse(tie.dot, 2.2, 2.2)

    def _paint_handles(self, painter: QPainter) -> None:
        ink, to_px = self.ink, self.transform()
        painter.setPen(QPen(ink.colour("quiet"), 1.2))
        painter.setBrush(ink.colour("slip"))
        small = 2.4 if len(self.scene.handles) > MANY_HANDLES else 3.6
        for handle in self.scene.handles:
            painter.drawEllipse(to_px.map(QPointF(*handle.at)), small, small)
        if self._held_handle is not None:
            at = to_px.map(self._handle_at)
            painter.setPen(QPen(ink.colour("woad"), 2.2))
            painter.drawLine(to_px.map(QPointF(*self._held_handle.at)), at)
            painter.drawEllipse(at, 6.0, 6.0)
            painter.setFont(type_(15, SEMI))
            painter.setPen(ink.colour("ink"))
            painter.drawText(at + QPointF(12, -8), self._held_handle.name.write(self.units))

    def _worded(self) -> list[Placed]:
        """Each label's words and where they stand, in pixels: where it says, or a few lines up or down from there, not over
        others; those that matter less are left out where there is no room.
        """
        to_px = self.transform()
        low, most = -np.inf, np.inf
        if self.scene.measured and self._zoom == 1.0 and self._pan.isNull():  # else a hand moved the drawing
            low, most = self._top() + 2, float(self.height() - (self.ruler_px or 6) - self._prompt_px)
        return placed(self.scene.labels, to_px, self.units, LARGE, low, most, self._values_at())

    def _values_at(self) -> list[QRectF]:
        """Where values and their names stand."""
        return [box for box, _, _ in self._names]

    def _paint_labels(self, painter: QPainter, asked: QRectF) -> None:
        ink = self.ink
        for box, label, words in self.words:
            if not box.adjusted(-8, -4, 8, 4).intersects(asked):
                continue
            if label.meaning == "alarm" and label.strong:  # it lies on the drawing, so it brings its own ground
                painter.setPen(QPen(ink.colour("madder"), 1))
                painter.setBrush(ink.colour("slip"))
                painter.drawRoundedRect(box.adjusted(-6, -2, 6, 2), 3, 3)
            colour = {"alarm": "madder", "done": "verdigris"}.get(label.meaning, "ink" if label.strong else "quiet")
            painter.setFont(label_type(label, LARGE))
            painter.setPen(ink.colour(colour))
            painter.drawStaticText(box.topLeft(), words)

    def ruled(self) -> list[tuple[float, str | None]]:
        """The ruler's marks: where in px, and for a long one its number; the first has the unit, or 0 where that is seen."""
        to_px, metric = self.transform(), self.units.length == "mm"
        inverse, _ = to_px.inverted()
        first, last = inverse.map(QPointF(14, 0)).x(), inverse.map(QPointF(self.width() - 14, 0)).x()
        big, parts = (50.0, 5) if metric else (INCH_MM, 4)
        while big * self.scale > 420:
            big /= 2 if big <= 10 or not metric else 5
        while big * self.scale < 60:
            big *= 2
        step = big / parts
        seen = range(int(np.ceil(first / step)), int(np.floor(last / step)) + 1)
        named = 0 if 0 in seen else next((k for k in seen if k % parts == 0), 0)
        found: list[tuple[float, str | None]] = []
        for k in seen:
            value = k * step if metric else k * step / INCH_MM
            unit = (" mm" if metric else " in") if k == named else ""
            number = f"{value:g}{unit}".replace("-", "\u2212") if k % parts == 0 else None
            found.append((to_px.map(QPointF(k * step, 0)).x(), number))
        return found

    def _paint_ruler(self, painter: QPainter) -> None:
        y = self.height() - RULER_PX + 8
        painter.setPen(QPen(self.ink.colour("quiet"), 1))
        painter.setFont(type_(13))
        for x, number in self.ruled():
            painter.drawLine(QPointF(x, y + 14), QPointF(x, y + (9 if number is None else 4)))
            words = laid(number or "", type_(13))
            if x + 4 + words.size().width() < self.width() - 6:  # what is cut off says another number
                painter.drawStaticText(QPointF(x + 4, y + 13 - words.size().height()), words)


def _box(lines: list[Line]) -> QRectF:
    """The box round all the points."""
    points = np.concatenate(lines)
    x, y = points.T
    return QRectF(x.min(), y.min(), max(np.ptp(x), 1), max(np.ptp(y), 1))


def _nearly(box: QRectF, held: QRectF) -> bool:
    """Whether a drawing may stay where it is on the board instead of being fitted anew: nothing jumps at small edits."""
    give = HELD * max(held.width(), held.height())
    off = (box.left() - held.left(), box.top() - held.top(), box.right() - held.right(), box.bottom() - held.bottom())
    return max(map(abs, off)) <= give
