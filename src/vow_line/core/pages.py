"""Pieces on the fewest pages: turned as they like, never flipped, several on a page, none split that fits whole.

Turned boxes are packed. For each set of pieces that may share a page boxes are put where others end, the largest first, then in
other orders, as many as there is patience for; of the ways to share pages the one with the fewest is taken.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import combinations, permutations, product

import numpy as np
import shapely
import shapely.affinity
from shapely.geometry.base import BaseGeometry

from .cells import Cells, Sums, any_about, sums_at_corners
from .curve import Line
from .draft import Piece

GAP_MM = 5.0  # between pieces on a page, so that a knife has room to turn
EDGE_MM = 1.0  # round them all
OVERLAP_MM = 12.0  # of the pages of a piece that is split
LEVEL_MM = 0.5  # a fold that leaves a page's edge by less runs along it
TRIED = 25  # places at which pages are tried to meet
AT_ONCE = 16 * 2 ** np.arange(1, 20) - 16  # after so many places, the nearest first, twice as many are tried together
STEP_MM, CLEAR_MM = 3.0, 1.2  # places at which words are tried, and how far they keep from holes
PATIENCE = 3000  # boxes put down before a set of pieces is taken not to fit a page
STRAIGHT = (0.0, np.pi / 2)  # as it was drafted, or a quarter turned
MOST_SHARED = 8  # so many pieces are shared out among pages in every way; more go where there is room first


@dataclass(frozen=True, slots=True, eq=False)
class OnPage:
    """A piece turned by `turn_rad` about its frame's origin, then moved by `shift`, mm from the corner of the page's room."""

    piece: Piece
    turn_rad: float
    shift: tuple[float, float]

    def onto(self, points: Line) -> Line:
        """Points of the piece where they lie on the page."""
        return turned(points, self.turn_rad) + np.array(self.shift)


@dataclass(frozen=True, slots=True, eq=False)
class Page:
    """What lies on one page; of a piece that is split, which page of how many across and down it is, and which part of how
    many: places where nothing of it lies have no page.
    """

    pieces: tuple[OnPage, ...]
    column: int = 0
    row: int = 0
    columns: int = 1
    rows: int = 1
    part: int = 1
    parts: int = 1


def turned(points: Line, by_rad: float) -> Line:
    """Points turned clockwise as they are seen, y being down."""
    c, s = np.cos(by_rad), np.sin(by_rad)
    return points @ np.array([[c, s], [-s, c]])


@dataclass(frozen=True, slots=True)
class _Box:
    """The box of a piece turned by so much, and how large it is."""

    turn_rad: float
    wide: float
    high: float


def pages_of(pieces: Sequence[Piece], room_mm: tuple[float, float]) -> tuple[Page, ...]:
    """The pages that hold these pieces, on sheets with a room of so much across and down."""
    room = (room_mm[0] - 2 * EDGE_MM, room_mm[1] - 2 * EDGE_MM)

    def fits(some: list[_Box]) -> list[_Box]:
        return [b for b in some if b.wide <= room[0] and b.high <= room[1]]

    boxes = [_boxes(p) for p in pieces]
    found = {k: fits(some) or fits(_aslant(pieces[k])) for k, some in enumerate(boxes)}
    fit = {k: some for k, some in found.items() if some}
    pages = [
        Page(tuple(_put(pieces[k], box, x + EDGE_MM, y + EDGE_MM) for k, box, x, y in page))
        for page in _shared(fit, (room[0] + GAP_MM, room[1] + GAP_MM))
    ]
    for k, piece in enumerate(pieces):
        if k not in fit:
            pages += _split(piece, boxes[k], room_mm)
    order = {p.id: n for n, p in enumerate(pieces)}
    return tuple(sorted(pages, key=lambda page: (order[page.pieces[0].piece.id], page.row, page.column)))


def _put(piece: Piece, box: _Box, x: float, y: float) -> OnPage:
    low = turned(piece.outline, box.turn_rad).min(axis=0)
    return OnPage(piece, box.turn_rad, (x - float(low[0]), y - float(low[1])))


def _hull(piece: Piece) -> Line:
    return shapely.get_coordinates(shapely.convex_hull(shapely.MultiPoint(piece.outline)))[:-1]


def _turned_boxes(hull: Line, angles: Iterable[float]) -> list[_Box]:
    """The boxes of a hull at some angles, each also a quarter turned."""
    found = []
    for angle in angles:
        wide, high = (float(v) for v in np.ptp(turned(hull, float(angle)), axis=0))
        found += [_Box(float(angle), wide, high), _Box(float(angle) + np.pi / 2, high, wide)]
    return found


def _boxes(piece: Piece) -> list[_Box]:
    """The boxes of a piece as drafted and along the edges of its hull, each also a quarter turned: the smallest first."""
    hull = _hull(piece)
    ways = np.diff(np.vstack([hull, hull[:1]]), axis=0)
    angles = np.unique(np.round(np.append(np.mod(-np.arctan2(ways[:, 1], ways[:, 0]), np.pi / 2), 0.0), 4))
    found = sorted(_turned_boxes(hull, angles), key=lambda b: b.wide * b.high)
    slim = sorted(found, key=lambda b: min(b.wide, b.high))[:2]
    kept: dict[tuple[float, float], _Box] = {}
    for box in (*(b for b in found if b.turn_rad in STRAIGHT), *found[:2], *slim):
        kept.setdefault((round(box.wide, 2), round(box.high, 2)), box)
    return list(kept.values())


def _aslant(piece: Piece) -> list[_Box]:
    """The smallest boxes of a piece at any angle: what is too long for a page may lie across it."""
    return sorted(_turned_boxes(_hull(piece), np.linspace(0.0, np.pi / 2, 91)), key=lambda b: b.wide * b.high)


Lying = tuple[int, _Box, float, float]


def _shared(fit: dict[int, list[_Box]], room: tuple[float, float]) -> list[list[Lying]]:
    """The pieces shared out among as few pages as can be found."""
    area = {k: min(b.wide * b.high for b in some) for k, some in fit.items()}
    by_size = sorted(fit, key=lambda k: -area[k])
    known: dict[frozenset[int], list[Lying] | None] = {}

    def page(some: Sequence[int]) -> list[Lying] | None:
        key = frozenset(some)
        if key not in known:
            straight = {k: [b for b in fit[k] if b.turn_rad in STRAIGHT] for k in some}
            known[key] = _packed(straight, room) or _packed({k: fit[k] for k in some}, room)
        return known[key]

    if len(by_size) > MOST_SHARED:
        return _first_fit(by_size, page)
    best: list[list[Lying]] | None = None

    def share(left: list[int], so_far: list[list[Lying]]) -> None:
        nonlocal best
        if not left:
            best = so_far
            return
        if best is not None and len(so_far) + 1 >= len(best):
            return
        first, rest = left[0], left[1:]
        for n in range(len(rest), -1, -1):
            for others in combinations(rest, n):
                lying = page((first, *others))
                if lying is not None:
                    share([k for k in rest if k not in others], [*so_far, lying])
                    if best is not None and len(best) <= len(so_far) + 1:
                        return

    share(by_size, [])
    return best or []


def _first_fit(by_size: list[int], page: Callable[[Sequence[int]], list[Lying] | None]) -> list[list[Lying]]:
    pages: list[list[int]] = []
    for k in by_size:
        roomy = next((some for some in pages if page((*some, k)) is not None), None)
        if roomy is None:
            pages.append([k])
        else:
            roomy.append(k)
    return [page(some) or [] for some in pages]


def _packed(fit: dict[int, list[_Box]], room: tuple[float, float]) -> list[Lying] | None:
    """Boxes put on one page with a gap between them, or nothing where no way is found."""
    if (
        not all(fit.values())
        or sum(min((b.wide + GAP_MM) * (b.high + GAP_MM) for b in some) for some in fit.values()) > room[0] * room[1]
    ):
        return None
    left = PATIENCE
    by_area = sorted(fit, key=lambda k: -max(b.wide * b.high for b in fit[k]))
    by_length = sorted(fit, key=lambda k: -max(b.wide for b in fit[k]))

    def put(order: Sequence[int], lying: list[Lying]) -> list[Lying] | None:
        nonlocal left
        if len(lying) == len(order):
            return lying
        k = order[len(lying)]
        xs = sorted({0.0, *(x + b.wide + GAP_MM for _, b, x, _ in lying)})
        ys = sorted({0.0, *(y + b.high + GAP_MM for _, b, _, y in lying)})
        for box in fit[k]:
            w, h = box.wide + GAP_MM, box.high + GAP_MM
            for y in ys:
                if y + h > room[1] + 1e-9:
                    break
                for x in xs:
                    if x + w > room[0] + 1e-9:
                        break
                    left -= 1
                    if left < 0:
                        return None
                    if all(x + w <= a + 1e-9 or a + b.wide + GAP_MM <= x + 1e-9 or y + h <= c + 1e-9
                           or c + b.high + GAP_MM <= y + 1e-9 for _, b, a, c in lying):  # fmt: skip
                        found = put(order, [*lying, (k, box, x, y)])
                        if found is not None:
                            return found
        return None

    for order in (by_area, by_length, *permutations(by_area)):
        found = put(order, [])
        if found is not None or left < 0:
            return found
    return None


def _split(piece: Piece, boxes: list[_Box], room: tuple[float, float]) -> list[Page]:
    """The pages of a piece too large for one: turned so that they are fewest, neighbours overlapping; where there is a choice
    they meet on a fold, else where the cut across is shortest.
    """

    def grid(box: _Box) -> tuple[int, int]:
        size = (box.wide + 2 * EDGE_MM, box.high + 2 * EDGE_MM)
        across, down = (max(1, int(np.ceil((size[i] - OVERLAP_MM) / (room[i] - OVERLAP_MM)))) for i in (0, 1))
        return across, down

    def laid(box: _Box) -> list[Page]:
        across, down = grid(box)
        size = np.array([box.wide, box.high]) + 2 * EDGE_MM
        left = np.array([across, down]) * (np.array(room) - OVERLAP_MM) + OVERLAP_MM - size
        whole = _put(piece, box, EDGE_MM, EDGE_MM)
        area = shapely.Polygon(whole.onto(piece.outline)).buffer(0)
        by = [_met(area, [whole.onto(f) for f in piece.folds], k, many, room[k] - OVERLAP_MM, float(left[k]))
              for k, many in enumerate((across, down))]  # fmt: skip
        whole = replace(whole, shift=(whole.shift[0] + by[0], whole.shift[1] + by[1]))
        area = shapely.affinity.translate(area, *by)
        found = []
        for r, c in product(range(down), range(across)):
            x, y = c * (room[0] - OVERLAP_MM), r * (room[1] - OVERLAP_MM)
            own = shapely.box(
                x + OVERLAP_MM * (c > 0), y + OVERLAP_MM * (r > 0), x + room[0], y + room[1]
            )  # what lies nearer its corner is on the page before as well
            if area.intersects(own):
                on = OnPage(piece, box.turn_rad, (whole.shift[0] - x, whole.shift[1] - y))
                found.append(Page((on,), c, r, across, down))
        return [replace(page, part=k + 1, parts=len(found)) for k, page in enumerate(found)]

    few = [(laid(box), box) for box in sorted(boxes, key=lambda b: np.prod(grid(b)))]
    return min(few, key=lambda f: (len(f[0]), f[1].turn_rad != 0.0, f[1].wide * f[1].high))[0]


def _met(area: BaseGeometry, folds: Sequence[Line], axis: int, pages: int, step: float, left: float) -> float:
    """How far along an axis a piece is best moved, of the room that is `left`, so that pages a `step` apart meet in the middle
    of their overlap on one of its folds; else where the cuts across it are shortest.
    """
    if pages < 2 or left <= 0:
        return 0.0
    meets = step * np.arange(1, pages) + OVERLAP_MM / 2
    low, high = area.bounds[1 - axis] - 1, area.bounds[3 - axis] + 1
    level = [float(f[:, axis].mean()) for f in folds if np.ptp(f[:, axis]) < LEVEL_MM]
    on_fold = [float(m - f) for m in meets for f in level if 0 <= m - f <= left]
    if on_fold:
        return on_fold[0]

    tried = np.linspace(0.0, left, TRIED)
    lines = np.empty((TRIED, len(meets), 2, 2))
    lines[..., axis], lines[..., 1 - axis] = (meets - tried[:, None])[..., None], (low, high)
    cut = shapely.length(shapely.intersection(area, shapely.linestrings(lines))).sum(axis=1).round(1)
    return float(tried[np.argmin(cut)])


class Room:
    """Where there is room for words in an area."""

    def __init__(self, area: BaseGeometry) -> None:
        self.area = area
        self._grids: dict[float, tuple[Line, Cells, Sums, Line]] = {}
        shapely.prepare(area)

    def place(
        self, size_mm: tuple[float, float], turns_rad: Sequence[float], clear_of: Line, near: tuple[float, float]
    ) -> tuple[float, float, float] | None:  # fmt: skip
        """Where a box of a size, turned by one of some angles, lies within the area and holds none of the points
        `clear_of (n, 2)`: its middle and its angle, the first angle that will do, as near as may be to a place; None where
        there is none.
        """
        if self.area.is_empty:
            return None
        half = np.array(size_mm) / 2
        corners = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * half
        points = np.asarray(clear_of, float).reshape(-1, 2)
        for turn in turns_rad:
            box, lies = turned(corners, turn), turned(points, -turn)  # as the box sees them
            at = self._may_lie(half, turn, lies)
            at = at[np.argsort(np.hypot(*(at - near).T))]
            for some in np.split(at, AT_ONCE[: int(np.searchsorted(AT_ONCE, len(at)))]):
                seen, (x, y), (wide, high) = turned(some, -turn), lies.T, half + CLEAR_MM
                taken = (np.abs(seen[:, :1] - x) <= wide) & (np.abs(seen[:, 1:] - y) <= high)
                free = some[~taken.any(axis=1)]
                within = free[shapely.contains(self.area, shapely.polygons(free[:, None] + box[None]))]
                if len(within):
                    return float(within[0, 0]), float(within[0, 1]), float(turn)
        return None

    def _may_lie(self, half: Line, turn: float, clear_of: Line) -> Line:
        """The places `(n, 2)` where the middle of a box, turned, may lie: those of a grid whose box holds no cell that is
        outside the area or has a point to be kept `clear_of`. Of some it cannot be told by the grid: they are kept.
        """
        grid, inside, outside, corner = self._grid(turn)
        at = np.floor((clear_of - corner) / STEP_MM).astype(int)
        pointed = np.zeros_like(inside)
        pointed[*at[((at >= 0) & (at < inside.shape)).all(axis=1)].T] = True
        may = inside & ~any_about(outside, *_reach(half))
        clear = _reach(half + CLEAR_MM - STEP_MM / 2)  # wherever in its cell the point is
        if min(clear) >= 0:
            may &= ~any_about(sums_at_corners(pointed), *clear)
        return np.asarray(grid[may])

    def _grid(self, turn: float) -> tuple[Line, Cells, Sums, Line]:
        """The places `(n, m, 2)` of a grid over the area, turned; which of them it holds; sums over those it does not; and its
        corner as the box sees it.
        """
        if turn not in self._grids:
            around = turned(shapely.get_coordinates(self.area), -turn)
            low, high = around.min(axis=0), around.max(axis=0)
            x, y = (np.arange(a, b, STEP_MM) + STEP_MM / 2 for a, b in zip(low, high, strict=True))
            grid = turned(np.stack(np.meshgrid(x, y, indexing="ij"), axis=-1), turn)
            inside = shapely.contains_xy(self.area, grid[..., 0], grid[..., 1])
            self._grids[turn] = grid, inside, sums_at_corners(~inside), low
        return self._grids[turn]


def _reach(half: Line) -> list[int]:
    """How many cells beside its own have their middle in a box half so large."""
    return np.floor(half / STEP_MM + 1e-9).astype(int).tolist()
