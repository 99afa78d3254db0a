"""The curves that are seen in an SVG drawing."""

import copy
import io
import re
import xml.etree.ElementTree as ET
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import numpy as np
import shapely
import shapely.geometry.base

from ..core.curve import Line
from ..core.errors import UnreadableFile
from ..core.quantity import INCH_MM
from ..core.texts import tell
from .curves import FLAT_MM, MOST_POINTS, Curves, refuse_far, refuse_many, refuse_shown

SUFFIXES = (".svg",)
CSS_PX_MM = INCH_MM / 96  # CSS Values and Units 3: 1 in = 96 px = 72 pt = 6 pc = 101.6 Q
UNIT_MM = {"mm": 1.0, "cm": 10.0, "in": INCH_MM, "pt": INCH_MM / 72, "pc": INCH_MM / 6, "q": 0.25}
LINELESS = ("text", "image", "foreignObject", "metadata", "script")
UNSEEN = ("symbol", "clipPath", "mask", "pattern", "marker")
MOST_STEPS = 4096
MOST_ROUNDS = 50  # of uses within what is used
CLIP, CLIPPED = "outline-clip", "outline-clipped"  # our own marks on elements, while a drawing is read


def read(content: bytes, path: Path, mm_per_unit: float | None) -> Curves:
    """The curves, symbols placed and clip paths applied, what is hidden not; scaled when a side of it is given in a length that
    can be laid against a ruler. Raises UnreadableFile.
    """
    from svgelements import SVG, Shape
    from svgelements import Path as SvgPath

    try:
        _refuse_entities(content, path)
        root = ET.fromstring(content)
        refuse_shown(*_shown(root), path)
        _keep_shapes(root)
        scaled, page = _sized(root, mm_per_unit is not None)
        _place_symbols(root, page)
        _mark_clips(root, str(path))
        unit_mm = CSS_PX_MM if scaled else mm_per_unit or 1.0
        drawing = SVG.parse(io.BytesIO(ET.tostring(root)), reify=True, ppi=96)
        drawn: list[tuple[Line, str]] = []
        room = MOST_POINTS
        clips: dict[str, shapely.geometry.base.BaseGeometry] = {}
        for shape in drawing.elements():
            if not isinstance(shape, Shape):
                continue
            lines = [line * unit_mm for line in _lines(abs(SvgPath(shape)), FLAT_MM / unit_mm, room, path)]
            room -= sum(map(len, lines))
            if clip := shape.values.get(CLIP):
                areas = [shapely.Polygon(line).buffer(0) for line in lines if len(line) > 3]
                clips[clip] = shapely.union_all([clips.get(clip, shapely.Polygon()), *areas])
            elif not _hidden(shape.values):
                drawn += [(line, str(shape.values.get(CLIPPED) or "")) for line in lines]
    except UnreadableFile:
        raise
    except (ET.ParseError, ValueError, TypeError, AttributeError, RecursionError, ZeroDivisionError) as error:
        raise UnreadableFile(
            tell("It is damaged, or not an SVG drawing."),
            str(path),
            tell("Write it again from the program it came from."),
        ) from error
    if missing := {k for _, by in drawn for k in by.split()} - set(clips):
        raise UnreadableFile(
            tell("Where {n} of its clip paths lie cannot be read.", n=str(len(missing))),
            str(path),
            tell("Cut the outline there in the program it was drawn with."),
        )
    left = [part for line, by in drawn for part in _clipped(line, [clips[k] for k in by.split()])]
    return Curves(left, scaled, page and (page[0] * unit_mm, page[1] * unit_mm))


def _refuse_entities(content: bytes, path: Path) -> None:
    """Raise UnreadableFile where a text's entities hold each other, or would make it many times as long."""
    entities = re.findall(rb"<!ENTITY\s+%?\s*(\S+)\s+(\"[^\"]*\"|'[^']*')", content)
    longer = sum(len(text) * content.count(b"&" + name + b";") for name, text in entities[:200])
    if len(entities) > 200 or any(b"&" in text for _, text in entities) or longer > 2 * len(content) + 1_000_000:
        refuse_shown(np.inf, 1, path)


