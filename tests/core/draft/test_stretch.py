"""Leather that stretches by no more than it gives: a belt on a sphere in closed form, slopes by differences, the same least
energy found another way; a cuff of it, and the mend that asks for it.
"""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.sparse import coo_matrix
from scipy.sparse.linalg import splu

from tests.core.draft.test_flatten import cone, limb
from tests.core.draft.test_limb_wrap import ARM, CALF, cuff
from tests.jobs import words
from tests.many import ALL, examples
from vow_line.core.draft.flatten import best_cone, flatten
from vow_line.core.draft.kinds.limb_wrap import checks
from vow_line.core.draft.kinds.limb_wrap.checks import suits
from vow_line.core.draft.kinds.limb_wrap.darts import Darts
from vow_line.core.draft.kinds.limb_wrap.edge_darts import EdgeDarts
from vow_line.core.draft.kinds.limb_wrap.fold import FoldOver
from vow_line.core.draft.mesh import mesh_of
from vow_line.core.draft.settle import Energy, Limit
from vow_line.core.draft.stretch import FIRST_TIMES, MORE_TIMES
from vow_line.core.draft.surface import surface
from vow_line.core.job import change, mend
from vow_line.core.plan import plan
from vow_line.core.proof import prove
from vow_line.core.texts import amount

BELLY = limb((0, 230), (70, 270), (150, 360), (230, 380), (300, 345), ratio=0.9)
WAIST = limb((0, 330), (120, 250), (240, 330), ratio=0.9)


def of(body: object, steps: tuple[int, int] = (24, 14)) -> np.ndarray:
    return surface(body, float(body.read_mm[0, 0]), float(body.read_mm[-1, 0]), 0.0, np.pi, steps).points


def belt(w: float) -> tuple[np.ndarray, slice]:
    """A strip of half width w on a sphere of radius 100, and its columns away from its ends."""
    lat, lon = np.linspace(w, -w, 13), np.linspace(-6 * w, 6 * w, 121)
    points = np.stack(
        [np.outer(np.cos(lat), np.sin(lon)), np.outer(np.cos(lat), -np.cos(lon)), np.outer(np.sin(lat), np.ones(121))], -1
    ) * 100  # fmt: skip
    return points, slice(30, -30)


@pytest.mark.parametrize("w", [0.2, 0.3])
def test_a_belt_on_a_sphere_is_as_long_as_its_equator_less_what_it_gives(w: float) -> None:
    """Its equator is its longest line: where that may stretch by so little, the belt is as long as it all but that."""
    points, inner = belt(w)
    gives = w**2 / 24  # a quarter of what it would stretch by itself
    length = np.linalg.norm(np.diff(flatten(points, gives=gives).points[6, inner], axis=0), axis=1).sum()
    round_ = np.linalg.norm(np.diff(points[6, inner], axis=0), axis=1).sum()
    assert round_ / length - 1 == pytest.approx(gives, rel=0.1)
    by_itself = np.linalg.norm(np.diff(flatten(points).points[6, inner], axis=0), axis=1).sum()
    assert round_ / by_itself - 1 == pytest.approx(w**2 / 6, rel=0.1)


@settings(max_examples=examples(12), deadline=None)
@given(
    share=st.floats(0.1, 0.9), waist=st.booleans(), slits=st.sampled_from([((), 0, 0), ((8, 16), 0, 5), ((12,), 9, 14)])
)
def test_no_part_stretches_by_more_and_what_it_need_not_do_changes_nothing(
    share: float, waist: bool, slits: tuple[tuple[int, ...], int, int]
) -> None:
    points = of(WAIST if waist else BELLY)
    plain = flatten(points, slits=slits)
    most = float(plain.most.max())
    gives = max(share * most, 0.005)
    flat = flatten(points, slits=slits, gives=gives)
    if gives < most:
        assert flat.most.max() <= 1.05 * gives
        assert flat.least.min() <= plain.least.min() + 1e-4, "what does not stretch here shrinks there"
    assert not flat.folded or slits[0], "sides of a slit in a waist lap as it is"
    again = flatten(points, slits=slits, gives=1.001 * most)
    assert again.points == pytest.approx(plain.points, abs=1e-9)
    assert flat.points[..., 0] == pytest.approx(-flat.points[:, ::-1, 0], abs=1e-3), "as even as the limb"


