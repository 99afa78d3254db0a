"""`./run soak`: random jobs over all kinds put through every stage and the proof, seeded, saying what was tried.

Each is proved or held; none may fail a stage. Half are plausible things with choices near the usual, half as odd as a job file
can be.
"""

import argparse
import sys
import time
from collections import Counter
from collections.abc import Iterator

import numpy as np
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import seed as seeded

from tests.bodies import plausible
from tests.jobs import any_job, as_chosen, met
from vow_line.core.draft.kinds import KINDS
from vow_line.core.draft.kinds.panelled import Panelled
from vow_line.core.drawing import Mark
from vow_line.core.job import Job, Other
from vow_line.core.leather import Hide
from vow_line.core.measure import THINGS
from vow_line.core.plan import Plan, plan
from vow_line.core.quantity import Units
from vow_line.core.readback import read_back
from vow_line.core.stitch import StitchChoices

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


def main(arguments: list[str]) -> int:
    """Try so many jobs; the exit status is 1 when one failed."""
    parser = argparse.ArgumentParser(prog="./run soak")
    parser.add_argument("n", type=int, nargs="?", default=5000)
    parser.add_argument("--seed", type=int, default=1)
    told = parser.parse_args(arguments)
    rng, begun = np.random.default_rng(told.seed), time.monotonic()
    met: dict[str, Counter[str]] = {"plausible": Counter(), "odd": Counter()}

    def tried(sort: str, job: Job) -> None:
        try:
            met[sort].update(put_through(job))
        except Exception as error:
            met[sort]["failed"] += 1
            print(f"failed, {error}\n{job.model_dump_json()}", flush=True)

    for n in range(told.n // 2):
        tried("plausible", plausible_job(rng, n))

    @seeded(told.seed)
    @settings(
        max_examples=told.n - told.n // 2,
        database=None,
        deadline=None,
        phases=(Phase.generate,),
        suppress_health_check=list(HealthCheck),
    )
    @given(any_job)
    def odd_jobs(job: Job) -> None:
        tried("odd", job)

    odd_jobs()
    for sort, came in met.items():
        jobs = sum(count for what, count in came.items() if not what.startswith(" "))
        print(f"{jobs} {sort} jobs, seed {told.seed}: {dict(came)}")
    failed = sum(came["failed"] for came in met.values())
    print(f"{failed} failed, {time.monotonic() - begun:.0f} s in all")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
