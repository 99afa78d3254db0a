"""The pages seen before they are printed, the check length, and what comes out of a printer."""

import itertools
from dataclasses import replace
from pathlib import Path

import numpy as np
import pypdfium2
import pytest
from PySide6.QtCore import Qt
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit
from pytestqt.qtbot import QtBot

from tests.desk.conftest import Desk, grey_of
from vow_line.core.curve import frozen
from vow_line.core.draft.pieces import Edge, Piece, edged, leather
from vow_line.core.pages import OVERLAP_MM, pages_of
from vow_line.core.quantity import INCH_MM
from vow_line.core.texts import said
from vow_line.desk.dialogs.exporting import ask_export
from vow_line.desk.dialogs.printing import PrintPreview, ask_print, print_on
from vow_line.files.pdf import room_of
from vow_line.files.print_marks import CHECK_MM

CTRL = Qt.KeyboardModifier.ControlModifier


def _preview(desk: Desk, qtbot: QtBot, name: str) -> PrintPreview:
    desk.open(name)
    desk.key(Qt.Key.Key_P, CTRL)
    preview = desk.window.window_.findChild(PrintPreview)
    assert preview is not None
    qtbot.waitUntil(lambda: preview.paper is not None, timeout=20_000)
    return preview


@pytest.mark.parametrize("name", ["laying-knife", "whetstone-case"])
def test_the_preview_shows_every_page_and_what_is_on_it(desk: Desk, qtbot: QtBot, name: str) -> None:
    preview = _preview(desk, qtbot, name)
    assert preview.paper is not None
    assert preview.list.count() == len(preview.paper.pages)
    titles = {p.title.template for p in desk.window.session.plan.draft.pieces}  # type: ignore[union-attr]
    shown = " ".join(preview.list.item(k).text() for k in range(preview.list.count()))
    assert all(title.partition(",")[0].partition("{")[0] in shown for title in titles)
    for k in range(preview.list.count()):
        icon = preview.list.item(k).icon()
        grey = grey_of(icon.pixmap(preview.list.iconSize()).toImage())
        assert 0.001 < (grey < 140).mean() < 0.2, "lines on white"
    preview.reject()


def test_pages_are_unticked_by_space_and_the_other_paper_is_laid_out_anew(desk: Desk, qtbot: QtBot) -> None:
    preview = _preview(desk, qtbot, "whetstone-case")
    n = preview.list.count()
    assert preview.chosen == tuple(range(n))
    preview.list.setFocus()
    preview.list.setCurrentRow(1)
    QTest.keyClick(preview.list, Qt.Key.Key_Space)
    assert preview.chosen == tuple(k for k in range(n) if k != 1)
    assert str(n - 1) in preview.print_button.text()
    preview.sheet.setCurrentText("Letter")
    qtbot.waitUntil(lambda: preview.paper is not None and preview.paper.sheet == "Letter", timeout=20_000)
    assert desk.window.session.preferences.sheet == "Letter"
    preview.reject()


@pytest.mark.parametrize(
    ("typed", "true"), [("100", True), ("99.8 mm", True), ("97", False), ("10.3 cm", False), ("3.94 in", True)]
)
def test_a_check_line_that_is_off_is_said(desk: Desk, qtbot: QtBot, typed: str, true: bool) -> None:
    preview = _preview(desk, qtbot, "key-fob")
    field = preview.findChild(QLineEdit, "measured")
    assert field is not None
    field.setFocus()
    QTest.keyClicks(field, typed)
    QTest.keyClick(field, Qt.Key.Key_Tab)
    assert bool(preview.true.property("wrong")) is not true
    assert ("True" in preview.true.text()) is true
    if typed == "97":
        assert "97 %" in preview.true.text()
        assert "3 mm off" in preview.true.text()
    preview.reject()


def test_printing_goes_on_beside_and_stops_between_two_pages(desk: Desk, qtbot: QtBot, tmp_path: Path) -> None:
    """What was printed before the stop is whole; afterwards all of it can be printed."""
    preview = _preview(desk, qtbot, "whetstone-case")
    every = len(preview.chosen)
    assert every > 2

    def printer(name: str) -> QPrinter:
        made = QPrinter(QPrinter.PrinterMode.HighResolution)
        made.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
        made.setOutputFileName(str(tmp_path / name))
        return made

    on = printer("some.pdf")
    preview.print_with(on)
    assert preview.print_button.text() == "Stop"
    desk.click(preview.print_button)
    qtbot.waitUntil(lambda: preview.task is None, timeout=20_000)
    assert "Stopped" in preview.says.text()
    again = printer("all.pdf")
    preview.print_with(again)
    qtbot.waitUntil(lambda: preview.task is None, timeout=20_000)
    assert f"{every} pages sent" in preview.says.text()
    document = pypdfium2.PdfDocument(tmp_path / "all.pdf")
    assert len(document) == every
    document.close()
    preview.reject()


