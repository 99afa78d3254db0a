"""Several wearers, sides or sizes in one job: against the jobs that each would be by itself."""

import csv
import io
from dataclasses import fields, is_dataclass
from datetime import datetime
from typing import Any

import numpy as np
import pytest
import shapely

from tests.jobs import demo, read, words
from vow_line.core.draft.assembly import Assembly
from vow_line.core.draft.ids import base, own
from vow_line.core.draft.together import patterns
from vow_line.core.errors import RefusedChange
from vow_line.core.job import Job, change, mend
from vow_line.core.measure.things.limb import Limb
from vow_line.core.measure.things.tools import RollTool
from vow_line.core.plan import plan
from vow_line.core.quantity import Units
from vow_line.core.readback import read_back
from vow_line.core.record import RecordEntries
from vow_line.core.steps import accept, break_vow, tick, vow
from vow_line.core.wearers import one_fewer, one_more, turn_to
from vow_line.files import cutting_list

NOON = datetime(2027, 3, 1, 12)
JOBS = (
    "thorn-cuff", "gaiter", "goat-collar", "tool-sling", "secateurs-holster", "waistcoat", "laying-knife", "whetstone-case",
    "needle-case", "first-aid-pouch",
)  # fmt: skip


def fresh(name: str) -> Job:
    """A demo job before its vow, on leather enough for three."""
    job = demo(name)
    job = break_vow(job, at=NOON) if job.vowed else job
    job = job.model_copy(update={"record": RecordEntries(), "vows": ()})
    return change(job, "leather.outline", ((0, 0), (2800, 0), (2800, 1800), (0, 1800)))


def with_other(job: Job, thing: Any, name: str = "another") -> Job:
    """The job for one more, measured so; the first is in hand again."""
    more = change(one_more(job, name=name), "thing", thing.model_copy(update={"name": name}))
    return turn_to(more, 1)


def larger(limb: Limb, times: float, **named: object) -> Limb:
    stations = tuple(s.model_copy(update={"girth": read(round(s.girth.mean_mm * times, 1))}) for s in limb.stations)
    return limb.model_copy(update={"stations": stations, **named})


def ids_in(part: Any, path: str = "") -> dict[str, str]:
    """All texts in a part of an assembly that no maker reads, by where they stand."""
    if isinstance(part, str):
        return {path: part}
    found: dict[str, str] = {}
    if isinstance(part, tuple):
        for k, item in enumerate(part):
            found |= ids_in(item, f"{path}[{k}]")
    elif is_dataclass(part) and type(part).__name__ not in ("Said", "Mark", "Q"):
        for field in fields(part):
            found |= ids_in(getattr(part, field.name), f"{path}.{field.name}")
    return found


@pytest.mark.parametrize("name", JOBS)
def test_for_two_alike_all_is_twice_what_it_is_for_one_and_each_pattern_is_printed_once(name: str) -> None:
    job = fresh(name)
    one, two = plan(job), plan(with_other(job, job.thing))
    assert two.whole is not None
    for piece in one.draft.pieces:
        for number in (1, 2):
            assert np.array_equal(two.whole.piece(own(piece.id, number)).outline, piece.outline)
    assert len(two.whole.pieces) == 2 * len(one.draft.pieces)
    assert two.layout.used_mm2 == pytest.approx(2 * one.layout.used_mm2)
    assert len(two.layout.laid) == 2 * len(one.layout.laid)
    assert sorted(len(s.points) for s in two.sewing.seams) == sorted(2 * [len(s.points) for s in one.stitching.seams])
    assert two.threading.total_mm == pytest.approx(2 * one.threading.total_mm)
    assert {h.id: h.count for h in two.hardware} == {h.id: 2 * h.count for h in one.hardware}
    assert [(p.id, p.count) for p in patterns(two.whole)] == [(p.id, 2 * p.count) for p in one.draft.pieces]
    # each step of one is there for the other too, but what is done once for all
    steps, of_one = [s.id for s in two.work.steps], [s.id for s in one.work.steps]
    assert {s.replace("~2", "") for s in steps} == set(of_one)
    assert len(steps) > 2 * len(of_one) - 6
    assert two.work.checked.holds == one.work.checked.holds
    assert {(c.id, c.holds) for c in two.checked} == {(c.id, c.holds) for c in one.checked}
    assert not two.failures


