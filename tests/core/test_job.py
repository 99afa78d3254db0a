from datetime import datetime, timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.jobs import any_job, demo, plain_job
from tests.many import examples
from vow_line.core import memory
from vow_line.core.draft.kinds.panelled import Panelled
from vow_line.core.errors import RefusedChange
from vow_line.core.job import Job, change, hole_in, value_at
from vow_line.core.plan import STATIONS, plan
from vow_line.core.quantity import Units
from vow_line.core.readback import read_back
from vow_line.core.record import learn
from vow_line.core.steps import (  # fmt: skip
    accept,
    add_station,
    break_vow,
    next_like,
    note_left,
    remove_station,
    sew_to,
    tick,
    untick,
    vow,
    weigh,
)
from vow_line.core.thread import Slack
from vow_line.core.work.prompts import prompts

STEPS_ASTRAY = {"step-missing", "step-early", "step-twice", "step-nowhere", "piece-loose"}
NOON = datetime(2027, 1, 5, 12)


@settings(max_examples=examples(80))
@given(any_job)
def test_any_job_that_validates_plans_and_says_what_is_wrong(job: Job) -> None:
    planned = plan(job)
    assert not planned.failures, planned.failures[0].traceback
    astray = STEPS_ASTRAY - (
        {"piece-loose"} if isinstance(job.piece, Panelled) else set()
    )  # whose edges may meet nothing
    assert not {f.code for f in planned.findings} & astray
    assert planned.standing in {*STATIONS, "vow"}
    for units in (Units(), Units("in", 32, "oz")):
        planned.next.write(units)
        for found in planned.findings:
            assert found.says.write(units)
        for stage in (
            planned.measured,
            planned.draft,
            planned.stitching,
            planned.threading,
            planned.layout,
            planned.work,
        ):
            for line in stage.reckonings if stage else ():
                assert line.value.write(units)
                assert line.sum.write(units)
                assert "nan" not in line.value.write(units)
        for spoken in read_back(planned):
            assert spoken.says.write(units)
    if planned.draft is None:
        assert planned.holds, "a job that cannot be drafted says why"
    else:
        if planned.draft.section:
            planned.draft.section(20.0)
        for sewn in planned.threading.seams:  # type: ignore[union-attr]
            assert prompts(sewn, planned.job.thread)


@given(st.sampled_from([0.5, 2.0, 3.0]))
def test_scaling_every_length_scales_every_length(factor: float) -> None:
    small, large = plain_job(loop=None), _scaled(plain_job(loop=None), factor)
    one, other = plan(small), plan(large)
    for a, b in zip(one.draft.pieces, other.draft.pieces, strict=True):  # type: ignore[union-attr]
        assert np.ptp(b.outline, axis=0) == pytest.approx(factor * np.ptp(a.outline, axis=0), rel=0.03)
    sa, sb = one.stitching.seam("main-seam"), other.stitching.seam("main-seam")  # type: ignore[union-attr]
    assert sb.stack_mm.max() == pytest.approx(factor * sa.stack_mm.max())
    assert len(sb.points) == pytest.approx(len(sa.points), abs=2)


def _scaled(job: Job, factor: float) -> Job:
    def scale(value: object, name: str = "") -> object:
        if isinstance(value, dict):
            return {k: scale(v, k) for k, v in value.items()}
        if isinstance(value, list):
            return [scale(v, name) for v in value]
        if isinstance(value, float) and (
            name.endswith("_mm") or name in ("first", "second", "drop", "tip_drop", "outline")
        ):
            return value * factor
        return value

    told = job.model_dump(mode="json")
    told["thing"], told["piece"] = scale(told["thing"]), scale(told["piece"])
    told["leather"]["thickness_mm"] *= factor
    told["stitch"] = scale(told["stitch"])
    return Job.model_validate_json(Job.model_validate(told, strict=False).model_dump_json())


def test_a_change_that_cannot_be_is_refused_with_its_bound() -> None:
    job = plain_job()
    with pytest.raises(RefusedChange, match=r"^-2 is too small: it must be more than 0") as refused:
        change(job, "piece.margin_mm", -2.0)
    assert refused.value.where == "piece.margin_mm"
    with pytest.raises(RefusedChange, match="2000 is the most"):
        change(job, "thing.length.first", 3e9)
    with pytest.raises(RefusedChange, match="There is no colour here"):
        change(job, "piece.colour", 1)
    with pytest.raises(RefusedChange, match="no place 9"):
        change(job, "thing.stations.9.width.first", 1.0)
    with pytest.raises(RefusedChange, match="finite"):
        change(job, "piece.margin_mm", float("nan"))


def test_after_the_vow_only_what_is_done_changes() -> None:
    job = vow(plain_job(), at=NOON)
    with pytest.raises(RefusedChange, match="Revision 1 is vowed"):
        change(job, "piece.margin_mm", 4.0)
    with pytest.raises(RefusedChange, match="vowed already"):
        vow(job, at=NOON)
    job = tick(job, step="cut/welt", at=NOON)
    assert not untick(job, step="cut/welt").work.done
    again = vow(change(break_vow(job, at=NOON), "piece.margin_mm", 4.0), at=NOON)
    assert again.vowed is not None
    assert again.vowed.revision == 2
    assert again.vows[0].broken == NOON


