"""Findings as rows, and the card they and the reckoning lie on."""

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QVBoxLayout, QWidget

from ...core.finding import Finding
from ...core.plan import Plan
from ...core.texts import tell
from ..lists.rows import Row, RowList
from ..look.ink import DAY, Ink


def finding_rows(plan: Plan, findings: tuple[Finding, ...], mends: bool = True) -> tuple[Row, ...]:
    """Findings as rows; Enter applies the mend where the program knows one, or goes to the place."""
    units = plan.job.units
    rows = []
    for f in findings:
        reason = plan.accepted(f)
        action = (f.mend.label.write(units) if f.mend else tell("go there") if "." in f.at else "") if mends else ""
        rows.append(Row(
            f"{f.code}|{f.at}", f.level, f.says.write(units), detail=tell("accepted: {reason}",
                                                                          reason=reason) if reason else "",
            action="" if reason else action, marks=(f.at,), accepted=reason is not None,
        ))  # fmt: skip
        rows += [
            Row(f"{f.code}|{f.at}|{k}", "note", tell("or another way"), action=other.label.write(units), marks=(f.at,))
            for k, other in enumerate(f.others if mends and reason is None else ())
        ]
    return tuple(rows)


class Paper(QWidget):
    """A slip of paper with a list on it."""

    def __init__(self, rows: RowList, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.rows = rows
        self.ink: Ink = DAY
        inside = QVBoxLayout(self)
        inside.setContentsMargins(1, 4, 1, 6)
        inside.addWidget(rows)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.ink.colour("rules", 120))
        painter.drawRect(QRectF(self.rect()).adjusted(3, 3, 0, 0))
        painter.setBrush(self.ink.colour("slip"))
        painter.setPen(QPen(self.ink.colour("rules"), 1))
        painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -3.5, -3.5))
