"""A cover for the edge of a tool, sewn past it over a filler, in two parts or folded."""

from .draft import EdgeCover
from .straps import Straps

__all__ = ["EdgeCover", "Straps"]
