"""A panel: its outline as it was traced, with corners, holes and fingers; laid another way, or made as large as was read."""

from collections.abc import Callable
from itertools import pairwise
from typing import Annotated, Any, Literal, Self

import numpy as np
from pydantic import Field, ValidationInfo, field_validator

from ..curve import Line, arc_length, corners, frozen
from ..frozen import Frozen
from ..memory import remembered
from ..ring import closed, place_on, stretch, turned_right
from ..texts import tell
from .body import Shape
from .fingers import Finger, Spoke, Which, fingers_of, spoke, with_ends
from .readings import Reading
from .traced import NO_HOLES, DrawnWith, Outline, Point, within_line

CORNER_RAD, CORNER_REACH_MM = float(np.pi / 6), 5.0  # an outline that turns so much within so far has a corner there
MOST_HOLES = 600
STILL = frozen(np.eye(2))
LEAST_UP = 0.3
Sized = Literal["traced", "read"]
Lengths = tuple[tuple[Which, float], ...]
Letter = Annotated[str, Field(pattern="^[A-X]$")]


class Corner(Frozen):
    """A corner: its number, and which point of the outline it is. The edge from it to the next has its number too."""

    n: Annotated[int, Field(ge=1, le=99)]
    at: Annotated[int, Field(ge=0, le=3999)]


class Panel(Frozen):
    """An outline as it was traced, up as it is worn, seen from outside; its corners in their order round it; the holes in it;
    what drew it; how high and how wide it is, read by tape. Where it was folded, so far below its top or, not said, half way,
    wear and what the fold's turn took have left it `short_mm` short. Its
    `fingers`, if it is one of a hand.
    """

    letter: Letter
    ring: Outline
    corners: Annotated[tuple[Corner, ...], Field(max_length=60)] = ()
    holes: Annotated[tuple[Point, ...], Field(max_length=MOST_HOLES)] = ()
    drawn_with: DrawnWith = "nothing"
    high: Reading = Reading()
    wide: Reading = Reading()
    fold_mm: Annotated[float, Field(ge=0, le=2000)] = 0.0
    short_mm: Annotated[float, Field(ge=0, le=50)] = 0.0
    fingers: Annotated[tuple[Finger, ...], Field(max_length=8)] = ()

    @field_validator("corners")
    @classmethod
    def _in_order(cls, corners: tuple[Corner, ...], info: ValidationInfo) -> tuple[Corner, ...]:
        if any(b.at <= a.at for a, b in pairwise(corners)) or len({c.n for c in corners}) < len(corners):
            raise ValueError(tell("Corners must follow one another round the outline, each with its own number."))
        if any(c.at >= len(info.data.get("ring", ())) for c in corners):
            raise ValueError(tell("A corner is no point of its outline."))
        return corners

    @property
    def fold_at_mm(self) -> float:
        """How far below its top it was folded."""
        ys = [y for _, y in self.ring]
        return self.fold_mm or (max(ys) - min(ys)) / 2

    @classmethod
    def of_ring(cls, letter: str, ring: Any, drawn_with: DrawnWith = "nothing", holes: Line = NO_HOLES) -> Self:
        """A panel by its outline `(n, 2)`, its corners found, and the holes in it `(k, 2)`."""
        own, at_holes = turned_right(np.array(ring) - np.min(ring, axis=0)), holes - np.min(ring, axis=0)
        points = tuple((round(float(x), 2), round(float(y), 2)) for x, y in own)
        at = corners_of(np.array(points))
        return cls(
            letter=letter, ring=points, corners=tuple(Corner(n=n, at=i) for n, i in enumerate(at, 1)),
            drawn_with=drawn_with, holes=tuple((round(float(x), 2), round(float(y), 2)) for x, y in at_holes[:MOST_HOLES]),
        ).measured()  # fmt: skip

    def turned(self, by_rad: float) -> Self:
        """The same turned to the right by so much: another way of it is up. What was read as its height is its width when it
        lies across, and its width its height.
        """
        c, s = (round(float(f(by_rad)), 12) for f in (np.cos, np.sin))
        lies = self if abs(s) < abs(c) else self.model_copy(update={"high": self.wide, "wide": self.high})
        return lies._laid(np.array([[c, s], [-s, c]]), self.ring, self.corners, self.fingers)

    def over(self) -> Self:
        """The same turned over, left for right: it was seen from inside. Edges keep their numbers, and fingers their places."""
        n, around = len(self.ring), float(arc_length(closed(np.array(self.ring)))[-1])
        last = float(np.hypot(*np.subtract(self.ring[0], self.ring[-1])))
        ends = [*self.corners[1:], *self.corners[:1]]
        corners = (Corner(n=a.n, at=n - 1 - b.at) for a, b in zip(self.corners, ends, strict=True))
        fingers = (
            f.model_copy(update={"from_mm": round((around - last - f.to_mm) % around, 1),
                                 "to_mm": round((around - last - f.from_mm) % around, 1)}) for f in self.fingers
        )  # fmt: skip
        flipped = np.array([[-1.0, 0.0], [0.0, 1.0]])
        return self._laid(flipped, self.ring[::-1], tuple(sorted(corners, key=lambda c: c.at)), tuple(fingers))

    def _laid(self, by: Line, ring: Any, corners: tuple[Corner, ...], fingers: tuple[Finger, ...]) -> Self:
        """The same by a motion, a matrix `(2, 2)` to multiply by, its outline begun and gone round as given."""
        points, holes = np.array(ring) @ by, np.array(self.holes).reshape(-1, 2) @ by
        left_top = points.min(axis=0)
        points, holes = points - left_top, holes - left_top
        laid = self.model_copy(update={
            "ring": tuple((round(float(x), 2), round(float(y), 2)) for x, y in points), "corners": corners, "fingers": fingers,
            "holes": tuple((round(float(x), 2), round(float(y), 2)) for x, y in holes),
        })  # fmt: skip
        return laid if self.high.outline is self.wide.outline is None else laid.measured()

    def fingered(self) -> Self:
        """The same with its fingers found."""
        return self.model_copy(update={"fingers": fingers_of(np.array(self.ring))})

    def measured(self) -> Self:
        """The same with what its outline gives laid beside what was read of it."""
        wide, high = np.ptp(within_line(np.array(self.ring), self.drawn_with), axis=0).tolist()
        return self.model_copy(update={"high": self.high.traced(high), "wide": self.wide.traced(wide)})


