"""Every screen in a made-up language that puts each text between brackets: what stands outside them cannot be translated."""

import contextlib
import csv
import re
from collections.abc import Iterator
from pathlib import Path

import ezdxf
import pypdfium2
import pytest
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QFileDialog, QLabel, QLineEdit, QWidget
from pytestqt.qtbot import QtBot

from tests.core.test_texts import Brackets, outside, own_words
from tests.desk.conftest import Desk
from vow_line.app import main
from vow_line.core import language, memory
from vow_line.core.draft.kinds import KINDS
from vow_line.core.measure import THINGS, Taken
from vow_line.core.plan import plan
from vow_line.core.quantity import Units
from vow_line.core.work.step import Step
from vow_line.desk.actions.export import print_card
from vow_line.desk.board.choice import Choice
from vow_line.desk.dialogs.bench import BenchDialog
from vow_line.desk.dialogs.exporting import ExportDialog
from vow_line.desk.dialogs.lace import LaceDialog
from vow_line.desk.dialogs.names import NamesDialog
from vow_line.desk.dialogs.piece import LeatherDialog, PieceDialog
from vow_line.desk.dialogs.printing import PrintPreview
from vow_line.desk.dialogs.saving import fetch, save_as
from vow_line.desk.dialogs.step import StepDialog
from vow_line.desk.dialogs.taken import TakenDialog
from vow_line.desk.dialogs.thread import ThreadDialog
from vow_line.desk.instruments.caliper import CaliperDialog
from vow_line.desk.instruments.outline import take_from_file
from vow_line.desk.line import LINE
from vow_line.desk.lists.rows import RowList
from vow_line.files import export, formats
from vow_line.instruments.caliper import ports
from vow_line.resources.demo import demo_jobs

COMMANDS = {"demo", "plan", "export", "thread", "lace", "prompts", "trace", "outline", "schema"}
UNITS = {
    "Ctrl",
    "Shift",
    "Return",
    "Ins",
    "Del",
    "mm",
    "cm",
    "m",
    "in",
    "oz",
    "g",
    "h",
    "min",
    "days",
    "day",
    "tex",
    "times",
    "of",
    "Nm",
    "sq",
    "ft",
    "dm",
    "°",
    "pt",
}
OWN = {"Vow", "Line", "A4", "Letter", "A3", "OK", "Cancel"}  # the program's name, paper sizes, Qt's own buttons


@pytest.fixture
def bracketed(make_desk: object) -> Iterator[Desk]:
    language.speak(Brackets())
    memory.forget()
    try:
        yield make_desk()  # type: ignore[operator]
    finally:
        language.speak(None)
        memory.forget()


def shown_by(widget: QWidget) -> Iterator[str]:
    """The words a widget shows or tells, its children's too."""
    for part in (widget, *widget.findChildren(QWidget)):
        if part is not widget and not part.isVisibleTo(widget):
            continue
        yield from (part.accessibleName(), part.accessibleDescription(), part.toolTip(), part.windowTitle())
        if isinstance(part, QLabel | QAbstractButton):
            yield part.text()
        if isinstance(part, QLineEdit):
            yield part.placeholderText()
        if isinstance(part, Choice):
            yield from part.choices
        if isinstance(part, QComboBox):
            yield from (part.itemText(k) for k in range(part.count()))
        if isinstance(part, RowList):
            for row in part.rows:
                yield from (row.name, row.value, row.detail, row.action, row.caution, *row.more, row.spoken())


def on_board(desk: Desk) -> Iterator[str]:
    """The words drawn on the board."""
    board = desk.window.pages.station.board
    yield from (label.says.write(board.units) for label in board.scene.labels)
    yield from (board.scene.caution.write(board.units), board.scene.waits.write(board.units))
    yield board.spoken
    yield from (text for _, text, _ in board._names)


def unbracketed(found: Iterator[str], own: set[str]) -> dict[str, str]:
    """What of some words stands outside the brackets and is no number, unit or word of the maker's, by where it stands."""
    allowed = UNITS | OWN | {w for words in own for w in re.findall(r"[^\W\d_]+", words)}
    left: dict[str, str] = {}
    for text in found:
        stray = [w for w in re.findall(r"[^\W\d_]{2,}", outside(text)) if w not in allowed]
        if stray:
            left[text] = " ".join(stray)
    return left


@pytest.mark.parametrize("name", demo_jobs())
def test_every_station_is_in_the_other_language(bracketed: Desk, name: str) -> None:
    desk = bracketed
    desk.open(name)
    session = desk.window.session
    own = own_words(session.job) | {t.name for t in desk.window.pages.station.view.tools} | {
        part for n in session.job.record.notes for part in (n.says, n.about)} | {
        t.slip for t in session.job.work.done}  # fmt: skip
    for station, _ in LINE:
        session.go(station)
        QApplication.processEvents()
        found = [*shown_by(desk.window), *on_board(desk), *desk.window.pages.sew.lines()]
        assert not unbracketed(iter(found), own), station


def test_the_menus_the_shelf_and_beginning_are_in_the_other_language(bracketed: Desk) -> None:
    desk = bracketed
    own = {words for job in demo_jobs().values() for words in own_words(job)}
    shelf = [job.spoken() for job in desk.shelf()]
    assert not unbracketed(iter([*shelf, *shown_by(desk.window.pages.shelf)]), own)
    menus = desk.window.window_.menuBar().actions()
    actions = (a for menu in menus for a in (menu, *menu.menu().actions()))
    assert not unbracketed((a.text().replace("&", "") for a in actions), own)
    desk.window.pages.ask_to_begin()
    for thing in THINGS:
        desk.window.pages.begin.show_kinds_for(thing)
        cards = [(c.name, c.says) for c in desk.window.pages.begin.findChildren(QAbstractButton)]
        assert not unbracketed((part for card in cards for part in card), own)
    assert len(KINDS) > 5
    desk.window.show_keys()
    assert not unbracketed(iter([desk.window.notice.text()]), {"Ctrl", "Shift", "Alt", "Home", "Backspace", "Left", "Right",
                                                               "Ins", "Del"} | own)  # fmt: skip


