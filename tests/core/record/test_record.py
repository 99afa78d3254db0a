"""What was planned beside what was done."""

from datetime import datetime

import pytest

from tests.jobs import plain_job, words
from vow_line.core.job import Job, change
from vow_line.core.plan import plan
from vow_line.core.record import Recorded
from vow_line.core.steps import note_left, tick

NOON = datetime(2027, 1, 5, 12)


def _recorded(job: Job) -> Recorded:
    found = plan(job).recorded
    assert found is not None
    return found


def _used(share: float) -> Recorded:
    """The record where so much of what was planned, slack and all but no ends, was used."""
    job = plain_job()
    threading = plan(job).threading
    assert threading is not None
    sewn = threading.seam("main-seam")
    use = sewn.path_mm * (1 + job.thread.slack.value) * share
    return _recorded(note_left(job, seam="main-seam", cut_mm=use + 137.0, left_mm=137.0))


@pytest.mark.parametrize(("share", "learned"), [(1.0, True), (1.14, True), (1.16, False), (0.86, True), (0.84, False)])
def test_what_is_far_from_the_plan_is_pointed_out_and_not_learned(share: float, learned: bool) -> None:
    found = _used(share)
    assert bool(found.thread_ratios) == learned
    assert ("thread-disagrees" in {f.code for f in found.findings}) != learned
    assert ("record/slack" in {r.key for r in found.reckonings}) == learned
    if learned:
        slack = plain_job().thread.slack.value
        assert dict(found.thread_ratios) == {"main-seam": pytest.approx((1 + slack) * share)}
    else:
        assert f"{100 * share:.0f}" in words(found.findings[0].says)


def test_a_seam_that_left_all_of_it_used_none() -> None:
    for cut, left in ((900.0, 900.0), (900.0, 901.0)):
        entry = {"seam": "main-seam", "cut_mm": cut, "left_mm": left}
        found = _recorded(change(plain_job(), "record.thread_left", (entry,)))
        assert [f.code for f in found.findings] == ["left-more-than-cut"]
        assert not found.thread_ratios
    found = _recorded(note_left(plain_job(), seam="main-seam", cut_mm=900, left_mm=899))
    assert [f.code for f in found.findings] == ["thread-disagrees"]


def test_a_seam_that_is_no_longer_there_is_passed_over() -> None:
    job = note_left(plain_job(), seam="gone", cut_mm=900, left_mm=100)
    found = _recorded(note_left(job, seam="main-seam", cut_mm=900, left_mm=900))
    assert [f.at for f in found.findings] == ["record/main-seam"]


def test_minutes_count_where_they_were_noted_and_steps_where_they_are_of_this_plan() -> None:
    job = tick(tick(plain_job(), step="cut/sheath", at=NOON, minutes=31), step="cut/welt", at=NOON)
    job = tick(tick(job, step="holes/main-seam", at=NOON, minutes=17), step="long gone", at=NOON, minutes=90)
    planned = plan(job)
    assert planned.work is not None
    noted = {s.id: s.minutes for s in planned.work.steps if s.id in ("cut/sheath", "holes/main-seam")}
    assert len(noted) == 2
    found = {r.key: r for r in _recorded(job).reckonings}
    assert words(found["record/minutes"].value) == "48 min"
    assert f"{sum(noted.values()):.0f} min was planned" in words(found["record/minutes"].sum)
    assert words(found["record/done"].value) == "3"
    assert words(found["record/done"].sum) == f"of {len(planned.work.steps)}"
