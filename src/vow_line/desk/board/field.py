"""A value on the drawing, edited in place."""

from collections.abc import Callable
from typing import Literal

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFocusEvent, QFont, QFontMetrics, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QLineEdit, QWidget

from ...core.errors import VowLineError
from ...core.language import spoken
from ...core.quantity import Kind, Q, Units, write
from ...core.texts import tell
from ...core.typed import read
from ..hands import only_held
from ..look.ink import BOLD, SEMI, type_
from ..look.words import Words

LARGE, COMPACT = 18, 15
Grows = Literal["left", "right", "both"]


class Field(QLineEdit):
    """One value: shown with its unit, typed in any unit, taken on Enter or when the focus goes on.

    It is of no value before it is taken up. `enter` is called with the number; what it raises is shown beside the field, and
    the text stays to be mended.
    """

    focused = Signal(object)
    taken = Signal(object)
    left = Signal(object)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("callout")
        self.holder = parent
        self._wrong: Words | None = None
        self._is: object = None
        self.returnPressed.connect(self._entered)
        self.textChanged.connect(self._fit)

    def take_up(
        self,
        kind: Kind,
        name: str,
        enter: Callable[[float], None],
        quiet: bool,
        centred: bool = False,
        unasked: bool = False,
    ) -> None:
        """Be the field of this value from now on, the value still to be shown: to make one anew takes longer."""
        self.kind, self.enter, self.quiet = kind, enter, quiet
        self._doubted = ""
        self._of: tuple[float | None, Units] | None = None
        self.doubts: Callable[[float], str] = lambda _: ""
        is_ = kind, name, quiet, centred, unasked, spoken()
        if is_ == self._is:
            return
        self._is = is_
        self._shown = ""
        self.units = Units()
        self.grows: Grows = "both" if centred else "right"
        self.setFont(type_(14, SEMI) if quiet else type_(LARGE, BOLD))
        self.setFixedHeight(23 if quiet else 28)
        self.setAlignment(Qt.AlignmentFlag.AlignHCenter if centred else Qt.AlignmentFlag.AlignLeft)
        self.setAccessibleName(name)
        self.setPlaceholderText(tell("again") if quiet else tell("assumed") if unasked else tell("not yet"))
        self.setText("")
        self._right()
        self._fit()

    @property
    def wrong(self) -> Words:
        """What is wrong with it: made when it is wanted, as there are fields by the score."""
        if self._wrong is None:
            self._wrong = Words(self.holder)
            self._wrong.setObjectName("wrong")
            self._wrong.setWordWrap(True)
            self._wrong.hide()
        return self._wrong

    def show_value(self, value: float | None, units: Units) -> None:
        """Show a value, unless the maker is typing another one."""
        if self._of == (value, units) and self.text() == self._shown and not self.property("wrong"):
            return
        self._of = value, units
        typing = self.text() != self._shown and (self.hasFocus() or bool(self.property("wrong")))
        self.units = units
        self._shown = "" if value is None else write(Q(self.kind, value), units)
        if typing:
            return
        if self.text() != self._shown:
            self.setText(self._shown)
            if self.hasFocus():
                self.selectAll()
        if self.property("wrong"):
            self._right()

    def compact(self, yes: bool) -> None:
        """In a row without much room its figures are a little smaller."""
        if not self.quiet and (self.font().pixelSize() < LARGE) is not yes:
            self.setFont(type_(COMPACT if yes else LARGE, BOLD))
            self._fit()

    @property
    def full_px(self) -> int:
        """How wide it is with figures as large as they are where there is room."""
        return self._wide(type_(LARGE, BOLD)) if not self.quiet else self.width()

    def _wide(self, font: QFont) -> int:
        return max(QFontMetrics(font).horizontalAdvance(self.text() or self.placeholderText()) + 18, 44)

    def _fit(self) -> None:
        wide = self._wide(self.font())
        if wide != self.width():
            more = wide - self.width()
            self.setFixedWidth(wide)
            by = {"left": more, "both": more // 2}.get(self.grows, 0) if self.isVisible() else 0
            if by:
                self.move(self.x() - by, self.y())

    def grow(self, way: Grows) -> None:
        """Which way it grows as more is typed: its other side stays."""
        if way != self.grows or way == "both":
            self.grows = way
            self.setAlignment(
                {"left": Qt.AlignmentFlag.AlignRight, "both": Qt.AlignmentFlag.AlignHCenter}.get(
                    way, Qt.AlignmentFlag.AlignLeft
                )
            )

    def _entered(self) -> None:
        """Take what was typed; what is doubtful is asked about once."""
        text = self.text().strip()
        if text and text not in (self._shown, self._doubted):
            try:
                doubt = self.doubts(read(self.kind, text, self.units))
            except VowLineError:
                doubt = ""
            if doubt:
                self._doubted = text
                self._show_wrong(doubt)
                return
        if self._take():
            self.taken.emit(self)

    def _take(self) -> bool:
        if self.text().strip() == self._shown or not self.text().strip():
            self.setText(self._shown)
            self._right()
            return True
        try:
            self.enter(read(self.kind, self.text(), self.units))
        except VowLineError as error:
            self._show_wrong(f"{error.what} {error.mend}".strip())
            return False
        self._right()
        self.setText(self._shown)
        self.selectAll()
        return True

    def settled(self) -> bool:
        """Take what is half typed; false where it is refused."""
        return self.text() == self._shown or self._take()

    def give_up(self) -> None:
        """Show the value as it stands, whatever was typed."""
        self.setText(self._shown)
        self._right()

    def put(self, value: float) -> bool:
        """Enter a value as if it had been typed; what refuses it is shown beside the field. False when refused."""
        try:
            self.enter(value)
        except VowLineError as error:
            self._show_wrong(f"{error.what} {error.mend}".strip())
            return False
        self._right()
        self.setText(self._shown)
        return True

    def _show_wrong(self, says: str) -> None:
        self.setProperty("wrong", True)
        self._restyle()
        self.wrong.setText(says)
        self.wrong.setFont(type_(14))
        self.wrong.setFixedWidth(260)
        self.wrong.adjustSize()
        holder = self.holder
        x = min(self.x(), holder.width() - 270)
        y = self.y() + self.height() + 2
        if y + self.wrong.height() > holder.height():
            y = self.y() - self.wrong.height() - 2
        self.wrong.move(max(x, 4), y)
        self.wrong.show()
        self.wrong.raise_()
        self.setAccessibleDescription(says)

    def _right(self) -> None:
        if self.property("wrong"):
            self.setProperty("wrong", False)
            self._restyle()
            self.setAccessibleDescription("")
        if self._wrong is not None:
            self._wrong.hide()

    def _restyle(self) -> None:
        self.style().unpolish(self)
        self.style().polish(self)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self._doubted = ""
        self.selectAll()
        self.focused.emit(self)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        super().mouseReleaseEvent(event)
        if not self.hasSelectedText():
            self.selectAll()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        if event.reason() != Qt.FocusReason.PopupFocusReason:
            self.deselect()
            self._take()
            self.deselect()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if only_held(event) and event.key() != Qt.Key.Key_Space:
            return
        if event.key() == Qt.Key.Key_Escape:
            if self.text() == self._shown and not self.property("wrong"):
                self.left.emit(self)
                return
            self.give_up()
            self.selectAll()
            return
        super().keyPressEvent(event)
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            event.accept()  # it was for this field, not for the board

    def put_by(self) -> None:
        """Take the field and its message off the board; what is half typed in it goes with it."""
        self._shown = self.text()
        self.hide()
        self._right()
