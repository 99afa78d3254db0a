"""Two faces of leather over a thing, sewn round it: their lines, their pieces and their seam.

Flat coordinates are the front's, seen from outside: u across from the middle line of the thing, v along it, growing to the
nose; the mouth lies where the thing still stands out of it.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..curve import Line, Values, area_within, frozen, headings, rows_from
from ..drawing import Mark
from ..measure import MouldedBody
from ..memory import remembered
from ..ring import closed
from ..texts import said
from .drafted import WayOut
from .flat import below
from .joins import LEATHER, Join, Layer, Lies, Sewing
from .pieces import TITLES, Edge, Piece, edged, leather, other_leather
from .search import Progress, Way, search
from .section import between_faces
from .wrap import drawn_over, hulls_over

EASED_MM = 8.0  # hollows of the outline are filled to this radius: a seam does not follow tighter ones
FLOOR_MM = 0.1  # leather is worked so deep at least: over a flat face it would have no way at all
SCOOPED_FROM = 2.0  # a scoop begins so many margins in from the cut (from memory)
UP_ROUND_MM = 14.0  # corners of a back that stands up are rounded like this


@dataclass(frozen=True, slots=True, eq=False)
class Faces:
    """What follows from the body: rows from mouth to nose, how much longer the front is to either side and over the nose, the
    lines of back and front from the mouth's right round the nose to its left, and how far round the thing either goes from
    its middle line to its left side, where leather folded there would turn.
    """

    x: Values
    half: Values
    more: Values
    over_nose: float
    passing: float
    gives: float
    back_thread: Line
    front_thread: Line
    back_ring: Line
    front_ring: Line
    thing: Line
    mouth: float
    close_mm: float
    margin_mm: float
    eased: BaseGeometry
    front_fold_mm: float
    back_fold_mm: float

    def closed(self, side: float) -> tuple[Line, Line]:
        """The cut and the thread as they lie when the leather is worked to the thing, from the mouth's right round the nose."""
        turned = np.array([side, 1.0])
        lines = tuple(_round(area, self.mouth) for area in (self.eased.buffer(self.margin_mm, 8), self.eased))
        right, left = self.front_ring[[0, -1], 1]
        if abs(right - left) > 1e-6:  # its mouth slopes
            ends = lines[0][[-1, 0], 0]
            lines = tuple(_cut(x, lambda u: np.interp(u, ends, [left, right])) for x in lines)
        return frozen(lines[0] * turned), frozen(lines[1] * turned)

    @property
    def ease_mm(self) -> float:
        """How much more girth the mouth has than what must pass it."""
        return self.gives - self.passing

    def sloped(self, by_mm: float) -> "Faces":
        """The same with the mouth cut down by `by_mm` from its left to its right."""
        right, left = self.front_ring[[0, -1], 0]

        def cut(line: Line) -> Line:
            return frozen(_cut(line, lambda u: self.mouth + by_mm * np.clip((u - left) / (right - left), 0.0, 1.0)))

        return replace(self, back_thread=cut(self.back_thread), front_thread=cut(self.front_thread),
                       back_ring=cut(self.back_ring), front_ring=cut(self.front_ring))  # fmt: skip

    def rim(self, u: Values) -> Values:
        """How far along the mouth is cut over u, right of the front's middle line."""
        right, left = self.front_ring[[0, -1]]
        return np.interp(u, [left[0], right[0]], [left[1], right[1]])

    def panel(self, id: str, leather_mm: float, side: float, up_mm: float = 0.0, scoop_mm: float = 0.0) -> Piece:
        """The front, or the back: its mirror. `side` is -1 where the whole thing is turned over; it stands up above the mouth
        by `up_mm`, or its mouth is scooped out in the middle by `scoop_mm`.
        """
        ring = self.front_ring if id == "front" else self.back_ring
        ring = ring * np.array([side if id == "front" else -side, 1.0])
        rim = ring[[-1, 0]]
        if scoop_mm > 0:
            across, wide = np.linspace(-1, 1, 41), float(np.hypot(*(rim[1] - rim[0])))
            flat = min(SCOOPED_FROM * self.margin_mm / wide, 0.25)  # the seam's ends stay
            share = flat + (1 - 2 * flat) * (across + 1) / 2
            scooped = rim[:1] + (rim[1:] - rim[:1]) * share[:, None] + np.outer((1 - across**2) ** 2, [0.0, scoop_mm])
            rim = np.vstack([rim[:1], scooped, rim[1:]])
        if up_mm > 0:
            turn = np.linspace(0, np.pi / 2, 9)
            by = min(UP_ROUND_MM, up_mm, float(np.abs(ring[[0, -1], 0]).min()))
            arc = by * np.column_stack([1 - np.cos(turn), 1 - np.sin(turn)])  # from the side of the piece to its top
            (a, high), (b, _) = ring[-1], ring[0]
            left = arc * [np.sign(b - a), 1.0] + [a, high - up_mm]
            right = (arc * [np.sign(a - b), 1.0] + [b, high - up_mm])[::-1]
            rim = np.vstack([ring[-1], left, right, ring[0]])
            rim = rim[np.append(True, np.hypot(*np.diff(rim, axis=0).T) > 1e-6)]  # a low back has round corners only
        outline, edges = edged(Edge("seam", said("seam edge"), ring), Edge("mouth", said("mouth"), rim, "mouth"))
        return Piece(id, TITLES[id], outline, edges, leather(leather_mm), mirrored=id == "back")

    def welt(self, welt_mm: float, count: int, side: float, leather_mm: float) -> Piece:
        """The strip between the faces, from just clear of the thing to their cut."""
        turned = np.array([side, 1.0])
        return strip(self.front_ring * turned, self.inner * turned, welt_mm, count, leather_mm)

    @property
    def inner(self) -> Line:
        """Where a welt ends inside, or would."""
        thread = self.front_thread
        above = thread[[0, -1]] - [0.0, 2 * self.margin_mm]
        on = inset(np.vstack([above[0], thread, above[1]]), min(self.close_mm, self.margin_mm) * 0.9)
        return _cut(on, self.rim)

    def join(self, count: int, side: float, keep_off: Line | None, least: float, runs_on: bool = False) -> Join:
        """Front and back joined from the mouth round the nose to the mouth, the holes of both faces at the same shares of their
        lines; `runs_on`: the back does, beyond the mouth.
        """
        turned = np.array([side, 1.0])
        welt = (Layer("welt", "outer", said("welt"), count, between=True, ends=runs_on),) if count else ()
        return Join(
            "round-seam", said("round seam"), "line",
            (Layer("front", "seam", said("front"), ends=runs_on), *welt,
             Layer("back", "seam", said("back"), along=frozen(self.back_thread * turned * [-1, 1]))),
            Sewing(
                frozen(self.front_thread * turned), self.margin_mm, runs_on=runs_on,
                keep_off=None if keep_off is None else frozen(keep_off * turned), keep_off_mm=least,
                margin_at="piece.margin_mm", stack_at="piece.welt_mm" if count else "leather.thickness_mm",
                keep_off_at="piece.close_mm", kept_off_mm=self.close_mm,
                asked_off_mm=self.close_mm, begins=said("the mouth"), edge_ends=(True, True),
                stack_title=said("welt, thick") if count else LEATHER,
            ),
        )  # fmt: skip

    def lies(self, side: float, share: float, from_mm: float = -np.inf) -> tuple[Lies, ...]:
        """Where the thing lies on front and back, between the threads, from where they are whole; `share` of its height lies
        under the front.
        """
        turned = np.array([side, 1.0])
        lying = []
        for id, thread, way, part in (
            ("front", self.front_thread, 1, share),
            ("back", self.back_thread, -1, 1 - share),
        ):
            x, left, right = between_sides(thread, self.x[self.x >= from_mm])
            p, q = (np.column_stack([u, x]) * turned * [way, 1.0] for u in (left, right))
            lying.append(Lies("pocket", id, "face", x, frozen(p), frozen(q), part))
        return tuple(lying)

    def way_out(self, side: float) -> WayOut:
        """Straight out of the mouth."""
        turned = np.array([side, 1.0])
        return WayOut(float(np.ptp(self.x)), lambda mm: frozen(self.thing * turned - [0.0, mm]), self.ease_mm / 2, 0.0,
                      lambda: (sewn_along(self.closed(side)[1]), self._passed(side)[1]))  # fmt: skip

    def _passed(self, side: float) -> tuple[BaseGeometry, Line]:
        """The seam's inner side to its cut, and what of the thing lies within."""
        turned = np.array([side, 1.0])
        inner, outer = inset(self.front_thread, 0.05) * turned, self.front_ring * turned
        return area_within(np.concatenate([outer, inner[::-1]])), self.thing[
            self.thing[:, 1] >= self.mouth - 0.1
        ] * turned

    def search(self, side: float, *, progress: Progress, edge: Line | None = None) -> Way | None:
        """A way out of the mouth past the seam's inner side, shifting and turning."""
        turned = np.array([side, 1.0])
        walls, inside = self._passed(side)
        up = np.array([0.0, -1.0])
        return search(inside, walls, up, float(np.ptp(self.x)), edge=None if edge is None else edge * turned,
                      thread=self.front_thread * turned, progress=progress)  # fmt: skip


