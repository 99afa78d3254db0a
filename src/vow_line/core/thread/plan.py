"""Thread for all seams of a job."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property, partial

from ..finding import Finding
from ..reckoning import Reckoning
from ..stitch import Stitching
from .checks import checks
from .choices import ThreadChoices
from .sewn import SewnSeam, sew_plan
from .sums import sums


@dataclass(frozen=True, eq=False)
class Threading:
    """Thread for all seams of a job."""

    seams: tuple[SewnSeam, ...]
    total_mm: float
    tell: Callable[[], tuple[Reckoning, ...]]
    findings: tuple[Finding, ...]

    @cached_property
    def reckonings(self) -> tuple[Reckoning, ...]:
        """The sums."""
        return self.tell()

    def seam(self, name: str) -> SewnSeam:
        """The seam of that name. Raises KeyError."""
        for sewn in self.seams:
            if sewn.seam.name == name:
                return sewn
        raise KeyError(name)


def thread(stitching: Stitching, choices: ThreadChoices) -> Threading:
    """Thread for every seam. Never raises."""
    sewn = tuple(sew_plan(seam, choices) for seam in stitching.seams)
    total = sum(s.total_mm for s in sewn)
    return Threading(
        sewn, total, partial(sums, sewn, choices, total), checks(sewn, choices, total, stitching.choices.hole_mm)
    )
