"""A trial: a mock-up tried on the thing and corrected, at a place, on a side, by so many mm.

A correction found on a mock-up is what the hull lacks there, whatever is wrapped round it: it is laid on the body, and the wrap
of the leather, with its own thickness, follows from that. A mock-up cut from the pattern of a thicker leather is roomier than
that leather by the turn it makes times the difference of their neutral layers: so much more than was found is lacking.
"""

from collections.abc import Mapping, Sequence
from datetime import date
from types import MappingProxyType
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..curve import Values, arc_length
from ..frozen import Frozen
from .body import Body, LetOut, PanelsBody, Side

NEUTRAL_OF_A_MOCK_UP = 0.5  # felt and cloth bend about their middle (from memory)
SPAN_MM = 30.0  # a correction runs out to nothing so far to either side


class Correction(Frozen):
    """At one station, on one side (the edge's is the low one), so much more; less when negative, 0 where it is right. Of panels
    so far along an `edge`, by its name, over so much of it in all, and alike on its `mirror` of the other half.
    """

    at_mm: Annotated[float, Field(ge=-2000, le=5000)]
    side: Side
    by_mm: Annotated[float, Field(ge=-50, le=50)] | None = None
    edge: Annotated[str, Field(pattern=r"^([A-X]\d{1,2})?$")] = ""
    mirror: Annotated[str, Field(pattern=r"^([A-X]\d{1,2})?$")] = ""
    over_mm: Annotated[float, Field(ge=10, le=2000)] = 120.0


class Trial(Frozen):
    """One mock-up with its corrections; one taken back stays written down."""

    stock: Literal["felt", "foam", "card", "cloth"] = "felt"
    thick_mm: Annotated[float, Field(gt=0, le=30)] = 2.0
    on: date | None = None
    corrections: Annotated[tuple[Correction, ...], Field(max_length=60)] = ()
    taken_back: bool = False


def lacking(correction: Correction, trial: Trial, turn_rad: float, neutral_mm: float) -> float:
    """What the hull lacks by a correction, mm: what was found, and what a mock-up as thick as that of its `trial` is roomier by
    than leather whose neutral layer lies `neutral_mm` in, where it turns by `turn_rad` in all.
    """
    roomier = turn_rad * (neutral_mm - NEUTRAL_OF_A_MOCK_UP * trial.thick_mm)
    return 0.0 if correction.by_mm is None else correction.by_mm + roomier


def corrected(
    body: Body | None,
    trials: Sequence[Trial],
    turns: Mapping[Side, float] = MappingProxyType({}),
    neutral_mm: float = 0.0,
) -> Body | None:
    """The body with every correction of every trial that stands laid on it; `turns` says how far in all leather turns, in rad,
    over what a correction on a side lengthens.
    """
    if isinstance(body, PanelsBody):
        outs = tuple(
            LetOut(*edge, c.over_mm, c.by_mm)
            for t in trials if not t.taken_back for c in t.corrections if c.by_mm for edge in _edges(body, c)
        )  # fmt: skip
        return body.let_out(outs) if outs else body
    bumps = [
        (c, lacking(c, t, turns.get(c.side, 0.0), neutral_mm))
        for t in trials
        if not t.taken_back
        for c in t.corrections
    ]
    if body is None or not any(by for _, by in bumps):
        return body

    def lacks(side: Side, x: Values) -> Values:
        return np.asarray(sum((by * _bump(x, c) for c, by in bumps if c.side == side), np.zeros(len(x))))

    return body.corrected(lacks)


def _edges(body: PanelsBody, correction: Correction) -> list[tuple[str, float]]:
    """The edges a correction is of, and at what share of each: on the other half, which runs the other way, from its end."""
    line = body.edges.get(correction.edge)
    share = 0.5 if line is None else min(max(correction.at_mm / max(float(arc_length(line)[-1]), 1e-9), 0.0), 1.0)
    return [(correction.edge, share), *([(correction.mirror, 1 - share)] if correction.mirror else [])]


def _bump(x: Values, correction: Correction) -> Values:
    """1 at the correction's station, running out smoothly to either side."""
    off = np.clip(np.abs(x - correction.at_mm) / SPAN_MM, 0, 1)
    return np.asarray((1 + np.cos(np.pi * off)) / 2)
