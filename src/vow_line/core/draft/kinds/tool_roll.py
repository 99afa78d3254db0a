"""The roll for tools: a back, a front sewn to it in pockets by the tools' sizes, a flap over their tops, a tie round it."""

from collections.abc import Iterator
from dataclasses import replace
from functools import partial
from itertools import pairwise
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ...curve import Values, frozen
from ...drawing import Callout, Label, Mark
from ...finding import Finding, Mend
from ...frozen import Frozen
from ...measure import Body, ToolsBody
from ...quantity import Q
from ...reckoning import Reckoning, count, length, percent, reckon
from ...texts import Said, said
from ..assembly import Assembly
from ..drafted import Draft
from ..joins import Fastener, Join, Layer, Pocket, Seat, Sewing
from ..kind import KindOfPiece
from ..pieces import Edge, Piece, Punch, edged, leather
from ..strapping import strapping
from ..wrap import NEUTRAL_DRY, flat_length

SEAM_APART_MM = 4.0  # a seam between pockets ends so far above the one below them
FALLS_OUT, HIDDEN = 0.35, 0.9  # a tool less deep in its pocket falls out; one deeper is not got hold of (from memory)
OVER_MM = 10.0  # the flap folds so far above the longest tool (from memory)
TIE_IN_MM = 15.0  # a tie is riveted so far in from the edge
SHARP = said("Edges and points: a guard or a cork on each before it goes in, points down.")


class Tie(Frozen):
    """A strap riveted to the right edge that goes round the roll."""

    width_mm: Annotated[float, Field(gt=0, le=60)] = 14.0
    long_mm: Annotated[float, Field(gt=0, le=2000)] = 500.0
    rivet_mm: Annotated[float, Field(gt=0, le=15)] = 4.0