@pytest.mark.parametrize("name", JOBS)
def test_nothing_of_one_wearer_names_what_is_another_ones(name: str) -> None:
    job = fresh(name)
    whole, first = plan(with_other(job, job.thing)).whole.assembly, plan(job).draft.assembly
    named = {p.id for p in first.pieces} | {j.id for j in first.joins} | {s.id for s in first.shells}
    for field in fields(Assembly):
        parts, ones = getattr(whole, field.name), getattr(first, field.name)
        assert len(parts) == 2 * len(ones)
        for was, part in zip(ones, parts[len(ones) :], strict=True):
            there, before = ids_in(part), ids_in(was)
            assert there.keys() == before.keys()
            for place, text in before.items():
                changed = there[place] == own(text, 2)
                kept = there[place] == text
                # what is not renamed is a word, or the name of what only its piece has: an edge, a seat, a hole
                assert changed or kept
                if place.startswith((".piece", ".pieces", ".shell", ".join", ".seam")) and text:
                    assert changed, place
                if kept and text in named:
                    assert place.rpartition(".")[2].partition("[")[0] in (
                        "part", "how", "sort", "shape", "way", "round", "open", "id", "holes", "edges", "beside", "stack_at",
                        "holds",
                    ) or place.endswith("[1]"), (place, text)  # fmt: skip


@pytest.mark.parametrize("name", ["thorn-cuff", "gaiter"])
def test_three_sizes_are_what_three_jobs_would_be_whichever_is_in_hand(name: str) -> None:
    job = fresh(name)
    things = [job.thing, larger(job.thing, 0.94, name="Wren"), larger(job.thing, 1.07, name="Ansel")]
    alone = [plan(change(job, "thing", t)) for t in things]
    three = with_other(with_other(job, things[1], "Wren"), things[2], "Ansel")
    told = []
    for number in (1, 2, 3):
        planned = plan(turn_to(three, number))
        told.append([s.says.write(Units()) for s in read_back(planned)])
        assert planned.draft is not None
        for mine, theirs in zip(planned.draft.pieces, alone[number - 1].draft.pieces, strict=True):
            assert np.array_equal(mine.outline, theirs.outline)
        assert planned.layout.used_mm2 == pytest.approx(sum(p.layout.used_mm2 for p in alone))
        assert planned.threading.total_mm == pytest.approx(sum(p.threading.total_mm for p in alone))
        assert not [f for f in planned.findings if f.level == "hold"]
    assert told[0] == told[1] == told[2]
    printed = patterns(plan(three).whole)
    wraps = [p for p in printed if base(p.id) == "wrap"]
    assert len(wraps) == 3
    assert {words(p.title) for p in wraps} == {f"wrap, {t.name}" for t in things}
    for piece in printed:  # what is the same for all three is one pattern, counted
        counted = piece.count == sum(a.draft.piece(base(piece.id)).count for a in alone)
        outlines = [a.draft.piece(base(piece.id)).outline for a in alone]
        off = max((float(np.abs(o - outlines[0]).max()) if o.shape == outlines[0].shape else 9.0) for o in outlines)
        assert counted is (off < 0.3)
    rows = list(csv.DictReader(io.StringIO(cutting_list.render(plan(three)).decode())))
    assert sum(int(r["count"]) for r in rows if r["what"] == "piece") == sum(
        p.count for a in alone for p in a.draft.pieces
    )


