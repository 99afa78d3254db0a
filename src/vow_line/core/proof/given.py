"""What a proof is given, and what its checks find."""

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..curve import Line, Values, thinned
from ..draft.assembly import Assembly
from ..draft.joins import Join, Layer, Shell
from ..draft.pieces import Piece
from ..draft.seam_line import COMPLEX, SeamLine
from ..finding import Level, Mend, Station
from ..measure.body import Body
from ..memory import cached_property, remembered
from ..quantity import Q
from ..stitch import Seam
from ..texts import Said, listed, said

TRUE_MM = 0.3  # lines that should be one may lie so far apart: outlines are simplified, holes are made by hand
THIN_MM = (
    0.02  # distances are taken from lines less their points that lie nearer than this to the line through the others
)


class Fault(NamedTuple):
    """Something that does not hold: how bad it is, what to call it, what is wrong, where it lies, and what would mend it."""

    level: Level
    code: str
    says: Said
    at: str = ""
    mends: tuple[Mend, ...] = ()
    station: Station = "draft"


class Result(NamedTuple):
    """What a check says: what was looked at, with its number, the faults, and at how many things it looked."""

    says: Said
    number: Q
    faults: tuple[Fault, ...]
    looked: int = 1


@dataclass(frozen=True, eq=False)
class Assembled:
    """An assembly, and the body it is for."""

    assembly: Assembly
    body: Body | None

    @property
    def spread_mm(self) -> float:
        """How far the readings of the body stray."""
        return self.body.spread_mm if self.body else 0.0

    @cached_property
    def closing(self) -> tuple[tuple[Shell, tuple[Join, ...]], ...]:
        """Each shell with the joins in which two places of its own pieces meet."""
        found = []
        for shell in self.assembly.shells:
            own = set(shell.pieces)
            meets = [j for j in self.assembly.joins
                     if sum(x.piece in own and bool(x.part) and not x.between for x in j.layers) > 1]  # fmt: skip
            found.append((shell, tuple(meets)))
        return tuple(found)

    def shell(self, id: str) -> Shell:
        """The shell of that id."""
        return next(s for s in self.assembly.shells if s.id == id)

    def line(self, join: str) -> SeamLine | None:
        """The line of a join's seam, where it is sewn."""
        return next((s for s in self.assembly.seams if s.id == join), None)

    def between(self, join: Join) -> tuple[tuple[int, Layer, Piece], ...]:
        """The layers of a join that lie between others, with their number and piece."""
        return tuple((k, x, self.assembly.piece(x.piece)) for k, x in enumerate(join.layers) if x.between)


@dataclass(frozen=True, eq=False)
class Given(Assembled):
    """An assembly with the holes of its seams, and the body it is for."""

    seams: tuple[Seam, ...]

    def seam(self, join: str) -> Seam | None:
        """The seam of a join, where it is sewn."""
        return next((s for s in self.seams if s.id == join), None)


@remembered("piece")
def area_of(piece: Piece) -> shapely.Polygon:
    """The area of a piece without its cut-outs, prepared."""
    if len(piece.outline) < 3:
        return shapely.Polygon()
    area = shapely.Polygon(piece.outline, [s for s in piece.slots if len(s) > 2])
    shapely.prepare(area)
    return area


def solid_of(piece: Piece) -> shapely.Polygon:
    """The area of a piece with its cut-outs, prepared."""
    if not piece.slots:
        return area_of(piece)
    area = shapely.Polygon(piece.outline)
    shapely.prepare(area)
    return area


@remembered("piece")
def cut_of(piece: Piece) -> Line:
    """The cut round a piece, to its first point again, as distances are taken from it."""
    return thinned(np.concatenate([piece.outline, piece.outline[:1]]), THIN_MM)


def area_of_ring(ring: Line) -> BaseGeometry:
    """The area within a ring."""
    area = shapely.Polygon(ring)
    return area if area.is_valid else area.buffer(0)


def counted(*things: tuple[int, Said]) -> Said:
    """Things of which there are so many, those of which there is none left out: 2 folds and 1 slot."""
    return listed([thing for n, thing in things if n] or [said("none")])


def long(line: Line) -> float:
    """Length of a line by its points."""
    return float(np.hypot(*np.diff(line, axis=0).T).sum())


AT_ONCE = 500_000  # distances: thousands of holes from thousands of teeth would take a gigabyte


def from_line(points: Line, *lines: Line) -> Values:
    """Distances `(n,)` of points from the nearest of some lines, infinite where there is none. As complex numbers turned into
    each straight stretch's own direction, what is beside it is imaginary: half the time GEOS takes for points one by one.
    """
    if not lines:
        return np.full(len(points), np.inf)
    start = np.concatenate([x[:-1] for x in lines]) @ COMPLEX
    way = np.concatenate([x[1:] for x in lines]) @ COMPLEX - start
    long = np.abs(way)
    turn = np.divide(way.conj(), long, out=np.ones_like(way), where=long > 0)  # a point twice over lies where it lies
    begins, found = start * turn, np.empty(len(points))
    at_once = max(AT_ONCE // max(len(start), 1), 1)
    for k in range(0, len(points), at_once):
        off = (points[k : k + at_once] @ COMPLEX)[:, None] * turn - begins
        along = off.real
        along -= np.clip(along, 0.0, long)
        found[k : k + at_once] = np.abs(off).min(axis=1)
    return found


def onto(seam: SeamLine, k: int, points: Line, from_layer: int = 0) -> Line:
    """Points on one layer of a seam, on another of its layers; both must be laid by motions."""
    frame = points if from_layer == 0 else seam.placed[from_layer].back(points)
    return seam.placed[k].onto(frame, np.zeros(0))
