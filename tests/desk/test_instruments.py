"""The caliper's readings, pictures and files, arriving at the real window."""

import re
from pathlib import Path

import cv2
import numpy as np
import pypdfium2
import pytest
from PySide6.QtCore import Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QInputDialog
from pytestqt.qtbot import QtBot

from tests.desk.conftest import Desk
from tests.reference.pictured import SHEETS, tools, whole
from tests.reference.test_picture import UPRIGHT, off
from vow_line.core.measure.readings import every_reading
from vow_line.core.measure.traced import laid_along
from vow_line.core.quantity import Units
from vow_line.core.ring import sides, turned_right
from vow_line.desk.actions.export import print_card
from vow_line.desk.dialogs.taken import TakenDialog
from vow_line.desk.instruments.caliper import STAND_IN
from vow_line.desk.instruments.gap import GapDialog
from vow_line.desk.instruments.outline import take_from_file, take_section_from_file
from vow_line.instruments.camera import Part, stand_in
from vow_line.instruments.tracing import trace
from vow_line.resources.demo.hard_goods import BILLHOOK, secateurs_holster


def test_the_caliper_fills_callout_after_callout(desk: Desk, qtbot: QtBot) -> None:
    desk.open("hedging-knife")
    desk.station("measure")
    line = desk.window.caliper
    line.listen(STAND_IN.write(Units()))
    button = line.stand_in
    assert button is not None
    fields = desk.window.pages.station.board.fields
    desk.field("thing.stations.2.width.first").setFocus()
    button.press(27.6)
    qtbot.waitUntil(lambda: desk.window.session.job.thing.stations[2].width.first == 27.6)
    reading = desk.window.session.job.thing.stations[2].width
    assert (reading.first_taken.by, reading.first_taken.using) == ("Ansel Tarn", "a caliper")
    assert fields["thing.stations.2.width.second"].hasFocus(), "it moves on to the second reading"
    QTest.keyClicks(fields["thing.stations.2.width.second"], "99")
    button.press(1.0866, "in")
    qtbot.waitUntil(lambda: desk.window.session.job.thing.stations[2].width.second is not None)
    assert desk.window.session.job.thing.stations[2].width.second == pytest.approx(27.6, abs=0.01), (
        "half-typed text gives way"
    )
    assert fields["thing.stations.2.thick.first"].hasFocus(), "a place and a drop are no readings of a caliper"
    button.send(b"12.5\r\n")
    qtbot.waitUntil(lambda: "without a unit" in desk.window.notice.text())
    button.send(b"@#!\r\n")
    qtbot.waitUntil(lambda: "no reading" in desk.window.notice.text())
    desk.window.pages.station.board.setFocus()
    button.press(10.0)
    qtbot.waitUntil(lambda: "Put the focus" in desk.window.notice.text())
    before = desk.window.session.job
    button.unplug()
    qtbot.waitUntil(lambda: "unplugged" in desk.window.notice.text())
    assert line.caliper is None
    assert desk.window.session.job is before
    desk.window.session.undo()
    assert desk.window.session.job.thing.stations[2].width.second is None


def test_a_press_sent_three_times_is_one_reading(desk: Desk, qtbot: QtBot) -> None:
    desk.open("hedging-knife")
    desk.station("measure")
    line, clock = desk.window.caliper, [10.0]
    line.now = lambda: clock[0]
    line.listen(STAND_IN.write(Units()))
    desk.field("thing.stations.1.width.first").setFocus()
    line.under.setValue(41.25)
    for _ in range(3):
        desk.click(line.button)
    qtbot.waitUntil(lambda: desk.window.session.job.thing.stations[1].width.first == 41.25)
    qtbot.wait(30)
    assert desk.window.session.job.thing.stations[1].width.second != 41.25
    clock[0] += 0.8
    desk.click(line.button)
    qtbot.waitUntil(lambda: desk.window.session.job.thing.stations[1].width.second == 41.25)
    assert "to the last digit" in desk.window.notice.text()
    desk.field("thing.stations.1.at_mm").setFocus()
    clock[0] += 5
    desk.click(line.button)
    qtbot.waitUntil(lambda: "Put the focus" in desk.window.notice.text())
    desk.click(line.let_go)
    assert line.caliper is None
    assert not line.isVisible()


