"""What every printed or written pattern says about a piece."""

from ..core.draft import Piece
from ..core.plan import Plan

CHECK_MM, CHECK_IN = 100.0, 4.0


def caption(plan: Plan, piece: Piece) -> str:
    """Name, revision, count, which side of leather is up, mirrored or not."""
    vowed = plan.job.vowed
    revision = f"revision {vowed.revision}" if vowed else "not vowed"
    pairs = "mirrored" if piece.mirrored else "not mirrored"
    side = f"{piece.side_up} side up · " if piece.stock.sort == "leather" else ""
    return f"{plan.job.name}: {piece.title.write(plan.job.units)} · {revision} · cut {piece.count} · {side}{pairs}"
