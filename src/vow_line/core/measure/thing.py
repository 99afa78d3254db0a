"""What every kind of thing that is measured declares: its readings, as fields, and the body that follows from them."""

from abc import abstractmethod
from collections.abc import Callable
from itertools import pairwise
from typing import Any, ClassVar, Self, TypeVar

import numpy as np

from ..curve import Line, Values, frozen
from ..drawing import Handle, Label, Mark
from ..errors import RefusedChange
from ..finding import Finding, Mend
from ..frozen import Frozen
from ..meanings import Meaning
from ..reckoning import length
from ..texts import NOTHING, Said, said, tell
from .body import Body, Measured
from .readings import every_reading
from .traced import Drawn

WEARERS_AGE = said("a wearer grows or thins")


class Thing(Frozen):
    """A thing with its readings. A subclass adds `body: Literal[...]` and its own fields with ranges."""

    body: str
    name: str

    says: ClassVar[Said]
    """What a maker calls it."""
    hint: ClassVar[Said]
    """What else it may be."""
    gives: ClassVar[type[Body]]
    """The shape of body its readings give."""
    caution: ClassVar[Said] = NOTHING
    ages: ClassVar[Said] = said("what is used is worn and ground since")
    """Why it is read again when it was read long ago."""
    many: ClassVar[bool] = False
    """Whether an outline that is taken is one part more of it."""

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

    def traced(self, drawn: Drawn) -> tuple[tuple[str, Any], ...]:
        """What changes when its outline was traced or read from a file: fields and values. Raises RefusedChange."""
        raise RefusedChange(tell("A {thing} is not measured by its outline.", thing=self.says), "thing")

    def sectioned(self, ring: Line) -> tuple[tuple[str, Any], ...]:
        """What changes when its section `(n, 2)` was read from a file, lying on its lower side. Raises RefusedChange."""
        raise RefusedChange(tell("A {thing} is not measured by a section.", thing=self.says), "thing")

    def with_station(self, at_mm: float | None = None) -> tuple[str, tuple[Any, ...]]:
        """A field and its stations with one more, unread, at `at_mm` or in the widest gap. Raises RefusedChange."""
        raise RefusedChange(tell("A {thing} is not measured by stations.", thing=self.says), "thing")

    def dragged(self, path: str, to: Any) -> tuple[str, Any]:
        """The field that changes, and its new value, when the handle of a path is dragged to a place."""
        return path, to

    def with_point(self, x: float, y: float) -> tuple[str, Any] | None:
        """The field and its value with a point more of its outline at a place of the drawing; None where it has none there."""
        return None

    def other_side(self) -> Self | None:
        """The same of the wearer's other side, nothing of it read yet; None where it has no side."""
        return None

    def spread_out(self) -> Self:
        """The thing with stations that wait for their readings moved to where its length wants them."""
        return self

    def guarded_or_not(self) -> Self:
        """The thing with a guard, still to be measured, or without the one it has. Raises RefusedChange."""
        raise RefusedChange(tell("A {thing} has no guard.", thing=self.says), "thing")

    def laid(self, path: str, *, by_rad: float = 0.0, over: bool = False) -> tuple[str, Any]:
        """The field that changes, and its new value, when the traced part that a path lies in is laid another way: turned by so
        much, to the right, or turned over. Raises RefusedChange.
        """
        raise RefusedChange(tell("A {thing} has no panels to be laid another way.", thing=self.says), "thing")

    def without(self, path: str) -> tuple[str, Any]:
        """The field that changes, and its new value, when what a path lies in is taken away. Raises RefusedChange."""
        _, part, number, *_ = [*path.split("."), "", "", ""]
        return f"thing.{part}", self.without_station(part, int(number) if number.isdigit() else -1)

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


LAST_AT = 0.92  # the last station stands so far along (from memory)


def places_beside(stations: tuple[Any, ...], end_mm: float, even: Values, few: int) -> list[float]:
    """Where an outline is read: at the stations there are, or, where these are `few` at most, at those that were read by hand
    and at even places that are not near one of them.
    """
    there = [s for s in stations if s.at_mm < 0.97 * end_mm]
    if len(stations) > few and there:
        return [s.at_mm for s in there]
    read = [s.at_mm for s in there if any(r.by_hand for _, r in every_reading(s, ""))]
    near = float(np.diff(even).min()) / 3 if len(even) > 1 else 1.0
    return sorted(read + [round(float(a), 1) for a in even if all(abs(a - r) > near for r in read)])


