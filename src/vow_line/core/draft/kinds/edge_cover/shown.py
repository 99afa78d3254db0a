"""What is shown of an edge cover: values, sums, the section."""

from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from ....curve import Line, frozen
from ....drawing import Callout, Mark
from ....measure import ToolBody
from ....reckoning import Reckoning, length, reckon
from ....texts import Said, said
from ...assembly import RIVET_POST_OVER_MM
from ...drafted import Section
from ...section import between_faces
from ...strap import LAP_MM, STRAP, numbered
from ...wrap import NEUTRAL_DRY, drawn_over
from .flap import Flap
from .lines import Lines, Room, at_share, cross
from .straps import ALIKE_MM, Straps

if TYPE_CHECKING:
    from .draft import EdgeCover


SENTENCES = (said("Made in {form}, closed over the back by {straps}."),)


def callouts(kind: "EdgeCover", lines: Lines, leather_mm: float) -> tuple[Callout, ...]:
    """The values on the board."""
    left = _left_end(lines.outer)
    edge, inner, outer = (at_share(line, left) for line in (lines.edge, lines.inner, lines.outer))
    mouth = at_share(lines.mouth, _left_end(lines.mouth))
    pair = kind.form == "two-parts"

    def far(line: Line) -> tuple[float, float]:
        """The right end of a line; on the back, its mirror, that is its left."""
        u, v = at_share(line, 1 - _left_end(line))
        return (-u, v) if pair else (u, v)

    back = "back" if pair else ""
    callouts = [
        Callout("piece.clearance_mm", said("clear of the edge"), "length", kind.clearance_mm, edge, "left", to=inner,
                chain="filler"),
        Callout("piece.filler_mm", said("filler, wide"), "length", kind.filler_mm, inner, "left", "filler", to=outer,
                chain="filler"),
        Callout("piece.depth_mm", said("onto the face"), "length", kind.depth_mm, mouth, "left", "front"),
        Callout("piece.margin_mm", said("thread to the cut"), "length", kind.margin_mm,
                far(lines.thread(kind.margin_mm)), "left", "edge-seam", on=back),
        Callout("piece.past_mm", said("on past the edge"), "length", kind.past_mm, far(lines.inner), "left", on=back),
        Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, far(lines.mouth), "left", "front", on=back),
        Callout("piece.filler_thick_mm", said("filler, thick"), "leather", kind.filler_thick_mm, far(lines.outer),
                "left", "filler", on=back),
        Callout("piece.form", said("made in"), "count", kind.form, mouth, "left",
                choices=(said("two parts"), said("one folded piece")), meant=("two-parts", "folded")),
        Callout("piece.straps", said("over the back"), "count", kind.straps, mouth, "left", "strap", *closed_by(kind)),
    ]  # fmt: skip
    if kind.straps:
        flapped = kind.straps.form == "flap" and kind.form == "two-parts"
        first = "strap-1" if kind.straps.count > 1 else "strap"
        callouts.append(Callout("piece.straps.width_mm", said("flap, wide") if flapped else said("a strap, wide"), "length",
                             kind.straps.width_mm, at_share(lines.mouth, 0.3) if flapped else (0.0, 40.0), "right",
                             "back" if flapped else "strap", on="" if flapped else first,
                             to=None if flapped else (kind.straps.width_mm, 40.0)))  # fmt: skip
        callouts.append(Callout("piece.straps.count", said("studs") if flapped else said("straps"), "count", kind.straps.count,
                             at_share(lines.mouth, 0.5) if flapped else (kind.straps.width_mm, 15.0),
                             "left" if flapped else "right", "strap",
                             on="" if flapped else first))  # fmt: skip
    return tuple(callouts)


def _left_end(line: Line) -> float:
    """Near which end of a line, as a share of it, its left lies."""
    return 0.06 if line[0, 0] < line[-1, 0] else 0.94


def closed_by(kind: "EdgeCover") -> tuple[tuple[Said, ...], tuple[Straps | None, ...]]:
    """What can close it, in words and as the values they mean."""
    now = kind.straps or Straps()
    straps = now.model_copy(update={"form": "straps"})
    if kind.form == "folded":  # there is no back by itself to run on
        return (said("straps"), said("nothing")), (now, None)
    return (said("straps"), said("a flap"), said("nothing")), (straps, now.model_copy(update={"form": "flap"}), None)


