"""Patterns as DXF in mm, layers by meaning."""

import io
from pathlib import Path

from ..core.meanings import PRINTS
from ..core.plan import Plan
from ..core.stitch.pattern import sheet
from ..core.texts import said
from .print_marks import caption
from .whole import write_whole

NAME, SUFFIX = said("DXF, in mm"), ".dxf"


def write(plan: Plan, path: Path) -> None:
    """Write all pieces on one sheet. Raises FailedWrite."""
    write_whole(path, render(plan))


def render(plan: Plan) -> bytes:
    """The DXF document (R2010), y upwards as such files have it."""
    import ezdxf  # a third of a second to import, and only wanted here

    assert plan.whole is not None
    assert plan.sewing is not None
    document = ezdxf.new("R2010", units=ezdxf.units.MM)  # type: ignore[attr-defined]
    for colour, layer in enumerate(dict.fromkeys(look.layer for look in PRINTS.values()), start=1):
        document.layers.add(layer, color=colour)
    space = document.modelspace()
    for placed in sheet(plan.whole, plan.sewing):
        for mark in placed.marks:
            look = PRINTS.get(mark.meaning)
            if look is None:
                continue
            line = mark.line * (1, -1)
            attributes = {"layer": look.layer}
            if mark.size_mm:
                for centre in line:
                    space.add_circle(tuple(centre), mark.size_mm / 2, dxfattribs=attributes)
            elif mark.pairs:
                for start, end in line.reshape(-1, 2, 2).tolist():
                    space.add_line(start, end, dxfattribs=attributes)
            else:
                space.add_lwpolyline(line.tolist(), close=mark.closed, dxfattribs=attributes)
        low = placed.piece.outline.min(axis=0) + placed.shift
        text = space.add_text(caption(plan, placed.piece), height=4, dxfattribs={"layer": "mark"})
        text.set_placement((float(low[0]), 6.0))
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()
