"""What is on the boards: nothing cut off, nothing upon another, the same whatever the unit, ink or size."""

from dataclasses import replace
from itertools import combinations

import numpy as np
import pytest
import shapely
from PySide6.QtCore import QPoint, QPointF, QRect, QRectF, Qt
from PySide6.QtGui import QFontMetrics, QTransform
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from tests.desk.conftest import Desk, grey_of
from tests.many import ALL
from vow_line.core.drawing import Label
from vow_line.core.job import change
from vow_line.core.meanings import LOOKS
from vow_line.core.quantity import Units
from vow_line.core.texts import said
from vow_line.desk.actions import switches
from vow_line.desk.board.choice import Choice
from vow_line.desk.board.drawn import Painted
from vow_line.desk.board.words import LARGE, placed
from vow_line.desk.line import LINE
from vow_line.desk.look.ink import DAY, EVENING, INKS
from vow_line.desk.stations import SHOWINGS

OTHERS = ("slasher-grip", "key-fob", "billhook-cover", "secateurs-holster", "whetstone-case")
BOARDS = [station for station, _ in LINE if station in SHOWINGS]


def _values(desk: Desk) -> list[QWidget]:
    board = desk.window.pages.station.board
    return [w for w in (*board._fields.values(), *board._combos.values()) if w.isVisible()]


SIZES = [(1024, 680), (1024, 700), (1280, 720), (1280, 800), (1920, 1080)]
"""The second is a screen of 1920 by 1080 with everything 150 % as large."""


def _say(widget: QWidget) -> str:
    return f"{widget.accessibleName()} at {widget.geometry().getRect()}"


@pytest.mark.parametrize("job", ["laying-knife", "spar-knife", *OTHERS])
def test_no_value_and_no_word_is_cut_off_or_lies_on_another(desk: Desk, job: str) -> None:
    desk.open(job)
    board = desk.window.pages.station.board
    for _ in range(2):
        for station in BOARDS:
            desk.window.session.go(station)
            for size in SIZES if ALL else SIZES[1:4:2]:
                desk.window.window_.resize(*size)
                QApplication.processEvents()
                for widget in _values(desk):
                    inside = board.rect().adjusted(2, 2, -2, -2).contains(widget.geometry())
                    assert inside, (size, station, _say(widget))
                for a, b in combinations(_values(desk), 2):
                    shared = a.geometry().adjusted(4, 4, -4, -4) & b.geometry().adjusted(4, 4, -4, -4)
                    assert shared.isEmpty(), (size, station, _say(a), _say(b))
                for box, _, text in board.words:
                    words = box.toRect().adjusted(1, 4, -1, -4)
                    assert board.rect().contains(words), (size, station, text)
                    for widget in _values(desk):
                        over = words & widget.geometry().adjusted(2, 4, -2, -4)
                        assert over.isEmpty(), (size, station, text, _say(widget))
                boxes = [(box.toRect().adjusted(1, 5, -1, -5), label.says.template) for box, label, _ in board.words]
                for (one, says), (other, also) in combinations(boxes, 2):
                    assert (one & other).isEmpty(), (size, station, says, also)
        switches.units(desk.window.session)


@pytest.mark.parametrize("job", ["laying-knife", "secateurs-holster"])
def test_a_message_above_a_board_pushes_no_value_onto_another(desk: Desk, job: str) -> None:
    desk.open(job)
    for size in SIZES:
        desk.window.window_.resize(*size)
        QApplication.processEvents()
        for station in BOARDS:
            desk.window.session.go(station)
            desk.window.session.say("Something that was said, in one line, until it is answered.")
            QApplication.processEvents()
            for a, b in combinations(_values(desk), 2):
                shared = a.geometry().adjusted(4, 4, -4, -4) & b.geometry().adjusted(4, 4, -4, -4)
                assert shared.isEmpty(), (size, station, _say(a), _say(b))
            board = desk.window.pages.station.board
            if board.facts.isVisible() and size[1] >= 700:  # what is asked covers none either
                for widget in _values(desk):
                    asked = board.facts.geometry().adjusted(2, 6, -2, -6)
                    assert (asked & widget.geometry().adjusted(2, 4, -2, -4)).isEmpty(), (size, station, _say(widget))


