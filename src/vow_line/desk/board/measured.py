"""The values of a drawing as its dimensions: where they are laid, what ties them, what waits behind a word."""

from dataclasses import replace

import numpy as np
from PySide6.QtCore import QEvent, QObject, QPointF, QRectF, Qt
from PySide6.QtGui import QFontMetrics, QTransform
from PySide6.QtWidgets import QPushButton, QWidget

from ...core.drawing import Callout
from ...core.texts import tell
from ..look.ink import SEMI, type_
from .card import Card
from .corner import corner_px
from .dimensions import ROW_PX, TEXT_PX, Box, Placed, Point, Value, lay_out
from .drawn import Tie
from .field import Field
from .sentence import LINE_PX
from .values import Enter, WithValues

AWAY_PX = TEXT_PX + 16.0  # between a value beside the drawing and that


class WithDimensions(WithValues):
    """Lays values out as dimensions of the drawing where its scene is measured."""

    def __init__(self, enter: Enter, parent: QWidget | None = None) -> None:
        super().__init__(enter, parent)
        self._tied: list[Placed] = []
        self._tied_as: dict[str, tuple[Placed, bool, Tie]] = {}
        self._sides_of: object = None
        self._in_a_line: set[str] = set()  # sides whose values stand in a line each
        self._closer: set[str] = set()  # those that turned out to when they were laid
        self._strays: dict[str, float] = {}  # how wide the values are that stand at a side they do not belong to
        self._wider = False  # one turned out wider than there is room for beside the drawing
        self._folded: list[str] = []
        self._unfolded = False
        self._card = Card(self)
        self.more = QPushButton(self)
        self.more.setObjectName("absent")
        self.more.setFont(type_(14, SEMI))
        self.more.installEventFilter(self)
        self.more.clicked.connect(lambda: self.unfold(not self._unfolded))
        self.more.hide()

    def _value_focused(self, path: str) -> None:
        super()._value_focused(path)
        self.unfold(path in self._folded)
        self._tie()

    def show_field(self, path: str) -> bool:
        """Put the focus on the field of a place in the job, unfolded where it must be; false when it is not on this board."""
        if path in self._folded:
            self.unfold()
        return super().show_field(path)

    def _links(self, to_px: QTransform) -> dict[str, tuple[list[Callout], tuple[Point, ...]]]:
        """The values at rest that are placed as one, by name: a chain, or one by itself; and the points they go between."""
        said_in = {c.path for c in self._sentence if isinstance(c, Callout)}
        found: dict[str, tuple[list[Callout], tuple[Point, ...]]] = {}
        for callout in self.scene.callouts:
            if callout.path in said_in or callout.absent or (callout.seldom and not callout.chain):
                continue
            ends = [to_px.map(QPointF(*at)).toTuple() for at in (callout.at, callout.to) if at is not None]
            links, points = found.get(callout.chain or callout.path, ([], ()))
            found[callout.chain or callout.path] = [*links, callout], (*points, *ends[1 if points else 0 :])
        return found

    def _measure(self, callouts: list[Callout], to_px: QTransform, folded: list[Callout]) -> None:
        """Lay the values out as dimensions of the drawing; what there is no room for waits behind a word, with what does
        already.
        """
        self._tied, self._grounds = [], []
        self._closer, self._wider = set(), False
        if callouts:
            links = self._links(to_px)
            bottom = self.height() - self.ruler_px - (LINE_PX if self._absent else 0) - 6.0
            room = (10.0, self._top() + 6.0, self.width() - 10.0, bottom)
            taken = [_box_of(box.adjusted(-6, -2, 6, 2)) for box, _, _ in self._worded()]
            if self.inset:
                taken.append(_box_of(QRectF(self.corner.geometry())))
            sewn = [m.line for m in self.scene.marks if m.pairs or m.size_mm]
            inked = np.concatenate(sewn) * self.scale + [to_px.dx(), to_px.dy()] if sewn else np.empty((0, 2))
            drawn = _box_of(to_px.mapRect(self._held))
            seldom = [c for c in callouts if c.seldom]
            values = [self._sized_value(id, *link) for id, link in links.items() if not link[0][0].seldom]
            self._tied, left_out = lay_out(values, room, drawn, taken, inked)
            whole = {v.id: v.size for v in values}
            self._closer |= {p.value.side for p in self._tied if p.value.size != whole[p.value.id]} - self._in_a_line
            for side, wide in ((p.value.side, p.value.size[0]) for p in self._tied if p.value.moved):
                if wide + AWAY_PX > self._beside_px[side] + 0.5:
                    self._strays[side], self._wider = max(wide, self._strays.get(side, 0.0)), True
            for placed in self._tied:
                self._put(placed, links[placed.value.id][0])
            folded = [c for v in left_out for c in links[v.id][0]] + seldom
        self._fold(folded)

    def _sized_value(self, id: str, callouts: list[Callout], points: tuple[Point, ...]) -> Value:
        """A value as it is to be placed, by the size of its field and its name: below it, or where room is short beside it."""
        names = QFontMetrics(type_(14))
        fields = [self._widgets(c)[0].width() for c in callouts]
        words = [names.horizontalAdvance(c.name.write(self.units)) for c in callouts]
        small = (max(fields) + 8.0 + max(words), ROW_PX * len(callouts))
        size = small if len(callouts) > 1 else (max(fields[0], words[0] + 6.0), 44.0)
        across = len(points) == 2 and abs(points[1][0] - points[0][0]) >= abs(points[1][1] - points[0][1])
        upon = len(points) == 2 and (across or callouts[0].upon)
        return Value(id, "left" if callouts[0].side == "left" else "right", size, points, upon, small)

    def _measure_sides(self) -> None:
        """How wide the values on either side of a measured drawing are, with what ties them: each in a line where there is not
        height enough for two.
        """
        room = self.height() - self._top() - self.ruler_px - self._prompt_px
        sides_of = self.scene.measured, self.units, room, [(p, f.width()) for p, f in self._fields.items()]
        if self._sides_of == sides_of and not self._closer and not self._wider:
            return
        self._strays = self._strays if self._sides_of == sides_of else {}
        self._in_a_line = self._closer | (self._in_a_line if self._sides_of == sides_of else set())
        self._closer, self._sides_of = set(), sides_of
        links = self._links(QTransform()) if self.scene.measured else {}
        values: dict[str, list[Value]] = {"left": [], "right": []}
        for id, link in links.items():
            if link[0][0].seldom:
                continue
            value = self._sized_value(id, *link)
            values[value.side].append(value)
        for side, there in values.items():
            free = room - (corner_px(self.height(), self.inset)[1] if side == "right" and self.inset else 0)
            if sum(v.size[1] + 2 for v in there) > free:
                self._in_a_line.add(side)
            short = side in self._in_a_line
            wide = [v.small[0] if short and v.small else v.size[0] for v in there]
            self._beside_px[side] = max(*wide, self._strays.get(side, -AWAY_PX), -AWAY_PX) + AWAY_PX

    def _put(self, placed: Placed, callouts: list[Callout]) -> None:
        """Move the fields of a value to its place, and its names beside them."""
        left, top, right, bottom = placed.box
        to_left = placed.value.side == "left" and placed.how != "within" and not placed.lying
        chain = len(callouts) > 1 or (placed.value.size[1] <= ROW_PX and not placed.lying)
        if placed.how == "within":
            self._grounds.append(QRectF(left - 2, top, right - left + 4, bottom - top))
        rows = callouts[::-1] if placed.turned and chain else callouts
        names = QFontMetrics(type_(14))
        widest = max(self._widgets(c)[0].width() for c in rows)
        for k, callout in enumerate(rows):
            field, name = self._widgets(callout)[0], callout.name.write(self.units)
            words = names.horizontalAdvance(name)
            y = top + k * ROW_PX - 2 if chain else top
            x = right - field.width() if to_left else left
            x = (left + right - field.width()) / 2 if placed.how == "within" else x
            field.move(round(x), round(y))
            if isinstance(field, Field):
                field.grow("left" if to_left else "both" if placed.how == "within" else "right")
            if chain:
                at = right - widest - 4 - words if to_left else left + widest + 4
                box = QRectF(at, y + 5, words + 4, 18)
            elif placed.how == "within":
                box = QRectF((left + right - words) / 2, y + 25, words + 4, 18)
            else:
                box = QRectF(right - 5 - words if to_left else left + 5, y + 25, words + 4, 18)
            self._names.append((box, name, Qt.AlignmentFlag.AlignLeft))

    def _fold(self, callouts: list[Callout]) -> None:
        """Keep what there is no room for behind a word that unfolds it."""
        self._folded = [c.path for c in callouts]
        at_hand = self.at_hand in self._folded or self.more.hasFocus() or self.more.underMouse()
        self._unfolded = bool(callouts) and (self._unfolded and at_hand)
        self.more.setVisible(bool(callouts))
        for path, widget in (*self._fields.items(), *self._combos.items()):
            if path not in self._folded and widget.isHidden():
                widget.show()
        if not callouts:
            self._card.hide()
            return
        only = all(c.seldom for c in callouts)  # nothing that there was no room for
        self.more.setText(tell("more") if only else tell("and {n} more", n=len(callouts)))
        self.more.adjustSize()
        self.more.move(self.width() - self.more.width() - 14, round(self._top()) + 2)
        self._show_folded()

    def _show_folded(self) -> None:
        """Show what is folded on a card of its own, or hide it."""
        names = QFontMetrics(type_(14))
        there = [c for c in self.scene.callouts if c.path in self._folded]
        fields = [self._widgets(c)[0] for c in there]
        wide = max((f.width() + names.horizontalAdvance(c.name.write(self.units)) for c, f in zip(there, fields, strict=True)),
                   default=0) + 34  # fmt: skip
        high = 32 * len(there) + 12
        top = self.more.y() + self.more.height() + 2
        self._card.setGeometry(self.width() - wide - 14, top, wide, high)
        self._card.says = [(QRectF(fields[k].width() + 14, 32 * k + 12, wide, 20), c.name.write(self.units))
                           for k, c in enumerate(there)]  # fmt: skip
        self._card.setVisible(self._unfolded)
        self._card.raise_()
        before: QWidget = self.more
        for k, field in enumerate(fields):
            field.move(self._card.x() + 10, top + 6 + 32 * k)
            field.setVisible(self._unfolded)
            field.raise_()
            QWidget.setTabOrder(before, field)
            before = field

    def unfold(self, yes: bool = True) -> None:
        """Show what there is no room for at rest, or fold it again."""
        if self._folded and yes != self._unfolded:
            self._unfolded = yes
            self._show_folded()

    def eventFilter(self, of: QObject, event: QEvent) -> bool:
        """The word unfolds what is behind it when the hand or the pointer comes to it."""
        if of is self.more and event.type() in (QEvent.Type.FocusIn, QEvent.Type.Enter):
            self.unfold()
        return super().eventFilter(of, event)

    def _tie(self) -> None:
        """Make the lines that tie values to what they measure ready to be painted."""
        at_hand = self.at_hand
        held = next((c.chain or c.path for c in self.scene.callouts if c.path == at_hand), "")
        before = self._tied_as
        self._tied_as = {}
        for placed in self._tied:
            id, active = placed.value.id, placed.value.id == held
            known = before.get(id)
            if known is None or known[:2] != (placed, active):
                tied = replace(placed, how="leader") if active and placed.how == "untied" else placed
                known = placed, active, Tie(*tied.lines(), active)
            self._tied_as[id] = known
        self.ties = [tie for _, _, tie in self._tied_as.values()]


def _box_of(box: QRectF) -> Box:
    return box.left(), box.top(), box.right(), box.bottom()
