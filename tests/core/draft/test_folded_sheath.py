import numpy as np
import pytest
import shapely

from tests.bodies import plausible
from tests.core.draft.test_wrap import folded_half
from tests.jobs import demo, plain_job, plain_knife, read
from vow_line.core.draft import Draft
from vow_line.core.draft.draw_out import squeeze_grade
from vow_line.core.draft.kinds.folded_sheath import FoldedSheath
from vow_line.core.job import Job, change, mend
from vow_line.core.measure.things.knife import Knife, KnifeStation
from vow_line.core.plan import plan


def _draft(**choices: object) -> Draft:
    body = plain_knife().measure().body
    assert body is not None
    return FoldedSheath(**choices).draft(body, 3.0)


def test_the_half_width_is_the_closed_form_of_the_wedge() -> None:
    line = next(r for r in _draft(welt_mm=3.0).reckonings if r.key == "half-width")
    assert line.number == pytest.approx(folded_half(3.0, 30.0, 1.0, 3.0, 0.5, 3.0), abs=1e-6)


def test_the_cut_runs_a_margin_outside_the_thread_and_both_halves_mirror() -> None:
    draft = _draft(margin_mm=4.0, seat_mm=0)
    ring = draft.piece("sheath").outline
    thread = draft.seams[-1].line
    along = shapely.LineString(ring)
    inner = thread[(thread[:, 1] > 10) & (thread[:, 0] > 12)]
    assert shapely.distance(shapely.points(inner), along) == pytest.approx(4.0, abs=0.02)
    left, right = shapely.Polygon(ring), shapely.Polygon(ring * [-1, 1])
    assert left.symmetric_difference(right).area < 0.5


def test_the_welt_lies_between_pocket_and_cut_round_the_tip() -> None:
    draft = _draft()
    welt = shapely.Polygon(draft.piece("welt").outline)
    assert welt.is_valid
    assert shapely.Polygon(draft.piece("sheath").outline).buffer(0.01).contains(welt)
    assert draft.piece("welt").outline[:, 1].max() > 120


@pytest.mark.parametrize("mouth", ["straight", "sloped", "scooped"])
def test_every_mouth_gives_whole_pieces(mouth: str) -> None:
    for piece in _draft(mouth=mouth, drain_mm=4, mouth_depth_mm=9).pieces:
        ring = shapely.Polygon(piece.outline)
        assert ring.is_valid, piece.id
        assert ring.area == pytest.approx(piece.area_mm2)


def test_a_belly_wider_than_the_neck_is_held_and_its_mend_cures_it() -> None:
    job = demo("laying-knife")
    held = [f for f in plan(job).findings if f.code == "draw-out"]
    assert [f.level for f in held] == ["hold"]
    assert held[0].mend is not None
    cured = mend(job, held[0].mend)
    assert not [f for f in plan(cured).findings if f.code == "draw-out"]


def test_a_narrow_clearance_is_relieved_where_the_welt_has_room() -> None:
    job = plain_job(clearance_mm=0.1, edge_to_thread_mm=6.0)
    found = next(f for f in plan(job).findings if f.code == "draw-out")
    assert found.level == "look"
    assert found.mend is not None
    relieved = mend(job, found.mend)
    assert relieved.piece != job.piece
    assert not [f for f in plan(relieved).findings if f.code == "draw-out"]


def test_readings_that_stray_more_want_more_room_on_the_way_out() -> None:
    """The same means: what is clear enough for readings that agree is looked at where they lie 0.8 mm apart."""
    job = plain_job(clearance_mm=0.9)
    straying = tuple(
        s.model_copy(update={"width": read(s.width.first + 0.4, s.width.first - 0.4)}) for s in job.thing.stations
    )
    assert not [f for f in plan(job).findings if f.code == "draw-out"]
    assert [f.level for f in plan(change(job, "thing.stations", straying)).findings if f.code == "draw-out"] == ["look"]


