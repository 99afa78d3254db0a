"""What holds edges together that are not sewn: eyelets and a lace, buttons and loops, studs."""

from dataclasses import dataclass

import numpy as np

from ....curve import Values
from ....memory import remembered
from ....texts import said, verbatim
from ...closures import KNOT_MM, TAIL_MM, lace_mm, loop_mm
from ...joins import Fastener, Lace, Loops
from .making import Together
from .meets import Meet


@dataclass(frozen=True, slots=True, eq=False)
class Closed:
    """The closures of a meeting: what is set, and the lace or the loops they are drawn together by."""

    fasteners: tuple[Fastener, ...]
    laces: tuple[Lace, ...] = ()
    loops: tuple[Loops, ...] = ()


def gaps_mm(meet: Meet, in_mm: float, n: int) -> Values:
    """From hole to hole across, when two edges are drawn together, the holes so far in from them."""
    return np.full(n, meet.gap_mm + 2 * in_mm)


def loop_of_mm(meet: Meet, in_mm: float, button_mm: float, high_mm: float) -> float:
    """How long the lace of a loop is."""
    return loop_mm(meet.gap_mm + 2 * in_mm, button_mm, high_mm)


@remembered("run")
def closed(
    k: int, meet: Meet, rows: Together, in_mm: float, button_mm: float, high_mm: float, leather_mm: float
) -> Closed:
    """The closures of the k-th meeting, in two rows of holes so far in from the edges."""
    n = len(rows.lines[0])
    one, other = ([(f"panel-{e[0]}", f"{e}-{i}") for i in range(1, n + 1)] for e in (meet.a, meet.b))
    through, name = (tuple(one), tuple(other)), verbatim(meet.a)
    if meet.how == "laced":
        gaps = gaps_mm(meet, in_mm, n)
        eyelets = Fastener(f"eyelets-{k}", said("eyelets of {a}", a=name), "eyelet", (*one, *other), each=True)
        lace = Lace(
            f"lace-{k}",
            said("lace of {a}", a=name),
            through,
            tuple(gaps.tolist()),
            TAIL_MM,
            lace_mm(rows.lines, gaps, leather_mm),
        )
        return Closed((eyelets,), laces=(lace,))
    if meet.how == "buttons":
        lace_of_one = loop_of_mm(meet, in_mm, button_mm, high_mm)
        set_in = (
            Fastener(f"buttons-{k}", said("buttons of {a}", a=name), "button", tuple(one), each=True, size_mm=button_mm),
            Fastener(f"loops-{k}", said("loops of {b}", b=verbatim(meet.b)), "loop", tuple(other), each=True,
                     size_mm=lace_of_one),
        )  # fmt: skip
        loops = Loops(
            f"loops-{k}", (meet.a, meet.b), through, (meet.gap_mm,) * n, button_mm, high_mm, lace_of_one - KNOT_MM
        )
        return Closed(set_in, loops=(loops,))
    return Closed(
        tuple(
            Fastener(f"stud-{k}-{i}", said("stud {i} of {a}", i=i, a=name), "stud", pair)
            for i, pair in enumerate(zip(one, other, strict=True), 1)
        )
    )
