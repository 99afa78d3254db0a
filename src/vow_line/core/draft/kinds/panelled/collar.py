"""A collar: strips on the edges round a neck, upright, or folded over so that a part of it falls outside; where a lacing parts
the neck they slide over each other.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Annotated

import numpy as np
from pydantic import Field

from ....curve import Line, frozen, trim, walk
from ....drawing import Callout
from ....finding import Finding, Mend
from ....frozen import Frozen
from ....measure.body import Shape
from ....memory import remembered
from ....quantity import Q
from ....reckoning import Reckoning, count, length, reckon
from ....texts import Said, said, summed, verbatim
from ...joins import Join, Layer, Seat, Sewing
from ...pieces import Craft, Edge, Piece, Skive, edged, leather
from .meets import ADJUSTS, FROM_CUT, LEAST_EDGE_MM, LEAST_LAP, LEAST_LONG_MM, SEWN, EdgeId, long, outward
from .outline import Cut, inside

if TYPE_CHECKING:
    from .put import Put

FOLD_THIN = 0.5  # what is left of the leather along the fold (from memory)
UP = 0.5  # an edge that looks up by so much may be one of the neck's
FALLS_OVER_MM = 10.0  # what falls is so much longer than what stands, so that the seam is covered (from memory)
OVER_MM = 40.0  # parts that slide over each other do so by this, as drafted (from memory)
COLLAR = said("collar")


class Collar(Frozen):
    """Sewn on at `edge` and on along the edges that follow it over a sewn seam, either way. It stands `stand_mm` high; if it is
    folded, `fall_mm` of it lie over that on the outside. Where a lacing parts the neck it ends, or, if `over_mm`, goes on as a
    strip of its own, and the two lie over each other by that much.
    """

    edge: EdgeId
    stand_mm: Annotated[float, Field(ge=5, le=200)] = 35.0
    fall_mm: Annotated[float, Field(ge=0, le=300)] = 0.0
    over_mm: Annotated[float, Field(ge=0, le=150)] = 0.0


def neck(
    edge: str, panels: Mapping[str, tuple[str, ...]], met: Mapping[str, str | None]
) -> tuple[tuple[str, ...], bool]:
    """The edges that follow each other over what it goes on over, in the sense in which each goes round its panel, with `edge`
    among them: of each panel the names of its edges in turn, of each edge that is `met` the one beyond which the next follows,
    or None. And whether it goes all round; it then begins with `edge`.
    """

    def beyond(id: str, by: int) -> str | None:
        there = met.get(along(panels[id[0]], id, by))
        onto = None if there is None else along(panels[there[0]], there, by)
        return None if onto is None or onto in met else onto

    run = [edge]
    while (after := beyond(run[-1], 1)) is not None and after not in run:
        run.append(after)
    while (before := beyond(run[0], -1)) is not None and before not in run:
        run.insert(0, before)
    return tuple(run), beyond(run[-1], 1) == run[0]


def along(around: tuple[str, ...], id: str, by: int) -> str:
    """The edge so many on from one, round its panel."""
    return around[(around.index(id) + by) % len(around)]


@dataclass(frozen=True, slots=True, eq=False)
class Part:
    """What of a strip is sewn to one edge: it lies there `from_mm` to `to_mm` along the strip, and its holes on a line
    `(n, 2)` on the panel, which begins `begins_mm` along the strip.
    """

    edge: str
    from_mm: float
    to_mm: float
    line: Line
    begins_mm: float


@dataclass(frozen=True, slots=True, eq=False)
class Strip:
    """One strip of a collar: the edges it goes along in turn, its parts, how long it is cut, how much of that lies over or
    under another strip beyond its first edge and beyond its last, and the edges too short for a seam, at which it lies loose.
    """

    run: tuple[str, ...]
    parts: tuple[Part, ...]
    long_mm: float
    beyond_mm: tuple[float, float]
    loose: tuple[str, ...]


@dataclass(frozen=True, slots=True, eq=False)
class Neck:
    """All that a collar goes along: its strips in turn; whether it is closed; and the edges that are laced where one strip lies
    over the next, with how far apart they are.
    """

    strips: tuple[Strip, ...]
    closed: bool
    laced: tuple[tuple[str, float], ...]

    @property
    def parts(self) -> tuple[Part, ...]:
        """What is sewn, of all strips."""
        return tuple(part for strip in self.strips for part in strip.parts)

    @property
    def loose(self) -> tuple[str, ...]:
        """The edges too short for a seam."""
        return tuple(id for strip in self.strips for id in strip.loose)


@dataclass(frozen=True, slots=True, eq=False)
class Sewn:
    """A collar as it is cut, a piece for each strip, and what sews them on."""

    neck: Neck
    pieces: tuple[Piece, ...]
    joins: tuple[Join, ...]
    seats: tuple[Seat, ...]


def neck_at(edge: str, put: "Put", over_mm: float = 0.0) -> Neck | None:
    """The neck that an edge is of, over lacings too if strips lie `over_mm` over each other there; None where the edge is not
    there, meets another, or has no part that can be sewn.
    """
    meets = {e: m for _, m in put.standing for e in (m.a, m.b)}
    if edge not in put.edges or edge in meets:
        return None
    panels = {k: tuple(shape.edges) for k, shape in put.panels.items()}
    over = (*SEWN, *ADJUSTS) if over_mm else SEWN
    met = {e: (m.b if e == m.a else m.a) if m.how in over else None for e, m in meets.items()}
    run, closed = neck(edge, panels, met)
    after = [meets.get(along(panels[id[0]], id, 1)) for id in run]
    parted = (
        [k for k, m in enumerate(after) if m and m.how in ADJUSTS and (closed or k + 1 < len(run))] if over_mm else []
    )
    if closed and parted:  # it is open where the first of them is
        n = parted[0] + 1
        run, after = run[n:] + run[:n], after[n:] + after[:n]
        parted = [(k - n) % len(run) for k in parted]
    laced = tuple((along(panels[run[k][0]], run[k], 1), m.gap_mm) for k in sorted(parted) if (m := after[k]))
    ends = sorted({*parted, len(run) - 1})
    runs = [run[k + 1 : n + 1] for k, n in zip([-1, *ends], ends, strict=False)]
    ring = closed and bool(parted)
    beyond = [
        (over_mm / 2 if k or ring else 0.0, over_mm / 2 if ring or k + 1 < len(runs) else 0.0) for k in range(len(runs))
    ]
    strips = tuple(_strip_along(ids, put, by) for ids, by in zip(runs, beyond, strict=True))
    return Neck(strips, closed and not parted, laced) if any(s.parts for s in strips) else None


def _strip_along(run: tuple[str, ...], put: "Put", beyond_mm: tuple[float, float]) -> Strip:
    """The strip along some edges in turn, so much longer at its ends."""
    panels = tuple((put.panels[id[0]], put.cuts[id[0]]) for id in run)
    beside = [[along(tuple(shape.edges), id, by) for by in (-1, 1)] for id, (shape, _) in zip(run, panels, strict=True)]
    taken = tuple((put.taken_mm.get(a, 0.0), put.taken_mm.get(b, 0.0)) for a, b in beside)
    return _strip(run, panels, taken, put.by.margin_mm, beyond_mm)


@remembered("run")
def _strip(
    run: tuple[str, ...], panels: tuple[tuple[Shape, Cut], ...], taken_mm: tuple[tuple[float, float], ...], margin: float,
    beyond_mm: tuple[float, float],
) -> Strip:  # fmt: skip
    """The same, of the panels of these edges; edges sewn on each other take so much of the neck beside each of them. As traced,
    edges that are laced end in the middle between them.
    """
    free_mm = FROM_CUT * margin
    found, loose, at = [], [], beyond_mm[0]
    for id, (shape, cut), (first, last) in zip(run, panels, taken_mm, strict=True):
        line, (start, end) = inside(shape, id, margin, cut, free_mm)
        start, end = max(start, free_mm), max(end, free_mm)
        long_mm = max(long(line) - first - last, 0.0)
        start, end = max(start, first + free_mm if first else 0.0), max(end, last + free_mm if last else 0.0)
        if long(line) - start - end >= LEAST_LONG_MM:
            found.append(Part(id, at, at + long_mm, frozen(trim(line, start, end)), at + start - first))
        else:
            loose.append(id)
        at += long_mm
    return Strip(run, tuple(found), at + beyond_mm[1], beyond_mm, tuple(loose))


def title_of(k: int, n: int) -> Said:
    """What the strip of that number is called, of so many."""
    if n == 1:
        return COLLAR
    if n == 2:
        return said("collar, second half") if k else said("collar, first half")
    return said("collar, part {k}", k=k + 1)


def sewn_on(collar: Collar, put: "Put") -> Sewn | None:
    """The collar and its seams; None where there is no edge for it."""
    found = neck_at(collar.edge, put, collar.over_mm)
    if found is None:
        return None
    pieces, joins, seats = [], [], []
    n = len(found.strips)
    for k, strip in enumerate(found.strips):
        id, title = "collar" if n == 1 else f"collar-{k + 1}", title_of(k, n)
        pieces.append(_piece(id, title, collar, strip.long_mm, put))
        for part in strip.parts:
            join, seat = _seam(part, id, title, high_mm(collar, put.by.margin_mm, put.leather_mm), put.by.margin_mm)
            joins.append(join)
            seats.append(seat)
    return Sewn(found, tuple(pieces), tuple(joins), tuple(seats))


def _piece(id: str, title: Said, collar: Collar, wide: float, put: "Put") -> Piece:
    """A strip as it is cut."""
    thick, at = put.leather_mm, np.array
    high, folded = high_mm(collar, put.by.margin_mm, thick), fold_mm(collar, thick)
    outline, edges = edged(
        Edge("top", said("free edge"), at([[0.0, 0.0], [wide, 0.0]]), "free"),
        Edge("right", said("right end"), at([[wide, 0.0], [wide, high]]), "free"),
        Edge("foot", said("foot"), at([[wide, high], [0.0, high]]), "turn"),
        Edge("left", said("left end"), at([[0.0, high], [0.0, 0.0]]), "free"),
    )
    piece = Piece(id, title, outline, edges, leather(thick))
    if not collar.fall_mm:
        return piece
    begins, ends = collar.fall_mm, collar.fall_mm + folded
    low, top = begins - min(thick, begins / 2), ends + min(thick, collar.stand_mm / 2)
    band = frozen([[0.0, low], [wide, low], [wide, top], [0.0, top]])
    middle = (begins + ends) / 2
    fold = said("Fold the collar") if id == "collar" else said("Fold the {piece}", piece=title)
    return replace(
        piece, folds=(frozen([[0.0, middle], [wide, middle]]),), side_up="flesh",
        skives=(Skive("fold", said("to half along its fold"), band, thick, FOLD_THIN * thick),),
        crafts=(Craft(fold, said("damp, along its line, {fall} laid down on the side that is up, "
                                 "and tapped flat", fall=length(collar.fall_mm))),),
    )  # fmt: skip


def _seam(part: Part, on: str, title: Said, high: float, margin: float) -> tuple[Join, Seat]:
    """What sews a part of a strip to its edge."""
    name = verbatim(part.edge)
    foot = high - LEAST_LAP * margin
    seat = Seat(f"neck-{part.edge}", on, frozen([[part.from_mm, foot], [part.to_mm, foot]]))
    run = part.begins_mm + np.array([0.0, long(part.line)])
    along_it = frozen(np.column_stack([run, np.full(2, high - margin)]))
    sewing = Sewing(part.line, margin, margin_at="piece.margin_mm", stack_at="leather.thickness_mm",
                    begins=said("the first corner of {a}", a=name), told=True)  # fmt: skip
    layers = (Layer(f"panel-{part.edge[0]}", part.edge, said("panel {letter}", letter=verbatim(part.edge[0]))),
              Layer(on, seat.id, title, along=along_it))  # fmt: skip
    says = said("seam {a} to the collar", a=name)
    return Join(f"collar-{part.edge}", says, "line", layers, sewing, shaped=True), seat


def fold_mm(collar: Collar, thick_mm: float) -> float:
    """What a fold takes: half a turn of its middle layer, `π/2` of the leather; nothing where there is none."""
    return np.pi / 2 * thick_mm if collar.fall_mm else 0.0


def high_mm(collar: Collar, margin_mm: float, thick_mm: float) -> float:
    """How high it is cut: what stands, what falls and the fold between, and what lies under the neck's edge."""
    return collar.fall_mm + fold_mm(collar, thick_mm) + collar.stand_mm + LEAST_LAP * margin_mm


