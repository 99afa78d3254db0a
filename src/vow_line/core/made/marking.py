"""What is marked on a pattern so that its pieces come together right: partner letters, where a seam begins, up, outside."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from string import ascii_uppercase

import numpy as np

from ..draft.assembly import Assembly
from ..stitch import Seam
from .lying import Leaf, lie

Point = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Marking:
    """On one piece, in its own frame: each partner's letter and about where it belongs; where seams begin and which way they
    go on, as a point and a unit vector; which way is up when it is worn, and whether the side that is drawn is outside then.
    """

    letters: tuple[tuple[str, Point], ...] = ()
    starts: tuple[tuple[Point, Point], ...] = ()
    up: Point | None = None
    outside: bool | None = None


def markings(assembly: Assembly, seams: Sequence[Seam]) -> Mapping[str, Marking]:
    """The marking of every piece, by its id."""
    letters: dict[str, list[tuple[str, Point]]] = {p.id: [] for p in assembly.pieces}
    starts: dict[str, list[tuple[Point, Point]]] = {p.id: [] for p in assembly.pieces}
    by_id = {s.id: s for s in seams}
    sewn = [by_id[id] for id in assembly.order if id in by_id]
    for letter, seam in zip(_letters(), sewn, strict=False):
        for k, placed in enumerate(seam.line.placed):  # a seam that is made again lies there more than once
            points = seam.on(k)[seam.there(k)]
            if not len(points):
                continue
            middle = points.mean(axis=0) if seam.line.shape == "box" else points[len(points) // 2]
            letters[placed.piece].append((letter, _point(middle)))
            if seam.line.shape != "box" and len(points) > 1:
                way = points[1] - points[0]
                starts[placed.piece].append((_point(points[0]), _point(way / max(float(np.hypot(*way)), 1e-9))))
    lying = lie(assembly, seams) if _is_drawn_from(assembly) else ()
    return {
        id: Marking(tuple(some), tuple(starts[id]), *_way_up([leaf for leaf in lying if leaf.piece.id == id]))
        for id, some in letters.items()
    }  # fmt: skip


def _letters() -> Sequence[str]:
    """A, B and so on, then AA, BB."""
    return [letter * n for n in (1, 2, 3) for letter in ascii_uppercase]


def _is_drawn_from(assembly: Assembly) -> bool:
    """Whether it hangs with a mouth upwards that something is drawn out of."""
    return any(shell.holds == "body" and shell.way == "along" for shell in assembly.shells)


def _way_up(leaves: Sequence[Leaf]) -> tuple[Point | None, bool | None]:
    """Which way is up on a piece, where that is the same on all of its leaves; whether the outermost of them shows its drawn
    side.
    """
    if not leaves:
        return None, None
    ways = {_up(leaf) for leaf in leaves}
    out = max(leaves, key=lambda leaf: abs(leaf.level))
    return ways.pop() if len(ways) == 1 else None, out.motion[2] == (out.level < 0)


def _up(leaf: Leaf) -> Point:
    times, _, over = leaf.motion
    way = -1j / times
    way = way.conjugate() if over else way
    return round(way.real, 4) + 0.0, round(way.imag, 4) + 0.0


def _point(at: np.ndarray) -> Point:
    return float(at[0]), float(at[1])
