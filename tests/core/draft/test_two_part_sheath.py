import numpy as np
import pytest
import shapely

from tests.bodies import plausible
from tests.jobs import demo, plain_knife
from tests.plates import same_area
from vow_line.core.draft.kinds.two_part_sheath import TwoPartSheath
from vow_line.core.job import Job, change, mend
from vow_line.core.measure.things.knife import Knife
from vow_line.core.plan import plan


def _job(**choices: object) -> Job:
    return change(demo("laying-knife"), "piece", TwoPartSheath(**choices))


def test_every_hole_keeps_off_the_blade_wherever_it_is_drawn() -> None:
    planned = plan(_job(close_mm=5.0))
    seam = planned.stitching.seam("round-seam")
    thing = planned.draft.thing
    blade = thing[thing[:, 1] >= 0]
    least = min(
        float(np.hypot(*(seam.points[:, None] - (blade - [0, s])[None]).transpose(2, 0, 1)).min())
        for s in np.arange(0, 160, 2.0)
    )
    assert least >= 3.0
    assert seam.to_edge_mm == pytest.approx(5.0, abs=0.5)


def test_the_faces_make_room_for_the_handle() -> None:
    """A handle much thicker than the blade takes more face than its outline: half the hull round it, as shapely draws it."""
    planned = plan(_job(seat_mm=20.0, close_mm=5.0, mouth_ease_mm=0.0))
    body = planned.measured.body.lying()
    k = int(np.argmin(np.abs(body.x_mm + 20)))
    y, z = body.y_mm[k] - body.y_mm[k].mean(), body.z_mm[k] / 2
    centre = (y[0] + y[-1]) / 2
    reach = (y[-1] - y[0]) / 2 + 5
    points = [*zip(y - centre, z, strict=True), (-reach, 1.6), (reach, 1.6)]
    hull = shapely.MultiPoint([*points, (-reach, -1), (reach, -1)]).convex_hull
    face = hull.length - 2 * reach - 2 * 2.6
    thread = planned.draft.seams[-1].line
    at_mouth = thread[0, 0] - thread[-1, 0]
    assert abs(at_mouth) == pytest.approx(face, abs=2.5)
    assert abs(at_mouth) > 2 * reach + 3


def test_front_and_back_are_mirrors() -> None:
    draft = plan(_job()).draft
    assert same_area(draft.piece("front").outline * [-1, 1], draft.piece("back").outline)


def test_a_thread_too_near_is_held_and_mended() -> None:
    job = _job(close_mm=2.0)
    found = next(f for f in plan(job).findings if f.code == "edge-near-thread")
    assert mend(job, found.mend).piece.close_mm == 5


def test_a_blade_with_two_edges_is_thickest_in_its_middle() -> None:
    body = plain_knife().model_copy(update={"edges": "two"}).measure().body
    k = int(np.argmin(np.abs(body.x_mm - 40)))
    middle = (body.top_mm[k] + body.edge_mm[k]) / 2
    assert np.interp(middle, body.y_mm[k][:4], body.z_mm[k][:4]) == pytest.approx(1.5, abs=0.05)
    assert body.z_mm[k][0] == 0


@pytest.mark.parametrize("seed", range(8))
def test_two_welts_a_strap_and_a_drain_are_sound(seed: int) -> None:
    """The whole proof, and the strap's way from hole to hole walked round the handle."""
    rng = np.random.default_rng(seed)
    choices = {"welts": 2, "welt_mm": 2.0, "strap_mm": 22.0, "drain_mm": 4.0, "loop": None, "seat_mm": 20.0}
    job = Job(name="any", thing=plausible(Knife, rng, "two_part_sheath"), piece=TwoPartSheath(**choices))
    planned = plan(job)
    assert {c.id for c in planned.checked if not c.holds} <= {"near"}
    assert planned.stitching.seam("round-seam").stack_mm.max() == pytest.approx(2 * 3.2 + 2 * 2.0)
    strap, back = planned.draft.piece("strap"), planned.draft.piece("back")
    way = np.hypot(*np.subtract(*(p.centre for p in strap.punches)))
    assert way > planned.body.girth_mm()[~planned.body.blade].min() / 2
    drain = next(p for p in back.punches if p.id == "drain")
    assert shapely.Polygon(back.outline).contains(shapely.Point(drain.centre).buffer(drain.diameter_mm / 2))
    thread = shapely.LineString(planned.stitching.seam("round-seam").on(2))
    assert thread.distance(shapely.Point(drain.centre)) > 3
    assert {s.id for s in planned.work.steps} >= {"set/rivet", "set/stud"}


