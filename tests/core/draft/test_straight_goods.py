import numpy as np
import pytest

from tests.jobs import demo, read, words
from vow_line.core.draft.kinds.straight_goods import StraightGoods
from vow_line.core.job import change, mend
from vow_line.core.measure.things.fitting import Fitting
from vow_line.core.plan import plan


@pytest.mark.parametrize("end", ["square", "round", "pointed"])
def test_the_strip_is_twice_its_length_and_a_half_turn_round_the_bar(end: str) -> None:
    """Common practice: π(b/2 + kt) for the turn."""
    body = Fitting(opening=read(25), bar=read(4)).measure().body
    draft = StraightGoods(length_mm=80, width_mm=20, end=end).draft(body, 3.0)
    strip = draft.piece("strip").outline
    assert np.ptp(strip[:, 1]) == pytest.approx(160 + np.pi * (2 + 0.5 * 3.0))
    assert np.ptp(strip[:, 0]) == pytest.approx(20)


def test_both_halves_carry_the_same_holes_on_the_margin() -> None:
    planned = plan(demo("key-fob"))
    seam = planned.stitching.seam("seam")
    assert np.allclose(seam.on(0) * [1, -1], seam.on(1))
    assert np.abs(seam.points[:, 0]).max() == pytest.approx(23 / 2 - 3, abs=0.05)
    assert "Sew the seam" in [words(s.name) for s in planned.work.steps]


def test_a_rivet_has_its_post_from_the_stack_and_its_step() -> None:
    """Common practice: the post is the stack and 3 mm."""
    job = change(demo("key-fob").model_copy(update={"vows": ()}), "piece.held", "riveted")
    planned = plan(job)
    assert planned.draft.assembly.post_mm(planned.draft.fasteners[0]) == pytest.approx(2 * 2.6 + 3)
    steps = [s.id for s in planned.work.steps]
    assert "set/rivet" in steps
    assert "edge/halves" in steps
    assert planned.stitching.seams == ()


def test_a_strip_too_wide_for_its_ring_is_held_and_mended() -> None:
    job = change(demo("key-fob").model_copy(update={"vows": ()}), "piece.width_mm", 26.0)
    found = next(f for f in plan(job).findings if f.code == "strip-too-wide")
    assert found.level == "hold"
    assert not plan(mend(job, found.mend)).holds
