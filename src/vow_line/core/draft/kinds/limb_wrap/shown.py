"""What is shown of a limb wrap: values, sums, girth lines, what it must stretch, the section, and the limb wrapped again."""

from typing import TYPE_CHECKING

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ....curve import Line, Values, arc_length, area_within, frozen
from ....drawing import Callout, Mark
from ....meanings import Meaning
from ....measure import LimbBody
from ....memory import remembered
from ....quantity import Q
from ....reckoning import Reckoning, count, length, percent, reckon
from ....texts import Said, joined, said
from ...drafted import Section
from ...flatten import Flat
from ...stretch import WITHIN
from ...surface import around, half_width
from . import edge_darts
from .checks import CLOSING, PANELS, in_words, worst
from .closure import point
from .closures import CLOSURES
from .darts import ENDS, FROM, UNDER_MARGINS, Darts, End
from .edge_darts import LEFT_BEYOND_MM, REACHES, EdgeDarts, clear_when_sewn
from .fold import FoldOver
from .foot import UP_MM, FootStrap
from .wrap import CLOSING_RAD, OVER, Part, Wrap, averaged, even, wrapped

if TYPE_CHECKING:
    from .draft import LimbWrap

SEEN_STRAIN = 0.01  # less than this is not hatched
PER_STROKE = 0.01  # a stroke for each so much
MOST_STROKES = 5
SLITS: dict[tuple[End, bool], Said] = {
    ("top", False): said("darts from the top"), ("low", False): said("darts from the low end"),
    ("top", True): said("gussets from the top"), ("low", True): said("gussets from the low end"),
}  # fmt: skip
USUAL_STRETCH = 0.01  # as much as vegetable-tanned leather takes dry
SEEN_FROM = 0.25  # how far from above the limb is looked at, rad


