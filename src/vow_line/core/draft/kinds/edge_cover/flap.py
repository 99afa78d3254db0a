"""A flap: the back of a cover run on over a tool's back, to close on the front with studs."""

from dataclasses import dataclass

import numpy as np
import shapely

from ....curve import Line, Values, arc_length, area_within, frozen, walk
from ...strap import LAP_MM
from ...wrap import NEUTRAL_DRY, flat_length

REACH_MM = 400.0
POINTS = 41


@dataclass(frozen=True, slots=True, eq=False)
class Flap:
    """In the frame of the tool's outline: the area `(n, 2)` beyond the mouth, the two
    ends of its base on that, the line it folds along over the tool's back, the
    places of its studs `(k, 2)` on the flap and on the front, and how long it is in its middle.
    """

    area: Line
    base: Line
    fold: Line
    studs: Line
    on_front: Line
    long_mm: float


def flap(tool: Line, mouth: Line, away: Line, wide_mm: float, thick_mm: float, leather_mm: float, studs: int) -> Flap:
    """A flap as wide as `wide_mm` about the middle of a mouth that runs on along the unit vector `away`, over a tool's outline
    `thick_mm` thick at its back. It folds along one straight line, where the tool reaches farthest, and its end lies on the
    front as far from the mouth there as a lap.
    """
    long = float(arc_length(mouth)[-1])
    half = min(wide_mm, 0.9 * long) / 2
    base = walk(mouth, np.linspace(long / 2 - half, long / 2 + half, POINTS))
    across = np.array([-away[1], away[0]])
    up = base @ away
    far = max(float(up.max()), _farthest(tool, base, away))
    turn = flat_length(thick_mm, np.pi, NEUTRAL_DRY, leather_mm)
    end = 2 * far + turn - up + LAP_MM
    side = base @ across

    def at(u: Values, d: Values) -> Line:
        return np.outer(u, across) + np.outer(d, away)

    fold = at(side[[0, -1]], np.full(2, far + turn / 2))
    places = np.linspace(0, POINTS - 1, studs + 2)[1:-1].round().astype(int)
    return Flap(
        frozen(np.vstack([base, at(side[::-1], end[::-1])])), frozen(base[[0, -1]]), frozen(fold),
        frozen(at(side[places], end[places] - LAP_MM / 2)),
        frozen(at(side[places], up[places] - LAP_MM / 2)), float((end - up)[POINTS // 2]),
    )  # fmt: skip


def _farthest(tool: Line, base: Line, away: Line) -> float:
    """How far the tool reaches along `away` behind any point of the mouth."""
    area = area_within(tool)
    shapely.prepare(area)
    rays = [shapely.LineString([p, p + REACH_MM * away]).intersection(area) for p in base[:: POINTS // 8]]
    reach = [float((shapely.get_coordinates(r) @ away).max()) for r in rays if not r.is_empty]
    return max(reach, default=-np.inf)
