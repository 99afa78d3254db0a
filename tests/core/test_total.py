"""A job that loads always plans: what no one thought of is a hold that names its stage, and the rest stays alive."""

from datetime import datetime, timedelta, timezone
from importlib import import_module

import pytest

from tests.jobs import demo
from vow_line.core import memory
from vow_line.core import plan as planning
from vow_line.core.finding import Station
from vow_line.core.job import Job, change
from vow_line.core.leather import Hide
from vow_line.core.plan import plan
from vow_line.core.quantity import Units
from vow_line.core.readback import read_back
from vow_line.core.steps import tick
from vow_line.core.work import WorkChoices

UNITS = Units()
STAGES: dict[str, tuple[Station, tuple[str, ...]]] = {
    "_measured": ("measure", ()),
    "_corrected": ("measure", ("measured",)),
    "_drafted": ("draft", ("measured", "body")),
    "_ornamented": ("draft", ("measured", "body")),
    "_stitched": ("stitch", ("draft", "layout")),
    "_proved": ("draft", ("draft", "stitching", "threading", "layout", "work", "recorded")),
    "_threaded": ("thread", ("draft", "stitching", "layout", "proof")),
    "_laid_out": ("layout", ("draft", "stitching", "threading", "work", "recorded", "proof")),
    "_worked": ("vow", ("draft", "stitching", "threading", "layout", "proof")),
    "_recorded": ("record", ("draft", "stitching", "threading", "layout", "work", "proof")),
}
"""Each stage with the station that says it failed, and what is alive all the same."""


def _all_asked(job: Job) -> planning.Plan:
    """A plan of which everything has been asked."""
    planned = plan(job)
    for station in planning.SUMMED:
        planned.sums(station)
    assert planned.next.write(UNITS)
    assert planned.standing
    assert planned.verdicts is not None
    read_back(planned)
    return planned


@pytest.mark.parametrize("stage", STAGES)
def test_a_stage_that_raises_is_a_hold_and_the_rest_stays_alive(stage: str, monkeypatch: pytest.MonkeyPatch) -> None:
    (station, alive), job = STAGES[stage], demo("spar-knife")

    def fail(*_: object) -> None:
        raise ZeroDivisionError("a {brace} nobody thought of")

    monkeypatch.setattr(planning, stage, fail)
    planned = _all_asked(job)
    failed = [f for f in planned.findings if f.code == "stage-failed"]
    assert [(f.level, f.station) for f in failed] == [("hold", station)]
    assert "ZeroDivisionError: a {brace} nobody thought of" in failed[0].says.write(UNITS)
    assert failed[0] in planned.holds
    for name in alive:
        assert getattr(planned, name) is not None, name
    assert "fail" in planned.failures[0].traceback


def test_sums_that_fail_and_checks_that_fail_are_caught_as_well(monkeypatch: pytest.MonkeyPatch) -> None:
    from vow_line.core.thread import Threading

    prove, job = import_module("vow_line.core.proof.prove"), demo("hedging-knife")

    def fail(*_: object) -> None:
        raise KeyError("lost")

    with monkeypatch.context() as broken:
        broken.setattr(Threading, "reckonings", property(fail))
        planned = _all_asked(job)
        assert ("stage-failed", "thread") in {(f.code, f.station) for f in planned.holds}
        assert planned.work is not None
    with monkeypatch.context() as broken:
        broken.setattr(prove, "OF_HOLES", {"broken": ("Broken", fail)})
        memory.forget()
        planned = _all_asked(job)
        assert ("stage-failed", "draft") in {(f.code, f.station) for f in planned.holds}
    memory.forget()


def test_a_hide_that_is_a_flaw_all_over() -> None:
    job = demo("spar-knife")
    whole = ((-999.0, -999.0), (4999.0, -999.0), (4999.0, 4999.0), (-999.0, 4999.0))
    planned = _all_asked(job.model_copy(update={"leather": job.leather.model_copy(update={"flaws": (whole,)})}))
    assert not planned.failures
    assert "no-sound-leather" in {f.code for f in planned.holds}
    assert planned.work is not None


def test_a_begin_with_a_time_zone_is_the_clock_on_the_wall() -> None:
    zoned = datetime(2027, 3, 1, 18, 30, tzinfo=timezone(timedelta(hours=5, minutes=30)))
    read = WorkChoices.model_validate({"begins": zoned.isoformat()})
    assert read.begins == datetime(2027, 3, 1, 18, 30)
    job = demo("spar-knife").model_copy(update={"work": read})
    assert not _all_asked(job).failures
    assert change(job, "work.begins", zoned).work.begins == read.begins


@pytest.mark.parametrize("begins", [datetime(9999, 12, 31, 23, 50), datetime.max, datetime(1, 1, 1)])
def test_the_ends_of_time(begins: datetime) -> None:
    planned = _all_asked(change(demo("spar-knife"), "work.begins", begins))
    assert not planned.failures
    if begins.year > 1:
        assert planned.work.ready is None
        assert "past-the-calendar" in {f.code for f in planned.findings}
    ticked = tick(demo("spar-knife"), step="cut/sheath", at=begins)
    assert not _all_asked(ticked).failures


@pytest.mark.parametrize("words", ["{0}", "{x!r:>9}", "}{", "a {name} of {n"])
def test_the_makers_own_words_are_never_a_template(words: str) -> None:
    job = demo("hedging-knife")
    told = job.model_copy(update={"name": words, "leather": Hide(name=words, thickness_mm=3.0)})
    planned = _all_asked(told)
    assert not planned.failures
    assert any(words in line.says.write(UNITS) for line in read_back(planned))
