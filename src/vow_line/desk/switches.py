"""What is one way or another: the job's units, the bench by day or evening, sounds."""

from dataclasses import replace
from typing import TYPE_CHECKING

from ..core.job import change
from .ink import INKS

if TYPE_CHECKING:
    from .window import Window


def units(window: "Window") -> None:
    """Millimetres to inches and back."""
    if window.store:
        unit = "in" if window.store.job.unit == "mm" else "mm"
        window.do("switch units", lambda j: change(j, "unit", unit))


def leather_units(window: "Window") -> None:
    """Leather in mm to ounces and back."""
    if window.store:
        unit = "oz" if window.store.job.leather_unit == "mm" else "mm"
        window.do("switch leather units", lambda j: change(j, "leather_unit", unit))


def ink(window: "Window") -> None:
    """Day to evening and back; kept for next time."""
    window.use_ink(INKS["evening" if window.ink.name == "day" else "day"])
    window.preferences = replace(window.preferences, ink=window.ink.name)  # type: ignore[arg-type]
    window.workshop.prefer(window.preferences)


def sounds(window: "Window") -> None:
    """A sound at every pass, or none; kept for next time."""
    window.preferences = replace(window.preferences, sounds="off" if window.preferences.sounds == "on" else "on")
    window.workshop.prefer(window.preferences)
    window.sew.sounds = window.preferences.sounds == "on"
    window.say(f"Sounds while sewing are {window.preferences.sounds}.")
