"""Measure: the body drawn from its readings, every reading a callout on it."""

from ...core.plan import Plan
from ...core.texts import said, tell
from ..board import Scene
from ..lists.rows import Row
from .station import Showing, View, for_whom, head, sums


def _scene(plan: Plan, view: View) -> Scene:
    measured = plan.measured
    return for_whom(plan, Scene(
        measured.marks, measured.callouts, plan.job.thing.labels(),
        caution=plan.job.thing.caution, handles=() if plan.job.vowed else plan.job.thing.handles(),
    ))  # fmt: skip


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    if not plan.sums("measure"):
        return (head(tell("Reckoning")), Row("waits", "sum", tell("The sums come with the readings.")))
    return (head(tell("Reckoning")), *sums(plan.sums("measure"), plan.job.units))


SHOWING = Showing("measure", said("Measure"), _scene, _slip)
