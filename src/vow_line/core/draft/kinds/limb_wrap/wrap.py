"""A limb laid flat for its wrap: the settled piece with its closing edges moved in for a gap or out for a lap, how far it must
stretch or shrink, and the same wrapped again.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ....curve import Line, Values, arc_length, frozen
from ....measure import LimbBody
from ....memory import cached_property, remembered
from ....texts import Said, said
from ...flatten import Flat, flatten
from ...surface import ALONG, ROUND, Surface, surface
from .slits import CLOSED_MM, Slits, both_drawn_in, gapes_mm

Closing = Literal["back", "outside", "inside", "front"]
CLOSING_RAD: dict[Closing, float] = {"front": 0.0, "outside": np.pi / 2, "back": np.pi, "inside": -np.pi / 2}
OVER = "over"  # what is folded over the top, as what lies there is called
BESIDE_DART = 6.0  # leather beside darts across counts so many times as much: their sides come out nearly as long
AVERAGED_MM = 10.0  # what leather takes is compared with strain averaged over so much


@dataclass(frozen=True, slots=True, eq=False)
class Girded:
    """A girth line: its place along the limb, how long it is round, how long flat, from closing line to closing line, and how
    much flat is longer than round.
    """

    at_mm: float
    round_mm: float
    flat_mm: float

    @property
    def over_mm(self) -> float:
        """How much longer flat than round."""
        return self.flat_mm - self.round_mm


@dataclass(frozen=True, slots=True, eq=False)
class Over:
    """What of a wrap is folded over its top: its points `(k, m + 1, 3)` as it lies outside, from its free edge up to the fold,
    and the places along the limb that its rows lie over, and the girths there, `(k,)`. Its edges stand open by a turn of the
    leather more than those that it lies on.
    """

    points: Values
    at_mm: Values
    girth_mm: Values


@dataclass(frozen=True, eq=False)
class Part:
    """One panel of a wrap, laid flat by itself; how far in its edges are moved at either side in each row, out where that is
    less than nothing. The first `over` rows are folded over the top. If it is `filled`, something is let into its slits.
    """

    id: str
    title: Said
    flat: Flat
    in_left_mm: Values
    in_right_mm: Values
    over: int = 0
    filled: bool = False

    @cached_property
    def all_rows(self) -> tuple[Line, ...]:
        """Each girth line from its left edge to its right, from the cut at the top down."""
        if not self.flat.doubled:
            return both_drawn_in(self.flat.points, self.in_left_mm, self.in_right_mm)
        whole = map(np.concatenate, self.slits.strips)
        return tuple(_once(row) for row in both_drawn_in(tuple(whole), self.in_left_mm, self.in_right_mm))

    @property
    def rows(self) -> tuple[Line, ...]:
        """Those that lie on the limb, from the top down."""
        return self.all_rows[self.over :]

    @property
    def over_rows(self) -> tuple[Line, ...]:
        """Those that are folded over, from the free edge to the fold."""
        return self.all_rows[: self.over]

    @cached_property
    def slits(self) -> Slits:
        """Its slits."""
        return Slits(self.flat, self.filled)

    @property
    def folded(self) -> bool:
        """Whether it does not lie flat; what is cut back at its slits may."""
        if not self.filled:
            return self.flat.folded
        from shapely import LinearRing

        ring = np.concatenate([self.all_rows[0][:-1], self.right[:-1], self.rows[-1][:0:-1], self.left[:0:-1]])
        return self.flat.astray or not LinearRing(ring).is_simple

    @property
    def crease(self) -> Line | None:
        """The line it is folded along, from its left edge to its right; None where it is not."""
        if not self.over:
            return None
        above, below = self.all_rows[self.over - 1], self.all_rows[self.over]
        shares = np.linspace(0, 1, 25)
        return frozen((even(above, shares) + even(below, shares)) / 2)

    def runs(self, edge: Line) -> tuple[Line, ...]:
        """A line with a point in each of its rows, in the runs into which darts across part it."""
        k = self.flat.across
        return (edge,) if k is None else (frozen(edge[: k + 1]), frozen(edge[k + 1 :]))

    @cached_property
    def left(self) -> Line:
        """The left edge on the limb, from the top down."""
        return frozen([row[0] for row in self.rows])

    @cached_property
    def right(self) -> Line:
        """The right edge on the limb, from the top down."""
        return frozen([row[-1] for row in self.rows])

    @cached_property
    def over_left(self) -> Line:
        """The left edge of what is folded over, from the cut at the top down."""
        return frozen([row[0] for row in self.over_rows])

    @cached_property
    def over_right(self) -> Line:
        """The right edge of what is folded over, from the cut at the top down."""
        return frozen([row[-1] for row in self.over_rows])

    @cached_property
    def middle(self) -> Line:
        """The middle line on the limb, from the top down."""
        return frozen(self.flat.points[self.over :, self.flat.points.shape[1] // 2])

    @cached_property
    def strains(self) -> tuple[Values, Values]:
        """How much each triangle must stretch and shrink, `(k,)`, averaged over 10 mm about it."""
        return averaged(self.flat)


@dataclass(frozen=True, eq=False)
class Wrap:
    """A limb between two places as a surface, and that laid flat, in one piece or in panels that take an equal share; what
    stands open between its edges at its low and its high end, less than nothing where they lap; if it is `filled`, something
    is let into its slits; how thick what lines it is, all round.
    """

    surface: Surface
    flats: tuple[Flat, ...]
    open_low_mm: float
    open_high_mm: float
    over: Over | None = None
    filled: bool = False
    lining_mm: float = 0.0

    @property
    def open_mm(self) -> Values:
        """What stands open at each row `(n + 1,)`, from the top down."""
        return self.open_at(self.surface.at_mm)

    def open_at(self, at_mm: Values) -> Values:
        """What stands open at places along the limb."""
        at = self.surface.at_mm
        share = (at_mm - at[-1]) / max(float(at[0] - at[-1]), 1e-9)
        return np.asarray(self.open_low_mm + (self.open_high_mm - self.open_low_mm) * share)

    @cached_property
    def parts(self) -> tuple[Part, ...]:
        """Its panels, from the left edge to the right."""
        over = 0 if self.over is None else len(self.over.at_mm)
        at = self.surface.at_mm if self.over is None else np.append(self.over.at_mm, self.surface.at_mm)
        n, half, none = len(self.flats), self.open_at(at) / 2, np.zeros(len(at))
        named = [("wrap", said("wrap"))] if n == 1 else [
            (f"wrap-{k}", said("panel {k}", k=k)) for k in range(1, n + 1)
        ]  # fmt: skip
        return tuple(
            Part(id, title, flat, half if k == 0 else none, half if k == n - 1 else none, over, self.filled)
            for k, ((id, title), flat) in enumerate(zip(named, self.flats, strict=True))
        )

    @property
    def first(self) -> Part:
        """The panel with the left edge."""
        return self.parts[0]

    @property
    def last(self) -> Part:
        """The panel with the right edge."""
        return self.parts[-1]

    @property
    def on_last(self) -> str:
        """The last panel, where that is not the first as well."""
        return self.last.id if len(self.flats) > 1 else ""

    @property
    def left(self) -> Line:
        """The left edge, from the top down."""
        return self.first.left

    @property
    def right(self) -> Line:
        """The right edge, from the top down."""
        return self.last.right

    def runs(self, edge: Line) -> tuple[Line, ...]:
        """An edge, or the closing line, in the runs into which darts across part it."""
        return self.first.runs(edge)

    def drawn_up(self, row: Line, edge: Line) -> Line:
        """Places along an edge as they lie when darts across are sewn: those below nearer to those above by what these gape."""
        upper, *lower = self.runs(edge)
        if not lower:
            return row
        off = [np.hypot(*(row[:, None] - run[None]).reshape(-1, 2).T).reshape(len(row), -1).min(axis=1)
               for run in (upper, lower[0])]  # fmt: skip
        return np.where((off[1] < off[0])[:, None], row + upper[-1] - lower[0][0], row)

    @property
    def edge_long_mm(self) -> float:
        """How long the shorter edge is when it is sewn."""
        return min(sum(float(arc_length(run)[-1]) for run in self.runs(edge)) for edge in (self.left, self.right))

    @property
    def closing(self) -> tuple[Line, Line]:
        """The closing line from the top down, on the first panel and on the last."""
        over = self.first.over
        return frozen(self.first.flat.points[over:, 0]), frozen(self.last.flat.points[over:, -1])

    @cached_property
    def wide_mm(self) -> Values:
        """How much leather goes round at each row `(n + 1,)`, from edge to edge over all panels, from the top down."""
        wide = [[float(arc_length(row)[-1]) for row in part.rows] for part in self.parts]
        return np.asarray(np.array(wide).sum(axis=0) - self.darted_mm)

    @property
    def darted_mm(self) -> Values:
        """What darts take out of each row `(n + 1,)` on the limb; less than nothing where gussets are let in."""
        return np.asarray(sum(part.slits.taken_mm[part.over :].sum(axis=1) for part in self.parts))

    @cached_property
    def girded(self) -> tuple[Girded, ...]:
        """Every girth line on the limb, from the top down."""
        return tuple(self._girded(self.surface.at_mm, self.surface.girth_mm, slice(self.first.over, None)))

    @cached_property
    def girded_over(self) -> tuple[Girded, ...]:
        """Those that are folded over, from the free edge up."""
        over = self.over
        return () if over is None else tuple(self._girded(over.at_mm, over.girth_mm, slice(self.first.over)))

    def _girded(self, at_mm: Values, girth_mm: Values, rows: slice) -> Iterator[Girded]:
        flat = sum(np.linalg.norm(np.delete(np.diff(f.points[rows], axis=1), f.doubled, axis=1), axis=2).sum(axis=1)
                   for f in self.flats)  # fmt: skip
        return (Girded(*map(float, line)) for line in zip(at_mm, girth_mm, flat, strict=True))

    @property
    def strains(self) -> tuple[Values, Values]:
        """How much each square `(rows, columns)` of the surface must stretch and shrink, averaged over 10 mm about it."""
        rows, over = len(self.surface.at_mm) - 1, self.first.over
        across = self.first.flat.across
        if across is not None:  # between the sides of what is cut across there is nothing
            return tuple(  # type: ignore[return-value]
                np.insert(one[: len(one) // 2].reshape(rows - 1, -1), across, 0.0, axis=0) for one in self.first.strains
            )
        both = [[one[: len(one) // 2].reshape(rows + over, -1)[over:] for one in part.strains] for part in self.parts]
        return np.hstack([a for a, _ in both]), np.hstack([b for _, b in both])

    @property
    def stretched(self) -> float:
        """The most it must stretch anywhere, where it is folded over too."""
        return max(*(float(part.strains[0].max()) for part in self.parts), 0.0)

    @property
    def shrunk(self) -> float:
        """The most it must shrink anywhere, as a share."""
        return max(*(-float(part.strains[1].min()) for part in self.parts), 0.0)

    @property
    def larger(self) -> float:
        """By how great a share it is larger flat than round."""
        flat, round_ = (sum(areas) for areas in zip(*(f.areas_mm2 for f in self.flats), strict=True))
        return flat / round_ - 1

    @property
    def folded(self) -> bool:
        """Whether a panel does not lie flat."""
        return any(part.folded for part in self.parts)

    def v_of(self, at_mm: float) -> float:
        """Where a place along the limb lies down the middle of the first panel."""
        at = self.surface.at_mm[::-1]
        return float(np.interp(at_mm, at, self.first.middle[::-1, 1]))

    def at_of(self, v: float) -> float:
        """Which place along the limb lies so far down the middle of the first panel."""
        return float(np.interp(v, self.first.middle[:, 1], self.surface.at_mm))


@remembered("part")
def wrapped(
    made: Surface, flats: tuple[Flat, ...], open_low_mm: float, open_high_mm: float, over: Over | None, filled: bool,
    lining_mm: float = 0.0,
) -> Wrap:  # fmt: skip
    """A wrap; the same again as long as it is of the same."""
    return Wrap(made, flats, open_low_mm, open_high_mm, over, filled, lining_mm)


def _once(row: Line) -> Line:
    """A row without the points that are there twice, where the sides of a slit are held together."""
    there = np.append(True, np.hypot(*np.diff(row, axis=0).T) > 1e-9)
    return row if there.all() else frozen(row[there])


def even(line: Line, shares: Values) -> Line:
    """Points at shares of a line's length."""
    s = arc_length(line)
    return np.column_stack([np.interp(shares * s[-1], s, c) for c in line.T])


