"""Pieces placed on a piece of leather: largest first, each box as near to one end as it goes, 2 mm left for the knife.

This first way works with the boxes of the pieces. It is honest about area, and never lets two pieces meet.
"""

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..curve import Line, Values, frozen
from ..draft import Draft, Piece
from ..finding import Finding
from ..quantity import Q
from ..reckoning import Reckoning, length, percent, reckon, said
from .hide import Hide

KNIFE_MM = 2.0  # room between pieces for the knife (common practice)
STEP_MM = 3.0  # grid on which places are tried
BATCH = 64


@dataclass(frozen=True, slots=True, eq=False)
class Laid:
    """One piece on the leather: its outline there, and how it was turned from its pattern."""

    piece: str
    copy: int
    outline: Line
    turned_rad: float


@dataclass(frozen=True, slots=True, eq=False)
class Layout:
    """What lies where, what it uses, and what did not fit."""

    laid: tuple[Laid, ...]
    missing: tuple[str, ...]
    used_mm2: float
    hide_mm2: float
    reckonings: tuple[Reckoning, ...]
    findings: tuple[Finding, ...]


def lay_out(draft: Draft, hide: Hide) -> Layout:
    """Lay all pieces of the draft on the hide. Never raises: what does not fit is a hold."""
    back = _turn(hide.best_rad)
    sound: BaseGeometry = shapely.Polygon(np.array(hide.outline) @ back).buffer(0)
    for flaw in hide.flaws:
        sound = sound.difference(shapely.Polygon(np.array(flaw) @ back).buffer(0))
    shapely.prepare(sound)
    hide_mm2 = float(sound.area)
    taken: list[tuple[float, float, float, float]] = []
    laid: list[Laid] = []
    missing: list[Piece] = []
    for piece in sorted(draft.pieces, key=lambda p: -p.area_mm2):
        for copy in range(piece.count):
            place = _place(piece, sound, taken)
            if place is None:
                missing.append(piece)
                continue
            ring, box, turned = place
            taken.append(box)
            laid.append(Laid(piece.name, copy, frozen(ring @ back.T), turned + hide.best_rad))
    used = sum(p.area_mm2 * p.count for p in draft.pieces)
    return Layout(
        tuple(laid), tuple(p.name for p in missing), used, hide_mm2, _reckonings(used, hide_mm2, laid, hide),
        tuple(_too_large(p, hide) for p in missing),
    )  # fmt: skip


def _turn(angle_rad: float) -> Line:
    c, s = np.cos(angle_rad), np.sin(angle_rad)
    return np.array([[c, -s], [s, c]])


def _place(
    piece: Piece, sound: BaseGeometry, taken: list[tuple[float, float, float, float]]
) -> tuple[Line, tuple[float, float, float, float], float] | None:
    """The least place, by how far along and then how far across, over the allowed quarter turns."""
    x0, y0, x1, y1 = sound.bounds
    best: tuple[tuple[float, float], Line, tuple[float, float, float, float], float] | None = None
    # a piece's own long way runs down its pattern, the leather's best way to the right: a quarter turn brings them together
    for turned in (np.pi / 2,) if piece.turns == "along" else (np.pi / 2, 0.0):
        ring = piece.outline @ _turn(turned)
        ring = ring - ring.min(axis=0)
        wide, high = ring.max(axis=0)
        xs = np.arange(x0 + 1, x1 - wide + 1e-9, STEP_MM)
        ys = np.arange(y0 + 1, y1 - high + 1e-9, STEP_MM)
        if not len(xs) or not len(ys):
            continue
        gx, gy = (g.ravel() for g in np.meshgrid(xs, ys, indexing="ij"))
        free = np.ones(len(gx), bool)
        for a, b, c, d in taken:
            free &= (gx > c + KNIFE_MM) | (gx + wide < a - KNIFE_MM) | (gy > d + KNIFE_MM) | (gy + high < b - KNIFE_MM)
        gx, gy = gx[free], gy[free]
        k = _first_inside(sound, gx, gy, float(wide), float(high))
        if k is not None and (best is None or (gx[k] + wide, gy[k]) < best[0]):
            x, y = float(gx[k]), float(gy[k])
            best = ((x + wide, y), ring + [x, y], (x, y, x + float(wide), y + float(high)), turned)
    return best and best[1:]


def _first_inside(sound: BaseGeometry, x: Values, y: Values, wide: float, high: float) -> int | None:
    """Index of the first box that lies inside; asked for in batches, because the first few mostly do."""
    for start in range(0, len(x), BATCH):
        bx, by = x[start : start + BATCH], y[start : start + BATCH]
        inside = shapely.contains_properly(sound, shapely.box(bx, by, bx + wide, by + high))
        if inside.any():
            return start + int(np.argmax(inside))
    return None


def _reckonings(used: float, hide_mm2: float, laid: list[Laid], hide: Hide) -> tuple[Reckoning, ...]:
    reach = max((float(x.outline[:, 0].max()) for x in laid), default=0.0)
    found = [
        reckon("leather/used", "Leather in the pieces", Q("area", used),
               said("of {hide} of {name}".replace("{name}", hide.name), hide=Q("area", hide_mm2))),
        reckon("leather/share", "Used of this piece", percent(used / hide_mm2),
               said("{used:n} over {hide}", used=Q("area", used), hide=Q("area", hide_mm2))),
        reckon("leather/reach", "Reaches from the end", length(reach), said("what lies beyond stays whole")),
    ]  # fmt: skip
    if hide.price_dm2:
        found.append(reckon(
            "leather/cost", "Leather, cost", Q("money", used / 1e4 * hide.price_dm2),
            said("{used} at {price} a dm², without what is wasted between", used=Q("area", used),
                 price=Q("money", hide.price_dm2)),
        ))  # fmt: skip
    return tuple(found)


def _too_large(piece: Piece, hide: Hide) -> Finding:
    w, h = np.ptp(piece.outline, axis=0)
    hw, hh = np.ptp(np.array(hide.outline), axis=0)
    return Finding(
        "hold", "leather-too-small", "layout",
        said(f"The {piece.name}, {{w:n}} by {{h}}, finds no place left on {hide.name}, {{hw:n}} by {{hh}}.",
             w=length(w), h=length(h), hw=length(hw), hh=length(hh)),
        f"leather:{piece.name}",
    )  # fmt: skip
