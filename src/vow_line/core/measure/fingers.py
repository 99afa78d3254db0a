"""Fingers on the panel of a glove: found between the hollows of its outline, and stretched each to its own length."""

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field

from ..curve import Line, Mask, Values, angle_between, arc_length, area_within, frozen, walk
from ..frozen import Frozen
from ..ring import closed, stretch
from ..texts import Said, said

Which = Literal["thumb", "index", "middle", "ring", "little", "fingers"]
FINGERS: dict[Which, Said] = {
    "thumb": said("thumb"), "index": said("index finger"), "middle": said("middle finger"), "ring": said("ring finger"),
    "little": said("little finger"), "fingers": said("fingers together"),
}  # fmt: skip
STEP_MM = 1.5  # an outline is looked at as near as this for hollows
REACH_MM = 9.0  # and turns there within so much either way
HOLLOW_RAD = float(np.radians(50.0))  # by so much or more (from memory)
PAST_TIP, PAST_BASE = (
    0.8,
    1.15,
)  # its tip is passed when the hollow is so much nearer again, its base when it is farther again
SLENDER = 0.7  # a finger is so many times as long as its base is wide, or longer (from memory)
LEAST_LONG_MM, MOST_WIDE_MM, MOST_FINGERS = 15.0, 150.0, 5
ON_MM, LEAST_MM, FLAT_MM2 = 0.05, 1.0, 1e-6


class Finger(Frozen):
    """Which finger it is, and where it begins and ends, arc lengths along the outline of its panel: it lies beyond the line
    between the two.
    """

    which: Which
    from_mm: Annotated[float, Field(ge=0, le=20000)]
    to_mm: Annotated[float, Field(ge=0, le=20000)]


@dataclass(frozen=True, slots=True, eq=False)
class Spoke:
    """A finger as it lies: the two ends of its base, its tip, the run of the outline round it `(n, 2)`."""

    base: Line
    tip: Line
    run: Line

    @property
    def middle(self) -> Line:
        """The middle of its base."""
        return np.asarray((self.base[0] + self.base[1]) / 2)

    @property
    def long_mm(self) -> float:
        """From the middle of its base to its tip."""
        return float(np.hypot(*(self.tip - self.middle)))

    def mapped(self, by: Line) -> "Spoke":
        """The same after a stretch, a matrix `(2, 2)` to multiply by."""
        return Spoke(self.base @ by, self.tip @ by, self.run @ by)

    def as_long(self, long_mm: float) -> "Spoke":
        """The same so long."""
        run = self.lengthened(self.run, long_mm, np.ones(len(self.run), bool))
        tip = self.middle + (self.tip - self.middle) * long_mm / max(self.long_mm, LEAST_MM)
        return Spoke(self.base, frozen(tip), frozen(run))

    def holds(self, points: Line) -> Mask:
        """Which of points `(n, 2)` are the finger's."""
        return np.asarray(shapely.contains_xy(area_within(self.run).buffer(ON_MM), *points.T))

    def lengthened(self, points: Line, long_mm: float, of_it: Mask | None = None) -> Line:
        """Points `(n, 2)`, those of the finger, or, if these are known, those `of_it (n,)`, moved along it by their share of
        what makes it so long: none at its base. One that was pressed flat by a stretch stays as it is.
        """
        times = long_mm / max(self.long_mm, LEAST_MM)
        (a, b), (u, v) = self.base[1] - self.base[0], self.tip - self.middle
        if times == 1 or not len(points) or abs(a * v - b * u) < FLAT_MM2:
            return points
        of_it = self.holds(points) if of_it is None or len(of_it) != len(points) else of_it
        x, y = (points[of_it] - self.middle).T
        shares = np.maximum((a * y - b * x) / (a * v - b * u), 0.0)
        moved = points.copy()
        moved[of_it] += (times - 1) * shares[:, None] * np.array([u, v])
        return moved


def spoke(ring: Line, finger: Finger) -> Spoke | None:
    """A finger of an outline `(n, 2)`; None where it has no length."""
    whole = closed(ring)
    around = float(arc_length(whole)[-1])
    first, run_mm = finger.from_mm % around, (finger.to_mm - finger.from_mm) % around
    if run_mm < STEP_MM:
        return None
    run = stretch(ring, first, first + run_mm)
    base = np.array([run[0], run[-1]])
    chord = base[1] - base[0]
    off = np.abs((run[:, 0] - base[0, 0]) * chord[1] - (run[:, 1] - base[0, 1]) * chord[0])
    if np.hypot(*chord) < 1.0 or off.max() / np.hypot(*chord) < 1.0:
        return None
    return Spoke(frozen(base), frozen(run[int(np.argmax(off))]), frozen(run))


