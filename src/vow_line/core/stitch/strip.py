"""The seam unrolled into a straight strip: the stack above it, its holes, and the strikes that make them."""

import numpy as np

from ..curve import Values, arc_length, frozen, headings
from ..drawing import Label, Mark
from ..reckoning import count, fine, length, percent, said
from .pattern import SLANT_RAD, slants
from .seams import Seam

BAND_MM = 9.0
LOST_MM = 0.02  # a gap so far off the pitch has lost some of the remainder
SEEN_SHARE = 0.002  # partner edges that differ by less are as good as equal


def along(seam: Seam) -> Values:
    """Where each hole lies on the strip, mm from its start."""
    if seam.line.closed:
        return np.append(
            seam.s_mm, seam.s_mm[0] + float(arc_length(np.vstack([seam.line.line, seam.line.line[:1]]))[-1])
        )
    if seam.line.shape != "box":
        return seam.s_mm
    return np.concatenate([[0.0], np.cumsum(seam.steps_mm)])


def struck(seam: Seam, number: int | None) -> tuple[Mark, ...]:
    """The strikes drawn inside the holes of the piece whose frame the seam is in, and the one looked at."""
    if not seam.strikes:
        return ()
    n = len(seam.points)
    square = headings(seam.points) @ np.array([[0.0, -1.0], [1.0, 0.0]])
    inward = seam.points.mean(axis=0) - seam.points
    square = square * np.where((square * inward).sum() < 0, -1.0, 1.0)
    first, teeth = np.array([(k.first, k.teeth) for k in seam.strikes]).T
    off = (2.4 + 1.5 * (np.arange(len(first)) % 2))[:, None, None]
    found = []
    for m in np.unique(teeth):
        holes = (first[teeth == m][:, None] + np.arange(m)) % n
        points, inside, by = seam.points[holes], square[holes], off[teeth == m]
        ends = points[:, [0, -1]] + (by - 0.9) * inside[:, [0, -1]]
        path = np.concatenate([ends[:, :1], points + by * inside, ends[:, 1:]], axis=1)
        found.append(np.stack([path[:, :-1], path[:, 1:]], axis=2).reshape(-1, 2))
    strokes = np.concatenate(found)
    marks = [Mark("strike", frozen(strokes), id=f"{seam.name}/strikes", pairs=True)]
    if number is not None:
        strike = seam.strikes[number % len(seam.strikes)]
        holes = [h % n for h in range(strike.first, strike.first + strike.teeth)]
        marks.append(Mark("done", frozen(seam.points[holes]), id=f"{seam.name}/strikes", size_mm=2.6))
    return tuple(marks)


def _lost(seam: Seam, s: Values) -> Values:
    """Where on the strip an iron's pitch was stretched or closed to lose a remainder."""
    if not seam.teeth or len(s) < 3:
        return np.zeros(0)
    gaps = np.diff(s)
    usual = float(np.median(gaps))
    off = np.flatnonzero(np.abs(gaps - usual) > LOST_MM)
    return (s[off] + s[off + 1]) / 2


def partner(seam: Seam, left_mm: float, top_mm: float) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """Under the strip, the edge that the seam joins it to where that is longer or shorter: the same holes at the same shares,
    and lines that keep the two in step.
    """
    if abs(seam.eased) < SEEN_SHARE or seam.line.shape != "line":
        return (), ()
    s, share = along(seam), 1 + seam.eased
    low = top_mm + 14.0 + 2 + BAND_MM + 30.0
    band = np.array([[0, 0], [s[-1] * share + 3, 0], [s[-1] * share + 3, BAND_MM], [0, BAND_MM]]) + [left_mm, low]
    middle = np.column_stack([left_mm + s * share, np.full(len(s), low + BAND_MM / 2)])
    slits = slants(middle, min(seam.pitch_mm, 4.5) * 0.7, SLANT_RAD)
    tied = np.arange(0, len(s), 10)
    ties = np.stack([np.column_stack([left_mm + s[tied], np.full(len(tied), low - 28.0)]),
                     np.column_stack([left_mm + s[tied] * share, np.full(len(tied), low)])], axis=1)  # fmt: skip
    marks = (
        Mark("flesh", frozen(band), True, seam.name), Mark("stitch", frozen(slits.reshape(-1, 2)), id=seam.name, pairs=True),
        Mark("dimension", frozen(ties.reshape(-1, 2)), id=f"{seam.name}/marks", pairs=True),
    )  # fmt: skip
    told = said("the other edge, {d} longer: {p} apart" if share > 1 else "the other edge, {d} shorter: {p} apart",
                d=percent(abs(share - 1)), p=fine(seam.pitch_mm * share))  # fmt: skip
    return marks, (Label(told, (left_mm, low + BAND_MM + 7), align="left"),)


