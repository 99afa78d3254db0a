"""Pieces joined by their edges, and what follows from that: seams and their stacks, glue, what comes before what, which edges
are finished when.

A *layer* of a join is an edge of a piece, a seat on its face, or the whole of a piece that lies there. Layers are given from
the face the maker sees to the other. A *shell* is a surface that pieces make together: a pocket, a wrap; what is left of their
edges when its joins are made is its mouths.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from typing import Literal

import numpy as np

from ..curve import Line, Values, arc_length, extended, frozen, walk
from ..errors import AssemblyError
from ..reckoning import Said
from .pieces import Area, Edge, Piece, Skive

Shape = Literal["line", "box", "butt"]
JoinShape = Literal["line", "box", "butt", "riveted", "glued", "scarf"]

AT = np.linspace(0.0, 1.0, 17)  # places along two edges by which one is laid on the other, as shares
RIVET_POST_OVER_MM = 3.0  # what a rivet's post needs beyond the stack (common practice)
STILL = frozen(np.eye(2))


@dataclass(frozen=True, slots=True, eq=False)
class Seat:
    """A place on the face of a piece where another lies or is sewn: a closed ring, or a line."""

    id: str
    piece: str
    line: Line


@dataclass(frozen=True, slots=True, eq=False)
class Layer:
    """One layer of a join: an edge or a seat of a piece, or, where `part` is empty, the whole piece.

    A layer `between` others lies inside; its edge begins `from_mm` along the first layer's, and runs with it. An edge of the
    surface runs against the first layer's, since both are drawn from outside. Where an edge lies follows from its line, unless
    `turn` and `shift` say how the first layer's frame is laid on this piece, or the seam has a line of its own on it, `along`.
    Holes beyond the line's ends are not in a layer that `ends` there.
    """

    piece: str
    part: str = ""
    title: str = ""
    count: int = 1
    between: bool = False
    from_mm: float = 0.0
    turn: Line | None = None
    shift: tuple[float, float] = (0.0, 0.0)
    along: Line | None = None
    ends: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class Sewing:
    """How a join is sewn, along a `line (n, 2)` in the frame of its first layer's piece: a ring where it is `closed` or a box;
    `margin_mm` from the edge.

    `keep_off` is a closed ring that no thread may come nearer to than `keep_off_mm` (the path of a cutting edge). `*_at` name
    the places in the job where margin, stack and that distance are chosen, `stack_title` what is chosen there. `begins` says
    where its first hole is. A seam that `carries` has a load hanging on it; where a layer `runs_on` beyond both ends of the
    line, a hole may lie out there.
    """

    line: Line
    margin_mm: float
    keep_off: Line | None = None
    keep_off_mm: float = 0.0
    edge_start: bool = True
    margin_at: str = ""
    stack_at: str = ""
    keep_off_at: str = ""
    begins: str = ""
    stack_title: str = "leather"
    closed: bool = False
    carries: bool = False
    runs_on: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class Join:
    """What meets, in which layers, and how it is held; `says` how it is done where it is not sewn. One that is made `round` the
    closed thing comes when that is closed.
    """

    id: str
    title: str
    shape: JoinShape
    layers: tuple[Layer, ...]
    sewing: Sewing | None = None
    says: Said | None = None
    round: bool = False


@dataclass(frozen=True, slots=True)
class Fastener:
    """A rivet or stud and the punches, as (piece, punch), that it goes through."""

    id: str
    title: str
    sort: Literal["rivet", "stud"]
    through: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class Shell:
    """A surface made of `pieces`; it `holds` the body, another shell by its id, or nothing. The way out is `along` its axis,
    `across` it, or there is none where it is `wrapped` round what it holds; `out` is its direction in the frame of the first.
    """

    id: str
    title: str
    pieces: tuple[str, ...]
    holds: str = "body"
    way: Literal["along", "across", "wrapped"] = "along"
    out: tuple[float, float] = (0.0, -1.0)


@dataclass(frozen=True, slots=True, eq=False)
class Lies:
    """Where the body, or what else a shell holds, lies on a flat piece of it: at each station `x_mm (n,)` between `p` and
    `q (n, 2)`. A `half` goes from the fold to a seam, a `face` from seam to seam, each over a `share` of what lies there is
    high; a `hollow` is sunk into the piece; a leather `round` it goes from edge to edge, over corners rounded by a share
    `rounded` of half the thickness, and is drawn together by `stretch`. Beyond `loose_mm` of room it is too loose.
    """

    shell: str
    piece: str
    how: Literal["half", "face", "hollow", "round"]
    x_mm: Values
    p: Line
    q: Line
    share: float = 0.5
    rounded: float = 0.0
    stretch: float = 0.0
    loose_mm: float | None = None


@dataclass(frozen=True, slots=True, eq=False)
class Goes:
    """A strap that goes from one of its holes to another `round` the body: a handle `at_mm` from its guard, by half its girth,
    or the back of a tool, straight away from the mouth.
    """

    piece: str
    holes: tuple[str, str]
    ends: tuple[tuple[str, str], tuple[str, str]]
    round: Literal["handle", "back"]
    at_mm: float = 0.0


@dataclass(frozen=True, slots=True, eq=False)
class Turn:
    """A piece turned round a bar between two of its folds, by their numbers."""

    piece: str
    folds: tuple[int, int]


@dataclass(frozen=True, slots=True, eq=False)
class Placed:
    """Where a seam's frame lies on a piece: point → point @ turn + shift.

    Where the piece has a line of its own, longer or shorter, `along`, the holes lie at the same shares of it instead; that of
    a closed seam goes all the way round, to its own first point or to where it will meet it.
    A piece that `ends` where the line does has none of the holes beyond, one that lies only `within` a ring none outside that.
    """

    piece: str
    turn: Line = field(default_factory=lambda: STILL)
    shift: tuple[float, float] = (0.0, 0.0)
    along: Line | None = None
    ends: bool = False
    within: Line | None = None

    def onto(self, points: Line, shares: Values) -> Line:
        """The seam's points `(n, 2)`, which lie at `shares (n,)` of its line, on this piece."""
        if self.along is not None:
            long = float(arc_length(self.along)[-1])
            past = max(-float(shares.min(initial=0.0)), float(shares.max(initial=1.0)) - 1.0, 0.0) * long
            return (
                walk(extended(self.along, past, past), shares * long + past)
                if past
                else walk(self.along, shares * long)
            )
        return points @ self.turn + np.array(self.shift)

    def back(self, points: Line) -> Line:
        """Points of this piece in the seam's frame; not where it has a line of its own."""
        return (points - np.array(self.shift)) @ self.turn.T


