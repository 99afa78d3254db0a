"""Seam lines to seams: holes, the stack under each, and the strikes that make them."""

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from ..curve import Line, Values, arc_length, area_within, corners, extended, frozen, rounded, trim, walk
from ..draft import Ply, SeamLine
from ..memory import cached_property, remembered
from ..texts import Said
from .choices import StitchChoices
from .holes import Spacing, Strike, fitted, set_anew, spread, strikes, strikes_on_even, struck
from .tools import Tooth

NEAR_MM = 0.05  # a hole so near to where a layer ends is still in it
CORNER_RAD = np.radians(30)  # a line that turns more than this at once has a corner, and a hole on it


@dataclass(frozen=True, slots=True)
class Run:
    """A stretch between corners: its length, what of it is left over at its end, by how much its pitch was changed, and whether
    it is as it was asked for.
    """

    run_mm: float
    left_mm: float
    changed: float
    as_asked: bool


@dataclass(frozen=True, eq=False)
class Seam:
    """The holes of one seam in its frame: `points (n, 2)`, arc lengths `s_mm (n,)`, `stack_mm (n,)` and what each ply is of it,
    the `order` in which a needle visits them (a box with a cross visits some twice, a closed line its first again), `corner`
    holes; `teeth` of the prongs that make them, `iron_mm` apart, which go through `share` of the stack; its corners are
    rounded to `round_mm`; a hole is `hole_mm` wide, a slit unless
    its `tooth` is round.
    """

    id: str
    title: Said
    line: SeamLine
    points: Line
    s_mm: Values
    stack_mm: Values
    plies_mm: tuple[Values, ...]
    order: tuple[int, ...]
    corner: tuple[int, ...]
    teeth: tuple[int, ...]
    pitch_mm: float
    run_mm: float
    runs: tuple[Run, ...]
    tooth: Tooth
    hole_mm: float
    iron_mm: float
    share: float = 1.0
    round_mm: float = 0.0

    @property
    def left_mm(self) -> float:
        """What is left over of all runs."""
        return sum(r.left_mm for r in self.runs)

    @cached_property
    def strikes(self) -> tuple[Strike, ...]:
        """The strikes that make the holes, numbered as `order` is; none when they are made one by one."""
        setting: list[Strike] = []
        made: set[int] = set()
        ends = [0, *(k for k, hole in enumerate(self.order) if k and hole in self.corner), len(self.order) - 1]
        for a, b in itertools.pairwise(dict.fromkeys(ends)):
            run = self.order[a : b + 1]
            if not self.teeth or made.issuperset(run):  # a side of a box is sewn twice, and struck once
                continue
            setting += [
                k._replace(first=k.first + a)
                for k in strikes(
                    self.points[list(run)], self.stack_mm[list(run)] * self.share, self.teeth, self.iron_mm,
                    begun=run[0] in made, ended=run[-1] in made or run[-1] == run[0],
                )
            ]  # fmt: skip
            made.update(run)
        return tuple(setting)

    @cached_property
    def nodes(self) -> Line:
        """Every place a needle can be, `(m, 2)`: the holes; of a butt seam, laid flat along its run, the holes of the left
        edge, those of the right, then the places between them in the gap.
        """
        if self.line.shape != "butt":
            return self.points
        across = self.line.margin_mm * np.repeat([-1.0, 1.0, 0.0], len(self.points))
        return frozen(np.column_stack([np.tile(self.s_mm, 3), across]))

    def runs_mm(self, at: NDArray[np.intp], to: NDArray[np.intp]) -> tuple[Values, Values]:
        """How far it is from nodes to nodes on the front and on the back: on the outermost layer of either face."""
        if self.line.shape == "butt" or not self.line.plies:
            apart = np.hypot(*(self.nodes[to] - self.nodes[at]).T)
            return apart, apart
        return self._run_on(self.line.plies[0].on, at, to), self._run_on(self.line.plies[-1].on, at, to)

    def _run_on(self, k: int, at: NDArray[np.intp], to: NDArray[np.intp]) -> Values:
        """The same on one layer. A wall that closes to a ring goes on from its end to its beginning, and through a corner its
        thread lies outside, farther from the middle than its neutral layer, half way through it.
        """
        points, along = self.on(k), self.line.placed[k].along
        apart = np.hypot(*(points[to] - points[at]).T)
        if not self.line.closed or along is None:
            return np.asarray(apart)
        round_it, through, margin = float(arc_length(along)[-1]), self.line.sewing.through_mm, self.line.margin_mm
        apart = np.minimum(apart, np.abs(round_it - apart))
        thick = math.sqrt(max(through**2 - margin**2, 0.0)) - margin if through else 0.0
        return np.asarray(apart * (1 + np.pi * max(thick, 0.0) / max(round_it, 1e-9)))

    @property
    def node_stack_mm(self) -> Values:
        """The stack at every node."""
        return np.tile(self.stack_mm, 3) if self.line.shape == "butt" else self.stack_mm

    def hole_of(self, node: int) -> int:
        """The hole a node belongs to."""
        return node % len(self.points)

    def row_of(self, node: int) -> int:
        """-1 for a hole of the left edge of a butt seam, 1 for the right, 0 for the gap and for every other seam's holes."""
        return (0, -1, 1, 0)[node // len(self.points) + 1] if self.line.shape == "butt" else 0

    def on(self, k: int) -> Line:
        """The holes on the k-th piece the seam goes through, in that piece's frame."""
        return self.line.placed[k].onto(self.points, self.shares)

    @cached_property
    def shares(self) -> Values:
        """Where along the seam's line the holes lie, `(n,)`, as shares of its length."""
        return shares_of(self.line, self.s_mm)

    @cached_property
    def to_edge_mm(self) -> float | None:
        """How near a hole comes to what the seam must keep off; None where there is nothing."""
        keep_off = self.line.sewing.keep_off
        if keep_off is None:
            return None
        return float(shapely.distance(shapely.points(self.points), area_within(keep_off)).min())

    @property
    def deepest_mm(self) -> float:
        """How deep a hole lies within what the seam must keep off."""
        keep_off = self.line.sewing.keep_off
        area = shapely.Polygon() if keep_off is None else area_within(keep_off)
        inside = self.points[shapely.contains_xy(area, *self.points.T)]
        return float(shapely.distance(shapely.points(inside), area.boundary).max(initial=0.0))

    @property
    def partner(self) -> Line | None:
        """The line of the edge it joins, on that edge's piece, where that has one of its own: the one that differs most."""
        lines = [p.along for p in self.line.placed if p.along is not None]
        return max(lines, key=lambda along: abs(self._longer(along)), default=None)

    @property
    def eased(self) -> float:
        """How much longer or shorter the partner is than the seam's own line, as a share."""
        return 0.0 if self.partner is None else self._longer(self.partner)

    def _longer(self, along: Line) -> float:
        return float(arc_length(along)[-1]) / max(long_of(self.line.line, self.line.closed), 1e-9) - 1

    def there(self, k: int) -> NDArray[np.intp]:
        """Which of the holes go through the k-th piece at all."""
        placed, there = self.line.placed[k], np.ones(len(self.points), bool)
        if placed.ends:
            there = (self.s_mm >= -1e-9) & (self.s_mm <= long_of(self.line.line, False) + 1e-9)
        if placed.within is not None:
            there &= shapely.contains_xy(area_within(placed.within).buffer(NEAR_MM), *self.on(k).T)
        return np.flatnonzero(there)

    @property
    def steps_mm(self) -> Values:
        """Distances along the order the needle takes, `(len(order) - 1,)`."""
        path = self.points[list(self.order)]
        return np.hypot(*np.diff(path, axis=0).T)


@remembered("seam")
def seam_of(line: SeamLine, choices: StitchChoices) -> Seam:
    """The holes of one seam line, remembered: an edit of the pattern leaves some lines as they were."""
    points, s, order, corner, runs = holes_of(line, choices)
    shares = shares_of(line, s)
    plies = tuple(frozen(under(ply, line, points, shares, s)) for ply in line.plies)
    stack = np.sum(plies, axis=0)
    steps = np.hypot(*np.diff(points[list(order)], axis=0).T)
    run = float(steps.sum())
    stitches = len(steps)
    if line.shape == "box":  # as many as it would take where none is left out
        stitches = round(run / float(steps[steps < 1.25 * np.median(steps)].mean()))
    return Seam(
        id=line.id, title=line.title, line=line, points=frozen(points), s_mm=frozen(s), stack_mm=frozen(stack),
        plies_mm=plies, order=order,
        corner=corner, teeth=choices.teeth if choices.tool == "iron" and not line.sewing.kept else (),
        pitch_mm=run / max(stitches, 1) or choices.pitch_mm, run_mm=run, runs=runs, tooth=choices.tooth,
        hole_mm=choices.hole_mm, iron_mm=choices.pitch_mm,
        share=0.5 if choices.through == "both-faces" else 1.0, round_mm=choices.round_mm,
    )  # fmt: skip


def holes_of(
    line: SeamLine, choices: StitchChoices
) -> tuple[Line, Values, tuple[int, ...], tuple[int, ...], tuple[Run, ...]]:
    """The holes of one seam line as its seam has them: points, arc lengths, order, corners and runs."""
    if line.shape == "box":
        points, order, corner, runs = _box(line, choices)
        return points, np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))]), order, corner, runs
    points, s, corner, runs = _kept(line) if line.sewing.kept else _line(line, choices)
    return points, s, tuple(range(len(points))) + ((0,) if line.closed else ()), corner, runs


