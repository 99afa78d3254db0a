"""Findings: what is wrong with a job, because of which numbers, where, and what would mend it.

A *hold* stands in the way of the vow until it is mended or accepted with a reason; a *look* wants the maker's eye; a
*note* is worth knowing.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Literal, Self

from .texts import Said

Level = Literal["hold", "look", "note"]
Station = Literal["measure", "draft", "stitch", "thread", "layout", "vow", "cut", "form", "sew", "edge", "record"]


@dataclass(frozen=True, slots=True)
class Mend:
    """A change the program knows how to make: new values at places in the job, as `change` takes them."""

    label: Said
    changes: tuple[tuple[str, Any], ...]


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing found. `code` is stable across versions; `at` names a place in the job or a mark on the drawing;
    `others` are mends that would do as well."""

    level: Level
    code: str
    station: Station
    says: Said
    at: str = ""
    mend: Mend | None = None
    others: tuple[Mend, ...] = ()
    offers: Callable[[], tuple[Mend, ...]] | None = field(default=None, repr=False, compare=False)

    def offering(self, offers: Callable[[], tuple[Mend, ...]]) -> Self:
        """The same, its mends looked for when they are asked for: to see which would do may take longer than all else."""
        made = type(self)(self.level, self.code, self.station, self.says, self.at, offers=offers)
        for slot in ("mend", "others"):
            object.__delattr__(made, slot)
        return made

    def __getattr__(self, name: str) -> Any:
        """What is not there yet, as by `offering`."""
        if name not in ("mend", "others") or self.offers is None:
            raise AttributeError(name)
        first, *others = self.offers() or (None,)
        object.__setattr__(self, "mend", first)
        object.__setattr__(self, "others", tuple(others))
        return getattr(self, name)

    @property
    def mends(self) -> tuple[Mend, ...]:
        """Every mend known, the likeliest first."""
        return ((self.mend,) if self.mend else ()) + self.others
