import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import demo, words
from vow_line.core.draft.ornament import Ornament, row_of
from vow_line.core.job import Job, change, mend, ornament, plain_again
from vow_line.core.plan import plan
from vow_line.core.ring import closed


def _with(name: str, kind: str, piece: str, **choices: object) -> Job:
    return change(demo(name), "ornaments", (Ornament(kind=kind, piece=piece, **choices),))


@given(st.floats(20, 200), st.floats(30, 120), st.floats(3, 12))
def test_a_punched_row_closes_on_itself_with_as_many_large_as_small(wide: float, high: float, pitch: float) -> None:
    ring = np.array([[0, 0], [wide, 0], [wide, high], [0, high]])
    holes, real = row_of(ring, pitch)
    assert len(holes) % 2 == 0
    assert real == pytest.approx(pitch, rel=2 * pitch / (wide + high))
    outline = shapely.LineString(closed(ring))
    places = [outline.project(shapely.Point(p)) for p in holes]
    gaps = np.diff([*places, outline.length])
    assert gaps == pytest.approx(real)


def test_a_border_lies_where_it_was_asked_all_round() -> None:
    """Common practice: about 12 mm in from the cut."""
    piece = plan(_with("laying-knife", "border", "sheath")).draft.piece("sheath")
    border = piece.ornament[0].line
    cut = shapely.LineString(closed(piece.outline))
    assert shapely.distance(shapely.points(border), cut) == pytest.approx(12.0, abs=0.1)


def test_an_overlay_thickens_every_stack_it_covers_and_no_other() -> None:
    plain = plan(demo("laying-knife")).stitching.seam("main-seam").stack_mm
    near = plan(_with("laying-knife", "overlay", "sheath", in_mm=0.0, thick_mm=1.2))
    # both halves of the folded sheath lie under the seam, and the overlay covers both
    assert near.stitching.seam("main-seam").stack_mm == pytest.approx(plain + 2 * 1.2)
    far = plan(_with("laying-knife", "overlay", "sheath", in_mm=12.0, thick_mm=1.2))
    assert far.stitching.seam("main-seam").stack_mm == pytest.approx(plain)
    loop = far.stitching.seam("belt-loop").stack_mm
    assert loop.max() > plan(demo("laying-knife")).stitching.seam("belt-loop").stack_mm.max() + 1
    assert near.threading.seam("main-seam").path_mm > plan(demo("laying-knife")).threading.seam("main-seam").path_mm
    piece = near.draft.piece("overlay-1")
    assert piece.area_mm2 > plan(demo("laying-knife")).draft.piece("sheath").area_mm2


def test_a_pinked_edge_has_whole_teeth_and_leaves_the_sewn_edges_alone() -> None:
    plain = plan(demo("laying-knife")).draft.piece("sheath")
    pinked = plan(_with("laying-knife", "pinked-edge", "sheath", pitch_mm=4.0, deep_mm=2.0)).draft.piece("sheath")
    before, after = shapely.Polygon(plain.outline), shapely.Polygon(pinked.outline)
    assert after.is_valid
    assert before.buffer(0.05).contains(after), "it is cut into, never out of"
    gone = before.difference(after)
    assert gone.area > 20
    seam = shapely.LineString(plain.edges[1].line[3:-3])
    assert gone.buffer(-0.1).distance(seam) > 1


def test_ornaments_come_in_the_work_and_can_be_taken_away() -> None:
    job = ornament(demo("secateurs-holster"), kind="stamped-area", piece="front")
    steps = {s.id: s for s in plan(job).work.steps}
    assert "craft/front/0" in steps
    assert "craft/front/0" in {s.id for s in plan(job).work.before("form")}
    assert "off the stamped area of the front" in words(steps["form"].says)
    assert plain_again(job).ornaments == ()


@pytest.mark.parametrize(("piece", "moulded", "said"), [("front", "both", True), ("back", "both", True),
                                                        ("back", "front", False), ("belt-loop", "both", False)])  # fmt: skip
def test_a_stamp_where_the_leather_is_worked_over_the_thing_is_a_look(piece: str, moulded: str, said: bool) -> None:
    job = change(demo("secateurs-holster"), "piece.moulded", moulded)
    job = change(ornament(job, kind="stamped-area", piece=piece), "ornaments.0.in_mm", 5.0)
    found = [f for f in plan(job).findings if f.code == "stamp-on-moulded"]
    assert bool(found) is said
    if found and found[0].mend:
        assert not [f for f in plan(mend(job, found[0].mend)).findings if f.code == "stamp-on-moulded"]
    dry = change(ornament(demo("laying-knife"), kind="stamped-area", piece="sheath"), "piece.formed", False)
    assert "stamp-on-moulded" not in {f.code for f in plan(dry).findings}


def test_what_has_no_place_is_said_and_mended() -> None:
    job = _with("laying-knife", "border", "flap")
    found = next(f for f in plan(job).findings if f.code == "ornament-nowhere")
    assert mend(job, found.mend).ornaments[0].piece == "sheath"
    deep = _with("laying-knife", "border", "welt", in_mm=40.0)
    found = next(f for f in plan(deep).findings if f.code == "ornament-too-far-in")
    assert mend(deep, found.mend).ornaments[0].in_mm == 20.0
