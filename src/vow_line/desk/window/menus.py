"""The menu bar: everything a hand might look for, each with its key."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu

from ...core import job as steps
from ...core.draft.ornament import TITLES
from ..actions import drawing, export, job_files, record, switches
from ..dialogs import workshop
from ..dialogs.lace import ask_lace
from ..dialogs.names import ask_names
from ..dialogs.thread import ask_thread
from ..instruments.outline import take_from_file, take_section_from_file
from ..line import LINE
from ..lists.rows import heading
from ..session import Session
from ..stations.draft import ORNAMENT_FIELDS
from .main_window import MainWindow
from .pages import Pages

WITHOUT_A_JOB = {
    "shelf", "new", "open", "quit", "ink", "sounds", "practise", "lace", "forget-kept", "keys", "cautions",
}  # fmt: skip


@dataclass(frozen=True)
class Commands:
    """What the desk itself does."""

    export: Callable[[], object]
    caliper: Callable[[], object]
    trace: Callable[[], object]
    keys: Callable[[], object]
    cautions: Callable[[], object]
    by: Callable[[int], object]


def build(window: MainWindow, session: Session, pages: Pages, desk: Commands) -> dict[str, QAction]:
    """Fill the window's menu bar; gives the actions by name."""
    bar, board = window.menuBar(), pages.station.board
    actions: dict[str, QAction] = {}

    def add(menu: QMenu, name: str, text: str, do: Callable[[], object], keys: Any = None) -> QAction:
        action = QAction(text, window)
        action.triggered.connect(lambda _=False: do())
        if keys is not None:
            action.setShortcut(QKeySequence(keys))
        menu.addAction(action)
        actions[name] = action
        return action

    key = QKeySequence.StandardKey
    file = bar.addMenu("&File")
    add(file, "shelf", "The shelf", pages.show_shelf, "Ctrl+Home")
    add(file, "new", "Begin something new…", pages.ask_to_begin, key.New)
    add(file, "open", "Fetch a job file…", partial(job_files.fetch, session, window), key.Open)
    add(file, "save", "Save", session.save, key.Save)
    add(file, "save-as", "Save as…", partial(job_files.save_as, session, window), key.SaveAs)
    add(file, "forget", "Take this job off the shelf", pages.forget_chosen, "Ctrl+Backspace")
    file.addSeparator()
    add(file, "print", "Print the patterns…", partial(export.print_patterns, session, window), key.Print)
    add(file, "export", "Export patterns, list and calendar…", desk.export, "Ctrl+Shift+E")
    file.addSeparator()
    add(file, "quit", "Quit", window.close, key.Quit)
    edit = bar.addMenu("&Edit")
    add(edit, "undo", "Undo", session.undo, key.Undo)
    add(edit, "redo", "Redo", session.redo, key.Redo)
    view = bar.addMenu("&View")
    add(view, "fit", "Fit the drawing", board.fit, "F")
    add(view, "in", "Nearer", lambda: board.zoom(1.25), key.ZoomIn)
    add(view, "out", "Farther", lambda: board.zoom(0.8), key.ZoomOut)
    add(view, "board", "To the board's first value", pages.to_first_value, "B")
    add(view, "point", "The next point that can be moved", board.next_handle, "P")
    view.addSeparator()
    add(view, "draw-out", "Draw it out", pages.draw_out, "D")
    add(view, "way-out", "Look for a way out, with turns", pages.find_way, "Shift+D")
    add(view, "section-on", "Section further on", lambda: pages.station.move_section(5), "]")
    add(view, "section-back", "Section further back", lambda: pages.station.move_section(-5), "[")
    add(view, "seam", "The next seam", pages.next_seam, "N")
    add(view, "strike", "The next strike", lambda: pages.station.step_strike(1), "K")
    add(view, "strike-back", "The strike before", lambda: pages.station.step_strike(-1), "Shift+K")
    view.addSeparator()
    add(view, "units", "Millimetres or inches", partial(switches.units, session), "Ctrl+U")
    add(view, "leather-units", "Leather in mm or ounces", partial(switches.leather_units, session), "Ctrl+Shift+U")
    add(view, "sounds", "Sounds while sewing, or none", partial(switches.sounds, session))
    add(view, "ink", "Day or evening bench", partial(switches.ink, session), "Ctrl+E")
    job = bar.addMenu("&Job")
    for number, (station, name) in zip("1234567890-", LINE, strict=True):
        text = name[:1].upper() + name[1:]
        add(job, f"go-{station}", text, partial(session.go, station), f"Alt+{number}")
    job.addSeparator()
    add(job, "before", "The station before", lambda: desk.by(-1), "Alt+Left")
    add(job, "after", "The station after", lambda: desk.by(1), "Alt+Right")
    job.addSeparator()
    add(
        job,
        "add-station",
        "A station more",
        lambda: session.do("add a station", steps.add_station),
        "Ctrl+Ins",
    )
    add(
        job,
        "remove-station",
        "Take this station away",
        pages.remove_station,
        "Ctrl+Del",
    )
    add(job, "trial", "Another mock-up", lambda: session.do("another mock-up", steps.new_trial))
    add(
        job,
        "trial-back",
        "Take the last trial back, or not",
        lambda: session.do("take the trial back", steps.take_trial_back),
    )
    add(
        job,
        "correct",
        "Correct the mock-up at the section",
        pages.correct_at_section,
        "Ctrl+J",
    )
    add(job, "caliper", "Caliper…", desk.caliper, "Ctrl+M")
    add(job, "trace", "Trace its outline from a picture…", desk.trace, "Ctrl+T")
    add(job, "outline", "Take its outline from a file…", lambda: take_from_file(session, window))
    add(job, "section", "Take its section from a file…", lambda: take_section_from_file(session, window))
    add(job, "card", "Print the card for pictures…", lambda: export.print_card(session, window))
    ornament = job.addMenu("An ornament")
    for kind in ORNAMENT_FIELDS:
        add(ornament, f"ornament-{kind}", heading(TITLES[kind]), partial(drawing.ornament, session, kind))
    add(ornament, "plain", "Take the last one away", lambda: session.do("take an ornament away", steps.plain_again))
    add(job, "guard", "A guard, or none", lambda: session.do("a guard, or none", steps.toggle_guard))
    job.addSeparator()
    add(job, "kind", "Another kind…", pages.ask_another_kind, "Ctrl+K")
    add(job, "name", "Name, maker and date…", partial(ask_names, session, window))
    add(job, "practise", "Practise a stitch…", pages.practise, "Ctrl+Shift+P")
    add(job, "lace", "Reckon lace and cord…", lambda: ask_lace(session, window, pages.ink))
    add(job, "keep-tool", "Keep this tool in the workshop…", partial(workshop.keep_tool, session, window))
    add(job, "keep-thread", "Keep this thread in the workshop…", partial(workshop.keep_thread, session, window))
    add(job, "forget-kept", "Take one out of the workshop…", partial(workshop.forget_kept, session, window))
    add(job, "thread", "Thread, needle and hand…", partial(ask_thread, session, window), "Ctrl+Shift+T")
    add(job, "learned", "Take the workshop's slack", partial(record.take_slack, session))
    add(job, "close-record", "Close the record, and teach the workshop", partial(record.close_record, session))
    add(job, "next-like", "Begin the next one like this", partial(record.next_like, session))
    add(
        job,
        "break",
        "Break the vow",
        session.break_vow,
    )
    about = bar.addMenu("&Help")
    add(about, "keys", "Keys", desk.keys, "F1")
    add(about, "cautions", "Cautions", desk.cautions)
    return actions


def enable(actions: dict[str, QAction], session: Session, on_shelf: bool) -> None:
    """Let what can be done now be done; `on_shelf`: whether any job is there to be chosen."""
    for name, action in actions.items():
        action.setEnabled(session.open or name in WITHOUT_A_JOB)
    actions["forget"].setEnabled(not session.open and on_shelf)
    for name, what in (("undo", session.undo_name), ("redo", session.redo_name)):
        actions[name].setEnabled(bool(what))
        actions[name].setText(f"{name.capitalize()}: {what}" if what else name.capitalize())
    actions["break"].setEnabled(session.open and session.job.vowed is not None)
    actions["close-record"].setEnabled(session.open and bool(session.job.vowed) and not session.job.record.closed)
