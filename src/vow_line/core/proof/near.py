"""Whether holes lie far enough from each other, from cuts, folds and fasteners, and off the body's way."""

import itertools

import numpy as np
import shapely
from numpy.typing import NDArray

from ..curve import Line, Values, thinned
from ..draft.joins import Lies
from ..draft.pieces import Piece
from ..measure.body import LongBody, ToolBody
from ..memory import remembered
from ..reckoning import count, length
from ..stitch import Seam
from ..texts import Said, said
from .given import THIN_MM, Fault, Given, Result, area_of, area_of_ring, cut_of, from_line
from .room import face_needs, sections_of

LEAST_FROM_CUT_MM = 2.0  # and no less than the leather is thick, as far as the usual margin (from memory)
USUAL_MARGIN_MM = 3.0  # common practice
CAP_OVER_MM = 1.5  # from the cap of a fastener; a cap is about twice as wide as its post (from memory)
DIAMETERS = 2.0  # between the holes of different seams, from centre to centre (from memory)
SLOT_LEAVES_MM = 10.0  # leather between a belt's slot and the cut (from memory)
EDGE_FROM_THREAD_MM = 3.0  # never less from a cutting edge to a thread (common practice)
A_HAIR_MM = 0.05  # so near to a cut nothing lies beside it
BY_HAND_MM = 0.15  # a hole a hair nearer than this says is not worth a word


def near(given: Given) -> Result:
    """No hole nearer to another, to a cut, a fold, a fastener or a slot than leather bears."""
    faults: list[Fault] = []
    least = np.inf
    turned = {turn.piece for turn in given.assembly.turns}
    between = {
        (j.id, k) for j in given.assembly.joins for k, x in enumerate(j.layers)
        if x.between or x.ends or (j.sewing is not None and j.sewing.between and x.along is not None)
    }  # fmt: skip
    for piece in given.assembly.pieces:
        there = [
            (s, k, s.on(k), s.there(k)) for s in given.seams for k, p in enumerate(s.line.placed) if p.piece == piece.id
        ]
        for slot in () if piece.id in turned else piece.slots:  # in a turn it is for a buckle's tongue
            left = float(shapely.LinearRing(slot).distance(area_of(piece).exterior))
            if left < SLOT_LEAVES_MM:
                faults.append(Fault("look", "slot-near-edge", said(
                    "A slot leaves {d} of leather at the edge of the {piece}; {least} carries a belt.",
                    d=length(left), least=length(SLOT_LEAVES_MM), piece=piece.title), "piece.loop.width_mm",
                    station="stitch"))  # fmt: skip
        lining = any(e.open == "flush" for e in piece.edges)
        here, clear = _on(piece, tuple((s, k, lining or (s.id, k) in between) for s, k, _, _ in there))
        least = min(least, clear)
        faults += here
        for (one, _, a, some), (two, _, b, others) in itertools.combinations(there, 2):
            if one is not two and len(some) and len(others):
                faults += _between(piece, one, a[some], some, two, b[others], others)
        faults += _ornament(piece, [(s, h[n], n) for s, _, h, n in there if len(n)])
    faults += [f for s in given.seams for f in _in_row(s)]
    worst = {(f.code, f.at, f.says.template): f for f in faults}
    if not np.isfinite(least):
        return Result(said("no holes"), length(0.0), (), 0)
    return Result(said("no hole nearer than {d} to a cut", d=length(least)), length(least), tuple(worst.values()))


def _apart(a: Line, b: Line) -> NDArray[np.float64]:
    """Distances `(n, m)` from each point of the one to each of the other."""
    x, y = a[:, :1] - b[:, 0], a[:, 1:] - b[:, 1]
    return np.sqrt(x * x + y * y)


