"""What closes cuffs and gaiters: rows by their rule, laces, studs, billets, loops, on skin, on the drawing."""

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.draft.test_limb_wrap import ARM, CALF, PIPE, WIDE, cuff
from tests.jobs import read
from tests.many import examples
from vow_line.core.curve import arc_length, frozen
from vow_line.core.draft.assembly import Assembly
from vow_line.core.draft.closures import stands_mm, stood, stood_along
from vow_line.core.draft.kinds.limb_wrap import LimbWrap, Tongue
from vow_line.core.draft.kinds.limb_wrap.closure import Closure
from vow_line.core.draft.kinds.limb_wrap.closures import CLOSURES
from vow_line.core.draft.kinds.limb_wrap.closures.buckled import Buckled
from vow_line.core.draft.kinds.limb_wrap.closures.buttons import Buttoned
from vow_line.core.draft.kinds.limb_wrap.closures.hooked import Hooked
from vow_line.core.draft.kinds.limb_wrap.closures.laced import Laced
from vow_line.core.draft.kinds.limb_wrap.closures.studs import Studs
from vow_line.core.job import Job, change, mend
from vow_line.core.measure.things.limb import Limb, LimbStation
from vow_line.core.plan import Plan, plan
from vow_line.core.proof import prove
from vow_line.core.work.hardware import hardware
from vow_line.core.work.making import SET_UP_MIN


def test_closures_stand_by_the_practice_of_the_trade() -> None:
    """Common practice: 14 in high, the first 1 in from the end, 2 in from each other: 7."""
    wrap = Laced(spacing_mm=50.8, ends_mm=25.4)
    assert wrap.count(14 * 25.4) == 7
    assert wrap.count(14 * 25.4 - 0.5) == 6
    assert wrap.count(10) == 2


def test_as_many_eyelets_on_either_edge_as_far_in_and_the_lace_as_long_as_its_way() -> None:
    made = cuff(CALF, "calf", closed=Laced(gap_low_mm=25, gap_high_mm=0, in_mm=10, spacing_mm=30, ends_mm=15))
    piece = made.draft.piece("wrap")
    left, right = (np.array([p.centre for p in piece.punches if p.id.startswith(side)]) for side in ("left", "right"))
    assert len(left) == len(right) == made.job.piece.closed.count(float(arc_length(piece.edge("left").line)[-1]))
    for row, edge in ((left, "left"), (right, "right")):
        line = piece.edge(edge).line
        seg = np.linspace(0, 1, 400)
        s = arc_length(line)
        fine = np.column_stack([np.interp(seg * s[-1], s, c) for c in line.T])
        off = np.hypot(*(row[:, None] - fine[None]).transpose(2, 0, 1)).min(axis=1)
        assert off == pytest.approx(10.0, abs=0.4)
    # walked from hole to hole in space: across at the bottom, then up crossing, at the gaps as they close
    n = len(left)
    along = np.linspace(0, 1, n)
    gap = 25 * (1 - along) + 20
    rise = np.append(0, np.cumsum(np.hypot(*np.diff(left, axis=0).T)))
    a, b = (np.column_stack([side * gap / 2, rise]) for side in (-1, 1))
    way = float(gap[0]) + sum(
        float(np.hypot(*(b[k + 1] - a[k]))) + float(np.hypot(*(a[k + 1] - b[k]))) for k in range(n - 1)
    )
    lace = next(h for h in hardware(made.draft.assembly, made.measured.body) if h.id == "lace")
    assert lace.other_mm == pytest.approx(way + 2 * n * piece.thickness_mm + 400, rel=0.005), "through each eyelet once"
    assert [h.count for h in hardware(made.draft.assembly, made.measured.body) if h.id.startswith("eyelet")] == [2 * n]


def test_studs_of_either_edge_meet_on_the_closing_line_and_the_lap_lies_evenly_over_it() -> None:
    made = cuff(closed=Studs(lap_mm=30))
    piece = made.draft.piece("wrap")
    left, right = (np.array([p.centre for p in piece.punches if p.id.startswith(side)]) for side in ("left", "right"))
    assert left == pytest.approx(right * [-1, 1], abs=1e-6)
    line = piece.edge("left").line
    off = np.array([np.hypot(*(line - p).T).min() for p in left])
    assert (np.abs(off - 15) < 3).all()
    assert [h.count for h in hardware(made.draft.assembly, made.measured.body)] == [len(left)]


