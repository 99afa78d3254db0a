"""Stitch: the seam unrolled into a straight strip with its strikes, and the holes on the pieces."""

import numpy as np

from ...core.drawing import Callout
from ...core.plan import Plan
from ...core.reckoning import said
from ...core.stitch.pattern import moved, pattern
from ...core.stitch.strip import strip
from ..board import Scene
from ..rows import Row
from .station import WAITS, Bench, View, head, sums

PRONGS = ((6, 2, 1), (8, 4, 2), (4, 2, 1), (10, 5, 2), (2, 1))
"""Sets of prongs as they are often owned (common practice); the job's own comes first."""


def _scene(plan: Plan, view: View) -> Scene:
    if plan.draft is None or plan.stitching is None:
        return Scene(waits=WAITS)
    seams = plan.stitching.seams
    seam = seams[(len(seams) - 1 - view.seam) % len(seams)]
    pieces = list(dict.fromkeys(p.piece for p in seam.line.placed))
    marks, right = [], 0.0
    for name in pieces:
        piece = plan.draft.piece(name)
        low = piece.outline.min(axis=0)
        drawn = [m for m in pattern(piece, plan.stitching) if m.meaning != "edge"]
        marks += [moved(m, (right - float(low[0]), -float(low[1]))) for m in drawn]
        right += float(np.ptp(piece.outline[:, 0])) + 16
    line, labels = strip(seam, 0.0, -54.0)
    end = float(line[0].line[:, 0].max())
    choices = plan.job.stitch
    prongs = tuple(dict.fromkeys((choices.teeth, *PRONGS)))
    callouts: tuple[Callout, ...] = (
        Callout("stitch.tool", said("holes by"), "count", choices.tool, (0.0, -40.0), "left",
                choices=("iron", "wheel", "awl")),
        Callout("stitch.teeth", said("prongs at hand, teeth"), "count", choices.teeth, (0.0, -37.0), "left",
                f"{seam.name}/strikes", tuple(", ".join(map(str, teeth)) for teeth in prongs), prongs),
        Callout("stitch.pitch_mm", said("pitch"), "fine", choices.pitch_mm, (6.0, -34.0), "left", seam.name),
        Callout("stitch.start_in_mm", said("first hole in"), "length", choices.start_in_mm, (0.0, -30.0), "left"),
        Callout("stitch.end_in_mm", said("last hole in"), "length", choices.end_in_mm, (end, -34.0), "right"),
        Callout("stitch.remainder", said("what is left over"), "count", choices.remainder, (end, -28.0), "right",
                choices=("end", "spread")),
    )  # fmt: skip
    if seam.line.margin_at:
        callouts += (Callout(seam.line.margin_at, said("thread to the cut"), "length", None, (2.0, 40.0), "left"),)
    if seam.line.stack_at:
        callouts += (Callout(seam.line.stack_at, said("welt, thick"), "leather", None, (end, -44.0), "right", "welt"),)
    return Scene(tuple(marks) + line, callouts, labels,
                 caution="Keep the hand out of the awl's line; punch on a board that does not ring.")  # fmt: skip


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    rows: list[Row] = []
    for k, seam in enumerate(reversed(plan.stitching.seams if plan.stitching else ())):
        own = tuple(r for r in plan.stitching.reckonings if r.key.startswith(f"{seam.name}/"))  # type: ignore[union-attr]
        rows += [head(seam.name.capitalize(), rule=k > 0), *sums(own, plan.job.units)]
    return tuple(rows)


BENCH = Bench("stitch", "Stitch", _scene, _slip, seams=True)
