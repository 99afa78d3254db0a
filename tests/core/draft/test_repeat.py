"""Several of one thing: counted everywhere, drafted once, every second one turned over where they are pairs."""

import numpy as np
import pytest

from tests.jobs import demo, words
from vow_line.core.curve import frozen
from vow_line.core.draft.pieces import Edge, Piece, edged, leather
from vow_line.core.draft.repeat import Makes, own_mirror
from vow_line.core.job import change
from vow_line.core.plan import Plan, plan
from vow_line.core.readback import read_back
from vow_line.core.steps import vow
from vow_line.core.texts import said
from vow_line.core.work.hardware import hardware


def made(name: str, n: int, each: str = "alike") -> Plan:
    return plan(change(demo(name), "makes", Makes(count=n, each=each)))  # type: ignore[arg-type]


@pytest.mark.parametrize("name", ["thorn-cuff", "goat-collar", "key-fob", "secateurs-holster"])
def test_three_of_it_are_three_times_the_leather_the_hardware_and_the_hands_but_one_pattern(name: str) -> None:
    if demo(name).vowed:
        name = "tool-sling"  # what is vowed is not made more of
    one, three = plan(demo(name)), made(name, 3)
    for a, b in zip(one.draft.pieces, three.draft.pieces, strict=True):
        assert b.count == 3 * a.count
        assert b.outline is a.outline
    assert three.layout.used_mm2 == pytest.approx(3 * one.layout.used_mm2)
    assert len(three.layout.laid) == 3 * len(one.layout.laid)
    owned = [{h.id: h.count for h in hardware(p.draft.assembly, p.measured.body)} for p in (one, three)]
    assert owned[1] == {id: 3 * n for id, n in owned[0].items()}
    # what is taken up once for all of a sort is not taken up three times; all else is
    hands = [sum(s.minutes for s in p.work.steps) for p in (one, three)]
    assert 2.5 * hands[0] < hands[1] <= 3 * hands[0] + 1e-6
    assert [s.id for s in three.work.steps] == [s.id for s in one.work.steps]
    assert {c.id: c.holds for c in three.proof.checked} == {c.id: c.holds for c in one.proof.checked}
    assert three.threading.total_mm == one.threading.total_mm, "lengths are told for one"
    assert any("3 are made" in words(s.says) for s in read_back(three))


def test_of_pairs_every_second_piece_is_laid_turned_over() -> None:
    pair = made("thorn-cuff", 4, "in-pairs")
    laid = [k for k in pair.layout.laid if k.piece == "wrap"]
    assert [k.copy for k in laid] == [0, 1, 2, 3]
    cut = pair.draft.piece("wrap").outline

    def turned(ring: np.ndarray) -> bool:
        """Whether a ring runs round the other way than the pattern does."""
        x, y = ring.T
        u, v = cut.T
        areas = [float(np.dot(a, np.roll(b, -1)) - np.dot(b, np.roll(a, -1))) for a, b in ((x, y), (u, v))]
        return bool(areas[0] * areas[1] < 0)

    assert [turned(k.outline) for k in laid] == [False, True, False, True]
    assert "every second one turned over" in words(pair.draft.piece("wrap").way_up)


def test_the_spool_must_hold_enough_for_all_of_them() -> None:
    job = change(demo("thorn-cuff"), "thread.thread.left_mm", 3000.0)
    assert "spool-short" not in {f.code for f in plan(job).findings}
    assert "spool-short" in {f.code for f in plan(change(job, "makes", Makes(count=4))).findings}


def test_how_many_are_made_is_vowed_too() -> None:
    from datetime import datetime

    vowed = vow(change(demo("thorn-cuff"), "makes", Makes(count=2)), at=datetime(2027, 1, 5))
    with pytest.raises(Exception, match="vowed"):
        change(vowed, "makes.count", 3)


def test_a_piece_off_its_mirror_image_by_less_than_counts_is_that_all_the_same() -> None:
    notch = np.array([[0.0, 0.0], [99.5, 0.0], [99.5, 0.5], [100.0, 0.5], [100.0, 60.0], [0.0, 60.0]])
    corner = np.array([[0.0, 0.0], [80.0, 0.0], [80.0, 20.0], [100.0, 20.0], [100.0, 60.0], [0.0, 60.0]])
    for ring, same in ((notch, True), (corner, False)):
        outline, edges = edged(Edge("around", said("around"), frozen(ring), "free"))
        assert own_mirror(Piece("x", said("x"), outline, edges, leather(2.0))) == same
