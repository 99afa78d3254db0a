import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from vow_line.core.draft.flat import hollows_filled, opened, right_side


@given(st.lists(st.floats(12, 45), min_size=3, max_size=7), st.floats(8, 25))
def test_filling_hollows_is_the_closing_that_shapely_makes(heights: list[float], radius: float) -> None:
    x = np.linspace(0, 25.0 * (len(heights) - 1), 40 * (len(heights) - 1) + 1)
    u = np.interp(x, 25.0 * np.arange(len(heights)), heights)
    got = hollows_filled(u, x, radius)
    ring = np.concatenate([[[-60, x[0] - 90]], [[u[0], x[0] - 90]], np.column_stack([u, x]), [[-60, x[-1]]]])
    closing = shapely.Polygon(ring).buffer(radius, quad_segs=64).buffer(-radius, quad_segs=64)
    inside = slice(0, np.searchsorted(x, x[-1] - 2 * radius))
    for at, filled in list(zip(x[inside], got[inside], strict=True))[::9]:
        row = shapely.LineString([(-50, at), (200, at)]).intersection(closing)
        assert filled == pytest.approx(row.bounds[2], abs=0.25)
    assert (got >= u - 1e-9).all()


def test_what_has_no_hollows_stays_as_it_is() -> None:
    x = np.linspace(0, 100, 120)
    u = 30 * np.sqrt(1 - (x / 101) ** 2)
    assert hollows_filled(u, x, 22.0) == pytest.approx(u)


def test_the_right_side_runs_from_the_top_to_the_fold_at_the_toe() -> None:
    x = np.linspace(0, 80, 60)
    line = right_side(opened(20 * np.sqrt(1 - (x / 81) ** 2), x).buffer(5))
    assert line[-1][0] == 0
    assert line[-1][1] == pytest.approx(85, abs=0.2)
    assert (np.diff(line[:, 1]) >= -1e-9).all()
    assert line[0][1] < 0
