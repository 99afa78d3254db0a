"""A pouch sewn round its gussets: its front with the flap over it, its back with what it hangs by."""

from collections.abc import Iterator, Sequence

import numpy as np
import shapely

from ..curve import Line, area_within, frozen
from ..draft.assembly import Assembly
from ..drawing import Mark
from ..measure.body import BoxBody
from ..thread.sewn import SewnSeam
from .deep import BELT_OUT_MM, Deep, belt, leather, stitches
from .lying import lie

BODY, FLAP, GUSSET = 1.0, 3.0, 0.5


def boxed(assembly: Assembly, seams: Sequence[SewnSeam], of: BoxBody) -> list[Deep]:
    """All that is seen from the front and, at levels below 0, from the back; its mouth in front at y = 0, down the pouch."""
    box = assembly.boxed[0]
    body = assembly.piece(box.piece)
    mouth = float(body.edge("mouth").line[:, 1].mean())
    sides = [s for s in seams if {p.piece for p in s.seam.line.placed} & set(box.gussets)]
    sewn = float(np.ptp(sides[0].seam.line.line[:, 1]))
    high = float(max(np.ptp(p.along[:, 1]) for s in sides for p in s.seam.line.placed if p.along is not None))
    over = box.below_mm * 2 + of.deep_mm
    deep: list[Deep] = []

    def front(line: Line) -> Line:
        return np.column_stack([line[:, 0], mouth - line[:, 1]])

    def back(line: Line) -> Line:
        return np.column_stack([line[:, 0], sewn - (mouth - line[:, 1])])

    def flap(line: Line) -> Line:
        return np.column_stack([line[:, 0], (mouth - line[:, 1]) - sewn - over])

    for level, laid, low, top in (
        (BODY, front, -0.01, high), (-BODY, back, -box.below_mm, high), (FLAP, flap, -box.below_mm, 1e4),
    ):  # fmt: skip
        ring = _clipped(laid(body.outline), low, top)
        if ring is not None:
            deep += leather(level, ring, body.id)
            for slot in body.slots:
                hole = laid(slot)
                if low <= hole[:, 1].min() and hole[:, 1].max() <= top:
                    deep.append(Deep(level + 0.2 * np.sign(level), Mark("cut", frozen(hole), True, "slot")))
    wide = float(np.abs(body.outline[:, 0]).max())
    for id in box.gussets:  # from the side they are not seen: what of them stands out behind the edge
        ring = frozen([[-wide, 0.0], [wide, 0.0], [wide, high], [-wide, high]])
        for side in (1.0, -1.0):
            deep += leather(side * GUSSET, ring, id)
    for sewn_side in sides:
        points, strokes = sewn_side.seam.points, [m for m in sewn_side.moves if m.act == "run" and m.face == "front"]
        pairs = {tuple(sorted((m.hole, m.to))) for m in strokes}
        for level, laid in ((BODY, front), (-BODY, back)):
            there = [laid(points[list(pair)]) for pair in sorted(pairs)]
            there = [pair for pair in there if pair[:, 1].min() >= 0 and pair[:, 1].max() <= high]
            if there:
                deep.append(Deep(level * 1.3, stitches(there, sewn_side.seam.id)))
    for fastener in assembly.fasteners:
        at = {p.id: p.centre for p in body.punches}
        for id in (id for _, id in fastener.through if id == "stud-hole"):
            hole = frozen(flap(np.array([at[id]])))
            deep.append(Deep(FLAP + 0.5, Mark("done", hole, id=fastener.id, size_mm=9.0)))
    return [*deep, *_hanging(assembly, seams, body.id, back, wide)]


def _clipped(ring: Line, low: float, high: float) -> Line | None:
    """What of a ring lies between two heights."""
    part = area_within(ring).intersection(shapely.box(-1e4, low, 1e4, high))
    part = max(getattr(part, "geoms", [part]), key=lambda g: g.area)
    return frozen(shapely.get_coordinates(part.exterior)[:-1]) if not part.is_empty else None


def _hanging(assembly: Assembly, seams: Sequence[SewnSeam], body: str, back, wide: float) -> Iterator[Deep]:  # type: ignore[no-untyped-def]
    """What is sewn onto the back, with its thread and its belt."""
    boxes = [s for s in seams if s.seam.line.shape == "box"]
    for leaf in (x for x in lie(assembly, [s.seam for s in boxes], body) if x.piece.id != body):
        level = -FLAP - abs(leaf.level)
        yield from leather(level, frozen(back(leaf.ring)), leaf.piece.id)
        for sewn in boxes:
            k = len(sewn.seam.line.placed) - 1
            if sewn.seam.line.placed[k].piece == leaf.piece.id and leaf.holds(sewn.seam.on(k)):
                points = back(leaf.laid(sewn.seam.on(k)))
                runs = {tuple(sorted((m.hole, m.to))) for m in sewn.moves if m.act == "run" and m.face == "back"}
                yield Deep(level - 0.2, stitches([points[list(run)] for run in sorted(runs)], sewn.seam.id))
        for run in assembly.belts:
            if run.piece == leaf.piece.id and leaf.holds(run.line):
                middle, out = back(leaf.laid(run.line)).mean(axis=0), np.array([wide + BELT_OUT_MM, 0.0])
                yield Deep(level + 0.5, belt(middle - out, middle + out, run.wide_mm / 2))
