from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import demo, words
from vow_line.core.curve import arc_length
from vow_line.core.draft.ornament import Ornament, _inside, _teeth, row_of
from vow_line.core.job import Job, change, mend
from vow_line.core.plan import plan
from vow_line.core.proof import prove
from vow_line.core.ring import closed
from vow_line.core.steps import ornament, plain_again


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


def test_a_binding_goes_round_every_free_edge_as_a_strip_is_cut_for_it() -> None:
    """25 wide of leather 0.8 thick (common practice): 2 times the edge's thickness and 2 times what reaches in."""
    plain = plan(demo("waistcoat"))
    made = plan(ornament(demo("waistcoat"), kind="binding", piece="panel-A"))
    assert not made.holds
    piece, bare = made.draft.piece("panel-A"), plain.draft.piece("panel-A")
    strips = {p.id: p for p in made.draft.pieces if p.stock.sort == "binding"}
    free = [e for e in bare.edges if e.open == "free"]
    assert len(strips) == len(free) > 3
    for edge in free:
        long, wide = np.ptp(strips[f"binding-1-{edge.id}"].outline, axis=0)
        assert long == pytest.approx(float(arc_length(edge.line)[-1]) + 20)
        assert wide == pytest.approx(2 * 1.6 + 2 * 10.5)
        seam = made.stitching.seam(f"binding-1-{edge.id}")
        assert seam.stack_mm == pytest.approx(0.8 + 1.6 + 0.8)
        off = shapely.distance(shapely.points(seam.on(0)), shapely.LineString(edge.line))
        assert off == pytest.approx(7.5, abs=0.5)
        up, low = seam.on(1), seam.on(2)
        assert up == pytest.approx(low * [1, -1])
        # folded over the edge, a hole comes to lie as far in as on the panel, the edge's own thickness taken up by the fold
        assert np.abs(up[:, 1]) == pytest.approx(7.5 + 1.6)
    assert all(made.draft.assembly.finish(piece, piece.edge(e.id)).when == "never" for e in free)
    before = {s.id for s in plain.work.steps}
    assert {f"edge/panel-A/{e.id}" for e in free} <= before - {s.id for s in made.work.steps}
    order = [s.id for s in made.work.steps]
    assert order.index("sew/meet-0") < min(order.index(f"sew/{id}") for id in strips), "binding comes last"
    assert all(c.holds for c in made.proof.checked)


def test_a_lining_thickens_what_is_sewn_through_it_and_is_refused_where_it_takes_room() -> None:
    lined = plan(ornament(demo("waistcoat"), kind="lining", piece="panel-A"))
    assert not lined.holds
    assert lined.stitching.seam("meet-0").stack_mm == pytest.approx(1.6 + 1.6 + 1.0)
    assert np.ptp(lined.draft.piece("lining-1").outline, axis=0) == pytest.approx(
        np.ptp(lined.draft.piece("panel-A").outline, axis=0) + 8, abs=0.1
    )
    for name, piece, code in (
        ("spar-knife", "sheath", "lining-takes-room"), ("goat-collar", "keeper", "lining-takes-room"),
        ("basket-handle", "strap", "lining-takes-room"), ("tool-sling", "strap", "lining-takes-room"),
        ("mallet-tab", "strip", "lining-nowhere"),
    ):  # fmt: skip
        tight = plan(ornament(demo(name).model_copy(update={"vows": ()}), kind="lining", piece=piece))
        held = next(f for f in tight.findings if f.code == code)
        assert mend(tight.job, held.mend).ornaments == ()


