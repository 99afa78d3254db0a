"""A sheath folded at the spine, with a welt along the edge."""

from .draft import FoldedSheath

__all__ = ["FoldedSheath"]
