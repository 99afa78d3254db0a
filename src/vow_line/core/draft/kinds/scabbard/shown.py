"""What is shown of a cased scabbard: values, sums, the section."""

from functools import partial
from typing import TYPE_CHECKING

import numpy as np
import shapely
from shapely.geometry import Polygon

from ....curve import frozen
from ....drawing import Callout, Mark
from ....measure import MouldedBody
from ....quantity import Q
from ....reckoning import Reckoning, length, percent, reckon
from ....texts import said
from ...drafted import Section
from ...wrap import NEUTRAL_DRY, NEUTRAL_FORMED
from .checks import WORTH_BENDING
from .core import Core, girth, rounded_box, saved_by_bow
from .frog import Frog

if TYPE_CHECKING:
    from .draft import Scabbard


SENTENCES = (
    said("Hung by {frog}, its foot {cap}."),
    said("It hangs from {hangers}."),
    said("The blade comes out {way_in}."),
)


def callouts(kind: "Scabbard", body: MouldedBody, core: Core, leather_mm: float) -> tuple[Callout, ...]:
    """The values on the board."""
    wide, mouth = float(core.cover_half.max()), core.mouth
    long = float(core.x[-1]) - mouth

    def on_wood(share: float, beside: float = 0.0) -> tuple[float, float]:
        at = core.way.rolled(np.array([[beside, mouth + long * share]]))[0]
        return float(at[0]), float(at[1])

    beside = float(core.half.max())
    callouts = [
        Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (-wide, mouth + long * 0.3), "left",
                "cover"),
        Callout("piece.goes_in_mm", said("goes in"), "length", kind.goes_in(body), (0.0, mouth), "left",
                to=(0.0, mouth + long), upon=True),
        Callout("piece.margin_mm", said("hole to the edge"), "length", kind.margin_mm, (-wide, mouth + long * 0.6), "left",
                "back-seam"),
        Callout("piece.stretch", said("stretch closes"), "percent", kind.stretch, (-wide, mouth + long * 0.75), "left"),
        Callout("piece.cap", said("foot"), "count", kind.cap, (-wide, mouth + long), "left", "cap",
                (said("capped"), said("open")), (True, False)),
        Callout("piece.frog", said("hung by"), "count", kind.frog, (-wide * 0.5, mouth + 4), "left", "frog",
                (said("a frog"), said("nothing")), (kind.frog or Frog(), None)),
        Callout("piece.glue_mm", said("wood beside the recess"), "length", kind.glue_mm,
                on_wood(0.3, beside), "right", "core-front", on="core-front"),
        Callout("piece.wall_mm", said("wood under it"), "length", kind.wall_mm, on_wood(0.4), "right",
                "core-front", on="core-front"),
        Callout("piece.lining_mm", said("lining, thick"), "length", kind.lining_mm, on_wood(0.5), "right",
                "skive", on="core-front"),
        Callout("piece.clearance_mm", said("room round the thing"), "length", kind.clearance_mm, on_wood(0.6),
                "right", "skive", on="core-front"),
        Callout("piece.rounded", said("rounded by"), "percent", kind.rounded,
                on_wood(0.75, beside), "right", "core-front", on="core-front"),
    ]  # fmt: skip
    if kind.frog:
        frog, first = kind.frog, "hanger-1" if kind.frog.hangers > 1 else "hanger"
        foot = frog.hanger_long_mm(leather_mm, kind.neutral)
        callouts += [
            Callout("piece.frog.band_mm", said("frog's band, wide"), "length", frog.band_mm, (0.0, 30.0), "left", "frog",
                    on="frog", to=(frog.band_mm, 30.0)),
            Callout("piece.frog.hanger_mm", said("hanger, wide"), "length", frog.hanger_mm, (0.0, foot - 24), "left", "frog",
                    on=first, to=(frog.hanger_mm, foot - 24)),
            Callout("piece.frog.belt_mm", said("frog opens to"), "length", frog.belt_mm, (0.0, foot - 12), "left", "frog",
                    on=first),
            Callout("piece.frog.drop_mm", said("belt above the band"), "length", frog.drop_mm, (0.0, foot), "left", "frog",
                    on=first),
            Callout("piece.frog.hangers", said("hangers"), "count", frog.hangers, (0.0, foot), "left", "frog",
                    (said("one hanger"), said("two hangers")), (1, 2), on=first),
        ]  # fmt: skip
    if kind.way_in == "bowed" or saved_by_bow(body, kind.goes_in(body)) >= WORTH_BENDING:
        callouts.append(Callout("piece.way_in", said("comes out"), "count", kind.way_in, on_wood(0.1), "right", "skive",
                                (said("straight"), said("along its bow")), ("straight", "bowed"), on="core-front"))  # fmt: skip
    return tuple(callouts)