def test_a_cone_that_lies_flat_by_itself_stays_so() -> None:
    points = cone(180, 260, 220, ratio=0.85, straight=True)
    assert flatten(points, gives=0.005).points == pytest.approx(flatten(points).points, abs=1e-9)


@pytest.mark.parametrize("weighs", [0.0, 200.0])
@pytest.mark.parametrize("slits", [((), 0, 0), ((8, 16), 0, 5)])
def test_the_slope_of_the_energy_is_what_differences_give(
    slits: tuple[tuple[int, ...], int, int], weighs: float
) -> None:
    points = of(BELLY)
    mesh = mesh_of(*points.shape[:2], *slits, None)
    rest = _by_themselves(_down(points[:, mesh.columns]), mesh.corners)
    energy = Energy(rest, mesh, np.linspace(1, 3, len(rest)), 1e3).limited(Limit(1 / 1.01, weighs))
    rng = np.random.default_rng(5)
    flat = _down(flatten(points, slits=slits).points) @ [1, 1j]
    at = flat + 0.3 * (rng.normal(size=len(flat)) + 1j * rng.normal(size=len(flat)))
    slope, band = energy.slopes(at), energy.curvature(at)
    for _ in range(5):
        way = rng.normal(size=2 * len(at))
        step = 1e-5 * (way[0::2] + 1j * way[1::2])
        assert slope @ way == pytest.approx((energy.of(at + step) - energy.of(at - step)) / 2e-5, rel=1e-6)
    twice = Energy(rest, mesh, 2 * np.linspace(1, 3, len(rest)), 2e3).limited(energy.limit)
    assert twice.of(at) == pytest.approx(2 * energy.of(at)), "what weighs twice as much counts twice"
    full = np.zeros((2 * len(at),) * 2)
    for k, row in enumerate(band):
        i = np.arange(len(row) - k)
        full[i + k, i] = full[i, i + k] = row[: len(i)]
    assert np.linalg.eigvalsh(full).min() > -1e-6 * np.abs(full).max(), "never downwards along a step"


@pytest.mark.parametrize("body", [BELLY, WAIST] if ALL else [BELLY])
def test_the_least_energy_is_the_same_found_by_turns_of_fits_and_solves(body: object) -> None:
    """Another way to it: each triangle fitted with what it may stretch, then all of them together by a sparse solver."""
    points, gives = of(body, (16, 8)), 0.01
    mesh = mesh_of(9, 17, (), 0, 0, None)
    rest = _by_themselves(_down(points), mesh.corners)
    z = _down(flatten(points).points) @ [1, 1j]
    energy = Energy(rest, mesh, 1.0, 0.0).limited(Limit(1 / (1 + gives), FIRST_TIMES * MORE_TIMES))
    began = energy.of(z)
    for weighs in (10.0, 50.0, FIRST_TIMES, FIRST_TIMES * MORE_TIMES):
        z = _by_turns(z, rest, mesh.corners, gives, weighs, 400)
    found = _down(flatten(points, gives=gives).points) @ [1, 1j]
    assert 0.98 * energy.of(z) < energy.of(found) <= 1.0005 * energy.of(z), "which comes to it slowly"
    assert energy.of(found) < 0.5 * began
    off = found - z
    turn = np.vdot(z - z.mean(), found - found.mean())
    off = (found - found.mean()) - (z - z.mean()) * turn / abs(turn)
    assert np.abs(off).max() < 1.0


@pytest.mark.parametrize("body", [BELLY, WAIST])
def test_without_a_limit_it_settles_where_turns_of_fits_and_solves_do(body: object) -> None:
    """From the cone that fits best, each triangle turned by itself, then all of them together."""
    points = of(body, (16, 8))
    mesh = mesh_of(9, 17, (), 0, 0, None)
    rest = _by_themselves(_down(points), mesh.corners)
    energy = Energy(rest, mesh, 1.0, 0.0)
    z = _by_turns(best_cone(points).reshape(9, 17).T.ravel(), rest, mesh.corners, 0.0, 0.0, 400)
    found = _down(flatten(points).points) @ [1, 1j]
    assert energy.of(found) == pytest.approx(energy.of(z), rel=1e-7)
    turn = np.vdot(z - z.mean(), found - found.mean())
    off = (found - found.mean()) - (z - z.mean()) * turn / abs(turn)
    assert np.abs(off).max() < 0.001


