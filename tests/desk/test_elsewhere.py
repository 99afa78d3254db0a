"""What other hands do to a job's file, what is kept when it is gone, and what is killed while one types."""

import json
import os
import subprocess
import sys
import time
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QFileDialog

from tests.desk.conftest import Desk
from vow_line.core.job import change
from vow_line.desk.session import Autosave
from vow_line.files.job_json import JOB_SUFFIX, dump, read_job, write_job
from vow_line.resources.demo import demo_jobs

KILLED_MS = (600, 1100, 1700)


def _come_back() -> None:
    """To the program, from another."""
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    app.applicationStateChanged.emit(Qt.ApplicationState.ApplicationActive)
    QApplication.processEvents()


def _edited(desk: Desk, margin: str = "4.5") -> Path:
    desk.open("laying-knife")
    desk.window.session.go("draft")
    desk.type("piece.margin_mm", margin)
    path = desk.window.session.path
    assert path is not None
    return path


def test_what_was_changed_elsewhere_is_shown_when_one_comes_back(desk: Desk) -> None:
    path = _edited(desk)
    session = desk.window.session
    _come_back()
    theirs = change(change(read_job(path), "piece.margin_mm", 6.0), "whose", "Somebody Else")
    write_job(theirs, path)
    asked = desk.answer("Leave both as they are")
    _come_back()
    assert "thread to the cut: 4.5 mm here, 6 mm there" in asked[0]
    assert "whose it is differs" in asked[0]
    assert (session.job.piece.margin_mm, read_job(path)) == (4.5, theirs)
    quiet = desk.answer("Leave both as they are")
    _come_back()
    assert not quiet, "each change is told once"
    write_job(change(theirs, "piece.margin_mm", 7.0), path)
    desk.answer("Open that instead")
    _come_back()
    assert session.job.piece.margin_mm == 7.0
    assert session.beside[0].job is not None
    assert session.beside[0].job.piece.margin_mm == 4.5
    path.write_bytes(b"half a file")
    asked = desk.answer("Leave both as they are")
    _come_back()
    assert "cannot be read" in asked[0]


def test_a_file_of_a_newer_program_is_let_be(desk: Desk) -> None:
    """Neither put aside as damaged, nor covered by what was kept before it came."""
    path = _edited(desk)
    desk.window.pages.show_shelf()
    newer = json.loads(path.read_bytes()) | {"format": 99}
    path.write_text(json.dumps(newer))
    session = desk.window.session
    assert not session.open_file(path)
    assert "newer Vow Line" in desk.window.notice.text()
    assert json.loads(path.read_bytes()) == newer
    assert not list(path.parent.glob("*.damaged"))
    [kept] = session.autosave.works(path)
    assert kept.job is not None
    assert kept.job.piece.margin_mm == 4.5
    desk.window.pages.show_shelf()  # read again, as it is now
    assert "newer" in next(j for j in desk.shelf() if j.path == path).wrong


def test_a_file_that_is_gone_is_on_the_shelf_as_long_as_work_on_it_is_kept(desk: Desk) -> None:
    path = _edited(desk)
    desk.window.pages.show_shelf()
    path.unlink()
    for _ in range(2):  # looking at it changes nothing, nor does opening it and leaving
        [job] = [j for j in desk.shelf() if j.path == path]
        assert job.card is not None
        assert job.card.job.piece.margin_mm == 4.5
        assert "gone" in job.spoken()
        assert desk.window.session.open_file(path)
        assert "gone" in desk.window.notice.text()
        assert desk.window.session.unsaved
        desk.window.pages.show_shelf()
    assert desk.window.session.open_file(path)
    assert desk.window.session.save()
    assert read_job(path).piece.margin_mm == 4.5
    desk.window.pages.show_shelf()
    assert not next(j for j in desk.shelf() if j.path == path).wrong


@pytest.mark.parametrize("kept", [b"half a f", b'{"kept_for": "%s", "grew_from": "", "job": {"format": 99}}'])
def test_kept_work_that_cannot_be_read_is_said_and_kept(kept: bytes, desk: Desk) -> None:
    """Whose it was is on the shelf, or where it is told no more the work itself."""
    path = _edited(desk)
    desk.window.pages.show_shelf()
    desk.shelf()
    place = next(desk.window.session.autosave.folder.glob(f"*{JOB_SUFFIX}"))
    path.unlink()
    place.write_bytes(kept % os.fsencode(path) if b"%" in kept else kept)
    held = place.read_bytes()
    desk.window.pages.show_shelf()
    wrong = [j for j in desk.shelf() if j.wrong]
    assert [j.path for j in wrong] == [path if b"%" in kept else place]
    assert not desk.window.session.open_file(wrong[0].path)
    assert place.read_bytes() == held


