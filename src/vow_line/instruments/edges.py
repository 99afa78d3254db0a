"""The outline of what lies on the paper to a fraction of a pixel, its points and crotches as long as they are.

Along its sides the outline lies half way from paper to thing. A lens rounds a point off, so that half way comes short of it;
but what the thing darkens across its point adds up to its width there however blurred it is, and falls evenly to nothing at the
tip.
"""

from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from ..core.curve import Line, Values, arc_length, thinned, walk
from ..core.ring import closed, turned_right
from .matter import Levels, Mask

STEP_MM = 0.25  # between points of the outline
REACH_MM = 1.2  # how far from the mask's edge the true one is looked for
EASED_MM = 0.3  # standard deviation of the smoothing of the mask's edge, from whose normals it is looked for
TURNS_RAD = np.radians(60)  # an outline that turns so far within 3 mm has a point or a crotch
FLANK_MM = (1.3, 10.0)  # from the tip: between these its flanks are straight
BLURRED_MM = 0.9  # where a point is narrower than this, its own edges blur into one another
ROUNDED_RAD = np.radians(35)  # a point whose flanks lie farther from its axis is rounded by no more than its edges are
MOST_BLURRED_MM = 12.0  # of a point so slender that its flanks hardly meet
FILLED_MM = (
    0.8  # a crotch so narrow is filled by the light and colour of what is about it: it goes on to where its flanks meet
)
LOST_MM = 0.25  # of the width of a gap, by lens and kept colour: simulated
ASIDE_MM = 0.7  # beside a point: beyond it nothing of it is seen, and for so far again the ground about it
BLURS_MM = (0.12, 0.25, 0.4)  # standard deviation of the lens's and the kept colour's blur


class _Tip(NamedTuple):
    """Which points of the ring it replaces, from one to the other inclusive, and where it is."""

    first: int
    last: int
    at: Line


def outline(mask: Mask, covers: Levels, per_mm: float) -> Line:
    """The outline `(n, 2)` in mm of the thing in the mask, turned right, of whose pixels it `covers` such shares."""
    ring = _with_tips(_refined(covers, mask, per_mm), covers, per_mm)
    area = shapely.Polygon(ring).buffer(0)
    whole = max(getattr(area, "geoms", [area]), key=lambda g: g.area)
    return turned_right(thinned(shapely.get_coordinates(whole.exterior) / per_mm, 0.03)[:-1])


def _look(levels: Levels, at: Line) -> NDArray[np.float64]:
    from scipy.ndimage import map_coordinates

    return np.asarray(map_coordinates(levels, [at[..., 1], at[..., 0]], order=1, mode="nearest"), float)


def _refined(covers: Levels, mask: Mask, per_mm: float) -> Line:
    """Points every quarter mm, moved square to the edge to where the brightness is half way from paper to thing."""
    import cv2
    from scipy.ndimage import gaussian_filter1d

    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    rough = turned_right(max(contours, key=cv2.contourArea).reshape(-1, 2).astype(float))
    whole = closed(gaussian_filter1d(rough, EASED_MM * per_mm, axis=0, mode="wrap"))
    points = walk(whole, np.arange(0.0, float(arc_length(whole)[-1]), STEP_MM * per_mm))
    run = np.roll(points, -2, axis=0) - np.roll(points, 2, axis=0)
    run = run / np.maximum(np.hypot(*run.T), 1e-9)[:, None]
    out = np.column_stack([run[:, 1], -run[:, 0]])
    off = np.arange(-REACH_MM, REACH_MM + 0.05, 0.05) * per_mm
    along = points[:, None] + off[None, :, None] * out[:, None]
    seen, within = _look(covers, along), _look(mask.astype(np.float32), along) > 0.5
    middle = len(off) // 2
    inner, outer = _level(seen[:, middle::-1], within[:, middle::-1]), _level(seen[:, middle:], ~within[:, middle:])
    level = (inner + outer) / 2
    above = seen > level[:, None]
    falls = above[:, :-1] & ~above[:, 1:]
    k = np.argmin(np.where(falls, np.abs(np.arange(len(off) - 1) - middle), len(off)), axis=1)
    every = np.arange(len(points))
    a, b = seen[every, k], seen[every, k + 1]
    by = off[k] + (off[k + 1] - off[k]) * (a - level) / np.maximum(a - b, 1e-9)
    moved = np.where(falls.any(axis=1) & (inner > outer), by, 0.0)
    return np.asarray(points + moved[:, None] * out)


