"""Darts in from both closing edges at a level, where a limb has a belly: wedges taken out and sewn before it is closed."""

from collections.abc import Callable
from typing import TYPE_CHECKING, Annotated, Literal

import numpy as np
import shapely
from pydantic import Field

from ....curve import Line, Values, frozen
from ....finding import Finding, Mend
from ....frozen import Frozen
from ....reckoning import length
from ....texts import Said, said
from ...closures import stands_mm, walked
from ...joins import Join
from ...pieces import Edge
from .closure import LEFT_SIDE, RIGHT_SIDE, Closure, Gapped
from .darts import LEAST_APART_MM, dart_seam
from .slits import CLOSED_MM, gapes_mm

if TYPE_CHECKING:
    from .wrap import Part, Wrap

Reach = Literal["half", "two-thirds", "three-quarters", "five-sixths"]
SHARES: dict[Reach, float] = {"half": 1 / 2, "two-thirds": 2 / 3, "three-quarters": 3 / 4, "five-sixths": 5 / 6}
REACHES: dict[Reach, Said] = {
    "half": said("half way in"), "two-thirds": said("two thirds in"), "three-quarters": said("three quarters in"),
    "five-sixths": said("five sixths in"),
}  # fmt: skip
LEFT_BEYOND_MM = 20.0  # so much of the wrap is left beyond them either way
CLEAR_MM = 3.0  # between a dart's thread and what closes it (from memory)
STEP_MM = 0.5  # they are tried so far on to lie clear of what closes it
SHIFTS_MM = 4.0  # which moves about so much as they are put elsewhere
NAMES = said("dart 1"), said("dart 2")
BELOW = {"left": said("left edge, below its dart"), "right": said("right edge, below its dart")}