@pytest.mark.parametrize("seed", range(6))
def test_a_scooped_mouth_is_cut_out_of_both_faces_and_what_sits_there_moves_down(seed: int) -> None:
    rng = np.random.default_rng(seed)
    thing = plausible(Knife, rng, "two_part_sheath")
    straight, scooped = (
        plan(
            Job(
                name="any",
                thing=thing,
                piece=TwoPartSheath(seat_mm=30.0, mouth=mouth, mouth_depth_mm=12.0, strap_mm=20.0),
            )
        )
        for mouth in ("straight", "scooped")
    )
    assert {c.id for c in scooped.checked if not c.holds} <= {c.id for c in straight.checked if not c.holds}
    for id in ("front", "back"):
        before, after = (shapely.Polygon(p.draft.piece(id).outline) for p in (straight, scooped))
        gone = before.difference(after)
        wide = (
            np.ptp(straight.draft.piece(id).edge("mouth").line[:, 0]) - 2 * 2 * 3.5
        )  # two margins on either side stay
        assert after.difference(before).area < 0.05
        assert gone.bounds[3] - gone.bounds[1] == pytest.approx(12.0, abs=0.3)
        assert gone.area == pytest.approx(12.0 * wide / 2 * 16 / 15, rel=0.01), "the integral of (1 - s²)²"
    seams = [p.stitching.seam("round-seam").points for p in (straight, scooped)]
    assert np.allclose(*seams), "the seam stays"
    high = [p.stitching.seam("belt-loop").points[:, 1].min() for p in (straight, scooped)]
    assert high[1] - high[0] == pytest.approx(12.0)


@pytest.mark.parametrize("seed", range(6))
def test_a_sloped_mouth_is_cut_along_one_line_lower_on_the_side_of_the_edge(seed: int) -> None:
    """The faces and the welt against those of a straight mouth cut by a half plane; what sits there stays below the cut."""
    rng = np.random.default_rng(seed)
    thing, worn = plausible(Knife, rng, "two_part_sheath"), ("right", "left")[seed % 2]
    straight, sloped = (
        plan(
            Job(
                name="any",
                thing=thing,
                piece=TwoPartSheath(seat_mm=30.0, mouth=mouth, mouth_depth_mm=12.0, strap_mm=20.0, worn=worn),
            )
        )
        for mouth in ("straight", "sloped")
    )
    assert {c.id for c in sloped.checked if not c.holds} <= {c.id for c in straight.checked if not c.holds}
    lower = 1 if worn == "right" else -1  # where the edge lies on the front; on the back the other way
    for id, way in (("front", lower), ("welt", lower), ("back", -lower)):
        before, after = (shapely.Polygon(p.draft.piece(id).outline) for p in (straight, sloped))
        ends = straight.draft.piece(id).edge("outer" if id == "welt" else "seam").line[[0, -1]]
        high, deep = sorted(ends.tolist(), reverse=way < 0)
        along = np.array([deep[0], deep[1] + 12.0]) - high
        far = [high - 50 * along, high + 50 * along]
        kept = before.intersection(shapely.Polygon([*far, far[1] + [0, 5e3], far[0] + [0, 5e3]]))
        assert after.symmetric_difference(kept).area < 0.002 * before.area, id
        there = [
            s.on(k)[s.there(k)] for s in sloped.stitching.seams for k, p in enumerate(s.line.placed) if p.piece == id
        ]
        assert after.contains(shapely.MultiPoint(np.concatenate(there))), id
        hung = shapely.union_all([shapely.Polygon(s.line) for s in sloped.draft.assembly.seats if s.piece == id])
        assert hung.difference(after).area == 0, "the loop's whole end lies on the leather"


@pytest.mark.parametrize("seed", range(6))
def test_toe_guards_lie_inside_both_faces_and_the_seam_and_the_drain_go_through_them(seed: int) -> None:
    rng = np.random.default_rng(seed)
    thing = plausible(Knife, rng, "two_part_sheath")
    plain, guarded = (
        plan(Job(name="any", thing=thing, piece=TwoPartSheath(drain_mm=4.0, toe_guard_mm=high, loop=None)))
        for high in (0.0, 35.0)
    )
    assert {c.id for c in guarded.checked if not c.holds} <= {c.id for c in plain.checked if not c.holds}
    assert [f.code for f in guarded.findings if f.level == "hold"] == [
        f.code for f in plain.findings if f.level == "hold"
    ]
    points = guarded.stitching.seam("round-seam").points
    more = guarded.stitching.seam("round-seam").stack_mm - plain.stitching.seam("round-seam").stack_mm
    begins = guarded.body.length_mm - 35
    assert more[points[:, 1] > begins + 8.1] == pytest.approx(2 * 1.5), "one in either face"
    assert more[points[:, 1] < begins] == pytest.approx(0.0)
    for id in ("front", "back"):
        face, guard = (guarded.draft.piece(n) for n in (id, f"toe-guard-{id}"))
        below = shapely.Polygon(face.outline).intersection(shapely.box(-500, begins, 500, 1e3))
        assert below.symmetric_difference(shapely.Polygon(guard.outline)).area < 0.1
    assert [p.centre for p in guarded.draft.piece("toe-guard-back").punches] == [
        p.centre for p in guarded.draft.piece("back").punches if p.id == "drain"
    ]
    steps = [s.id for s in guarded.work.steps]
    assert max(steps.index("fix/toe-guard-front"), steps.index("fix/toe-guard-back")) < steps.index("glue/round-seam")