@dataclass(frozen=True, slots=True, eq=False)
class Ply:
    """One layer under a seam, on the piece that the seam is placed on as number `on`: its thickness, less what is skived."""

    title: str
    thickness_mm: float
    on: int
    skives: tuple[Skive, ...] = ()

    def under(self, points: Line) -> Values:
        """Thickness `(n,)` at points of its piece."""
        thick = np.full(len(points), self.thickness_mm)
        for skive in self.skives:
            thick = np.minimum(thick, skive.at(points))
        return thick


@dataclass(frozen=True, slots=True, eq=False)
class SeamLine:
    """A line to be sewn, as it follows from a join: a line sewn once from end to end, a box with a cross whose ring is `line`,
    or two edges that butt, `line` being the holes' line of the first.

    `placed[0]` is the piece whose frame `line` is in.
    """

    id: str
    title: str
    line: Line
    plies: tuple[Ply, ...]
    placed: tuple[Placed, ...]
    shape: Shape
    sewing: Sewing

    @property
    def margin_mm(self) -> float:
        """From the edge to the line."""
        return self.sewing.margin_mm

    @property
    def closed(self) -> bool:
        """Whether it ends where it begins."""
        return self.sewing.closed

    @property
    def runs_on(self) -> bool:
        """Whether a layer goes on beyond both its ends."""
        return self.sewing.runs_on


@dataclass(frozen=True, slots=True)
class Finish:
    """When an edge is finished: early, because something later closes it in; with a join; or never. In so many plies."""

    when: Literal["early", "with", "never"]
    join: str = ""
    plies: int = 1


EARLY, NEVER = Finish("early"), Finish("never")


