"""A job's card on the shelf: its thing from both sides, its name, what is next, and how far its line is sewn."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QPointF, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QPainter, QPen, QPixmap
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from ...core.finding import Station
from ...core.job import Job
from ...core.made import Made
from ...core.plan import Plan
from ...core.quantity import Units
from ...core.texts import Said, day, heading, said, tell
from ..board import paint_made
from ..line import LINE, draw_knot
from ..look.ink import BOLD, DAY, SEMI, Ink, type_

CARD_PX = 96
MOST_PICTURES = 100  # a hundred are 6 MB
LINE_PX = 54  # with what stands under it
MADE_PX = 128.0  # the made thing on a card, across
FINE = 0.6
OPENING = said("being opened; Escape stays here")
Index = QModelIndex | QPersistentModelIndex


@dataclass(frozen=True, eq=False)
class Card:
    """What a card shows of a job: of a thousand jobs the plans would not be kept."""

    job: Job
    next: Said
    held: bool
    standing: Station
    made: Made | None

    @classmethod
    def of(cls, plan: Plan) -> "Card":
        """A plan's card, all of it worked out."""
        held = bool(plan.holds) and not plan.job.record.closed
        return cls(plan.job, plan.next, held, plan.standing, plan.made)


@dataclass(frozen=True, eq=False)
class OnShelf:
    """A job file on the shelf: its card, and what is wrong with the file, or why it cannot be read; nothing yet while it is
    being read.
    """

    path: Path
    card: Card | None = None
    wrong: str = ""

    def spoken(self) -> str:
        """The job in words."""
        if self.card is None:
            return tell("{job}. {state}", job=self.path.name, state=self.wrong or tell("being read"))
        job = self.card.job
        when = tell("promised {day}", day=day(job.promised)) if job.promised else ""
        for_ = tell("{job}, for {whose}", job=job.name, whose=job.whose)
        return " ".join(f"{for_}. {self.card.next.write(job.units)}. {when} {self.wrong}".split())

    @property
    def turn(self) -> str:
        """What it is sorted by: first what cannot be read or is still to be, then what is promised soonest, at last what is
        done.
        """
        if self.card is None:
            return f"0{self.path.name}"
        job = self.card.job
        if job.record.closed:
            return f"3{job.promised or ''}{job.name}"
        return f"1{job.promised}{job.name}" if job.promised else f"2{job.name}"

    def found_by(self) -> str:
        """What it is found by: its name, whose it is, its kind and its thing, and where it stands."""
        if self.card is None:
            return self.path.name
        job = self.card.job
        kinds = f"{job.piece.says.write(job.units)} {job.thing.says.write(job.units)}"
        standing = dict(LINE)[self.card.standing].write(job.units)
        return f"{self.spoken()} {kinds} {standing}"


