"""Darts of a wrap: cut all the way they are panels; they open as the limb turns, close hole on hole, and are counted out."""

from dataclasses import replace

import numpy as np
import pytest
import shapely

from tests.core.draft.test_limb_wrap import CALF, cuff
from tests.jobs import read, words
from vow_line.core.curve import arc_length, frozen
from vow_line.core.draft.flatten import flatten
from vow_line.core.draft.kinds.limb_wrap.closures.buckled import Buckled
from vow_line.core.draft.kinds.limb_wrap.closures.laced import Laced
from vow_line.core.draft.kinds.limb_wrap.closures.studs import Studs
from vow_line.core.draft.kinds.limb_wrap.darts import Darts
from vow_line.core.draft.kinds.limb_wrap.fold import FoldOver
from vow_line.core.draft.pieces import edged
from vow_line.core.draft.surface import surface
from vow_line.core.job import change, mend
from vow_line.core.measure.things.limb import Limb, LimbStation
from vow_line.core.plan import plan
from vow_line.core.proof import prove

BELLY = ((0, 262), (80, 296), (160, 362), (235, 384), (300, 366))


def test_slit_but_for_its_last_points_it_settles_as_its_parts_do_by_themselves() -> None:
    body = cuff(CALF, "calf").measured.body
    points = surface(body, 0.0, 300.0, 10.0, np.pi, (48, 28)).points
    whole = flatten(points, slits=((16, 32), len(points) - 1))
    assert whole.doubled == (16, 33)
    alone_of = [flatten(points[:, 16 * k : 16 * k + 17]) for k in range(3)]
    for part, alone in zip((slice(0, 17), slice(17, 34), slice(34, 51)), alone_of, strict=True):
        one, other = (np.linalg.norm(p - p[:1, :1], axis=2) for p in (whole.points[:, part], alone.points))
        assert one == pytest.approx(other, abs=1.0), "but for the way their meshes lean"
    most = [max(f.most.max(), -f.least.min()) for f in alone_of]
    assert max(whole.most.max(), -whole.least.min()) == pytest.approx(max(most), rel=0.06)


def test_a_slit_of_no_length_and_one_in_a_cylinder_change_nothing() -> None:
    pipe = tuple((a, 300.0) for a in (0, 60, 120, 180))
    made = cuff(pipe, deep=round(300 / np.pi, 3), darts=Darts(n=2, deep_mm=60))
    assert np.abs(made.job.piece.wrap(made.measured.body, 2.0).first.apart_mm).max() < 0.05
    found = next(f for f in made.findings if f.code == "dart-little")
    assert not plan(mend(made.job, found.mend)).job.piece.darts


@pytest.mark.parametrize("n", [1, 2, 3])
def test_below_a_cone_on_a_pipe_darts_open_as_it_turns(n: int) -> None:
    """K s / (n + 1) each, K how much the limb turns where they end, s how far that lies from the top; the closing edges take as
    much as one of them.
    """
    rows = ((0, 420), (80, 420), (160, 420), (220, 420), (221, 419.6), (300, 388))
    stations = tuple(  # its middle straight: it stands off the edge evenly all round
        LimbStation(at_mm=a, girth=read(g), depth=read(round(g / np.pi, 3)), off=read(round(80 - g / (2 * np.pi), 3)))
        for a, g in rows
    )
    made = cuff(rows, "calf", darts=Darts(n=n, deep_mm=80), closed=Laced(gap_low_mm=0, gap_high_mm=0))
    made = plan(change(made.job, "thing", Limb(which="calf", edge="back", stations=stations)))
    turn = (419.6 - 388) / np.hypot(79, (419.6 - 388) / (2 * np.pi))
    apart = made.job.piece.wrap(made.measured.body, 2.0).first.apart_mm[0]
    assert apart.sum() / n == pytest.approx(turn * 80 / (n + 1), rel=0.3)
    assert apart == pytest.approx(apart[::-1], abs=0.05), "alike on both sides"


