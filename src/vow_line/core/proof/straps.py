"""Whether straps are as long as the way they go, turns as long as the bar wants, and fasteners where their holes are."""

from collections.abc import Iterator

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..draft.joins import Goes, Lace, Turn
from ..draft.pieces import Piece
from ..measure.body import Body, BoxBody, FittingBody, GirthBody, LongBody, ToolBody, ToolsBody
from ..reckoning import count, length
from ..texts import said, several
from .given import TRUE_MM, Assembled, Fault, Result, area_of_ring, counted, cut_of, from_line
from .room import sections_of
from .round import girth_of, lining_mm

LINED = 0.3  # a strap is lined beside its turns and laps, on so much of it or more
SHORT_MM = 1.0  # a strap that is off by less closes as it should (from memory)
TURN_MM = 0.5
ROW_MM = 1.0  # an awl pricks as near to where a hole is marked (common practice)


def straps(given: Assembled) -> Result:
    """Every strap is as long, from hole to hole, as the way from where it is held, round, to where it closes."""
    faults: list[Fault] = []
    worst = 0.0
    for goes in given.assembly.straps:
        piece = given.assembly.piece(goes.piece)
        at = {k.id: np.array(k.centre) for k in piece.punches}
        has = float(np.hypot(*(at[goes.holes[1]] - at[goes.holes[0]])))
        way = _way(given, goes)
        if way is None:
            continue
        aside = _aside(given, goes)
        if aside > ROW_MM:
            faults.append(Fault("hold", "strap-aslant", said(
                "The {piece} does not go straight: a hole of it, or for it, is {d} aside.", d=length(aside),
                piece=piece.title), piece.id))  # fmt: skip
        off = has - way
        worst = off if abs(off) > abs(worst) else worst
        if abs(off) > SHORT_MM + 2 * given.spread_mm:
            says = (said("The {piece} is {d} too short: from hole to hole it has {has} for a way of {way}.") if off < 0
                    else said("The {piece} is {d} too long: from hole to hole it has {has} for a way of {way}."))  # fmt: skip
            says = says.filled(d=length(abs(off)), has=length(has), way=length(way), piece=piece.title)
            faults.append(Fault("hold", "strap-length", says, piece.id))
    for turn in given.assembly.turns:
        piece = given.assembly.piece(turn.piece)
        a, b = (piece.folds[k] for k in turn.folds)
        has = float(shapely.LineString(a).distance(shapely.LineString(b)))
        of = turn if turn.bar_mm else given.body
        if isinstance(of, Turn | FittingBody | GirthBody):
            bar, opening = of.bar_mm, of.opening_mm
            way = np.pi * (bar / 2 + piece.stock.neutral * piece.thickness_mm)
            if abs(has - way) > TURN_MM:
                faults.append(Fault("hold", "turn-length", said(
                    "The turn of the {piece} is {has} long for a bar that wants {way}.", has=length(has),
                    way=length(way), piece=piece.title), piece.id))  # fmt: skip
            wide = float(np.hypot(*(a[-1] - a[0])))
            if wide > opening + given.spread_mm:
                faults.append(Fault("hold", "turn-too-wide", said(
                    "The {piece} is {w} wide where it goes through an opening of {o}.", w=length(wide),
                    o=length(opening), piece=piece.title), "piece.width_mm"))  # fmt: skip
    for here, off in (*_closing(given), *_keeping(given), *_buckled(given), *_looped(given)):
        worst = off if abs(off) > abs(worst) else worst
        faults += here
    for lace in given.assembly.laces:
        faults += _laced(given, lace)
    straps = len(given.assembly.straps) + len(given.assembly.closes_round)
    straps += sum(given.assembly.join(b.billet[0]).times for b in given.assembly.buckles)
    straps += sum(len(x.rows[0]) for x in given.assembly.loops)
    turns, keepers = len(given.assembly.turns), len(given.assembly.keeps)
    n, things = (
        straps + turns + keepers,
        counted(
            (straps, several("{n} strap", "{n} straps", n=count(straps))),
            (turns, several("{n} turn", "{n} turns", n=count(turns))),
            (keepers, several("{n} sleeve", "{n} sleeves", n=count(keepers))),
        ),
    )
    return Result(
        (said("{things}, off by {d} at most") if n > 1 else said("{things}, off by {d}")).filled(
            things=things, d=length(abs(worst))
        ),
        length(abs(worst)),
        tuple(faults),
        n,
    )


