"""A tool with a cutting edge by its outline and its thickness: a hatchet, a billhook, a saw."""

from functools import partial
from typing import Annotated, Any, ClassVar, Literal, Self

import numpy as np
import shapely
from pydantic import Field, field_validator
from shapely.geometry import Polygon

from ...curve import Line, angle_between, arc_length, frozen, smooth_through, walk
from ...drawing import Callout, Handle, Label, Mark
from ...finding import Finding, Mend
from ...frozen import Frozen
from ...quantity import Q
from ...reckoning import Reckoning, fine, length, reckon
from ...ring import closed, farthest, place_on, stretch, turned_right
from ...texts import Said, said
from ..body import Body, Measured, ToolBody
from ..readings import (
    MOST_LONG_MM,
    MOST_THICK_MM,
    RIGID_MM,
    SPREAD_SAYS,
    THICKNESS_MM,
    Reading,
    band,
    off_scale,
    read_so_far,
)
from ..thing import Thing, by_place, in_widest_gap, rising
from ..traced import DREW_MM, DREW_WITH, Drawn, DrawnWith, Outline, Point, across, dragged_softly, laid_along

DEPTHS = 60
WIDTHS = 120  # places along a tool at which it is looked at for a handle
HANDLE_TIMES = 1.6  # what is so many times narrower than the rest is its handle (from memory)
SEEN_TIMES = 1.5  # an edge is seen where the other side bends so many times as much (from memory)
BEND_MM = 6.0
NEAR_MM = 4.0  # an outline pointed at so near is meant
BLANK = (
    (40.0, 0.0),
    (120.0, 0.0),
    (130.0, 40.0),
    (160.0, 90.0),
    (120.0, 97.0),
    (80.0, 99.0),
    (40.0, 97.0),
    (0.0, 90.0),
    (30.0, 40.0),
)
"""Where an outline begins that has not been traced yet."""


class Depth(Frozen):
    """The thickness of the tool so far in from its cutting edge."""

    at_mm: Annotated[float, Field(ge=0, le=1000)]
    thick: Reading = Reading()


