"""The made thing, seen from outside and from behind: pieces folded and sewn together flat, from what joins them."""

from .made import Face, Made, made, placed
from .marking import Marking, markings

__all__ = ["Face", "Made", "Marking", "made", "markings", "placed"]
