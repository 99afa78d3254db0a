"""A second layer of leather inside the toe of a sheath, where a point would wear through: glued in, and sewn and finished with
the edge of the piece it lies on.
"""

import numpy as np
import shapely

from ..curve import Values, area_within, frozen
from ..texts import Said, said
from .joins import Join, Layer, Seat
from .pieces import Edge, Piece, Skive, other_leather, parted

GUARD_MM = 1.5  # leather of a toe guard (from memory)
RUN_OUT_MM = 8.0  # it is skived to nothing over so much of its top (from memory)


def guard_thick(x: Values, begins: float) -> Values:
    """How thick a guard that begins there is `(n,)` at places along it."""
    return GUARD_MM * np.clip((x - begins) / RUN_OUT_MM, 0.0, 1.0)


def toe_guard(face: Piece, begins: float, id: str, title: Said, leather_mm: float) -> tuple[Piece, Seat, Join]:
    """The guard of a piece, from `begins` to its toe; the place it is glued on, and how."""
    below = area_within(face.outline).intersection(shapely.box(-1e4, begins, 1e4, 1e5))
    whole = max(getattr(below, "geoms", [below]), key=lambda g: g.area)
    ring = shapely.get_coordinates(whole.exterior)[:-1]
    across = ring[ring[:, 1] < begins + 1e-6, 0]
    left, right = float(across.min()), float(across.max())
    outline, edges = parted(
        ring, (Edge("top", said("top"), ring, "free"), (left, begins)),
        (Edge("around", said("around"), ring, "flush"), (right, begins)),
    )  # fmt: skip
    ends = begins + RUN_OUT_MM
    thinned = shapely.get_coordinates(whole.intersection(shapely.box(-1e4, begins, 1e4, ends)).envelope.exterior)[:-1]
    folds = tuple(frozen([[fold[0, 0], begins], [fold[-1, 0], float(np.max(fold[:, 1]))]]) for fold in face.folds)
    piece = Piece(
        id, title, outline, edges, other_leather(GUARD_MM, leather_mm, "guard", said("leather for the toe guard")),
        skives=(Skive("top", said("to nothing along its top"), frozen(thinned), GUARD_MM, 0.0, (0.0, ends), (0.0, begins)),),
        folds=folds, turns="along", mirrored=face.mirrored,
        punches=tuple(p for p in face.punches if whole.contains(shapely.Point(p.centre))),
    )  # fmt: skip
    glued = Join(
        id,
        title,
        "glued",
        (Layer(face.id, "toe"), Layer(id)),
        says=said("glue it inside the toe before that is closed"),
    )
    return piece, Seat("toe", face.id, outline), glued
