"""The thread, its needles and the hand that draws them: everything the drawing has no room for."""

from PySide6.QtWidgets import QWidget

from ...core.job import Job
from ...core.texts import said, tell
from ...core.thread.choices import MATERIALS
from ..session import Session
from .values import Chosen, Numbers, ValuesDialog, ask

WORDS = (
    (said("its name"), "thread.thread.name"),
    (said("colour"), "thread.thread.colour"),
    (said("sold as"), "thread.thread.sold_as"),
)
CHOSEN: Chosen = (
    (said("made of"), "thread.thread.material", tuple((word, m) for m, word in MATERIALS.items())),
    (said("it comes"), "thread.thread.waxed", ((said("waxed"), True), (said("to be waxed"), False))),
    (said("first through is the needle at the"), "thread.first_needle", ((said("left hand"), "left"), (said("right hand"),
                                                                                                       "right"))),
    (said("the second goes"), "thread.second_needle", ((said("below the first thread"), "below"), (said("above it"), "above"))),
)  # fmt: skip
NUMBERS: Numbers = (
    (said("a metre costs"), "thread.thread.price_m", "money"), (said("needle, thick"), "thread.needle_thick_mm", "fine"),
    (said("the stack is known to"), "thread.stack_spread", "percent"), (said("the pitch is known to"), "thread.pitch_spread",
                                                                        "percent"),
    (said("the next job strays by"), "thread.slack.spread", "percent"),
)  # fmt: skip


class ThreadDialog(ValuesDialog):
    """Asks for what is known of the thread, its needles and the hand."""

    def __init__(self, job: Job, parent: QWidget) -> None:
        super().__init__(job, tell("Thread, needle and hand"), parent, words=WORDS, chosen=CHOSEN, numbers=NUMBERS)


def ask_thread(session: Session, parent: QWidget) -> None:
    """Ask for what is known of the thread, its needles and the hand."""
    if session.open:
        ask(session, ThreadDialog(session.job, parent), tell("thread, needle and hand"))
