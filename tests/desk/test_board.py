"""What is on the boards: nothing cut off, nothing upon another, the same whatever the unit, ink or size."""

from itertools import combinations

import numpy as np
import pytest
import shapely
from PySide6.QtCore import QEvent, QPoint, QPointF, QRect, Qt, QThreadPool
from PySide6.QtGui import QFontMetrics, QImage, QMouseEvent, QTransform
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QWidget
from pytestqt.qtbot import QtBot

from tests.desk.conftest import Desk
from vow_line.core.job import change, value_at
from vow_line.desk import switches
from vow_line.desk.asking import measure_thread, practise
from vow_line.desk.ink import DAY, EVENING, INKS
from vow_line.desk.line import LINE
from vow_line.desk.stations import BENCHES

OTHERS = ("slasher-grip", "key-fob", "billhook-cover", "secateurs-holster", "whetstone-case")
BOARDS = [station for station, _ in LINE if station in BENCHES]


def _values(desk: Desk) -> list[QWidget]:
    board = desk.window.bench.board
    return [w for w in (*board._fields.values(), *board._combos.values()) if w.isVisible()]


def _say(widget: QWidget) -> str:
    return f"{widget.accessibleName()} at {widget.geometry().getRect()}"


@pytest.mark.parametrize("size", [(1280, 800), (1920, 1080)])
@pytest.mark.parametrize("job", ["laying-knife", "hedging-knife", "spar-knife", "grafting-knife", *OTHERS])
def test_no_value_is_cut_off_or_lies_on_another(desk: Desk, job: str, size: tuple[int, int]) -> None:
    desk.window.frame.resize(*size)
    desk.open(job)
    for _ in range(2):
        for station in BOARDS:
            desk.window.go(station)
            QApplication.processEvents()
            board = desk.window.bench.board
            for widget in _values(desk):
                assert board.rect().adjusted(2, 2, -2, -2).contains(widget.geometry()), (station, _say(widget))
            for a, b in combinations(_values(desk), 2):
                shared = a.geometry().adjusted(4, 4, -4, -4) & b.geometry().adjusted(4, 4, -4, -4)
                assert shared.isEmpty(), (station, _say(a), _say(b))
        switches.units(desk.window)


@pytest.mark.parametrize("job", ["laying-knife", "spar-knife", "grafting-knife"])
def test_words_on_the_drawing_keep_clear_of_its_values_and_its_border(desk: Desk, job: str) -> None:
    desk.open(job)
    for station in BOARDS:
        desk.window.go(station)
        QApplication.processEvents()
        board = desk.window.bench.board
        for box, _, text in board.words:
            words = box.toRect().adjusted(1, 4, -1, -4)
            assert board.rect().contains(words), (station, text)
            for widget in _values(desk):
                assert (words & widget.geometry().adjusted(2, 4, -2, -4)).isEmpty(), (station, text, _say(widget))


@pytest.mark.parametrize("station", BOARDS)
def test_the_names_of_values_do_not_run_into_other_values(desk: Desk, station: str) -> None:
    desk.open("laying-knife")
    desk.window.go(station)
    QApplication.processEvents()
    board = desk.window.bench.board
    for box, name, _ in board._names:
        words = QRect(int(box.left()), int(box.top()) + 3, int(min(box.width(), 8 * len(name))), int(box.height()) - 6)
        for widget in _values(desk):
            assert (words & widget.geometry().adjusted(3, 5, -3, -5)).isEmpty(), (station, name, _say(widget))


def _grey(image: QImage) -> np.ndarray:
    grey = image.convertToFormat(QImage.Format.Format_Grayscale8)
    return (
        np.frombuffer(grey.constBits(), np.uint8).reshape(grey.height(), grey.bytesPerLine())[:, : grey.width()].copy()
    )


@pytest.mark.parametrize("ink", [DAY, EVENING], ids=lambda i: i.name)
@pytest.mark.parametrize("station", BOARDS)
def test_every_board_is_drawn_in_both_inks(desk: Desk, station: str, ink: object) -> None:
    desk.open("spar-knife")
    if ink is EVENING:
        switches.ink(desk.window)
    assert desk.window.ink is INKS[desk.window.ink.name]
    desk.window.go(station)
    QApplication.processEvents()
    grey = _grey(desk.picture(desk.window.bench.board))
    middle = grey[60:-60, 160:-260]
    assert len(np.unique(middle)) > 8
    assert (middle != np.median(middle)).mean() > 0.01, "there is something on the board"


