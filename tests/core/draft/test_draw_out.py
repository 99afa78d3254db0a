import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vow_line.core.draft.draw_out import draw_out


@given(st.lists(st.tuples(st.floats(5, 40), st.floats(5, 40)), min_size=2, max_size=40))
def test_the_least_gap_against_every_position_tried(stations: list[tuple[float, float]]) -> None:
    needs, gives = (np.array(v, dtype=np.float64) for v in zip(*stations, strict=True))
    x = np.linspace(0.0, 2.0 * (len(needs) - 1), len(needs))
    got = draw_out(x, needs, needs, gives, np.zeros(len(x)))
    tried = min(gives[i] - needs[j] for i in range(len(x)) for j in range(i, len(x)))
    assert got.least_mm == pytest.approx(tried)
    i = int(np.argmin(np.abs(x - got.at_mm)))
    j = int(np.argmin(np.abs(x - got.at_mm - got.drawn_mm)))
    assert gives[i] - needs[j] == pytest.approx(tried)


def test_the_relief_asked_for_is_enough() -> None:
    x, needs = np.linspace(0.0, 40.0, 5), np.array([20, 20, 24, 22, 5], dtype=np.float64)
    gives = np.array([22, 21, 25, 23, 7], dtype=np.float64)
    got = draw_out(x, needs, needs, gives, np.zeros(5))
    low, high, by = got.short_of(1.0) or (0, 0, 0)
    assert (low, high, by) == (0.0, 10.0, 4.0)
    cured = draw_out(x, needs, needs, np.where((x >= low) & (x <= high), gives + by, gives), np.zeros(5))
    assert cured.short_of(1.0) is None
