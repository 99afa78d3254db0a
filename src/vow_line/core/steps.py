"""What a maker does to a job, each of it a job that is another: vowed, ticked off, measured, tried, drawn, written down."""

from datetime import date, datetime
from typing import Any

from pydantic import ValidationError

from .curve import Line
from .draft.ids import base
from .draft.kind import KindOfPiece
from .draft.ornament import Ornament
from .errors import RefusedChange
from .job import Accepted, Job, Vow, change, refused, value_at
from .measure import Correction, Taken, Thing, Trial
from .measure.body import Side
from .measure.panel_set import LETTERS
from .measure.readings import every_reading
from .measure.traced import Drawn
from .reckoning import length, long
from .record import Note, RecordEntries, ThreadLeft
from .stitch.choices import of_tool
from .stitch.tools import HoleTool
from .texts import said, tell
from .thread import Slack, ThreadChoices
from .wearers import whose
from .work import Tick, WorkChoices
from .work.choices import InHand, SewnTo, Weighing


def vow(job: Job, *, at: datetime) -> Job:
    """The job vowed on its plan as it stands, as the next revision. Raises RefusedChange when it is vowed already."""
    if job.vowed:
        raise RefusedChange(
            tell("Revision {revision} is vowed already.", revision=str(job.vowed.revision)),
            "the vow",
            tell("Break it first."),
        )
    taken = Vow(
        revision=len(job.vows) + 1, at=at, thing=job.thing, trials=job.trials, others=job.others, wearer=job.wearer,
        leather=job.leather,
        piece=job.piece, ornaments=job.ornaments,
        stitch=job.stitch, thread=job.thread,
        accepted=job.accepted, makes=job.makes,
    )  # fmt: skip
    return job.model_copy(update={"vows": (*job.vows, taken)})


def break_vow(job: Job, *, at: datetime) -> Job:
    """The job with its vow broken, so that the plan can change. Raises RefusedChange when none stands."""
    if not job.vowed:
        raise RefusedChange(tell("No vow stands."), "the vow")
    return job.model_copy(update={"vows": (*job.vows[:-1], job.vowed.model_copy(update={"broken": at}))})


def accept(job: Job, *, code: str, at: str, reason: str) -> Job:
    """The job with a hold accepted for a reason. Raises RefusedChange when the reason is empty."""
    if not reason.strip():
        raise RefusedChange(tell("A hold is accepted with a reason, in writing."), at, tell("Write one."))
    at = whose(job, at)
    kept = tuple(a for a in job.accepted if (a.code, a.at) != (code, at))
    return job.model_copy(update={"accepted": (*kept, Accepted(code=code, at=at, reason=reason.strip()))})


def tick(job: Job, *, step: str, at: datetime, minutes: float | None = None, slip: str = "") -> Job:
    """The job with a step ticked off."""
    work = job.work
    done = (*(t for t in work.done if t.step != step), Tick(step=step, at=at, minutes=minutes, slip=slip))
    return job.model_copy(update={"work": work.model_copy(update={"done": done})})


def how_it_went(job: Job, *, step: str, minutes: float | None, slip: str) -> Job:
    """The job with how long a ticked step took and what went wrong with it. Raises RefusedChange."""
    place = next((k for k, t in enumerate(job.work.done) if t.step == step), None)
    if place is None:
        raise RefusedChange(tell("This step is not ticked off."), step, tell("Tick it first."))
    job = change(job, f"work.done.{place}.minutes", minutes)
    return change(job, f"work.done.{place}.slip", slip.strip())


def untick(job: Job, *, step: str) -> Job:
    """The job with a step not done after all."""
    done = tuple(t for t in job.work.done if t.step != step)
    return job.model_copy(update={"work": job.work.model_copy(update={"done": done})})


def add_station(job: Job, *, at_mm: float | None = None) -> Job:
    """The job with a station more on its thing, unread, at `at_mm` or in the widest gap. Raises RefusedChange."""
    part, stations = job.thing.with_station(at_mm)
    return change(job, f"thing.{part}", stations)


def remove_station(job: Job, *, path: str) -> Job:
    """The job without the station that `path` lies in. Raises RefusedChange when it is the last of its part."""
    return change(job, *job.thing.without(path))


def lay(job: Job, *, path: str, by_rad: float = 0.0, over: bool = False) -> Job:
    """The job with the panel that `path` lies in turned to the right, or over. Raises RefusedChange, too where a mock-up
    was corrected along an edge, which would then run the other way.
    """
    if over and any(c.edge for t in job.trials if not t.taken_back for c in t.corrections):
        raise RefusedChange(
            tell("A mock-up was corrected along an edge, which would then run the other way."), "trials",
            tell("Take the mock-up back first, and correct it again when the panel lies as it should."),
        )  # fmt: skip
    return change(job, *job.thing.laid(path, by_rad=by_rad, over=over))


