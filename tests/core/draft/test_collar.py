"""The collar on a neck of several panels: where its holes come to lie, its fold, and no edge for it."""

from itertools import pairwise
from typing import Literal

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.draft.test_panelled import codes, put, strip, traced
from tests.jobs import demo, words
from tests.many import examples
from vow_line.core.draft.kinds.panelled import Collar, Meet
from vow_line.core.job import change, mend
from vow_line.core.plan import Plan, plan

Sewn = Literal["over", "butt", "flush", "turned"]


@settings(max_examples=examples(25), deadline=None)
@given(
    st.lists(st.tuples(st.floats(25, 160), st.sampled_from(["over", "butt", "flush", "turned"])), min_size=1, max_size=5),
    st.floats(2.0, 6.0), st.integers(0, 4),
)  # fmt: skip
def test_holes_of_the_collar_lie_where_those_of_the_neck_do(
    strips: list[tuple[float, Sewn]], margin: float, n: int
) -> None:
    """Strips side by side, their tops one straight neck: on the collar a hole is as far along as on the thing, where edges sewn
    on each other are drawn in by a margin each.
    """
    letters = "ABCDE"[: len(strips)]
    meets = tuple(
        Meet(a=f"{p}3", b=f"{q}1", how=how) for (p, q), (_, how) in zip(pairwise(letters), strips, strict=False)
    )
    on = f"{letters[n % len(letters)]}2"
    made = put(*(strip(k, w) for k, (w, _) in zip(letters, strips, strict=True)), meets=meets, margin_mm=margin,
               collar=Collar(edge=on, stand_mm=40))  # fmt: skip
    assert not codes(made, "hold")
    assert all(c.holds for c in made.proof.checked)
    collar, left = made.draft.piece("collar"), 0.0
    for k, (letter, (wide, how)) in enumerate(zip(letters, strips, strict=True)):
        if k and strips[k - 1][1] == "flush":
            left -= margin
        seam = made.stitching.seam(f"collar-{letter}2")
        assert seam.on(1)[:, 0] == pytest.approx(left + seam.on(0)[:, 0], abs=0.03)
        assert seam.on(1)[:, 1] == pytest.approx(collar.outline[:, 1].max() - margin)
        assert seam.on(0)[:, 1] == pytest.approx(margin)
        assert seam.stack_mm == pytest.approx(4.0)
        left += wide - (margin if how == "flush" and k + 1 < len(strips) else 0.0)
    assert np.ptp(collar.outline, axis=0) == pytest.approx([left, 40 + 2 * margin], abs=0.03)


@pytest.mark.parametrize(("radius", "half_rad", "margin"), [(90.0, 0.8, 4.0), (60.0, 1.1, 3.0), (250.0, 0.6, 5.0)])
def test_round_a_hollow_neck_it_is_as_long_as_the_arc_of_its_seam(
    radius: float, half_rad: float, margin: float
) -> None:
    turn = np.linspace(-half_rad, half_rad, 200)
    arc = [(200 + radius * np.sin(t), radius * (np.cos(t) - np.cos(half_rad))) for t in turn]
    panel = traced("A", (0, 400), (0, 0), *arc, (400, 0), (400, 400))
    made = put(panel, margin_mm=margin, collar=Collar(edge="A3", stand_mm=30, fall_mm=42))
    long, high = np.ptp(made.draft.piece("collar").outline, axis=0)
    assert long == pytest.approx(2 * half_rad * (radius + margin), abs=0.1)
    assert high == pytest.approx(30 + 42 + np.pi / 2 * 2.0 + 2 * margin), "half a turn of leather 2 mm thick"
    usual = next(c.usual for c in put(panel, margin_mm=margin).draft.callouts if c.path == "piece.collar")
    assert usual.edge == "A3", "the hollow one"


def test_a_folded_collar_is_laid_flesh_up_thinned_along_its_fold_alone_and_folded_before_it_is_sewn_on() -> None:
    folded = put(strip("A", 300), margin_mm=4, collar=Collar(edge="A2", stand_mm=30, fall_mm=42))
    piece = folded.draft.piece("collar")
    assert piece.side_up == "flesh"
    assert put(strip("A", 300), collar=Collar(edge="A2")).draft.piece("collar").side_up == "grain"
    (fold,), (skive,) = piece.folds, piece.skives
    at = np.array([[150.0, y] for y in (1.0, fold[0, 1], piece.outline[:, 1].max() - 4)])
    assert skive.at(at) == pytest.approx([2.0, 1.0, 2.0])
    seam = folded.stitching.seam("collar-A2")
    assert seam.stack_mm == pytest.approx(4.0), "its foot is not thinned"
    assert seam.on(1)[0, 1] - fold[0, 1] == pytest.approx(30 + 4 + np.pi / 2)
    steps = [s.id for s in folded.work.steps]
    assert max(k for k, s in enumerate(steps) if "collar" in s and "sew" not in s) < next(
        k for k, s in enumerate(steps) if "sew" in s and "collar" in s
    )