def test_a_broken_vow_says_what_can_still_be_used() -> None:
    job = vow(plain_job(loop=None), at=NOON)
    for step in ("cut/sheath", "cut/welt"):
        job = tick(job, step=step, at=NOON)
    broken = break_vow(job, at=NOON)
    assert {v.says for v in plan(broken).verdicts} == {"still-good"}
    narrower = plan(change(broken, "piece.margin_mm", 2.5)).verdicts
    assert {v.piece: v.says for v in narrower}["sheath"] == "trim"
    wider = plan(change(broken, "piece.margin_mm", 5.0))
    verdict = next(v for v in wider.verdicts if v.piece == "sheath")
    assert verdict.says == "cut-again"
    assert verdict.by_mm == pytest.approx(1.5, abs=0.1)
    assert "recut-cut-again" in {f.code for f in wider.holds}
    thinner = plan(change(broken, "leather.thickness_mm", job.leather.thickness_mm - 0.8)).verdicts
    assert {v.piece: v.says for v in thinner}["sheath"] == "cut-again", "leather of another thickness is another piece"


def test_a_hold_is_accepted_with_a_reason_or_not_at_all() -> None:
    job = demo("hedging-knife")
    hold = plan(job).holds[0]
    with pytest.raises(RefusedChange, match="reason"):
        accept(job, code=hold.code, at=hold.at, reason="  ")
    assert plan(job).flags[hold.station] == "hold"
    job = accept(job, code=hold.code, at=hold.at, reason="the blade is at the smith's")
    assert plan(job).accepted(hold) == "the blade is at the smith's"
    assert plan(job).flags.get(hold.station) != "hold"
    assert not plan(job).holds
    assert hold in plan(job).findings


def test_stations_come_and_go() -> None:
    job = plain_job()
    more = add_station(job)
    assert len(more.thing.stations) == len(job.thing.stations) + 1
    assert [s.at_mm for s in more.thing.stations] == sorted(s.at_mm for s in more.thing.stations)
    assert remove_station(more, path="thing.stations.1.width.first").thing.stations != more.thing.stations
    with pytest.raises(RefusedChange):
        remove_station(job, path="piece.margin_mm")


def test_the_next_one_like_it_begins_with_what_was_learned() -> None:
    done = demo("grafting-knife")
    entry = done.record.thread_left[0]
    planned = plan(done)
    ratio = dict(planned.recorded.thread_ratios)["main-seam"]  # type: ignore[union-attr]
    assert ratio == pytest.approx((entry.cut_mm - entry.left_mm) / planned.threading.seam("main-seam").path_mm)  # type: ignore[union-attr]
    learned = learn(1.03, [ratio])
    fresh = next_like(done, name="again", slack=Slack(value=learned.factor - 1, jobs=1, spread=learned.spread))
    assert fresh.vowed is None
    assert not fresh.work.done
    more = plan(fresh).threading.seam("main-seam").total_mm  # type: ignore[union-attr]
    assert more > planned.threading.seam("main-seam").total_mm  # type: ignore[union-attr]


def test_more_left_than_cut_is_refused() -> None:
    with pytest.raises(RefusedChange, match="more than there was"):
        note_left(plain_job(), seam="main-seam", cut_mm=900, left_mm=1000)


def test_every_callout_leads_to_a_place_in_the_job() -> None:
    for name in ("laying-knife", "hedging-knife"):
        planned = plan(demo(name))
        for callout in (*planned.measured.callouts, *planned.draft.callouts):  # type: ignore[union-attr]
            value_at(planned.job, callout.path)


def test_a_weighing_counts_from_the_forming() -> None:
    job = plain_job(formed=True)
    with pytest.raises(RefusedChange, match="Tick it first"):
        weigh(job, grams=80.0, at=NOON)
    job = tick(job, step="form", at=NOON)
    job = weigh(weigh(job, grams=80.0, at=NOON), grams=74.0, at=NOON + timedelta(hours=3))
    assert [(w.minutes, w.grams) for w in job.work.weighings] == [(0.0, 80.0), (180.0, 74.0)]
    with pytest.raises(RefusedChange, match="too small"):
        weigh(job, grams=-1.0, at=NOON + timedelta(hours=4))


def test_sewing_is_remembered_by_the_pass() -> None:
    job = sew_to(sew_to(plain_job(), seam="main-seam", passes=5), seam="main-seam", passes=6)
    assert job.work.passes("main-seam") == 6
    assert job.work.passes("belt-loop") == 0


def test_an_edit_recomputes_only_what_depends_on_it() -> None:
    job = plain_job()
    before, after = plan(job), plan(change(job, "thread.back_stitches", 3))
    assert before.draft is after.draft
    assert before.stitching is after.stitching
    assert before.threading is not after.threading
    ticked = plan(tick(job, step="cut/welt", at=NOON))
    assert ticked.threading is before.threading


def test_a_seam_may_have_ends_and_a_start_of_its_own_and_no_more_than_that() -> None:
    memory.forget()  # a plan may be kept longer than its seams
    job = demo("laying-knife")
    own = hole_in(
        hole_in(job, seam="main-seam", field="start_in_mm", value=9.0), seam="main-seam", field="ends", value="outside"
    )
    before, after = plan(job).stitching, plan(own).stitching
    assert after.seam("main-seam").s_mm[0] == pytest.approx(9.0), "nothing runs on outside this seam"
    assert np.array_equal(after.seam("belt-loop").points, before.seam("belt-loop").points)
    assert after.seam("belt-loop") is before.seam("belt-loop")
    back = hole_in(
        hole_in(own, seam="main-seam", field="start_in_mm", value=3.0), seam="main-seam", field="ends", value="in"
    )
    assert back == job
    with pytest.raises(RefusedChange, match="50 is the most"):
        hole_in(job, seam="main-seam", field="start_in_mm", value=70.0)