def _closing(given: Assembled) -> Iterator[tuple[list[Fault], float]]:
    """Straps that close round a wearer, drawn tight about a circle as large as the girth and their lap that lies on that: how
    much longer each is than its way, along its neutral layer, from where it leaves the bar to the hole.
    """
    for closes in given.assembly.closes_round if isinstance(given.body, GirthBody) else ():
        assert isinstance(given.body, GirthBody)
        piece = given.assembly.piece(closes.piece)
        hole = next(np.array(k.centre) for k in piece.punches if k.id == closes.hole)
        has = float(shapely.LineString(piece.folds[closes.fold]).distance(shapely.Point(hole)))
        inside = (given.body.girth_mm + closes.ease_mm) / (2 * np.pi)
        out = piece.stock.neutral * piece.thickness_mm + lining_mm(given, piece.id, LINED)
        hull = shapely.union(shapely.Point(0, 0).buffer(inside, 256), _laid_back(given, piece, inside)).convex_hull
        way = float(hull.buffer(out, 256).exterior.length)
        faults = [Fault("hold", "strap-length", said(
            "From its bar to its hole the {piece} is {has} long for a girth that takes {way}.", has=length(has),
            way=length(way), piece=piece.title), piece.id)] if abs(has - way) > SHORT_MM else []  # fmt: skip
        yield faults, has - way


def _keeping(given: Assembled) -> Iterator[tuple[list[Fault], float]]:
    """Keepers round the plies they hold: how much longer each is than the way round those."""
    for keeps in given.assembly.keeps:
        piece, held = given.assembly.piece(keeps.piece), given.assembly.piece(keeps.of)
        wide, high = _across(held), keeps.plies * held.thickness_mm + keeps.besides_mm
        neutral = piece.stock.neutral * piece.thickness_mm
        way = float(shapely.box(0.0, 0.0, wide, high).buffer(neutral, 64).exterior.length)
        loose = _from_seam_to_seam(piece) - way
        faults = [Fault("hold", "keeper-length", said(
            "The {piece} is {d} {how} for what it goes round.", d=length(abs(loose if loose < 0 else loose - keeps.loose_mm)),
            how=said("too short") if loose < 0 else said("too long"), piece=piece.title), piece.id)
        ] if not -TURN_MM <= loose <= keeps.loose_mm + TURN_MM else []  # fmt: skip
        yield faults, min(loose, 0.0)


def _buckled(given: Assembled) -> Iterator[tuple[list[Fault], float]]:
    """Billets sewn on at one edge, drawn through the buckles at the other: at each place where a pair of them is sewn, how far
    the hole lies beyond its edge and the bar beyond the other, together, is the gap that they close.
    """
    for buckle in given.assembly.buckles:
        bar = given.assembly.piece(buckle.tab[0]).folds[buckle.tab[1]].mean(axis=0)
        hole = next(
            np.array(k.centre) for k in given.assembly.piece(buckle.billet[0]).punches if k.id == buckle.billet[1]
        )
        over = [
            [_beyond(given.assembly.piece(on), edge, at) for at in _sewn_places(given, on, strip, point)]
            for on, strip, point, edge in zip(
                buckle.pieces, (buckle.tab[0], buckle.billet[0]), (bar, hole), buckle.edges, strict=True
            )
        ]
        closes = [a + b for a, b in zip(*over, strict=True)]
        off = max((c - buckle.gap_mm for c in closes), key=abs)
        faults = [Fault("hold", "strap-length", said(
            "Drawn to its hole a {billet} leaves {has} between the edges, and {gap} are to be left.",
            has=length(buckle.gap_mm + off), gap=length(buckle.gap_mm),
            billet=given.assembly.piece(buckle.billet[0]).title), buckle.billet[0])] if abs(off) > SHORT_MM else []  # fmt: skip
        yield faults, off


