from dataclasses import replace

import numpy as np
import pytest
import shapely

from tests.bodies import read
from tests.jobs import demo
from vow_line.core.draft.kinds.scabbard import Scabbard
from vow_line.core.job import Job, change, mend
from vow_line.core.measure.things.knife import Knife, KnifeStation
from vow_line.core.plan import plan
from vow_line.core.proof import prove


def test_the_recess_holds_the_thing_with_its_room_and_lining_all_the_way_out() -> None:
    planned = plan(demo("whetstone-case"))
    recess = shapely.Polygon(next(p for p in planned.draft.pieces if p.id == "core-front").skives[0].ring)
    thing = planned.draft.thing
    mouth = recess.bounds[1]
    for drawn in np.arange(0, 150, 10.0):
        inside = shapely.Polygon(np.asarray(thing) - [0, drawn]).intersection(shapely.box(-500, mouth, 500, 500))
        assert recess.buffer(-2.2).buffer(0.01).contains(inside) or inside.is_empty or inside.bounds[1] <= mouth + 2.3
        sides = recess.bounds[2] - inside.bounds[2]
        assert sides == pytest.approx(0.8 + 1.5, abs=0.05)


def test_the_cover_goes_round_the_core_that_is_drawn() -> None:
    """Round the section as shapely measures it, with the leather's neutral layer at 0.4 of its thickness."""
    planned = plan(demo("whetstone-case"))
    section = planned.draft.section(100.0)
    wood = next(m for m in section.marks if m.id == "core-front")
    girth = shapely.Polygon(wood.line).exterior.length
    wide = np.ptp(planned.draft.piece("cover").outline[:, 0])
    assert wide == pytest.approx((girth + 2 * np.pi * 0.4 * 2.0) * (1 - 0.015), rel=2e-3)


def test_both_edges_of_the_cover_carry_the_same_holes() -> None:
    seam = plan(demo("whetstone-case")).stitching.seam("back-seam")
    assert np.allclose(seam.on(0) * [-1, 1], seam.on(1))


def test_wood_and_lining_are_not_laid_on_the_leather_and_come_before_the_cover() -> None:
    planned = plan(demo("whetstone-case"))
    assert {laid.piece for laid in planned.layout.laid} == {"cover", "cap", "frog", "hanger"}
    steps = [s.id for s in planned.work.steps]
    assert (
        steps.index("fix/lining-back") < steps.index("fix/core") < steps.index("sew/back-seam") < steps.index("fix/cap")
    )


def test_a_blade_goes_into_a_case_as_well_and_weak_wood_is_pointed_out() -> None:
    job = change(demo("laying-knife"), "piece", Scabbard(goes_in_mm=170, wall_mm=1.0, glue_mm=5.0))
    planned = plan(job)
    codes = {f.code: f for f in planned.findings}
    assert {"wall-thin", "glue-narrow"} <= set(codes)
    mended = plan(mend(mend(job, codes["wall-thin"].mend), codes["glue-narrow"].mend))
    assert not {"wall-thin", "glue-narrow"} & {f.code for f in mended.findings}


