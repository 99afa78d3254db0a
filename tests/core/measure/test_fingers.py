"""Fingers of a hand: found and named, each made as long as it is read while the rest stays, palms to their girth."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.bodies import spread_hand
from tests.core.draft.test_panelled import TABLE, codes, strip
from tests.jobs import demo, read, words
from tests.many import examples
from vow_line.core.curve import arc_length, mirror
from vow_line.core.draft.inside_out import TURNS_ACROSS, TURNS_TO_MM
from vow_line.core.draft.kinds.panelled import Meet, Panelled
from vow_line.core.draft.kinds.panelled.sized import sized
from vow_line.core.job import Job, change, mend
from vow_line.core.measure import Correction, Trial
from vow_line.core.measure.fingers import FINGERS, Finger, fingers_of, spoke
from vow_line.core.measure.panel import Panel, shape_of
from vow_line.core.measure.panel_set import LevelOn, PanelLevel
from vow_line.core.measure.things.hand import Hand
from vow_line.core.plan import Plan, plan
from vow_line.core.steps import drag, ornament
from vow_line.core.stitch import StitchChoices

SEEDS = st.integers(0, 10_000)


@settings(max_examples=examples(30), deadline=None)
@given(SEEDS, st.booleans())
def test_the_fingers_of_any_hand_are_found_and_named_on_either_side(seed: int, mirrored: bool) -> None:
    ring, tips = spread_hand(np.random.default_rng(seed))
    ring = mirror(ring)[::-1] if mirrored else ring
    found = fingers_of(ring)
    assert {f.which for f in found} == set(tips)
    for finger in found:
        lies = spoke(ring, finger)
        x, y, long = tips[finger.which]
        assert np.hypot(lies.tip[0] - (-x if mirrored else x), lies.tip[1] - y) < 5.0
        assert lies.long_mm == pytest.approx(long, abs=0.3 * long if finger.which == "thumb" else 12.0), (
            "straight across"
        )


def test_what_is_no_hand_has_none() -> None:
    turn = np.linspace(0, 2 * np.pi, 80)[:-1]
    for ring in (np.array(strip("A", 90, 200).ring), 80 * np.column_stack([np.cos(turn), np.sin(turn)])):
        assert fingers_of(ring) == ()
    ring, _ = spread_hand(np.random.default_rng(1))
    assert spoke(ring, Finger(which="thumb", from_mm=10.0, to_mm=10.5)) is None


def pattern(seed: int, *letters: str) -> tuple[Panel, ...]:
    ring, _ = spread_hand(np.random.default_rng(seed))
    rings = {"A": ring, "B": mirror(ring)[::-1]}
    return tuple(Panel.of_ring(k, rings[k]).fingered() for k in letters)


def put(hand: Hand, meets: tuple[Meet, ...] = (), leather_mm: float = 1.4, **choices: object) -> Plan:
    awl = StitchChoices(tool="awl", pitch_mm=3.5)
    leather = TABLE.model_copy(update={"thickness_mm": leather_mm, "tannage": "oil"})
    return plan(
        Job(name="glove", thing=hand, piece=Panelled(meets=meets, asked=False, **choices), leather=leather, stitch=awl)
    )


@settings(max_examples=examples(20), deadline=None)
@given(SEEDS, st.sampled_from(["thumb", "index", "middle", "ring", "little"]), st.floats(0.75, 1.3), st.floats(0, 12))
def test_one_finger_grows_to_what_is_read_and_nothing_else_moves(
    seed: int, which: str, times: float, beyond: float
) -> None:
    """Its area grows as its length does, its base stays, and the tips of the others do."""
    (panel,) = pattern(seed, "A")
    spokes = {f.which: spoke(np.array(panel.ring), f) for f in panel.fingers}
    of = spokes[which]
    # holes along its base, along the middle, and in another finger
    shares = np.array([0.04, 0.3, 0.7, 0.96])[:, None]
    along_base = of.base[0] + shares * (of.base[1] - of.base[0])
    elsewhere = next(s for name, s in spokes.items() if name != which)
    holes = [
        *along_base,
        of.middle + 0.5 * (of.tip - of.middle),
        elsewhere.middle + 0.8 * (elsewhere.tip - elsewhere.middle),
    ]
    panel = panel.model_copy(update={"holes": tuple((float(x), float(y)) for x, y in holes)})
    hand = Hand(panels=(panel,), beyond_mm=round(beyond, 1)).model_copy(
        update={which: read(round(of.long_mm * times - beyond, 2))}
    )
    shape = hand.measure().body.panels["A"]
    ring = shapely.Polygon(shape.ring)
    plain = shapely.Polygon(shape_of(panel).ring)
    grown = shapely.Polygon(of.run).area * (times - 1)
    assert ring.area - plain.area == pytest.approx(grown, abs=0.02 * abs(grown) + 1.0)
    tip = of.middle + (of.tip - of.middle) * times
    assert ring.exterior.distance(shapely.Point(tip)) < 0.1
    for point in (*of.base, *(s.tip for name, s in spokes.items() if name != which)):
        assert ring.exterior.distance(shapely.Point(point)) < 0.1
    assert shape.holes[:4] == pytest.approx(along_base, abs=1e-6)
    assert shape.holes[4] == pytest.approx(of.middle + 0.5 * times * (of.tip - of.middle), abs=0.1)
    assert shape.holes[5] == pytest.approx(holes[5], abs=1e-6)
    (on,) = (f for f in hand.measure().body.fingers if f.read_mm is not None)
    assert (on.name, on.edge[0], on.read_mm) == (
        FINGERS[which],
        "A",
        pytest.approx(of.long_mm * times - beyond, abs=0.01),
    )
    traced = hand.model_copy(update={"sized": "traced"}).measure().body
    assert shapely.Polygon(traced.panels["A"].ring).equals(plain)


@settings(max_examples=examples(12), deadline=None)
@given(SEEDS, st.floats(0.9, 1.15), st.floats(0.85, 1.15), st.floats(0.9, 1.1))
def test_the_height_read_has_the_fingers_in_it(seed: int, high: float, middle: float, wide: float) -> None:
    (panel,) = pattern(seed, "A")
    of = next(s for f in panel.fingers if f.which == "middle" and (s := spoke(np.array(panel.ring), f)))
    across, up = np.ptp(np.array(panel.ring), axis=0)
    panel = panel.model_copy(update={"high": read(round(up * high, 2)), "wide": read(round(across * wide, 2))})
    hand = Hand(panels=(panel,), middle=read(round(of.long_mm * middle, 2)), beyond_mm=0.0)
    ring = hand.measure().body.panels["A"].ring
    assert np.ptp(ring[:, 1]) == pytest.approx(round(up * high, 2), abs=0.05)
    assert np.ptp(ring[:, 0]) == pytest.approx(across * wide, rel=0.06), "a finger that leans goes aside as it grows"
    (on,) = (f for f in hand.measure().body.fingers if f.read_mm is not None)
    assert on.lies.long_mm == pytest.approx(of.long_mm * middle, abs=0.02)


def hand_of(seed: int, girth: float, **readings: object) -> Hand:
    panels = pattern(seed, "A", "B")
    blank = Hand()
    on = tuple(LevelOn(letter=p.letter, at_mm=round(blank.middle_of(p), 1)) for p in panels)
    return Hand(panels=panels, levels=(PanelLevel(round="hand", girth=read(girth), on=on),), **readings)


@settings(max_examples=examples(12), deadline=None)
@given(
    SEEDS,
    st.floats(0.9, 1.15),
    st.floats(1.0, 2.5),
    st.floats(0, 15),
    st.sampled_from(["flush", "butt"]),
    st.floats(2, 4),
)
def test_the_palm_goes_round_the_hand_inside_its_seams_and_fingers_stay_as_long(
    seed: int, times: float, leather: float, ease: float, how: str, margin: float
) -> None:
    """Cut across where the girth was read and walked from seam to seam: the girth, its ease and the leather's turn."""
    (back,) = pattern(seed, "A")
    y = Hand().middle_of(back)
    line = shapely.LineString([(-50, y), (60, y)])
    own = 2 * shapely.Polygon(back.ring).intersection(line).length + 40.0
    girth = round(own * times, 1)
    thumb = next(s for f in back.fingers if f.which == "thumb" and (s := spoke(np.array(back.ring), f)))
    edges = [f"A{c.n}" for c in back.corners]
    hand = hand_of(seed, girth, thumb=read(round(0.95 * thumb.long_mm, 2)), beyond_mm=0.0)
    wrist = next(id for id, e in shape_of(back).edges.items() if id in edges and e[:, 1].min() > 0.9 * e[:, 1].max())
    a, b = (p.model_copy(update={"corners": tuple(c for c in p.corners if p.ring[c.at][1] > 0.95 * max(y for _, y in p.ring))})
            for p in hand.panels)  # fmt: skip
    assert wrist
    hand = hand.model_copy(update={"panels": (a, b)})
    sides = {p.letter: max(shape_of(p).edges, key=lambda e, p=p: arc_length(shape_of(p).edges[e])[-1]) for p in (a, b)}
    made = put(hand, (Meet(a=sides["A"], b=sides["B"], how=how),), leather, ease_mm=ease, margin_mm=margin)  # type: ignore[arg-type]
    assert "level-off" not in {f.code for f in made.findings}
    walked = 0.0
    for piece in made.draft.pieces:
        ring = shapely.Polygon(piece.outline)
        seam = next(s for s in made.stitching.seams)
        holes = seam.on(0 if piece.id.endswith("A") else 1)
        level = next(line for k, line in made.measured.body.levels[0].across if k == piece.id[-1])
        across = ring.intersection(shapely.LineString([(-300, level[0, 1]), (400, level[0, 1])]))
        palm = max(shapely.get_parts(across), key=lambda g: g.length)
        walked += palm.length - (2 * margin if how == "flush" else 0.0)
        assert len(holes) == len(seam.points)
    assert walked == pytest.approx(girth + ease + np.pi * leather, rel=0.01)
    body = sized(made.job.piece, made.measured.body, leather, {})
    for finger in (f for f in body.fingers if f.read_mm is not None):
        ring = shapely.Polygon(body.panels[finger.edge[0]].ring)
        assert ring.exterior.distance(shapely.Point(finger.lies.tip)) < 0.1
        assert all(ring.exterior.distance(shapely.Point(p)) < 0.1 for p in finger.lies.base)
        assert finger.lies.long_mm == pytest.approx(0.95 * thumb.long_mm, abs=0.05)
    for sum_ in made.draft.tell():
        if sum_.key.startswith("finger-"):
            taken = margin if how == "flush" else 0.0
            assert sum_.number == pytest.approx(0.95 * thumb.long_mm - taken, abs=0.15)


