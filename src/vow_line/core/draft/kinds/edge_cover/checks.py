"""What is wrong with an edge cover."""

from typing import TYPE_CHECKING

import numpy as np

from ....finding import Finding, Mend
from ....measure import ToolBody
from ....quantity import Q
from ....reckoning import length
from ....texts import said
from .lines import Lines, Room

if TYPE_CHECKING:
    from .draft import EdgeCover


LEAST_EDGE_TO_THREAD_MM = 3.0  # never less from the cutting edge to the thread (common practice)
MOST_BOWED_MM = 3.0  # leather folds along a straight line: an edge that bows more wants two parts (from memory)
ROOM_MM = 0.5  # what the tool should have to the filler while it is drawn out, on top of the readings' spread


def tight(kind: "EdgeCover", body: ToolBody, room: "Room") -> bool:
    """Whether the filler is in the tool's way as it is drawn out."""
    return room.least_mm < min(ROOM_MM + body.spread_mm, kind.clearance_mm)


def findings(kind: "EdgeCover", body: ToolBody, lines: Lines, room: "Room", bowed: float) -> tuple[Finding, ...]:
    """All findings for this cover, tool and leather, holds or not."""
    findings: list[Finding] = []
    if kind.form == "folded" and bowed > MOST_BOWED_MM:
        findings.append(Finding(
            "hold", "edge-not-straight", "draft",
            said("Leather folds along a straight line; this edge bows {by} from one, {most} is the most.", by=length(bowed),
                 most=length(MOST_BOWED_MM)), "piece.form", Mend(said("in two parts"), (("piece.form", "two-parts"),)),
        ))  # fmt: skip
    if lines.depth_mm < kind.depth_mm - 0.05:
        findings.append(Finding(
            "look", "deeper-than-tool", "draft",
            said("The tool is not wide enough for leather {want} onto its face; {got} is what it has.",
                 want=length(kind.depth_mm), got=length(lines.depth_mm)), "piece.depth_mm",
            Mend(said("as far as it goes"), (("piece.depth_mm", max(float(np.floor(lines.depth_mm)), 1.0)),)),
        ))  # fmt: skip
    to_thread = kind.clearance_mm + kind.filler_mm - kind.margin_mm
    if to_thread < LEAST_EDGE_TO_THREAD_MM:
        findings.append(Finding(
            "hold", "edge-near-thread", "draft",
            said("The thread runs {d} from the cutting edge; {least} is the least.", d=length(to_thread),
                 least=length(LEAST_EDGE_TO_THREAD_MM)), "piece.filler_mm",
            Mend(said("a wider filler"), (
                ("piece.filler_mm", round(kind.margin_mm + LEAST_EDGE_TO_THREAD_MM + 2 - min(kind.clearance_mm, 4), 1)),
            )),
        ))  # fmt: skip
    thick = float(np.interp(kind.clearance_mm, body.depth_mm, body.thick_mm))
    if kind.filler_thick_mm < thick:
        findings.append(Finding(
            "look", "filler-thin", "draft",
            said("The filler of {f} is thinner than the tool close to its edge, {t}: the faces would pinch the edge.",
                 f=Q("leather", kind.filler_thick_mm), t=Q("leather", thick)), "piece.filler_thick_mm",
            Mend(said("as thick as the tool"), (("piece.filler_thick_mm", round(thick + 0.5, 1)),)),
        ))  # fmt: skip
    if tight(kind, body, room):
        blocked = room.least_mm <= 0
        findings.append(Finding(
            "hold" if blocked else "look", "draw-out", "draft",
            said("Drawn straight out sideways the tool meets the filler at its point.") if blocked
            else said("Drawn out sideways the tool passes the filler with {gap}; the readings spread {spread}.",
                      gap=length(max(room.least_mm, 0)), spread=length(body.spread_mm)),
            "draw-out", Mend(said("end the cover sooner"), (("piece.past_mm", max(round(kind.past_mm - 4, 1), 0.0)),))
            if kind.past_mm > 0 else Mend(said("more room"), (("piece.clearance_mm", min(kind.clearance_mm + 1, 30.0)),)),
        ))  # fmt: skip
    return tuple(findings)
