"""A *body* is what the readings describe, sampled finely enough to draft from: one shape of record for each way in which
leather goes round a thing.
"""

from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import ClassVar, Literal, Self

import numpy as np
import shapely

from ..curve import Line, Mask, Values, arc_length, area_within, beside, frozen, smooth_through, walk
from ..drawing import Callout, Mark
from ..finding import Finding
from ..memory import cached_property
from ..reckoning import Reckoning
from ..texts import NOTHING, Said, said
from .fingers import Spoke

ON_EDGE_MM = 0.05
FADES_MM = 60.0  # where a corner moves, the next edge goes with it so far (from memory)
FINE_MM = 4.0
HOLES_GO_MM = 30.0  # holes so near an edge go with it (from memory)
Side = Literal["low", "top", "round", "edge"]
Lacks = Callable[[Side, Values], Values]
"""What a mock-up lacked on a side (the edge's is the low one), in mm `(n,)` at places along the axis `(n,)`."""


@dataclass(frozen=True, eq=False)
class Body(ABC):
    """A measured thing; `spread_mm` is the widest half distance between two readings of one place."""

    name: str
    spread_mm: float

    untried: ClassVar[Said] = NOTHING
    """Why a mock-up does not correct it, where it does not."""

    @abstractmethod
    def corrected(self, lacks: Lacks) -> Self:
        """The body with what a mock-up of it lacked laid on, as far as that shape of body can be tried."""


@dataclass(frozen=True, eq=False)
class LongBody(Body):
    """An axis with stations; at each the half section that leather would be wrapped round.

    The axis runs from the butt of the handle (negative) through the guard (0) to the tip. Across it, y is 0 at the
    straight-edge laid along the spine and grows towards the cutting edge; z is half the thickness, from the middle plane.
    `x_mm (n,)` stations from butt to tip; `top_mm`, `edge_mm (n,)` where its outline begins and ends across;
    `y_mm`, `z_mm (n, m)` the convex half sections from top to edge; `thick_mm (n,)`; `blade (n,) bool` where it has an
    edge.
    """

    x_mm: Values
    top_mm: Values
    edge_mm: Values
    thick_mm: Values
    y_mm: Values
    z_mm: Values
    blade: Mask
    outline: Line

    @property
    def length_mm(self) -> float:
        """From the guard to the tip."""
        return float(self.x_mm[-1])

    def corrected(self, lacks: Lacks) -> Self:
        """Wider above and below, its half sections and its outline drawn out with it."""
        top, wide, y = _widened(self.x_mm, self.top_mm, self.edge_mm, self.y_mm, lacks)
        at, edge, blade = self.x_mm, top + wide, self.blade
        ring = np.concatenate(
            [np.column_stack([at[blade], top[blade]]), np.column_stack([at[blade], edge[blade]])[::-1]]
        )
        return replace(self, top_mm=frozen(top), edge_mm=frozen(edge), y_mm=frozen(y), outline=frozen(ring))

    def lying(self) -> "MouldedBody":
        """The same body laid on its side, its sections whole instead of halved."""
        return MouldedBody(
            self.name, self.spread_mm, self.x_mm, self.top_mm, self.edge_mm, self.thick_mm, self.y_mm, 2 * self.z_mm
        )

    def girth_mm(self) -> Values:
        """The girth `(n,)` of each section, twice its half boundary."""
        return 2 * np.hypot(np.diff(self.y_mm, axis=1), np.diff(self.z_mm, axis=1)).sum(axis=1)


@dataclass(frozen=True, eq=False)
class ShaftBody(Body):
    """A shaft sampled along its length from the end that is held: `x_mm`, `girth_mm (n,)`; as it was read, `read_mm (k, 2)`."""

    x_mm: Values
    girth_mm: Values
    read_mm: Line

    def corrected(self, lacks: Lacks) -> Self:
        """As much more round."""
        read = self.read_mm + np.column_stack([np.zeros(len(self.read_mm)), lacks("round", self.read_mm[:, 0])])
        girth = np.maximum(self.girth_mm + lacks("round", self.x_mm), 1.0)
        return replace(self, girth_mm=frozen(girth), read_mm=frozen(read))

    def girth_at(self, x_mm: float) -> float:
        """The girth at one place."""
        return float(np.interp(x_mm, self.x_mm, self.girth_mm))


@dataclass(frozen=True, eq=False)
class FittingBody(Body):
    """A ring or bar: how wide its opening is, how thick the bar, whether it has a front."""

    opening_mm: float
    bar_mm: float
    has_front: bool = False

    untried: ClassVar[Said] = said("A ring is measured, not tried: correct its readings at Measure.")

    def corrected(self, lacks: Lacks) -> Self:
        """As it is: a ring is measured, not tried."""
        return self


