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
from ..reckoning import Reckoning, count, fine, length, reckon, said
from ..ring import closed, place_on, stretch, turned_right
from .pieces import Craft, Draft, Edge, Piece, Ply, SeamLine

Small = Annotated[float, Field(gt=0, le=60)]
Where = Annotated[float, Field(ge=0, le=300)]


class Ornament(Frozen):
    """One ornament on the piece named `piece`; `in_mm` is how far in from its cut it lies (common practice: a border about
    12 mm). A punched row alternates a large and a small hole (3 and 1.5 mm), an overlay is cut `large_by_mm` large and trimmed
    when it is glued (3 to 5 mm), both common practice.
    """

    kind: Literal["border", "punched row", "pinked edge", "overlay", "stamped area"]
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
    pieces, seams = list(draft.pieces), list(draft.seams)
    findings: list[Finding] = []
    told: list[Reckoning] = []
    for n, ornament in enumerate(ornaments):
        k = next((i for i, p in enumerate(pieces) if p.name == ornament.piece), None)
        if k is None:
            findings.append(Finding(
                "look", "ornament-nowhere", "draft",
                said(f"There is no {ornament.piece} any more for the {ornament.kind} on it."), f"ornaments.{n}.piece",
                Mend("put it on the first piece", ((f"ornaments.{n}.piece", pieces[0].name),)),
            ))  # fmt: skip
            continue
        line = _inside(pieces[k].outline, ornament.in_mm) if ornament.kind != "pinked edge" else pieces[k].outline
        if line is None:
            findings.append(Finding(
                "look", "ornament-too-far-in", "draft",
                said(f"The {ornament.piece} is not wide enough for a {ornament.kind} {{by}} in from its cut.",
                     by=length(ornament.in_mm)), f"ornaments.{n}.in_mm",
                Mend("nearer the cut", ((f"ornaments.{n}.in_mm", round(ornament.in_mm / 2, 1)),)),
            ))  # fmt: skip
            continue
        pieces[k], more, sums = _put(ornament, n, pieces[k], line)
        pieces += more
        told += sums
        if ornament.kind == "overlay":
            seams = [_covered(seam, ornament, line) for seam in seams]
    before = draft.tell
    return replace(
        draft, pieces=tuple(pieces), seams=tuple(seams), findings=(*draft.findings, *findings),
        tell=lambda: (*before(), *told),
    )  # fmt: skip


def _put(ornament: Ornament, n: int, piece: Piece, line: Line) -> tuple[Piece, list[Piece], list[Reckoning]]:
    """The piece with the ornament, the pieces that come with it, its sums."""
    at, key, around = f"ornament/{n}", f"ornament/{n}", float(arc_length(closed(line))[-1])
    more: list[Piece] = []
    sums: list[Reckoning] = []
    match ornament.kind:
        case "border":
            marks = [Mark("crease", line, True, at)]
            craft = Craft(f"Border on the {piece.name}", said("{l} of line, {by} in", l=length(around),
                                                              by=length(ornament.in_mm)))  # fmt: skip
        case "punched row":
            holes, pitch = row_of(line, ornament.pitch_mm)
            marks = [Mark("cut", frozen(holes[::2]), id=at, size_mm=ornament.large_mm),
                     Mark("cut", frozen(holes[1::2]), id=at, size_mm=ornament.small_mm)]  # fmt: skip
            craft = Craft(
                f"Punched row on the {piece.name}", said("{n} holes, large and small in turn", n=count(len(holes)))
            )
            sums.append(reckon(key, "Punched row", count(len(holes)),
                               said("{l:n} round, {p} apart; it closes on itself with as many large as small",
                                    l=length(around), p=fine(pitch)), (at,)))  # fmt: skip
        case "pinked edge":
            piece = _pinked(piece, ornament)
            marks = []
            craft = Craft(f"Pink the edge of the {piece.name}", said("teeth {w} wide, {d} deep", w=length(ornament.pitch_mm),
                                                                     d=length(ornament.deep_mm)))  # fmt: skip
        case "overlay":
            cut = _inside(line, -ornament.large_by_mm)
            more = [Piece(
                f"overlay on the {piece.name}", line if cut is None else cut, ornament.thick_mm,
                edges=(Edge("around", "free", line, "early"),),
                fixed="", first="", stock="leather",
            )]  # fmt: skip
            marks = [Mark("crease", line, True, at)]
            craft = Craft(
                f"Overlay on the {piece.name}",
                said("glue it down, {by} large, and trim it when it holds; it adds {t}", by=length(ornament.large_by_mm),
                     t=fine(ornament.thick_mm)),
            )  # fmt: skip
        case "stamped area":
            marks = [Mark("stamp", line, True, at)]
            says = said("within the line; no tool and no hand presses it while it is formed")
            craft = Craft(f"Stamp the {piece.name}", says)
    return replace(piece, ornament=(*piece.ornament, *marks), crafts=(*piece.crafts, craft)), more, sums


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
    ring = turned_right(piece.outline)
    for edge in piece.edges:
        if edge.kind not in ("mouth", "free") or len(edge.line) < 2:
            continue
        start, end = (place_on(ring, (float(p[0]), float(p[1]))) for p in (edge.line[0], edge.line[-1]))
        around = float(arc_length(closed(ring))[-1])
        own = float(arc_length(edge.line)[-1])
        if abs((end - start) % around - own) > 0.2 * own + 1:
            start, end = end, start
        if abs((end - start) % around - own) > 0.2 * own + 1:
            continue
        along = stretch(ring, start, start + (end - start) % around)
        teeth = _teeth(along, ornament.pitch_mm, min(ornament.deep_mm, ornament.pitch_mm))
        rest = stretch(ring, end, end + (start - end) % around)
        ring = np.concatenate([teeth[:-1], rest[:-1]])
    return replace(piece, outline=frozen(ring))


def _teeth(line: Line, wide_mm: float, deep_mm: float) -> Line:
    """A zigzag along the line, its points on it, its notches to the right of it, whole teeth only."""
    long = float(arc_length(line)[-1])
    n = max(round(long / wide_mm), 1)
    places = walk(line, long * np.arange(2 * n + 1) / (2 * n))
    run = headings(places)
    inward = np.column_stack([-run[:, 1], run[:, 0]])
    deep = np.where(np.arange(2 * n + 1) % 2 == 1, deep_mm, 0.0)
    return places + inward * deep[:, None]


def _covered(seam: SeamLine, ornament: Ornament, line: Line) -> SeamLine:
    """The seam with the overlay in the stack of its holes that it covers."""
    on = [k for k, placed in enumerate(seam.placed) if placed.piece == ornament.piece]
    plies = tuple(
        Ply("overlay", frozen([0.0, 1.0]), frozen([ornament.thick_mm, ornament.thick_mm]), within=line, on=k)
        for k in on
    )
    return replace(seam, plies=seam.plies + plies)