@dataclass(frozen=True, eq=False)
class Assembly:
    """Pieces, their joins and fasteners, the shells they make, and where the body lies on them.

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
        found = [e.line for e in piece.edges if e.id == layer.part]
        return found[0] if found else self._seats[layer.piece, layer.part].line

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
            _On(
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
        return _seam_of(join, on, over)

    @cached_property
    def _lying(self) -> Mapping[str, tuple[tuple[Seat, Layer], ...]]:
        """Whole pieces that lie glued on the seats of each piece."""
        found: dict[str, tuple[tuple[Seat, Layer], ...]] = {}
        for join in self.joins:
            whole = [x for x in join.layers if not x.part]
            for layer in join.layers:
                seat = self._seats.get((layer.piece, layer.part))
                if seat is not None and whole and join.shape == "glued":
                    found[layer.piece] = (*found.get(layer.piece, ()), (seat, whole[0]))
        return found

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
        the shell holds; of the joins that close it, each after the one before.
        """
        found: dict[str, list[str]] = {id: [] for id in (*(j.id for j in self.joins), *(f.id for f in self.fasteners))}
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
                found[join.id] += [*sits, *inner, *before]
                before.append(join.id)
            for join in self.joins:
                if join.round and join.id not in closing and any(x.piece in own for x in join.layers):
                    found[join.id] += before
        return {id: tuple(dict.fromkeys(before)) for id, before in found.items()}

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
        if piece.stock.sort != "leather" or edge.open in ("turn", "cut-out"):
            return NEVER
        join = self.joined.get((piece.id, edge.id))
        if join is None or join.shape == "box" or any(not self.is_edge(x) for x in join.layers):
            return EARLY
        if join.shape in ("butt", "scarf"):
            return NEVER
        return Finish("with", join.id, sum(x.count for x in join.layers))

    def finished_with(self, join: str) -> tuple[tuple[Piece, Edge], ...]:
        """The edges that are finished together when a join is made."""
        return tuple((p, e) for p in self.pieces for e in p.edges if self.finish(p, e).join == join)

    def stack_mm(self, fastener: Fastener) -> float:
        """What a fastener goes through."""
        return sum(self._by_id[piece].thickness_mm for piece, _ in fastener.through)

    def post_mm(self, fastener: Fastener) -> float:
        """How long its post must be: a rivet's is the stack and 3 mm, a stud's is sold for the stack it holds."""
        return self.stack_mm(fastener) + (RIVET_POST_OVER_MM if fastener.sort == "rivet" else 0.0)

    @cached_property
    def glue(self) -> Mapping[str, tuple[Area, ...]]:
        """Where each piece is glued before it is sewn: where what lies between comes to lie, else from edge to thread."""
        found: dict[str, tuple[Area, ...]] = {}
        for seam in self.seams:
            join = self.join(seam.id)
            if join.shape != "line":
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
                    ring = np.concatenate([_along(self.line_of(layer), line := self._sewn_on(seam, k)), line[::-1]])
                else:
                    continue
                found[layer.piece] = (*found.get(layer.piece, ()), Area(layer.title, frozen(ring)))
        return found

    def _sewn_on(self, seam: SeamLine, k: int) -> Line:
        """The line that is sewn, on the k-th piece it goes through."""
        along = seam.placed[k].along
        return seam.placed[k].onto(seam.line, np.zeros(0)) if along is None else along

    def with_more(self, pieces: Iterable[Piece], joins: Iterable[Join] = (), seats: Iterable[Seat] = ()) -> "Assembly":
        """The assembly with these pieces in the place of those of their id, or besides, and with these joins and seats more."""
        new = {p.id: p for p in pieces}
        kept = tuple(new.pop(p.id, p) for p in self.pieces)
        return replace(self, pieces=(*kept, *new.values()), joins=(*self.joins, *joins), seats=(*self.seats, *seats))


def _along(edge: Line, line: Line) -> Line:
    """The edge in the sense in which a line beside it runs."""
    same = np.hypot(*(edge[0] - line[0])) + np.hypot(*(edge[-1] - line[-1]))
    return edge if same <= np.hypot(*(edge[0] - line[-1])) + np.hypot(*(edge[-1] - line[0])) else edge[::-1]


