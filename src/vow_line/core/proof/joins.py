"""Whether what is joined agrees: edges in length and shape, holes in number and place, pockets closed."""

import numpy as np

from ..curve import Line, Values
from ..draft.joins import Join, Layer
from ..draft.pieces import Edge, Piece
from ..reckoning import count, length, percent
from ..stitch import Seam
from ..texts import said, several
from .given import TRUE_MM, Assembled, Fault, Given, Result, from_line, long

MOST_EASE = 0.05  # partner edges further apart than this pucker (common practice)
SAME_SHARE = 0.002  # partner edges nearer than this in length are one shape
LIE_MM = 0.3  # joined edges of one shape lie on each other as nearly as this
HOLLOW = 0.35  # and so much farther, as a share of it, where the edge is hollow: a cut bridges what the thread follows
OFF_MARGIN_MM = 0.4  # holes may lie so much nearer to their edge than the margin: offsets are rounded, corners cut
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


def apart_mm(one: Line, other: Line, *, flipped: bool) -> float:
    """How far two lines lie apart at most when the one is laid on the other as well as may be, turned over when `flipped`: by
    the singular value decomposition of their covariance (Kabsch, Acta Cryst. A32 (1976), 922).
    """
    p, q = one - one.mean(axis=0), other - other.mean(axis=0)
    u, _, vt = np.linalg.svd(p.T @ q)
    want = -1.0 if flipped else 1.0
    sign = np.array([1.0, want * np.sign(np.linalg.det(u @ vt)) or 1.0])
    return float(np.hypot(*((p @ (u * sign) @ vt) - q).T).max())


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