@pytest.mark.parametrize(("hangers", "band", "rounded"), [(1, 36.0, 0.8), (2, 50.0, 0.0), (1, 24.0, 1.0)])
def test_a_frog_goes_round_the_covered_case_and_comes_off(hangers: int, band: float, rounded: float) -> None:
    """Its band from hole to hole: a rectangle with round corners grown by the cover, by GEOS, and a turn of the band."""
    job = change(demo("whetstone-case"), "piece.rounded", rounded)
    job = change(change(job, "piece.frog.hangers", hangers), "piece.frog.band_mm", band)
    planned = plan(job)
    assert not [c.id for c in planned.checked if not c.holds]
    frog, cover, half = (planned.draft.piece(p) for p in ("frog", "cover", "core-front"))
    at = float(half.outline[:, 1].min()) + job.piece.frog.below_mm + band / 2
    wide = np.ptp([x for x, y in zip(*shapely.LineString(half.outline).xy, strict=True) if y < at + 40])
    thick = 2 * half.thickness_mm
    r = rounded * min(wide, thick) / 2
    core = shapely.box(r, r, wide - r, thick - r).buffer(max(r, 1e-9), quad_segs=256)
    around = core.buffer(cover.thickness_mm, quad_segs=256).exterior.length
    way = float(np.hypot(*np.subtract(*(p.centre for p in frog.punches))))
    assert way == pytest.approx(around + 2 * np.pi * 0.5 * frog.thickness_mm, abs=0.2)
    assert np.ptp(frog.outline[:, 1]) == pytest.approx(way + job.piece.frog.lap_mm)
    names = ["hanger"] if hangers == 1 else ["hanger-1", "hanger-2"]
    assert [p.id for p in planned.draft.pieces if p.id.startswith("hanger")] == names
    for name in names:
        seam = planned.stitching.seam(name)
        ring = shapely.Polygon(frog.outline)
        assert all(ring.contains(shapely.Point(p)) for p in seam.on(0))
        strip = planned.draft.piece(name)
        whole = shapely.Polygon(strip.outline)
        assert all(whole.contains(shapely.Point(p)) for k in (1, 2) for p in seam.on(k)), (
            "both its ends lie on the band"
        )
        opening = np.ptp(strip.outline[:, 1]) - 2 * job.piece.frog.box_mm
        assert opening / 2 > job.piece.frog.belt_mm + job.piece.frog.drop_mm
    steps = [s.id for s in planned.work.steps]
    assert steps.index("sew/back-seam") < steps.index("set/frog-stud"), "it is closed round the case that is sewn"


def test_a_case_without_a_frog_has_none_of_it() -> None:
    planned = plan(change(demo("whetstone-case"), "piece.frog", None))
    assert not {p.id for p in planned.draft.pieces} & {"frog", "hanger"}
    assert not planned.draft.assembly.fasteners


def _bowed_blade(rng: np.random.Generator) -> tuple[Knife, float]:
    """A blade whose middle follows a circle, to either side, thin enough to go along it."""
    long, wide, radius = rng.uniform(150, 420), rng.uniform(22, 40), rng.uniform(500, 2000) * rng.choice([-1, 1])
    at = np.round(np.linspace(0, long * 0.93, 7), 1)
    across = wide * np.linspace(1, rng.uniform(0.5, 0.9), 7)
    drop = (wide - across) / 2 + at**2 / 2 / radius
    grip = tuple(KnifeStation(at_mm=v, width=read(wide * 0.9), thick=read(16.0)) for v in (5, 60))
    return Knife(
        stations=tuple(
            KnifeStation(at_mm=float(a), width=read(w), thick=read(4.0), drop=round(float(d), 1))
            for a, w, d in zip(at, across, drop, strict=True)
        ),
        length=read(long), tip_drop=round(float(wide / 2 + long**2 / 2 / radius), 1), handle=grip, handle_length=read(110),
    ), radius  # fmt: skip