def _sewn_places(given: Assembled, on: str, strip: str, point: np.ndarray) -> Iterator[np.ndarray]:
    """Where a point of a strip, flat, comes to lie on the piece it is sewn to, at each place where one is."""
    for seam in given.assembly.seams:
        k = max((n for n, p in enumerate(seam.placed) if p.piece == strip), default=None)
        if k is not None and seam.placed[0].piece == on:
            first = seam.placed[k].back(point[None])
            yield first[0]
            yield from (p.onto(first, np.zeros(1))[0] for n, p in enumerate(seam.placed) if p.piece == on and n > 0)


def _beyond(piece: Piece, edge: str, at: np.ndarray) -> float:
    """How far a point lies beyond an edge of a piece, less than nothing within it; or beyond what of it lies below a dart."""
    lines = [shapely.LineString(e.line) for e in piece.edges if e.id in (edge, f"{edge}-low")]
    away = min(float(line.distance(shapely.Point(at))) for line in lines)
    return -away if area_of_ring(piece.outline).contains(shapely.Point(at)) else away


def _looped(given: Assembled) -> Iterator[tuple[list[Fault], float]]:
    """Loops that go over their buttons: each as long, there and back, as from its hole over both margins and the gap to its
    button at the widest, and no shorter than the way round that, edge on.
    """
    at = {(p.id, k.id): np.array(k.centre) for p in given.assembly.pieces for k in p.punches}
    for loops in given.assembly.loops:
        if len({len(loops.rows[0]), len(loops.rows[1]), len(loops.gaps_mm)}) > 1:
            yield [Fault("hold", "eyelets-differ", said(
                "There are {a} buttons for {b} loops.", a=count(len(loops.rows[0])), b=count(len(loops.rows[1]))),
                loops.id)], 0.0  # fmt: skip
            continue
        ways = [
            gap
            - sum(_beyond(given.assembly.piece(p[0]), edge, at[p]) for p, edge in zip(pair, loops.edges, strict=True))
            for gap, *pair in zip(loops.gaps_mm, *loops.rows, strict=True)
        ]
        short = 2 * max(*ways, loops.button_mm + loops.high_mm) - loops.round_mm
        yield [Fault("hold", "loop-short", said(
            "A loop {has} round is {d} too short for its way and its button.", has=length(loops.round_mm), d=length(short)),
            loops.id)] if short > SHORT_MM else [], max(short, 0.0)  # fmt: skip


def _laced(given: Assembled, lace: Lace) -> list[Fault]:
    """Both rows of a lace have as many holes, and the lace is long enough for the way through them, walked from hole to hole:
    across below, then crossing to the next on either side.
    """
    at = {(p.id, k.id): _drawn_up(p, np.array(k.centre)) for p in given.assembly.pieces for k in p.punches}
    left, right = ([at[place] for place in row] for row in lace.rows)
    set_off = len(right) == len(left) - 1 and len(lace.gaps_mm) == 2 * len(left) - 1
    if not set_off and (len(left) != len(right) or len(left) != len(lace.gaps_mm)):
        return [Fault("hold", "eyelets-differ", said(
            "The {lace} goes through {a} holes on one side and {b} on the other.", a=count(len(left)), b=count(len(right)),
            lace=lace.title), lace.id)]  # fmt: skip
    through = sum(given.assembly.piece(id).thickness_mm for row in lace.rows for id, _ in row) if lace.through else 0.0
    way = 2 * lace.tail_mm + through
    for k in range(len(left) - 1 if set_off else 0):
        half, a, b, c = float(np.hypot(*(left[k + 1] - left[k]))) / 2, *lace.gaps_mm[2 * k : 2 * k + 3]
        way += float(np.hypot(half, (a + b) / 2) + np.hypot(half, (b + c) / 2))
    way += 0.0 if set_off else lace.gaps_mm[0]
    for k in range(0 if set_off else len(left) - 1):
        for row in (left, right):
            way += float(np.hypot(np.hypot(*(row[k + 1] - row[k])), (lace.gaps_mm[k] + lace.gaps_mm[k + 1]) / 2))
    if abs(way - lace.long_mm) > SHORT_MM + 0.01 * way:
        return [Fault("hold", "lace-length", said(
            "The {lace} is {has} long for a way of {way}.", has=length(lace.long_mm), way=length(way), lace=lace.title),
            lace.id)]  # fmt: skip
    return []


