"""Panels that were traced lying another way: turned, and turned over."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.draft.test_panelled import TABLE, strip, traced
from tests.jobs import demo
from tests.many import examples
from vow_line.core.curve import arc_length
from vow_line.core.draft.kinds.panelled import Panelled
from vow_line.core.errors import RefusedChange
from vow_line.core.job import Job, change
from vow_line.core.measure import Correction, Trial
from vow_line.core.measure.panel import Panel, shape_of
from vow_line.core.measure.things.panels import Panels
from vow_line.core.steps import lay


def holed() -> Panel:
    """A part that is like none of its mirror images, with a hole near each of its edges."""
    panel = traced("A", (0, 200), (10, 30), (70, 0), (120, 40), (140, 200))
    shape = shape_of(panel)
    at = [0.3 * e[0] + 0.7 * e[-1] for e in shape.edges.values()]
    middle = shape.ring.mean(axis=0)
    return panel.model_copy(
        update={"holes": tuple((float(x), float(y)) for x, y in (p + 0.06 * (middle - p) for p in at))}
    )


@settings(max_examples=examples(20), deadline=None)
@given(st.lists(st.sampled_from(["quarter", "over", "right", "left"]), min_size=1, max_size=7))
def test_laid_another_way_a_panel_is_the_same_piece_its_edges_and_holes_with_their_names(ways: list[str]) -> None:
    """Whatever is done to it, every edge is as long, turned over or not an even or odd number of times, its holes beside it."""
    was = holed()
    job = Job(name="x", thing=Panels(panels=(was,)), piece=Panelled(), leather=TABLE)
    for way in ways:
        by = {"quarter": np.pi / 2, "right": np.pi / 180, "left": -np.pi / 180}.get(way, 0.0)
        job = lay(job, path="thing.panels.0.high.first", by_rad=by, over=way == "over")
    now = job.thing.panels[0]
    one, other = shape_of(was), shape_of(now)
    assert one.edges.keys() == other.edges.keys()
    flipped = ways.count("over") % 2 == 1
    for k, (id, edge) in enumerate(one.edges.items()):
        assert arc_length(other.edges[id])[-1] == pytest.approx(arc_length(edge)[-1], abs=0.1)
        off, there = (shapely.LineString(s.edges[id]).distance(shapely.Point(s.holes[k])) for s in (one, other))
        assert there == pytest.approx(off, abs=0.1)
        along, now_along = (shapely.LineString(s.edges[id]).project(shapely.Point(s.holes[k])) for s in (one, other))
        long = arc_length(edge)[-1]
        assert now_along == pytest.approx(long - along if flipped else along, abs=0.2), (
            "turned over they run the other way"
        )
    assert shapely.Polygon(other.ring).area == pytest.approx(shapely.Polygon(one.ring).area, rel=1e-3)
    assert other.ring.min(axis=0) == pytest.approx([0.0, 0.0], abs=0.02)
    area = np.dot(other.ring[:, 0], np.roll(other.ring[:, 1], -1)) - np.dot(
        other.ring[:, 1], np.roll(other.ring[:, 0], -1)
    )
    assert area > 0, "it still goes round to the right"


def test_a_quarter_turn_by_hand_and_what_is_no_panel() -> None:
    job = Job(
        name="x", thing=Panels(panels=(strip("A", 100, 300), strip("B", 80, 200))), piece=Panelled(), leather=TABLE
    )
    turned = lay(job, path="thing.panels.1.corners.2.at", by_rad=np.pi / 2).thing
    assert turned.panels[0] == job.thing.panels[0]
    edges = shape_of(turned.panels[1]).edges
    # what was up its left side is along its top, from left to right
    assert {k: (v[0].tolist(), v[-1].tolist()) for k, v in edges.items()} == {
        "B1": ([0, 0], [200, 0]), "B2": ([200, 0], [200, 80]), "B3": ([200, 80], [0, 80]), "B4": ([0, 80], [0, 0]),
    }  # fmt: skip
    tall = turned.panels[1]
    assert (tall.high.by_hand, tall.wide.by_hand) == ((), job.thing.panels[1].high.by_hand), "its height lies across"
    leaning = lay(job, path="thing.panels.1", by_rad=0.5).thing.panels[1]
    assert leaning.high.by_hand == job.thing.panels[1].high.by_hand
    trial = Trial(corrections=(Correction(edge="A1", side="edge", at_mm=50.0, by_mm=4.0),))
    tried = change(job, "trials", (trial,))
    with pytest.raises(RefusedChange):
        lay(tried, path="thing.panels.0", over=True)
    assert lay(change(tried, "trials.0.taken_back", True), path="thing.panels.0", over=True).thing != job.thing
    with pytest.raises(RefusedChange):
        lay(job, path="thing.levels", by_rad=1.0)
    with pytest.raises(RefusedChange):
        lay(demo("laying-knife"), path="thing.panels.0", over=True)
