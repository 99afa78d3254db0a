"""What to do next at the needle: one prompt for each pass, from the same moves that gave the length."""

from dataclasses import dataclass, replace

import numpy as np

from ..reckoning import count, length, long, minutes
from ..stitch import Seam
from ..texts import NOTHING, Said, said, several
from ..thread import Cut, SewnSeam, ThreadChoices
from ..thread.moves import THROUGH, Move
from .choices import InHand

WAX_EVERY_MM = 400.0  # thread that is not waxed wants it again after about an arm's length drawn (from memory)


@dataclass(frozen=True, slots=True)
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
    way: Said
    how: Said
    then: Said
    reminds: Said
    length: int
    takes_mm: float
    thread_left_mm: float
    wanted_mm: float
    keep_mm: float
    holes_left: int
    to_go_mm: float

    @property
    def left_before_mm(self) -> float:
        """What is left before it is made."""
        return self.thread_left_mm + self.takes_mm

    @property
    def wanted_before_mm(self) -> float:
        """What is wanted before it is made."""
        return self.wanted_mm + self.takes_mm


def prompts(sewn: SewnSeam, choices: ThreadChoices, in_hand: InHand | None = None) -> tuple[Prompt, ...]:
    """What goes into a hole, in order; `wanted_mm` is what the rest of this thread takes with its slack. Where the maker has
    measured the thread `in_hand`, it is counted on from that.
    """
    found: list[Prompt] = []
    seam, before, begun = sewn.seam, 0, 0
    for number, cut in enumerate(sewn.cuts):
        thread_of = np.array([cut.stitch.thread_of[m.needle] for m in cut.moves])
        grows = cut.move_mm * (1 + cut.slack_mm / max(cut.path_mm, 1e-9))
        used = np.cumsum(np.where(thread_of[:, None] == np.arange(cut.stitch.threads), grows[:, None], 0.0), axis=0)
        runs = np.where([m.act in ("run", "edge") for m in cut.moves], cut.move_mm, 0.0)
        later = sum(
            float(c.move_mm[[m.act in ("run", "edge") for m in c.moves]].sum()) for c in sewn.cuts[number + 1 :]
        )
        share = max(runs.sum() / max(seam.run_mm, 1e-9), 1.0)  # what runs on both faces is sewn once
        to_go = (runs.sum() - np.cumsum(runs) + later) / share
        keep = np.bincount(cut.stitch.thread_of) * cut.reserve_mm / cut.stitch.needles
        into = [i for i, m in enumerate(cut.moves) if m.act in THROUGH]
        holes = [seam.hole_of(cut.moves[i].hole) for i in into]
        ahead, later_holes = [0] * len(holes), set[int]()
        for k in range(len(holes) - 1, -1, -1):
            ahead[k] = len(later_holes) - (holes[k] in later_holes)
            later_holes.add(holes[k])
        seen: dict[int, int] = {}
        waxed, taken = 0.0, [0.0] * cut.stitch.threads
        for k, i in enumerate(into):
            move, thread = cut.moves[i], int(thread_of[i])
            last, ends = i == into[-1], number == len(sewn.cuts) - 1
            reminds = NOTHING
            if not choices.thread.waxed and used[i, thread] - waxed > WAX_EVERY_MM:
                reminds, waxed = said("wax the thread again"), float(used[i, thread])
            elif last and ends:
                reminds = _ENDS[choices.ends]
            elif ends and k == len(into) - 4 and choices.finish == "buried-knot":
                reminds = said("leave the last hole for the buried knot")
            elif ends and choices.finish == "back-stitches" and move.hole == cut.to_hole and choices.back_stitches:
                reminds = several(
                    "{n} back stitch to come", "{n} back stitches to come", n=count(choices.back_stitches)
                )
            following = cut.moves[into[k + 1]] if not last else None
            found.append(Prompt(
                before + i, holes[k], move.hand, _toward(move), _way(move), _how(cut, k, into, seen, choices,
                                                                                 seam.row_of(move.hole)),
                _then(cut, i, following, seam, k, ends), reminds, number * cut.stitch.threads + thread,
                float(used[i, thread]) - taken[thread], cut.thread_mm[thread] - float(used[i, thread]),
                float(used[-1, thread] - used[i, thread]), float(keep[thread]), ahead[k], float(to_go[i]),
            ))  # fmt: skip
            seen[move.hole] = seen.get(move.hole, 0) + 1
            taken[thread] = float(used[i, thread])
        before += len(cut.moves)
        if in_hand is not None and begun <= in_hand.passes < len(found) and sewn.stitch.threads == 1:
            off = in_hand.mm - found[in_hand.passes].left_before_mm
            since = in_hand.passes
            found[since:] = [replace(p, thread_left_mm=p.thread_left_mm + off) for p in found[since:]]
        begun = len(found)
    return tuple(found)


