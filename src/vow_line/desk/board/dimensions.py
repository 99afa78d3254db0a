"""Where values that are lengths stand about a drawing: dimension lines with their arrows, chains drawn enlarged, leaders.

All in pixels. Values stand left and right of the drawing at the height of what they measure, or upon it where there is room;
no line crosses another, and no value covers one. What would cross is drawn by a leader instead, or not at rest.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

Point = tuple[float, float]
Box = tuple[float, float, float, float]
"""Left, top, right, bottom."""

LANE_PX = 14.0  # from the drawing to a dimension line
TEXT_PX = 30.0  # and to the values
PAST_PX = 4.0  # so far a witness line goes on past the dimension line
ARROW_PX = 6.0
SHORT_PX = 16.0  # arrows of what is shorter stand outside it
ROW_PX = 24.0  # a row of a chain
GAP_PX = 6.0
LYING = 4.0  # a drawing so many times as wide as high is lying
BESIDE_PX = 62.0  # what stands above or below it takes so much


@dataclass(frozen=True)
class Value:
    """A value to be placed: `size` of its words; the points it measures between, one where it only belongs to a place, more
    than two for a chain. `side` is where it stands, `within` whether it may stand upon the drawing; `small` is the size its
    words take where room is short. One that was `moved` to the side it does not belong to is not tied at rest.
    """

    id: str
    side: Literal["left", "right"]
    size: Point
    points: tuple[Point, ...]
    within: bool = False
    small: Point | None = None
    moved: bool = False


@dataclass(frozen=True)
class Placed:
    """Where a value stands and how it is tied to what it measures; a chain is `turned` where its first length is lowest. About
    a `lying` drawing what is said of left and right is above and below.
    """

    value: Value
    box: Box
    how: Literal["dimension", "within", "chain", "leader", "untied"]
    lane: float = 0.0
    turned: bool = False
    lying: bool = False

    def lines(self) -> tuple[list[list[Point]], list[tuple[Point, Point]]]:
        """The lines that tie it, and its arrows: where each points and which way."""
        if not self.lying:
            return _TIED[self.how](self)
        upright = replace(self, value=_swapped(self.value), box=_over(self.box), lying=False)
        lines, arrows = _TIED[self.how](upright)
        return [[(x, y) for y, x in line] for line in lines], [((x, y), (u, v)) for (y, x), (v, u) in arrows]

    def moved(self, points: tuple[Point, ...]) -> "Placed":
        """The same with its words where they are and what it measures elsewhere."""
        return replace(self, value=replace(self.value, points=points))


def lay_out(
    values: Sequence[Value], room: Box, drawn: Box, taken: Sequence[Box], inked: NDArray[np.float64]
) -> tuple[list[Placed], list[Value]]:
    """The values in their places within a room about what is drawn, clear of what is `taken` and of the points `inked (n, 2)`;
    and those there was no room for.

    Values are in the order in which they matter. Those of a drawing much wider than high stand above and below it: as left and
    right of one that stands, its x and y exchanged.
    """
    if drawn[2] - drawn[0] > LYING * (drawn[3] - drawn[1]):
        placed, left_out = _beside([_swapped(v) for v in values], _over(room), _over(drawn), ())
        by_id = {v.id: v for v in values}
        lying = [
            replace(p, value=replace(by_id[p.value.id], side=p.value.side), box=_over(p.box), lying=True)
            for p in placed
        ]
        return _uncrossed(lying, taken), [by_id[v.id] for v in left_out]
    return _standing(values, room, drawn, taken, inked)


def _swapped(value: Value) -> Value:
    """A value with x and y exchanged."""
    wide, high = value.size
    return replace(value, size=(high, wide), points=tuple((y, x) for x, y in value.points), small=None)


def _over(box: Box) -> Box:
    """A box with x and y exchanged."""
    left, top, right, bottom = box
    return top, left, bottom, right


def _standing(
    values: Sequence[Value], room: Box, drawn: Box, taken: Sequence[Box], inked: NDArray[np.float64]
) -> tuple[list[Placed], list[Value]]:
    """Values upon the drawing where they may be and there is room, the others beside it."""
    placed: list[Placed] = []
    beside: list[Value] = []
    for value in values:
        upon = (
            _upon(value, drawn, [*taken, *(p.box for p in placed)], inked)
            if value.within and len(value.points) == 2
            else None
        )
        if upon is None:
            beside.append(value)
        else:
            placed.append(upon)
    at_sides, left_out = _beside(beside, room, drawn, taken)
    order = {v.id: k for k, v in enumerate(values)}
    placed = sorted([*placed, *at_sides], key=lambda p: order[p.value.id])
    return _uncrossed(placed, taken), sorted(left_out, key=lambda v: order[v.id])


def _beside(beside: list[Value], room: Box, drawn: Box, taken: Sequence[Box]) -> tuple[list[Placed], list[Value]]:
    """Values in a column at either side, and those there was no room for."""
    left_out: list[Value] = []
    sides: tuple[Literal["left", "right"], ...] = ("left", "right")
    for _ in range(2):  # what one side has no room for goes to the other
        columns = [_column([v for v in beside if v.side == side], side, room, drawn, taken) for side in sides]
        over = {v.id: sides[1 - k] for k, (_, no_room) in enumerate(columns) for v in no_room}
        if left_out or not over or all(no_room for _, no_room in columns):
            break
        left_out = [v for _, no_room in columns for v in no_room]
        beside = [replace(v, side=over.get(v.id, v.side), moved=v.id in over) for v in beside]
    order = {v.id: k for k, v in enumerate(beside)}
    placed = sorted((p for own, _ in columns for p in own), key=lambda p: order[p.value.id])
    return placed, sorted((v for _, no_room in columns for v in no_room), key=lambda v: order[v.id])


def _upon(value: Value, drawn: Box, taken: list[Box], inked: NDArray[np.float64]) -> Placed | None:
    """A value upon the drawing beside its dimension line, where nothing is in its way."""
    (x0, y0), (x1, y1) = value.points
    wide, high = value.size
    x, y = (x0 + x1) / 2, (y0 + y1) / 2
    if abs(x1 - x0) >= abs(y1 - y0):
        if abs(x1 - x0) < 1.1 * wide:  # or it would hide what it measures
            return None
        corners = [(x - wide / 2, y + 3), (x - wide / 2, y - high - 3)]
    else:
        if abs(y1 - y0) < high:
            return None
        corners = [(x + 5, y - high / 2), (x - wide - 5, y - high / 2)]
    for left, top in corners:
        box = (left, top, left + wide, top + high)
        near = TEXT_PX - 4
        inside = (
            drawn[0] - near <= box[0] <= box[2] <= drawn[2] + near
            and drawn[1] - 20 <= box[1] <= box[3] <= drawn[3] + 20
        )
        within = ((inked > [box[0] - 2, box[1] - 2]) & (inked < [box[2] + 2, box[3] + 2])).all(axis=1)
        if inside and not within.any() and not any(_meet(box, other) for other in taken):
            return Placed(value, box, "within")
    return None


def _column(
    values: list[Value], side: Literal["left", "right"], room: Box, drawn: Box, taken: Sequence[Box]
) -> tuple[list[Placed], list[Value]]:
    """The values of one side from top to bottom, as near to the height of what they measure as they can be."""
    if not values:
        return [], []
    left = side == "left"
    widest = max(v.size[0] for v in values)
    edge = max(drawn[0] - TEXT_PX, room[0] + widest) if left else min(drawn[2] + TEXT_PX, room[2] - widest)
    lane = (
        min(drawn[0] - LANE_PX, edge + TEXT_PX - LANE_PX) if left else max(drawn[2] + LANE_PX, edge - TEXT_PX + LANE_PX)
    )
    span = (edge - widest, edge) if left else (edge, edge + widest)
    low, high = room[1], room[3]
    for box in taken:
        if box[0] < span[1] + GAP_PX and box[2] > span[0] - GAP_PX:
            if box[1] - low >= high - box[3]:
                high = min(high, box[1] - GAP_PX)
            else:
                low = max(low, box[3] + GAP_PX)
    fits, left_out = _fitting(values, high - low)
    small = [replace(v, size=v.small or v.size) for v in values]
    if left_out and small != values:
        smaller = _column(small, side, room, drawn, taken)
        if len(smaller[1]) < len(left_out):
            return smaller
    fits.sort(key=_height)
    gap = min(GAP_PX, max((high - low - sum(v.size[1] for v in fits)) / max(len(fits) - 1, 1), 0.0))
    tops = spread_by([_wanted(v) for v in fits], [v.size[1] + gap for v in fits], low, high + gap)
    placed = []
    for value, top in zip(fits, tops, strict=True):
        wide, tall = value.size
        box = (edge - wide, top, edge, top + tall) if left else (edge, top, edge + wide, top + tall)
        how: Literal["chain", "dimension", "leader", "untied"] = "chain" if len(value.points) > 2 else "leader"
        if value.moved:
            how = "untied"
        elif len(value.points) == 2:
            (x0, y0), (x1, y1) = value.points
            how = "dimension" if abs(y1 - y0) >= abs(x1 - x0) and abs(y1 - y0) > 1 else "leader"
        placed.append(Placed(value, box, how, lane, turned=top + tall / 2 > _height(value)))
    return placed, left_out


def _fitting(values: list[Value], room_px: float) -> tuple[list[Value], list[Value]]:
    """As many of the values, in the order in which they matter, as there is height for; and the others."""
    fits: list[Value] = []
    left_out: list[Value] = []
    total = 0.0
    for value in values:
        if total + value.size[1] <= room_px + 0.5 or not fits:
            fits.append(value)
            total += value.size[1] + 2.0
        else:
            left_out.append(value)
    return fits, left_out


def _height(value: Value) -> float:
    return sum(y for _, y in value.points) / len(value.points)


def _wanted(value: Value) -> float:
    """Where the top of a value would be best: level with the middle of what it measures, a chain's rows above that."""
    level = _height(value)
    return level - value.size[1] - 6 if len(value.points) > 2 else level - min(value.size[1] / 2, 16.0)


