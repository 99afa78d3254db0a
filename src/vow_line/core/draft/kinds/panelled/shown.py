"""What is shown of panels: values and sums."""

from collections.abc import Iterator
from typing import TYPE_CHECKING, Literal

import numpy as np
import shapely

from ....curve import Line, walk
from ....drawing import Callout
from ....measure.body import Shape
from ....memory import remembered
from ....quantity import Q
from ....reckoning import Reckoning, count, length, percent, reckon
from ....reckoning import long as long_length
from ....texts import Said, said, verbatim
from ...closures import KNOT_MM, lace_mm
from ...ornament import CLEAR_MM, LAP_MM
from . import collar
from .checks import AtLevel, at_levels, fingers_inside
from .closed import gaps_mm, loop_of_mm
from .folded import THIN, wide_mm
from .meets import DRAWN, HOWS, LAPPED, SEWN, Meet, long

if TYPE_CHECKING:
    from .put import Put

HOW = tuple(HOWS.values())
HOLES = (said("spaced anew"), said("kept"))
KEEPS = {"a": said("{a}"), "b": said("{b}"), "mean": said("their mean"), "neither": said("neither")}


def callouts(put: "Put") -> tuple[Callout, ...]:
    """The values on the board."""
    by = put.by
    first = next(iter(put.panels), "")
    ring = put.cuts[first].ring if first else np.zeros((1, 2))
    x, y = ring.max(axis=0).tolist()
    last = [first, *put.panels][-1]
    foot = put.cuts[last].ring.max(axis=0).tolist() if last else [x, y]
    given = [Callout("leather.thickness_mm", said("leather"), "leather", put.leather_mm, (foot[0] * 0.6, foot[1]), "below",
                     f"panel-{last}", on=f"panel-{last}" if last != first else "")]  # fmt: skip
    anew = [(k, m) for k, m in put.made if m.how in SEWN and not put.kept(m)]
    sewn, margin = (anew[0] if anew else None), said("thread to the cut")
    if sewn is None and put.made and all(put.kept(m) for _, m in put.made):
        pass  # the holes are where they are
    elif sewn is None:
        given.append(Callout("piece.margin_mm", margin, "length", by.margin_mm, (x * 0.3, y), "below", seldom=True))
    else:
        one = put.along[sewn[0]][0]
        at = walk(one, [0.5 * long(one)])[0]
        line = shapely.LineString(put.cuts[sewn[1].a[0]].edges[sewn[1].a])
        on_cut = line.interpolate(line.project(shapely.Point(at)))
        given.append(Callout("piece.margin_mm", margin, "length", by.margin_mm, _point(at), "left", f"meet-{sewn[0]}",
                             on=f"panel-{sewn[1].a[0]}", to=(float(on_cut.x), float(on_cut.y))))  # fmt: skip
    if any(m.how == "bound" for _, m in put.made):
        given.append(
            Callout("piece.bind_mm", said("binding, thick"), "length", by.bind_mm, (x, y * 0.7), "right", seldom=True)
        )
    if put.body.levels:
        given.append(Callout("piece.ease_mm", said("looser than read"), "length", by.ease_mm, (0.0, y * 0.5), "left"))
    if put.rows:
        k, meet = next((k, m) for k, m in put.standing if k in put.rows)
        row, on = put.rows[k][0], f"panel-{meet.a[0]}"
        given += [
            Callout("piece.spacing_mm", said("closures apart, at most"), "length", by.spacing_mm, _point(row[0]), "left",
                    on=on, to=_point(row[1])),
            Callout("piece.ends_mm", said("first one in from the end"), "length", by.ends_mm, _point(row[-1]), "left", on=on),
            Callout("piece.hole_mm", said("holes, wide"), "length", by.hole_mm, _point(row[0]), "left", on=on, seldom=True),
        ]  # fmt: skip
        if any(m.how in DRAWN for _, m in put.standing):
            given.append(Callout("piece.in_mm", said("holes, in from the edge"), "length", by.in_mm, _point(row[-1]), "left",
                                 on=on, seldom=True))  # fmt: skip
        if any(m.how == "buttons" for _, m in put.standing):
            given += [
                Callout("piece.button_mm", said("buttons, wide"), "length", by.button_mm, _point(row[-1]), "left", on=on,
                        seldom=True),
                Callout("piece.high_mm", said("buttons, thick"), "length", by.high_mm, _point(row[-1]), "left", on=on,
                        seldom=True),
            ]  # fmt: skip
    given.append(Callout("piece.asked", said("edges that are alike"), "count", by.asked, (x, y), "right",
                         choices=(said("asked about"), said("all asked about"), said("not asked about")),
                         meant=(True, "all", False), seldom=True))  # fmt: skip
    if len(put.made) > 1:
        given.append(Callout("piece.order", said("sewn"), "count", by.order, (x, y), "right",
                             choices=(said("as they are listed"), said("the last first")), meant=("listed", "last-first"),
                             seldom=True))  # fmt: skip
    return (*given, *collar.callouts(put), *_meetings(put), *_halves(put))


