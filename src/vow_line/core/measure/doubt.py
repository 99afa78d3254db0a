"""Whether a number just typed is likely what was read: beside the reading before it, and its neighbours."""

from typing import Any

from ..quantity import Q
from ..reckoning import length
from ..texts import Said, said
from .readings import Reading
from .thing import Thing

FAR_TIMES = 2.5  # so many times more or less than its neighbours is asked about (from memory)
END_TIMES = 10.0  # and less, where it stands nearest to an end, which may narrow to a point
AGAIN_MM, AGAIN_SHARE = 2.0, 0.1  # a second reading so far off the first is asked about (from memory)


def doubted(thing: Thing, path: str, mm: float) -> Said | None:
    """What to ask of a reading of `mm` at a place in the job, `thing.stations.2.width.first`; None where it may well be so."""
    *place, which = path.split(".")[1:]
    reading = _at(thing, place)
    if not isinstance(reading, Reading):
        return None
    other = reading.second if which == "first" else reading.first
    if other is not None:
        if abs(mm - other) <= max(AGAIN_MM, AGAIN_SHARE * other):
            return None
        return said("{mm} now, {other} the other time. Enter again keeps it.", mm=length(mm), other=length(other))
    if len(place) != 3:
        return None
    stations, name = getattr(thing, place[0]), place[2]
    own = getattr(stations[int(place[1])], "at_mm", None)
    if own is None:  # tools side by side are no neighbours in this
        return None
    taken = [(s.at_mm, getattr(s, name).mean_mm) for s in stations if s.at_mm != own and getattr(s, name).taken]
    before, after = [v for at, v in taken if at < own][-1:], [v for at, v in taken if at > own][:1]
    near = [*before, *after]
    least = END_TIMES if len(near) == 1 else FAR_TIMES
    if not near or min(near) / least <= mm <= max(near) * FAR_TIMES:
        return None
    says = said("{mm} here, {near} beside it. Enter again keeps it.") if len(near) == 1 else said(
        "{mm} here, {near} and {far} on either side. Enter again keeps it.")  # fmt: skip
    return says.filled(mm=length(mm), near=length(near[0]), far=Q("length", near[-1]))


def _at(of: Any, place: list[str]) -> Any:
    for part in place:
        of = of[int(part)] if part.isdigit() else getattr(of, part, None)
        if of is None:
            return None
    return of
