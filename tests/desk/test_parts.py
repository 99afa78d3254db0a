"""The desk's parts on their own: the store, the autosave, the rows, the first paint."""

import os
from datetime import datetime
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QFontMetrics
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel
from pytestqt.qtbot import QtBot

from tests.desk.conftest import Desk
from tests.jobs import demo, plain_job
from vow_line.core.draft.kinds import KINDS
from vow_line.core.errors import RefusedChange
from vow_line.core.job import Job, change
from vow_line.core.measure import THINGS
from vow_line.core.plan import plan
from vow_line.core.quantity import Units
from vow_line.core.steps import break_vow, sew_to, vow
from vow_line.core.texts import heading
from vow_line.desk.actions import switches
from vow_line.desk.lists.rows import Row, RowList
from vow_line.desk.look.ink import BOLD, DAY, type_
from vow_line.desk.pages import begin
from vow_line.desk.session.autosave import Autosave, digest
from vow_line.desk.session.store import Store
from vow_line.desk.start import Places, application, make_window
from vow_line.files import formats
from vow_line.files.job_json import dump, read_job, write_job

NOON = datetime(2027, 1, 5, 12)


def _margin(mm: float) -> object:
    return lambda job: change(job, "piece.margin_mm", mm)


def test_a_step_that_raises_changes_nothing_and_leaves_no_entry(qapp: object) -> None:
    store = Store(plain_job())
    before = store.job
    with pytest.raises(RefusedChange):
        store.do("set margin", lambda j: change(j, "piece.margin_mm", -1.0))
    assert store.job is before
    assert store.undo_name == ""


def test_steps_of_one_gesture_are_one_entry(qapp: object) -> None:
    store = Store(plain_job())
    for passes in range(1, 9):
        store.do("a pass", lambda j, n=passes: sew_to(j, seam="main-seam", passes=n), merge="sew")  # type: ignore[misc]
    store.do("set margin", lambda j: change(j, "piece.margin_mm", 4.0))
    assert store.undo_name == "set margin"
    store.undo()
    assert store.undo_name == "a pass"
    store.undo()
    assert store.job == plain_job()
    assert store.redo_name == "a pass"
    store.do("set margin", lambda j: change(j, "piece.margin_mm", 5.0))
    assert store.redo_name == "", "a new step ends what could be done again"


def test_what_changes_nothing_is_no_step(qapp: object, qtbot: QtBot) -> None:
    store = Store(plain_job())
    with qtbot.assertNotEmitted(store.changed):
        store.do("set margin", lambda j: change(j, "piece.margin_mm", 3.5))
    with qtbot.waitSignal(store.changed) as told:
        store.do("set margin", lambda j: change(j, "piece.margin_mm", 4.0))
    before, after = told.args or (None, None)
    assert before.job != after.job  # type: ignore[union-attr]


def test_what_is_not_saved_is_kept_and_dropped_by_file(qapp: object, tmp_path: Path) -> None:
    kept = Autosave(tmp_path / "unsaved")
    one, other = tmp_path / "one.vow.json", tmp_path / "two.vow.json"
    job: Job = plain_job(margin_mm=4.4)
    assert kept.take(one)
    kept.keep(one, job, "abc")
    [work] = kept.works(one)
    assert (work.job, work.grew_from) == (job, "abc")
    assert kept.works(other) == ()
    kept.drop(one)
    assert Autosave(tmp_path / "unsaved").works(one) == ()


def test_no_two_hands_keep_their_work_in_one_place(qapp: object, tmp_path: Path) -> None:
    """Twelve windows, some of them gone in between, each with work of its own on one file: all of it stays, as it was kept."""
    one, jobs, windows = tmp_path / "one.vow.json", [], []
    for n in range(12):
        windows.append(Autosave(tmp_path / "unsaved"))
        assert windows[-1].take(one) is (n == 0 or n % 3 == 0)
        jobs.append(plain_job(margin_mm=3.0 + n / 10))
        windows[-1].keep(one, jobs[-1], f"{n}")
        if n % 3 == 2:
            for gone in windows:
                gone.settle()
                gone.let_go()
    for looking in (Autosave(tmp_path / "unsaved"), *windows):
        assert {(w.grew_from, w.job.piece.margin_mm) for w in looking.works(one)} == {
            (f"{n}", job.piece.margin_mm) for n, job in enumerate(jobs)
        }, "looking at it takes nothing away"
    last = Autosave(tmp_path / "unsaved")
    last.take(one)
    last.adopt(last.works(one)[0])
    last.keep(one, plain_job(margin_mm=9.0), "new")
    assert len(last.works(one)) == 12, "what is gone on with is written over, nothing else"
    (tmp_path / "unsaved" / last.works(one)[0].place.name).write_text("{ half")
    assert [w.job is None for w in last.works(one)].count(True) == 1, "what is damaged is there, and says so"


