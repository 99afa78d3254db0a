"""The thread in a seam cut along its holes, as far as it has been sewn: the front above, the back below."""

from dataclasses import dataclass

import numpy as np

from ..curve import Line, arc_length, frozen, walk
from .moves import Move
from .sewn import SewnSeam

BESIDE = 0.62  # two threads in one hole lie so many diameters either side of its middle


@dataclass(frozen=True, slots=True, eq=False)
class Lying:
    """What one move of a needle laid: its line `(k, 2)`, along the seam and down through it in mm."""

    needle: int
    line: Line
    over_edge: bool = False


def places(sewn: SewnSeam) -> dict[int, float]:
    """How far along the seam each hole is first come to, mm."""
    seam = sewn.seam
    found: dict[int, float] = {}
    steps = np.concatenate([[0.0], np.cumsum(seam.steps_mm)])
    for hole, x in zip(seam.order, steps, strict=True):
        found.setdefault(hole, float(x))
    return found


def lying(sewn: SewnSeam, made: int, share: float, low_mm: float, high_mm: float) -> tuple[Lying, ...]:
    """What the first `made` moves laid between two places along the seam, and `share` of the one after them, last."""
    at, lying = places(sewn), list[Lying]()
    moves = sewn.moves
    for k, move in enumerate(moves[: made + 1]):
        if k == made and share <= 0:
            break
        a, b = at[sewn.seam.hole_of(move.hole)], at[sewn.seam.hole_of(move.to)]
        if max(a, b) < low_mm or min(a, b) > high_mm:
            continue
        line = _line(sewn, move, a, b)
        if line is None:
            continue
        if k == made:
            s = arc_length(line)
            part = walk(line, np.append(s[s < share * s[-1]], share * s[-1]))
            line = part if len(part) > 1 else np.vstack([line[0], line[0]])
        lying.append(Lying(move.needle, frozen(line), move.act == "edge"))
    return tuple(lying)


def _line(sewn: SewnSeam, move: Move, a: float, b: float) -> Line | None:
    """What one move laid from `a` to `b` along the seam; None for a knot."""
    seam, d = sewn.seam, sewn.thread_mm
    t = float(seam.stack_mm[seam.hole_of(move.hole)])
    aside = 0.0 if sewn.stitch.needles == 1 or sewn.stitch.threads > 1 else (move.needle - 0.5) * 2 * BESIDE * d
    a, b = a + aside, b + aside
    front, back, middle = -d / 2, t + d / 2, t / 2
    here, there = (front, back) if move.face == "front" else (back, front)
    match move.act:
        case "pass":
            return np.array([[a, here], [a, there]])
        case "run":
            return np.array([[a, here], [b, here]])
        case "edge":
            return np.array([[a, here], [b, there]])
        case "lock":
            return np.array([[a - d / 2, here], [a - d / 2, middle], [a + d / 2, middle], [a + d / 2, here]])
        case "sink":
            return np.array([[a, here], [a, middle]])
        case _:
            return None
