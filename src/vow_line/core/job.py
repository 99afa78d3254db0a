"""The document: everything the maker said, decided and did. It holds inputs and events, never a result."""

from dataclasses import replace
from datetime import date, datetime, time
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, Field, ValidationError, model_validator

from .curve import Line
from .draft.ids import base
from .draft.kind import KindOfPiece
from .draft.kinds import AnyKind
from .draft.ornament import Ornament
from .draft.repeat import Makes
from .errors import RefusedChange
from .finding import Finding, Mend
from .frozen import Frozen
from .leather import Hide
from .measure import AnyThing, Correction, Taken, Thing, Trial
from .measure.body import Side
from .measure.readings import Reading, every_reading
from .measure.thing import NO_HOLES
from .measure.traced import DrawnWith
from .quantity import Units
from .reckoning import length, long
from .record import Note, RecordEntries, ThreadLeft
from .stitch import StitchChoices
from .stitch.choices import OwnHoles, of_tool
from .stitch.tools import HoleTool
from .texts import Said, said, tell
from .thread import Slack, ThreadChoices
from .thread.choices import Own
from .work import Tick, WorkChoices
from .work.choices import Clock, InHand, SewnTo, Weighing

FORMAT = 3
LEFT_OF_THE_VOW = ("thing", "trials", "others", "leather", "piece", "ornaments", "stitch", "thread", "makes")
MOST_OTHERS = 11


class Accepted(Frozen):
    """A hold accepted in spite of itself, with the reason, which stays in the record."""

    code: str
    at: str
    reason: Annotated[str, Field(min_length=1, max_length=2000)]


class Other(Frozen):
    """Another wearer, side or size of the same, that the same kind of piece is made for: what was measured, and tried. Its
    number is never given to another.
    """

    number: Annotated[int, Field(ge=1, le=999)]
    thing: AnyThing
    trials: Annotated[tuple[Trial, ...], Field(max_length=60)] = ()


class Vow(Frozen):
    """A vow taken on a plan: its revision, when, and by value what it was taken on (thread since it is kept). `broken` once it
    was broken.
    """

    revision: Annotated[int, Field(ge=1)]
    at: Clock
    thing: AnyThing
    trials: tuple[Trial, ...] = ()
    others: tuple[Other, ...] = ()
    wearer: int = 1
    leather: Hide
    piece: AnyKind
    ornaments: tuple[Ornament, ...] = ()
    stitch: StitchChoices
    thread: ThreadChoices | None = None
    accepted: tuple[Accepted, ...] = ()
    broken: Clock | None = None


class Job(Frozen):
    """One job on its line. See `docs/job-format.md`."""

    format: Literal[3] = 3
    name: Annotated[str, Field(min_length=1, max_length=200)]
    maker: Annotated[str, Field(max_length=200)] = ""
    whose: Annotated[str, Field(max_length=200)] = ""
    promised: date | None = None
    unit: Literal["mm", "in"] = "mm"
    fraction: Literal[16, 32] = 16
    leather_unit: Literal["mm", "oz"] = "mm"
    thing: AnyThing
    trials: Annotated[tuple[Trial, ...], Field(max_length=60)] = ()
    others: Annotated[tuple[Other, ...], Field(max_length=MOST_OTHERS)] = ()
    wearer: Annotated[int, Field(ge=1, le=999)] = 1
    leather: Hide = Hide()
    piece: AnyKind
    ornaments: Annotated[tuple[Ornament, ...], Field(max_length=30)] = ()
    makes: Makes = Makes()
    stitch: StitchChoices = StitchChoices()
    thread: ThreadChoices = ThreadChoices()
    accepted: tuple[Accepted, ...] = ()
    vows: Annotated[tuple[Vow, ...], Field(max_length=500)] = ()
    work: WorkChoices = WorkChoices()
    record: RecordEntries = RecordEntries()

    @model_validator(mode="after")
    def _numbered(self) -> Self:
        numbers = [w.number for w in self.others]
        if len({*numbers, self.wearer}) <= len(numbers):
            raise ValueError(tell("Two of what it is made for have one number."))
        return self

    @property
    def wearers(self) -> tuple[Other, ...]:
        """All that it is made for, in order, the one in hand among them."""
        in_hand = Other(number=self.wearer, thing=self.thing, trials=self.trials)
        return tuple(sorted((*self.others, in_hand), key=lambda w: w.number))

    @property
    def units(self) -> Units:
        """How this job's numbers are written."""
        return Units(self.unit, self.fraction, self.leather_unit)

    @property
    def vowed(self) -> Vow | None:
        """The vow that stands, if one does."""
        return self.vows[-1] if self.vows and self.vows[-1].broken is None else None

    @property
    def promised_at(self) -> datetime | None:
        """The end of the day it is promised for."""
        return datetime.combine(self.promised, time(23, 59)) if self.promised else None


