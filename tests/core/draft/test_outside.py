"""The flesh side shown on purpose: said wherever a side is said, drawn on the other side, and nothing else changed."""

from datetime import datetime

import numpy as np
import pytest

from tests.jobs import demo, words
from vow_line.core.draft.ids import number_of
from vow_line.core.draft.ornament import Ornament
from vow_line.core.job import Job, change, mend
from vow_line.core.plan import Plan, plan
from vow_line.core.readback import read_back
from vow_line.core.steps import break_vow, ornament, tick, vow
from vow_line.core.work.recut import Verdict

NOON = datetime(2027, 3, 1, 12)
OTHER = {"grain": "flesh", "flesh": "grain"}
JOBS = [
    "laying-knife",
    "secateurs-holster",
    "whetstone-case",
    "thorn-cuff",
    "gaiter",
    "first-aid-pouch",
    "key-fob",
    "file-roll",
]


def fresh(name: str) -> Job:
    job = demo(name)
    return break_vow(job, at=NOON) if job.vowed else job


def both(name: str) -> tuple[Plan, Plan]:
    job = fresh(name)
    return plan(job), plan(change(job, "leather.outside", "flesh"))


@pytest.mark.parametrize("name", JOBS)
def test_every_piece_of_leather_lies_the_other_side_up_and_is_cut_and_sewn_as_before(name: str) -> None:
    grain, flesh = both(name)
    for was, now in zip(grain.draft.pieces, flesh.draft.pieces, strict=True):
        assert np.array_equal(was.outline, now.outline)
        assert now.side_up == (OTHER[was.side_up] if was.stock.sort == "leather" else was.side_up)
        if was.stock.sort == "leather":
            assert f"{now.side_up} side up" in words(now.way_up)
    assert flesh.threading.total_mm == grain.threading.total_mm
    assert [c.holds for c in flesh.checked] == [c.holds for c in grain.checked]
    told = [words(s.says) for s in read_back(flesh)]
    assert sum("flesh side up" in t for t in told) == sum("grain side up" in words(s.says) for s in read_back(grain))


@pytest.mark.parametrize("name", JOBS)
def test_the_made_thing_shows_its_other_side_and_its_heads_where_they_were(name: str) -> None:
    grain, flesh = both(name)
    for was, now in zip(grain.made.faces, flesh.made.faces, strict=True):
        assert [(m.id, OTHER.get(m.meaning, m.meaning)) for m in was.marks] == [(m.id, m.meaning) for m in now.marks]
        assert all(np.array_equal(a.line, b.line) for a, b in zip(was.marks, now.marks, strict=True))
    if grain.draft.turned is not None:
        one, other = grain.draft.turned.draw(0.4), flesh.draft.turned.draw(0.4)
        assert [OTHER.get(m.meaning, m.meaning) for m in one] == [m.meaning for m in other]


def test_what_is_stamped_or_folded_over_is_said_and_mended() -> None:
    job = change(ornament(fresh("secateurs-holster"), kind="stamped-area", piece="front"), "leather.outside", "flesh")
    found = next(f for f in plan(job).findings if f.code == "stamp-on-flesh")
    assert "stamp-on-flesh" not in {f.code for f in plan(mend(job, found.mend)).findings}
    says = {
        words(f.says)
        for f in plan(change(fresh("gaiter"), "leather.outside", "flesh")).findings
        if f.code == "over-flesh"
    }
    assert len(says) == 1
    assert "its grain side" in says.pop()


def test_a_lining_shows_its_grain_whatever_it_is_on() -> None:
    job = fresh("waistcoat")
    piece = plan(job).draft.pieces[0].id
    job = change(job, "ornaments", (Ornament.usual("lining", piece), Ornament.usual("binding", piece)))
    flesh = plan(change(job, "leather.outside", "flesh"))
    sides = {p.id: p.side_up for p in flesh.draft.pieces}
    assert {v for k, v in sides.items() if k.startswith(("lining", "binding"))} == {"grain"}
    assert sides[piece] == "flesh"


def test_what_was_cut_with_its_grain_up_is_cut_again() -> None:
    job = tick(vow(fresh("thorn-cuff"), at=NOON), step="cut/wrap", at=NOON)
    after: tuple[Verdict, ...] = plan(change(break_vow(job, at=NOON), "leather.outside", "flesh")).verdicts
    assert [(v.piece, v.says) for v in after] == [("wrap", "cut-again")]


@pytest.mark.parametrize("name", ["thorn-cuff", "gang-cuffs"])
def test_a_cuff_that_is_worked_wet_is_formed_when_there_is_something_to_form(name: str) -> None:
    planned = plan(change(fresh(name), "piece.formed", True))
    steps = [s.id for s in planned.work.steps]
    formed = [k for k, id in enumerate(steps) if id.startswith("form")]
    assert len(formed) == len(planned.job.wearers)
    for k in formed:
        number = number_of(steps[k])
        own = [n for n, id in enumerate(steps) if id.startswith(("cut/wrap", "punch/wrap")) and number_of(id) == number]
        assert max(own) < k
    dry = plan(change(fresh(name), "piece.formed", False))
    assert not [s for s in dry.work.steps if s.station == "form"]
