"""Drawings as records: what each shows, without a surface to show it on."""

import itertools
from collections.abc import Iterator

import numpy as np
import pytest
import shapely

from tests.jobs import demo
from vow_line.core.curve import arc_length
from vow_line.core.drawing import Mark
from vow_line.core.job import change
from vow_line.core.plan import Plan, plan
from vow_line.core.quantity import Units
from vow_line.core.readback import read_back
from vow_line.core.record.picture import bars
from vow_line.core.stitch.pattern import BESIDE_MM, STEP_MM, beside, pattern
from vow_line.core.stitch.pattern import rows as laid_in_rows
from vow_line.core.stitch.strip import partner, rows, strip
from vow_line.core.thread.picture import faces, rows_in, schools, shares, tools
from vow_line.core.work.picture import drying
from vow_line.resources.demo import demo_jobs

MM = Units()


def _plan(name: str) -> Plan:
    return plan(demo(name))


@pytest.mark.parametrize("name", ["billhook-cover", "whetstone-case", "secateurs-holster", "key-fob"])
def test_pieces_in_rows_lie_apart_and_no_other_rows_show_them_larger(name: str) -> None:
    made = _plan(name)
    laid = laid_in_rows(made.draft, made.stitching, 1.6, 10.0)  # type: ignore[arg-type]
    boxes = [(p.piece.outline.min(axis=0) + p.shift, p.piece.outline.max(axis=0) + p.shift) for p in laid]
    for (low, high), (other_low, other_high) in itertools.combinations(boxes, 2):
        assert (low > other_high).any() or (other_low > high).any()
    across, down = np.max([high for _, high in boxes], axis=0)
    sizes = [high - low for low, high in boxes]
    for cut in itertools.product((False, True), repeat=len(sizes) - 1):  # every way to part them into rows
        rows_of: list[list[np.ndarray]] = [[sizes[0]]]
        for new, size in zip(cut, sizes[1:], strict=True):
            rows_of = [*rows_of, [size]] if new else [*rows_of[:-1], [*rows_of[-1], size]]
        wide = max(sum(size[0] + 12 for size in row) for row in rows_of)
        high = sum(max(size[1] + 22 for size in row) for row in rows_of)
        assert max((across + 12) / 1.6, down + 12) <= max(wide / 1.6, high) + 1e-6


@pytest.mark.parametrize("seam_name", ["main-seam", "belt-loop"])
def test_the_strip_has_every_hole_and_the_stack_to_scale(seam_name: str) -> None:
    seam = _plan("laying-knife").stitching.seam(seam_name)  # type: ignore[union-attr]
    marks, labels = strip(seam)
    slits = next(m for m in marks if m.meaning == "stitch")
    assert len(slits.line) == 2 * len(seam.order)
    stack = next(m for m in marks if m.meaning == "welt")
    assert np.ptp(stack.line[:, 1]) == pytest.approx(seam.stack_mm.max())
    brackets = [m for m in marks if m.meaning == "strike"]
    assert sum(len(m.line) for m in brackets) == 6 * len(seam.strikes)
    assert any(f"{len(seam.points)} holes" in label.says.write(MM) for label in labels)


def test_the_thread_lies_between_the_holes_it_joins_on_both_faces() -> None:
    sewn = _plan("spar-knife").threading.seam("main-seam")  # type: ignore[union-attr]
    marks, _ = faces(sewn, 0.0, 0.0)
    for meaning, face in (("front thread", "front"), ("back thread", "back")):
        strokes = next(m for m in marks if m.meaning == meaning).line.reshape(-1, 2, 2)
        runs = [m for m in sewn.moves if m.act == "run" and m.face == face]
        assert len(strokes) == len(runs)
        long = np.abs(np.diff(strokes[:, :, 0], axis=1)).ravel()
        assert long == pytest.approx([abs(sewn.seam.s_mm[m.to] - sewn.seam.s_mm[m.hole]) - 0.8 for m in runs], abs=0.05)


