"""Factors learned from jobs: a mean of log ratios drawn toward the default by a prior of 5 %."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

PRIOR_SPREAD = 0.05
JOB_SPREAD = 0.05  # how far one job's ratio strays from its maker's true one; taken as wide as the prior


@dataclass(frozen=True, slots=True)
class Learned:
    """A factor, the spread it is known to, and from how many jobs."""

    factor: float
    spread: float
    jobs: int


def learn(default: float, ratios: Sequence[float]) -> Learned:
    """The factor after observing `ratios` (each > 0): the normal mean on logs, prior `default` with a spread of 5 %.

    With n jobs: exp((ln default / s0² + Σ ln r / s²) / (1/s0² + n/s²)). Raises ValueError for a ratio not above 0.
    """
    if any(r <= 0 for r in ratios):
        raise ValueError("a ratio of used to planned must be above 0")
    prior, each = 1 / PRIOR_SPREAD**2, 1 / JOB_SPREAD**2
    weight = prior + each * len(ratios)
    mean = (math.log(default) * prior + each * sum(math.log(r) for r in ratios)) / weight
    return Learned(math.exp(mean), math.sqrt(1 / weight), len(ratios))
