"""The stitches. Each module here has an `ID` and a `TITLE`, what it `SAYS` of itself, the thread of each needle `THREAD_OF`,
the shapes of seam it `SEWS`, and a generator `moves(path)`; it is found by being here.
"""

from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import cache
from importlib import import_module
from pkgutil import iter_modules
from typing import Any, Literal, NamedTuple

from ...draft.joins import Shape
from ...texts import Said
from ..moves import Course, Move

Taken = Literal["third-hole", "edge-loops", "back-stitches", "buried-knot"]
_TRIED: dict[Taken, dict[str, Any]] = {
    "third-hole": {"third": True}, "edge-loops": {"edge_loops": 1}, "back-stitches": {"back": 2}, "buried-knot": {"bury": True},
}  # fmt: skip


@cache
def _takes(moves: Callable[[Course], Iterator[Move]]) -> frozenset[Taken]:
    plain = Course(tuple(range(7)), holes=7)
    return frozenset(
        option for option, more in _TRIED.items() if tuple(moves(replace(plain, **more))) != tuple(moves(plain))
    )


class Stitch(NamedTuple):
    """A stitch by its moves. `thread_of` says for each needle which of its threads it draws."""

    id: str
    title: Said
    says: Said
    thread_of: tuple[int, ...]
    sews: tuple[Shape, ...]
    moves: Callable[[Course], Iterator[Move]]

    @property
    def needles(self) -> int:
        """How many needles it takes."""
        return len(self.thread_of)

    @property
    def takes(self) -> frozenset[Taken]:
        """What changes how it is sewn: asked of its own moves."""
        return _takes(self.moves)

    @property
    def threads(self) -> int:
        """How many lengths of thread."""
        return max(self.thread_of) + 1


def _stitch(module_name: str) -> Stitch:
    module = import_module(f"{__name__}.{module_name}")
    return Stitch(module.ID, module.TITLE, module.SAYS, module.THREAD_OF, module.SEWS, module.moves)


USUAL = {"butt": "butt"}
"""What a seam of a shape is sewn with where the stitch that was chosen does not sew it; any other is saddle stitched."""

STITCHES: dict[str, Stitch] = {s.id: s for s in (_stitch(m.name) for m in iter_modules(__path__))}


def stitch_for(shape: str, *wanted: str) -> Stitch:
    """The first of the stitches wanted that sews a seam of this shape, or the usual one."""
    known = [STITCHES[id] for id in wanted if id in STITCHES]
    return next((s for s in known if shape in s.sews), STITCHES[USUAL.get(shape, "saddle")])


def that_sew(shape: str) -> tuple[str, ...]:
    """The ids of the stitches that sew a seam of this shape, the usual one first."""
    usual = USUAL.get(shape, "saddle")
    return (usual, *(s.id for s in STITCHES.values() if shape in s.sews and s.id != usual))
