"""Straight small goods: a strip turned round a ring or bar, its two halves sewn or riveted together: a fob, a tab, a loop."""

from functools import partial
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ...curve import Line, frozen
from ...drawing import Callout, Mark
from ...measure import Body, FittingBody
from ...quantity import Q
from ...reckoning import Reckoning, length, percent, reckon
from ...texts import Said, said
from ..assembly import RIVET_POST_OVER_MM, Assembly
from ..drafted import Draft
from ..joins import Fastener, Join, Layer, Sewing, Turn
from ..kind import KindOfPiece
from ..pieces import Edge, Piece, Punch, edged, leather
from ..turned import bar_findings
from ..wrap import NEUTRAL_DRY, flat_length

Size = Annotated[float, Field(gt=0, le=1000)]


class StraightGoods(KindOfPiece):
    """Choices for a strip folded round a fitting; `length_mm` is what hangs below the bar."""

    kind: Literal["straight_goods"] = "straight_goods"
    says: ClassVar[Said] = said("fob, tab or loop")
    hint: ClassVar[Said] = said("a strip folded round it")
    fits: ClassVar[type[Body]] = FittingBody
    width_mm: Size = 22.0
    length_mm: Size = 80.0
    end: Literal["square", "round", "pointed"] = "round"
    held: Literal["sewn", "riveted"] = "sewn"
    margin_mm: Annotated[float, Field(gt=0, le=60)] = 3.0
    from_bar_mm: Annotated[float, Field(ge=0, le=100)] = 3.0
    rivet_mm: Annotated[float, Field(gt=0, le=30)] = 3.0

    def draft(self, body: FittingBody, leather_mm: float) -> Draft:
        """The strip, its seam or its rivet. Never raises."""
        turn = self._turn(body, leather_mm)
        half = turn / 2 + self.length_mm
        down = _half(self.width_mm, turn / 2, half, self.end)
        up = down[::-1] * [1, -1]
        outline, edges = edged(
            Edge("front", said("front edge"), down),
            Edge("turn-left", said("turn"), np.vstack([down[-1], up[0]]), "turn"),
            Edge("back", said("back edge"), up),
            Edge("turn-right", said("turn"), np.vstack([up[-1], down[0]]), "turn"),
        )
        below_bar = turn / 2 + self.from_bar_mm
        fasteners: tuple[Fastener, ...] = ()
        punches: tuple[Punch, ...] = ()
        layers = Layer("strip", "front", said("front")), Layer("strip", "back", said("back"))
        if self.held == "riveted":
            at = min(below_bar + self.rivet_mm, half - self.rivet_mm)
            punches = tuple(
                Punch(id, said("rivet hole"), (0.0, s * at), self.rivet_mm)
                for id, s in (("front-hole", 1), ("back-hole", -1))
            )
            fasteners = (Fastener("rivet", said("rivet"), "rivet", tuple(("strip", p.id) for p in punches)),)
            join = Join("halves", said("halves"), "riveted", layers)
        else:
            join = Join("seam", said("seam"), "line", layers, self._sewing(below_bar, half))
        strip = Piece(
            "strip", said("strip"), outline, edges, leather(leather_mm),
            folds=tuple(frozen([[-self.width_mm / 2, s * turn / 2], [self.width_mm / 2, s * turn / 2]]) for s in (1, -1)),
            punches=punches, turns="along",
        )  # fmt: skip
        return Draft(
            assembly=Assembly(
                (strip,),
                (join,),
                fasteners=fasteners,
                turns=(Turn("strip", (0, 1), join.id, has_front=body.has_front),),
            ),
            marks=(Mark("dimension", frozen([[-self.width_mm / 2 - 5, 0], [self.width_mm / 2 + 5, 0]])),),
            callouts=self._callouts(turn, half, leather_mm),
            tell=partial(self._reckonings, body, leather_mm, turn),
            find=partial(bar_findings, body.opening_mm, body.bar_mm, self.width_mm, leather_mm, body.spread_mm),
            shown=("strip",),
            sentences=(said("Cut {end} at its end, {held} below the bar."),),
        )

    def _turn(self, body: FittingBody, leather_mm: float) -> float:
        return flat_length(np.pi * body.bar_mm / 2, np.pi, NEUTRAL_DRY, leather_mm)

    def _sewing(self, start: float, half: float) -> Sewing:
        inset = min(self.margin_mm, 0.4 * self.width_mm)
        from_end = inset * np.sqrt(2) if self.end == "pointed" else inset  # a point is cut at 45 degrees to either side
        line = _half(self.width_mm - 2 * inset, start, half - from_end, self.end)
        return Sewing(
            frozen(line), inset, margin_at="piece.margin_mm", stack_at="leather.thickness_mm", begins=said("the bar")
        )

    def _callouts(self, turn: float, half: float, leather_mm: float) -> tuple[Callout, ...]:
        edge = self.width_mm / 2
        start = turn / 2 + self.from_bar_mm
        callouts = [
            Callout("piece.length_mm", said("hangs below the bar"), "length", self.length_mm, (-edge, turn / 2), "left",
                    "strip", to=(-edge, half)),
            Callout("piece.width_mm", said("wide"), "length", self.width_mm, (-edge, -half * 0.4), "right", "strip",
                    to=(edge, -half * 0.4)),
            Callout("piece.from_bar_mm", said("begins, from the bar"), "length", self.from_bar_mm, (edge, turn / 2), "right",
                    to=(edge, start)),
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (-edge, -half * 0.6), "left", "strip"),
            Callout("piece.end", said("end"), "count", self.end, (-edge, half), "left",
                    choices=(said("square"), said("round"), said("pointed"))),
            Callout("piece.held", said("held"), "count", self.held, (edge, turn / 2), "right",
                    choices=(said("sewn"), said("riveted"))),
        ]  # fmt: skip
        if self.held == "sewn":
            callouts.append(Callout("piece.margin_mm", said("thread to the cut"), "length", self.margin_mm, (edge, half * 0.7),
                                 "right", "seam"))  # fmt: skip
        else:
            callouts.append(Callout("piece.rivet_mm", said("rivet, thick"), "length", self.rivet_mm, (edge, half * 0.7),
                                 "right", "front-hole"))  # fmt: skip
        return tuple(callouts)

    def _reckonings(self, body: FittingBody, leather_mm: float, turn: float) -> tuple[Reckoning, ...]:
        reckonings = [
            reckon("cut-length", said("Cut the strip"), length(2 * self.length_mm + turn),
                   said("2 × {l:n} and a half turn of {turn}", l=length(self.length_mm), turn=length(turn)), ("strip",),
                   (said("half turn: π ({b:n} / 2 + {k} of {t})", b=length(body.bar_mm), k=percent(NEUTRAL_DRY),
                         t=Q("leather", leather_mm)),)),
            reckon("ease", said("Room in the opening"), length(body.opening_mm - self.width_mm),
                   said("{o:n} opening − {w} wide", o=length(body.opening_mm), w=length(self.width_mm)), ("strip",)),
        ]  # fmt: skip
        if self.held == "riveted":
            reckonings.append(reckon("post", said("Rivet post"), length(2 * leather_mm + RIVET_POST_OVER_MM),
                                said("2 × {t:n} stack + {p}", t=length(leather_mm), p=length(RIVET_POST_OVER_MM)),
                                ("front-hole",)))  # fmt: skip
        return tuple(reckonings)


def _half(wide: float, top: float, bottom: float, end: str) -> Line:
    """A half of the strip as a line down its right side, round the end and up the left."""
    edge = wide / 2
    if end == "pointed":
        tip = max(bottom - edge, top)
        return np.array([[edge, top], [edge, tip], [0.0, bottom], [-edge, tip], [-edge, top]])
    if end == "round":
        centre = max(bottom - edge, top)
        turn = np.linspace(0, np.pi, 41)
        arc = np.column_stack([edge * np.cos(turn), centre + (bottom - centre) * np.sin(turn)])
        return np.concatenate([[[edge, top]], arc, [[-edge, top]]]) if centre > top else arc
    return np.array([[edge, top], [edge, bottom], [-edge, bottom], [-edge, top]])
