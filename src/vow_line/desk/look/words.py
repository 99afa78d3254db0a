"""Words on the screen. Names, notes and paths come from outside: no text is taken as markup, whatever stands in it."""

from PySide6.QtWidgets import QLabel, QWidget

PLAIN = 0  # Qt.TextFormat.PlainText; the first use of Qt's own names costs as much as half a window, and this is on the first


class Words(QLabel):
    """A label that shows its text as it is."""

    def __init__(self, text: str | QWidget | None = "", parent: QWidget | None = None) -> None:
        super().__init__(text if isinstance(text, QWidget) else parent)
        self.setTextFormat(type(self.textFormat())(PLAIN))
        if isinstance(text, str):
            self.setText(text)
