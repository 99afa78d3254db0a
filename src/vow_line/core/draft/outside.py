"""Which side of the leather is shown: the grain, or the flesh on purpose."""

from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import Literal

from ..drawing import Label, Mark
from ..finding import Finding, Mend
from ..memory import remembered
from ..texts import said
from .drafted import Draft, FromAbove
from .ornament import Ornament

Side = Literal["grain", "flesh"]
OTHER: dict[str, Side] = {"grain": "flesh", "flesh": "grain"}
FOLDED_SHOWS = {
    "grain": said("What is folded over the top shows its flesh side, and is turned up to get at what closes it there."),
    "flesh": said("What is folded over the top shows its grain side, and is turned up to get at what closes it there."),
}
"""By the side that is shown else."""
KEEP = ("lining", "binding")  # they show their grain, whatever they are on
GRAIN_OUT = Mend(said("show its grain side"), (("leather.outside", "grain"),))


@remembered("wearer")
def flesh_out(draft: Draft, ornaments: Sequence[Ornament]) -> Draft:
    """The draft with every piece of leather the other side up, and what that means for stamping, glue and skives."""
    pieces = (
        replace(p, side_up=OTHER[p.side_up]) if p.stock.sort == "leather" and not p.id.startswith(KEEP) else p
        for p in draft.pieces
    )
    turned = draft.turned
    if turned is not None:
        drawn = turned.draw
        turned = replace(turned, draw=lambda rad: tuple(swapped(m) for m in drawn(rad)))
    found = [Finding(
        "note", "flesh-out", "draft",
        said("The flesh side is shown: it is skived and glued on its grain, which glue holds once that is roughened."),
        "leather.outside", GRAIN_OUT,
    )]  # fmt: skip
    if any(o.kind == "stamped-area" for o in ornaments):
        found.append(Finding(
            "look", "stamp-on-flesh", "draft", said("What is stamped into the flesh side does not stand: stamp the grain."),
            "leather.outside", GRAIN_OUT,
        ))  # fmt: skip
    return replace(
        draft, assembly=draft.assembly.with_more(pieces), outside="flesh", turned=turned,
        from_above=partial(_from_above, draft) if draft.from_above is not None else None,
        find=lambda: (*(_seen_so(f) for f in draft.findings), *found),
    )  # fmt: skip


def _from_above(draft: Draft) -> FromAbove | None:
    seen = draft.from_above() if draft.from_above is not None else None
    if seen is None:
        return None
    drawn = seen.draw

    def draw() -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
        marks, labels = drawn()
        return tuple(swapped(m) for m in marks), labels

    return replace(seen, draw=draw)


def _seen_so(finding: Finding) -> Finding:
    return replace(finding, says=FOLDED_SHOWS["flesh"]) if finding.says == FOLDED_SHOWS["grain"] else finding


def swapped(mark: Mark) -> Mark:
    """A mark of one side of the leather as one of the other."""
    return replace(mark, meaning=OTHER[mark.meaning]) if mark.meaning in OTHER else mark