def spread_by(wanted: list[float], high: list[float], low: float, most: float) -> list[float]:
    """The places nearest to those wanted, in order, each as high as it is, within `low` and `most`."""
    placed: list[float] = []
    at = low
    for want, tall in zip(wanted, high, strict=True):
        at = max(want, at)
        placed.append(at)
        at += tall
    limit = most
    for k in range(len(placed) - 1, -1, -1):
        placed[k] = max(min(placed[k], limit - high[k]), low if k == 0 else -np.inf)
        limit = placed[k]
    return placed


def _uncrossed(placed: list[Placed], taken: Sequence[Box]) -> list[Placed]:
    """The same with what crosses drawn by a leader, and a leader that crosses not at rest: the one that matters least first."""
    if not placed:
        return placed
    others, boxes = _boxes(taken, 4.0), _boxes([p.box for p in placed], 1.0)
    tied = np.array([_tie(p) for p in placed])
    for _ in range(2 * len(placed)):
        crossed = shapely.crosses(tied[:, None], tied[None, :])
        covering = shapely.intersects(tied[:, None], boxes[None, :])
        np.fill_diagonal(covering, False)
        wrong = (
            crossed.any(axis=1) | covering.any(axis=1) | shapely.intersects(tied[:, None], others[None, :]).any(axis=1)
        )
        if not wrong.any():
            return placed
        at = int(np.flatnonzero(wrong)[-1])
        plainer: Literal["leader", "untied"] = "untied" if placed[at].how == "leader" else "leader"
        placed = [replace(p, how=plainer) if k == at else p for k, p in enumerate(placed)]
        tied[at] = _tie(placed[at])
    return placed


