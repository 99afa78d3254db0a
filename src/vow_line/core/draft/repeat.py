"""So many of one thing: alike, or left and right in turn, every second one cut turned over."""

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely import affinity
from shapely.geometry.base import BaseGeometry

from ..curve import area_within
from ..frozen import Frozen
from ..memory import remembered
from .assembly import Assembly
from .drafted import Draft
from .pieces import Piece

SAME_MM = 0.05  # outlines that differ by less all round are the same
LEAST_HOLE_MM = 1.0  # holes are looked at as small as this: that they are there, not how wide


class Makes(Frozen):
    """How many are made, and whether they are alike or in pairs."""

    count: Annotated[int, Field(ge=1, le=60)] = 1
    each: Literal["alike", "in-pairs"] = "alike"


def same(one: Piece, other: Piece) -> bool:
    """Whether two pieces are cut, folded and made by one pattern."""
    if (one.stock, one.side_up, one.mirrored, one.over, one.in_pairs, one.count) != (
        other.stock, other.side_up, other.mirrored, other.over, other.in_pairs, other.count
    ):  # fmt: skip
        return False
    if len(one.folds) != len(other.folds) or len(one.skives) != len(other.skives):
        return False
    lines = zip(
        (*one.folds, *(s.ring for s in one.skives)), (*other.folds, *(s.ring for s in other.skives)), strict=True
    )
    areas = _with_holes(one), _with_holes(other)
    off = float(areas[0].symmetric_difference(areas[1]).area)
    return off < SAME_MM * float(areas[0].length) and all(
        a.shape == b.shape and float(np.abs(a - b).max(initial=0.0)) < SAME_MM for a, b in lines
    )


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
    pieces = (replace(p, count=p.count * makes.count, in_pairs=p.id in sides) for p in draft.pieces)
    return replace(draft, assembly=draft.assembly.with_more(pieces), makes=makes.count)
