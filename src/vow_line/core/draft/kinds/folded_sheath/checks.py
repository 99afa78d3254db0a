"""What is wrong with a folded sheath, and the relief of its welt that cures a blade that does not come out."""

from typing import TYPE_CHECKING, Annotated

import numpy as np
from pydantic import Field

from ....curve import area_within
from ....finding import Finding, Mend
from ....frozen import Frozen
from ....measure import LongBody
from ....quantity import Q
from ....reckoning import length, percent
from ....texts import said
from ...draw_out import GRADES, squeeze_grade
from ...pieces import Piece
from ...search import Way, to_relieve
from .pocket import Pocket

if TYPE_CHECKING:
    from .draft import FoldedSheath

LEAST_EDGE_TO_THREAD_MM = 3.0  # never less from the cutting edge to the thread (common practice)
LEAST_WELT_INSIDE_MM = 3.0  # welt left between pocket and thread, or the edge wears through to it (common practice)
WANTED_GAP_MM = 0.5  # room the blade should have to the welt while it is drawn out, on top of the readings' spread
MOST_FOLD_STRAIN = 0.6  # outer fibres stretched more than this at the fold want damping or a skive (from memory)
TRUE_MM = 0.05  # lines of the pattern are true to so much: outlines are simplified
MOST_RELIEF_MM = 50.0


class Relief(Frozen):
    """The welt's inner edge cut back by `by_mm` between two stations, run out over 6 mm at either end."""

    from_mm: Annotated[float, Field(ge=-500, le=2000)]
    to_mm: Annotated[float, Field(ge=-500, le=2000)]
    by_mm: Annotated[float, Field(gt=0, le=MOST_RELIEF_MM)]


def findings(sheath: "FoldedSheath", body: LongBody, pocket: Pocket, leather_mm: float) -> tuple[Finding, ...]:
    """All findings for this sheath, knife and leather, holds or not."""
    findings: list[Finding] = []
    if sheath.seat_mm > -body.x_mm[0] - 0.5:
        findings.append(Finding(
            "hold", "seat-past-handle", "draft",
            said("The handle goes in {seat}, but it is only {handle} long.", seat=length(sheath.seat_mm),
                 handle=length(-body.x_mm[0])), "piece.seat_mm",
            Mend(said("shorten"), (("piece.seat_mm", round(-body.x_mm[0] * 0.4, 1)),)),
        ))  # fmt: skip
    findings += draw_findings(sheath, body, pocket)
    grade = squeeze_grade(pocket.mouth_gap, pocket.passing)
    if grade in ("too tight", "very firm", "loose"):
        findings.append(Finding(
            "hold" if grade == "too tight" else "look", "squeeze", "draft",
            said("The mouth is {grade}: {gives} inside for {needs} that must pass.",
                 gives=length(pocket.passing + pocket.mouth_gap), needs=length(pocket.passing), grade=GRADES[grade]),
            "piece.mouth_ease_mm",
            Mend(said("ease the mouth"),
                 (("piece.mouth_ease_mm", round(sheath.mouth_ease_mm + 1.0 - pocket.mouth_gap, 2)),)),
        ))  # fmt: skip
    inside = sheath.edge_to_thread_mm - sheath.clearance_mm
    if sheath.edge_to_thread_mm < LEAST_EDGE_TO_THREAD_MM:
        findings.append(Finding(
            "hold", "edge-near-thread", "draft",
            said("The thread runs {d} from the cutting edge; {least} is the least.",
                 d=length(sheath.edge_to_thread_mm), least=length(LEAST_EDGE_TO_THREAD_MM)),
            "piece.edge_to_thread_mm",
            Mend(said("move the thread out"), (("piece.edge_to_thread_mm", LEAST_EDGE_TO_THREAD_MM + 2),)),
        ))  # fmt: skip
    cut_back = max((r.by_mm for r in sheath.relief), default=0.0)
    if inside - cut_back < LEAST_WELT_INSIDE_MM - 1e-9:
        wider = sheath.clearance_mm + cut_back + LEAST_WELT_INSIDE_MM
        findings.append(Finding(
            "look", "welt-thin-inside", "draft",
            said("Only {inside} of welt guards the thread from the edge; {least} is wanted.",
                 inside=length(max(inside - cut_back, 0)), least=length(LEAST_WELT_INSIDE_MM)),
            "piece.edge_to_thread_mm",
            Mend(said("widen the welt"), (("piece.edge_to_thread_mm", wider),)),
        ))  # fmt: skip
    widest = float(pocket.gives.max())
    if sheath.margin_mm > widest:
        findings.append(Finding(
            "hold", "margin-too-wide", "draft",
            said("The margin of {e} is wider than the half piece it runs along, {half}.",
                 e=length(sheath.margin_mm), half=length(widest)),
            "piece.margin_mm", Mend(said("3 mm, as usual"), (("piece.margin_mm", 3.0),)),
        ))  # fmt: skip
    strain = sheath.fold_strain(body, leather_mm)
    if strain > MOST_FOLD_STRAIN:
        findings.append(Finding(
            "look", "fold-thick", "draft",
            said("Leather of {t} folded over a {spine} spine stretches its grain by {strain}: fold it damp, or skive "
                 "the fold.", t=Q("leather", leather_mm), spine=length(sheath.thinnest_spine_mm(body)),
                 strain=percent(strain)),
            "leather.thickness_mm",
        ))  # fmt: skip
    return tuple(findings)


