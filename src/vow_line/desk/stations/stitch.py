"""Stitch: the seam unrolled into a straight strip with its strikes, and the holes on the pieces."""

from typing import Literal

import numpy as np

from ...core.drawing import Callout
from ...core.plan import Plan
from ...core.stitch import Seam
from ...core.stitch.pattern import beside
from ...core.stitch.strip import Places, enlarged, moved, partner, rows, strip, struck
from ...core.stitch.tools import of_choices
from ...core.texts import heading, said, verbatim
from ..board import Scene
from ..lists.rows import Row
from .station import UNSEWN, WAITS, Showing, View, for_whom, head, sums

PRONGS = ((6, 2, 1), (8, 4, 2), (4, 2, 1), (10, 5, 2), (2, 1))
"""Sets of prongs as they are often owned (common practice); the job's own comes first."""
LEAST_STRIP_MM = 160.0  # a strip narrower than this is not broken into rows


SENTENCES = (
    said("Holes by {stitch}, made from {through}."), said("Holes by {tool}, made from {through}."),
    said("Prongs at hand of {teeth} teeth."), said("What is left over goes {remainder}."), said("The ends lie {ends}."),
)  # fmt: skip


def _scene(plan: Plan, view: View) -> Scene:
    if plan.draft is None or plan.stitching is None:
        return for_whom(plan, Scene(waits=WAITS))
    seams = plan.stitching.seams
    if not seams:
        return Scene(waits=UNSEWN)
    seam = seams[(len(seams) - 1 - view.seam) % len(seams)]
    pieces = list(dict.fromkeys(p.piece for p in seam.line.placed))
    laid = beside(plan.draft, plan.stitching, pieces)
    marks = [m for sheet in laid for m in sheet.marks if m.meaning != "edge"]
    points = np.concatenate([m.line for m in marks])
    low, high = points.min(axis=0), points.max(axis=0)
    wide, long = (float(d) for d in high - low)
    tall = long > 1.6 * wide  # the strip goes where there is room for it
    broken = rows(seam, max(0.8 * long if tall else 1.3 * wide, LEAST_STRIP_MM))
    times = enlarged(seam, max(wide, long), broken)
    above = times * (60 + broken.more_mm + (50 if partner(seam)[0] else 0))
    left, upper = (float(high[0]) + 24, float(low[1])) if tall else (float(low[0]), float(low[1]) - above)
    line, labels = strip(seam, view.strike, broken, times)
    other, words = partner(seam)
    line, labels = moved((*line, *other), (*labels, *words), times, left, upper)
    on_piece = struck(seam, view.strike)
    at = Places(seam, broken, left, upper, times)
    callouts = _holes(plan, view, seam, at, "right" if tall else "left")
    lowest = seam.points[int(np.argmin(seam.points[:, 0]))]
    if seam.line.sewing.margin_at:
        place = (float(lowest[0]), float(lowest[1]))
        callouts += (Callout(seam.line.sewing.margin_at, said("thread to the cut"), "length", None, place, "left"),)
    if seam.line.sewing.stack_at:
        title = seam.line.sewing.stack_title
        callouts += (Callout(seam.line.sewing.stack_at, title, "leather", None, at.on_stack, "right", "welt"),)
    return for_whom(plan, Scene(
        tuple(marks) + on_piece + line, callouts, labels, sentences=SENTENCES,
        caution=said("Keep the hand out of the awl's line; punch on a board that does not ring."),
    ))  # fmt: skip


