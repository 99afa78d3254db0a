import itertools
import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import as_chosen, demo, job_of, mended, words
from tests.many import ALL
from vow_line.core.draft.kind import KindOfPiece
from vow_line.core.draft.kinds import KINDS
from vow_line.core.plan import plan
from vow_line.core.quantity import Units
from vow_line.core.stitch.straight import straight_seam
from vow_line.core.thread import SewnSeam, ThreadChoices, sew_plan, sewn_with
from vow_line.core.thread.stitches import STITCHES
from vow_line.core.work.choices import InHand
from vow_line.core.work.prompts import Prompt, eye_says, prompts, runs_out, thread_says, time_left


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
    last = [p for p in told if p.hole == told[-1].hole]
    before = [p for p in told if p.hole == told[-3].hole]
    assert any("through its own face only" in words(p.reminds) for p in before), "said while it can still be heeded"
    assert [words(p.how) for p in last] == ["through its own face only, and out between the layers"] * 2
    assert "reef knot" in words(told[-1].then)
    assert len(said) >= 4


EVERY = [(n, r) for n in sorted(STITCHES) for r in (5000, 900)]


def _sewn(name: str, reach: float, **more: object) -> tuple[SewnSeam, tuple[Prompt, ...]]:
    stitch = STITCHES[name]
    choices = ThreadChoices(reach_mm=reach, **more)
    sewn = sewn_with(stitch, straight_seam(500, 4, 6, 3.5, stitch.sews[0]), choices)
    return sewn, prompts(sewn, choices)


@pytest.mark.parametrize(("name", "reach"), EVERY)
def test_the_time_to_the_end_is_that_of_the_whole_seam_however_many_lengths_it_takes(name: str, reach: float) -> None:
    sewn, told = _sewn(name, reach)
    assert len(sewn.cuts) > 1 or reach == 5000
    to_go = [p.to_go_mm for p in told]
    assert to_go[0] == pytest.approx(500, rel=0.03)
    assert np.all(np.diff(to_go) <= 1e-9)
    assert to_go[-1] == pytest.approx(0, abs=20)
    half = next(p for p in told if p.to_go_mm <= 250)
    share = sum(m.act in ("run", "edge") for m in sewn.moves[: half.move]) / sum(
        m.act in ("run", "edge") for m in sewn.moves
    )
    assert share == pytest.approx(0.5, abs=0.03), "half of the runs"


@pytest.mark.parametrize(("name", "reach"), EVERY)
def test_what_the_rest_is_wanted_for_are_the_holes_this_thread_still_goes_into(name: str, reach: float) -> None:
    _, told = _sewn(name, reach)
    for k in range(0, len(told), 7):
        holes = {p.hole for p in told[k:] if p.length == told[k].length}
        says = thread_says(told, k).write(Units())
        assert says.startswith(
            f"{len(holes)} hole{'s' if len(holes) > 1 else ''} want{'s' if len(holes) == 1 else ''} "
        )
        assert says.endswith("enough")


@pytest.mark.parametrize("name", sorted(STITCHES))
@pytest.mark.parametrize("back", [0, 1, 3])
def test_back_stitches_are_announced_once_when_they_come_and_as_many_as_there_are(name: str, back: int) -> None:
    """Against the passes counted: after it, this thread goes through so many holes again, and into no new one."""
    sewn, told = _sewn(name, 5000, back_stitches=back)
    takes = "back-stitches" in sewn.stitch.takes and back > 0
    for thread in range(sewn.stitch.threads):
        own = [p for p in told if p.length == thread]
        at = [k for k, p in enumerate(own) if "to come" in words(p.reminds)]
        assert len(at) == takes, (name, back)
        if takes:
            rest = own[at[0] + 1 :]
            assert words(own[at[0]].reminds) == f"{back} back stitch{'es' if back > 1 else ''} to come"
            assert {p.hole for p in rest} <= {p.hole for p in own[: at[0] + 1]}
            assert len({p.hole for p in rest} - {own[at[0]].hole}) == back or (name == "whip" and len(rest) == back)


