"""Needle cases: every needle on its leaf, leaves inside the closed cover by walking round them, the proof of a short one."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.jobs import read
from tests.many import examples
from vow_line.core.draft.assembly import Assembly
from vow_line.core.draft.kinds.needle_case import NeedleCase
from vow_line.core.draft.pieces import edged
from vow_line.core.job import Job, mend
from vow_line.core.leather import Hide
from vow_line.core.measure.things.tools import RollTool, Tools
from vow_line.core.plan import Plan, plan
from vow_line.core.proof import prove
from vow_line.core.stitch import StitchChoices

WIDE = Hide(outline=((0, 0), (1600, 0), (1600, 900), (0, 900)), thickness_mm=1.4)
NEEDLES = ((48.0, 1.2, 1.2), (57.0, 1.6, 1.6), (64.0, 2.2, 2.2))


def case(sizes: tuple[tuple[float, float, float], ...] = NEEDLES, thick: float = 1.4, **choices: object) -> Plan:
    thing = Tools(tools=tuple(RollTool(long=read(a), wide=read(b), thick=read(c)) for a, b, c in sizes))
    hide = WIDE.model_copy(update={"thickness_mm": thick})
    awl = StitchChoices(tool="awl", pitch_mm=4.0)
    return plan(Job(name="case", thing=thing, piece=NeedleCase(**choices), leather=hide, stitch=awl))


def test_a_case_by_hand() -> None:
    """By pencil: 4 each of 1.2, 1.6 and 2.2 on two leaves: 4 × 1.2 + 2 × 1.6 = 8 and 2 × 1.6 + 4 × 2.2 = 12; 12 + 7 × 4 + 2 × 3
    is 46. High: 64 + 12. Spine: 2 × 1 + 2.2 + π × 0.7 = 6.40; over it 7.80. Cover: 2 × 51 + 6.40 + 7.80 + 34 = 150.20 by 82.
    """
    made = case()
    leaf, cover = made.draft.piece("leaf"), made.draft.piece("cover")
    assert np.ptp(leaf.outline, axis=0) == pytest.approx([46, 76])
    assert leaf.count == 2
    assert np.ptp(cover.outline, axis=0) == pytest.approx([150.20, 82], abs=0.01)
    assert not made.findings


@settings(max_examples=examples(15), deadline=None)
@given(
    sizes=st.lists(st.tuples(st.floats(25, 160), st.floats(0.6, 8), st.floats(0.6, 8)), min_size=1, max_size=4),
    each=st.integers(1, 6), leaves=st.integers(1, 4), leaf=st.floats(0.6, 2.0), thick=st.floats(0.8, 2.2),
)  # fmt: skip
def test_closed_round_its_leaves_the_front_ends_at_the_flap_and_every_needle_lies_on_a_leaf(
    sizes: list[tuple[float, float, float]], each: int, leaves: int, leaf: float, thick: float
) -> None:
    rounded = tuple((round(a, 1), round(b, 1), round(c, 1)) for a, b, c in sizes)
    made = case(rounded, round(thick, 2), each=each, leaves=leaves, leaf_mm=round(leaf, 2), flap_mm=30)
    cover, sheet, seam = made.draft.piece("cover"), made.draft.piece("leaf"), made.stitching.seam("leaves")
    spine, flap = (float(f[0, 0]) for f in cover.folds)
    within = leaves * sheet.thickness_mm + max(c for _, _, c in rounded)
    # walked along the neutral layer from the front's edge round the leaves to where the flap begins to turn: two faces as wide
    # as each other, joined by a half turn that lies half the leather outside of what it goes round
    turn, over = (h + np.pi * round(thick, 2) / 2 for h in (within, within + round(thick, 2)))
    front, back = spine - turn / 2, flap - spine - turn / 2 - over / 2
    assert front == pytest.approx(back, abs=0.01)
    hole, post = (next(k.centre[0] for k in cover.punches if k.id == f"stud-{of}") for of in ("hole", "post"))
    assert hole - flap - over / 2 == pytest.approx(post, abs=0.01), "as far from the front's edge, closed"
    held = float(seam.on(1)[:, 0].mean())
    free = float(sheet.outline[:, 0].min())
    share = -(-len(rounded) * each // leaves)
    widest = max(sum(sorted((b for _, b, _ in rounded for _ in range(each)))[:share]), min(b for _, b, _ in rounded))
    assert abs(held - free) >= widest
    assert front >= float(np.ptp(sheet.outline[:, 0]))
    assert float(np.ptp(sheet.outline[:, 1])) >= max(a for a, _, _ in rounded) + 8
    assert not [f for f in made.findings if f.level == "hold"]


def test_the_leaves_are_sewn_hole_by_hole_to_the_inside_of_the_back() -> None:
    made = case(leaves=3)
    seam = made.stitching.seam("leaves")
    assert seam.stack_mm == pytest.approx(1.4 + 3 * 1.0)
    cover, leaf = made.draft.piece("cover"), made.draft.piece("leaf")
    on, own = seam.on(0), seam.on(1)
    assert np.hypot(*np.diff(on, axis=0).T) == pytest.approx(np.hypot(*np.diff(own, axis=0).T))
    assert np.ptp(on[:, 0]) == pytest.approx(0)
    spine, flap = (float(f[0, 0]) for f in cover.folds)
    assert spine < on[0, 0] < flap
    assert on[0, 0] - spine < (flap - spine) / 3, "beside the spine, so that they turn"
    assert leaf.edge("held").line[:, 0].max() - own[0, 0] == pytest.approx(3.0)
    assert made.made is not None


@pytest.mark.parametrize(
    ("choices", "code"),
    [({"flap_mm": 10}, "flap-short"), ({"flap_mm": 120}, "flap-long"), ({"leaves": 1, "each": 20}, "leaf-wide"),
     ({"each": 1, "leaves": 4, "margin_mm": 10}, "margin-too-wide")],
)  # fmt: skip
def test_what_is_wrong_with_a_case_mends_in_one_press(choices: dict[str, object], code: str) -> None:
    made = case(**choices)
    found = next(f for f in made.findings if f.code == code)
    after = plan(mend(made.job, found.mend))
    if code == "leaf-wide":
        assert np.ptp(after.draft.piece("leaf").outline[:, 0]) < np.ptp(made.draft.piece("leaf").outline[:, 0])
    else:
        assert code not in {f.code for f in after.findings}


def test_the_proof_finds_a_leaf_that_is_too_short_and_a_cover_that_does_not_close() -> None:
    made = case()
    assembly, body = made.draft.assembly, made.measured.body

    def held(changed: Assembly) -> set[str]:
        return {f.code for f in prove(changed, (), body).findings if f.level == "hold"}

    assert held(assembly) == set()
    leaf, cover = assembly.piece("leaf"), assembly.piece("cover")

    def cut(by: tuple[float, float]) -> Assembly:
        outline, edges = edged(*(replace(e, line=e.line * np.array(by)) for e in leaf.edges))
        return assembly.with_more([replace(leaf, outline=outline, edges=edges)])

    assert "leaf-no-room" in held(cut((1.0, 0.8)))
    assert "leaf-no-room" in held(cut((1.0, 1.2))), "higher than its cover"
    near = tuple(f + np.array([d, 0.0]) for f, d in zip(cover.folds, (0.0, -8.0), strict=True))
    assert "leaf-no-room" in held(assembly.with_more([replace(cover, folds=near)])), "the flap folds over the leaves"
    spine = tuple(f + np.array([d, 0.0]) for f, d in zip(cover.folds, (-6.0, 0.0), strict=True))
    assert "case-open" in held(assembly.with_more([replace(cover, folds=spine)]))