def test_the_bars_of_the_schools_are_to_one_scale() -> None:
    sewn = _plan("grafting-knife").threading.seam("main-seam")  # type: ignore[union-attr]
    marks, labels = schools(sewn, 0.0, 0.0, 100.0)
    wide = [np.ptp(m.line[:, 0]) for m in marks]
    lengths = [sewn.total_mm, *(s.length_mm for s in sewn.schools)]
    assert np.array(wide) / np.array(lengths) == pytest.approx(100.0 / max(lengths))
    short = [s for s in sewn.schools if s.runs_out_at is not None]
    assert len(
        [label for label in labels if "runs out" in label.says.write(MM) or "not even" in label.says.write(MM)]
    ) == len(short)


def test_the_drying_curve_meets_its_weighings_and_two_percent() -> None:
    planned = _plan("spar-knife")
    marks, labels, places = drying(planned.work, planned.job.work)  # type: ignore[arg-type]
    curve = next(m for m in marks if m.id == "work/dry").line
    for weighing in (m.line[0] for m in marks if m.id == "weighing"):
        assert abs(np.interp(weighing[0], curve[:, 0], curve[:, 1]) - weighing[1]) < 4
    dry_line = next(m for m in marks if m.meaning == "fold").line
    dry_at = next(m for m in marks if m.meaning == "dimension").line[0, 0]
    assert np.interp(dry_at, curve[:, 0], curve[:, 1]) == pytest.approx(dry_line[0, 1], abs=0.2)
    assert any("dry after" in label.says.write(MM) for label in labels)
    for name in ("room", "air"):
        assert np.interp(places[name][0], curve[:, 0], curve[:, 1]) == pytest.approx(places[name][1], abs=0.2)


def test_what_is_said_of_thread_points_at_its_own_part_of_the_picture() -> None:
    sewn = _plan("grafting-knife").threading.seam("main-seam")  # type: ignore[union-attr]
    _, ends = shares(sewn, 10.0, 0.0, 100.0, 1.0)
    bar = next(m.line[:, 0] for m in schools(sewn, 10.0, 0.0, 100.0)[0] if m.meaning == "done")
    per_mm = np.ptp(bar) / sewn.total_mm
    widths = np.diff([bar.min(), *(ends[k][0] for k in ("path", "slack", "spare")), bar.max()]) / per_mm
    assert widths == pytest.approx([sewn.path_mm, sewn.slack_mm, sewn.spare_mm, sewn.reserve_mm])
    marks, places = tools(52.0, 140.0, 0.0)
    assert places["point"][0] - places["eye"][0] == pytest.approx(52.0)
    needle = next(m.line for m in marks if m.id == "needle" and m.meaning == "thing")
    assert np.ptp(needle[:, 0]) == pytest.approx(52.0)
    assert needle[:, 0].min() > 140.0
    spool = np.concatenate([m.line for m in marks if m.id == "spool" and m.meaning == "welt"])
    assert spool[:, 0].min() < places["spool"][0] < spool[:, 0].max() < 0


@pytest.mark.parametrize("room", [(310.0, 330.0), (560.0, 440.0), (1100.0, 700.0)])
def test_rows_are_high_enough_for_their_words_at_whatever_size_they_are_shown(room: tuple[float, float]) -> None:
    for wide, bands, many in ((300.0, 28.0, 13.0), (140.0, 28.0, 14.0), (620.0, 28.0, 13.5)):
        unit, px = rows_in(wide, bands, many, room)
        scale = min(room[0] / wide, room[1] / (bands + many * 12.0 * unit))
        assert px == pytest.approx(scale * wide)
        if unit < 4.0 and room[1] > 28.0 * many:
            assert 12.0 * unit * scale >= 27.9


