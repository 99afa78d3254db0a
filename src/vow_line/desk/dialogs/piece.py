"""What the drawing of a piece and of the leather has no room for."""

from PySide6.QtWidgets import QWidget

from ...core.job import Job, change, value_at
from ...core.texts import said, tell
from ...core.typed import read_rings, read_rows, write_rings, write_rows
from ..session import Session
from .values import Lines, Numbers, ValuesDialog, ask

THICK: Numbers = ((said("belt, thick"), "piece.loop.belt_thick_mm", "length"),)
BOX: Numbers = ((said("the loop's box, high"), "piece.loop.box_mm", "length"),)
DOWN: Numbers = ((said("it lies below the mouth by"), "piece.loop.down_mm", "length"),)
HANGS: Numbers = ((said("it hangs by"), "piece.loop.hang_mm", "length"),)
OF_STYLE: dict[str, Numbers] = {"folded": THICK + BOX + DOWN, "slots": DOWN, "hanging": THICK + BOX + DOWN + HANGS}
FROG: Numbers = (
    (said("the band lies below the mouth by"), "piece.frog.below_mm", "length"),
    (said("its ends lap by"), "piece.frog.lap_mm", "length"),
    (said("belt, thick"), "piece.frog.belt_thick_mm", "length"),
)
RING: Numbers = ((said("stop ring, from the hand"), "piece.ring.at_mm", "length"),)


def _outline(job: Job) -> str:
    return write_rows(job.leather.outline, job.units)


def _flaws(job: Job) -> str:
    return write_rings(job.leather.flaws, job.units)


def _reliefs(job: Job) -> str:
    return write_rows(tuple((r.from_mm, r.to_mm, r.by_mm) for r in value_at(job, "piece.relief")), job.units)


def _with_reliefs(job: Job, text: str) -> Job:
    rows = read_rows(text, 3, job.units)
    return change(job, "piece.relief", tuple({"from_mm": a, "to_mm": b, "by_mm": by} for a, b, by in rows))


OUTLINE = Lines(
    said("its outline, a point to a line: right; down"), _outline,
    lambda job, text: change(job, "leather.outline", read_rows(text, 2, job.units)), tall=True,
)  # fmt: skip
FLAWS = Lines(
    said("its flaws, each a ring of points, an empty line between"), _flaws,
    lambda job, text: change(job, "leather.flaws", read_rings(text, job.units)), tall=True,
)  # fmt: skip
RELIEFS = Lines(
    said("the welt relieved, a stretch to a line: from; to; by"), _reliefs, _with_reliefs, tall=True,
)  # fmt: skip


class PieceDialog(ValuesDialog):
    """More of the piece: its loop, its ring, its reliefs, where it has them."""

    def __init__(self, job: Job, parent: QWidget) -> None:
        loop, ring, frog = (getattr(job.piece, part, None) for part in ("loop", "ring", "frog"))
        there = (OF_STYLE[loop.style] if loop is not None else ()) + (RING if ring is not None else ())
        there += FROG if frog is not None else ()
        reliefs = (RELIEFS,) if "relief" in type(job.piece).model_fields else ()
        self.empty = not there and not reliefs
        super().__init__(job, tell("More of this piece"), parent, numbers=there, lines=reliefs)  # fmt: skip


class LeatherDialog(ValuesDialog):
    """More of the leather: what it is called, its outline, its flaws."""

    def __init__(self, job: Job, parent: QWidget) -> None:
        super().__init__(job, tell("More of the leather"), parent, words=((said("it is called"), "leather.name"),),
                         lines=(OUTLINE, FLAWS))  # fmt: skip


def ask_piece(session: Session, parent: QWidget) -> None:
    """Ask for more of the piece."""
    if not session.open:
        return
    asked = PieceDialog(session.job, parent)
    if asked.empty:
        session.say(tell("All of this piece stands on the drawing."))
        return
    ask(session, asked, tell("more of this piece"))


def ask_leather(session: Session, parent: QWidget) -> None:
    """Ask for more of the leather."""
    if session.open:
        ask(session, LeatherDialog(session.job, parent), tell("more of the leather"))
