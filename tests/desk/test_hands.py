"""What a hand moves and looks for on the drawing: points, stations, the way out, a mock-up."""

from threading import Event

import numpy as np
import pytest
import shapely
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from tests.desk.conftest import Desk
from vow_line.core.stitch.pattern import beside


def _at(desk: Desk, x: float, y: float) -> QPoint:
    return desk.window.pages.station.board.transform().map(QPointF(x, y)).toPoint()


def _drag(desk: Desk, start: tuple[float, float], end: tuple[float, float]) -> None:
    board = desk.window.pages.station.board
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
    before = desk.window.session.job.thing.outline
    _drag(desk, before[8], (before[8][0] + 2, before[8][1] - 6))
    after = desk.window.session.job.thing.outline
    assert after[8] == pytest.approx((before[8][0] + 2, before[8][1] - 6), abs=0.6)
    moved = [float(np.hypot(*np.subtract(a, b))) for a, b in zip(after, before, strict=True)]
    far = [float(np.hypot(*np.subtract(p, before[8]))) for p in before]
    assert max(moved) == moved[8]
    assert all(m == 0 for m, off in zip(moved, far, strict=True) if off > 0 and m < moved[8] and off > 40)
    desk.window.session.undo()
    assert desk.window.session.job.thing.outline == before


def test_a_stretch_of_the_outline_is_deleted_and_drawn_anew(desk: Desk) -> None:
    desk.open("billhook-cover")
    desk.station("measure")
    session, board = desk.window.session, desk.window.pages.station.board
    before = session.job.thing.outline
    for _ in range(5):
        desk.key(Qt.Key.Key_P)
    assert board.held == "thing.outline.2"
    for _ in range(3):
        desk.window.actions_["remove-station"].trigger()
    assert session.job.thing.outline == before[:2] + before[5:]
    (x0, y0), (x1, y1) = session.job.thing.outline[1:3]
    board.placed.emit((x0 + x1) / 2 + 1.0, (y0 + y1) / 2)
    assert len(session.job.thing.outline) == len(before) - 2
    assert session.job.thing.outline[2] == pytest.approx(((x0 + x1) / 2 + 1.0, (y0 + y1) / 2), abs=0.01)


