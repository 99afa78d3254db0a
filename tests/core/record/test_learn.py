import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.thread.test_thread import straight_seam
from vow_line.core.record import learn
from vow_line.core.thread import Slack, ThreadChoices
from vow_line.core.thread.sewn import sew_plan


def test_without_jobs_the_default_stands_with_its_prior() -> None:
    got = learn(1.03, [])
    assert got.factor == pytest.approx(1.03)
    assert got.spread == pytest.approx(math.hypot(0.05, 0.05)), "between makers, and between their jobs"
    assert got.spread == pytest.approx(Slack().spread, abs=1e-3)


def test_one_job_moves_half_way_and_many_jobs_win() -> None:
    assert learn(1.03, [1.09]).factor == pytest.approx(math.sqrt(1.03 * 1.09))
    assert learn(1.03, [1.09] * 400).factor == pytest.approx(1.09, abs=3e-4)


@given(st.lists(st.floats(0.8, 1.4), min_size=1, max_size=20))
def test_the_factor_lies_between_default_and_jobs_and_(ratios: list[float]) -> None:
    got = learn(1.03, ratios)
    assert min([1.03, *ratios]) - 1e-9 <= got.factor <= max([1.03, *ratios]) + 1e-9
    assert got.jobs == len(ratios)


def test_a_ratio_of_nothing_is_refused() -> None:
    with pytest.raises(ValueError, match="above 0"):
        learn(1.03, [0.0])


@pytest.mark.parametrize(
    ("jobs", "strays", "least", "most"),
    [
        (0, 0.05, 0.88, 0.92),
        (1, 0.05, 0.88, 0.92),
        (5, 0.05, 0.88, 0.92),
        (30, 0.05, 0.88, 0.92),
        (10, 0.08, 0.87, 0.92),
    ],
)
def test_what_is_cut_was_enough_for_as_many_makers_as_asked(
    jobs: int, strays: float, least: float, most: float
) -> None:
    """Simulated makers, each with a slack of their own and jobs that stray from it; the last is cut as the others teach."""
    rng = np.random.default_rng(5)
    seam, makers = straight_seam(200, 4, 8), 2000
    enough = 0
    for own in rng.normal(math.log(1.03), 0.05, makers):
        *done, now = np.exp(own + rng.normal(0, strays, jobs + 1))
        learned = learn(1.03, done)
        slack = Slack(value=learned.factor - 1, jobs=learned.jobs, spread=learned.spread)
        (cut,) = sew_plan(
            seam, ThreadChoices(stack_spread=0, pitch_spread=0, slack=slack, reach_mm=5000, sure=0.9)
        ).cuts
        enough += cut.path_mm * now <= cut.total_mm - cut.reserve_mm
    assert least <= enough / makers <= most


def test_a_maker_whose_jobs_stray_more_is_told_so_after_a_few() -> None:
    even, odd = learn(1.03, [1.04, 1.05] * 5), learn(1.03, [0.93, 1.16] * 5)
    assert even.spread < 0.06 < 0.1 < odd.spread
    assert learn(1.03, [1.2]).spread == pytest.approx(math.hypot(0.05, 0.05 / math.sqrt(2)))


def test_two_jobs_alike_are_known_as_far_as_two_jobs_can_be() -> None:
    """By hand: s² = 3 · 0.05² / 4 · 5/4, the mean weighs 1/0.05² + 2/s², the next job strays by √(s² + 1/weight)."""
    job2 = 3 * 0.0025 / 4 * 5 / 4
    assert learn(1.03, [1.05, 1.05]).spread == pytest.approx(math.sqrt(job2 + 1 / (400 + 2 / job2)))
