"""Panels: what runs under and what is drawn back, holes that come to lie on each other, edges and halves compared, levels."""

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.bodies import panels, plausible
from tests.jobs import demo, read, words
from tests.many import examples, many
from vow_line.core.curve import arc_length, walk
from vow_line.core.draft.kinds.panelled import Halves, Meet, Panelled
from vow_line.core.draft.kinds.panelled.making import cut_of
from vow_line.core.draft.kinds.panelled.meets import (
    ALIKE,
    AWAY_RAD,
    LEAST_EDGE_MM,
    LONGEST_FIRST,
    SIDES_FIRST,
    likeness,
    long,
    offered,
)
from vow_line.core.draft.kinds.panelled.put import Put
from vow_line.core.job import Job, change, mend
from vow_line.core.leather import Hide
from vow_line.core.measure import Correction, Trial
from vow_line.core.measure.body import Shape
from vow_line.core.measure.hole_rows import hole_rows
from vow_line.core.measure.panel import Panel, shape_of
from vow_line.core.measure.panel_set import LevelOn, PanelLevel
from vow_line.core.measure.things.hand import Hand
from vow_line.core.measure.things.panels import Panels
from vow_line.core.measure.traced import Drawn
from vow_line.core.plan import Plan, plan
from vow_line.core.proof import prove
from vow_line.core.steps import drag, point_more, remove_station, take_outline
from vow_line.core.stitch import StitchChoices
from vow_line.core.work.hardware import hardware

TABLE = Hide(outline=((0, 0), (3000, 0), (3000, 2000), (0, 2000)), thickness_mm=2.0)


def traced(letter: str, *points: tuple[float, float]) -> Panel:
    panel = Panel.of_ring(letter, points)
    return panel.model_copy(update={"high": read(panel.high.outline or 0.0)})


def strip(letter: str, wide: float, high: float = 300.0) -> Panel:
    """Edges 1, up its left; 2, its top; 3, down its right; 4, its foot."""
    return traced(letter, (0, high), (0, 0), (wide, 0), (wide, high))


def put(*shapes: Panel, levels: tuple[PanelLevel, ...] = (), **choices: object) -> Plan:
    awl = StitchChoices(tool="awl", pitch_mm=4.0, start_in_mm=0.0, end_in_mm=0.0)
    thing = Panels(panels=shapes, levels=levels)
    return plan(Job(name="panels", thing=thing, piece=Panelled(**choices), leather=TABLE, stitch=awl))


def codes(made: Plan, level: str) -> set[str]:
    return {f.code for f in made.findings if f.level == level}


def test_the_corners_of_a_strip_are_found_and_numbered_round_it() -> None:
    edges = shape_of(strip("A", 100)).edges
    assert {k: (v[0].tolist(), v[-1].tolist()) for k, v in edges.items()} == {
        "A1": ([0, 300], [0, 0]), "A2": ([0, 0], [100, 0]), "A3": ([100, 0], [100, 300]), "A4": ([100, 300], [0, 300]),
    }  # fmt: skip


@settings(max_examples=examples(20), deadline=None)
@given(st.floats(8.0, 40), st.floats(0, 60), st.floats(2.0, 4.0))
def test_what_is_put_together_again_is_as_wide_as_what_was_traced(under: float, gap: float, margin: float) -> None:
    """Strips round a body, sewn over, laced, studded: cut widths less the laps and with the gaps are the traced widths."""
    meets = (Meet(a="A3", b="B1", how="over", under_mm=under), Meet(a="B3", b="C1", how="laced", gap_mm=gap),
             Meet(a="C3", b="D1", how="studs", under_mm=under + 6), Meet(a="D3", b="A1", how="butt"))  # fmt: skip
    made = put(*(strip(k, w) for k, w in zip("ABCD", (120, 90, 150, 110), strict=True)), meets=meets, margin_mm=margin)
    assert not codes(made, "hold") - {"lap-narrow"}
    cut = sum(float(np.ptp(p.outline[:, 0])) for p in made.draft.pieces)
    assert cut - under - (under + 6) + gap == pytest.approx(120 + 90 + 150 + 110)
    assert all(c.holds for c in made.proof.checked)


def test_holes_come_to_lie_on_each_other_and_clear_of_both_cuts() -> None:
    """B is laid under A by its traced edge; the holes of both are then the same places."""
    made = put(strip("A", 100), strip("B", 80), meets=(Meet(a="A3", b="B1", under_mm=19),), margin_mm=4)
    seam = made.stitching.seam("meet-0")
    on_a, on_b = seam.on(0), seam.on(1)
    assert on_b + [100, 0] == pytest.approx(on_a, abs=1e-9)
    assert on_a[:, 0] == pytest.approx(96)
    assert np.ptp(made.draft.piece("panel-B").outline[:, 0]) == pytest.approx(99)
    lap_ends = made.draft.piece("panel-B").outline[:, 0].min() + 100  # where what lies under ends, in A's frame
    assert on_a[:, 0] - lap_ends == pytest.approx(15)


