"""What differs between two states of one job, in the maker's words: readings, choices, what is done, what is recorded."""

from collections.abc import Iterator, Mapping

from .drawing import Callout
from .errors import RefusedChange
from .job import Job, value_at
from .measure.readings import Reading
from .plan import Plan, plan
from .quantity import Q
from .reckoning import count, length
from .texts import NOTHING, Said, said, several

PARTS: Mapping[str, Said] = {
    "name": said("its name"), "maker": said("who makes it"), "whose": said("whose it is"), "promised": said("the day promised"),
    "unit": said("its units"), "fraction": said("its units"), "leather_unit": said("its units"),
    "thing": said("what was measured"), "trials": said("the trial"), "others": said("others that it is made for"),
    "wearer": said("who is in hand"), "leather": said("the leather"), "piece": said("how it is carried"),
    "ornaments": said("ornaments"), "makes": said("how many"), "stitch": said("the stitching"), "thread": said("the thread"),
    "accepted": said("holds accepted"), "vows": said("the vow"), "work": said("what is done, and when"),
    "record": said("the record"),
}  # fmt: skip


def differences(here: Job, there: Job) -> tuple[Said, ...]:
    """Each value, step and part of a job that is one thing `here` and another `there`; nothing where they are alike."""
    one, other = plan(here), plan(there)
    told: set[str] = set()
    found: list[Said] = []
    callouts = {c.path: c for p in (other, one) for c in _callouts(p)}
    for path, callout in callouts.items():
        ours, theirs = (_value(job, path) for job in (here, there))
        words = [w for value in (ours, theirs) if (w := _said(callout, value)) is not None]
        if ours != theirs and len(words) == 2 and words[0] != words[1]:
            told.add(path.partition(".")[0])
            found.append(said("{what}: {ours} here, {theirs} there", what=_named(callout, here), ours=words[0],
                              theirs=words[1]))  # fmt: skip
    done = list(_done(one, other))
    told |= {"work"} if done else set()
    differ = [f for f in type(here).model_fields if getattr(here, f) != getattr(there, f) and f not in told]
    parts = dict.fromkeys(PARTS[f] for f in differ if f in PARTS)
    return (*found, *done, *(said("{part} differs", part=part) for part in parts))


def _callouts(of: Plan) -> tuple[Callout, ...]:
    return (*of.measured.callouts, *(of.draft.callouts if of.draft else ()))


def _named(callout: Callout, job: Job) -> Said:
    """The name of a value, with the place that goes with it."""
    at = _value(job, callout.beside[0]) if callout.beside else None
    if not callout.beside or not isinstance(at, int | float):
        return callout.name
    return said("{value}, {beside} {at}", value=callout.name, beside=callout.beside[1], at=length(float(at)))


def _value(job: Job, path: str) -> object:
    try:
        return value_at(job, path)
    except RefusedChange:
        return NOTHING


def _said(callout: Callout, value: object) -> Said | Q | None:
    """A value as its callout writes it; None for what is no single value."""
    if isinstance(value, Reading):
        value = value.mean_mm if value.taken else None
    if value is None:
        return said("nothing")
    for meant, choice in zip(callout.meant or callout.choices, callout.choices, strict=True):
        if meant == value:
            return choice
    if isinstance(value, int | float) and not isinstance(value, bool):
        return Q(callout.kind, float(value))
    return None


def _done(one: Plan, other: Plan) -> Iterator[Said]:
    """Steps ticked off, and passes sewn, on one side only."""
    names = {s.id: s.name for p in (other, one) if p.work for s in p.work.steps}
    ours, theirs = ({t.step for t in p.job.work.done} for p in (one, other))
    for more, where in ((ours - theirs, said("here")), (theirs - ours, said("there"))):
        known = [names[s] for s in names if s in more]
        for name in known:
            yield said("{step}: done {where} only", step=name, where=where)
        if left := len(more) - len(known):
            yield several("{n} step more is done {where} only", "{n} steps more are done {where} only", n=count(left)).filled(
                where=where)  # fmt: skip
    seams = {s.seam: s.seam for p in (one, other) for s in p.job.work.sewn}
    titles = {s.seam.id: s.seam.title for p in (other, one) if p.threading for s in p.threading.seams}
    for seam in seams:
        passes = [p.job.work.passes(seam) for p in (one, other)]
        if passes[0] != passes[1]:
            yield said("passes of the {seam}: {ours} here, {theirs} there", seam=titles.get(seam, said("seam")),
                       ours=count(passes[0]), theirs=count(passes[1]))  # fmt: skip
