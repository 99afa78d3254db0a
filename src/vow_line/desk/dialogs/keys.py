"""The keys, as a table: those of the station one stands at first."""

from collections.abc import Mapping, Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import (
    QAbstractItemView,
    QDialog,
    QHeaderView,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...core.texts import tell
from ..look.ink import BOLD, SEMI, type_
from ..look.words import Words


class KeysDialog(QDialog):
    """Every action that has a key and its key; `here` are the names of those of the station, whose `title` is above them."""

    def __init__(self, actions: Mapping[str, QAction], here: Sequence[str], title: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tell("Keys"))
        keyed = {name: a for name, a in actions.items() if not a.shortcut().isEmpty()}
        first = [name for name in here if name in keyed]
        rows: list[tuple[str, str]] = []
        if title:
            rows = [(title, ""), *((_words(keyed[n]), keyed[n].shortcut().toString()) for n in first)]
            rows.append((tell("Everywhere"), ""))
        rows += [(_words(a), a.shortcut().toString()) for name, a in keyed.items() if name not in first]
        rows += [
            (tell("At Sew"), ""),
            (tell("The next hole"), tell("Space")),
            (tell("Back by a hole"), tell("Backspace")),
        ]
        rows += [
            (tell("At Measure"), ""),
            (tell("The next reading"), tell("Enter")),
            (tell("Leave the run"), tell("Escape")),
        ]
        self.table = QTableWidget(len(rows), 2, self)
        self.table.setAccessibleName(tell("Keys"))
        self.table.horizontalHeader().hide()
        self.table.verticalHeader().hide()
        self.table.setShowGrid(False)
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        for k, (words, key) in enumerate(rows):
            for column, text in enumerate((words, key)):
                item = QTableWidgetItem(text)
                item.setFont(type_(15, SEMI) if column else type_(15) if key else type_(15, BOLD))
                item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
                self.table.setItem(k, column, item)
        self.table.horizontalHeader().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self.table.horizontalHeader().setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
        self.table.setCurrentCell(0, 0)
        says = Words(tell("Escape closes this."), self)
        says.setObjectName("state")
        says.setFont(type_(14))
        under = QVBoxLayout(self)
        under.addWidget(self.table, 1)
        under.addWidget(says)
        self.resize(520, 600)


def _words(action: QAction) -> str:
    return action.text().replace("&", "")