def with_read(traced: list[Any], stations: tuple[Any, ...]) -> tuple[Any, ...]:
    """Stations as an outline gives them, with those that were read by hand where it does not reach."""
    places = {s.at_mm for s in traced}
    return by_place(
        tuple(traced),
        *(s for s in stations if s.at_mm not in places and any(r.by_hand for _, r in every_reading(s, ""))),
    )


def over_length(stations: Stations, end_mm: float) -> Stations:
    """Stations with those that wait for all their readings spread over a length: all where none was read, else, where one lies
    past its end, those behind the last that was read.
    """
    waits = [not any(r.taken for _, r in every_reading(s, "")) for s in stations]
    read_to = max((s.at_mm for s, w in zip(stations, waits, strict=True) if not w), default=-1.0)
    moved = [w and s.at_mm > read_to for s, w in zip(stations, waits, strict=True)]
    if not all(waits) and not any(m and s.at_mm > 0.97 * end_mm for s, m in zip(stations, moved, strict=True)):
        return stations
    kept = tuple(s for s, m in zip(stations, moved, strict=True) if not m)
    n = len(stations) - len(kept)
    start, last = (kept[-1].at_mm if kept else 0.0), LAST_AT * end_mm
    if not n or last - start < 0.6 * n:
        return stations
    at = np.linspace(start, last, n + 1)[1:] if kept else np.linspace(0.0, last, n)
    new = [s.model_copy(update={"at_mm": round(float(a), 1)})
           for s, a in zip([s for s, m in zip(stations, moved, strict=True) if m], at, strict=True)]  # fmt: skip
    return by_place(kept, *new)  # type: ignore[return-value]


def unread_end(
    read_to: float, end_mm: float, says: Said, stations: Stations, one_more: Callable[[float], tuple[Any, ...]]
) -> tuple[Finding, ...]:
    """What is assumed from the last place that was read to the end: a look where that is much of it, a hold where it is most.

    `says` has slots for where it begins, `at`, and the `end`; `one_more` gives the stations with one more at a place. Where one
    stands there already, that is to be read.
    """
    beyond = end_mm - read_to
    if beyond <= max(LOOK_BEYOND_MM, LOOK_BEYOND * end_mm):
        return ()
    there = float(round(read_to + 0.7 * beyond))
    waits = next((k for k, s in enumerate(stations) if read_to < s.at_mm < end_mm), None)
    path, one = "thing.stations", None
    if waits is None:
        one = Mend(said("a station at {there}", there=length(there)), (("thing.stations", one_more(there)),))
    else:
        path = f"thing.stations.{waits}.width.first"
    return (Finding(
        "hold" if beyond > HOLD_BEYOND * end_mm else "look", "end-not-read", "measure",
        says.filled(at=length(read_to), end=length(end_mm)), path, one,
    ),)  # fmt: skip


def so_far(x: Values, above: Values, below: Values, last_mm: float, id: str, beyond: str) -> list[Mark]:
    """A view of a thing between two lines `(n,)` over x: a mark as far as its last station read, one more for what is assumed
    from there to its end.
    """
    marks: list[Mark] = []
    views: tuple[tuple[Meaning, str, float, float], ...] = (
        ("thing", id, x[0], last_mm),
        ("assumed", beyond, last_mm, x[-1]),
    )
    for meaning, name, a, b in views:
        at = np.unique(np.clip(x, a, b))
        if len(at) > 1:
            lines = [np.column_stack([at, np.interp(at, x, v)]) for v in (above, below)]
            marks.append(Mark(meaning, frozen(np.concatenate([lines[0], lines[1][::-1]])), True, name))
    return marks


def by_place(stations: tuple[Any, ...], *new: Any) -> tuple[Any, ...]:
    """Stations with more of them, in order along the axis."""
    return tuple(sorted((*stations, *new), key=lambda s: s.at_mm))
