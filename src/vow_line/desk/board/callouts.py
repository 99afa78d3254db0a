"""Callouts: the values of a drawing laid out beside what they point at, its sentence above it."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QCursor, QFontMetrics, QTransform
from PySide6.QtWidgets import QApplication, QWidget

from ...core.drawing import Callout
from ...core.texts import tell
from ..look.ink import type_
from .dimensions import spread_by
from .drawn import COLUMN_PX
from .field import Field
from .measured import WithDimensions
from .sentence import LINE_PX, laid
from .values import Enter

BEND_PX = 7  # so far from the outermost of their places the leaders of a row bend
STEADY_PX = 8  # callouts stay where they are until what one of them points at has moved by more


class WithCallouts(WithDimensions):
    """A drawing with its values about it."""

    def __init__(self, enter: Enter, parent: QWidget | None = None) -> None:
        super().__init__(enter, parent)
        self._placed: object = None
        self._anchored: dict[str, QPointF] = {}
        self._said_is: object = None

    def _place(self) -> None:
        """Lay the callouts out beside the drawing, in the order of the places they point at, without crossing."""
        said_there = self._place_sentence()
        self._measure_sides()
        super()._place()
        to_px = self._to_px
        about = self._about()
        pointing = [c for c in about if not (c.seldom and self.scene.measured)]  # the others wait behind a word
        anchors = {c.path: to_px.map(QPointF(*c.at)) for c in pointing}
        placed = self._placing()
        if placed == self._placed and all(
            (at - self._anchored[path]).manhattanLength() <= STEADY_PX for path, at in anchors.items()
        ):
            self._leaders = [(near, anchors[path], path, row) for near, _, path, row in self._leaders]
            ends = {path: points for path, (_, points) in self._links(to_px).items()}
            self._tied = [
                p if p.value.points == ends[p.value.id] else p.moved(ends[p.value.id])
                for p in self._tied
                if p.value.id in ends
            ]
            self._tie()
            return
        self._placed, self._anchored = placed, anchors
        self._names, self._leaders = said_there, []
        said_in = {c.path for c in self._sentence if isinstance(c, Callout)}
        there = [c for c in self.scene.callouts if c.path not in said_in and not c.absent]
        shown = {c.path for c in about}
        self._measure(there if self.scene.measured else [], to_px, [c for c in there if c.path not in shown])
        there = [c for c in there if c.path in shown]
        if self._closer or self._wider:  # the drawing gives way to values as they turned out to stand
            self._place()
            return
        self._tie()
        if self.scene.measured:
            return
        sides: dict[str, list[Callout]] = {"left": [], "right": [], "above": [], "below": []}
        for callout in there:
            sides[callout.side].append(callout)
        chosen = [c for c in sides["left"] if c.choices] if self._left_columns() == 2 else []
        self._column("left", [c for c in sides["left"] if c not in chosen], to_px)
        self._column("left", chosen, to_px, float(COLUMN_PX))
        self._column("right", sides["right"], to_px)
        for side in ("above", "below"):
            self._row(side, sides[side], to_px)

    def _place_sentence(self) -> list[tuple[QRectF, str, Qt.AlignmentFlag]]:
        """Lay the sentence out above the drawing, and below it what is not there; gives the name of that."""
        top, right = 38.0 if self.scene.caution else 12.0, self.width() - 24.0
        said_is = self.spoken, self.width(), top, self.units, [id(c) for c in self._combos.values()]
        if self._said_is != said_is:
            self._said_is = said_is
            self._said_words, self._sentence_px = laid(self._sentence, lambda c: self._combos[c.path], 24.0, top, right)
        names: list[tuple[QRectF, str, Qt.AlignmentFlag]] = []
        if self._absent:
            says = tell("not on it:")
            x, y = 24.0, float(self.height() - self.ruler_px - LINE_PX - 2)
            wide = QFontMetrics(type_(14)).horizontalAdvance(says)
            names.append((QRectF(x, y + 4, wide + 4, 18), says, Qt.AlignmentFlag.AlignLeft))
            x += wide + 6
            for button in self._absent.values():
                button.move(round(x), round(y))
                x += button.width() + 2
        return names

    def _placing(self) -> object:
        """What the places of the callouts depend on besides the places they point at."""
        words = [(c.path, c.side, c.name, c.beside, c.absent, c.seldom) for c in self.scene.callouts]
        rows = [c for c in self.scene.callouts if c.side in ("above", "below")]
        sizes = [w.width() for c in rows for w in self._widgets(c)]
        sizes += [len(self.scene.labels), self.scene.measured]
        sizes += [self._fields[c.beside[0]].width() for c in rows if c.beside]
        sizes += [w.width() for w in self._combos.values()]
        return self.size(), self.units, self._frame(), self._to_px, self._held, words, sizes, tuple(self._absent)

    def _column(self, side: str, callouts: list[Callout], to_px: QTransform, in_px: float = 0.0) -> None:
        if not callouts:
            return
        placed = sorted(callouts, key=lambda c: to_px.map(QPointF(*c.at)).y())
        bottom = self.height() - 20 - self.ruler_px
        if side == "right" and self.inset:
            bottom = self.corner.y() - 3
        top = self._top() + 4.0
        bottom -= 20 if self._absent and side == "left" else 0
        if self.scene.callouts and any(c.side in ("above", "below") for c in self.scene.callouts):
            drawn = to_px.mapRect(self._held)
            top, bottom = drawn.top() - 10, int(drawn.bottom()) + 24
        tall = [float(sum(w.height() - 2 for w in self._widgets(c)) + 20) for c in placed]
        beside = sum(tall) > bottom - top  # where room is short the second reading stands beside the first
        if beside:
            below = 0 if side == "left" and self._inline() else 16
            tall = [float(max(w.height() - 2 for w in self._widgets(c)) + below) for c in placed]
            top -= 16
        if (lacking := sum(tall) - (bottom - top)) > 0:  # beside a drawing that is small it reaches over both its ends
            top = max(top - lacking / 2, self._top() + 4.0)
            bottom = max(bottom, int(top + sum(tall)) + 1)
        gap = min(max((bottom - top - sum(tall)) / len(placed), 0.0), 8.0)
        wanted = [to_px.map(QPointF(*c.at)).y() - 20 for c in placed]
        y = spread_by(wanted, [t + gap for t in tall], top, bottom)
        frame = self._frame()
        for callout, high in zip(placed, y, strict=True):
            widgets = self._widgets(callout)
            x = 16.0 + in_px if side == "left" else float(frame.right() + 24)
            if side == "right" and self.inset:
                x = float(self.width() - 218)
            if beside and side == "right":
                x = min(x, self.width() - 4.0 - sum(w.width() for w in widgets))
            under = high
            for k, widget in enumerate(widgets):
                widget.move(int(x), int(under))
                if beside and k:
                    widget.move(widgets[0].x() + widgets[0].width() - 4, int(high) + 4)
                else:
                    under += widget.height() - 2
            label = QRectF(x + 6, under, COLUMN_PX + 20, 18)
            if beside and side == "left" and self._inline():
                label = QRectF(widgets[-1].x() + widgets[-1].width() + 2, high + 5, COLUMN_PX, 18)
            self._names.append((label, callout.name.write(self.units), Qt.AlignmentFlag.AlignLeft))
            anchor = to_px.map(QPointF(*callout.at))
            wide = max((w.width() for w in widgets), default=40)
            near = QPointF(x + wide + 4, high + 14) if side == "left" else QPointF(x - 6, high + 14)
            self._leaders.append((near, anchor, callout.path, ""))

    def _row(self, side: str, callouts: list[Callout], to_px: QTransform) -> None:
        if not callouts:
            return
        placed = sorted(callouts, key=lambda c: c.at[0])
        drawn = to_px.mapRect(self._held)
        widest = 12.0 * np.ceil(max((_full(w) for c in placed for w in self._widgets(c)), default=0) / 12 + 0.4)
        width = min(max(78.0, widest), (self.width() - 12) / len(placed) - 4)
        for field in (w for c in placed for w in self._widgets(c)):
            if isinstance(field, Field):
                field.compact(width < max(78.0, widest))
        wanted = [to_px.map(QPointF(*c.at)).x() - width / 2 for c in placed]
        xs = spread_by(wanted, [width + 4] * len(placed), 6.0, self.width() - 2.0)
        for callout, x in zip(placed, xs, strict=True):
            widgets = self._widgets(callout)
            anchor = to_px.map(QPointF(*callout.at))
            y = drawn.top() - 84 if side == "above" else drawn.bottom() + 26
            name_y = y - 18 if side == "above" else y + 47
            for k, widget in enumerate(widgets):
                widget.move(int(x + (width - widget.width()) / 2), int(y + k * 25))
            label = QRectF(x - 8, name_y, width + 16, 18)
            text = callout.name.write(self.units)
            if callout.beside:
                field = self._fields[callout.beside[0]]
                away = -58 if side == "above" else 64
                field.move(int(x + (width - field.width()) / 2), int(y + away))
                if side == "below":
                    text = f"{text}, {callout.beside[1].write(self.units)}"
                else:
                    beside = QRectF(x - 8, y + away - 17, width + 16, 18)
                    self._names.append((beside, callout.beside[1].write(self.units), Qt.AlignmentFlag.AlignHCenter))
            self._names.append((label, text, Qt.AlignmentFlag.AlignHCenter))
            near = QPointF(x + width / 2, y + 52 if side == "above" else y - 2)
            self._leaders.append((near, anchor, callout.path, side))

    def drawn_leaders(self) -> list[tuple[list[QPointF], bool]]:
        """The leaders that are seen, from the value to its place, and whether their field is under the hand.

        Those of a row bend at one height and run square on from there: in the order of their places they cannot cross.
        """
        under = {id(QApplication.focusWidget()), id(QApplication.widgetAt(QCursor.pos()))}
        touched = next((p for p, f in self._fields.items() if id(f) in under), "")
        heights = {row: [anchor.y() for _, anchor, _, r in self._leaders if r == row] for row in ("above", "below")}
        bends = {
            "above": min(heights["above"], default=0.0) - BEND_PX,
            "below": max(heights["below"], default=0.0) + BEND_PX,
        }
        return [
            ([near, *([QPointF(anchor.x(), bends[row])] if row else []), anchor], touched.startswith(path))
            for near, anchor, path, row in self._leaders
            if row or touched.startswith(path)
        ]


def _full(widget: QWidget) -> int:
    return widget.full_px if isinstance(widget, Field) else widget.width()
