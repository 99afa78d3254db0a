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
from .matter import Levels, Mask, greys

STEP_MM = 0.25  # between points of the outline
REACH_MM = 1.2  # how far from the mask's edge the true one is looked for
EASED_MM = 0.3  # standard deviation of the smoothing of the mask's edge, from whose normals it is looked for
TURNS_RAD = np.radians(60)  # an outline that turns so far within 3 mm has a point or a crotch
FLANK_MM = (1.3, 10.0)  # from the tip: between these its flanks are straight
BLURRED_MM = 0.9  # where a point is narrower than this, its own edges blur into one another
PAST_MM = 0.25  # how far past its tip a blurred point still darkens the paper


class _Tip(NamedTuple):
    """Which points of the ring it replaces, from one to the other inclusive, and where it is."""

    first: int
    last: int
    at: Line


def outline(even: Levels, mask: Mask, per_mm: float) -> Line:
    """The outline `(n, 2)` in mm of the thing in the mask, turned right."""
    strays = np.sqrt(greys((even - 1) ** 2))  # from the paper, in proportion to what is covered
    ring = _refined(strays, mask, per_mm)
    ring = _with_tips(ring, strays, per_mm)
    area = shapely.Polygon(ring).buffer(0)
    whole = max(getattr(area, "geoms", [area]), key=lambda g: g.area)
    return turned_right(thinned(shapely.get_coordinates(whole.exterior) / per_mm, 0.03)[:-1])


def _look(levels: Levels, at: Line) -> NDArray[np.float64]:
    from scipy.ndimage import map_coordinates

    return np.asarray(map_coordinates(levels, [at[..., 1], at[..., 0]], order=1, mode="nearest"), float)


def _refined(strays: Levels, mask: Mask, per_mm: float) -> Line:
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
    seen = _look(strays, points[:, None] + off[None, :, None] * out[:, None])
    quarter = len(off) // 4
    inner, outer = np.median(seen[:, :quarter], axis=1), np.median(seen[:, -quarter:], axis=1)
    level = (inner + outer) / 2
    above = seen > level[:, None]
    moved, middle = np.zeros(len(points)), len(off) // 2
    for i in range(len(points)):
        falls = np.flatnonzero(above[i, :-1] & ~above[i, 1:])
        if len(falls) and inner[i] > outer[i]:
            k = int(falls[np.argmin(np.abs(falls - middle))])
            a, b = seen[i, k], seen[i, k + 1]
            moved[i] = off[k] + (off[k + 1] - off[k]) * (a - level[i]) / max(a - b, 1e-9)
    return np.asarray(points + moved[:, None] * out)


def _with_tips(ring: Line, strays: Levels, per_mm: float) -> Line:
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
        tip = _tip(ring, k, room // 2, bool(turn[k] > 0), strays, per_mm)
        if tip is not None:
            found.append(tip)
    kept = np.ones(n, bool)
    at: dict[int, Line] = {}
    for tip in found:
        kept[np.arange(tip.first, tip.last + 1) % n] = False
        at[tip.last % n] = tip.at
    lines = [p for k in range(n) for p in (*([ring[k]] if kept[k] else []), *([at[k]] if k in at else []))]
    return np.array(lines)


def _tip(ring: Line, k: int, room: int, convex: bool, strays: Levels, per_mm: float) -> _Tip | None:
    """A point of the thing, or where not `convex` a crotch in it, at the ring's place k, `room` places free on either side."""
    n, near, far = len(ring), round(FLANK_MM[0] / STEP_MM), min(round(FLANK_MM[1] / STEP_MM), room)
    if far - near < 5:
        return None
    flanks = [ring[(k - np.arange(near, far + 1)) % n], ring[(k + np.arange(near, far + 1)) % n]]
    flanks = [_straight(f, per_mm) for f in flanks]
    lines = [(f.mean(axis=0), (f[0] - f[-1]) / np.hypot(*(f[0] - f[-1]))) for f in flanks]
    (p, u), (q, v) = lines
    along = u + v
    if np.hypot(*along) < 0.5:  # flatter than 150°
        return None
    along = along / np.hypot(*along)
    half = float(np.arccos(np.clip(u @ along, -1, 1)))
    if half < np.radians(0.5):
        return None
    t = np.linalg.solve(np.column_stack([u, -v]), q - p)
    meet = p + t[0] * u
    if np.hypot(*(meet - ring[k])) > 16 * per_mm:
        return None
    at_mm = _ends(meet, along, half, min(far * STEP_MM, 8.0), convex, strays, per_mm)
    if at_mm is None:
        return None
    tip = meet + along * at_mm * per_mm
    blurred = BLURRED_MM / (2 * np.tan(half)) if half < np.radians(35) else 0.35
    if np.hypot(*(tip - ring[k])) > (blurred + 0.5) * per_mm:  # farther than blur can take it: something else is near
        return None
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
    meet: Line, along: Line, half: float, back_mm: float, convex: bool, strays: Levels, per_mm: float
) -> float | None:
    """How far past where its flanks meet a point ends, in mm, negative where it is rounded short of it."""
    square = np.array([-along[1], along[0]])
    past = np.arange(-back_mm, 3.0, 0.1)
    most = back_mm * np.tan(half) + 1.0
    aside = np.arange(-most, most + 0.05, 0.05)
    at = meet + per_mm * (past[:, None, None] * along + aside[None, :, None] * square)
    seen = _look(strays, at)
    wide = np.maximum(-past, 0.0) * np.tan(half)
    inside = np.abs(aside)[None] <= wide[:, None] + 0.7
    if not convex:
        ground = float(np.median(seen[~inside & (np.abs(aside)[None] < wide[:, None] + 1.0)]))
        seen = ground - seen
    margin = (np.abs(aside)[None] > wide[:, None] + 0.5) & inside
    floor = float(np.median(seen[margin])) if margin.any() else 0.0
    deep = seen[past < -0.6 * back_mm]
    middle = deep[:, np.abs(aside) < 0.1].mean()
    wide_there = 2 * 0.8 * back_mm * np.tan(half)
    full = float(middle - floor)
    if (
        wide_there < 0.6
    ):  # too narrow for its middle to be as dark as it is: by what is darkened, and how wide it must be
        summed = ((deep - floor) * inside[past < -0.6 * back_mm]).sum(axis=1) * 0.05
        full = float((summed / (2 * wide[past < -0.6 * back_mm])).mean())
    if full < 0.04:
        return None
    widths: Values = ((seen - floor) * inside).sum(axis=1) * 0.05 / full
    noise = float(np.std(widths[past > 1.5])) if (past > 1.5).any() else 0.05
    there = widths > max(0.08, 4 * noise)
    ends = np.flatnonzero(~there & (past > -0.75 * back_mm))
    if not len(ends):
        return None
    seen_to = float(past[max(int(ends[0]) - 1, 0)])
    some = there & (past < min(seen_to, 0.0) - 0.2) & (past > -0.8 * back_mm)
    if some.sum() >= 6:
        slope, level = np.polyfit(past[some], widths[some], 1)
        if slope < -1e-3:
            runs_out = float(-level / slope)
            return min(runs_out, seen_to + PAST_MM)
    return seen_to
