"""A *body* is what the readings describe, sampled finely enough to draft from: one shape of record for each way in which
leather goes round a thing.
"""

from dataclasses import dataclass

import numpy as np

from ..curve import Line, Mask, Values
from ..drawing import Callout, Mark
from ..finding import Finding
from ..reckoning import Reckoning


@dataclass(frozen=True, eq=False)
class Body:
    """A measured thing; `spread_mm` is the widest half distance between two readings of one place."""

    name: str
    spread_mm: float


@dataclass(frozen=True, eq=False)
class LongBody(Body):
    """An axis with stations; at each the half section that leather would be wrapped round.

    The axis runs from the butt of the handle (negative) through the guard (0) to the tip. Across it, y is 0 at the
    straight-edge laid along the spine and grows towards the cutting edge; z is half the thickness, from the middle plane.
    `x_mm (n,)` stations from butt to tip; `top_mm`, `edge_mm (n,)` where its outline begins and ends across;
    `y_mm`, `z_mm (n, m)` the convex half sections from top to edge; `thick_mm (n,)`; `blade (n,) bool` where it has an
    edge.
    """

    x_mm: Values
    top_mm: Values
    edge_mm: Values
    thick_mm: Values
    y_mm: Values
    z_mm: Values
    blade: Mask
    outline: Line

    @property
    def length_mm(self) -> float:
        """From the guard to the tip."""
        return float(self.x_mm[-1])

    def girth_mm(self) -> Values:
        """The girth `(n,)` of each section, twice its half boundary."""
        return 2 * np.hypot(np.diff(self.y_mm, axis=1), np.diff(self.z_mm, axis=1)).sum(axis=1)


@dataclass(frozen=True, eq=False)
class Measured:
    """What measuring gave: the body when the readings allow one, how it is drawn, its sums, what is wrong with it."""

    body: Body | None
    marks: tuple[Mark, ...]
    callouts: tuple[Callout, ...]
    reckonings: tuple[Reckoning, ...]
    findings: tuple[Finding, ...]
