"""Small rules, each where it ends: on this side of its bound and on the other, with values reckoned by hand."""

from dataclasses import replace
from datetime import datetime
from types import SimpleNamespace
from typing import Any, cast

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import demo, plain_job, read, words
from vow_line.core.curve import arc_length, area_within, frozen, rounded
from vow_line.core.draft.draw_out import DrawOut
from vow_line.core.draft.flat import right_side
from vow_line.core.draft.kinds.folded_sheath import FoldedSheath
from vow_line.core.draft.kinds.folded_sheath.checks import draw_findings
from vow_line.core.draft.kinds.pouch import Pouch
from vow_line.core.draft.pieces import Edge, edged
from vow_line.core.draft.strap import stud_strap
from vow_line.core.errors import RefusedChange
from vow_line.core.job import change
from vow_line.core.leather import Hide
from vow_line.core.measure import Trial
from vow_line.core.measure.body import LongBody
from vow_line.core.measure.thing import in_widest_gap
from vow_line.core.measure.things.fitting import Fitting
from vow_line.core.measure.things.moulded import Moulded, Slice
from vow_line.core.measure.things.shaft import Shaft
from vow_line.core.measure.traced import within_line
from vow_line.core.measure.trial import corrected
from vow_line.core.plan import plan
from vow_line.core.ring import offset, turned_right
from vow_line.core.steps import blank, vow
from vow_line.core.stitch.pattern import beside, pattern
from vow_line.core.thread import Slack
from vow_line.core.work.choices import Weighing
from vow_line.core.work.drying import dried


def test_a_place_in_a_list_that_is_not_there_is_refused() -> None:
    job = plain_job()
    change(job, "thing.stations.2.at_mm", 85.0)
    with pytest.raises(RefusedChange):
        change(job, "thing.stations.3.at_mm", 90.0)


def test_a_new_job_begins_with_the_slack_that_was_learned_or_the_usual() -> None:
    learned = Slack(value=0.07, jobs=3)
    more = blank(name="a", thing=Shaft, kind=type(demo("slasher-grip").piece), slack=learned)
    assert more.thread.slack == learned
    assert blank(name="a", thing=Shaft, kind=type(demo("slasher-grip").piece)).thread.slack == Slack()
    begun = blank(
        name="a", thing=Shaft, kind=type(demo("slasher-grip").piece), begins=datetime(2027, 1, 5, 12, 30, 7, 9)
    )
    assert begun.work.begins == datetime(2027, 1, 5, 12, 30, 7)


@pytest.mark.parametrize(
    ("places", "end", "at"),
    [
        ([0, 10, 60], None, 35),
        ([0, 10, 60], 300, 180),
        ([0, 10, 60], 40, 35),
        ([50], None, 70),
        ([50], 90, 70),
        ([50], 20, 51),
    ],
)
def test_a_station_goes_into_the_widest_gap(places: list[float], end: float | None, at: float) -> None:
    assert in_widest_gap([float(p) for p in places], end) == at


def test_stations_of_a_moulded_thing_come_where_they_are_put_and_go_one_by_one() -> None:
    thing = Moulded(stations=tuple(Slice(at_mm=a) for a in (0, 50, 100)))
    _, more = thing.with_station(20.0)
    assert [s.at_mm for s in more] == [0, 20, 50, 100]
    assert [s.at_mm for s in thing.with_station()[1]] == [0, 25, 50, 100]
    assert [s.at_mm for s in thing.without_station("stations", 1)] == [0, 100]


def test_girths_of_a_shaft_come_where_they_are_put_or_into_the_widest_gap() -> None:
    shaft = Shaft.model_validate({"body": "shaft", "name": "grip", "stations": [{"at_mm": a} for a in (0, 50, 200)]})
    assert [s.at_mm for s in shaft.with_station(20.0)[1]] == [0, 20, 50, 200]
    assert [s.at_mm for s in shaft.with_station()[1]] == [0, 50, 125, 200]


