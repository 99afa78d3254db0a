"""The limb wrap drafted: the settled piece, its closure by its rule, the tongue under it."""

from collections.abc import Iterator, Mapping
from dataclasses import replace
from functools import partial
from itertools import pairwise
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ....curve import Line, arc_length, frozen, trim
from ....drawing import Label, Mark
from ....finding import Finding
from ....measure import Body, LimbBody
from ....measure.body import Side
from ....reckoning import length
from ....texts import Said, said
from ...assembly import Assembly
from ...drafted import Draft, Turned
from ...joins import Join, Layer, Lies, Seat, Sewing, Shell
from ...kind import KindOfPiece
from ...other_hand import other_hand
from ...pieces import Craft, Edge, Piece, edged, leather
from ...surface import ALONG, ROUND
from ...wrap import NEUTRAL_DRY, NEUTRAL_FORMED
from . import checks, edge_darts, shown
from .closure import LEFT_SIDE, RIGHT_SIDE, Fitted, Gapped, inward
from .closures import AnyClosure
from .closures.laced import Laced
from .darts import Darts, end_edges, let_in, seams
from .edge_darts import EdgeDarts
from .fold import FoldOver
from .foot import FootStrap, UnderFoot, foot_strap
from .wrap import OVER, Closing, Part, Wrap, laid_flat, most_strain, wrapped

LEFT, RIGHT = said("left edge"), said("right edge")
OVER_LEFT, OVER_RIGHT = said("left edge, folded over"), said("right edge, folded over")
GAPPED = said("In {panels}, closed at the {closing}, {closed}, worked {formed}; its top {over}, {tongue}, {foot}.")
LAPPED = said("In {panels}, closed at the {closing}, {closed}, worked {formed}; its top {over}, {foot}.")
DARTED = said("It has {darts}.")
LEAST_LONG_MM = 20.0
WORDS_OVER = 0.15
TONGUE_MARGIN_MM = 3.0  # a tongue is sewn so far in from its edge (from memory)


