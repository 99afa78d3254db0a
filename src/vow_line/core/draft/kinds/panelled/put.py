"""Panels put together by their choices."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np
import shapely

from ....curve import Line
from ....drawing import Label, Mark
from ....measure import PanelsBody
from ....measure.body import Shape
from ....measure.hole_rows import HoleRow, hole_rows
from ....memory import cached_property
from ....texts import verbatim
from ...assembly import Assembly
from ...drafted import TriedEdges
from ...joins import Seat
from ...ornament import CLEAR_MM
from ...pieces import Piece
from . import checks
from .closed import Closed, closed
from .collar import COLLAR, Sewn, sewn_on
from .folded import Turn, turn_mm, turn_of
from .making import (
    ROUNDED_MM,
    Together,
    cut_of,
    held_along,
    kept_rows,
    lies_on,
    names,
    piece_of,
    rows_of,
    sewn_of,
    strip_of,
    together,
)
from .meets import (
    CLOSED,
    DRAWN,
    EDGE_ON_EDGE,
    FROM_CUT,
    LAPPED,
    LEAST_LONG_MM,
    SEWN,
    Meet,
    alike,
    differ,
    halved,
    long,
    standing,
)
from .outline import Cut

if TYPE_CHECKING:
    from .draft import Panelled


@dataclass(frozen=True, eq=False)
class Put:
    """Panels put together by their choices, in leather of `leather_mm`, some lined so `thick`, by their pieces' ids. What one
    of them or one meeting gives is remembered.
    """

    by: "Panelled"
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
        return [(k, m) for k, m in self.standing if self._held[k].least_mm >= LEAST_LONG_MM]

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

    @cached_property
    def _closed(self) -> list[Closed]:
        """What holds the edges together that are not sewn."""
        by = self.by
        return [
            closed(k, m, self._rows[k], by.in_mm, by.button_mm, by.high_mm, self.leather_mm)
            for k, m in self.made
            if k in self._rows
        ]

    @cached_property
    def assembly(self) -> Assembly:
        """The pieces and what holds them together."""
        sewn = [
            sewn_of(k, m.a, m.b, m.how, self.by.margin_mm, self._held[k], self.panels[m.b[0]], self.kept(m) is not None,
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
            tuple(fastener for held in self._closed for fastener in held.fasteners),
            laces=tuple(lace for held in self._closed for lace in held.laces),
            loops=tuple(loops for held in self._closed for loops in held.loops),
        )  # fmt: skip

    def _strips(self) -> Iterator[Piece]:
        """What binds the edges that are sewn edge on edge and bound."""
        for k, m in self.made:
            if m.how == "bound":
                line = self.along[k][0]
                reach = self.by.margin_mm + CLEAR_MM
                yield strip_of(k, m, long(self.edges[m.a]), long(line), reach, 2 * self.leather_mm, self.by.bind_mm)

    def closing_lines(self) -> Iterator[Mark]:
        """The lines that closures stand along, on both panels: they are lit together."""
        for k, meet in self.made:
            if meet.how in CLOSED:
                yield from held_along(k, meet, self._held[k])

    def differences(self) -> Iterator[Mark]:
        """How panels that are nearly each other's halves differ, laid on the other: where none is taken for both."""
        chosen = {frozenset((h.a, h.b)) for h in self.by.halves if h.keep != "neither"}
        for a, b, found in alike(self.body):
            if found.off_mm >= checks.SAME_MM and frozenset((a, b)) not in chosen:
                one, other = self.body.panels[a], self.body.panels[b]
                by = tuple(self.moved_mm.get(e, 0.0) for e in other.edges)
                yield from differ(a, b, one, other, self.cuts[b], by)

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
            for label in names(letter, shape, tuple((id, with_.get(id), id in rows) for id in shape.edges))
        ]
