"""What is shown of a folded sheath: marks, words, values, sums, the section."""

from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from ....curve import Line, frozen
from ....drawing import Callout, Label, Mark
from ....measure import LongBody
from ....quantity import Q
from ....reckoning import Reckoning, fine, length, percent, reckon
from ....texts import said, summed
from ...drafted import Section
from ...draw_out import GRADES, squeeze_grade
from ...loop import loop_choices
from ...pieces import Piece
from ...section import cut_across
from ...strap import LAP_MM
from ...toe_guard import GUARD_MM
from .checks import TRUE_MM
from .pocket import Pocket

if TYPE_CHECKING:
    from .draft import FoldedSheath


def _tightest(pocket: Pocket) -> tuple[float, float]:
    where = int(np.argmin(pocket.draw.gap_mm))
    return float(pocket.gives[where]), float(pocket.x[where])


def marks(pocket: Pocket, welt: Piece, tight: bool) -> tuple[Mark, ...]:
    """The welt, and the place where the blade is held."""
    marks = (Mark("welt", welt.outline, closed=True, id="welt"),)
    at = frozen([_tightest(pocket)])
    return (*marks, Mark("alarm", at, id="draw-out", size_mm=10.0)) if tight else marks


def labels(pocket: Pocket, tight: bool) -> tuple[Label, ...]:
    """The words on the drawing."""
    low = float(pocket.outer[:, 1].max()) - 34
    labels = (Label(said("back"), (-float(pocket.outer[:, 0].max()) * 0.45, low), "cut"),)
    if not tight:
        return labels
    (u, v), least = _tightest(pocket), pocket.draw.least_mm
    says = (said("{gap} too tight here") if least < -TRUE_MM else said("{gap} here")).filled(gap=length(abs(least)))
    return (*labels, Label(says, (u - 7, v + 1.5), "alarm", True, "right"))


SENTENCES = (
    said(
        "A {opened} pocket with {welts}, the mouth {mouth}; worn on the {worn} from {loop}, the leather formed {formed}."
    ),
)


