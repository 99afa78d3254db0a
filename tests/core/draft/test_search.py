"""The way out against brute force on random shapes, and against the way straight out."""

import numpy as np
import pytest
import scipy.spatial
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.jobs import demo
from tests.many import examples
from vow_line.core.curve import Line
from vow_line.core.draft.search import AT_ONCE, SHIFT_MM, SHIFTS, STEP_MM, TURN_RAD, TURNS, Way, near, search, straight
from vow_line.core.job import change, mend
from vow_line.core.plan import plan

UP = np.array([0.0, -1.0])


def _blob(seed: int, size: float = 14.0) -> Line:
    rng = np.random.default_rng(seed)
    turn = np.linspace(0, 2 * np.pi, 40, endpoint=False)
    far = size * (1 + sum(rng.uniform(-0.18, 0.18) * np.cos(k * turn + rng.uniform(0, 6)) for k in (2, 3, 4)))
    return np.column_stack([far * np.cos(turn), far * np.sin(turn)]) + [0, 40]


def _channel(left: float, right: float, high: float = 60.0) -> shapely.Geometry:
    """Two walls with the way up between them."""
    return shapely.union_all([shapely.box(-40, 0, left, high), shapely.box(right, 0, 40, high)])


@settings(max_examples=examples(12))
@given(st.integers(0, 10_000), st.floats(17, 24), st.floats(17, 24))
def test_straight_out_agrees_with_pushing_it_step_by_step(seed: int, left: float, right: float) -> None:
    ring, walls = _blob(seed), _channel(-left, right)
    way = straight(ring, walls, UP, 60.0)
    least = min(shapely.Polygon(ring + UP * mm).distance(walls) for mm in np.arange(0, 60, 0.5))
    assert way.least_mm == pytest.approx(least, abs=0.3) or (way.least_mm < 0 and least == 0)


