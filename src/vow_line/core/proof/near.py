"""Whether holes lie far enough from each other, from cuts, folds and fasteners, and off the body's way."""

import itertools
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from ..curve import Line, Values
from ..draft.joins import Lies
from ..draft.pieces import Piece
from ..measure.body import LongBody, ToolBody
from ..reckoning import count, length, said
from ..stitch import Seam
from .given import Fault, Given, Result, area_of, from_line, lines_of
from .room import area_of_ring, face_needs, sections_of

LEAST_FROM_CUT_MM = 2.0  # and no less than the leather is thick, as far as the usual margin (from memory)
USUAL_MARGIN_MM = 3.0  # common practice
CAP_OVER_MM = 1.5  # from the cap of a fastener; a cap is about twice as wide as its post (from memory)
DIAMETERS = 2.0  # between the holes of different seams, from centre to centre (from memory)
SLOT_LEAVES_MM = 10.0  # leather between a belt's slot and the cut (from memory)
EDGE_FROM_THREAD_MM = 3.0  # never less from a cutting edge to a thread (common practice)
BY_HAND_MM = 0.15  # a hole a hair nearer than this says is not worth a word


def near(given: Given) -> Result:
    """No hole nearer to another, to a cut, a fold, a fastener or a slot than leather bears."""
    faults: list[Fault] = []
    least = np.inf
    between = {(j.id, k) for j in given.assembly.joins for k, x in enumerate(j.layers) if x.between or x.ends}
    for piece in given.assembly.pieces:
        there = [
            (s, k, s.on(k), s.there(k)) for s in given.seams for k, p in enumerate(s.line.placed) if p.piece == piece.id
        ]
        for slot in piece.slots:
            left = float(shapely.LinearRing(slot).distance(area_of(piece).exterior))
            if left < SLOT_LEAVES_MM:
                faults.append(Fault("look", "slot-near-edge", said(
                    f"A slot leaves {{d}} of leather at the edge of the {piece.title}; {{least}} carries a belt.",
                    d=length(left), least=length(SLOT_LEAVES_MM)), "piece.loop.width_mm", station="stitch"))  # fmt: skip
        for seam, k, holes, numbers in there:
            if not len(numbers):
                continue
            found, clear = _on(piece, seam, holes[numbers], numbers, held=(seam.id, k) in between)
            least = min(least, clear)
            faults += found
        for (one, _, a, some), (two, _, b, others) in itertools.combinations(there, 2):
            if one is not two and len(some) and len(others):
                faults += _between(piece, one, a[some], some, two, b[others], others)
        faults += _ornament(piece, [(s, h[n], n) for s, _, h, n in there if len(n)])
    faults += [f for s in given.seams for f in _in_row(s)]
    worst = {(f.code, f.at, f.says.template): f for f in faults}
    if not np.isfinite(least):
        return Result(said("no holes"), length(0.0), (), 0)
    return Result(said("no hole nearer than {d} to a cut", d=length(least)), length(least), tuple(worst.values()))


def _in_row(seam: Seam) -> list[Fault]:
    """Two holes of one seam, whether they follow each other or not."""
    n = len(seam.points)
    if n < 2:
        return []
    apart = np.hypot(*(seam.points[:, None] - seam.points[None]).transpose(2, 0, 1))
    apart[np.arange(n), np.arange(n)] = np.inf
    i, j = (int(k) for k in np.unravel_index(int(np.argmin(apart)), apart.shape))
    if apart[i, j] >= seam.pitch_mm / 2 - 1e-6:
        return []
    return [Fault("look", "holes-near", said(
        f"Holes {{i}} and {{j}} of the {seam.title} lie {{d}} apart, less than half a stitch.", i=count(min(i, j) + 1),
        j=count(max(i, j) + 1), d=length(float(apart[i, j]))), seam.line.sewing.margin_at or "stitch.pitch_mm",
        station="stitch")]  # fmt: skip