def _holes(
    plan: Plan, view: View, seam: Seam, places: Places, near: Literal["left", "right"]
) -> tuple[Callout, ...]:  # fmt: skip
    """What is decided about the holes of a seam. The main seam's are those of the job; another may have ends, a start and a
    tool of its own.
    """
    if seam.line.sewing.kept:  # its holes are there
        wide = plan.job.stitch.of(seam.id).hole_mm
        return (Callout("stitch.hole_mm", said("a hole, wide"), "fine", wide, places.hole(2), near, seam.id),)
    start, top = places.hole(0)
    end = places.last[0]
    choices, main = plan.job.stitch.of(seam.id), plan.stitching is not None and seam is plan.stitching.seams[-1]
    at = "stitch." if main else f"stitch.of/{seam.id}/"
    own = of_choices(choices, choices.tool_name or f"{'an' if choices.tool[0] in 'ia' else 'a'} {choices.tool}")
    tools = (own, *(t for t in view.tools if t.name != own.name))
    apart = next((o for o in plan.job.stitch.own if o.seam == seam.id and o.tool), None)
    if main:
        callouts = [Callout("stitch", said("holes by"), "count", own, (start, top + 2), "left", f"{seam.id}/strikes",
                         tuple(verbatim(t.name) for t in tools), tools)]  # fmt: skip
    else:
        usual = (said("as the main seam"), *(verbatim(t.name) for t in view.tools)), ("", *view.tools)
        callouts = [Callout(f"{at}tool", said("holes by"), "count", apart.tool if apart else "", (start, top + 2), "left",
                         f"{seam.id}/strikes", *usual)]  # fmt: skip
    if apart is None:
        callouts += [
            Callout(
                "stitch.pitch_mm",
                said("pitch"),
                "fine",
                choices.pitch_mm,
                places.hole(3),
                near,
                seam.id,
                to=places.hole(4),
            ),
            Callout("stitch.hole_mm", said("a hole, wide"), "fine", choices.hole_mm, places.hole(2), near, seam.id),
        ]
    if seam.line.shape != "box" and not seam.line.closed:
        callouts += [
            Callout(f"{at}start_in_mm", said("first hole in"), "length", choices.start_in_mm, places.hole(0), near),
            Callout(f"{at}end_in_mm", said("last hole in"), "length", choices.end_in_mm, places.last, "right"),
        ]
    callouts.append(Callout("stitch.through", said("made from"), "count", choices.through, (end, top + 18), "right",
                         choices=(said("one face"), said("both faces")), meant=("one-face", "both-faces")))  # fmt: skip
    if seam.line.shape == "line":
        callouts += [
            Callout("stitch.round_mm", said("corners rounded to"), "length", choices.round_mm, places.hole(10_000), "right",
                    seam.id),
            Callout("stitch.mark_every", said("a mark every, holes"), "count", choices.mark_every,
                    places.marked(choices.mark_every), "right", f"{seam.id}/marks"),
        ]  # fmt: skip
    if seam.line.runs_on:
        callouts.append(Callout(f"{at}ends", said("the ends lie"), "count", choices.ends, (end, top + 6), "right", seam.id,
                             (said("in"), said("outside"))))  # fmt: skip
    if choices.tool == "iron" and apart is None and seam.line.shape != "box":
        prongs = tuple(dict.fromkeys((choices.teeth, *PRONGS)))
        callouts += [
            Callout("stitch.remainder", said("what is left over"), "count", choices.remainder, (end, top + 14), "right",
                    choices=(said("to the end"), said("between all")), meant=("end", "spread")),
            Callout("stitch.teeth", said("prongs at hand, teeth"), "count", choices.teeth, (start, top + 5), "left",
                    f"{seam.id}/strikes", tuple(verbatim(", ".join(map(str, teeth))) for teeth in prongs), prongs),
            Callout("stitch.error_mm", said("out at each hole"), "fine", choices.error_mm, places.hole(1), near),
        ]  # fmt: skip
    return tuple(callouts)


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    rows: list[Row] = []
    for k, seam in enumerate(reversed(plan.stitching.seams if plan.stitching else ())):
        own = tuple(r for r in plan.sums("stitch") if r.key.startswith(f"{seam.id}/"))
        rows += [head(heading(seam.title), rule=k > 0), *sums(own, plan.job.units)]
    return tuple(rows)


SHOWING = Showing("stitch", said("Stitch"), _scene, _slip, seams=True)
