"""The check of the steps: a plan with one thing broken is found out, a sound one is not."""

from dataclasses import replace

import pytest

from tests.jobs import demo
from vow_line.core.job import Job
from vow_line.core.plan import Plan, plan
from vow_line.core.work.complete import complete
from vow_line.core.work.step import Step
from vow_line.resources.demo import demo_jobs


def _codes(planned: Plan, steps: tuple[Step, ...], assembly: object = None, wet: bool | None = None) -> set[str]:
    draft = planned.whole
    checked, found = complete(assembly or draft.assembly, steps, draft.wet if wet is None else wet)
    assert checked.holds is not bool(found)
    assert all(f.level == "hold" and f.at for f in found)
    return {f.code for f in found}


@pytest.mark.parametrize("name", demo_jobs())
def test_no_step_of_the_demo_can_be_left_out(name: str) -> None:
    """Any step taken away is missed, but for those that only help: glue, a temporary seam and its taking out, the oil."""
    planned = plan(demo(name))
    steps = planned.work.steps
    assert not _codes(planned, steps)
    for step in steps:
        rest = tuple(s for s in steps if s is not step)
        needed = any(step.id in s.needs for s in rest)
        found = _codes(planned, rest)
        assert ("step-missing" in found) is bool(step.uses), step.id
        assert ("step-early" in found) is needed, step.id
    idle = {s.id.split("/")[0] for s in steps if not s.uses}
    assert idle <= {"glue", "hold", "free", "finish"}


def test_each_thing_a_step_works_on_is_asked_for() -> None:
    planned = plan(demo("billhook-cover"))
    steps = planned.work.steps
    for n, step in enumerate(steps):
        for part in step.uses:
            less = replace(step, uses=tuple(u for u in step.uses if u != part))
            assert _codes(planned, (*steps[:n], less, *steps[n + 1 :])) == {"step-missing"}, part


def test_a_step_before_what_it_needs_or_there_twice() -> None:
    planned = plan(demo("spar-knife"))
    steps = planned.work.steps
    last = max(n for n, s in enumerate(steps) if s.station == "sew")
    assert "step-early" in _codes(planned, (steps[last], *steps[:last], *steps[last + 1 :]))
    assert _codes(planned, (*steps, steps[0])) == {"step-twice"}
    lost = replace(steps[3], needs=("cut/nowhere",))
    assert _codes(planned, (*steps[:3], lost, *steps[4:])) == {"step-early"}


def test_a_step_where_no_one_looks() -> None:
    wet, planned = plan(demo("spar-knife")), plan(demo("hedging-knife"))
    steps = planned.work.steps
    assert _codes(wet, wet.work.steps, wet=False) == {"step-nowhere"}
    assert _codes(planned, steps, wet=True) == {"step-missing"}, "what is formed wet is formed"
    astray = replace(steps[0], station="draft")
    assert _codes(planned, (astray, *steps[1:])) == {"step-nowhere"}


def test_a_piece_that_nothing_holds() -> None:
    planned = plan(demo("billhook-cover"))
    bare = replace(planned.draft.assembly, fasteners=())
    assert {f.at for f in complete(bare, planned.work.steps, False)[1] if f.code == "piece-loose"} == {
        "strap-1",
        "strap-2",
    }


def test_a_riveted_join_through_which_nothing_goes() -> None:
    fob = demo("key-fob")
    planned = plan(Job(name="riveted", thing=fob.thing, piece=fob.piece.model_copy(update={"held": "riveted"})))
    steps, assembly = planned.work.steps, planned.draft.assembly
    assert not _codes(planned, steps)
    assert _codes(planned, steps, replace(assembly, fasteners=())) == {"step-missing"}
