import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vow_line.core.thread.lace import Lacing, picture, sums


def test_the_length_of_a_criss_cross() -> None:
    """g + 2(n-1)√(g² + h²) + 2 tails, here by a 3-4-5 triangle."""
    lacing = Lacing(eyelets=5, gap_mm=30, spacing_mm=40, tail_mm=100, leather_mm=2.5)
    assert lacing.long_mm == pytest.approx(30 + 2 * 4 * 50 + 10 * 2.5 + 200)


@given(st.integers(2, 30), st.floats(5, 80), st.floats(10, 80), st.floats(0, 400), st.floats(2, 12), st.floats(0, 60))
def test_the_disc_gives_the_lace_it_was_reckoned_for(
    n: int, gap: float, spacing: float, tail: float, wide: float, core: float
) -> None:
    """π(R² - r²)/w, and the spiral drawn on it is as long."""
    lacing = Lacing(eyelets=n, gap_mm=gap, spacing_mm=spacing, tail_mm=tail, wide_mm=wide, core_mm=core)
    yields = np.pi * ((lacing.disc_mm / 2) ** 2 - (core / 2) ** 2) / wide
    assert yields == pytest.approx(lacing.long_mm)
    marks = {(m.id, m.meaning): m.line for m in picture(lacing)}
    strokes = marks["lace", "front thread"].reshape(-1, 2, 2)
    assert np.hypot(*np.diff(strokes, axis=1)[:, 0].T).sum() == pytest.approx(lacing.long_mm - 2 * tail)
    assert len(sums(lacing)) == 3


def test_a_spiral_is_as_long_as_its_area_over_its_width() -> None:
    lacing = Lacing(wide_mm=3, core_mm=20)
    spiral = next(m.line for m in picture(lacing) if m.meaning == "cut" and not m.size_mm)
    assert np.hypot(*np.diff(spiral, axis=0).T).sum() == pytest.approx(lacing.long_mm, rel=0.06), (
        "what is drawn is the disc for all of it"
    )
