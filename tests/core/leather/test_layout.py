import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry.base import BaseGeometry

from tests.jobs import demo, plain_job
from tests.many import examples
from vow_line.core.job import change
from vow_line.core.leather.layout import _within
from vow_line.core.plan import plan


def _check(job: object) -> None:
    planned = plan(job)  # type: ignore[arg-type]
    layout, hide = planned.layout, planned.job.leather
    assert layout is not None
    sound: BaseGeometry = shapely.Polygon(hide.outline).buffer(0)
    for flaw in hide.flaws:
        sound = sound.difference(shapely.Polygon(flaw))
    rings = [shapely.Polygon(x.outline).buffer(0) for x in layout.laid]
    for k, ring in enumerate(rings):
        assert sound.buffer(1e-6).contains(ring)
        for other in rings[:k]:
            assert ring.distance(other) >= 2.0 - 1e-6
    areas = {p.id: p.area_mm2 for p in planned.draft.pieces}  # type: ignore[union-attr]
    for laid, ring in zip(layout.laid, rings, strict=True):
        assert ring.area == pytest.approx(areas[laid.piece], rel=1e-3)


@pytest.mark.parametrize("name", ["laying-knife", "hedging-knife", "spar-knife", "grafting-knife"])
def test_pieces_lie_inside_off_the_flaws_and_apart(name: str) -> None:
    _check(demo(name))
    assert not plan(demo(name)).layout.missing  # type: ignore[union-attr]


@given(st.floats(-3, 3), st.lists(st.floats(60, 200), min_size=5, max_size=12))
def test_on_any_hide_whatever_way_it_stretches(best: float, radii: list[float]) -> None:
    a = np.linspace(0, 2 * np.pi, len(radii), endpoint=False)
    ring = tuple((float(r * np.cos(t)), float(r * np.sin(t))) for r, t in zip(radii, a, strict=True))
    job = change(plain_job(), "leather.outline", ring)
    _check(change(job, "leather.best_rad", best))


@given(
    st.lists(st.floats(20, 400), min_size=3, max_size=12), st.lists(st.floats(-200, 200), max_size=4), st.floats(2, 30)
)
def test_cells_are_the_ones_that_leather_covers_wholly(radii: list[float], flaws: list[float], hole: float) -> None:
    a = np.linspace(0, 2 * np.pi, len(radii), endpoint=False)
    sound: BaseGeometry = shapely.Polygon(np.column_stack([radii * np.cos(a), radii * np.sin(a)])).buffer(0)
    for at in flaws:
        sound = sound.difference(shapely.Point(at, -at / 2).buffer(hole))
    x, y = np.arange(-200.0, 190.0, 7.0), np.arange(-300.0, 310.0, 7.0)
    found = _within(sound, x, y, 7.0)
    for i, j in itertools.product(range(0, len(x), 3), range(0, len(y), 3)):
        cell = shapely.box(x[i], y[j], x[i] + 7, y[j] + 7)
        if found[i, j]:
            assert cell.difference(sound).area == pytest.approx(0.0, abs=1e-9)
        else:
            assert cell.buffer(1e-6).difference(sound).area > 0.0


@settings(max_examples=examples(40))
@given(st.floats(-3, 3))
def test_what_must_run_along_the_back_does(best: float) -> None:
    """By the motion that lays the pattern on the leather: the pattern's own way down comes to lie along the hide's best way."""
    job = change(
        change(plain_job(), "leather.best_rad", best), "leather.outline", ((0, 0), (900, 0), (900, 900), (0, 900))
    )
    planned = plan(job)
    along = [p for p in planned.draft.pieces if p.turns == "along"]  # type: ignore[union-attr]
    assert {p.id for p in along} == {"sheath", "belt-loop"}
    for piece in along:
        laid = next(x for x in planned.layout.laid if x.piece == piece.id)  # type: ignore[union-attr]
        one, other = piece.outline - piece.outline.mean(axis=0), laid.outline - laid.outline.mean(axis=0)
        u, _, vt = np.linalg.svd(one.T @ other)
        down = np.array([0.0, 1.0]) @ u @ vt
        assert abs(down @ [np.cos(best), np.sin(best)]) == pytest.approx(1.0, abs=1e-6)


def test_leather_too_small_is_held_with_its_sizes() -> None:
    job = change(plain_job(), "leather.outline", ((0, 0), (80, 0), (80, 60), (0, 60)))
    held = [f for f in plan(job).holds if f.code == "leather-too-small"]
    assert held
    assert "80 by 60 mm" in held[0].says.write(job.units)
