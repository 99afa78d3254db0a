"""An edge that is turned in before it is sewn down on another."""

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import shapely

from ....curve import Line, extended, frozen
from ....measure.body import Shape
from ....memory import remembered
from ....texts import said, verbatim
from ...pieces import Skive
from .meets import LEAST_LAP
from .outline import outwards

if TYPE_CHECKING:
    from .making import Together
    from .outline import Cut

THIN = 0.5  # what is left of the leather where it is turned in (common practice)


@dataclass(frozen=True, slots=True, eq=False)
class Turn:
    """What is turned in: the edge as it will lie, the line it is folded along, where the seam goes through what is turned in,
    how wide that lies on the flesh side, the ring of what is thinned, its cut, and where that comes to lie.
    """

    edge: Line
    fold: Line
    seam: Line
    wide_mm: float
    thinned: Line
    cut: Line
    lies: Line

    def skived(self, id: str, leather_mm: float) -> Skive:
        """Thinned as far as it turns and lies under itself."""
        title = said("to half where {name} is turned in", name=verbatim(id))
        return Skive(f"turn-{id}", title, self.thinned, leather_mm, THIN * leather_mm)


def wide_mm(margin_mm: float) -> float:
    """How wide what is turned in lies under its edge: its thread lies as far from its cut as from the fold."""
    return LEAST_LAP * margin_mm


def turn_mm(margin_mm: float, leather_mm: float) -> float:
    """How far beyond the edge as it will lie it is cut. Thinned to t, it begins to turn t inside that edge, goes half round on
    its middle layer, π/2·t, and lies back: so much less than it is wide.
    """
    return wide_mm(margin_mm) - (2 - np.pi / 2) * THIN * leather_mm


@remembered("run")
def turn_of(id: str, shape: Shape, along: "Together", cut: "Cut", margin_mm: float, leather_mm: float) -> Turn:
    """What of an edge is turned in, whose seam goes `along` its own line on it."""
    edge = shape.edges[id]
    thin, wide = THIN * leather_mm, wide_mm(margin_mm)
    apex = (1 - np.pi / 4) * thin  # the middle of the turn, so far inside the edge as it will lie
    whole = shapely.Polygon(cut.ring)
    across = shapely.LineString(extended(outwards(edge, -apex), 1.0, 1.0)).intersection(whole)
    fold = max(shapely.get_parts(across), key=lambda g: g.length, default=shapely.LineString(edge))
    seam = outwards(along.lines[0], 2 * margin_mm - (2 - np.pi / 2) * thin)
    inner, outer = outwards(edge, -thin), outwards(edge, turn_mm(margin_mm, leather_mm))
    return Turn(edge, frozen(shapely.get_coordinates(fold)), seam, wide,
                frozen([*inner, *outer[::-1]]), outer, outwards(edge, -wide))  # fmt: skip