def test_of_the_other_side_what_is_left_or_right_is_a_pattern_of_its_own_the_rest_is_not() -> None:
    job = fresh("gaiter")
    job = change(job, "makes", {"count": 1})
    pair = plan(with_other(job, job.thing.model_copy(update={"side": "left"}), "left calf"))
    assert {p.id for p in pair.whole.pieces} == {"wrap", "tab", "billet", "wrap~2", "tab~2", "billet~2"}
    assert sorted((p.id, p.count // job.makes.count) for p in patterns(pair.whole) if "wrap" in p.id) == [
        ("wrap", 1),
        ("wrap~2", 1),
    ]
    assert [p.id for p in patterns(pair.whole) if "tab" in p.id] == ["tab"]


def test_what_is_wrong_for_another_is_said_by_name_and_mended_for_that_one() -> None:
    job = fresh("thorn-cuff")
    odd = change(with_other(job, job.thing, "Wren"), "others.0.thing.stations.1.girth.first", 900.0)
    codes = {(f.code, f.at) for f in plan(turn_to(odd, 2)).at("measure")}
    there = [f for f in plan(odd).at("measure") if f.at.startswith("others/2/")]
    assert {(f.code, f.at.removeprefix("others/2/")) for f in there if f.level != "note"} >= {
        (c, a) for c, a in codes if c == "spread"
    }
    assert all(words(f.says).startswith("Wren: ") for f in there)
    short = change(with_other(job, larger(job.thing, 0.5), "a child"), "piece.closed.gap_low_mm", 40.0)
    wide = next(f for f in plan(short).at("draft") if f.code == "gap-wide")
    assert wide.at.startswith("others/2/")
    assert "gap-wide" not in {f.code for f in plan(mend(short, wide.mend)).findings}


def test_a_hold_is_accepted_for_whom_it_was_whoever_is_in_hand() -> None:
    job = fresh("thorn-cuff")
    both = change(with_other(job, larger(job.thing, 0.5), "a child"), "piece.closed.gap_low_mm", 40.0)
    found = next(f for f in plan(both).holds if f.code == "gap-wide")
    taken = accept(both, code=found.code, at=found.at, reason="a doll's")
    assert "gap-wide" not in {f.code for f in plan(taken).holds}
    assert "gap-wide" not in {f.code for f in plan(turn_to(taken, 2)).holds}
    tight = change(taken, "piece.closed.gap_low_mm", 90.0)
    own_hold = [f for f in plan(tight).holds if f.code == "gap-wide"]
    assert [f.at.startswith("others/") for f in own_hold] == [False], "the first's own was not accepted"


def test_numbers_are_never_given_to_another_and_what_is_vowed_is_only_looked_at() -> None:
    job = fresh("thorn-cuff")
    three = with_other(with_other(job, job.thing, "Wren"), job.thing, "Ansel")
    fewer = one_fewer(turn_to(three, 2))
    assert [w.number for w in fewer.wearers] == [1, 3]
    assert fewer.wearer == 1
    vowed = vow(three, at=NOON)
    with pytest.raises(RefusedChange):
        one_fewer(vowed)
    with pytest.raises(RefusedChange):
        change(vowed, "others.0.thing.name", "x")
    looked = turn_to(vowed, 3)
    assert looked.thing.name == "Ansel"
    cut = tick(looked, step="cut/wrap~3", at=NOON)
    broken = break_vow(cut, at=NOON)
    wider = change(broken, "thing.stations.1.girth.first", broken.thing.stations[1].girth.first + 20)
    assert {v.piece: v.says for v in plan(wider).verdicts} == {"wrap~3": "cut-again"}
    assert not plan(turn_to(broken, 1)).verdicts or {v.says for v in plan(turn_to(broken, 1)).verdicts} == {
        "still-good"
    }
    gone = one_fewer(turn_to(broken, 3))
    assert one_more(gone, name="Hazel").wearer == 4, "three was cut for once"
    assert one_more(job, name="Wren").thing.stations[0].girth.first is None, "nothing of another is read yet"


def test_one_that_is_not_measured_waits_and_says_whose_readings_are_missing() -> None:
    job = turn_to(one_more(fresh("thorn-cuff"), name="Wren"), 1)
    planned = plan(job)
    assert planned.draft is not None
    assert planned.whole is None
    assert planned.work is None
    assert any(words(f.says).startswith("Wren: ") for f in planned.holds)
    assert not planned.failures


def test_what_is_sewn_elsewhere_is_another_pattern_though_it_is_cut_alike() -> None:
    """Two rolls for three tools each, as wide in all and as high, their pockets 28, 62 and 106 mm wide, and 58, 102 and 136."""
    job = fresh("file-roll")
    sizes = [(10.0, 40.0, 80.0), (40.0, 80.0, 10.0)]
    things = [
        job.thing.model_copy(
            update={"tools": tuple(RollTool(long=read(150), wide=read(w), thick=read(6)) for w in wide), "name": name}
        )
        for wide, name in zip(sizes, ("one", "other"), strict=True)
    ]
    alone = [plan(change(job, "thing", thing)) for thing in things]
    outlines = [p.draft.pieces[0].outline for p in alone]
    assert shapely.Polygon(outlines[0]).symmetric_difference(shapely.Polygon(outlines[1])).area < 1.0, "cut alike"
    both = plan(with_other(change(job, "thing", things[0]), things[1], "other"))
    printed = patterns(both.whole)
    names = [base(p.id) for p in printed]
    rows = [sorted(round(float(np.mean(s.on(0)[:, 0])), 0) for s in p.stitching.seams) for p in (*alone,)]
    assert rows[0] != rows[1]
    assert names.count(both.draft.pieces[0].id) == 2, "so each is printed"
    again = plan(with_other(change(job, "thing", things[0]), things[0].model_copy(update={"name": "twin"}), "twin"))
    assert len(patterns(again.whole)) == len(alone[0].draft.pieces), "and what is the same in all is printed once"
