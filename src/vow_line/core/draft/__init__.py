"""Body and choices to pieces: the taut wrap, the draw-out, and one module per kind of piece."""

from .pieces import Draft, Edge, Piece, Placed, Ply, SeamLine

__all__ = ["Draft", "Edge", "Piece", "Placed", "Ply", "SeamLine"]