class Tool(Thing):
    """An outline, traced or read from a file; the cutting edge between `edge_from` and `edge_to`, whichever comes first, on the
    side that is seen to be one or that `edge_by` lies on; the thickness at depths in from the edge; one length across it,
    measured to check the outline by.
    """

    body: Literal["tool"] = "tool"
    name: str = "billhook"
    outline: Outline
    drawn_with: DrawnWith = "nothing"
    edge_from: Point
    edge_to: Point
    edge_by: Point | None = None
    across: Reading = Reading()
    depths: Annotated[tuple[Depth, ...], Field(min_length=1, max_length=40)]

    says: ClassVar[Said] = said("edge tool")
    hint: ClassVar[Said] = said("hatchet, billhook, saw")
    gives: ClassVar[type[Body]] = ToolBody
    caution: ClassVar[Said] = said(
        "Tape the edge before you measure or draw round it; the tool lies still, the hand goes round."
    )

    _in_order = field_validator("depths")(rising)

    @classmethod
    def blank(cls) -> Self:
        """Nothing measured yet."""
        return cls(
            name="tool", outline=BLANK, edge_from=(160.0, 90.0), edge_to=(0.0, 90.0),
            depths=tuple(Depth(at_mm=a) for a in (5.0, 20.0, 40.0)),
        )  # fmt: skip

    def traced(self, drawn: Drawn) -> tuple[tuple[str, Any], ...]:
        """The outline itself, its long way along x; its edge runs, as taken, along its lower side until that is put right, but
        not along a handle that is seen to be one.
        """
        ring = laid_along(drawn.ring, "nothing")  # what drew it is taken off when it is measured
        points = tuple((round(float(x), 3), round(float(y), 3)) for x, y in ring)
        right, left = ring[int(np.argmax(ring[:, 0]))], ring[int(np.argmin(ring[:, 0]))]
        handle = _handle_of(ring)
        if handle is not None:
            begins, beyond = handle
            end = np.array([begins, across(ring, begins)[1]])
            right, left = (end, left) if beyond else (right, end)
        ends = [(round(float(p[0]), 3), round(float(p[1]), 3)) for p in (right, left)]
        found: tuple[tuple[str, Any], ...] = (("outline", points), ("edge_from", ends[0]), ("edge_to", ends[1]))
        return *found, ("edge_by", None), ("drawn_with", drawn.drawn_with)

    def handles(self) -> tuple[Handle, ...]:
        """The ends of its edge, and the points of its outline."""
        ends = (
            Handle("thing.edge_from", said("one end of the edge"), self.edge_from),
            Handle("thing.edge_to", said("the other end of the edge"), self.edge_to),
            *((Handle("thing.edge_by", said("a place on the edge"), self.edge_by),) if self.edge_by else ()),
        )
        return ends + tuple(
            Handle(f"thing.outline.{i}", said("point {n} of the outline", n=i + 1), p)
            for i, p in enumerate(self.outline)
        )

    def place_of(self, x: float, y: float) -> float | None:
        """A depth in from the edge, where it is put on the edge-on view."""
        ring = self._own()
        left, middle = self._profile_at(ring if ring is not None else np.array(self.outline))
        return round(x - left, 1) if abs(y - middle) < 14 and x >= left else None

    def dragged(self, path: str, to: Any) -> tuple[str, Any]:
        """A point of the outline takes its neighbours along, less the farther off they lie, so that it is no spike."""
        _, part, number, *_ = [*path.split("."), "", ""]
        if part != "outline":
            return path, to
        ring, k = np.array(self.outline), int(number)
        moved = dragged_softly(ring, k, np.array(to) - ring[k])
        return "thing.outline", tuple((round(float(x), 3), round(float(y), 3)) for x, y in moved)

    def with_point(self, x: float, y: float) -> tuple[str, Any] | None:
        """A point more where the outline was pointed at."""
        ring = np.array(self.outline)
        whole = closed(ring)
        line, here = shapely.LineString(whole), shapely.Point(x, y)
        if line.distance(here) > NEAR_MM:
            return None
        after = int(np.searchsorted(arc_length(whole), line.project(here), side="right")) - 1
        if np.hypot(*(ring - [x, y]).T).min() < 1.0:
            return None
        return "thing.outline", (*self.outline[: after + 1], (round(x, 2), round(y, 2)), *self.outline[after + 1 :])

    def with_station(self, at_mm: float | None = None) -> tuple[str, tuple[Any, ...]]:
        """A thickness more."""
        at = in_widest_gap([s.at_mm for s in self.depths], None) if at_mm is None else at_mm
        return "depths", by_place(self.depths, Depth(at_mm=at))

    def without_station(self, part: str, number: int) -> tuple[Any, ...]:
        """One thickness fewer."""
        if part == "outline" and len(self.outline) > 3:
            return tuple(p for k, p in enumerate(self.outline) if k != number)
        if part != "depths":
            return super().without_station(part, number)
        return tuple(s for i, s in enumerate(self.depths) if i != number)

    def measure(self) -> Measured:
        """The tool's own outline, what drew it taken off, its edge, and its thickness from the edge inwards."""
        findings: tuple[Finding, ...] = self.across.findings(
            "thing.across", said("The length across"), RIGID_MM, MOST_LONG_MM
        )
        for i, depth in enumerate(self.depths):
            at = length(depth.at_mm)
            findings += depth.thick.findings(
                f"thing.depths.{i}.thick", said("Thickness {at} in from the edge", at=at), THICKNESS_MM, MOST_THICK_MM
            )
        ring = self._own()
        body = None
        read = [d for d in self.depths if d.thick.taken]
        if ring is None:
            findings += (Finding(
                "hold", "outline-crosses", "measure",
                said("The outline crosses itself, or nothing is left of it when {w} of line is taken off.",
                     w=length(DREW_MM[self.drawn_with])), "thing.outline",
            ),)  # fmt: skip
        elif self.outline == BLANK:
            findings += (Finding(
                "hold", "never-traced", "measure",
                said("Its outline was never traced: what is drawn only shows where one will stand. Trace it from a picture, "
                     "take it from a file, or drag its points until they lie as they were measured."), "thing.outline",
            ),)  # fmt: skip
        elif read:
            spread = max(r.spread_mm for r in [*(d.thick for d in read), self.across])
            body = self._body(ring, read, spread)
            findings += self._checked(ring) + self._sided(ring)
        return Measured(
            body, self._marks(ring, body), self._callouts(ring), partial(self._reckonings, ring, body), findings
        )

    def _own(self) -> Line | None:
        """The outline of the tool itself: what drew it stood off it by half its width."""
        area = Polygon(self.outline)
        if not area.is_valid or area.area < 1:
            return None
        own = area.buffer(-DREW_MM[self.drawn_with], quad_segs=16)
        if own.is_empty or not isinstance(own, Polygon):
            return None
        return turned_right(shapely.get_coordinates(own.exterior)[:-1])

    def _edge_of(self, ring: Line) -> tuple[float, float, tuple[Point, Point] | None]:
        """Where on the outline the edge begins and how long it runs, turning right; and where that is not told and cannot be
        seen, the middles of the two sides it may be.
        """
        one, other = sorted(place_on(ring, p) for p in (self.edge_from, self.edge_to))
        around = float(arc_length(closed(ring))[-1])
        runs = [(one, other - one), (other, around - (other - one))]
        if self.edge_by is not None:
            by = place_on(ring, self.edge_by)
            return *next((r for r in runs if (by - r[0]) % around <= r[1]), runs[0]), None
        bends = [_bends(ring, *run) for run in runs]
        best = int(np.argmin(bends))
        if max(bends) >= SEEN_TIMES * min(bends):
            return *runs[best], None
        return *runs[best], self._middles(ring)

    def _middles(self, ring: Line) -> tuple[Point, Point]:
        """The middles of the two sides that lie between the ends of the edge."""
        one, other = sorted(place_on(ring, p) for p in (self.edge_from, self.edge_to))
        around = float(arc_length(closed(ring))[-1])
        return walk_round(ring, (one + other) / 2), walk_round(ring, (one + other + around) / 2)

    def _body(self, ring: Line, read: list[Depth], spread: float) -> ToolBody:
        start, run, _ = self._edge_of(ring)
        at, thick = np.array([d.at_mm for d in read]), np.array([d.thick.mean_mm for d in read])
        if at[0] > 1e-6:  # an edge is sharp
            at, thick = np.append(0.0, at), np.append(0.0, thick)
        depth = np.linspace(0, at[-1], DEPTHS) if at[-1] > 0 else np.array([0.0, 1.0])
        return ToolBody(
            self.name, spread, frozen(ring), start, start + max(run, 1.0), frozen(stretch(ring, start, start + max(run, 1.0))),
            frozen(depth), frozen(smooth_through(at, thick)(depth)),
        )  # fmt: skip

    def _sided(self, ring: Line) -> tuple[Finding, ...]:
        """Which side of the outline is sharp, where that is not plain to see."""
        *_, middles = self._edge_of(ring)
        if middles is None:
            return ()
        names = _beside(*middles)
        mends = [Mend(name, (("thing.edge_by", by),)) for name, by in zip(names, middles, strict=True)]
        return (Finding(
            "hold", "edge-side", "measure",
            said("Between its two ends the edge may run along either side of this outline. Which one is sharp?"),
            "thing.edge_from", mends[0], (mends[1],),
        ),)  # fmt: skip

    def _checked(self, ring: Line) -> tuple[Finding, ...]:
        if not self.across.taken:
            return ()
        drawn, told = _across(ring), self.across.mean_mm
        if abs(drawn - told) <= max(RIGID_MM, 2 * self.across.spread_mm) or told < 1:
            return ()
        by = told / drawn
        scaled = tuple((round(x * by, 3), round(y * by, 3)) for x, y in self.outline)
        ends = [(round(p[0] * by, 3), round(p[1] * by, 3)) for p in (self.edge_from, self.edge_to)]
        sided = (
            (("thing.edge_by", (round(self.edge_by[0] * by, 3), round(self.edge_by[1] * by, 3))),)
            if self.edge_by
            else ()
        )
        return (Finding(
            "hold", "outline-off-scale", "measure",
            off_scale(said("The length across"), drawn, told), "thing.across.first",
            Mend(said("scale the outline"),
                 (("thing.outline", scaled), ("thing.edge_from", ends[0]), ("thing.edge_to", ends[1]), *sided)),
        ),)  # fmt: skip

    def _profile_at(self, ring: Line) -> tuple[float, float]:
        low, high = ring.min(axis=0), ring.max(axis=0)
        return float(low[0]), float(high[1]) + 34.0

    def _marks(self, ring: Line | None, body: ToolBody | None) -> tuple[Mark, ...]:
        drawn = ring if ring is not None else np.array(self.outline)
        marks = [Mark("thing" if body else "dimension", frozen(drawn), True, "outline")]
        if body is None:
            return tuple(marks)
        marks.append(Mark("edge", body.edge, id="cutting edge"))
        a, b = farthest(drawn)
        marks.append(Mark("dimension", frozen([a, b]), id="thing.across"))
        x, y = self._profile_at(drawn)
        upper = np.column_stack([x + body.depth_mm, y - body.thick_mm / 2])
        lower = np.column_stack([x + body.depth_mm, y + body.thick_mm / 2])[::-1]
        marks.append(Mark("thing", frozen(np.concatenate([upper, lower])), True, "edge-on"))
        for i, d in enumerate(self.depths):
            half = d.thick.mean_mm / 2 if d.thick.taken else 0.0
            marks += band(d.thick, x + d.at_mm, y - half, THICKNESS_MM, f"thing.depths.{i}.thick", 0.5)
        return tuple(marks)

    def _callouts(self, ring: Line | None) -> tuple[Callout, ...]:
        drawn = ring if ring is not None else np.array(self.outline)
        x, y = self._profile_at(drawn)
        a, b = farthest(drawn)
        right = a if a[0] > b[0] else b
        callouts = [
            Callout("thing.across", said("longest, across"), "length", None, (float(right[0]), float(right[1])), "right",
                    "thing.across"),
            Callout("thing.drawn_with", said("drawn round with"), "count", self.drawn_with,
                    (float(drawn[:, 0].min()), float(drawn[:, 1].mean())), "left", "outline",
                    tuple(DREW_WITH.values()), tuple(DREW_MM)),
        ]  # fmt: skip
        if ring is not None:
            callouts.append(self._sharp_along(ring, (float(drawn[:, 0].min()), float(drawn[:, 1].mean()))))
        callouts += [
            Callout(f"thing.depths.{i}.thick", said("thick"), "fine", None, (x + d.at_mm, y), "below", "edge-on",
                    beside=(f"thing.depths.{i}.at_mm", said("in")))
            for i, d in enumerate(self.depths)
        ]  # fmt: skip
        return tuple(callouts)

    def _sharp_along(self, ring: Line, at: Point) -> Callout:
        """The choice of the side that is sharp."""
        start, run, _ = self._edge_of(ring)
        middles = self._middles(ring)
        around = float(arc_length(closed(ring))[-1])
        there = next((m for m in middles if (place_on(ring, m) - start) % around <= run), middles[0])
        return Callout(
            "thing.edge_by", said("sharp along"), "count", there, at, "left", "cutting edge", _beside(*middles), middles
        )

    def labels(self) -> tuple[Label, ...]:
        """What is where on the drawing."""
        ring = self._own()
        x, y = self._profile_at(ring if ring is not None else np.array(self.outline))
        return (Label(said("edge-on, from the cutting edge in"), (x, y - 12), align="left"),)

    def _reckonings(self, ring: Line | None, body: ToolBody | None) -> tuple[Reckoning, ...]:
        if ring is None or body is None:
            return ()
        return (
            reckon("across", said("Longest, as drawn"), length(_across(ring)),
                   said("{w} of line taken off all round", w=length(DREW_MM[self.drawn_with])), ("thing.across",)),
            reckon("edge-run", said("Cutting edge"), length(arc_length(body.edge)[-1]), said("along the outline"),
                   ("cutting edge",)),
            reckon("thickest", said("Thickest"), length(body.thick_mm.max()),
                   said("{at} in from the edge", at=length(body.depth_mm[int(np.argmax(body.thick_mm))])), ("edge-on",)),
            reckon("spread", said("Readings spread"), fine(body.spread_mm),
                   SPREAD_SAYS),
            reckon("face", said("Face of the tool"), Q("area", float(Polygon(ring).area)), said("within the outline"),
                   ("outline",)),
            *read_so_far([self.across, *(d.thick for d in self.depths)]),
        )  # fmt: skip


