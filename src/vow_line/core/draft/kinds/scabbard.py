"""The cased scabbard: two halves of wood recessed for the thing and its lining, glued and rounded, in a leather cover whose
edges meet down the back.

Flat coordinates: u across from the middle line, v along the thing, growing to its nose; the cover is drawn as it lies before
it goes round, its middle line down the front.
"""

from dataclasses import dataclass
from functools import lru_cache, partial
from typing import Annotated, ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import Polygon

from ...curve import Line, Values, frozen, headings, mirror
from ...drawing import Callout, Label, Mark
from ...finding import Finding, Mend
from ...measure import Body, LongBody, MouldedBody
from ...quantity import Q
from ...reckoning import Reckoning, length, percent, reckon, said
from ...ring import turned_right
from ..assembly import Assembly, Join, Layer, Lies, Seat, Sewing, Shell
from ..drafted import Draft, Section, WayOut
from ..kind import KindOfPiece
from ..loop import BeltLoop, hung, loop_choices
from ..pieces import Edge, Piece, Skive, Stock, edged, leather, parted
from ..wrap import NEUTRAL_FORMED, flat_length

GLUE_MM = 14.0  # wood beside the recess that holds the halves together, 13 to 15 (common practice)
USUAL_IN = 0.8  # a case takes in about so much of a thing that has no blade (from memory)
LEAST_GLUE_MM = 10.0
LEAST_WALL_MM = 2.5  # wood left under the recess (from memory)
SWORD_BELT_MM = 60.0  # what a frog opens to for a sword belt (common practice)

Size = Annotated[float, Field(gt=0, le=200)]


@dataclass(frozen=True, slots=True, eq=False)
class _Core:
    """The wooden core from mouth to nose: `x (n,)`, half its width and how thick both halves are there; its outline, the
    recess; the cover's half width; all about the middle line.
    """

    x: Values
    half: Values
    thick: Values
    cover_half: Values
    outline: Line
    recess: Line
    thing: Line
    depth_mm: float
    mouth: float


