"""Drawing real things at true scale, with the values on them edited in place."""

from .board import Board
from .scene import Inset, Scene

__all__ = ["Board", "Inset", "Scene"]