def reckonings(kind: "Scabbard", body: MouldedBody, core: Core, leather_mm: float) -> tuple[Reckoning, ...]:
    """The sums."""
    around = girth(core.half, core.thick / 2, kind.rounded)
    k = int(np.argmax(around))
    return (
        *_bow(core),
        reckon("cover-wide", said("Cover, widest"), length(2 * core.cover_half[k]),
               said("({g:n} round + 2π × {n} of {t}) less {s}", g=length(around[k]), n=percent(NEUTRAL_FORMED),
                    t=Q("leather", leather_mm), s=percent(kind.stretch)), ("cover",),
               (said("round a core {w:n} by {t}, {at} from the butt", w=length(2 * core.half[k]),
                     t=length(core.thick[k]), at=length(core.x[k])),)),
        reckon("core-wide", said("Core, widest"), length(2 * core.half.max()),
               said("the thing + 2 × ({c:n} room + {l:n} lining + {g} wood)", c=length(kind.clearance_mm),
                    l=length(kind.lining_mm), g=length(kind.glue_mm)), ("core-front",)),
        reckon("recess", said("Recess in each half"), length(core.depth_mm),
               said("half of {h:n} high + {c:n} room + {l} lining", h=length(body.height_mm.max()),
                    c=length(kind.clearance_mm), l=length(kind.lining_mm)), ("skive",)),
        *_frog(kind, core, leather_mm),
        reckon("half-thick", said("Each half, thick"), length(core.thick.max() / 2),
               said("{d:n} recess + {w} under it", d=length(core.depth_mm), w=length(kind.wall_mm)), ("core-front",)),
    )  # fmt: skip


def _bow(core: Core) -> tuple[Reckoning, ...]:
    """How much a way bends that is not straight."""
    if core.way.curvature == 0:
        return ()
    adds = said("{s} more and less along the cover's sides than down its middle: {w:n} from the middle of the core over that",
                s=percent(core.strain), w=length(core.half.max()))  # fmt: skip
    return (reckon("bow", said("Drawn out round"), length(1 / abs(core.way.curvature)), adds, ("skive",)),)


def _frog(kind: "Scabbard", core: Core, leather_mm: float) -> tuple[Reckoning, ...]:
    """How long the band of a frog is cut."""
    if kind.frog is None:
        return ()
    way = kind.frog.way_mm(core, kind.rounded, leather_mm, NEUTRAL_DRY)
    turn = 2 * np.pi * NEUTRAL_DRY * leather_mm
    adds = said("{g:n} round the covered case + 2π × {k} of {t} + {l} lap", g=length(way - turn), k=percent(NEUTRAL_DRY),
                t=Q("leather", leather_mm), l=length(kind.frog.lap_mm))  # fmt: skip
    return (reckon("frog", said("Frog's band, long"), length(way + kind.frog.lap_mm), adds, ("frog",)),)


def section(kind: "Scabbard", body: MouldedBody, core: Core, leather_mm: float, at_mm: float) -> Section:
    """The case cut across at `at_mm` along the thing."""
    at = float(np.clip(at_mm, core.x[0], core.x[-1]))
    on_way = core.way.of_body(core.way.rolled(np.array([[0.0, at]])))[0]
    aslant = float(np.cos(core.way.tilt_rad + core.way.curvature * (at - core.mouth)))
    half, thick = float(np.interp(at, core.x, core.half)), float(np.interp(at, core.x, core.thick)) / 2
    draw = partial(_cut, kind, body, leather_mm, float(on_way[1]), aslant, half, thick)
    return Section(at, draw, said("Section, {at} along", at=length(at)),
                   said("{w:n} by {t}, without its cover", w=length(2 * half), t=length(2 * thick)))  # fmt: skip


def _cut(
    kind: "Scabbard", body: MouldedBody, leather_mm: float, at: float, aslant: float, half: float, thick: float
) -> tuple[Mark, ...]:
    wood = Polygon(rounded_box(half, thick, kind.rounded))
    leather = wood.buffer(leather_mm)
    k = int(np.argmin(np.abs(body.x_mm - at)))
    y = (body.y_mm[k] - (body.y_mm[k][0] + body.y_mm[k][-1]) / 2) * aslant
    raised = np.column_stack([y, body.z_mm[k] / 2])
    thing = np.concatenate([raised, raised[::-1] * [1, -1]])
    recess = shapely.MultiPoint(thing).convex_hull.buffer(kind.clearance_mm + kind.lining_mm, join_style="mitre")
    marks = [
        Mark("grain", frozen(leather.exterior.coords[:-1]), True, rings=(frozen(wood.exterior.coords[:-1]),)),
        Mark("flesh", frozen(wood.exterior.coords[:-1]), True, "core-front"),
        Mark("cut", frozen([[-half, 0], [half, 0]])),
    ]
    if isinstance(recess, Polygon):
        marks.append(Mark("welt", frozen(recess.exterior.coords[:-1]), True, "skive"))
    marks.append(Mark("thing", frozen(thing), True, "thing"))
    return tuple(marks)
