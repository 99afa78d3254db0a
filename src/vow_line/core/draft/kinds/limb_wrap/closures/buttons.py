"""Closed by buttons at one edge and loops of lace at the other."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from .....curve import Line
from .....drawing import Callout
from .....finding import Finding, Mend
from .....reckoning import Reckoning, count, length, reckon
from .....texts import Said, said
from ....closures import KNOT_MM, loop_mm
from ....joins import Fastener, Loops
from ..closure import Fitted, Gapped, Size, point, punched
from ..wrap import Wrap

BESIDE = 1.5  # buttons stand so many of their widths from each other at the least (from memory)


class Buttoned(Gapped):
    """Buttons `button_mm` wide and `high_mm` thick `in_mm` from the left edge, and as far from the right one loops of lace,
    each doubled, its ends through one hole and knotted inside.
    """

    by: Literal["buttons"] = "buttons"
    says: ClassVar[Said] = said("by buttons and loops")
    backs: ClassVar[Said] = said("the knots of the loops")
    usual_mm: ClassVar[float] = 40.0
    gap_low_mm: Annotated[float, Field(ge=0, le=200)] = 3.0
    gap_high_mm: Annotated[float, Field(ge=0, le=200)] = 3.0
    spacing_mm: Annotated[float, Field(ge=5, le=300)] = 40.0
    ends_mm: Annotated[float, Field(gt=0, le=300)] = 18.0
    button_mm: Annotated[float, Field(ge=5, le=60)] = 16.0
    high_mm: Annotated[float, Field(gt=0, le=40)] = 5.0
    in_mm: Size = 11.0
    hole_mm: Annotated[float, Field(gt=0, le=12)] = 3.0

    @property
    def in_from_edge_mm(self) -> float:
        """Buttons and holes of the loops."""
        return self.in_mm

    @property
    def wide_mm(self) -> float:
        """A button, and room for the fingers."""
        return BESIDE * self.button_mm

    @property
    def taken_mm(self) -> tuple[float, float]:
        """Its buttons."""
        return self.in_mm - self.button_mm / 2, self.in_mm + self.button_mm / 2

    @property
    def least_mm(self) -> float:
        """How long a loop is, doubled, that goes over its button: half the way round that, edge on."""
        return self.button_mm + self.high_mm

    def across(self, rows: tuple[Line, Line]) -> tuple[float, ...]:
        """From a loop's hole to its button, lowest first, when it is closed."""
        return tuple(gap + 2 * self.in_mm for gap in self.gaps(rows))

    def long_mm(self, rows: tuple[Line, Line]) -> float:
        """How long the lace of a loop is: there and back over the widest gap, and its knot."""
        return loop_mm(max(self.across(rows)), self.button_mm, self.high_mm)

    def fitted(self, laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> Fitted:
        """Buttons and loops."""
        holes, (left, right) = punched(laid, rows, said("holes for buttons and loops"), self.hole_mm)
        return Fitted(
            holes,
            fasteners=(Fastener("buttons", said("buttons"), "button", left, each=True, size_mm=self.button_mm),
                       Fastener("loops", said("loops"), "loop", right, each=True, size_mm=self.long_mm(rows))),
            loops=(Loops("loops", ("left", "right"), (left, right), self.gaps(rows), self.button_mm, self.high_mm,
                         self.long_mm(rows) - KNOT_MM),),
        )  # fmt: skip

    def callouts(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Callout, ...]:
        """The button, and where it stands."""
        last, first = point(rows[0][-1]), point(rows[0][0])
        return (
            *super().callouts(laid, rows),
            Callout("piece.closed.in_mm", said("buttons, in from the edge"), "length", self.in_mm, last, "left", "closures"),
            Callout("piece.closed.button_mm", said("buttons, wide"), "length", self.button_mm, first, "left", "closures"),
            Callout("piece.closed.high_mm", said("buttons, thick"), "length", self.high_mm, first, "left", "closures"),
            Callout("piece.closed.hole_mm", said("holes, wide"), "length", self.hole_mm, last, "left", seldom=True),
        )  # fmt: skip

    def reckonings(self, laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> tuple[Reckoning, ...]:
        """The lace of the loops."""
        n, one = len(rows[0]), self.long_mm(rows)
        return (reckon("loops", said("Lace for a loop"), length(one),
                       said("2 × ({gap:n} gap + 2 × {i:n}) + {knot} knot", gap=length(max(self.open_mm)), i=length(self.in_mm),
                            knot=length(KNOT_MM)) if max(self.across(rows)) >= self.least_mm else
                       said("2 × ({d:n} + {h:n}) over the button + {knot} knot", d=length(self.button_mm),
                            h=length(self.high_mm), knot=length(KNOT_MM)), ("closures",),
                       (said("{n} of them: {all}", n=count(n), all=length(n * one)),)),)  # fmt: skip

    def findings(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Finding, ...]:
        """Holes that tear out, loops that hang slack because their button is large."""
        found = list(super().findings(laid, rows))
        if self.in_mm < 2 * self.hole_mm:
            found.append(Finding(
                "hold", "eyelet-tears", "draft",
                said("Holes {h} wide stand {d} in from the edge: they tear out.", h=length(self.hole_mm), d=length(self.in_mm)),
                "piece.closed.in_mm",
                Mend(said("farther in"), (("piece.closed.in_mm", max(11.0, round(2 * self.hole_mm, 1))),)),
            ))  # fmt: skip
        across = min(self.across(rows))
        if across < self.least_mm:
            found.append(Finding(
                "look", "loop-slack", "draft",
                said("A loop that goes over a button {d} wide and {h} thick is {least} long; closed it has {across} to go and "
                     "hangs slack.", d=length(self.button_mm), h=length(self.high_mm), least=length(self.least_mm),
                     across=length(across)), "piece.closed.in_mm",
                Mend(said("farther in from the edges"), (("piece.closed.in_mm", _whole((
                    self.least_mm - min(self.open_mm)) / 2)),)),
            ))  # fmt: skip
        return tuple(found)


def _whole(mm: float) -> float:
    """The next whole millimetre."""
    return float(-(-mm // 1))
