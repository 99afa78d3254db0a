"""Lengths of thread to cut: path, slack and reserve, joins where a length would be too long to handle."""

import itertools
from dataclasses import dataclass

import numpy as np

from ..curve import Values, frozen
from ..finding import Finding, Mend
from ..reckoning import Reckoning, Said, count, fine, length, long, percent, reckon, said, times
from ..stitch import Seam, Stitching
from .choices import ThreadChoices
from .moves import Move, Path, lengths
from .stitches import STITCHES, stitch_for

SCHOOLS = (
    (3, "thin, two plies"), (4, "ordinary"), (5, "thick"), (7, "with a filler"), (8, "five plies"),
)  # fmt: skip
"""Rules of thumb: so many times the seam, and the stack each comes from (common practice)."""

TAIL_MM = 25.0  # thread beyond the needle's own length without which the last hole cannot be sewn (common practice)
LEAST_BETWEEN_JOINS = 6  # stitches; where reach allows fewer the length is cut whole, and pointed out
JOIN_BACK_STITCHES = 3  # back stitches at a join (common practice)


@dataclass(frozen=True, slots=True, eq=False)
class Cut:
    """One length of thread: its moves, what each takes, and the length to cut. `from_hole`, `to_hole` as ordered."""

    moves: tuple[Move, ...]
    move_mm: Values
    path_mm: float
    slack_mm: float
    reserve_mm: float
    from_hole: int
    to_hole: int

    @property
    def total_mm(self) -> float:
        """The length to cut."""
        return self.path_mm + self.slack_mm + self.reserve_mm


@dataclass(frozen=True, slots=True)
class School:
    """A rule of thumb applied to one seam: what it would cut, and where that runs out or how much it leaves."""

    times: int
    says: str
    length_mm: float
    runs_out_at: int | None
    left_mm: float


@dataclass(frozen=True, slots=True, eq=False)
class SewnSeam:
    """A seam with its thread."""

    seam: Seam
    cuts: tuple[Cut, ...]
    schools: tuple[School, ...]

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
    def reserve_mm(self) -> float:
        """What the needles keep."""
        return sum(c.reserve_mm for c in self.cuts)

    @property
    def total_mm(self) -> float:
        """All lengths to cut, together."""
        return sum(c.total_mm for c in self.cuts)


@dataclass(frozen=True, slots=True, eq=False)
class Threading:
    """Thread for all seams of a job."""

    seams: tuple[SewnSeam, ...]
    total_mm: float
    reckonings: tuple[Reckoning, ...]
    findings: tuple[Finding, ...]

    def seam(self, name: str) -> SewnSeam:
        """The seam of that name. Raises KeyError."""
        for sewn in self.seams:
            if sewn.seam.name == name:
                return sewn
        raise KeyError(name)


