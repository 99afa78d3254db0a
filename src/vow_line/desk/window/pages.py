"""Which page is seen: the shelf, beginning, a station, the vow, sewing; and what they ask for."""

import math
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QStackedWidget, QWidget

from ...core import steps
from ...core.draft.kind import KindOfPiece
from ...core.errors import VowLineError
from ...core.measure import Thing
from ...core.plan import plan
from ...core.stitch.tools import USUAL
from ...core.texts import heading, tell
from ...core.thread.stitches import STITCHES
from ..actions import drawing
from ..actions.record import learned_slack
from ..dialogs.saving import fetch
from ..dialogs.sewing import ask_stitch, measure_thread
from ..dialogs.step import ask_step
from ..dialogs.taken import ask_taken
from ..dialogs.ticking import may_tick
from ..dialogs.vow import ask_to_break
from ..line import LINE
from ..lists.rows import Row
from ..look.ink import DAY, Ink
from ..pages.begin import BeginPage
from ..pages.card import Card, OnShelf
from ..pages.sew import SewPage
from ..pages.shelf import ShelfPage
from ..pages.station import StationPage
from ..pages.vow import VowPage
from ..session import Session, Task, Tell
from ..stations import SHOWINGS


def _on_shelf(session: Session, path: Path, known: Card | None = None) -> OnShelf:
    """A job with all that its card shows worked out, or the card that is `known` where it is still that job's."""
    try:
        job = session.on_shelf(path)
    except VowLineError as error:
        return OnShelf(path, wrong=str(error))
    card = known if known is not None and known.job == job else Card.of(plan(job))
    gone = "" if path.exists() else tell("Its file is gone; unsaved work is kept.")
    return OnShelf(path, card, gone)


