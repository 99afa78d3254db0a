"""Whether what is joined agrees: edges in length and shape, holes in number and place, pockets closed."""

import numpy as np
import shapely

from ..curve import Line, Values
from ..draft.joins import Join, Layer
from ..draft.pieces import Edge, Piece
from ..finding import Mend
from ..reckoning import count, length, percent
from ..stitch import Seam
from ..texts import Said, said, several
from .given import TRUE_MM, Assembled, Fault, Given, Result, cut_of, from_line, long

MOST_EASE = 0.05  # partner edges further apart than this pucker (common practice)
SAME_SHARE = 0.002  # partner edges nearer than this in length are one shape
LIE_MM = 0.3  # joined edges of one shape lie on each other as nearly as this
HOLLOW = 0.35  # and so much farther, as a share of it, where the edge is hollow: a cut bridges what the thread follows
MOST_CORNERS = 8  # a place for a strap's end has four
OFF_MARGIN_MM = 0.4  # holes may lie so much nearer to their edge than the margin: offsets are rounded, corners cut
ENDS_IN_MM = 3.0  # from the end of a line to its first and its last hole (common practice)
SHORT_OF_END = 3.0  # what lies between may end so many thicknesses short of a fold
AT = np.linspace(0, 1, 33)


def _shares(line: Line) -> Values:
    """Where along a line to look, as shares of it: evenly, and at its own points."""
    steps = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    return np.union1d(AT, steps / max(float(steps[-1]), 1e-9))


def _even(line: Line, shares: Line | np.ndarray) -> Line:
    """Points at shares of a line's length."""
    steps = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    return np.column_stack([np.interp(shares * steps[-1], steps, line[:, i]) for i in (0, 1)])


def laid_mm(one: Line, other: Line, *, flipped: bool) -> tuple[Line, Line]:
    """The motion, point @ turn + shift, that lays one line on another as well as may be, turned over when `flipped`: by the
    singular value decomposition of their covariance (Kabsch, Acta Cryst. A32 (1976), 922).
    """
    middle, there = one.mean(axis=0), other.mean(axis=0)
    u, _, vt = np.linalg.svd((one - middle).T @ (other - there))
    want = -1.0 if flipped else 1.0
    sign = np.array([1.0, want * np.sign(np.linalg.det(u @ vt)) or 1.0])
    turn = (u * sign) @ vt
    return turn, there - middle @ turn


def apart_mm(one: Line, other: Line, *, flipped: bool) -> float:
    """How far two lines lie apart at most when the one is laid on the other as well as may be, turned over when `flipped`."""
    turn, shift = laid_mm(one, other, flipped=flipped)
    return float(np.hypot(*(one @ turn + shift - other).T).max())


def _edge(given: Assembled, layer: Layer) -> Line | None:
    return next((e.line for e in given.assembly.piece(layer.piece).edges if e.id == layer.part), None)


def agree(given: Assembled) -> Result:
    """Joined edges agree in length within what their seam allows, and lie on each other where nothing is eased."""
    faults: list[Fault] = []
    pairs, worst = 0, 0.0
    for join in given.assembly.joins:
        placed = [(x, given.assembly.piece(x.piece), _edge(given, x)) for x in join.layers]
        first = next(((x, p, e) for x, p, e in placed if e is not None and not x.between), None)
        if first is None or join.shape == "box":
            continue
        for layer, piece, edge in placed:
            if layer is first[0] or (edge is None and not join.shaped):
                continue
            pairs += 1
            fault, off = _agree(join, first, layer, piece, edge) if edge is not None else _agree_along(join, layer)
            worst = max(worst, off)
            faults += [fault] if fault else []
    return Result(several("{n} pair of edges laid together, lengths at most {d} apart",
                          "{n} pairs of edges laid together, lengths at most {d} apart", n=count(pairs), d=length(worst)),
                          length(worst), tuple(faults), pairs)  # fmt: skip