def usual(put: "Put") -> Collar | None:
    """A collar on the edge that is likeliest to be the neck's: one that looks up, meets nothing, and is hollow, the hollowest;
    None where no edge that looks up has room for its seam.
    """
    taken = {e for _, m in put.standing for e in (m.a, m.b)}
    up = {id: hollow for shape in put.panels.values() for id, hollow in _up(shape).items() if id not in taken}
    likeliest = sorted(up, key=lambda id: -up[id])
    return next((Collar(edge=id) for id in likeliest if neck_at(id, put) is not None), None)


@remembered("piece")
def _up(shape: Shape) -> Mapping[str, float]:
    """How hollow each edge of a panel is that looks up."""
    up = {id: line for id, line in shape.edges.items() if long(line) >= LEAST_EDGE_MM and outward(line)[1] < -UP}
    return {id: _hollow(line) for id, line in up.items()} if len(shape.edges) > 1 else {}


def _hollow(line: Line) -> float:
    """How deep an edge dips into its panel below its chord."""
    return float(((line[0] - line) @ outward(line)).max())


def _middle(line: Line) -> tuple[float, float]:
    x, y = walk(line, [0.5 * long(line)])[0].tolist()
    return x, y


def callouts(put: "Put") -> Iterator[Callout]:
    """Whether there is one, and its values."""
    collar, sewn = put.by.collar, put.collar
    offers = collar or usual(put)
    if offers is None or (collar is None and put.body.hand):  # a hand has no neck
        return
    on = f"panel-{offers.edge[0]}" if offers.edge in put.edges else ""
    at = _middle(put.edges[offers.edge]) if on else (0.0, 0.0)
    yield Callout("piece.collar", COLLAR, "count", collar, at, "right", on=on, choices=(said("no collar"), said("a collar")),
                  meant=(None, offers), part=said("a collar"), usual=offers)  # fmt: skip
    if collar is None:
        return
    ids = tuple(put.edges)
    yield Callout("piece.collar.edge", said("collar, on the edge"), "count", collar.edge, at, "right", on=on,
                  choices=tuple(said("{name}", name=verbatim(id)) for id in ids), meant=ids, seldom=True)  # fmt: skip
    if sewn is None:
        return
    top = float(fold_mm(collar, put.leather_mm)) + collar.fall_mm
    first, wide = sewn.pieces[0].id, sewn.neck.strips[0].long_mm
    yield Callout("piece.collar.stand_mm", said("collar stands"), "length", collar.stand_mm, (wide, top), "right", first,
                  on=first, to=(wide, top + collar.stand_mm))  # fmt: skip
    yield Callout("piece.collar.fall_mm", said("collar falls"), "length", collar.fall_mm, (0.0, 0.0), "left", first,
                  on=first, to=(0.0, collar.fall_mm), part=said("a fold of the collar"),
                  usual=collar.stand_mm + FALLS_OVER_MM)  # fmt: skip
    if collar.over_mm or _at_lacing(collar, put):
        high = high_mm(collar, put.by.margin_mm, put.leather_mm)
        ends = next((k for k, strip in enumerate(sewn.neck.strips) if strip.beyond_mm[1]), 0)
        there, end = sewn.pieces[ends].id, sewn.neck.strips[ends].long_mm
        yield Callout("piece.collar.over_mm", said("parts of the collar lie over each other"), "length", collar.over_mm,
                      (end, 0.5 * high), "right", there, on=there,
                      to=(end - collar.over_mm, 0.5 * high) if sewn.neck.laced else None,
                      part=said("parts of the collar that slide at a lacing"), usual=OVER_MM)  # fmt: skip


