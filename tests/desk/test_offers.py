"""What can be done stands where one stands: the row of actions, the menus, the table of keys."""

import itertools
import re
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton

import vow_line
from tests.desk.conftest import Desk
from vow_line.core.measure.thing import Thing
from vow_line.desk.line import LINE
from vow_line.desk.window import menus


@pytest.mark.parametrize("size", [(1024, 700), (1280, 800), (1920, 1080)])
def test_each_station_offers_what_can_be_done_there(desk: Desk, size: tuple[int, int]) -> None:
    desk.window.window_.resize(*size)
    desk.open("grafting-knife")
    offers = desk.window.offers
    for station, _ in LINE:
        desk.station(station)
        QTest.qWait(5)
        shown = [b for b in offers.findChildren(QPushButton) if b.isVisible()]
        assert len(shown) >= 2, station
        names = [desk.window.actions_[n].text() for n in menus.AT[station] if desk.window.actions_[n].isEnabled()]
        assert [b.accessibleName() for b in shown] == names[: len(shown)], "those wanted most often first"
        for button in shown:
            assert offers.rect().contains(button.geometry()), (station, button.text())
            assert button.fontMetrics().horizontalAdvance(button.text()) <= button.width() - 12
        for one, other in itertools.pairwise(shown):
            assert one.geometry().right() < other.geometry().left()


def test_a_press_on_an_offer_does_it(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("measure")
    QTest.qWait(5)
    before = len(desk.window.session.job.thing.stations)
    button = next(b for b in desk.window.offers.findChildren(QPushButton) if b.text().startswith("A station more"))
    assert "Ctrl+Ins" in button.text()
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    assert len(desk.window.session.job.thing.stations) == before + 1
    desk.window.pages.show_shelf()
    assert not desk.window.offers.isVisible()


def test_the_menus_have_everything_and_none_is_long(desk: Desk) -> None:
    tops = [a.menu() for a in desk.window.window_.menuBar().actions()]
    assert len(tops) <= 9
    subs = [a.menu() for menu in tops for a in menu.actions() if a.menu()]
    in_menus = {a for menu in (*tops, *subs) for a in menu.actions()}
    assert set(desk.window.actions_.values()) <= in_menus
    assert all(len([a for a in menu.actions() if not a.isSeparator()]) <= 15 for menu in (*tops, *subs))
    assert {name for names in menus.AT.values() for name in names} <= set(desk.window.actions_)
    keys = [a.shortcut().toString() for a in desk.window.actions_.values() if not a.shortcut().isEmpty()]
    assert len(keys) == len(set(keys))


def test_f1_shows_the_keys_as_a_table_those_of_the_station_first(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("draft")
    desk.window.actions_["keys"].trigger()
    QApplication.processEvents()
    table = desk.window.keys.table
    rows = [(table.item(k, 0).text(), table.item(k, 1).text()) for k in range(table.rowCount())]
    assert rows[0] == ("Draft", "")
    assert rows[1] == ("Draw it out", "D")
    keyed = {a.text() for a in desk.window.actions_.values() if not a.shortcut().isEmpty()}
    assert keyed <= {words for words, _ in rows}
    assert len({words for words, key in rows if key}) == len([1 for _, key in rows if key])
    QTest.keyClick(desk.window.keys, Qt.Key.Key_Escape)
    assert not desk.window.keys.isVisible()


@pytest.mark.parametrize("job", ["laying-knife", "billhook-cover", "secateurs-holster", "slasher-grip", "key-fob"])
def test_nothing_is_offered_at_measure_that_is_refused(desk: Desk, job: str) -> None:
    desk.open(job)
    desk.station("measure")
    QTest.qWait(5)
    thing = type(desk.window.session.job.thing)
    for name in ("guard", "add-station"):
        before = desk.window.session.job
        desk.window.actions_[name].trigger()
        assert (desk.window.session.job != before) == desk.window.actions_[name].isEnabled(), (job, name)
        assert not desk.window.notice.property("wrong")
        desk.window.session.undo() if desk.window.session.job != before else None
    assert desk.window.actions_["section"].isEnabled() == (thing.sectioned is not Thing.sectioned)


def test_every_menu_that_a_text_names_is_there(desk: Desk) -> None:
    titles = {a.text().replace("&", "") for a in desk.window.window_.menuBar().actions()}
    source = Path(vow_line.__file__).parent
    named = {name for path in source.rglob("*.py") for name in re.findall(r"\b([A-Z]\w+) menu\b", path.read_text())}
    assert named
    assert named - {"The"} <= titles