def callouts(sheath: "FoldedSheath", pocket: Pocket, leather_mm: float) -> tuple[Callout, ...]:
    """The values on the board."""
    low, high = float(pocket.x[0]), float(pocket.x[-1])
    third = low + (high - low) / 3

    def on(line: Line, v: float) -> tuple[float, float]:
        return float(np.interp(v, np.maximum.accumulate(line[:, 1]), line[:, 0])), v

    level = third + 40
    edge, thread, cut = (
        float(np.interp(level, pocket.x, pocket.edge_u)),
        on(pocket.thread, level),
        on(pocket.outer, level),
    )
    inner, half, back = on(pocket.inner, third), float(pocket.outer[0, 0]), -1.0 if sheath.worn == "right" else 1.0
    lower = low + 0.6 * (high - low)
    beside = -float(np.interp(lower, pocket.outer[:, 1], pocket.outer[:, 0]))
    callouts = [
        Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (beside, lower), "left", "sheath"),
        Callout("piece.seat_mm", said("handle goes in"), "length", sheath.seat_mm, (-half, low), "left", to=(-half, 0.0)),
        Callout("piece.edge_to_thread_mm", said("blade edge to thread"), "length", sheath.edge_to_thread_mm, (edge, level),
                "right", "main-seam", to=thread, chain="seam"),
        Callout("piece.margin_mm", said("thread to the cut"), "length", sheath.margin_mm, thread, "right", to=cut,
                chain="seam"),
        Callout("piece.clearance_mm", said("clear of the edge"), "length", sheath.clearance_mm, inner, "right"),
        Callout("piece.welt_mm", said("welt, thick"), "leather", sheath.welt_mm, on(pocket.outer, third - 15),
                "right", "welt"),
        Callout("piece.mouth_ease_mm", said("ease at the mouth"), "length", sheath.mouth_ease_mm,
                on(pocket.inner, low + 3), "right"),
        Callout("piece.skive_mm", said("welt skived over"), "length", sheath.skive_mm, (half, low), "right", "skive",
                to=(half, low + sheath.skive_mm)),
    ]  # fmt: skip
    if sheath.mouth != "straight":
        callouts.append(Callout("piece.mouth_depth_mm", said("mouth cut down"), "length", sheath.mouth_depth_mm, (-half, low),
                                "left", to=(-half, low + sheath.mouth_depth_mm)))  # fmt: skip
    if sheath.loop:
        v, wide = low + sheath.loop.down_mm + sheath.loop.box_mm, sheath.loop.width_mm / 2
        u = back * (pocket.bend + float(np.interp(v - sheath.loop.box_mm / 2, pocket.x, pocket.gives))) / 2
        callouts += [
            Callout("piece.loop.width_mm", said("loop, wide"), "length", sheath.loop.width_mm, (u - wide, v), "left",
                    to=(u + wide, v)),
            Callout("piece.loop.belt_mm", said("belt, wide"), "length", sheath.loop.belt_mm, (u - wide, v - 6), "left"),
        ]  # fmt: skip
    toe, mouth = max(high - sheath.toe_guard_mm, low), (0.0, low)
    wide = -float(np.interp(toe, pocket.outer[:, 1], pocket.outer[:, 0]))
    callouts += [
        Callout("piece.strap_mm", said("strap, wide"), "length", sheath.strap_mm, (0.0, 30.0), "left", "strap",
                on="strap", to=(sheath.strap_mm, 30.0), part=said("a strap"), usual=20.0),
        Callout("piece.toe_guard_mm", said("toe guard, high"), "length", sheath.toe_guard_mm, (wide, toe), "left",
                "toe-guard", to=(wide, high), part=said("a toe guard"), usual=30.0),
        Callout("piece.drain_mm", said("drain hole"), "length", sheath.drain_mm, (back * 4.0, high - 8.0), "left",
                part=said("a drain hole"), usual=4.0),
        Callout("piece.opened", said("pocket to the mouth"), "count", sheath.opened, mouth, "left", "welt",
                (said("straight"), said("fitted")), (True, False)),
        Callout("piece.welts", said("welts"), "count", sheath.welts, mouth, "left", "welt",
                (said("one welt"), said("two welts")), (1, 2)),
        Callout("piece.mouth", said("mouth"), "count", sheath.mouth, mouth, "left",
                choices=(said("straight"), said("sloped"), said("scooped"))),
        Callout("piece.worn", said("worn on the"), "count", sheath.worn, mouth, "left", choices=(said("right"), said("left"))),
        Callout("piece.loop", said("for the belt"), "count", sheath.loop, mouth, "left", "belt-loop",
                *loop_choices(sheath.loop)),
        Callout("piece.formed", said("leather formed"), "count", sheath.formed, mouth, "left", "fold",
                (said("dry"), said("wet")), (False, True)),
    ]  # fmt: skip
    return tuple(callouts)


