import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import demo, read
from tests.plates import same_area
from vow_line.core.draft.kinds.edge_cover import EdgeCover
from vow_line.core.draft.wrap import drawn_over, half_wrap
from vow_line.core.job import change, mend
from vow_line.core.measure.things.tool import Depth, Tool
from vow_line.core.plan import plan
from vow_line.core.ring import closed, offset, place_on

CLEAR, FILLER, MARGIN = 1.5, 10.0, 4.0


def _hatchet(**told: object) -> Tool:
    """A plain slab, its edge along the bottom."""
    return Tool(
        outline=((0, 0), (100, 0), (100, 60), (0, 60)), edge_from=(100, 60), edge_to=(0, 60), across=read(116.6),
        depths=(Depth(at_mm=10, thick=read(4)), Depth(at_mm=40, thick=read(8))), **told,
    )  # fmt: skip


def test_every_hole_lies_at_its_distance_from_the_edge_and_the_cut() -> None:
    planned = plan(demo("billhook-cover"))
    points = planned.stitching.seam("edge-seam").points
    tool = shapely.Polygon(planned.measured.body.outline)
    assert shapely.distance(shapely.points(points), tool) == pytest.approx(CLEAR + FILLER - MARGIN, abs=0.08)
    cut = shapely.LineString(closed(planned.draft.piece("front").outline))
    assert shapely.distance(shapely.points(points[1:-1]), cut) == pytest.approx(MARGIN, abs=0.15)


def test_the_back_is_the_front_turned_over_with_the_same_holes() -> None:
    planned = plan(demo("billhook-cover"))
    front, back = planned.draft.piece("front"), planned.draft.piece("back")
    seam = planned.stitching.seam("edge-seam")
    assert back.mirrored
    assert same_area(front.outline * [-1, 1], back.outline)
    assert np.allclose(seam.on(0) * [-1, 1], seam.on(2))


def test_what_drew_the_outline_is_taken_off_all_round() -> None:
    """Common practice: a pencil stands half a millimetre off what it is drawn round, a marker a millimetre."""
    for pen, off in (("nothing", 0.0), ("pencil", 0.5), ("marker", 1.0)):
        body = _hatchet(drawn_with=pen).measure().body
        assert np.ptp(body.outline, axis=0) == pytest.approx([100 - 2 * off, 60 - 2 * off])


def test_an_outline_off_its_scale_is_found_and_scaled() -> None:
    job = change(demo("billhook-cover"), "thing.across.first", 260.0)
    job = change(job, "thing.across.second", 260.0)
    found = next(f for f in plan(job).findings if f.code == "outline-off-scale")
    scaled = plan(mend(job, found.mend))
    assert not [f for f in scaled.findings if f.code == "outline-off-scale"]
    assert np.ptp(scaled.measured.body.outline, axis=0).max() > np.ptp(plan(job).measured.body.outline, axis=0).max()


def test_leather_is_longer_over_a_tool_that_thickens() -> None:
    """The taut line over a plain taper in closed form: from the filler's corner to the face."""
    draft = EdgeCover(depth_mm=30, filler_thick_mm=2.0, clearance_mm=2.0, straps=None).draft(
        _hatchet().measure().body, 3.0
    )
    told = next(r for r in draft.reckonings if r.key == "face")
    body = _hatchet().measure().body
    thick = float(np.interp(30, body.depth_mm, body.thick_mm)) / 2
    shape = [(-2.0, 1.0), *zip(body.depth_mm, body.thick_mm / 2, strict=True)]
    inside = [p for p in shape if p[0] < 30] + [(30.0, thick)]
    hull = shapely.MultiPoint([*inside, (-2, -1), (30, -1)]).convex_hull
    top = hull.length - 32 - (1 + 1) - (thick + 1)
    assert told.number == pytest.approx(top - 2.0, abs=1e-6)


def test_a_tool_that_cannot_come_out_sideways_is_held() -> None:
    job = change(change(demo("billhook-cover"), "piece.past_mm", 60.0), "piece.clearance_mm", 0.5)
    found = next(f for f in plan(job).findings if f.code == "draw-out")
    assert mend(job, found.mend).piece.past_mm < 60


@given(st.floats(0.5, 20), st.floats(5, 55))
def test_an_offset_keeps_its_distance_and_its_stretch(by: float, start: float) -> None:
    ring = np.array([[0, 0], [100, 0], [100, 60], [0, 60]], float)
    line = offset(ring, start, start + 80, by)
    outline = shapely.LineString(closed(ring))
    assert shapely.distance(shapely.points(line), outline) == pytest.approx(by, abs=0.05)
    places = [place_on(ring, (float(x), float(y))) for x, y in line]
    assert all(start - 1e-6 <= p <= start + 80 + 1e-6 for p in places)


