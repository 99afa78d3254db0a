"""Panels drafted: what of each runs on under another, the seams, laces and studs where they meet."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property, partial
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field

from ....curve import Line, frozen, trim, walk
from ....drawing import Label, Mark
from ....finding import Finding
from ....measure import Body, PanelsBody
from ....measure.body import Shape
from ....measure.hole_rows import HoleRow, hole_rows
from ....memory import remembered
from ....reckoning import length
from ....texts import Said, said, verbatim
from ...assembly import Assembly
from ...closures import KNOT_MM, TAIL_MM, how_many, lace_mm, loop_mm, stood
from ...drafted import Draft, TriedEdges
from ...joins import Fastener, Join, Lace, Layer, Loops, Seat, Sewing, begun
from ...kind import KindOfPiece
from ...ornament import CLEAR_MM, LAP_MM
from ...pieces import Craft, Edge, Piece, Punch, Stock, edged, leather
from . import checks, ring, shown
from .collar import COLLAR, Collar, Sewn, sewn_on
from .folded import Turn, turn_mm, turn_of
from .meets import (
    CLOSED,
    DRAWN,
    EDGE_ON_EDGE,
    FROM_CUT,
    LAPPED,
    LEAST_EDGE_MM,
    LEAST_LONG_MM,
    MOST_MEETS,
    SEWN,
    Halves,
    Meet,
    alike,
    differ,
    halved,
    long,
    outward,
    standing,
)
from .outline import Cut, cut, outwards, room, within

NAME_IN_MM, HELD_MM, BASE_MM = (
    10.0,
    24.0,
    12.0,
)  # an edge is named so far in from it, so much more past its closures, below its line
BINDING = said("binding")
NEARLY_ROUND = 0.6
ROUNDED_MM = 0.1  # what runs on has ends of its own, so far from the seam as its side is but for this
SIDEWAYS = 0.6  # of an edge that looks so much to a side its name ends there


@dataclass(frozen=True, slots=True, eq=False)
class Together:
    """Two lines, on two pieces, that come to lie on each other."""

    lines: tuple[Line, Line]


@remembered("piece")
def cut_of(shape: Shape, by_mm: tuple[float, ...]) -> Cut:
    """A panel cut, each of its edges moved so far out."""
    lines = cut(list(shape.edges.values()), list(by_mm)) if any(by_mm) else list(shape.edges.values())
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
    lines = outwards(one.edges[a], -in_mm[0]), outwards(other.edges[b], -in_mm[1])[::-1]
    off = [within(line, room(k, from_cut_mm)) for line, k in zip(lines, (one_cut, other_cut), strict=True)]
    start, end = (max(o[i] for o in off) for i in (0, 1))
    return Together((frozen(trim(lines[0], start, end)), frozen(trim(lines[1], start, end))))


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
def _names(letter: str, shape: Shape, with_: tuple[tuple[str, Said | None, bool], ...]) -> tuple[Label, ...]:
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
def sewn_of(
    k: int, meet: Meet, margin_mm: float, along: Together, other: Shape, kept: bool, thick_mm: float, turn: Turn | None = None,
) -> tuple[Join, tuple[Seat, ...]]:  # fmt: skip
    """Two edges, together `thick_mm`, sewn, by holes that are `kept` or made anew; where the one lies over the other, the seam
    is a line on what of that lies under it; through what is turned in too, if it is folded.
    """
    pieces = [f"panel-{e[0]}" for e in (meet.a, meet.b)]
    names = [said("panel {letter}", letter=verbatim(e[0])) for e in (meet.a, meet.b)]
    title = said("seam {a} to {b}", a=verbatim(meet.a), b=verbatim(meet.b))
    begins = begun(said("the first corner of {a}", a=verbatim(meet.a)), turned=meet.how == "turned")
    sewing = Sewing(along.lines[0], margin_mm, margin_at="piece.margin_mm", stack_at="leather.thickness_mm",
                    begins=begins, told=True, kept=kept)  # fmt: skip
    first = Layer(pieces[0], meet.a, names[0])
    if meet.how == "bound":
        strip = f"binding-meet-{k}"
        halves = tuple(Layer(strip, f"half-{n}", BINDING, along=half_of(along.lines[0], side * (margin_mm + thick_mm)))
                       for n, side in enumerate((-1.0, 1.0)))  # fmt: skip
        second = Layer(pieces[1], meet.b, names[1], along=along.lines[1])
        return Join(f"meet-{k}", title, "line", (first, second, *halves), sewing, shaped=True), ()
    if meet.how not in LAPPED:
        second = Layer(pieces[1], meet.b, names[1], along=along.lines[1])
        shape: Literal["butt", "line"] = "butt" if meet.how == "butt" else "line"
        turned = meet.how == "turned"
        return Join(f"meet-{k}", title, shape, (first, second), sewing, shaped=True, turned=turned), ()
    seat = Seat(f"under-{k}", pieces[1], along.lines[1] if kept else other.edges[meet.b])
    second = Layer(pieces[1], seat.id, names[1], along=along.lines[1])
    if turn is None:
        return Join(f"meet-{k}", title, "line", (first, second), sewing, shaped=True), (seat,)
    title = said("seam {a}, folded in, to {b}", a=verbatim(meet.a), b=verbatim(meet.b))
    seats = (Seat(f"face-{k}", pieces[0], turn.edge), Seat(f"turn-{k}", pieces[0], turn.seam), seat)
    layers = (
        Layer(pieces[0], seats[0].id, names[0], along=along.lines[0]),
        Layer(pieces[0], seats[1].id, said("what of {a} is turned in", a=verbatim(meet.a)), along=turn.seam), second,
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


class Panelled(KindOfPiece):
    """Choices for panels: which edges meet, and how; every length in mm. What is sewn is so `margin_mm` from the cut; laces and
    studs stand `spacing_mm` from each other at most, the first `ends_mm` in, a lace's eyelets `in_mm` from the cut. Of edges
    that are alike it is `asked` whether they meet. They are sewn in the `order` in which they are listed, or the last first, as
    what came apart in that order went together.
    """

    kind: Literal["panelled"] = "panelled"
    says: ClassVar[Said] = said("panels put together")
    hint: ClassVar[Said] = said("a waistcoat, a mask")
    fits: ClassVar[type[Body]] = PanelsBody
    meets: Annotated[tuple[Meet, ...], Field(max_length=MOST_MEETS)] = ()
    halves: Annotated[tuple[Halves, ...], Field(max_length=24)] = ()
    asked: bool = True
    order: Literal["listed", "last-first"] = "listed"
    ease_mm: Annotated[float, Field(ge=-100, le=500)] = 0.0
    margin_mm: Annotated[float, Field(gt=0, le=40)] = 4.0
    spacing_mm: Annotated[float, Field(ge=5, le=300)] = 40.0
    ends_mm: Annotated[float, Field(gt=0, le=300)] = 20.0
    in_mm: Annotated[float, Field(gt=0, le=100)] = 12.0
    hole_mm: Annotated[float, Field(gt=0, le=20)] = 5.0
    button_mm: Annotated[float, Field(ge=5, le=60)] = 18.0
    high_mm: Annotated[float, Field(gt=0, le=40)] = 5.0
    bind_mm: Annotated[float, Field(gt=0, le=5)] = 0.8
    collar: Collar | None = None

    def draft(self, body: PanelsBody, leather_mm: float) -> Draft:
        """The panels as they are cut, and how they meet. Never raises."""
        return self._drafted(body, leather_mm, {})

    def suits(self, body: Any, leather_mm: float, tannage: str) -> tuple[Finding, ...]:
        """Whether what is sewn inside out can be turned."""
        return checks.suits(self, body, leather_mm, tannage)

    def _drafted(self, body: PanelsBody, leather_mm: float, thick: Mapping[str, float]) -> Draft:
        """The same, some of them lined so thick."""
        from .sized import sized  # it puts them together to see what they give

        put = Put(
            self, sized(self, body, leather_mm, thick) if body.across or body.follow else body, leather_mm, thick
        )  # fmt: skip
        return Draft(
            assembly=put.assembly,
            marks=(*put.closing_lines(), *put.differences()),
            labels=tuple(put.labels()),
            callouts=shown.callouts(put),
            tell=partial(shown.reckonings, put),
            find=partial(checks.findings, put),
            shown=tuple(p.id for p in put.assembly.pieces if p.stock.sort == "leather"),
            edges_of=put.tried,
            from_above=partial(ring.from_above, put),
            lined=partial(self._drafted, body, leather_mm),
        )


@dataclass(frozen=True, eq=False)
class Put:
    """Panels put together by their choices, in leather of `leather_mm`, some lined so `thick`, by their pieces' ids. What one
    of them or one meeting gives is remembered.
    """

    by: Panelled
    body: PanelsBody
    leather_mm: float
    thick: Mapping[str, float] = field(default_factory=dict)

    @cached_property
    def panels(self) -> Mapping[str, Shape]:
        """The panels as they are to be, by their letters."""
        return halved(self.body, self.by.halves)

    @cached_property
    def edges(self) -> Mapping[str, Line]:
        """Every edge that could meet another, by its name."""
        return {id: line for p in self.panels.values() if len(p.edges) > 1 for id, line in p.edges.items()}

    @cached_property
    def standing(self) -> list[tuple[int, Meet]]:
        """The meetings that can be made, with their numbers."""
        return standing(self.by.meets, self.edges)

    @cached_property
    def made(self) -> list[tuple[int, Meet]]:
        """Those of them that have room for holes between their corners."""
        return [(k, m) for k, m in self.standing if min(long(line) for line in self.along[k]) >= LEAST_LONG_MM]

    @cached_property
    def moved_mm(self) -> Mapping[str, float]:
        """How far each edge is cut outside where it was traced: what runs on, or, less than nothing, is drawn back."""
        moved: dict[str, float] = {}
        for _, meet in self.standing:
            if self.kept(meet):  # what lay under is traced with the rest
                continue
            if meet.how in DRAWN:
                moved |= {meet.a: -meet.gap_mm / 2, meet.b: -meet.gap_mm / 2}
            elif meet.how in (*LAPPED, "studs"):
                moved[meet.b] = meet.under_mm
                if meet.how == "folded":
                    moved[meet.a] = turn_mm(self.by.margin_mm, self.leather_mm)
            elif meet.how == "turned":
                moved |= {meet.a: self.by.margin_mm, meet.b: self.by.margin_mm}
        return {id: by for id, by in moved.items() if by}

    @cached_property
    def cuts(self) -> Mapping[str, Cut]:
        """Each panel as it is cut, by its letter."""
        return {
            k: cut_of(shape, tuple(self.moved_mm.get(id, 0.0) for id in shape.edges))
            for k, shape in self.panels.items()
        }

    @cached_property
    def taken_mm(self) -> Mapping[str, float]:
        """How much of a panel each of its edges takes when it is sewn: what lies beyond the thread of edges that stand up, or
        of old ones that lay on each other or were opened.
        """
        taken: dict[str, float] = {}
        for _, meet in self.standing:
            kept = self.kept(meet)
            for e, row in zip((meet.a, meet.b), kept.lines if kept else (None, None), strict=True):
                if row is not None and meet.how != "butt":
                    way = shapely.distance(shapely.points(row), shapely.LineString(self.edges[e]))
                    taken[e] = float(np.mean(way))
                elif row is None and meet.how in EDGE_ON_EDGE:
                    taken[e] = self.by.margin_mm
        return taken

    def worn(self, letter: str) -> shapely.Polygon:
        """What is seen of a panel, as it was traced, when it is sewn: it without what its edges take."""
        shape = self.body.panels[letter]
        by = tuple(-self.taken_mm.get(id, 0.0) for id in shape.edges)
        return shapely.Polygon(cut_of(shape, by).ring)

    @cached_property
    def collar(self) -> Sewn | None:
        """The collar; None where there is none, or no edge for it."""
        return sewn_on(self.by.collar, self) if self.by.collar else None

    @cached_property
    def along(self) -> Mapping[int, tuple[Line, Line]]:
        """The lines along which two edges meet, by the number of the meeting: the holes of a seam, or the row of closures, on
        the one's own piece and on the other's, in one sense, both without what lies too near to another cut.
        """
        return {k: held.lines for k, held in self._held.items()}

    @cached_property
    def _held(self) -> Mapping[int, Together]:
        return {k: self._together(meet) for k, meet in self.standing}

    def lengths_mm(self, k: int, meet: Meet) -> tuple[float, float]:
        """How long the two are where they meet: at their edges where these meet, else along what holds them."""
        if meet.how == "butt":
            return long(self.cuts[meet.a[0]].edges[meet.a]), long(self.cuts[meet.b[0]].edges[meet.b])
        one, other = (self.edges[meet.a], self.edges[meet.b]) if meet.how in DRAWN else self.along[k]
        return long(one), long(other)

    def _together(self, meet: Meet) -> Together:
        one, other = meet.a[0], meet.b[0]
        if rows := self.kept(meet):
            return rows
        return together(
            meet.a, meet.b, self.panels[one], self.panels[other], self.cuts[one], self.cuts[other], self._in_mm(meet),
            self.by.margin_mm - ROUNDED_MM if meet.how == "turned" else FROM_CUT * self.by.margin_mm,
        )  # fmt: skip

    def turn(self, meet: Meet) -> Turn:
        """What of its first edge is turned in."""
        letter = meet.a[0]
        return turn_of(meet.a, self.panels[letter], self._together(meet), self.cuts[letter], self.by.margin_mm,
                       self.leather_mm)  # fmt: skip

    def _in_mm(self, meet: Meet) -> tuple[float, float]:
        """How far in from where each edge was traced the two are held together."""
        if meet.how in DRAWN:
            return (meet.gap_mm / 2 + self.by.in_mm,) * 2
        if meet.how == "studs":
            return meet.under_mm / 2, -meet.under_mm / 2
        if meet.how == "turned":
            return 0.0, 0.0
        return self.by.margin_mm, -self.by.margin_mm if meet.how in LAPPED else self.by.margin_mm

    def old_rows(self, meet: Meet) -> tuple[HoleRow | None, HoleRow | None]:
        """The rows of holes that are there along two edges."""
        one, other = hole_rows(self.panels[meet.a[0]]).get(meet.a), hole_rows(self.panels[meet.b[0]]).get(meet.b)
        return one, other

    def kept(self, meet: Meet) -> Together | None:
        """The holes of two edges that are to be kept, where there are as many on either."""
        if meet.holes == "anew" or meet.how not in SEWN or meet.how == "folded":
            return None
        one, other = self.old_rows(meet)
        return kept_rows(one, other) if one and other and len(one.points) == len(other.points) else None

    @cached_property
    def rows(self) -> Mapping[int, tuple[Line, Line]]:
        """Where closures stand on either piece, by the number of the meeting, lowest first."""
        return {k: rows.lines for k, rows in self._rows.items()}

    @cached_property
    def _rows(self) -> Mapping[int, Together]:
        return {k: rows_of(self._held[k], self.by.spacing_mm, self.by.ends_mm) for k, m in self.made if m.how in CLOSED}

    def rows_off(self, k: int, meet: Meet) -> list[str]:
        """The edges of a meeting whose row of holes does not lie on their panel."""
        rows, r = self._rows[k], self.by.hole_mm / 2
        return [e for i, e in enumerate((meet.a, meet.b)) if not lies_on(self.cuts[e[0]], rows, i, r)]

    def gaps_mm(self, meet: Meet, n: int) -> Line:
        """From eyelet to eyelet across, when it is laced."""
        return np.full(n, meet.gap_mm + 2 * self.by.in_mm)

    @cached_property
    def assembly(self) -> Assembly:
        """The pieces and what holds them together."""
        sewn = [
            sewn_of(k, m, self.by.margin_mm, self._held[k], self.panels[m.b[0]], self.kept(m) is not None,
                    2 * self.leather_mm, self.turn(m) if m.how == "folded" else None)
            for k, m in self.made if m.how in SEWN
        ]  # fmt: skip
        if self.by.order == "last-first":
            sewn.reverse()
        if self.collar:  # the neck is round when its panels are together
            sewn += [(join, (seat,)) for join, seat in zip(self.collar.joins, self.collar.seats, strict=True)]
        taken = {x.part for join, _ in sewn for x in join.layers}
        under = frozenset(m.b for _, m in self.made if m.how in LAPPED and not self.kept(m))
        turns = {m.a: self.turn(m) for _, m in self.made if m.how == "folded"}
        under |= turns.keys()
        rows = {e: (self._rows[k], i) for k, m in self.made if k in self._rows for i, e in enumerate((m.a, m.b))}
        bound = {e for _, m in self.made if m.how == "bound" for e in (m.a, m.b)}
        pieces = tuple(
            piece_of(k, cut, frozenset(taken & cut.edges.keys()), frozenset(under & cut.edges.keys()),
                     frozenset(bound & cut.edges.keys()),
                     tuple((e, *rows[e]) for e in cut.edges if e in rows), self.by.hole_mm, self.leather_mm,
                     tuple((e, turns[e]) for e in cut.edges if e in turns))
            for k, cut in self.cuts.items()
        )  # fmt: skip
        strips = tuple(self._strips())
        pieces += strips
        halves = tuple(
            Seat(x.part, x.piece, x.along) for join, _ in sewn for x in join.layers if x.along is not None
            and x.piece.startswith("binding")
        )  # fmt: skip
        if self.collar:
            pieces += self.collar.pieces
        return Assembly(
            pieces, tuple(join for join, _ in sewn), (*(seat for _, seats in sewn for seat in seats), *halves),
            tuple(self._fasteners()),
            laces=tuple(self._laces()), loops=tuple(self._loops()),
        )  # fmt: skip

    def _strips(self) -> Iterator[Piece]:
        """What binds the edges that are sewn edge on edge and bound."""
        for k, m in self.made:
            if m.how == "bound":
                line = self.along[k][0]
                reach = self.by.margin_mm + CLEAR_MM
                yield strip_of(k, m, long(self.edges[m.a]), long(line), reach, 2 * self.leather_mm, self.by.bind_mm)

    def _through(self, k: int, meet: Meet) -> tuple[list[tuple[str, str]], list[tuple[str, str]]]:
        one, other = (
            [(f"panel-{e[0]}", f"{e}-{i}") for i in range(1, len(self.rows[k][0]) + 1)] for e in (meet.a, meet.b)
        )
        return one, other

    def _fasteners(self) -> list[Fastener]:
        found: list[Fastener] = []
        for k, meet in self.made:
            if k not in self.rows:
                continue
            one, other = self._through(k, meet)
            name = verbatim(meet.a)
            if meet.how == "laced":
                title = said("eyelets of {a}", a=name)
                found.append(Fastener(f"eyelets-{k}", title, "eyelet", (*one, *other), each=True))
                continue
            if meet.how == "buttons":
                lace, wide = self.loop_mm(meet), self.by.button_mm
                found += [
                    Fastener(f"buttons-{k}", said("buttons of {a}", a=name), "button", tuple(one), each=True, size_mm=wide),
                    Fastener(f"loops-{k}", said("loops of {b}", b=verbatim(meet.b)), "loop", tuple(other), each=True,
                             size_mm=lace),
                ]  # fmt: skip
                continue
            found += [
                Fastener(f"stud-{k}-{i}", said("stud {i} of {a}", i=i, a=name), "stud", pair)
                for i, pair in enumerate(zip(one, other, strict=True), 1)
            ]
        return found

    def loop_mm(self, meet: Meet) -> float:
        """How long the lace of a loop is."""
        return loop_mm(meet.gap_mm + 2 * self.by.in_mm, self.by.button_mm, self.by.high_mm)

    def _loops(self) -> list[Loops]:
        found = []
        for k, meet in self.made:
            if meet.how == "buttons":
                one, other = self._through(k, meet)
                found.append(Loops(
                    f"loops-{k}", (meet.a, meet.b), (tuple(one), tuple(other)), (meet.gap_mm,) * len(one), self.by.button_mm,
                    self.by.high_mm, self.loop_mm(meet) - KNOT_MM,
                ))  # fmt: skip
        return found

    def _laces(self) -> list[Lace]:
        found = []
        for k, meet in self.made:
            if meet.how == "laced":
                one, other = self._through(k, meet)
                gaps = self.gaps_mm(meet, len(one))
                found.append(Lace(
                    f"lace-{k}", said("lace of {a}", a=verbatim(meet.a)), (tuple(one), tuple(other)), tuple(gaps.tolist()),
                    TAIL_MM, lace_mm(self.rows[k], gaps),
                ))  # fmt: skip
        return found

    def closing_lines(self) -> Iterator[Mark]:
        """The lines that closures stand along, on both panels: they are lit together."""
        for k, meet in self.made:
            if meet.how in CLOSED:
                for edge, line in zip((meet.a, meet.b), self.along[k], strict=True):
                    yield Mark("dimension", line, id=f"meet-{k}", on=f"panel-{edge[0]}")

    def differences(self) -> Iterator[Mark]:
        """How panels that are nearly each other's halves differ, laid on the other: where none is taken for both."""
        chosen = {frozenset((h.a, h.b)) for h in self.by.halves if h.keep != "neither"}
        for a, b, found in alike(self.body):
            if found.off_mm >= checks.SAME_MM and frozenset((a, b)) not in chosen:
                one, other = self.body.panels[a], self.body.panels[b]
                by = tuple(self.moved_mm.get(e, 0.0) for e in other.edges)
                for band in differ(one, other, self.cuts[b], by):
                    yield Mark("band", band, True, f"piece.halves/{a}{b}", on=f"panel-{b}")

    def tried(self) -> TriedEdges:
        """The edges that a mock-up is corrected at."""
        mirrors = {
            p: q
            for _, _, like in alike(self.body)
            for one, other in like.pairs
            for p, q in ((one, other), (other, one))
        }
        return TriedEdges({id: (f"panel-{id[0]}", line) for id, line in self.edges.items()}, mirrors)

    def labels(self) -> list[Label]:
        """Each edge's name inside it, and, where it meets one, the other's."""
        with_ = {e: verbatim(other) for _, m in self.made for e, other in ((m.a, m.b), (m.b, m.a))}
        if self.collar:
            with_ |= {part.edge: COLLAR for part in self.collar.neck.parts}
        rows = {e for k, m in self.made if k in self.rows for e in (m.a, m.b)}
        return [
            label
            for letter, shape in self.panels.items()
            for label in _names(letter, shape, tuple((id, with_.get(id), id in rows) for id in shape.edges))
        ]