def test_planned_and_done_are_drawn_side_by_side() -> None:
    planned = _plan("grafting-knife")
    marks, labels, ends = bars(planned.threading, planned.work, planned.job.record, planned.job.work)  # type: ignore[arg-type]
    thread = [np.ptp(m.line[:, 0]) for m in marks if m.id == "main-seam"]
    entry = planned.job.record.thread_left[0]
    sewn = planned.threading.seam("main-seam")  # type: ignore[union-attr]
    assert thread[1] / thread[0] == pytest.approx((entry.cut_mm - entry.left_mm) / (sewn.path_mm + sewn.slack_mm))
    assert set(ends) == {"main-seam"}
    assert any("planned" in label.says.write(MM) for label in labels)


def test_the_plan_is_read_back_whole() -> None:
    planned = _plan("spar-knife")
    told = [line.says.write(MM) for line in read_back(planned)]
    for name in ("sheath", "welt", "belt loop"):
        assert any(name in t for t in told)
    assert any(t.startswith("main seam: 47 holes 3.38 mm apart") for t in told)
    assert "Leather can be made smaller, never larger." in told
    assert any("takes its shape once" in t for t in told), "this one is formed wet"
    assert not any("takes its shape once" in line.says.write(MM) for line in read_back(_plan("grafting-knife")))


def test_the_strip_shows_where_the_remainder_of_an_iron_goes() -> None:
    left = plan(demo("laying-knife")).stitching.seam("main-seam")
    marks, labels = strip(left)
    over = next(m for m in marks if m.id == "main-seam/pitch")
    assert np.ptp(over.line[:, 0]) == pytest.approx(left.left_mm)
    assert any("over" in label.says.write(Units()) for label in labels)
    spread = plan(change(demo("laying-knife"), "stitch.remainder", "spread")).stitching.seam("main-seam")
    lost = next(m for m in strip(spread)[0] if m.id == "main-seam/pitch")
    gaps = np.hypot(*np.diff(spread.points, axis=0).T)
    assert len(lost.line) == 2 * (np.abs(gaps - 4.0) > 0.02).sum() > 0


def test_an_edge_of_another_length_is_drawn_under_the_strip() -> None:
    job = change(demo("secateurs-holster"), "piece.moulded", "front")
    seam = plan(job).stitching.seam("round-seam")
    marks, labels = partner(seam)
    other = next(m for m in marks if m.meaning == "stitch").line.reshape(-1, 2, 2).mean(axis=1)
    back = arc_length(seam.line.placed[-1].along)[-1] / arc_length(seam.line.line)[-1]
    assert other[:, 0] == pytest.approx(seam.s_mm * back, abs=0.05)
    assert "the other edge" in labels[0].says.write(Units())
    assert partner(plan(demo("secateurs-holster")).stitching.seam("round-seam")) == ((), ())


def test_thread_leans_the_other_way_where_the_second_needle_goes_above() -> None:
    sewn = plan(demo("laying-knife")).threading.seam("main-seam")

    def lean(second: str, meaning: str) -> float:
        line = next(m for m in faces(sewn, 0, 0, second)[0] if m.meaning == meaning).line.reshape(-1, 2, 2)
        return float(np.median(line[:, 1, 1] - line[:, 0, 1]))

    assert lean("below", "front thread") == pytest.approx(-lean("above", "front thread"))
    assert lean("below", "front thread") == pytest.approx(-lean("below", "back thread"))


@pytest.mark.parametrize("tool", ["awl", "iron"])
def test_a_long_strip_is_broken_into_rows_that_lose_nothing(tool: str) -> None:
    seam = plan(change(demo("turf-knife"), "stitch.tool", tool)).stitching.seam("round-seam")
    broken = rows(seam, 160.0)
    whole, parted = (dict(_by_meaning(strip(seam, broken=b)[0])) for b in (rows(seam), broken))
    bands = [band.line for band in parted["grain"]]
    assert (len(bands), len(whole["grain"])) == (3, 1)
    long = [float(np.ptp(band[:, 0])) for band in bands]
    assert sum(long) == pytest.approx(np.ptp(whole["grain"][0].line[:, 0]))
    assert max(long) < 1.05 * min(long)
    slits = parted["stitch"][0].line.reshape(-1, 2, 2).mean(axis=1)
    assert len(slits) == len(seam.points)
    for at in slits:
        inside = [b for b in bands if (b.min(axis=0) <= at).all() and (at <= b.max(axis=0)).all()]
        assert len(inside) == 1
    if tool == "iron":
        strokes = [np.diff(m["strike"][0].line.reshape(-1, 2, 2), axis=1) for m in (whole, parted)]
        across = [float(np.abs(s[..., 0]).sum()) for s in strokes]
        assert across[0] == pytest.approx(across[1]), "a bracket that goes on in the next row keeps its length"
    told = [label.says.write(MM) for label in strip(seam, broken=broken)[1]]
    begun = [int(t.rpartition(" ")[2]) for t in told if t.startswith("on from")]
    assert begun == [1 + int(np.argmax(slits[:, 1] > bands[k][:, 1].min())) for k in (1, 2)]


