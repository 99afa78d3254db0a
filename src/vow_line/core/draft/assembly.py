"""Pieces joined by their edges, and what follows from that: seams and their stacks, glue, what comes before what, which edges
are finished when.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from ..curve import Line, frozen, run_like
from ..errors import AssemblyError
from ..memory import cached_property
from .joins import (
    Belt,
    Boxed,
    Buckle,
    Closes,
    Fastener,
    Goes,
    Join,
    Keeps,
    Lace,
    Layer,
    Leaved,
    Lies,
    Loops,
    Pocket,
    Ring,
    Round,
    Seat,
    Shell,
    Turn,
)
from .pieces import SEEN_TO, Area, Edge, Piece
from .seam_line import On, SeamLine, seam_of

RIVET_POST_OVER_MM = 3.0  # what a rivet's post needs beyond the stack (common practice)
CLENCH_MM = 3.0  # a tack goes so far through, 3 to 4 mm, to be clenched (common practice)
TACKS_MM = (10.0, 13.0, 16.0, 20.0, 25.0, 30.0, 35.0, 40.0)  # as they are sold (from memory)


@dataclass(frozen=True, slots=True)
class Finish:
    """When an edge is finished: early, because something later closes it in; with a join; or never. In so many plies."""

    when: Literal["early", "with", "never"]
    join: str = ""
    plies: int = 1


EARLY, NEVER = Finish("early"), Finish("never")


@dataclass(frozen=True, eq=False)
class Assembly:
    """Pieces, their joins and fasteners, the shells they make, where the body lies on them, and what they hang by.

    Raises AssemblyError where a join names nothing, an edge is joined twice, an edge is neither joined nor open, or the edges
    of a piece do not tile its rings.
    """

    pieces: tuple[Piece, ...]
    joins: tuple[Join, ...] = ()
    seats: tuple[Seat, ...] = ()
    fasteners: tuple[Fastener, ...] = ()
    shells: tuple[Shell, ...] = ()
    lies: tuple[Lies, ...] = ()
    straps: tuple[Goes, ...] = ()
    turns: tuple[Turn, ...] = ()
    closes_round: tuple[Closes, ...] = ()
    keeps: tuple[Keeps, ...] = ()
    laces: tuple[Lace, ...] = ()
    buckles: tuple[Buckle, ...] = ()
    loops: tuple[Loops, ...] = ()
    pockets: tuple[Pocket, ...] = ()
    boxed: tuple[Boxed, ...] = ()
    leaved: tuple[Leaved, ...] = ()
    belts: tuple[Belt, ...] = ()
    rings: tuple[Ring, ...] = ()
    rounds: tuple[Round, ...] = ()

    def __post_init__(self) -> None:
        by_id = {p.id: p for p in self.pieces}
        if len(by_id) < len(self.pieces):
            raise AssemblyError("Two pieces have one id.", ", ".join(p.id for p in self.pieces))
        parts = {(p.id, e.id) for p in self.pieces for e in p.edges}
        seats = {(s.piece, s.id) for s in self.seats}
        joined: dict[tuple[str, str], str] = {}
        for join in self.joins:
            for layer in join.layers:
                place = (layer.piece, layer.part)
                if layer.piece not in by_id or (layer.part and place not in parts and place not in seats):
                    raise AssemblyError(
                        f"The join {join.id} names {layer.piece}/{layer.part}, which is not there.", join.id
                    )
                if place in parts and joined.setdefault(place, join.id) != join.id:
                    raise AssemblyError(f"{layer.piece}/{layer.part} is joined twice.", f"{joined[place]}, {join.id}")
        for piece in self.pieces:
            for edge in piece.edges:
                if bool(edge.open) == ((piece.id, edge.id) in joined):
                    said = "both joined and open" if edge.open else "neither joined nor open"
                    raise AssemblyError(f"The edge {piece.id}/{edge.id} is {said}.", piece.id)
            _tiled(piece)
        punches = {(p.id, k.id) for p in self.pieces for k in p.punches}
        for fastener in self.fasteners:
            for through in fastener.through:
                if through not in punches:
                    raise AssemblyError(
                        f"The {fastener.id} goes through {'/'.join(through)}, which is not there.", fastener.id
                    )
        shells = {"", "body", *(s.id for s in self.shells)}
        for shell in self.shells:
            if shell.holds not in shells or not by_id.keys() >= set(shell.pieces):
                raise AssemblyError(f"The shell {shell.id} names what is not there.", shell.id)
        for lies in self.lies:
            if lies.piece not in by_id or lies.shell not in shells:
                raise AssemblyError(f"Something lies on {lies.piece} of {lies.shell}, which is not there.", lies.piece)

    @cached_property
    def _by_id(self) -> Mapping[str, Piece]:
        return {p.id: p for p in self.pieces}

    def piece(self, id: str) -> Piece:
        """The piece of that id. Raises KeyError."""
        return self._by_id[id]

    def join(self, id: str) -> Join:
        """The join of that id. Raises KeyError."""
        return {j.id: j for j in self.joins}[id]

    def line_of(self, layer: Layer) -> Line:
        """The line or ring of a layer on its piece."""
        piece = self._by_id[layer.piece]
        if not layer.part:
            return piece.outline
        lines = [e.line for e in piece.edges if e.id == layer.part]
        return lines[0] if lines else self._seats[layer.piece, layer.part].line

    @cached_property
    def _seats(self) -> Mapping[tuple[str, str], Seat]:
        return {(s.piece, s.id): s for s in self.seats}

    def is_edge(self, layer: Layer) -> bool:
        """Whether the layer is an edge of its piece."""
        return bool(layer.part) and (layer.piece, layer.part) not in self._seats

    @cached_property
    def joined(self) -> Mapping[tuple[str, str], Join]:
        """The join that takes each edge, by piece and edge."""
        return {(x.piece, x.part): join for join in self.joins for x in join.layers if self.is_edge(x)}

    @cached_property
    def seams(self) -> tuple[SeamLine, ...]:
        """The joins that are sewn, as lines with what lies under them, in the order in which they can be."""
        sewn = {join.id: self._seam(join) for join in self.joins if join.sewing is not None}
        return tuple(sewn[id] for id in self.order if id in sewn)

    def _seam(self, join: Join) -> SeamLine:
        on = tuple(
            On(
                piece.thickness_mm, piece.skives,
                None if layer.turn is not None or layer.along is not None else self.line_of(layer),
                piece.outline if layer.between and (layer.from_mm > 0 or layer.turn is not None) else None,
            )
            for layer in join.layers for piece in (self._by_id[layer.piece],)
        )  # fmt: skip
        over = tuple(
            (k, self._by_id[lying.piece], seat)
            for k, layer in enumerate(join.layers) if not layer.between
            for seat, lying in self._lying.get(layer.piece, ()) if all(x.piece != lying.piece for x in join.layers)
        )  # fmt: skip
        return seam_of(join, on, over)

    @cached_property
    def _lying(self) -> Mapping[str, tuple[tuple[Seat, Layer], ...]]:
        """Whole pieces that lie glued on the seats of each piece."""
        on_piece: dict[str, tuple[tuple[Seat, Layer], ...]] = {}
        for join in self.joins:
            whole = [x for x in join.layers if not x.part]
            for layer in join.layers:
                seat = self._seats.get((layer.piece, layer.part))
                if seat is not None and whole and join.shape == "glued":
                    on_piece[layer.piece] = (*on_piece.get(layer.piece, ()), (seat, whole[0]))
        return on_piece

    # what comes before what

    def closes(self, shell: Shell) -> tuple[Join, ...]:
        """The joins that make the shell: those in which two places of its pieces meet, in the order they were given."""
        own = set(shell.pieces)
        return tuple(
            j for j in self.joins if sum(bool(x.part) and not x.between and x.piece in own for x in j.layers) > 1
        )

    @cached_property
    def needs(self) -> Mapping[str, tuple[str, ...]]:
        """What must be joined or set before each join or fastener: what sits on the pieces of a shell before it is closed; what
        the shell holds; of the joins that close it, each after the one before. What sits on a piece that is joined to itself,
        as a loop or a ring is, comes before that: no clam reaches it afterwards.
        """
        first: dict[str, list[str]] = {id: [] for id in (*(j.id for j in self.joins), *(f.id for f in self.fasteners))}
        made = {shell.id: self.closes(shell) for shell in self.shells}
        for shell in self.shells:
            own = set(shell.pieces)
            closing = {j.id for j in made[shell.id]}
            sits = [
                x.id for x in self.joins
                if x.id not in closing and not x.round and any(not self.is_edge(k) and k.piece in own for k in x.layers)
            ]  # fmt: skip
            sits += [f.id for f in self.fasteners if any(piece in own for piece, _ in f.through)]
            inner = [j.id for j in made.get(shell.holds, ())]
            before: list[str] = []
            for join in made[shell.id]:
                first[join.id] += [*sits, *inner, *before]
                before.append(join.id)
            for join in self.joins:
                if join.round and join.id not in closing and any(x.piece in own for x in join.layers):
                    first[join.id] += before
        for join in self.joins:
            ring = {
                x.piece
                for k, x in enumerate(join.layers)
                if x.piece in {y.piece for y in join.layers[:k] if not y.between}
            }
            first[join.id] += [
                x.id for x in self.joins
                if x is not join and not x.round
                and any(not self.is_edge(k) and k.part and k.piece in ring for k in x.layers)
                and not ring & {k.piece for k in x.layers if self.is_edge(k) or not k.part}
            ]  # fmt: skip
        return {id: tuple(dict.fromkeys(before)) for id, before in first.items()}

    @cached_property
    def order(self) -> tuple[str, ...]:
        """Joins and fasteners, each after what it needs, otherwise as given. Raises AssemblyError for a circle."""
        waiting, done = [*(j.id for j in self.joins), *(f.id for f in self.fasteners)], dict[str, None]()
        while waiting:
            ready = next((id for id in waiting if all(n in done for n in self.needs[id])), None)
            if ready is None:
                raise AssemblyError(f"These wait for each other: {', '.join(waiting)}.", waiting[0])
            waiting.remove(ready)
            done[ready] = None
        return tuple(done)

    # edges and glue

    def finish(self, piece: Piece, edge: Edge) -> Finish:
        """When an edge is finished, and in how many plies."""
        if piece.stock.sort != "leather" or edge.open in SEEN_TO or edge.bound or edge.grown:
            return NEVER
        join = self.joined.get((piece.id, edge.id))
        if join is None or join.shape == "box" or any(not self.is_edge(x) for x in join.layers):
            return EARLY
        if join.shape in ("butt", "scarf") or join.turned:
            return NEVER
        return Finish("with", join.id, sum(x.count for x in join.layers))

    def finished_with(self, join: str) -> tuple[tuple[Piece, Edge], ...]:
        """The edges that are finished together when a join is made."""
        return tuple((p, e) for p in self.pieces for e in p.edges if self.finish(p, e).join == join)

    def stack_mm(self, fastener: Fastener) -> float:
        """What a fastener goes through."""
        thick = [self._by_id[piece].thickness_mm for piece, _ in fastener.through]
        return max(thick) if fastener.each else sum(thick)

    def post_mm(self, fastener: Fastener) -> float:
        """How long its post must be: a rivet's is the stack and 3 mm, a stud's is sold for the stack it holds; of tacks the
        shortest that is sold and goes 3 mm through, to be clenched.
        """
        stack = self.stack_mm(fastener)
        if fastener.sort == "tack":
            return tack_mm(stack)
        return stack + (RIVET_POST_OVER_MM if fastener.sort == "rivet" else 0.0)

    @cached_property
    def glue(self) -> Mapping[str, tuple[Area, ...]]:
        """Where each piece is glued before it is sewn: where what lies between comes to lie, else from edge to thread."""
        areas: dict[str, tuple[Area, ...]] = {}
        for seam in self.seams:
            join = self.join(seam.id)
            if join.shape != "line" or join.turned or seam.sewing.through_mm > 0:
                continue
            welt = next((k for k, x in enumerate(join.layers) if x.between and self.is_edge(x)), None)
            for k, layer in enumerate(join.layers):
                if layer.between:
                    continue
                placed = seam.placed[k]
                if welt is not None and placed.along is None:
                    ring = placed.onto(
                        seam.placed[welt].back(self._by_id[join.layers[welt].piece].outline), np.zeros(0)
                    )
                elif self.is_edge(layer):
                    ring = np.concatenate([run_like(self.line_of(layer), line := self._sewn_on(seam, k)), line[::-1]])
                else:
                    continue
                areas[layer.piece] = (*areas.get(layer.piece, ()), Area(layer.title, frozen(ring)))
        return areas

    def _sewn_on(self, seam: SeamLine, k: int) -> Line:
        """The line that is sewn, on the k-th piece it goes through."""
        along = seam.placed[k].along
        return seam.placed[k].onto(seam.line, np.zeros(0)) if along is None else along

    def with_more(self, pieces: Iterable[Piece], joins: Iterable[Join] = (), seats: Iterable[Seat] = ()) -> "Assembly":
        """The assembly with these pieces in the place of those of their id, or besides, and with these joins and seats more."""
        new = {p.id: p for p in pieces}
        kept = tuple(new.pop(p.id, p) for p in self.pieces)
        return replace(self, pieces=(*kept, *new.values()), joins=(*self.joins, *joins), seats=(*self.seats, *seats))


def tack_mm(stack_mm: float) -> float:
    """The shortest tack sold that goes far enough through a stack to be clenched; how long it must be where none does."""
    wanted = stack_mm + CLENCH_MM
    return next((long for long in TACKS_MM if long >= wanted - 1e-9), wanted)


def _tiled(piece: Piece) -> None:
    """Raises AssemblyError where the edges of a piece are not its rings."""
    for number, ring in enumerate((piece.outline, *piece.slots)):
        lines = [e.line[:-1] for e in piece.edges if e.ring == number]
        if b"".join(line.tobytes() for line in lines) == ring.tobytes():
            continue  # four times as fast as comparing numbers, and all but always the end of it
        tiles = np.concatenate(lines) if lines else np.zeros((0, 2))
        if tiles.shape != ring.shape or not np.array_equal(tiles, ring):
            raise AssemblyError(f"The edges of {piece.id} do not tile ring {number} of it.", piece.id)
