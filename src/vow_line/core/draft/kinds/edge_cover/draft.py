"""The edge cover of a hatchet, a billhook or a saw: two sides that reach a little way onto the tool's faces, a filler between
them beyond the edge, straps over the tool's back. The tool goes in and out sideways.

Flat coordinates are the tool's own, as its outline was drawn.
"""

from dataclasses import replace
from functools import partial
from typing import Annotated, ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import LineString

from ....curve import Line, arc_length, area_within, frozen, mirror, walk
from ....drawing import Mark
from ....measure import Body, ToolBody
from ....memory import remembered
from ....ring import closed, place_on, turned_right
from ....texts import Said, said
from ...assembly import Assembly
from ...drafted import Draft, WayOut
from ...joins import Fastener, Goes, Join, Layer, Seat, Sewing, Shell
from ...kind import KindOfPiece
from ...pieces import TITLES, Edge, Piece, Punch, edged, leather, other_leather, parted
from ...search import search
from ...strap import LAP_MM, POST_MM, STRAP, numbered, strap_fasteners, stud_strap
from ...wrap import NEUTRAL_DRY, flat_length
from . import checks, shown
from .checks import LEAST_EDGE_TO_THREAD_MM
from .flap import Flap, flap
from .lines import Lines, at_share, lines_of, over_the_back, ring_of, walls, way_out
from .straps import ALIKE_MM, Size, Straps

FILLER_MM = 10.0  # the filler strip is about as wide as this (common practice)


