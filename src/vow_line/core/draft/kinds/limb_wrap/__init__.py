"""The limb wrap: a cuff, a bracer, a gaiter, a legging."""

from .closure import Tongue
from .draft import LimbWrap

__all__ = ["LimbWrap", "Tongue"]
