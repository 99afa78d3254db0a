"""A thing whose cover goes all round it: a shaft, or the core of a scabbard; its seam down the back."""

from collections.abc import Callable, Iterator, Sequence
from itertools import pairwise

import numpy as np
import shapely

from ..curve import Line, Values, area_within, frozen
from ..draft import Draft
from ..draft.assembly import Assembly
from ..draft.joins import Buckle, Lace, Lies, Loops
from ..draft.pieces import Piece
from ..drawing import Mark
from ..measure import Body, LongBody, MouldedBody
from ..measure.body import LimbBody, RoundBody, ShaftBody
from ..thread.sewn import SewnSeam
from .deep import BELT_OUT_MM, Deep, belt, body, leather, stitches
from .lying import Motion, lie, moved

LIMB_OUT_MM = 40.0  # so far beyond its wrap a limb is drawn
SHAFT_OUT_MM = 70.0  # so far beyond its cover a shaft is drawn
FRONT_AND_BACK = (1.0, -1.0)
COVER, SEAM, OVER = 1.0, 2.0, 4.0
"""How far out the cover lies, its seam, and what goes round it."""

Middle = Callable[[Values], Line]
"""Where the middle line of what is covered lies at places along the cover."""


Closed = Callable[[Values], Values]
"""How far down places at the edges of a cover lie when its darts are sewn."""


def is_wrapped(assembly: Assembly) -> bool:
    """Whether its outermost cover goes round what it holds."""
    return any(lies.how == "round" for lies in assembly.lies)


def wrapped(draft: Draft, seams: Sequence[SewnSeam], of: Body | None) -> list[Deep]:
    """All that is seen from the front and, at levels below 0, from the back; in the frame of the front."""
    assembly = draft.assembly
    lies = next(x for x in assembly.lies if x.how == "round")
    closed = _closed(assembly, lies)
    middle, outline, id = _middle(assembly), _outline(assembly, lies, closed), lies.piece
    deep = [d for side in FRONT_AND_BACK for d in leather(side * COVER, outline, id)]
    thing = _thing(draft, lies, of)
    if thing is not None:
        deep += body(thing, [outline])
    panels = [x for x in assembly.lies if (x.shell, x.how, x.part) == (lies.shell, "round", lies.part)]
    if len(panels) > 1:
        deep += _between_panels(seams, [p.piece for p in panels], outline)
    darts = [s for s in seams if lies.taken_mm is not None and s.seam.line.shape == "butt"]
    for k, sewn in enumerate(sorted(darts, key=lambda s: s.seam.id), 1):
        deep += _down_a_side(sewn, _from_end(sewn, outline), k / (len(darts) + 1), outline, id)
    for k, gusset in enumerate(lies.let_in, 1):
        for sewn in (s for s in seams if [p.piece for p in s.seam.line.placed[:2]] == [id, gusset]):
            deep += _let_in(sewn, k / (len(lies.let_in) + 1), outline, gusset)
    butts = [s for s in seams if s.seam.line.shape == "butt" and len(panels) == 1 and not darts]
    if isinstance(
        of, LimbBody
    ):  # what a wrap of one piece has edge to edge besides are darts in from its closing edges
        for sewn in butts:
            deep += _in_from_edge(sewn, lies, outline, closed)
        butts = []
    for sewn in butts:
        deep.append(Deep(-SEAM, Mark("cut", frozen(middle(np.sort(lies.p[:, 1]))), id=sewn.seam.id)))
        deep.append(Deep(-SEAM - 0.2, stitches(_across(sewn, middle), sewn.seam.id)))
    over = next((x for x in assembly.lies if x.shell == lies.shell and x.how == "round" and x.part != lies.part), None)
    if over is not None:
        deep += _over(assembly, lies, over, closed)
    for goes in assembly.rounds:
        deep += _band(assembly.piece(goes.piece), outline, goes.at_mm, middle)
    for strap in (s for s in assembly.straps if s.round == "cover"):
        deep += _band(assembly.piece(strap.piece), outline, strap.at_mm, middle)
        deep += _hung(assembly, seams, strap.piece, strap.at_mm, middle, outline)
        deep.append(Deep(OVER + 1, Mark("done", frozen(middle(np.array([strap.at_mm]))), id=strap.piece, size_mm=8.0)))
    if isinstance(of, LimbBody) and lies.open_mm is not None and lies.open_mm.max() > 0:
        deep += _gap(assembly, lies, closed)
    for lace in assembly.laces:
        deep += _laced(assembly, lace, closed)
    for buckle in assembly.buckles:
        deep += _buckled(assembly, buckle, outline, closed)
    for loops in assembly.loops:
        deep += _looped(assembly, loops, closed)
    for sewn in (s for s in seams if isinstance(of, LimbBody) and s.seam.line.times > 1 and not assembly.buckles):
        deep += _on_lap(sewn, closed)
    own = {x.piece for x in panels}
    for fastener in (f for f in assembly.fasteners if isinstance(of, LimbBody) and {p for p, _ in f.through} <= own):
        if fastener.each:
            continue
        piece, hole = fastener.through[0]
        v = next(p.centre[1] for p in assembly.piece(piece).punches if p.id == hole)
        deep.append(Deep(-OVER, Mark("done", frozen([[0.0, float(closed(np.array(v)))]]), id=fastener.id, size_mm=9.0)))
    if any(p.id == "foot-strap" for p in assembly.pieces):
        deep += _under_foot(assembly, outline)
    if isinstance(of, RoundBody):
        deep += _ended(assembly, seams, outline, of)
        deep += _on_wall(assembly, seams, lies.piece, outline)
    return deep


