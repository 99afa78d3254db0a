"""Thread for all seams of a job."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import partial

from ..finding import Finding
from ..memory import cached_property
from ..reckoning import Reckoning
from ..stitch import Stitching
from .checks import checks
from .choices import ThreadChoices
from .sewn import SewnSeam, sew_plan, sewn_with
from .stitches import STITCHES
from .sums import sums


@dataclass(frozen=True, eq=False)
class Threading:
    """Thread for all seams of a job, and for a `temporary` one, by the id of that, which holds the last while it is formed."""

    seams: tuple[SewnSeam, ...]
    total_mm: float
    temporary: Mapping[str, SewnSeam]
    tell: Callable[[], tuple[Reckoning, ...]]
    findings: tuple[Finding, ...]

    @cached_property
    def reckonings(self) -> tuple[Reckoning, ...]:
        """The sums."""
        return self.tell()

    def seam(self, id: str) -> SewnSeam:
        """The seam of that id. Raises KeyError."""
        for sewn in self.seams:
            if sewn.seam.id == id:
                return sewn
        raise KeyError(id)


def thread(stitching: Stitching, choices: ThreadChoices) -> Threading:
    """Thread for every seam. Never raises."""
    sewn = tuple(sew_plan(seam, choices) for seam in stitching.seams)
    total = sum(s.total_mm * s.seam.line.times for s in sewn)
    held = {
        last.id: sewn_with(STITCHES["temporary"], last, choices)
        for last in stitching.last if last.line.shape == "line" and choices.temporary and stitching.draft.wet
    }  # fmt: skip
    times = stitching.draft.makes
    reckoned = partial(sums, sewn, choices, total, times)
    return Threading(sewn, total, held, reckoned, checks(sewn, choices, times))
