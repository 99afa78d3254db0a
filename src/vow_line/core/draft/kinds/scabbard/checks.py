"""What is wrong with a cased scabbard."""

from typing import TYPE_CHECKING

import numpy as np

from ....finding import Finding, Mend
from ....measure import MouldedBody
from ....reckoning import length, percent
from ....texts import said
from .core import Core, saved_by_bow

if TYPE_CHECKING:
    from .draft import Scabbard


GLUE_MM = 14.0  # wood beside the recess that holds the halves together, 13 to 15 (common practice)
LEAST_GLUE_MM = 10.0
LEAST_WALL_MM = 2.5  # wood left under the recess (from memory)
WORTH_BENDING = 0.03  # a recess smaller by such a share along the thing's bow is worth the choice (from memory)
WASTED = 0.1  # and one straight that is larger by more is a look (from memory)
SIDES_TAKE = (
    0.03  # stretch and shrinking along its sides that wet leather takes without a word, as a share (from memory)
)
SIDES_BEAR = 0.06  # and what it takes at most (from memory)
USUAL_IN = 0.8  # a case takes in about so much of a thing that has no blade (from memory)


def findings(kind: "Scabbard", body: MouldedBody, core: Core, leather_mm: float) -> tuple[Finding, ...]:
    """All findings for this case and what goes in it."""
    findings: list[Finding] = []
    long = float(np.ptp(body.x_mm))
    if kind.goes_in(body) > long:
        findings.append(Finding(
            "hold", "seat-past-butt", "draft",
            said("It goes in {want}, but is only {long} long.", want=length(kind.goes_in(body)), long=length(long)),
            "piece.goes_in_mm", Mend(said("most of it"), (("piece.goes_in_mm", round(USUAL_IN * long, 1)),)),
        ))  # fmt: skip
    if kind.glue_mm < LEAST_GLUE_MM:
        findings.append(Finding(
            "look", "glue-narrow", "draft",
            said("The halves are held by {g} of wood beside the recess; {usual} is usual.", g=length(kind.glue_mm),
                 usual=length(GLUE_MM)), "piece.glue_mm", Mend(said("as usual"), (("piece.glue_mm", GLUE_MM),)),
        ))  # fmt: skip
    if kind.wall_mm < LEAST_WALL_MM:
        findings.append(Finding(
            "look", "wall-thin", "draft",
            said("{w} of wood under the recess breaks when it is rounded; {least} is the least.", w=length(kind.wall_mm),
                 least=length(LEAST_WALL_MM)), "piece.wall_mm", Mend(said("thicker"), (("piece.wall_mm", 4.0),)),
        ))  # fmt: skip
    if kind.clearance_mm < body.spread_mm:
        findings.append(Finding(
            "look", "spread-past-room", "draft",
            said("The recess has {c} of room; the readings spread {s}.", c=length(kind.clearance_mm),
                 s=length(body.spread_mm)), "piece.clearance_mm",
            Mend(said("more room"), (("piece.clearance_mm", min(round(body.spread_mm + 0.5, 1), 10.0)),)),
        ))  # fmt: skip
    saved = saved_by_bow(body, kind.goes_in(body)) if kind.way_in == "straight" else 0.0
    if saved > WASTED and kind.core(body, leather_mm, along_bow=True).strain <= SIDES_BEAR:
        findings.append(Finding(
            "look", "recess-straight", "draft",
            said("Straight in, the recess is hollowed out {s} larger than along the bow of what goes in.",
                 s=percent(1 / (1 - saved) - 1)),
            "piece.way_in", Mend(said("along its bow"), (("piece.way_in", "bowed"),)),
        ))  # fmt: skip
    if kind.way_in == "bowed" and saved_by_bow(body, kind.goes_in(body)) < 0:
        findings.append(Finding(
            "look", "no-bow", "draft",
            said("What goes in has no bow to follow: straight in, its recess is smaller."), "piece.way_in",
            Mend(said("straight in"), (("piece.way_in", "straight"),)),
        ))  # fmt: skip
    if core.strain > SIDES_TAKE:
        hold = core.strain > SIDES_BEAR
        findings.append(Finding(
            "hold" if hold else "look", "cover-strain", "draft",
            said("Round this bow the cover must stretch by {s} along one side and take up as much on the other; wet leather "
                 "takes {most} at most.", s=percent(core.strain), most=percent(SIDES_BEAR)), "piece.way_in",
            Mend(said("straight in"), (("piece.way_in", "straight"),)),
        ))  # fmt: skip
    if 2 * kind.margin_mm > float(core.cover_half.min()):
        findings.append(Finding(
            "hold", "margin-too-wide", "draft",
            said("Holes {e} from either edge do not fit a cover {w} wide at its foot.", e=length(kind.margin_mm),
                 w=length(2 * core.cover_half.min())), "piece.margin_mm",
            Mend(said("3 mm, as usual"), (("piece.margin_mm", 3.0),)),
        ))  # fmt: skip
    return tuple(findings)
