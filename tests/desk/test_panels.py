"""A mask of three panels, from a drawing in a file to its seams, at the window."""

from pathlib import Path

import numpy as np
import pytest
import shapely
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.desk.conftest import Desk
from vow_line.core.job import change
from vow_line.core.measure.things.panels import Panels
from vow_line.core.texts import heading
from vow_line.desk.instruments.outline import ALL, take_from_file
from vow_line.desk.pages.begin import PictureButton

SHEET = """<svg xmlns="http://www.w3.org/2000/svg" width="500mm" height="300mm" viewBox="0 0 500 300">
<rect x="1" y="1" width="498" height="298" fill="none"/>
<path d="M20,220 L20,60 L150,20 L150,220 Z"/><path d="M200,220 L200,20 L320,20 L320,220 Z"/>
<path d="M350,220 L350,20 L480,60 L480,220 Z"/><circle cx="260" cy="120" r="4"/></svg>"""


def _press(desk: Desk, says: str, action: str) -> None:
    """Choose a finding's mend with the keyboard."""
    findings = desk.window.pages.station.findings
    at = next(k for k, r in enumerate(findings.rows) if says in r.name)
    at += next(k for k, r in enumerate(findings.rows[at:]) if r.action == action)
    findings.setFocus()
    findings.setCurrentIndex(findings.model().index(at, 0))
    desk.key(Qt.Key.Key_Return)


def test_panels_are_taken_from_a_file_all_at_once_and_put_together_as_is_asked(desk: Desk, tmp_path: Path) -> None:
    page = desk.window.pages.begin
    desk.window.pages.ask_to_begin()
    desk.click(next(c for c in page._things.findChildren(PictureButton) if c.name == heading(Panels.says)))
    desk.click(page._kinds.findChildren(PictureButton)[0])
    assert any("has not been measured" in f for f in desk.findings())
    path = tmp_path / "mask.svg"
    path.write_text(SHEET)
    take_from_file(desk.window.session, desk.window, path, drew="nothing", choose=lambda _: ALL)
    assert [p.letter for p in desk.window.session.job.thing.panels] == ["A", "B", "C"]
    assert "Taken: 3 outlines. There are 2 closed curves besides" in desk.window.notice.text()
    for k in range(3):
        high = desk.window.session.job.thing.panels[k].high.outline
        for turn in ("first", "second"):
            desk.type(f"thing.panels.{k}.high.{turn}", f"{high:.1f}")
    assert desk.findings() == []

    desk.station("draft")
    assert {f.code for f in desk.window.session.plan.holds} == {"piece-loose"}
    asked = [f for f in desk.findings() if "do they meet?" in f]
    assert len(asked) == 1
    _press(desk, "do they meet?", "edge to edge")
    _press(desk, "do they meet?", "edge to edge")
    meets = [{m.a[0], m.b[0]} for m in desk.window.session.job.piece.meets]
    assert meets in (
        [{"A", "B"}, {"B", "C"}],
        [{"B", "C"}, {"A", "B"}],
        [{"A", "C"}, {"A", "B"}],
        [{"A", "B"}, {"A", "C"}],
    )
    _press(desk, "hardly meant to meet", "ask about them too")
    _press(desk, "do they meet?", "no others meet")
    assert not [f for f in desk.findings() if "do they meet?" in f]
    assert desk.window.session.plan.holds == ()
    combo = desk.window.pages.station.board._combos["piece.meets.0.how"]
    combo.setCurrentIndex(combo.choices.index("by a lace"))
    combo.activated.emit(combo.currentIndex())
    assert desk.window.session.job.piece.meets[0].how == "laced"
    assert any("Lace of" in name for name in desk.slip())
    desk.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert desk.window.session.job.piece.meets[0].how == "butt"


def test_a_corner_is_put_where_the_outline_is_pointed_at_and_taken_away(desk: Desk) -> None:
    desk.open("waistcoat")
    desk.station("measure")
    board, session = desk.window.pages.station.board, desk.window.session
    before = session.job.thing.panels[0].corners
    QTest.mouseDClick(board, Qt.MouseButton.LeftButton, pos=board.transform().map(QPointF(240.0, 540.0)).toPoint())
    QApplication.processEvents()
    after = session.job.thing.panels[0].corners
    assert len(after) == len(before) + 1
    added = next(k for k, c in enumerate(after) if c.n not in {b.n for b in before})
    board.setFocus()
    while board.held != f"thing.panels.0.corners.{added}.at":
        desk.key(Qt.Key.Key_P)
    desk.key(Qt.Key.Key_Delete, Qt.KeyboardModifier.ControlModifier)
    assert [c.n for c in session.job.thing.panels[0].corners] == [c.n for c in before]


