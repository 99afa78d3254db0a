"""The shaft cover: a grip, or the leather of an oar: one piece drawn round a shaft, its two edges sewn to meet."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial
from types import MappingProxyType
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ...curve import Line, Values, beside, frozen, mirror, thinned
from ...drawing import Callout, Label, Mark
from ...finding import Finding, Mend
from ...frozen import Frozen
from ...measure import Body, ShaftBody
from ...measure.body import Side
from ...quantity import Q
from ...reckoning import Reckoning, fine, length, percent, reckon
from ...texts import Said, said
from ..assembly import Assembly
from ..drafted import Draft
from ..joins import Join, Layer, Lies, Round, Sewing, Shell
from ..kind import KindOfPiece
from ..pieces import Edge, Piece, Skive, edged, leather, other_leather
from ..wrap import NEUTRAL_DRY, NEUTRAL_FORMED, flat_length

STRETCH_SHARE = 0.018  # what drawing the edges together closes: about 3 mm on a shaft of 50 to 60 mm (common practice)
MOST_STRETCH = 0.04  # beyond this leather is drawn thin, and works loose as it gives (from memory)
TURNS_BY_MM = 0.05  # a width that leaves a straight taper by less is one
MOST_OPENING, MOST_OPENING_FORMED = 0.015, 0.03  # of the girth, that leather gives dry and wet (from memory)
HELD_TIMES = 3  # beyond so many times as much it cannot be worked down (from memory)
STRAIGHT_ENDS_MM = 3.0  # ends are cut straight while the true curve leaves them by less (common practice)
OAR_PAST_HALF_MM = 50.0  # the middle of an oar's leather: half the spread of the locks and this (common practice)
OAR_OUTBOARD, OAR_INBOARD = 18, 7  # how an oar divides at the lock (common practice)

Size = Annotated[float, Field(gt=0, le=2000)]


class StopRing(Frozen):
    """A ring of thick leather that stops the shaft at its place, its ends joined by a scarf."""

    width_mm: Annotated[float, Field(gt=0, le=100)] = 20.0
    thickness_mm: Annotated[float, Field(gt=0, le=20)] = 5.0
    scarf_mm: Annotated[float, Field(gt=0, le=200)] = 25.0
    at_mm: Annotated[float, Field(ge=0, le=2000)] = 0.0


class ShaftCover(KindOfPiece):
    """Choices for a shaft cover; every length in mm. It begins at `start_mm` from the end that is held; an oar's is placed by
    the rule of the locks instead. The edges are drawn together by `stretch` of the wrap.
    """

    kind: Literal["shaft_cover"] = "shaft_cover"
    says: ClassVar[Said] = said("shaft cover")
    hint: ClassVar[Said] = said("for the hand to hold")
    turns: ClassVar[Mapping[Side, float]] = MappingProxyType({"round": 2 * np.pi})
    fits: ClassVar[type[Body]] = ShaftBody
    length_mm: Size = 150.0
    start_mm: Annotated[float, Field(ge=0, le=5000)] = 0.0
    placing: Literal["stated", "by-the-locks"] = "stated"
    locks_mm: Annotated[float, Field(gt=0, le=4000)] = 1200.0
    margin_mm: Annotated[float, Field(gt=0, le=60)] = 4.0
    stretch: Annotated[float, Field(ge=0, le=0.2)] = STRETCH_SHARE
    ends: Literal["straight", "curved"] = "straight"
    formed: bool = False
    ring: StopRing | None = None

    @property
    def neutral(self) -> float:
        """Where the neutral layer lies: 0.5 of the thickness dry, 0.4 wet (common practice)."""
        return NEUTRAL_FORMED if self.formed else NEUTRAL_DRY

    @property
    def begins_mm(self) -> float:
        """Where the cover begins, from the end that is held."""
        if self.placing == "by-the-locks":
            return self.locks_mm / 2 + OAR_PAST_HALF_MM - self.length_mm / 2
        return self.start_mm

    def width_mm(self, girth_mm: Values, leather_mm: float) -> Values:
        """Flat width of the cover round a girth: the wrap π(D + 2kt), less what stretch closes."""
        return flat_length(girth_mm, np.full(len(girth_mm), 2 * np.pi), self.neutral, leather_mm) * (1 - self.stretch)

    def draft(self, body: ShaftBody, leather_mm: float) -> Draft:
        """Pieces, seam and checks for this shaft in leather of `leather_mm`. Never raises."""
        begins = self.begins_mm
        flat = self._flat(body, leather_mm)
        top, bottom, leaves = float(flat.wide[0]), float(flat.wide[-1]), float(np.abs(flat.leaves).max())
        cover, right = self._cover(flat, leather_mm)
        pieces, joins = [cover], [self._join(right)]
        shells = [Shell("cover", said("cover"), ("cover",), way="wrapped")]
        if self.ring:
            pieces.append(self._ring(self.ring, body, leather_mm))
            joins.append(Join("stop-ring", said("stop ring"), "scarf", (Layer("stop-ring", "end-1"), Layer("stop-ring",
                                                                                                           "end-2")),
                              says=said("bend it round the cover, glue the scarf, and bind it until it holds")))  # fmt: skip
            shells.append(Shell("ring", said("stop ring"), ("stop-ring",), "cover", "wrapped"))
        return Draft(
            assembly=Assembly(
                tuple(pieces),
                tuple(joins),
                shells=tuple(shells),
                lies=(self._lies(flat),),
                rounds=(Round("stop-ring", self.ring.at_mm),) if self.ring else (),
            ),
            marks=(Mark("dimension", frozen([[0.0, 0.0], [0.0, self.length_mm]])),),
            labels=(Label(said("towards the hand"), (0.0, 9.0)),),
            callouts=self._callouts(top, bottom, leather_mm),
            tell=partial(self._reckonings, body, leather_mm, (top, bottom), abs(leaves)),
            find=partial(self._findings, body, leather_mm, flat),
            shown=tuple(p.id for p in pieces),
            station_of=lambda _, v: (begins + v, "round"),
            wet=self.formed,
            sentences=(said("Its ends cut {ends}, drawn on {formed}, placed {placing}; {ring}."),),
        )

    def _flat(self, body: ShaftBody, leather_mm: float) -> "_Flat":
        """The cover laid flat as frusta, one beside another wherever the girth turns."""
        begins, ends = self.begins_mm, self.begins_mm + self.length_mm
        inside = body.x_mm[(body.x_mm > begins + 1e-6) & (body.x_mm < ends - 1e-6)]
        at = np.concatenate([[begins], inside, [ends]])
        wide = self.width_mm(np.interp(at, body.x_mm, body.girth_mm), leather_mm)
        at, wide = thinned(np.column_stack([at, wide]), TURNS_BY_MM).T
        slant = np.hypot(np.diff(at), np.diff(wide) / (2 * np.pi))
        half = np.diff(wide) / slant / 2  # half the angle of each frustum's sector, its sign that of the taper
        beside = np.concatenate([half[:1], (half[1:] + half[:-1]) / 2, half[-1:]])
        u = wide / 2 * np.sinc(beside / np.pi)
        leaves = wide / 2 * np.sin(beside / 2) * np.sinc(beside / 2 / np.pi)  # w/2 (1 - cos β) / β
        along = np.concatenate([[0.0], np.cumsum(slant)]) - leaves  # the middle is as long as the shaft
        if self.ends == "straight":
            u[[0, -1]], along[[0, -1]] = wide[[0, -1]] / 2, [0.0, float(slant.sum())]
        return _Flat(at, wide, frozen(np.column_stack([u, along])), leaves[[0, -1]])

    def _cover(self, flat: "_Flat", leather_mm: float) -> tuple[Piece, Line]:
        """The cover, and its right edge from the hand on; even about u = 0."""
        right = flat.right
        first, last = (_end(u, v, leaves if self.ends == "curved" else 0.0)
                       for (u, v), leaves in zip(right[[0, -1]], flat.leaves, strict=True))  # fmt: skip
        outline, edges = edged(
            Edge("hand-end", said("end by the hand"), first, "mouth"),
            Edge("right", said("right edge"), right),
            Edge("far-end", said("far end"), last[::-1], "mouth"),
            Edge("left", said("left edge"), mirror(right)[::-1]),
        )
        return Piece("cover", said("cover"), outline, edges, leather(leather_mm, self.neutral), turns="along"), right

    def _lies(self, flat: "_Flat") -> Lies:
        """Where the shaft lies on the cover: all of it, from edge to edge."""
        x = np.unique(np.concatenate([np.linspace(flat.at[0], flat.at[-1], 9), flat.at]))
        u, v = (np.interp(x, flat.at, k) for k in flat.right.T)
        p, q = (frozen(np.column_stack([s * u, v])) for s in (-1, 1))
        return Lies("cover", "cover", "round", frozen(x), p, q, stretch=self.stretch)

    def _join(self, right: Line) -> Join:
        """The butt seam: the left edge's line in the frame of the cover, the same holes mirrored onto the right."""
        line = mirror(beside(right, self.margin_mm))
        return Join(
            "butt-seam", said("butt seam"), "butt", (Layer("cover", "left", said("cover")), Layer("cover", "right",
                                                                                                  said("cover"))),
            Sewing(frozen(line), self.margin_mm, margin_at="piece.margin_mm", stack_at="leather.thickness_mm",
                   begins=said("the hand")),
        )  # fmt: skip

    def _ring(self, ring: StopRing, body: ShaftBody, leather_mm: float) -> Piece:
        long, wide = self._ring_long(ring, body, leather_mm), ring.width_mm
        outline, edges = edged(
            Edge("end-1", said("one end"), frozen([[0, 0], [wide, 0]])),
            Edge("right", said("long edges"), frozen([[wide, 0], [wide, long]]), "free"),
            Edge("end-2", said("other end"), frozen([[wide, long], [0, long]])),
            Edge("left", said("long edges"), frozen([[0, long], [0, 0]]), "free", beside="right"),
        )
        lap = min(ring.scarf_mm, long / 2)
        scarf = tuple(
            Skive(f"end-{k}", end, frozen([[0, a], [wide, a], [wide, b], [0, b]]),
                  ring.thickness_mm, 0.0,
                  (0.0, thick), (0.0, thin))
            for k, end, a, b, thick, thin in (
                (1, said("to nothing at one end"), 0.0, lap, lap, 0.0), (2, said("to nothing at the other end, from below"),
                                                                         long - lap, long, long - lap, long),
            )
        )  # fmt: skip
        stock = other_leather(ring.thickness_mm, leather_mm, "ring", said("leather for the stop ring"))
        return Piece("stop-ring", said("stop ring"), outline, edges, stock, skives=scarf, turns="along")

    def _ring_long(self, ring: StopRing, body: ShaftBody, leather_mm: float) -> float:
        inner = body.girth_at(self.begins_mm + ring.at_mm) + 2 * np.pi * leather_mm
        return flat_length(inner, 2 * np.pi, self.neutral, ring.thickness_mm) + ring.scarf_mm

    def _callouts(self, top: float, bottom: float, leather_mm: float) -> tuple[Callout, ...]:
        third, edge = self.length_mm / 3, max(top, bottom) / 2
        callouts = [
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (-edge, third * 2), "left", "cover"),
            Callout("piece.length_mm", said("long"), "length", self.length_mm, (-edge * 0.5, 0.0), "left", "cover",
                    to=(-edge * 0.5, self.length_mm), upon=True),
            Callout("piece.ends", said("ends cut"), "count", self.ends, (-edge * 0.6, self.length_mm), "left",
                    choices=(said("straight"), said("curved"))),
            Callout("piece.formed", said("drawn on"), "count", self.formed, (-edge, self.length_mm - 1), "left",
                    choices=(said("dry"), said("wet")), meant=(False, True)),
            Callout("piece.stretch", said("stretch closes"), "percent", self.stretch, (-edge, third), "left", "cover"),
            Callout("piece.margin_mm", said("hole to the edge"), "length", self.margin_mm, (-edge, third * 1.5), "left",
                    "butt-seam"),
            Callout("piece.placing", said("placed"), "count", self.placing, (edge, 2.0), "right",
                    choices=(said("as stated"), said("by the locks")), meant=("stated", "by-the-locks")),
        ]  # fmt: skip
        if self.placing == "by-the-locks":
            callouts.append(
                Callout("piece.locks_mm", said("lock to lock"), "length", self.locks_mm, (-edge, 6.0), "left")
            )
        else:
            callouts.append(
                Callout("piece.start_mm", said("begins, from the end"), "length", self.start_mm, (-edge, 6.0), "left")
            )
        callouts.append(Callout("piece.ring", said("stop ring"), "count", self.ring, (-edge, 4.0), "left", "stop-ring",
                             (said("no stop ring"), said("a stop ring")), (None, self.ring or StopRing())))  # fmt: skip
        if self.ring:
            callouts += [
                Callout("piece.ring.width_mm", said("ring, wide"), "length", self.ring.width_mm, (0.0, 60.0),
                        "right", "stop ring", on="stop-ring", to=(self.ring.width_mm, 60.0)),
                Callout("piece.ring.thickness_mm", said("ring, thick"), "leather", self.ring.thickness_mm,
                        (self.ring.width_mm, 40.0), "right", "stop ring", on="stop-ring"),
                Callout("piece.ring.scarf_mm", said("scarf over"), "length", self.ring.scarf_mm,
                        (self.ring.width_mm, 0.0), "right", "skive", on="stop-ring",
                        to=(self.ring.width_mm, self.ring.scarf_mm)),
            ]  # fmt: skip
        return tuple(callouts)

    def _openings(self, body: ShaftBody) -> list[Finding]:
        """Where the taper turns, a flat piece does not lie round it: how far its edges stand open there, K·C/8 at each."""
        begins, ends = self.begins_mm, self.begins_mm + self.length_mm
        most = MOST_OPENING_FORMED if self.formed else MOST_OPENING
        findings: list[Finding] = []
        at, girth = body.read_mm[:, 0], body.read_mm[:, 1]
        for k in range(1, len(at) - 1):
            rise = np.diff(girth[k - 1 : k + 2])
            turn = float(-np.diff(rise / np.hypot(np.diff(at[k - 1 : k + 2]), rise / (2 * np.pi)))[0])
            share = abs(turn) / 8
            if not begins < at[k] < ends or share <= most:
                continue
            what = said(
                "Round the belly at {at} the two edges, laid flat, stand {open} off each: there the middle must stretch."
            ) if turn > 0 else said(
                "At the waist at {at} the two edges, laid flat, are {open} short each: there they must stretch."
            )  # fmt: skip
            findings.append(Finding(
                "hold" if share > HELD_TIMES * most else "look", "cover-opens", "draft",
                said("{what} Leather {how} takes {most} of the girth. Cut the cover in two there, or read it again.",
                     what=what.filled(at=length(float(at[k])), open=length(share * float(girth[k]))), most=percent(most),
                     how=said("formed wet") if self.formed else said("drawn on dry")), f"thing.stations.{k}.girth.first",
                None if self.formed else Mend(said("draw it on wet"), (("piece.formed", True),)),
            ))  # fmt: skip
        return findings

    def _reckonings(
        self, body: ShaftBody, leather_mm: float, widths: tuple[float, float], leaves: float
    ) -> tuple[Reckoning, ...]:
        begins, ends = self.begins_mm, self.begins_mm + self.length_mm
        reckonings = []
        for key, name, at, wide in (
            ("top", said("by the hand"), begins, widths[0]),
            ("bottom", said("at the far end"), ends, widths[1]),
        ):
            girth = body.girth_at(at)
            reckonings.append(reckon(
                f"width-{key}", said("Wide {name}", name=name), length(wide),
                said("({g:n} round + 2π × {k} of {t}) less {s}", g=length(girth), k=percent(self.neutral),
                     t=Q("leather", leather_mm), s=percent(self.stretch)), ("cover",),
                (said("stretch closes {gap}", gap=length(wide / (1 - self.stretch) * self.stretch)),),
            ))  # fmt: skip
        reckonings.append(reckon("curve", said("A straight end leaves the true curve by"), fine(leaves),
                            said("R (1 − cos α/2), the wrap laid out as a cone"), ("cover",)))  # fmt: skip
        if self.placing == "by-the-locks":
            inboard = self.locks_mm / 2 + OAR_PAST_HALF_MM
            reckonings.append(reckon("middle", said("Middle of the leather"), length(inboard),
                                said("{half:n} half the spread + {past}", half=length(self.locks_mm / 2),
                                     past=length(OAR_PAST_HALF_MM)), ("cover",),
                                (said("{out} outboard to {inboard} inboard: such an oar is {oar} long",
                                      oar=length(inboard * (OAR_OUTBOARD + OAR_INBOARD) / OAR_INBOARD), out=OAR_OUTBOARD,
                                      inboard=OAR_INBOARD),)))  # fmt: skip
        if self.ring:
            at = begins + self.ring.at_mm
            long = self._ring_long(self.ring, body, leather_mm)
            reckonings.append(reckon(
                "ring", said("Stop ring, long"), length(long),
                said("{g:n} round + 2π × {t:n} cover + 2π × {k} of {r} + {s} scarf", g=length(body.girth_at(at)),
                     t=length(leather_mm), k=percent(self.neutral), r=length(self.ring.thickness_mm),
                     s=length(self.ring.scarf_mm)), ("stop-ring",),
            ))  # fmt: skip
        return tuple(reckonings)

    def _findings(self, body: ShaftBody, leather_mm: float, flat: "_Flat") -> tuple[Finding, ...]:
        widths, leaves = flat.wide, float(np.abs(flat.leaves).max())
        findings: list[Finding] = []
        begins, ends = self.begins_mm, self.begins_mm + self.length_mm
        low, high = float(body.x_mm[0]), float(body.x_mm[-1])
        if begins < low - 1 or ends > high + 1:
            findings.append(Finding(
                "look", "cover-past-stations", "draft",
                said("The cover runs from {a:n} to {b}; girths were read from {low:n} to {high} only. The nearest is used.",
                     a=length(begins), b=length(ends), low=length(low), high=length(high)), "piece.length_mm",
                Mend(said("as far as it was read"), (("piece.placing", "stated"), ("piece.start_mm", round(low, 1)),
                                               ("piece.length_mm", round(high - low, 1)))),
            ))  # fmt: skip
        if self.stretch > MOST_STRETCH:
            findings.append(Finding(
                "look", "stretched-hard", "draft",
                said("Drawing {s} closed thins the leather and works loose; {usual} is usual.", s=percent(self.stretch),
                     usual=percent(STRETCH_SHARE)), "piece.stretch",
                Mend(said("as usual"), (("piece.stretch", STRETCH_SHARE),)),
            ))  # fmt: skip
        closes = min(widths) * self.stretch
        if 0 < closes < 4 * body.spread_mm and body.spread_mm > 0:
            findings.append(Finding(
                "look", "spread-eats-stretch", "draft",
                said("Stretch closes {gap}, but the girths were read {spread} apart: measure again before it is cut.",
                     gap=length(closes), spread=length(2 * body.spread_mm)), "thing.stations.0.girth.first",
            ))  # fmt: skip
        if self.ends == "straight" and leaves > STRAIGHT_ENDS_MM:
            findings.append(Finding(
                "look", "ends-want-a-curve", "draft",
                said("Cut straight, the ends leave the true curve by {off}; {most} is let pass.", off=length(leaves),
                     most=length(STRAIGHT_ENDS_MM)), "piece.ends", Mend(said("curve the ends"), (("piece.ends", "curved"),)),
            ))  # fmt: skip
        findings += self._openings(body)
        if 2 * self.margin_mm >= min(widths):
            findings.append(Finding(
                "hold", "margin-too-wide", "draft",
                said("Holes {e} from either edge do not fit a cover {w} wide.", e=length(self.margin_mm),
                     w=length(min(widths))), "piece.margin_mm", Mend(said("3 mm, as usual"), (("piece.margin_mm", 3.0),)),
            ))  # fmt: skip
        return tuple(findings)


@dataclass(frozen=True, slots=True, eq=False)
class _Flat:
    """A cover laid flat: places along the shaft `at (n,)`, how wide the leather is there round it, `wide (n,)`, the right edge
    `(n, 2)` about the middle line, and how far a straight end leaves the arc at either end, `(2,)`, positive where it widens.
    """

    at: Values
    wide: Values
    right: Line
    leaves: Values


def _end(half: float, v: float, leaves: float) -> Line:
    """An end from left to right, straight or an arc that bows by so much, away from the hand where it is positive."""
    if abs(leaves) < 1e-6:
        return np.array([[-half, v], [half, v]])
    radius = (half**2 + leaves**2) / (2 * abs(leaves))
    turn = np.linspace(-1, 1, 31) * np.arcsin(half / radius)
    bow = np.sign(leaves) * radius * (np.cos(turn) - np.cos(turn[0]))
    return np.column_stack([radius * np.sin(turn), v + bow])
