"""Steps placed in the maker's hours."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from .choices import Sitting, WorkChoices
from .step import Step

DAY_MIN, A_SECOND = 24 * 60, 1 / 60
LAY_MIN = 5.0  # to lay together what was glued, and roll it (from memory)


@dataclass(frozen=True, slots=True)
class Placed:
    """Steps with when they begin; when all is over, None where they have no hours or the calendar ends before the work does;
    and those after which what follows comes too late, since no hours at the bench hold both.
    """

    steps: tuple[Step, ...]
    ready: datetime | None = None
    too_late: tuple[Step, ...] = ()


def placed(steps: tuple[Step, ...], choices: WorkChoices) -> Placed:
    """Fill the sessions: at any time the first step that can begin, one pair of hands; long steps go on next time. What may not
    wait for long begins when what follows can be begun before it is too late. Nothing is placed where the calendar ends before
    the work does.
    """
    if choices.begins is None or not choices.sessions:
        return Placed(steps)
    try:
        return _Hours(steps, choices, choices.begins).filled()
    except OverflowError:
        return Placed(steps)


class _Hours:
    """The hours as they are filled: how far they are, when each step begins and when it and its wait are over."""

    def __init__(self, steps: tuple[Step, ...], choices: WorkChoices, begins: datetime) -> None:
        self.steps, self.choices, self.now = steps, choices, begins
        self.week = _week(choices.sessions)
        self.longest = max(end - begins for begins, end in self.week)
        self.waiting = [s for s in steps if not choices.is_done(s.id)]
        self.over = {s.id: begins for s in steps if choices.is_done(s.id)}
        self.begun: dict[str, datetime] = {}
        self.too_late: list[Step] = []

    def filled(self) -> Placed:
        for step in self.steps:  # what was glued already is joined first
            after = self.after(step) if step.wait[1] is not None and self.choices.is_done(step.id) else []
            if after:
                self.go_on(after[0])
        while self.waiting:
            step, self.now = _next(self.waiting, self.over, self.now)
            after = self.after(step) if step.wait[1] is not None else []
            if after:
                self.together(step, after[0])
            else:
                self.do(step)
        steps = tuple(replace(s, begins=self.begun.get(s.id)) for s in self.steps)
        return Placed(steps, max(self.over.values()), tuple(self.too_late))

    def bench(self, now: datetime) -> tuple[datetime, float]:
        """The next moment at the bench from `now` on, and the minutes left until a break."""
        monday = now.replace(hour=0, minute=0, second=0, microsecond=0) - timedelta(days=now.weekday())
        at = (now - monday).total_seconds() / 60
        begins, end = next(x for x in self.week if at < x[1] - A_SECOND)
        return (now, end - at) if begins <= at else (monday + timedelta(minutes=begins), end - begins)

    def after(self, step: Step) -> list[Step]:
        """What can be begun when a step and what else was begun are over."""
        return [s for s in self.waiting if step.id in s.needs and all(n in self.over or n == step.id for n in s.needs)]

    def do(self, step: Step) -> None:
        """Begin a step as soon as all of it fits, or as a session of its own begins, and go on with it until it is done."""
        start, room = self.bench(self.now)
        while room + 1e-9 < step.minutes <= self.longest:
            start, room = self.bench(start + timedelta(minutes=room))
        self.now = start
        self.go_on(step)

    def together(self, step: Step, after: Step) -> None:
        """A step and what must be begun before it is too late: as soon as one session holds it, its wait and that it is laid
        together; meanwhile what is short enough is done.
        """
        wanted = step.minutes + step.wait[0] + min(after.minutes, LAY_MIN)
        if wanted > self.longest + 1e-9:
            self.too_late.append(step)
            self.do(step)
            return
        start, room = self.bench(self.now)
        while room + 1e-9 < wanted:
            start, room = self.bench(start + timedelta(minutes=room))
        self.now = start
        self.go_on(step)
        self.meanwhile(self.over[step.id])
        self.now = max(self.now, self.over[step.id])
        self.go_on(after)

    def meanwhile(self, until: datetime) -> None:
        """Do what is done before a time."""
        for step in tuple(self.waiting):
            free = max((self.over[n] for n in step.needs if n in self.over), default=self.now)
            able = all(n in self.over for n in step.needs) and free <= self.now and step.wait[1] is None
            if able and self.now + timedelta(minutes=step.minutes) <= until:
                self.do(step)

    def go_on(self, step: Step) -> None:
        """Do a step that is begun now, as long as the session is, and the rest of it next time."""
        left = step.minutes
        while left > 1e-9:
            start, room = self.bench(self.now)
            self.begun.setdefault(step.id, start)
            spent = min(room, left)
            self.now, left = start + timedelta(minutes=spent), left - spent
        self.over[step.id] = self.now + timedelta(minutes=step.wait[0])
        self.waiting.remove(step)


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


def _week(sessions: Iterable[Sitting]) -> list[tuple[float, float]]:
    """From when to when one is at the bench, in minutes of a week that begins on Monday, what overlaps or abuts as one; each
    also as it was the week before and will be the week after.
    """
    own = [((day + s.weekday) * DAY_MIN + s.begins_min, s.minutes) for s in sessions for day in (-7, 0, 7)]
    merged: list[tuple[float, float]] = []
    for begins, long in sorted(own):
        if merged and begins <= merged[-1][1]:
            merged[-1] = merged[-1][0], max(merged[-1][1], float(begins + long))
        else:
            merged.append((float(begins), float(begins + long)))
    return merged