def _tie(placed: Placed) -> shapely.MultiLineString:
    return shapely.MultiLineString(placed.lines()[0])


def _boxes(boxes: Sequence[Box], within_px: float) -> NDArray[np.object_]:
    """The boxes as polygons, each smaller by `within_px` at every side."""
    edges = np.array(boxes, dtype=float).reshape(-1, 4) + np.array([within_px, within_px, -within_px, -within_px])
    return shapely.box(*edges.T)


def _meet(a: Box, b: Box) -> bool:
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def _edge(placed: Placed) -> Point:
    """Where a line leaves the words."""
    left, top, right, bottom = placed.box
    return (right + 3 if placed.value.side == "left" else left - 3), top + min((bottom - top) / 2, 15.0)


def _leader(placed: Placed) -> tuple[list[list[Point]], list[tuple[Point, Point]]]:
    points = placed.value.points
    return [[_edge(placed), (sum(x for x, _ in points) / len(points), _height(placed.value))]], []


def _dimension(placed: Placed) -> tuple[list[list[Point]], list[tuple[Point, Point]]]:
    (x0, y0), (x1, y1) = sorted(placed.value.points, key=lambda p: p[1])
    out = -1.0 if placed.value.side == "left" else 1.0
    lane = placed.lane
    lines = [[(x0 + out * 2, y0), (lane + out * PAST_PX, y0)], [(x1 + out * 2, y1), (lane + out * PAST_PX, y1)]]
    edge = _edge(placed)
    tie = min(max(edge[1], y0 + 1), y1 - 1)
    if y1 - y0 >= SHORT_PX:
        lines.append([(lane, y0), (lane, y1)])
        arrows = [((lane, y0), (0.0, -1.0)), ((lane, y1), (0.0, 1.0))]
    else:
        lines.append([(lane, y0 - 2 * ARROW_PX), (lane, y1 + 2 * ARROW_PX)])
        arrows = [((lane, y0), (0.0, 1.0)), ((lane, y1), (0.0, -1.0))]
    lines.append([edge, (lane, tie)])
    return lines, arrows


