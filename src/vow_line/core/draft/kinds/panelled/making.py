"""What panels are made of: lines that come to lie on each other, rows of closures, seams, strips, pieces and their names."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from ....curve import Line, frozen, trim, walk
from ....drawing import Label, Mark
from ....measure.body import Shape
from ....measure.hole_rows import HoleRow
from ....memory import cached_property, remembered
from ....reckoning import length
from ....texts import Said, said, verbatim
from ...closures import how_many, stood
from ...joins import Join, Layer, Seat, Sewing, begun
from ...ornament import LAP_MM
from ...pieces import Craft, Edge, Piece, Punch, Stock, edged, leather
from .folded import Turn
from .meets import LAPPED, LEAST_EDGE_MM, How, Meet, long, outward
from .outline import Cut, cut, inside, room

NAME_IN_MM, HELD_MM, BASE_MM = (
    10.0,
    24.0,
    12.0,
)  # an edge is named so far in, so much more past closures, below its line
BINDING = said("binding")
NEARLY_ROUND = 0.6
ROUNDED_MM = 0.1  # what runs on has ends of its own, so far from the seam as its side is but for this
SIDEWAYS = 0.6  # of an edge that looks so much to a side its name ends there


@dataclass(frozen=True, eq=False)
class Together:
    """Two lines, on two pieces, that come to lie on each other."""

    lines: tuple[Line, Line]

    @cached_property
    def least_mm(self) -> float:
        """How long the shorter of them is."""
        return min(map(long, self.lines))


@remembered("piece")
def cut_of(shape: Shape, by_mm: tuple[float, ...]) -> Cut:
    """A panel cut, each of its edges moved so far out."""
    lines = cut(shape, by_mm) if any(by_mm) else list(shape.edges.values())
    ring = np.concatenate([line[:-1] for line in lines])
    if any(by_mm) and not shapely.Polygon(ring).is_valid:
        return Cut(shape.edges, shape.ring, sound=False)
    return Cut(dict(zip(shape.edges, lines, strict=True)), frozen(ring), sound=True)


@remembered("run")
def together(
    a: str,
    b: str,
    one: Shape,
    other: Shape,
    one_cut: Cut,
    other_cut: Cut,
    in_mm: tuple[float, float],
    from_cut_mm: float,
) -> Together:
    """The lines so far in from two edges, without what is nearer than that to another cut."""
    first, (start, end) = inside(one, a, in_mm[0], one_cut, from_cut_mm)
    second, (last, begin) = inside(other, b, in_mm[1], other_cut, from_cut_mm)
    start, end = max(start, begin), max(end, last)
    return _of(*(np.ascontiguousarray(trim(line, start, end)).tobytes() for line in (first, second[::-1])))


@remembered("run")
def _of(one: bytes, other: bytes) -> Together:
    """Two lines: the same again while they are equal, so that what is made of them is not made anew."""
    return Together((frozen(np.frombuffer(one).reshape(-1, 2)), frozen(np.frombuffer(other).reshape(-1, 2))))


@remembered("piece")
def named_at(shape: Shape) -> Mapping[str, tuple[tuple[float, float], tuple[float, float]]]:
    """The middle of each edge that is long enough to be named, and the way it looks there; of one that goes nearly all round a
    place well within it.
    """
    found = {}
    around = sum(map(long, shape.edges.values()))
    for id, line in shape.edges.items():
        if len(shape.edges) > 1 and long(line) > NEARLY_ROUND * around:
            within_it = shapely.Polygon(shape.ring).representative_point()
            found[id] = ((within_it.x, within_it.y + NAME_IN_MM), (0.0, -1.0))
        elif long(line) >= LEAST_EDGE_MM:
            near = walk(line, 0.5 * long(line) + np.array([-NAME_IN_MM, 0.0, NAME_IN_MM]))
            (x, y), (u, v) = near[1].tolist(), outward(near).tolist()
            found[id] = ((x, y), (u, v))
    return found


@remembered("piece")
def names(letter: str, shape: Shape, with_: tuple[tuple[str, Said | None, bool], ...]) -> tuple[Label, ...]:
    """The names of a panel's edges inside it, each with that of what it meets, clear of the row of closures along it."""
    found, places = [], named_at(shape)
    for id, other, closed in with_:
        if id not in places:
            continue
        (x, y), (u, v) = places[id]
        says = said("{name}", name=verbatim(id))
        if other is not None:
            says = said("{name} to {other}", name=verbatim(id), other=other)
        by = NAME_IN_MM + (HELD_MM if closed else 0.0 if other is None else HELD_MM / 2)
        side: Literal["left", "centre", "right"] = "centre" if abs(u) < SIDEWAYS else "right" if u > 0 else "left"
        at = (x - by * u, y - by * v + (BASE_MM if v <= 0 else 0.0))
        found.append(Label(says, at, align=side, on=f"panel-{letter}"))
    return tuple(found)


