"""Tool rolls: pockets by the hull of the tool, by hand and by a string laid round it; the proof against raw seams."""

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.jobs import read
from tests.many import examples
from vow_line.core.curve import frozen
from vow_line.core.draft.kinds.tool_roll import ToolRoll
from vow_line.core.job import Job, mend
from vow_line.core.leather import Hide
from vow_line.core.measure.things.tools import RollTool, Tools
from vow_line.core.plan import Plan, plan
from vow_line.core.proof import prove
from vow_line.core.stitch import StitchChoices

WIDE = Hide(outline=((0, 0), (1600, 0), (1600, 900), (0, 900)), thickness_mm=1.8)
FILES = ((190.0, 22.0, 12.0), (215.0, 26.0, 14.0), (165.0, 16.0, 8.0))


def roll(sizes: tuple[tuple[float, float, float], ...] = FILES, thick: float = 1.8, **choices: object) -> Plan:
    thing = Tools(tools=tuple(RollTool(long=read(a), wide=read(b), thick=read(c)) for a, b, c in sizes))
    hide = WIDE.model_copy(update={"thickness_mm": thick})
    awl = StitchChoices(tool="awl", pitch_mm=4.0)
    return plan(Job(name="roll", thing=thing, piece=ToolRoll(**choices), leather=hide, stitch=awl))


def test_a_pocket_by_hand() -> None:
    """By pencil: 22 by 12 in leather of 1.8: half of 68 + 2π × 0.9 is 36.83; with 3 of ease 39.83."""
    made = roll()
    assert made.job.piece.pockets_mm(made.measured.body, 1.8)[0] == pytest.approx(39.83, abs=0.01)


@settings(max_examples=examples(15), deadline=None)
@given(
    sizes=st.lists(st.tuples(st.floats(130, 240), st.floats(6, 50), st.floats(3, 30)), min_size=1, max_size=7),
    thick=st.floats(1.0, 3.0), ease=st.floats(0, 8),
)  # fmt: skip
def test_every_tool_goes_into_its_pocket_with_its_ease(
    sizes: list[tuple[float, float, float]], thick: float, ease: float
) -> None:
    rounded = tuple((round(a, 1), round(b, 1), round(c, 1)) for a, b, c in sizes)
    made = roll(rounded, round(thick, 2), ease_mm=round(ease, 1))
    lines = sorted(float(s.on(0)[:, 0].mean()) for s in made.stitching.seams if s.id != "around")
    outer = made.stitching.seam("around").on(0)[:, 0]
    edges = [float(outer.min()), *lines, float(outer.max())]
    for (_, wide, high), left, right in zip(rounded, edges[:-1], edges[1:], strict=True):
        string = shapely.Point(0, 0).buffer(
            thick / 2, 256
        )  # a string along the neutral layer, drawn taut round the box
        corners = [shapely.affinity.translate(string, x, y) for x in (0, wide) for y in (0, high)]
        around = float(shapely.union_all(corners).convex_hull.length)
        assert right - left == pytest.approx(around / 2 + round(ease, 1), abs=0.03)


def test_the_front_lies_on_the_back_hole_by_hole_and_seams_between_end_above_the_one_below() -> None:
    made = roll()
    for seam in made.stitching.seams:
        assert seam.on(0) == pytest.approx(seam.on(1))
    around = made.stitching.seam("around").on(0)
    for seam in (s for s in made.stitching.seams if s.id != "around"):
        assert np.hypot(*(seam.on(0)[:, None] - around[None]).transpose(2, 0, 1)).min() > 3
    back = made.draft.piece("back")
    assert back.side_up == "flesh", "which side is up is said"
    assert [f for f in made.findings if f.level == "hold"] == []


def test_the_proof_finds_a_pocket_too_narrow() -> None:
    made = roll(ease_mm=0.0)
    assembly = made.draft.assembly
    join = assembly.join("line-1")
    for by, held in ((-0.5, True), (0.0, False)):
        assert join.sewing is not None
        moved = replace(join, sewing=replace(join.sewing, line=frozen(join.sewing.line + [by, 0.0])))
        changed = replace(assembly, joins=tuple(moved if j.id == "line-1" else j for j in assembly.joins))
        codes = {f.code for f in prove(changed, (), made.measured.body).findings}
        assert ("pocket-narrow" in codes) is held


@pytest.mark.parametrize(
    ("choices", "code"),
    [({"deep_mm": 170}, "tool-hidden"), ({"deep_mm": 40}, "tool-falls-out"), ({"flap_mm": 0}, "no-flap")],
)
def test_what_is_wrong_with_a_roll_mends_in_one_press(choices: dict[str, float], code: str) -> None:
    made = roll(**choices)
    found = next(f for f in made.findings if f.code == code)
    assert code not in {f.code for f in plan(mend(made.job, found.mend)).findings}