def _keep_shapes(root: ET.Element) -> None:
    """Take what draws no line out of a drawing, and write its style sheets plainly: readers trip over fonts and odd sheets."""
    for element in root.iter():
        for child in [c for c in element if _name(c) in LINELESS]:
            element.remove(child)
        for key in [k for k in element.attrib if k.startswith("font")]:
            del element.attrib[key]
        if _name(element) == "style":
            sheet = "".join(
                part.partition("*/")[2] if k else part for k, part in enumerate((element.text or "").split("/*"))
            )
            rules = (rule.partition("{") for rule in sheet.split("}"))
            element.text = "".join(f"{names.strip()}{{{says.strip()}}}" for names, brace, says in rules if brace)


def _shown(root: ET.Element) -> tuple[float, int]:
    """How many elements are shown, those that are used again as often as they are, endless where one shows itself; and how many
    there are.
    """
    by_id = {e.get("id"): e for e in root.iter() if e.get("id")}
    known: dict[ET.Element, float] = {}
    waiting = [root]
    while waiting:  # without recursion: a text nests as deep as it likes
        element = waiting[-1]
        to = by_id.get(_target(element)) if _name(element) == "use" else None
        within = [*element, *([to] if to is not None else [])]
        if element not in known:
            known[element] = np.inf  # as long as it is not known: met again, it is in itself
            waiting += [e for e in within if e not in known]
        else:
            if known[element] == np.inf:
                known[element] = 1 + sum(known[e] for e in within)
            waiting.pop()
    return known[root], len(known)


def _name(element: ET.Element) -> str:
    """An element's name without its namespace."""
    return str(element.tag).rpartition("}")[2]


def _sized(root: ET.Element, known: bool) -> tuple[bool, tuple[float, float] | None]:
    """Whether the drawing says how large it is, its sides written anew in px where it does, and its page in px or units. One
    side is enough: the other follows from the view box. Shares, em and the like say nothing, and nothing does where what a unit
    is is `known`.
    """
    box = [float(v) for v in re.split(r"[\s,]+", root.get("viewBox", "").strip()) if v]
    sides: list[float | None] = []
    units: list[str | None] = []
    for key in ("width", "height"):
        found = re.fullmatch(
            r"\+?(\d*\.?\d+(?:e[+-]?\d+)?)\s*(px|mm|cm|in|pt|pc|q)?", root.get(key, "").strip().lower()[:40]
        )
        units.append(found.group(2) or "px" if found else None)
        sides.append(float(found.group(1)) * UNIT_MM.get(found.group(2), CSS_PX_MM) / CSS_PX_MM if found else None)
    # bare numbers beside a length: which of them is meant cannot be known
    physical = "px" not in units and any(units)
    if known and physical:
        sides, physical = [None, None], False
    if not physical and any(side is None for side in sides):
        for key in ("width", "height"):
            root.attrib.pop(key, None)
        return False, (box[2], box[3]) if len(box) == 4 else None
    wide, high = sides
    if len(box) == 4:
        if wide is None and high is not None:
            wide = high * box[2] / box[3]
        elif high is None and wide is not None:
            high = wide * box[3] / box[2]
    for key, side in (("width", wide), ("height", high)):
        if side is not None:
            root.set(key, f"{side:.9g}")
    return physical, (wide, high) if wide and high else None