def change(job: Job, path: str, value: Any) -> Job:
    """The job with one value changed; `path` as `thing.stations.2.width.first`.

    Raises RefusedChange when there is no such place, the value is not one it can hold, or the place lies left of a vow
    that stands.
    """
    if job.vowed and path.split(".")[0] in LEFT_OF_THE_VOW:
        raise RefusedChange(
            tell("Revision {revision} is vowed; its plan does not change.", revision=str(job.vowed.revision)),
            path, tell("Break the vow (Edit menu) to change it."),
        )  # fmt: skip
    return _replaced(job, path.split("."), value, path)


def value_at(job: Job, path: str) -> Any:
    """What stands at a path as `change` takes them. Raises RefusedChange when there is no such place."""
    holder: Any = job
    for step in path.split("."):
        try:
            holder = holder[int(step)] if isinstance(holder, tuple) else getattr(holder, step)
        except (AttributeError, IndexError, ValueError) as error:
            raise RefusedChange(tell("There is no {step} here.", step=str(step)), path) from error
    return holder


def _replaced(holder: Any, steps: list[str], value: Any, path: str) -> Any:
    step, *rest = steps
    if isinstance(holder, tuple):
        if not step.isdigit() or int(step) >= len(holder):
            raise RefusedChange(tell("There is no place {step} here.", step=str(step)), path)
        items = list(holder)
        items[int(step)] = _replaced(items[int(step)], rest, value, path) if rest else value
        return tuple(items)
    if not isinstance(holder, BaseModel) or step not in type(holder).model_fields:
        raise RefusedChange(tell("There is no {step} here.", step=str(step)), path)
    fields = dict(holder)
    fields[step] = _replaced(fields[step], rest, value, path) if rest else value
    try:
        return type(holder).model_validate(fields)
    except ValidationError as error:
        first = error.errors()[0]
        raise RefusedChange(refused(first), path, tell("The old value stands.")) from error


def refused(error: Any) -> str:
    """One of pydantic's errors in the maker's words; its own are never shown."""
    context = error.get("ctx", {})
    got = error.get("input")
    number = f"{got:g}" if isinstance(got, int | float) and not isinstance(got, bool) else repr(got)[:40]
    match error["type"]:
        case "greater_than" | "greater_than_equal":
            bound = context.get("gt", context.get("ge"))
            more = said("{number} is too small: it must be more than {least}.") if "gt" in context else said(
                "{number} is too small: it must be at least {least}.")  # fmt: skip
            return more.filled(number=number, least=f"{bound:g}").write(Units())
        case "less_than" | "less_than_equal":
            most = f"{context.get('lt', context.get('le')):g}"
            return tell("{number} is too large: {most} is the most.", number=number, most=most)
        case "finite_number":
            return tell("It must be a finite number.")
        case "literal_error" | "union_tag_invalid":
            these = str(context.get("expected", context.get("expected_tags")))
            return tell("{number} is not one of {these}.", number=context.get("tag", number), these=these)
        case "string_too_short":
            return tell("It must not be empty.")
        case "missing" | "union_tag_not_found":
            return tell("It is missing.")
        case "extra_forbidden":
            return tell("There is no place for it here.")
        case "too_short" | "too_long":
            return tell("There are {n} of them; {least} to {most} can be.", n=str(context.get("actual_length", "?")),
                        least=str(context.get("min_length", 0)), most=str(context.get("max_length", "∞")))  # fmt: skip
        case "value_error":
            return str(context["error"])
        case _:
            return tell("{value} cannot stand here.", value=number)


