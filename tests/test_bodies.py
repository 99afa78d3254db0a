"""What the generators of things make: claims too, looked at by other means than the things' own."""

import numpy as np
import pytest
import shapely
from shapely.geometry import LineString, Point, Polygon

from tests.bodies import PLAUSIBLE, edged, tool
from vow_line.core.measure import THINGS
from vow_line.core.measure.things.tool import Tool


@pytest.mark.parametrize("seed", range(40))
def test_a_tool_is_sharp_along_its_lower_side(seed: int) -> None:
    """y runs down: below the edge there is nothing, above it the tool, thin at the edge and thicker farther up."""
    for beak in (False, True):
        rng = np.random.default_rng(seed)
        ring, edge = edged(rng, beak)
        whole = Polygon(ring)
        assert whole.is_valid
        inner = edge[3:-3]
        assert all(not whole.contains(Point(x, y + 1)) and whole.contains(Point(x, y - 2)) for x, y in inner)
        made = tool(np.random.default_rng(seed), beak)
        thick = [d.thick.first or 0.0 for d in made.depths]
        assert thick == sorted(thick)


@pytest.mark.parametrize("beak", [False, True])
@pytest.mark.parametrize("ends", [False, True])
def test_the_edge_is_where_it_is_sharp_whichever_end_is_told_first(beak: bool, ends: bool) -> None:
    for seed in range(150):
        made = tool(np.random.default_rng(seed), beak, ends)
        _, edge = edged(np.random.default_rng(seed), beak)
        measured = made.measure()
        assert not [f for f in measured.findings if f.code == "edge-side"], "it is plain to see"
        assert LineString(measured.body.edge).hausdorff_distance(LineString(edge)) < 1.0


def test_an_edge_that_cannot_be_seen_is_asked_about_and_told() -> None:
    """A long lens, alike on both sides: one press says which side is sharp, and stays so when the ends change places."""
    s = np.linspace(0, np.pi, 40)
    upper = np.column_stack([100 - 100 * np.cos(s), -20 * np.sin(s)])
    ring = np.concatenate([upper, (upper * [1, -1])[::-1][1:-1]])
    asked = tool(np.random.default_rng(1)).model_copy(
        update={"outline": tuple(map(tuple, ring.round(3))), "edge_from": (0.0, 0.0), "edge_to": (200.0, 0.0)}
    )
    [hold] = [f for f in asked.measure().findings if f.code == "edge-side"]
    for mend in (hold.mend, *hold.others):
        [(path, by)] = mend.changes
        side = "lower" if "lower" in mend.label.template else "upper"
        for ends in ((0.0, 0.0), (200.0, 0.0)), ((200.0, 0.0), (0.0, 0.0)):
            told = asked.model_copy(update={"edge_by": by, "edge_from": ends[0], "edge_to": ends[1]})
            measured = told.measure()
            assert path == "thing.edge_by"
            assert not [f for f in measured.findings if f.code == "edge-side"]
            assert bool(measured.body.edge[:, 1].mean() > 0) is (side == "lower"), "y runs down"
            assert shapely.distance(LineString(measured.body.edge), Point(100, 20 if side == "lower" else -20)) < 0.5


def test_every_thing_has_a_generator_whose_things_give_a_body() -> None:
    assert set(PLAUSIBLE) == set(THINGS)
    for sort, make in PLAUSIBLE.items():
        bodies = [make(np.random.default_rng(seed)).measure().body for seed in range(6)]
        assert all(isinstance(b, sort.gives) for b in bodies), sort
    assert len({repr(make(np.random.default_rng(s))) for make in (PLAUSIBLE[Tool],) for s in range(6)}) == 6
