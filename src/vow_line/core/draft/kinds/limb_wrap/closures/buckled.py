"""Closed by billets through buckles: a tab with a buckle at one edge, a billet with holes at the other."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from .....curve import Line
from .....drawing import Callout
from .....finding import Finding, Mend
from .....reckoning import Reckoning, count, length, reckon
from .....texts import Said, said
from ....joins import Buckle, Seat, Turn
from ....pieces import Punch, counted, leather
from ....strapping import OVER_SLOT_MM, SEAM_IN_MM, Cut, Lap, TurnedEnd, half_turn, sewn_on, strapping
from ....wrap import NEUTRAL_DRY
from ..closure import LEFT_SIDE, RIGHT_SIDE, Fitted, Gapped, Size, point, way_at
from ..wrap import Wrap

CLEAR_MM = 4.0  # from what holds a tab to the slot in its turn (from memory)
TIP_MM = 12.0  # leather beyond the last hole that a tongue does not tear out of (from memory)
APART = 1.5  # buckles stand so many widths of their billets from each other at the least (from memory)
OVER_BILLET_MM = 1.0  # a buckle is so much wider inside than what goes through it (from memory)
BUCKLE = said("buckle")


class Buckled(Gapped):
    """Billets `billet_mm` wide, sewn on over `box_mm` that begin `in_mm` from the right edge; the bars of their buckles
    stand `bar_in_mm` from the left one, on tabs sewn on `to_bar_mm` behind them. The middle of their holes closes a gap as wide
    as the mean of both ends.
    """

    by: Literal["buckled"] = "buckled"
    says: ClassVar[Said] = said("by buckled billets")
    usual_mm: ClassVar[float] = 70.0
    gap_low_mm: Annotated[float, Field(ge=0, le=200)] = 4.0
    gap_high_mm: Annotated[float, Field(ge=0, le=200)] = 4.0
    spacing_mm: Annotated[float, Field(ge=5, le=300)] = 70.0
    ends_mm: Annotated[float, Field(gt=0, le=300)] = 25.0
    billet_mm: Annotated[float, Field(ge=6, le=60)] = 18.0
    bar_mm: Annotated[float, Field(gt=0, le=12)] = 3.0
    box_mm: Annotated[float, Field(ge=10, le=100)] = 22.0
    in_mm: Size = 4.0
    bar_in_mm: Annotated[float, Field(ge=0, le=150)] = 30.0
    to_bar_mm: Annotated[float, Field(gt=0, le=60)] = 12.0
    holes: Annotated[int, Field(ge=1, le=9)] = 3
    step_mm: Annotated[float, Field(gt=0, le=60)] = 12.0
    hole_mm: Annotated[float, Field(gt=0, le=12)] = 3.5
    past_mm: Annotated[float, Field(gt=0, le=200)] = 30.0
    end: Cut = "pointed"

    @property
    def in_from_edge_mm(self) -> float:
        """On the edge itself."""
        return 0.0

    @property
    def wide_mm(self) -> float:
        """Its billet, and room beside it."""
        return APART * self.billet_mm

    @property
    def taken_mm(self) -> tuple[float, float]:
        """Where its tabs are sewn on."""
        behind = self.bar_in_mm + self.to_bar_mm
        return behind, behind + self.box_mm

    @property
    def deep_mm(self) -> float:
        """To the far end of what its tabs or its billets are sewn on by."""
        return max(self.taken_mm[1], self.in_mm + self.box_mm)

    @property
    def gap_mm(self) -> float:
        """The gap that the middle hole closes."""
        return (self.gap_low_mm + self.gap_high_mm) / 2

    @property
    def middle_mm(self) -> float:
        """From a billet's sewn end to its middle hole: box, margin and gap, and as far in from the other edge as the bar."""
        return self.box_mm + self.in_mm + self.gap_mm + self.bar_in_mm

    @property
    def tip_mm(self) -> float:
        """How long a billet is."""
        return self.middle_mm + (self.holes - 1) / 2 * self.step_mm + self.past_mm

    def fitted(self, laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> Fitted:
        """Tabs and billets, a pair for each place."""
        n, stock = len(rows[0]), leather(leather_mm)
        bar = TurnedEnd(self.bar_mm, Lap(long_mm=self.box_mm + self.to_bar_mm, skive_mm=0.0), tongue=True, holds=BUCKLE)
        tab = strapping("tab", said("buckle tab"), self.billet_mm, self.box_mm + self.to_bar_mm, "square", bar, stock,
                        SEAM_IN_MM).piece  # fmt: skip
        middle = (self.holes - 1) / 2
        holes = tuple(
            Punch(f"hole-{k + 1}", said("holes for the tongue"), (self.middle_mm + (k - middle) * self.step_mm, 0.0),
                  self.hole_mm, "holes") for k in range(self.holes)
        )  # fmt: skip
        billet = strapping("billet", said("billet"), self.billet_mm, self.tip_mm, "square", self.end, stock, SEAM_IN_MM,
                           holes).piece  # fmt: skip
        far = 2 * (self.box_mm + self.to_bar_mm) + half_turn(self.bar_mm, leather_mm, NEUTRAL_DRY)
        pieces, seats, joins = [], list[Seat](), []
        behind = self.bar_in_mm + self.to_bar_mm
        at_bar, at_edge = said("the bar"), said("its corner at the edge")
        for piece, on, row, runs, side, inward, begins, under in (
            (tab, laid.first, rows[0], laid.runs(laid.left), LEFT_SIDE, behind, at_bar, far),
            (billet, laid.last, rows[1], laid.runs(laid.right), RIGHT_SIDE, self.in_mm, at_edge, None),
        ):
            frames = [_frame(at, way_at(runs, at), side, inward + self.box_mm) for at in row]
            held, join = sewn_on(
                piece.id, piece, (on.id, on.title), self.billet_mm / 2, self.box_mm, frames, begins, under
            )
            seats += held
            joins.append(join)
            pieces.append(counted(piece, n))
        return Fitted(
            pieces=tuple(pieces), seats=tuple(seats), joins=tuple(joins),
            turns=(Turn("tab", (0, 1), "tab", BUCKLE, self.bar_mm, self.billet_mm + OVER_BILLET_MM),),
            buckles=(Buckle(
                (laid.first.id, laid.last.id), ("left", "right"), ("tab", 0), ("billet", holes[len(holes) // 2].id),
                self.gap_mm if self.holes % 2 else self.gap_mm + self.step_mm / 2,
            ),),
        )  # fmt: skip

    def callouts(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Callout, ...]:
        """The values of tabs and billets."""
        half, holes = self.billet_mm / 2, self.middle_mm - (self.holes - 1) / 2 * self.step_mm
        last = self.middle_mm + (self.holes - 1) / 2 * self.step_mm
        ends = {"square": said("cut square"), "round": said("cut round"), "pointed": said("cut to a point"),
                "english": said("cut to an English point")}  # fmt: skip
        return (
            *super().callouts(laid, rows),
            Callout("piece.closed.billet_mm", said("billets, wide"), "length", self.billet_mm, (self.box_mm, -half), "right",
                    "billet", on="billet", to=(self.box_mm, half)),
            Callout("piece.closed.box_mm", said("sewn on over"), "length", self.box_mm, (0.0, half), "left", "billet",
                    on="billet", to=(self.box_mm, half), seldom=True),
            Callout("piece.closed.past_mm", said("beyond the last hole"), "length", self.past_mm, (last, -half), "left",
                    on="billet", to=(self.tip_mm, -half), seldom=True),
            Callout("piece.closed.holes", said("holes"), "count", self.holes, (holes, -half), "left", on="billet", seldom=True),
            Callout("piece.closed.step_mm", said("hole to hole"), "length", self.step_mm, (holes, half), "right", on="billet",
                    to=(holes + self.step_mm, half), seldom=True),
            Callout("piece.closed.hole_mm", said("holes, wide"), "length", self.hole_mm, (last, -half), "left", on="billet",
                    seldom=True),
            Callout("piece.closed.end", said("billets"), "count", self.end, (self.tip_mm, 0.0), "right", on="billet",
                    choices=tuple(ends.values()), meant=tuple(ends)),
            Callout("piece.closed.bar_mm", said("buckle's bar, thick"), "length", self.bar_mm,
                    (self.box_mm + self.to_bar_mm, -half), "right", "tab", on="tab", seldom=True),
            Callout("piece.closed.to_bar_mm", said("from its seam to the bar"), "length", self.to_bar_mm, (self.box_mm, half),
                    "right", "tab", on="tab", to=(self.box_mm + self.to_bar_mm, half), seldom=True),
            Callout("piece.closed.bar_in_mm", said("buckles, in from the edge"), "length", self.bar_in_mm, point(rows[0][-1]),
                    "left", "closures"),
            Callout("piece.closed.in_mm", said("billets, in from the edge"), "length", self.in_mm, point(rows[1][-1]), "right",
                    "closures", seldom=True, on=laid.on_last),
        )  # fmt: skip

    def reckonings(self, laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> tuple[Reckoning, ...]:
        """How long tabs and billets are cut."""
        turn = half_turn(self.bar_mm, leather_mm, NEUTRAL_DRY)
        return (
            reckon("tab", said("Cut a tab"), length(2 * (self.box_mm + self.to_bar_mm) + turn),
                   said("2 × ({b:n} sewn on + {r:n} to the bar) + {turn} half turn", b=length(self.box_mm),
                        r=length(self.to_bar_mm), turn=length(turn)), ("tab",)),
            reckon("billet", said("To a billet's middle hole"), length(self.middle_mm),
                   said("{b:n} sewn on + {i:n} margin + {g:n} gap + {r:n} to the bar", b=length(self.box_mm),
                        i=length(self.in_mm), g=length(self.gap_mm), r=length(self.bar_in_mm)), ("billet",)),
            reckon("billet-long", said("Cut a billet"), length(self.tip_mm),
                   said("{m:n} + {n} × {s:n} + {p}", m=length(self.middle_mm), n=count((self.holes - 1) / 2),
                        s=length(self.step_mm), p=length(self.past_mm)), ("billet",)),
        )  # fmt: skip

    def findings(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Finding, ...]:
        """Bars that do not come to the hole, holes that tear, boxes over the slot, a gap that the holes do not follow."""
        found = list(super().findings(laid, rows))
        least = CLEAR_MM + OVER_SLOT_MM
        if self.to_bar_mm < least:
            found.append(Finding(
                "hold", "held-over-slot", "draft",
                said("Begun {f} from the bar, what holds the tab runs into the slot for the tongue; {clear} clears it.",
                     f=length(self.to_bar_mm), clear=length(least)), "piece.closed.to_bar_mm",
                Mend(said("clear of the slot"), (("piece.closed.to_bar_mm", 12.0),)),
            ))  # fmt: skip
        first = self.middle_mm - (self.holes - 1) / 2 * self.step_mm
        clear = self.box_mm + 2 * self.hole_mm
        if first < clear:
            found.append(Finding(
                "hold", "billet-short", "draft",
                said("The first hole of a billet comes to lie {d} from its sewn end, on what it is sewn by: the buckles stand "
                     "too near their edge.", d=length(max(first, 0.0))), "piece.closed.bar_in_mm",
                Mend(said("farther in"), (("piece.closed.bar_in_mm", float(np.ceil(self.bar_in_mm + clear - first))),)),
            ))  # fmt: skip
        if self.past_mm < TIP_MM + self.hole_mm / 2:
            found.append(Finding(
                "hold", "hole-tears-out", "draft",
                said("The last hole leaves {d} of billet beyond it; a tongue wants {least}.", d=length(self.past_mm),
                     least=length(TIP_MM + self.hole_mm / 2)), "piece.closed.past_mm",
                Mend(said("30 mm, as usual"), (("piece.closed.past_mm", 30.0),)),
            ))  # fmt: skip
        if self.holes > 1 and self.step_mm < 2 * self.hole_mm:
            found.append(Finding(
                "hold", "tongue-holes-near", "draft",
                said("Holes {w} wide stand {s} apart: the leather between them tears.", w=length(self.hole_mm),
                     s=length(self.step_mm)), "piece.closed.step_mm",
                Mend(said("farther apart"), (("piece.closed.step_mm", max(12.0, 2 * self.hole_mm)),)),
            ))  # fmt: skip
        off, follows = abs(self.gap_low_mm - self.gap_high_mm) / 2, (self.holes - 1) / 2 * self.step_mm
        if off > follows + self.step_mm / 2:
            found.append(Finding(
                "look", "billets-alike", "draft",
                said("The gap is {off} wider or narrower at its ends than in the middle; the holes of the billets, all alike, "
                     "follow it by {by}.", off=length(off), by=length(follows)), "piece.closed.holes",
                Mend(said("more holes"),
                     (("piece.closed.holes", min(9, 2 * int(np.ceil(off / self.step_mm)) + 1)),)),
            ))  # fmt: skip
        return tuple(found)


def _frame(at: Line, way: Line, side: float, in_mm: float) -> tuple[Line, Line]:
    """How a strip lies at a place on an edge that goes some way there: its ways along and across on the wrap, as columns, and
    where its sewn end is, so far in.
    """
    out = side * np.array([-way[1], way[0]])
    return np.column_stack([out, [-out[1], out[0]]]), at - out * in_mm