def _drawn_up(piece: Piece, at: np.ndarray) -> np.ndarray:
    """Where a hole comes to lie when a dart in from the edge above it is sewn: nearer to what lies beyond by what it gapes."""
    edges = {e.id: e.line for e in piece.edges if e.id.removesuffix("-low") in ("left", "right")}
    nearest = min(edges, key=lambda id: shapely.LineString(edges[id]).distance(shapely.Point(at)), default="")
    if not nearest.endswith("-low"):
        return at
    one, other = edges[nearest.removesuffix("-low")][[0, -1]], edges[nearest][[0, -1]]
    k, n = np.unravel_index(np.argmin(np.hypot(*(one[:, None] - other[None]).transpose(2, 0, 1))), (2, 2))
    return np.asarray(at + one[k] - other[n])


def _across(piece: Piece) -> float:
    """How wide a strap is: the short side of the least box round it."""
    box = shapely.get_coordinates(shapely.MultiPoint(piece.outline).minimum_rotated_rectangle)
    return float(np.hypot(*np.diff(box[:3], axis=0).T).min())


def _from_seam_to_seam(piece: Piece) -> float:
    """How long a piece is between the two edges by which it closes round."""
    left, right = (piece.edge(id).line.mean(axis=0) for id in ("left", "right"))
    return float(np.hypot(*(right - left)))


def _laid_back(given: Assembled, piece: Piece, inside_mm: float) -> BaseGeometry:
    """What of a strap is turned back at its buckle, bent on a circle, from where it leaves the bar."""
    held = next((t for t in given.assembly.turns if t.piece == piece.id), None)
    if held is None:
        return shapely.Point()
    fold, other = (piece.folds[k].mean(axis=0) for k in held.folds)
    way = (fold - other) / max(float(np.hypot(*(fold - other))), 1e-9)
    long = min(float(((piece.outline - at) @ to).max()) for at, to in ((fold, way), (other, -way)))
    turn = np.linspace(0.0, min(long / (inside_mm + piece.thickness_mm / 2), 2 * np.pi), 400)
    return shapely.MultiPoint((inside_mm + piece.thickness_mm) * np.column_stack([np.cos(turn), np.sin(turn)]))


def _way(given: Assembled, goes: Goes) -> float | None:
    """The way from the one hole round the outside to the other, by walking it."""
    piece, body = given.assembly.piece(goes.piece), given.body
    (one, a), (other, b) = goes.ends
    ends = [(given.assembly.piece(p), next(k.centre for k in given.assembly.piece(p).punches if k.id == hole))
            for p, hole in ((one, a), (other, b))]  # fmt: skip
    turned = np.pi * piece.stock.neutral * piece.thickness_mm
    if goes.round == "handle" and isinstance(body, LongBody):
        up = [float(c[1] - _rim(p.outline, c[0])) for p, c in ends]
        return sum(up) + _girth(body, goes.at_mm) / 2 + turned
    if goes.round == "cover":
        lies = next(x for x in given.assembly.lies if x.shell == "cover" and x.how == "round")
        cover = given.assembly.piece(lies.piece)
        around = girth_of(given, given.shell("cover").holds, lies)
        return float(np.interp(goes.at_mm, lies.x_mm, around)) + 2 * np.pi * cover.thickness_mm + 2 * turned
    if goes.round == "back" and isinstance(body, ToolBody):
        out = np.array(given.shell(given.assembly.shells[0].id).out)
        tool = area_of_ring(body.outline)
        way = 0.0
        for _, at in _ends(given, goes):
            ray = shapely.LineString([at, at + 2000 * out]).intersection(tool)
            way += 0.0 if ray.is_empty else float(((shapely.get_coordinates(ray) - at) @ out).max())
        return way + float(body.thick_mm[-1]) + turned
    return None


