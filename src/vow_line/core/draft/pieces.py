"""What drafting gives: flat pieces whose edges tile their outlines, and what is drawn and said of them.

Piece coordinates are flat and true to scale, in mm, right and down, seen from the side given by `side_up`. How pieces are
joined is said once, by the joins of an `Assembly`; seams, stacks, glue and order follow from those.
"""

from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

import numpy as np
import shapely

from ..curve import Line, Values, area_within, frozen
from ..drawing import Mark
from ..errors import AssemblyError
from ..memory import remembered
from ..ring import closed, place_on, stretch, turned_right
from ..texts import NOTHING, Said, joined, said

Open = Literal["", "mouth", "free", "turn", "cut-out", "flush"]
SEEN_TO = ("turn", "cut-out", "flush")  # no edge that is open so is finished by itself
Sort = Literal["leather", "lining", "binding", "foam", "wood", "lace"]

UP = {"grain": said("grain up"), "flesh": said("flesh up")}
SIDE_UP = {"grain": said("grain side up"), "flesh": said("flesh side up")}
TITLES = {
    "front": said("front"),
    "back": said("back"),
    "sheath": said("sheath"),
    "pouch": said("pouch"),
    "cover": said("cover"),
}
"""What pieces that several kinds have are called."""
LEAST_EDGE_MM = 0.01
SAME_MM = 1e-6  # points nearer than this are one
MEET_MM = 0.3  # edges given nearer than this meet; they are made to, at the start of the later one


@dataclass(frozen=True, slots=True)
class Stock:
    """What a piece is cut from. The job's own leather has the id `leather`; `neutral` says where its neutral layer lies, as a
    share of the thickness from the inner face.
    """

    id: str
    title: Said
    thickness_mm: float
    sort: Sort = "leather"
    neutral: float = 0.5


def leather(thickness_mm: float, neutral: float = 0.5) -> Stock:
    """The job's own leather."""
    return Stock("leather", said("leather"), thickness_mm, "leather", neutral)


def other_leather(thickness_mm: float, own_mm: float, id: str, title: Said) -> Stock:
    """Leather of another thickness than the job's own, or the job's own where it is as thick."""
    return leather(own_mm) if abs(thickness_mm - own_mm) < 0.01 else Stock(id, title, thickness_mm)


@dataclass(frozen=True, slots=True, eq=False)
class Edge:
    """A stretch `line (n, 2)` of one of a piece's rings (0 the outline, then its cut-outs), in the ring's sense.

    An edge that no join takes says how it is `open`: a mouth, free, inside a turn, round a cut-out, or flush with the
    edge of what it is glued on, and finished with that. `beside` names the
    edge of the same piece that it is finished with in one go. One that is `bound` is finished by what goes round it,
    one that is `grown` is as the leather grew.
    """

    id: str
    title: Said
    line: Line
    open: Open = ""
    ring: int = 0
    beside: str = ""
    bound: bool = False
    grown: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class Skive:
    """An area thinned from `from_mm` at the point `thick` to `to_mm` at the point `thin`, evenly between them; or, where those
    are the same point, sunk to `to_mm` throughout, as a recess is.
    """

    id: str
    title: Said
    ring: Line
    from_mm: float
    to_mm: float
    thick: tuple[float, float] = (0.0, 0.0)
    thin: tuple[float, float] = (0.0, 0.0)

    def at(self, points: Line) -> Values:
        """The thickness `(n,)` it leaves at points: beyond a slope's ends as much as there; what is sunk ends at its ring."""
        way = np.subtract(self.thin, self.thick)
        long = float(way @ way)
        if long == 0:
            return np.where(shapely.contains_xy(area_within(self.ring), *points.T), self.to_mm, self.from_mm)
        share = np.clip((points - self.thick) @ way / long, 0.0, 1.0)
        return self.from_mm + (self.to_mm - self.from_mm) * share


@dataclass(frozen=True, slots=True, eq=False)
class Area:
    """A closed ring on a piece, `ring (n, 2)`: where it is glued, or what is worked there."""

    title: Said
    ring: Line


@dataclass(frozen=True, slots=True)
class Punch:
    """A round hole through a piece; those of one `row` are punched in one go, and called by its title."""

    id: str
    title: Said
    centre: tuple[float, float]
    diameter_mm: float
    row: str = ""


@dataclass(frozen=True, slots=True)
class Craft:
    """Work on a piece by itself, before anything is joined to it."""

    name: Said
    says: Said


