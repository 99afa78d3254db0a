"""The frog of a cased scabbard: a band round the cover below its mouth, closed by a stud so that it comes off, and its hangers.

The band is drawn with its long way down, across it the way along the scabbard, the mouth's side first; hangers stand over that
side.
"""

from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field

from ....curve import frozen
from ....frozen import Frozen
from ....memory import remembered
from ....texts import said
from ...joins import Belt, Fastener, Goes, Join, Layer, Seat, Sewing
from ...loop import EASE_MM, strip
from ...pieces import Edge, Piece, Punch, edged, leather
from ...strap import POST_MM, numbered
from ...wrap import flat_length
from .core import Core, girth

INSET_MM = 4.0  # a hanger's box lies so far inside the band's edges (from memory)
SWORD_BELT_MM = 60.0  # what a frog opens to for a sword belt (common practice)
UP, OVER = (
    frozen([[0.0, -1.0], [-1.0, 0.0]]),
    frozen([[0.0, 1.0], [-1.0, 0.0]]),
)  # a hanger's two ends, in the band's frame

Size = Annotated[float, Field(gt=0, le=200)]


class Frog(Frozen):
    """Choices for a frog; every length in mm. The band is `band_mm` wide and begins `below_mm` under the mouth, its ends lie
    `lap_mm` over each other; each hanger is `hanger_mm` wide and lets a belt of `belt_mm` hang `drop_mm` above the band.
    """

    band_mm: Annotated[float, Field(ge=15, le=120)] = 36.0
    below_mm: Annotated[float, Field(ge=0, le=200)] = 10.0
    lap_mm: Annotated[float, Field(ge=10, le=80)] = 24.0
    hangers: Annotated[int, Field(ge=1, le=2)] = 1
    hanger_mm: Annotated[float, Field(ge=8, le=100)] = 26.0
    belt_mm: Size = SWORD_BELT_MM
    belt_thick_mm: Annotated[float, Field(gt=0, le=20)] = 4.0
    drop_mm: Annotated[float, Field(ge=0, le=200)] = 15.0

    def at_mm(self, core: Core) -> float:
        """Where along the scabbard the middle of the band lies."""
        return min(core.mouth + self.below_mm + self.band_mm / 2, float(core.x[-1]))

    def way_mm(self, core: Core, rounded: float, leather_mm: float, neutral: float) -> float:
        """From hole to hole: the girth of the covered core there, and a whole turn of the band."""
        half, thick = (np.interp(self.at_mm(core), core.x, v) for v in (core.half, core.thick))
        around = float(girth(np.array([half]), np.array([thick / 2]), rounded)[0]) + 2 * np.pi * leather_mm
        return float(flat_length(around, 2 * np.pi, neutral, leather_mm))

    def hanger_long_mm(self, leather_mm: float, neutral: float) -> float:
        """A hanger cut: two boxes, twice from the band past the belt with its ease, and half a turn round the belt."""
        return float(2 * (self.box_mm + self.drop_mm + self.belt_mm + EASE_MM)
                     + np.pi * (self.belt_thick_mm / 2 + neutral * leather_mm))  # fmt: skip

    @property
    def box_mm(self) -> float:
        """How far a hanger lies on the band."""
        return self.band_mm - INSET_MM


@dataclass(frozen=True, slots=True, eq=False)
class FrogParts:
    """The band and its hangers, how they are joined, where hangers lie, the stud, and the way the band goes."""

    pieces: tuple[Piece, ...] = ()
    joins: tuple[Join, ...] = ()
    seats: tuple[Seat, ...] = ()
    fasteners: tuple[Fastener, ...] = ()
    straps: tuple[Goes, ...] = ()
    belts: tuple[Belt, ...] = ()


@remembered("part")
def frog_parts(
    frog: Frog, way_mm: float, at_mm: float, margin_mm: float, leather_mm: float, neutral: float
) -> FrogParts:
    """The frog whose band goes `way_mm` from hole to hole."""
    wide, long = frog.band_mm, way_mm + frog.lap_mm
    outline, edges = edged(Edge("around", said("around"), frozen([[0, 0], [wide, 0], [wide, long], [0, long]]), "free"))
    holes = (("stud-hole", said("stud hole"), frog.lap_mm / 2),
             ("closing-hole", said("closing hole"), long - frog.lap_mm / 2))  # fmt: skip
    punches = tuple(Punch(name, title, (wide / 2, v), POST_MM) for name, title, v in holes)
    band = Piece(
        "frog", said("frog's band"), outline, edges, leather(leather_mm, neutral), punches=punches, turns="along"
    )
    pieces, joins, seats, belts = [band], [], [], []
    for k, (id, title) in enumerate(numbered("hanger", said("hanger"), frog.hangers)):
        middle = long / 2 + (k - (frog.hangers - 1) / 2) * (frog.hanger_mm + 2 * INSET_MM)
        hanger_long = frog.hanger_long_mm(leather_mm, neutral)
        pieces.append(strip(id, title, frog.hanger_mm, hanger_long, leather_mm))
        runs = hanger_long / 2 + np.pi * (frog.belt_thick_mm / 2 + neutral * leather_mm) / 2 + frog.belt_mm / 2
        belts.append(Belt(id, frozen([[0.0, runs], [frog.hanger_mm, runs]]), frog.belt_mm))
        inset = min(margin_mm, 0.4 * frog.hanger_mm, 0.4 * frog.box_mm)
        du, dv = frog.box_mm / 2 - inset, frog.hanger_mm / 2 - inset
        corners = np.array([[-du, dv], [du, dv], [du, -dv], [-du, -dv]]) + [frog.box_mm / 2, middle]
        half = np.array([frog.box_mm, frog.hanger_mm]) / 2
        on = np.array([[-1, 1], [1, 1], [1, -1], [-1, -1]]) * half + [frog.box_mm / 2, middle]
        seats.append(Seat(id, "frog", frozen(on)))
        side, tail = middle + frog.hanger_mm / 2, frog.box_mm
        joins.append(Join(
            id, title, "box",
            (Layer("frog", id, said("band")),
             Layer(id, "end-1", said("hanger, under"), turn=UP, shift=(side, tail)),
             Layer(id, "end-2", said("hanger, over"), turn=OVER, shift=(side, hanger_long - tail))),
            Sewing(frozen(corners), inset, carries=True, margin_at="piece.margin_mm"),
        ))  # fmt: skip
    stud = Fastener("frog-stud", said("frog's stud"), "stud", (("frog", "stud-hole"), ("frog", "closing-hole")))
    goes = Goes(
        "frog", ("stud-hole", "closing-hole"), (("frog", "stud-hole"), ("frog", "closing-hole")), "cover", at_mm
    )
    return FrogParts(tuple(pieces), tuple(joins), tuple(seats), (stud,), (goes,), tuple(belts))
