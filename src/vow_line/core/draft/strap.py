"""A strap riveted to the back that goes over the thing and closes on the front with a stud."""

import numpy as np

from ..curve import frozen
from ..ring import closed
from .pieces import Edge, Fastener, Piece, Punch

LAP_MM = 20.0  # a strap lies so far on either side to be held (from memory)
POST_MM = 3.0  # how thick the post of a small rivet or stud is (from memory)
RIVET_POST_OVER_MM = 3.0  # what a rivet's post needs beyond the stack (common practice)


def stud_strap(over_mm: float, wide_mm: float, leather_mm: float, count: int = 1) -> tuple[Piece, tuple[Fastener, ...]]:
    """Straps `over_mm` long between their laps, round at the stud; the rivet's post is the stack and 3 mm, the stud's is sold
    for the stack it holds.
    """
    long = over_mm + 2 * LAP_MM
    turn = np.linspace(0, np.pi, 25)
    tip = wide_mm / 2 * np.column_stack([1 - np.cos(turn), np.sin(turn)]) + [0.0, long - wide_mm / 2]
    ring = np.concatenate([[[wide_mm, 0.0], [0.0, 0.0]], tip])
    piece = Piece(
        "strap", frozen(ring), leather_mm, edges=(Edge("around", "free", frozen(closed(ring)), "early"),), count=count,
        turns="along",
        punches=(Punch("rivet hole", (wide_mm / 2, LAP_MM / 2), POST_MM),
                 Punch("stud hole", (wide_mm / 2, long - LAP_MM), POST_MM)),
    )  # fmt: skip
    stack = 2 * leather_mm
    each = (f" {k + 1}" if count > 1 else "" for k in range(count))
    fasteners = tuple(
        f for n in each for f in (
            Fastener(f"rivet{n}", "strap", (wide_mm / 2, LAP_MM / 2), stack, stack + RIVET_POST_OVER_MM),
            Fastener(f"stud{n}", "strap", (wide_mm / 2, long - LAP_MM), stack, stack),
        )
    )  # fmt: skip
    return piece, fasteners
