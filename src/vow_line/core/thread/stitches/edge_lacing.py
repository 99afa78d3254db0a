"""Edge lacing: over the edge down the seam and back, so that the lace crosses on the edge."""

from collections.abc import Iterator

from ...texts import said
from ..moves import Course, Move, whip

ID, TITLE = "edge-lacing", said("edge lacing")
SAYS = said("over the edge down the seam and back: the lace crosses on the edge and covers it")
THREAD_OF = (0,)
SEWS = ("line",)


def moves(course: Course) -> Iterator[Move]:
    """Through from the front and over the edge to the next hole, to the end and back: twice t + √((2e + t)² + p²) a pitch."""
    order = course.order
    way = (*order, *order[-2::-1])
    yield from whip(way)
