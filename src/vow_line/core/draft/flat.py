"""Flat outlines of a pocket folded down its middle: growing, rounding, and cutting the half that is drawn.

A pocket is even about the fold, the axis u = 0; a *right-hand line* runs down its front half from the mouth to the toe.
"""

from collections.abc import Callable

import numpy as np
import shapely
from shapely.geometry import Polygon

from ..curve import Line, Mask, Values, rows_from
from ..measure import LongBody

FILLED_FROM_MM = 0.05  # shallower hollows are the samples' own
SIMPLER_MM = 0.03  # points closer than this to the line through their neighbours are left out of an outline


def from_mouth(body: LongBody, mouth: float) -> tuple[Values, Line, Line, Values, Values, Mask]:
    """The body's rows from the mouth on, with one exactly at the mouth."""
    x, y, z, edge, top = rows_from(body.x_mm, mouth, body.y_mm, body.z_mm, body.edge_mm, body.top_mm)
    return x, y, z, edge, top, np.concatenate([[mouth >= 0], body.blade[len(body.x_mm) + 1 - len(x) :]])


def opened(edge_u: Values, x: Values) -> Polygon:
    """The front half of the pocket opened flat, run on upwards past the mouth so that offsets leave it straight.

    In front of the fold an offset of it is the offset of the whole pocket: what is even about the fold lies nearest on its own
    side.
    """
    ring = np.concatenate([[[0.0, x[0] - 90], [edge_u[0], x[0] - 90]], np.column_stack([edge_u, x]), [[0.0, x[-1]]]])
    return Polygon(shapely.LineString(ring).simplify(SIMPLER_MM, preserve_topology=False).coords)


def hollows_filled(u: Values, x: Values, radius_mm: float) -> Values:
    """The profile u(x) `(n,)`, x rising, with its hollows filled as far as a disc of this radius cannot reach into them.

    A closing by a disc, worked on the samples: first every point grows by the disc, then the disc is taken off again.
    """
    around = np.linspace(0, radius_mm, 25)[1:]
    above = np.concatenate([x[0] - around[::-1], x])
    wide = np.concatenate([above, x[-1] + around])

    def highest(at: Values, from_x: Values, from_u: Values) -> Values:
        """How high the discs about the points stand at each place."""
        first, past = np.searchsorted(from_x, at - radius_mm), np.searchsorted(from_x, at + radius_mm, side="right")
        near = np.minimum(first[:, None] + np.arange((past - first).max()), past[:, None] - 1)
        over = np.sqrt(radius_mm**2 - np.minimum(np.abs(from_x[near] - at[:, None]), radius_mm) ** 2)
        return (from_u[near] + over).max(axis=1)

    grown = highest(wide, above, np.concatenate([np.full(len(around), u[0]), u]))
    shrunk = -highest(x, wide, -grown)
    return np.where(shrunk > u + FILLED_FROM_MM, shrunk, u)


def grown(area: Polygon, offset_mm: float) -> Polygon:
    """The area grown by `offset_mm`, round at its corners."""
    whole = area.buffer(offset_mm)
    return whole if isinstance(whole, Polygon) else max(whole.geoms, key=lambda g: g.area)


def right_side(area: Polygon) -> Line:
    """The boundary of a front half, or of what it has grown to, in front of the fold: from the top to the fold at the toe."""
    ring = shapely.get_coordinates(area.exterior)[:-1]
    behind = int(np.argmin(ring[:, 0]))
    ring = np.concatenate([ring[behind:], ring[: behind + 1]])
    front = np.flatnonzero(ring[:, 0] > 1e-9)
    right, beyond = ring[front[0] : front[-1] + 1], (ring[front[-1] + 1], ring[front[0] - 1])
    if right[0, 1] > right[-1, 1]:
        right, beyond = right[::-1], beyond[::-1]
    (u, v), (past_u, past_v) = right[-1], beyond[0]
    right = np.vstack([right, [0.0, v + (past_v - v) * u / (u - past_u)]])
    return shapely.get_coordinates(shapely.LineString(right).simplify(SIMPLER_MM, preserve_topology=False))


def below(line: Line, rim: Callable[[Values], Values], least_u: float) -> Line:
    """The part of a right-hand line that lies below the mouth's edge and at least `least_u` from the fold."""
    over = line[:, 1] - rim(line[:, 0])
    k = int(np.argmax(over > 0))
    if k > 0:
        share = -over[k - 1] / (over[k] - over[k - 1])
        line = np.vstack([line[k - 1] + share * (line[k] - line[k - 1]), line[k:]])
    return short_of(line, least_u)


def short_of(line: Line, least_u: float) -> Line:
    """A right-hand line as far as it keeps `least_u` from the fold."""
    near = np.flatnonzero(line[:, 0] < least_u)
    if least_u > 0 and len(near) and near[0] > 0:
        j = int(near[0])
        share = (line[j - 1, 0] - least_u) / (line[j - 1, 0] - line[j, 0])
        line = np.vstack([line[:j], line[j - 1] + share * (line[j] - line[j - 1])])
    return line if len(line) > 1 else np.vstack([line, line + [0.0, 0.1]])