@given(st.lists(st.floats(0, 12), min_size=3, max_size=12), st.floats(0, 6))
def test_leather_over_a_section_follows_the_hull_that_shapely_makes(heights: list[float], worked: float) -> None:
    x = 4.0 * np.arange(len(heights))
    section = np.column_stack([x, heights])
    line, length, turning = drawn_over(section)
    hull = shapely.MultiPoint([*section.tolist(), (x[0], -1.0), (x[-1], -1.0)]).convex_hull
    assert length == pytest.approx(hull.length - x[-1] - heights[0] - heights[-1] - 2, abs=1e-6)
    worked_line, worked_long, _ = drawn_over(section, worked)
    assert length - 1e-9 <= worked_long <= float(np.hypot(*np.diff(section, axis=0).T).sum()) + 1e-9
    assert (np.interp(x, worked_line[:, 0], worked_line[:, 1]) >= section[:, 1] - 1e-9).all()
    if len(line) == 2:
        assert turning == pytest.approx(0)


@given(st.floats(15, 50), st.floats(1, 6), st.floats(0.5, 4))
def test_the_two_wraps_are_one(width: float, spine: float, welt: float) -> None:
    """The half wrap of a folded pocket is the taut line from the fold over the section to the welt."""
    y, z = np.array([[0.0, 0.0, width]]), np.array([[0.0, spine / 2, 0.0]])
    half = half_wrap(y, z, np.array([width + 1.0]), np.array([welt / 2]), 0.5, 3.0)
    _, over, turning = drawn_over(np.array([[0, spine / 2], [width, 0], [width + 1, welt / 2]]))
    assert spine / 2 + over == pytest.approx(half.hull_mm[0], rel=1e-9)
    assert np.isfinite(turning)


def test_a_straight_edge_is_covered_by_one_piece_folded_round_the_filler() -> None:
    body = _hatchet().measure().body
    draft = EdgeCover(form="folded", past_mm=0.0, straps=None, filler_thick_mm=3.0).draft(body, 2.0)
    seam = draft.seams[0]
    one, other = (placed.onto(seam.line, np.zeros(len(seam.line))) for placed in (seam.placed[0], seam.placed[2]))
    straight = (one[:, 0] > 1) & (one[:, 0] < 99)
    apart = np.hypot(*(one - other).T)[straight]
    to_fold = MARGIN
    assert apart == pytest.approx(2 * to_fold + np.pi * (1.5 + 0.5 * 2.0), abs=0.05)
    cover = shapely.Polygon(draft.piece("cover").outline)
    assert cover.is_valid
    assert all(cover.contains(shapely.Point(p)) for p in (*one[straight], *other[straight]))
    two = 2 * EdgeCover(past_mm=0.0).draft(body, 2.0).piece("front").area_mm2
    assert cover.area == pytest.approx(two + 120 * 7.85, rel=0.05), "both sides and the turn; its corners are square"


@pytest.mark.parametrize("past", [6.900413082643535, 7.744360902255639, 9.248120300751879])
def test_a_half_that_crosses_itself_by_rounding_when_it_is_turned_over_still_folds(past: float) -> None:
    planned = plan(change(change(demo("billhook-cover"), "piece.form", "folded"), "piece.past_mm", past))
    assert planned.draft is not None
    assert planned.draft.piece("cover").area_mm2 > 20_000


def test_a_bowed_edge_is_not_folded() -> None:
    job = change(demo("billhook-cover"), "piece.form", "folded")
    found = next(f for f in plan(job).findings if f.code == "edge-not-straight")
    assert not [f for f in plan(mend(job, found.mend)).findings if f.code == "edge-not-straight"]


def test_a_flap_goes_over_the_back_and_laps_onto_the_front() -> None:
    job = demo("billhook-cover")
    job = change(
        job, "piece.straps", job.piece.straps.model_copy(update={"form": "flap", "width_mm": 70.0, "count": 2})
    )
    planned, strapped = plan(job), plan(demo("billhook-cover"))
    names = [p.id for p in planned.draft.pieces]
    assert "strap" not in names
    back, front = planned.draft.piece("back"), planned.draft.piece("front")
    before = shapely.Polygon(strapped.draft.piece("back").outline)
    grown = shapely.Polygon(back.outline)
    assert grown.is_valid
    assert grown.buffer(0.1).contains(before), "the cover itself is as it was"
    (fold,) = back.folds
    along = np.diff(fold, axis=0)[0] / np.hypot(*np.diff(fold, axis=0)[0])
    away = np.array([-along[1], along[0]])
    # laid over its fold, every stud hole of the flap comes to lie on its post on the front
    for hole, post in zip(back.punches, front.punches, strict=True):
        there = np.array(hole.centre)
        laid = there - 2 * ((there - fold[0]) @ away) * away
        assert laid == pytest.approx(np.array(post.centre) * [-1, 1], abs=1e-6)
    body = planned.body
    turn = np.pi * 0.5 * 3.2
    told = next(r for r in planned.draft.reckonings if r.key == "flap")
    straps = [r.number for r in strapped.draft.reckonings if r.key.startswith("strap")]
    assert told.number == pytest.approx(np.mean(straps), rel=0.2), "about as long as a strap"
    assert told.number > turn + float(body.thick_mm[-1]) + 20
    assert [f.id for f in planned.draft.fasteners] == ["stud-1", "stud-2"]
    folded = plan(change(job, "piece.form", "folded"))
    assert any(p.id.startswith("strap") for p in folded.draft.pieces), "folded, there is no back by itself to run on"
