"""What to do next at the needle: one prompt for each pass, from the same moves that gave the length."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from functools import partial
from types import MappingProxyType

import numpy as np
import shapely

from ..curve import Line
from ..memory import remembered
from ..reckoning import count, length, long, minutes
from ..stitch import Seam
from ..texts import NOTHING, Said, said, several
from ..thread import Cut, SewnSeam, ThreadChoices
from ..thread.moves import THROUGH, Move
from .choices import InHand

UNEVEN_MM = 10.0  # a needle that takes so much more is told so before the first stitch
WAX_EVERY_MM = 400.0  # thread that is not waxed wants it again after about an arm's length drawn (from memory)


@dataclass(frozen=True, slots=True, eq=False)
class Prompt:
    """One move of a needle into a hole: the number of that move of the seam's, where, which hand, which way (`toward`
    which face, where it goes through), what to do then, what it `reminds` of. Of the length of thread number `length` it takes
    `takes_mm`; after it `thread_left_mm` is left, of which the needles keep `keep_mm`, and the rest of the seam wants
    `wanted_mm` of that length.
    """

    move: int
    hole: int
    hand: str
    toward: str
    tell: Callable[[], tuple[Said, Said, Said]]
    reminds: Said
    length: int
    takes_mm: float
    thread_left_mm: float
    wanted_mm: float
    keep_mm: float
    holes_left: int
    to_go_mm: float

    @property
    def way(self) -> Said:
        """From which face to which."""
        return self.tell()[0]

    @property
    def how(self) -> Said:
        """How it goes into the hole."""
        return self.tell()[1]

    @property
    def then(self) -> Said:
        """What is done then."""
        return self.tell()[2]

    @property
    def left_before_mm(self) -> float:
        """What is left before it is made."""
        return self.thread_left_mm + self.takes_mm

    @property
    def wanted_before_mm(self) -> float:
        """What is wanted before it is made."""
        return self.wanted_mm + self.takes_mm


@remembered("stage")
def prompts(sewn: SewnSeam, choices: ThreadChoices, in_hand: InHand | None = None) -> tuple[Prompt, ...]:
    """What goes into a hole, in order; `wanted_mm` is what the rest of this thread takes with its slack. Where the maker has
    measured the thread `in_hand`, it is counted on from that.
    """
    prompts: list[Prompt] = []
    seam, before, begun = sewn.seam, 0, 0
    along = [np.where([m.act in ("run", "edge") for m in c.moves], c.move_mm, 0.0) for c in sewn.cuts]
    whole, gone = max(sum(float(a.sum()) for a in along), 1e-9), 0.0
    for number, cut in enumerate(sewn.cuts):
        ends, threads = number == len(sewn.cuts) - 1, cut.stitch.threads
        thread_of = np.array([cut.stitch.thread_of[m.needle] for m in cut.moves])
        grows = cut.move_mm * (1 + cut.slack_mm / max(cut.path_mm, 1e-9))
        used = np.cumsum(np.where(thread_of[:, None] == np.arange(threads), grows[:, None], 0.0), axis=0)
        to_go = seam.run_mm * (1 - (gone + np.cumsum(along[number])) / whole)  # what runs on both faces is sewn once
        gone += float(along[number].sum())
        keep = np.bincount(cut.stitch.thread_of) * cut.reserve_mm / cut.stitch.needles
        into = [i for i, m in enumerate(cut.moves) if m.act in THROUGH]
        holes = [seam.hole_of(cut.moves[i].hole) for i in into]
        ahead = _holes_ahead(holes, [int(thread_of[i]) for i in into])
        again = _again(cut)
        left = [sum(int(thread_of[i]) == t for i in into) for t in range(threads)]  # passes of each thread to come
        first_at: dict[int, int] = {}
        for k, i in enumerate(into):
            first_at.setdefault(cut.moves[i].hole, k)
        waxed, taken, cut_mm = 0.0, [0.0] * threads, cut.thread_mm
        for k, i in enumerate(into):
            move, thread = cut.moves[i], int(thread_of[i])
            first, last = not taken[thread], i == into[-1]
            left[thread] -= 1
            reminds = NOTHING
            if not choices.thread.waxed and used[i, thread] - waxed > WAX_EVERY_MM:
                reminds, waxed = said("wax the thread again"), float(used[i, thread])
            elif last and ends:
                reminds = _ENDS[choices.ends]
            elif cut.course.bury and holes[k] != holes[-1] == holes[k + 1]:
                reminds = said("the next hole is the last: there each needle goes through its own face only")
            elif left[thread] == again[thread] > 0:
                reminds = _again_says(cut)
            other = int(thread_of[into[k + 1]]) if not last else thread
            begins = other != thread and not left[thread] and not taken[other]
            tell = partial(_told, cut, k, into, first_at, choices, seam, first, begins, ends)
            prompts.append(Prompt(
                before + i, holes[k], move.hand, _toward(move), tell, reminds, number * threads + thread,
                float(used[i, thread]) - taken[thread], cut_mm[thread] - float(used[i, thread]),
                float(used[-1, thread] - used[i, thread]), float(keep[thread]), ahead[k], float(to_go[i]),
            ))  # fmt: skip
            taken[thread] = float(used[i, thread])
        before += len(cut.moves)
        if in_hand is not None and begun <= in_hand.passes < len(prompts):
            measured = prompts[in_hand.passes]
            off = in_hand.mm - measured.left_before_mm
            prompts[in_hand.passes :] = [
                replace(p, thread_left_mm=p.thread_left_mm + off) if p.length == measured.length else p
                for p in prompts[in_hand.passes :]
            ]
        begun = len(prompts)
    return tuple(prompts)


def _told(
    cut: Cut, k: int, into: list[int], first_at: dict[int, int], choices: ThreadChoices, seam: Seam, first: bool, begins: bool,
    ends: bool,
) -> tuple[Said, Said, Said]:  # fmt: skip
    """Which way a pass goes, how, and what is done then; `first_at` says which pass goes into a hole before all others."""
    following = cut.moves[into[k + 1]] if k + 1 < len(into) else None
    how = _how(cut, k, into, lambda hole: first_at.get(hole, k) < k, choices, seam, first)
    then = _second(seam, following) if following and begins else _then(cut, into[k], following, seam, first, ends)
    return _way(cut.moves[into[k]]), how, then


def _holes_ahead(holes: list[int], threads: list[int]) -> list[int]:
    """After each pass, how many holes this thread still goes into besides the one it is in."""
    ahead, later = [0] * len(holes), {t: set[int]() for t in threads}
    for k in range(len(holes) - 1, -1, -1):
        to_come = later[threads[k]]
        ahead[k] = len(to_come) - (holes[k] in to_come)
        to_come.add(holes[k])
    return ahead


def _again(cut: Cut) -> list[int]:
    """The last so many passes of each thread are back stitches."""
    if not cut.course.back:
        return [0] * cut.stitch.threads

    def passes(moves: Iterable[Move]) -> list[int]:
        of = [cut.stitch.thread_of[m.needle] for m in moves if m.act in THROUGH]
        return [of.count(t) for t in range(cut.stitch.threads)]

    plain = passes(cut.stitch.moves(replace(cut.course, back=0)))
    return [n - less for n, less in zip(passes(cut.moves), plain, strict=True)]


def _again_says(cut: Cut) -> Said:
    n = count(cut.course.back)
    if cut.course.on:
        return several("go on over the first stitch", "go on over the first {n} stitches", n=n)
    return several("{n} back stitch to come", "{n} back stitches to come", n=n)


def _second(seam: Seam, following: Move) -> Said:
    return said("pull, and make this end safe; the second thread begins at hole {n}, the far end",
                n=count(seam.hole_of(following.hole) + 1))  # fmt: skip


_ENDS = {
    "trimmed": said("trim both ends close"),
    "melted": said("leave 2 to 3 mm and melt it; the flame away from fumes, wax and hands"),
    "glued": said("trim, a drop of glue on each end; air the room"),
}
_WORDS = {
    "lock": said("half in, round the other thread, and out"),
    "sink": said("through its own face only, and out between the layers"),
}  # fmt: skip


_THROUGH = {-1: said("through the left edge"), 1: said("through the right edge"), 0: said("up through the gap")}


def _toward(move: Move) -> str:
    return "" if move.act in _WORDS else "back" if move.face == "front" else "front"


def _way(move: Move) -> Said:
    if move.act in _WORDS:
        return said("from the front") if move.face == "front" else said("from the back")
    return said("front to back") if move.face == "front" else said("back to front")


def _how(
    cut: Cut, k: int, into: list[int], seen: Callable[[int], bool], choices: ThreadChoices, seam: Seam, first: bool
) -> Said:  # fmt: skip
    move = cut.moves[into[k]]
    if move.act in _WORDS:
        return _WORDS[move.act]
    if into[k] and cut.moves[into[k] - 1].act == "edge":
        return said("over the edge and through again") if seen(move.hole) else said("over the edge, and through")
    if "butt" in cut.stitch.sews:
        how = _THROUGH[seam.row_of(move.hole)]
        came = cut.moves[into[k] - 1] if into[k] else move
        if cut.stitch.needles == 1 or came.act != "run" or not seen(came.hole) or not seam.row_of(came.hole):
            return how
        from_left = (
            seam.row_of(came.hole) < 0
        )  # both needles may be in one hand: which is told by where its thread lies
        return (said("the needle from hole {n} of the left edge, {how}") if from_left
                else said("the needle from hole {n} of the right edge, {how}")).filled(
                    n=count(seam.hole_of(came.hole) + 1), how=how)  # fmt: skip
    if first:
        return said("the first hole of this length")
    if cut.moves[into[k - 1]].hole == move.hole:
        below = choices.second_needle == "below"
        return said("below the thread already there") if below else said("above the thread already there")
    if seen(move.hole):
        return said("through a hole already sewn")
    return said("straight through")


def _then(cut: Cut, i: int, following: Move | None, seam: Seam, first: bool, ends: bool) -> Said:
    move = cut.moves[i]
    if following is None and cut.course.bury:
        return said("a reef knot of both ends between the layers; draw it in and trim")
    if following is None:
        return said("pull, trim, and make the end safe") if ends else said("trim; join a new length")
    over = cut.moves[i + 1].act == "edge"
    if first and cut.stitch.needles == 2 and cut.stitch.threads == 1:
        return _over(_middle(cut, move)) if over else _middle(cut, move)
    at = seam.hole_of(following.hole)
    if first and over:
        return said("leave a tail to hold; over the edge to hole {n}", n=at + 1)
    if first and following.needle == move.needle:
        return said("leave a tail to hold; on to hole {n}", n=at + 1)
    if first:
        return said("leave a tail to hold")
    if over and cut.stitch.needles == 2:
        return _over(said("pull both, even and level"))
    if following.hole == move.hole and following.needle != move.needle:
        return said("the other needle, same hole")
    if "butt" in cut.stitch.sews:
        gap = seam.row_of(move.hole) == 0
        return said("over to its own edge") if gap else said("pull until the edges touch, no more")
    if move.act == "lock":
        return said("draw both until they meet in the middle")
    if cut.stitch.needles == 2 and cut.stitch.threads == 1:
        return said("pull both, even and level")
    return (said("pull; over the edge to hole {n}") if over else said("pull; on to hole {n}")).filled(n=at + 1)


def _over(before: Said) -> Said:
    """What is done, and then which of two needles goes over the edge: the one on the far face."""
    return said("{before}; then the needle at the back goes over the edge", before=before)


def _middle(cut: Cut, move: Move) -> Said:
    """How far the thread is drawn through before the first stitch: to its middle, unless one needle takes more of it."""
    through, stays = cut.needle_mm[move.needle], cut.needle_mm[1 - move.needle]
    if abs(through - stays) < UNEVEN_MM:
        return said("draw the thread through to its middle")
    return said("draw {a} of the thread through, {b} stays: one needle takes more", a=long(through), b=long(stays))


def runs_out(passes: tuple[Prompt, ...], made: int) -> tuple[int, int] | None:
    """With so many made: the hole where the thread in hand runs out, and how many holes are left from it on; None where it
    is enough.
    """
    now = passes[made]
    to_use = now.left_before_mm - now.keep_mm
    if to_use >= now.wanted_before_mm - 1e-6:
        return None
    rest = [k for k in range(made, len(passes)) if passes[k].length == now.length]
    at = next((k for k in rest if now.wanted_before_mm - passes[k].wanted_mm > to_use), rest[-1])
    return passes[at].hole, len({passes[k].hole for k in rest if k >= at})


def eye_says(sewn: SewnSeam, prompt: Prompt, outlines: Mapping[str, Line] = MappingProxyType({})) -> Said:
    """Where to look for it on the other side: the hole, and how far it lies from the nearest edge of the piece on that face, by
    the pieces' `outlines`; where they are not known, by the seam's margin.
    """
    if not prompt.toward:
        return said("it stays in the middle of the leather")
    face = prompt.toward
    side = said("back") if face == "back" else said("front")
    line, hole = sewn.seam.line, count(prompt.hole + 1)
    ply = line.plies[-1 if face == "back" else 0]
    if ply.title != side and line.shape != "butt":
        side = said("{side} of the {ply}", side=side, ply=ply.title)
    if line.shape != "line":  # a box lies on the face of a piece, and two edges that abut have no other side to find
        return said("look for it on the {face}: hole {h}", h=hole, face=side)
    outline, margin_mm = outlines.get(line.placed[ply.on].piece), line.margin_mm
    if outline is not None:
        edge = shapely.LinearRing(outline)
        margin_mm = float(shapely.distance(shapely.Point(sewn.seam.on(ply.on)[prompt.hole]), edge))
    return said("look for it on the {face}: hole {h}, {e} in from the edge", h=hole, e=length(margin_mm), face=side)


def time_left(passes: tuple[Prompt, ...], made: int, pace_mm_per_min: float) -> Said:
    """How long the rest takes at this maker's pace, with so many made."""
    to_go = passes[max(made - 1, 0)].to_go_mm
    return said("{t} to the end", t=minutes(to_go / pace_mm_per_min))


def thread_says(passes: tuple[Prompt, ...], made: int) -> Said:
    """What the rest of the thread in hand is wanted for, and whether it will do, with so many made."""
    now, short = passes[made], runs_out(passes, made)
    holes = len({p.hole for p in passes[made:] if p.length == now.length})
    wants = long(now.wanted_before_mm)
    if short is None:
        return several("{n} hole wants {w}: enough", "{n} holes want {w}: enough", n=count(holes), w=wants)
    at, lacking = short
    return several("{n} hole short of {w}: join at hole {h}", "{n} holes short of {w}: join at hole {h}", n=count(lacking),
                   w=wants, h=count(at + 1))  # fmt: skip
