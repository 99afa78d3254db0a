"""The cased scabbard: two halves of wood recessed for the thing and its lining, glued and rounded, in a leather cover whose
edges meet down the back.

Flat coordinates: u across from the middle line, v along the thing, growing to its nose; the cover is drawn as it lies before
it goes round, its middle line down the front.
"""

from functools import partial
from typing import Annotated, ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import Polygon

from ....curve import Line, frozen, headings, mirror
from ....drawing import Label, Mark
from ....measure import Body, LongBody, MouldedBody
from ....texts import NOTHING, Said, said
from ...assembly import Assembly
from ...drafted import Draft, WayOut
from ...joins import Join, Layer, Lies, Seat, Sewing, Shell
from ...kind import KindOfPiece
from ...pieces import TITLES, Edge, Piece, Skive, Stock, edged, leather, parted
from ...wrap import NEUTRAL_DRY, NEUTRAL_FORMED
from . import checks, shown
from .checks import GLUE_MM, USUAL_IN
from .core import Core, core_of, rounded_box
from .frog import Frog, FrogParts, frog_parts

Size = Annotated[float, Field(gt=0, le=200)]


class Scabbard(KindOfPiece):
    """Choices for a cased scabbard; every length in mm. `wall_mm` is the wood left under the recess, `glue_mm` beside it. The
    thing goes in straight, or turning along its own bow.
    """

    kind: Literal["scabbard"] = "scabbard"
    says: ClassVar[Said] = said("cased scabbard")
    hint: ClassVar[Said] = said("wood and leather, a frog")
    fits: ClassVar[tuple[type[Body], ...]] = (LongBody, MouldedBody)
    goes_in_mm: Annotated[float, Field(gt=0, le=2000)] | None = None
    way_in: Literal["straight", "bowed"] = "straight"
    clearance_mm: Annotated[float, Field(ge=0, le=10)] = 0.8
    lining_mm: Annotated[float, Field(ge=0, le=10)] = 1.5
    glue_mm: Size = GLUE_MM
    wall_mm: Size = 4.0
    rounded: Annotated[float, Field(ge=0, le=1)] = 0.8
    margin_mm: Annotated[float, Field(gt=0, le=60)] = 4.0
    stretch: Annotated[float, Field(ge=0, le=0.2)] = 0.015
    cap: bool = True
    frog: Frog | None = Frog()

    def goes_in(self, body: MouldedBody) -> float:
        """How much of the thing goes in: a blade, or most of a thing that has none, unless it is said."""
        if self.goes_in_mm is not None:
            return self.goes_in_mm
        blade = float(body.x_mm[-1]) if body.x_mm[0] < 0 else 0.0
        return blade or USUAL_IN * float(np.ptp(body.x_mm))

    def draft(self, body: LongBody | MouldedBody, leather_mm: float) -> Draft:
        """Core halves, lining, cover, cap, loop and their seams. Never raises."""
        lying = body.lying() if isinstance(body, LongBody) else body
        core = self.core(lying, leather_mm, self.way_in == "bowed")
        right = frozen(np.column_stack([core.cover_half, core.x]))
        frog = self._frog(core, leather_mm)
        wood, joins, seats = self._wood(core)
        cap = (self._cap(core, leather_mm),) if self.cap else ()
        closed = Join("cap", said("cap"), "glued", (Layer("cover", "foot", said("cover")), Layer("cap", "around", said("cap"))),
                      says=said("glue it over the foot, and burnish the cover's edge to it"))  # fmt: skip
        return Draft(
            assembly=Assembly(
                (self._cover(right, leather_mm), *wood, *cap, *frog.pieces),
                (*joins, *frog.joins, self._join(right), *((closed,) if self.cap else ())),
                (*seats, *frog.seats),
                frog.fasteners,
                shells=(
                    Shell("core", said("core"), ("core-front", "core-back")),
                    Shell("cover", said("cover"), ("cover", *(p.id for p in cap)), "core", "wrapped"),
                ),
                lies=(
                    *(_in_recess(core, side) for side in ("front", "back")),
                    Lies(
                        "cover",
                        "cover",
                        "round",
                        core.x,
                        frozen(mirror(right)),
                        right,
                        rounded=self.rounded,
                        stretch=self.stretch,
                        swing=core.way.swing(),
                    ),
                ),
                straps=frog.straps,
                belts=frog.belts,
            ),
            marks=(Mark("dimension", core.under, True, "core"),),
            labels=(Label(said("front, over the core"), (0.0, float(core.x[-1]) - 12)),),
            callouts=shown.callouts(self, lying, core, leather_mm),
            tell=partial(shown.reckonings, self, lying, core, leather_mm),
            find=partial(checks.findings, self, lying, core, leather_mm),
            shown=("cover", *(p.id for p in reversed(frog.pieces)), "core-front"),
            way_out=WayOut(float(np.ptp(core.x)), lambda mm: frozen(core.thing - [0.0, mm]), self.clearance_mm, 0.0),
            section=partial(shown.section, self, lying, core, leather_mm),
            station_of=lambda _, v: (v, "low"),
            wet=True,
            carried=said("the band comes off with the scabbard when its stud is opened") if self.frog else NOTHING,
            sentences=shown.SENTENCES,
        )

    def core(self, lying: MouldedBody, leather_mm: float, along_bow: bool) -> Core:
        """The core for a thing that goes in straight, or along its bow."""
        return core_of(
            lying, self.goes_in(lying), along_bow, self.clearance_mm, self.lining_mm, self.glue_mm, self.wall_mm,
            self.rounded, self.stretch, leather_mm,
        )  # fmt: skip

    def _frog(self, core: Core, leather_mm: float) -> FrogParts:
        if self.frog is None:
            return FrogParts()
        way = self.frog.way_mm(core, self.rounded, leather_mm, NEUTRAL_DRY)
        return frog_parts(self.frog, way, self.frog.at_mm(core), self.margin_mm, leather_mm, NEUTRAL_DRY)

    def _cover(self, right: Line, leather_mm: float) -> Piece:
        left = mirror(right)[::-1]
        outline, edges = edged(
            Edge("mouth", said("mouth"), np.vstack([left[-1], right[0]]), "mouth"),
            Edge("right", said("right edge"), right),
            Edge("foot", said("foot"), np.vstack([right[-1], left[0]]), "" if self.cap else "mouth"),
            Edge("left", said("left edge"), left),
        )
        return Piece("cover", said("cover"), outline, edges, leather(leather_mm, NEUTRAL_FORMED), turns="along")

    def _wood(self, core: Core) -> tuple[list[Piece], list[Join], list[Seat]]:
        """Both halves of the core, each the mirror of the other, and their linings; how they are joined."""
        half_thick = float(core.thick.max()) / 2
        wood = Stock("wood", said("wood"), half_thick, "wood")
        cloth = Stock("lining", said("lining"), self.lining_mm, "lining")
        pieces: list[Piece] = []
        joins: list[Join] = []
        seats: list[Seat] = []
        for side in ("front", "back"):
            outline, recess = (r if side == "front" else mirror(r)[::-1] for r in (core.outline, core.recess))
            top = outline[outline[:, 1] < core.mouth + 1e-6]
            (a, v), (b, w) = top[int(np.argmin(top[:, 0]))], top[int(np.argmax(top[:, 0]))]
            ring, edges = parted(
                outline, (Edge("mouth", said("mouth"), top, "mouth"), (float(a), float(v))),
                (Edge("around", said("around"), top), (float(b), float(w))),
            )  # fmt: skip
            pieces.append(Piece(
                f"core-{side}", said("core half, {side}", side=TITLES[side]), ring, edges, wood, mirrored=side == "back",
                skives=(Skive("recess", said("recess"), frozen(recess), half_thick, self.wall_mm),),
            ))  # fmt: skip
            if self.lining_mm > 0:
                ring, edges = edged(Edge("around", said("around"), recess, "free"))
                pieces.append(
                    Piece(
                        f"lining-{side}",
                        said("lining, {side}", side=TITLES[side]),
                        ring,
                        edges,
                        cloth,
                        mirrored=side == "back",
                    )
                )
                seats.append(Seat("recess", f"core-{side}", ring))
                joins.append(Join(
                    f"lining-{side}", said("lining, {side}", side=TITLES[side]), "glued",
                    (Layer(f"core-{side}", "recess"), Layer(f"lining-{side}")),
                    says=said("glue it into the recess, its nap to the thing"),
                ))  # fmt: skip
        joins.append(Join(
            "core", said("core halves"), "glued", (Layer("core-front", "around", said("front")), Layer("core-back", "around",
                                                                                                       said("back"))),
            says=said("glue the halves round the recess, clamp them, round them when they hold"),
        ))  # fmt: skip
        return pieces, joins, seats

    def _cap(self, core: Core, leather_mm: float) -> Piece:
        """The foot's cap: as large as the core there in its cover."""
        ring = Polygon(rounded_box(float(core.half[-1]), float(core.thick[-1]) / 2, self.rounded)).buffer(
            leather_mm, 12
        )
        outline, edges = edged(Edge("around", said("around"), shapely.get_coordinates(ring.exterior)[:-1]))
        return Piece("cap", said("cap"), outline, edges, leather(leather_mm))

    def _join(self, right: Line) -> Join:
        run = headings(right)
        inward = np.column_stack([-np.abs(run[:, 1]), np.sign(run[:, 1]) * run[:, 0]])
        line = mirror(right + inward * self.margin_mm)
        return Join(
            "back-seam", said("back seam"), "butt", (Layer("cover", "left", said("cover")), Layer("cover", "right",
                                                                                                  said("cover"))),
            Sewing(frozen(line), self.margin_mm, margin_at="piece.margin_mm", stack_at="leather.thickness_mm",
                   begins=said("the mouth")),
        )  # fmt: skip


def _in_recess(core: Core, side: str) -> Lies:
    """Where the thing lies in the recess of a half, straight across itself wherever the mouth does not cut that off."""
    ring = core.way.of_body(core.recess)
    x = core.x[core.x < float(ring[:, 1].max()) - 0.5]
    rows = shapely.linestrings([[(-1e4, v), (1e4, v)] for v in np.maximum(x, core.mouth + 0.01)])
    left, _, right, _ = shapely.bounds(shapely.intersection(rows, shapely.Polygon(ring))).T
    p, q = (core.way.laid(np.column_stack([u, np.maximum(x, core.mouth + 0.01)])) for u in (left, right))
    whole = (p[:, 1] > core.mouth + 0.005) & (q[:, 1] > core.mouth + 0.005)
    p, q = (v[whole] for v in ((p, q) if side == "front" else (mirror(q), mirror(p))))
    return Lies(
        "core", f"core-{side}", "hollow", x[whole], frozen(p), frozen(q), swing=core.way.swing(mirrored=side == "back")
    )
