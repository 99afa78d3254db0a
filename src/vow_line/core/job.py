"""The document: everything the maker said, decided and did. It holds inputs and events, never a result."""

from collections.abc import Callable
from datetime import date, datetime, time
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, Field, ValidationError, model_validator

from .draft.ids import base
from .draft.kinds import AnyKind
from .draft.ornament import Ornament
from .draft.repeat import Makes
from .errors import RefusedChange
from .finding import Mend
from .frozen import Frozen
from .leather import Hide
from .measure import AnyThing, Trial
from .quantity import Units
from .record import RecordEntries
from .stitch import StitchChoices
from .stitch.choices import OwnHoles
from .texts import said, tell
from .thread import ThreadChoices
from .thread.choices import Own
from .work import WorkChoices
from .work.choices import Clock

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
    makes: Makes | None = None


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
    that stands and the value is another.
    """
    if job.vowed and path.split(".")[0] in LEFT_OF_THE_VOW:
        if value_at(job, path) == value:
            return job
        raise RefusedChange(
            tell("Revision {revision} is vowed; its plan does not change.", revision=str(job.vowed.revision)),
            path, tell("Break the vow (Edit menu) to change it."),
        )  # fmt: skip
    return replaced(job, path.split("."), value, path)


def value_at(job: Job, path: str) -> Any:
    """What stands at a path as `change` takes them. Raises RefusedChange when there is no such place."""
    holder: Any = job
    for step in path.split("."):
        try:
            holder = holder[int(step)] if isinstance(holder, tuple) else getattr(holder, step)
        except (AttributeError, IndexError, ValueError) as error:
            raise RefusedChange(tell("There is no {step} here.", step=str(step)), path) from error
    return holder


def replaced(holder: Any, steps: list[str], value: Any, path: str) -> Any:
    """What holds a value, with another at the end of some steps. Raises RefusedChange, which names the whole path."""
    step, *rest = steps
    if isinstance(holder, tuple):
        if not step.isdigit() or int(step) >= len(holder):
            raise RefusedChange(tell("There is no place {step} here.", step=str(step)), path)
        items = list(holder)
        items[int(step)] = replaced(items[int(step)], rest, value, path) if rest else value
        return tuple(items)
    if not isinstance(holder, BaseModel) or step not in type(holder).model_fields:
        raise RefusedChange(tell("There is no {step} here.", step=str(step)), path)
    fields = dict(holder)
    fields[step] = replaced(fields[step], rest, value, path) if rest else value
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


def stepped(job: Job, step: Callable[[Job], Job]) -> Job:
    """The job after a step. Raises what that raises; RefusedChange where what it makes of a value cannot hold it."""
    try:
        return step(job)
    except ValidationError as error:
        raise RefusedChange(refused(error.errors()[0]), mend=tell("The old value stands.")) from error


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


def vow_when_cut(job: Job, piece: str) -> Vow | None:
    """The vow by which a piece was cut: the last that was taken when it was ticked off; None where that still stands, or there
    was none.
    """
    tick = next((t for t in job.work.done if t.step == f"cut/{piece}"), None)
    if tick is None or not job.vows:
        return None
    taken = [v for v in job.vows if tick.at is None or v.at <= tick.at] or [job.vows[0]]
    return taken[-1] if taken[-1].broken else None


def hole_in(job: Job, *, seam: str, field: str, value: Any) -> Job:
    """The job with ends, a start or a tool of one seam's own; what is as for the other seams is not its own, nor is the empty
    tool. Raises RefusedChange.
    """
    now = next((o for o in job.stitch.own if o.seam == seam), OwnHoles(seam=seam))
    usual = "" if field == "tool" else getattr(job.stitch, field)
    new = replaced(now, [field], None if value == usual else value, f"stitch.of/{seam}/{field}")
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