def _down(points: np.ndarray) -> np.ndarray:
    """Points `(n, m, k)` one after another down its columns."""
    return points.swapaxes(0, 1).reshape(-1, points.shape[2])


def _by_themselves(points: np.ndarray, corners: np.ndarray) -> np.ndarray:
    a, b, c = (points[corners[:, k]] for k in range(3))
    along = (b - a) / np.linalg.norm(b - a, axis=1)[:, None]
    u = ((c - a) * along).sum(axis=1)
    v = np.linalg.norm(np.cross(along, c - a), axis=1)
    return np.stack([np.zeros(len(u)), np.linalg.norm(b - a, axis=1), u + 1j * v], axis=1)


def _by_turns(
    z: np.ndarray, rest: np.ndarray, corners: np.ndarray, gives: float, weighs: float, rounds: int
) -> np.ndarray:
    n, least = len(z), 1 / (1 + gives)
    (i, j), k = (corners[:, [1, 2, 0]], corners[:, [2, 0, 1]]), np.arange(3)
    p, q = rest[:, 1], rest[:, 2]
    inverse = np.linalg.inv(np.stack([np.stack([p.real, q.real], 1), np.stack([p.imag, q.imag], 1)], 1))
    edge = rest[:, (k + 1) % 3] - rest[:, (k + 2) % 3]
    sides = [((rest[:, (m + 1) % 3] - rest[:, m]) / (rest[:, (m + 2) % 3] - rest[:, m])) for m in range(3)]
    cot = np.stack([c.real / np.abs(c.imag) for c in sides], 1) / 2
    for _ in range(rounds):
        e, f = z[corners[:, 1]] - z[corners[:, 0]], z[corners[:, 2]] - z[corners[:, 0]]
        map_ = np.stack([np.stack([e.real, f.real], 1), np.stack([e.imag, f.imag], 1)], 1) @ inverse
        u, s, v = np.linalg.svd(map_)
        flip = np.linalg.det(u @ v) < 0
        u[flip, :, 1] *= -1
        over = s[:, 1] < least
        wanted = np.stack([np.maximum(s[:, 0], least), np.maximum(s[:, 1], least)], 1)
        many = np.where(over, weighs, 0.0)
        fit = (u @ v + many[:, None, None] * (u * wanted[:, None]) @ v) / (1 + many)[:, None, None]
        ends = np.stack([edge.real, edge.imag], -1) @ fit.transpose(0, 2, 1)
        weight = cot * (1 + many)[:, None]
        drawn = weight * (ends[..., 0] + 1j * ends[..., 1])
        right = np.zeros(n, complex)
        np.add.at(right, i.ravel(), drawn.ravel())
        np.add.at(right, j.ravel(), -drawn.ravel())
        a, b, w = i.ravel(), j.ravel(), weight.ravel()
        from_, to = np.concatenate([a, b, a, b]), np.concatenate([a, b, b, a])
        system = coo_matrix((np.concatenate([w, w, -w, -w]), (from_, to))).tocsc()
        system[0, 0] += 1.0
        solver = splu(system)
        z = z + 0.7 * (solver.solve(right.real) + 1j * solver.solve(right.imag) - z + z[0])
        z = z - z[0]
    return z