def sew_plan(seam: Seam, choices: ThreadChoices) -> SewnSeam:
    """The moves and lengths for one seam, in as few lengths as reach allows."""
    stitch = stitch_for(seam.line.shape, seam.line.stitch, choices.stitch)
    longest = stitch.needles * choices.reach_mm
    whole = _cut(seam, choices, seam.order, start=True, end=True)
    cuts: tuple[Cut, ...] = (whole,)
    if whole.total_mm > longest:
        per_stitch = whole.path_mm / max(len(seam.order) - 1, 1)
        room = longest - whole.reserve_mm - JOIN_BACK_STITCHES * per_stitch
        if room > LEAST_BETWEEN_JOINS * per_stitch:
            parts = int(np.ceil((whole.path_mm + whole.slack_mm) / room))
            cuts = _divided(seam, choices, parts)
            most = max(len(seam.order) // LEAST_BETWEEN_JOINS, 1)
            while (over := max(c.total_mm for c in cuts) / longest) > 1 and parts < most:
                parts = min(max(parts + 1, int(parts * over)), most)
                cuts = _divided(seam, choices, parts)
    return SewnSeam(seam, cuts, _schools(seam, cuts[0] if len(cuts) == 1 else whole))


def _divided(seam: Seam, choices: ThreadChoices, parts: int) -> tuple[Cut, ...]:
    order = seam.order
    per_step = seam.steps_mm + seam.stack_mm[list(order[1:])]
    along = np.concatenate([[0.0], np.cumsum(per_step)])
    ends = np.searchsorted(along, along[-1] * np.arange(1, parts) / parts)
    bounds = [0, *(int(e) for e in np.unique(ends)), len(order) - 1]
    return tuple(
        _cut(seam, choices, order[a : b + 1], start=a == 0, end=b == len(order) - 1)
        for a, b in itertools.pairwise(bounds)
        if b > a
    )


def _cut(seam: Seam, choices: ThreadChoices, order: tuple[int, ...], *, start: bool, end: bool) -> Cut:
    stitch = stitch_for(seam.line.shape, seam.line.stitch, choices.stitch)
    path = list(order)
    open_line = seam.line.shape == "line"
    if start and open_line and choices.start == "third hole" and len(order) > 3:
        path = [order[2], order[1], *order]
    back = choices.back_stitches if end else JOIN_BACK_STITCHES
    back = min(back, len(order) - 1)
    path += [order[-1 - k] for k in range(1, back + 1)]
    loops = choices.edge_loops if start and open_line and seam.line.edge_start else 0
    moves = tuple(stitch.moves(Path(tuple(path), loops, len(seam.points), choices.first_needle)))
    move_mm = lengths(
        moves, seam.nodes, seam.node_stack_mm, choices.thread.diameter_mm, choices.compression, seam.line.margin_mm
    )
    taken = float(move_mm.sum())
    return Cut(
        moves, frozen(move_mm), taken, taken * choices.slack.value, stitch.needles * (choices.needle_mm + TAIL_MM),
        order[0], order[-1],
    )  # fmt: skip


def _schools(seam: Seam, cut: Cut) -> tuple[School, ...]:
    used = np.cumsum(cut.move_mm) * (1 + cut.slack_mm / cut.path_mm) + cut.reserve_mm
    found = []
    for multiple, says in SCHOOLS:
        given = multiple * seam.run_mm
        short = np.flatnonzero(used > given + 1e-9)
        at = seam.hole_of(cut.moves[int(short[0])].to) if len(short) else None
        found.append(School(multiple, says, given, at, given - cut.total_mm))
    return tuple(found)


def thread(stitching: Stitching, choices: ThreadChoices) -> Threading:
    """Thread for every seam. Never raises."""
    sewn = tuple(sew_plan(seam, choices) for seam in stitching.seams)
    total = sum(s.total_mm for s in sewn)
    return Threading(sewn, total, _reckonings(sewn, choices, total), _findings(sewn, choices, total))


def _reckonings(sewn: tuple[SewnSeam, ...], choices: ThreadChoices, total: float) -> tuple[Reckoning, ...]:
    found: list[Reckoning] = []
    for s in sewn:
        name = s.seam.name
        runs = sum(float(c.move_mm[[m.act == "run" for m in c.moves]].sum()) for c in s.cuts)
        learned = (
            said("slack {u}, learned from {n} jobs", u=percent(choices.slack.value), n=count(choices.slack.jobs))
            if choices.slack.jobs
            else said("slack {u}, until the record teaches better", u=percent(choices.slack.value))
        )
        found.append(reckon(
            f"{name}/thread", f"Thread, {name}", long(s.total_mm),
            said("{runs:n} along + {stack:n} through + {slack:n} slack + {reserve} at the needles", runs=long(runs),
                 stack=long(s.path_mm - runs), slack=long(s.slack_mm), reserve=long(s.reserve_mm)),
            (name,),
            (learned, said("each needle keeps its {needle} and {tail}, or the last hole cannot be sewn",
                           needle=length(choices.needle_mm), tail=length(TAIL_MM))),
        ))  # fmt: skip
        found.append(reckon(
            f"{name}/times", f"Times the seam, {name}", times(s.path_mm / max(s.seam.run_mm, 1e-9)),
            _multiple(s.seam), (name,),
        ))  # fmt: skip
        if len(s.cuts) > 1:
            found.append(reckon(
                f"{name}/lengths", f"Lengths, {name}", count(len(s.cuts)),
                said(" + ".join(f"{{c{i}}}" for i in range(len(s.cuts)))
                     + ", joined at hole " + ", ".join(str(c.to_hole + 1) for c in s.cuts[:-1]),
                     **{f"c{i}": long(c.total_mm) for i, c in enumerate(s.cuts)}), (name,),
            ))  # fmt: skip
    found.append(reckon(
        "thread/total", "Thread to cut, in all", long(total),
        _sum([s.total_mm for s in sewn]) if sewn else said("there is no seam to sew"), (),
        (said("{left} stays on the spool", left=long(choices.thread.left_mm - total)),),
    ))  # fmt: skip
    return tuple(found)


def _multiple(seam: Seam) -> Said:
    """What the multiple would be without bends and back stitches, as a sum."""
    t, p, e = float(seam.stack_mm.mean()), max(seam.pitch_mm, 1e-3), seam.line.margin_mm
    if seam.line.shape == "butt":
        each = (np.hypot(e, p) + e + 2 * t) / p
        return said("2 (√({e:n}² + {p:n}²) + {e:n} + 2 × {t:n}) / {p} is {r}; bends and back stitches add the rest",
                    e=fine(e), p=fine(p), t=fine(t), r=times(2 * each))  # fmt: skip
    return said("2 (1 + {t:n} stack / {p} pitch) is {r}; back stitches and bends add the rest",
                t=fine(t), p=fine(p), r=times(2 * (1 + t / p)))  # fmt: skip


def _sum(parts: list[float]) -> Said:
    return said(" + ".join(f"{{p{i}}}" for i in range(len(parts))), **{f"p{i}": long(p) for i, p in enumerate(parts)})


def _findings(sewn: tuple[SewnSeam, ...], choices: ThreadChoices, total: float) -> tuple[Finding, ...]:
    found: list[Finding] = []
    if choices.stitch not in STITCHES:
        found.append(Finding(
            "hold", "stitch-unknown", "thread", said(f"The stitch '{choices.stitch}' is not known here."), "thread.stitch",
            Mend("saddle stitch", (("thread.stitch", "saddle"),)),
        ))  # fmt: skip
    if total > choices.thread.left_mm:
        found.append(Finding(
            "hold", "spool-short", "thread",
            said("The seams want {total}; {left} is left on the spool.", total=long(total),
                 left=long(choices.thread.left_mm)), "thread.thread.left_mm",
        ))  # fmt: skip
    stitch = stitch_for("line", choices.stitch)
    longest = max((c.total_mm for s in sewn for c in s.cuts), default=0.0)
    if longest > stitch.needles * choices.reach_mm + 1e-6:
        found.append(Finding(
            "look", "length-past-reach", "thread",
            said("A length of {l} is more than a hand draws, {r} a needle.", l=long(longest), r=long(choices.reach_mm)),
            "thread.reach_mm",
        ))  # fmt: skip
    d = choices.thread.diameter_mm
    pitch = min((s.seam.pitch_mm for s in sewn), default=4.0)
    if not 0.12 <= d / pitch <= 0.22:
        found.append(Finding(
            "look", "thread-for-pitch", "thread",
            said("Thread of {d} is {what} for a pitch of {p}; 0.8 mm goes with 4 mm, 0.5 mm with 3 mm.".replace(
                "{what}", "thin" if d / pitch < 0.12 else "thick"), d=fine(d), p=fine(pitch)),
            "thread.thread.diameter_mm",
        ))  # fmt: skip
    return tuple(found)
