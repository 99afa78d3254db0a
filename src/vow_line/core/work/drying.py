"""Drying: the weight of wet leather over time, m = m_end + (m_0 - m_end)·exp(-time/τ)."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from ..curve import Values
from .choices import Weighing

TAU_MIN = 360.0  # time constant of 3.2 mm leather at 18 °C and 60 % damp; gives the usual 12 to 24 hours (from memory)
TAU_LEATHER_MM = 3.2
TAKES_UP = 0.4  # water taken up, as a share of the dry weight, until the piece is weighed (from memory)
DRY_WITHIN = 0.02  # dry when within this of the weight before wetting (common practice)
LEAST_WET = 1.002  # nearer to the dry weight than this a weighing tells nothing of the way there
SCALE_GRAMS = 0.5  # how far off a kitchen scale may be (from memory)
MOST_LOG = 20.0  # beyond which an excess is no number that means anything


def deficit_kpa(celsius: float, humidity: float) -> float:
    """Vapour pressure deficit of the air in kPa, saturation by the Magnus formula (Sonntag 1990 coefficients)."""
    return float(0.6112 * np.exp(17.62 * celsius / (243.12 + celsius)) * (1 - humidity))


def expected_tau_min(leather_mm: float, celsius: float, humidity: float) -> float:
    """Time constant in minutes: grows with thickness to the 1.5, falls with the deficit (common practice)."""
    air = deficit_kpa(18.0, 0.6) / max(deficit_kpa(celsius, humidity), 1e-3)
    return float(TAU_MIN * (leather_mm / TAU_LEATHER_MM) ** 1.5 * air)


@dataclass(frozen=True, slots=True)
class Drying:
    """How a piece dries from when it was formed on: m = m_end (1 + e·exp(-time/τ)); `e` is its excess then, `dry_minutes` when
    that has fallen to 2 %, give or take `spread_minutes` as the weighings leave it. By `fitted` weighings, by `one` and what is
    expected of such leather in such air, or by what is `expected` alone.
    """

    tau_min: float
    excess: float
    dry_minutes: float
    spread_minutes: float = 0.0
    source: Literal["fitted", "one", "expected"] = "expected"

    def excess_at(self, minutes: Any) -> Any:
        """The excess so long after it was formed, a share of the dry weight."""
        return self.excess * np.exp(-np.asarray(minutes) / self.tau_min)


def dried(weighings: Sequence[Weighing], dry_grams: float | None, expected_min: float) -> Drying:
    """What the weighings say of it, counted from when it was formed; what is expected, where they do not show drying.

    Two or more above the dry weight are fitted by weighted least squares on the log of the excess; the band is two standard
    errors, no weighing taken for surer than a scale is.
    """
    if not dry_grams or not weighings:
        return Drying(expected_min, TAKES_UP, _until_dry(expected_min, TAKES_UP))
    wet = [(w.minutes, w.grams / dry_grams - 1) for w in weighings if w.grams > dry_grams * LEAST_WET]
    there = _fitted(np.array(wet), dry_grams) if len({t for t, _ in wet}) > 1 else None
    if there is None:
        at, excess = weighings[-1].minutes, weighings[-1].grams / dry_grams - 1
        begun = max(excess, 0.0) * float(np.exp(min(at / expected_min, MOST_LOG)))
        return Drying(expected_min, begun, at + _until_dry(expected_min, excess), source="one")
    if weighings[-1].grams <= dry_grams * (1 + DRY_WITHIN):  # it was seen to be
        return replace(there, dry_minutes=min(there.dry_minutes, weighings[-1].minutes))
    return there


def _fitted(wet: Values, dry_grams: float) -> Drying | None:
    """The line through times and logs of excesses `(n, 2)`; None where it does not fall."""
    time, log = wet[:, 0], np.log(wet[:, 1])
    rows = np.column_stack([np.ones(len(time)), time])
    scale = SCALE_GRAMS / (wet[:, 1] * dry_grams)  # what an error of the scale makes of each log
    weight = 1 / scale**2
    inverse = np.linalg.inv(rows.T @ (weight[:, None] * rows))
    begins, falls = inverse @ (rows.T @ (weight * log))
    if falls >= 0:
        return None
    off = log - rows @ [begins, falls]
    noise = max(float((weight * off**2).sum()) / max(len(time) - 2, 1), 1.0)
    dry = max((np.log(DRY_WITHIN) - begins) / falls, 0.0)
    by = np.array([-1 / falls, -dry / falls])
    return Drying(
        float(-1 / falls), float(np.exp(min(begins, MOST_LOG))), float(dry),
        float(2 * np.sqrt(noise * by @ inverse @ by)), "fitted",
    )  # fmt: skip


def _until_dry(tau_min: float, excess: float) -> float:
    """Minutes until the excess, a share of the dry weight, has fallen to 2 %."""
    return float(tau_min * np.log(max(excess, DRY_WITHIN) / DRY_WITHIN))
