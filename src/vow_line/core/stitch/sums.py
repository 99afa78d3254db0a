"""The sums of the stitching, as a maker would write them."""

import numpy as np

from ..reckoning import Reckoning, count, fine, length, reckon
from ..texts import NOTHING, joined, said, summed
from .choices import StitchChoices
from .holes import drift
from .seams import Seam


def sums(seam: Seam, choices: StitchChoices) -> tuple[Reckoning, ...]:
    """The sums of one seam."""
    name, title, n = seam.id, seam.title, len(seam.points)
    thin, thick = float(seam.stack_mm.min()), float(seam.stack_mm.max())
    plies = [(p.title, float(t.max())) for p, t in zip(seam.line.plies, seam.plies_mm, strict=True) if np.any(t > 0)]
    left_out = seam.line.shape == "box" and round(seam.run_mm / seam.pitch_mm) > len(seam.order) - 1
    if seam.line.shape != "box":
        holes = said("{run:n} by {pitch}, and one more", run=length(seam.run_mm), pitch=fine(seam.pitch_mm))
    else:
        holes = (
            said("a box and its two diagonals, {n} stitches; one side twice") if not left_out else
            said("a box and its two diagonals, {n} stitches, longer where it is too narrow for holes; one side twice")
        ).filled(n=count(len(seam.order) - 1))  # fmt: skip
    reckonings = [
        reckon(f"{name}/holes", said("Holes, {title}", title=title), count(n), holes, (name,)),
        reckon(f"{name}/pitch", said("Pitch, {title}", title=title), fine(seam.pitch_mm),
               said("{run:n} over {n} stitches, where the old holes are", run=length(seam.run_mm),
                    n=count(len(seam.order) - 1)) if seam.line.sewing.kept
               else said("the iron keeps it; {left} left over at the end", left=length(seam.left_mm))
               if choices.tool == "iron" and seam.line.shape != "box"
               else said("where no hole is left out; {p} was asked", p=fine(choices.pitch_mm)) if left_out
               else said("{run:n} over {n} stitches; {p} was asked", run=length(seam.run_mm),
                         n=count(len(seam.order) - 1), p=fine(choices.pitch_mm)), (name,)),
        reckon(f"{name}/stack", said("Stack, {title}", title=title), length(thick),
               joined(summed([said("{ply}: {t:n}", ply=p, t=length(t)) for p, t in plies]),
                      said("{thin} where it is thinnest", thin=length(thin)) if thick - thin > 0.05 else NOTHING), (name,)),
    ]  # fmt: skip
    if seam.strikes:
        used = sorted({k.teeth for k in seam.strikes}, reverse=True)
        of = joined(*(said("{k} with {m}", k=sum(k.teeth == m for k in seam.strikes), m=m) for m in used))
        made = (said("{of} tooth, first tooth in the last hole") if used == [1]
                else said("{of} teeth, first tooth in the last hole")).filled(of=of)  # fmt: skip
        reckonings.append(reckon(f"{name}/strikes", said("Strikes, {title}", title=title), count(len(seam.strikes)),
                            joined(made, said("from both faces: {n} in all", n=2 * len(seam.strikes)) if seam.share < 1
                                   else NOTHING),
                            (name, f"{name}/strikes")))  # fmt: skip
        walks, again = drift(n, seam.pitch_mm, choices.error_mm)
        reckonings.append(reckon(f"{name}/drift", said("Drift, {title}", title=title), fine(walks),
                            said("an iron {b:n} out walks {w:n} over {n} holes; set anew by a mark every {k}, before a "
                                 "quarter of the pitch", b=fine(choices.error_mm), w=fine(walks), n=count(n),
                                 k=count(again)),
                            (name,)))  # fmt: skip
    if seam.to_edge_mm is not None:
        reckonings.append(reckon(f"{name}/edge", said("Blade edge to thread"), length(seam.to_edge_mm),
                            said("least over the whole way out; {least} wanted", least=length(seam.line.sewing.keep_off_mm)),
                            (name, "blade")))  # fmt: skip
    return tuple(reckonings)
