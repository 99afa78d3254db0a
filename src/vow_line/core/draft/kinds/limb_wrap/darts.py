"""Slits from an end of a wrap: darts, wedges taken out where the limb turns in and sewn edge to edge, or gussets, wedges let in
where it spreads.
"""

from dataclasses import dataclass
from typing import TYPE_CHECKING, Annotated, Literal

import numpy as np
from pydantic import Field

from ....curve import Line, Values, frozen, trim
from ....finding import Finding, Mend
from ....frozen import Frozen
from ....reckoning import length
from ....texts import Said, said
from ...joins import Join, Layer, Seat, Sewing
from ...pieces import Craft, Edge, Piece, edged, leather
from .closure import LEFT_SIDE, RIGHT_SIDE, inward
from .slits import Slits

if TYPE_CHECKING:
    from .wrap import Part, Wrap

TIP_MM = 6.0  # a dart's seam ends so far from its tip (from memory)
LEAST_APART_MM = 3.0  # one that opens or fills less is not worth its seam (from memory)
LEFT_BELOW_MM = 20.0  # so much of the wrap is left beyond one
UNDER_MARGINS = 2.0  # a gusset reaches so many margins under: its thread lies as far from either cut (common practice)
OFF_MM = 0.3  # sides that lap by less are together
ROUNDS = 4
LEAST_WIDE_MM = 0.5
End = Literal["top", "low"]
ENDS: dict[End, Said] = {"top": said("top"), "low": said("low end")}
FROM: dict[End, Said] = {"top": said("the top"), "low": said("the low end")}


class Darts(Frozen):
    """So many slits from the top or the low end, an equal share apart, and how deep: their sides are sewn together, or gussets
    let into them.
    """

    n: Annotated[int, Field(ge=1, le=3)] = 2
    deep_mm: Annotated[float, Field(ge=20, le=300)] = 60.0
    at: End = "top"
    gussets: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class LetIn:
    """Gussets, and what sews them in."""

    pieces: tuple[Piece, ...] = ()
    seats: tuple[Seat, ...] = ()
    joins: tuple[Join, ...] = ()


def end_edges(part: "Part", row: Line, end: End) -> list[Edge]:
    """The edge at an end, parted by the slits that begin there, and their sides, from left to right; `row` is that edge with
    all its points.
    """
    title, sides = ENDS[end], part.slits.sides
    if not sides or part.slits.low is not (end == "low"):
        return [Edge(end, title, frozen(row), "mouth")]
    edges, begins = list[Edge](), 0
    for k, (left, right) in enumerate(sides, 1):
        one, other = (int(np.argmin(np.hypot(*(row - side[0]).T))) for side in (left, right))
        name = said("slit {k}", k=k) if part.filled else said("dart {k}", k=k)
        edges.append(Edge(f"{end}-{k}", title, frozen(row[begins : one + 1]), "mouth"))
        edges.append(Edge(f"dart-{k}-left", name, left))
        edges.append(Edge(f"dart-{k}-right", name, frozen(right[::-1])))
        begins = other
    return [*edges, Edge(end, title, frozen(row[begins:]), "mouth")]


def _ways(slits: Slits) -> tuple[float, float]:
    """On which side of each of its edges the leather lies, left and right, from the end to the tip."""
    return (LEFT_SIDE, RIGHT_SIDE) if slits.low else (RIGHT_SIDE, LEFT_SIDE)


def seams(part: "Part", margin_mm: float) -> list[Join]:
    """Each dart sewn edge to edge, from its end towards its tip."""
    begins = FROM["low" if part.slits.low else "top"]
    return [
        dart_seam(part.id, k, said("dart {k}", k=k), both, _ways(part.slits), ("left", "right"), margin_mm, begins)
        for k, both in enumerate(part.slits.sides, 1)
    ]


