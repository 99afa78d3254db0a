"""Whether every outline is one that a knife can follow, with all that is marked on it inside."""

import numpy as np
import shapely

from ..draft.pieces import Piece
from ..memory import remembered
from ..reckoning import count, length
from ..texts import said, several
from .given import TRUE_MM, Assembled, Fault, Result, area_of, counted, cut_of, from_line, long, solid_of

NECK_MM = 2.0  # leather narrower than this tears as it is cut (from memory)
SPIKE_MM = 3.0  # what sticks out farther than this from where leather is wider is a spike
PLAIN_MM = 0.15  # outlines are looked at with points left out that lie so near to the line through others
SAME_MM = 1e-7  # vertices nearer than this are one


@remembered("piece")
def _cut(piece: Piece) -> tuple[Fault, ...]:
    ring, at = piece.outline, piece.id
    steps = np.hypot(*(ring - np.roll(ring, -1, axis=0)).T)
    if len(ring) < 3 or not np.isfinite(ring).all():
        return (
            Fault("hold", "outline-none", said("The outline of the {piece} encloses nothing.", piece=piece.title), at),
        )
    faults: list[Fault] = []
    if (steps < SAME_MM).any():
        n = int((steps < SAME_MM).sum())
        faults.append(
            Fault(
                "hold",
                "outline-doubled",
                said("{n} points of the {piece} lie on each other.", n=count(n), piece=piece.title),
                at,
            )
        )
    area = area_of(piece)
    if not area.is_valid:
        where = shapely.is_valid_reason(area).partition("[")[2].rstrip("]").split()
        x, y = (float(v) for v in where) if len(where) == 2 else (0.0, 0.0)
        faults.append(Fault("hold", "outline-crosses", said(
            "The outline of the {piece} crosses itself at {x:n}, {y}.", x=length(x), y=length(y), piece=piece.title),
            at))  # fmt: skip
        return tuple(faults)
    plain = shapely.simplify(area, PLAIN_MM, preserve_topology=False)  # ten times as fast as when it is
    plain = plain if plain.is_valid and not plain.is_empty else shapely.simplify(area, PLAIN_MM)
    inner = plain.buffer(-NECK_MM / 2, quad_segs=2)
    parts = [g for g in getattr(inner, "geoms", [inner]) if not g.is_empty]
    if not parts:
        return (*faults, Fault("hold", "outline-narrow", said(
            "The {piece} is nowhere {w} wide.", w=length(NECK_MM), piece=piece.title), at))  # fmt: skip
    tips = shapely.get_coordinates(plain.exterior)
    out = from_line(tips, *(shapely.get_coordinates(g.exterior) for g in parts)) - NECK_MM / 2
    k = int(np.argmax(out))
    if out[k] > SPIKE_MM:
        faults.append(Fault("hold", "outline-spike", said(
                "The {piece} runs out into a spike {d} long at {x:n}, {y}: it is not {w} wide there.",
                d=length(float(out[k])), x=length(float(tips[k, 0])), y=length(float(tips[k, 1])),
                w=length(NECK_MM), piece=piece.title), at))  # fmt: skip
    if len(parts) > 1:
        faults.append(Fault("hold", "outline-neck", said(
            "The {piece} has a neck narrower than {w}: it would tear there.", w=length(NECK_MM), piece=piece.title),
            at))  # fmt: skip
    return tuple(faults)


def outlines(given: Assembled) -> Result:
    """Every outline is simple, has no neck too narrow and no spike."""
    pieces = given.assembly.pieces
    faults = tuple(f for p in pieces for f in _cut(p))
    return Result(several("{n} outline without a crossing or a neck under {w}",
                          "{n} outlines without a crossing or a neck under {w}", n=count(len(pieces)), w=length(NECK_MM)),
                          count(len(pieces)), faults)  # fmt: skip


@remembered("piece")
def _marks(piece: Piece, turned: bool) -> tuple[int, tuple[Fault, ...]]:
    """What is marked on a piece; one that is `turned` round a bar has a slot for its buckle's tongue across its folds."""
    area, folded = area_of(piece), solid_of(piece) if turned else area_of(piece)
    if not area.is_valid:
        return 0, ()
    faults: list[Fault] = []
    marks = 0
    for fold in piece.folds:
        marks += 1
        line = shapely.LineString(fold)
        off = float(from_line(fold[[0, -1]], cut_of(piece)).max())
        strays = line.difference(folded).length > TRUE_MM and not folded.buffer(TRUE_MM).covers(line)
        if strays or off > 1.0:
            faults.append(Fault("hold", "fold-astray", said(
                "A fold of the {piece} does not run from edge to edge: it ends {d} away.", d=length(off), piece=piece.title),
                piece.id))  # fmt: skip
    for punch in piece.punches:
        marks += 1
        clear = float(area.exterior.distance(shapely.Point(punch.centre))) - punch.diameter_mm / 2
        if not area.contains(shapely.Point(punch.centre)) or clear < 0:
            faults.append(Fault("hold", "punch-outside", said(
                "The {piece} does not reach all round its {punch}.", d=length(clear), punch=punch.title, piece=piece.title),
                piece.id))  # fmt: skip
    solid = solid_of(piece)
    for slot in piece.slots:
        marks += 1
        if not solid.contains(shapely.Polygon(slot)):
            faults.append(
                Fault(
                    "hold", "slot-outside", said("A slot does not lie within the {piece}.", piece=piece.title), piece.id
                )
            )
    return marks, tuple(faults)


def marks(given: Assembled) -> Result:
    """Folds, punches and slots lie inside their pieces, folds from edge to edge."""
    turned = {turn.piece for turn in given.assembly.turns}
    each = [_marks(p, p.id in turned) for p in given.assembly.pieces]
    n = sum(m for m, _ in each)
    folds, punches, slots = (
        sum(len(getattr(p, what)) for p in given.assembly.pieces) for what in ("folds", "punches", "slots")
    )
    things = counted(
        (folds, several("{n} fold", "{n} folds", n=count(folds))),
        (punches, several("{n} punch", "{n} punches", n=count(punches))),
        (slots, several("{n} slot", "{n} slots", n=count(slots))),
    )
    return Result(several("{things} inside its outline", "{things} inside their outlines", n=count(n), things=things), count(n),
                  tuple(f for _, faults in each for f in faults), n)  # fmt: skip


def edges(given: Assembled) -> Result:
    """The edges of each piece are its rings, each beginning where the one before ends."""
    faults: list[Fault] = []
    n = 0
    for piece in given.assembly.pieces:
        for number, ring in enumerate((piece.outline, *piece.slots)):
            own = [e for e in piece.edges if e.ring == number]
            n += len(own)
            chain = np.concatenate([e.line[:-1] for e in own]) if own else np.zeros((0, 2))
            ends, begins = (np.array([e.line[k] for e in own]) for k in (-1, 0))
            if (
                chain.shape != ring.shape
                or np.abs(chain - ring).max() > 1e-6
                or np.abs(ends - np.roll(begins, -1, axis=0)).max() > 1e-6
            ):
                around, tiled = long(np.vstack([ring, ring[:1]])), sum(long(e.line) for e in own)
                faults.append(Fault("hold", "edges-do-not-tile", said(
                    "The edges of the {piece} are {a} long in all, its outline {b}.", a=length(tiled),
                    b=length(around), piece=piece.title), piece.id))  # fmt: skip
    return Result(said("{n} edges, without gap or overlap round every piece", n=count(n)), count(n), tuple(faults))