def drag(job: Job, *, path: str, to: Any) -> Job:
    """The job with a point of its drawing dragged to a place. Raises RefusedChange."""
    field, value = job.thing.dragged(path, to) if path.startswith("thing.") else (path, to)
    return change(job, field, value)


def point_more(job: Job, *, x: float, y: float) -> Job | None:
    """The job with a point more of its thing's outline at a place of the drawing; None where there is no outline."""
    more = job.thing.with_point(x, y)
    return None if more is None else change(job, *more)


def take_tool(job: Job, *, tool: HoleTool) -> Job:
    """The job with its holes made by a tool of the workshop; a tool without a pitch of its own leaves the pitch. Raises
    RefusedChange when it is vowed.
    """
    return change(job, "stitch", job.stitch.model_copy(update=of_tool(tool)))


def take_outline(job: Job, *, drawn: Drawn) -> Job:
    """The job with its thing's outline as traced or read from a file. Raises RefusedChange where outlines are no use."""
    try:
        read = list(job.thing.traced(drawn))
    except ValidationError as error:
        raise RefusedChange(refused(error.errors()[0]), "thing", tell("Is the outline's scale right?")) from error
    for field, value in read:
        job = change(job, f"thing.{field}", value)
    return job


def take_outlines(job: Job, *, drawn: list[Drawn]) -> Job:
    """The job with each of some outlines as one more part of its thing, those that are named first. Raises RefusedChange where
    outlines are no use.
    """
    for one in sorted(drawn, key=lambda d: d.marks or len(LETTERS)):
        job = take_outline(job, drawn=one)
    return job


def take_measured(job: Job, *, thing: Thing) -> Job:
    """The job with a thing of the same sort that was measured before. Raises RefusedChange where it is of another."""
    if type(thing) is not type(job.thing):
        raise RefusedChange(tell("{other} is no {thing}.", other=thing.name, thing=job.thing.says), "thing")
    return change(job, "thing", thing)


def take_section(job: Job, *, ring: Line) -> Job:
    """The job with its thing's section as read from a file. Raises RefusedChange where a section is no use."""
    for field, value in job.thing.sectioned(ring):
        job = change(job, f"thing.{field}", value)
    return job


def correct(job: Job, *, at_mm: float, side: Side, on: date | None = None, edge: str = "", mirror: str = "") -> Job:
    """The job with a correction begun in its latest trial, or in a first one, nothing said of it yet; of an edge of panels, and
    its mirror image. Raises RefusedChange.
    """
    trials = job.trials if job.trials and not job.trials[-1].taken_back else (*job.trials, Trial(on=on))
    last = trials[-1]
    spot = Correction(at_mm=round(at_mm, 1), side=side, edge=edge, mirror=mirror)
    kept = tuple(c for c in last.corrections if (c.at_mm, c.side, c.edge) != (spot.at_mm, side, edge))
    return change(job, "trials", (*trials[:-1], last.model_copy(update={"corrections": (*kept, spot)})))


def take_trial_back(job: Job) -> Job:
    """The job with its latest trial taken back, or put in force again. Raises RefusedChange when there was none."""
    if not job.trials:
        raise RefusedChange(
            tell("Nothing has been tried yet."), "trials", tell("Double-click a piece at Draft to begin a trial.")
        )
    return change(job, f"trials.{len(job.trials) - 1}.taken_back", not job.trials[-1].taken_back)


def new_trial(job: Job, *, on: date | None = None) -> Job:
    """The job with another mock-up begun. Raises RefusedChange when it is vowed."""
    return change(job, "trials", (*job.trials, Trial(on=on)))


def ornament(job: Job, *, kind: str, piece: str) -> Job:
    """The job with an ornament more on a piece, as such are usually made. Raises RefusedChange."""
    return change(job, "ornaments", (*job.ornaments, Ornament.usual(kind, piece)))


def plain_again(job: Job) -> Job:
    """The job without its last ornament. Raises RefusedChange when it has none."""
    if not job.ornaments:
        raise RefusedChange(tell("There is no ornament on it."), "ornaments")
    return change(job, "ornaments", job.ornaments[:-1])


def size_leather(job: Job, *, which: str, mm: float) -> Job:
    """The job with its leather as long or as wide as stated. Raises RefusedChange for what no leather is."""
    if not 20 <= mm <= 5000:
        raise RefusedChange(
            said(
                "{size} is no size for a piece of leather: {least} to {most}.",
                size=length(mm),
                least=length(20.0),
                most=length(5000.0),
            ).write(job.units),
            "leather",
            tell("Measure it again."),
        )
    xs, ys = zip(*job.leather.outline, strict=True)
    along, wide = (mm, max(ys) - min(ys)) if which == "long" else (max(xs) - min(xs), mm)
    return change(job, "leather", job.leather.sized(along, wide))


