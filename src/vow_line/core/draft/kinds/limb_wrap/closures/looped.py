"""Closed by a lace through folded loops, strips doubled over and riveted along both edges; or along one, and over hooks or
studs along the other, set off against them.
"""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from .....curve import Line, Values, frozen
from .....drawing import Callout
from .....finding import Finding, Mend
from .....reckoning import Reckoning, count, length, long, reckon
from .....texts import Said, said
from ....closures import TAIL_MM, lace_mm, stood_along, zigzag_mm
from ....joins import Fastener, Lace
from ....pieces import Edge, Piece, Punch, edged, leather
from ..closure import Fitted, Gapped, Size, point, punched
from ..wrap import Wrap

BESIDE_MM = 4.0  # loops stand so far from each other at the least (from memory)
LEAST_EYE_MM = 6.0  # so far past the edge a loop has room for a lace (from memory)
BETWEEN_MM = 6.0  # and so far apart what the lace draws together stays (from memory)
AGAINST = {
    "loops": said("loops as well"), "hooks": said("hooks, set off"), "studs": said("studs, set off"),
}  # fmt: skip


class Looped(Gapped):
    """Strips `strip_mm` long and `strip_wide_mm` wide, doubled over and riveted `in_mm` from the edge, half their width from
    their own ends; at the right edge the same, or hooks or studs halfway between. So many are cut to `spare`.
    """

    by: Literal["loops"] = "loops"
    says: ClassVar[Said] = said("by a lace through folded loops")
    backs: ClassVar[Said] = said("the backs of the rivets")
    usual_mm: ClassVar[float] = 51.0
    gap_low_mm: Annotated[float, Field(ge=0, le=200)] = 40.0
    gap_high_mm: Annotated[float, Field(ge=0, le=200)] = 40.0
    spacing_mm: Annotated[float, Field(ge=5, le=300)] = 51.0  # seven a side on 355 mm (common practice)
    ends_mm: Annotated[float, Field(gt=0, le=300)] = 24.0
    against: Literal["loops", "hooks", "studs"] = "loops"
    strip_mm: Annotated[float, Field(ge=20, le=300)] = 63.0
    strip_wide_mm: Annotated[float, Field(ge=6, le=80)] = 19.0
    in_mm: Size = 9.5
    hole_mm: Annotated[float, Field(gt=0, le=12)] = 4.0
    spare: Annotated[int, Field(ge=0, le=20)] = 2

    @property
    def in_from_edge_mm(self) -> float:
        """The rivets, hooks or studs."""
        return self.in_mm

    @property
    def wide_mm(self) -> float:
        """A strip, and what lies between two."""
        return self.strip_wide_mm + BESIDE_MM

    @property
    def taken_mm(self) -> tuple[float, float]:
        """From the edge to the end of a strip."""
        return 0.0, self.in_mm + self.strip_wide_mm / 2

    @property
    def reach_mm(self) -> float:
        """How far a loop stands out past its edge."""
        return self.strip_mm / 2 - self.strip_wide_mm / 2 - self.in_mm

    def rows(self, laid: Wrap) -> tuple[Line, Line]:
        """Those on the right halfway between those on the left, where they are set off."""
        left, right = super().rows(laid)
        if self.against != "loops":
            right = frozen(stood_along(self.runs(laid)[1], 2 * len(left) - 1, self.ends_mm)[1::2])
        return left, right

    def across(self, rows: tuple[Line, Line]) -> Values:
        """From what the lace goes round on one side to that on the other: of two rows of loops at each, lowest first; else at
        every place of either side in turn.
        """
        other = self.reach_mm if self.against == "loops" else -self.in_mm
        n = len(rows[0]) if self.against == "loops" else 2 * len(rows[0]) - 1
        gaps = self.gap_low_mm + (self.gap_high_mm - self.gap_low_mm) * np.linspace(0, 1, n)
        return np.maximum(gaps - self.reach_mm - other, 0.0)

    def lace_mm(self, laid: Wrap, rows: tuple[Line, Line]) -> float:
        """How long the lace is."""
        left, right = laid.drawn_up(rows[0], laid.left), laid.drawn_up(rows[1], laid.right)
        if self.against == "loops":
            return lace_mm((left, right), self.across(rows), 0.0)
        return zigzag_mm(left, self.across(rows))

    def fitted(self, laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> Fitted:
        """Loops, what holds them, and the lace."""
        holes, places = punched(laid, rows, said("holes for what closes it"), self.hole_mm)
        ends = (("loop", "near-hole"), ("loop", "far-hole"))
        looped = (*places[0], *(places[1] if self.against == "loops" else ()))
        fasteners = [
            Fastener(f"rivet-{k}", said("rivet {k}", k=k), "rivet", (place, *ends)) for k, place in enumerate(looped, 1)
        ]
        if self.against == "hooks":
            fasteners.append(Fastener("hooks", said("hooks"), "hook", places[1], each=True))
        elif self.against == "studs":
            fasteners.append(Fastener("studs", said("studs"), "stud", places[1], each=True))
        return Fitted(
            holes, pieces=(self._strip(len(looped), leather_mm),),
            fasteners=tuple(fasteners),
            laces=(Lace("lace", said("lace"), places, tuple(self.across(rows).tolist()), TAIL_MM, self.lace_mm(laid, rows),
                        through=False),),
        )  # fmt: skip

    def _strip(self, n: int, leather_mm: float) -> Piece:
        long, half = self.strip_mm, self.strip_wide_mm / 2
        outline, edges = edged(
            Edge("around", said("around"), frozen([[-half, 0.0], [half, 0.0], [half, long], [-half, long]]), "free")
        )
        punches = tuple(
            Punch(id, said("rivet holes"), (0.0, at), self.hole_mm)
            for id, at in (("near-hole", half), ("far-hole", long - half))
        )
        fold = frozen([[-half, long / 2], [half, long / 2]])
        return Piece("loop", said("loop"), outline, edges, leather(leather_mm), folds=(fold,), punches=punches,
                     count=n + self.spare, spare=self.spare, turns="along")  # fmt: skip

    def callouts(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Callout, ...]:
        """The strips, and what stands against them."""
        first, last, half, mid = point(rows[0][0]), point(rows[0][-1]), self.strip_wide_mm / 2, self.strip_mm / 2
        return (
            *super().callouts(laid, rows),
            Callout("piece.closed.in_mm", said("rivets, in from the edge"), "length", self.in_mm, first, "left", "closures"),
            Callout("piece.closed.against", said("at the other edge"), "count", self.against, point(rows[1][-1]), "right",
                    choices=tuple(AGAINST.values()), meant=tuple(AGAINST), on=laid.on_last),
            Callout("piece.closed.hole_mm", said("holes, wide"), "length", self.hole_mm, last, "left", seldom=True),
            Callout("piece.closed.strip_mm", said("strips, long"), "length", self.strip_mm, (half, mid), "right", on="loop"),
            Callout("piece.closed.strip_wide_mm", said("strips, wide"), "length", self.strip_wide_mm, (0.0, 0.0), "left",
                    on="loop"),
            Callout("piece.closed.spare", said("to spare"), "count", self.spare, (half, self.strip_mm), "right", on="loop"),
        )  # fmt: skip

    def reckonings(self, laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> tuple[Reckoning, ...]:
        """How many strips, cut at once from a scrap, and the lace."""
        sides, n = 2 if self.against == "loops" else 1, len(rows[0])
        all_of_them = sides * n + self.spare
        way = (said("{g} across, then crossing to each of {n} more on either side, and 2 tails") if sides == 2
               else said("from loop to {what} and on, {n} times, {g} across at the first, and 2 tails")).filled(
            g=length(float(self.across(rows)[0])), n=count(n - 1 if sides == 2 else 2 * (n - 1)),
            what=said("hook") if self.against == "hooks" else said("stud"))  # fmt: skip
        return (
            reckon("loops", said("Loops to cut"), count(all_of_them),
                   (said("{a} a side and {s} to spare") if sides == 2 else said("{a}, and {s} to spare")).filled(
                       a=count(n), s=count(self.spare)), ("closures",),
                   (said("cut at once from a scrap {w:n} by {l}", w=length(self.strip_mm),
                         l=length(all_of_them * self.strip_wide_mm)),)),
            reckon("lace", said("Lace"), long(self.lace_mm(laid, rows)), way, ("closures",)),
        )  # fmt: skip

    def findings(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Finding, ...]:
        """Loops without room for a lace, rivets that tear out, edges drawn together as far as they go."""
        found = list(super().findings(laid, rows))
        if self.in_mm < 1.5 * self.hole_mm or self.strip_wide_mm < 3 * self.hole_mm:
            found.append(Finding(
                "hold", "eyelet-tears", "draft",
                said("Holes {h} wide stand {d} in from the edge, in strips {w} wide: they tear out.", h=length(self.hole_mm),
                     d=length(self.in_mm), w=length(self.strip_wide_mm)), "piece.closed.hole_mm",
                Mend(said("4 mm, as usual"), (("piece.closed.hole_mm", 4.0), ("piece.closed.in_mm", max(self.in_mm, 9.5)),
                                              ("piece.closed.strip_wide_mm", max(self.strip_wide_mm, 19.0)))),
            ))  # fmt: skip
        if self.reach_mm < LEAST_EYE_MM:
            needs = float(np.ceil(2 * (LEAST_EYE_MM + self.in_mm) + self.strip_wide_mm))
            found.append(Finding(
                "hold", "loop-short", "draft",
                said("Strips of {l} stand out {r} past the edge, doubled: {least} takes a lace.", l=length(self.strip_mm),
                     r=length(max(self.reach_mm, 0.0)), least=length(LEAST_EYE_MM)), "piece.closed.strip_mm",
                Mend(said("longer"), (("piece.closed.strip_mm", needs),)),
            ))  # fmt: skip
        elif self.across(rows).min() < BETWEEN_MM:
            wider = float(np.ceil(min(self.open_mm) - self.across(rows).min() + BETWEEN_MM))
            wanted = float(np.ceil(self.reach_mm * 2 + BETWEEN_MM)) if self.across(rows).min() <= 0 else wider
            found.append(Finding(
                "hold", "loops-meet", "draft",
                said("Over a gap of {g} the lace draws loops together that stand out {r}: {b} is to be left between.",
                     g=length(min(self.open_mm)), r=length(self.reach_mm), b=length(BETWEEN_MM)), "piece.closed.gap_low_mm",
                Mend(said("a wider gap"), (("piece.closed.gap_low_mm", max(self.gap_low_mm, wanted)),
                                           ("piece.closed.gap_high_mm", max(self.gap_high_mm, wanted)))),
            ))  # fmt: skip
        return tuple(found)
