"""The lines of a cover along a cutting edge: where leather ends on the face, the filler, the cut; and the way out sideways."""

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from ....curve import Line, arc_length, area_within, corners, extended, frozen, walk
from ....measure import ToolBody
from ....memory import remembered
from ....ring import closed, offset, stretch, turned_right
from ...wrap import drawn_over

EASED_MM = 6.0  # corners where the leather ends on the face are rounded like this
THROAT_MM = 14.0  # and notches at the ends of the edge are filled like this: leather tears from a notch
TURN_OVER_MM = 3.0  # over which the direction of the outline is taken
CORNER_RAD = np.radians(50)  # a cover follows the outline past the edge round less than this (from memory)
STEP_MM = 3.0  # how finely the way out is walked


@dataclass(frozen=True, slots=True, eq=False)
class Lines:
    """The outline of a side, and lines along the edge: where the leather ends on the face, the filler's inner edge, the
    cut; from where to where along the tool's outline they run, and how far out the cut lies.
    """

    side: Line
    mouth: Line
    inner: Line
    outer: Line
    depth_mm: float
    flat_mm: float
    body: ToolBody
    run: "_Run"
    out_mm: float

    @property
    def edge(self) -> Line:
        """The tool's own edge under them."""
        return _along(self.body, self.run, 0.0)

    def thread(self, margin_mm: float) -> Line:
        """The line that is sewn, so far in from the cut."""
        return _along(self.body, self.run, max(self.out_mm - margin_mm, 0.05))


class _Run(NamedTuple):
    """How far lines run: from where to where along the tool's outline, and how far straight on at either end, where the outline
    turns a corner that a cover drawn off sideways could not follow.
    """

    start_mm: float
    end_mm: float
    on_mm: tuple[float, float]


@dataclass(frozen=True, slots=True, eq=False)
class Room:
    """The way out straight sideways: its direction, its length, the least clearance to the filler and where it is."""

    along: Line
    long_mm: float
    least_mm: float
    drawn_mm: float
    place: tuple[float, float]


def cross(body: ToolBody, depth_mm: float, clear_mm: float, filler_thick_mm: float) -> Line:
    """Half the section across the edge: from the filler's inner corner over the tool's face to where the leather ends."""
    inside = body.depth_mm < depth_mm
    at = np.concatenate([[-clear_mm], body.depth_mm[inside], [depth_mm]])
    half = np.concatenate([
        [filler_thick_mm / 2], body.thick_mm[inside] / 2, [np.interp(depth_mm, body.depth_mm, body.thick_mm) / 2],
    ])  # fmt: skip
    keep = np.concatenate([[True], np.diff(at) > 1e-9])
    return np.column_stack([at, half])[keep]


@remembered("part")
def lines_of(
    body: ToolBody, depth_mm: float, past_mm: float, clear_mm: float, filler_mm: float, filler_thick_mm: float,
) -> Lines:  # fmt: skip
    """The lines of a cover that reaches so far onto the face, runs so far past the edge, and keeps so clear of it; all mm."""
    run = _run_of(body, past_mm)
    depth = min(depth_mm, float(body.depth_mm[-1]) * 4, 0.9 * _widest(body))
    _, hull, _ = drawn_over(cross(body, depth, clear_mm, filler_thick_mm))
    flat = max(hull - clear_mm, depth)
    edge = _along(body, run, 0.0)
    inner, outer = (_along(body, run, by) for by in (clear_mm, clear_mm + filler_mm))
    whole = _whole(body)
    face = LineString(edge).buffer(flat, 6).intersection(whole)
    beyond = [area_within(np.concatenate([a, b[::-1]])) for a, b in ((edge, inner), (inner, outer))]
    raw = shapely.union_all([face, *beyond]).buffer(0.05, 1).buffer(-0.05, 1)
    filled = raw.buffer(EASED_MM, 6).buffer(-EASED_MM, 6).intersection(shapely.union_all([whole, *beyond]).buffer(0.05))
    rounded = shapely.union_all([filled.buffer(-EASED_MM, 6).buffer(EASED_MM, 6), *beyond])
    side = ring_of(shapely.union_all([rounded, *_throats(rounded, edge)]).buffer(0.05, 1).buffer(-0.05, 1))
    return Lines(
        side,
        frozen(_other_way(side, outer)),
        frozen(inner),
        frozen(outer),
        depth,
        flat,
        body,
        run,
        clear_mm + filler_mm,
    )


@remembered("part")
def _widest(body: ToolBody) -> float:
    """The greatest circle that fits the tool's outline, across."""
    return 2 * float(shapely.maximum_inscribed_circle(_whole(body), tolerance=0.1).length)


@remembered("part")
def _whole(body: ToolBody) -> Polygon:
    """The area of the tool's outline, the largest part of it."""
    area = Polygon(body.outline).buffer(0)
    return area if isinstance(area, Polygon) else max(area.geoms, key=lambda g: g.area)


def _throats(area: BaseGeometry, edge: Line) -> list[BaseGeometry]:
    """What fills the notches between the flange and the leather on the face, at the two ends of the edge."""
    ends = shapely.MultiPoint(edge[[0, -1]])
    there = area.intersection(ends.buffer(3 * THROAT_MM, 2)).simplify(0.05)
    filled = there.buffer(THROAT_MM, 4).buffer(-THROAT_MM, 4).difference(there)
    return [part.buffer(0.05, 1) for part in getattr(filled, "geoms", [filled]) if part.distance(ends) < THROAT_MM]


