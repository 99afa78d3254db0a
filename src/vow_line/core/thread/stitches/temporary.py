"""A seam for a while: a running stitch through every third hole, to hold the shape while it is formed; taken out again."""

from collections.abc import Iterator

from ...texts import said
from ..moves import Course, Move, weave

ID, TITLE = "temporary", said("temporary")
SAYS = said("a running stitch through every third hole, to hold it while it is formed")
THREAD_OF = (0,)
SEWS = ("line",)
EVERY = 3


def moves(course: Course) -> Iterator[Move]:
    """In and out through every third hole and the last: S + t for every hole used."""
    order = course.order
    way = [*order[:-1:EVERY], order[-1]]
    yield from weave(way, "front")
