"""Whether the pieces can be put together as they are marked: folded where they say, the right side out, as many as it takes."""

from collections import Counter
from collections.abc import Iterator
from itertools import pairwise

import numpy as np
import shapely

from ..curve import Line, arc_length, walk
from ..draft.pieces import Piece
from ..draft.seam_line import Placed, SeamLine
from ..reckoning import count, length
from ..texts import said, several
from .given import TRUE_MM, Assembled, Fault, Result, area_of, from_line

FOLD_OFF_MM = 2 * TRUE_MM  # a fold may lie so far from midway: either side is drawn as true as any line
TRY_MM = 2.0  # beside an edge its piece is looked for so far off
TRIED = np.linspace(0.02, 0.98, 9)  # at these shares of a seam
TWIN = 0.01  # two outlines whose areas differ by less are one, as a share


def folded(given: Assembled) -> Result:
    """What comes to lie on itself is folded midway between what meets there; round a bar it has a fold on either side."""
    worst, n = 0.0, 0
    bars = {(turn.piece, turn.folds) for turn in given.assembly.turns}
    faults: dict[str, Fault] = {}
    for piece, p, q in _meeting(given):
        way = shapely.linestrings(np.stack([p, q], axis=1))
        crossed = [bool(shapely.intersects(way, shapely.LineString(fold)).all()) for fold in piece.folds]
        over = tuple(k for k, crosses in enumerate(crossed) if crosses)
        if len(over) != 1 and (piece.id, over) not in bars:  # more of them, and it lies on something that lies on it
            continue
        between = [piece.folds[k] for k in over]
        near, far = min(between, key=lambda f: from_line(p, f)[0]), min(between, key=lambda f: from_line(q, f)[0])
        along = (near[-1] - near[0]) / max(float(np.hypot(*(near[-1] - near[0]))), 1e-9)
        off = float(np.hypot(from_line(p, near) - from_line(q, far), (p - q) @ along).max())
        worst, n = max(worst, off), n + 1
        if off > FOLD_OFF_MM:
            faults[piece.id] = Fault("hold", "fold-off", said(
                "Folded as it is marked, the {piece} does not meet itself: what should lie together is {d} apart.",
                d=length(off), piece=piece.title), piece.id)  # fmt: skip
    return Result(several("{n} pair of places folded together, {d} apart at the most",
                          "{n} pairs of places folded together, {d} apart at the most", n=count(n), d=length(worst)),
                  length(worst), tuple(faults.values()), n)  # fmt: skip


def _meeting(given: Assembled) -> Iterator[tuple[Piece, Line, Line]]:
    """Pieces with points `p`, `q (n, 2)` on them that come to lie on each other."""
    for seam in given.assembly.seams:
        for a, b in pairwise(seam.placed):
            if a.piece == b.piece and a.along is None and b.along is None and given.assembly.piece(a.piece).folds:
                p, q = (x.onto(seam.line, np.zeros(0)) for x in (a, b))
                yield given.assembly.piece(a.piece), p, q
    at = {(p.id, k.id): np.array([k.centre]) for p in given.assembly.pieces for k in p.punches}
    for fastener in given.assembly.fasteners if not given.assembly.buckles else ():
        for one, other in pairwise(fastener.through):
            if one[0] == other[0] and not fastener.each and fastener.sort in ("rivet", "post"):
                yield given.assembly.piece(one[0]), at[one], at[other]


def put(given: Assembled) -> Result:
    """As many of each piece as it is joined with others, the same side of all the leather outside, and what is said to be
    mirrored the mirror image of something.
    """
    faults = [*_counted(given), *_sides(given), *_mirrored(given)]
    n = len(given.assembly.pieces)
    return Result(several("{n} piece, as many as it takes", "{n} pieces, each as many as it takes", n=count(n)), count(n),
                  tuple(faults), n)  # fmt: skip


def _counted(given: Assembled) -> Iterator[Fault]:
    """How many of each go into one of what is made, by its joins; as many of those must all pieces be enough for."""
    sets: dict[str, float] = {}
    for piece in given.assembly.pieces:
        takes = [sum(x.count for x in join.layers if x.piece == piece.id and x.part == of) * join.times
                 for join in given.assembly.joins for of in {x.part for x in join.layers if x.piece == piece.id}
                 if join.layers[0].piece != piece.id]  # fmt: skip
        holes = Counter(hole for f in given.assembly.fasteners for id, hole in f.through if id == piece.id)
        sets[piece.id] = (piece.count - piece.spare) / max((*takes, *holes.values(), 1))
    usual = float(np.median(list(sets.values())))
    for id, made in sets.items():
        piece = given.assembly.piece(id)
        if made != usual or (piece.in_pairs and piece.count % 2):
            yield Fault("hold", "pieces-miscounted", said(
                "Cut of the {piece}: {n}; to be joined: {m}.", n=count(piece.count),
                m=count(round(piece.count / made * usual)), piece=piece.title), id)  # fmt: skip


