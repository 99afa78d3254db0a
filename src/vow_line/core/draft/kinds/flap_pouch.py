"""The pouch with gussets: front, bottom, back and flap in one, a gusset sewn in at either side, closed by stud or tongue."""

from dataclasses import dataclass
from functools import partial
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field

from ...curve import Line, frozen, mirror
from ...drawing import Callout, Label, Mark
from ...finding import Finding, Mend
from ...measure import Body, BoxBody
from ...quantity import Q
from ...reckoning import Reckoning, length, percent, reckon
from ...texts import NOTHING, Said, said
from ..assembly import Assembly
from ..drafted import Draft
from ..joins import Boxed, Fastener, Join, Layer, Sewing, Shell
from ..kind import KindOfPiece
from ..loop import BeltLoop, hung, loop_choices, loop_findings
from ..pieces import Edge, Piece, Punch, edged, leather
from ..wrap import NEUTRAL_DRY, flat_length

CORNER_MM = 10.0  # gussets are cut so round at their lower corners, or leather does not go round them (from memory)
STUD_IN_MM = 14.0  # a stud stands so far in from the end of its flap (from memory)
STUD_MM = 4.0
LEAST_FLAP_MM = 25.0  # a flap that reaches less far down the front lifts (from memory)
POINTS = 13
FRONT, GUSSET = said("body"), said("gusset")


