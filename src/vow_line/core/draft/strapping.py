"""A strap cut in one length: either end turned round a bar and laid back on itself, or cut to a shape.

Frame: the strap lies along u, from where it leaves the bar of its first end (or from its first cut) at 0 to where it leaves
that of the other, as far as it is long when it is made; v across, from the middle. What is turned and laid back lies beyond.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
import shapely
from pydantic import Field

from ..curve import Line, frozen
from ..frozen import Frozen
from ..memory import remembered
from ..texts import Said, said
from .joins import RING, Fastener, Join, Layer, Seat, Sewing, Turn
from .pieces import Edge, Piece, Punch, Skive, Stock, edged
from .wrap import NEUTRAL_DRY, flat_length

Cut = Literal["square", "round", "pointed", "english"]
Held = Literal["sewn", "boxed", "riveted", "tacked"]
ENDS: dict[Cut, Said] = {
    "square": said("square"), "round": said("round"), "pointed": said("pointed"), "english": said("to an English point"),
}  # fmt: skip
ENGLISH_POINT = 0.75  # how long an English point is, in widths of its strap (common practice)
SLOT_MM = 5.0  # how wide a slot for a buckle's tongue is cut: the tongue, and a little (from memory)
OVER_SLOT_MM = 4.0  # a slot for a tongue goes on so far beyond either end of the turn (from memory)
TACK_MM = 1.5  # a hole is pierced so wide for a tack (from memory)
SEAM_IN_MM = 3.0  # a tab is sewn so far in from its edges (from memory)
PRONG_MM = 3.0  # rivets in a lap lie so many of their own thickness from its edges (from memory)
FLIPPED = frozen([[-1.0, 0.0], [0.0, 1.0]])
POINTS = 25
NEAR_END, FAR_END = said("near end"), said("far end")


class Lap(Frozen):
    """How an end is turned round its bar and held: laid back by `long_mm`, the seam or the rivets beginning `from_bar_mm` from
    it, its last `skive_mm` thinned to half.
    """

    long_mm: Annotated[float, Field(gt=0, le=400)] = 50.0
    held: Held = "sewn"
    from_bar_mm: Annotated[float, Field(ge=0, le=100)] = 4.0
    skive_mm: Annotated[float, Field(ge=0, le=100)] = 16.0
    rivet_mm: Annotated[float, Field(gt=0, le=30)] = 4.0


@dataclass(frozen=True, slots=True)
class TurnedEnd:
    """An end turned round a bar `bar_mm` thick, of what it `holds`, with a slot for a buckle's tongue or none."""

    bar_mm: float
    lap: Lap
    tongue: bool = False
    holds: Said = RING
    title: Said = NEAR_END
    has_front: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class Strapping:
    """A strap with how its ends are held; its folds in pairs, those of the first end before those of the other."""

    piece: Piece
    joins: tuple[Join, ...] = ()
    seats: tuple[Seat, ...] = ()
    fasteners: tuple[Fastener, ...] = ()
    turns: tuple[Turn, ...] = ()


def sewn_on(
    id: str, piece: Piece, on: tuple[str, Said], half_mm: float, box_mm: float, frames: Sequence[tuple[Line, Line]],
    begins: Said, far_mm: float | None = None, carries: bool = False,
) -> tuple[list[Seat], Join]:  # fmt: skip
    """Where a strip of some half width lies at each place on another piece, its `on`, and how it is sewn on there over
    `box_mm`: round all four sides, or, with its far end turned back so that it ends `far_mm` along, under it, round the three
    that this leaves. A frame is the strip's ways along and across as columns, and where its end is.
    """
    inset = min(SEAM_IN_MM, 0.6 * half_mm, 0.3 * box_mm)
    box = np.array([[0.0, half_mm], [box_mm, half_mm], [box_mm, -half_mm], [0.0, -half_mm]])
    far, wide = box_mm - (inset if far_mm is None else 0.0), half_mm - inset
    seam = np.array([[far, wide], [inset, wide], [inset, -wide], [far, -wide]])
    seats = [Seat(f"{id}-{k}", on[0], frozen(box @ turn.T + at)) for k, (turn, at) in enumerate(frames, 1)]
    turn, at = frames[0]
    shift = -(at @ turn)
    layers = [Layer(on[0], f"{id}-1", on[1])]
    if far_mm is not None:
        under = shift @ FLIPPED + [far_mm, 0.0]
        layers.append(Layer(piece.id, "last-lap", said("tab, under"), turn=frozen(turn @ FLIPPED), shift=_pair(under)))
    layers.append(Layer(piece.id, "", piece.title, turn=frozen(turn), shift=_pair(shift)))
    again = tuple((frozen(turn @ other.T), _pair(shift @ other.T + to)) for other, to in frames[1:])
    sewing = Sewing(frozen(seam @ turn.T + at), inset, stack_at="leather.thickness_mm", closed=far_mm is None, begins=begins,
                    carries=carries)  # fmt: skip
    return seats, Join(id, piece.title, "line", tuple(layers), sewing, again=again)