def sewn_along(thread: Line) -> BaseGeometry:
    """A seam as a wall: no room is counted beyond its thread."""
    return shapely.LineString(thread).buffer(0.05)


def side_of(line: Line, v: float, turned: float, *, right: bool) -> tuple[float, float]:
    """Where at a height a line round the nose is, on its right or left, on a piece `turned` over (-1) or not (1)."""
    nose = int(np.argmax(line[:, 1]))
    us = []
    for half in (line[: nose + 1], line[nose:]):
        rising = half[np.argsort(half[:, 1], kind="stable")]
        us.append(float(np.interp(v, rising[:, 1], rising[:, 0])) * turned)
    return (max if right else min)(us), v


def between_sides(line: Line, x: Values) -> tuple[Values, Values, Values]:
    """Where a line from the right round to the left crosses each height of `x` it reaches: those heights, left, right."""
    nose = int(np.argmax(line[:, 1]))
    x = x[x <= line[nose, 1] - 0.05]
    right, left = line[: nose + 1], line[nose:][::-1]
    return x, *(np.interp(x, np.maximum.accumulate(k[:, 1]), k[:, 0]) for k in (left, right))  # type: ignore[return-value]


def strip(outer: Line, inner: Line, thick_mm: float, count: int, leather_mm: float) -> Piece:
    """A welt between an outer and an inner line that run the same way; where its ends lie nothing closes them."""
    outline, edges = edged(
        Edge("outer", said("outer edge"), outer),
        Edge("end-1", said("end"), np.vstack([outer[-1], inner[-1]]), "free", beside="inner"),
        Edge("inner", said("inner edge and ends"), inner[::-1], "free"),
        Edge("end-2", said("other end"), np.vstack([inner[0], outer[0]]), "free", beside="inner"),
    )
    return Piece(
        "welt",
        said("welt"),
        outline,
        edges,
        other_leather(thick_mm, leather_mm, "welt", said("leather for the welt")),
        count=count,
    )


