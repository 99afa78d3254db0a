"""The limb wrap drafted: the settled piece, its closure by its rule, the tongue under it."""

from functools import partial
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ....curve import Line, arc_length, frozen
from ....drawing import Label, Mark
from ....finding import Finding
from ....frozen import Frozen
from ....measure import Body, LimbBody
from ....measure.body import Side
from ....texts import Said, said
from ...assembly import Assembly
from ...closures import TAIL_MM, how_many, lace_mm, stood
from ...drafted import Draft
from ...joins import Fastener, Join, Lace, Layer, Lies, Seat, Sewing, Shell
from ...kind import KindOfPiece
from ...pieces import Edge, Piece, Punch, edged, leather
from ...surface import ALONG, ROUND
from ...wrap import NEUTRAL_DRY, NEUTRAL_FORMED
from . import checks, shown
from .wrap import Closing, Wrap, laid_flat

LEFT, RIGHT = said("left edge"), said("right edge")
SENTENCES = {
    "laced": said("Closed at the {closing}, {closed}, worked {formed}; {tongue}."),
    "studs": said("Closed at the {closing}, {closed}, worked {formed}."),
}
LEAST_LONG_MM = 20.0
TONGUE_MARGIN_MM = 3.0  # a tongue is sewn so far in from its edge (from memory)


class Tongue(Frozen):
    """A piece under the gap, so much wider than that at either side, and sewn along one of them."""

    lap_mm: Annotated[float, Field(gt=0, le=100)] = 20.0


