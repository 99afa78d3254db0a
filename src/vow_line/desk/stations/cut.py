"""Cut: the pieces in cutting order, ticked off."""

from ...core.leather.picture import on_leather
from ...core.plan import Plan
from ...core.texts import said, tell
from ..board import Scene
from ..lists.rows import Row
from .station import WAITS, Showing, View, head, pick, steps, sums


def _scene(plan: Plan, view: View) -> Scene:
    if plan.layout is None:
        return Scene(waits=WAITS)
    marks, labels = on_leather(plan.layout, plan.job.leather, plan.job.work.cut_pieces())
    return Scene(
        marks,
        (),
        labels,
        caution=said("Cut away from the hand that holds. A straight-edge guards the piece, not the waste."),
    )


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    if plan.work is None:
        return (head(tell("Cutting order")),)
    return (
        head(tell("Cutting order")),
        *steps(plan.work.at("cut"), plan),
        head(tell("Reckoning"), True),
        *sums(pick(plan.sums("vow"), "hands", "pace"), plan.job.units),
    )


SHOWING = Showing("cut", said("Cut"), _scene, _slip, notes=said("a slip of the knife, a flaw found"))