def test_the_wheel_zooms_at_the_pointer_and_dragging_pans(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    board = desk.window.bench.board
    place = QPointF(20, 60)
    before = board.transform().map(place)
    board.zoom(2.0, before)
    after = board.transform().map(place)
    assert (after - before).manhattanLength() < 1e-6
    start, end = QPoint(300, 300), QPoint(340, 320)
    QTest.mousePress(board, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    QTest.mouseMove(board, end)
    QTest.mouseRelease(board, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, end)
    desk.key(Qt.Key.Key_F)
    assert (board.transform().map(place) - before).manhattanLength() < 1e-6, "F fits the drawing again"


def test_the_ruler_keeps_to_the_unit(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    millimetres = desk.picture(desk.window.bench.board)
    desk.key(Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
    assert desk.field("piece.edge_to_thread_mm").text() == "3/16 in"
    assert desk.picture(desk.window.bench.board) != millimetres


@pytest.mark.parametrize(
    "job", ["laying-knife", "hedging-knife", "grafting-knife", "slasher-grip", "secateurs-holster"]
)
def test_no_leader_crosses_another(desk: Desk, job: str) -> None:
    desk.open(job)
    desk.station("measure")
    board = desk.window.bench.board
    leaders = [shapely.LineString([p.toTuple() for p in points]) for points, _ in board.drawn_leaders()]
    assert len(leaders) > 3
    for one, other in combinations(leaders, 2):
        assert not one.crosses(other), (one.wkt, other.wkt)
    values = [shapely.box(*w.geometry().adjusted(1, 1, -1, -1).getCoords()) for w in _values(desk)]
    assert not any(leader.intersects(value) for leader in leaders for value in values)


def test_the_ruler_names_its_unit_once_wherever_it_begins(desk: Desk) -> None:
    desk.open("slasher-grip")
    board = desk.window.bench.board
    for station, key in (("measure", ""), ("draft", "U"), ("draft", "")):
        desk.station(station)
        if key:
            desk.key(Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
        for by in (0, 12, 30):
            board.setFocus()
            for _ in range(by):
                desk.key(Qt.Key.Key_Right)
            numbers = [number for _, number in board.ruled() if number is not None]
            assert len(numbers) > 2
            assert [n.split()[-1] for n in numbers if " " in n] == [board.units.length]
            x, number = next((x, n) for x, n in board.ruled() if n is not None and " " in n)
            mm = float(number.split()[0].replace("\u2212", "-")) * (1.0 if board.units.length == "mm" else 25.4)
            assert board.transform().map(QPointF(mm, 0)).x() == pytest.approx(x)


def test_a_field_says_ounces_when_leather_is_read_in_them(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    switches.leather_units(desk.window)
    assert desk.field("leather.thickness_mm").text() == "8.1 oz"
    desk.type("leather.thickness_mm", "7-8")
    assert desk.window.store.job.leather.thickness_mm == pytest.approx(7.5 * 25.4 / 64)  # type: ignore[union-attr]


def test_a_choice_is_made_on_the_drawing(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    combo = desk.window.bench.board._combos["piece.mouth"]
    combo.setFocus()
    desk.key(Qt.Key.Key_Down)
    assert desk.window.store.job.piece.mouth == "scooped"  # type: ignore[union-attr]
    assert desk.window.store.undo_name == "set mouth"  # type: ignore[union-attr]


def test_what_a_piece_can_be_is_chosen_on_the_board(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    for path, key, told in (
        ("piece.loop", Qt.Key.Key_End, None), ("piece.worn", Qt.Key.Key_Down, "left"),
        ("piece.formed", Qt.Key.Key_Down, True), ("piece.opened", Qt.Key.Key_Up, True),
    ):  # fmt: skip
        desk.window.bench.board._combos[path].setFocus()
        desk.key(key)
        assert value_at(desk.window.store.job, path) == told  # type: ignore[union-attr]
    assert "piece.loop.belt_mm" not in desk.window.bench.board.fields
    desk.window.bench.board._combos["piece.loop"].setFocus()
    desk.key(Qt.Key.Key_Home)
    assert "piece.loop.belt_mm" in desk.window.bench.board.fields


def test_the_prongs_at_hand_decide_the_strikes(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.window.do("thin leather", lambda j: change(change(j, "leather.thickness_mm", 1.2), "piece.welt_mm", 1.2))
    desk.station("stitch")
    before = desk.slip()["Strikes, main seam"]
    combo = desk.window.bench.board._combos["stitch.teeth"]
    assert combo.currentText() == "6, 2, 1"
    combo.setFocus()
    desk.key(Qt.Key.Key_Down)
    assert desk.window.store.job.stitch.teeth == (8, 4, 2)  # type: ignore[union-attr]
    assert int(desk.slip()["Strikes, main seam"]) < int(before)
    assert combo.currentText() == "8, 4, 2"
    combo.setFocus()
    desk.key(Qt.Key.Key_Down)
    assert combo.currentText() == ", ".join(map(str, desk.window.store.job.stitch.teeth)) != "8, 4, 2"  # type: ignore[union-attr]


def test_tools_of_the_workshop_are_chosen_on_the_drawing(desk: Desk) -> None:
    from vow_line.desk.keeping import forget_kept, keep_tool

    desk.open("laying-knife")
    desk.station("stitch")
    combo = desk.window.bench.board._combos["stitch"]
    combo.setCurrentIndex(combo.findText("irons, no 8"))
    combo.activated.emit(combo.currentIndex())
    stitch = desk.window.store.job.stitch
    assert (stitch.tool_name, stitch.teeth) == ("irons, no 8", (8, 4, 2))
    desk.type("stitch.pitch_mm", "3.5")
    keep_tool(desk.window, "my irons")
    desk.open("turf-knife")
    desk.station("stitch")
    combo = desk.window.bench.board._combos["stitch"]
    assert combo.findText("my irons") >= 0
    combo.setCurrentIndex(combo.findText("my irons"))
    combo.activated.emit(combo.currentIndex())
    assert desk.window.store.job.stitch.pitch_mm == 3.5
    forget_kept(desk.window, "my irons")
    assert desk.window.store.job.stitch.tool_name == "my irons", "the job keeps its own copy"


def test_strikes_are_stepped_through_with_a_key(desk: Desk) -> None:
    desk.open("spar-knife")
    desk.station("stitch")
    desk.window.bench.board.setFocus()
    desk.key(Qt.Key.Key_K)
    scene = desk.window.bench.board.scene
    assert any("strike 1 of" in label.says.write(desk.window.store.job.units) for label in scene.labels)
    struck = [m for m in scene.marks if m.meaning == "done"]
    first = desk.window.store.plan.stitching.seam("main seam").strikes[0]
    assert [len(m.line) for m in struck] == [first.teeth, first.teeth], "on the piece and on the strip"
    desk.key(Qt.Key.Key_K)
    desk.key(Qt.Key.Key_K, Qt.KeyboardModifier.ShiftModifier)
    desk.key(Qt.Key.Key_K, Qt.KeyboardModifier.ShiftModifier)
    last = len(desk.window.store.plan.stitching.seam("main seam").strikes)
    labels = [label.says.write(desk.window.store.job.units) for label in desk.window.bench.board.scene.labels]
    assert any(f"strike {last} of {last}" in label for label in labels)


def test_a_remainder_has_more_than_one_mend(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("stitch")
    rows = desk.window.bench.findings.rows
    at = next(k for k, r in enumerate(rows) if "leaves" in r.name)
    assert rows[at].action == "share it between both ends"
    assert rows[at + 1].name == "or another way"
    findings = desk.window.bench.findings
    findings.setFocus()
    findings.setCurrentIndex(findings.model().index(at + 1, 0))
    desk.key(Qt.Key.Key_Return)
    assert desk.window.store.job.stitch.remainder == "spread"


def test_a_stitch_is_chosen_at_thread_and_practised_on_scrap(desk: Desk) -> None:
    desk.open("slasher-grip")
    desk.station("thread")
    combo = desk.window.bench.board._combos["thread.butt_stitch"]
    before = desk.slip()["Thread, butt seam"]
    combo.setCurrentIndex(combo.findText("crosses"))
    combo.activated.emit(combo.currentIndex())
    assert desk.slip()["Thread, butt seam"] != before
    practise(desk.window, "whip")
    sew = desk.window.sew
    assert "practising" not in sew.lines()[0]
    assert sew.lines()[0] == "Hole 1 of 12"
    for _ in range(14):
        desk.key(Qt.Key.Key_Space)
    assert sew.lines()[0] == "The whip is sewn."
    desk.key(Qt.Key.Key_Backspace)
    assert sew.lines()[0].startswith("Hole 12")
    desk.key(Qt.Key.Key_Escape)
    assert desk.window.station == "thread"
    assert desk.window.store.job.work.sewn == ()


def test_each_seam_may_be_sewn_in_its_own_way(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("thread")
    before = desk.slip()
    combo = desk.window.bench.board._combos["thread.of/main seam/stitch"]
    combo.setCurrentIndex(combo.findText("double running"))
    combo.activated.emit(combo.currentIndex())
    after = desk.slip()
    assert after["Of each thread, main seam"]
    assert after["Thread, belt loop"] == before["Thread, belt loop"]
    assert combo.currentText() == "double running"
    desk.window.bench.board.setFocus()
    desk.key(Qt.Key.Key_N)
    assert desk.window.bench.board._combos["thread.of/belt loop/stitch"].currentText() == "saddle"
    desk.window.undo()
    assert desk.window.store.job.thread.own == ()


def test_thread_measured_while_sewing_says_where_to_join(desk: Desk) -> None:
    desk.open("spar-knife")
    desk.station("sew")
    sew = desk.window.sew
    assert "enough" in sew.lines()[5]
    measure_thread(desk.window, "main seam", "40 cm")
    assert sew.lines()[4] == "Thread left 40 cm"
    assert "short of" in sew.lines()[5]
    assert "join at hole" in sew.lines()[5]
    measure_thread(desk.window, "main seam", "what")
    assert sew.lines()[4] == "Thread left 40 cm"
    desk.window.undo()
    assert "enough" in sew.lines()[5]


def test_the_thread_moves_and_the_pace_is_told(desk: Desk) -> None:
    desk.open("spar-knife")
    desk.station("sew")
    sew = desk.window.sew
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
    assert "20 to 5000" in desk.field("leather.size/long").wrong.text()


def test_stations_are_added_and_taken_away_from_the_menu(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("measure")
    desk.window.actions_["add-station"].trigger()
    job = desk.window.store.job  # type: ignore[union-attr]
    assert len(job.thing.stations) == 8
    assert any("has not been measured" in f for f in desk.findings())
    new = next(k for k, s in enumerate(job.thing.stations) if not s.width.taken)
    desk.field(f"thing.stations.{new}.width.first").setFocus()
    desk.window.actions_["remove-station"].trigger()
    assert len(desk.window.store.job.thing.stations) == 7  # type: ignore[union-attr]


def test_a_step_of_the_seams_shows_each_in_turn(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("thread")
    board = desk.window.bench.board
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
    slip = desk.window.bench.slip
    long = next(k for k, r in enumerate(slip.rows) if r.more)
    slip.setFocus()
    slip.setCurrentIndex(slip.model().index(long, 0))
    folded = slip.visualRect(slip.model().index(long, 0)).height()
    desk.key(Qt.Key.Key_Return)
    QTest.qWait(20)
    assert slip.visualRect(slip.model().index(long, 0)).height() > folded


def test_sewing_is_read_from_across_the_room(desk: Desk) -> None:
    desk.open("spar-knife")
    sew = desk.window.sew
    grey = _grey(desk.picture(sew))
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
    sewn = desk.window.store.plan.threading.seam("main seam")  # type: ignore[union-attr]
    told = prompts(sewn, desk.window.store.job.thread)
    assert all(thread_says(told, k).write(desk.window.store.job.units).endswith("enough") for k in range(len(told)))  # type: ignore[union-attr]


def test_the_shelf_tells_each_job_in_words(desk: Desk) -> None:
    spoken = [j.spoken() for j in desk.window.shelf.jobs]
    assert spoken[1].startswith("Hedging knife, for Perrin Oake. Width 2 3/16 in from the guard has not been measured.")
    assert "36 passes made" in spoken[2]
    assert "done, and recorded" in spoken[3]


def test_naming_a_job(desk: Desk) -> None:
    from vow_line.desk.naming import Naming

    desk.open("laying-knife")
    naming = Naming(desk.window.store.job, desk.window)  # type: ignore[union-attr]
    naming.fields["name"].setText("Long laying knife")
    desk.window.do("name the job", naming.named)
    assert desk.window.store.job.name == "Long laying knife"  # type: ignore[union-attr]
    naming.fields["name"].setText("  ")
    assert not desk.window.do("name the job", naming.named)
    assert "must not be empty" in desk.window.notice.text()
    naming.deleteLater()


def test_a_change_refused_after_the_vow_says_what_to_do(desk: Desk) -> None:
    desk.open("spar-knife")
    assert not desk.window.do("set margin", lambda j: change(j, "piece.margin_mm", 5.0))
    assert "Break the vow" in desk.window.notice.text()


def _at(desk: Desk, x: float, y: float) -> QPoint:
    return desk.window.bench.board.transform().map(QPointF(x, y)).toPoint()


def _drag(desk: Desk, start: tuple[float, float], end: tuple[float, float]) -> None:
    board = desk.window.bench.board
    QTest.mousePress(board, Qt.MouseButton.LeftButton, pos=_at(desk, *start))
    held = QMouseEvent(
        QEvent.Type.MouseMove, QPointF(_at(desk, *end)), board.mapToGlobal(QPointF(_at(desk, *end))),
        Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier,
    )  # fmt: skip
    QApplication.sendEvent(board, held)
    QTest.mouseRelease(board, Qt.MouseButton.LeftButton, pos=_at(desk, *end))


def test_a_point_of_the_outline_is_dragged_to_its_place(desk: Desk) -> None:
    desk.open("billhook-cover")
    desk.station("measure")
    before = desk.window.store.job.thing.outline
    _drag(desk, before[8], (before[8][0] + 2, before[8][1] - 6))
    after = desk.window.store.job.thing.outline
    assert after[8] == pytest.approx((before[8][0] + 2, before[8][1] - 6), abs=0.6)
    assert after[:8] + after[9:] == before[:8] + before[9:]
    desk.window.undo()
    assert desk.window.store.job.thing.outline == before


def test_a_point_is_moved_by_keys_and_let_go(desk: Desk) -> None:
    desk.open("billhook-cover")
    desk.station("measure")
    desk.key(Qt.Key.Key_P)
    assert "where the edge begins is held" in desk.window.bench.board.accessibleDescription()
    before = desk.window.store.job.thing.edge_from
    desk.key(Qt.Key.Key_Left)
    desk.key(Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert desk.window.store.job.thing.edge_from == pytest.approx((before[0] - 5.5, before[1]))
    desk.key(Qt.Key.Key_Escape)
    desk.key(Qt.Key.Key_Left)
    assert desk.window.store.job.thing.edge_from == pytest.approx((before[0] - 5.5, before[1]))


def test_a_station_is_moved_along_and_put_where_it_is_wanted(desk: Desk) -> None:
    desk.open("hedging-knife")
    desk.station("measure")
    station = desk.window.store.job.thing.stations[1]
    _drag(desk, (station.at_mm, station.drop), (station.at_mm + 8, 12.0))
    assert desk.window.store.job.thing.stations[1].at_mm == pytest.approx(station.at_mm + 8, abs=0.5)
    QTest.mouseDClick(desk.window.bench.board, Qt.MouseButton.LeftButton, pos=_at(desk, 70, 15))
    assert any(abs(s.at_mm - 70) < 0.6 and not s.width.taken for s in desk.window.store.job.thing.stations)
    _drag(desk, (station.at_mm + 8, station.drop), (station.at_mm + 60, 0))
    assert "must follow one another" in desk.window.notice.text() or desk.window.notice.text() == ""


def test_a_way_out_with_turns_is_looked_for_and_shown(desk: Desk, qtbot: QtBot) -> None:
    desk.open("billhook-cover")
    desk.station("draft")
    desk.type("piece.past_mm", "30")
    assert any("meets the filler" in f for f in desk.findings())
    desk.window.bench.board.setFocus()
    desk.key(Qt.Key.Key_D, Qt.KeyboardModifier.ShiftModifier)
    page = desk.window.bench
    qtbot.waitUntil(lambda: not page.looking, timeout=20_000)
    assert "comes out turned up to" in desk.window.notice.text()
    page.slider.setValue(20)
    thing = next(m for m in page.board.scene.marks if m.id == "thing")
    flat = desk.window.store.plan.draft.way_out.at(20)
    assert not np.allclose(thing.line, flat), "it is shown turned, as the way says"
    desk.type("piece.past_mm", "8")
    thing = next(m for m in page.board.scene.marks if m.id == "thing")
    assert np.allclose(thing.line, desk.window.store.plan.draft.way_out.at(20)), (
        "another pattern has not been looked through"
    )


def test_looking_for_a_way_out_is_stopped_by_the_same_key(desk: Desk, qtbot: QtBot) -> None:
    desk.open("billhook-cover")
    desk.station("draft")
    page, pool = desk.window.bench, QThreadPool.globalInstance()
    page.board.setFocus()
    threads = pool.maxThreadCount()
    pool.setMaxThreadCount(0)  # nothing is found before the second key
    desk.key(Qt.Key.Key_D, Qt.KeyboardModifier.ShiftModifier)
    assert page.looking
    desk.key(Qt.Key.Key_D, Qt.KeyboardModifier.ShiftModifier)
    pool.setMaxThreadCount(threads)
    qtbot.waitUntil(lambda: not page.looking, timeout=20_000)
    assert desk.window.notice.text() == "Stopped looking."
    assert page.view.way is None


def test_the_relief_that_the_search_asks_for_is_applied_by_its_mend(desk: Desk, qtbot: QtBot) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    page = desk.window.bench
    page.find_way()
    qtbot.waitUntil(lambda: not page.looking, timeout=20_000)
    assert "However it is turned" in desk.findings()[0]
    page.findings.setFocus()
    page.findings.setCurrentIndex(page.findings.model().index(0, 0))
    desk.key(Qt.Key.Key_Return)
    assert len(desk.window.store.job.piece.relief) == 1
    assert not any("However it is turned" in f for f in desk.findings())


def test_a_mock_up_is_corrected_on_the_drawing_and_taken_back(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    before = desk.window.store.plan.draft.piece("sheath").outline
    QTest.mouseDClick(desk.window.bench.board, Qt.MouseButton.LeftButton, pos=_at(desk, 30, 70))
    place = "trials.0.corrections.0.by_mm"
    assert desk.field(place).hasFocus(), "the amount is asked for where it was found"
    desk.type(place, "2.5")
    after = desk.window.store.plan.draft.piece("sheath").outline
    assert np.interp(70, *after[2:40, ::-1].T) > np.interp(70, *before[2:40, ::-1].T) + 2
    desk.type("trials.0.thick_mm", "3")
    assert any("Tried in felt" in name for name in desk.slip())
    desk.window.actions_["trial-back"].trigger()
    assert np.allclose(desk.window.store.plan.draft.piece("sheath").outline, before)
    for _ in range(4):
        desk.window.undo()
    assert desk.window.store.job.trials == ()


def test_a_small_edit_leaves_the_callouts_where_they_are(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    board = desk.window.bench.board
    before = {path: field.pos() for path, field in board.fields.items()}
    desk.type("piece.margin_mm", "4.1")
    assert {path: field.pos() for path, field in board.fields.items()} == before
    desk.type("piece.skive_mm", "120")
    assert {path: field.pos() for path, field in board.fields.items()} != before


def test_the_section_in_the_corner_follows_an_edit(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    corner = desk.window.bench.board.corner
    before = desk.picture(corner)
    assert "edge to thread 5 mm here" in corner.accessibleName()
    desk.type("piece.edge_to_thread_mm", "9")
    assert "edge to thread 9 mm here" in corner.accessibleName()
    assert desk.picture(corner) != before
    desk.station("thread")
    assert not corner.isVisible()


def test_no_choice_of_another_job_is_left_on_the_board(desk: Desk) -> None:
    for name in ("laying-knife", "secateurs-holster"):
        desk.open(name)
        desk.station("draft")
    board = desk.window.bench.board
    shown = {c.objectName() for c in board.findChildren(QComboBox) if c.isVisible()}
    assert shown == {f"choice {c.path}" for c in board.scene.callouts if c.choices}
    for combo in board.findChildren(QComboBox):
        words = QFontMetrics(combo.font()).horizontalAdvance(combo.currentText())
        assert not combo.isVisible() or words < combo.width() - 20, combo.currentText()