def mend(job: Job, how: Mend) -> Job:
    """The job with a finding's mend applied. Raises RefusedChange as `change` does."""
    for path, value in how.changes:
        job = put(job, path, value)
    return job


def put(job: Job, path: str, value: Any) -> Job:
    """The job with a value at a place as `change` takes it, or at what one seam has of its own: `stitch.of/SEAM/FIELD`,
    `thread.of/SEAM/FIELD`. Raises RefusedChange.
    """
    what, _, of = path.partition("/")
    seam, _, field = of.rpartition("/")
    match what:
        case "thread.of":
            return sew_in(job, seam=base(seam), field=field, value=value)
        case "stitch.of":
            return hole_in(job, seam=base(seam), field=field, value=value)
        case _:
            return change(job, path, value)


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
        accepted=job.accepted,
    )  # fmt: skip
    return job.model_copy(update={"vows": (*job.vows, taken)})


def vow_when_cut(job: Job, piece: str) -> Vow | None:
    """The vow by which a piece was cut: the last that was taken when it was ticked off; None where that still stands, or there
    was none.
    """
    tick = next((t for t in job.work.done if t.step == f"cut/{piece}"), None)
    if tick is None or not job.vows:
        return None
    taken = [v for v in job.vows if tick.at is None or v.at <= tick.at] or [job.vows[0]]
    return taken[-1] if taken[-1].broken else None


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
        thing = _replaced(thing, path.split(".")[1:], Reading(), path)
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


def hole_in(job: Job, *, seam: str, field: str, value: Any) -> Job:
    """The job with ends, a start or a tool of one seam's own; what is as for the other seams is not its own, nor is the empty
    tool. Raises RefusedChange.
    """
    now = next((o for o in job.stitch.own if o.seam == seam), OwnHoles(seam=seam))
    usual = "" if field == "tool" else getattr(job.stitch, field)
    new = _replaced(now, [field], None if value == usual else value, f"stitch.of/{seam}/{field}")
    kept = tuple(o for o in job.stitch.own if o.seam != seam)
    return change(job, "stitch.own", kept if new == OwnHoles(seam=seam) else (*kept, new))


def sew_in(job: Job, *, seam: str, field: str, value: Any) -> Job:
    """The job with a stitch or a thread of one seam's own; what the other seams have is not its own. Raises RefusedChange."""
    now = next((o for o in job.thread.own if o.seam == seam), Own(seam=seam))
    usual = (job.thread.stitch, job.thread.butt_stitch) if field == "stitch" else (job.thread.thread,)
    nothing = "" if field == "stitch" else None
    new = now.model_copy(update={field: nothing if value in usual else value})
    kept = tuple(o for o in job.thread.own if o.seam != seam)
    return change(job, "thread.own", (*kept, new) if new.stitch or new.thread else kept)


def take_outline(job: Job, *, ring: Line, drawn_with: DrawnWith = "nothing", holes: Line = NO_HOLES) -> Job:
    """The job with its thing's outline as traced or read from a file, and the holes in it. Raises RefusedChange where outlines
    are no use.
    """
    for field, value in job.thing.traced(ring, drawn_with, holes):
        job = change(job, f"thing.{field}", value)
    return job


def take_outlines(job: Job, *, rings: list[tuple[Line, Line]], drawn_with: DrawnWith = "nothing") -> Job:
    """The job with each of some outlines, and the holes in it, as one more part of its thing. Raises RefusedChange where
    outlines are no use.
    """
    for ring, holes in rings:
        job = take_outline(job, ring=ring, drawn_with=drawn_with, holes=holes)
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
