"""What is said to a maker: sentences with slots for numbers, for other sentences and for the maker's own words, written in one
language or another.

A text is marked for translation by standing in `said`, `several` or `tell`, whole and without anything pasted into it: whatever
changes has a slot. `./run texts` collects them all.
"""

from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from string import Formatter
from typing import Union

from .language import spoken, translated, translated_for
from .quantity import Q, Units, write

Value = Union[Q, str, int, "Said"]
"""What a slot holds: a quantity, a bare number, the maker's own words, which are never translated, or another text."""


@dataclass(frozen=True, slots=True)
class Said:
    """A text: `{gap}` is a quantity with its unit, `{gap:n}` its bare number in the unit that is shown beside it. Where `more`
    is given it is the text for any number but one of what the slot `n` counts. `context` says to a translator where a word
    stands.
    """

    template: str
    values: tuple[tuple[str, Value], ...] = ()
    context: str = ""
    more: str = ""

    def write(self, units: Units) -> str:
        """The text in the maker's units and language."""
        return _written(self, units, spoken())

    def filled(self, **values: Value) -> "Said":
        """The text with more in its slots."""
        return Said(self.template, (*self.values, *values.items()), self.context, self.more)

    def __format__(self, spec: str) -> str:
        raise TypeError(f"{self.template!r} is written in a maker's units and language, not pasted")

    def __bool__(self) -> bool:
        return bool(self.template)


@lru_cache(16384)
def _written(text: Said, units: Units, _language: object) -> str:
    """A text in these units and the language spoken: most of what a drawing says is as it was before an edit."""
    template = _translated(text)
    shown = {v.kind: v for n, v in text.values if isinstance(v, Q) and f"{{{n}}}" in template}
    return template.format_map({
        n: v if isinstance(v, str | int) else _Slot(v, units, shown.get(v.kind) if isinstance(v, Q) else None)
        for n, v in text.values
    })  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Slot:
    value: Q | Said
    units: Units
    shown: Q | None = None

    def __format__(self, spec: str) -> str:
        if isinstance(self.value, Said):
            return self.value.write(self.units)
        bare = spec == "n"
        return write(self.value, self.units, unit=not bare, like=self.shown if bare else None)


NOTHING = Said("")


def said(template: str, **values: Value) -> Said:
    """A text with what stands in its slots."""
    return Said(template, tuple(values.items()))


def word(template: str, context: str) -> Said:
    """A word that stands in the slot of another text, which a language may have to bend: the `context` says where."""
    return Said(template, context=context)


def several(one: str, more: str, *, n: Q, **values: Value) -> Said:
    """A text of one or of several, as the quantity `n` has it."""
    return Said(one, (("n", n), *values.items()), more=more)


def tell(template: str, **values: Value) -> str:
    """A text written at once, for what has no quantities, or none whose units a maker chooses."""
    return said(template, **values).write(Units())


def between_slots(text: Said) -> list[tuple[str, str]]:
    """The text in the maker's language, cut at its slots: what is before each, and its name; no name after the last."""
    return [(words, slot or "") for words, slot, _, _ in Formatter().parse(_translated(text))]


def listed(texts: "list[Said] | tuple[Said, ...]") -> Said:
    """Texts one after another, with commas and an `and`."""
    if not texts:
        return NOTHING
    found = texts[0]
    for k, text in enumerate(texts[1:], 2):
        found = said("{a} and {b}", a=found, b=text) if k == len(texts) else said("{a}, {b}", a=found, b=text)
    return found


def verbatim(words: str) -> Said:
    """The maker's own words as a text."""
    return Said("{words}", (("words", words),))


def amount(quantity: Q) -> Said:
    """A quantity by itself."""
    return Said("{q}", (("q", quantity),))


def joined(*texts: Said) -> Said:
    """Texts with commas between them, those that say nothing left out."""
    found = NOTHING
    for text in texts:
        found = said("{a}, {b}", a=found, b=text) if found and text else found or text
    return found


def summed(terms: "list[Said] | tuple[Said, ...]") -> Said:
    """The terms of a sum."""
    found = NOTHING
    for term in terms:
        found = said("{a} + {b}", a=found, b=term) if found else term
    return found


MONTHS = (
    said("January"), said("February"), said("March"), said("April"), said("May"), said("June"), said("July"), said("August"),
    said("September"), said("October"), said("November"), said("December"),
)  # fmt: skip


def day(on: date) -> Said:
    """A day of the year."""
    return said("{n} {month}", n=on.day, month=MONTHS[on.month - 1])


WEEKDAYS = (
    said("Mon"), said("Tue"), said("Wed"), said("Thu"), said("Fri"), said("Sat"), said("Sun"),
)  # fmt: skip


SHORT_MONTHS = (
    said("Jan"), said("Feb"), said("Mar"), said("Apr"), word("May", "short"), said("Jun"), said("Jul"), said("Aug"),
    said("Sep"), said("Oct"), said("Nov"), said("Dec"),
)  # fmt: skip


def day_of_week(on: date) -> Said:
    """A day with its place in the week, short."""
    return said("{weekday} {n} {month}", weekday=WEEKDAYS[on.weekday()], n=on.day, month=SHORT_MONTHS[on.month - 1])


def dated_on(on: date) -> Said:
    """A day of a year that may be long ago."""
    return said("{day} {year}", day=day(on), year=on.year)


def _translated(text: Said) -> str:
    if not text.more:
        return translated(text.template, text.context)
    n = next(round(v.value) for name, v in text.values if name == "n" and isinstance(v, Q))
    return translated_for(n, text.template, text.more)


CAPITALS = word("capitals", "left as it is where headings begin with a capital, anything else where they do not")


def heading(title: Said, units: Units | None = None) -> str:
    """A title as a heading begins: with a capital, where the language has them so."""
    text = title.write(units or Units())
    return text[:1].upper() + text[1:] if CAPITALS.write(Units()) == CAPITALS.template else text
