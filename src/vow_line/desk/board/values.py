"""The values of a drawing: fields to edit them in, choices, words for the parts that are not there."""

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtWidgets import QPushButton, QWidget
from shiboken6 import delete

from ...core.drawing import Callout
from ...core.job import Job, value_at
from ...core.language import spoken
from ...core.measure import Reading
from ...core.texts import tell
from ..look.ink import SEMI, type_
from .choice import Choice
from .drawn import Drawn
from .field import Field
from .sentence import Part, parts_of

MOST_SPARE = 90  # fields: more than any two jobs have at all their stations
Enter = Callable[[Callout, str, Any], None]


class WithValues(Drawn):
    """Makes what the values of a scene are edited in; where it stands is for others to say. `pointed` names the mark that a
    value with the focus belongs to; `enter(callout, path, value)` is called with an edit.
    """

    pointed = Signal(str)

    def __init__(self, enter: Enter, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._enter = enter
        self._fields: dict[str, Field] = {}
        self._spare: dict[str, Field] = {}  # put by, and taken up again
        self._spare_combos: dict[str, Choice] = {}
        self._combos: dict[str, Choice] = {}
        self._shown: dict[str, object] = {}  # what each choice was last shown from
        self._chosen_from: dict[str, tuple[Callout, int]] = {}  # and by which callout, and which of them it is
        self._steady: object = None
        self._said: dict[str, Callout] = {}
        self._job: Job | None = None
        self._sentence: list[Part] = []
        self._absent: dict[str, QPushButton] = {}
        self._making = False

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

    def untaken(self) -> str:
        """Take what is half typed; gives what of it cannot be taken, and why."""
        left = [f for f in [*self._fields.values()] if not f.settled()]  # what is taken may change which there are
        return "\n".join(
            tell(
                "“{typed}” for {value} is not taken. {why}",
                typed=f.text(),
                value=f.accessibleName(),
                why=f.wrong.text(),
            )
            for f in left
        )

    def give_up(self) -> None:
        """Show what stands instead of what is half typed."""
        for field in self._fields.values():
            field.give_up()

    def _make_fields(self, job: Job) -> None:
        self._making = True  # a field that goes may give the focus to another before all of them are there
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
            self._spare[path] = self._fields.pop(path)
            self._spare[path].put_by()
        for path in [p for p in self._combos if p not in chosen_from]:
            self._spare_combos[path] = self._combos.pop(path)
            self._spare_combos[path].hide()
            if len(self._spare_combos) > MOST_SPARE // 2:
                delete(self._spare_combos.pop(next(iter(self._spare_combos))))
            self._chosen_from.pop(path, None)
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
                enter, unasked = self._entering(path), callout.unasked and not quiet
                field = self._spare.pop(path, None)
                if field is None and len(self._spare) >= MOST_SPARE:
                    field = self._spare.pop(next(iter(self._spare)))
                if field is None:
                    field = Field(self)
                    field.focused.connect(self._focused)
                    self._field_made(field)
                field.take_up(callout.kind, name, enter, quiet, centred, unasked)
                self._fields[path] = field
                self._value_made(path, field, callout.path in readings)
                field.show()
            shut = closed and not path.startswith(("record", "work"))
            if field.isReadOnly() != shut:
                field.setReadOnly(shut)
            field.show_value(value, units)
            if fresh:
                QWidget.setTabOrder(before, field)
            before = field
        written: dict[int, list[str]] = {}  # what several choose from is written once
        now = said_there, closed, units, self.ink.name, spoken()
        steady, self._steady = now == self._steady, now
        for path, callout in chosen_from.items():
            same, there = self._chosen_from.get(path, (None, -1))
            if steady and same is callout and callout.value is not None and self._combos[path].currentIndex() == there:
                continue
            combo = self._combos.get(path)
            if combo is None:
                combo = self._spare_combos.pop(path, None)
                if combo is None:
                    combo = Choice(self)
                    combo.setObjectName(f"choice {path}")
                    combo.activated.connect(partial(self._chosen, path))
                combo.setAccessibleName(callout.name.write(self.units))
                self._combos[path] = combo
                combo.show()
            choices = written.get(id(callout.choices))
            if choices is None:
                choices = written[id(callout.choices)] = [c.write(self.units) for c in callout.choices]
            value = callout.value if callout.value is not None else value_at(job, path)
            number = next((i for i, m in enumerate(callout.means) if m == value), 0)
            self._chosen_from[path] = callout, number
            shown = choices, number, closed, path in said_there, self.ink.name
            if self._shown.get(path) == shown and combo.currentIndex() == number:
                continue
            self._shown[path] = shown
            combo.setEnabled(not closed or path == "wearer")  # which of them is looked at changes no plan
            combo.offer(choices, number, path in said_there)
        self._make_absent(closed)
        self._making = False
        self._values_made()

    def _field_made(self, field: Field) -> None:
        """A field was made, whatever it is of."""

    def _value_made(self, path: str, field: Field, reading: bool) -> None:
        """A field is that of a place from now on, of a reading or of another value."""

    def _values_made(self) -> None:
        """All fields and choices of the scene are there."""

    def _value_focused(self, path: str) -> None:
        """The field of a place has the hand."""

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

    def let_go_spares(self) -> None:
        """Let go of the fields and choices that are put by: to give them another look takes longer than to make them anew."""
        for spare in (*self._spare.values(), *self._spare_combos.values()):
            delete(spare)
        self._spare.clear()
        self._spare_combos.clear()

    def _there(self, path: str) -> Callout | None:
        """The callout at a path; None where it has gone since a hand went for it."""
        return next((c for c in self.scene.callouts if c.path == path), None)

    def _put_on(self, path: str) -> None:
        if (callout := self._there(path)) is not None:
            self._enter(callout, path, callout.usual)
            self.show_field(path)

    def _take_off(self, path: str) -> None:
        callout = self._said[path]
        self._enter(callout, path, 0.0)
        self._absent[path].setFocus(Qt.FocusReason.OtherFocusReason)

    def _chosen(self, path: str, number: int) -> None:
        if (callout := self._there(path)) is not None and number < len(callout.means):
            self._enter(callout, path, callout.means[number])

    def _entering(self, path: str) -> Callable[[float], None]:
        return lambda value: self._enter(self._said[path], path, value)

    def _focused(self, field: Field) -> None:
        if self._making:
            return
        path = next((p for p, f in self._fields.items() if f is field), "")
        for callout in self.scene.callouts:
            if path.startswith(callout.path) and callout.mark:
                self.pointed.emit(callout.mark)
        self._value_focused(path)
        self.update()

    def _about_it(self) -> object:
        return super()._about_it(), [*self._fields], [*self._combos], [*self._absent], self.spoken

    def _values_at(self) -> list[QRectF]:
        widgets = (*self._fields.values(), *self._combos.values())
        return [*super()._values_at(), *(QRectF(w.geometry()) for w in widgets if not w.isHidden())]

    def _widgets(self, callout: Callout) -> list[QWidget]:
        fields: list[QWidget | None] = [
            self._combos.get(callout.path), self._fields.get(callout.path), self._fields.get(f"{callout.path}.first"),
            self._fields.get(f"{callout.path}.second"),
        ]  # fmt: skip
        return [w for w in fields if w is not None]

    def show_field(self, path: str) -> bool:
        """Put the focus on the field of a place in the job; false when it is not on this board."""
        for candidate in (path, f"{path}.first"):
            if candidate in self._fields:
                self._fields[candidate].setFocus(Qt.FocusReason.ShortcutFocusReason)
                return True
        return False
