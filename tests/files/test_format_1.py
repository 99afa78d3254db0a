"""Jobs as format 1 wrote them still open, with everything in them, and plan as their twins of today do."""

import json
from pathlib import Path

import pytest

from vow_line.core.job import Job
from vow_line.core.plan import plan
from vow_line.files import dxf, svg
from vow_line.files.cutting_list import render as cutting_list
from vow_line.files.format_1 import upgrade
from vow_line.files.job_json import dump, load, read_job
from vow_line.files.plan_json import as_json
from vow_line.resources.demo import demo_jobs

KEPT = Path(__file__).parent / "format_1"
FORGOTTEN = {
    "edge/cap",
    "cut/frog",
    "edge/frog/around",
    "punch/frog/stud-hole",
    "punch/frog/closing-hole",
    "set/frog-stud",
    "turn/strip/halves",
    "turn/strip/seam",
}
FILES = sorted(p.name.removesuffix(".vow.json") for p in KEPT.glob("*.vow.json"))


def _old(name: str) -> Job:
    return read_job(KEPT / f"{name}.vow.json")


@pytest.mark.parametrize("name", sorted(demo_jobs().keys() & set(FILES)))
def test_a_demo_job_of_format_1_plans_and_exports_as_its_twin(name: str) -> None:
    old, twin = plan(_old(name)), plan(demo_jobs()[name])
    decided = ("thing", "trials", "leather", "piece", "ornaments", "stitch", "thread", "accepted", "promised", "name")
    assert all(getattr(old.job, f) == getattr(twin.job, f) for f in decided)
    assert {t.step for t in old.job.work.done} == {t.step for t in twin.job.work.done}
    one, other = ({s.seam: s.passes for s in p.job.work.sewn} for p in (old, twin))
    assert one == pytest.approx(other, abs=3), "as many passes as its seam had then"
    used = [{t.seam: t.cut_mm - t.left_mm for t in j.record.thread_left} for j in (old.job, twin.job)]
    assert used[0] == pytest.approx(used[1], rel=0.03), "as much is cut as is planned now; what was used is as it was"
    one, other = as_json(old), as_json(twin)
    for part in ("pieces", "joins", "seams", "thread", "findings"):
        assert one[part] == other[part], part
    assert (svg.render(old), dxf.render(old).count(b"\n")) == (svg.render(twin), dxf.render(twin).count(b"\n"))
    assert cutting_list(old) == cutting_list(twin)


@pytest.mark.parametrize("name", FILES)
def test_every_tick_every_seam_and_every_choice_finds_its_place(name: str) -> None:
    told = json.loads((KEPT / f"{name}.vow.json").read_text())
    assert told["format"] == 1
    job = _old(name)
    planned = plan(job)
    steps = {s.id for s in planned.work.steps}
    unknown = {t.step for t in job.work.done} - steps
    assert all("/strap" in s for s in unknown), "straps are one piece or several now, as they come out"
    if any(t["step"] == "finish" for t in told["work"]["done"]):
        assert steps - {t.step for t in job.work.done} <= FORGOTTEN, "only what format 1 forgot is left to do"
    seams = {s.id for s in planned.stitching.seams}
    named = [*job.work.sewn, *job.work.in_hand, *job.record.thread_left, *job.thread.own]
    assert {n.seam for n in named} <= seams
    pieces = {p.id for p in planned.draft.pieces}
    assert {o.piece for o in job.ornaments} <= pieces
    assert not [f for f in planned.findings if f.code in ("stitch-unknown", "ornament-nowhere")]
    assert load(dump(job), "again") == job


def test_what_was_accepted_stays_accepted() -> None:
    job = _old("sheath-accepted")
    assert {(a.code, a.at) for a in job.accepted} == {
        ("leather-too-small", "leather:belt-loop"),
        ("draw-out", "draw-out"),
    }
    assert "draw-out" not in {f.code for f in plan(job).holds}


def test_a_piece_that_became_two_keeps_its_minutes_once() -> None:
    done = _old("scabbard-done").work.done
    assert [t.minutes for t in done if t.step in ("cut/core-front", "cut/core-back")] == [4.0, None]


@pytest.mark.parametrize(
    "told", [{}, {"work": 3}, {"work": {"done": [{"step": 4}, 7]}}, {"ornaments": {"a": 1}}, {"piece": []}]
)
def test_an_upgrade_leaves_what_is_damaged_to_the_reader(told: dict[str, object]) -> None:
    upgrade({"format": 1, **told})
