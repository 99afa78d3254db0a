"""What is bought or taken from the drawer besides leather and thread: how many of what size."""

from dataclasses import dataclass
from itertools import groupby

from ..draft.assembly import Assembly
from ..draft.joins import Fastener
from ..measure import Body, FittingBody, GirthBody
from ..reckoning import count, fine, length, long
from ..texts import Said, said

SORTS = {
    "rivet": said("rivet"), "stud": said("stud"), "eyelet": said("eyelet"), "button": said("button"),
    "loop": said("loop of lace"), "tack": said("tack"),
    "post": said("screw post"), "hook": said("lacing hook"),
}  # fmt: skip


FITS = {
    "tack": said("{p} long, its hole pierced {d} wide"),
    "button": said("{p} wide, sewn on through a hole of {d}"),
    "loop": said("{p} of lace for each, through a hole of {d}"),
}


@dataclass(frozen=True, slots=True)
class Hardware:
    """So many of one thing: how wide its hole or its opening is, how long its post or thick its bar (0 where it has none)."""

    id: str
    title: Said
    count: int
    size_mm: float
    other_mm: float
    says: Said


def hardware(assembly: Assembly, body: Body | None) -> tuple[Hardware, ...]:
    """Fasteners of one sort and size together, then what is held in turns."""
    found: list[Hardware] = []

    def key(fastener: Fastener) -> tuple[str, float, float]:
        piece, hole = fastener.through[0]
        size = next(p.diameter_mm for p in assembly.piece(piece).punches if p.id == hole)
        return fastener.sort, size, round(fastener.size_mm or assembly.post_mm(fastener), 1)

    for (sort, size, post), alike in groupby(sorted(assembly.fasteners, key=key), key):
        n = sum(assembly.piece(f.through[0][0]).count * (len(f.through) if f.each else 1) for f in alike)
        text = FITS.get(sort, said("for a hole of {d}, post {p}")).filled(d=length(size), p=length(post)) if post > 0 else said(
            "for a hole of {d}", d=length(size))  # fmt: skip
        found.append(Hardware(f"{sort}-{size:g}-{post:g}", SORTS[sort], n, size, post, text))
    for lace in assembly.laces:
        places = count(sum(len(r) for r in lace.rows))
        says = (said("{l} long, through {n} eyelets") if lace.through else said("{l} long, round {n} places")).filled(
            l=long(lace.long_mm), n=places)  # fmt: skip
        found.append(Hardware(lace.id, lace.title, assembly.piece(lace.rows[0][0][0]).count, 0.0, lace.long_mm, says))
    measured = (body.opening_mm, body.bar_mm) if isinstance(body, FittingBody | GirthBody) else None
    sized = [(t, (t.opening_mm, t.bar_mm) if t.bar_mm else measured) for t in assembly.turns]
    for (holds, size), turns in groupby(sorted(sized, key=lambda t: t[0].holds.template), lambda t: (t[0].holds, t[1])):
        if size is not None:
            says = said("{o} wide inside, its bar {b} thick", o=length(size[0]), b=fine(size[1]))
            n = sum(assembly.piece(t.piece).count for t, _ in turns)
            found.append(Hardware(holds.template, holds, n, size[0], size[1], says))
    return tuple(found)