class LimbWrap(KindOfPiece):
    """Choices for a piece wrapped round a limb from `low_mm` above its first girth to `high_mm` below its last; every length in
    mm. It is closed by a row of closures, `spacing_mm` from each other at most and beginning `ends_mm` from either end.
    """

    kind: Literal["limb_wrap"] = "limb_wrap"
    says: ClassVar[Said] = said("cuff or gaiter")
    hint: ClassVar[Said] = said("round it, laced or studded")
    fits: ClassVar[type[Body]] = LimbBody
    turns: ClassVar[dict[Side, float]] = {"round": 2 * np.pi}
    ease_mm: Annotated[float, Field(ge=-50, le=200)] = 0.0
    low_mm: Annotated[float, Field(ge=0, le=1000)] = 0.0
    high_mm: Annotated[float, Field(ge=0, le=1000)] = 0.0
    closing: Closing = "back"
    closed: Literal["laced", "studs"] = "laced"
    gap_low_mm: Annotated[float, Field(ge=0, le=200)] = 12.0
    gap_high_mm: Annotated[float, Field(ge=0, le=200)] = 12.0
    lap_mm: Annotated[float, Field(gt=0, le=200)] = 30.0
    spacing_mm: Annotated[float, Field(ge=5, le=300)] = 25.4
    ends_mm: Annotated[float, Field(gt=0, le=300)] = 14.0
    in_mm: Annotated[float, Field(gt=0, le=100)] = 10.0
    hole_mm: Annotated[float, Field(gt=0, le=20)] = 5.0
    formed: bool = False
    tongue: Tongue | None = None

    @property
    def neutral(self) -> float:
        """Where the neutral layer lies: 0.5 of the thickness dry, 0.4 wet (common practice)."""
        return NEUTRAL_FORMED if self.formed else NEUTRAL_DRY

    def between(self, body: LimbBody) -> tuple[float, float]:
        """The places it reaches from and to."""
        first, last = float(body.read_mm[0, 0]), float(body.read_mm[-1, 0])
        low = min(first + self.low_mm, last - LEAST_LONG_MM) if last - first > LEAST_LONG_MM else first
        high = max(last - self.high_mm, low + min(LEAST_LONG_MM, last - first))
        return low, high

    def wrap(
        self, body: LimbBody, leather_mm: float, closing: Closing | None = None, steps: tuple[int, int] = (ROUND, ALONG)
    ) -> Wrap:
        """The limb laid flat, a whole turn of the leather's own and the ease laid on; or closed elsewhere, by other steps."""
        low, high = self.between(body)
        more = 2 * np.pi * self.neutral * leather_mm + self.ease_mm
        made, flat = laid_flat(body, low, high, more, closing or self.closing, steps)
        if self.closed == "laced":
            return Wrap(made, flat, self.gap_low_mm, self.gap_high_mm)
        return Wrap(made, flat, -self.lap_mm, -self.lap_mm)

    def draft(self, body: LimbBody, leather_mm: float) -> Draft:
        """The piece, its closures and its tongue. Never raises."""
        wrap = self.wrap(body, leather_mm)
        rows = self.rows(wrap)
        punches, fasteners, laces = self._closures(wrap, rows)
        outline, edges = edged(
            Edge("top", said("top"), wrap.rows[0], "mouth"), Edge("right", RIGHT, wrap.right, "free", beside="left"),
            Edge("low", said("low end"), frozen(wrap.rows[-1][::-1]), "mouth"),
            Edge("left", LEFT, frozen(wrap.left[::-1]), "free"),
        )  # fmt: skip
        piece = Piece(
            "wrap", said("wrap"), outline, edges, leather(leather_mm, self.neutral), punches=punches, turns="along"
        )
        under = self._under(self.tongue, wrap, leather_mm) if self.tongue and self.closed == "laced" else None
        return Draft(
            assembly=Assembly(
                (piece, *((under[0],) if under else ())), (under[2],) if under else (), (under[1],) if under else (),
                shells=(Shell("wrap", said("wrap"), ("wrap",), way="wrapped"),), fasteners=fasteners, lies=(self._lies(wrap),),
                laces=laces,
            ),
            marks=(Mark("dimension", wrap.middle, id="middle"), *shown.girths(wrap, body), *shown.hatched(wrap)),
            labels=(Label(said("towards the body"), (0.0, float(outline[:, 1].min()) - 22.0)),),
            callouts=shown.callouts(self, wrap, rows, leather_mm, self.tongue or Tongue()),
            tell=partial(shown.reckonings, self, body, wrap, rows, leather_mm),
            findings=checks.findings(self, body, wrap, rows),
            shown=("wrap", *(("tongue",) if under else ())),
            section=partial(shown.section, self, body, wrap, leather_mm),
            station_of=lambda _, v: (wrap.at_of(v), "round"),
            wet=False,
            turned=partial(shown.turned, wrap, len(rows[0])),
            sentences=(SENTENCES[self.closed],),
        )  # fmt: skip

    def count(self, long_mm: float) -> int:
        """How many closures stand in a row on an edge so long."""
        return how_many(long_mm, self.spacing_mm, self.ends_mm)

    def rows(self, wrap: Wrap) -> tuple[Line, Line]:
        """Where the closures stand on the left and on the right edge, as many on either, lowest first: evenly by length."""
        edges = [_inward(line, self.in_mm, side) for line, side in ((wrap.left, 1.0), (wrap.right, -1.0))]
        if self.closed == "studs":  # on the closing line, the middle of the lap
            edges = [frozen(wrap.flat.points[:, k]) for k in (0, -1)]
        n = self.count(min(float(arc_length(e)[-1]) for e in (wrap.left, wrap.right)))
        left, right = (stood(line[::-1], n, self.ends_mm) for line in edges)
        return left, right

    def _closures(
        self, wrap: Wrap, rows: tuple[Line, Line]
    ) -> tuple[tuple[Punch, ...], tuple[Fastener, ...], tuple[Lace, ...]]:
        title = said("eyelet holes") if self.closed == "laced" else said("stud holes")
        names = [tuple(f"{side}-{k}" for k in range(1, len(rows[0]) + 1)) for side in ("left", "right")]
        punches = tuple(
            Punch(id, title, (float(u), float(v)), self.hole_mm, "closures")
            for ids, row in zip(names, rows, strict=True) for id, (u, v) in zip(ids, row.tolist(), strict=True)
        )  # fmt: skip
        if self.closed == "studs":
            studs = tuple(
                Fastener(f"stud-{k}", said("stud {k}", k=k), "stud", (("wrap", a), ("wrap", b)))
                for k, (a, b) in enumerate(zip(*names, strict=True), 1)
            )
            return punches, studs, ()
        through = tuple(("wrap", id) for ids in names for id in ids)
        eyelets = Fastener("eyelets", said("eyelets"), "eyelet", through, each=True)
        gaps = self.gaps(wrap, rows)
        left, right = (tuple(("wrap", id) for id in ids) for ids in names)
        long = lace_mm(rows, np.array(gaps))
        return punches, (eyelets,), (Lace("lace", said("lace"), (left, right), gaps, TAIL_MM, long),)

    def gaps(self, wrap: Wrap, rows: tuple[Line, Line]) -> tuple[float, ...]:
        """From eyelet to eyelet across, lowest first, when it is laced."""
        along = np.linspace(0, 1, len(rows[0]))
        gap = self.gap_low_mm + (self.gap_high_mm - self.gap_low_mm) * along
        return tuple((gap + 2 * self.in_mm).tolist())

    def _lies(self, wrap: Wrap) -> Lies:
        p, q = wrap.left[::-1], wrap.right[::-1]
        # as much as its rows are longer or shorter flat than round: what the leather is said to give there
        gives = max((abs(g.over_mm) / g.round_mm for g in wrap.girded), default=0.0)
        return Lies("wrap", "wrap", "round", frozen(wrap.surface.at_mm[::-1]), frozen(p), frozen(q), loose_mm=self.ease_mm,
                    open_mm=frozen(wrap.open_mm[::-1]), gives=gives)  # fmt: skip

    def _under(self, tongue: Tongue, wrap: Wrap, leather_mm: float) -> tuple[Piece, Seat, Join]:
        """A tongue under the gap, its ends slanted as that tapers, sewn inside the left edge along its own."""
        long = float(arc_length(wrap.left)[-1])
        high, low = (gap / 2 + tongue.lap_mm for gap in (self.gap_high_mm, self.gap_low_mm))
        ring = frozen([[-high, 0.0], [high, 0.0], [low, long], [-low, long]])
        outline, edges = edged(Edge("around", said("around"), ring, "free"))
        piece = Piece("tongue", said("tongue"), outline, edges, leather(leather_mm), turns="along")
        inset = min(TONGUE_MARGIN_MM, 0.3 * tongue.lap_mm)
        seat = Seat("tongue-seat", "wrap", _inward(wrap.left, tongue.lap_mm - inset, 1.0))
        own = frozen([[inset - high, 0.0], [inset - low, long]])
        join = Join(
            "tongue", said("tongue"), "line",
            (Layer("wrap", seat.id, said("wrap")), Layer("tongue", "", said("tongue"), along=own)),
            Sewing(seat.line, inset, stack_at="leather.thickness_mm", begins=said("the top")),
        )  # fmt: skip
        return piece, seat, join

    def suits(self, body: Any, leather_mm: float, tannage: str) -> tuple[Finding, ...]:
        """Whether the leather takes what it must stretch and shrink."""
        return checks.suits(self, body, self.wrap(body, leather_mm), leather_mm, tannage)


def _inward(edge: Line, by: float, side: float) -> Line:
    """An edge moved in by so much, square to itself."""
    step = np.gradient(edge, axis=0)
    way = step / np.maximum(np.hypot(*step.T), 1e-9)[:, None]
    return frozen(edge + side * by * np.column_stack([way[:, 1], -way[:, 0]]))
