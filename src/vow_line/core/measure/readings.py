"""A *reading* is one measurement taken twice: leather will depend on it."""

from collections.abc import Iterator
from datetime import date
from typing import Annotated, Any

from pydantic import Field

from ..curve import frozen
from ..drawing import Mark
from ..finding import Finding, Mend
from ..frozen import Frozen
from ..reckoning import Reckoning, count, length, minutes, reckon
from ..texts import Said, dated_on, said

RIGID_MM = 0.5  # two readings of a rigid tool should agree to this (common practice)
OLD_DAYS = 365  # a reading older than this is taken again (from memory)
THICKNESS_MM = 0.1  # two readings of a thickness should agree to this (common practice)

SPREAD_SAYS = said(
    "half the widest difference between two readings of one place; bars on the drawing show them ten times"
)

Measured = Annotated[float, Field(ge=0, le=2000)]


class Reading(Frozen):
    """A first and a second reading in mm; either may not have been taken yet. `on`, `by` and `using` are the last's."""

    first: Measured | None = None
    second: Measured | None = None
    on: date | None = None
    by: Annotated[str, Field(max_length=200)] = ""
    using: Annotated[str, Field(max_length=200)] = ""

    @property
    def taken(self) -> bool:
        """Whether there is any reading at all."""
        return self.first is not None or self.second is not None

    @property
    def mean_mm(self) -> float:
        """The mean of the readings taken. Raises ValueError when there is none."""
        both = [r for r in (self.first, self.second) if r is not None]
        if not both:
            raise ValueError("no reading was taken")
        return sum(both) / len(both)

    @property
    def spread_mm(self) -> float:
        """Half the distance between the two readings; 0 when only one was taken."""
        return abs(self.first - self.second) / 2 if self.first is not None and self.second is not None else 0.0

    def findings(self, path: str, name: Said, tolerance_mm: float) -> tuple[Finding, ...]:
        """A hold when missing, a look when taken once or when the two disagree by more than `tolerance_mm`."""
        if not self.taken:
            return (
                Finding(
                    "hold",
                    "reading-missing",
                    "measure",
                    said("{name} has not been measured.", name=name),
                    f"{path}.first",
                ),
            )
        if self.first is None or self.second is None:
            lacking = "second" if self.second is None else "first"
            return (
                Finding("look", "read-once", "measure", said("{name} was read once.", name=name), f"{path}.{lacking}"),
            )
        if abs(self.first - self.second) > tolerance_mm + 1e-9:
            return (
                Finding(
                    "look",
                    "readings-disagree",
                    "measure",
                    said(
                        "{name} was read as {a} and {b}; they should agree to {tolerance}. The mean is used.",
                        a=length(self.first),
                        b=length(self.second),
                        tolerance=length(tolerance_mm),
                        name=name,
                    ),
                    f"{path}.second",
                    Mend(said("read again"), ((f"{path}.second", None),)),
                ),
            )
        return ()


def every_reading(of: Any, path: str) -> Iterator[tuple[str, Reading]]:
    """All readings in a record or a tuple of records, with their places."""
    if isinstance(of, Reading):
        yield path, of
    elif isinstance(of, tuple):
        for k, item in enumerate(of):
            yield from every_reading(item, f"{path}.{k}")
    elif isinstance(of, Frozen):
        for name, value in of:
            yield from every_reading(value, f"{path}.{name}")


def aged(thing: Any, begins: date) -> tuple[Finding, ...]:
    """A look at the oldest reading, when it was taken more than a year before the work begins."""
    dated = [(r.on, path) for path, r in every_reading(thing, "thing") if r.on is not None]
    if not dated:
        return ()
    on, path = min(dated)
    days = (begins - on).days
    if days <= OLD_DAYS:
        return ()
    when = dated_on(on)
    return (Finding(
        "look", "reading-old", "measure",
        said("The oldest reading, of {when}, is {age} old when the work begins: what is used is worn and "
             "ground since. Read it again.", age=minutes(days * 24 * 60), when=when), f"{path}.first",
    ),)  # fmt: skip


def read_so_far(readings: list[Reading]) -> tuple[Reckoning, ...]:
    """How many of the readings were taken twice, and when the oldest of them was taken and by whom."""
    taken = [r for r in readings if r.taken]
    twice = [r for r in taken if r.first is not None and r.second is not None]
    reckonings = [reckon("taken", said("Read twice"), count(len(twice)), said("of {n} readings", n=count(len(taken))))]
    dated = [r for r in taken if r.on is not None]
    if dated:
        oldest = min(dated, key=lambda r: str(r.on))
        by = said("the oldest by {maker}", maker=oldest.by) if oldest.by else said("the oldest")
        whose = said("{by}; {n} of the readings say when", n=count(len(dated)), by=by)
        assert oldest.on is not None
        reckonings.append(Reckoning("read-on", said("Read on"), dated_on(oldest.on), whose))
    return tuple(reckonings)


BAND_TIMES = 10  # a band shows how far two readings lie apart so many times as large as it is


def band(reading: Reading, x: float, y: float, tolerance_mm: float, mark: str, share: float = 1.0) -> tuple[Mark, ...]:
    """How far the two readings of one place lie apart, as a bar across (x, y), `share` of the difference lying there; none
    where there are not two, or they are the same.
    """
    if reading.spread_mm == 0:
        return ()
    half = BAND_TIMES * share * reading.spread_mm
    ring = frozen([[x - 1.5, y - half], [x + 1.5, y - half], [x + 1.5, y + half], [x - 1.5, y + half]])
    wide = 2 * reading.spread_mm > tolerance_mm + 1e-9
    return (Mark("void" if wide else "done", ring, True, mark),)
