"""Outlines read from SVG and DXF: one closed curve, in mm where the file says how large it is."""

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import shapely

from ..core.curve import Line, frozen, thinned
from ..core.errors import UnreadableFile
from ..core.quantity import INCH_MM
from ..core.ring import closed, turned_right
from ..core.texts import tell

FLAT_MM = 0.05  # how far a curve may be from the straight pieces it is read as
MOST_BYTES = 20_000_000
MOST_POINTS = 200_000
JOINED_MM = 0.05  # ends nearer than this are one end
MOST_STEPS = 4096
DXF_CURVES = frozenset({"LINE", "LWPOLYLINE", "POLYLINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE"})
DXF_UNIT_MM = {1: INCH_MM, 2: 12 * INCH_MM, 4: 1.0, 5: 10.0, 6: 1000.0}


HOLE_MM = 8.0  # a round curve no wider than this, within an outline, is a hole in it (from memory)
SMALL = 0.1  # closed curves of less than this share of the largest's area are marks and holes, not asked about
CSS_PX_MM = INCH_MM / 96  # a px of a drawing that says how large it is (CSS Values and Units 3, 1 in = 96 px = 72 pt)
PHYSICAL = ("mm", "cm", "in", "pt", "pc", "q")


@dataclass(frozen=True, slots=True)
class Candidate:
    """A closed curve in a file that may be meant: how wide and high it is, and whether it may be the frame of a page: a plain
    rectangle with another large curve in it.
    """

    wide: float
    high: float
    frame: bool


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


