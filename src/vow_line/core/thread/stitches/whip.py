"""Whip stitch: one needle over the edge, hole after hole."""

from collections.abc import Iterator

from ...texts import said
from ..moves import Course, Move, whip

ID, TITLE = "whip", said("whip")
SAYS = said("one needle through and over the edge to the next hole: thin edges, linings")
THREAD_OF = (0,)
SEWS = ("line",)


def moves(course: Course) -> Iterator[Move]:
    """Through from the front, over the edge to the next hole: a pitch takes t + √((2e + t)² + p²).

    Loops at the start and back stitches at the end go over the edge in the same hole.
    """
    order = course.order
    end = course.again(order) if course.on else order[-1:] * course.back
    way = (*(order[:1] * course.edge_loops), *order, *(order[-1:] * course.end_loops), *end)
    yield from whip(way)