@remembered("part")
def laid_flat(
    body: LimbBody, from_mm: float, to_mm: float, more_mm: float, closing: Closing, panels: int = 1,
    steps: tuple[int, int] = (ROUND, ALONG), over_mm: float = 0.0, thick_mm: float = 0.0, slits: tuple[int, float] = (0, 0.0),
    low: bool = False, across: tuple[float, tuple[int, int]] | None = None, most_stretch: float = 0.0,
) -> tuple[Surface, tuple[Flat, ...], Over | None]:  # fmt: skip
    """The limb between two places as a surface, `more_mm` more round, and that laid flat, in so many panels; `over_mm` of it
    folded over the top, a leather `thick_mm` farther out; or with so many `slits` from the top, so deep, or from the `low` end;
    or cut `across` at a place, where its surface has a row twice, but between two of its columns. It need stretch by no more
    than `most_stretch`, where that is anything.
    """
    if across is not None:
        made, _ = _shared(body, from_mm, to_mm, more_mm, closing, 1, steps, across[0])
        k = int(np.argmin(np.abs(made.at_mm - across[0])))
        made = Surface(*(np.insert(rows, k, rows[k], axis=0) for rows in (made.points, made.at_mm, made.girth_mm)))
        return made, (_cut_across(made, k, across[1], most_stretch),), None
    tip = None
    if slits[0] and panels == 1 and not over_mm:
        tip = from_mm + slits[1] if low else to_mm - slits[1]
    made, shares = _shared(body, from_mm, to_mm, more_mm, closing, panels, steps, tip)
    if not over_mm:
        cut = ((), 0, 0) if tip is None else slit(made, *slits, low)
        return made, tuple(flatten(share, slits=cut, gives=most_stretch) for share in shares), None
    deep = min(over_mm, to_mm - from_mm)
    rows = max(round(deep / (to_mm - from_mm) * steps[1]), 2)
    inner, outer = (surface(body, to_mm - deep, to_mm, more, CLOSING_RAD[closing], (made.points.shape[1] - 1, rows))
                    for more in (more_mm, more_mm + 2 * np.pi * thick_mm))  # fmt: skip
    # as a surface lies flat does not change when it is folded back up: what is folded over stands on as the mirror image of
    # what it lies on, and its fold, half a turn of the leather's middle, on the way
    up = inner.points[::-1] * [1.0, 1.0, -1.0] + [0.0, 0.0, 2 * to_mm + np.pi / 2 * thick_mm]
    each = (made.points.shape[1] - 1) // panels
    whole = (np.concatenate([up[:, k * each : (k + 1) * each + 1], share]) for k, share in enumerate(shares))
    flats = (flatten(points, gives=most_stretch) for points in whole)
    points = outer.points + (inner.points[:, :-1].mean(axis=1) - outer.points[:, :-1].mean(axis=1))[:, None]
    return made, tuple(flats), Over(points[::-1], inner.at_mm[::-1], inner.girth_mm[::-1])


