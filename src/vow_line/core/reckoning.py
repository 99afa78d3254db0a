"""Sums that keep their numbers.

A *reckoning* is a value with its name and the sum it came from, as a worker would write it. It names the parts of the
drawing it measures, so that pointing at one lights up the other.
"""

from dataclasses import dataclass, replace

from .quantity import Q
from .texts import Said, said


@dataclass(frozen=True, slots=True)
class Reckoning:
    """A named value, the sum it came from, and the ids of the drawing's parts it measures."""

    key: str
    name: Said
    value: Said
    sum: Said
    marks: tuple[str, ...] = ()
    number: float | None = None
    more: tuple[Said, ...] = ()


def reckon(
    key: str, name: Said, value: Q, sum_: Said, marks: tuple[str, ...] = (), more: tuple[Said, ...] = ()
) -> Reckoning:
    """A reckoning whose value is one quantity."""
    return Reckoning(key, name, said("{v}", v=value), replace(sum_, total=value), marks, value.value, more)


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
