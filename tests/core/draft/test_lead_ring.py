"""A collar's ring for a lead: its tab turned round it, sewn on the outside clear of lap, keeper and holes."""

import numpy as np
import pytest

from tests.bodies import plausible
from tests.jobs import demo
from vow_line.core.draft.kinds.buckle_strap import BuckleStrap
from vow_line.core.draft.lead_ring import LeadRing
from vow_line.core.job import Job, change, mend
from vow_line.core.measure.things.girth import Girth
from vow_line.core.plan import Plan, plan


def collar(**choices: float) -> Plan:
    job = change(change(demo("goat-collar"), "vows", ()), "work.done", ())
    return plan(change(job, "piece.lead", LeadRing(**choices)))  # type: ignore[arg-type]


def test_a_tab_by_hand() -> None:
    """By pencil: 22 to sew it on and 6 to the bar, twice, and half a turn of π (4 / 2 + 2.8 / 2) = 10.68 mm: 66.68 of 16. Its
    bar lies 22 + 6 past where it begins, the ring's 4 and 20 beyond that.
    """
    made = collar(at_mm=90.0)
    tab = made.draft.piece("lead-tab")
    t = made.job.leather.thickness_mm
    assert np.ptp(tab.outline, axis=0) == pytest.approx([2 * 28 + np.pi * (2 + t / 2), 16.0], abs=0.01)
    assert [h.count for h in made.hardware if h.size_mm == 20.0 and h.other_mm == 4.0] == [1]
    assert LeadRing().takes_mm == 22 + 6 + 4 + 20
    assert not [f for f in made.findings if f.level == "hold"]


def test_all_three_layers_are_sewn_hole_on_hole_where_it_begins() -> None:
    """The tab folded by hand about its bar: its second half lies on its first, and both on the strap."""
    made = collar(at_mm=95.0)
    seam, tab = made.stitching.seam("lead"), made.draft.piece("lead-tab")
    on, under, over = (seam.on(k) for k in range(3))
    assert over + [95.0, 0.0] == pytest.approx(on)
    a, b = (float(f[:, 0].mean()) for f in tab.folds)
    bent = np.column_stack([a + b - under[:, 0], under[:, 1]])  # about the middle of its turn
    assert bent == pytest.approx(over)
    assert on[:, 0].min() > 95.0
    assert seam.line.sewing.carries
    stack = 3 * made.job.leather.thickness_mm
    assert seam.stack_mm == pytest.approx(stack)


def test_the_tab_is_sewn_before_the_strap_is_closed_round_its_buckle() -> None:
    order = [s.id for s in collar().work.steps]
    assert order.index("turn/lead-tab/lead") < order.index("sew/lead") < order.index("turn/strap/first-end")


def test_a_ring_says_that_a_life_may_hang_on_it() -> None:
    assert "load" in {f.code for f in collar().findings}
    assert "load" not in {f.code for f in plan(change(collar().job, "piece.lead", None)).findings}


@pytest.mark.parametrize(
    ("choices", "code"),
    [({"wide_mm": 40.0, "opening_mm": 60.0}, "lead-wide"), ({"opening_mm": 12.0}, "turn-too-wide"),
     ({"at_mm": 20.0}, "lead-in-the-way"), ({"at_mm": 700.0}, "lead-in-the-way")],
)  # fmt: skip
def test_what_is_wrong_with_a_ring_mends_in_one_press(choices: dict[str, float], code: str) -> None:
    made = collar(**choices)
    found = next(f for f in made.findings if f.code == code)
    assert code not in {f.code for f in plan(mend(made.job, found.mend)).findings}


def test_on_any_collar_the_ring_that_is_offered_lies_clear_or_can_be_taken_away() -> None:
    rng, kept = np.random.default_rng(12), 0
    for _ in range(40):
        thing = plausible(Girth, rng, "buckle_strap")
        job = Job(name="any", thing=thing, piece=BuckleStrap(width_mm=float(rng.integers(8, 45))))
        offered = next((c for c in plan(job).draft.callouts if c.path == "piece.lead"), None)
        assert offered is not None
        made = plan(change(job, "piece.lead", offered.meant[1]))
        before = {f.code for f in plan(job).findings if f.level == "hold"}
        for _ in range(3):
            new = [f for f in made.findings if f.level == "hold" and f.code not in before]
            if not new:
                break
            made = plan(mend(made.job, new[0].mend))
        assert not {f.code for f in made.findings if f.level == "hold"} - before
        kept += made.job.piece.lead is not None
    assert kept > 20