@pytest.mark.parametrize("rows", [ARM, CALF])
def test_a_cuff_that_may_not_stretch_is_wider_stands_off_and_says_so(rows: tuple[tuple[float, float], ...]) -> None:
    plain, limited = (
        cuff(rows, "calf" if rows is CALF else "forearm", tannage="veg", most_stretch=m) for m in (0.0, 0.01)
    )
    one, other = (p.job.piece.wrap(p.measured.body, 2.0) for p in (plain, limited))
    assert one.stretched > 0.015
    assert other.stretched <= 0.011
    assert other.shrunk > one.shrunk
    assert other.wide_mm.max() > one.wide_mm.max()
    each = [{m.meaning: len(m.line) for m in p.draft.turned.draw(2.0) if m.id == "strain"} for p in (plain, limited)]
    assert each[0]["stretch"] > 2 * each[1].get("stretch", 0), "on the limb too each strain has its own strokes"
    assert each[1]["shrink"] > each[0]["shrink"] > 0
    found = next(f for f in limited.findings if f.code == "limb-strained")
    assert found.level == "look"
    assert "need not stretch by more than the 1 %" in words(found.says)
    assert "must stretch by" in words(next(f for f in plain.findings if f.code == "limb-strained").says)
    assert not [f for f in limited.proof.besides(()) if f.level == "hold"]
    made, seams = limited.draft.assembly, limited.stitching.seams
    for off in (0.0, 2 * other.larger + 0.02):
        lies = tuple(replace(x, stands_off=off) for x in made.lies)
        astray = {f.code for f in prove(replace(made, lies=lies), seams, limited.body).findings}
        assert ("does-not-close" in astray) is (abs(off - other.larger) > 0.012), (
            "measured on the piece, not taken for so"
        )


@pytest.mark.parametrize(
    "cut",
    [
        {"panels": 2},
        {"over": FoldOver(deep_mm=40)},
        {"darts": EdgeDarts(level_mm=170)},
        {"darts": Darts(n=2, deep_mm=60)},
    ],
)
def test_however_it_is_cut_no_part_of_it_stretches_by_more(cut: dict[str, object]) -> None:
    plain, limited = (cuff(CALF, "calf", **cut, most_stretch=m) for m in (0.0, 0.006))
    one, other = (p.job.piece.wrap(p.measured.body, 2.0) for p in (plain, limited))
    assert max(float(f.most.max()) for f in one.flats) > 0.007
    assert max(float(f.most.max()) for f in other.flats) <= 1.05 * 0.006


def test_a_hold_is_mended_in_one_press_and_it_is_offered_as_long_as_it_stretches() -> None:
    made = cuff(CALF, "calf", tannage="veg", closing="outside")
    found = next(f for f in made.findings if f.code == "limb-strained")
    assert found.level == "hold"
    ways = [m for m in (found.mend, *found.others) if m.changes[0][0] == "piece.most_stretch"]
    (way,) = ways
    better = plan(mend(made.job, way))
    after = next(f for f in better.findings if f.code == "limb-strained")
    assert after.level == "look"
    assert not [m for m in (after.mend, *after.others) if m.changes[0][0] == "piece.most_stretch"]
    assert [m.changes[0][0] for m in (after.mend, *after.others)] == [
        m.changes[0][0] for m in (found.mend, *found.others) if m is not way
    ], "what else would help is as it was"


def test_leather_that_stretches_a_little_more_than_it_takes_is_not_said_not_to_unless_it_is_limited() -> None:
    """By so little as a limit leaves over: without one it must be said."""
    stretch = (p := cuff(tannage="veg")).job.piece.wrap(p.measured.body, 2.0).stretched
    for limit, says in ((0.0, "must stretch by"), (0.01, "need not stretch")):
        made = cuff(tannage="veg", most_stretch=limit)
        with pytest.MonkeyPatch.context() as patch:
            patch.setitem(checks.TAKES, "veg", 0.01 if limit else stretch / 1.03)
            found = suits(made.job.piece, made.measured.body, made.job.piece.wrap(made.measured.body, 2.0), 2.0, "veg")
        assert says in words(found[0].says)


def test_what_is_worn_under_it_has_its_sum() -> None:
    made = cuff()
    sums = {r.key: r for r in made.draft.reckonings}
    assert words(amount(sums["worn-under"].value)) == "25 mm"
    assert "4 mm within" in words(sums["worn-under"].sum)
    bare = plan(change(made.job, "thing.over", "bare"))
    assert "worn-under" not in {r.key for r in bare.draft.reckonings}
