"""A job for several wearers, sides or sizes: which of them is in hand, what is found for the others, one more and one fewer."""

from dataclasses import replace

from .errors import RefusedChange
from .finding import Finding, Mend
from .job import MOST_OTHERS, Job, Other, change, replaced
from .measure.readings import Reading, every_reading
from .texts import Said, said, tell


def turn_to(job: Job, number: int) -> Job:
    """The job with another of what it is made for in hand; nothing of what is made changes. Raises RefusedChange."""
    there = next((w for w in job.wearers if w.number == number), None)
    if there is None:
        raise RefusedChange(tell("There are not so many things measured."), "wearer")
    others = tuple(w for w in job.wearers if w.number != number)
    return job.model_copy(update={"thing": there.thing, "trials": there.trials, "wearer": number, "others": others})


OTHER = "others/"


def whose(job: Job, at: str) -> str:
    """The place that a finding is accepted at: for whom, where the job is for several."""
    if not job.others:
        return at
    return at if at.startswith(OTHER) else f"{OTHER}{job.wearer}/{at}"


def place_of(job: Job, at: str) -> tuple[int, str]:
    """For whom a finding is, by number, and the place it is about when that one is in hand."""
    if not at.startswith(OTHER):
        return job.wearer, at
    _, number, path = at.split("/", 2)
    return int(number), path


def of_other(finding: Finding, job: Job, number: int, name: Said) -> Finding:
    """What was found for another than the one in hand, as it is said beside what was found for that: its places are of that
    other, and so are the mends that change what was measured or tried.
    """
    k = next(k for k, w in enumerate(job.others) if w.number == number)

    def theirs(mend: Mend) -> Mend:
        changes = ((f"others.{k}.{path}" if path.split(".")[0] in ("thing", "trials") else path, value)
                   for path, value in mend.changes)  # fmt: skip
        return replace(mend, changes=tuple(changes))

    return replace(
        finding, at=f"{OTHER}{number}/{finding.at}", says=said("{name}: {says}", name=name, says=finding.says),
        mend=theirs(finding.mend) if finding.mend else None, others=tuple(theirs(m) for m in finding.others),
    )  # fmt: skip


def one_more(job: Job, *, name: str) -> Job:
    """The job for one wearer or size more, measured where the one in hand is, nothing of it read yet; it is then in hand.
    Raises RefusedChange.
    """
    if len(job.others) >= MOST_OTHERS:
        raise RefusedChange(tell("There are {n} of them already.", n=str(MOST_OTHERS + 1)), "others",
                            tell("Begin another job for more."))  # fmt: skip
    thing = change(job, "thing.name", name).thing
    for path, _ in every_reading(thing, "thing"):
        thing = replaced(thing, path.split(".")[1:], Reading(), path)
    used = [w.number for w in job.wearers] + [n for v in job.vows for n in (v.wearer, *(w.number for w in v.others))]
    new = Other(thing=thing, number=max(used) + 1)
    return turn_to(change(job, "others", (*job.others, new)), new.number)


def one_fewer(job: Job) -> Job:
    """The job without the wearer or size in hand; the one before is then. Raises RefusedChange where there is no other."""
    if not job.others:
        raise RefusedChange(tell("It is made for no other."), "others")
    before = [w for w in job.others if w.number < job.wearer]
    there = before[-1] if before else job.others[0]
    fewer = change(job, "others", tuple(w for w in job.others if w.number != there.number))
    return fewer.model_copy(update={"thing": there.thing, "trials": there.trials, "wearer": there.number})
