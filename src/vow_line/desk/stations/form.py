"""Form: soak, form, hold and dry, as a curve over the clock."""

from ...core.drawing import Callout
from ...core.plan import Plan
from ...core.texts import said, tell
from ...core.work.picture import drying
from ..board import Scene
from ..lists.rows import Row
from .station import WAITS, Showing, View, head, pick, steps, sums


def _scene(plan: Plan, view: View) -> Scene:
    if plan.work is None or plan.whole is None:
        return Scene(waits=WAITS)
    if not plan.whole.wet:
        return Scene(
            waits=said("This piece is not formed wet: nothing to do here. The next stitch on the line is Sew.")
        )
    work = plan.job.work
    marks, labels, at = drying(plan.work, work)
    callouts = [
        Callout("work.dry_grams", said("dry, before the water"), "grams", None, at["dry"], "left"),
        Callout("work.weigh", said("weighed now"), "grams", "", at["now"], "left", "weighing"),
        Callout("work.room_celsius", said("room, °C"), "count", None, at["room"], "right"),
        Callout("work.humidity", said("damp of the air"), "percent", None, at["air"], "right"),
    ]
    edge = any(s.line.sewing.keep_off is not None for s in plan.sewing.seams) if plan.sewing else False
    caution = said("Not over 50 °C. Tape the edge; wrap the blade in thin film before it goes in.") if edge else said(
        "Not over 50 °C: wet vegetable-tanned leather shrinks for good.")  # fmt: skip
    return Scene(marks, tuple(callouts), labels, ruler=False, tied=True, caution=caution)


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    if plan.work is None:
        return (head(tell("Forming")),)
    dried = sums(pick(plan.sums("vow"), "dry"), plan.job.units)
    return (head(tell("Forming")), *steps(plan.work.at("form"), plan), head(tell("Reckoning"), True), *dried)


SHOWING = Showing("form", said("Form"), _scene, _slip, notes=said("how it took its shape"))
