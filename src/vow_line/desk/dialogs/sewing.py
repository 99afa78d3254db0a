"""Asked at Sew: the length of thread in hand, and which stitch to practise."""

from PySide6.QtWidgets import QInputDialog, QWidget

from ...core import steps
from ...core.errors import VowLineError
from ...core.quantity import Units
from ...core.texts import tell
from ...core.thread.stitches import STITCHES
from ...core.typed import read
from ..session import Session


def measure_thread(session: Session, parent: QWidget, seam: str, text: str | None = None) -> None:
    """Take the length of thread in hand, from the last hole to its end: what is left is counted on from it."""
    if not session.open:
        return
    if text is None:
        threading = session.plan.threading
        title = threading.seam(seam).seam.title.write(session.units) if threading else ""
        text, yes = QInputDialog.getText(
            parent, tell("The thread in hand"), tell("All that is left on the {title}, both ends", title=title)
        )
        if not yes:
            return
    try:
        mm = read("long", text, session.units)
    except VowLineError as error:
        session.say(str(error), wrong=True)
        return
    session.do(tell("measure the thread"), lambda j: steps.measure_thread(j, seam=seam, mm=mm))


def ask_stitch(parent: QWidget) -> str | None:
    """Ask which stitch to practise on a strip of scrap."""
    titles = [s.title.write(Units()) for s in STITCHES.values()]
    chosen, yes = QInputDialog.getItem(
        parent, tell("Practise a stitch"), tell("On a strip of scrap"), titles, editable=False
    )
    return list(STITCHES)[titles.index(chosen)] if yes else None
