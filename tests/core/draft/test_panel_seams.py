"""Seams of panels that stand up, are bound or opened, and what they and linings take of a girth."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.draft.test_panelled import codes, put, strip, traced
from tests.jobs import read, words
from tests.many import examples
from vow_line.core.draft.kinds.panelled import Halves, Meet
from vow_line.core.job import change, mend
from vow_line.core.made.lying import lie
from vow_line.core.measure.panel import Corner, Panel
from vow_line.core.measure.panel_set import LevelOn, PanelLevel
from vow_line.core.plan import Plan, plan
from vow_line.core.steps import ornament
from vow_line.core.work.complete import complete


@given(margin=st.floats(2.5, 7), thick=st.floats(1.0, 3.0), bind=st.floats(0.5, 1.2), high=st.floats(80, 320))
@settings(max_examples=examples(12), deadline=None)
def test_two_edges_bound_are_sewn_through_both_halves_of_a_strip_that_is_folded_round_them(
    margin: float, thick: float, bind: float, high: float
) -> None:
    """Common practice: as long as the edge and 2 laps, as wide as 2 times the edge is thick and what reaches in."""
    shapes = strip("A", 120.0, high), strip("B", 140.0, high)
    meets = (Meet(a="A3", b="B1", how="bound"),)
    made = put(*shapes, meets=meets, margin_mm=margin, bind_mm=bind)
    made = plan(change(made.job, "leather.thickness_mm", thick))
    flush = plan(change(made.job, "piece.meets.0.how", "flush"))
    assert not codes(made, "hold")
    binding = made.draft.piece("binding-meet-0")
    way, wide = np.ptp(binding.outline, axis=0)
    assert way == pytest.approx(high + 20.0, abs=0.1)
    assert wide == pytest.approx(2 * (2 * thick) + 2 * (margin + 3.0))
    seam, plain = made.stitching.seam("meet-0"), flush.stitching.seam("meet-0")
    assert np.allclose(seam.points, plain.points), "where they are sewn does not change"
    assert seam.stack_mm == pytest.approx(plain.stack_mm + 2 * bind)
    # folded round the two edges, a hole in either half lies the margin in from where they end
    for k in (2, 3):
        assert np.abs(np.abs(seam.on(k)[:, 1]) - 2 * thick) == pytest.approx(margin)
        assert np.diff(seam.on(k)[:, 0]) == pytest.approx(np.hypot(*np.diff(seam.on(0), axis=0).T), abs=1e-6)
    for panel, edge in (("panel-A", "A3"), ("panel-B", "B1")):
        assert made.draft.piece(panel).edge(edge).bound
        assert f"edge/{panel}/{edge}" not in {s.id for s in made.work.steps}
    assert not [s.id for s in made.work.steps if s.id == "edge/meet-0"]
    assert [s.id for s in flush.work.steps if s.id == "edge/meet-0"]
    assert made.work.checked.holds


def leaning(letter: str, wide: float, lean: float, high: float = 300.0) -> Panel:
    """A strip whose right edge leans out by so much on its height."""
    return traced(letter, (0, high), (0, 0), (wide, 0), (wide + lean, high))


@given(margin=st.floats(2.5, 7), lean=st.floats(-60, 60), how=st.sampled_from(["flush", "bound", "turned", "over", "butt"]),
       holes=st.sampled_from(["anew", "kept"]))  # fmt: skip
@settings(max_examples=examples(20), deadline=None)
def test_what_edges_take_when_they_are_sewn_is_not_there_round_the_body(
    margin: float, lean: float, how: str, holes: str
) -> None:
    """By hand: edges that stand up, and old ones by their holes, take of the girth what lies beyond the thread, over the cosine
    of how they lean.
    """
    on = (LevelOn(letter="A", at_mm=150.0), LevelOn(letter="B", at_mm=150.0))
    level = PanelLevel(round="other", girth=read(300), on=on)
    long = float(np.hypot(300, lean))
    way, steps = np.array([lean, 300.0]) / long, np.linspace(10, long - 10, 20)[:, None]
    one = [180.0, 0.0] + steps * way + margin * np.array([-way[1], way[0]])
    other = np.column_stack([np.full(20, margin), steps[:, 0]])
    pair = [p.model_copy(update={"holes": tuple(map(tuple, row.tolist()))})
            for p, row in ((leaning("A", 180.0, lean), one), (strip("B", 120.0, long), other))]  # fmt: skip
    made = put(*pair, levels=(level,), meets=(Meet(a="A3", b="B1", how=how, holes=holes),), margin_mm=margin)
    given_ = next(float(r.number) for r in made.draft.reckonings if r.key == "level-0")
    takes = how in ("flush", "bound") or (holes == "kept" and how != "butt")
    assert "holes-differ" not in codes(made, "hold")
    assert given_ == pytest.approx(300 + lean / 2 - takes * margin * (1 + long / 300), abs=0.03), "traced to hundredths"


@pytest.mark.parametrize(("keep", "each"), [("a", 120.0), ("b", 126.0), ("neither", 123.0), ("mean", 123.0)])
def test_edges_that_stand_up_take_no_more_where_one_half_is_kept_for_both(keep: str, each: float) -> None:
    """By hand: twice the half that is kept, or both as they are, less a margin at either edge of the one seam."""
    on = (LevelOn(letter="A", at_mm=150.0), LevelOn(letter="B", at_mm=150.0))
    level = PanelLevel(round="other", girth=read(240), on=on)
    made = put(leaning("A", 110.0, 20.0), leaning("B", 116.0, 20.0), levels=(level,), margin_mm=4.0,
               meets=(Meet(a="A1", b="B1", how="flush"),), halves=(Halves(a="A", b="B", keep=keep),))  # fmt: skip
    told = next(r for r in made.draft.reckonings if r.key == "level-0")
    wide = float(told.number)
    assert [words(m) for m in told.more] == [f"{2 * each:g} across the panels − 8 mm that sewn edges take"]
    assert wide == pytest.approx(2 * each - 8.0, abs=0.02)


@given(margin=st.floats(2.5, 7), widths=st.tuples(*[st.floats(60, 160)] * 3))
@settings(max_examples=examples(12), deadline=None)
def test_a_seam_that_is_opened_is_sewn_where_the_edges_were_traced_and_lies_flat_before_the_next(
    margin: float, widths: tuple[float, float, float]
) -> None:
    """Both edges run on by the margin; opened, what is seen is as wide as what was traced, and the edges lie inside, double."""
    meets = (Meet(a="A3", b="B1", how="turned"), Meet(a="B3", b="C1", how="turned"))
    made = put(*(strip(k, w) for k, w in zip("ABC", widths, strict=True)), meets=meets, margin_mm=margin)
    assert not codes(made, "hold")
    assert sum(float(np.ptp(p.outline[:, 0])) for p in made.draft.pieces) == pytest.approx(
        sum(widths) + 4 * margin, abs=0.02
    )
    for k, wide in enumerate(widths[:2]):
        seam = made.stitching.seam(f"meet-{k}")
        one, other = seam.on(0), seam.on(1)
        assert one[:, 0] == pytest.approx(wide, abs=0.01)
        assert other[:, 0] == pytest.approx(0.0)
        assert one[:, 1] == pytest.approx(other[:, 1])
    steps = {s.id: s for s in made.work.steps}
    order = list(steps)
    assert order.index("sew/meet-0") < order.index("open/meet-0") < order.index("holes/meet-1")
    assert "open/meet-0" in steps["holes/meet-1"].needs, "whatever order they stand in"
    closed = tuple(s for s in made.work.steps if s.id != "open/meet-1")
    _, found = complete(made.draft.assembly, closed, wet=False)
    assert ("step-missing", "open/meet-1") in {(f.code, f.at) for f in found}
    assert "inside out: the sides that will be seen lie on each other" in words(steps["sew/meet-0"].says)
    assert not {"glue/meet-0", "edge/meet-0", "edge/panel-A/A3"} & steps.keys(), (
        "its edges are hidden, and free till it is open"
    )
    assert made.work.checked.holds
    thick = plan(change(made.job, "leather.thickness_mm", 2.6))
    ridge = next(f for f in thick.findings if f.code == "seam-ridge")
    assert "seam-ridge" not in codes(made, "look")
    assert ridge.mend is not None
    assert sum(f.code == "seam-ridge" for f in thick.findings) == 2
    assert sum(f.code == "seam-ridge" for f in plan(mend(thick.job, ridge.mend)).findings) == 1


def test_a_hollow_too_narrow_for_what_runs_on_and_a_waist_too_narrow_for_a_thread_are_held() -> None:
    """A slit 3 mm wide has no room for two edges of 4 mm, and a waist of 5 mm none for a thread 4 mm in."""

    def fingers(slit: float, how: str) -> Plan:
        wide, far = 60, 120 + slit
        ring = [(0, 200), (0, 0), (wide, 0), (wide, 120), (wide + slit, 120), (wide + slit, 0), (far, 0), (far, 200)]
        pair = []
        for letter, points in (("A", ring), ("B", [(far - x, y) for x, y in ring[::-1]])):
            panel = traced(letter, *points)
            wrist = [c.at for c in panel.corners if panel.ring[c.at][1] > 150]
            pair.append(
                panel.model_copy(update={"corners": tuple(Corner(n=n, at=at) for n, at in enumerate(wrist, 1))})
            )
        return put(*pair, meets=(Meet(a="A1", b="B1", how=how),), margin_mm=4, asked=False)

    made = fingers(30, "turned")
    assert not codes(made, "hold")
    cut = shapely.Polygon(made.draft.piece("panel-A").outline)
    assert cut.is_valid
    for x, y in made.stitching.seam("meet-0").on(0)[1:-1].tolist():
        assert 3.89 < cut.boundary.distance(shapely.Point(x, y)) < 4.0 * np.sqrt(2) + 0.01, (
            "at most as in a mitred corner"
        )
    assert "seam-off-edge" in codes(fingers(3, "turned"), "hold"), "the slit is filled, its thread far from any edge"
    assert not codes(fingers(30, "flush"), "hold")
    y = np.linspace(0, 300, 61)
    for waist, wrong in ((5.0, {"meet-part"}), (40.0, set[str]())):
        x = waist / 2 + 30 * (np.abs(y - 150) / 150) ** 2
        pair = []
        for letter in "AB":
            panel = traced(letter, *np.column_stack([-x, y])[::-1].tolist(), *np.column_stack([x, y]).tolist())
            corners = [c for c in panel.corners if not 1 < panel.ring[c.at][1] < 299]
            pair.append(panel.model_copy(update={"corners": tuple(corners)}))
        assert codes(put(*pair, meets=(Meet(a="A3", b="B1", how="flush"),), asked=False), "hold") == wrong


@given(thick=st.floats(0.5, 2.5), front=st.floats(120, 260), back=st.floats(120, 260), both=st.booleans())
@settings(max_examples=examples(12), deadline=None)
def test_a_lining_takes_of_the_girth_at_a_level_what_lies_between_the_body_and_the_leather(
    thick: float, front: float, back: float, both: bool
) -> None:
    """Round a cylinder: where it is lined, the leather's middle lies half of its own thickness and the lining farther out."""
    on = (LevelOn(letter="A", at_mm=150.0), LevelOn(letter="B", at_mm=150.0))
    level = PanelLevel(round="other", girth=read(400), on=on)
    meets = Meet(a="A3", b="B1", how="butt"), Meet(a="B3", b="A1", how="butt")
    made = put(strip("A", front), strip("B", back), levels=(level,), meets=meets)
    lined = ornament(made.job, kind="lining", piece="panel-A")
    lined = change(lined, "ornaments.0.thick_mm", thick)
    if both:
        lined = change(ornament(lined, kind="lining", piece="panel-B"), "ornaments.1.thick_mm", thick)
    share = 1.0 if both else front / (front + back)
    r = 400 / (2 * np.pi)
    out = [2 * np.pi * share * (r + thick + 1.0), 2 * np.pi * (1 - share) * (r + 1.0)]  # of 2 mm leather
    after = plan(lined)
    off = (front + back) - sum(out)
    assert ("level-off" in {f.code for f in after.findings}) is (abs(off) > 0.02 * 400)
    if found := next((f for f in after.findings if f.code == "level-off" and f.mend), None):
        assert found.mend is not None
        eased = mend(lined, found.mend)
        assert eased.piece.ease_mm == pytest.approx(off, abs=0.06)
        assert "level-off" not in {f.code for f in plan(eased).findings}