def test_a_tongue_is_slanted_as_the_gap_tapers_and_sewn_clear_of_the_eyelets() -> None:
    made = cuff(closed=Laced(gap_low_mm=8, gap_high_mm=20, tongue=Tongue(lap_mm=22)))
    tongue, seam = made.draft.piece("tongue"), made.stitching.seam("tongue")
    wide = np.ptp(tongue.outline[:2, 0]), np.ptp(tongue.outline[2:, 0])
    assert sorted(wide) == pytest.approx([8 + 44, 20 + 44])
    on, own = seam.on(0), seam.on(1)
    assert len(on) == len(own)
    eyelets = np.array([p.centre for p in made.draft.piece("wrap").punches])
    assert np.hypot(*(on[:, None] - eyelets[None]).transpose(2, 0, 1)).min() > 5 / 2 + 3
    steps = [s.id for s in made.work.steps]
    assert steps.index("punch/wrap/closures") < steps.index("set/eyelets")
    assert not [f for f in made.findings if f.level == "hold"]


@given(gap=st.floats(0, 12), bar_in=st.floats(24, 50), holes=st.sampled_from([1, 3, 5]), thick=st.floats(1.5, 3.0))
@settings(max_examples=examples(10), deadline=None)
def test_round_a_pipe_the_way_from_the_bar_by_the_piece_and_the_billet_back_to_it_is_its_girth(
    gap: float, bar_in: float, holes: int, thick: float
) -> None:
    """Walked: what of the piece goes round from under the bar to its right edge, then the billet from there to its hole."""
    closed = Buckled(gap_low_mm=gap, gap_high_mm=gap, bar_in_mm=bar_in, holes=holes, step_mm=9)
    made = cuff(PIPE, "calf", thick=round(thick, 2), deep=240 / np.pi, closed=closed)
    assert not [f for f in made.findings if f.level == "hold"]
    wrap, billet, tab = (made.draft.piece(id) for id in ("wrap", "billet", "tab"))
    wide = float(np.ptp(wrap.outline[:, 0]))
    middle = sorted(p.centre[0] for p in billet.punches)[holes // 2]
    sewn = made.stitching.seam("billet")
    held = float(np.ptp(sewn.on(1)[:, 0])) + 6  # its box, the seam 3 mm within it all round
    beyond = middle - held - closed.in_mm  # of the billet, past the right edge
    assert wide - bar_in + beyond == pytest.approx(240 + np.pi * made.job.leather.thickness_mm, abs=0.6)
    round_bar = np.pi * (closed.bar_mm / 2 + made.job.leather.thickness_mm / 2)
    fold, other = (f.mean(axis=0) for f in tab.folds)
    assert float(np.hypot(*(other - fold))) == pytest.approx(round_bar, abs=0.05)
    n = billet.count
    assert n == tab.count == closed.count(300)
    assert [h.count for h in hardware(made.draft.assembly, made.measured.body)] == [n]


@pytest.mark.parametrize("closed", [Buckled(), Hooked()])
def test_what_is_sewn_again_is_the_same_seam_at_every_place_on_the_wrap(closed: Closure) -> None:
    made = cuff(CALF, "calf", closed=closed)
    n = closed.count(min(float(arc_length(made.draft.piece("wrap").edge(e).line)[-1]) for e in ("left", "right")))
    for seam in made.stitching.seams:
        assert seam.line.times == n == made.draft.piece(seam.id).count
        places = [seam.on(k) for k, p in enumerate(seam.line.placed) if p.piece == "wrap"]
        seats = [s for s in made.draft.assembly.seats if s.id.startswith(f"{seam.id}-")]
        assert len(places) == len(seats) == n
        shape = np.hypot(*(places[0][:, None] - places[0][None]).transpose(2, 0, 1))
        for points, seat in zip(places, seats, strict=True):
            assert np.hypot(*(points[:, None] - points[None]).transpose(2, 0, 1)) == pytest.approx(shape, abs=1e-6)
            assert shapely.Polygon(seat.line).buffer(1e-6).covers(shapely.MultiPoint(points))
        sewn = made.threading.seam(seam.id)
        assert [s.minutes for s in made.work.steps if s.id == f"sew/{seam.id}"] == pytest.approx(
            [n * (SET_UP_MIN + seam.run_mm / made.job.work.pace_mm_per_min)]
        )
        assert sewn.total_mm * n < made.threading.total_mm
    assert made.threading.total_mm == pytest.approx(n * sum(s.total_mm for s in made.threading.seams))


def test_the_proof_finds_a_billet_that_closes_elsewhere_and_a_loop_that_does_not_reach() -> None:
    def held(assembly: Assembly, made: Plan) -> set[str]:
        return {f.code for f in prove(assembly, (), made.measured.body).findings if f.level == "hold"}

    made = cuff(CALF, "calf", closed=Buckled())
    assembly = made.draft.assembly
    assert held(assembly, made) == set()
    billet = assembly.piece("billet")
    off = tuple(replace(p, centre=(p.centre[0] + 6, 0.0)) for p in billet.punches)
    assert "strap-length" in held(assembly.with_more([replace(billet, punches=off)]), made)
    joins = [
        j if j.id != "tab" else replace(j, again=((j.again[0][0], (0.0, 8.0)), *j.again[1:])) for j in assembly.joins
    ]
    assert "strap-length" in held(replace(assembly, joins=tuple(joins)), made)
    thick = replace(assembly, turns=(replace(assembly.turns[0], bar_mm=6.0),))
    assert "turn-length" in held(thick, made)

    made = cuff(CALF, "calf", closed=Buttoned(gap_low_mm=2, gap_high_mm=9))
    assembly = made.draft.assembly
    assert held(assembly, made) == set()
    (loops,) = assembly.loops
    assert loops.round_mm == pytest.approx(2 * (9 + 22), abs=0.5), "over both margins and the widest gap, and back"
    assert "loop-short" in held(replace(assembly, loops=(replace(loops, round_mm=loops.round_mm - 8),)), made)
    larger = replace(assembly, loops=(replace(loops, button_mm=34.0),))
    assert "loop-short" in held(larger, made)
    fewer = replace(loops, rows=(loops.rows[0], loops.rows[1][1:]))
    assert "eyelets-differ" in held(replace(assembly, loops=(fewer,)), made)


@pytest.mark.parametrize("closed", [Laced(), Buttoned(), Studs(), Hooked(), Laced(tongue=Tongue())])
def test_what_lies_on_bare_skin_is_said_and_one_press_keeps_it_off(closed: Closure) -> None:
    def worn(over: str) -> Plan:
        thing = Limb(over=over, stations=tuple(LimbStation(at_mm=a, girth=read(g)) for a, g in ARM))
        return plan(Job(name="x", thing=thing, piece=LimbWrap(closed=closed), leather=WIDE))

    assert "on-skin" not in {f.code for f in worn("sleeve").findings}
    found = [f for f in worn("bare").findings if f.code == "on-skin"]
    assert bool(found) == (not isinstance(closed, Hooked) and getattr(closed, "tongue", None) is None)
    for f in found:
        after = plan(mend(worn("bare").job, f.mend))
        assert "on-skin" not in {g.code for g in after.findings}
        assert not [g for g in after.findings if g.level == "hold"]


@pytest.mark.parametrize("way", CLOSURES, ids=lambda w: w.__name__)
def test_every_value_of_a_closure_stands_on_the_drawing_and_moves_what_is_drawn_or_bought(way: type[Closure]) -> None:
    closed = way.usual()
    made = cuff(CALF, "calf", closed=closed)
    there = {c.path: c for c in made.draft.callouts}
    bought = [(h.size_mm, h.other_mm, h.count) for h in hardware(made.draft.assembly, made.measured.body)]
    for name in way.model_fields.keys() - {"by", "tongue"}:
        path = f"piece.closed.{name}"
        assert path in there, f"{name} is nowhere on the drawing"
        value = getattr(closed, name)
        other = {"end": "square", "against": "hooks"}.get(name) or (
            value + 2 if isinstance(value, int) else value * (3 if name == "high_mm" else 1.3) + 0.5
        )
        changed = plan(change(made.job, path, other))
        moved = any(
            p.outline.shape != q.outline.shape or not np.allclose(p.outline, q.outline) or p.count != q.count
            or [k.centre for k in p.punches] != [k.centre for k in q.punches]
            or [k.diameter_mm for k in p.punches] != [k.diameter_mm for k in q.punches]
            for p, q in zip(made.draft.pieces, changed.draft.pieces, strict=True)
        )  # fmt: skip
        seats = any(
            not np.allclose(s.line, t.line)
            for s, t in zip(made.draft.assembly.seats, changed.draft.assembly.seats, strict=False)
        )
        assert (
            moved
            or seats
            or bought
            != [(h.size_mm, h.other_mm, h.count) for h in hardware(changed.draft.assembly, changed.measured.body)]
        ), f"{name} changes nothing"


@pytest.mark.parametrize(("long_mm", "ends_mm", "n"), [(20.0, 14.0, 2), (30.0, 40.0, 3), (200.0, 14.0, 5)])
def test_closures_stand_in_order_on_an_edge_however_short_it_is(long_mm: float, ends_mm: float, n: int) -> None:
    """As far in from either end as asked, or two fifths of the edge where that is less; on a bent edge by its length."""
    at = stands_mm(long_mm, n, ends_mm)
    assert (np.diff(at) > 0).all()
    assert (at[0], long_mm - at[-1]) == pytest.approx([min(ends_mm, 0.4 * long_mm)] * 2)
    bent = frozen([[0.0, 0.0], [0.7 * long_mm, 0.0], [0.7 * long_mm, 0.3 * long_mm]])
    places = stood(bent, n, ends_mm)
    line = shapely.LineString(bent)
    assert [line.project(shapely.Point(p)) for p in places] == pytest.approx(at.tolist())
    runs = (bent[:2], bent[1:] + [5.0, 40.0])  # parted, and the second laid elsewhere
    assert stood_along(runs, n, ends_mm) == pytest.approx(places + (at > 0.7 * long_mm)[:, None] * [5.0, 40.0])
