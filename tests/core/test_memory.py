"""What an edit works out again, and what it does not."""

import re
from pathlib import Path
from threading import Event, Thread

import pytest

from tests.jobs import demo
from vow_line.core import memory
from vow_line.core.job import change
from vow_line.core.memory import cached_property
from vow_line.core.plan import plan

STAGES = ("measured", "corrected", "drafted", "stitched", "proved", "threaded", "laid_out", "worked", "recorded")


@pytest.mark.parametrize(("path", "value", "again"), [
    ("thread.needle_mm", 41.5, "threaded worked recorded"),
    ("stitch.pitch_mm", 3.6, "stitched proved threaded worked recorded"),
    ("piece.margin_mm", 3.7, "drafted stitched proved threaded laid_out worked recorded"),
    ("leather.best_rad", 0.1, "laid_out"),
    ("thing.stations.1.width.first", 31.0, " ".join(STAGES)),
    ("whose", "another", ""),
])  # fmt: skip
def test_an_edit_works_out_what_it_changes_and_no_more(path: str, value: object, again: str) -> None:
    job = demo("spar-knife").model_copy(update={"vows": ()})
    assert plan(job).findings is not None
    assert plan(job).layout is not None
    before = memory.hits()
    edited = plan(change(job, path, value))
    assert edited.findings is not None
    assert edited.layout is not None
    after = memory.hits()
    worked = {s for s in STAGES if after[f"plan._{s}"].worked_out > before[f"plan._{s}"].worked_out}
    assert worked == set(again.split())


def test_what_is_forgotten_is_worked_out_anew() -> None:
    job = demo("key-fob")
    first = plan(job).draft
    assert plan(job).draft is first
    memory.forget()
    assert plan(job).draft is not first


def test_what_one_thread_works_out_of_a_plan_keeps_no_other_plan_waiting() -> None:
    begun, go_on = Event(), Event()

    class Slow:
        def __init__(self, wait: bool) -> None:
            self.wait = wait

        @cached_property
        def what(self) -> str:
            if self.wait:
                begun.set()
                assert go_on.wait(10)
            return "worked out"

    slow = Slow(True)
    beside = Thread(target=lambda: slow.what)
    beside.start()
    assert begun.wait(10)
    main = Thread(target=lambda: Slow(False).what, daemon=True)
    main.start()
    main.join(5)
    waited = main.is_alive()
    go_on.set()
    beside.join()
    assert not waited
    assert slow.__dict__["what"] == "worked out"
    core = Path(memory.__file__).parent
    assert not [f for f in core.rglob("*.py") if re.search("functools import.*cached_property", f.read_text())]
