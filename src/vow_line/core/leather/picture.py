"""The leather with its flaws, and what is laid on it."""

import numpy as np

from ..curve import frozen
from ..drawing import Label, Mark
from ..texts import said
from .hide import Hide
from .layout import SPOILED, Layout


def on_leather(layout: Layout, hide: Hide, cut: frozenset[str]) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """The hide, its flaws, its best way and the pieces on it; those named in `cut` are shown as cut."""
    outline = frozen(hide.outline)
    marks = [Mark("hide", outline, True, "hide")]
    marks += [Mark("void", frozen(flaw), True, "flaw") for flaw in hide.flaws]
    labels = []
    for laid in layout.laid:
        done, gone = laid.piece in cut, laid.piece.startswith(SPOILED)
        marks.append(Mark("void" if gone else "flesh", laid.outline, True, laid.piece))
        if not gone:
            marks.append(Mark("done" if done else "cut", laid.outline, True, laid.piece))
        middle = (laid.outline.min(axis=0) + laid.outline.max(axis=0)) / 2
        labels.append(Label(said("{piece}, cut", piece=laid.title) if done else laid.title, (float(middle[0]),
                                                                                             float(middle[1])),
                            "done" if done else "mark", True))  # fmt: skip
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