def _sides(given: Assembled) -> Iterator[Fault]:
    """Two pieces that lie on each other along a seam have their insides together, those that lie side by side or one upon the
    face of the other the same side up.
    """
    for seam in given.assembly.seams:
        join = given.assembly.join(seam.id)
        outer = [k for k, x in enumerate(join.layers) if not x.between]
        first, last = outer[0], outer[-1]
        one, other = (given.assembly.piece(join.layers[k].piece) for k in (first, last))
        if one is other or {one.stock.sort, other.stock.sort} != {"leather"}:
            continue
        edges = all(any(e.id == join.layers[k].part for e in given.assembly.piece(join.layers[k].piece).edges)
                    for k in (first, last))  # fmt: skip
        up = _up(given, seam, seam.placed[first], seam.placed[last]) if edges or seam.shape == "box" else None
        if up is not None and (up * _face(one) * _face(other) < 0):
            yield Fault("hold", "sides-differ", said(
                "The {seam} joins the {one} grain out and the {other} flesh out.", seam=join.title,
                **{k: p.title for k, p in zip(("one", "other"), sorted((one, other), key=_face, reverse=True), strict=True)}),
                other.id)  # fmt: skip


def _face(piece: Piece) -> int:
    return 1 if piece.side_up == "grain" else -1


def _up(given: Assembled, seam: SeamLine, a: Placed, b: Placed) -> int | None:
    """1 where two layers show the same side if both are drawn with the same side up, -1 where they show either; None where
    that does not follow from how they are laid: one lies upon the face of the other, as a loop lies on the outside.
    """
    beside = _beside(given, seam, a) * _beside(given, seam, b)
    if beside or seam.shape != "box" or a.along is not None or b.along is not None:
        return -beside or None
    return int(np.sign(np.linalg.det(a.turn) * np.linalg.det(b.turn)))


def _beside(given: Assembled, seam: SeamLine, placed: Placed) -> int:
    """On which side of its line of holes a piece lies, as it is drawn: 1 left of it, -1 right, 0 on both."""
    line = placed.onto(walk(seam.line, TRIED * float(arc_length(seam.line)[-1])), TRIED)
    middle, way = (line[1:] + line[:-1]) / 2, np.diff(line, axis=0)
    left = np.column_stack([-way[:, 1], way[:, 0]]) / np.maximum(np.hypot(*way.T), 1e-9)[:, None]
    left *= seam.margin_mm + TRY_MM
    area = area_of(given.assembly.piece(placed.piece))
    on = [float(shapely.contains_xy(area, *(middle + s * left).T).mean()) for s in (1, -1)]
    return 0 if min(on) > 0.5 else int(np.sign(on[0] - on[1]))


def _mirrored(given: Assembled) -> Iterator[Fault]:
    """What is mirrored is so to something that is not: its outline turned over, or what it is laid on turned over."""
    for piece in given.assembly.pieces:
        if not piece.mirrored or _turned_over(given, piece):
            continue
        if not any(_twins(piece, x) and not x.mirrored for x in given.assembly.pieces):
            yield Fault("hold", "mirrored-of-nothing", said(
                "The {piece} is said to be mirrored, and nothing is its mirror image.", piece=piece.title),
                piece.id)  # fmt: skip


def _laid(piece: Piece, *, over: bool) -> shapely.Polygon:
    outline = piece.outline * ([-1.0, 1.0] if over else [1.0, 1.0])
    low = outline.min(axis=0)
    return shapely.Polygon(outline - low).buffer(0)


def _same(a: shapely.Polygon, b: shapely.Polygon) -> bool:
    return bool(a.symmetric_difference(b).area < TWIN * max(a.area, b.area))


def _twins(piece: Piece, other: Piece) -> bool:
    return piece.stock.id == other.stock.id and _same(_laid(piece, over=True), _laid(other, over=False))


def _turned_over(given: Assembled, piece: Piece) -> bool:
    """Whether it is laid turned over on a piece that is not mirrored."""
    for seam in given.assembly.seams:
        outer = [k for k, x in enumerate(given.assembly.join(seam.id).layers) if not x.between]
        ways = {seam.placed[k].piece: _beside(given, seam, seam.placed[k]) for k in (outer[0], outer[-1])}
        others = [way for id, way in ways.items() if id != piece.id and not given.assembly.piece(id).mirrored]
        if len(ways) > 1 and seam.shape == "line" and any(way * ways.get(piece.id, 0) < 0 for way in others):
            return True
    return False