def test_what_an_older_program_kept_is_still_work(qapp: object, tmp_path: Path) -> None:
    one, kept = tmp_path / "one.vow.json", Autosave(tmp_path / "unsaved")
    kept.take(one)
    kept.keep(one, plain_job(), "x")
    [work] = kept.works(one)
    work.place.write_bytes(dump(plain_job(margin_mm=4.4)))
    write_job(plain_job(), one)
    [work] = kept.works(one)
    assert work.job == plain_job(margin_mm=4.4)
    for seconds, belongs in ((-5, True), (5, False)):
        os.utime(one, (work.at.timestamp() + seconds,) * 2)
        assert work.belongs(one, digest(one)) is belongs, "only where the file is not newer"


def test_an_autosave_that_cannot_be_written_is_said(qapp: object, tmp_path: Path, qtbot: QtBot) -> None:
    (tmp_path / "in the way").write_text("")
    kept = Autosave(tmp_path / "in the way" / "unsaved")
    with qtbot.waitSignal(kept.failed) as told:
        kept.keep(tmp_path / "one.vow.json", plain_job(), "")
    assert "could not be kept beside" in str((told.args or [""])[0])


def test_rows_are_spoken_whole_and_ticked_by_hand_or_key(qapp: object, qtbot: QtBot) -> None:
    rows = RowList("Steps")
    qtbot.addWidget(rows)
    rows.resize(320, 300)
    step = Row(
        "cut/welt", "step", "Cut the welt", "4 min", "grain side up", ticked=False, caution="Cut away from the hand."
    )
    rows.show_rows((Row("head/x", "head", "Cutting order"), step))
    rows.show()
    spoken = rows.model().data(rows.model().index(1, 0), Qt.ItemDataRole.AccessibleTextRole)
    assert spoken == "Cut the welt. 4 min. grain side up. not done. Cut away from the hand."
    assert rows.currentIndex().row() == 1, "headings are passed over"
    with qtbot.waitSignal(rows.ticked) as told:
        QTest.keyClick(rows, Qt.Key.Key_Space)
    assert told.args == [step]
    box = rows.visualRect(rows.model().index(1, 0))
    with qtbot.waitSignal(rows.ticked):
        QTest.mouseClick(rows.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(box.left() + 26, box.top() + 18))
    with qtbot.assertNotEmitted(rows.ticked):
        QTest.mouseClick(rows.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(box.left() + 200, box.top() + 18))


def test_rows_that_stay_keep_the_place_of_the_focus(qapp: object, qtbot: QtBot) -> None:
    rows = RowList("Sums")
    qtbot.addWidget(rows)
    rows.show_rows(tuple(Row(f"k{i}", "sum", f"name {i}", "1 mm") for i in range(5)))
    rows.setCurrentIndex(rows.model().index(3, 0))
    rows.show_rows(tuple(Row(f"k{i}", "sum", f"name {i}", "2 mm") for i in range(5)))
    assert rows.currentIndex().row() == 3
    assert rows.rows[3].value == "2 mm"


def test_the_window_is_there_before_the_desk_is(tmp_path: Path, qapp: object) -> None:
    application()
    places = Places(tmp_path / "home", tmp_path / "state")
    frame = make_window(places, demo=True)
    frame.show()
    words = {label.text() for label in frame.findChildren(QLabel)}
    assert "The shelf" in words
    assert frame.desk is None
    QTest.qWait(400)
    assert frame.desk is not None, "after the first paint it is filled"
    assert next(j.path.name.partition(".")[0] for j in frame.desk.pages.shelf.jobs) == "laying-knife"
    frame.close()
    frame.deleteLater()
    QApplication.processEvents()


def test_the_window_opens_on_the_bench_it_was_left_on(desk: Desk) -> None:
    switches.ink(desk.window.session)
    again = make_window(desk.places)
    assert again.ink.name == "evening"
    again.deleteLater()


def test_the_other_seam_is_reached_with_a_key_and_finished_ones_say_so(desk: Desk) -> None:
    desk.open("spar-knife")
    sew = desk.window.pages.sew
    assert sew.seam == "main-seam"
    desk.key(Qt.Key.Key_N)
    assert sew.seam == "belt-loop"
    for _ in range(400):
        if "is sewn" in sew.lines()[0]:
            break
        desk.key(Qt.Key.Key_Space)
    assert sew.lines()[0] == "The belt loop is sewn."
    desk.key(Qt.Key.Key_Backspace)
    assert sew.lines()[0].startswith("Hole")
    desk.window.session.undo()
    assert "is sewn" in sew.lines()[0] or sew.lines()[0].startswith("Hole")


