"""Each export read back by a library that did not write it."""

import csv
import io
from datetime import datetime
from pathlib import Path

import numpy as np
import pyogrio
import pytest
import shapely
import svgelements
import vobject

from tests.jobs import demo
from vow_line.core.job import change
from vow_line.core.plan import Plan, plan
from vow_line.files import calendar, cutting_list, dxf, svg


def _plan(name: str = "spar-knife") -> Plan:
    return plan(demo(name))


def _hole_count(planned: Plan) -> int:
    assert planned.stitching is not None
    return sum(len(s.points) * len(s.line.placed) for s in planned.stitching.seams)


def test_svg_has_one_millimetre_to_the_unit(tmp_path: Path) -> None:
    planned = _plan()
    path = tmp_path / "spar.svg"
    svg.write(planned, path)
    read = svgelements.SVG.parse(str(path), reify=True, ppi=25.4)
    assert planned.draft is not None
    for piece in planned.draft.pieces:
        name = piece.id
        group = read.get_element_by_id(f"{name}-cut")
        x0, y0, x1, y1 = max(
            (p.bbox() for p in group.select(lambda e: isinstance(e, svgelements.Path))), key=lambda b: b[2] - b[0]
        )
        assert (x1 - x0, y1 - y0) == pytest.approx(tuple(np.ptp(piece.outline, axis=0)), abs=2e-3)
    circles = [e for e in read.elements() if isinstance(e, svgelements.Circle)]
    assert len(circles) == _hole_count(planned)


def test_holes_are_written_as_wide_as_the_tool_makes_them(tmp_path: Path) -> None:
    planned = plan(change(demo("hedging-knife"), "stitch.hole_mm", 1.7))
    svg.write(planned, tmp_path / "wide.svg")
    read = svgelements.SVG.parse(str(tmp_path / "wide.svg"), reify=True, ppi=25.4)
    wide = [2 * float(e.rx) for e in read.elements() if isinstance(e, svgelements.Circle) and 2 * float(e.rx) < 3]
    assert len(wide) == _hole_count(planned)
    assert wide == pytest.approx([1.7] * len(wide))


def test_dxf_by_layers_in_millimetres(tmp_path: Path) -> None:
    planned = _plan("hedging-knife")
    path = tmp_path / "hedging.dxf"
    dxf.write(planned, path)
    assert b"$INSUNITS\n 70\n4\n" in path.read_bytes().replace(b"\r", b"")
    _, _, shapes, fields = pyogrio.raw.read(path, columns=["Layer", "SubClasses"])
    layer = np.array(fields[0])
    drawn = shapely.from_wkb(shapes)
    assert set(layer) == {"cut", "fold", "stitch", "mark"}
    assert planned.draft is not None
    areas = sorted(shapely.polygonize([g]).geoms[0].area for g in drawn[layer == "cut"] if g.length > 30)
    assert areas == pytest.approx(sorted(p.area_mm2 for p in planned.draft.pieces), rel=1e-4)
    assert int((layer == "stitch").sum()) == _hole_count(planned)
    folds = [g.length for g in drawn[layer == "fold"]]
    assert max(folds) == pytest.approx(float(np.ptp(planned.draft.piece("sheath").folds[0], axis=0).max()), abs=0.01)


def test_the_cutting_list_reads_as_a_table(tmp_path: Path) -> None:
    planned = _plan()
    path = tmp_path / "list.csv"
    cutting_list.write(planned, path)
    _, _, _, columns = pyogrio.raw.read(path, read_geometry=False)
    rows = list(csv.DictReader(io.StringIO(path.read_text())))
    assert list(columns[1]) == [r["name"] for r in rows]
    assert planned.draft is not None
    assert planned.threading is not None
    pieces = [r for r in rows if r["what"] == "piece"]
    assert [float(r["area_mm2"]) for r in pieces] == pytest.approx([p.area_mm2 for p in planned.draft.pieces], abs=0.6)
    threads = [float(r["long_mm"]) for r in rows if r["what"] == "thread"]
    assert sum(threads) == pytest.approx(planned.threading.total_mm, abs=len(threads))
    assert {r["revision"] for r in rows} == {"1"}


def test_the_calendar_holds_every_step_still_to_do() -> None:
    planned = _plan("laying-knife")
    assert planned.work is not None
    read = vobject.readOne(calendar.render(planned).decode())
    events = read.vevent_list
    placed = [s for s in planned.work.steps if s.begins]
    assert len(events) == len(placed)
    begins = {e.summary.value.partition(": ")[2]: e.dtstart.value for e in events}
    for step in placed:
        assert isinstance(step.begins, datetime)
        assert begins[step.name] == step.begins.replace(microsecond=0)
    assert calendar.render(planned) == calendar.render(planned)


def test_the_same_plan_writes_the_same_svg() -> None:
    assert svg.render(_plan()) == svg.render(_plan())
