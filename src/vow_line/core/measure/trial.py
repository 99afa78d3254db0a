"""A trial: a mock-up tried on the thing and corrected, at a place, on a side, by so many mm.

A correction found on a mock-up of one thickness is what the hull lacks there, whatever is wrapped round it: it is laid on the
body, and the wrap of the leather, with its own thickness, follows from that.
"""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..curve import Values, frozen
from ..frozen import Frozen
from .body import Body, LongBody, MouldedBody, ShaftBody

SPAN_MM = 30.0  # a correction runs out to nothing so far to either side

Side = Literal["low", "top", "round"]


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
    found = [c for t in trials if not t.taken_back for c in t.corrections if c.by_mm]
    if body is None or not found:
        return body
    if isinstance(body, ShaftBody):
        more = sum((_bump(body.x_mm, c) for c in found if c.side == "round"), np.zeros(len(body.x_mm)))
        return replace(body, girth_mm=frozen(np.maximum(body.girth_mm + more, 1.0)))
    if not isinstance(body, LongBody | MouldedBody):
        return body
    low, top = (body.edge_mm, body.top_mm) if isinstance(body, LongBody) else (body.low_mm, body.top_mm)
    wide = np.maximum(low - top, 1e-9)
    below, above = (
        sum((_bump(body.x_mm, c) for c in found if c.side == s), np.zeros(len(low))) for s in ("low", "top")
    )
    new_top, new_low = top - above, low + below
    new_wide = np.maximum(new_low - new_top, np.minimum(wide, 0.5))
    y = new_top[:, None] + (body.y_mm - top[:, None]) * (new_wide / wide)[:, None]
    if isinstance(body, LongBody):
        blade = body.blade
        outline = np.concatenate([
            np.column_stack([body.x_mm[blade], new_top[blade]]),
            np.column_stack([body.x_mm[blade], (new_top + new_wide)[blade]])[::-1],
        ])  # fmt: skip
        return replace(
            body, top_mm=frozen(new_top), edge_mm=frozen(new_top + new_wide), y_mm=frozen(y), outline=frozen(outline)
        )
    return replace(body, top_mm=frozen(new_top), low_mm=frozen(new_top + new_wide), y_mm=frozen(y))


def _bump(x: Values, correction: Correction) -> Values:
    """The correction at its station, running out smoothly to either side."""
    off = np.clip(np.abs(x - correction.at_mm) / SPAN_MM, 0, 1)
    return correction.by_mm * (1 + np.cos(np.pi * off)) / 2
