"""Panels drafted: what of each runs on under another, the seams, laces and studs where they meet."""

from collections.abc import Mapping
from functools import partial
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from ....finding import Finding
from ....measure import Body, PanelsBody
from ....texts import Said, said
from ...drafted import Draft
from ...kind import KindOfPiece
from . import checks, ring, shown
from .collar import Collar
from .meets import MOST_MEETS, Halves, Meet
from .put import Put
from .sized import sized


class Panelled(KindOfPiece):
    """Choices for panels: which edges meet, and how; every length in mm. What is sewn is so `margin_mm` from the cut; laces and
    studs stand `spacing_mm` from each other at most, the first `ends_mm` in, a lace's eyelets `in_mm` from the cut. Of edges
    that are alike it is `asked` whether they meet. They are sewn in the `order` in which they are listed, or the last first, as
    what came apart in that order went together.
    """

    kind: Literal["panelled"] = "panelled"
    says: ClassVar[Said] = said("panels put together")
    hint: ClassVar[Said] = said("a waistcoat, a mask")
    fits: ClassVar[type[Body]] = PanelsBody
    meets: Annotated[tuple[Meet, ...], Field(max_length=MOST_MEETS)] = ()
    halves: Annotated[tuple[Halves, ...], Field(max_length=24)] = ()
    asked: bool | Literal["all"] = True
    order: Literal["listed", "last-first"] = "listed"
    ease_mm: Annotated[float, Field(ge=-100, le=500)] = 0.0
    margin_mm: Annotated[float, Field(gt=0, le=40)] = 4.0
    spacing_mm: Annotated[float, Field(ge=5, le=300)] = 40.0
    ends_mm: Annotated[float, Field(gt=0, le=300)] = 20.0
    in_mm: Annotated[float, Field(gt=0, le=100)] = 12.0
    hole_mm: Annotated[float, Field(gt=0, le=20)] = 5.0
    button_mm: Annotated[float, Field(ge=5, le=60)] = 18.0
    high_mm: Annotated[float, Field(gt=0, le=40)] = 5.0
    bind_mm: Annotated[float, Field(gt=0, le=5)] = 0.8
    collar: Collar | None = None

    def draft(self, body: PanelsBody, leather_mm: float) -> Draft:
        """The panels as they are cut, and how they meet. Never raises."""
        return self._drafted(body, leather_mm, {})

    def suits(self, body: Any, leather_mm: float, tannage: str) -> tuple[Finding, ...]:
        """Whether what is sewn inside out can be turned."""
        return checks.suits(self, body, leather_mm, tannage)

    def _drafted(self, body: PanelsBody, leather_mm: float, thick: Mapping[str, float]) -> Draft:
        """The same, some of them lined so thick."""
        put = Put(
            self, sized(self, body, leather_mm, thick) if body.across or body.follow else body, leather_mm, thick
        )  # fmt: skip
        return Draft(
            assembly=put.assembly,
            marks=(*put.closing_lines(), *put.differences()),
            labels=tuple(put.labels()),
            callouts=shown.callouts(put),
            tell=partial(shown.reckonings, put),
            find=partial(checks.findings, put),
            shown=tuple(p.id for p in put.assembly.pieces if p.stock.sort == "leather"),
            edges_of=put.tried,
            from_above=partial(ring.from_above, put),
            lined=partial(self._drafted, body, leather_mm),
        )
