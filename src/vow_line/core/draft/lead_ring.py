"""A ring for a lead on a collar: in a tab of its own, turned round it and sewn on the outside."""

from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field

from ..curve import frozen
from ..drawing import Callout
from ..finding import Finding, Mend
from ..frozen import Frozen
from ..reckoning import length
from ..texts import said
from .joins import RING, Join, Seat, Turn
from .pieces import Piece, leather
from .strapping import SEAM_IN_MM, Lap, TurnedEnd, half_turn, sewn_on, strapping
from .wrap import NEUTRAL_DRY

TAB = said("ring tab")
TO_BAR_MM = 6.0  # from the seam of its tab to the bar of a ring (from memory)
BESIDE_MM = 1.0  # of the strap on either side of it
LEAD_CLEAR_MM = 5.0  # from a ring and its tab to what else is on the strap
USUAL_WIDE_MM, LEAST_WIDE_MM = 16.0, 4.0  # a tab (from memory)
THROUGH_MM = 1.0  # a ring is so much wider inside than what goes through it (from memory)
STRAIGHT = frozen(np.eye(2))


class LeadRing(Frozen):
    """A ring for a lead, in a tab `wide_mm` wide that is sewn on over `box_mm`, beginning `at_mm` from the bar of the
    buckle.
    """

    at_mm: Annotated[float, Field(gt=0, le=2000)] = 90.0
    wide_mm: Annotated[float, Field(gt=0, le=100)] = USUAL_WIDE_MM
    box_mm: Annotated[float, Field(ge=8, le=100)] = 22.0
    bar_mm: Annotated[float, Field(gt=0, le=15)] = 4.0
    opening_mm: Annotated[float, Field(gt=0, le=120)] = 20.0

    @property
    def long_mm(self) -> float:
        """From its cut end to the bar of the ring."""
        return self.box_mm + TO_BAR_MM

    @property
    def takes_mm(self) -> float:
        """How much of the strap the tab and the ring lie on."""
        return self.long_mm + self.bar_mm + self.opening_mm


@dataclass(frozen=True, slots=True, eq=False)
class OnStrap:
    """The tab of a ring, and how it is sewn on."""

    tab: Piece
    seat: Seat
    join: Join
    turn: Turn


def lead_sewn_on(lead: LeadRing, leather_mm: float) -> OnStrap:
    """A tab turned round the ring's bar, both its layers sewn on together round the three sides that leaves."""
    end = TurnedEnd(lead.bar_mm, Lap(long_mm=lead.long_mm, skive_mm=0.0), holds=RING)
    tab = strapping("lead-tab", TAB, lead.wide_mm, lead.long_mm, "square", end, leather(leather_mm), SEAM_IN_MM).piece
    back = 2 * lead.long_mm + half_turn(lead.bar_mm, leather_mm, NEUTRAL_DRY)
    lies = (STRAIGHT, np.array([lead.at_mm, 0.0]))
    (seat,), join = sewn_on("lead", tab, ("strap", said("strap")), lead.wide_mm / 2, lead.box_mm, [lies], said("the ring"),
                            back, carries=True)  # fmt: skip
    return OnStrap(tab, seat, join, Turn(tab.id, (0, 1), "lead", RING, lead.bar_mm, lead.opening_mm))


def usual_lead(width_mm: float, from_mm: float, to_mm: float) -> LeadRing:
    """A ring on a strap so wide, between where its lap and keeper end and its holes begin; as wide a tab as the strap takes."""
    wide = max(min(USUAL_WIDE_MM, float(np.floor(width_mm - 2 * BESIDE_MM))), LEAST_WIDE_MM)
    usual = LeadRing(wide_mm=wide, opening_mm=wide + 4.0)
    at = max(min(usual.at_mm, to_mm - LEAD_CLEAR_MM - usual.takes_mm), from_mm, 1.0)
    return usual.model_copy(update={"at_mm": float(np.ceil(at))})


def lead_findings(lead: LeadRing, width_mm: float, from_mm: float, to_mm: float) -> list[Finding]:
    """A tab wider than the strap or than its ring, or where the lap, the keeper or the holes are."""
    usual, none = usual_lead(width_mm, from_mm, to_mm), Mend(said("no ring for a lead"), (("piece.lead", None),))
    found, most = [], width_mm - 2 * BESIDE_MM + 1e-9
    if lead.wide_mm > most:
        found.append(Finding(
            "hold", "lead-wide", "draft",
            said("A tab {t} wide is too wide for a strap of {w}.", t=length(lead.wide_mm), w=length(width_mm)),
            "piece.lead.wide_mm",
            Mend(said("narrower"), (("piece.lead.wide_mm", usual.wide_mm),)) if usual.wide_mm <= most else none,
        ))  # fmt: skip
    if lead.wide_mm > lead.opening_mm - THROUGH_MM:
        found.append(Finding(
            "hold", "turn-too-wide", "draft",
            said("A tab {t} wide does not go through a ring {o} wide inside.", t=length(lead.wide_mm),
                 o=length(lead.opening_mm)), "piece.lead.opening_mm",
            Mend(said("a wider ring"), (("piece.lead.opening_mm", min(float(np.ceil(lead.wide_mm + 4)), 120.0)),)),
        ))  # fmt: skip
    last = to_mm - LEAD_CLEAR_MM - lead.takes_mm
    if not from_mm - 1e-9 <= lead.at_mm <= last + 1e-9:
        at = float(np.ceil(max(min(lead.at_mm, last), from_mm)))
        found.append(Finding(
            "hold", "lead-in-the-way", "draft",
            said("The ring and its tab lie {a} to {b} from the bar: the lap and the keeper end at {c}, the holes begin at {d}.",
                 a=length(lead.at_mm), b=length(lead.at_mm + lead.takes_mm), c=length(from_mm), d=length(to_mm)),
            "piece.lead.at_mm", Mend(said("between them"), (("piece.lead.at_mm", at),)) if from_mm <= at <= last else none,
        ))  # fmt: skip
    return found


def lead_callouts(lead: LeadRing, edge_mm: float) -> list[Callout]:
    """Its values, on a strap whose edge lies so far from its middle."""
    at, half, long = lead.at_mm, lead.wide_mm / 2, lead.long_mm
    return [
        Callout("piece.lead.at_mm", said("ring's tab, from the bar"), "length", at, (0.0, edge_mm), "right", "lead",
                to=(at, edge_mm)),
        Callout("piece.lead.wide_mm", said("tab, wide"), "length", lead.wide_mm, (0.0, -half), "left", "lead-tab",
                on="lead-tab", to=(0.0, half)),
        Callout("piece.lead.box_mm", said("sewn on over"), "length", lead.box_mm, (0.0, half), "right", on="lead-tab",
                to=(lead.box_mm, half), seldom=True),
        Callout("piece.lead.bar_mm", said("ring, thick"), "length", lead.bar_mm, (long, -half), "left", on="lead-tab"),
        Callout("piece.lead.opening_mm", said("ring, wide inside"), "length", lead.opening_mm, (long, half), "right",
                on="lead-tab"),
    ]  # fmt: skip
