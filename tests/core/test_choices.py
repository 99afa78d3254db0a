"""No choice leads into a dead end: from plausible jobs, each choice that a drawing offers is taken, and each part that is not
there put on; what does not hold then says what mends it, and pressing that does.
"""

from datetime import datetime

import numpy as np
import pytest

from tests.figures import jobs
from tests.jobs import job_of
from tests.many import ALL, many
from vow_line.core.draft.kind import KindOfPiece
from vow_line.core.draft.kinds import KINDS
from vow_line.core.drawing import Callout
from vow_line.core.job import Job, change, mend, value_at
from vow_line.core.plan import Plan, plan
from vow_line.core.steps import break_vow
from vow_line.core.texts import NOTHING

PRESSES = 4
APART = ("piece.meets.", "piece.halves.")
"""Panels that no longer meet are for the maker to put together: `tests/core/draft/test_panelled.py` presses their mends."""


def _others(callout: Callout) -> list[object]:
    """What else could be chosen; what would put it on, where it is not there."""
    if callout.choices:
        return [v for v in (callout.meant or [c.template for c in callout.choices]) if v != callout.value]
    return [callout.usual] if callout.absent else []


def _holds(planned: Plan) -> dict[str, object]:
    assert not planned.failures, planned.failures[0].traceback
    return {f.code: f.mend for f in planned.findings if f.level == "hold"}


def _mended(job: Job) -> tuple[Job, dict[str, object]]:
    """The job with whatever holds it mended, by as many presses as a maker would bear, and what holds it still."""
    for _ in range(PRESSES):
        cures = [m for m in _holds(plan(job)).values() if m is not None]
        if not cures:
            break
        job = mend(job, cures[0])  # type: ignore[arg-type]
    return job, _holds(plan(job))


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.model_fields["kind"].default)
def test_every_choice_can_be_taken_from_any_sound_job(kind: type[KindOfPiece]) -> None:
    rng, tried = np.random.default_rng(len(kind.__name__)), 0
    while tried < many(20):
        job, left = _mended(job_of(kind, rng))
        if left:
            continue
        tried += 1
        draft = plan(job).draft
        assert draft is not None
        for callout in draft.callouts:
            if callout.path.startswith(APART):
                continue
            for value in _others(callout):
                _, left = _mended(change(job, callout.path, value))
                assert not left, (callout.path, value, left, job.thing, job.leather.thickness_mm)


@pytest.mark.parametrize("name", sorted(jobs())[:: 1 if ALL else 4])
def test_a_part_that_is_said_to_come_off_comes_off_and_goes_on_again(name: str) -> None:
    """As the board says under it: 0 takes it off; a press puts it on as it usually is. Of every kept job of every kind, a
    quarter of them in the suite."""
    job = jobs()[name]
    job = break_vow(job, at=datetime(2027, 1, 6)) if job.vowed else job
    drafted = plan(job).draft
    for c in drafted.callouts if drafted else ():
        if c.part == NOTHING or c.choices:
            continue
        off = change(job, c.path, 0.0)
        absent = {c.path for c in plan(off).draft.callouts if c.absent}
        assert c.path in absent or not [x for x in plan(off).draft.callouts if x.path == c.path], c.path
        on = change(off, c.path, c.usual)
        assert value_at(on, c.path) == c.usual