def _at_lacing(collar: Collar, put: "Put") -> bool:
    """Whether a lacing parts the neck it is on, and there is an edge for it beyond."""
    found = neck_at(collar.edge, put, OVER_MM)
    return found is not None and bool(found.laced)


def reckonings(put: "Put") -> Iterator[Reckoning]:
    """How long it is cut, and how high."""
    collar, sewn, thick = put.by.collar, put.collar, put.leather_mm
    if collar is None or sewn is None:
        return
    ends = said("all round: its ends meet at the first corner of {edge}", edge=verbatim(collar.edge))
    for piece, strip in zip(sewn.pieces, sewn.neck.strips, strict=True):
        names = summed([verbatim(edge) for edge in strip.run])
        says = said("the seam along {edges}, {m} in").filled(edges=names, m=length(put.by.margin_mm))
        beyond = sum(x > 0 for x in strip.beyond_mm)
        if beyond:
            says = said("the seam along {edges}, {m} in, + {n:n} × half of {over}").filled(
                edges=names, m=length(put.by.margin_mm), n=count(beyond), over=length(collar.over_mm))  # fmt: skip
        title = (
            said("Cut the collar, long") if piece.id == "collar" else said("Cut the {piece}, long", piece=piece.title)
        )
        yield reckon(
            piece.id + "-long", title, length(strip.long_mm), says, (piece.id,), (ends,) if sewn.neck.closed else ()
        )
    for edge, gap_mm in sewn.neck.laced:
        yield reckon(f"collar-over-{edge}", said("Over each other at {edge}", edge=verbatim(edge)), length(collar.over_mm),
                     said("as drafted, laced {gap} apart; {shut} laced shut; let out by more than {over} the collar gapes",
                          gap=length(gap_mm), shut=length(collar.over_mm + gap_mm), over=length(collar.over_mm)),
                     tuple(p.id for p in sewn.pieces))  # fmt: skip
    under = said("{n:n} × {m:n} under the neck's edge", n=count(int(LEAST_LAP)), m=length(put.by.margin_mm))
    says = said("{stand:n} standing + {fall:n} falling + {fold:n} for the fold, π/2 × {t} + {under}",
                fall=length(collar.fall_mm), fold=length(fold_mm(collar, thick)), t=Q("leather", thick),
                ) if collar.fall_mm else said("{stand:n} standing + {under}")  # fmt: skip
    yield reckon("collar-high", said("Cut the collar, high"), length(high_mm(collar, put.by.margin_mm, thick)),
                 says.filled(stand=length(collar.stand_mm), under=under), tuple(p.id for p in sewn.pieces))  # fmt: skip