@pytest.mark.parametrize("station", BOARDS)
def test_the_names_of_values_do_not_run_into_other_values(desk: Desk, station: str) -> None:
    desk.open("laying-knife")
    desk.window.session.go(station)
    QApplication.processEvents()
    board = desk.window.pages.station.board
    for box, name, _ in board._names:
        words = QRect(int(box.left()), int(box.top()) + 3, int(min(box.width(), 8 * len(name))), int(box.height()) - 6)
        for widget in _values(desk):
            assert (words & widget.geometry().adjusted(3, 5, -3, -5)).isEmpty(), (station, name, _say(widget))


@pytest.mark.parametrize("ink", [DAY, EVENING], ids=lambda i: i.name)
@pytest.mark.parametrize("station", BOARDS)
def test_every_board_is_drawn_in_both_inks(desk: Desk, station: str, ink: object) -> None:
    desk.open("spar-knife")
    if ink is EVENING:
        switches.ink(desk.window.session)
    assert desk.window.pages.ink is INKS[desk.window.pages.ink.name]
    desk.window.session.go(station)
    QApplication.processEvents()
    grey = grey_of(desk.picture(desk.window.pages.station.board))
    middle = grey[60:-60, 160:-260]
    assert len(np.unique(middle)) > 8
    assert (middle != np.median(middle)).mean() > 0.01, "there is something on the board"


