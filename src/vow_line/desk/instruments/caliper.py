"""Readings from a caliper."""

from collections.abc import Callable
from time import monotonic

from PySide6.QtCore import QSocketNotifier
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QDoubleSpinBox,
    QFormLayout,
    QHBoxLayout,
    QPushButton,
    QWidget,
)  # fmt: skip

from ...core.errors import VowLineError
from ...core.reckoning import fine
from ...core.texts import said, tell
from ...instruments.caliper import Caliper, StandIn, ports
from ...workshop.workshop import SPEEDS
from ..look.ink import type_
from ..look.words import Words
from ..session import Session

STAND_IN = said("the stand-in, to try it")
UNITS = (("sent", said("refused")), ("mm", said("mm")), ("in", said("inches")))
DEAD_S = 0.35  # a press that is sent again within this is the same press (from memory)
TWICE_S = 1.0  # and two readings the same to the last digit within this are asked about (from memory)


class CaliperDialog(QDialog):
    """Asks where the caliper is and how it speaks."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tell("Caliper"))
        form = QFormLayout(self)
        self.port = QComboBox(self)
        self.port.addItems([*ports(), STAND_IN.write(session.units)])
        self.unit = QComboBox(self)
        for name, says in UNITS:
            self.unit.addItem(says.write(session.units), name)
        self.unit.setCurrentIndex(self.unit.findData(session.preferences.caliper_unit))
        self.speed = QComboBox(self)
        self.speed.addItems(list(SPEEDS))
        self.speed.setCurrentText(session.preferences.caliper_speed)
        form.addRow(tell("It is on"), self.port)
        form.addRow(tell("A reading without a unit is"), self.unit)
        form.addRow(tell("Its speed in baud"), self.speed)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel, parent=self
        )
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        form.addRow(buttons)


class CaliperLine(QWidget):
    """Takes readings from a caliper to the reading that has the focus, and moves on to the next; says that it listens, and has
    the button of the stand-in.
    """

    def __init__(self, session: Session, take: Callable[[float, str], bool], parent: QWidget) -> None:
        super().__init__(parent)
        self.session, self._take = session, take
        self.caliper: Caliper | None = None
        self.stand_in: StandIn | None = None
        self._waits: QSocketNotifier | None = None
        self._last: tuple[float, float] | None = None
        self.now = monotonic
        self.says = Words(self)
        self.says.setFont(type_(15))
        self.under = QDoubleSpinBox(self)
        self.under.setRange(0.0, 2000.0)
        self.under.setDecimals(2)
        self.under.setValue(30.0)
        self.under.setSuffix(" mm")
        self.under.setAccessibleName(tell("What lies in the stand-in's jaws"))
        self.button = QPushButton(tell("Press its button"), self)
        self.button.clicked.connect(self._press)
        self.let_go = QPushButton(tell("Let it go"), self)
        self.let_go.clicked.connect(lambda: self.stop(tell("The caliper is let go.")))
        for part in (self.under, self.button, self.let_go):  # the reading keeps the focus while the button is pressed
            part.setFocusPolicy(part.focusPolicy() & ~part.focusPolicy().ClickFocus)
        row = QHBoxLayout(self)
        row.setContentsMargins(26, 4, 26, 4)
        row.addWidget(self.says, 1)
        for part in (self.under, self.button, self.let_go):
            row.addWidget(part)
        self.hide()

    def choose(self) -> None:
        """Ask for the port, and listen to it; or stop listening."""
        if self.caliper is not None:
            self.stop(tell("The caliper is let go."))
            return
        asked = CaliperDialog(self.session, self.window())
        if asked.exec():
            self.session.prefer(caliper_unit=asked.unit.currentData(), caliper_speed=asked.speed.currentText())
            self.listen(asked.port.currentText())

    def listen(self, port: str) -> None:
        """Listen to a port, or to the stand-in."""
        self.stand_in = StandIn() if port == STAND_IN.write(self.session.units) else None
        port = self.stand_in.port if self.stand_in is not None else port
        prefers = self.session.preferences
        try:
            self.caliper = Caliper(port, prefers.caliper_unit, int(prefers.caliper_speed))
        except VowLineError as error:
            self.session.say(str(error), wrong=True)
            return
        self._waits = QSocketNotifier(self.caliper.fileno(), QSocketNotifier.Type.Read, self)
        self._waits.activated.connect(self._hear)
        self._last = None
        self.says.setText(
            tell("Listening to the caliper on {port}: its readings go to the one that has the focus.", port=port)
        )
        for part in (self.under, self.button):
            part.setVisible(self.stand_in is not None)
        self.show()

    def stop(self, says: str, wrong: bool = False) -> None:
        """Listen no more."""
        if self._waits is not None:
            self._waits.setEnabled(False)
            self._waits.deleteLater()
            self._waits = None
        if self.caliper is not None:
            self.caliper.close()
            self.caliper = None
        self.hide()
        self.session.say(says, wrong=wrong)

    def _press(self) -> None:
        if self.stand_in is not None:
            self.stand_in.press(self.under.value())

    def _hear(self) -> None:
        if self.caliper is None:
            return
        try:
            sent = self.caliper.heard()
        except VowLineError as error:
            self.stop(str(error), wrong=True)
            return
        for one in sent:
            if one.mm is None:
                self.session.say(one.says, wrong=True)
            else:
                self._read(one.mm)

    def _read(self, mm: float) -> None:
        """Take one reading; the same press sent again is no other reading."""
        before, self._last = self._last, (mm, self.now())
        apart = self._last[1] - before[1] if before is not None and before[0] == mm else TWICE_S
        if apart < DEAD_S:
            return
        if not self._take(mm, tell("a caliper")):
            self.session.say(
                said(
                    "The caliper reads {mm}. Put the focus on what a caliper reads first; then press it again.",
                    mm=fine(mm),
                ),
                wrong=True,
            )
        elif apart < TWICE_S:
            self.session.say(
                said("Twice {mm} to the last digit within a second: was the caliper moved between? If not, read again.",
                     mm=fine(mm)),
                wrong=True,
            )  # fmt: skip
