"""Being led through the readings: by Enter, in a maker's order, doubtful numbers asked about."""

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QFontMetrics
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.bodies import plausible
from tests.desk.conftest import Desk
from tests.jobs import words
from vow_line.core.job import Job, change
from vow_line.core.measure import THINGS, Reading, Thing
from vow_line.core.measure.doubt import doubted
from vow_line.core.measure.readings import every_reading
from vow_line.core.measure.things.knife import Knife
from vow_line.core.plan import plan
from vow_line.core.steps import blank
from vow_line.resources.demo.hard_goods import laying_knife

ENTER = Qt.Key.Key_Return


def _asked(desk: Desk) -> str:
    return desk.window.pages.station.board.at_hand


def _number(desk: Desk, text: str) -> None:
    QTest.keyClicks(desk.focused(), text)
    desk.key(ENTER)


def test_a_knife_from_nothing_to_a_vow_is_numbers_and_enter(desk: Desk) -> None:
    desk.window.pages.ask_to_begin()
    desk.key(ENTER)  # a knife
    desk.key(ENTER)  # on the belt, folded
    session, board = desk.window.session, desk.window.pages.station.board
    numbers = {"width": (30.0, 30.0, 29.0, 22.0), "thick": (3.2, 3.1, 2.9, 2.4)}
    asked: list[str] = []
    while path := _asked(desk):
        asked.append(path)
        assert board.facts.isVisible()
        assert len(asked) < 40
        _, part, *rest = path.split(".")
        value = {"length": 120.0, "handle_length": 110.0}.get(part)
        if part == "handle":
            value = 28.0 if rest[1] == "width" else 19.0
        value = numbers[rest[1]][int(rest[0])] if value is None else value
        _number(desk, f"{value:g}")
    assert board.facts.text() == "All is read. Enter goes on."
    desk.key(ENTER)
    assert len(asked) == 28, "each reading twice, and nothing else"
    assert asked[:4] == [
        "thing.length.first",
        "thing.length.second",
        "thing.handle_length.first",
        "thing.handle_length.second",
    ]
    assert [a.rsplit(".", 1)[1] for a in asked] == ["first", "second"] * 14
    assert [a.split(".")[2] for a in asked if ".stations." in a] == sorted(
        a.split(".")[2] for a in asked if ".stations." in a
    )
    for station in ("draft", "stitch", "thread", "layout", "vow"):
        assert session.station == station
        assert not session.plan.holds, [f.code for f in session.plan.holds]
        desk.key(ENTER)
    assert session.job.vowed is None, "Enter reads on, and vows nothing"
    desk.key(ENTER, Qt.KeyboardModifier.ControlModifier)
    assert session.job.vowed is not None


def test_what_comes_is_said_in_its_order_and_escape_leaves(desk: Desk) -> None:
    session = desk.window.session
    session.begin_with(blank(name="new", thing=Knife, kind=type(laying_knife().piece), begins=session.now()))
    QApplication.processEvents()
    board = desk.window.pages.station.board
    assert _asked(desk) == "thing.length.first"
    assert board.facts.text() == "blade, guard to tip. Then: blade, guard to tip, again"
    for text in ("150", "150", "110"):
        _number(desk, text)
    _number(desk, "110")
    assert board.facts.text().startswith("wide at 0 mm. Then: wide at 0 mm, again")
    _number(desk, "")
    assert _asked(desk) == "thing.stations.0.width.second", "what is left empty is asked for again later"
    desk.key(Qt.Key.Key_Escape)
    assert _asked(desk) == ""
    assert not board.facts.isVisible()
    desk.key(ENTER)
    assert session.station == "draft"


