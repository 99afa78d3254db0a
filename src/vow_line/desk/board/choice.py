"""A choice on the drawing: what is chosen, and the others when they are asked for."""

from PySide6.QtCore import QPoint, QPointF, Qt, Signal
from PySide6.QtGui import QFontMetrics, QKeyEvent, QPainter, QPaintEvent, QPalette, QPen, QPolygonF
from PySide6.QtWidgets import QMenu, QPushButton, QWidget

from ..hands import only_held
from ..look.ink import BOLD, type_
from .drawn import COLUMN_PX, SENTENCE_PX

WORD_PX = 8  # beside its word, what a choice in a sentence takes
BESIDE_PX = 34  # beside its widest word, what a choice takes for its arrow and its edges
ARROW_PX = 4.0
Key = Qt.Key


class Choice(QPushButton):
    """Shows one of several words; arrows, letters or a list that opens below change it. `activated` says which was
    taken by hand.

    A button, as Qt's own box of choices makes ten widgets for a list that hardly any of them ever shows.
    """

    activated = Signal(int)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._choices: list[str] = []
        self._at = -1
        self._sized_for: object = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.pressed.connect(self.open)

    def offer(self, choices: list[str], at: int, in_sentence: bool) -> None:
        """Show the one at `at` of these: in a sentence as wide as that word, by itself as the widest."""
        self._choices = choices
        if bool(self.property("word")) != in_sentence:
            self.setProperty("word", in_sentence)
            self.style().unpolish(self)
            self.style().polish(self)
        self.setCurrentIndex(at)
        sized = in_sentence, self.currentText() if in_sentence else tuple(choices)
        if sized == self._sized_for:
            return
        self._sized_for = sized
        font = type_(SENTENCE_PX if in_sentence else 18, BOLD)
        self.setFont(font)
        metrics = QFontMetrics(font)
        if in_sentence:
            self.setFixedSize(metrics.horizontalAdvance(self.currentText()) + WORD_PX, 25)
        else:
            widest = max(metrics.horizontalAdvance(choice) for choice in choices)
            self.setFixedSize(min(widest + BESIDE_PX, COLUMN_PX - 20), 28)

    @property
    def choices(self) -> list[str]:
        """What there is to choose from."""
        return self._choices

    def currentIndex(self) -> int:
        """Which of them is shown."""
        return self._at

    def currentText(self) -> str:
        """The one that is shown."""
        return self._choices[self._at] if 0 <= self._at < len(self._choices) else ""

    def setCurrentIndex(self, at: int) -> None:
        """Show another."""
        self._at = at
        if self.text() != (says := self.currentText().replace("&", "&&")):
            self.setText(says)
            self.setAccessibleDescription(self.currentText())

    def take(self, at: int) -> None:
        """Be set to another by hand."""
        if at != self._at and 0 <= at < len(self._choices):
            self.setCurrentIndex(at)
            self.activated.emit(at)

    def open(self) -> None:
        """List what there is to choose from."""
        self.setDown(False)
        listed = QMenu(self)
        listed.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for k, choice in enumerate(self._choices):
            action = listed.addAction(choice.replace("&", "&&"))
            action.setCheckable(True)
            action.setChecked(k == self._at)
            action.triggered.connect(lambda _=False, k=k: self.take(k))
            if k == self._at:
                listed.setActiveAction(action)
        listed.setMinimumWidth(self.width())
        listed.popup(self.mapToGlobal(QPoint(0, self.height())))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, ahead = event.key(), bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        by = {
            Key.Key_Up: self._at - 1,
            Key.Key_Down: self._at + 1,
            Key.Key_Home: 0,
            Key.Key_End: len(self._choices) - 1,
        }
        if key in (Key.Key_Space, Key.Key_F4) or (ahead and key == Key.Key_Down):
            if not only_held(event):
                self.open()
        elif not ahead and key in by:
            self.take(min(max(by[Key(key)], 0), len(self._choices) - 1))
        elif event.text().isalnum() and not event.modifiers() & ~Qt.KeyboardModifier.ShiftModifier:
            after = [*range(self._at + 1, len(self._choices)), *range(self._at)]
            begins = (k for k in after if self._choices[k].casefold().startswith(event.text().casefold()))
            self.take(next(begins, self._at))
        else:
            event.ignore()

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if not self.property("word"):
            painter = QPainter(self)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            role = QPalette.ColorRole.WindowText if self.isEnabled() else QPalette.ColorRole.PlaceholderText
            painter.setPen(QPen(self.palette().color(role), 1.5))
            x, y = self.width() - 12.0, self.height() / 2 - 1.0
            painter.drawPolyline(
                QPolygonF([QPointF(x - ARROW_PX, y), QPointF(x, y + ARROW_PX), QPointF(x + ARROW_PX, y)])
            )