def test_round_a_closed_neck_it_begins_where_it_is_put() -> None:
    ring = tuple(Meet(a=f"{p}3", b=f"{q}1", how="butt") for p, q in ("AB", "BC", "CA"))
    made = put(*(strip(k, 120) for k in "ABC"), meets=ring, collar=Collar(edge="B2"))
    assert [s.id for s in made.draft.seams][3:] == ["collar-B2", "collar-C2", "collar-A2"]
    assert np.ptp(made.draft.piece("collar").outline[:, 0]) == pytest.approx(360)

    def told(p: Plan) -> str:
        return " ".join(words(s) for r in p.draft.tell() if r.key == "collar-long" for s in r.more)

    assert "first corner of B2" in told(made)
    open_ = put(*(strip(k, 120) for k in "ABC"), meets=ring[:2], collar=Collar(edge="B2"))
    assert not told(open_)


def test_an_edge_too_short_for_a_seam_takes_its_length_of_the_collar_and_is_said() -> None:
    meets = tuple(Meet(a=f"{p}3", b=f"{q}1", how="butt") for p, q in ("AB", "BC"))
    made = put(*(strip(k, w) for k, w in zip("ABC", (60, 9, 80), strict=True)), meets=meets, margin_mm=3,
               collar=Collar(edge="C2"))  # fmt: skip
    assert {j.id for j in made.draft.assembly.joins} >= {"collar-A2", "collar-C2"}
    assert "collar-B2" not in {j.id for j in made.draft.assembly.joins}
    assert np.ptp(made.draft.piece("collar").outline[:, 0]) == pytest.approx(149)
    seam = made.stitching.seam("collar-C2")
    assert seam.on(1)[:, 0] == pytest.approx(69 + seam.on(0)[:, 0])
    assert [f.level for f in made.findings if f.code == "collar-loose"] == ["look"]


def test_no_edge_is_offered_that_has_no_room_for_its_seam() -> None:
    """A mend that puts it there would not mend."""
    tight = put(strip("A", 40), margin_mm=30)
    assert not [c for c in tight.draft.callouts if c.path == "piece.collar"]
    held = put(strip("A", 40), margin_mm=30, collar=Collar(edge="A2"))
    (wrong,) = (f for f in held.findings if f.code == "collar-nowhere")
    assert [m.label.template for m in wrong.mends] == ["no collar"]


def test_no_edge_for_it_is_said_and_mended_in_one_press() -> None:
    job = demo("waistcoat")
    for edge in ("A3", "A99"):
        held = plan(change(job, "piece.collar", Collar(edge=edge)))
        wrong = next(f for f in held.findings if f.code == "collar-nowhere")
        assert plan(mend(held.job, wrong.mend)).draft.piece("collar").count == 1
        assert plan(mend(held.job, wrong.mends[-1])).job.piece.collar is None
    short = plan(change(job, "piece.collar", Collar(edge="A4", stand_mm=40, fall_mm=20)))
    wrong = next(f for f in short.findings if f.code == "collar-short")
    assert "collar-short" not in {f.code for f in plan(mend(short.job, wrong.mend)).findings}