@settings(max_examples=examples(8))
@given(st.integers(0, 10_000), st.floats(15, 22), st.floats(15, 22))
def test_the_search_is_as_good_as_trying_every_shift_and_turn(seed: int, left: float, right: float) -> None:
    """Every path over the same shifts and turns, by exact distances: the best least clearance, within a cell of the grid."""
    ring, walls = _blob(seed), _channel(-left, right, 30.0)
    way = search(ring, walls, UP, 40.0)
    assert isinstance(way, Way)
    pivot, shifts = ring.mean(axis=0), SHIFT_MM * (np.arange(SHIFTS) - SHIFTS // 2)
    turns = np.linspace(-TURN_RAD, TURN_RAD, TURNS)
    best = None
    for mm in way.drawn_mm:
        clear = np.empty((SHIFTS, TURNS))
        for j, turn in enumerate(turns):
            c, s = np.cos(turn), np.sin(turn)
            turned = (ring - pivot) @ np.array([[c, s], [-s, c]]) + pivot
            moved = shapely.polygons(turned + UP * mm + shifts[:, None, None] * [1.0, 0.0])
            clear[:, j] = np.where(shapely.intersects(moved, walls), -1.0, shapely.distance(moved, walls))
        clear = np.minimum(clear, 4.0)
        if best is None:
            best = np.full((SHIFTS, TURNS), -np.inf)
            best[SHIFTS // 2, TURNS // 2] = clear[SHIFTS // 2, TURNS // 2]
        else:
            padded, n = np.pad(best, AT_ONCE, constant_values=-np.inf), 2 * AT_ONCE + 1
            near = np.max([padded[a : a + SHIFTS, b : b + TURNS] for a in range(n) for b in range(n)], axis=0)
            best = np.minimum(clear, near)
    assert best is not None
    assert min(way.least_mm, 4.0) >= best.max() - 0.9
    if way.least_mm > 0:
        assert best.max() >= way.least_mm - 0.9 or way.least_mm > 4.0


def test_a_way_is_walked_in_small_steps_and_measured_as_it_is() -> None:
    ring, walls = _blob(3), _channel(-16, 22)
    way = search(ring, walls, UP, 60.0)
    assert way is not None
    assert np.abs(np.diff(way.poses[:, 2])).max() <= AT_ONCE * 2 * TURN_RAD / (TURNS - 1) + 1e-9
    assert np.abs(np.diff(way.poses[:, 0])).max() <= AT_ONCE * SHIFT_MM + 1e-9
    assert np.diff(way.drawn_mm).max() <= STEP_MM + 1e-9
    for k in range(0, len(way.drawn_mm), 7):
        assert shapely.Polygon(way.at(way.drawn_mm[k])).distance(walls) == pytest.approx(
            max(way.gap_mm[k], 0), abs=1e-6
        )


@pytest.mark.parametrize("seed", range(6))
def test_a_way_of_twelve_degrees_and_seven_mm_is_found(seed: int) -> None:
    """Walls are all but what a thing sweeps on a path that is known, and 1.2 mm beside it; straight out it is caught."""
    rng = np.random.default_rng(seed)
    ring, long = _blob(seed, 16.0) * [0.6, 1.6], 60.0
    pivot, sign = ring.mean(axis=0), rng.choice([-1, 1], 2)
    free = []
    for mm in np.linspace(0, long, 121):
        bend = np.sin(np.clip(mm / 24, 0, 1) * np.pi / 2)
        c, s = np.cos(np.radians(12) * bend * sign[0]), np.sin(np.radians(12) * bend * sign[0])
        moved = (ring - pivot) @ np.array([[c, s], [-s, c]]) + pivot + UP * mm + [7.0 * bend * sign[1], 0.0]
        free.append(shapely.Polygon(moved).buffer(1.2))
    walls = shapely.box(-60, -80, 60, 120).difference(shapely.union_all(free))
    assert straight(ring, walls, UP, long).least_mm < 0
    way = search(ring, walls, UP, long)
    assert way is not None
    assert way.least_mm > 0.2
    assert all(not shapely.Polygon(way.at(mm)).intersects(walls) for mm in way.drawn_mm)


@settings(max_examples=examples(10))
@given(st.integers(0, 10_000), st.floats(0.0, 3.0))
def test_what_lies_behind_is_not_entered_and_takes_no_clearance(seed: int, off: float) -> None:
    ring = _blob(seed)
    behind = shapely.box(-60, 0, float(ring[:, 0].min()) - off, 80)
    wall = shapely.box(float(ring[:, 0].max()) + 2.5, 0, 60, 80)
    way = search(ring, wall, UP, 60.0, behind=behind)
    assert way is not None
    assert way.least_mm >= 2.4, "it is as clear as the wall leaves it, however near the fold lies"
    for mm in way.drawn_mm[::5]:
        assert shapely.Polygon(way.at(mm)).intersection(behind).area < 0.5 * np.ptp(ring[:, 1])


def test_a_hook_that_is_caught_straight_comes_out_with_a_turn() -> None:
    draft = plan(change(demo("billhook-cover"), "piece.past_mm", 30.0)).draft
    assert draft.way_out.least_mm <= 0
    way = draft.search(progress=lambda _: True)
    assert way.least_mm > 0
    assert way.turned_rad > 0
    assert way.to_thread_mm < 7.5
    assert draft.search(progress=lambda share: share < 0.5) is None


def test_the_search_and_the_wrap_agree_on_the_knife_that_is_tight() -> None:
    tight = plan(demo("laying-knife")).draft
    opened = plan(change(demo("laying-knife"), "piece.opened", True)).draft
    assert tight.search(progress=lambda _: True).least_mm < 0.3
    free = opened.search(progress=lambda _: True)
    assert free.least_mm > 0
    assert free.to_thread_mm >= 3.0


def test_the_relief_a_search_asks_for_cures_the_way() -> None:
    job, gaps = demo("laying-knife"), []
    for _ in range(3):
        draft = plan(job).draft
        way = draft.search(progress=lambda _: True)
        gaps.append(way.least_mm)
        found = draft.judge(way)
        if found is None:
            break
        assert found.level == ("hold" if way.least_mm < 0 else "look")
        job = mend(job, found.mend)
    else:
        pytest.fail("relieved again and again, and never free")
    assert gaps == sorted(gaps)
    assert gaps[0] < 0 < gaps[-1]


@pytest.mark.parametrize("name", ["secateurs-holster", "laying-knife", "billhook-cover"])
def test_every_kind_that_can_be_drawn_out_says_how(name: str) -> None:
    draft = plan(demo(name)).draft
    way = draft.search(progress=lambda _: True)
    assert np.isfinite(way.gap_mm).all()
    assert way.at(0) == pytest.approx(way.ring)


@pytest.mark.parametrize("name", ["laying-knife", "hedging-knife", "spar-knife", "grafting-knife", "billhook-cover"])
def test_what_touches_while_it_is_drawn_is_what_the_sums_say_is_tightest(name: str) -> None:
    """The sums compare how wide each section is with what the pocket gives; here outlines are moved past each other."""
    out = plan(demo(name)).draft.way_out  # type: ignore[union-attr]
    assert out is not None
    near = [out.nearest(float(mm)) for mm in np.linspace(0.0, out.long_mm, 120)]
    gaps = np.array([n.gap_mm for n in near if n is not None])
    assert gaps.min() == pytest.approx(out.least_mm, abs=0.45)


def test_nearest_is_as_near_as_points_along_both() -> None:
    rng = np.random.default_rng(3)
    for _ in range(40):
        turn = np.sort(rng.uniform(0, 2 * np.pi, 9))
        ring = np.column_stack([np.cos(turn), np.sin(turn)]) * rng.uniform(5, 12, (9, 1))
        walls = shapely.box(*sorted(rng.uniform(-30, 30, 2)), *sorted(rng.uniform(31, 60, 2)))
        found = near(ring, walls)
        if found.gap_mm < 0:
            assert shapely.Polygon(ring).buffer(0).intersects(walls)
            continue
        along = np.linspace(0, 1, 4000)
        own, other = (
            shapely.get_coordinates(shapely.line_interpolate_point(k, along, normalized=True))
            for k in (shapely.LinearRing(ring), walls.exterior)
        )
        apart, _ = scipy.spatial.cKDTree(own).query(other)
        assert found.gap_mm == pytest.approx(apart.min(), abs=0.05)
        assert np.hypot(*(other[int(np.argmin(apart))] - found.at)) < 0.5 or apart.min() > found.gap_mm - 0.05


@pytest.mark.parametrize("form", ["two-parts", "folded"])
def test_a_worked_holster_all_the_way_in_is_as_near_its_thread_as_was_chosen(form: str) -> None:
    """Not by its flat front, which is wider by what goes over the thing."""
    job = change(demo("secateurs-holster"), "piece.form", form)
    out = plan(job).draft.way_out  # type: ignore[union-attr]
    assert out is not None
    near = out.nearest(0.0)
    assert near is not None
    assert near.gap_mm == pytest.approx(job.piece.close_mm, abs=0.2)  # type: ignore[attr-defined]