def test_how_a_reading_was_taken_is_seen_and_set_on_the_board(
    desk: Desk, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    desk.open("hedging-knife")
    desk.station("measure")
    desk.field("thing.stations.1.width.first").setFocus()
    facts = desk.window.pages.station.board.facts
    assert "not said" in facts.text()

    def answer(dialog: TakenDialog) -> bool:
        dialog.fields["by"].setText("Hazel")
        dialog.fields["over"].setText("the liner")
        dialog.all.setChecked(True)
        return True

    monkeypatch.setattr(TakenDialog, "exec", answer)
    desk.click(facts)
    job = desk.window.session.job
    assert {t.by for _, r in every_reading(job.thing, "thing") for t in r.facts()} == {"Hazel"}
    assert "by Hazel, over the liner" in facts.text()
    desk.type("thing.stations.1.width.second", "31.1")
    taken = desk.window.session.job.thing.stations[1].width.second_taken
    assert (taken.by, taken.over) == ("Hazel", "the liner"), "and so are those that follow"


def test_a_picture_becomes_the_outline_off_the_main_thread(desk: Desk, qtbot: QtBot, tmp_path: Path) -> None:
    truth = np.array(BILLHOOK, float) @ UPRIGHT
    truth = truth - truth.min(axis=0)
    path = tmp_path / "hook.png"
    assert cv2.imwrite(str(path), stand_in(truth, at_mm=(35, 28)))
    desk.open("billhook-cover")
    bar = desk.window.tracing
    untraced = desk.window.session.job
    desk.answer("&No", 20)
    bar.trace(path)
    qtbot.waitUntil(lambda: not bar.busy, timeout=20_000)
    assert desk.window.session.job is untraced, "its size is not what the tape says"
    assert "strong colour" in desk.window.notice.text()
    asked = desk.answer("It is &so", 20)
    bar.trace(path)
    assert bar.isVisible()
    qtbot.waitUntil(lambda: not bar.busy, timeout=20_000)
    assert "as bright as the paper" in asked[0]
    long, _ = sides(truth)
    assert float(re.search(r"([\d.]+) mm at its longest", asked[0])[1]) == pytest.approx(long, abs=1.0)  # type: ignore[index]
    job = desk.window.session.job
    assert "Traced" in desk.window.notice.text()
    rms, worst, missed = off(np.array(job.thing.outline), laid_along(truth, "nothing"))
    assert rms < 0.5
    assert max(worst, missed) < 1.0
    before = job
    bar.trace(path)
    bar.stop()
    qtbot.waitUntil(lambda: not bar.busy, timeout=20_000)
    assert desk.window.session.job is before
    assert "stopped" in desk.window.notice.text()
    dark = tmp_path / "dark.png"
    assert cv2.imwrite(str(dark), np.full((600, 800, 3), 10, np.uint8))
    bar.trace(dark)
    qtbot.waitUntil(lambda: not bar.busy, timeout=20_000)
    assert "too dark" in desk.window.notice.text()
    (tmp_path / "text.png").write_text("no picture")
    bar.trace(tmp_path / "text.png")
    qtbot.waitUntil(lambda: not bar.busy, timeout=20_000)
    assert "not a picture" in desk.window.notice.text()


def test_what_a_picture_cannot_tell_is_asked(desk: Desk, qtbot: QtBot, tmp_path: Path) -> None:
    """Which sheet it is, seen aslant, and whether what is narrow in the middle is one thing: each once, then it is traced."""
    one, other = (np.array([[0, 0], [50, 0], [50, 70], [0, 70]], float) + at for at in ((0, 0), (49, 69)))
    path = tmp_path / "two.png"
    aslant = {"above_mm": 437.0, "aside_mm": (84.0, -3.0), "turn_rad": 0.083}
    parts = (Part(one, (60.0, 90.0, 150.0)), Part(other, (60.0, 90.0, 150.0)))
    picture = stand_in(parts, at_mm=(40, 60), paper=(190.0, 110.0, 48.0), size_px=(1260, 1680), **aslant)  # type: ignore[arg-type]
    assert cv2.imwrite(str(path), picture)
    desk.open("billhook-cover")
    bar, before = desk.window.tracing, desk.window.session.job
    which = desk.answer("&A4", 20)
    bar.trace(path)
    qtbot.waitUntil(lambda: bool(which), timeout=20_000)
    whether = desk.answer("&Stop", 20)
    qtbot.waitUntil(lambda: bool(whether) and not bar.busy, timeout=20_000)
    assert "A4 or Letter" in which[0]
    assert "two things may touch" in whether[0]
    assert desk.window.session.job is before
    bar.trace(path, sure=True)
    whether = desk.answer("It is &one thing", 20)
    qtbot.waitUntil(lambda: bool(whether), timeout=20_000)
    size = desk.answer("It is &so", 20)
    qtbot.waitUntil(lambda: bool(size) and not bar.busy, timeout=20_000)
    ring = np.array(desk.window.session.job.thing.outline)
    assert sides(ring)[0] == pytest.approx(np.hypot(99, 139), abs=1.5)


def test_how_deep_a_gap_goes_is_asked_with_a_drawing_and_taken(desk: Desk, qtbot: QtBot, tmp_path: Path) -> None:
    """By keys: what the picture excludes is said and asked again; Escape leaves all as it was; told, the gap ends there."""
    parts = tuple(Part(turned_right(r @ UPRIGHT)) for r in tools()["shears"])
    low = np.vstack([p.outline for p in parts]).min(axis=0)
    laid = tuple(Part(p.outline - low, (60.0, 90.0, 150.0)) for p in parts)
    path = tmp_path / "shears.png"
    assert cv2.imwrite(str(path), stand_in(laid, at_mm=(60, 30), paper=SHEETS["blue"], above_mm=480.0))
    desk.open("billhook-cover")
    bar, before = desk.window.tracing, desk.window.session.job

    def asked(*keys: str | Qt.Key) -> list[str]:
        """Once the question is there, press these; what it complained of after each."""
        complained: list[str] = []

        def press() -> None:
            dialog = QApplication.activeModalWidget()
            if not isinstance(dialog, GapDialog):
                QTimer.singleShot(20, press)
                return
            for key in keys:
                if isinstance(key, str):
                    QTest.keyClicks(dialog.field, key)
                else:
                    complained.append(dialog.wrong.text())
                    QTest.keyClick(dialog.field, key)
            complained.append(dialog.wrong.text())

        QTimer.singleShot(0, press)
        return complained

    asked(Qt.Key.Key_Escape)
    bar.trace(path)
    qtbot.waitUntil(lambda: not bar.busy, timeout=20_000)
    assert desk.window.session.job is before
    assert "how deep the gap goes" in desk.window.notice.text()
    complained = asked("wide", Qt.Key.Key_Return, "90", Qt.Key.Key_Return, "143", Qt.Key.Key_Return)
    size = desk.answer("It is &so", 20)
    bar.trace(path)
    qtbot.waitUntil(lambda: bool(size) and not bar.busy, timeout=20_000)
    assert "wide" in complained[1]
    assert "In the picture it is" in complained[2]
    outline = np.array(desk.window.session.job.thing.outline)
    ways = [np.diag(way) for way in ((1, 1), (1, -1), (-1, 1), (-1, -1))]
    truth = laid_along(whole(laid), "nothing")  # it may lie any way round
    assert min(max(off(outline, truth @ way)[1:]) for way in ways) < 1.0


def test_an_outline_of_no_such_size_is_asked_about(desk: Desk, tmp_path: Path) -> None:
    """Not meant so: what one unit is is asked, and then taken before what the file says."""
    path = tmp_path / "stone.svg"
    path.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="12000mm" viewBox="0 0 200 60"><rect width="90" height="19"/></svg>'
    )
    desk.open("secateurs-holster")
    asked: list[float] = []

    def scale() -> float:
        asked.append(2.0)
        return 2.0

    before = desk.window.session.job
    desk.answer("&Yes")
    take_from_file(desk.window.session, desk.window, path, scale, drew="nothing")
    assert "Is the outline's scale right?" in desk.window.notice.text(), "five metres are more than a tool can be"
    assert desk.window.session.job == before
    desk.answer("&No")
    take_from_file(desk.window.session, desk.window, path, scale, drew="nothing")
    assert desk.window.session.job.thing.length.outline == pytest.approx(180, abs=0.1)
    assert asked == [2.0]


