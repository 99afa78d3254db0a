"""What every printed or written pattern says about a piece."""

from ..core.draft import Piece
from ..core.draft.pieces import SIDE_UP
from ..core.plan import Plan
from ..core.quantity import Q
from ..core.reckoning import length, percent
from ..core.texts import NOTHING, Said, said

CHECK_MM, CHECK_IN = 100.0, 4.0
HEAD_MM = 16.0  # caption above the pattern
TRUE_MM = 0.3  # a line measured within this is true: a hand with a rule reads no better (from memory)


def printed_true(long_mm: float) -> tuple[Said, bool]:
    """What it means that the check line is so long on paper, and whether patterns may be cut by it."""
    off = long_mm - CHECK_MM
    if abs(off) <= TRUE_MM:
        return said("True. Cut by these pages."), True
    return said(
        "The printer draws at {share}, {off} off in 100 mm: set it to 100 %, not fitted to the page, and print again.",
        share=percent(long_mm / CHECK_MM), off=length(abs(off)),
    ), False  # fmt: skip


def caption(plan: Plan, piece: Piece) -> str:
    """Name, revision, count, which side of leather is up, mirrored or not."""
    return " · ".join(
        (heading(plan, said("{job}: {piece}", job=plan.job.name, piece=piece.title)), *_of_piece(plan, piece))
    )


def heading(plan: Plan, says: Said) -> str:
    """What a page is of, and the revision it belongs to."""
    vowed = plan.job.vowed
    state = said("revision {n}", n=vowed.revision) if vowed else said("not vowed")
    return " · ".join(part.write(plan.job.units) for part in (says, state))


def label(plan: Plan, piece: Piece, outside: bool | None = None) -> tuple[str, ...]:
    """What stands on a piece: its name; how many, which side is up and whether that is outside when it is worn, mirrored or
    not, what it is cut from.
    """
    stock = said("{stock} {t}", stock=piece.stock.title, t=Q("leather", piece.stock.thickness_mm)).write(plan.job.units)
    return piece.title.write(plan.job.units), *_of_piece(plan, piece, outside), stock


def _of_piece(plan: Plan, piece: Piece, outside: bool | None = None) -> list[str]:
    parts = [
        said("cut {n}", n=piece.count),
        SIDE_UP[piece.side_up] if piece.stock.sort == "leather" else NOTHING,
        NOTHING if outside is None else said("this side outside") if outside else said("this side inside"),
        said("mirrored") if piece.mirrored else said("not mirrored"),
        piece.turned_over,
    ]
    return [part.write(plan.job.units) for part in parts if part]
