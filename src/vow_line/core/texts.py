"""What is said to a maker: sentences with slots for numbers, for other sentences and for the maker's own words, written in one
language or another.

A text is marked for translation by standing in `said`, `several` or `tell`, whole and without anything pasted into it: whatever
changes has a slot. `./run texts` collects them all.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache
from string import Formatter
from typing import Union

from .balance import balanced
from .language import spoken, translated, translated_for
from .quantity import Q, Units, write

Value = Union[Q, str, int, "Said"]
"""What a slot holds: a quantity, a bare number, the maker's own words, which are never translated, or another text."""


@dataclass(frozen=True, slots=True)
class Said:
    """A text: `{gap}` is a quantity with its unit, `{gap:n}` its bare number in the unit that is shown beside it. Where `more`
    is given it is the text for any number but one of what the slot `n` counts. `context` says to a translator where a word
    stands. A sum has its `total`, to which its terms add as they are shown.
    """

    template: str
    values: tuple[tuple[str, Value], ...] = ()
    context: str = ""
    more: str = ""
    total: Q | None = None

    def write(self, units: Units) -> str:
        """The text in the maker's units and language."""
        return _written(self, units, spoken())

    def filled(self, **values: Value) -> "Said":
        """The text with more in its slots."""
        return replace(self, values=(*self.values, *values.items()))

    def __format__(self, spec: str) -> str:
        raise TypeError(f"{self.template!r} is written in a maker's units and language, not pasted")

    def __bool__(self) -> bool:
        return bool(self.template)


@lru_cache(16384)
def _written(text: Said, units: Units, _language: object) -> str:
    """A text in these units and the language spoken: most of what a drawing says is as it was before an edit."""
    if text.total is not None:
        text = _as_shown(text, text.total, units)
    template = _translated(text)
    shown = {v.kind: v for n, v in text.values if isinstance(v, Q) and f"{{{n}}}" in template}
    return template.format_map({
        n: v if isinstance(v, str | int) else _Slot(v, units, shown.get(v.kind) if isinstance(v, Q) else None)
        for n, v in text.values
    })  # fmt: skip


Terms = list[tuple[int, Q]]
_SIGNS = {"+": 1, "−": -1}


def _as_shown(text: Said, total: Q, units: Units) -> Said:
    """A sum with its terms as they are shown beside its total; as it is where it is more than terms added up."""
    text = replace(text, total=None)
    terms = _terms(text)
    shown = balanced(total, terms, units) if terms else None
    return text if shown is None else _with_terms(text, iter(shown))


def _terms(text: Said) -> Terms | None:
    """What is added up, with how often and its sign, in order; None where anything else is done than to add and take away."""
    held, terms, sign, factor = dict(text.values), Terms(), 1, 0
    for k, (words, slot, _, _) in enumerate(Formatter().parse(text.template)):
        if slot is None:
            return terms if terms and not factor and not set(words) & _NOT_ADDED else None
        if factor:  # so many of what comes now
            value = held.get(slot)
            each = [(1, value)] if isinstance(value, Q) else _terms(value) if isinstance(value, Said) else None
            if words != " × " or each is None:
                return None
            terms += [(sign * factor * m, q) for m, q in each]
            factor = 0
            continue
        times = re.fullmatch(r"(\d+) × ", words[-4:].lstrip()) if words.endswith("× ") else None
        said_before = words.removesuffix(times[0]) if times else words
        if set(said_before) & _NOT_ADDED:
            return None
        signs = [c for c in said_before if c in _SIGNS]
        if len(signs) != (k > 0) or (signs and not said_before.endswith(f"{signs[0]} ")):
            return None
        sign = _SIGNS[signs[0]] if signs else 1
        n, value = sign * (int(times[1]) if times else 1), held.get(slot)
        if isinstance(value, Q) and value.kind == "count":
            if value.value != round(value.value) or round(value.value) < 1:
                return None
            factor = round(value.value)
        elif isinstance(value, Q):
            terms.append((n, value))
        elif isinstance(value, Said) and (inner := _terms(value)) is not None and value.total is None:
            terms += [(n * m, q) for m, q in inner]
        else:
            return None
    return terms or None


_NOT_ADDED = set("×/√()²π%:;")


def _with_terms(text: Said, shown: Iterator[Q]) -> Said:
    """A sum with other quantities in its slots, in order."""
    held = dict(text.values)
    for _, slot, _, _ in Formatter().parse(text.template):
        if slot is None:
            break
        value = held.get(slot)
        if isinstance(value, Q) and value.kind != "count":
            held[slot] = next(shown)
        elif isinstance(value, Said):
            held[slot] = _with_terms(value, shown)
    return replace(text, values=tuple(held.items()))


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
