"""Closed by a lace, criss-cross through eyelets."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from .....curve import Line
from .....drawing import Callout
from .....finding import Finding, Mend
from .....quantity import Q
from .....reckoning import Reckoning, count, length, long, reckon
from .....texts import Said, said
from ....closures import TAIL_MM, lace_mm
from ....joins import Fastener, Lace
from ..closure import Fitted, Gapped, Size, point, punched
from ..wrap import Wrap


class Laced(Gapped):
    """Eyelets `in_mm` from either edge, and the lace through them."""

    by: Literal["laced"] = "laced"
    says: ClassVar[Said] = said("by a lace through eyelets")
    backs: ClassVar[Said] = said("the lace and the backs of the eyelets")
    in_mm: Size = 10.0
    hole_mm: Annotated[float, Field(gt=0, le=20)] = 5.0

    @property
    def in_from_edge_mm(self) -> float:
        """The eyelets."""
        return self.in_mm

    @property
    def wide_mm(self) -> float:
        """A hole, and as much leather."""
        return 2 * self.hole_mm

    @property
    def taken_mm(self) -> tuple[float, float]:
        """Its holes."""
        return self.in_mm - self.hole_mm / 2, self.in_mm + self.hole_mm / 2

    def across(self, rows: tuple[Line, Line]) -> tuple[float, ...]:
        """From eyelet to eyelet across, lowest first, when it is laced."""
        return tuple(gap + 2 * self.in_mm for gap in self.gaps(rows))

    def fitted(self, laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> Fitted:
        """Eyelets and lace."""
        holes, (left, right) = punched(laid, rows, said("eyelet holes"), self.hole_mm)
        across = self.across(rows)
        sewn = laid.drawn_up(rows[0], laid.left), laid.drawn_up(rows[1], laid.right)
        return Fitted(
            holes, fasteners=(Fastener("eyelets", said("eyelets"), "eyelet", (*left, *right), each=True),),
            laces=(Lace("lace", said("lace"), (left, right), across, TAIL_MM, lace_mm(sewn, np.array(across), leather_mm)),),
        )  # fmt: skip

    def callouts(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Callout, ...]:
        """Where the eyelets stand, and how wide they are."""
        first, last = point(rows[0][0]), point(rows[0][-1])
        return (
            *super().callouts(laid, rows),
            Callout("piece.closed.in_mm", said("eyelets, in from the edge"), "length", self.in_mm, first, "left", "closures"),
            Callout("piece.closed.hole_mm", said("holes, wide"), "length", self.hole_mm, last, "left", seldom=True),
        )  # fmt: skip

    def reckonings(self, laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> tuple[Reckoning, ...]:
        """The lace."""
        across, sewn = self.across(rows), (laid.drawn_up(rows[0], laid.left), laid.drawn_up(rows[1], laid.right))
        return (reckon("lace", said("Lace"), long(lace_mm(sewn, np.array(across), leather_mm)),
                       said("{g} across, then crossing to each of {n} more on either side, {m} × {t} through, and 2 tails",
                            g=length(across[0]), n=count(len(across) - 1), m=count(2 * len(across)),
                            t=Q("leather", leather_mm)), ("closures",)),)  # fmt: skip

    def findings(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Finding, ...]:
        """Eyelets that tear out."""
        found = list(super().findings(laid, rows))
        if self.in_mm < self.hole_mm:
            found.append(Finding(
                "hold", "eyelet-tears", "draft",
                said("Holes {h} wide stand {d} in from the edge: they tear out.", h=length(self.hole_mm), d=length(self.in_mm)),
                "piece.closed.in_mm",
                Mend(said("farther in"), (("piece.closed.in_mm", max(10.0, round(2 * self.hole_mm, 1))),)),
            ))  # fmt: skip
        return tuple(found)
