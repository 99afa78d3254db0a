"""Closed by studs, one edge on the other."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from .....curve import Line
from .....drawing import Callout
from .....finding import Finding, Mend
from .....reckoning import length
from .....texts import Said, said
from ....joins import Fastener
from ..closure import Fitted, Lapped, point, punched
from ..wrap import Wrap
from .hooked import Hooked

BESIDE = 4.0  # a lap is so many holes wide, or they tear out (from memory)


class Studs(Lapped):
    """Studs through holes in the middle of the lap."""

    by: Literal["studs"] = "studs"
    says: ClassVar[Said] = said("by studs on a lap")
    backs: ClassVar[Said] = said("the backs of the studs")
    hole_mm: Annotated[float, Field(gt=0, le=20)] = 5.0

    @property
    def lies_on_skin(self) -> Said:
        """The posts are set from within."""
        return self.backs

    @property
    def off_skin(self) -> Mend | None:
        """Hook and loop has nothing inside."""
        return Mend(said("closed by hook and loop"), (("piece.closed", Hooked()),))

    @property
    def wide_mm(self) -> float:
        """A hole, and as much leather."""
        return 2 * self.hole_mm

    def fitted(self, laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> Fitted:
        """The studs."""
        holes, places = punched(laid, rows, said("stud holes"), self.hole_mm)
        return Fitted(holes, fasteners=tuple(
            Fastener(f"stud-{k}", said("stud {k}", k=k), "stud", both) for k, both in enumerate(zip(*places, strict=True), 1)
        ))  # fmt: skip

    def callouts(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Callout, ...]:
        """How wide their holes are."""
        return (*super().callouts(laid, rows), Callout(
            "piece.closed.hole_mm", said("holes, wide"), "length", self.hole_mm, point(rows[1][-1]), "right", seldom=True,
            on=laid.on_last,
        ))  # fmt: skip

    def findings(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Finding, ...]:
        """A lap they tear out of."""
        found = list(super().findings(laid, rows))
        if self.lap_mm < BESIDE * self.hole_mm:
            found.append(Finding(
                "hold", "lap-narrow", "draft",
                said("A lap of {l} leaves {d} of leather beside the studs' holes: they tear out.", l=length(self.lap_mm),
                     d=length(max((self.lap_mm - self.hole_mm) / 2, 0.0))), "piece.closed.lap_mm",
                Mend(said("wider"), (("piece.closed.lap_mm", max(30.0, round(5 * self.hole_mm, 1))),)),
            ))  # fmt: skip
        return tuple(found)
