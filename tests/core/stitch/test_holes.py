import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.ops import substring

from tests.bodies import plausible
from tests.jobs import demo, plain_job, plain_knife
from vow_line.core.curve import chord_error, walk
from vow_line.core.draft.kinds.folded_sheath import FoldedSheath
from vow_line.core.draft.kinds.two_part_sheath import TwoPartSheath
from vow_line.core.job import Job, change, mend
from vow_line.core.measure.things.knife import Knife
from vow_line.core.plan import plan
from vow_line.core.stitch.holes import fitted, set_anew, spread, strikes, struck
from vow_line.core.stitch.pattern import pattern


@given(st.floats(6, 900), st.floats(1.5, 12))
def test_a_fitted_run_has_equal_steps_and_both_ends(run: float, pitch: float) -> None:
    got = fitted(run, pitch)
    assert got.s_mm[0] == 0
    assert got.s_mm[-1] == pytest.approx(run)
    assert np.ptp(np.diff(got.s_mm)) < 1e-9
    assert len(got.s_mm) - 1 == max(1, round(run / pitch))


def _bent(long: float, bend: float) -> np.ndarray:
    """A line of a length whose heading swings to and fro by so many radians."""
    s = np.linspace(0, long, 400)
    heading = bend * np.sin(s / 40)
    steps = np.diff(s)[:, None] * np.column_stack([np.cos(heading[1:]), np.sin(heading[1:])])
    return np.concatenate([[[0.0, 0.0]], np.cumsum(steps, axis=0)])


@given(st.floats(6, 600), st.floats(1.5, 12), st.floats(0, 1.2))
def test_an_iron_keeps_its_pitch_straight_across_and_says_what_is_left(run: float, pitch: float, bend: float) -> None:
    """Each hole found anew from the one before: where a circle of one pitch about it leaves the line (GEOS)."""
    line = _bent(run, bend)
    got = struck(line, pitch)
    holes = walk(line, got.s_mm)
    if got.left_mm >= 0:
        assert got.s_mm[-1] + got.left_mm == pytest.approx(run)
        assert np.hypot(*np.diff(holes, axis=0).T) == pytest.approx(pitch, abs=1e-5)
        assert np.hypot(*(line[-1] - holes[-1])) < pitch, "not one more hole would go"
    else:
        assert len(holes) == 2, "a run shorter than the pitch"
    rest, at = shapely.LineString(line), got.s_mm[0]
    for s_mm in got.s_mm[1:8]:
        if s_mm > run:
            break
        ahead = substring(rest, at, min(at + 2 * pitch, run))
        hits = shapely.get_coordinates(
            shapely.intersection(ahead, shapely.Point(ahead.coords[0]).buffer(pitch, 256).exterior)
        )
        assert np.hypot(*(hits - walk(line, [s_mm])[0]).T).min() < 2e-3 * pitch
        at = s_mm


@given(st.floats(40, 500), st.floats(2, 8), st.integers(2, 8), st.floats(0, 0.8))
def test_a_remainder_is_lost_only_where_a_strike_is_set(run: float, pitch: float, teeth: int, bend: float) -> None:
    """The holes are made again with an iron that cannot bend: each of its teeth but the first finds its own hole."""
    line = _bent(run, bend)

    def anew(s_mm: np.ndarray, even: float) -> tuple[int, ...]:
        points = walk(line, s_mm)
        return set_anew(strikes(points, np.ones(len(points)), (teeth,), even, loose=True))

    got = spread(line, pitch, anew)
    if got is None:
        return
    assert got.s_mm[-1] == pytest.approx(run, abs=1e-5)
    holes = walk(line, got.s_mm)
    gaps = np.hypot(*np.diff(holes, axis=0).T)
    assert np.abs(gaps - pitch).max() <= 0.3 + 2e-3
    made = strikes(holes, np.ones(len(holes)), (teeth,), pitch)
    assert sum(k.fresh for k in made) == len(holes)
    for k in made:
        own = gaps[k.first + (k.old == 1) : k.first + k.teeth - 1]
        assert own == pytest.approx(pitch, abs=1e-4), "no gap inside a strike is off"


@given(st.floats(40, 80), st.floats(3, 6), st.floats(0.2, 6), st.floats(2, 30), st.integers(0, 40))
def test_no_hole_is_claimed_that_an_iron_cannot_make(
    run: float, pitch: float, hook: float, back: float, at: int
) -> None:
    """A line that turns back on itself more tightly than the prong is long, its hook anywhere along it."""
    line = np.array([[0.0, 0.0], [run * at / 40, 0.0], [run * at / 40 + hook, hook / 2], [run * at / 40 - back, hook]])
    line = line[np.concatenate([[True], np.hypot(*np.diff(line, axis=0).T) > 1e-6])]
    got = spread(line, pitch, lambda s, _: range(len(s)))
    if got is not None:
        assert np.hypot(*np.diff(walk(line, got.s_mm), axis=0).T) == pytest.approx(pitch, abs=0.302)
        assert walk(line, got.s_mm[-1:])[0] == pytest.approx(line[-1], abs=1e-3)


