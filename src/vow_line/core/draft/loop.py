"""How a piece hangs on a belt: a strip folded into a loop, slots the belt runs through, or a loop that hangs from a ring."""

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field

from ..curve import frozen
from ..finding import Finding, Mend
from ..frozen import Frozen
from ..memory import remembered
from ..reckoning import length
from ..texts import NOTHING, Said, said
from .joins import Belt, Join, Layer, Ring, Seat, Sewing
from .pieces import TITLES, Edge, Piece, edged, leather

Size = Annotated[float, Field(gt=0, le=200)]
RING_MM = 4.0  # how thick the ring is that a loop hangs from (from memory)
LEAST_LOOP_MM = 12.0  # a loop, or leather between two slots, is no narrower (from memory)
SLOT_LEAVES_MM = 10.0  # leather between a slot and a cut or a fold carries a belt (from memory)
SLOT_TEARS_MM = 5.0  # and with less it tears (from memory)
SLOT_OFF_SEAM_MM = 4.0  # leather between a slot and a seam, so that the holes do not tear into it (from memory)
SLOT_MM = 5.0  # how wide a slot is cut: a belt's thickness and a little (common practice)
EASE_MM = 2.0  # room for a belt in its loop
FLIPPED = frozen([[1.0, 0.0], [0.0, -1.0]])


class BeltLoop(Frozen):
    """A strip folded into a loop above the mouth, both ends sewn to the back by a box with a cross; or the same hanging by
    `hang_mm` from a ring; or two slots `width_mm` apart.
    """

    style: Literal["folded", "slots", "hanging"] = "folded"
    width_mm: Size = 28.0
    belt_mm: Size = 40.0
    belt_thick_mm: Size = 4.0
    box_mm: Size = 26.0
    down_mm: Annotated[float, Field(ge=0, le=200)] = 12.0
    hang_mm: Annotated[float, Field(ge=0, le=200)] = 15.0

    def cut_length_mm(self, leather_mm: float, neutral: float) -> float:
        """Two boxes, two belts with 2 mm of ease, and half a turn round the belt's thickness, π(b/2 + kt); one that hangs takes
        another half turn, round its ring.
        """
        ring = np.pi * (RING_MM / 2 + neutral * leather_mm) if self.style == "hanging" else 0.0
        turn = np.pi * (self.belt_thick_mm / 2 + neutral * leather_mm)
        return float(2 * (self.box_mm + self.belt_mm + EASE_MM) + turn + ring)


def carried(worn: Literal["right", "left"], loop: BeltLoop | None) -> Said:
    """How a piece with a loop or none is worn, and which hand draws from it: the one on its side (common practice)."""
    if loop is None:
        return NOTHING
    return (
        said("worn on the right: the right hand draws")
        if worn == "right"
        else said("worn on the left: the left hand draws")
    )


def loop_choices(
    loop: BeltLoop | None, usual: BeltLoop | None = None
) -> tuple[tuple[Said, ...], tuple[BeltLoop | None, ...]]:
    """The ways of hanging in words, and what they mean for the loop there is."""
    now = loop or usual or BeltLoop()
    styles: tuple[Literal["folded", "slots", "hanging"], ...] = ("folded", "slots", "hanging")
    return (said("a loop"), said("slots"), said("hanging loop"), said("nothing")), (
        *(now.model_copy(update={"style": s}) for s in styles),
        None,
    )


@dataclass(frozen=True, slots=True, eq=False)
class Hung:
    """A piece with what it hangs by: the piece itself, with slots where it has them, the strips, their joins and seats, where
    the belt runs and what hangs by a ring.
    """

    back: Piece
    strips: tuple[Piece, ...] = ()
    joins: tuple[Join, ...] = ()
    seats: tuple[Seat, ...] = ()
    belts: tuple[Belt, ...] = ()
    rings: tuple[Ring, ...] = ()


