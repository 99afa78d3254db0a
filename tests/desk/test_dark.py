"""Nothing in the dark: what goes wrong is kept, written down and said; what comes from outside is shown as it is."""

import os
import re
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

import pytest
from PySide6.QtCore import Qt, QTimer, qWarning
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QApplication, QLabel, QWidget
from pytestqt.qtbot import QtBot

from tests.desk.conftest import Desk
from vow_line.app import main
from vow_line.core import steps
from vow_line.core.job import change
from vow_line.desk.neighbour import Door, hand_over, meeting_place
from vow_line.desk.session import fault_log
from vow_line.desk.window.faults import FaultWindow, LogWindow
from vow_line.files.job_json import read_job, write_job
from vow_line.resources.demo import demo_jobs
from vow_line.workshop import Workshop

PERSONAL = "%s, 31.7 mm, at /home/%s/knife.vow.json"
MAKER, HELPER = "Ansel Tarn", "Hazel"
MARKUP = '<img src="file:///etc/passwd" width=900><b>x'


def _went_wrong(whose: str) -> None:
    """As a mistake in the program would, with a maker's name in its words and in a variable."""
    raise ValueError(PERSONAL % (whose, whose))


@pytest.mark.qt_no_exception_capture
def test_an_error_nothing_caught_keeps_the_work_and_says_so_in_one_window(desk: Desk, qtbot: QtBot) -> None:
    desk.open("laying-knife")
    desk.window.session.go("draft")
    desk.type("piece.margin_mm", "4.5")
    faults, session = desk.window.faults, desk.window.session
    caught = sys.excepthook
    faults.watch()
    try:
        for _ in range(3):
            try:
                _went_wrong(MAKER)
            except ValueError as error:
                sys.excepthook(type(error), error, error.__traceback__)
        beside = threading.Thread(target=_went_wrong, args=(HELPER,), name="beside")
        beside.start()
        beside.join()
        qtbot.waitUntil(lambda: faults.window is not None and faults.window.isVisible())
        window = faults.window
        assert isinstance(window, FaultWindow)
        qtbot.waitUntil(lambda: window.details.toPlainText().count("Traceback") == 4)
    finally:
        faults.let_be()
        sys.excepthook = caught
    [kept] = session.autosave.works(session.path)
    assert kept.job is not None
    assert kept.job.piece.margin_mm == 4.5
    assert "kept beside" in window.says.text()
    log = fault_log.log_in(session.state)
    assert str(log) in window.says.text()
    written = log.read_text()
    assert "_went_wrong" in written
    assert "test_dark.py" in written
    for personal in ("Ansel", "Hazel", "31.7", "/home", str(Path(__file__).parent)):
        assert personal not in written
        assert personal not in window.details.toPlainText()
    assert log.stat().st_mode & 0o777 == 0o600
    desk.click(window.findChildren(type(desk.window.tracing.halt))[0])
    assert QGuiApplication.clipboard().text() == window.details.toPlainText()
    window.accept()
    desk.window.actions_["log"].trigger()
    shown = desk.window.findChild(LogWindow)
    assert isinstance(shown, LogWindow)
    assert shown.text.toPlainText() == written
    shown.close()


def test_what_qt_warns_of_is_written_down(desk: Desk, qtbot: QtBot) -> None:
    desk.open("laying-knife")
    faults = desk.window.faults
    caught = sys.excepthook
    faults.watch()
    try:
        qWarning("QPainter::begin: Paint device returned engine == 0")
        qWarning("This plugin does not support propagateSizeHints()")
    finally:
        faults.let_be()
        sys.excepthook = caught
    written = fault_log.log_in(desk.window.session.state).read_text()
    assert "Paint device returned engine == 0" in written
    assert "propagateSizeHints" not in written


