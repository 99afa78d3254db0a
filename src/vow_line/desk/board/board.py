"""The board: the drawing of the thing at true scale, its values as callouts on it, a ruler along its edge."""

from collections.abc import Callable
from functools import partial
from typing import Any

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QCursor,
    QFont,
    QFontMetrics,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
    QTransform,
    QWheelEvent,
)  # fmt: skip
from PySide6.QtWidgets import QApplication, QComboBox, QWidget

from ...core.curve import Line
from ...core.drawing import Callout, Handle, Label, Mark
from ...core.job import Job, value_at
from ...core.measure import Reading
from ...core.quantity import INCH_MM, Units
from ..ink import BOLD, DAY, SEMI, Ink, type_
from .field import Field
from .painter import paint, path_of
from .scene import Inset, Scene

COLUMN_PX = 158  # left and right of the drawing, for callouts
RULER_PX = 30
MOST_IN_COLUMN = 8
HELD = 0.02  # an edit that moves the drawing's bounds by less than this share does not move the drawing
SEEN_PX = 0.1  # a line's points nearer than this to the line without them are not seen
GRIP_PX = 9.0  # how near to a point a hand takes hold of it
MANY_HANDLES = 30  # so many are drawn small
STEADY_PX = 4  # callouts follow what they point at in steps, so that a small edit leaves them where they are
Enter = Callable[[Callout, str, Any], None]


