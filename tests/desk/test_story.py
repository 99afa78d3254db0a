"""The whole story, driven by clicks and keys on the real window."""

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import QObject, QPoint, Qt, QUrl, Slot
from PySide6.QtGui import QDesktopServices
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from tests.desk.conftest import Desk
from vow_line.core import plan as planning
from vow_line.core.draft.kinds import KINDS
from vow_line.core.measure import THINGS
from vow_line.core.plan import plan
from vow_line.core.texts import heading
from vow_line.desk.dialogs.exporting import ExportDialog
from vow_line.desk.line import LINE
from vow_line.desk.pages.begin import PictureButton
from vow_line.files.job_json import read_job

CTRL, ALT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.AltModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier


class _Folders(QObject):
    """Stands for the desktop's file manager: keeps what it was asked to open."""

    def __init__(self, opened: list[str]) -> None:
        super().__init__()
        self.opened = opened

    @Slot(QUrl)
    def open(self, url: QUrl) -> None:
        self.opened.append(url.toLocalFile())


def test_the_shelf_is_sorted_by_what_is_promised_and_found_in_by_typing(desk: Desk) -> None:
    shelf = desk.window.pages.shelf
    desk.shelf()

    def seen() -> list[str]:
        rows = [shelf.seen.index(k, 0).data(Qt.ItemDataRole.UserRole) for k in range(shelf.seen.rowCount())]
        return [r.card.job.name for r in rows]

    promised = [shelf.seen.index(k, 0).data(Qt.ItemDataRole.UserRole).card.job for k in range(shelf.seen.rowCount())]
    days = [j.promised for j in promised if not j.record.closed]
    assert days == sorted(days)
    assert seen()[-1] == "Grafting knife", "what is done comes last"
    assert shelf.list.currentIndex().row() == shelf.list.verticalScrollBar().value() == 0, (
        "what comes first is in sight"
    )
    shelf.list.setFocus()
    desk.write("wren cuff")
    assert seen() == ["Thorn cuff"]
    desk.key(Qt.Key.Key_Escape)
    assert len(seen()) == len(promised)
    assert shelf.list.hasFocus()
    desk.write("zzz")
    assert seen() == []


def _ink(desk: Desk) -> np.ndarray:
    image = desk.picture(desk.window.pages.station.board)
    return np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), -1).copy()


