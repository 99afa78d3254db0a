"""How pieces are joined, as it is said: layers, what is sewn, fasteners, shells, where the body lies, what goes round what.

A *layer* of a join is an edge of a piece, a seat on its face, or the whole of a piece that lies there. Layers are given from
the face the maker sees to the other. A *shell* is a surface that pieces make together: a pocket, a wrap; what is left of their
edges when its joins are made is its mouths.
"""

from dataclasses import dataclass
from typing import Literal

from ..curve import Line, Values
from ..texts import NOTHING, Said, said

LEATHER = said("leather")
RING = said("ring")
Shape = Literal["line", "box", "butt"]
JoinShape = Literal["line", "box", "butt", "riveted", "glued", "scarf"]


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
    `turn` and `shift` say how the first layer's frame is laid on this piece, or the seam has a line of its own on it, `along`,
    of holes that are kept where they are.
    Holes beyond the line's ends are not in a layer that `ends` there.
    """

    piece: str
    part: str = ""
    title: Said = NOTHING
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
    the places in the job where margin, stack and that distance are chosen, `stack_title` what is chosen there, `kept_off_mm`
    what the distance is chosen by, as it is now; `asked_off_mm` how far off the thread is asked to be, where that is so.
    `begins` says where its first hole is, `edge_ends` whether its first and its last hole are beside an edge that opens, as a
    mouth is. A seam that `carries` has a load hanging on it; where a layer
    `runs_on` beyond both ends of the line, a hole may lie out there. Holes that go aslant through a corner go `through_mm`
    where their layers are not skived, whatever these are thick. A closed one's holes stand half a pitch off where it begins
    where another seam comes `between` its first and its last. How its edges differ in length is `told` by what drafted it, or
    asked when its holes are there. Holes that are `kept` are the points of its line.
    """

    line: Line
    margin_mm: float
    keep_off: Line | None = None
    keep_off_mm: float = 0.0
    edge_ends: tuple[bool, bool] = (False, False)
    margin_at: str = ""
    stack_at: str = ""
    keep_off_at: str = ""
    kept_off_mm: float = 0.0
    asked_off_mm: float = 0.0
    begins: Said = NOTHING
    stack_title: Said = LEATHER
    closed: bool = False
    carries: bool = False
    runs_on: bool = False
    through_mm: float = 0.0
    between: bool = False
    told: bool = False
    kept: bool = False


def begun(place: Said, *, turned: bool) -> Said:
    """Where a seam begins, for who looks for it there; and that it is sewn inside out, where it is."""
    return said("{place}, inside out", place=place) if turned else place


@dataclass(frozen=True, slots=True, eq=False)
class Join:
    """What meets, in which layers, and how it is held; `says` how it is done where it is not sewn. One that is made `round` the
    closed thing comes when that is closed. One that is `turned` is sewn inside out, its edges hidden when that is turned. Edges
    that are `shaped` are alike in length alone: how they curve is what bends the thing. One is made `again`, of alike pieces
    and with a thread of its own, at every other place on its first layer's piece where its frame, turned and shifted, lies.
    """

    id: str
    title: Said
    shape: JoinShape
    layers: tuple[Layer, ...]
    sewing: Sewing | None = None
    says: Said | None = None
    round: bool = False
    turned: bool = False
    shaped: bool = False
    again: tuple[tuple[Line, tuple[float, float]], ...] = ()

    @property
    def times(self) -> int:
        """How often it is made."""
        return 1 + len(self.again)


@dataclass(frozen=True, slots=True)
class Fastener:
    """A rivet, stud, screw post or tack and the punches, as (piece, punch), that it goes through; or so many of a sort, one in
    `each` of them: buttons so wide, loops of so much lace, as `size_mm` says.
    """

    id: str
    title: Said
    sort: Literal["rivet", "stud", "eyelet", "button", "loop", "tack", "post", "hook"]
    through: tuple[tuple[str, str], ...]
    each: bool = False
    size_mm: float = 0.0


@dataclass(frozen=True, slots=True)
class Shell:
    """A surface made of `pieces`; it `holds` the body, another shell by its id, or nothing. The way out is `along` its axis,
    `across` it, or there is none where it is `wrapped` round what it holds; `out` is its direction in the frame of the first.
    """

    id: str
    title: Said
    pieces: tuple[str, ...]
    holds: str = "body"
    way: Literal["along", "across", "wrapped"] = "along"
    out: tuple[float, float] = (0.0, -1.0)


@dataclass(frozen=True, slots=True, eq=False)
class Swing:
    """How a body lies on a flat piece and comes out of it turning: its (y, x) turned and shifted onto the piece, and the point
    there that it turns about.
    """

    turn: Line
    shift: tuple[float, float]
    about: tuple[float, float]


