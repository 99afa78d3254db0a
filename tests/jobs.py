"""Jobs to test with: the demo's, and generated ones that validate but may be as odd as a job can be."""

from collections.abc import Sequence
from datetime import date
from functools import cache
from types import UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

import numpy as np
from hypothesis import strategies as st
from pydantic import BaseModel, ValidationError
from pydantic.fields import FieldInfo

from tests.bodies import plausible
from vow_line.core.draft.kind import KindOfPiece
from vow_line.core.draft.kinds import KINDS
from vow_line.core.draft.kinds.folded_sheath import FoldedSheath
from vow_line.core.finding import Finding
from vow_line.core.frozen import Frozen
from vow_line.core.job import Job, change, mend
from vow_line.core.leather import Hide
from vow_line.core.measure import THINGS
from vow_line.core.measure.readings import Reading
from vow_line.core.measure.things.knife import Knife, KnifeStation
from vow_line.core.measure.things.tool import Tool
from vow_line.core.plan import Plan, plan
from vow_line.core.quantity import Units
from vow_line.core.ring import farthest
from vow_line.core.stitch import StitchChoices
from vow_line.core.texts import NOTHING, Said
from vow_line.core.thread import ThreadChoices
from vow_line.core.thread.stitches import STITCHES
from vow_line.resources.demo import demo_jobs


def met(job: Job, rng: np.random.Generator) -> Job:
    """The job with the edges of its panels met as is offered, one way or another, until all hang together; any other job as it
    is.
    """
    while True:
        planned = plan(job)
        alike = [f for f in planned.draft.findings if f.code == "edges-alike"] if planned.draft else []
        if not alike:
            return job
        mends = alike[0].mends
        apart = {"piece-loose", "panels-apart"} & {f.code for f in planned.findings}
        job = mend(job, mends[int(rng.integers(len(mends) - 2)) if apart else -1])


def job_of(kind: type[KindOfPiece], rng: np.random.Generator) -> Job:
    """A plausible job of a kind, its thing one of those it fits."""
    tag = str(kind.model_fields["kind"].default)
    things = [t for t in THINGS if issubclass(t.gives, kind.fits)]
    thing = plausible(things[int(rng.integers(len(things)))], rng, tag)
    if isinstance(thing, Tool):  # its one length across, as it is
        a, b = farthest(thing.measure().body.outline)  # type: ignore[union-attr]
        thing = thing.model_copy(update={"across": read(float(np.hypot(*(a - b))))})
    hide = Hide(
        thickness_mm=round(float(rng.uniform(2.0, 3.6)), 1), outline=((0, 0), (2000, 0), (2000, 2000), (0, 2000))
    )
    return met(Job(name="any", thing=thing, piece=kind(kind=tag), leather=hide), rng)


def as_chosen(job: Job, rng: np.random.Generator, many: int = 2) -> Job:
    """The job with some of the choices its drawing offers taken at random, or a part put on or taken off that it can do
    without."""
    for _ in range(many):
        drafted = plan(job).draft
        callouts = [c for c in drafted.callouts if c.path.startswith("piece.")] if drafted else []
        # which edges meet is not for chance to say
        offered = [(c.path, c.means) for c in callouts if c.choices and c.slot not in ("a", "b", "edge")]
        offered += [(c.path, (c.usual if c.absent else 0.0,)) for c in callouts if c.part != NOTHING and not c.choices]
        if offered:
            path, means = offered[int(rng.integers(len(offered)))]
            job = change(job, path, means[int(rng.integers(len(means)))])
    return job


def drafted_holds(planned: Plan) -> list[Finding]:
    """The holds of a draft, its proof and its holes; what comes after these is not planned for it."""
    return [f for station in ("draft", "stitch") for f in planned.at(station) if f.level == "hold"]


def mended(job: Job, presses: int = 3) -> Job:
    """The job after the first mend of a hold of its draft or its holes was pressed, so often at most."""
    for _ in range(presses):
        found = next((f for f in drafted_holds(plan(job)) if f.mend), None)
        if found is None:
            return job
        job = mend(job, found.mend)
    return job


@cache
def demo(name: str) -> Job:
    return demo_jobs()[name]


def words(text: Said) -> str:
    """A text as it stands in mm."""
    return text.write(Units())


def read(first: float, second: float | None = None) -> Reading:
    return Reading(first=first, second=first if second is None else second)