def test_an_outline_from_a_file_asks_for_its_scale(desk: Desk, tmp_path: Path) -> None:
    path = tmp_path / "stone.svg"
    path.write_text('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 60"><rect width="90" height="19"/></svg>')
    desk.open("secateurs-holster")
    take_from_file(desk.window.session, desk.window, path, lambda: 2.0, "nothing")
    thing = desk.window.session.job.thing
    assert thing.length.outline == pytest.approx(180, abs=0.1)
    outlines = [s.width.outline for s in thing.stations if s.at_mm < 180]
    assert outlines == [pytest.approx(38, abs=0.1)] * (len(thing.stations) - 1)
    by_hand = {s.at_mm: (s.width.first, s.width.second) for s in secateurs_holster().thing.stations}
    assert {s.at_mm: (s.width.first, s.width.second) for s in thing.stations if s.width.by_hand} == by_hand, (
        "none is lost"
    )
    held = {f.code for f in desk.window.session.plan.findings if f.level == "hold"}
    assert "outline-off-scale" in held, "it is another thing"
    desk.open("slasher-grip")
    take_from_file(desk.window.session, desk.window, path, lambda: 1.0, "nothing")
    assert "not measured by its outline" in desk.window.notice.text()


def test_a_section_from_a_file_shapes_every_wrap(desk: Desk, tmp_path: Path) -> None:
    desk.open("secateurs-holster")
    oval = desk.window.session.plan.draft.piece("front").area_mm2
    path = tmp_path / "ridge.svg"
    path.write_text('<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="20mm" viewBox="0 0 40 20">'
                    '<path d="M0,20 L20,0 L40,20 Z"/></svg>')  # fmt: skip
    take_section_from_file(desk.window.session, desk.window, path)
    assert desk.window.session.job.thing.section == "traced"
    ridge = desk.window.session.plan.draft.piece("front").area_mm2
    assert ridge < oval  # leather over a ridge is shorter than over an oval as wide and as high
    desk.open("slasher-grip")
    take_section_from_file(desk.window.session, desk.window, path)
    assert "not measured by a section" in desk.window.notice.text()


