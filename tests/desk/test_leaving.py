"""Nothing is done unasked, and nothing is lost: keys held down, values half typed, work kept by one window and another."""

import os
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QLineEdit, QPushButton, QSlider, QWidget

from tests.desk.conftest import Desk
from vow_line.core.errors import RefusedChange
from vow_line.core.job import change
from vow_line.desk.dialogs.names import NamesDialog
from vow_line.desk.dialogs.piece import LeatherDialog, PieceDialog
from vow_line.desk.dialogs.thread import ThreadDialog
from vow_line.desk.line import LINE
from vow_line.files.job_json import read_job, write_job

ENTER, SPACE, CTRL = Qt.Key.Key_Return, Qt.Key.Key_Space, Qt.KeyboardModifier.ControlModifier


@pytest.mark.parametrize("job", ["slasher-grip", "hedging-knife", "spar-knife"])
def test_enter_alone_neither_mends_nor_vows_nor_breaks(desk: Desk, job: str) -> None:
    """From the first station on, Enter pressed over and over: a job without holds, one with, one that is vowed."""
    desk.open(job)
    session = desk.window.session
    begun = session.job
    for _ in range(2):
        session.go("measure")
        desk.window.pages.station.board.setFocus()
        for _ in range(24):
            desk.key(ENTER)
        assert session.station == "vow"
        assert session.job == begun


@pytest.mark.parametrize("key", [ENTER, SPACE])
@pytest.mark.parametrize("job", ["slasher-grip", "spar-knife"])
def test_a_key_held_down_acts_once_wherever_the_hand_is(desk: Desk, job: str, key: Qt.Key) -> None:
    """Every widget of every station that takes the focus, on either side of the vow, but Qt's own choices and lines: pressed
    once, something may be done; what the keyboard sends after that, to wherever the hand is then, does nothing.
    """
    desk.open(job)
    session, acted = desk.window.session, 0
    for station, _ in LINE:
        session.go(station)
        page = desk.window.pages.currentWidget()
        hands = [w for w in (page, *page.findChildren(QWidget)) if w.isVisible() and w.isEnabled()]
        hands = [w for w in hands if w.focusPolicy() & Qt.FocusPolicy.TabFocus]
        for hand in hands:
            if isinstance(hand, (QComboBox, QSlider)) or (isinstance(hand, QLineEdit) and key == SPACE):
                continue
            if isinstance(hand, QPushButton) and hand.objectName() in ("vow", "facts"):
                continue  # it asks, or has a test of its own
            before = session.job
            hand.setFocus()
            desk.key(key)
            once = session.job, session.station, desk.focused()
            desk.hold_down(key, only_held=True)
            assert (session.job, session.station) == once[:2], (station, hand)
            if key == ENTER:
                assert desk.focused() is once[2], (station, hand)
            acted += once[:2] != (before, station)
            while session.job != before:
                session.undo()
            session.go(station)
    assert acted, "and a press does something"


def test_the_vow_is_made_by_its_button_or_its_key_and_broken_when_that_is_asked(desk: Desk) -> None:
    desk.open("slasher-grip")
    session = desk.window.session
    session.go("vow")
    assert not desk.window.pages.vow.vow_button.hasFocus()
    desk.hold_down(ENTER)
    assert session.job.vowed is None
    desk.window.pages.vow.vow_button.setFocus()
    desk.key(ENTER)
    assert session.job.vowed is None, "Enter does not press it"
    desk.hold_down(SPACE)
    assert session.job.vowed.revision == 1
    desk.hold_down(SPACE)
    desk.hold_down(ENTER)
    assert session.job.vowed.revision == 1, "the hand is not on what breaks it"
    desk.window.pages.vow.vow_button.setFocus()
    asked = desk.answer("Leave it vowed")
    desk.key(SPACE)
    assert "What is cut stays cut" in asked[0]
    assert session.job.vowed.revision == 1
    desk.answer("Break the vow")
    desk.window.actions_["break"].trigger()
    assert session.job.vowed is None
    desk.window.window_.activateWindow()
    QApplication.processEvents()
    assert not desk.window.actions_["vow"].autoRepeat()
    desk.key(ENTER, CTRL)
    assert session.job.vowed.revision == 2, "by its key"
    desk.key(ENTER, CTRL)
    assert session.job.vowed.revision == 2


WAYS: dict[str, Callable[[Desk], object]] = {
    "the shelf": lambda d: d.window.actions_["shelf"].trigger(),
    "begin": lambda d: d.window.actions_["new"].trigger(),
    "another job": lambda d: d.window.session.open_file(d.places.home / "demo" / "hedging-knife.vow.json"),
    "closing": lambda d: d.window.window_.close(),
    "a station": lambda d: d.window.session.go("stitch"),
}


