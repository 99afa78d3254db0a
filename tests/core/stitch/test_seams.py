"""Runs, corners, closed lines, strikes from both faces, and what lies too near."""

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from scipy import integrate

from tests.jobs import demo, words
from tests.plates import plate, seam_line, sewn
from vow_line.core.curve import arc_length, frozen, rounded
from vow_line.core.draft.seam_line import Placed
from vow_line.core.job import change, mend
from vow_line.core.plan import plan
from vow_line.core.steps import take_tool
from vow_line.core.stitch import StitchChoices, stitch
from vow_line.core.stitch.checks import checks
from vow_line.core.stitch.seams import seam_of
from vow_line.core.stitch.tools import USUAL
from vow_line.files.transfer import sheets

ELL = [[0.0, 0.0], [83.0, 0.0], [83.0, 61.0]]


@given(st.floats(0.5, 12))
def test_a_rounded_corner_is_the_arc_of_its_radius(radius: float) -> None:
    """Between straight sides it is a circle: 2 r tan(θ/2) - r θ shorter, every point r from one centre."""
    line = rounded(np.array(ELL), radius, np.array([1]))
    assert arc_length(line)[-1] == pytest.approx(144 - radius * (2 - np.pi / 2), abs=2e-3 * radius)
    centre = np.array([83 - radius, radius])
    arc = line[(line[:, 0] > 83 - radius - 1e-9) & (line[:, 1] < radius + 1e-9)]
    assert np.hypot(*(arc - centre).T) == pytest.approx(radius, rel=1e-6)


def test_an_iron_that_does_not_come_out_is_mended_by_rounding_the_corner() -> None:
    choices = StitchChoices(pitch_mm=4.0, start_in_mm=3, end_in_mm=3)
    found = next(
        f
        for f in stitch(sewn(plate(), ELL), choices).findings
        if f.mends and any("round" in words(m.label) for m in f.mends)
    )
    ((path, radius),) = next(m for m in found.mends if "round" in words(m.label)).changes
    assert path == "stitch.round_mm"
    after = seam_of(seam_line(ELL), choices.model_copy(update={"round_mm": radius}))
    assert after.left_mm == pytest.approx(0, abs=0.02)
    assert np.hypot(*np.diff(after.points, axis=0).T)[:18] == pytest.approx(4.0, abs=1e-6)
    assert after.corner == ()


@given(st.floats(12, 90), st.floats(2.5, 7), st.sampled_from(["iron", "wheel", "awl", "drill"]))
def test_a_closed_line_closes_on_itself(radius: float, pitch: float, tool: str) -> None:
    """A disc: n = round(L/p) holes, as far from the last to the first as anywhere; L by SciPy's quadrature."""
    around, _ = integrate.quad(lambda _: radius, 0, 2 * np.pi)
    turn = np.linspace(0, 2 * np.pi, 721)[:-1]
    disc = radius * np.column_stack([np.cos(turn), np.sin(turn)])
    seam = seam_of(seam_line(disc, closed=True), StitchChoices(pitch_mm=pitch, tool=tool, teeth=(4, 2)))
    assert len(seam.points) == round(np.pi / np.arcsin(pitch / 2 / radius) if tool == "iron" else around / pitch)
    assert seam.order == (*range(len(seam.points)), 0)
    gaps = np.hypot(*np.diff(seam.points[list(seam.order)], axis=0).T)
    assert np.ptp(gaps) < (0.32 if tool == "iron" else 1e-2)
    if seam.strikes:
        covered = [h % len(seam.points) for k in seam.strikes for h in range(k.first, k.first + k.teeth)]
        assert set(covered) == set(range(len(seam.points)))
        assert sum(k.fresh for k in seam.strikes) == len(seam.points), "the last tooth falls into the first hole"