def _tiled(piece: Piece) -> None:
    """Raises AssemblyError where the edges of a piece are not its rings."""
    for number, ring in enumerate((piece.outline, *piece.slots)):
        lines = [e.line[:-1] for e in piece.edges if e.ring == number]
        tiles = np.concatenate(lines) if lines else np.zeros((0, 2))
        if tiles.shape != ring.shape or not np.array_equal(tiles, ring):
            raise AssemblyError(f"The edges of {piece.id} do not tile ring {number} of it.", piece.id)


@dataclass(frozen=True, slots=True)
class _On:
    """What a layer's piece has to do with a seam: its thickness, its skives, the edge by which the seam is placed on it, the
    ring within which it is there at all. Where these are as they were, so is the seam.
    """

    thickness_mm: float
    skives: tuple[Skive, ...]
    edge: Line | None
    ring: Line | None

    def __hash__(self) -> int:
        return hash((self.thickness_mm, self.skives, id(self.edge), id(self.ring)))

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, _On)
            and (self.thickness_mm, self.skives) == (other.thickness_mm, other.skives)
            and self.edge is other.edge
            and self.ring is other.ring
        )


@lru_cache(32)
def _seam_of(join: Join, on: tuple[_On, ...], over: tuple[tuple[int, Piece, Seat], ...]) -> SeamLine:
    """The seam of a join, remembered: an edit of the pattern leaves some joins as they were."""
    assert join.sewing is not None
    first = on[0].edge
    placed: list[Placed] = []
    plies: list[Ply] = []
    for k, (layer, what) in enumerate(zip(join.layers, on, strict=True)):
        if layer.along is not None:
            placed.append(Placed(layer.piece, along=layer.along, ends=layer.ends))
        elif layer.turn is not None or k == 0:
            turn = STILL if layer.turn is None else layer.turn
            placed.append(Placed(layer.piece, turn, layer.shift, ends=layer.ends, within=what.ring))
        else:
            assert first is not None
            assert what.edge is not None
            turn, shift = laid_on(first, what.edge, layer.from_mm, flipped=not layer.between)
            placed.append(Placed(layer.piece, turn, shift, ends=layer.ends, within=what.ring))
        titles = [f"{layer.title} {n + 1}" if layer.count > 1 else layer.title for n in range(layer.count)]
        if join.shape != "butt" or k == 0:
            plies += [Ply(title, what.thickness_mm, k, what.skives) for title in titles]
    for k, piece, seat in over:
        under = placed[k]
        placed.append(replace(under, piece=piece.id, within=seat.line))
        plies.append(Ply(piece.title, piece.thickness_mm, len(placed) - 1, piece.skives))
    return SeamLine(join.id, join.title, join.sewing.line, tuple(plies), tuple(placed), _shape(join), join.sewing)


def _shape(join: Join) -> Shape:
    return join.shape if join.shape in ("line", "box", "butt") else "line"


def laid_on(first: Line, edge: Line, from_mm: float = 0.0, *, flipped: bool) -> tuple[Line, tuple[float, float]]:
    """The plane motion point → point @ turn + shift that lays an edge's line, from so far along it, on another, as well as may
    be: the least squares over places as far along either. `flipped`: the one runs against the other, its piece turned over.
    """
    a, b = arc_length(first), arc_length(edge)
    s = max(min(float(a[-1]) - from_mm, float(b[-1])), 0.0) * AT
    t = float(b[-1]) - s if flipped else s
    # as complex numbers the least squares has a closed form: the angle of the sum of q times the conjugate of p
    p = np.interp(from_mm + s, a, first[:, 0]) + 1j * np.interp(from_mm + s, a, first[:, 1])
    q = np.interp(t, b, edge[:, 0]) + 1j * np.interp(t, b, edge[:, 1])
    if flipped:
        p = -p.conj()
    pc, qc = p.mean(), q.mean()
    along = np.vdot(p - pc, q - qc)
    along = along / max(abs(along), 1e-12)
    c, d = round(float(along.real), 12) + 0.0, round(float(along.imag), 12) + 0.0
    shift = qc - pc * complex(c, d)
    turn = [[-c, -d], [-d, c]] if flipped else [[c, d], [-d, c]]
    return frozen(turn), (round(float(shift.real), 9) + 0.0, round(float(shift.imag), 9) + 0.0)
