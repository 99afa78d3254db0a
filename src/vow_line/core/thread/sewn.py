"""Lengths of thread to cut for a seam: path, slack, spare, what the needles keep; joins where one would be too long to draw."""

import itertools
import math
from dataclasses import dataclass
from statistics import NormalDist

import numpy as np

from ..curve import Values, frozen
from ..memory import remembered
from ..stitch import Seam
from ..texts import Said, said
from .choices import Finish, Thread, ThreadChoices
from .moves import Course, Move, lengths
from .stitches import Stitch, stitch_for

SCHOOLS = (
    (3, said("thin, two plies")), (4, said("ordinary")), (5, said("thick")), (7, said("with a filler")), (8,
                                                                                                          said("five plies")),
)  # fmt: skip
"""Rules of thumb: so many times the seam, and the stack each comes from (common practice)."""

TAIL_MM = 25.0  # thread beyond the needle's own length without which the last hole cannot be sewn (common practice)
LEAST_BETWEEN_JOINS = 6  # stitches; where reach allows fewer the length is cut whole, and pointed out
JOIN_STITCHES = 3  # back stitches at a join, or stitches in which the new thread lies beside the old (common practice)
OFF_CORNER = 4  # holes: a join nearer to a corner or to an end would show and be worked loose (from memory)
JOIN_MOVES = 12  # holes: so far a join is moved from where equal lengths would put it, to lie well


@dataclass(frozen=True, slots=True, eq=False)
class Cut:
    """One length of thread, or one for each thread of the stitch: its moves, what each takes, and the lengths to cut.
    `from_hole`, `to_hole` as ordered; `strands` is 2 where it is sewn double; `spread_mm` is one standard deviation of what the
    path and its slack will really take, `spare_mm` what covers that. `course` is what it was sewn along.
    """

    stitch: Stitch
    moves: tuple[Move, ...]
    move_mm: Values
    path_mm: float
    slack_mm: float
    spread_mm: float
    spare_mm: float
    reserve_mm: float
    from_hole: int
    to_hole: int
    strands: int
    course: Course

    @property
    def total_mm(self) -> float:
        """What is cut, all threads together."""
        return self.path_mm + self.slack_mm + self.spare_mm + self.reserve_mm

    @property
    def thread_mm(self) -> tuple[float, ...]:
        """The length to cut of each thread of the stitch."""
        owner = np.array([self.stitch.thread_of[m.needle] for m in self.moves])
        paths = np.bincount(owner, self.move_mm, self.stitch.threads)
        needles = np.bincount(self.stitch.thread_of, minlength=self.stitch.threads) / self.stitch.needles
        more = (self.slack_mm + self.spare_mm) / max(self.path_mm, 1e-9)
        return tuple((paths * (1 + more) + needles * self.reserve_mm).tolist())

    @property
    def drawn_mm(self) -> float:
        """The most that a needle draws at once; a doubled thread hangs from its eye, half of it on either side."""
        return max(self.needle_mm) / self.strands

    @property
    def needle_mm(self) -> tuple[float, ...]:
        """What each needle takes, with its share of slack and spare, and what it keeps."""
        paths = np.bincount([m.needle for m in self.moves], self.move_mm, self.stitch.needles)
        more = (self.slack_mm + self.spare_mm) / max(self.path_mm, 1e-9)
        return tuple((paths * (1 + more) + self.reserve_mm / self.stitch.needles).tolist())


@dataclass(frozen=True, slots=True)
class School:
    """A rule of thumb applied to one seam: what it would cut, and where that runs out or how much it leaves."""

    times: int
    says: Said
    length_mm: float
    runs_out_at: int | None
    left_mm: float


