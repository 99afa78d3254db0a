"""Outlines read from drawings: one closed curve, in mm where the file says how large it is."""

from collections import Counter, defaultdict
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from ..core.curve import Line, Values, frozen, thinned
from ..core.errors import UnreadableFile
from ..core.ring import closed, turned_right
from ..core.texts import tell
from . import curves_dxf, curves_svg, curves_text
from .curves import FLAT_MM, refuse_far, refuse_many
from .whole import read_whole

FORMATS = (curves_svg, curves_dxf, curves_text)
MOST_BYTES = 20_000_000
JOINED_MM = 0.05  # ends nearer than this are one end
HOLE_MM = 8.0  # a round curve no wider than this, within an outline, is a hole in it (from memory)
SMALL = 0.1  # closed curves of less than this share of the largest's area are marks and holes, not asked about
LEAST_MM, MOST_MM = 5.0, 5000.0  # an outline shorter or longer than this is asked about
PAGE_SHARE = 0.8  # a frame is at least this share of its page each way
PAPERS_MM = (
    (148, 210), (210, 297), (297, 420), (420, 594), (594, 841), (841, 1189),  # ISO 216: A5 to A0
    (215.9, 279.4), (215.9, 355.6), (279.4, 431.8),  # ANSI/ASME Y14.1: A and B, and Legal, common practice
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Candidate:
    """A closed curve in a file that may be meant: how wide and high it is; whether it may be the frame of a page: a plain
    rectangle nearly as large as the page with another large curve in it; and whether it lies within another that is none, as
    what is cut out does.
    """

    wide: float
    high: float
    frame: bool
    within: bool


@dataclass(frozen=True, slots=True, eq=False)
class FileOutline:
    """A closed curve `(n, 2)`, from (0, 0), in mm when `scaled`, else in the file's own units; the middles `(k, 2)` of small
    round ones in it, as holes are; how many others there were; all that may be meant, the largest first, and which of them this
    is.
    """

    outline: Line
    holes: Line
    scaled: bool
    others: int
    candidates: tuple[Candidate, ...]
    taken: int

    @property
    def doubtful(self) -> bool:
        """Whether another than the one taken may be meant."""
        return len(self.candidates) > 1

    @property
    def framed(self) -> bool:
        """Whether one was taken only because a larger may be a frame."""
        return any(c.frame for c in self.candidates[: self.taken])

    @property
    def absurd(self) -> bool:
        """Whether it is so small or large that its scale is likelier wrong."""
        return self.scaled and not LEAST_MM <= float(np.ptp(self.outline, axis=0).max()) <= MOST_MM


def suffixes() -> tuple[str, ...]:
    """The endings of the names of files that are read."""
    return tuple(suffix for form in FORMATS for suffix in form.SUFFIXES)


def read_outline(path: Path, mm_per_unit: float | None = None, which: int | None = None) -> FileOutline:
    """The outline in a file: the largest closed curve that is no frame of a page, or the one `which` of its candidates;
    `mm_per_unit` where the file does not say, or says it wrongly. Raises UnreadableFile, naming the place; where a curve left
    open is larger than all that are closed too, unless one was asked for.
    """
    if path.is_dir():
        raise UnreadableFile(tell("It is a folder, not a drawing."), str(path), tell("Choose a file in it."))
    content = read_whole(path, MOST_BYTES)
    form = next((form for form in FORMATS if path.suffix.lower() in form.SUFFIXES), curves_svg)
    drawing = form.read(content, path, mm_per_unit)
    rings, left_open = _closed(drawing.lines, path)
    rings.sort(key=lambda r: -abs(shapely.Polygon(r).area))
    if which is None:
        _refuse_open(left_open, rings[0], path)
    pages = [drawing.page] if drawing.page else []
    pages += PAPERS_MM if drawing.scaled or mm_per_unit is not None else []
    frames = [_is_frame(r, rings[k + 1 :], pages) for k, r in enumerate(rings)]
    first = next((k for k, frame in enumerate(frames) if not frame), 0)
    least = SMALL * abs(shapely.Polygon(rings[first]).area)
    large = [k for k, r in enumerate(rings) if abs(shapely.Polygon(r).area) >= least]
    sizes = [np.ptp(rings[k], axis=0) for k in large]
    within = [any(not frames[o] and _inside(rings[k], rings[o]) for o in large if o < k) for k in large]
    candidates = tuple(
        Candidate(float(wide), float(high), frames[k], cut)
        for k, (wide, high), cut in zip(large, sizes, within, strict=True)
    )
    taken = min(max(which, 0), len(large) - 1) if which is not None else large.index(first)
    chosen = rings[large[taken]]
    crossing = _crossing(chosen)
    if crossing is not None:
        raise UnreadableFile(
            tell("The outline crosses itself at {x}, {y}.", x=f"{crossing[0]:.1f}", y=f"{crossing[1]:.1f}"),
            str(path),
            tell("Mend it there."),
        )
    ring = turned_right(thinned(closed(chosen), FLAT_MM / 2)[:-1])
    scaled = drawing.scaled or mm_per_unit is not None
    holes = _holes(chosen, rings)
    low = ring.min(axis=0)
    return FileOutline(frozen(ring - low), frozen(holes - low), scaled, len(rings) - 1, candidates, taken)


def _holes(ring: Line, rings: list[Line]) -> Line:
    """The middles of the closed curves in a ring that are as small and as long as they are wide, or nearly, as holes are."""
    area = shapely.Polygon(ring)
    found = []
    for other in rings:
        size = np.ptp(other, axis=0)
        if other is not ring and size.max() <= HOLE_MM and size.min() > 0.3 * size.max():
            middle = (other.min(axis=0) + other.max(axis=0)) / 2
            if shapely.contains_xy(area, *middle):
                found.append(middle)
    return np.array(found).reshape(-1, 2)


def _inside(ring: Line, other: Line) -> bool:
    return bool(shapely.Polygon(other).buffer(0).covers(shapely.LineString(ring)))


def _is_frame(ring: Line, smaller: list[Line], pages: list[tuple[float, float]]) -> bool:
    """Whether a ring is a rectangle along a page and nearly as large, with another curve in it that is no mere mark."""
    area, (wide, high) = abs(shapely.Polygon(ring).area), np.ptp(ring, axis=0)
    if area < 0.999 * wide * high:
        return False
    if not any(PAGE_SHARE * w <= wide <= 1.01 * w and PAGE_SHARE * h <= high <= 1.01 * h
               for page in pages for w, h in (page, page[::-1])):  # fmt: skip
        return False
    box = shapely.box(*ring.min(axis=0), *ring.max(axis=0))
    return any(abs(shapely.Polygon(r).area) > 0.02 * area and box.contains(shapely.LineString(r)) for r in smaller)


def _closed(lines: list[Line], path: Path) -> tuple[list[Line], list[Line]]:
    """Rings from lines, joined where their ends meet, and what is left open. Where lines part, as at a fold line from edge to
    edge, the ring goes round all of them; a line with a loose end is none of it. Raises UnreadableFile when there is no ring.
    """
    lines = [line for line in lines if len(line) > 1]
    if lines and not np.isfinite(np.concatenate(lines)).all():
        lines = [line for line in lines if np.isfinite(line).all()]
    if not lines:
        raise UnreadableFile(tell("There is no curve in it."), str(path), tell("Draw the outline as one closed path."))
    refuse_many(sum(map(len, lines)), path)
    refuse_far(np.concatenate(lines), 1.0, path)
    apart = np.array([line[0] for line in lines]) - np.array([line[-1] for line in lines])
    shut = np.hypot(*apart.T) <= JOINED_MM
    rings = [line[:-1] for line, closes in zip(lines, shut, strict=True) if closes and len(line) > 3]
    left_open: list[Line] = []
    for network in _networks([line for line, closes in zip(lines, shut, strict=True) if not closes]):
        around = _around(network) if len(network) > 1 else []
        rings += around
        left_open += [] if around else _chains(network) if len(network) > 1 else network
    if not rings and left_open:
        raise _open(left_open[int(np.argmax(_spreads(left_open)))], path)
    if not rings:
        raise UnreadableFile(
            tell("No curve in it closes on itself."), str(path), tell("Draw the outline as one closed path.")
        )
    return rings, left_open


def _shut(line: Line) -> bool:
    return bool(np.hypot(*(line[0] - line[-1])) <= JOINED_MM)


def _spreads(lines: list[Line]) -> Values:
    """The areas that curves left open go round, however they were closed."""
    return np.asarray(shapely.area(shapely.convex_hull(_strings(lines))), float)


def _networks(lines: list[Line]) -> list[list[Line]]:
    """Lines that hang together by their ends, which are put on each other."""
    if not lines:
        return []
    ends = np.array([line[at] for line in lines for at in (0, -1)])
    near = cKDTree(ends).query_pairs(JOINED_MM, output_type="ndarray")
    together = coo_matrix((np.ones(len(near)), near.T), shape=(len(ends), len(ends)))
    n, spots = connected_components(together, directed=False)
    places = (
        np.column_stack([np.bincount(spots, ends[:, k], n) for k in (0, 1)]) / np.bincount(spots, minlength=n)[:, None]
    )
    along = coo_matrix((np.ones(len(lines)), (spots[::2], spots[1::2])), shape=(n, n))
    whole = connected_components(along, directed=False)[1]
    found: dict[int, list[Line]] = defaultdict(list)
    for line, first, last in zip(lines, spots[::2].tolist(), spots[1::2].tolist(), strict=True):
        laid = np.array(line)
        laid[0], laid[-1] = places[first], places[last]
        found[int(whole[first])].append(laid)
    return list(found.values())


def _strings(lines: list[Line]) -> NDArray[np.object_]:
    return np.asarray(
        shapely.linestrings(np.concatenate(lines), indices=np.repeat(np.arange(len(lines)), [*map(len, lines)]))
    )


def _chains(network: list[Line]) -> list[Line]:
    """A network of lines as few long ones."""
    merged = shapely.line_merge(shapely.multilinestrings(_strings(network)))
    return [shapely.get_coordinates(part) for part in shapely.get_parts(merged)]


def _around(network: list[Line]) -> list[Line]:
    """The rings round all that a network encloses; loose ends and what is drawn twice are dropped."""
    once = np.unique(shapely.to_wkb(shapely.normalize(_strings(network))))
    chains = _chains([shapely.get_coordinates(line) for line in shapely.from_wkb(once)])
    while True:
        ends = Counter(tuple(chain[at]) for chain in chains for at in (0, -1))
        kept = [chain for chain in chains if _shut(chain) or all(ends[tuple(chain[at])] > 1 for at in (0, -1))]
        if len(kept) == len(chains) or not kept:
            break
        chains = _chains(kept)
    if not kept:
        return []
    if len(chains) == 1:
        return [chains[0][:-1]] if _shut(chains[0]) and len(chains[0]) > 3 else []
    whole = shapely.coverage_union_all(shapely.get_parts(shapely.polygonize(_strings(chains))))
    return [shapely.get_coordinates(p.exterior)[:-1] for p in shapely.get_parts(whole) if p.geom_type == "Polygon"]


def _refuse_open(left_open: list[Line], largest: Line, path: Path) -> None:
    """Raise UnreadableFile when a curve left open is larger than the largest closed one and does not lie in it."""
    larger = _spreads(left_open) > abs(shapely.Polygon(largest).area) if left_open else ()
    for line in (line for line, more in zip(left_open, larger, strict=True) if more):
        if not _inside(line, largest):
            raise _open(line, path)


def _open(line: Line, path: Path) -> UnreadableFile:
    (x0, y0), (x1, y1) = line[0], line[-1]
    return UnreadableFile(
        tell("The outline is open: it begins at {x0}, {y0} and ends at {x1}, {y1}.", x0=f"{x0:.1f}", y0=f"{y0:.1f}",
             x1=f"{x1:.1f}", y1=f"{y1:.1f}"), str(path),
        tell("Close it in the program it was drawn with."),
    )  # fmt: skip


def _crossing(ring: Line) -> tuple[float, float] | None:
    """A place where the ring crosses itself."""
    outline = shapely.LineString(closed(ring))
    if outline.is_simple:
        return None
    why = shapely.is_valid_reason(shapely.Polygon(ring))
    place = why[why.find("[") + 1 : why.find("]")].split() if "[" in why else []
    return (float(place[0]), float(place[1])) if len(place) == 2 else (float(ring[0, 0]), float(ring[0, 1]))
