"""The taut wrap: the length of leather drawn round a section, developed flat.

Leather follows the *hull* of what lies inside it. Along a path of hull length P that turns by θ in all, leather of
thickness t whose neutral layer lies k·t from its inner face has the flat length P + θ·k·t.
"""

from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from ..curve import Line, Values
from ..memory import remembered

NEUTRAL_DRY = 0.5  # the middle of the leather neither stretches nor gives (common practice)
NEUTRAL_FORMED = 0.4  # wet-formed leather compresses on the inside of a bend (common practice)

Length = TypeVar("Length", float, Values)


@dataclass(frozen=True, slots=True, eq=False)
class HalfWrap:
    """A wrap from the fold to the seam, each `(n,)`: hull length and flat length in mm, turning in radians; `least_mm`, the
    flat length of the shortest wrap when the seam may stand farther off: right beside a body thicker than the welt, leather
    turns down so steeply that a little room makes it shorter.
    """

    hull_mm: Values
    turning_rad: Values
    flat_mm: Values
    least_mm: Values


def flat_length(hull_mm: Length, turning_rad: Length, neutral: float, leather_mm: float) -> Length:
    """Flat length in mm of leather wrapped along a path; a full turn on a cylinder D gives π(D + 2kt)."""
    return hull_mm + turning_rad * neutral * leather_mm


def half_wrap(
    y_mm: Values, z_mm: Values, seam_y_mm: Values, seam_z_mm: Values, neutral: float, leather_mm: float
) -> HalfWrap:
    """Wrap half sections from a fold at (0, 0) to the inner corner of the welt at (seam_y, seam_z).

    `y_mm`, `z_mm (n, m)` are convex chains in order of rising y, z >= 0; `seam_y_mm`, `seam_z_mm (n,)` lie beyond them.
    Every row is one station; the chain is followed from where a straight line from the fold touches it to where a
    straight line from the seam touches it. The turning is counted from square to the middle plane at the fold, and
    only as far as the leather bends round the body: where it meets the welt it may bend back.
    """
    rows = np.arange(len(y_mm))
    run = np.hypot(np.diff(y_mm, axis=1), np.diff(z_mm, axis=1))
    along = np.concatenate([np.zeros((len(y_mm), 1)), np.cumsum(run, axis=1)], axis=1)
    rise_from_fold = np.arctan2(z_mm, y_mm)
    first = np.argmax(rise_from_fold, axis=1)
    seam_slope = np.arctan2(seam_z_mm, seam_y_mm)
    reach = seam_y_mm[:, None] - y_mm
    rise_from_seam = np.where(reach >= 0, np.arctan2(z_mm - seam_z_mm[:, None], np.maximum(reach, 0)), -np.inf)
    last = np.argmax(rise_from_seam, axis=1)
    direct = rise_from_fold[rows, first] <= seam_slope
    last = np.maximum(first, last)  # points that fall together may be met in either order
    first, last = np.where(direct, 0, first), np.where(direct, 0, last)
    to_first = np.hypot(y_mm[rows, first], z_mm[rows, first])
    from_last = np.hypot(seam_y_mm - y_mm[rows, last], seam_z_mm - z_mm[rows, last])
    hull = to_first + along[rows, last] - along[rows, first] + from_last
    hull = np.where(direct, np.hypot(seam_y_mm, seam_z_mm), hull)
    leaving = np.where(direct, -seam_slope, rise_from_seam[rows, last])
    turning = np.pi / 2 + leaving
    flat = flat_length(hull, turning, neutral, leather_mm)
    down = np.where(direct, 0.0, np.maximum(z_mm[rows, last] - seam_z_mm, 0.0))
    return HalfWrap(hull, turning, flat, flat - _saved(seam_y_mm - y_mm[rows, last], down, neutral * leather_mm))


def _saved(off_mm: Values, down_mm: Values, neutral_mm: float) -> Values:
    """What a wrap saves `(n,)` by ending farther off than `off_mm`, where it goes down by `down_mm` to its end: the least over
    a of √(a² + h²) + k t atan(h / a), which lies where a √(a² + h²) = k t h.
    """

    def long(off: Values) -> Values:
        return np.hypot(off, down_mm) + neutral_mm * np.arctan2(down_mm, off)

    best = np.sqrt((np.sqrt(down_mm**4 + 4 * (neutral_mm * down_mm) ** 2) - down_mm**2) / 2)
    return np.where(best > off_mm, long(off_mm) - long(best), 0.0)


def drawn_over(section: Line, worked_mm: float = 0.0) -> tuple[Line, float, float]:
    """Leather drawn over a section `(n, 2)` of points in order of rising first coordinate, from its first to its last.

    Gives the line its inner face follows, that line's length in mm and its turning in radians. Taut leather follows the
    hull; wet leather worked down by up to `worked_mm` below the hull follows the section as far as that reaches. The turning
    is signed: bent back into a hollow, leather is short by as much as it is long over a hump.
    """
    hull: list[int] = []
    at: list[list[float]] = section.tolist()
    for i, (x, z) in enumerate(at):
        while len(hull) > 1:
            (ax, az), (bx, bz) = at[hull[-2]], at[hull[-1]]
            if (bx - ax) * (z - az) - (bz - az) * (x - ax) < 0:
                break
            hull.pop()
        hull.append(i)
    line = section[hull]
    if worked_mm > 0:
        above = np.interp(section[:, 0], line[:, 0], line[:, 1])
        line = np.column_stack([section[:, 0], np.maximum(section[:, 1], above - worked_mm)])
        line[[0, -1]] = section[[0, -1]]
    steps = np.diff(line, axis=0)
    steps = steps[np.hypot(*steps.T) > 1e-12]
    if not len(steps):
        return line, 0.0, 0.0
    heading = np.arctan2(steps[:, 1], steps[:, 0])
    return line, float(np.hypot(*steps.T).sum()), float(heading[0] - heading[-1])


def hulls_over(x: Values, z: Values) -> Values:
    """Height `(n, m)` of taut leather above each place of sections `x`, `z (n, m)`, m >= 2, x rising along every row: the upper
    hulls, all rows at once.

    A point lies on the hull where no later point is seen more steeply from it than it is from any earlier one.
    """
    last = x.shape[1] - 1
    i, j, from_, to, by_to = _pairs(last + 1)
    run = x[:, j] - x[:, i]
    slope = (z[:, j] - z[:, i]) / np.where(run > 0, run, np.inf)
    ahead = np.maximum.reduceat(slope, from_, axis=1)  # from each but the last
    behind = np.minimum.reduceat(slope[:, by_to], to, axis=1)  # to each but the first
    place = np.tile(np.arange(last + 1), (len(x), 1))
    place[:, 1:-1][behind[:, :-1] < ahead[:, 1:]] = -1
    before = np.maximum.accumulate(place, axis=1)
    after = np.minimum.accumulate(np.where(place < 0, last, place)[:, ::-1], axis=1)[:, ::-1]
    rows = np.arange(len(x))[:, None]
    (x0, z0), (x1, z1) = ((x[rows, k], z[rows, k]) for k in (before, after))
    return z0 + (z1 - z0) * (x - x0) / np.where(x1 > x0, x1 - x0, np.inf)


@remembered("part")
def _pairs(m: int) -> tuple[NDArray[np.intp], ...]:
    """All pairs i < j of m points, in order of i; where each i begins; where each j begins in order of j, and that order."""
    i, j = np.triu_indices(m, 1)
    by_j = np.argsort(j, kind="stable")
    return i, j, np.searchsorted(i, np.arange(m - 1)), np.searchsorted(j[by_j], np.arange(1, m)), by_j