def test_the_second_thread_of_double_running_begins_at_the_far_end() -> None:
    _, told = _sewn("double-running", 5000)
    first, second = ([p for p in told if p.length == k] for k in (0, 1))
    assert "make this end safe; the second thread begins at hole" in words(first[-1].then)
    assert f"hole {second[0].hole + 1}," in words(first[-1].then)
    assert second[0].hole == max(p.hole for p in told)
    assert words(second[0].how) == "the first hole of this length"


@pytest.mark.parametrize("name", ["butt", "crosses"])
def test_two_needles_in_one_hand_are_told_apart(name: str) -> None:
    """By where their threads lie: followed from pass to pass, each needle is where it is said to be."""
    sewn, told = _sewn(name, 5000)
    at: dict[int, int] = {}
    said = 0
    for prompt in told:
        move = sewn.moves[prompt.move]
        how = words(prompt.how)
        if how.startswith("the needle from hole"):
            node = at[move.needle]
            side = {-1: "left", 1: "right"}[sewn.seam.row_of(node)]
            assert how.startswith(f"the needle from hole {sewn.seam.hole_of(node) + 1} of the {side} edge, ")
            said += 1
        at[move.needle] = move.hole
    assert said > 100


def test_a_thread_of_two_is_measured_by_itself() -> None:
    choices = ThreadChoices()
    sewn, plain = _sewn("double-running", 5000)
    told = prompts(sewn, choices, InHand(seam="seam", passes=20, mm=300.0))
    assert told[20].left_before_mm == pytest.approx(300)
    assert [p.thread_left_mm for p in told if p.length == 1] == [p.thread_left_mm for p in plain if p.length == 1]


def test_a_needle_that_loops_over_the_edge_gets_more_of_the_thread() -> None:
    _, told = _sewn("saddle", 5000, edge_loops=2)
    _, plain = _sewn("saddle", 5000)
    assert words(plain[0].then) == "draw the thread through to its middle"
    says = words(told[0].then)
    more = 2 * ((2 * 3.5 + 6 * 0.95) + (6 * 0.95 + 0.57 * 0.8)) * 1.03
    through, stays = (float(x) for x in re.findall(r"draw ([\d.]+) m of the thread through, ([\d.]+) m stays", says)[0])
    assert abs(through - stays) * 1000 == pytest.approx(more, rel=0.35)


@pytest.mark.parametrize("name", ["laying-knife", "turf-knife", "secateurs-holster", "billhook-cover", "key-fob"])
def test_the_eye_finds_the_hole_as_far_from_the_edge_as_it_is_told(name: str) -> None:
    """The distance that is there, to the outline drawn as a thousand points a side, for every pass of every seam."""
    planned = plan(demo(name))
    assert planned.draft is not None
    outlines = {p.id: p.outline for p in planned.draft.pieces}
    for sewn in planned.threading.seams:  # type: ignore[union-attr]
        for prompt in prompts(sewn, ThreadChoices())[::7]:
            says = words(eye_says(sewn, prompt, outlines))
            assert says.startswith("look for it on the")
            assert re.search(rf"on the ({prompt.toward}|{prompt.toward} of the [^:]+):", says)
            if sewn.seam.line.shape != "line":
                assert says.endswith(f"hole {prompt.hole + 1}")
                continue
            on = sewn.seam.line.plies[-1 if prompt.toward == "back" else 0].on
            ring = outlines[sewn.seam.line.placed[on].piece]
            fine = np.concatenate([np.linspace(a, b, 1000) for a, b in itertools.pairwise([*ring, ring[0]])])
            there = np.hypot(*(fine - sewn.seam.on(on)[prompt.hole]).T).min()
            told = float(re.findall(r"([\d.]+) mm in from the edge", says)[0])
            assert told == pytest.approx(there, abs=0.051)


ROWS = {"through the left edge": -1, "through the right edge": 1, "up through the gap": 0}


