"""What the maker says about time, and what was done."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from ..frozen import Frozen


class Sitting(Frozen):
    """Hours at the bench: a weekday (0 Monday), the minute of the day it begins, and how long it lasts."""

    weekday: Annotated[int, Field(ge=0, le=6)]
    begins_min: Annotated[int, Field(ge=0, le=1439)]
    minutes: Annotated[int, Field(gt=0, le=1440)]


def _own_clock(at: datetime | None) -> datetime | None:
    """A time on the maker's own clock: a zone written with it is let go."""
    return None if at is None else at.replace(tzinfo=None)


Clock = Annotated[datetime, AfterValidator(_own_clock)]


class Tick(Frozen):
    """A step ticked off: when, how many minutes it took if that was noted, and what went wrong if anything did."""

    step: str
    at: Clock | None = None
    minutes: Annotated[float, Field(ge=0, le=10_000)] | None = None
    slip: Annotated[str, Field(max_length=2000)] = ""


class SewnTo(Frozen):
    """How many needle passes of a seam have been made."""

    seam: str
    passes: Annotated[int, Field(ge=0)]


class InHand(Frozen):
    """The thread left in hand, as the maker measured it after so many passes of a seam."""

    seam: str
    passes: Annotated[int, Field(ge=0)]
    mm: Annotated[float, Field(gt=0, le=100_000)]


class Spoiled(Frozen):
    """A piece that was cut and cannot be used: its outline in mm. The leather it was cut from is gone."""

    piece: Annotated[str, Field(max_length=200)]
    outline: Annotated[tuple[tuple[float, float], ...], Field(min_length=3, max_length=5000)]


class MadeOn(Frozen):
    """A step that was done to a piece and is to be done again to others: what it made in this one stays."""

    piece: Annotated[str, Field(max_length=200)]
    step: Annotated[str, Field(max_length=200)]


class Weighing(Frozen):
    """The weight of the wet piece so many minutes after it came out of the water."""

    minutes: Annotated[float, Field(ge=0, le=100_000)]
    grams: Annotated[float, Field(gt=0, le=100_000)]


WEEKDAY_EVENINGS = tuple(Sitting(weekday=d, begins_min=19 * 60, minutes=120) for d in (1, 3)) + (
    Sitting(weekday=5, begins_min=9 * 60, minutes=180),
)


class WorkChoices(Frozen):
    """When the work can be done, how fast this maker sews, how edges are finished, and everything ticked off so far."""

    begins: Clock | None = None
    sessions: Annotated[tuple[Sitting, ...], Field(max_length=60)] = WEEKDAY_EVENINGS
    pace_mm_per_min: Annotated[float, Field(ge=0.1, le=500)] = 25.0
    edge_school: Literal["burnish", "paint"] = "burnish"
    dry_grams: Annotated[float, Field(gt=0, le=100_000)] | None = None
    room_celsius: Annotated[float, Field(ge=0, le=45)] = 18.0
    humidity: Annotated[float, Field(ge=0.05, le=0.98)] = 0.6
    weighings: Annotated[tuple[Weighing, ...], Field(max_length=500)] = ()
    done: Annotated[tuple[Tick, ...], Field(max_length=1000)] = ()
    sewn: Annotated[tuple[SewnTo, ...], Field(max_length=50)] = ()
    in_hand: Annotated[tuple[InHand, ...], Field(max_length=50)] = ()
    spoiled: Annotated[tuple[Spoiled, ...], Field(max_length=100)] = ()
    made: Annotated[tuple[MadeOn, ...], Field(max_length=2000)] = ()

    def is_done(self, step: str) -> bool:
        """Whether that step has been ticked off."""
        return any(t.step == step for t in self.done)

    def is_made(self, step: str, piece: str) -> bool:
        """Whether what a step makes in a piece is in it: it is ticked off, or was when another piece was to be cut again."""
        return self.is_done(step) or any(m.step == step and m.piece == piece for m in self.made)

    def cut_pieces(self) -> frozenset[str]:
        """The pieces ticked off as cut."""
        return frozenset(t.step.removeprefix("cut/") for t in self.done if t.step.startswith("cut/"))

    def passes(self, seam: str) -> int:
        """Needle passes made on that seam."""
        return next((s.passes for s in self.sewn if s.seam == seam), 0)

    def measured(self, seam: str) -> InHand | None:
        """The thread in hand on that seam, where it was measured."""
        return next((h for h in self.in_hand if h.seam == seam), None)
