"""What follows from a job: the stages in order, each remembered by its inputs."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime
from functools import partial
from traceback import format_exc
from typing import TypeVar

import shapely

from .curve import Line, frozen
from .draft import Draft
from .draft.drafted import For
from .draft.kind import KindOfPiece
from .draft.ornament import Ornament, ornamented
from .draft.outside import flesh_out
from .draft.repeat import Makes, repeated
from .draft.together import together
from .finding import Finding, Level, Mend, Station
from .job import MOST_OTHERS, Job, Other, Vow, vow_when_cut
from .leather import Hide, Layout, lay_out
from .made import Made, made
from .measure import Body, Measured, Thing, Trial, corrected
from .measure.body import Side
from .measure.readings import aged
from .memory import cached_property, remembered
from .proof import Checked, Proof, prove
from .reckoning import Reckoning, count
from .record import Recorded, RecordEntries, record
from .stitch import StitchChoices, Stitching, stitch
from .texts import Said, said, verbatim
from .thread import ThreadChoices, Threading, thread
from .wearers import of_other, turn_to, whose
from .work import Work, WorkChoices, plan_work
from .work.choices import Spoiled
from .work.hardware import Hardware, hardware
from .work.recut import Planned, Verdict, recut, recut_findings

STATIONS: tuple[Station, ...] = (
    "measure", "draft", "stitch", "thread", "layout", "cut", "form", "sew", "edge", "record",
)  # fmt: skip
SUMMED: dict[Station, str] = {
    "measure": "measured", "draft": "draft", "stitch": "stitching", "thread": "threading", "layout": "layout",
    "vow": "work", "record": "recorded",
}  # fmt: skip
"""The stations that have sums, and the stage each takes them from."""
_VOW: Station = "vow"
MOVED_MM = 0.05  # an outline that moved by less is as it was
_LEVELS: dict[Level, int] = {"hold": 0, "look": 1, "note": 2}


@dataclass(frozen=True)
class Failure:
    """A stage that raised all the same: which, and the traceback for the log."""

    station: Station
    error: str
    traceback: str


Result = TypeVar("Result")


class Plan:
    """A job and everything that follows from it. Later stages are None while an earlier one waits for input.

    Each stage is worked out when it is first looked at, and remembered by its inputs: a board that is being edited waits
    for what it shows and no more. One that raises all the same is caught, becomes a hold, and leaves the rest alive.
    """

    def __init__(self, job: Job) -> None:
        self.job = job
        self.failures: list[Failure] = []

    def _safely(self, station: Station, do: Callable[[], Result], instead: Result) -> Result:
        """The one place where an error of a stage is caught."""
        try:
            return do()
        except Exception as error:  # noqa: BLE001 - a job that loads always plans; what went wrong is a hold, and logged
            failure = Failure(station, f"{type(error).__name__}: {error}", format_exc())
            if (station, failure.error) not in {(f.station, f.error) for f in self.failures}:
                self.failures.append(failure)
            return instead

    @cached_property
    def measured(self) -> Measured:
        """What measuring gave."""
        return self._safely("measure", lambda: _measured(self.job.thing), Measured(None, (), (), tuple, ()))

    @cached_property
    def body(self) -> Body | None:
        """The body as it was measured, with what trials have taught."""
        return self._safely("measure", lambda: self._body(self.job.trials), None)

    def _body(self, trials: tuple[Trial, ...]) -> Body | None:
        job = self.job
        return _corrected(
            self.measured.body, trials, tuple(job.piece.turns.items()), job.piece.neutral * job.leather.thickness_mm
        )

    @cached_property
    def tried(self) -> tuple[tuple[Said, float], ...] | None:
        """What the latest trial that stands changed: pieces, and how far their outlines moved at most, mm. None where no
        correction stands.
        """
        stand = [t for t in self.job.trials if not t.taken_back and any(c.by_mm is not None for c in t.corrections)]
        before = self._body(tuple(t for t in self.job.trials if not stand or t is not stand[-1]))
        if not stand or not self.fits or not isinstance(before, self.job.piece.fits):
            return None
        drafts = [self._drafted(body) for body in (before, self.body)]
        outlines = {p.id: p.outline for p in drafts[0].pieces}
        moved = [(p.title, _apart(p.outline, outlines[p.id])) for p in drafts[1].pieces if p.id in outlines]
        return tuple((title, by) for title, by in moved if by > MOVED_MM)

    @cached_property
    def draft(self) -> Draft | None:
        """The pieces and seam lines."""
        job = self.job
        if not self.fits:
            return None
        return self._safely(
            "draft",
            lambda: repeated(
                _shown(_ornamented(self._drafted(self.body), job.ornaments), job.leather.outside, job.ornaments),
                job.makes,
            ),
            None,
        )

    @cached_property
    def _others(self) -> dict[int, "Plan"]:
        """The plans for the others that it is made for, by number."""
        return {w.number: Plan(turn_to(self.job, w.number)) for w in self.job.others}

    @property
    def each(self) -> tuple[tuple[int, "Plan"], ...]:
        """The plan for each of those it is made for, by number, in order; each is looked at no farther than its stitching."""
        return tuple(sorted({**self._others, self.job.wearer: self}.items()))

    def name_of(self, number: int) -> Said:
        """What the wearer or size of that number is called; with the number where another is called so too."""
        names = {w.number: w.thing.name for w in self.job.wearers}
        name = names[number]
        return verbatim(name) if list(names.values()).count(name) == 1 else said("{name} {n}", name=name, n=number)

    @cached_property
    def whole(self) -> Draft | None:
        """All that is cut and sewn: what is drafted for each of those it is made for."""
        if not self.job.others:
            return self.draft
        drafts = {number: plan.draft for number, plan in self.each}
        if None in drafts.values():
            return None
        each = [For(k, self.name_of(k), draft) for k, draft in drafts.items() if draft is not None]
        return self._safely("draft", lambda: together(each), None)

    @cached_property
    def sewing(self) -> Stitching | None:
        """Holes, strikes and stacks of all that is sewn."""
        whole = self.whole
        if whole is self.draft:
            return self.stitching
        return self._safely("stitch", lambda: _stitched(whole, self.job.stitch), None) if whole else None

    @cached_property
    def hardware(self) -> tuple[Hardware, ...]:
        """What is taken from the drawer, for all of those it is made for."""
        found: dict[tuple[str, Said], Hardware] = {}
        for _, plan in self.each:
            for one in hardware(plan.draft.assembly, plan.measured.body) if plan.draft else ():
                key = one.id, one.says
                found[key] = replace(one, count=one.count + (found[key].count if key in found else 0))
        return tuple(found.values())

    def _drafted(self, body: Body | None) -> Draft:
        return _drafted(self.job.piece, body, self.job.leather.thickness_mm)

    @cached_property
    def _unsuited(self) -> tuple[Finding, ...]:
        """What is wrong with the leather for what is drafted: it may take longer than a frame, so it is not in the draft."""
        leather = self.job.leather
        if self.draft is None:
            return ()
        return self._safely(
            "draft", lambda: _suited(self.job.piece, self.body, leather.thickness_mm, leather.tannage), ()
        )

    @property
    def fits(self) -> bool:
        """Whether there is a body, of a shape that this kind of piece is drafted for."""
        return isinstance(self.body, self.job.piece.fits)

    @cached_property
    def stitching(self) -> Stitching | None:
        """Holes, strikes and stacks."""
        draft = self.draft
        return self._safely("stitch", lambda: _stitched(draft, self.job.stitch), None) if draft else None

    @cached_property
    def proof(self) -> Proof | None:
        """The pieces put together and checked, whatever drafted them."""
        draft, stitching = self.draft, self.stitching
        if draft is None or stitching is None:
            return None

        def proved() -> Proof:
            proof = _proved(draft, stitching, self.body)
            assert proof.checked  # every check is made here, where what it raises is caught
            return proof

        return self._safely("draft", proved, None)

    @cached_property
    def _besides(self) -> tuple[Finding, ...]:
        """What the proof found that was not said before it."""
        if self.draft is None or self.stitching is None or self.proof is None:
            return ()
        return self.proof.besides((*self.draft.findings, *self.stitching.findings))

    @property
    def checked(self) -> tuple[Checked, ...]:
        """All that was put together and checked, in order: the pieces, and that the steps make all of them."""
        made = (self.work.checked,) if self.work else ()
        if not self.job.others:
            return (*(self.proof.checked if self.proof else ()), *made)
        each = (
            replace(c, title=said("{title}, {name}", title=c.title, name=self.name_of(number)))
            for number, plan in self.each for c in (plan.proof.checked if plan.proof else ())
        )  # fmt: skip
        return (*each, *made)

    @cached_property
    def threading(self) -> Threading | None:
        """Moves and lengths of thread, of all that is sewn."""
        stitching = self.sewing
        return self._safely("thread", lambda: _threaded(stitching, self.job.thread), None) if stitching else None

    @cached_property
    def made(self) -> Made | None:
        """The finished thing from either side; it is worked out where it is looked at."""
        draft, stitching = self.draft, self.stitching
        if draft is None or stitching is None:
            return None
        made = self._safely("vow", lambda: _made(draft, _threaded(stitching, self.job.thread), self.body), None)
        if made is None or not self.job.others:
            return made
        name = self.name_of(self.job.wearer)
        front, back = (replace(f, title=said("{title}, {name}", title=f.title, name=name)) for f in made.faces)
        return replace(made, faces=(front, back))

    @cached_property
    def layout(self) -> Layout | None:
        """The pieces on the leather."""
        draft = self.whole
        return (
            self._safely("layout", lambda: _laid_out(draft, self.job.leather, self.job.work.spoiled), None)
            if draft
            else None
        )

    @cached_property
    def work(self) -> Work | None:
        """The steps in order and in the maker's hours."""
        draft, stitching, threading, job = self.whole, self.sewing, self.threading, self.job
        if draft is None or stitching is None or threading is None:
            return None
        return self._safely(
            "vow",
            lambda: _worked(
                draft, stitching, threading, job.leather.thickness_mm, job.work, job.promised_at, job.leather.tannage
            ),
            None,
        )

    @cached_property
    def recorded(self) -> Recorded | None:
        """Planned beside done."""
        threading, work, job = self.threading, self.work, self.job
        if threading is None or work is None:
            return None
        return self._safely(
            "record", lambda: _recorded(job.record, threading, work, job.work, job.thread.slack.value), None
        )

    def sums(self, station: Station) -> tuple[Reckoning, ...]:
        """The sums of a station; none where it waits."""
        stage = getattr(self, SUMMED[station])
        return self._safely(station, lambda: stage.reckonings if stage else (), ())

    @cached_property
    def verdicts(self) -> tuple[Verdict, ...]:
        """What becomes of pieces cut under a vow that was broken, until they are cut again or ticked off anew."""
        new = self.sewing
        if new is None:
            return ()

        def compared() -> tuple[Verdict, ...]:
            by_vow: dict[int, list[str]] = {}
            for piece in new.draft.pieces:
                if (vow := vow_when_cut(self.job, piece.id)) is not None:
                    by_vow.setdefault(self.job.vows.index(vow), []).append(piece.id)
            verdicts: list[Verdict] = []
            for k, pieces in by_vow.items():
                vow = self.job.vows[k]
                if (old := self._as_vowed(vow)) is not None:
                    now = Planned(new, self.job.leather.tannage)
                    verdicts += recut(Planned(old, vow.leather.tannage), now, pieces, self.job.work)
            order = [p.id for p in new.draft.pieces]
            return tuple(sorted(verdicts, key=lambda v: order.index(v.piece)))

        return self._safely("cut", compared, ())

    def _as_vowed(self, vow: Vow) -> Stitching | None:
        """The stitching a vow was taken on."""
        then = {name: getattr(vow, name) for name in
                ("thing", "trials", "others", "wearer", "leather", "piece", "ornaments", "stitch")}  # fmt: skip
        return Plan(self.job.model_copy(update={**then, "makes": vow.makes or self.job.makes})).sewing

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """All that was found, holds first."""
        findings = [f for station in (*STATIONS, _VOW) for f in self.at(station)]
        return tuple(sorted(findings, key=lambda f: (_LEVELS[f.level], _place(f.station))))

    def at(self, station: Station) -> tuple[Finding, ...]:
        """Findings of one station, holds first; no stage is worked out that has nothing to say there."""
        nothing: tuple[Finding, ...] = ()
        findings = self._safely(station, lambda: self._at(station), nothing)
        findings += tuple(_failed(f) for f in self.failures if f.station == station)
        if self.job.others and station in ("measure", "draft", "stitch"):
            findings += self._of_others(station, findings)
        return tuple(sorted(findings, key=lambda f: _LEVELS[f.level]))

    def _of_others(self, station: Station, own: tuple[Finding, ...]) -> tuple[Finding, ...]:
        """What is wrong for the others, by name, where it is not the same as for the one in hand."""
        said_of, found, nothing = {(f.code, f.says) for f in own}, list[Finding](), tuple[Finding, ...]()
        for number, plan in self._others.items():
            there = plan._safely(station, partial(plan._at, station), nothing)
            there += tuple(_failed(f) for f in plan.failures if f.station == station)
            for f in there:
                if f.level != "note" and (f.code, f.says) not in said_of:
                    found.append(of_other(f, self.job, number, self.name_of(number)))
        return tuple(found)

    def _at(self, station: Station) -> tuple[Finding, ...]:
        findings: tuple[Finding, ...] = ()
        match station:
            case "measure":
                begins = self.job.work.begins
                findings = self.measured.findings + (aged(self.job.thing, begins.date()) if begins else ())
                findings += self._one_sided()
            case "draft":
                findings = self.draft.findings if self.draft else () if self.fits else self._unfit()
                findings = tuple(f for f in findings if f.station == "draft")
                findings += self._unsuited
                findings += tuple(f for f in self._besides if f.station == "draft")
            case "stitch":
                findings = self.stitching.findings if self.stitching else ()
                findings += tuple(f for f in self._besides if f.station == "stitch")
            case "thread":
                findings = self.threading.findings if self.threading else ()
            case "layout":
                findings = self.layout.findings if self.layout else ()
                findings += tuple(f for f in (self.draft.findings if self.draft else ()) if f.station == "layout")
            case "vow":
                findings = self.work.findings if self.work else ()
            case "cut":
                findings = self._recut() if self.verdicts else ()
            case "record":
                findings = self.recorded.findings if self.recorded else ()
        return findings

    def _one_sided(self) -> tuple[Finding, ...]:
        """A pair that is made by the readings of one side."""
        job, other = self.job, self.job.thing.other_side()
        if other is None or job.makes.each != "in-pairs" or job.makes.count < 2 or self.measured.body is None:
            return ()
        both = Other(number=max(w.number for w in job.wearers) + 1, thing=other)
        read = (("others", (*job.others, both)), ("makes", Makes(count=max(job.makes.count // 2, 1))))
        return (Finding(
            "look", "one-side-read", "measure",
            said("A pair is made by the readings of one side: the other is taken to be its mirror image."), "thing.side",
            Mend(said("read the other too"), read) if len(job.others) < MOST_OTHERS else None,
        ),)  # fmt: skip

    def _recut(self) -> tuple[Finding, ...]:
        cut: dict[str, Line] = {}
        for piece in {v.piece for v in self.verdicts}:
            vow = vow_when_cut(self.job, piece)
            old = self._as_vowed(vow) if vow else None
            cut |= {p.id: p.outline for p in old.draft.pieces if p.id == piece and p.laid} if old else {}
        return recut_findings(self.verdicts, self.job.work, self.work.steps if self.work else (), cut,
                              self.job.vowed.at if self.job.vowed else None, self._touched)  # fmt: skip

    def _touched(self, step: str) -> tuple[str, ...]:
        """The pieces that a step at a join or a seam is done to."""
        join = (
            next((j for j in self.whole.assembly.joins if j.id == step.partition("/")[2]), None) if self.whole else None
        )
        return tuple({x.piece for x in join.layers}) if join else ()

    def _unfit(self) -> tuple[Finding, ...]:
        if self.measured.body is None:
            return ()
        job = self.job
        return (Finding(
            "hold", "kind-does-not-fit", "draft",
            said("A {piece} is not made for a {thing}: choose another kind.", piece=job.piece.says, thing=job.thing.says),
            "piece",
        ),)  # fmt: skip

    @property
    def holds(self) -> tuple[Finding, ...]:
        """Holds neither mended nor accepted."""
        return tuple(f for f in self.findings if f.level == "hold" and self.accepted(f) is None)

    @property
    def ready(self) -> bool:
        """Whether nothing stands in the way of the vow."""
        return self.job.vowed is None and not self.holds and self.whole is not None

    def accepted(self, finding: Finding) -> str | None:
        """The reason for which the finding was accepted, if it was."""
        at = whose(self.job, finding.at)
        return next((a.reason for a in self.job.accepted if (a.code, a.at) == (finding.code, at)), None)

    @property
    def flags(self) -> dict[Station, Level]:
        """At each station that has some: whether the worst that is neither mended nor accepted is a hold or a look."""
        standing = [f for f in self.findings if f.level != "note" and self.accepted(f) is None]
        return {f.station: f.level for f in sorted(standing, key=lambda f: _LEVELS[f.level], reverse=True)}

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
            return said("{step}: {n} passes made", n=count(done), step=step.name)
        return step.name


def _failed(failure: Failure) -> Finding:
    text = said(
        "This stage failed, and the rest goes on without it ({error}). The log has the whole of it.",
        error=failure.error,
    )
    return Finding("hold", "stage-failed", failure.station, text, f"stage/{failure.station}")


def _place(station: Station) -> int:
    return STATIONS.index(station) if station in STATIONS else 5


def plan(job: Job) -> Plan:
    """The plan of a job. Total: a job that loads always plans, and what is wrong with it is a finding."""
    return Plan(job)


@remembered("wearer")
def _measured(thing: Thing) -> Measured:
    return thing.measure()


def _apart(one: Line, other: Line) -> float:
    """How far two outlines lie apart at most, mm."""
    return float(shapely.hausdorff_distance(shapely.LinearRing(one), shapely.LinearRing(other), 0.05))


@remembered("wearer")
def _corrected(
    body: Body | None, trials: tuple[Trial, ...], turns: tuple[tuple[Side, float], ...], neutral_mm: float
) -> Body | None:
    return corrected(body, trials, dict(turns), neutral_mm)


@remembered("wearer")
def _drafted(piece: KindOfPiece, body: Body | None, leather_mm: float) -> Draft:
    return piece.draft(body, leather_mm)


@remembered("wearer")
def _suited(piece: KindOfPiece, body: Body | None, leather_mm: float, tannage: str) -> tuple[Finding, ...]:
    return piece.suits(body, leather_mm, tannage)


@remembered("wearer")
def _ornamented(draft: Draft, ornaments: tuple[Ornament, ...]) -> Draft:
    return ornamented(draft, ornaments) if ornaments else draft


def _shown(draft: Draft, outside: str, ornaments: tuple[Ornament, ...]) -> Draft:
    return flesh_out(draft, ornaments) if outside == "flesh" else draft


@remembered("wearer")
def _stitched(draft: Draft, choices: StitchChoices) -> Stitching:
    return stitch(draft, choices)


@remembered("wearer")
def _proved(draft: Draft, stitching: Stitching, body: Body | None) -> Proof:
    return prove(draft.assembly, stitching.seams, body)


@remembered("stage")
def _threaded(stitching: Stitching, choices: ThreadChoices) -> Threading:
    return thread(stitching, choices)


@remembered("stage")
def _made(draft: Draft, threading: Threading, body: Body | None) -> Made:
    return made(draft, threading.seams, body)


@remembered("stage")
def _laid_out(draft: Draft, hide: Hide, spoiled: tuple[Spoiled, ...]) -> Layout:
    return lay_out(draft, hide, {f"{s.piece}/{k}": frozen(s.outline) for k, s in enumerate(spoiled, 1)})


@remembered("stage")
def _worked(
    draft: Draft, stitching: Stitching, threading: Threading, leather_mm: float, choices: WorkChoices,
    promised: datetime | None, tannage: str,
) -> Work:  # fmt: skip
    return plan_work(draft, stitching, threading, leather_mm, choices, promised, tannage)


@remembered("stage")
def _recorded(entries: RecordEntries, threading: Threading, work: Work, choices: WorkChoices, slack: float) -> Recorded:
    return record(entries, threading, work, choices, slack)