def test_what_is_printed_are_the_ticked_pages_at_true_size(desk: Desk, qtbot: QtBot, tmp_path: Path) -> None:
    preview = _preview(desk, qtbot, "whetstone-case")
    assert preview.paper is not None
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "printed.pdf"))
    assert print_on(printer, preview.paper, (0, 2))
    document = pypdfium2.PdfDocument(tmp_path / "printed.pdf")
    texts = [page.get_textpage().get_text_range() for page in document]
    assert len(texts) == 2
    assert "page 1 of" in texts[0]
    assert "page 3 of" in texts[1]
    image = document[0].render(scale=200 / 72).to_numpy().mean(axis=2)
    high = preview.paper.size_mm[1]
    row = image[round((high - 13.0) * 200 / INCH_MM) - 3 : round((high - 13.0) * 200 / INCH_MM) + 4].min(axis=0)
    line = (row[: round(112 * 200 / INCH_MM)] < 128).nonzero()[0]
    assert (line[-1] - line[0]) * INCH_MM / 200 == pytest.approx(CHECK_MM, abs=0.4)
    document.close()
    preview.reject()


def test_a_place_on_which_nothing_is_cut_has_no_page() -> None:
    """An angle of two long arms covers three pages by three, of which those between its arms are empty."""
    angle = np.array([[0, 0], [420, 0], [420, 40], [40, 40], [40, 560], [0, 560]], dtype=float)
    outline, edges = edged(Edge("around", said("around"), frozen(angle), "free"))
    room = room_of((210.0, 297.0))
    pages = pages_of([Piece("angle", said("angle"), outline, edges, leather(3.0))], room)
    assert len(pages) < pages[0].columns * pages[0].rows
    assert [page.part for page in pages] == list(range(1, len(pages) + 1))
    ring = np.vstack([np.linspace(a, b, 2000) for a, b in itertools.pairwise(np.vstack([outline, outline[:1]]))])
    on_one = np.zeros(len(ring), dtype=bool)
    for page in pages:
        at = page.pieces[0].onto(ring)
        on_one |= ((at >= 0) & (at <= room)).all(axis=1)
    assert on_one.all(), "every place of the cut is on a page"


def test_pages_meet_on_a_fold_where_there_is_one_else_where_the_cut_is_shortest() -> None:
    waisted = np.array(
        [[0, 0], [150, 0], [150, 150], [90, 170], [90, 190], [150, 210], [150, 330], [0, 330]], dtype=float
    )
    outline, edges = edged(Edge("around", said("around"), frozen(waisted), "free"))
    plain = Piece("waist", said("waist"), outline, edges, leather(3.0))
    for piece, at in (
        (replace(plain, folds=(frozen([[0.0, 120.0], [150.0, 120.0]]),)), 120.0),
        (plain, 180.0),  # within 10 of it lies the waist
    ):
        room = (160.0, 230.0)
        pages = pages_of([piece], room)
        assert len(pages) == 2
        meets = room[1] - OVERLAP_MM / 2
        on = pages[0].pieces[0].onto(np.array([[45.0, at]]))[0, 1]
        assert on == pytest.approx(meets, abs=10.0 if piece is plain else 0.01)


@pytest.mark.parametrize("after_ms", [0, 20, 300])
def test_closed_while_they_work_dialogs_stop_and_say_nothing_of_it(
    desk: Desk, qtbot: QtBot, tmp_path: Path, after_ms: int
) -> None:
    """What a worker still tells must not reach a dialog that is gone: an exception in a slot fails this."""
    desk.open("whetstone-case")
    session = desk.window.session
    preview, exporting = ask_print(session, desk.window), ask_export(session, desk.window)
    assert preview is not None
    assert exporting is not None
    exporting.into(tmp_path / "out")
    exporting.write()
    tasks = [preview.task, exporting.task]
    QTest.qWait(after_ms)
    for dialog in (preview, exporting):
        dialog.reject()
        assert not dialog.isVisible()
    qtbot.waitUntil(lambda: not any(t.running for t in tasks if t is not None), timeout=20_000)
    QTest.qWait(30)
