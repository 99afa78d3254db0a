"""Drying: the weight of wet leather over time, m = m_end + (m_0 - m_end)·exp(-time/τ)."""

from collections.abc import Sequence

import numpy as np

from .choices import Weighing

TAU_MIN = 360.0  # time constant of 3.2 mm leather at 18 °C and 60 % damp; gives the usual 12 to 24 hours (from memory)
TAU_LEATHER_MM = 3.2
TAKES_UP = 0.4  # water taken up, as a share of the dry weight, until the piece is weighed (from memory)
DRY_WITHIN = 0.02  # dry when within this of the weight before wetting (common practice)


def deficit_kpa(celsius: float, humidity: float) -> float:
    """Vapour pressure deficit of the air in kPa, saturation by the Magnus formula (Sonntag 1990 coefficients)."""
    return float(0.6112 * np.exp(17.62 * celsius / (243.12 + celsius)) * (1 - humidity))


def expected_tau_min(leather_mm: float, celsius: float, humidity: float) -> float:
    """Time constant in minutes: grows with thickness to the 1.5, falls with the deficit (common practice)."""
    air = deficit_kpa(18.0, 0.6) / max(deficit_kpa(celsius, humidity), 1e-3)
    return float(TAU_MIN * (leather_mm / TAU_LEATHER_MM) ** 1.5 * air)


def fitted_tau_min(weighings: Sequence[Weighing], dry_grams: float) -> float | None:
    """Time constant from two or more weighings above the dry weight, by least squares on the log of the excess.

    None when they do not show drying.
    """
    wet = [(w.minutes, w.grams - dry_grams) for w in weighings if w.grams > dry_grams * 1.002]
    if len(wet) < 2:
        return None
    time, excess = np.array(wet).T
    if np.ptp(time) == 0:
        return None
    slope = float(np.polyfit(time, np.log(excess), 1)[0])
    return -1 / slope if slope < 0 else None


def minutes_until_dry(tau_min: float, start_excess: float) -> float:
    """Minutes until the excess, a share of the dry weight, has fallen to 2 %."""
    return float(tau_min * np.log(max(start_excess, DRY_WITHIN) / DRY_WITHIN))
