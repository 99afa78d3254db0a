"""Darts of a wrap: cut all the way they are panels; they open as the limb turns, close hole on hole, and are counted out."""

from dataclasses import replace
from typing import Literal

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from shapely.affinity import translate

from tests.core.draft.test_limb_wrap import CALF, cuff
from tests.jobs import read, words
from tests.many import examples
from vow_line.core.curve import arc_length, frozen, walk
from vow_line.core.draft.flatten import flatten
from vow_line.core.draft.kinds.limb_wrap.closures.buckled import Buckled
from vow_line.core.draft.kinds.limb_wrap.closures.laced import Laced
from vow_line.core.draft.kinds.limb_wrap.closures.studs import Studs
from vow_line.core.draft.kinds.limb_wrap.darts import Darts, wedge
from vow_line.core.draft.kinds.limb_wrap.fold import FoldOver
from vow_line.core.draft.pieces import edged
from vow_line.core.draft.surface import surface
from vow_line.core.job import change, mend
from vow_line.core.measure.things.limb import Limb, LimbStation
from vow_line.core.plan import plan
from vow_line.core.proof import prove
from vow_line.core.proof.round import from_wide_end
from vow_line.core.steps import ornament

BELLY = ((0, 262), (80, 296), (160, 362), (235, 384), (300, 366))
FLARE = ((0, 300), (80, 270), (160, 262), (235, 300), (300, 420))


def rounded(rows: tuple[tuple[float, float], ...]) -> Limb:
    """A calf as deep as wide everywhere, its front straight."""
    stations = tuple(LimbStation(at_mm=a, girth=read(g), depth=read(round(g / np.pi, 4))) for a, g in rows)
    return Limb(which="calf", stations=stations)


def straight(rows: tuple[tuple[float, float], ...]) -> Limb:
    """A calf as deep as wide everywhere, its middle straight: it stands off the edge evenly all round."""
    stations = tuple(
        LimbStation(at_mm=a, girth=read(g), depth=read(round(g / np.pi, 3)), off=read(round(80 - g / (2 * np.pi), 3)))
        for a, g in rows
    )
    return Limb(which="calf", edge="back", stations=stations)