def _agree(
    join: Join, first: tuple[Layer, Piece, Line | None], layer: Layer, piece: Piece, edge: Line
) -> tuple[Fault | None, float]:
    own, line = first[1], first[2]
    assert line is not None
    a, b = long(line), long(edge)
    if layer.between:
        over = layer.from_mm + b - a
        if over > TRUE_MM:
            return Fault("hold", "between-too-long", said(
                "The {piece} is {d} longer than the edge of the {own} it lies along.", d=length(over), piece=piece.title,
                own=own.title),
                join.id), over  # fmt: skip
        at = _shares(edge)
        off = apart_mm(_even(line, (layer.from_mm + at * b) / max(a, 1e-9)), _even(edge, at), flipped=False)
        if off > LIE_MM:
            return Fault("hold", "edges-differ", said(
                "The edge of the {piece} leaves that of the {own} by {d}: their cuts are not flush.",
                d=length(off), piece=piece.title, own=own.title), join.id), off  # fmt: skip
        return None, 0.0
    if (
        join.shape == "glued" and piece.stock.sort == "leather"
    ):  # a cap's edge goes round the outside of the leather it closes
        a += 2 * np.pi * own.thickness_mm
        if abs(a - b) > 4 * np.pi * own.thickness_mm:
            return Fault("hold", "edges-differ", said(
                "The edges of the {join} differ by {d}.", d=length(abs(a - b)), join=join.title),
                join.id), abs(a - b)  # fmt: skip
        return None, 0.0
    if join.sewing is not None and join.sewing.closed:
        return _agree_round(join, first, layer, piece)
    share = abs(a - b) / max(a, 1e-9)
    if (
        share > MOST_EASE and join.sewing is not None and layer.along is not None
    ):  # round a corner the cuts differ, not the seams
        a, b = long(join.sewing.line), long(layer.along)
        share = abs(a - b) / max(a, 1e-9)
    if share > MOST_EASE:
        return Fault("hold", "edges-differ", said(
            "The edges of the {join} are {a} and {b} long, {s} apart: one would pucker.", a=length(a), b=length(b),
            s=percent(share), join=join.title), join.id), abs(a - b)  # fmt: skip
    eased = share > SAME_SHARE and (layer.along is not None or first[0].along is not None)
    if not eased and join.shape != "scarf" and not join.shaped:
        at = np.union1d(_shares(edge), 1 - _shares(line))
        off = apart_mm(_even(line, 1 - at), _even(edge, at), flipped=True)
        if off > LIE_MM:
            return Fault("hold", "edges-differ", said(
                "The edges of the {join} leave each other by {d}: they are not mirror images.", d=length(off), join=join.title),
                join.id), off  # fmt: skip
    return None, abs(a - b)


def _agree_along(join: Join, layer: Layer) -> tuple[Fault | None, float]:
    """A panel sewn under the edge of another agrees with that along their thread."""
    if join.sewing is None or layer.along is None:
        return None, 0.0
    a, b = long(join.sewing.line), long(layer.along)
    if abs(a - b) > MOST_EASE * a:
        return Fault("hold", "edges-differ", said(
            "Along the {join} the one is {a} long and the other {b}, {s} apart: one would pucker.", a=length(a), b=length(b),
            s=percent(abs(a - b) / max(a, 1e-9)), join=join.title), join.id), abs(a - b)  # fmt: skip
    return None, abs(a - b)


def _agree_round(
    join: Join, first: tuple[Layer, Piece, Line | None], layer: Layer, piece: Piece
) -> tuple[Fault | None, float]:
    """A disc in the end of a wall, whose edge is bent round: edges that are turned in agree along their seam, those that meet
    in a corner outside.
    """
    assert join.sewing is not None
    assert first[2] is not None
    edge = next(e.line for e in piece.edges if e.id == layer.part)
    if join.turned:
        ring = join.sewing.line
        a, b = long(np.concatenate([ring, ring[:1]])), long(layer.along if layer.along is not None else edge)
    else:
        a, b = long(first[2]), long(edge) + 2 * np.pi * (1 - piece.stock.neutral) * piece.thickness_mm
    if abs(a - b) > MOST_EASE * a:
        return Fault("hold", "edges-differ", said(
            "Round the {join} the one is {a} long and the other {b}, {s} apart: one would pucker.", a=length(a), b=length(b),
            s=percent(abs(a - b) / a), join=join.title), join.id), abs(a - b)  # fmt: skip
    return None, abs(a - b)


