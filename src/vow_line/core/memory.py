"""What is remembered by what it was worked out from, so that an edit works out only what it changes."""

import functools
from collections.abc import Callable
from contextlib import nullcontext
from functools import lru_cache
from typing import Any, Literal, NamedTuple, ParamSpec, TypeVar

Of = Literal["stage", "wearer", "part", "seam", "run", "piece"]

SIZES: dict[Of, int] = {"stage": 6, "wearer": 24, "part": 16, "seam": 48, "run": 256, "piece": 128}
"""How many results are kept of a stage, of one for each wearer, of a part of a draft, of a seam, of a run of one, of a piece:
of what changed and what did not, and of the jobs looked at one after another; not a history, for undo plans again.
"""

P = ParamSpec("P")
R = TypeVar("R")
_KEPT: dict[str, Any] = {}


class cached_property(functools.cached_property[R]):
    """As Python has it from 3.12 on: before, one lock over all things of a kind kept a thread waiting for what another works
    out of something else.
    """

    def __init__(self, func: Callable[[Any], R]) -> None:
        super().__init__(func)
        self.lock = nullcontext()


class Hits(NamedTuple):
    """How often a memory had the result, and how often it was worked out."""

    had: int
    worked_out: int


def remembered(of: Of) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """A function of things that can be hashed, its last results remembered. What it gives must not be written to."""

    def keep(function: Callable[P, R]) -> Callable[P, R]:
        kept = _KEPT[f"{function.__module__.partition('core.')[2]}.{function.__qualname__}"] = lru_cache(SIZES[of])(
            function
        )
        return kept  # type: ignore[return-value]

    return keep


def hits() -> dict[str, Hits]:
    """How each memory has fared, by module and function."""
    return {name: Hits(kept.cache_info().hits, kept.cache_info().misses) for name, kept in _KEPT.items()}


def forget() -> None:
    """Forget everything, as when the program has just begun."""
    for kept in _KEPT.values():
        kept.cache_clear()
