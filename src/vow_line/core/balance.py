"""Sums that add up as they are shown: rounding that knows its sum.

Each term of a sum rounded by itself, they seldom add to the rounded total. Here the total is rounded, and then the terms to
what adds to it: the largest remainders get what is left over.
"""

from collections.abc import Sequence
from fractions import Fraction

from .quantity import Q, Units, step

MOST_OFF = 0.02  # of a step, as far as a sum may stray from its terms and still be one of theirs


def balanced(total: Q, terms: Sequence[tuple[int, Q]], units: Units) -> tuple[Q, ...] | None:
    """The terms, each so many times in the sum, as they are to be shown beside the total so that they add to it as shown; a
    term strays by no more than a step from where it would be rounded to. None where they are not all written alike, do not
    add to the total, or cannot be brought to.
    """
    like = {q.kind: q for _, q in reversed(terms)}
    steps = [step(q, units, like.get(q.kind)) for _, q in terms]
    grid = step(total, units, None)
    if grid is None or any(s is None or abs(s[0] - grid[0]) > 1e-9 or s[1] != grid[1] for s in steps):
        return None
    by = grid[0]
    if abs(sum(n * q.value for n, q in terms) - total.value) > MOST_OFF * by:
        return None
    rounded = [_steps(q, by, units) for _, q in terms]
    off = _steps(total, by, units) - sum(n * r for (n, _), r in zip(terms, rounded, strict=True))
    way = 1 if off > 0 else -1

    def taken(k: int) -> float:
        """How much rounding took from a term, of what the total lacks."""
        return way * terms[k][0] * (terms[k][1].value / by - rounded[k])

    once = sorted((k for k, (n, _) in enumerate(terms) if abs(n) == 1), key=taken, reverse=True)
    # what is there more than once takes a step where the others cannot take all, what rounding took most from first
    for k in sorted((k for k, (n, _) in enumerate(terms) if abs(n) > 1), key=taken, reverse=True):
        n = abs(terms[k][0])
        if way * off > len(once) and way * off >= n - len(once) and taken(k) > 0:
            rounded[k] += way if terms[k][0] > 0 else -way
            off -= way * n
    way = 1 if off > 0 else -1
    if abs(off) > len(once):
        return None
    for k in sorted(once, key=taken, reverse=True)[: abs(off)]:
        rounded[k] += way * terms[k][0]
    return tuple(Q(q.kind, r * by) for (_, q), r in zip(terms, rounded, strict=True))


def _steps(quantity: Q, by: float, units: Units) -> int:
    """To how many steps a quantity is rounded as it is written, a half of one among them."""
    if units.length == "in" and quantity.kind in ("length", "long"):
        return round(Fraction(quantity.value) / Fraction(by).limit_denominator(10_000))
    return round(float(f"{quantity.value / by / 10:.1f}") * 10)
