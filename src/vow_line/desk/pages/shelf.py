"""The shelf: the jobs as they stand on their lines, the next thing to do on each, the date promised."""

from pathlib import Path
from typing import Any

from PySide6.QtCore import (
    QAbstractListModel,
    QEvent,
    QModelIndex,
    QObject,
    QRegularExpression,
    QSortFilterProxyModel,
    Qt,
    Signal,
)  # fmt: skip
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QListView,
    QPushButton,
    QVBoxLayout,
    QWidget,
)  # fmt: skip

from ...core.quantity import Units
from ...core.texts import said, tell
from ..hands import only_held
from ..look.ink import BOLD, SEMI, Ink, type_
from ..look.words import Words
from .card import CardPainter, Index, OnShelf

EMPTY = said(
    "Lay a knife, a tool or whatever is to be carried on the bench, with a rule and a caliper, and press Enter.\n\n"
    "You say what it is and how it is carried, and type what you read. Pattern, holes and thread follow from that, and are "
    "checked before you cut."
)
TURN, FOUND_BY = Qt.ItemDataRole.UserRole + 1, Qt.ItemDataRole.UserRole + 2


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
    """The jobs; `chosen` carries the path of the one to open; `stayed` says that it is not to be opened after all."""

    chosen = Signal(object)
    stayed = Signal()
    begun = Signal()
    fetched = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
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
        self.cards = CardPainter(self.list)
        self.list.setItemDelegate(self.cards)
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
        self.use_ink(ink)
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

    def use_ink(self, ink: Ink) -> None:
        """Use this bench's colours."""
        self.cards.ink = ink
        self.list.viewport().update()

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

    def show_opening(self, path: Path | None) -> None:
        """Show on its card that a job is being opened; None for none."""
        self.cards.opening = path
        self.list.viewport().update()

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
            if event.key() == Qt.Key.Key_Escape and self.cards.opening is not None:
                self.stayed.emit()
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
