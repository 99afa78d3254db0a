"""Outlines that were drawn round a thing."""

from typing import Annotated, Literal, NamedTuple

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import Polygon

from ..curve import Line, arc_length, frozen
from ..ring import closed, turned_right
from ..texts import Said, said

Coordinate = Annotated[float, Field(ge=-5000, le=5000)]
Point = tuple[Coordinate, Coordinate]
Outline = Annotated[tuple[Point, ...], Field(min_length=3, max_length=4000)]

SOFT_MM, SOFT_TIMES = 20.0, 3.0  # a dragged point takes its neighbours along so far, or so many times as far as it goes

DrawnWith = Literal["nothing", "scribe", "pencil", "ball-pen", "marker"]

NO_HOLES = frozen(np.zeros((0, 2)))


class Drawn(NamedTuple):
    """An outline `(n, 2)` in mm as it was traced or read from a file; what drew it round the thing; the middles of holes in it
    `(k, 2)`; how many marks beside it name it, if any.
    """

    ring: Line
    drawn_with: DrawnWith = "nothing"
    holes: Line = NO_HOLES
    marks: int = 0


DREW_MM: dict[DrawnWith, float] = {"nothing": 0.0, "scribe": 0.0, "pencil": 0.5, "ball-pen": 0.5, "marker": 1.0}
"""How far outside the thing the middle of the line runs that was drawn round it (common practice)."""


DREW_WITH: dict[DrawnWith, Said] = {
    "nothing": said("nothing"), "scribe": said("scribe"), "pencil": said("pencil"), "ball-pen": said("ball pen"),
    "marker": said("marker"),
}  # fmt: skip


def within_line(ring: Line, drawn_with: DrawnWith) -> Line:
    """The middle `(m, 2)` of a drawn line whose outer side is `ring (n, 2)`: as a picture shows it."""
    return _shrunk(ring, DREW_MM[drawn_with])


def laid_along(ring: Line, drawn_with: DrawnWith) -> Line:
    """The thing itself `(m, 2)`, what drew it taken off, turned so that its long way lies along x, as little as will do, and
    moved so that x and y begin at 0.
    """
    own = _shrunk(ring, DREW_MM[drawn_with])
    box = shapely.get_coordinates(Polygon(own).minimum_rotated_rectangle)
    sides = np.diff(box[:3], axis=0)
    long = sides[int(np.argmax(np.hypot(*sides.T)))]
    turn = -np.arctan(long[1] / long[0]) if abs(long[0]) > 1e-9 else np.pi / 2
    c, s = np.cos(turn), np.sin(turn)
    laid = own @ np.array([[c, s], [-s, c]])
    return turned_right(laid - laid.min(axis=0))


def across(ring: Line, x: float) -> tuple[float, float]:
    """Top and bottom of a ring at `x`; (0, 0) outside it."""
    y0, y1 = ring[:, 1].min() - 1, ring[:, 1].max() + 1
    cut = Polygon(ring).buffer(0).intersection(shapely.LineString([(x, y0), (x, y1)]))
    return (0.0, 0.0) if cut.is_empty else (float(cut.bounds[1]), float(cut.bounds[3]))


def dragged_softly(ring: Line, k: int, by: Line, kept: tuple[int, ...] = ()) -> Line:
    """An outline `(n, 2)` with its point k moved, its neighbours taken along, less the farther off they lie, so that it is no
    spike, and no farther than to the points `kept`.
    """
    s = arc_length(closed(ring))
    apart = np.abs(s[:-1] - s[k])
    apart = np.minimum(apart, s[-1] - apart)
    reach = min(max(SOFT_MM, SOFT_TIMES * float(np.hypot(*by))), *(max(float(apart[i]), 1e-3) for i in kept), np.inf)
    share = np.where(apart < reach, (1 + np.cos(np.pi * np.minimum(apart / reach, 1.0))) / 2, 0.0)
    moved: Line = ring + share[:, None] * by
    return moved


def _shrunk(ring: Line, by_mm: float) -> Line:
    if by_mm == 0:
        return ring
    inner = Polygon(ring).buffer(-by_mm)
    parts = [g for g in getattr(inner, "geoms", [inner]) if not g.is_empty]
    return shapely.get_coordinates(max(parts, key=lambda g: g.area).exterior)[:-1] if parts else ring
