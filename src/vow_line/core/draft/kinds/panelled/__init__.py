"""What is put together from panels: a waistcoat, an apron's bib, a mask."""

from .collar import Collar
from .draft import Panelled
from .meets import Halves, Meet

__all__ = ["Collar", "Halves", "Meet", "Panelled"]
