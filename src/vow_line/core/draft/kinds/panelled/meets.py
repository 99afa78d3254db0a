"""Which edges of panels meet, and how; which are likely to; panels that are each other's halves."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import combinations
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field

from ....curve import Line, Values, arc_length, frozen, mirror, walk
from ....drawing import Mark
from ....frozen import Frozen
from ....measure import PanelsBody
from ....measure.body import Shape
from ....memory import remembered
from ....texts import said
from .outline import Cut, moved, outwards, room

UNDER_MM = 19.0  # what lies under an edge reaches so far past it (common practice)
ALIKE = 0.04  # edges nearer than this in length may be meant to meet
AWAY_RAD = float(np.radians(50.0))  # and that look so nearly the way they would (from memory)
SIDES_FIRST = 0.001  # of pairs as likely sides meet before tops do
LONGEST_FIRST = 0.3  # of pairs as likely (from memory)
HOLLOW = 0.03  # an edge so hollow, as a share of its length, is cut for what goes through (from memory)
SIDEWAYS = 0.9  # halves meet in the middle: one looks to the right there, the other to the left
ALONG = 0.5  # a hem looks so much up or down
LEAST_LONG_MM = 8.0  # a shorter line of holes is no seam
FROM_CUT = 0.7  # a hole lies at least so many margins from any cut
LEAST_LAP = (
    2.0  # what lies under reaches at least so many margins on: a seam lies as far from either cut (common practice)
)
LEAST_EDGE_MM = 25.0  # a shorter edge is no seam to be offered
HALF_OFF = (
    0.06  # panels whose outlines differ by less than this share of their size are each other's halves (from memory)
)
LEAST_DIFFER_MM = 0.5  # edges that differ by less are not drawn
POINTS = 33
MOST_MEETS = 80
COMPLEX = np.array([1.0, 1.0j])
CLOSED, SEWN = ("laced", "buttons", "studs"), ("over", "folded", "butt", "flush", "bound", "turned")
LAPPED = ("over", "folded")  # sewn through what of the other edge lies under
EDGE_ON_EDGE = ("flush", "bound")  # sewn so far inside both edges, which stand up
DRAWN = ("laced", "buttons")  # together, over a gap
ADJUSTS = ("laced",)  # by being let out or in
EdgeId = Annotated[str, Field(pattern=r"^[A-X]\d{1,2}$")]
Letter = Annotated[str, Field(pattern="^[A-X]$")]
How = Literal["over", "folded", "butt", "flush", "bound", "turned", "laced", "buttons", "studs", "apart"]
HOWS = {
    "over": said("sewn over it"), "folded": said("folded in"), "butt": said("edge to edge"),
    "flush": said("edge on edge"),
    "bound": said("bound"), "turned": said("inside out"), "laced": said("by a lace"),
    "buttons": said("by buttons and loops"), "studs": said("by studs"),
    "apart": said("not at all"),
}  # fmt: skip


class Meet(Frozen):
    """Two edges by their names, and how they meet: `a` over `b`, which reaches `under_mm` past it, and sewn, with `a` turned in
    first if it is folded, or closed by studs; edge to edge, sewn, or flush on each other, bound or not; grain on grain and then
    opened, both run on past the seam; drawn together by a lace, or by loops over buttons, `gap_mm` apart; or not at all. What
    is sewn has its holes anew, or those that are there are kept.
    """

    a: EdgeId
    b: EdgeId
    how: How = "over"
    under_mm: Annotated[float, Field(gt=0, le=100)] = UNDER_MM
    gap_mm: Annotated[float, Field(ge=0, le=200)] = 25.0
    holes: Literal["anew", "kept"] = "anew"


class Halves(Frozen):
    """Two panels that are the two halves of a thing: which of them is kept, mirrored, for both; or their mean; or neither."""

    a: Letter
    b: Letter
    keep: Literal["a", "b", "mean", "neither"] = "neither"


def standing(meets: tuple[Meet, ...], edges: Mapping[str, Line]) -> list[tuple[int, Meet]]:
    """The meetings that can be made, with their numbers: of two edges that are there and meet nothing before."""
    taken: set[str] = set()
    found = []
    for k, meet in enumerate(meets):
        pair = {meet.a, meet.b}
        if meet.how != "apart" and len(pair) == 2 and pair <= edges.keys() and not pair & taken:
            taken |= pair
            found.append((k, meet))
    return found


def together(panels: Iterable[str], made: list[Meet]) -> dict[str, set[str]]:
    """With which others each panel, by its letter, hangs together."""
    with_ = {letter: {letter} for letter in panels}
    for meet in made:
        both = with_[meet.a[0]] | with_[meet.b[0]]
        with_ |= dict.fromkeys(both, both)
    return with_


def long(line: Line) -> float:
    """How long a line is."""
    return float(arc_length(line)[-1])


def offered(
    meets: tuple[Meet, ...], edges: Mapping[str, Line], mirrored: Iterable[tuple[str, str]] = (), *, likely: bool = True
) -> tuple[str, str] | None:
    """Two edges of different panels that nothing is said of, alike in length, and that look as two do that meet: the one to the
    left where the other does to the right, both as far up; rather of panels that nothing holds together yet, and the longest
    first. The likeliest of all; None where there is none. Those that are hardly `likely` to meet are not offered unless they
    are asked for: two hollow ones, which are where an arm or a neck goes through; those that lie on each other when two panels,
    each other's halves, are laid together, `mirrored`, but for the one pair that does so in the middle; those that go on from
    the end of a seam of theirs, as a hem does, or lie between seams on either side; and the last of two panels, which leave
    nothing open.
    """
    made = [m for _, m in standing(meets, edges)]
    taken = {e for m in made for e in (m.a, m.b)}
    thing = together(dict.fromkeys(e[0] for e in edges), made)
    free = [id for id in edges if id not in taken and long(edges[id]) >= LEAST_EDGE_MM]
    if len(free) < 2:
        return None
    x, way = np.array([long(edges[id]) for id in free]), np.array([outward(edges[id]) for id in free])
    apart = np.abs(x[:, None] - x) / np.maximum(x[:, None], x)
    away = np.arccos(np.clip(way[:, 1:] * way[:, 1] - way[:, :1] * way[:, 0], -1, 1))
    off = np.where((apart <= ALIKE) & (away <= AWAY_RAD), apart / ALIKE + away / AWAY_RAD, np.inf)
    panel, whole = np.array([id[0] for id in free]), np.array([min(thing[id[0]]) for id in free])
    off += (whole[:, None] == whole) + SIDES_FIRST * np.abs(way[:, 1:]) - LONGEST_FIRST * x / x.max()
    off[np.tril_indices(len(free))] = np.inf  # each pair once, in the order of its panels
    off[panel[:, None] == panel] = np.inf
    at = {id: k for k, id in enumerate(free)}
    told = [(at[m.a], at[m.b]) for m in meets if m.a in at and m.b in at]
    for a, b in told:
        off[a, b] = off[b, a] = np.inf
    if likely:
        for k, n in np.argwhere(np.isfinite(off)):
            if _unlikely(free[k], free[n], made, edges, tuple(mirrored)):
                off[k, n] = np.inf
    a, b = divmod(int(np.argmin(off)), len(free))
    return (free[a], free[b]) if np.isfinite(off[a, b]) else None


def _unlikely(
    a: str, b: str, made: list[Meet], edges: Mapping[str, Line], mirrored: tuple[tuple[str, str], ...]
) -> bool:
    """Whether two edges alike in length are hardly meant to meet, for one of the reasons told above."""
    if max(_bulge(edges[a]), _bulge(edges[b])) < -HOLLOW:
        return True
    pairs = [p for p in mirrored if {p[0][0], p[1][0]} == {a[0], b[0]}]
    if any({a, b} == {*p} for p in pairs):
        sideways = [p for p in pairs if min(abs(outward(edges[e])[0]) for e in p) > SIDEWAYS]
        middle = max(sideways, key=lambda p: long(edges[p[0]]), default=None)
        return middle is None or {*middle} != {a, b}
    with_ = {e: other for m in made for e, other in ((m.a, m.b), (m.b, m.a))}
    own, others = ([id for id in edges if id[0] == e[0]] for e in (a, b))
    next_to = [{ids[(ids.index(e) + way) % len(ids)] for way in (-1, 1)} for ids, e in ((own, a), (others, b))]
    seams = [e for e in next_to[0] if with_.get(e) in next_to[1]]
    if with_.keys() >= next_to[0] | next_to[1] or (seams and min(abs(outward(edges[e])[1]) for e in (a, b)) > ALONG):
        return True
    return not {*own, *others} - with_.keys() - {a, b}


def _bulge(line: Line) -> float:
    """How far an edge bulges out of its panel at most, or, less than nothing, in, as a share of its length."""
    out = (line - line[0]) @ outward(line)
    return float(out[np.argmax(np.abs(out))] / max(long(line), 1e-9))


def outward(line: Line) -> Line:
    """The way an edge looks, out of its panel."""
    run = line[-1] - line[0]
    way: Line = np.array([run[1], -run[0]]) / max(float(np.hypot(*run)), 1e-9)
    return way


@dataclass(frozen=True, slots=True, eq=False)
class Likeness:
    """A panel laid, mirrored, on another: which edge comes to lie on which, as `pairs`; how far they then lie apart at most,
    and on which edge of the other that is. `turn` and `shift` lay the mirrored one on it.
    """

    pairs: tuple[tuple[str, str], ...]
    off_mm: float
    at: str
    turn: complex
    shift: complex

    def onto(self, line: Line) -> Line:
        """A line of the one, in the other's sense, where it comes to lie on that."""
        z = (mirror(line)[::-1] @ COMPLEX) * self.turn + self.shift
        return frozen(np.column_stack([z.real, z.imag]))

    def back(self, line: Line) -> Line:
        """A line of the other where it comes to lie on the one: `onto` undone."""
        z = ((line @ COMPLEX) - self.shift) / self.turn
        return frozen(mirror(np.column_stack([z.real, z.imag]))[::-1])


