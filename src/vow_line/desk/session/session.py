"""A maker's session: the open job, its file, what is not saved, the workshop, the clock, where on the line one stands."""

import itertools
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from ...core import steps, wearers
from ...core.differences import differences
from ...core.drawing import Callout
from ...core.entry import enter
from ...core.errors import NewerFormat, VowLineError
from ...core.finding import Finding, Station
from ...core.job import Job, change, mend
from ...core.measure import Taken
from ...core.plan import Plan
from ...core.quantity import Units
from ...core.texts import Said, dated_on, said, tell
from ...files.job_json import JOB_SUFFIX, file_name, read_job, write_job
from ...files.whole import HasOtherNames, last_good, sweep
from ...workshop import Workshop
from . import fault_log
from .autosave import Autosave, Kept, digest
from .store import Store
from .worker import Tell, Worker

AUTOSAVE_MS = 250  # after the last edit
LONGEST_MS = 500  # after the first that is not kept, however many follow: with its writing under a second, however slow
CHANGED_ELSEWHERE = said("The file was changed elsewhere since. It is not written over: save this as another.")
NOT_VOWED = said("The plan is not vowed yet. Read it back at the vow before anything is cut.")
OTHER_WORK = said(
    "Other unsaved work on it is kept, which does not follow from what the file holds now: File, lay kept work beside, makes "
    "it a job of its own."
)
SEWN_UNVOWED = said("The plan is not vowed yet: what is sewn now would not be counted.")