@settings(max_examples=examples(15), deadline=None)
@given(
    st.lists(st.tuples(st.floats(60, 160), st.sampled_from(["over", "butt", "flush", "laced"]), st.floats(0, 60)),
             min_size=2, max_size=6),
    st.floats(2.0, 6.0), st.floats(5, 50), st.integers(0, 5), st.booleans(),
)  # fmt: skip
def test_where_a_lacing_parts_the_neck_strips_lie_over_each_other_by_what_is_asked(
    strips: list[tuple[float, str, float]], margin: float, over: float, n: int, ring: bool
) -> None:
    """Strips side by side and worn, in a row or round: each strip of the collar is laid where its holes say, and then reaches
    half of what is asked past the middle of a lacing, whatever the gap.
    """
    letters = "ABCDEF"[: len(strips)]
    follow = list(zip(letters, letters[1:] + letters[:1] if ring else letters[1:], strips, strict=False))
    meets = tuple(Meet(a=f"{p}3", b=f"{q}1", how=how, gap_mm=gap) for p, q, (_, how, gap) in follow)  # type: ignore[arg-type]
    on = f"{letters[n % len(letters)]}2"
    made = put(*(strip(k, w) for k, (w, _, _) in zip(letters, strips, strict=True)), meets=meets, margin_mm=margin,
               collar=Collar(edge=on, stand_mm=40, over_mm=over))  # fmt: skip
    laced = [k for k, (_, _, (_, how, _)) in enumerate(follow) if how == "laced"]
    assert not codes(made, "hold")
    assert all(c.holds for c in made.proof.checked)
    pieces = {p.id: p for p in made.draft.pieces if p.id.startswith("collar")}
    assert len(pieces) == (max(len(laced), 1) if ring else len(laced) + 1)
    assert ("collar-no-lacing" in codes(made, "look")) is not bool(laced)
    taken = [margin if how == "flush" else 0.0 for _, _, (_, how, _) in follow]
    taken += [] if ring else [0.0]  # beyond the last edge
    begins, at = [], 0.0
    for k, (wide, _, _) in enumerate(strips):
        before = taken[k - 1]
        begins.append(at - before)
        at += wide - before - taken[k]
    round_mm = at
    lies: dict[str, list[float]] = {}
    for k, letter in enumerate(letters):
        seam = made.stitching.seam(f"collar-{letter}2")
        id = next(j for j in made.draft.assembly.joins if j.id == seam.id).layers[1].piece
        from_mm = begins[k] + seam.on(0)[:, 0] - seam.on(1)[:, 0]
        lies.setdefault(id, []).extend((from_mm % round_mm if ring else from_mm).tolist())
    ends: list[tuple[float, float]] = []
    for id, piece in pieces.items():
        off = np.array(lies[id])
        off = (off - off[0] + round_mm / 2) % round_mm - round_mm / 2 if ring else off - off[0]
        assert off == pytest.approx(0.0, abs=0.05), "all its holes lie on their own"
        ends.append((lies[id][0], lies[id][0] + float(np.ptp(piece.outline[:, 0]))))
    for k in laced:
        middle, half = begins[k] + strips[k][0], round_mm / 2
        beyond = [((end - middle + half) % round_mm - half if ring else end - middle) for _, end in ends]
        short = [((middle - first + half) % round_mm - half if ring else middle - first) for first, _ in ends]
        assert min(abs(by - over / 2) for by in beyond) < 0.05
        assert min(abs(by - over / 2) for by in short) < 0.05


def test_a_lacing_by_hand() -> None:
    """Two strips of 200 and 140 laced 30 apart, 24 over each other: 212 and 152; 54 when laced shut."""
    laced = (Meet(a="A3", b="B1", how="laced", gap_mm=30),)
    made = put(strip("A", 200), strip("B", 140), meets=laced, collar=Collar(edge="B2", stand_mm=40, over_mm=24))
    halves = made.draft.pieces[2:]
    assert [words(p.title) for p in halves] == ["collar, first half", "collar, second half"]
    assert [float(np.ptp(p.outline[:, 0])) for p in halves] == pytest.approx([212, 152])
    told = {r.key: words(r.sum) for r in made.draft.tell()}
    assert "54 mm laced shut" in told["collar-over-A3"]
    alone = put(strip("A", 200), strip("B", 140), meets=laced, collar=Collar(edge="B2", stand_mm=40))
    assert np.ptp(alone.draft.piece("collar").outline[:, 0]) == pytest.approx(140), "on the one side of the lacing only"
    offers = next(c for c in alone.draft.callouts if c.path == "piece.collar.over_mm")
    assert plan(change(alone.job, offers.path, offers.usual)).draft.piece("collar-2").count == 1
    sewn = put(strip("A", 200), strip("B", 140), collar=Collar(edge="B2"))
    assert not [c for c in sewn.draft.callouts if c.path == "piece.collar.over_mm"], "nothing to slide: not offered"


def test_parts_that_reach_beyond_each_other_are_held_and_mended() -> None:
    laced = (Meet(a="A3", b="B1", how="laced", gap_mm=10),)
    held = put(strip("A", 200), strip("B", 60), meets=laced, collar=Collar(edge="A2", over_mm=130))
    (wrong,) = (f for f in held.findings if f.code == "collar-over")
    assert not codes(plan(mend(held.job, wrong.mend)), "hold")
