"""The menu bar: everything a hand might look for, each with its key."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu

from ...core import steps
from ...core.draft.ornament import TITLES
from ...core.measure.thing import Thing
from ...core.plan import Plan
from ...core.texts import heading, tell
from ..actions import drawing, export, record, switches, wearers
from ..dialogs import saving, workshop
from ..dialogs.bench import ask_bench
from ..dialogs.exporting import ask_export
from ..dialogs.lace import ask_lace
from ..dialogs.names import ask_names
from ..dialogs.piece import ask_leather, ask_piece
from ..dialogs.printing import ask_print
from ..dialogs.thread import ask_thread
from ..dialogs.vow import ask_to_break
from ..instruments.outline import take_from_file, take_section_from_file
from ..line import LINE
from ..session import Session
from ..stations.draft import ORNAMENT_FIELDS
from .main_window import MainWindow
from .pages import Pages

LAID = ("lay", "quarter", "turn-right", "turn-left", "turn-over")
REPEATED = {
    "in", "out", "section-on", "section-back", "turn-on", "turn-back", "turn-right", "turn-left", "strike", "strike-back",
}  # fmt: skip
"""What goes on while its key is held down: it only looks, or moves a little."""
TURN_RAD = 0.2  # what is wrapped again turns by so much at a press
WITHOUT_A_JOB = {
    "shelf", "new", "open", "quit", "ink", "larger", "sounds", "asks", "practise", "lace", "forget-kept", "keys", "cautions",
}  # fmt: skip


AT: dict[str, tuple[str, ...]] = {
    "measure": (
        "caliper",
        "asks",
        "turn-to",
        "trace",
        "outline",
        "section",
        "add-station",
        "remove-station",
        "lay",
        "guard",
        "taken",
        "one-more",
    ),
    "draft": (
        "draw-out",
        "way-out",
        "turn-to",
        "turn-on",
        "turn-back",
        "trial",
        "correct",
        "trial-back",
        "ornament",
        "piece",
        "kind",
    ),
    "stitch": ("turn-to", "seam", "strike", "strike-back", "keep-tool", "forget-kept"),
    "thread": ("seam", "thread", "lace", "keep-thread", "forget-kept"),
    "layout": ("leather", "print", "export"),
    "vow": ("vow", "print", "export", "break"),
    "cut": ("step", "print", "bench"),
    "form": ("step", "bench"),
    "sew": ("seam", "practise", "step"),
    "edge": ("step", "piece", "bench"),
    "record": ("learned", "close-record", "next-like", "bench"),
}
"""What can be done at each station, what is wanted most often first."""


@dataclass(frozen=True)
class Commands:
    """What the desk itself does."""

    caliper: Callable[[], object]
    trace: Callable[[], object]
    keys: Callable[[], object]
    cautions: Callable[[], object]
    log: Callable[[], object]
    by: Callable[[int], object]


def build(window: MainWindow, session: Session, pages: Pages, desk: Commands) -> dict[str, QAction]:
    """Fill the window's menu bar; gives the actions by name."""
    bar, board = window.menuBar(), pages.station.board
    actions: dict[str, QAction] = {}

    def add(menu: QMenu, name: str, text: str, do: Callable[[], object], keys: Any = None) -> QAction:
        action = QAction(text, window)
        action.setAutoRepeat(name in REPEATED)
        action.triggered.connect(lambda _=False: do())
        if keys is not None:
            action.setShortcut(QKeySequence(keys))
        menu.addAction(action)
        actions[name] = action
        return action

    key = QKeySequence.StandardKey
    file = bar.addMenu(tell("&File"))
    add(file, "shelf", tell("The shelf"), pages.show_shelf, "Ctrl+Home")
    add(file, "new", tell("Begin something new…"), pages.ask_to_begin, key.New)
    add(file, "open", tell("Fetch a job file…"), partial(saving.fetch, session, window), key.Open)
    add(file, "save", tell("Save"), partial(saving.save, session, window), key.Save)
    add(file, "save-as", tell("Save as…"), partial(saving.save_as, session, window), key.SaveAs)
    add(file, "lay-beside", tell("Lay kept work beside"), session.lay_beside)
    add(file, "forget", tell("Take this job off the shelf"), pages.forget_chosen, "Ctrl+Backspace")
    file.addSeparator()
    add(file, "print", tell("Print the patterns…"), partial(ask_print, session, window), key.Print)
    add(
        file,
        "export",
        tell("Export patterns, list and calendar…"),
        partial(ask_export, session, window),
        "Ctrl+Shift+E",
    )
    file.addSeparator()
    add(file, "quit", tell("Quit"), window.close, key.Quit)
    edit = bar.addMenu(tell("&Edit"))
    add(edit, "undo", tell("Undo"), session.undo, key.Undo)
    add(edit, "redo", tell("Redo"), session.redo, key.Redo)
    edit.addSeparator()
    add(edit, "kind", tell("Another kind…"), pages.ask_another_kind, "Ctrl+K")
    add(edit, "name", tell("Name, maker and date…"), partial(ask_names, session, window))
    add(edit, "bench", tell("The week and the bench…"), partial(ask_bench, session, window), "Ctrl+B")
    add(edit, "piece", tell("More of this piece…"), partial(ask_piece, session, window), "Ctrl+Shift+B")
    add(edit, "leather", tell("More of the leather…"), partial(ask_leather, session, window), "Ctrl+Shift+L")
    edit.addSeparator()
    add(edit, "vow", tell("Vow this plan"), session.vow, "Ctrl+Return")
    add(edit, "break", tell("Break the vow…"), partial(ask_to_break, session, window))
    panel = edit.addMenu(tell("Lay this panel another way"))
    actions["lay"] = panel.menuAction()
    for id, says, by_deg, keys in (
        ("quarter", tell("Turn this panel a quarter"), 90.0, "Ctrl+R"),
        ("turn-right", tell("Turn this panel a little to the right"), 1.0, "Ctrl+."),
        ("turn-left", tell("Turn this panel a little to the left"), -1.0, "Ctrl+,"),
    ):
        add(panel, id, says, partial(pages.lay_panel, by_deg), keys)
    add(panel, "turn-over", tell("Turn this panel over"), partial(pages.lay_panel, over=True), "Ctrl+Shift+R")
    view = bar.addMenu(tell("&View"))
    add(view, "fit", tell("Fit the drawing"), board.fit, "F")
    add(view, "in", tell("Nearer"), lambda: board.zoom(1.25), key.ZoomIn)
    add(view, "out", tell("Farther"), lambda: board.zoom(0.8), key.ZoomOut)
    add(view, "board", tell("To the board's first value"), pages.to_first_value, "B")
    add(view, "point", tell("The next point that can be moved"), board.next_handle, "P")
    view.addSeparator()
    add(view, "units", tell("Millimetres or inches"), partial(switches.units, session), "Ctrl+U")
    add(
        view, "leather-units", tell("Leather in mm or ounces"), partial(switches.leather_units, session), "Ctrl+Shift+U"
    )
    add(view, "larger", tell("Everything larger, or as it was"), partial(switches.larger, session))
    add(view, "sounds", tell("Sounds while sewing, or none"), partial(switches.sounds, session))
    add(view, "ink", tell("Day or evening bench"), partial(switches.ink, session), "Ctrl+E")
    line = bar.addMenu(tell("&Line"))
    for number, (station, name) in zip("1234567890-", LINE, strict=True):
        add(line, f"go-{station}", heading(name), partial(session.go, station), f"Alt+{number}")
    line.addSeparator()
    add(line, "before", tell("The station before"), lambda: desk.by(-1), "Alt+Left")
    add(line, "after", tell("The station after"), lambda: desk.by(1), "Alt+Right")
    measure = bar.addMenu(tell("&Measure"))
    add(measure, "caliper", tell("Caliper…"), desk.caliper, "Ctrl+M")
    add(measure, "asks", tell("Ask large, to be read from two metres"), partial(switches.asks, session), "Ctrl+Shift+M")
    add(measure, "trace", tell("Trace its outline from a picture…"), desk.trace, "Ctrl+T")
    add(measure, "outline", tell("Take its outline from a file…"), lambda: take_from_file(session, window))
    add(measure, "section", tell("Take its section from a file…"), lambda: take_section_from_file(session, window))
    add(measure, "card", tell("Print the card for pictures…"), lambda: export.print_card(session, window))
    measure.addSeparator()
    add(
        measure,
        "add-station",
        tell("A station more"),
        lambda: session.do(tell("add a station"), steps.add_station),
        "Ctrl+Ins",
    )
    add(measure, "remove-station", tell("Take this station away"), pages.remove_station, "Ctrl+Del")
    add(measure, "guard", tell("A guard, or none"), lambda: session.do(tell("a guard, or none"), steps.toggle_guard))
    add(measure, "taken", tell("How this reading was taken…"), pages.ask_taken, "Ctrl+I")
    measure.addSeparator()
    add(measure, "one-more", tell("Another wearer, side or size of it"), partial(wearers.one_more, session))
    add(measure, "turn-to", tell("Turn to the next one"), partial(wearers.next_one, session), "Ctrl+Shift+N")
    add(measure, "one-fewer", tell("Take this one out of the job"), partial(wearers.one_fewer, session))
    measure.addSeparator()
    keep, take = partial(workshop.keep_measured, session, window), partial(workshop.take_measured, session, window)
    add(measure, "keep-measured", tell("Keep what was measured in the workshop…"), keep)
    add(measure, "take-measured", tell("Take what was measured before…"), take)
    draft = bar.addMenu(tell("&Draft"))
    add(draft, "draw-out", tell("Draw it out"), pages.draw_out, "D")
    add(draft, "way-out", tell("Look for a way out, with turns"), pages.find_way, "Shift+D")
    add(draft, "section-on", tell("Section further on"), lambda: pages.station.move_section(5), "]")
    add(draft, "section-back", tell("Section further back"), lambda: pages.station.move_section(-5), "[")
    add(draft, "turn-on", tell("Turn it on"), lambda: pages.station.turn(TURN_RAD), ".")
    add(draft, "turn-back", tell("Turn it back"), lambda: pages.station.turn(-TURN_RAD), ",")
    draft.addSeparator()
    add(draft, "trial", tell("Another mock-up"), lambda: session.do(tell("another mock-up"), steps.new_trial))
    add(draft, "correct", tell("Correct the mock-up at the section"), pages.correct_at_section, "Ctrl+J")
    add(
        draft,
        "trial-back",
        tell("Take the last trial back, or not"),
        lambda: session.do(tell("take the trial back"), steps.take_trial_back),
    )
    draft.addSeparator()
    ornament = draft.addMenu(tell("Ornament, binding, lining"))
    actions["ornament"] = ornament.menuAction()
    for kind in ORNAMENT_FIELDS:
        add(ornament, f"ornament-{kind}", heading(TITLES[kind]), partial(drawing.ornament, session, kind))
    add(
        ornament,
        "plain",
        tell("Take the last one away"),
        lambda: session.do(tell("take an ornament away"), steps.plain_again),
    )
    sewing = bar.addMenu(tell("&Sewing"))
    add(sewing, "seam", tell("The next seam"), pages.next_seam, "N")
    add(sewing, "strike", tell("The next strike"), lambda: pages.station.step_strike(1), "K")
    add(sewing, "strike-back", tell("The strike before"), lambda: pages.station.step_strike(-1), "Shift+K")
    sewing.addSeparator()
    add(sewing, "thread", tell("Thread, needle and hand…"), partial(ask_thread, session, window), "Ctrl+Shift+T")
    add(sewing, "practise", tell("Practise a stitch…"), pages.practise, "Ctrl+Shift+P")
    add(sewing, "lace", tell("Reckon lace and cord…"), lambda: ask_lace(session, window, pages.ink))
    sewing.addSeparator()
    add(sewing, "keep-tool", tell("Keep this tool in the workshop…"), partial(workshop.keep_tool, session, window))
    add(
        sewing, "keep-thread", tell("Keep this thread in the workshop…"), partial(workshop.keep_thread, session, window)
    )
    add(sewing, "forget-kept", tell("Take one out of the workshop…"), partial(workshop.forget_kept, session, window))
    making = bar.addMenu(tell("Re&cord"))
    add(making, "step", tell("How a step went…"), pages.ask_step, "Ctrl+Shift+H")
    add(making, "learned", tell("Take the workshop's slack"), partial(record.take_slack, session))
    add(making, "close-record", tell("Close the record, and teach the workshop"), partial(record.close_record, session))
    add(making, "next-like", tell("Begin the next one like this"), partial(record.next_like, session))
    about = bar.addMenu(tell("&Help"))
    add(about, "keys", tell("Keys"), desk.keys, "F1")
    add(about, "cautions", tell("Cautions"), desk.cautions)
    add(about, "log", tell("What went wrong before"), desk.log)
    return actions