def _pair(at: Line) -> tuple[float, float]:
    return float(at[0]), float(at[1])


def half_turn(bar_mm: float, leather_mm: float, neutral: float) -> float:
    """The leather in half a turn round a bar: π (b / 2 + k t)."""
    return float(flat_length(np.pi * bar_mm / 2, np.pi, neutral, leather_mm))


def cut_length(long_mm: float, ends: Sequence[TurnedEnd | Cut], leather_mm: float, neutral: float) -> float:
    """How long a strap is cut: as long as it is made, and for each turned end half a turn and its lap."""
    turned = [e for e in ends if isinstance(e, TurnedEnd)]
    return long_mm + sum(e.lap.long_mm + half_turn(e.bar_mm, leather_mm, neutral) for e in turned)


@remembered("part")
def strapping(
    id: str, title: Said, wide_mm: float, long_mm: float, first: TurnedEnd | Cut, last: TurnedEnd | Cut, stock: Stock,
    margin_mm: float, punches: tuple[Punch, ...] = (), carries: bool = False,
) -> Strapping:  # fmt: skip
    """The strap, so wide and so long as it is made, with the given ends."""
    half = wide_mm / 2
    up, top = _end("first", first, half, stock)
    down, bottom = _end("last", last, half, stock)
    # round the strap: down its right side, round the last end, up its left side, round the first end
    edges: list[Edge] = [Edge("right", said("long edges"), _along([[half, -top], [half, long_mm + bottom]]), "free")]
    edges += [_laid(e, long_mm, over=False) for e in down]
    edges.append(
        Edge("left", said("long edges"), _along([[-half, long_mm + bottom], [-half, -top]]), "free", beside="right")
    )
    edges += [_laid(e, 0.0, over=True) for e in up]
    outline, tiles = edged(*edges)
    parts = [_held(id, "first", first, 0.0, -1.0, half, stock, margin_mm, carries),
             _held(id, "last", last, long_mm, 1.0, half, stock, margin_mm, carries)]  # fmt: skip
    folds = tuple(fold for part in parts for fold in part.folds)
    ends = [(name, end) for name, end in (("first", first), ("last", last)) if isinstance(end, TurnedEnd)]
    turns = tuple(
        Turn(id, (2 * k, 2 * k + 1), f"{name}-end", end.holds, has_front=end.has_front)
        for k, (name, end) in enumerate(ends)
    )
    piece = Piece(
        id, title, outline, tiles, stock, folds=folds, skives=tuple(s for p in parts for s in p.skives),
        punches=(*punches, *(k for p in parts for k in p.punches)), turns="across",
    )  # fmt: skip
    slots = tuple(slot for p in parts for slot in p.slots)
    return Strapping(
        piece.with_slots(slots) if slots else piece, tuple(j for p in parts for j in p.joins),
        tuple(s for p in parts for s in p.seats), tuple(f for p in parts for f in p.fasteners), turns,
    )  # fmt: skip


