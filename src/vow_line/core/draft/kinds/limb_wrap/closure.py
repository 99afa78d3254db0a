"""What every way of closing a limb wrap declares: what stands open between its edges, and what closes it."""

from abc import abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, ClassVar, Self

import numpy as np
from pydantic import Field

from ....curve import Line, frozen
from ....drawing import Callout
from ....finding import Finding, Mend
from ....frozen import Frozen
from ....reckoning import Reckoning, length
from ....texts import NOTHING, Said, said
from ...closures import how_many, stood_along
from ...joins import Buckle, Fastener, Join, Lace, Loops, Seat, Turn
from ...pieces import Piece, Punch
from .wrap import Wrap

Size = Annotated[float, Field(gt=0, le=100)]
LEFT_SIDE, RIGHT_SIDE = 1.0, -1.0
TONGUE_CLEAR_MM = 7.0  # a tongue's seam clears what closes the edge by a cap and a margin (from memory)
TONGUE_BEFORE_MM = 1.0  # and so on this side of it, the seam being nearer the edge than the tongue reaches
MOST_GAP = 0.3  # of what goes round


class Tongue(Frozen):
    """A piece under the gap, so much wider than that at either side, and sewn along one of them."""

    lap_mm: Size = 20.0


Holes = tuple[tuple[Punch, ...], tuple[Punch, ...]]
Places = tuple[tuple[tuple[str, str], ...], tuple[tuple[str, str], ...]]


@dataclass(frozen=True, slots=True, eq=False)
class Fitted:
    """What a closure adds to what it closes: holes at the left edge and at the right, and all else."""

    holes: Holes = ((), ())
    pieces: tuple[Piece, ...] = ()
    seats: tuple[Seat, ...] = ()
    joins: tuple[Join, ...] = ()
    fasteners: tuple[Fastener, ...] = ()
    turns: tuple[Turn, ...] = ()
    laces: tuple[Lace, ...] = ()
    buckles: tuple[Buckle, ...] = ()
    loops: tuple[Loops, ...] = ()


