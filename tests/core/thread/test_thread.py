import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import plain_job
from vow_line.core.job import change
from vow_line.core.plan import plan
from vow_line.core.stitch.straight import straight_seam
from vow_line.core.thread import Slack, Thread, ThreadChoices, sew_plan
from vow_line.core.thread.moves import Move, Path
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


@given(st.lists(st.integers(0, 30), min_size=2, max_size=40), st.integers(0, 3), st.sampled_from(["left", "right"]))
def test_every_move_begins_where_the_needle_is(order: list[int], loops: int, hand: str) -> None:
    moves = list(STITCHES["saddle"].moves(Path(tuple(order), loops, hand)))  # type: ignore[arg-type]
    at: dict[int, tuple[int, str]] = {}
    for move in moves:
        hole, face = at.get(move.needle, (order[0], move.face))
        assert (move.hole, move.face) == (hole, face)
        other = "back" if move.face == "front" else "front"
        at[move.needle] = (move.to, move.face if move.act == "run" else other)
    assert {h for h, _ in at.values()} == {order[-1]} or len(at) == 1
    faces = {f for _, f in at.values()}
    assert len(faces) == 2 or len(at) == 1, "one needle ends at the front, the other at the back"


@given(st.lists(st.integers(0, 30), min_size=2, max_size=40))
def test_both_needles_pass_every_hole_but_the_first(order: list[int]) -> None:
    moves: list[Move] = list(STITCHES["saddle"].moves(Path(tuple(order))))
    for needle in (0, 1):
        own = [m.hole for m in moves if m.act == "pass" and m.needle == needle]
        assert own[-(len(order) - 1) :] == order[1:]
    assert len([m for m in moves if m.act == "pass"]) == 2 * len(order) - 1


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
        seam, _bare(back_stitches=back, start="third hole" if third else "first hole", edge_loops=loops)
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
        assert left.min() >= cut.reserve_mm - 1e-6


def test_a_short_spool_an_unknown_stitch_and_a_thread_too_thick_are_found() -> None:
    job = change(plain_job(), "thread.thread.left_mm", 100.0)
    job = change(job, "thread.stitch", "no such stitch")
    job = change(job, "thread.thread.diameter_mm", 2.0)
    assert {"spool-short", "stitch-unknown", "thread-for-pitch"} <= {f.code for f in plan(job).findings}