def say_taken(job: Job, *, reading: str, which: str, taken: Taken, all_silent: bool = False) -> Job:
    """The job with how a reading was taken, the `which` of first and second at its place; and, `all_silent`, every other that
    says nothing of it yet. Raises RefusedChange where nothing was read.
    """
    if getattr(value_at(job, reading), which) is None:
        raise RefusedChange(tell("There is no reading here yet."), reading, tell("Measure it first."))
    job = change(job, f"{reading}.{which}_taken", taken)
    for path, other in every_reading(job.thing, "thing") if all_silent else ():
        for each in ("first", "second"):
            if getattr(other, each) is not None and getattr(other, f"{each}_taken") == Taken():
                job = change(job, f"{path}.{each}_taken", taken)
    return job


def toggle_guard(job: Job) -> Job:
    """The job with a guard on its thing, still to be measured, or without the one it had. Raises RefusedChange."""
    return change(job, "thing", job.thing.guarded_or_not())


def note_left(job: Job, *, seam: str, cut_mm: float, left_mm: float) -> Job:
    """The job with the thread left over from a seam written down. Raises RefusedChange when more was left than cut."""
    if left_mm > cut_mm:
        raise RefusedChange(
            said("{left} left of {cut} cut: more than there was.", left=long(left_mm), cut=long(cut_mm)).write(
                job.units
            ),
            seam,
            tell("Measure both again."),
        )
    kept = tuple(t for t in job.record.thread_left if t.seam != seam)
    return change(job, "record.thread_left", (*kept, ThreadLeft(seam=seam, cut_mm=cut_mm, left_mm=left_mm)))


def weigh(job: Job, *, grams: float, at: datetime) -> Job:
    """The job with a weighing of the wet piece, so long after the forming was ticked off. Raises RefusedChange."""
    formed = next((t.at for t in job.work.done if base(t.step) == "form" and t.at), None)
    if formed is None:
        raise RefusedChange(
            tell("The forming has not been ticked off: there is no hour to count from."), "form", tell("Tick it first.")
        )
    after = max((at - formed).total_seconds() / 60, 0.0)
    kept = tuple(w for w in job.work.weighings if w.minutes < after)
    try:
        weighed = Weighing(minutes=after, grams=grams)
    except ValidationError as error:
        raise RefusedChange(refused(error.errors()[0]), "form", tell("Weigh it again.")) from error
    return change(job, "work.weighings", (*kept, weighed))


def write_note(job: Job, *, about: str, says: str) -> Job:
    """The job with a line written into its record: about a slip, the fit, anything. Raises RefusedChange for none."""
    if not says.strip():
        raise RefusedChange(tell("There is nothing to write down."), "record")
    return change(job, "record.notes", (*job.record.notes, Note(about=about, says=says.strip())))


def sew_to(job: Job, *, seam: str, passes: int) -> Job:
    """The job with so many needle passes made on a seam."""
    sewn = (*(s for s in job.work.sewn if s.seam != seam), SewnTo(seam=seam, passes=max(passes, 0)))
    return job.model_copy(update={"work": job.work.model_copy(update={"sewn": sewn})})


def measure_thread(job: Job, *, seam: str, mm: float) -> Job:
    """The job with the thread that is left in hand on a seam measured. Raises RefusedChange for a length that is none."""
    if not 0 < mm <= 100_000:
        raise RefusedChange(
            said("{thread} is no length of thread.", thread=long(mm)).write(job.units),
            seam,
            tell("Measure from the last hole to the end."),
        )
    measured = InHand(seam=seam, passes=job.work.passes(seam), mm=mm)
    kept = tuple(h for h in job.work.in_hand if h.seam != seam)
    return change(job, "work.in_hand", (*kept, measured))


def close_record(job: Job) -> Job:
    """The job done and recorded."""
    return change(job, "record.closed", True)


def blank(
    *, name: str, thing: type[Thing], kind: type[KindOfPiece], maker: str = "", slack: Slack | None = None,
    begins: datetime | None = None,
) -> Job:  # fmt: skip
    """A new piece of a kind for a thing that has not been measured yet; its work can begin from the day it is begun."""
    threading = ThreadChoices(slack=slack or Slack())
    work = WorkChoices(begins=begins.replace(microsecond=0) if begins else None)
    return Job(name=name, maker=maker, thing=thing.blank(), piece=kind(kind=_tag(kind)), thread=threading, work=work)


def another_kind(job: Job, *, kind: type[KindOfPiece]) -> Job:
    """The job as a piece of another kind for the same thing, its choices as they usually are. Raises RefusedChange."""
    return change(job, "piece", kind(kind=_tag(kind)))


def _tag(kind: type[KindOfPiece]) -> str:
    return str(kind.model_fields["kind"].default)


def next_like(job: Job, *, name: str, slack: Slack) -> Job:
    """A new job with this one's readings and choices, nothing done yet, and the slack learned since."""
    fresh = job.model_copy(
        update={
            "name": name, "vows": (), "accepted": (), "record": RecordEntries(), "promised": None,
            "work": job.work.model_copy(update={"done": (), "sewn": (), "in_hand": (), "weighings": (), "dry_grams": None}),
        }
    )  # fmt: skip
    return change(fresh, "thread.slack", slack)
