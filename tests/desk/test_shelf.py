"""A shelf with more on it than is read at once."""

import shutil
import sqlite3
import time
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.conftest import Desk
from vow_line.core.job import change

MANY = 1000


def test_a_thousand_jobs_are_shown_at_once_read_beside_and_found_and_opened_meanwhile(
    desk: Desk, tmp_path: Path
) -> None:
    desk.open("key-fob")
    session, pages = desk.window.session, desk.window.pages
    assert session.path is not None
    paths = [tmp_path / f"fob {k}.vow.json" for k in range(MANY)]
    for path in paths:
        shutil.copy(session.path, path)
    with sqlite3.connect(session.workshop.path) as book:
        book.executemany("insert into job values (?, ?)", [(str(p), 1000 + k) for k, p in enumerate(paths)])
    pages.show_shelf()
    assert pages.shelf.seen.rowCount() >= MANY, "all of them, before any is read"
    assert not [j for j in pages.shelf.jobs if j.path in paths and j.card is not None]

    until = time.monotonic() + 60
    while sum(j.card is not None for j in pages.shelf.jobs) < 5 and time.monotonic() < until:
        QTest.qWait(5)
    read = sum(j.card is not None for j in pages.shelf.jobs)
    assert session.worker.busy
    assert 5 <= read < MANY / 2
    QTest.keyClicks(pages.shelf.list, "321")
    shown = [
        pages.shelf.seen.index(k, 0).data(Qt.ItemDataRole.UserRole).path for k in range(pages.shelf.seen.rowCount())
    ]
    assert shown == [paths[321]]
    QTest.keyClick(pages.shelf.seek, Qt.Key.Key_Return)
    desk.wait_for_opening()
    assert session.open
    assert session.path == paths[321]
    while session.worker.busy and time.monotonic() < until:
        QTest.qWait(5)
    assert not session.worker.busy
    assert sum(j.card is not None for j in pages.shelf.jobs) < MANY / 2, (
        "a hand at a job is not disturbed by the others"
    )
    before = {j.path for j in pages.shelf.jobs if j.card is not None}
    pages.show_shelf()
    while {j.path for j in pages.shelf.jobs if j.card is not None} == before and time.monotonic() < until:
        QTest.qWait(5)
    assert before < {j.path for j in pages.shelf.jobs if j.card is not None}, "it goes on where it stopped"


def test_a_job_is_opened_beside_and_escape_stays_at_the_shelf(desk: Desk) -> None:
    pages, session = desk.window.pages, desk.window.session
    desk.shelf()
    pages.shelf.list.setFocus()
    first = pages.shelf.current
    assert first is not None
    QTest.keyClick(pages.shelf.list, Qt.Key.Key_Return)
    assert pages.opening
    assert not session.open
    QTest.keyClick(pages.shelf.list, Qt.Key.Key_Escape)
    desk.shelf()
    assert not session.open, "it does not open after all"
    QTest.keyClick(pages.shelf.list, Qt.Key.Key_Down)
    second = pages.shelf.current
    assert second is not None
    for k in (0, 1):  # the one that was chosen last is opened, and no other
        pages.shelf.list.setCurrentIndex(pages.shelf.seen.index(k, 0))
        QTest.keyClick(pages.shelf.list, Qt.Key.Key_Return)
    desk.wait_for_opening()
    assert session.path == second.path != first.path


def test_a_job_that_is_as_it_was_is_not_worked_out_again(desk: Desk) -> None:
    pages, session = desk.window.pages, desk.window.session
    before = {j.path: j.card for j in desk.shelf()}
    changed = next(p for p in before if "turf" in p.name)
    assert session.open_file(changed)
    session.do("an edit", lambda j: change(j, "whose", "another"))
    pages.show_shelf()
    after = {j.path: j.card for j in desk.shelf()}
    assert before.keys() == after.keys()
    assert {p for p in before if before[p] is not after[p]} == {changed}
    card = after[changed]
    assert card is not None
    assert card.job.whose == "another"
