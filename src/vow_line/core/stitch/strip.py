"""The seam unrolled into a straight strip: the stack above it, its holes, and the strikes that make them."""

from dataclasses import dataclass, replace

import numpy as np

from ..curve import Line, Values, frozen, headings
from ..drawing import Label, Mark
from ..reckoning import count, fine, length, percent
from ..texts import NOTHING, joined, said, several
from .pattern import SLANT_RAD, seen, slants
from .seams import Seam, long_of

BAND_MM = 9.0
STACK_MM, BELOW_MM = 14.0, 2.0  # from the top of the strip to the foot of the stack, and on to the band
LARGE_MM = 280.0  # beside larger pieces a strip is drawn larger
STRIP_SHARE, MOST_TIMES = 0.7, 4  # so much of them wide at most, and so many times as large
LOST_MM = 0.02  # a gap so far off the pitch has lost some of the remainder
SEEN_SHARE = 0.002  # partner edges that differ by less are as good as equal


def along(seam: Seam) -> Values:
    """Where each hole lies on the strip, mm from its start."""
    if seam.line.closed:
        return np.append(seam.s_mm, seam.s_mm[0] + long_of(seam.line.line, True))
    if seam.line.shape != "box":
        return seam.s_mm
    return np.concatenate([[0.0], np.cumsum(seam.steps_mm)])


def struck(seam: Seam, number: int | None) -> tuple[Mark, ...]:
    """The strikes drawn inside the holes of the piece whose frame the seam is in, and the one looked at."""
    if not seam.strikes:
        return ()
    order = np.array(seam.order)
    square = headings(seam.points) @ np.array([[0.0, -1.0], [1.0, 0.0]])
    inward = seam.points.mean(axis=0) - seam.points
    square = square * np.where((square * inward).sum() < 0, -1.0, 1.0)
    first, teeth = np.array([(k.first, k.teeth) for k in seam.strikes]).T
    off = (2.4 + 1.5 * (np.arange(len(first)) % 2))[:, None, None]
    found = []
    for m in np.unique(teeth):
        holes = order[first[teeth == m][:, None] + np.arange(m)]
        points, inside, by = seam.points[holes], square[holes], off[teeth == m]
        ends = points[:, [0, -1]] + (by - 0.9) * inside[:, [0, -1]]
        path = np.concatenate([ends[:, :1], points + by * inside, ends[:, 1:]], axis=1)
        found.append(np.stack([path[:, :-1], path[:, 1:]], axis=2).reshape(-1, 2))
    strokes = np.concatenate(found)
    marks = [Mark("strike", frozen(strokes), id=f"{seam.id}/strikes", pairs=True)]
    if number is not None:
        strike = seam.strikes[number % len(seam.strikes)]
        holes = order[strike.first : strike.first + strike.teeth]
        marks.append(Mark("done", frozen(seam.points[holes]), id=f"{seam.id}/strikes", size_mm=2.6))
    return tuple(marks)


def _lost(seam: Seam, s: Values) -> Values:
    """Where on the strip an iron's pitch was stretched or closed to lose a remainder."""
    if not seam.teeth or len(s) < 3:
        return np.zeros(0)
    gaps = seam.steps_mm  # straight across, as the iron is
    usual = float(np.median(gaps))
    off = np.flatnonzero(np.abs(gaps - usual) > LOST_MM)
    return (s[off] + s[off + 1]) / 2


def partner(seam: Seam) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """Under the strip, the edge that the seam joins it to where that is longer or shorter: the same holes at the same shares,
    and lines that keep the two in step.
    """
    if abs(seam.eased) < SEEN_SHARE or seam.line.shape != "line":
        return (), ()
    s, share = along(seam), 1 + seam.eased
    low = STACK_MM + BELOW_MM + BAND_MM + 30.0
    band = np.array([[0, 0], [s[-1] * share + 3, 0], [s[-1] * share + 3, BAND_MM], [0, BAND_MM]]) + [0.0, low]
    middle = np.column_stack([s * share, np.full(len(s), low + BAND_MM / 2)])
    slits = slants(middle, min(seam.pitch_mm, 4.5) * 0.7, SLANT_RAD)
    tied = np.arange(0, len(s), 10)
    ties = np.stack([np.column_stack([s[tied], np.full(len(tied), low - 28.0)]),
                     np.column_stack([s[tied] * share, np.full(len(tied), low)])], axis=1)  # fmt: skip
    marks = (
        Mark("flesh", frozen(band), True, seam.id), seen(seam, middle, slits),
        Mark("dimension", frozen(ties.reshape(-1, 2)), id=f"{seam.id}/marks", pairs=True),
    )  # fmt: skip
    label = (said("the other edge, {d} longer: {p} apart") if share > 1
            else said("the other edge, {d} shorter: {p} apart")).filled(d=percent(abs(share - 1)),
                                                                        p=fine(seam.pitch_mm * share))  # fmt: skip
    return marks, (Label(label, (0.0, low + BAND_MM + 7), align="left"),)


