"""A straight seam through an even stack, for a length of thread without a job."""

from ..curve import frozen
from ..draft.joins import Sewing, Shape
from ..draft.seam_line import Placed, Ply, SeamLine
from ..texts import said
from .choices import StitchChoices
from .seams import Seam, seam_of


def straight_seam(
    run_mm: float, pitch_mm: float, stack_mm: float, margin_mm: float = 3.0, shape: Shape = "line"
) -> Seam:
    """Holes fitted to a straight run, one at either end."""
    along = frozen([[0.0, 0.0], [run_mm, 0.0]])
    line = SeamLine(
        "seam",
        said("seam"),
        along,
        (Ply(said("stack"), stack_mm, 0),),
        (Placed("strip"),),
        shape,
        Sewing(along, margin_mm, edge_ends=(True, False)),
    )
    return seam_of(line, StitchChoices(pitch_mm=pitch_mm, tool="awl", start_in_mm=0, end_in_mm=0))
