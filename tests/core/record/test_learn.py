import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

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