def _cut_across(made: Surface, k: int, joined: tuple[int, int], most_stretch: float) -> Flat:
    """A surface whose row is there twice laid flat, cut along it in from both edges as far as its sides gape. What lies beside
    them counts more: they are sewn to each other.
    """
    rows, columns = (n - 1 for n in made.points.shape[:2])
    row = np.tile(np.delete(np.repeat(np.arange(rows), columns), np.s_[k * columns : (k + 1) * columns]), 2)
    weights, gives = np.where(np.isin(row, (k - 1, k + 1)), BESIDE_DART, 1.0), 0.0
    while True:
        flat = flatten(made.points, weights, across=(k, joined), gives=gives)
        (a, b), lap = joined, gapes_mm(flat) < CLOSED_MM
        left, right = np.flatnonzero(lap[:a]), np.flatnonzero(lap[:b:-1])
        shut = (int(left[0]) if len(left) else a, made.points.shape[1] - 1 - int(right[0]) if len(right) else b)
        if shut == joined or shut[0] == 0 or shut[1] == made.points.shape[1] - 1:
            if gives == most_stretch:
                return flat
            gives = most_stretch  # asked for when it is known how far it is cut: it takes its time
        else:
            joined = shut


def slit(made: Surface, n: int, deep_mm: float, low: bool) -> tuple[tuple[int, ...], int, int]:
    """The columns that so many slits are cut along, an equal share apart, from which row on, and before which."""
    columns, rows = made.points.shape[1] - 1, len(made.at_mm)
    way = made.at_mm[1:] - made.at_mm[-1] if low else made.at_mm[0] - made.at_mm[:-1]
    deep = max(int((way < deep_mm - 1e-9).sum()), 1)
    cut = tuple(round(columns * k / (n + 1)) for k in range(1, n + 1))
    return (cut, rows - deep, rows) if low else (cut, 0, deep)


