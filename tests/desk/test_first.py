"""The first five minutes: an empty shelf says what to do, and a job just begun its next step at each station, once."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.desk.conftest import Desk
from tests.jobs import demo
from vow_line.core.draft.kinds.folded_sheath import FoldedSheath
from vow_line.core.measure.things.knife import Knife
from vow_line.core.plan import plan
from vow_line.core.steps import blank
from vow_line.desk.line import LINE
from vow_line.desk.pages.begin import PictureButton
from vow_line.desk.window.hint import DRY, HELD, NEXT, UNREAD, WAITS, next_step


def _begin(desk: Desk) -> None:
    desk.window.pages.ask_to_begin()
    QApplication.processEvents()
    for _ in range(2):  # what it is, how it is carried
        desk.key(Qt.Key.Key_Return)
    assert desk.window.session.new


def test_an_empty_shelf_says_what_to_do_and_enter_does_it(desk: Desk) -> None:
    session, shelf = desk.window.session, desk.window.pages.shelf
    for path in session.workshop.jobs():
        session.workshop.forget(path)
    desk.window.pages.show_shelf()
    QApplication.processEvents()
    assert shelf.empty.isVisible()
    assert not shelf.list.isVisible()
    assert "rule and a caliper" in shelf.empty.text()
    desk.key(Qt.Key.Key_Return)
    assert desk.window.pages.currentWidget() is desk.window.pages.begin
    assert isinstance(desk.focused(), PictureButton)


def test_a_job_just_begun_says_its_next_step_once_at_each_station(desk: Desk) -> None:
    _begin(desk)
    hint = desk.window.hint
    assert set(NEXT) == {s for s, _ in LINE}
    for station, _ in LINE:
        if station != "measure":  # there it begins
            desk.station(station)
        said = hint.text()
        assert said, station
        assert hint.fontMetrics().horizontalAdvance(said) <= hint.width(), "in one line, whole"
    desk.station("measure")
    assert not hint.text(), "it was said there"


def test_the_next_step_goes_when_something_is_done_or_in_a_while(desk: Desk) -> None:
    _begin(desk)
    hint = desk.window.hint
    assert hint.text()
    desk.type("thing.length.first", "120")
    assert not hint.text()
    desk.station("draft")
    assert hint.text()
    hint._going.setInterval(1)
    hint._going.start()
    QApplication.processEvents()

    QTest.qWait(30)
    assert not hint.text()


def test_a_job_from_the_shelf_is_not_talked_to(desk: Desk) -> None:
    desk.open("laying-knife")
    for station, _ in LINE:
        desk.station(station)
        assert not desk.window.hint.text()


@pytest.mark.parametrize("size", [(1024, 700), (1280, 800)])
def test_what_is_said_is_not_cut_off(desk: Desk, size: tuple[int, int]) -> None:
    desk.window.window_.resize(*size)
    _begin(desk)
    for station in ("measure", "draft", "thread", "record"):
        desk.station(station)
        hint = desk.window.hint
        assert hint.fontMetrics().horizontalAdvance(hint.text()) <= hint.width()


def test_the_next_step_is_true_of_what_is_there() -> None:
    begun = blank(name="new", thing=Knife, kind=FoldedSheath)
    assert next_step("measure", plan(begun)) == NEXT["measure"]
    for station, _ in LINE:
        if station != "measure":
            assert next_step(station, plan(begun)) == UNREAD
    spar, holster = plan(demo("spar-knife")), plan(demo("secateurs-holster"))
    assert spar.job.vowed
    assert spar.draft is not None
    assert next_step("form", spar) == (NEXT["form"] if spar.draft.wet else DRY)
    assert next_step("cut", spar) == NEXT["cut"]
    assert next_step("cut", holster) == WAITS
    assert next_step("draft", plan(demo("laying-knife"))) == HELD
