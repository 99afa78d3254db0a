"""Spacing of holes on a run, and the strikes that make them.

A *run* is a stretch between corners; n holes on it make n-1 stitches. A *strike* is one setting of a prong; its first
tooth goes into the last hole made, so that a prong of m teeth adds m-1 holes.
"""

from dataclasses import dataclass

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view

from ..curve import Line, Values, chord_errors

STRIKE_GIVE_MM = 0.3  # how far the last strikes may each be set off their place to lose a remainder (common practice)
CHORD_ALLOWED_MM = 0.3  # how far a straight prong may leave a curved line (common practice)
TEETH_ABOVE_MM = ((4.0, 4), (6.0, 2), (10.0, 1))  # above this stack no more teeth go straight through (common practice)


@dataclass(frozen=True, slots=True)
class Spacing:
    """Arc lengths of the holes on one run, mm; what of the run is left over, and how far the pitch was changed."""

    s_mm: tuple[float, ...]
    left_mm: float
    changed: float


def fitted(run_mm: float, pitch_mm: float) -> Spacing:
    """Holes of a wheel or an awl: n = round(S/p) stitches of S/n each, a hole at either end."""
    n = max(1, round(run_mm / pitch_mm))
    return Spacing(tuple(np.linspace(0, run_mm, n + 1)), 0.0, run_mm / n / pitch_mm - 1)


def struck(run_mm: float, pitch_mm: float) -> Spacing:
    """Holes of an iron from the start of the run at its own pitch; `left_mm` stays over at the end."""
    n = max(1, int(np.floor(run_mm / pitch_mm + 1e-9)))
    return Spacing(tuple(pitch_mm * np.arange(n + 1)), run_mm - n * pitch_mm, 0.0)


def spread(run_mm: float, pitch_mm: float, most_teeth: int) -> Spacing | None:
    """Holes of an iron with the remainder lost, up to 0.3 mm each, at the joins of the last strikes.

    None when the remainder is more than the run's strikes can lose.
    """
    n = max(1, round(run_mm / pitch_mm))
    off = run_mm - n * pitch_mm
    step = max(most_teeth - 1, 1)
    joins = np.arange(step, n + 1, step)[::-1] if n >= step else np.array([n])
    need = int(np.ceil(abs(off) / STRIKE_GIVE_MM - 1e-9))
    if need > len(joins):
        return None
    gaps = np.full(n, pitch_mm)
    if need:
        gaps[joins[:need] - 1] += off / need
    return Spacing((0.0, *np.cumsum(gaps)), 0.0, 0.0)


def drift(holes: int, pitch_mm: float, error_mm: float) -> tuple[float, int]:
    """How far an iron that is `error_mm` out at each hole walks along so many, mm, and after how many holes it is set anew:
    before a quarter of the pitch (common practice).
    """
    return error_mm * (holes - 1), max(int(pitch_mm / 4 / error_mm), 1) if error_mm > 0 else holes


@dataclass(frozen=True, slots=True)
class Strike:
    """A prong of `teeth` set on holes `first` to `first + teeth - 1`; the rest of them were there before `fresh`."""

    first: int
    teeth: int
    fresh: int


def strikes(points: Line, stack_mm: Values, teeth: tuple[int, ...]) -> tuple[Strike, ...]:
    """Fewest strikes that make all the holes `(n, 2)` of one run in order, with the prongs of `teeth`.

    No strike leaves the curve by more than 0.3 mm or goes through a stack too thick for so many teeth. Where nothing
    else will do a single tooth is used, whether the maker listed one or not; an awl is one.
    """
    n = len(points)
    most = np.full(n, 99)
    for limit, fewer in TEETH_ABOVE_MM:
        most = np.where(stack_mm > limit + 1e-9, fewer, most)
    fits: dict[int, Values] = {}
    for m in sorted(set(teeth), reverse=True):  # of equal plans the one with more teeth keeps its line better
        if 1 < m <= n:
            windows = sliding_window_view(points, m, axis=0).transpose(0, 2, 1)
            through = sliding_window_view(most, m).min(axis=1) >= m
            fits[m] = (chord_errors(windows) <= CHORD_ALLOWED_MM + 1e-9) & through
    fits[1] = np.ones(n, bool)
    best: list[tuple[int, Strike | None]] = [(10**9, None)] * n  # fewest strikes after which hole j is the last made
    for m, ok in fits.items():
        if ok[0]:
            best[m - 1] = min(best[m - 1], (1, Strike(0, m, m)), key=lambda b: b[0])
    for j in range(n):
        if best[j][1] is None:
            continue
        for m, ok in fits.items():
            for fresh in range(1, m) if m > 1 else (1,):
                last = j + fresh
                first = last - m + 1
                if last < n and first >= 0 and ok[first] and best[j][0] + 1 < best[last][0]:
                    best[last] = (best[j][0] + 1, Strike(first, m, fresh))
    plan: list[Strike] = []
    j = n - 1
    while j >= 0:
        strike = best[j][1]
        assert strike is not None  # a single tooth always fits
        plan.append(strike)
        j -= strike.fresh
    return tuple(reversed(plan))
