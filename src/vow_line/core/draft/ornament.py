"""Ornament on any piece: a border, a punched row, a pinked edge, an overlay, a stamped area."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import Polygon

from ..curve import Line, arc_length, frozen, headings, walk
from ..drawing import Mark
from ..finding import Finding, Mend
from ..frozen import Frozen
from ..reckoning import Reckoning, count, fine, length, reckon
from ..ring import closed, turned_right
from ..texts import said
from .assembly import Assembly
from .drafted import Draft
from .joins import Join, Layer, Seat
from .pieces import Craft, Edge, Piece, edged, other_leather

TITLES = {
    "border": said("border"), "punched-row": said("punched row"), "pinked-edge": said("pinked edge"),
    "overlay": said("overlay"), "stamped-area": said("stamped area"),
}  # fmt: skip
"""What a maker calls each kind of ornament."""

Small = Annotated[float, Field(gt=0, le=60)]
Where = Annotated[float, Field(ge=0, le=300)]


class Ornament(Frozen):
    """One ornament on the piece named `piece`; `in_mm` is how far in from its cut it lies (common practice: a border about
    12 mm). A punched row alternates a large and a small hole (3 and 1.5 mm), an overlay is cut `large_by_mm` large and trimmed
    when it is glued (3 to 5 mm), both common practice.
    """

    kind: Literal["border", "punched-row", "pinked-edge", "overlay", "stamped-area"]
    piece: str
    in_mm: Where = 12.0
    pitch_mm: Small = 6.0
    large_mm: Small = 3.0
    small_mm: Small = 1.5
    deep_mm: Small = 2.5
    thick_mm: Annotated[float, Field(gt=0, le=10)] = 1.2
    large_by_mm: Annotated[float, Field(ge=0, le=20)] = 4.0


def ornamented(draft: Draft, ornaments: Sequence[Ornament]) -> Draft:
    """The draft with its ornaments: on the pieces, in the stacks they cover, in the sums and the work. Never raises."""
    assembly = draft.assembly
    findings: list[Finding] = []
    reckoned: list[Reckoning] = []
    for n, ornament in enumerate(ornaments):
        title = TITLES[ornament.kind]
        piece = next((p for p in assembly.pieces if p.id == ornament.piece), None)
        if piece is None:
            findings.append(Finding(
                "look", "ornament-nowhere", "draft",
                said("There is no {piece} any more for the {title} on it.", piece=ornament.piece, title=title),
                f"ornaments.{n}.piece",
                Mend(said("put it on the first piece"), ((f"ornaments.{n}.piece", assembly.pieces[0].id),)),
            ))  # fmt: skip
            continue
        line = _inside(piece.outline, ornament.in_mm) if ornament.kind != "pinked-edge" else piece.outline
        if line is None:
            findings.append(Finding(
                "look", "ornament-too-far-in", "draft",
                said("The {piece} is not wide enough for a {title} {by} in from its cut.",
                     by=length(ornament.in_mm), piece=piece.title, title=title), f"ornaments.{n}.in_mm",
                Mend(said("nearer the cut"), ((f"ornaments.{n}.in_mm", round(ornament.in_mm / 2, 1)),)),
            ))  # fmt: skip
            continue
        if ornament.kind == "stamped-area" and draft.wet and _worked(assembly, piece, line):
            flat = next((p for p in assembly.pieces if p.laid and not _worked(assembly, p, p.outline)
                         and _inside(p.outline, ornament.in_mm) is not None), None)  # fmt: skip
            findings.append(Finding(
                "look", "stamp-on-moulded", "draft",
                said("The stamped area of the {piece} lies where the leather is worked over the thing: forming draws its lines "
                     "out and presses them flat.", piece=piece.title), f"ornaments.{n}.piece",
                Mend(said("stamp the {piece} instead", piece=flat.title), ((f"ornaments.{n}.piece", flat.id),))
                if flat else None,
            ))  # fmt: skip
        piece, sums = _put(ornament, n, piece, line)
        reckoned += sums
        assembly = assembly.with_more([piece])
        if ornament.kind == "overlay":
            assembly = assembly.with_more(*_overlay(ornament, n, piece, line))
    before = draft.tell
    return replace(
        draft, assembly=assembly, findings=(*draft.findings, *findings), tell=lambda: (*before(), *reckoned),
    )  # fmt: skip


def _worked(assembly: Assembly, piece: Piece, ring: Line) -> bool:
    """Whether within a ring the piece is worked over what lies in it, rather than flat beside it."""
    area = Polygon(ring).buffer(0)
    return any(
        lies.piece == piece.id and lies.how in ("half", "face") and lies.share > 0
        and area.intersection(Polygon(np.concatenate([lies.p, lies.q[::-1]])).buffer(0)).area > 1
        for lies in assembly.lies if len(lies.x_mm) > 1
    )  # fmt: skip


def _overlay(ornament: Ornament, n: int, piece: Piece, line: Line) -> tuple[list[Piece], list[Join], list[Seat]]:
    """The overlay on a piece, how it is joined, and where."""
    cut, id = _inside(line, -ornament.large_by_mm), f"overlay-{n + 1}"
    outline, edges = edged(Edge("around", said("around"), line if cut is None else cut, "free"))
    stock = other_leather(
        ornament.thick_mm, piece.thickness_mm if piece.laid else 0.0, id, said("leather for an overlay")
    )
    title = said("overlay on the {piece}", piece=piece.title)
    says = said("glue it down, {by} large, and trim it when it holds; it adds {t}", by=length(ornament.large_by_mm),
                t=fine(ornament.thick_mm))  # fmt: skip
    return (
        [Piece(id, title, outline, edges, stock)],
        [Join(id, title, "glued", (Layer(piece.id, id), Layer(id)), says=says)],
        [Seat(id, piece.id, line)],
    )


def _put(ornament: Ornament, n: int, piece: Piece, line: Line) -> tuple[Piece, list[Reckoning]]:
    """The piece with the ornament, its sums."""
    at, key, around = f"ornament/{n}", f"ornament/{n}", float(arc_length(closed(line))[-1])
    sums: list[Reckoning] = []
    match ornament.kind:
        case "border":
            marks = [Mark("crease", line, True, at)]
            craft = Craft(said("Border on the {piece}", piece=piece.title), said("{l} of line, {by} in", l=length(around),
                                                              by=length(ornament.in_mm)))  # fmt: skip
        case "punched-row":
            holes, pitch = row_of(line, ornament.pitch_mm)
            marks = [Mark("cut", frozen(holes[::2]), id=at, size_mm=ornament.large_mm),
                     Mark("cut", frozen(holes[1::2]), id=at, size_mm=ornament.small_mm)]  # fmt: skip
            craft = Craft(
                said("Punched row on the {piece}", piece=piece.title),
                said("{n} holes, large and small in turn", n=count(len(holes))),
            )
            sums.append(reckon(key, said("Punched row"), count(len(holes)),
                               said("{l:n} round, {p} apart; it closes on itself with as many large as small",
                                    l=length(around), p=fine(pitch)), (at,)))  # fmt: skip
        case "pinked-edge":
            piece = _pinked(piece, ornament)
            marks = []
            craft = Craft(said("Pink the edge of the {piece}", piece=piece.title), said("teeth {w} wide, {d} deep",
                                                                                        w=length(ornament.pitch_mm),
                                                                     d=length(ornament.deep_mm)))  # fmt: skip
        case "overlay":
            marks = [Mark("seat", line, True, at)]
            return replace(piece, ornament=(*piece.ornament, *marks)), sums
        case "stamped-area":
            marks = [Mark("stamp", line, True, at)]
            says = said("within the line; no tool and no hand presses it while it is formed")
            craft = Craft(said("Stamp the {piece}", piece=piece.title), says)
    return replace(piece, ornament=(*piece.ornament, *marks), crafts=(*piece.crafts, craft)), sums


def row_of(line: Line, pitch_mm: float) -> tuple[Line, float]:
    """Places of an alternating row round a closed line, an even number so that it closes on itself, and their pitch."""
    whole = closed(line)
    around = float(arc_length(whole)[-1])
    n = max(2 * round(around / pitch_mm / 2), 2)
    return walk(whole, around * np.arange(n) / n), around / n


def _inside(ring: Line, by_mm: float) -> Line | None:
    area = Polygon(ring).buffer(0).buffer(-by_mm, join_style="round")
    parts = [g for g in getattr(area, "geoms", [area]) if isinstance(g, Polygon) and g.area > 25]
    if not parts:
        return None
    largest = max(parts, key=lambda g: g.area)
    return frozen(turned_right(shapely.get_coordinates(largest.exterior.simplify(0.03))[:-1]))


def _pinked(piece: Piece, ornament: Ornament) -> Piece:
    """The piece with teeth cut into its edges that are not sewn."""

    def cut(edge: Edge) -> Edge:
        if edge.open not in ("mouth", "free") or len(edge.line) < 2:
            return edge
        return replace(edge, line=_teeth(edge.line, ornament.pitch_mm, min(ornament.deep_mm, ornament.pitch_mm)))

    outline, edges = edged(*(cut(e) for e in piece.edges if e.ring == 0))
    return replace(piece, outline=outline, edges=(*edges, *(e for e in piece.edges if e.ring)))


def _teeth(line: Line, wide_mm: float, deep_mm: float) -> Line:
    """A zigzag along the line, its points on it, its notches to the right of it, whole teeth only."""
    long = float(arc_length(line)[-1])
    n = max(round(long / wide_mm), 1)
    places = walk(line, long * np.arange(2 * n + 1) / (2 * n))
    run = headings(places)
    inward = np.column_stack([-run[:, 1], run[:, 0]])
    deep = np.where(np.arange(2 * n + 1) % 2 == 1, deep_mm, 0.0)
    return places + inward * deep[:, None]
