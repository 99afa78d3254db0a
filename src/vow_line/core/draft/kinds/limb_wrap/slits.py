"""Slits in a panel laid flat, from its top or its low end: how far their sides come apart, and what is let into them."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from ....curve import Line, Values, arc_length, frozen
from ....memory import cached_property
from ...flatten import Flat

OPEN_MM = 3.0  # a slit that something is let into is opened so far at its end, for the knife (from memory)
ROUNDS = 6
CLOSED_MM = 0.05  # sides so near are together
MOST_IN = 0.45  # no end of a row is moved in by more of it


@dataclass(frozen=True, eq=False)
class Slits:
    """The slits of a panel; `filled`, something is let into them, else they are closed."""

    flat: Flat
    filled: bool

    @property
    def low(self) -> bool:
        """Whether they are cut from the low end up."""
        return self.flat.slit[0] > 0

    @cached_property
    def apart_mm(self) -> Values:
        """How far apart their sides come to lie in each row, `(rows, slits)`; less than nothing where they would lap."""
        z, first = self.flat.points, list(self.flat.doubled)
        between = z[:, [c + 1 for c in first]] - z[:, first]
        before = z[:, first] - z[:, [c - 1 for c in first]]
        ways = np.sign((between * before).sum(axis=2))
        return np.asarray(ways * np.linalg.norm(between, axis=2)).reshape(len(z), len(first))

    @cached_property
    def rows(self) -> NDArray[np.int64]:
        """The rows that they part, from their ends towards their tips, and the row in which the tips lie."""
        first, end = self.flat.slit
        return np.arange(end - 1, first - 2, -1) if self.low else np.arange(first, end + 1)

    @cached_property
    def let_in_mm(self) -> Values:
        """How wide what is let into them is in each row, `(rows, slits)`: so wide that their sides, cut back by half of it
        along their rows, do not lie over each other anywhere and stand open, less and less towards their tips. Nothing where
        they are closed.
        """
        wide = np.zeros_like(self.apart_mm)
        if self.filled:
            z, rows = self.flat.points, self.rows
            for j, c in enumerate(self.flat.doubled):
                left, right = z[rows, c], z[rows, c + 1]
                run = arc_length((left + right) / 2)
                opens = OPEN_MM * (1 - run / max(float(run[-1]), 1e-9))
                ways = _unit(z[rows, c - 1] - left), _unit(z[rows, c + 2] - right)
                down = _unit(((left + right)[-1:] - (left + right)[:1]) / 2)[0]
                by = np.maximum(-self.apart_mm[rows, j], 0.0)
                for _ in range(ROUNDS):
                    open_ = _between(left + by[:, None] / 2 * ways[0], right + by[:, None] / 2 * ways[1], down)
                    by = by + np.maximum(opens - open_, 0.0)
                wide[rows, j] = by
            wide[rows[-1]] = 0.0
        return wide

    @cached_property
    def strips(self) -> tuple[list[Line], ...]:
        """Each row as what lies between the slits. Where something is let in they are cut back by half of it either side: their
        sides then lie beside each other.
        """
        parted = [np.split(row, [c + 1 for c in self.flat.doubled]) for row in self.flat.points]
        for k, j in zip(*np.nonzero(self.let_in_mm), strict=True):
            by = float(self.let_in_mm[k, j]) / 2
            parted[k][j] = drawn_in(parted[k][j][::-1], by)[::-1]
            parted[k][j + 1] = drawn_in(parted[k][j + 1], by)
        return tuple(parted)

    @cached_property
    def taken_mm(self) -> Values:
        """How much longer each row is across them than what goes round there, `(rows, slits)`: as they stand apart, less what
        is let in.
        """
        if not self.filled:
            return self.apart_mm
        across = [[float(np.hypot(*(b[0] - a[-1]))) for a, b in pairwise(strips)] for strips in self.strips]
        return np.array(across).reshape(self.let_in_mm.shape) - self.let_in_mm

    @cached_property
    def sides(self) -> tuple[tuple[Line, Line], ...]:
        """The two sides of each slit from its end to its tip, which lies where they come together."""
        found = []
        for j, c in enumerate(self.flat.doubled):
            rows = self.rows
            if not self.filled:
                closed = np.flatnonzero(self.apart_mm[rows, j] < CLOSED_MM)
                rows = rows[: closed[0] + 1] if len(closed) else rows
            *parted, tip = rows
            if parted:
                end = (self.flat.points[tip, c] + self.flat.points[tip, c + 1]) / 2
                found.append((frozen([*(self.strips[k][j][-1] for k in parted), end]),
                              frozen([*(self.strips[k][j + 1][0] for k in parted), end])))  # fmt: skip
        return tuple(found)


def gapes_mm(flat: Flat) -> Values:
    """How far the sides of darts in from both edges gape at each column, square to them: below nothing where they would lap."""
    k = flat.across
    assert k is not None
    p = flat.points
    across = np.gradient((p[k] + p[k + 1]) / 2, axis=0)
    down = _unit(np.column_stack([-across[:, 1], across[:, 0]]))
    return np.asarray(((p[k + 1] - p[k]) * down).sum(axis=1))


def _unit(ways: Line) -> Line:
    return np.asarray(ways / np.maximum(np.hypot(*ways.T), 1e-9)[:, None])


def _between(left: Line, right: Line, down: Line) -> Values:
    """How far a right side lies beyond a left one, at points of either `(n, 2)`, across the way they go down: the less of what
    it is at both; less than nothing where they lie over each other.
    """
    across = np.array([abs(down[1]), -down[0] * np.sign(down[1])])
    (s, x), (t, y) = ((line @ down, line @ across) for line in (left, right))
    return np.asarray(np.minimum(np.interp(s, t, y) - x, y - np.interp(t, s, x)))


def both_drawn_in(rows: Values | tuple[Line, ...], left: Values, right: Values) -> tuple[Line, ...]:
    """Rows, all of as many points or not, each shorter by so much at either end."""
    if isinstance(rows, np.ndarray):
        ends = rows[:, [0, -1]]
        ways, by = rows[:, [1, -2]] - ends, np.stack([left, right], axis=1)
        long = np.hypot(ways[..., 0], ways[..., 1])
        if (by <= MOST_IN * long).all():  # none loses a point
            drawn = rows.copy()
            drawn[:, [0, -1]] = ends + (by / np.maximum(long, 1e-9))[..., None] * ways
            return tuple(frozen(drawn))
    return tuple(drawn_in(drawn_in(row, a)[::-1], b)[::-1] for row, a, b in zip(rows, left, right, strict=True))


def drawn_in(row: Line, by: float) -> Line:
    """A row shorter by so much at its first end, or run on straight where that is less than nothing."""
    if by == 0:
        return frozen(row)
    if by < 0:
        first = row[0] - row[1]
        return frozen(np.concatenate([[row[0] - by * first / max(float(np.hypot(*first)), 1e-9)], row[1:]]))
    first = float(np.hypot(*(row[1] - row[0])))
    if by <= MOST_IN * first:
        return frozen(np.concatenate([[row[0] + by / first * (row[1] - row[0])], row[1:]]))
    long = np.hypot(*np.diff(row, axis=0).T)
    by = min(by, MOST_IN * float(long.sum()))
    k = 0
    while by > long[k] - 1e-6:
        by -= float(long[k])
        k += 1
    return frozen(np.concatenate([[row[k] + max(by, 0.0) / long[k] * (row[k + 1] - row[k])], row[k + 1 :]]))