def test_the_section_keeps_the_thread_as_far_from_the_edge_as_asked() -> None:
    section = _draft(edge_to_thread_mm=6.5).section
    assert section is not None
    assert section(40).says.values[0][1].value == pytest.approx(6.5, abs=0.1)


def test_a_thicker_fold_and_a_thread_too_near_are_found() -> None:
    job = plain_job(edge_to_thread_mm=2.0)
    codes = {(f.code, f.level) for f in plan(change(job, "leather.thickness_mm", 6.0)).findings}
    assert ("edge-near-thread", "hold") in codes
    assert ("fold-thick", "look") in codes


def test_a_seat_deeper_than_the_handle_and_a_margin_wider_than_the_piece_are_held() -> None:
    codes = {f.code for f in plan(plain_job(seat_mm=250, margin_mm=60)).holds}
    assert {"seat-past-handle", "margin-too-wide"} <= codes


@pytest.mark.parametrize(
    ("ease", "grade"), [(3, "loose"), (1, "easy"), (0, "easy"), (-1.5, "firm"), (-2.3, "very firm"), (-4, "too tight")]
)
def test_squeeze_grades(ease: float, grade: str) -> None:
    assert squeeze_grade(ease, 100.0) == grade


def test_the_mend_of_a_mouth_makes_it_easy() -> None:
    job = plain_job(mouth_ease_mm=-15.0)
    found = next(f for f in plan(job).holds if f.code == "squeeze")
    assert found.mend is not None
    after = plan(mend(job, found.mend))
    squeeze = next(r for r in after.draft.reckonings if r.key == "squeeze")  # type: ignore[union-attr]
    assert 0 <= (squeeze.number or 0) < 0.02


def test_holes_of_the_loop_fall_on_its_own_ends() -> None:
    draft = _draft()
    seam = draft.seams[0]
    loop = shapely.Polygon(draft.piece("belt-loop").outline)
    ends = [seam.placed[k].onto(seam.line, np.zeros(4)) for k in (1, 2)]
    for end in ends:
        assert loop.contains(shapely.MultiPoint(end))
    folded = np.column_stack([ends[0][:, 0], np.ptp(loop.exterior.xy[1]) - ends[0][:, 1]])
    assert np.sort(folded, axis=0) == pytest.approx(np.sort(ends[1], axis=0), abs=1e-6)


def test_two_welts_are_two_plies_and_a_wider_fold() -> None:
    one, two = plan(plain_job()), plan(plain_job(welts=2))
    assert two.stitching.seam("main-seam").stack_mm[-1] - one.stitching.seam("main-seam").stack_mm[-1] == pytest.approx(
        3.2
    )
    assert two.draft.piece("welt").count == 2
    assert _draft(welts=2).piece("sheath").area_mm2 != _draft().piece("sheath").area_mm2


def test_a_strap_goes_half_round_the_handle_with_its_stud_and_rivet() -> None:
    draft = _draft(strap_mm=16.0)
    strap = draft.piece("strap")
    body = plain_knife().measure().body
    handle = body.girth_mm()[~body.blade].max()
    assert np.ptp(strap.outline[:, 1]) == pytest.approx(handle / 2 + np.pi * 0.5 * 3.0 + 40, abs=0.2)
    rivet, stud = draft.fasteners
    assert [draft.assembly.post_mm(f) for f in (rivet, stud)] == pytest.approx([9.0, 6.0])
    assert "set/stud" in {s.id for s in plan(plain_job(strap_mm=16.0)).work.steps}


def test_a_toe_guard_thickens_the_stack_at_the_toe_only() -> None:
    plain, guarded = plan(plain_job()), plan(plain_job(toe_guard_mm=30.0))
    more = guarded.stitching.seam("main-seam").stack_mm - plain.stitching.seam("main-seam").stack_mm
    points = guarded.stitching.seam("main-seam").points
    begins = plan(plain_job()).body.length_mm - 30
    assert more[points[:, 1] > begins + 8] == pytest.approx(3.0)
    skived = (points[:, 1] > begins) & (points[:, 1] < begins + 8)
    assert more[skived] == pytest.approx(3.0 * (points[skived, 1] - begins) / 8, abs=1e-3), "to nothing along its top"
    assert more[points[:, 1] < begins - 0.1] == pytest.approx(0.0)
    guard, sheath = (shapely.Polygon(guarded.draft.piece(n).outline) for n in ("toe-guard", "sheath"))
    assert sheath.buffer(0.05).contains(guard)