@remembered("run")
def lies_on(cut: Cut, rows: Together, which: int, from_cut_mm: float) -> bool:
    """Whether a row of holes lies on its panel, so far from the cut."""
    return bool(shapely.contains_xy(room(cut, from_cut_mm), *rows.lines[which].T).all())


@remembered("run")
def kept_rows(one: HoleRow, other: HoleRow) -> Together:
    """The holes of two edges, which run against each other, in one sense."""
    return Together((one.points, frozen(other.points[::-1])))


@remembered("run")
def rows_of(along: Together, spacing_mm: float, ends_mm: float) -> Together:
    """Where closures stand along two lines, as many on either, lowest on the first piece first."""
    one, other = along.lines
    if one[0, 1] < one[-1, 1]:
        one, other = one[::-1], other[::-1]
    n = how_many(min(long(one), long(other)), spacing_mm, ends_mm)
    return Together((stood(one, n, ends_mm), stood(other, n, ends_mm)))


@remembered("run")
def held_along(k: int, meet: Meet, along: Together) -> tuple[Mark, ...]:
    """The lines that closures stand along, on both panels."""
    return tuple(
        Mark("dimension", line, id=f"meet-{k}", on=f"panel-{edge[0]}")
        for edge, line in zip((meet.a, meet.b), along.lines, strict=True)
    )


@remembered("run")
def sewn_of(
    k: int, a: str, b: str, how: How, margin_mm: float, along: Together, other: Shape, kept: bool, thick_mm: float,
    turn: Turn | None = None,
) -> tuple[Join, tuple[Seat, ...]]:  # fmt: skip
    """Two edges, together `thick_mm`, sewn, by holes that are `kept` or made anew; where the one lies over the other, the seam
    is a line on what of that lies under it; through what is turned in too, if it is folded.
    """
    pieces = [f"panel-{e[0]}" for e in (a, b)]
    names = [said("panel {letter}", letter=verbatim(e[0])) for e in (a, b)]
    title = said("seam {a} to {b}", a=verbatim(a), b=verbatim(b))
    begins = begun(said("the first corner of {a}", a=verbatim(a)), turned=how == "turned")
    sewing = Sewing(along.lines[0], margin_mm, margin_at="piece.margin_mm", stack_at="leather.thickness_mm",
                    begins=begins, told=True, kept=kept)  # fmt: skip
    first = Layer(pieces[0], a, names[0])
    if how == "bound":
        strip = f"binding-meet-{k}"
        halves = tuple(Layer(strip, f"half-{n}", BINDING, along=half_of(along.lines[0], side * (margin_mm + thick_mm)))
                       for n, side in enumerate((-1.0, 1.0)))  # fmt: skip
        second = Layer(pieces[1], b, names[1], along=along.lines[1])
        return Join(f"meet-{k}", title, "line", (first, second, *halves), sewing, shaped=True), ()
    if how not in LAPPED:
        second = Layer(pieces[1], b, names[1], along=along.lines[1])
        shape: Literal["butt", "line"] = "butt" if how == "butt" else "line"
        turned = how == "turned"
        return Join(f"meet-{k}", title, shape, (first, second), sewing, shaped=True, turned=turned), ()
    seat = Seat(f"under-{k}", pieces[1], along.lines[1] if kept else other.edges[b])
    second = Layer(pieces[1], seat.id, names[1], along=along.lines[1])
    if turn is None:
        return Join(f"meet-{k}", title, "line", (first, second), sewing, shaped=True), (seat,)
    title = said("seam {a}, folded in, to {b}", a=verbatim(a), b=verbatim(b))
    seats = (Seat(f"face-{k}", pieces[0], turn.edge), Seat(f"turn-{k}", pieces[0], turn.seam), seat)
    layers = (
        Layer(pieces[0], seats[0].id, names[0], along=along.lines[0]),
        Layer(pieces[0], seats[1].id, said("what of {a} is turned in", a=verbatim(a)), along=turn.seam), second,
    )  # fmt: skip
    return Join(f"meet-{k}", title, "line", layers, sewing, shaped=True), seats


