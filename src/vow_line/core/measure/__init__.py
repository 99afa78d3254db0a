"""Readings to body: what was measured, how well it agrees, and the axis with sections that follows from it."""

from .body import (
    Body,
    BoxBody,
    FittingBody,
    GirthBody,
    LimbBody,
    LongBody,
    Measured,
    MouldedBody,
    PanelsBody,
    RoundBody,
    ShaftBody,
    ToolBody,
    ToolsBody,
)
from .readings import Reading, Taken
from .thing import Thing
from .things import THINGS, AnyThing
from .trial import Correction, Trial, corrected

__all__ = [
    "THINGS",
    "AnyThing",
    "Body",
    "BoxBody",
    "Correction",
    "FittingBody",
    "GirthBody",
    "LimbBody",
    "LongBody",
    "Measured",
    "MouldedBody",
    "PanelsBody",
    "Reading",
    "RoundBody",
    "ShaftBody",
    "Taken",
    "Thing",
    "ToolBody",
    "ToolsBody",
    "Trial",
    "corrected",
]