def holes(given: Given) -> Result:
    """Each seam has as many holes on every piece it goes through, and runs its margin from the edge there."""
    faults: list[Fault] = []
    n = 0
    for seam in given.seams:
        join = given.assembly.join(seam.id)
        counts = {}
        for k, layer in enumerate(join.layers):
            edge = _edge(given, layer)
            there = seam.there(k)
            n += len(there)
            if not layer.between and not layer.ends and seam.line.placed[k].within is None:
                counts[layer.piece, layer.part] = len(there)
            if edge is None or join.shape == "box" or not len(there) or seam.line.sewing.kept:
                continue
            if k == 0 and (fault := _off_line(seam)) is not None:
                faults.append(fault)
            points = seam.on(k)[there]
            off = from_line(points, edge)
            margin = min(seam.line.margin_mm, 0.45 * _across(given, layer.piece))
            far = np.where(
                (there == 0) | (there == len(seam.points) - 1), margin, off
            )  # the ends may lie outside a layer
            near = float(margin - off.min())
            beyond = float(far.max()) - (1 + HOLLOW) * seam.line.margin_mm - _cut_off(seam)
            if max(near, beyond) > OFF_MARGIN_MM:
                k_off = int(np.argmin(off) if near >= beyond else np.argmax(far))
                low, hole = float(off[k_off]), int(there[k_off]) + 1
                faults.append(Fault("hold", "seam-off-edge", said(
                    "The {seam} does not run {e} from the edge of the {piece}: hole {k} lies {d} from it.",
                    e=length(seam.line.margin_mm), k=count(hole), d=length(low), seam=seam.title,
                    piece=given.assembly.piece(layer.piece).title),
                    seam.line.sewing.margin_at or seam.id, station="stitch"))  # fmt: skip
        if len(set(counts.values())) > 1:
            faults.append(Fault("hold", "counts-differ", said(
                "The {seam} has {a} holes on one edge and {b} on the other.", a=count(min(counts.values())),
                b=count(max(counts.values())), seam=seam.title), seam.id, station="stitch"))  # fmt: skip
    return Result(said("{n} holes, as many on either edge", n=count(n)), count(n), tuple(faults), n)


def _off_line(seam: Seam) -> Fault | None:
    """A hole beside the line that is sewn."""
    line = seam.line.line
    ring = np.concatenate([line, line[:1]]) if seam.line.closed else line
    inner = seam.points if seam.line.closed else seam.points[1:-1]  # the ends may lie beyond it
    if seam.line.shape == "box" or not len(inner):
        return None
    off = from_line(inner, ring)
    k = int(np.argmax(off))
    if off[k] <= OFF_MARGIN_MM + _cut_off(seam):
        return None
    return Fault("hold", "seam-off-edge", said(
        "Hole {k} of the {seam} lies {d} beside the line that is sewn.", k=count(k + (1 if seam.line.closed else 2)),
        d=length(float(off[k])), seam=seam.title), seam.line.sewing.margin_at or seam.id, station="stitch")  # fmt: skip


