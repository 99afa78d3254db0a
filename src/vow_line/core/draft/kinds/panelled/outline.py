"""The cut of a panel from its edges as they were traced: run on under another, drawn back for a lace."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ....curve import Line, arc_length, beside, extended, frozen
from ....measure.body import Shape
from ....memory import remembered

MOST_MITRE = 1.5  # a corner of a line moved in stands off by so much more at most
REACH = 4.0  # an edge that is drawn back is sought on its neighbours so many times as far on


@dataclass(frozen=True, slots=True, eq=False)
class Cut:
    """A panel as it is cut: its edges by their names, its outline `(n, 2)`; not `sound` where what is moved would cross, and it
    is left as it was traced.
    """

    edges: Mapping[str, Line]
    ring: Line
    sound: bool


@remembered("piece")
def room(cut: Cut, from_cut_mm: float) -> BaseGeometry:
    """What of a panel lies so far from its cut."""
    return shapely.Polygon(cut.ring).buffer(-from_cut_mm)


def outwards(line: Line, by_mm: float) -> Line:
    """An edge of a panel, which goes round it to the right, moved so far out of it, or in where less than nothing."""
    moved = beside(line, -by_mm)
    if by_mm <= 0:
        # round a hollow as sharp as between two fingers it goes as a compass would, and where a tip is narrow it is cut short
        off = shapely.distance(shapely.points(moved), shapely.LineString(line))
        if off.max() <= MOST_MITRE * -by_mm and shapely.LineString(moved).is_simple:
            return moved
        parts = shapely.LineString(line).offset_curve(-by_mm, quad_segs=16, join_style="round")
    elif shapely.LineString(moved).is_simple:
        return moved
    else:
        parts = shapely.LineString(line).offset_curve(
            -by_mm, join_style="mitre"
        )  # a hollow narrower than that is filled
    return (
        frozen(shapely.get_coordinates(parts)) if parts.geom_type == "LineString" and len(parts.coords) > 1 else moved
    )


@remembered("run")
def moved(shape: Shape, id: str, by_mm: float) -> Line:
    """An edge of a panel moved so far out of it, or in where less than nothing."""
    return frozen(outwards(shape.edges[id], by_mm))


@remembered("run")
def inside(shape: Shape, id: str, in_mm: float, cut: Cut, from_cut_mm: float) -> tuple[Line, tuple[float, float]]:
    """The line so far in from an edge, and how much of its start and of its end lies nearer than that to the cut."""
    line = moved(shape, id, -in_mm)
    return line, within(line, room(cut, from_cut_mm))


def cut(shape: Shape, by_mm: tuple[float, ...]) -> list[Line]:
    """The edges of a panel, one after another to the right round it, each moved out, or in where less than nothing: what is run
    on ends square to itself, what is drawn back ends on its neighbours.
    """
    ids, lines = list(shape.edges), list(shape.edges.values())
    n = len(lines)
    for k in (k for k in range(n) if by_mm[k] < 0):
        reach = REACH * -by_mm[k] + 1.0
        line = extended(moved(shape, ids[k], by_mm[k]), reach, reach)
        before, after = (k - 1) % n, (k + 1) % n
        lines[before], line = _ended(lines[before], line)
        back, line_back = _ended(lines[after][::-1], line[::-1])
        lines[after], lines[k] = back[::-1], line_back[::-1]
    for k in (k for k in range(n) if by_mm[k] > 0):
        out = moved(shape, ids[k], by_mm[k]) if lines[k] is shape.edges[ids[k]] else outwards(lines[k], by_mm[k])
        lines[k] = np.vstack([lines[k][:1], out, lines[k][-1:]])
    return [frozen(line) for line in lines]


def _ended(before: Line, line: Line) -> tuple[Line, Line]:
    """A line as far as the next crosses it, and that from there on: nearest to where the first ended. Where they do not cross,
    the next begins at that end.
    """
    way = shapely.LineString(line)
    met = shapely.get_coordinates(shapely.LineString(before).intersection(way))
    if not len(met):
        return before, np.vstack([before[-1:], line[1:]])
    at = met[int(np.argmin(np.hypot(*(met - before[-1]).T)))]
    s, far = arc_length(before), shapely.LineString(before).project(shapely.Point(at))
    t, near = arc_length(line), way.project(shapely.Point(at))
    return np.vstack([before[s < far - 1e-6], at]), np.vstack([at, line[t > near + 1e-6]])


def within(line: Line, room: BaseGeometry) -> tuple[float, float]:
    """How much of the start and of the end of a line lies outside some room, mm; all of it at its start where nothing of it
    lies within.
    """
    whole = shapely.LineString(line)
    parts = [g for g in shapely.get_parts(whole.intersection(room)) if g.length > 0]
    long = float(whole.length)
    if not parts:
        return long, 0.0
    longest = max(parts, key=lambda g: g.length)
    ends = sorted(float(whole.project(shapely.Point(p))) for p in shapely.get_coordinates(longest)[[0, -1]])
    return ends[0], long - ends[1]
