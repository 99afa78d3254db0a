"""A strap riveted to the back that goes over the thing and closes on the front with a stud."""

from collections.abc import Sequence

import numpy as np

from ..curve import frozen
from ..memory import remembered
from ..texts import Said, said
from .joins import Fastener
from .pieces import Edge, Piece, Punch, edged, leather

LAP_MM = 20.0  # a strap lies so far on either side to be held (from memory)
STRAP = said("strap")
FASTENED = (
    ("rivet", said("rivet")), ("stud", said("stud")), ("rivet-hole", said("rivet hole")), ("stud-hole", said("stud hole")),
)  # fmt: skip
POST_MM = 3.0  # how thick the post of a small rivet or stud is (from memory)


def numbered(slug: str, title: Said, count: int) -> tuple[tuple[str, Said], ...]:
    """So many of a thing as ids and titles: by itself when there is one, else numbered from 1."""
    if count == 1:
        return ((slug, title),)
    return tuple((f"{slug}-{k}", said("{title} {k}", title=title, k=k)) for k in range(1, count + 1))


@remembered("part")
def stud_strap(
    way_mm: float, wide_mm: float, leather_mm: float, count: int = 1, id: str = "strap", title: Said = STRAP
) -> Piece:
    """Straps `way_mm` long from hole to hole, and half a lap longer at either end, round at the stud."""
    long = way_mm + LAP_MM
    turn = np.linspace(0, np.pi, 25)
    tip = wide_mm / 2 * np.column_stack([1 - np.cos(turn), np.sin(turn)]) + [0.0, long - wide_mm / 2]
    ring = np.concatenate([[[wide_mm, 0.0], [0.0, 0.0]], tip])
    outline, edges = edged(Edge("around", said("around"), frozen(ring), "free"))
    return Piece(
        id, title, outline, edges, leather(leather_mm), count=count, turns="along",
        punches=(Punch("rivet-hole", said("rivet hole"), (wide_mm / 2, LAP_MM / 2), POST_MM),
                 Punch("stud-hole", said("stud hole"), (wide_mm / 2, long - LAP_MM / 2), POST_MM)),
    )  # fmt: skip


def strap_fasteners(back: str, front: str, straps: Sequence[str] = ("strap",)) -> tuple[Fastener, ...]:
    """A rivet and a stud for each of the `straps`, through its own holes and those of the piece they are punched in."""
    names = zip(straps, *(numbered(slug, title, len(straps)) for slug, title in FASTENED), strict=True)
    return tuple(
        f for strap, (rivet, rivets), (stud, studs), (hole, _), (at, _) in names for f in (
            Fastener(rivet, rivets, "rivet", ((strap, "rivet-hole"), (back, hole))),
            Fastener(stud, studs, "stud", ((strap, "stud-hole"), (front, at))),
        )
    )  # fmt: skip