@pytest.mark.parametrize("thick", [0.6, 1.0, 2.5])
def test_a_lined_collar_goes_round_its_lining_too_and_that_ends_clear_of_the_lap(thick: float) -> None:
    """By hand: the strap's middle lies half its thickness outside the lining; a keeper goes round both plies and theirs."""
    bare = plan(demo("goat-collar").model_copy(update={"vows": ()}))
    made = plan(change(ornament(bare.job, kind="lining", piece="strap"), "ornaments.0.thick_mm", thick))
    assert not made.holds
    assert all(c.holds for c in made.proof.checked)
    one, other = (p.draft.piece("strap") for p in (bare, made))
    assert np.ptp(other.outline[:, 0]) - np.ptp(one.outline[:, 0]) == pytest.approx(2 * np.pi * thick)
    keepers = [float(np.ptp(p.draft.piece("keeper").outline[:, 0])) for p in (bare, made)]
    assert keepers[1] - keepers[0] == pytest.approx(2 * 2 * thick)
    lining, lap = made.draft.piece("lining-1"), made.job.piece.lap.long_mm
    assert lining.outline[:, 0].min() == pytest.approx(lap + 1.0, abs=0.1), "glued down large"
    assert lining.outline[:, 0].max() == pytest.approx(other.outline[:, 0].max() + 4.0, abs=0.3)
    assert made.stitching.seam("first-end").stack_mm == pytest.approx(bare.stitching.seam("first-end").stack_mm)
    assembly = made.draft.assembly
    without = replace(assembly, joins=tuple(j for j in assembly.joins if j.id != "lining-1"))
    assert "strap-length" in {f.code for f in prove(without, (), made.measured.body).findings}
    told = {r.key: words(r.sum) for r in made.draft.tell()}
    assert "lining" in told["fits"]
    between = plan(ornament(demo("tool-sling").model_copy(update={"vows": ()}), kind="lining", piece="strap"))
    free = plan(
        ornament(
            change(between.job, "piece.pad", None).model_copy(update={"ornaments": ()}), kind="lining", piece="strap"
        )
    )
    assert not free.holds
    ends = free.draft.piece("lining-1").outline[:, 0]
    assert ends.min() > free.job.piece.lap.long_mm
    assert ends.max() < free.job.piece.long_mm


def test_what_has_no_free_edge_is_not_bound_and_that_is_said() -> None:
    made = plan(ornament(demo("stone-tube"), kind="binding", piece="base"))
    found = next(f for f in made.findings if f.code == "nothing-to-bind")
    assert mend(made.job, found.mend).ornaments == ()


@pytest.mark.parametrize(("name", "piece"), [("gaiter", "wrap"), ("waistcoat", "panel-A"), ("first-aid-pouch", "body")])
def test_a_fringe_is_as_long_as_its_edge_and_slit_into_whole_strips_that_hang_beyond_it(name: str, piece: str) -> None:
    job = ornament(demo(name), kind="fringe", piece=piece)
    made = plan(job)
    assert not [f for f in made.findings if f.level == "hold" and f.code != "leather-too-small"]
    strip, on = made.draft.piece("fringe-1"), made.draft.piece(piece)
    assert made.draft.shown[-1] == "fringe-1"
    long, deep = np.ptp(strip.outline, axis=0)
    free = [e for e in on.edges if e.open in ("mouth", "free") and not e.ring]
    low = max(free, key=lambda e: float(e.line[:, 1].mean()))
    assert long == pytest.approx(float(np.hypot(*np.diff(low.line, axis=0).T).sum()), abs=0.01)
    (slits,) = (m.line.reshape(-1, 2, 2) for m in strip.ornament)
    apart = np.diff(np.concatenate([[0.0], slits[:, 0, 0], [long]]))
    assert apart == pytest.approx(np.full(len(slits) + 1, long / (len(slits) + 1)))
    assert long / (len(slits) + 1) == pytest.approx(4.0, rel=0.1), "the pitch asked for, as near as whole strips come"
    assert np.ptp(slits[:, :, 1], axis=1) == pytest.approx(45.0)
    seam = made.stitching.seam("fringe-1")
    assert len(seam.on(0)) == len(seam.on(1))
    hangs = deep - seam.on(1)[:, 1].mean()
    assert hangs == pytest.approx(45 + 3, abs=0.01), "from the thread, 3 mm in from the edge, to the tips"
    assert slits[:, :, 1].min() - seam.on(1)[:, 1].max() >= 2, "no slit runs into a hole"
    steps = [s.id for s in made.work.steps]
    assert steps.index("craft/fringe-1/0") < steps.index("sew/fringe-1")
    assert not [f for f in made.findings if f.code.startswith("step-")]


