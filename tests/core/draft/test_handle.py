"""The rolled handle: closed round its cord by a maker who walks round it, its edges hole on hole, what is wrong mended."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.jobs import demo, read, words
from tests.many import examples
from vow_line.core.draft.kinds.handle import Handle
from vow_line.core.job import Job, mend
from vow_line.core.leather import Hide
from vow_line.core.measure.things.fitting import Fitting
from vow_line.core.plan import Plan, plan
from vow_line.core.stitch import StitchChoices

BUTT = ((0, 0), (1600, 0), (1600, 400), (0, 400))


def handle(thick: float = 2.0, **choices: object) -> Plan:
    awl = StitchChoices(tool="awl", pitch_mm=4.0)
    hide = Hide(thickness_mm=thick, outline=BUTT)
    thing = Fitting(opening=read(26), bar=read(4))
    return plan(Job(name="handle", thing=thing, piece=Handle(**choices), leather=hide, stitch=awl))


@given(cord=st.floats(6, 24), thick=st.floats(1.2, 3.0), margin=st.floats(2.5, 6), rolled=st.floats(60, 180))
@settings(max_examples=examples(15), deadline=None)
def test_from_thread_to_thread_the_roll_is_once_round_its_cord(
    cord: float, thick: float, margin: float, rolled: float
) -> None:
    """Walked round the cord by small steps of the leather's middle."""
    made = handle(thick, cord_mm=cord, margin_mm=margin, rolled_mm=rolled, long_mm=420)
    seam = made.stitching.seam("roll")
    turn = np.linspace(0, 2 * np.pi, 20001)
    way = (cord / 2 + thick / 2) * np.column_stack([np.cos(turn), np.sin(turn)])
    round_mm = float(np.hypot(*np.diff(way, axis=0).T).sum())
    one, other = seam.on(0), seam.on(1)
    assert one[:, 0] == pytest.approx(other[:, 0])
    assert np.abs(other[:, 1] - one[:, 1]) == pytest.approx(round_mm, abs=1e-3)
    assert np.ptp(one[:, 0]) <= rolled
    strap = made.draft.piece("strap")
    edges = [shapely.LineString(strap.edge(f"{side}-roll").line) for side in ("right", "left")]
    assert [e.length for e in edges] == pytest.approx([rolled, rolled])
    for edge, points in zip(edges, (one, other), strict=True):
        assert shapely.distance(edge, shapely.points(points)) == pytest.approx(margin, abs=1e-6)
    assert seam.stack_mm == pytest.approx(2 * thick), "the cord does not lie under its seam"
    assert not [f for f in made.findings if f.level == "hold"]


def test_the_strap_is_as_wide_at_its_rings_as_was_asked_and_widens_without_a_corner() -> None:
    made = handle(width_mm=24, cord_mm=14, taper_mm=40)
    outline = made.draft.piece("strap").outline
    area = shapely.Polygon(outline)
    for at, wide in ((-30.0, 24.0), (10.0, 24.0), (160.0, 2 * made.job.piece.half_mm(2.0))):
        row = shapely.LineString([(at, -100), (at, 100)]).intersection(area)
        assert row.length == pytest.approx(wide, abs=0.01)
    run = made.draft.piece("strap").edge("right-before").line
    way = np.arctan2(*np.diff(run, axis=0).T[::-1])
    assert np.abs(np.diff(way)).max() < np.radians(16)


@pytest.mark.parametrize(
    ("choices", "code"),
    [({"rolled_mm": 300}, "roll-long"), ({"rolled_mm": 300, "long_mm": 150}, "roll-long"), ({"rolled_mm": 60}, "grip-short"),
     ({"cord_mm": 3}, "roll-narrow")],
)  # fmt: skip
def test_what_is_wrong_with_a_handle_mends_in_one_press(choices: dict[str, float], code: str) -> None:
    made = handle(**choices)
    found = next(f for f in made.findings if f.code == code)
    for way in found.mends:
        after = plan(mend(made.job, way))
        assert code not in {f.code for f in after.findings}, words(way.label)


def test_its_cord_goes_in_before_it_is_closed_and_its_ends_are_turned_after() -> None:
    planned = plan(demo("basket-handle"))
    steps = [s.id for s in planned.work.steps]
    order = [steps.index(id) for id in ("cut/cord", "fix/cord", "sew/roll", "turn/strap/first-end", "sew/last-end")]
    assert order == sorted(order)
    assert "edge/roll" in steps
    assert {h.id: h.count for h in planned.hardware} == {"ring": 2}