class Pages(QStackedWidget):
    """One page at a time. `turned` says that there is no line to show beside the page any more, or that there is."""

    turned = Signal(bool)

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.session = session
        self.ink: Ink = DAY
        self.shelf, self.begin, self.vow = ShelfPage(self), BeginPage(self), VowPage(self)
        self.station, self.sew = StationPage(session, self), SewPage(self)
        for page in (self.shelf, self.begin, self.station, self.vow, self.sew):
            self.addWidget(page)
        self._reading: Task | None = None
        self._opening: Task | None = None
        self.shelf.chosen.connect(self.open_job)
        self.shelf.stayed.connect(self._stay)
        self.turned.connect(self._stop_opening)
        self.shelf.begun.connect(self.ask_to_begin)
        self.shelf.fetched.connect(partial(fetch, session, self))
        self.begin.chosen.connect(self._chosen)
        self.begin.left.connect(self._back)
        self.station.board.dragged.connect(
            lambda handle, value: session.do(
                tell("move {point}", point=handle.name),
                lambda j: steps.drag(j, path=handle.path, to=value),
                merge=f"drag {handle.path}",
            )
        )
        self.station.board.finished.connect(self._go_on)
        self.station.board.asked.connect(lambda path: ask_taken(session, path, self))
        self.station.board.placed.connect(partial(drawing.placed, session))
        self.station.mended.connect(self._mend)
        self.station.ticked.connect(self._tick)
        self.station.noted.connect(
            lambda about, says: session.do(tell("write a note"), lambda j: steps.write_note(j, about=about, says=says))
        )
        self.vow.vowed.connect(session.vow)
        self.vow.broken.connect(partial(ask_to_break, session, self))
        self.vow.accepted.connect(
            lambda code, at, why: session.do(
                tell("accept a hold"), lambda j: steps.accept(j, code=code, at=at, reason=why)
            )
        )
        self.vow.mended.connect(self._mend)
        self.sew.made.connect(session.sewn_to)
        self.sew.stepped.connect(session.tick)
        self.sew.elsewhere.connect(session.go)
        self.sew.measuring.connect(partial(measure_thread, session, self))
        self.sew.left.connect(self._back)
        self.sew.finished.connect(lambda seam: session.tick(f"sew/{seam}"))
        session.moved.connect(self._moved)
        session.pointed.connect(self.station.board.show_field)
        session.restocked.connect(self._stock)
        session.preferred.connect(self._prefer)
        self._prefer()

    def show_plan(self) -> None:
        """Show the plan as it stands, on the page of the station."""
        session = self.session
        if not session.open or session.station is None:
            return
        if session.station in SHOWINGS:
            self.station.show_station(SHOWINGS[session.station], session.plan, self.ink)
        elif session.station == "vow":
            self.vow.show_plan(session.plan, self.ink)
        else:
            self.sew.show_plan(session.plan, self.ink)

    def use_ink(self, ink: Ink) -> None:
        """Use this bench's colours."""
        self.ink = ink
        self.shelf.use_ink(ink)
        self.station.board.let_go_spares()
        self.show_plan()

    # turning pages

    def show_shelf(self) -> None:
        """Show the shelf, the jobs read one after another once it is painted."""
        if not self.session.leave():
            return
        self.setCurrentWidget(self.shelf)
        paths = self.session.shelf()
        known = {job.path: job for job in self.shelf.jobs}  # shown as they were until they are read again
        self.shelf.show_jobs([known.get(p, OnShelf(p)) for p in paths], self.ink)
        self.turned.emit(False)
        self.shelf.take_the_hand()
        self._read_shelf(paths)

    def _read_shelf(self, paths: tuple[Path, ...]) -> None:
        """Read the jobs one after another, off the main thread, those first that were not read before: a hand is not kept
        waiting for any of them.
        """
        self._stop_reading()
        session = self.session
        cards = [job.card for job in self.shelf.jobs]
        unread = sorted(range(len(paths)), key=lambda k: cards[k] is not None)

        def work(told: Tell) -> None:
            for k, path in ((k, paths[k]) for k in unread):
                if told.stopped:
                    return
                told.better((k, _on_shelf(session, path, cards[k])))

        def show(found: tuple[int, OnShelf]) -> None:
            k, job = found
            if reading is self._reading and k < len(self.shelf.jobs) and self.shelf.jobs[k].path == job.path:
                self.shelf.show_job(k, job)

        reading = self._reading = session.worker.start(tell("reading the shelf"), work, better=show)

    def _stop_reading(self) -> None:
        if self._reading is not None:
            self._reading.stop()

    # opening

    @property
    def opening(self) -> bool:
        """Whether a job of the shelf is being opened."""
        return self._opening is not None

    def open_job(self, path: Path) -> None:
        """Open a job of the shelf, worked out off the main thread before it is shown: meanwhile its card says so, and there is
        time to stay.
        """
        self._stop_reading()
        self._stop_opening()
        session = self.session

        def ready(_: object) -> None:
            if opening is self._opening:
                self._stop_opening()
                session.open_file(path)  # which says what is wrong, where it could not be read

        opening = self._opening = session.worker.start(
            tell("opening {job}", job=path.name), lambda _: _on_shelf(session, path), done=ready, failed=ready
        )
        self.shelf.show_opening(path)

    def _stop_opening(self) -> None:
        if self._opening is not None:
            self._opening.stop()
            self._opening = None
            self.shelf.show_opening(None)

    def _stay(self) -> None:
        self._stop_opening()
        self._read_shelf(tuple(job.path for job in self.shelf.jobs))

    def forget_chosen(self) -> None:
        """Take the job chosen on the shelf off it; its file stays where it is."""
        marked = self.shelf.current
        if not self.session.open and marked is not None:
            path = marked.path
            self.session.workshop.forget(path)
            self.show_shelf()
            self.session.say(tell("Off the shelf. The file stays: {path}", path=str(path)))

    def ask_to_begin(self) -> None:
        """Ask what a new job is for, and begin it in the jobs folder."""
        if not self.session.leave():
            return
        self.setCurrentWidget(self.begin)
        self.begin.ask(self.ink)
        self.turned.emit(False)

    def ask_another_kind(self) -> None:
        """Ask how the thing that is measured is to be carried instead."""
        if self.session.open:
            self.setCurrentWidget(self.begin)
            self.begin.ask(self.ink, type(self.session.job.thing))

    def practise(self, stitch: str | None = None) -> None:
        """Practise a stitch on a strip of scrap."""
        stitch = stitch or ask_stitch(self)
        if stitch is None:
            return
        self.session.say(heading(STITCHES[stitch].says) + ".")
        self.setCurrentWidget(self.sew)
        self.sew.practise(stitch, self.ink)
        self.sew.setFocus(Qt.FocusReason.OtherFocusReason)

    def _chosen(self, thing: type[Thing], kind: type[KindOfPiece]) -> None:
        session = self.session
        if session.open:
            session.do(tell("choose another kind"), lambda j: steps.another_kind(j, kind=kind))
            session.go("draft")
        else:
            name = tell("New {thing}", thing=thing.says)
            job = steps.blank(name=name, thing=thing, kind=kind, slack=learned_slack(session), begins=session.now())
            session.begin_with(job)

    def _back(self) -> None:
        """From a page that only asked, or was practice, to where one stood."""
        if self.session.open:
            self.session.go(self.session.station or "draft")
        else:
            self.show_shelf()

    def _moved(self) -> None:
        self._stop_reading()
        station = self.session.station
        page = self.station if station in SHOWINGS else self.vow if station == "vow" else self.sew
        self.turned.emit(True)
        self.setCurrentWidget(page)
        self.show_plan()
        if station == "sew":
            self.sew.setFocus(Qt.FocusReason.OtherFocusReason)
        elif station == "vow":
            self.vow.take_the_hand()
        elif page is self.station and not (station == "measure" and self.station.board.ask_next()):
            self.station.board.setFocus(Qt.FocusReason.OtherFocusReason)

    def _go_on(self) -> None:
        """On from a station where all is done."""
        names = [s for s, _ in LINE]
        station = self.session.station
        if station in names[: names.index("vow")]:
            self.session.go(names[names.index(station) + 1])

    def untaken(self, leaving: bool) -> str:
        """Take what is half typed on the page, and say what of it could not be taken; with `leaving` what waits for something
        else, too.
        """
        if self.currentWidget() is self.station:
            return self.station.untaken()
        return self.vow.untaken() if leaving and self.currentWidget() is self.vow else ""

    def leave_untaken(self) -> None:
        """Give up what is half typed."""
        self.station.board.give_up()
        self.vow.reason.clear()

    # what a page asks for

    def _mend(self, key: str) -> None:
        code, at, *other = key.split("|")
        judged = [self.station.judged] if self.station.judged is not None else []
        finding = next((f for f in (*judged, *self.session.plan.findings) if (f.code, f.at) == (code, at)), None)
        if finding is not None:
            self.session.mend(finding, int(other[0]) if other else None)

    def _tick(self, row: Row) -> None:
        if row.ticked or may_tick(self.session, row.key, self):
            self.session.tick(row.key, not row.ticked)

    def _stock(self) -> None:
        self.station.know((*self.session.workshop.tools(), *USUAL), self.session.workshop.threads())
        self.show_plan()

    def _prefer(self) -> None:
        self.sew.sounds = self.session.preferences.sounds == "on"

    # what a key asks for, where it means something

    def to_first_value(self) -> None:
        """To the first value on the board."""
        fields = self.station.board.fields
        if self.currentWidget() is self.station and fields:
            next(iter(fields.values())).setFocus(Qt.FocusReason.ShortcutFocusReason)

    def remove_station(self) -> None:
        """Take away the station whose reading has the focus."""
        drawing.remove_station(self.session, self.station.board.at_hand or self.station.board.held)

    def lay_panel(self, by_deg: float = 0.0, *, over: bool = False) -> None:
        """Turn the panel that has the focus, or turn it over."""
        board = self.station.board
        drawing.lay(self.session, board.at_hand or board.held, math.radians(by_deg), over=over)

    def ask_step(self) -> None:
        """Ask how the step that is pointed at on the slip went, or the last that was ticked off."""
        slip = self.station.slip
        row = slip.currentIndex().row()
        ask_step(self.session, slip.rows[row].key if 0 <= row < len(slip.rows) else "", self)

    def ask_taken(self) -> None:
        """Ask how the reading that has the focus was taken."""
        ask_taken(self.session, self.station.board.at_hand, self)

    def correct_at_section(self) -> None:
        """Correct the mock-up where the section is cut."""
        drawing.correct_at_section(self.session, self.station.view.section_at_mm)

    def find_way(self) -> None:
        """Look for a way out that may shift and turn."""
        if self.session.station == "draft":
            self.station.find_way()

    def draw_out(self) -> None:
        """Draw the thing out."""
        if self.session.station == "draft":
            self.station.draw_out()

    def next_seam(self) -> None:
        """Show the next seam."""
        station = self.session.station
        if station == "sew":
            self.sew.next_seam()
        elif station in SHOWINGS and SHOWINGS[station].seams:
            self.station.next_seam()