class CardPainter(QStyledItemDelegate):
    """Paints the cards of a list; the things on them one after another, when the words are there, each kept as a picture."""

    def __init__(self, cards: QListView) -> None:
        super().__init__(cards)
        self.list = cards
        self.ink: Ink = DAY
        self.opening: Path | None = None
        self._pictures: dict[Path, tuple[object, QPixmap]] = {}
        self._lines: dict[object, QPixmap] = {}
        self._wanted: dict[Path, tuple[Made, QSize, QPersistentModelIndex]] = {}
        self._next = QTimer(self)
        self._next.setSingleShot(True)
        self._next.timeout.connect(self._draw_next)

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        return QSize(self.list.viewport().width() - 14, CARD_PX)

    def _picture(self, path: Path, made: Made, size: QSize, index: Index) -> QPixmap | None:
        """The picture of what a job makes; none as long as it is still to be drawn."""
        is_of, picture = self._pictures.get(path, (None, None))
        if picture is not None and is_of == self._picture_is(made, size):
            return picture
        self._wanted[path] = made, size, QPersistentModelIndex(index)
        self._next.start()
        return None

    def _drawn(self, size: QSize, draw: Callable[[QPainter], object]) -> QPixmap:
        ratio = self.list.devicePixelRatioF()
        picture = QPixmap(size * ratio)
        picture.setDevicePixelRatio(ratio)
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        draw(painter)
        painter.end()
        return picture

    def _picture_is(self, made: Made, size: QSize) -> object:
        return made, size, self.ink.name, self.list.devicePixelRatioF()

    def _draw_next(self) -> None:
        path = next(iter(self._wanted))
        made, size, index = self._wanted.pop(path)
        space = QRectF(0, 0, size.width(), size.height())
        picture = self._drawn(size, lambda painter: paint_made(painter, made, space, self.ink, fine=FINE))
        if len(self._pictures) >= MOST_PICTURES:
            del self._pictures[next(iter(self._pictures))]
        self._pictures[path] = self._picture_is(made, size), picture
        if index.isValid():
            self.list.update(index.model().index(index.row(), index.column()))
        if self._wanted:
            self._next.start()

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        ink, shelf = self.ink, index.data(Qt.ItemDataRole.UserRole)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(option.rect).adjusted(1, 1, -1, -1)
        focused = bool(option.state & QStyle.StateFlag.State_Selected) and self.list.hasFocus()
        hovered = bool(option.state & QStyle.StateFlag.State_MouseOver)
        painter.setPen(QPen(ink.colour("woad" if focused else "rules"), 2 if focused else 1))
        painter.setBrush(ink.colour("slip" if hovered or focused else "board"))
        painter.drawRoundedRect(box, 4, 4)
        if shelf.card is None:
            painter.setFont(type_(18, SEMI))
            painter.setPen(ink.colour("ink"))
            painter.drawText(box.adjusted(24, 16, -20, 0), Qt.AlignmentFlag.AlignLeft, shelf.path.name)
            painter.setFont(type_(15))
            painter.setPen(ink.colour("madder" if shelf.wrong else "quiet"))
            painter.drawText(
                box.adjusted(24, 46, -20, -8),
                int(Qt.TextFlag.TextWordWrap),
                shelf.wrong or (OPENING.write(Units()) if shelf.path == self.opening else tell("being read…")),
            )
        else:
            self._job(painter, box, shelf, shelf.card, index)
        painter.restore()

    def _job(self, painter: QPainter, box: QRectF, shelf: OnShelf, card: Card, index: Index) -> None:
        ink, job, wrong = self.ink, card.job, shelf.wrong
        if card.made is not None:
            size = QSize(round(MADE_PX - 8), round(box.height() - 12))
            if (picture := self._picture(shelf.path, card.made, size, index)) is not None:
                painter.drawPixmap(round(box.left() + 8), round(box.top() + 6), picture)
        box = box.adjusted(MADE_PX, 0, 0, 0)
        painter.setFont(type_(20, BOLD))
        painter.setPen(ink.colour("ink"))
        painter.drawText(box.adjusted(24, 8, 0, 0), Qt.AlignmentFlag.AlignLeft, job.name)
        painter.setFont(type_(15))
        painter.setPen(ink.colour("madder" if wrong else "quiet"))
        whose = tell("for {whose}", whose=job.whose) if job.whose else ""
        painter.drawText(box.adjusted(24, 36, 0, 0), Qt.AlignmentFlag.AlignLeft, wrong or whose)
        painter.setPen(ink.colour("quiet"))
        if job.promised:
            text = tell("promised {day}", day=day(job.promised))
            painter.drawText(box.adjusted(0, 12, -24, 0), Qt.AlignmentFlag.AlignRight, text)
        next_box = QRectF(box.left() + 24, box.top() + 64, box.width() - 48, 28)
        painter.setFont(type_(16, SEMI))
        opening = shelf.path == self.opening
        painter.setPen(
            ink.colour("woad" if opening else "madder" if card.held else "verdigris" if job.record.closed else "ink")
        )
        state = said("Hold: {what}") if card.held else said("{what}") if job.record.closed else said("Next: {what}")
        says = heading(state.filled(what=card.next), job.units) if not opening else OPENING.write(job.units)
        says = painter.fontMetrics().elidedText(says, Qt.TextElideMode.ElideRight, int(next_box.width()))
        painter.drawText(next_box, Qt.AlignmentFlag.AlignLeft, says)
        size = QSize(round(box.width() - 250 - 200), LINE_PX)
        stands = card.standing, job.record.closed, job.vowed is None, size, self.ink.name, self.list.devicePixelRatioF()
        if stands not in self._lines:
            if len(self._lines) >= MOST_PICTURES:
                self._lines.clear()
            space = QRectF(0, 0, size.width(), 30)
            self._lines[stands] = self._drawn(size, lambda line: self._line(line, space, card))
        painter.drawPixmap(round(box.left() + 250), round(box.top() + 12), self._lines[stands])

    def _line(self, painter: QPainter, box: QRectF, card: Card) -> None:
        """The job's line: sewn as far as it stands."""
        ink = self.ink
        names = [s for s, _ in LINE]
        standing = len(names) if card.job.record.closed else names.index(card.standing)
        step, y = box.width() / len(names), box.center().y()
        for k, (station, name) in enumerate(LINE):
            x = box.left() + step * (k + 0.5)
            done = k < standing
            thread = QPen(ink.colour("woad" if done else "rules"), 2)
            thread.setDashPattern([2, 1.6] if done else [0.8, 3])
            painter.setPen(thread)
            if k + 1 < len(names):
                painter.drawLine(QPointF(x + step * 0.28, y), QPointF(x + step * 0.72, y))
            if station == "vow":
                draw_knot(painter, QPointF(x, y), ink.colour("verdigris" if card.job.vowed else "madder"),
                          card.job.vowed is not None)  # fmt: skip
                continue
            pen = QPen(ink.colour("woad" if done else "quiet"), 4 if done else 1.3)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            painter.setPen(pen)
            if done:
                painter.drawLine(QPointF(x - step * 0.25, y), QPointF(x + step * 0.25, y))
            else:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                for dx in (-0.25, 0.25):
                    painter.drawEllipse(QPointF(x + dx * step, y), 2.3, 2.3)
            if k == standing:
                painter.setFont(type_(14, SEMI))
                painter.setPen(ink.colour("ink"))
                painter.drawText(
                    QRectF(x - 50, y + 9, 100, 20), Qt.AlignmentFlag.AlignHCenter, name.write(card.job.units)
                )
