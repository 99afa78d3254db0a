"""The leather with its flaws, and what is laid on it."""

import numpy as np

from ..curve import frozen
from ..drawing import Label, Mark
from ..texts import joined, said
from .hide import Hide
from .layout import SPOILED, Laid, Layout

SMALL = 0.15  # of a pattern whose pieces are smaller beside the leather, one is named for all


def _name(alike: list[Laid], done: bool) -> Label:
    """The name of a piece where it lies, or of several that are small and alike at the first of them."""
    first = alike[0]
    x, y = ((first.outline.min(axis=0) + first.outline.max(axis=0)) / 2).tolist()
    title = joined(first.title, said("{n} of it", n=len(alike))) if len(alike) > 1 else first.title
    return Label(said("{piece}, cut", piece=title) if done else title, (x, y), "done" if done else "mark", True)


def on_leather(layout: Layout, hide: Hide, cut: frozenset[str]) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """The hide, its flaws, its best way and the pieces on it; those named in `cut` are shown as cut."""
    outline = frozen(hide.outline)
    marks = [Mark("hide", outline, True, "hide")]
    marks += [Mark("void", frozen(flaw), True, "flaw") for flaw in hide.flaws]
    small = SMALL * float(np.ptp(outline, axis=0).max())
    named: dict[tuple[str, bool], list[Laid]] = {}
    for laid in layout.laid:
        done, gone = laid.piece in cut, laid.piece.startswith(SPOILED)
        marks.append(Mark("void" if gone else "flesh", laid.outline, True, laid.piece))
        if not gone:
            marks.append(Mark("done" if done else "cut", laid.outline, True, laid.piece))
        tiny = float(np.ptp(laid.outline, axis=0).max()) < small
        named.setdefault((laid.pattern if tiny else f"{laid.piece}/{laid.copy}", done), []).append(laid)
    labels = [_name(alike, done) for (_, done), alike in named.items()]
    low, high = outline.min(axis=0), outline.max(axis=0)
    y = float(high[1]) + 14
    c, s = np.cos(hide.best_rad), np.sin(hide.best_rad)
    centre = np.array([float(low[0] + high[0]) / 2, y])
    arrow = centre + 40 * np.array(
        [[-c, -s], [c, s], [c * 0.9 - 0.06 * s, s * 0.9 + 0.06 * c], [c, s], [c * 0.9 + 0.06 * s, s * 0.9 - 0.06 * c]]
    )
    marks.append(Mark("mark", frozen(arrow), id="best way"))
    labels.append(Label(said("best way of the leather"), (float(centre[0]) + 50, y + 1), align="left"))
    return tuple(marks), tuple(labels)