@remembered("part")
def most_strain(
    body: LimbBody, from_mm: float, to_mm: float, more_mm: float, closing: Closing, panels: int, steps: tuple[int, int]
) -> float:
    """The most that the first panel or the one opposite the closing line strains: mostly one of these turns most."""
    _, shares = _shared(body, from_mm, to_mm, more_mm, closing, panels, steps)
    strains = [averaged(flatten(shares[k])) for k in {0, panels // 2}]
    return max(max(float(most.max()), -float(least.min())) for most, least in strains)


def _shared(
    body: LimbBody,
    from_mm: float,
    to_mm: float,
    more_mm: float,
    closing: Closing,
    panels: int,
    steps: tuple[int, int],
    row_at_mm: float | None = None,
) -> tuple[Surface, list[Values]]:
    """The surface, and its points parted into panels that take an equal share."""
    each = -(-steps[0] // panels)
    made = surface(body, from_mm, to_mm, more_mm, CLOSING_RAD[closing], (each * panels, steps[1]), row_at_mm)
    return made, [made.points[:, k * each : (k + 1) * each + 1] for k in range(panels)]


@remembered("part")
def averaged(flat: Flat) -> tuple[Values, Values]:
    """Strains averaged over the two triangles of each square, and over as many squares as lie in 10 mm."""
    rows, columns = flat.points.shape[0] - 1 - (flat.across is not None), flat.points.shape[1] - 1 - len(flat.doubled)
    m = rows * columns
    long, wide = (float(np.linalg.norm(np.diff(flat.points, axis=k), axis=2).mean()) for k in (0, 1))
    over = [max(int(AVERAGED_MM / size), 1) for size in (long, wide)]
    found = []
    for strain in (flat.most, flat.least):
        square = ((strain[:m] + strain[m:]) / 2).reshape(rows, columns)
        for axis, n in enumerate(over):
            if n > 1:
                kernel = np.ones(n) / n
                padded = np.pad(square, [(n // 2, n - 1 - n // 2) if k == axis else (0, 0) for k in (0, 1)], "edge")
                square = np.apply_along_axis(np.convolve, axis, padded, kernel, "valid")
        found.append(frozen(np.tile(square.ravel(), 2)))
    return found[0], found[1]
