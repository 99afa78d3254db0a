"""Random jobs over all kinds put through everything, in millimetres and in inches.

Each is proved or held; none may fail a stage. Half are plausible things with choices near the usual, half have a few numbers
anywhere in their bounds.
"""

import sys
import tempfile
from collections import Counter
from collections.abc import Iterator
from contextlib import suppress
from datetime import datetime
from pathlib import Path

import numpy as np
from pydantic import BaseModel

from tests.bodies import plausible
from tests.jobs import as_chosen, mended, met
from vow_line.core import steps
from vow_line.core.differences import differences
from vow_line.core.draft.kinds import KINDS
from vow_line.core.draft.kinds.panelled import Panelled
from vow_line.core.drawing import Mark
from vow_line.core.errors import RefusedChange, VowLineError
from vow_line.core.job import Job, Other, change, value_at
from vow_line.core.leather import Hide
from vow_line.core.measure import THINGS
from vow_line.core.plan import SUMMED, Plan, plan
from vow_line.core.quantity import Units
from vow_line.core.readback import read_back
from vow_line.core.stitch import StitchChoices
from vow_line.files import export
from vow_line.files.job_json import dump, load

from .trying import Tried, go_on, told

UNITS = Units()


def put_through(job: Job) -> Counter[str]:
    """The job through every stage: what it came to. Raises AssertionError where a stage fails or something cannot be said."""
    planned = plan(job)
    holds = [f for f in planned.findings if f.level == "hold"]
    for found in planned.findings:
        assert found.says.write(UNITS)
    for station in ("measure", "draft", "stitch", "thread", "layout", "vow", "record"):
        for line in planned.sums(station):  # type: ignore[arg-type]
            assert line.value.write(UNITS)
            assert "nan" not in line.sum.write(UNITS)
    for face in planned.made.faces if planned.made else ():
        assert all(np.isfinite(mark.line).all() for mark in face.marks)
    for mark in looked_at(planned):
        assert np.isfinite(mark.line).all()
    for spoken in read_back(planned):
        assert spoken.says.write(UNITS)
    assert not planned.failures, planned.failures[0].traceback
    loose = () if isinstance(job.piece, Panelled) else ("piece-loose",)  # whose edges may meet nothing
    assert not [f.at for f in planned.findings if f.code.startswith(("step-", *loose))], "steps are missing"
    proof = planned.proof
    if proof is None:
        assert holds, "what is not drafted says why"
        return Counter({"not drafted": 1})
    astray = {f.code for f in proof.findings if f.level == "hold"}
    assert all(c.holds for c in proof.checked) is not bool(astray)
    return Counter({"proved" if not astray else "held by the proof": 1, **{f"  {code}": 1 for code in astray}})


def looked_at(planned: Plan) -> Iterator[Mark]:
    """What a board draws besides the pieces: across the thing, worn, from above."""
    draft = planned.draft
    if draft is None:
        return
    if draft.section is not None:
        yield from draft.section(float(draft.pieces[0].outline[:, 1].mean())).marks
    if draft.turned is not None:
        yield from draft.turned.draw(0.4)
    seen = draft.from_above() if draft.from_above is not None else None
    if seen is not None:
        yield from seen.draw()[0]


def plausible_job(rng: np.random.Generator, n: int) -> Job:
    """A plausible thing, a kind that fits it, choices as they come, leather and holes at random."""
    kind = KINDS[n % len(KINDS)]
    tag = str(kind.model_fields["kind"].default)
    things = [t for t in THINGS if issubclass(t.gives, kind.fits)]
    hide = Hide(thickness_mm=round(float(rng.uniform(1.2, 4.5)), 1))
    tool = ("iron", "awl", "wheel")[int(rng.integers(3))]
    stitch = StitchChoices(pitch_mm=round(float(rng.uniform(2.5, 6)), 2), tool=tool)  # type: ignore[arg-type]
    thing = plausible(things[int(rng.integers(len(things)))], rng, tag)
    job = Job(name="plausible", thing=thing, piece=kind(kind=tag), leather=hide, stitch=stitch)
    others = tuple(Other(number=k, thing=plausible(type(thing), rng, tag)) for k in range(2, 2 + int(rng.integers(3))))
    job = as_chosen(met(job, rng), rng)
    return job.model_copy(update={"others": others}) if n % 4 == 3 else job


