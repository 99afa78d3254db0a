"""Drawing real things at true scale, with the values on them edited in place."""

from .board import Board
from .made import MadeView, paint_made
from .scene import Inset, Scene, Turning, Worn

__all__ = ["Board", "Inset", "MadeView", "Scene", "Turning", "Worn", "paint_made"]