@remembered("piece")
def stretch_of(panel: Panel, lengths: Lengths = ()) -> Line:
    """What takes points of a panel, as traced, to where they lie when it is as high and as wide as was read: a matrix `(2, 2)`
    to multiply by. Where its width was not read it grows both ways alike. What its fingers of these lengths are high is part
    of its height.
    """
    own = within_line(np.array(panel.ring), panel.drawn_with)
    wide, high = np.ptp(own, axis=0).tolist()
    up = panel.high.mean_mm / high if panel.high.by_hand else 1.0
    across = panel.wide.mean_mm / wide if panel.wide.by_hand else up
    if panel.high.by_hand and any(f.which in dict(lengths) for f in panel.fingers):
        stretched = _with_fingers(own, panel, lengths)

        def off(up: float) -> float:
            return float(np.ptp(stretched(np.diag([across, up]))[:, 1])) - panel.high.mean_mm

        low, top = LEAST_UP * up, up / LEAST_UP
        if off(low) < 0 < off(top):  # else the fingers alone are higher than that: it is said
            from scipy.optimize import brentq

            up = float(brentq(off, low, top, xtol=1e-13))
    return frozen(np.diag([across, up]))


@remembered("piece")
def _spokes(panel: Panel) -> tuple[Spoke | None, ...]:
    """Its fingers as they were traced; None for one that has no length."""
    return tuple(spoke(np.array(panel.ring), finger) for finger in panel.fingers)


