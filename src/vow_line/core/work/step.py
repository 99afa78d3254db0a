"""One step of the work."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal, get_args

from ..texts import NOTHING, Said

StepStation = Literal["cut", "form", "sew", "edge"]
SHOWN_AT = frozenset(get_args(StepStation))
Part = tuple[str, ...]
"""What a step works on: its sort, then the ids by which it is found."""


@dataclass(frozen=True, slots=True)
class Step:
    """One step: minutes of hands, minutes to wait after it (least, greatest or None), the steps it needs, what it works on. It
    is done so many `times` for each of the thing that is made.
    """

    id: str
    station: StepStation
    name: Said
    minutes: float
    needs: tuple[str, ...]
    says: Said
    wait: tuple[float, float | None] = (0.0, None)
    caution: Said = NOTHING
    begins: datetime | None = None
    length_mm: float = 0.0
    uses: tuple[Part, ...] = ()
    times: int = 1
