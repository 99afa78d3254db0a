"""A question with its answers in words."""

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QMessageBox, QPushButton, QWidget

from ...core.texts import tell
from .ink import SEMI, type_


def choose(parent: QWidget, title: str, says: str, *answers: str) -> int | None:
    """Ask, and give the number of the answer, or nothing for Escape. The last answer is what Enter presses: it changes
    nothing.
    """
    asked = QMessageBox(parent)
    asked.setObjectName("question")
    asked.setWindowTitle(title)
    asked.setTextFormat(Qt.TextFormat.PlainText)
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


def ask_where(parent: QWidget, title: str, start: Path, kinds: str, suffix: str) -> Path | None:
    """Ask for a file to write, whose name ends in a suffix; one that is there is written over only where that is meant."""
    chosen, _ = QFileDialog.getSaveFileName(
        parent, title, str(start), kinds, options=QFileDialog.Option.DontConfirmOverwrite
    )
    if not chosen:
        return None
    path = Path(chosen)
    path = path if path.name.endswith(suffix) else path.with_name(path.name + suffix)
    return path if may_write_over(parent, [path]) else None


def may_write_over(parent: QWidget, paths: list[Path]) -> bool:
    """Whether those of these files that are there may be written over."""
    there = [path for path in paths if path.exists() or path.is_symlink()]
    if not there:
        return True
    says = tell("These are there already:\n\n{files}", files="\n".join(str(path) for path in there[:12]))
    return choose(parent, tell("Already there"), says, tell("Write &over"), tell("&Leave them")) == 0