def _end(id: str, end: TurnedEnd | Cut, half: float, stock: Stock) -> tuple[list[Edge], float]:
    """The edges round an end that begins at v = 0, from its right side to its left; and how far before 0 (below it) the long
    edges already stop, as they do where it is cut to a shape.
    """
    if isinstance(end, TurnedEnd):
        turn = half_turn(end.bar_mm, stock.thickness_mm, stock.neutral)
        far = turn + end.lap.long_mm
        return [
            Edge(f"{id}-turn-right", said("turn"), frozen([[half, 0.0], [half, turn]]), "turn"),
            Edge(f"{id}-lap", said("lap"), frozen([[half, turn], [half, far], [-half, far], [-half, turn]])),
            Edge(f"{id}-turn-left", said("turn"), frozen([[-half, turn], [-half, 0.0]]), "turn"),
        ], 0.0
    line, back = cut_end(end, half)
    return [Edge(f"{id}-cut", said("end"), line, "free", beside="right")], -back


def cut_end(end: Cut, half: float) -> tuple[Line, float]:
    """An end from its right side to its left, its farthest point at v = 0; and how far back from there its sides begin."""
    match end:
        case "round":
            turn = np.linspace(0, np.pi, 2 * POINTS - 1)
            return frozen(np.column_stack([half * np.cos(turn), half * np.sin(turn) - half])), half
        case "pointed":
            return frozen([[half, -half], [0.0, 0.0], [-half, -half]]), half
        case "english":
            # two arcs that begin along the sides and meet at the point, as a pointed arch does
            long = ENGLISH_POINT * 2 * half
            radius = (half * half + long * long) / (2 * half)
            turn = np.linspace(0, np.arcsin(min(long / radius, 1.0)), POINTS)
            arc = np.column_stack([half - radius * (1 - np.cos(turn)), radius * np.sin(turn) - long])
            arc[-1] = [0.0, 0.0]
            return frozen(np.concatenate([arc, arc[-2::-1] * [-1.0, 1.0]])), long
        case _:
            return frozen([[half, 0.0], [-half, 0.0]]), 0.0


def _laid(edge: Edge, at_mm: float, *, over: bool) -> Edge:
    """An edge of an end where that begins, turned half round for the first end."""
    line = -edge.line if over else edge.line
    return Edge(edge.id, edge.title, _along(line + [0.0, at_mm]), edge.open, beside=edge.beside)


def _along(line: Any) -> Line:
    """A line given across and along, (v, u), in the frame of the strap, turned and not flipped."""
    return frozen(np.asarray(line)[:, ::-1] * [1.0, -1.0])


@dataclass(frozen=True, slots=True, eq=False)
class _Part:
    """What a turned end adds to its strap."""

    folds: tuple[Line, ...] = ()
    skives: tuple[Skive, ...] = ()
    punches: tuple[Punch, ...] = ()
    slots: tuple[Line, ...] = ()
    joins: tuple[Join, ...] = ()
    seats: tuple[Seat, ...] = ()
    fasteners: tuple[Fastener, ...] = ()


