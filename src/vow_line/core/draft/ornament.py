"""Ornament on any piece: a border, a punched row, a pinked edge, an overlay, a stamped area."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Literal, Self

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import split

from ..curve import Line, arc_length, beside, extended, frozen, headings, walk
from ..drawing import Mark
from ..finding import Finding, Mend
from ..frozen import Frozen
from ..memory import remembered
from ..reckoning import Reckoning, count, fine, length, reckon
from ..ring import closed, turned_right
from ..texts import said
from .assembly import Assembly
from .drafted import Draft
from .joins import Join, Layer, Seat, Sewing
from .pieces import Craft, Edge, Piece, Stock, edged, other_leather

MANY, FIRST_STEP_MM, STEP_WITHIN_MM = 300, 0.25, 0.005  # points of an outline: a line within it is found by steps
TITLES = {
    "border": said("border"), "punched-row": said("punched row"), "pinked-edge": said("pinked edge"),
    "overlay": said("overlay"), "stamped-area": said("stamped area"), "binding": said("binding"), "lining": said("lining"),
    "fringe": said("fringe"), "natural-edge": said("natural edge"),
}  # fmt: skip
"""What a maker calls each kind of ornament."""

Small = Annotated[float, Field(gt=0, le=60)]
Where = Annotated[float, Field(ge=0, le=300)]


class Ornament(Frozen):
    """One ornament on the piece named `piece`; `in_mm` is how far in from its cut it lies (common practice: a border about
    12 mm). A punched row alternates a large and a small hole (3 and 1.5 mm), an overlay is cut `large_by_mm` large and trimmed
    when it is glued (3 to 5 mm), both common practice. A binding reaches `in_mm` in on either face (of a strip 25 wide and
    0.8 thick about 11, common practice). A fringe hangs by a strip sewn under the lowest edge that is free. Where a
    natural edge is kept, that one is as the leather grew, `in_mm` beyond its line at most.
    """

    kind: Literal[
        "border", "punched-row", "pinked-edge", "overlay", "stamped-area", "binding", "lining", "fringe", "natural-edge"
    ]
    piece: str
    in_mm: Where = 12.0
    pitch_mm: Small = 6.0
    large_mm: Small = 3.0
    small_mm: Small = 1.5
    deep_mm: Small = 2.5
    thick_mm: Annotated[float, Field(gt=0, le=10)] = 1.2
    large_by_mm: Annotated[float, Field(ge=0, le=20)] = 4.0

    @classmethod
    def usual(cls, kind: str, piece: str) -> Self:
        """One as such are usually made."""
        return cls.model_validate({"kind": kind, "piece": piece, **USUAL.get(kind, {})})


USUAL: dict[str, dict[str, float]] = {
    "binding": {"in_mm": 10.5, "thick_mm": 0.8}, "lining": {"thick_mm": 1.0},
    "fringe": {"deep_mm": 45.0, "pitch_mm": 4.0, "thick_mm": 1.0}, "natural-edge": {"in_mm": 8.0},
}  # fmt: skip
WHOLE = (
    "pinked-edge",
    "binding",
    "lining",
    "fringe",
    "natural-edge",
)  # they are of the cut itself, not of a line in from it
LAP_MM = 10.0  # a binding's strip is so much longer at either end (from memory)
LEAST_BOUND_MM = 20.0  # no shorter edge is bound (from memory)
CLEAR_MM = 3.0  # a binding or a fringe is sewn so far from the edges of its strip (from memory)
WAVE_MM = 24.0  # a natural edge is drawn waving at this length
LINED_FROM_MM = 1.0  # a lining begins so far from where a lap ends
LEAST_LINED = 0.3  # of a piece a lining is worth its glue
HELD_MM = 9.0  # of a fringe's strip under the edge, uncut (from memory)


def ornamented(draft: Draft, ornaments: Sequence[Ornament]) -> Draft:
    """The draft with its ornaments: on the pieces, in the stacks they cover, in the sums and the work. Never raises."""
    if draft.lined is not None and (thick := _linings(ornaments)):
        draft = draft.lined(thick)
    assembly = draft.assembly
    findings: list[Finding] = []
    reckoned: list[Reckoning] = []
    shown = list(draft.shown)
    for n, ornament in enumerate(ornaments):
        title = TITLES[ornament.kind]
        piece = next((p for p in assembly.pieces if p.id == ornament.piece), None)
        if piece is None:
            findings.append(Finding(
                "look", "ornament-nowhere", "draft",
                said("The piece that the {title} was on is not there any more.", title=title),
                f"ornaments.{n}.piece",
                Mend(said("put it on the first piece"), ((f"ornaments.{n}.piece", assembly.pieces[0].id),)),
            ))  # fmt: skip
            continue
        line = piece.outline if ornament.kind in WHOLE else _inside(piece.outline, ornament.in_mm)
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
        own = _unturned(piece, assembly, ornament.large_by_mm) if ornament.kind == "lining" else line
        tight = {x.piece for xs in (assembly.lies, assembly.closes_round, assembly.keeps) for x in xs} | draft.around
        if ornament.kind == "lining" and (piece.id in tight - draft.counted or own is None):
            rest = tuple(o for k, o in enumerate(ornaments) if k != n)
            findings.append(Finding(
                "hold", "lining-takes-room" if own is not None else "lining-nowhere", "draft",
                said("Hardly anything of the {piece} lies beside what is turned and laid back: a lining has no place there.",
                     piece=piece.title) if own is None else
                said("A lining {t} thick takes room round the thing that the {piece} was not drafted with. Measure the thing "
                     "with the lining round it.", t=fine(ornament.thick_mm), piece=piece.title), f"ornaments.{n}.piece",
                Mend(said("no lining"), (("ornaments", rest),)),
            ))  # fmt: skip
        if ornament.kind in ("binding", "fringe"):
            piece, more, sums = (bound if ornament.kind == "binding" else fringed)(ornament, n, piece, assembly)
            if not more[0]:
                rest = tuple(o for k, o in enumerate(ornaments) if k != n)
                findings.append(Finding(
                    "look", "nothing-to-bind", "draft",
                    said("No edge of the {piece} is free for a {title}, or it is not wide enough.", piece=piece.title,
                         title=title),
                    f"ornaments.{n}.piece", Mend(said("no {title}", title=title), (("ornaments", rest),)),
                ))  # fmt: skip
        elif ornament.kind == "natural-edge":
            kept = natural(ornament, n, piece, assembly)
            sums, more = [], ([], [], [])
            if kept is None:
                rest = tuple(o for k, o in enumerate(ornaments) if k != n)
                findings.append(Finding(
                    "look", "nothing-to-bind", "draft",
                    said("No edge of the {piece} is free for a {title}.", piece=piece.title, title=title),
                    f"ornaments.{n}.piece", Mend(said("no {title}", title=title), (("ornaments", rest),)),
                ))  # fmt: skip
            else:
                piece = kept
                findings.append(Finding(
                    "look", "natural-edge", "layout",
                    said("The {piece} is laid as if it were cut all round: lay its natural edge on the leather's own, {by} of "
                         "that beyond its line at most.", piece=piece.title, by=length(ornament.in_mm)), f"leather:{piece.id}",
                ))  # fmt: skip
        else:
            piece, sums = _put(ornament, n, piece, line)
            on = line if own is None else own
            more = _overlay(ornament, n, piece, on) if ornament.kind in ("overlay", "lining") else ([], [], [])
        reckoned += sums
        if ornament.kind == "fringe":  # what it is slit into is to be seen
            shown += [strip.id for strip in more[0]]
        assembly = assembly.with_more([piece]).with_more(*more)
    before = draft.tell
    return replace(
        draft, assembly=assembly, find=lambda: (*draft.findings, *findings), tell=lambda: (*before(), *reckoned),
        shown=tuple(shown),
    )  # fmt: skip


def _unturned(piece: Piece, assembly: Assembly, large_mm: float) -> Line | None:
    """Where a lining goes under a piece: all of it; of one that is turned round a bar what is not turned, and what is laid back
    does not lie on, however large it is glued down. None where hardly anything is left.
    """
    turns = [t for t in assembly.turns if t.piece == piece.id]
    if not turns:
        return piece.outline
    area: BaseGeometry = Polygon(piece.outline)
    clear = LINED_FROM_MM + large_mm
    for turn in turns:
        for fold in (piece.folds[k] for k in turn.folds):
            parts = shapely.get_parts(split(area, shapely.LineString(extended(fold, 1.0, 1.0))))
            area = max(parts, key=lambda p: p.area)
        for layer in assembly.join(turn.join).layers if turn.join else ():
            seat = next((s for s in assembly.seats if (s.piece, s.id) == (piece.id, layer.part)), None)
            if seat is not None and len(seat.line) > 2:
                area = area.difference(Polygon(seat.line).buffer(clear, join_style="mitre"))
    area = max(shapely.get_parts(area), key=lambda p: p.area, default=Polygon())
    if area.area < LEAST_LINED * Polygon(piece.outline).area:
        return None
    return frozen(shapely.get_coordinates(area.exterior)[:-1])


def _linings(ornaments: Sequence[Ornament]) -> dict[str, float]:
    """How thick what lines each piece is."""
    thick: dict[str, float] = {}
    for o in ornaments:
        if o.kind == "lining":
            thick[o.piece] = thick.get(o.piece, 0.0) + o.thick_mm
    return thick


def _worked(assembly: Assembly, piece: Piece, ring: Line) -> bool:
    """Whether within a ring the piece is worked over what lies in it, rather than flat beside it."""
    area = Polygon(ring).buffer(0)
    return any(
        lies.piece == piece.id and lies.how in ("half", "face") and lies.share > 0
        and area.intersection(Polygon(np.concatenate([lies.p, lies.q[::-1]])).buffer(0)).area > 1
        for lies in assembly.lies if len(lies.x_mm) > 1
    )  # fmt: skip


def _overlay(ornament: Ornament, n: int, piece: Piece, line: Line) -> tuple[list[Piece], list[Join], list[Seat]]:
    """The overlay on a piece or the lining under it, how it is joined, and where."""
    cut, id = _inside(line, -ornament.large_by_mm), f"{ornament.kind}-{n + 1}"
    outline, edges = edged(Edge("around", said("around"), line if cut is None else cut, "free"))
    if ornament.kind == "lining":
        stock, title = (
            Stock(id, said("lining"), ornament.thick_mm, "lining"),
            said("lining of the {piece}", piece=piece.title),
        )
    else:
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
        case "binding" | "lining" | "fringe" | "natural-edge":
            return piece, sums
        case "stamped-area":
            marks = [Mark("stamp", line, True, at)]
            says = said("within the line; no tool and no hand presses it while it is formed")
            craft = Craft(said("Stamp the {piece}", piece=piece.title), says)
    return replace(piece, ornament=(*piece.ornament, *marks), crafts=(*piece.crafts, craft)), sums


def bound(
    ornament: Ornament, n: int, piece: Piece, assembly: Assembly
) -> tuple[Piece, tuple[list[Piece], list[Join], list[Seat]], list[Reckoning]]:
    """The piece with a strip round each of its free edges: the strips, sewn through both their halves and the edge between; and
    their sums. A strip is as long as its edge and 2 laps, as wide as 2 times the edge is thick and what reaches in (common
    practice).
    """
    reach, thick = ornament.in_mm, piece.thickness_mm
    within = any(x.piece == piece.id and x.between for j in assembly.joins for x in j.layers)  # it is never seen
    narrow = _inside(piece.outline, reach) is None
    stitch = max(reach - CLEAR_MM, reach / 2)
    strips: list[Piece] = []
    joins: list[Join] = []
    seats: list[Seat] = []
    edges: list[Edge] = []
    marks: list[Mark] = []
    for edge in piece.edges:
        long = float(arc_length(edge.line)[-1])
        if (
            edge.open not in ("mouth", "free")
            or edge.ring
            or edge.bound
            or edge.grown
            or within
            or narrow
            or long < LEAST_BOUND_MM
        ):
            edges.append(edge)
            continue
        edges.append(replace(edge, bound=True))
        inner, sewn = (beside(edge.line, by) for by in (reach, stitch))
        marks.append(Mark("seat", frozen(np.concatenate([edge.line, inner[::-1]])), True, f"ornament/{n}"))
        id, half, way = f"binding-{n + 1}-{edge.id}", reach + thick, long + 2 * LAP_MM
        ring = frozen([[0.0, -half], [way, -half], [way, half], [0.0, half]])
        outline, around = edged(Edge("around", said("around"), ring, "turn"))
        title = said("binding of the {edge}", edge=edge.title)
        stock = Stock("binding", said("leather for binding"), ornament.thick_mm, "binding")
        strips.append(Piece(id, title, outline, around, stock, folds=(frozen([[0.0, 0.0], [way, 0.0]]),)))  # fmt: skip
        v = stitch + thick
        lines = [frozen([[LAP_MM, side * v], [way - LAP_MM, side * v]]) for side in (-1.0, 1.0)]
        seats += [Seat(id, piece.id, frozen(sewn)), *(Seat(f"half-{k}", id, line) for k, line in enumerate(lines))]
        layers = (
            Layer(piece.id, id, piece.title),
            *(Layer(id, f"half-{k}", title, along=line) for k, line in enumerate(lines)),
        )
        joins.append(Join(id, title, "line", layers, Sewing(frozen(sewn), stitch, begins=said("one end"), told=True)))
    piece = replace(piece, edges=tuple(edges), ornament=(*piece.ornament, *marks))
    total = sum(float(np.ptp(s.outline[:, 0])) for s in strips)
    sums = [] if not strips else [reckon(
        f"ornament/{n}", said("Binding"), length(total),
        said("{w} wide, 2 × {t} + 2 × {r}: each edge and 2 laps of {lap}", w=length(2 * (reach + thick)), t=length(thick),
             r=length(reach), lap=length(LAP_MM)), (f"ornament/{n}",),
    )]  # fmt: skip
    return piece, (strips, joins, seats), sums


def _lowest(piece: Piece, assembly: Assembly) -> Edge | None:
    """The lowest of the free edges of a piece that are long enough; None where it has none, or is never seen."""
    within = any(x.piece == piece.id and x.between for j in assembly.joins for x in j.layers)
    free = [e for e in piece.edges if e.open in ("mouth", "free") and not e.ring and not e.bound and not e.grown
            and float(arc_length(e.line)[-1]) >= LEAST_BOUND_MM]  # fmt: skip
    return max(free, key=lambda e: float(e.line[:, 1].mean())) if free and not within else None


def natural(ornament: Ornament, n: int, piece: Piece, assembly: Assembly) -> Piece | None:
    """The piece with the lowest of its free edges as the leather grew: neither cut nor finished. None where it has none."""
    edge = _lowest(piece, assembly)
    if edge is None:
        return None
    long, beyond = float(arc_length(edge.line)[-1]), beside(edge.line, -ornament.in_mm)
    at = np.linspace(0, long, max(int(long / WAVE_MM) * 8, 16))
    share = (1 - np.cos(2 * np.pi * at / WAVE_MM)) / 2  # drawn waving from its line to as far as it may lie
    way = walk(beyond, at * float(arc_length(beyond)[-1]) / long) - walk(edge.line, at)
    far = np.hypot(*way.T)
    way *= np.minimum(ornament.in_mm / np.maximum(far, 1e-9), 1.0)[:, None]  # no farther, past a corner either
    wave = walk(edge.line, at) + way * share[:, None]
    edges = tuple(replace(e, grown=True, beside="") if e.id == edge.id else e for e in piece.edges)
    edges = tuple(replace(e, beside="") if e.beside == edge.id else e for e in edges)
    mark = Mark("mark", frozen(wave), id=f"ornament/{n}")
    return replace(piece, edges=edges, ornament=(*piece.ornament, mark))


def fringed(
    ornament: Ornament, n: int, piece: Piece, assembly: Assembly
) -> tuple[Piece, tuple[list[Piece], list[Join], list[Seat]], list[Reckoning]]:
    """The piece with a strip sewn under the lowest of its free edges, as long as that and slit into strips `pitch_mm` wide that
    hang `deep_mm` beyond it; and its sums.
    """
    edge = _lowest(piece, assembly)
    if edge is None or _inside(piece.outline, HELD_MM) is None:
        return piece, ([], [], []), []
    long, id, deep = float(arc_length(edge.line)[-1]), f"fringe-{n + 1}", HELD_MM + ornament.deep_mm
    many = max(round(long / ornament.pitch_mm), 1)
    at = long * np.arange(1, many) / many
    slits = np.stack([np.column_stack([at, np.full(len(at), v)]) for v in (HELD_MM, deep)], axis=1).reshape(-1, 2)
    outline, around = edged(
        Edge("around", said("around"), frozen([[0, 0], [long, 0], [long, deep], [0, deep]]), "turn")
    )
    stock = other_leather(
        ornament.thick_mm, piece.thickness_mm if piece.laid else 0.0, id, said("leather for a fringe")
    )
    title = said("fringe of the {piece}", piece=piece.title)
    craft = Craft(said("Slit the fringe of the {piece}", piece=piece.title), said(
        "{n} strips, {w} wide and {d} long, before it is sewn on", n=count(many), w=fine(long / many),
        d=length(ornament.deep_mm)))  # fmt: skip
    marks = (Mark("cut", frozen(slits), id=f"ornament/{n}", pairs=True),) if many > 1 else ()
    strip = Piece(id, title, outline, around, stock, count=piece.count, ornament=marks, crafts=(craft,), turns="along")
    sewn = beside(edge.line, CLEAR_MM)
    own = frozen([[0.0, HELD_MM - CLEAR_MM], [long, HELD_MM - CLEAR_MM]])
    join = Join(
        id, title, "line", (Layer(piece.id, id, piece.title), Layer(id, "", title, along=own)),
        Sewing(frozen(sewn), CLEAR_MM, begins=said("one end"), told=True),
    )  # fmt: skip
    sums = [reckon(
        f"ornament/{n}", said("Fringe"), count(many),
        said("{l:n} of edge, strips of {w} at the nearest", l=length(long), w=fine(ornament.pitch_mm)), (f"ornament/{n}",),
    )]  # fmt: skip
    return piece, ([strip], [join], [Seat(id, piece.id, frozen(sewn))]), sums


def row_of(line: Line, pitch_mm: float) -> tuple[Line, float]:
    """Places of an alternating row round a closed line, an even number so that it closes on itself, and their pitch."""
    whole = closed(line)
    around = float(arc_length(whole)[-1])
    n = max(2 * round(around / pitch_mm / 2), 2)
    return walk(whole, around * np.arange(n) / n), around / n


def _inside(ring: Line, by_mm: float) -> Line | None:
    """The line so far within an outline, or where that is less than nothing outside it; None where it has no room."""
    return _beside(np.ascontiguousarray(ring, float).tobytes(), by_mm)


@remembered("seam")
def _beside(outline: bytes, by_mm: float) -> Line | None:
    """By what it lies beside alone: an ornament more moves no other's line."""
    ring = np.frombuffer(outline).reshape(-1, 2)
    area: BaseGeometry = Polygon(ring).buffer(0)
    step = float(np.copysign(FIRST_STEP_MM, by_mm))
    while len(ring) > MANY and abs(by_mm) > abs(step):  # with a little many teeth go: all at once takes as their square
        area = area.buffer(-step, quad_segs=4, join_style="round").simplify(STEP_WITHIN_MM)
        by_mm, step = by_mm - step, 2 * step
    area = area.buffer(-by_mm, join_style="round")
    parts = [g for g in getattr(area, "geoms", [area]) if isinstance(g, Polygon) and g.area > 25]
    if not parts:
        return None
    largest = max(parts, key=lambda g: g.area)
    return frozen(turned_right(shapely.get_coordinates(largest.exterior.simplify(0.03))[:-1]))


def _pinked(piece: Piece, ornament: Ornament) -> Piece:
    """The piece with teeth cut into its edges that are not sewn."""

    def cut(edge: Edge) -> Edge:
        if edge.open not in ("mouth", "free") or edge.grown or len(edge.line) < 2:
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
