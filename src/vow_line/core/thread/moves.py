"""A stitch is a list of *moves* by its needles; length, picture and prompts all walk this one list.

The front is the face the maker sees, at the right hand; the back is at the left. A needle is named by its number for the
whole seam and by the hand it is in (the side it is on) when it moves.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..curve import Line, Values

BEND_OVER_DIAMETER = 0.57  # two quarter bends of radius d/2 less the corner they cut: π/2 - 1 diameters

_CODES = {"pass": 0, "run": 1, "edge": 2}


@dataclass(frozen=True, slots=True)
class Move:
    """One move of one needle at `hole`: pass it to the other face, run on `face` to hole `to`, or go over the edge.

    `face` is the face the needle is on before the move.
    """

    needle: int
    act: Literal["pass", "run", "edge"]
    hole: int
    to: int
    face: Literal["front", "back"]

    @property
    def hand(self) -> Literal["left", "right"]:
        """The hand that has the needle before the move."""
        return "right" if self.face == "front" else "left"


@dataclass(frozen=True, slots=True)
class Path:
    """What a stitch is sewn along: the holes in order, loops over the edge at the first, which hand begins; of a butt seam
    how many `holes` each edge has.
    """

    order: tuple[int, ...]
    edge_loops: int = 0
    holes: int = 0
    first_hand: Literal["left", "right"] = "left"


def lengths(
    moves: Sequence[Move], points: Line, stack_mm: Values, diameter_mm: float, compression: float, margin_mm: float
) -> Values:
    """Thread taken by each move, `(len(moves),)` mm.

    pass: t(1-c) + 0.57 d; run: the distance between the holes; over the edge: 2e + t (common practice, from the path).
    """
    at, to, code = np.array([(m.hole, m.to, _CODES[m.act]) for m in moves]).T
    runs = np.hypot(*(points[to] - points[at]).T)
    t = stack_mm[at] * (1 - compression)
    return np.choose(code, [t + BEND_OVER_DIAMETER * diameter_mm, runs, 2 * margin_mm + t])
