"""How far points lie from lines, against GEOS."""

import numpy as np
import pytest
import shapely

from vow_line.core.proof import given


@pytest.mark.parametrize("at_once", [1, 7, 40, 500_000])
@pytest.mark.parametrize("seed", range(4))
def test_points_are_as_far_from_lines_as_geos_says(seed: int, at_once: int, monkeypatch: pytest.MonkeyPatch) -> None:
    """Strewn points, lines of two to nine of which one may turn back on itself; however many distances are taken at once."""
    monkeypatch.setattr(given, "AT_ONCE", at_once)
    rng = np.random.default_rng(seed)
    lines = [rng.uniform(-50, 50, (int(rng.integers(2, 10)), 2)) for _ in range(3)]
    lines.append(np.concatenate([lines[0], lines[0][:1], lines[0][:1]]))
    points = np.concatenate([rng.uniform(-60, 60, (int(rng.integers(0, 30)), 2)), lines[1][:2]])
    far = shapely.distance(shapely.MultiLineString(lines), shapely.points(points))
    assert given.from_line(points, *lines) == pytest.approx(far, abs=1e-9)
    assert np.isinf(given.from_line(points)).all()