def cut_across_faces(
    y: Values, z: Values, close_mm: float, margin_mm: float, worked_mm: float, welt_mm: float, leather_mm: float,
    both: bool, folded: bool = False,
) -> tuple[Mark, ...]:  # fmt: skip
    """The thing between its two faces, drawn: `y`, `z (m,)` the upper side of its section; z up is drawn up. `folded`: the
    leather goes round its left side instead of being sewn there.
    """
    share = 0.5 if both else 1.0
    raised = np.column_stack([y - (y[0] + y[-1]) / 2, z * share])
    w = welt_mm * share
    reach = float(raised[-1, 0]) + close_mm
    cut = reach + margin_mm
    left = [[raised[0, 0], 0.0]] if folded else [[-cut, w], [-reach, w]]
    profile = np.concatenate([left, raised, [[reach, w], [cut, w]]])
    line, _, _ = drawn_over(_rising(profile), worked_mm + FLOOR_MM)
    faces = between_faces(line, raised, leather_mm)
    marks = [_upside(faces[0])]
    if both:
        marks += [_upside(faces[1]), faces[2]]
    else:
        end = float(raised[0, 0]) - leather_mm if folded else -cut
        marks.append(Mark("grain", frozen([[end, 0], [cut, 0], [cut, leather_mm], [end, leather_mm]]), True))
        marks.append(Mark("thing", frozen(raised * [1, -1]), True, "thing"))
    low = w if both else 0.0
    if folded and both:
        turn = np.linspace(np.pi / 2, 3 * np.pi / 2, 25)
        marks.insert(
            0,
            Mark("grain", frozen([raised[0, 0], 0] + leather_mm * np.column_stack([np.cos(turn), np.sin(turn)])), True),
        )
    for s in (1.0,) if folded else (-1.0, 1.0):
        if w:
            box = [[s * reach, -w], [s * cut, -w], [s * cut, low], [s * reach, low]]
            marks.append(Mark("welt", frozen(box), True, "welt"))
        through = frozen([[s * reach, low + leather_mm + 1], [s * reach, -w - leather_mm - 1]])
        marks.append(Mark("stitch", through, id="round-seam"))
    return tuple(marks)


