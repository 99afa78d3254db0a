"""What is entered on a board and is more than one value in the job."""

from datetime import date, datetime
from typing import Any

import numpy as np
import pytest

from tests.jobs import demo, plain_job
from vow_line.core.entry import enter
from vow_line.core.errors import RefusedChange
from vow_line.core.job import Job, change, value_at
from vow_line.core.plan import plan
from vow_line.core.steps import tick
from vow_line.core.stitch.tools import HoleTool

NOON = datetime(2027, 1, 5, 12)


def _entered(job: Job, path: str, value: Any, using: str = "") -> Job:
    return enter(job, path, value, at=NOON, using=using)


def test_a_reading_is_stamped_and_nothing_else_is() -> None:
    job = change(plain_job(), "maker", "Ada")
    read = value_at(_entered(job, "thing.stations.1.width.first", 31.0, "caliper"), "thing.stations.1.width")
    assert (read.first, read.second) == (31.0, 30.0)
    taken = read.first_taken
    assert (taken.on, taken.by, taken.using) == (date(2027, 1, 5), "Ada", "caliper")
    assert read.second_taken.on is None, "the other reading says nothing of this one"
    second = value_at(_entered(job, "thing.length.second", 121.0), "thing.length")
    assert (second.second, second.second_taken.on) == (121.0, date(2027, 1, 5))
    for path, value in (
        ("thing.stations.1.at_mm", 50.0),
        ("piece.margin_mm", 4.0),
        ("thing.length.first_taken.using", "tape"),
    ):
        assert _entered(job, path, value) == change(job, path, value), path


def test_thread_cut_or_left_is_as_planned_where_nothing_was_said_of_it() -> None:
    job = plain_job()
    planned = plan(job).threading.seam("main-seam").total_mm  # type: ignore[union-attr]

    def said(job: Job) -> dict[str, Any]:
        return {t.seam: (t.cut_mm, t.left_mm) for t in job.record.thread_left}

    left = _entered(job, "record.left/main-seam", 90.0)
    assert said(left) == {"main-seam": (pytest.approx(planned), 90.0)}
    both = _entered(left, "record.cut/main-seam", 1500.0)
    assert said(both) == {"main-seam": (1500.0, 90.0)}
    assert said(_entered(both, "record.left/main-seam", 120.0)) == {"main-seam": (1500.0, 120.0)}
    cut = _entered(both, "record.cut/belt-loop", 400.0)
    assert said(cut) == {"main-seam": (1500.0, 90.0), "belt-loop": (400.0, 0.0)}, "of one seam, not of another"


def test_a_weighing_a_seams_own_stitch_and_its_own_tool() -> None:
    wet = tick(plain_job(formed=True), step="form", at=NOON)
    assert [w.grams for w in _entered(wet, "work.weigh", 80.0).work.weighings] == [80.0]
    job = plain_job()
    sewn = _entered(job, "thread.of/belt-loop/stitch", "whip")
    assert [(o.seam, o.stitch) for o in sewn.thread.own] == [("belt-loop", "whip")]
    assert not _entered(sewn, "thread.of/belt-loop/stitch", job.thread.stitch).thread.own, (
        "as the others is not its own"
    )
    ends = _entered(job, "stitch.of/belt-loop/start_in_mm", 4.5)
    assert [(o.seam, o.start_in_mm, o.end_in_mm) for o in ends.stitch.own] == [("belt-loop", 4.5, None)]
    tool = HoleTool(name="seven to the inch", tool="wheel", pitch_mm=3.6)
    taken = _entered(job, "stitch", tool).stitch
    assert (taken.tool_name, taken.tool, taken.pitch_mm) == ("seven to the inch", "wheel", 3.6)


@pytest.mark.parametrize("name", ["laying-knife", "turf-knife"])
def test_leather_is_sized_by_its_two_sides_whatever_its_outline(name: str) -> None:
    job = demo(name)
    ring = np.array(job.leather.outline)
    job = change(job, "leather.outline", tuple(map(tuple, ring + [30.0, -20.0])))
    was = np.ptp(ring, axis=0)
    for which, size in (("long", [777.0, was[1]]), ("wide", [was[0], 777.0])):
        sized = np.ptp(np.array(_entered(job, f"leather.size/{which}", 777.0).leather.outline), axis=0)
        assert sized == pytest.approx(size), which
    for mm in (19.9, 5000.1):
        with pytest.raises(RefusedChange, match="no size"):
            _entered(job, "leather.size/long", mm)
    for mm in (20.0, 5000.0):
        _entered(job, "leather.size/wide", mm)