@pytest.mark.parametrize(("at_mm", "along_mm"), [(118.0, 98.0), (140.0, 76.0)])
def test_what_a_mock_up_let_out_stays_let_out(at_mm: float, along_mm: float) -> None:
    """Across the palm alone, and across the base of the thumb, which is no end of the leather."""
    job = demo("bramble-glove")
    on = tuple(o.model_copy(update={"at_mm": at_mm}) for o in job.thing.levels[0].on)
    job = change(job, "thing.levels.0.on", on)
    plain = plan(job)
    trial = Trial(corrections=(Correction(edge="A1", side="edge", at_mm=along_mm, over_mm=110.0, by_mm=6.0),))
    tried = plan(change(job, "trials", (*job.trials, trial)))
    gives, let_out = (next(r.number for r in p.draft.tell() if r.key == "level-0") for p in (plain, tried))
    assert let_out - gives == pytest.approx(6.0, abs=0.8)
    assert ("level-off" in codes(tried, "look"), "level-off" in codes(plain, "look")) == (True, False)


@pytest.mark.parametrize("times", [0.8, 0.95, 1.2])
def test_a_strip_between_fingers_that_nothing_was_read_of_follows_the_edge_it_meets(times: float) -> None:
    one = strip("A", 90, 120).model_copy(update={"high": read(120 * times)})
    side = strip("C", 18, 100)
    side = side.model_copy(update={"high": side.high.model_copy(update={"first": None, "second": None})})
    made = put(Hand(panels=(one, side)), (Meet(a="A3", b="C1", how="butt"),))
    assert np.ptp(made.draft.piece("panel-C").outline, axis=0) == pytest.approx([18, 120 * times], abs=0.01)
    alone = put(Hand(panels=(one, side)))
    assert np.ptp(alone.draft.piece("panel-C").outline, axis=0) == pytest.approx([18, 100], abs=0.01)