def _in_row(seam: Seam) -> list[Fault]:
    """Two holes of one seam, whether they follow each other or not."""
    n = len(seam.points)
    if n < 2:
        return []
    apart = _apart(seam.points, seam.points)
    np.fill_diagonal(apart, np.inf)
    i, j = (int(k) for k in np.unravel_index(int(np.argmin(apart)), apart.shape))
    if apart[i, j] >= seam.pitch_mm / 2 - BY_HAND_MM:
        return []
    return [Fault("hold", "holes-near", said(
        "Holes {i} and {j} of the {seam} lie {d} apart, less than half a stitch.", i=count(min(i, j) + 1),
        j=count(max(i, j) + 1), d=length(float(apart[i, j])), seam=seam.title), seam.line.sewing.margin_at or "stitch.pitch_mm",
        station="stitch")]  # fmt: skip


def _between(
    piece: Piece, one: Seam, a: Line, some: NDArray[np.intp], two: Seam, b: Line, others: NDArray[np.intp]
) -> list[Fault]:
    apart = _apart(a, b)
    wanted = DIAMETERS * (one.hole_mm + two.hole_mm) / 2
    if apart.min() >= wanted - BY_HAND_MM:
        return []
    i, j = (int(k) for k in np.unravel_index(int(np.argmin(apart)), apart.shape))
    return [Fault("look", "seams-near", said(
        "On the {piece} hole {i} of the {one} lies {d} from hole {j} of the {two}: the leather "
        "between tears.", i=count(some[i] + 1), j=count(others[j] + 1), d=length(float(apart.min())), piece=piece.title,
        one=one.title, two=two.title),
        one.line.sewing.margin_at or "stitch.pitch_mm", station="stitch")]  # fmt: skip


def _ornament(piece: Piece, seams: list[tuple[Seam, Line, NDArray[np.intp]]]) -> list[Fault]:
    """Holes of a punched row beside those of a seam."""
    faults = []
    for mark in piece.ornament:
        if mark.size_mm <= 0:
            continue
        for seam, holes, numbers in seams:
            apart = _apart(holes, mark.line)
            if apart.min() < DIAMETERS * (seam.hole_mm + mark.size_mm) / 2 - BY_HAND_MM:
                i = int(np.argmin(apart.min(axis=1)))
                faults.append(Fault("look", "ornament-near-seam", said(
                    "The punched row of the {piece} comes within {d} of hole {i} of the {seam}.",
                    d=length(float(apart.min())), i=count(numbers[i] + 1), piece=piece.title, seam=seam.title),
                    f"ornaments.{mark.id.removeprefix('ornament/')}.in_mm",
                    station="stitch"))  # fmt: skip
    return faults


@remembered("piece")
def _on(piece: Piece, seams: tuple[tuple[Seam, int, bool], ...]) -> tuple[tuple[Fault, ...], float]:
    """The holes of seams on one piece, each the piece of so many of its layers, and how near the nearest comes to a cut; those
    that are held between others, or wrapped by the thread where it ends, do not tear at their own. Remembered: most edits leave
    most pieces as they were.
    """
    every = [(seam, held, seam.on(k)[numbers], numbers) for seam, k, held in seams if len(numbers := seam.there(k))]
    if not every:
        return (), np.inf
    points = np.concatenate([holes for _, _, holes, _ in every])
    to_cut = from_line(points, cut_of(piece))
    outside = ~shapely.contains_xy(area_of(piece), *points.T) & (to_cut > A_HAIR_MM)
    beside = _beside_marks(piece, points)
    wanted = min(max(LEAST_FROM_CUT_MM, piece.thickness_mm), USUAL_MARGIN_MM)
    faults: list[Fault] = []
    nearest, end = np.inf, 0
    for seam, held, holes, numbers in every:
        at = seam.line.sewing.margin_at or "stitch.pitch_mm"
        here = slice(end, end := end + len(holes))
        cut, out = to_cut[here], outside[here]
        astray = bool(out.any())
        k = int(np.argmax(np.where(out, cut, -1.0)) if astray else np.argmin(cut))
        nearest = min(nearest, 0.0 if astray else np.inf if held else float(cut[k]))
        if astray or (not held and cut[k] < wanted - BY_HAND_MM):
            says = said("Hole {k} of the {seam} lies {d} beside the {piece}.") if astray else said(
                "Hole {k} of the {seam} lies {d} from the cut of the {piece}; {w} holds.")  # fmt: skip
            faults.append(Fault("hold" if astray else "look", "hole-near-edge", says.filled(
                seam=seam.title, piece=piece.title, k=count(numbers[k] + 1), d=length(float(cut[k])), w=length(wanted)
            ), at, station="stitch"))  # fmt: skip
        for code, clear, least, says in beside:
            k = int(np.argmin(clear[here]))
            if clear[here][k] < least - BY_HAND_MM:
                faults.append(Fault("look", code, says.filled(
                    k=count(numbers[k] + 1), d=length(max(float(clear[here][k]), 0.0)), seam=seam.title, piece=piece.title
                ), at, station="stitch"))  # fmt: skip
    return tuple(faults), nearest


