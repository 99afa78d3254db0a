"""What is one way or another: the job's units, the bench by day or evening, sounds."""

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
    now = LARGER.index(session.preferences.larger)
    screen = QGuiApplication.primaryScreen()
    whole = screen.availableSize() * screen.devicePixelRatio()
    fits = [k for k in LARGER if min(whole.width() / LEAST_PX[0], whole.height() / LEAST_PX[1]) * 100 >= int(k)] or [
        "100"
    ]
    new = LARGER[(now + 1) % len(LARGER)]
    if new not in fits:
        new = "100"
    session.prefer(larger=new)
    session.say(
        tell("Everything is as large as it was made; it will be so when the program is begun anew.") if new == "100"
        else tell("Everything will be {share} % as large when the program is begun anew.", share=new)
    )  # fmt: skip


def sounds(session: Session) -> None:
    """A sound at every pass, or none; kept for next time."""
    session.prefer(sounds="off" if session.preferences.sounds == "on" else "on")
    session.say(tell("Sounds while sewing are {sounds}.", sounds=session.preferences.sounds))
