"""Callouts: the values on the drawing, edited in place, laid out beside what they point at."""

from collections.abc import Callable
from functools import partial
from typing import Any

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QCursor, QFontMetrics, QTransform
from PySide6.QtWidgets import QApplication, QComboBox, QPushButton, QWidget

from ...core.drawing import Callout
from ...core.job import Job, value_at
from ...core.measure import Reading
from ...core.texts import tell
from ..look.ink import BOLD, type_
from .drawn import COLUMN_PX, RULER_PX, Drawn
from .field import Field

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
    def at_hand(self) -> str:
        """The place of the field that has the focus in its window, or nothing."""
        focused = self.window().focusWidget()
        return next((p for p, f in self._fields.items() if f is focused), "")

    def _ask(self) -> None:
        self.show_field(self._facts_of)  # a press gave the focus to the board
        self.asked.emit(self._facts_of)

    def _show_facts(self) -> None:
        """Under the drawing, how the reading that has the focus was taken."""
        place, _, which = self.at_hand.rpartition(".")
        reading = value_at(self._job, place) if self._job is not None and which in ("first", "second") else None
        there = isinstance(reading, Reading) and getattr(reading, which) is not None
        self.facts.setVisible(there)
        if not there:
            return
        self._facts_of = self.at_hand
        how = getattr(reading, f"{which}_taken").says.write(self.units)
        text = tell("Read {how}", how=how) if how else tell("When, by whom and with what it was read: not said")
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
        for callout in self.scene.callouts:
            value = None if callout.value == "" else callout.value
            if callout.choices:
                chosen_from[callout.path] = callout
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
        for path in [p for p in self._combos if p not in chosen_from]:
            combo = self._combos.pop(path)
            combo.hide()
            combo.deleteLater()
        self._said = {path: callout for path, (callout, _, _) in wanted.items()}
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
                combo.setFont(type_(18, BOLD))
                combo.activated.connect(partial(self._chosen, path))
                self._combos[path] = combo
                combo.show()
            choices = [c.write(self.units) for c in callout.choices]
            if combo.property("choices") != choices:
                combo.setProperty("choices", choices)
                combo.clear()
                combo.addItems(choices)
                widest = max(QFontMetrics(combo.font()).horizontalAdvance(words) for words in choices)
                combo.setFixedSize(min(widest + CHOICE_PX, COLUMN_PX - 20), 28)
            combo.setEnabled(not closed)
            value = callout.value if callout.value is not None else value_at(job, path)
            meant = callout.means
            combo.setCurrentIndex(next((i for i, m in enumerate(meant) if m == value), 0))
        self._show_facts()

    def _chosen(self, path: str, number: int) -> None:
        callout = next(c for c in self.scene.callouts if c.path == path)
        self._enter(callout, path, callout.means[number])

    def _entering(self, path: str) -> Callable[[float], None]:
        return lambda value: self._enter(self._said[path], path, value)

    def _focused(self, field: Field) -> None:
        path = next((p for p, f in self._fields.items() if f is field), "")
        for callout in self.scene.callouts:
            if path.startswith(callout.path) and callout.mark:
                self.pointed.emit(callout.mark)
        self._show_facts()
        self.update()

    def _place(self) -> None:
        """Lay the callouts out beside the drawing, in the order of the places they point at, without crossing."""
        super()._place()
        to_px = self._to_px
        anchors = {c.path: to_px.map(QPointF(*c.at)) for c in self.scene.callouts}
        placed = self._placing()
        if placed == self._placed and all(
            (at - self._anchored[path]).manhattanLength() <= STEADY_PX for path, at in anchors.items()
        ):
            self._leaders = [(near, anchors[path], path, row) for near, _, path, row in self._leaders]
            return
        self._show_facts()
        self._placed, self._anchored = placed, anchors
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

    def _placing(self) -> object:
        """What the places of the callouts depend on besides the places they point at."""
        words = [(c.path, c.side, c.name, c.beside) for c in self.scene.callouts]
        rows = [c for c in self.scene.callouts if c.side in ("above", "below")]
        sizes = [w.width() for c in rows for w in self._widgets(c)]
        sizes += [self._fields[c.beside[0]].width() for c in rows if c.beside]
        return self.size(), self.units, self._frame(), self._to_px, self._held, words, sizes

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
        top = 34.0 if self.scene.caution else 12.0
        if self.scene.callouts and any(c.side in ("above", "below") for c in self.scene.callouts):
            drawn = to_px.mapRect(self._held)
            top, bottom = drawn.top() - 10, int(drawn.bottom()) + 24
        pairs = any(f"{c.path}.second" in self._fields for c in placed)
        step = min(76.0 if pairs else 54.0, max((bottom - top) / len(placed), 40.0))
        wanted = [to_px.map(QPointF(*c.at)).y() - 20 for c in placed]
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
            self._leaders.append((near, anchor, callout.path, ""))

    def _row(self, side: str, callouts: list[Callout], to_px: QTransform) -> None:
        if not callouts:
            return
        placed = sorted(callouts, key=lambda c: c.at[0])
        drawn = to_px.mapRect(self._held)
        widest = 12.0 * np.ceil(max((w.width() for c in placed for w in self._widgets(c)), default=0) / 12 + 0.4)
        width = max(78.0, min(widest, (self.width() - 16) / len(placed) - 4))
        wanted = [to_px.map(QPointF(*c.at)).x() - width / 2 for c in placed]
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

    def take(self, mm: float, using: str) -> bool:
        """Put a length read by an instrument into the reading that has the focus, whatever was half typed there, and move on to
        the next in the order in which they are read; false when no such reading has it.
        """
        order = [f"{c.path}.{which}" for c in self.scene.callouts if not c.tape for which in ("first", "second")]
        order = [path for path in order if path in self._fields and not self._fields[path].isReadOnly()]
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
                self._fields[candidate].setFocus(Qt.FocusReason.ShortcutFocusReason)
                return True
        return False


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