def test_the_eleventh_window_loses_nothing_and_what_is_kept_is_its_owners(tmp_path: Path) -> None:
    path, job = tmp_path / "a.vow.json", demo_jobs()["laying-knife"]
    windows = [Autosave(tmp_path / "state" / "unsaved") for _ in range(11)]
    assert [window.take(path) for window in windows] == [True, *[False] * 10]
    for k, window in enumerate(windows):
        window.keep(path, change(job, "piece.margin_mm", 3.0 + k), "")
        window.settle()
        window.let_go()
    kept = Autosave(tmp_path / "state" / "unsaved").works(path)
    assert sorted(w.job.piece.margin_mm for w in kept if w.job) == [3.0 + k for k in range(11)]
    assert {w.place.stat().st_mode & 0o777 for w in kept} == {0o600}
    assert (tmp_path / "state" / "unsaved").stat().st_mode & 0o777 == 0o700


def test_saving_as_looks_at_the_whole_name_and_asks(
    desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = _edited(desk)
    session, other = desk.window.session, tmp_path / f"other{JOB_SUFFIX}"
    other.write_bytes(b"somebody else's")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "other"), ""))
    asked = desk.answer("Leave them")
    desk.window.actions_["save-as"].trigger()
    assert str(other) in asked[0]
    assert other.read_bytes() == b"somebody else's"
    assert session.path == path
    desk.answer("Write over")
    desk.window.actions_["save-as"].trigger()
    assert session.path == other
    assert read_job(other) == session.job
    linked = tmp_path / "linked"
    os.link(other, linked)
    desk.type("piece.margin_mm", "5")
    asked = desk.answer("Leave it as it is")
    desk.window.actions_["save"].trigger()
    assert "2 names" in asked[0]
    assert session.unsaved
    desk.answer("Save it here alone")
    desk.window.actions_["save"].trigger()
    assert (read_job(other).piece.margin_mm, read_job(linked).piece.margin_mm) == (5.0, 4.5)


def test_exporting_again_asks_before_it_writes_over(desk: Desk, tmp_path: Path) -> None:
    _edited(desk)
    desk.window.actions_["export"].trigger()
    dialog = QApplication.activeModalWidget()
    dialog.into(tmp_path)
    there = tmp_path / f"laying-knife{next(iter(dialog.ticks))}"
    there.write_bytes(b"mine")
    asked = desk.answer("Leave them")
    desk.click(dialog.write_button)
    assert there.name in asked[0]
    assert dialog.task is None
    assert [p.name for p in tmp_path.iterdir() if p.is_file()] == [there.name]
    dialog.reject()


TYPING = """
import sys, time
from pathlib import Path
from PySide6.QtCore import QTimer
from vow_line.core.job import change
from vow_line.desk.start import Places, application
from vow_line.desk.session import Autosave, Session
from vow_line.workshop import Workshop
app = application()
home = Path(sys.argv[1])
session = Session(Workshop(home / "book"), Autosave(home / "unsaved"), home)
assert session.open_file(home / "a.vow.json")
edits = iter(range(1, 400))
def type():
    k = next(edits)
    session.do("type", lambda j: change(j, "piece.margin_mm", 3 + k / 1000))
    print(k, flush=True)
timer = QTimer()
timer.timeout.connect(type)
timer.start(150)
app.exec()
"""


def killed_while_typing(home: Path, for_s: float) -> None:
    """Another process types every 150 ms and is killed after so long: what it had shown a second before is kept."""
    home.mkdir()
    write_job(change(demo_jobs()["laying-knife"], "piece.margin_mm", 3.0), home / "a.vow.json")
    typing = subprocess.Popen([sys.executable, "-c", TYPING, str(home)], stdout=subprocess.PIPE, text=True)
    assert typing.stdout is not None
    shown = [(int(typing.stdout.readline()), time.monotonic())]
    while time.monotonic() - shown[0][1] < for_s:
        shown.append((int(typing.stdout.readline()), time.monotonic()))
    typing.kill()
    typing.wait()
    killed = time.monotonic()
    typing.stdout.close()
    works = Autosave(home / "unsaved").works(home / "a.vow.json")
    kept = max((round(1000 * (w.job.piece.margin_mm - 3)) for w in works if w.job), default=0)
    due = max((n for n, at in shown if killed - at > 1.0), default=0)
    assert kept >= due, (for_s, kept, shown)


@pytest.mark.parametrize("ms", KILLED_MS)
def test_killed_while_one_types_no_more_than_a_second_is_lost(ms: int, tmp_path: Path) -> None:
    killed_while_typing(tmp_path / "home", ms / 1000)


def test_a_job_kept_before_it_said_whose_it_was_is_read(tmp_path: Path) -> None:
    """As the first versions kept it: the bare job."""
    path, job = tmp_path / "a.vow.json", demo_jobs()["laying-knife"]
    autosave = Autosave(tmp_path / "unsaved")
    autosave.take(path)
    autosave.keep(path, job, "")
    autosave.settle()
    autosave.let_go()
    [place] = (tmp_path / "unsaved").glob(f"*{JOB_SUFFIX}")
    place.write_bytes(dump(job))
    [kept] = autosave.works(path)
    assert kept.job == job
