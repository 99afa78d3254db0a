"""Words on the screen. Names, notes and paths come from outside: no text is taken as markup, whatever stands in it."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QWidget


class Words(QLabel):
    """A label that shows its text as it is."""

    def __init__(self, text: str | QWidget | None = "", parent: QWidget | None = None) -> None:
        super().__init__(text if isinstance(text, QWidget) else parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        if isinstance(text, str):
            self.setText(text)