def draw_findings(sheath: "FoldedSheath", body: LongBody, pocket: Pocket) -> list[Finding]:
    """What the straight way out says, and its cure."""
    wanted = WANTED_GAP_MM + body.spread_mm
    short = pocket.draw.short_of(wanted)
    if short is None:
        return []
    low, high, by = short
    by = float(np.ceil(by * 10) / 10)
    room = sheath.edge_to_thread_mm - sheath.clearance_mm - LEAST_WELT_INSIDE_MM
    already = max((r.by_mm for r in sheath.relief), default=0.0)
    values = {
        "gap": length(pocket.draw.least_mm), "at": length(pocket.draw.at_mm), "spread": length(body.spread_mm),
        "by": length(by), "low": length(low), "high": length(high),
    }  # fmt: skip
    if by + already <= room or sheath.opened:
        relief = Relief(from_mm=round(low, 1), to_mm=round(high, 1), by_mm=round(min(by + already, MOST_RELIEF_MM), 1))
        cure, mend = (
            said("Relieve the welt by {by} from {low:n} to {high}."),
            Mend(said("relieve the welt"), (("piece.relief", (*sheath.relief, relief)),)),
        )
    else:
        cure, mend = (
            said("Run the pocket straight from the belly to the mouth."),
            Mend(said("open the pocket"), (("piece.opened", True),)),
        )
    blocked = pocket.draw.least_mm < -TRUE_MM
    what = (
        said("The blade does not come out: it is {gap} short of passing {at} from the guard.")
        if blocked
        else said("The blade passes with {gap}, {at} from the guard; the readings spread {spread}.")
    )
    return [Finding(
        "hold" if blocked else "look", "draw-out", "draft",
        said("{what} {cure}", what=what.filled(**values | {"gap": length(abs(pocket.draw.least_mm))}),
             cure=cure.filled(**values)), "draw-out", mend,
    )]  # fmt: skip


def judged(sheath: "FoldedSheath", body: LongBody, welt: Piece, way: Way) -> Finding | None:
    """What is wrong with the best way out that shifts and turns, and the relief that cures it."""
    wanted = WANTED_GAP_MM + body.spread_mm
    tight = to_relieve(way, area_within(welt.outline), wanted)
    if tight is None:
        return None
    box, by = tight
    already = max((r.by_mm for r in sheath.relief), default=0.0)
    relief = Relief(
        from_mm=round(float(box[0, 1]), 1), to_mm=round(float(box[1, 1]), 1),
        by_mm=round(min(np.ceil(by * 10) / 10 + already, MOST_RELIEF_MM), 1),
    )  # fmt: skip
    return Finding(
        "hold" if way.least_mm < 0 else "look", "way-out", "draft",
        (said("However it is turned, the blade is {gap} short of passing the welt, drawn {at}; {wanted} is wanted. "
              "Relieve the welt by {by} from {low:n} to {high}.") if way.least_mm < 0
         else said("However it is turned, the blade passes the welt with {gap}, drawn {at}; {wanted} is wanted. "
                   "Relieve the welt by {by} from {low:n} to {high}.")).filled(
             gap=length(abs(way.least_mm)), wanted=length(wanted),
             at=length(way.tightest_mm), by=length(relief.by_mm), low=length(relief.from_mm), high=length(relief.to_mm)),
        "draw-out", Mend(said("relieve the welt"), (("piece.relief", (*sheath.relief, relief)),)),
    )  # fmt: skip
