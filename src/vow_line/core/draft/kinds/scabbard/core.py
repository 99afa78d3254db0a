"""The wooden core of a cased scabbard."""

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import Polygon

from ....curve import Line, Values, frozen
from ....measure import MouldedBody
from ....memory import remembered
from ....ring import turned_right
from ...wrap import NEUTRAL_FORMED, flat_length
from .arc import Arc, bowed, straight

OUT_MM = 60.0  # so far out of the mouth the way is drawn on, so that what is laid round it runs on there
LEAST_IN_MM = 1.0  # a case for less than this has no core to draw


@dataclass(frozen=True, slots=True, eq=False)
class Core:
    """The wooden core from mouth to nose: `x (n,)` along the way in, half its width and how thick both halves are there; its
    outline and the recess on the wood; the cover's half width; the thing and the core's outline unrolled, as they lie under
    the cover.
    """

    way: Arc
    x: Values
    half: Values
    thick: Values
    cover_half: Values
    outline: Line
    recess: Line
    thing: Line
    under: Line
    depth_mm: float
    mouth: float

    @property
    def strain(self) -> float:
        """How much leather must stretch along the outside of the bow, and shrink along its inside, as a share."""
        return abs(self.way.curvature) * float(self.half.max())


@remembered("part")
def core_of(
    body: MouldedBody, goes_in_mm: float, along_bow: bool, clear_mm: float, lining_mm: float, glue_mm: float, wall_mm: float,
    rounded: float, stretch: float, leather_mm: float,
) -> Core:  # fmt: skip
    """The core for what goes in of a thing, its lining and room; whatever is deeper passes all that lies before it, straight or
    turning along the thing's own bow.
    """
    mouth = mouth_of(body, goes_in_mm)
    way = (bowed if along_bow else straight)(body, mouth)
    plan, height = _swept(body, way)
    round_it = clear_mm + lining_mm
    below = shapely.box(-1e4, mouth, 1e4, 1e5)
    recess, outline = (
        _ring(plan.buffer(by).simplify(0.05).intersection(below)) for by in (round_it, round_it + glue_mm)
    )
    depth = height / 2 + round_it
    under = way.unrolled(outline)
    end = float(under[:, 1].max())
    x = np.linspace(mouth, end - min(0.6 * glue_mm, 0.3 * (end - mouth)), 60)
    across = shapely.intersection(Polygon(outline), shapely.linestrings(way.across(x)))
    half = np.maximum(shapely.length(across) / 2, 1.0)
    thick = np.full(len(x), 2 * (depth + wall_mm))
    around = girth(half, thick / 2, rounded)
    cover = flat_length(around, np.full(len(x), 2 * np.pi), NEUTRAL_FORMED, leather_mm) * (1 - stretch) / 2
    thing = np.concatenate([
        np.column_stack([body.top_mm, body.x_mm]), np.column_stack([body.low_mm, body.x_mm])[::-1],
    ])  # fmt: skip
    lying = frozen(way.unrolled(way.laid(thing)))
    return Core(way, x, half, thick, cover, frozen(outline), frozen(recess), lying, frozen(under), depth, mouth)


def mouth_of(body: MouldedBody, goes_in_mm: float) -> float:
    """Where along the thing the mouth lies."""
    return max(float(body.x_mm[-1]) - max(goes_in_mm, LEAST_IN_MM), float(body.x_mm[0]))


@remembered("part")
def saved_by_bow(body: MouldedBody, goes_in_mm: float) -> float:
    """How much smaller what the thing sweeps is when it turns along its own bow, as a share of that when it goes straight."""
    mouth = mouth_of(body, goes_in_mm)
    below = shapely.box(-1e4, mouth, 1e4, 1e5)
    along, plain = (_swept(body, way(body, mouth))[0].intersection(below).area for way in (bowed, straight))
    return float(1 - along / plain) if plain else 0.0


def _swept(body: MouldedBody, way: Arc) -> tuple[Polygon, float]:
    """All places that what goes in passes on its way, some way out of the mouth, and its greatest height."""
    sides = [way.unrolled(way.laid(np.column_stack([v, body.x_mm]))) for v in (body.top_mm, body.low_mm)]
    s = [side[:, 1] for side in sides]
    x = np.unique(np.concatenate([[way.mouth], *(v[v > way.mouth + 1e-6] for v in s)]))
    top, low = _reach(np.concatenate([sides[0], sides[1][::-1]]), x)
    top, low = np.minimum.accumulate(top[::-1])[::-1], np.maximum.accumulate(low[::-1])[::-1]
    inside = (s[0] >= way.mouth - 1e-6) | (s[1] >= way.mouth - 1e-6)
    height = float(max(body.height_mm[inside].max(), np.interp(way.mouth, body.x_mm, body.height_mm)))
    before = np.linspace(way.mouth - OUT_MM, way.mouth, 13 if way.curvature else 2)[:-1]
    ring = np.concatenate([
        np.column_stack([top, x]), np.column_stack([low, x])[::-1],
        np.column_stack([np.full(len(before), low[0]), before])[::-1], np.column_stack([np.full(len(before), top[0]), before]),
    ])  # fmt: skip
    return Polygon(way.rolled(ring)).buffer(0), height


def _reach(line: Line, x: Values) -> tuple[Values, Values]:
    """How far to either side a line reaches at each place `x (n,)` along it, however often it comes back there."""
    (d0, s0), (d1, s1) = line[:-1].T, line[1:].T
    run = s1 - s0
    share = np.clip((x[:, None] - s0) / np.where(run != 0, run, 1.0), 0.0, 1.0)
    at = d0 + share * (d1 - d0)
    there = (x[:, None] >= np.minimum(s0, s1) - 1e-9) & (x[:, None] <= np.maximum(s0, s1) + 1e-9)
    return np.where(there, at, np.inf).min(axis=1), np.where(there, at, -np.inf).max(axis=1)


def _ring(area: shapely.Geometry) -> Line:
    parts = [g for g in getattr(area, "geoms", [area]) if isinstance(g, Polygon) and not g.is_empty]
    largest = max(parts, key=lambda g: g.area)
    return turned_right(shapely.get_coordinates(largest.exterior)[:-1])


def girth(half: Values, half_thick: Values, rounded: float) -> Values:
    """Round a rectangle whose corners are rounded by a share of half its thickness: 4(a + b) - (8 - 2π) r."""
    r = rounded * np.minimum(half, half_thick)
    return 4 * (half + half_thick) - (8 - 2 * np.pi) * r


def rounded_box(half: float, half_thick: float, rounded: float) -> Line:
    """A section of the core: a rectangle whose corners are rounded by a share of half its thickness."""
    r = rounded * min(half, half_thick)
    box = shapely.box(-half + r, -half_thick + r, half - r, half_thick - r)
    grown = box.buffer(max(r, 1e-3), quad_segs=12)
    return turned_right(shapely.get_coordinates(grown.exterior)[:-1])
