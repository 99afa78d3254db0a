from datetime import datetime

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import demo
from vow_line.core.errors import RefusedChange
from vow_line.core.job import Job, change, correct, new_trial, take_trial_back, vow
from vow_line.core.plan import plan


def _tried(job: Job, at: float, by: float, side: str = "low") -> Job:
    job = correct(job, at_mm=at, side=side)
    k, n = len(job.trials) - 1, len(job.trials[-1].corrections) - 1
    return change(job, f"trials.{k}.corrections.{n}.by_mm", by)


def _half(job: Job, at: float) -> float:
    """Half width of the sheath's thread line at a station."""
    line = plan(job).draft.seams[-1].line
    return float(np.interp(at, line[:, 1], line[:, 0]))


@given(st.floats(0.5, 5), st.floats(20, 90), st.sampled_from([2.0, 3.2, 4.0]))
def test_the_draft_follows_by_what_was_found_whatever_the_leather(by: float, at: float, leather: float) -> None:
    """A blade whose edge must lie `by` further out: the wrap is that much longer, its own thickness in it as before."""
    job = change(demo("laying-knife"), "leather.thickness_mm", leather)
    tried = _tried(job, at, by)
    assert _half(tried, at) - _half(job, at) == pytest.approx(by, abs=0.45)
    left = plan(tried).stitching.seam("main-seam")
    assert np.allclose(left.on(0) * [-1, 1], left.on(-1)), "both halves follow"


def test_beside_the_station_it_runs_out_to_nothing() -> None:
    job = demo("laying-knife")
    tried = _tried(job, 60, 3.0)
    assert plan(tried).body.edge_mm[-1] == pytest.approx(plan(job).body.edge_mm[-1])
    far = np.abs(plan(job).body.x_mm - 60) > 31
    assert plan(tried).body.edge_mm[far] == pytest.approx(plan(job).body.edge_mm[far])


def test_a_trial_is_taken_back_and_stays_written_down() -> None:
    job = demo("laying-knife")
    tried = take_trial_back(_tried(job, 60, 3.0))
    assert _half(tried, 60) == pytest.approx(_half(job, 60))
    assert tried.trials[0].taken_back
    assert tried.trials[0].corrections[0].by_mm == 3.0
    assert _half(take_trial_back(tried), 60) > _half(job, 60) + 2
    with pytest.raises(RefusedChange, match="Nothing has been tried"):
        take_trial_back(job)


def test_a_second_mock_up_adds_to_the_first() -> None:
    job = _tried(new_trial(_tried(demo("laying-knife"), 60, 2.0)), 60, 1.0)
    assert len(job.trials) == 2
    assert plan(job).body.edge_mm.max() > plan(demo("laying-knife")).body.edge_mm.max()
    assert _half(job, 60) - _half(demo("laying-knife"), 60) == pytest.approx(3.0, abs=0.4)


def test_a_shaft_and_a_moulded_body_are_corrected_on_their_own_sides() -> None:
    grip = demo("slasher-grip")
    assert plan(_tried(grip, 100, 4.0, "round")).body.girth_at(100) == pytest.approx(
        plan(grip).body.girth_at(100) + 4, abs=0.05
    )
    holster = demo("secateurs-holster")
    before, after = plan(holster).body, plan(_tried(holster, 120, 2.0, "top")).body
    k = int(np.argmin(np.abs(before.x_mm - 120)))
    assert before.top_mm[k] - after.top_mm[k] == pytest.approx(2.0, abs=0.05)
    assert after.low_mm == pytest.approx(before.low_mm)


def test_a_vowed_plan_is_not_corrected_and_keeps_its_trials() -> None:
    job = vow(_tried(demo("laying-knife"), 60, 2.0), at=datetime(2027, 1, 5))
    assert job.vowed.trials == job.trials
    with pytest.raises(RefusedChange, match="vowed"):
        correct(job, at_mm=30, side="low")
