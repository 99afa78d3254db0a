"""Painting done once and played again: where words go is found off the main thread, and painted there in no time."""

from collections.abc import Callable
from typing import TYPE_CHECKING, Any, cast

if TYPE_CHECKING:
    from PySide6.QtGui import QPainter


class Recorded:
    """What was painted, to be painted again."""

    def __init__(self, paint: "Callable[[QPainter], None]") -> None:
        self._calls: list[tuple[str, tuple[Any, ...]]] = []
        paint(cast("QPainter", self))

    def __getattr__(self, name: str) -> Callable[..., None]:
        return lambda *given: self._calls.append((name, given))

    def play(self, painter: "QPainter") -> None:
        """Paint it."""
        for name, given in self._calls:
            getattr(painter, name)(*given)
