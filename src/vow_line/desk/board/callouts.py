"""Callouts: the values on the drawing, edited in place, laid out beside what they point at."""

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Any

import numpy as np
from PySide6.QtCore import QEvent, QObject, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QCursor, QFontMetrics, QTransform
from PySide6.QtWidgets import QApplication, QComboBox, QPushButton, QWidget

from ...core.drawing import Callout
from ...core.job import Job, value_at
from ...core.measure import Reading
from ...core.measure.doubt import doubted
from ...core.quantity import write
from ...core.reckoning import length
from ...core.texts import NOTHING, said, tell
from ..look.ink import BOLD, SEMI, type_
from .card import Card
from .dimensions import ROW_PX, TEXT_PX, Box, Placed, Point, Value, lay_out, spread_by
from .drawn import COLUMN_PX, RULER_PX, SENTENCE_PX, Drawn, Tie
from .field import Field
from .sentence import LINE_PX, Part, laid, parts_of

WORD_PX = 8  # beside its word, what a choice in a sentence takes
PROMPT_PX = 34  # for what is asked, under the drawing
CHOICE_PX = 34  # beside its widest word, what a choice takes for its arrow and its edges
BEND_PX = 7  # so far from the outermost of their places the leaders of a row bend
STEADY_PX = 8  # callouts stay where they are until what one of them points at has moved by more
Enter = Callable[[Callout, str, Any], None]