def _bends(ring: Line, start: float, run: float) -> float:
    """How much a stretch of outline bends in all, in radians, its ends left out: walked in steps that see no bristle."""
    n = max(int(run / BEND_MM), 4)
    points = walk(np.vstack([closed(ring), ring[1:], ring[:1]]), start + np.linspace(0.02, 0.98, n) * run)
    steps = np.diff(points, axis=0)
    return float(np.abs(angle_between(steps[:-1], steps[1:])).sum())


def walk_round(ring: Line, at_mm: float) -> Point:
    """The point at an arc length of a ring, past its first point where it must."""
    whole = closed(ring)
    ((x, y),) = walk(whole, [at_mm % float(arc_length(whole)[-1])])
    return round(float(x), 3), round(float(y), 3)


def _beside(one: Point, other: Point) -> tuple[Said, Said]:
    """What tells two places apart on a drawing."""
    if abs(one[1] - other[1]) >= abs(one[0] - other[0]):
        low, high = said("the lower side"), said("the upper side")
        return (low, high) if one[1] > other[1] else (high, low)
    left, right = said("the left side"), said("the right side")
    return (right, left) if one[0] > other[0] else (left, right)


def _across(ring: Line) -> float:
    a, b = farthest(ring)
    return float(np.hypot(*(a - b)))


def _handle_of(ring: Line) -> tuple[float, bool] | None:
    """Where along x a handle begins and whether it lies beyond that; None where nothing is so much narrower than the rest."""
    long = float(np.ptp(ring[:, 0]))
    at = np.linspace(0.02, 0.98, WIDTHS) * long
    wide = np.array([np.ptp(across(ring, float(x))) for x in at])
    rows = np.arange(WIDTHS // 8, WIDTHS - WIDTHS // 8)
    before, after = [np.median(wide[:k]) for k in rows], [np.median(wide[k:]) for k in rows]
    off = [
        float(np.abs(wide[:k] - a).sum() + np.abs(wide[k:] - b).sum())
        for k, a, b in zip(rows, before, after, strict=True)
    ]
    best = int(np.argmin(off))
    a, b = before[best], after[best]
    if max(a, b) < HANDLE_TIMES * min(a, b):
        return None
    return float(at[rows[best]]), bool(b < a)
