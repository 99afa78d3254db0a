"""Breaking the vow, which is asked about."""

from PySide6.QtWidgets import QWidget

from ...core.texts import dated_on, tell
from ..look.asking import choose
from ..session import Session


def ask_to_break(session: Session, parent: QWidget) -> None:
    """Ask whether the vow is to be broken, and break it."""
    vowed = session.job.vowed if session.open else None
    if vowed is None:
        return
    says = tell(
        "Revision {n}, vowed on {day}, is broken: everything can change again. What is cut stays cut; the new pattern is "
        "laid over it. Nothing more is ticked off until the plan is vowed anew.",
        n=vowed.revision,
        day=dated_on(vowed.at),
    )
    if choose(parent, tell("Break the vow"), says, tell("Break the vow"), tell("Leave it vowed")) == 0:
        session.break_vow()
