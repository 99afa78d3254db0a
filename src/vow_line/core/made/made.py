"""Front and back of the made thing: what lies over what, the thread on either face, the body inside, the belt."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely

from ..curve import Line, arc_length, area_within, frozen, run_like, walk
from ..draft import Draft
from ..draft.assembly import Assembly
from ..draft.outside import swapped
from ..draft.pieces import Piece
from ..drawing import Mark
from ..measure import Body, LongBody, MouldedBody
from ..measure.body import BoxBody, FittingBody, GirthBody, LimbBody, PanelsBody
from ..stitch import Seam
from ..texts import NOTHING, Said, said
from ..thread.moves import Face as Side
from ..thread.sewn import SewnSeam
from .boxed import boxed
from .deep import BELT_OUT_MM, Deep, belt, body, from_side, leather, stitches
from .lying import NEAR_MM, UNSEEN, Leaf, lie
from .wrapped import is_wrapped, wrapped

HEAD_TIMES, LEAST_HEAD_MM = 2.2, 6.0  # a rivet's head is so many times its post, or so wide (from memory)
STRAP_OUT = 3  # layers: a strap lies over all else
RING_POINTS = 49
SLEEVE_OUT = 4.0  # layers: a sleeve lies over a strap and its lap
BUCKLE_DEEP = 0.9  # how deep a buckle is drawn, in widths of its opening
OVERLAP_MM = 0.5


@dataclass(frozen=True, slots=True, eq=False)
class Face:
    """One side of the made thing as it is looked at, in mm, right and down."""

    title: Said
    marks: tuple[Mark, ...]

    @property
    def box(self) -> tuple[Line, Line]:
        """The corner `(2,)` of all that is drawn of it, and how wide and high that is."""
        lines = np.concatenate([m.line for m in self.marks])
        return lines.min(axis=0), np.maximum(np.ptp(lines, axis=0), 1.0)


@dataclass(frozen=True, slots=True, eq=False)
class Made:
    """The made thing: what is seen first, then the other side; how it is carried, and what is drawn as it is not."""

    faces: tuple[Face, Face]
    says: tuple[Said, ...]


def placed(face: Face, left: float, top: float, wide: float, high: float) -> tuple[Mark, ...]:
    """A side drawn smaller, in the middle of a box on another drawing."""
    low, size = face.box
    by = float(min(wide / size[0], high / size[1]))
    shift = np.array([left, top]) + (np.array([wide, high]) - size * by) / 2 - low * by
    return tuple(
        replace(m, line=frozen(m.line * by + shift), size_mm=m.size_mm * by,
                rings=tuple(frozen(r * by + shift) for r in m.rings))
        for m in face.marks
    )  # fmt: skip


def made(draft: Draft, seams: Sequence[SewnSeam], of: Body | None) -> Made:
    """The made thing, from its draft, its seams with their thread, and the body it is for."""
    assembly = draft.assembly
    if assembly.boxed and isinstance(of, BoxBody):
        deep, first, flat = _shown(boxed(assembly, seams, of), draft), 1, NOTHING
        titles = said("front"), said("the side against the body")
    elif is_wrapped(assembly):
        sewn = not isinstance(of, LimbBody) and any(s.seam.line.shape == "butt" for s in seams)
        other = said("back, with its seam") if sewn else said("where it closes")
        deep, first, titles = _shown(wrapped(draft, seams, of), draft), 1, (said("front"), other)
        flat = NOTHING
    else:
        leaves = lie(assembly, [s.seam for s in seams])
        worked = _worked(draft, leaves)
        deep = [
            *_leaves(leaves, worked),
            *_thread(leaves, worked, assembly, seams),
            *_heads(leaves, assembly, draft.outside),
        ]
        thing = _whole(draft.thing, of)
        deep += _straps(leaves, assembly, thing)
        deep += _fitting(leaves, assembly, of)
        deep += _sleeves(leaves, assembly)
        if thing is not None:
            deep += body(thing, [d.mark.line for d in deep if d.mark.meaning in ("grain", "flesh")])
        belts = _belts(leaves, assembly, deep)
        deep += belts
        first = -1 if sum(d.level for d in belts) > 0 or assembly.leaved else 1
        titles = (
            (said("as it is seen when it is worn"), said("the side against the body"))
            if belts else (said("front"), said("back"))
        )  # fmt: skip
        lies_flat = isinstance(of, PanelsBody) or (thing is not None and not worked)
        flat = _flat(assembly, leaves) if lies_flat else _swings(assembly, leaves)
    faces = Face(titles[0], from_side(deep, first)), Face(titles[1], from_side(deep, -first))
    front = said("its fitting shows its front on the front") if any(t.has_front for t in assembly.turns) else NOTHING
    return Made(faces, tuple(s for s in (draft.carried, flat, front) if s))


def _shown(deep: Sequence[Deep], draft: Draft) -> list[Deep]:
    """What is drawn with its grain outside, with the side that is shown."""
    return [d._replace(mark=swapped(d.mark)) for d in deep] if draft.outside == "flesh" else list(deep)


def _flat(assembly: Assembly, leaves: tuple[Leaf, ...]) -> Said:
    """That it is drawn flat, and what then lies nowhere."""
    there = {leaf.piece.id for leaf in leaves}
    rest = [p.title for p in assembly.pieces if p.id not in there and p.stock.sort not in UNSEEN]
    if not rest:
        return said("drawn as its leather lies flat")
    if len(rest) == 1:
        return said("drawn as its leather lies flat, without the {piece}", piece=rest[0])
    return said("drawn as its leather lies flat, without {n} of its pieces", n=len(rest))


def _swings(assembly: Assembly, leaves: tuple[Leaf, ...]) -> Said:
    """What is held by one rivet alone lies nowhere: that it is not drawn."""
    there = {leaf.piece.id for leaf in leaves}
    joined = {x.piece for join in assembly.joins for x in join.layers} | {t.piece for t in assembly.turns}
    for piece in assembly.pieces:
        by = [f for f in assembly.fasteners if piece.id in {id for id, _ in f.through}]
        if piece.id not in there | joined and len(by) == 1:
            return said("drawn without the {piece}, which swings on the {rivet}", piece=piece.title, rivet=by[0].title)
    return NOTHING


# leather

Worked = Mapping[int, tuple[Line, Line]]
"""Of leaves that are worked over the thing, by their number: their cut and their thread as they then lie."""


def _worked(draft: Draft, leaves: tuple[Leaf, ...]) -> Worked:
    if draft.closed is None:
        return {}
    lines, covers = draft.closed(), {lies.piece for lies in draft.assembly.lies}
    return {k: lines for k, leaf in enumerate(leaves) if leaf.piece.id in covers}


def _leaves(leaves: tuple[Leaf, ...], worked: Worked) -> Iterator[Deep]:
    for k, leaf in enumerate(leaves):
        piece = leaf.piece
        ring = _to_the_thing(leaf, worked[k][0]) if k in worked else leaf.ring
        sides = ("grain", "flesh") if (piece.side_up == "grain") != leaf.motion[2] else ("flesh", "grain")
        slots = tuple(frozen(leaf.laid(s)) for s in piece.slots if leaf.holds(s))
        yield from leather(leaf.level, ring, piece.id, slots, *sides)  # type: ignore[arg-type]
        for mark in piece.ornament:
            if leaf.holds(mark.line):
                laid = replace(mark, line=frozen(leaf.laid(mark.line)))
                if mark.meaning == "seat":  # an overlay lies there
                    yield Deep(leaf.level + 0.1 * leaf.out, replace(laid, meaning="grain"))
                    laid = replace(laid, meaning="cut")
                yield Deep(leaf.level + 0.2 * leaf.out, laid)
        for punch in piece.punches:
            if leaf.holds(at := np.array([punch.centre])):
                hole = Mark("cut", frozen(leaf.laid(at)), id=punch.id, size_mm=punch.diameter_mm)
                yield Deep(leaf.level, hole)


def _to_the_thing(leaf: Leaf, cut: Line) -> Line:
    """The outline of a leaf whose sewn edge comes to lie along `cut`, its mouth drawn in with it."""
    if leaf.piece.folds:
        return cut
    lines = []
    for edge in (e for e in leaf.piece.edges if not e.ring):
        line = leaf.laid(edge.line)
        if edge.open != "mouth":
            lines.append(run_like(cut, line)[:-1])
            continue
        ends = np.array([_nearest_end(cut, p) for p in line[[0, -1]]])
        share = _shares(line[:, 0])
        above = line[:, 1] - (line[0, 1] + share * (line[-1, 1] - line[0, 1]))
        drawn_in = ends[:1] + share[:, None] * (ends[1:] - ends[:1]) + np.outer(above, [0.0, 1.0])
        lines.append(drawn_in[:-1])
    return frozen(np.concatenate(lines))


def _shares(u: Line) -> Line:
    """Places as shares of the way from the first to the last."""
    way = float(u[-1] - u[0])
    return (u - u[0]) / way if abs(way) > 1e-6 else np.linspace(0, 1, len(u))


def _nearest_end(line: Line, point: Line) -> Line:
    ends = line[[0, -1]]
    return ends[int(np.argmin(np.hypot(*(ends - point).T)))]


# thread


def _thread(leaves: tuple[Leaf, ...], worked: Worked, assembly: Assembly, seams: Sequence[SewnSeam]) -> Iterator[Deep]:
    """What lies on the outermost layers of each seam, as its moves lay it: on the one face to the side that the first of them
    looks to, on the other to that of the last. A box is sewn onto its seat, whose inner side is the one face.
    """
    for sewn in (s for s in seams if s.seam.line.shape != "butt"):
        seam, layers = sewn.seam, assembly.join(sewn.seam.id).layers
        on = [
            (n, k) for k, layer in enumerate(layers) if not layer.between
            for n, leaf in enumerate(leaves) if leaf.piece.id == layer.piece and leaf.holds(seam.on(k))
        ]  # fmt: skip
        if not on:
            continue
        last = leaves[on[-1][0]].out
        ends: tuple[tuple[Side, int, int, float], ...] = (("front", *on[0], -last), ("back", *on[-1], last))
        for face, number, k, out in ends:
            leaf = leaves[number]
            points = leaf.laid(seam.on(k))
            if number in worked and seam.line.shape == "line":
                points = _drawn_in(seam, points, worked[number][1])
            strokes = _strokes(sewn, face, points, set(seam.there(k).tolist()), leaf)
            if strokes:
                yield Deep(leaf.level + 0.3 * out, stitches(strokes, seam.id))


def _drawn_in(seam: Seam, points: Line, thread: Line) -> Line:
    """The holes of a seam at the same shares of its line as that then lies; those beyond its ends stay beside it."""
    thread = run_like(thread, points)
    share = np.clip(seam.shares, 0, 1)
    on = walk(thread, share * float(arc_length(thread)[-1]))
    within = np.flatnonzero(share == seam.shares)
    near = within[np.abs(np.arange(len(points))[:, None] - within[None]).argmin(axis=1)]
    return on + np.where((share == seam.shares)[:, None], 0.0, points - points[near])


def _strokes(sewn: SewnSeam, face: Side, points: Line, there: set[int], leaf: Leaf) -> list[Line]:
    """Each stretch of thread on a face once, `(2, 2)`; what goes over the edge as far as that."""
    seam = sewn.seam
    drawn: dict[tuple[int, int], Line] = {}
    ring = shapely.LinearRing(leaf.ring)
    for move in sewn.moves:
        a, b = seam.hole_of(move.hole), seam.hole_of(move.to)
        if not there.issuperset((a, b)):
            continue
        if move.act == "run" and move.face == face:
            drawn[min(a, b), max(a, b)] = points[[a, b]]
        elif move.act == "edge":
            over = ring.interpolate(ring.project(shapely.Point(points[[a, b]].mean(axis=0))))
            at = a if face == move.face else b
            drawn[at, -1] = np.array([points[at], shapely.get_coordinates(over)[0]])
    return list(drawn.values())


# what holds and carries it


def _heads(leaves: tuple[Leaf, ...], assembly: Assembly, outside: str) -> Iterator[Deep]:
    """The heads of rivets and studs, on the side that is shown."""
    for fastener in assembly.fasteners:
        for leaf in leaves:
            for id, punch in fastener.through:
                hole = leaf.hole(punch) if id == leaf.piece.id else None
                if hole is not None:
                    wide = next(p.diameter_mm for p in leaf.piece.punches if p.id == punch)
                    size = max(HEAD_TIMES * wide, LEAST_HEAD_MM)
                    head = Mark("done", frozen(leaf.laid(hole)), id=fastener.id, size_mm=size)
                    front = 1.0 if (leaf.piece.side_up == outside) != leaf.motion[2] else -1.0
                    yield Deep(leaf.level + 0.4 * front, head)


def _straps(leaves: tuple[Leaf, ...], assembly: Assembly, thing: Line | None) -> Iterator[Deep]:
    """Straps, one half of each on either face: over the back of a tool away from the mouth, or to the side of a handle."""
    if thing is None:
        return
    area = area_within(thing)
    for goes in assembly.straps:
        strap = assembly.piece(goes.piece)
        for (id, punch), own in zip(goes.ends, goes.holes, strict=True):
            leaf = next((x for x in leaves if x.piece.id == id and x.hole(punch) is not None), None)
            hole = leaf.hole(punch) if leaf else None
            if leaf is None or hole is None:
                continue
            at = leaf.laid(hole)[0]
            if goes.round == "back":
                out = np.array(assembly.shells[-1].out)
                ray = shapely.LineString([at, at + out * 1e3]).intersection(area)
                far = max(((p - at) @ out for p in shapely.get_coordinates(ray)), default=0.0)
                to = at + out * (far + strap.thickness_mm)
            else:
                to = _side_of(area, at, goes.at_mm, strap.thickness_mm)
            way = (to - at) / max(float(np.hypot(*(to - at))), 1e-9)
            across = np.array([-way[1], way[0]]) * float(np.ptp(strap.outline[:, 0])) / 2
            start = at - way * _lap(strap, own)
            level = leaf.level + STRAP_OUT * leaf.out
            ring = frozen([start + across, to + across, to - across, start - across])
            yield from leather(level, ring, strap.id)
            yield Deep(level + 0.4 * leaf.out, Mark("done", frozen([at]), id=strap.id, size_mm=LEAST_HEAD_MM))


def _lap(strap: Piece, hole: str) -> float:
    """How far a strap goes on beyond its hole."""
    at = next(p.centre for p in strap.punches if p.id == hole)
    return float(min(at[1] - strap.outline[:, 1].min(), strap.outline[:, 1].max() - at[1]))


def _side_of(area: shapely.Geometry, at: Line, along_mm: float, thick_mm: float) -> Line:
    """The side of a handle nearest to a hole, where a strap goes round it."""
    across = shapely.LineString([(-1e3, along_mm), (1e3, along_mm)]).intersection(area)
    left, _, right, _ = across.bounds if not across.is_empty else (at[0], 0, at[0], 0)
    near = left - thick_mm if abs(at[0] - left) <= abs(at[0] - right) else right + thick_mm
    return np.array([near, along_mm])


def _belts(leaves: tuple[Leaf, ...], assembly: Assembly, deep: Sequence[Deep]) -> list[Deep]:
    """The belt through a loop, between its halves; or through slots, inside between them and outside beside them."""
    drawn: list[Deep] = []
    across = np.concatenate([d.mark.line[:, 0] for d in deep if d.mark.meaning == "cut"])
    low, high = float(across.min()) - BELT_OUT_MM, float(across.max()) + BELT_OUT_MM
    for run in assembly.belts:
        leaf = next((x for x in leaves if x.piece.id == run.piece and x.holds(run.line)), None)
        if leaf is None:
            continue
        (u, v), (w, _) = sorted(leaf.laid(run.line).tolist())
        within, beside = leaf.level - 0.5 * leaf.out, leaf.level + 0.5 * leaf.out
        parts = ((low, u, beside), (u, w, within), (w, high, beside)) if leaf.piece.slots else ((low, high, within),)
        drawn += [
            Deep(level, belt(np.array([left, v]), np.array([right, v]), run.wide_mm / 2))
            for left, right, level in parts
        ]
    return drawn


def _fitting(leaves: tuple[Leaf, ...], assembly: Assembly, of: Body | None) -> Iterator[Deep]:
    """The ring, bar or buckle in each turn, its opening on the side that is free."""
    if not isinstance(of, FittingBody | GirthBody):
        return
    for turn in assembly.turns:
        piece = assembly.piece(turn.piece)
        one, two = (piece.folds[k] for k in turn.folds)
        leaf = next((x for x in leaves if x.piece.id == turn.piece and x.level > 0
                     and min(x.area.distance(shapely.LineString(f)) for f in (one, two)) < NEAR_MM), None)  # fmt: skip
        if leaf is None:
            continue
        fold = min((leaf.laid(f) for f in (one, two)), key=lambda f: float(leaf.area.distance(
            shapely.LineString(f))))  # fmt: skip
        middle, own = fold.mean(axis=0), leaf.laid(shapely.get_coordinates(leaf.area.centroid))[0]
        out = (middle - own) / max(float(np.hypot(*(middle - own))), 1e-9)
        if isinstance(of, GirthBody):
            yield from _buckle(middle, out, of)
            continue
        centre = middle + out * of.opening_mm / 2
        round_ = np.linspace(0, 2 * np.pi, RING_POINTS)[:-1]
        circle = np.column_stack([np.cos(round_), np.sin(round_)])
        inner, outer = (centre + circle * r for r in (of.opening_mm / 2, of.opening_mm / 2 + of.bar_mm))
        yield Deep(0.0, Mark("thing", frozen(outer), True, "thing", rings=(frozen(inner),)))
        if turn.has_front:  # a boss on its rim, away from the leather
            boss = frozen([centre + out * (of.opening_mm + of.bar_mm) / 2])
            yield Deep(0.1, Mark("done", boss, id="front", size_mm=max(of.bar_mm * 1.6, LEAST_HEAD_MM)), 1)


def _buckle(middle: Line, out: Line, of: GirthBody) -> Iterator[Deep]:
    """A frame whose one side is the bar, its tongue lying on the other."""
    across, deep = np.array([-out[1], out[0]]), BUCKLE_DEEP * of.opening_mm
    corners = np.array([[0.0, -1.0], [1.0, -1.0], [1.0, 1.0], [0.0, 1.0]])

    def frame(grow: float) -> Line:
        along = corners[:, 0] * (deep + 2 * grow) - grow
        return middle + np.outer(along, out) + np.outer(corners[:, 1] * (of.opening_mm / 2 + grow), across)

    inner, outer = frame(0.0), frame(of.bar_mm)
    yield Deep(0.0, Mark("thing", frozen(outer), True, "thing", rings=(frozen(inner),)))
    tongue = np.stack([middle - out * of.bar_mm / 2, middle + out * (deep + of.bar_mm)])
    half = across * of.bar_mm / 3
    yield Deep(
        0.1,
        Mark("thing", frozen([tongue[0] + half, tongue[1] + half, tongue[1] - half, tongue[0] - half]), True, "tongue"),
    )


def _sleeves(leaves: tuple[Leaf, ...], assembly: Assembly) -> Iterator[Deep]:
    """What goes all round a strap: seen on either face."""
    for keeps in assembly.keeps:
        sleeve, held = assembly.piece(keeps.piece), assembly.piece(keeps.of)
        leaf = next((x for x in leaves if x.piece is held and x.holds(np.array([[keeps.at_mm, 0.0]]))), None)
        if leaf is None:
            continue
        half = float(held.outline[:, 1].max()) + sleeve.thickness_mm
        ring = np.array([[-1.0, -1.0], [1.0, -1.0], [1.0, 1.0], [-1.0, 1.0]]) * [keeps.wide_mm / 2, half] + [
            keeps.at_mm,
            0.0,
        ]
        for side in (1.0, -1.0):
            yield from leather(side * SLEEVE_OUT, frozen(leaf.laid(ring)), sleeve.id)


def _whole(thing: Line | None, of: Body | None) -> Line | None:
    """The body in its place with what of it stands out of the mouth, where only what goes in is given."""
    if thing is None or not isinstance(of, LongBody | MouldedBody):
        return thing
    low = of.edge_mm if isinstance(of, LongBody) else of.low_mm
    mouth = float(thing[:, 1].min())
    above = of.x_mm < mouth - 0.5
    if not above.any():
        return thing
    rim = thing[thing[:, 1] < mouth + 1e-6]
    left = rim[int(np.argmin(rim[:, 0]))]
    shift = left[0] - float(np.interp(mouth, of.x_mm, of.top_mm))
    x = np.append(of.x_mm[above], mouth + OVERLAP_MM)
    out = [np.column_stack([np.interp(x, of.x_mm, side) + shift, x]) for side in (of.top_mm, low)]
    area = shapely.union_all([area_within(thing), area_within(np.concatenate([out[0], out[1][::-1]]))])
    return shapely.get_coordinates(max(getattr(area, "geoms", [area]), key=lambda g: g.area).exterior)[:-1]