@remembered("part")
def _run_of(body: ToolBody, past_mm: float) -> _Run:
    """The edge and so far past its ends: along the outline where that goes on smoothly, straight on where it turns a corner."""
    ring = body.outline
    around = float(LineString(closed(ring)).length)
    past = min(past_mm, max((around - (body.edge_to_mm - body.edge_from_mm)) / 2 - 1, 0.0))
    first, last = (
        _cornered(stretch(ring, (at - TURN_OVER_MM) % around, (at - TURN_OVER_MM) % around + past + 2 * TURN_OVER_MM))
        if towards > 0
        else _cornered(
            stretch(
                ring, (at - past - TURN_OVER_MM) % around, (at - past - TURN_OVER_MM) % around + past + 2 * TURN_OVER_MM
            )
        )
        for at, towards in ((body.edge_from_mm, -1), (body.edge_to_mm, 1))
    )
    return _Run(
        body.edge_from_mm - (0.0 if first else past), body.edge_to_mm + (0.0 if last else past),
        (past if first else 0.0, past if last else 0.0),
    )  # fmt: skip


def _cornered(line: Line) -> bool:
    """Whether a stretch of outline turns a corner sharper than `CORNER_RAD`."""
    return len(corners(line, CORNER_RAD, TURN_OVER_MM)) > 0


@remembered("seam")
def _along(body: ToolBody, run: _Run, by_mm: float) -> Line:
    """The line `by_mm` outside the tool; the edge itself where nothing of it is left: what lies there is a finding's."""
    around = float(LineString(closed(body.outline)).length)
    if by_mm == 0:
        start = run.start_mm % around
        line = stretch(body.outline, start, start + (run.end_mm - run.start_mm))
    else:
        line = offset(body.outline, run.start_mm, run.end_mm, by_mm)
        if len(line) < 2:
            line = offset(body.outline, run.start_mm, run.end_mm, 0.0)
    return frozen(extended(line, *run.on_mm) if any(run.on_mm) else line)


def ring_of(area: BaseGeometry) -> Line:
    """The boundary of the largest part, turned right."""
    parts = [g for g in getattr(area, "geoms", [area]) if isinstance(g, Polygon) and not g.is_empty]
    largest = max(parts, key=lambda g: g.area)
    return frozen(turned_right(shapely.get_coordinates(largest.exterior.simplify(0.05, preserve_topology=False))[:-1]))


def _other_way(ring: Line, line: Line) -> Line:
    """The ring from the end of a line that lies on it back to the line's start, not along the line."""
    whole = LineString(closed(ring))
    start, end, middle = (whole.project(shapely.Point(p)) for p in (line[0], line[-1], middle_of(line)))
    along = (end - start) % whole.length
    if (middle - start) % whole.length <= along:
        return stretch(ring, end, end + (start - end) % whole.length)
    return stretch(ring, start, start + along)


def walls(lines: Lines) -> BaseGeometry:
    """The filler, or its outer line where nothing of it is left."""
    filler = area_within(frozen(np.concatenate([lines.outer, lines.inner[::-1]])))
    return LineString(lines.outer).buffer(0.01) if filler.is_empty else filler


@remembered("part")
def way_out(body: ToolBody, lines: Lines) -> Room:
    """Draw the tool straight in from the chord of its edge, and measure it against the filler's inner edge."""
    edge = body.edge
    chord = edge[-1] - edge[0]
    across = np.array([-chord[1], chord[0]]) / max(float(np.hypot(*chord)), 1e-9)
    inward = across if np.dot(lines.mouth.mean(axis=0) - lines.outer.mean(axis=0), across) > 0 else -across
    hollow = float(np.ptp(lines.inner @ inward))
    long = lines.depth_mm + hollow
    drawn = np.arange(0.0, long + STEP_MM, STEP_MM)
    near = walk(edge, np.linspace(0, float(np.hypot(*np.diff(edge, axis=0).T).sum()), 70))
    moved = near[None] + drawn[:, None, None] * inward
    filler = walls(lines)
    shapely.prepare(filler)
    inside = shapely.contains_xy(filler, *moved.reshape(-1, 2).T)
    gap = np.where(
        inside, 0.0, shapely.distance(shapely.points(moved.reshape(-1, 2)), LineString(lines.inner))
    ).reshape(len(drawn), -1)
    k, i = np.unravel_index(int(np.argmin(gap)), gap.shape)
    return Room(inward, long, float(gap[k, i]), float(drawn[k]), (float(moved[k, i, 0]), float(moved[k, i, 1])))


def over_the_back(body: ToolBody, lines: Lines, start: tuple[float, float]) -> float:
    """How far it is from a place on the face straight out to where the tool ends, beyond any hollow of it."""
    along = way_out(body, lines).along
    at = np.array(start)
    ray = LineString(np.stack([at, at + 2000 * along])).intersection(_whole(body))
    return 0.0 if ray.is_empty else float(((shapely.get_coordinates(ray) - at) @ along).max())


def at_share(line: Line, share: float) -> tuple[float, float]:
    """The point at a share of a line."""
    s = arc_length(line)
    return float(np.interp(share * s[-1], s, line[:, 0])), float(np.interp(share * s[-1], s, line[:, 1]))


def middle_of(line: Line) -> tuple[float, float]:
    """The point half way along a line."""
    return at_share(line, 0.5)
