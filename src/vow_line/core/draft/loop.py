"""The belt loop: a strip folded above the mouth, both ends sewn to the back by a box with a cross."""

from typing import Annotated

import numpy as np
from pydantic import Field

from ..curve import frozen
from ..frozen import Frozen
from .pieces import Edge, Piece, Placed, SeamLine, even_ply

Size = Annotated[float, Field(gt=0, le=200)]


class BeltLoop(Frozen):
    """A strip folded into a loop above the mouth, both ends sewn to the back by a box with a cross."""

    width_mm: Size = 28.0
    belt_mm: Size = 40.0
    belt_thick_mm: Size = 4.0
    box_mm: Size = 26.0
    down_mm: Annotated[float, Field(ge=0, le=200)] = 12.0

    def cut_length_mm(self, leather_mm: float, neutral: float) -> float:
        """Two boxes, two belts with 2 mm of ease, and half a turn round the belt's thickness: π(b/2 + kt)."""
        return 2 * (self.box_mm + self.belt_mm + 2.0) + np.pi * (self.belt_thick_mm / 2 + neutral * leather_mm)


def belt_loop(
    loop: BeltLoop, back: str, centre_u: float, mouth_v: float, margin_mm: float, leather_mm: float, neutral: float
) -> tuple[Piece, SeamLine]:
    """The strip and its box, sewn to the piece `back` about the line u = `centre_u`, below a mouth at v = `mouth_v`."""
    long, wide = loop.cut_length_mm(leather_mm, neutral), loop.width_mm
    ring = frozen([[0, 0], [wide, 0], [wide, long], [0, long]])
    piece = Piece(
        "belt loop",
        ring,
        leather_mm,
        edges=(
            Edge("long edges", "free", frozen([[0, 0], [0, long], [wide, long], [wide, 0]]), "early"),
            Edge("ends", "free", frozen([[0, long], [wide, long]]), "early"),
        ),
        folds=(frozen([[0, long / 2], [wide, long / 2]]),),
        turns="along",
    )
    centre_v = mouth_v + loop.down_mm + loop.box_mm / 2
    inset = min(margin_mm, 0.4 * wide, 0.4 * loop.box_mm)
    du, dv = wide / 2 - inset, loop.box_mm / 2 - inset
    box = frozen(np.array([[-du, dv], [du, dv], [du, -dv], [-du, -dv]]) + [centre_u, centre_v])
    tail, left = centre_v + loop.box_mm / 2, centre_u - wide / 2
    seam = SeamLine(
        "belt loop",
        box,
        plies=(even_ply(back, leather_mm), even_ply("loop, under", leather_mm), even_ply("loop, over", leather_mm)),
        placed=(
            Placed(back),
            Placed("belt loop", frozen([[1.0, 0.0], [0.0, -1.0]]), (-left, tail)),
            Placed("belt loop", shift=(-left, long - tail)),
        ),
        margin_mm=inset,
        shape="box",
        carries=True,
        closes=("belt loop/ends",),
        margin_at="piece.margin_mm",
    )
    return piece, seam