def test_where_no_edge_is_free_there_is_no_fringe() -> None:
    made = plan(ornament(demo("laying-knife"), kind="fringe", piece="welt"))
    found = next(f for f in made.findings if f.code == "nothing-to-bind")
    assert plan(mend(made.job, found.mend)).job.ornaments == ()


@pytest.mark.parametrize(("name", "piece"), [("gaiter", "wrap"), ("waistcoat", "panel-A"), ("file-roll", "back")])
def test_a_natural_edge_is_neither_cut_nor_finished_and_lies_no_farther_out_than_is_said(name: str, piece: str) -> None:
    plain, kept = plan(demo(name)), plan(_with(name, "natural-edge", piece, in_mm=9.0))
    grown = [e for e in kept.draft.piece(piece).edges if e.grown]
    assert len(grown) == 1
    mark = next(m for m in kept.draft.piece(piece).ornament if m.id == "ornament/0")
    area = shapely.Polygon(kept.draft.piece(piece).outline)
    off = shapely.distance(shapely.points(mark.line), shapely.LineString(grown[0].line))
    assert not area.buffer(-0.5).covers(shapely.MultiPoint(mark.line))
    assert off.min() == pytest.approx(0.0, abs=0.1)
    assert off.max() == pytest.approx(9.0, abs=0.3)
    steps, before = ({s.id: s for s in p.work.steps} for p in (kept, plain))
    assert f"edge/{piece}/{grown[0].id}" not in steps
    assert steps[f"cut/{piece}"].minutes < before[f"cut/{piece}"].minutes
    assert "as it grew" in words(steps[f"cut/{piece}"].says)
    assert kept.work.checked.holds
    said = [f for f in kept.findings if f.code == "natural-edge"]
    assert [f.station for f in said] == ["layout"]
    assert {f.code for f in kept.findings if f.level == "hold"} == {f.code for f in plain.findings if f.level == "hold"}
    bound = plan(change(kept.job, "ornaments", (*kept.job.ornaments, Ornament.usual("binding", piece))))
    assert not [p for p in bound.draft.pieces if p.id == f"binding-2-{grown[0].id}"]


def test_where_no_edge_is_free_none_is_kept_as_it_grew() -> None:
    planned = plan(_with("laying-knife", "natural-edge", "welt"))
    found = next(f for f in planned.findings if f.code == "nothing-to-bind")
    assert "natural edge" in words(found.says)
    assert not plan(mend(planned.job, found.mend)).job.ornaments


@given(st.integers(3, 9), st.floats(1.0, 4.0), st.floats(-6.0, 14.0))
def test_a_line_beside_an_edge_of_many_teeth_keeps_its_distance(sides: int, pitch: float, by_mm: float) -> None:
    """Teeth cut round a regular outline 120 mm across: 95 to 380 of them, two points each."""
    around = np.linspace(0, 2 * np.pi, sides, endpoint=False)
    corners = closed(60.0 * np.column_stack([np.cos(around), np.sin(around)]))
    toothed = np.vstack([_teeth(corners[k : k + 2], pitch, pitch)[:-1] for k in range(sides)])
    within = _inside(toothed, by_mm)
    assert within is not None
    whole = shapely.Polygon(toothed).buffer(0)  # at a corner teeth may cross
    far = shapely.distance(whole.boundary, shapely.points(within))
    assert far == pytest.approx(abs(by_mm), abs=0.1)
    wide = whole.buffer(-by_mm)
    largest = max(getattr(wide, "geoms", [wide]), key=lambda g: g.area)
    assert shapely.Polygon(within).symmetric_difference(largest).area < 0.06 * largest.length