class Closure(Frozen):
    """A row of closures along the closing line, `spacing_mm` from each other at most and beginning `ends_mm` from either end.
    A subclass adds `by: Literal[...]` and its own values.
    """

    by: str
    spacing_mm: Annotated[float, Field(ge=5, le=300)] = 25.4
    ends_mm: Annotated[float, Field(gt=0, le=300)] = 14.0

    says: ClassVar[Said]
    """What it is closed by, as a word of a sentence."""
    backs: ClassVar[Said] = NOTHING
    """What of it lies inside."""
    usual_mm: ClassVar[float] = 25.4
    """How far from each other such closures usually stand."""

    @classmethod
    def usual(cls) -> Self:
        """One as such are usually made."""
        return cls.model_validate({"by": cls.model_fields["by"].default})

    @property
    @abstractmethod
    def open_mm(self) -> tuple[float, float]:
        """What stands open at the low and at the high end, less than nothing where the edges lap."""

    @property
    @abstractmethod
    def wide_mm(self) -> float:
        """How much of the row one of them takes."""

    @property
    @abstractmethod
    def deep_mm(self) -> float:
        """How far in from either edge it reaches."""

    @property
    @abstractmethod
    def in_from_edge_mm(self) -> float:
        """How far in from either edge they stand."""

    @property
    def lies_on_skin(self) -> Said:
        """What of it lies on the wearer, where that is bare skin; nothing where none of it does."""
        return NOTHING

    @property
    def off_skin(self) -> Mend | None:
        """How it is kept off bare skin."""
        return None

    @abstractmethod
    def fitted(self, laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> Fitted:
        """What closes it, at the places `rows` on its left and its right edge, lowest first."""

    def callouts(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Callout, ...]:
        """The values that are its own."""
        first, second, end = point(rows[1][0]), point(rows[1][1]), point(laid.right[-1])
        return (
            Callout("piece.closed.spacing_mm", said("from each other, at most"), "length", self.spacing_mm, first, "right",
                    "closures", to=second, on=laid.on_last),
            Callout("piece.closed.ends_mm", said("first one in from the end"), "length", self.ends_mm, end, "right",
                    to=(end[0], first[1]), on=laid.on_last),
        )  # fmt: skip

    def reckonings(self, laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> tuple[Reckoning, ...]:
        """The sums that are its own."""
        return ()

    def findings(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Finding, ...]:
        """What is wrong with it."""
        step = min(float(np.hypot(*np.diff(row, axis=0).T).min()) for row in rows)
        if step >= self.wide_mm - 1e-6:
            return ()
        apart = max(self.usual_mm, float(np.ceil(self.wide_mm)))
        return (Finding(
            "hold", "closures-near", "draft",
            said("Closures that take {w} of the row come to stand {s} from each other.", w=length(self.wide_mm),
                 s=length(step)), "piece.closed.spacing_mm",
            Mend(said("{apart} apart", apart=length(apart)),
                 (("piece.closed.spacing_mm", apart), ("piece.closed.ends_mm", min(self.ends_mm, apart / 2)))),
        ),)  # fmt: skip

    def count(self, long_mm: float) -> int:
        """How many closures stand in a row on an edge so long."""
        return how_many(long_mm, self.spacing_mm, self.ends_mm)

    def runs(self, laid: Wrap) -> tuple[list[Line], list[Line]]:
        """The lines that the closures stand along, on the left and on the right, from the low end up, in the runs into which
        darts part them.
        """
        by = self.in_from_edge_mm
        left, right = (
            [inward(run, by, side)[::-1] for run in reversed(laid.runs(line))]
            for line, side in ((laid.left, LEFT_SIDE), (laid.right, RIGHT_SIDE))
        )
        return left, right

    def rows(self, laid: Wrap) -> tuple[Line, Line]:
        """Where the closures stand on the left and on the right edge, as many on either, lowest first: evenly by length."""
        n = self.count(laid.edge_long_mm)
        left, right = (stood_along(runs, n, self.ends_mm) for runs in self.runs(laid))
        return left, right


class Gapped(Closure):
    """One that draws the edges together over a gap, with a tongue under that or none."""

    gap_low_mm: Annotated[float, Field(ge=0, le=200)] = 12.0
    gap_high_mm: Annotated[float, Field(ge=0, le=200)] = 12.0
    tongue: Tongue | None = None

    @property
    def open_mm(self) -> tuple[float, float]:
        """The gap."""
        return self.gap_low_mm, self.gap_high_mm

    @property
    @abstractmethod
    def taken_mm(self) -> tuple[float, float]:
        """From where to where, in from the left edge, what closes it is in the way of a tongue's seam."""

    def gaps(self, rows: tuple[Line, Line]) -> tuple[float, ...]:
        """What stands open at each of the closures, lowest first."""
        along = np.linspace(0, 1, len(rows[0]))
        return tuple((self.gap_low_mm + (self.gap_high_mm - self.gap_low_mm) * along).tolist())

    def callouts(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Callout, ...]:
        """The gap at either end, and the tongue."""
        top, low = point(laid.left[0]), point(laid.left[-1])
        given = [
            *super().callouts(laid, rows),
            Callout("piece.closed.gap_high_mm", said("gap at the top"), "length", self.gap_high_mm, top, "left", "wrap"),
            Callout("piece.closed.gap_low_mm", said("gap below"), "length", self.gap_low_mm, low, "left", "wrap"),
            Callout("piece.closed.tongue", said("tongue"), "count", self.tongue, (0.0, low[1]), "right",
                    choices=(said("no tongue"), said("a tongue under it")),
                    meant=(None, self.tongue or self.usual_tongue)),
        ]  # fmt: skip
        if self.tongue:
            given.append(Callout("piece.closed.tongue.lap_mm", said("tongue, past the gap"), "length", self.tongue.lap_mm,
                                 (0.0, 10.0), "right", "tongue", on="tongue"))  # fmt: skip
        return tuple(given)

    @property
    def deep_mm(self) -> float:
        """To the far side of what closes it."""
        return self.taken_mm[1]

    @property
    def lies_on_skin(self) -> Said:
        """What draws it together, over a gap without a tongue."""
        return NOTHING if self.tongue else self.backs

    @property
    def off_skin(self) -> Mend | None:
        """A tongue under the gap."""
        return Mend(said("a tongue under it"), (("piece.closed.tongue", self.usual_tongue),))

    def clears(self, tongue: Tongue) -> bool:
        """Whether a tongue is sewn clear of what closes it, on this side or beyond."""
        near, far = self.taken_mm
        return not near - TONGUE_BEFORE_MM < tongue.lap_mm < far + TONGUE_CLEAR_MM

    @property
    def usual_tongue(self) -> Tongue:
        """A tongue as wide as usual, or as clears."""
        usual = Tongue()
        return usual if self.clears(usual) else Tongue(lap_mm=float(np.ceil(self.taken_mm[1] + TONGUE_CLEAR_MM)))

    def findings(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Finding, ...]:
        """Gaps that leave little, a tongue that is sewn where the closures are."""
        found = list(super().findings(laid, rows))
        widest, narrow = max(self.open_mm), float(laid.wide_mm.min())
        if widest > MOST_GAP * min(g.round_mm for g in laid.girded):
            found.append(Finding(
                "hold", "gap-wide", "draft",
                said("A gap of {g} leaves only {n} of leather round the limb.", g=length(widest), n=length(narrow)),
                "piece.closed.gap_low_mm",
                Mend(said("12 mm, as usual"), (("piece.closed.gap_low_mm", 12.0), ("piece.closed.gap_high_mm", 12.0))),
            ))  # fmt: skip
        if self.tongue and not self.clears(self.tongue):
            found.append(Finding(
                "hold", "tongue-narrow", "draft",
                said("Past the gap the tongue reaches {l}: its seam comes to lie where what closes it is fixed, {a} to {b} in.",
                     l=length(self.tongue.lap_mm), a=length(self.taken_mm[0]), b=length(self.taken_mm[1])),
                "piece.closed.tongue.lap_mm",
                Mend(said("as wide as clears"), (("piece.closed.tongue.lap_mm", self.usual_tongue.lap_mm),)),
            ))  # fmt: skip
        return tuple(found)


class Lapped(Closure):
    """One that holds the left edge on the right, in the middle of their lap."""

    lap_mm: Annotated[float, Field(gt=0, le=200)] = 30.0

    @property
    def open_mm(self) -> tuple[float, float]:
        """The lap."""
        return -self.lap_mm, -self.lap_mm

    @property
    def deep_mm(self) -> float:
        """As far as it laps."""
        return self.lap_mm

    @property
    def in_from_edge_mm(self) -> float:
        """On the closing line, the middle of the lap."""
        return self.lap_mm / 2

    def callouts(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Callout, ...]:
        """The lap."""
        return (*super().callouts(laid, rows), Callout(
            "piece.closed.lap_mm", said("laps over"), "length", self.lap_mm, point(laid.left[0]), "left", "wrap"))  # fmt: skip

    def runs(self, laid: Wrap) -> tuple[list[Line], list[Line]]:
        """The closing line, the middle of the lap."""
        left, right = ([run[::-1] for run in reversed(laid.runs(line))] for line in laid.closing)
        return left, right


def point(at: Line) -> tuple[float, float]:
    """A point as numbers."""
    return float(at[0]), float(at[1])


def punched(laid: Wrap, rows: tuple[Line, Line], title: Said, wide_mm: float) -> tuple[Holes, Places]:
    """Holes at the places of both rows, and where they are, as (piece, punch), row by row."""

    def row(side: str, at: Line) -> tuple[Punch, ...]:
        return tuple(Punch(f"{side}-{k}", title, point(p), wide_mm, "closures") for k, p in enumerate(at, 1))

    left, right = row("left", rows[0]), row("right", rows[1])
    return (left, right), (tuple((laid.first.id, p.id) for p in left), tuple((laid.last.id, p.id) for p in right))


def way_at(runs: Sequence[Line], at: Line) -> Line:
    """The way along an edge in runs, a unit vector, where it comes nearest to a place."""
    k = int(np.argmin(np.hypot(*(np.concatenate(runs) - at).T)))
    way: Line = np.concatenate([np.gradient(run, axis=0) for run in runs])[k]
    return way / max(float(np.hypot(*way)), 1e-9)


def normals(edge: Line, side: float) -> Line:
    """The way in from an edge at each of its points `(n, 2)`, square to itself."""
    step = np.gradient(edge, axis=0)
    way = step / np.maximum(np.hypot(*step.T), 1e-9)[:, None]
    return frozen(side * np.column_stack([way[:, 1], -way[:, 0]]))


def inward(edge: Line, by: float, side: float) -> Line:
    """An edge moved in by so much, square to itself."""
    return frozen(edge + by * normals(edge, side))
