"""Body and choices to pieces and joins: the taut wrap, the draw-out, the assembly, and one module per kind of piece."""

from .assembly import Assembly
from .drafted import Draft
from .pieces import Edge, Piece
from .seam_line import Ply, SeamLine

__all__ = ["Assembly", "Draft", "Edge", "Piece", "Ply", "SeamLine"]
