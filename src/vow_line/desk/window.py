"""The one window: the line along the top, a page below it, a menu for everything a hand might look for."""

import gc
import itertools
from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)  # fmt: skip

from ..core import job as steps
from ..core.draft.kind import KindOfPiece
from ..core.drawing import Callout, Handle
from ..core.entry import enter
from ..core.errors import VowLineError
from ..core.finding import Station
from ..core.job import Job
from ..core.measure import Thing
from ..core.plan import Plan, plan
from ..core.stitch.tools import USUAL
from ..core.work.making import CAUTIONS
from ..files.job_json import JOB_SUFFIX, file_name, read_job, write_job
from ..workshop import Workshop
from . import faults, filing, menus
from .asking import measure_thread
from .autosave import Autosave
from .begin import BeginPage
from .bench import BenchPage
from .export import Exporting
from .frame import Frame
from .gestures import placed
from .ink import BOLD, Ink, type_
from .instruments import CaliperLine, TracingBar
from .line import LINE, LineBar
from .rows import Row
from .sew import SewPage
from .shelf import OnShelf, ShelfPage
from .stations import BENCHES
from .store import Store
from .teaching import learned_slack
from .vow import VowPage

AUTOSAVE_MS = 250
IDLE_MS = 4000


class Window(QWidget):
    """The desk of one maker, in its frame."""

    def __init__(
        self, frame: Frame, workshop: Workshop, autosave: Autosave, jobs_folder: Path, ink: Ink,
        now: Callable[[], datetime] = datetime.now,
    ) -> None:  # fmt: skip
        super().__init__(frame)
        self.frame, self.workshop, self.autosave, self.jobs_folder, self.now = (
            frame,
            workshop,
            autosave,
            jobs_folder,
            now,
        )
        self.preferences = workshop.preferences()
        self.ink = ink
        self.store: Store | None = None
        self.path: Path | None = None
        self.station: Station | None = None
        self.exporting: Exporting | None = None
        self._build()
        self.actions_ = menus.build(self)
        self._lining = QTimer(self)
        self._lining.setSingleShot(True)
        self._lining.timeout.connect(self._show_line)
        self._autosaving = QTimer(self)
        self._autosaving.setSingleShot(True)
        self._autosaving.setInterval(AUTOSAVE_MS)
        self._autosaving.timeout.connect(self.keep)
        autosave.failed.connect(lambda says: self.say(says, wrong=True))
        self.use_ink(self.ink)

    # what it is made of

    def _build(self) -> None:
        self.name = QLabel(self)
        self.name.setFont(type_(19, BOLD))
        self.state = QLabel(self)
        self.state.setFont(type_(14))
        self.state.setObjectName("state")
        self.line = LineBar(self)
        self.line.went.connect(self.go)
        self.notice = QLabel(self)
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
        words.addWidget(self.name, 1)
        words.addWidget(self.state)
        top.addLayout(words)
        top.addWidget(self.line)
        self.shelf = ShelfPage(self)
        self.shelf.chosen.connect(self.open)
        self.shelf.begun.connect(self.begin)
        self.shelf.fetched.connect(partial(filing.fetch, self))
        self.begin_page = BeginPage(self)
        self.begin_page.chosen.connect(self._chosen)
        self.begin_page.left.connect(self._not_chosen)
        self.bench = BenchPage(self._enter, self)
        self.bench.sought.connect(lambda says, wrong: self.say(says, wrong=wrong))
        self.bench.board.dragged.connect(self._dragged)
        self.bench.board.placed.connect(partial(placed, self))
        self.bench.mended.connect(self._mend)
        self.bench.ticked.connect(self._tick)
        self.bench.noted.connect(
            lambda about, says: self.do("write a note", lambda j: steps.write_note(j, about=about, says=says))
        )
        self.vow_page = VowPage(self)
        self.vow_page.vowed.connect(lambda: self.do("vow the plan", lambda j: steps.vow(j, at=self.now())))
        self.vow_page.broken.connect(lambda: self.do("break the vow", lambda j: steps.break_vow(j, at=self.now())))
        self.vow_page.accepted.connect(
            lambda code, at, why: self.do("accept a hold", lambda j: steps.accept(j, code=code, at=at, reason=why))
        )
        self.vow_page.mended.connect(self._mend)
        self.sew = SewPage(self)
        self.sew.sounds = self.preferences.sounds == "on"
        self.sew.made.connect(self._sewn_to)
        self.sew.stepped.connect(lambda step: self._tick_step(step, True))
        self.sew.elsewhere.connect(self.go)
        self.sew.measuring.connect(partial(measure_thread, self))
        self.sew.left.connect(self._practised)
        self.sew.finished.connect(lambda seam: self._tick_step(f"sew/{seam}", True))
        self.pages = QStackedWidget(self)
        for page in (self.shelf, self.begin_page, self.bench, self.vow_page, self.sew):
            self.pages.addWidget(page)
        self.caliper = CaliperLine(self)
        self.tracing = TracingBar(self)
        under = QVBoxLayout(self)
        under.setContentsMargins(0, 0, 0, 0)
        under.setSpacing(0)
        for widget in (self.header, self.notice, self.tracing):
            under.addWidget(widget)
        under.addWidget(self.pages, 1)

    def settle(self) -> None:
        """Begin, once the desk lies in its frame."""
        if self.store is None:
            self.show_shelf()
        self._quieten()

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
        self._idle.timeout.connect(gc.collect)

    # which job, which station

    def show_shelf(self) -> None:
        """Show the shelf, the jobs read one after another once it is painted."""
        self.keep()
        self.store, self.path, self.station = None, None, None
        self.header.hide()
        self.pages.setCurrentWidget(self.shelf)
        jobs = [OnShelf(p) for p in self.workshop.jobs()]
        self.shelf.show_jobs(jobs, self.ink)
        menus.enable(self)
        QTimer.singleShot(0, self._read_shelf)
        self.shelf.list.setFocus()

    def _read_shelf(self) -> None:
        if self.store is not None:
            return
        read = []
        for shelf in self.shelf.jobs:
            try:
                read.append(OnShelf(shelf.path, plan(self.autosave.recover(shelf.path) or read_job(shelf.path))))
            except VowLineError as error:
                read.append(OnShelf(shelf.path, wrong=str(error)))
        self.shelf.show_jobs(read, self.ink)

    def open(self, path: Path) -> bool:
        """Open a job file where it stands on its line. What was not saved last time is there again."""
        try:
            saved = read_job(path)
        except VowLineError as error:
            self.say(str(error), wrong=True)
            return False
        unsaved = self.autosave.recover(path)
        self._use(path, unsaved or saved, saved)
        self.workshop.remember(path)
        if unsaved is not None and unsaved != saved:
            self.say("Unsaved work on this job was kept, and is here again. Save it, or undo.")
        return True

    def _use(self, path: Path, job: Job, saved: Job) -> None:
        self.keep()
        self.store = Store(saved, self)
        self.store.saved = saved
        self.path = path
        if job != saved:
            self.store.do("work not saved last time", lambda _: job)
        self.store.changed.connect(self._changed)
        self.know_workshop()
        self.say("")
        self.header.show()
        self.go(self.store.plan.standing)

    def begin(self) -> None:
        """Ask what a new job is for, and begin it in the jobs folder."""
        self.keep()
        self.store, self.path, self.station = None, None, None
        self.header.hide()
        self.pages.setCurrentWidget(self.begin_page)
        self.begin_page.ask(self.ink)
        menus.enable(self)

    def another_kind(self) -> None:
        """Ask how the thing that is measured is to be carried instead."""
        if self.store is not None:
            self.pages.setCurrentWidget(self.begin_page)
            self.begin_page.ask(self.ink, type(self.store.job.thing))

    def _chosen(self, thing: type[Thing], kind: type[KindOfPiece]) -> None:
        if self.store is None:
            name = f"New {thing.says}"
            self.begin_with(steps.blank(name=name, thing=thing, kind=kind, slack=learned_slack(self)))
        else:
            self.do("choose another kind", lambda j: steps.another_kind(j, kind=kind))
            self.go("draft")

    def _not_chosen(self) -> None:
        if self.store is None:
            self.show_shelf()
        else:
            self.go(self.station or "draft")

    def begin_with(self, job: Job) -> None:
        """Begin a job in a file of its own in the jobs folder."""
        again = itertools.chain([""], (f"-{n}" for n in itertools.count(2)))
        names = (self.jobs_folder / f"{file_name(job.name)}{n}{JOB_SUFFIX}" for n in again)
        path = next(p for p in names if not p.exists())
        try:
            write_job(job, path)
        except VowLineError as error:
            self.say(str(error), wrong=True)
            return
        self.open(path)

    def go(self, station: Station | str) -> None:
        """Go to a station."""
        if self.store is None:
            return
        self.station = station  # type: ignore[assignment]
        self.name.setText(self.store.job.name)
        if station in BENCHES and station != "sew":
            self.pages.setCurrentWidget(self.bench)
        else:
            self.pages.setCurrentWidget(self.vow_page if station == "vow" else self.sew)
        self.refresh()
        if station == "sew":
            self.sew.setFocus(Qt.FocusReason.OtherFocusReason)
        elif station == "vow":
            self.vow_page.findings.setFocus(Qt.FocusReason.OtherFocusReason)

    def go_by(self, by: int) -> None:
        names = [s for s, _ in LINE]
        if self.station in names:
            self.go(names[min(max(names.index(self.station) + by, 0), len(names) - 1)])

    def refresh(self) -> None:
        """Show the plan as it stands: the page that is seen at once, the line when that has been painted."""
        if self.store is None or self.station is None:
            return
        self._show(self.store.plan)
        self._lining.start()

    def _show_line(self) -> None:
        """Show where the job stands, which every stage has a say in."""
        if self.store is None or self.station is None:
            return
        now, job = self.store.plan, self.store.job
        self.name.setText(job.name)
        vowed = job.vowed
        where = f"revision {vowed.revision}, vowed {vowed.at:%d %B}".replace(" 0", " ") if vowed else "not vowed yet"
        self.state.setText(f"{where}{'  ·  not saved' if self.store.unsaved else ''}")
        self.line.show_line(self.station, set(now.sewn), now.flags, self.ink)
        menus.enable(self)
        faults.note(now, self.autosave.folder.parent, self.now())

    def _show(self, now: Plan) -> None:
        if self.station in BENCHES and self.station != "sew":
            self.bench.show_bench(BENCHES[self.station], now, self.ink)
        elif self.station == "vow":
            self.vow_page.show_plan(now, self.ink)
        else:
            self.sew.show_plan(now, self.ink)

    def _changed(self, before: Plan, after: Plan) -> None:
        if self.notice.isVisible():
            self.say("")
        self._autosaving.start()
        self._idle.start()
        self.bench.edited()
        self.refresh()

    # changes

    def undo(self) -> None:
        """Take the last step back."""
        if self.store:
            self.store.undo()

    def redo(self) -> None:
        """Do it again."""
        if self.store:
            self.store.redo()

    def do(self, name: str, step: Callable[[Job], Job], merge: str = "") -> bool:
        """Do a named step; what refuses it is said, and then nothing has changed."""
        if self.store is None:
            return False
        try:
            self.store.do(name, step, merge=merge)
        except VowLineError as error:
            self.say(str(error), wrong=True)
            return False
        return True

    def _enter(self, callout: Callout, path: str, value: Any) -> None:
        """A value typed on the board. What refuses it is raised, so that the field can say it."""
        assert self.store is not None
        name = f"set {callout.name.write(self.store.job.units)}"
        self.store.do(name, lambda job: enter(job, path, value, at=self.now(), using=self.bench.board.using))

    def _dragged(self, handle: Handle, value: Any) -> None:
        self.do(f"move {handle.name}", lambda job: steps.change(job, handle.path, value), merge=f"drag {handle.path}")

    def _mend(self, key: str) -> None:
        if self.store is None:
            return
        code, at, *other = key.split("|")
        judged = [self.bench.judged] if self.bench.judged is not None else []
        found = next((f for f in (*judged, *self.store.plan.findings) if (f.code, f.at) == (code, at)), None)
        if found is None:
            return
        mend = found.others[int(other[0])] if other else found.mend
        if mend is not None:
            self.do(mend.label, lambda j: steps.mend(j, mend))
        if found.mend is None or found.mend.label == "read again":
            self.go(found.station if found.station in BENCHES else "measure")
            self.bench.board.show_field(found.at)

    def _tick(self, row: Row) -> None:
        self._tick_step(row.key, not row.ticked)

    def _tick_step(self, step: str, done: bool) -> None:
        if self.store is None:
            return
        if self.store.job.vowed is None:
            self.say("The plan is not vowed yet. Read it back at the vow before anything is cut.", wrong=True)
            return
        if done:
            self.do("tick off a step", lambda j: steps.tick(j, step=step, at=self.now()))
        else:
            self.do("untick a step", lambda j: steps.untick(j, step=step))

    def _sewn_to(self, seam: str, passes: int) -> None:
        if self.store is not None and self.store.job.vowed is None:
            self.say("The plan is not vowed yet: what is sewn now would not be counted.", wrong=True)
            return
        self.do("a pass of the needle", lambda j: steps.sew_to(j, seam=seam, passes=passes), merge=f"sew {seam}")

    def _practised(self) -> None:
        if self.store is None or self.station is None:
            self.show_shelf()
        else:
            self.go(self.station)

    # files

    def saved(self) -> None:
        """The job's file holds it as it is now."""
        self._autosaving.stop()
        if self.path is not None:
            self.autosave.drop(self.path)
        self.refresh()

    def keep(self) -> None:
        """Keep what is not saved."""
        if self.store is None or self.path is None:
            return
        if self.store.unsaved:
            self.autosave.keep(self.path, self.store.job)
        else:
            self.autosave.drop(self.path)

    def export_ended(self) -> None:
        """Another export may begin."""
        self.exporting = None

    # how it looks, what it says

    def use_ink(self, ink: Ink) -> None:
        """Use this bench's colours everywhere."""
        self.ink = ink
        self.frame.use_ink(ink)
        self.shelf.show_jobs(self.shelf.jobs, ink)
        self.refresh()

    def say(self, text: str, wrong: bool = False) -> None:
        """Say something below the line; an empty text takes it away."""
        self.notice.setText(text)
        self.notice.setAccessibleName(text)
        self.notice.setProperty("wrong", wrong)
        self.notice.style().unpolish(self.notice)
        self.notice.style().polish(self.notice)
        self.notice.setVisible(bool(text))

    def show_keys(self) -> None:
        """Say which keys there are."""
        told = [f"{a.text().replace('&', '')}: {a.shortcut().toString()}" for a in self.actions_.values()
                if not a.shortcut().isEmpty()]  # fmt: skip
        self.say(" · ".join(told) + " · At Sew, Space: next, Backspace: back.")

    def show_cautions(self) -> None:
        """The cautions, together."""
        self.say(" ".join(CAUTIONS))

    def to_first_value(self) -> None:
        fields = self.bench.board.fields
        if self.pages.currentWidget() is self.bench and fields:
            next(iter(fields.values())).setFocus(Qt.FocusReason.ShortcutFocusReason)

    def know_workshop(self) -> None:
        """Let the stations choose from what the workshop keeps."""
        self.bench.know((*self.workshop.tools(), *USUAL), self.workshop.threads())
        self.refresh()

    def find_way(self) -> None:
        """Look for a way out that may shift and turn."""
        if self.station == "draft":
            self.bench.find_way()

    def draw_out(self) -> None:
        if self.station == "draft":
            self.bench.draw_out()

    def next_seam(self) -> None:
        if self.station == "sew":
            self.sew.next_seam()
        elif self.station in BENCHES and BENCHES[self.station].seams:
            self.bench.next_seam()

    def put_away(self) -> None:
        """Before the window closes: take what is being typed, keep what is not saved, stop what is under way."""
        focused = QGuiApplication.focusObject()
        if isinstance(focused, QLineEdit):
            focused.clearFocus()
        self._autosaving.stop()
        self.keep()
        self.bench.stop_looking()
        if self.exporting is not None:
            self.exporting.stop()
        self.autosave.settle()
        gc.enable()
