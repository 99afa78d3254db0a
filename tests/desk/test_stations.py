"""What is chosen, told and done at the stations."""

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QTransform
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu

from tests.desk.conftest import Desk, grey_of
from tests.jobs import words
from vow_line.core.job import change, value_at
from vow_line.desk.actions import switches
from vow_line.desk.dialogs.sewing import measure_thread


def test_a_field_says_ounces_when_leather_is_read_in_them(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    switches.leather_units(desk.window.session)
    assert desk.field("leather.thickness_mm").text() == "8.1 oz"
    desk.type("leather.thickness_mm", "7-8")
    assert desk.window.session.job.leather.thickness_mm == pytest.approx(7.5 * 25.4 / 64)  # type: ignore[union-attr]


def test_a_choice_is_made_on_the_drawing(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    combo = desk.window.pages.station.board._combos["piece.mouth"]
    combo.setFocus()
    desk.key(Qt.Key.Key_Down)
    assert desk.window.session.job.piece.mouth == "scooped"  # type: ignore[union-attr]
    assert desk.window.session.undo_name == "set mouth"  # type: ignore[union-attr]


def test_a_choice_is_made_from_its_list_by_letter_and_by_mouse(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    choice = desk.window.pages.station.board._combos["piece.mouth"]

    def mouth() -> str:
        assert choice.currentText() == desk.window.session.job.piece.mouth  # type: ignore[union-attr]
        return choice.currentText()

    def listed() -> QMenu:
        shown = QApplication.activePopupWidget()
        assert isinstance(shown, QMenu)
        assert [a.text() for a in shown.actions()] == ["straight", "sloped", "scooped"]
        assert [a.isChecked() for a in shown.actions()] == [a.text() == mouth() for a in shown.actions()]
        return shown

    choice.setFocus()
    for key, then in ((Qt.Key.Key_Escape, "sloped"), (Qt.Key.Key_Up, "straight")):
        desk.key(Qt.Key.Key_Space)
        QTest.keyClick(listed(), key)
        if QApplication.activePopupWidget() is not None:
            QTest.keyClick(listed(), Qt.Key.Key_Return)
        assert mouth() == then
        assert QApplication.activePopupWidget() is None
    choice.setFocus()
    for then in ("sloped", "scooped", "straight", "sloped"):  # all of them begin alike
        desk.key(Qt.Key.Key_S)
        assert mouth() == then
    QTest.mouseClick(choice, Qt.MouseButton.LeftButton)
    at = listed().actionGeometry(listed().actions()[2]).center()
    QTest.mouseClick(listed(), Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
    assert mouth() == "scooped"
    desk.key(Qt.Key.Key_Down)
    assert mouth() == "scooped", "it is the last"


def test_what_a_piece_can_be_is_chosen_on_the_board(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    for path, key, told in (
        ("piece.loop", Qt.Key.Key_End, None), ("piece.worn", Qt.Key.Key_Down, "left"),
        ("piece.formed", Qt.Key.Key_Down, True), ("piece.opened", Qt.Key.Key_Up, True),
    ):  # fmt: skip
        desk.window.pages.station.board._combos[path].setFocus()
        desk.key(key)
        assert value_at(desk.window.session.job, path) == told  # type: ignore[union-attr]
    assert "piece.loop.belt_mm" not in desk.window.pages.station.board.fields
    desk.window.pages.station.board._combos["piece.loop"].setFocus()
    desk.key(Qt.Key.Key_Home)
    assert "piece.loop.belt_mm" in desk.window.pages.station.board.fields


def test_the_prongs_at_hand_decide_the_strikes(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.window.session.do(
        "thin leather", lambda j: change(change(j, "leather.thickness_mm", 1.2), "piece.welt_mm", 1.2)
    )
    desk.station("stitch")
    before = desk.slip()["Strikes, main seam"]
    combo = desk.window.pages.station.board._combos["stitch.teeth"]
    assert combo.currentText() == "6, 2, 1"
    combo.setFocus()
    desk.key(Qt.Key.Key_Down)
    assert desk.window.session.job.stitch.teeth == (8, 4, 2)  # type: ignore[union-attr]
    assert int(desk.slip()["Strikes, main seam"]) < int(before)
    assert combo.currentText() == "8, 4, 2"
    combo.setFocus()
    desk.key(Qt.Key.Key_Down)
    assert combo.currentText() == ", ".join(map(str, desk.window.session.job.stitch.teeth)) != "8, 4, 2"  # type: ignore[union-attr]


def test_tools_of_the_workshop_are_chosen_on_the_drawing(desk: Desk) -> None:
    from vow_line.desk.dialogs.workshop import forget_kept, keep_tool

    desk.open("laying-knife")
    desk.station("stitch")
    combo = desk.window.pages.station.board._combos["stitch"]
    combo.setCurrentIndex(combo.choices.index("irons, no 8"))
    combo.activated.emit(combo.currentIndex())
    stitch = desk.window.session.job.stitch
    assert (stitch.tool_name, stitch.teeth) == ("irons, no 8", (8, 4, 2))
    desk.type("stitch.pitch_mm", "3.5")
    keep_tool(desk.window.session, desk.window, "my irons")
    desk.open("turf-knife")
    desk.station("stitch")
    combo = desk.window.pages.station.board._combos["stitch"]
    assert "my irons" in combo.choices
    combo.setCurrentIndex(combo.choices.index("my irons"))
    combo.activated.emit(combo.currentIndex())
    assert desk.window.session.job.stitch.pitch_mm == 3.5
    forget_kept(desk.window.session, desk.window, "my irons")
    assert desk.window.session.job.stitch.tool_name == "my irons", "the job keeps its own copy"


def test_no_marks_at_all_may_be_asked_for(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("stitch")
    desk.type("stitch.mark_every", "0")
    assert desk.window.session.job.stitch.mark_every == 0  # type: ignore[union-attr]
    assert desk.field("stitch.mark_every").isVisible()
    desk.type("stitch.mark_every", "5")
    assert desk.window.session.job.stitch.mark_every == 5  # type: ignore[union-attr]


def test_strikes_are_stepped_through_with_a_key(desk: Desk) -> None:
    desk.open("spar-knife")
    desk.station("stitch")
    desk.window.pages.station.board.setFocus()
    desk.key(Qt.Key.Key_K)
    scene = desk.window.pages.station.board.scene
    assert any("strike 1 of" in label.says.write(desk.window.session.job.units) for label in scene.labels)
    struck = [m for m in scene.marks if m.meaning == "done"]
    first = desk.window.session.plan.stitching.seam("main-seam").strikes[0]
    assert [len(m.line) for m in struck] == [first.teeth, first.teeth], "on the piece and on the strip"
    desk.key(Qt.Key.Key_K)
    desk.key(Qt.Key.Key_K, Qt.KeyboardModifier.ShiftModifier)
    desk.key(Qt.Key.Key_K, Qt.KeyboardModifier.ShiftModifier)
    last = len(desk.window.session.plan.stitching.seam("main-seam").strikes)
    labels = [label.says.write(desk.window.session.job.units) for label in desk.window.pages.station.board.scene.labels]
    assert any(f"strike {last} of {last}" in label for label in labels)


def test_a_remainder_has_more_than_one_mend(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("stitch")
    rows = desk.window.pages.station.findings.rows
    at = next(k for k, r in enumerate(rows) if "leaves" in r.name)
    assert rows[at].action == "share it between both ends"
    assert rows[at + 1].name == "or another way"
    findings = desk.window.pages.station.findings
    findings.setFocus()
    findings.setCurrentIndex(findings.model().index(at + 1, 0))
    desk.key(Qt.Key.Key_Return)
    assert desk.window.session.job.stitch.remainder == "spread"


def test_a_stitch_is_chosen_at_thread_and_practised_on_scrap(desk: Desk) -> None:
    desk.open("slasher-grip")
    desk.station("thread")
    combo = desk.window.pages.station.board._combos["thread.butt_stitch"]
    before = desk.slip()["Thread, butt seam"]
    combo.setCurrentIndex(combo.choices.index("crosses"))
    combo.activated.emit(combo.currentIndex())
    assert desk.slip()["Thread, butt seam"] != before
    desk.window.pages.practise("whip")
    sew = desk.window.pages.sew
    assert "practising" not in sew.lines()[0]
    assert sew.lines()[0] == "Hole 1 of 12"
    for _ in range(14):
        desk.key(Qt.Key.Key_Space)
    assert sew.lines()[0] == "The whip is sewn."
    desk.key(Qt.Key.Key_Backspace)
    assert sew.lines()[0].startswith("Hole 12")
    desk.key(Qt.Key.Key_Escape)
    assert desk.window.session.station == "thread"
    assert desk.window.session.job.work.sewn == ()


def test_each_seam_may_be_sewn_in_its_own_way(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("thread")
    before = desk.slip()
    combo = desk.window.pages.station.board._combos["thread.of/main-seam/stitch"]
    combo.setCurrentIndex(combo.choices.index("double running"))
    combo.activated.emit(combo.currentIndex())
    after = desk.slip()
    assert after["Of each thread, main seam"]
    assert after["Thread, belt loop"] == before["Thread, belt loop"]
    assert combo.currentText() == "double running"
    desk.window.pages.station.board.setFocus()
    desk.key(Qt.Key.Key_N)
    assert desk.window.pages.station.board._combos["thread.of/belt-loop/stitch"].currentText() == "saddle"
    desk.window.session.undo()
    assert desk.window.session.job.thread.own == ()


def test_thread_measured_while_sewing_says_where_to_join(desk: Desk) -> None:
    desk.open("spar-knife")
    desk.station("sew")
    sew = desk.window.pages.sew
    assert "enough" in sew.lines()[5]
    measure_thread(desk.window.session, desk.window, "main-seam", "40 cm")
    assert sew.lines()[4] == "Thread left 40 cm"
    assert "short of" in sew.lines()[5]
    assert "join at hole" in sew.lines()[5]
    measure_thread(desk.window.session, desk.window, "main-seam", "what")
    assert sew.lines()[4] == "Thread left 40 cm"
    desk.window.session.undo()
    assert "enough" in sew.lines()[5]


def test_the_thread_moves_and_the_pace_is_told(desk: Desk) -> None:
    desk.open("spar-knife")
    desk.station("sew")
    sew = desk.window.pages.sew
    k = sew._enlarged()
    box = QTransform.fromScale(k, k).mapRect(sew._section_box()).toAlignedRect()
    sew._shown_ms = 0
    still = sew.grab(box).toImage()
    sew._shown_ms = 700
    assert sew.grab(box).toImage() != still
    at = box.translated(0, -round(150 * k))
    before = sew.grab(at).toImage()
    desk.key(Qt.Key.Key_Space)
    desk.key(Qt.Key.Key_Space)
    assert sew.grab(at).toImage() != before, "the hole on the piece moves on too"
    clock = iter(range(0, 1000, 6))
    sew._clock = lambda: float(next(clock))
    sew._beats = []
    for _ in range(8):
        desk.key(Qt.Key.Key_Space)
    assert sew.pace() == pytest.approx(3.38 / 2 / 6 * 60, rel=0.2)
    assert "at your pace now" in sew.lines()[6]


def test_the_leather_is_as_large_as_stated(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("layout")
    desk.type("leather.size/long", "12 cm")
    assert desk.field("leather.size/long").text() == "120 mm"
    assert any("finds no place left" in f for f in desk.findings())
    desk.type("leather.size/long", "2 mm")
    assert "20 mm to 5000 mm" in desk.field("leather.size/long").wrong.text()


def test_stations_are_added_and_taken_away_from_the_menu(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("measure")
    desk.window.actions_["add-station"].trigger()
    job = desk.window.session.job  # type: ignore[union-attr]
    assert len(job.thing.stations) == 8
    assert any("has not been measured" in f for f in desk.findings())
    new = next(k for k, s in enumerate(job.thing.stations) if not s.width.taken)
    desk.field(f"thing.stations.{new}.width.first").setFocus()
    desk.window.actions_["remove-station"].trigger()
    assert len(desk.window.session.job.thing.stations) == 7  # type: ignore[union-attr]


def test_a_step_of_the_seams_shows_each_in_turn(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("thread")
    board = desk.window.pages.station.board
    board.setFocus()
    first = desk.picture(board)
    desk.key(Qt.Key.Key_N)
    second = desk.picture(board)
    assert first != second
    desk.key(Qt.Key.Key_N)
    assert desk.picture(board) == first


def test_a_long_reckoning_unfolds(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    slip = desk.window.pages.station.slip
    long = next(k for k, r in enumerate(slip.rows) if r.more)
    slip.setFocus()
    slip.setCurrentIndex(slip.model().index(long, 0))
    folded = slip.visualRect(slip.model().index(long, 0)).height()
    desk.key(Qt.Key.Key_Return)
    QTest.qWait(20)
    assert slip.visualRect(slip.model().index(long, 0)).height() > folded


def test_sewing_is_read_from_across_the_room(desk: Desk) -> None:
    desk.open("spar-knife")
    sew = desk.window.pages.sew
    grey = grey_of(desk.picture(sew))
    ground = np.median(grey[:40])
    prompt = np.abs(grey[62:250, 40 : sew.width() // 2].astype(int) - int(ground)) > 90
    rows = np.flatnonzero(prompt.any(axis=1))
    assert rows[-1] - rows[0] > 120, "two lines of 76 px type"
    lines = sew.lines()
    assert "needle" in lines[1]
    assert "Thread left" in lines[4]
    assert "to the end" in lines[6]
    assert " ".join(lines) in sew.accessibleDescription()


def test_a_thread_too_short_is_said_in_words_not_only_in_colour(desk: Desk) -> None:
    from vow_line.core.work.prompts import prompts, thread_says

    job = desk.places
    assert job
    desk.open("spar-knife")
    sewn = desk.window.session.plan.threading.seam("main-seam")  # type: ignore[union-attr]
    told = prompts(sewn, desk.window.session.job.thread)
    assert all(thread_says(told, k).write(desk.window.session.job.units).endswith("enough") for k in range(len(told)))  # type: ignore[union-attr]


def test_the_shelf_tells_each_job_in_words(desk: Desk) -> None:
    spoken = [j.spoken() for j in desk.shelf()]
    assert spoken[1].startswith("Hedging knife, for Perrin Oake. Width 2 3/16 in from the guard has not been measured.")
    assert "36 passes made" in spoken[2]
    assert "done, and recorded" in spoken[3]


def test_naming_a_job(desk: Desk) -> None:
    from vow_line.desk.dialogs.names import NamesDialog

    desk.open("laying-knife")
    naming = NamesDialog(desk.window.session.job, desk.window)  # type: ignore[union-attr]
    naming.fields["name"].setText("Long laying knife")
    desk.window.session.do("name the job", naming.named)
    assert desk.window.session.job.name == "Long laying knife"  # type: ignore[union-attr]
    promised = desk.window.session.job.promised
    naming.is_promised.setChecked(False)
    desk.window.session.do("name the job", naming.named)
    assert promised is not None
    assert desk.window.session.job.promised is None
    unpromised = NamesDialog(desk.window.session.job, desk.window)
    unpromised.fields["name"].setText("Long laying knife 2")
    desk.window.session.do("name the job", unpromised.named)
    assert desk.window.session.job.promised is None, "naming a job promises nothing"
    unpromised.deleteLater()
    naming.fields["name"].setText("  ")
    assert not desk.window.session.do("name the job", naming.named)
    assert "must not be empty" in desk.window.notice.text()
    naming.deleteLater()


def test_a_change_refused_after_the_vow_says_what_to_do(desk: Desk) -> None:
    desk.open("spar-knife")
    assert not desk.window.session.do("set margin", lambda j: change(j, "piece.margin_mm", 5.0))
    assert "Break the vow" in desk.window.notice.text()


def test_a_lesser_seam_may_have_its_holes_from_a_tool_of_its_own(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("stitch")
    board = desk.window.pages.station.board
    assert "stitch.start_in_mm" in board.fields
    board.setFocus()
    desk.key(Qt.Key.Key_N)
    assert "stitch.start_in_mm" not in board.fields, "a box has no ends to set"
    combo = board._combos["stitch.of/belt-loop/tool"]
    assert combo.currentText() == "as the main seam"
    combo.setCurrentIndex(combo.choices.index("drill 1.5 mm"))
    combo.activated.emit(combo.currentIndex())
    stitching = desk.window.session.plan.stitching
    assert (stitching.seam("belt-loop").hole_mm, stitching.seam("main-seam").hole_mm) == (1.5, 1.2)
    assert desk.window.session.job.stitch.own[0].tool.name == "drill 1.5 mm"
    assert "stitch.pitch_mm" not in board.fields, "the others' pitch is theirs"
    combo.setCurrentIndex(0)
    combo.activated.emit(0)
    assert desk.window.session.job.stitch.own == ()


def test_the_vow_tells_in_one_line_what_was_put_together_and_unfolds(desk: Desk) -> None:
    desk.open("spar-knife")
    desk.window.session.go("vow")
    reading = desk.window.pages.vow.reading
    checked = desk.window.session.plan.checked  # type: ignore[union-attr]
    k, row = next((k, r) for k, r in enumerate(reading.rows) if r.name.startswith("put together"))
    assert row.name == f"put together and checked: {len(checked)} things"
    assert len(row.more) == len(checked) > 10
    for told, one in zip(row.more, checked, strict=True):
        assert told.startswith(f"{words(one.title)}: ")
        assert any(c.isdigit() for c in told), "each with its number"
    reading.setFocus()
    reading.setCurrentIndex(reading.model().index(k, 0))
    folded = reading.visualRect(reading.model().index(k, 0)).height()
    desk.key(Qt.Key.Key_Return)
    QTest.qWait(20)
    assert reading.visualRect(reading.model().index(k, 0)).height() > folded + 10 * len(checked)
