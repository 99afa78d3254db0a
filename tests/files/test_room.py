"""Where words find room on a pattern, against trying every place by itself."""

import numpy as np
import pytest
import shapely
import shapely.affinity

from vow_line.core.pages import CLEAR_MM, STEP_MM, Room
from vow_line.files.print_words import _close

TURNS = (0.0, -np.pi / 2, 0.7)


def _case(seed: int) -> tuple[shapely.Polygon, np.ndarray, tuple[float, float], tuple[float, float]]:
    """A wild ring 25 to 90 mm across, up to sixty points strewn over it, a box that fits about half the time, a place."""
    rng = np.random.default_rng(seed)
    ways = np.sort(rng.uniform(0, 2 * np.pi, 9))
    far = rng.uniform(12, 45, 9)
    area = shapely.Polygon(np.column_stack([np.cos(ways), np.sin(ways)]) * far[:, None] + rng.uniform(-50, 50, 2))
    x0, y0, x1, y1 = area.bounds
    points = rng.uniform((x0, y0), (x1, y1), (int(rng.integers(0, 60)), 2))
    size = float(rng.uniform(10, 50)), float(rng.uniform(2, 12))
    return area.buffer(0), points, size, (float(rng.uniform(x0, x1)), float(rng.uniform(y0, y1)))


def _lies(area: shapely.Polygon, points: np.ndarray, size: tuple[float, float], at: np.ndarray, turn: float) -> bool:
    """Whether the box lies in the area and clear of the points, by turning all of it about the box's middle."""
    wide, high = size[0] / 2, size[1] / 2
    about = {"angle": -turn, "origin": tuple(at), "use_radians": True}
    upright = shapely.affinity.rotate(area, **about)
    clear = shapely.box(at[0] - wide, at[1] - high, at[0] + wide, at[1] + high).buffer(CLEAR_MM, join_style="mitre")
    strewn = shapely.affinity.rotate(shapely.MultiPoint(points), **about)
    return upright.contains(
        shapely.box(at[0] - wide, at[1] - high, at[0] + wide, at[1] + high)
    ) and not clear.intersects(strewn)


@pytest.mark.parametrize("seed", range(24))
def test_the_place_that_is_found_is_free_and_the_nearest_of_its_grid(seed: int) -> None:
    area, points, size, near = _case(seed)
    found = Room(area).place(size, TURNS, points, near)
    for turn in TURNS:
        upright = shapely.affinity.rotate(area, -turn, origin=(0, 0), use_radians=True)
        x0, y0, x1, y1 = upright.bounds
        grid = np.stack(
            np.meshgrid(np.arange(x0 + STEP_MM / 2, x1, STEP_MM), np.arange(y0 + STEP_MM / 2, y1, STEP_MM)), -1
        )
        c, s = np.cos(turn), np.sin(turn)
        places = grid.reshape(-1, 2) @ np.array([[c, s], [-s, c]])
        free = [at for at in places if _lies(area, points, size, at, turn)]
        if found is not None and found[2] == turn:
            assert _lies(area, points, size, np.array(found[:2]), turn)
            assert np.hypot(*(np.array(found[:2]) - near)) <= min(np.hypot(*(at - near)) for at in free) + 1e-9
            return
        assert not free, turn
    assert found is None


def test_half_of_these_find_room() -> None:
    """What the cases above are: neither all with room nor all without."""
    found = [
        Room(area).place(size, TURNS, points, near) is not None for area, points, size, near in map(_case, range(24))
    ]
    assert 6 < sum(found) < 20


@pytest.mark.parametrize("points", [[(3.0, 9.0), (3.0, 9.0)], [(0.0, 0.0), (0.0, 0.0), (31.0, 0.0)], [(5.0, 5.0)]])
def test_words_keep_clear_of_a_line_wherever_it_runs_even_one_without_length(points: list[tuple[float, float]]) -> None:
    close = _close(np.array(points))
    whole = shapely.LineString(points) if len(set(points)) > 1 else shapely.Point(points[0])
    for share in np.linspace(0, 1, 50):
        at = whole.interpolate(share, normalized=True) if len(set(points)) > 1 else whole
        assert np.hypot(*(close - [at.x, at.y]).T).min() <= 1.0 + 1e-9
