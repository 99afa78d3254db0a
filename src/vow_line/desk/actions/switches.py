"""What is one way or another: the job's units, the bench by day or evening, sounds."""

from ...core.job import change
from ...core.texts import tell
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


def sounds(session: Session) -> None:
    """A sound at every pass, or none; kept for next time."""
    session.prefer(sounds="off" if session.preferences.sounds == "on" else "on")
    session.say(tell("Sounds while sewing are {sounds}.", sounds=session.preferences.sounds))