class LimbWrap(KindOfPiece):
    """Choices for a piece wrapped round a limb from `low_mm` above its first girth to `high_mm` below its last; every length in
    mm. It is `closed` by a row of closures, and cut in one piece or in panels that take an equal share, sewn edge to edge.
    It is laid flat so that it stretches and shrinks as little as may be; or, with a `most_stretch` above 0, so that it need
    stretch by no more than that share, and stands off instead.
    """

    kind: Literal["limb_wrap"] = "limb_wrap"
    says: ClassVar[Said] = said("cuff or gaiter")
    hint: ClassVar[Said] = said("laced, buckled, studded")
    fits: ClassVar[type[Body]] = LimbBody
    turns: ClassVar[dict[Side, float]] = {"round": 2 * np.pi}
    ease_mm: Annotated[float, Field(ge=-50, le=200)] = 0.0
    low_mm: Annotated[float, Field(ge=0, le=1000)] = 0.0
    high_mm: Annotated[float, Field(ge=0, le=1000)] = 0.0
    closing: Closing = "back"
    closed: AnyClosure = Laced()
    formed: bool = False
    panels: Annotated[int, Field(ge=1, le=4)] = 1
    margin_mm: Annotated[float, Field(gt=0, le=30)] = 3.0
    foot: FootStrap | None = None
    over: FoldOver | None = None
    darts: Darts | EdgeDarts | None = None
    most_stretch: Annotated[float, Field(ge=0, le=0.3)] = 0.0

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
        self, body: LimbBody, leather_mm: float, closing: Closing | None = None, panels: int | None = None,
        steps: tuple[int, int] = (ROUND, ALONG), lining_mm: float = 0.0,
    ) -> Wrap:  # fmt: skip
        """The limb laid flat, a whole turn of the leather's own, round a lining, and the ease laid on; or closed elsewhere, in
        other panels, by other steps.
        """
        low, high = self.between(body)
        more = 2 * np.pi * (self.neutral * leather_mm + lining_mm) + self.ease_mm
        over, darts = self.over.deep_mm if self.over else 0.0, self.darts_made if panels is None else None
        deep = min(darts.deep_mm, high - low - LEAST_LONG_MM / 2) if darts else 0.0
        across = self.edge_darts if panels is None else None
        made, flats, folded = laid_flat(
            body, low, high, more, closing or self.closing, panels or self.panels, steps, over, leather_mm if over else 0.0,
            (darts.n, deep) if darts and deep > 0 else (0, 0.0), darts is not None and darts.at == "low",
            (across.level_mm, across.tips(steps[0])) if across and across.fits(low, high) else None, self.most_stretch,
        )  # fmt: skip
        return wrapped(made, flats, *self.closed.open_mm, folded, darts is not None and darts.gussets, lining_mm)

    @property
    def darts_made(self) -> Darts | None:
        """The darts from an end, in a wrap of one piece whose top is not folded over; None where there are none."""
        return self.darts if isinstance(self.darts, Darts) and self.may_have_darts else None

    @property
    def edge_darts(self) -> EdgeDarts | None:
        """Those in from both closing edges, likewise."""
        return self.darts if isinstance(self.darts, EdgeDarts) and self.may_have_darts else None

    @property
    def may_have_darts(self) -> bool:
        """Whether it is of one piece whose top is not folded over."""
        return self.panels == 1 and self.over is None

    def strain_in(self, body: LimbBody, leather_mm: float, panels: int, steps: tuple[int, int]) -> float:
        """The most that leather must stretch or shrink in so many panels: in the first, at the closing line, or the one
        opposite.
        """
        low, high = self.between(body)
        more = 2 * np.pi * self.neutral * leather_mm + self.ease_mm
        return most_strain(body, low, high, more, self.closing, panels, steps)

    def draft(self, body: LimbBody, leather_mm: float) -> Draft:
        """The panels and their seams, the closures and the tongue. Never raises."""
        return self._drafted(body, leather_mm, {})

    def _drafted(self, body: LimbBody, leather_mm: float, thick: Mapping[str, float]) -> Draft:
        """The same, some of its panels lined so thick: drafted for a left limb, and in a mirror for a right one."""
        left = self._left(body, leather_mm, thick)
        return other_hand(left) if body.right else left

    def _left(self, body: LimbBody, leather_mm: float, thick: Mapping[str, float]) -> Draft:
        ids = ("wrap",) if self.panels == 1 else tuple(f"wrap-{k}" for k in range(1, self.panels + 1))
        wrap = self.wrap(body, leather_mm, lining_mm=sum(thick.get(id, 0.0) for id in ids) / len(ids))
        rows = self.closed.rows(wrap)
        by = self.closed.fitted(wrap, rows, leather_mm)
        under_foot = foot_strap(self.foot, wrap, leather_mm) if self.foot else None
        panels = [self._panel(wrap, part, by, leather_mm, under_foot) for part in wrap.parts]
        under = self._under(self.closed, wrap, leather_mm) if isinstance(self.closed, Gapped) else None
        darts = edge_darts.seams(wrap.first, self.margin_mm)
        darts += seams(wrap.first, self.margin_mm) if not wrap.filled else []
        gussets = let_in(wrap.first, self.margin_mm, leather_mm)
        more = [
            *gussets.pieces, *([under[0]] if under else []), *by.pieces, *([under_foot.strap] if under_foot else [])
        ]  # fmt: skip
        sewn = [s for k, pair in enumerate(pairwise(wrap.parts), 1) for s in self._seams(k, *pair, leather_mm)]
        return Draft(
            assembly=Assembly(
                (*panels, *more), (*((under[2],) if under else ()), *darts, *gussets.joins, *by.joins, *sewn),
                (*((under[1],) if under else ()), *gussets.seats, *by.seats),
                shells=(Shell("wrap", said("wrap"), ids, way="wrapped"),),
                fasteners=(*by.fasteners, *(under_foot.fasteners if under_foot else ())),
                lies=tuple(self._lies(wrap, leather_mm)), turns=by.turns, laces=by.laces, buckles=by.buckles, loops=by.loops,
            ),
            marks=(Mark("dimension", wrap.first.middle, id="middle"), *shown.girths(wrap, body)),
            labels=(Label(said("towards the body"), (0.0, float(panels[0].outline[:, 1].min()) - _over(panels[0]))),),
            callouts=shown.callouts(self, wrap, rows, leather_mm),
            tell=partial(shown.reckonings, self, body, wrap, rows, leather_mm),
            find=partial(checks.findings, self, body, wrap, rows, leather_mm),
            shown=(*ids, *(p.id for p in more)),
            section=partial(shown.section, self, body, wrap, leather_mm),
            station_of=lambda _, v: (wrap.at_of(v), "round"),
            wet=self.formed,
            turned=Turned(
                partial(shown.turned, wrap, len(rows[0])), shown.half_mm(wrap), partial(shown.strained, wrap.parts)
            ),
            lined=partial(self._left, body, leather_mm), counted=frozenset(ids),
            sentences=(GAPPED if isinstance(self.closed, Gapped) else LAPPED, DARTED),
        )  # fmt: skip

    def _panel(self, wrap: Wrap, part: Part, by: Fitted, leather_mm: float, foot: UnderFoot | None) -> Piece:
        first, last, over = part is wrap.first, part is wrap.last, self.over is not None
        crease = part.crease if part.crease is not None else np.zeros((0, 2))
        sides = [
            Edge("right-over", OVER_RIGHT, frozen([*part.over_right, *crease[-1:]]), "free" if last else ""),
            Edge("left-over", OVER_LEFT, frozen([*crease[:1], *part.over_left[::-1]]), "free" if first else ""),
        ] if over else []  # fmt: skip
        if part.flat.across is None:
            right = [Edge("right", RIGHT, frozen([*crease[-1:], *part.right]), "free" if last else "",
                          beside="left" if first and last else "")]  # fmt: skip
            left = [Edge("left", LEFT, frozen([*crease[:1], *part.left]), "free" if first else "")]
        else:
            right = edge_darts.edges(part, "right", RIGHT, part.right)
            left = edge_darts.edges(part, "left", LEFT, part.left)
        outline, edges = edged(
            *end_edges(part, part.all_rows[0], "top"), *sides[:1], *right,
            *_back(end_edges(part, part.rows[-1], "low")), *_back(left), *sides[1:],
        )  # fmt: skip
        punches = (
            *(by.holes[0] if first else ()),
            *(by.holes[1] if last else ()),
            *(foot.holes[part.id] if foot else ()),
        )
        piece = Piece(
            part.id, part.title, outline, edges, leather(leather_mm, self.neutral), punches=punches, turns="along"
        )
        if self.over is None:
            return piece
        tells = said(
            "damp, along its line, {deep} laid down on the outside, and tapped", deep=length(self.over.deep_mm)
        )
        return replace(piece, folds=(frozen(crease),), crafts=(Craft(said("Fold the top over"), tells),))

    def _seams(self, k: int, one: Part, other: Part, leather_mm: float) -> Iterator[Join]:
        """Two panels edge to edge; where they are folded over, up to the fold and on beyond it: no hole lies in that."""
        inset = min(self.margin_mm, 0.3 * min(float(arc_length(row)[-1]) for row in (*one.all_rows, *other.all_rows)))

        def seam(id: str, name: Said, edges: tuple[str, str], lines: tuple[Line, Line], begins: Said) -> Join:
            line, along = inward(lines[0], inset, RIGHT_SIDE), inward(lines[1], inset, LEFT_SIDE)
            sewing = Sewing(
                line, inset, margin_at="piece.margin_mm", stack_at="leather.thickness_mm", begins=begins,
            )  # fmt: skip
            layers = Layer(one.id, edges[0], one.title), Layer(other.id, edges[1], other.title, along=along)
            return Join(id, name, "butt", layers, sewing, shaped=True)

        clear, none = leather_mm / 2, 0.0
        if self.over is not None:
            right, left = (trim(edge, none, clear) for edge in (one.over_right, other.over_left))
            yield seam(f"seam-{k}-over", said("seam {k}, folded over", k=k), ("right-over", "left-over"), (right, left),
                       said("the free edge"))  # fmt: skip
            right, left = (trim(edge, clear, none) for edge in (one.right, other.left))
            yield seam(f"seam-{k}", said("seam {k}", k=k), ("right", "left"), (right, left), said("the fold"))
        else:
            yield seam(f"seam-{k}", said("seam {k}", k=k), ("right", "left"), (one.right, other.left), said("the top"))

    def _lies(self, wrap: Wrap, leather_mm: float) -> Iterator[Lies]:
        # as much as its rows are longer or shorter flat than round: what the leather is said to give there
        gives, gives_over = (
            max((abs(g.over_mm) / g.round_mm for g in rows), default=0.0) for rows in (wrap.girded, wrap.girded_over)
        )
        off = wrap.larger if self.most_stretch else 0.0
        across = wrap.first.flat.across
        once = np.arange(len(wrap.surface.at_mm)) != (
            -1 if across is None else across + 1
        )  # a row cut along is there twice
        for part in wrap.parts:
            at, left, right, open_ = (
                frozen(each[once][::-1]) for each in (wrap.surface.at_mm, part.left, part.right, wrap.open_mm)
            )
            yield Lies(
                "wrap", part.id, "round", at, left, right, loose_mm=self.ease_mm, open_mm=open_, gives=gives,
                stands_off=off,
                taken_mm=frozen(wrap.darted_mm[::-1]) if part.flat.doubled else None,
                let_in=tuple(f"gusset-{k}" for k, _ in enumerate(part.slits.sides, 1)) if part.filled else (),
            )  # fmt: skip
        if wrap.over is None:
            return
        # from the free edge up; round the leather that it lies on, it stands open by a turn of that more
        turn = 2 * np.pi * leather_mm
        open_mm = frozen(wrap.open_at(wrap.over.at_mm) + turn)
        for part in wrap.parts:
            yield Lies(
                "wrap", part.id, "round", frozen(wrap.over.at_mm), part.over_left, part.over_right, part=OVER,
                open_mm=open_mm, gives=gives_over, loose_mm=self.ease_mm + turn,
            )  # fmt: skip

    def _under(self, closed: Gapped, wrap: Wrap, leather_mm: float) -> tuple[Piece, Seat, Join] | None:
        """A tongue under the gap, its ends slanted as that tapers, sewn inside the left edge along its own."""
        tongue = closed.tongue
        if tongue is None or wrap.first.flat.across is not None:  # its seam would go across a dart
            return None
        long = float(arc_length(wrap.left)[-1])
        high, low = (gap / 2 + tongue.lap_mm for gap in (closed.gap_high_mm, closed.gap_low_mm))
        ring = frozen([[-high, 0.0], [high, 0.0], [low, long], [-low, long]])
        outline, edges = edged(Edge("around", said("around"), ring, "free"))
        piece = Piece("tongue", said("tongue"), outline, edges, leather(leather_mm), turns="along")
        inset = min(TONGUE_MARGIN_MM, 0.3 * tongue.lap_mm)
        first = wrap.first
        seat = Seat("tongue-seat", first.id, inward(wrap.left, tongue.lap_mm - inset, LEFT_SIDE))
        own = frozen([[inset - high, 0.0], [inset - low, long]])
        join = Join(
            "tongue", said("tongue"), "line",
            (Layer(first.id, seat.id, first.title), Layer("tongue", "", said("tongue"), along=own)),
            Sewing(seat.line, inset, stack_at="leather.thickness_mm", begins=said("the top")),
        )  # fmt: skip
        return piece, seat, join

    def suits(self, body: Any, leather_mm: float, tannage: str) -> tuple[Finding, ...]:
        """Whether the leather takes what it must stretch and shrink."""
        return checks.suits(self, body, self.wrap(body, leather_mm), leather_mm, tannage)


def _back(edges: list[Edge]) -> Iterator[Edge]:
    """Edges the other way."""
    return (replace(e, line=frozen(e.line[::-1])) for e in reversed(edges))


def _over(piece: Piece) -> float:
    """How far over a piece words stand clear of its name, however large it is drawn."""
    return max(22.0, WORDS_OVER * float(np.ptp(piece.outline[:, 1])))