def _place_symbols(root: ET.Element, page: tuple[float, float] | None) -> None:
    """Put for each use of a symbol what it shows, drawn in its own view box; for one of what is clipped, that itself, so that
    it is clipped where it is shown.
    """
    space = root.tag.rpartition("}")[0] + "}" if "}" in root.tag else ""
    box = root.get("viewBox", "").replace(",", " ").split()
    whole = (box[2], box[3]) if len(box) == 4 else [str(side) for side in page or (100, 100)]
    for _ in range(MOST_ROUNDS):
        clips = _with_clips(root)
        shown_by = {e.get("id"): e for e in root.iter() if _name(e) == "symbol" or e in clips}
        found = [(parent, use, shown_by[to]) for parent, use in _pairs(root) if _name(use) == "use"
                 and (to := _target(use)) in shown_by]  # fmt: skip
        if not found:
            break
        instead = {use: _placed(use, copy.deepcopy(symbol), space, whole) for _, use, symbol in found}
        for parent in {parent for parent, *_ in found}:
            parent[:] = [instead.get(element, element) for element in parent]


def _placed(use: ET.Element, shows: ET.Element, space: str, whole: Sequence[str]) -> ET.Element:
    """What a use shows, in its place."""
    own = {k: v for k, v in use.attrib.items() if _local(k) not in ("href", "x", "y", "width", "height")}
    shown = ET.Element(f"{space}g", own)
    if _name(shows) != "symbol":
        moved = ET.SubElement(shown, f"{space}g", {"transform": f"translate({use.get('x', '0')} {use.get('y', '0')})"})
        moved.append(shows)
        for one in moved.iter():
            one.attrib.pop("id", None)
        return shown
    inner = ET.SubElement(shown, f"{space}svg", {k: use.get(k, "0") for k in ("x", "y")})
    for key, of in zip(("width", "height"), whole, strict=True):
        inner.set(key, use.get(key, shows.get(key, of)))
    inner.attrib.update({k: shows.attrib[k] for k in ("viewBox", "preserveAspectRatio") if k in shows.attrib})
    if "viewBox" not in inner.attrib:
        inner.tag, inner.attrib = f"{space}g", {"transform": f"translate({inner.get('x')} {inner.get('y')})"}
    inner.extend(list(shows))
    return shown


def _with_clips(root: ET.Element) -> set[ET.Element]:
    """The elements that can be shown and may be clipped, or have something in them that may."""
    found: set[ET.Element] = set()
    for element in reversed(list(root.iter())):  # what lies in one comes before it
        own = "clip-path" in f"{element.get('style', '')};{' '.join(element.attrib)}" or bool(element.get("class"))
        if own or any(e in found for e in element):
            found.add(element)
    return {e for e in found if _name(e) not in (*UNSEEN, "svg", "defs", "style")}


def _mark_clips(root: ET.Element, place: str) -> None:
    """Beside each element that is clipped put what clips it, in the same place, marked; and take what is never seen itself out
    of the drawing. Raises UnreadableFile for a clip given in shares of a box.
    """
    space = root.tag.rpartition("}")[0] + "}" if "}" in root.tag else ""
    clips = {e.get("id"): e for e in root.iter() if _name(e) == "clipPath"}
    styles = "".join(e.text or "" for e in root.iter() if _name(e) == "style")
    by_class = {}
    for rule in styles.split("}"):
        names, _, says = rule.partition("{")
        if url := re.search(r"clip-path:\s*url\(\s*['\"]?#([^)'\"]+)", says):
            by_class.update(dict.fromkeys(re.findall(r"\.([\w-]+)", names), url[1]))
    count = 0

    def walk(parent: ET.Element, outer: str) -> None:
        nonlocal count
        seen: list[ET.Element] = []
        for element in parent:
            if _name(element) in UNSEEN:
                continue
            said = f"{element.get('clip-path', '')};{element.get('style', '')}"
            url = re.search(
                r"url\(\s*['\"]?#([^)'\"]+)", said if "clip-path" in said or element.get("clip-path") else ""
            )
            clip = clips.get(url.group(1)) if url else None
            for name in element.get("class", "").split():
                clip = clip if clip is not None else clips.get(by_class.get(name, ""))
            by = outer
            if clip is not None:
                if clip.get("clipPathUnits") == "objectBoundingBox":
                    raise UnreadableFile(
                        tell("A clip path in it is given in shares of a box, which is not read."), place,
                        tell("Cut the outline there in the program it was drawn with."),
                    )  # fmt: skip
                count += 1
                by = f"{outer} c{count}".strip()
                here = ET.Element(f"{space}g", {"transform": element.get("transform", ""), CLIP: f"c{count}"})
                inside = ET.SubElement(here, f"{space}g", {"transform": clip.get("transform", "")})
                inside.extend(copy.deepcopy(list(clip)))
                seen.append(here)
            if by:
                element.set(CLIPPED, by)
            walk(element, by)
            seen.append(element)
        parent[:] = seen

    walk(root, "")


