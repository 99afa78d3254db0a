"""After a vow is broken: the new plan laid over what is made. Leather can be made smaller, never larger; a hole in it stays."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..curve import Line, area_within
from ..draft import Draft, Piece
from ..draft.pieces import Skive
from ..finding import Finding, Level, Mend
from ..reckoning import count, fine, length
from ..stitch import Seam, Stitching
from ..texts import Said, joined, said, several
from .choices import MadeOn, Spoiled, WorkChoices
from .step import Step

STEP_MM = 1.0  # rims are looked at so closely, and at their corners
WIDER_MM = 0.15  # a hole wider by less is the same to a thread (from memory)
SAME_MM = 0.2  # outlines that differ by less are the same to a knife
HOLE_SAME_MM = 0.3  # a needle finds a hole so near to where it looks for it (from memory)


Says = Literal["still-good", "trim", "more", "holes-differ", "cut-again"]


LEVEL: dict[Says, Level] = {
    "still-good": "note", "trim": "note", "more": "look", "holes-differ": "hold", "cut-again": "hold",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Verdict:
    """What becomes of a piece already cut, by the greatest distance `by_mm` that decides it, and why, in words."""

    piece: str
    title: Said
    says: Says
    by_mm: float
    why: Said


@dataclass(frozen=True, slots=True)
class Planned:
    """A plan that pieces were cut by, or are wanted by: its holes, its pieces, and what leather it is of."""

    stitching: Stitching
    tannage: str

    @property
    def draft(self) -> Draft:
        """Its pieces and joins."""
        return self.stitching.draft


def recut(old: Planned, new: Planned, pieces: Iterable[str], work: WorkChoices) -> tuple[Verdict, ...]:
    """A verdict on each of the `pieces` that was cut by the old plan and is still wanted, by all that leather bears."""
    was = {p.id: p for p in old.draft.pieces}
    return tuple(
        _verdict(was.get(id), piece, old, new, work)
        for id in pieces for piece in new.draft.pieces if piece.id == id
    )  # fmt: skip


def _verdict(was: Piece | None, now: Piece, old: Planned, new: Planned, work: WorkChoices) -> Verdict:
    if was is None:
        return Verdict(now.id, now.title, "cut-again", 0.0, said("there was no such piece in the plan it was cut by"))
    other = _of_another(was, now, old, new)
    if other is not None:
        return Verdict(now.id, now.title, "cut-again", *other)
    there, want = area_within(was.outline), area_within(now.outline)
    lacking = _beyond(want, there)
    if lacking > SAME_MM:
        return Verdict(now.id, now.title, "cut-again", lacking, said("it is {by} too small", by=length(lacking)))
    cannot = _made(was, now, old, new, work)
    if cannot is not None:
        return Verdict(now.id, now.title, "holes-differ", *cannot)
    if now.count > was.count:
        more = now.count - was.count
        return Verdict(now.id, now.title, "more", float(more), said("{more} more of it are wanted than {n} that were planned",
                                                                     more=count(more), n=count(was.count)))  # fmt: skip
    by = _beyond(there, want)
    if by > SAME_MM:
        at = shapely.get_coordinates(there.difference(want.buffer(SAME_MM)))
        worst = at[int(np.argmax(shapely.distance(shapely.points(at), want)))]
        beside = min(was.edges, key=lambda e: float(shapely.LineString(e.line).distance(shapely.Point(worst))))
        why = said("by {by} at most, at the {edge}", by=length(by), edge=beside.title)
        if any(work.is_made(f"sew/{s.id}", was.id) for s in old.stitching.seams if _on(s, was.id)):
            why = joined(why, said("beside its seam, which is sewn"))
        return Verdict(now.id, now.title, "trim", by, why)
    return Verdict(now.id, now.title, "still-good", max(lacking, by), said("nothing on it has moved"))


def _of_another(was: Piece, now: Piece, old: Planned, new: Planned) -> tuple[float, Said] | None:
    """What of a piece can be no other once it is cut: its leather, which side was up, which way round it is."""
    thinner = now.thickness_mm - was.thickness_mm
    if thinner or was.stock.sort != now.stock.sort:
        says = said("it is not of what is planned now, which is {now} thick instead of {was}")
        return abs(thinner), says.filled(now=length(now.thickness_mm), was=length(was.thickness_mm))
    if was.stock.id == now.stock.id == "leather" and old.tannage != new.tannage:
        return 0.0, said("it is cut from leather of another tannage than is planned now")
    if was.side_up != now.side_up:
        return 0.0, said("its other side was up when it was cut")
    if was.mirrored != now.mirrored:
        return 0.0, said("it is cut the other way round")
    if was.in_pairs != now.in_pairs and min(was.count, now.count) > 1:
        return 0.0, said("every second one was turned over when it was cut, and not now") if was.in_pairs else said(
            "every second one is to be turned over, and none was when it was cut")  # fmt: skip
    return None


def _beyond(area: BaseGeometry, other: BaseGeometry) -> float:
    """How far an area reaches beyond another: the farthest of its own points outside that, and of the other's rim inside it."""
    out, rim = area.difference(other), shapely.segmentize(other.boundary.intersection(area), STEP_MM)
    if out.is_empty:
        return 0.0
    beyond = shapely.get_coordinates(shapely.segmentize(out.boundary, STEP_MM))
    notched = shapely.get_coordinates(rim)
    return max(
        float(shapely.distance(shapely.points(beyond), other).max(initial=0.0)),
        float(shapely.distance(shapely.points(notched), area.boundary).max(initial=0.0)) if len(notched) else 0.0,
    )


