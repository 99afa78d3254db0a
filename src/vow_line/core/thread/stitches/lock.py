"""Awl lockstitch: the awl's thread on the front and a free thread on the back, locked with each other inside every hole."""

from collections.abc import Iterator

from ...texts import said
from ..moves import Course, Face, Move

ID, TITLE = "awl-lockstitch", said("awl lockstitch")
SAYS = said("the awl's thread on the front, a free thread through its loop on the back, drawn together to the middle")
THREAD_OF = (0, 1)
SEWS = ("line", "box")
SIDES: tuple[tuple[int, Face], ...] = ((0, "front"), (1, "back"))


def moves(course: Course) -> Iterator[Move]:
    """At every hole the awl's thread goes half in and out again round the free thread, and the free thread round it.

    Each thread takes p + t a stitch when it locks in the middle (common practice).
    """
    order = course.sewn
    for k, hole in enumerate(order):
        for needle, face in SIDES:
            if k:
                yield Move(needle, "run", order[k - 1], hole, face)
            yield Move(needle, "lock", hole, hole, face)
