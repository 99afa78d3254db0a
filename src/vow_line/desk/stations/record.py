"""Record: planned beside done, for everything measurable, and what it taught."""

from ...core.drawing import Callout
from ...core.made import placed
from ...core.plan import Plan
from ...core.record.picture import bars
from ...core.texts import heading, said, tell, verbatim
from ..board import Scene
from ..lists.rows import Row
from .station import WAITS, Showing, View, head, sums

MADE_MM, GAP_MM, LEAST_MM = 80.0, 16.0, 120.0  # the made thing beside the bars


def _scene(plan: Plan, view: View) -> Scene:
    if plan.threading is None or plan.work is None:
        return Scene(waits=WAITS)
    marks, labels, ends = bars(plan.threading, plan.work, plan.job.record, plan.job.work)
    left = {t.seam: t for t in plan.job.record.thread_left}
    callouts = []
    for sewn in plan.threading.seams:
        id, title = sewn.seam.id, sewn.seam.title
        entry = left.get(id)
        cut = entry.cut_mm if entry else sewn.total_mm
        callouts.append(Callout(f"record.cut/{id}", said("cut for the {seam}", seam=title), "length", cut, ends[id],
                                "right",
                                id))  # fmt: skip
        callouts.append(Callout(f"record.left/{id}", said("left of the {seam}", seam=title), "length",
                                entry.left_mm if entry else "", ends[id], "right", id))  # fmt: skip
    if plan.made is not None:
        low, high = (float(v) for v in (min(m.line[:, 1].min() for m in marks), max(m.line[:, 1].max() for m in marks)))
        tall = max(high - low, LEAST_MM)
        marks += placed(plan.made.faces[0], -MADE_MM - GAP_MM, low, MADE_MM, tall)
    return Scene(marks, tuple(callouts), labels, ruler=False, tied=True)


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    units = plan.job.units
    rows: list[Row] = [head(tell("Reckoning")), *sums(plan.sums("record"), units)]
    slips = [t for t in plan.job.work.done if t.slip]
    names = {s.id: s.name.write(units) for s in plan.work.steps} if plan.work else {}
    if slips or plan.job.record.notes or plan.job.accepted:
        rows.append(head(tell("Written down"), True))
    rows += [Row(f"slip/{t.step}", "sum", names.get(t.step, t.step), tell("slip"), t.slip) for t in slips]
    rows += [
        Row(f"note/{i}", "sum", heading(verbatim(n.about)), "", n.says) for i, n in enumerate(plan.job.record.notes)
    ]
    rows += [
        Row(f"accepted/{a.code}", "sum", tell("Accepted: {code}", code=a.code.replace("-", " ")), "", a.reason)
        for a in plan.job.accepted
    ]
    return tuple(rows)


SHOWING = Showing("record", said("Record"), _scene, _slip, notes=said("how it fits, what it taught"))
