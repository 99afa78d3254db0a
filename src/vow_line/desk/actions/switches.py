"""What is one way or another: the job's units, the bench by day or evening, how large it is, sounds."""

from PySide6.QtGui import QGuiApplication

from ...core.job import change
from ...core.texts import tell
from ...workshop.workshop import LARGER
from ..look.ink import LEAST_PX
from ..session import Session


def units(session: Session) -> None:
    """Millimetres to inches and back."""
    if session.open:
        unit = "in" if session.job.unit == "mm" else "mm"
        session.do(tell("switch units"), lambda j: change(j, "unit", unit))


def leather_units(session: Session) -> None:
    """Leather in mm to ounces and back."""
    if session.open:
        unit = "oz" if session.job.leather_unit == "mm" else "mm"
        session.do(tell("switch leather units"), lambda j: change(j, "leather_unit", unit))


def ink(session: Session) -> None:
    """Day to evening and back; kept for next time."""
    session.prefer(ink="evening" if session.preferences.ink == "day" else "day")


def larger(session: Session) -> None:
    """Everything larger by a step, as far as the screen has room for a bench, then as it was; from the next start on."""
    screen = QGuiApplication.primaryScreen()
    whole = screen.availableSize() * screen.devicePixelRatio()
    most = 100 * min(whole.width() / LEAST_PX[0], whole.height() / LEAST_PX[1])
    now = session.preferences.larger
    new = next((k for k in LARGER if int(now) < int(k) <= most), LARGER[0])
    session.prefer(larger=new)
    if new == now:
        session.say(tell("This screen has no room for a larger bench."))
    elif new == LARGER[0]:
        session.say(tell("As large as it was made, when the program is begun anew."))
    else:
        session.say(tell("{share} % as large, when the program is begun anew.", share=new))


def asks(session: Session) -> None:
    """What is measured next asked in letters that are read from two metres, or in ordinary ones; kept for next time."""
    across = session.preferences.asks == "here"
    session.prefer(asks="across" if across else "here")
    session.say(tell("What is to be read next is asked so that a helper sees it from two metres.") if across else
                tell("What is to be read next is asked as before."))  # fmt: skip


def sounds(session: Session) -> None:
    """A sound at every pass, or none; kept for next time."""
    session.prefer(sounds="off" if session.preferences.sounds == "on" else "on")
    session.say(tell("Sounds while sewing are {sounds}.", sounds=session.preferences.sounds))