def with_ends(line: Line, spokes: Iterable[Spoke]) -> Line:
    """A line with a point more where a finger's base begins or ends on it."""
    for at in (p for s in spokes for p in s.base):
        way = shapely.LineString(line)
        if way.distance(shapely.Point(at)) < ON_MM:
            s, along = arc_length(line), float(way.project(shapely.Point(at)))
            k = int(np.searchsorted(s, along))
            if np.abs(s - along).min() > ON_MM:
                line = np.insert(line, k, walk(line, [along])[0], axis=0)
    return line


def fingers_of(ring: Line) -> tuple[Finger, ...]:
    """The fingers of an outline `(n, 2)` that goes round to the right, up as it is worn, with what they are likely to be; none
    where that cannot be told.
    """
    whole = closed(ring)
    around = float(arc_length(whole)[-1])
    n = max(int(around / STEP_MM), 8)
    s = np.linspace(0, around, n, endpoint=False)
    points, step = walk(whole, s), around / n
    hollows = _hollows(points, step)
    if not 0 < len(hollows) <= MOST_FINGERS + 1:  # beside a thumb there may be one on either side
        return ()
    wrist = int(np.argmax(points[:, 1]))
    hollows = sorted(hollows, key=lambda k: (k - wrist) % n)
    fingers = [_beside(points, hollows[0], -1, (hollows[0] - wrist) % n)]
    for a, b in pairwise(hollows):
        between = (b - a) % n
        tried = [f for f in (_beside(points, a, 1, between), _beside(points, b, -1, between)) if f is not None]
        fingers.append(min(tried, key=lambda f: float(np.hypot(*(points[f[1]] - points[f[0]]))), default=None))
    fingers.append(_beside(points, hollows[-1], 1, (wrist - hollows[-1]) % n))
    there = [f for f in fingers if f is not None]
    if not there:
        return ()
    return tuple(
        Finger(which=which, from_mm=round(float(s[a]), 1), to_mm=round(float(s[b]), 1))
        for which, (a, b) in zip(_named(points, there), there, strict=False)
    )


def _hollows(points: Line, step: float) -> list[int]:
    """The points of an even outline where it is hollow, the deepest of each hollow."""
    n, reach = len(points), max(round(REACH_MM / step), 1)
    before, after = points - np.roll(points, reach, axis=0), np.roll(points, -reach, axis=0) - points
    turn = angle_between(before, after)
    into = -turn  # it goes round to the right
    found, taken = [], np.zeros(n, bool)
    for k in np.argsort(-into):
        if into[k] < HOLLOW_RAD:
            break
        if not taken[k]:
            found.append(int(k))
            taken[np.arange(k - 2 * reach, k + 2 * reach + 1) % n] = True
    return found


def _beside(points: Line, hollow: int, way: int, most: int) -> tuple[int, int] | None:
    """The finger that begins at a hollow and goes round that way, over so many points at most: where it begins and ends, in the
    outline's sense; None where nothing stands out there.
    """
    order = (hollow + way * np.arange(1, most + 1)) % len(points)
    off = np.hypot(*(points[order] - points[hollow]).T)
    if not len(off):
        return None
    far = np.maximum.accumulate(off)
    past = np.flatnonzero((off < PAST_TIP * far) & (far > LEAST_LONG_MM))
    if not len(past):
        return None
    beyond = off[past[0] :]
    near = np.minimum.accumulate(beyond)
    again = np.flatnonzero(beyond > PAST_BASE * near)
    end = past[0] + int(np.argmin(beyond[: again[0] + 1] if len(again) else beyond))
    wide, long = float(off[end]), float(far[past[0]])
    if wide > MOST_WIDE_MM or long < SLENDER * wide:
        return None
    return (hollow, int(order[end])) if way > 0 else (int(order[end]), hollow)


def _named(points: Line, fingers: list[tuple[int, int]]) -> list[Which]:
    """What fingers are, in the order in which they follow each other round a hand; none where there are too many."""
    n = len(points)
    wide = [float(np.hypot(*(points[b] - points[a]))) for a, b in fingers]
    low: Values = np.array([(points[a, 1] + points[b, 1]) / 2 for a, b in fingers])
    if len(fingers) == 4:  # no thumb: it is a piece of its own, and the middle finger is longest
        names: list[Which] = ["index", "middle", "ring", "little"]
        tips = [points[np.arange(a, a + (b - a) % n) % n, 1].min() for a, b in fingers]
        return names if tips[1] <= tips[2] else names[::-1]
    names = {
        2: ["thumb", "fingers"],
        3: ["thumb", "index", "fingers"],
        5: ["thumb", "index", "middle", "ring", "little"],
    }.get(len(fingers), [])  # type: ignore[assignment]
    # a thumb stands lower than what is at the other end, or is the narrower of two
    thumb_first = wide[0] < wide[-1] if len(fingers) < 4 else low[0] > low[-1]
    return names if thumb_first else names[::-1]
