"""The page of a station with a board: the board, the slip beside it, the findings below."""

from dataclasses import replace
from functools import partial
from typing import Any

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QSlider, QVBoxLayout, QWidget

from ...core.draft import Draft
from ...core.draft.search import Way, says_of
from ...core.drawing import Callout
from ...core.finding import Finding
from ...core.plan import Plan
from ...core.reckoning import length
from ...core.stitch.tools import HoleTool
from ...core.texts import said, tell
from ...core.thread import Thread
from ..board import Board
from ..lists.paper import Paper, finding_rows
from ..lists.rows import Row, RowList
from ..look.ink import DAY, Ink, type_
from ..look.words import Words
from ..session import Session, Task, Tell
from ..stations import Showing, View

SLIP_PX, SMALL_SLIP_PX, NARROW_PX = 334, 274, 1150  # the slip, and that of a page narrower than so much
FINDINGS_PX = 104  # more of them are scrolled
FRAME_MS = 16
ROOM_PX = 12  # a scene is not shaped anew for a room that is another by no more


class StationPage(QWidget):
    """Shows one station at a time; what is only looked at stays here and changes no job."""

    mended = Signal(object)
    ticked = Signal(object)
    noted = Signal(str, str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.showing: Showing | None = None
        self.plan: Plan | None = None
        self.view = View()
        self.ink: Ink = DAY
        self.board = Board(self._enter, self)
        self.slip = RowList(tell("Reckoning"), self)
        self.slip_card = Paper(self.slip, self)
        self.slip_card.setFixedWidth(SLIP_PX)
        self.findings = RowList(tell("Holds and looks"), self)
        self.findings_card = Paper(self.findings, self)
        self.control = QWidget(self)
        self.slider = QSlider(Qt.Orientation.Horizontal, self.control)
        self.slider.setObjectName("draw-out")
        self.slider.setAccessibleName(tell("How far the thing is drawn out, in mm"))
        self.drawn = Words(self.control)
        name = Words(tell("Draw it out"), self.control)
        name.setFont(type_(15))
        self.drawn.setFont(type_(15))
        self.drawn.setMinimumWidth(110)
        self.drawn.setText(tell("all the way in"))
        self.control.setMinimumHeight(34)
        self.slider.setMinimumHeight(26)
        row = QHBoxLayout(self.control)
        row.setContentsMargins(12, 2, 12, 2)
        row.setSpacing(14)
        row.addWidget(name)
        row.addWidget(self.slider, 1)
        row.addWidget(self.drawn)
        self.note = QLineEdit(self)
        self.note.setObjectName("note")
        self.note.setFont(type_(15))
        self.note.setMaxLength(2000)
        self.note.returnPressed.connect(self._note)
        left = QVBoxLayout()
        left.setSpacing(8)
        left.addWidget(self.board, 1)
        left.addWidget(self.control)
        left.addWidget(self.note)
        left.addWidget(self.findings_card)
        both = QHBoxLayout(self)
        both.setContentsMargins(16, 14, 14, 14)
        both.setSpacing(16)
        both.addLayout(left, 1)
        both.addWidget(self.slip_card)
        self._drawing = QTimer(self)
        self._drawing.setInterval(FRAME_MS)
        self._drawing.timeout.connect(self._draw_further)
        self._found_for: object = None
        self.judged: Finding | None = None
        self._seeking: Task | None = None
        self._edited = False
        self._summing = QTimer(self)
        self._summing.setSingleShot(True)
        self._summing.timeout.connect(self._show_sums)
        self.slider.valueChanged.connect(self._drawn)
        self.board.pointed.connect(self._point_mark)
        self.board.resized.connect(self._resized)
        self.board.pointed_at.connect(self._point_at)
        self.board.turned.connect(self.turn)
        self.slip.pointed.connect(self._point_row)
        self.findings.widened.connect(self._fit_findings)
        self.findings.pointed.connect(self._point_row)
        self.slip.ticked.connect(self.ticked.emit)
        self.findings.acted.connect(lambda r: self.mended.emit(r.key))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.slip_card.setFixedWidth(SMALL_SLIP_PX if self.width() < NARROW_PX else SLIP_PX)

    def show_station(self, showing: Showing, plan: Plan, ink: Ink) -> None:
        """Show this station."""
        changed = showing is not self.showing
        self.showing = showing
        if changed:
            self._edited = False
            self.board.awaiting = True
            self.board.fit()
            self._drawing.stop()
        self.show_plan(plan, ink)

    def _enter(self, callout: Callout, path: str, value: Any) -> None:
        self.session.enter(callout, path, value, self.board.using)

    def edited(self) -> None:
        """What is shown next follows an edit: the drawing first."""
        self._edited = True

    def show_plan(self, plan: Plan, ink: Ink) -> None:
        """Show the station's part of this plan."""
        if self.showing is None:
            return
        if self._found_for is not None and self._found_for is not plan.draft:
            self.view, self._found_for, self.judged = replace(self.view, way=None), None, None
        self.plan, self.ink = plan, ink
        for widget in (self.slip, self.findings, self.slip_card, self.findings_card):
            widget.ink = ink
        draft = plan.draft if self.showing.draws_out else None  # a station that does not show it does not wait for it
        self.control.setVisible(draft is not None and draft.way_out is not None)
        if draft is not None and draft.way_out is not None:
            way = self.view.way
            self.slider.setMaximum(round(draft.way_out.long_mm if way is None else float(way.drawn_mm[-1])))
        self.note.setVisible(bool(self.showing.notes))
        self.note.setPlaceholderText(tell("Write down {notes}; Enter keeps it in the record", notes=self.showing.notes))
        self.note.setAccessibleName(
            tell("A note at {showing}: {notes}", showing=self.showing.title, notes=self.showing.notes)
        )
        if self._edited:
            self.board.awaiting = False
            self._show_scene()
            self._summing.start()
            return
        self.board.awaiting = (
            True  # what else there is takes its room first: the drawing is then shaped and laid out once
        )
        self._show_lists()
        for layout in (self.layout(), self.findings_card.layout(), self.slip_card.layout()):
            if layout is not None:
                layout.activate()
        self.board.awaiting = False
        self._show_scene()
        self.board.show_corner()

    def _show_sums(self) -> None:
        """Show the corner, the slip and the findings. After an edit they come when the drawing has been painted; what stands
        about that is settled then, and what follows it drawn anew.
        """
        edited, self._edited = self._edited, False
        if edited and self.board.scene.worn is not None:
            self._show_scene()
        elif edited:
            self.board.settle()
        self.board.show_corner()
        self._show_lists()

    def _show_lists(self) -> None:
        """Show the slip and the findings."""
        plan = self.plan
        if plan is None or self.showing is None:
            return
        self.slip.setAccessibleName(tell("Reckoning of {showing}", showing=self.showing.title))
        self.slip.show_rows(self.showing.slip(plan, self.view))
        findings = plan.at(self.showing.station)
        if self.showing.draws_out and self.judged is not None:
            findings = (self.judged, *findings)
        rows = finding_rows(plan, findings, mends=plan.job.vowed is None)
        self.findings.show_rows(rows)
        self.findings_card.setVisible(bool(rows))
        self._fit_findings()

    def _fit_findings(self) -> None:
        self.findings_card.setFixedHeight(min(self.findings.content_height() + 14, FINDINGS_PX))

    def _note(self) -> None:
        if self.showing and self.note.text().strip():
            self.noted.emit(self.showing.title.template, self.note.text())
            self.note.clear()

    def untaken(self) -> str:
        """Take what is half typed on the board or as a note; gives what of it could not be taken."""
        self._note()
        return self.board.untaken()

    def _show_scene(self) -> None:
        """Show the scene; one that is shaped by its room again, where it turns out that that is another."""
        if self.plan is None or self.showing is None:
            return
        for _ in range(2):
            view = replace(self.view, worn=self.board.scene.worn) if self._edited else self.view
            self.board.show_scene(
                self.showing.scene(self.plan, view), self.plan.job, self.ink, at_once=not self._edited
            )
            room, shaped_for = self.board.room_px, self.view.room_px
            if not self.showing.shaped or max(abs(a - b) for a, b in zip(room, shaped_for, strict=True)) <= ROOM_PX:
                return
            self.view = replace(self.view, room_px=room)

    def _resized(self) -> None:
        if self.showing is not None and self.showing.shaped:
            self._show_scene()

    def _look(self, view: View) -> None:
        self.view = view
        if self.plan and self.showing:
            self._show_scene()
            self.board.show_corner()

    def _drawn(self, mm: int) -> None:
        self.drawn.setText(
            said("{far} out", far=length(mm)).write(self.session.units) if mm else tell("all the way in")
        )
        self._look(replace(self.view, drawn_mm=float(mm)))
        if self.plan is not None and self.showing is not None:
            self.slip.show_rows(self.showing.slip(self.plan, self.view))

    def draw_out(self) -> None:
        """Draw the thing out and let it stand; from all the way out, put it back in."""
        if self._drawing.isActive():
            self._drawing.stop()
        elif self.slider.value() >= self.slider.maximum():
            self.slider.setValue(0)
        else:
            self._drawing.start()

    def _draw_further(self) -> None:
        self.slider.setValue(self.slider.value() + 1)
        if self.slider.value() >= self.slider.maximum():
            self._drawing.stop()

    def find_way(self) -> None:
        """Look for a way out that may shift and turn, off the main thread; it is shown when it is found. While one is being
        looked for: stop.
        """
        draft = self.plan.draft if self.plan else None
        if self.looking:
            self.stop_looking()
            return
        if draft is None or draft.search is None:
            return
        look = draft.search

        def work(tell: Tell) -> Way | None:
            return look(progress=tell.progress)

        self.session.say(tell("Looking for a way out, with shifts and turns… Shift+D stops."))
        self._seeking = self.session.worker.start(
            tell("looking for a way out"), work, done=partial(self._found, draft),
            failed=lambda says: self.session.say(says, wrong=True),
        )  # fmt: skip
        self._seeking.ended.connect(self._sought)

    def stop_looking(self) -> None:
        """Stop looking for a way out."""
        if self._seeking is not None:
            self._seeking.stop()

    @property
    def looking(self) -> bool:
        """Whether a way out is being looked for."""
        return self._seeking is not None

    def _sought(self) -> None:
        self._seeking = None

    def _found(self, draft: Draft, way: Way | None) -> None:
        if way is None or self.plan is None or self.plan.draft is not draft:
            self.session.say(tell("The pattern changed meanwhile; look again.") if way else tell("Stopped looking."))
            return
        self._found_for = draft
        self.slider.setMaximum(round(float(way.drawn_mm[-1])))
        self.judged = draft.judge(way)
        self._look(replace(self.view, way=way))
        self._show_sums()
        self.session.say(says_of(way).write(self.plan.job.units), way.least_mm < 0)

    def next_seam(self) -> None:
        """Show the next seam."""
        self._look(replace(self.view, seam=self.view.seam + 1, strike=None))
        self.board.fit()

    def step_strike(self, by: int) -> None:
        """At Stitch, look at the next strike, or the one before."""
        if self.showing is None or self.showing.station != "stitch":
            return
        now = self.view.strike
        self._look(replace(self.view, strike=(-1 if by > 0 else 0) + by if now is None else now + by))

    def know(self, tools: tuple[HoleTool, ...], threads: tuple[Thread, ...]) -> None:
        """What the workshop keeps to choose from."""
        self.view = replace(self.view, tools=tools, threads=threads)

    def move_section(self, by_mm: float) -> None:
        """Look at the section a little further on."""
        self._look(replace(self.view, section_at_mm=self.view.section_at_mm + by_mm))

    def turn(self, by_rad: float) -> None:
        """Turn what is wrapped again a little further."""
        self._look(replace(self.view, turned_rad=self.view.turned_rad + by_rad))

    def _point_mark(self, mark: str) -> None:
        lit = frozenset([mark]) if mark else frozenset()
        self.board.light(lit)
        self.slip.light(lit)

    def _point_at(self, x: float, y: float) -> None:
        if self.showing and self.showing.draws_out and self.plan and self.plan.draft:
            main = self.plan.draft.pieces[0].outline
            if main[:, 0].min() <= x <= main[:, 0].max() and main[:, 1].min() <= y <= main[:, 1].max():
                self._look(replace(self.view, section_at_mm=float(y)))

    def _point_row(self, row: Row | None) -> None:
        lit = frozenset(row.marks) if row else frozenset()
        self.board.light(lit)
        self.slip.light(lit)
