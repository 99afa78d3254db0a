"""Plane curves as polylines walked by arc length.

A *line* is an `(n, 2) float` array of points in mm; *s* is arc length from its first point. All functions return new
arrays.
"""

from collections.abc import Callable
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

Line = NDArray[np.float64]
Values = NDArray[np.float64]
Mask = NDArray[np.bool_]


def arc_length(line: Line) -> Values:
    """Arc length `(n,)` in mm at each point of the line."""
    steps, s = line[1:] - line[:-1], np.zeros(len(line))
    np.hypot(steps[:, 0], steps[:, 1]).cumsum(out=s[1:])
    return s


def walk(line: Line, s_mm: Any) -> Line:
    """Points `(m, 2)` at the arc lengths `s_mm`; outside the line its end points."""
    s = arc_length(line)
    return np.column_stack([np.interp(s_mm, s, line[:, 0]), np.interp(s_mm, s, line[:, 1])])


def extended(line: Line, start_mm: float, end_mm: float) -> Line:
    """The line run straight on by so much at its start and its end."""
    first, last = line[0] - line[1], line[-1] - line[-2]
    ends = [end / max(float(np.hypot(*end)), 1e-9) for end in (first, last)]
    return np.vstack([line[0] + start_mm * ends[0], line, line[-1] + end_mm * ends[1]])


def trim(line: Line, start_mm: float, end_mm: float) -> Line:
    """The line without its first `start_mm` and last `end_mm`; a single repeated point when nothing is left."""
    s = arc_length(line)
    a, b = start_mm, s[-1] - end_mm
    if b <= a:
        middle = walk(line, [(a + b) / 2])
        return np.vstack([middle, middle])
    inside = (s > a + 1e-9) & (s < b - 1e-9)
    return np.vstack([walk(line, [a]), line[inside], walk(line, [b])])


def headings(line: Line) -> Line:
    """Unit vectors `(n, 2)` along the line at its points: from the point before to the point after."""
    if len(line) < 2:
        return np.array([[1.0, 0.0]] * len(line))
    along = np.empty_like(line)
    along[0], along[1:-1], along[-1] = line[1] - line[0], line[2:] - line[:-2], line[-1] - line[-2]
    return along / np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-9)[:, None]


def rows_from(x: Values, at: float, *rows: Values) -> tuple[Values, ...]:
    """x `(n,)`, rising, and rows `(n, ...)` given along it, from `at` on: with one exactly there, between its neighbours."""
    after = x > at + 1e-6
    k = int(np.clip(np.searchsorted(x, at, side="right") - 1, 0, len(x) - 2))
    share = (at - x[k]) / (x[k + 1] - x[k])
    return tuple(np.concatenate([(v[k] + share * (v[k + 1] - v[k]))[None], v[after]]) for v in (x, *rows))


def corners(line: Line, least_rad: float, reach_mm: float = 1.5) -> NDArray[np.int64]:
    """Indices of the inner points where the line turns by more than `least_rad` within `reach_mm` either way.

    The reach keeps a finely drawn arc from being taken for a corner and a corner split into two points for none.
    """
    if len(line) < 3:
        return np.array([], dtype=np.int64)
    s = arc_length(line)
    before = line - walk(line, np.maximum(s - reach_mm, 0))
    after = walk(line, np.minimum(s + reach_mm, s[-1])) - line
    turn = np.abs(angle_between(before, after))
    turn[[0, -1]] = 0
    step_turn = np.zeros(len(line))
    steps = np.diff(line, axis=0)
    step_turn[1:-1] = np.abs(angle_between(steps[:-1], steps[1:]))
    at_corners: list[int] = []
    for i in np.flatnonzero((turn > least_rad) & (step_turn > least_rad / 2)):
        if at_corners and s[i] - s[at_corners[-1]] < reach_mm:
            if turn[i] > turn[at_corners[-1]]:
                at_corners[-1] = int(i)
        else:
            at_corners.append(int(i))
    return np.array(at_corners, dtype=np.int64)


def rounded(line: Line, radius_mm: float, at: NDArray[np.int64]) -> Line:
    """The line with its corners at the points `at` rounded to a radius, or as far as its neighbours leave room.

    A conic through where the arc begins and ends that touches both sides, which is that arc between straight sides.
    """
    if radius_mm <= 0 or not len(at):
        return line
    s = arc_length(line)
    before, after = walk(line, s[at] - 1.0), walk(line, s[at] + 1.0)
    turn = np.abs(angle_between(line[at] - before, after - line[at]))
    room = np.minimum(np.diff(s[at], prepend=-s[at[0]]), np.diff(s[at], append=2 * s[-1] - s[at[-1]])) / 2
    reach = np.minimum(radius_mm * np.tan(turn / 2), 0.95 * room)
    parts, last = [], 0.0
    for k, i in enumerate(at):
        start, end = s[i] - reach[k], s[i] + reach[k]
        parts.append(line[(s >= last) & (s < start - 1e-9)])
        (a,), (b,) = walk(line, [start]), walk(line, [end])
        u, w = np.linspace(0, 1, 13)[:, None], np.cos(turn[k] / 2)
        weights = (1 - u) ** 2, 2 * w * u * (1 - u), u**2
        parts.append((weights[0] * a + weights[1] * line[i] + weights[2] * b) / sum(weights))
        last = end + 1e-9
    parts.append(line[s >= last])
    return np.concatenate(parts)