class Board(QWidget):
    """Shows a scene. `pointed` names the mark under the pointer; `enter(callout, path, value)` is called with an edit."""

    pointed = Signal(str)
    pointed_at = Signal(float, float)
    placed = Signal(float, float)
    dragged = Signal(object, object)

    def __init__(self, enter: Enter, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("board")
        self.setAccessibleName("The board")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # what lies behind need not be painted first
        self.ink: Ink = DAY
        self.units = Units()
        self.scene = Scene()
        self.lit: frozenset[str] = frozenset()
        self._enter = enter
        self.using = ""
        self._paths: list[tuple[Mark, QPainterPath]] = []
        self._inset_paths: list[tuple[Mark, QPainterPath]] = []
        self._fields: dict[str, Field] = {}
        self._combos: dict[str, QComboBox] = {}
        self._names: list[tuple[QRectF, str, Qt.AlignmentFlag]] = []
        self._leaders: list[tuple[QPointF, QPointF, str, bool]] = []
        self._zoom = 1.0
        self._pan = QPointF(0, 0)
        self._drag: QPointF | None = None
        self._held_handle: Handle | None = None
        self._handle_at = QPointF()
        self._fitted = self._held = self._reach = QRectF(0, 0, 100, 100)
        self._to_px = QTransform()
        self._placed: object = None
        self._moved = QRectF()
        self._still = QPixmap()
        self._still_is: object = None

    # what is shown

    def show_scene(self, scene: Scene, job: Job, ink: Ink) -> None:
        """Show this scene of this job."""
        self.scene, self.ink, self.units = scene, ink, job.units
        self._inset_paths = [(m, path_of(m)) for m in scene.inset.marks] if scene.inset else []
        if scene.marks:
            lines = [m.line for m in scene.marks if m.meaning != "hole"]
            staying = [m.line for m in scene.marks if m.meaning != "hole" and m.id not in scene.passing]
            self._reach = _box(lines)
            self._fitted = _box([*staying, *(np.array([label.at]) for label in scene.labels)])
            if not _nearly(self._fitted, self._held):
                self._held = self._fitted
        self._make_fields(job)
        self._place()
        self._trace()
        self.setAccessibleDescription(", ".join(dict.fromkeys(m.id for m in scene.marks if m.id)))
        self._redraw()

    def _trace(self) -> None:
        """The marks' paths, as fine as can be seen at this scale."""
        self._paths = [(m, path_of(m, SEEN_PX / self.scale)) for m in self.scene.marks]

    def light(self, marks: frozenset[str]) -> None:
        """Make these marks glow."""
        if marks != self.lit:
            self.lit = marks
            self._redraw()

    def _redraw(self) -> None:
        """Paint again what an edit can have changed: all of it when what stands around the drawing moved."""
        now = self._moving()
        if self._still_is == self._standing():
            self.update(now.united(self._moved).toAlignedRect())
        else:
            self.update()
        self._moved = now

    def _moving(self) -> QRectF:
        """Where the drawing, its labels, its leaders and the inset are, in px."""
        found = self.transform().mapRect(self._reach).adjusted(-14, -14, 14, 14)
        for box, _, _ in self.label_boxes():
            found |= box.adjusted(-8, -4, 8, 4)
        for near, anchor, _ in self._drawn_leaders():
            found |= QRectF(near, anchor).normalized().adjusted(-5, -5, 5, 5)
        return found | self._inset_box().adjusted(-1, -1, 1, 1) if self.scene.inset else found

    def fit(self) -> None:
        """Show the whole drawing."""
        self._zoom, self._pan = 1.0, QPointF(0, 0)
        self._held = self._fitted
        self._place()
        self._trace()
        self._moved = self._moving()
        self.update()

    @property
    def fields(self) -> dict[str, Field]:
        """The callouts' fields by path."""
        return self._fields

    def _make_fields(self, job: Job) -> None:
        wanted: dict[str, tuple[Callout, Any, bool]] = {}
        choices: dict[str, Callout] = {}
        for callout in self.scene.callouts:
            value = None if callout.value == "" else callout.value
            if callout.choices:
                choices[callout.path] = callout
                continue
            if callout.value is None:
                value = value_at(job, callout.path)
            if isinstance(value, Reading):
                wanted[f"{callout.path}.first"] = (callout, value.first, False)
                wanted[f"{callout.path}.second"] = (callout, value.second, True)
            else:
                wanted[callout.path] = (callout, value, callout.quiet)
            if callout.beside:
                wanted[callout.beside[0]] = (callout, value_at(job, callout.beside[0]), True)
        for path in [p for p in self._fields if p not in wanted]:
            self._fields.pop(path).discard()
        for path in [p for p in self._combos if p not in choices]:
            self._combos.pop(path).deleteLater()
        before: QWidget = self
        fresh = any(path not in self._fields for path in wanted)
        for path, (callout, value, quiet) in wanted.items():
            field = self._fields.get(path)
            if field is None:
                name = callout.name.write(self.units) + (", again" if path.endswith(".second") else "")
                if callout.beside and path == callout.beside[0]:
                    name = f"{name}, {callout.beside[1].write(self.units)}"
                centred = callout.side in ("above", "below")
                field = Field(self, callout.kind, name, self._entering(callout, path), quiet, centred)
                field.focused.connect(self._focused)
                self._fields[path] = field
                field.show()
            field.enter = self._entering(callout, path)
            closed = job.vowed is not None and not path.startswith(("record", "work"))
            if field.isReadOnly() != closed:
                field.setReadOnly(closed)
            field.show_value(value, job.units)
            if fresh:
                QWidget.setTabOrder(before, field)
            before = field
        for path, callout in choices.items():
            combo = self._combos.get(path)
            if combo is None:
                combo = QComboBox(self)
                combo.setObjectName(f"choice {path}")
                combo.setAccessibleName(callout.name.write(self.units))
                combo.setFont(type_(18, BOLD))
                combo.activated.connect(partial(self._chosen, path))
                self._combos[path] = combo
                combo.show()
            if tuple(combo.itemText(i) for i in range(combo.count())) != callout.choices:
                combo.clear()
                combo.addItems(list(callout.choices))
            combo.setEnabled(job.vowed is None)
            value = value_at(job, path)
            meant = callout.meant or callout.choices
            combo.setCurrentIndex(
                next((i for i, m in enumerate(meant) if m == value or (m and value and not isinstance(m, str))), 0)
            )
            if combo.height() != 28:
                combo.setFixedSize(min(combo.sizeHint().width() + 4, COLUMN_PX - 20), 28)

    def _chosen(self, path: str, number: int) -> None:
        callout = next(c for c in self.scene.callouts if c.path == path)
        self._enter(callout, path, (callout.meant or callout.choices)[number])

    def _entering(self, callout: Callout, path: str) -> Callable[[float], None]:
        return lambda value: self._enter(callout, path, value)

    def _focused(self, field: Field) -> None:
        path = next((p for p, f in self._fields.items() if f is field), "")
        for callout in self.scene.callouts:
            if path.startswith(callout.path) and callout.mark:
                self.pointed.emit(callout.mark)
        self.update()

    # where it is shown

    def _frame(self) -> QRectF:
        """Where the drawing goes, in px."""
        sides = {c.side for c in self.scene.callouts}
        left = COLUMN_PX * self._left_columns() if "left" in sides else 34
        right = COLUMN_PX + 16 if "right" in sides else 34
        top = (164 if "above" in sides else 30) + (22 if self.scene.caution else 0)
        bottom = (120 if "below" in sides else 34) + (RULER_PX if self.scene.ruler else 0)
        if self.scene.inset:
            right = max(right, 252)
        return QRectF(left, top, max(self.width() - left - right, 50), max(self.height() - top - bottom, 50))

    def _left_columns(self) -> int:
        """Many values stand in two columns, those that are chosen nearer to the drawing."""
        return 2 if len([c for c in self.scene.callouts if c.side == "left"]) > MOST_IN_COLUMN else 1

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

    def _place(self) -> None:
        """Lay the callouts out beside the drawing, in the order of the places they point at, without crossing."""
        to_px = self._to_px = self._made_transform()
        anchors = {c.path: to_px.map(QPointF(*c.at)) for c in self.scene.callouts}
        placed = self._placing(anchors)
        if placed == self._placed:
            self._leaders = [(near, anchors[path], path, short) for near, _, path, short in self._leaders]
            return
        self._placed = placed
        self._names, self._leaders = [], []
        sides: dict[str, list[Callout]] = {"left": [], "right": [], "above": [], "below": []}
        for callout in self.scene.callouts:
            sides[callout.side].append(callout)
        chosen = [c for c in sides["left"] if c.choices] if self._left_columns() == 2 else []
        self._column("left", [c for c in sides["left"] if c not in chosen], to_px)
        self._column("left", chosen, to_px, float(COLUMN_PX))
        self._column("right", sides["right"], to_px)
        for side in ("above", "below"):
            self._row(side, sides[side], to_px)

    def _placing(self, anchors: dict[str, QPointF]) -> object:
        """What the places of the callouts depend on."""
        at = [(c.path, c.side, _steady(anchors[c.path].x()), _steady(anchors[c.path].y())) for c in self.scene.callouts]
        words = [(c.name, c.beside) for c in self.scene.callouts]
        sizes = [w.width() for w in (*self._fields.values(), *self._combos.values())]
        return self.size(), self.units, self._frame(), self._to_px, self._held, at, words, sizes

    def _widgets(self, callout: Callout) -> list[QWidget]:
        found: list[QWidget | None] = [
            self._combos.get(callout.path), self._fields.get(callout.path), self._fields.get(f"{callout.path}.first"),
            self._fields.get(f"{callout.path}.second"),
        ]  # fmt: skip
        return [w for w in found if w is not None]

    def _column(self, side: str, callouts: list[Callout], to_px: QTransform, in_px: float = 0.0) -> None:
        if not callouts:
            return
        placed = sorted(callouts, key=lambda c: to_px.map(QPointF(*c.at)).y())
        bottom = self.height() - 20 - (RULER_PX if self.scene.ruler else 0)
        if side == "right" and self.scene.inset:
            bottom = int(self._inset_box().top()) - 4
        top = 34.0 if self.scene.caution else 12.0
        if self.scene.callouts and any(c.side in ("above", "below") for c in self.scene.callouts):
            drawn = to_px.mapRect(self._held)
            top, bottom = drawn.top() - 10, int(drawn.bottom()) + 24
        pairs = any(f"{c.path}.second" in self._fields for c in placed)
        step = min(76.0 if pairs else 54.0, max((bottom - top) / len(placed), 40.0))
        wanted = [_steady(to_px.map(QPointF(*c.at)).y()) - 20 for c in placed]
        y = _spread(wanted, step, top, bottom - step)
        frame = self._frame()
        for callout, high in zip(placed, y, strict=True):
            widgets = self._widgets(callout)
            x = 16.0 + in_px if side == "left" else float(frame.right() + 24)
            if side == "right" and self.scene.inset:
                x = float(self.width() - 218)
            under = high
            for widget in widgets:
                widget.move(int(x), int(under))
                under += widget.height() - 2
            label = QRectF(x + 6, under, COLUMN_PX + 20, 18)
            self._names.append((label, callout.name.write(self.units), Qt.AlignmentFlag.AlignLeft))
            anchor = to_px.map(QPointF(*callout.at))
            wide = max((w.width() for w in widgets), default=40)
            near = QPointF(x + wide + 4, high + 14) if side == "left" else QPointF(x - 6, high + 14)
            self._leaders.append((near, anchor, callout.path, False))

    def _row(self, side: str, callouts: list[Callout], to_px: QTransform) -> None:
        if not callouts:
            return
        placed = sorted(callouts, key=lambda c: c.at[0])
        drawn = to_px.mapRect(self._held)
        widest = 12.0 * np.ceil(max((w.width() for c in placed for w in self._widgets(c)), default=0) / 12 + 0.4)
        width = max(78.0, min(widest, (self.width() - 16) / len(placed) - 4))
        wanted = [_steady(to_px.map(QPointF(*c.at)).x()) - width / 2 for c in placed]
        xs = _spread(wanted, width + 4, 8.0, self.width() - width - 8)
        for callout, x in zip(placed, xs, strict=True):
            widgets = self._widgets(callout)
            anchor = to_px.map(QPointF(*callout.at))
            y = drawn.top() - 84 if side == "above" else drawn.bottom() + 26
            name_y = y - 18 if side == "above" else y + 47
            for k, widget in enumerate(widgets):
                widget.move(int(x + (width - widget.width()) / 2), int(y + k * 25))
            label = QRectF(x - 8, name_y, width + 16, 18)
            text = callout.name.write(self.units)
            if callout.beside:
                field = self._fields[callout.beside[0]]
                away = -58 if side == "above" else 64
                field.move(int(x + (width - field.width()) / 2), int(y + away))
                if side == "below":
                    text = f"{text}, {callout.beside[1].write(self.units)}"
                else:
                    beside = QRectF(x - 8, y + away - 17, width + 16, 18)
                    self._names.append((beside, callout.beside[1].write(self.units), Qt.AlignmentFlag.AlignHCenter))
            self._names.append((label, text, Qt.AlignmentFlag.AlignHCenter))
            near = QPointF(x + width / 2, y + 52 if side == "above" else y - 2)
            self._leaders.append((near, anchor, callout.path, True))

    # painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink = self.ink
        painter.fillRect(event.rect(), ink.colour("ground"))
        card = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        painter.setPen(QPen(ink.colour("woad" if self.hasFocus() else "rules"), 2 if self.hasFocus() else 1))
        painter.setBrush(ink.colour("board"))
        painter.drawRoundedRect(card, 4, 4)
        if self.scene.waits:
            painter.setFont(type_(20))
            painter.setPen(ink.colour("quiet"))
            painter.drawText(card.adjusted(80, 0, -80, 0), int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap),
                             self.scene.waits)  # fmt: skip
            return
        drawn = self._moved.intersects(QRectF(event.rect()))  # a field that changed asks only for what lies under it
        if drawn:
            painter.save()
            painter.setClipRect(card.adjusted(2, 2, -2, -2), Qt.ClipOperation.IntersectClip)
            paint(painter, self._paths, ink, self.transform(), self.lit)
            painter.restore()
            self._paint_leaders(painter)
        painter.drawPixmap(0, 0, self._stood())
        if drawn:
            self._paint_handles(painter)
            self._paint_labels(painter)
        if drawn and self.scene.inset:
            self._paint_inset(painter, self.scene.inset)

    def _standing(self) -> object:
        """What stands around the drawing: while it is the same, its picture is."""
        ruled = self.transform() if self.scene.ruler else None
        names = [(box.getRect(), name) for box, name, _ in self._names]
        return self.size(), self.devicePixelRatioF(), self.ink.name, self.units, self.scene.caution, ruled, names

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
            painter.setFont(type_(14))
            painter.setPen(self.ink.colour("quiet"))
            for box, name, align in self._names:
                painter.drawText(box, align, name)
            if self.scene.ruler:
                self._paint_ruler(painter, self.transform())
            if self.scene.caution:
                painter.setFont(type_(14, SEMI))
                painter.setPen(self.ink.colour("weld"))
                painter.drawText(QRectF(20, 10, self.width() - 40, 20), Qt.AlignmentFlag.AlignLeft, self.scene.caution)
            painter.end()
        return self._still

    def _drawn_leaders(self) -> list[tuple[QPointF, QPointF, bool]]:
        """The leaders that are seen, and whether their field is under the hand."""
        under = (QApplication.focusWidget(), QApplication.widgetAt(QCursor.pos()))
        touched = next((p for p, f in self._fields.items() if f in under), "")
        return [
            (near, anchor, touched.startswith(path))
            for near, anchor, path, short in self._leaders
            if short or touched.startswith(path)
        ]

    def _paint_leaders(self, painter: QPainter) -> None:
        ink = self.ink
        for near, anchor, active in self._drawn_leaders():
            painter.setPen(QPen(ink.colour("woad" if active else "rules"), 1.6 if active else 1.0))
            painter.drawLine(near, anchor)
            painter.setBrush(ink.colour("woad" if active else "quiet"))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawEllipse(anchor, 3.2 if active else 2.0, 3.2 if active else 2.0)

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
            painter.drawText(at + QPointF(12, -8), self._held_handle.name)

    def label_boxes(self) -> list[tuple[QRectF, Label, str]]:
        """Where each label's words stand, in pixels."""
        to_px = self.transform()
        found = []
        for label in self.scene.labels:
            text = label.says.write(self.units)
            metrics = QFontMetrics(_label_type(label))
            wide, at = metrics.horizontalAdvance(text), to_px.map(QPointF(*label.at))
            left = at.x() - {"left": 0, "centre": wide / 2, "right": wide}[label.align]
            found.append((QRectF(left, at.y() - metrics.ascent(), wide, metrics.height()), label, text))
        return found

    def _paint_labels(self, painter: QPainter) -> None:
        ink = self.ink
        for box, label, text in self.label_boxes():
            if label.meaning == "alarm" and label.strong:  # it lies on the drawing, so it brings its own ground
                painter.setPen(QPen(ink.colour("madder"), 1))
                painter.setBrush(ink.colour("slip"))
                painter.drawRoundedRect(box.adjusted(-6, -2, 6, 2), 3, 3)
            colour = {"alarm": "madder", "done": "verdigris"}.get(label.meaning, "ink" if label.strong else "quiet")
            painter.setFont(_label_type(label))
            painter.setPen(ink.colour(colour))
            painter.drawText(box, int(Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextDontClip), text)

    def _inset_box(self) -> QRectF:
        return QRectF(self.width() - 238, self.height() - 192 - RULER_PX, 222, 182)

    def _paint_inset(self, painter: QPainter, inset: Inset) -> None:
        ink, box = self.ink, self._inset_box()
        painter.setPen(QPen(ink.colour("rules"), 1))
        painter.setBrush(ink.colour("slip"))
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(ink.colour("quiet"))
        painter.setFont(type_(14, SEMI))
        painter.drawText(box.adjusted(12, 8, -8, 0), Qt.AlignmentFlag.AlignLeft, inset.title.write(self.units))
        painter.setFont(type_(14))
        painter.drawText(box.adjusted(12, 0, -8, -9), int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom),
                         inset.says.write(self.units))  # fmt: skip
        points = np.concatenate([m.line for m in inset.marks])
        low, high = points.min(axis=0), points.max(axis=0)
        size = np.maximum(high - low, 1)
        room = box.adjusted(16, 34, -16, -34)
        scale = min(room.width() / size[0], room.height() / size[1])
        middle = (low + high) / 2
        to_px = QTransform.fromTranslate(room.center().x(), room.center().y()).scale(scale, scale)
        paint(painter, self._inset_paths, ink, to_px.translate(-middle[0], -middle[1]), self.lit)

    def _paint_ruler(self, painter: QPainter, to_px: QTransform) -> None:
        ink = self.ink
        y = self.height() - RULER_PX + 8
        metric = self.units.length == "mm"
        inverse, _ = to_px.inverted()
        first, last = inverse.map(QPointF(14, 0)).x(), inverse.map(QPointF(self.width() - 14, 0)).x()
        big, parts = (50.0, 5) if metric else (INCH_MM, 4)
        while big * self.scale > 420:
            big /= 2 if big <= 10 or not metric else 5
        while big * self.scale < 60:
            big *= 2
        step = big / parts
        painter.setPen(QPen(ink.colour("quiet"), 1))
        painter.setFont(type_(13))
        for k in range(int(np.ceil(first / step)), int(np.floor(last / step)) + 1):
            x = to_px.map(QPointF(k * step, 0)).x()
            whole = k % parts == 0
            painter.drawLine(QPointF(x, y + 14), QPointF(x, y + (4 if whole else 9)))
            if whole:
                value = k * step if metric else k * step / INCH_MM
                unit = (" mm" if metric else " in") if k == 0 else ""
                painter.drawText(QPointF(x + 4, y + 8), f"{value:g}{unit}".replace("-", "\u2212"))

    # hands

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._place()
        self._trace()
        self._moved = self._moving()

    def wheelEvent(self, event: QWheelEvent) -> None:
        factor = 1.0015 ** event.angleDelta().y()
        self.zoom(factor, event.position())

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom by a factor about a point in pixels, or the middle."""
        at = at or QPointF(self._frame().center())
        before, _ = self.transform().inverted()
        place = before.map(at)
        self._zoom = float(np.clip(self._zoom * factor, 0.3, 40))
        now = self._made_transform().map(place)
        self._pan += at - now
        self._place()
        self._trace()
        self._moved = self._moving()
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        near = self._handle_near(event.position())
        if near is not None:
            self._hold(near)
        else:
            self._drag = event.position()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._drag = None
        if self._held_handle is not None and event.button() == Qt.MouseButton.LeftButton:
            handle, self._held_handle = self._held_handle, None
            self._let_go(handle)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        inverse, _ = self.transform().inverted()
        at = inverse.map(event.position())
        self.placed.emit(at.x(), at.y())

    def _handle_near(self, px: QPointF) -> Handle | None:
        to_px = self.transform()
        apart = [
            (float(np.hypot(*(to_px.map(QPointF(*h.at)) - px).toTuple())), k) for k, h in enumerate(self.scene.handles)
        ]
        best = min(apart, default=(np.inf, 0))
        return self.scene.handles[best[1]] if best[0] <= GRIP_PX else None

    def _hold(self, handle: Handle | None) -> None:
        self._held_handle = handle
        if handle is not None:
            self._handle_at = QPointF(*handle.at)
            self.setAccessibleDescription(f"{handle.name} is held; the arrow keys move it, Escape lets it go")
        self.update()

    def _let_go(self, handle: Handle) -> None:
        at = self._handle_at
        value = handle.value(at.x(), at.y())
        if at != QPointF(*handle.at):
            self.dragged.emit(handle, value)
        self.update()

    def next_handle(self, by: int = 1) -> None:
        """Hold the next point that can be moved, for the arrow keys."""
        places = [h.path for h in self.scene.handles]
        if not places:
            return
        now = places.index(self._held_handle.path) if self._held_handle and self._held_handle.path in places else -1
        self.setFocus(Qt.FocusReason.OtherFocusReason)
        self._hold(self.scene.handles[(now + by) % len(places)])

    def _nudge(self, dx: float, dy: float) -> None:
        held = self._held_handle
        if held is None:
            return
        self._handle_at += QPointF(dx, 0.0 if held.along else dy)
        self._let_go(held)
        self._held_handle = next((h for h in self.scene.handles if h.path == held.path), None)
        if self._held_handle is not None:
            self._handle_at = QPointF(*self._held_handle.at)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._pan += event.position() - self._drag
            self._drag = event.position()
            self._place()
            self._moved = self._moving()
            self.update()
            return
        inverse, _ = self.transform().inverted()
        at = inverse.map(event.position())
        if self._held_handle is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._handle_at = QPointF(at.x(), self._held_handle.at[1] if self._held_handle.along else at.y())
            self.update()
            return
        self.pointed_at.emit(at.x(), at.y())
        self.pointed.emit(self._under(at))

    def _under(self, at: QPointF) -> str:
        reach = 6 / self.scale
        found = ""
        for mark, path in self._paths:
            if not mark.id:
                continue
            near = bool((np.hypot(*(mark.line - np.array([at.x(), at.y()])).T) < reach * 2).any())
            inside = not near and path.boundingRect().adjusted(-reach, -reach, reach, reach).contains(at)
            inside = inside and (len(mark.line) <= 3 or (mark.closed and path.contains(at)))
            if near or inside:
                found = mark.id
        return found

    def leaveEvent(self, event: Any) -> None:
        self.pointed.emit("")
        super().leaveEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        move = {
            Qt.Key.Key_Left: (30, 0), Qt.Key.Key_Right: (-30, 0), Qt.Key.Key_Up: (0, 30), Qt.Key.Key_Down: (0, -30),
        }.get(Qt.Key(event.key()))  # fmt: skip
        if self._held_handle is not None and move:
            step = -(5.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 0.5) / 30
            self._nudge(move[0] * step, move[1] * step)
        elif self._held_handle is not None and event.key() == Qt.Key.Key_Escape:
            self._hold(None)
        elif move and not event.modifiers():
            self._pan += QPointF(*move)
            self._place()
            self._moved = self._moving()
            self.update()
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom(1.25)
        elif event.key() == Qt.Key.Key_Minus:
            self.zoom(0.8)
        else:
            super().keyPressEvent(event)

    def take(self, mm: float, using: str) -> bool:
        """Put a length read by an instrument into the field that has the focus, and move on; false when none has."""
        places = list(self._fields)
        path = next((p for p in places if self._fields[p].hasFocus()), "")
        field = self._fields.get(path)
        if field is None or field.kind not in ("length", "fine", "leather") or field.isReadOnly():
            return False
        self.using = using
        try:
            if not field.put(mm):
                return True
        finally:
            self.using = ""
        following = places[(places.index(path) + 1) % len(places)]
        self._fields[following].setFocus(Qt.FocusReason.TabFocusReason)
        return True

    def show_field(self, path: str) -> bool:
        """Put the focus on the field of a place in the job; false when it is not on this board."""
        for candidate in (path, f"{path}.first"):
            if candidate in self._fields:
                self._fields[candidate].setFocus(Qt.FocusReason.ShortcutFocusReason)
                return True
        return False


def _box(lines: list[Line]) -> QRectF:
    """The box round all the points."""
    points = np.concatenate(lines)
    (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
    return QRectF(x0, y0, max(x1 - x0, 1), max(y1 - y0, 1))


def _nearly(box: QRectF, held: QRectF) -> bool:
    """Whether a drawing may stay where it is on the board instead of being fitted anew: nothing jumps at small edits."""
    give = HELD * max(held.width(), held.height())
    off = (box.left() - held.left(), box.top() - held.top(), box.right() - held.right(), box.bottom() - held.bottom())
    return max(map(abs, off)) <= give


def _steady(px: float) -> float:
    return round(px / STEADY_PX) * STEADY_PX


def _label_type(label: Label) -> QFont:
    return type_(17, BOLD) if label.strong else type_(15)


def _spread(wanted: list[float], step: float, low: float, high: float) -> list[float]:
    """The places nearest to those wanted, in order, at least `step` apart, within low and high."""
    placed: list[float] = []
    for w in wanted:
        placed.append(max(w, low, placed[-1] + step if placed else low))
    limit = high
    for i in range(len(placed) - 1, -1, -1):
        placed[i] = min(placed[i], limit)
        limit = placed[i] - step
    return placed
