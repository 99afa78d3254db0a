"""The one worker: what it tells, how it stops, and that a mistake in the work leaves the desk free."""

import threading

import pytest
from PySide6.QtCore import Qt
from pytestqt.qtbot import QtBot

from tests.desk.conftest import Desk
from vow_line.core.draft import Draft
from vow_line.core.errors import RefusedChange
from vow_line.desk.dialogs.exporting import ask_export
from vow_line.desk.session import Tell, Worker
from vow_line.desk.session.fault_log import LOG

SHIFT = Qt.KeyboardModifier.ShiftModifier


def test_work_tells_in_the_main_thread_what_it_finds_and_stops_when_asked(qtbot: QtBot) -> None:
    worker, heard = Worker(), []
    first = threading.Event()

    def work(tell: Tell) -> str:
        for k in range(1000):
            tell.better(k)
            if not tell.progress(k / 1000, f"step {k}"):
                return f"stopped at {k}"
            first.wait(5)
        return "never stopped"

    def hear(*what: object) -> None:
        heard.append((threading.current_thread() is threading.main_thread(), *what))

    task = worker.start(
        "counting", work, done=lambda gave: hear("done", gave), progress=hear, better=lambda k: hear("best", k)
    )
    qtbot.waitUntil(lambda: len(heard) == 2)
    assert worker.busy
    task.stop()
    first.set()
    qtbot.waitUntil(lambda: not worker.busy)
    told = [("best", 0), (0.0, "step 0"), ("best", 1), (0.001, "step 1"), ("done", "stopped at 1")]
    assert heard == [(True, *what) for what in told]


@pytest.mark.parametrize(("error", "says", "logged"), [
    (RefusedChange("Not so.", "piece.margin_mm", "Try less."), "Not so.", False),
    (KeyError("lost"), "This went wrong while counting: 'lost'", True),
])  # fmt: skip
def test_what_is_raised_is_said_and_only_a_mistake_is_logged(
    qtbot: QtBot, error: Exception, says: str, logged: bool
) -> None:
    worker = Worker()
    said: list[str] = []
    broke: list[tuple[str, str]] = []
    worker.broke.connect(lambda name, trace: broke.append((name, trace)))

    def work(_: Tell) -> None:
        raise error

    worker.start("counting", work, failed=said.append)
    qtbot.waitUntil(lambda: not worker.busy)
    assert [s.split(" Try")[0] for s in said] == [says]
    assert [(name, "KeyError" in trace) for name, trace in broke] == ([("counting", True)] if logged else [])


def test_a_search_that_raises_is_said_written_down_and_can_be_begun_again(
    desk: Desk, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    page, draft = desk.window.pages.station, desk.window.session.plan.draft
    search = draft.search

    def fail(**_: object) -> None:
        raise ZeroDivisionError("nothing to divide by")

    monkeypatch.setattr(Draft, "__setattr__", object.__setattr__)
    draft.search = fail
    page.board.setFocus()
    desk.key(Qt.Key.Key_D, SHIFT)
    qtbot.waitUntil(lambda: not page.looking, timeout=5000)
    assert desk.window.notice.text() == "This went wrong while looking for a way out: nothing to divide by"
    assert "ZeroDivisionError" in (desk.places.state / LOG).read_text()
    draft.search = search
    desk.key(Qt.Key.Key_D, SHIFT)
    assert page.looking, "the desk is free for another"
    qtbot.waitUntil(lambda: not page.looking, timeout=20_000)


def test_an_export_that_fails_is_said_and_another_may_begin(desk: Desk, qtbot: QtBot, tmp_path: object) -> None:
    desk.open("laying-knife")
    taken = desk.places.home / "taken"
    taken.write_text("a file, not a folder")
    exports = ask_export(desk.window.session, desk.window)
    assert exports is not None
    exports.into(taken)
    exports.write()
    qtbot.waitUntil(lambda: exports.task is None, timeout=20_000)
    assert "taken" in desk.window.notice.text()
    assert desk.window.notice.property("wrong")
    exports.into(desk.places.home / "out")
    exports.write()
    qtbot.waitUntil(lambda: exports.task is None, timeout=20_000)
    assert "laying-knife.svg" in desk.window.notice.text()
