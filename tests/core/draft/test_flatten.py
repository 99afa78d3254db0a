"""Flat from round: closed forms, a belt on a sphere, frusta with darts, finer meshes; the energy never rises."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator
from scipy.special import ellipe

from tests.bodies import plausible
from tests.many import examples, many
from vow_line.core.curve import frozen
from vow_line.core.draft.flatten import flatten
from vow_line.core.draft.mesh import triangles
from vow_line.core.draft.surface import around, half_width, perimeter, surface
from vow_line.core.measure.body import LimbBody
from vow_line.core.measure.things.limb import Limb


def limb(*read: tuple[float, float], ratio: float = 1.0, off: tuple[float, ...] | None = None) -> LimbBody:
    rows = np.array(read, float)
    return LimbBody(
        "limb", 0.0, frozen(rows), frozen(np.full(len(rows), ratio)), None if off is None else frozen(off), False
    )


def cone(low: float, high: float, long: float, columns: int = 25, rows: int = 15, ratio: float = 1.0,
         straight: bool = False) -> np.ndarray:  # fmt: skip
    """A cone cut open at its back, its polygons as long round as its girths, on its axis or with its front straight."""
    at = np.linspace(1, 0, rows)
    points = []
    for k in at:
        girth = low + (high - low) * k
        ring = around(ratio, columns - 1, np.pi)
        ring = ring * girth / np.hypot(*np.diff(ring, axis=0).T).sum()
        centre = float(half_width(np.array(girth), np.array(ratio))) * ratio if straight else 0.0
        points.append(np.column_stack([ring[:, 0], ring[:, 1] + centre, np.full(columns, long * k)]))
    return np.array(points)


@given(a=st.floats(5, 200), f=st.floats(0.3, 2.5))
def test_round_an_ellipse_is_the_elliptic_integral(a: float, f: float) -> None:
    assert float(perimeter(np.array(a), np.array(f))) == pytest.approx(4 * a * ellipe(1 - f * f), rel=1e-12)
    assert float(half_width(perimeter(np.array(a), np.array(f)), np.array(f))) == pytest.approx(a)


def test_a_cylinder_and_a_right_cone_lie_flat_as_their_sectors_without_strain() -> None:
    flat = flatten(cone(300, 300, 200))
    assert max(np.abs(flat.most).max(), np.abs(flat.least).max()) < 1e-6
    assert np.ptp(flat.points[..., 0]) == pytest.approx(300, abs=0.01)
    assert np.ptp(flat.points[..., 1]) == pytest.approx(200, abs=0.01)
    # a polygon's cone is a pyramid: its slant height along the edges, its rows straight from edge to edge
    points = cone(200, 320, 250, columns=49)
    flat = flatten(points)
    assert max(np.abs(flat.most).max(), np.abs(flat.least).max()) < 1e-6
    slant = float(np.linalg.norm(points[0, 0] - points[-1, 0]))
    radius = 320 * slant / 120
    half = 48 * np.arcsin(320 / 48 / 2 / radius)  # half the angle of the sector, by its chords
    edge = flat.points[0, -1]
    assert edge[0] == pytest.approx(radius * np.sin(half), abs=0.01)
    assert edge[1] == pytest.approx(
        radius * (1 - np.cos(half)) * -1 if edge[1] < 0 else radius * (1 - np.cos(half)), abs=0.02
    )
    assert 2 * half == pytest.approx(120 / np.hypot(250, 120 / (2 * np.pi)), rel=2e-3), (
        "the sector of trade: angle C1 / R1"
    )


@pytest.mark.parametrize(("ratio", "straight"), [(0.8, False), (1.3, False), (1.0, True), (0.85, True)])
def test_elliptic_cones_and_cones_with_their_front_straight_lie_flat_without_strain(
    ratio: float, straight: bool
) -> None:
    flat = flatten(cone(180, 260, 220, ratio=ratio, straight=straight))
    assert max(np.abs(flat.most).max(), np.abs(flat.least).max()) < 1e-6


@pytest.mark.parametrize("w", [0.1, 0.2, 0.3])
def test_a_belt_on_a_sphere_is_stretched_as_by_the_closed_form(w: float) -> None:
    """A strip of half width w on a sphere of radius 1, away from its ends: strain along it w²/6 - y²/2 (flat to round), and its
    equator (w / artanh(sin w)) times as long flat as round: the least energy, from memory, derived anew for this test.
    """
    rows, columns = 13, 121
    lat, lon = np.linspace(w, -w, rows), np.linspace(-6 * w, 6 * w, columns)
    points = np.stack(
        [np.outer(np.cos(lat), np.sin(lon)), np.outer(np.cos(lat), -np.cos(lon)), np.outer(np.sin(lat), np.ones(columns))], -1
    ) * 100  # fmt: skip
    flat = flatten(points)
    z = flat.points
    inner = slice(columns // 4, -columns // 4)
    length = np.linalg.norm(np.diff(z[:, inner], axis=1), axis=2).sum(axis=1)
    round_ = np.linalg.norm(np.diff(points[:, inner], axis=1), axis=2).sum(axis=1)
    strain = round_ / length - 1
    assert strain == pytest.approx(w**2 / 6 - lat**2 / 2, abs=0.35 * w**3 + 2e-4)
    assert round_[rows // 2] / length[rows // 2] == pytest.approx(np.arctanh(np.sin(w)) / w, rel=4e-4)


def test_the_energy_never_rises_and_what_turns_too_sharply_is_said() -> None:
    calf = limb((0, 230), (70, 270), (150, 360), (230, 380), (300, 345), ratio=0.9)
    for body in (calf, limb((0, 300), (100, 200), (200, 300))):
        flat = flatten(surface(body, float(body.read_mm[0, 0]), float(body.read_mm[-1, 0]), 0.0, np.pi).points)
        assert (np.diff(flat.energies) <= 1e-9 * abs(flat.energies[0])).all()
        assert not flat.folded
    waist = limb((0, 600), (100, 150), (200, 600))
    flat = flatten(surface(waist, 0, 200, 0, np.pi).points)
    assert flat.folded or flat.most.max() > 0.5


def test_what_did_not_settle_is_said_and_what_lies_flat_at_once_has(monkeypatch: pytest.MonkeyPatch) -> None:
    calf = limb((0, 230), (70, 270), (150, 360), (230, 380), (300, 345), ratio=0.9)
    points = surface(calf, 0, 300, 0, np.pi).points
    assert flatten(points).settled
    for still in (cone(180, 260, 220), cone(200, 200, 220), cone(180, 260, 220, ratio=0.85, straight=True)):
        assert flatten(still).settled
        assert not flatten(still).folded
    monkeypatch.setattr("vow_line.core.draft.settle.MOST_ROUNDS", 2)
    short = flatten(points)
    assert not short.settled
    assert short.folded


def test_a_finer_mesh_gives_the_same_outline() -> None:
    calf = limb((0, 230), (70, 270), (150, 360), (230, 380), (300, 345), ratio=0.9)
    coarse, fine = (flatten(surface(calf, 0, 300, 0, np.pi, steps).points).points for steps in ((24, 14), (120, 70)))
    corners = [(0, 0), (0, -1), (-1, 0), (-1, -1)]
    assert np.array([coarse[c] for c in corners]) == pytest.approx(np.array([fine[c] for c in corners]), abs=0.25)
    wide = [np.linalg.norm(np.diff(z, axis=1), axis=2).sum(axis=1) for z in (coarse, fine[::5])]
    assert wide[0] == pytest.approx(wide[1], abs=0.5)


def test_of_any_limb_a_finer_mesh_gives_the_same_outline() -> None:
    """Random limbs closed at front, side and back, one mesh of 24 by 14, the other of 60 by 24: 0.09 mm as a rule, 0.6 at the
    worst of 120.
    """
    rng, off = np.random.default_rng(7), list[float]()
    while len(off) < many(120):
        body = plausible(Limb, rng).measure().body
        if not isinstance(body, LimbBody):
            continue
        low, high = float(body.read_mm[0, 0]), float(body.read_mm[-1, 0])
        for close in (0.0, np.pi / 2, np.pi):
            rings = [
                rim(flatten(surface(body, low, high, 0, close, steps).points).points) for steps in ((24, 14), (60, 24))
            ]
            off.append(float(shapely.distance(shapely.points(rings[0]), shapely.LinearRing(rings[1])).max()))
    assert np.median(off) < 0.15
    assert max(off) < 0.7


def rim(grid: np.ndarray) -> np.ndarray:
    """The outline of a grid of points."""
    return np.concatenate([grid[0], grid[1:, -1], grid[-1, ::-1][1:], grid[::-1, 0][1:-1]])


def test_turned_over_the_limb_gives_the_same_piece_turned_over() -> None:
    calf = limb((0, 230), (90, 300), (180, 380), (260, 350), ratio=0.9)
    one, other = (flatten(surface(calf, 0, 260, 0, way).points).points for way in (np.pi / 2, -np.pi / 2))
    assert one[..., 0] == pytest.approx(-other[:, ::-1, 0], abs=1e-4)
    assert one[..., 1] == pytest.approx(other[:, ::-1, 1], abs=1e-4)


@settings(max_examples=examples(15), deadline=None)
@given(st.floats(1.05, 2.0))
def test_twice_the_limb_is_twice_the_piece(times: float) -> None:
    read = ((0, 230), (90, 300), (180, 360), (260, 350))
    one, other = (
        flatten(surface(limb(*((a * k, g * k) for a, g in read), ratio=0.9), 0, 260 * k, 0, np.pi).points)
        for k in (1.0, times)
    )
    assert other.points == pytest.approx(one.points * times, abs=1e-5)
    assert other.most == pytest.approx(one.most, abs=1e-6)


def test_two_frusta_cut_in_from_both_edges_gape_by_what_they_turn() -> None:
    """Trade: stacked frusta gape by K C / 8 at each edge, K = (C2 - C1) / h1 - (C3 - C2) / h2."""
    columns, rows, girths, long = 49, 9, (260.0, 330.0, 300.0), 120.0
    halves = [cone(girths[k], girths[k + 1], long, columns=columns, rows=rows) for k in (0, 1)]
    slants = [np.hypot(long, (girths[k + 1] - girths[k]) / (2 * np.pi)) for k in (0, 1)]
    turn = (girths[1] - girths[0]) / slants[0] - (girths[2] - girths[1]) / slants[1]
    gape = []
    low, high = (flatten(h).points for h in halves)
    edge_low, edge_high = low[0], high[-1]  # the same girth line on both, laid with their middles together
    middle = columns // 2
    for z in (edge_low, edge_high):
        way = z[middle + 1] - z[middle - 1]
        c, s = way / np.hypot(*way)
        gape.append((z - z[middle]) @ np.array([[c, -s], [s, c]]))
    opening = abs(gape[0][-1, 1] - gape[1][-1, 1])
    assert opening == pytest.approx(turn * girths[1] / 8, rel=0.03)


def test_the_curve_through_girths_is_near_the_one_that_scipy_draws() -> None:
    calf = limb((0, 230), (70, 270), (150, 360), (230, 380), (300, 345))
    at = np.linspace(0, 300, 61)
    assert calf.girth_at(at) == pytest.approx(PchipInterpolator(*calf.read_mm.T)(at), abs=5.0)
    assert calf.girth_at(calf.read_mm[:, 0]) == pytest.approx(calf.read_mm[:, 1])


def test_every_square_has_two_triangles_and_the_mesh_is_even_about_its_middle() -> None:
    corners = triangles(4, 7)
    assert len(corners) == 2 * 3 * 6
    mirrored = {frozenset((k // 7) * 7 + 6 - k % 7 for k in t) for t in corners.tolist()}
    assert mirrored == {frozenset(t) for t in corners.tolist()}