class Scabbard(KindOfPiece):
    """Choices for a cased scabbard; every length in mm. `wall_mm` is the wood left under the recess, `glue_mm` beside it."""

    kind: Literal["scabbard"] = "scabbard"
    says: ClassVar[str] = "cased scabbard"
    told: ClassVar[str] = "in wood and leather, from a frog"
    fits: ClassVar[tuple[type[Body], ...]] = (LongBody, MouldedBody)
    goes_in_mm: Annotated[float, Field(gt=0, le=2000)] | None = None
    clearance_mm: Annotated[float, Field(ge=0, le=10)] = 0.8
    lining_mm: Annotated[float, Field(ge=0, le=10)] = 1.5
    glue_mm: Size = GLUE_MM
    wall_mm: Size = 4.0
    rounded: Annotated[float, Field(ge=0, le=1)] = 0.8
    margin_mm: Annotated[float, Field(gt=0, le=60)] = 4.0
    stretch: Annotated[float, Field(ge=0, le=0.2)] = 0.015
    cap: bool = True
    loop: BeltLoop | None = BeltLoop(belt_mm=SWORD_BELT_MM)

    def goes_in(self, body: MouldedBody) -> float:
        """How much of the thing goes in: a blade, or most of a thing that has none, unless it is said."""
        if self.goes_in_mm is not None:
            return self.goes_in_mm
        blade = float(body.x_mm[-1]) if body.x_mm[0] < 0 else 0.0
        return blade or USUAL_IN * float(np.ptp(body.x_mm))

    def draft(self, body: LongBody | MouldedBody, leather_mm: float) -> Draft:
        """Core halves, lining, cover, cap, loop and their seams. Never raises."""
        lying = body.lying() if isinstance(body, LongBody) else body
        core = _core(
            lying, self.goes_in(lying), self.clearance_mm, self.lining_mm, self.glue_mm, self.wall_mm, self.rounded,
            self.stretch, leather_mm,
        )  # fmt: skip
        right = frozen(np.column_stack([core.cover_half, core.x]))
        on = hung(
            self._cover(right, leather_mm), self.loop, 0.0, core.mouth, self.margin_mm, leather_mm, NEUTRAL_FORMED
        )
        wood, joins, seats = self._wood(core)
        cap = (self._cap(core, leather_mm),) if self.cap else ()
        closed = Join("cap", "cap", "glued", (Layer("cover", "foot", "cover"), Layer("cap", "around", "cap")),
                      says=said("glue it over the foot, and burnish the cover's edge to it"))  # fmt: skip
        return Draft(
            assembly=Assembly(
                (on.back, *wood, *cap, *on.strips),
                (*joins, *on.joins, self._join(right), *((closed,) if self.cap else ())),
                (*seats, *on.seats),
                shells=(
                    Shell("core", "core", ("core-front", "core-back")),
                    Shell("cover", "cover", ("cover", *(p.id for p in cap)), "core", "wrapped"),
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
                    ),
                ),
            ),
            marks=(Mark("dimension", core.outline, True, "core"),),
            labels=(Label(said("front, over the core"), (0.0, float(core.x[-1]) - 12)),),
            callouts=self._callouts(lying, core, leather_mm),
            tell=partial(self._reckonings, lying, core, leather_mm),
            findings=self._findings(lying, core),
            shown=("cover", "core-front"),
            way_out=WayOut(float(np.ptp(core.x)), lambda mm: frozen(core.thing - [0.0, mm]), self.clearance_mm, 0.0),
            section=partial(self._section, lying, core, leather_mm),
            wet=True,
        )

    def _cover(self, right: Line, leather_mm: float) -> Piece:
        left = mirror(right)[::-1]
        outline, edges = edged(
            Edge("mouth", "mouth", np.vstack([left[-1], right[0]]), "mouth"),
            Edge("right", "right edge", right),
            Edge("foot", "foot", np.vstack([right[-1], left[0]]), "" if self.cap else "mouth"),
            Edge("left", "left edge", left),
        )
        return Piece("cover", "cover", outline, edges, leather(leather_mm, NEUTRAL_FORMED), turns="along")

    def _wood(self, core: _Core) -> tuple[list[Piece], list[Join], list[Seat]]:
        """Both halves of the core, each the mirror of the other, and their linings; how they are joined."""
        half_thick = float(core.thick.max()) / 2
        wood = Stock("wood", "wood", half_thick, "wood")
        cloth = Stock("lining", "lining", self.lining_mm, "lining")
        pieces: list[Piece] = []
        joins: list[Join] = []
        seats: list[Seat] = []
        for side in ("front", "back"):
            outline, recess = (r if side == "front" else mirror(r)[::-1] for r in (core.outline, core.recess))
            top = outline[outline[:, 1] < core.mouth + 1e-6]
            (a, v), (b, w) = top[int(np.argmin(top[:, 0]))], top[int(np.argmax(top[:, 0]))]
            ring, edges = parted(
                outline, (Edge("mouth", "mouth", top, "mouth"), (float(a), float(v))),
                (Edge("around", "around", top), (float(b), float(w))),
            )  # fmt: skip
            pieces.append(Piece(
                f"core-{side}", f"core half, {side}", ring, edges, wood, mirrored=side == "back",
                skives=(Skive("recess", "recess", frozen(recess), half_thick, self.wall_mm),),
            ))  # fmt: skip
            if self.lining_mm > 0:
                ring, edges = edged(Edge("around", "around", recess, "free"))
                pieces.append(Piece(f"lining-{side}", f"lining, {side}", ring, edges, cloth, mirrored=side == "back"))
                seats.append(Seat("recess", f"core-{side}", ring))
                joins.append(Join(
                    f"lining-{side}", f"lining, {side}", "glued",
                    (Layer(f"core-{side}", "recess"), Layer(f"lining-{side}")),
                    says=said("glue it into the recess, its nap to the thing"),
                ))  # fmt: skip
        joins.append(Join(
            "core", "core halves", "glued", (Layer("core-front", "around", "front"), Layer("core-back", "around", "back")),
            says=said("glue the halves round the recess, clamp them, round them when they hold"),
        ))  # fmt: skip
        return pieces, joins, seats

    def _cap(self, core: _Core, leather_mm: float) -> Piece:
        """The foot's cap: as large as the core there in its cover."""
        ring = Polygon(_rounded(float(core.half[-1]), float(core.thick[-1]) / 2, self.rounded)).buffer(leather_mm, 12)
        outline, edges = edged(Edge("around", "around", shapely.get_coordinates(ring.exterior)[:-1]))
        return Piece("cap", "cap", outline, edges, leather(leather_mm))

    def _join(self, right: Line) -> Join:
        run = headings(right)
        inward = np.column_stack([-np.abs(run[:, 1]), np.sign(run[:, 1]) * run[:, 0]])
        line = mirror(right + inward * self.margin_mm)
        return Join(
            "back-seam", "back seam", "butt", (Layer("cover", "left", "cover"), Layer("cover", "right", "cover")),
            Sewing(frozen(line), self.margin_mm, margin_at="piece.margin_mm", stack_at="leather.thickness_mm",
                   begins="the mouth"),
        )  # fmt: skip

    def _callouts(self, body: MouldedBody, core: _Core, leather_mm: float) -> tuple[Callout, ...]:
        wide, mouth = float(core.cover_half.max()), core.mouth
        long = float(core.x[-1]) - mouth
        found = [
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (-wide, mouth + long * 0.3), "left",
                    "cover"),
            Callout("piece.goes_in_mm", said("goes in"), "length", self.goes_in(body), (0.0, mouth), "left"),
            Callout("piece.margin_mm", said("hole to the edge"), "length", self.margin_mm, (-wide, mouth + long * 0.6), "left",
                    "back-seam"),
            Callout("piece.stretch", said("stretch closes"), "percent", self.stretch, (-wide, mouth + long * 0.75), "left"),
            Callout("piece.cap", said("foot"), "count", self.cap, (-wide, mouth + long), "left", "cap",
                    ("a cap", "open"), (True, False)),
            Callout("piece.loop", said("frog"), "count", self.loop, (-wide * 0.5, mouth + 4), "left", "belt-loop",
                    *loop_choices(self.loop, BeltLoop(belt_mm=SWORD_BELT_MM))),
            Callout("piece.glue_mm", said("wood beside the recess"), "length", self.glue_mm,
                    (float(core.half.max()), mouth + long * 0.3), "right", "core-front", on="core-front"),
            Callout("piece.wall_mm", said("wood under it"), "length", self.wall_mm, (0.0, mouth + long * 0.4), "right",
                    "core-front", on="core-front"),
            Callout("piece.lining_mm", said("lining, thick"), "length", self.lining_mm, (0.0, mouth + long * 0.5), "right",
                    "skive", on="core-front"),
            Callout("piece.clearance_mm", said("room round the thing"), "length", self.clearance_mm, (0.0, mouth + long * 0.6),
                    "right", "skive", on="core-front"),
            Callout("piece.rounded", said("rounded by"), "percent", self.rounded,
                    (float(core.half.max()), mouth + long * 0.75), "right", "core-front", on="core-front"),
        ]  # fmt: skip
        if self.loop:
            found.append(Callout("piece.loop.belt_mm", said("frog opens to"), "length", self.loop.belt_mm,
                                 (-wide * 0.4, mouth + self.loop.down_mm), "left", "belt-loop"))  # fmt: skip
        return tuple(found)

    def _reckonings(self, body: MouldedBody, core: _Core, leather_mm: float) -> tuple[Reckoning, ...]:
        girth = _girth(core.half, core.thick / 2, self.rounded)
        k = int(np.argmax(girth))
        return (
            reckon("cover-wide", "Cover, widest", length(2 * core.cover_half[k]),
                   said("({g:n} round + 2π × {n} of {t}) less {s}", g=length(girth[k]), n=percent(NEUTRAL_FORMED),
                        t=Q("leather", leather_mm), s=percent(self.stretch)), ("cover",),
                   (said("round a core {w:n} by {t}, {at} from the butt", w=length(2 * core.half[k]),
                         t=length(core.thick[k]), at=length(core.x[k])),)),
            reckon("core-wide", "Core, widest", length(2 * core.half.max()),
                   said("the thing + 2 × ({c:n} room + {l:n} lining + {g} wood)", c=length(self.clearance_mm),
                        l=length(self.lining_mm), g=length(self.glue_mm)), ("core-front",)),
            reckon("recess", "Recess in each half", length(core.depth_mm),
                   said("half of {h:n} high + {c:n} room + {l} lining", h=length(body.height_mm.max()),
                        c=length(self.clearance_mm), l=length(self.lining_mm)), ("skive",)),
            reckon("half-thick", "Each half, thick", length(core.thick.max() / 2),
                   said("{d:n} recess + {w} under it", d=length(core.depth_mm), w=length(self.wall_mm)), ("core-front",)),
        )  # fmt: skip

    def _findings(self, body: MouldedBody, core: _Core) -> tuple[Finding, ...]:
        found: list[Finding] = []
        long = float(np.ptp(body.x_mm))
        if self.goes_in(body) > long:
            found.append(Finding(
                "hold", "seat-past-butt", "draft",
                said("It goes in {want}, but is only {long} long.", want=length(self.goes_in(body)), long=length(long)),
                "piece.goes_in_mm", Mend("most of it", (("piece.goes_in_mm", round(USUAL_IN * long, 1)),)),
            ))  # fmt: skip
        if self.glue_mm < LEAST_GLUE_MM:
            found.append(Finding(
                "look", "glue-narrow", "draft",
                said("The halves are held by {g} of wood beside the recess; {usual} is usual.", g=length(self.glue_mm),
                     usual=length(GLUE_MM)), "piece.glue_mm", Mend("as usual", (("piece.glue_mm", GLUE_MM),)),
            ))  # fmt: skip
        if self.wall_mm < LEAST_WALL_MM:
            found.append(Finding(
                "look", "wall-thin", "draft",
                said("{w} of wood under the recess breaks when it is rounded; {least} is the least.", w=length(self.wall_mm),
                     least=length(LEAST_WALL_MM)), "piece.wall_mm", Mend("thicker", (("piece.wall_mm", 4.0),)),
            ))  # fmt: skip
        if self.clearance_mm < body.spread_mm:
            found.append(Finding(
                "look", "spread-past-room", "draft",
                said("The recess has {c} of room; the readings spread {s}.", c=length(self.clearance_mm),
                     s=length(body.spread_mm)), "piece.clearance_mm",
                Mend("more room", (("piece.clearance_mm", min(round(body.spread_mm + 0.5, 1), 10.0)),)),
            ))  # fmt: skip
        if 2 * self.margin_mm > float(core.cover_half.min()):
            found.append(Finding(
                "hold", "margin-too-wide", "draft",
                said("Holes {e} from either edge do not fit a cover {w} wide at its foot.", e=length(self.margin_mm),
                     w=length(2 * core.cover_half.min())), "piece.margin_mm",
                Mend("3 mm, as usual", (("piece.margin_mm", 3.0),)),
            ))  # fmt: skip
        return tuple(found)

    def _section(self, body: MouldedBody, core: _Core, leather_mm: float, at_mm: float) -> Section:
        at = float(np.clip(at_mm, core.x[0], core.x[-1]))
        half, thick = float(np.interp(at, core.x, core.half)), float(np.interp(at, core.x, core.thick)) / 2
        return Section(at, partial(self._cut, body, leather_mm, at, half, thick), said("Section, {at} along", at=length(at)),
                       said("{w:n} by {t}, without its cover", w=length(2 * half), t=length(2 * thick)))  # fmt: skip

    def _cut(self, body: MouldedBody, leather_mm: float, at: float, half: float, thick: float) -> tuple[Mark, ...]:
        wood = Polygon(_rounded(half, thick, self.rounded))
        leather = wood.buffer(leather_mm)
        k = int(np.argmin(np.abs(body.x_mm - at)))
        y = body.y_mm[k] - (body.y_mm[k][0] + body.y_mm[k][-1]) / 2
        raised = np.column_stack([y, body.z_mm[k] / 2])
        thing = np.concatenate([raised, raised[::-1] * [1, -1]])
        recess = shapely.MultiPoint(thing).convex_hull.buffer(self.clearance_mm + self.lining_mm, join_style="mitre")
        marks = [
            Mark("grain", frozen(leather.exterior.coords[:-1]), True, rings=(frozen(wood.exterior.coords[:-1]),)),
            Mark("flesh", frozen(wood.exterior.coords[:-1]), True, "core-front"),
            Mark("cut", frozen([[-half, 0], [half, 0]])),
        ]
        if isinstance(recess, Polygon):
            marks.append(Mark("welt", frozen(recess.exterior.coords[:-1]), True, "skive"))
        marks.append(Mark("thing", frozen(thing), True, "thing"))
        return tuple(marks)


