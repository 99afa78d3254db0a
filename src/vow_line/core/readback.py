"""The plan read back before the vow: what is tight, what was measured once, what will be cut and cannot be undone."""

from dataclasses import dataclass

from .draft.together import patterns
from .plan import Plan
from .quantity import Q
from .reckoning import count, fine, length, long
from .texts import NOTHING, Said, day, joined, listed, said, several
from .thread import SewnSeam


@dataclass(frozen=True, slots=True)
class Sentence:
    """One line of the reading."""

    part: Said
    says: Said
    more: tuple[Said, ...] = ()


def _ends(plan: Plan, sewn: SewnSeam) -> Said:
    """How its ends are made, where the stitch leaves a choice."""
    choices = plan.job.thread
    if sewn.stitch.id != "saddle" or choices.finish == "back-stitches":
        return NOTHING
    return said("its knot buried") if choices.finish == "buried-knot" else said("its ends overlapped")


def _proved(plan: Plan) -> list[Sentence]:
    """What putting the pieces together showed: one line, every check with its number below it."""
    checked = plan.checked
    if not checked:
        return []
    astray = [c for c in checked if not c.holds]
    text = said("put together and checked: {n} things", n=count(len(checked)))
    if astray:
        text = several("put together and checked: {n} of {all} things does not hold",
                       "put together and checked: {n} of {all} things do not hold", n=count(len(astray)),
                       all=count(len(checked)))  # fmt: skip
    each = tuple(
        said("{title}: {says}", title=c.title, says=c.says)
        if c.holds
        else said("{title}: {says}; this does not hold", title=c.title, says=c.says)
        for c in checked
    )
    return [Sentence(said("Put together"), text, each)]


def read_back(plan: Plan) -> tuple[Sentence, ...]:
    """Everything the vow is taken on, in the order in which it will be done."""
    draft, stitching, threading, layout = plan.whole, plan.sewing, plan.threading, plan.layout
    if draft is None or stitching is None or threading is None or layout is None:
        return ()
    sentences: list[Sentence] = []
    if draft.each:
        sentences.append(
            Sentence(said("To be cut"), said("for {names}", names=listed([one.name for one in draft.each])))
        )
    if draft.makes > 1:
        each = said("left and right in turn") if plan.job.makes.each == "in-pairs" else said("all alike")
        says = said("{n} of each are made, {each}; pieces and hardware are counted for all, thread for one of each") if (
            draft.each) else said("{n} are made, {each}; pieces and hardware are counted for all, thread for one")  # fmt: skip
        sentences.append(Sentence(said("To be cut"), says.filled(n=count(draft.makes), each=each)))
    for p in patterns(draft):
        in_ = NOTHING if p.id.startswith(p.stock.id) else said("in {stock}", stock=p.stock.title)
        side = joined(p.title, p.way_up if p.stock.sort == "leather" else joined(in_, p.way_up))
        says = said("{n} × {side}, {t} thick, {a}") if p.count > 1 else said("{n} {side}, {t} thick, {a}")
        area = Q("area", p.area_mm2 * p.count)
        says = says.filled(n=count(p.count), t=Q("leather", p.thickness_mm), a=area, side=side)
        sentences.append(Sentence(said("To be cut"), says))
    used, hide = Q("area", layout.used_mm2), Q("area", layout.hide_mm2)
    sentences.append(
        Sentence(
            said("To be cut"), said("{used} out of {hide} of {name}", name=plan.job.leather.name, used=used, hide=hide)
        )
    )
    for h in plan.hardware:
        sentences.append(Sentence(said("From the drawer"), said("{n} × {title}, {says}", n=count(h.count), title=h.title,
                                                                says=h.says)))  # fmt: skip
    sentences += _proved(plan)
    for seam in stitching.seams:
        often = said("{n} times", n=count(seam.line.times)) if seam.line.times > 1 else NOTHING
        sentences.append(Sentence(said("To be sewn"), joined(
            said("{seam}: {n} holes {p} apart, through {t}", n=count(len(seam.points)), p=fine(seam.pitch_mm),
                 t=length(float(seam.stack_mm.max())), seam=seam.title), often)))  # fmt: skip
    for sewn in threading.seams:
        parts = listed([said("{c}", c=long(c.total_mm)) for c in sewn.cuts])
        sentences.append(Sentence(said("To be sewn"), joined(
            said("{seam} in {stitch}", seam=sewn.seam.title, stitch=sewn.stitch.title), _ends(plan, sewn),
            said("thread: {parts}", parts=parts),
            said("{n} times", n=count(sewn.seam.line.times)) if sewn.seam.line.times > 1 else NOTHING)))  # fmt: skip
    if plan.work and plan.work.ready:
        promised = said("promised for {day}", day=day(plan.job.promised)) if plan.job.promised else NOTHING
        sentences.append(
            Sentence(said("In your hours"), joined(said("ready on {day}", day=day(plan.work.ready)), promised))
        )
    sentences.append(Sentence(said("Cannot be undone"), said("Leather can be made smaller, never larger.")))
    if draft.wet:
        sentences.append(
            Sentence(
                said("Cannot be undone"), said("Wet leather takes its shape once; over-heated, it shrinks for good.")
            )
        )
    return tuple(sentences)