@dataclass(frozen=True, eq=False)
class GirthBody(Body):
    """A wearer's girth at one place, over what is worn there, and the buckle that a strap round it closes by: how wide its
    opening is, how thick the bar the strap turns round.
    """

    girth_mm: float
    opening_mm: float
    bar_mm: float

    untried: ClassVar[Said] = said("A girth is read over what is worn, not tried: correct it at Measure.")

    def corrected(self, lacks: Lacks) -> Self:
        """As it is: a girth is read again."""
        return self


@dataclass(frozen=True, eq=False)
class RoundBody(Body):
    """Something round: how wide it is across, over its corners where it has some, and how long."""

    across_mm: float
    length_mm: float

    untried: ClassVar[Said] = said("What stands in a tube is measured, not tried: correct its readings at Measure.")

    def corrected(self, lacks: Lacks) -> Self:
        """As it is: it is read again."""
        return self


@dataclass(frozen=True, eq=False)
class LimbBody(Body):
    """A limb as it was read, from its thin end on: `read_mm (k, 2)` places along a straight reference and girths there, how
    many times as deep as wide it is at each, `ratio (k,)`, and how far its back lies off a straight edge, `off_mm (k,)`, where
    that was read; else its front touches the reference. What goes round it lies on `bare` skin, or `over` something that adds
    `cloth_mm` to a girth at most; a `heel` below it holds a strap under the foot, or there is none; it is a `right` one, or a
    left one.
    """

    read_mm: Line
    ratio: Values
    off_mm: Values | None
    assumed: bool
    bare: bool = False
    heel: bool = False
    over: Said = NOTHING
    cloth_mm: float = 0.0
    right: bool = False

    @cached_property
    def girth_at(self) -> Callable[[Values], Values]:
        """The girth at places along it, by the curve that is drawn through what was read."""
        return smooth_through(*self.read_mm.T)

    @cached_property
    def ratio_at(self) -> Callable[[Values], Values]:
        """How many times as deep as wide it is at places along it."""
        return smooth_through(self.read_mm[:, 0], self.ratio)

    @cached_property
    def off_at(self) -> Callable[[Values], Values] | None:
        """How far its back lies off the edge at places along it; None where that was not read."""
        return None if self.off_mm is None else smooth_through(self.read_mm[:, 0], self.off_mm)

    def corrected(self, lacks: Lacks) -> Self:
        """As much more round."""
        more = np.column_stack([np.zeros(len(self.read_mm)), lacks("round", self.read_mm[:, 0])])
        return replace(self, read_mm=frozen(np.maximum(self.read_mm + more, [-np.inf, 1.0])))


@dataclass(frozen=True, eq=False)
class ToolsBody(Body):
    """Tools side by side: how long, wide and thick each is, `sizes_mm (n, 3)`."""

    sizes_mm: Line

    untried: ClassVar[Said] = said("Tools are measured, not tried: correct their readings at Measure.")

    def corrected(self, lacks: Lacks) -> Self:
        """As they are: they are read again."""
        return self


@dataclass(frozen=True, eq=False)
class BoxBody(Body):
    """A box: how wide, high and deep it is."""

    wide_mm: float
    high_mm: float
    deep_mm: float

    untried: ClassVar[Said] = said("A box is measured, not tried: correct its readings at Measure.")

    def corrected(self, lacks: Lacks) -> Self:
        """As it is: it is read again."""
        return self


@dataclass(frozen=True, slots=True, eq=False)
class Level:
    """A girth read at a level, and where it crosses the panels: of each the strokes `(2 n, 2)` across it in its own frame."""

    name: Said
    girth_mm: float
    across: tuple[tuple[str, Line], ...]


@dataclass(frozen=True, slots=True, eq=False)
class Shape:
    """A panel: the edges that go round it to the right, from corner to corner, by their names; one all round where it has no
    corners; the holes in it `(k, 2)`.
    """

    edges: Mapping[str, Line]
    holes: Line = field(default_factory=lambda: np.zeros((0, 2)))

    @property
    def ring(self) -> Line:
        """Its outline `(n, 2)`."""
        return np.concatenate([line[:-1] for line in self.edges.values()])


@dataclass(frozen=True, slots=True)
class LetOut:
    """An edge of a panel let out by so much at a share of its length, running out to nothing over so much of it in all."""

    edge: str
    share: float
    over_mm: float
    by_mm: float


@dataclass(frozen=True, slots=True, eq=False)
class FingerOn:
    """A finger as it lies on a panel: its name, the edge its tip lies on, where it lies, how long the finger was read, if it
    was; which points of the panel's edges, by their names, are its own.
    """

    name: Said
    edge: str
    lies: Spoke
    read_mm: float | None
    own: Mapping[str, Mask]


