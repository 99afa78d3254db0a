"""Drying drawn over the clock, and planned beside done as bars."""

import numpy as np

from ..curve import frozen
from ..drawing import Label, Mark
from ..quantity import Q
from ..reckoning import minutes, percent
from ..texts import said
from .choices import WorkChoices
from .drying import DRY_WITHIN
from .plan import Work

WIDE_MM, HIGH_MM = 240.0, 160.0


def drying(
    work: Work, choices: WorkChoices
) -> tuple[tuple[Mark, ...], tuple[Label, ...], dict[str, tuple[float, float]]]:
    """The weight over the hours as a share of the dry weight, the weighings on it, and when it is dry; and where on it what is
    said belongs: the `dry` weight, the latest weight `now`, and the fall that `room` and `air` make slow or quick.
    """
    dry = choices.dry_grams or 100.0
    told = work.drying
    excess = max(told.excess, DRY_WITHIN, *(w.grams / dry - 1 for w in choices.weighings))
    span = max((told.dry_minutes + told.spread_minutes) * 1.25, 60.0)

    def at(minutes_: float, share: float) -> tuple[float, float]:
        return minutes_ / span * WIDE_MM, HIGH_MM * (1 - share / (excess * 1.1))

    time = np.linspace(0, span, 120)
    curve = [at(t, float(told.excess_at(t))) for t in time]
    marks = [
        Mark("mark", frozen([[0, 0], [0, HIGH_MM], [WIDE_MM, HIGH_MM]])),
        Mark("front thread", frozen(curve), id="work/dry"),
        Mark("fold", frozen([at(0, DRY_WITHIN), at(span, DRY_WITHIN)])),
        Mark("dimension", frozen([at(told.dry_minutes, 0), at(told.dry_minutes, excess * 0.5)])),
    ]
    if told.spread_minutes:
        ends = max(told.dry_minutes - told.spread_minutes, 0.0), told.dry_minutes + told.spread_minutes
        marks += [Mark("dimension", frozen([at(end, 0), at(end, excess * 0.12)]), id="work/dry") for end in ends]
    labels = [
        Label(said("dry after {t}", t=minutes(told.dry_minutes)), at(told.dry_minutes, excess * 0.53), strong=True),
        Label(said("within {d} of dry: done", d=percent(DRY_WITHIN)), (4.0, at(0, DRY_WITHIN)[1] - 3), align="left"),
    ]
    step = 60 * max(1, round(span / 60 / 8))
    for k in range(int(span // step) + 1):
        x, y = at(k * step, 0)
        marks.append(Mark("mark", frozen([[x, y], [x, y + 2.5]])))
        labels.append(Label(said("{h}", h=minutes(k * step)), (x, y + 11)))
    for weighing in choices.weighings:
        point = at(weighing.minutes, max(weighing.grams / dry - 1, 0))
        marks.append(Mark("alarm", frozen([point]), id="weighing", size_mm=3.5))
        labels.append(Label(said("{w}", w=Q("grams", weighing.grams)), (point[0] + 4, point[1] - 3), align="left"))
    last = choices.weighings[-1] if choices.weighings else None
    now = at(last.minutes, max(last.grams / dry - 1, 0)) if last else at(0.0, excess)
    places = {"dry": at(0.0, 0.0), "now": now, "room": curve[24], "air": curve[36]}
    return tuple(marks), tuple(labels), places
