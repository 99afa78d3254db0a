"""The desk: the line along the top, what there is to say, a page below."""

import ctypes
import gc
import os
from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication, QFrame, QHBoxLayout, QVBoxLayout

from ...core.plan import Plan
from ...core.texts import day, heading, tell
from ...core.work.making import CAUTIONS
from ..dialogs.keys import KeysDialog
from ..dialogs.saving import ask_elsewhere
from ..instruments.caliper import CaliperLine
from ..instruments.tracing import TracingBar
from ..line import LINE, LineBar
from ..look.asking import choose
from ..look.ink import BOLD, INKS, type_
from ..look.words import Words
from ..neighbour import Door
from ..session import Session, fault_log
from . import menus
from .faults import Faults, LogWindow
from .hint import Hint
from .main_window import Filling, MainWindow
from .offers import Offers
from .pages import Pages

IDLE_MS = 4000


class Desk(Filling):
    """The desk of one maker, in its window."""

    def __init__(self, window: MainWindow, session: Session) -> None:
        super().__init__(window)
        self.window_, self.session = window, session
        session.setParent(self)
        session.may_leave = self._may_leave
        self._build()
        self.door: Door | None = None
        self.faults = Faults(self, session.state, session.keep_now)
        self.actions_ = menus.build(self.window_, session, self.pages, self._commands())
        self._lining = QTimer(self)
        self._lining.setSingleShot(True)
        self._lining.timeout.connect(self._show_line)
        self.pages.turned.connect(self._enable)  # what is offered below follows with the line
        session.changed.connect(self._changed)
        session.moved.connect(self._moved)
        session.saved.connect(self._lining.start)
        session.restocked.connect(self._lining.start)
        session.said.connect(self._say)
        session.preferred.connect(self._use_ink)
        session.met_elsewhere.connect(lambda: ask_elsewhere(session, self))
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        app.applicationStateChanged.connect(self._come_back)
        self._use_ink()

    def _build(self) -> None:
        self.name = Words(self)
        self.name.setFont(type_(19, BOLD))
        self.hint = Hint(self)
        self.state = Words(self)
        self.state.setFont(type_(14))
        self.state.setObjectName("state")
        self.line = LineBar(self)
        self.line.went.connect(self.session.go)
        self.notice = Words(self)
        self.notice.setObjectName("notice")
        self.notice.setWordWrap(True)
        self.notice.setFont(type_(15))
        self.notice.hide()
        self.header = QFrame(self)
        self.header.setObjectName("header")
        top = QVBoxLayout(self.header)
        top.setContentsMargins(0, 8, 0, 4)
        top.setSpacing(2)
        words = QHBoxLayout()
        words.setContentsMargins(26, 0, 26, 0)
        words.addWidget(self.name)
        words.addSpacing(28)
        words.addWidget(self.hint, 1)
        words.addSpacing(28)
        words.addWidget(self.state)
        top.addLayout(words)
        top.addWidget(self.line)
        self.pages = Pages(self.session, self)
        self.pages.turned.connect(self.header.setVisible)
        self.caliper = CaliperLine(self.session, self.pages.station.board.take, self)
        self.tracing = TracingBar(self.session, self)
        under = QVBoxLayout(self)
        under.setContentsMargins(0, 0, 0, 0)
        under.setSpacing(0)
        for widget in (self.header, self.notice, self.tracing, self.caliper):
            under.addWidget(widget)
        under.addWidget(self.pages, 1)
        self.offers = Offers(self)
        self.pages.turned.connect(self.offers.setVisible)
        under.addWidget(self.offers)

    def _commands(self) -> menus.Commands:
        return menus.Commands(
            caliper=self.caliper.choose, trace=self.tracing.ask, keys=self.show_keys, by=self.go_by,
            cautions=lambda: self.session.say(" ".join(c.write(self.session.units) for c in CAUTIONS)),
            log=lambda: LogWindow(self, fault_log.log_in(self.session.state)).open(),
        )  # fmt: skip

    def settle(self) -> None:
        """Begin, once the desk lies in its window."""
        if not self.session.open:
            self.pages.show_shelf()
        self.session.keep_house()
        self._quieten()

    def _come_back(self, state: Qt.ApplicationState) -> None:
        """See what other hands did meanwhile; not over a question that is open."""
        if state == Qt.ApplicationState.ApplicationActive and QApplication.activeModalWidget() is None:
            self.session.look()

    def open_door(self, place: Path) -> None:
        """Let a second start find this window."""
        self.door = Door(place, self)
        self.door.knocked.connect(self._come_forward)

    def _come_forward(self, job: Path | None, token: str) -> None:
        if token:
            os.environ["XDG_ACTIVATION_TOKEN"] = token  # the desktop's leave, which Qt takes up
        window = self.window_
        window.setWindowState(window.windowState() & ~Qt.WindowState.WindowMinimized)
        window.show()
        window.raise_()
        window.activateWindow()
        if job is not None and job != self.session.path:
            if QApplication.activeModalWidget() is None:
                self.session.open_file(job)
            else:
                self.session.say(tell("Answer what is asked here first; then open {job}.", job=str(job)), wrong=True)

    def _quieten(self) -> None:
        """Keep the garbage collector from stopping a hand in mid-edit: what was loaded is left out of its rounds, and they
        are made when nothing has been typed for a while. Plans hold no cycles, so little waits for it.
        """
        gc.collect()
        gc.freeze()
        gc.disable()
        self._idle = QTimer(self)
        self._idle.setSingleShot(True)
        self._idle.setInterval(IDLE_MS)
        self._idle.timeout.connect(_tidy)

    # where one stands

    def go_by(self, by: int) -> None:
        """Go so many stations on, or back."""
        names = [s for s, _ in LINE]
        if self.session.station in names:
            self.session.go(names[min(max(names.index(self.session.station) + by, 0), len(names) - 1)])

    def _moved(self) -> None:
        session = self.session
        self.name.setText(session.job.name)
        if session.new and session.station is not None:
            self.hint.arrive(str(session.path), session.station, session.plan)
        else:
            self.hint.clear()
        self._lining.start()

    def _changed(self, before: Plan, after: Plan) -> None:
        self.hint.clear()
        if self.notice.isVisible():
            self._say("", False)
        self._idle.start()
        self.pages.station.edited()
        self.pages.show_plan()
        self._lining.start()

    def _show_line(self) -> None:
        """Show where the job stands, which every stage has a say in: when the page has been painted."""
        session = self.session
        if not session.open or session.station is None:
            return
        now, vowed = session.plan, session.job.vowed
        self.name.setText(session.job.name)
        where = (tell("revision {n}, vowed {day}", n=vowed.revision, day=day(vowed.at)) if vowed
                 else tell("not vowed yet"))  # fmt: skip
        self.state.setText(tell("{state}  ·  not saved", state=where) if session.unsaved else where)
        self.line.show_line(session.station, set(now.sewn), now.flags, self.pages.ink)
        self._enable()
        self.offers.offer(menus.AT[session.station], self.actions_)
        session.note_faults()

    def _enable(self) -> None:
        menus.enable(self.actions_, self.session, bool(self.pages.shelf.jobs))

    # how it looks, what it says

    def _use_ink(self) -> None:
        ink = INKS[self.session.preferences.ink]
        self.pages.use_ink(ink)  # what is drawn by hand at once, in the next turn what Qt styles, which takes longer
        QTimer.singleShot(1, self, lambda: self.window_.use_ink(INKS[self.session.preferences.ink]))
        self.pages.station.board.ask_across(self.session.preferences.asks == "across")
        self._lining.start()

    def _say(self, text: str, wrong: bool) -> None:
        self.notice.setText(text)
        self.notice.setAccessibleName(text)
        self.notice.setProperty("wrong", wrong)
        self.notice.style().unpolish(self.notice)
        self.notice.style().polish(self.notice)
        self.notice.setVisible(bool(text))

    def show_keys(self) -> None:
        """Show which keys there are."""
        station = self.session.station if self.session.open else None
        title = heading(dict(LINE)[station]) if station else ""
        self.keys = KeysDialog(self.actions_, menus.AT.get(station or "", ()), title, self)
        self.keys.open()

    def put_away(self) -> None:
        """Before the window closes: keep what is not saved, stop what is under way."""
        self.session.put_away()
        self.faults.let_be()
        if self.door is not None:
            self.door.shut()
        gc.enable()

    def may_close(self) -> bool:
        """Take what is half typed, or ask about it; false where the maker stays."""
        return self._may_leave(True)

    def _may_leave(self, leaving: bool) -> bool:
        untaken = self.pages.untaken(leaving)
        if not untaken:
            return True
        says = tell("{untaken}\n\nLeave without it?", untaken=untaken)
        if choose(self, tell("Half typed"), says, tell("Leave without it"), tell("Stay")) != 0:
            return False
        self.pages.leave_untaken()
        return True


def _tidy() -> None:
    """Collect what nothing refers to any more, and give the system back what that leaves free."""
    gc.collect()
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)  # of the usual C library; another keeps less by itself
    if trim is not None:
        trim(0)