def hung(
    back: Piece, loop: BeltLoop | None, centre_u: float, mouth_v: float, margin_mm: float, leather_mm: float, neutral: float
) -> Hung:  # fmt: skip
    """The piece `back` with what it hangs by about the line u = `centre_u`, below a mouth at v = `mouth_v`."""
    if loop is None:
        return Hung(back)
    if loop.style == "slots":
        slots = tuple(_slot(centre_u + s * loop.width_mm / 2, mouth_v + loop.down_mm, loop) for s in (-1, 1))
        middle = mouth_v + loop.down_mm + (loop.belt_mm + EASE_MM) / 2
        runs = frozen([[centre_u + s * loop.width_mm / 2, middle] for s in (-1, 1)])
        return Hung(back.with_slots(slots), belts=(Belt(back.id, runs, loop.belt_mm),))
    turn = np.pi * (loop.belt_thick_mm / 2 + neutral * leather_mm)
    long = loop.cut_length_mm(leather_mm, neutral)
    if loop.style == "folded":
        folded, join, seat = _sewn_on(
            "belt-loop", said("belt loop"), loop, long, back.id, centre_u, mouth_v, margin_mm, leather_mm
        )
        return Hung(back, (folded,), (join,), (seat,), (_belt(loop, long, turn),))
    hanger_long = 2 * (loop.box_mm + loop.hang_mm) + np.pi * (RING_MM / 2 + neutral * leather_mm)
    hanger, join, seat = _sewn_on(
        "hanger", said("hanger"), loop, float(hanger_long), back.id, centre_u, mouth_v, margin_mm, leather_mm
    )
    folded, own = _hanging(loop, long, margin_mm, leather_mm)
    wide = loop.width_mm
    ring = Ring(
        ("belt-loop", frozen([[0.0, loop.box_mm], [wide, loop.box_mm]])),
        ("hanger", frozen([[0.0, hanger_long / 2], [wide, hanger_long / 2]])),
    )
    return Hung(back, (hanger, folded), (join, own), (seat,), (_belt(loop, long, turn),), (ring,))


def _belt(loop: BeltLoop, long: float, turn: float) -> Belt:
    """Where the belt runs, on the half of the strip that lies outermost: just within the strip's turn round it."""
    middle = long / 2 + turn / 2 + loop.belt_mm / 2
    return Belt("belt-loop", frozen([[0.0, middle], [loop.width_mm, middle]]), loop.belt_mm)


def loop_findings(back: Piece, loop: BeltLoop | None, flat_mm: float, seam_in_mm: float) -> tuple[Finding, ...]:
    """What is wrong with what `back` hangs by, where `flat_mm` of it lie flat beside each other and a seam runs `seam_in_mm`
    in from its cut.
    """
    if loop is None:
        return ()
    if loop.style != "slots":
        if loop.width_mm <= flat_mm:
            return ()
        narrower = float(np.floor(flat_mm))
        return (Finding(
            "look", "loop-wide", "draft",
            said("The belt loop is {w} wide, but only {flat} of the {piece} lie flat there.", w=length(loop.width_mm),
                 flat=length(flat_mm), piece=back.title), "piece.loop.width_mm",
            Mend(said("narrower"), (("piece.loop.width_mm", narrower),)) if narrower >= LEAST_LOOP_MM else None,
        ),)  # fmt: skip
    around = shapely.union_all([shapely.LinearRing(back.outline), *(shapely.LineString(fold) for fold in back.folds)])
    whole = shapely.Polygon(back.outline)
    slots = [shapely.Polygon(slot) for slot in back.slots]
    least = min(float(around.distance(slot)) if whole.contains(slot) else 0.0 for slot in slots)
    carries = max(SLOT_LEAVES_MM, seam_in_mm + SLOT_OFF_SEAM_MM)
    if least >= carries:
        return ()
    narrower = float(np.floor(loop.width_mm - 2 * (carries - least)))
    fits = least > 0 and narrower >= LEAST_LOOP_MM
    cure = Mend(said("nearer each other"), (("piece.loop.width_mm", narrower),)) if fits else Mend(
        said("a loop"), (("piece.loop", loop.model_copy(update={"style": "folded"})),))  # fmt: skip
    return (Finding(
        "hold" if least < max(SLOT_TEARS_MM, seam_in_mm + SLOT_OFF_SEAM_MM / 2) else "look", "slot-near-edge", "draft",
        said("Slots {w} apart leave {d} of the {piece} beside them; {least} carries a belt.", w=length(loop.width_mm),
             d=length(least), least=length(carries), piece=back.title), "piece.loop.width_mm", cure,
    ),)  # fmt: skip