@dataclass(frozen=True, slots=True, eq=False)
class SewnSeam:
    """A seam with its thread."""

    seam: Seam
    cuts: tuple[Cut, ...]
    schools: tuple[School, ...]
    thread: Thread
    finish: Finish

    @property
    def thread_mm(self) -> float:
        """How thick its thread is."""
        return self.thread.diameter_mm

    @property
    def moves(self) -> tuple[Move, ...]:
        """All moves in order."""
        return tuple(m for cut in self.cuts for m in cut.moves)

    @property
    def path_mm(self) -> float:
        """The needles' path."""
        return sum(c.path_mm for c in self.cuts)

    @property
    def slack_mm(self) -> float:
        """Slack over the path."""
        return sum(c.slack_mm for c in self.cuts)

    @property
    def spare_mm(self) -> float:
        """What is cut to be sure."""
        return sum(c.spare_mm for c in self.cuts)

    @property
    def spread_mm(self) -> float:
        """One standard deviation of what is used, of all lengths together: what strays, strays in all of them alike."""
        return sum(c.spread_mm for c in self.cuts)

    @property
    def stitch(self) -> Stitch:
        """The stitch it is sewn with."""
        return self.cuts[0].stitch

    @property
    def offers(self) -> frozenset[str]:
        """The choices that change how this seam is sewn, by their names in `ThreadChoices`; others have no effect on it."""
        line, takes, found = self.seam.line, self.stitch.takes, set[str]()
        if line.shape == "line" and not line.closed:
            found |= {"start"} if "third-hole" in takes else set()
            found |= {"edge_loops"} if "edge-loops" in takes and any(line.sewing.edge_ends) else set()
        found |= {"finish"} if takes & {"back-stitches", "buried-knot"} else set()
        found |= {"back_stitches"} if "back-stitches" in takes and self.finish == "back-stitches" else set()
        return frozenset(found | ({"join"} if len(self.cuts) > 1 else set()))

    @property
    def reserve_mm(self) -> float:
        """What the needles keep."""
        return sum(c.reserve_mm for c in self.cuts)

    @property
    def total_mm(self) -> float:
        """All lengths to cut, together."""
        return sum(c.total_mm for c in self.cuts)


@remembered("seam")
def sew_plan(seam: Seam, choices: ThreadChoices) -> SewnSeam:
    """The moves and lengths for one seam, in as few lengths as reach allows; what it has of its own counts."""
    choices = choices.of(seam.id)
    stitch = stitch_for(seam.line.shape, choices.stitch, choices.butt_stitch)
    return sewn_with(stitch, seam, choices)


def sewn_with(stitch: Stitch, seam: Seam, choices: ThreadChoices) -> SewnSeam:
    """The moves and lengths for one seam sewn with a stitch."""
    whole = _cut(stitch, seam, choices, seam.order, start=True, end=True)
    cuts: tuple[Cut, ...] = (whole,)
    parts, most = 1, len(seam.order) // LEAST_BETWEEN_JOINS
    while (over := max(c.drawn_mm for c in cuts) / choices.reach_mm) > 1 and parts < most:
        parts = min(
            max(parts + 1, int(parts * over)), most
        )  # never more than are needed: what needles keep, each length keeps
        cuts = _divided(stitch, seam, choices, parts)
    if over > 1:
        cuts = (whole,)
    return SewnSeam(
        seam, cuts, _schools(seam, cuts[0] if len(cuts) == 1 else whole), choices.thread, finish_of(stitch, choices)
    )


def by_spool(sewn: tuple[SewnSeam, ...]) -> tuple[tuple[Thread, float], ...]:
    """What the seams take together of each thread, mm."""
    threads = dict.fromkeys(s.thread for s in sewn)
    return tuple((t, sum(s.total_mm * s.seam.line.times for s in sewn if s.thread == t)) for t in threads)


