"""What can be done at a station: a quiet row of named actions under its page, each with its key."""

from collections.abc import Mapping, Sequence
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QWidget

from ...core.texts import tell
from ..look.ink import type_


class Offers(QWidget):
    """Shows as many of a station's actions that have an effect now as there is room for, those wanted most often first; the
    menus have all.
    """

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName(tell("What can be done here"))
        self._buttons: list[tuple[QPushButton, QAction]] = []
        self._shown: tuple[str, ...] = ()
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(16, 0, 16, 8)
        self._row.setSpacing(2)
        self._row.addStretch(1)
        self.setFixedHeight(36)

    def offer(self, names: Sequence[str], actions: Mapping[str, QAction]) -> None:
        """Offer these actions."""
        if tuple(names) != self._shown:
            self._shown = tuple(names)
            for button, _ in self._buttons:
                button.hide()
                button.deleteLater()
            self._buttons = [(self._made(actions[name]), actions[name]) for name in names]
            for k, (button, _) in enumerate(self._buttons):
                self._row.insertWidget(k, button)
        self._fit()

    def _made(self, action: QAction) -> QPushButton:
        keys = action.shortcut().toString()
        button = QPushButton(f"{action.text()}   {keys}" if keys else action.text(), self)
        button.setObjectName("offer")
        button.setFont(type_(14))
        button.setAccessibleName(action.text())
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        menu = action.menu()
        if isinstance(menu, QMenu):
            button.setMenu(menu)
        else:
            button.clicked.connect(partial(action.trigger))
        return button

    def _fit(self) -> None:
        left = self.width() - 32
        for button, action in self._buttons:
            left -= button.sizeHint().width() + 2 if action.isEnabled() else 0
            button.setVisible(left >= 0 and action.isEnabled())

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()