def _upside(mark: Mark) -> Mark:
    return Mark(mark.meaning, frozen(mark.line * [1, -1]), mark.closed, mark.id)


def _rising(profile: Line) -> Line:
    """The points with their first coordinates made to rise, as little as will do."""
    y = np.maximum.accumulate(profile[:, 0] + 1e-6 * np.arange(len(profile)))
    return np.column_stack([y, profile[:, 1]])


@dataclass(frozen=True, slots=True, eq=False)
class _Under:
    """What lies under the faces, whatever their margin and their ease: rows from the mouth to the nose, how much longer a face
    is over them, the middle line, and the area, eased, that the seam goes round.
    """

    x: Values
    half: Values
    more: Values
    over_nose: float
    through_mm: float
    middle: float
    mouth: float
    eased: BaseGeometry
    front_fold_mm: float
    back_fold_mm: float


@remembered("part")
def _under(
    body: MouldedBody, goes_in_mm: float, close_mm: float, worked_mm: float, welt_mm: float, both: bool
) -> _Under:  # fmt: skip
    nose = float(body.x_mm[-1])
    mouth = max(nose - goes_in_mm, float(body.x_mm[0]))
    x, top, low, height, y, z = rows_from(
        body.x_mm, mouth, body.top_mm, body.low_mm, body.height_mm, body.y_mm, body.z_mm
    )
    share = 0.5 if both else 1.0  # of its height and of the welt that one face must go over
    z, height, welt_mm = z * share, height * share, welt_mm * share
    rows = np.append(np.arange(0, len(x) - 1, 2), len(x) - 1)  # sections change slowly along a body
    more = np.interp(x, x[rows], _more(y[rows], z[rows], close_mm, worked_mm, welt_mm))
    round_it = np.interp(x, x[rows], _more(y[rows], z[rows], 0.0, worked_mm, 0.0))  # at a fold it goes round the side
    whole = (low - top) / 2 + more
    through = float(whole.max()) + close_mm
    # what lies deeper must pass whatever it comes through
    low, whole = (np.maximum.accumulate(v[::-1])[::-1] for v in (low, whole))
    top = np.minimum.accumulate(top[::-1])[::-1]
    half = (low - top) / 2
    folds = [
        float((half + by - (top + low) / 2).max() + (top[0] + low[0]) / 2)
        for by in (round_it, round_it if both else 0.0)
    ]
    along = np.column_stack([x - x[0], height])
    over_end = np.concatenate([along, [[along[-1, 0] + 1e-3, 0.0]]])
    over_nose = float(_over(over_end[None, :, 0], over_end[None, :, 1], close_mm, worked_mm, welt_mm)[0])
    middle = float((top[0] + low[0]) / 2)
    plan = np.concatenate([np.column_stack([top - middle, x]), np.column_stack([low - middle, x])[::-1]])
    above = np.array([[low[0] - middle, mouth - 60.0], [top[0] - middle, mouth - 60.0]])
    eased = area_within(np.concatenate([plan, above])).buffer(close_mm + EASED_MM, 8).buffer(-EASED_MM, 8)
    return _Under(x, half, np.maximum(whole - half, 0.0), over_nose, through, middle, mouth, eased, *folds)