def meet(given: Given) -> Result:
    """When the pieces are put together each hole of a seam lies on that of the other layers: where their edges lie on each
    other, hole by hole; where one is eased or bent to the other, from the ends of both.
    """
    faults: list[Fault] = []
    pairs, worst = 0, 0.0
    for seam in given.seams:
        join = given.assembly.join(seam.id)
        for k, off_mm in _seated(given, seam, join):
            pairs, worst = pairs + 1, max(worst, off_mm)
            if off_mm > seam.pitch_mm / 4 + LIE_MM:
                faults.append(Fault("hold", "holes-astray", said(
                    "Put together by the holes of the {seam}, the {piece} lies {d} from where it is to be on the {own}.",
                    d=length(off_mm), seam=seam.title, piece=given.assembly.piece(join.layers[k].piece).title,
                    own=given.assembly.piece(join.layers[0].piece).title), seam.id, station="stitch"))  # fmt: skip
        lines = [_edge(given, x) for x in join.layers]
        base = next((k for k, line in enumerate(lines) if line is not None and not join.layers[k].between), None)
        if base is None or seam.line.sewing.kept:  # holes of an old piece lie where they lay
            continue
        for k, layer in enumerate(join.layers):
            line, own = lines[k], lines[base]
            both = np.intersect1d(seam.there(base), seam.there(k))
            if k == base or line is None or own is None or not len(both):
                continue
            off = None
            if not (
                join.shaped and layer.along is not None
            ):  # bent to it, or over it, their threads agree, not their cuts
                off = _astray(seam.on(base)[both], own, seam.on(k)[both], line, layer, join)
            if off is None and layer.along is not None and not seam.line.closed:
                off = _facing(seam.on(base)[both], seam.line.line, seam.on(k)[both], layer.along)
            if off is None:
                continue
            pairs, worst = pairs + 1, max(worst, off[0])
            if off[0] > seam.pitch_mm / 4 + LIE_MM:
                faults.append(Fault("hold", "holes-astray", said(
                    "Put together, hole {k} of the {seam} in the {piece} lies {d} from where it is in the {own}.",
                    k=count(int(both[off[1]]) + 1), d=length(off[0]), seam=seam.title,
                    piece=given.assembly.piece(layer.piece).title,
                    own=given.assembly.piece(join.layers[base].piece).title), seam.id, station="stitch"))  # fmt: skip
    return Result(several("{n} pair of rows laid together, holes at most {d} apart",
                          "{n} pairs of rows laid together, holes at most {d} apart", n=count(pairs), d=length(worst)),
                  length(worst), tuple(faults), pairs)  # fmt: skip


def _seated(given: Given, seam: Seam, join: Join) -> list[tuple[int, float]]:
    """The layers of what is sewn upon a face, each with how far it comes to lie from the place drawn for it there, or a hole of
    it from the one it is sewn to: laid by its holes, the corners of that place lie on its cut.
    """
    seat = given.assembly.line_of(join.layers[0])
    if given.assembly.is_edge(join.layers[0]) or not 2 < len(seat) <= MOST_CORNERS or seam.line.sewing.kept:
        return []
    found = []
    for k, layer in enumerate(join.layers):
        both = np.intersect1d(seam.there(0), seam.there(k))
        upon = layer.part and not given.assembly.is_edge(layer)  # the face of something else
        if k == 0 or layer.along is not None or layer.between or upon or len(both) < 2:
            continue
        on, own = seam.on(0)[both], seam.on(k)[both]
        piece = given.assembly.piece(layer.piece)
        cut, ends = cut_of(piece), given.assembly.line_of(layer)
        off = np.inf
        for flipped in (True, False):
            turn, shift = laid_mm(on, own, flipped=flipped)
            holes = float(np.hypot(*(on @ turn + shift - own).T).max())
            at = seat @ turn + shift
            corners = np.sort(np.hypot(*(at[:, None] - ends[None]).transpose(2, 0, 1)).min(axis=1))
            # two corners are its end's
            off = min(off, max(holes, float(corners[1]), float(from_line(at, cut).max())))
        found.append((k, off))
    return found


def _astray(points: Line, own: Line, others: Line, line: Line, layer: Layer, join: Join) -> tuple[float, int] | None:
    """How far the holes of one layer lie at most from those of another, along its edge `line` and the other's `own`, and which;
    None where neither lies on the other. What is drawn from outside runs against, what lies between or
    under runs with it; a straight edge lies on another turned over or not. Edges that butt lie beside each other: there
    holes face each other along them.
    """
    a, b = long(own), long(line)
    found: list[tuple[float, int]] = []
    if join.shape == "butt":
        return _facing(points, own, others, line)
    at = np.union1d(_shares(line), 1 - _shares(own))
    for there in ((layer.from_mm + at * b) / max(a, 1e-9),) if layer.between else (1 - at, at):
        if there.max() > 1 + 1e-6:
            continue
        on, under = _even(line, at), _even(own, there)
        for flipped in (True, False):
            turn, shift = laid_mm(on, under, flipped=flipped)
            if np.hypot(*(on @ turn + shift - under).T).max() <= LIE_MM:
                apart = np.hypot(*(others @ turn + shift - points).T)
                found.append((float(apart.max()), int(np.argmax(apart))))
    return min(found, default=None)


