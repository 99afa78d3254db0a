import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import demo, plain_job, words
from tests.plates import seam_line
from vow_line.core.job import change, mend, sew_in
from vow_line.core.plan import plan
from vow_line.core.quantity import Units
from vow_line.core.stitch import StitchChoices
from vow_line.core.stitch.seams import seam_of
from vow_line.core.stitch.straight import straight_seam
from vow_line.core.thread import Slack, Thread, ThreadChoices, sew_plan
from vow_line.core.thread.moves import Course
from vow_line.core.thread.stitches import STITCHES


def _bare(**more: object) -> ThreadChoices:
    """No bends, no give, no slack: the path alone."""
    told = {
        "thread": Thread(diameter_mm=1e-9),
        "compression": 0.0,
        "back_stitches": 0,
        "slack": Slack(value=0.0),
        "reach_mm": 5000,
    }
    return ThreadChoices(**{**told, **more})


@given(
    st.sampled_from(sorted(STITCHES)), st.integers(2, 40), st.integers(0, 3), st.integers(0, 4), st.booleans(), st.booleans(),
    st.sampled_from(["left", "right"]),
)  # fmt: skip
def test_every_move_begins_where_the_needle_is(
    name: str, holes: int, loops: int, back: int, third: bool, bury: bool, hand: str
) -> None:
    order = tuple(range(holes))
    path = Course(order, loops, holes, hand, min(back, holes - 1), third, bury)  # type: ignore[arg-type]
    stitch = STITCHES[name]
    at: dict[int, tuple[int, str]] = {}
    for move in stitch.moves(path):
        hole, face = at.get(move.needle, (move.hole, move.face))
        assert (move.hole, move.face) == (hole, face)
        at[move.needle] = (move.to, move.ends_on)
    assert set(at) == set(range(stitch.needles))


@given(st.integers(2, 40), st.integers(0, 4), st.booleans(), st.sampled_from(["left", "right"]))
def test_saddle_ends_with_its_needles_where_the_finish_says(holes: int, back: int, bury: bool, hand: str) -> None:
    back = 0 if bury else min(back, holes - 1)
    path = Course(tuple(range(holes)), 0, holes, hand, back, bury=bury)  # type: ignore[arg-type]
    moves = list(STITCHES["saddle"].moves(path))
    last = {m.needle: m for m in moves}
    assert {m.to for m in last.values()} == {holes - 1 - back}
    assert {m.ends_on for m in last.values()} == {"front", "back"}
    assert {m.act for m in last.values()} == ({"tie"} if bury else {"pass"})
    begin = moves[0]
    assert begin.hand == hand


@pytest.mark.parametrize("name", ["saddle", "running-down-and-back", "double-running", "awl-lockstitch"])
@pytest.mark.parametrize("holes", [2, 7, 12])
def test_thread_lies_once_on_either_face_of_every_stitch(name: str, holes: int) -> None:
    runs = [m for m in STITCHES[name].moves(Course(tuple(range(holes)), 0, holes)) if m.act == "run"]
    lying = sorted((min(m.hole, m.to), m.face) for m in runs)
    assert lying == sorted((k, face) for k in range(holes - 1) for face in ("back", "front"))


@given(st.floats(20, 400), st.floats(2, 8), st.floats(1, 20), st.floats(0.01, 8))
def test_a_thicker_stack_never_needs_less(run: float, pitch: float, stack: float, more: float) -> None:
    thin = sew_plan(straight_seam(run, pitch, stack), ThreadChoices())
    thick = sew_plan(straight_seam(run, pitch, stack + more), ThreadChoices())
    assert thick.total_mm > thin.total_mm


@given(st.integers(0, 6), st.booleans(), st.integers(0, 3))
def test_starts_backs_and_loops_add_what_they_sew(back: int, third: bool, loops: int) -> None:
    seam = straight_seam(80, 4, 6, margin_mm=3.5)
    plain = sew_plan(seam, _bare()).path_mm
    got = sew_plan(
        seam, _bare(back_stitches=back, start="third-hole" if third else "first-hole", edge_loops=loops)
    ).path_mm
    per_stitch = 2 * (4 + 6)
    assert got == pytest.approx(plain + per_stitch * (back + 2 * third) + loops * (2 * 3.5 + 6 + 6))


def test_a_length_beyond_reach_is_cut_in_equal_parts_that_join() -> None:
    seam = straight_seam(600, 4, 9)
    whole = sew_plan(seam, ThreadChoices(reach_mm=5000))
    parts = sew_plan(seam, ThreadChoices(reach_mm=1000))
    assert len(parts.cuts) > 2
    assert max(c.total_mm for c in parts.cuts) <= 2000
    assert [c.to_hole for c in parts.cuts[:-1]] == [c.from_hole for c in parts.cuts[1:]]
    assert parts.total_mm > whole.total_mm
    totals = [c.path_mm for c in parts.cuts]
    assert np.ptp(totals) < 0.25 * max(totals)