def test_a_point_is_moved_by_keys_and_let_go(desk: Desk) -> None:
    desk.open("billhook-cover")
    desk.station("measure")
    desk.key(Qt.Key.Key_P)
    assert "one end of the edge is held" in desk.window.pages.station.board.accessibleDescription()
    before = desk.window.session.job.thing.edge_from
    desk.key(Qt.Key.Key_Left)
    desk.key(Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert desk.window.session.job.thing.edge_from == pytest.approx((before[0] - 5.5, before[1]))
    desk.key(Qt.Key.Key_Escape)
    desk.key(Qt.Key.Key_Left)
    assert desk.window.session.job.thing.edge_from == pytest.approx((before[0] - 5.5, before[1]))


def test_a_station_is_moved_along_and_put_where_it_is_wanted(desk: Desk) -> None:
    desk.open("hedging-knife")
    desk.station("measure")
    station = desk.window.session.job.thing.stations[1]
    _drag(desk, (station.at_mm, station.drop), (station.at_mm + 8, 12.0))
    assert desk.window.session.job.thing.stations[1].at_mm == pytest.approx(station.at_mm + 8, abs=0.5)
    QTest.mouseDClick(desk.window.pages.station.board, Qt.MouseButton.LeftButton, pos=_at(desk, 70, 15))
    assert any(abs(s.at_mm - 70) < 0.6 and not s.width.taken for s in desk.window.session.job.thing.stations)
    _drag(desk, (station.at_mm + 8, station.drop), (station.at_mm + 60, 0))
    assert "must follow one another" in desk.window.notice.text() or desk.window.notice.text() == ""


def test_a_way_out_with_turns_is_looked_for_and_shown(desk: Desk, qtbot: QtBot) -> None:
    desk.open("billhook-cover")
    desk.station("draft")
    desk.type("piece.past_mm", "30")
    assert any("meets the filler" in f for f in desk.findings())
    desk.window.pages.station.board.setFocus()
    desk.key(Qt.Key.Key_D, Qt.KeyboardModifier.ShiftModifier)
    page = desk.window.pages.station
    qtbot.waitUntil(lambda: not page.looking, timeout=20_000)
    assert "comes out turned up to" in desk.window.notice.text()
    page.slider.setValue(20)
    thing = next(m for m in page.board.scene.marks if m.id == "thing")
    flat = desk.window.session.plan.draft.way_out.at(20)
    assert not np.allclose(thing.line, flat), "it is shown turned, as the way says"
    desk.type("piece.past_mm", "8")
    thing = next(m for m in page.board.scene.marks if m.id == "thing")
    assert np.allclose(thing.line, desk.window.session.plan.draft.way_out.at(20)), (
        "another pattern has not been looked through"
    )


def test_looking_for_a_way_out_is_stopped_by_the_same_key(desk: Desk, qtbot: QtBot) -> None:
    desk.open("billhook-cover")
    desk.station("draft")
    page, go = desk.window.pages.station, Event()
    page.board.setFocus()
    for _ in range(2):  # the worker does two things at once: nothing is found before the second key
        desk.window.session.worker.start("waiting", lambda _: go.wait(20))
    desk.key(Qt.Key.Key_D, Qt.KeyboardModifier.ShiftModifier)
    assert page.looking
    desk.key(Qt.Key.Key_D, Qt.KeyboardModifier.ShiftModifier)
    go.set()
    qtbot.waitUntil(lambda: not page.looking, timeout=20_000)
    assert desk.window.notice.text() == "Stopped looking."
    assert page.view.way is None


def test_the_relief_that_the_search_asks_for_is_applied_by_its_mend(desk: Desk, qtbot: QtBot) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    page = desk.window.pages.station
    page.find_way()
    qtbot.waitUntil(lambda: not page.looking, timeout=20_000)
    assert "However it is turned" in desk.findings()[0]
    page.findings.setFocus()
    page.findings.setCurrentIndex(page.findings.model().index(0, 0))
    desk.key(Qt.Key.Key_Return)
    assert len(desk.window.session.job.piece.relief) == 1
    assert not any("However it is turned" in f for f in desk.findings())


@pytest.mark.parametrize(
    ("name", "says"),
    [("billhook-cover", "drag its points"), ("key-fob", "measured, not tried"), ("whetstone-case", ""), ("laying-knife", ""),
     ("turf-knife", ""), ("secateurs-holster", ""), ("slasher-grip", "")],
)  # fmt: skip
def test_a_mock_up_of_every_kind_is_corrected_or_it_is_said_why_not(desk: Desk, name: str, says: str) -> None:
    desk.open(name)
    if desk.window.session.job.vowed:
        desk.window.session.break_vow()
    desk.window.session.go("draft")
    piece = desk.window.session.plan.draft.pieces[0].outline
    board = desk.window.pages.station.board
    board.placed.emit(float(piece[:, 0].max()) - 1.0, float(piece[:, 1].mean()))
    if says:
        assert says in desk.window.notice.text()
        assert not desk.window.session.job.trials
        return
    assert len(desk.window.session.job.trials[-1].corrections) == 1
    desk.type(f"trials.{len(desk.window.session.job.trials) - 1}.corrections.0.by_mm", "2")
    assert "by" in desk.slip_row("What the last of them moved")
    board.placed.emit(0.0, 9000.0)
    assert "Nothing of it lies" in desk.window.notice.text()


def test_a_mock_up_is_corrected_on_the_drawing_and_taken_back(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    before = desk.window.session.plan.draft.piece("sheath").outline
    QTest.mouseDClick(desk.window.pages.station.board, Qt.MouseButton.LeftButton, pos=_at(desk, 30, 70))
    place = "trials.0.corrections.0.by_mm"
    assert desk.field(place).hasFocus(), "the amount is asked for where it was found"
    desk.type(place, "2.5")
    after = desk.window.session.plan.draft.piece("sheath").outline
    assert np.interp(70, *after[2:40, ::-1].T) > np.interp(70, *before[2:40, ::-1].T) + 2
    desk.type("trials.0.thick_mm", "3")
    assert any("Tried in felt" in name for name in desk.slip())
    desk.window.actions_["trial-back"].trigger()
    assert np.allclose(desk.window.session.plan.draft.piece("sheath").outline, before)
    for _ in range(4):
        desk.window.session.undo()
    assert desk.window.session.job.trials == ()


def test_a_mock_up_of_panels_is_let_out_at_the_edge_that_is_pointed_at_and_by_keys(desk: Desk) -> None:
    desk.open("waistcoat")
    desk.station("draft")
    session, board = desk.window.session, desk.window.pages.station.board
    draft, stitching = session.plan.draft, session.plan.stitching
    laid = {s.piece.id: s for s in beside(draft, stitching, draft.shown)}
    before = {k: p.outline for k, p in ((p.id, p) for p in draft.pieces)}
    line, shift = draft.edges_of().lines["B1"][1], laid["panel-B"].shift
    middle = (line[0] + line[-1]) / 2 + shift
    QTest.mouseDClick(board, Qt.MouseButton.LeftButton, pos=_at(desk, float(middle[0]) + 2, float(middle[1])))
    place = "trials.0.corrections.0"
    assert desk.field(f"{place}.by_mm").hasFocus(), "the amount is asked for where it was found"
    (spot,) = session.job.trials[0].corrections
    assert (spot.edge, spot.mirror) == ("B1", "C6")
    assert spot.at_mm == pytest.approx(float(np.hypot(*(line[-1] - line[0]))) / 2, abs=8)
    desk.type(f"{place}.by_mm", "9")
    after = {p.id: p.outline for p in session.plan.draft.pieces}
    gains = shapely.Polygon(after["panel-B"]).area - shapely.Polygon(before["panel-B"]).area
    assert gains == pytest.approx(9 * 120 / 2, rel=0.1), "a smooth bump 9 high and 120 wide"
    assert not np.array_equal(after["panel-C"], before["panel-C"]), "the other half goes with it"
    assert np.array_equal(after["panel-A"], before["panel-A"])
    assert "panel C" in desk.slip_row("What the last of them moved")
    board.placed.emit(-900.0, 900.0)
    assert "at the edge of a panel" in desk.window.notice.text()
    desk.window.actions_["correct"].trigger()
    assert len(session.job.trials[0].corrections) == 2
    assert desk.field("trials.0.corrections.1.by_mm").hasFocus()
    desk.window.actions_["trial-back"].trigger()
    assert np.array_equal(session.plan.draft.piece("panel-B").outline, before["panel-B"])


def test_what_is_worn_turns_with_the_hand_and_the_drawing_stays(desk: Desk) -> None:
    """What lies nearest follows the hand: so far as a roller of its width would turn under it."""
    desk.open("thorn-cuff")
    desk.station("draft")
    station, pieces = desk.window.pages.station, desk.window.session.plan.draft.pieces
    QTest.qWait(60)  # findings and corner follow the drawing, and take their room
    turns, scale = station.board.scene.turns, station.board.transform().m11()
    pan = station.board.transform().dx()
    before, (x, y) = station.view.turned_rad, turns.at
    _drag(desk, (x - 10, y), (x + 15, y))
    assert station.view.turned_rad - before == pytest.approx(25 / turns.half_mm, abs=1.5 / scale / turns.half_mm)
    assert (station.board.transform().m11(), station.board.transform().dx()) == pytest.approx((scale, pan))
    assert station.board.scene.turns.half_mm == turns.half_mm
    for by in np.linspace(0, 6, 13):
        marks = [m for m in desk.window.session.plan.draft.turned.draw(by) if m.id != "strain"]
        assert max(float(np.abs(m.line[:, 0]).max()) for m in marks) <= turns.half_mm + 0.1, "never off its place"
    _drag(desk, (float(pieces[0].outline[:, 0].mean()), 0.0), (float(pieces[0].outline[:, 0].mean()) + 12, 0.0))
    assert station.board.transform().dx() != pytest.approx(pan), "elsewhere the hand moves the drawing"