def test_the_help_names_keys_and_cautions(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.key(Qt.Key.Key_F1)
    assert desk.window.keys.isVisible()
    desk.window.keys.close()
    desk.window.actions_["cautions"].trigger()
    for word in ("knife", "awl", "window", "melt", "dust", "50 °C", "law"):
        assert word in desk.window.notice.text().lower() or word in desk.window.notice.text(), word


def test_lace_is_reckoned_as_it_is_typed(desk: Desk) -> None:
    from PySide6.QtTest import QTest

    from vow_line.core.quantity import Units
    from vow_line.desk.dialogs.lace import LaceDialog

    dialog = LaceDialog(desk.window, Units(), desk.window.pages.ink)
    dialog.show()
    before, drawn = dialog.sums["lace/long"].text(), dialog.picture.grab().toImage()
    field = dialog.fields["eyelets"]
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "12")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert dialog.sums["lace/long"].text() != before
    assert dialog.picture.grab().toImage() != drawn
    dialog.fields["gap_mm"].setText("wide")
    dialog.take()
    assert "Gap between the rows" in dialog.wrong.text()
    dialog.fields["gap_mm"].setText("1 in")
    dialog.take()
    assert dialog.wrong.text() == ""
    assert "25.4" in dialog.sums["lace/long"].text()
    dialog.close()


def test_thread_needle_and_hand_are_asked_for(desk: Desk) -> None:
    from vow_line.desk.dialogs.thread import ThreadDialog

    desk.open("laying-knife")
    spool = ThreadDialog(desk.window.session.job, desk.window)
    assert spool.chosen(desk.window.session.job) == desk.window.session.job, "nothing changed, nothing rounded"
    spool.numbers["thread.thread.price_m"].setText("0.12")
    spool.choices["thread.second_needle"].setCurrentIndex(1)
    spool.words["thread.thread.colour"].setText("oxblood")
    spool._take()
    job = spool.chosen(desk.window.session.job)
    assert job.thread.second_needle == "above"
    assert job.thread.thread.colour == "oxblood"
    assert plan(job).threading.reckonings[-1].more[1].write(job.units).startswith("costs 0.3")
    spool.numbers["thread.needle_thick_mm"].setText("thick")
    spool._take()
    assert "thick" in spool.wrong.text()


def test_a_piece_that_is_only_riveted_can_be_looked_at_everywhere(desk: Desk) -> None:
    desk.open("key-fob")
    desk.window.session.do("break", lambda j: break_vow(j, at=datetime(2027, 1, 6)))
    desk.window.session.do("rivet it", lambda j: change(j, "piece.held", "riveted"))
    assert not desk.window.session.plan.stitching.seams
    for name in ("measure", "draft", "stitch", "thread", "layout", "vow", "cut", "form", "sew", "edge", "record"):
        desk.window.session.go(name)
        desk.picture()
        for key in (Qt.Key.Key_N, Qt.Key.Key_K):
            desk.key(key)
    desk.window.session.go("sew")
    assert desk.window.pages.sew.lines()[:2] == ("Next, at Cut", "Punch the rivet hole")
    desk.key(Qt.Key.Key_L)
    desk.window.session.go("thread")
    assert desk.window.pages.station.board.scene.waits.template == "Nothing is sewn on this piece."
    sewn, riveted = ({f.suffix for f in formats(p)} for p in (plan(demo("key-fob")), desk.window.session.plan))
    assert sewn - riveted == {"-other-face.pdf"}, "no transfer sheet where nothing is sewn"


@pytest.mark.parametrize("name", ["billhook-cover", "key-fob", "whetstone-case"])
def test_every_step_is_shown_at_its_station_and_ticked_there(desk: Desk, name: str) -> None:
    """Each by the keys of its station: Space at Sew, which sends to Cut, Form or Edge what must be done there first."""
    desk.open(name)
    window, job = desk.window, demo(name)
    bare = job.work.model_copy(update={"done": (), "sewn": ()})
    held = job.piece.model_copy(update={"held": "riveted"}) if name == "key-fob" else job.piece
    fresh = vow(job.model_copy(update={"vows": (), "work": bare, "piece": held}), at=datetime(2027, 1, 6))
    window.session.do("begin again", lambda _: fresh)
    steps = {s.id: s for s in window.session.plan.work.steps}
    for station in ("cut", "form", "edge"):
        window.session.go(station)
        desk.slip()
        shown = {r.key for r in window.pages.station.slip.rows if r.kind == "step"}
        assert shown == {s.id for s in steps.values() if s.station == station}
    window.session.go("sew")
    ticked: set[str] = set()
    for _ in range(4000):
        first = window.pages.sew._first
        if all(window.session.job.work.is_done(s.id) for s in steps.values() if s.station == "sew"):
            break
        if window.session.station == "sew":
            ticked |= {first.id} if first and first.station == "sew" else set()
            window.pages.sew.forward()
        else:
            assert first is not None
            window.session.tick(first.id, True)
            window.session.go("sew")
    assert {s for s in steps if s.startswith(("set/", "glue/", "fix/")) and steps[s].station == "sew"} <= ticked