def _closed(assembly: Assembly, lies: Lies) -> Closed:
    """Below darts in from the edges all lies farther up by what they gape."""
    edges = {e.id: e.line for e in assembly.piece(lies.piece).edges}
    if "left-low" not in edges:
        return lambda v: v
    above, below = float(edges["left"][:, 1].max()), float(edges["left-low"][:, 1].min())
    return lambda v: np.where(v > (above + below) / 2, v - (below - above), v)


def _in_from_edge(sewn: SewnSeam, lies: Lies, outline: Line, closed: Closed) -> Iterator[Deep]:
    """A dart in from a closing edge, level, the way it goes round: behind first, then on the front."""
    assert lies.open_mm is not None
    first = sewn.seam.points[0]
    v = float(closed(np.array([sewn.seam.on(k)[0, 1] for k in (0, 1)])).mean())
    side = -1.0 if first[0] < float(outline[:, 0].mean()) else 1.0
    round_half = float(_half(outline, np.array([v]))[0])
    order = np.argsort(lies.p[:, 1])
    begins = float(np.interp(first[1], lies.p[order, 1], lies.open_mm[order])) / 2
    turn = (begins + sewn.seam.line.margin_mm + sewn.seam.s_mm) / round_half
    at = np.column_stack([side * round_half * np.sin(turn), np.full(len(turn), v)])
    for face, there in ((-1.0, np.cos(turn) > 0), (1.0, np.cos(turn) <= 0)):
        if there.any():
            points = at[there]
            yield Deep(face * SEAM, Mark("cut", frozen(points), id=sewn.seam.id))
            across = np.array([0.0, sewn.seam.line.margin_mm])
            yield Deep(
                face * (SEAM + 0.2), stitches([np.array([p - across, p + across]) for p in points], sewn.seam.id)
            )


def _between_panels(seams: Sequence[SewnSeam], panels: list[str], outline: Line) -> Iterator[Deep]:
    """The seams of panels that take an equal share each, edge to edge, where they come to lie: the first begins behind, and
    goes round by the left.
    """
    for sewn in (s for s in seams if s.seam.line.shape == "butt"):
        k = panels.index(sewn.seam.line.placed[0].piece) + 1
        yield from _down_a_side(
            sewn, sewn.seam.points[:, 1], k / len(panels), outline, panels[k]
        )  # where the next one begins


def _from_end(sewn: SewnSeam, outline: Line) -> Values:
    """How far down the holes of a seam lie that begins at an end, the top or the low one."""
    top, low = outline[:, 1].min(), outline[:, 1].max()
    from_low = sewn.seam.points[0, 1] > sewn.seam.points[-1, 1]
    return np.asarray(low - sewn.seam.s_mm if from_low else top + sewn.seam.s_mm)


