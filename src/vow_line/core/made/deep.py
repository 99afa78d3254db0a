"""What is seen of a made thing, and how far out it lies."""

from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import NamedTuple

import numpy as np
import shapely

from ..curve import Line, area_within, frozen
from ..drawing import Mark
from ..meanings import Meaning

BELT_OUT_MM = 28.0  # so far to either side of the made thing its belt is drawn
STITCH_SHARE = 0.76  # of the way from hole to hole a stitch is drawn so long: the rest goes down into the holes
LEAST_MM = 1.0
MIRRORED = np.array([-1.0, 1.0])


class Deep(NamedTuple):
    """A mark and how far out it lies, in layers: towards the front above 0, towards the back below; whether it is seen from the
    front alone (1), from the back alone (-1), or from both.
    """

    level: float
    mark: Mark
    seen: int = 0


def from_side(deep: Iterable[Deep], side: int) -> tuple[Mark, ...]:
    """What is seen from the front (1) or the back (-1), what lies farthest away first, hidden lines last."""
    order = [d.mark for d in sorted(deep, key=lambda d: d.level * side) if d.seen in (0, side)]
    marks = (*(m for m in order if m.meaning != "dimension"), *(m for m in order if m.meaning == "dimension"))
    return marks if side > 0 else tuple(_mirrored(m) for m in marks)


def _mirrored(mark: Mark) -> Mark:
    return replace(mark, line=frozen(mark.line * MIRRORED), rings=tuple(frozen(r * MIRRORED) for r in mark.rings))


def leather(level: float, ring: Line, id: str, slots: tuple[Line, ...] = (), front: Meaning = "grain",
            back: Meaning = "grain") -> Iterator[Deep]:  # fmt: skip
    """A flat part of leather, grain or flesh to the front and to the back."""
    if front == back:
        yield Deep(level, Mark(front, ring, True, id, rings=slots))
    else:
        yield Deep(level, Mark(front, ring, True, id, rings=slots), 1)
        yield Deep(level, Mark(back, ring, True, id, rings=slots), -1)
    yield Deep(level, Mark("cut", ring, True, id))
    for slot in slots:
        yield Deep(level, Mark("cut", slot, True, id))


def body(thing: Line, under: Iterable[Line]) -> Iterator[Deep]:
    """A body in its place, and where leather hides it a dashed line."""
    yield Deep(0.0, Mark("thing", frozen(thing), True, "thing"))
    over = shapely.union_all([area_within(ring) for ring in under]).buffer(-0.3)
    hidden = shapely.LinearRing(thing).intersection(over)
    for part in getattr(hidden, "geoms", [hidden]):
        if part.length > LEAST_MM:
            yield Deep(0.0, Mark("dimension", frozen(shapely.get_coordinates(part)), id="thing"))


def stitches(strokes: Iterable[Line], id: str) -> Mark:
    """Stretches of thread, each `(2, 2)` from hole to hole, as they look: sunk into the holes at their ends."""
    ends = np.array(list(strokes)).reshape(-1, 2, 2)
    middle = ends.mean(axis=1, keepdims=True)
    return Mark("stitch", frozen((middle + (ends - middle) * STITCH_SHARE).reshape(-1, 2)), id=id, pairs=True)


def belt(a: Line, b: Line, half_mm: float) -> Mark:
    """A belt from one place to another, without ends."""
    way = b - a
    square = np.array([-way[1], way[0]]) / max(float(np.hypot(*way)), 1e-9) * half_mm
    return Mark("belt", frozen([a - square, b - square, b + square, a + square]), True, "belt")
