"""Gaps in a traced outline that narrow so much that no picture shows where they end.

Between the blades of open shears, where their edges come nearer than `UNSEEN_MM`, lens and kept colour run over the gap. How
deep it goes is measured by hand, from its end to the place of the outline that lies farthest from it, and put right.
"""

from typing import NamedTuple

import numpy as np
import shapely

from ..core.curve import Line, arc_length, frozen, walk
from ..core.drawing import Mark
from ..core.ring import closed, turned_right

STEP_MM = 0.25
UNSEEN_MM, GAP_RAD = 0.8, float(np.radians(10.0))  # a gap narrower than that, whose sides lie so flat (simulated)
FLANK_MM = (2.0, 8.0)  # by its sides from here to there
BY_TAPE_MM = 1.0  # how far a length by tape may be off
STRAIGHT_ON = 0.8  # cosine to the gap's axis: a measure more aslant than that hardly tells how deep it goes


class Gap(NamedTuple):
    """Where a gap seems to end and the unit vector in to there, both `(2,)`; how far off it may be; the place of the outline
    from which its end is measured, and how far that seems to be, all in mm.
    """

    ends: Line
    way: Line
    off_mm: float
    far: Line
    seems_mm: float

    @property
    def least_mm(self) -> float:
        """No shorter measure agrees with the picture."""
        return self.seems_mm - self.off_mm - BY_TAPE_MM

    @property
    def most_mm(self) -> float:
        """No longer measure agrees with the picture."""
        return self.seems_mm + self.off_mm + BY_TAPE_MM


def gaps_of(ring: Line) -> tuple[Gap, ...]:
    """The gaps of an outline `(n, 2)` in mm whose ends were not seen, the longest measure first."""
    points = walk(closed(ring), np.arange(0.0, float(arc_length(closed(ring))[-1]), STEP_MM))
    n, near, far = len(points), *(round(mm / STEP_MM) for mm in FLANK_MM)
    if n < 4 * far:
        return ()
    # out along either side
    ways = [np.roll(points, by * far, axis=0) - np.roll(points, by * near, axis=0) for by in (1, -1)]
    u, v = (way / np.maximum(np.hypot(*way.T), 1e-9)[:, None] for way in ways)
    half = np.arccos(np.clip((u * v).sum(axis=1), -1, 1)) / 2
    way_round = 1.0 if shapely.LinearRing(ring).is_ccw else -1.0
    hollow = way_round * (v[:, 0] * u[:, 1] - v[:, 1] * u[:, 0]) < 0
    gone = [((np.roll(points, by * near, axis=0) - points) * way).sum(axis=1) for by, way in ((1, u), (-1, v))]
    ends = np.min(gone, axis=0) > 0.8 * near * STEP_MM  # both go straight away from it
    narrow = np.flatnonzero(hollow & ends & (half < GAP_RAD))
    found: list[Gap] = []
    while len(narrow):
        flattest = narrow[np.argmin(half[narrow])]
        apart = np.abs((narrow - flattest + n // 2) % n - n // 2)
        run, narrow = narrow[apart <= near], narrow[apart > near]
        way = -(u[run] + v[run]).sum(axis=0)
        way = way / np.hypot(*way)
        deepest = ring[np.argmin(np.hypot(*(ring - points[run[np.argmax(points[run] @ way)]]).T))]
        off_mm = float(UNSEEN_MM / 2 / np.tan(max(float(half[run].min()), 0.02)))
        apart_mm = np.hypot(*(ring - deepest).T)
        straight = np.abs((ring - deepest) @ way) >= STRAIGHT_ON * apart_mm
        at = int(np.argmax(np.where(straight, apart_mm, 0.0)))
        found.append(Gap(deepest, way, off_mm, ring[at], float(apart_mm[at])))
    return tuple(sorted(found, key=lambda gap: -gap.seems_mm))


def ended(ring: Line, gap: Gap, measured_mm: float) -> Line | None:
    """An outline `(n, 2)` one of whose gaps ends so far from where that is measured; None where that is not what was seen."""
    back = gap.ends - gap.far
    along, rest = float(back @ gap.way), float(back @ back) - measured_mm**2
    under = along**2 - rest
    deeper = min((-along + s * np.sqrt(max(under, 0.0)) for s in (1, -1)), key=abs)
    if under < 0 or not gap.least_mm <= measured_mm <= gap.most_mm:
        return None
    # its sides were seen as far as this before where it seemed to end
    seen = min(-gap.off_mm, deeper - BY_TAPE_MM)
    dense = walk(
        closed(ring), np.unique(np.concatenate([arc_length(closed(ring)), _crossings(closed(ring), gap, seen)]))
    )[:-1]
    k, n = int(np.argmin(np.hypot(*(dense - gap.ends).T))), len(dense)
    first, last = k, k
    while last - first < n // 2 and (dense[(first - 1) % n] - gap.ends) @ gap.way > seen + 1e-6:
        first -= 1
    while last - first < n // 2 and (dense[(last + 1) % n] - gap.ends) @ gap.way > seen + 1e-6:
        last += 1
    kept = dense[np.arange(last + 1, first + n) % n]
    return turned_right(np.vstack([kept, gap.ends + deeper * gap.way]))


def _crossings(whole: Line, gap: Gap, level_mm: float) -> Line:
    """Arc lengths at which a closed line crosses the square to a gap's axis, so far beyond where the gap seems to end."""
    off = (whole - gap.ends) @ gap.way - level_mm
    k = np.flatnonzero(off[:-1] * off[1:] < 0)
    s = arc_length(whole)
    return np.asarray(s[k] + (s[k + 1] - s[k]) * off[k] / (off[k] - off[k + 1]))


def shown(ring: Line, gap: Gap) -> tuple[Mark, ...]:
    """What is to be measured: the outline, and the straight line from the end of the gap to where it is measured from."""
    line = frozen(np.stack([gap.ends, gap.far]))
    return (
        Mark("thing", frozen(ring), True), Mark("alarm", line),
        Mark("alarm", line, size_mm=float(np.ptp(ring, axis=0).max()) / 40),
    )  # fmt: skip