class FlapPouch(KindOfPiece):
    """Choices for a pouch round a box; every length in mm. The flap reaches `flap_mm` down the front, the gussets end
    `below_mm` below the box's top.
    """

    kind: Literal["flap_pouch"] = "flap_pouch"
    says: ClassVar[Said] = said("pouch with gussets")
    hint: ClassVar[Said] = said("with a flap, on the belt")
    fits: ClassVar[type[Body]] = BoxBody
    ease_mm: Annotated[float, Field(ge=0, le=40)] = 2.0
    margin_mm: Annotated[float, Field(gt=0, le=40)] = 4.0
    flap_mm: Annotated[float, Field(gt=0, le=400)] = 45.0
    below_mm: Annotated[float, Field(ge=0, le=200)] = 6.0
    end: Literal["square", "round"] = "round"
    closed: Literal["stud", "tongue"] = "stud"
    tongue_mm: Annotated[float, Field(gt=0, le=100)] = 24.0
    loop: BeltLoop | None = BeltLoop()

    def lines(self, body: BoxBody, leather_mm: float) -> "_Lines":
        """Widths and lengths between the seams."""
        e, turn = self.ease_mm, np.pi / 2 * NEUTRAL_DRY * leather_mm
        corner = max(min(CORNER_MM, 0.45 * (body.deep_mm + e), 0.45 * body.high_mm), 0.5)
        high, deep = max(body.high_mm - self.below_mm, 1.0), body.deep_mm + e
        around = 2 * (high - corner) + (deep - 2 * corner) + np.pi * corner  # round the gusset, from top to top
        return _Lines(
            wide=body.wide_mm + e, deep=deep, high=high, corner=corner, gusset=around,
            sewn=float(flat_length(around, np.pi, NEUTRAL_DRY, leather_mm)),
            over=self.below_mm + deep + 2 * turn + self.below_mm, flap=self.flap_mm,
        )  # fmt: skip

    def draft(self, body: BoxBody, leather_mm: float) -> Draft:
        """Body, gussets, their seams, the flap's closure and the loop. Never raises."""
        at, m = self.lines(body, leather_mm), self.margin_mm
        piece = self._body(at, leather_mm)
        on = hung(piece, self.loop, 0.0, at.long - at.sewn, m, leather_mm, NEUTRAL_DRY)
        gussets, joins = [], []
        for side, sign in (("left", -1.0), ("right", 1.0)):
            title = said("left gusset") if side == "left" else said("right gusset")
            cut, line = self._gusset(at)
            if sign < 0:
                cut, line = frozen(mirror(cut)), frozen(mirror(line))
            ring, edges = edged(
                Edge("top", said("top"), frozen([cut[-1], cut[0]]), "mouth"), Edge("around", said("sewn edge"), cut)
            )
            gussets.append(
                Piece(f"gusset-{side}", title, ring, edges, leather(leather_mm), mirrored=side == "left", turns="along")
            )
            own = at.upright([[sign * at.wide / 2, 0.0], [sign * at.wide / 2, at.sewn]])
            joins.append(Join(
                f"seam-{side}", said("{side} seam", side=title), "line",
                (Layer("body", side, FRONT), Layer(f"gusset-{side}", "around", title, along=line)),
                Sewing(own, m, margin_at="piece.margin_mm", stack_at="leather.thickness_mm",
                       begins=said("the mouth, in front"), edge_ends=(True, True)),
            ))  # fmt: skip
        fasteners: tuple[Fastener, ...] = ()
        if self.closed == "stud":
            fasteners = (Fastener("stud", said("stud"), "stud", (("body", "stud-hole"), ("body", "stud-post"))),)
        assembly = Assembly(
            (on.back, *gussets, *on.strips), (*on.joins, *joins), on.seats, fasteners,
            shells=(Shell("pouch", said("pouch"), ("body", "gusset-left", "gusset-right")),),
            boxed=(Boxed("body", ("gusset-left", "gusset-right"), self.below_mm),), belts=on.belts, rings=on.rings,
        )  # fmt: skip
        return Draft(
            assembly=assembly,
            marks=(Mark("dimension", at.upright([[0.0, 0.0], [0.0, at.sewn]]), id="around"),),
            labels=(Label(said("front, upside down"), (0.0, at.long - at.high * 0.6)),
                    Label(said("back"), (0.0, at.long - at.sewn + at.high * 0.8)), Label(said("flap"), (0.0, at.flap * 0.6))),
            callouts=self._callouts(at, leather_mm),
            tell=partial(self._reckonings, body, at, leather_mm),
            find=partial(self._findings, body, at, on.back),
            shown=tuple(p.id for p in assembly.pieces),
            carried=NOTHING if self.loop is None else said("hangs from the belt by its back"),
            sentences=(said("Its flap {end}, closed by {closed}; hung by {loop}."),),
        )  # fmt: skip

    def _body(self, at: "_Lines", leather_mm: float) -> Piece:
        """Flap, back, bottom and front in one, the flap above, so that the back stands upright."""
        half, m, long = at.wide / 2, self.margin_mm, at.long
        out = half + m
        if self.end == "round":
            r = min(out, at.flap)
            turn = np.linspace(0, np.pi / 2, POINTS)
            corner = np.column_stack([out - r + r * np.cos(turn), long - r + r * np.sin(turn)])
            tip = np.concatenate([[[out, at.sewn]], corner, mirror(corner)[::-1], [[-out, at.sewn]]])
        else:
            tip = np.array([[out, at.sewn], [out, long], [-out, long], [-out, at.sewn]])
        lands = max(at.flap - STUD_IN_MM, 1.0)
        punches: tuple[Punch, ...] = (
            Punch("stud-hole", said("stud hole"), (0.0, STUD_IN_MM), STUD_MM),
            Punch("stud-post", said("hole for the stud's post"), (0.0, long - lands), STUD_MM),
        )
        slots: tuple[Line, ...] = ()
        if self.closed == "tongue":  # the flap itself goes through a slot across the front
            punches = ()
            wide = min(self.tongue_mm, 1.6 * half)
            slot = shapely.LineString([(-wide / 2, lands * 0.6), (wide / 2, lands * 0.6)]).buffer(leather_mm, 8)
            slots = (at.upright(shapely.get_coordinates(slot.exterior)[:-1]),)
            neck = max(lands * 0.6 - 2.0, 1.0)
            tip = self._tongued(at, out, wide, neck)
        outline, edges = edged(
            Edge("mouth", said("mouth"), at.upright([[-out, 0.0], [out, 0.0]]), "mouth"),
            Edge("right", said("sewn edge, right"), at.upright([[out, 0.0], [out, at.sewn]])),
            Edge("flap", said("flap"), at.upright(_single(tip)), "mouth"),
            Edge("left", said("sewn edge, left"), at.upright([[-out, at.sewn], [-out, 0.0]])),
        )
        over = at.sewn + self.below_mm
        bends = (at.high - at.corner / 2, at.sewn - at.high + at.corner / 2, over, over + at.over - 2 * self.below_mm)
        creases = tuple(Mark("crease", at.upright([[-out, v], [out, v]]), id="bend") for v in bends)
        piece = Piece(
            "body", FRONT, outline, edges, leather(leather_mm), punches=punches, turns="along", ornament=creases
        )
        return piece.with_slots(slots) if slots else piece

    def _tongued(self, at: "_Lines", out: float, wide: float, neck: float) -> Line:
        """A flap that narrows to a tongue as wide as its slot."""
        long, half = at.long, wide / 2 - 1.0
        shoulder = at.sewn + at.over + neck
        turn = np.linspace(0, np.pi / 2, POINTS)
        r = min(half, at.flap - neck - 0.5) if at.flap - neck > 1 else 0.5
        corner = np.column_stack([half - r + r * np.cos(turn), long - r + r * np.sin(turn)])
        right = np.concatenate([[[out, at.sewn], [out, shoulder - 6.0], [half, shoulder]], corner])
        return np.concatenate([right, mirror(right)[::-1]])

    def _gusset(self, at: "_Lines") -> tuple[Line, Line]:
        """A gusset's sewn edge and the line of its seam, from the top in front down, under and up."""
        half, r, m = at.deep / 2, at.corner, self.margin_mm

        def around(out: float) -> Line:
            turn = np.linspace(0, np.pi / 2, POINTS)
            corner = np.column_stack([half - r + (r + out) * np.cos(turn), at.high - r + (r + out) * np.sin(turn)])
            return np.concatenate([[[half + out, 0.0]], corner, mirror(corner)[::-1], [[-half - out, 0.0]]])

        return frozen(around(m)), frozen(around(0.0))

    def _callouts(self, at: "_Lines", leather_mm: float) -> tuple[Callout, ...]:
        out, long, back = at.wide / 2 + self.margin_mm, at.long, at.long - at.sewn
        callouts = [
            Callout("piece.flap_mm", said("flap, down the front"), "length", self.flap_mm, (-out, 0.0), "left", "body",
                    to=(-out, at.flap)),
            Callout("piece.ease_mm", said("ease"), "length", self.ease_mm, (-out, back + at.high * 0.5), "left", "body"),
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (-out, back + at.high), "left", "body"),
            Callout("piece.margin_mm", said("thread to the cut"), "length", self.margin_mm, (at.wide / 2, long - at.high * 0.3),
                    "right", "seam-right", to=(out, long - at.high * 0.3)),
            Callout("piece.below_mm", said("mouth below the top"), "length", self.below_mm, (out, long), "right", "body"),
            Callout("piece.end", said("its end"), "count", self.end, (out, 0.0), "right",
                    choices=(said("cut square"), said("cut round")), meant=("square", "round")),
            Callout("piece.closed", said("closed by"), "count", self.closed, (out, 4.0), "right",
                    choices=(said("a stud"), said("its tongue in a slot")), meant=("stud", "tongue")),
            Callout("piece.loop", said("hung by"), "count", self.loop, (out, back + 10), "right",
                    choices=loop_choices(self.loop)[0], meant=loop_choices(self.loop)[1]),
        ]  # fmt: skip
        if self.closed == "tongue":
            callouts.append(Callout("piece.tongue_mm", said("tongue, wide"), "length", self.tongue_mm,
                                    (-self.tongue_mm / 2, 0.0), "left", "body", to=(self.tongue_mm / 2, 0.0)))  # fmt: skip
        if self.loop:
            wide, v = self.loop.width_mm / 2, back + self.loop.down_mm + self.loop.box_mm
            callouts += [
                Callout("piece.loop.width_mm", said("loop, wide"), "length", self.loop.width_mm, (-wide, v), "left",
                        to=(wide, v)),
                Callout("piece.loop.belt_mm", said("belt, wide"), "length", self.loop.belt_mm, (-wide, v - 6), "left"),
            ]  # fmt: skip
        return tuple(callouts)

    def _reckonings(self, body: BoxBody, at: "_Lines", leather_mm: float) -> tuple[Reckoning, ...]:
        m = self.margin_mm
        return (
            reckon("wide", said("Cut the body, wide"), length(at.wide + 2 * m),
                   said("{w:n} wide + {e:n} ease + 2 × {m}", w=length(body.wide_mm), e=length(self.ease_mm), m=length(m)),
                   ("body",)),
            reckon("sewn", said("Sewn edge, long"), length(at.sewn),
                   said("{g:n} round the gusset + π × {k} of {t} for its corners", g=length(at.gusset), k=percent(NEUTRAL_DRY),
                        t=Q("leather", leather_mm)), ("around",)),
            reckon("long", said("Cut the body, long"), length(at.long),
                   said("{s:n} sewn + {o:n} over the top + {f} flap", s=length(at.sewn), o=length(at.over), f=length(at.flap)),
                   ("body",)),
            reckon("gusset", said("Cut a gusset, wide"), length(at.deep + 2 * m),
                   said("{d:n} deep + {e:n} ease + 2 × {m}", d=length(body.deep_mm), e=length(self.ease_mm), m=length(m)),
                   ("gusset-left",)),
            reckon("gusset-high", said("Cut a gusset, high"), length(at.high + m),
                   said("{h:n} high − {b:n} below the top + {m}", h=length(body.high_mm), b=length(self.below_mm), m=length(m)),
                   ("gusset-left",)),
        )  # fmt: skip

    def _findings(self, body: BoxBody, at: "_Lines", back: Piece) -> tuple[Finding, ...]:
        findings: list[Finding] = []
        if self.below_mm > 0.5 * body.high_mm:
            findings.append(Finding(
                "hold", "mouth-low", "draft",
                said("A mouth {b} below the top leaves {h} of the box in the pouch.", b=length(self.below_mm),
                     h=length(max(body.high_mm - self.below_mm, 0.0))), "piece.below_mm",
                Mend(said("6 mm, as usual"), (("piece.below_mm", min(6.0, round(0.1 * body.high_mm, 1))),)),
            ))  # fmt: skip
        if self.flap_mm < LEAST_FLAP_MM:
            findings.append(Finding(
                "look" if self.flap_mm > STUD_IN_MM + STUD_MM else "hold", "flap-short", "draft",
                said("A flap that reaches {f} down the front lifts; {least} holds.", f=length(self.flap_mm),
                     least=length(LEAST_FLAP_MM)), "piece.flap_mm",
                Mend(said("longer"), (("piece.flap_mm", LEAST_FLAP_MM + STUD_IN_MM),)),
            ))  # fmt: skip
        elif self.flap_mm > at.high - at.corner:
            below = self.flap_mm - STUD_IN_MM > at.high - at.corner
            findings.append(Finding(
                "hold" if below else "look", "flap-long", "draft",
                said("A flap of {f} reaches round the lower edge of a front {h} high.", f=length(self.flap_mm),
                     h=length(at.high)),
                "piece.flap_mm",
                Mend(said("two thirds of the front"), (("piece.flap_mm", max(round(at.high * 2 / 3, 0), LEAST_FLAP_MM)),)),
            ))  # fmt: skip
        if self.margin_mm > 0.35 * at.deep:
            findings.append(Finding(
                "hold", "margin-too-wide", "draft",
                said("A margin of {m} on a gusset {d} deep leaves nothing between.", m=length(self.margin_mm),
                     d=length(at.deep)),
                "piece.margin_mm", Mend(said("narrower"), (("piece.margin_mm", max(round(0.2 * at.deep, 1), 0.5)),)),
            ))  # fmt: skip
        if self.closed == "tongue" and self.tongue_mm > at.wide - 4 * self.margin_mm:
            findings.append(Finding(
                "hold", "tongue-wide", "draft",
                said("A tongue {t} wide runs its slot into the seams of a pouch {w} wide.", t=length(self.tongue_mm),
                     w=length(at.wide)), "piece.tongue_mm",
                Mend(said("narrower"), (("piece.tongue_mm", max(round(0.4 * at.wide, 0), 4.0)),)),
            ))  # fmt: skip
        findings += loop_findings(back, self.loop, at.wide, self.margin_mm)
        return tuple(findings)


def _single(line: Line) -> Line:
    """A line without points that lie on the one before."""
    return line[np.append(True, np.hypot(*np.diff(line, axis=0).T) > 1e-6)]


@dataclass(frozen=True, slots=True)
class _Lines:
    """Lengths between the seams: the pouch's width and depth, the gusset's height and the radius of its corners, the way round
    it, the body's sewn edge, the way over the top from its end to the mouth's level in front, the flap below that.
    """

    wide: float
    deep: float
    high: float
    corner: float
    gusset: float
    sewn: float
    over: float
    flap: float

    @property
    def long(self) -> float:
        """The whole body."""
        return self.sewn + self.over + self.flap

    def upright(self, line: Any) -> Line:
        """A line told from the mouth in front, as it is drawn: the flap above, the front below."""
        return frozen(np.array([0.0, self.long]) + np.asarray(line) * [1.0, -1.0])
