"""Outlines of whole things, however they lie on the paper, against the readings they were drawn from."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from vow_line.core.curve import Line
from vow_line.core.errors import RefusedChange
from vow_line.core.job import change, take_outline
from vow_line.core.measure import Reading
from vow_line.core.measure.traced import DREW_MM, laid_along, within_line
from vow_line.resources.demo import laying_knife, secateurs_holster


def whole(marks: object, names: tuple[str, ...]) -> Line:
    """The outline of all the parts together, as a scriber would run round them."""
    rings = [shapely.Polygon(m.line).buffer(0.05) for m in marks if m.id in names]  # type: ignore[attr-defined]
    return shapely.get_coordinates(shapely.union_all(rings).buffer(-0.05).exterior)[:-1]


def turned(ring: Line, degrees: float, upside_down: bool) -> Line:
    a = np.radians(degrees)
    flip = np.array([1.0, -1.0 if upside_down else 1.0])
    return (ring * flip) @ np.array([[np.cos(a), np.sin(a)], [-np.sin(a), np.cos(a)]]) + [80.0, 200.0]


@given(degrees=st.floats(-180, 180), upside_down=st.booleans(), read=st.booleans())
@settings(max_examples=15, deadline=None)
def test_a_knife_is_read_off_its_outline_however_it_lies(degrees: float, upside_down: bool, read: bool) -> None:
    job = laying_knife()
    ring = turned(whole(job.thing.measure().marks, ("blade", "handle")), degrees, upside_down)
    if not read:
        job = change(job, "thing.length", Reading())
    thing = take_outline(job, ring=ring).thing
    before = laying_knife().thing
    assert thing.length.mean_mm == pytest.approx(before.length.mean_mm, abs=2.5)
    assert thing.length.mean_mm + thing.handle_length.mean_mm == pytest.approx(154.2 + 118.15, abs=0.6)
    for part in ("stations", "handle"):
        for now, then in zip(getattr(thing, part), getattr(before, part), strict=True):
            assert now.width.first == pytest.approx(then.width.mean_mm, abs=0.9 if now.at_mm < 140 else 2.5)
            assert now.thick == then.thick
            assert now.width.using == "the outline"
    if read:
        assert thing.tip_drop == pytest.approx(before.tip_drop, abs=1.2)


def test_an_outline_of_another_size_than_the_length_read_is_refused() -> None:
    job = laying_knife()
    ring = whole(job.thing.measure().marks, ("blade", "handle")) * 0.5
    with pytest.raises(RefusedChange, match="leaves no handle"):
        take_outline(job, ring=ring)


@pytest.mark.parametrize("drew", ["pencil", "marker", "scribe"])
def test_what_drew_the_line_is_taken_off(drew: str) -> None:
    job = secateurs_holster()
    own = np.array([[0.0, 0.0], [180.0, 0.0], [180.0, 38.0], [0.0, 38.0]])
    outer = shapely.get_coordinates(shapely.Polygon(own).buffer(2 * DREW_MM[drew], join_style="mitre").exterior)[:-1]  # type: ignore[index]
    thing = take_outline(job, ring=within_line(turned(outer, 12, False), drew), drawn_with=drew).thing  # type: ignore[arg-type]
    assert thing.length.first == pytest.approx(180, abs=0.05)
    assert thing.stations[3].width.first == pytest.approx(38, abs=0.05)


def test_laid_along_keeps_lengths() -> None:
    ring = turned(np.array([[0.0, 0.0], [50.0, 0.0], [50.0, 20.0], [0.0, 20.0]]), 33, True)
    assert np.ptp(laid_along(ring, "nothing"), axis=0) == pytest.approx([50, 20], abs=1e-6)
