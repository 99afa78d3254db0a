"""Seams with corners: a hole on each, every run fitted on its own."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import job_of, mended
from tests.many import ALL
from tests.plates import seam_line
from vow_line.core.curve import frozen
from vow_line.core.draft.kind import KindOfPiece
from vow_line.core.draft.kinds import KINDS
from vow_line.core.draft.pieces import Skive
from vow_line.core.draft.seam_line import Placed, Ply
from vow_line.core.finding import Finding
from vow_line.core.job import change
from vow_line.core.job import mend as press
from vow_line.core.plan import plan
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


@given(st.lists(st.floats(25, 90), min_size=3, max_size=7), st.floats(2, 5.5), st.floats(0.5, 6), st.booleans())
def test_a_ring_is_rounded_at_the_corner_it_begins_at_too(
    far: list[float], pitch: float, radius: float, begins_beside: bool
) -> None:
    """No hole of a ring with rounded corners lies nearer to any of them than the arc does: r (1/cos(θ/2) - 1), by hand."""
    turn = np.linspace(0, 2 * np.pi, len(far), endpoint=False)
    ring = np.array(far)[:, None] * np.column_stack([np.cos(turn), np.sin(turn)])
    if begins_beside:
        ring = np.vstack([(ring[0] + ring[-1]) / 2, ring])
    line = seam_line(ring, Ply("a", 2, 0), closed=True)
    seam = seam_of(line, StitchChoices(tool="awl", pitch_mm=pitch, round_mm=radius))
    steps = np.hypot(*(seam.points - np.roll(seam.points, 1, axis=0)).T)
    assert steps.min() > 0.5 * np.median(steps)
    corners = ring[1:] if begins_beside else ring
    before, after = corners - np.roll(corners, 1, axis=0), np.roll(corners, -1, axis=0) - corners
    theta = np.arccos(np.clip((before * after).sum(1) / np.hypot(*before.T) / np.hypot(*after.T), -1, 1))
    reach = radius * np.tan(theta / 2)
    room = np.minimum(np.hypot(*before.T), np.hypot(*after.T)) / 2
    for corner, angle, out, there in zip(corners, theta, reach, room, strict=True):
        if np.degrees(angle) > 31 and out < 0.9 * there:
            off = radius * (1 / np.cos(angle / 2) - 1)
            assert np.hypot(*(seam.points - corner).T).min() > 0.98 * off


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.model_fields["kind"].default)
def test_what_mends_an_iron_that_does_not_come_out_ends_it(kind: type[KindOfPiece]) -> None:
    """From plausible jobs at any pitch: the seam then comes out, and no pitch is changed by more than passes unseen."""
    rng, tried = np.random.default_rng(len(kind.__name__)), 0
    while tried < (12 if ALL else 2):
        job = mended(job_of(kind, rng))
        planned = plan(job)
        if any(f.level == "hold" for f in planned.findings):
            continue
        tried += 1
        for remainder in ("end", "spread"):
            iron = {"pitch_mm": round(float(rng.uniform(2.5, 5.5)), 2), "tool": "iron", "remainder": remainder}
            struck = change(job, "stitch", job.stitch.model_copy(update=iron))
            for finding in plan(struck).findings:
                if finding.code not in ("iron-remainder", "iron-does-not-fit"):
                    continue
                seam = _title(finding)
                for mend in finding.mends:
                    after = [f for f in plan(press(struck, mend)).findings if f.code in ("pitch-changed", finding.code)]
                    assert seam not in {_title(f) for f in after}, (mend.label, struck.stitch)


def _title(finding: Finding) -> str:
    return str(dict(finding.says.values)["seam"])
