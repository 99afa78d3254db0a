"""The wrap against a hull computed another way, on sections no formula covers."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import demo, plain_job, plain_knife, read
from vow_line.core.curve import walk
from vow_line.core.draft.kinds.folded_sheath import FoldedSheath
from vow_line.core.job import change
from vow_line.core.plan import plan
from vow_line.core.proof.room import half_needs, sections_of


@given(st.floats(15, 50), st.floats(1.5, 6), st.floats(0.2, 3), st.floats(1, 6), st.floats(1.5, 5))
def test_half_widths_of_a_plain_blade_by_a_drawn_string(
    width: float, spine: float, clear: float, welt: float, leather: float
) -> None:
    """A string laid round the drawn section by shapely's hull gives the same half width as the program."""
    knife = plain_knife(width, spine)
    narrow = knife.stations[0].model_copy(update={"width": read(width * 0.9)})
    body = knife.model_copy(update={"stations": (narrow, *knife.stations[1:])}).measure().body
    assert body is not None
    widest = int(np.argmax(np.where(body.blade, body.edge_mm - body.top_mm, 0)))
    width = float(body.edge_mm[widest] - body.top_mm[widest])
    draft = FoldedSheath(welt_mm=welt, clearance_mm=clear, seat_mm=0, skive_mm=1, loop=None).draft(body, leather)
    got = next(r.number for r in draft.reckonings if r.key == "half-width")
    upper = [(0, 0), (0, spine / 2), (width, 0), (width + clear, welt / 2)]
    hull = shapely.MultiPoint([*upper, *((y, -z) for y, z in upper)]).convex_hull
    string = hull.length / 2 - welt / 2
    far = np.array([width + clear, (welt - spine) / 2])
    turning = np.pi / 2 - np.arctan2(far[1], far[0])
    if spine > welt * 0.2:
        assert got == pytest.approx(string + turning * 0.5 * leather, abs=1e-6)


def test_drawing_out_against_the_blade_pushed_step_by_step() -> None:
    """The blade's outline moved out 0.5 mm at a time and measured against the welt by shapely agrees on the tight place."""
    planned = plan(demo("laying-knife"))
    draft = planned.draft
    assert draft is not None
    welt = shapely.Polygon(draft.piece("welt").outline).buffer(0)
    blade = draft.thing[draft.thing[:, 1] >= 0]
    blocked = max(shapely.Polygon(blade - [0, s]).buffer(0).intersection(welt).area for s in np.arange(0, 150, 2.0))
    assert draft.way_out.least_mm < 0
    opened = plan(change(demo("laying-knife"), "piece.opened", True)).draft
    assert opened is not None
    free = shapely.Polygon(opened.piece("welt").outline).buffer(0)
    worst = max(
        shapely.Polygon(opened.thing[opened.thing[:, 1] >= 0] - [0, s]).buffer(0).intersection(free).area
        for s in np.arange(0, 150, 2.0)
    )
    assert opened.way_out.least_mm > 0
    assert blocked > 20 * worst, "what is left is the drawing's: the blade is drawn flat, the leather lies round it"


def test_the_nearest_thread_by_brute_force() -> None:
    """Every hole against every position of the edge along the way out, laid flat by the proof's hulls."""
    planned = plan(plain_job(edge_to_thread_mm=5.0))
    seam = planned.stitching.seam("main-seam")  # type: ignore[union-attr]
    assert seam.to_edge_mm is not None
    sections, piece = sections_of(planned.body), planned.job.piece
    sheath = planned.draft.piece("sheath")  # type: ignore[union-attr]
    neutral = sheath.stock.neutral * sheath.thickness_mm
    needs = half_needs(planned.body, float(planned.draft.assembly.lies[0].x_mm[0]), piece.welt_mm, neutral, 1 / 2)
    assert needs is not None
    assert sections is not None
    edge = np.column_stack([needs, sections.x])[sections.x >= 0]
    edge = walk(edge, np.arange(0, 130, 0.2))
    least = min(
        float(np.hypot(*(seam.points[:, None] - (edge - [0, s])[None]).transpose(2, 0, 1)).min())
        for s in np.arange(0, 150, 1.0)
    )
    assert seam.to_edge_mm == pytest.approx(least, abs=0.3)