@pytest.mark.real_window
def test_from_the_shelf_to_a_recorded_sheath(desk: Desk, tmp_path: Path) -> None:
    window = desk.window
    assert {"Laying knife", "Hedging knife", "Spar knife", "Grafting knife"} <= {
        j.card.job.name for j in desk.shelf() if j.card
    }
    window.pages.shelf.list.setFocus()
    desk.write("lay")  # what is typed finds it
    assert window.pages.shelf.seen.rowCount() == 1
    desk.key(Qt.Key.Key_Return)
    assert window.name.text() == "Laying knife"
    assert window.session.station == "draft"

    # a reading is changed on the drawing, in either unit, and everything that follows moves at once
    desk.station("measure")
    before = window.session.plan  # type: ignore[union-attr]
    desk.type("thing.stations.0.width.first", "1 3/16 in")
    assert "33.8 mm the other time" in desk.field("thing.stations.0.width.first").wrong.text()
    desk.key(Qt.Key.Key_Return)  # it is so
    assert desk.field("thing.stations.0.width.first").text() == "30.2 mm"
    desk.type("thing.stations.0.width.second", "30.2mm")
    after = window.session.plan  # type: ignore[union-attr]
    assert before.draft is not None
    assert after.draft is not None
    assert after.draft.pieces[0].area_mm2 < before.draft.pieces[0].area_mm2

    # the missing second reading is asked for, and taken
    window.pages.station.findings.setFocus()
    assert desk.findings() == ["Thickness 60 mm from the guard was read once."]
    desk.key(Qt.Key.Key_Return)
    assert desk.focused() is desk.field("thing.stations.2.thick.second")
    QTest.keyClicks(desk.field("thing.stations.2.thick.second"), "3,4")
    desk.key(Qt.Key.Key_Return)
    assert desk.findings() == []

    # drawn out, it is tight: the mend opens the pocket
    desk.station("draft")
    assert "does not come out" in desk.findings()[0]
    still = _ink(desk)
    window.pages.station.slider.setFocus()
    for _ in range(4):
        desk.key(Qt.Key.Key_PageUp)
    assert window.pages.station.drawn.text() == f"{window.pages.station.slider.value()} mm out" != "0 mm out"
    assert (_ink(desk) != still).sum() > 500, "the blade has moved on the board"
    row = window.pages.station.findings.visualRect(window.pages.station.findings.model().index(0, 0))
    desk.click(window.pages.station.findings.viewport(), QPoint(row.right() - 30, row.top() + 18))
    assert not any("come out" in f for f in desk.findings())

    # read back, vowed
    desk.station("vow")
    assert window.pages.vow.vow_button.isEnabled()
    desk.click(window.pages.vow.vow_button)
    assert window.state.text().startswith("revision 1, vowed 6 January")

    # the plan is closed now; the leather is real
    desk.station("draft")
    assert desk.field("piece.margin_mm").isReadOnly()
    desk.station("cut")
    rows = window.pages.station.slip
    rows.setFocus()
    for k, row_ in enumerate(rows.rows):
        if row_.ticked is not None:
            rows.setCurrentIndex(rows.model().index(k, 0))
            desk.key(Qt.Key.Key_Space)
    assert all(r.ticked for r in rows.rows if r.kind == "step")
    desk.station("edge")
    rows.setFocus()
    for k, row_ in enumerate(rows.rows):
        first = window.session.plan.work.before(row_.key) if row_.kind == "step" else ()  # type: ignore[union-attr]
        if row_.kind == "step" and all(window.session.job.work.is_done(s.id) for s in first):  # type: ignore[union-attr]
            rows.setCurrentIndex(rows.model().index(k, 0))
            desk.key(Qt.Key.Key_Space)

    # sewing, from across the room: holes, loop, glue, holes, main seam
    desk.station("sew")
    assert window.pages.sew.lines()[1] == "Make the holes of the belt loop"
    desk.key(Qt.Key.Key_Space)
    assert window.pages.sew.lines()[0] == "Hole 1 of 32"
    for _ in range(400):
        if window.pages.sew.seam == "main-seam" and window.pages.sew.lines()[0].startswith("Hole"):
            break
        desk.key(Qt.Key.Key_Space)
    for _ in range(20):
        desk.key(Qt.Key.Key_Space)
    hole = window.pages.sew.lines()[0]
    desk.key(Qt.Key.Key_Backspace)
    desk.key(Qt.Key.Key_Right)
    assert window.pages.sew.lines()[0] == hole
    for _ in range(200):
        if "is sewn" in window.pages.sew.lines()[0]:
            break
        desk.key(Qt.Key.Key_PageDown)
    assert window.session.job.work.is_done("sew/main-seam")  # type: ignore[union-attr]

    # the rest of the edges
    desk.station("edge")
    rows.setFocus()
    for k, row_ in enumerate(rows.rows):
        if row_.kind == "step" and not row_.ticked:
            rows.setCurrentIndex(rows.model().index(k, 0))
            desk.key(Qt.Key.Key_Space)

    # what was left is written down, and the next job begins wiser
    desk.station("record")
    sewn = window.session.plan.threading.seam("main-seam")  # type: ignore[union-attr]
    left = sewn.total_mm - 1.08 * sewn.path_mm
    desk.type("record.left/main-seam", f"{left:.0f} mm")
    assert "Slack this job teaches" in desk.slip()
    window.actions_["close-record"].trigger()
    assert "the next job begins with it" in window.notice.text()
    desk.key(Qt.Key.Key_S, CTRL)
    assert read_job(window.session.path).record.closed  # type: ignore[arg-type]
    window.actions_["next-like"].trigger()
    assert window.session.job.name == "Laying knife, next"  # type: ignore[union-attr]
    assert window.session.job.thread.slack.value == pytest.approx((1.03 * 1.08) ** 0.5 - 1, abs=0.002)  # type: ignore[union-attr]
    assert window.session.job.vowed is None  # type: ignore[union-attr]


def test_a_hold_is_accepted_in_writing_before_the_vow(desk: Desk) -> None:
    desk.open("hedging-knife")
    desk.station("vow")
    page = desk.window.pages.vow
    assert not page.vow_button.isEnabled()
    page.findings.setFocus()
    page.reason.setFocus()
    QTest.keyClicks(page.reason, "the blade is away; its twin was measured")
    desk.key(Qt.Key.Key_Return)
    assert page.findings.rows[0].accepted
    desk.click(page.vow_button)
    assert desk.window.session.job.vowed.accepted[0].reason.startswith("the blade is away")  # type: ignore[union-attr]