_ENDS = {
    "trimmed": said("trim both ends close"),
    "melted": said("leave 2 to 3 mm and melt it; the flame away from fumes, wax and hands"),
    "glued": said("trim, a drop of glue on each end; air the room"),
}
_WORDS = {
    "lock": said("half in, round the other thread, and out"), "sink": said("into the middle of the leather, no farther"),
}  # fmt: skip


def _toward(move: Move) -> str:
    return "" if move.act in _WORDS else "back" if move.face == "front" else "front"


def _way(move: Move) -> Said:
    if move.act in _WORDS:
        return said("from the front") if move.face == "front" else said("from the back")
    return said("front to back") if move.face == "front" else said("back to front")


def _how(cut: Cut, k: int, into: list[int], seen: dict[int, int], choices: ThreadChoices, row: int) -> Said:
    move = cut.moves[into[k]]
    if move.act in _WORDS:
        return _WORDS[move.act]
    if into[k] and cut.moves[into[k] - 1].act == "edge":
        return said("over the edge and through again") if seen.get(move.hole) else said("over the edge, and through")
    if "butt" in cut.stitch.sews:
        return {
            -1: said("through the left edge"), 1: said("through the right edge"), 0: said("up through the gap"),
        }[row]  # fmt: skip
    if k == 0:
        return said("the first hole of this length")
    if cut.moves[into[k - 1]].hole == move.hole:
        below = choices.second_needle == "below"
        return said("below the thread already there") if below else said("above the thread already there")
    if seen.get(move.hole):
        return said("through a hole already sewn")
    return said("straight through")


def _then(cut: Cut, i: int, following: Move | None, seam: Seam, k: int, ends: bool) -> Said:
    move = cut.moves[i]
    if following is None:
        return said("pull, trim, and make the end safe") if ends else said("trim; join a new length")
    if k == 0 and cut.stitch.needles == 2 and cut.stitch.threads == 1:
        return said("draw the thread through to its middle")
    if k == 0:
        return said("leave a tail to hold")
    if following.hole == move.hole and following.needle != move.needle:
        return said("the other needle, same hole")
    if "butt" in cut.stitch.sews:
        gap = seam.row_of(move.hole) == 0
        return said("over to its own edge") if gap else said("pull until the edges touch, no more")
    if move.act == "lock":
        return said("draw both until they meet in the middle")
    if cut.stitch.needles == 2 and cut.stitch.threads == 1:
        return said("pull both, even and level")
    at = seam.hole_of(following.hole)
    over = cut.moves[i + 1].act == "edge"
    return (said("pull; over the edge to hole {n}") if over else said("pull; on to hole {n}")).filled(n=at + 1)


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
    return passes[at].hole, len({p.hole for p in passes[at:]})


def eye_says(sewn: SewnSeam, prompt: Prompt) -> Said:
    """Where to look for it on the other side."""
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
    return said(
        "look for it on the {face}: hole {h}, {e} in from the edge", h=hole, e=length(line.margin_mm), face=side
    )


def time_left(passes: tuple[Prompt, ...], made: int, pace_mm_per_min: float) -> Said:
    """How long the rest takes at this maker's pace, with so many made."""
    to_go = passes[max(made - 1, 0)].to_go_mm
    return said("{t} to the end", t=minutes(to_go / pace_mm_per_min))


def thread_says(passes: tuple[Prompt, ...], made: int) -> Said:
    """What the rest of the thread in hand is wanted for, and whether it will do, with so many made."""
    now, short = passes[made], runs_out(passes, made)
    holes = passes[made - 1].holes_left if made else now.holes_left + 1
    wants = long(now.wanted_before_mm)
    if short is None:
        return said("{n} holes want {w}: enough", n=count(holes), w=wants)
    at, lacking = short
    many = "hole" if lacking == 1 else "holes"
    return said("{k} {many} short of {w}: join at hole {h}", k=count(lacking), w=wants, h=count(at + 1), many=many)
