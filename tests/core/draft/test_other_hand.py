"""A right limb's piece is its left one's mirror image, closures and all, and fits a right limb."""

import re

import numpy as np
import pytest
import shapely

from tests.bodies import plausible
from tests.jobs import as_chosen, demo
from vow_line.core.curve import arc_length
from vow_line.core.draft.flatten import flatten
from vow_line.core.draft.kinds.limb_wrap import LimbWrap
from vow_line.core.draft.kinds.limb_wrap.wrap import CLOSING_RAD
from vow_line.core.draft.surface import surface
from vow_line.core.job import Job, Other, change
from vow_line.core.measure.things.limb import Limb
from vow_line.core.plan import Plan, plan
from vow_line.core.quantity import Units
from vow_line.core.stitch.pattern import sheet

MIRROR = np.array([-1.0, 1.0])


def _pair(seed: int) -> tuple[Plan, Plan]:
    """The same limb with the same choices, called left and called right."""
    rng = np.random.default_rng(seed)
    job = Job(name="any", thing=plausible(Limb, rng), piece=LimbWrap())
    job = as_chosen(change(job, "piece.closing", ("back", "outside", "inside", "front")[seed % 4]), rng, 4)
    return plan(change(job, "thing.side", "left")), plan(change(job, "thing.side", "right"))


@pytest.mark.parametrize("seed", range(24))
def test_a_right_one_is_the_left_ones_mirror_image(seed: int) -> None:
    """Leather, holes, folds and seams; and the proof, which knows no side, finds the same."""
    left, right = _pair(seed)
    assert not right.failures
    assert {p.id for p in right.draft.pieces} == {p.id for p in left.draft.pieces}
    for mine in right.draft.pieces:
        other = left.draft.piece(mine.id)
        off = shapely.Polygon(mine.outline).symmetric_difference(shapely.Polygon(other.outline * MIRROR)).area
        assert off < 1e-6 * shapely.Polygon(other.outline).area, mine.id
        assert {p.id: p.centre for p in mine.punches} == {p.id: (-p.centre[0], p.centre[1]) for p in other.punches}
        assert mine.mirrored == other.mirrored
    for seam in right.stitching.seams:
        there = left.stitching.seam(seam.id)
        assert np.allclose(seam.on(0), there.on(0) * MIRROR, atol=1e-6), seam.id
    found = [sorted((f.code, f.level) for f in p.findings) for p in (left, right)]
    assert found[0] == found[1]
    for one, other in zip(sheet(left.draft, left.stitching), sheet(right.draft, right.stitching), strict=True):
        ends = [np.vstack([m.line for m in s.marks]) for s in (one, other)]
        assert np.ptp(ends[0], axis=0) == pytest.approx(np.ptp(ends[1], axis=0), abs=1e-6)


@pytest.mark.parametrize("closing", ["outside", "inside"])
def test_it_is_what_a_right_limb_lays_flat_to(closing: str) -> None:
    """A right limb's outside lies the other way round it: its surface, cut there, laid flat by itself."""
    thing = plausible(Limb, np.random.default_rng(3)).model_copy(update={"side": "right"})
    body, piece = thing.measure().body, LimbWrap(closing=closing)
    wrap = piece.wrap(body, 2.0)
    low, high = piece.between(body)
    more = 2 * np.pi * piece.neutral * 2.0 + piece.ease_mm
    flat = flatten(surface(body, low, high, more, -CLOSING_RAD[closing], (24, 14)).points).points
    left = wrap.first.flat.points
    middle = [k.reshape(-1, 2).mean(axis=0) for k in (flat, left)]
    assert np.abs((flat - middle[0])[:, ::-1] - (left - middle[1]) * MIRROR).max() < 1.0
    assert np.abs((flat - middle[0]) - (left - middle[1])).max() > 2.0, "and the left one's would not do"


def test_of_several_wearers_each_has_its_own_side_whoever_is_first() -> None:
    job = change(demo("gaiter"), "piece.closing", "outside")
    for first, second in (("left", "right"), ("right", "left"), ("right", "right")):
        both = change(job, "thing.side", first)
        both = both.model_copy(update={"others": (Other(number=2, thing=change(job, "thing.side", second).thing),)})
        alone = {side: plan(change(job, "thing.side", side)).draft.piece("wrap").outline for side in ("left", "right")}
        planned = plan(both)
        wraps = [p for p in planned.whole.pieces if p.id.startswith("wrap")]
        assert len(wraps) == 2
        for piece, side in zip(wraps, (first, second), strict=True):
            area = shapely.Polygon(piece.outline)
            assert area.symmetric_difference(shapely.Polygon(alone[side])).area < 1.0, (first, second)


def test_what_is_said_of_left_and_right_is_said_of_where_they_lie() -> None:
    """The longer of the closing edges is named by the side it lies on: by its points."""
    job = change(change(demo("gaiter"), "piece.closing", "outside"), "piece.over", None)
    for side in ("left", "right"):
        planned = plan(change(job, "thing.side", side))
        told = re.match(r"([\d.]+) left and ([\d.]+) mm right", next(
            r.sum.write(Units()) for r in planned.sums("draft") if r.key == "edge"))  # fmt: skip
        long = {e.title.template: arc_length(e.line)[-1] for e in planned.draft.piece("wrap").edges}
        middle = {e.title.template: e.line[:, 0].mean() for e in planned.draft.piece("wrap").edges}
        assert middle["left edge"] < middle["right edge"]
        assert (float(told[1]) > float(told[2])) is bool(long["left edge"] > long["right edge"])