def long_of(line: Line, closed: bool) -> float:
    """The length of a line, of a closed one all round."""
    long = float(arc_length(line)[-1])
    return long + float(np.hypot(*(line[0] - line[-1]))) if closed else long


def shares_of(line: SeamLine, s_mm: Values) -> Values:
    """Arc lengths along a seam line as shares of its length, of a closed one's all round."""
    return s_mm / max(long_of(line.line, line.closed), 1e-9)


def stack_at(line: SeamLine, points: Line, s_mm: Values) -> Values:
    """The stack `(n,)` under points of a seam line at arc lengths along it."""
    shares = shares_of(line, s_mm) if any(p.along is not None for p in line.placed) else s_mm
    return np.asarray(sum(under(ply, line, points, shares, s_mm) for ply in line.plies))


def _even_stack(line: SeamLine) -> float | None:
    """The stack where it is the same everywhere on the pieces."""
    if any(ply.skives or line.placed[ply.on].ends or line.placed[ply.on].within is not None for ply in line.plies):
        return None
    return float(sum(ply.thickness_mm for ply in line.plies))


def under(ply: Ply, line: SeamLine, points: Line, shares: Values, s_mm: Values) -> Values:
    """The thickness `(n,)` of one layer under the holes."""
    placed = line.placed[ply.on]
    on = placed.onto(points, shares)
    thick = ply.under(on)
    if placed.ends:
        thick = thick * ((s_mm >= -1e-9) & (s_mm <= long_of(line.line, False) + 1e-9))
    if placed.within is not None:
        thick = thick * shapely.contains_xy(area_within(placed.within).buffer(NEAR_MM), *on.T)
    return thick