def _within(placed: Placed) -> tuple[list[list[Point]], list[tuple[Point, Point]]]:
    (x0, y0), (x1, y1) = sorted(placed.value.points)
    if abs(x1 - x0) >= abs(y1 - y0):
        y = (y0 + y1) / 2
        return [[(x0, y), (x1, y)]], [((x0, y), (-1.0, 0.0)), ((x1, y), (1.0, 0.0))]
    x, top, bottom = (x0 + x1) / 2, min(y0, y1), max(y0, y1)
    return [[(x, top), (x, bottom)]], [((x, top), (0.0, -1.0)), ((x, bottom), (0.0, 1.0))]


def _chain(placed: Placed) -> tuple[list[list[Point]], list[tuple[Point, Point]]]:
    left, top, right, _ = placed.box
    out = -1.0 if placed.value.side == "left" else 1.0
    ladder = right + 8 if out < 0 else left - 8
    points = sorted(placed.value.points, key=lambda p: p[0] * out)  # from within to without
    ticks = [top + ROW_PX * k for k in range(len(points))]
    ticks = ticks[::-1] if placed.turned else ticks
    lines = [[(ladder, min(ticks)), (ladder, max(ticks))]]
    lines += [[(ladder - out * 4, y), (ladder - out * 12, y), point] for y, point in zip(ticks, points, strict=True)]
    return lines, []


_TIED: dict[str, Callable[[Placed], tuple[list[list[Point]], list[tuple[Point, Point]]]]] = {
    "dimension": _dimension, "within": _within, "chain": _chain, "leader": _leader, "untied": lambda _: ([], []),
}  # fmt: skip