def plain_knife(width: float = 30.0, thick: float = 3.0, long: float = 120.0) -> Knife:
    """A blade of one width and thickness nearly to its tip, a plain handle."""
    return Knife(
        stations=tuple(
            KnifeStation(at_mm=a, width=read(width), thick=read(thick)) for a in (0.0, long * 0.4, long * 0.7)
        ),
        length=read(long),
        handle=(
            KnifeStation(at_mm=5, width=read(width), thick=read(18)),
            KnifeStation(at_mm=60, width=read(width), thick=read(18)),
        ),
        handle_length=read(100),
    )


def plain_job(**choices: object) -> Job:
    return Job(name="plain", thing=plain_knife(), piece=FoldedSheath(**choices))


def _floats(low: float, high: float) -> st.SearchStrategy[float]:
    return st.floats(low, high, allow_nan=False).map(lambda x: round(x, 2))


def of(model: type[Frozen]) -> st.SearchStrategy[Any]:
    """Any record of this kind that validates, from its fields and their ranges."""
    fields = {
        name: st.sampled_from([*STITCHES, "any"]) if name in STITCHED else _of(f.annotation, f.metadata)
        for name, f in model.model_fields.items() if name not in KEPT
    }  # fmt: skip
    return st.fixed_dictionaries(fields).map(lambda told: _valid(model, told)).filter(lambda made: made is not None)


STITCHED = ("stitch", "butt_stitch")
KEPT = ("kind", "body", "format", "best_rad")


def _valid(model: type[Frozen], told: dict[str, Any]) -> Frozen | None:
    try:
        return model(**told)
    except ValidationError:
        return None


def _of(hint: Any, metadata: Sequence[Any] = ()) -> st.SearchStrategy[Any]:
    if get_origin(hint) is Annotated:
        inner, *more = get_args(hint)
        found = [m for one in more for m in (one.metadata if isinstance(one, FieldInfo) else [one])]
        return _of(inner, [*metadata, *found])
    bounds = {
        k: getattr(m, k)
        for m in metadata
        for k in ("gt", "ge", "lt", "le", "min_length", "max_length")
        if hasattr(m, k)
    }
    if hint is Reading:
        return readings
    if get_origin(hint) is Literal:
        return st.sampled_from(get_args(hint))
    if get_origin(hint) in (Union, UnionType):
        return st.one_of(*(_of(a, metadata) for a in get_args(hint)))
    if get_origin(hint) is tuple and get_args(hint)[-1] is Ellipsis:
        least = bounds.get("min_length", 0)
        items = st.lists(
            _of(get_args(hint)[0]), min_size=least, max_size=max(least, min(bounds.get("max_length", 6), 6))
        )
        return items.map(_in_order)
    if get_origin(hint) is tuple:
        return st.tuples(*(_of(a) for a in get_args(hint)))
    if isinstance(hint, type) and issubclass(hint, BaseModel):
        return of(hint)
    if hint is type(None):
        return st.none()
    if hint is bool:
        return st.booleans()
    if hint is str:
        return st.just("any")
    if hint is int:
        return st.integers(int(bounds.get("ge", 0)), int(bounds.get("le", 12)))
    if hint is date:
        return st.just(date(2027, 1, 5))
    assert hint is float, hint
    low = max(bounds.get("ge", bounds.get("gt", -100) + 0.01), -600.0)
    return _floats(low, max(min(bounds.get("le", 400), 600.0), low))


def _in_order(items: list[Any]) -> tuple[Any, ...]:
    """Stations by their place, those that fall together left out."""
    if not items or not hasattr(items[0], "at_mm"):
        return tuple(items)
    kept: list[Any] = []
    for item in sorted(items, key=lambda s: s.at_mm):
        if not kept or item.at_mm - kept[-1].at_mm >= 0.5:
            kept.append(item)
    return tuple(kept)


readings = st.one_of(
    st.builds(Reading, first=st.one_of(st.none(), _floats(0, 300)), second=st.one_of(st.none(), _floats(0, 300))),
    _floats(1, 60).map(read),
)

threadings = of(ThreadChoices)


@st.composite
def _any_job(draw: st.DrawFn) -> Job:
    """Mostly a kind and a thing that go together, now and then not."""
    kind = draw(st.sampled_from(KINDS))
    fitting = [t for t in THINGS if issubclass(t.gives, kind.fits)]
    thing = draw(st.sampled_from(fitting * 9 + list(THINGS)))
    return Job(
        name="any", thing=draw(of(thing)), piece=draw(of(kind)), stitch=draw(of(StitchChoices)), thread=draw(threadings),
        unit=draw(st.sampled_from(["mm", "in"])),
    )  # fmt: skip


any_job = _any_job()