def _held(
    id: str, name: str, end: TurnedEnd | Cut, at: float, out: float, half: float, stock: Stock, margin_mm: float,
    carries: bool,
) -> _Part:  # fmt: skip
    """Folds, slot and seam or rivets of an end that leaves its bar at u = `at`, the bar lying towards `out` of it."""
    if not isinstance(end, TurnedEnd):
        return _Part()
    lap, turn = end.lap, half_turn(end.bar_mm, stock.thickness_mm, stock.neutral)
    bend, far = at + out * turn, at + out * (turn + lap.long_mm)
    folds = tuple(_along([[-half, v], [half, v]]) for v in (at, bend))
    skives: tuple[Skive, ...] = ()
    if lap.skive_mm > 0:
        begins = far - out * min(lap.skive_mm, lap.long_mm)
        ring = _along([[-half, begins], [half, begins], [half, far], [-half, far]])
        t = stock.thickness_mm
        skives = (
            Skive(f"{name}-lap", said("to half at the end of its lap"), ring, t, t / 2, (begins, 0.0), (far, 0.0)),
        )
    slots: tuple[Line, ...] = ()
    if end.tongue:
        line = shapely.LineString([(at - out * OVER_SLOT_MM, 0.0), (bend + out * OVER_SLOT_MM, 0.0)])
        slots = (frozen(shapely.get_coordinates(line.buffer(SLOT_MM / 2, 8).exterior)[:-1]),)
    inset = min(margin_mm, 0.4 * 2 * half, 0.4 * lap.long_mm)
    start, stop = at - out * lap.from_bar_mm, at - out * max(lap.long_mm - inset, lap.from_bar_mm + 1.0)
    seat = Seat(
        f"{name}-seat",
        id,
        _along([[half, at], [half, at - out * lap.long_mm], [-half, at - out * lap.long_mm], [-half, at]]),
    )
    layers = (
        Layer(id, seat.id, said("strap")),
        Layer(id, f"{name}-lap", said("lap"), turn=FLIPPED, shift=(at + bend, 0.0)),
    )
    if lap.held in ("riveted", "tacked"):
        sort: Literal["rivet", "tack"] = "rivet" if lap.held == "riveted" else "tack"
        wide = lap.rivet_mm if sort == "rivet" else TACK_MM
        at_v = (start - out * PRONG_MM * wide / 2, stop + out * PRONG_MM * wide / 2)
        hole = said("rivet hole") if sort == "rivet" else said("hole for a tack")
        punches = tuple(
            Punch(f"{name}-{where}-{k}", hole, (v if where == "strap" else at + bend - v, 0.0), wide)
            for k, v in enumerate(at_v, 1) for where in ("strap", "lap")
        )  # fmt: skip
        rivets = tuple(
            Fastener(
                f"{name}-{sort}-{k}", said("rivet {k}", k=k) if sort == "rivet" else said("tack {k}", k=k), sort,
                ((id, f"{name}-strap-{k}"), (id, f"{name}-lap-{k}")),
            )
            for k in (1, 2)
        )  # fmt: skip
        return _Part(
            folds, skives, punches, slots, (Join(f"{name}-end", end.title, "riveted", layers),), (seat,), rivets
        )
    around = [[half - inset, start], [half - inset, stop], [-half + inset, stop], [-half + inset, start]]
    sewing = Sewing(
        _along(around),
        inset,
        margin_at="piece.margin_mm",
        stack_at="leather.thickness_mm",
        begins=said("the bar"),
        carries=carries,
    )
    shape: Literal["box", "line"] = "box" if lap.held == "boxed" else "line"
    return _Part(folds, skives, (), slots, (Join(f"{name}-end", end.title, shape, layers, sewing),), (seat,), ())


def round_plies(wide_mm: float, high_mm: float, leather_mm: float, neutral: float = NEUTRAL_DRY) -> float:
    """How long leather is that goes round plies so wide and so high: 2 (w + h), and 2π k t for its four corners."""
    return float(flat_length(2 * (wide_mm + high_mm), 2 * np.pi, neutral, leather_mm))


def sleeve(
    id: str, title: Said, around_mm: float, wide_mm: float, stock: Stock, margin_mm: float, *, upright: bool = False
) -> tuple[Piece, Join]:
    """A strip that goes all round, its two ends sewn edge to edge; they lie left and right, or above and below where it stands
    `upright`.
    """

    def lay(line: list[list[float]]) -> Line:
        return _along(line) if upright else frozen(line)

    outline, edges = edged(
        Edge("top", said("long edges"), lay([[0.0, 0.0], [around_mm, 0.0]]), "free"),
        Edge("right", said("ends"), lay([[around_mm, 0.0], [around_mm, wide_mm]])),
        Edge("low", said("long edges"), lay([[around_mm, wide_mm], [0.0, wide_mm]]), "free", beside="top"),
        Edge("left", said("ends"), lay([[0.0, wide_mm], [0.0, 0.0]])),
    )
    inset = min(margin_mm, 0.2 * around_mm)
    join = Join(
        id, title, "butt", (Layer(id, "left", title), Layer(id, "right", title)),
        Sewing(lay([[inset, wide_mm], [inset, 0.0]]), inset, margin_at="piece.margin_mm", stack_at="leather.thickness_mm",
               begins=said("its edge")),
    )  # fmt: skip
    return Piece(id, title, outline, edges, stock, turns="across"), join