@pytest.mark.parametrize("way", WAYS)
def test_a_value_half_typed_is_kept_when_its_job_is_left(desk: Desk, way: str) -> None:
    desk.open("laying-knife")
    path = desk.window.session.path
    desk.window.session.go("draft")
    field = desk.field("piece.margin_mm")
    desk.click(field)
    desk.write("4.5")
    WAYS[way](desk)
    QApplication.processEvents()
    assert len(desk.window.session.workshop.jobs()) > 3
    if way == "the shelf":
        assert desk.window.pages.currentWidget() is desk.window.pages.shelf
        assert len(desk.shelf()) > 3, "and the shelf is full"
    if way != "closing":
        assert desk.window.session.open_file(path)
        assert desk.window.session.job.piece.margin_mm == 4.5


@pytest.mark.parametrize("way", WAYS)
@pytest.mark.parametrize("typed", ["4 1/", "900"])
def test_what_cannot_be_taken_is_asked_about(desk: Desk, way: str, typed: str) -> None:
    """Not a number yet, and one that is refused."""
    desk.open("laying-knife")
    session = desk.window.session
    path, before = session.path, session.job
    session.go("draft")
    field = desk.field("piece.margin_mm")
    desk.click(field)
    desk.write(typed)
    asked = desk.answer("Stay")
    WAYS[way](desk)
    assert f"“{typed}”" in asked[0]
    assert (session.path, session.station, field.text(), session.job) == (path, "draft", typed, before)
    assert desk.window.window_.isVisible()
    desk.answer("Leave without it")
    WAYS[way](desk)
    QApplication.processEvents()
    assert session.station != "draft" or session.path != path or not desk.window.window_.isVisible()


def test_a_note_and_a_reason_half_written_are_not_lost_either(desk: Desk) -> None:
    desk.open("spar-knife")
    session = desk.window.session
    session.go("form")
    desk.window.pages.station.note.setFocus()
    desk.write("shrank a little")
    session.go("cut")
    assert session.job.record.notes[-1].says == "shrank a little"
    desk.open("hedging-knife")
    session.go("vow")
    desk.window.pages.vow.findings.setFocus()
    desk.window.pages.vow.reason.setFocus()
    desk.write("its twin was")
    session.go("draft")
    session.go("vow")
    assert desk.window.pages.vow.reason.text() == "its twin was", "a look elsewhere on the line takes nothing"
    asked = desk.answer("Stay")
    desk.window.actions_["shelf"].trigger()
    assert "its twin was" in asked[0]
    assert session.open


def test_two_windows_closed_unsaved_keep_two_works(make_desk: Callable[[], Desk]) -> None:
    """And looking at the shelf, or opening the job over and over, takes away neither."""
    one, other = make_desk(), make_desk()
    for desk, margin in ((one, "4.5"), (other, "5.5")):
        desk.open("laying-knife")
        desk.window.session.go("draft")
        desk.type("piece.margin_mm", margin)
    path = one.window.session.path
    one.window.window_.close()
    other.window.window_.close()
    looking = make_desk()
    looking.shelf()
    looking.window.pages.show_shelf()
    looking.shelf()
    session = looking.window.session
    there = {k.job.piece.margin_mm for k in session.autosave.works(path)}
    assert there == {4.5, 5.5}
    assert session.open_file(path)
    shown = session.job.piece.margin_mm
    assert "Other unsaved work" in looking.window.notice.text()
    [beside] = session.beside
    assert {shown, beside.job.piece.margin_mm} == there
    looking.window.actions_["lay-beside"].trigger()
    laid = [p for p in session.workshop.jobs() if "kept" in p.name]
    assert read_job(laid[0]).piece.margin_mm == beside.job.piece.margin_mm
    assert session.beside == ()
    QApplication.processEvents()
    assert not looking.window.actions_["lay-beside"].isEnabled()
    looking.window.pages.show_shelf()
    assert session.open_file(path)
    assert session.job.piece.margin_mm == shown


def test_work_older_than_its_file_is_offered_beside_it_never_in_its_place(make_desk: Callable[[], Desk]) -> None:
    desk = make_desk()
    desk.open("laying-knife")
    path = desk.window.session.path
    desk.window.session.go("draft")
    desk.type("piece.margin_mm", "4.5")
    desk.window.window_.close()
    newer = change(read_job(path), "piece.margin_mm", 6.0)
    write_job(newer, path)
    os.utime(path, (1, 1))  # whatever its clock says
    again = make_desk()
    assert next(j for j in again.shelf() if j.path == path).card.job == newer
    session = again.window.session
    session.open_file(path)
    assert session.job == newer
    assert not session.unsaved
    assert session.beside[0].job.piece.margin_mm == 4.5
    again.window.session.go("draft")
    again.type("piece.margin_mm", "6.5")
    assert session.save()
    assert session.autosave.works(path)[0].job.piece.margin_mm == 4.5, "saving takes it away no more than looking"


