"""Where every piece lies when all are folded and sewn together, flat, in one frame: that of the first piece's face.

A *leaf* is what of a piece lies on one side of its folds. Where a leaf lies follows from the holes it shares with one that lies
already, from a ring that it hangs by, or from its fold.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import combinations, groupby

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.ops import split

from ..curve import Line, arc_length, extended, frozen, walk
from ..draft.assembly import Assembly
from ..draft.joins import Join, Ring
from ..draft.pieces import Piece
from ..draft.seam_line import COMPLEX
from ..stitch import Seam

UNSEEN = ("binding", "lining")  # drawn on what they are on, or hidden by it
TURN_MM = 25.0  # folds nearer than this have a turn between them, no face
PAST_MM = 1.0  # a fold is cut so far beyond its ends: outlines are simplified
NEAR_MM = 0.5  # so far outside a leaf its own holes may lie: outlines are simplified
LEAST_RING = 3
ALIKE_MM = 0.02
FLAT_MM = 5.0  # what is sewn lies flat where its holes come to lie so near each other
Motion = tuple[complex, complex, bool]
"""A plane motion of points as complex numbers: times, plus; of the mirrored ones where it turns over."""


@dataclass(frozen=True, slots=True, eq=False)
class Leaf:
    """A flat part `area` of a piece, in the piece's own frame; where it lies; how far out it lies, in layers: towards the front
    above 0, towards the back below.
    """

    piece: Piece
    area: Polygon
    motion: Motion
    level: float

    def laid(self, points: Line) -> Line:
        """Points of the piece `(n, 2)` where they lie."""
        return moved(points, self.motion)

    def holds(self, points: Line) -> bool:
        """Whether points of its piece are on it."""
        return bool(self.area.buffer(NEAR_MM).covers(shapely.MultiPoint(points)))

    def hole(self, punch: str) -> Line | None:
        """The middle `(1, 2)` of one of the piece's punches, where that is on it."""
        at = next((np.array([p.centre]) for p in self.piece.punches if p.id == punch), None)
        return at if at is not None and self.holds(at) else None

    @property
    def ring(self) -> Line:
        """Its outline as it lies."""
        return frozen(self.laid(shapely.get_coordinates(self.area.exterior)[:-1]))

    @property
    def out(self) -> float:
        """1 where its level is on the front's side, -1 on the back's."""
        return 1.0 if self.level > 0 else -1.0


def moved(points: Line, motion: Motion) -> Line:
    """Points `(n, 2)` by a motion."""
    times, plus, over = motion
    at = points @ COMPLEX
    there = (at.conj() if over else at) * times + plus
    return np.column_stack([there.real, there.imag])


def fitted(points: Line, onto: Line, over: bool | None) -> Motion:
    """The motion that brings points onto others in least squares, turned over or not, or whichever is clearly nearer: points in
    a row do not tell, and nothing is turned over without need.
    """
    if over is None:
        plain, turned = (fitted(points, onto, way) for way in (False, True))
        off = [float(np.hypot(*(moved(points, m) - onto).T).mean()) for m in (plain, turned)]
        return turned if off[1] < off[0] - ALIKE_MM else plain
    p, q = points @ COMPLEX, onto @ COMPLEX
    p = p.conj() if over else p
    pm, qm = complex(p.mean()), complex(q.mean())
    along = complex(np.vdot(p - pm, q - qm))
    times = along / abs(along) if abs(along) > 1e-9 else 1 + 0j
    return times, qm - pm * times, over


def leaves_of(piece: Piece, turned: Sequence[tuple[int, int]] = ()) -> tuple[Polygon, ...]:
    """The parts of a piece between its folds, without the narrow ones that turn round something between two of them: of those
    that are `turned` round a bar, by the numbers of their folds, or of any two.
    """
    if len(piece.outline) < LEAST_RING:  # an odd body leaves nothing of a piece, which is held for it
        return ()
    areas: list[Polygon] = [shapely.Polygon(piece.outline)]
    for fold in piece.folds:
        line = shapely.LineString(extended(fold, PAST_MM, PAST_MM))
        areas = [part for area in areas for part in split(area, line).geoms if isinstance(part, Polygon)]
    lines = [shapely.LineString(fold) for fold in piece.folds]
    near = [(a, b) for a, b in combinations(range(len(lines)), 2) if lines[a].distance(lines[b]) < TURN_MM]
    folds, pairs = [line.buffer(1e-6) for line in lines], turned or near
    return tuple(
        a for a in areas if not any(all(a.exterior.intersection(folds[k]).length > 1 for k in pair) for pair in pairs)
    )


