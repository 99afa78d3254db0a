"""The drawing of a piece with its holes: what the board shows and every pattern file writes."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from ..curve import Line, arc_length, frozen, headings
from ..draft import Draft, Piece
from ..draft.drafted import TriedEdges
from ..draft.together import patterns
from ..drawing import Mark
from ..memory import remembered
from .seams import Seam
from .stitching import Stitching

SLANT_RAD = np.radians(38)  # pricked slits lie aslant to the seam
SHEET_GAP_MM = 12.0
BESIDE_MM, STEP_MM = (
    12.0,
    8.0,
)  # least from piece to piece; they begin at whole steps: most edits move the edited one alone
TRIED_NEAR_MM = 30.0  # so near to an edge it is pointed at
BOARD, MOST_ROWS, LARGER = 2.0, 4, 0.7  # a board is about so many times as wide as high
NAME_SHARE = 0.08  # room over a piece for its name, as a share of how large the first one is drawn
TICK_FROM_MM, TICK_TO_MM = 1.4, 3.0


@dataclass(frozen=True, slots=True, eq=False)
class OnSheet:
    """A piece with its marks moved to its place on the sheet of all pieces."""

    piece: Piece
    shift: tuple[float, float]
    marks: tuple[Mark, ...]


def pattern(piece: Piece, stitching: Stitching) -> tuple[Mark, ...]:
    """Everything drawn on one piece in its own frame: grain, glue, skive, folds, cut, punches, holes and their slants."""
    assembly = stitching.draft.assembly
    glue = tuple(np.ascontiguousarray(a.ring).tobytes() for a in assembly.glue.get(piece.id, ()))
    early = frozenset(e.id for e in piece.edges if assembly.finish(piece, e).when == "early")
    sewn = tuple(
        (seam, k) for seam in stitching.seams for k, placed in enumerate(seam.line.placed) if placed.piece == piece.id
    )
    return _pattern(piece, glue, early, sewn, stitching.choices.mark_every)


@remembered("piece")
def _pattern(
    piece: Piece, glue: tuple[bytes, ...], early: frozenset[str], sewn: tuple[tuple[Seam, int], ...], mark_every: int
) -> tuple[Mark, ...]:
    """The drawing of a piece by all it depends on: where it is glued, which edges are finished by themselves, its seams."""
    marks: list[Mark] = [Mark("grain" if piece.side_up == "grain" else "flesh", piece.outline, True, piece.id)]
    marks += [Mark("glue", frozen(np.frombuffer(ring).reshape(-1, 2)), True, f"glue/{piece.id}") for ring in glue]
    marks += [Mark("skive", a.ring, True, "skive") for a in piece.skives]
    marks += [Mark("fold", line, id="fold") for line in piece.folds]
    marks.append(Mark("cut", piece.outline, True, piece.id))
    marks += [Mark("edge", e.line, id=f"{piece.id}/{e.id}") for e in piece.edges if e.id in early]
    marks += [Mark("cut", slot, True, piece.id) for slot in piece.slots]
    marks += piece.ornament
    for punch in piece.punches:
        marks.append(Mark("cut", frozen([punch.centre]), id=punch.id, size_mm=punch.diameter_mm))
    for seam, k in sewn:
        marks += _holes(seam, k, mark_every)
    return tuple(marks)


@remembered("piece")
def _shifted(marks: tuple[Mark, ...], shift: tuple[float, float]) -> tuple[Mark, ...]:
    """Marks of a piece where it lies on a sheet."""
    return tuple(m.moved(*shift) for m in marks)


@remembered("seam")
def _holes(seam: Seam, k: int, mark_every: int) -> tuple[Mark, ...]:
    """The slits and holes of a seam on the k-th piece it goes through, and the marks that keep it in step with the others."""
    points, there = seam.on(k), seam.there(k)
    (a, b), (c, d) = seam.line.placed[k].turn.tolist()
    flipped = a * d < b * c
    order, first = np.array(seam.order), np.unique(seam.order, return_index=True)[1]
    slits = slants(points[order], seam.pitch_mm * 0.6, -SLANT_RAD if flipped else SLANT_RAD)[first[there]]
    marks = (seen(seam, points[there], slits), Mark("hole", frozen(points[there]), id=seam.id, size_mm=seam.hole_mm))
    meets = len(seam.line.placed) > 1 and seam.line.shape == "line" and len(points) > mark_every > 0
    return (*marks, _in_step(seam, points, mark_every)) if meets else marks


def seen(seam: Seam, points: Line, slits: Line) -> Mark:
    """Holes as they look: points `(n, 2)` where the tooth is round, else their slits `(n, 2, 2)`."""
    if seam.tooth == "round":
        return Mark("stitch", frozen(points), id=seam.id, size_mm=seam.hole_mm)
    return Mark("stitch", frozen(slits.reshape(-1, 2)), id=seam.id, pairs=True)


def _in_step(seam: Seam, points: Line, every: int) -> Mark:
    """A tick beside every so many holes, by which the edges that meet are kept in step."""
    at = np.arange(every - 1, len(points), every)
    square = headings(points)[at] @ np.array([[0.0, 1.0], [-1.0, 0.0]])
    ends = np.stack([points[at] + square * TICK_FROM_MM, points[at] + square * TICK_TO_MM], axis=1)
    return Mark("mark", frozen(ends.reshape(-1, 2)), id=f"{seam.id}/marks", pairs=True)


def slants(points: Line, long_mm: float, slant_rad: float) -> Line:
    """Slits `(n, 2, 2)` through the points, turned by `slant_rad` from the line they lie on."""
    c, s = np.cos(slant_rad), np.sin(slant_rad)
    half = headings(points) @ (np.array([[c, s], [-s, c]]) * long_mm / 2)
    return np.stack([points - half, points + half], axis=1)


def beside(draft: Draft, stitching: Stitching, ids: Iterable[str]) -> tuple[OnSheet, ...]:
    """Pieces about the first, which stays in its own frame: tall ones to the right of it, in rows where they are many, wide
    ones below.
    """
    placed: list[OnSheet] = []
    left, reached, level, down, gap = 0.0, 0.0, 0.0, 0.0, BESIDE_MM
    pieces = [draft.piece(id) for id in ids]
    sizes = [(right - left, low - top) for left, top, right, low in map(_box, pieces)]
    upright = [(wide, tall) for k, (wide, tall) in enumerate(sizes) if k == 0 or wide <= tall]
    across = sum(wide + BESIDE_MM for wide, _ in upright)
    most = across / _rows_of(across, max((tall for _, tall in upright), default=0.0))
    for piece in pieces:
        x, y, far, low = _box(piece)
        wide, tall = far - x, low - y
        if not placed:
            shift, reached, level, down = (0.0, 0.0), far, y, low
            left, gap = x, max(BESIDE_MM, NAME_SHARE * max(across, tall))
        elif wide > tall:
            shift = (left - x, _stepped(down + gap) - y)
            down = _stepped(down + gap) + tall
            reached = max(reached, left + wide)
        else:
            begins = _stepped(reached + BESIDE_MM)
            if begins + wide / 2 - left > most:  # most of it would lie beyond: it begins another row
                begins, level = left, _stepped(down + gap)
            shift, reached = (begins - x, level - y), begins + wide
            down = max(down, level + tall)
        marks = pattern(piece, stitching)
        placed.append(OnSheet(piece, shift, _shifted(marks, shift) if placed else marks))
    return tuple(placed)


@remembered("piece")
def _box(piece: Piece) -> tuple[float, float, float, float]:
    """Where a piece begins and ends, right and down."""
    (left, top), (right, low) = piece.outline.min(axis=0).tolist(), piece.outline.max(axis=0).tolist()
    return left, top, right, low


def _rows_of(across_mm: float, tall_mm: float) -> int:
    """In how many rows pieces side by side are drawn largest: in one, unless more make them clearly larger."""
    size = {n: max(across_mm / n / BOARD, n * (tall_mm + 2 * BESIDE_MM)) for n in range(1, MOST_ROWS + 1)}
    best = min(size, key=lambda n: size[n])
    return best if size[best] < LARGER * size[1] else 1


def _stepped(mm: float) -> float:
    return float(np.ceil(mm / STEP_MM) * STEP_MM)


def sheet(draft: Draft, stitching: Stitching) -> tuple[OnSheet, ...]:
    """A pattern of every piece side by side, not overlapping, from the top left corner at (0, 0)."""
    placed: list[OnSheet] = []
    right = 0.0
    for piece in patterns(draft):
        low = piece.outline.min(axis=0)
        shift = (right - float(low[0]), -float(low[1]))
        placed.append(OnSheet(piece, shift, tuple(m.moved(*shift) for m in pattern(piece, stitching))))
        right += float(np.ptp(piece.outline[:, 0])) + SHEET_GAP_MM
    return tuple(placed)


def rows(draft: Draft, stitching: Stitching, across_over_down: float, above_mm: float = 0.0) -> tuple[OnSheet, ...]:
    """All pieces in rows from the top left, in their order, with `above_mm` free over each: of all widths of a row the one by
    which they are drawn largest in a space so many times as wide as high.
    """
    sizes = [np.ptp(piece.outline, axis=0) + [SHEET_GAP_MM, SHEET_GAP_MM + above_mm] for piece in draft.pieces]
    wide = np.array([size[0] for size in sizes])
    best = min(
        (_in_rows(sizes, float(wide[a:b].sum())) for a in range(len(wide)) for b in range(a + 1, len(wide) + 1)),
        key=lambda laid: max(laid[1][0] / across_over_down, laid[1][1]), default=([], (0.0, 0.0)),
    )[0]  # fmt: skip
    placed = []
    for piece, (x, y) in zip(draft.pieces, best, strict=True):
        low = piece.outline.min(axis=0)
        shift = (x - float(low[0]), y + above_mm - float(low[1]))
        placed.append(OnSheet(piece, shift, tuple(m.moved(*shift) for m in pattern(piece, stitching))))
    return tuple(placed)


def _in_rows(sizes: list[Line], across_mm: float) -> tuple[list[tuple[float, float]], tuple[float, float]]:
    """Where boxes of these sizes begin in rows as wide as `across_mm` or the widest box, and how wide and high they are."""
    at: list[tuple[float, float]] = []
    x = y = tall = most = 0.0
    for wide, high in (size.tolist() for size in sizes):
        if x > 0 and x + wide > across_mm + 1e-9:
            x, y, tall = 0.0, y + tall, 0.0
        at.append((x, y))
        x, tall = x + wide, max(tall, high)
        most = max(most, x)
    return at, (most, y + tall)


def tried_at(edges: TriedEdges, laid: Sequence[OnSheet], at: tuple[float, float] | None) -> tuple[str, float] | None:
    """The edge nearest to a place on a drawing of pieces, and how far along it that is; the middle of the first where none is
    pointed at; None where no edge lies near.
    """
    if at is None:
        first = next(iter(edges.lines), None)
        return None if first is None else (first, float(arc_length(edges.lines[first][1])[-1]) / 2)
    shifts = {sheet.piece.id: np.array(sheet.shift) for sheet in laid}
    there = [
        (line.distance(point), id, line.project(point))
        for id, (piece, points) in edges.lines.items() if piece in shifts
        for line, point in [(shapely.LineString(points), shapely.Point(np.array(at) - shifts[piece]))]
    ]  # fmt: skip
    far, edge, along = min(there, default=(np.inf, "", 0.0))
    return (edge, float(along)) if far <= TRIED_NEAR_MM else None