def _meetings(put: "Put") -> list[Callout]:
    made, ids, order = dict(put.standing), tuple(put.edges), list(put.panels)
    given: list[Callout] = []
    for k, meet in enumerate(put.by.meets):
        there = [e for e in (meet.b, meet.a) if e in put.edges]
        # on the outermost of the two
        last = next((e for e in there if e[0] == order[-1]), None)
        edge = last or next((e for e in there if e[0] == order[0]), (there or [""])[-1])
        left = bool(edge) and order.index(edge[0]) < len(order) / 2
        given += _meeting(k, meet, k in made, k in made and all(put.old_rows(meet)), put.kept(meet) is not None,
                          put.panels[edge[0]] if edge else None, edge, left, ids)  # fmt: skip
    return given


@remembered("part")
def _names(ids: tuple[str, ...]) -> tuple[Said, ...]:
    return tuple(said("{name}", name=verbatim(id)) for id in ids)


@remembered("run")
def _meeting(
    k: int, meet: Meet, made: bool, rows: bool, kept: bool, shape: Shape | None, edge: str, left: bool, ids: tuple[str, ...]
) -> tuple[Callout, ...]:  # fmt: skip
    """The choices of a meeting, which is `made` or not, of edges with old `rows` of holes, `kept` or not: in the middle of an
    `edge` of the panel of that `shape`, on the left or the right.
    """
    names = _names(ids)
    line = shape.edges[edge] if shape else None
    at, on = (
        (0.0, 0.0) if line is None else _point(walk(line, [0.5 * long(line)])[0]),
        f"panel-{edge[0]}" if edge else "",
    )
    side: Literal["left", "right"] = "left" if left else "right"
    path, mark, pair = f"piece.meets.{k}", f"meet-{k}", {"a": verbatim(meet.a), "b": verbatim(meet.b)}
    given = [Callout(f"{path}.how", said("{a} meets {b}").filled(**pair), "count", meet.how, at, side, mark, on=on,
                     choices=HOW, meant=tuple(HOWS), seldom=not made)]  # fmt: skip
    if rows and meet.how in SEWN and meet.how != "folded":
        given.append(Callout(f"{path}.holes", said("holes of {a} and {b}").filled(**pair), "count", meet.holes, at, side,
                             mark, on=on, choices=HOLES, meant=("anew", "kept"), seldom=True))  # fmt: skip
    if made and meet.how in (*LAPPED, "studs") and not kept:
        given.append(Callout(f"{path}.under_mm", said("{b} under {a}").filled(**pair), "length", meet.under_mm, at, side,
                             mark, on=on, seldom=True))  # fmt: skip
    if made and meet.how in DRAWN:
        given.append(Callout(f"{path}.gap_mm", said("{a} and {b} apart").filled(**pair), "length", meet.gap_mm, at, side,
                             mark, on=on, seldom=True))  # fmt: skip
    says = said("meeting {k}: edge", k=k + 1), said("meeting {k}: meets", k=k + 1)
    given += _one_of((f"{path}.a", f"{path}.b"), says, (meet.a, meet.b), names, ids, at, on, mark)
    return tuple(given)


