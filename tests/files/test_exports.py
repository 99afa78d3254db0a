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

from tests.jobs import demo, words
from vow_line.core.draft.ornament import Ornament
from vow_line.core.job import change
from vow_line.core.meanings import PRINTS
from vow_line.core.plan import Plan, plan
from vow_line.core.stitch.pattern import sheet
from vow_line.files import calendar, cutting_list, dxf, svg
from vow_line.resources.demo import demo_jobs


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


def test_dxf_looks_as_svg_does_its_y_being_upwards(tmp_path: Path) -> None:
    """A pattern that lies in one of them as in a mirror would be cut for the other hand."""
    planned = _plan("hedging-knife")
    svg.write(planned, tmp_path / "both.svg")
    dxf.write(planned, tmp_path / "both.dxf")
    read = svgelements.SVG.parse(str(tmp_path / "both.svg"), reify=True, ppi=25.4)
    cuts = [np.array([[p.x, p.y] for p in e.as_points()]) for name in ("sheath", "welt", "belt-loop")
            for e in read.get_element_by_id(f"{name}-cut").select(lambda e: isinstance(e, svgelements.Path))]  # fmt: skip
    _, _, shapes, fields = pyogrio.raw.read(tmp_path / "both.dxf", columns=["Layer", "SubClasses"])
    drawn = [shapely.get_coordinates(g) for g in shapely.from_wkb(shapes)[np.array(fields[0]) == "cut"]]
    flipped = [shapely.Polygon(d * (1, -1)) for d in drawn if len(d) > 3]
    for cut in cuts[:2]:
        down = shapely.Polygon(cut)
        up = min(flipped, key=lambda g, area=down.area: abs(g.area - area))
        moved = shapely.affinity.translate(up, down.bounds[0] - up.bounds[0], down.bounds[1] - up.bounds[1])
        assert moved.symmetric_difference(down).area < 0.002 * down.area
    assert shapely.Polygon(cuts[1]).symmetric_difference(shapely.Polygon(cuts[1] * (-1, 1))).area > 1, (
        "it tells hands apart"
    )


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


def test_the_cutting_list_counts_the_pieces() -> None:
    planned = plan(change(demo("spar-knife").model_copy(update={"vows": ()}), "piece.welts", 2))
    rows = {r["name"]: r["count"] for r in csv.DictReader(io.StringIO(cutting_list.render(planned).decode()))}
    assert (rows["welt"], rows["sheath"]) == ("2", "1")


def test_the_cutting_list_has_a_length_for_each_thread() -> None:
    planned = plan(change(demo("laying-knife"), "thread.stitch", "double-running"))
    rows = [r for r in csv.DictReader(io.StringIO(cutting_list.render(planned).decode())) if r["name"] == "main seam"]
    sewn = planned.threading.seam("main-seam")
    assert sewn.stitch.threads == 2
    assert len(rows) == 2 * len(sewn.cuts)
    assert sum(float(r["long_mm"]) for r in rows) == pytest.approx(sewn.total_mm, abs=1.0)


def test_the_cutting_list_says_what_each_piece_is_cut_from() -> None:
    planned = _plan("whetstone-case")
    rows = {r["name"]: r for r in csv.DictReader(io.StringIO(cutting_list.render(planned).decode()))}
    assert (rows["core half, front"]["cut_from"], rows["core half, front"]["side_up"]) == ("wood", "")
    assert rows["core half, front"]["thickness_mm"] == "16.30"
    assert (rows["cover"]["cut_from"], rows["cover"]["side_up"]) == ("leather", "grain")
    assert rows["lining, back"]["cut_from"] == "lining"
    assert rows["back seam"]["cut_from"] == ""


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
        assert begins[words(step.name)] == step.begins.replace(microsecond=0)
    lasts = {e.summary.value.partition(": ")[2]: (e.dtend.value - e.dtstart.value).total_seconds() / 60 for e in events}
    assert lasts == pytest.approx({words(s.name): max(s.minutes, 1) for s in placed}, abs=0.02)
    assert max(lasts.values()) > 20
    assert calendar.render(planned) == calendar.render(planned)


def test_the_same_plan_writes_the_same_svg() -> None:
    assert svg.render(_plan()) == svg.render(_plan())


ORNAMENTED = {
    "border": ("crease", "crease", 9.0),
    "stamped-area": ("stamp", "stamp", 14.0),
    "overlay": ("seat", "mark", 6.0),
}


def _ornamented(name: str = "turf-knife", piece: str = "front") -> Plan:
    worn = tuple(Ornament(kind=kind, piece=piece, in_mm=by) for kind, (_, _, by) in ORNAMENTED.items())
    return plan(change(demo(name), "ornaments", worn))


def _as_far_in(lines: list[np.ndarray], cut: np.ndarray, by_mm: float) -> bool:
    """Whether one of the lines lies so far within the cut at every point of it, and goes all round it."""
    around = shapely.LinearRing(cut)
    return any(
        len(line) > 8
        and np.allclose(shapely.distance(around, shapely.points(line)), by_mm, atol=0.1)
        and shapely.Polygon(line).area > 0.4 * shapely.Polygon(cut).area
        for line in lines
    )


def test_borders_stamps_and_overlays_reach_every_file(tmp_path: Path) -> None:
    planned = _ornamented()
    svg.write(planned, tmp_path / "worn.svg")
    dxf.write(planned, tmp_path / "worn.dxf")
    read = svgelements.SVG.parse(str(tmp_path / "worn.svg"), reify=True, ppi=25.4)
    _, _, shapes, fields = pyogrio.raw.read(tmp_path / "worn.dxf", columns=["Layer", "SubClasses"])
    layer, drawn = np.array(fields[0]), shapely.from_wkb(shapes)

    def in_svg(part: str) -> list[np.ndarray]:
        paths = read.get_element_by_id(f"front-{part}").select(lambda e: isinstance(e, svgelements.Path))
        return [np.array([[p.x, p.y] for p in path.as_points()]) for path in paths]

    def in_dxf(of: str) -> list[np.ndarray]:
        return [shapely.get_coordinates(g) for g in drawn[layer == of]]

    cuts = {"svg": max(in_svg("cut"), key=lambda c: np.ptp(c[:, 1])), "dxf": in_dxf("cut")[0]}
    for meaning, of, by_mm in ORNAMENTED.values():
        assert _as_far_in(in_svg(meaning), cuts["svg"], by_mm), meaning
        assert _as_far_in(in_dxf(of), cuts["dxf"], by_mm), of


def test_everything_drawn_on_a_pattern_is_printed_or_meant_for_the_board_alone() -> None:
    """A new meaning on a piece must say what it is on paper: these say that they are nothing there."""
    board_alone = {"grain", "flesh", "edge", "stitch"}
    worn = tuple(_ornamented().job.ornaments)
    jobs = [*demo_jobs().values(), change(demo("turf-knife"), "ornaments", worn)]
    drawn = {m.meaning for job in jobs for p in sheet(plan(job).draft, plan(job).stitching) for m in p.marks}
    assert drawn >= {"cut", "fold", "hole", "skive", "glue", "mark", "crease", "stamp", "seat"}
    assert drawn - board_alone == drawn & PRINTS.keys()