def test_no_number_of_saves_writes_over_what_changed_elsewhere(desk: Desk) -> None:
    desk.open("laying-knife")
    session, save = desk.window.session, desk.window.actions_["save"]
    path = session.path
    session.go("draft")
    desk.type("piece.margin_mm", "4.5")
    theirs = change(read_job(path), "piece.margin_mm", 6.0)
    write_job(theirs, path)
    for _ in range(3):
        assert not session.save()
        asked = desk.answer("Leave both as they are")
        save.trigger()
        assert "changed elsewhere" in asked[0]
        assert read_job(path) == theirs
    desk.answer("Save this beside it")
    save.trigger()
    assert session.path != path
    assert (read_job(session.path).piece.margin_mm, read_job(path)) == (4.5, theirs)
    session.open_file(path)
    desk.type("piece.margin_mm", "7")
    write_job(change(theirs, "piece.margin_mm", 6.2), path)
    desk.answer("Open that instead")
    save.trigger()
    assert session.job.piece.margin_mm == 6.2
    assert session.beside[0].job.piece.margin_mm == 7
    desk.type("piece.margin_mm", "8")
    write_job(theirs, path)
    desk.answer("Put this in its place")
    save.trigger()
    assert (read_job(path).piece.margin_mm, read_job(Path(f"{path}~"))) == (8, theirs)


def test_however_fast_one_types_no_more_than_a_second_waits_to_be_kept(desk: Desk) -> None:
    """Edits 150 ms apart for two and a half seconds; the least interval of looks is theirs too."""
    desk.open("laying-knife")
    session = desk.window.session
    kept: list[float] = []
    for k in range(17):
        session.do("set margin", lambda j, k=k: change(j, "piece.margin_mm", 5.0 + k / 20))
        QTest.qWait(150)
        works = [w.job.piece.margin_mm for w in session.autosave.works(session.path)]
        kept.append(max(works, default=0.0))
    late = [5.0 + k / 20 - had for k, had in enumerate(kept) if k * 0.15 > 1.0]
    assert max(late) <= (1.0 / 0.15) / 20, "an edit is 0.05 mm, so a second is a third of a mm"


def test_after_the_vow_who_it_is_for_can_be_said_and_dialogs_left_as_they_were_refuse_nothing(desk: Desk) -> None:
    for name in ("spar-knife", "grafting-knife"):
        desk.open(name)
        session = desk.window.session
        before = session.job
        asked = NamesDialog(before, desk.window)
        assert not asked.fields["thing.name"].isEnabled()
        for field, text in (("name", "Another name"), ("maker", "Perrin Oake"), ("whose", "Hazel")):
            asked.fields[field].setText(text)
        asked.is_promised.setChecked(True)
        assert session.do("names", asked.named)
        assert (session.job.name, session.job.maker, session.job.whose) == ("Another name", "Perrin Oake", "Hazel")
        assert session.job.promised is not None
        assert session.job.vowed == before.vowed
        for dialog in (ThreadDialog, LeatherDialog, PieceDialog):
            assert dialog(session.job, desk.window).chosen(session.job) == session.job
        thread = ThreadDialog(session.job, desk.window)
        thread.words["thread.thread.name"].setText("another")
        with pytest.raises(RefusedChange):
            thread.chosen(session.job)


def test_a_step_ticked_before_what_it_needs_is_asked_about(desk: Desk) -> None:
    desk.open("slasher-grip")
    session = desk.window.session
    session.vow()
    session.go("edge")
    slip = desk.window.pages.station.slip
    last = max(k for k, r in enumerate(slip.rows) if r.kind == "step")
    slip.setFocus()
    slip.setCurrentIndex(slip.model().index(last, 0))
    asked = desk.answer("Leave it")
    desk.key(SPACE)
    assert "needed first" in asked[0]
    assert not session.job.work.done
    QTest.qWait(20)  # the question goes, and the window has the hand again
    desk.window.window_.activateWindow()
    slip.setFocus()
    slip.setCurrentIndex(slip.model().index(last, 0))
    desk.answer("Tick it all the same")
    QTest.keyClick(slip, SPACE)
    assert [t.step for t in session.job.work.done] == [slip.rows[last].key]
    session.go("cut")
    slip.setFocus()
    first = next(k for k, r in enumerate(slip.rows) if r.kind == "step")
    slip.setCurrentIndex(slip.model().index(first, 0))
    QTest.keyClick(slip, SPACE)
    assert len(session.job.work.done) == 2, "what needs nothing is ticked without a word"
