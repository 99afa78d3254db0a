"""Butt seam: two edges that meet, each needle going up through the gap and down through its own edge."""

from collections.abc import Iterator

from ...texts import said
from ..moves import Course, Move

ID, TITLE = "butt", said("butt")
SAYS = said("two edges that meet: up through the gap, over to the edge's own hole, down, and under to the gap")
THREAD_OF = (0, 0)
SEWS = ("butt",)


def moves(course: Course) -> Iterator[Move]:
    """The middle of the thread lies across the first pair of holes; then each needle goes under to the gap, up through it,
    over to the next hole of its edge and down. Of each needle a pitch takes √(e² + p²) + e + 2t (common practice).

    Nodes: hole i of the left edge is i, of the right n + i, the gap between them 2n + i.
    """
    n, order = course.holes, course.sewn
    first = order[0]
    begin = 1 if course.first_hand == "right" else 0
    needles = (begin, 1 - begin)
    yield Move(needles[0], "run", first + n * needles[1], first + n * needles[0], "front")
    for needle in needles:
        yield Move(needle, "pass", first + n * needle, first + n * needle, "front")
    at = first
    for hole in order[1:]:
        for needle in needles:
            here, gap, there = at + n * needle, at + 2 * n, hole + n * needle
            yield Move(needle, "run", here, gap, "back")
            yield Move(needle, "pass", gap, gap, "back")
            yield Move(needle, "run", gap, there, "front")
            yield Move(needle, "pass", there, there, "front")
        at = hole