def _facing(points: Line, own: Line, others: Line, line: Line) -> tuple[float, int]:
    """How far holes along one line lie at most from those along another that is eased to it, either way round, and which."""
    a, b = long(own), long(line)
    one, other = (
        shapely.line_locate_point(shapely.LineString(x), shapely.points(p)) for x, p in ((own, points), (line, others))
    )
    ways = [np.abs(one - way * a / max(b, 1e-9)) for way in (b - other, other)]
    return min((float(apart.max()), int(np.argmax(apart))) for apart in ways)


def covered(given: Given) -> Result:
    """What closes a shell by a seam is closed as far as its holes go, from end to end: nothing slips out before the first
    hole, after the last or between two.
    """
    faults: list[Fault] = []
    looked, worst = 0, 0.0
    for _, joins in given.closing:
        for join in joins:
            seam = given.seam(join.id)
            if seam is None or join.shape == "box" or seam.line.sewing.kept:
                continue
            steps = np.hypot(*np.diff(seam.points, axis=0).T)
            if len(steps) and steps.max() > 2 * seam.pitch_mm + LIE_MM:
                k = int(np.argmax(steps))
                faults.append(Fault("hold", "not-covered", said(
                    "Between its holes {a} and {b} the {seam} is open for {d}.", a=count(k + 1), b=count(k + 2),
                    d=length(float(steps[k])), seam=seam.title), seam.id, station="stitch"))  # fmt: skip
            for k, layer in enumerate(join.layers):
                edge = _edge(given, layer)
                there = seam.there(k)
                if edge is None or layer.between or len(there) < 2:
                    continue
                looked += 1
                along = np.sort(shapely.line_locate_point(shapely.LineString(edge), shapely.points(seam.on(k)[there])))
                end = ENDS_IN_MM + 2 * (seam.pitch_mm + seam.line.margin_mm)
                ends = [float(along[0]), long(edge) - float(along[-1])]
                gap = max(ends) if not seam.line.closed else sum(ends)
                worst = max(worst, gap)
                if gap > end:
                    faults.append(Fault("hold", "not-covered", said(
                        "The {seam} leaves {d} of the {edge} of the {piece} open: its holes do not reach the end.",
                        d=length(gap), seam=seam.title, edge=_title(given, layer),
                        piece=given.assembly.piece(layer.piece).title), seam.id, _sewn_farther(seam), "stitch"))  # fmt: skip
    return Result(several("{n} edge sewn to {d} from its ends at most", "{n} edges sewn to {d} from their ends at most",
                          n=count(looked), d=length(worst)), length(worst), tuple(faults), looked)  # fmt: skip


def _sewn_farther(seam: Seam) -> tuple[Mend, ...]:
    """Both ends as near the ends of the line as is usual, where they were chosen to be farther in."""
    ends = float(seam.s_mm[0]), long(seam.line.line) - float(seam.s_mm[-1])
    if max(ends) <= ENDS_IN_MM + seam.pitch_mm:
        return ()
    return (Mend(said("sew to the ends"), (("stitch.start_in_mm", ENDS_IN_MM), ("stitch.end_in_mm", ENDS_IN_MM))),)


def _title(given: Assembled, layer: Layer) -> Said:
    return next(e.title for e in given.assembly.piece(layer.piece).edges if e.id == layer.part)


def _cut_off(seam: Seam) -> float:
    """How far a line whose corners are rounded may leave them."""
    return seam.round_mm * (np.sqrt(2) - 1)


def _across(given: Assembled, piece: str) -> float:
    return float(np.ptp(given.assembly.piece(piece).outline, axis=0).min())


