"""What is put together from panels: a waistcoat, an apron's bib, a mask."""

from .draft import Panelled
from .meets import Halves, Meet

__all__ = ["Halves", "Meet", "Panelled"]