class EdgeCover(KindOfPiece):
    """Choices for an edge cover; every length in mm. `past_mm` is how far it runs on along the outline past the edge's ends."""

    kind: Literal["edge_cover"] = "edge_cover"
    says: ClassVar[Said] = said("edge cover")
    hint: ClassVar[Said] = said("over its edge, sideways")
    fits: ClassVar[type[Body]] = ToolBody
    form: Literal["two-parts", "folded"] = "two-parts"
    depth_mm: Size = 28.0
    past_mm: Annotated[float, Field(ge=0, le=200)] = 8.0
    clearance_mm: Annotated[float, Field(ge=0, le=30)] = 1.5
    filler_mm: Size = FILLER_MM
    filler_thick_mm: Annotated[float, Field(gt=0, le=20)] = 4.0
    margin_mm: Annotated[float, Field(gt=0, le=60)] = 4.0
    straps: Straps | None = Straps()

    def draft(self, body: ToolBody, leather_mm: float) -> Draft:
        """Sides, filler, straps, the seam and its checks for this tool. Never raises."""
        lines = lines_of(body, self.depth_mm, self.past_mm, self.clearance_mm, self.filler_mm, self.filler_thick_mm)
        line = _fold_line(lines)
        filler = self._filler(lines, leather_mm)
        cover = None if self.form == "folded" else self._flap(body, lines, leather_mm)
        assembly = self._assembly(body, lines, line, filler, cover, leather_mm)
        room = way_out(body, lines)
        return Draft(
            assembly=assembly,
            marks=(Mark("welt", filler.outline, True, "filler"),
                   *((Mark("alarm", frozen([room.place]), id="draw-out", size_mm=10.0),)
                     if checks.tight(self, body, room) else ())),
            callouts=shown.callouts(self, lines, leather_mm),
            tell=partial(shown.reckonings, self, body, lines, leather_mm, room, cover),
            find=partial(checks.findings, self, body, lines, room, line[2]),
            shown=tuple(p.id for p in assembly.pieces if p.id != "filler"),
            way_out=WayOut(room.long_mm, lambda mm: frozen(body.outline + mm * room.along), room.least_mm, room.drawn_mm,
                           lambda: (walls(lines), body.outline), (float(room.along[0]), float(room.along[1]))),
            section=partial(shown.section, self, body, lines, leather_mm),
            search=partial(search, body.outline, walls(lines), room.along, room.long_mm, edge=body.edge,
                           thread=lines.thread(self.margin_mm)),
            sentences=shown.SENTENCES,
        )  # fmt: skip

    def _assembly(
        self, body: ToolBody, lines: Lines, line: "_FoldLine", filler: Piece, cover: Flap | None, leather_mm: float
    ) -> Assembly:
        seats: tuple[Seat, ...] = ()
        strapped = self.straps if cover is None else None
        if self.form == "folded":
            pieces = [self._folded(lines, line, leather_mm)]
            seats = (
                Seat("filler", "cover", lines.outer),
                Seat("other-side", "cover", self._over_fold(lines.outer, line, leather_mm)),
            )
            turn, shift = self._other_half(line, leather_mm)
            first, last = (
                Layer("cover", "filler", said("front")),
                Layer("cover", "other-side", said("back"), turn=turn, shift=shift),
            )
            shell, front, back = ["cover"], "cover", "cover"
        else:
            pieces = [_half(id, lines, leather_mm, strapped) for id in ("front", "back")]
            if cover is not None:
                pieces = [_studded(pieces[0], cover), _flapped(pieces[1], cover)]
            first, last = Layer("front", "seam", said("front")), Layer("back", "seam", said("back"))
            shell, front, back = ["front", "back"], "front", "back"
        strap: tuple[Piece, ...] = ()
        fasteners: tuple[Fastener, ...] = ()
        goes: tuple[Goes, ...] = ()
        if cover is not None:
            fasteners = tuple(
                Fastener(id, title, "stud", (("back", at), ("front", post)))
                for (id, title), (at, _), (post, _) in zip(
                    *(numbered(slug, title, len(cover.studs)) for slug, title in STUDS), strict=True
                )
            )  # fmt: skip
        elif strapped:
            strap, which = self.straps_of(body, lines, leather_mm)
            fasteners = strap_fasteners(back, front, which)
            goes = tuple(
                Goes(id, ("rivet-hole", "stud-hole"), (rivet.through[1], stud.through[1]), "back")
                for id, rivet, stud in zip(which, fasteners[::2], fasteners[1::2], strict=True)
            )
        seam = Join(
            "edge-seam", said("edge seam"), "line", (first, Layer("filler", "outer", said("filler"), between=True), last),
            Sewing(
                lines.thread(self.margin_mm), self.margin_mm, keep_off=body.outline, keep_off_mm=LEAST_EDGE_TO_THREAD_MM,
                margin_at="piece.margin_mm", stack_at="piece.filler_thick_mm", keep_off_at="piece.filler_mm",
                kept_off_mm=self.filler_mm, stack_title=said("filler, thick"), edge_ends=(True, True),
            ),
        )  # fmt: skip
        along = way_out(body, lines).along
        out = float(along[0]), float(along[1])
        return Assembly(
            (*pieces, filler, *strap), (seam,), seats, fasteners,
            (Shell("pocket", said("cover"), tuple(shell), way="across", out=out),), straps=goes,
        )  # fmt: skip

    def _filler(self, lines: Lines, leather_mm: float) -> Piece:
        outer, inner = lines.outer, lines.inner
        outline, edges = edged(
            Edge("outer", said("outer edge"), outer),
            Edge("end-1", said("end"), np.vstack([outer[-1], inner[-1]]), "free", beside="inner"),
            Edge("inner", said("inner edge and ends"), inner[::-1], "free"),
            Edge("end-2", said("other end"), np.vstack([inner[0], outer[0]]), "free", beside="inner"),
        )
        stock = other_leather(self.filler_thick_mm, leather_mm, "filler", said("leather for the filler"))
        return Piece("filler", said("filler"), outline, edges, stock)

    def _flap(self, body: ToolBody, lines: Lines, leather_mm: float) -> Flap | None:
        """The flap that closes it, where it has one."""
        if self.straps is None or self.straps.form != "flap":
            return None
        away = way_out(body, lines).along
        return flap(
            body.outline,
            lines.mouth,
            away,
            self.straps.width_mm,
            float(body.thick_mm[-1]),
            leather_mm,
            self.straps.count,
        )

    def ways_mm(self, body: ToolBody, lines: Lines, leather_mm: float) -> tuple[float, ...]:
        """How long each strap is from hole to hole: to the tool's back, round it, and as far again."""
        thick = float(body.thick_mm[-1])
        return tuple(
            flat_length(2 * over_the_back(body, lines, hole.centre) + thick, np.pi, NEUTRAL_DRY, leather_mm)
            for hole in _held(self.straps, "stud", lines.mouth, lines.inner)
        )

    def straps_of(self, body: ToolBody, lines: Lines, leather_mm: float) -> tuple[tuple[Piece, ...], tuple[str, ...]]:
        """The straps, one piece where they are all as long, and which of the pieces each of them is."""
        assert self.straps is not None
        ways, wide = self.ways_mm(body, lines, leather_mm), self.straps.width_mm
        if max(ways) - min(ways) <= ALIKE_MM:
            return (stud_strap(max(ways), wide, leather_mm, len(ways)),), ("strap",) * len(ways)
        names = numbered("strap", STRAP, len(ways))
        return tuple(
            stud_strap(way, wide, leather_mm, 1, id, title) for way, (id, title) in zip(ways, names, strict=True)
        ), tuple(id for id, _ in names)

    def _other_half(self, line: "_FoldLine", leather_mm: float) -> tuple[Line, tuple[float, float]]:
        """How the one half lies on the other: turned over about the fold, and moved on by the turn the fold takes."""
        point, along, _ = line
        over = 2 * np.outer(along, along) - np.eye(2)
        out = np.array([along[1], -along[0]])
        turn = flat_length(np.pi * self.filler_thick_mm / 2, np.pi, NEUTRAL_DRY, leather_mm)
        shift = point - point @ over + out * turn
        return frozen(over), (float(shift[0]), float(shift[1]))

    def _folded(self, lines: Lines, line: "_FoldLine", leather_mm: float) -> Piece:
        """Both sides in one, folded round the filler's outer side along a straight line."""
        point, along, _ = line
        over, shift = self._other_half(line, leather_mm)
        out = np.array([along[1], -along[0]])
        foot = [point + along * float((end - point) @ along) for end in (lines.outer[0], lines.outer[-1])]
        bridge = np.concatenate([lines.outer, foot[::-1]])
        side = shapely.union_all([area_within(lines.side), area_within(bridge)])
        turn = float(np.array(shift) @ out - (point - point @ over) @ out)
        strip = np.array([foot[0], foot[1], foot[1] + out * turn, foot[0] + out * turn])
        other = shapely.transform(side, lambda points: points @ over + np.array(shift)).buffer(
            0
        )  # rounding can cross it
        whole = ring_of(shapely.union_all([side, area_within(strip), other]).buffer(0.05, 1).buffer(-0.05, 1))
        other_mouth, other_inner = (k @ over + np.array(shift) for k in (lines.mouth, lines.inner))
        ends = {"mouth": lines.outer[-1], "end-1": lines.outer[0], "other-mouth": lines.outer[0] @ over + np.array(shift),
                "end-2": lines.outer[-1] @ over + np.array(shift)}  # fmt: skip
        titles = {
            "mouth": said("mouth"),
            "end-1": said("end of the fold"),
            "other-mouth": said("other mouth"),
            "end-2": said("other end of the fold"),
        }
        beside = {"end-1": "mouth", "end-2": "other-mouth"}
        outline, edges = parted(whole, *(
            (Edge(id, titles[id], lines.mouth, "mouth", beside=beside.get(id, "")), (float(u), float(v)))
            for id, (u, v) in ends.items()
        ))  # fmt: skip
        return Piece(
            "cover", said("cover"), outline, edges, leather(leather_mm),
            folds=(frozen(foot), frozen([p + out * turn for p in foot])),
            punches=(*_held(self.straps, "stud", lines.mouth, lines.inner),
                     *_held(self.straps, "rivet", other_mouth, other_inner)),
        )  # fmt: skip

    def _over_fold(self, points: Line, line: "_FoldLine", leather_mm: float) -> Line:
        """Points of the one half where they lie on the other."""
        over, shift = self._other_half(line, leather_mm)
        return frozen(points @ over + np.array(shift))