def _halves(put: "Put") -> list[Callout]:
    given: list[Callout] = []
    ids = tuple(put.panels)
    names = tuple(said("{name}", name=verbatim(id)) for id in ids)
    for k, both in enumerate(put.by.halves):
        there = both.b in put.panels
        at, on = (_point(put.cuts[both.b].ring.mean(axis=0)), f"panel-{both.b}") if there else ((0.0, 0.0), "")
        path, pair = f"piece.halves.{k}", {"a": verbatim(both.a), "b": verbatim(both.b)}
        given.append(Callout(f"{path}.keep", said("better half of {a} and {b}").filled(**pair), "count", both.keep, at, "right",
                             on=on, choices=tuple(v.filled(**pair) for v in KEEPS.values()), meant=tuple(KEEPS),
                             seldom=True))  # fmt: skip
        says = said("halves {k}: the one", k=k + 1), said("halves {k}: the other", k=k + 1)
        given += _one_of((f"{path}.a", f"{path}.b"), says, (both.a, both.b), names, ids, at, on)
    return given


def _one_of(
    paths: tuple[str, str], says: tuple[Said, Said], now: tuple[str, str], names: tuple[Said, ...], ids: tuple[str, ...],
    at: tuple[float, float], on: str, mark: str = ""
) -> list[Callout]:  # fmt: skip
    """Which of some edges or panels it is, for either of two."""
    return [
        Callout(path, title, "count", value, at, "right", mark, on=on, choices=names, meant=ids, seldom=True)
        for path, title, value in zip(paths, says, now, strict=True) if ids
    ]  # fmt: skip


def _point(at: Line) -> tuple[float, float]:
    return float(at[0]), float(at[1])


def _wanted(lining_mm: float) -> Said:
    """How the girth that is wanted is added up."""
    if lining_mm:
        return said("{wants} wanted: {girth:n} round + {ease:n} ease + 2π × (50 % of {t} + {l} lining, all round)")
    return said("{wants} wanted: {girth:n} round + {ease:n} ease + 2π × 50 % of {t}")


def _parts(at: AtLevel) -> Iterator[Said]:
    """What the sums of a level are made of, where they are not as traced."""
    if at.taken_mm:
        yield said("{w:n} across the panels − {d} that sewn edges take", w=length(at.across_mm), d=length(at.taken_mm))
    if at.lining_mm:
        yield said(
            "lining, all round: of each panel its thickness × its width, ÷ {w} across all", w=length(at.across_mm)
        )


