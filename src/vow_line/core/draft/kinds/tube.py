"""The tube with a base: a wall round a thing, and a disc with as many holes as the wall's end; sewn inside out and turned, or
edge to edge and through the corner; with a lid, a stiffener in its base, and something to hang it by.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ...curve import Line, frozen, mirror
from ...drawing import Callout, Mark
from ...finding import Finding, Mend
from ...frozen import Frozen
from ...measure import Body, RoundBody
from ...quantity import Q
from ...reckoning import Reckoning, length, percent, reckon
from ...texts import NOTHING, Said, said
from ..assembly import Assembly
from ..drafted import Draft, WayOut
from ..inside_out import TURNS_ACROSS, TURNS_TO_MM
from ..joins import Join, Layer, Lies, Seat, Sewing, Shell, begun
from ..kind import KindOfPiece
from ..loop import BeltLoop, hung, loop_choices, loop_findings
from ..pieces import Edge, Piece, edged, leather
from ..wrap import NEUTRAL_DRY, flat_length

STIFFENER_IN_MM = 3.0  # a disc that stiffens the base ends so far inside the stitches (common practice)
LID_ROOM_MM = 1.0  # a lid is so much wider inside than the tube outside (from memory)
CLEAR_OF_LID_MM = 3.0
SEAMS_APART_MM = 3.0  # the side seam's line ends so far above the base's
LEAST_LID_MM = 20.0  # a lid that reaches less far down falls off (from memory)
HAND_MM = 75.0  # a hand that turns a seam or holds a needle inside wants so much room (from memory)
REACHES_MM = 60.0  # and without it fingers reach so far in (from memory)
WALL, BASE = said("wall"), said("base")
POINTS = 120

Size = Annotated[float, Field(gt=0, le=400)]


class Lid(Frozen):
    """A lid over the tube's mouth, so deep inside."""

    deep_mm: Annotated[float, Field(gt=0, le=600)] = 70.0


