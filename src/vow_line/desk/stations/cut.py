"""Cut: the pieces in cutting order, ticked off."""

from ...core.plan import Plan
from ..board import Scene
from ..rows import Row
from .layout import leather_marks
from .station import WAITS, Bench, View, head, steps


def _scene(plan: Plan, view: View) -> Scene:
    if plan.layout is None:
        return Scene(waits=WAITS)
    marks, labels = leather_marks(plan)
    return Scene(
        marks, (), labels, caution="Cut away from the hand that holds. A straight-edge guards the piece, not the waste."
    )


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    if plan.work is None:
        return (head("Cutting order"),)
    return (head("Cutting order"), *steps(plan.work.at("cut"), plan))


BENCH = Bench("cut", "Cut", _scene, _slip, notes="a slip of the knife, a flaw found")