def test_a_broken_vow_lays_the_new_pattern_over_what_is_cut(desk: Desk) -> None:
    desk.open("spar-knife")
    desk.station("vow")
    page = desk.window.pages.vow
    desk.answer("Break the vow")
    desk.click(page.vow_button)
    assert desk.window.state.text().startswith("not vowed")
    desk.station("stitch")
    desk.type("piece.margin_mm", "6")
    desk.station("cut")
    assert any("sheath already cut cannot be used" in f and "too small. Cut it again" in f for f in desk.findings())
    desk.station("stitch")
    desk.type("piece.margin_mm", "2.6")
    desk.station("cut")
    assert any("can be trimmed" in f for f in desk.findings())


def test_a_guard_is_measured_like_everything_else(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("measure")
    desk.window.actions_["guard"].trigger()
    assert any("guard has not been measured" in f for f in desk.findings())
    for part, value in (("width", "40"), ("thick", "12")):
        for turn in ("first", "second"):
            desk.type(f"thing.guard.{part}.{turn}", value)
    assert not any("of the guard" in f for f in desk.findings())


def test_closed_without_saving_or_killed_nothing_is_lost(make_desk: Callable[[], Desk]) -> None:
    desk = make_desk()
    desk.open("laying-knife")
    desk.station("draft")
    desk.type("piece.margin_mm", "4.5")
    path = desk.window.session.path
    assert path is not None
    QTest.qWait(400)  # the autosave's own delay, after which the current may fail
    desk.window.session.autosave.let_go()  # what a program that is gone held
    again = make_desk()
    assert again.window.session.open_file(path)
    assert again.window.session.job.piece.margin_mm == 4.5  # type: ignore[union-attr]
    assert "kept, and is here again" in again.window.notice.text()
    assert read_job(path).piece.margin_mm == 3.5  # type: ignore[attr-defined]
    QApplication.processEvents()
    again.window.actions_["undo"].trigger()
    assert again.window.session.job == read_job(path)  # type: ignore[union-attr]
    again.station("draft")
    again.type("piece.margin_mm", "4")
    again.window.window_.close()
    third = make_desk()
    third.window.session.open_file(path)
    assert third.window.session.job.piece.margin_mm == 4  # type: ignore[union-attr]


def test_two_windows_on_one_job_keep_their_unsaved_work_apart(make_desk: Callable[[], Desk]) -> None:
    one, other = make_desk(), make_desk()
    one.open("laying-knife")
    path = one.window.session.path
    assert path is not None
    assert other.window.session.open_file(path)
    assert "another window" in other.window.notice.text()
    for desk, margin in ((one, "4.5"), (other, "5.5")):
        desk.window.session.go("draft")
        desk.type("piece.margin_mm", margin)
    QTest.qWait(400)
    assert other.window.session.save(), "whoever saves first"
    assert not one.window.session.save(), "does not lose it to the other in silence"
    assert "changed elsewhere" in one.window.notice.text()
    for desk in (one, other):
        desk.window.session.put_away()
    third = make_desk()
    assert third.window.session.open_file(path)
    assert third.window.session.job == read_job(path)
    assert read_job(path).piece.margin_mm == 5.5  # type: ignore[attr-defined]
    assert third.window.session.beside[0].job.piece.margin_mm == 4.5, "what was not saved in one is there beside it"


def test_sewing_comes_back_at_the_same_hole(make_desk: Callable[[], Desk]) -> None:
    desk = make_desk()
    desk.open("spar-knife")
    assert desk.window.session.station == "sew"
    desk.key(Qt.Key.Key_Space)
    hole = desk.window.pages.sew.lines()
    desk.window.window_.close()
    again = make_desk()
    again.open("spar-knife")
    assert again.window.pages.sew.lines() == hole


def test_every_edit_is_undone_to_the_identical_job(desk: Desk) -> None:
    desk.open("laying-knife")
    store = desk.window.session
    start = store.job
    desk.station("draft")
    desk.type("piece.welt_mm", "8 oz")
    desk.type("piece.edge_to_thread_mm", "1/4 in")
    desk.key(Qt.Key.Key_U, CTRL)
    assert desk.field("piece.margin_mm").text() == "1/8 in"
    desk.station("stitch")
    desk.type("stitch.pitch_mm", "no 8 french")
    seen = [store.job]
    while store.undo_name:
        desk.window.session.undo()
        seen.append(store.job)
    assert store.job == start
    for job in reversed(seen[:-1]):
        desk.window.session.redo()
        assert store.job == job
    assert plan(store.job) is not None


def test_what_cannot_be_read_is_said_at_the_value_and_stays_to_be_mended(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    job = desk.window.session.job  # type: ignore[union-attr]
    field = desk.field("piece.margin_mm")
    for text, says in (
        ("three", "Cannot read 'three'"),
        ("-2", "too small"),
        ("900", "60 is the most"),
        ("4 oz", "'oz'"),
    ):
        desk.type("piece.margin_mm", text)
        assert field.wrong.isVisible()
        assert says in field.wrong.text()
        assert field.text() == text
    assert desk.window.session.job == job  # type: ignore[union-attr]
    desk.key(Qt.Key.Key_Escape)
    assert field.text() == "3.5 mm"
    assert not field.wrong.isVisible()


def test_pointing_lights_up_the_sum_and_the_part(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    bench = desk.window.pages.station
    welt = next(r for r in bench.slip.rows if r.name == "Welt, wide")
    row = next(k for k, r in enumerate(bench.slip.rows) if r is welt)
    dull = desk.picture(bench.board)
    QTest.mouseMove(bench.slip.viewport(), bench.slip.visualRect(bench.slip.model().index(row, 0)).center())
    QApplication.processEvents()
    assert bench.board.lit == {"welt"}
    assert desk.picture(bench.board) != dull
    fold = bench.board.transform().map(QPoint(0, 60))
    QTest.mouseMove(bench.board, fold)
    QApplication.processEvents()
    assert "fold" in bench.slip.lit or "sheath" in bench.slip.lit


def test_the_section_follows_the_pointer_and_the_keys(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    bench = desk.window.pages.station
    QTest.mouseMove(bench.board, bench.board.transform().map(QPoint(-20, 100)))
    QApplication.processEvents()
    assert bench.view.section_at_mm == pytest.approx(100, abs=1)
    bench.board.setFocus()
    desk.key(Qt.Key.Key_BracketLeft)
    assert bench.view.section_at_mm == pytest.approx(95, abs=1)
    assert "94.9 mm" in bench.board.scene.inset.title.write(bench.board.units)  # type: ignore[union-attr]


def test_export_runs_beside_and_says_what_it_wrote(desk: Desk, tmp_path: Path, qtbot: QtBot) -> None:
    desk.open("spar-knife")
    desk.key(Qt.Key.Key_E, CTRL | SHIFT)
    dialog = desk.window.window_.findChild(ExportDialog)
    assert dialog is not None
    dialog.into(tmp_path / "out")
    desk.click(dialog.ticks[".dxf"], QPoint(8, 12))
    desk.click(dialog.write_button)
    qtbot.waitUntil(lambda: dialog.task is None, timeout=20_000)
    assert "written into" in dialog.says.text()
    assert {p.suffix for p in (tmp_path / "out").iterdir()} == {".pdf", ".svg", ".csv", ".ics"}
    opened: list[str] = []
    handler = _Folders(opened)
    QDesktopServices.setUrlHandler("file", handler, "open")  # type: ignore[call-overload]
    desk.click(dialog.open_button)
    QDesktopServices.unsetUrlHandler("file")
    assert opened == [str(tmp_path / "out")]
    (tmp_path / "file").write_text("in the way")
    dialog.into(tmp_path / "file")
    desk.click(dialog.write_button)
    qtbot.waitUntil(lambda: dialog.task is None, timeout=20_000)
    assert "could not be written" in dialog.says.text()
    assert dialog.says.property("wrong")
    dialog.reject()


def test_a_damaged_file_is_said_on_the_shelf_and_when_fetched(desk: Desk, tmp_path: Path) -> None:
    bad = tmp_path / "bad.vow.json"
    bad.write_text('{"format": 1, "name"')
    desk.window.session.workshop.remember(bad)
    desk.window.pages.show_shelf()
    QTest.qWait(50)
    assert "not JSON" in desk.shelf()[0].wrong
    assert not desk.window.session.open_file(bad)
    assert "not JSON" in desk.window.notice.text()
    assert desk.window.pages.currentWidget() is desk.window.pages.shelf


def test_a_slip_is_written_down_where_it_happened_and_read_at_the_record(desk: Desk) -> None:
    desk.open("spar-knife")
    desk.station("cut")
    note = desk.window.pages.station.note
    assert note.isVisible()
    desk.click(note)
    QTest.keyClicks(note, "nicked the mouth; trimmed")
    desk.key(Qt.Key.Key_Return)
    assert note.text() == ""
    desk.station("record")
    assert any(r.name == "Cut" and "nicked the mouth" in r.detail for r in desk.window.pages.station.slip.rows)
    desk.station("draft")
    assert not note.isVisible()


def test_a_job_is_taken_off_the_shelf_and_its_file_stays(desk: Desk) -> None:
    desk.window.pages.shelf.list.setFocus()
    desk.key(Qt.Key.Key_Down)
    path = desk.window.pages.shelf.current.path
    desk.key(Qt.Key.Key_Backspace, CTRL)
    assert path not in [j.path for j in desk.window.pages.shelf.jobs]
    assert path.exists()
    assert str(path) in desk.window.notice.text()


def test_a_new_knife_asks_for_its_readings(desk: Desk) -> None:
    desk.click(desk.window.pages.shelf.findChild(type(desk.window.pages.vow.vow_button), "begin"))  # type: ignore[arg-type]
    desk.key(Qt.Key.Key_Return)  # a knife
    desk.key(Qt.Key.Key_Return)  # on the belt, folded
    assert desk.window.session.station == "measure"
    assert any("has not been measured" in f for f in desk.findings())
    for k, (wide, thick) in enumerate(((28, 3), (29, 3), (28, 2.8), (22, 2.5))):
        for part, value in (("width", wide), ("thick", thick)):
            for turn in ("first", "second"):
                desk.type(f"thing.stations.{k}.{part}.{turn}", str(value))
    for k in (0, 1):
        for part, value in (("width", 28), ("thick", 20)):
            for turn in ("first", "second"):
                desk.type(f"thing.handle.{k}.{part}.{turn}", str(value))
    for turn in ("first", "second"):
        desk.type(f"thing.length.{turn}", "118")
        desk.type(f"thing.handle_length.{turn}", "11 cm")
    desk.station("measure")
    assert desk.findings() == []
    desk.station("draft")
    assert desk.window.session.plan.draft is not None  # type: ignore[union-attr]
    assert "Thread, main seam" in desk.slip()


def test_every_kind_is_begun_from_its_drawing(desk: Desk) -> None:
    page = desk.window.pages.begin
    begun = set()
    for thing in THINGS:
        for k in range(sum(issubclass(thing.gives, kind.fits) for kind in KINDS)):
            desk.window.pages.ask_to_begin()
            desk.click(next(c for c in page._things.findChildren(PictureButton) if c.name == heading(thing.says)))
            desk.click(page._kinds.findChildren(PictureButton)[k])
            job = desk.window.session.job
            assert isinstance(job.thing, thing)
            assert any("has not been measured" in f for f in desk.findings())
            begun.add(type(job.piece))
    assert begun == set(KINDS)


def test_a_measured_thing_is_carried_in_another_way(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.key(Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    card = next(
        c for c in desk.window.pages.begin._kinds.findChildren(PictureButton) if c.name == "Sheath in two parts"
    )
    card.setFocus()
    desk.key(Qt.Key.Key_Return)
    assert desk.window.session.job.piece.kind == "two_part_sheath"
    assert desk.window.session.station == "draft"
    desk.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert desk.window.session.job.piece.kind == "folded_sheath"


@pytest.mark.parametrize("name", ["slasher-grip", "key-fob", "billhook-cover", "secateurs-holster", "whetstone-case"])
def test_every_station_of_every_kind_is_shown(desk: Desk, name: str) -> None:
    desk.open(name)
    for station, _ in LINE:
        desk.window.session.go(station)
        assert desk.picture(desk.window).width() > 0
        if station in ("measure", "draft", "stitch", "thread", "layout"):
            assert not desk.window.pages.station.board.scene.waits
            assert desk.window.pages.station.board.fields


def test_a_stage_that_fails_is_said_and_written_down_once(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    def fail(*_: object) -> None:
        raise ZeroDivisionError("nobody thought of this")

    monkeypatch.setattr(planning, "_laid_out", fail)
    desk.open("spar-knife")
    desk.station("layout")
    assert any("This stage failed" in told for told in desk.findings())
    desk.station("stitch")
    desk.type("stitch.pitch_mm", "4.2")
    assert desk.field("stitch.pitch_mm").text(), "the rest goes on"
    desk.station("layout")
    desk.picture()
    QTest.qWait(60)
    log = (desk.places.state / "faults.log").read_text()
    assert log.count("ZeroDivisionError: nobody thought of this") == 1
    assert "knife, folded_sheath, layout" in log
    assert "in fail" in log
    assert desk.window.session.job.name not in log
