"""Steps in an order in which they can be done."""

from collections.abc import Sequence
from graphlib import CycleError, TopologicalSorter

from ..texts import Said
from .step import Step


def in_order(steps: Sequence[Step]) -> tuple[tuple[Step, ...], tuple[Said, ...]]:
    """The steps so that each follows what it needs, otherwise as given; and where some wait for each other in a circle, the
    names of those, and the steps as given.
    """
    by_id = {s.id: s for s in steps}
    given = {s.id: k for k, s in enumerate(steps)}
    sorter = TopologicalSorter({s.id: [n for n in s.needs if n in by_id] for s in steps})
    try:
        sorter.prepare()
    except CycleError as error:
        return tuple(steps), tuple(by_id[id].name for id in error.args[1][1:])
    placed: list[Step] = []
    ready: list[str] = list(sorter.get_ready())
    while ready:
        first = min(ready, key=given.__getitem__)
        ready.remove(first)
        placed.append(by_id[first])
        sorter.done(first)
        ready += sorter.get_ready()
    return tuple(placed), ()
