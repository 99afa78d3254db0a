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
DXF_UNIT_MM = {1: INCH_MM, 2: 12 * INCH_MM, 4: 1.0, 5: 10.0, 6: 1000.0}


@dataclass(frozen=True, slots=True, eq=False)
class FileOutline:
    """The largest closed curve `(n, 2)`, from (0, 0), in mm when `scaled`, else in the file's own units; how many others
    there were.
    """

    outline: Line
    scaled: bool
    others: int


def read_outline(path: Path, mm_per_unit: float | None = None) -> FileOutline:
    """The outline in a file; `mm_per_unit` where the file does not say. Raises UnreadableFile, naming the place."""
    try:
        size = path.stat().st_size
    except OSError as error:
        raise UnreadableFile(
            tell("It could not be opened: {why}.", why=str(error.strerror or error)), str(path)
        ) from error
    if size > MOST_BYTES:
        raise UnreadableFile(tell("It is {n} MB; no outline is that large.", n=str(size // 1_000_000)), str(path))
    lines, scaled = (_dxf if path.suffix.lower() == ".dxf" else _svg)(path)
    scale = mm_per_unit if mm_per_unit and not scaled else 1.0
    lines = [line * scale for line in lines]
    rings = _closed(lines, path)
    largest = max(rings, key=lambda r: abs(shapely.Polygon(r).area))
    crossing = _crossing(largest)
    if crossing is not None:
        raise UnreadableFile(
            tell("The outline crosses itself at {x}, {y}.", x=f"{crossing[0]:.1f}", y=f"{crossing[1]:.1f}"),
            str(path),
            tell("Mend it there."),
        )
    ring = turned_right(thinned(closed(largest), FLAT_MM / 2)[:-1])
    return FileOutline(frozen(ring - ring.min(axis=0)), scaled or mm_per_unit is not None, len(rings) - 1)


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


def _svg(path: Path) -> tuple[list[Line], bool]:
    from xml.etree import ElementTree

    from svgelements import SVG, Shape
    from svgelements import Path as SvgPath

    wrong = tell("It is damaged, or not an SVG drawing.")
    try:
        root = ElementTree.parse(path).getroot()
        scaled = any(str(root.get(k, "")).strip().endswith(("mm", "cm", "in", "pt", "pc")) for k in ("width", "height"))
        drawing = SVG.parse(str(path), reify=True, ppi=INCH_MM)
        lines: list[Line] = []
        for shape in drawing.elements():
            if isinstance(shape, Shape):
                lines += _svg_lines(abs(SvgPath(shape)))
    except UnreadableFile:
        raise
    except (ElementTree.ParseError, ValueError, TypeError, AttributeError, RecursionError, ZeroDivisionError) as error:
        raise UnreadableFile(wrong, str(path), tell("Write it again from the program it came from.")) from error
    return lines, scaled


def _svg_lines(path: Any) -> list[Line]:
    """The subpaths as lines, curves walked finely."""
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
            steps = int(np.clip(np.ceil(float(part.length(error=1e-2)) / 0.5), 8, 2000))
            points += [(p.x, p.y) for p in (part.point(t) for t in np.linspace(0, 1, steps + 1)[1:])]
    if len(points) > 1:
        lines.append(np.array(points))
    return lines


def _dxf(path: Path) -> tuple[list[Line], bool]:
    from ezdxf import filemanagement
    from ezdxf import path as paths
    from ezdxf.lldxf.const import DXFError

    try:
        document = filemanagement.readfile(str(path))
    except (OSError, DXFError, ValueError, UnicodeDecodeError) as error:
        raise UnreadableFile(tell("It is damaged, or not a DXF drawing."), str(path)) from error
    unit = DXF_UNIT_MM.get(int(document.header.get("$INSUNITS", 0)))
    lines = []
    for entity in document.modelspace().query("LINE LWPOLYLINE POLYLINE ARC CIRCLE ELLIPSE SPLINE"):
        try:
            made = paths.make_path(entity)
        except (TypeError, ValueError):
            continue
        points = np.array([(p.x, -p.y) for p in made.flattening(FLAT_MM / (unit or 1.0))])  # a DXF's y runs up
        if len(points) > 1:
            lines.append(points * (unit or 1.0))
    return lines, unit is not None
