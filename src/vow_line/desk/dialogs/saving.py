"""Saving, and what is asked where the file was changed elsewhere."""

from PySide6.QtWidgets import QWidget

from ...core.texts import tell
from ..look.asking import choose
from ..session import Session


def save(session: Session, parent: QWidget) -> None:
    """Save; what was changed elsewhere is written over by nobody who did not choose it."""
    if not session.changed_elsewhere or session.path is None:
        session.save()
        return
    says = tell(
        "{file} was changed elsewhere since it was opened here. Both can be kept.\n\nIn its place: what is there now stays "
        "beside it, with ~ after its name. Opened instead: this is kept, and can be laid beside.",
        file=session.path.name,
    )
    answers = (
        tell("Save this beside it"),
        tell("Put this in its place"),
        tell("Open that instead"),
        tell("Leave both as they are"),
    )
    match choose(parent, tell("Changed elsewhere"), says, *answers):
        case 0:
            session.save_beside()
        case 1:
            session.save(over=True)
        case 2:
            session.open_file(session.path)
