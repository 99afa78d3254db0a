"""Any draft put together and checked by its own arithmetic, knowing no kind of piece.

Of the draft it reads pieces, joins, holes and where the body lies on the flat pieces, and it tests that lie too. It shares no
formula with what drafted them: lengths round a section are hulls by GEOS, edges are laid on each other by a singular value
decomposition, pockets are closed by walking round them.
"""

from .prove import Checked, Proof, prove

__all__ = ["Checked", "Proof", "prove"]
