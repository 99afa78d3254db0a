"""The buckled strap: a collar, a belt, a band round a head: one end turned round a buckle's bar, holes in the other."""

from collections.abc import Mapping
from functools import partial
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ...curve import frozen
from ...drawing import Callout, Mark
from ...finding import Finding, Mend
from ...frozen import Frozen
from ...measure import Body, GirthBody
from ...quantity import Q
from ...reckoning import Reckoning, count, length, percent, reckon
from ...texts import Said, said
from ..assembly import Assembly
from ..drafted import Draft
from ..joins import Closes, Join, Keeps
from ..kind import KindOfPiece
from ..lead_ring import LEAD_CLEAR_MM, LeadRing, lead_callouts, lead_findings, lead_sewn_on, usual_lead
from ..pieces import Piece, Punch, leather
from ..strapping import ENDS, Cut, Lap, TurnedEnd, cut_length, half_turn, round_plies, sleeve, strapping
from ..turned import bar_findings, lap_callouts, lap_findings, lap_reckonings
from ..wrap import NEUTRAL_DRY

KEEPER_LOOSE_MM = 3.0  # a keeper that is so much looser still holds the end down (from memory)
KEEPER_PLIES = 2  # a keeper goes round the strap and the end that lies on it
TONGUE_FROM_END_MM = 12.0  # leather beyond the last hole that a tongue does not tear out of (from memory)

Size = Annotated[float, Field(gt=0, le=400)]


class Keeper(Frozen):
    """A loose loop, its ends sewn edge to edge, that holds the end down."""

    width_mm: Annotated[float, Field(gt=0, le=60)] = 12.0


