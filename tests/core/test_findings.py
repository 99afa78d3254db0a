"""What is wrong with a job is said with its numbers, at its place, and its mend mends it."""

import re
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings

from tests.jobs import any_job, demo, plain_job, read, words
from tests.many import examples
from vow_line.core import memory
from vow_line.core.errors import RefusedChange
from vow_line.core.finding import Finding, Mend
from vow_line.core.job import Job, change, mend, value_at
from vow_line.core.plan import plan
from vow_line.core.quantity import Units
from vow_line.core.stitch import Seam, StitchChoices, checks
from vow_line.core.texts import said

MM = Units()


def _found(job: Job, code: str) -> list[Finding]:
    return [f for f in plan(job).findings if f.code == code]


@settings(max_examples=examples(50))
@given(any_job)
def test_a_mend_never_breaks_a_job(job: Job) -> None:
    for found in plan(job).findings:
        if found.mend is not None:
            try:
                mended = mend(job, found.mend)
            except RefusedChange:
                continue
            assert plan(mended).standing


TROUBLES: tuple[tuple[str, Job, str], ...] = (
    ("seat-past-handle", plain_job(seat_mm=200), r"goes in 200 mm, but it is only 100 mm long"),
    ("edge-near-thread", plain_job(edge_to_thread_mm=2.0), r"2 mm from the cutting edge; 3 mm is the least"),
    ("welt-thin-inside", plain_job(edge_to_thread_mm=3.5), r"Only 2.5 mm of welt"),
    ("margin-too-wide", plain_job(margin_mm=58), r"58 mm is wider than the half piece"),
    ("squeeze", plain_job(mouth_ease_mm=-12), r"too tight: \d+(\.\d)? mm inside for \d+(\.\d)? mm"),
    ("readings-disagree", change(plain_job(), "thing.stations.0.width.second", 32.0), r"read as 30 mm and 32 mm"),
    ("spool-short", change(plain_job(), "thread.thread.left_mm", 500.0), r"want \d\.\d\d m; 50 cm is left"),
    ("thread-for-pitch", change(plain_job(), "thread.thread.diameter_mm", 1.5), r"1.5 mm is thick for a pitch"),
    ("stitch-unknown", change(plain_job(), "thread.stitch", "chain"), r"'chain' is not known"),
    (
        "length-past-reach",
        change(change(plain_job(), "thread.reach_mm", 200.0), "stitch.pitch_mm", 8.0),
        r"too few stitches to be",
    ),
)


@pytest.mark.parametrize(("code", "job", "says"), TROUBLES, ids=[t[0] for t in TROUBLES])
def test_each_trouble_says_its_numbers_at_a_place_in_the_job(code: str, job: Job, says: str) -> None:
    found = _found(job, code)
    assert found, {f.code for f in plan(job).findings}
    assert re.search(says, found[0].says.write(MM)), found[0].says.write(MM)
    value_at(job, found[0].at)
    assert " in" in found[0].says.write(Units("in")) or "'chain'" in found[0].says.write(MM)


@pytest.mark.parametrize(
    "code",
    [
        "seat-past-handle",
        "edge-near-thread",
        "welt-thin-inside",
        "margin-too-wide",
        "squeeze",
        "stitch-unknown",
        "length-past-reach",
    ],
)
def test_the_mend_of_a_trouble_cures_it(code: str) -> None:
    job = next(j for c, j, _ in TROUBLES if c == code)
    cure = _found(job, code)[0].mend
    assert cure is not None
    assert not _found(mend(job, cure), code)


def test_reading_again_empties_the_second_reading() -> None:
    job = change(plain_job(), "thing.stations.0.width.second", 35.0)
    again = _found(job, "readings-disagree")[0].mend
    assert again is not None
    assert mend(job, again).thing.stations[0].width.second is None


def test_an_iron_that_does_not_fit_offers_to_end_early() -> None:
    job = change(change(plain_job(), "stitch.remainder", "spread"), "stitch.teeth", (20,))
    early = 0
    for pitch in np.arange(2.6, 8.0, 0.3):
        struck = change(job, "stitch.pitch_mm", round(float(pitch), 1))
        for finding in _found(struck, "iron-does-not-fit"):
            assert "more than 0.3 mm in each strike" in finding.says.write(MM)
            if finding.mend and words(finding.mend.label) == "end the seam early":
                early += 1
                seam = dict(finding.says.values)["seam"]
                after = _found(mend(struck, finding.mend), "iron-does-not-fit")
                assert seam not in [dict(f.says.values)["seam"] for f in after]
    assert early


def test_holds_come_first_and_the_line_stands_at_the_first_of_them() -> None:
    planned = plan(demo("laying-knife"))
    levels = [f.level for f in planned.findings]
    assert levels == sorted(levels, key=["hold", "look", "note"].index)
    assert planned.standing == "draft"
    assert planned.sewn == {"measure"}
    assert plan(demo("grafting-knife")).sewn >= {"vow", "cut", "sew", "edge", "record"}


def test_a_missing_reading_leaves_later_stations_waiting_not_failing() -> None:
    job = change(plain_job(), "thing.length", read(0).model_copy(update={"first": None, "second": None}))
    planned = plan(job)
    assert [planned.draft, planned.stitching, planned.threading, planned.work] == [None] * 4
    assert [f.code for f in planned.holds] == ["reading-missing"]
    assert planned.standing == "measure"
    assert planned.measured.marks


def test_mends_that_are_offered_are_looked_for_once_when_they_are_asked_for() -> None:
    asked: list[int] = []
    mends = tuple(Mend(said(word), (("stitch.pitch_mm", 3.0),)) for word in ("one", "two"))

    def offers() -> tuple[Mend, ...]:
        asked.append(1)
        return mends

    plain = Finding("note", "a-code", "stitch", said("so it is"), "stitch.pitch_mm")
    late = plain.offering(offers)
    assert not asked
    assert late.says == plain.says
    assert (late.mend, late.others, late.mends) == (mends[0], mends[1:], mends)
    assert replace(late, at="elsewhere").mends == mends
    assert late == replace(plain, mend=mends[0], others=mends[1:])
    assert asked == [1]
    assert plain.offering(lambda: ()).mends == ()


def test_a_plan_looks_for_no_mend_of_an_iron_before_it_is_asked_for(monkeypatch: pytest.MonkeyPatch) -> None:
    tried: list[str] = []
    runs = checks._runs

    def counted(seam: Seam, choices: StitchChoices, **other: object) -> object:
        tried.append(seam.id)
        return runs(seam, choices, **other)

    monkeypatch.setattr(checks, "_runs", counted)
    memory.forget()
    [left] = _found(demo("laying-knife"), "iron-remainder")
    assert not tried
    assert [m.label.write(Units()) for m in left.mends][:2] == [
        "share it between both ends", "lose it in the last strikes",
    ]  # fmt: skip
    assert tried
