"""The record of a job: what was left, what it took, what went wrong, beside what was planned."""

from dataclasses import dataclass
from statistics import geometric_mean
from typing import Annotated

from pydantic import Field

from ..finding import Finding
from ..frozen import Frozen
from ..reckoning import Reckoning, count, long, minutes, percent, reckon
from ..texts import said, several
from ..thread import Threading
from ..work import Work, WorkChoices
from .learn import learn

STRONG_DISAGREEMENT = 0.15  # a seam that used this much more or less than planned is pointed out, not swallowed


class ThreadLeft(Frozen):
    """Thread left over from a seam, both needles' ends together, and the length that was cut for it."""

    seam: str
    cut_mm: Annotated[float, Field(gt=0, le=100_000)]
    left_mm: Annotated[float, Field(ge=0, le=100_000)]


class Note(Frozen):
    """A line in the record: about the fit, a slip, an accepted hold."""

    about: Annotated[str, Field(max_length=200)]
    says: Annotated[str, Field(max_length=4000)]


class RecordEntries(Frozen):
    """What the maker wrote down when the job was done."""

    thread_left: Annotated[tuple[ThreadLeft, ...], Field(max_length=50)] = ()
    notes: Annotated[tuple[Note, ...], Field(max_length=200)] = ()
    closed: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class Recorded:
    """Sums of the record, and the observed ratio of thread used to the needles' path, by seam; those that disagree too strongly
    to be learned from are left out.
    """

    thread_ratios: tuple[tuple[str, float], ...]
    reckonings: tuple[Reckoning, ...]
    findings: tuple[Finding, ...]


def record(entries: RecordEntries, threading: Threading, work: Work, choices: WorkChoices, slack: float) -> Recorded:
    """Planned beside done. Never raises."""
    ratios: list[tuple[str, float]] = []
    reckonings: list[Reckoning] = []
    findings: list[Finding] = []
    by_id = {s.seam.id: s for s in threading.seams}
    for entry in entries.thread_left:
        sewn = by_id.get(entry.seam)
        if sewn is None:
            continue
        used = entry.cut_mm - entry.left_mm
        if used <= 0:
            findings.append(Finding(
                "look", "left-more-than-cut", "record",
                said("The {seam} left {left} of {cut}: no less than was cut.", left=long(entry.left_mm),
                     cut=long(entry.cut_mm), seam=sewn.seam.title), f"record/{entry.seam}",
            ))  # fmt: skip
            continue
        ratio = used / sewn.path_mm
        reckonings.append(reckon(
            f"{entry.seam}/used", said("Thread used, {seam}", seam=sewn.seam.title), long(used),
            said("{cut:n} cut − {left:n} left; {plan} was planned", cut=long(entry.cut_mm), left=long(entry.left_mm),
                 plan=long(sewn.path_mm + sewn.slack_mm)), (entry.seam,),
        ))  # fmt: skip
        if abs(ratio / (1 + slack) - 1) > STRONG_DISAGREEMENT:
            findings.append(Finding(
                "look", "thread-disagrees", "record",
                said("The {seam} used {share} of what was planned: that is not learned from. Check what was cut "
                     "and what was left.", share=percent(ratio / (1 + slack)), seam=sewn.seam.title), f"record/{entry.seam}",
            ))  # fmt: skip
        else:
            ratios.append((entry.seam, ratio))
    if ratios:
        learned = learn(1 + slack, [geometric_mean([r for _, r in ratios])])
        reckonings.append(reckon(
            "record/slack", said("Slack this job teaches"), percent(learned.factor - 1),
            several("from {n} seam, drawn toward {old}; the next job strays by {spread}",
                    "from {n} seams, drawn toward {old}; the next job strays by {spread}",
                    n=count(len(ratios)), old=percent(slack), spread=percent(learned.spread)),
        ))  # fmt: skip
    took = [(t, s) for t in choices.done if t.minutes for s in work.steps if s.id == t.step]
    if took:
        spent, planned = sum(t.minutes or 0 for t, _ in took), sum(s.minutes for _, s in took)
        reckonings.append(reckon("record/minutes", said("Minutes, where noted"), minutes(spent),
                            said("{plan} was planned for those steps", plan=minutes(planned))))  # fmt: skip
    reckonings.append(reckon("record/done", said("Steps done"), count(sum(choices.is_done(s.id) for s in work.steps)),
                        said("of {n}", n=count(len(work.steps)))))  # fmt: skip
    return Recorded(tuple(ratios), tuple(reckonings), tuple(findings))
