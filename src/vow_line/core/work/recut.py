"""After a vow is broken: the new plan laid over what is made. Leather can be made smaller, never larger; a hole in it stays."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

import numpy as np
import shapely

from ..curve import Line, area_within
from ..draft import Piece
from ..draft.pieces import Skive
from ..finding import Finding, Mend
from ..reckoning import count, length
from ..stitch import Seam, Stitching
from ..texts import Said, joined, said, several
from .choices import Spoiled, WorkChoices
from .step import Step

SAME_MM = 0.2  # outlines that differ by less are the same to a knife
HOLE_SAME_MM = 0.3  # a needle finds a hole so near to where it looks for it (from memory)


@dataclass(frozen=True, slots=True)
class Verdict:
    """What becomes of a piece already cut, by the greatest distance `by_mm` that decides it, and why, in words."""

    piece: str
    title: Said
    says: Literal["still-good", "trim", "holes-differ", "cut-again"]
    by_mm: float
    why: Said


def recut(old: Stitching, new: Stitching, pieces: Iterable[str], work: WorkChoices) -> tuple[Verdict, ...]:
    """A verdict on each of the `pieces` that was cut by the old plan and is still wanted, by all that leather bears."""
    was = {p.id: p for p in old.draft.pieces}
    return tuple(
        _verdict(was.get(id), piece, old.seams, new.seams, work)
        for id in pieces for piece in new.draft.pieces if piece.id == id
    )  # fmt: skip


def _verdict(was: Piece | None, now: Piece, old: Sequence[Seam], new: Sequence[Seam], work: WorkChoices) -> Verdict:
    if was is None:
        return Verdict(now.id, now.title, "cut-again", 0.0, said("there was no such piece in the plan it was cut by"))
    thinner = now.thickness_mm - was.thickness_mm
    if thinner or was.stock.sort != now.stock.sort:
        return Verdict(now.id, now.title, "cut-again", abs(thinner),
                       said("it is not of what is planned now, which is {now} thick instead of {was}",
                            now=length(now.thickness_mm), was=length(was.thickness_mm)))  # fmt: skip
    if was.side_up != now.side_up:
        return Verdict(now.id, now.title, "cut-again", 0.0, said("its other side was up when it was cut"))
    there, want = area_within(was.outline), area_within(now.outline)
    lacking, spare = _outside(now.outline, there), _outside(was.outline, want)
    if lacking.max() > SAME_MM:
        by = float(lacking.max())
        return Verdict(now.id, now.title, "cut-again", by, said("it is {by} too small", by=length(by)))
    cannot = _made(was, now, old, new, work)
    if cannot is not None:
        return Verdict(now.id, now.title, "holes-differ", *cannot)
    by = float(spare.max())
    if by > SAME_MM:
        at = was.outline[int(np.argmax(spare))]
        beside = min(was.edges, key=lambda e: float(shapely.LineString(e.line).distance(shapely.Point(at))))
        why = said("by {by} at most, at the {edge}", by=length(by), edge=beside.title)
        sewn = any(work.is_done(f"sew/{s.id}") for s in old if any(p.piece == was.id for p in s.line.placed))
        if sewn:
            why = joined(why, said("beside its seam, which is sewn"))
        return Verdict(now.id, now.title, "trim", by, why)
    return Verdict(now.id, now.title, "still-good", max(float(lacking.max()), by), said("nothing on it has moved"))


def _outside(outline: Line, area: shapely.Geometry) -> np.typing.NDArray[np.float64]:
    """How far each point of an outline reaches out of the area."""
    return np.asarray(shapely.distance(shapely.points(outline), area))


def _made(
    was: Piece, now: Piece, old: Sequence[Seam], new: Sequence[Seam], work: WorkChoices
) -> tuple[float, Said] | None:
    """What was made in a piece that the new plan has not there: how far off, and what."""
    for seam in old:
        if not work.is_done(f"holes/{seam.id}"):
            continue
        same = next((s for s in new if s.id == seam.id), None)
        made, wanted = _holes(seam, was.id), _holes(same, was.id) if same else np.zeros((0, 2))
        off = _apart(made, wanted)
        if (off > HOLE_SAME_MM).any():
            n = int((off > HOLE_SAME_MM).sum())
            return _far(off), several(
                "{n} hole of the {seam} is made where none is wanted now",
                "{n} holes of the {seam} are made where none are wanted now", n=count(n), seam=seam.title)  # fmt: skip
    for punch in was.punches:
        like = [p for p in now.punches if p.diameter_mm >= punch.diameter_mm]
        off = _apart(np.array([punch.centre]), np.array([p.centre for p in like]).reshape(-1, 2))
        if work.is_done(f"punch/{was.id}/{punch.id}") and off[0] > HOLE_SAME_MM:
            return _far(off), said("the {punch} is punched where it is not wanted now", punch=punch.title)
    if was.slots and work.is_done(f"slots/{was.id}"):
        cut = shapely.union_all([area_within(s) for s in now.slots])
        off = np.concatenate([_outside(s, cut) if now.slots else np.full(len(s), np.inf) for s in was.slots])
        if off.max() > SAME_MM:
            return _far(off), said("its slots are cut where they are not wanted now")
    for skive in was.skives:
        if not work.is_done(f"skive/{was.id}/{skive.id}"):
            continue
        thin = _too_thin(skive, now)
        if thin > SAME_MM:
            return thin, said("it is skived {by} too thin for the plan", by=length(thin))
    return None


def _too_thin(skive: Skive, now: Piece) -> float:
    """By how much a skive leaves less than is wanted now, where it is thinnest for it; what is trimmed away does not count."""
    there = area_within(skive.ring).intersection(area_within(now.outline))
    most, bare = 0.0, there
    for other in now.skives:
        both = shapely.get_coordinates(there.intersection(area_within(other.ring)))
        most = max(most, float((other.at(both) - skive.at(both)).max(initial=0.0)))
        bare = bare.difference(area_within(other.ring))
    whole = shapely.get_coordinates(bare.buffer(-SAME_MM))
    return max(most, float((now.thickness_mm - skive.at(whole)).max(initial=0.0)))


def _holes(seam: Seam, piece: str) -> Line:
    """The holes of a seam on a piece, on every layer that lies on it."""
    points = [seam.on(k)[seam.there(k)] for k, placed in enumerate(seam.line.placed) if placed.piece == piece]
    return np.vstack([np.zeros((0, 2)), *points])


def _apart(made: Line, wanted: Line) -> np.typing.NDArray[np.float64]:
    """From each of the one to the nearest of the other."""
    if not len(made) or not len(wanted):
        return np.full(len(made), np.inf)
    return np.asarray(shapely.distance(shapely.points(made), shapely.MultiPoint(wanted)))


def _far(off: np.typing.NDArray[np.float64]) -> float:
    """The greatest of distances that are any."""
    known = off[np.isfinite(off)]
    return float(known.max()) if len(known) else 0.0


def recut_findings(
    verdicts: tuple[Verdict, ...], work: WorkChoices, steps: Sequence[Step], outlines: dict[str, Line],
    vowed: datetime | None = None,
) -> tuple[Finding, ...]:  # fmt: skip
    """Each verdict as a finding at Cut; one that holds is mended by cutting the piece again, what was done with it undone; one
    that is to be trimmed, once that is `vowed`, by having done it.
    """
    says = {
        "still-good": said("The {p} already cut is still good: {why}."),
        "trim": said("The {p} already cut can be trimmed to the new pattern, {why}."),
        "holes-differ": said("The {p} already cut does not match: {why}. Cover it, mark it anew, or cut it again."),
        "cut-again": said("The {p} already cut cannot be used: {why}. Cut it again."),
    }
    findings = []
    for v in verdicts:
        holds = v.says in ("cut-again", "holes-differ")
        mend = Mend(said("cut it again"), _again(v.piece, work, steps, outlines.get(v.piece))) if holds else None
        if v.says == "trim" and vowed is not None:
            mend = Mend(said("it is trimmed"), (("work.done", tuple(
                t.model_copy(update={"at": vowed}) if t.step == f"cut/{v.piece}" else t for t in work.done)),))  # fmt: skip
        findings.append(Finding(
            "hold" if holds else "note", f"recut-{v.says}", "cut", says[v.says].filled(p=v.title, why=v.why),
            f"cut/{v.piece}", mend,
        ))  # fmt: skip
    return tuple(findings)


def _again(
    piece: str, work: WorkChoices, steps: Sequence[Step], outline: Line | None
) -> tuple[tuple[str, object], ...]:
    """The job's values once a piece is to be cut again: neither it nor anything that was done with it is done."""
    undone = with_it(steps, f"cut/{piece}")
    seams = {s.removeprefix("sew/") for s in undone if s.startswith("sew/")}
    spoiled = (
        () if outline is None else (Spoiled(piece=piece, outline=tuple((float(x), float(y)) for x, y in outline)),)
    )
    return (
        ("work.done", tuple(t for t in work.done if t.step not in undone)),
        ("work.sewn", tuple(s for s in work.sewn if s.seam not in seams)),
        ("work.in_hand", tuple(h for h in work.in_hand if h.seam not in seams)),
        ("work.spoiled", (*work.spoiled, *spoiled)),
    )


def with_it(steps: Sequence[Step], first: str) -> frozenset[str]:
    """A step and all that need it, one through another; `steps` are in an order in which they can be done."""
    found = {first}
    for step in steps:
        if not found.isdisjoint(step.needs):
            found.add(step.id)
    return frozenset(found)