def _level(seen: Levels, own: NDArray[np.bool_]) -> Values:
    """What is seen on one side of an edge at each of its places `(n, m)`, going away from it: as far off as can be, and still
    this side of another edge.
    """
    many, at = own.shape[1], np.arange(own.shape[1])
    first = np.argmax(own, axis=1)
    ends = ~own & (at >= first[:, None])
    free = ~ends.any(axis=1)
    room = np.where(free, many, np.argmax(ends, axis=1)) - first
    low = np.where(free, many // 2, first + room // 3)
    high = np.where(free, many, first + np.maximum(2 * room // 3, room // 3 + 1))
    there = (at >= low[:, None]) & (at < high[:, None])
    values = np.sort(np.where(there, seen, np.inf), axis=1)  # then those that count stand first
    n, every = there.sum(axis=1), np.arange(len(seen))
    return np.asarray((values[every, (n - 1) // 2] + values[every, n // 2]) / 2)


def _with_tips(ring: Line, covers: Levels, per_mm: float) -> Line:
    """The ring with its points and crotches where they are."""
    n, reach = len(ring), round(1.5 / STEP_MM)
    before, after = ring - np.roll(ring, reach, axis=0), np.roll(ring, -reach, axis=0) - ring
    turn = np.arctan2(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0], (before * after).sum(axis=1))
    sharp = [k for k in range(n) if abs(turn[k]) > TURNS_RAD
             and abs(turn[k]) >= max(abs(turn[(k + j) % n]) for j in range(-2 * reach, 2 * reach + 1))]  # fmt: skip
    sharp = [k for j, k in enumerate(sharp) if j == 0 or k - sharp[j - 1] > 2 * reach]
    found = []
    for j, k in enumerate(sharp):
        room = (
            min((k - sharp[j - 1] - 1) % n + 1, (sharp[(j + 1) % len(sharp)] - k - 1) % n + 1) if len(sharp) > 1 else n
        )
        tip = _tip(ring, k, room // 2, bool(turn[k] > 0), covers, per_mm)
        if tip is not None:
            found.append(tip)
    kept = np.ones(n, bool)
    at: dict[int, Line] = {}
    for tip in found:
        kept[np.arange(tip.first, tip.last + 1) % n] = False
        at[tip.last % n] = tip.at
    lines = [p for k in range(n) for p in (*([ring[k]] if kept[k] else []), *([at[k]] if k in at else []))]
    return np.array(lines)


def _tip(ring: Line, k: int, room: int, convex: bool, covers: Levels, per_mm: float) -> _Tip | None:
    """A point of the thing, or where not `convex` a crotch in it, at the ring's place k, `room` places free on either side."""
    n, near, far = len(ring), round(FLANK_MM[0] / STEP_MM), min(round(FLANK_MM[1] / STEP_MM), room)
    if far - near < 5:
        return None
    flanks = [ring[(k - np.arange(near, far + 1)) % n], ring[(k + np.arange(near, far + 1)) % n]]
    flanks = [_straight(f, per_mm) for f in flanks]
    lines = [(f.mean(axis=0), (f[0] - f[-1]) / np.hypot(*(f[0] - f[-1]))) for f in flanks]
    u, v = (way for _, way in lines)
    along = u + v
    if np.hypot(*along) < 0.5:  # flatter than 150°
        return None
    along = along / np.hypot(*along)
    square = np.array([-along[1], along[0]])
    aside = [((at - ring[k]) @ square - ((at - ring[k]) @ along) * (w @ square) / (w @ along)) for at, w in lines]
    slopes = [float((w @ square) / (w @ along)) for _, w in lines]
    axis = ring[k] + square * (aside[0] + aside[1]) / 2
    sign = np.sign(slopes[1] - slopes[0]) or 1.0
    half = float(np.arctan(abs(slopes[1] - slopes[0]) / 2))
    wide = float(sign * (aside[0] - aside[1])) / 2 / per_mm  # half of how far apart its flanks are at the ring's end
    if half < np.radians(1.0):
        wide = abs(wide)
    if half > ROUNDED_RAD:
        return None
    blurred = min(BLURRED_MM / (2 * np.tan(half)), MOST_BLURRED_MM) if half else MOST_BLURRED_MM
    straight_mm = min(float(np.hypot(*(f[-1] - ring[k]))) for f in flanks) / per_mm
    at_mm = _ends(axis, along, (wide, half), min(straight_mm, 8.0), blurred + 0.5, convex, covers, per_mm)
    if at_mm is None:
        return None
    tip = axis + along * at_mm * per_mm
    behind = (tip - ring) @ along / per_mm  # how far back from the tip each place lies
    first, last = k, k
    while k - first < room and behind[(first - 1) % n] < blurred:
        first -= 1
    while last - k < room and behind[(last + 1) % n] < blurred:
        last += 1
    return _Tip(first, last, tip)


def _straight(flank: Line, per_mm: float) -> Line:
    """As much of a flank, from the tip on, as is straight."""
    for long in range(len(flank), 5, -2):
        part = flank[:long]
        middle = part.mean(axis=0)
        _, _, ways = np.linalg.svd(part - middle, full_matrices=False)
        way = ways[0] * np.sign(ways[0] @ (part[0] - part[-1]))
        off = (part - middle) @ np.array([-way[1], way[0]])
        if np.abs(off).max() < 0.12 * per_mm or long <= 7:
            s = (part - middle) @ way
            return middle + np.outer([s[0], s[-1]], way)
    return flank[:2]


def _ends(
    axis: Line, along: Line, flanks: tuple[float, float], back_mm: float, most_mm: float, convex: bool, covers: Levels,
    per_mm: float
) -> float | None:  # fmt: skip
    """How far past a place on its axis a point ends, in mm, at most so far either way; its flanks are there half as wide apart
    as is said, and narrow by such an angle.

    What it covers across it, above what is covered to either side of it there, is fitted by a width that falls evenly, to
    nothing or to a blunt end, seen through a lens.
    """
    from scipy.ndimage import gaussian_filter1d

    wide_mm, half = flanks
    square = np.array([-along[1], along[0]])
    past = np.arange(-back_mm, most_mm + 1.5, 0.1)
    wide = np.maximum(wide_mm - past * np.tan(half), 0.0) + ASIDE_MM
    aside = np.arange(-wide.max() - ASIDE_MM, wide.max() + ASIDE_MM, 0.05)
    at = axis + per_mm * (past[:, None, None] * along + aside[None, :, None] * square)
    seen = _look(covers, at) * (1 if convex else -1)
    lies = aside[None] / wide[:, None]
    far = ASIDE_MM / wide[:, None]
    left, right = ((side * lies > 1) & (side * lies < 1 + far) for side in (-1, 1))
    low, high = ((seen * m).sum(axis=1) / np.maximum(m.sum(axis=1), 1) for m in (left, right))
    beside = low[:, None] + (high - low)[:, None] * np.clip((lies + 1) / 2, 0, 1)
    summed: Values = ((seen - beside) * (np.abs(lies) <= 1)).sum(axis=1) * 0.05
    known = past > -0.85 * back_mm
    noise = float(np.std(summed[past > most_mm + 0.5]))
    if summed[known][:5].mean() < 5 * noise:
        return None
    best, ends_at, wide_at = np.inf, None, 0.0
    for blur in BLURS_MM:
        for end in past[(past > -0.7 * back_mm) & (np.abs(past) < most_mm)]:
            there = (past <= end).astype(float)
            falls = [gaussian_filter1d(there * by, blur / 0.1, mode="nearest")[known] for by in (1.0, past - end)]
            (wide_there, slope), rest, *_ = np.linalg.lstsq(np.column_stack(falls), summed[known], rcond=None)
            strays = float(rest[0]) if len(rest) else np.inf
            if wide_there >= 0 and slope < 1e-3 and strays < best:
                best, ends_at, wide_at = strays, float(end), float(wide_there)
    seen_well = known & (summed > FILLED_MM) & (past < (ends_at or 0.0))
    if not convex and ends_at is not None and wide_at < FILLED_MM and seen_well.sum() > 10:
        slope, level = np.polyfit(past[seen_well], summed[seen_well], 1)
        if slope < 0:
            return float(np.clip(-(level + LOST_MM) / slope, ends_at, most_mm))
    return ends_at
