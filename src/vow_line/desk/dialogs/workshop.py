"""Tools, threads and what was measured put into the workshop's book, and taken out of it."""

from PySide6.QtWidgets import QInputDialog, QWidget

from ...core import steps
from ...core.measure.kept import KeptThing
from ...core.quantity import Units
from ...core.stitch.tools import of_choices
from ...core.texts import dated_on, said, tell, verbatim
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


def keep_measured(session: Session, parent: QWidget, name: str | None = None) -> None:
    """Keep what was measured for this job, dated today where no day was said; what had that name is replaced."""
    if not session.open:
        return
    job = session.job
    usual = tell("{thing} of {whose}", thing=job.thing.name, whose=job.whose) if job.whose else job.thing.name
    named = name or _ask(parent, tell("Whose it is, or what"), usual)
    if named:
        kept = KeptThing.now(named, job.thing, session.now().date())
        session.workshop.keep_measured(kept)
        if not job.vowed:
            session.do(tell("date the readings"), lambda j: steps.take_measured(j, thing=kept.thing))
        session.say(tell("Kept: {named}. Every job for such a thing can take it.", named=named))


def take_measured(session: Session, parent: QWidget, name: str | None = None) -> None:
    """Take what was measured before of such a thing."""
    if not session.open:
        return
    alike = {k.name: k for k in session.workshop.measured() if type(k.thing) is type(session.job.thing)}
    if not alike:
        session.say(tell("Nothing of this sort is kept in the workshop yet."), wrong=True)
        return
    if name is None:
        words = {
            said("{name}, {day}", name=verbatim(n), day=dated_on(k.on)).write(Units()): n for n, k in alike.items()
        }
        chosen, yes = QInputDialog.getItem(parent, tell("The workshop"), tell("Take"), list(words), editable=False)
        name = words[chosen] if yes else None
    if name and session.do(tell("take what was measured"), lambda j: steps.take_measured(j, thing=alike[name].thing)):
        session.say(tell("Taken: {name}. This job has its own copy.", name=name))


def forget_kept(session: Session, parent: QWidget, name: str | None = None) -> None:
    """Take a tool, a thread or what was measured out of the workshop."""
    book = session.workshop
    kept = [*(t.name for t in book.tools()), *(t.name for t in book.threads()), *(k.name for k in book.measured())]
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
