"""A draft: the assembly that a body and the choices for one kind of piece give, how it is drawn, and what is said of it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
from shapely.geometry.base import BaseGeometry

from ..curve import Line
from ..drawing import Callout, Label, Mark
from ..finding import Finding
from ..measure.body import Side
from ..memory import cached_property
from ..reckoning import Reckoning
from ..texts import NOTHING, Said
from .assembly import Assembly
from .joins import Fastener
from .pieces import Piece
from .seam_line import SeamLine
from .search import Near, Way, near


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


@dataclass(frozen=True, slots=True, eq=False)
class WayOut:
    """How the thing comes out: over `long_mm`, its outline `at(mm)` when drawn so far, in the frame of the first piece.

    `least_mm` is the least clearance on the way (negative where it does not pass), `drawn_mm` how far it is then drawn. `past`
    gives the walls it must pass and what of it passes them, a ring `(n, 2)`, all the way in; it goes `along` a unit vector.
    """

    long_mm: float
    at: Callable[[float], Line]
    least_mm: float
    drawn_mm: float
    past: Callable[[], tuple[BaseGeometry, Line]] | None = None
    along: tuple[float, float] = (0.0, -1.0)

    def nearest(self, mm: float, way: Way | None = None) -> Near | None:
        """Where it comes nearest to its walls when it is drawn out so far, straight or by a way that was found; None where no
        walls are known.
        """
        if self.past is None:
            return None
        walls, ring = self.past()
        return near(ring + mm * np.array(self.along) if way is None else way.at(mm), walls)


def _fine(_: Way) -> Finding | None:
    return None


@dataclass(frozen=True, slots=True, eq=False)
class TriedEdges:
    """Edges that a mock-up is corrected at, by their names: of each the piece it is of and its line there; the one that is its
    mirror image, where there is one.
    """

    lines: Mapping[str, tuple[str, Line]]
    mirrors: Mapping[str, str]


@dataclass(frozen=True, slots=True, eq=False)
class Turned:
    """A piece wrapped again round what it is for, seen from the side: `draw(rad)`, turned by so much about u = 0, never farther
    from there than `half_mm`; and how it strains as it is wrapped, `strained()` on its pieces where they lie flat.
    """

    draw: Callable[[float], tuple[Mark, ...]]
    half_mm: float
    strained: Callable[[], tuple[Mark, ...]]


@dataclass(frozen=True, slots=True, eq=False)
class FromAbove:
    """Pieces as they go round the wearer, seen from above: `draw` gives what is drawn and said on it when it is looked at; what
    it is and what that tells.
    """

    draw: Callable[[], tuple[tuple[Mark, ...], tuple[Label, ...]]]
    title: Said
    says: Said


@dataclass(frozen=True, eq=False)
class Draft:
    """Everything that follows from a body and the choices for one kind of piece; `tell` gives its sums when asked, `find`
    what is wrong with it.

    The board shows the pieces named in `shown`, marks and labels lie in the frame of the first. `search(progress=...)`
    looks for a way out that may shift and turn, it takes its time; `judge` finds what is wrong with the way it found.
    `sentences` say what kind of piece it is, their slots the choices among the callouts; one whose slots are not all
    offered is not said. `station_of(u, v)` says which station and side of the thing lies at a place of the first piece,
    `edges_of()` at which edges it is tried instead. Where leather is worked to the thing, `closed()` gives the cut and the
    thread as they lie then, in the frame of the first; `turned` draws it wrapped again, `from_above()` how its pieces go
    round; `carried` says how it is worn and drawn. So many of it are made, `makes`: its pieces are counted for all of them.
    `outside` is the side that is shown. Put together for several wearers, `each` of them has a draft of its own.
    `lined(thick)` gives it anew with linings so thick under its pieces, by their ids, where those lie between it and what
    it goes round; `counted` are the pieces whose lining is in it, and those `around` go round something else.
    """

    assembly: Assembly
    marks: tuple[Mark, ...]
    callouts: tuple[Callout, ...]
    tell: Callable[[], tuple[Reckoning, ...]]
    find: Callable[[], tuple[Finding, ...]]
    shown: tuple[str, ...]
    labels: tuple[Label, ...] = ()
    way_out: WayOut | None = None
    section: Callable[[float], Section] | None = None
    search: Callable[..., Way | None] | None = None
    judge: Callable[[Way], Finding | None] = _fine
    station_of: Callable[[float, float], tuple[float, Side]] | None = None
    edges_of: Callable[[], TriedEdges] | None = None
    lined: Callable[[Mapping[str, float]], "Draft"] | None = None
    counted: frozenset[str] = frozenset()
    around: frozenset[str] = frozenset()
    wet: bool = False
    sentences: tuple[Said, ...] = ()
    closed: Callable[[], tuple[Line, Line]] | None = None
    turned: Turned | None = None
    from_above: Callable[[], FromAbove | None] | None = None
    carried: Said = NOTHING
    makes: int = 1
    outside: Literal["grain", "flesh"] = "grain"
    each: tuple["For", ...] = ()

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """The pieces of the assembly."""
        return self.assembly.pieces

    @property
    def seams(self) -> tuple[SeamLine, ...]:
        """The lines to be sewn, in order."""
        return self.assembly.seams

    @property
    def fasteners(self) -> tuple[Fastener, ...]:
        """Rivets and studs."""
        return self.assembly.fasteners

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """What is wrong with it, or doubtful."""
        return self.find()

    @cached_property
    def reckonings(self) -> tuple[Reckoning, ...]:
        """The sums."""
        return self.tell()

    @property
    def thing(self) -> Line | None:
        """The thing in its place, in the frame of the first piece."""
        return self.way_out.at(0.0) if self.way_out else None

    def piece(self, id: str) -> Piece:
        """The piece of that id. Raises KeyError."""
        return self.assembly.piece(id)


@dataclass(frozen=True, slots=True, eq=False)
class For:
    """What is drafted for one of several wearers, by number and name."""

    number: int
    name: Said
    draft: Draft