def test_the_wheel_zooms_at_the_pointer_and_dragging_pans(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    board = desk.window.pages.station.board
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
    millimetres = desk.picture(desk.window.pages.station.board)
    desk.key(Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
    assert desk.field("piece.edge_to_thread_mm").text() == "3/16 in"
    assert desk.picture(desk.window.pages.station.board) != millimetres


@pytest.mark.parametrize(
    "job", ["laying-knife", "hedging-knife", "grafting-knife", "slasher-grip", "secateurs-holster"]
)
def test_no_leader_crosses_another(desk: Desk, job: str) -> None:
    desk.open(job)
    desk.station("measure")
    board = desk.window.pages.station.board
    leaders = [shapely.LineString([p.toTuple() for p in points]) for points, _ in board.drawn_leaders()]
    assert len(leaders) > 3
    for one, other in combinations(leaders, 2):
        assert not one.crosses(other), (one.wkt, other.wkt)
    values = [shapely.box(*w.geometry().adjusted(1, 1, -1, -1).getCoords()) for w in _values(desk)]
    assert not any(leader.intersects(value) for leader in leaders for value in values)


def test_the_ruler_names_its_unit_once_wherever_it_begins(desk: Desk) -> None:
    desk.open("slasher-grip")
    board = desk.window.pages.station.board
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


def test_a_small_edit_leaves_the_callouts_where_they_are(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    board = desk.window.pages.station.board
    before = {path: field.pos() for path, field in board.fields.items()}
    desk.type("piece.margin_mm", "4.1")
    assert {path: field.pos() for path, field in board.fields.items()} == before
    desk.type("piece.seat_mm", "70")
    assert {path: field.pos() for path, field in board.fields.items()} != before


def test_the_section_in_the_corner_follows_an_edit(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    corner = desk.window.pages.station.board.corner
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
    board = desk.window.pages.station.board
    shown = {c.objectName() for c in board.findChildren(Choice) if c.isVisible()}
    assert shown == {f"choice {c.path}" for c in board.scene.callouts if c.choices}
    for combo in board.findChildren(Choice):
        words = QFontMetrics(combo.font()).horizontalAdvance(combo.currentText())
        assert not combo.isVisible() or words < combo.width() - (6 if combo.property("word") else 20), (
            combo.currentText()
        )


ROUNDED = 8  # of 255: what is cut off at another place is smoothed a little otherwise


def _on_screen(widget: QWidget) -> np.ndarray:
    """A widget as it stands on the screen, none of it painted again for this."""
    window = widget.window()
    whole = window.screen().grabWindow(window.winId())
    return grey_of(whole.copy(QRect(widget.mapTo(window, QPoint()), widget.size())).toImage())


@pytest.mark.parametrize(("name", "edits"), [
    ("waistcoat", {"piece.meets.0.under_mm": (26.0, 8.0), "piece.margin_mm": (5.0,), "piece.meets.1.how": ("butt",)}),
    ("gaiter", {"piece.closed.bar_in_mm": (27.0, 29.0), "piece.ease_mm": (3.0,), "piece.closed.holes": (4,)}),
    ("laying-knife", {"piece.edge_to_thread_mm": (5.5,), "piece.margin_mm": (4.0,), "stitch.pitch_mm": (4.2,)}),
])  # fmt: skip
def test_what_an_edit_paints_again_is_all_that_it_changed(
    desk: Desk, monkeypatch: pytest.MonkeyPatch, name: str, edits: dict[str, tuple[object, ...]]
) -> None:
    desk.open(name)
    desk.station("draft")
    QTest.qWait(30)
    board, since, parts = desk.window.pages.station.board, Painted.since, list[QRectF]()

    def watched(self: Painted, before: Painted | None) -> QRectF | None:
        part = since(self, before)
        parts.extend([part] if part is not None else [])
        return part

    monkeypatch.setattr(Painted, "since", watched)
    for path, value in ((path, value) for path, values in edits.items() for value in values):
        desk.window.session.do("edit", lambda j, path=path, value=value: change(j, path, value))  # type: ignore[misc]
        while desk.window.pages.station._summing.isActive():  # sums, findings and the corner follow the drawing
            QTest.qWait(5)
        QTest.qWait(30)
        seen = _on_screen(board)
        board.repaint()
        assert np.abs(seen.astype(int) - _on_screen(board)).max() <= ROUNDED, path
    assert any(part.width() * part.height() < board.width() * board.height() / 2 for part in parts)


def test_a_mark_that_goes_is_painted_over(desk: Desk) -> None:
    desk.open("waistcoat")
    desk.station("draft")
    QTest.qWait(30)
    board, job = desk.window.pages.station.board, desk.window.session.job
    assert job is not None
    scene = board.scene
    for mark in [m for m in scene.marks if m.meaning in ("stitch", "cut")][::9]:
        board.show_scene(replace(scene, marks=tuple(m for m in scene.marks if m is not mark)), job, board.ink)
        QApplication.processEvents()
        seen = _on_screen(board)
        board.repaint()
        assert np.abs(seen.astype(int) - _on_screen(board)).max() <= ROUNDED
        board.show_scene(scene, job, board.ink)
        QApplication.processEvents()


def test_what_is_lit_and_a_handle_that_moves_are_painted_where_they_are_and_were(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("measure")
    QTest.qWait(30)
    board, job = desk.window.pages.station.board, desk.window.session.job
    assert job is not None
    scene = board.scene

    def stands() -> None:
        QApplication.processEvents()
        seen = _on_screen(board)
        board.repaint()
        assert np.abs(seen.astype(int) - _on_screen(board)).max() <= ROUNDED

    before = _on_screen(board)
    lit = next(m.id for m in scene.marks if m.id and m.meaning in LOOKS)
    board.light(frozenset([lit]))
    stands()
    assert np.abs(before.astype(int) - _on_screen(board)).max() > 2 * ROUNDED, "it glows"
    board.light(frozenset())
    stands()
    assert np.abs(before.astype(int) - _on_screen(board)).max() <= ROUNDED, "as it was"
    first, *others = scene.handles
    by = 12 / board.scale
    moved = replace(first, at=(first.at[0] + by, first.at[1] + by))
    board.show_scene(replace(scene, handles=(moved, *others)), job, board.ink)
    stands()


def test_words_keep_clear_of_what_stands_there(qapp: object) -> None:
    label, to_px = Label(said("a name"), (50.0, 100.0)), QTransform()
    free = placed([label], to_px, Units(), LARGE, 0.0, 200.0)[0][0]
    stands = free.adjusted(-10, 0, 10, 0)
    away = placed([label], to_px, Units(), LARGE, 0.0, 200.0, [stands])[0][0]
    assert not away.adjusted(0, 4, 0, -4).intersects(stands)
    assert placed([label], to_px, Units(), LARGE, 0.0, 200.0, [QRectF(0, 0, 200, 200)]) == []


def test_a_board_tells_its_words_where_its_values_are(desk: Desk) -> None:
    desk.open("waistcoat")
    desk.station("draft")
    QTest.qWait(30)
    board = desk.window.pages.station.board
    stand = board._values_at()
    for widget in (w for w in (*board.fields.values(), *board._combos.values()) if not w.isHidden()):
        assert QRectF(widget.geometry()) in stand