def test_a_finger_that_is_short_inside_its_seam_is_said_and_mended() -> None:
    job = demo("bramble-glove")
    tight = plan(change(job, "thing.beyond_mm", 1.0))
    found = next(f for f in tight.findings if f.code == "finger-short")
    after = plan(mend(tight.job, found.mend))
    assert "finger-short" not in {f.code for f in after.findings}
    assert after.job.thing.beyond_mm > tight.job.piece.margin_mm


def test_fingers_are_marked_in_one_press_dragged_named_and_taken_away() -> None:
    (panel,) = pattern(3, "A")
    bare = panel.model_copy(update={"fingers": ()})
    made = put(Hand(panels=(bare,), thumb=read(60.0)))
    assert codes(made, "look") >= {"finger-nowhere"}
    seen = next(f for f in made.findings if f.code == "fingers-seen")
    marked = mend(made.job, seen.mend)
    assert marked.thing.panels[0].fingers == panel.fingers
    assert not {f.code for f in plan(marked).findings} & {"fingers-seen", "finger-nowhere"}
    handles = {h.path: h for h in marked.thing.handles()}
    path = "thing.panels.0.fingers.4.to_mm"
    x, y = handles[path].at
    moved = drag(marked, path=path, to=(x + 1.0, y + 12.0))
    now = spoke(np.array(panel.ring), moved.thing.panels[0].fingers[4])
    near = shapely.LinearRing(panel.ring).distance(shapely.Point(x + 1.0, y + 12.0))
    assert np.hypot(*(now.base[1] - [x + 1.0, y + 12.0])) == pytest.approx(near, abs=0.1)
    assert moved.thing.panels[0].fingers[4].from_mm == marked.thing.panels[0].fingers[4].from_mm
    field, left = marked.thing.without("thing.panels.0.fingers.1.which")
    assert (field, len(left)) == ("thing.panels.0.fingers", 4)
    nowhere = next(f for f in made.findings if f.code == "finger-nowhere")
    assert not plan(mend(made.job, nowhere.mend)).job.thing.thumb.by_hand
    assert "thumb" in words(nowhere.says)


