"""The rolled handle: a strap from ring to ring, wider in its middle, where it is sewn round a cord."""

from dataclasses import replace
from functools import partial
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ...curve import Line, frozen
from ...drawing import Callout, Mark
from ...finding import Finding, Mend
from ...measure import Body, FittingBody
from ...quantity import Q
from ...reckoning import Reckoning, count, length, percent, reckon
from ...texts import Said, said
from ..assembly import Assembly
from ..drafted import Draft
from ..joins import Join, Layer, Seat, Sewing
from ..kind import KindOfPiece
from ..pieces import Edge, Piece, Stock, edged, leather
from ..strapping import FAR_END, Lap, TurnedEnd, cut_length, half_turn, strapping
from ..turned import bar_findings, lap_callouts, lap_findings, lap_reckonings
from ..wrap import NEUTRAL_DRY, flat_length
from .buckle_strap import LOAD

LEAST_MM = 30.0  # a shorter roll is no grip (from memory)
GRIP_MM = 95.0  # a hand is about so wide (from memory)
STEPS = 13  # points of a taper


class Handle(KindOfPiece):
    """Choices for a handle as long as `long_mm` from bar to bar, its middle `rolled_mm` of it sewn round a cord, the leather
    widening to that over `taper_mm` at either end.
    """

    kind: Literal["handle"] = "handle"
    says: ClassVar[Said] = said("handle")
    hint: ClassVar[Said] = said("rolled round a cord")
    fits: ClassVar[type[Body]] = FittingBody
    width_mm: Annotated[float, Field(gt=0, le=200)] = 22.0
    long_mm: Annotated[float, Field(gt=0, le=1500)] = 320.0
    cord_mm: Annotated[float, Field(ge=2, le=40)] = 10.0
    rolled_mm: Annotated[float, Field(gt=0, le=1000)] = 120.0
    taper_mm: Annotated[float, Field(ge=5, le=200)] = 30.0
    lap: Lap = Lap()
    margin_mm: Annotated[float, Field(gt=0, le=30)] = 3.0
    load: Literal["nothing", "pulls"] = "pulls"

    def draft(self, body: FittingBody, leather_mm: float) -> Draft:
        """The strap, its roll and the cord in it. Never raises."""
        first = TurnedEnd(body.bar_mm, self.lap, has_front=body.has_front)
        strap = strapping("strap", said("strap"), self.width_mm, self.long_mm, first, replace(first, title=FAR_END),
                          leather(leather_mm), self.margin_mm, carries=self.load == "pulls")  # fmt: skip
        piece = self._rolled(strap.piece, leather_mm)
        a, b = self._between
        cord = frozen([[a, -self.cord_mm / 2], [b, -self.cord_mm / 2], [b, self.cord_mm / 2], [a, self.cord_mm / 2]])
        outline, around = edged(Edge("around", said("around"), cord, "free"))
        core = Piece("cord", said("cord"), outline, around, Stock("cord", said("cord"), self.cord_mm, "lace"))
        laid = Join("cord", said("cord"), "glued", (Layer("strap", "cord-seat"), Layer("cord")),
                    says=said("glue it down the middle of the flesh side, bring the damp edges together over it"))  # fmt: skip
        v = self.margin_mm - self.half_mm(leather_mm)  # beside its right edge
        line = frozen([[a, v], [b, v]])
        sewing = Sewing(line, self.margin_mm, margin_at="piece.margin_mm", stack_at="leather.thickness_mm",
                        begins=said("the near end"), carries=self.load == "pulls")  # fmt: skip
        roll = Join("roll", said("roll"), "line", (Layer("strap", "right-roll", said("one edge")),
                                                    Layer("strap", "left-roll", said("other edge"))), sewing)  # fmt: skip
        return Draft(
            assembly=Assembly((piece, core), (laid, roll, *strap.joins), (*strap.seats, Seat("cord-seat", "strap", cord)),
                              strap.fasteners, turns=strap.turns),
            marks=(Mark("dimension", frozen([[0.0, 0.0], [self.long_mm, 0.0]]), id="strap"),),
            callouts=self._callouts(body, leather_mm),
            tell=partial(self._reckonings, body, leather_mm),
            find=partial(self._findings, body, leather_mm),
            shown=("strap",),
            around=frozenset({"strap"}),
            sentences=(said("Its turns {lap}; {load}."),),
            carried=said("drawn before it is rolled"),
        )  # fmt: skip

    @property
    def _between(self) -> tuple[float, float]:
        """From where to where it is rolled."""
        rolled = min(self.rolled_mm, max(self.long_mm - 2 * self._taper - 2.0, 1.0))
        return (self.long_mm - rolled) / 2, (self.long_mm + rolled) / 2

    @property
    def _taper(self) -> float:
        """Over how much it widens, where there is so much of it."""
        return min(self.taper_mm, max(self.long_mm / 2 - 2.0, 1.0))

    def half_mm(self, leather_mm: float) -> float:
        """Half of how wide it is cut where it is rolled: once round the cord by its middle layer, and from the thread to the
        cut at either edge.
        """
        return float(flat_length(np.pi * self.cord_mm, 2 * np.pi, NEUTRAL_DRY, leather_mm)) / 2 + self.margin_mm

    def _rolled(self, piece: Piece, leather_mm: float) -> Piece:
        """The strap with its long edges widening to its roll, whose edges are sewn."""
        (a, b), half, wide = self._between, self.width_mm / 2, self.half_mm(leather_mm)
        ease = (1 - np.cos(np.linspace(0, np.pi, STEPS))) / 2
        up = np.column_stack([a - self._taper * (1 - np.linspace(0, 1, STEPS)), half + (wide - half) * ease])
        down = np.column_stack([b + self._taper * np.linspace(0, 1, STEPS), half + (wide - half) * (1 - ease)])
        new: list[Edge] = []
        for edge in (e for e in piece.edges if not e.ring):
            if edge.id not in ("left", "right"):
                new.append(edge)
                continue
            ends, side = edge.line[[0, -1]], 1.0 if edge.line[0, 1] > 0 else -1.0
            on, back = (ends[0, 0] < ends[1, 0]), np.array([1.0, side])
            parts: list[tuple[str, Line]] = [
                ("before", np.vstack([ends[0 if on else 1], up * back])), ("roll", np.array([[a, wide], [b, wide]]) * back),
                ("after", np.vstack([down * back, ends[1 if on else 0]])),
            ]  # fmt: skip
            for name, line in parts if on else [(n, k[::-1]) for n, k in parts[::-1]]:
                title = edge.title if name != "roll" else said("edges of the roll")
                beside = f"right-{name}" if edge.id == "left" and name != "roll" else ""
                new.append(
                    Edge(f"{edge.id}-{name}", title, frozen(line), "" if name == "roll" else "free", beside=beside)
                )
        outline, edges = edged(*new)
        return replace(piece, outline=outline, edges=(*edges, *(e for e in piece.edges if e.ring)))

    def _callouts(self, body: FittingBody, leather_mm: float) -> tuple[Callout, ...]:
        edge, long, (a, b), wide = self.width_mm / 2, self.long_mm, self._between, self.half_mm(leather_mm)
        return (
            Callout("piece.long_mm", said("long, bar to bar"), "length", long, (0.0, -wide), "left", "strap", to=(long, -wide)),
            Callout("piece.width_mm", said("wide at its rings"), "length", self.width_mm, (0.0, -edge), "right", "strap",
                    to=(0.0, edge)),
            Callout("piece.rolled_mm", said("rolled"), "length", self.rolled_mm, (a, wide), "right", "roll", to=(b, wide)),
            Callout("piece.cord_mm", said("cord, thick"), "length", self.cord_mm, (long / 2, 0.0), "right", "strap"),
            Callout("piece.taper_mm", said("widens over"), "length", self.taper_mm, (a - self.taper_mm, wide), "left", "strap",
                    to=(a, wide)),
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (long * 0.9, edge), "right", "strap"),
            *lap_callouts("piece.lap", self.lap, body.bar_mm, self.width_mm, leather_mm),
            Callout("piece.margin_mm", said("thread to the cut"), "length", self.margin_mm, (b, wide - self.margin_mm), "right",
                    "roll"),
            Callout("piece.load", said("load"), "count", self.load, (long * 0.5, edge), "right",
                    choices=(said("nothing pulls on it"), said("it carries a load")), meant=("nothing", "pulls")),
        )  # fmt: skip

    def _reckonings(self, body: FittingBody, leather_mm: float) -> tuple[Reckoning, ...]:
        end, t = TurnedEnd(body.bar_mm, self.lap), Q("leather", leather_mm)
        turn = half_turn(body.bar_mm, leather_mm, NEUTRAL_DRY)
        return (
            reckon("cut-length", said("Cut the strap"), length(cut_length(self.long_mm, (end, end), leather_mm, NEUTRAL_DRY)),
                   said("{long:n} + {n} × ({lap:n} lap + {turn} half turn)", long=length(self.long_mm), n=count(2),
                        lap=length(self.lap.long_mm), turn=length(turn)), ("strap",)),
            reckon("wide", said("Wide where it is rolled"), length(2 * self.half_mm(leather_mm)),
                   said("π × ({d:n} + 2 × {k} of {t}) + 2 × {m}", d=length(self.cord_mm), k=percent(NEUTRAL_DRY), t=t,
                        m=length(self.margin_mm)), ("roll",)),
            reckon("grip", said("Thick in the hand"), length(self.cord_mm + 2 * leather_mm),
                   said("{d:n} + 2 × {t}, and its seam below", d=length(self.cord_mm), t=t), ("roll",)),
            *lap_reckonings(self.lap, leather_mm),
        )  # fmt: skip

    def _findings(self, body: FittingBody, leather_mm: float) -> tuple[Finding, ...]:
        found = [
            *bar_findings(body.opening_mm, body.bar_mm, self.width_mm, leather_mm, body.spread_mm),
            *lap_findings("piece.lap", self.lap, self.long_mm / 2),
        ]
        free = self.long_mm - 2 * (self.lap.long_mm + self.taper_mm)
        if self.rolled_mm > free:
            fits = max(float(np.floor(free)), 0.0)
            long = float(np.ceil(self.rolled_mm + 2 * (self.lap.long_mm + self.taper_mm)))
            longer = Mend(said("{long} from bar to bar", long=length(long)), (("piece.long_mm", long),))
            shorter = Mend(said("roll {fits} of it", fits=length(fits)), (("piece.rolled_mm", fits),))
            ways = [shorter, longer] if fits >= LEAST_MM else [longer]
            found.append(Finding(
                "hold", "roll-long", "draft",
                said("{r} rolled does not fit in the {free} between what is laid back and its tapers.",
                     r=length(self.rolled_mm), free=length(max(free, 0.0))), "piece.rolled_mm", ways[0], tuple(ways[1:]),
            ))  # fmt: skip
        elif self.rolled_mm < GRIP_MM:
            found.append(Finding(
                "look", "grip-short", "draft",
                said("{r} rolled is less than a hand is wide, about {grip}.", r=length(self.rolled_mm), grip=length(GRIP_MM)),
                "piece.rolled_mm", Mend(said("{grip} of it", grip=length(GRIP_MM + 15)), (("piece.rolled_mm", GRIP_MM + 15),)),
            ))  # fmt: skip
        wide = 2 * self.half_mm(leather_mm)
        if wide < self.width_mm:
            cord = float(np.ceil(((self.width_mm - 2 * self.margin_mm) / np.pi - leather_mm) * 2) / 2)
            found.append(Finding(
                "look", "roll-narrow", "draft",
                said("Round so thin a cord the strap is {w} wide, less than the {ends} at its rings.", w=length(wide),
                     ends=length(self.width_mm)), "piece.cord_mm",
                Mend(said("a cord of {d}", d=length(cord)), (("piece.cord_mm", cord),)) if 2 <= cord <= 40 else None,
            ))  # fmt: skip
        if self.load == "pulls":
            found.append(Finding("look", "load", "draft", LOAD, "piece.load"))
        return tuple(found)
