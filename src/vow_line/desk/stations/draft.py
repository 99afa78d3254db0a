"""Draft: the pieces flat and true to scale, the section under the pointer, the blade drawn out."""

from ...core.curve import frozen
from ...core.drawing import Label, Mark
from ...core.plan import Plan
from ...core.reckoning import length, said
from ...core.stitch.pattern import moved, pattern
from ..board import Inset, Scene
from ..rows import Row
from .station import WAITS, Bench, View, head, pick, sums


def _scene(plan: Plan, view: View) -> Scene:
    draft, stitching = plan.draft, plan.stitching
    if draft is None or stitching is None:
        return Scene(waits=WAITS)
    main = draft.pieces[0]
    marks = list(pattern(main, stitching))
    welt = [m for m in draft.marks if m.id == "welt"]
    alarm = [m for m in draft.marks if m.meaning == "alarm"]
    tight = [f for f in plan.at("draft") if f.code == "draw-out"]
    thing = moved(Mark("thing", draft.thing, True, "blade"), (0.0, -view.drawn_mm))
    under = [m for m in marks if m.meaning in ("grain", "flesh", "glue")]
    over = [m for m in marks if m not in under and m.meaning != "edge"]
    section = draft.section(view.section_at_mm)
    at = section.at_mm
    outline = main.outline
    cut_line = Mark("dimension", frozen([[outline[:, 0].min() - 6, at], [outline[:, 0].max() + 6, at]]))
    low = float(outline[:, 1].max()) - 34
    labels = [Label(said("back"), (float(outline[:, 0].min()) * 0.45, low), "cut")]
    if tight:
        place = alarm[0].line[0]
        least = draft.draw_out.least_mm
        says = "{gap} too tight here" if least < 0 else "{gap} here"
        labels.append(Label(said(says, gap=length(abs(least))), (place[0] - 7, place[1] + 1.5), "alarm", True, "right"))
    return Scene(
        (*under, *welt, thing, *over, cut_line, *(alarm if tight else ())),
        draft.callouts,
        tuple(labels),
        Inset(said("Section, {at} from the guard", at=length(at)), section.marks,
              said("edge to thread {d} here", d=length(section.to_thread_mm))),
        passing=frozenset(["blade"]),
    )  # fmt: skip


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    if plan.draft is None or plan.stitching is None or plan.threading is None:
        return (head("Reckoning"),)
    units = plan.job.units
    main = plan.stitching.seams[-1].name
    follows = pick(plan.stitching.reckonings, f"{main}/edge", f"{main}/stack", f"{main}/holes")
    follows += pick(plan.threading.reckonings, f"{main}/thread")
    area = pick(plan.draft.reckonings, "area")
    own = tuple(r for r in plan.draft.reckonings if r not in area)
    return (head("Reckoning"), *sums(own, units), head("What follows", True), *sums(follows + area, units))


BENCH = Bench("draft", "Draft", _scene, _slip, draws_out=True)
