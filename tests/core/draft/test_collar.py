"""The collar on a neck of several panels: where its holes come to lie, its fold, and no edge for it."""

from itertools import pairwise
from typing import Literal

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.draft.test_panelled import codes, put, strip, traced
from tests.jobs import demo, words
from vow_line.core.draft.kinds.panelled import Collar, Meet
from vow_line.core.job import change, mend
from vow_line.core.plan import Plan, plan

Sewn = Literal["over", "butt", "flush", "turned"]


@settings(max_examples=25, deadline=None)
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