class EdgeDarts(Frozen):
    """A dart in from either closing edge at a place along the limb, so great a share of the way to the middle (five sixths:
    common practice).
    """

    level_mm: Annotated[float, Field(ge=-2000, le=4000)]
    reach: Reach = "five-sixths"

    def tips(self, columns: int) -> tuple[int, int]:
        """Between which columns of so many steps the wrap stays whole."""
        tip = min(round(SHARES[self.reach] * columns / 2), columns // 2 - 1)
        return tip, columns - tip

    def fits(self, low_mm: float, high_mm: float) -> bool:
        """Whether enough is left beyond them of what reaches from one place to another."""
        return low_mm + LEFT_BEYOND_MM <= self.level_mm <= high_mm - LEFT_BEYOND_MM


Sides = tuple[Line, Line]


def sides(part: "Part") -> tuple[Sides, Sides]:
    """The upper and the lower side of the dart at the left edge and of that at the right, each from the edge to the tip, of a
    part that is cut across.
    """
    k, (a, b) = part.flat.across, part.flat.joined
    assert k is not None
    rows = part.all_rows[k : k + 2]
    ends = [[int(np.argmin(np.hypot(*(row - part.flat.points[k, tip]).T))) for row in rows] for tip in (a, b)]
    left, right = (
        [frozen(row[: n + 1]) for row, n in zip(rows, ends[0], strict=True)],
        [frozen(row[n:][::-1]) for row, n in zip(rows, ends[1], strict=True)],
    )
    return (left[0], left[1]), (right[0], right[1])


def edges(part: "Part", side: Literal["left", "right"], title: Said, line: Line) -> list[Edge]:
    """A closing edge `line`, from the top down, in the two parts into which its dart parts it, and the sides of that."""
    upper, lower = part.runs(line)
    k = 0 if side == "left" else 1
    over, under = sides(part)[k]
    return [
        Edge(side, title, upper, "free", beside="" if side == "left" else "left"),
        Edge(f"dart-{k + 1}-upper", NAMES[k], over),
        Edge(f"dart-{k + 1}-lower", NAMES[k], frozen(under[::-1])),
        Edge(f"{side}-low", BELOW[side], lower, "free", beside="left"),
    ]


def seams(part: "Part", margin_mm: float) -> list[Join]:
    """Each dart sewn edge to edge, from the closing edge towards its tip."""
    if part.flat.across is None:
        return []
    (upper, lower), right = sides(part)
    ways, begins = (RIGHT_SIDE, LEFT_SIDE), said("the closing edge")
    return [  # first the side that goes in from the edge in the sense of the outline
        dart_seam(part.id, 1, NAMES[0], (lower, upper), ways, ("lower", "upper"), margin_mm, begins),
        dart_seam(part.id, 2, NAMES[1], right, ways, ("upper", "lower"), margin_mm, begins),
    ]


def clear_of(
    darts: EdgeDarts, laid: "Wrap", closed: Closure, margin_mm: float, with_: Callable[[EdgeDarts], "Wrap"]
) -> float | None:
    """The place nearest to them where darts lie clear of all that closes a wrap; None where there is none. What closes it moves
    a little as they are made there: it is looked at again on the wrap `with_` them.
    """
    first = _clear(darts.level_mm, laid, closed, margin_mm)
    if first is None:
        return None
    return _clear(first, with_(darts.model_copy(update={"level_mm": first})), closed, margin_mm)


def _clear(level_mm: float, laid: "Wrap", closed: Closure, margin_mm: float) -> float | None:
    """The same, by where what closes it stands on the wrap as it is."""
    ways = [np.concatenate(walked(runs)) for runs in closed.runs(laid)]
    return _between(level_mm, laid, closed, margin_mm, ways, closed.count(laid.edge_long_mm))


def clear_when_sewn(level_mm: float, laid: "Wrap", closed: Closure, margin_mm: float) -> float | None:
    """The same, before they are made: when they are sewn the closing edge is about as long as the line it lies on."""
    edge = laid.surface.points[::-1, 0]
    way = np.append(0.0, np.cumsum(np.linalg.norm(np.diff(edge, axis=0), axis=1)))
    return _between(level_mm, laid, closed, margin_mm, [way], closed.count(float(way[-1])))


def _between(
    level_mm: float, laid: "Wrap", closed: Closure, margin_mm: float, ways: list[Values], n: int
) -> float | None:
    """Between n closures along `ways (rows,)` of edges, from its low end up, the place nearest to one."""
    at, taken = laid.surface.at_mm[::-1], closed.wide_mm / 2 + margin_mm + CLEAR_MM
    places = [np.interp(stands_mm(float(way[-1]), n, closed.ends_mm), way, at) for way in ways]
    tried = np.arange(at[0] + LEFT_BEYOND_MM, at[-1] - LEFT_BEYOND_MM + STEP_MM / 2, STEP_MM)
    apart = np.abs(tried[:, None] - np.concatenate(places)).min(axis=1) - taken
    free = np.flatnonzero(apart > STEP_MM)
    if not len(free):
        return None
    between = np.split(free, np.flatnonzero(np.diff(free) > 1) + 1)
    near = min(between, key=lambda those: np.abs(tried[those] - level_mm).min())
    well = near[apart[near] >= min(SHIFTS_MM, float(apart[near].max()))]
    return float(tried[well[np.argmin(np.abs(tried[well] - level_mm))]])


def findings(
    darts: EdgeDarts, laid: "Wrap", closed: Closure, margin_mm: float, with_: Callable[[EdgeDarts], "Wrap"]
) -> list[Finding]:
    """Darts off the wrap, where the limb turns in, or where they meet what closes it; a tongue sewn across one."""
    low, high = float(laid.surface.at_mm[-1]), float(laid.surface.at_mm[0])
    none = Mend(said("no darts"), (("piece.darts", None),))
    if laid.first.flat.across is None:
        place = float(np.clip(darts.level_mm, low + LEFT_BEYOND_MM, high - LEFT_BEYOND_MM))
        there = Mend(said("at {at}", at=length(place)), (("piece.darts.level_mm", place),))
        return [Finding(
            "hold", "darts-off", "draft",
            said("Darts at {at} leave less than {rest} of a wrap that reaches from {low} to {high}.", at=length(darts.level_mm),
                 rest=length(LEFT_BEYOND_MM), low=length(low), high=length(high)), "piece.darts.level_mm",
            *((there, (none,)) if high - low >= 2 * LEFT_BEYOND_MM else (none, ())),
        )]  # fmt: skip
    opens = gapes_mm(laid.first.flat)
    least, most = float(opens.min()), float(opens.max())
    if least < -CLOSED_MM:
        return [Finding(
            "hold", "dart-laps", "draft",
            said("The limb has no belly there: the sides of darts in from its edges would lap by {by}.", by=length(-least)),
            "piece.darts.level_mm", none,
        )]  # fmt: skip
    found = []
    if most < LEAST_APART_MM:
        found.append(Finding(
            "look", "dart-little", "draft",
            said("The darts open by {by} at the most: hardly worth their seams.", by=length(most)), "piece.darts", none,
        ))  # fmt: skip
    if isinstance(closed, Gapped) and closed.tongue:
        found.append(Finding(
            "hold", "tongue-darts", "draft",
            said("A tongue is sewn down inside the edge it is sewn to, and a dart opens there: it would be sewn across."),
            "piece.darts", none, (Mend(said("no tongue"), (("piece.closed.tongue", None),)),),
        ))  # fmt: skip
    near = min(
        float(shapely.LineString(side).distance(shapely.MultiPoint(row)))
        for row, both in zip(closed.rows(laid), sides(laid.first), strict=True)
        for side in both
    )
    if near < closed.wide_mm / 2 + margin_mm + CLEAR_MM:
        clear = clear_of(darts, laid, closed, margin_mm, with_)
        found.append(Finding(
            "hold", "dart-closure", "draft",
            said("The darts come within {d} of what closes it, which takes {w} of the edge.", d=length(near),
                 w=length(closed.wide_mm)), "piece.darts.level_mm",
            *((none, ()) if clear is None else (Mend(said("at {at}", at=length(clear)), (("piece.darts.level_mm", clear),)),
                                                (none,))),
        ))  # fmt: skip
    return found
