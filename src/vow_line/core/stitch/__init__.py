"""Edges to seams: where the holes fall, which strikes make them, and what stack lies under each."""

from .choices import StitchChoices
from .seams import Seam
from .stitching import Stitching, stitch

__all__ = ["Seam", "StitchChoices", "Stitching", "stitch"]
