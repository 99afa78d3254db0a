"""So many of one thing: alike, or left and right in turn, every second one cut turned over."""

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely import affinity
from shapely.geometry.base import BaseGeometry

from ..curve import Line, arc_length, area_within
from ..frozen import Frozen
from ..memory import remembered
from .assembly import Assembly
from .drafted import Draft
from .ids import base
from .pieces import Piece

SAME_MM = 0.05  # outlines that differ by less all round are the same
NEAR_MM = 0.25  # what lies nearer than this is in the same place: no knife and no awl keeps it better (from memory)
ALIKE = ("stock", "side_up", "mirrored", "in_pairs", "count", "turns", "crafts")  # of two pieces of one pattern
LEAST_HOLE_MM = 1.0  # holes are looked at as small as this: that they are there, not how wide


class Makes(Frozen):
    """How many are made, and whether they are alike or in pairs."""

    count: Annotated[int, Field(ge=1, le=60)] = 1
    each: Literal["alike", "in-pairs"] = "alike"


def same(one: Assembly, other: Assembly, id: str, other_id: str) -> bool:
    """Whether two pieces are cut, marked, punched, sewn and worked by one pattern: all that either bears lies in the same place
    on the other, as it lies or turned end for end.
    """
    a, b = one.piece(id), other.piece(other_id)
    if any(getattr(a, name) != getattr(b, name) for name in ALIKE) or len(a.skives) != len(b.skives):
        return False
    if any((s.from_mm, s.to_mm) != (t.from_mm, t.to_mm) for s, t in zip(a.skives, b.skives, strict=True)):
        return False
    lines, others = _borne(one, id), _borne(other, other_id)
    if lines.keys() != others.keys():
        return False
    middles = [np.vstack([p.outline.min(axis=0), p.outline.max(axis=0)]).mean(axis=0) for p in (a, b)]
    return any(
        all(_apart((line - middles[0]) * turn + middles[1], others[name]) < NEAR_MM for name, line in lines.items())
        for turn in (1.0, -1.0)
    )


def _borne(assembly: Assembly, id: str) -> dict[str, Line]:
    """Every line and place on a piece, by what it is: its outline, edges, folds, slots, skives, holes, seats and seams."""
    piece = assembly.piece(id)
    borne = {"outline": piece.outline}
    borne["ends of its edges"] = np.array([e.line[0] for e in piece.edges if not e.ring])
    borne |= {f"fold {k}": line for k, line in enumerate(piece.folds)}
    borne |= {f"slot {k}": line for k, line in enumerate(piece.slots)}
    borne |= {f"skive {k}": s.ring for k, s in enumerate(piece.skives)}
    borne |= {f"skive {k} slopes": np.array([s.thick, s.thin]) for k, s in enumerate(piece.skives) if s.thick != s.thin}
    borne |= {f"hole {p.id} {p.diameter_mm:.3f}": np.array([p.centre]) for p in piece.punches}
    borne |= {f"{m.meaning} {m.id} {m.size_mm:.3f} {k}": m.line for k, m in enumerate(piece.ornament)}
    borne |= {f"seat {s.id}": s.line for s in assembly.seats if s.piece == id}
    for seam in assembly.seams:
        s = arc_length(seam.line)
        shares = s / max(float(s[-1]), 1e-9)
        borne |= {
            f"seam {base(seam.id)} {k} {seam.shape} {seam.margin_mm:.3f}": placed.onto(seam.line, shares)
            for k, placed in enumerate(seam.placed) if placed.piece == id
        }  # fmt: skip
    return borne


def _apart(one: Line, other: Line) -> float:
    """How far two lines lie apart at most, whichever way either runs."""
    if len(one) == len(other) and float(np.abs(one - other).max(initial=0.0)) < NEAR_MM:
        return 0.0
    a, b = (shapely.LineString(k) if len(k) > 1 else shapely.Point(k[0]) for k in (one, other))
    return float(shapely.hausdorff_distance(a, b))


@remembered("piece")
def own_mirror(piece: Piece) -> bool:
    """Whether a piece, turned over from side to side or end over end, is the same again, its holes and cut-outs with it."""
    low, high = piece.outline.min(axis=0), piece.outline.max(axis=0)
    area, middle = _with_holes(piece), (low + high) / 2
    off, most = np.array(area.centroid.coords[0]) - middle, SAME_MM * float(area.length)
    # what lies off the middle by so much differs from its mirror image by at least so large an area
    least = 4 * float(area.area) * np.abs(off) / np.maximum(high - low, 1e-9)
    return any(
        least[k] < most
        and float(affinity.scale(area, *turn, origin=tuple(middle)).symmetric_difference(area).area) < most
        for k, turn in enumerate(((-1, 1), (1, -1)))
    )


def _with_holes(piece: Piece) -> BaseGeometry:
    """What is left of a piece, as an area."""
    punched = shapely.MultiPoint([p.centre for p in piece.punches]).buffer(LEAST_HOLE_MM)
    return (
        area_within(piece.outline)
        .difference(shapely.union_all([area_within(s) for s in piece.slots]))
        .difference(punched)
    )


def handed(assembly: Assembly) -> frozenset[str]:
    """The ids of pieces that are left or right: what makes a shell or has others on it, what is not its own mirror image."""
    on_sides = {id for s in assembly.shells for id in s.pieces} | {s.piece for s in assembly.seats}
    return frozenset(p.id for p in assembly.pieces if p.id in on_sides or not own_mirror(p))


@remembered("wearer")
def repeated(draft: Draft, makes: Makes) -> Draft:
    """The draft with so many times as many of every piece; one is drafted, stitched and sewn as before. In pairs, what makes a
    shell or has others on it is left and right; of the rest what is not its own mirror image.
    """
    if makes.count == 1:
        return draft
    sides = handed(draft.assembly) if makes.each == "in-pairs" else frozenset()
    pieces = (
        replace(p, count=p.count * makes.count, spare=p.spare * makes.count, in_pairs=p.id in sides)
        for p in draft.pieces
    )
    return replace(draft, assembly=draft.assembly.with_more(pieces), makes=makes.count)
