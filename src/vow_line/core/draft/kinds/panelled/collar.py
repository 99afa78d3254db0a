"""A collar: a strip on the edges round a neck, upright, or folded over so that a part of it falls outside."""

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
from ....texts import said, verbatim
from ...joins import Join, Layer, Seat, Sewing
from ...pieces import Craft, Edge, Piece, Skive, edged, leather
from .meets import FROM_CUT, LEAST_EDGE_MM, LEAST_LAP, LEAST_LONG_MM, SEWN, EdgeId, long, outward
from .outline import outwards, within

if TYPE_CHECKING:
    from .draft import Cut, Put

FOLD_THIN = 0.5  # what is left of the leather along the fold (from memory)
UP = 0.5  # an edge that looks up by so much may be one of the neck's
FALLS_OVER_MM = 10.0  # what falls is so much longer than what stands, so that the seam is covered (from memory)
COLLAR = said("collar")


class Collar(Frozen):
    """Sewn on at `edge` and on along the edges that follow it over a sewn seam, either way. It stands `stand_mm` high; if it is
    folded, `fall_mm` of it lie over that on the outside.
    """

    edge: EdgeId
    stand_mm: Annotated[float, Field(ge=5, le=200)] = 35.0
    fall_mm: Annotated[float, Field(ge=0, le=300)] = 0.0