class ToolRoll(KindOfPiece):
    """Choices for a roll; every length in mm. Each tool stands `deep_mm` in its pocket, `ease_mm` wider than it must be."""

    kind: Literal["tool_roll"] = "tool_roll"
    says: ClassVar[Said] = said("tool roll")
    hint: ClassVar[Said] = said("side by side, rolled up")
    fits: ClassVar[type[Body]] = ToolsBody
    deep_mm: Annotated[float, Field(gt=0, le=600)] = 90.0
    ease_mm: Annotated[float, Field(ge=0, le=40)] = 3.0
    flap_mm: Annotated[float, Field(ge=0, le=600)] = 70.0
    margin_mm: Annotated[float, Field(gt=0, le=40)] = 4.0
    tie: Tie | None = Tie()

    def pockets_mm(self, body: ToolsBody, leather_mm: float) -> Values:
        """How wide each pocket is between its seams `(n,)`: half the leather round the tool, w + h + π k t, and ease."""
        around = 2 * (body.sizes_mm[:, 1] + body.sizes_mm[:, 2])
        return flat_length(around, np.full(len(around), 2 * np.pi), NEUTRAL_DRY, leather_mm) / 2 + self.ease_mm

    def draft(self, body: ToolsBody, leather_mm: float) -> Draft:
        """Back, front, their seams, the flap's fold and the tie. Never raises."""
        pockets, m = self.pockets_mm(body, leather_mm), self.margin_mm
        wide = float(pockets.sum()) + 2 * m
        longest = float(body.sizes_mm[:, 0].max())
        rise = max(longest + OVER_MM - self.deep_mm, 0.0) + self.flap_mm  # of the back above the front
        low = self.deep_mm + m
        back_u = np.array([[0.0, 0.0], [0.0, low], [wide, low], [wide, 0.0]])
        around, sewn_back = edged(
            Edge("free", said("top and sides"), frozen([[wide, 0.0], [wide, -rise], [0.0, -rise], [0.0, 0.0]]), "free"),
            Edge("sewn", said("sewn edge"), frozen(back_u)),
        )
        outline, sewn_front = edged(
            Edge("mouth", said("mouth"), frozen([[wide, 0.0], [0.0, 0.0]]), "mouth"),
            Edge("sewn", said("sewn edge"), frozen(back_u)),
        )
        folds = (frozen([[0.0, self.flap_mm - rise], [wide, self.flap_mm - rise]]),) if 0 < self.flap_mm < rise else ()
        stock, still = leather(leather_mm), frozen(np.eye(2))
        u_line = np.array([[m, 0.0], [m, low - m], [wide - m, low - m], [wide - m, 0.0]])
        layers = Layer("front", "sewn", said("front")), Layer("back", "sewn", said("back"), turn=still)
        joins = [Join("around", said("seam round"), "line", layers, Sewing(
            frozen(u_line), m, margin_at="piece.margin_mm", stack_at="leather.thickness_mm", begins=said("the mouth, left"),
            edge_ends=(True, True)))]  # fmt: skip
        seats: list[Seat] = []
        at = m + np.cumsum(pockets)[:-1]
        for k, u in enumerate(at.tolist(), 1):
            line = frozen([[u, 0.0], [u, max(low - m - SEAM_APART_MM, 1.0)]])
            seats += [Seat(f"line-{k}", piece, line) for piece in ("back", "front")]
            joins.append(Join(
                f"line-{k}", said("seam {k} between", k=k), "line",
                (Layer("front", f"line-{k}", said("front")), Layer("back", f"line-{k}", said("back"), turn=still)),
                Sewing(line, m, margin_at="piece.margin_mm", stack_at="leather.thickness_mm", begins=said("the mouth"),
                       edge_ends=(True, False)),
            ))  # fmt: skip
        pieces = [Piece("back", said("back"), around, sewn_back, stock, folds=folds, side_up="flesh"),
                  Piece("front", said("front"), outline, sewn_front, stock)]  # fmt: skip
        fasteners: tuple[Fastener, ...] = ()
        if self.tie:
            pieces, fasteners = self._tied(self.tie, pieces, wide, low / 2, leather_mm)
        names = ["left", *(f"line-{k}" for k in range(1, len(at) + 1)), "right"]
        edges = [m, *at.tolist(), wide - m]
        return Draft(
            assembly=Assembly(
                tuple(pieces), tuple(joins), tuple(seats), fasteners,
                pockets=tuple(Pocket("front", n, (edges[n], edges[n + 1])) for n in range(len(pockets))),
            ),
            marks=tuple(self._lying(body, edges, low)),
            labels=tuple(
                Label(said("{n}", n=count(k)), ((a + b) / 2, low - m - 6.0)) for k, (a, b) in enumerate(pairwise(edges), 1)
            ),
            callouts=self._callouts(wide, rise, low, edges, leather_mm),
            tell=partial(self._reckonings, body, pockets, wide, rise + low, leather_mm),
            find=partial(self._findings, body, names),
            shown=tuple(p.id for p in pieces),
            sentences=(said("Rolled up with {tie}."),),
        )  # fmt: skip

    def _lying(self, body: ToolsBody, edges: list[float], low: float) -> Iterator[Mark]:
        """Each tool in the middle of its pocket, on the seam below."""
        foot = low - self.margin_mm
        for k, (long, wide, _) in enumerate(body.sizes_mm.tolist()):
            middle = (edges[k] + edges[k + 1]) / 2
            left, right = middle - wide / 2, middle + wide / 2
            ring = frozen([[left, foot - long], [right, foot - long], [right, foot], [left, foot]])
            yield Mark("thing", ring, True, f"tool-{k + 1}")

    def _tied(
        self, tie: Tie, pieces: list[Piece], wide: float, middle: float, leather_mm: float
    ) -> tuple[list[Piece], tuple[Fastener, ...]]:  # fmt: skip
        """The tie, and its rivet through the back beyond the front's edge."""
        at = (wide - TIE_IN_MM, -min(TIE_IN_MM, 1e3))
        back, front = pieces
        hole = Punch("tie-hole", said("hole for the tie"), at, tie.rivet_mm)
        strap = strapping("tie", said("tie"), tie.width_mm, tie.long_mm, "round", "pointed", leather(leather_mm), 3.0,
                          (Punch("rivet-hole", said("rivet hole"), (TIE_IN_MM, 0.0), tie.rivet_mm),))  # fmt: skip
        back = replace(back, punches=(hole,))
        rivet = Fastener("tie-rivet", said("rivet of the tie"), "rivet", (("tie", "rivet-hole"), ("back", "tie-hole")))
        return [back, front, strap.piece], (rivet,)

    def _callouts(
        self, wide: float, rise: float, low: float, edges: list[float], leather_mm: float
    ) -> tuple[Callout, ...]:
        callouts = [
            Callout("piece.deep_mm", said("deep in the pocket"), "length", self.deep_mm, (0.0, 0.0), "left", "front",
                    to=(0.0, low - self.margin_mm)),
            Callout("piece.flap_mm", said("flap"), "length", self.flap_mm, (0.0, -rise), "left", "back",
                    to=(0.0, self.flap_mm - rise), part=said("a flap"), usual=70.0),
            Callout("piece.ease_mm", said("pockets wider by"), "length", self.ease_mm, (edges[1], 0.0), "right", "front"),
            Callout("piece.margin_mm", said("thread to the cut"), "length", self.margin_mm, (wide, low - self.margin_mm),
                    "right", "around", to=(wide, low)),
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (wide, -rise / 2), "right", "back"),
            Callout("piece.tie", said("tie"), "count", self.tie, (wide, 0.0), "right",
                    choices=(said("no tie"), said("a tie")), meant=(None, self.tie or Tie())),
        ]  # fmt: skip
        if self.tie:
            half = self.tie.width_mm / 2
            callouts += [
                Callout("piece.tie.long_mm", said("tie, long"), "length", self.tie.long_mm, (self.tie.long_mm * 0.6, half),
                        "right", "tie", on="tie"),
                Callout("piece.tie.width_mm", said("tie, wide"), "length", self.tie.width_mm, (self.tie.long_mm * 0.5, half),
                        "right", "tie", on="tie", seldom=True),
                Callout("piece.tie.rivet_mm", said("tie's rivet, thick"), "length", self.tie.rivet_mm, (TIE_IN_MM, half),
                        "right", "tie", on="tie", seldom=True),
            ]  # fmt: skip
        return tuple(callouts)

    def _reckonings(
        self, body: ToolsBody, pockets: Values, wide: float, high: float, leather_mm: float
    ) -> tuple[Reckoning, ...]:
        each = [
            reckon(f"pocket-{k}", said("Pocket {k}, wide", k=count(k)), length(float(pocket)),
                   said("{w:n} wide + {h:n} thick + π × {n} of {t} + {e} ease", w=length(w), h=length(h),
                        n=percent(NEUTRAL_DRY), t=Q("leather", leather_mm), e=length(self.ease_mm)), (f"tool-{k}",))
            for k, (pocket, (_, w, h)) in enumerate(zip(pockets, body.sizes_mm.tolist(), strict=True), 1)
        ]  # fmt: skip
        return (
            reckon("wide", said("Cut, wide"), length(wide),
                   said("{p:n} in {n} pockets + 2 × {m}", p=length(float(pockets.sum())), n=count(len(pockets)),
                        m=length(self.margin_mm)), ("back",)),
            reckon("high", said("Back, high"), length(high),
                   said("the longest tool {l:n} + {over:n} over it + {flap:n} flap + {m}",
                        l=length(float(body.sizes_mm[:, 0].max())), over=length(OVER_MM), flap=length(self.flap_mm),
                        m=length(self.margin_mm)), ("back",)),
            *each,
        )  # fmt: skip

    def _findings(self, body: ToolsBody, names: list[str]) -> tuple[Finding, ...]:
        findings: list[Finding] = []
        long = body.sizes_mm[:, 0]
        usual = float(np.round(0.6 * long.min(), 0))
        fits = FALLS_OUT * long.max() <= usual <= HIDDEN * long.min()
        mend = Mend(said("as deep as suits all"), (("piece.deep_mm", max(usual, 1.0)),)) if fits else None
        k = int(np.argmin(long))
        if self.deep_mm > HIDDEN * long[k]:
            findings.append(Finding(
                "hold" if self.deep_mm > long[k] else "look", "tool-hidden", "draft",
                said("Tool {k}, {l} long, disappears in a pocket {d} deep.", k=count(k + 1), l=length(float(long[k])),
                     d=length(self.deep_mm)), "piece.deep_mm",
                mend or Mend(said("as deep as the shortest takes"), (("piece.deep_mm", max(usual, 1.0)),)),
            ))  # fmt: skip
        k = int(np.argmax(long))
        if self.deep_mm < FALLS_OUT * long[k]:
            findings.append(Finding(
                "look", "tool-falls-out", "draft",
                said("Tool {k}, {l} long, stands only {d} in its pocket: it falls out, or over.", k=count(k + 1),
                     l=length(float(long[k])), d=length(self.deep_mm)), "piece.deep_mm", mend,
            ))  # fmt: skip
        if self.tie and self.tie.rivet_mm > 0.5 * self.tie.width_mm:
            findings.append(Finding(
                "hold", "rivet-tears", "draft",
                said("A rivet {r} thick tears out of a tie {w} wide.", r=length(self.tie.rivet_mm),
                     w=length(self.tie.width_mm)),
                "piece.tie.width_mm", Mend(said("a wider tie"), (("piece.tie", Tie()),)),
            ))  # fmt: skip
        if not self.flap_mm:
            findings.append(Finding(
                "look", "no-flap", "draft", said("Without a flap the tools slide out when it is rolled."), "piece.flap_mm",
                Mend(said("a flap"), (("piece.flap_mm", 70.0),)),
            ))  # fmt: skip
        return tuple(findings)