def test_round_holes_are_drawn_round_and_as_wide_as_they_are() -> None:
    for tooth, size in (("round", 1.5), ("diamond", 0.0)):
        job = change(change(demo("turf-knife"), "stitch.tooth", tooth), "stitch.hole_mm", 1.5)
        planned = plan(job)
        drawn = [m for m in pattern(planned.draft.piece("front"), planned.stitching) if m.id == "round-seam"]  # type: ignore[union-attr,arg-type]
        assert [(m.meaning, m.size_mm) for m in drawn] == [("stitch", size), ("hole", 1.5)]
        on_strip = strip(planned.stitching.seam("round-seam"))[0]  # type: ignore[union-attr]
        assert [m.size_mm for m in on_strip if m.meaning == "stitch"] == [size]


def _by_meaning(marks: tuple[Mark, ...]) -> Iterator[tuple[str, list[Mark]]]:
    for meaning in {m.meaning for m in marks}:
        yield meaning, [m for m in marks if m.meaning == meaning]


@pytest.mark.parametrize("name", sorted(demo_jobs()))
def test_pieces_on_a_board_lie_clear_of_each_other_and_begin_at_whole_steps(name: str) -> None:
    made = plan(demo_jobs()[name])
    assert made.draft is not None
    assert made.stitching is not None
    laid = beside(made.draft, made.stitching, made.draft.shown)
    assert laid[0].shift == (0.0, 0.0)
    areas = [
        shapely.box(*(s.piece.outline + s.shift).min(axis=0), *(s.piece.outline + s.shift).max(axis=0)) for s in laid
    ]
    assert all(a.distance(b) >= BESIDE_MM - 1e-6 for a, b in itertools.combinations(areas, 2))
    for sheet in laid[1:]:
        at = (sheet.piece.outline + sheet.shift).min(axis=0)
        assert np.abs(at / STEP_MM - np.round(at / STEP_MM)).min() < 1e-6


@pytest.mark.parametrize(("times", "rows"), [(1, 1), (2, 1), (5, 2), (14, 3)])
def test_many_pieces_lie_in_rows_by_which_they_are_drawn_larger(times: int, rows: int) -> None:
    made = plan(demo_jobs()["waistcoat"])
    assert made.draft is not None
    assert made.stitching is not None
    laid = beside(made.draft, made.stitching, made.draft.shown * times)
    ends = np.array([[f(s.piece.outline + s.shift, axis=0) for f in (np.min, np.max)] for s in laid])
    areas = [shapely.box(*each.ravel()) for each in ends]
    assert all(a.distance(b) >= BESIDE_MM - 1e-6 for a, b in itertools.combinations(areas, 2))
    assert len({round(a.bounds[1]) for a in areas}) == rows
    wide, high = ends[:, 1].max(axis=0) - ends[:, 0].min(axis=0)
    sizes = ends[:, 1] - ends[:, 0]
    in_one = max(float((sizes[:, 0] + BESIDE_MM).sum()) / 2, float(sizes[:, 1].max()))
    assert max(wide / 2, high) < (0.75 if rows > 1 else 1.05) * in_one, "drawn larger than in one row"
