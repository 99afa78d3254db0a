from datetime import datetime

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.jobs import demo
from tests.many import examples
from vow_line.core.errors import RefusedChange
from vow_line.core.job import Job, change
from vow_line.core.plan import plan
from vow_line.core.steps import correct, new_trial, take_trial_back, vow


def _tried(job: Job, at: float, by: float, side: str = "low") -> Job:
    job = correct(job, at_mm=at, side=side)
    k, n = len(job.trials) - 1, len(job.trials[-1].corrections) - 1
    if k == 0 or n == 0:  # a mock-up whose neutral layer lies as deep as the leather's
        job = change(job, f"trials.{k}.thick_mm", 2 * job.piece.neutral * job.leather.thickness_mm)
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


@given(st.floats(1.6, 4.5), st.floats(0.5, 6), st.floats(-2, 4), st.sampled_from(["laying-knife", "slasher-grip"]))
@settings(max_examples=examples(20))
def test_a_mock_up_of_another_thickness_lacks_what_its_own_turn_saves(
    leather: float, felt: float, by: float, name: str
) -> None:
    """A felt cut so much longer than the leather's pattern just closes round the corrected hull: by the trade's P + θ·k·t."""
    job = change(demo(name), "leather.thickness_mm", leather)
    turn, side = (np.pi / 2, "low") if name == "laying-knife" else (2 * np.pi, "round")
    at = 60 if name == "laying-knife" else 100
    tried = change(_tried(job, at, by, side), "trials.0.thick_mm", felt)

    def hull(body: object) -> float:
        k = int(np.argmin(np.abs(body.x_mm - at)))  # type: ignore[attr-defined]
        return float(body.edge_mm[k] if side == "low" else body.girth_at(at))  # type: ignore[attr-defined]

    grown = hull(plan(tried).body) - hull(plan(job).body)
    k = job.piece.neutral
    cut = turn * k * leather + by  # what the felt had, besides the old hull, and what it lacked
    assert grown + turn * 0.5 * felt == pytest.approx(cut, abs=0.03)


def test_what_a_trial_moved_is_told_piece_by_piece() -> None:
    """Against the outlines with and without it, point by point."""
    job = demo("laying-knife")
    assert plan(job).tried is None
    assert plan(correct(job, at_mm=60, side="low")).tried is None, "nothing has been said of it yet"
    tried = _tried(job, 60, 3.0)
    told = {str(title.template): by for title, by in plan(tried).tried}
    for piece in ("sheath", "welt"):
        before, after = (shapely.LinearRing(plan(j).draft.piece(piece).outline) for j in (job, tried))
        far = max(before.distance(shapely.Point(p)) for p in after.segmentize(0.2).coords)
        assert told[piece] == pytest.approx(far, abs=0.06)
    assert "belt loop" not in told
    behind = _tried(job, -100, 3.0)
    assert plan(behind).tried == (), "the butt is not in the sheath"


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
