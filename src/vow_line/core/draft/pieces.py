"""What drafting gives: flat pieces with named edges, and the lines along which they will be sewn.

Piece coordinates are flat and true to scale, in mm, right and down, seen from the side given by `side_up`. A seam lies in
the frame of one piece and is *placed* on each piece it goes through by a plane motion, so that the holes of partner edges
are the same holes.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

import numpy as np

from ..curve import Line, Values, arc_length, extended, frozen, walk
from ..drawing import Callout, Label, Mark
from ..finding import Finding
from ..measure.trial import Side
from ..reckoning import Reckoning, Said
from .search import Way

Shape = Literal["line", "box", "butt"]
EdgeKind = Literal["fold", "seam", "mouth", "free"]


@dataclass(frozen=True, slots=True, eq=False)
class Edge:
    """A named stretch of a piece's boundary. `when` says whether it is finished early, because something later closes
    it in, with the sewn seam, or never (inside a turn, under glue).
    """

    name: str
    kind: EdgeKind
    line: Line
    when: Literal["early", "last", "never"] = "last"
    plies: int = 1


@dataclass(frozen=True, slots=True, eq=False)
class Area:
    """A skived, glued or marked area: closed ring, and for a skive the thickness at its thick and thin side."""

    name: str
    ring: Line
    from_mm: float = 0.0
    to_mm: float = 0.0


@dataclass(frozen=True, slots=True, eq=False)
class Punch:
    """A round hole through a piece."""

    name: str
    centre: tuple[float, float]
    diameter_mm: float


@dataclass(frozen=True, slots=True)
class Craft:
    """Work on a piece by itself, before anything is joined to it."""

    name: str
    says: Said


@dataclass(frozen=True, slots=True, eq=False)
class Piece:
    """A flat piece of leather: its outline as a closed ring `(n, 2)` (first point not repeated) and all that is marked
    on it. `turns` says whether the best way of the leather must run along it; `stock` is what it is cut from; `slots` are cut
    out of it; `ornament` is drawn on it besides, and takes the work in `crafts`; `fixed` says how it is fixed where no seam
    goes through it, `first` how where that comes before any seam.
    """

    name: str
    outline: Line
    thickness_mm: float
    edges: tuple[Edge, ...]
    folds: tuple[Line, ...] = ()
    skives: tuple[Area, ...] = ()
    glue: tuple[Area, ...] = ()
    punches: tuple[Punch, ...] = ()
    slots: tuple[Line, ...] = ()
    count: int = 1
    mirrored: bool = False
    stock: str = "leather"
    side_up: Literal["grain", "flesh"] = "grain"
    turns: Literal["along", "any"] = "any"
    fixed: str = ""
    first: str = ""
    ornament: tuple[Mark, ...] = ()
    crafts: tuple[Craft, ...] = ()

    @property
    def title(self) -> str:
        """Its name, how many, and which way."""
        many = f"{self.name}, {self.count} of it" if self.count > 1 else self.name
        return f"{many}, mirrored, {self.side_up} up" if self.mirrored else many

    @property
    def area_mm2(self) -> float:
        """Area of one, by the shoelace formula."""
        x, y = self.outline.T
        return float(abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2)


@dataclass(frozen=True, slots=True, eq=False)
class Placed:
    """Where a seam's frame lies on a piece: point → point @ turn + shift.

    Where the piece has a line of its own, longer or shorter, `along`, the holes lie at the same shares of it instead. A
    piece that `ends` where the line does has none of the holes beyond.
    """

    piece: str
    turn: Line = field(default_factory=lambda: frozen(np.eye(2)))
    shift: tuple[float, float] = (0.0, 0.0)
    along: Line | None = None
    ends: bool = False

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


@dataclass(frozen=True, slots=True, eq=False)
class Ply:
    """One layer under a seam: its thickness along the seam frame's second coordinate, `(m,)` each, linear between; only
    `within` a ring on the piece that the seam is placed on as number `on`, where there is one.
    """

    name: str
    at_mm: Values
    thickness_mm: Values
    within: Line | None = None
    on: int = 0

    def under(self, points: Line) -> Values:
        """Thickness `(n,)` at the points."""
        return np.interp(points[:, 1], self.at_mm, self.thickness_mm)


def even_ply(name: str, thickness_mm: float) -> Ply:
    """A layer of one thickness throughout."""
    return Ply(name, frozen([0.0, 1.0]), frozen([thickness_mm, thickness_mm]))


@dataclass(frozen=True, slots=True, eq=False)
class SeamLine:
    """A line to be sewn. `shape` is a line sewn once from end to end, a box with a cross whose ring is `line`, or two edges
    that butt, `line` being the holes' line of the left one.

    `placed[0]` is the piece whose frame `line` is in. `keep_off` is a closed ring that no thread may come nearer to
    than `keep_off_mm` (the path of a cutting edge). `*_at` name the places in the job where margin, stack and that distance
    are chosen, `stack_name` what is chosen there. `closes` names what must be done before this is sewn, `begins` where its
    first hole is. A `closed` line ends where
    it begins. A seam that `carries` has a load hanging on it; where a
    layer `runs_on` beyond both ends of the line, a hole may lie out there.
    """

    name: str
    line: Line
    plies: tuple[Ply, ...]
    placed: tuple[Placed, ...]
    margin_mm: float
    shape: Shape = "line"
    keep_off: Line | None = None
    keep_off_mm: float = 0.0
    closes: tuple[str, ...] = ()
    edge_start: bool = True
    margin_at: str = ""
    stack_at: str = ""
    keep_off_at: str = ""
    begins: str = ""
    stack_name: str = "leather"
    closed: bool = False
    carries: bool = False
    runs_on: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class Section:
    """The closed thing cut across at one station, for looking at: what draws its marks in mm, what it is and what was measured
    there.
    """

    at_mm: float
    draw: Callable[[], tuple[Mark, ...]]
    title: Said
    says: Said

    @property
    def marks(self) -> tuple[Mark, ...]:
        """The drawing; it is made when it is looked at."""
        return self.draw()


@dataclass(frozen=True, slots=True)
class Fastener:
    """A rivet, stud or eyelet: where it sits on a piece, and the stack it goes through, mm."""

    name: str
    piece: str
    centre: tuple[float, float]
    stack_mm: float
    post_mm: float


@dataclass(frozen=True, slots=True, eq=False)
class WayOut:
    """How the thing comes out: over `long_mm`, its outline `at(mm)` when drawn so far, in the frame of the first piece.

    `least_mm` is the least clearance on the way (negative where it does not pass), `drawn_mm` how far it is then drawn.
    """

    long_mm: float
    at: Callable[[float], Line]
    least_mm: float
    drawn_mm: float


def _fine(_: Way) -> Finding | None:
    return None


@dataclass(frozen=True, eq=False)
class Draft:
    """Everything that follows from a body and the choices for one kind of piece; `tell` gives its sums when asked.

    The board shows the pieces named in `shown`, marks and labels lie in the frame of the first. `search(progress=...)` looks
    for a way out that may shift and turn, it takes its time; `judge` finds what is wrong with the way it found.
    `station_of(u, v)` says which station and side of the thing lies at a place of the first piece.
    """

    pieces: tuple[Piece, ...]
    seams: tuple[SeamLine, ...]
    marks: tuple[Mark, ...]
    callouts: tuple[Callout, ...]
    tell: Callable[[], tuple[Reckoning, ...]]
    findings: tuple[Finding, ...]
    shown: tuple[str, ...]
    labels: tuple[Label, ...] = ()
    way_out: WayOut | None = None
    section: Callable[[float], Section] | None = None
    search: Callable[..., Way | None] | None = None
    judge: Callable[[Way], Finding | None] = _fine
    station_of: Callable[[float, float], tuple[float, Side]] | None = None
    fasteners: tuple[Fastener, ...] = ()
    wet: bool = False

    @cached_property
    def reckonings(self) -> tuple[Reckoning, ...]:
        """The sums."""
        return self.tell()

    @property
    def thing(self) -> Line | None:
        """The thing in its place, in the frame of the first piece."""
        return self.way_out.at(0.0) if self.way_out else None

    def piece(self, name: str) -> Piece:
        """The piece of that name. Raises KeyError."""
        for piece in self.pieces:
            if piece.name == name:
                return piece
        raise KeyError(name)
