"""Whom a job is for: another wearer, side or size of it, and which one is in hand."""

from ...core import wearers
from ...core.texts import tell
from ..session import Session


def one_more(session: Session) -> None:
    """Measure one more; what it is called is asked with the other names."""
    if not session.open:
        return
    name = session.job.thing.name
    taken = {w.thing.name for w in session.job.wearers}
    new = next(n for k in range(2, 99) if (n := tell("{name}, {k}", name=name, k=k)) not in taken)
    if session.do(tell("one more to be made for"), lambda j: wearers.one_more(j, name=new)):
        session.go("measure")


def next_one(session: Session) -> None:
    """Take the next one in hand."""
    if session.open and session.job.others:
        numbers = [w.number for w in session.job.wearers]
        after = numbers[(numbers.index(session.job.wearer) + 1) % len(numbers)]
        session.do(tell("turn to another"), lambda j: wearers.turn_to(j, after))


def one_fewer(session: Session) -> None:
    """Take the one in hand out of the job."""
    session.do(tell("one fewer to be made for"), wearers.one_fewer)
