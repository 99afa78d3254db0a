"""Lay out: the leather with its flaws, and the pieces on it."""

import numpy as np

from ...core.curve import frozen
from ...core.drawing import Callout, Label, Mark
from ...core.plan import Plan
from ...core.reckoning import said
from ..board import Scene
from ..rows import Row
from .station import WAITS, Bench, View, head, sums


def leather_marks(plan: Plan) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """The hide, its flaws and what is laid on it; pieces already cut are shown as done."""
    assert plan.layout is not None
    hide = plan.job.leather
    outline = frozen(hide.outline)
    marks = [Mark("hide", outline, True, "hide")]
    marks += [Mark("void", frozen(flaw), True, "flaw") for flaw in hide.flaws]
    labels = []
    for laid in plan.layout.laid:
        done = plan.job.work.is_done(f"cut/{laid.piece}")
        marks.append(Mark("flesh", laid.outline, True, laid.piece))
        marks.append(Mark("done" if done else "cut", laid.outline, True, laid.piece))
        middle = (laid.outline.min(axis=0) + laid.outline.max(axis=0)) / 2
        labels.append(Label(said(laid.piece + (", cut" if done else "")), (float(middle[0]), float(middle[1])),
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


def _scene(plan: Plan, view: View) -> Scene:
    if plan.layout is None:
        return Scene(waits=WAITS)
    marks, labels = leather_marks(plan)
    low = frozen(plan.job.leather.outline).min(axis=0)
    x, y = float(low[0]), float(low[1])
    long, wide = (float(v) for v in np.ptp(frozen(plan.job.leather.outline), axis=0))
    callouts = (
        Callout("leather.thickness_mm", said("leather"), "leather", None, (x + 8, y + 60), "left", "hide"),
        Callout(
            "leather.tannage", said("tanned"), "count", None, (x + 8, y + 30), "left", "hide", ("veg", "oil", "chrome")
        ),
        Callout("leather.size/long", said("long"), "length", long, (x + long / 2, y), "left", "hide"),
        Callout("leather.size/wide", said("wide"), "length", wide, (x + 6, y + 100), "left", "hide"),
        Callout("leather.best_rad", said("best way, turned"), "degrees", None, (x + 6, y + 140), "left", "best way"),
        Callout("leather.price_dm2", said("price a dm²"), "money", None, (x + 8, y + 220), "left"),
    )
    return Scene(marks, callouts, labels)


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    return (head("Reckoning"), *sums(plan.layout.reckonings if plan.layout else (), plan.job.units))


BENCH = Bench("layout", "Lay out", _scene, _slip)
