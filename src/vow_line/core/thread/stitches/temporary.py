"""A seam for a while: a running stitch through every third hole, to hold the shape while it is formed; taken out again."""

from collections.abc import Iterator

from ..moves import Face, Move, Path, other

NAME = "temporary"
SAYS = "a running stitch through every third hole, to hold it while it is formed"
THREAD_OF = (0,)
SEWS = ("line",)
EVERY = 3


def moves(path: Path) -> Iterator[Move]:
    """In and out through every third hole and the last: S + t for every hole used."""
    order = path.order
    way = [*order[:-1:EVERY], order[-1]]
    face: Face = "front"
    yield Move(0, "pass", way[0], way[0], face)
    at, face = way[0], other(face)
    for hole in way[1:]:
        yield Move(0, "run", at, hole, face)
        yield Move(0, "pass", hole, hole, face)
        at, face = hole, other(face)
