"""Lay out: the leather with its flaws, and the pieces on it."""

import numpy as np

from ...core.curve import frozen
from ...core.drawing import Callout
from ...core.leather.picture import on_leather
from ...core.plan import Plan
from ...core.texts import said, tell
from ..board import Scene
from ..lists.rows import Row
from .station import WAITS, Showing, View, head, sums

_SAYS = {False: (said("Leather that was {tannage} tanned, its {outside} shown."),),
         True: (said("Leather that was {tannage} tanned, its {outside} shown; of several, {each}."),)}  # fmt: skip


def _scene(plan: Plan, view: View) -> Scene:
    if plan.layout is None:
        return Scene(waits=WAITS)
    marks, labels = on_leather(plan.layout, plan.job.leather, plan.job.work.cut_pieces())
    low = frozen(plan.job.leather.outline).min(axis=0)
    x, y = float(low[0]), float(low[1])
    long, wide = (float(v) for v in np.ptp(frozen(plan.job.leather.outline), axis=0))
    arrow = next((tuple(m.line[1].tolist()) for m in marks if m.id == "best way"), (x, y))
    callouts: tuple[Callout, ...] = (
        Callout(
            "leather.thickness_mm", said("leather"), "leather", None, (x + long - 20, y + wide * 0.25), "right", "hide"
        ),
        Callout(
            "leather.tannage",
            said("tanned"),
            "count",
            None,
            (x + 8, y + 30),
            "left",
            "hide",
            (said("veg"), said("oil"), said("chrome")),
        ),
        Callout(
            "leather.outside",
            said("shown"),
            "count",
            plan.job.leather.outside,
            (x + 8, y + 45),
            "left",
            "hide",
            choices=(said("grain side"), said("flesh side")),
            meant=("grain", "flesh"),
        ),
        Callout(
            "leather.size/long", said("long"), "length", long, (x, y + wide), "left", "hide", to=(x + long, y + wide)
        ),
        Callout("leather.size/wide", said("wide"), "length", wide, (x, y), "left", "hide", to=(x, y + wide)),
        Callout("leather.best_rad", said("best way, turned"), "degrees", None, arrow, "right", "best way"),
        Callout(
            "makes.count", said("made of it"), "count", plan.job.makes.count, (x + long - 20, y + wide * 0.6), "right"
        ),
        Callout("leather.price_dm2", said("price a dm²"), "money", None, (x + long - 20, y + wide * 0.4), "right"),
    )
    if plan.job.makes.count > 1:
        callouts += (
            Callout("makes.each", said("how"), "count", plan.job.makes.each, (x + 8, y + 60), "left",
                    choices=(said("one like the other"), said("left and right in turn")), meant=("alike", "in-pairs")),
        )  # fmt: skip
    return Scene(marks, callouts, labels, sentences=_SAYS[plan.job.makes.count > 1])


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    return (head(tell("Reckoning")), *sums(plan.sums("layout"), plan.job.units))


SHOWING = Showing("layout", said("Lay out"), _scene, _slip)