@pytest.mark.parametrize("tannage", ["veg", "oil", "chrome"])
def test_a_glove_sewn_inside_out_turns_if_its_leather_and_its_fingers_do(tannage: str) -> None:
    """A finger laid flat so wide is a tube two of that round; what turns and what does not, as for any tube."""
    job = change(demo("bramble-glove"), "leather.tannage", tannage)
    job = change(job, "piece.meets.0.how", "turned")
    base = min(float(np.hypot(*(s.base[1] - s.base[0])))
               for f in job.thing.panels[0].fingers if (s := spoke(np.array(job.thing.panels[0].ring), f)))  # fmt: skip
    turns = 2 * base / np.pi / TURNS_ACROSS
    for thick in (0.5 * turns, 1.3 * turns, TURNS_TO_MM[tannage] + 0.2):
        made = plan(change(job, "leather.thickness_mm", round(thick, 2)))
        held = [f for f in made.findings if f.code == "does-not-turn"]
        assert bool(held) is (thick > turns)
        for found in held:
            assert ("at its base" in words(found.says)) is (thick < TURNS_TO_MM[tannage])
            assert "does-not-turn" not in {f.code for f in plan(mend(made.job, found.mend)).findings}
    flush = plan(change(change(job, "piece.meets.0.how", "flush"), "leather.thickness_mm", 3.0))
    assert "does-not-turn" not in {f.code for f in flush.findings}


