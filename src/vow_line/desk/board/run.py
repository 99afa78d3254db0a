"""Being led through the readings: which comes next, what is asked under the drawing, what is doubtful."""

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont, QFontMetrics
from PySide6.QtWidgets import QPushButton, QWidget

from ...core.job import value_at
from ...core.measure import Reading
from ...core.measure.doubt import doubted
from ...core.quantity import write
from ...core.reckoning import length
from ...core.texts import NOTHING, said, tell
from ..look.ink import BOLD, type_
from ..look.words import Words
from .callouts import WithCallouts
from .field import Field
from .values import Enter

PROMPT_PX = 34  # for what is asked, under the drawing
ASKED_PX = 20
ACROSS_PX = 54  # letters that are read from two metres: their capitals a two-hundredth of that high (common practice)
LEAST_ACROSS_PX = 30


class WithRun(WithCallouts):
    """Leads from reading to reading. `asked` wants to say how the reading at a place was taken; `finished` goes on."""

    asked = Signal(str)
    finished = Signal()

    def __init__(self, enter: Enter, parent: QWidget | None = None) -> None:
        super().__init__(enter, parent)
        self.using = ""
        self._facts_of = ""
        self._asking = self._all_read = self._across = False
        self.facts = QPushButton(self)
        self.facts.setObjectName("facts")
        self.facts.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.facts.clicked.connect(self._ask)
        self.facts.hide()
        self.follows = Words(self)
        self.follows.setFont(type_(ASKED_PX, BOLD))
        self.follows.hide()

    def _field_made(self, field: Field) -> None:
        field.taken.connect(self._went_on)
        field.textEdited.connect(lambda _: self._show_facts() if self._across else None)
        field.left.connect(lambda _: self._leave())

    def _value_made(self, path: str, field: Field, reading: bool) -> None:
        if reading:
            field.doubts = partial(self._doubt, path)

    def _values_made(self) -> None:
        super()._values_made()
        self._show_facts()

    def _value_focused(self, path: str) -> None:
        super()._value_focused(path)
        self._show_facts()
        self._make_room()

    def _place(self) -> None:
        super()._place()
        self._put_facts()

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
            self.follows.hide()
            return
        self._facts_of, follows = self.at_hand, ""
        if self._all_read:
            text = tell("All is read. Enter goes on.")
        elif asked:
            self._asking = True
            then = self.next_reading(self.at_hand)
            text = self._place_name(self.at_hand)
            typed = self._fields[self.at_hand].text().strip() if self._across else ""
            if typed:
                text = tell("{now}: {typed}", now=text, typed=typed)
            if then and then != self.at_hand and self._across:
                follows = tell("then {then}", then=self._place_name(then))
            elif then and then != self.at_hand:
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
        self.facts.setFont(self._asked_type(text) if asked else type_(14))
        if text != self.facts.text():
            self.facts.setText(text)
            self.facts.setAccessibleName(text)
        self.follows.setText(follows)
        self.follows.setVisible(bool(follows))
        self._put_facts()

    def ask_across(self, across: bool) -> None:
        """Ask in letters that a helper reads from two metres, with what is typed beside it; or in ordinary ones."""
        if across != self._across:
            self._across = across
            self._show_facts()
            self._make_room()

    def _asked_type(self, text: str) -> QFont:
        """Letters for what is asked, as large as there is room for."""
        if not self._across:
            return type_(ASKED_PX, BOLD)
        for px in range(ACROSS_PX, LEAST_ACROSS_PX, -4):
            if QFontMetrics(type_(px, BOLD)).horizontalAdvance(text) < self.width() - 2 * ASKED_PX:
                return type_(px, BOLD)
        return type_(LEAST_ACROSS_PX, BOLD)

    def _put_facts(self) -> None:
        if self.facts.isHidden():
            return
        foot = self.height() - (self.ruler_px or 4) - 4
        for words in (self.follows, self.facts):  # what is asked stands over what follows
            if not words.isHidden():
                words.adjustSize()
                foot -= words.height()
                words.move((self.width() - words.width()) // 2, foot)
                words.raise_()

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
        unasked = {f"{c.path}.{which}" for c in self.scene.callouts if c.unasked for which in ("first", "second")}
        order = [path for path in self.run() if path not in unasked or path == after]
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
        asking = self.facts.isVisible() and self.facts.property("asking")
        wanted = 0 if not asking else self.facts.height() + self.follows.height() + 4 if self._across else PROMPT_PX
        if wanted != self._prompt_px:
            self._prompt_px = wanted
            self.settle()

    def _doubt(self, path: str, mm: float) -> str:
        says = doubted(self._job.thing, path, mm) if self._job is not None else None
        return says.write(self.units) if says else ""

    def _place_name(self, path: str) -> str:
        """What a reading is of, with its place."""
        name, group = self._said[path].name.write(self.units), _group(path)
        if self._job is not None and hasattr(value_at(self._job, group), "at_mm"):
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


def _group(path: str) -> str:
    """The place a reading belongs to: a station, or the thing itself."""
    parts = path.split(".")
    k = next((k for k, part in enumerate(parts) if part.isdigit()), None)
    return path if k is None else ".".join(parts[: k + 1])