def _aside(given: Assembled, goes: Goes) -> float:
    """How far a hole of a strap lies off its middle, or those it goes to from straight opposite each other."""
    piece = given.assembly.piece(goes.piece)
    box = shapely.get_coordinates(shapely.MultiPoint(piece.outline).minimum_rotated_rectangle)[:-1]
    sides = np.roll(box, -1, axis=0) - box
    along = sides[int(np.argmax(np.hypot(*sides.T)))]
    across = np.array([-along[1], along[0]]) / np.hypot(*along)
    own = [np.array(k.centre) for k in piece.punches if k.id in goes.holes]
    off = max(abs(float((at - box.mean(axis=0)) @ across)) for at in own)
    if goes.round == "back" and isinstance(given.body, ToolBody):
        out = np.array(given.shell(given.assembly.shells[0].id).out)
        a, b = (at for _, at in _ends(given, goes))
        off = max(off, abs(float((a - b) @ [-out[1], out[0]])))
    return off


def _ends(given: Assembled, goes: Goes) -> list[tuple[Piece, np.ndarray]]:
    """Where a strap begins and closes, in the frame of what it goes round the back of."""
    (one, _), (other, _) = goes.ends
    found = []
    for k, (id, hole) in enumerate(goes.ends):
        piece = given.assembly.piece(id)
        at = next(np.array(x.centre) for x in piece.punches if x.id == hole) * (
            [-1.0, 1.0] if piece.mirrored else [1.0, 1.0]
        )
        if given.assembly.seams and not piece.mirrored and one == other and k == 0:
            at = given.assembly.seams[-1].placed[-1].back(at[None])[0]  # on the half beyond a fold
        found.append((piece, at))
    return found


def _rim(outline: np.ndarray, u: float) -> float:
    """How high a piece reaches straight above a place."""
    line = shapely.LineString([(u, -1e4), (u, 1e4)]).intersection(area_of_ring(outline))
    return float(shapely.get_coordinates(line)[:, 1].min()) if not line.is_empty else 0.0


def _girth(body: Body, at_mm: float) -> float:
    """The hull of the section at a place, all round."""
    s = sections_of(body)
    assert s is not None
    k = int(np.argmin(np.abs(s.x - at_mm)))
    ring = np.concatenate([np.column_stack([s.y[k], s.z[k] / 2]), np.column_stack([s.y[k], -s.z[k] / 2])])
    return float(shapely.convex_hull(shapely.MultiPoint(ring)).length)


def fasteners(given: Assembled) -> Result:
    """The holes a fastener goes through meet when its pieces are in their place."""
    faults: list[Fault] = []
    for fastener in given.assembly.fasteners:
        sizes = {
            k.diameter_mm
            for piece, hole in fastener.through
            for k in given.assembly.piece(piece).punches
            if k.id == hole
        }
        if len(sizes) > 1:
            faults.append(Fault("hold", "fastener-holes-differ", said(
                "The holes of the {fastener} are {a} and {b} wide.", a=length(min(sizes)), b=length(max(sizes)),
                fastener=fastener.title),
                fastener.id))  # fmt: skip
    faults += _rows(given)
    rivets, studs, posts, eyelets, buttons, tacks, hooks = (
        sum(len(f.through) if f.each else 1 for f in given.assembly.fasteners if f.sort == sort)
        for sort in ("rivet", "stud", "post", "eyelet", "button", "tack", "hook")
    )
    things = counted(
        (rivets, several("{n} rivet", "{n} rivets", n=count(rivets))),
        (studs, several("{n} stud", "{n} studs", n=count(studs))),
        (posts, several("{n} screw post", "{n} screw posts", n=count(posts))),
        (eyelets, several("{n} eyelet", "{n} eyelets", n=count(eyelets))),
        (buttons, several("{n} button", "{n} buttons", n=count(buttons))),
        (tacks, several("{n} tack", "{n} tacks", n=count(tacks))),
        (hooks, several("{n} hook", "{n} hooks", n=count(hooks))),
    )
    n = rivets + studs + posts + eyelets + buttons + tacks + hooks
    return Result(said("{things} through holes of one size", things=things), count(n), tuple(faults), n)


