"""What every kind of thing that is measured declares: its readings, as fields, and the body that follows from them."""

from abc import abstractmethod
from collections.abc import Callable
from itertools import pairwise
from typing import Any, ClassVar, Self, TypeVar

from pydantic import Field

from ..curve import Line
from ..drawing import Handle, Label
from ..errors import RefusedChange
from ..finding import Finding, Mend
from ..frozen import Frozen
from ..reckoning import length
from ..texts import NOTHING, Said, said, tell
from .body import Body, Measured
from .traced import DrawnWith


class Thing(Frozen):
    """A thing with its readings. A subclass adds `body: Literal[...]` and its own fields with ranges.

    `over` is what lies between it and the leather when it is measured: a sleeve, a sock, film.
    """

    body: str
    name: str
    over: str = Field(default="", max_length=200)

    says: ClassVar[Said]
    """What a maker calls it."""
    hint: ClassVar[Said]
    """What else it may be."""
    gives: ClassVar[type[Body]]
    """The shape of body its readings give."""
    caution: ClassVar[Said] = NOTHING

    @classmethod
    @abstractmethod
    def blank(cls) -> Self:
        """Such a thing, nothing of it measured yet."""

    @abstractmethod
    def measure(self) -> Measured:
        """The body these readings describe, or holds that say which readings it waits for. Never raises."""

    def labels(self) -> tuple[Label, ...]:
        """Words on the drawing."""
        return ()

    def handles(self) -> tuple[Handle, ...]:
        """What can be dragged on its drawing."""
        return ()

    def place_of(self, x: float, y: float) -> float | None:
        """Where a station would stand that is put at (x, y) of the drawing; None where none can."""
        return round(x, 1) if x >= 0 else None

    def traced(self, ring: Line, drawn_with: DrawnWith) -> tuple[tuple[str, Any], ...]:
        """What changes when its outline `(n, 2)` was traced or read from a file: fields and values. Raises RefusedChange."""
        raise RefusedChange(tell("A {thing} is not measured by its outline.", thing=self.says), "thing")

    def sectioned(self, ring: Line) -> tuple[tuple[str, Any], ...]:
        """What changes when its section `(n, 2)` was read from a file, lying on its lower side. Raises RefusedChange."""
        raise RefusedChange(tell("A {thing} is not measured by a section.", thing=self.says), "thing")

    def with_station(self, at_mm: float | None = None) -> tuple[str, tuple[Any, ...]]:
        """A field and its stations with one more, unread, at `at_mm` or in the widest gap. Raises RefusedChange."""
        raise RefusedChange(tell("A {thing} is not measured by stations.", thing=self.says), "thing")

    def guarded_or_not(self) -> Self:
        """The thing with a guard, still to be measured, or without the one it has. Raises RefusedChange."""
        raise RefusedChange(tell("A {thing} has no guard.", thing=self.says), "thing")

    def without_station(self, part: str, number: int) -> tuple[Any, ...]:
        """The stations of a field without one of them. Raises RefusedChange when that field has none."""
        raise RefusedChange(
            tell("There is no station here."), f"thing.{part}", tell("Put the focus on one of its readings first.")
        )


LOOK_BEYOND_MM, LOOK_BEYOND = 30.0, 0.4  # so far past the last station read, and so much of all: a look (from memory)
HOLD_BEYOND = 0.5  # and so much of it decides the fit: it must be read
Stations = TypeVar("Stations", bound=tuple[Any, ...])


def rising(stations: Stations) -> Stations:
    """Stations as they are. Raises ValueError when they do not follow one another at least 0.5 mm apart."""
    if any(b.at_mm - a.at_mm < 0.5 for a, b in pairwise(stations)):
        raise ValueError(tell("Stations must follow one another, at least 0.5 mm apart."))
    return stations


def in_widest_gap(places: list[float], end: float | None) -> float:
    """The middle of the widest gap between stations, the one before `end` among them."""
    ends = places + ([max(end, places[-1] + 2)] if end is not None else [])
    gaps = [b - a for a, b in pairwise(ends)]
    if not gaps:
        return places[-1] + 20.0
    k = gaps.index(max(gaps))
    return round(ends[k] + gaps[k] / 2, 1)


def unread_end(
    places: list[float], end_mm: float, says: Said, path: str, one_more: Callable[[float], tuple[str, Any]]
) -> tuple[Finding, ...]:
    """What is assumed from the last place that was read to the end: a look where that is much of it, a hold where it is most.

    `says` has slots for where it begins, `at`, and the `end`; `one_more` gives the job's value with a station more at a place.
    """
    beyond = end_mm - places[-1]
    if beyond <= max(LOOK_BEYOND_MM, LOOK_BEYOND * end_mm):
        return ()
    there = round(places[-1] + 0.7 * beyond)
    return (Finding(
        "hold" if beyond > HOLD_BEYOND * end_mm else "look", "end-not-read", "measure",
        says.filled(at=length(places[-1]), end=length(end_mm)), path,
        Mend(said("a station at {there}", there=length(there)), (one_more(float(there)),)),
    ),)  # fmt: skip


def by_place(stations: tuple[Any, ...], new: Any) -> tuple[Any, ...]:
    """Stations with one more, in order along the axis."""
    return tuple(sorted((*stations, new), key=lambda s: s.at_mm))