@dataclass(frozen=True, eq=False)
class PanelsBody(Body):
    """Panels by their letters; what was read round the wearer at `levels`, which are as they were `before` some of
    their edges were let out; of a hand its `fingers`, the panels
    that grow `across` to the first girth, and those that `follow` the panels they meet, which nothing was read of; whether it
    is a `hand`.
    """

    panels: Mapping[str, Shape]
    levels: tuple[Level, ...] = ()
    astray: tuple[str, ...] = ()
    before: tuple[Level, ...] = ()
    fingers: tuple[FingerOn, ...] = ()
    across: frozenset[str] = frozenset()
    follow: frozenset[str] = frozenset()
    hand: bool = False

    def stretched(self, letters: frozenset[str], by: Line) -> Self:
        """The same with some of its panels stretched, a matrix `(2, 2)` to multiply by; fingers that were read stay as long."""
        lie = {id(f): f.lies.mapped(by) for f in self.fingers if f.edge[0] in letters}
        fingers = tuple(
            replace(f, lies=lie[id(f)] if f.read_mm is None else lie[id(f)].as_long(f.lies.long_mm))
            if id(f) in lie
            else f
            for f in self.fingers
        )

        def made(letter: str, points: Line, edge: str = "") -> Line:
            points = points @ by
            for f in (f for f in self.fingers if f.edge[0] == letter and f.read_mm is not None):
                points = lie[id(f)].lengthened(points, f.lies.long_mm, f.own.get(edge))
            return frozen(points)

        panels = {
            k: Shape({e: made(k, line, e) for e, line in p.edges.items()}, made(k, p.holes)) if k in letters else p
            for k, p in self.panels.items()
        }
        levels, before = (
            tuple(
                replace(v, across=tuple((k, frozen(line @ by) if k in letters else line) for k, line in v.across))
                for v in each
            )
            for each in (self.levels, self.before)
        )
        return replace(self, panels=panels, levels=levels, before=before, fingers=fingers)

    def corrected(self, lacks: Lacks) -> Self:
        """As they are: their edges are let out one by one."""
        return self

    def let_out(self, corrections: tuple[LetOut, ...]) -> Self:
        """The panels with these of their edges let out, or taken in; those that are not there are kept in mind, `astray`."""
        there = self.edges
        by_panel: dict[str, list[LetOut]] = {}
        for one in corrections:
            if one.edge in there:
                by_panel.setdefault(one.edge[0], []).append(one)
        panels = {k: _let_out(p, by_panel[k]) if k in by_panel else p for k, p in self.panels.items()}
        levels = tuple(
            replace(level, across=tuple(
                (k, _across(panels[k], line, self.panels[k])) if k in by_panel else (k, line) for k, line in level.across))
            for level in self.levels
        )  # fmt: skip
        astray = tuple(dict.fromkeys(c.edge for c in corrections if c.edge not in there))
        return replace(self, panels=panels, levels=levels, astray=astray, before=self.before or self.levels)

    @cached_property
    def edges(self) -> Mapping[str, Line]:
        """Every edge that could meet another, by its name: those of panels with two corners or more."""
        return {id: line for p in self.panels.values() if len(p.edges) > 1 for id, line in p.edges.items()}


@dataclass(frozen=True, eq=False)
class ToolBody(Body):
    """A flat tool: its outline `(n, 2)`, turned right; its cutting edge, from arc length `edge_from_mm` to `edge_to_mm`
    along it; how thick it is, `thick_mm (k,)`, at depths `depth_mm (k,)` in from the edge.
    """

    outline: Line
    edge_from_mm: float
    edge_to_mm: float
    edge: Line
    depth_mm: Values
    thick_mm: Values

    untried: ClassVar[Said] = said("A tool's cover follows its outline: drag its points at Measure, or trace it again.")

    def corrected(self, lacks: Lacks) -> Self:
        """As it is: an outline that is wrong is traced again."""
        return self


@dataclass(frozen=True, eq=False)
class MouldedBody(Body):
    """A body lying on the bench, sampled from butt to nose: `x_mm`, `top_mm`, `low_mm`, `height_mm (n,)`; the upper sides of
    its sections `y_mm`, `z_mm (n, m)`, y across, z above the bench.
    """

    x_mm: Values
    top_mm: Values
    low_mm: Values
    height_mm: Values
    y_mm: Values
    z_mm: Values

    def corrected(self, lacks: Lacks) -> Self:
        """Wider above and below, its sections drawn out with it."""
        top, wide, y = _widened(self.x_mm, self.top_mm, self.low_mm, self.y_mm, lacks)
        return replace(self, top_mm=frozen(top), low_mm=frozen(top + wide), y_mm=frozen(y))

    def girth_mm(self) -> Values:
        """The girth `(n,)` of each section, its flat side on the bench."""
        over = np.hypot(np.diff(self.y_mm, axis=1), np.diff(self.z_mm, axis=1)).sum(axis=1)
        return over + self.low_mm - self.top_mm


