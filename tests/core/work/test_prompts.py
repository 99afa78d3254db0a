import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import demo, words
from vow_line.core.plan import plan
from vow_line.core.quantity import Units
from vow_line.core.stitch.straight import straight_seam
from vow_line.core.thread import ThreadChoices, sew_plan, sewn_with
from vow_line.core.thread.stitches import STITCHES
from vow_line.core.work.choices import InHand
from vow_line.core.work.prompts import prompts, runs_out, thread_says, time_left


@given(
    st.floats(30, 200),
    st.integers(0, 4),
    st.sampled_from(["first-hole", "third-hole"]),
    st.sampled_from(["left", "right"]),
)
def test_prompts_follow_the_moves(run: float, back: int, start: str, hand: str) -> None:
    choices = ThreadChoices(back_stitches=back, start=start, first_needle=hand)
    sewn = sew_plan(straight_seam(run, 4, 6), choices)
    told = prompts(sewn, choices)
    passes = [m for m in sewn.moves if m.act == "pass"]
    assert [p.hole for p in told] == [m.hole for m in passes]
    assert all(words(p.way) == ("front to back" if p.hand == "right" else "back to front") for p in told)
    assert told[0].hand == hand
    left = [p.thread_left_mm for p in told]
    assert all(b < a for a, b in itertools.pairwise(left))
    assert left[-1] == pytest.approx(sewn.reserve_mm + sewn.spare_mm)
    assert all(runs_out(told, k) is None for k in range(len(told)))
    assert told[-1].holes_left == 0
    for k in range(1, len(told) - 1, 2):
        assert told[k].hole == told[k + 1].hole, "both needles go through a hole before the next"
        assert told[k].how != told[k + 1].how
        assert words(told[k + 1].how) == "below the thread already there"


def test_holes_left_are_the_holes_still_to_come() -> None:
    sewn = plan(demo("spar-knife")).threading.seam("main-seam")  # type: ignore[union-attr]
    told = prompts(sewn, ThreadChoices(second_needle="above"))
    for k, prompt in enumerate(told):
        assert prompt.holes_left == len({p.hole for p in told[k + 1 :]} - {prompt.hole})


def test_a_joined_seam_says_where_to_join() -> None:
    sewn = sew_plan(straight_seam(600, 4, 9), ThreadChoices(reach_mm=900))
    told = prompts(sewn, ThreadChoices())
    joins = [p for p in told if "join a new length" in words(p.then)]
    assert [p.hole for p in joins] != []
    assert len(joins) == len(sewn.cuts) - 1
    assert words(told[-1].then).startswith("pull, trim")


def test_the_time_left_is_what_is_left_at_this_pace() -> None:
    sewn = sew_plan(straight_seam(250, 5, 6), ThreadChoices(back_stitches=0))
    told = prompts(sewn, ThreadChoices())
    assert told[0].to_go_mm == pytest.approx(250)
    assert told[-1].to_go_mm == pytest.approx(0, abs=1e-9)
    assert time_left(told, 1, 25).write(Units()) == "10 min to the end"
    assert np.all(np.diff([p.to_go_mm for p in told]) <= 1e-9)


@pytest.mark.parametrize("name", sorted(STITCHES))
@pytest.mark.parametrize("finish", ["back-stitches", "buried-knot", "overlap"])
def test_every_stitch_prompts_for_every_hole_and_never_runs_out(name: str, finish: str) -> None:
    stitch = STITCHES[name]
    choices = ThreadChoices(stitch=name, butt_stitch=name, finish=finish)
    sewn = sewn_with(stitch, straight_seam(48, 4, 6, 3.5, stitch.sews[0]), choices)
    told = prompts(sewn, choices)
    assert {p.hole for p in told} == ({0, 3, 6, 9, 12} if name == "temporary" else set(range(13)))
    assert all(p.how and p.then for p in told)
    assert all(runs_out(told, k) is None for k in range(len(told)))
    assert words(told[-1].reminds).startswith("trim both ends")


def test_thread_measured_in_hand_says_where_it_runs_out() -> None:
    choices = ThreadChoices()
    sewn = sew_plan(straight_seam(200, 4, 6), choices)
    plain = prompts(sewn, choices)
    k = 40
    short = plain[k].wanted_before_mm / 2 + plain[k].keep_mm
    told = prompts(sewn, choices, InHand(seam="seam", passes=k, mm=short))
    short_at = runs_out(told, k)
    assert short_at is not None
    at, holes = short_at
    assert holes == 51 - at, "from there to the last hole"
    assert told[k - 1].thread_left_mm == plain[k - 1].thread_left_mm, "what was before stands"
    assert told[k].left_before_mm == pytest.approx(short)
    # half of what is wanted takes it half of the way that is left
    assert at == pytest.approx((plain[k].hole + 50) / 2, abs=2)
    assert told[k].thread_left_mm < short
    assert "join at hole" in thread_says(told, k).write(Units())


def test_unwaxed_thread_is_waxed_again_and_the_last_hole_is_left_for_the_knot() -> None:
    from vow_line.core.thread import Thread

    choices = ThreadChoices(thread=Thread(waxed=False), finish="buried-knot")
    told = prompts(sew_plan(straight_seam(300, 4, 6), choices), choices)
    said = [words(p.reminds) for p in told if p.reminds]
    assert said.count("wax the thread again") >= 3
    assert "leave the last hole for the buried knot" in said
    assert words(told[-1].how) == "into the middle of the leather, no farther"