@pytest.mark.parametrize("seed", range(8))
def test_with_a_toe_guard_a_sheath_is_as_sound_and_wider_there_by_a_quarter_turn_round_it(seed: int) -> None:
    """The proof, which bends the leather itself; and the half beside the fold as a buffered spine gives it."""
    thing = plausible(Knife, np.random.default_rng(seed), "folded_sheath")
    plain, guarded = (
        plan(Job(name="any", thing=thing, piece=FoldedSheath(loop=None, drain_mm=3.0, toe_guard_mm=high)))
        for high in (0.0, 60.0)
    )
    assert [f.code for f in guarded.findings if f.level == "hold"] == [
        f.code for f in plain.findings if f.level == "hold"
    ]
    spine = shapely.LineString([(0, -50), (0, 0)])  # the blade's back, seen along the fold
    quarter = (spine.buffer(3.0 + 1.5, 64).length - spine.buffer(3.0, 64).length) / 4
    begins, long = guarded.body.length_mm - 60.0, guarded.body.length_mm
    threads = [p.stitching.seam("main-seam").line.line for p in (plain, guarded)]
    at = np.arange(begins + 9, long - 25)
    one, other = (np.interp(at, np.maximum.accumulate(t[:, 1]), t[:, 0]) for t in threads)
    slope = np.gradient(one, at)
    level = np.abs(slope) < 0.1  # elsewhere the thread keeps its distance square to the edge
    assert other[level] - one[level] == pytest.approx(quarter, abs=0.08)
    told = next(k for k in guarded.draft.reckonings if k.key == "toe-guard")
    assert told.number == pytest.approx(quarter, abs=0.01)
    beside = []
    for planned in (plain, guarded):
        sewing = planned.stitching.seam("main-seam").line.sewing
        there = sewing.line[(sewing.line[:, 1] > begins + 9) & (sewing.line[:, 1] < long - 25)]
        beside.append(shapely.distance(shapely.points(there), shapely.Polygon(sewing.keep_off)).mean())
    assert beside[1] == pytest.approx(beside[0], abs=0.15), "the edge is as far from the thread as without it"
    for piece in guarded.draft.piece("toe-guard"), guarded.draft.piece("sheath"):
        assert "drain" in {p.id for p in piece.punches}


@pytest.mark.parametrize("seed", range(12))
def test_a_blade_without_a_belly_is_never_held_however_blunt_its_point(seed: int) -> None:
    rng = np.random.default_rng(seed)
    long, wide, thick = (float(rng.uniform(*k)) for k in ((60, 260), (18, 45), (1.5, 5)))
    n = int(rng.integers(3, 6))
    at, widths = np.linspace(0, rng.uniform(0.72, 0.96) * long, n), wide * np.linspace(1, rng.uniform(0.5, 1), n)
    blade = tuple(
        KnifeStation(
            at_mm=round(float(a), 1), width=read(round(float(w), 1)), thick=read(round(thick * (1 - 0.3 * k / n), 1))
        )
        for k, (a, w) in enumerate(zip(at, widths, strict=True))
    )
    handle = tuple(KnifeStation(at_mm=a, width=read(wide * 0.9), thick=read(min(wide * 0.6, 18))) for a in (5.0, 50.0))
    knife = Knife.blank().model_copy(
        update={"length": read(long), "handle_length": read(110.0), "stations": blade, "handle": handle}
    )
    planned = plan(Job(name="any", thing=knife, piece=FoldedSheath(opened=bool(seed % 2))))
    assert not planned.holds, [f.code for f in planned.holds]