def angle_between(a: Line, b: Line) -> Values:
    """Signed turning in radians from each row of `a` to the same row of `b`, in -π..π."""
    return np.arctan2(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], (a * b).sum(axis=1))


def chord_error(points: Line) -> float:
    """Greatest distance in mm of the points from the straight line through the first and the last."""
    return float(chord_errors(points[None])[0]) if len(points) > 2 else 0.0


def chord_errors(windows: NDArray[np.float64]) -> Values:
    """`chord_error` of each window of points, `(k, m, 2)` to `(k,)`."""
    chord = windows[:, -1] - windows[:, 0]
    off = windows - windows[:, :1]
    across = np.abs(off[..., 0] * chord[:, None, 1] - off[..., 1] * chord[:, None, 0])
    span = np.hypot(chord[:, 0], chord[:, 1])
    apart = np.hypot(off[..., 0], off[..., 1]).max(axis=1)
    return np.where(span > 0, across.max(axis=1) / np.maximum(span, 1e-12), apart)


def mirror(line: Line) -> Line:
    """The line reflected in the fold, the axis of the second coordinate."""
    return line * np.array([-1.0, 1.0])


def smooth_through(x: Values, y: Values) -> Callable[[Any], Values]:
    """A curve y(x) through the points `(n,)`, x rising, that never overshoots them; beyond them it stays level.

    The slopes of the natural cubic spline, limited so that each stretch stays between its ends (Hyman, SIAM J. Sci. Stat.
    Comput. 4 (1983), 645-654; level at a highest or lowest point). Written out here because importing SciPy's splines costs
    half a second before the first paint; tests compare the two.
    """
    x, y = np.asarray(x, float), np.asarray(y, float)
    if len(x) == 1:
        return lambda at: np.full(np.shape(at), y[0])
    h, d = np.diff(x), np.diff(y) / np.diff(x)
    if len(x) == 2:
        slope = np.array([d[0], d[0]])
    else:
        slope = _spline_slopes(h, d)
        most = 3 * np.minimum(np.abs(np.append(d[0], d)), np.abs(np.append(d, d[-1])))
        slope = np.clip(slope, -most, most)
        slope[1:-1] = np.where(d[:-1] * d[1:] > 0, np.sign(d[1:]) * np.abs(slope[1:-1]), 0.0)
        for end, beside in ((0, d[0]), (-1, d[-1])):
            slope[end] = slope[end] if slope[end] * beside > 0 else 0.0

    def curve(at: Any) -> Values:
        at = np.clip(np.asarray(at, float), x[0], x[-1])
        i = np.clip(np.searchsorted(x, at, side="right") - 1, 0, len(h) - 1)
        u = (at - x[i]) / h[i]
        result: Values = (
            y[i] * (1 + 2 * u) * (1 - u) ** 2
            + slope[i] * h[i] * u * (1 - u) ** 2
            + y[i + 1] * u**2 * (3 - 2 * u)
            + slope[i + 1] * h[i] * u**2 * (u - 1)
        )
        return result

    return curve


def _spline_slopes(h: Values, d: Values) -> Values:
    """Slopes of the natural cubic spline over steps `h` with chord slopes `d`."""
    n = len(h) + 1
    system, right = np.zeros((n, n)), np.zeros(n)
    inner = np.arange(1, n - 1)
    system[inner, inner - 1], system[inner, inner + 1] = h[1:], h[:-1]
    system[inner, inner] = 2 * (h[1:] + h[:-1])
    right[1:-1] = 3 * (h[1:] * d[:-1] + h[:-1] * d[1:])
    system[0, :2], right[0] = (2, 1), 3 * d[0]
    system[-1, -2:], right[-1] = (1, 2), 3 * d[-1]
    return np.asarray(np.linalg.solve(system, right), dtype=np.float64)


def beside(line: Line, by_mm: float) -> Line:
    """A gently turning line moved square to itself by so much, to the left of its run seen with y down."""
    step = np.diff(line, axis=0)
    across = np.column_stack([-step[:, 1], step[:, 0]]) / np.maximum(np.hypot(*step.T), 1e-12)[:, None]
    both = np.vstack([across[:1], across[1:] + across[:-1], across[-1:]])
    both[1:-1] /= np.maximum((both[1:-1] * across[1:]).sum(axis=1), 1e-6)[:, None]
    return line + by_mm * both


def thinned(line: Line, within_mm: float) -> Line:
    """The line with the points left out that lie nearer than `within_mm` to the line through those that are kept."""
    kept = shapely.simplify(shapely.linestrings(line), within_mm, preserve_topology=False)
    return frozen(shapely.get_coordinates(kept))


def area_within(ring: Line) -> BaseGeometry:
    """The area within a closed ring; where the ring crosses itself, what lies within in the usual sense."""
    if len(ring) < 3:
        return Polygon()
    area = Polygon(ring)
    return area if area.is_valid else area.buffer(0)


def run_like(line: Line, other: Line) -> Line:
    """The line in the sense in which one beside it runs."""
    ahead, back = (np.hypot(*(line[[0, -1]] - other[ends]).T).sum() for ends in ([0, -1], [-1, 0]))
    return line if ahead <= back else line[::-1]


def frozen(line: Any) -> Line:
    """A copy as a float array that cannot be written."""
    fixed = np.array(line, dtype=float)
    fixed.flags.writeable = False
    return fixed
