"""What a finished job teaches the workshop, and what the next one begins with."""

from typing import TYPE_CHECKING

from ..core import job as steps
from ..core.reckoning import count, percent, said
from ..core.thread import Slack, ThreadChoices
from ..core.thread.choices import DEFAULT_SLACK

if TYPE_CHECKING:
    from .window import Window


def learned_slack(window: "Window") -> Slack:
    """The slack of the stitch, the thread and the maker at hand, or of the next wider case that was observed."""
    thread, maker = (window.store.job.thread, window.store.job.maker) if window.store else (ThreadChoices(), "")
    learned = window.workshop.learned(1 + DEFAULT_SLACK, "slack", thread.stitch, thread.thread.name, maker)
    return Slack(value=learned.factor - 1, jobs=learned.jobs, spread=learned.spread)


def take_slack(window: "Window") -> None:
    """Use the slack learned from the record."""
    window.do("take the workshop's slack", lambda j: steps.change(j, "thread.slack", learned_slack(window)))


def close_record(window: "Window") -> None:
    """The job is done: what it showed is written into the workshop's book."""
    if window.store is None or window.store.plan.recorded is None:
        return
    recorded, job, threading = window.store.plan.recorded, window.store.job, window.store.plan.threading
    if window.do("close the record", steps.close_record) and window.path is not None:
        window.workshop.forget_observed(str(window.path))
        for seam, ratio in recorded.thread_ratios:
            assert threading is not None
            sewn = threading.seam(seam)
            factor = "/".join(("slack", sewn.stitch.id, sewn.thread.name, job.maker))
            window.workshop.observe(factor, str(window.path), [(seam, ratio)])
        slack = learned_slack(window)
        told = said(
            "Recorded. From {n} jobs the workshop's slack is now {u}; the next job begins with it."
            + (" What disagreed too strongly was left out." if recorded.findings else ""),
            n=count(slack.jobs), u=percent(slack.value),
        )  # fmt: skip
        window.say(told.write(window.store.job.units))


def next_like(window: "Window") -> None:
    """Begin another of the same, with the slack learned since."""
    if window.store:
        job = steps.next_like(window.store.job, name=f"{window.store.job.name}, next", slack=learned_slack(window))
        window.begin_with(job)
