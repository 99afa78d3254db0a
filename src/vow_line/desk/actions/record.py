"""What a finished job teaches the workshop, and what the next one begins with."""

from ...core import steps
from ...core.job import change
from ...core.reckoning import count, percent
from ...core.texts import said, several, tell
from ...core.thread import Slack, ThreadChoices
from ...core.thread.choices import DEFAULT_SLACK
from ..session import Session


def learned_slack(session: Session) -> Slack:
    """The slack of the stitch, the thread and the maker at hand, or of the next wider case that was observed."""
    thread, maker = (session.job.thread, session.job.maker) if session.open else (ThreadChoices(), "")
    learned = session.workshop.learned(1 + DEFAULT_SLACK, "slack", thread.stitch, thread.thread.name, maker)
    return Slack(value=learned.factor - 1, jobs=learned.jobs, spread=learned.spread)


def take_slack(session: Session) -> None:
    """Use the slack learned from the record."""
    session.do(tell("take the workshop's slack"), lambda j: change(j, "thread.slack", learned_slack(session)))


def close_record(session: Session) -> None:
    """The job is done: what it showed is written into the workshop's book."""
    if not session.open or session.plan.recorded is None:
        return
    recorded, job, threading = session.plan.recorded, session.job, session.plan.threading
    if session.do(tell("close the record"), steps.close_record) and session.path is not None:
        session.workshop.forget_observed(str(session.path))
        for seam, ratio in recorded.thread_ratios:
            assert threading is not None
            sewn = threading.seam(seam)
            factor = "/".join(("slack", sewn.stitch.id, sewn.thread.name, job.maker))
            session.workshop.observe(factor, str(session.path), [(seam, ratio)])
        slack = learned_slack(session)
        text = several(
            "Recorded. From {n} job the workshop's slack is now {u}; the next job begins with it.",
            "Recorded. From {n} jobs the workshop's slack is now {u}; the next job begins with it.",
            n=count(slack.jobs), u=percent(slack.value),
        )  # fmt: skip
        if recorded.findings:
            text = said("{one} {other}", one=text, other=said("What disagreed too strongly was left out."))
        session.say(text.write(session.units))


def next_like(session: Session) -> None:
    """Begin another of the same, with the slack learned since."""
    if session.open:
        job = steps.next_like(session.job, name=tell("{job}, next", job=session.job.name), slack=learned_slack(session))
        session.begin_with(job)
