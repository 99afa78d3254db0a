"""The strap between two fittings, or from one of them to a cut end: a sling's, a bag's, a tether's; bare or padded."""

from dataclasses import replace
from functools import partial
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ...curve import frozen
from ...drawing import Callout, Mark
from ...finding import Finding, Mend
from ...frozen import Frozen
from ...measure import Body, FittingBody
from ...quantity import Q
from ...reckoning import Reckoning, count, length, percent, reckon
from ...texts import Said, said
from ..assembly import Assembly
from ..drafted import Draft
from ..joins import Join, Keeps, Layer, Seat
from ..kind import KindOfPiece
from ..pieces import Edge, Piece, Skive, Stock, edged, leather
from ..strapping import (
    ENDS,
    FAR_END,
    Cut,
    Lap,
    Strapping,
    TurnedEnd,
    cut_length,
    half_turn,
    round_plies,
    sleeve,
    strapping,
)
from ..turned import bar_findings, lap_callouts, lap_findings, lap_reckonings
from ..wrap import NEUTRAL_DRY
from .buckle_strap import LOAD

Size = Annotated[float, Field(gt=0, le=3000)]
PAD_CLEAR_MM = 6.0  # foam ends so far short of its cover's ends (from memory)
PAD_LOOSE_MM = 2.0
LEAST_PAD_MM = 40.0  # a shorter pad is no pad (from memory)


class Pad(Frozen):
    """Foam on the strap in a cover round both: so thick, the cover so long, the foam tapered over `taper_mm` at either end."""

    thick_mm: Annotated[float, Field(gt=0, le=40)] = 8.0
    long_mm: Annotated[float, Field(gt=0, le=2000)] = 200.0
    taper_mm: Annotated[float, Field(ge=0, le=200)] = 25.0


