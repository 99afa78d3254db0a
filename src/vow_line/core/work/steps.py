"""The steps of a job in an order that works: what is closed in later is finished first."""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Literal

from ..draft import Draft
from ..finding import Finding
from ..proof import Checked
from ..reckoning import Reckoning, count, length, minutes, percent, reckon, said
from ..stitch import Stitching
from ..thread import Threading
from .choices import WorkChoices
from .complete import complete
from .drying import TAKES_UP, expected_tau_min, fitted_tau_min, minutes_until_dry
from .making import SET_UP_MIN, Step, StepStation, steps_of


@dataclass(frozen=True, slots=True, eq=False)
class Work:
    """All steps in order, placed in the maker's hours when a beginning was given, the check that they make all of it, and the
    drying curve.
    """

    steps: tuple[Step, ...]
    ready: datetime | None
    dry_minutes: float
    tau_min: float
    tau_from: Literal["readings", "expected"]
    reckonings: tuple[Reckoning, ...]
    findings: tuple[Finding, ...]
    checked: Checked

    def at(self, *stations: StepStation) -> tuple[Step, ...]:
        """The steps done at these stations, in order."""
        return tuple(s for s in self.steps if s.station in stations)

    def before(self, step: str) -> tuple[Step, ...]:
        """The steps that a step needs, directly or not, in order."""
        by_id = {s.id: s for s in self.steps}
        wanted, waiting = set[str](), [step]
        while waiting:
            at = by_id.get(waiting.pop())
            fresh = [n for n in at.needs if n not in wanted] if at else []
            wanted.update(fresh)
            waiting += fresh
        return tuple(s for s in self.steps if s.id in wanted)


def plan_work(
    draft: Draft, stitching: Stitching, threading: Threading, leather_mm: float, choices: WorkChoices,
    promised: datetime | None,
) -> Work:  # fmt: skip
    """Order the work, fill the maker's hours, compare with the date promised. Never raises."""
    tau, source = expected_tau_min(leather_mm, choices.room_celsius, choices.humidity), "expected"
    excess = TAKES_UP
    if choices.dry_grams and choices.weighings:
        excess = max(choices.weighings[0].grams / choices.dry_grams - 1, 0)
        fitted = fitted_tau_min(choices.weighings, choices.dry_grams)
        if fitted:
            tau, source = fitted, "readings"
    dry = minutes_until_dry(tau, excess)
    steps = _in_order(steps_of(draft, stitching, threading, choices, dry))
    placed, ready = _placed(steps, choices)
    hands = sum(s.minutes for s in steps)
    left = sum(s.minutes for s in steps if not choices.is_done(s.id))
    reckonings = [
        reckon("work/hands", "Hands on", minutes(hands),
               said("{n} steps; {left} still to do", n=count(len(steps)), left=minutes(left))),
        reckon("work/pace", "Sewing", minutes(sum(s.minutes for s in steps if s.id.startswith("sew/"))),
               said("{run} at {pace} a minute + {n} seams of {set} to set up",
                    n=count(len(stitching.seams)), set=minutes(SET_UP_MIN), run=length(sum(s.run_mm for s in stitching.seams)),
                    pace=length(choices.pace_mm_per_min))),
    ]  # fmt: skip
    edges = [s for s in steps if s.station == "edge" and s.length_mm]
    reckonings.append(reckon(
        "work/edges", "Edge to finish", length(sum(s.length_mm for s in edges)),
        said(" + ".join(f"{{e{i}:n}}" for i in range(len(edges))),
             **{f"e{i}": length(s.length_mm) for i, s in enumerate(edges)}),
    ))  # fmt: skip
    if draft.wet:
        reckonings.append(reckon(
            "work/dry", "Dry after", minutes(dry),
            said("{tau} × ln({excess} / {dry}): time constant {how}".replace(
                "{how}", "fitted to the weighings" if source == "readings" else "expected for this leather and air"),
                tau=minutes(tau), excess=percent(excess), dry=percent(0.02)),
        ))  # fmt: skip
    checked, astray = complete(draft.assembly, steps, draft.wet)
    findings = list(astray)
    if ready is None and choices.begins is not None and choices.sessions:
        findings.append(Finding(
            "look", "past-the-calendar", "vow", said("Begun then, the work is not done before the calendar ends."),
            "work.begins",
        ))  # fmt: skip
    if ready and promised and ready > promised:
        findings.append(Finding(
            "look", "late", "vow",
            said("At these hours the work is ready {days} after the day promised.",
                 days=minutes((ready - promised).total_seconds() / 60)), "promised",
        ))  # fmt: skip
    return Work(placed, ready, dry, tau, "readings" if source == "readings" else "expected", tuple(reckonings),
                tuple(findings), checked)  # fmt: skip


def _in_order(steps: list[Step]) -> tuple[Step, ...]:
    """The steps so that each follows what it needs, otherwise as given."""
    placed: list[Step] = []
    ids: set[str] = set()
    waiting = list(steps)
    while waiting:
        k = next((i for i, s in enumerate(waiting) if set(s.needs) <= ids), 0)
        step = waiting.pop(k)
        placed.append(step)
        ids.add(step.id)
    return tuple(placed)


def _placed(steps: tuple[Step, ...], choices: WorkChoices) -> tuple[tuple[Step, ...], datetime | None]:
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
        ready = [s for s in waiting if all(n in over for n in s.needs)]
        free = {s.id: max([over[n] for n in s.needs], default=now) for s in ready}
        step = next((s for s in ready if free[s.id] <= now), None) or min(ready, key=lambda s: free[s.id])
        now = max(now, free[step.id])
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