def odd_job(rng: np.random.Generator, n: int) -> Job:
    """A plausible job with a few of its numbers and choices anywhere in their bounds: odd, and yet most are drafted."""
    job = plausible_job(rng, n)
    for _ in range(int(rng.integers(1, 5))):
        places = [
            place for place in _places(job, "") if not place.startswith(("thing.outline", "leather.outline", "format"))
        ]
        place = places[int(rng.integers(len(places)))]
        now = value_at(job, place)
        times = float(rng.choice([0.0, 0.3, 0.7, 1.4, 3.0, -1.0, 20.0]))
        value = not now if isinstance(now, bool) else type(now)(now * times) if isinstance(now, int | float) else now
        with suppress(RefusedChange):
            job = change(job, place, value)
    return job


def _places(of: object, path: str) -> Iterator[str]:
    """Every place in a job where a number stands."""
    if isinstance(of, BaseModel):
        for name in type(of).model_fields:
            yield from _places(getattr(of, name), f"{path}.{name}" if path else name)
    elif isinstance(of, tuple):
        for k, one in enumerate(of):
            yield from _places(one, f"{path}.{k}")
    elif isinstance(of, int | float):
        yield path


def through_everything(job: Job, rng: np.random.Generator, folder: Path) -> None:
    """Every stage, mends, the vow, work, a broken vow, the record, every export, in mm and in inches."""
    put_through(job)
    job = mended(job)
    put_through(job)
    units = "in" if rng.random() < 0.5 else "mm"
    job = change(job, "unit", units)
    planned = plan(job)
    for station in SUMMED:
        for line in planned.sums(station):
            assert "nan" not in line.sum.write(job.units)
            assert "inf" not in line.value.write(job.units)
    for found in planned.findings:
        says = found.says.write(job.units)
        assert "nan" not in says.split()
        assert "inf" not in says.split()
    if planned.whole is not None and planned.sewing is not None:
        for written in export(planned, folder, "x"):
            assert written.stat().st_size
            written.unlink()
    at = datetime(2026, 3, 2, 18)
    try:
        job = steps.vow(job, at=at)
    except VowLineError:
        return
    work = plan(job).work
    for step in work.steps[: int(rng.integers(12))] if work else ():
        with suppress(VowLineError):
            job = steps.tick(job, step=step.id, at=at)
    planned = plan(job)
    assert not planned.failures, planned.failures[0].traceback
    if planned.threading and planned.threading.seams:
        seam = planned.threading.seams[0]
        job = steps.sew_to(job, seam=seam.seam.id, passes=int(rng.integers(len(seam.moves) + 1)))
        job = steps.note_left(job, seam=seam.seam.id, cut_mm=seam.total_mm, left_mm=seam.total_mm * 0.1)
    broken = steps.break_vow(job, at=at)
    for what in (job, broken):
        planned = plan(what)
        _ = planned.findings, planned.made, planned.recorded
        assert not planned.failures, planned.failures[0].traceback
        assert read_job_back(what) == what
    assert differences(job, job) == ()
    _ = differences(job, broken)


def read_job_back(job: Job) -> Job:
    """The job as it is after a file."""
    return load(dump(job), "here")


def trial(folder: Path, rng: np.random.Generator) -> Tried:
    """A job of some kind, plausible or odd."""
    odd = rng.random() < 0.5
    n = int(rng.integers(10_000))
    job = odd_job(rng, n) if odd else plausible_job(rng, n)
    what = "odd" if odd else "plausible"
    drafted = "" if plan(job).draft is not None else ", not drafted"
    return Tried(f"{what}{drafted}", dump(job), ".vow.json", lambda: through_everything(job, rng, folder), hangs=False)


if __name__ == "__main__":
    minutes, seed = told("soak jobs", sys.argv[1:])
    with tempfile.TemporaryDirectory() as made:
        sys.exit(int(go_on("jobs", lambda rng: trial(Path(made), rng), minutes, seed) > 0))
