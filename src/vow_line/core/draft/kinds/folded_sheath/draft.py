"""The folded sheath: one piece folded at the spine, sewn along the edge and round the tip over a welt.

Flat coordinates: u square to the fold (0 on it, the front half positive), v along the blade (0 at the guard, growing to
the toe). The *inner line* is the inner edge of the welt, the *thread line* the stitches, the *outer line* the cut.
"""

from collections.abc import Mapping
from functools import partial
from types import MappingProxyType
from typing import Annotated, ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import Polygon

from ....curve import Line, Values, area_within, frozen, mirror
from ....measure import Body, LongBody
from ....measure.body import Side
from ....texts import Said, said
from ...assembly import Assembly
from ...drafted import Draft, WayOut
from ...draw_out import draw_out
from ...flat import below, right_side, short_of
from ...joins import Goes, Join, Layer, Lies, Sewing, Shell
from ...kind import KindOfPiece
from ...loop import BeltLoop, Hung, carried, hung, loop_findings
from ...pieces import Edge, Piece, Punch, Skive, edged, leather, other_leather
from ...search import Progress, Way, search
from ...strap import LAP_MM, POST_MM, strap_fasteners, stud_strap
from ...toe_guard import guard_thick, toe_guard
from ...wrap import NEUTRAL_DRY, NEUTRAL_FORMED, flat_length
from . import shown
from .checks import LEAST_EDGE_TO_THREAD_MM, Relief, findings, judged
from .pocket import Pocket, inside_of, wraps_of

FITTED_LOOSE_MM = 8.0  # beyond this a pocket that follows the thing does not: hollows are filled (from memory)
FOLDED_TO = 0.9  # so far towards the point a fold goes round a spine (from memory)

Size = Annotated[float, Field(gt=0, le=200)]


