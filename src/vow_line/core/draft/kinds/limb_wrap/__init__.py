"""The limb wrap: a cuff, a bracer, a gaiter, a legging."""

from .draft import LimbWrap, Tongue

__all__ = ["LimbWrap", "Tongue"]
