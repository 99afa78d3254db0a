"""The pocket of a folded sheath: the leather round the body at every station, and the lines that follow from it."""

from dataclasses import dataclass
from functools import partial

import numpy as np
from shapely.geometry import Polygon

from ....curve import Line, Mask, Values, frozen
from ....measure import LongBody
from ....memory import remembered
from ...draw_out import DrawOut
from ...flat import from_mouth, grown, hollows_filled, opened, right_side
from ...toe_guard import guard_thick
from ...wrap import HalfWrap, half_wrap

SWELL_MM = 0.3  # what is larger by less is the same: between two welts needs are taken as linear
FILLET_MM = 22.0  # hollow corners of the outline, as where handle meets blade, are filled to this radius


@dataclass(frozen=True, slots=True, eq=False)
class Wraps:
    """The leather round the body at every row from the mouth on, as far as it depends on no line of the pattern.

    `thin` says how far the welt is skived, 0 to 1; the wraps touch the body, keep clear of it, or touch it with the welt
    skived to nothing; `needs` is the flat half width that touches it with the whole welt, `least` what it can pass with.
    """

    x: Values
    edge: Values
    top: Values
    blade: Mask
    thin: Values
    touching: HalfWrap
    clear: HalfWrap
    needs_thin: HalfWrap
    needs: Values
    least: Values
    spine_z: float
    fold_y: float


@remembered("part")
def wraps_of(
    body: LongBody,
    mouth: float,
    skive_mm: float,
    welt_mm: float,
    clearance_mm: float,
    neutral: float,
    leather_mm: float,
) -> Wraps:
    """The wraps of a body that goes in as far as `mouth`, for a welt of `welt_mm` skived over `skive_mm`; all mm."""
    x, y, z, edge, top, blade = from_mouth(body, mouth)
    fold_y = float(top.min())
    y, edge = np.maximum(y - fold_y, 0), edge - fold_y
    thin = 1 - np.clip((x - mouth) / skive_mm, 0, 1)
    half_welt = welt_mm / 2 * (1 - thin)
    wrap = partial(half_wrap, y, z, neutral=neutral, leather_mm=leather_mm)
    touching = wrap(edge, half_welt)
    needs, least = touching.flat_mm.copy(), touching.least_mm.copy()  # past the skive the welt is whole already
    s = thin > 0
    whole = half_wrap(y[s], z[s], edge[s], np.full(int(s.sum()), welt_mm / 2), neutral, leather_mm)
    needs[s], least[s] = whole.flat_mm, whole.least_mm
    return Wraps(
        x, edge, top - fold_y, blade, thin, touching, wrap(edge + clearance_mm, half_welt),
        wrap(edge, np.zeros(len(x))), needs, least, float(z[blade].max()), fold_y,
    )  # fmt: skip


@dataclass(frozen=True, slots=True, eq=False)
class Inside:
    """The inside of the pocket, opened flat: how far from the fold the edge lies at every row, the area of its front half, and
    the inner line that bounds it.
    """

    edge_u: Values
    area: Polygon
    line: Line


@remembered("part")
def inside_of(
    wraps: Wraps, clearance_mm: float, mouth_ease_mm: float, straight: bool, guard_from: float | None = None
) -> Inside:  # fmt: skip
    """The inside that these wraps need, run `straight` from the widest place to the mouth or following the body in behind it.
    A toe guard lies in the fold's turn and makes the way round longer by a quarter turn of its thickness.
    What lies outside of it, seam and margins, is not asked for, so that changing those leaves it as it is.
    """
    gives = np.where(wraps.blade, wraps.clear.flat_mm, _passing(wraps) + mouth_ease_mm / 2)
    edge_u = np.maximum(gives - clearance_mm, 0.2)
    if straight:
        edge_u = np.maximum.accumulate(edge_u[::-1])[::-1]
    if guard_from is not None:
        edge_u = edge_u + np.pi / 2 * guard_thick(wraps.x, guard_from)
    area = grown(opened(hollows_filled(edge_u, wraps.x, FILLET_MM), wraps.x), clearance_mm)
    return Inside(frozen(edge_u), area, frozen(right_side(area)))


def _passing(wraps: Wraps) -> Values:
    """What the handle needs at every row: its own, or that of a guard or swell that lies deeper and must pass there."""
    own, grip = wraps.touching.flat_mm, ~wraps.blade
    full, thinned = (
        np.maximum.accumulate(np.where(grip, v, 0.0)[::-1])[::-1] for v in (wraps.needs, wraps.needs_thin.flat_mm)
    )
    deeper = full + (thinned - full) * wraps.thin
    return np.where(deeper > own + SWELL_MM, deeper, own)


@dataclass(frozen=True, slots=True, eq=False)
class Pocket:
    """The lines of the front half, mouth to toe, and the numbers they came from, one per station."""

    x: Values
    touching: HalfWrap
    edge_u: Values
    clear: HalfWrap
    width: Values
    top: Values
    spine_u: float
    gives: Values
    welt_at: Values
    inner: Line
    relieved: Line
    thread: Line
    outer: Line
    bend: float
    lined: Values
    draw: DrawOut
    mouth_gap: float
    passing: float
    fold_y: float