class WithCallouts(Drawn):
    """A drawing with its values. `pointed` names the mark that a value with the focus belongs to; `enter(callout, path, value)`
    is called with an edit; `asked` wants to say how the reading at a place was taken.
    """

    pointed = Signal(str)
    asked = Signal(str)
    finished = Signal()

    def __init__(self, enter: Enter, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._enter = enter
        self.using = ""
        self._fields: dict[str, Field] = {}
        self._combos: dict[str, QComboBox] = {}
        self._said: dict[str, Callout] = {}
        self._placed: object = None
        self._anchored: dict[str, QPointF] = {}
        self._job: Job | None = None
        self._facts_of = ""
        self._sentence: list[Part] = []
        self._said_is: object = None
        self._absent: dict[str, QPushButton] = {}
        self._tied: list[Placed] = []
        self._tied_as: dict[str, tuple[Placed, bool, Tie]] = {}
        self._sides_of: object = None
        self._asking = self._all_read = False
        self._folded: list[str] = []
        self._unfolded = False
        self._card = Card(self)
        self.more = QPushButton(self)
        self.more.setObjectName("absent")
        self.more.setFont(type_(14, SEMI))
        self.more.installEventFilter(self)
        self.more.clicked.connect(lambda: self.unfold(not self._unfolded))
        self.more.hide()
        self.facts = QPushButton(self)
        self.facts.setObjectName("facts")
        self.facts.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.facts.clicked.connect(self._ask)
        self.facts.hide()

    @property
    def fields(self) -> dict[str, Field]:
        """The callouts' fields by path."""
        return self._fields

    @property
    def spoken(self) -> str:
        """The sentences above the drawing as they are read."""
        return "".join(p if isinstance(p, str) else self._combos[p.path].currentText() for p in self._sentence)

    @property
    def at_hand(self) -> str:
        """The place of the field that has the focus in its window, or nothing."""
        focused = self.window().focusWidget()
        return next((p for p, f in self._fields.items() if f is focused), "")

    def _ask(self) -> None:
        if self._facts_of in self._said and self._said[self._facts_of].part:
            self._take_off(self._facts_of)
            return
        self.show_field(self._facts_of)  # a press gave the focus to the board
        self.asked.emit(self._facts_of)

    def _show_facts(self) -> None:
        """Under the drawing, how the reading that has the focus was taken."""
        if self.at_hand and self.at_hand not in self._said:
            return  # it is about to be taken off
        place, _, which = self.at_hand.rpartition(".")
        reading = value_at(self._job, place) if self._job is not None and which in ("first", "second") else None
        there = isinstance(reading, Reading) and getattr(reading, which) is not None
        part = self._said[self.at_hand].part if self.at_hand in self._said else NOTHING
        closed = self._job is not None and self._job.vowed is not None
        asked = not there and not part and self.at_hand in self.run()
        self._all_read = self._all_read and not self.at_hand
        self.facts.setVisible(there or asked or self._all_read or (bool(part) and not closed))
        if self.facts.isHidden():
            return
        self._facts_of = self.at_hand
        if self._all_read:
            text = tell("All is read. Enter goes on.")
        elif asked:
            self._asking = True
            then = self.next_reading(self.at_hand)
            text = self._place_name(self.at_hand)
            if then and then != self.at_hand:
                text = tell("{now}. Then: {then}", now=text, then=self._place_name(then))
        elif part:
            text = tell("{part}: 0, or a press here, takes it off", part=part)
        else:
            how = getattr(reading, f"{which}_taken").says.write(self.units)
            text = tell("Read {how}", how=how) if how else tell("When, by whom and with what it was read: not said")
        if bool(self.facts.property("asking")) != asked:
            self.facts.setProperty("asking", asked)
            self.facts.style().unpolish(self.facts)
            self.facts.style().polish(self.facts)
        self.facts.setFont(type_(20, BOLD) if asked else type_(14))
        if text != self.facts.text():
            self.facts.setText(text)
            self.facts.setAccessibleName(text)
        self.facts.adjustSize()
        self.facts.move((self.width() - self.facts.width()) // 2, self.height() - RULER_PX - self.facts.height() - 4)
        self.facts.raise_()

    def _make_fields(self, job: Job) -> None:
        self._job = job
        units, closed = job.units, job.vowed is not None
        wanted: dict[str, tuple[Callout, Any, bool]] = {}
        chosen_from: dict[str, Callout] = {}
        readings: set[str] = set()
        self._sentence = parts_of(self.scene.sentences, self.scene.callouts, units)
        said_there = {c.path for c in self._sentence if isinstance(c, Callout)}
        for callout in self.scene.callouts:
            value = None if callout.value == "" else callout.value
            if callout.absent:
                continue
            if callout.choices:
                chosen_from[callout.path] = callout
                continue
            if callout.value is None:
                value = value_at(job, callout.path)
            if isinstance(value, Reading):
                readings.add(callout.path)
                wanted[f"{callout.path}.first"] = (callout, value.first, False)
                wanted[f"{callout.path}.second"] = (callout, value.second, True)
            else:
                wanted[callout.path] = (callout, value, callout.quiet)
            if callout.beside:
                wanted[callout.beside[0]] = (callout, value_at(job, callout.beside[0]), True)
        self._said = {path: callout for path, (callout, _, _) in wanted.items()}
        for path in [p for p in self._fields if p not in wanted]:
            self._fields.pop(path).discard()
        for path in [p for p in self._combos if p not in chosen_from]:
            combo = self._combos.pop(path)
            combo.hide()
            combo.deleteLater()
        before: QWidget = self
        fresh = any(path not in self._fields for path in wanted)
        for path, (callout, value, quiet) in wanted.items():
            field = self._fields.get(path)
            if field is None:
                name = callout.name.write(self.units)
                name = tell("{value}, again", value=name) if path.endswith(".second") else name
                if callout.beside and path == callout.beside[0]:
                    name = f"{name}, {callout.beside[1].write(self.units)}"
                centred = callout.side in ("above", "below")
                field = Field(self, callout.kind, name, self._entering(path), quiet, centred)
                field.focused.connect(self._focused)
                field.taken.connect(self._went_on)
                field.left.connect(lambda _: self._leave())
                if callout.path in readings:
                    field.doubts = partial(self._doubt, path)
                self._fields[path] = field
                field.show()
            shut = closed and not path.startswith(("record", "work"))
            if field.isReadOnly() != shut:
                field.setReadOnly(shut)
            field.show_value(value, units)
            if fresh:
                QWidget.setTabOrder(before, field)
            before = field
        for path, callout in chosen_from.items():
            chosen = self._combos.get(path)
            combo = chosen or QComboBox(self)
            if chosen is None:
                combo.setObjectName(f"choice {path}")
                combo.setAccessibleName(callout.name.write(self.units))
                combo.activated.connect(partial(self._chosen, path))
                self._combos[path] = combo
                combo.show()
            choices = [c.write(self.units) for c in callout.choices]
            if combo.property("choices") != choices:
                combo.setProperty("choices", choices)
                combo.clear()
                combo.addItems(choices)
            combo.setEnabled(not closed)
            value = callout.value if callout.value is not None else value_at(job, path)
            meant = callout.means
            combo.setCurrentIndex(next((i for i, m in enumerate(meant) if m == value), 0))
            _sized(combo, path in said_there)
        self._make_absent(closed)
        self._measure_sides()
        self._show_facts()

    def _make_absent(self, closed: bool) -> None:
        """A word for each part that is not there, which puts it on."""
        absent = {c.path: c for c in self.scene.callouts if c.absent and not closed}
        for path in [p for p in self._absent if p not in absent]:
            button = self._absent.pop(path)
            button.hide()
            button.deleteLater()
        for path, callout in absent.items():
            says = callout.part.write(self.units)
            button = self._absent.get(path) or QPushButton(self)
            if path not in self._absent:
                button.setObjectName("absent")
                button.setFont(type_(14, SEMI))
                button.clicked.connect(partial(self._put_on, path))
                self._absent[path] = button
                button.show()
            if button.text() != says:
                button.setText(says)
                button.setAccessibleName(tell("Put on {part}", part=callout.part))
                button.adjustSize()

    def _put_on(self, path: str) -> None:
        callout = next(c for c in self.scene.callouts if c.path == path)
        self._enter(callout, path, callout.usual)
        self.show_field(path)

    def _take_off(self, path: str) -> None:
        callout = self._said[path]
        self._enter(callout, path, 0.0)
        self._absent[path].setFocus(Qt.FocusReason.OtherFocusReason)

    def _chosen(self, path: str, number: int) -> None:
        callout = next(c for c in self.scene.callouts if c.path == path)
        self._enter(callout, path, callout.means[number])

    def _entering(self, path: str) -> Callable[[float], None]:
        return lambda value: self._enter(self._said[path], path, value)

    def _focused(self, field: Field) -> None:
        path = next((p for p, f in self._fields.items() if f is field), "")
        self.unfold(path in self._folded)
        for callout in self.scene.callouts:
            if path.startswith(callout.path) and callout.mark:
                self.pointed.emit(callout.mark)
        self._show_facts()
        self._make_room()
        self._tie()
        self.update()

    def _place(self) -> None:
        """Lay the callouts out beside the drawing, in the order of the places they point at, without crossing."""
        said_there = self._place_sentence()
        super()._place()
        to_px = self._to_px
        anchors = {c.path: to_px.map(QPointF(*c.at)) for c in self.scene.callouts}
        placed = self._placing()
        if placed == self._placed and all(
            (at - self._anchored[path]).manhattanLength() <= STEADY_PX for path, at in anchors.items()
        ):
            self._leaders = [(near, anchors[path], path, row) for near, _, path, row in self._leaders]
            ends = {path: points for path, (_, points) in self._links(to_px).items()}
            self._tied = [p.moved(ends[p.value.id]) for p in self._tied if p.value.id in ends]
            self._tie()
            return
        self._show_facts()
        self._placed, self._anchored = placed, anchors
        self._names, self._leaders = said_there, []
        said_in = {c.path for c in self._sentence if isinstance(c, Callout)}
        there = [c for c in self.scene.callouts if c.path not in said_in and not c.absent]
        self._measure(there if self.scene.measured else [], to_px)
        self._tie()
        if self.scene.measured:
            return
        sides: dict[str, list[Callout]] = {"left": [], "right": [], "above": [], "below": []}
        for callout in there:
            sides[callout.side].append(callout)
        chosen = [c for c in sides["left"] if c.choices] if self._left_columns() == 2 else []
        self._column("left", [c for c in sides["left"] if c not in chosen], to_px)
        self._column("left", chosen, to_px, float(COLUMN_PX))
        self._column("right", sides["right"], to_px)
        for side in ("above", "below"):
            self._row(side, sides[side], to_px)

    def _place_sentence(self) -> list[tuple[QRectF, str, Qt.AlignmentFlag]]:
        """Lay the sentence out above the drawing, and below it what is not there; gives the name of that."""
        top, right = 38.0 if self.scene.caution else 12.0, self.width() - 24.0
        said_is = self.spoken, self.width(), top, self.units
        if self._said_is != said_is:
            self._said_is = said_is
            self._said_words, self._sentence_px = laid(self._sentence, lambda c: self._combos[c.path], 24.0, top, right)
        names: list[tuple[QRectF, str, Qt.AlignmentFlag]] = []
        if self._absent:
            says = tell("not on it:")
            x, y = 24.0, float(self.height() - (RULER_PX if self.scene.ruler else 0) - LINE_PX - 2)
            wide = QFontMetrics(type_(14)).horizontalAdvance(says)
            names.append((QRectF(x, y + 4, wide + 4, 18), says, Qt.AlignmentFlag.AlignLeft))
            x += wide + 6
            for button in self._absent.values():
                button.move(round(x), round(y))
                x += button.width() + 2
        return names

    def _links(self, to_px: QTransform) -> dict[str, tuple[list[Callout], tuple[Point, ...]]]:
        """The values that are placed as one, by name: a chain, or one by itself; and the points they go between."""
        said_in = {c.path for c in self._sentence if isinstance(c, Callout)}
        found: dict[str, tuple[list[Callout], tuple[Point, ...]]] = {}
        for callout in self.scene.callouts:
            if callout.path in said_in or callout.absent:
                continue
            ends = [to_px.map(QPointF(*at)).toTuple() for at in (callout.at, callout.to) if at is not None]
            links, points = found.get(callout.chain or callout.path, ([], ()))
            found[callout.chain or callout.path] = [*links, callout], (*points, *ends[1 if points else 0 :])
        return found

    def _measure(self, callouts: list[Callout], to_px: QTransform) -> None:
        """Lay the values out as dimensions of the drawing; what there is no room for waits behind a word."""
        self._tied, self._grounds, folded = [], [], []
        if callouts:
            links = self._links(to_px)
            bottom = self.height() - (RULER_PX if self.scene.ruler else 0) - (LINE_PX if self._absent else 0) - 6.0
            room = (10.0, self._top() + 6.0, self.width() - 10.0, bottom)
            taken = [_box_of(box.adjusted(-6, -2, 6, 2)) for box, _, _ in self._worded()]
            if self.scene.inset:
                taken.append(_box_of(QRectF(self.corner.geometry())))
            sewn = [m.line for m in self.scene.marks if m.pairs or m.size_mm]
            inked = np.concatenate(sewn) * self.scale + [to_px.dx(), to_px.dy()] if sewn else np.empty((0, 2))
            drawn = _box_of(to_px.mapRect(self._held))
            values = [self._sized_value(id, *link) for id, link in links.items()]
            self._tied, left_out = lay_out(values, room, drawn, taken, inked)
            for placed in self._tied:
                self._put(placed, links[placed.value.id][0])
            folded = [c for v in left_out for c in links[v.id][0]]
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
        """How wide the values on either side of a measured drawing are, with what ties them."""
        sides_of = self.scene.measured, self.units, [(p, f.width()) for p, f in self._fields.items()]
        if self._sides_of == sides_of:
            return
        self._sides_of = sides_of
        links = self._links(QTransform()) if self.scene.measured else {}
        wide: dict[str, list[float]] = {"left": [], "right": []}
        for id, link in links.items():
            value = self._sized_value(id, *link)
            wide[value.side].append(value.size[0] + TEXT_PX + 16.0)
        self._beside_px = {side: max(sizes, default=0.0) for side, sizes in wide.items()}

    def _put(self, placed: Placed, callouts: list[Callout]) -> None:
        """Move the fields of a value to its place, and its names beside them."""
        left, top, right, bottom = placed.box
        to_left = placed.value.side == "left" and placed.how != "within"
        chain = len(callouts) > 1 or placed.value.size[1] <= ROW_PX
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
        for path, field in self._fields.items():
            if path not in self._folded and field.isHidden():
                field.show()
        if not callouts:
            self._card.hide()
            return
        self.more.setText(tell("and {n} more", n=len(callouts)))
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
        self._ties = [tie for _, _, tie in self._tied_as.values()]

    def _placing(self) -> object:
        """What the places of the callouts depend on besides the places they point at."""
        words = [(c.path, c.side, c.name, c.beside, c.absent) for c in self.scene.callouts]
        rows = [c for c in self.scene.callouts if c.side in ("above", "below")]
        sizes = [w.width() for c in rows for w in self._widgets(c)]
        sizes += [len(self.scene.labels), self.scene.measured]
        sizes += [self._fields[c.beside[0]].width() for c in rows if c.beside]
        sizes += [w.width() for w in self._combos.values()]
        return self.size(), self.units, self._frame(), self._to_px, self._held, words, sizes, tuple(self._absent)

    def _widgets(self, callout: Callout) -> list[QWidget]:
        fields: list[QWidget | None] = [
            self._combos.get(callout.path), self._fields.get(callout.path), self._fields.get(f"{callout.path}.first"),
            self._fields.get(f"{callout.path}.second"),
        ]  # fmt: skip
        return [w for w in fields if w is not None]

    def _column(self, side: str, callouts: list[Callout], to_px: QTransform, in_px: float = 0.0) -> None:
        if not callouts:
            return
        placed = sorted(callouts, key=lambda c: to_px.map(QPointF(*c.at)).y())
        bottom = self.height() - 20 - (RULER_PX if self.scene.ruler else 0)
        if side == "right" and self.scene.inset:
            bottom = self.corner.y() - 3
        top = self._top() + 4.0
        bottom -= 20 if self._absent and side == "left" else 0
        if self.scene.callouts and any(c.side in ("above", "below") for c in self.scene.callouts):
            drawn = to_px.mapRect(self._held)
            top, bottom = drawn.top() - 10, int(drawn.bottom()) + 24
        tall = [float(sum(w.height() - 2 for w in self._widgets(c)) + 20) for c in placed]
        gap = min(max((bottom - top - sum(tall)) / len(placed), 0.0), 8.0)
        wanted = [to_px.map(QPointF(*c.at)).y() - 20 for c in placed]
        y = spread_by(wanted, [t + gap for t in tall], top, bottom)
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
            self._leaders.append((near, anchor, callout.path, ""))

    def _row(self, side: str, callouts: list[Callout], to_px: QTransform) -> None:
        if not callouts:
            return
        placed = sorted(callouts, key=lambda c: c.at[0])
        drawn = to_px.mapRect(self._held)
        widest = 12.0 * np.ceil(max((w.width() for c in placed for w in self._widgets(c)), default=0) / 12 + 0.4)
        width = max(78.0, min(widest, (self.width() - 16) / len(placed) - 4))
        wanted = [to_px.map(QPointF(*c.at)).x() - width / 2 for c in placed]
        xs = spread_by(wanted, [width + 4] * len(placed), 8.0, self.width() - 4)
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
            self._leaders.append((near, anchor, callout.path, side))

    def drawn_leaders(self) -> list[tuple[list[QPointF], bool]]:
        """The leaders that are seen, from the value to its place, and whether their field is under the hand.

        Those of a row bend at one height and run square on from there: in the order of their places they cannot cross.
        """
        under = (QApplication.focusWidget(), QApplication.widgetAt(QCursor.pos()))
        touched = next((p for p, f in self._fields.items() if f in under), "")
        heights = {row: [anchor.y() for _, anchor, _, r in self._leaders if r == row] for row in ("above", "below")}
        bends = {
            "above": min(heights["above"], default=0.0) - BEND_PX,
            "below": max(heights["below"], default=0.0) + BEND_PX,
        }
        return [
            ([near, *([QPointF(anchor.x(), bends[row])] if row else []), anchor], touched.startswith(path))
            for near, anchor, path, row in self._leaders
            if row or touched.startswith(path)
        ]

    def run(self, by_caliper: bool = False) -> list[str]:
        """The readings in the order in which they are taken: lengths first, then place by place, each twice."""
        there = [c for c in self.scene.callouts if f"{c.path}.second" in self._fields and not (by_caliper and c.tape)]
        groups: dict[str, int] = {}
        for callout in there:
            groups.setdefault(_group(callout.path), len(groups))
        there.sort(key=lambda c: (any(part.isdigit() for part in c.path.split(".")), groups[_group(c.path)]))
        paths = [f"{c.path}.{which}" for c in there for which in ("first", "second")]
        return [path for path in paths if not self._fields[path].isReadOnly()]

    def next_reading(self, after: str = "") -> str:
        """The reading that is still to be taken next, or nothing."""
        order = self.run()
        k = order.index(after) + 1 if after in order else 0
        return next((path for path in (*order[k:], *order[:k]) if not self._fields[path].text().strip()), "")

    def ask_next(self, after: str = "") -> bool:
        """Ask for the next reading; false where all are taken."""
        path = self.next_reading(after)
        return bool(path) and self.show_field(path)

    def _went_on(self, field: Field) -> None:
        """Enter was pressed in a field: on to the next reading that is asked for, or on from here when there was the last."""
        path = next((p for p, f in self._fields.items() if f is field), "")
        if path in self.run() and not self.ask_next(path) and self._asking:
            self._asking, self._all_read = False, True
            self._leave()

    def _leave(self) -> None:
        """Leave the readings."""
        self.setFocus(Qt.FocusReason.OtherFocusReason)
        self._show_facts()
        self._make_room()

    def _make_room(self) -> None:
        """Make room for what is asked under the drawing, or take it back."""
        wanted = PROMPT_PX if self.facts.isVisible() and self.facts.property("asking") else 0
        if wanted != self._prompt_px:
            self._prompt_px = wanted
            self._settle()

    def _doubt(self, path: str, mm: float) -> str:
        says = doubted(self._job.thing, path, mm) if self._job is not None else None
        return says.write(self.units) if says else ""

    def _place_name(self, path: str) -> str:
        """What a reading is of, with its place."""
        name, group = self._said[path].name.write(self.units), _group(path)
        if self._job is not None and any(part.isdigit() for part in group.split(".")):
            there = [c.beside for c in self.scene.callouts if c.beside and c.beside[0] == f"{group}.at_mm"]
            says = there[0][1] if there else said("at")
            name = f"{name} {says.write(self.units)} {write(length(value_at(self._job, f'{group}.at_mm')), self.units)}"
        return tell("{value}, again", value=name) if path.endswith(".second") else name

    def take(self, mm: float, using: str) -> bool:
        """Put a length read by an instrument into the reading that has the focus, whatever was half typed there, and move on to
        the next in the order in which they are read; false when no such reading has it.
        """
        order = self.run(by_caliper=True)
        path = self.at_hand
        if path not in order:
            return False
        self.using = using
        try:
            if not self._fields[path].put(mm):
                return True
        finally:
            self.using = ""
        following = order[(order.index(path) + 1) % len(order)]
        self._fields[following].setFocus(Qt.FocusReason.TabFocusReason)
        return True

    def show_field(self, path: str) -> bool:
        """Put the focus on the field of a place in the job; false when it is not on this board."""
        for candidate in (path, f"{path}.first"):
            if candidate in self._fields:
                self.unfold(candidate in self._folded)
                self._fields[candidate].setFocus(Qt.FocusReason.ShortcutFocusReason)
                return True
        return False


def _sized(combo: QComboBox, in_sentence: bool) -> None:
    """A choice as wide as it must be: in a sentence as the word it shows, by itself as its widest word."""
    sized = (in_sentence, combo.currentText(), combo.property("choices"))
    if combo.property("sized") == sized and combo.font().weight() == BOLD:
        return
    combo.setProperty("sized", sized)
    if combo.property("word") != in_sentence:
        combo.setProperty("word", in_sentence)
        combo.style().unpolish(combo)
        combo.style().polish(combo)
    font = type_(SENTENCE_PX if in_sentence else 18, BOLD)
    combo.setFont(font)
    metrics = QFontMetrics(font)
    widest = max(metrics.horizontalAdvance(combo.itemText(k)) for k in range(combo.count()))
    combo.view().setMinimumWidth(widest + CHOICE_PX)
    if in_sentence:
        combo.setFixedSize(metrics.horizontalAdvance(combo.currentText()) + WORD_PX, 25)
    else:
        combo.setFixedSize(min(widest + CHOICE_PX, COLUMN_PX - 20), 28)


def _box_of(box: QRectF) -> Box:
    return box.left(), box.top(), box.right(), box.bottom()


def _group(path: str) -> str:
    """The place a reading belongs to: a station, or the thing itself."""
    parts = path.split(".")
    k = next((k for k, part in enumerate(parts) if part.isdigit()), None)
    return path if k is None else ".".join(parts[: k + 1])
