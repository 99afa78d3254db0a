"""The line of a sewn join, where it lies on each piece, and what lies under it."""

from dataclasses import dataclass, field, replace

import numpy as np
import shapely

from ..curve import Line, Values, arc_length, area_within, extended, frozen, walk
from ..memory import remembered
from ..texts import Said, said
from .joins import Join, Seat, Sewing, Shape
from .pieces import Piece, Skive

AT = np.linspace(0.0, 1.0, 17)  # places along two edges by which one is laid on the other, as shares
STILL = frozen(np.eye(2))
COMPLEX = np.array([1.0, 1.0j])


@dataclass(frozen=True, slots=True, eq=False)
class Placed:
    """Where a seam's frame lies on a piece: point → point @ turn + shift.

    Where the piece has a line of its own, longer or shorter, `along`, the holes lie at the same shares of it instead; that of
    a closed seam goes all the way round, to its own first point or to where it will meet it.
    Holes that are `kept` are the points of that.
    A piece that `ends` where the line does has none of the holes beyond, one that lies only `within` a ring none outside that.
    """

    piece: str
    turn: Line = field(default_factory=lambda: STILL)
    shift: tuple[float, float] = (0.0, 0.0)
    along: Line | None = None
    ends: bool = False
    within: Line | None = None
    kept: bool = False

    def onto(self, points: Line, shares: Values) -> Line:
        """The seam's points `(n, 2)`, which lie at `shares (n,)` of its line, on this piece."""
        if self.kept and self.along is not None and len(shares) == len(self.along):
            return self.along
        if self.along is not None:
            long = float(arc_length(self.along)[-1])
            past = max(-float(shares.min(initial=0.0)), float(shares.max(initial=1.0)) - 1.0, 0.0) * long
            return (
                walk(extended(self.along, past, past), shares * long + past)
                if past
                else walk(self.along, shares * long)
            )
        return points @ self.turn + np.array(self.shift)

    def back(self, points: Line) -> Line:
        """Points of this piece in the seam's frame; not where it has a line of its own."""
        return (points - np.array(self.shift)) @ self.turn.T


@dataclass(frozen=True, slots=True, eq=False)
class Ply:
    """One layer under a seam, on the piece that the seam is placed on as number `on`: its thickness, less what is skived."""

    title: Said
    thickness_mm: float
    on: int
    skives: tuple[Skive, ...] = ()

    def under(self, points: Line) -> Values:
        """Thickness `(n,)` at points of its piece."""
        thick = np.full(len(points), self.thickness_mm)
        for skive in self.skives:
            thick = np.minimum(thick, skive.at(points))
        return thick


@dataclass(frozen=True, slots=True, eq=False)
class SeamLine:
    """A line to be sewn, as it follows from a join: a line sewn once from end to end, a box with a cross whose ring is `line`,
    or two edges that butt, `line` being the holes' line of the first.

    `placed[0]` is the piece whose frame `line` is in. One that is sewn so many `times` is placed there anew for each.
    """

    id: str
    title: Said
    line: Line
    plies: tuple[Ply, ...]
    placed: tuple[Placed, ...]
    shape: Shape
    sewing: Sewing
    times: int = 1

    @property
    def margin_mm(self) -> float:
        """From the edge to the line."""
        return self.sewing.margin_mm

    @property
    def closed(self) -> bool:
        """Whether it ends where it begins."""
        return self.sewing.closed

    @property
    def runs_on(self) -> bool:
        """Whether a layer goes on beyond both its ends."""
        return self.sewing.runs_on


@dataclass(frozen=True, slots=True)
class On:
    """What a layer's piece has to do with a seam: its thickness, its skives, the edge by which the seam is placed on it, the
    ring within which it is there at all. Where these are as they were, so is the seam.
    """

    thickness_mm: float
    skives: tuple[Skive, ...]
    edge: Line | None
    ring: Line | None

    def __hash__(self) -> int:
        return hash((self.thickness_mm, self.skives, id(self.edge), id(self.ring)))

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, On)
            and (self.thickness_mm, self.skives) == (other.thickness_mm, other.skives)
            and self.edge is other.edge
            and self.ring is other.ring
        )


