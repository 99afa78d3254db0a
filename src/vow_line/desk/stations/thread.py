"""Thread: the thread as it will lie on both faces, the length to cut, and which rules of thumb would have run out."""

from ...core.drawing import Callout
from ...core.plan import Plan
from ...core.reckoning import said
from ...core.thread.picture import faces, schools
from ..board import Scene
from ..rows import Row
from .station import WAITS, Bench, View, head, sums


def _scene(plan: Plan, view: View) -> Scene:
    if plan.threading is None:
        return Scene(waits=WAITS)
    seams = plan.threading.seams
    sewn = seams[(len(seams) - 1 - view.seam) % len(seams)]
    marks, labels = faces(sewn, 0.0, 0.0)
    wide = max(float(m.line[:, 0].max()) for m in marks)
    bars, said_of = schools(sewn, 0.0, 62.0, wide)
    choices = plan.job.thread
    callouts = (
        Callout("thread.thread.diameter_mm", said("thread, thick"), "fine", None, (0.0, 4.0), "left", sewn.seam.name),
        Callout("thread.needle_mm", said("needle, long"), "length", None, (0.0, 16.0), "left"),
        Callout("thread.start", said("begin at"), "count", choices.start, (2.0, 30.0), "left",
                choices=("first hole", "third hole")),
        Callout("thread.slack.value", said("slack"), "percent", None, (0.0, 80.0), "left"),
        Callout("thread.compression", said("leather gives"), "percent", None, (0.0, 95.0), "left"),
        Callout("thread.back_stitches", said("back stitches"), "count", None, (wide, 4.0), "right"),
        Callout("thread.edge_loops", said("loops over the edge"), "count", None, (0.0, 40.0), "left"),
        Callout("thread.reach_mm", said("longest a hand draws"), "long", None, (wide, 30.0), "right"),
        Callout("thread.thread.left_mm", said("left on the spool"), "long", None, (wide, 70.0), "right"),
    )  # fmt: skip
    return Scene(marks + bars, callouts, labels + said_of, ruler=False)


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    if plan.threading is None:
        return (head("Reckoning"),)
    units = plan.job.units
    total = tuple(r for r in plan.threading.reckonings if r.key == "thread/total")
    rows: list[Row] = [head("Reckoning"), *sums(total, units)]
    for seam in reversed(plan.threading.seams):
        own = tuple(r for r in plan.threading.reckonings if r.key.startswith(f"{seam.seam.name}/"))
        rows += [head(seam.seam.name.capitalize(), True), *sums(own, units)]
    return tuple(rows)


BENCH = Bench("thread", "Thread", _scene, _slip, seams=True)
