"""Flat outlines of a pocket folded down its middle: growing, rounding, and cutting the half that is drawn.

A pocket is even about the fold, the axis u = 0; a *right-hand line* runs down its front half from the mouth to the toe.
"""

from collections.abc import Callable

import numpy as np
import shapely
from shapely.geometry import Polygon

from ..curve import Line, Mask, Values, mirror
from ..measure import LongBody

FILLED_FROM_MM = 0.05  # shallower hollows are the samples' own
SIMPLER_MM = 0.03  # points closer than this to the line through their neighbours are left out of an outline


def from_mouth(body: LongBody, mouth: float) -> tuple[Values, Line, Line, Values, Values, Mask]:
    """The body's rows from the mouth on, with one exactly at the mouth."""
    x = body.x_mm
    inside = x > mouth + 1e-6
    k = int(np.clip(np.searchsorted(x, mouth, side="right") - 1, 0, len(x) - 2))
    share = (mouth - x[k]) / (x[k + 1] - x[k])

    def rows(values: Values) -> Values:
        at_mouth = values[k] + share * (values[k + 1] - values[k])
        return np.concatenate([np.asarray(at_mouth)[None], values[inside]])

    blade = np.concatenate([[mouth >= 0], body.blade[inside]])
    return (
        np.concatenate([[mouth], x[inside]]), rows(body.y_mm), rows(body.z_mm), rows(body.edge_mm), rows(body.top_mm),
        blade,
    )  # fmt: skip


def both_halves(edge_u: Values, x: Values) -> Polygon:
    """The pocket opened flat, run on upwards past the mouth so that offsets leave it straight."""
    right = np.concatenate([[[edge_u[0], x[0] - 90]], np.column_stack([edge_u, x])])
    ring = shapely.LineString(np.concatenate([right, mirror(right)[::-1]])).simplify(
        SIMPLER_MM, preserve_topology=False
    )
    return Polygon(shapely.get_coordinates(ring))


def hollows_filled(u: Values, x: Values, radius_mm: float) -> Values:
    """The profile u(x) `(n,)` with its hollows filled as far as a disc of this radius cannot reach into them.

    A closing by a disc, worked on the samples: first every point grows by the disc, then the disc is taken off again.
    """
    around = np.linspace(0, radius_mm, 25)[1:]
    wide = np.concatenate([x[0] - around[::-1], x, x[-1] + around])

    def disc(apart: Values) -> Values:
        return np.sqrt(np.maximum(radius_mm**2 - apart**2, 0))

    from_points = np.abs(wide[:, None] - np.concatenate([x[0] - around[::-1], x])[None, :])
    above = np.concatenate([np.full(len(around), u[0]), u])
    grown = np.where(from_points <= radius_mm, above + disc(from_points), -np.inf).max(axis=1)
    back = np.abs(x[:, None] - wide[None, :])
    shrunk = np.where(back <= radius_mm, grown - disc(back), np.inf).min(axis=1)
    return np.where(shrunk > u + FILLED_FROM_MM, shrunk, u)


def grown(area: Polygon, offset_mm: float) -> Polygon:
    """The area grown by `offset_mm`, round at its corners."""
    whole = area.buffer(offset_mm)
    return whole if isinstance(whole, Polygon) else max(whole.geoms, key=lambda g: g.area)


def right_side(area: Polygon) -> Line:
    """The boundary of a shape that is even about the fold, front half only, from the top to the fold at the toe."""
    ring = shapely.get_coordinates(area.exterior.simplify(SIMPLER_MM, preserve_topology=False))[:-1]
    low = int(np.argmax(ring[:, 1] - 1e-3 * np.abs(ring[:, 0])))
    ring = np.roll(ring, -low, axis=0)
    if ring[1, 0] < ring[-1, 0]:
        ring = np.roll(ring[::-1], 1, axis=0)
    top = int(np.argmin(ring[:, 1] - 1e-6 * ring[:, 0]))
    right = ring[: top + 1][::-1]
    right = right[right[:, 0] > 1e-9]
    return np.vstack([right, [0.0, right[-1, 1] if right[-1, 1] > ring[0, 1] - 1e-9 else ring[0, 1]]])


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