def _rows(given: Assembled) -> Iterator[Fault]:
    """Three holes of a row and more lie as far apart and as far in from the cut as its others do; but on what has darts, which
    draw those beside them together.
    """
    darted = {join.layers[0].piece for join in given.assembly.joins if join.id.startswith("dart")}
    for piece in given.assembly.pieces:
        rows: dict[tuple[str, str], list[tuple[float, float]]] = {}
        for punch in piece.punches if piece.id not in darted else ():
            if punch.row:
                rows.setdefault((punch.row, punch.id.rsplit("-", 1)[0]), []).append(punch.centre)
        for row in rows.values():
            if len(row) > 2:
                at = np.array(row)
                apart, inset = np.hypot(*np.diff(at, axis=0).T), from_line(at, cut_of(piece))
                off = max(float(np.abs(of - np.median(of)).max()) for of in (apart, inset))
                if off > ROW_MM:
                    yield Fault("hold", "row-uneven", said(
                        "One of {n} holes in a row on the {piece} is {d} out of its place.", n=count(len(row)),
                        d=length(off), piece=piece.title), piece.id)  # fmt: skip


def pockets(given: Assembled) -> Result:
    """Each pocket, between the nearest seams on either side of its middle, holds its tool: both its plies together are as long
    as the hull of a box as wide and thick, with the turn of the leather's own thickness.
    """
    faults: list[Fault] = []
    least = np.inf
    for pocket in given.assembly.pockets if isinstance(given.body, ToolsBody) else ():
        assert isinstance(given.body, ToolsBody)
        piece = given.assembly.piece(pocket.piece)
        middle = sum(pocket.across_mm) / 2
        row = shapely.LineString([(-1e4, _above(piece)), (1e4, _above(piece))])
        crossed = [
            x for seam in given.assembly.seams for k, placed in enumerate(seam.placed) if placed.piece == piece.id
            for x in shapely.get_coordinates(shapely.LineString(placed.onto(seam.line, np.zeros(0))).intersection(row))[:, 0]
        ]  # fmt: skip
        left = max((x for x in crossed if x < middle), default=-np.inf)
        right = min((x for x in crossed if x > middle), default=np.inf)
        _, wide, thick = given.body.sizes_mm[pocket.tool].tolist()
        neutral = piece.stock.neutral * piece.thickness_mm
        needs = float(shapely.box(0.0, 0.0, wide, thick).buffer(neutral, 64).exterior.length) / 2
        spare = right - left - needs
        least = min(least, spare)
        if spare < -given.spread_mm - TRUE_MM or not np.isfinite(spare):
            faults.append(Fault("hold", "pocket-narrow", said(
                "The pocket of tool {n} is {d} too narrow for it.", n=count(pocket.tool + 1), d=length(min(-spare, 1e4))),
                "piece.ease_mm"))  # fmt: skip
    n = len(given.assembly.pockets)
    if not n:
        return Result(said("no pockets for tools"), length(0.0), (), 0)
    return Result(several("{n} pocket, {d} to spare at the least", "{n} pockets, {d} to spare at the least", n=count(n),
                          d=length(least)), length(least), tuple(faults), n)  # fmt: skip