class BuckleStrap(KindOfPiece):
    """Choices for a strap that closes by a buckle; every length in mm. The middle of its holes is where it fits."""

    kind: Literal["buckle_strap"] = "buckle_strap"
    says: ClassVar[Said] = said("buckled strap")
    hint: ClassVar[Said] = said("a collar, a belt, a band")
    fits: ClassVar[type[Body]] = GirthBody
    width_mm: Size = 24.0
    ease_mm: Annotated[float, Field(ge=0, le=200)] = 0.0
    holes: Annotated[int, Field(ge=1, le=15)] = 5
    step_mm: Annotated[float, Field(gt=0, le=100)] = 25.0
    tongue_mm: Annotated[float, Field(gt=0, le=15)] = 4.0
    past_mm: Annotated[float, Field(gt=0, le=400)] = 60.0
    end: Cut = "round"
    lap: Lap = Lap()
    margin_mm: Annotated[float, Field(gt=0, le=60)] = 3.0
    keeper: Keeper | None = Keeper()
    lead: LeadRing | None = None
    load: Literal["nothing", "pulls"] = "nothing"

    @property
    def pulled(self) -> bool:
        """Whether something pulls on it: a lead does."""
        return self.load == "pulls" or self.lead is not None

    def closed_mm(self, body: GirthBody, leather_mm: float, lining_mm: float) -> float:
        """From the bar to the hole it fits by: the girth, its ease, a whole turn of the strap's own thickness and round its
        lining, 2π (k t + l), and what the lap takes that lies inside.
        """
        round_it = body.girth_mm + self.ease_mm + 2 * np.pi * (NEUTRAL_DRY * leather_mm + lining_mm)
        return round_it + self.lap_takes_mm(body, leather_mm)

    def lap_takes_mm(self, body: GirthBody, leather_mm: float) -> float:
        """How much longer the way is over a lap of length L that lies inside, round a circle of radius r: the arc it is bent
        to, t L / (r + t / 2), and at either end what a tangent is longer than the arc under it, √((r + t)² − r²) − r β with
        cos β = r / (r + t).
        """
        r, t = (body.girth_mm + self.ease_mm) / (2 * np.pi), leather_mm
        beside = float(np.sqrt((r + t) ** 2 - r**2) - r * np.arccos(r / (r + t)))
        return t * min(self.lap.long_mm / (r + t / 2), 2 * np.pi) + 2 * beside

    def long_mm(self, body: GirthBody, leather_mm: float, lining_mm: float) -> float:
        """From the bar to the tip."""
        return self.closed_mm(body, leather_mm, lining_mm) + (self.holes - 1) / 2 * self.step_mm + self.past_mm

    def places_mm(self, body: GirthBody, leather_mm: float, lining_mm: float) -> list[float]:
        """Where the holes lie, from the bar."""
        middle = (self.holes - 1) / 2
        return [self.closed_mm(body, leather_mm, lining_mm) + (k - middle) * self.step_mm for k in range(self.holes)]

    def draft(self, body: GirthBody, leather_mm: float) -> Draft:
        """The strap, its holes, its turn and its keeper. Never raises."""
        return self._drafted(body, leather_mm, {})

    def _drafted(self, body: GirthBody, leather_mm: float, thick: Mapping[str, float]) -> Draft:
        """The same, lined so thick."""
        lining = thick.get("strap", 0.0)
        places = self.places_mm(body, leather_mm, lining)
        punches = tuple(Punch(f"hole-{k}", HOLES, (u, 0.0), self.tongue_mm, "holes") for k, u in enumerate(places, 1))
        first, stock = (
            TurnedEnd(body.bar_mm, self.lap, tongue=True, holds=BUCKLE, title=BUCKLE_END),
            leather(leather_mm),
        )
        strap = strapping(
            "strap", said("strap"), self.width_mm, self.long_mm(body, leather_mm, lining), first, self.end, stock,
            self.margin_mm, punches, carries=self.pulled,
        )  # fmt: skip
        keeper = self._keeper(leather_mm, lining)
        lead = lead_sewn_on(self.lead, leather_mm) if self.lead else None
        fits = f"hole-{self.holes // 2 + 1}" if self.holes % 2 else f"hole-{self.holes // 2}"
        short = 0.0 if self.holes % 2 else -self.step_mm / 2
        return Draft(
            assembly=Assembly(
                (strap.piece, *((keeper[0],) if keeper else ()), *((lead.tab,) if lead else ())),
                (*((keeper[1],) if keeper else ()), *((lead.join,) if lead else ()), *strap.joins),
                (*strap.seats, *((lead.seat,) if lead else ())), strap.fasteners,
                turns=(*strap.turns, *((lead.turn,) if lead else ())),
                closes_round=(Closes("strap", 0, fits, self.ease_mm + short),),
                keeps=self._keeps(lining),
            ),
            marks=(Mark("dimension", frozen([[0.0, 0.0], [places[-1], 0.0]]), id="fits"),),
            callouts=self._callouts(body, leather_mm, places, lining),
            tell=partial(self._reckonings, body, leather_mm, lining),
            lined=partial(self._drafted, body, leather_mm),
            counted=frozenset({"strap"}),
            find=partial(self._findings, body, leather_mm, places),
            shown=("strap", *(("keeper",) if keeper else ()), *(("lead-tab",) if lead else ())),
            sentences=(said("Its end cut {end}, the turn {lap}, {keeper}, {lead}.") if lead else
                       said("Its end cut {end}, the turn {lap}, {keeper}, {lead}; {load}."),),
        )  # fmt: skip

    def _keeper(self, leather_mm: float, lining_mm: float) -> tuple[Piece, Join] | None:
        if self.keeper is None:
            return None
        return sleeve("keeper", said("keeper"), self.keeper_mm(leather_mm, lining_mm), self.keeper.width_mm,
                      leather(leather_mm), self.margin_mm)  # fmt: skip

    def _keeps(self, lining_mm: float) -> tuple[Keeps, ...]:
        if self.keeper is None:
            return ()
        wide = self.keeper.width_mm
        return (
            Keeps(
                "keeper",
                "strap",
                KEEPER_PLIES,
                KEEPER_LOOSE_MM,
                self.lap.long_mm + wide,
                wide,
                besides_mm=KEEPER_PLIES * lining_mm,
            ),
        )

    def keeper_mm(self, leather_mm: float, lining_mm: float) -> float:
        """How long a keeper is cut: round the strap's plies and their lining at its corners, 2 (w + n (t + l)) + 2π k t, and
        half of what it may be looser."""
        high = KEEPER_PLIES * (leather_mm + lining_mm)
        return round_plies(self.width_mm, high, leather_mm) + KEEPER_LOOSE_MM / 2

    def _callouts(
        self, body: GirthBody, leather_mm: float, places: list[float], lining_mm: float
    ) -> tuple[Callout, ...]:
        edge, tip = self.width_mm / 2, self.long_mm(body, leather_mm, lining_mm)
        hole = places[-2] if len(places) > 1 else places[-1]
        callouts = [
            Callout("piece.width_mm", said("wide"), "length", self.width_mm, (tip * 0.3, -edge), "right", "strap",
                    to=(tip * 0.3, edge)),
            Callout("piece.ease_mm", said("looser than read"), "length", self.ease_mm, (tip * 0.2, -edge), "left", "fits"),
            Callout("piece.step_mm", said("hole to hole"), "length", self.step_mm, (hole, edge), "right",
                    to=(hole + self.step_mm, edge)),
            Callout("piece.holes", said("holes"), "count", self.holes, (places[0], -edge), "left", "fits"),
            Callout("piece.tongue_mm", said("holes, wide"), "length", self.tongue_mm, (places[-1], -edge), "left",
                    f"hole-{self.holes}", seldom=True),
            Callout("piece.past_mm", said("beyond the last hole"), "length", self.past_mm, (places[-1], -edge), "left",
                    to=(tip, -edge)),
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (tip * 0.45, -edge), "left", "strap"),
            Callout("piece.end", said("end"), "count", self.end, (tip, -edge), "left", choices=tuple(ENDS.values()),
                    meant=tuple(ENDS)),
            *lap_callouts("piece.lap", self.lap, body.bar_mm, self.width_mm, leather_mm, tongue=True),
            Callout("piece.margin_mm", said("thread to the cut"), "length", self.margin_mm, (self.lap.long_mm * 0.6, edge),
                    "right", "first-end"),
            Callout("piece.keeper", said("keeper"), "count", self.keeper, (self.lap.long_mm, -edge), "left",
                    choices=(said("no keeper"), said("a keeper")), meant=(None, self.keeper or Keeper())),
        ]  # fmt: skip
        if self.lead is None:  # a lead pulls
            callouts.append(Callout("piece.load", said("load"), "count", self.load, (tip * 0.5, edge), "right",
                                    choices=(said("nothing pulls on it"), said("it carries a load")),
                                    meant=("nothing", "pulls")))  # fmt: skip
        callouts.append(Callout(
            "piece.lead", said("ring"), "count", self.lead, (tip * 0.4, edge), "right",
            choices=(said("no ring for a lead"), said("a ring for a lead")),
            meant=(None, self.lead or usual_lead(self.width_mm, self._clear_mm, places[0])),
        ))  # fmt: skip
        if self.lead:
            callouts += lead_callouts(self.lead, edge)
        if self.keeper:
            long = self.keeper_mm(leather_mm, lining_mm)
            callouts.append(Callout("piece.keeper.width_mm", said("keeper, wide"), "length", self.keeper.width_mm,
                                    (long, 0.0), "right", "keeper", on="keeper", to=(long, self.keeper.width_mm)))  # fmt: skip
        return tuple(callouts)

    def _reckonings(self, body: GirthBody, leather_mm: float, lining_mm: float) -> tuple[Reckoning, ...]:
        closed, first = (
            self.closed_mm(body, leather_mm, lining_mm),
            TurnedEnd(body.bar_mm, self.lap, tongue=True, holds=BUCKLE, title=BUCKLE_END),
        )
        long = self.long_mm(body, leather_mm, lining_mm)
        sums = [
            reckon("fits", said("From the bar to the middle hole"), length(closed),
                   (said("{g:n} round + {e:n} looser + {lap} over the lap + 2π × ({k} of {t} + {l} lining)") if lining_mm else
                    said("{g:n} round + {e:n} looser + {lap} over the lap + 2π × {k} of {t}")).filled(
                        g=length(body.girth_mm), e=length(self.ease_mm), k=percent(NEUTRAL_DRY), t=Q("leather", leather_mm),
                        l=length(lining_mm), lap=length(self.lap_takes_mm(body, leather_mm))), ("fits",),
                   (said("the middle of {n} holes, {step} apart: it fits {less} smaller or larger",
                         n=count(self.holes), step=length(self.step_mm),
                         less=length((self.holes - 1) / 2 * self.step_mm)),) if self.holes > 1 else ()),
            reckon("long", said("From the bar to the tip"), length(long),
                   said("{c:n} + {n} × {step:n} + {past}", c=length(closed), n=count((self.holes - 1) / 2),
                        step=length(self.step_mm), past=length(self.past_mm)), ("strap",)),
            reckon("cut-length", said("Cut the strap"), length(cut_length(long, (first, self.end), leather_mm, NEUTRAL_DRY)),
                   said("{long:n} + {lap:n} lap + {turn} half turn", long=length(long), lap=length(self.lap.long_mm),
                        turn=length(half_turn(body.bar_mm, leather_mm, NEUTRAL_DRY))), ("strap",),
                   (said("half turn: π ({b:n} / 2 + {k} of {t})", b=length(body.bar_mm), k=percent(NEUTRAL_DRY),
                         t=Q("leather", leather_mm)),)),
            reckon("ease", said("Room in the buckle"), length(body.opening_mm - self.width_mm),
                   said("{o:n} opening − {w} wide", o=length(body.opening_mm), w=length(self.width_mm)), ("strap",)),
        ]  # fmt: skip
        if self.keeper:
            sums.append(reckon(
                "keeper", said("Cut the keeper"), length(self.keeper_mm(leather_mm, lining_mm)),
                (said("2 × ({w:n} + {n} × ({t:n} + {l:n})) + 2π × {k} of {t} + {ease}") if lining_mm else
                 said("2 × ({w:n} + {n} × {t:n}) + 2π × {k} of {t} + {ease}")).filled(
                     w=length(self.width_mm), n=count(KEEPER_PLIES), t=Q("leather", leather_mm), l=length(lining_mm),
                     k=percent(NEUTRAL_DRY), ease=length(KEEPER_LOOSE_MM / 2)), ("keeper",),
            ))  # fmt: skip
        return (*sums, *lap_reckonings(self.lap, leather_mm))

    def _findings(self, body: GirthBody, leather_mm: float, places: list[float]) -> tuple[Finding, ...]:
        findings = [*bar_findings(body.opening_mm, body.bar_mm, self.width_mm, leather_mm, body.spread_mm),
                    *lap_findings("piece.lap", self.lap, places[0], tongue=True)]  # fmt: skip
        if self.past_mm < TONGUE_FROM_END_MM + self.tongue_mm / 2:
            findings.append(Finding(
                "hold", "hole-tears-out", "draft",
                said("The last hole leaves {d} of strap beyond it; a tongue wants {least}.", d=length(self.past_mm),
                     least=length(TONGUE_FROM_END_MM + self.tongue_mm / 2)), "piece.past_mm",
                Mend(said("60 mm, as usual"), (("piece.past_mm", 60.0),)),
            ))  # fmt: skip
        if self.step_mm < 2 * self.tongue_mm:
            findings.append(Finding(
                "hold", "holes-near", "draft",
                said("Holes {w} wide stand {s} apart: the leather between them tears.", w=length(self.tongue_mm),
                     s=length(self.step_mm)), "piece.step_mm", Mend(said("25 mm, as usual"), (("piece.step_mm", 25.0),)),
            ))  # fmt: skip
        if self.holes > 1 and self.holes % 2 == 0:
            findings.append(Finding(
                "look", "holes-even", "draft",
                said("With {n} holes none is the middle one: it fits between two of them.", n=count(self.holes)), "piece.holes",
                Mend(said("one more"), (("piece.holes", min(self.holes + 1, 15)),)),
            ))  # fmt: skip
        if self.lead:
            findings += lead_findings(self.lead, self.width_mm, self._clear_mm, places[0])
        if self.pulled:
            findings.append(Finding("look", "load", "draft", LOAD, "piece.lead" if self.lead else "piece.load"))
        return tuple(findings)

    @property
    def _clear_mm(self) -> float:
        """Where its lap and its keeper end, from the bar."""
        return self.lap.long_mm + (2 * self.keeper.width_mm if self.keeper else 0.0) + LEAD_CLEAR_MM


BUCKLE, BUCKLE_END, HOLES = said("buckle"), said("buckle end"), said("holes for the tongue")
LOAD = said("It carries a load: what a life or an animal may hang on is judged by a qualified person. Nothing here says it is "
            "safe to rely on.")  # fmt: skip
