"""Edge: the edges in the order in which they can still be reached, on the piece they belong to."""

from ...core.drawing import Label, Mark
from ...core.plan import Plan
from ...core.stitch.pattern import rows
from ...core.texts import said, tell
from ..board import Scene
from ..lists.rows import Row
from .station import WAITS, Showing, View, head, pick, steps, sums

WIDE_OVER_HIGH = 1.6
NAME_MM = 10.0


def _scene(plan: Plan, view: View) -> Scene:
    if plan.whole is None or plan.sewing is None or plan.work is None:
        return Scene(waits=WAITS)
    marks: list[Mark] = []
    labels: list[Label] = []
    for placed in rows(plan.whole, plan.sewing, WIDE_OVER_HIGH, NAME_MM):
        marks += [m for m in placed.marks if m.meaning in ("grain", "flesh", "fold")]
        marks.append(Mark("mark", placed.piece.outline + placed.shift, True, placed.piece.id))
        for edge in placed.piece.edges:
            finish = plan.whole.assembly.finish(placed.piece, edge)
            step = f"edge/{finish.join or f'{placed.piece.id}/{edge.beside or edge.id}'}"
            done = plan.job.work.is_done(step)
            if finish.when != "never":
                marks.append(Mark("done" if done else "edge", edge.line + placed.shift, id=step))
        low, high = placed.piece.outline.min(axis=0), placed.piece.outline.max(axis=0)
        top = (float(low[0] + high[0]) / 2 + placed.shift[0], float(low[1]) + placed.shift[1] - 5.0)
        labels.append(Label(placed.piece.title, top, strong=True))
    return Scene(tuple(marks), (), tuple(labels), caution=said("Sanding dust: a mask. Damp the edge, do not wet it."))


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    if plan.work is None:
        return (head(tell("Edges, as they can be reached")),)
    return (
        head(tell("Edges, as they can be reached")),
        *steps(plan.work.at("edge"), plan),
        head(tell("Reckoning"), True),
        *sums(pick(plan.sums("vow"), "edges"), plan.job.units),
    )


SHOWING = Showing("edge", said("Edge"), _scene, _slip, notes=said("what the edge wanted"))
