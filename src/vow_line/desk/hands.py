"""What a hand does to keys."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent

ACTING = (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space)


def only_held(event: QKeyEvent) -> bool:
    """Whether a key that acts is only held down since it acted: nothing is done a second time for that."""
    return event.isAutoRepeat() and event.key() in ACTING