@dataclass(frozen=True, slots=True, eq=False)
class Rows:
    """A strip broken into rows: where along it each begins, `starts_mm (n,)`, and how far one lies below another."""

    starts_mm: Values
    high_mm: float

    @property
    def more_mm(self) -> float:
        """How much higher they are than one row."""
        return (len(self.starts_mm) - 1) * self.high_mm

    def place(self, s_mm: Values, y_mm: Values) -> Line:
        """Points `(n, 2)` on the strip at arc lengths `s_mm`, where they would lie `y_mm` down if all were one row."""
        row = np.clip(np.searchsorted(self.starts_mm, s_mm, side="right") - 1, 0, None)
        return np.column_stack([s_mm - self.starts_mm[row], y_mm + row * self.high_mm])

    def parts(self, end_mm: float) -> list[tuple[float, float, float]]:
        """Of each row: from where to where along the strip, and how far down."""
        ends = [*self.starts_mm[1:].tolist(), end_mm]
        return [(a, b, k * self.high_mm) for k, (a, b) in enumerate(zip(self.starts_mm.tolist(), ends, strict=True))]


def rows(seam: Seam, wide_mm: float = np.inf) -> Rows:
    """The rows of a strip that is to be no wider than `wide_mm`, as long as each other, broken between holes; a box, and a seam
    whose partner is drawn under it, stay in one.
    """
    s = along(seam)
    n = int(np.ceil(s[-1] / wide_mm)) if partner(seam) == ((), ()) and seam.line.shape != "box" else 1
    first = np.unique(np.searchsorted(s, s[-1] * np.arange(1, n) / n))
    first = first[(first > 0) & (first < len(s))]
    starts = np.concatenate([[0.0], (s[first - 1] + s[first]) / 2])
    return Rows(starts, float(seam.stack_mm.max()) + BAND_MM + 24.0)


def enlarged(seam: Seam, beside_mm: float, broken: Rows) -> int:
    """How many times as large its strip is drawn beside pieces so large that it would be lost."""
    end = float(along(seam)[-1])
    if beside_mm < LARGE_MM or len(broken.starts_mm) > 1:
        return 1
    return int(np.clip(beside_mm * STRIP_SHARE / max(end, 1.0), 1, MOST_TIMES))


def moved(
    marks: tuple[Mark, ...], labels: tuple[Label, ...], times: int, left_mm: float, top_mm: float
) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """Marks and labels so many times as large, and moved."""
    corner = np.array([left_mm, top_mm])
    drawn = (replace(m, line=frozen(m.line * times + corner), size_mm=m.size_mm * times) for m in marks)
    said_ = (replace(k, at=(k.at[0] * times + left_mm, k.at[1] * times + top_mm)) for k in labels)
    return tuple(drawn), tuple(said_)


