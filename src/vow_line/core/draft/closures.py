"""Closures in a row: how many stand on an edge and where, and the lace that goes through two rows of them."""

from collections.abc import Sequence

import numpy as np

from ..curve import Line, Values, arc_length, frozen, walk

TAIL_MM = 200.0  # a lace is so much longer at either end, to be tied (from memory)
KNOT_MM = 35.0  # lace in the knot that holds a loop, with its ends (from memory)
ENDS_SHARE = 0.4  # the first of a row stands so far in at most, as a share of the edge


def how_many(long_mm: float, spacing_mm: float, ends_mm: float) -> int:
    """How many closures stand in a row: floor((height - 2 margin) / spacing) + 1 (common practice: 7 at 14 in, 1 and 2); two at
    least.
    """
    return max(int(np.floor((long_mm - 2 * ends_mm) / spacing_mm + 1e-9)) + 1, 2)


def stands_mm(long_mm: float, n: int, ends_mm: float) -> Values:
    """How far along an edge so long n closures stand: evenly, the first and last so far in from its ends."""
    ends = min(ends_mm, ENDS_SHARE * long_mm)
    return np.linspace(ends, long_mm - ends, n)


def walked(runs: Sequence[Line]) -> list[Values]:
    """How far along a line in runs each of its points lies, run by run."""
    found, begins = [], 0.0
    for run in runs:
        found.append(begins + arc_length(run))
        begins = float(found[-1][-1])
    return found


def stood(line: Line, n: int, ends_mm: float) -> Line:
    """Where n closures stand on a line `(n, 2)`: evenly by its length, the first and last so far in from its ends."""
    return stood_along((line,), n, ends_mm)


def stood_along(runs: Sequence[Line], n: int, ends_mm: float) -> Line:
    """The same on a line in runs, each of which goes on, when all is sewn, where the one before ends."""
    far = walked(runs)
    at = stands_mm(float(far[-1][-1]), n, ends_mm)
    on = np.searchsorted([s[-1] for s in far[:-1]], at, side="right")
    return frozen(np.concatenate([walk(run, at[on == k] - far[k][0]) for k, run in enumerate(runs)]))


def lace_mm(rows: tuple[Line, Line], gaps_mm: Values, leather_mm: float) -> float:
    """The lace through two rows `(n, 2)` that are `gaps_mm (n,)` apart, across at the first and then crossing, once through the
    leather at each: g + 2 Σ √(g² + h²) + 2 n t + 2 tails (from the path it takes).
    """
    steps = [np.hypot(*np.diff(row, axis=0).T) for row in rows]
    across = (gaps_mm[1:] + gaps_mm[:-1]) / 2
    return float(
        gaps_mm[0] + sum(np.hypot(step, across).sum() for step in steps) + 2 * len(gaps_mm) * leather_mm + 2 * TAIL_MM
    )


def zigzag_mm(row: Line, across_mm: Values) -> float:
    """The lace that goes from each place of a row `(n, 2)` to what stands halfway to the next on the other side, and on to
    that, `across_mm (2 n - 1,)` at every place of either side in turn: Σ √(g² + (h / 2)²) + 2 tails (from the path it takes).
    """
    halves = np.repeat(np.hypot(*np.diff(row, axis=0).T) / 2, 2)
    return float(np.hypot(halves, (across_mm[1:] + across_mm[:-1]) / 2).sum() + 2 * TAIL_MM)


def loop_mm(across_mm: float, button_mm: float, high_mm: float) -> float:
    """The lace of a loop from its hole to a button: there and back over the widest way across, but no less than once over the
    button, edge on, 2 (d + h); and its knot.
    """
    return 2 * max(across_mm, button_mm + high_mm) + KNOT_MM
