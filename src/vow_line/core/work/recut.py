"""After a vow is broken: the new pattern laid over the pieces already cut. Leather can be made smaller, never larger."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from ..draft import Draft
from ..finding import Finding
from ..reckoning import length
from ..texts import Said, said
from .choices import WorkChoices

SAME_MM = 0.2  # outlines that differ by less are the same to a knife


@dataclass(frozen=True, slots=True)
class Verdict:
    """What becomes of a piece already cut: kept, trimmed by at most `by_mm`, cut again for want of `by_mm`, or cut from other
    leather, that there had been none of it or it differs in thickness by `by_mm`.
    """

    piece: str
    title: Said
    says: Literal["still-good", "trim", "cut-again", "other-leather"]
    by_mm: float


def recut(old: Draft, new: Draft, work: WorkChoices) -> tuple[Verdict, ...]:
    """A verdict on every piece that was ticked off as cut."""
    found = []
    for piece in new.pieces:
        if not work.is_done(f"cut/{piece.id}"):
            continue
        was = next((p for p in old.pieces if p.id == piece.id), None)
        thinner = piece.thickness_mm - was.thickness_mm if was else piece.thickness_mm
        if was is None or thinner:
            found.append(Verdict(piece.id, piece.title, "other-leather", abs(thinner)))
            continue
        there, want = shapely.Polygon(was.outline).buffer(0), shapely.Polygon(piece.outline).buffer(0)
        lacking = _greatest(piece.outline, there)
        spare = _greatest(was.outline, want)
        if lacking > SAME_MM:
            found.append(Verdict(piece.id, piece.title, "cut-again", lacking))
        elif spare > SAME_MM:
            found.append(Verdict(piece.id, piece.title, "trim", spare))
        else:
            found.append(Verdict(piece.id, piece.title, "still-good", max(lacking, spare)))
    return tuple(found)


def _greatest(outline: np.typing.NDArray[np.float64], area: shapely.Geometry) -> float:
    """How far the outline reaches out of the area."""
    return float(shapely.distance(shapely.points(outline), area).max())


def recut_findings(verdicts: tuple[Verdict, ...]) -> tuple[Finding, ...]:
    """Each verdict as a finding at Cut."""
    says = {
        "still-good": said("The {p} already cut is still good."),
        "trim": said("The {p} already cut can be trimmed to the new pattern, by {by} at most."),
        "cut-again": said("The {p} already cut is {by} too small: cut it again."),
        "other-leather": said("The {p} already cut is not of the thickness planned now, by {by}: cut it again."),
    }
    return tuple(
        Finding(
            "hold" if v.says in ("cut-again", "other-leather") else "note", f"recut-{v.says}", "cut",
            says[v.says].filled(p=v.title, by=length(v.by_mm)), f"cut/{v.piece}",
        )
        for v in verdicts
    )  # fmt: skip