def _pairs(root: ET.Element) -> Iterator[tuple[ET.Element, ET.Element]]:
    """Each element with the one it lies in, but for what is never seen itself."""
    for element in root:
        if _name(element) not in UNSEEN:
            yield root, element
            yield from _pairs(element)


def _local(key: str) -> str:
    return key.rpartition("}")[2]


def _target(use: ET.Element) -> str:
    """The id a use shows."""
    return next((v.lstrip("#") for k, v in use.attrib.items() if _local(k) == "href"), "")


def _clipped(line: Line, areas: list[shapely.geometry.base.BaseGeometry]) -> list[Line]:
    """What of a curve its clip paths leave: of a closed one the edge of the area that is left."""
    parts = [line]
    for area in areas:
        left: list[Line] = []
        for part in parts:
            closed = len(part) > 3 and np.allclose(part[0], part[-1])
            shape = shapely.Polygon(part) if closed else shapely.LineString(part)
            if area.buffer(FLAT_MM).covers(shape) or not shape.is_valid:
                left.append(part)
                continue
            for one in shapely.get_parts(shape.intersection(area)):
                if one.geom_type == "Polygon":
                    left.append(shapely.get_coordinates(one.exterior))
                elif one.geom_type == "LineString" and not closed:
                    left.append(shapely.get_coordinates(one))
        parts = left
    return parts


def _hidden(values: Any) -> bool:
    """Whether a shape is not to be seen."""
    return str(values.get("visibility", "")) in ("hidden", "collapse") or str(values.get("display", "")) == "none"


def _lines(drawn: Any, within: float, room: int, path: Path) -> list[Line]:
    """The subpaths as lines, curves no farther than so many units from what is drawn. Raises UnreadableFile where there are
    more points than there is `room` for.
    """
    from svgelements import Close, Move
    from svgelements import Line as Straight

    lines: list[list[Line]] = [[]]
    for part in drawn:
        if isinstance(part, Move):
            lines.append([np.array([(part.end.x, part.end.y)])])
            points = 1
        elif isinstance(part, (Close, Straight)):
            if part.end is None:
                continue
            lines[-1].append(np.array([(part.end.x, part.end.y)]))
            points = 1
        else:
            lines[-1].append(_walked(part, within, path))
            points = len(lines[-1][-1])
        room -= points
        if room < 0:
            refuse_many(MOST_POINTS + 1, path)
    return [line for parts in lines if parts and len(line := np.concatenate(parts)) > 1]


def _walked(curve: Any, within: float, path: Path) -> Line:
    """Points of a curve after its first, twice as many until those between lie near enough to the chords."""
    at = 8
    fine = np.asarray(curve.npoint(np.linspace(0, 1, 2 * at + 1)), float)
    refuse_far(fine, FLAT_MM / within, path)
    while at < MOST_STEPS:
        chords = (fine[:-2:2] + fine[2::2]) / 2
        if np.hypot(*(fine[1::2] - chords).T).max() <= within:
            break
        at *= 2
        more = np.empty((2 * at + 1, 2))
        more[::2], more[1::2] = fine, curve.npoint((np.arange(at) * 2 + 1) / (2 * at))
        fine = more
    return fine[1:]
