"""The way out as a search: a thing drawn out of its pocket, free to shift sideways and to turn a little at every step.

Of all such ways the one whose least clearance is greatest is found on a grid of shifts and turns, step by step along the way;
its clearances are then measured exactly.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
import shapely.ops
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from ..curve import Line, Values, arc_length, frozen, walk
from ..quantity import Q
from ..reckoning import length
from ..ring import closed
from ..texts import Said, said

Progress = Callable[[float], bool]

CELL_MM = 0.4  # of the grid that distances are looked up in while searching
STEP_MM = 2.0  # along the way
FINE_MM = 1.5  # between the points of the thing that are looked at
DETOUR_MM = (
    0.001  # what the greatest shift or turn costs of clearance at every step: of two ways as clear, the straighter
)
ENOUGH_MM = 4.0  # more clearance than this is worth no detour
SHIFT_MM, SHIFTS = 0.8, 21  # up to 8 mm either way; a shift is a whole number of cells, as a step is
TURN_RAD, TURNS = np.radians(15.0), 21  # and 15 degrees, by one and a half
AT_ONCE = 2  # so many shifts or turns further at each step along the way


@dataclass(frozen=True, slots=True, eq=False)
class Way:
    """A way out: for every step how far it is drawn `drawn_mm (k,)`, the `poses (k, 3)`, shifts in mm and a turn in radians
    about `pivot`, the clearance `gap_mm (k,)` there, and the least distance `to_thread_mm` from an edge to the thread on it.
    """

    ring: Line
    pivot: Line
    drawn_mm: Values
    poses: Line
    gap_mm: Values
    to_thread_mm: float | None

    @property
    def least_mm(self) -> float:
        """The least clearance on the way; negative where it does not pass."""
        return float(self.gap_mm.min())

    @property
    def tightest_mm(self) -> float:
        """How far it is drawn where it is tightest."""
        return float(self.drawn_mm[int(np.argmin(self.gap_mm))])

    @property
    def turned_rad(self) -> float:
        """The most it is turned."""
        return float(np.abs(self.poses[:, 2]).max())

    @property
    def shifted_mm(self) -> float:
        """The most it is shifted aside."""
        along = self.poses[-1, :2] / max(float(np.hypot(*self.poses[-1, :2])), 1e-9)
        return float(np.abs(self.poses[:, 0] * along[1] - self.poses[:, 1] * along[0]).max())

    def at(self, mm: float) -> Line:
        """The thing's outline when it is drawn so far."""
        pose = [np.interp(mm, self.drawn_mm, self.poses[:, k]) for k in range(3)]
        return _moved(self.ring, self.pivot, pose)


