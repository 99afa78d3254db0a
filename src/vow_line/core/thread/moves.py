"""A stitch is a list of *moves* by its needles; length, picture and prompts all walk this one list.

The front is the face the maker sees, at the right hand; the back is at the left. A needle is named by its number for the
whole seam and by the hand it is in (the side it is on) when it moves.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ..curve import Values

BEND_OVER_DIAMETER = 0.57  # two quarter bends of radius d/2 less the corner they cut: π/2 - 1 diameters
KNOT_DIAMETERS = 14.0  # what half a reef knot takes of its end (from memory)

Act = Literal["pass", "run", "edge", "lock", "sink", "tie"]
Face = Literal["front", "back"]

_CODES: dict[Act, int] = {"pass": 0, "run": 1, "edge": 2, "lock": 3, "sink": 4, "tie": 5}
THROUGH: frozenset[Act] = frozenset({"pass", "lock", "sink"})
"""What is prompted and counted at the needle: everything that goes into a hole."""


@dataclass(frozen=True, slots=True)
class Move:
    """One move of one needle at `hole`: `pass` it to the other face, `run` on `face` to hole `to`, go over the `edge` to hole
    `to` on the other face, `lock` with the other thread in the middle and come out again, `sink` to the middle of the stack and
    stay there, `tie` a knot.

    `face` is the face the needle is on before the move.
    """

    needle: int
    act: Act
    hole: int
    to: int
    face: Face

    @property
    def hand(self) -> Literal["left", "right"]:
        """The hand that has the needle before the move."""
        return "right" if self.face == "front" else "left"

    @property
    def ends_on(self) -> Face:
        """The face it is on afterwards."""
        return other(self.face) if self.act in ("pass", "edge") else self.face


def other(face: Face) -> Face:
    """The other face."""
    return "back" if face == "front" else "front"


def weave(way: Sequence[int], face: Face, needle: int = 0) -> Iterator[Move]:
    """In and out through the nodes of a way with one needle, beginning on a face."""
    yield Move(needle, "pass", way[0], way[0], face)
    at, face = way[0], other(face)
    for node in way[1:]:
        yield Move(needle, "run", at, node, face)
        yield Move(needle, "pass", node, node, face)
        at, face = node, other(face)


def whip(way: Sequence[int]) -> Iterator[Move]:
    """Through every node of a way from the front and over the edge to the next, with one needle."""
    for k, node in enumerate(way):
        yield Move(0, "pass", node, node, "front")
        if k + 1 < len(way):
            yield Move(0, "edge", node, way[k + 1], "back")


@dataclass(frozen=True, slots=True)
class Course:
    """What a stitch is sewn along: the holes in `order`, loops over the edge at the first and the last, which hand begins; of a
    butt seam how many `holes` each edge has. `back` stitches are made over the last holes again, or where the line closes over
    those it goes `on` to; from the `third` hole it goes back to the first before it begins, with `bury` both ends are tied
    inside the last hole.
    """

    order: tuple[int, ...]
    edge_loops: int = 0
    holes: int = 0
    first_hand: Literal["left", "right"] = "left"
    back: int = 0
    third: bool = False
    bury: bool = False
    end_loops: int = 0
    on: tuple[int, ...] = ()

    def again(self, order: tuple[int, ...]) -> tuple[int, ...]:
        """The holes sewn a second time after `order`, this or the same the other way."""
        n = min(self.back, len(order) - 1)
        if self.on:
            return order[1 : 1 + n] if order[0] == order[-1] else self.on[:n]
        return order[-2 : -2 - n : -1]

    @property
    def sewn(self) -> tuple[int, ...]:
        """The holes in the order a saddle stitcher visits them, first turns and back stitches among them."""
        order = self.order
        start = (order[2], order[1]) if self.third and len(order) > 3 else ()
        return (*start, *order, *self.again(order))


Apart = Callable[[NDArray[np.intp], NDArray[np.intp]], tuple[Values, Values]]


def lengths(
    moves: Sequence[Move], apart: Apart, stack_mm: Values, diameter_mm: float, compression: float, margin_mm: float
) -> Values:
    """Thread taken by each move, `(len(moves),)` mm, with d the thread, t the stack under the hole, c how far leather gives.

    `apart` tells how far it is from nodes to nodes on the front and on the back. pass: t(1-c) + 0.57 d; run: the distance
    between the holes on the face it lies on; over the edge: 2e + t across and as far along as it goes; lock:
    half way in, round the other thread and out, t(1-c) + 0.57 d; sink: half of that; tie: 14 d (from the path; the knot from
    memory).
    """
    at, to, code = np.array([(m.hole, m.to, _CODES[m.act]) for m in moves]).T
    front, back = apart(at, to)
    runs = np.where([m.face == "front" for m in moves], front, back)
    t = stack_mm[at] * (1 - compression)
    through = t + BEND_OVER_DIAMETER * diameter_mm
    over = np.hypot(2 * margin_mm + t, runs)
    knot = np.full(len(t), KNOT_DIAMETERS * diameter_mm)
    return np.choose(code, [through, runs, over, through, through / 2, knot])