@given(st.floats(150, 900), st.floats(2.5, 5), st.floats(2, 12), st.floats(500, 2000), st.booleans(), st.sampled_from(
    ["saddle", "double-running", "whip", "awl-lockstitch"]))  # fmt: skip
def test_no_more_joins_than_reach_wants(
    run: float, pitch: float, stack: float, reach: float, doubled: bool, stitch: str
) -> None:
    """So many lengths less one could not hold what all of them take."""
    seam = straight_seam(run, pitch, stack)
    sewn = sew_plan(seam, ThreadChoices(reach_mm=reach, doubled=doubled, stitch=stitch))
    needles = sewn.stitch.thread_of.count(0) * (2 if doubled else 1)
    taken = [(c.thread_mm[0] - c.reserve_mm / sewn.stitch.threads) / needles for c in sewn.cuts]
    keeps = sewn.cuts[0].reserve_mm / sewn.stitch.threads / needles
    if len(sewn.cuts) > 1:
        assert max(taken) + keeps <= reach
        a_stitch = max(sum(taken) / (run / pitch), 1)
        assert sum(taken) > (len(sewn.cuts) - 1) * (reach - keeps - 5 * a_stitch), (
            "a join's back stitches, and whole stitches"
        )


def test_a_school_runs_out_at_the_hole_where_its_thread_ends() -> None:
    seam = straight_seam(200, 4, 9)
    sewn = sew_plan(seam, ThreadChoices())
    used = np.cumsum(sewn.cuts[0].move_mm) * 1.03 + sewn.reserve_mm
    for school in sewn.schools:
        assert school.length_mm == pytest.approx(school.times * 200)
        short = used > school.length_mm
        if school.runs_out_at is None:
            assert not short.any()
            assert school.left_mm >= 0
        else:
            assert sewn.cuts[0].moves[int(np.argmax(short))].to == school.runs_out_at


@given(st.floats(60, 300), st.floats(2, 6), st.floats(2, 12))
def test_the_thread_cut_never_runs_out(run: float, pitch: float, stack: float) -> None:
    sewn = sew_plan(straight_seam(run, pitch, stack), ThreadChoices(reach_mm=700))
    for cut in sewn.cuts:
        left = cut.total_mm - np.cumsum(cut.move_mm) * 1.03
        assert left.min() >= cut.reserve_mm + cut.spare_mm - 1e-6


def test_a_short_spool_an_unknown_stitch_and_a_thread_too_thick_are_found() -> None:
    job = change(plain_job(), "thread.thread.left_mm", 100.0)
    job = change(job, "thread.stitch", "no such stitch")
    job = change(job, "thread.thread.diameter_mm", 2.0)
    assert {"spool-short", "stitch-unknown", "thread-for-pitch"} <= {f.code for f in plan(job).findings}


@pytest.mark.parametrize("sure", [0.5, 0.8, 0.95, 0.99])
def test_what_is_cut_is_enough_as_often_as_was_asked(sure: float) -> None:
    """Stack, pitch and slack drawn at random a hundred thousand times, the thread they take against what was cut."""
    rng = np.random.default_rng(7)
    choices = ThreadChoices(
        sure=sure, stack_spread=0.06, pitch_spread=0.02, slack=Slack(value=0.03, spread=0.04), reach_mm=5000
    )
    sewn = sew_plan(straight_seam(200, 4, 8), choices)
    along = sum(float(c.move_mm[[m.act == "run" for m in c.moves]].sum()) for c in sewn.cuts)
    through = sewn.path_mm - along
    stack, pitch, slack = (rng.normal(0, s, 100_000) for s in (0.06, 0.02, 0.04))
    takes = (through * (1 + stack) + along * (1 + pitch)) * 1.03 * np.exp(slack)
    assert (takes <= sewn.total_mm - sewn.reserve_mm).mean() == pytest.approx(sure, abs=0.006)


def test_a_join_by_overlap_lays_the_new_thread_beside_the_old() -> None:
    seam = straight_seam(600, 4, 9)
    sewn = sew_plan(seam, ThreadChoices(reach_mm=1000, join="overlap"))
    for old, new in zip(sewn.cuts, sewn.cuts[1:], strict=False):
        assert old.to_hole - new.from_hole == 3
        assert new.moves[0].hole == new.from_hole
        assert old.moves[-1].to == old.to_hole, "no back stitches where the old one ends"
    back = sew_plan(seam, ThreadChoices(reach_mm=1000))
    assert all(c.moves[-1].to == c.to_hole - 3 for c in back.cuts[:-1])


