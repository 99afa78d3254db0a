"""The limb wrap drafted: the settled piece, its closure by its rule, the tongue under it."""

from functools import partial
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ....curve import arc_length, frozen
from ....drawing import Label, Mark
from ....finding import Finding
from ....measure import Body, LimbBody
from ....measure.body import Side
from ....texts import Said, said
from ...assembly import Assembly
from ...drafted import Draft, Turned
from ...joins import Join, Layer, Lies, Seat, Sewing, Shell
from ...kind import KindOfPiece
from ...pieces import Edge, Piece, edged, leather
from ...surface import ALONG, ROUND
from ...wrap import NEUTRAL_DRY, NEUTRAL_FORMED
from . import checks, shown
from .closure import LEFT_SIDE, Gapped, inward
from .closures import AnyClosure
from .closures.laced import Laced
from .wrap import Closing, Wrap, laid_flat

LEFT, RIGHT = said("left edge"), said("right edge")
GAPPED = said("Closed at the {closing}, {closed}, worked {formed}; {tongue}.")
LAPPED = said("Closed at the {closing}, {closed}, worked {formed}.")
LEAST_LONG_MM = 20.0
TONGUE_MARGIN_MM = 3.0  # a tongue is sewn so far in from its edge (from memory)


class LimbWrap(KindOfPiece):
    """Choices for a piece wrapped round a limb from `low_mm` above its first girth to `high_mm` below its last; every length in
    mm. It is `closed` by a row of closures.
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
    closed: AnyClosure = Laced()
    formed: bool = False

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
        return Wrap(made, flat, *self.closed.open_mm)

    def draft(self, body: LimbBody, leather_mm: float) -> Draft:
        """The piece, its closures and its tongue. Never raises."""
        wrap = self.wrap(body, leather_mm)
        rows = self.closed.rows(wrap)
        by = self.closed.fitted(wrap, rows, leather_mm)
        outline, edges = edged(
            Edge("top", said("top"), wrap.rows[0], "mouth"), Edge("right", RIGHT, wrap.right, "free", beside="left"),
            Edge("low", said("low end"), frozen(wrap.rows[-1][::-1]), "mouth"),
            Edge("left", LEFT, frozen(wrap.left[::-1]), "free"),
        )  # fmt: skip
        piece = Piece(
            "wrap", said("wrap"), outline, edges, leather(leather_mm, self.neutral), punches=by.punches, turns="along"
        )
        under = self._under(self.closed, wrap, leather_mm) if isinstance(self.closed, Gapped) else None
        more = [*([under[0]] if under else []), *by.pieces]
        return Draft(
            assembly=Assembly(
                (piece, *more), (*((under[2],) if under else ()), *by.joins), (*((under[1],) if under else ()), *by.seats),
                shells=(Shell("wrap", said("wrap"), ("wrap",), way="wrapped"),), fasteners=by.fasteners,
                lies=(self._lies(wrap),), turns=by.turns, laces=by.laces, buckles=by.buckles, loops=by.loops,
            ),
            marks=(Mark("dimension", wrap.middle, id="middle"), *shown.girths(wrap, body), *shown.hatched(wrap)),
            labels=(Label(said("towards the body"), (0.0, float(outline[:, 1].min()) - 22.0)),),
            callouts=shown.callouts(self, wrap, rows, leather_mm),
            tell=partial(shown.reckonings, self, body, wrap, rows, leather_mm),
            findings=checks.findings(self, body, wrap, rows),
            shown=("wrap", *(p.id for p in more)),
            section=partial(shown.section, self, body, wrap, leather_mm),
            station_of=lambda _, v: (wrap.at_of(v), "round"),
            wet=False,
            turned=Turned(partial(shown.turned, wrap, len(rows[0])), shown.half_mm(wrap)),
            sentences=(GAPPED if isinstance(self.closed, Gapped) else LAPPED,),
        )  # fmt: skip

    def _lies(self, wrap: Wrap) -> Lies:
        p, q = wrap.left[::-1], wrap.right[::-1]
        # as much as its rows are longer or shorter flat than round: what the leather is said to give there
        gives = max((abs(g.over_mm) / g.round_mm for g in wrap.girded), default=0.0)
        return Lies("wrap", "wrap", "round", frozen(wrap.surface.at_mm[::-1]), frozen(p), frozen(q), loose_mm=self.ease_mm,
                    open_mm=frozen(wrap.open_mm[::-1]), gives=gives)  # fmt: skip

    def _under(self, closed: Gapped, wrap: Wrap, leather_mm: float) -> tuple[Piece, Seat, Join] | None:
        """A tongue under the gap, its ends slanted as that tapers, sewn inside the left edge along its own."""
        tongue = closed.tongue
        if tongue is None:
            return None
        long = float(arc_length(wrap.left)[-1])
        high, low = (gap / 2 + tongue.lap_mm for gap in (closed.gap_high_mm, closed.gap_low_mm))
        ring = frozen([[-high, 0.0], [high, 0.0], [low, long], [-low, long]])
        outline, edges = edged(Edge("around", said("around"), ring, "free"))
        piece = Piece("tongue", said("tongue"), outline, edges, leather(leather_mm), turns="along")
        inset = min(TONGUE_MARGIN_MM, 0.3 * tongue.lap_mm)
        seat = Seat("tongue-seat", "wrap", inward(wrap.left, tongue.lap_mm - inset, LEFT_SIDE))
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
