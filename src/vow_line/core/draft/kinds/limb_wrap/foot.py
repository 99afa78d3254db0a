"""A strap under the foot: riveted at one side of a wrap's low end, closed by a stud at the other."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field

from ....curve import arc_length, walk
from ....frozen import Frozen
from ....texts import said
from ...joins import Fastener
from ...pieces import Piece, Punch, leather
from ...strapping import strapping
from .wrap import Wrap

SIDES = (0.25, 0.75)  # it hangs where the sides are, as shares of the low end from the closing line
UP_MM = 14.0  # its holes stand so far up from the low end, and in from its own (from memory)
HOLE_MM = 4.0


class FootStrap(Frozen):
    """How wide it is, and how long from the low end under the foot to the low end again."""

    width_mm: Annotated[float, Field(ge=8, le=60)] = 18.0
    long_mm: Annotated[float, Field(ge=40, le=600)] = 240.0


@dataclass(frozen=True, slots=True, eq=False)
class UnderFoot:
    """The strap, what holds it, and the holes for that in each panel, by its id."""

    strap: Piece
    fasteners: tuple[Fastener, ...]
    holes: Mapping[str, tuple[Punch, ...]]


def foot_strap(foot: FootStrap, wrap: Wrap, leather_mm: float) -> UnderFoot:
    """The strap and its holes, in itself and in the panels at whose low ends it hangs."""
    whole = foot.long_mm + 4 * UP_MM
    ends = (("strap-outer", UP_MM), ("strap-inner", whole - UP_MM))
    strap = strapping(
        "foot-strap", said("strap under the foot"), foot.width_mm, whole, "round", "round", leather(leather_mm), 3.0,
        tuple(Punch(id, said("hole at its end"), (u, 0.0), HOLE_MM) for id, u in ends),
    ).piece  # fmt: skip
    holes: dict[str, list[Punch]] = {part.id: [] for part in wrap.parts}
    through = []
    n = len(wrap.parts)
    for share, id, (end, _) in zip(SIDES, ("foot-outer", "foot-inner"), ends, strict=True):
        k = min(int(share * n), n - 1)
        row, above = wrap.parts[k].rows[-1], wrap.parts[k].rows[-2]
        s = (share * n - k) * float(arc_length(row)[-1])
        at = walk(row, [s])[0]
        up = walk(above, [(share * n - k) * float(arc_length(above)[-1])])[0] - at
        at = at + UP_MM * up / max(float(np.hypot(*up)), 1e-9)
        hole = Punch(id, said("hole for the strap under the foot"), (float(at[0]), float(at[1])), HOLE_MM)
        holes[wrap.parts[k].id].append(hole)
        through.append(((wrap.parts[k].id, id), ("foot-strap", end)))
    fasteners = (
        Fastener("foot-rivet", said("rivet of the strap under the foot"), "rivet", through[0]),
        Fastener("foot-stud", said("stud of the strap under the foot"), "stud", through[1]),
    )
    return UnderFoot(strap, fasteners, {id: tuple(punches) for id, punches in holes.items()})
