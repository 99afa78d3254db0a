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
from .core import Core, girth, rounded_box
from .frog import Frog

if TYPE_CHECKING:
    from .draft import Scabbard


def callouts(kind: "Scabbard", body: MouldedBody, core: Core, leather_mm: float) -> tuple[Callout, ...]:
    """The values on the board."""
    wide, mouth = float(core.cover_half.max()), core.mouth
    long = float(core.x[-1]) - mouth
    callouts = [
        Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (-wide, mouth + long * 0.3), "left",
                "cover"),
        Callout("piece.goes_in_mm", said("goes in"), "length", kind.goes_in(body), (0.0, mouth), "left"),
        Callout("piece.margin_mm", said("hole to the edge"), "length", kind.margin_mm, (-wide, mouth + long * 0.6), "left",
                "back-seam"),
        Callout("piece.stretch", said("stretch closes"), "percent", kind.stretch, (-wide, mouth + long * 0.75), "left"),
        Callout("piece.cap", said("foot"), "count", kind.cap, (-wide, mouth + long), "left", "cap",
                (said("a cap"), said("open")), (True, False)),
        Callout("piece.frog", said("hung by"), "count", kind.frog, (-wide * 0.5, mouth + 4), "left", "frog",
                (said("a frog"), said("nothing")), (kind.frog or Frog(), None)),
        Callout("piece.glue_mm", said("wood beside the recess"), "length", kind.glue_mm,
                (float(core.half.max()), mouth + long * 0.3), "right", "core-front", on="core-front"),
        Callout("piece.wall_mm", said("wood under it"), "length", kind.wall_mm, (0.0, mouth + long * 0.4), "right",
                "core-front", on="core-front"),
        Callout("piece.lining_mm", said("lining, thick"), "length", kind.lining_mm, (0.0, mouth + long * 0.5), "right",
                "skive", on="core-front"),
        Callout("piece.clearance_mm", said("room round the thing"), "length", kind.clearance_mm, (0.0, mouth + long * 0.6),
                "right", "skive", on="core-front"),
        Callout("piece.rounded", said("rounded by"), "percent", kind.rounded,
                (float(core.half.max()), mouth + long * 0.75), "right", "core-front", on="core-front"),
    ]  # fmt: skip
    if kind.frog:
        rows = (("belt_mm", said("frog opens to"), 18.0), ("hanger_mm", said("hanger, wide"), 24.0),
                ("drop_mm", said("belt above the band"), 30.0))  # fmt: skip
        callouts.append(Callout("piece.frog.band_mm", said("frog's band, wide"), "length", kind.frog.band_mm,
                             (-wide * 0.5, mouth + 8), "left", "frog"))  # fmt: skip
        for field, name, at in rows:
            value = getattr(kind.frog, field)
            callouts.append(
                Callout(f"piece.frog.{field}", name, "length", value, (0.0, at), "right", "frog", on="frog")
            )
        callouts.append(
            Callout(
                "piece.frog.hangers",
                said("hangers"),
                "count",
                kind.frog.hangers,
                (0.0, 36.0),
                "right",
                "frog",
                on="frog",
            )
        )
    return tuple(callouts)


def reckonings(kind: "Scabbard", body: MouldedBody, core: Core, leather_mm: float) -> tuple[Reckoning, ...]:
    """The sums."""
    around = girth(core.half, core.thick / 2, kind.rounded)
    k = int(np.argmax(around))
    return (
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
    half, thick = float(np.interp(at, core.x, core.half)), float(np.interp(at, core.x, core.thick)) / 2
    return Section(at, partial(_cut, kind, body, leather_mm, at, half, thick), said("Section, {at} along", at=length(at)),
                   said("{w:n} by {t}, without its cover", w=length(2 * half), t=length(2 * thick)))  # fmt: skip


def _cut(
    kind: "Scabbard", body: MouldedBody, leather_mm: float, at: float, half: float, thick: float
) -> tuple[Mark, ...]:
    wood = Polygon(rounded_box(half, thick, kind.rounded))
    leather = wood.buffer(leather_mm)
    k = int(np.argmin(np.abs(body.x_mm - at)))
    y = body.y_mm[k] - (body.y_mm[k][0] + body.y_mm[k][-1]) / 2
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
