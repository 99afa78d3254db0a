"""What a station is to the window."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime

from ...core.draft.search import Way
from ...core.drawing import Callout
from ...core.finding import Station
from ...core.plan import Plan
from ...core.quantity import Units, write
from ...core.reckoning import Reckoning, minutes
from ...core.stitch.tools import USUAL, HoleTool
from ...core.texts import NOTHING, Said, day_of_week, heading, said, tell
from ...core.thread import Thread
from ...core.work import Step
from ..board import Scene, Worn
from ..lists.rows import Row


@dataclass(frozen=True)
class View:
    """What is looked at, apart from the job: never undone, never recomputed for. `room_px` is how large a drawing can be;
    `worn` is shown as it was till the rest is drawn.
    """

    section_at_mm: float = 60.0
    drawn_mm: float = 0.0
    seam: int = 0
    way: Way | None = None
    strike: int | None = None
    tools: tuple[HoleTool, ...] = USUAL
    threads: tuple[Thread, ...] = ()
    room_px: tuple[float, float] = (560.0, 440.0)
    turned_rad: float = 0.6
    worn: Worn | None = None


@dataclass(frozen=True)
class Showing:
    """A station with a board: its scene, the rows of its slip, and what a note written there is likely about; whether its scene
    is `shaped` by the room there is.
    """

    station: Station
    title: Said
    scene: Callable[[Plan, View], Scene]
    slip: Callable[[Plan, View], tuple[Row, ...]]
    draws_out: bool = False
    seams: bool = False
    notes: Said = NOTHING
    shaped: bool = False


FOR_WHOM = said("For {wearer}.")


def for_whom(plan: Plan, scene: Scene) -> Scene:
    """The scene with a sentence that says whom it is for, where the job is for several, and turns to another."""
    if not plan.job.others:
        return scene
    numbers = tuple(w.number for w in plan.job.wearers)
    choice = Callout("wearer", said("for"), "count", plan.job.wearer, (0.0, 0.0), "left",
                     choices=tuple(plan.name_of(n) for n in numbers), meant=numbers)  # fmt: skip
    return replace(scene, callouts=(choice, *scene.callouts), sentences=(FOR_WHOM, *scene.sentences))


def head(name: str, rule: bool = False) -> Row:
    """A heading on the slip."""
    return Row(f"head/{name}", "head", name, ruled=rule)


def sums(reckonings: tuple[Reckoning, ...], units: Units) -> tuple[Row, ...]:
    """Reckonings as rows."""
    return tuple(
        Row(
            r.key, "sum", heading(r.name, units), r.value.write(units), r.sum.write(units),
            tuple(m.write(units) for m in r.more), marks=r.marks,
        )
        for r in reckonings
    )  # fmt: skip


def pick(reckonings: tuple[Reckoning, ...], *keys: str) -> tuple[Reckoning, ...]:
    """The reckonings whose key is, or ends in, one of `keys`, in that order."""
    return tuple(r for k in keys for r in reckonings if r.key == k or r.key.endswith(f"/{k}"))


def _when(at: datetime) -> str:
    return f"{day_of_week(at).write(Units())} {at:%H:%M}"


def steps(steps: tuple[Step, ...], plan: Plan) -> tuple[Row, ...]:
    """Steps as rows to tick off. A step whose needs are not done says so."""
    units, work = plan.job.units, plan.job.work
    rows = []
    names = {s.id: s.name.write(units) for s in plan.work.steps} if plan.work else {}
    for step in steps:
        waits = [names[n] for n in step.needs if not work.is_done(n) and n in names]
        first = (tell("after: {step} and more", step=waits[0]) if len(waits) > 1
                 else tell("after: {step}", step=waits[0]) if waits else "")  # fmt: skip
        text = step.says.write(units)
        when = _when(step.begins) if step.begins and not work.is_done(step.id) else ""
        rows.append(
            Row(
                step.id, "step", step.name.write(units), when or write(minutes(step.minutes), units),
                f"{first}. {text}" if first else text,
                ticked=work.is_done(step.id), caution=step.caution.write(units), marks=(step.id.split("/")[-1], step.id),
            )
        )  # fmt: skip
    return tuple(rows)


UNSEWN = said("Nothing is sewn on this piece.")
WAITS = said("This station waits for the readings that are missing at Measure.")
