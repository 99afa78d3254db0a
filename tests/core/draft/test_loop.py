"""How a piece hangs on a belt."""

import numpy as np
import pytest
import shapely

from tests.jobs import demo
from vow_line.core.draft.loop import RING_MM, BeltLoop
from vow_line.core.job import Job, change
from vow_line.core.plan import plan


def _hung(name: str, style: str) -> Job:
    job = demo(name)
    return change(job, "piece.loop", job.piece.loop.model_copy(update={"style": style}))


@pytest.mark.parametrize("name", ["laying-knife", "turf-knife", "secateurs-holster"])
def test_slots_let_the_belt_through_and_nothing_is_sewn_for_it(name: str) -> None:
    planned = plan(_hung(name, "slots"))
    slotted = [p for p in planned.draft.pieces if p.slots]
    assert len(slotted) == 1
    piece, loop = slotted[0], planned.job.piece.loop
    one, two = (shapely.Polygon(s) for s in piece.slots)
    assert shapely.Polygon(piece.outline).contains(shapely.union_all([one, two]))
    assert one.distance(two) == pytest.approx(loop.width_mm - 5, abs=0.01)
    assert np.ptp(piece.slots[0][:, 1]) == pytest.approx(loop.belt_mm + 2)
    assert "belt-loop" not in [s.id for s in planned.draft.seams]
    assert f"slots/{piece.id}" in [s.id for s in planned.work.steps]


@pytest.mark.parametrize("name", ["laying-knife", "turf-knife", "secateurs-holster"])
def test_a_hanging_loop_is_sewn_to_itself_and_its_hanger_to_the_back(name: str) -> None:
    planned = plan(_hung(name, "hanging"))
    draft, loop = planned.draft, planned.job.piece.loop
    on = {s.id: [p.piece for p in s.placed] for s in draft.seams}
    assert on["belt-loop"] == ["belt-loop", "belt-loop"]
    assert on["hanger"][1:] == ["hanger", "hanger"]
    neutral = 0.5 if name in ("laying-knife", "turf-knife") else 0.4
    turn = np.pi * (RING_MM / 2 + neutral * planned.job.leather.thickness_mm)
    hanger = draft.piece("hanger").outline
    assert np.ptp(hanger[:, 1]) == pytest.approx(2 * (loop.box_mm + loop.hang_mm) + turn)
    plain = plan(demo(name)).draft.piece("belt-loop").outline
    assert np.ptp(draft.piece("belt-loop").outline[:, 1]) - np.ptp(plain[:, 1]) == pytest.approx(turn)
    ids = [s.id for s in planned.work.steps]
    assert ids.index("sew/hanger") < ids.index(f"sew/{draft.seams[-1].id}"), "the back is still open when it is sewn on"
    seam = planned.stitching.seam("belt-loop")
    outline = shapely.Polygon(draft.piece("belt-loop").outline)
    assert shapely.contains_xy(outline, *np.concatenate([seam.on(0), seam.on(1)]).T).all()


def test_slots_too_near_to_the_edge_are_found() -> None:
    job = _hung("turf-knife", "slots")
    assert not [f for f in plan(job).findings if f.code == "slot-near-edge"]
    wide = change(job, "piece.loop.width_mm", 50.0)
    assert [f for f in plan(wide).findings if f.code == "slot-near-edge"]


def test_a_loop_takes_two_boxes_two_belts_and_a_half_turn() -> None:
    loop = BeltLoop(box_mm=25, belt_mm=40, belt_thick_mm=4)
    assert loop.cut_length_mm(3.0, 0.5) == pytest.approx(2 * (25 + 40 + 2) + np.pi * (2 + 1.5))