def _let_in(sewn: SewnSeam, share: float, outline: Line, id: str) -> Iterator[Deep]:
    """A side of what is let into a slit, as wide there as it is, so great a share of the way round."""
    v = _from_end(sewn, outline)
    off = sewn.seam.on(1)[:, 0]
    yield from _down_a_side(sewn, v, share + off / (2 * np.pi * _half(outline, v)), outline, id)


def _half(outline: Line, v: Values) -> Values:
    """How far the outline reaches to a side, so far down."""
    row = outline[: len(outline) // 2]
    return np.interp(v, *row[np.argsort(row[:, 1])].T[::-1])


def _down_a_side(sewn: SewnSeam, v: Values, share: float | Values, outline: Line, id: str) -> Iterator[Deep]:
    """A seam with its holes so far down a side, so great a share of the way round from behind by the left."""
    turn = 2 * np.pi * np.broadcast_to(share, len(v))
    side = -1.0 if np.cos(turn).mean() > 1e-9 else 1.0
    at = np.column_stack([-_half(outline, v) * np.sin(turn), v])
    yield Deep(side * SEAM, Mark("cut", frozen(at[np.argsort(v)]), id=id))
    across = np.column_stack([sewn.seam.line.margin_mm * np.abs(np.cos(turn)), np.zeros(len(v))])
    yield Deep(
        side * (SEAM + 0.2), stitches([np.array([p - w, p + w]) for p, w in zip(at, across, strict=True)], sewn.seam.id)
    )


def _over(assembly: Assembly, lies: Lies, over: Lies, closed: Closed) -> Iterator[Deep]:
    """What goes round once more outside, folded over: where what lies under it lies."""
    order = np.argsort(lies.x_mm)
    v = np.interp(over.x_mm, lies.x_mm[order], lies.p[order, 1])
    half = np.abs(_outline(assembly, over, closed)[: len(v), 0])
    apart = np.zeros(len(v)) if over.open_mm is None else np.maximum(over.open_mm / 2, 0.0)
    for side, ways in (
        (1.0, ((-half, half),)),
        (-1.0, ((-half, -apart), (apart, half))),
    ):  # open behind, as it closes there
        for a, b in ways:
            ring = frozen(np.concatenate([np.column_stack([a, v]), np.column_stack([b, v])[::-1]]))
            yield Deep(side * (OVER + 4), Mark("flesh", ring, True, over.piece))
            yield Deep(side * (OVER + 4), Mark("cut", ring, True, over.piece))


def _gap(assembly: Assembly, lies: Lies, closed: Closed) -> Iterator[Deep]:
    """What stands open behind, and the tongue in it, where there is one."""
    assert lies.open_mm is not None
    half, v = np.maximum(lies.open_mm / 2, 0.3), closed(lies.p[:, 1])
    ring = frozen(np.concatenate([np.column_stack([-half, v]), np.column_stack([half, v])[::-1]]))
    tongue = any(p.id == "tongue" for p in assembly.pieces)
    yield Deep(-SEAM, Mark("grain" if tongue else "thing", ring, True, "tongue" if tongue else "gap"))
    yield Deep(-SEAM - 0.1, Mark("cut", ring, True, "tongue" if tongue else "gap"))


def _laced(assembly: Assembly, lace: Lace, closed: Closed) -> Iterator[Deep]:
    """A lace as it lies outside, criss-cross between its eyelets, the leather standing open between them."""
    at = {(p.id, k.id): k for p in assembly.pieces for k in p.punches}
    v, w = (closed(np.array([at[place].centre[1] for place in row])) for row in lace.rows)
    half = np.array(lace.gaps_mm) / 2
    if len(w) < len(v):  # from side to side
        left, right = np.column_stack([-half[::2], v]), np.column_stack([half[1::2], w])
        runs = [np.array(pair) for k in range(len(w)) for pair in ((left[k], right[k]), (right[k], left[k + 1]))]
    else:
        left, right = np.column_stack([-half, v]), np.column_stack([half, v])
        runs = [np.array([left[0], right[0]])]
        runs += [
            np.array(pair) for k in range(len(v) - 1) for pair in ((left[k], right[k + 1]), (right[k], left[k + 1]))
        ]
    yield Deep(-OVER, stitches(runs, lace.id))
    size = at[lace.rows[0][0]].diameter_mm * 1.8
    yield Deep(-OVER - 0.1, Mark("done", frozen(np.concatenate([left, right])), id="eyelets", size_mm=size))


def _buckled(assembly: Assembly, buckle: Buckle, outline: Line, closed: Closed) -> Iterator[Deep]:
    """Billets across the closing line, through the buckles in their tabs: as they lie round what is worn."""
    wrap, (tab, fold), (billet, hole) = assembly.piece(buckle.pieces[0]), buckle.tab, buckle.billet
    seats = {s.id: s.line for s in assembly.seats}
    strip, under = assembly.piece(billet), assembly.piece(tab)
    to_bar = float(under.folds[fold][:, 0].mean())
    to_hole = next(p.centre[0] for p in strip.punches if p.id == hole)
    low, high = strip.outline.min(axis=0), strip.outline.max(axis=0)
    for k in range(1, assembly.join(tab).times + 1):
        seat = seats[f"{tab}-{k}"]
        v, wide = float(closed(seat[:, 1].mean())), float(high[1] - low[1]) / 2
        row = shapely.LineString([(-1e4, v), (1e4, v)]).intersection(shapely.LinearRing(outline))
        round_half = max(float(np.abs(shapely.get_coordinates(row)[:, 0]).max(initial=0.0)), 1.0)
        bar = -(_from_edge(seat, wrap, buckle.edges[0]).max() - to_bar) - buckle.gap_mm / 2
        for level, ends in ((OVER, (bar - to_bar, bar)), (OVER + 1, (bar + to_hole, bar + to_hole - float(high[0])))):
            u = round_half * np.sin(np.clip(np.array(ends) / round_half, -np.pi / 2, np.pi / 2))
            ring = np.array([[u[0], v - wide], [u[1], v - wide], [u[1], v + wide], [u[0], v + wide]])
            yield from leather(-level, frozen(ring), tab if level == OVER else billet)
        at = float(round_half * np.sin(np.clip(bar / round_half, -np.pi / 2, np.pi / 2)))
        frame = np.array(
            [[at - 3, v - wide - 2], [at + 7, v - wide - 2], [at + 7, v + wide + 2], [at - 3, v + wide + 2]]
        )
        yield Deep(-OVER - 2, Mark("done", frozen(frame), True, "buckle"))
        yield Deep(-OVER - 2, Mark("done", frozen([[at, v - wide - 2], [at, v + wide + 2]]), id="buckle"))


def _under_foot(assembly: Assembly, outline: Line) -> Iterator[Deep]:
    """The strap that hangs at the sides of the low end and goes under the foot."""
    strap = assembly.piece("foot-strap")
    holes = np.array([p.centre[0] for p in strap.punches])
    low, half = float(outline[:, 1].max()), float(np.abs(outline[outline[:, 1] > outline[:, 1].max() - 1.0, 0]).max())
    up = float(holes.min() - strap.outline[:, 0].min())
    down = max((float(np.ptp(holes)) - 2 * up) / 2 - half, 0.0)
    line = frozen([[half, low - up], [half, low + down], [-half, low + down], [-half, low - up]])
    for side in FRONT_AND_BACK:
        yield Deep(side * OVER, Mark("cut", line, id=strap.id))
        yield Deep(side * OVER, Mark("done", frozen(line[[0, 3]]), id=strap.id, size_mm=6.0))


def _from_edge(points: Line, piece: Piece, edge: str) -> Values:
    """How far points `(n, 2)` lie from an edge, or what of it lies below a dart."""
    lines = shapely.MultiLineString([e.line for e in piece.edges if e.id in (edge, f"{edge}-low")])
    return np.asarray(shapely.distance(shapely.points(points), lines))


def _looped(assembly: Assembly, loops: Loops, closed: Closed) -> Iterator[Deep]:
    """Buttons at one edge, the loops of lace that go over them from the other."""
    at = {(p.id, k.id): np.array(k.centre) for p in assembly.pieces for k in p.punches}
    piece = assembly.piece(loops.rows[0][0][0])
    in_mm = [float(_from_edge(at[row[0]][None], piece, e)[0]) for row, e in zip(loops.rows, loops.edges, strict=True)]
    for gap, button in zip(loops.gaps_mm, loops.rows[0], strict=True):
        v = float(closed(at[button][1]))
        one, other = -gap / 2 - in_mm[0], gap / 2 + in_mm[1]
        runs = [np.array([[other, v], [one, v + side * 2.5]]) for side in (-1, 1)]
        yield Deep(-OVER, stitches(runs, loops.id))
        yield Deep(-OVER - 0.1, Mark("done", frozen([[one, v]]), id="buttons", size_mm=loops.button_mm))


def _on_lap(sewn: SewnSeam, closed: Closed) -> Iterator[Deep]:
    """The thread of what is sewn on the lap, at each of its places, on the closing line."""
    piece = sewn.seam.line.placed[0].piece
    for k in (n for n, p in enumerate(sewn.seam.line.placed) if p.piece == piece):
        points = sewn.seam.on(k)
        middle = points.mean(axis=0)
        ring = points - middle + [0.0, float(closed(middle[1]))]
        yield Deep(-OVER, stitches([ring[[a, b]] for a, b in pairwise([*range(len(ring)), 0])], sewn.seam.id))


def _ended(assembly: Assembly, seams: Sequence[SewnSeam], outline: Line, of: RoundBody) -> Iterator[Deep]:
    """The seams round the ends of a tube and of its lid, which stands over the thing's top, as they are seen on either face."""
    deep = float(outline[:, 1].max())
    for sewn in (s for s in seams if s.seam.line.closed):
        join = assembly.join(sewn.seam.id)
        wall = assembly.piece(join.layers[1].piece)
        mouth = next(e.line for e in wall.edges if e.open == "mouth")
        around = sewn.seam.on(1)
        half = (float(np.ptp(mouth[:, 0])) - (2 * sewn.seam.line.margin_mm if join.turned else 0.0)) / 2
        radius = half / np.pi + wall.thickness_mm * (1 - wall.stock.neutral)
        at = around[:, 1]
        lid = wall.id != assembly.lies[0].piece
        if lid:  # its top lies on the thing's, its mouth down
            top, high = deep - of.length_mm, float(around[:, 1].max())
            ring = np.array([[-radius, top], [radius, top], [radius, top + high], [-radius, top + high]])
            yield from (d for side in FRONT_AND_BACK for d in leather(side * OVER, frozen(ring), wall.id))
            at = top + high - around[:, 1]
        foot = np.array([[-radius, 0.0], [radius, 0.0], [radius, 1.0], [-radius, 1.0]]) * [1.0, wall.thickness_mm]
        end = deep - of.length_mm - wall.thickness_mm if lid else deep
        for side in FRONT_AND_BACK:  # its disc, from the side
            yield from leather(side * (OVER if lid else COVER), frozen(foot + [0.0, end]), join.layers[0].piece)
        turn = np.pi * around[:, 0] / half
        points = np.column_stack([radius * np.sin(turn), at])
        ends = np.append(np.arange(len(points)), 0)
        for side in FRONT_AND_BACK:
            seen = [points[[a, b]] for a, b in pairwise(ends) if np.cos(turn[[a, b]]).mean() * side > 0 and
                    abs(points[a, 0] - points[b, 0]) < radius]  # fmt: skip
            if seen:
                yield Deep(side * (OVER if lid else COVER) + 0.3 * side, stitches(seen, sewn.seam.id))


def _on_wall(assembly: Assembly, seams: Sequence[SewnSeam], wall: str, outline: Line) -> Iterator[Deep]:
    """What is sewn onto the middle of a wall, with its thread and its belt: it stands on the front."""
    sewn_on = [s for s in seams if s.seam.line.shape == "box"]
    out = float(np.ptp(outline[:, 0])) / 2 + BELT_OUT_MM
    for leaf in (x for x in lie(assembly, [s.seam for s in sewn_on], wall) if x.piece.id != wall):
        level = OVER + abs(leaf.level)
        yield from leather(level, leaf.ring, leaf.piece.id)
        for sewn in sewn_on:
            k = len(sewn.seam.line.placed) - 1
            if sewn.seam.line.placed[k].piece == leaf.piece.id and leaf.holds(sewn.seam.on(k)):
                points = leaf.laid(sewn.seam.on(k))
                runs = {tuple(sorted((sewn.seam.hole_of(m.hole), sewn.seam.hole_of(m.to)))) for m in sewn.moves
                        if m.act == "run" and m.face == "back"}  # fmt: skip
                yield Deep(level + 0.2, stitches([points[list(run)] for run in sorted(runs)], sewn.seam.id))
        for run in assembly.belts:
            if run.piece == leaf.piece.id and leaf.holds(run.line):
                middle = leaf.laid(run.line).mean(axis=0)
                yield Deep(level - 0.5, belt(middle - [out, 0.0], middle + [out, 0.0], run.wide_mm / 2))


def _middle(assembly: Assembly) -> Middle:
    """Straight, or as its core is bowed."""
    hollow = next((x for x in assembly.lies if x.how == "hollow"), None)
    if hollow is None or hollow.swing is None:
        return lambda v: np.column_stack([np.zeros(len(v)), v])
    at, mid = hollow.x_mm, (hollow.p + hollow.q) / 2

    def there(v: Values) -> Line:
        beyond = np.maximum(v - at[-1], 0.0)[:, None] * _unit(mid[-1] - mid[-2])
        before = np.minimum(v - at[0], 0.0)[:, None] * _unit(mid[1] - mid[0])
        return np.column_stack([np.interp(v, at, k) for k in mid.T]) + beyond + before

    return there


def _unit(way: Line) -> Line:
    return way / max(float(np.hypot(*way)), 1e-9)


def _outline(assembly: Assembly, lies: Lies, closed: Closed) -> Line:
    """The cover from the front: what it holds, and its own thickness to either side."""
    cover = assembly.piece(lies.piece)
    shell = next(s for s in assembly.shells if s.id == lies.shell)
    held = next((s for s in assembly.shells if s.id == shell.holds), None)
    if held is not None:
        core = assembly.piece(held.pieces[0])
        mouth = next(e.line for e in core.edges if e.open == "mouth")
        way = _unit(mouth[-1] - mouth[0])
        out = np.array([way[1], -way[0]])
        out = out if (core.outline.mean(axis=0) - mouth[0]) @ out < 0 else -out
        a, b = mouth[0] - way * 1e3, mouth[-1] + way * 1e3
        beyond = shapely.Polygon([a, b, b + out * 1e3, a + out * 1e3])
        return _largest(shapely.Polygon(core.outline).buffer(cover.thickness_mm).difference(beyond))
    # its flat width w = π (D + 2 k t) (1 - stretch) gives the diameter over it, D + 2 t
    all_round = [x for x in assembly.lies if (x.shell, x.how, x.part) == (lies.shell, "round", lies.part)]
    apart = sum(np.hypot(*(x.q - x.p).T) - (0.0 if x.taken_mm is None else x.taken_mm) for x in all_round)
    apart = apart + (0.0 if lies.open_mm is None else lies.open_mm)
    wide = apart / (np.pi * (1 - lies.stretch))
    half = (wide + 2 * (1 - cover.stock.neutral) * cover.thickness_mm) / 2
    v = closed(lies.p[:, 1])
    return frozen(np.concatenate([np.column_stack([half, v]), np.column_stack([-half, v])[::-1]]))


def _largest(area: shapely.Geometry) -> Line:
    whole = max(getattr(area, "geoms", [area]), key=lambda g: g.area)
    return frozen(shapely.get_coordinates(whole.exterior)[:-1])


def _thing(draft: Draft, lies: Lies, of: Body | None) -> Line | None:
    """What it is for, in its place, seen from the front."""
    if isinstance(of, ShaftBody):
        x = of.x_mm + float(lies.p[0, 1] - lies.x_mm[0])
        ends = np.clip([lies.p[:, 1].min() - SHAFT_OUT_MM, lies.p[:, 1].max() + SHAFT_OUT_MM], x[0], x[-1])
        v = np.unique(np.clip(np.concatenate([ends, x]), *ends))
        if len(v) < 2:  # the cover lies beyond the shaft
            return None
        half = np.interp(v, x, of.girth_mm) / np.pi / 2
        return np.concatenate([np.column_stack([half, v]), np.column_stack([-half, v])[::-1]])
    if isinstance(of, LimbBody):
        v = lies.p[:, 1]
        ends = np.array([v.min() - LIMB_OUT_MM, v.max() + LIMB_OUT_MM])
        at = np.sort(np.concatenate([ends, v]))
        half = np.interp(at, np.sort(v), (np.interp(lies.x_mm, *of.read_mm.T) / np.pi / 2)[np.argsort(v)])
        return np.concatenate([np.column_stack([half, at]), np.column_stack([-half, at])[::-1]])
    swing = next((x.swing for x in draft.assembly.lies if x.how == "hollow"), None)
    if swing is not None and isinstance(of, LongBody | MouldedBody):
        low = of.edge_mm if isinstance(of, LongBody) else of.low_mm
        sides = [np.column_stack([y, of.x_mm]) for y in (of.top_mm, low)]
        return np.concatenate([sides[0], sides[1][::-1]]) @ swing.turn + np.array(swing.shift)
    return draft.thing


def _across(sewn: SewnSeam, middle: Middle) -> list[Line]:
    """What lies outside on a butt seam, each `(2, 2)`, from row to row across the gap. In the frame of the front the left edge
    has come round by the left, so that its holes lie left of the middle.
    """
    seam = sewn.seam
    v = seam.points[:, 1]
    at = middle(v)
    along = (middle(v + 0.5) - at) / 0.5
    right = np.column_stack([along[:, 1], -along[:, 0]]) * seam.line.margin_mm
    strokes: dict[tuple[int, int], Line] = {}
    for move in sewn.moves:
        if move.act == "run" and move.face == "front":
            ends = [at[seam.hole_of(k)] + right[seam.hole_of(k)] * seam.row_of(k) for k in (move.hole, move.to)]
            strokes[min(move.hole, move.to), max(move.hole, move.to)] = np.array(ends)
    return list(strokes.values())


def _band(band: Piece, outline: Line, at_mm: float, middle: Middle) -> Iterator[Deep]:
    """A band round the cover."""
    a, b = middle(at_mm + np.array([-0.5, 0.5]) * float(np.ptp(band.outline[:, 0])))
    way = _unit(b - a)
    out = np.array([-way[1], way[0]]) * 1e3
    strip = shapely.Polygon([a - out, a + out, b + out, b - out])
    ring = _largest(area_within(outline).buffer(band.thickness_mm).intersection(strip))
    for side in FRONT_AND_BACK:
        yield from leather(side * OVER, ring, band.id)


def _hung(
    assembly: Assembly, seams: Sequence[SewnSeam], piece: str, at_mm: float, middle: Middle, outline: Line
) -> Iterator[Deep]:
    """What is sewn to the middle of a band: it stands over the mouth's side at the back, and the belt runs through it."""
    band = assembly.piece(piece)
    at, on = middle(np.array([at_mm, at_mm + 0.5]))
    along = complex(*_unit(on - at))
    centre = complex(*(band.outline.min(axis=0) + band.outline.max(axis=0)) / 2)
    # across the band is along the cover, and down it is round the back: turned over, seen from the front
    motion: Motion = (along, complex(*at) - along * centre.conjugate(), True)
    out = float(np.ptp(outline[:, 0])) / 2 + BELT_OUT_MM
    for leaf in (x for x in lie(assembly, [s.seam for s in seams], piece) if x.piece.id != piece):
        level = -OVER - abs(leaf.level)
        yield from leather(level, frozen(moved(leaf.ring, motion)), leaf.piece.id)
        for sewn in seams:
            k = len(sewn.seam.line.placed) - 1
            if sewn.seam.line.placed[k].piece == leaf.piece.id and leaf.holds(sewn.seam.on(k)):
                points = moved(leaf.laid(sewn.seam.on(k)), motion)
                runs = {tuple(sorted((sewn.seam.hole_of(m.hole), sewn.seam.hole_of(m.to)))) for m in sewn.moves
                        if m.act == "run" and m.face == "back"}  # fmt: skip
                yield Deep(level - 0.2, stitches([points[list(run)] for run in sorted(runs)], sewn.seam.id))
        for run in assembly.belts:
            if run.piece == leaf.piece.id and leaf.holds(run.line):
                a, b = moved(leaf.laid(run.line), motion)
                way = _unit(b - a) * out
                yield Deep(level + 0.5, belt((a + b) / 2 - way, (a + b) / 2 + way, run.wide_mm / 2))