def neck(
    edge: str, panels: Mapping[str, tuple[str, ...]], met: Mapping[str, str | None]
) -> tuple[tuple[str, ...], bool]:
    """The edges that follow each other over sewn seams, in the sense in which each goes round its panel, with `edge` among
    them: of each panel the names of its edges in turn, of each edge that is `met` the one it is sewn to, or None. And
    whether it goes all round; it then begins with `edge`.
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


@remembered("run")
def seam_line(
    id: str, shape: Shape, cut: "Cut", margin_mm: float, from_cut_mm: float
) -> tuple[Line, tuple[float, float]]:
    """The line `margin_mm` in from an edge, and how much of its start and of its end lies too near to another cut."""
    line = frozen(outwards(shape.edges[id], -margin_mm))
    start, end = within(line, cut.ring, from_cut_mm)
    return line, (max(start, from_cut_mm), max(end, from_cut_mm))


@dataclass(frozen=True, slots=True, eq=False)
class Part:
    """What of a collar is sewn to one edge: it lies there `from_mm` to `to_mm` along the collar, and its holes on a line
    `(n, 2)` on the panel, which begins `begins_mm` along the collar.
    """

    edge: str
    from_mm: float
    to_mm: float
    line: Line
    begins_mm: float


@dataclass(frozen=True, slots=True, eq=False)
class Neck:
    """All that a collar goes along: the edges in turn, its parts, how long they are together, the edges too short for a seam,
    at which it lies loose, and whether it is closed.
    """

    run: tuple[str, ...]
    parts: tuple[Part, ...]
    long_mm: float
    loose: tuple[str, ...]
    closed: bool


@dataclass(frozen=True, slots=True, eq=False)
class Sewn:
    """A collar as it is cut, and what sews it on."""

    neck: Neck
    piece: Piece
    joins: tuple[Join, ...]
    seats: tuple[Seat, ...]


def neck_at(edge: str, put: "Put") -> Neck | None:
    """The neck that an edge is of; None where the edge is not there, meets another, or has no part that can be sewn."""
    margin, free_mm = put.by.margin_mm, FROM_CUT * put.by.margin_mm
    meets = {e: m for _, m in put.standing for e in (m.a, m.b)}
    if edge not in put.edges or edge in meets:
        return None
    panels = {k: tuple(shape.edges) for k, shape in put.panels.items()}
    met = {e: (m.b if e == m.a else m.a) if m.how in SEWN else None for e, m in meets.items()}
    found, loose, at = [], [], 0.0
    run, closed = neck(edge, panels, met)
    for id in run:
        line, (start, end) = seam_line(id, put.panels[id[0]], put.cuts[id[0]], margin, free_mm)
        beside = [along(panels[id[0]], id, by) for by in (-1, 1)]
        # edges sewn on each other take so much of the neck, and the holes beyond it
        first, last = (put.taken_mm.get(x, 0.0) for x in beside)
        long_mm = max(long(line) - first - last, 0.0)
        start, end = max(start, first + free_mm if first else 0.0), max(end, last + free_mm if last else 0.0)
        if long(line) - start - end >= LEAST_LONG_MM:
            found.append(Part(id, at, at + long_mm, frozen(trim(line, start, end)), at + start - first))
        else:
            loose.append(id)
        at += long_mm
    return Neck(run, tuple(found), at, tuple(loose), closed) if found else None


def sewn_on(collar: Collar, put: "Put") -> Sewn | None:
    """The collar and its seams; None where there is no edge for it."""
    found = neck_at(collar.edge, put)
    if found is None:
        return None
    margin, thick = put.by.margin_mm, put.leather_mm
    folded = fold_mm(collar, thick)
    high, wide = high_mm(collar, margin, thick), found.long_mm
    at = np.array
    outline, edges = edged(
        Edge("top", said("free edge"), at([[0.0, 0.0], [wide, 0.0]]), "free"),
        Edge("right", said("right end"), at([[wide, 0.0], [wide, high]]), "free"),
        Edge("foot", said("foot"), at([[wide, high], [0.0, high]]), "turn"),
        Edge("left", said("left end"), at([[0.0, high], [0.0, 0.0]]), "free"),
    )
    piece = Piece("collar", COLLAR, outline, edges, leather(thick))
    if collar.fall_mm:
        begins, ends = collar.fall_mm, collar.fall_mm + folded
        low, top = begins - min(thick, begins / 2), ends + min(thick, collar.stand_mm / 2)
        band = frozen([[0.0, low], [wide, low], [wide, top], [0.0, top]])
        middle = (begins + ends) / 2
        piece = replace(
            piece, folds=(frozen([[0.0, middle], [wide, middle]]),), side_up="flesh",
            skives=(Skive("fold", said("to half along its fold"), band, thick, FOLD_THIN * thick),),
            crafts=(Craft(said("Fold the collar"), said("damp, along its line, {fall} laid down on the side that is up, "
                                                        "and tapped flat", fall=length(collar.fall_mm))),),
        )  # fmt: skip
    joins, seats = [], []
    for part in found.parts:
        name = verbatim(part.edge)
        seat = Seat(f"neck-{part.edge}", "collar", frozen([[part.from_mm, high - LEAST_LAP * margin],
                                                            [part.to_mm, high - LEAST_LAP * margin]]))  # fmt: skip
        run = part.begins_mm + np.array([0.0, long(part.line)])
        on = frozen(np.column_stack([run, np.full(2, high - margin)]))
        sewing = Sewing(part.line, margin, margin_at="piece.margin_mm", stack_at="leather.thickness_mm",
                        begins=said("the first corner of {a}", a=name), told=True)  # fmt: skip
        layers = (Layer(f"panel-{part.edge[0]}", part.edge, said("panel {letter}", letter=verbatim(part.edge[0]))),
                  Layer("collar", seat.id, COLLAR, along=on))  # fmt: skip
        joins.append(
            Join(f"collar-{part.edge}", said("seam {a} to the collar", a=name), "line", layers, sewing, shaped=True)
        )
        seats.append(seat)
    return Sewn(found, piece, tuple(joins), tuple(seats))


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
    up = {id: line for id, line in put.edges.items()
          if id not in taken and long(line) >= LEAST_EDGE_MM and outward(line)[1] < -UP}  # fmt: skip
    likeliest = sorted(up, key=lambda id: -_hollow(up[id]))
    return next((Collar(edge=id) for id in likeliest if neck_at(id, put) is not None), None)


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
    if offers is None:
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
    wide = sewn.neck.long_mm
    yield Callout("piece.collar.stand_mm", said("collar stands"), "length", collar.stand_mm, (wide, top), "right", "collar",
                  on="collar", to=(wide, top + collar.stand_mm))  # fmt: skip
    yield Callout("piece.collar.fall_mm", said("collar falls"), "length", collar.fall_mm, (0.0, 0.0), "left", "collar",
                  on="collar", to=(0.0, collar.fall_mm), part=said("a fold of the collar"),
                  usual=collar.stand_mm + FALLS_OVER_MM)  # fmt: skip


def reckonings(put: "Put") -> Iterator[Reckoning]:
    """How long it is cut, and how high."""
    collar, sewn, thick = put.by.collar, put.collar, put.leather_mm
    if collar is None or sewn is None:
        return
    names = verbatim(" + ".join(sewn.neck.run))
    ends = said("all round: its ends meet at the first corner of {edge}", edge=verbatim(collar.edge))
    yield reckon("collar-long", said("Cut the collar, long"), length(sewn.neck.long_mm),
                 said("the seam along {edges}, {m} in", edges=names, m=length(put.by.margin_mm)), ("collar",),
                 (ends,) if sewn.neck.closed else ())  # fmt: skip
    under = said("{n:n} × {m:n} under the neck's edge", n=count(int(LEAST_LAP)), m=length(put.by.margin_mm))
    says = said("{stand:n} standing + {fall:n} falling + {fold:n} for the fold, π/2 × {t} + {under}",
                fall=length(collar.fall_mm), fold=length(fold_mm(collar, thick)), t=Q("leather", thick),
                ) if collar.fall_mm else said("{stand:n} standing + {under}")  # fmt: skip
    yield reckon("collar-high", said("Cut the collar, high"), length(high_mm(collar, put.by.margin_mm, thick)),
                 says.filled(stand=length(collar.stand_mm), under=under), ("collar",))  # fmt: skip


def findings(put: "Put") -> Iterator[Finding]:
    """A collar on an edge that is not there, or meets another; what of it is not sewn; a fold that does not cover its
    seam.
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
    if 0 < collar.fall_mm < collar.stand_mm + put.by.margin_mm:
        covers = round(collar.stand_mm + FALLS_OVER_MM, 1)
        yield Finding(
            "look", "collar-short", "draft",
            said("The collar falls {fall} and stands {stand}: what falls does not cover the seam at its foot.",
                 fall=length(collar.fall_mm), stand=length(collar.stand_mm)), "piece.collar.fall_mm",
            Mend(said("{fall} of it falls", fall=length(covers)), (("piece.collar.fall_mm", covers),)),
        )  # fmt: skip
