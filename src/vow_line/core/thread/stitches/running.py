"""Running stitch down the seam with one needle, and back through the same holes to fill the gaps."""

from collections.abc import Iterator

from ...texts import said
from ..moves import Face, Move, Path, weave

ID, TITLE = "running-down-and-back", said("running, down and back")
SAYS = said("one needle down the seam and back through the same holes: simple, as long as a saddle stitch, less even")
THREAD_OF = (0,)
SEWS = ("line", "box")


def moves(path: Path) -> Iterator[Move]:
    """In and out to the last hole, then back, on the other face of every stitch; back stitches where it began.

    Length without bends and slack: 2S + 2·Σt less one pass at the last hole.
    """
    face: Face = "front" if path.first_hand == "right" else "back"
    order = path.order
    way = (*order, *order[-2::-1])
    way = (*way, *order[1 : 1 + min(path.back, len(order) - 1)])
    yield from weave(way, face)
