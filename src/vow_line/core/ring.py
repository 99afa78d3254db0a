"""Closed outlines as rings `(n, 2)` in mm, the first point not repeated, walked by arc length."""

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from .curve import Line, arc_length, walk

END_MM = 0.5  # over which the direction at the ends of a stretch is taken
SIMPLER_MM = 0.03


def closed(ring: Line) -> Line:
    """The ring with its first point repeated at the end."""
    return np.vstack([ring, ring[:1]])


def turned_right(ring: Line) -> Line:
    """The ring in the sense in which its area, right and down, is positive."""
    x, y = closed(ring).T
    area = float(np.dot(x[:-1], y[1:]) - np.dot(y[:-1], x[1:]))
    return ring if area > 0 else ring[::-1]


def place_on(ring: Line, point: tuple[float, float]) -> float:
    """Arc length along the ring of the place nearest to a point."""
    return float(LineString(closed(ring)).project(shapely.Point(point)))


def stretch(ring: Line, start_mm: float, end_mm: float) -> Line:
    """The ring from one arc length to the next, on past its first point where it must."""
    whole = closed(ring)
    around = float(arc_length(whole)[-1])
    end_mm = start_mm + (end_mm - start_mm) % around if end_mm != start_mm else end_mm
    s = arc_length(np.vstack([whole, whole[1:]]))
    places = np.concatenate([[start_mm], s[(s > start_mm + 1e-6) & (s < end_mm - 1e-6)], [end_mm]])
    return walk(np.vstack([whole, whole[1:]]), places)


def offset(ring: Line, start_mm: float, end_mm: float, by_mm: float) -> Line:
    """The line that runs `by_mm` outside the ring (inside when negative) along the stretch from start to end.

    It has round corners, and where the ring is hollow it bridges what a disc of that size cannot reach. Empty `(0, 2)` when
    nothing of it is left.
    """
    around = float(arc_length(closed(ring))[-1])
    if abs(by_mm) < 1e-9:
        return stretch(ring, start_mm % around, start_mm % around + (end_mm - start_mm) % around)
    grown = Polygon(ring).buffer(by_mm, quad_segs=12)
    parts = [g for g in getattr(grown, "geoms", [grown]) if not g.is_empty]
    if not parts:
        return np.zeros((0, 2))
    largest = max(parts, key=lambda g: g.area)
    line = turned_right(shapely.get_coordinates(largest.exterior.simplify(SIMPLER_MM, preserve_topology=False))[:-1])
    run = (end_mm - start_mm) % around
    if run < 1e-9 or run > around - 1e-9:
        return closed(line)
    ends = walk(closed(ring), np.array([start_mm, end_mm]) % around)
    beside = walk(closed(ring), np.array([start_mm + END_MM, end_mm - END_MM]) % around)
    ahead = (beside - ends) * [[1.0], [-1.0]] / END_MM
    out = ends + by_mm * np.column_stack([ahead[:, 1], -ahead[:, 0]])
    first, last = (place_on(line, (float(u), float(v))) for u, v in out)
    return stretch(line, first, last)


def farthest(points: Line) -> tuple[Line, Line]:
    """The two points `(2,)` that lie farthest apart."""
    hull = shapely.get_coordinates(LineString(points).convex_hull)
    apart = np.hypot(*(hull[:, None] - hull[None]).transpose(2, 0, 1))
    i, j = np.unravel_index(int(np.argmax(apart)), apart.shape)
    return hull[i], hull[j]


def sides(ring: Line) -> tuple[float, float]:
    """How long and how wide an outline is, mm: the farthest of its points apart, and the shorter side of its narrowest box."""
    one, other = farthest(ring)
    box = shapely.get_coordinates(Polygon(ring).minimum_rotated_rectangle)
    return float(np.hypot(*(one - other))), float(np.hypot(*np.diff(box[:3], axis=0).T).min())
