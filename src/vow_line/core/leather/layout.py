"""Pieces placed on a piece of leather: largest first, each box as near to one end as it goes, at least the 2 mm left that
a knife needs (common practice).

This first way works with the boxes of the pieces. It is honest about area, and never lets two pieces meet.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..cells import sums, sums_at_corners
from ..curve import Line, Values, frozen
from ..draft import Draft, Piece
from ..draft.pieces import Edge, Stock, edged, leather
from ..draft.together import patterns_of
from ..finding import Finding
from ..memory import remembered
from ..quantity import Q
from ..reckoning import Reckoning, length, percent, reckon
from ..texts import Said, said, summed, verbatim
from .hide import Hide, Ring

STEP_MM = 3.0  # side of the cells the leather is divided into; more than the knife needs
SPOILED = "spoiled/"  # begins the id of what was cut and cannot be used
ROWS = 24  # of cells are looked through at once for a place
MOST_CELLS = 1500  # along either side, beyond which cells grow: a whole hide stays quick


@dataclass(frozen=True, slots=True, eq=False)
class Laid:
    """One piece on the leather: its outline there, how it was turned from its pattern, and the id of that."""

    piece: str
    title: Said
    copy: int
    outline: Line
    turned_rad: float
    pattern: str


@dataclass(frozen=True, slots=True, eq=False)
class Layout:
    """What lies where, what it uses, and what did not fit."""

    laid: tuple[Laid, ...]
    missing: tuple[str, ...]
    used_mm2: float
    hide_mm2: float
    reckonings: tuple[Reckoning, ...]
    findings: tuple[Finding, ...]


def lay_out(draft: Draft, hide: Hide, spoiled: Mapping[str, Line] = MappingProxyType({})) -> Layout:
    """Lay all pieces of the draft on the hide, and the outlines of what was `spoiled`, which is gone from it. Never raises:
    what does not fit is a hold.
    """
    cells = _cells(hide.outline, hide.flaws, hide.best_rad)
    back = _turn(hide.best_rad)
    free = _Free(cells.sound)
    laid: list[Laid] = []
    missing: list[Piece] = []
    pieces = [p for p in draft.pieces if p.laid] + [_gone(id, ring, draft, hide) for id, ring in spoiled.items()]
    by_pattern = patterns_of(draft)
    for piece in sorted(pieces, key=lambda p: -p.area_mm2):
        for copy in range(piece.count):
            over = piece.in_pairs and copy % 2 == 1
            place = _place(replace(piece, outline=frozen(piece.outline * [-1.0, 1.0])) if over else piece, cells, free)
            if place is None:
                missing.append(piece)
                continue
            ring, turned = place
            by = by_pattern.get(piece.id, piece)
            laid.append(Laid(piece.id, by.title, copy, frozen(ring @ back.T), turned + hide.best_rad, by.id))
    used = sum(p.area_mm2 * p.count for p in pieces)
    return Layout(
        tuple(laid), tuple(p.id for p in missing), used, cells.area_mm2,
        (*_reckonings(used, cells.area_mm2, laid, hide), *_besides(draft)),
        (*(_too_large(p, hide) for p in dict.fromkeys(missing)), *_no_leather(hide, cells.area_mm2)),
    )  # fmt: skip


def _gone(id: str, ring: Line, draft: Draft, hide: Hide) -> Piece:
    """A piece that was cut and spoiled, as it takes its leather."""
    outline, edges = edged(Edge("around", said("edge"), ring, "free"))
    of = next((p.title for p in draft.pieces if p.id == id.rpartition("/")[0]), verbatim(id))
    return Piece(f"{SPOILED}{id}", said("{piece}, spoiled", piece=of), outline, edges, leather(hide.thickness_mm))


QUARTERS = {"along": (np.pi / 2,), "across": (0.0,), "any": (np.pi / 2, 0.0)}
"""How far a pattern may be turned so that the best way runs as it must."""


@dataclass(frozen=True, slots=True, eq=False)
class _Cells:
    """The hide turned so that its best way runs right, as square cells: which of them are sound leather throughout."""

    left_mm: float
    top_mm: float
    step_mm: float
    sound: NDArray[np.bool_]
    area_mm2: float


@remembered("part")
def _cells(outline: Ring, flaws: tuple[Ring, ...], best_rad: float) -> _Cells:
    """By what they lie in alone: a price or a thickness moves none."""
    back = _turn(best_rad)
    sound: BaseGeometry = shapely.Polygon(np.array(outline) @ back).buffer(0)
    for flaw in flaws:
        sound = sound.difference(shapely.Polygon(np.array(flaw) @ back).buffer(0))
    x0, y0, x1, y1 = sound.bounds if not sound.is_empty else (0.0, 0.0, 1.0, 1.0)
    step = max(STEP_MM, (x1 - x0) / MOST_CELLS, (y1 - y0) / MOST_CELLS)
    x, y = np.arange(x0, x1, step), np.arange(y0, y1, step)
    return _Cells(float(x0), float(y0), float(step), _within(sound, x, y, step), float(sound.area))


def _within(sound: BaseGeometry, x: Values, y: Values, step: float) -> NDArray[np.bool_]:
    """Which square cells, their corners at x and y, lie in the sound leather throughout: of those that its border does not come
    near each run does, or does not; only the others are asked one by one.
    """
    size = np.array([len(x), len(y)])
    border = shapely.get_coordinates(shapely.segmentize(sound.boundary, step / 2))
    i, j = np.clip(((border - [x[0], y[0]]) / step).astype(int), 0, size - 1).T
    near = np.zeros(size + 2, bool)
    for di, dj in np.ndindex(3, 3):
        near[i + di, j + dj] = True
    near = near[1:-1, 1:-1]
    begins = ~near & np.column_stack([np.ones(len(x), bool), near[:, :-1]])
    i, j = np.nonzero(begins)
    shapely.prepare(sound)
    run = shapely.contains_xy(sound, x[i] + step / 2, y[j] + step / 2)
    inside = np.append(run, False)[np.cumsum(begins).reshape(begins.shape) - 1] & ~near
    i, j = np.nonzero(near)
    inside[i, j] = shapely.contains_properly(sound, shapely.box(x[i], y[j], x[i] + step, y[j] + step))
    return np.asarray(inside)


def _turn(angle_rad: float) -> Line:
    c, s = np.cos(angle_rad), np.sin(angle_rad)
    return np.array([[c, -s], [s, c]])


class _Free:
    """Which cells are free, and for each corner how many are not above and left of it, so that any box is asked for in four
    look-ups.
    """

    def __init__(self, sound: NDArray[np.bool_]) -> None:
        self.cells = sound.copy()
        self._blocked = sums_at_corners(~sound)

    def first(self, wide: int, high: int) -> tuple[int, int] | None:
        """Where a box of so many cells is free, the least by how far along and then how far across."""
        blocked = self._blocked
        for start in range(0, self.cells.shape[0] - wide + 1, ROWS):
            stop = min(start + ROWS, self.cells.shape[0] - wide + 1)
            near, far = blocked[start:stop], blocked[start + wide : stop + wide]
            inside = far[:, high:] - near[:, high:] - far[:, : -high or None] + near[:, : -high or None] == 0
            if inside.any():
                i, j = np.unravel_index(int(np.argmax(inside)), inside.shape)
                return start + int(i), int(j)
        return None

    def take(self, i: int, j: int, wide: int, high: int) -> None:
        """Take a box, and a cell round it, for the knife."""
        top, left = max(i - 1, 0), max(j - 1, 0)
        box = self.cells[top : i + wide + 1, left : j + high + 1]
        more = sums(box)
        rows, columns = slice(top + 1, top + 1 + box.shape[0]), slice(left + 1, left + 1 + box.shape[1])
        self._blocked[rows, columns] += more
        self._blocked[rows, columns.stop :] += more[:, -1:]
        self._blocked[rows.stop :, columns] += more[-1]
        self._blocked[rows.stop :, columns.stop :] += more[-1, -1]
        box[:] = False


def _place(piece: Piece, cells: _Cells, free: _Free) -> tuple[Line, float] | None:
    """The least place, by how far along and then how far across, over the allowed quarter turns; marks it as taken."""
    best: tuple[int, int, int, int, Line, float] | None = None
    # a piece's own long way runs down its pattern, the leather's best way to the right: a quarter turn brings them together
    for turned in QUARTERS[piece.turns]:
        ring = piece.outline @ _turn(turned)
        ring = ring - ring.min(axis=0)
        wide, high = (int(n) for n in np.ceil(ring.max(axis=0) / cells.step_mm + 1e-9))
        if wide > free.cells.shape[0] or high > free.cells.shape[1]:
            continue
        at = free.first(wide, high)
        if at is not None and (best is None or (at[0] + wide, at[1]) < (best[0] + best[2], best[1])):
            best = (*at, wide, high, ring, turned)
    if best is None:
        return None
    i, j, wide, high, ring, turned = best
    free.take(i, j, wide, high)
    return ring + [cells.left_mm + i * cells.step_mm, cells.top_mm + j * cells.step_mm], turned


def _reckonings(used: float, hide_mm2: float, laid: list[Laid], hide: Hide) -> tuple[Reckoning, ...]:
    reach = max((float(x.outline[:, 0].max()) for x in laid), default=0.0)
    reckonings = [
        reckon("leather/used", said("Leather in the pieces"), Q("area", used),
               said("of {hide} of {name}", name=hide.name, hide=Q("area", hide_mm2))),
        reckon("leather/share", said("Used of this piece"), percent(used / max(hide_mm2, 1.0)),
               said("{used:n} over {hide}", used=Q("area", used), hide=Q("area", hide_mm2))),
        reckon("leather/reach", said("Reaches from the end"), length(reach), said("what lies beyond stays whole")),
    ]  # fmt: skip
    if hide.price_dm2:
        reckonings.append(reckon(
            "leather/cost", said("Leather, cost"), Q("money", used / 1e4 * hide.price_dm2),
            said("{used} at {price} a dm², without what is wasted between", used=Q("area", used),
                 price=Q("money", hide.price_dm2)),
        ))  # fmt: skip
    return tuple(reckonings)


def _besides(draft: Draft) -> tuple[Reckoning, ...]:
    """What the pieces want that is not cut from this leather, by stock."""
    others: dict[Stock, list[Piece]] = {}
    for piece in draft.pieces:
        if not piece.laid:
            others.setdefault(piece.stock, []).append(piece)
    reckonings = []
    for stock, pieces in others.items():
        areas = [p.area_mm2 * p.count for p in pieces]
        text = [said("{piece} {a:n}", piece=p.title, a=Q("area", a)) for p, a in zip(pieces, areas, strict=True)]
        sum_ = said("{text}; not cut from this piece", text=summed(text))
        reckonings.append(Reckoning(
            f"leather/besides/{stock.id}", stock.title,
            said("{t} thick, {a}", t=Q("leather", stock.thickness_mm), a=Q("area", sum(areas))),
            sum_, tuple(p.id for p in pieces), stock.thickness_mm,
        ))  # fmt: skip
    return tuple(reckonings)


def _no_leather(hide: Hide, hide_mm2: float) -> tuple[Finding, ...]:
    if hide_mm2 > 1:
        return ()
    return (Finding("hold", "no-sound-leather", "layout", said("No sound leather is left of {name}: its flaws cover it.",
                                                               name=hide.name), "leather.flaws"),)  # fmt: skip


def _too_large(piece: Piece, hide: Hide) -> Finding:
    w, h = np.ptp(piece.outline, axis=0)
    hw, hh = np.ptp(np.array(hide.outline), axis=0)
    return Finding(
        "hold", "leather-too-small", "layout",
        said("The {piece}, {w:n} by {h}, finds no place left on {name}, {hw:n} by {hh}.",
             name=hide.name, w=length(w), h=length(h), hw=length(hw), hh=length(hh), piece=piece.title),
        f"leather:{piece.id}",
    )  # fmt: skip
