"""Tools and threads put into the workshop's book, and taken out of it."""

from PySide6.QtWidgets import QInputDialog, QWidget

from ...core import job as steps
from ...core.stitch.tools import of_choices
from ...core.texts import tell
from ..session import Session


def keep_tool(session: Session, parent: QWidget, name: str | None = None) -> None:
    """Keep the tool the holes of this job are made with, under a name; what had that name is replaced."""
    if not session.open:
        return
    choices = session.job.stitch
    named = name or _ask(parent, tell("The tool's name"), choices.tool_name)
    if named:
        tool = of_choices(choices, named)
        session.workshop.keep_tool(tool)
        session.restocked.emit()
        if not session.job.vowed:
            session.do(tell("name the tool"), lambda j: steps.take_tool(j, tool=tool))
        session.say(tell("Kept: {named}. Every job's Stitch offers it.", named=named))


def keep_thread(session: Session, parent: QWidget, name: str | None = None) -> None:
    """Keep the thread of this job, under a name; what had that name is replaced."""
    if not session.open:
        return
    thread = session.job.thread.thread
    named = name or _ask(parent, tell("The thread's name"), thread.name)
    if named:
        session.workshop.keep_thread(thread.model_copy(update={"name": named}))
        session.restocked.emit()
        session.say(tell("Kept: {named}. Every job's Thread offers it.", named=named))


def forget_kept(session: Session, parent: QWidget, name: str | None = None) -> None:
    """Take a tool or a thread out of the workshop."""
    kept = [*(t.name for t in session.workshop.tools()), *(t.name for t in session.workshop.threads())]
    if name is None:
        chosen, yes = QInputDialog.getItem(parent, tell("The workshop"), tell("Take out"), kept, editable=False)
        name = chosen if yes else None
    if name:
        session.workshop.forget_kept(name)
        session.restocked.emit()
        session.say(tell("Taken out: {name}. Jobs that use it keep their own copy.", name=name))


def _ask(parent: QWidget, what: str, now: str) -> str:
    text, yes = QInputDialog.getText(parent, tell("The workshop"), what, text=now)
    return text.strip() if yes else ""
