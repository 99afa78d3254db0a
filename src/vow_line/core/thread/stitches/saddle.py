"""Saddle stitch: one thread, two needles, both through every hole but the first."""

from collections.abc import Iterator

from ...texts import said
from ..moves import Course, Face, Move, other

ID, TITLE = "saddle", said("saddle")
SAYS = said("both needles through every hole, one after the other: even, and it holds where one thread wears through")
THREAD_OF = (0, 0)
SEWS = ("line", "box")


def moves(course: Course) -> Iterator[Move]:
    """The thread is drawn half through the first hole; then at every hole the first hand's needle passes, and the other.

    Length without bends and slack: 2S + t0 + 2·Σt over the other holes.
    """
    face: list[Face] = ["back", "front"]
    begin = 1 if course.first_hand == "right" else 0
    order = course.sewn
    first = order[0]
    yield Move(begin, "pass", first, first, face[begin])
    face[begin] = other(face[begin])
    face[1 - begin] = other(face[begin])
    mouth = order.index(course.order[0]) + 1  # begun at the third hole, the mouth is come to later
    if mouth == 1:
        yield from _over(course.edge_loops, first, face)
    at, last = first, len(order) - len(course.again(course.order))
    for k, hole in enumerate(order[1:], 2):
        leading = 0 if (face[0] == "front") == (course.first_hand == "right") else 1
        buried = course.bury and k == len(order)
        for needle in (leading, 1 - leading):
            yield Move(needle, "run", at, hole, face[needle])
            yield Move(needle, "sink" if buried else "pass", hole, hole, face[needle])
            if not buried:
                face[needle] = other(face[needle])
        if buried:
            yield Move(leading, "tie", hole, hole, face[leading])
            yield Move(1 - leading, "tie", hole, hole, face[1 - leading])
        if k == mouth:
            yield from _over(course.edge_loops, hole, face)
        if k == last:
            yield from _over(course.end_loops, hole, face)
        at = hole


def _over(loops: int, hole: int, face: list[Face]) -> Iterator[Move]:
    """Loops over the edge in a hole, with the needle that is on the back."""
    needle = 0 if face[0] == "back" else 1
    for _ in range(loops):
        yield Move(needle, "edge", hole, hole, "back")
        yield Move(needle, "pass", hole, hole, "front")