@given(st.floats(20, 80), st.integers(5, 200), st.floats(3, 6), st.floats(-0.04, 0.04), st.booleans())
def test_a_closed_line_gives_its_partner_as_many_holes_evenly(
    radius: float, corners: int, pitch: float, longer: float, straight: bool
) -> None:
    """A disc drawn with so many points, and the edge of the tube round it, laid out straight or as a ring: by hand, the tube's
    length over the count is its pitch, and it is longer by what it was made longer.
    """
    turn = 2 * np.pi * np.arange(corners) / corners
    disc = radius * np.column_stack([np.cos(turn), np.sin(turn)])
    around = corners * 2 * radius * np.sin(np.pi / corners)
    wanted = around * (1 + longer)
    ring = np.vstack([disc, disc[:1]]) * (1 + longer)
    tube = frozen([[0.0, 0.0], [wanted, 0.0]]) if straight else frozen(ring)
    line = seam_line(disc, placed=(Placed("disc"), Placed("tube", along=tube)), closed=True)
    seam = seam_of(line, StitchChoices(pitch_mm=pitch, tool="awl"))
    n = len(seam.points)
    assert seam.eased == pytest.approx(longer, abs=1e-9)
    if straight:
        assert seam.on(1)[:, 0] == pytest.approx(seam.s_mm * wanted / around)
        if corners > 60:  # no corner is sharp enough for a hole of its own
            assert np.diff(seam.on(1)[:, 0]) == pytest.approx(wanted / n)


def test_a_stack_too_thick_is_marked_from_both_faces_or_drilled() -> None:
    job = demo("billhook-cover")
    found = next(f for f in plan(job).findings if f.code == "stack-too-thick")
    assert [words(m.label) for m in found.mends] == ["mark both faces", "drill them"]
    for cure in found.mends:
        assert not [f for f in plan(mend(job, cure)).findings if f.code == "stack-too-thick"]
    iron = change(change(job, "stitch.tool", "iron"), "stitch.teeth", (6, 2, 1))
    one, both = (
        plan(change(iron, "stitch.through", t)).stitching.seam("edge-seam") for t in ("one-face", "both-faces")
    )
    assert len(both.strikes) < len(one.strikes), "half the stack takes more teeth at once"


def test_a_tool_of_the_workshop_brings_its_pitch_and_teeth() -> None:
    job = take_tool(demo("laying-knife"), tool=next(t for t in USUAL if t.name == "irons, no 8"))
    assert job.stitch.pitch_mm == pytest.approx(27.07 / 8)
    assert job.stitch.teeth == (8, 4, 2)
    assert plan(job).stitching.seam("main-seam").pitch_mm == pytest.approx(27.07 / 8, abs=0.01)
    drilled = take_tool(job, tool=next(t for t in USUAL if t.tool == "drill"))
    assert drilled.stitch.pitch_mm == job.stitch.pitch_mm
    assert not plan(drilled).stitching.seam("main-seam").strikes


def test_an_iron_that_drifts_is_set_anew_before_a_quarter_pitch() -> None:
    job = change(demo("laying-knife"), "stitch.error_mm", 0.2)
    found = next(f for f in plan(job).findings if f.code == "iron-drifts")
    mended = mend(job, found.mend)
    assert mended.stitch.mark_every * 0.2 <= 1.0 + 1e-9
    seam = plan(mended).stitching.seam("main-seam")
    told = next(r for r in plan(mended).stitching.reckonings if r.key == "main-seam/drift")
    assert told.number == pytest.approx(0.2 * (len(seam.points) - 1))


