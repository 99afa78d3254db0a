"""Running stitch down the seam with one needle, and back through the same holes to fill the gaps."""

from collections.abc import Iterator

from ...texts import said
from ..moves import Course, Face, Move, weave

ID, TITLE = "running-down-and-back", said("running, down and back")
SAYS = said("one needle down the seam and back through the same holes: simple, as long as a saddle stitch, less even")
THREAD_OF = (0,)
SEWS = ("line", "box")


def moves(course: Course) -> Iterator[Move]:
    """In and out to the last hole, then back, on the other face of every stitch; back stitches where it began.

    Length without bends and slack: 2S + 2·Σt less one pass at the last hole.
    """
    face: Face = "front" if course.first_hand == "right" else "back"
    order = course.order
    way = (*order, *order[-2::-1])
    way = (*way, *order[1 : 1 + min(course.back, len(order) - 1)])
    yield from weave(way, face)
