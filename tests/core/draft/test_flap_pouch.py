"""Pouches with gussets: folded up in space round their box, the flap's stud on its hole; the proof against raw pieces."""

from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.jobs import read
from tests.many import examples
from vow_line.core.curve import arc_length, frozen
from vow_line.core.draft.kinds.flap_pouch import FlapPouch
from vow_line.core.draft.loop import BeltLoop
from vow_line.core.job import Job, mend
from vow_line.core.leather import Hide
from vow_line.core.measure.things.box import Box
from vow_line.core.plan import Plan, plan
from vow_line.core.proof import prove
from vow_line.core.stitch import StitchChoices

WIDE = Hide(outline=((0, 0), (1600, 0), (1600, 900), (0, 900)), thickness_mm=2.0)


def pouch(wide: float = 112.0, high: float = 84.0, deep: float = 34.0, thick: float = 2.0, **choices: object) -> Plan:
    thing = Box(wide=read(wide), high=read(high), deep=read(deep))
    hide = WIDE.model_copy(update={"thickness_mm": thick})
    awl = StitchChoices(tool="awl", pitch_mm=4.0)
    return plan(Job(name="pouch", thing=thing, piece=FlapPouch(**choices), leather=hide, stitch=awl))


@settings(max_examples=examples(15), deadline=None)
@given(
    wide=st.floats(60, 200),
    high=st.floats(60, 160),
    deep=st.floats(20, 70),
    thick=st.floats(1.0, 3.0),
    ease=st.floats(0, 5),
)
def test_body_and_gussets_meet_hole_by_hole_round_the_box(
    wide: float, high: float, deep: float, thick: float, ease: float
) -> None:
    made = pouch(round(wide, 1), round(high, 1), round(deep, 1), round(thick, 2), ease_mm=round(ease, 1), flap_mm=40)
    for side in ("left", "right"):
        seam = made.stitching.seam(f"seam-{side}")
        on, own = seam.on(0), seam.on(1)
        assert len(on) == len(own)
        # laid round the outside of the gusset's seam, its neutral layer half its thickness out, the body is as long as that
        line = next(p.along for p in seam.line.placed if p.along is not None)
        out = max(
            (shapely.LineString(line).offset_curve(s * thick / 2) for s in (1, -1)), key=lambda k: float(k.length)
        )
        assert float(arc_length(seam.line.line)[-1]) == pytest.approx(out.length, abs=0.2)
        assert np.ptp(line[:, 0]) == pytest.approx(made.measured.body.deep_mm + round(ease, 1), abs=1e-6)
    left, right = (made.stitching.seam(f"seam-{s}").on(0)[:, 0].mean() for s in ("left", "right"))
    assert right - left == pytest.approx(made.measured.body.wide_mm + round(ease, 1), abs=1e-6)


@pytest.mark.parametrize("end", ["square", "round"])
def test_folded_over_the_top_the_flaps_hole_lies_on_the_studs_post(end: str) -> None:
    made = pouch(end=end)
    body = made.draft.piece("body")
    at = {p.id: p.centre for p in body.punches}
    long = float(np.ptp(body.outline[:, 1]))
    # from the mouth in front: up to the box's top, over it, a turn at either corner, down the front by as much again
    over = 2 * 6.0 + (34.0 + 2.0) + 2 * (np.pi / 2 * 0.5 * 2.0)
    sewn = long - over - 45.0
    down_front = 45.0 - at["stud-hole"][1]
    assert long - at["stud-post"][1] == pytest.approx(down_front, abs=0.01)
    assert sewn == pytest.approx(float(np.ptp(made.stitching.seam("seam-left").line.line[:, 1])), abs=0.01)


def test_a_pouch_by_hand() -> None:
    """By pencil: 84 high less 6, 34 deep and 2 of ease, corners of 10: 2 × 68 + 16 + 10π = 183.42; and π × 1 for its own turns:
    186.56. Wide 112 + 2 + 8.
    """
    made = pouch()
    assert float(np.ptp(made.stitching.seam("seam-left").line.line[:, 1])) == pytest.approx(186.56, abs=0.02)
    assert float(np.ptp(made.draft.piece("body").outline[:, 0])) == pytest.approx(122.0)


def test_the_loop_and_the_stud_come_before_the_seams_that_close_it() -> None:
    steps = [s.id for s in pouch().work.steps]
    assert max(steps.index("sew/belt-loop"), steps.index("set/stud")) < steps.index("sew/seam-left")
    assert not [f for f in pouch(loop=BeltLoop(width_mm=40)).findings if f.level == "hold"]
    assert not [f for f in pouch(closed="tongue").findings if f.level == "hold"]


def test_the_proof_finds_a_gusset_too_shallow_and_a_body_too_short() -> None:
    made = pouch()
    assembly, body = made.draft.assembly, made.measured.body

    def held(changed: object) -> set[str]:
        return {f.code for f in prove(changed, (), body).findings if f.level == "hold"}  # type: ignore[arg-type]

    assert held(assembly) == set()
    join = assembly.join("seam-left")
    assert join.sewing is not None
    other = join.layers[1]
    narrow = replace(join, layers=(join.layers[0], replace(other, along=frozen(other.along * [0.9, 1.0]))))
    assert "no-room" in held(replace(assembly, joins=tuple(narrow if j is join else j for j in assembly.joins)))
    short = replace(join, sewing=replace(join.sewing, line=frozen(join.sewing.line[[0, -1]] - [[0, 0], [0, -8]])))
    assert "edges-differ" in held(replace(assembly, joins=tuple(short if j is join else j for j in assembly.joins)))


@pytest.mark.parametrize(
    ("choices", "code"),
    [({"flap_mm": 15}, "flap-short"), ({"flap_mm": 90}, "flap-long"), ({"below_mm": 60}, "mouth-low"),
     ({"margin_mm": 16}, "margin-too-wide"), ({"closed": "tongue", "tongue_mm": 100}, "tongue-wide")],
)  # fmt: skip
def test_what_is_wrong_with_a_pouch_mends_in_one_press(choices: dict[str, object], code: str) -> None:
    made = pouch(**choices)
    found = next(f for f in made.findings if f.code == code)
    assert code not in {f.code for f in plan(mend(made.job, found.mend)).findings}