def test_the_holes_of_an_old_part_come_with_its_outline_and_are_moved_put_and_taken_away(
    desk: Desk, tmp_path: Path
) -> None:
    desk.open("staple-pouch")
    desk.station("measure")
    session, board = desk.window.session, desk.window.pages.station.board
    path = tmp_path / "part.svg"
    rows = "".join(f'<circle cx="{x}" cy="{y}" r="0.6"/>' for x in (6, 74) for y in range(10, 100, 5))
    path.write_text('<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="120mm" viewBox="0 0 100 120">'
                    f'<path d="M0,0 L80,0 L80,105 L0,105 Z"/>{rows}</svg>')  # fmt: skip
    take_from_file(session, desk.window, path, drew="nothing")
    part = session.job.thing.panels[2]
    assert len(part.holes) == 36
    assert "With 36 holes." in desk.window.notice.text()
    assert [v for name, v in desk.slip().items() if name.startswith("Holes along C")] == ["18", "18"]
    left = session.job.thing._lefts()[2]

    def at(x: float, y: float) -> QPoint:
        return board.transform().map(QPointF(left + x, y)).toPoint()

    QTest.mouseDClick(board, Qt.MouseButton.LeftButton, pos=at(40, 50))
    assert session.job.thing.panels[2].holes[-1] == pytest.approx((40, 50), abs=0.5)
    board.setFocus()
    while board.held != "thing.panels.2.holes.36":
        desk.key(Qt.Key.Key_P)
    desk.key(Qt.Key.Key_Right)
    assert session.job.thing.panels[2].holes[-1] == pytest.approx((40.5, 50), abs=0.6)
    desk.key(Qt.Key.Key_Delete, Qt.KeyboardModifier.ControlModifier)
    assert session.job.thing.panels[2].holes == part.holes


