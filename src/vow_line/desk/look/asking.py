"""A question with its answers in words."""

from PySide6.QtWidgets import QMessageBox, QPushButton, QWidget

from .ink import SEMI, type_


def choose(parent: QWidget, title: str, says: str, *answers: str) -> int | None:
    """Ask, and give the number of the answer, or nothing for Escape. The last answer is what Enter presses: it changes
    nothing.
    """
    asked = QMessageBox(parent)
    asked.setObjectName("question")
    asked.setWindowTitle(title)
    asked.setText(says)
    buttons = [QPushButton(answer, asked) for answer in answers]
    for button in buttons:
        button.setFont(type_(15, SEMI))
        asked.addButton(button, QMessageBox.ButtonRole.ActionRole)
    asked.setDefaultButton(buttons[-1])
    asked.setEscapeButton(buttons[-1])
    asked.exec()
    pressed = asked.clickedButton()
    asked.deleteLater()
    return next((k for k, button in enumerate(buttons) if button is pressed), None)
