import numpy as np
import pytest
import shapely

from tests.jobs import demo
from vow_line.core.draft.kinds.scabbard import Scabbard
from vow_line.core.job import change, mend
from vow_line.core.plan import plan


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