def ends_outside(line: SeamLine, choices: StitchChoices) -> bool:
    """Whether the first and the last hole lie half a pitch outside the layer that ends there."""
    return line.runs_on and choices.ends == "outside"


def to_sew(line: SeamLine, choices: StitchChoices) -> tuple[float, Line]:
    """The line from the first hole to the last, and how far in from the line's start it begins: negative where the first hole
    lies half a pitch outside the layer that ends there.
    """
    if line.closed:
        return 0.0, np.vstack([line.line, line.line[:1]])
    if ends_outside(line, choices):
        return -choices.pitch_mm / 2, extended(line.line, choices.pitch_mm / 2, choices.pitch_mm / 2)
    return choices.start_in_mm, trim(line.line, choices.start_in_mm, choices.end_in_mm)


def _kept(line: SeamLine) -> tuple[Line, Values, tuple[int, ...], tuple[Run, ...]]:
    """The holes that are there already."""
    s = arc_length(line.line)
    return line.line, s, (), (Run(float(s[-1]), 0.0, 0.0, True),)


def _line(line: SeamLine, choices: StitchChoices) -> tuple[Line, Values, tuple[int, ...], tuple[Run, ...]]:
    start_in, sewn = to_sew(line, choices)
    if choices.round_mm > 0:
        sewn = _rounded_ring(sewn, choices.round_mm) if line.closed else rounded(
            sewn, choices.round_mm, corners(sewn, CORNER_RAD))  # fmt: skip
    at = corners(sewn, CORNER_RAD) if choices.round_mm <= 0 else np.zeros(0, np.int64)
    s = arc_length(sewn)
    bounds = [0.0, *s[at], float(s[-1])]
    places: list[float] = [0.0]
    corner: list[int] = []
    runs: list[Run] = []
    for a, b in itertools.pairwise(bounds):
        last_run = b == bounds[-1]
        part = trim(sewn, a, float(s[-1]) - b) if len(bounds) > 2 else sewn
        spacing, run = _space(
            part, choices, lambda points, along, a=a: stack_at(line, points, along + a + start_in),  # type: ignore[misc]
            begun=a > 0, ended=last_run and line.closed, ends=last_run and not line.closed,
        )  # fmt: skip
        places += [a + x for x in spacing.s_mm[1:]]
        runs.append(run)
        if not last_run:
            corner.append(len(places) - 1)
    if line.closed:
        places.pop()  # the last hole is the first
        if line.sewing.between and not len(at) and len(places) > 1:
            places = [x + places[1] / 2 for x in places]
    return walk(sewn, places), np.array(places) + start_in, tuple(corner), tuple(runs)


