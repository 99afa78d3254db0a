"""Beginning: what the thing is, and how it is to be carried, chosen from small drawings."""

from collections.abc import Callable, Sequence
from functools import cache

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen, QResizeEvent, QTransform
from PySide6.QtWidgets import QAbstractButton, QFrame, QGridLayout, QScrollArea, QVBoxLayout, QWidget

from ...core.draft.kind import KindOfPiece
from ...core.draft.kinds import KINDS
from ...core.drawing import Mark
from ...core.measure import THINGS, Thing
from ...core.plan import plan
from ...core.quantity import Units
from ...core.texts import heading, tell
from ...resources.demo import demo_jobs, sample_of
from ..board.painter import paint, paintable
from ..hands import only_held
from ..look.ink import BOLD, DAY, SEMI, Ink, type_
from ..look.words import Words

CARD = QSize(158, 150)
BESIDE_PX, APART_PX, MOST_COLUMNS = 48, 10, 24


class PictureButton(QAbstractButton):
    """A small drawing with words under it, to be chosen."""

    def __init__(self, name: str, says: str, marks: Sequence[Mark], parent: QWidget) -> None:
        super().__init__(parent)
        self.setCheckable(True)
        self.setAutoExclusive(False)
        self.setFixedSize(CARD)
        self.setAccessibleName(name)
        self.setAccessibleDescription(says)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_Hover)
        self.ink: Ink = DAY
        self.name, self.says = name, says
        self._marks = [m for m in marks if m.meaning not in ("hole", "edge", "dimension", "void")]

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink, box = self.ink, QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5)
        strong = self.hasFocus() or self.isChecked()
        painter.setPen(QPen(ink.colour("woad" if strong else "rules"), 2 if strong else 1))
        painter.setBrush(ink.colour("slip" if self.underMouse() or strong else "board"))
        painter.drawRoundedRect(box, 4, 4)
        points = np.concatenate([m.line for m in self._marks] or [np.zeros((1, 2))])
        low, high = points.min(axis=0), points.max(axis=0)
        room, size = box.adjusted(14, 12, -14, -60), np.maximum(high - low, 1)
        scale = min(room.width() / size[0], room.height() / size[1])
        middle = (low + high) / 2
        to_px = QTransform.fromTranslate(room.center().x(), room.center().y()).scale(scale, scale)
        painter.save()
        paint(painter, paintable(self._marks, scale), ink, to_px.translate(-middle[0], -middle[1]))
        painter.restore()
        painter.setFont(type_(16, BOLD))
        painter.setPen(ink.colour("ink"))
        words = QRectF(box.left() + 8, box.bottom() - 54, box.width() - 10, 52)
        painter.drawText(words, int(Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap), self.name)
        painter.setFont(type_(14))
        painter.setPen(ink.colour("quiet"))
        painter.drawText(
            words.adjusted(0, 22, 0, 0), int(Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap), self.says
        )
        if self.isChecked():
            painter.setPen(QPen(ink.colour("woad"), 3))
            corner = QPointF(box.right() - 26, box.top() + 20)
            painter.drawPolyline([corner, corner + QPointF(5, 6), corner + QPointF(15, -7)])

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if only_held(event):
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.focusNextPrevChild(event.key() == Qt.Key.Key_Right)
        else:
            super().keyPressEvent(event)


@cache
def _asked_for(thing: type[Thing]) -> tuple[int, int]:
    """What more is made for comes first: more jobs of the demo, then more kinds."""
    return -sum(isinstance(j.thing, thing) for j in demo_jobs().values()), -sum(
        issubclass(thing.gives, k.fits) for k in KINDS
    )


@cache
def _measured(thing: type[Thing]) -> tuple[Mark, ...]:
    """A thing of this sort, as it is drawn at Measure."""
    sample = sample_of(thing)
    return plan(sample).measured.marks if sample else thing.blank().measure().marks


@cache
def _drafted(kind: type[KindOfPiece]) -> tuple[Mark, ...]:
    """A piece of this kind as it is made, with the thing in it; nothing where the demo has none."""
    sample = sample_of(kind)
    if sample is None:
        return ()
    made = plan(sample).made
    assert made is not None
    return made.faces[0].marks