def _outside(outline: Line, area: BaseGeometry) -> np.typing.NDArray[np.float64]:
    """How far each point of an outline reaches out of the area."""
    return np.asarray(shapely.distance(shapely.points(outline), area))


def _on(seam: Seam, piece: str) -> bool:
    return any(p.piece == piece for p in seam.line.placed)


def _made(was: Piece, now: Piece, old: Planned, new: Planned, work: WorkChoices) -> tuple[float, Said] | None:
    """What was made in a piece that the new plan has not there: how far off, and what."""
    found = _holed(was, old, new, work) or _punched(was, now, work) or _glued(was, old, new, work)
    if found is not None:
        return found
    if was.slots and work.is_made(f"slots/{was.id}", was.id):
        cut = shapely.union_all([area_within(s) for s in now.slots])
        off = np.concatenate([_outside(s, cut) if now.slots else np.full(len(s), np.inf) for s in was.slots])
        if off.max() > SAME_MM:
            return _far(off), said("its slots are cut where they are not wanted now")
    for skive in was.skives:
        step = f"cut/{was.id}" if was.stock.sort == "wood" else f"skive/{was.id}/{skive.id}"
        if not work.is_made(step, was.id):
            continue
        thin = _too_thin(skive, now)
        if thin > SAME_MM:
            return thin, said("it is skived {by} too thin for the plan", by=length(thin))
    for k, craft in enumerate(was.crafts):
        if work.is_made(f"craft/{was.id}/{k}", was.id) and (craft not in now.crafts or _worked(was) != _worked(now)):
            return 0.0, said("what was worked on it is not wanted there now: {craft}", craft=craft.name)
    folded = any(work.is_made(step, was.id) for step in _folding(was, old))
    if folded and (by := _off_lines(was.folds, now.folds)) > HOLE_SAME_MM:
        return by if np.isfinite(by) else 0.0, said("it is folded where no fold is wanted now")
    return None


def _holed(was: Piece, old: Planned, new: Planned, work: WorkChoices) -> tuple[float, Said] | None:
    for seam in old.stitching.seams:
        if not work.is_made(f"holes/{seam.id}", was.id) or not _on(seam, was.id):
            continue
        same = next((s for s in new.stitching.seams if s.id == seam.id), None)
        made, wanted = _holes(seam, was.id), _holes(same, was.id) if same else np.zeros((0, 2))
        off = _apart(made, wanted)
        if (off > HOLE_SAME_MM).any():
            n = int((off > HOLE_SAME_MM).sum())
            return _far(off), several(
                "{n} hole of the {seam} is made where none is wanted now",
                "{n} holes of the {seam} are made where none are wanted now", n=count(n), seam=seam.title)  # fmt: skip
        if same is not None and same.tooth != seam.tooth:
            return 0.0, said("the holes of the {seam} are made with another tooth", seam=seam.title)
        if same is not None and seam.hole_mm > same.hole_mm + WIDER_MM:
            return seam.hole_mm - same.hole_mm, said(
                "the holes of the {seam} are made {was} wide, and {now} are wanted", seam=seam.title,
                was=fine(seam.hole_mm), now=fine(same.hole_mm))  # fmt: skip
    return None


def _punched(was: Piece, now: Piece, work: WorkChoices) -> tuple[float, Said] | None:
    for punch in was.punches:
        if not work.is_made(f"punch/{was.id}/{punch.row or punch.id}", was.id):
            continue
        like = [p for p in now.punches if p.diameter_mm >= punch.diameter_mm - WIDER_MM]
        off = _apart(np.array([punch.centre]), np.array([p.centre for p in like]).reshape(-1, 2))
        if off[0] > HOLE_SAME_MM:
            return _far(off), said("the {punch} is punched where it is not wanted now", punch=punch.title)
    return None