@remembered("run")
def likeness(one: Shape, other: Shape) -> Likeness | None:
    """How like a panel is to the mirror image of another, laid on it as well as may be, corner on corner; None where they have
    not as many, or fewer than three.
    """
    n = len(one.edges)
    if n != len(other.edges) or n < 3:
        return None
    shares = np.linspace(0, 1, POINTS)
    names = list(one.edges)[::-1]
    p = np.array([_even(mirror(one.edges[k])[::-1], shares) @ COMPLEX for k in names])
    q = np.array([_even(line, shares) @ COMPLEX for line in other.edges.values()])
    best: Likeness | None = None
    for by in range(n):
        r = np.roll(p, by, axis=0)
        pc, qc = complex(r.mean()), complex(q.mean())
        turn = complex(np.vdot((r - pc).ravel(), (q - qc).ravel()))
        turn /= max(abs(turn), 1e-12)
        off = np.abs((r - pc) * turn + qc - q)
        if best is None or float(off.max()) < best.off_mm:
            pairs = tuple(zip(names[-by:] + names[:-by] if by else names, other.edges, strict=True))
            at = list(other.edges)[int(np.argmax(off.max(axis=1)))]
            best = Likeness(pairs, float(off.max()), at, turn, qc - pc * turn)
    return best


def _even(line: Line, shares: Values) -> Line:
    return walk(line, shares * long(line))


