"""The stitches. Each module here has a `NAME`, the number of `NEEDLES` and a generator `moves(path)`; it is found by
being here.
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


def _stitch(module_name: str) -> Stitch:
    module = import_module(f"{__name__}.{module_name}")
    return Stitch(module.NAME, module.NEEDLES, module.moves)


STITCHES: dict[str, Stitch] = {s.name: s for s in (_stitch(m.name) for m in iter_modules(__path__))}
