"""Factors learned from jobs: a mean of log ratios drawn toward the default, and how far the next job will stray from it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

MAKER_SPREAD = 0.05  # how far makers stray from the default (the trade's prior of 5 %)
JOB_SPREAD = 0.05  # how far one job strays from its maker, until the jobs themselves say; taken as wide
JOBS_PRIOR = 3  # so many jobs' worth of deviations is that guess held for


@dataclass(frozen=True, slots=True)
class Learned:
    """A factor, how far the next job strays from it as one standard deviation of its log, and from how many jobs."""

    factor: float
    spread: float
    jobs: int


def learn(default: float, ratios: Sequence[float]) -> Learned:
    """The factor after observing one ratio (> 0) of each of n jobs: the normal mean of their logs, with `default` as its prior.

    With s0 the spread between makers and s that between jobs: exp((ln default / s0² + Σ ln r / s²) / (1/s0² + n/s²)), and the
    next job strays by √(s² + 1/(1/s0² + n/s²)). From the second job on s² is drawn from their deviations towards its guess (a
    scaled inverse χ² prior), and widened by one part in its degrees of freedom, as Student's t is wider than a normal
    (Gelman et al., Bayesian Data Analysis, ch. 2 and 3, from memory). Raises ValueError for a ratio not above 0.
    """
    if any(r <= 0 for r in ratios):
        raise ValueError("a ratio of used to planned must be above 0")
    n, logs = len(ratios), [math.log(r) for r in ratios]
    job2 = JOB_SPREAD**2
    if n > 1:
        freedom = JOBS_PRIOR + n - 1
        strays = sum((x - math.fsum(logs) / n) ** 2 for x in logs)
        job2 = (JOBS_PRIOR * job2 + strays) / freedom * (freedom + 1) / freedom
    prior = 1 / MAKER_SPREAD**2
    weight = prior + n / job2
    mean = (math.log(default) * prior + math.fsum(logs) / job2) / weight
    return Learned(math.exp(mean), math.sqrt(job2 + 1 / weight), n)