def _bent(x: float, from_mm: float, radius: float) -> float:
    """Where a point of a strip comes to lie that is bent back half round from a place on, by its middle layer, step by step."""
    at, way, turned = from_mm, 1.0, 0.0
    steps = 20_000
    for _ in range(steps):
        if turned < np.pi:
            turned = min(turned + (x - from_mm) / steps / radius, np.pi)
        way = float(np.cos(turned))
        at += way * (x - from_mm) / steps
    return at


@given(margin=st.floats(2.0, 7), thick=st.floats(0.8, 3.0), under=st.floats(16, 40), high=st.floats(80, 320))
@settings(max_examples=examples(12), deadline=None)
def test_an_edge_folded_in_lies_where_it_was_traced_and_its_holes_on_each_other(
    margin: float, thick: float, under: float, high: float
) -> None:
    """The strip that is turned in, thinned to half, is bent round its middle layer step by step."""
    meets = (Meet(a="A3", b="B1", how="folded", under_mm=under),)
    made = put(strip("A", 120.0, high), strip("B", 140.0, high), meets=meets, margin_mm=margin)
    made = plan(change(made.job, "leather.thickness_mm", thick))
    assert not codes(made, "hold")
    assert all(c.holds for c in made.proof.checked)
    seam, thin = made.stitching.seam("meet-0"), thick / 2
    assert seam.stack_mm == pytest.approx(2 * thick + thin)
    assert [p.piece for p in seam.line.placed] == ["panel-A", "panel-A", "panel-B"]
    face, turned, below = (seam.on(k)[:, 0] for k in range(3))
    assert face == pytest.approx(120.0 - margin, abs=1e-6)
    assert below == pytest.approx(-margin, abs=1e-6)
    begins = 120.0 - thin  # its outside then ends where the edge was traced
    assert _bent(float(turned[0]), begins, thin / 2) == pytest.approx(120.0 - margin, abs=0.01)
    cut = made.draft.piece("panel-A").outline[:, 0].max()
    assert _bent(float(cut), begins, thin / 2) == pytest.approx(120.0 - 2 * margin, abs=0.01)
    told = next(words(r.sum) for r in made.draft.tell() if r.key == "turn-0")
    beyond = 2 * margin - (2 - np.pi / 2) * thick / 2
    assert cut - 120.0 == pytest.approx(beyond, abs=1e-6)
    assert f"{round(beyond, 1):g} mm of it cut beyond" in told, "as the sum says"
    (skive,) = made.draft.piece("panel-A").skives
    assert (skive.ring[:, 0].min(), skive.ring[:, 0].max()) == (pytest.approx(begins), pytest.approx(cut)), (
        "as it turns"
    )
    (fold,) = made.draft.piece("panel-A").folds
    assert fold[:, 0] == pytest.approx(begins + np.pi / 4 * thin, abs=1e-6)
    assert np.ptp(made.draft.piece("panel-B").outline[:, 0]) == pytest.approx(140.0 + under)
    steps = [s.id for s in made.work.steps]
    assert steps.index("skive/panel-A/turn-A3") < steps.index("craft/panel-A/0") < steps.index("sew/meet-0")
    assert not {"edge/panel-A/A3", "edge/panel-B/B1"} & set(steps)
    assert made.work.checked.holds
    plain = plan(change(made.job, "piece.meets.0.how", "over"))
    assert plain.stitching.seam("meet-0").on(1)[:, 0] == pytest.approx(below), "what lies under it is as it was"