def _between(
    piece: Piece, one: Seam, a: Line, some: NDArray[np.intp], two: Seam, b: Line, others: NDArray[np.intp]
) -> list[Fault]:
    apart = np.hypot(*(a[:, None] - b[None]).transpose(2, 0, 1))
    wanted = DIAMETERS * (one.hole_mm + two.hole_mm) / 2
    if apart.min() >= wanted - BY_HAND_MM:
        return []
    i, j = (int(k) for k in np.unravel_index(int(np.argmin(apart)), apart.shape))
    return [Fault("look", "seams-near", said(
        f"On the {piece.title} hole {{i}} of the {one.title} lies {{d}} from hole {{j}} of the {two.title}: the leather "
        "between tears.", i=count(some[i] + 1), j=count(others[j] + 1), d=length(float(apart.min()))),
        one.line.sewing.margin_at or "stitch.pitch_mm", station="stitch")]  # fmt: skip


def _ornament(piece: Piece, seams: list[tuple[Seam, Line, NDArray[np.intp]]]) -> list[Fault]:
    """Holes of a punched row beside those of a seam."""
    found = []
    for mark in piece.ornament:
        if mark.size_mm <= 0:
            continue
        for seam, holes, numbers in seams:
            apart = np.hypot(*(holes[:, None] - mark.line[None]).transpose(2, 0, 1))
            if apart.min() < DIAMETERS * (seam.hole_mm + mark.size_mm) / 2 - BY_HAND_MM:
                i = int(np.argmin(apart.min(axis=1)))
                found.append(Fault("look", "ornament-near-seam", said(
                    f"The punched row of the {piece.title} comes within {{d}} of hole {{i}} of the {seam.title}.",
                    d=length(float(apart.min())), i=count(numbers[i] + 1)),
                    f"ornaments.{mark.id.removeprefix('ornament/')}.in_mm",
                    station="stitch"))  # fmt: skip
    return found


def _on(piece: Piece, seam: Seam, holes: Line, numbers: NDArray[np.intp], *, held: bool) -> tuple[list[Fault], float]:
    """One seam's holes on one piece, and how near the nearest comes to a cut; one that is `held` between others, or wrapped by
    the thread where it ends, does not tear at its own.
    """
    found: list[Fault] = []
    at = seam.line.sewing.margin_at or "stitch.pitch_mm"
    area = area_of(piece)
    to_cut = from_line(holes, area.exterior)
    outside = ~shapely.contains_xy(area, *holes.T)
    wanted = min(max(LEAST_FROM_CUT_MM, piece.thickness_mm), USUAL_MARGIN_MM)
    k = int(np.argmax(np.where(outside, to_cut, -1.0))) if outside.any() else int(np.argmin(to_cut))
    if outside.any() or (not held and to_cut[k] < wanted - BY_HAND_MM):
        says = "Hole {{k}} of the {seam} lies {{d}} beside the {piece}." if outside.any() else (
            "Hole {{k}} of the {seam} lies {{d}} from the cut of the {piece}; {{w}} holds.")  # fmt: skip
        found.append(Fault("hold" if outside.any() else "look", "hole-near-edge", said(
            says.format(seam=seam.title, piece=piece.title), k=count(numbers[k] + 1), d=length(float(to_cut[k])),
            w=length(wanted)), at, station="stitch"))  # fmt: skip
    checks: list[tuple[str, Values, float, str]] = []
    folds = [f for f in piece.folds if len(f) > 1]
    if folds:
        checks.append(("hole-near-fold", from_line(holes, lines_of(tuple(folds))), min(piece.thickness_mm, USUAL_MARGIN_MM),
                       f"lies {{d}} from a fold of the {piece.title}: it opens as that bends."))  # fmt: skip
    for slot in piece.slots:
        checks.append(("hole-near-fastener", from_line(holes, shapely.Polygon(slot)), LEAST_FROM_CUT_MM,
                       "leaves {d} of leather beside a slot."))  # fmt: skip
    for punch in piece.punches:
        between = np.hypot(*(holes - punch.centre).T) - punch.diameter_mm / 2
        checks.append(("hole-near-fastener", between, punch.diameter_mm / 2 + CAP_OVER_MM,
                       f"leaves {{d}} of leather beside the {punch.title}: its cap lies on the thread."))  # fmt: skip
    for code, off, least, says in checks:
        k = int(np.argmin(off))
        if off[k] < least - BY_HAND_MM:
            found.append(Fault("look", code, said(
                f"Hole {{k}} of the {seam.title} {says}", k=count(numbers[k] + 1), d=length(max(float(off[k]), 0.0))), at,
                station="stitch"))  # fmt: skip
    return found, 0.0 if outside.any() else np.inf if held else float(to_cut.min())