def _divided(stitch: Stitch, seam: Seam, choices: ThreadChoices, parts: int) -> tuple[Cut, ...]:
    order = seam.order
    per_step = seam.steps_mm + seam.stack_mm[list(order[1:])]
    along = np.concatenate([[0.0], np.cumsum(per_step)])
    ends = np.searchsorted(along, along[-1] * np.arange(1, parts) / parts)
    ends = np.unique([_well_placed(seam, int(e)) for e in ends])
    bounds = [0, *(int(e) for e in ends), len(order) - 1]
    lap = JOIN_STITCHES if choices.join == "overlap" else 0
    return tuple(
        _cut(stitch, seam, choices, order[max(a - (lap if a else 0), 0) : b + 1], start=a == 0, end=b == len(order) - 1)
        for a, b in itertools.pairwise(bounds)
        if b > a
    )


def _well_placed(seam: Seam, at: int) -> int:
    """The place in the order nearest to `at` for a join that keeps off corners and ends, where there is one near."""
    corners = {k for k, hole in enumerate(seam.order) if hole in seam.corner} | {0, len(seam.order) - 1}
    for off in range(JOIN_MOVES + 1):
        for k in (at - off, at + off):
            if all(abs(k - c) >= OFF_CORNER for c in corners) and 0 < k < len(seam.order) - 1:
                return k
    return at


def _cut(stitch: Stitch, seam: Seam, choices: ThreadChoices, order: tuple[int, ...], *, start: bool, end: bool) -> Cut:
    line = seam.line
    open_line = line.shape == "line" and not line.closed
    finish = finish_of(stitch, choices)
    back = {"back-stitches": choices.back_stitches, "buried-knot": 0, "overlap": JOIN_STITCHES}[finish] if end else (
        0 if choices.join == "overlap" else JOIN_STITCHES)  # fmt: skip
    loops = [choices.edge_loops if here and open_line and edge else 0
             for here, edge in zip((start, end), line.sewing.edge_ends, strict=True)]  # fmt: skip
    course = Course(
        order, loops[0], len(seam.points), choices.first_needle, min(back, len(order) - 1),
        start and open_line and choices.start == "third-hole", end and finish == "buried-knot", loops[1],
        seam.order[1 : 1 + JOIN_STITCHES] if end and line.closed and finish == "overlap" else (),
    )  # fmt: skip
    moves = tuple(stitch.moves(course))
    strands = 2 if choices.doubled else 1
    move_mm = strands * lengths(
        moves, seam.runs_mm, seam.node_stack_mm, choices.thread.diameter_mm, choices.compression, seam.line.margin_mm
    )  # fmt: skip
    taken = float(move_mm.sum())
    along = float(move_mm[[m.act == "run" for m in moves]].sum())
    uses = taken * (1 + choices.slack.value)
    stray = float(np.sqrt(
        (choices.stack_spread * (taken - along)) ** 2 + (choices.pitch_spread * along) ** 2
    ) / max(taken, 1e-9))  # fmt: skip
    stray = math.hypot(stray, choices.slack.spread)
    return Cut(
        stitch, moves, frozen(move_mm), taken, uses - taken, uses * stray, uses * math.expm1(z_of(choices.sure) * stray),
        strands * stitch.needles * (choices.needle_mm + TAIL_MM), order[0], order[-1], strands, course,
    )  # fmt: skip


def finish_of(stitch: Stitch, choices: ThreadChoices) -> Finish:
    """How a seam ends: as was chosen, but with back stitches where its stitch has no two ends to tie in one hole."""
    if choices.finish == "buried-knot" and "buried-knot" not in stitch.takes:
        return "back-stitches"
    return choices.finish


def z_of(sure: float) -> float:
    """How many standard deviations above the mean cover a share of cases: the normal quantile."""
    return NormalDist().inv_cdf(sure)


def _schools(seam: Seam, cut: Cut) -> tuple[School, ...]:
    used = np.cumsum(cut.move_mm) * (1 + cut.slack_mm / cut.path_mm) + cut.reserve_mm
    found = []
    for multiple, says in SCHOOLS:
        given = multiple * seam.run_mm * cut.strands
        short = np.flatnonzero(used > given + 1e-9)
        at = seam.hole_of(cut.moves[int(short[0])].to) if len(short) else None
        found.append(School(multiple, says, given, at, given - float(used[-1])))
    return tuple(found)