def callouts(wrap: "LimbWrap", laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> tuple[Callout, ...]:
    """The values on the board."""
    left, right, middle = laid.left, laid.right, laid.first.middle
    top, low = (float(left[0, 0]), float(left[0, 1])), (float(left[-1, 0]), float(left[-1, 1]))
    half = len(left) // 2
    at = (float(left[half, 0]), float(left[half, 1]))
    ways = {way: wrap.closed if isinstance(wrap.closed, way) else way.usual() for way in CLOSURES}
    given = [
        Callout("piece.ease_mm", said("looser than read"), "length", wrap.ease_mm, at, "left", "middle"),
        Callout("piece.high_mm", said("ends below the last girth"), "length", wrap.high_mm, top, "left", seldom=True),
        Callout("piece.low_mm", said("begins above the first"), "length", wrap.low_mm, low, "left", seldom=True),
        Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (at[0] * 0.6, float(middle[half + 1, 1])),
                "left", "wrap"),
        Callout("piece.closing", said("closed at the"), "count", wrap.closing, (float(right[half, 0]), float(right[half, 1])),
                "right", on=laid.on_last, choices=tuple(CLOSING.values()), meant=tuple(CLOSING)),
        Callout("piece.closed", said("closed"), "count", wrap.closed, (float(right[1, 0]), float(right[1, 1])), "right",
                choices=tuple(way.says for way in ways), meant=tuple(ways.values()), on=laid.on_last),
        Callout("piece.panels", said("cut in"), "count", wrap.panels, top, "right", choices=tuple(PANELS.values()),
                meant=tuple(PANELS)),
        Callout("piece.formed", said("worked"), "count", wrap.formed, at, "left", choices=(said("dry"), said("wet")),
                meant=(False, True)),
        Callout("piece.most_stretch", said("stretches at most"), "percent", wrap.most_stretch,
                point((left[half] + middle[half]) / 2), "left", "strain", part=said("a limit to its stretch"),
                usual=USUAL_STRETCH),
    ]  # fmt: skip
    given.append(Callout("piece.foot", said("under the foot"), "count", wrap.foot, low, "left",
                         choices=(said("no strap under the foot"), said("a strap under the foot")),
                         meant=(None, wrap.foot or FootStrap())))  # fmt: skip
    given.append(Callout("piece.over", said("its top"), "count", wrap.over, top, "left",
                         choices=(said("cut plain"), said("folded over")), meant=(None, wrap.over or FoldOver())))  # fmt: skip
    if wrap.may_have_darts:
        now, across = wrap.darts_made, wrap.edge_darts
        given.append(Callout("piece.darts", said("slits"), "count", wrap.darts, top, "left",
                             choices=(said("no darts"), *SLITS.values(), said("darts from both edges")),
                             meant=(None, *(_slit(now, *way) for way in SLITS), across or _usual(wrap, laid))))  # fmt: skip
    if wrap.edge_darts:
        given += _from_edges(wrap.edge_darts, wrap.margin_mm, laid)
    sides, darts = laid.first.slits.sides, wrap.darts_made
    if sides and darts:
        left, right = sides[0]
        filled = darts.gussets
        given += [
            Callout("piece.darts.deep_mm", said("gussets, deep") if filled else said("darts, deep"), "length", darts.deep_mm,
                    point(left[0]), "left", to=point(left[-1])),
            Callout("piece.darts.n", said("from its {end}", end=ENDS[darts.at]), "count", darts.n, point(right[0]), "right",
                    choices=(said("one gusset"), said("two gussets"), said("three gussets")) if filled else
                    (said("one dart"), said("two darts"), said("three darts")), meant=(1, 2, 3)),
            Callout("piece.margin_mm", said("thread to the cut"), "length", wrap.margin_mm, point(left[len(left) // 2]),
                    "left", "gusset-1-left" if filled else "dart-1"),
        ]  # fmt: skip
    if wrap.over:
        given.append(Callout("piece.over.deep_mm", said("folded over"), "length", wrap.over.deep_mm,
                             point(laid.first.all_rows[0][0]), "left", to=point(laid.left[0])))  # fmt: skip
    if wrap.foot:
        half_wide, whole = wrap.foot.width_mm / 2, wrap.foot.long_mm + 4 * UP_MM
        given += [
            Callout("piece.foot.long_mm", said("under the foot, end to end"), "length", wrap.foot.long_mm,
                    (2 * UP_MM, half_wide), "right", "foot-strap", on="foot-strap", to=(whole - 2 * UP_MM, half_wide)),
            Callout("piece.foot.width_mm", said("strap, wide"), "length", wrap.foot.width_mm, (whole / 2, -half_wide), "left",
                    "foot-strap", on="foot-strap", to=(whole / 2, half_wide), seldom=True),
        ]  # fmt: skip
    if wrap.panels > 1:
        seam = laid.first.right
        given.append(Callout("piece.margin_mm", said("thread to the cut"), "length", wrap.margin_mm,
                             (float(seam[half, 0]), float(seam[half, 1])), "right", "seam-1"))  # fmt: skip
    return (*given, *wrap.closed.callouts(laid, rows))


def reckonings(
    wrap: "LimbWrap", body: LimbBody, laid: Wrap, rows: tuple[Line, Line], leather_mm: float
) -> tuple[Reckoning, ...]:
    """The sums."""
    sums = []
    for key, name, k in (("top", said("Wide at the top"), 0), ("low", said("Wide below"), -1)):
        line, gap = laid.girded[k], float(laid.open_mm[k])
        girth = float(body.girth_at(np.array(line.at_mm)))
        more = said("{g:n} round + 2π × {k} of {t}").filled(
            g=length(girth), k=percent(wrap.neutral), t=Q("leather", leather_mm)
        )
        if laid.lining_mm:
            more = said("{more} + 2π × {l} of lining", more=more, l=length(laid.lining_mm))
        if wrap.ease_mm:
            more = said("{more} + {e:n} ease", more=more, e=length(wrap.ease_mm))
        less = said("{more}, less a gap of {gap}") if gap >= 0 else said("{more}, and a lap of {gap}")
        sums.append(reckon(
            key, name, length(float(laid.wide_mm[k])), less.filled(more=more, gap=length(abs(gap))), ("wrap",),
            (said("laid flat it comes out {off} longer, settled", off=length(line.over_mm)) if line.over_mm >= 0 else
             said("laid flat it comes out {off} shorter, settled", off=length(-line.over_mm)),),
        ))  # fmt: skip
    if body.cloth_mm:
        sums.append(reckon(
            "worn-under", said("Read over {what}", what=body.over), length(body.cloth_mm),
            said("as much of a girth at most, as assumed: the skin, dashed in the section, lies {by} within, ÷ 2π",
                 by=length(body.cloth_mm / (2 * np.pi))), ("skin",),
        ))  # fmt: skip
    edges = [sum(float(arc_length(run)[-1]) for run in laid.runs(line)) for line in (laid.left, laid.right)]
    n = len(rows[0])
    if laid.first.slits.sides and wrap.darts_made:
        sums += _slits(wrap.darts_made, laid, wrap.margin_mm)
    if laid.first.flat.across is not None:
        sums += _across(laid, wrap.edge_darts, body.right)
    if laid.over is not None:
        first, deep = laid.first, float(np.ptp(laid.over.at_mm))
        high = float(arc_length(first.flat.points[: first.over + 1, first.flat.points.shape[1] // 2])[-1])
        sums.append(reckon(
            "over", said("Cut above the top girth"), length(high),
            said("{d:n} down the outside, aslant as the limb is there, + {f:n} for the fold, π/2 × {t}", d=length(deep),
                 f=length(np.pi / 2 * leather_mm), t=Q("leather", leather_mm)), (OVER,),
        ))  # fmt: skip
    sums += [
        reckon("worst", said("Farthest off the limb"), length(abs(worst(laid).over_mm)), in_words(worst(laid)), ("middle",)),
        reckon("stretch", said("It must stretch by"), percent(laid.stretched),
               said("and shrink by {h}, at most, averaged over 10 mm: hatched on the piece, the more the closer",
                    h=percent(laid.shrunk)), ("strain",),
               (said("laid flat so that no part of it need stretch by more than {most}; it stands off instead",
                     most=percent(wrap.most_stretch)),)
               if wrap.most_stretch and laid.stretched <= WITHIN * wrap.most_stretch else ()),
        reckon("edge", said("Closing edges, long"), length(min(edges)),
               said("{a:n} left and {b} right, round", a=length(edges[body.right]), b=length(edges[not body.right])),
               ("wrap",)),
        reckon("closures", said("Closures in a row"), count(n),
               said("({h:n} − 2 × {m:n}) over {s}, and one more", h=length(min(edges)), m=length(wrap.closed.ends_mm),
                    s=length(wrap.closed.spacing_mm)), ("closures",)),
    ]  # fmt: skip
    return (*sums, *wrap.closed.reckonings(laid, rows, leather_mm))


def _slit(now: Darts | None, at: End, filled: bool) -> Darts:
    return (now or Darts()).model_copy(update={"at": at, "gussets": filled})


def _usual(wrap: "LimbWrap", laid: Wrap) -> EdgeDarts:
    """Darts from both edges where flat leather is too narrow by most, or half way up, as near to there as what closes it lets
    them.
    """
    at = laid.surface.at_mm
    low, high = float(at[-1]), float(at[0])
    tight = [g for g in laid.girded if low + LEFT_BEYOND_MM <= g.at_mm <= high - LEFT_BEYOND_MM]
    place = min(tight, key=lambda g: g.over_mm).at_mm if tight else (low + high) / 2
    clear = clear_when_sewn(place, laid, wrap.closed, wrap.margin_mm)
    return EdgeDarts(level_mm=round(place if clear is None else clear, 1))


def _from_edges(darts: EdgeDarts, margin_mm: float, laid: Wrap) -> list[Callout]:
    """Where darts from both edges are, and how far in they reach."""
    part, at = laid.first, said("darts, up the limb")
    if part.flat.across is None:
        low = point(laid.left[-1])
        return [Callout("piece.darts.level_mm", at, "length", darts.level_mm, low, "left")]
    (upper, _), (right, _) = edge_darts.sides(part)
    return [
        Callout("piece.darts.level_mm", at, "length", darts.level_mm, point(upper[0]), "left", "dart-1"),
        Callout("piece.darts.reach", said("darts, to the middle"), "count", darts.reach, point(right[-1]), "right", "dart-2",
                choices=tuple(REACHES.values()), meant=tuple(REACHES)),
        Callout("piece.margin_mm", said("thread to the cut"), "length", margin_mm, point(upper[len(upper) // 2]), "left",
                "dart-1"),
    ]  # fmt: skip


def _across(laid: Wrap, darts: EdgeDarts | None, mirrored: bool) -> list[Reckoning]:
    """How far darts from both edges open, and reach in."""
    (upper, _), _ = edge_darts.sides(laid.first)
    left, right = (float(np.hypot(*(one[0] - other[0]))) for one, other in edge_darts.sides(laid.first))
    left, right = (right, left) if mirrored else (left, right)
    flat = laid.first.flat
    asked = flat.joined if darts is None else darts.tips(flat.points.shape[1] - 1)
    meet = said("their sides meet before they are so far in as is asked: there they end")
    early = (meet,) if flat.joined != asked else ()
    return [reckon(
        "darts", said("Darts open by"), length(max(left, right)),
        said("{a} at the left edge and {b} at the right, settled so that the leather strains least; {deep} in to their tips",
             a=length(left), b=length(right), deep=length(float(arc_length(upper)[-1]))), ("dart-1", "dart-2"), early,
    )]  # fmt: skip


def _slits(darts: Darts, laid: Wrap, margin_mm: float) -> list[Reckoning]:
    """What darts take out, or how wide and how long each gusset is cut."""
    slits = laid.first.slits
    opens, settled = slits.apart_mm[slits.rows[0]], said("settled so that the leather strains least")
    if not darts.gussets:
        return [reckon(
            "darts", said("Darts take out"), length(float(opens.sum())),
            joined(*(said("{d}", d=length(float(d))) for d in opens), said("at {end}", end=FROM[darts.at])),
            tuple(f"dart-{k}" for k in range(1, len(opens) + 1)), (settled,),
        )]  # fmt: skip
    under, sums = UNDER_MARGINS * margin_mm, []
    for k, (wide, by) in enumerate(zip(slits.let_in_mm[slits.rows[0]], opens, strict=True), 1):
        sums.append(reckon(
            f"gusset-{k}", said("Gusset {k} fills", k=k), length(float(wide)),
            said("{by:n} that the sides would lie over each other + {o:n} to stand open, at {end}; + 2 × {u}, under them",
                 by=length(-float(by)), o=length(float(wide + by)), end=FROM[darts.at], u=length(under)),
            (f"gusset-{k}",), (settled,),
        ))  # fmt: skip
    return sums


@remembered("part")
def girths(laid: Wrap, body: LimbBody) -> tuple[Mark, ...]:
    """The girths that were read, as lines on the flat piece."""
    marks = []
    for k, at in enumerate(body.read_mm[:, 0]):
        if not laid.surface.at_mm[-1] - 1e-6 <= at <= laid.surface.at_mm[0] + 1e-6:
            continue
        j = float(np.interp(-at, -laid.surface.at_mm, np.arange(len(laid.surface.at_mm))))
        a, share = int(j), j - int(j)
        b = min(a + 1, len(laid.first.rows) - 1)
        s = np.linspace(0, 1, 25)
        line = (1 - share) * even(laid.first.rows[a], s) + share * even(laid.first.rows[b], s)
        marks.append(Mark("dimension", frozen(line), id=f"thing.stations.{k}.girth"))
    return tuple(marks)


def strained(parts: tuple[Part, ...]) -> tuple[Mark, ...]:
    """What the leather must stretch and shrink, on each piece."""
    return tuple(m for k, part in enumerate(parts) for m in _hatched(part, part.id if k else ""))


@remembered("part")
def _hatched(laid: Part, on: str) -> tuple[Mark, ...]:
    """What the leather must stretch, as strokes one way, and shrink, the other: the more the closer; `on` another piece than
    the first.
    """
    left, right = ([row[k] for row in laid.all_rows] for k in (0, -1))
    ring = area_within(np.concatenate([laid.all_rows[0], right, laid.rows[-1][::-1], left[::-1]]))
    shapely.prepare(ring)
    marks = []
    for meaning, all_strokes in zip(("stretch", "shrink"), _hatch(laid.flat), strict=True):
        strokes = _within(ring, all_strokes)
        if len(strokes):
            marks.append(Mark(meaning, frozen(strokes), id="strain", pairs=True, on=on))  # type: ignore[arg-type]
    return tuple(marks)


@remembered("part")
def _hatch(flat: Flat) -> tuple[Line, Line]:
    """The strokes of what must stretch and of what must shrink on all of a surface laid flat."""
    stretch, shrink = averaged(flat)
    z = flat.points.reshape(-1, 2)[flat.triangles]
    return _strokes(z, stretch, 1.0), _strokes(z, -shrink, -1.0)


def _within(area: BaseGeometry, strokes: Line) -> Line:
    """Strokes that lie within an area with both their ends."""
    return strokes.reshape(-1, 2, 2)[shapely.contains_xy(area, *strokes.T).reshape(-1, 2).all(axis=1)].reshape(-1, 2)


def _strokes(corners: Values, strain: Values, lean: float) -> Line:
    """Strokes `(2 n, 2)` in each triangle `(k, 3, 2)`, one for each percent it strains, aslant."""
    many = np.clip(np.ceil((strain - SEEN_STRAIN) / PER_STROKE), 0, MOST_STROKES)
    middle = corners.mean(axis=1)
    one, two = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    area = np.abs(one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0]) / 2
    size = np.sqrt(area)[:, None]
    way = np.array([1.0, -lean]) * 0.25
    apart = np.array([1.0, lean]) * 0.8
    strokes = []
    for k in range(MOST_STROKES):
        there = many > k
        if there.any():
            off = (k + 0.5) / many[there, None] - 0.5
            at = middle[there] + off * apart * size[there]
            strokes.append(np.stack([at - way * size[there], at + way * size[there]], axis=1).reshape(-1, 2))
    return np.concatenate(strokes) if strokes else np.zeros((0, 2))


def section(wrap: "LimbWrap", body: LimbBody, laid: Wrap, leather_mm: float, v: float) -> Section:
    """The limb cut across where it is pointed at: what is worn, the leather round it, the gap or the lap."""
    at = laid.at_of(v)
    girth = float(body.girth_at(np.array(at)))
    ratio = float(body.ratio_at(np.array(at)))
    half = float(half_width(np.array(girth), np.array(ratio)))
    gap = float(np.interp(-at, -laid.surface.at_mm, laid.open_mm))

    def draw() -> tuple[Mark, ...]:
        ring = around(ratio, 120, 0.0)[:-1] * half
        limb = shapely.Polygon(ring)
        inner, outer = (limb.buffer(d + laid.lining_mm + wrap.ease_mm / (2 * np.pi)) for d in (0.01, leather_mm))
        closing = CLOSING_RAD[wrap.closing]
        way = np.array([np.sin(closing), -ratio * np.cos(closing)])
        across = np.array([-way[1], way[0]]) / max(float(np.hypot(*way)), 1e-9)
        far, wide = way * half * 4, across * max(abs(gap) / 2, 0.4)
        slot = shapely.Polygon([wide, far + wide, far - wide, -wide])
        leather = outer.difference(inner)
        leather = (
            leather.difference(slot)
            if gap >= 0
            else leather.union(outer.buffer(leather_mm).difference(outer).intersection(slot))
        )
        marks = [Mark("thing", frozen(ring), True, "thing")]
        skin = limb.buffer(-body.cloth_mm / (2 * np.pi))
        if body.cloth_mm and skin.geom_type == "Polygon" and not skin.is_empty:
            marks.append(Mark("assumed", frozen(shapely.get_coordinates(skin.exterior)[:-1]), True, "skin"))
        for part in getattr(leather, "geoms", [leather]):
            if part.geom_type == "Polygon":
                holes = tuple(frozen(shapely.get_coordinates(h)[:-1]) for h in part.interiors)
                marks.append(Mark("grain", frozen(shapely.get_coordinates(part.exterior)[:-1]), True, rings=holes))
                marks.append(Mark("cut", frozen(shapely.get_coordinates(part.exterior)[:-1]), True, "wrap"))
        return tuple(marks)

    says = said("{g} round, a gap of {gap}", g=length(girth), gap=length(gap)) if gap >= 0 else said(
        "{g} round, a lap of {gap}", g=length(girth), gap=length(-gap))  # fmt: skip
    title = said("At {at}, over {what}", what=body.over) if body.cloth_mm else said("Section at {at}")
    # where it lies is told down the middle of the piece
    return Section(laid.v_of(at), draw, title.filled(at=length(at)), says)


def _centre(laid: Wrap) -> Values:
    """The middle of the limb, about which it turns."""
    return np.asarray(laid.surface.points.reshape(-1, 3).mean(axis=0))


def half_mm(laid: Wrap) -> float:
    """How far the limb reaches from its middle, whichever way it is turned."""
    return float(np.hypot(*(laid.surface.points - _centre(laid)).reshape(-1, 3)[:, :2].T).max())


def turned(laid: Wrap, closures: int, angle_rad: float) -> tuple[Mark, ...]:
    """The limb wrapped again, seen from the side and a little from above, turned by so much: what lies behind is dashed."""
    # what stands open is not seen from so far
    return _turned(wrapped(laid.surface, laid.flats, 0.0, 0.0, laid.over, laid.filled), closures, angle_rad)


@remembered("part")
def _turned(laid: Wrap, closures: int, angle_rad: float) -> tuple[Mark, ...]:
    points = laid.surface.points
    centre = _centre(laid)
    seen = _looked_at(points - centre, angle_rad)
    facing = _facing(seen)
    whole = area_within(shapely.get_coordinates(_largest(_covered(seen)))[:-1])
    outline = frozen(shapely.get_coordinates(_largest(whole))[:-1])
    marks = [Mark("grain", outline, True, "turned"), Mark("cut", outline, True, "turned")]
    for k in (0, len(seen) - 1):
        marks += _seen(seen[k], facing[min(k, len(facing) - 1)])
    closing = seen[:, 0]
    near = bool(facing[:, [0, -1]].any(axis=1).mean() > 0.5)
    marks.append(Mark("cut" if near else "dimension", frozen(closing), id="closing"))
    if near:
        marks.append(Mark("done", frozen(even(closing, np.linspace(0.06, 0.94, closures))), id="closures", size_mm=6.0))
    for k, (doubled, (side, _)) in enumerate(zip(laid.first.flat.doubled, laid.first.slits.sides, strict=False)):
        column, rows = doubled - k, laid.first.slits.rows[: len(side)] - laid.first.over
        between = np.minimum(rows, len(facing) - 1)
        towards = bool(facing[between, column - 1 : column + 1].any(axis=1).mean() > 0.5)
        marks.append(Mark("cut" if towards else "dimension", frozen(seen[rows, column]), id=f"dart-{k + 1}"))
    if laid.first.flat.across is not None:
        row, (a, b) = laid.first.flat.across, laid.first.flat.joined
        for k, (first, last) in enumerate(((0, a), (b, seen.shape[1] - 1)), 1):
            marks += _seen(seen[row, first : last + 1], facing[row - 1, first:last], ("dimension", "cut"), f"dart-{k}")
    for k in range(1, len(laid.flats)):
        column = k * (seen.shape[1] - 1) // len(laid.flats)
        towards = bool(facing[:, column - 1 : column + 1].any(axis=1).mean() > 0.5)
        marks.append(Mark("cut" if towards else "dimension", frozen(seen[:, column]), id=f"seam-{k}"))
    stretch, shrink = laid.strains
    squares = np.stack([seen[:-1, :-1], seen[:-1, 1:], seen[1:, 1:], seen[1:, :-1]], axis=2)
    ways: tuple[tuple[Meaning, Values, float], ...] = (("stretch", stretch, 1.0), ("shrink", -shrink, -1.0))
    for meaning, strain, lean in ways:
        shown = facing & (strain > SEEN_STRAIN)
        corners = squares[shown]
        halves = np.concatenate([corners[:, [0, 1, 2]], corners[:, [0, 2, 3]]])
        strokes = _strokes(halves, np.tile(strain[shown], 2), lean)
        if len(strokes):
            marks.append(Mark(meaning, frozen(strokes), id="strain", pairs=True))
    if laid.over is not None:
        marks += _over_top(_looked_at(laid.over.points - centre, angle_rad))
    return tuple(marks)


def _over_top(seen: Values) -> list[Mark]:
    """What is folded over the top, its flesh side out: it hides what it lies on, its own edges where it begins and ends."""
    facing = _facing(seen)
    outline = frozen(shapely.get_coordinates(_largest(_covered(seen)))[:-1])
    marks = [Mark("flesh", outline, True, OVER), Mark("cut", outline, True, OVER)]
    for edge, column in ((seen[:, 0], 0), (seen[:, -1], -1)):
        marks.append(Mark("cut" if facing[:, column].mean() > 0.5 else "dimension", frozen(edge), id=OVER))
    return marks + _seen(seen[0], facing[0])


def _looked_at(points: Values, angle_rad: float) -> Values:
    """Points `(n, m, 3)` about the middle of the limb from the side and a little from above, turned by so much."""
    c, s = np.cos(angle_rad), np.sin(angle_rad)
    x, y, z = points.transpose(2, 0, 1)
    across, back = x * c - y * s, x * s + y * c
    return np.stack([across, -z * np.cos(SEEN_FROM) - back * np.sin(SEEN_FROM)], axis=-1)


def _facing(seen: Values) -> NDArray[np.bool_]:
    """Which squares' outer side looks to the eye."""
    a, b, d = seen[:-1, :-1], seen[:-1, 1:], seen[1:, :-1]
    e, f = b - a, d - a
    return np.asarray(e[..., 0] * f[..., 1] - e[..., 1] * f[..., 0] < 0)


def _covered(seen: Values) -> BaseGeometry:
    """All that rows of points cover."""
    return shapely.union_all(shapely.convex_hull(shapely.multipoints(np.concatenate([seen[:-1], seen[1:]], axis=1))))


def _largest(area: BaseGeometry) -> BaseGeometry:
    """The outline of the largest part of an area."""
    part = max(getattr(area, "geoms", [area]), key=lambda g: g.area)
    return getattr(part, "exterior", part)


def _seen(
    row: Line, facing: NDArray[np.bool_], ways: tuple[Meaning, Meaning] = ("dimension", "mark"), id: str = "turned"
) -> list[Mark]:
    """A girth line, or part of one, dashed where it lies behind."""
    marks = []
    for meaning, there in zip(ways, (np.logical_not(facing), facing), strict=True):
        pairs = [row[[k, k + 1]] for k in np.flatnonzero(there)]
        if pairs:
            marks.append(Mark(meaning, frozen(np.concatenate(pairs)), id=id, pairs=True))
    return marks