def lie(assembly: Assembly, seams: Sequence[Seam], first: str = "") -> tuple[Leaf, ...]:
    """The leaves that hang together with the piece `first`, or with what the closing seam is sewn on, from the one farthest
    back to the one farthest to the front.
    """
    turned = {p.id: [t.folds for t in assembly.turns if t.piece == p.id] for p in assembly.pieces}
    pieces = [p for p in assembly.pieces if p.stock.sort not in UNSEEN]
    waiting = {(p.id, k): (p, area) for p in pieces for k, area in enumerate(leaves_of(p, turned[p.id]))}
    lying: list[Leaf] = []
    root = (first, 0) if first else _root(assembly, seams, waiting)
    if root is not None:
        piece, area = waiting.pop(root)
        lying.append(Leaf(piece, area, (1 + 0j, 0j, False), 1.0))
    while True:
        for key, (piece, area) in waiting.items():
            leaf = next(_placed(piece, area, assembly, seams, lying), None)
            if leaf is not None:
                lying.append(leaf)
                del waiting[key]
                break
        else:
            return tuple(sorted(lying, key=lambda k: k.level))


def _root(
    assembly: Assembly, seams: Sequence[Seam], leaves: dict[tuple[str, int], tuple[Piece, Polygon]]
) -> tuple[str, int] | None:  # fmt: skip
    """The leaf on which the seam that closes the thing is sewn, or the first there is."""
    closing = {j.id for shell in assembly.shells for j in assembly.closes(shell)}
    for seam in sorted((s for s in seams if s.line.shape == "line"), key=lambda s: s.id not in closing):
        points, piece = seam.on(0), seam.line.placed[0].piece
        for key, (own, area) in leaves.items():
            if own.id == piece and Leaf(own, area, (1 + 0j, 0j, False), 1.0).holds(points):
                return key
    for key, (own, area) in leaves.items():  # what lies between others hangs by these
        if not _is_between(Leaf(own, area, (1 + 0j, 0j, False), 1.0), assembly):
            return key
    return next(iter(leaves), None)


def _placed(
    piece: Piece, area: Polygon, assembly: Assembly, seams: Sequence[Seam], lying: list[Leaf]
) -> Iterator[Leaf]:
    """Where a leaf lies, by everything that says so, the surest first."""
    bare = Leaf(piece, area, (1 + 0j, 0j, False), 1.0)
    sewn = [x for seam in seams for x in _by_seam(bare, seam, assembly, lying)]
    if sewn:  # by the one that lies flattest
        yield min(sewn, key=lambda x: x[0])[1]
    for ring in assembly.rings:
        yield from _by_ring(bare, ring, lying)
    yield from _by_closures(bare, assembly, lying)
    for fold in piece.folds:
        yield from _by_fold(bare, fold, lying, _is_between(bare, assembly))
    for turn in (t for t in assembly.turns if t.piece == piece.id):
        one, other = (piece.folds[k] for k in turn.folds)
        other = other if np.hypot(*(one[0] - other[0])) <= np.hypot(*(one[0] - other[-1])) else other[::-1]
        gap = float(np.hypot(*(one[0] - other[0]))) / 2
        yield from _by_fold(bare, (one[[0, -1]] + other[[0, -1]]) / 2, lying, between=False, within_mm=NEAR_MM + gap)


def _is_between(leaf: Leaf, assembly: Assembly) -> bool:
    """Whether a leaf lies inside, between others of a join."""
    return any(
        x.between and x.piece == leaf.piece.id and leaf.holds(assembly.line_of(x)[:1])
        and leaf.holds(assembly.line_of(x).mean(axis=0)[None])
        for j in assembly.joins for x in j.layers
    )  # fmt: skip


def _by_seam(leaf: Leaf, seam: Seam, assembly: Assembly, lying: list[Leaf]) -> Iterator[tuple[float, Leaf]]:
    """Sewn to one that lies there, and how far apart the holes of a seam that bends the thing then lie at most."""
    join = assembly.join(seam.id)
    if seam.line.shape == "butt":
        if join.shaped:
            yield from _by_edges(leaf, join, assembly, lying)
        return
    for k, layer in enumerate(join.layers):
        if layer.piece != leaf.piece.id or layer.between or not leaf.holds(seam.on(k)):
            continue
        for n, other in enumerate(join.layers):
            there = next((x for x in lying if n != k and x.piece.id == other.piece and x.holds(seam.on(n))), None)
            if there is None or other.between:
                continue
            one, two = seam.line.placed[k], seam.line.placed[n]
            over = None
            if one.along is None and two.along is None:
                over = there.motion[2] ^ bool(np.linalg.det(one.turn) * np.linalg.det(two.turn) < 0)
            motion = fitted(seam.on(k), there.laid(seam.on(n)), over)
            off = np.hypot(*(moved(seam.on(k), motion) - there.laid(seam.on(n))).T).max()
            if join.shaped and off > FLAT_MM:
                continue  # what such a seam bends lies on no table
            upon = seam.line.shape == "box" or not layer.part
            level = there.level + there.out * (k - n) if upon else -there.level
            yield float(off) if join.shaped else 0.0, replace(leaf, motion=motion, level=level)


