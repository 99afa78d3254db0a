"""Rows of holes in a part that was sewn before: which edge each goes along, how far apart they are, where one is missing."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import shapely

from ..curve import Line, frozen
from ..memory import remembered
from .body import Shape

FROM_EDGE_MM = 15.0  # a hole farther than this from every edge is of no seam along it (from memory)
EVEN_MM = 0.05  # where it lies on the lines of two rows, it goes with the longer: so much for each e-fold
FEW = 3  # fewer holes are no row
MISSING = 1.6  # holes so many pitches apart lack one between them (from memory)


@dataclass(frozen=True, slots=True, eq=False)
class HoleRow:
    """Holes along an edge in their order, `points (n, 2)`; their usual pitch, how far their pitches stray from it, and how far
    in from the edge they lie.
    """

    points: Line
    pitch_mm: float
    stray_mm: float
    in_mm: float

    def missing(self) -> Line:
        """Where holes are missing `(k, 2)`: evenly in the gaps that are too wide for a pitch."""
        gaps, found = np.hypot(*np.diff(self.points, axis=0).T), []
        for k in np.flatnonzero(gaps > MISSING * self.pitch_mm):
            n = max(round(float(gaps[k]) / self.pitch_mm), 2)
            shares = np.arange(1, n)[:, None] / n
            found.append(self.points[k] + shares * (self.points[k + 1] - self.points[k]))
        return np.concatenate(found) if found else np.zeros((0, 2))


@remembered("piece")
def hole_rows(shape: Shape) -> Mapping[str, HoleRow]:
    """The rows of holes of a panel, by the edge that each goes along; none where there are too few."""
    if not len(shape.holes):
        return {}
    names, lines = list(shape.edges), [shapely.LineString(line) for line in shape.edges.values()]
    points = np.array(shapely.points(shape.holes)).reshape(-1)
    apart = np.array([shapely.distance(line, points) for line in lines])
    nearest = np.argmin(apart, axis=0)
    mine = nearest[None] == np.arange(len(lines))[:, None]
    inset = np.array([np.median(a[m]) if m.sum() >= FEW else np.inf for a, m in zip(apart, mine, strict=True)])
    if not np.isfinite(inset).any():
        return {}
    # near a corner a hole goes with the row whose line it lies on, not with the edge that it happens to be nearest to
    off = np.abs(apart - inset[:, None]) - EVEN_MM * np.log(np.maximum(mine.sum(axis=1), 1))[:, None]
    nearest = np.where(np.isfinite(off).any(axis=0), np.argmin(off, axis=0), nearest)
    rows = {}
    for n, name in enumerate(names):
        mine = np.flatnonzero((nearest == n) & (apart[n] <= FROM_EDGE_MM))
        if len(mine) < FEW:
            continue
        order = mine[np.argsort([lines[n].project(points[k]) for k in mine])]
        at = shape.holes[order]
        gaps = np.hypot(*np.diff(at, axis=0).T)
        pitch = float(np.median(gaps))
        usual = gaps[gaps <= MISSING * pitch]
        rows[name] = HoleRow(frozen(at), pitch, float(np.std(usual)), float(apart[n, order].mean()))
    return rows