def test_the_dialogs_are_in_the_other_language(bracketed: Desk) -> None:
    bracketed.open("laying-knife")
    session, window = bracketed.window.session, bracketed.window
    for dialog in (TakenDialog(Taken(), session.job.maker, window), CaliperDialog(session, window),
                   BenchDialog(session.job, "A4", window),
                   PieceDialog(session.job, window), LeatherDialog(session.job, window),
                   StepDialog(plan(demo_jobs()["grafting-knife"]), "", window),
                   ThreadDialog(session.job, window), NamesDialog(session.job, window),
                   LaceDialog(window, Units(), window.pages.ink)):  # fmt: skip
        assert not unbracketed(
            shown_by(dialog), own_words(session.job) | own_words(demo_jobs()["grafting-knife"]) | set(ports())
        ), type(dialog).__name__


def test_every_file_that_is_asked_for_is_asked_for_in_the_other_language(
    bracketed: Desk, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Titles and kinds of files: what stands outside the brackets is `*.suffix`, or the name of a kind."""
    bracketed.open("billhook-cover")
    session, window = bracketed.window.session, bracketed.window
    asked: list[str] = []

    def ask(_: object, title: str, __: str = "", kinds: str = "", **_more: object) -> tuple[str, str]:
        asked.extend((title, re.sub(r"\*\.?[\w.-]*", "", kinds)))
        return "", ""

    for name in ("getOpenFileName", "getSaveFileName"):
        monkeypatch.setattr(QFileDialog, name, ask)
    window.tracing.ask()
    take_from_file(session, window)
    fetch(session, window)
    save_as(session, window)
    print_card(session, window)
    assert len(asked) == 10
    assert not unbracketed(iter(asked), {"PDF", "PNG", "DXF", "SVG"})


def test_what_undo_takes_back_and_the_large_dialogs_are_in_the_other_language(bracketed: Desk, qtbot: QtBot) -> None:
    bracketed.open("laying-knife")
    session, window = bracketed.window.session, bracketed.window
    bracketed.station("draft")
    bracketed.type("piece.margin_mm", "4.1")
    own = own_words(session.job)
    names = [session.undo_name]
    session.undo()
    names.append(session.redo_name)
    assert all(names)
    actions = [a.text() for menu in window.window_.menuBar().actions() for a in menu.menu().actions()]
    assert not unbracketed(iter([*names, *(a.replace("&", "") for a in actions)]), own)
    files = {str(session.path), "laying-knife", *(form.suffix for form in formats(session.plan))}  # names of files
    for dialog in (ExportDialog(session, window), PrintPreview(session, window)):
        if isinstance(dialog, PrintPreview):
            qtbot.waitUntil(lambda dialog=dialog: dialog.paper is not None, timeout=30_000)
        assert not unbracketed(shown_by(dialog), own | files)
        dialog.close()


def test_the_command_line_speaks_the_other_language(
    bracketed: Desk, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    """Help of every command, and what is refused: argparse's own words too."""
    monkeypatch.setattr(language, "set_up", lambda *_: None, raising=False)
    for words in (["--help"], *([c, "--help"] for c in ("plan", "export", "thread", "trace", "outline")), ["plan"],
                  ["trace", "x.png", "--sheet", "B5"], ["thread", "--run", "wide"]):  # fmt: skip
        with contextlib.suppress(SystemExit):
            main(words)
        told = capsys.readouterr()
        lines = [re.sub(r"(?<!\w)(--?[\w-]+|[A-Z][A-Z_]+|\{[^}]*\}|vow-line|\[|\])", " ", line)
                 for line in (told.out + told.err).splitlines()]  # fmt: skip
        assert told.out + told.err
        assert not unbracketed(iter([" ".join(lines)]), {*words, *COMMANDS, "vow", "line"})


def test_what_is_exported_is_in_the_other_language(bracketed: Desk, tmp_path: Path) -> None:
    bracketed.open("laying-knife")
    plan = bracketed.window.session.plan
    written = {p.suffix: p for p in export(plan, tmp_path, "laying-knife")}
    own = own_words(plan.job)
    lines = re.findall(
        r"(?:SUMMARY|DESCRIPTION):(.*)", written[".ics"].read_text().replace("\n ", "").replace("\\,", ",")
    )
    assert lines
    assert not unbracketed(iter(lines), own)
    captions = re.findall(r"<text[^>]*>([^<]*)</text>", written[".svg"].read_text())
    assert captions
    assert not unbracketed(iter(captions), own)
    texts = [
        t.dxf.text if t.dxftype() == "TEXT" else t.text for t in ezdxf.readfile(written[".dxf"]).query("TEXT MTEXT")
    ]
    assert texts
    assert not unbracketed(iter(texts), own)
    rows = list(csv.reader(written[".csv"].read_text().splitlines()))
    assert len(rows) > 3
    codes = {"piece", "hardware", "thread", "yes", "no", "grain", "flesh"}  # as the columns' names, for other programs
    assert not unbracketed((cell for row in rows[1:] for cell in row), own | codes)
    document = pypdfium2.PdfDocument(written[".pdf"])
    pages = [page.get_textpage().get_text_bounded().replace("\r\n", " ") for page in document]
    assert sum(page.count("⟦") for page in pages) > 10
    assert not unbracketed(iter(pages), own)
    assert isinstance(plan.work.steps[0], Step)
