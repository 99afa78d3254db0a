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
from .curves import FLAT_MM, Curves

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


def read(path: Path, mm_per_unit: float | None) -> Curves:
    """The curves, those in its blocks too; what is invisible, or lies on a layer that is off, frozen or not plotted, not.
    Raises UnreadableFile.
    """
    from ezdxf import filemanagement
    from ezdxf import path as paths
    from ezdxf.lldxf.const import DXFError

    try:
        document = filemanagement.readfile(str(path))
        says = b"$INSUNITS" in path.read_bytes()  # where it does not, the reader makes a unit up
    except (OSError, DXFError, ValueError, UnicodeDecodeError) as error:
        raise UnreadableFile(tell("It is damaged, or not a DXF drawing."), str(path)) from error
    unit = UNIT_MM.get(int(document.header.get("$INSUNITS", 0))) if says else None
    unit_mm = mm_per_unit or unit or 1.0
    layers = _Layers(
        frozenset(la.dxf.name.lower() for la in document.layers if la.is_off() or not la.dxf.get("plot", 1)),
        frozenset(la.dxf.name.lower() for la in document.layers if la.is_frozen()),
    )
    lines = []
    for entity in _seen(document.modelspace(), layers, "0"):
        if entity.dxftype() not in CURVES:
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
    return Curves(lines, unit is not None)


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