def test_the_printed_card_gives_the_scale(desk: Desk, tmp_path: Path, qtbot: QtBot) -> None:
    """The card as it is printed, rendered from its PDF, is found again and gives its own size."""
    path = tmp_path / "card.pdf"
    print_card(desk.window.session, desk.window, path)
    qtbot.waitUntil(lambda: not desk.window.session.worker.busy)
    page = pypdfium2.PdfDocument(path)[0]
    image = np.ascontiguousarray(page.render(scale=254 / 72, grayscale=False).to_numpy()[..., :3])
    cv2.fillPoly(image, [np.array([[800, 1000], [1400, 1000], [1400, 1800], [800, 1800]])], (40, 40, 40))
    traced = trace(image)
    assert traced is not None
    assert traced.by_card
    assert np.ptp(traced.outline, axis=0) == pytest.approx([60, 80], abs=0.25)
    small = trace(image, card_share=0.97)  # a printer that fits to the page
    assert small is not None
    assert np.ptp(small.outline, axis=0) == pytest.approx([58.2, 77.6], abs=0.25)


def test_a_card_says_at_what_scale_it_was_printed(
    desk: Desk, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """By a length typed from it; one that no printer makes is refused."""
    path = tmp_path / "thing.png"
    assert cv2.imwrite(str(path), np.full((40, 40, 3), 255, np.uint8))
    asked: list[tuple[object, ...]] = []
    bar = desk.window.tracing
    desk.open("billhook-cover")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_, **__: (str(path), ""))
    monkeypatch.setattr(QInputDialog, "getItem", lambda *a, **_: (a[3][-1] if "paper" in a[1] else a[3][0], True))
    monkeypatch.setattr(bar, "trace", lambda *a: asked.append(a))
    for line, share in (("97 mm", 0.97), ("30 mm", None)):
        monkeypatch.setattr(
            QInputDialog, "getText", lambda *a, line=line, **_: (line if "card" in a[1] else "0 mm", True)
        )
        bar.ask()
        assert (asked.pop()[-1] if asked else None) == (pytest.approx(share) if share else None)
    assert "No card comes out" in desk.window.notice.text()