class BeginPage(QWidget):
    """Asks what the thing is and how it is carried; `chosen` carries the kind of thing and the kind of piece."""

    chosen = Signal(object, object)
    left = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.ink: Ink = DAY
        self.thing: type[Thing] | None = None
        self.title = Words(self)
        self.title.setFont(type_(30, BOLD))
        self.ask_thing, self.ask_kind = Words(tell("What is it?"), self), Words(tell("What is made for it?"), self)
        for label in (self.ask_thing, self.ask_kind):
            label.setFont(type_(18, SEMI))
        self._columns = 1
        self._things = _grid(self)
        self._kinds = _grid(self)
        whole, self._scroll, holder = QVBoxLayout(self), QScrollArea(self), QWidget(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(self._scroll)
        self._scroll.setFrameShape(QFrame.Shape.NoFrame)
        self._scroll.setWidgetResizable(True)
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._scroll.setWidget(holder)
        for see_through in (holder, self._scroll.viewport()):
            see_through.setAutoFillBackground(False)
        inside = QVBoxLayout(holder)
        inside.setContentsMargins(BESIDE_PX, 26, BESIDE_PX, 20)
        inside.setSpacing(8)
        for item in (self.title, self.ask_thing, self._things, self.ask_kind, self._kinds):
            inside.addWidget(item)
        inside.addStretch(1)

    def ask(self, ink: Ink, thing: type[Thing] | None = None) -> None:
        """Ask anew; with a thing that is measured already only how it is carried."""
        self.ink, self.thing = ink, thing
        self.title.setText(tell("Another kind") if thing else tell("Begin"))
        for widget in (self.ask_thing, self._things):
            widget.setVisible(thing is None)
        things = (
            []
            if thing
            else [
                (heading(t.says), t.hint.write(Units()), _measured(t), self._picker(t))
                for t in sorted(THINGS, key=_asked_for)
            ]
        )
        self._lay(self._things, things)
        self._ask_kind()
        first = (self._things if thing is None else self._kinds).findChild(PictureButton)
        if first:
            first.setFocus(Qt.FocusReason.OtherFocusReason)

    def _picker(self, thing: type[Thing]) -> Callable[[], None]:
        return lambda: self.show_kinds_for(thing)

    def show_kinds_for(self, thing: type[Thing]) -> None:
        """Take this for the thing, and ask how it is carried."""
        self.thing = thing
        for card in self._things.findChildren(PictureButton):
            card.setChecked(card.name == heading(thing.says))
        self._ask_kind()
        first = self._kinds.findChild(PictureButton)
        if first:
            first.setFocus(Qt.FocusReason.OtherFocusReason)
            QTimer.singleShot(0, first, lambda: self._scroll.ensureWidgetVisible(first))  # when it has its place

    def _ask_kind(self) -> None:
        thing = self.thing
        kinds = [k for k in KINDS if issubclass(thing.gives, k.fits)] if thing else []
        self.ask_kind.setVisible(bool(kinds))
        self._lay(self._kinds, [(heading(k.says), k.hint.write(Units()), _drafted(k), self._chooser(k)) for k in kinds])

    def _chooser(self, kind: type[KindOfPiece]) -> Callable[[], None]:
        return lambda: self.chosen.emit(self.thing, kind)

    def _lay(self, where: QWidget, cards: Sequence[tuple[str, str, tuple[Mark, ...], Callable[[], None]]]) -> None:
        grid = where.layout()
        assert isinstance(grid, QGridLayout)
        for card in where.findChildren(PictureButton):
            grid.removeWidget(card)
            card.hide()
            card.setParent(None)
            card.deleteLater()
        for n, (name, says, marks, do) in enumerate(cards):
            card = PictureButton(name, says, marks, where)
            card.ink = self.ink
            card.clicked.connect(lambda _=False, do=do: do())
            grid.addWidget(card, n // self._columns, n % self._columns, Qt.AlignmentFlag.AlignLeft)
            card.show()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """As many cards in a row as there is room for."""
        super().resizeEvent(event)
        columns = max((self.width() - 2 * BESIDE_PX + APART_PX) // (CARD.width() + APART_PX), 1)
        if columns != self._columns:
            self._columns = columns
            for where in (self._things, self._kinds):
                grid = where.layout()
                assert isinstance(grid, QGridLayout)
                for n, card in enumerate(where.findChildren(PictureButton)):
                    grid.addWidget(card, n // columns, n % columns, Qt.AlignmentFlag.AlignLeft)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)


def _grid(parent: QWidget) -> QWidget:
    holder = QWidget(parent)
    grid = QGridLayout(holder)
    grid.setContentsMargins(0, 0, 0, 6)
    grid.setSpacing(APART_PX)
    grid.setColumnStretch(MOST_COLUMNS, 1)
    return holder
