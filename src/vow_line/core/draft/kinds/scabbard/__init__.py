"""A case of wood for a blade or a stone, in a leather cover, hung by a frog."""

from .draft import Scabbard
from .frog import Frog

__all__ = ["Frog", "Scabbard"]
