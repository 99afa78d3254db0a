import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import demo, plain_job, plain_knife
from vow_line.core.curve import chord_error
from vow_line.core.job import change
from vow_line.core.plan import plan
from vow_line.core.stitch.holes import fitted, spread, strikes, struck
from vow_line.core.stitch.pattern import pattern


@given(st.floats(6, 900), st.floats(1.5, 12))
def test_a_fitted_run_has_equal_steps_and_both_ends(run: float, pitch: float) -> None:
    got = fitted(run, pitch)
    assert got.s_mm[0] == 0
    assert got.s_mm[-1] == pytest.approx(run)
    assert np.ptp(np.diff(got.s_mm)) < 1e-9
    assert len(got.s_mm) - 1 == max(1, round(run / pitch))


@given(st.floats(6, 900), st.floats(1.5, 12))
def test_an_iron_keeps_its_pitch_and_says_what_is_left(run: float, pitch: float) -> None:
    got = struck(run, pitch)
    assert np.diff(got.s_mm) == pytest.approx(pitch)
    assert got.s_mm[-1] + got.left_mm == pytest.approx(max(run, pitch) if run < pitch else run)
    assert got.left_mm < pitch


@given(st.floats(40, 900), st.floats(2, 8), st.integers(2, 8))
def test_a_spread_remainder_stays_within_each_strike(run: float, pitch: float, teeth: int) -> None:
    got = spread(run, pitch, teeth)
    if got is not None:
        assert got.s_mm[-1] == pytest.approx(run)
        assert np.abs(np.diff(got.s_mm) - pitch).max() <= 0.3 + 1e-9


def _fewest(points: np.ndarray, stack: np.ndarray, teeth: tuple[int, ...]) -> int:
    """Every sequence of strikes tried, shortest first."""

    def most(t: float) -> int:
        return 99 if t <= 4 else 4 if t <= 6 else 2 if t <= 10 else 1

    n, sizes = len(points), {*teeth, 1}

    def ok(a: int, m: int) -> bool:
        window = points[a : a + m]
        return m == 1 or (chord_error(window) <= 0.3 + 1e-9 and m <= min(most(t) for t in stack[a : a + m]))

    for count in itertools.count(1):
        fronts = {m - 1 for m in sizes if m <= n and ok(0, m)}
        for _ in range(count - 1):
            fronts |= {
                j + k for j in fronts for m in sizes for k in range(1, max(m, 2)) if j + k < n and j + k - m + 1 >= 0
                and ok(j + k - m + 1, m)
            }  # fmt: skip
        if n - 1 in fronts:
            return count
    raise AssertionError


@given(
    st.lists(st.floats(-0.6, 0.6), min_size=3, max_size=13), st.lists(st.floats(1, 12), min_size=14, max_size=14),
    st.lists(st.integers(2, 7), min_size=1, max_size=3),
)  # fmt: skip
def test_strikes_are_the_fewest_and_make_every_hole_once(
    turns: list[float], stacks: list[float], teeth: list[int]
) -> None:
    heading = np.cumsum(turns)
    points = np.concatenate([[[0, 0]], np.cumsum(4 * np.column_stack([np.cos(heading), np.sin(heading)]), axis=0)])
    stack = np.array(stacks[: len(points)])
    plan_ = strikes(points, stack, tuple(teeth))
    made: list[int] = []
    for strike in plan_:
        holes = list(range(strike.first, strike.first + strike.teeth))
        assert len([h for h in holes if h not in made]) == strike.fresh
        assert not made or holes[0] in made or strike.teeth == 1
        made += [h for h in holes if h not in made]
        assert chord_error(points[holes]) <= 0.3 + 1e-6
    assert made == list(range(len(points)))
    assert len(plan_) == _fewest(points, stack, tuple(teeth))


@pytest.mark.parametrize("name", ["laying-knife", "hedging-knife", "spar-knife", "grafting-knife"])
def test_partners_carry_the_same_holes_on_the_line_and_inside_the_piece(name: str) -> None:
    planned = plan(demo(name))
    assert planned.draft is not None
    assert planned.stitching is not None
    for seam in planned.stitching.seams:
        line = shapely.LineString(
            np.vstack([seam.line.line, seam.line.line[:1]]) if seam.line.shape == "box" else seam.line.line
        )
        if seam.line.shape == "line":
            assert shapely.distance(shapely.points(seam.points), line).max() < 1e-6
        for k, placed in enumerate(seam.line.placed):
            ring = shapely.Polygon(planned.draft.piece(placed.piece).outline)
            assert shapely.contains(ring, shapely.points(seam.on(k))).all(), (seam.name, placed.piece)
            assert len(seam.on(k)) == len(seam.points)