def test_edge_to_edge_as_many_holes_at_one_height_on_either() -> None:
    made = put(strip("A", 100), strip("B", 80), meets=(Meet(a="A3", b="B1", how="butt"),), margin_mm=3)
    seam = made.stitching.seam("meet-0")
    assert seam.on(0)[:, 0] == pytest.approx(97)
    assert seam.on(1)[:, 0] == pytest.approx(3)
    assert seam.on(0)[:, 1] == pytest.approx(seam.on(1)[:, 1])


@pytest.mark.parametrize(("longer", "level"), [(1.015, None), (1.04, "look"), (1.07, "hold")])
def test_lengths_along_the_seam_pass_are_eased_or_held_as_common_practice_has_it(
    longer: float, level: str | None
) -> None:
    other = strip("B", 80, 300 * longer)
    made = put(strip("A", 100), other, meets=(Meet(a="A3", b="B1", how="butt"),), margin_mm=3)
    found = [f for f in made.findings if f.code == "meet-differs"]
    assert [f.level for f in found] == ([level] if level else [])
    assert not [f for f in made.findings if f.code == "partners-differ"], "said once"
    if level:
        assert "B1 is" in words(found[0].says)
        apart = mend(made.job, found[0].mend)
        assert "meet-differs" not in {f.code for f in plan(apart).findings}


def test_curves_are_compared_where_they_meet() -> None:
    """A hollow edge and a round one of one radius: edge to edge they agree at the cut and their holes lie on two arcs; the one
    over the other they agree along the thread, which is one arc on both.
    """
    turn = np.linspace(-0.9, 0.9, 60)
    bulge = [(100 + 150 * (np.cos(t) - np.cos(0.9)), 150 + 150 * np.sin(t)) for t in turn]
    a = traced("A", (0, bulge[-1][1]), (0, bulge[0][1]), *bulge)
    hollow = [(150 * (np.cos(t) - np.cos(0.9)), 150 + 150 * np.sin(t)) for t in turn[::-1]]
    b = traced("B", *hollow, (160, bulge[0][1]), (160, bulge[-1][1]))
    long_a, long_b = (next(k for k, v in shape_of(p).edges.items() if len(v) > 10) for p in (a, b))
    butt = put(a, b, meets=(Meet(a=long_a, b=long_b, how="butt"),), margin_mm=8)
    over = put(a, b, meets=(Meet(a=long_a, b=long_b, how="over"),), margin_mm=8)
    for made, far in ((butt, 8.0), (over, -8.0)):
        assert not {f.code for f in made.findings} & {"meet-differs", "partners-differ"}
        assert all(c.holds for c in made.proof.checked)
        seam, off, up = made.stitching.seam("meet-0"), 150 * np.cos(0.9), 150 * np.sin(0.9)
        assert np.hypot(*(seam.on(0) - [100 - off, up]).T) == pytest.approx(142, abs=0.1)
        assert np.hypot(*(seam.on(1) - [-off, up]).T)[1:-1] == pytest.approx(150 + far, abs=0.2)


@settings(max_examples=examples(30), deadline=None)
@given(st.integers(0, 10_000), st.floats(2.0, 20.0))
def test_an_edge_drawn_back_is_cut_as_by_a_straight_blade(seed: int, gap: float) -> None:
    """Of panels that bulge everywhere: what is left is what lies on the inner side of the moved line, by GEOS."""
    rng = np.random.default_rng(seed)
    turn = np.sort((np.arange(5) + rng.uniform(-0.25, 0.25, 5)) * 2 * np.pi / 5)
    ring = np.column_stack([150 * np.cos(turn), 190 * np.sin(turn)])
    a, b = Panel.of_ring("A", ring), Panel.of_ring("B", ring)
    body = Panels(panels=(a, b)).measure().body
    laced = Put(Panelled(meets=(Meet(a="A2", b="B4", how="laced", gap_mm=2 * gap),)), body, 2.0)
    line = body.edges["A2"]
    p, q = line[0], line[-1]
    along = (q - p) / np.hypot(*(q - p))
    inward = np.array([-along[1], along[0]])
    middle = np.array(a.ring).mean(axis=0)
    inward = inward if (middle - p) @ inward > 0 else -inward
    half = shapely.Polygon([p + inward * gap - along * 999, p + inward * gap + along * 999,
                            p + inward * 999 + along * 999, p + inward * 999 - along * 999])  # fmt: skip
    wanted = shapely.Polygon(a.ring).intersection(half)
    assert shapely.Polygon(laced.cuts["A"].ring).symmetric_difference(wanted).area < 0.5
    under = Put(Panelled(meets=(Meet(a="B4", b="A2", under_mm=gap),)), body, 2.0)
    grown = shapely.Polygon(under.cuts["A"].ring).area - shapely.Polygon(a.ring).area
    assert grown == pytest.approx(gap * float(arc_length(line)[-1]), rel=1e-6)