def closed(given: Assembled) -> Result:
    """Walking round what is left of each shell's edges when its joins are made, all of it is mouth."""
    faults: list[Fault] = []
    loops = 0
    for shell, joins in given.closing:
        left = _loops(given, shell.pieces, joins)
        loops += len(left)
        for loop in left:
            for piece, edge in loop:
                if edge.open != "mouth" and shell.way != "wrapped":
                    faults.append(Fault("hold", "not-closed", said(
                        "The {shell} is open along the {edge} of the {piece}, {l}: it is neither sewn, folded nor a "
                        "mouth.", l=length(long(edge.line)), shell=shell.title, edge=edge.title, piece=piece.title),
                        piece.id))  # fmt: skip
        if shell.way != "wrapped" and not any(e.open == "mouth" for loop in left for _, e in loop):
            faults.append(
                Fault("hold", "no-mouth", said("The {shell} has no mouth to go in by.", shell=shell.title), shell.id)
            )
        open_ = any(x.shell == shell.id and x.open_mm is not None for x in given.assembly.lies)
        if shell.way == "wrapped" and not open_ and not any(_both_edges(given, j) for j in joins):
            faults.append(Fault("hold", "not-closed", said(
                "The {shell} goes all round, and nothing holds its edges to each other.", shell=shell.title),
                shell.pieces[0]))  # fmt: skip
    for join in given.assembly.joins:
        for k, layer, piece in given.between(join):
            inner, line = _edge(given, layer), _edge(given, join.layers[0])
            if inner is None or line is None or layer.from_mm > 0 or k == 0 or layer.turn is not None:
                continue
            short = long(line) - long(inner)
            end = (
                SHORT_OF_END * given.assembly.piece(join.layers[0].piece).thickness_mm
                + piece.thickness_mm * layer.count
            )
            if short > end:
                faults.append(Fault("hold", "between-too-short", said(
                    "The {piece} ends {d} short of the seam it should fill.", d=length(short), piece=piece.title),
                    join.id))  # fmt: skip
    n = len(given.assembly.shells)
    return Result(
        said("{surfaces} walked round, {openings} left", surfaces=several("{n} surface", "{n} surfaces", n=count(n)),
             openings=several("{n} opening", "{n} openings", n=count(loops)) if loops else said("none")),
        count(loops), tuple(faults), n,
    )  # fmt: skip


def _both_edges(given: Assembled, join: Join) -> bool:
    """Whether a join holds two edges to each other."""
    return sum(given.assembly.is_edge(x) and not x.between for x in join.layers) > 1


def _loops(given: Assembled, pieces: tuple[str, ...], joins: tuple[Join, ...]) -> list[list[tuple[Piece, Edge]]]:
    """The loops of edges that stay open when the joins are made. At the end of an edge the walk goes on with the next of its
    ring; where that one is joined, with the one after its partner.
    """
    ring: dict[tuple[str, str], tuple[str, str]] = {}
    edges: dict[tuple[str, str], tuple[Piece, Edge]] = {}
    for id in pieces:
        piece = given.assembly.piece(id)
        own = [e for e in piece.edges if e.ring == 0]
        for edge, after in zip(own, [*own[1:], *own[:1]], strict=True):
            ring[id, edge.id] = (id, after.id)
            edges[id, edge.id] = (piece, edge)
    partner: dict[tuple[str, str], tuple[str, str]] = {}
    for join in joins:
        meet = [(x.piece, x.part) for x in join.layers if (x.piece, x.part) in edges and not x.between]
        if len(meet) == 2:
            partner[meet[0]], partner[meet[1]] = meet[1], meet[0]
    left, loops = [e for e in edges if e not in partner], []
    while left:
        loop, at = [], left[0]
        while True:
            loop.append(edges[at])
            left.remove(at)
            at = ring[at]
            seen: set[tuple[str, str]] = set()
            while at in partner and at not in seen:
                seen.add(at)
                at = ring[partner[at]]
            if at not in left:
                break
        loops.append(loop)
    return loops
