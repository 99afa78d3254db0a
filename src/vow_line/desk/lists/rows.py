"""Lists of rows painted like a slip of paper: sums, findings and steps are all rows."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal

from PySide6.QtCore import (
    QAbstractListModel,
    QEvent,
    QModelIndex,
    QObject,
    QPersistentModelIndex,
    QPoint,
    QRect,
    QSize,
    Qt,
    Signal,
)  # fmt: skip
from PySide6.QtGui import QColor, QFont, QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPen, QResizeEvent
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from ...core.quantity import Units
from ...core.texts import said, tell
from ..hands import only_held
from ..look.ink import BOLD, DAY, SEMI, Ink, type_

KINDS = {"hold": said("Hold"), "look": said("Look"), "note": said("Note")}

Index = QModelIndex | QPersistentModelIndex


@dataclass(frozen=True)
class Row:
    """One row. `ticked` is None when it cannot be ticked; `action` is what Enter does, shown at its right."""

    key: str
    kind: Literal["sum", "hold", "look", "note", "step", "head"]
    name: str
    value: str = ""
    detail: str = ""
    more: tuple[str, ...] = ()
    action: str = ""
    ticked: bool | None = None
    marks: tuple[str, ...] = ()
    caution: str = ""
    accepted: bool = False
    ruled: bool = False

    def spoken(self) -> str:
        """The row as words, for those who hear it."""
        parts = [KINDS[self.kind].write(Units()) if self.kind in KINDS else "", self.name, self.value, self.detail]
        if self.ticked is not None:
            parts.append(tell("done") if self.ticked else tell("not done"))
        if self.caution:
            parts.append(self.caution)
        if self.action:
            parts.append(tell("Enter: {action}", action=self.action))
        return ". ".join(p for p in parts if p)


class Rows(QAbstractListModel):
    """The rows as a model; what changed is told, so that a focus stays where it is."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.rows: tuple[Row, ...] = ()

    def show(self, rows: tuple[Row, ...]) -> None:
        """Show these rows instead."""
        if [r.key for r in rows] == [r.key for r in self.rows]:
            changed = [k for k, (old, new) in enumerate(zip(self.rows, rows, strict=True)) if old != new]
            self.rows = rows
            for k in changed:
                self.dataChanged.emit(self.index(k), self.index(k))
            return
        self.beginResetModel()
        self.rows = rows
        self.endResetModel()

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.rows)

    def flags(self, index: Index) -> Qt.ItemFlag:
        row = self.rows[index.row()] if index.isValid() else None
        usable = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return Qt.ItemFlag.NoItemFlags if row is None or row.kind == "head" else usable

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid():
            return None
        row = self.rows[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return row.spoken()
        if role == Qt.ItemDataRole.UserRole:
            return row
        if role == Qt.ItemDataRole.ToolTipRole:
            return row.caution or None
        return None


class RowList(QListView):
    """A list of rows. `pointed` names the row under the pointer or the focus; `acted` and `ticked` what was asked."""

    pointed = Signal(object)
    acted = Signal(object)
    ticked = Signal(object)
    widened = Signal()

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName(name)
        self.setAccessibleName(name)
        self.ink: Ink = DAY
        self.model_ = Rows(self)
        self.setModel(self.model_)
        self.setItemDelegate(_RowPainter(self))
        self.setMouseTracking(True)
        self.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.unfolded: set[str] = set()
        self.lit: frozenset[str] = frozenset()

    def show_rows(self, rows: tuple[Row, ...]) -> None:
        """Show these rows."""
        self.model_.show(rows)
        first = next((k for k, row in enumerate(rows) if row.kind != "head"), None)
        if first is not None and not self.currentIndex().isValid():
            self.setCurrentIndex(self.model_.index(first))

    @property
    def rows(self) -> tuple[Row, ...]:
        """The rows shown."""
        return self.model_.rows

    def resizeEvent(self, event: QResizeEvent) -> None:
        widened = event.size().width() != event.oldSize().width()
        if widened:
            self.scheduleDelayedItemsLayout()  # at once: by itself the view waits a tenth of a second, rows over each other
        super().resizeEvent(event)
        if widened:
            self.widened.emit()

    def content_height(self) -> int:
        """The height of all rows together."""
        return sum(self.sizeHintForRow(i) for i in range(len(self.rows)))

    def light(self, marks: frozenset[str]) -> None:
        """Light up the rows that measure any of these marks."""
        if marks != self.lit:
            self.lit = marks
            self.viewport().update()

    def currentChanged(self, current: Index, previous: Index) -> None:
        super().currentChanged(current, previous)
        if current.isValid() and self.hasFocus():
            self.pointed.emit(self.rows[current.row()])
        self.viewport().update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        index = self.indexAt(event.position().toPoint())
        self.pointed.emit(self.rows[index.row()] if index.isValid() else None)
        super().mouseMoveEvent(event)

    def leaveEvent(self, event: QEvent) -> None:
        self.pointed.emit(None)
        super().leaveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        super().mouseReleaseEvent(event)
        index = self.indexAt(event.position().toPoint())
        if not index.isValid() or event.button() != Qt.MouseButton.LeftButton:
            return
        row, box = self.rows[index.row()], self.visualRect(index)
        if row.ticked is not None and event.position().x() < box.left() + 46:
            self.ticked.emit(row)
        elif row.action and event.position().x() > box.right() - self.action_width(row) - 20:
            self.acted.emit(row)
        elif row.more:
            self._unfold(row)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if only_held(event):
            return
        index = self.currentIndex()
        if index.isValid():
            row = self.rows[index.row()]
            if event.key() == Qt.Key.Key_Space and row.ticked is not None:
                self.ticked.emit(row)
                return
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                if row.action:
                    self.acted.emit(row)
                elif row.ticked is not None:
                    self.ticked.emit(row)
                elif row.more:
                    self._unfold(row)
                return
        super().keyPressEvent(event)

    def action_width(self, row: Row) -> int:
        """Pixels the action's word takes."""
        return QFontMetrics(type_(15, SEMI)).horizontalAdvance(row.action)

    def _unfold(self, row: Row) -> None:
        self.unfolded ^= {row.key}
        self.scheduleDelayedItemsLayout()
        self.viewport().update()


@lru_cache(4096)
def _height(px: int, weight: QFont.Weight, wide: int, text: str) -> int:
    """The height of text wrapped to `wide` pixels; asked for again at every edit, and rarely different."""
    room = QRect(0, 0, wide, 10_000)
    return QFontMetrics(type_(px, weight)).boundingRect(room, int(Qt.TextFlag.TextWordWrap), text).height()


class _RowPainter(QStyledItemDelegate):
    """Paints rows in the bench's ink."""

    def __init__(self, rows: RowList) -> None:
        super().__init__(rows)
        self.list = rows

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        row: Row = index.data(Qt.ItemDataRole.UserRole)
        wide = self.list.viewport().width()
        return QSize(wide, self._lay(row, wide, None))

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        row: Row = index.data(Qt.ItemDataRole.UserRole)
        ink = self.list.ink
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        focused = bool(option.state & QStyle.StateFlag.State_HasFocus) and self.list.hasFocus()
        hovered = bool(option.state & QStyle.StateFlag.State_MouseOver)
        box = option.rect
        lit = bool(self.list.lit & set(row.marks))
        if (lit or hovered) and row.kind != "head":
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(ink.colour("glow", 255 if lit else 110))
            painter.drawRoundedRect(box.adjusted(4, 1, -4, -1), 3, 3)
        if focused:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(ink.colour("woad"), 2))
            painter.drawRoundedRect(box.adjusted(5, 2, -5, -2), 3, 3)
        painter.translate(box.topLeft())
        self._lay(row, box.width(), painter)
        painter.restore()

    def _lay(self, row: Row, wide: int, painter: QPainter | None) -> int:
        """Lay the row out in `wide` pixels, painting it when there is a painter; gives its height."""
        match row.kind:
            case "head":
                return self._head(row, wide, painter)
            case "hold" | "look" | "note":
                return self._finding(row, wide, painter)
            case "step":
                return self._step(row, wide, painter)
            case _:
                return self._sum(row, wide, painter)

    def _text(
        self, painter: QPainter | None, font: Any, colour: QColor, x: int, y: int, wide: int, text: str,
        align: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignLeft,
    ) -> int:  # fmt: skip
        """Write wrapped text, or only measure it; gives its height."""
        flags = int(Qt.TextFlag.TextWordWrap) | int(align)
        high = _height(font.pixelSize(), font.weight(), max(wide, 10), text)
        if painter is not None:
            painter.setFont(font)
            painter.setPen(colour)
            painter.drawText(QRect(x, y, wide, high + 4), flags, text)
        return high

    def _head(self, row: Row, wide: int, painter: QPainter | None) -> int:
        ink = self.list.ink
        y = 10
        if row.ruled:
            if painter:
                painter.setPen(QPen(ink.colour("rules"), 1))
                painter.drawLine(QPoint(20, 8), QPoint(wide - 20, 8))
            y = 16
        return y + self._text(painter, type_(14, SEMI), ink.colour("quiet"), 20, y, wide - 40, row.name) + 4

    def _sum(self, row: Row, wide: int, painter: QPainter | None) -> int:
        ink = self.list.ink
        value_font, name_font = type_(17, BOLD), type_(15)
        value_wide = QFontMetrics(value_font).horizontalAdvance(row.value)
        room = wide - 40 - value_wide - 12
        high = self._text(painter, name_font, ink.colour("ink"), 20, 6, room, row.name)
        self._text(
            painter, value_font, ink.colour("woad" if "thread" in row.key else "ink"), wide - 20 - value_wide - 2, 4,
            value_wide + 4, row.value,
        )  # fmt: skip
        y = 6 + max(high, 20)
        details = [row.detail, *(row.more if row.key in self.list.unfolded else ())]
        if row.more and row.key not in self.list.unfolded:
            details[0] = f"{row.detail} …"
        for text in filter(None, details):
            y += self._text(painter, type_(13), ink.colour("quiet"), 20, y, wide - 40, text)
        return y + 4

    def _finding(self, row: Row, wide: int, painter: QPainter | None) -> int:
        ink = self.list.ink
        colour = {"hold": "madder", "look": "weld", "note": "quiet"}[row.kind]
        word = tell("accepted") if row.accepted else KINDS[row.kind].write(Units())
        if row.accepted:
            colour = "verdigris"
        action = self.list.action_width(row) + 22 if row.action else 0
        room = wide - 96 - 16 - action
        high = self._text(painter, type_(15), ink.colour("ink"), 96, 8, room, row.name)
        if row.detail:
            high += self._text(painter, type_(13), ink.colour("quiet"), 96, 8 + high, room, row.detail)
        self._text(painter, type_(15, BOLD), ink.colour(colour), 20, 8, 76, word)
        if painter:
            painter.fillRect(QRect(0, 0, 5, high + 16), ink.colour(colour))
            if row.action:
                self._text(painter, type_(15, SEMI), ink.colour(colour), wide - 8 - action, 8, action - 6, row.action,
                           Qt.AlignmentFlag.AlignRight)  # fmt: skip
                painter.setPen(QPen(ink.colour(colour), 1))
                painter.drawLine(wide - 14 - self.list.action_width(row), 28, wide - 14, 28)
        return high + 16

    def _step(self, row: Row, wide: int, painter: QPainter | None) -> int:
        ink = self.list.ink
        done = bool(row.ticked)
        value_wide = QFontMetrics(type_(14)).horizontalAdvance(row.value)
        high = self._text(painter, type_(16, SEMI), ink.colour("quiet" if done else "ink"), 48, 8,
                          wide - 48 - 28 - value_wide, row.name)  # fmt: skip
        self._text(painter, type_(14), ink.colour("quiet"), wide - 18 - value_wide, 9, value_wide + 4, row.value)
        y = 8 + high
        if not done:
            if row.detail:
                y += self._text(painter, type_(13), ink.colour("quiet"), 48, y + 1, wide - 66, row.detail)
            if row.caution:
                y += self._text(painter, type_(13, SEMI), ink.colour("weld"), 48, y + 3, wide - 66, row.caution) + 2
        if painter:
            box = QRect(20, 10, 17, 17)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(ink.colour("verdigris" if done else "quiet"), 1.6))
            painter.drawRoundedRect(box, 3, 3)
            if done:
                painter.setPen(QPen(ink.colour("verdigris"), 2.6))
                painter.drawPolyline([QPoint(23, 18), QPoint(27, 23), QPoint(35, 11)])
        return y + 9
