"""Sentences and sums that keep their numbers: what is said stays apart from how its units are written.

A *reckoning* is a value with its name and the sum it came from, as a worker would write it. It names the parts of the
drawing it measures, so that pointing at one lights up the other.
"""

from dataclasses import dataclass

from .quantity import Q, Units, write


@dataclass(frozen=True, slots=True)
class Said:
    """A sentence with places for quantities, `{gap}` with its unit, `{gap:n}` the bare number, and for what the maker wrote."""

    template: str
    values: tuple[tuple[str, Q | str], ...] = ()

    def write(self, units: Units) -> str:
        """The sentence in the maker's units."""
        return self.template.format_map({n: q if isinstance(q, str) else _InUnits(q, units) for n, q in self.values})


@dataclass(frozen=True, slots=True)
class _InUnits:
    quantity: Q
    units: Units

    def __format__(self, spec: str) -> str:
        return write(self.quantity, self.units, unit=spec != "n")


def said(template: str, **values: Q | str) -> Said:
    """A sentence, its quantities, and the words in it that are the maker's own."""
    return Said(template, tuple(values.items()))


@dataclass(frozen=True, slots=True)
class Reckoning:
    """A named value, the sum it came from, and the ids of the drawing's parts it measures."""

    key: str
    name: str
    value: Said
    sum: Said
    marks: tuple[str, ...] = ()
    number: float | None = None
    more: tuple[Said, ...] = ()


def reckon(
    key: str, name: str, value: Q, sum_: Said, marks: tuple[str, ...] = (), more: tuple[Said, ...] = ()
) -> Reckoning:
    """A reckoning whose value is one quantity."""
    return Reckoning(key, name, said("{v}", v=value), sum_, marks, value.value, more)


def length(mm: float) -> Q:
    """A length, shown to 0.1 mm or the maker's fraction."""
    return Q("length", float(mm))


def fine(mm: float) -> Q:
    """A small length, shown to 0.01 mm."""
    return Q("fine", float(mm))


def long(mm: float) -> Q:
    """A length of thread, shown in m."""
    return Q("long", float(mm))


def count(n: float) -> Q:
    """A number of things."""
    return Q("count", float(n))


def percent(share: float) -> Q:
    """A share, 0.03 shown as 3 %."""
    return Q("percent", float(share))


def minutes(n: float) -> Q:
    """A time, shown in minutes, hours or days."""
    return Q("minutes", float(n))


def times(n: float) -> Q:
    """A multiple, shown as `4.2 times`."""
    return Q("times", float(n))