def test_no_field_keeps_its_text_marked_when_the_hand_has_left_it(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("measure")
    fields = list(desk.window.pages.station.board.fields.values())
    for field in fields[:6]:
        field.setFocus(Qt.FocusReason.TabFocusReason)
        QApplication.processEvents()
    assert fields[5].hasSelectedText()
    assert not any(f.hasSelectedText() for f in fields if f is not fields[5])


def test_a_number_out_of_line_is_asked_about_and_kept_when_meant(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("measure")
    desk.type("thing.stations.2.thick.second", "32")
    field = desk.field("thing.stations.2.thick.second")
    assert field.wrong.isVisible()
    assert "Enter again keeps it" in field.wrong.text()
    assert desk.window.session.job.thing.stations[2].thick.second is None
    desk.key(ENTER)
    assert desk.window.session.job.thing.stations[2].thick.second == 32


@pytest.mark.parametrize(
    ("path", "mm", "asks"),
    [
        ("thing.stations.2.width.first", 34.9, False), ("thing.stations.2.width.first", 38.5, True),
        ("thing.length.second", 15.4, True), ("thing.length.second", 155.0, False), ("thing.tip_drop", 400.0, False),
    ],
)  # fmt: skip
def test_what_is_doubtful(path: str, mm: float, asks: bool) -> None:
    assert (doubted(laying_knife().thing, path, mm) is not None) == asks


@pytest.mark.parametrize("times", [0.05, 0.3, 0.8, 1.3, 2.4, 2.6, 10.0, 25.4])
def test_a_first_reading_is_held_against_its_neighbours(times: float) -> None:
    """Tenfold and 25.4fold, as wrong units make it, are asked about; what a blade may do is not."""
    job = change(laying_knife(), "thing.stations.3.width", Reading())
    beside = [s.width.mean_mm for s in (job.thing.stations[2], job.thing.stations[4])]
    mm = (max(beside) if times > 1 else min(beside)) * times
    assert (doubted(job.thing, "thing.stations.3.width.first", mm) is not None) == (times > 2.5 or times < 0.4)


@pytest.mark.parametrize("thing", THINGS)
def test_every_reading_of_every_thing_can_be_doubted(thing: type[Thing]) -> None:
    of = plausible(thing, np.random.default_rng(3), "")
    for path, reading in every_reading(of, "thing"):
        if reading.first is not None:
            assert doubted(of, f"{path}.second", reading.first) is None
            assert doubted(of, f"{path}.second", 3 * reading.first + 30) is not None
        bare = change(Job(name="one", thing=of, piece=laying_knife().piece), path, Reading()).thing
        doubted(bare, f"{path}.first", 12.0)


def test_one_wearers_measures_serve_another_job_and_are_asked_again_when_they_are_old(
    desk: Desk, monkeypatch: pytest.MonkeyPatch
) -> None:
    from vow_line.desk.dialogs import workshop

    session = desk.window.session
    desk.open("thorn-cuff")
    desk.station("measure")
    arm = session.job.thing
    monkeypatch.setattr(workshop, "_ask", lambda *_: "Wren's left arm")
    desk.window.actions_["keep-measured"].trigger()
    assert "Kept: Wren's left arm" in desk.window.notice.text()
    assert [s.girth.mean_mm for s in session.job.thing.stations] == [s.girth.mean_mm for s in arm.stations]
    desk.open("laying-knife")
    desk.window.actions_["take-measured"].trigger()
    assert "Nothing of this sort" in desk.window.notice.text()
    desk.open("gaiter")
    monkeypatch.setattr(workshop.QInputDialog, "getItem", lambda *a, **_: (a[3][0], True))
    desk.window.actions_["take-measured"].trigger()
    assert [s.girth.mean_mm for s in session.job.thing.stations] == [s.girth.mean_mm for s in arm.stations]
    assert session.job.name == "Gaiters"
    later = change(session.job, "work.begins", session.now().replace(year=2029))
    old = next(f for f in plan(later).findings if f.code == "reading-old")
    assert "a wearer grows or thins" in words(old.says)
    session.undo()
    assert session.job.thing.which == "calf"


def test_a_helper_reads_from_two_metres_what_to_call_out_and_what_was_heard(desk: Desk) -> None:
    """Letters a two-hundredth of their distance high are read (common practice): at 96 points to the inch 10 mm are 38."""
    session = desk.window.session
    desk.open("thorn-cuff")
    desk.station("measure")
    board = desk.window.pages.station.board
    for k in (1, 2):
        session.do("unread", lambda j, k=k: change(j, f"thing.stations.{k}.girth", Reading()))
    board.ask_next()
    assert board.facts.font().pixelSize() < 24
    before = board.grab().toImage()
    desk.window.actions_["asks"].trigger()
    QApplication.processEvents()
    assert board.grab().toImage() != before
    capitals = QFontMetrics(board.facts.font()).capHeight()
    assert capitals >= 36
    assert board.facts.text() == "round at 55 mm"
    assert board.follows.text() == "then round at 55 mm, again"
    QTest.keyClicks(board.fields["thing.stations.1.girth.first"], "214")
    assert board.facts.text() == "round at 55 mm: 214", "what was heard is seen before it is taken"
    desk.key(ENTER)
    assert board.facts.text() == "round at 55 mm, again"
    for label in (board.facts, board.follows):
        rect = label.geometry()
        assert board.rect().contains(rect)
        fields = [f for f in board.fields.values() if f.isVisible() and f.geometry().intersects(rect)]
        assert not fields, "nothing to type in lies under it"
    for text in ("215", "268", "268"):
        _number(desk, text)
    assert board.follows.isHidden()
    assert board.facts.text() == "All is read. Enter goes on."
    desk.window.actions_["asks"].trigger()
    assert session.workshop.preferences().asks == "here"
