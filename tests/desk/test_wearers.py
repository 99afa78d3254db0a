"""One job for several: measured one after the other, looked at in turn, at the window."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from tests.desk.conftest import Desk
from vow_line.desk.board.choice import Choice


def _whose(desk: Desk) -> Choice:
    board = desk.window.pages.station.board
    return next(c for c in board.findChildren(Choice) if c.isVisibleTo(board) and "Wren" in c.choices[-1])


def test_the_other_arm_is_measured_and_cut_with_the_first_and_taken_out_again(desk: Desk) -> None:
    desk.open("thorn-cuff")
    session, actions = desk.window.session, desk.window.actions_
    before = session.plan.layout.used_mm2
    assert not actions["turn-to"].isEnabled()
    actions["one-more"].trigger()
    QApplication.processEvents()
    assert session.station == "measure"
    assert session.job.wearer == 2
    assert session.job.thing.name == "left forearm, 2"
    assert any("has not been measured" in f for f in desk.findings())
    desk.station("draft")
    assert desk.window.pages.station.board.scene.waits
    session.do("named", lambda j: j.model_copy(update={"thing": j.thing.model_copy(update={"name": "Wren, right"})}))
    desk.station("measure")
    for k, girth in enumerate((176, 208, 262, 276)):
        for turn in ("first", "second"):
            desk.type(f"thing.stations.{k}.girth.{turn}", str(girth))
    assert not [f for f in session.plan.holds if f.station in ("measure", "draft")]
    assert before * 1.7 < session.plan.layout.used_mm2 < before * 2
    high = desk.slip()["Thickest"]
    combo = _whose(desk)
    combo.setFocus()
    combo.setCurrentIndex(0)
    combo.activated.emit(0)
    QApplication.processEvents()
    assert session.job.wearer == 1
    assert desk.slip()["Thickest"] != high
    desk.type("thing.stations.0.girth.first", "200")
    desk.key(Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert session.job.wearer == 2
    other = next(f for f in desk.findings() if f.startswith("left forearm: "))
    findings = desk.window.pages.station.findings
    findings.setFocus()
    findings.setCurrentIndex(findings.model().index(next(k for k, r in enumerate(findings.rows) if r.name == other), 0))
    desk.key(Qt.Key.Key_Return)
    assert session.job.wearer == 1, "going there takes that one in hand"
    actions["turn-to"].trigger()
    actions["one-fewer"].trigger()
    QApplication.processEvents()
    assert not session.job.others
    assert session.job.thing.name == "left forearm"
    session.undo()
    assert len(session.job.others) == 1


def test_what_is_vowed_for_three_is_looked_at_one_after_the_other(desk: Desk) -> None:
    desk.open("gang-cuffs")
    session = desk.window.session
    desk.station("vow")
    session.vow()
    QApplication.processEvents()
    desk.station("draft")
    combo = _whose(desk)
    assert combo.isEnabled()
    assert combo.choices == ["Perrin Oake's arm", "Linnet Marl's arm", "Wren Hollin's arm"]
    combo.setCurrentIndex(2)
    combo.activated.emit(2)
    QApplication.processEvents()
    assert session.job.wearer == 3
    assert session.job.vowed is not None
    desk.station("cut")
    rows = [r.name for r in desk.window.pages.station.slip.rows]
    for name in ("Perrin Oake", "Linnet Marl", "Wren Hollin"):
        assert any(f"wrap, {name}" in r for r in rows)