def reckonings(put: "Put") -> tuple[Reckoning, ...]:
    """The sums."""
    sums = []
    for k, meet in put.standing:
        a, b = put.lengths_mm(k, meet)
        sums.append(reckon(
            f"meet-{k}", said("{a} and {b} differ by", a=verbatim(meet.a), b=verbatim(meet.b)), length(abs(a - b)),
            said("{a:n} and {b} where they meet, {s} apart", a=length(a), b=length(b),
                 s=percent(abs(a - b) / max(a, b, 1e-9))), (f"meet-{k}",),
        ))  # fmt: skip
        if meet.how == "folded":
            sums.append(reckon(
                f"turn-{k}", said("Turned in at {a}", a=verbatim(meet.a)), length(wide_mm(put.by.margin_mm)),
                said("2 × {m} from its fold; {b} of it cut beyond the edge as traced, (2 − π/2) × {k} of {t} less: so much it "
                     "saves as it turns, thinned", m=length(put.by.margin_mm), b=length(put.moved_mm.get(meet.a, 0.0)),
                     k=percent(THIN), t=Q("leather", put.leather_mm)),
                (f"meet-{k}",),
            ))  # fmt: skip
    for at in at_levels(put):
        sums.append(reckon(
            f"level-{at.k}", said("Round the {level}, the panels give", level=at.name), length(at.gives_mm),
            _wanted(at.lining_mm).filled(wants=length(at.wants_mm), girth=length(at.girth_mm), ease=length(put.by.ease_mm),
                                         t=Q("leather", put.leather_mm), l=length(at.lining_mm)), (f"level-{at.k}",),
            tuple(_parts(at)),
        ))  # fmt: skip
    for f in fingers_inside(put):
        sums.append(reckon(
            f"finger-{f.edge}-{f.name.template}", said("{finger} inside, {letter}", finger=f.name, letter=verbatim(f.edge[0])),
            length(f.long_mm - f.taken_mm),
            (said("{long:n} of the pattern − {taken} that its seam and lining take; read as {read}, {room} of room")
             if put.thick.get(f"panel-{f.edge[0]}") else
             said("{long:n} of the pattern − {taken} that its seam takes; read as {read}, {room} of room")).filled(
                 long=length(f.long_mm), taken=length(f.taken_mm), read=length(f.read_mm), room=length(f.room_mm)),
            (f"panel-{f.edge[0]}",),
        ))  # fmt: skip
    for k, meet in put.standing:
        if k not in put.rows:
            continue
        n = len(put.rows[k][0])
        each = min(long(line) for line in put.along[k])
        sums.append(reckon(
            f"row-{k}", said("Closures on {a}", a=verbatim(meet.a)), count(n),
            said("({h:n} − 2 × {m:n}) over {s}, and one more", h=length(each), m=length(put.by.ends_mm),
                 s=length(put.by.spacing_mm)), (f"row-{meet.a}",),
        ))  # fmt: skip
        if meet.how == "laced":
            gaps = gaps_mm(meet, put.by.in_mm, n)
            sums.append(reckon(
                f"lace-{k}", said("Lace of {a}", a=verbatim(meet.a)),
                long_length(lace_mm(put.rows[k], gaps, put.leather_mm)),
                said("{g} across, then crossing to each of {n} more on either side, {m} × {t} through, and 2 tails",
                     g=length(float(gaps[0])), n=count(n - 1), m=count(2 * n), t=Q("leather", put.leather_mm)),
                (f"row-{meet.a}",),
            ))  # fmt: skip
        if meet.how == "buttons":
            lace = loop_of_mm(meet, put.by.in_mm, put.by.button_mm, put.by.high_mm)
            sums.append(reckon(
                f"loops-{k}", said("Lace for a loop of {b}", b=verbatim(meet.b)), length(lace),
                said("there and back over {g} gap and 2 × {i}, and {knot} knot; {n} of them: {all}", g=length(meet.gap_mm),
                     i=length(put.by.in_mm), knot=length(KNOT_MM), n=count(n), all=length(n * lace)), (f"row-{meet.a}",),
            ))  # fmt: skip
    for strip in (p for p in put.assembly.pieces if p.id.startswith("binding")):
        way, wide = (float(d) for d in np.ptp(strip.outline, axis=0))
        sums.append(reckon(
            strip.id, strip.title, length(way),
            said("{w} wide, 2 × {t} + 2 × {r}; its edge and 2 laps of {lap}", w=length(wide), t=length(2 * put.leather_mm),
                 r=length(put.by.margin_mm + CLEAR_MM), lap=length(LAP_MM)), (strip.id.removeprefix("binding-"),),
        ))  # fmt: skip
    sums += collar.reckonings(put)
    area = sum(float(shapely.Polygon(put.cuts[k].ring).area) for k in put.panels)
    sums.append(reckon("area", said("Panels together, as a square"), length(float(np.sqrt(area))),
                       said("the side of a square as large as all of them, as cut")))  # fmt: skip
    return tuple(sums)