class Tube(KindOfPiece):
    """Choices for a tube; every length in mm. Its inside is the thing's width and `ease_mm`, its depth what of the thing goes
    in.
    """

    kind: Literal["tube"] = "tube"
    says: ClassVar[Said] = said("tube with a base")
    hint: ClassVar[Said] = said("with a lid, or open")
    fits: ClassVar[type[Body]] = RoundBody
    ease_mm: Annotated[float, Field(ge=0, le=40)] = 1.0
    out_mm: Annotated[float, Field(ge=0, le=1500)] = 30.0
    sewn: Literal["corner", "turned"] = "corner"
    margin_mm: Annotated[float, Field(gt=0, le=40)] = 4.0
    lid: Lid | None = None
    stiffened: bool = False
    loop: BeltLoop | None = None

    def draft(self, body: RoundBody, leather_mm: float) -> Draft:
        """Wall and base, lid and loop, their seams. Never raises."""
        return self._drafted(body, leather_mm, {})

    def _room(self, body: RoundBody, leather_mm: float, thick: Mapping[str, float]) -> "_Room":
        """What of it is taken by linings and a stiffener."""
        wall, base = thick.get("wall", 0.0), thick.get("base", 0.0)
        base += leather_mm if self.stiffened else 0.0
        inside, deep = body.across_mm + self.ease_mm, max(body.length_mm - self.out_mm, 1.0)
        return _Room(inside, inside + 2 * wall, wall, deep, deep + base, base, thick.get("lid-wall", 0.0))

    def _drafted(self, body: RoundBody, leather_mm: float, thick: Mapping[str, float]) -> Draft:
        """The same, some of its pieces lined so thick."""
        room = self._room(body, leather_mm, thick)
        vessel = self._vessel("", WALL, BASE, room.wide, room.high, leather_mm)
        over = room.wide + 2 * leather_mm + LID_ROOM_MM + 2 * room.lid
        lid = (
            self._vessel("lid-", said("lid's wall"), said("lid's top"), over, self.lid.deep_mm, leather_mm)
            if self.lid else None
        )  # fmt: skip
        on = hung(vessel.wall, self.loop, 0.0, 0.0, self.margin_mm, leather_mm, NEUTRAL_DRY)
        pieces, joins = [on.back, vessel.base, *on.strips], [*on.joins, *vessel.joins]
        seats = list(on.seats)
        if self.stiffened:
            disc, seat, glued = self._stiffener(room, vessel, leather_mm)
            pieces.append(disc)
            seats.append(seat)
            joins.insert(0, glued)
        shells = [Shell("tube", said("tube"), ("wall", "base"))]
        if lid:
            pieces += [lid.wall, lid.base]
            joins += lid.joins
            shells.append(Shell("lid", said("lid"), ("lid-wall", "lid-base"), ""))
        half, deep, long = body.across_mm / 2, room.deep, body.length_mm
        thing = frozen([[-half, deep - long], [half, deep - long], [half, deep], [-half, deep]])
        return Draft(
            assembly=Assembly(
                tuple(pieces), tuple(joins), tuple(seats), shells=tuple(shells), lies=(self._lies(vessel),),
                belts=on.belts, rings=on.rings,
            ),
            marks=(Mark("dimension", frozen([[0.0, 0.0], [0.0, room.high]]), id="deep"),),
            callouts=self._callouts(vessel, leather_mm),
            tell=partial(self._reckonings, body, room, leather_mm),
            find=partial(self._findings, body, on.back, vessel, room, leather_mm),
            lined=partial(self._drafted, body, leather_mm),
            counted=frozenset({"wall", "base", "lid-wall"}),
            shown=tuple(p.id for p in pieces),
            way_out=WayOut(deep, lambda mm: frozen(thing - [0.0, mm]), self.ease_mm / 2, 0.0),
            carried=NOTHING if self.loop is None else said("hangs from the belt by its wall, its seam away from the body"),
            sentences=(said("A tube {sewn}, {lid}, its base {stiffened}, hung by {loop}."),),
        )  # fmt: skip

    def _vessel(
        self, id: str, wall: Said, base: Said, inside: float, deep: float, leather_mm: float
    ) -> "_Vessel":  # fmt: skip
        """A wall and its disc; `id` begins the ids of all of it."""
        turned = self.sewn == "turned"
        half = float(flat_length(np.pi * inside, 2 * np.pi, NEUTRAL_DRY, leather_mm)) / 2
        margin = min(self.margin_mm, 0.4 * half, 0.4 * deep)
        out, low = half + (margin if turned else 0.0), deep + (margin if turned else 0.0)
        right = np.array([[out, 0.0], [out, low]])
        outline, edges = edged(
            Edge("mouth", said("mouth"), frozen([[-out, 0.0], [out, 0.0]]), "mouth"),
            Edge("right", said("right edge"), frozen(right)),
            Edge("foot", said("foot"), frozen([[out, low], [-out, low]])),
            Edge("left", said("left edge"), frozen(mirror(right)[::-1])),
        )
        stock = leather(leather_mm)
        piece = Piece(f"{id}wall", wall, outline, edges, stock, turns="along")
        radius = half / np.pi if turned else inside / 2 + leather_mm
        disc = _circle(radius + margin if turned else radius)
        ring, around = edged(Edge("around", said("around"), disc))
        sewn = _circle(radius if turned else max(radius - margin, 1.0))
        at = deep if turned else deep - margin
        low_hole = max(deep - margin - SEAMS_APART_MM, 0.5 * deep)
        side = frozen([[-half, 0.0], [-half, deep]] if turned else [[-half + margin, 0.0], [-half + margin, low_hole]])
        says = {"": (said("side seam"), said("base seam"))}.get(id, (said("lid's side seam"), said("lid's seam")))
        how: Literal["line", "butt"] = "line" if turned else "butt"
        joins = (
            Join(f"{id}side", says[0], how, (Layer(piece.id, "left", wall), Layer(piece.id, "right", wall)),
                 Sewing(side, margin, margin_at="piece.margin_mm", stack_at="leather.thickness_mm",
                        begins=begun(said("the mouth"), turned=turned),
                        edge_ends=(True, False)), turned=turned),
            Join(f"{id}base-seam", says[1], "line",
                 (Layer(f"{id}base", "around", base),
                  Layer(piece.id, "foot", wall, along=frozen([[-half, at], [half, at]]))),
                 Sewing(frozen(sewn), margin, margin_at="piece.margin_mm", stack_at="leather.thickness_mm",
                        begins=begun(said("the side seam"), turned=turned), closed=True, between=True,
                        through_mm=0.0 if turned else float(np.hypot(margin + leather_mm, margin))), turned=turned),
        )  # fmt: skip
        return _Vessel(piece, Piece(f"{id}base", base, ring, around, stock), joins, half, deep, radius, margin)

    def _stiffener(self, room: "_Room", vessel: "_Vessel", leather_mm: float) -> tuple[Piece, Seat, Join]:
        """A disc inside the base, 3 mm inside its stitches, and no larger than the tube is inside."""
        sewn = vessel.radius if self.sewn == "turned" else vessel.radius - vessel.margin
        radius = max(min(sewn - STIFFENER_IN_MM, (room.inside - self.ease_mm) / 2), 3.0)
        outline, edges = edged(Edge("around", said("around"), _circle(radius), "free"))
        disc = Piece("stiffener", said("stiffener"), outline, edges, leather(leather_mm))
        join = Join("stiffener", said("stiffener"), "glued", (Layer("base", "stiffener-seat"), Layer("stiffener")),
                    says=said("glue it to the inside of the base before that is sewn"))  # fmt: skip
        return disc, Seat("stiffener-seat", "base", outline), join

    def _lies(self, vessel: "_Vessel") -> Lies:
        """The thing goes all round inside the wall, as deep as it stands in."""
        deep = vessel.deep
        x = np.linspace(0.0, deep, 9)
        p, q = (frozen(np.column_stack([np.full(9, s * vessel.half), x])) for s in (-1, 1))
        return Lies("tube", "wall", "round", frozen(x), p, q, loose_mm=np.pi * self.ease_mm)

    def _callouts(self, vessel: "_Vessel", leather_mm: float) -> tuple[Callout, ...]:
        half, deep = vessel.half, vessel.deep
        low = deep if self.sewn == "turned" else deep - vessel.margin
        callouts = [
            Callout("piece.out_mm", said("stands out of it"), "length", self.out_mm, (-half, 0.0), "left", "deep"),
            Callout("piece.ease_mm", said("ease across"), "length", self.ease_mm, (-half, deep * 0.3), "left", "wall"),
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (-half, deep * 0.6), "left", "wall"),
            Callout("piece.margin_mm", said("thread to the cut"), "length", self.margin_mm, (half * 0.6, low), "right",
                    "base-seam", to=(half * 0.6, low + vessel.margin)),
            Callout("piece.sewn", said("sewn"), "count", self.sewn, (half, deep), "right",
                    choices=(said("sewn edge to edge and through the corner"), said("sewn inside out and turned")),
                    meant=("corner", "turned")),
            Callout("piece.lid", said("lid"), "count", self.lid, (half, 2.0), "right",
                    choices=(said("open above"), said("with a lid")), meant=(None, self.lid or self._usual_lid())),
            Callout("piece.stiffened", said("base"), "count", self.stiffened, (half, deep - 1), "right",
                    choices=(said("single"), said("stiffened")), meant=(False, True)),
            Callout("piece.loop", said("hung by"), "count", self.loop, (0.0, 4.0), "right", choices=loop_choices(self.loop)[0],
                    meant=loop_choices(self.loop)[1]),
        ]  # fmt: skip
        if self.lid:
            callouts.append(Callout("piece.lid.deep_mm", said("lid, deep"), "length", self.lid.deep_mm, (0.0, 0.0), "right",
                                    "lid-wall", on="lid-wall", to=(0.0, self.lid.deep_mm)))  # fmt: skip
        if self.loop:
            wide, v = self.loop.width_mm / 2, self.loop.down_mm + self.loop.box_mm
            callouts += [
                Callout("piece.loop.width_mm", said("loop, wide"), "length", self.loop.width_mm, (-wide, v), "left",
                        to=(wide, v)),
                Callout("piece.loop.down_mm", said("loop, down"), "length", self.loop.down_mm, (-half, 0.0), "left",
                        to=(-half, self.loop.down_mm)),
                Callout("piece.loop.belt_mm", said("belt, wide"), "length", self.loop.belt_mm, (-wide, v - 6), "left"),
            ]  # fmt: skip
        return tuple(callouts)

    def _reckonings(self, body: RoundBody, room: "_Room", leather_mm: float) -> tuple[Reckoning, ...]:
        inside = room.wide
        wrap = float(flat_length(np.pi * inside, 2 * np.pi, NEUTRAL_DRY, leather_mm))
        turned = self.sewn == "turned"
        wide = wrap + (2 * self.margin_mm if turned else 0.0)
        disc = wrap / np.pi + 2 * self.margin_mm if turned else inside + 2 * leather_mm
        sums = [
            reckon("inside", said("Wide inside"), length(inside),
                   (said("{d:n} thick + {e} ease + 2 × {l} of lining") if room.wall else said("{d:n} thick + {e} ease")).filled(
                       d=length(body.across_mm), e=length(self.ease_mm), l=length(room.wall)), ("wall",)),
            reckon("wall", said("Cut the wall, wide"), length(wide),
                   said("π × ({d:n} + 2 × {k} of {t}) + 2 × {m} at its seam", d=length(inside), k=percent(NEUTRAL_DRY),
                        t=Q("leather", leather_mm), m=length(self.margin_mm)) if turned else
                   said("π × ({d:n} + 2 × {k} of {t})", d=length(inside), k=percent(NEUTRAL_DRY),
                        t=Q("leather", leather_mm)), ("wall",)),
            reckon("deep", said("Deep inside"), length(room.high),
                   (said("{l:n} long − {o} that stand out + {b} that lie inside on the base") if room.base else
                    said("{l:n} long − {o} that stand out")).filled(
                        l=length(body.length_mm), o=length(self.out_mm), b=length(room.base)), ("deep",)),
            reckon("disc", said("Cut the base, across"), length(disc),
                   said("{w:n} / π + 2 × {m}", w=length(wrap), m=length(self.margin_mm)) if turned else
                   said("{d:n} inside + 2 × {t}", d=length(inside), t=Q("leather", leather_mm)), ("base",)),
        ]  # fmt: skip
        if self.lid:
            sums.append(reckon(
                "lid", said("Lid, wide inside"), length(inside + 2 * leather_mm + LID_ROOM_MM + 2 * room.lid),
                (said("{d:n} + 2 × {t} + {room} room + 2 × {l} of lining") if room.lid else
                 said("{d:n} + 2 × {t} + {room} room")).filled(
                     d=length(inside), t=Q("leather", leather_mm), room=length(LID_ROOM_MM), l=length(room.lid)),
                ("lid-wall",),
            ))  # fmt: skip
        return tuple(sums)

    def _findings(
        self, body: RoundBody, wall: Piece, vessel: "_Vessel", room: "_Room", leather_mm: float
    ) -> tuple[Finding, ...]:
        findings: list[Finding] = []
        inside, deep = room.wide, room.high
        if self.out_mm >= body.length_mm:
            findings.append(Finding(
                "hold", "nothing-goes-in", "draft",
                said("With {o} standing out nothing of the {l} goes in.", o=length(self.out_mm), l=length(body.length_mm)),
                "piece.out_mm", Mend(said("a third out"), (("piece.out_mm", round(body.length_mm / 3, 0)),)),
            ))  # fmt: skip
        elif self.out_mm > body.length_mm / 2:
            findings.append(Finding(
                "look", "more-out-than-in", "draft",
                said("{o} of {l} stand out: it falls over, and out.", o=length(self.out_mm), l=length(body.length_mm)),
                "piece.out_mm", Mend(said("a third out"), (("piece.out_mm", round(body.length_mm / 3, 0)),)),
            ))  # fmt: skip
        if vessel.margin < self.margin_mm - 0.01:
            findings.append(Finding(
                "hold", "margin-too-wide", "draft",
                said("A margin of {e} does not fit a tube {d} wide and {deep} deep.", e=length(self.margin_mm),
                     d=length(inside), deep=length(deep)), "piece.margin_mm",
                Mend(said("as wide as fits"), (("piece.margin_mm", max(round(vessel.margin - 0.05, 1), 0.5)),)),
            ))  # fmt: skip
        findings += self._lid_findings()
        if self.sewn == "turned":
            if inside < TURNS_ACROSS * leather_mm:
                findings.append(self._other(
                    said("A tube {d} wide in leather of {t} does not turn: {least} would.", d=length(inside),
                         t=Q("leather", leather_mm), least=length(TURNS_ACROSS * leather_mm)), "hold"))  # fmt: skip
            elif inside < HAND_MM and deep > REACHES_MM:
                findings.append(Finding(
                    "look", "hand-not-in", "draft",
                    said("No hand goes into a tube {d} wide and {deep} deep: turn it over a stick.", d=length(inside),
                         deep=length(deep)), "piece.sewn",
                ))  # fmt: skip
        elif inside < HAND_MM and deep > REACHES_MM:
            findings.append(Finding(
                "look", "hand-not-in", "draft",
                said("No hand goes into a tube {d} wide and {deep} deep: sew its side over a former, from without, and its "
                     "base aslant through the corner.", d=length(inside), deep=length(deep)), "piece.sewn",
            ))  # fmt: skip
        findings += loop_findings(wall, self.loop, 0.5 * inside, self.margin_mm)
        return tuple(findings)

    def _usual_lid(self) -> Lid:
        return Lid(deep_mm=min(round(self.out_mm + 1.5 * LEAST_LID_MM, 0), 600.0))

    def _lid_findings(self) -> list[Finding]:
        if self.lid is None:
            return []
        reaches = self.lid.deep_mm - self.out_mm
        if reaches < LEAST_LID_MM:
            return [Finding(
                "hold" if reaches <= 0 else "look", "lid-shallow", "draft",
                said("A lid {l} deep over the {o} that stand out reaches {d} down the tube; {least} holds.",
                     l=length(self.lid.deep_mm), o=length(self.out_mm), d=length(max(reaches, 0.0)),
                     least=length(LEAST_LID_MM)), "piece.lid.deep_mm",
                Mend(said("deeper"), (("piece.lid.deep_mm", min(round(self.out_mm + 1.5 * LEAST_LID_MM, 0), 600.0)),)),
            )]  # fmt: skip
        if self.loop and self.loop.down_mm < reaches + CLEAR_OF_LID_MM:
            return [Finding(
                "hold", "lid-over-loop", "draft",
                said("The lid reaches {r} down the tube, and the loop is sewn on {d} down: the lid does not go on.",
                     r=length(reaches), d=length(self.loop.down_mm)), "piece.loop.down_mm",
                Mend(said("the loop lower"), (("piece.loop.down_mm", float(np.ceil(reaches + CLEAR_OF_LID_MM))),)),
            )]  # fmt: skip
        return []

    def suits(self, body: RoundBody, leather_mm: float, tannage: str) -> tuple[Finding, ...]:
        """Whether the leather can be turned."""
        most = TURNS_TO_MM[tannage]
        if self.sewn != "turned" or leather_mm <= most:
            return ()
        return (self._other(said("Leather of {t}, tanned as this is, does not turn: {most} would.", t=Q("leather", leather_mm),
                                 most=Q("leather", most)), "hold"),)  # fmt: skip

    def _other(self, says: Said, level: Literal["hold", "look"]) -> Finding:
        return Finding(level, "does-not-turn", "draft", says, "piece.sewn",
                       Mend(said("sew it through the corner"), (("piece.sewn", "corner"),)))  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Room:
    """How wide it is for the thing, and inside its leather, a lining of the wall thicker either side; how deep for the thing,
    and inside its leather, by what lies on the base; how thick the lid is lined.
    """

    inside: float
    wide: float
    wall: float
    deep: float
    high: float
    base: float
    lid: float


@dataclass(frozen=True, slots=True, eq=False)
class _Vessel:
    """A wall and its disc, the joins of both; half the wall between its seams, how deep it is, the radius of the disc where it
    meets the wall, and the margin that fits.
    """

    wall: Piece
    base: Piece
    joins: tuple[Join, ...]
    half: float
    deep: float
    radius: float
    margin: float


def _circle(radius: float) -> Line:
    """A circle from its top on, to the right."""
    turn = np.linspace(0, 2 * np.pi, POINTS + 1)[:-1]
    return frozen(np.column_stack([np.sin(turn), -np.cos(turn)]) * radius)
