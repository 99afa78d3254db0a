"""Spacing of holes on a run, and the strikes that make them.

A *run* is a stretch between corners; n holes on it make n-1 stitches. A *strike* is one setting of a prong; its first
tooth goes into the last hole made, so that a prong of m teeth adds m-1 holes.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curve import Line, Values, arc_length, chord_errors, extended, walk
from ..memory import remembered

TOOTH_GIVE_MM = 0.1  # how far holes may lie from a prong's own pitch and its teeth still find them (from memory)
MOST_CORRECTIONS = 20
STRIKE_GIVE_MM = 0.3  # how far the last strikes may each be set off their place to lose a remainder (common practice)
CHORD_ALLOWED_MM = 0.3  # how far a straight prong may leave a curved line (common practice)
TEETH_ABOVE_MM = ((4.0, 4), (6.0, 2), (10.0, 1))  # above this stack no more teeth go straight through (common practice)


@dataclass(frozen=True, slots=True)
class Spacing:
    """Arc lengths of the holes on one run, mm; what of the run is left over, and how far the pitch was changed."""

    s_mm: tuple[float, ...]
    left_mm: float
    changed: float


def counted(pitches: float, odd: bool = False) -> int:
    """The number of stitches nearest to so many pitches, one at least; where it is to be `odd`, the nearest that is."""
    n = max(1, round(pitches))
    return n if n % 2 or not odd else n + (1 if pitches > n else -1)


def fitted(run_mm: float, pitch_mm: float, *, odd: bool = False) -> Spacing:
    """Holes of a wheel or an awl: n = round(S/p) stitches of S/n each, a hole at either end; n may have to be `odd`."""
    n = counted(run_mm / pitch_mm, odd)
    return Spacing(tuple(np.linspace(0, run_mm, n + 1)), 0.0, run_mm / n / pitch_mm - 1)


def chords(line: Line, gaps_mm: Values, near: Values | None = None) -> Values:
    """Arc lengths `(n + 1,)` of points along the line, each so far from the one before as a straight prong is long; beyond its
    end the line runs straight on. Steps along the line, at first those of `near` where a like answer is known, are corrected by
    the chords they make until these are right to 1e-6 mm.
    """
    if len(line) == 2:
        s = np.zeros(len(gaps_mm) + 1)
        gaps_mm.cumsum(out=s[1:])
        return s
    line = extended(line, 0.0, float(gaps_mm.sum()) + 1.0)
    along, x, y = arc_length(line), line[:, 0], line[:, 1]
    steps, s = gaps_mm if near is None else np.diff(near), np.zeros(len(gaps_mm) + 1)
    for _ in range(MOST_CORRECTIONS):
        steps.cumsum(out=s[1:])
        at_x, at_y = np.interp(s, along, x), np.interp(s, along, y)
        made = np.hypot(at_x[1:] - at_x[:-1], at_y[1:] - at_y[:-1])
        if np.abs(made - gaps_mm).max() < 1e-6:
            break
        steps = steps * np.clip(gaps_mm / np.maximum(made, 1e-9), 0.5, 2.0)  # in a hook it may not settle, nor run away
    return s


def struck(line: Line, pitch_mm: float) -> Spacing:
    """Holes of an iron from the start of the run at its own pitch; `left_mm` stays over at the end."""
    run_mm = float(arc_length(line)[-1])
    s = chords(line, np.full(max(1, int(np.floor(run_mm / pitch_mm + 1e-9))), pitch_mm))
    n = max(1, int(np.searchsorted(s, run_mm + 1e-6, side="right")) - 1)
    return Spacing(tuple(s[: n + 1].tolist()), run_mm - float(s[n]), 0.0)


def spread(
    line: Line, pitch_mm: float, set_anew: Callable[[Values, float], Sequence[int]], *, odd: bool = False
) -> Spacing | None:
    """Holes of an iron with the remainder lost, up to 0.3 mm each, where the last strikes are set.

    `set_anew` gives, for holes evenly spaced, their arc lengths `(n,)` and how far apart they are, those after which a gap
    may be off: where a strike goes on with its first tooth alone in a hole made before. Where it is to be `odd` so is the
    number of stitches. None when the remainder is more than these can lose.
    """
    run_mm = float(arc_length(line)[-1])
    most = chords(line, np.full(int(np.ceil(run_mm / pitch_mm)) + 1, pitch_mm))
    pitches = run_mm / pitch_mm if len(line) == 2 else float(np.interp(run_mm, most, np.arange(len(most))))
    n = counted(pitches, odd)
    even, s = _to_the_end(line, np.full(n, pitch_mm), np.arange(n), run_mm, most)
    off = float((even - pitch_mm).sum())
    need = int(np.ceil(abs(off) / STRIKE_GIVE_MM - 1e-6))
    if need == 0:
        return _made(line, s, pitch_mm, run_mm)
    anew = sorted(k for k in set_anew(s, float(even[0])) if k < n)[-need:]
    if len(anew) < need:
        return None
    _, s = _to_the_end(line, np.full(n, pitch_mm), np.array(anew), run_mm, most)
    return _made(line, s, pitch_mm, run_mm)


def _made(line: Line, s: Values, pitch_mm: float, run_mm: float) -> Spacing | None:
    """Holes at arc lengths; None where a gap is off by more than a strike can be, or the last hole does not lie at the end: in
    a hook tighter than the prong no steps along the line may do.
    """
    off = np.hypot(*np.diff(walk(line, s), axis=0).T) - pitch_mm
    as_asked = np.abs(off).max() <= STRIKE_GIVE_MM + 1e-3 and abs(s[-1] - run_mm) < 1e-3
    return Spacing(tuple(s.tolist()), 0.0, 0.0) if as_asked else None


def _to_the_end(line: Line, gaps: Values, some: NDArray[np.intp], run_mm: float, near: Values) -> tuple[Values, Values]:
    """The gaps, some of them changed alike so that the last hole lies at the run's end, and the holes' arc lengths."""
    s = near[: len(gaps) + 1]
    if len(line) == 2:
        gaps[some] += (run_mm - float(gaps.sum())) / len(some)
        return gaps, chords(line, gaps)
    for _ in range(MOST_CORRECTIONS):
        s = chords(line, gaps, s)
        over = run_mm - float(s[-1])
        if abs(over) < 1e-6:
            break
        gaps[some] = np.maximum(gaps[some] + over / len(some), 1e-3)
    return gaps, s


def drift(holes: int, pitch_mm: float, error_mm: float) -> tuple[float, int]:
    """How far an iron that is `error_mm` out at each hole walks along so many, mm, and after how many holes it is set anew:
    before a quarter of the pitch (common practice).
    """
    return error_mm * (holes - 1), max(int(pitch_mm / 4 / error_mm), 1) if error_mm > 0 else holes


class Strike(NamedTuple):
    """A prong of `teeth` set on holes `first` to `first + teeth - 1`, of which `fresh` are made by it; its first `old` teeth go
    into holes made before.
    """

    first: int
    teeth: int
    fresh: int
    old: int = 0


def strikes(
    points: Line,
    stack_mm: Values,
    teeth: tuple[int, ...],
    pitch_mm: float,
    *,
    begun: bool = False,
    ended: bool = False,
    loose: bool = False,
) -> tuple[Strike, ...]:
    """Fewest strikes that make all the holes `(n, 2)` of one run in order, with prongs of `teeth` and of a pitch. The first may
    be made already (`begun`), the last as well (`ended`).

    No strike leaves the curve by more than 0.3 mm or goes through a stack too thick for so many teeth; its teeth are as far
    apart as its holes, but that with one tooth in a hole made before it may be set off by 0.3 mm. Where nothing
    else will do a single tooth is used, whether the maker listed one or not; an awl is one. Of equal plans the one with more
    teeth is taken, or, `loose`, the one with fewer strikes that two teeth or more hold in old holes.
    """
    n, most = len(points), _most_teeth(stack_mm)
    along = arc_length(points)
    gaps, off = along[1:] - along[:-1], along - pitch_mm * np.arange(n)
    straight = bool(
        chord_errors(points[None])[0] <= CHORD_ALLOWED_MM / 2
    )  # then no chord of it is left by more than that
    if straight and np.abs(off).max() <= TOOTH_GIVE_MM / 2:  # then every prong finds its holes
        return _on_even(most.tobytes(), teeth, begun, ended, loose)
    fits: list[_Fits] = []
    for m in sorted(set(teeth), reverse=True):  # of equal plans the one with more teeth keeps its line better
        if 1 < m <= n:
            each = np.arange(n - m + 1)[:, None] + np.arange(m)
            ok = most[each].min(axis=1) >= m
            if not straight:
                ok &= chord_errors(points[each]) <= CHORD_ALLOWED_MM + 1e-9
            true = off[each]
            anew = np.ptp(true[:, 1:], axis=1) <= TOOTH_GIVE_MM
            anew &= np.abs(gaps[: n - m + 1] - pitch_mm) <= STRIKE_GIVE_MM + TOOTH_GIVE_MM
            fits.append(_Fits(m, (ok & anew).tobytes(), (ok & (np.ptp(true, axis=1) <= TOOTH_GIVE_MM)).tobytes()))
    return _fewest(n, (*fits, _Fits(1, b"\1" * n, b"\1" * n)), begun, ended, loose)


def _most_teeth(stack_mm: Values) -> NDArray[np.uint8]:
    """How many teeth at most go straight through a stack `(n,)`."""
    most = np.full(len(stack_mm), 99, np.uint8)
    for limit, fewer in TEETH_ABOVE_MM:
        most[stack_mm > limit + 1e-9] = fewer
    return most


def strikes_on_even(
    holes: int,
    stack_mm: float,
    teeth: tuple[int, ...],
    *,
    begun: bool = False,
    ended: bool = False,
    loose: bool = False,
) -> tuple[Strike, ...]:
    """`strikes` of a straight run of so many even holes through one stack."""
    return _on_even(_most_teeth(np.array([stack_mm])).tobytes() * holes, teeth, begun, ended, loose)


@remembered("run")
def _on_even(most: bytes, teeth: tuple[int, ...], begun: bool, ended: bool, loose: bool) -> tuple[Strike, ...]:
    """The strikes of `strikes` on a straight run of even holes, through each of which go at `most` so many teeth."""
    n = len(most)
    fits = []
    for m in sorted({1, *teeth}, reverse=True):
        if m <= n:
            ok = bytes(min(most[k : k + m]) >= m or m == 1 for k in range(n - m + 1))
            fits.append(_Fits(m, ok, ok))
    return _fewest(n, tuple(fits), begun, ended, loose)


class _Fits(NamedTuple):
    """Whether a prong of `teeth` may be set with its first tooth on each hole of a run, a byte each: `anew`, with that tooth
    alone in an old hole, or `whole`, all its teeth as far apart as its holes.
    """

    teeth: int
    anew: bytes
    whole: bytes


@remembered("run")
def _fewest(n: int, fits: tuple[_Fits, ...], begun: bool, ended: bool, loose: bool) -> tuple[Strike, ...]:
    """The strikes of `strikes`, from where each prong fits alone."""
    allowed = [(f.teeth, f.teeth - fresh, fresh, f.anew if f.teeth - fresh == 1 else f.whole)
               for f in fits for fresh in (range(1, f.teeth) if f.teeth > 1 else (1,))]  # fmt: skip
    none = (10**9, 0)
    # the cheapest way after which hole j is the last made, and its last strike
    best: list[tuple[tuple[int, int], Strike | None]] = [(none, None)] * n

    def better(last: int, cost: tuple[int, int], strike: Strike) -> None:
        cost = (cost[0] + 1, cost[1] + (loose and strike.old > 1))
        if cost < best[last][0]:
            best[last] = (cost, strike)

    if begun:
        best[0] = ((0, 0), None)
    else:
        for m, _, whole in fits:
            if whole[0]:
                better(m - 1, (0, 0), Strike(0, m, m))
    for j in range(n - 1):
        cost = best[j][0]
        if cost == none:
            continue
        for m, old, fresh, ok in allowed:
            first = j - old + 1
            if first >= 0 and j + fresh < n and ok[first]:
                better(j + fresh, cost, Strike(first, m, fresh, old))
    plan: list[Strike] = []
    j = n - 1
    if ended and n > 1:
        if best[n - 2][0] <= best[n - 1][0]:
            j = n - 2
        elif (landing := best[n - 1][1]) is not None:
            plan.append(landing._replace(fresh=landing.fresh - 1))
            j -= landing.fresh
    while j >= 0 and (strike := best[j][1]) is not None:  # a single tooth always fits
        plan.append(strike)
        j -= strike.fresh
    return tuple(reversed(plan))


def set_anew(made: Sequence[Strike]) -> tuple[int, ...]:
    """The holes after which a gap may be off: where a strike has its first tooth alone in an old hole, or has but one tooth."""
    return tuple(k.first + k.old - 1 for k in made if k.old < 2 and k.first + k.old > 0)
