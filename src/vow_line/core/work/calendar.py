"""Steps placed in the maker's hours."""

from dataclasses import replace
from datetime import datetime, timedelta

from .choices import WorkChoices
from .step import Step


def placed(steps: tuple[Step, ...], choices: WorkChoices) -> tuple[tuple[Step, ...], datetime | None]:
    """Fill the sessions: at any time the first step that can begin, one pair of hands; long steps go on next time. Nothing is
    placed where the calendar ends before the work does.
    """
    if choices.begins is None or not choices.sessions:
        return steps, None
    try:
        return _filled(steps, choices, choices.begins)
    except OverflowError:
        return steps, None


def _filled(
    steps: tuple[Step, ...], choices: WorkChoices, begins: datetime
) -> tuple[tuple[Step, ...], datetime | None]:
    now = begins
    over: dict[str, datetime] = {}
    begun: dict[str, datetime] = {}
    waiting = [s for s in steps if not choices.is_done(s.id)]
    for step in steps:
        if choices.is_done(step.id):
            over[step.id] = now
    while waiting:
        step, now = _next(waiting, over, now)
        left = step.minutes
        while left > 1e-9:
            start, room = _bench_time(now, choices)
            if room < left <= max(s.minutes for s in choices.sessions) and left == step.minutes:
                now = start + timedelta(minutes=room)
                continue
            begun.setdefault(step.id, start)
            spent = min(room, left)
            now, left = start + timedelta(minutes=spent), left - spent
        over[step.id] = now + timedelta(minutes=step.wait[0])
        waiting.remove(step)
    return tuple(replace(s, begins=begun.get(s.id)) for s in steps), max(over.values())


def _next(waiting: list[Step], over: dict[str, datetime], now: datetime) -> tuple[Step, datetime]:
    """The first step that can begin now, else the one that can soonest; and when it begins."""
    soonest: tuple[Step, datetime] | None = None
    for step in waiting:
        if all(n in over for n in step.needs):
            free = max([over[n] for n in step.needs], default=now)
            if free <= now:
                return step, now
            if soonest is None or free < soonest[1]:
                soonest = step, free
    assert soonest is not None  # the steps are in order: one of them waits for none of the others
    return soonest


def _bench_time(now: datetime, choices: WorkChoices) -> tuple[datetime, float]:
    """The next moment at the bench from `now` on, and the minutes left in that session."""
    midnight = now.replace(hour=0, minute=0, second=0, microsecond=0)
    for day in range(9):
        date = midnight + timedelta(days=day)
        for session in sorted(choices.sessions, key=lambda s: s.begins_min):
            if session.weekday != date.weekday():
                continue
            start = date + timedelta(minutes=session.begins_min)
            end = start + timedelta(minutes=session.minutes)
            if now < end - timedelta(seconds=1):
                at = max(now, start)
                return at, (end - at).total_seconds() / 60
    raise AssertionError("a week holds every session")  # sessions is not empty