@remembered("part")
def two_faces(
    body: MouldedBody, goes_in_mm: float, close_mm: float, margin_mm: float, worked_mm: float, welt_mm: float,
    ease_mm: float, both: bool,
) -> Faces:  # fmt: skip
    """The faces over a body that goes in by `goes_in_mm` from its nose, the thread `close_mm` from it and `margin_mm` from the
    cut; wet leather is worked down `worked_mm` below a taut line (0: none), `welt_mm` is all the welts together; `both` faces
    share the height, or the front takes it alone.
    """
    u = _under(body, goes_in_mm, close_mm, worked_mm, welt_mm, both)
    faces = 2 if both else 1
    flat_back = 0.0 if both else 2 * (u.half[0] + close_mm)
    passing = faces * 2 * u.through_mm + flat_back
    gives = float(faces * 2 * (u.half[0] + close_mm + u.more[0]) + flat_back + ease_mm)
    back_thread = _round(u.eased, u.mouth)
    front_thread = _eased(_widened(back_thread, u.x, u.more, u.over_nose), ease_mm / (2 * faces))
    front_cut = _round(_run_on(front_thread).buffer(margin_mm, 8), u.mouth)
    if both:
        back_thread, back_cut = front_thread, front_cut
    else:
        back_cut = _round(u.eased.buffer(margin_mm, 8), u.mouth)
    outline = [np.column_stack([side - u.middle, body.x_mm]) for side in (body.top_mm, body.low_mm)]
    return Faces(
        u.x, u.half, u.more, u.over_nose, passing, gives, frozen(back_thread), frozen(front_thread), frozen(back_cut),
        frozen(front_cut), frozen(np.concatenate([outline[0], outline[1][::-1]])), u.mouth, close_mm, margin_mm,
        u.eased, u.front_fold_mm + ease_mm / (2 * faces), u.back_fold_mm + (ease_mm / (2 * faces) if both else 0.0),
    )  # fmt: skip


def _more(y: Values, z: Values, close_mm: float, worked_mm: float, welt_mm: float) -> Values:
    """How much wider a worked face is than the thing and its seam are apart, to one side, over each section `(n, m)`."""
    right = y - (y[:, :1] + y[:, -1:]) / 2
    rows = np.arange(len(y))
    first = np.argmax(right >= 0, axis=1)
    level = np.where(np.arange(y.shape[1])[None] < first[:, None], z[rows, first][:, None], z)
    half = slice(int(first.min()), None)
    return _over(np.maximum(right[:, half], 0.0), level[:, half], close_mm, worked_mm, welt_mm)


