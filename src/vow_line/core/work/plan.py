"""The work of a job: its steps in order and in the maker's hours, what it takes, what is wrong with it."""

from dataclasses import dataclass, replace
from datetime import datetime

from ..draft import Draft
from ..finding import Finding
from ..proof import Checked
from ..reckoning import Reckoning, count, length, minutes, percent, reckon
from ..stitch import Stitching
from ..texts import joined, said, summed
from ..thread import Threading
from .calendar import placed
from .choices import WorkChoices
from .complete import complete
from .drying import DRY_WITHIN, Drying, dried, expected_tau_min
from .making import SET_UP_MIN, steps_of
from .order import in_order
from .step import Step, StepStation


@dataclass(frozen=True, slots=True, eq=False)
class Work:
    """All steps in order, placed in the maker's hours when a beginning was given, the check that they make all of it, and the
    drying curve.
    """

    steps: tuple[Step, ...]
    ready: datetime | None
    drying: Drying
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


def _so_often(step: Step, n: int) -> Step:
    """A step done so many times; what must be joined before long is so one by one, and does not wait for the last."""
    if n == 1:
        return step
    says, wait = step.says, step.wait
    if wait[1] is not None:
        says, wait = joined(says, said("each joined before the next is spread")), (wait[0], None)
    name = said("{name}, {n} times", name=step.name, n=n)
    return replace(step, minutes=step.minutes * n, length_mm=step.length_mm * n, name=name, says=says, wait=wait)


def _for_all(steps: list[Step], makes: int) -> list[Step]:
    """Steps for so many of the thing: what is cut is counted already, all else is done as often as one is made."""
    return [_so_often(s, 1 if s.id.startswith("cut/") else s.times * makes) for s in steps]


def plan_work(
    draft: Draft, stitching: Stitching, threading: Threading, leather_mm: float, choices: WorkChoices,
    promised: datetime | None, tannage: str = "veg",
) -> Work:  # fmt: skip
    """Order the work, fill the maker's hours, compare with the date promised. Never raises."""
    expected = expected_tau_min(leather_mm, choices.room_celsius, choices.humidity)
    drying = dried(choices.weighings, choices.dry_grams, expected)
    dry = drying.dry_minutes
    steps, circle = in_order(_for_all(steps_of(draft, stitching, threading, choices, dry, tannage), draft.makes))
    hours = placed(steps, choices)
    timed, ready = hours.steps, hours.ready
    hands = sum(s.minutes for s in steps)
    seams = [(s.run_mm, s.line.times * draft.makes) for s in stitching.seams]
    left = sum(s.minutes for s in steps if not choices.is_done(s.id))
    reckonings = [
        reckon("work/hands", said("Hands on"), minutes(hands),
               said("{n} steps; {left} still to do", n=count(len(steps)), left=minutes(left))),
        reckon("work/pace", said("Sewing"), minutes(sum(s.minutes for s in steps if s.id.startswith("sew/"))),
               said("{run} at {pace} a minute + {n} seams of {set} to set up",
                    n=count(sum(n for _, n in seams)), set=minutes(SET_UP_MIN), run=length(sum(run * n for run, n in seams)),
                    pace=length(choices.pace_mm_per_min))),
    ]  # fmt: skip
    edges = [s for s in steps if s.station == "edge" and s.length_mm]
    reckonings.append(reckon(
        "work/edges", said("Edge to finish"), length(sum(s.length_mm for s in edges)),
        summed([said("{e:n}", e=length(s.length_mm)) for s in edges]),
    ))  # fmt: skip
    if draft.wet:
        reckonings.append(reckon(
            "work/dry", said("Dry after"), minutes(dry), DRY_SAYS[drying.source].filled(
                tau=minutes(drying.tau_min), excess=percent(drying.excess), dry=percent(DRY_WITHIN),
                band=minutes(drying.spread_minutes)),
        ))  # fmt: skip
    checked, astray = complete(draft.assembly, steps, draft.wet)
    findings = list(astray)
    if circle:
        findings.append(Finding(
            "hold", "steps-in-a-circle", "vow",
            said("None of these steps can be first, each waits for another: {steps}.", steps=joined(*circle)), "steps",
        ))  # fmt: skip
    findings += [
        Finding("look", "cement-dries", "vow",
                said("{glue}: it is dry before what follows can begin, since no time at the bench is as long as it takes and "
                     "dries, {m}.", glue=step.name, m=minutes(step.minutes + step.wait[0])), "work.sessions")
        for step in hours.too_late
    ]  # fmt: skip
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
    return Work(timed, ready, drying, tuple(reckonings), tuple(findings), checked)


DRY_SAYS = {
    "fitted": said("from the forming on, {tau} × ln({excess} / {dry}), give or take {band}: fitted to the weighings"),
    "one": said("from the forming on, {tau} × ln({excess} / {dry}): by the last weighing, and the time constant expected for "
                "this leather and air"),
    "expected": said("from the forming on, {tau} × ln({excess} / {dry}): expected for this leather and air"),
}  # fmt: skip
