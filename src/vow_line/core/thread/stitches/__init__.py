"""The stitches. Each module here has a `NAME`, the number of `NEEDLES`, a generator `moves(path)`, and its `SHAPE` where that
is not a line; it is found by being here.
"""

from collections.abc import Callable, Iterator
from importlib import import_module
from pkgutil import iter_modules
from typing import NamedTuple

from ..moves import Move, Path


class Stitch(NamedTuple):
    """A stitch by its moves."""

    name: str
    needles: int
    moves: Callable[[Path], Iterator[Move]]
    shape: str


def _stitch(module_name: str) -> Stitch:
    module = import_module(f"{__name__}.{module_name}")
    return Stitch(module.NAME, module.NEEDLES, module.moves, getattr(module, "SHAPE", "line"))


USUAL = {"butt": "butt"}
"""What a seam of a shape is sewn with where the stitch that was chosen does not sew it; any other is saddle stitched."""

STITCHES: dict[str, Stitch] = {s.name: s for s in (_stitch(m.name) for m in iter_modules(__path__))}


def stitch_for(shape: str, *wanted: str) -> Stitch:
    """The first of the stitches wanted that sews a seam of this shape, or the usual one."""
    sews = "butt" if shape == "butt" else "line"
    known = [STITCHES[name] for name in wanted if name in STITCHES]
    return next((s for s in known if s.shape == sews), STITCHES[USUAL.get(shape, "saddle")])