def strip(
    seam: Seam, looked_at: int | None = None, broken: Rows | None = None, times: int = 1
) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """Marks and labels of the strip, its corner at (0, 0), each row about 40 mm high; in one row it is as long as the seam.
    `times` says how many times as large it will be drawn.
    """
    broken = broken or rows(seam)
    s = along(seam)
    order = range(len(s)) if seam.line.shape != "box" and not seam.line.closed else seam.order
    stack = seam.stack_mm[list(order)]
    end = float(s[-1]) + max(seam.left_mm, 0.0) + (3.0 if seam.line.shape != "box" else 0.0)
    base = STACK_MM
    parts = broken.parts(end)
    marks = []
    for a, b, down in parts:
        run = np.concatenate([[a], s[(s > a) & (s < b)], [b]])
        upper = np.column_stack([run - a, base - np.interp(run, s, stack)])
        marks.append(Mark("welt", frozen(np.concatenate([upper, [[b - a, base], [0.0, base]]]) + [0, down]), True,
                          seam.id))  # fmt: skip
        band = np.array([[0, 0], [b - a, 0], [b - a, BAND_MM], [0, BAND_MM]]) + [0, base + BELOW_MM + down]
        marks.append(Mark("grain", frozen(band), True, seam.id))
    wide = max(b - a for a, b, _ in parts)
    middle = broken.place(s, np.full(len(s), base + BELOW_MM + BAND_MM / 2))
    long = min(seam.pitch_mm, 4.5) * 0.35
    slit = long * np.array([[-np.cos(SLANT_RAD), -np.sin(SLANT_RAD)], [np.cos(SLANT_RAD), np.sin(SLANT_RAD)]])
    slits = middle[:, None] + slit
    marks.append(seen(seam, middle, slits))
    over = base - float(stack.max()) - 2.5
    through = said("{t} through", t=length(float(stack.max())))
    if times > 1:
        large = said("{seam}, {through}, {n} times as large", seam=seam.title, through=through, n=count(times))
        labels = [Label(large, (0.0, over), align="left")]
    else:
        labels = [
            Label(through, (wide, over), align="right"),
            Label(said("{seam}, its stack", seam=seam.title), (0.0, over), align="left"),
        ]
    labels += [
        Label(said("on from hole {h}", h=count(1 + int(np.searchsorted(s, a)))), (0.0, over + down), align="left")
        for a, _, down in parts[1:]
    ]
    lost = _lost(seam, s)
    if len(lost):
        ends = broken.place(np.repeat(lost, 2), np.tile([base + 1.0, base + 3.0 + BAND_MM], len(lost)))
        marks.append(Mark("fold", frozen(ends), id=f"{seam.id}/pitch", pairs=True))
    last = -parts[-1][0]
    foot = base + BELOW_MM + parts[-1][2]
    if seam.left_mm > 0.05 and seam.line.shape != "box":
        void = np.array([[s[-1], 0], [s[-1] + seam.left_mm, 0], [s[-1] + seam.left_mm, BAND_MM], [s[-1], BAND_MM]])
        marks.append(Mark("void", frozen(void + [last, foot]), True, f"{seam.id}/pitch"))
        labels.append(
            Label(said("{r} over", r=length(seam.left_mm)), (last + end + 2, foot + BAND_MM * 0.7), align="left")
        )
    y = foot + BAND_MM + 1.5
    if seam.strikes:
        marks.append(Mark("strike", frozen(_brackets(seam, s, base + BAND_MM + 3.5, broken, end)),
                          id=f"{seam.id}/strikes", pairs=True))  # fmt: skip
    if looked_at is not None and seam.strikes:
        at = looked_at % len(seam.strikes)
        strike = seam.strikes[at]
        label = (said("strike {k} of {n}: {m} teeth, the first in hole {h}") if strike.teeth > 1
                else said("strike {k} of {n}: one tooth, hole {h}")).filled(k=count(at + 1), n=count(len(seam.strikes)),
                    m=count(strike.teeth), h=count(strike.first + 1))  # fmt: skip
        labels.append(Label(label, (0.0, y + 28), align="left", strong=True))
        teeth = middle[strike.first : strike.first + strike.teeth]
        marks.append(Mark("done", frozen(teeth), id=f"{seam.id}/strikes", size_mm=3.0))
    holes = said("{n} holes, {p} apart", n=count(len(seam.points)), p=fine(seam.pitch_mm))
    strikes = several("{n} strike", "{n} strikes", n=count(len(seam.strikes))) if seam.strikes else NOTHING
    if len(parts) == 1:  # in the middle: the strip's ends are pointed at
        labels.append(Label(joined(holes, strikes), (wide / 2, y + 14), strong=True))
    else:
        labels.append(Label(holes, (0.0, y + 14), align="left", strong=True))
        labels += [Label(strikes, (0.0, y + 28), align="left")] if strikes else []
    return tuple(marks), tuple(labels)


def _brackets(seam: Seam, s: Values, y: float, broken: Rows, end_mm: float) -> Line:
    """A bracket under the holes of each strike, in strokes of two points; one that goes on in the next row is drawn in both."""
    first, teeth = np.array([(k.first, k.teeth) for k in seam.strikes]).T
    left, right = s[first], s[np.minimum(first + teeth - 1, len(s) - 1)]
    high = y + np.arange(len(first)) % 2 * 1.6
    found = []
    for a, b, down in broken.parts(end_mm):
        here = (right >= a) & (left < b)
        near, far, top = np.clip(left[here], a, b) - a, np.clip(right[here], a, b) - a, high[here] + down
        low = top + 1.2
        found.append(np.stack([near, low, far, low], axis=1))
        for side, there in ((near, left[here] >= a), (far, right[here] < b)):
            found.append(np.stack([side, top, side, low], axis=1)[there])
    return np.concatenate(found).reshape(-1, 2)


class Places:
    """Where on the first row of the strip what is."""

    def __init__(self, seam: Seam, broken: Rows, left: float, top: float, times: int = 1) -> None:
        s = along(seam)
        first = broken.parts(float(s[-1]))[0]
        self._s, self._corner, self._y = s[s <= first[1] + 1e-6], (left, top, times), STACK_MM + BELOW_MM + BAND_MM / 2
        self._last = broken.parts(float(s[-1]))[-1]
        self.on_stack = self._at(0.8 * (first[1] - first[0]), STACK_MM - 2.0)

    def _at(self, x: float, y: float) -> tuple[float, float]:
        left, top, times = self._corner
        return left + x * times, top + y * times

    def hole(self, number: int) -> tuple[float, float]:
        """A hole of the first row."""
        return self._at(float(self._s[min(number, len(self._s) - 1)]), self._y)

    def marked(self, every: int) -> tuple[float, float]:
        """The last hole of the first row that has a mark; the first where none has."""
        return self.hole((len(self._s) - 1) // every * every if every else 0)

    @property
    def last(self) -> tuple[float, float]:
        """The last hole."""
        return self._at(self._last[1] - self._last[0], self._y + self._last[2])
