"""The menu bar: everything a hand might look for, each with its key."""

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Any

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu

from ..core import job as steps
from ..core.draft.ornament import TITLES
from . import asking, filing, gestures, switches, teaching
from .export import print_card
from .instruments import take_from_file, take_section_from_file
from .keeping import forget_kept, keep_thread, keep_tool
from .lace import ask_lace
from .line import LINE
from .stations.draft import ORNAMENT_FIELDS

if TYPE_CHECKING:
    from .window import Window


WITHOUT_A_JOB = {
    "shelf", "new", "open", "quit", "ink", "sounds", "practise", "lace", "forget-kept", "keys", "cautions",
}  # fmt: skip


def build(window: "Window") -> dict[str, QAction]:
    """Fill the frame's menu bar; gives the actions by name."""
    bar = window.frame.menuBar()
    actions: dict[str, QAction] = {}

    def add(menu: QMenu, name: str, text: str, do: Callable[[], object], keys: Any = None) -> QAction:
        action = QAction(text, window.frame)
        action.triggered.connect(lambda _=False: do())
        if keys is not None:
            action.setShortcut(QKeySequence(keys))
        menu.addAction(action)
        actions[name] = action
        return action

    key = QKeySequence.StandardKey
    file = bar.addMenu("&File")
    add(file, "shelf", "The shelf", window.show_shelf, "Ctrl+Home")
    add(file, "new", "Begin something new…", window.begin, key.New)
    add(file, "open", "Fetch a job file…", partial(filing.fetch, window), key.Open)
    add(file, "save", "Save", partial(filing.save, window), key.Save)
    add(file, "save-as", "Save as…", partial(filing.save_as, window), key.SaveAs)
    add(file, "forget", "Take this job off the shelf", partial(filing.forget, window), "Ctrl+Backspace")
    file.addSeparator()
    add(file, "print", "Print the patterns…", partial(filing.print_patterns, window), key.Print)
    add(file, "export", "Export patterns, list and calendar…", partial(filing.export, window), "Ctrl+Shift+E")
    file.addSeparator()
    add(file, "quit", "Quit", window.frame.close, key.Quit)
    edit = bar.addMenu("&Edit")
    add(edit, "undo", "Undo", window.undo, key.Undo)
    add(edit, "redo", "Redo", window.redo, key.Redo)
    view = bar.addMenu("&View")
    add(view, "fit", "Fit the drawing", window.bench.board.fit, "F")
    add(view, "in", "Nearer", lambda: window.bench.board.zoom(1.25), key.ZoomIn)
    add(view, "out", "Farther", lambda: window.bench.board.zoom(0.8), key.ZoomOut)
    add(view, "board", "To the board's first value", window.to_first_value, "B")
    add(view, "point", "The next point that can be moved", window.bench.board.next_handle, "P")
    view.addSeparator()
    add(view, "draw-out", "Draw it out", window.draw_out, "D")
    add(view, "way-out", "Look for a way out, with turns", window.find_way, "Shift+D")
    add(view, "section-on", "Section further on", lambda: window.bench.move_section(5), "]")
    add(view, "section-back", "Section further back", lambda: window.bench.move_section(-5), "[")
    add(view, "seam", "The next seam", window.next_seam, "N")
    add(view, "strike", "The next strike", lambda: window.bench.step_strike(1), "K")
    add(view, "strike-back", "The strike before", lambda: window.bench.step_strike(-1), "Shift+K")
    view.addSeparator()
    add(view, "units", "Millimetres or inches", partial(switches.units, window), "Ctrl+U")
    add(view, "leather-units", "Leather in mm or ounces", partial(switches.leather_units, window), "Ctrl+Shift+U")
    add(view, "sounds", "Sounds while sewing, or none", partial(switches.sounds, window))
    add(view, "ink", "Day or evening bench", partial(switches.ink, window), "Ctrl+E")
    job = bar.addMenu("&Job")
    for number, (station, name) in zip("1234567890-", LINE, strict=True):
        text = name[:1].upper() + name[1:]
        add(job, f"go-{station}", text, partial(window.go, station), f"Alt+{number}")
    job.addSeparator()
    add(job, "before", "The station before", lambda: window.go_by(-1), "Alt+Left")
    add(job, "after", "The station after", lambda: window.go_by(1), "Alt+Right")
    job.addSeparator()
    add(
        job,
        "add-station",
        "A station more",
        lambda: window.do("add a station", steps.add_station),
        "Ctrl+Ins",
    )
    add(job, "remove-station", "Take this station away", partial(gestures.remove_station, window), "Ctrl+Del")
    add(job, "trial", "Another mock-up", lambda: window.do("another mock-up", steps.new_trial))
    add(
        job,
        "trial-back",
        "Take the last trial back, or not",
        lambda: window.do("take the trial back", steps.take_trial_back),
    )
    add(job, "correct", "Correct the mock-up at the section", partial(gestures.correct_at_section, window), "Ctrl+J")
    add(job, "caliper", "Caliper…", window.caliper.choose, "Ctrl+M")
    add(job, "trace", "Trace its outline from a picture…", window.tracing.ask, "Ctrl+T")
    add(job, "outline", "Take its outline from a file…", lambda: take_from_file(window))
    add(job, "section", "Take its section from a file…", lambda: take_section_from_file(window))
    add(job, "card", "Print the card for pictures…", lambda: print_card(window))
    ornament = job.addMenu("An ornament")
    for kind in ORNAMENT_FIELDS:
        add(ornament, f"ornament-{kind}", f"A {TITLES[kind]}", partial(gestures.ornament, window, kind))
    add(ornament, "plain", "Take the last one away", lambda: window.do("take an ornament away", steps.plain_again))
    add(job, "guard", "A guard, or none", lambda: window.do("a guard, or none", steps.toggle_guard))
    job.addSeparator()
    add(job, "kind", "Another kind…", window.another_kind, "Ctrl+K")
    add(job, "name", "Name, maker and date…", partial(asking.name_job, window))
    add(job, "practise", "Practise a stitch…", partial(asking.practise, window), "Ctrl+Shift+P")
    add(job, "lace", "Reckon lace and cord…", partial(ask_lace, window))
    add(job, "keep-tool", "Keep this tool in the workshop…", partial(keep_tool, window))
    add(job, "keep-thread", "Keep this thread in the workshop…", partial(keep_thread, window))
    add(job, "forget-kept", "Take one out of the workshop…", partial(forget_kept, window))
    add(job, "thread", "Thread, needle and hand…", partial(asking.choose_thread, window), "Ctrl+Shift+T")
    add(job, "learned", "Take the workshop's slack", partial(teaching.take_slack, window))
    add(job, "close-record", "Close the record, and teach the workshop", partial(teaching.close_record, window))
    add(job, "next-like", "Begin the next one like this", partial(teaching.next_like, window))
    add(
        job,
        "break",
        "Break the vow",
        lambda: window.do("break the vow", lambda j: steps.break_vow(j, at=window.now())),
    )
    about = bar.addMenu("&Help")
    add(about, "keys", "Keys", window.show_keys, "F1")
    add(about, "cautions", "Cautions", window.show_cautions)
    return actions


def enable(window: "Window") -> None:
    """Let what can be done now be done."""
    actions, store = window.actions_, window.store
    for name, action in actions.items():
        action.setEnabled(store is not None or name in WITHOUT_A_JOB)
    actions["forget"].setEnabled(store is None and bool(window.shelf.jobs))
    undo, redo = (store.undo_name, store.redo_name) if store else ("", "")
    for name, what in (("undo", undo), ("redo", redo)):
        actions[name].setEnabled(bool(what))
        actions[name].setText(f"{name.capitalize()}: {what}" if what else name.capitalize())
    actions["break"].setEnabled(bool(store and store.job.vowed))
    actions["close-record"].setEnabled(bool(store and store.job.vowed and not store.job.record.closed))