class Strap(KindOfPiece):
    """Choices for a strap as long as `long_mm` from bar to bar, or from its bar to its cut end."""

    kind: Literal["strap"] = "strap"
    says: ClassVar[Said] = said("strap")
    hint: ClassVar[Said] = said("from bar to bar")
    fits: ClassVar[type[Body]] = FittingBody
    width_mm: Annotated[float, Field(gt=0, le=200)] = 24.0
    long_mm: Size = 600.0
    far: Literal["turned", "square", "round", "pointed", "english"] = "turned"
    lap: Lap = Lap(held="boxed")
    margin_mm: Annotated[float, Field(gt=0, le=60)] = 3.0
    load: Literal["nothing", "pulls"] = "nothing"
    pad: Pad | None = None

    def ends(self, body: FittingBody) -> tuple[TurnedEnd, TurnedEnd | Cut]:
        """Both ends, the far one as the first or cut."""
        first = TurnedEnd(body.bar_mm, self.lap, has_front=body.has_front)
        return first, replace(first, title=FAR_END) if self.far == "turned" else self.far

    def draft(self, body: FittingBody, leather_mm: float) -> Draft:
        """The strap, what its turns are held by, its pad. Never raises."""
        first, last = self.ends(body)
        strap = strapping("strap", said("strap"), self.width_mm, self.long_mm, first, last, leather(leather_mm),
                          self.margin_mm, carries=self.load == "pulls")  # fmt: skip
        pieces, joins, seats = self._padded(self.pad, leather_mm) if self.pad else ((), (), ())
        return Draft(
            assembly=Assembly((strap.piece, *pieces), (*joins, *strap.joins), (*strap.seats, *seats), strap.fasteners,
                              turns=strap.turns,
                              keeps=self._keeps()),
            marks=(Mark("dimension", frozen([[0.0, 0.0], [self.long_mm, 0.0]]), id="strap"),),
            callouts=self._callouts(body, leather_mm),
            tell=partial(self._reckonings, body, leather_mm, strap),
            find=partial(self._findings, body, leather_mm),
            shown=("strap", *(p.id for p in pieces)),
            around=frozenset({"strap"} if self.pad else ()),
            sentences=(said("Its far end {far}, the turn {lap}; {load}."),),
        )  # fmt: skip

    def _padded(self, pad: Pad, leather_mm: float) -> tuple[tuple[Piece, ...], tuple[Join, ...], tuple[Seat, ...]]:
        """The foam on the strap, and a cover round both, its edges meeting on the other side."""
        begins, half = (self.long_mm - pad.long_mm) / 2, self.width_mm / 2
        top, low = begins + PAD_CLEAR_MM, begins + pad.long_mm - PAD_CLEAR_MM
        foam = frozen([[top, -half], [max(low, top + 1.0), -half], [max(low, top + 1.0), half], [top, half]])
        outline, edges = edged(Edge("around", said("around"), foam, "free"))
        long = float(np.ptp(outline[:, 0]))
        taper = min(pad.taper_mm, long / 2)
        skives = tuple(
            Skive(f"{id}-taper", said("to nothing at its end"), frozen([[a, -half], [b, -half], [b, half], [a, half]]),
                  pad.thick_mm, 0.0, (thick, 0.0), (thin, 0.0))
            for id, a, b, thick, thin in (
                ("top", top, top + taper, top + taper, top),
                ("low", top + long - taper, top + long, top + long - taper, top + long),
            ) if taper > 0
        )  # fmt: skip
        piece = Piece(
            "foam", said("foam"), outline, edges, Stock("foam", said("foam"), pad.thick_mm, "foam"), skives=skives
        )
        across = self.cover_mm(pad, leather_mm)
        cover, seam = sleeve(
            "cover", said("pad's cover"), across, pad.long_mm, leather(leather_mm), self.margin_mm, upright=True
        )
        laid = Join("foam", said("foam"), "glued", (Layer("strap", "foam-seat"), Layer("foam")),
                    says=said("glue it to the flesh side of the strap, then the cover goes round both"))  # fmt: skip
        return (piece, cover), (laid, seam), (Seat("foam-seat", "strap", outline),)

    def _keeps(self) -> tuple[Keeps, ...]:
        if self.pad is None:
            return ()
        return (Keeps("cover", "strap", 1, PAD_LOOSE_MM, self.long_mm / 2, self.pad.long_mm, self.pad.thick_mm),)

    def cover_mm(self, pad: Pad, leather_mm: float) -> float:
        """How wide the cover is cut: round strap and foam."""
        return round_plies(self.width_mm, leather_mm + pad.thick_mm, leather_mm)

    def _callouts(self, body: FittingBody, leather_mm: float) -> tuple[Callout, ...]:
        edge, long = self.width_mm / 2, self.long_mm
        callouts = [
            Callout("piece.long_mm", said("long, bar to bar") if self.far == "turned" else said("long, from the bar"), "length",
                    long, (0.0, -edge), "left", "strap", to=(long, -edge)),
            Callout("piece.width_mm", said("wide"), "length", self.width_mm, (long * 0.2, -edge), "right", "strap",
                    to=(long * 0.2, edge)),
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (long * 0.9, edge), "right", "strap"),
            *lap_callouts("piece.lap", self.lap, body.bar_mm, self.width_mm, leather_mm),
            Callout("piece.margin_mm", said("thread to the cut"), "length", self.margin_mm, (self.lap.long_mm * 0.6, edge),
                    "right", "first-end"),
            Callout("piece.far", said("far end"), "count", self.far, (long, edge), "right",
                    choices=(said("turned round another"), *ENDS.values()), meant=("turned", *ENDS)),
            Callout("piece.load", said("load"), "count", self.load, (long * 0.5, edge), "right",
                    choices=(said("nothing pulls on it"), said("it carries a load")), meant=("nothing", "pulls")),
            Callout("piece.pad", said("pad"), "count", self.pad, (long * 0.5, -edge), "left",
                    choices=(said("no pad"), said("a pad")), meant=(None, self.pad or Pad()), part=said("a pad"),
                    usual=self._usual_pad()),
        ]  # fmt: skip
        if self.pad:
            begins, top = (long - self.pad.long_mm) / 2, PAD_CLEAR_MM
            callouts += [
                Callout("piece.pad.long_mm", said("pad, long"), "length", self.pad.long_mm, (begins, -edge), "left", "foam",
                        to=(begins + self.pad.long_mm, -edge)),
                Callout("piece.pad.thick_mm", said("foam, thick"), "length", self.pad.thick_mm, (long / 2, edge),
                        "right", "foam"),
                Callout("piece.pad.taper_mm", said("tapered over"), "length", self.pad.taper_mm, (begins + top, edge),
                        "right", "foam", to=(begins + top + self.pad.taper_mm, edge)),
            ]  # fmt: skip
        return tuple(callouts)

    def _usual_pad(self) -> Pad:
        return Pad(long_mm=min(200.0, max(self.long_mm / 2, 20.0)), taper_mm=min(25.0, max(self.long_mm / 10, 1.0)))

    def _reckonings(self, body: FittingBody, leather_mm: float, strap: Strapping) -> tuple[Reckoning, ...]:
        ends = [e for e in self.ends(body) if isinstance(e, TurnedEnd)]
        turn = half_turn(body.bar_mm, leather_mm, NEUTRAL_DRY)
        sums = [
            reckon("cut-length", said("Cut the strap"), length(cut_length(self.long_mm, ends, leather_mm, NEUTRAL_DRY)),
                   said("{long:n} + {n} × ({lap:n} lap + {turn} half turn)", long=length(self.long_mm), n=count(len(ends)),
                        lap=length(self.lap.long_mm), turn=length(turn)), ("strap",),
                   (said("half turn: π ({b:n} / 2 + {k} of {t})", b=length(body.bar_mm), k=percent(NEUTRAL_DRY),
                         t=Q("leather", leather_mm)),)),
            reckon("ease", said("Room in the opening"), length(body.opening_mm - self.width_mm),
                   said("{o:n} opening − {w} wide", o=length(body.opening_mm), w=length(self.width_mm)), ("strap",)),
        ]  # fmt: skip
        if self.pad:
            sums.append(reckon(
                "cover", said("Cover of the pad, across"), length(self.cover_mm(self.pad, leather_mm)),
                said("2 × ({w:n} + {t:n} + {f:n}) + 2π × {k} of {t}", w=length(self.width_mm), t=Q("leather", leather_mm),
                     f=length(self.pad.thick_mm), k=percent(NEUTRAL_DRY)), ("cover",),
            ))  # fmt: skip
        return (*sums, *lap_reckonings(self.lap, leather_mm))

    def _findings(self, body: FittingBody, leather_mm: float) -> tuple[Finding, ...]:
        room = self.long_mm / 2 if self.far == "turned" else self.long_mm
        pad = self.pad.long_mm if self.pad else 0.0
        findings = [
            *bar_findings(body.opening_mm, body.bar_mm, self.width_mm, leather_mm, body.spread_mm),
            *lap_findings("piece.lap", self.lap, room),
        ]
        free = self.long_mm - (2 if self.far == "turned" else 1) * self.lap.long_mm
        if self.pad and pad > free:
            findings.append(Finding(
                "hold", "pad-long", "draft",
                said("A pad {p} long does not fit in the {free} between what is laid back.", p=length(pad),
                     free=length(max(free, 0.0))), "piece.pad.long_mm",
                Mend(said("as long as fits"), (("piece.pad.long_mm", max(round(free - 1, 0), 1.0)),))
                if free > LEAST_PAD_MM else Mend(said("no pad"), (("piece.pad", None),)),
            ))  # fmt: skip
        elif self.pad and pad < LEAST_PAD_MM:
            findings.append(Finding(
                "hold", "pad-short", "draft",
                said("A pad {p} long leaves no foam between its ends; {least} is the least.", p=length(pad),
                     least=length(LEAST_PAD_MM)), "piece.pad.long_mm",
                Mend(said("as long as needed"), (("piece.pad.long_mm", LEAST_PAD_MM),)),
            ))  # fmt: skip
        if self.load == "pulls":
            findings.append(Finding("look", "load", "draft", LOAD, "piece.load"))
        return tuple(findings)
