"""A limb laid flat for its wrap: the settled piece with its closing edges moved in for a gap or out for a lap, how far it must
stretch or shrink, and the same wrapped again.
"""

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from ....curve import Line, Values, arc_length, frozen, walk
from ....measure import LimbBody
from ....memory import remembered
from ...flatten import Flat, flatten
from ...surface import ALONG, ROUND, Surface, surface

Closing = Literal["back", "outside", "inside", "front"]
CLOSING_RAD: dict[Closing, float] = {"front": 0.0, "outside": np.pi / 2, "back": np.pi, "inside": -np.pi / 2}
AVERAGED_MM = 10.0  # what leather takes is compared with strain averaged over so much


@dataclass(frozen=True, slots=True, eq=False)
class Girded:
    """A girth line: its place along the limb, how long it is round, how long flat, from closing line to closing line, and how
    much flat is longer than round.
    """

    at_mm: float
    round_mm: float
    flat_mm: float

    @property
    def over_mm(self) -> float:
        """How much longer flat than round."""
        return self.flat_mm - self.round_mm


@dataclass(frozen=True, eq=False)
class Wrap:
    """A limb between two places as a surface, and that laid flat; what stands open between its edges at its low and its high
    end, less than nothing where they lap.
    """

    surface: Surface
    flat: Flat
    open_low_mm: float
    open_high_mm: float

    @cached_property
    def open_mm(self) -> Values:
        """What stands open at each row `(n + 1,)`, from the top down."""
        at = self.surface.at_mm
        share = (at - at[-1]) / max(float(at[0] - at[-1]), 1e-9)
        return np.asarray(self.open_low_mm + (self.open_high_mm - self.open_low_mm) * share)

    @cached_property
    def rows(self) -> tuple[Line, ...]:
        """Each girth line on the flat piece from its left edge to its right."""
        return tuple(_drawn_in(row, gap / 2) for row, gap in zip(self.flat.points, self.open_mm, strict=True))

    @property
    def left(self) -> Line:
        """The left edge, from the top down."""
        return frozen([row[0] for row in self.rows])

    @property
    def right(self) -> Line:
        """The right edge, from the top down."""
        return frozen([row[-1] for row in self.rows])

    @property
    def middle(self) -> Line:
        """The middle line, from the top down."""
        return frozen(self.flat.points[:, self.flat.points.shape[1] // 2])

    @cached_property
    def girded(self) -> tuple[Girded, ...]:
        """Every girth line, from the top down."""
        flat = np.linalg.norm(np.diff(self.flat.points, axis=1), axis=2).sum(axis=1)
        return tuple(
            Girded(float(at), float(girth), float(wide))
            for at, girth, wide in zip(self.surface.at_mm, self.surface.girth_mm, flat, strict=True)
        )

    @property
    def strains(self) -> tuple[Values, Values]:
        """How much each triangle must stretch and shrink, `(k,)`, averaged over 10 mm about it."""
        return _averaged(self.flat)

    @property
    def stretched(self) -> float:
        """The most it must stretch anywhere."""
        return max(float(self.strains[0].max()), 0.0)

    @property
    def shrunk(self) -> float:
        """The most it must shrink anywhere, as a share."""
        return max(-float(self.strains[1].min()), 0.0)

    def v_of(self, at_mm: float) -> float:
        """Where a place along the limb lies down the middle of the piece."""
        at = self.surface.at_mm[::-1]
        return float(np.interp(at_mm, at, self.middle[::-1, 1]))

    def at_of(self, v: float) -> float:
        """Which place along the limb lies so far down the middle of the piece."""
        return float(np.interp(v, self.middle[:, 1], self.surface.at_mm))


def _drawn_in(row: Line, by: float) -> Line:
    """A row shorter by so much at either end, or run on straight where that is less than nothing."""
    if by < 0:
        first, last = row[0] - row[1], row[-1] - row[-2]
        row = np.concatenate([
            [row[0] - by * first / max(float(np.hypot(*first)), 1e-9)], row[1:-1],
            [row[-1] - by * last / max(float(np.hypot(*last)), 1e-9)],
        ])  # fmt: skip
        return frozen(row)
    s = arc_length(row)
    by = min(by, 0.45 * float(s[-1]))
    inner = s[(s > by + 1e-6) & (s < s[-1] - by - 1e-6)]
    return frozen(walk(row, np.concatenate([[by], inner, [s[-1] - by]])))


@remembered("part")
def laid_flat(
    body: LimbBody, from_mm: float, to_mm: float, more_mm: float, closing: Closing,
    steps: tuple[int, int] = (ROUND, ALONG),
) -> tuple[Surface, Flat]:  # fmt: skip
    """The limb between two places as a surface, `more_mm` more round, and that laid flat."""
    made = surface(body, from_mm, to_mm, more_mm, CLOSING_RAD[closing], steps)
    return made, flatten(made.points)


@remembered("part")
def _averaged(flat: Flat) -> tuple[Values, Values]:
    """Strains averaged over the two triangles of each square, and over as many squares as lie in 10 mm."""
    rows, columns = (n - 1 for n in flat.points.shape[:2])
    m = rows * columns
    long, wide = (float(np.linalg.norm(np.diff(flat.points, axis=k), axis=2).mean()) for k in (0, 1))
    over = [max(int(AVERAGED_MM / size), 1) for size in (long, wide)]
    found = []
    for strain in (flat.most, flat.least):
        square = ((strain[:m] + strain[m:]) / 2).reshape(rows, columns)
        for axis, n in enumerate(over):
            if n > 1:
                kernel = np.ones(n) / n
                padded = np.pad(square, [(n // 2, n - 1 - n // 2) if k == axis else (0, 0) for k in (0, 1)], "edge")
                square = np.apply_along_axis(np.convolve, axis, padded, kernel, "valid")
        found.append(frozen(np.tile(square.ravel(), 2)))
    return found[0], found[1]
