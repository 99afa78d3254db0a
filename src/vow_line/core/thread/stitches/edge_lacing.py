"""Edge lacing: over the edge down the seam and back, so that the lace crosses on the edge."""

from collections.abc import Iterator

from ..moves import Move, Path

NAME = "edge lacing"
SAYS = "over the edge down the seam and back: the lace crosses on the edge and covers it"
THREAD_OF = (0,)
SEWS = ("line",)


def moves(path: Path) -> Iterator[Move]:
    """Through from the front and over the edge to the next hole, to the end and back: twice t + √((2e + t)² + p²) a pitch."""
    order = path.order
    way = (*order, *order[-2::-1])
    for k, hole in enumerate(way):
        yield Move(0, "pass", hole, hole, "front")
        if k + 1 < len(way):
            yield Move(0, "edge", hole, way[k + 1], "back")