def _slot(u: float, v: float, loop: BeltLoop) -> np.ndarray:
    line = shapely.LineString([(u, v + SLOT_MM / 2), (u, v + loop.belt_mm + EASE_MM - SLOT_MM / 2)])
    return frozen(shapely.get_coordinates(line.buffer(SLOT_MM / 2, 8).exterior)[:-1])


@remembered("part")
def strip(id: str, title: Said, wide: float, long: float, leather_mm: float) -> Piece:
    """A strip that is folded across its middle."""
    outline, edges = edged(
        Edge("end-1", said("ends"), frozen([[0, 0], [wide, 0]])),
        Edge("right", said("long edges"), frozen([[wide, 0], [wide, long]]), "free"),
        Edge("end-2", said("ends"), frozen([[wide, long], [0, long]]), beside="end-1"),
        Edge("left", said("long edges"), frozen([[0, long], [0, 0]]), "free", beside="right"),
    )
    return Piece(
        id, title, outline, edges, leather(leather_mm), folds=(frozen([[0, long / 2], [wide, long / 2]]),), turns="along"
    )  # fmt: skip


def _box(loop: BeltLoop, margin_mm: float) -> tuple[np.ndarray, float]:
    """The corners of the box about (0, 0), and how far in from the strip's edges they lie."""
    inset = min(margin_mm, 0.4 * loop.width_mm, 0.4 * loop.box_mm)
    du, dv = loop.width_mm / 2 - inset, loop.box_mm / 2 - inset
    return np.array([[-du, dv], [du, dv], [du, -dv], [-du, -dv]]), inset


@remembered("part")
def _sewn_on(
    id: str, title: Said, loop: BeltLoop, long: float, back: str, centre_u: float, mouth_v: float, margin_mm: float,
    leather_mm: float,
) -> tuple[Piece, Join, Seat]:  # fmt: skip
    """A folded strip whose two ends are sewn to the piece `back` by a box with a cross."""
    corners, inset = _box(loop, margin_mm)
    centre_v = mouth_v + loop.down_mm + loop.box_mm / 2
    tail, left = centre_v + loop.box_mm / 2, centre_u - loop.width_mm / 2
    half = np.array([loop.width_mm / 2, loop.box_mm / 2])
    seat = Seat(id, back, frozen(np.array([[-1, 1], [1, 1], [1, -1], [-1, -1]]) * half + [centre_u, centre_v]))
    name = said("loop") if id == "belt-loop" else title
    join = Join(
        id, title, "box",
        (Layer(back, id, TITLES.get(back, said("back"))), Layer(id, "end-1", said("{strip}, under", strip=name),
                                                                turn=FLIPPED, shift=(-left, tail)),
         Layer(id, "end-2", said("{strip}, over", strip=name), turn=frozen(np.eye(2)), shift=(-left, long - tail))),
        Sewing(frozen(corners + [centre_u, centre_v]), inset, carries=True, margin_at="piece.margin_mm"),
    )  # fmt: skip
    return strip(id, title, loop.width_mm, long, leather_mm), join, seat


@remembered("part")
def _hanging(loop: BeltLoop, long: float, margin_mm: float, leather_mm: float) -> tuple[Piece, Join]:
    """A strip folded through the ring and round the belt, its two ends sewn to each other."""
    corners, inset = _box(loop, margin_mm)
    join = Join(
        "belt-loop", said("belt loop"), "box",
        (Layer("belt-loop", "end-1", said("loop, under")),
         Layer("belt-loop", "end-2", said("loop, over"), turn=FLIPPED, shift=(0.0, long))),
        Sewing(frozen(corners + [loop.width_mm / 2, loop.box_mm / 2]), inset, carries=True, margin_at="piece.margin_mm"),
    )  # fmt: skip
    return strip("belt-loop", said("belt loop"), loop.width_mm, long, leather_mm), join
