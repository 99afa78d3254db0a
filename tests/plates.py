"""A plate of leather with seam lines on it, joined and drafted, to try the stitching on."""

from typing import Any

import shapely

from vow_line.core.curve import frozen
from vow_line.core.draft import Assembly, Draft, Edge, Piece
from vow_line.core.draft.joins import Join, Layer, Seat, Sewing
from vow_line.core.draft.pieces import edged, leather
from vow_line.core.draft.seam_line import Placed, Ply, SeamLine

PLATE = [[-9.0, -9.0], [109.0, -9.0], [109.0, 109.0], [-9.0, 109.0]]


def same_area(one: Any, other: Any, within_mm2: float = 0.01) -> bool:
    """Whether two rings enclose the same, wherever they begin and whichever way they run."""
    return bool(shapely.Polygon(one).symmetric_difference(shapely.Polygon(other)).area < within_mm2)


def plate(outline: Any = PLATE, **more: Any) -> Piece:
    ring, edges = edged(Edge("around", "around", frozen(outline), "free"))
    return Piece("piece", "piece", ring, edges, leather(3.0), **more)


def sewn(piece: Piece, *lines: Any) -> Draft:
    """The plate with seams along these lines, each through the plate alone."""
    joins, seats = [], []
    for k, line in enumerate(lines):
        name = "seam" if k == 0 else f"seam-{k + 1}"
        seats.append(Seat(name, "piece", frozen(line)))
        joins.append(Join(name, name, "line", (Layer("piece", name, "leather"),), Sewing(frozen(line), 3.0)))
    return Draft(Assembly((piece,), tuple(joins), tuple(seats)), (), (), lambda: (), lambda: (), ("piece",))


def seam_line(points: Any, *plies: Ply, placed: tuple[Placed, ...] = (Placed("piece"),), **more: Any) -> SeamLine:
    """A seam line of its own, through one ply of 3 mm unless others are given."""
    line = frozen(points)
    return SeamLine("seam", "seam", line, plies or (Ply("leather", 3.0, 0),), placed, "line", Sewing(line, 3.0, **more))