def _followed(sewn: SewnSeam, told: tuple[Prompt, ...]) -> None:
    """Sews by the words alone: each needle is where the words took it, and the next is the one that hand and words name.

    Where two are meant alike they hang from the same hole on the same face, and either makes the same stitch. Raises where
    the words leave a choice, or name another hole, face or needle than is sewn.
    """
    stitch, row_of, hole_of = sewn.stitch, sewn.seam.row_of, sewn.seam.hole_of
    fresh: dict[int, tuple[int, str]] = dict.fromkeys(range(stitch.needles), (-1, ""))  # not sewn with yet
    at, before, mover = dict(fresh), "", -1
    for k, prompt in enumerate(told):
        move, how, way = sewn.moves[prompt.move], words(prompt.how), words(prompt.way)
        if "join a new length" in before:
            at, mover = dict(fresh), -1
        on = {"right": "front", "left": "back"}[prompt.hand]
        free = set(at)
        if "the needle at the back goes over the edge" in before:
            (over,) = {n for n in free if at[n][1] == "back"} or free - {
                mover
            }  # the end that was not drawn through yet
            at[over], free = (move.hole, "front"), {over}
        elif before == "the other needle, same hole":
            free -= {mover}
        elif over_to := re.search(r"over the edge to hole (\d+)$", before):
            at[mover] = (move.hole, "front")
            assert int(over_to[1]) == prompt.hole + 1
        elif on_to := re.search(r"on to hole (\d+)$", before):
            free = {mover}
            assert int(on_to[1]) == prompt.hole + 1
        free = {n for n in free if at[n][1] in ("", on)}
        if "the second thread begins" in before or (stitch.threads == 2 and how == "the first hole of this length"):
            free = {n for n in free if at[n] == fresh[n]}
        elif any(at[n] != fresh[n] for n in free) and not how.startswith("the first hole"):
            free = {n for n in free if at[n] != fresh[n]} if stitch.sews[0] != "butt" or "needle from" in how else free
        if named := re.match(r"the needle from hole (\d+) of the (left|right) edge, ", how):
            row = {"left": -1, "right": 1}[named[2]]
            free = {
                n
                for n in free
                if at[n] != fresh[n] and hole_of(at[n][0]) + 1 == int(named[1]) and row_of(at[n][0]) == row
            }
            how = how[named.end() :]
        assert move.needle in free, (k, before, how, at, free)
        assert len({at[n] for n in free}) == 1, (k, before, how, at, free)
        if how in ROWS:
            assert row_of(move.hole) == ROWS[how]
        assert hole_of(move.hole) == prompt.hole
        assert way.endswith("the " + on) if way.startswith("from") else way.startswith(on)
        at[move.needle] = (move.hole, on if way.startswith("from") else {"front": "back", "back": "front"}[on])
        mover, before = move.needle, words(prompt.then)


@pytest.mark.parametrize("name", sorted(STITCHES))
def test_who_follows_the_words_sews_the_seam(name: str) -> None:
    """Every stitch, begun and ended in every way it can be, and in one length or several."""
    for start, finish, back, hand, loops, reach in itertools.product(
        ("first-hole", "third-hole"), ("back-stitches", "buried-knot"), (0, 2), ("left", "right"), (0, 2), (400, 5000)
    ):
        more = {"start": start, "finish": finish, "back_stitches": back, "first_needle": hand, "edge_loops": loops}
        choices = ThreadChoices(reach_mm=reach, **more)
        sewn = sewn_with(STITCHES[name], straight_seam(120, 4, 6, 3.5, STITCHES[name].sews[0]), choices)
        _followed(sewn, prompts(sewn, choices))


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.model_fields["kind"].default)
def test_who_follows_the_words_sews_every_seam_of_every_kind(kind: type[KindOfPiece]) -> None:
    rng = np.random.default_rng(len(kind.__name__) + 7)
    sewn = 0
    for _ in range(30 if ALL else 2):
        planned = plan(as_chosen(mended(job_of(kind, rng)), rng))
        for seam in planned.threading.seams if planned.threading else ():
            _followed(seam, prompts(seam, planned.job.thread))
            sewn += 1
    assert sewn or kind.model_fields["kind"].default in ("limb_wrap", "panelled")
