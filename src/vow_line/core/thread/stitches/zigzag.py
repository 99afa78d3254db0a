"""Zigzag over two edges that meet, with one needle, down and back: for short stretches."""

from collections.abc import Iterator

from ...texts import said
from ..moves import Course, Move, weave

ID, TITLE = "zigzag", said("zigzag")
SAYS = said("one needle from edge to edge, down and back: short stretches")
THREAD_OF = (0,)
SEWS = ("butt",)


def moves(course: Course) -> Iterator[Move]:
    """From a hole of the one edge to the next hole of the other, over and under in turn, and back on the faces left open.

    A pitch takes 2 (√(4e² + p²) + t). Nodes: hole i of the left edge is i, of the right n + i.
    """
    n = course.holes
    order = course.order
    down = [hole + n * (k % 2) for k, hole in enumerate(order)]
    way = (*down, *down[-2::-1])
    yield from weave(way, "back")