@remembered("part")
def alike(body: PanelsBody) -> tuple[tuple[str, str, Likeness], ...]:
    """Panels that are nearly each other's mirror image, each at most once, by their letters."""
    return tuple(_alike(body))


def _alike(body: PanelsBody) -> Iterator[tuple[str, str, Likeness]]:
    taken: set[str] = set()
    for (a, one), (b, other) in combinations(body.panels.items(), 2):
        if {a, b} & taken or len(one.edges) != len(other.edges):
            continue
        size = float(np.ptp(one.ring, axis=0).max())
        if not 0.8 < size / max(float(np.ptp(other.ring, axis=0).max()), 1e-9) < 1.25:
            continue
        found = likeness(one, other)
        if found is not None and found.off_mm < HALF_OFF * size:
            taken |= {a, b}
            yield a, b, found


def differ(a: str, b: str, one: Shape, other: Shape, cut: Cut, by_mm: tuple[float, ...]) -> tuple[Mark, ...]:
    """The bands between the edges of two halves laid on each other, where they differ, in the other's frame: each where that
    edge is `cut`, so far outside where it was traced.
    """
    found = likeness(one, other)
    bands = [_band(a, b, one, other, k, by) for k, by in enumerate(by_mm if found else ())]
    return _left(tuple(b for b in bands if b), cut, found.off_mm + LEAST_DIFFER_MM) if found else ()