def test_a_line_all_round_a_ring_is_closed() -> None:
    """A square of 40 grown by 2 has round corners: 160 + 4π, by hand."""
    ring = np.array([[0.0, 0], [40, 0], [40, 40], [0, 40]])
    line = offset(ring, 0.0, 160.0, 2.0)
    assert arc_length(line)[-1] == pytest.approx(160 + 4 * np.pi, rel=2e-3)
    part = offset(ring, 10.0, 30.0, 2.0)
    assert arc_length(part)[-1] == pytest.approx(20, abs=0.2)


def test_a_station_may_stand_at_the_very_beginning_and_not_before_it() -> None:
    shaft = Shaft.blank()
    assert [shaft.place_of(x, 0.0) for x in (0.0, 0.54, -0.1)] == [0.0, 0.5, None]


def test_a_fitting_read_as_nothing_is_said_for_either_reading() -> None:
    for opening, bar, at in ((0.0, 4.0, "thing.opening.first"), (25.0, 0.0, "thing.bar.first")):
        measured = Fitting(opening=read(opening), bar=read(bar)).measure()
        assert [f.at for f in measured.findings if f.code == "reading-nothing"] == [at]
        assert measured.body is None


def test_two_weighings_are_enough_and_one_is_not() -> None:
    """Half of the excess in an hour: ln 2 by hand."""
    wet = [Weighing(minutes=0, grams=80), Weighing(minutes=60, grams=70)]
    assert dried(wet, 60, 360.0).tau_min == pytest.approx(60 / np.log(2))
    assert dried(wet[:1], 60, 360.0).tau_min == 360.0
    assert dried([*wet[:1], wet[0]], 60, 360.0).tau_min == 360.0, "at one time they show nothing"


def test_leather_drawn_out_keeps_its_corner_and_its_flaws_with_it() -> None:
    hide = Hide(outline=((10, 20), (110, 20), (110, 70), (10, 70)), flaws=(((30, 30), (40, 30), (40, 40)),))
    sized = hide.sized(300, 100)
    assert sized.outline == ((10, 20), (310, 20), (310, 120), (10, 120))
    assert sized.flaws == (((70, 40), (100, 40), (100, 60)),)


@given(st.floats(0.05, 50), st.booleans())
def test_outlines_turn_right_however_small_they_are(size: float, other: bool) -> None:
    ring = size * np.array([[0.0, 0], [1, 0], [1, 1], [0, 1]])
    turned = turned_right(ring[::-1] if other else ring)
    x, y = turned.T
    assert (x * np.roll(y, -1) - np.roll(x, -1) * y).sum() > 0, "right, then down"


def test_what_a_pen_drew_is_taken_off_unless_nothing_would_be_left() -> None:
    ring = np.array([[0.0, 0], [40, 0], [40, 30], [0, 30]])
    inside = within_line(ring, "marker")
    assert shapely.Polygon(inside).area == pytest.approx(38 * 28)
    speck = ring / 40
    assert within_line(speck, "marker") == pytest.approx(speck)
    assert within_line(ring, "nothing") == pytest.approx(ring)


def test_a_ring_of_one_edge_has_no_point_twice_however_it_was_given() -> None:
    ring = np.array([[0.0, 0], [40, 0], [40, 30], [0, 30]])
    for given_ in (ring, np.vstack([ring, ring[:1]])):
        outline, (edge,) = edged(Edge("around", "around", frozen(given_), "free"))  # type: ignore[arg-type]
        assert len(outline) == 4
        assert len(edge.line) == 5
        assert edge.line[0] == pytest.approx(edge.line[-1])


def test_the_front_half_of_an_area_begins_at_its_own_corner() -> None:
    area = shapely.Polygon([(-5, 0), (30, 0), (30, 80), (-5, 80)])
    line = right_side(area)
    assert line[0] == pytest.approx([30, 0])
    assert line[-1] == pytest.approx([0, 80])