class FoldedSheath(KindOfPiece):
    """Choices for a folded sheath; every length in mm.

    `opened` runs the pocket straight from the blade's widest place to the mouth; otherwise the welt follows the blade in
    behind its belly.
    """

    kind: Literal["folded_sheath"] = "folded_sheath"
    says: ClassVar[Said] = said("folded sheath")
    hint: ClassVar[Said] = said("folded at the spine")
    fits: ClassVar[type[Body]] = LongBody
    turns: ClassVar[Mapping[Side, float]] = MappingProxyType({"low": np.pi / 2})
    welt_mm: Annotated[float, Field(gt=0, le=15)] = 3.2
    welts: Annotated[int, Field(ge=1, le=2)] = 1
    clearance_mm: Annotated[float, Field(ge=0, le=30)] = 1.0
    edge_to_thread_mm: Annotated[float, Field(gt=0, le=60)] = 5.0
    margin_mm: Annotated[float, Field(gt=0, le=60)] = 3.5
    skive_mm: Annotated[float, Field(gt=0, le=200)] = 25.0
    seat_mm: Annotated[float, Field(ge=0, le=300)] = 30.0
    mouth_ease_mm: Annotated[float, Field(ge=-20, le=40)] = 1.0
    mouth: Literal["straight", "sloped", "scooped"] = "straight"
    mouth_depth_mm: Annotated[float, Field(ge=0, le=60)] = 8.0
    drain_mm: Annotated[float, Field(ge=0, le=10)] = 0.0
    opened: bool = True
    formed: bool = False
    worn: Literal["right", "left"] = "right"
    loop: BeltLoop | None = BeltLoop()
    strap_mm: Annotated[float, Field(ge=0, le=60)] = 0.0
    toe_guard_mm: Annotated[float, Field(ge=0, le=200)] = 0.0
    relief: Annotated[tuple[Relief, ...], Field(max_length=20)] = ()

    @property
    def between_mm(self) -> float:
        """All that lies between the halves at the seam: the welt, or two."""
        return self.welts * self.welt_mm

    @property
    def neutral(self) -> float:
        """Where the neutral layer lies: 0.5 of the thickness dry, 0.4 wet-formed (common practice)."""
        return NEUTRAL_FORMED if self.formed else NEUTRAL_DRY

    def draft(self, body: LongBody, leather_mm: float) -> Draft:
        """Pieces, seams and checks for this knife in leather of `leather_mm`. Never raises."""
        pocket = self._pocket(body, leather_mm)
        sheath, welt = self._sheath(pocket, leather_mm), self._welt(pocket, leather_mm)
        on = self._hung(sheath, pocket, leather_mm)
        found = (
            *findings(self, body, pocket, leather_mm),
            *loop_findings(on.back, self.loop, float(pocket.gives[0]), self.margin_mm),
        )
        tight = any(f.code == "draw-out" for f in found)
        assembly = self._assembly(on, welt, body, pocket, leather_mm)
        return Draft(
            assembly=assembly,
            marks=shown.marks(pocket, welt, tight),
            labels=shown.labels(pocket, tight),
            callouts=shown.callouts(self, pocket, leather_mm),
            tell=partial(shown.reckonings, self, body, pocket, leather_mm, assembly.pieces),
            find=lambda: found,
            shown=("sheath", *(("strap",) if self.strap_mm else ()), *(("toe-guard",) if self.toe_guard_mm else ())),
            way_out=self._way_out(pocket, welt),
            section=partial(shown.section, self, body, pocket, leather_mm),
            search=partial(self._search, pocket, welt),
            judge=partial(judged, self, body, welt),
            station_of=lambda _, v: (v, "low"),
            wet=self.formed,
            sentences=shown.SENTENCES,
            carried=carried(self.worn, self.loop),
        )

    def _assembly(self, on: Hung, welt: Piece, body: LongBody, pocket: Pocket, leather_mm: float) -> Assembly:
        pieces, joins, seats = [on.back, welt, *on.strips], [*on.joins], [*on.seats]
        begins = self._guard_from(pocket.x)
        if begins is not None:
            guard, seat, glued = toe_guard(on.back, begins, "toe-guard", said("toe guard"), leather_mm)
            pieces.append(guard)
            seats.append(seat)
            joins.append(glued)
        joins.append(self._main_join(pocket))
        loose = None if self.opened else self.clearance_mm + max(self.mouth_ease_mm, 0.0) + FITTED_LOOSE_MM
        strap = (
            stud_strap(self.strap_over_mm(body, pocket, leather_mm) + LAP_MM, self.strap_mm, leather_mm)
            if self.strap_mm
            else None
        )
        half = float(pocket.outer[0, 0])
        rim = np.maximum(
            self._rim(float(pocket.x[0]), half, pocket.gives), self._rim(float(pocket.x[0]), half, np.zeros(1))
        )
        x, gives = (v[pocket.x >= rim] for v in (pocket.x, pocket.gives))
        gives = np.maximum(gives, pocket.bend)  # within the fold's turn there is no welt
        across, fold = np.column_stack([gives, x]), np.column_stack([np.zeros(len(x)), x])
        return Assembly(
            pieces=(*pieces, *((strap,) if strap else ())), joins=tuple(joins), seats=tuple(seats),
            fasteners=strap_fasteners("sheath", "sheath") if strap else (),
            shells=(Shell("pocket", said("pocket"), ("sheath",)),), belts=on.belts, rings=on.rings,
            lies=tuple(
                Lies("pocket", "sheath", "half", x, fold, across * [way, 1], loose_mm=loose, part=part)
                for part, way in (("front", 1), ("back", -1))
            ),
            straps=(Goes("strap", ("rivet-hole", "stud-hole"), (("sheath", "rivet-hole"), ("sheath", "stud-hole")), "handle",
                         self._strap_at(body, pocket)),) if strap else (),
        )  # fmt: skip

    # the pocket

    def _seat(self, body: LongBody) -> float:
        return min(self.seat_mm, -float(body.x_mm[0]) - 0.5)

    def _pocket(self, body: LongBody, leather_mm: float) -> Pocket:
        mouth = -self._seat(body)
        w = wraps_of(body, mouth, self.skive_mm, self.between_mm, self.clearance_mm, self.neutral, leather_mm)
        x = w.x
        begins = self._guard_from(x)
        lined = np.zeros(len(x)) if begins is None else np.pi / 2 * guard_thick(x, begins)
        inside = inside_of(w, self.clearance_mm, self.mouth_ease_mm, self.opened, begins)
        thread_area = inside.area.buffer(max(self.edge_to_thread_mm - self.clearance_mm, 0.1))
        outer_area = thread_area.buffer(self.margin_mm)
        outer = right_side(outer_area)
        half = float(np.interp(mouth, outer[:, 1], outer[:, 0]))
        rim = partial(self._rim, mouth, half)
        bend = self.between_mm / 2 + np.pi / 2 * self.neutral * leather_mm
        relieved = self._relieved(inside.line)
        full_inner = np.interp(x, np.maximum.accumulate(relieved[:, 1]), relieved[:, 0])
        only_blade = np.where(w.blade, 1.0, 0.0)
        draw = draw_out(x, w.least * only_blade, w.needs_thin.least_mm * only_blade, full_inner - lined, w.thin)
        whole = draw_out(x, w.needs, w.needs_thin.flat_mm, full_inner - lined, w.thin)
        return Pocket(
            x=x, touching=w.touching, edge_u=inside.edge_u, clear=w.clear, width=w.edge - w.top, top=w.top,
            spine_u=w.spine_z + np.pi / 2 * self.neutral * leather_mm, gives=full_inner,
            welt_at=self.between_mm * (1 - w.thin),
            inner=below(inside.line, rim, bend), relieved=below(relieved, rim, bend),
            thread=below(right_side(thread_area), rim, bend), outer=below(outer, rim, 0.0),
            bend=bend, lined=lined, draw=draw, mouth_gap=2 * float(whole.gap_mm[0]),
            passing=2 * float(w.needs_thin.hull_mm.max()), fold_y=w.fold_y,
        )  # fmt: skip

    def _rim(self, mouth: float, half: float, u: Values) -> Values:
        """Height of the mouth's edge over u."""
        share = np.minimum(np.abs(u) / half, 1.0)
        match self.mouth:
            case "sloped":
                return mouth + self.mouth_depth_mm * share
            case "scooped":
                return mouth + self.mouth_depth_mm * (1 - share**2) ** 2
            case _:
                return np.full(np.shape(u), mouth)

    def _relieved(self, inner: Line) -> Line:
        cut_back = np.zeros(len(inner))
        for relief in self.relief:
            v = [relief.from_mm - 6, relief.from_mm, relief.to_mm, relief.to_mm + 6]
            cut_back = np.maximum(cut_back, np.interp(inner[:, 1], v, [0, relief.by_mm, relief.by_mm, 0]))
        return inner + np.column_stack([cut_back, np.zeros(len(inner))])

    # the pieces

    def _sheath(self, pocket: Pocket, leather_mm: float) -> Piece:
        right = pocket.outer
        half = float(right[0, 0])
        outline, edges = edged(
            Edge("mouth", said("mouth"), self._rim_line(pocket, half), "mouth"),
            Edge("front", said("front edge"), right),
            Edge("back", said("back edge"), mirror(right)[::-1]),
        )
        top = float(self._rim(float(pocket.x[0]), half, np.array([0.0]))[0])
        back = -1.0 if self.worn == "right" else 1.0
        punches: tuple[Punch, ...] = ()
        if self.drain_mm > 0:
            toe = float(pocket.x[-1]) - max(6.0, 2 * self.drain_mm)
            at = back * float(np.interp(toe, pocket.x, pocket.edge_u)) / 2
            punches = (Punch("drain", said("drain"), (at, toe), self.drain_mm),)
        if self.strap_mm:
            middle = (pocket.bend + float(pocket.gives[0])) / 2
            down = float(self._rim(float(pocket.x[0]), half, np.array([middle]))[0]) + LAP_MM / 2
            punches += (
                Punch("rivet-hole", said("rivet hole"), (back * middle, down), POST_MM),
                Punch("stud-hole", said("stud hole"), (-back * middle, down), POST_MM),
            )
        return Piece(
            "sheath", said("sheath"), outline, edges, leather(leather_mm, self.neutral),
            folds=(frozen([[0.0, top], [0.0, right[-1, 1]]]),), punches=punches, turns="along",
        )  # fmt: skip

    def _rim_line(self, pocket: Pocket, half: float) -> Line:
        u = np.linspace(-half, half, 3 if self.mouth != "scooped" else 41)
        line = np.column_stack([u, self._rim(float(pocket.x[0]), half, u)])
        line[[0, -1]] = pocket.outer[0] * [[-1.0, 1.0], [1.0, 1.0]]  # it ends where the edges begin, both alike
        return line

    def _welt(self, pocket: Pocket, leather_mm: float) -> Piece:
        outer, inner = short_of(pocket.outer, pocket.bend), pocket.relieved
        mouth = float(pocket.x[0])
        outline, edges = edged(
            Edge("outer", said("outer edge"), outer),
            Edge("toe-end", said("toe end"), frozen([outer[-1], inner[-1]]), "turn"),
            Edge("inner", said("inner edge"), inner[::-1], "free"),
            Edge("mouth-end", said("mouth end"), frozen([inner[0], outer[0]]), "free", beside="inner"),
        )
        skives: tuple[Skive, ...] = ()
        part = area_within(outline).intersection(shapely.box(-1e4, -1e4, 1e4, mouth + self.skive_mm))
        if isinstance(part, Polygon) and not part.is_empty:
            thinned = frozen(shapely.get_coordinates(part.exterior)[:-1])
            skives = (Skive("mouth", said("to nothing at the mouth"), thinned, self.welt_mm, 0.0, (0.0, mouth + self.skive_mm),
                            (0.0, mouth)),)  # fmt: skip
        stock = other_leather(self.welt_mm, leather_mm, "welt", said("leather for the welt"))
        return Piece("welt", said("welt"), outline, edges, stock, skives=skives, count=self.welts)

    def _hung(self, sheath: Piece, pocket: Pocket, leather_mm: float) -> Hung:
        if self.loop is None:
            return Hung(sheath)
        mouth = float(pocket.x[0])
        side = -1.0 if self.worn == "right" else 1.0
        seam_side = float(np.interp(mouth + self.loop.down_mm + self.loop.box_mm / 2, pocket.x, pocket.gives))
        return hung(
            sheath, self.loop, side * (pocket.bend + seam_side) / 2, mouth, self.margin_mm, leather_mm, self.neutral
        )

    def _main_join(self, pocket: Pocket) -> Join:
        mouth = float(pocket.x[0])
        sweep = np.maximum.accumulate(np.where(pocket.x >= 0, pocket.touching.least_mm, 0.0)[::-1])[::-1] + pocket.lined
        keep_off = np.concatenate([np.column_stack([sweep, pocket.x]), [[0.0, pocket.x[-1]], [0.0, mouth]]])
        return Join(
            "main-seam", said("main seam"), "line",
            (Layer("sheath", "front", said("front")), Layer("welt", "outer", said("welt"), self.welts, between=True),
             Layer("sheath", "back", said("back"))),
            Sewing(
                frozen(pocket.thread), self.margin_mm, keep_off=frozen(keep_off), keep_off_mm=LEAST_EDGE_TO_THREAD_MM,
                margin_at="piece.margin_mm", stack_at="piece.welt_mm", stack_title=said("welt, thick"),
                keep_off_at="piece.edge_to_thread_mm", kept_off_mm=self.edge_to_thread_mm,
                asked_off_mm=self.edge_to_thread_mm, begins=said("the mouth"),
                edge_ends=(True, False),
            ),
        )  # fmt: skip

    def _guard_from(self, x: Values) -> float | None:
        """Where the toe guard begins, if there is one."""
        return max(float(x[-1]) - self.toe_guard_mm, float(x[0]) + 1.0) if self.toe_guard_mm else None

    def _strap_at(self, body: LongBody, pocket: Pocket) -> float:
        """Where a strap goes round the handle: its thickest just outside the mouth."""
        outside = (body.x_mm < pocket.x[0]) & (body.x_mm > pocket.x[0] - 40)
        there = np.flatnonzero(outside if outside.any() else ~body.blade)
        return float(body.x_mm[there[int(np.argmax(body.girth_mm()[there]))]])

    def strap_over_mm(self, body: LongBody, pocket: Pocket, leather_mm: float) -> float:
        """Half way round the handle there."""
        at = int(np.argmin(np.abs(body.x_mm - self._strap_at(body, pocket))))
        return flat_length(float(body.girth_mm()[at]) / 2, np.pi, self.neutral, leather_mm)

    # the way out

    def _way_out(self, pocket: Pocket, welt: Piece) -> WayOut:
        """The body in its own shape, lying against the fold as far as the fold's own turn lets it, drawn straight out."""
        x, top = pocket.x, pocket.top + pocket.spine_u
        thing = frozen(np.concatenate([np.column_stack([top, x]), np.column_stack([top + pocket.width, x])[::-1]]))
        return WayOut(
            float(np.ptp(x)), lambda mm: frozen(thing - [0.0, mm]), pocket.draw.least_mm, pocket.draw.drawn_mm,
            lambda: (area_within(welt.outline), self._passing(pocket)[0]),
        )  # fmt: skip

    def _passing(self, pocket: Pocket) -> tuple[Line, Line]:
        """The blade laid as wide as leather lies over it, its spine free of the fold; and its edge."""
        blade = pocket.x >= 0
        x, wide = pocket.x[blade], pocket.width[blade]
        edge = np.column_stack([pocket.touching.flat_mm[blade], x])
        return np.concatenate([edge - np.column_stack([wide, np.zeros(len(x))]), edge[::-1]]), edge

    def _search(self, pocket: Pocket, welt: Piece, *, progress: Progress) -> Way | None:
        """The blade laid as wide as leather lies over it, its spine free of the fold, past the welt and the fold."""
        ring, edge = self._passing(pocket)
        fold = shapely.box(-20.0, float(pocket.x[0]), float(ring[:, 0].min()), float(pocket.x[-1]) + 20.0)
        up = np.array([0.0, -1.0])
        return search(
            ring,
            area_within(welt.outline),
            up,
            float(np.ptp(pocket.x)),
            behind=fold,
            edge=edge,
            thread=pocket.thread,
            progress=progress,
        )

    def fold_radius_mm(self, body: LongBody, leather_mm: float) -> float:
        """The radius of the neutral layer in the fold."""
        return self.thinnest_spine_mm(body) / 2 + self.neutral * leather_mm

    def thinnest_spine_mm(self, body: LongBody) -> float:
        """The spine where it is thinnest, its point left out, which thins to nothing."""
        return float(body.thick_mm[body.blade & (body.x_mm <= FOLDED_TO * body.length_mm)].min())

    def fold_strain(self, body: LongBody, leather_mm: float) -> float:
        """How far the outer fibres stretch at the fold, as a share."""
        return (1 - self.neutral) * leather_mm / self.fold_radius_mm(body, leather_mm)
