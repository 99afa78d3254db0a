"""Seam lines to seams: holes, the stack under each, and the strikes that make them."""

import itertools
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from ..curve import Line, Values, arc_length, area_within, corners, extended, frozen, rounded, trim, walk
from ..draft import Ply, SeamLine
from ..memory import remembered
from ..texts import Said
from .choices import StitchChoices
from .holes import Spacing, Strike, fitted, spread, strikes, struck
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
    holes; `teeth` of the prongs that make them, which go through `share` of the stack; its corners are
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
    share: float = 1.0
    round_mm: float = 0.0

    @property
    def left_mm(self) -> float:
        """What is left over of all runs."""
        return sum(r.left_mm for r in self.runs)

    @cached_property
    def strikes(self) -> tuple[Strike, ...]:
        """The strikes that make the holes; none when they are made one by one. On a closed line the last may end on the first
        hole, then numbered as one more.
        """
        found: list[Strike] = []
        if self.teeth:
            round_ = list(self.order) if self.line.closed else list(range(len(self.points)))
            for a, b in itertools.pairwise([0, *self.corner, len(round_) - 1]):
                run = round_[a : b + 1]
                made = strikes(self.points[run], self.stack_mm[run] * self.share, self.teeth)
                found += [Strike(k.first + a, k.teeth, k.fresh) for k in made]
        return tuple(found)

    @cached_property
    def nodes(self) -> Line:
        """Every place a needle can be, `(m, 2)`: the holes; of a butt seam, laid flat along its run, the holes of the left
        edge, those of the right, then the places between them in the gap.
        """
        if self.line.shape != "butt":
            return self.points
        across = self.line.margin_mm * np.repeat([-1.0, 1.0, 0.0], len(self.points))
        return frozen(np.column_stack([np.tile(self.s_mm, 3), across]))

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
    if line.shape == "box":
        points, order, corner, changed = _box(line.line, choices.pitch_mm)
        s = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
        runs: tuple[Run, ...] = (Run(float(s[-1]), 0.0, changed, True),)
    else:
        points, s, corner, runs = _line(line, choices)
        order = tuple(range(len(points))) + ((0,) if line.closed else ())
    shares = shares_of(line, s)
    plies = tuple(frozen(under(ply, line, points, shares, s)) for ply in line.plies)
    stack = np.sum(plies, axis=0)
    run = float(arc_length(points[list(order)])[-1])
    return Seam(
        id=line.id, title=line.title, line=line, points=frozen(points), s_mm=frozen(s), stack_mm=frozen(stack),
        plies_mm=plies, order=order,
        corner=corner, teeth=choices.teeth if choices.tool == "iron" and line.shape != "box" else (),
        pitch_mm=run / max(len(order) - 1, 1) or choices.pitch_mm, run_mm=run, runs=runs, tooth=choices.tooth,
        hole_mm=choices.hole_mm,
        share=0.5 if choices.through == "both-faces" else 1.0, round_mm=choices.round_mm,
    )  # fmt: skip


def long_of(line: Line, closed: bool) -> float:
    """The length of a line, of a closed one all round."""
    long = float(arc_length(line)[-1])
    return long + float(np.hypot(*(line[0] - line[-1]))) if closed else long


def shares_of(line: SeamLine, s_mm: Values) -> Values:
    """Arc lengths along a seam line as shares of its length, of a closed one's all round."""
    return s_mm / max(long_of(line.line, line.closed), 1e-9)


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


def _line(line: SeamLine, choices: StitchChoices) -> tuple[Line, Values, tuple[int, ...], tuple[Run, ...]]:
    start_in, sewn = to_sew(line, choices)
    at = corners(sewn, CORNER_RAD)
    if choices.round_mm > 0 and len(at):
        sewn, at = rounded(sewn, choices.round_mm, at), at[:0]
    s = arc_length(sewn)
    bounds = [0.0, *s[at], float(s[-1])]
    places: list[float] = [0.0]
    corner: list[int] = []
    runs: list[Run] = []
    for a, b in itertools.pairwise(bounds):
        last_run = b == bounds[-1]
        spacing, as_asked = _space(b - a, choices, last_run and not line.closed)
        places += [a + x for x in spacing.s_mm[1:]]
        runs.append(Run(b - a, spacing.left_mm, spacing.changed, as_asked))
        if not last_run:
            corner.append(len(places) - 1)
    if line.closed:
        places.pop()  # the last hole is the first
    return walk(sewn, places), np.array(places) + start_in, tuple(corner), tuple(runs)


def _space(run_mm: float, choices: StitchChoices, ends: bool) -> tuple[Spacing, bool]:
    """The holes of one run, and whether they are as asked. A run that `ends` the seam may leave a remainder."""
    if choices.tool != "iron":
        return fitted(run_mm, choices.pitch_mm), True
    if ends and choices.remainder == "end":
        return struck(run_mm, choices.pitch_mm), True
    lost = spread(run_mm, choices.pitch_mm, max(choices.teeth))
    if lost is not None:
        return lost, True
    return (struck if ends else fitted)(run_mm, choices.pitch_mm), False


def _box(ring: Line, pitch_mm: float) -> tuple[Line, tuple[int, ...], tuple[int, ...], float]:
    """A box with a cross: round the four sides, across, along one side again, across; all four corners are holes.

    The four corners have an odd number of lines each, so that one side must be sewn twice to do it in one go.
    """
    points: list[Line] = [ring]
    changed = 0.0

    def between(a: int, b: int, odd: bool = False) -> tuple[int, ...]:
        nonlocal changed
        span = float(np.hypot(*(ring[b] - ring[a])))
        n = max(1, round(span / pitch_mm))
        if odd and n % 2 == 0:  # an even count would put both diagonals through one hole in the middle
            n += 1 if span / pitch_mm > n else -1
        changed = max(changed, span / n / pitch_mm - 1, key=abs)
        start = sum(len(p) for p in points)
        points.append(ring[a] + (ring[b] - ring[a]) * (np.arange(1, n) / n)[:, None])
        return tuple(range(start, start + n - 1))

    ab, bc, cd, da = (between(a, b) for a, b in ((0, 1), (1, 2), (2, 3), (3, 0)))
    ac, db = between(0, 2, odd=True), between(3, 1, odd=True)
    order = (0, *ab, 1, *bc, 2, *cd, 3, *da, 0, *ac, 2, *cd, 3, *db, 1)
    return np.concatenate(points), order, (0, 1, 2, 3), changed