def test_when_one_finger_was_read_the_others_are_asked_for() -> None:
    hand = Hand(panels=pattern(5, "A", "B"))

    def asked(of: Hand) -> set[str]:
        return {c.path for c in of.measure().callouts if c.path.removeprefix("thing.") in FINGERS and not c.unasked}

    assert asked(hand) == set()
    some = hand.model_copy(update={"middle": read(70.0)})
    assert asked(some) == {f"thing.{which}" for which in ("thumb", "index", "middle", "ring", "little")}
    assert not codes(put(some), "hold") & {"reading-missing"}


@pytest.mark.parametrize("lining", [0.8, 2.0])
def test_a_lined_glove_goes_round_its_lining_too(lining: float) -> None:
    """Both its panels lined: 2π of that more round the hand, and of the fingers' room it takes as much as it is thick."""
    bare = plan(demo("bramble-glove"))
    job = bare.job
    for k, letter in enumerate("AB"):
        job = change(ornament(job, kind="lining", piece=f"panel-{letter}"), f"ornaments.{k}.thick_mm", lining)
    made = plan(job)
    assert "level-off" not in {f.code for f in made.findings}
    one, other = (next(r.number for r in p.draft.tell() if r.key == "level-0") for p in (bare, made))
    assert other - one == pytest.approx(2 * np.pi * lining, abs=0.3)
    fingers = [[r.number for r in p.draft.tell() if r.key.startswith("finger-")] for p in (bare, made)]
    assert [a - b for a, b in zip(*fingers, strict=True)] == pytest.approx([lining] * len(fingers[0]), abs=0.1)


@settings(max_examples=examples(10), deadline=None)
@given(SEEDS, st.sampled_from([0.0, 0.02, -0.02]))
def test_turned_over_a_hand_has_its_fingers_where_they_were(seed: int, by_rad: float) -> None:
    (panel,) = pattern(seed, "A")
    over = panel.turned(by_rad).over()
    assert [f.which for f in over.fingers] == [f.which for f in panel.fingers]
    for one, other in zip(panel.fingers, over.fingers, strict=True):
        was, now = (spoke(np.array(p.ring), f) for p, f in ((panel, one), (over, other)))
        assert now.long_mm == pytest.approx(was.long_mm, abs=0.3)
        assert np.hypot(*np.subtract(*now.base)) == pytest.approx(np.hypot(*np.subtract(*was.base)), abs=0.3)
    found = {f.which: f for f in fingers_of(np.array(over.ring))}
    assert all(abs(found[f.which].from_mm - f.from_mm) < 12.0 for f in over.fingers)


def test_a_finger_pressed_flat_stays_as_it_is() -> None:
    hand = demo("bramble-glove").thing.panels[0]  # type: ignore[union-attr]
    lies = spoke(np.array(hand.ring), hand.fingers[0])
    assert lies is not None
    for flat in (np.diag([1.0, 0.0]), np.zeros((2, 2))):
        pressed = lies.mapped(flat)
        points = np.array(hand.ring) @ flat
        assert np.isfinite(pressed.lengthened(points, 90.0, np.ones(len(points), bool))).all()
