"""Darts: wedges taken out of a wrap from its top, where the limb turns in again, and sewn edge to edge."""

from typing import TYPE_CHECKING, Annotated

import numpy as np
from pydantic import Field

from ....curve import Line, frozen, trim
from ....finding import Finding, Mend
from ....frozen import Frozen
from ....reckoning import length
from ....texts import Said, said
from ...joins import Join, Layer, Sewing
from ...pieces import Edge
from .closure import LEFT_SIDE, RIGHT_SIDE, inward

if TYPE_CHECKING:
    from .wrap import Part, Wrap

TIP_MM = 6.0  # a dart's seam ends so far from its tip (from memory)
LEAST_APART_MM = 3.0  # one that opens less is not worth its seam (from memory)
CLOSED_MM = 0.05  # sides so near are together
LEFT_BELOW_MM = 20.0  # so much of the wrap is left below one
TOP = said("top")


class Darts(Frozen):
    """So many from the top, an equal share apart, and how deep."""

    n: Annotated[int, Field(ge=1, le=3)] = 2
    deep_mm: Annotated[float, Field(ge=20, le=300)] = 60.0


def made(part: "Part") -> list[tuple[Line, Line]]:
    """The two sides of each dart from the top down to its tip, which lies where they come together."""
    z, found = part.flat.points, []
    for k, c in enumerate(part.flat.doubled):
        closed = np.flatnonzero(part.apart_mm[:, k] < CLOSED_MM)
        tip = int(closed[0]) if len(closed) else len(z) - 1
        if tip:
            end = (z[tip, c] + z[tip, c + 1]) / 2
            found.append((frozen([*z[:tip, c], end]), frozen([*z[:tip, c + 1], end])))
    return found


def top_edges(part: "Part", row: Line) -> list[Edge]:
    """The top edge, parted by darts, and their sides, from left to right; `row` is that edge with all its points."""
    edges, begins = list[Edge](), 0
    for k, (left, right) in enumerate(made(part), 1):
        one, other = (int(np.argmin(np.hypot(*(row - side[0]).T))) for side in (left, right))
        edges.append(Edge(f"top-{k}", TOP, frozen(row[begins : one + 1]), "mouth"))
        edges.append(Edge(f"dart-{k}-left", said("dart {k}", k=k), left))
        edges.append(Edge(f"dart-{k}-right", said("dart {k}", k=k), frozen(right[::-1])))
        begins = other
    return [*edges, Edge("top", TOP, frozen(row[begins:]), "mouth")]


def seams(part: "Part", margin_mm: float) -> list[Join]:
    """Each dart sewn edge to edge, from the top towards its tip."""
    joins = []
    for k, (left, right) in enumerate(made(part), 1):
        line = trim(inward(left, margin_mm, RIGHT_SIDE), 0.0, TIP_MM)
        along = trim(inward(right, margin_mm, LEFT_SIDE), 0.0, TIP_MM)
        sewing = Sewing(
            frozen(line), margin_mm, margin_at="piece.margin_mm", stack_at="leather.thickness_mm", begins=TOP
        )
        title = said("dart {k}", k=k)
        layers = (
            Layer(part.id, f"dart-{k}-left", title),
            Layer(part.id, f"dart-{k}-right", title, along=frozen(along)),
        )
        joins.append(Join(f"dart-{k}", title, "butt", layers, sewing, shaped=True))
    return joins


def findings(darts: Darts, laid: "Wrap") -> list[Finding]:
    """Darts that go too deep, that take next to nothing out, or where there is too little already."""
    high = float(laid.surface.at_mm[0] - laid.surface.at_mm[-1])
    none = Mend(said("no darts"), (("piece.darts", None),))
    if darts.deep_mm > high - LEFT_BELOW_MM:
        fits = float(np.floor(high / 2))
        ways = (Mend(said("{d} deep", d=length(fits)), (("piece.darts.deep_mm", fits),)), none)
        return [Finding("hold", "dart-deep", "draft", said("Darts {d} deep leave less than {rest} of the {h} below them.",
                        d=length(darts.deep_mm), rest=length(LEFT_BELOW_MM), h=length(high)), "piece.darts.deep_mm",
                        *((ways[0], ways[1:]) if fits >= 20 else (none, ())))]  # fmt: skip
    apart = laid.first.apart_mm
    if float(apart.min(initial=0.0)) < -0.3:
        says: Said = said("The limb spreads there: the sides of a dart would lap by {by}. It wants more leather, not less.",
                          by=length(-float(apart.min())))  # fmt: skip
        return [Finding("hold", "dart-laps", "draft", says, "piece.darts", none)]
    if float(apart[0].max(initial=0.0)) < LEAST_APART_MM:
        return [Finding("look", "dart-little", "draft", said("The darts open by {by} at the top: hardly worth their seams.",
                        by=length(float(apart[0].max(initial=0.0)))), "piece.darts", none)]  # fmt: skip
    return []