def test_a_corrected_body_is_outlined_by_its_own_edges() -> None:
    """The area within, against the widths summed along the blade."""
    body = plan(demo("laying-knife")).measured.body
    assert isinstance(body, LongBody)
    more = corrected(
        body,
        (
            Trial.model_validate(
                {
                    "corrections": [
                        {"at_mm": 60.0, "side": "low", "by_mm": 2.0},
                        {"at_mm": 60.0, "side": "top", "by_mm": 1.0},
                    ]
                }
            ),
        ),
    )
    assert isinstance(more, LongBody)
    blade = more.blade
    wide = np.trapezoid((more.edge_mm - more.top_mm)[blade], more.x_mm[blade])
    assert area_within(more.outline).area == pytest.approx(wide, rel=1e-6)


@pytest.mark.parametrize(("every", "ticks"), [(0, 0), (1, 52), (10, 5), (51, 1), (52, 0)])
def test_marks_keep_step_after_every_so_many_holes(every: int, ticks: int) -> None:
    planned = plan(change(change(demo("laying-knife"), "stitch.tool", "wheel"), "stitch.mark_every", every))
    assert planned.stitching is not None
    n = len(planned.stitching.seam("main-seam").points)
    marks = [m for m in pattern(planned.draft.pieces[0], planned.stitching) if m.id == "main-seam/marks"]  # type: ignore[union-attr]
    assert n == 52
    assert {len(m.line) // 2 for m in marks} == ({ticks} if ticks else set())


@pytest.mark.parametrize(
    "name", ["laying-knife", "billhook-cover", "whetstone-case", "secateurs-holster", "turf-knife"]
)
def test_pieces_laid_beside_each_other_do_not_meet(name: str) -> None:
    planned = plan(demo(name))
    ids = [p.id for p in planned.draft.pieces]  # type: ignore[union-attr]
    for turn in range(len(ids)):
        laid = beside(planned.draft, planned.stitching, ids[turn:] + ids[:turn])  # type: ignore[arg-type]
        boxes = [
            shapely.box(*(x.piece.outline + x.shift).min(axis=0), *(x.piece.outline + x.shift).max(axis=0))
            for x in laid
        ]
        assert all(a.distance(b) > 10 for k, a in enumerate(boxes) for b in boxes[:k])


def test_a_strap_is_one_unless_more_are_asked_for() -> None:
    assert stud_strap(120.0, 18.0, 3.0).count == 1


def _relieved(already: float, by: float, edge_to_thread: float) -> str:
    """Which mend a blade that lacks `by` between 20 and 40 mm gets, where so much was relieved already."""
    relief = ({"from_mm": 10.0, "to_mm": 12.0, "by_mm": already},) if already else ()
    sheath = FoldedSheath(edge_to_thread_mm=edge_to_thread, clearance_mm=1.0, relief=relief, opened=False)
    x = np.array([0.0, 20.0, 40.0, 60.0])
    gap = np.array([2.0, 0.5 - by, 0.5 - by / 2, 2.0])
    draw = DrawOut(x, gap, float(gap.min()), 20.0, 10.0)
    body: Any = SimpleNamespace(spread_mm=0.0)
    (found,) = draw_findings(sheath, body, cast("Any", SimpleNamespace(draw=draw)))
    assert found.mend is not None
    return found.mend.changes[0][0]


@pytest.mark.parametrize(
    ("already", "by", "edge_to_thread", "mend"),
    [
        (0.0, 2.0, 6.1, "relief"),
        (0.0, 2.0, 6.0, "relief"),
        (0.0, 2.0, 5.9, "opened"),
        (1.5, 1.0, 6.6, "relief"),
        (1.5, 1.0, 6.4, "opened"),
    ],
)
def test_a_welt_is_relieved_while_three_mm_of_it_are_left(
    already: float, by: float, edge_to_thread: float, mend: str
) -> None:
    """Edge to thread, less 1 of clearance, less what was relieved already: by hand."""
    assert _relieved(already, by, edge_to_thread) == f"piece.{mend}"


def test_a_mock_up_is_corrected_on_the_side_that_is_pointed_at() -> None:
    for name in ("turf-knife", "laying-knife"):
        station_of = plan(demo(name)).draft.station_of  # type: ignore[union-attr]
        assert station_of is not None
        sides = {station_of(u, 40.0)[1] for u in (-15.0, 15.0)}
        assert sides == ({"low", "top"} if name == "turf-knife" else {"low"} if len(sides) == 1 else {"low", "top"})
        assert station_of(15.0, 40.0)[0] == station_of(-15.0, 40.0)[0]


def test_a_piece_is_shown_when_there_is_one() -> None:
    holster = demo("secateurs-holster")
    assert isinstance(holster.piece, Pouch)
    for welts in (0, 1):
        shown = plan(change(holster, "piece.welts", welts)).draft.shown  # type: ignore[union-attr]
        assert ("welt" in shown) == bool(welts)


def test_a_case_takes_in_all_of_a_thing_and_not_more() -> None:
    job = demo("whetstone-case")
    long = float(np.ptp(plan(job).body.x_mm))  # type: ignore[union-attr]
    for goes_in, held in ((long, False), (long + 0.2, True)):
        found = {f.code for f in plan(change(job, "piece.goes_in_mm", goes_in)).findings}
        assert ("seat-past-butt" in found) == held


@pytest.mark.parametrize(("share", "shows"), [(4.1, False), (3.9, True)])
def test_a_buried_knot_shows_where_its_last_hole_is_less_than_four_threads_deep(share: float, shows: bool) -> None:
    job = change(change(plain_job(loop=None), "thread.finish", "buried-knot"), "thread.stitch", "saddle")
    seam = plan(job).threading.seam("main-seam").seam  # type: ignore[union-attr]
    stack = float(seam.stack_mm[seam.order[-1]])
    planned = plan(change(job, "thread.thread.diameter_mm", round(stack / share, 3)))
    assert ("knot-shows" in {f.code for f in planned.findings}) == shows


def test_a_buried_knot_is_looked_for_in_the_last_hole_and_no_other() -> None:
    job = change(plain_job(loop=None, welt_mm=3.0), "thread.finish", "buried-knot")
    sewn = plan(job).threading.seam("main-seam")  # type: ignore[union-attr]
    thin = sewn.seam.stack_mm.copy()
    thin[sewn.seam.order[-1]] = 2.0
    from vow_line.core.thread.checks import checks

    for stack, shows in ((thin, True), (np.where(np.arange(len(thin)) == len(thin) - 2, 2.0, 9.0), False)):
        changed = replace(sewn, seam=replace(sewn.seam, stack_mm=stack))
        assert ("knot-shows" in {f.code for f in checks((changed,), job.thread)}) == shows


def test_a_station_of_a_moulded_thing_counts_when_both_its_readings_are_taken() -> None:
    whole, half = Slice(at_mm=0, width=read(40), height=read(20)), Slice(at_mm=50, width=read(40))
    for stations, held in (((whole, half), True), ((whole, half.model_copy(update={"height": read(18)})), False)):
        found = {f.code for f in Moulded(stations=stations, length=read(60)).measure().findings}
        assert ("too-few-stations" in found) == held


def test_corners_are_rounded_by_a_radius_and_by_none_not_at_all() -> None:
    bent = np.array([[0.0, 0], [50, 0], [50, 40]])
    assert rounded(bent, 0.0, np.array([1])) == pytest.approx(bent)
    assert len(rounded(bent, 5.0, np.array([1]))) > 3
    assert rounded(bent, 5.0, np.array([], int)) == pytest.approx(bent)


def test_the_next_thing_is_the_first_hold_then_the_vow_then_the_first_step() -> None:
    held, ready = plan(demo("hedging-knife")), plan(demo("turf-knife"))
    assert held.next == held.holds[0].says
    assert words(ready.next) == "read the plan back, and vow it"
    vowed = plan(vow(demo("turf-knife"), at=datetime(2027, 1, 5, 12)))
    assert words(vowed.next).startswith("Cut the ")


def test_a_job_with_hours_but_none_to_be_done_in_says_so_and_one_without_a_beginning_does_not() -> None:
    job = demo("turf-knife")
    begun = plan(job).work
    assert begun is not None
    assert begun.ready is not None
    unbegun = plan(change(job, "work.begins", None)).work
    assert unbegun is not None
    assert unbegun.ready is None
    assert {f.code for f in begun.findings} >= {f.code for f in unbegun.findings}
