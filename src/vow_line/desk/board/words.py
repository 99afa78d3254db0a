"""Words on a drawing."""

from functools import lru_cache

from PySide6.QtCore import Qt
from PySide6.QtGui import QFont, QStaticText


@lru_cache(500)
def laid(text: str, font: QFont) -> QStaticText:
    """Words laid out once: their size, and how they are painted."""
    words = QStaticText(text)
    words.setTextFormat(Qt.TextFormat.PlainText)
    words.prepare(font=font)
    return words