def _by_edges(leaf: Leaf, join: Join, assembly: Assembly, lying: list[Leaf]) -> Iterator[tuple[float, Leaf]]:
    """Edge to edge with one that lies there, on the same side, and how far apart the edges then lie at most."""
    for layer, other in (join.layers, join.layers[::-1]):
        there = next((x for x in lying if x.piece.id == other.piece), None)
        if layer.piece != leaf.piece.id or there is None or layer.piece == other.piece:
            continue
        own, mate = (_evenly(assembly.line_of(x)) for x in (layer, other))
        onto = there.laid(mate)[::-1]
        motion = fitted(own, onto, there.motion[2])
        yield float(np.hypot(*(moved(own, motion) - onto).T).max()), replace(leaf, motion=motion, level=there.level)


def _evenly(line: Line) -> Line:
    return walk(line, np.linspace(0, float(arc_length(line)[-1]), 17))


def _by_closures(leaf: Leaf, assembly: Assembly, lying: list[Leaf]) -> Iterator[Leaf]:
    """Drawn to one that lies there by a lace, or on it by studs."""
    at = {(p.id, k.id): k.centre for p in assembly.pieces for k in p.punches}
    rows = [(*lace.rows, float(np.mean(lace.gaps_mm))) for lace in assembly.laces]
    rows += [(*loops.rows, loops.round_mm / 2) for loops in assembly.loops]
    for pair, alike in groupby((f.through for f in assembly.fasteners if f.sort == "stud" and len(f.through) == 2),
                               lambda through: (through[0][0], through[1][0])):  # fmt: skip
        if pair[0] != pair[1]:
            one, other = zip(*alike, strict=True)
            rows.append((one, other, 0.0))
    for one, other, gap in rows:
        for own, mate in ((one, other), (other, one)):
            there = next((x for x in lying if x.piece.id == mate[0][0]), None)
            if own[0][0] != leaf.piece.id or there is None or len(own) < 2 or own[0][0] == mate[0][0]:
                continue
            points, others = _opposite(np.array([at[k] for k in own]), np.array([at[k] for k in mate]))
            ends = there.laid(others)
            away = _away(there, ends)
            to = ends + gap * away / max(float(np.hypot(*away)), 1e-9)
            level = there.level if gap else there.level + there.out * (1 if own is one else -1)
            yield replace(leaf, motion=fitted(points, to, there.motion[2]), level=level)


def _opposite(one: Line, other: Line) -> tuple[Line, Line]:
    """Two rows as far as they lie opposite each other: where one is shorter by one, halfway between those of the other."""
    if len(one) == len(other):
        return one, other
    between = [(row[1:] + row[:-1]) / 2 if len(row) > min(len(one), len(other)) else row for row in (one, other)]
    return between[0], between[1]


def _by_ring(leaf: Leaf, ring: Ring, lying: list[Leaf]) -> Iterator[Leaf]:
    for (own, line), (by, other) in ((ring.hangs, ring.on), (ring.on, ring.hangs)):
        there = next((x for x in reversed(lying) if x.piece.id == by), None)
        if own == leaf.piece.id and there is not None:
            mate = next((x for x in lying if x.piece.id == own), None)
            ends = there.laid(other)
            away = _away(there, ends)
            middle = shapely.get_coordinates(leaf.area.centroid)[0]
            motion = min((fitted(line, way, over) for way in (ends, ends[::-1]) for over in (False, True)),
                         key=lambda m: -float((moved(middle[None], m)[0] - ends.mean(axis=0)) @ away))  # fmt: skip
            yield replace(leaf, motion=motion, level=there.level + (there.out if mate is None else -there.out * 0.5))


def _away(leaf: Leaf, ends: Line) -> Line:
    """Away from a leaf that ends in a line."""
    middle = leaf.laid(shapely.get_coordinates(leaf.area.centroid))[0]
    return ends.mean(axis=0) - middle


def _by_fold(
    leaf: Leaf, fold: Line, lying: list[Leaf], between: bool, within_mm: float = NEAR_MM
) -> Iterator[Leaf]:  # fmt: skip
    """Turned over about its fold, or about the middle of its turn, outside what is there, or inside where it lies `between`."""
    line = shapely.LineString(fold)
    there = next((x for x in lying if x.piece.id == leaf.piece.id and x.area.distance(line) < within_mm), None)
    if there is None or leaf.area.distance(line) > within_mm:
        return
    a, b = (complex(k) for k in there.laid(fold)[[0, -1]] @ COMPLEX)
    along = (b - a) / max(abs(b - a), 1e-9)
    times, plus, over = there.motion
    # a point z turned over about the line through a along `along` lies at a + along² (z - a)*
    turned = along * along
    motion = (turned * times.conjugate(), a + turned * (plus.conjugate() - a.conjugate()), not over)
    folded = replace(leaf, motion=motion)
    area = shapely.Polygon(folded.ring)
    under = [abs(x.level) for x in lying if x.out == -there.out and shapely.Polygon(x.ring).overlaps(area)]
    if between:
        yield replace(folded, level=there.level / 2)
        return
    yield replace(folded, level=-there.out * (max(abs(there.level), *under, 0.0) + 1))