@dataclass(frozen=True, slots=True, eq=False)
class Lies:
    """Where the body, or what else a shell holds, lies on a flat piece of it: at each station `x_mm (n,)` between `p` and
    `q (n, 2)`. A `half` goes from the fold to a seam, a `face` from seam to seam, each over a `share` of what lies there is
    high; a `hollow` is sunk into the piece; a leather `round` it goes from edge to edge, over corners rounded by a share
    `rounded` of half the thickness, and is drawn together by `stretch`. Beyond `loose_mm` of room it is too loose. What comes
    out turning has its `swing`; a leather round such a core, that of the core. Of what lies over one piece more than once, or
    goes on there in another way, what belongs together has one `part`. What goes round and is not closed stands `open_mm (n,)`
    apart there, or laps where that is less than nothing; what is `taken_mm` out of it there is sewn away, or, less than
    nothing, given by the pieces that are `let_in`; leather that `gives` a share of its length need not be as long as its way
    by so much; one cut so that it need not stretch is by a share larger than what it covers, and `stands_off`.
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
    swing: Swing | None = None
    part: str = ""
    open_mm: Values | None = None
    gives: float = 0.0
    stands_off: float = 0.0
    taken_mm: Values | None = None
    let_in: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, eq=False)
class Goes:
    """A strap that goes from one of its holes to another `round` the body: a handle `at_mm` from its guard, by half its girth,
    or the back of a tool, straight away from the mouth; or all round the cover of a core, `at_mm` along it.
    """

    piece: str
    holes: tuple[str, str]
    ends: tuple[tuple[str, str], tuple[str, str]]
    round: Literal["handle", "back", "cover"]
    at_mm: float = 0.0


@dataclass(frozen=True, slots=True, eq=False)
class Belt:
    """A belt `wide_mm` wide that runs along `line (2, 2)` on a piece: between the halves of a strip, or through the slots that
    the line goes from and to.
    """

    piece: str
    line: Line
    wide_mm: float


@dataclass(frozen=True, slots=True, eq=False)
class Ring:
    """A ring by which strips hang together: of each the piece, and the line `(2, 2)` on it that lies in the ring."""

    hangs: tuple[str, Line]
    on: tuple[str, Line]


@dataclass(frozen=True, slots=True)
class Round:
    """A piece that goes all round a cover, its middle `at_mm` along that."""

    piece: str
    at_mm: float


@dataclass(frozen=True, slots=True)
class Turn:
    """A piece turned round a bar between two of its folds, by their numbers, before the join of that id is made; what it then
    `holds`: what was measured, or, where its bar and its opening are given, one of that size. What has a front is put in with
    that on the side that is shown.
    """

    piece: str
    folds: tuple[int, int]
    join: str = ""
    holds: Said = RING
    bar_mm: float = 0.0
    opening_mm: float = 0.0
    has_front: bool = False


@dataclass(frozen=True, slots=True)
class Closes:
    """A strap that closes round the wearer, `ease_mm` wider, from where it leaves its bar, the fold of that number, to a hole
    of it.
    """

    piece: str
    fold: int
    hole: str
    ease_mm: float = 0.0


@dataclass(frozen=True, slots=True)
class Boxed:
    """A piece sewn round its gussets into a pouch for a box, whose mouth lies `below_mm` below the box's top."""

    piece: str
    gussets: tuple[str, ...]
    below_mm: float


@dataclass(frozen=True, slots=True)
class Pocket:
    """What of a piece makes the pocket for the tool of a number: between two seams, across it."""

    piece: str
    tool: int
    across_mm: tuple[float, float]


@dataclass(frozen=True, slots=True)
class Leaved:
    """A cover that folds round leaves with needles on them: the piece and the leaf, the seam that holds that, and the folds by
    their numbers: of the spine, and of the flap that lies over the opening.
    """

    cover: str
    leaf: str
    seam: str
    folds: tuple[int, int]


@dataclass(frozen=True, slots=True)
class Lace:
    """A lace criss-cross through two rows of punches, each as (piece, punch), lowest first, `gaps_mm` from each other across,
    with a tail at either end: so long. Where it does not go `through` the leather it goes through what stands there. One row
    shorter by one stands halfway between those of the other: then it goes from side to side, `gaps_mm` at each in turn.
    """

    id: str
    title: Said
    rows: tuple[tuple[tuple[str, str], ...], tuple[tuple[str, str], ...]]
    gaps_mm: tuple[float, ...]
    tail_mm: float
    long_mm: float
    through: bool = True


@dataclass(frozen=True, slots=True)
class Buckle:
    """A billet sewn on at an edge of a piece that goes through the buckle in a tab at another: of the `pieces`, which may be
    one, and their `edges` that of the tab comes first; of the tab the fold, by its number, where it leaves the bar, of the
    billet the hole that closes `gap_mm`. Both are sewn on by joins of their own ids, as often as there are buckles.
    """

    pieces: tuple[str, str]
    edges: tuple[str, str]
    tab: tuple[str, int]
    billet: tuple[str, str]
    gap_mm: float


@dataclass(frozen=True, slots=True)
class Loops:
    """Loops of lace that go over buttons: the edges they stand at, the punches of both as (piece, punch), lowest first and the
    buttons' before the loops'; how far the edges then stand apart, how wide and thick a button is, how long a loop goes round.
    """

    id: str
    edges: tuple[str, str]
    rows: tuple[tuple[tuple[str, str], ...], tuple[tuple[str, str], ...]]
    gaps_mm: tuple[float, ...]
    button_mm: float
    high_mm: float
    round_mm: float


@dataclass(frozen=True, slots=True)
class Keeps:
    """A piece that goes round so many plies of another and what lies on them, `besides_mm` thick, `loose_mm` looser at most;
    its middle `at_mm` along that, of which it covers `wide_mm`.
    """

    piece: str
    of: str
    plies: int
    loose_mm: float
    at_mm: float
    wide_mm: float
    besides_mm: float = 0.0
