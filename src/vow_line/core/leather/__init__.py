"""Leather: a stated piece of it, and the pattern pieces laid on it."""

from .hide import Hide
from .layout import Laid, Layout, lay_out

__all__ = ["Hide", "Laid", "Layout", "lay_out"]