def dart_seam(
    id: str, k: int, title: Said, sides: tuple[Line, Line], ways: tuple[float, float], names: tuple[str, str],
    margin_mm: float, begins: Said,
) -> Join:  # fmt: skip
    """The sides of a dart in a piece sewn edge to edge, from where it `begins` towards its tip; `ways` tell on which side of
    either the leather lies.
    """
    line, along = (
        frozen(trim(inward(side, margin_mm, way), 0.0, TIP_MM)) for side, way in zip(sides, ways, strict=True)
    )
    sewing = Sewing(line, margin_mm, margin_at="piece.margin_mm", stack_at="leather.thickness_mm", begins=begins)
    layers = Layer(id, f"dart-{k}-{names[0]}", title), Layer(id, f"dart-{k}-{names[1]}", title, along=along)
    return Join(f"dart-{k}", title, "butt", layers, sewing, shaped=True)


def wedge(sides: tuple[Line, Line], wide_mm: Values) -> tuple[Line, Line]:
    """The two sides of what is let in between those of a slit, from its end down to its tip, upright: every step as long as
    that of the side it lies under, and at each as wide as asked, `(n,)`.
    """
    steps = [np.hypot(*np.diff(side, axis=0).T) for side in sides]
    left, right = [np.array([-wide_mm[0] / 2, 0.0])], [np.array([wide_mm[0] / 2, 0.0])]
    along = np.array([1.0, 0.0])
    for a, b, wide, after in zip(*steps, wide_mm, wide_mm[1:], strict=False):
        down, across = np.array([-along[1], along[0]]), float(after)
        for _ in range(ROUNDS):  # where the one side is longer the rows turn: they are then farther across than asked
            by = (wide - across) / 2
            deep = [np.sqrt(max(step**2 - by**2, 0.0)) for step in (a, b)]
            across = float(np.sqrt(max(after**2 - (deep[1] - deep[0]) ** 2, 0.0)))
        left.append(left[-1] + by * along + deep[0] * down)
        right.append(right[-1] - by * along + deep[1] * down)
        way = right[-1] - left[-1]
        along = way / np.hypot(*way) if np.hypot(*way) > LEAST_WIDE_MM else along
    tip = (left[-1] + right[-1]) / 2
    turn = np.array([[tip[1], tip[0]], [-tip[0], tip[1]]]) / max(float(np.hypot(*tip)), 1e-9)
    return frozen(np.array(left) @ turn), frozen(np.array(right) @ turn)


def _under(own: Line, by: float, out: float, across: Line) -> Line:
    """A side of a gusset as it is cut, so far beyond where it comes to lie, to the left or the right: from its end, along which
    it goes `across`, straight down past its tip.
    """
    edge = inward(own, by, out)
    way = edge[0] - own[0]
    first = own[0] + across * (by * by / float(way @ across))
    down = np.array([-across[1], across[0]]) * np.sign(across[0])
    return np.vstack([first, edge[(edge - own[0]) @ down > 0.0], [edge[-1, 0], own[-1, 1] + by]])


