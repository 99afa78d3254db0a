"""The shelf: the jobs as they stand on their lines, the next thing to do on each, the date promised."""

from dataclasses import dataclass
from pathlib import Path
from typing import Any

from PySide6.QtCore import (
    QAbstractListModel,
    QEvent,
    QModelIndex,
    QObject,
    QPersistentModelIndex,
    QPointF,
    QRectF,
    QRegularExpression,
    QSize,
    QSortFilterProxyModel,
    Qt,
    Signal,
)  # fmt: skip
from PySide6.QtGui import QKeyEvent, QPainter, QPen
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QListView,
    QPushButton,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)  # fmt: skip

from ...core.finding import Station
from ...core.job import Job
from ...core.made import Made
from ...core.plan import Plan
from ...core.quantity import Units
from ...core.texts import Said, day, heading, said, tell
from ..board import paint_made
from ..hands import only_held
from ..line import LINE, draw_knot
from ..look.ink import BOLD, DAY, SEMI, Ink, type_
from ..look.words import Words

MADE_PX = 128.0  # the made thing on a card, across
FINE = 0.6
EMPTY = said(
    "Lay a knife, a tool or whatever is to be carried on the bench, with a rule and a caliper, and press Enter.\n\n"
    "You say what it is and how it is carried, and type what you read. Pattern, holes and thread follow from that, and are "
    "checked before you cut."
)
Index = QModelIndex | QPersistentModelIndex
TURN, FOUND_BY = Qt.ItemDataRole.UserRole + 1, Qt.ItemDataRole.UserRole + 2
CARD_PX = 96


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