@remembered("piece")
def _left(bands: tuple[Mark, ...], cut: Cut, off_mm: float) -> tuple[Mark, ...]:
    """What of them was not cut away with an edge beside theirs: lies no farther than so much off the panel."""
    near = room(cut, -off_mm)
    left = [(band, shapely.contains_xy(near, *band.line.T)) for band in bands]
    return tuple(
        band if there.all() else replace(band, line=frozen(band.line[there])) for band, there in left if there.sum() > 2
    )


@remembered("run")
def _band(a: str, b: str, one: Shape, other: Shape, k: int, by_mm: float) -> Mark | None:
    """That along the k-th edge of the other; None where they are alike there."""
    found = likeness(one, other)
    assert found is not None
    p, q = found.pairs[k]
    there, laid = other.edges[q], found.onto(one.edges[p])
    if shapely.hausdorff_distance(shapely.LineString(there), shapely.LineString(laid)) <= LEAST_DIFFER_MM:
        return None
    line = frozen(np.concatenate([moved(other, q, by_mm), outwards(laid, by_mm)[::-1]]))
    return Mark("band", line, True, f"piece.halves/{a}{b}", on=f"panel-{b}")


def halved(body: PanelsBody, halves: tuple[Halves, ...]) -> Mapping[str, Shape]:
    """The panels as they are to be, by their letters: of halves the one that is kept, mirrored, or the mean of both."""
    panels = dict(body.panels)
    for both in halves:
        if both.keep != "neither" and both.a != both.b and {both.a, both.b} <= panels.keys():
            panels[both.a], panels[both.b] = _halved(panels[both.a], panels[both.b], both.keep)
    return panels


@remembered("piece")
def _halved(one: Shape, other: Shape, keep: str) -> tuple[Shape, Shape]:
    """Two halves with the one that is kept for both, or their mean."""
    found = likeness(one, other)
    if found is None:
        return one, other
    on = {q: found.onto(one.edges[p]) for p, q in found.pairs}
    if keep == "a":
        return one, Shape(joined({q: on[q] for q in other.edges}))
    if keep == "mean":
        shares = {q: np.linspace(0, 1, max(len(on[q]), len(line))) for q, line in other.edges.items()}
        mean = {q: frozen((_even(on[q], s) + _even(other.edges[q], s)) / 2) for q, s in shares.items()}
        other = Shape(joined(mean))
    back = {p: found.back(other.edges[q]) for p, q in found.pairs}
    return Shape(joined({p: back[p] for p in one.edges})), other


def joined(edges: dict[str, Line]) -> dict[str, Line]:
    """Edges that end where the next begins, to the last bit."""
    lines = list(edges.values())
    return {
        id: frozen(np.vstack([line[:-1], after[:1]]))
        for (id, line), after in zip(edges.items(), [*lines[1:], lines[0]], strict=True)
    }