class Session(QObject):
    """What every part of the desk is given. It shows nothing: `changed` carries the plan before and after an edit, `moved` says
    that another job or station is looked at, `saved` that the file has it all, `said` what a maker should
    read and whether it is wrong, `pointed` the value that is wanted next, `preferred` that preferences are others, `restocked`
    that the workshop keeps other tools and threads, `met_elsewhere` that the file of the open job was changed by another hand.
    """

    changed = Signal(object, object)
    moved = Signal()
    saved = Signal()
    said = Signal(str, bool)
    pointed = Signal(str)
    preferred = Signal()
    restocked = Signal()
    met_elsewhere = Signal()

    def __init__(
        self, workshop: Workshop, autosave: Autosave, jobs_folder: Path, now: Callable[[], datetime] = datetime.now
    ) -> None:
        super().__init__()
        self.workshop, self.autosave, self.jobs_folder, self.now = workshop, autosave, jobs_folder, now
        self.worker = Worker(self)
        self.preferences = workshop.preferences()
        self.begun: set[Path] = set()
        self.path: Path | None = None
        self.station: Station | None = None
        self._store: Store | None = None
        self.taking = Taken()  # who reads, with what and over what, where that was said for all that follows
        self._on_file = ""  # a digest of what its file held when it was read or saved
        self._damaged = False
        self._looked = ""  # what the file held when that was last told
        self.beside: tuple[Kept, ...] = ()  # other work on the open job that no file has
        # asked before the hand is taken elsewhere, and whether to another job
        self.may_leave: Callable[[bool], bool] = lambda _: True
        self._autosaving = QTimer(self)
        self._autosaving.setSingleShot(True)
        self._autosaving.setInterval(AUTOSAVE_MS)
        self._latest = QTimer(self)
        self._latest.setSingleShot(True)
        self._latest.setInterval(LONGEST_MS)
        for timer in (self._autosaving, self._latest):
            timer.timeout.connect(self.keep)
        autosave.failed.connect(self._not_kept)
        workshop.on_trouble = partial(self.say, wrong=True)
        for worker in (self.worker, autosave.writer):
            worker.broke.connect(self._broke)

    # the open job

    @property
    def open(self) -> bool:
        """Whether a job is open."""
        return self._store is not None

    @property
    def plan(self) -> Plan:
        """The plan of the open job. Raises where none is."""
        if self._store is None:
            raise RuntimeError("no job is open")
        return self._store.plan

    @property
    def job(self) -> Job:
        """The open job. Raises where none is."""
        return self.plan.job

    @property
    def units(self) -> Units:
        """The units of the open job, or the usual ones."""
        return self.job.units if self.open else Units()

    @property
    def unsaved(self) -> bool:
        """Whether the open job differs from its file."""
        return self._store is not None and self._store.unsaved

    def open_file(self, path: Path) -> bool:
        """Open a job file where it stands on its line. What was not saved last time is there again, if it grew from what the
        file holds; other work is said to be there.
        """
        if not self.may_leave(True):
            return False
        self.keep()
        content, damaged, read = digest(path), "", None
        works = self.autosave.works(path)
        try:
            read = read_job(path)
        except NewerFormat as error:
            self.say(str(error), wrong=True)
            return False
        except VowLineError as error:
            damaged = str(error) if path.exists() else tell("The file {path} is gone.", path=str(path))
        ours = _ours(works, path, content, readable=read is not None)
        unsaved = ours.job if ours else None
        on_file = read or _readable(last_good(path)) or unsaved
        if on_file is None:
            self.say(damaged, wrong=True)
            return False
        alone = self.autosave.take(path)
        if ours is not None:
            self.autosave.adopt(ours)
        self.beside = tuple(k for k in self.autosave.works(path) if ours is None or k.place != ours.place)
        self._let_go()
        self._store = Store(on_file, self)
        self.taking = Taken()
        self.path, self._on_file, self._damaged = path, content, bool(damaged)
        self._looked = content
        if damaged:
            self._store.saved = None
        if unsaved is not None and unsaved != on_file:
            self._store.do(tell("work not saved last time"), lambda _: unsaved)
        self._store.changed.connect(self._changed)
        self.station = None  # nothing of it is shown before it is gone to
        self.restocked.emit()
        self.say("")
        self.go(self.plan.standing)
        self.workshop.remember(path)
        if damaged:
            says = (
                said(
                    "{damaged} What was kept of it is open instead; saving puts that in its place, and keeps the damaged file "
                    "beside it.",
                    damaged=damaged,
                )
                if path.exists()
                else said("{gone} What was kept of it is open; saving writes it there again.", gone=damaged)
            )
            self.say(says, wrong=True)
        elif unsaved is not None and unsaved != on_file:
            again = said("Unsaved work on this job was kept, and is here again. Save it, or undo.")
            self.say(said("{again} {more}", again=again, more=OTHER_WORK) if self.beside else again)
        elif self.beside:
            self.say(OTHER_WORK)
        elif not alone:
            says = said("This job is open in another window too. What is not saved here is kept apart from that.")
            self.say(says, wrong=True)
        return True

    def begin_with(self, job: Job) -> bool:
        """Begin a job in a file of its own in the jobs folder."""
        if not self.may_leave(True):
            return False
        path = self._write_new(job)
        if path is None:
            return False
        self.begun.add(path)
        return self.open_file(path)

    def _write_new(self, job: Job) -> Path | None:
        """Write a job into a file of its own in the jobs folder; what hinders it is said."""
        again = itertools.chain([""], (f"-{n}" for n in itertools.count(2)))
        names = (self.jobs_folder / f"{file_name(job.name)}{n}{JOB_SUFFIX}" for n in again)
        path = next(p for p in names if not p.exists())
        try:
            write_job(job, path)
        except VowLineError as error:
            self.say(str(error), wrong=True)
            return None
        return path

    def lay_beside(self) -> None:
        """Make a job of its own, on the shelf, of all work that was kept on the open one and does not follow from its file."""
        laid = []
        for kept in self.beside:
            if kept.job is None:
                continue
            name = tell("{job}, kept {day}", job=kept.job.name, day=dated_on(kept.at))
            path = self._write_new(change(kept.job, "name", name))
            if path is None:
                return
            self.workshop.remember(path)
            self.autosave.throw_away(kept)
            laid.append(name)
        self.beside = tuple(k for k in self.beside if k.job is None)
        if self.path is not None:
            self.workshop.remember(self.path)
        if self.beside:
            self.say(" ".join(k.wrong for k in self.beside), wrong=True)
        else:
            self.say(said("On the shelf now: {jobs}.", jobs=", ".join(laid)))
        self.saved.emit()

    @property
    def new(self) -> bool:
        """Whether the job that is open was begun since the program was."""
        return self.path in self.begun

    def leave(self) -> bool:
        """Have no job open; what is not saved is kept. False where the maker stays."""
        if self.open and not self.may_leave(True):
            return False
        self.keep()
        self.autosave.settle()
        self.autosave.let_go()
        self._let_go()
        self.path, self.station, self.beside = None, None, ()
        return True

    def _let_go(self) -> None:
        """Let go of the open job, with all that could be undone in it."""
        if self._store is not None:
            self._store.deleteLater()
        self._store = None

    def shelf(self) -> tuple[Path, ...]:
        """The job files on the shelf, and those that are gone but for what was not saved of them."""
        return tuple(dict.fromkeys((*self.autosave.orphans(), *self.workshop.jobs())))

    def keep_house(self) -> None:
        """Once a start, off the main thread: sweep up what killed saves left, and back the workshop's book up."""
        shelf, folder, today = self.workshop.jobs(), self.autosave.folder, self.now().date()
        folders = {folder, self.jobs_folder, self.workshop.path.parent, *(p.parent for p in shelf)}

        def work(_: Tell) -> None:
            sweep(folders)
            self.workshop.back_up(today)

        self.worker.start(tell("keeping house"), work)

    def on_shelf(self, path: Path) -> Job:
        """A job on the shelf, as it would be opened. Raises UnreadableFile."""
        works = self.autosave.works(path)
        ours = _ours(works, path, digest(path), readable=path.exists())
        return ours.job if ours is not None and ours.job is not None else read_job(path)

    def go(self, station: Station) -> None:
        """Go to a station."""
        if self.open and (self.station in (None, station) or self.may_leave(False)):
            self.station = station
            self.moved.emit()

    def point(self, path: str) -> None:
        """Ask for the value at this path."""
        self.pointed.emit(path)

    # changes

    def undo(self) -> None:
        """Take the last step back."""
        if self._store:
            self._store.undo()

    def redo(self) -> None:
        """Do it again."""
        if self._store:
            self._store.redo()

    @property
    def undo_name(self) -> str:
        """What undo would take back, or nothing."""
        return self._store.undo_name if self._store else ""

    @property
    def redo_name(self) -> str:
        """What redo would do again, or nothing."""
        return self._store.redo_name if self._store else ""

    def do(self, name: str, step: Callable[[Job], Job], merge: str = "") -> bool:
        """Do a named step; what refuses it is said, and then nothing has changed."""
        if self._store is None:
            return False
        try:
            self._store.do(name, step, merge=merge)
        except VowLineError as error:
            self.say(str(error), wrong=True)
            return False
        return True

    def enter(self, callout: Callout, path: str, value: Any, using: str = "") -> None:
        """Take a value typed on the board. What refuses it is raised, so that the field can say it."""
        assert self._store is not None
        name = tell("set {what}", what=callout.name.write(self.units))
        self._store.do(
            name,
            lambda job: enter(
                job,
                path,
                value,
                at=self.now(),
                using=using or self.taking.using,
                over=self.taking.over,
                by=self.taking.by,
            ),
        )

    def mend(self, finding: Finding, other: int | None = None) -> None:
        """Apply the mend of a finding, or one of its others; where there is none, go to the place it is about."""
        how = finding.mend if other is None else finding.others[other]
        if how is not None:
            self.do(how.label.write(self.units), lambda j: mend(j, how))
        number, at = wearers.place_of(self.job, finding.at)
        [(path, value), *more] = finding.mend.changes if finding.mend else [(at, None)]
        if not more and value is None and path.endswith(at):
            if number != self.job.wearer:
                self.do(tell("turn to another"), lambda j: wearers.turn_to(j, number))
            self.go(finding.station)
            self.point(at)

    def tick(self, step: str, done: bool = True) -> None:
        """Tick a step off, or not; before the vow that is refused."""
        if not self.open:
            return
        if self.job.vowed is None:
            self.say(NOT_VOWED, wrong=True)
        elif done:
            self.do(tell("tick off a step"), lambda j: steps.tick(j, step=step, at=self.now()))
        else:
            self.do(tell("untick a step"), lambda j: steps.untick(j, step=step))

    def sewn_to(self, seam: str, passes: int) -> None:
        """So many passes of a seam are made."""
        if self.open and self.job.vowed is None:
            self.say(SEWN_UNVOWED, wrong=True)
            return
        self.do(tell("a pass of the needle"), lambda j: steps.sew_to(j, seam=seam, passes=passes), merge=f"sew {seam}")

    def vow(self) -> None:
        """Vow the plan."""
        self.do(tell("vow the plan"), lambda j: steps.vow(j, at=self.now()))

    def break_vow(self) -> None:
        """Break the vow."""
        self.do(tell("break the vow"), lambda j: steps.break_vow(j, at=self.now()))

    def _changed(self, before: Plan, after: Plan) -> None:
        self._autosaving.start()
        if not self._latest.isActive():
            self._latest.start()
        self.changed.emit(before, after)

    # what is kept

    @property
    def changed_elsewhere(self) -> bool:
        """Whether the file of the open job holds something else than when it was read or saved."""
        return self.path is not None and digest(self.path) not in ("", self._on_file)

    def look(self) -> None:
        """See whether the file of the open job was changed elsewhere, and tell it, each change once."""
        now = digest(self.path) if self.path is not None else ""
        if now not in ("", self._on_file, self._looked):
            self._looked = now
            self.met_elsewhere.emit()

    def elsewhere(self) -> tuple[Said, ...] | None:
        """What differs between the job here and what its file holds now; None where that cannot be read."""
        try:
            return differences(self.job, read_job(self.path)) if self.path is not None else ()
        except VowLineError:
            return None

    def save(self, path: Path | None = None, *, over: bool = False, part: bool = False) -> bool:
        """Save to the job's file, or to another that is its file from then on. What was changed elsewhere is written over only
        where that was asked for, and a file with other names is parted from them only where that was. Raises HasOtherNames.
        """
        if self._store is None or self.path is None:
            return False
        to = path or self.path
        if to == self.path and self.changed_elsewhere and not over:
            self.say(CHANGED_ELSEWHERE, wrong=True)
            return False
        try:
            if self._damaged and to == self.path and to.exists():
                to.replace(to.with_name(f"{to.name}.damaged"))
            write_job(self.job, to, part=part)
        except HasOtherNames:
            raise
        except (OSError, VowLineError) as error:
            self.say(str(error), wrong=True)
            return False
        self._on_file = self._looked = digest(to)
        self._damaged = False
        self._store.saved = self.job
        self._rest()
        self.autosave.drop(self.path)
        if to != self.path:
            self.path = to
            self.autosave.take(to)
            self.workshop.remember(to)
        self.saved.emit()
        return True

    def save_beside(self) -> bool:
        """Save into a file of its own beside the job's, which is its file from then on."""
        if self.path is None:
            return False
        stem = self.path.name.removesuffix(JOB_SUFFIX)
        names = (self.path.with_name(f"{stem}-{n}{JOB_SUFFIX}") for n in itertools.count(2))
        return self.save(next(p for p in names if not p.exists()))

    def _rest(self) -> None:
        self._autosaving.stop()
        self._latest.stop()

    def keep(self) -> None:
        """Keep what is not saved."""
        self._rest()
        if self._store is None or self.path is None:
            return
        if self.unsaved:
            self.autosave.keep(self.path, self.job, self._on_file)
        else:
            self.autosave.drop(self.path)

    def prefer(self, **chosen: str) -> None:
        """Prefer this from now on."""
        self.preferences = replace(self.preferences, **chosen)  # type: ignore[arg-type]
        self.workshop.prefer(self.preferences)
        self.preferred.emit()

    def keep_now(self) -> bool:
        """Keep what is not saved, and wait until it is; whether it could be."""
        self.keep()
        self.autosave.settle()
        return not self.autosave.why

    def put_away(self) -> None:
        """Before the desk goes: keep what is not saved, stop what is under way."""
        self.keep()
        self.worker.put_away()
        self.autosave.settle()
        self.autosave.let_go()

    # what it says

    def say(self, text: str | Said, wrong: bool = False) -> None:
        """Say something to the maker; an empty text takes it away."""
        self.said.emit(text.write(self.units) if isinstance(text, Said) else text, wrong)

    def note_faults(self) -> None:
        """Write stages that failed into the log."""
        if self.open:
            fault_log.note(self.plan, self.state, self.now())

    @property
    def state(self) -> Path:
        """Where what is not of the jobs is kept: unsaved work, the log."""
        return self.autosave.folder.parent

    def _broke(self, name: str, trace: str) -> None:
        fault_log.write(trace, self.state, self.now(), name)

    def _not_kept(self, says: str) -> None:
        self.say(says, wrong=True)


def _ours(works: tuple[Kept, ...], path: Path, content: str, *, readable: bool) -> Kept | None:
    """The newest work that goes on from what the file holds; where that cannot be read, the newest at all."""
    return next((k for k in works if k.job is not None and (k.belongs(path, content) or not readable)), None)


def _readable(path: Path) -> Job | None:
    try:
        return read_job(path)
    except VowLineError:
        return None