def let_in(part: "Part", margin_mm: float, leather_mm: float) -> LetIn:
    """A gusset for each slit: it lies under both its sides and beyond its tip, and is sewn down along them."""
    slits = part.slits
    if not slits.filled:
        return LetIn()
    pieces, seats, joins = [], [], []
    under = UNDER_MARGINS * margin_mm
    for k, (sides, wide) in enumerate(zip(slits.sides, slits.let_in_mm.T, strict=True), 1):
        id, title = f"gusset-{k}", said("gusset {k}", k=k)
        own = wedge(sides, wide[slits.rows])
        way = own[1][0] - own[0][0]
        along = way / np.hypot(*way) if np.hypot(*way) > LEAST_WIDE_MM else np.array([1.0, 0.0])
        # it ends where the wrap does, its sides run on under that, and its tip is cut square
        left, right = _under(own[0], under, RIGHT_SIDE, -along), _under(own[1], under, LEFT_SIDE, along)
        foot = max(left[-1, 1], right[-1, 1])
        left[-1, 1] = right[-1, 1] = foot
        outline, edges = edged(
            Edge("end", ENDS["low" if slits.low else "top"], frozen([left[0], right[0]]), "mouth"),
            Edge("right", said("right side"), frozen(right), "turn"),
            Edge("tip", said("tip"), frozen([right[-1], left[-1]]), "turn"),
            Edge("left", said("left side"), frozen(left[::-1]), "turn"),
        )
        lies = Craft(
            said("Mark the {piece}", piece=title),
            said("on its grain, {under} in from its sides and its tip: so far it lies under the slit, on the flesh side",
                 under=length(under)),
        )  # fmt: skip
        pieces.append(Piece(id, title, outline, edges, leather(leather_mm), turns="along", crafts=(lies,)))
        for name, words, j, out in (
            ("left", said("left side of gusset {k}", k=k), 0, RIGHT_SIDE),
            ("right", said("right side of gusset {k}", k=k), 1, LEFT_SIDE),
        ):
            seat = Seat(f"{id}-{name}", id, own[j])
            sewing = Sewing(
                inward(sides[j], margin_mm, _ways(slits)[j]), margin_mm, margin_at="piece.margin_mm",
                stack_at="leather.thickness_mm", begins=FROM["low" if slits.low else "top"],
            )  # fmt: skip
            layers = (
                Layer(part.id, f"dart-{k}-{name}", part.title),
                Layer(id, seat.id, title, along=inward(own[j], margin_mm, out)),
            )
            seats.append(seat)
            joins.append(Join(seat.id, words, "line", layers, sewing, shaped=True))
    return LetIn(tuple(pieces), tuple(seats), tuple(joins))


def findings(darts: Darts, laid: "Wrap") -> list[Finding]:
    """Slits that go too deep; darts where the limb spreads, gussets where it turns in; what takes or gives next to nothing."""
    high = float(laid.surface.at_mm[0] - laid.surface.at_mm[-1])
    none = Mend(said("no gussets") if darts.gussets else said("no darts"), (("piece.darts", None),))
    if darts.deep_mm > high - LEFT_BELOW_MM:
        fits = float(np.floor(high / 2))
        ways = (Mend(said("{d} deep", d=length(fits)), (("piece.darts.deep_mm", fits),)), none)
        says = said("Gussets {d} deep leave less than {rest} of the {h} beyond them.") if darts.gussets else said(
            "Darts {d} deep leave less than {rest} of the {h} beyond them.")  # fmt: skip
        return [Finding("hold", "dart-deep", "draft",
                        says.filled(d=length(darts.deep_mm), rest=length(LEFT_BELOW_MM), h=length(high)), "piece.darts.deep_mm",
                        *((ways[0], ways[1:]) if fits >= 20 else (none, ())))]  # fmt: skip
    apart = laid.first.slits.apart_mm
    laps, opens = -float(apart.min(initial=0.0)), float(apart.max(initial=0.0))
    if not darts.gussets and laps > OFF_MM:
        says = said("The limb spreads there: the sides of a dart would lap by {by}. It wants more leather, not less: a gusset.",
                    by=length(laps))  # fmt: skip
        ways = (Mend(said("gussets let in"), (("piece.darts.gussets", True),)), none)
        return [
            Finding(
                "hold",
                "dart-laps",
                "draft",
                says,
                "piece.darts",
                *((ways[0], ways[1:]) if opens <= OFF_MM else (none, ())),
            )
        ]
    if darts.gussets and opens > OFF_MM:
        says = said("The limb turns in there: the sides of a slit stand {by} apart by themselves. It wants less leather, "
                    "not more: a dart.", by=length(opens))  # fmt: skip
        ways = (Mend(said("darts taken out"), (("piece.darts.gussets", False),)), none)
        return [
            Finding(
                "hold",
                "gusset-gapes",
                "draft",
                says,
                "piece.darts",
                *((ways[0], ways[1:]) if laps <= OFF_MM else (none, ())),
            )
        ]
    if max(laps, opens) < LEAST_APART_MM:
        says = said("The gussets fill {by} at the most: hardly worth their seams.") if darts.gussets else said(
            "The darts open by {by} at the most: hardly worth their seams.")  # fmt: skip
        return [Finding("look", "dart-little", "draft", says.filled(by=length(max(laps, opens))), "piece.darts", none)]
    return []