def _glued(was: Piece, old: Planned, new: Planned, work: WorkChoices) -> tuple[float, Said] | None:
    """Where something was glued on the face of a piece that is not to lie there now."""
    seats = {(s.piece, s.id): s for s in new.draft.assembly.seats}
    for join in old.draft.assembly.joins:
        if not (work.is_made(f"glue/{join.id}", was.id) or work.is_made(f"fix/{join.id}", was.id)):
            continue
        for seat in old.draft.assembly.seats:
            if seat.piece != was.id or (seat.piece, seat.id) not in {(x.piece, x.part) for x in join.layers}:
                continue
            there = seats.get((seat.piece, seat.id))
            apart = float("inf") if there is None else _off_lines((seat.line,), (there.line,))
            if apart > SAME_MM:
                far = apart if np.isfinite(apart) else 0.0
                return far, said("the {join} is glued on it where it is not wanted now", join=join.title)
    return None


def _folding(was: Piece, old: Planned) -> Iterator[str]:
    """The steps by which a piece is folded: what holds it folded, or lays it round a bar."""
    if not was.folds:
        return
    for join in old.draft.assembly.joins:
        if sum(x.piece == was.id for x in join.layers) > 1:
            yield from (f"sew/{join.id}", f"glue/{join.id}", f"fix/{join.id}")
    for turn in old.draft.assembly.turns:
        if turn.piece == was.id:
            yield f"turn/{turn.piece}/{turn.join}"
    yield from (f"craft/{was.id}/{k}" for k in range(len(was.crafts)))
    yield "form"


def _worked(piece: Piece) -> frozenset[tuple[object, ...]]:
    """What is drawn on a piece to be worked there, to a tenth of a mm."""
    return frozenset((m.meaning, m.size_mm, m.line.round(1).tobytes()) for m in piece.ornament)


def _off_lines(was: Sequence[Line], now: Sequence[Line]) -> float:
    """How far the farthest of some lines lies from all of others."""
    if not was:
        return 0.0
    if not now:
        return float("inf")
    there = shapely.union_all([shapely.LineString(line) for line in now])
    return max(float(shapely.distance(shapely.points(line), there).max()) for line in was)


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
    vowed: datetime | None = None, touches: Callable[[str], Iterable[str]] = lambda _: (),
) -> tuple[Finding, ...]:  # fmt: skip
    """Each verdict as a finding at Cut; one that holds is mended by cutting the piece again, what was done with it undone; one
    that is to be trimmed, once that is `vowed`, by having done it.
    """
    says = {
        "still-good": said("The {p} already cut is still good: {why}."),
        "trim": said("The {p} already cut can be trimmed to the new pattern, {why}."),
        "more": said("The {p} already cut is good, but {why}. Cut the rest."),
        "holes-differ": said("The {p} already cut does not match: {why}. Cover it, mark it anew, or cut it again."),
        "cut-again": said("The {p} already cut cannot be used: {why}. Cut it again."),
    }
    findings = []
    for v in verdicts:
        holds = LEVEL[v.says] == "hold"
        mend = (
            Mend(said("cut it again"), _again(v.piece, work, steps, outlines.get(v.piece), touches)) if holds else None
        )
        if v.says in ("trim", "more") and vowed is not None:
            mend = Mend(said("it is trimmed") if v.says == "trim" else said("the rest is cut"), (("work.done", tuple(
                t.model_copy(update={"at": vowed}) if t.step == f"cut/{v.piece}" else t for t in work.done)),))  # fmt: skip
        findings.append(Finding(
            LEVEL[v.says], f"recut-{v.says}", "cut", says[v.says].filled(p=v.title, why=v.why),
            f"cut/{v.piece}", mend,
        ))  # fmt: skip
    return tuple(findings)


def _again(
    piece: str, work: WorkChoices, steps: Sequence[Step], outline: Line | None, touches: Callable[[str], Iterable[str]]
) -> tuple[tuple[str, object], ...]:
    """The job's values once a piece is to be cut again: neither it nor anything that was done with it is done; what was made in
    other pieces stays made in them.
    """
    undone = with_it(steps, f"cut/{piece}")
    kept = [m for m in work.made if m.piece != piece]
    made = [MadeOn(piece=p, step=t.step) for t in work.done if t.step in undone for p in touches(t.step) if p != piece]
    seams = {s.removeprefix("sew/") for s in undone if s.startswith("sew/")}
    spoiled = (
        () if outline is None else (Spoiled(piece=piece, outline=tuple((float(x), float(y)) for x, y in outline)),)
    )
    return (
        ("work.done", tuple(t for t in work.done if t.step not in undone)),
        ("work.made", tuple(dict.fromkeys((*kept, *made)))),
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