def test_marks_keep_both_edges_in_step() -> None:
    planned = plan(demo("secateurs-holster"))
    from vow_line.core.stitch.pattern import pattern

    seam = planned.stitching.seam("round-seam")
    for k, name in ((0, "front"), (2, "back")):
        marks = next(m for m in pattern(planned.draft.piece(name), planned.stitching) if m.id == "round-seam/marks")
        assert len(marks.line) == 2 * (len(seam.points) // 10)
        for number, tick in enumerate(marks.line.reshape(-1, 2, 2), 1):
            hole = seam.on(k)[10 * number - 1]
            assert shapely.LineString(tick).distance(shapely.Point(hole)) == pytest.approx(1.4, abs=0.05)


def test_sharing_a_remainder_between_both_ends_leaves_none_and_loses_no_stitch() -> None:
    shared = 0
    for start_in_mm in np.arange(4, 7, 0.23).round(2):
        job = change(change(demo("laying-knife"), "stitch.remainder", "end"), "stitch.start_in_mm", start_in_mm)
        planned = plan(job)
        for finding in planned.stitching.findings:
            if finding.mend and words(finding.mend.label).startswith("share it"):
                seam = next(s for s in planned.stitching.seams if words(s.title) in finding.says.write(job.units))
                after = plan(mend(job, finding.mend)).stitching.seam(seam.id)
                assert after.left_mm < 0.16 < seam.left_mm
                assert len(after.points) == len(seam.points)
                shared += 1
    assert shared > 5


def test_the_transfer_sheet_is_the_other_face_of_every_sewn_piece() -> None:
    planned = plan(demo("spar-knife"))
    seam = planned.stitching.seam("main-seam")
    by_title = {words(p.title): (p, marks) for p, marks in sheets(planned)}
    assert set(by_title) == {f"{n}, its other face" for n in ("sheath", "welt", "belt loop")}
    piece, marks = by_title["sheath, its other face"]
    assert piece.side_up == "flesh"
    holes = np.concatenate([m.line for m in marks if m.meaning == "hole" and m.id == "main-seam"])
    front = seam.on(0) * [-1, 1]
    apart = np.hypot(*(holes[:, None] - front[None]).transpose(2, 0, 1))
    assert (apart.min(axis=0) < 1e-9).all()


@given(
    st.sampled_from(["laying-knife", "secateurs-holster", "whetstone-case", "key-fob", "billhook-cover"]), st.floats(2.5, 6),
    st.sampled_from([(6, 2, 1), (8, 4), (4,), (3, 1)]), st.sampled_from(["end", "spread"]), st.floats(0, 8),
    st.sampled_from(["one-face", "both-faces"]),
)  # fmt: skip
def test_rigid_prongs_make_every_hole_once_and_find_their_own(
    name: str, pitch: float, teeth: tuple[int, ...], remainder: str, round_mm: float, through: str
) -> None:
    """A prong laid on each strike: its teeth in line, one pitch apart, each at its hole; the first may be set off its own."""
    more = {"pitch_mm": pitch, "teeth": teeth, "remainder": remainder, "round_mm": round_mm, "through": through}
    job = demo(name)
    choices = job.stitch.plain.model_copy(update={**more, "tool": "iron"})
    for seam in (seam_of(line, choices) for line in plan(job).draft.seams):  # type: ignore[union-attr]
        if seam.line.shape == "butt":
            continue
        made: set[int] = set()
        for strike in seam.strikes:
            holes = [seam.order[k] for k in range(strike.first, strike.first + strike.teeth)]
            assert strike.fresh == len(set(holes) - made) > 0, "none is made twice"
            assert [h in made for h in holes[: strike.old]] == [True] * strike.old
            made |= set(holes)
            if strike.teeth == 1:
                continue
            at = seam.points[holes]
            prong = (at[-1] - at[0]) / np.hypot(*(at[-1] - at[0]))
            along = (at - at[-1]) @ prong + pitch * np.arange(strike.teeth - 1, -1, -1)
            across = (at - at[-1]) @ [-prong[1], prong[0]]
            assert np.abs(across).max() <= 0.3 + 1e-6
            assert np.abs(along[1:]).max() <= 0.16
            assert abs(along[0]) <= (0.46 if strike.old == 1 else 0.16)
        assert made == set(range(len(seam.points)))


@pytest.mark.parametrize(("pitch", "fits"), [(4.0, True), (4.03, True), (5.1, False)])
def test_a_box_made_with_an_iron_keeps_its_pitch_or_says_that_it_cannot(pitch: float, fits: bool) -> None:
    """Sides of 24 and 32 and diagonals of 40, which an odd number of stitches of 4 mm misses: by hand, 9 or 11."""
    box = seam_line([[0, 0], [24, 0], [24, 32], [0, 32]])
    box = replace(box, shape="box")
    choices = StitchChoices(pitch_mm=pitch, tool="iron", teeth=(6, 1))
    seam = seam_of(box, choices)
    sides = [r for r in seam.runs if r.run_mm < 39]
    assert [r.as_asked for r in sides] == [fits] * 4
    assert seam.teeth
    assert sum(k.fresh for k in seam.strikes) == len(seam.points)
    found = [f for f in checks(seam, choices) if f.code == "iron-does-not-fit"]
    assert len(found) == len({round(r.run_mm, 1) for r in seam.runs if not r.as_asked})
    wheel = seam_of(box, choices.model_copy(update={"tool": "wheel"}))
    passes = max(abs(r.changed) for r in wheel.runs) <= 0.06
    assert all([m.changes[0][0] for m in f.mends] == ["stitch.of/seam/tool"] * passes for f in found), "no new fault"


@given(st.floats(12, 80), st.floats(0.25, 1.0), st.floats(2.5, 5.0))
def test_no_holes_of_a_box_lie_nearer_than_half_a_stitch(long: float, share: float, pitch: float) -> None:
    """All pairs; of a box wider than its diagonals at 30 degrees none is left out, and its four corners are always there."""
    wide = max(long * share, 2.5 * pitch)
    box = replace(seam_line([[0, 0], [long, 0], [long, wide], [0, wide]]), shape="box")
    seam = seam_of(box, StitchChoices(tool="awl", pitch_mm=pitch))
    step = np.hypot(*np.diff(seam.points[list(seam.order)], axis=0).T)
    apart = np.hypot(*(seam.points[:, None] - seam.points[None]).transpose(2, 0, 1))
    assert apart[np.triu_indices(len(apart), 1)].min() > 0.45 * np.median(step)
    assert {(0.0, 0.0), (long, 0.0), (long, wide), (0.0, wide)} <= {tuple(p) for p in seam.points.tolist()}
    if min(wide, long) / max(wide, long) > 0.75:
        assert step.max() < 1.5 * np.median(step)
    assert step.max() < 3.0 * np.median(step)


@pytest.mark.parametrize("cut_by", [0.0, 1.0, 1.7, 2.0, 4.0])
def test_a_thread_that_comes_nearer_to_the_edge_than_was_asked_is_said(cut_by: float) -> None:
    """Round the corner of what is kept off, 5 mm from it, rounded so that by pencil it cuts the corner by r (√2 - 1)."""
    kept = np.array([[0.0, 0.0], [80.0, 0.0], [80.0, -60.0], [0.0, -60.0]])
    line = seam_line([[-10, 5], [85, 5], [85, -50]])
    sewing = replace(line.sewing, keep_off=frozen(kept), keep_off_mm=1.0, asked_off_mm=5.0, kept_off_mm=5.0)
    choices = StitchChoices(tool="awl", pitch_mm=1.0, round_mm=cut_by / (np.sqrt(2) - 1))
    seam = seam_of(replace(line, sewing=sewing), choices)
    nearest = float(shapely.LineString(seam.points).distance(shapely.Polygon(kept)))
    found = [f for f in checks(seam, choices) if f.code == "thread-nearer"]
    assert nearest == pytest.approx(min(5.0, 5.0 * np.sqrt(2) - cut_by), abs=0.1)
    assert bool(found) is (nearest < 5.0 - 0.75)


def test_a_pitch_that_a_box_changes_too_far_is_said() -> None:
    box = replace(seam_line([[0, 0], [10, 0], [10, 10], [0, 10]]), shape="box")
    choices = StitchChoices(pitch_mm=4.0, tool="awl")
    assert "pitch-changed" in {f.code for f in checks(seam_of(box, choices), choices)}, (
        "10 mm are two stitches of 5 or three of 3.3"
    )