def _rounded_ring(ring: Line, radius_mm: float) -> Line:
    """A closed line `(n, 2)`, its last point its first, with all its corners rounded, that it begins at too; it begins as near
    to where it began as it passes.
    """
    long = float(arc_length(ring)[-1])
    twice = np.vstack([ring, ring[1:]])
    s = arc_length(twice)
    at = s[corners(twice, CORNER_RAD)]
    if not len(at):
        return ring
    k = int(np.argmax(np.diff(at))) if len(at) > 1 else 0
    begins = (at[k] + (at[k + 1] if len(at) > 1 else at[k] + long)) / 2 % long  # the middle of its longest side
    moved = trim(twice, begins, 2 * long - begins - long)
    round_ = rounded(moved, radius_mm, corners(moved, CORNER_RAD))
    back = shapely.line_locate_point(shapely.LineString(round_), shapely.Point(ring[0]))
    again = np.vstack([round_, round_[1:]])
    whole = float(arc_length(round_)[-1])
    return trim(again, float(back), whole - float(back))


def _space(
    line: Line, choices: StitchChoices, stack: Callable[[Line, Values], Values] | float, *, begun: bool, ended: bool,
    ends: bool = False, odd: bool = False,
) -> tuple[Spacing, Run]:  # fmt: skip
    """The holes of one run through a `stack`, one number where it is straight and that is the same all along; one that `ends`
    the seam may leave a remainder.
    """
    run_mm = float(arc_length(line)[-1])
    if choices.tool != "iron":
        spacing, as_asked = fitted(run_mm, choices.pitch_mm, odd=odd), True
    elif ends and choices.remainder == "end":
        spacing, as_asked = struck(line, choices.pitch_mm), True
    else:
        share = 0.5 if choices.through == "both-faces" else 1.0

        def anew(s_mm: Values, gap_mm: float) -> tuple[int, ...]:
            if isinstance(stack, float):
                return set_anew(
                    strikes_on_even(len(s_mm), stack * share, choices.teeth, begun=begun, ended=ended, loose=True)
                )
            points = walk(line, s_mm)
            return set_anew(strikes(points, stack(points, s_mm) * share, choices.teeth, gap_mm, begun=begun, ended=ended,
                                    loose=True))  # fmt: skip

        lost = spread(line, choices.pitch_mm, anew, odd=odd)
        as_asked = lost is not None
        spacing = lost or (struck(line, choices.pitch_mm) if ends else fitted(run_mm, choices.pitch_mm, odd=odd))
    return spacing, Run(run_mm, spacing.left_mm, spacing.changed, as_asked)


NEAR = 0.5  # holes lie no nearer to each other than so much of a stitch (common practice)
NEAR_BY_MM = 0.1  # but for what an awl strays


def _clear_of(made: Line, side: Line, holes: Line, pitch_mm: float) -> Line:
    """The holes of a diagonal that lie no nearer than half a stitch to those made already; where both about its middle do, the
    middle instead.
    """
    least = NEAR * max(float(np.hypot(*(side[1] - side[0]))) / (len(holes) + 1), pitch_mm)
    middle = len(holes) // 2
    holes = np.insert(holes, middle, side.mean(axis=0), axis=0)
    clear = np.hypot(*(holes[:, None] - made[None]).transpose(2, 0, 1)).min(axis=1) >= least - NEAR_BY_MM
    clear[middle] &= not clear[middle - 1 : middle + 2 : 2].any()
    return np.asarray(holes[clear])


def _box(line: SeamLine, choices: StitchChoices) -> tuple[Line, tuple[int, ...], tuple[int, ...], tuple[Run, ...]]:
    """A box with a cross: round the four sides, across, along one side again, across; all four corners are holes.

    The four corners have an odd number of lines each, so that one side must be sewn twice to do it in one go. In a narrow box
    the diagonals run so near to its sides, and to each other, that the leather between holes would tear: those are left out.
    """
    ring = line.line
    through = _even_stack(line)
    points: list[Line] = [ring]
    runs: list[Run] = []

    def between(a: int, b: int) -> tuple[int, ...]:
        side, across = ring[[a, b]], abs(a - b) == 2
        spacing, run = _space(
            side, choices, (lambda points, _: stack_at(line, points, np.zeros(len(points)))) if through is None else through,
            begun=(a, b) != (0, 1), ended=b == 0 or across,
            odd=across,  # an even count would put both diagonals through one hole in the middle
        )  # fmt: skip
        runs.append(run)
        start = sum(len(p) for p in points)
        holes = walk(side, spacing.s_mm[1:-1])
        if across:
            holes = _clear_of(np.concatenate(points), side, holes, choices.pitch_mm)
        points.append(holes)
        return tuple(range(start, start + len(points[-1])))

    ab, bc, cd, da, ac, db = (between(a, b) for a, b in ((0, 1), (1, 2), (2, 3), (3, 0), (0, 2), (3, 1)))
    order = (0, *ab, 1, *bc, 2, *cd, 3, *da, 0, *ac, 2, *cd, 3, *db, 1)
    return np.concatenate(points), order, (0, 1, 2, 3), tuple(runs)
