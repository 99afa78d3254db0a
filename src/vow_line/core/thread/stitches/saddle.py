"""Saddle stitch: one thread, two needles, both through every hole but the first."""

from collections.abc import Iterator
from typing import Literal

from ..moves import Move, Path

NAME = "saddle"
NEEDLES = 2
SHAPE = "line"


def moves(path: Path) -> Iterator[Move]:
    """The thread is drawn half through the first hole; then at every hole the first hand's needle passes, and the other.

    Length without bends and slack: 2S + t0 + 2·Σt over the other holes.
    """
    face: list[Literal["front", "back"]] = ["back", "front"]
    begin = 1 if path.first_hand == "right" else 0
    first = path.order[0]
    yield Move(begin, "pass", first, first, face[begin])
    face[begin] = face[1 - begin]
    face[1 - begin] = "front" if face[begin] == "back" else "back"
    for _ in range(path.edge_loops):
        needle = 0 if face[0] == "back" else 1
        yield Move(needle, "edge", first, first, "back")
        yield Move(needle, "pass", first, first, "front")
    at = first
    for hole in path.order[1:]:
        leading = 0 if (face[0] == "front") == (path.first_hand == "right") else 1
        for needle in (leading, 1 - leading):
            yield Move(needle, "run", at, hole, face[needle])
            yield Move(needle, "pass", hole, hole, face[needle])
            face[needle] = "front" if face[needle] == "back" else "back"
        at = hole