def _let_out(shape: Shape, corrections: list[LetOut]) -> Shape:
    """A panel with edges of its own let out: a corner goes with its edge, and the next one with the corner, ever less along
    it; holes near an edge go with that.
    """
    lines = {id: _fine(line, [c.share for c in corrections if c.edge == id]) for id, line in shape.edges.items()}
    along = {id: arc_length(line) for id, line in lines.items()}
    moves = {id: np.zeros_like(line) for id, line in lines.items()}
    for one in corrections:
        s, line = along[one.edge], lines[one.edge]
        off = np.clip(np.abs(s - one.share * s[-1]) / (one.over_mm / 2), 0, 1)
        out = beside(line, -1.0) - line
        moves[one.edge] += one.by_mm * ((1 + np.cos(np.pi * off)) / 2)[:, None] * out
    ids = list(lines)
    own = {id: (m[0].copy(), m[-1].copy()) for id, m in moves.items()}
    for k, id in enumerate(ids):  # what the neighbours' ends move by, less and less along it
        before, after = own[ids[k - 1]][1], own[ids[(k + 1) % len(ids)]][0]
        s, fades = along[id], max(min(FADES_MM, along[id][-1] / 2), 1e-9)
        moves[id] += (
            np.clip(1 - s / fades, 0, 1)[:, None] * before + np.clip(1 - (s[-1] - s) / fades, 0, 1)[:, None] * after
        )
    new = {id: line + moves[id] for id, line in lines.items()}
    edges = {id: frozen(np.vstack([new[id][:-1], new[ids[(k + 1) % len(ids)]][:1]])) for k, id in enumerate(ids)}
    holes = shape.holes
    if len(holes):
        every, move = np.concatenate([*lines.values()]), np.concatenate([*moves.values()])
        apart = np.hypot(*(holes[:, None] - every[None]).transpose(2, 0, 1))
        near = apart.argmin(axis=1)
        goes = (apart.min(axis=1) < HOLES_GO_MM)[:, None]
        holes = frozen(holes + np.where(goes, move[near], 0.0))
    return Shape(edges, holes)


def _fine(line: Line, shares: list[float]) -> Line:
    """A line with a point at every few mm, and at shares of its length, besides its own."""
    s = arc_length(line)
    even = np.linspace(0, s[-1], max(int(s[-1] / FINE_MM), 2) + 1)
    return walk(line, np.unique(np.concatenate([s, even, np.array(shares) * s[-1]])))


def _across(shape: Shape, strokes: Line, before: Shape) -> Line:
    """The strokes across a panel at the height of those that crossed it before; an end that did not lie on its outline, as at
    the base of a finger, stays.
    """
    ring, y = shape.ring, float(strokes[0, 1])
    low, high = ring[:, 0].min() - 1.0, ring[:, 0].max() + 1.0
    there = area_within(ring).intersection(shapely.LineString([(low, y), (high, y)]))
    parts = [np.sort(shapely.get_coordinates(g)[[0, -1], 0]) for g in shapely.get_parts(there) if g.length > 0]
    edge, found = shapely.LinearRing(before.ring), []
    for stroke in strokes.reshape(-1, 2, 2) if parts else ():
        a, b = np.sort(stroke[:, 0])
        first, last = min(parts, key=lambda p: max(p[0] - (a + b) / 2, (a + b) / 2 - p[1]))
        ends = [
            (old if edge.distance(shapely.Point(old, y)) > ON_EDGE_MM else new) for old, new in ((a, first), (b, last))
        ]
        found += [[ends[0], y], [ends[1], y]]
    return frozen(found) if found else strokes


def _widened(x: Values, top: Values, low: Values, y: Values, lacks: Lacks) -> tuple[Values, Values, Values]:
    """Where sections begin, how wide they are, and their `y (n, m)`, with what was lacking above and below."""
    wide = np.maximum(low - top, 1e-9)
    new_top = top - lacks("top", x)
    new_wide = np.maximum(low + lacks("low", x) - new_top, np.minimum(wide, 0.5))
    return new_top, new_wide, new_top[:, None] + (y - top[:, None]) * (new_wide / wide)[:, None]


@dataclass(frozen=True, eq=False)
class Measured:
    """What measuring gave: the body when the readings allow one, how it is drawn, what is wrong with it; `tell` gives its sums
    when asked.
    """

    body: Body | None
    marks: tuple[Mark, ...]
    callouts: tuple[Callout, ...]
    tell: Callable[[], tuple[Reckoning, ...]]
    findings: tuple[Finding, ...]

    @cached_property
    def reckonings(self) -> tuple[Reckoning, ...]:
        """The sums."""
        return self.tell()