@remembered("seam")
def seam_of(join: Join, on: tuple[On, ...], over: tuple[tuple[int, Piece, Seat], ...]) -> SeamLine:
    """The seam of a join, remembered: an edit of the pattern leaves some joins as they were."""
    assert join.sewing is not None
    first = on[0].edge
    placed: list[Placed] = []
    plies: list[Ply] = []
    for k, (layer, what) in enumerate(zip(join.layers, on, strict=True)):
        if layer.along is not None:
            placed.append(Placed(layer.piece, along=layer.along, ends=layer.ends, kept=join.sewing.kept))
        elif layer.turn is not None or k == 0:
            turn = STILL if layer.turn is None else layer.turn
            placed.append(Placed(layer.piece, turn, layer.shift, ends=layer.ends, within=what.ring))
        else:
            assert first is not None
            assert what.edge is not None
            turn, shift = laid_on(first, what.edge, layer.from_mm, flipped=not layer.between)
            placed.append(Placed(layer.piece, turn, shift, ends=layer.ends, within=what.ring))
        titles = [
            said("{layer} {n}", layer=layer.title, n=n + 1) if layer.count > 1 else layer.title
            for n in range(layer.count)
        ]
        if join.shape != "butt" or k == 0:
            plies += [Ply(title, what.thickness_mm, k, what.skives) for title in titles]
    for k, piece, seat in over:
        under = placed[k]
        if not _comes_over(join, under, seat):
            continue
        placed.append(replace(under, piece=piece.id, within=seat.line))
        plies.append(Ply(piece.title, piece.thickness_mm, len(placed) - 1, piece.skives))
    if join.sewing.through_mm > 0:
        times = join.sewing.through_mm / sum(p.thickness_mm for p in plies)
        plies = [replace(p, thickness_mm=p.thickness_mm * times) for p in plies]
    placed += [Placed(join.layers[0].piece, turn, shift) for turn, shift in join.again]
    return SeamLine(
        join.id, join.title, join.sewing.line, tuple(plies), tuple(placed), _shape(join), join.sewing, join.times
    )


def _comes_over(join: Join, placed: Placed, seat: Seat) -> bool:
    """Whether a seam of the piece a seat is on goes through what lies on that."""
    assert join.sewing is not None
    line = placed.along if placed.along is not None else placed.onto(join.sewing.line, np.empty(0))
    way = area_within(line) if join.shape == "box" else shapely.LineString(line)
    return bool(join.sewing.runs_on or way.intersects(area_within(seat.line)))


def _shape(join: Join) -> Shape:
    return join.shape if join.shape in ("line", "box", "butt") else "line"


def laid_on(first: Line, edge: Line, from_mm: float = 0.0, *, flipped: bool) -> tuple[Line, tuple[float, float]]:
    """The plane motion point → point @ turn + shift that lays an edge's line, from so far along it, on another, as well as may
    be: the least squares over places as far along either. `flipped`: the one runs against the other, its piece turned over.
    """
    a, b = arc_length(first), arc_length(edge)
    s = max(min(float(a[-1]) - from_mm, float(b[-1])), 0.0) * AT
    # as complex numbers the least squares has a closed form: the angle of the sum of q times the conjugate of p
    p = np.interp(from_mm + s, a, first @ COMPLEX)
    q = np.interp(float(b[-1]) - s if flipped else s, b, edge @ COMPLEX)
    if flipped:
        p = -p.conj()
    pc, qc = complex(p.sum()) / len(AT), complex(q.sum()) / len(AT)
    along = complex(np.vdot(p - pc, q - qc))
    along /= max(abs(along), 1e-12)
    c, d = round(along.real, 12) + 0.0, round(along.imag, 12) + 0.0
    shift = qc - pc * complex(c, d)
    turn = [[-c, -d], [-d, c]] if flipped else [[c, d], [-d, c]]
    return frozen(turn), (round(shift.real, 9) + 0.0, round(shift.imag, 9) + 0.0)