def test_joins_keep_off_corners_and_ends() -> None:
    planned = plan(change(demo("key-fob").model_copy(update={"vows": ()}), "thread.reach_mm", 250.0))
    for sewn in planned.threading.seams:  # type: ignore[union-attr]
        off = [*sewn.seam.corner, sewn.seam.order[0], sewn.seam.order[-1]]
        for cut in sewn.cuts[:-1]:
            assert min(abs(cut.to_hole - c) for c in off) >= 4


@pytest.mark.parametrize(
    ("code", "changes"),
    [
        ("needle-for-hole", {"thread.needle_thick_mm": 2.2}),
        ("thread-for-hole", {"thread.thread.diameter_mm": 0.9, "thread.doubled": True, "stitch.hole_mm": 0.9}),
        ("thread-stretches", {"thread.thread.material": "nylon"}),
        ("ends-do-not-melt", {"thread.ends": "melted"}),
        ("knot-shows", {"thread.finish": "buried-knot", "leather.thickness_mm": 1.0, "piece.welt_mm": 0.5}),
        ("knot-needs-two-ends", {"thread.finish": "buried-knot", "thread.stitch": "running-down-and-back"}),
        ("length-past-reach", {"thread.reach_mm": 200.0}),
    ],
)
def test_what_will_not_pair_is_said(code: str, changes: dict[str, object]) -> None:
    plain = plain_job()
    job = plain
    for path, value in changes.items():
        job = change(job, path, value)
    assert code not in {f.code for f in plan(plain).findings}
    found = next(f for f in plan(job).findings if f.code == code)
    if found.mend:
        assert code not in {f.code for f in plan(mend(job, found.mend)).findings}


def test_a_seam_may_have_a_stitch_and_a_thread_of_its_own() -> None:
    job = demo("laying-knife")
    red = Thread(name="red linen", colour="red", diameter_mm=0.6, left_mm=500, price_m=0.2)
    own = sew_in(
        sew_in(job, seam="belt-loop", field="thread", value=red), seam="main-seam", field="stitch", value="whip"
    )
    planned, plain = plan(own), plan(job)
    main, loop = (planned.threading.seam(n) for n in ("main-seam", "belt-loop"))
    assert (main.stitch.id, main.thread) == ("whip", job.thread.thread)
    assert (loop.stitch.id, loop.thread) == ("saddle", red)
    assert loop.path_mm < plain.threading.seam("belt-loop").path_mm, "thinner thread bends less"
    spools = {words(r.name): r for r in planned.threading.reckonings if r.key.startswith("thread/spool/")}
    assert spools["Of red red linen"].number == pytest.approx(loop.total_mm)
    assert sum(r.number for r in spools.values()) == pytest.approx(planned.threading.total_mm)
    short = next(f for f in planned.findings if f.code == "spool-short")
    place = own.thread.own.index(next(o for o in own.thread.own if o.thread))
    assert short.at == f"thread.own.{place}.thread.left_mm"
    assert "spool-short" not in {f.code for f in plan(change(own, short.at, 5000.0)).findings}
    back = sew_in(own, seam="main-seam", field="stitch", value="saddle")
    assert [o.seam for o in back.thread.own] == ["belt-loop"], "what the others have is not its own"
    wrong = plan(sew_in(job, seam="belt-loop", field="stitch", value="whip"))
    assert "cannot be sewn with the stitch whip" in next(
        f for f in wrong.findings if f.code == "stitch-unknown"
    ).says.write(Units())


@pytest.mark.parametrize("name", ["laying-knife", "billhook-cover", "slasher-grip", "turf-knife", "key-fob"])
@pytest.mark.parametrize("stitch", sorted(STITCHES))
def test_a_choice_is_offered_where_it_changes_something_and_nowhere_else(name: str, stitch: str) -> None:
    for seam in plan(demo(name)).stitching.seams:  # type: ignore[union-attr]
        if seam.line.shape not in STITCHES[stitch].sews:
            continue
        for reach in (5000.0, 700.0):
            choices = ThreadChoices(reach_mm=reach, stitch=stitch, butt_stitch=stitch)
            sewn = sew_plan(seam, choices)
            for field, other in (("start", "third-hole"), ("edge_loops", 2), ("back_stitches", 3), ("join", "overlap")):
                changed = sew_plan(seam, choices.model_copy(update={field: other})).moves != sewn.moves
                assert changed == (field in sewn.offers), (seam.id, field)
            ends = {sew_plan(seam, choices.model_copy(update={"finish": f})).moves for f in ("overlap", "buried-knot")}
            assert ("finish" in sewn.offers) == (ends != {sewn.moves})