def read_outline(path: Path, mm_per_unit: float | None = None, which: int | None = None) -> FileOutline:
    """The outline in a file: the largest closed curve that is no frame of a page, or the one `which` of its candidates;
    `mm_per_unit` where the file does not say. Raises UnreadableFile, naming the place.
    """
    try:
        size = path.stat().st_size
    except OSError as error:
        raise UnreadableFile(
            tell("It could not be opened: {why}.", why=str(error.strerror or error)), str(path)
        ) from error
    if path.is_dir():
        raise UnreadableFile(tell("It is a folder, not a drawing."), str(path), tell("Choose a file in it."))
    if size > MOST_BYTES:
        raise UnreadableFile(tell("It is {n} MB; no outline is that large.", n=str(size // 1_000_000)), str(path))
    lines, scaled = (_dxf if path.suffix.lower() == ".dxf" else _svg)(path, mm_per_unit or 1.0)
    rings = sorted(_closed(lines, path), key=lambda r: -abs(shapely.Polygon(r).area))
    frames = [_is_frame(r, rings[k + 1 :]) for k, r in enumerate(rings)]
    first = next((k for k, frame in enumerate(frames) if not frame), 0)
    least = SMALL * abs(shapely.Polygon(rings[first]).area)
    large = [k for k, r in enumerate(rings) if abs(shapely.Polygon(r).area) >= least]
    sizes = [np.ptp(rings[k], axis=0) for k in large]
    candidates = tuple(Candidate(float(w), float(h), frames[k]) for k, (w, h) in zip(large, sizes, strict=True))
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
    scaled = scaled or mm_per_unit is not None
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


def _is_frame(ring: Line, smaller: list[Line]) -> bool:
    """Whether a ring is a rectangle along the page with another curve in it that is no mere mark."""
    area, (wide, high) = abs(shapely.Polygon(ring).area), np.ptp(ring, axis=0)
    if area < 0.999 * wide * high:
        return False
    box = shapely.box(*ring.min(axis=0), *ring.max(axis=0))
    return any(abs(shapely.Polygon(r).area) > 0.02 * area and box.contains(shapely.LineString(r)) for r in smaller)


def _closed(lines: list[Line], path: Path) -> list[Line]:
    """Rings from lines, joined where their ends meet."""
    lines = [line for line in lines if len(line) > 1 and np.isfinite(line).all()]
    if not lines:
        raise UnreadableFile(tell("There is no curve in it."), str(path), tell("Draw the outline as one closed path."))
    if sum(map(len, lines)) > MOST_POINTS:
        raise UnreadableFile(tell("There are more points in it than any outline has."), str(path))
    rings: list[Line] = []
    waiting = list(lines)
    while waiting:
        line = waiting.pop()
        while np.hypot(*(line[0] - line[-1])) > JOINED_MM:
            gaps = [
                (float(np.hypot(*(line[-1] - other[end]))), k, end)
                for k, other in enumerate(waiting)
                for end in (0, -1)
            ]
            near = min(gaps, default=(np.inf, 0, 0))
            if near[0] > JOINED_MM:
                break
            other = waiting.pop(near[1])
            line = np.concatenate([line, (other if near[2] == 0 else other[::-1])[1:]])
        if np.hypot(*(line[0] - line[-1])) <= JOINED_MM and len(line) > 3:
            rings.append(line[:-1])
        elif not waiting and not rings:
            (x0, y0), (x1, y1) = line[0], line[-1]
            raise UnreadableFile(
                tell("The outline is open: it begins at {x0}, {y0} and ends at {x1}, {y1}.", x0=f"{x0:.1f}", y0=f"{y0:.1f}",
                     x1=f"{x1:.1f}", y1=f"{y1:.1f}"), str(path),
                tell("Close it in the program it was drawn with."),
            )  # fmt: skip
    if not rings:
        raise UnreadableFile(
            tell("No curve in it closes on itself."), str(path), tell("Draw the outline as one closed path.")
        )
    return rings


def _crossing(ring: Line) -> tuple[float, float] | None:
    """A place where the ring crosses itself."""
    outline = shapely.LineString(closed(ring))
    if outline.is_simple:
        return None
    why = shapely.is_valid_reason(shapely.Polygon(ring))
    place = why[why.find("[") + 1 : why.find("]")].split() if "[" in why else []
    return (float(place[0]), float(place[1])) if len(place) == 2 else (float(ring[0, 0]), float(ring[0, 1]))


def _svg(path: Path, mm_per_unit: float) -> tuple[list[Line], bool]:
    """The curves of an SVG in mm, and whether it says itself how large it is."""
    from xml.etree import ElementTree

    from svgelements import SVG, Shape
    from svgelements import Path as SvgPath

    wrong = tell("It is damaged, or not an SVG drawing.")
    try:
        root = ElementTree.parse(path).getroot()
        sizes = [str(root.get(k, "")).strip().lower() for k in ("width", "height")]
        scaled = any(size.endswith(PHYSICAL) for size in sizes)
        unit_mm = CSS_PX_MM if scaled else mm_per_unit
        drawing = SVG.parse(str(path), reify=True, ppi=96)
        lines: list[Line] = []
        for shape in drawing.elements():
            if isinstance(shape, Shape) and not _hidden(shape.values):
                lines += [line * unit_mm for line in _svg_lines(abs(SvgPath(shape)), FLAT_MM / unit_mm)]
    except UnreadableFile:
        raise
    except (ElementTree.ParseError, ValueError, TypeError, AttributeError, RecursionError, ZeroDivisionError) as error:
        raise UnreadableFile(wrong, str(path), tell("Write it again from the program it came from.")) from error
    return lines, scaled


def _hidden(values: Any) -> bool:
    """Whether a shape is not to be seen."""
    return str(values.get("visibility", "")) in ("hidden", "collapse") or str(values.get("display", "")) == "none"


def _svg_lines(path: Any, within: float) -> list[Line]:
    """The subpaths as lines, curves no farther than so many units from what is drawn."""
    from svgelements import Close, Move
    from svgelements import Line as Straight

    lines: list[Line] = []
    points: list[tuple[float, float]] = []
    for part in path:
        if isinstance(part, Move):
            if len(points) > 1:
                lines.append(np.array(points))
            points = [(part.end.x, part.end.y)]
        elif isinstance(part, (Close, Straight)):
            if part.end is not None:
                points.append((part.end.x, part.end.y))
        else:
            points += _walked(part, within)
    if len(points) > 1:
        lines.append(np.array(points))
    return lines


def _walked(curve: Any, within: float) -> list[tuple[float, float]]:
    """Points of a curve after its first, twice as many until those between lie near enough to the chords."""
    at = 8
    fine = np.array([(p.x, p.y) for p in (curve.point(t) for t in np.linspace(0, 1, 2 * at + 1))])
    while at < MOST_STEPS:
        chords = (fine[:-2:2] + fine[2::2]) / 2
        if np.hypot(*(fine[1::2] - chords).T).max() <= within:
            break
        at *= 2
        between = np.array([(p.x, p.y) for p in (curve.point(t) for t in (np.arange(at) * 2 + 1) / (2 * at))])
        more = np.empty((2 * at + 1, 2))
        more[::2], more[1::2] = fine, between
        fine = more
    return [(float(x), float(y)) for x, y in fine[1:]]


def _dxf(path: Path, mm_per_unit: float) -> tuple[list[Line], bool]:
    """The curves of a DXF in mm, those in its blocks too and those on hidden layers not; whether it says how large it is."""
    from ezdxf import disassemble, filemanagement
    from ezdxf import path as paths
    from ezdxf.lldxf.const import DXFError

    try:
        document = filemanagement.readfile(str(path))
        says = b"$INSUNITS" in path.read_bytes()  # where it does not, the reader makes a unit up
    except (OSError, DXFError, ValueError, UnicodeDecodeError) as error:
        raise UnreadableFile(tell("It is damaged, or not a DXF drawing."), str(path)) from error
    unit = DXF_UNIT_MM.get(int(document.header.get("$INSUNITS", 0))) if says else None
    unit_mm = unit or mm_per_unit
    hidden = {layer.dxf.name.lower() for layer in document.layers if layer.is_off() or layer.is_frozen()}
    lines = []
    for entity in disassemble.recursive_decompose(document.modelspace()):
        if entity.dxftype() not in DXF_CURVES or entity.dxf.get("invisible", 0):
            continue
        if str(entity.dxf.get("layer", "0")).lower() in hidden:
            continue
        try:
            points = (
                _unclamped(entity, FLAT_MM / unit_mm)
                if entity.dxftype() == "SPLINE" and _is_unclamped(entity)
                else np.array([(p.x, p.y) for p in paths.make_path(entity).flattening(FLAT_MM / unit_mm)])
            )
        except (TypeError, ValueError):
            continue
        if len(points) > 1:
            lines.append(points * [unit_mm, -unit_mm])  # a DXF's y runs up
    return lines, unit is not None


def _is_unclamped(spline: Any) -> bool:
    """Whether a spline does not begin and end at its first and last control points, as a periodic one does not."""
    knots, degree = list(spline.knots), int(spline.dxf.degree)
    wanted = len(spline.control_points) + degree + 1
    return len(knots) == wanted and not (knots[0] == knots[degree] and knots[-1] == knots[-degree - 1])


def _unclamped(spline: Any, within: float) -> Line:
    """Points along such a spline, over the stretch of its knots where it is whole."""
    from scipy.interpolate import BSpline

    knots, degree = np.array(spline.knots), int(spline.dxf.degree)
    control = np.array([(p[0], p[1], 1.0) for p in spline.control_points])
    control *= np.array(list(spline.weights) or np.ones(len(control)))[:, None]
    curve = BSpline(knots, control, degree)
    at = np.unique(knots[degree : len(control) + 1])
    for _ in range(12):
        fine = np.sort(np.concatenate([at, (at[1:] + at[:-1]) / 2]))
        points = curve(fine)[:, :2] / curve(fine)[:, 2:]
        if np.hypot(*(points[1::2] - (points[:-2:2] + points[2::2]) / 2).T).max() <= within:
            break
        at = fine
    return np.asarray(points)