def findings(put: "Put") -> Iterator[Finding]:
    """A collar on an edge that is not there, or meets another; what of it is not sewn; parts that are to slide where nothing is
    laced, or reach beyond each other; a fold that does not cover its seam.
    """
    collar = put.by.collar
    if collar is None:
        return
    if put.collar is None:
        edge = verbatim(collar.edge)
        offers = usual(put)
        off = Mend(said("no collar"), (("piece.collar", None),))
        yield Finding(
            "hold", "collar-nowhere", "draft",
            said("The collar is to go on {edge}, but there is no such edge.", edge=edge) if collar.edge not in put.edges
            else said("The collar is to go on {edge}, but that meets another edge, or is too short for a seam.", edge=edge),
            "piece.collar.edge",
            off if offers is None else Mend(said("on {edge}", edge=verbatim(offers.edge)),
                                            (("piece.collar.edge", offers.edge),)),
            () if offers is None else (off,),
        )  # fmt: skip
        return
    for id in put.collar.neck.loose:
        yield Finding(
            "look", "collar-loose", "draft",
            said("Along {edge} the collar is not sewn: there is no room for a seam between its corners.", edge=verbatim(id)),
            "piece.collar.edge",
        )  # fmt: skip
    strips, none = put.collar.neck.strips, (("piece.collar.over_mm", 0.0),)
    if collar.over_mm and not put.collar.neck.laced:
        yield Finding(
            "look", "collar-no-lacing", "draft",
            said("Parts of the collar are to lie over each other, but no lacing parts its neck: it is one strip."),
            "piece.collar.over_mm", Mend(said("in one"), none),
        )  # fmt: skip
    least = min(strip.long_mm - sum(strip.beyond_mm) for strip in strips)
    if put.collar.neck.laced and collar.over_mm / 2 > least:
        yield Finding(
            "hold", "collar-over", "draft",
            said("Parts of the collar lie {over} over each other, but one of them is only {long} long on its edge.",
                 over=length(collar.over_mm), long=length(least)), "piece.collar.over_mm",
            Mend(said("in one, to the lacing"), none),
        )  # fmt: skip
    if 0 < collar.fall_mm < collar.stand_mm + put.by.margin_mm:
        covers = round(collar.stand_mm + FALLS_OVER_MM, 1)
        yield Finding(
            "look", "collar-short", "draft",
            said("The collar falls {fall} and stands {stand}: what falls does not cover the seam at its foot.",
                 fall=length(collar.fall_mm), stand=length(collar.stand_mm)), "piece.collar.fall_mm",
            Mend(said("{fall} of it falls", fall=length(covers)), (("piece.collar.fall_mm", covers),)),
        )  # fmt: skip