def test_closures_by_their_rule_the_lace_by_its_way_and_all_from_the_drawer() -> None:
    meets = (Meet(a="A3", b="B1", how="laced", gap_mm=25), Meet(a="A1", b="B3", how="studs", under_mm=24))
    made = put(strip("A", 100), strip("B", 90), meets=meets, in_mm=10, spacing_mm=40, ends_mm=20, margin_mm=4)
    assert not codes(made, "hold")
    piece = made.draft.piece("panel-A")
    eyelets = np.array([p.centre for p in piece.punches if p.row == "row-A3"])
    long = 300 - 2 * 0.7 * 4  # without what lies too near the cuts at its ends
    assert len(eyelets) == int((long - 40) // 40) + 1
    assert eyelets[:, 0] == pytest.approx(100 - 12.5 - 10)
    step = np.hypot(*np.diff(eyelets, axis=0).T)
    way = 45 + 2 * sum(np.hypot(h, 45) for h in step) + 2 * len(eyelets) * piece.thickness_mm + 400
    drawer = {h.id: h for h in hardware(made.draft.assembly, made.measured.body)}
    assert drawer["lace-0"].other_mm == pytest.approx(way)
    assert sum(h.count for id, h in drawer.items() if id.startswith("eyelet")) == 2 * len(eyelets)
    studs = [p.centre for p in piece.punches if p.row == "row-A1"]
    assert sum(h.count for id, h in drawer.items() if id.startswith("stud")) == len(studs)
    assert np.array(studs)[:, 0] == pytest.approx(12)  # in the middle of what lies under


def test_loops_go_from_their_edge_over_buttons_at_the_other() -> None:
    meets = (Meet(a="A3", b="B1", how="buttons", gap_mm=8), Meet(a="A1", b="B3"))
    made = put(
        strip("A", 100), strip("B", 90), meets=meets, in_mm=10, spacing_mm=40, ends_mm=20, button_mm=16, high_mm=4
    )
    assert not codes(made, "hold")
    one, other = made.draft.piece("panel-A"), made.draft.piece("panel-B")
    buttons, holes = ([p.centre for p in x.punches if p.row.startswith("row-")] for x in (one, other))
    assert len(buttons) == len(holes) > 2
    edge = float(one.edge("A3").line[:, 0].max())
    assert edge == pytest.approx(100 - 4), "drawn back by half the gap"
    assert np.array(buttons)[:, 0] == pytest.approx(edge - 10)
    drawer = {h.id.partition("-")[0]: h for h in hardware(made.draft.assembly, made.measured.body)}
    assert (drawer["button"].count, drawer["button"].other_mm) == (len(buttons), 16)
    assert (drawer["loop"].count, drawer["loop"].other_mm) == (len(buttons), 2 * (8 + 20) + 35)
    assembly = made.draft.assembly
    (loops,) = assembly.loops
    short = replace(assembly, loops=(replace(loops, round_mm=loops.round_mm - 8),))
    assert "loop-short" in {f.code for f in prove(short, (), made.measured.body).findings}
    slack = put(strip("A", 100), strip("B", 90), meets=meets, in_mm=10, button_mm=30, high_mm=6)
    found = next(f for f in slack.findings if f.code == "loop-slack")
    assert "loop-slack" not in codes(plan(mend(slack.job, found.mend)), "look")


def test_edges_are_asked_about_until_each_has_an_answer() -> None:
    made = plan(change(change(demo("waistcoat"), "piece.meets", ()), "piece.asked", True))
    assert "piece-loose" in codes(made, "hold")
    asked = []
    while (found := next((f for f in made.findings if f.code == "edges-alike"), None)) is not None:
        asked.append(found.at)
        made = plan(mend(made.job, found.mend))
        assert len(asked) < 30
    assert len(set(asked)) == len(asked)
    assert {"piece.meets/A3C4", "piece.meets/A5B3", "piece.meets/A1C6", "piece.meets/A7B1"} <= set(asked), (
        "as they are worn"
    )
    bare = change(change(demo("waistcoat"), "piece.meets", ()), "piece.asked", True)
    quiet = next(f for f in plan(bare).findings if f.code == "edges-alike")
    done = plan(mend(bare, quiet.mends[-1]))
    assert "edges-alike" not in {f.code for f in done.findings}


@settings(max_examples=examples(30), deadline=None)
@given(st.integers(0, 10_000))
def test_the_likeliest_two_edges_are_offered(seed: int) -> None:
    """By trying all of them one by one."""
    edges = panels(np.random.default_rng(seed)).measure().body.edges
    best = []
    for a, one in edges.items():
        for b, other in edges.items():
            x, y = (sum(float(np.hypot(*(q - p))) for p, q in pairwise(line)) for line in (one, other))
            if a[0] >= b[0] or min(x, y) < LEAST_EDGE_MM or abs(x - y) > ALIKE * max(x, y):
                continue
            run, back = (
                one[-1] - one[0],
                (other[-1] - other[0]) * [1, -1],
            )  # turned over, up to down, it runs as the other
            away = between(run, back)
            if away <= AWAY_RAD:
                best.append((abs(x - y) / max(x, y) / ALIKE + away / AWAY_RAD, a, b))
    found = offered((), edges, likely=False)
    assert (found is None) == (not best)
    if found:
        assert next(k for k, a, b in best if {a, b} == set(found)) <= min(best)[0] + SIDES_FIRST + LONGEST_FIRST


@pytest.mark.parametrize(
    ("name", "meets"),
    [("waistcoat", ["A1C6", "A3C4", "A5B3", "A7B1", "B5C2"]), ("bramble-glove", ["A1B1"]), ("hedging-mitten", ["A1B1"]),
     ("staple-pouch", ["A1B1"])],
)  # fmt: skip
def test_only_edges_that_are_meant_to_meet_are_asked_about(name: str, meets: list[str]) -> None:
    """As they are worn: no question would sew both fronts together, nor shut armhole, neck, hem or mouth; the others are asked
    about when that is wished for.
    """
    job = change(change(change(demo(name), "vows", ()), "piece.meets", ()), "piece.asked", True)
    job, asked = change(job, "piece.collar", None), []
    while (found := next((f for f in plan(job).findings if f.code == "edges-alike"), None)) is not None:
        asked.append(found.at.removeprefix("piece.meets/"))
        job = mend(job, found.mend)
    assert sorted(asked) == meets
    more = next((f for f in plan(job).findings if f.code == "more-alike"), None)
    assert more is not None
    wished = mend(job, more.mend)
    assert "edges-alike" in {f.code for f in plan(wished).findings}


def test_a_body_cut_in_panels_anyhow_is_asked_about_in_order_round_it() -> None:
    """Tubes cut in two to five panels, each a strip a little wider at one end, laid in any order: what is asked, said to meet,
    closes them round, and asks for nothing else.
    """
    rng = np.random.default_rng(31)
    for _ in range(many(60)):
        n, high = int(rng.integers(3, 6)), float(rng.uniform(150, 300))
        long = [high * 1.1**k for k in range(n)]  # each seam as long as no other
        rings = []
        for k in range(n):
            low = float(rng.uniform(80, 140))
            left, right = long[k], long[(k + 1) % n]
            rings.append(((0.0, left), (0.0, 0.0), (low, 0.0), (low, right)))
        order = rng.permutation(n)
        job = put(*(traced("ABCDE"[i], *rings[k]) for i, k in enumerate(order))).job
        for _ in range(n + 2):
            found = next((f for f in plan(job).findings if f.code == "edges-alike"), None)
            if found is None:
                break
            job = mend(job, found.mend)
        made = {frozenset((m.a[0], m.b[0])) for m in job.piece.meets if m.how != "apart"}
        at = {int(k): "ABCDE"[i] for i, k in enumerate(order)}
        assert made == {frozenset((at[k], at[(k + 1) % n])) for k in range(n)}


def test_panels_that_nothing_holds_yet_are_asked_about_first() -> None:
    """Four strips alike: any side could meet any; three presses hold all of them together, a fourth closes them round."""
    job = put(*(strip(k, 100) for k in "ABCD")).job
    for press in range(4):
        found = plan(job)
        holds = codes(found, "hold")
        assert (press < 3) == bool(holds & {"piece-loose", "panels-apart"}), press
        job = mend(job, next(f for f in found.findings if f.code == "edges-alike").mend)
    assert {m.a[1] + m.b[1] for m in job.piece.meets} <= {"13", "31"}


def between(p: np.ndarray, q: np.ndarray) -> float:
    return float(abs((np.arctan2(p[1], p[0]) - np.arctan2(q[1], q[0]) + np.pi) % (2 * np.pi) - np.pi))


@settings(max_examples=examples(25), deadline=None)
@given(st.integers(0, 10_000), st.floats(0.0, 1.0))
def test_a_panel_turned_over_is_found_to_be_the_other_half(seed: int, turn: float) -> None:
    rng = np.random.default_rng(seed)
    one = panels(rng).panels[0]
    ring = np.array(one.ring) * [-1, 1]
    c, s = np.cos(turn), np.sin(turn)
    other = Panel.of_ring("X", ring @ np.array([[c, -s], [s, c]]))
    found = likeness(shape_of(one), shape_of(other))
    assert found is not None
    assert found.off_mm < 0.05  # points are kept to a hundredth of a millimetre
    for a, b in found.pairs:
        assert arc_length(shape_of(one).edges[a])[-1] == pytest.approx(
            arc_length(shape_of(other).edges[b])[-1], abs=0.05
        )


@pytest.mark.parametrize("keep", ["a", "b", "mean"])
def test_the_better_half_is_kept_for_both(keep: str) -> None:
    a = traced("A", (0, 300), (0, 0), (100, 20), (130, 300))
    b = traced("B", (0, 300), (36, 20), (130, 0), (130, 300))  # A turned over, but its corner lies 6 mm farther in
    made = put(a, b, meets=(Meet(a="A1", b="B3", how="butt"),))
    asked = next(f for f in made.findings if f.code == "halves-differ")
    assert "6 mm" not in words(asked.says)  # laid on each other as well as may be, less is left
    assert "B2" in words(asked.says) or "B1" in words(asked.says)
    kept = put(a, b, meets=(Meet(a="A1", b="B3", how="butt"),), halves=(Halves(a="A", b="B", keep=keep),))
    assert not codes(kept, "hold")
    assert "halves-differ" not in {f.code for f in kept.findings}
    one, other = (shapely.Polygon(kept.draft.piece(f"panel-{k}").outline) for k in "AB")
    assert one.area == pytest.approx(other.area, abs=0.01)
    assert one.length == pytest.approx(other.length, abs=0.01)
    areas = [shapely.Polygon(p.ring).area for p in (a, b)]
    wanted = {"a": areas[0], "b": areas[1], "mean": sum(areas) / 2}[keep]
    assert one.area == pytest.approx(wanted, rel=2e-3 if keep == "mean" else 1e-6)


def test_a_level_is_added_up_against_the_girth_the_ease_and_the_leathers_own_turn() -> None:
    on = tuple(LevelOn(letter=k, at_mm=150) for k in "AB")
    level = PanelLevel(round="other", girth=read(400), on=on)
    meets = (Meet(a="A3", b="B1"), Meet(a="B3", b="A1"))
    fits = put(strip("A", 220), strip("B", 200), levels=(level,), meets=meets, ease_mm=14)
    sum_ = next(r for r in fits.draft.reckonings if r.key == "level-0")
    assert words(sum_.value) == "420 mm"
    assert words(sum_.sum).startswith("420.3 mm wanted")  # 400 + 14 + 2 pi of half of 2 mm
    assert "level-off" not in {f.code for f in fits.findings}
    tight = put(strip("A", 195), strip("B", 185), levels=(level,), meets=meets, ease_mm=14)
    assert "level-off" in codes(tight, "hold")
    loose = put(strip("A", 250), strip("B", 250), levels=(level,), meets=meets, ease_mm=14)
    meant = next(f for f in loose.findings if f.code == "level-off")
    assert meant.level == "look"
    assert plan(mend(loose.job, meant.mend)).job.piece.ease_mm == pytest.approx(500 - 400 - 2 * np.pi, abs=0.1)


def test_what_a_meeting_lost_is_said_and_mended_in_one_press() -> None:
    made = put(
        strip("A", 100), strip("B", 80), meets=(Meet(a="A3", b="B1"), Meet(a="A2", b="C1"), Meet(a="A3", b="B4"))
    )
    gone = [f for f in made.findings if f.code == "meets-nothing"]
    assert ["C1" in words(gone[0].says), "already" in words(gone[1].says)] == [True, True]
    job = made.job
    for _ in gone:
        job = mend(job, next(f for f in plan(job).findings if f.code == "meets-nothing").mend)
    assert job.piece.meets == (Meet(a="A3", b="B1"),)
    narrow = put(strip("A", 100), strip("B", 80), meets=(Meet(a="A3", b="B1", under_mm=5),), margin_mm=4)
    wide = mend(narrow.job, next(f for f in narrow.findings if f.code == "lap-narrow").mend)
    assert wide.piece.meets[0].under_mm == 8
    assert "panels-apart" in codes(
        put(*(strip(k, 100) for k in "ABCD"), meets=(Meet(a="A3", b="B1"), Meet(a="C3", b="D1"))), "hold"
    )


def test_corners_are_dragged_put_and_taken_away() -> None:
    job = demo("waistcoat")
    before = shape_of(job.thing.panels[0]).edges
    corner = job.thing.handles()[2]
    there = (corner.at[0] + 9.0, corner.at[1] - 7.0)
    moved = drag(job, path=corner.path, to=there)
    assert moved.thing.handles()[2].at == pytest.approx(there)
    others = [h.at for k, h in enumerate(moved.thing.handles()) if k != 2]
    assert others == [pytest.approx(h.at) for k, h in enumerate(job.thing.handles()) if k != 2], "and no other corner"
    (x, y), (u, v) = before["A8"][0], before["A8"][-1]
    parted = point_more(job, x=0.7 * x + 0.3 * u + 1.0, y=0.7 * y + 0.3 * v + 1.0)
    assert parted is not None
    edges = shape_of(parted.thing.panels[0]).edges
    assert arc_length(edges["A8"])[-1] + arc_length(edges["A9"])[-1] == pytest.approx(
        arc_length(before["A8"])[-1], abs=0.1
    )
    at = next(h.path for h in parted.thing.handles() if "A9" in words(h.name))
    again = remove_station(parted, path=at)
    assert shape_of(again.thing.panels[0]).edges.keys() == before.keys()
    fewer = remove_station(job, path="thing.panels.1.high.first")
    assert [p.letter for p in fewer.thing.panels] == ["A", "C"]
    assert [o.letter for o in fewer.thing.levels[0].on] == ["A", "C"]
    assert "meets-nothing" in {f.code for f in plan(fewer).findings}
    more = take_outline(fewer, drawn=Drawn(np.array([[0, 0], [90, 0], [90, 50], [0, 50.0]])))
    assert more.thing.panels[-1].letter == "D", "not the letter of one that was taken away"


def test_what_drew_a_panel_is_taken_off_it_and_its_corners_stay() -> None:
    ring = [(0, 0), (100, 0), (100, 60), (0, 60)]
    drawn = shape_of(Panel.of_ring("A", ring, "marker"))
    assert len(drawn.edges) == 4
    assert np.ptp(drawn.ring, axis=0) == pytest.approx([98, 58])
    assert sorted(float(arc_length(e)[-1]) for e in drawn.edges.values()) == pytest.approx([58, 58, 98, 98])


def walked(line: np.ndarray, first: float, pitch: float) -> np.ndarray:
    """Places so far apart along a line, step by step."""
    long = float(arc_length(line)[-1])
    at = np.arange(first, long, pitch)
    s = arc_length(line)
    return np.column_stack([np.interp(at, s, c) for c in line.T])


@settings(max_examples=examples(25), deadline=None)
@given(st.floats(2.5, 8.0), st.floats(3.0, 9.0), st.integers(4, 25), st.integers(1, 2))
def test_holes_of_an_old_part_are_found_in_their_rows_and_those_that_are_missing(
    pitch: float, inset: float, gone: int, many: int
) -> None:
    ring = [(0, 260), (0, 0), (140, 0), (140, 260)]
    rows = [walked(np.array(line, float), inset, pitch) for line in (
        [(inset, 259), (inset, 1)], [(140 - inset, 1), (140 - inset, 259)])]  # fmt: skip
    k = min(gone, len(rows[0]) - many - 3)
    torn = np.delete(rows[0], slice(k, k + many), axis=0)
    part = Panel.of_ring("A", ring, holes=np.concatenate([rows[1], torn]).round(2))
    found = hole_rows(shape_of(part))
    assert set(found) == {"A1", "A3"}
    assert found["A3"].points == pytest.approx(rows[1], abs=0.01)
    assert found["A1"].pitch_mm == pytest.approx(pitch, abs=0.02)
    assert found["A1"].in_mm == pytest.approx(inset, abs=0.02)
    assert found["A1"].missing() == pytest.approx(rows[0][k : k + many], abs=0.03)
    assert not len(found["A3"].missing())


def test_an_old_seam_is_sewn_by_its_own_holes() -> None:
    job = demo("staple-pouch")
    asked = next(f for f in plan(job).findings if f.code == "hole-missing")
    whole = plan(mend(job, asked.mend))
    assert not whole.holds
    seam = whole.stitching.seam("meet-0")
    front, back = (sorted(p.holes) for p in whole.job.thing.panels)
    for k, holes in enumerate((front, back)):
        assert np.array(sorted(map(tuple, seam.on(k).tolist()))) == pytest.approx(np.array(holes))
    assert len(seam.strikes) == 0
    other = plan(change(whole.job, "stitch.pitch_mm", 3.0))
    assert len(other.stitching.seam("meet-0").points) == len(front), "they are where they are"
    anew = plan(change(other.job, "piece.meets.0.holes", "anew"))
    assert len(anew.stitching.seam("meet-0").points) > 1.3 * len(front)
    held = next(f for f in plan(job).findings if f.code == "holes-differ")
    assert plan(mend(job, held.mend)).job.piece.meets[0].holes == "anew"


@settings(max_examples=examples(15), deadline=None)
@given(st.floats(0.8, 1.25), st.floats(0.8, 1.25))
def test_a_pattern_is_stretched_to_what_is_read(up: float, across: float) -> None:
    job = demo("hedging-mitten")
    panels = tuple(
        p.model_copy(update={"high": read(p.high.outline * up), "wide": read(p.wide.outline * across)})
        for p in job.thing.panels
    )
    made = plan(change(job, "thing.panels", panels))
    assert not codes(made, "hold") - {"panel-crosses"}
    for panel, piece in zip(panels, made.draft.pieces, strict=True):
        wide, high = np.ptp(np.array(panel.ring), axis=0)
        assert np.ptp(piece.outline, axis=0) == pytest.approx([across * wide, up * high])
        area = shapely.Polygon(panel.ring).area
        assert shapely.Polygon(piece.outline).area == pytest.approx(area * up * across)


def test_what_came_apart_first_goes_together_last() -> None:
    meets = (Meet(a="A3", b="B1"), Meet(a="B3", b="C1"))
    listed = put(*(strip(k, 100) for k in "ABC"), meets=meets)
    back = put(*(strip(k, 100) for k in "ABC"), meets=meets, order="last-first")
    assert [s.id for s in back.draft.seams] == [s.id for s in listed.draft.seams][::-1]


def _area(ring: np.ndarray) -> float:
    return float(shapely.Polygon(ring).area)


@settings(max_examples=examples(25), deadline=None)
@given(at=st.floats(60, 240), over=st.floats(20, 110), by=st.floats(-12, 12))
def test_a_mock_up_let_out_at_an_edge_adds_a_smooth_bump_there_and_nothing_elsewhere(
    at: float, over: float, by: float
) -> None:
    """The area under a raised cosine as wide as `over` is half of it times its height; its top is as high as was found."""
    made = put(strip("A", 100), strip("B", 90), meets=(Meet(a="A1", b="B3"),))
    tried = Trial(corrections=(Correction(at_mm=at, side="edge", by_mm=by, edge="A3", over_mm=over),))
    after = plan(made.job.model_copy(update={"trials": (tried,)}))
    before, now = (p.body.panels["A"] for p in (made, after))
    assert _area(now.ring) - _area(before.ring) == pytest.approx(by * over / 2, abs=0.02 * abs(by) * over + 0.05)
    assert now.ring[:, 0].max() == pytest.approx(100 + max(by, 0.0), abs=0.15)
    line, flat = now.edges["A3"], before.edges["A3"]
    far = np.abs(line[:, 1] - flat[0, 1] - np.sign(flat[-1, 1] - flat[0, 1]) * at) > over / 2 + 5
    assert line[far, 0] == pytest.approx(100.0, abs=1e-6)
    assert np.array_equal(now.edges["A1"], now.edges["A1"])
    assert _area(after.body.panels["B"].ring) == pytest.approx(_area(made.body.panels["B"].ring))
    assert not codes(after, "hold")


def test_a_correction_goes_to_both_halves_at_the_same_height_and_the_level_is_wider_by_it() -> None:
    made = plan(demo("waistcoat"))
    edges = made.draft.edges_of()
    edge, mirror = "B1", edges.mirrors["B1"]
    assert mirror[0] == "C"
    at = 150.0
    one = Correction(at_mm=at, side="edge", by_mm=8.0, edge=edge, over_mm=200)
    alone, both = (
        plan(made.job.model_copy(update={"trials": (Trial(corrections=(c,)),)}))
        for c in (one, one.model_copy(update={"mirror": mirror}))
    )

    def grown(p: Plan, letter: str) -> float:
        return _area(p.body.panels[letter].ring) - _area(made.body.panels[letter].ring)

    assert grown(alone, "B") == pytest.approx(8 * 200 / 2, rel=0.05)
    assert grown(alone, "C") == pytest.approx(0.0, abs=1e-6)
    assert grown(both, "C") == pytest.approx(grown(both, "B"), rel=0.03)
    moved = [
        both.body.edges[e][np.argmax(np.hypot(*(
            both.body.edges[e] - walk(made.body.edges[e], np.linspace(0, 1, len(both.body.edges[e])) * long(made.body.edges[e]))
        ).T))] for e in (edge, mirror)
    ]  # fmt: skip
    tops = [made.body.panels[k].ring[:, 1].min() for k in "BC"]
    assert moved[0][1] - tops[0] == pytest.approx(moved[1][1] - tops[1], abs=12), "as far down on either"

    def level(p: Plan) -> float:
        return next(float(r.number) for r in p.sums("draft") if r.key.startswith("level-"))

    chest = {k: float(np.ptp(line[:, 0])) for k, line in made.body.levels[0].across}
    wider = {k: float(np.ptp(line[:, 0])) for k, line in both.body.levels[0].across}
    assert level(both) - level(made) == pytest.approx(sum(wider.values()) - sum(chest.values()), abs=1e-6)
    assert {words(title) for title, _ in both.tried} >= {"panel B", "panel C"}, "which pieces it moved is said"
    kept = both.job.model_copy(update={"trials": (both.job.trials[0].model_copy(update={"taken_back": True}),)})
    assert np.array_equal(plan(kept).body.panels["B"].ring, made.body.panels["B"].ring)


def test_a_corner_goes_with_its_edge_and_an_edge_that_is_gone_is_said() -> None:
    made = put(strip("A", 100), strip("B", 90), meets=(Meet(a="A1", b="B3"),))
    tried = Trial(corrections=(Correction(at_mm=0.0, side="edge", by_mm=10.0, edge="A3", over_mm=80),
                               Correction(at_mm=5.0, side="edge", by_mm=4.0, edge="C7")))  # fmt: skip
    after = plan(made.job.model_copy(update={"trials": (tried,)}))
    shape = after.body.panels["A"]
    assert shapely.Polygon(shape.ring).is_valid
    lines = list(shape.edges.values())
    for line, following in pairwise([*lines, lines[0]]):
        assert np.array_equal(line[-1], following[0]), "edges meet at their corners to the last bit"
    assert shape.ring[:, 0].max() == pytest.approx(110, abs=0.1)
    assert "correction-astray" in codes(after, "look")


@given(seed=st.integers(0, 2**32 - 1), short=st.floats(0.5, 12), share=st.floats(0.2, 0.8))
@settings(max_examples=examples(15), deadline=None)
def test_what_was_lost_at_a_fold_is_put_back_there_and_nowhere_else(seed: int, short: float, share: float) -> None:
    """Cut in two along the fold, the lower half moved down, the gap filled straight: the areas and the holes by hand."""
    old = panels(np.random.default_rng(seed)).panels[0]
    ring = np.array(old.ring)
    high = float(np.ptp(ring[:, 1]))
    fold, top = round(share * high, 2), float(ring[:, 1].min())
    holes = tuple((float(x), float(y)) for x, y in ring.mean(axis=0) + [[0, -high / 9], [0, 0], [0, high / 7]])
    old = old.model_copy(update={"holes": holes, "drawn_with": "nothing"})
    was, now = shape_of(old), shape_of(old.model_copy(update={"fold_mm": fold, "short_mm": short}))
    before, after = shapely.Polygon(was.ring), shapely.Polygon(now.ring)
    across = before.intersection(shapely.LineString([(-1e4, top + fold), (1e4, top + fold)])).length
    assert after.is_valid
    assert after.area == pytest.approx(before.area + across * short, rel=1e-6)
    above, below = (shapely.box(-1e4, a, 1e4, b) for a, b in ((-1e4, top + fold), (top + fold, 1e4)))
    moved = shapely.union(
        before.intersection(above), shapely.transform(before.intersection(below), lambda p: p + [0, short])
    )
    assert after.buffer(0.01).covers(moved)
    for (x, y), (u, v) in zip(was.holes, now.holes, strict=True):
        assert u == pytest.approx(x)
        assert v == pytest.approx(y + (short if y > top + fold else 0.0))
    assert list(was.edges) == list(now.edges)
    half = shape_of(old.model_copy(update={"short_mm": short}))
    assert np.ptp(half.ring[:, 1]) == pytest.approx(high + short), "where it is not said, half way"


def test_how_halves_differ_is_drawn_on_the_other_until_one_is_taken_for_both() -> None:
    job = demo("waistcoat")
    made = plan(job)
    bands = [m for m in made.draft.marks if m.meaning == "band"]
    assert {m.on for m in bands} == {"panel-C"}
    assert {m.id for m in bands} == {f.at for f in made.findings if f.code == "halves-differ"}
    found = likeness(*(made.body.panels[k] for k in "BC"))
    cut = shapely.LinearRing(made.draft.piece("panel-C").outline)
    reach = max(float(shapely.distance(cut, shapely.points(m.line)).max()) for m in bands)
    assert 0.5 * found.off_mm < reach < found.off_mm + 0.6, "as far off the cut as it is said to differ"
    taken = plan(change(job, "piece.halves", (Halves(a="B", b="C", keep="a"),)))
    assert not [m for m in taken.draft.marks if m.meaning == "band"]
    apart = plan(change(job, "piece.halves", (Halves(a="B", b="C", keep="neither"),)))
    assert [m for m in apart.draft.marks if m.meaning == "band"]


@pytest.mark.parametrize("k", [0, 1, 2, 3])
def test_an_edge_beside_one_that_is_drawn_back_runs_on_as_far_as_it_then_reaches(k: int) -> None:
    """A square of 100: 5 off one side, and 19 more on the next, which is 95 long: by hand."""
    corners = np.array([[0.0, 0.0], [100.0, 0.0], [100.0, 100.0], [0.0, 100.0]])
    sides = {f"A{n + 1}": np.linspace(corners[n], corners[(n + 1) % 4], 5) for n in range(4)}
    square = Shape(sides)
    assert shapely.LinearRing(square.ring).is_ccw, "with y down it goes round to the right"
    for by in ((-5.0, 19.0), (19.0, -5.0)):
        moved = [0.0] * 4
        moved[k], moved[(k + 1) % 4] = by
        made = cut_of(square, tuple(moved))
        area = shapely.Polygon(made.ring)
        assert made.sound
        assert area.is_valid
        assert area.area == pytest.approx(100 * 100 - 5 * 100 + 19 * 95)
        assert area.minimum_rotated_rectangle.area == pytest.approx(area.area), "a rectangle still"


def test_a_point_that_is_there_twice_spoils_no_outline() -> None:
    """Hands whose fingers were marked where points lie already: none of 150 held for doubled points."""
    for seed in range(many(150)):
        hand = plausible(Hand, np.random.default_rng(seed))
        planned = plan(Job(name="any", thing=hand, piece=Panelled()))
        for piece in planned.draft.pieces if planned.draft else ():
            steps = np.hypot(*(piece.outline - np.roll(piece.outline, -1, axis=0)).T)
            assert steps.min() > 1e-7, (seed, piece.id)
