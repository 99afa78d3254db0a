"""A case of wood for a blade or a stone, in a leather cover."""

from .draft import Scabbard

__all__ = ["Scabbard"]
