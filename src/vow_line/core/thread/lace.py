"""Lace and cord: how long a criss-cross takes, and what disc of leather a lace of that length is cut from."""

from typing import Annotated

import numpy as np
from pydantic import Field

from ..curve import frozen
from ..drawing import Mark
from ..frozen import Frozen
from ..reckoning import Reckoning, count, length, long, reckon
from ..texts import said

Size = Annotated[float, Field(gt=0, le=1000)]
TURNS = 60  # sides that a turn of the spiral is drawn with


class Lacing(Frozen):
    """A criss-cross through two rows of eyelets, and the disc its lace is cut from round and round."""

    eyelets: Annotated[int, Field(ge=2, le=60)] = 7
    gap_mm: Annotated[float, Field(ge=0, le=500)] = 25.0
    spacing_mm: Size = 50.0
    tail_mm: Annotated[float, Field(ge=0, le=3000)] = 250.0
    wide_mm: Annotated[float, Field(gt=0, le=60)] = 4.0
    core_mm: Annotated[float, Field(ge=0, le=400)] = 15.0
    leather_mm: Annotated[float, Field(ge=0, le=60)] = 0.0

    @property
    def long_mm(self) -> float:
        """g + 2 (n - 1) √(g² + h²) + 2 n t + 2 tails (from the path it takes)."""
        each = float(np.hypot(self.gap_mm, self.spacing_mm))
        return self.gap_mm + 2 * (self.eyelets - 1) * each + 2 * self.eyelets * self.leather_mm + 2 * self.tail_mm

    @property
    def disc_mm(self) -> float:
        """How wide a disc yields a lace so long: π (R² - r²) / w, turned round; r is the radius of the core that is left."""
        return 2 * float(np.sqrt(self.long_mm * self.wide_mm / np.pi + (self.core_mm / 2) ** 2))


def sums(lacing: Lacing) -> tuple[Reckoning, ...]:
    """What it takes, as a maker would write it."""
    n, g, h = lacing.eyelets, lacing.gap_mm, lacing.spacing_mm
    return (
        reckon("lace/long", said("Lace, long"), long(lacing.long_mm),
               said("{g} across + 2 × {k} × √({g:n}² + {h:n}²) + {m} × {leather} through + 2 tails of {t}", g=length(g),
                    h=length(h), k=count(n - 1), m=count(2 * n), leather=length(lacing.leather_mm), t=length(lacing.tail_mm)),
               ("lace",)),
        reckon("lace/high", said("From the first eyelet to the last"), length((n - 1) * h),
               said("{k} spaces of {h}", k=count(n - 1), h=length(h)), ("lace",)),
        reckon("lace/disc", said("A disc across"), length(lacing.disc_mm),
               said("2 √({l} × {w:n} / π + ({c:n} / 2)²), cut round and round {w} wide", l=length(lacing.long_mm),
                    w=length(lacing.wide_mm), c=length(lacing.core_mm)), ("disc",)),
    )  # fmt: skip


def picture(lacing: Lacing) -> tuple[Mark, ...]:
    """The criss-cross as it is threaded, and the spiral on the disc beside it."""
    n, g, h = lacing.eyelets, max(lacing.gap_mm, 1.0), lacing.spacing_mm
    rows = [[(0.0, k * h), (g, k * h)] for k in range(n)]
    crossing = [[(0.0, 0.0), (g, 0.0)]]
    crossing += [[rows[k][s], rows[k + 1][1 - s]] for k in range(n - 1) for s in (0, 1)]
    lace = np.array(crossing, float).reshape(-1, 2)
    eyelets = np.array(rows, float).reshape(-1, 2)
    out, core, wide = lacing.disc_mm / 2, lacing.core_mm / 2, lacing.wide_mm
    turns = max((out - core) / wide, 1.0)
    turn = np.linspace(0, 2 * np.pi * turns, max(int(turns * TURNS), 8))
    radius = out - wide * turn / (2 * np.pi)
    centre = np.array([g + out + max(0.25 * out, 30.0), (n - 1) * h / 2])
    spiral = centre + np.maximum(radius, 0)[:, None] * np.column_stack([np.cos(turn), np.sin(turn)])
    ring = centre + out * np.column_stack([np.cos(turn[: TURNS + 1]), np.sin(turn[: TURNS + 1])])
    return (
        Mark("grain", frozen(ring), True, "disc"), Mark("cut", frozen(spiral), id="disc"),
        Mark("front thread", frozen(lace), id="lace", pairs=True), Mark("cut", frozen(eyelets), id="lace", size_mm=h / 8),
    )  # fmt: skip