def test_a_glove_is_made_finger_by_finger_at_the_window(desk: Desk, tmp_path: Path) -> None:
    desk.open("bramble-glove")
    desk.station("measure")
    session, board = desk.window.session, desk.window.pages.station.board

    def high(piece: str) -> float:
        outline = session.plan.draft.piece(piece).outline
        return float(outline[outline[:, 0] < outline[:, 0].min() + 24.0, 1].min())

    desk.station("draft")
    before = high("panel-A")
    desk.station("measure")
    for turn in ("first", "second"):
        desk.type(f"thing.little.{turn}", "80")
    desk.station("draft")
    assert [v for name, v in desk.slip().items() if name.startswith("Little finger inside")] == ["84 mm", "84 mm"]
    assert high("panel-A") < before - 10.0
    desk.station("measure")

    def little() -> float:
        return next(f.from_mm for f in session.job.thing.panels[0].fingers if f.which == "little")

    k = next(k for k, f in enumerate(session.job.thing.panels[0].fingers) if f.which == "little")
    was = little()
    board.setFocus()
    while board.held != f"thing.panels.0.fingers.{k}.from_mm":
        desk.key(Qt.Key.Key_P)
    desk.key(Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert little() == pytest.approx(was + 5.0, abs=0.6), "on round it, up its side, which leans"
    desk.key(Qt.Key.Key_Delete, Qt.KeyboardModifier.ControlModifier)
    assert [f.which for f in session.job.thing.panels[0].fingers] == ["ring", "middle", "index", "thumb"]
    board.more.setFocus()
    name = next(c for path, c in board._combos.items() if path == "thing.panels.0.fingers.0.which")
    assert name.isVisible()
    name.setCurrentIndex(name.choices.index("little finger"))
    name.activated.emit(name.currentIndex())
    assert session.job.thing.panels[0].fingers[0].which == "little"

    path = tmp_path / "hand.svg"
    ring = session.job.thing.panels[1].ring
    path.write_text('<svg xmlns="http://www.w3.org/2000/svg" width="300mm" height="300mm" viewBox="0 0 300 300"><path d="M'
                    + " L".join(f"{x + 40},{y + 40}" for x, y in ring) + ' Z"/></svg>')  # fmt: skip
    take_from_file(session, desk.window, path, drew="nothing")
    assert {f.which for f in session.job.thing.panels[2].fingers} == {"thumb", "index", "middle", "ring", "little"}


def test_a_panel_that_was_traced_lying_another_way_is_turned_and_turned_over(desk: Desk) -> None:
    desk.open("waistcoat")
    desk.station("measure")
    session, board = desk.window.session, desk.window.pages.station.board
    control, shift = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
    before = session.job.thing.panels

    def lies(k: int) -> np.ndarray:
        return np.ptp(np.array(session.job.thing.panels[k].ring), axis=0)

    was = lies(1)
    board.fields["thing.panels.1.high.first"].setFocus()
    desk.key(Qt.Key.Key_R, control)
    assert lies(1) == pytest.approx(was[::-1], abs=0.02)
    assert session.job.thing.panels[0] == before[0]
    assert session.job.thing.panels[2] == before[2]
    board.setFocus()
    desk.key(Qt.Key.Key_Z, control)
    assert session.job.thing.panels == before
    while not (board.held or "").startswith("thing.panels.2.corners"):
        desk.key(Qt.Key.Key_P)
    desk.key(Qt.Key.Key_R, control | shift)
    mirrored = np.array(session.job.thing.panels[2].ring)[::-1]
    assert mirrored[:, 0] == pytest.approx(lies(2)[0] - np.array(before[2].ring)[:, 0], abs=0.02)
    desk.key(Qt.Key.Key_Period, control)
    assert lies(2)[0] > 1.01 * np.ptp(np.array(before[2].ring)[:, 0]), "a degree of so high a panel"
    desk.key(Qt.Key.Key_Comma, control)
    assert lies(2) == pytest.approx(np.ptp(np.array(before[2].ring), axis=0), abs=0.05)
    assert [w.says.template for w in board.scene.labels].count("outer side") == 3
    desk.open("laying-knife")
    desk.station("measure")
    desk.key(Qt.Key.Key_R, control)
    assert session.job.thing.body == "knife"
    assert not session.undo_name


def test_partner_edges_are_lit_together_on_both_their_panels_and_from_above(desk: Desk) -> None:
    desk.open("waistcoat")
    desk.station("draft")
    QTest.qWait(30)
    board, job = desk.window.pages.station.board, desk.window.session.job
    assert job is not None
    assert board.inset is not None, (board.width(), board.height())
    panels = [m for m in board.scene.marks if m.meaning == "cut" and m.id.startswith("panel-") and m.closed]
    for k, meet in enumerate(job.piece.meets):  # type: ignore[attr-defined]
        board.light(frozenset([f"meet-{k}"]))
        lit = [m for m in board.scene.marks if m.id in board.lit]
        on = {p.id for p in panels for m in lit
              if shapely.Polygon(p.line).buffer(0.5).covers(shapely.Point(m.line.mean(axis=0)))}  # fmt: skip
        assert on == {f"panel-{meet.a[0]}", f"panel-{meet.b[0]}"}
        assert f"meet-{k}" in {ready.mark.id for ready in board.corner._paintable}
    said = board.corner.accessibleName()
    assert said.startswith("Round the chest, from above")


def test_on_a_small_board_the_drawing_has_the_room(desk: Desk) -> None:
    desk.open("waistcoat")
    desk.station("draft")
    QTest.qWait(30)
    board, frame = desk.window.pages.station.board, desk.window.window_
    scale, wide = board.scale, frame.width()
    assert board.corner.isVisible()
    frame.resize(wide - 300, frame.height())
    QTest.qWait(30)
    assert not board.corner.isVisible()
    assert board.scale > 0.8 * scale, "what goes round from above gives way to it"
    frame.resize(wide, frame.height())
    QTest.qWait(30)
    assert board.corner.isVisible()
    assert board.scale == pytest.approx(scale, rel=0.05)


def test_a_meeting_that_is_made_stands_on_the_board_and_one_that_is_not_waits(desk: Desk) -> None:
    desk.open("waistcoat")
    desk.station("draft")
    session, board = desk.window.session, desk.window.pages.station.board
    combo = board._combos["piece.meets.0.how"]
    for how, at_rest in (("apart", False), ("over", True), ("apart", False), ("over", True)):
        session.do("meet", lambda j, how=how: change(j, "piece.meets.0.how", how))
        QTest.qWait(30)
        assert combo.isVisible() is at_rest
