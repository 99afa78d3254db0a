"""All seams of a job: edges to holes, with what they come to and what is wrong with them."""

from dataclasses import dataclass

from ..draft import Draft
from ..draft.ids import number_of
from ..finding import Finding
from ..memory import cached_property
from ..reckoning import Reckoning
from .checks import checks
from .choices import StitchChoices
from .seams import Seam, seam_of
from .sums import sums


@dataclass(frozen=True, eq=False)
class Stitching:
    """All seams of a job, with their sums and findings when asked."""

    seams: tuple[Seam, ...]
    choices: StitchChoices
    draft: Draft

    @cached_property
    def reckonings(self) -> tuple[Reckoning, ...]:
        """The sums of every seam."""
        return tuple(r for s in self.seams for r in sums(s, self.choices.of(s.id)))

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """What is wrong with the seams, each by itself."""
        return tuple(f for s in self.seams for f in checks(s, self.choices.of(s.id)))

    @cached_property
    def last(self) -> tuple[Seam, ...]:
        """The seam that is sewn last, of each of those it is made for."""
        return tuple({number_of(s.id): s for s in self.seams}.values())

    def seam(self, id: str) -> Seam:
        """The seam of that id. Raises KeyError."""
        for seam in self.seams:
            if seam.id == id:
                return seam
        raise KeyError(id)


def stitch(draft: Draft, choices: StitchChoices) -> Stitching:
    """Holes on every seam line of the draft. Never raises: what will not fit becomes a finding."""
    return Stitching(tuple(seam_of(line, choices.of(line.id)) for line in draft.seams), choices, draft)
