"""Patterns as SVG, 1 unit = 1 mm, a group for each piece and in it one for each meaning."""

import xml.etree.ElementTree as ET
from pathlib import Path

from ..core.curve import Line
from ..core.drawing import Mark
from ..core.meanings import PRINTS, Print
from ..core.plan import Plan
from ..core.stitch.pattern import sheet
from ..core.texts import said
from .print_marks import caption
from .whole import write_whole

NAME, SUFFIX = said("SVG, 1 unit = 1 mm"), ".svg"
MARGIN_MM = 10.0
_NS = "http://www.w3.org/2000/svg"


def write(plan: Plan, path: Path) -> None:
    """Write all pieces on one sheet. Raises FailedWrite."""
    write_whole(path, render(plan))


def render(plan: Plan) -> bytes:
    """The SVG document."""
    assert plan.whole is not None
    assert plan.sewing is not None
    pieces = sheet(plan.whole, plan.sewing)
    wide = max(float(m.line[:, 0].max()) for p in pieces for m in p.marks if m.meaning == "cut") + 2 * MARGIN_MM
    high = max(float(m.line[:, 1].max()) for p in pieces for m in p.marks if m.meaning == "cut") + 3 * MARGIN_MM
    ET.register_namespace("", _NS)
    root = ET.Element(
        f"{{{_NS}}}svg",
        {
            "width": f"{wide:.3f}mm",
            "height": f"{high:.3f}mm",
            "viewBox": f"0 0 {wide:.3f} {high:.3f}",
            "version": "1.1",
        },
    )
    ET.SubElement(root, f"{{{_NS}}}title").text = plan.job.name
    for placed in pieces:
        name = placed.piece.id
        group = ET.SubElement(root, f"{{{_NS}}}g", {"id": name})
        for meaning, look in PRINTS.items():
            marks = [m for m in placed.marks if m.meaning == meaning]
            if not marks:
                continue
            layer = ET.SubElement(group, f"{{{_NS}}}g", {"id": f"{name}-{meaning}", "fill": "none", **_style(look)})
            for mark in marks:
                _draw(layer, mark)
        low = placed.piece.outline.min(axis=0) + placed.shift
        text = ET.SubElement(
            group, f"{{{_NS}}}text",
            {"x": f"{low[0] + MARGIN_MM:.3f}", "y": f"{high - MARGIN_MM / 2:.3f}", "font-size": "4",
             "font-family": "sans-serif"},
        )  # fmt: skip
        text.text = caption(plan, placed.piece)
    ET.indent(root, " ")
    return ET.tostring(root, encoding="utf-8", xml_declaration=True)


def _style(look: Print) -> dict[str, str]:
    dashes = {"stroke-dasharray": " ".join(f"{d:g}" for d in look.dash_mm)} if look.dash_mm else {}
    return {"stroke": "#777777" if look.grey else "#000000", "stroke-width": f"{look.width_mm:g}", **dashes}


def _draw(layer: ET.Element, mark: Mark) -> None:
    line = mark.line + MARGIN_MM
    if mark.size_mm:
        radius = f"{mark.size_mm / 2:.4f}"
        for x, y in line:
            ET.SubElement(layer, f"{{{_NS}}}circle", {"cx": f"{x:.4f}", "cy": f"{y:.4f}", "r": radius})
    elif mark.pairs:
        ET.SubElement(
            layer, f"{{{_NS}}}path", {"d": " ".join(_path(stroke, False) for stroke in line.reshape(-1, 2, 2))}
        )
    else:
        ET.SubElement(layer, f"{{{_NS}}}path", {"d": _path(line, mark.closed)})


def _path(line: Line, closed: bool) -> str:
    points = " L ".join(f"{x:.4f} {y:.4f}" for x, y in line)
    return f"M {points}{' Z' if closed else ''}"
