"""The vow: the plan read back, holds first; mended or accepted with a reason; then vowed as a numbered revision."""

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from ...core.plan import Plan
from ...core.readback import read_back
from ...core.reckoning import count
from ...core.texts import NOTHING, dated_on, several, tell
from ..board import MadeView
from ..lists.paper import finding_rows
from ..lists.rows import Row, RowList
from ..look.ink import BOLD, DAY, Ink, type_
from ..look.words import Words


class VowPage(QWidget):
    """Reads the plan back. Signals say what was asked."""

    vowed = Signal()
    broken = Signal()
    accepted = Signal(str, str, str)
    mended = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("vow-page")
        self.ink: Ink = DAY
        self.plan: Plan | None = None
        self.title = Words(self)
        self.title.setFont(type_(30, BOLD))
        self.says = Words(self)
        self.says.setFont(type_(16))
        self.says.setWordWrap(True)
        self.findings = RowList(tell("Holds and looks"), self)
        self.reading = RowList(tell("The plan, read back"), self)
        self.picture = MadeView(self)
        self.reason = QLineEdit(self)
        self.reason.setObjectName("reason")
        self.reason.setAccessibleName(tell("The reason for accepting the chosen hold"))
        self.reason.setPlaceholderText(tell("Accept the chosen hold because…"))
        self.reason.setFont(type_(15))
        self.accept_button = QPushButton(tell("Accept it, with this reason"), self)
        self.accept_button.setObjectName("accept")
        self.vow_button = QPushButton(tell("Vow this plan"), self)
        self.vow_button.setObjectName("vow")
        self.vow_button.setFont(type_(18, BOLD))
        self.vow_button.setMinimumHeight(46)
        for label in (self.title, self.says):
            label.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.setSpacing(4)
        self.title.setFixedHeight(44)
        self.says.setMaximumHeight(48)
        left.addWidget(self.title)
        left.addWidget(self.says)
        left.addSpacing(8)
        left.addWidget(self.findings, 3)
        left.addWidget(self.picture, 6)
        left.addSpacing(6)
        accept = QHBoxLayout()
        accept.addWidget(self.reason, 1)
        accept.addWidget(self.accept_button)
        left.addLayout(accept)
        right.addWidget(self.reading, 1)
        right.addSpacing(8)
        right.addWidget(self.vow_button)
        both = QHBoxLayout(self)
        both.setContentsMargins(28, 24, 28, 24)
        both.setSpacing(40)
        both.addLayout(left, 11)
        both.addLayout(right, 8)
        self.vow_button.clicked.connect(self._press)
        self.accept_button.clicked.connect(self._accept)
        self.reason.returnPressed.connect(self._accept)
        self.reason.textChanged.connect(lambda _: self._enable())
        self.findings.acted.connect(lambda row: self.mended.emit(row.key))
        self.findings.selectionModel().currentChanged.connect(lambda *_: self._enable())

    def show_plan(self, plan: Plan, ink: Ink) -> None:
        """Read this plan back."""
        self.plan, self.ink = plan, ink
        units, vowed = plan.job.units, plan.job.vowed
        self.findings.ink = self.reading.ink = ink
        rows: tuple[Row, ...] = finding_rows(plan, plan.findings, mends=vowed is None)
        self.findings.show_rows(rows)
        lines: list[Row] = []
        part = NOTHING
        for k, line in enumerate(read_back(plan)):
            if line.part != part:
                part = line.part
                lines.append(Row(f"head/{part.template}", "head", part.write(units), ruled=k > 0))
            lines.append(Row(f"line/{k}", "sum", line.says.write(units), more=tuple(m.write(units) for m in line.more)))
        self.reading.show_rows(tuple(lines))
        holds = len(plan.holds)
        if vowed:
            self.title.setText(tell("Revision {revision} is vowed", revision=vowed.revision))
            self.says.setText(tell(
                "On {day}. Patterns printed from now on carry this number. If a measurement turns out wrong, break the vow: "
                "what is cut already is laid under the new pattern.", day=dated_on(vowed.at)))  # fmt: skip
            self.vow_button.setText(tell("Break the vow"))
        else:
            self.title.setText(tell("Read it through, then vow it"))
            self.says.setText(
                several("{n} hold stands in the way: mend, or accept with a reason that stays in the record.",
                        "{n} holds stand in the way: mend, or accept with a reason that stays in the record.",
                        n=count(holds)).write(units) if holds
                else tell("Nothing stands in the way. After the vow the leather is real.")
            )  # fmt: skip
            self.vow_button.setText(tell("Vow this plan, as revision {n}", n=len(plan.job.vows) + 1))
        if self.vow_button.hasFocus() and (vowed or not self.vow_button.isEnabled()):
            self.take_the_hand()  # what it does now is another thing
        self.picture.show_made(plan.made, ink, tell("What you will hold is drawn here when the readings are in."))
        self._enable()
        self.update()

    def _chosen(self) -> Row | None:
        index = self.findings.currentIndex()
        return self.findings.rows[index.row()] if index.isValid() and index.row() < len(self.findings.rows) else None

    def _enable(self) -> None:
        plan = self.plan
        if plan is None:
            return
        row = self._chosen()
        open_hold = row is not None and row.kind == "hold" and not row.accepted and plan.job.vowed is None
        self.reason.setEnabled(open_hold)
        self.accept_button.setEnabled(open_hold and bool(self.reason.text().strip()))
        self.vow_button.setEnabled(plan.job.vowed is not None or plan.ready)

    def _accept(self) -> None:
        row = self._chosen()
        if row and self.accept_button.isEnabled():
            code, _, at = row.key.partition("|")
            reason = self.reason.text()
            self.reason.clear()
            self.accepted.emit(code, at, reason)

    def untaken(self) -> str:
        """A reason that is written and does not stand with its hold yet."""
        reason = self.reason.text().strip()
        return tell("The reason “{reason}” stands with no hold yet.", reason=reason) if reason else ""

    def _press(self) -> None:
        if self.plan and self.plan.job.vowed:
            self.broken.emit()
        else:
            self.vowed.emit()

    def take_the_hand(self) -> None:
        """Give the focus to what is to be read: an Enter too many, come from the station before, neither mends nor vows."""
        self.reading.setFocus(Qt.FocusReason.OtherFocusReason)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(self.ink.colour("board"))
        painter.setPen(QPen(self.ink.colour("rules"), 1))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(8.5, 8.5, -8.5, -8.5), 4, 4)
        x = self.reading.x() - 20
        painter.setPen(QPen(self.ink.colour("rules"), 1, Qt.PenStyle.SolidLine))
        painter.drawLine(x, 30, x, self.height() - 30)
