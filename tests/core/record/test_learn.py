import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import demo
from vow_line.core.job import note_left
from vow_line.core.plan import plan
from vow_line.core.record import learn


def test_without_jobs_the_default_stands_with_its_prior() -> None:
    got = learn(1.03, [])
    assert got.factor == pytest.approx(1.03)
    assert got.spread == pytest.approx(0.05)


def test_one_job_moves_half_way_and_many_jobs_win() -> None:
    assert learn(1.03, [1.09]).factor == pytest.approx(math.sqrt(1.03 * 1.09))
    assert learn(1.03, [1.09] * 400).factor == pytest.approx(1.09, abs=3e-4)


@given(st.lists(st.floats(0.8, 1.4), min_size=1, max_size=20))
def test_the_factor_lies_between_default_and_jobs_and_is_better_known(ratios: list[float]) -> None:
    got = learn(1.03, ratios)
    assert min([1.03, *ratios]) - 1e-9 <= got.factor <= max([1.03, *ratios]) + 1e-9
    assert got.spread < 0.05
    assert got.jobs == len(ratios)


def test_a_ratio_of_nothing_is_refused() -> None:
    with pytest.raises(ValueError, match="above 0"):
        learn(1.03, [0.0])


@pytest.mark.parametrize(("of_plan", "learned"), [(0.84, False), (0.86, True), (1.14, True), (1.16, False)])
def test_a_seam_that_used_far_more_or_less_than_planned_is_pointed_out_and_not_learned_from(
    of_plan: float, learned: bool
) -> None:
    """A sixth more or less is another seam, or a slip in measuring (from memory)."""
    job = demo("spar-knife")
    sewn = plan(job).threading.seam("main-seam")  # type: ignore[union-attr]
    used_mm = sewn.path_mm * (1 + job.thread.slack.value) * of_plan
    recorded = plan(note_left(job, seam="main-seam", cut_mm=used_mm + 400, left_mm=400)).recorded
    assert recorded is not None
    assert ("main-seam" in dict(recorded.thread_ratios)) is learned
    assert ("thread-disagrees" in {f.code for f in recorded.findings}) is not learned
