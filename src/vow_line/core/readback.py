"""The plan read back before the vow: what is tight, what was measured once, what will be cut and cannot be undone."""

from dataclasses import dataclass, replace

from .plan import Plan
from .quantity import Q
from .reckoning import Said, count, fine, length, long, said
from .thread import SewnSeam


@dataclass(frozen=True, slots=True)
class Line:
    """One line of the reading."""

    part: str
    says: Said
    more: tuple[Said, ...] = ()


def _ends(plan: Plan, sewn: SewnSeam) -> str:
    """How its ends are made, where the stitch leaves a choice."""
    choices = plan.job.thread
    if sewn.stitch.id != "saddle" or choices.finish == "back-stitches":
        return ""
    return "its knot buried, " if choices.finish == "buried-knot" else "its ends overlapped, "


def _proved(plan: Plan) -> list[Line]:
    """What putting the pieces together showed: one line, every check with its number below it."""
    checked = plan.checked
    if not checked:
        return []
    astray = [c for c in checked if not c.holds]
    told = said("put together and checked: {n} things", n=count(len(checked)))
    if astray:
        many = "does" if len(astray) == 1 else "do"
        told = said(f"put together and checked: {{k}} of {{n}} things {many} not hold", k=count(len(astray)),
                    n=count(len(checked)))  # fmt: skip
    each = tuple(
        replace(c.says, template=f"{c.title}: {c.says.template}{'' if c.holds else '; this does not hold'}")
        for c in checked
    )
    return [Line("Put together", told, each)]


def read_back(plan: Plan) -> tuple[Line, ...]:
    """Everything the vow is taken on, in the order in which it will be done."""
    draft, stitching, threading, layout = plan.draft, plan.stitching, plan.threading, plan.layout
    if draft is None or stitching is None or threading is None or layout is None:
        return ()
    found: list[Line] = []
    for p in draft.pieces:
        pair = ", mirrored" if p.mirrored else ""
        of = "" if p.stock.title in p.title else f", in {p.stock.title}"
        side = f", {p.side_up} side up" if p.stock.sort == "leather" else of
        found.append(Line("To be cut", said(f"{{n}} {p.title}{side}{pair}, {{t}} thick, {{a}}",
                                            n=count(p.count), t=Q("leather", p.thickness_mm),
                                            a=Q("area", p.area_mm2 * p.count))))  # fmt: skip
    used, hide = Q("area", layout.used_mm2), Q("area", layout.hide_mm2)
    found.append(
        Line("To be cut", said("{used} out of {hide} of {name}", name=plan.job.leather.name, used=used, hide=hide))
    )
    found += _proved(plan)
    for seam in stitching.seams:
        found.append(Line("To be sewn", said(f"{seam.title}: {{n}} holes {{p}} apart, through {{t}}",
                                             n=count(len(seam.points)), p=fine(seam.pitch_mm),
                                             t=length(float(seam.stack_mm.max())))))  # fmt: skip
    for sewn in threading.seams:
        parts = " and ".join(f"{{c{i}}}" for i in range(len(sewn.cuts)))
        found.append(Line("To be sewn", said(f"{sewn.seam.title} in {sewn.stitch.title}, {_ends(plan, sewn)}thread: {parts}",
                                             **{f"c{i}": long(c.total_mm) for i, c in enumerate(sewn.cuts)})))  # fmt: skip
    if plan.work and plan.work.ready:
        promised = f", promised for {plan.job.promised:%d %B}" if plan.job.promised else ""
        found.append(Line("In your hours", said(f"ready on {plan.work.ready:%d %B}{promised}")))
    found.append(Line("Cannot be undone", said("Leather can be made smaller, never larger.")))
    if draft.wet:
        found.append(
            Line("Cannot be undone", said("Wet leather takes its shape once; over-heated, it shrinks for good."))
        )
    return tuple(found)
