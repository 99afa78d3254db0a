"""The needle case: leaves sewn into a cover that folds round them like a book, a flap over its opening closed by a stud."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ...curve import Line, Values, frozen
from ...drawing import Callout, Label, Mark
from ...finding import Finding, Mend
from ...measure import Body, ToolsBody
from ...quantity import Q
from ...reckoning import Reckoning, count, length, percent, reckon
from ...texts import Said, said
from ..assembly import Assembly
from ..drafted import Draft
from ..joins import Fastener, Join, Layer, Leaved, Seat, Sewing
from ..kind import KindOfPiece
from ..pieces import Edge, Piece, Punch, edged, leather, other_leather
from ..strapping import FLIPPED, cut_end
from ..wrap import NEUTRAL_DRY, flat_length

END_MM = 6.0  # leather beyond either end of the longest needle (from memory)
COVER_MM = 3.0  # the cover reaches so far past its leaves (from memory)
FROM_SPINE_MM = 2.0  # leaves begin so far from the turn of the spine
STUD_IN_MM = 14.0  # a stud stands so far in from the end of its flap (from memory)
STUD_MM = 4.0
LEAST_FLAP_MM = 25.0  # a flap that reaches less far over lifts (from memory)
LEAST_LEAF_MM = 35.0  # narrower leaves are not turned by a finger (from memory)
WIDE_MM = 120.0  # wider leaves sag when they are turned (from memory)
MOST_LEAVES = 6
COVER, LEAF = said("cover"), said("leaf")
End = Literal["square", "round", "pointed"]
ENDS: dict[End, Said] = {
    "square": said("cut square"), "round": said("cut round"), "pointed": said("cut to a point"),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Lines:
    """Lengths across the cover: leaf and face, the turns of spine and flap; how high leaf and cover are."""

    leaf: float
    face: float
    spine: float
    over: float
    leaf_high: float
    high: float

    @property
    def spine_at(self) -> float:
        """Where the spine folds, from the front's free edge."""
        return self.face + self.spine / 2

    @property
    def back(self) -> float:
        """Where the back begins, beyond the turn."""
        return self.face + self.spine

    @property
    def flap_at(self) -> float:
        """Where the flap folds."""
        return self.back + self.face + self.over / 2

    @property
    def flap_from(self) -> float:
        """Where the flap lies flat, on the front."""
        return self.back + self.face + self.over