def test_a_closed_seam_that_overlaps_goes_on_over_its_first_stitches() -> None:
    turn = np.linspace(0, 2 * np.pi, 121)[:-1]
    seam = seam_of(seam_line(30 * np.column_stack([np.cos(turn), np.sin(turn)]), closed=True), StitchChoices())
    for stitch in ("saddle", "double-running", "whip", "awl-lockstitch"):
        sewn = sew_plan(seam, ThreadChoices(stitch=stitch, finish="overlap", reach_mm=5000))
        for needle in range(sewn.stitch.needles):
            way = [m.to for m in sewn.moves if m.needle == needle and m.act in ("run", "edge")]
            n = len(seam.points)
            on = [0, 1, 2, 3] if way[0] == 1 or needle == 0 else [0, n - 1, n - 2, n - 3]
            assert way[-4:] == on, (stitch, needle)


def test_a_closed_seam_in_several_lengths_goes_on_over_its_first_stitches_too() -> None:
    turn = np.linspace(0, 2 * np.pi, 121)[:-1]
    seam = seam_of(seam_line(60 * np.column_stack([np.cos(turn), np.sin(turn)]), closed=True), StitchChoices())
    sewn = sew_plan(seam, ThreadChoices(finish="overlap", reach_mm=700))
    assert len(sewn.cuts) > 1
    way = [m.to for m in sewn.cuts[-1].moves if m.needle == 0 and m.act == "run"]
    assert way[-4:] == [0, 1, 2, 3]


@given(st.integers(0, 4), st.integers(0, 4))
def test_loops_over_the_edge_lie_at_either_mouth(start: int, end: int) -> None:
    """The order of a saddle stitcher's holes, and of the loops in them, counted."""
    course = Course(tuple(range(9)), start, 9, "left", 2, end_loops=end)
    moves = list(STITCHES["saddle"].moves(course))
    assert [m.hole for m in moves if m.act == "edge"] == [0] * start + [8] * end
    after = [
        m.hole for m in moves[max((k for k, m in enumerate(moves) if m.act == "edge"), default=0) :] if m.act == "pass"
    ]
    if end:
        assert after == [8, 7, 7, 6, 6], "before the back stitches"


def test_holes_that_zigzag_leaves_empty_are_said() -> None:
    job = change(demo("slasher-grip").model_copy(update={"vows": ()}), "thread.butt_stitch", "zigzag")
    planned = plan(job)
    says = next(words(f.says) for f in planned.findings if f.code == "holes-stay-empty")
    last = len(planned.threading.seams[0].seam.points)  # type: ignore[union-attr]
    odd, even = (last, last - 1) if last % 2 else (last - 1, last)
    assert f"only holes 1, 3 … {odd} of the left and 2, 4 … {even} of the right" in says
    assert "holes-stay-empty" not in {f.code for f in plan(demo("slasher-grip")).findings}


def test_a_seam_without_two_ends_to_tie_ends_with_back_stitches_and_says_so() -> None:
    for stitch, level in (("whip", "look"), ("saddle", None)):
        job = change(change(demo("laying-knife"), "thread.stitch", stitch), "thread.finish", "buried-knot")
        planned = plan(job)
        found = [f.level for f in planned.findings if f.code == "knot-needs-two-ends"]
        main = planned.threading.seam("main-seam")  # type: ignore[union-attr]
        assert main.finish == ("buried-knot" if level is None else "back-stitches")
        assert found == ([] if level is None else ["note"]), "the box of its belt loop is saddle stitched"
        assert (main.cuts[-1].course.back > 0) == (level is not None)


@pytest.mark.parametrize("name", ["laying-knife", "turf-knife", "key-fob", "slasher-grip", "grafting-knife"])
def test_the_terms_of_the_sum_add_up_as_they_are_read(name: str) -> None:
    """Bare numbers stand in the unit that is shown, cm or m."""
    planned = plan(demo(name))
    for sewn in planned.threading.seams:  # type: ignore[union-attr]
        found = {r.key: r for r in planned.sums("thread")}
        terms, whole = words(found[f"{sewn.seam.id}/thread"].sum).split(": ")
        numbers = [float(x) for x in re.findall(r"[\d.]+", terms)]
        assert len(numbers) == 5
        assert sum(numbers) == pytest.approx(float(whole.split()[0]), abs=0.03 if whole.endswith(" m") else 0.3)
        low, high, unit = re.findall(r"([\d.]+) to ([\d.]+) (c?m)", words(found[f"{sewn.seam.id}/range"].value))[0]
        middle = (sewn.path_mm + sewn.slack_mm) / (1000 if unit == "m" else 10)
        assert (float(low) + float(high)) / 2 == pytest.approx(middle, rel=0.02)
