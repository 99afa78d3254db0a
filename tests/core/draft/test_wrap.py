import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.many import examples
from vow_line.core.draft.wrap import flat_length, half_wrap, hulls_over


def folded_half(
    spine_mm: float, width_mm: float, clearance_mm: float, welt_mm: float, neutral: float, leather_mm: float
) -> float:
    """Half of a folded sheath over a full wedge in closed form, mm: T/2 + √((W+c)² + ((T-w)/2)²) + (π/2 + φ)·k·t."""
    reach, fall = width_mm + clearance_mm, (spine_mm - welt_mm) / 2
    phi = np.arctan2(fall, reach)
    return float(spine_mm / 2 + np.hypot(reach, fall) + (np.pi / 2 + phi) * neutral * leather_mm)


def _wedge(width: float, thick: float) -> tuple[np.ndarray, np.ndarray]:
    return np.array([[0, 0, 0, width]]), np.array([[0, thick / 2, thick / 2, 0]])


def test_a_full_turn_on_a_cylinder() -> None:
    assert flat_length(np.pi * 40, 2 * np.pi, 0.5, 3) == pytest.approx(np.pi * (40 + 2 * 0.5 * 3))


@given(st.floats(10, 80), st.floats(1, 8), st.floats(0, 10), st.floats(0, 8), st.floats(1, 5))
def test_a_wedge_against_the_closed_form(width: float, spine: float, clear: float, welt: float, leather: float) -> None:
    y, z = _wedge(width, spine)
    got = half_wrap(y, z, np.array([width + clear]), np.array([welt / 2]), 0.5, leather)
    if np.hypot(width + clear, welt / 2) > 0 and spine / 2 > 0:
        assert got.flat_mm[0] == pytest.approx(folded_half(spine, width, clear, welt, 0.5, leather), abs=1e-9)


def test_a_slab_as_thick_as_its_welt_is_two_straight_runs() -> None:
    y, z = np.array([[0, 0, 30, 30.0]]), np.array([[0, 2, 2, 0.0]])
    got = half_wrap(y, z, np.array([31.0]), np.array([2.0]), 0.5, 3.0)
    assert got.hull_mm[0] == pytest.approx(2 + 31)
    assert got.turning_rad[0] == pytest.approx(np.pi / 2)


@given(
    st.floats(5, 60), st.floats(2, 50), st.floats(0, 6), st.floats(0, 8), st.floats(0, 12),
)  # fmt: skip
def test_an_oval_against_a_hull_computed_elsewhere(
    width: float, thick: float, clear: float, welt: float, drop: float
) -> None:
    turn = np.linspace(0, np.pi, 65)
    y, z = drop + width / 2 * (1 - np.cos(turn)), thick / 2 * np.sin(turn)
    seam = drop + width + clear
    got = half_wrap(y[None], z[None], np.array([seam]), np.array([welt / 2]), 0.5, 3.0)
    upper = np.column_stack([np.append(y, [0, seam]), np.append(z, [0, welt / 2])])
    # the hull by shapely, of the section closed along the middle plane, less what is not leather
    hull = shapely.MultiPoint([*upper, *(upper * [1, -1])]).convex_hull
    around = hull.length / 2 - welt / 2
    assert got.hull_mm[0] == pytest.approx(around, abs=1e-6)


@given(seed=st.integers(0, 10_000), rows=st.integers(1, 4), points=st.integers(2, 24))
@settings(max_examples=examples(60), deadline=None)
def test_hulls_of_many_sections_are_shapelys(seed: int, rows: int, points: int) -> None:
    rng = np.random.default_rng(seed)
    x, z = np.cumsum(rng.uniform(0.01, 3, (rows, points)), axis=1), rng.uniform(0, 9, (rows, points))
    for a, b, over in zip(x, z, hulls_over(x, z), strict=True):
        below = shapely.Polygon([(a[0], -1.0), *zip(a, b, strict=True), (a[-1], -1.0)])
        hull = shapely.convex_hull(below)
        cuts = [hull.intersection(shapely.LineString([(u, -5), (u, 50)])).bounds[3] for u in a]
        assert over == pytest.approx(cuts, abs=1e-6)