def strip(
    seam: Seam, left_mm: float, top_mm: float, looked_at: int | None = None
) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """Marks and labels of the strip with its corner at (left, top); it is as long as the seam, about 40 mm high."""
    s = along(seam)
    order = range(len(s)) if seam.line.shape != "box" and not seam.line.closed else seam.order
    stack = seam.stack_mm[list(order)]
    end = float(s[-1]) + max(seam.left_mm, 0.0) + (3.0 if seam.line.shape != "box" else 0.0)
    base = top_mm + 14.0
    upper = np.column_stack([left_mm + s, base - stack])
    ring = np.concatenate([[[left_mm, base - stack[0]]], upper, [[left_mm + end, base - stack[-1]]],
                           [[left_mm + end, base], [left_mm, base]]])  # fmt: skip
    marks = [Mark("welt", frozen(ring), True, seam.name)]
    band = np.array([[0, 0], [end, 0], [end, BAND_MM], [0, BAND_MM]]) + [left_mm, base + 2]
    marks.append(Mark("grain", frozen(band), True, seam.name))
    middle = np.column_stack([left_mm + s, np.full(len(s), base + 2 + BAND_MM / 2)])
    slits = slants(middle, min(seam.pitch_mm, 4.5) * 0.7, SLANT_RAD)
    marks.append(Mark("stitch", frozen(slits.reshape(-1, 2)), id=seam.name, pairs=True))
    labels = [
        Label(said("{t} through", t=length(float(stack.max()))), (left_mm + end, base - float(stack.max()) - 2.5),
              align="right"),
        Label(said(f"{seam.name}, its stack"), (left_mm, base - float(stack.max()) - 2.5), align="left"),
    ]  # fmt: skip
    lost = _lost(seam, s)
    if len(lost):
        ends = np.column_stack([np.repeat(left_mm + lost, 2), np.tile([base + 1.0, base + 3.0 + BAND_MM], len(lost))])
        marks.append(Mark("fold", frozen(ends), id=f"{seam.name}/pitch", pairs=True))
    if seam.left_mm > 0.05 and seam.line.shape != "box":
        over = np.array([[s[-1], 0], [s[-1] + seam.left_mm, 0], [s[-1] + seam.left_mm, BAND_MM], [s[-1], BAND_MM]])
        marks.append(Mark("void", frozen(over + [left_mm, base + 2]), True, f"{seam.name}/pitch"))
        labels.append(
            Label(said("{r} over", r=length(seam.left_mm)), (left_mm + end + 2, base + 2 + BAND_MM * 0.7), align="left")
        )
    y = base + 2 + BAND_MM + 1.5
    if seam.strikes:
        first, teeth = np.array([(k.first, k.teeth) for k in seam.strikes]).T
        left, right = left_mm + s[first], left_mm + s[np.minimum(first + teeth - 1, len(s) - 1)]
        high = y + np.arange(len(first)) % 2 * 1.6
        low = high + 1.2
        brackets = np.stack([left, high, left, low, left, low, right, low, right, low, right, high], axis=1)
        marks.append(Mark("strike", frozen(brackets.reshape(-1, 2)), id=f"{seam.name}/strikes", pairs=True))
    if looked_at is not None and seam.strikes:
        at = looked_at % len(seam.strikes)
        strike = seam.strikes[at]
        told = said("strike {k} of {n}: {m} teeth, the first in hole {h}" if strike.teeth > 1
                    else "strike {k} of {n}: one tooth, hole {h}", k=count(at + 1), n=count(len(seam.strikes)),
                    m=count(strike.teeth), h=count(strike.first + 1))  # fmt: skip
        labels.append(Label(told, (left_mm, y + 23), align="left", strong=True))
        teeth = middle[strike.first : strike.first + strike.teeth]
        marks.append(Mark("done", frozen(teeth), id=f"{seam.name}/strikes", size_mm=3.0))
    if seam.strikes:
        labels.append(Label(said("{n} strikes", n=count(len(seam.strikes))), (left_mm, y + 12), align="left"))
    labels.append(
        Label(said("{n} holes, {p} apart", n=count(len(seam.points)), p=fine(seam.pitch_mm)),
              (left_mm + end, y + 12), align="right", strong=True)
    )  # fmt: skip
    return tuple(marks), tuple(labels)
