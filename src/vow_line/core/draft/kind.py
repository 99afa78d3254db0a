"""What every kind of piece declares: its choices, as fields, and how a body is drafted by them."""

from abc import abstractmethod
from collections.abc import Mapping
from types import MappingProxyType
from typing import Any, ClassVar

from ..finding import Finding
from ..frozen import Frozen
from ..measure import Body
from ..measure.body import Side
from ..texts import Said
from .drafted import Draft
from .wrap import NEUTRAL_DRY


class KindOfPiece(Frozen):
    """The choices for one kind of piece. A subclass adds `kind: Literal[...]` and its own fields with ranges."""

    kind: str

    says: ClassVar[Said]
    """What a maker calls it."""
    hint: ClassVar[Said]
    """How it is carried, in a few words."""
    fits: ClassVar[type[Body] | tuple[type[Body], ...]]
    """The shapes of body it is drafted for."""

    turns: ClassVar[Mapping[Side, float]] = MappingProxyType({})
    """How far in all leather turns, in rad, over what a correction of a mock-up on a side lengthens."""

    @property
    def neutral(self) -> float:
        """Where the neutral layer lies, as a share of the thickness."""
        return NEUTRAL_DRY

    @abstractmethod
    def draft(self, body: Any, leather_mm: float) -> Draft:
        """The pieces, seam lines, drawing, sums and findings for a body that `fits`, in leather of
        `leather_mm`. Never raises."""

    def suits(self, body: Any, leather_mm: float, tannage: str) -> tuple[Finding, ...]:
        """What is wrong with leather of this tannage (`veg`, `oil`, `chrome`) for what is drafted."""
        return ()