def test_a_job_whose_name_is_no_file_name_begins_in_a_file_all_the_same(desk: Desk) -> None:
    job = plain_job().model_copy(update={"name": "Hook, 1/2 in"})
    for expected in ("hook-1-2-in.vow.json", "hook-1-2-in-2.vow.json"):
        desk.window.session.begin_with(job)
        assert desk.window.session.path == desk.window.session.jobs_folder / expected
        assert desk.window.session.path.exists()


def test_begin_offers_things_and_kinds_the_demo_has_none_of(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(begin, "sample_of", lambda _: None)
    for kept in (begin._measured, begin._drafted):
        kept.cache_clear()
    page = begin.BeginPage()
    qtbot.addWidget(page)
    page.resize(1280, 800)
    page.ask(DAY)
    for thing in THINGS:
        page.show_kinds_for(thing)
        cards = {c.name for c in page.findChildren(begin.PictureButton)}
        assert cards >= {heading(k.says) for k in KINDS if issubclass(thing.gives, k.fits)}
        assert not page.grab().isNull()
    for kept in (begin._measured, begin._drafted):
        kept.cache_clear()


@pytest.mark.parametrize("home", ["a file", "a damaged book"])
def test_the_program_starts_where_nothing_can_be_kept_and_says_so(qtbot: QtBot, tmp_path: Path, home: str) -> None:
    at = tmp_path / "home"
    if home == "a file":
        at.write_text("in the way")
    else:
        at.mkdir()
        (at / "workshop.sqlite").write_bytes(b"no book at all " * 300)
    application()
    frame = make_window(Places(at, tmp_path / "state"), demo=True)
    qtbot.addWidget(frame)
    frame.show()
    frame.fill()
    assert frame.desk is not None
    says = frame.desk.notice.text()
    assert "could not be written" in says or "set aside as" in says
    frame.desk.pages.ask_to_begin()
    frame.desk.pages.begin.chosen.emit(THINGS[0], KINDS[0])
    qtbot.waitUntil(lambda: frame.desk.session.open or bool(frame.desk.notice.text()))
    frame.close()


def test_a_damaged_job_is_opened_from_what_was_kept_of_it(desk: Desk) -> None:
    desk.open("spar-knife")
    session = desk.window.session
    path = session.path
    assert path is not None
    session.do("set margin", lambda j: change(break_vow(j, at=NOON), "whose", "Wren"))
    assert session.save()
    good = session.job
    session.do("x", lambda j: change(j, "whose", "Ada"))
    assert session.save()
    session.leave()
    path.write_text('{"format": 2, "name": "cut sho')
    assert session.open_file(path)
    assert session.job == good, "the one before the last is its last good copy"
    assert "What was kept of it is open instead" in desk.window.notice.text()
    assert path.read_text().endswith("cut sho"), "nothing is written before it is saved"
    session.do("x", lambda j: change(j, "whose", "Ansel"))
    assert session.save()
    assert path.with_name(f"{path.name}.damaged").read_text().endswith("cut sho")
    assert read_job(path).whose == "Ansel"
    for old in (path, path.with_name(f"{path.name}~")):
        old.write_text("[]")
    session.leave()
    assert not session.open_file(path), "nothing of it is left to open"


def test_a_file_that_changed_elsewhere_is_not_written_over_in_silence(desk: Desk) -> None:
    desk.open("spar-knife")
    session = desk.window.session
    path = session.path
    assert path is not None
    other = change(session.job, "whose", "another window")
    session.do("x", lambda j: change(j, "whose", "this window"))
    write_job(other, path)
    assert not session.save()
    assert "changed elsewhere" in desk.window.notice.text()
    assert read_job(path) == other
    assert session.unsaved
    assert not session.save(), "however often"
    assert read_job(path) == other
    assert session.save(over=True)
    assert read_job(path).whose == "this window"
    session.do("x", lambda j: change(j, "whose", "again"))
    assert session.save(), "what it wrote itself is no change elsewhere"


def test_the_words_of_every_card_stand_in_one_line_each(desk: Desk) -> None:
    room = begin.CARD.width() - 13
    for of in (*THINGS, *KINDS):
        title, hint = heading(of.says), of.hint.write(Units())
        wide = QFontMetrics(type_(16, BOLD)).horizontalAdvance(title), QFontMetrics(type_(14)).horizontalAdvance(hint)
        assert max(wide) <= room, (title, hint, wide, room)