def test_a_remainder_that_no_strike_is_there_to_lose_is_left() -> None:
    straight = np.array([[0.0, 0.0], [100.5, 0.0]])
    assert spread(straight, 4.0, lambda *_: (5, 10)) is not None
    assert spread(straight, 4.0, lambda *_: (10,)) is None, "half a mm is more than one strike loses"
    got = spread(straight, 4.0, lambda *_: (5, 10, 15))
    assert got is not None
    assert np.diff(got.s_mm)[[10, 15]] == pytest.approx(4.25), "the last ones lose it, in the gap they begin with"


def _fewest(
    points: np.ndarray, stack: np.ndarray, teeth: tuple[int, ...], pitch: float, begun: bool, ended: bool
) -> int:
    """Every sequence of strikes tried, shortest first."""

    def most(t: float) -> int:
        return 99 if t <= 4 else 4 if t <= 6 else 2 if t <= 10 else 1

    n, sizes = len(points), {*teeth, 1}

    def ok(a: int, m: int, made: int) -> bool:
        """Whether the prong lies straight, goes through, and finds its holes: each tooth where it is, measured along."""
        window = points[a : a + m]
        if m > 1 and (chord_error(window) > 0.3 + 1e-9 or m > min(most(t) for t in stack[a : a + m])):
            return False
        at = np.cumsum([0.0, *(float(np.hypot(*(q - p))) for p, q in itertools.pairwise(window))])
        off = at - pitch * np.arange(m)
        if made - a == 1 and m > 1:
            return abs(off[1]) <= 0.4 + 1e-9 and np.ptp(off[1:]) <= 0.1 + 1e-9
        return bool(np.ptp(off) <= 0.1 + 1e-9)

    goals = {n - 1, n - 2} if ended else {n - 1}
    fronts = {0} if begun else {-1}
    for count in itertools.count():
        if fronts & goals:
            return count
        fronts |= {
            j + k for j in fronts for m in sizes for k in range(1, m + 1)
            if j + k < n and 0 <= j + k - m + 1 <= j + 1 and (m == 1 or j + k - m + 1 <= j or j < 0)
            and ok(j + k - m + 1, m, j + 1)
        }  # fmt: skip
    raise AssertionError


@given(
    st.lists(st.floats(-0.6, 0.6), min_size=3, max_size=13), st.lists(st.floats(1, 12), min_size=14, max_size=14),
    st.lists(st.integers(2, 7), min_size=1, max_size=3), st.lists(st.sampled_from([0.0, 0.0, 0.0, 0.25, -0.3, 0.6]),
    min_size=13, max_size=13), st.booleans(), st.booleans(),
)  # fmt: skip
def test_strikes_are_the_fewest_and_make_every_hole_once(
    turns: list[float], stacks: list[float], teeth: list[int], off: list[float], begun: bool, ended: bool
) -> None:
    heading, step = np.cumsum(turns), 4 + np.array(off[: len(turns)])
    steps = step[:, None] * np.column_stack([np.cos(heading), np.sin(heading)])
    points = np.concatenate([[[0, 0]], np.cumsum(steps, axis=0)])
    stack = np.array(stacks[: len(points)])
    plan_ = strikes(points, stack, tuple(teeth), 4.0, begun=begun, ended=ended)
    there = {k for k, is_ in ((0, begun), (len(points) - 1, ended)) if is_}
    made: list[int] = []
    for strike in plan_:
        holes = list(range(strike.first, strike.first + strike.teeth))
        fresh = [h for h in holes if h not in made and h not in there]
        assert len(fresh) == strike.fresh
        assert not (made or begun) or strike.teeth == 1 or holes[0] in made or holes[0] in there
        made += fresh
        assert chord_error(points[holes]) <= 0.3 + 1e-6
    assert made == [h for h in range(len(points)) if h not in there]
    assert len(plan_) == _fewest(points, stack, tuple(teeth), 4.0, begun, ended)


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
    steps = np.hypot(*np.diff(seam.points, axis=0).T) if tool == "iron" else np.diff(seam.s_mm)
    assert np.ptp(steps) < 1e-5, "an iron's pitch is straight across, a wheel's along the run"


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


@pytest.mark.parametrize("seed", range(5))
def test_a_thread_in_the_way_of_the_edge_is_moved_out_of_it_in_one_press(seed: int) -> None:
    rng, held = np.random.default_rng(seed), 0
    for piece in (FoldedSheath(opened=False, edge_to_thread_mm=3.0), FoldedSheath(edge_to_thread_mm=1.0),
                  TwoPartSheath(close_mm=1.5)):  # fmt: skip
        job = Job(name="any", thing=plausible(Knife, rng, piece.kind), piece=piece)
        for found in [f for f in plan(job).holds if f.code == "thread-near-edge"]:
            held += 1
            assert found.code not in {f.code for f in plan(mend(job, found.mend)).holds}
    assert held


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