@pytest.mark.parametrize("closed", [Laced(gap_low_mm=10, gap_high_mm=4), Studs(), Buckled()])
@pytest.mark.parametrize("n", [1, 2, 3])
def test_darts_close_hole_on_hole_and_the_wrap_is_as_large_as_the_limb(closed: object, n: int) -> None:
    made = cuff(BELLY, "calf", closed=closed, darts=Darts(n=n, deep_mm=70))
    assert not [f for f in made.findings if f.level == "hold"]
    piece = made.draft.piece("wrap")
    plain = cuff(BELLY, "calf", closed=closed)
    assert piece.area_mm2 == pytest.approx(plain.draft.piece("wrap").area_mm2, rel=0.02)
    steps = [s.id for s in made.work.steps]
    for k in range(1, n + 1):
        left, right = (piece.edge(f"dart-{k}-{side}").line for side in ("left", "right"))
        assert arc_length(left)[-1] == pytest.approx(arc_length(right)[-1], rel=0.04)
        assert np.allclose(left[-1], right[0]), "they meet at its tip"
        assert arc_length(left)[-1] == pytest.approx(70, rel=0.06)
        seam = made.stitching.seam(f"dart-{k}")
        assert len(seam.on(0)) == len(seam.on(1))
        for points, line in ((seam.on(0), left), (seam.on(1), right)):
            off = shapely.distance(shapely.LineString(line), shapely.points(points))
            assert off == pytest.approx(made.job.piece.margin_mm, abs=0.15)
            assert shapely.Polygon(piece.outline).covers(shapely.MultiPoint(points))
        assert f"sew/dart-{k}" in steps
        assert f"edge/wrap/dart-{k}-left" not in steps
    assert len([e for e in piece.edges if e.id.startswith("top")]) == n + 1
    assert made.work.checked.holds
    before, after = (p.job.piece.wrap(p.measured.body, 2.0) for p in (plain, made))
    assert after.shrunk < before.shrunk


def test_the_proof_counts_what_darts_take_out_and_finds_one_that_was_not_cut() -> None:
    made = cuff(BELLY, "calf", darts=Darts(n=3, deep_mm=120))
    assembly, body = made.draft.assembly, made.measured.body

    def held(changed: object) -> set[str]:
        return {f.code for f in prove(changed, (), body).findings if f.level == "hold"}  # type: ignore[arg-type]

    assert held(assembly) == set()
    lies = assembly.lies[0]
    assert lies.taken_mm is not None
    assert "does-not-close" in held(replace(assembly, lies=(replace(lies, taken_mm=None),)))
    piece = made.draft.piece("wrap")
    sides = [e for e in piece.edges if e.id.startswith("dart")]
    tops = [e for e in piece.edges if e.id.startswith("top")]
    across = replace(tops[0], line=frozen(np.concatenate([t.line for t in tops])))
    rest = [e for e in piece.edges if e not in sides and e not in tops]
    outline, edges = edged(across, *rest) if np.allclose(across.line[-1], rest[0].line[0]) else edged(*rest, across)
    filled = replace(piece, outline=outline, edges=edges)
    joins = tuple(j for j in assembly.joins if not j.id.startswith("dart"))
    assert "does-not-close" in held(replace(assembly, pieces=(filled, *assembly.pieces[1:]), joins=joins))


@pytest.mark.parametrize(
    ("rows", "choices", "code"),
    [
        (BELLY, {"darts": Darts(deep_mm=290)}, "dart-deep"), (BELLY, {"darts": Darts(), "panels": 2}, "darts-idle"),
        (BELLY, {"darts": Darts(), "over": FoldOver()}, "darts-idle"),
        (((0, 300), (80, 270), (160, 262), (235, 300), (300, 420)), {"darts": Darts(deep_mm=140)}, "dart-laps"),
    ],
)  # fmt: skip
def test_what_is_wrong_with_darts_mends_in_one_press(rows: object, choices: dict[str, object], code: str) -> None:
    made = cuff(rows, "calf", **choices)
    found = next(f for f in made.findings if f.code == code)
    for way in found.mends:
        assert code not in {f.code for f in plan(mend(made.job, way)).findings}, words(way.label)


def test_darts_are_offered_where_they_help_and_then_do() -> None:
    made = cuff(CALF, "calf", tannage="oil")
    strained = next(f for f in made.findings if f.code == "limb-strained")
    way = next(m for m in strained.mends if "darts" in words(m.label))
    after = plan(mend(made.job, way))
    wraps = [p.job.piece.wrap(p.measured.body, 2.0) for p in (made, after)]
    assert max(wraps[1].shrunk, wraps[1].stretched) < 0.85 * max(wraps[0].shrunk, wraps[0].stretched)
    assert not [f for f in after.findings if f.level == "hold"]
    again = plan(change(after.job, "piece.darts", None))
    assert again.draft.piece("wrap").outline == pytest.approx(made.draft.piece("wrap").outline)


@pytest.mark.parametrize("n", [1, 2, 3])
def test_the_made_thing_shows_its_darts_from_the_top_down_on_the_leather(n: int) -> None:
    made = cuff(BELLY, "calf", darts=Darts(n=n, deep_mm=70)).made
    ring = next(m.line for f in made.faces for m in f.marks if m.id == "wrap" and m.closed)
    stitched = {m.id: m.line for f in made.faces for m in f.marks if m.id.startswith("dart-")}
    assert set(stitched) == {f"dart-{k}" for k in range(1, n + 1)}
    for line in stitched.values():
        assert shapely.Polygon(ring).buffer(4.0).covers(shapely.MultiPoint(line))
        assert 40 < np.ptp(line[:, 1]) < 72
