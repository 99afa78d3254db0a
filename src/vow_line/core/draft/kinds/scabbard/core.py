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

LEAST_IN_MM = 1.0  # a case for less than this has no core to draw


@dataclass(frozen=True, slots=True, eq=False)
class Core:
    """The wooden core from mouth to nose: `x (n,)`, half its width and how thick both halves are there; its outline, the
    recess; the cover's half width; all about the middle line.
    """

    x: Values
    half: Values
    thick: Values
    cover_half: Values
    outline: Line
    recess: Line
    thing: Line
    depth_mm: float
    mouth: float


@remembered("part")
def core_of(
    body: MouldedBody, goes_in_mm: float, clear_mm: float, lining_mm: float, glue_mm: float, wall_mm: float,
    rounded: float, stretch: float, leather_mm: float,
) -> Core:  # fmt: skip
    """The core for what goes in of a thing, its lining and room; whatever is deeper passes all that lies before it."""
    nose = float(body.x_mm[-1])
    mouth = max(nose - max(goes_in_mm, LEAST_IN_MM), float(body.x_mm[0]))
    inside = np.concatenate([[mouth], body.x_mm[body.x_mm > mouth + 1e-6]])
    top, low, height = (np.interp(inside, body.x_mm, v) for v in (body.top_mm, body.low_mm, body.height_mm))
    # what lies deeper must pass whatever it comes through
    low, height = (np.maximum.accumulate(v[::-1])[::-1] for v in (low, height))
    top = np.minimum.accumulate(top[::-1])[::-1]
    middle = float((top[0] + low[0]) / 2)
    round_it = clear_mm + lining_mm
    above = [[low[0] - middle, mouth - 60.0], [top[0] - middle, mouth - 60.0]]
    plan = Polygon(np.concatenate([
        np.column_stack([top - middle, inside]), np.column_stack([low - middle, inside])[::-1], above,
    ])).buffer(0)  # fmt: skip
    below = shapely.box(-1e4, mouth, 1e4, 1e5)
    recess, outline = (
        _ring(plan.buffer(by).simplify(0.05).intersection(below)) for by in (round_it, round_it + glue_mm)
    )
    depth = float(height.max()) / 2 + round_it
    end = float(outline[:, 1].max())
    x = np.linspace(mouth, end - min(0.6 * glue_mm, 0.3 * (end - mouth)), 60)
    rows = shapely.linestrings([[(-1e4, v), (1e4, v)] for v in x])
    across = shapely.intersection(Polygon(outline), rows)
    half = np.maximum(shapely.length(across) / 2, 1.0)
    thick = np.full(len(x), 2 * (depth + wall_mm))
    around = girth(half, thick / 2, rounded)
    cover = flat_length(around, np.full(len(x), 2 * np.pi), NEUTRAL_FORMED, leather_mm) * (1 - stretch) / 2
    thing = np.concatenate([
        np.column_stack([body.top_mm - middle, body.x_mm]), np.column_stack([body.low_mm - middle, body.x_mm])[::-1],
    ])  # fmt: skip
    return Core(x, half, thick, cover, frozen(outline), frozen(recess), frozen(thing), depth, mouth)


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
