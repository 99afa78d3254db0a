"""Outlines of whole things, however they lie on the paper, against the readings they were drawn from."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.many import examples
from vow_line.core.curve import Line
from vow_line.core.errors import RefusedChange
from vow_line.core.job import change, mend
from vow_line.core.measure import Reading
from vow_line.core.measure.things.knife import Knife
from vow_line.core.measure.things.panels import Panels
from vow_line.core.measure.things.tool import Tool
from vow_line.core.measure.traced import DREW_MM, Drawn, laid_along, within_line
from vow_line.core.ring import place_on, stretch
from vow_line.core.steps import take_outline, take_outlines
from vow_line.resources.demo.hard_goods import billhook_cover, laying_knife, secateurs_holster


def whole(marks: object, names: tuple[str, ...]) -> Line:
    """The outline of all the parts together, as a scriber would run round them."""
    rings = [shapely.Polygon(m.line).buffer(0.05) for m in marks if m.id in names]  # type: ignore[attr-defined]
    return shapely.get_coordinates(shapely.union_all(rings).buffer(-0.05).exterior)[:-1]


def turned(ring: Line, degrees: float, upside_down: bool) -> Line:
    a = np.radians(degrees)
    flip = np.array([1.0, -1.0 if upside_down else 1.0])
    return (ring * flip) @ np.array([[np.cos(a), np.sin(a)], [-np.sin(a), np.cos(a)]]) + [80.0, 200.0]


@given(degrees=st.floats(-180, 180), upside_down=st.booleans(), read=st.booleans())
@settings(max_examples=examples(15), deadline=None)
def test_a_knife_is_read_off_its_outline_however_it_lies(degrees: float, upside_down: bool, read: bool) -> None:
    job = laying_knife()
    ring = turned(whole(job.thing.measure().marks, ("blade", "point", "handle")), degrees, upside_down)
    if not read:
        job = change(job, "thing.length", Reading())
    thing = take_outline(job, drawn=Drawn(ring)).thing
    before = laying_knife().thing
    assert thing.length.mean_mm == pytest.approx(before.length.mean_mm, abs=2.5)
    assert thing.length.mean_mm + thing.handle_length.mean_mm == pytest.approx(154.2 + 118.15, abs=0.6)
    for part in ("stations", "handle"):
        for now, then in zip(getattr(thing, part), getattr(before, part), strict=True):
            assert now.width.outline == pytest.approx(then.width.mean_mm, abs=0.9 if now.at_mm < 140 else 2.5)
            assert (now.width.first, now.width.second, now.drop) == (then.width.first, then.width.second, then.drop)
            assert now.thick == then.thick


@given(degrees=st.floats(-180, 180))
@settings(max_examples=examples(6), deadline=None)
def test_a_knife_never_read_is_what_its_outline_says(degrees: float) -> None:
    before = laying_knife().thing
    ring = turned(whole(before.measure().marks, ("blade", "point", "handle")), degrees, False)
    thing = take_outline(change(laying_knife(), "thing", Knife.blank()), drawn=Drawn(ring)).thing
    body, truth = before.measure().body, None
    for station in thing.stations[1:]:
        truth = np.interp(station.at_mm + 154.2 - thing.length.mean_mm, body.x_mm, body.edge_mm - body.top_mm)
        assert station.width.mean_mm == pytest.approx(truth, abs=1.0)
    assert not {f.code for f in thing.measure().findings} & {"outline-off-scale"}


@given(st.integers(0, 400), st.floats(-40, 40), st.floats(-40, 40))
def test_a_dragged_point_is_no_spike(number: int, dx: float, dy: float) -> None:
    """Along a finely traced outline no step grows steeper than it was by more than a cosine over three times the way."""
    turn = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    ring = np.column_stack([90 * np.cos(turn), 50 * np.sin(turn)])
    tool = billhook_cover().thing.model_copy(update={"outline": tuple(map(tuple, ring.tolist()))})
    k = number % 400
    _, after = tool.dragged(f"thing.outline.{k}", (ring[k, 0] + dx, ring[k, 1] + dy))
    moved = np.array(after) - ring
    assert moved[k] == pytest.approx([dx, dy], abs=2e-3)
    steps = np.hypot(*np.diff(np.vstack([moved, moved[:1]]), axis=0).T)
    along = np.hypot(*np.diff(np.vstack([ring, ring[:1]]), axis=0).T)
    assert (steps / along).max() < np.pi / 6 + 0.05
    far = np.hypot(*(ring - ring[k]).T) > max(20.0, 3 * np.hypot(dx, dy))
    assert np.abs(moved[far]).max(initial=0) < 1e-3


@given(st.floats(-180, 180), st.floats(0, 12), st.floats(3, 9))
@settings(max_examples=examples(12), deadline=None)
def test_a_guard_is_told_from_blade_and_handle(degrees: float, proud: float, long: float) -> None:
    """A slab that stands out on both sides is a guard, and no flare of the blade; none is found where there is none."""
    parts = [shapely.box(0, -14, 110, 14), shapely.Polygon([(110, -13), (240, -13), (255, 3), (240, 13), (110, 13)]),
             shapely.box(110 - long, -14 - proud, 110, 14 + proud)]  # fmt: skip
    ring = shapely.get_coordinates(shapely.union_all(parts).exterior)[:-1]
    traced = Knife.blank().traced(Drawn(turned(ring, degrees, False)))
    guard = dict(traced).get("guard")
    if proud < 1.8:
        assert guard is None
    elif proud > 2.6:
        assert guard.length_mm == pytest.approx(long, abs=1.0)
        assert guard.width.outline == pytest.approx(28 + 2 * proud, abs=0.5)
        assert guard.width.first is None, "it is still to be read"


def test_a_tool_lies_with_its_long_way_along_x() -> None:
    ring = turned(np.array([[0.0, 0.0], [200.0, 0.0], [200.0, 44.0], [0.0, 60.0]]), 62, False)
    outline = np.array(take_outline(billhook_cover(), drawn=Drawn(ring)).thing.outline)
    assert np.ptp(outline[:, 0]) > 199 > 62 > np.ptp(outline[:, 1])


@given(st.floats(120, 300), st.floats(60, 110), st.floats(18, 55), st.floats(80, 400), st.booleans())
@settings(max_examples=examples(12), deadline=None)
def test_the_edge_of_a_traced_tool_is_not_taken_to_run_along_its_handle(
    long: float, wide: float, narrow: float, handle: float, turned_over: bool
) -> None:
    """A blade with a rounded end on a handle: the edge holds none of that, or all where that is hardly narrower."""
    blade = shapely.box(0, -wide / 2, long - wide / 2, wide / 2).union(
        shapely.Point(long - wide / 2, 0).buffer(wide / 2)
    )
    whole = blade.union(shapely.box(-handle, -narrow / 2, 1, narrow / 2))
    ring = shapely.get_coordinates(shapely.segmentize(whole.exterior, 3))[:-1] * ([-1, 1] if turned_over else [1, 1])
    got = dict(Tool.blank().traced(Drawn(ring)))
    outline = np.array(got["outline"])
    run = stretch(outline, place_on(outline, got["edge_from"]), place_on(outline, got["edge_to"]))
    on_handle = (run[:, 0] > long + 4) if turned_over else (run[:, 0] < handle - 4)
    if wide / narrow > 1.7:
        assert not on_handle.any()
        assert np.ptp(run[:, 0]) == pytest.approx(long, abs=6), "all of the blade's lower side"
    elif wide / narrow < 1.5:
        assert np.ptp(run[:, 0]) == pytest.approx(long + handle, abs=2)


@pytest.mark.parametrize("by", [0.94, 1.06])
def test_an_outline_at_another_scale_than_what_was_read_is_held(by: float) -> None:
    """As a sheet of Letter said to be A4 makes it: of a knife, of a moulded thing and of a tool."""
    knife, holster, cover = laying_knife(), secateurs_holster(), billhook_cover()
    rings = [
        whole(knife.thing.measure().marks, ("blade", "point", "handle")),
        whole(holster.thing.measure().marks, ("outline", "end")),
        np.array(cover.thing.outline),
    ]
    assert cover.thing.across.taken
    for job, ring in zip((knife, holster, cover), rings, strict=True):
        traced = take_outline(job, drawn=Drawn(ring * by))
        held = [f for f in traced.thing.measure().findings if f.code == "outline-off-scale"]
        assert [f.level for f in held] == ["hold"]
        assert ("above the sheet" if by > 1 else "larger than was said") in held[0].says.write(job.units)
        for press in (held[0].mend, *held[0].others):
            after = mend(traced, press).thing.measure().findings
            assert "outline-off-scale" not in {f.code for f in after}, "one press ends it"


def test_an_outline_of_another_size_than_the_length_read_is_refused() -> None:
    job = laying_knife()
    ring = whole(job.thing.measure().marks, ("blade", "point", "handle")) * 0.5
    with pytest.raises(RefusedChange, match="leaves no handle"):
        take_outline(job, drawn=Drawn(ring))


@pytest.mark.parametrize("drew", ["pencil", "marker", "scribe"])
def test_what_drew_the_line_is_taken_off(drew: str) -> None:
    job = secateurs_holster()
    own = np.array([[0.0, 0.0], [180.0, 0.0], [180.0, 38.0], [0.0, 38.0]])
    outer = shapely.get_coordinates(shapely.Polygon(own).buffer(2 * DREW_MM[drew], join_style="mitre").exterior)[:-1]  # type: ignore[index]
    thing = take_outline(job, drawn=Drawn(within_line(turned(outer, 12, False), drew), drew)).thing  # type: ignore[arg-type]
    assert thing.length.outline == pytest.approx(180, abs=0.05)
    assert thing.stations[3].width.outline == pytest.approx(38, abs=0.05)


def test_laid_along_keeps_lengths() -> None:
    ring = turned(np.array([[0.0, 0.0], [50.0, 0.0], [50.0, 20.0], [0.0, 20.0]]), 33, True)
    assert np.ptp(laid_along(ring, "nothing"), axis=0) == pytest.approx([50, 20], abs=1e-6)


def test_dots_beside_panels_are_their_letters() -> None:
    """One is A, three C, whichever was traced first; what has none, or a letter that is taken, gets the next."""
    rings = [np.array([[0, 0], [40.0 + 10 * k, 0], [40 + 10 * k, 60], [0, 60]]) for k in range(4)]
    empty = change(laying_knife(), "thing", Panels.blank())
    marked = [Drawn(rings[0], marks=3), Drawn(rings[1]), Drawn(rings[2], marks=1), Drawn(rings[3], marks=3)]
    panels = take_outlines(empty, drawn=marked).thing.panels
    wide = {p.letter: max(x for x, _ in p.ring) for p in panels}
    assert wide["A"] == pytest.approx(60)
    assert wide["C"] == pytest.approx(40)
    assert set(wide) == {"A", "C", "D", "E"}