class NeedleCase(KindOfPiece):
    """Choices for a needle case; every length in mm. Of everything that was measured `each` go in, side by side on the leaves,
    `apart_mm` from each other.
    """

    kind: Literal["needle_case"] = "needle_case"
    says: ClassVar[Said] = said("needle case")
    hint: ClassVar[Said] = said("leaves in a folding cover")
    fits: ClassVar[type[Body]] = ToolsBody
    each: Annotated[int, Field(ge=1, le=50)] = 4
    leaves: Annotated[int, Field(ge=1, le=MOST_LEAVES)] = 2
    leaf_mm: Annotated[float, Field(gt=0, le=6)] = 1.0
    apart_mm: Annotated[float, Field(ge=0, le=40)] = 4.0
    margin_mm: Annotated[float, Field(gt=0, le=30)] = 3.0
    flap_mm: Annotated[float, Field(gt=0, le=300)] = 34.0
    end: End = "round"

    def on_leaves(self, body: ToolsBody) -> list[Values]:
        """How wide the needles are that go on each leaf, in their order."""
        return np.array_split(np.repeat(body.sizes_mm[:, 1], self.each), self.leaves)

    def _fullest(self, body: ToolsBody) -> Values:
        """The needles of the leaf that takes the widest."""
        return max(self.on_leaves(body), key=self._taken_mm)

    def _taken_mm(self, wide_mm: Values) -> float:
        """How wide needles lie side by side."""
        return float(wide_mm.sum()) + self.apart_mm * (len(wide_mm) + 1)

    def lines(self, body: ToolsBody, leather_mm: float) -> _Lines:
        """Lengths of cover and leaves: a turn lies round all the leaves and the thickest needle, s + π k t."""
        leaf = max(2 * self.margin_mm + self._taken_mm(self._fullest(body)), LEAST_LEAF_MM)
        within = self.leaves * self.leaf_mm + float(body.sizes_mm[:, 2].max())
        high = float(body.sizes_mm[:, 0].max()) + 2 * END_MM
        return _Lines(
            leaf, FROM_SPINE_MM + leaf + COVER_MM, float(flat_length(within, np.pi, NEUTRAL_DRY, leather_mm)),
            float(flat_length(within + leather_mm, np.pi, NEUTRAL_DRY, leather_mm)), high, high + 2 * COVER_MM,
        )  # fmt: skip

    def draft(self, body: ToolsBody, leather_mm: float) -> Draft:
        """Cover, leaves, their seam and the stud. Never raises."""
        at = self.lines(body, leather_mm)
        half, m = at.high / 2, self.margin_mm
        cover = self._cover(at, leather_mm)
        sheet = frozen([[0.0, -at.leaf_high / 2], [at.leaf, -at.leaf_high / 2], [at.leaf, at.leaf_high / 2],
                        [0.0, at.leaf_high / 2]])  # fmt: skip
        outline, edges = edged(
            Edge("held", said("held edge"), frozen(sheet[[1, 2]])),
            Edge("free", said("free edges"), frozen(sheet[[2, 3, 0, 1]]), "free"),
        )
        stock = other_leather(self.leaf_mm, leather_mm, "leaf", said("thin leather"))
        leaf = Piece("leaf", LEAF, outline, edges, stock, count=self.leaves)
        inset = min(m, 0.3 * at.leaf_high)
        u = at.back + FROM_SPINE_MM + m
        line = frozen([[u, inset - at.leaf_high / 2], [u, at.leaf_high / 2 - inset]])
        seat = Seat("leaves", "cover", line)
        # laid inside the back, the leaf is seen from the other side
        shift = (at.back + FROM_SPINE_MM + at.leaf, 0.0)
        join = Join(
            "leaves", said("seam of the leaves"), "line",
            (Layer("cover", "leaves", COVER), Layer("leaf", "held", LEAF, count=self.leaves, turn=FLIPPED, shift=shift)),
            Sewing(line, m, margin_at="piece.margin_mm", stack_at="leather.thickness_mm", begins=said("the top"),
                   stack_title=COVER),
        )  # fmt: skip
        stud = Fastener("stud", said("stud"), "stud", (("cover", "stud-hole"), ("cover", "stud-post")))
        return Draft(
            assembly=Assembly((cover, leaf), (join,), (seat,), (stud,), leaved=(Leaved("cover", "leaf", "leaves", (0, 1)),)),
            marks=(*self._lying(body, at), Mark("dimension", frozen([[0.0, 0.0], [at.flap_at, 0.0]]), id="round")),
            labels=(Label(said("front"), (at.face / 2, -half * 0.5)),
                    Label(said("back, leaves within"), (at.back + at.face / 2, -half * 0.75)),
                    Label(said("flap"), (at.flap_from + self.flap_mm / 2, -half * 0.5))),
            callouts=self._callouts(at, leather_mm),
            tell=partial(self._reckonings, body, at, leather_mm),
            find=partial(self._findings, at),
            shown=("cover", "leaf"),
            sentences=(said("Its flap {end}, closed by a stud."),),
        )  # fmt: skip

    def _cover(self, at: _Lines, leather_mm: float) -> Piece:
        half = at.high / 2
        tip, back = cut_end(self.end, half)
        end = at.flap_from + self.flap_mm
        sides = max(end - back, at.flap_from)
        # the end is drawn from its right side to its left about (0, 0), its farthest point there; on a short flap it is blunter
        flap = np.column_stack(
            [np.minimum(end + tip[:, 1] * min((end - sides) / max(back, 1e-9), 1.0), end), -tip[:, 0]]
        )
        ring = np.concatenate([[[0.0, half], [0.0, -half]], flap])
        outline, edges = edged(Edge("around", said("around"), frozen(ring), "free"))
        from_end = min(STUD_IN_MM, self.flap_mm / 2)
        closes_at = min(self.flap_mm - from_end, at.face - STUD_MM)
        punches = (
            Punch("stud-hole", said("stud hole"), (end - from_end, 0.0), STUD_MM),
            Punch("stud-post", said("hole for the stud's post"), (closes_at, 0.0), STUD_MM),
        )
        folds = tuple(frozen([[u, -half], [u, half]]) for u in (at.spine_at, at.flap_at))
        return Piece("cover", COVER, outline, edges, leather(leather_mm), folds=folds, punches=punches, turns="across")

    def _lying(self, body: ToolsBody, at: _Lines) -> Iterator[Mark]:
        """The needles of the first leaf where they lie."""
        long = np.repeat(body.sizes_mm[:, 0], self.each)
        u = at.back + FROM_SPINE_MM + 2 * self.margin_mm
        for k, wide in enumerate(self.on_leaves(body)[0].tolist()):
            u += self.apart_mm
            yield Mark("thing", _box(u, wide, float(long[k])), True, f"tool-{k // self.each + 1}")
            u += wide

    def _callouts(self, at: _Lines, leather_mm: float) -> tuple[Callout, ...]:
        half, leaf = at.high / 2, at.back + FROM_SPINE_MM
        return (
            Callout("piece.flap_mm", said("flap"), "length", self.flap_mm, (at.flap_from, half), "right", "cover",
                    to=(at.flap_from + self.flap_mm, half)),
            Callout("piece.leaves", said("leaves"), "count", self.leaves, (leaf + at.leaf, -half), "left", "leaf"),
            Callout("piece.each", said("of each"), "count", self.each, (leaf + at.leaf * 0.4, -half), "left", "leaf"),
            Callout("piece.apart_mm", said("from each other"), "length", self.apart_mm, (leaf + 2 * self.margin_mm, half * 0.6),
                    "left", "leaf"),
            Callout("piece.leaf_mm", said("leaves, thick"), "leather", self.leaf_mm, (at.leaf, 0.0), "right", "leaf",
                    on="leaf"),
            Callout("piece.margin_mm", said("thread to the cut"), "length", self.margin_mm, (leaf, half * 0.4), "right",
                    "leaves", to=(leaf + self.margin_mm, half * 0.4)),
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (at.face / 2, half), "left", "cover"),
            Callout("piece.end", said("its end"), "count", self.end, (at.flap_from + self.flap_mm, 0.0), "right",
                    choices=tuple(ENDS.values()), meant=tuple(ENDS)),
        )  # fmt: skip

    def _reckonings(self, body: ToolsBody, at: _Lines, leather_mm: float) -> tuple[Reckoning, ...]:
        most = self._fullest(body)
        thick, long = float(body.sizes_mm[:, 2].max()), float(body.sizes_mm[:, 0].max())
        return (
            reckon("leaf", said("Cut a leaf, wide"), length(at.leaf),
                   said("{w:n} of needles + {n} × {a:n} apart + 2 × {m} by which it is held", w=length(float(most.sum())),
                        n=count(len(most) + 1), a=length(self.apart_mm), m=length(self.margin_mm))
                   if at.leaf > LEAST_LEAF_MM else
                   said("its needles take {w}; less than this a finger does not turn",
                        w=length(self._taken_mm(most) + 2 * self.margin_mm)), ("leaf",)),
            reckon("leaf-high", said("Cut a leaf, high"), length(at.leaf_high),
                   said("the longest {l:n} + 2 × {e}", l=length(long), e=length(END_MM)), ("leaf",)),
            reckon("spine", said("Turn of the spine"), length(at.spine),
                   said("{n} × {l:n} of leaf + {d:n} of needle + π × {k} of {t}", n=count(self.leaves), l=length(self.leaf_mm),
                        d=length(thick), k=percent(NEUTRAL_DRY), t=Q("leather", leather_mm)), ("round",)),
            reckon("cover", said("Cut the cover, wide"), length(at.flap_from + self.flap_mm),
                   said("2 × {f:n} a face + {s:n} spine + {o:n} turn of the flap + {flap} flap", f=length(at.face),
                        s=length(at.spine), o=length(at.over), flap=length(self.flap_mm)), ("cover",)),
            reckon("cover-high", said("Cut the cover, high"), length(at.high),
                   said("{h:n} leaf + 2 × {c}", h=length(at.leaf_high), c=length(COVER_MM)), ("cover",)),
        )  # fmt: skip

    def _findings(self, at: _Lines) -> tuple[Finding, ...]:
        findings: list[Finding] = []
        if self.flap_mm < LEAST_FLAP_MM:
            findings.append(Finding(
                "look" if self.flap_mm > STUD_IN_MM + STUD_MM else "hold", "flap-short", "draft",
                said("A flap that reaches {f} over the front lifts; {least} holds.", f=length(self.flap_mm),
                     least=length(LEAST_FLAP_MM)), "piece.flap_mm",
                Mend(said("longer"), (("piece.flap_mm", LEAST_FLAP_MM + STUD_IN_MM - STUD_MM),)),
            ))  # fmt: skip
        elif self.flap_mm > at.face:
            findings.append(Finding(
                "hold", "flap-long", "draft",
                said("A flap of {f} reaches beyond a front {face} wide.", f=length(self.flap_mm), face=length(at.face)),
                "piece.flap_mm",
                Mend(said("two thirds of the front"),
                     (("piece.flap_mm", max(float(np.floor(at.face * 2 / 3)), LEAST_FLAP_MM)),)),
            ))  # fmt: skip
        if at.leaf > WIDE_MM and self.leaves < MOST_LEAVES:
            findings.append(Finding(
                "look", "leaf-wide", "draft",
                said("Leaves {w} wide sag when they are turned.", w=length(at.leaf)), "piece.leaves",
                Mend(said("one leaf more"), (("piece.leaves", self.leaves + 1),)),
            ))  # fmt: skip
        if at.leaf < 4 * self.margin_mm:
            findings.append(Finding(
                "hold", "margin-too-wide", "draft",
                said("A margin of {m} on a leaf {w} wide leaves nothing for its needles.", m=length(self.margin_mm),
                     w=length(at.leaf)), "piece.margin_mm", Mend(said("3 mm, as usual"), (("piece.margin_mm", 3.0),)),
            ))  # fmt: skip
        return tuple(findings)


def _box(u: float, wide: float, long: float) -> Line:
    return frozen([[u, -long / 2], [u + wide, -long / 2], [u + wide, long / 2], [u, long / 2]])
