"""The surface of a limb from its girths: ellipses across a straight reference, cut open along a closing line, as a mesh."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..curve import Values, frozen
from ..measure.body import LimbBody

ROUND, ALONG = 24, 14
"""How many steps a mesh has round and along: enough for an outline within 0.2 mm of one five times as fine (tests)."""
FINE = 512
TURN = np.linspace(0, 2 * np.pi, FINE + 1)


@dataclass(frozen=True, slots=True, eq=False)
class Surface:
    """A limb cut open: `points (n + 1, m + 1, 3)` from the last station down to the first, round from one closing edge to the
    other, x across, y back from the front, z along the reference; places along it of the rows, `at_mm (n + 1,)`; their girths.
    """

    points: Values
    at_mm: Values
    girth_mm: Values


def perimeter(half_mm: Values, ratio: Values) -> Values:
    """Round ellipses half so wide, so many times as deep as wide: by the trapezoid rule, which for what is periodic is as exact
    as the numbers are (SciPy's elliptic integral, `4 a E(1 - f²)`, in tests).
    """
    turn = np.linspace(0, 2 * np.pi, FINE, endpoint=False)
    a, b = np.asarray(half_mm)[..., None], np.asarray(half_mm * ratio)[..., None]
    return np.asarray(np.hypot(a * np.sin(turn), b * np.cos(turn)).mean(axis=-1) * 2 * np.pi)


def half_width(girth_mm: Values, ratio: Values) -> Values:
    """Half the width of ellipses with these girths, so many times as deep as wide."""
    return np.asarray(girth_mm / perimeter(np.ones_like(ratio), ratio))


@lru_cache(maxsize=256)
def around(ratio: float, steps: int, from_rad: float) -> Values:
    """Points `(steps + 1, 2)` round an ellipse half 1 wide, as far from each other along it, from an angle all the way round;
    0 rad is the front, y = 0 its middle.
    """
    turn = from_rad + TURN
    x, y = np.sin(turn), -ratio * np.cos(turn)
    along = np.append(0.0, np.cumsum(np.hypot(np.diff(x), np.diff(y))))
    at = np.interp(np.arange(steps + 1) * (along[-1] / steps), along, turn)
    return frozen(np.column_stack([np.sin(at), -ratio * np.cos(at)]))


def surface(
    body: LimbBody, from_mm: float, to_mm: float, more_mm: float, closing_rad: float, steps: tuple[int, int] = (ROUND, ALONG),
    row_at_mm: float | None = None,
) -> Surface:  # fmt: skip
    """The limb between two places, `more_mm` more round than it was read (the leather's own turn, and ease), cut open along a
    line at an angle from the front. Every polygon is as long round as its girth. One row may be wanted at a place.
    """
    at = np.linspace(to_mm, from_mm, steps[1] + 1)
    if row_at_mm is not None:
        at[np.clip(np.argmin(np.abs(at - row_at_mm)), 1, steps[1] - 1)] = row_at_mm
    girth = np.maximum(body.girth_at(at) + more_mm, 1.0)
    ratio = body.ratio_at(at)
    half = half_width(girth, ratio)
    off = None if body.off_at is None else body.off_at(at)
    rings = np.array([around(float(f), steps[0], closing_rad) for f in ratio])
    sides = rings[:, 1:] - rings[:, :-1]
    rings *= (girth / np.hypot(sides[..., 0], sides[..., 1]).sum(axis=1))[:, None, None]
    # the front touches the reference; where the back was read, that lies there
    centre = half * ratio if off is None else -off - half * ratio
    points = np.empty((len(at), steps[0] + 1, 3))
    points[..., 0], points[..., 1], points[..., 2] = rings[..., 0], rings[..., 1] + centre[:, None], at[:, None]
    return Surface(points, at, girth)