def reckonings(
    kind: "EdgeCover", body: ToolBody, lines: Lines, leather_mm: float, room: "Room", cover: Flap | None
) -> tuple[Reckoning, ...]:
    """The sums."""
    to_thread = kind.clearance_mm + kind.filler_mm - kind.margin_mm
    at_mouth = float(np.interp(lines.depth_mm, body.depth_mm, body.thick_mm))
    reckonings = [
        reckon("edge-to-thread", said("Edge to thread"), length(to_thread),
               said("{c:n} clear + {f:n} filler − {e} margin", c=length(kind.clearance_mm), f=length(kind.filler_mm),
                    e=length(kind.margin_mm)), ("edge-seam",)),
        reckon("face", said("Leather onto the face"), length(lines.flat_mm),
               said("{d:n} in from the edge, drawn over the tool's thickness: {more} more", d=length(lines.depth_mm),
                    more=length(lines.flat_mm - lines.depth_mm)), ("front",)),
        reckon("mouth-wide", said("Mouth opens to"), length(at_mouth),
               said("thickness of the tool {d} in", d=length(lines.depth_mm)), ("mouth",)),
        reckon("draw-out", said("Tightest on the way out"), length(room.least_mm),
               said("drawn out {d} sideways", d=length(room.drawn_mm)), ("draw-out",)),
    ]  # fmt: skip
    if cover is not None:
        reckonings.append(reckon(
            "flap", said("Flap, long"), length(cover.long_mm),
            said("to the tool's back and as far again, {t:n} thick + a turn of {turn:n} + a lap of {lap}",
                 t=length(float(body.thick_mm[-1])), turn=length(np.pi * NEUTRAL_DRY * leather_mm), lap=length(LAP_MM)),
            ("back",),
        ))  # fmt: skip
    elif kind.straps:
        thick, which = float(body.thick_mm[-1]), numbered("strap", STRAP, kind.straps.count)
        turn = np.pi * NEUTRAL_DRY * leather_mm
        ways = kind.ways_mm(body, lines, leather_mm)
        alike = max(ways) - min(ways) <= ALIKE_MM
        for way, (id, title) in ((max(ways), ("strap", STRAP)),) if alike else zip(ways, which, strict=True):
            reckonings.append(reckon(
                id, said("{title}, long", title=title), length(way + LAP_MM),
                said("2 × {over:n} from its hole to the back + {t:n} thick + a turn of {turn:n} + half a lap of {lap} at "
                     "either end", over=length((way - turn - thick) / 2), t=length(thick), turn=length(turn),
                     lap=length(LAP_MM)), (id,),
            ))  # fmt: skip
        reckonings.append(reckon("posts", said("Rivet post"), length(2 * leather_mm + RIVET_POST_OVER_MM),
                            said("2 × {t:n} stack + {p}; the stud for a stack of {s}", t=length(leather_mm),
                                 p=length(RIVET_POST_OVER_MM), s=length(2 * leather_mm)), ("strap",)))  # fmt: skip
    return tuple(reckonings)


def section(kind: "EdgeCover", body: ToolBody, lines: Lines, leather_mm: float, at_mm: float) -> Section:
    """The closed cover cut across its edge. The same at every place."""
    draw = partial(cut, kind, body, lines, leather_mm)
    return Section(at_mm, draw, said("Section across the edge"),
                   said("edge to thread {d}", d=length(kind.clearance_mm + kind.filler_mm - kind.margin_mm)))  # fmt: skip


def cut(kind: "EdgeCover", body: ToolBody, lines: Lines, leather_mm: float) -> tuple[Mark, ...]:
    """The closed cover across its edge: y in from the edge, z through the thickness."""
    profile = np.column_stack([
        np.append(body.depth_mm, body.depth_mm[-1] + 12), np.append(body.thick_mm, body.thick_mm[-1]) / 2,
    ])  # fmt: skip
    section = cross(body, lines.depth_mm, kind.clearance_mm, kind.filler_thick_mm)
    upper, _, _ = drawn_over(section)
    outside = np.array([[-kind.clearance_mm - kind.filler_mm, kind.filler_thick_mm / 2]])
    marks = between_faces(np.concatenate([outside, upper]), profile, leather_mm)
    half = kind.filler_thick_mm / 2
    a, b = -kind.clearance_mm - kind.filler_mm, -kind.clearance_mm
    thread = a + kind.margin_mm
    through = half + leather_mm + 0.6
    return (
        *marks,
        Mark("welt", frozen([[a, -half], [b, -half], [b, half], [a, half]]), True, "filler"),
        Mark("stitch", frozen([[thread, -through], [thread, through]]), id="edge-seam"),
    )