@remembered("part")
def _half(id: str, lines: Lines, leather_mm: float, straps: Straps | None) -> Piece:
    """The front, or the back: its mirror. Remembered: an edit of the seam leaves both as they are."""
    flipped = id == "back"
    side, outer, mouth, inner = (
        mirror(k) if flipped else k for k in (lines.side, lines.outer, lines.mouth, lines.inner)
    )
    outline, edges = parted(side, *_begins(side, outer))
    return Piece(
        id, TITLES[id], outline, edges, leather(leather_mm), mirrored=flipped,
        punches=_held(straps, "rivet" if flipped else "stud", mouth, inner),
    )  # fmt: skip


def _begins(side: Line, outer: Line) -> tuple[tuple[Edge, tuple[float, float]], ...]:
    """The seam's edge and the mouth, and where each begins going round a side turned right."""
    along = float(arc_length(outer)[-1])
    ring = turned_right(side)
    start, end = (place_on(ring, (float(u), float(v))) for u, v in outer[[0, -1]])
    forward = abs((end - start) % float(arc_length(closed(ring))[-1]) - along)
    backward = abs((start - end) % float(arc_length(closed(ring))[-1]) - along)
    first, last = (outer[0], outer[-1]) if forward <= backward else (outer[-1], outer[0])
    return (
        (Edge("seam", said("seam edge"), outer), (float(first[0]), float(first[1]))),
        (Edge("mouth", said("mouth"), outer, "mouth"), (float(last[0]), float(last[1]))),
    )