def search(
    ring: Line, walls: BaseGeometry, along: Line, long_mm: float, *, behind: BaseGeometry | None = None,
    edge: Line | None = None, thread: Line | None = None,
    progress: Progress = lambda _: True,
) -> Way | None:  # fmt: skip
    """The way for a thing `ring (n, 2)` out past `walls`, `long_mm` along the unit vector `along`; None when told to stop.

    It may lie against what is `behind` it, but not enter that: no clearance is counted from there. `edge` is the part of it
    that cuts, `thread` what it must keep from.
    """
    from scipy.ndimage import maximum_filter

    whole = closed(ring)
    fine = walk(whole, np.arange(0.0, float(arc_length(whole)[-1]), FINE_MM))
    pivot = ring.mean(axis=0)
    across = np.array([-along[1], along[0]])
    axes = np.column_stack([across, along])  # the grid lies along the way, so that a step is a whole number of cells
    drawn = np.append(np.arange(0.0, long_mm, STEP_MM), long_mm)
    turns = np.linspace(-TURN_RAD, TURN_RAD, TURNS)
    shifts = SHIFT_MM * (np.arange(SHIFTS) - SHIFTS // 2)
    turned = np.stack([_moved(fine, pivot, (0.0, 0.0, a)) for a in turns]) @ axes
    field, corner = _distances(walls, axes, turned, drawn[-1])
    if behind is not None:
        back, _ = _distances(behind, axes, turned, drawn[-1])
        field = np.where(back < 0, np.minimum(field, back), field)
    if not progress(0.4):
        return None
    cells = np.rint((turned - corner) / CELL_MM).astype(np.int32)
    wide = field.shape[1]
    base = cells[..., 1] * wide + cells[..., 0]
    aside = np.rint(shifts / CELL_MM).astype(np.int32)
    flat = field.ravel()
    detour = DETOUR_MM * (np.abs(shifts)[:, None] / shifts[-1] + np.abs(turns)[None] / TURN_RAD)
    clear = np.empty((len(drawn), SHIFTS, TURNS), np.float32)
    for s, mm in enumerate(drawn):
        on = int(np.rint(mm / CELL_MM)) * wide
        for i, by in enumerate(aside):
            clear[s, i] = flat.take(base + (on + by)).min(axis=1)
        if s % 8 == 0 and not progress(0.4 + 0.4 * s / len(drawn)):
            return None
    best = np.full((len(drawn), SHIFTS, TURNS), -np.inf, np.float32)
    best[0, SHIFTS // 2, TURNS // 2] = clear[0, SHIFTS // 2, TURNS // 2]
    for s in range(1, len(drawn)):
        best[s] = (
            np.minimum(clear[s], maximum_filter(best[s - 1], size=2 * AT_ONCE + 1, mode="constant", cval=-np.inf))
            - detour
        )
    states = [tuple(int(k) for k in np.unravel_index(int(np.argmax(best[-1])), best[-1].shape))]
    for s in range(len(drawn) - 2, -1, -1):
        i, j = states[-1]
        low, left = max(i - AT_ONCE, 0), max(j - AT_ONCE, 0)
        near = best[s, low : i + AT_ONCE + 1, left : j + AT_ONCE + 1]
        di, dj = np.unravel_index(int(np.argmax(near)), near.shape)
        states.append((low + int(di), left + int(dj)))
    states.reverse()
    poses = np.array([[*(mm * along + shifts[i] * across), turns[j]] for mm, (i, j) in zip(drawn, states, strict=True)])
    shapely.prepare(walls)
    gaps = np.array([_gap(Polygon(_moved(ring, pivot, pose)), walls) for pose in poses])
    to_thread = None
    if edge is not None and thread is not None:
        sewn = LineString(thread)
        to_thread = min(float(LineString(_moved(edge, pivot, pose)).distance(sewn)) for pose in poses)
    progress(1.0)
    return Way(frozen(ring), frozen(pivot), drawn, frozen(poses), gaps, to_thread)


def _distances(walls: BaseGeometry, axes: Line, things: Line, long_mm: float) -> tuple[NDArray[np.float32], Line]:
    """Signed distances to the walls on a grid along `axes` that holds every place the thing can come to, and its corner."""
    from scipy.ndimage import distance_transform_edt

    reach = SHIFT_MM * (SHIFTS // 2) + 2.0
    low = things.min(axis=(0, 1)) - [reach, 2.0]
    high = things.max(axis=(0, 1)) + [reach, long_mm + 2.0]
    size = np.ceil((high - low) / CELL_MM).astype(int) + 2
    field = np.full((size[1], size[0]), ENOUGH_MM, np.float32)
    there = shapely.transform(walls, lambda points: points @ axes)
    box = np.array(there.bounds).reshape(2, 2) + np.array([[-1.0], [1.0]]) * (ENOUGH_MM + 1.0)
    a, b = (np.clip(np.rint((v - low) / CELL_MM).astype(int), 0, size) for v in box)
    if (b > a).all():
        x, y = low[0] + CELL_MM * np.arange(a[0], b[0]), low[1] + CELL_MM * np.arange(a[1], b[1])
        shapely.prepare(there)
        solid = shapely.contains_xy(there, *np.meshgrid(x, y))
        apart = CELL_MM * (distance_transform_edt(~solid) - distance_transform_edt(solid)) if solid.any() else ENOUGH_MM
        field[a[1] : b[1], a[0] : b[0]] = np.minimum(apart, ENOUGH_MM)
    return field, low


def straight(ring: Line, walls: BaseGeometry, along: Line, long_mm: float, step_mm: float = STEP_MM) -> Way:
    """The same thing drawn straight out, for comparison."""
    drawn = np.append(np.arange(0.0, long_mm, step_mm), long_mm)
    poses = np.column_stack([drawn[:, None] * along, np.zeros(len(drawn))])
    shapely.prepare(walls)
    gaps = np.array([_gap(Polygon(ring + pose[:2]), walls) for pose in poses])
    return Way(frozen(ring), frozen(ring.mean(axis=0)), drawn, frozen(poses), gaps, None)


def to_relieve(way: Way, walls: BaseGeometry, wanted_mm: float) -> tuple[Line, float] | None:
    """The corners `(2, 2)` of the box in which walls stand closer to the way than `wanted_mm`, and by how much at most; None
    where they do not.
    """
    if way.least_mm >= wanted_mm:
        return None
    tight = [
        _moved(way.ring, way.pivot, pose) for pose, gap in zip(way.poses, way.gap_mm, strict=True) if gap < wanted_mm
    ]
    swept = shapely.union_all([Polygon(ring).buffer(wanted_mm) for ring in tight]).intersection(walls)
    if swept.is_empty:
        return None
    return frozen(np.array(swept.bounds).reshape(2, 2)), float(wanted_mm - way.least_mm)


def _gap(thing: Polygon, walls: BaseGeometry) -> float:
    """The distance between them, or how deep one stands in the other, negative."""
    if thing.is_valid and not thing.intersects(walls):
        return float(thing.distance(walls))
    return -max(_deepest(thing, walls), _deepest(walls, thing), 1e-3)


@dataclass(frozen=True, slots=True)
class Near:
    """How near a thing is to its walls, negative where it stands in them, and the place there."""

    gap_mm: float
    at: tuple[float, float]


def near(ring: Line, walls: BaseGeometry) -> Near:
    """Where a thing comes nearest to its walls, or stands deepest in them."""
    thing = Polygon(ring).buffer(0)
    if not thing.intersects(walls):
        at = shapely.get_coordinates(shapely.ops.nearest_points(walls, thing)[0])[0]
        return Near(float(thing.distance(walls)), (float(at[0]), float(at[1])))
    deepest, place = 0.0, shapely.get_coordinates(thing.intersection(walls).representative_point())[0]
    for of, within in ((thing, walls), (walls, thing)):
        corners = shapely.get_coordinates(of)
        inside = corners[shapely.contains_xy(within, corners)]
        if len(inside):
            depth = np.atleast_1d(shapely.distance(shapely.points(inside), within.boundary))
            k = int(np.argmax(depth))
            if depth[k] > deepest:
                deepest, place = float(depth[k]), inside[k]
    return Near(-max(deepest, 1e-3), (float(place[0]), float(place[1])))


def _deepest(of: BaseGeometry, within: BaseGeometry) -> float:
    """How deep the corners of one stand in the other."""
    corners = shapely.get_coordinates(of)
    inside = corners[shapely.contains_xy(within, corners)]
    if not len(inside):
        return 0.0
    return float(np.max(shapely.distance(shapely.linestrings(np.repeat(inside[:, None], 2, axis=1)), within.boundary)))


def _moved(points: Line, pivot: Line, pose: object) -> Line:
    dx, dy, turn = np.asarray(pose, dtype=float)
    c, s = np.cos(turn), np.sin(turn)
    return np.asarray((points - pivot) @ np.array([[c, s], [-s, c]]) + pivot + [dx, dy])


def says_of(way: Way) -> Said:
    """What was found, in a sentence."""
    where = {
        "gap": length(abs(way.least_mm)), "at": length(way.tightest_mm), "turn": Q("degrees", way.turned_rad),
        "aside": length(way.shifted_mm),
    }  # fmt: skip
    if way.least_mm < 0:
        return said("It does not come out, however it is turned: {gap} short at best, drawn {at}. Relieve the welt there.",
                    **where)  # fmt: skip
    bent = way.turned_rad or way.shifted_mm > 0.1
    found = said(
        "It comes out turned up to {turn} and moved up to {aside} aside, with {gap} to spare, tightest when drawn {at}."
    ) if bent else said("It comes out straight, with {gap} to spare, tightest when drawn {at}.")  # fmt: skip
    found = found.filled(**where)
    if way.to_thread_mm is None:
        return found
    near = said("The edge comes within {thread} of the thread on the way.", thread=length(way.to_thread_mm))
    return said("{one} {other}", one=found, other=near)