class _Shelf(QAbstractListModel):
    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.jobs: list[OnShelf] = []

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.jobs)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid():
            return None
        job = self.jobs[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return job.spoken()
        if role == TURN:
            return job.turn
        if role == FOUND_BY:
            return job.found_by()
        return job if role == Qt.ItemDataRole.UserRole else None


class ShelfPage(QWidget):
    """The jobs; `chosen` carries the path of the one to open."""

    chosen = Signal(object)
    begun = Signal()
    fetched = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.ink: Ink = DAY
        self.title = Words(tell("The shelf"), self)
        self.title.setFont(type_(30, BOLD))
        self.says = Words(tell("Jobs as they stand on their lines. Enter opens one."), self)
        self.says.setFont(type_(16))
        self.model_ = _Shelf(self)
        self.empty = Words(EMPTY.write(Units()), self)
        self.empty.setObjectName("empty")
        self.empty.setFont(type_(18))
        self.empty.setWordWrap(True)
        self.empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.empty.hide()
        self.list = QListView(self)
        self.list.setObjectName("shelf")
        self.list.setAccessibleName(tell("Jobs on the shelf"))
        self.seen = QSortFilterProxyModel(self)
        self.seen.setSourceModel(self.model_)
        self.seen.setSortRole(TURN)
        self.seen.setFilterRole(FOUND_BY)
        self.seen.setFilterCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.seen.sort(0)
        self.list.setModel(self.seen)
        self.seek = QLineEdit(self)
        self.seek.setObjectName("note")
        self.seek.setFont(type_(15))
        self.seek.setPlaceholderText(tell("Find one: type a name, a wearer, a kind"))
        self.seek.setAccessibleName(tell("Find a job on the shelf"))
        self.seek.setFixedWidth(320)
        self.seek.textChanged.connect(self._find)
        self.seek.returnPressed.connect(self._open_found)
        self.list.setItemDelegate(_JobPainter(self))
        self.list.setMouseTracking(True)
        self.list.setSpacing(5)
        self.list.setResizeMode(QListView.ResizeMode.Adjust)
        self.list.clicked.connect(self._open)
        self.list.activated.connect(self._open)
        new, other = QPushButton(tell("Begin something new"), self), QPushButton(tell("Fetch a job file…"), self)
        self.new = new
        new.setObjectName("begin")
        other.setObjectName("fetch")
        new.clicked.connect(self.begun.emit)
        other.clicked.connect(self.fetched.emit)
        top = QHBoxLayout()
        words = QVBoxLayout()
        words.addWidget(self.title)
        words.addWidget(self.says)
        top.addLayout(words, 1)
        top.addWidget(self.seek, 0, Qt.AlignmentFlag.AlignBottom)
        for button in (new, other):
            button.setFont(type_(15, SEMI))
            top.addWidget(button, 0, Qt.AlignmentFlag.AlignBottom)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(48, 30, 48, 20)
        inside.setSpacing(14)
        inside.addLayout(top)
        inside.addWidget(self.list, 1)
        inside.addWidget(self.empty, 1)
        self._opening = False
        self._fresh = (
            True  # no hand has been on it: what comes first stays in sight while jobs are read and find their place
        )
        for watched in (self.list, self.seek, self.list.viewport()):
            watched.installEventFilter(self)

    def show_jobs(self, jobs: list[OnShelf], ink: Ink) -> None:
        """Show these jobs."""
        self.ink = ink
        marked = self.current.path if self.current is not None else None
        self._fresh = marked is None
        self.model_.beginResetModel()
        self.model_.jobs = jobs
        self.model_.endResetModel()
        if jobs:
            at = next((k for k, job in enumerate(jobs) if job.path == marked), None)
            here = self.seen.mapFromSource(self.model_.index(at)) if at is not None else self.seen.index(0, 0)
            self.list.setCurrentIndex(here if here.isValid() else self.seen.index(0, 0))
            self.list.scrollTo(self.list.currentIndex())
        self.seek.setVisible(len(jobs) > 1)
        self.says.setText(
            tell("Jobs as they stand on their lines. Enter opens one.") if jobs else tell("Nothing on it yet.")
        )
        self.list.setVisible(bool(jobs))
        self.empty.setVisible(not jobs)

    def take_the_hand(self) -> None:
        """Give the focus to the jobs, or where there are none to what begins one."""
        (self.list if self.jobs else self.new).setFocus(Qt.FocusReason.OtherFocusReason)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.new.hasFocus() and not only_held(event):
            self.new.click()
        else:
            super().keyPressEvent(event)

    def show_job(self, k: int, job: OnShelf) -> None:
        """Show what was read of the job at this place."""
        self.model_.jobs[k] = job
        index = self.model_.index(k)
        self.model_.dataChanged.emit(index, index)
        if self._fresh:
            self.list.setCurrentIndex(self.seen.index(0, 0))
            self.list.scrollToTop()

    @property
    def jobs(self) -> list[OnShelf]:
        """The jobs shown."""
        return self.model_.jobs

    @property
    def current(self) -> OnShelf | None:
        """The job that is marked."""
        index = self.list.currentIndex()
        return index.data(Qt.ItemDataRole.UserRole) if index.isValid() else None

    def _find(self, text: str) -> None:
        """Show only what the words say, whatever their order."""
        words = [QRegularExpression.escape(w) for w in text.split()]
        self.seen.setFilterRegularExpression(
            QRegularExpression(
                "".join(f"(?=.*{w})" for w in words), QRegularExpression.PatternOption.CaseInsensitiveOption
            )
        )
        if self.seen.rowCount() and not self.list.currentIndex().isValid():
            self.list.setCurrentIndex(self.seen.index(0, 0))

    def _open_found(self) -> None:
        if self.seen.rowCount():
            self._open(self.list.currentIndex() if self.list.currentIndex().isValid() else self.seen.index(0, 0))

    def eventFilter(self, of: QObject, event: QEvent) -> bool:
        """What is typed over the list finds in it; Escape shows all again."""
        if event.type() in (QEvent.Type.KeyPress, QEvent.Type.MouseButtonPress, QEvent.Type.Wheel):
            self._fresh = False
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if only_held(event):
                return event.key() != Qt.Key.Key_Space or of is not self.seek
            if (
                of is self.list
                and event.text().isalnum()
                and not event.modifiers() & ~Qt.KeyboardModifier.ShiftModifier
            ):
                self.seek.setFocus(Qt.FocusReason.ShortcutFocusReason)
                self.seek.setText(self.seek.text() + event.text())
                return True
            if event.key() == Qt.Key.Key_Escape and self.seek.text():
                self.seek.clear()
                self.list.setFocus(Qt.FocusReason.ShortcutFocusReason)
                return True
            if of is self.seek and event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                self.list.setFocus(Qt.FocusReason.ShortcutFocusReason)
                return True
        return super().eventFilter(of, event)

    def _open(self, index: QModelIndex) -> None:
        job = index.data(Qt.ItemDataRole.UserRole)
        if not self._opening:
            self._opening = True
            self.chosen.emit(job.path)
            self._opening = False


class _JobPainter(QStyledItemDelegate):
    def __init__(self, page: ShelfPage) -> None:
        super().__init__(page)
        self.page = page

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        return QSize(self.page.list.viewport().width() - 14, CARD_PX)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        ink, shelf = self.page.ink, index.data(Qt.ItemDataRole.UserRole)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(option.rect).adjusted(1, 1, -1, -1)
        focused = bool(option.state & QStyle.StateFlag.State_Selected) and self.page.list.hasFocus()
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
                box.adjusted(24, 46, -20, -8), int(Qt.TextFlag.TextWordWrap), shelf.wrong or tell("being read…")
            )
        else:
            self._job(painter, box, shelf.card, shelf.wrong)
        painter.restore()

    def _job(self, painter: QPainter, box: QRectF, card: Card, wrong: str) -> None:
        ink, job = self.page.ink, card.job
        if card.made is not None:
            made = QRectF(box.left() + 8, box.top() + 6, MADE_PX - 8, box.height() - 12)
            paint_made(painter, card.made, made, ink, fine=FINE)
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
        painter.setPen(ink.colour("madder" if card.held else "verdigris" if job.record.closed else "ink"))
        state = said("Hold: {what}") if card.held else said("{what}") if job.record.closed else said("Next: {what}")
        says = heading(state.filled(what=card.next), job.units)
        says = painter.fontMetrics().elidedText(says, Qt.TextElideMode.ElideRight, int(next_box.width()))
        painter.drawText(next_box, Qt.AlignmentFlag.AlignLeft, says)
        self._line(painter, QRectF(box.left() + 250, box.top() + 12, box.width() - 250 - 200, 30), card)

    def _line(self, painter: QPainter, box: QRectF, card: Card) -> None:
        """The job's line: sewn as far as it stands."""
        ink = self.page.ink
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