def enable(actions: dict[str, QAction], session: Session, on_shelf: bool) -> None:
    """Let what can be done now be done; `on_shelf`: whether any job is there to be chosen."""
    for name, action in actions.items():
        action.setEnabled(session.open or name in WITHOUT_A_JOB)
    actions["forget"].setEnabled(not session.open and on_shelf)
    for name, word, what in (("undo", tell("Undo"), session.undo_name), ("redo", tell("Redo"), session.redo_name)):
        actions[name].setEnabled(bool(what))
        actions[name].setText(f"{word}: {what}" if what else word)
    if session.open:
        thing, job = type(session.job.thing), session.job
        for name, method in (("trace", "traced"), ("outline", "traced"), ("section", "sectioned"),
                             ("guard", "guarded_or_not"), ("add-station", "with_station"),
                             *((turn, "laid") for turn in LAID)):  # fmt: skip
            actions[name].setEnabled(getattr(thing, method) is not getattr(Thing, method))
        if session.station == "draft":
            _enable_drawn(actions, session.plan)
        actions["trial-back"].setEnabled(bool(job.trials))
        actions["plain"].setEnabled(bool(job.ornaments))
        for name in ("turn-to", "one-fewer"):
            actions[name].setEnabled(bool(job.others))
    actions["vow"].setEnabled(session.open and session.station == "vow" and session.plan.ready)
    actions["lay-beside"].setEnabled(bool(session.beside))
    actions["break"].setEnabled(session.open and session.job.vowed is not None)
    actions["close-record"].setEnabled(session.open and bool(session.job.vowed) and not session.job.record.closed)


def _enable_drawn(actions: dict[str, QAction], plan: Plan) -> None:
    """What has an effect on what is drafted: not all comes out of something, has a section, or is tried in a mock-up."""
    draft, body = plan.draft, plan.measured.body
    there = {
        "draw-out": draft is not None and draft.way_out is not None, "way-out": draft is not None and draft.search is not None,
        "turn-on": draft is not None and draft.turned is not None, "turn-back": draft is not None and draft.turned is not None,
        "section-on": draft is not None and draft.section is not None,
        "section-back": draft is not None and draft.section is not None,
        "trial": body is None or not body.untried, "correct": body is None or not body.untried,
    }  # fmt: skip
    for name, yes in there.items():
        actions[name].setEnabled(yes)