def off_the_way(given: Given) -> Result:
    """No thread where the cutting edge passes as it is drawn out, and no fastener whose back it would run over uncovered."""
    faults: list[Fault] = []
    least = np.inf
    for lies in given.assembly.lies:
        body = given.body
        if not isinstance(body, LongBody) or lies.how not in ("half", "face") or not len(lies.x_mm):
            continue
        if lies.how == "face":
            least = min(least, _beside_faces(given, lies))
            continue
        for shell, joins in given.closing:
            seam = next((s for j in joins if (s := given.seam(j.id)) is not None), None)
            if shell.id != lies.shell or seam is None:
                continue
            layers = given.assembly.join(seam.id).layers
            own = [i for i, x in enumerate(layers) if x.piece == lies.piece and not x.between]
            k = next((i for i in own if _beside(seam.on(i), lies.q)), None)
            if k is not None:
                least = min(least, float(_from_edge(body, lies.x_mm, lies.p, lies.q, seam.on(k)).min()))
    tool = given.body
    if isinstance(tool, ToolBody):
        for seam in given.seams:
            if seam.line.sewing.keep_off is not None:
                least = min(least, float(from_line(seam.points, shapely.Polygon(tool.outline).buffer(0)).min()))
    if not np.isfinite(least):
        return Result(said("no cutting edge here"), length(0.0), (), 0)
    if least < EDGE_FROM_THREAD_MM - BY_HAND_MM - given.spread_mm:
        faults.append(Fault("hold", "edge-on-thread", said(
            "Drawn out, the cutting edge comes within {d} of a thread; {w} is the least.", d=length(least),
            w=length(EDGE_FROM_THREAD_MM)), given.seams[-1].line.sewing.keep_off_at or given.seams[-1].id,
            station="stitch"))  # fmt: skip
    return Result(
        said("no thread nearer than {d} to the way of the cutting edge", d=length(least)), length(least), tuple(faults)
    )


def _beside_faces(given: Given, lies: Lies) -> float:
    """How far either thread lies from the edges of what lies between two faces, or passes there: half of what the face has more
    than it needs.
    """
    body = given.body
    assert body is not None
    s, needs = sections_of(body), face_needs(body, 0.0, lies.share)
    if s is None or needs is None or not (s.sharp > 0).any():
        return np.inf
    has = np.hypot(*(lies.q - lies.p).T)
    blade = s.sharp > 0
    deepest = np.maximum.accumulate(needs[blade][::-1])[::-1]
    there = lies.x_mm >= s.x[blade][0]
    spare = has[there] - np.interp(lies.x_mm[there], s.x[blade], deepest)
    return float(spare.min(initial=np.inf)) / 2


def _beside(holes: Line, q: Line) -> bool:
    """Whether a seam's holes on a piece run along where the body's place ends there."""
    return bool((holes[:, 0].mean() > 0) == (q[:, 0].mean() > 0))


def _from_edge(body: LongBody, x: Values, p: Line, q: Line, holes: Line) -> Values:
    """How far each hole lies from the nearest the edge comes on its way: at each station the farthest that any deeper
    section's edge reaches from the fold, laid flat along it as far as it lies in the middle plane.
    """
    bx, sweep = _edge_sweep(body, float(x[0]))
    sweep = np.interp(x, bx, sweep)
    away = (q - p) / np.maximum(np.hypot(*(q - p).T), 1e-9)[:, None]
    edge = p + away * sweep[:, None]
    way = area_of_ring(np.concatenate([p, edge[::-1]]))
    return from_line(holes, way)


@lru_cache(16)
def _edge_sweep(body: LongBody, from_x: float) -> tuple[Values, Values]:
    """Stations of the blade, and how far from a straight fold its edge or any deeper one comes at most, laid flat."""
    blade, deep = body.blade & (body.x_mm >= from_x), body.x_mm >= from_x
    reach = body.edge_mm[blade] - float(body.top_mm[deep].min(initial=np.inf))
    flat = np.hypot(reach, body.thick_mm[blade] / 2)
    return body.x_mm[blade], np.maximum.accumulate(flat[::-1])[::-1]
