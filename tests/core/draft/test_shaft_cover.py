import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import demo, read
from vow_line.core.curve import arc_length
from vow_line.core.draft import Draft
from vow_line.core.draft.kinds.shaft_cover import ShaftCover, StopRing
from vow_line.core.job import change, mend
from vow_line.core.measure.things.shaft import GirthStation, Shaft
from vow_line.core.plan import plan
from vow_line.core.quantity import Units


def _shaft(*girths: tuple[float, float]) -> Shaft:
    return Shaft(stations=tuple(GirthStation(at_mm=at, girth=read(g)) for at, g in girths))


def _draft(shaft: Shaft, leather: float = 2.0, **choices: object) -> Draft:
    return ShaftCover(**choices).draft(shaft.measure().body, leather)


def test_a_round_shaft_takes_its_closed_form_less_the_stretch() -> None:
    draft = _draft(_shaft((0, np.pi * 55), (200, np.pi * 55)), stretch=0.0)
    wide = np.ptp(draft.piece("cover").outline[:, 0])
    assert wide == pytest.approx(np.pi * (55 + 2 * 0.5 * 2.0))


@pytest.mark.parametrize("across", [50, 55, 60])
def test_stretch_closes_about_3_mm_on_a_shaft_of_50_to_60(across: float) -> None:
    """Common practice: an eighth of an inch."""
    shaft = _shaft((0, np.pi * across), (200, np.pi * across))
    closes = (
        _draft(shaft, stretch=0.0).piece("cover").outline[:, 0].max() - _draft(shaft).piece("cover").outline[:, 0].max()
    )
    assert 2 * closes == pytest.approx(3.175, abs=0.4)


@given(st.floats(60, 200), st.floats(60, 200), st.floats(40, 400))
def test_both_edges_are_as_long_and_their_holes_lie_on_the_margin(first: float, last: float, long: float) -> None:
    job = change(demo("slasher-grip"), "thing", _shaft((0, first), (long, last)))
    job = change(change(job, "piece.start_mm", 0.0), "piece.length_mm", long)
    planned = plan(change(job, "piece.ends", "curved"))
    seam, cover = planned.stitching.seam("butt-seam"), planned.draft.piece("cover")
    left, right = seam.on(0), seam.on(1)
    assert np.allclose(left * [-1, 1], right)
    for points, edge in ((left, cover.edge("left").line), (right, cover.edge("right").line)):
        along = (edge[1] - edge[0]) / np.hypot(*(edge[1] - edge[0]))
        off = np.abs((points - edge[0]) @ np.array([along[1], -along[0]]))
        assert off == pytest.approx(4.0)


@given(st.floats(120, 260), st.floats(60, 260), st.floats(60, 300))
def test_a_curved_cover_of_a_cone_is_its_sector(first: float, last: float, long: float) -> None:
    """The trade's cone: girths C1 > C2 a slant height h apart, h² = l² + ((C1 - C2)/2π)², are arcs of radii C1 h / (C1 - C2)
    and that less h about one point, and as long as the girths; its sides are straight.
    """
    if abs(first - last) < 2:
        return
    draft = _draft(
        _shaft((0, first), (long, last)), leather=1e-6, stretch=0.0, length_mm=long, ends="curved", margin_mm=3
    )
    cover = draft.piece("cover")
    slant = np.hypot(long, (first - last) / (2 * np.pi))
    ends = [cover.edge(e).line for e in ("hand-end", "far-end")]
    radii = [girth * slant / abs(first - last) for girth in (first, last)]
    down = -1.0 if last > first else 1.0
    centre = np.array([0.0, down * radii[0]])
    for end, radius, girth in zip(ends, radii, (first, last), strict=True):
        assert np.hypot(*(end - centre).T) == pytest.approx(radius, abs=0.01)
        assert arc_length(end)[-1] == pytest.approx(girth, rel=5e-4)
    assert len(cover.edge("right").line) == 2
    assert arc_length(cover.edge("right").line)[-1] == pytest.approx(slant, abs=0.01)


@given(st.lists(st.floats(100, 114), min_size=3, max_size=6))
def test_every_girth_counts(girths: list[float]) -> None:
    """As wide across at every station as it is round there: walked square to the edges, from one to the other."""
    at = np.linspace(0, 80.0 * (len(girths) - 1), len(girths))
    shaft = _shaft(*zip(at.tolist(), girths, strict=True))
    draft = _draft(shaft, leather=1e-6, stretch=0.0, length_mm=float(at[-1]))
    right = draft.piece("cover").edge("right").line
    for x, girth in list(zip(at, girths, strict=True))[1:-1]:
        u = float(np.interp(x, right[:, 1], right[:, 0]))
        assert 2 * u == pytest.approx(girth, rel=0.01), "chord and arc differ by less"


@pytest.mark.parametrize(("middle", "level"), [(110, None), (115, None), (122, "look"), (140, "hold"), (80, "hold")])
def test_a_belly_or_a_waist_says_how_far_its_edges_open(middle: float, level: str | None) -> None:
    """K·C/8 at each edge, K the turn of the taper."""
    draft = _draft(_shaft((0, 110), (100, middle), (200, 110)), length_mm=200.0)
    found = [f for f in draft.findings if f.code == "cover-opens"]
    assert [f.level for f in found] == ([level] if level else [])
    if found:
        turn = 2 * abs(middle - 110) / np.hypot(100, (middle - 110) / (2 * np.pi))
        assert f"{round(turn * middle / 8, 1):g}" in found[0].says.write(Units())
        assert ("belly" if middle > 110 else "waist") in found[0].says.write(Units())


def test_a_steep_taper_asks_for_curved_ends() -> None:
    job = change(demo("slasher-grip"), "thing", _shaft((0, 190), (90, 110)))
    job = change(change(job, "piece.start_mm", 0.0), "piece.length_mm", 90.0)
    found = next(f for f in plan(job).findings if f.code == "ends-want-a-curve")
    assert not [f for f in plan(mend(job, found.mend)).findings if f.code == "ends-want-a-curve"]


def test_an_oar_by_the_rule_of_its_locks() -> None:
    """Common practice: the middle of the leather lies half the spread of the locks and 50 mm from the end of the handle."""
    cover = ShaftCover(placing="by-the-locks", locks_mm=1220, length_mm=300)
    assert cover.begins_mm + 150 == pytest.approx(660)


def test_a_ring_goes_round_the_cover_with_its_scarf() -> None:
    draft = _draft(_shaft((0, 100), (200, 100)), leather=2.0, ring=StopRing(thickness_mm=4.0, scarf_mm=20.0))
    ring = draft.piece("stop-ring")
    assert np.ptp(ring.outline[:, 1]) == pytest.approx(100 + 2 * np.pi * 2 + 2 * np.pi * 0.5 * 4 + 20)
    assert "fix/stop-ring" in [s.id for s in plan(demo("slasher-grip")).work.steps]
