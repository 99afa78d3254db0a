"""Butt seam in full crosses: two edges that meet, a cross over them at every pitch."""

from collections.abc import Iterator
from itertools import pairwise

from ...texts import said
from ..moves import Course, Move

ID, TITLE = "crosses", said("crosses")
SAYS = said("two edges that meet, a full cross over them at every pitch")
THREAD_OF = (0, 0)
SEWS = ("butt",)


def moves(course: Course) -> Iterator[Move]:
    """Each needle goes over the joint to the other edge's next hole, down, on under that edge, up, and back.

    Of each needle a pitch takes √(4e² + p²) + p + 2t (common practice). Nodes: hole i of the left edge is i, of the right
    n + i.
    """
    n = course.holes
    order = (*course.order, *course.again(course.order))
    yield Move(0, "run", order[0] + n, order[0], "back")  # the middle of the thread lies under the first pair of holes
    for needle in (0, 1):
        yield Move(needle, "pass", order[0] + n * needle, order[0] + n * needle, "back")
    sides = [0, 1]
    for k, (at, to) in enumerate(pairwise(order)):
        leading = (0, 1) if course.first_hand == "left" else (1, 0)
        for needle in leading:
            if k % 2 == 0:  # over from this hole to the next one on the other edge
                a, b = at + n * sides[needle], to + n * (1 - sides[needle])
            else:  # on under the edge, up, and over backwards
                a, b = to + n * sides[needle], at + n * (1 - sides[needle])
                yield Move(needle, "run", at + n * sides[needle], a, "back")
                yield Move(needle, "pass", a, a, "back")
            yield Move(needle, "run", a, b, "front")
            yield Move(needle, "pass", b, b, "front")
            if k % 2 and k + 2 < len(order):
                c = to + n * (1 - sides[needle])
                yield Move(needle, "run", b, c, "back")
                yield Move(needle, "pass", c, c, "back")
        sides = [1 - s for s in sides]