@pytest.mark.parametrize("bow", [-1.0, 1.0])
def test_what_is_turned_in_along_a_curve_is_said(bow: float) -> None:
    """A belly's turn is longer than where it lies by (R + w) over (R - w), a hollow's shorter."""
    turn = np.linspace(-0.9, 0.9, 60)
    side = [(200 + bow * 150 * (np.cos(t) - np.cos(0.9)), 150 + 150 * np.sin(t) / np.sin(0.9)) for t in turn]
    a = traced("A", (0, 300), (0, 0), *side)
    b = traced("B", *[(400 - x, y) for x, y in side[::-1]], (300, 0), (300, 300))
    edge = next(k for k, v in put(a).measured.body.panels["A"].edges.items() if len(v) > 10)
    other = next(k for k, v in put(b).measured.body.panels["B"].edges.items() if len(v) > 10)
    made = put(a, b, meets=(Meet(a=edge, b=other, how="folded"),))
    (found,) = (f for f in made.findings if f.code == "turn-curved")
    assert ("notch" in words(found.says)) is (bow > 0)
    assert not {f.code for f in plan(mend(made.job, found.mend)).findings} & {"turn-curved"}
    straight = put(strip("A", 100), strip("B", 100), meets=(Meet(a="A3", b="B1", how="folded"),))
    assert "turn-curved" not in {f.code for f in straight.findings}


@pytest.mark.parametrize("how", ["over", "folded"])
def test_panels_sewn_on_each_other_lie_the_same_side_up(how: str) -> None:
    """A row of holes does not tell which way up what they are in lies; nothing is turned over for it."""
    shapes = tuple(leaning(k, 120.0, lean, 260.0) for k, lean in zip("ABCD", (10, -14, 6, 0), strict=True))
    meets = tuple(Meet(a=f"{p}3", b=f"{q}1", how=how) for p, q in ("AB", "BC", "CD"))  # type: ignore[arg-type]
    made = put(*shapes, meets=meets)
    faces = {}
    for leaf in lie(made.draft.assembly, made.stitching.seams):
        if leaf.area.area > 5000:
            faces[leaf.piece.id] = leaf.motion[2]
    assert faces == dict.fromkeys([f"panel-{k}" for k in "ABCD"], False)