def reckonings(
    sheath: "FoldedSheath", body: LongBody, pocket: Pocket, leather_mm: float, pieces: tuple[Piece, ...]
) -> tuple[Reckoning, ...]:
    """The sums."""
    blade = np.flatnonzero(pocket.x >= 0)
    i = int(blade[np.argmax(pocket.width[blade])])
    half, thick = float(pocket.clear.flat_mm[i]), float(np.interp(pocket.x[i], body.x_mm, body.thick_mm))
    turn = float(pocket.clear.turning_rad[i]) * sheath.neutral * leather_mm
    inside = sheath.edge_to_thread_mm - sheath.clearance_mm
    draw, ease = pocket.draw, pocket.mouth_gap
    toe = float(pocket.outer[-1, 1] - pocket.x[-1])
    strain = sheath.fold_strain(body, leather_mm)
    by_piece = [(p.title, Q("area", p.area_mm2 * p.count)) for p in pieces]
    lined = float(pocket.lined.max())
    guard = () if not lined else (
        reckon("toe-guard", said("A half wider at the toe guard"), length(lined),
               said("a quarter turn round it in the fold: π/2 × {t}", t=length(GUARD_MM)), ("toe-guard",)),
    )  # fmt: skip
    return (
        reckon("half-width", said("Half width at its widest"), length(half),
               said("{spine:n} half spine + {face:n} face + {turn} for the fold, {at} from the guard",
                    spine=length(thick / 2), face=length(half - thick / 2 - turn), turn=length(turn),
                    at=length(pocket.x[i])), ("sheath",),
               (said("fold: turning {angle} by {k} of the {t} leather, where it neither stretches nor gives",
                     angle=Q("degrees", float(pocket.clear.turning_rad[i])), k=percent(sheath.neutral),
                     t=Q("leather", leather_mm)),)),
        reckon("welt-width", said("Welt, wide"), length(inside + sheath.margin_mm),
               said("{d:n} edge to thread − {c:n} clear + {e} margin", d=length(sheath.edge_to_thread_mm),
                    c=length(sheath.clearance_mm), e=length(sheath.margin_mm)), ("welt",)),
        reckon("draw-out", said("Tightest on the way out"), length(draw.least_mm),
               said("{at} from the guard, drawn out {drawn}", at=length(draw.at_mm), drawn=length(draw.drawn_mm)),
               ("draw-out",)),
        Reckoning("squeeze", said("Squeeze at the mouth"),
                  said("{grade}, {share}", grade=GRADES[squeeze_grade(ease, pocket.passing)],
                       share=percent(ease / pocket.passing)),
                  said("{gives} inside over {needs} of what must pass", gives=length(pocket.passing + ease),
                       needs=length(pocket.passing)), ("mouth",), ease / pocket.passing),
        reckon("toe", said("Leather past the point"), length(toe),
               said("welt {inside:n} to the thread + {e:n} margin + {c} clear", inside=length(inside),
                    e=length(sheath.margin_mm), c=length(sheath.clearance_mm)), ("sheath",)),
        *guard,
        reckon("fold-strain", said("Stretch of the fold"), percent(strain),
               said("{out:n} outside the neutral layer over {r} radius of it",
                    out=fine((1 - sheath.neutral) * leather_mm), r=fine(sheath.fold_radius_mm(body, leather_mm))),
               ("fold",)),
        *((reckon("strap", said("Strap, long"), length(sheath.strap_over_mm(body, pocket, leather_mm) + 2 * LAP_MM),
                  said("half round the handle, and 2 laps of {lap}", lap=length(LAP_MM)), ("strap",)),)
          if sheath.strap_mm else ()),
        reckon("area", said("Leather in the pieces"), Q("area", sum(q.value for _, q in by_piece)),
               summed([said("{piece} {a:n}", piece=name, a=q) for name, q in by_piece]), ("sheath", "welt", "belt-loop")),
    )  # fmt: skip


def section(sheath: "FoldedSheath", body: LongBody, pocket: Pocket, leather_mm: float, at_mm: float) -> Section:
    """The sewn sheath cut across at `at_mm` from the guard: y to the right from the fold, z up and down."""
    at = float(np.clip(at_mm, pocket.x[0], pocket.x[-1] - 0.01))
    row = int(np.argmin(np.abs(body.x_mm - at)))
    y, z = body.y_mm[row] - pocket.fold_y, body.z_mm[row]
    edge = float(body.edge_mm[row] - pocket.fold_y)
    w = float(np.interp(at, pocket.x, pocket.welt_at))
    gap = float(np.interp(at, pocket.x, pocket.gives) - np.interp(at, pocket.x, pocket.touching.flat_mm))
    start = max(edge + gap, 0.5)
    thread = start + sheath.edge_to_thread_mm - sheath.clearance_mm
    end = thread + sheath.margin_mm
    draw = partial(cut_across, np.column_stack([y, z]), start, thread, end, w, leather_mm)
    return Section(
        float(body.x_mm[row]), draw, said("Section, {at} from the guard", at=length(body.x_mm[row])),
        said("edge to thread {d} here", d=length(thread - edge)),
    )  # fmt: skip
