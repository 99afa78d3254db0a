"""The curves that are seen in a DXF drawing."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from ..core.curve import Line
from ..core.errors import UnreadableFile
from ..core.quantity import INCH_MM
from ..core.texts import tell
from .curves import FLAT_MM, Curves, refuse_far, refuse_many, refuse_shown

SUFFIXES = (".dxf",)
CURVES = frozenset({"LINE", "LWPOLYLINE", "POLYLINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE"})
UNIT_MM = {1: INCH_MM, 2: 12 * INCH_MM, 4: 1.0, 5: 10.0, 6: 1000.0}


@dataclass(frozen=True, slots=True)
class _Layers:
    """Names of the layers that are not plotted or are off, and of those that are frozen, with all that is placed on them."""

    off: frozenset[str]
    frozen: frozenset[str]

    def hides(self, layer: str) -> bool:
        return layer in self.off or layer in self.frozen


def read(content: bytes, path: Path, mm_per_unit: float | None) -> Curves:
    """The curves, those in its blocks too; what is invisible, or lies on a layer that is off, frozen or not plotted, not.
    Raises UnreadableFile.
    """
    from ezdxf import filemanagement

    try:
        document = filemanagement.readfile(str(path))
    except Exception as error:  # what a damaged drawing raises in the reader is of many kinds
        raise _damaged(path) from error
    says = b"$INSUNITS" in content  # where it does not, the reader makes a unit up
    try:
        unit = UNIT_MM.get(int(document.header.get("$INSUNITS", 0))) if says else None
        unit_mm = mm_per_unit or unit or 1.0
        layers = _Layers(
            frozenset(la.dxf.name.lower() for la in document.layers if la.is_off() or not la.dxf.get("plot", 1)),
            frozenset(la.dxf.name.lower() for la in document.layers if la.is_frozen()),
        )
        refuse_shown(_shown(document.modelspace(), document.blocks, {}), len(document.entitydb), path)
        lines = list(_curves(document.modelspace(), layers, unit_mm, path))
    except UnreadableFile:
        raise
    except Exception as error:
        raise _damaged(path) from error
    return Curves(lines, unit is not None)


def _damaged(path: Path) -> UnreadableFile:
    return UnreadableFile(tell("It is damaged, or not a DXF drawing."), str(path))


def _shown(entities: Iterable[Any], blocks: Any, known: dict[str, float]) -> float:
    """How many entities are shown, blocks as often as they are placed; endless where one places itself."""
    shown = 0.0
    for entity in entities:
        shown += 1
        if entity.dxftype() == "INSERT" and (block := blocks.get(name := str(entity.dxf.get("name", "")))) is not None:
            if name not in known:
                known[name] = np.inf  # as long as it is not known: met again, it is in itself
                known[name] = _shown(block, blocks, known)
            shown += known[name] * max(entity.mcount, 1)
    return shown


def _curves(entities: Iterable[Any], layers: _Layers, unit_mm: float, path: Path) -> Iterator[Line]:
    """What is seen of curves, in mm."""
    from ezdxf import path as paths

    many = 0
    for entity in _seen(entities, layers, "0"):
        if entity.dxftype() not in CURVES:
            continue
        try:
            if entity.dxftype() == "SPLINE" and _is_unclamped(entity):
                refuse_far(np.array([tuple(p)[:2] for p in entity.control_points]), unit_mm, path)
                points = _unclamped(entity, FLAT_MM / unit_mm)
            else:
                drawn = paths.make_path(entity)
                refuse_far(np.array([(p.x, p.y) for p in drawn.control_vertices()]), unit_mm, path)
                points = np.array([(p.x, p.y) for p in drawn.flattening(FLAT_MM / unit_mm)])
        except UnreadableFile:
            raise
        except (TypeError, ValueError):
            continue
        refuse_many(many := many + len(points), path)
        if len(points) > 1:
            yield points * [unit_mm, -unit_mm]  # a DXF's y runs up


def _seen(entities: Iterable[Any], layers: _Layers, inherited: str) -> Iterator[Any]:
    """The entities that are seen, blocks opened. What lies on layer 0 of a block is on the layer the block is placed on; a
    frozen layer hides a block with all that is in it, one that is off only what lies on it.
    """
    from ezdxf import disassemble

    for entity in entities:
        layer = str(entity.dxf.get("layer", "0")).lower()
        layer = inherited if layer == "0" else layer
        if entity.dxf.get("invisible", 0) or layer in layers.frozen:
            continue
        if entity.dxftype() == "INSERT":
            for one in entity.multi_insert() if entity.mcount > 1 else [entity]:
                yield from _seen(one.virtual_entities(), layers, layer)
        elif not layers.hides(layer):
            yield from disassemble.recursive_decompose([entity])


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
