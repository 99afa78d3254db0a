"""Strap goods: lengths against a strap bent by hand arithmetic, ends against their rules, the proof against raw outlines."""

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.jobs import read, words
from tests.many import examples
from vow_line.core.curve import frozen
from vow_line.core.draft.kinds.buckle_strap import BuckleStrap
from vow_line.core.draft.kinds.strap import Pad, Strap
from vow_line.core.draft.pieces import Edge, Piece, edged
from vow_line.core.draft.strapping import ENDS, Lap, cut_end
from vow_line.core.job import Job, change, mend
from vow_line.core.leather import Hide
from vow_line.core.measure import FittingBody, GirthBody
from vow_line.core.measure.things.fitting import Fitting
from vow_line.core.measure.things.girth import Girth
from vow_line.core.plan import Plan, plan
from vow_line.core.proof import prove
from vow_line.core.quantity import Units
from vow_line.core.stitch import StitchChoices
from vow_line.core.work.hardware import hardware

BUTT = Hide(outline=((0, 0), (2600, 0), (2600, 400), (0, 400)), thickness_mm=3.2)


def collar(around: float = 410.0, thick: float = 3.2, **choices: object) -> Plan:
    thing = Girth(around=read(around), opening=read(26.0), bar=read(4.0))
    hide = BUTT.model_copy(update={"thickness_mm": thick})
    awl = StitchChoices(tool="awl", pitch_mm=4.0)
    return plan(Job(name="collar", thing=thing, piece=BuckleStrap(**choices), leather=hide, stitch=awl))


def sling(**choices: object) -> Plan:
    awl = StitchChoices(tool="awl", pitch_mm=4.0)
    thing = Fitting(opening=read(26.0), bar=read(5.0))
    return plan(Job(name="sling", thing=thing, piece=Strap(**choices), leather=BUTT, stitch=awl))


def _bent(radius: float, turns: float, thick: float, neutral: float) -> float:
    """The length of the neutral layer of a strap laid round a cylinder, by walking small steps of it."""
    at = np.linspace(0, 2 * np.pi * turns, 20001)
    path = (radius + neutral * thick) * np.column_stack([np.cos(at), np.sin(at)])
    return float(np.hypot(*np.diff(path, axis=0).T).sum())