def over(rows: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    """A limb the other way up."""
    return tuple((rows[-1][0] - at, girth) for at, girth in reversed(rows))


def test_slit_but_for_its_last_points_it_settles_as_its_parts_do_by_themselves() -> None:
    body = cuff(CALF, "calf").measured.body
    points = surface(body, 0.0, 300.0, 10.0, np.pi, (48, 28)).points
    whole = flatten(points, slits=((16, 32), 0, len(points) - 1))
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
    assert np.abs(made.job.piece.wrap(made.measured.body, 2.0).first.slits.apart_mm).max() < 0.05
    found = next(f for f in made.findings if f.code == "dart-little")
    assert not plan(mend(made.job, found.mend)).job.piece.darts


@pytest.mark.parametrize("n", [1, 2, 3])
def test_below_a_cone_on_a_pipe_darts_open_as_it_turns(n: int) -> None:
    """K s / (n + 1) each, K how much the limb turns where they end, s how far that lies from the top; the closing edges take as
    much as one of them.
    """
    rows = ((0, 420), (80, 420), (160, 420), (220, 420), (221, 419.6), (300, 388))
    made = cuff(rows, "calf", darts=Darts(n=n, deep_mm=80), closed=Laced(gap_low_mm=0, gap_high_mm=0))
    made = plan(change(made.job, "thing", straight(rows)))
    turn = (419.6 - 388) / np.hypot(79, (419.6 - 388) / (2 * np.pi))
    apart = made.job.piece.wrap(made.measured.body, 2.0).first.slits.apart_mm[0]
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
        (FLARE, {"darts": Darts(deep_mm=140)}, "dart-laps"), (over(FLARE), {"darts": Darts(at="low")}, "dart-laps"),
        (BELLY, {"darts": Darts(deep_mm=70, gussets=True)}, "gusset-gapes"),
        (FLARE, {"darts": Darts(deep_mm=290, gussets=True)}, "dart-deep"),
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


@pytest.mark.parametrize(("rows", "gussets"), [(BELLY, False), (FLARE, True)])
@pytest.mark.parametrize("n", [1, 2, 3])
def test_from_the_low_end_it_is_the_same_as_from_the_top_of_a_limb_that_stands_on_its_head(
    rows: tuple[tuple[float, float], ...], gussets: bool, n: int
) -> None:
    flat = Laced(gap_low_mm=10, gap_high_mm=10)
    top, low = (
        plan(
            change(
                cuff(r, "calf", closed=flat, darts=Darts(n=n, deep_mm=90, at=at, gussets=gussets)).job,
                "thing",
                rounded(r),
            )
        )
        for r, at in ((rows, "top"), (over(rows), "low"))
    )
    one, other = (p.draft.piece("wrap") for p in (top, low))
    assert one.area_mm2 == pytest.approx(other.area_mm2, rel=5e-4)
    lies, flipped = (shapely.Polygon(ring) for ring in (one.outline, other.outline * [1.0, -1.0]))
    lies, flipped = (translate(p, -p.centroid.x, -p.centroid.y) for p in (lies, flipped))
    off = flipped.symmetric_difference(lies).area
    assert off < 0.002 * one.area_mm2, "but for how their meshes lean"
    for k in range(1, n + 1):
        for side in ("left", "right"):
            a, b = (float(arc_length(p.edge(f"dart-{k}-{side}").line)[-1]) for p in (one, other))
            assert a == pytest.approx(b, abs=0.3)
        if gussets:
            a, b = (p.draft.piece(f"gusset-{k}").area_mm2 for p in (top, low))
            assert a == pytest.approx(b, rel=0.01)
    assert (
        {f.code for f in top.findings if f.level == "hold"}
        == {f.code for f in low.findings if f.level == "hold"}
        == set()
    )
    assert low.work.checked.holds


@pytest.mark.parametrize("n", [1, 2, 3])
def test_above_a_pipe_that_spreads_gussets_fill_as_much_as_it_turns(n: int) -> None:
    """K s / (n + 1) each, as darts take out, where the limb turns the other way."""
    rows = ((0, 388), (79, 388), (80, 388.4), (150, 416), (220, 444), (300, 476))
    made = cuff(rows, "calf", darts=Darts(n=n, deep_mm=220, gussets=True), closed=Laced(gap_low_mm=0, gap_high_mm=0))
    made = plan(change(made.job, "thing", straight(rows)))
    assert not [f for f in made.findings if f.level == "hold"]
    rise = 476 - 388.4
    turn = rise / np.hypot(220, rise / (2 * np.pi))
    fills = []
    for k in range(1, n + 1):
        one, other = (s.line for s in made.draft.assembly.seats if s.piece == f"gusset-{k}")
        fills.append(float(np.hypot(*(one[0] - other[0]))) - 3.0)  # what it is opened by
    assert sum(fills) == pytest.approx(n * turn * 220 / (n + 1), rel=0.3)
    assert fills == pytest.approx(fills[::-1], abs=0.05)


@pytest.mark.parametrize(("at", "rows"), [("top", FLARE), ("low", over(FLARE))])
@pytest.mark.parametrize("n", [1, 2, 3])
def test_gussets_fill_what_lies_doubled_in_the_flat_and_are_sewn_hole_on_hole(
    at: Literal["top", "low"], rows: tuple[tuple[float, float], ...], n: int
) -> None:
    made = cuff(
        rows, "calf", closed=Laced(gap_low_mm=10, gap_high_mm=4), darts=Darts(n=n, deep_mm=90, at=at, gussets=True)
    )
    assert not [f for f in made.findings if f.level == "hold"]
    assert all(c.holds for c in made.proof.checked)
    wrap, margin = made.draft.piece("wrap"), made.job.piece.margin_mm
    flat = made.job.piece.wrap(made.measured.body, 2.0).first.flat
    added = filled = 0.0
    for k in range(1, n + 1):
        gusset = made.draft.piece(f"gusset-{k}")
        one, other = (s.line for s in made.draft.assembly.seats if s.piece == gusset.id)
        filled += float(np.hypot(*(one[0] - other[0])))
        added += float(shapely.Polygon([*one, *other[::-1]]).area)
        slit = [wrap.edge(f"dart-{k}-{name}").line[::way] for name, way in (("left", 1), ("right", -1))]
        slit = [line if at == "top" else line[::-1] for line in slit]
        shares = np.linspace(0, 0.95, 12)
        if (
            shapely.LineString(slit[1]).project(shapely.Point(slit[0][0])) < 0.1
        ):  # one side may end higher than the other
            slit.reverse()
        across = shapely.LineString(slit[1])
        open_ = [across.distance(shapely.Point(p)) for p in walk(slit[0], shares * arc_length(slit[0])[-1])]
        assert open_[0] == pytest.approx(3.0, abs=0.8)
        assert (np.diff(open_) < 0.1).all(), "opened less and less towards its tip"
        assert open_[-1] < 0.5
        for seat, name in ((one, "left"), (other, "right")):
            side = wrap.edge(f"dart-{k}-{name}").line
            assert arc_length(seat)[-1] == pytest.approx(arc_length(side)[-1], rel=2e-3), "as long as what lies on it"
            seam = made.stitching.seam(f"gusset-{k}-{name}")
            for points, line, piece in ((seam.on(0), side, wrap), (seam.on(1), seat, gusset)):
                off = shapely.distance(shapely.LineString(line), shapely.points(points))
                assert off == pytest.approx(margin, abs=0.15)
                inside = shapely.distance(shapely.Polygon(piece.outline).exterior, shapely.points(points[1:]))
                assert (inside > 0.9 * margin).all()
                assert shapely.Polygon(piece.outline).covers(shapely.MultiPoint(points))
            assert not shapely.Polygon([*one, *other[::-1]]).contains(shapely.MultiPoint(seam.on(1))), (
                "under the slit's sides"
            )
    plain = cuff(rows, "calf", closed=Laced(gap_low_mm=10, gap_high_mm=4))
    assert wrap.area_mm2 + added == pytest.approx(plain.draft.piece("wrap").area_mm2, rel=0.03)
    before, after = (p.job.piece.wrap(p.measured.body, 2.0) for p in (plain, made))
    strips = [np.split(row, [c + 1 for c in flat.doubled]) for row in flat.points]
    leather = [sum(float(arc_length(strip)[-1]) for strip in row) for row in strips]
    assert after.wide_mm + after.open_mm == pytest.approx(leather, abs=0.05), "between the slits, and what is let in"
    cut = sum(float(arc_length(e.line)[-1]) for e in wrap.edges if e.id.partition("-")[0] == at)
    gap = made.job.piece.closed.open_mm[1 if at == "top" else 0]
    assert cut + filled + gap == pytest.approx(leather[0 if at == "top" else -1], abs=0.1), "what is cut away is let in"
    assert after.stretched < 0.85 * before.stretched
    assembly = made.draft.assembly
    narrow = tuple(
        replace(s, line=frozen(s.line * [0.05, 1.0])) if s.piece.startswith("gusset") else s for s in assembly.seats
    )
    held = {
        f.code for f in prove(replace(assembly, seats=narrow), (), made.measured.body).findings if f.level == "hold"
    }
    assert "does-not-close" in held


@settings(max_examples=examples(40), deadline=None)
@given(
    st.lists(st.tuples(st.floats(1, 9), st.floats(-1, 1)), min_size=2, max_size=9), st.floats(8, 60), st.floats(0.05, 0.9)
)  # fmt: skip
def test_a_wedge_has_the_sides_and_the_widths_it_is_given(
    steps: list[tuple[float, float]], wide: float, thins: float
) -> None:
    long = np.array([6.0 + s for s, _ in steps])
    other = long * (1 + 0.02 * np.array([d for _, d in steps]))
    sides = tuple(frozen(np.column_stack([np.zeros(len(x) + 1), np.append(0.0, np.cumsum(x))])) for x in (long, other))
    assume(wide * (1 - thins) / len(steps) < 1.6 * min(long.min(), other.min()))
    widths = wide * np.linspace(1.0, thins, len(steps) + 1)
    left, right = wedge(sides, widths)
    for got, asked in ((left, long), (right, other)):
        assert np.hypot(*np.diff(got, axis=0).T) == pytest.approx(asked, abs=1e-6)
    assert np.hypot(*(right - left).T) == pytest.approx(widths, abs=1e-3)
    middle = (left + right) / 2
    assert middle[-1, 0] - middle[0, 0] == pytest.approx(0.0, abs=1e-6), "upright"


def test_gussets_are_offered_where_they_help_and_then_do() -> None:
    made = cuff(FLARE, "calf", tannage="oil")
    found = next(f for f in made.findings if f.code == "limb-strained")
    way = next(m for m in found.mends if "gussets" in words(m.label))
    after = plan(mend(made.job, way))
    wraps = [p.job.piece.wrap(p.measured.body, 2.0) for p in (made, after)]
    assert max(wraps[1].shrunk, wraps[1].stretched) < 0.85 * max(wraps[0].shrunk, wraps[0].stretched)
    assert not [f for f in after.findings if f.level == "hold"]


@pytest.mark.parametrize("at", ["top", "low"])
def test_the_made_thing_shows_its_gussets_from_their_end(at: Literal["top", "low"]) -> None:
    made = cuff(FLARE if at == "top" else over(FLARE), "calf", darts=Darts(n=2, deep_mm=90, at=at, gussets=True)).made
    ring = next(m.line for f in made.faces for m in f.marks if m.id == "wrap" and m.closed)
    stitched = {m.id: m.line for f in made.faces for m in f.marks if m.id.startswith("gusset-")}
    assert set(stitched) == {f"gusset-{k}{side}" for k in (1, 2) for side in ("", "-left", "-right")}
    middle = float(ring[:, 1].mean())
    for line in stitched.values():
        assert shapely.Polygon(ring).buffer(4.0).covers(shapely.MultiPoint(line))
        assert (line[:, 1] < middle).all() if at == "top" else (line[:, 1] > middle).all()


@pytest.mark.parametrize("kind", ["lining", "overlay", "binding", "border"])
@pytest.mark.parametrize("piece", ["gusset-1", "wrap"])
def test_gussets_and_what_they_are_let_into_bear_ornament(kind: str, piece: str) -> None:
    made = cuff(FLARE, "calf", darts=Darts(n=2, deep_mm=90, gussets=True))
    ornate = plan(ornament(made.job, kind=kind, piece=piece))
    assert not ornate.failures
    assert not [f for f in ornate.findings if f.level == "hold" and f.code != "leather-too-small"]
    assert {m.id for f in ornate.made.faces for m in f.marks} >= {"gusset-1-left", "gusset-2-right"}


@given(st.floats(4, 40), st.floats(0, 3), st.floats(40, 160), st.booleans(), st.booleans())
def test_whichever_way_the_sides_of_a_wedge_are_given_they_are_taken_from_its_wide_end(
    wide: float, tip: float, long: float, one_back: bool, other_back: bool
) -> None:
    left, right = (frozen([[side * wide, 0.0], [side * tip, long]]) for side in (-1.0, 1.0))
    found = from_wide_end(left[::-1] if one_back else left, right[::-1] if other_back else right)
    assert np.allclose(found[0], left)
    assert np.allclose(found[1], right)
