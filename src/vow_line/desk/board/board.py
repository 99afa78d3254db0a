"""The board: the drawing of the thing at true scale under the hand: zoomed, moved, pointed at, its points dragged."""

from typing import Any

import numpy as np
from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from ...core.drawing import Handle
from ...core.texts import tell
from ..hands import only_held
from .run import WithRun
from .values import Enter

GRIP_PX = 9.0  # how near to a point a hand takes hold of it


class Board(WithRun):
    """Shows a scene. `pointed` names the mark under the pointer, `pointed_at` where it is; `placed` a double click; `dragged` a
    point of the drawing and its new value; `turned` what turns on it, and how far.
    """

    pointed_at = Signal(float, float)
    placed = Signal(float, float)
    dragged = Signal(object, object)
    turned = Signal(float)
    resized = Signal()

    def __init__(self, enter: Enter, parent: QWidget | None = None) -> None:
        super().__init__(enter, parent)
        self._drag: QPointF | None = None
        self._turning: QPointF | None = None

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self.awaiting:  # another scene is shown next
            return
        self.settle()
        self.show_corner()  # whether there is room for it
        self.resized.emit()

    def wheelEvent(self, event: QWheelEvent) -> None:
        factor = 1.0015 ** event.angleDelta().y()
        self.zoom(factor, event.position())

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom by a factor about a point in pixels, or the middle."""
        at = at or QPointF(self._frame().center())
        before, _ = self.transform().inverted()
        place = before.map(at)
        self._zoom = float(np.clip(self._zoom * factor, 0.3, 40))
        now = self._made_transform().map(place)
        self._pan += at - now
        self.settle()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        near = self._handle_near(event.position())
        if near is not None:
            self._hold(near)
        elif self._turns_at(event.position()):
            self._turning = event.position()
        else:
            self._drag = event.position()

    def _turns_at(self, px: QPointF) -> bool:
        inverse, _ = self.transform().inverted()
        return self.scene.turns is not None and self.scene.turns.holds(*inverse.map(px).toTuple())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._drag = self._turning = None
        if self._held_handle is not None and event.button() == Qt.MouseButton.LeftButton:
            handle, self._held_handle = self._held_handle, None
            self._let_go(handle)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        inverse, _ = self.transform().inverted()
        at = inverse.map(event.position())
        self.placed.emit(at.x(), at.y())

    def _handle_near(self, px: QPointF) -> Handle | None:
        to_px = self.transform()
        apart = [
            (float(np.hypot(*(to_px.map(QPointF(*h.at)) - px).toTuple())), k) for k, h in enumerate(self.scene.handles)
        ]
        best = min(apart, default=(np.inf, 0))
        return self.scene.handles[best[1]] if best[0] <= GRIP_PX else None

    def _hold(self, handle: Handle | None) -> None:
        self._held_handle = handle
        if handle is not None:
            self._handle_at = QPointF(*handle.at)
            self.setAccessibleDescription(
                tell("{point} is held; the arrow keys move it, Escape lets it go", point=handle.name)
            )
        self.update()

    def _let_go(self, handle: Handle) -> None:
        at = self._handle_at
        value = handle.value(at.x(), at.y())
        if at != QPointF(*handle.at):
            self.dragged.emit(handle, value)
        self.update()

    @property
    def held(self) -> str:
        """The path of the point that is held, or nothing."""
        return self._held_handle.path if self._held_handle is not None else ""

    def next_handle(self, by: int = 1) -> None:
        """Hold the next point that can be moved, for the arrow keys."""
        places = [h.path for h in self.scene.handles]
        if not places:
            return
        now = places.index(self._held_handle.path) if self._held_handle and self._held_handle.path in places else -1
        self.setFocus(Qt.FocusReason.OtherFocusReason)
        self._hold(self.scene.handles[(now + by) % len(places)])

    def _nudge(self, dx: float, dy: float) -> None:
        held = self._held_handle
        if held is None:
            return
        self._handle_at += QPointF(dx, 0.0 if held.along else dy)
        self._let_go(held)
        self._held_handle = next((h for h in self.scene.handles if h.path == held.path), None)
        if self._held_handle is not None:
            self._handle_at = QPointF(*self._held_handle.at)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._pan += event.position() - self._drag
            self._drag = event.position()
            self.settle()
            return
        if self._turning is not None and self.scene.turns is not None and event.buttons() & Qt.MouseButton.LeftButton:
            by_px, self._turning = event.position().x() - self._turning.x(), event.position()
            self.turned.emit(by_px / max(self.transform().m11() * self.scene.turns.half_mm, 1.0))
            return
        self.setCursor(Qt.CursorShape.SizeHorCursor if self._turns_at(event.position()) else Qt.CursorShape.ArrowCursor)
        inverse, _ = self.transform().inverted()
        at = inverse.map(event.position())
        if self._held_handle is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._handle_at = QPointF(at.x(), self._held_handle.at[1] if self._held_handle.along else at.y())
            self.update()
            return
        self.pointed_at.emit(at.x(), at.y())
        self.pointed.emit(self._under(at))

    def _under(self, at: QPointF) -> str:
        reach = 6 / self.scale
        found = ""
        for drawn in self.paintable:
            mark, path = drawn.mark, drawn.path
            if not mark.id:
                continue
            near = bool((np.hypot(*(mark.line - np.array([at.x(), at.y()])).T) < reach * 2).any())
            inside = not near and path.boundingRect().adjusted(-reach, -reach, reach, reach).contains(at)
            inside = inside and (len(mark.line) <= 3 or (mark.closed and path.contains(at)))
            if near or inside:
                found = mark.id
        return found

    def leaveEvent(self, event: Any) -> None:
        self.pointed.emit("")
        super().leaveEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if only_held(event):
            return
        move = {
            Qt.Key.Key_Left: (30, 0), Qt.Key.Key_Right: (-30, 0), Qt.Key.Key_Up: (0, 30), Qt.Key.Key_Down: (0, -30),
        }.get(Qt.Key(event.key()))  # fmt: skip
        if self._held_handle is not None and move:
            step = -(5.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 0.5) / 30
            self._nudge(move[0] * step, move[1] * step)
        elif self._held_handle is not None and event.key() == Qt.Key.Key_Escape:
            self._hold(None)
        elif move and not event.modifiers():
            self._pan += QPointF(*move)
            self.settle()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.finished.emit()
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom(1.25)
        elif event.key() == Qt.Key.Key_Minus:
            self.zoom(0.8)
        else:
            super().keyPressEvent(event)