@settings(max_examples=examples(25), deadline=None)
@given(st.floats(150, 1200), st.floats(1.2, 5.0), st.floats(0, 60), st.sampled_from([1, 3, 5, 7]), st.floats(12, 40))
def test_a_collar_bent_round_its_wearer_closes_at_its_middle_hole(
    around: float, thick: float, ease: float, holes: int, step: float
) -> None:
    made = collar(around, thick, ease_mm=ease, holes=holes, step_mm=step)
    strap = made.draft.piece("strap")  # type: ignore[union-attr]
    middle = sorted(p.centre[0] for p in strap.punches if p.id.startswith("hole-"))[holes // 2]
    girth = made.measured.body.girth_mm  # type: ignore[union-attr]
    r = (girth + ease) / (2 * np.pi)
    lap = np.linspace(0, made.job.piece.lap.long_mm / (r + thick / 2), 2001)
    points = [
        k * np.column_stack([np.cos(a), np.sin(a)]) for k, a in ((r, np.linspace(0, 2 * np.pi, 4001)), (r + thick, lap))
    ]
    tight = shapely.MultiPoint(np.vstack(points)).convex_hull.length
    assert middle == pytest.approx(tight + 2 * np.pi * thick / 2, abs=0.05), (
        "over wearer and lap, its own middle farther out"
    )
    assert middle > _bent(r, 1.0, thick, 0.5) + 0.9 * thick * lap[-1], "a strap without a lap would close tight"
    steps = np.diff(sorted(p.centre[0] for p in strap.punches if p.id.startswith("hole-")))
    assert steps == pytest.approx(step)


@pytest.mark.parametrize(("bar", "thick"), [(4.0, 3.2), (2.5, 1.5), (8.0, 4.0)])
def test_a_turned_end_is_as_long_as_half_a_turn_and_its_lap(bar: float, thick: float) -> None:
    made = plan(Job(name="s", thing=Fitting(opening=read(26.0), bar=read(bar)), piece=Strap(long_mm=500),
                    leather=BUTT.model_copy(update={"thickness_mm": thick})))  # fmt: skip
    strap = made.draft.piece("strap")  # type: ignore[union-attr]
    cut = float(np.ptp(strap.outline[:, 0]))
    assert cut == pytest.approx(500 + 2 * (50 + _bent(bar / 2, 0.5, thick, 0.5)), abs=0.01)


def test_strap_lengths_by_hand() -> None:
    """Common practice: finished length, and for each end its lap and half a turn, π (b/2 + t/2); here by pencil: 600, 2 × 50,
    2 × π × (2.5 + 1.6) = 25.76.
    """
    strap = sling(long_mm=600).draft.piece("strap")  # type: ignore[union-attr]
    assert float(np.ptp(strap.outline[:, 0])) == pytest.approx(725.76, abs=0.01)


@pytest.mark.parametrize("end", sorted(ENDS))
@given(wide=st.floats(8, 80))
def test_an_end_is_even_tangent_where_it_is_round_and_no_wider_than_its_strap(end: str, wide: float) -> None:
    line, back = cut_end(end, wide / 2)  # type: ignore[arg-type]
    assert line == pytest.approx(line[::-1] * [-1, 1], abs=1e-9)
    assert np.abs(line[:, 0]).max() <= wide / 2 + 1e-9
    assert line[:, 1].max() == pytest.approx(0.0, abs=1e-9)
    assert line[0].tolist() == pytest.approx([wide / 2, -back])
    if end in ("round", "english"):
        start = np.diff(line[:2], axis=0)[0]
        assert abs(start[0]) < 0.12 * np.hypot(*start), "it leaves the side along it"
    if end == "english":
        radius = np.hypot(*(line[: len(line) // 2 + 1] - [wide / 2 - (back**2 + (wide / 2) ** 2) / wide, -back]).T)
        assert np.ptp(radius) < 1e-6 * wide, "its sides are arcs about points on the line they begin from"


def test_the_holes_of_the_lap_lie_on_those_of_the_strap_when_it_is_folded() -> None:
    made = sling(lap=Lap(held="sewn"))
    strap, stitching = made.draft.piece("strap"), made.stitching  # type: ignore[union-attr]
    bar = made.measured.body.bar_mm  # type: ignore[union-attr]
    for seam, at, out in zip(stitching.seams, (0.0, 600.0), (-1.0, 1.0), strict=True):  # type: ignore[union-attr]
        on, over = seam.on(0), seam.on(1)
        turn = np.pi * (bar / 2 + 1.6)
        # folded: what lies a distance beyond the turn comes to lie as far before it
        assert over[:, 0] == pytest.approx(at + out * (turn + out * (at - on[:, 0])), abs=1e-6)
        assert over[:, 1] == pytest.approx(on[:, 1], abs=1e-6)
        area = shapely.Polygon(strap.outline)
        assert area.contains(shapely.MultiPoint(np.concatenate([on, over])))


def test_a_keeper_goes_round_the_strap_and_the_end_that_lies_on_it() -> None:
    made = collar(width_mm=25, thick=3.2)
    keeper = made.draft.piece("keeper")  # type: ignore[union-attr]
    corners = np.array([[0, 0], [25, 0], [25, 6.4], [0, 6.4]])
    way = sum(float(np.hypot(*(b - a))) for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True))
    way += 4 * _bent(0.0, 0.25, 3.2, 0.5)  # a quarter turn at each corner
    loose = float(np.ptp(keeper.outline[:, 0])) - way
    assert 0 < loose < 3


def test_a_pads_cover_closes_round_strap_and_foam() -> None:
    made = sling(pad=Pad(thick_mm=10, long_mm=200), width_mm=24)
    cover, foam = made.draft.piece("cover"), made.draft.piece("foam")  # type: ignore[union-attr]
    assert float(np.ptp(cover.outline[:, 1])) == pytest.approx(2 * (24 + 3.2 + 10) + 2 * np.pi * 1.6, abs=0.01)
    assert float(np.ptp(cover.outline[:, 0])) == 200
    assert np.ptp(foam.outline[:, 0]) < 200, "foam ends short of its cover"
    ends = np.array([[foam.outline[:, 0].min(), 0.0], [foam.outline[:, 0].max(), 0.0]])
    assert np.minimum(*(s.at(ends) for s in foam.skives)) == pytest.approx([0, 0])


def _astray(made: Plan, piece: Piece) -> set[str]:
    """What the proof holds against the assembly with a piece exchanged."""
    draft = made.draft
    assert draft is not None
    pieces = tuple(piece if p.id == piece.id else p for p in draft.pieces)
    proof = prove(replace(draft.assembly, pieces=pieces), (), made.measured.body)
    return {f.code for f in proof.findings if f.level == "hold"}


def _moved(piece: Piece, hole: str, by: float) -> Piece:
    punches = tuple(replace(p, centre=(p.centre[0] + by, 0.0)) if p.id == hole else p for p in piece.punches)
    return replace(piece, punches=punches)


def test_the_proof_finds_a_hole_a_turn_and_a_keeper_that_are_off() -> None:
    made = collar()
    strap, keeper = made.draft.piece("strap"), made.draft.piece("keeper")  # type: ignore[union-attr]
    assert _astray(made, strap) == set()
    assert _astray(made, _moved(strap, "hole-3", 1.2)) == {"strap-length", "row-uneven"}
    assert _astray(made, _moved(strap, "hole-3", -1.2)) == {"strap-length", "row-uneven"}
    folds = (strap.folds[0], frozen(strap.folds[1] - [0.7, 0.0]))
    assert _astray(made, replace(strap, folds=folds)) == {"turn-length", "fold-off"}
    for times in (0.97, 1.06):
        outline, edges = edged(
            *(Edge(e.id, e.title, frozen(e.line * [times, 1.0]), e.open, beside=e.beside) for e in keeper.edges)
        )
        assert _astray(made, replace(keeper, outline=outline, edges=edges)) == {"keeper-length"}


@pytest.mark.parametrize(
    ("choices", "code"),
    [
        ({"width_mm": 30}, "strip-too-wide"), ({"past_mm": 8}, "hole-tears-out"), ({"step_mm": 6}, "holes-near"),
        ({"lap": Lap(long_mm=12)}, "lap-short"), ({"lap": Lap(held="boxed")}, "held-over-slot"), ({"holes": 4}, "holes-even"),
        ({"lap": Lap(long_mm=399)}, "lap-long"),
    ],
)  # fmt: skip
def test_what_is_wrong_with_a_collar_mends_in_one_press(choices: dict[str, object], code: str) -> None:
    made = collar(**choices)
    found = next(f for f in made.findings if f.code == code)
    assert found.mend is not None
    after = plan(mend(made.job, found.mend))
    assert code not in {f.code for f in after.findings}
    assert not [f for f in after.findings if f.level == "hold"]


@pytest.mark.parametrize("begins", [4.0, 11.0])
def test_however_a_turn_is_held_it_is_so_clear_of_the_slot_and_only_there(begins: float) -> None:
    made = collar(lap=Lap(from_bar_mm=begins))
    choice = next(c for c in made.draft.callouts if c.path == "piece.lap")
    assert choice.value in choice.means
    for held, lap in zip(("sewn", "boxed", "riveted", "tacked"), choice.means, strict=True):
        after = plan(change(made.job, "piece.lap", lap))
        assert after.job.piece.lap.held == held
        assert after.job.piece.lap.from_bar_mm == (begins if held == "sewn" else max(begins, 8.0))
        assert not [f for f in after.findings if f.level == "hold"]
    ring = sling()
    laps = next(c for c in ring.draft.callouts if c.path == "piece.lap").means
    assert {lap.from_bar_mm for lap in laps} == {ring.job.piece.lap.from_bar_mm}, "which has no slot"


def test_what_pulls_is_never_said_to_be_safe() -> None:
    for made in (collar(load="pulls"), sling(load="pulls")):
        says = next(f for f in made.findings if f.code == "load").says.write(Units())
        assert "qualified person" in says
        assert all(s.line.sewing.carries for s in made.stitching.seams if s.id.endswith("-end"))  # type: ignore[union-attr]


def test_rings_buckles_and_rivets_are_counted() -> None:
    one, two = collar(lap=Lap(held="riveted", from_bar_mm=10)), sling()
    listed = [(h.id, h.count, h.size_mm) for h in hardware(one.draft.assembly, one.measured.body)]  # type: ignore[union-attr]
    assert listed == [("rivet-4-9.4", 2, 4.0), ("buckle", 1, 26.0)]
    assert [(h.id, h.count) for h in hardware(two.draft.assembly, two.measured.body)] == [("ring", 2)]  # type: ignore[union-attr]
    steps = [s.id for s in one.work.steps]  # type: ignore[union-attr]
    assert steps.index("turn/strap/first-end") < steps.index("set/first-rivet-1"), (
        "the buckle is in before it is closed"
    )
    assert steps.index("slots/strap") < steps.index("turn/strap/first-end")


@pytest.mark.parametrize(("thick", "long"), [(3.2, 10.0), (4.5, 13.0), (6.75, 20.0), (6.5, 16.0), (25.0, 53.0)])
def test_tacks_go_through_and_three_millimetres_more_as_such_are_sold(thick: float, long: float) -> None:
    """Common practice: a tack of 16 mm is too short where strapping comes to 13.5 mm in all; 20 mm holds."""
    made = sling(lap=Lap(held="tacked"))
    hide = made.job.leather.model_copy(update={"thickness_mm": thick})
    made = plan(made.job.model_copy(update={"leather": hide}))
    tacks = [f for f in made.draft.assembly.fasteners if f.sort == "tack"]
    assert len(tacks) == 4, "two in either end"
    assert {made.draft.assembly.post_mm(f) for f in tacks} == {long}
    listed = next(h for h in hardware(made.draft.assembly, made.measured.body) if h.id.startswith("tack"))
    assert (listed.count, listed.other_mm) == (4, long)
    assert any(s.id == "set/first-tack-1" and "drive it on iron" in words(s.says) for s in made.work.steps)
    assert next(r for r in made.sums("draft") if r.key == "tack").number == pytest.approx(long)


def test_bodies_keep_what_was_read() -> None:
    assert isinstance(collar().measured.body, GirthBody)
    assert isinstance(sling().measured.body, FittingBody)


@pytest.mark.parametrize("outside", ["grain", "flesh"])
def test_what_has_a_front_is_put_in_with_that_on_the_side_that_is_shown(outside: str) -> None:
    plain = sling()
    fronted = plan(change(change(plain.job, "thing.faces", "one-front"), "leather.outside", outside))
    assert [t.has_front for t in fronted.draft.assembly.turns] == [True, True]
    turned = [words(s.says) for s in fronted.work.steps if s.id.startswith("turn/")]
    assert all("front of the ring on the side that is shown" in t for t in turned)
    assert not [s for s in plain.work.steps if "front of" in words(s.says)]
    front, back = ({m.id for m in f.marks} for f in fronted.made.faces)
    assert "front" in front
    assert "front" not in back
    strap = [m for m in fronted.made.faces[0].marks if m.id == "strap" and m.meaning in ("grain", "flesh")]
    assert outside in {m.meaning for m in strap}
