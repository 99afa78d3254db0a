"""Readings to body: what was measured, how well it agrees, and the axis with sections that follows from it."""

from .body import Body
from .knife import Knife
from .readings import Reading

__all__ = ["Body", "Knife", "Reading"]