def test_the_log_rotates_and_says_each_fault_once(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(fault_log, "MOST_BYTES", 2000)
    for k in range(100):
        for _ in range(2):
            fault_log.write(f"IndexError: fault {k}", tmp_path, datetime(2026, 3, 1, 12))
    logs = sorted(tmp_path.iterdir())
    assert len(logs) == 1 + fault_log.KEPT
    assert max(p.stat().st_size for p in logs) <= 2000
    assert "fault 99" in fault_log.log_in(tmp_path).read_text()
    assert sum(p.read_text().count("fault 99\n") for p in logs) == 1
    fault_log.write("IndexError: x", tmp_path / "faults.log" / "below a file", datetime(2026, 3, 1))


def test_no_text_from_outside_is_markup(desk: Desk, tmp_path: Path, qtbot: QtBot) -> None:
    """A job whose every name is markup, at every station and in every dialog: each label shows it as it is."""
    job = demo_jobs()["laying-knife"]
    for name in ("name", "maker", "whose"):
        job = change(job, name, MARKUP)
    path = tmp_path / "x.vow.json"
    write_job(steps.write_note(job, about="", says=MARKUP), path)
    window = desk.window
    session = window.session
    plain = window.height()
    window.pages.show_shelf()
    assert session.open_file(path)
    for station in ("measure", "draft", "stitch", "thread", "layout", "vow", "cut", "form", "sew", "edge", "record"):
        session.go(station)
        session.say(f"{MARKUP} is said")
        QApplication.processEvents()
        _all_plain(window.window_)
    assert window.name.sizeHint().height() < 60, "no picture stands in it"
    assert window.height() == plain
    for action in ("name", "export", "print", "piece", "leather", "thread", "keys", "lace", "bench", "log"):
        seen: list[QLabel] = []
        _with_dialog(lambda dialog, seen=seen: seen.extend(_all_plain(dialog)))
        window.actions_[action].trigger()
        qtbot.waitUntil(lambda seen=seen: bool(seen))


def _with_dialog(do: Callable[[QWidget], object]) -> None:
    """Once the next dialog is there: do this with it, and close it."""

    def look() -> None:
        dialog = QApplication.activeModalWidget()
        if dialog is None:
            QTimer.singleShot(10, look)
            return
        try:
            do(dialog)
        finally:
            dialog.close()

    QTimer.singleShot(0, look)


def _marked_up(text: str) -> bool:
    """Whether a label left to itself would take a text as markup."""
    return bool(re.search(r"<[a-z/!]", text))


def _all_plain(within: QWidget) -> list[QLabel]:
    """The labels in a widget, each of which shows its text as it is."""
    labels = within.findChildren(QLabel)
    for label in labels:
        rich = label.textFormat() == Qt.TextFormat.RichText or (
            label.textFormat() == Qt.TextFormat.AutoText and _marked_up(label.text())
        )
        assert not rich, label.text()
    for widget in within.findChildren(QWidget):
        assert not _marked_up(widget.toolTip()), widget.toolTip()
    return labels


@pytest.mark.parametrize("path", ["record.left", "record.cut"])
def test_a_number_that_what_a_step_makes_cannot_hold_is_refused_in_words(desk: Desk, path: str) -> None:
    """Found by a monkey: less than nothing left of a thread."""
    desk.open("laying-knife")
    desk.station("record")
    place = next(p for p in desk.window.pages.station.board.fields if p.startswith(path))
    before = desk.window.session.job
    desk.type(place, "-1")
    assert desk.field(place).wrong.text()
    assert desk.window.session.job is before


def test_labels_are_made_by_the_one_that_shows_them_plain() -> None:
    desk = Path(fault_log.__file__).parents[1]
    made = [p for p in desk.rglob("*.py") if "QLabel(" in p.read_text() and p.name != "words.py"]
    assert made == []


def test_orders_in_a_name_never_reach_a_terminal(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "x.vow.json"
    odd = "knife \x1b]0;title\x07\x1b[31m \x9b2J \u202e evil"
    write_job(change(demo_jobs()["laying-knife"], "name", odd), path)
    main(["plan", str(path)])
    main(["plan", str(tmp_path / os.fsdecode(b"gone \x1b[2J \xff.vow.json"))])
    said = capsys.readouterr()
    assert "knife" in said.out
    assert "gone" in said.err
    for order in "\x1b\x07\x9b\u202e":
        assert order not in said.out + said.err


PRINTS = "import sys; from vow_line.app import main; sys.exit(main(['schema']))"


def test_who_stops_reading_ends_it_quietly() -> None:
    """As `| head -1` does."""
    printing = subprocess.Popen([sys.executable, "-c", PRINTS], stdout=subprocess.PIPE, stderr=subprocess.PIPE)
    assert printing.stdout is not None
    assert printing.stderr is not None
    printing.stdout.readline()
    printing.stdout.close()
    assert printing.wait(60) == 0
    assert printing.stderr.read() == b""
    printing.stderr.close()


@pytest.mark.parametrize("display", ["", ":97"])
def test_without_a_display_it_says_so_in_a_line(display: str, tmp_path: Path) -> None:
    without = {k: v for k, v in os.environ.items() if k not in ("WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    started = subprocess.run(
        [sys.executable, "-c", "import sys; from vow_line.app import main; sys.exit(main([]))"],
        env=without | {"DISPLAY": display, "VOW_LINE_HOME": str(tmp_path)}, capture_output=True, text=True, timeout=60,
        check=False,
    )  # fmt: skip
    assert started.returncode == 2
    assert started.stderr.count("\n") == 1
    assert "no display" in started.stderr


STARTS = "import sys; from vow_line.app import main; sys.exit(main(sys.argv[1:]))"


def test_a_second_start_opens_its_job_in_the_first_window(tmp_path: Path) -> None:
    """Two real starts: the second ends at once, and the job it was given is foremost on the first's shelf. A socket left by one
    that was killed hinders nobody.
    """
    home = tmp_path / "home"
    (home / "state").mkdir(parents=True)
    job = tmp_path / "a.vow.json"
    write_job(demo_jobs()["laying-knife"], job)
    told = os.environ | {"VOW_LINE_HOME": str(home), "XDG_RUNTIME_DIR": str(tmp_path), "QT_QPA_PLATFORM": "offscreen"}
    for _ in range(2):
        first = subprocess.Popen([sys.executable, "-c", STARTS], env=told)
        try:
            place = next(iter(tmp_path.glob("vow-line-*")), None)
            until = time.monotonic() + 60
            while time.monotonic() < until and (place is None or hand_over(place, None) is not True):
                time.sleep(0.1)
                place = next(iter(tmp_path.glob("vow-line-*")), None)
            assert place is not None
            assert place.stat().st_mode & 0o777 == 0o600 or place.parent.stat().st_mode & 0o077 == 0
            book = Workshop(home / "workshop.sqlite")
            book.forget(job)
            second = subprocess.run([sys.executable, "-c", STARTS, str(job)], env=told, timeout=60, check=False)
            assert second.returncode == 0
            while time.monotonic() < until and job not in book.jobs():
                time.sleep(0.1)
            assert book.jobs()[0] == job
        finally:
            first.kill()
            first.wait()


def test_the_door_hears_one_line_and_nothing_else(qtbot: QtBot, tmp_path: Path, desk: Desk) -> None:
    """What is not understood, or goes on without an end, is hung up on; a second window on one workshop has no door."""
    import socket

    place = tmp_path / "door"
    door = Door(place, desk.window)
    assert door.open
    assert not Door(place, desk.window).open
    assert place.stat().st_mode & 0o077 == 0
    heard: list[object] = []
    door.knocked.connect(lambda job, _: heard.append(job))
    for words in (b"{}\n", b"[1]\n", b'{"open": "/x"}\n', b"no\n", b"x" * 20_000):
        with socket.socket(socket.AF_UNIX) as line:
            line.settimeout(0.01)
            line.connect(str(place))
            line.sendall(words)
            said: list[bytes] = []

            def hung_up(line: socket.socket = line, said: list[bytes] = said) -> bool:
                try:
                    said.append(line.recv(100))
                except TimeoutError:
                    return False
                except OSError:
                    said.append(b"")
                return said[-1] == b""

            qtbot.waitUntil(hung_up)
            assert b"".join(said) == b""
    assert heard == []
    answered: list[bool | None] = []
    knocking = threading.Thread(target=lambda: answered.append(hand_over(place, tmp_path / "a")))
    knocking.start()
    qtbot.waitUntil(lambda: bool(answered))
    knocking.join()
    assert (answered, heard) == ([True], [tmp_path / "a"])
    door.shut()
    assert hand_over(place, None) is None
    long = tmp_path / ("a" * 120)
    long.mkdir()
    assert meeting_place(tmp_path, long) is None or os.environ.get("XDG_RUNTIME_DIR")


def test_a_job_knocked_for_is_opened_when_nothing_is_asked(desk: Desk) -> None:
    desk.open("laying-knife")
    other = next(j.path for j in desk.window.pages.shelf.jobs if "spar-knife" in j.path.name)
    desk.window.session.open_file(other)
    path = other.with_name("laying-knife.vow.json")
    _with_dialog(lambda _: desk.window._come_forward(path, ""))
    desk.window.actions_["name"].trigger()
    assert desk.window.session.path == other
    assert "first" in desk.window.notice.text()
    desk.window._come_forward(path, "")
    assert desk.window.session.job == read_job(path)