def half_of(line: Line, v: float) -> Line:
    """The line of a seam on one half of the strip that binds it, so far from its fold."""
    return frozen([[LAP_MM, v], [LAP_MM + long(line), v]])


def strip_of(
    k: int, meet: Meet, edge_mm: float, seam_mm: float, reach_mm: float, thick_mm: float, bind_mm: float
) -> Piece:
    """The strip that binds two edges sewn edge on edge: as long as the edge and 2 laps, as wide as 2 times the edges are thick
    and what reaches in on either side (common practice), folded down its middle.
    """
    way, half = max(edge_mm, seam_mm) + 2 * LAP_MM, reach_mm + thick_mm
    outline, around = edged(
        Edge("around", said("around"), frozen([[0.0, -half], [way, -half], [way, half], [0.0, half]]), "turn")
    )
    title = said("binding of {a} and {b}", a=verbatim(meet.a), b=verbatim(meet.b))
    stock = Stock("binding", said("leather for binding"), bind_mm, "binding")
    return Piece(f"binding-meet-{k}", title, outline, around, stock, folds=(frozen([[0.0, 0.0], [way, 0.0]]),))


@remembered("piece")
def piece_of(
    letter: str, cut: Cut, sewn: frozenset[str], under: frozenset[str], bound: frozenset[str],
    rows: tuple[tuple[str, Together, int], ...], hole_mm: float, leather_mm: float,
    turns: tuple[tuple[str, Turn], ...] = (),
) -> Piece:  # fmt: skip
    """A panel as a piece, with the holes of its rows; what is sewn down `under` another, `bound` or turned in is not
    finished.
    """
    outline, edges = edged(*(
        Edge(id, said("edge {name}", name=verbatim(id)), line, "" if id in sewn else "turn" if id in under else "free",
             bound=id in bound)
        for id, line in cut.edges.items()
    ))  # fmt: skip
    punches = tuple(
        Punch(f"{id}-{i}", said("holes along {name}", name=verbatim(id)), (float(u), float(v)), hole_mm, f"row-{id}")
        for id, row, which in rows for i, (u, v) in enumerate(row.lines[which].tolist(), 1)
    )  # fmt: skip
    return Piece(
        f"panel-{letter}", said("panel {letter}", letter=verbatim(letter)), outline, edges, leather(leather_mm),
        punches=punches, folds=tuple(turn.fold for _, turn in turns),
        skives=tuple(turn.skived(id, leather_mm) for id, turn in turns),
        crafts=tuple(
            Craft(said("Turn in the edge {name}", name=verbatim(id)),
                  said("damp, along its line, {wide} laid down on the flesh side and cemented; where it curves, notched or "
                       "slit to the seam, not beyond it", wide=length(turn.wide_mm))) for id, turn in turns
        ),
    )  # fmt: skip
