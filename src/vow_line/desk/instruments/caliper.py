"""Readings from a caliper."""

from collections.abc import Callable

from PySide6.QtCore import QObject, QSocketNotifier
from PySide6.QtWidgets import QInputDialog, QWidget

from ...core.errors import VowLineError
from ...core.reckoning import fine
from ...core.texts import said, tell
from ...instruments.caliper import Caliper, StandIn, ports
from ..session import Session

STAND_IN = said("the stand-in, to try it")


class CaliperLine(QObject):
    """Takes readings from a caliper to the callout that has the focus, and moves on to the next."""

    def __init__(self, session: Session, take: Callable[[float, str], bool], parent: QWidget) -> None:
        super().__init__(parent)
        self.session, self._take, self._over = session, take, parent
        self.caliper: Caliper | None = None
        self.stand_in: StandIn | None = None
        self._waits: QSocketNotifier | None = None

    def choose(self) -> None:
        """Ask for the port, and listen to it; or stop listening."""
        if self.caliper is not None:
            self.stop(tell("The caliper is let go."))
            return
        chosen, yes = QInputDialog.getItem(
            self._over,
            tell("Caliper"),
            tell("The caliper is on"),
            [*ports(), STAND_IN.write(self.session.units)],
            editable=False,
        )
        if yes:
            self.listen(chosen)

    def listen(self, port: str) -> None:
        """Listen to a port, or to the stand-in."""
        if port == STAND_IN.write(self.session.units):
            self.stand_in = StandIn()
            port = self.stand_in.port
        try:
            self.caliper = Caliper(port)
        except VowLineError as error:
            self.session.say(str(error), wrong=True)
            return
        self._waits = QSocketNotifier(self.caliper.fileno(), QSocketNotifier.Type.Read, self)
        self._waits.activated.connect(self._hear)
        self.session.say(
            tell("Listening to the caliper on {port}: its readings go to the value that has the focus.", port=port)
        )

    def stop(self, says: str, wrong: bool = False) -> None:
        """Listen no more."""
        if self._waits is not None:
            self._waits.setEnabled(False)
            self._waits.deleteLater()
            self._waits = None
        if self.caliper is not None:
            self.caliper.close()
            self.caliper = None
        self.session.say(says, wrong=wrong)

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
            elif not self._take(one.mm, "caliper"):
                self.session.say(
                    said(
                        "The caliper reads {mm}. Put the focus on a length first; then press it again.", mm=fine(one.mm)
                    ),
                    wrong=True,
                )