def _with_fingers(points: Line, panel: Panel, lengths: Lengths) -> Callable[[Line], Line]:
    """What gives points of a panel after a stretch, a matrix `(2, 2)`, its fingers as long as these. Which of the points are a
    finger's no stretch changes.
    """
    longer = [
        (lies, lies.holds(points), long_mm)
        for finger, lies in zip(panel.fingers, _spokes(panel), strict=True)
        if lies is not None and (long_mm := dict(lengths).get(finger.which)) is not None
    ]

    def stretched(by: Line) -> Line:
        lie = points @ by
        for lies, of_it, long_mm in longer:
            lie = lies.mapped(by).lengthened(lie, long_mm, of_it)
        return lie

    return stretched


@remembered("piece")
def shape_of(panel: Panel, sized: Sized = "traced", lengths: Lengths = ()) -> Shape:
    """A panel by its edges, what drew it taken off; as it was traced, or stretched to what was read, its fingers to their
    `lengths`; what it lost at a fold put back there.
    """
    ring, letter = np.array(panel.ring), panel.letter
    own = turned_right(within_line(ring, panel.drawn_with))
    by = stretch_of(panel, lengths) if sized == "read" else STILL
    top = float((own @ by)[:, 1].min())
    lengths = lengths if sized == "read" else ()
    spokes = [s for f in panel.fingers if f.which in dict(lengths) and (s := spoke(ring, f)) is not None]

    def whole_again(line: Line) -> Line:
        line = with_ends(line, spokes) if spokes else line
        line = _with_fingers(line, panel, lengths)(by)
        return let_in(line, top + panel.fold_at_mm * float(by[1, 1]), panel.short_mm)

    holes = frozen(_with_fingers(np.array(panel.holes).reshape(-1, 2), panel, lengths)(by))
    if panel.short_mm and len(holes):
        holes = frozen(holes + (holes[:, 1:] > top + panel.fold_at_mm * float(by[1, 1])) * [0.0, panel.short_mm])
    at = [c.at for c in panel.corners]
    if not at:
        return Shape({f"{letter}1": whole_again(closed(own))}, holes)
    if panel.drawn_with == "nothing":
        whole, n = np.vstack([own, own]), len(own)
        lines = [whole[a : (b if b > a else b + n) + 1] for a, b in zip(at, [*at[1:], at[0]], strict=True)]
    else:  # the corners of what is within the line, nearest to those of the line
        around = float(arc_length(closed(own))[-1])
        places = [place_on(own, panel.ring[a]) for a in at]
        runs = [(b - a) % around or around for a, b in zip(places, [*places[1:], places[0]], strict=True)]
        lines = [stretch(own, a, a + run) for a, run in zip(places, runs, strict=True)]
        lines = [np.vstack([k[:-1], after[:1]]) for k, after in zip(lines, [*lines[1:], lines[0]], strict=True)]
    return Shape({f"{letter}{c.n}": whole_again(line) for c, line in zip(panel.corners, lines, strict=True)}, holes)


def let_in(line: Line, at: float, by_mm: float) -> Line:
    """A line with all of it below `at` so much lower, and straight down where it crosses."""
    if not by_mm:
        return frozen(line)
    points = [line[:1]]
    for a, b in pairwise(line):
        if (a[1] - at) * (b[1] - at) < 0:
            x = float(a[0] + (b[0] - a[0]) * (at - a[1]) / (b[1] - a[1]))
            points.append(np.array([[x, at], [x, at + 1e-9]] if b[1] > a[1] else [[x, at + 1e-9], [x, at]]))
        points.append(b[None])
    whole = np.concatenate(points)
    return frozen(whole + (whole[:, 1:] > at) * [0.0, by_mm])


def corners_of(ring: Line) -> list[int]:
    """The numbers of the points of an outline `(n, 2)` that are corners."""
    n = len(ring)
    found = corners(np.concatenate([ring, ring, ring[:1]]), CORNER_RAD, CORNER_REACH_MM)
    return sorted({int(i) % n for i in found if n // 2 <= i < n // 2 + n})
