"""Ticking a step off before what it needs, which is asked about."""

from PySide6.QtWidgets import QWidget

from ...core.reckoning import count
from ...core.texts import listed, said, several, tell
from ..look.asking import choose
from ..session import Session

MOST_NAMED = 3


def may_tick(session: Session, step: str, parent: QWidget) -> bool:
    """Whether a step is to be ticked off; where steps that it needs are not done, that is asked."""
    work = session.plan.work
    if work is None or session.job.vowed is None:
        return True
    open_ = [s.name for s in work.before(step) if not session.job.work.is_done(s.id)]
    if not open_:
        return True
    names = open_[-MOST_NAMED:]
    if len(open_) > MOST_NAMED:
        more = len(open_) - MOST_NAMED
        names = [several("{n} step before", "{n} steps before", n=count(more)), *names]
    says = said("Not ticked off yet, and needed first: {steps}.", steps=listed(names)).write(session.units)
    return choose(parent, tell("Out of order"), says, tell("Tick it all the same"), tell("Leave it")) == 0
