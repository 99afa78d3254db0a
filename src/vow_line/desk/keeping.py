"""Tools and threads put into the workshop's book, and taken out of it."""

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QInputDialog

from ..core import job as steps
from ..core.stitch.tools import of_choices

if TYPE_CHECKING:
    from .window import Window


def keep_tool(window: "Window", name: str | None = None) -> None:
    """Keep the tool the holes of this job are made with, under a name; what had that name is replaced."""
    if window.store is None:
        return
    choices = window.store.job.stitch
    named = name or _ask(window, "The tool's name", choices.tool_name)
    if named:
        tool = of_choices(choices, named)
        window.workshop.keep_tool(tool)
        window.know_workshop()
        if not window.store.job.vowed:
            window.do("name the tool", lambda j: steps.take_tool(j, tool=tool))
        window.say(f"Kept: {named}. Every job's Stitch offers it.")


def keep_thread(window: "Window", name: str | None = None) -> None:
    """Keep the thread of this job, under a name; what had that name is replaced."""
    if window.store is None:
        return
    thread = window.store.job.thread.thread
    named = name or _ask(window, "The thread's name", thread.name)
    if named:
        window.workshop.keep_thread(thread.model_copy(update={"name": named}))
        window.know_workshop()
        window.say(f"Kept: {named}. Every job's Thread offers it.")


def forget_kept(window: "Window", name: str | None = None) -> None:
    """Take a tool or a thread out of the workshop."""
    kept = [*(t.name for t in window.workshop.tools()), *(t.name for t in window.workshop.threads())]
    if name is None:
        chosen, yes = QInputDialog.getItem(window, "The workshop", "Take out", kept, editable=False)
        name = chosen if yes else None
    if name:
        window.workshop.forget_kept(name)
        window.know_workshop()
        window.say(f"Taken out: {name}. Jobs that use it keep their own copy.")


def _ask(window: "Window", what: str, now: str) -> str:
    text, yes = QInputDialog.getText(window, "The workshop", what, text=now)
    return text.strip() if yes else ""
