"""Seams with corners: a hole on each, every run fitted on its own."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.plates import seam_line
from vow_line.core.curve import frozen
from vow_line.core.draft.pieces import Skive
from vow_line.core.draft.seam_line import Placed, Ply
from vow_line.core.stitch import Seam, StitchChoices
from vow_line.core.stitch.seams import seam_of


def _seam(points: list[tuple[float, float]], **choices: object) -> Seam:
    return seam_of(
        seam_line(points, Ply("a", 2, 0), Ply("b", 2, 0)), StitchChoices(start_in_mm=0, end_in_mm=0, **choices)
    )


@given(st.lists(st.floats(12, 90), min_size=2, max_size=5), st.floats(2, 6))
def test_an_awl_puts_a_hole_on_every_corner_and_fits_every_run(sides: list[float], pitch: float) -> None:
    at, points = np.zeros(2), [(0.0, 0.0)]
    for k, side in enumerate(sides):
        at = at + (np.array([side, 0]) if k % 2 == 0 else np.array([0, side]))
        points.append((float(at[0]), float(at[1])))
    seam = _seam(points, tool="awl", pitch_mm=pitch)
    corners = np.array(points[1:-1])
    for corner in corners:
        assert np.hypot(*(seam.points - corner).T).min() < 1e-6
    assert len(seam.corner) == len(sides) - 1
    bounds = [0, *seam.corner, len(seam.points) - 1]
    for a, b, side in zip(bounds, bounds[1:], sides, strict=False):
        steps = np.hypot(*np.diff(seam.points[a : b + 1], axis=0).T)
        assert steps == pytest.approx(np.full(b - a, side / max(1, round(side / pitch))))


def test_an_iron_loses_the_remainder_of_an_inner_run_in_its_strikes() -> None:
    seam = _seam([(0, 0), (40.4, 0), (40.4, 30), (0, 30)], tool="iron", pitch_mm=4.0, teeth=(3, 1))
    steps = np.hypot(*np.diff(seam.points, axis=0).T)
    first_run = steps[: seam.corner[0]]
    assert first_run.sum() == pytest.approx(40.4)
    assert np.abs(first_run - 4.0).max() <= 0.3 + 1e-9
    assert sorted(np.unique(first_run.round(6))) != [4.0]


def test_no_strike_goes_round_a_corner() -> None:
    seam = _seam([(0, 0), (40, 0), (40, 40)], tool="iron", pitch_mm=4.0, teeth=(6, 4, 2))
    corner = seam.corner[0]
    for strike in seam.strikes:
        last = strike.first + strike.teeth - 1
        assert last <= corner or strike.first >= corner


def test_the_stack_is_read_under_each_hole() -> None:
    skive = Skive("end", "to nothing", frozen([[0, 0], [9, 0], [9, 50]]), 5.0, 0.0, (0.0, 50.0), (0.0, 0.0))
    line = seam_line([[0, 0], [0, 100.0]], Ply("face", 3.0, 0), Ply("filler", 5.0, 0, (skive,)))
    seam = seam_of(line, StitchChoices(start_in_mm=0, end_in_mm=0, tool="awl", pitch_mm=10))
    assert seam.stack_mm == pytest.approx(3.0 + np.minimum(np.arange(0, 101, 10) / 10, 5.0))


def test_placing_turns_and_moves_the_holes() -> None:
    quarter = Placed("other", frozen([[0, 1], [-1, 0]]), (5.0, 7.0))
    line = seam_line([[0, 0], [20.0, 0]], placed=(Placed("piece"), quarter))
    seam = seam_of(line, StitchChoices(start_in_mm=0, end_in_mm=0, tool="awl", pitch_mm=5))
    assert seam.on(1) == pytest.approx(np.column_stack([np.full(5, 5.0), 7.0 + np.arange(0, 21, 5)]))
    assert seam.on(0) == pytest.approx(seam.points)