@dataclass(frozen=True, slots=True, eq=False)
class Piece:
    """A flat piece: its outline as a closed ring `(n, 2)` (first point not repeated), the edges that tile it, and all that is
    marked on it. `turns` says whether the best way of the leather must run along it (down its pattern) or across; `slots` are
    cut out of it; `ornament` is drawn on it besides, and takes the work in `crafts`. Of those that are made `in_pairs` every
    second one is cut turned over. So many of its `count` are to `spare`.
    """

    id: str
    title: Said
    outline: Line
    edges: tuple[Edge, ...]
    stock: Stock
    folds: tuple[Line, ...] = ()
    skives: tuple[Skive, ...] = ()
    punches: tuple[Punch, ...] = ()
    slots: tuple[Line, ...] = ()
    count: int = 1
    spare: int = 0
    mirrored: bool = False
    in_pairs: bool = False
    side_up: Literal["grain", "flesh"] = "grain"
    turns: Literal["along", "across", "any"] = "any"
    ornament: tuple[Mark, ...] = ()
    crafts: tuple[Craft, ...] = ()

    @property
    def thickness_mm(self) -> float:
        """The thickness of what it is cut from."""
        return self.stock.thickness_mm

    @property
    def laid(self) -> bool:
        """Whether it is cut from the job's own leather."""
        return self.stock.id == "leather"

    @property
    def named(self) -> Said:
        """Its title, and how many."""
        return joined(self.title, said("{n} of it", n=self.count)) if self.count > 1 else self.title

    @property
    def heading(self) -> Said:
        """Its title, how many, and which way."""
        over = self.turned_over
        up = UP[self.side_up] if self.stock.sort == "leather" else NOTHING
        return joined(self.named, over, *((said("mirrored"), up) if self.mirrored else ()))

    @property
    def way_up(self) -> Said:
        """Which side is up, and whether it is mirrored; nothing where neither is anything to it."""
        side = SIDE_UP[self.side_up] if self.stock.sort == "leather" else NOTHING
        side = joined(side, said("mirrored")) if self.mirrored else side
        return joined(side, self.turned_over)

    @property
    def turned_over(self) -> Said:
        """Whether it is cut turned over; nothing where it is not."""
        return said("every second one turned over") if self.in_pairs else NOTHING

    @property
    def area_mm2(self) -> float:
        """Area of one, by the shoelace formula, without its cut-outs."""
        return _area(self.outline) - sum(_area(slot) for slot in self.slots)

    def edge(self, id: str) -> Edge:
        """The edge of that id. Raises KeyError."""
        for edge in self.edges:
            if edge.id == id:
                return edge
        raise KeyError(id)

    def with_slots(self, slots: tuple[Line, ...]) -> "Piece":
        """The piece with these cut out of it, each a ring with an edge of its own."""
        around = tuple(
            Edge(f"slot-{k}", said("slot {k}", k=k), frozen(closed(slot)), "cut-out", k)
            for k, slot in enumerate(slots, 1)
        )
        return replace(self, slots=slots, edges=(*(e for e in self.edges if e.ring == 0), *around))


def _area(ring: Line) -> float:
    x, y = ring.T
    return float(abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2)


@remembered("piece")
def counted(piece: Piece, count: int) -> Piece:
    """So many of a piece: the same again while it is."""
    return replace(piece, count=count)


def _once(edge: Edge) -> Edge:
    """The edge without points that lie on the one before."""
    line = edge.line
    if len(line) < 3:
        return edge
    steps = np.abs(line[1:] - line[:-1]).max(axis=1)
    if steps.min() > SAME_MM:
        return edge
    kept = line[np.append(True, steps > SAME_MM)]
    return replace(edge, line=frozen(kept if len(kept) > 1 else line[[0, -1]]))


def edged(*edges: Edge) -> tuple[Line, tuple[Edge, ...]]:
    """The outline that edges given one after another enclose, turned right, and the edges as they tile it: each begins where
    the one before ends. A single edge goes all round. Raises AssemblyError where two do not meet.
    """
    edges = tuple(map(_once, edges))
    if len(edges) == 1:
        (only,) = edges
        bare = only.line[:-1] if np.hypot(*(only.line[-1] - only.line[0])) < 1e-9 else only.line
        ring = turned_right(bare)
        return frozen(ring), (replace(only, line=frozen(closed(ring))),)
    for edge, after in zip(edges, (*edges[1:], edges[0]), strict=True):
        (x, y), (u, v) = edge.line[-1].tolist(), after.line[0].tolist()
        if abs(x - u) + abs(y - v) > MEET_MM:
            raise AssemblyError(
                f"The edges {edge.id} and {after.id} do not meet: {x:.2f}, {y:.2f} and {u:.2f}, {v:.2f}.", edge.id
            )
    given = np.concatenate([e.line[:-1] if len(e.line) > 1 else e.line for e in edges])
    bounds = np.cumsum([0, *(max(len(e.line) - 1, 1) for e in edges)]).tolist()
    whole = frozen(closed(given))
    x, y = whole.T
    if float(np.dot(x[:-1], y[1:]) - np.dot(y[:-1], x[1:])) < 0:
        whole, edges, last = whole[::-1], edges[::-1], bounds[-1]
        bounds = [last - b for b in bounds[::-1]]
    lines = (whole[a : b + 1] for a, b in pairwise(bounds))
    return whole[:-1], tuple(replace(edge, line=line) for edge, line in zip(edges, lines, strict=True))


def parted(ring: Line, *edges: tuple[Edge, tuple[float, float]]) -> tuple[Line, tuple[Edge, ...]]:
    """A ring parted into edges, each with the point near which it begins; they follow each other as those points do round the
    ring, whatever their own lines were. One that begins where another does is all but nothing.
    """
    ring = turned_right(ring)
    whole = closed(ring)
    around = float(np.hypot(*np.diff(whole, axis=0).T).sum())
    begins = sorted(((place_on(ring, at), edge) for edge, at in edges), key=lambda b: b[0])
    starts = [begins[0][0]]
    for at, _ in begins[1:]:
        starts.append(max(at, starts[-1] + LEAST_EDGE_MM))
    lines = []
    for k, (start, (_, edge)) in enumerate(zip(starts, begins, strict=True)):
        long = (starts[(k + 1) % len(starts)] - start) % around
        lines.append(replace(edge, line=frozen(stretch(ring, start, start + long) if len(begins) > 1 else whole)))
    return edged(*lines)
