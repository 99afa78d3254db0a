"""What every printed or written pattern says about a piece."""

from ..core.draft import Piece
from ..core.draft.pieces import SIDE_UP
from ..core.plan import Plan
from ..core.texts import NOTHING, said

CHECK_MM, CHECK_IN = 100.0, 4.0


def caption(plan: Plan, piece: Piece) -> str:
    """Name, revision, count, which side of leather is up, mirrored or not."""
    vowed = plan.job.vowed
    parts = [
        said("{job}: {piece}", job=plan.job.name, piece=piece.title),
        said("revision {n}", n=vowed.revision) if vowed else said("not vowed"),
        said("cut {n}", n=piece.count),
        SIDE_UP[piece.side_up] if piece.stock.sort == "leather" else NOTHING,
        said("mirrored") if piece.mirrored else said("not mirrored"),
    ]
    return " · ".join(part.write(plan.job.units) for part in parts if part)
