"""What follows from a job: the stages in order, each remembered by its inputs."""

from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache

from .draft import Draft
from .draft.kind import KindOfPiece
from .finding import Finding, Level, Station
from .job import Job
from .leather import Hide, Layout, lay_out
from .measure import Body, Knife
from .measure.body import Measured
from .reckoning import Said, count, said
from .record import Recorded, RecordEntries, record
from .stitch import StitchChoices, Stitching, stitch
from .thread import ThreadChoices, Threading, thread
from .work import Work, WorkChoices, plan_work
from .work.recut import Verdict, recut, recut_findings

REMEMBERED = 6  # results kept of each stage: what changed and what did not, not a history; undo plans again
STATIONS: tuple[Station, ...] = (
    "measure", "draft", "stitch", "thread", "layout", "cut", "form", "sew", "edge", "record",
)  # fmt: skip
_LEVELS: dict[Level, int] = {"hold": 0, "look": 1, "note": 2}


@dataclass(frozen=True, slots=True, eq=False)
class Plan:
    """A job and everything that follows from it. Later stages are None while an earlier one waits for input."""

    job: Job
    measured: Measured
    draft: Draft | None
    stitching: Stitching | None
    threading: Threading | None
    layout: Layout | None
    work: Work | None
    recorded: Recorded | None
    verdicts: tuple[Verdict, ...]
    findings: tuple[Finding, ...]

    @property
    def holds(self) -> tuple[Finding, ...]:
        """Holds neither mended nor accepted."""
        accepted = {(a.code, a.at) for a in self.job.accepted}
        return tuple(f for f in self.findings if f.level == "hold" and (f.code, f.at) not in accepted)

    def at(self, station: Station) -> tuple[Finding, ...]:
        """Findings of one station, holds first."""
        return tuple(f for f in self.findings if f.station == station)

    @property
    def standing(self) -> Station:
        """The station where the next thing is to be done."""
        job = self.job
        if job.record.closed:
            return "record"
        if self.work is None:
            return "measure"
        if not job.vowed:
            if self.holds:
                return min((f.station for f in self.holds), key=_place)
            return "vow"
        step = next((s for s in self.work.steps if not job.work.is_done(s.id)), None)
        return step.station if step else "record"

    @property
    def sewn(self) -> frozenset[Station]:
        """Stations that are done: left of the vow those with no hold before them, right of it those with no step left."""
        job, found = self.job, set[Station]()
        if job.vowed:
            found |= {"measure", "draft", "stitch", "thread", "layout", "vow"}
        elif self.work is not None:
            held = {f.station for f in self.holds}
            for station in STATIONS[:5]:
                if station in held:
                    break
                found.add(station)
        if job.vowed and self.work is not None:
            for station in STATIONS[5:9]:
                left = [s for s in self.work.steps if s.station == station and not job.work.is_done(s.id)]
                if not left and (self.work.at(station) or "cut" in found):  # type: ignore[arg-type]
                    found.add(station)
        if job.record.closed:
            found.add("record")
        return frozenset(found)

    @property
    def next(self) -> Said:
        """The next thing to do, in a line."""
        job = self.job
        if job.record.closed:
            return said("done, and recorded")
        if self.work is None or not job.vowed:
            if self.holds:
                return self.holds[0].says
            return said("read the plan back, and vow it")
        step = next((s for s in self.work.steps if not job.work.is_done(s.id)), None)
        if step is None:
            return said("write down what was left and how it fits")
        if step.id.startswith("sew/") and (done := job.work.passes(step.id[4:])):
            return said(f"{step.name}: {{n}} passes made", n=count(done))
        return said(step.name)


def _place(station: Station) -> int:
    return STATIONS.index(station) if station in STATIONS else 5


def plan(job: Job) -> Plan:
    """The plan of a job. Total: a job that loads always plans, and what is wrong with it is a finding."""
    measured = _measured(job.thing)
    if measured.body is None:
        findings = _sorted(measured.findings)
        return Plan(job, measured, None, None, None, None, None, None, (), findings)
    draft = _drafted(job.piece, measured.body, job.leather.thickness_mm)
    stitching = _stitched(draft, job.stitch)
    threading = _threaded(stitching, job.thread)
    layout = _laid_out(draft, job.leather)
    work = _worked(draft, stitching, threading, job.leather.thickness_mm, job.work, job.promised_at)
    recorded = _recorded(job.record, threading, work, job.work, job.thread.slack.value)
    verdicts: tuple[Verdict, ...] = ()
    if job.vows and job.work.done:
        old = job.vows[-1]
        body = _measured(old.thing).body
        if body is not None:
            verdicts = recut(_drafted(old.piece, body, old.leather.thickness_mm), draft, job.work)
            if job.vowed:
                verdicts = ()
    stages = (measured, draft, stitching, threading, layout, work, recorded)
    found = [f for stage in stages for f in stage.findings] + list(recut_findings(verdicts))
    return Plan(job, measured, draft, stitching, threading, layout, work, recorded, verdicts, _sorted(tuple(found)))


def _sorted(findings: tuple[Finding, ...]) -> tuple[Finding, ...]:
    return tuple(sorted(findings, key=lambda f: (_LEVELS[f.level], _place(f.station))))


@lru_cache(REMEMBERED)
def _measured(thing: Knife) -> Measured:
    return thing.measure()


@lru_cache(REMEMBERED)
def _drafted(piece: KindOfPiece, body: Body, leather_mm: float) -> Draft:
    return piece.draft(body, leather_mm)


@lru_cache(REMEMBERED)
def _stitched(draft: Draft, choices: StitchChoices) -> Stitching:
    return stitch(draft, choices)


@lru_cache(REMEMBERED)
def _threaded(stitching: Stitching, choices: ThreadChoices) -> Threading:
    return thread(stitching, choices)


@lru_cache(REMEMBERED)
def _laid_out(draft: Draft, hide: Hide) -> Layout:
    return lay_out(draft, hide)


@lru_cache(REMEMBERED)
def _worked(
    draft: Draft, stitching: Stitching, threading: Threading, leather_mm: float, choices: WorkChoices,
    promised: datetime | None,
) -> Work:  # fmt: skip
    return plan_work(draft, stitching, threading, leather_mm, choices, promised)


@lru_cache(REMEMBERED)
def _recorded(entries: RecordEntries, threading: Threading, work: Work, choices: WorkChoices, slack: float) -> Recorded:
    return record(entries, threading, work, choices, slack)
