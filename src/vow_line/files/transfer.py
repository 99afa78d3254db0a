"""The transfer sheet as PDF at 1:1: the holes of one face as the other face sees them, to be pricked through the paper."""

from dataclasses import replace
from pathlib import Path
from typing import Literal

from ..core.curve import frozen, mirror
from ..core.draft import Piece
from ..core.draft.together import patterns
from ..core.drawing import Mark
from ..core.plan import Plan
from ..core.quantity import PrintSheet
from ..core.stitch.pattern import pattern
from ..core.texts import said
from . import pdf
from .whole import write_whole

NAME, SUFFIX = said("Transfer sheet for the other face, PDF at 1:1"), "-other-face.pdf"


def wanted(plan: Plan) -> bool:
    """Whether anything is sewn."""
    return plan.sewing is not None and bool(plan.sewing.seams)


def write(plan: Plan, path: Path, sheet: PrintSheet = "A4") -> None:
    """Write the sheet. Raises FailedWrite."""
    write_whole(path, pdf.render(plan, sheet, sheets(plan)))


def sheets(plan: Plan) -> tuple[tuple[Piece, tuple[Mark, ...]], ...]:
    """Every piece that is sewn, turned over, with its cut, its holes and the marks that keep it in step."""
    assert plan.whole is not None
    assert plan.sewing is not None
    sewn = {p.piece for s in plan.sewing.seams for p in s.line.placed}
    sheets = []
    for piece in patterns(plan.whole):
        if piece.id in sewn:
            marks = tuple(_over(m) for m in pattern(piece, plan.sewing) if m.meaning in ("cut", "fold", "hole", "mark"))
            side: Literal["grain", "flesh"] = "flesh" if piece.side_up == "grain" else "grain"
            turned = replace(piece, title=said("{piece}, its other face", piece=piece.title),
                             outline=frozen(mirror(piece.outline)), side_up=side,
                             mirrored=not piece.mirrored)  # fmt: skip
            sheets.append((turned, marks))
    return tuple(sheets)


def _over(mark: Mark) -> Mark:
    return replace(mark, line=frozen(mirror(mark.line)), rings=tuple(frozen(mirror(r)) for r in mark.rings))