@pytest.mark.parametrize("seed", range(6))
def test_a_bowed_blade_turns_out_of_a_recess_along_its_bow(seed: int) -> None:
    """Its own outline turned about a centre found anew, from three places of the recess, step by step, by shapely."""
    thing, radius = _bowed_blade(np.random.default_rng(seed))
    job = Job(name="any", thing=thing, piece=Scabbard(goes_in_mm=None))
    plain = plan(job)
    wasted = [f for f in plain.findings if f.code == "recess-straight"]
    planned = plan(mend(job, wasted[0].mend) if wasted else change(job, "piece.way_in", "bowed"))
    assert not {c.id for c in planned.checked if not c.holds} - {"near"}
    front, back = (planned.draft.piece(f"core-{side}") for side in ("front", "back"))
    ring = shapely.Polygon(front.skives[0].ring)
    assert ring.area < shapely.Polygon(plain.draft.piece("core-front").skives[0].ring).area
    assert shapely.Polygon(back.outline * [-1, 1]).symmetric_difference(shapely.Polygon(front.outline)).area < 0.1

    lies = next(k for k in planned.draft.assembly.lies if k.piece == "core-front")
    centres = (lies.p + lies.q) / 2
    a, b, c = centres[2], centres[len(centres) // 2], centres[-8]
    about = np.linalg.solve(2 * np.array([b - a, c - a]), [b @ b - a @ a, c @ c - a @ a])
    assert abs(np.hypot(*(about - a)) / radius) == pytest.approx(1, abs=0.35), "near to the circle it was made from"
    body = planned.body.lying()
    outline = np.concatenate(
        [np.column_stack([body.top_mm, body.x_mm]), np.column_stack([body.low_mm, body.x_mm])[::-1]]
    )
    outline = outline @ lies.swing.turn.T + lies.swing.shift
    mouth, about = ring.bounds[1], np.array(lies.swing.about)
    room = ring.union(shapely.box(-2000, mouth - 500, 2000, mouth + 0.02))
    for share in np.linspace(0, 1, 25):
        turn = -np.sign(about[0]) * share * body.x_mm[-1] / abs(about[0])
        c, s = np.cos(turn), np.sin(turn)
        moved = shapely.Polygon((outline - about) @ np.array([[c, -s], [s, c]]) + about).buffer(0)
        left = moved.buffer(1.5 + 0.8 - 0.1).intersection(shapely.box(-2000, mouth, 2000, 2000)).difference(room)
        assert left.is_empty or left.area < 0.5, f"with its lining and its room, {share:.0%} of the way"


@pytest.mark.parametrize("seed", range(4))
def test_the_cover_of_a_bowed_core_is_as_long_as_its_middle_and_as_wide_as_its_girth(seed: int) -> None:
    """Square to the bow, by shapely on the wood as it is cut; its stretch by walking along the wood's two sides."""
    thing, _ = _bowed_blade(np.random.default_rng(seed))
    planned = plan(Job(name="any", thing=thing, piece=Scabbard(way_in="bowed", rounded=1.0, stretch=0.0)))
    wood, cover = planned.draft.piece("core-front"), planned.draft.piece("cover")
    solid, about = shapely.Polygon(wood.outline), np.array(next(
        k.swing.about for k in planned.draft.assembly.lies if k.swing and k.piece == "core-front"
    ))  # fmt: skip
    radius, mouth = abs(about[0]), float(wood.outline[:, 1].min())
    thick = 2 * wood.thickness_mm
    sides = []
    for along in np.linspace(20, float(cover.outline[:, 1].max()) - mouth - 20, 40):
        ray = np.array([-np.sign(about[0]) * np.cos(along / radius), np.sin(along / radius)])
        cut = shapely.get_coordinates(solid.intersection(shapely.LineString([about, about + 2 * radius * ray])))
        wide = float(np.hypot(*(cut[-1] - cut[0])))
        r = min(wide, thick) / 2
        girth = shapely.box(r, r, wide - r + 1e-9, thick - r + 1e-9).buffer(r, quad_segs=128).exterior.length
        row = shapely.LineString([(-500, mouth + along), (500, mouth + along)]).intersection(
            shapely.Polygon(cover.outline)
        )
        assert row.length == pytest.approx(girth + 2 * np.pi * 0.4 * 3.2, abs=0.3)
        sides.append(cut[[0, -1]])
    walked = np.hypot(*np.diff(np.array(sides), axis=0).T).sum(axis=1)
    worst = abs(walked[0] - walked[1]) / walked.sum()
    said = {f.code for f in planned.findings}
    assert ("cover-strain" in said) == (worst > 0.03) or abs(worst - 0.03) < 0.006


def test_a_recess_too_narrow_for_the_turn_is_held() -> None:
    thing, _ = _bowed_blade(np.random.default_rng(3))
    planned = plan(Job(name="any", thing=thing, piece=Scabbard(way_in="bowed", lining_mm=0.0, clearance_mm=0.5)))
    assembly = planned.draft.assembly
    front = assembly.piece("core-front")
    for less, held in ((0.3, False), (2.5, True)):
        ring = shapely.Polygon(front.skives[0].ring).buffer(-less)
        narrow = replace(front, skives=(replace(front.skives[0], ring=np.array(ring.exterior.coords)[:-1]),))
        pieces = tuple(narrow if p.id == "core-front" else p for p in assembly.pieces)
        proof = prove(replace(assembly, pieces=pieces), planned.stitching.seams, planned.body)
        assert ("no-way" in {f.code for f in proof.findings if f.level == "hold"}) is held


def test_what_has_no_bow_is_not_offered_a_bowed_way() -> None:
    job = demo("whetstone-case")
    assert "piece.way_in" not in {c.path for c in plan(job).draft.callouts}
    bowed = plan(change(job, "piece.way_in", "bowed"))
    assert "piece.way_in" in {c.path for c in bowed.draft.callouts}, "so that it can be taken back"
