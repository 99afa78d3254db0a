"""Panels of a hand sized by what only the draft knows: across to its girth, and those nothing was read of by what they meet."""

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np

from ....measure import PanelsBody
from .checks import at_levels
from .meets import long, standing
from .put import Put

if TYPE_CHECKING:
    from .draft import Panelled

ROUNDS = 2
LEAST, MOST = 0.5, 2.0  # a pattern is stretched no more than this


def sized(by: "Panelled", body: PanelsBody, leather_mm: float, thick: Mapping[str, float]) -> PanelsBody:
    """The panels as large as the hand asks: those that grow across to its girth do, by one share, so that together with the
    others they give it, its ease and the turn of the leather, round linings so `thick`, less what their edges take; those that
    follow are stretched up or down to be as long as what they meet.
    """
    for _ in range(ROUNDS if body.across else 0):
        given = next(iter(at_levels(Put(by, body, leather_mm, thick))), None)
        if given is None:
            break
        now, own = (
            sum(
                float(np.hypot(*(line[1::2] - line[::2]).T).sum())
                for k, line in levels[given.k].across
                if k in body.across
            )
            for levels in (body.levels, body.before or body.levels)
        )
        if own <= 0:
            break
        # what a mock-up let out stays let out
        share = float(np.clip((own + given.wants_mm - given.gives_mm + now - own) / own, LEAST, MOST))
        body = body.stretched(body.across, np.diag([share, 1.0]))
    for letter in sorted(body.follow):
        up = _share(by, body, letter)
        if up is not None:
            body = body.stretched(frozenset(letter), np.diag([1.0, up]))
    return body


def _share(by: "Panelled", body: PanelsBody, letter: str) -> float | None:
    """By how much a panel is stretched up or down so that its edges are, together, as long as those they meet; None where it
    meets none.
    """
    edges = {id: line for p in body.panels.values() if len(p.edges) > 1 for id, line in p.edges.items()}
    pairs = [(m.a, m.b) if m.a[0] == letter else (m.b, m.a) for _, m in standing(by.meets, edges)
             if letter in (m.a[0], m.b[0]) and m.a[0] != m.b[0]]  # fmt: skip
    pairs = [(own, other) for own, other in pairs if other[0] not in body.follow]
    if not pairs:
        return None
    wanted = sum(long(edges[other]) for _, other in pairs)

    def off(share: float) -> float:
        return sum(long(edges[own] * [1.0, share]) for own, _ in pairs) - wanted

    low, high = LEAST, MOST
    if not off(low) < 0 < off(high):
        return None
    for _ in range(30):
        middle = (low + high) / 2
        low, high = (middle, high) if off(middle) < 0 else (low, middle)
    return (low + high) / 2