def _over(across: Values, high: Values, close_mm: float, worked_mm: float, welt_mm: float) -> Values:
    """How much longer leather is that goes over profiles `(n, m)` and down to a seam beside them, than it is from end to end.

    It bends down off the thing and back again onto the flange, so that its thickness takes nothing: the two turns cancel.
    """
    end = across[:, -1:] + max(close_mm, 0.05)
    x = np.concatenate([across, end], axis=1)
    x = np.maximum.accumulate(x + 1e-6 * np.arange(x.shape[1]), axis=1)
    z = np.concatenate([np.maximum(high, welt_mm), np.full_like(end, welt_mm)], axis=1)
    hull = hulls_over(x, z)
    if worked_mm > 0:
        worked = np.maximum(z, hull - worked_mm)
        worked[:, [0, -1]] = z[:, [0, -1]]
        hull = worked
    long = np.hypot(np.diff(x, axis=1), np.diff(hull, axis=1)).sum(axis=1)
    return np.asarray(np.maximum(long - (end[:, 0] - across[:, 0]), 0.0))


def _round(area: BaseGeometry, mouth: float) -> Line:
    """The boundary below the mouth, from its right round the nose to its left."""
    whole = max(getattr(area, "geoms", [area]), key=lambda g: g.area)
    ring = shapely.get_coordinates(whole.exterior.simplify(0.05, preserve_topology=False))[:-1]
    ring = np.roll(ring, -int(np.argmin(ring[:, 1])), axis=0)
    line = closed(ring)
    inside = line[:, 1] > mouth
    first, last = int(np.argmax(inside)), len(inside) - 1 - int(np.argmax(inside[::-1]))
    between = line[max(first, 1) : last + 1]

    def at_mouth(outer: Line, inner: Line) -> Line:
        share = (mouth - outer[1]) / (inner[1] - outer[1]) if inner[1] != outer[1] else 0.0
        return outer + share * (inner - outer)

    start = at_mouth(line[max(first, 1) - 1], line[max(first, 1)])
    end = at_mouth(line[min(last + 1, len(line) - 1)], line[last])
    whole_way = np.vstack([start, between, end])
    whole_way = whole_way[np.append(True, np.hypot(*np.diff(whole_way, axis=0).T) > 1e-6)]
    return whole_way if start[0] > end[0] else whole_way[::-1]


def _cut(line: Line, rim: Callable[[Values], Values]) -> Line:
    """A line from the mouth's right round to its left, as far as it lies below the mouth's edge."""
    line = below(below(line, rim, 0.0)[::-1], rim, 0.0)[::-1]
    return line[np.append(True, np.hypot(*np.diff(line, axis=0).T) > 1e-6)]


def _run_on(line: Line) -> BaseGeometry:
    """The area within a line from the mouth's right round to its left, run straight on upwards past the mouth."""
    above = line[[-1, 0]] - [0.0, 60.0]
    return area_within(np.concatenate([line, above]))


def _widened(line: Line, x: Values, more: Values, over_nose: float) -> Line:
    """The back's line with the front's extra length laid on square to it: across by what its section takes, along by what the
    nose takes.
    """
    run = headings(line)
    normal = np.column_stack([run[:, 1], -run[:, 0]])
    outward = np.sign((normal * (line - [0.0, float(line[:, 1].mean())])).sum(axis=1))
    normal = normal * np.where(outward == 0, 1.0, outward)[:, None]
    by = np.interp(line[:, 1], x, more) * normal[:, 0] ** 2 + over_nose * np.maximum(normal[:, 1], 0) ** 2
    moved = line + normal * by[:, None]
    moved[[0, -1], 1] = line[[0, -1], 1]
    return moved


def _eased(line: Line, by_mm: float) -> Line:
    """The line let out by `by_mm` to either side."""
    return line + np.column_stack([np.sign(line[:, 0]) * by_mm, np.zeros(len(line))])


def inset(line: Line, by_mm: float) -> Line:
    """A line moved towards the thing, or away from it when negative."""
    moved = shapely.LineString(line).offset_curve(by_mm)
    inner = shapely.get_coordinates(moved)
    if (np.ptp(inner[:, 0]) > np.ptp(line[:, 0]) and by_mm > 0) or (
        np.ptp(inner[:, 0]) < np.ptp(line[:, 0]) and by_mm < 0
    ):
        inner = shapely.get_coordinates(shapely.LineString(line).offset_curve(-by_mm))
    return inner if len(inner) > 1 else line