def _above(piece: Piece) -> float:
    """A place across a piece well within it, where only what runs up and down is crossed."""
    low, high = float(piece.outline[:, 1].min()), float(piece.outline[:, 1].max())
    return low + 0.3 * (high - low)


def boxed(given: Assembled) -> Result:
    """A pouch round a box: as wide between its seams as that is, its gussets as deep and reaching up to the mouth, and the body
    as long from mouth to mouth as the way down, under and up on the outside of the gussets' seams, corners and all.
    """
    faults: list[Fault] = []
    least = np.inf
    for box in given.assembly.boxed if isinstance(given.body, BoxBody) else ():
        assert isinstance(given.body, BoxBody)
        seams = [
            s
            for s in given.assembly.seams
            if {p.piece for p in s.placed} & {*box.gussets} and s.placed[0].piece == box.piece
        ]
        own = [s.placed[0].onto(s.line, np.zeros(0)) for s in seams]
        wide = float(abs(np.mean(own[0][:, 0]) - np.mean(own[1][:, 0]))) if len(own) == 2 else 0.0
        gaps = [(said("wide"), wide - given.body.wide_mm)]
        piece = given.assembly.piece(box.piece)
        for seam, line in zip(seams, own, strict=True):
            around = next(p.along for p in seam.placed if p.along is not None)
            gaps.append((said("deep"), float(np.ptp(around[:, 0])) - given.body.deep_mm))
            gaps.append((said("high"), float(np.ptp(around[:, 1])) - (given.body.high_mm - box.below_mm)))
            neutral = piece.stock.neutral * piece.thickness_mm
            outside = shapely.LineString(around).offset_curve(_outward(around) * neutral, quad_segs=32)
            off = float(np.hypot(*np.diff(line, axis=0).T).sum()) - float(outside.length)
            if abs(off) > SHORT_MM:
                faults.append(Fault("hold", "edges-differ", said(
                    "From mouth to mouth the {piece} is {d} {how} for the way round its gusset.", d=length(abs(off)),
                    how=said("too short") if off < 0 else said("too long"), piece=piece.title), seam.id))  # fmt: skip
            if seam is seams[0]:
                over = 2 * box.below_mm + float(np.ptp(around[:, 0])) + np.pi * neutral
                faults += _closes(given, piece, float(outside.length) + over)
        least = min(least, *(gap for _, gap in gaps))
        for how, gap in gaps:
            if gap < -given.spread_mm - TRUE_MM:
                says = said("Between its seams the pouch is {d} less {how} than the box.", d=length(-gap), how=how)
                faults.append(Fault("hold", "no-room", says, piece.id))
    if not given.assembly.boxed:
        return Result(said("no box here"), length(0.0), (), 0)
    return Result(
        said("{d} to spare at the least", d=length(least)), length(least), tuple(faults), len(given.assembly.boxed)
    )


def _closes(given: Assembled, piece: Piece, way: float) -> Iterator[Fault]:
    """A flap that comes all `way` round lies with its hole on the stud that it closes by."""
    at = {k.id: np.array(k.centre) for k in piece.punches}
    for fastener in given.assembly.fasteners:
        if {id for id, _ in fastener.through} == {piece.id} and len(fastener.through) == 2:
            aside, along = np.abs(at[fastener.through[0][1]] - at[fastener.through[1][1]])
            off = float(np.hypot(aside, along - way))
            if off > SHORT_MM:
                yield Fault("hold", "flap-off", said(
                    "Closed, the flap's hole lies {d} from its {fastener}.", d=length(off), fastener=fastener.title),
                    piece.id)  # fmt: skip


def _outward(line: np.ndarray) -> float:
    """The side of an open U on which its outside lies, as offsets take it."""
    ring = np.concatenate([line, line[:1]])
    x, y = ring.T
    return -1.0 if float(np.dot(x[:-1], y[1:]) - np.dot(y[:-1], x[1:])) > 0 else 1.0
