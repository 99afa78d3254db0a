import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vow_line.core.curve import arc_length, chord_error, corners, headings, rows_from, smooth_through, trim, walk


def _circle(radius: float, n: int = 721, turn: float = np.pi) -> np.ndarray:
    a = np.linspace(0, turn, n)
    return radius * np.column_stack([np.cos(a), np.sin(a)])


def test_walking_takes_equal_steps_on_an_arc() -> None:
    line = _circle(30)
    points = walk(line, np.arange(0, arc_length(line)[-1], 4.0))
    steps = np.hypot(*np.diff(points, axis=0).T)
    assert np.ptp(steps) < 1e-3
    assert steps.mean() == pytest.approx(2 * 30 * np.sin(4 / 60), abs=1e-4)


def test_a_square_has_corners_and_an_arc_has_none() -> None:
    square = np.array([[0, 0], [20, 0], [20, 20], [0, 20.0]])
    assert corners(square, np.radians(30)).tolist() == [1, 2]
    assert len(corners(_circle(10), np.radians(30))) == 0


def test_chord_error_of_an_arc_is_its_sagitta() -> None:
    radius, half = 25.0, np.arcsin(10 / 25)
    a = np.linspace(-half, half, 101)
    points = radius * np.column_stack([np.sin(a), np.cos(a)])
    assert chord_error(points) == pytest.approx(radius - np.sqrt(radius**2 - 100), rel=1e-6)


def test_trimming_more_than_there_is_leaves_a_point() -> None:
    line = np.array([[0, 0], [10.0, 0]])
    assert arc_length(trim(line, 3, 2))[-1] == pytest.approx(5)
    assert arc_length(trim(line, 8, 8))[-1] == 0


@given(
    st.lists(st.floats(0.5, 40), min_size=1, max_size=8),
    st.lists(st.floats(0, 60), min_size=9, max_size=9),
)
def test_the_smooth_curve_meets_its_points_and_never_overshoots(gaps: list[float], heights: list[float]) -> None:
    x = np.concatenate([[0], np.cumsum(gaps)])
    y = np.array(heights[: len(x)])
    curve = smooth_through(x, y)
    assert curve(x) == pytest.approx(y, abs=1e-9)
    for i in range(len(x) - 1):
        between = curve(np.linspace(x[i], x[i + 1], 33))
        assert between.min() >= min(y[i], y[i + 1]) - 1e-6
        assert between.max() <= max(y[i], y[i + 1]) + 1e-6


def test_where_nothing_overshoots_it_is_the_natural_spline() -> None:
    from scipy.interpolate import CubicSpline

    x = np.array([0, 20, 45, 60, 90.0])
    y = np.array([0, 9, 21, 29, 47.0])
    at = np.linspace(0, 90, 200)
    assert smooth_through(x, y)(at) == pytest.approx(CubicSpline(x, y, bc_type="natural")(at), abs=1e-9)


@given(st.lists(st.floats(0.1, 5), min_size=2, max_size=12), st.floats(0, 1), st.integers(1, 4))
def test_rows_from_a_place_begin_exactly_there(steps: list[float], share: float, wide: int) -> None:
    x = np.cumsum(steps)
    at = float(x[0] + share * (x[-1] - x[0]))
    values = np.outer(x**2, np.arange(1.0, wide + 1))
    from_x, rows = rows_from(x, at, values)
    assert from_x[0] == pytest.approx(at)
    assert (np.diff(from_x) > 0).all()
    assert from_x[1:].tolist() == x[x > at + 1e-6].tolist()
    for k in range(wide):
        assert rows[:, k] == pytest.approx(np.interp(from_x, x, values[:, k]), rel=1e-9)


def test_headings_of_a_circle_lie_along_its_tangents() -> None:
    circle = _circle(20, 181)
    tangents = np.column_stack([-circle[:, 1], circle[:, 0]]) / 20
    assert headings(circle)[1:-1] == pytest.approx(tangents[1:-1], abs=1e-6)
    assert np.hypot(*headings(circle).T) == pytest.approx(1.0)
    assert headings(circle[:1]).tolist() == [[1.0, 0.0]]
