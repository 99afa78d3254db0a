"""What to do next at the needle: one prompt for each pass, from the same moves that gave the length."""

from dataclasses import dataclass

import numpy as np

from ..reckoning import Said, count, long, minutes, said
from ..thread import SewnSeam


@dataclass(frozen=True, slots=True)
class Prompt:
    """One pass of one needle: where, which hand, which way, and what is left after it."""

    hole: int
    hand: str
    way: str
    how: str
    then: str
    thread_left_mm: float
    wanted_mm: float
    holes_left: int
    to_go_mm: float


def prompts(sewn: SewnSeam, second_needle: str) -> tuple[Prompt, ...]:
    """The passes of a seam in order; `wanted_mm` is what the passes still to come take with their slack."""
    found: list[Prompt] = []
    seam = sewn.seam
    for number, cut in enumerate(sewn.cuts):
        used = np.cumsum(cut.move_mm) * (1 + cut.slack_mm / max(cut.path_mm, 1e-9))
        runs = np.where([m.act == "run" for m in cut.moves], cut.move_mm, 0.0)
        later = sum(float(c.move_mm[[m.act == "run" for m in c.moves]].sum()) for c in sewn.cuts[number + 1 :])
        to_go = (runs.sum() - np.cumsum(runs) + later) / 2
        passes = [i for i, m in enumerate(cut.moves) if m.act == "pass"]
        holes = [seam.hole_of(cut.moves[i].hole) for i in passes]
        last_hole = max(passes, default=0)
        seen: set[int] = set()
        later_holes, ahead = set[int](), [0] * len(holes)
        for k in range(len(holes) - 1, -1, -1):
            ahead[k] = len(later_holes) - (holes[k] in later_holes)
            later_holes.add(holes[k])
        for k, i in enumerate(passes):
            move = cut.moves[i]
            hole, row = holes[k], seam.row_of(move.hole)
            again = k + 1 < len(passes) and cut.moves[passes[k + 1]].hole == move.hole
            second = k > 0 and cut.moves[passes[k - 1]].hole == move.hole
            over_edge = i > 0 and cut.moves[i - 1].act == "edge"
            how = "over the edge and through again" if over_edge else _how(k, second, second_needle, move.hole in seen)
            if seam.line.shape == "butt" and not second:
                how = {-1: "through the left edge", 1: "through the right edge", 0: "up through the gap"}[row]
            then = "the other needle, same hole" if again else "pull both, even and level"
            if seam.line.shape == "butt":
                then = "over to its own edge" if row == 0 else "pull until the edges touch, no more"
            if k == 0:
                then = "draw the thread through to its middle"
            if i == last_hole:
                then = (
                    "pull, trim, and make the end safe" if number == len(sewn.cuts) - 1 else "trim; join a new length"
                )
            found.append(Prompt(
                hole, move.hand, "front to back" if move.face == "front" else "back to front", how, then,
                cut.total_mm - float(used[i]), float(used[-1] - used[i]), ahead[k],
                float(to_go[i]),
            ))  # fmt: skip
            seen.add(move.hole)
    return tuple(found)


def _how(k: int, second: bool, second_needle: str, sewn_before: bool) -> str:
    if k == 0:
        return "the first hole of this length"
    if second:
        return f"{second_needle} the thread already there"
    return "back stitch: through a hole already sewn" if sewn_before else "straight through"


def time_left(prompt: Prompt, pace_mm_per_min: float) -> Said:
    """How long the rest takes at this maker's pace."""
    return said("{t} to the end", t=minutes(prompt.to_go_mm / pace_mm_per_min))


def thread_says(prompt: Prompt) -> Said:
    """What is left and whether it will do."""
    return said("{n} holes want {w}: enough" if prompt.thread_left_mm >= prompt.wanted_mm else "{n} holes want {w}: short",
                n=count(prompt.holes_left), w=long(prompt.wanted_mm))  # fmt: skip
