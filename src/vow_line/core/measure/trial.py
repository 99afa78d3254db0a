"""A trial: a mock-up tried on the thing and corrected, at a place, on a side, by so many mm.

A correction found on a mock-up of one thickness is what the hull lacks there, whatever is wrapped round it: it is laid on the
body, and the wrap of the leather, with its own thickness, follows from that.
"""

from collections.abc import Sequence
from datetime import date
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..curve import Values
from ..frozen import Frozen
from .body import Body, Side

SPAN_MM = 30.0  # a correction runs out to nothing so far to either side


class Correction(Frozen):
    """At one station, on one side (the edge's is the low one), so much more; less when negative."""

    at_mm: Annotated[float, Field(ge=-2000, le=5000)]
    side: Side
    by_mm: Annotated[float, Field(ge=-50, le=50)] = 0.0


class Trial(Frozen):
    """One mock-up with its corrections; one taken back stays written down."""

    stock: Literal["felt", "foam", "card", "cloth"] = "felt"
    thick_mm: Annotated[float, Field(gt=0, le=30)] = 2.0
    on: date | None = None
    corrections: Annotated[tuple[Correction, ...], Field(max_length=60)] = ()
    taken_back: bool = False


def corrected(body: Body | None, trials: Sequence[Trial]) -> Body | None:
    """The body with every correction of every trial that stands laid on it."""
    corrections = [c for t in trials if not t.taken_back for c in t.corrections if c.by_mm]
    if body is None or not corrections:
        return body

    def lacks(side: Side, x: Values) -> Values:
        return np.asarray(sum((_bump(x, c) for c in corrections if c.side == side), np.zeros(len(x))))

    return body.corrected(lacks)


def _bump(x: Values, correction: Correction) -> Values:
    """The correction at its station, running out smoothly to either side."""
    off = np.clip(np.abs(x - correction.at_mm) / SPAN_MM, 0, 1)
    return correction.by_mm * (1 + np.cos(np.pi * off)) / 2