def _held(straps: Straps | None, by: str, mouth: Line, inner: Line) -> tuple[Punch, ...]:
    """Holes for the straps' rivets or studs, evenly along where the leather lies on the face."""
    if straps is None:
        return ()
    found = []
    for k in range(straps.count):
        at = np.array(at_share(mouth, (k + 1) / (straps.count + 1)))
        line = LineString(inner)
        to = shapely.get_coordinates(line.interpolate(line.project(shapely.Point(at))))[0]
        away = (to - at) / max(float(np.hypot(*(to - at))), 1e-9)
        u, v = at + away * LAP_MM / 2
        id, title = numbered(f"{by}-hole", BY[by], straps.count)[k]
        found.append(Punch(id, title, (float(u), float(v)), POST_MM))
    return tuple(found)


STUDS = (("stud", said("stud")), ("stud-hole", said("stud hole")), ("post-hole", said("post hole")))
BY = {"rivet": said("rivet hole"), "stud": said("stud hole")}
_FoldLine = tuple[Line, Line, float]


def _flapped(back: Piece, cover: Flap) -> Piece:
    """The back run on into its flap, folds and stud holes marked."""
    area = mirror(cover.area)
    whole = ring_of(shapely.union_all([area_within(back.outline), area_within(area).buffer(0.05, 1)]))
    seam, mouth = back.edge("seam"), back.edge("mouth")
    (u, v), (s, t) = seam.line[0], mouth.line[0]
    begins, ends = sorted((place_on(back.outline, (float(x), float(y))) for x, y in cover.base * [-1, 1]), key=lambda at: (
        (at - place_on(back.outline, (float(s), float(t)))) % float(arc_length(closed(back.outline))[-1])))  # fmt: skip
    (a, b), (c, d) = (walk(closed(back.outline), [at])[0] for at in (begins, ends))
    outline, edges = parted(
        whole, (replace(seam), (float(u), float(v))), (replace(mouth), (float(s), float(t))),
        (Edge("flap", said("flap"), area, "mouth"), (float(a), float(b))),
        (Edge("mouth-2", said("mouth beyond the flap"), area, "mouth", beside="mouth"), (float(c), float(d))),
    )  # fmt: skip
    return replace(
        back,
        outline=outline,
        edges=edges,
        folds=(frozen(mirror(cover.fold)),),
        punches=_holes("stud-hole", said("stud hole"), mirror(cover.studs)),
    )


def _studded(front: Piece, cover: Flap) -> Piece:
    return replace(front, punches=_holes("post-hole", said("post hole"), cover.on_front))


def _holes(slug: str, title: Said, places: Line) -> tuple[Punch, ...]:
    return tuple(
        Punch(id, title, (float(u), float(v)), POST_MM)
        for (id, title), (u, v) in zip(numbered(slug, title, len(places)), places, strict=True)
    )


def _fold_line(lines: Lines) -> _FoldLine:
    """The straight line just outside the filler: a point on it, its direction with the tool to its left, how far the filler
    bows from it.
    """
    chord = lines.outer[-1] - lines.outer[0]
    along = chord / max(float(np.hypot(*chord)), 1e-9)
    out = np.array([along[1], -along[0]])
    inside = float((lines.mouth.mean(axis=0) - lines.outer.mean(axis=0)) @ out)
    if inside > 0:
        along, out = -along, -out
    off = lines.outer @ out
    far = lines.outer[int(np.argmax(off))]
    inner = lines.inner @ out
    return far, along, float(np.ptp(inner[len(inner) // 8 : -max(len(inner) // 8, 1)]))