@given(
    st.floats(18, 50), st.floats(80, 220), st.floats(3, 6), st.floats(4, 9), st.floats(2.5, 6),
    st.sampled_from(["iron", "wheel", "awl"]), st.sampled_from(["straight", "sloped", "scooped"]), st.booleans(),
)  # fmt: skip
def test_on_any_ordinary_knife_holes_lie_on_the_line_and_inside_the_piece(
    width: float, long: float, margin: float, to_thread: float, pitch: float, tool: str, mouth: str, formed: bool
) -> None:
    job = plain_job(margin_mm=margin, edge_to_thread_mm=to_thread, mouth=mouth, formed=formed)
    job = job.model_copy(update={"thing": plain_knife(width, 3.0, long)})
    planned = plan(change(change(job, "stitch.pitch_mm", pitch), "stitch.tool", tool))
    seam = planned.stitching.seam("main-seam")  # type: ignore[union-attr]
    assert shapely.distance(shapely.points(seam.points), shapely.LineString(seam.line.line)).max() < 1e-6
    for k, placed in enumerate(seam.line.placed):
        ring = shapely.Polygon(planned.draft.piece(placed.piece).outline)  # type: ignore[union-attr]
        assert shapely.contains(ring, shapely.points(seam.on(k))).all(), placed.piece
        assert len(seam.on(k)) == len(seam.points)
    steps = np.diff(seam.s_mm)
    assert np.ptp(steps) < 1e-9, "equal pitch along the run"


def test_the_skived_welt_thins_the_stack_at_the_mouth() -> None:
    seam = plan(plain_job(welt_mm=3.0, skive_mm=25.0)).stitching.seam("main-seam")  # type: ignore[union-attr]
    base = 2 * 3.2
    assert seam.stack_mm[-1] == pytest.approx(base + 3.0)
    from_mouth = seam.points[:, 1] + 30
    skived = from_mouth < 25
    assert skived.any()
    assert seam.stack_mm[skived] == pytest.approx(base + 3.0 * from_mouth[skived] / 25)


def test_a_box_and_its_cross_share_corners_and_no_hole_in_the_middle() -> None:
    seam = plan(plain_job()).stitching.seam("belt-loop")  # type: ignore[union-attr]
    assert len(np.unique(seam.points.round(6), axis=0)) == len(seam.points)
    walked = [tuple(sorted(p)) for p in itertools.pairwise(seam.order)]
    assert {c for pair in walked for c in pair} == set(range(len(seam.points)))
    assert (seam.steps_mm < 1.35 * 4.0).all(), "no stitch jumps over leather"
    twice = [p for p in set(walked) if walked.count(p) == 2]
    assert 0 < len(twice) < len(walked) / 3, "one side, and only one, is sewn twice"


def test_a_stitch_in_the_way_of_the_edge_is_held() -> None:
    job = change(demo("laying-knife"), "piece.edge_to_thread_mm", 3.2)
    found = [f for f in plan(job).holds if f.code == "thread-near-edge"]
    assert found


def test_a_seam_without_room_and_a_stack_too_thick_are_found() -> None:
    long_ends = change(plain_job(welt_mm=6.0), "stitch.start_in_mm", 50.0)
    assert "stack-too-thick" in {f.code for f in plan(long_ends).findings}
    tiny = change(change(plain_job(), "stitch.pitch_mm", 20.0), "stitch.start_in_mm", 50.0)
    tiny = change(tiny, "thing.length.first", 100.0)
    tiny = change(tiny, "stitch.end_in_mm", 50.0)
    planned = plan(change(tiny, "piece.seat_mm", 0.0))
    assert planned.stitching is not None


def test_the_pattern_says_everything_a_cutter_needs() -> None:
    planned = plan(demo("hedging-knife"))
    meanings = {m.meaning for p in planned.draft.pieces for m in pattern(p, planned.stitching)}  # type: ignore[union-attr,arg-type]
    assert {"cut", "fold", "hole", "stitch", "skive", "glue", "grain"} <= meanings
