"""Double running: two threads from opposite ends, each filling the gaps that the other leaves."""

from collections.abc import Iterator

from ...texts import said
from ..moves import Course, Face, Move, other, weave

ID, TITLE = "double-running", said("double running")
SAYS = said("two threads from opposite ends, each in the gaps of the other: for sinew and thin hides")
THREAD_OF = (0, 1)
SEWS = ("line",)


def moves(course: Course) -> Iterator[Move]:
    """One thread down, another from the far end, on opposite faces everywhere; back stitches at the end of each.

    Each takes (n-1)p + n·t without bends and slack.
    """
    start: Face = "front" if course.first_hand == "right" else "back"
    for needle, order in ((0, course.order), (1, course.order[::-1])):
        # after n holes a needle has changed faces n times: the far end must begin where that leaves the gaps open
        face = start if needle == 0 or len(order) % 2 else other(start)
        yield from weave((*order, *course.again(order)), face, needle)