def _in_recess(core: _Core, side: str) -> Lies:
    """Where the thing lies in the recess of a half."""
    ring = shapely.Polygon(core.recess)
    x = core.x[core.x < float(core.recess[:, 1].max()) - 0.5]
    rows = shapely.intersection(
        shapely.linestrings([[(-1e4, v), (1e4, v)] for v in np.maximum(x, core.mouth + 0.01)]), ring
    )
    left, _, right, _ = shapely.bounds(rows).T
    p, q = (np.column_stack([u, x]) for u in ((left, right) if side == "front" else (-right, -left)))
    return Lies("core", f"core-{side}", "hollow", x, frozen(p), frozen(q))


@lru_cache(8)
def _core(
    body: MouldedBody, goes_in_mm: float, clear_mm: float, lining_mm: float, glue_mm: float, wall_mm: float,
    rounded: float, stretch: float, leather_mm: float,
) -> _Core:  # fmt: skip
    nose = float(body.x_mm[-1])
    mouth = max(nose - goes_in_mm, float(body.x_mm[0]))
    inside = np.concatenate([[mouth], body.x_mm[body.x_mm > mouth + 1e-6]])
    top, low, height = (np.interp(inside, body.x_mm, v) for v in (body.top_mm, body.low_mm, body.height_mm))
    # what lies deeper must pass whatever it comes through
    low, height = (np.maximum.accumulate(v[::-1])[::-1] for v in (low, height))
    top = np.minimum.accumulate(top[::-1])[::-1]
    middle = float((top[0] + low[0]) / 2)
    round_it = clear_mm + lining_mm
    above = [[low[0] - middle, mouth - 60.0], [top[0] - middle, mouth - 60.0]]
    plan = Polygon(np.concatenate([
        np.column_stack([top - middle, inside]), np.column_stack([low - middle, inside])[::-1], above,
    ])).buffer(0)  # fmt: skip
    below = shapely.box(-1e4, mouth, 1e4, 1e5)
    recess, outline = (
        _ring(plan.buffer(by).simplify(0.05).intersection(below)) for by in (round_it, round_it + glue_mm)
    )
    depth = float(height.max()) / 2 + round_it
    end = float(outline[:, 1].max())
    x = np.linspace(mouth, end - min(0.6 * glue_mm, 0.3 * (end - mouth)), 60)
    rows = shapely.linestrings([[(-1e4, v), (1e4, v)] for v in x])
    across = shapely.intersection(Polygon(outline), rows)
    half = np.maximum(shapely.length(across) / 2, 1.0)
    thick = np.full(len(x), 2 * (depth + wall_mm))
    girth = _girth(half, thick / 2, rounded)
    cover = flat_length(girth, np.full(len(x), 2 * np.pi), NEUTRAL_FORMED, leather_mm) * (1 - stretch) / 2
    thing = np.concatenate([
        np.column_stack([body.top_mm - middle, body.x_mm]), np.column_stack([body.low_mm - middle, body.x_mm])[::-1],
    ])  # fmt: skip
    return _Core(x, half, thick, cover, frozen(outline), frozen(recess), frozen(thing), depth, mouth)


def _ring(area: shapely.Geometry) -> Line:
    parts = [g for g in getattr(area, "geoms", [area]) if isinstance(g, Polygon) and not g.is_empty]
    largest = max(parts, key=lambda g: g.area)
    return turned_right(shapely.get_coordinates(largest.exterior)[:-1])


def _girth(half: Values, half_thick: Values, rounded: float) -> Values:
    """Round a rectangle whose corners are rounded by a share of half its thickness: 4(a + b) - (8 - 2π) r."""
    r = rounded * np.minimum(half, half_thick)
    return 4 * (half + half_thick) - (8 - 2 * np.pi) * r


def _rounded(half: float, half_thick: float, rounded: float) -> Line:
    r = rounded * min(half, half_thick)
    box = shapely.box(-half + r, -half_thick + r, half - r, half_thick - r)
    grown = box.buffer(max(r, 1e-3), quad_segs=12)
    return turned_right(shapely.get_coordinates(grown.exterior)[:-1])
