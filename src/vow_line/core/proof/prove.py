"""The proof of a draft: every check, in order, each with its number."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

from ..draft.assembly import Assembly
from ..finding import Finding
from ..measure.body import Body
from ..memory import cached_property, remembered
from ..quantity import Q, Units
from ..stitch import Seam
from ..texts import Said, said
from . import joins, leaves, near, outlines, put, room, straps
from .given import Assembled, Fault, Given, Result

OF_DRAFT: Mapping[str, tuple[Said, Callable[[Assembled], Result]]] = {
    "outlines": (said("Outlines"), outlines.outlines),
    "marks": (said("Folds and punches"), outlines.marks),
    "edges": (said("Edges"), outlines.edges),
    "folded": (said("Folded together"), put.folded),
    "put": (said("Sides and numbers"), put.put),
    "agree": (said("Joined edges"), joins.agree),
    "closed": (said("Closed where it must be"), joins.closed),
    "places": (said("Where the body lies"), room.places),
    "room": (said("Room at every station"), room.room),
    "across": (said("The way out sideways"), room.across),
    "straps": (said("Straps and turns"), straps.straps),
    "fasteners": (said("Rivets and studs"), straps.fasteners),
    "pockets": (said("Pockets for tools"), straps.pockets),
    "boxed": (said("Room for the box"), straps.boxed),
    "leaved": (said("Leaves in their cover"), leaves.leaved),
}
"""Each check of what was drafted by its id: its title, and what does it."""

OF_HOLES: Mapping[str, tuple[Said, Callable[[Given], Result]]] = {
    "holes": (said("Holes in number and place"), joins.holes),
    "meet": (said("Holes that meet"), joins.meet),
    "covered": (said("Closed from end to end"), joins.covered),
    "off-the-way": (said("Thread off the way"), near.off_the_way),
    "near": (said("Holes apart"), near.near),
}
"""Likewise each check of the holes in it."""

ORDER = (
    "outlines", "marks", "edges", "folded", "put", "agree", "holes", "meet", "closed", "covered", "places", "room", "across",
    "off-the-way", "near", "straps", "fasteners", "pockets", "boxed", "leaved",
)  # fmt: skip
"""The order in which they are told."""


LIKE: dict[str, tuple[str, ...]] = {
    "no-room": ("draw-out", "squeeze", "way-out", "seat-past-handle", "seat-past-butt"),
    "no-way": ("draw-out", "squeeze", "way-out", "seat-past-handle", "seat-past-butt"),
    "edge-on-thread": ("edge-near-thread", "thread-near-edge"),
    "seam-off-edge": ("margin-too-wide", "seam-too-short"),
    "not-covered": ("margin-too-wide", "seam-too-short", "partners-differ"),
    "holes-astray": ("partners-differ", "meet-differs"),
    "turn-too-wide": ("strip-too-wide",),
    "fold-astray": ("edge-not-straight",),
    "slot-near-edge": ("slot-near-edge",),
    "hole-near-edge": ("held-over-slot",),
    "strap-length": ("strap-length",),
    "outline-crosses": ("slot-near-edge",),
    "outline-spike": ("slot-near-edge",),
    "edges-differ": ("edge-not-straight", "partners-differ", "meet-differs"),
}
"""What else a fault may have been called by whoever drafted it."""
_MM = Units()


@dataclass(frozen=True, slots=True)
class Checked:
    """One check: whether it holds, what it looked at, and its number."""

    id: str
    title: Said
    holds: bool
    says: Said
    number: Q
    places: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class Proof:
    """What putting the pieces together showed."""

    given: Given

    @cached_property
    def _results(self) -> tuple[tuple[str, Said, Result], ...]:
        given = self.given
        drafted = [(id, title, _of_draft(id, given.assembly, given.body)) for id, (title, _) in OF_DRAFT.items()]
        sewn = [(id, title, check(given)) for id, (title, check) in OF_HOLES.items()]
        return tuple(sorted((*drafted, *sewn), key=lambda r: ORDER.index(r[0]) if r[0] in ORDER else len(ORDER)))

    @cached_property
    def checked(self) -> tuple[Checked, ...]:
        """Every check that had something to look at, in order."""
        return tuple(
            Checked(
                id, title, not any(f.level == "hold" for f in r.faults), r.says, r.number, tuple(f.at for f in r.faults)
            )
            for id, title, r in self._results
            if r.looked or r.faults
        )

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """What does not hold, and what wants a look, each once."""
        findings = {(f.code, f.at, f.says.write(_MM)): f for _, _, r in self._results for f in r.faults}
        return tuple(_finding(f) for f in findings.values())

    def besides(self, said: Iterable[Finding]) -> tuple[Finding, ...]:
        """What was found besides what was said already: a draft that finds a fault itself comes with a better mend for it."""
        codes = {f.code for f in said if f.level == "hold"}
        return tuple(f for f in self.findings if not codes & set(LIKE.get(f.code, ())))


@remembered("piece")
def _of_draft(id: str, assembly: Assembly, body: Body | None) -> Result:
    """One check of what was drafted, remembered: what is chosen at Stitch and after leaves it as it was."""
    return OF_DRAFT[id][1](Assembled(assembly, body))


def _finding(fault: Fault) -> Finding:
    first, *others = fault.mends or (None,)
    return Finding(fault.level, fault.code, fault.station, fault.says, fault.at, first, tuple(m for m in others if m))


def prove(assembly: Assembly, seams: tuple[Seam, ...], body: Body | None) -> Proof:
    """Put an assembly together with the holes of its seams, for a body. Nothing is worked out before it is asked."""
    return Proof(Given(assembly, body, seams))