def _beside_marks(piece: Piece, points: Line) -> list[tuple[str, Values, float, Said]]:
    """What else on a piece a hole may be too near to: what to call it, how far each point lies from it, how far it must, and
    what to say.
    """
    marks: list[tuple[str, Values, float, Said]] = []
    if piece.folds:
        marks.append(("hole-near-fold", from_line(points, *piece.folds), min(piece.thickness_mm, USUAL_MARGIN_MM),
                      said("Hole {k} of the {seam} lies {d} from a fold of the {piece}: it opens as that bends.")))  # fmt: skip
    for slot in piece.slots:
        marks.append(("hole-near-fastener", from_line(points, np.concatenate([slot, slot[:1]])), LEAST_FROM_CUT_MM,
                      said("Hole {k} of the {seam} leaves {d} of leather beside a slot.")))  # fmt: skip
    for punch in piece.punches:
        between = np.hypot(*(points - punch.centre).T) - punch.diameter_mm / 2
        marks.append(("hole-near-fastener", between, punch.diameter_mm / 2 + CAP_OVER_MM,
                      said("Hole {k} of the {seam} leaves {d} of leather beside the {punch}: its cap lies on the thread.",
                           punch=punch.title)))  # fmt: skip
    return marks


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
                least = min(least, _from_edge(body, lies.x_mm, lies.p, lies.q, seam.on(k)))
    tool = given.body
    if isinstance(tool, ToolBody):
        for seam in given.seams:
            if seam.line.sewing.keep_off is not None:
                least = min(least, _nearest(seam.points, tool.outline))
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


def _nearest(points: Line, ring: Line) -> float:
    """How near the nearest of the points comes to the area within a ring."""
    return float(shapely.distance(shapely.MultiPoint(points), area_of_ring(ring)))


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


def _from_edge(body: LongBody, x: Values, p: Line, q: Line, holes: Line) -> float:
    """How far the nearest of some holes lies from the edge on its way: at each station the farthest that any deeper
    section's edge reaches from the fold, laid flat along it as far as it lies in the middle plane.
    """
    bx, sweep = _edge_sweep(body, float(x[0]))
    sweep = np.interp(x, bx, sweep)
    away = (q - p) / np.maximum(np.hypot(*(q - p).T), 1e-9)[:, None]
    edge = p + away * sweep[:, None]
    return _nearest(holes, np.concatenate([thinned(p, THIN_MM), thinned(edge, THIN_MM)[::-1]]))


@remembered("part")
def _edge_sweep(body: LongBody, from_x: float) -> tuple[Values, Values]:
    """Stations of the blade, and how far from a straight fold its edge or any deeper one comes at most, laid flat."""
    blade, deep = body.blade & (body.x_mm >= from_x), body.x_mm >= from_x
    reach = body.edge_mm[blade] - float(body.top_mm[deep].min(initial=np.inf))
    flat = np.hypot(reach, body.thick_mm[blade] / 2)
    return body.x_mm[blade], np.maximum.accumulate(flat[::-1])[::-1]
