"""What every kind of piece declares: its choices, as fields, and how a body is drafted by them."""

from abc import abstractmethod
from typing import Any, ClassVar

from ..frozen import Frozen
from ..measure import Body
from ..texts import Said
from .drafted import Draft


class KindOfPiece(Frozen):
    """The choices for one kind of piece. A subclass adds `kind: Literal[...]` and its own fields with ranges."""

    kind: str

    says: ClassVar[Said]
    """What a maker calls it."""
    hint: ClassVar[Said]
    """How it is carried, in a few words."""
    fits: ClassVar[type[Body] | tuple[type[Body], ...]]
    """The shapes of body it is drafted for."""

    @abstractmethod
    def draft(self, body: Any, leather_mm: float) -> Draft:
        """The pieces, seam lines, drawing, sums and findings for a body that `fits`, in leather of
        `leather_mm`. Never raises."""
