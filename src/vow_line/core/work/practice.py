"""A stitch on a strip of scrap, to learn it."""

from ..stitch.straight import straight_seam
from ..thread import SewnSeam, ThreadChoices, sewn_with
from ..thread.stitches import STITCHES
from .prompts import Prompt, prompts

HOLES, PITCH_MM, STACK_MM, MARGIN_MM = 12, 5.0, 4.0, 4.0


def practice(stitch: str) -> tuple[SewnSeam, tuple[Prompt, ...]]:
    """Twelve holes in two layers of scrap, sewn with a stitch, and its prompts. Raises KeyError for one that is not known."""
    made = STITCHES[stitch]
    choices = ThreadChoices()
    seam = straight_seam((HOLES - 1) * PITCH_MM, PITCH_MM, STACK_MM, MARGIN_MM, made.sews[0])
    sewn = sewn_with(made, seam, choices)
    return sewn, prompts(sewn, choices)
