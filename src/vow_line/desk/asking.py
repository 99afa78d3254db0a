"""What is asked for in a window of its own: names, the thread, a length in hand, a stitch to practise."""

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QInputDialog

from ..core import job as steps
from ..core.errors import VowLineError
from ..core.quantity import read
from ..core.thread.stitches import STITCHES
from .naming import Naming
from .spool import Spool

if TYPE_CHECKING:
    from .window import Window


def name_job(window: "Window") -> None:
    """Ask for the name, the maker, whose it is and the date promised."""
    if window.store is None:
        return
    naming = Naming(window.store.job, window)
    if naming.exec():
        window.do("name the job", naming.named)


def choose_thread(window: "Window") -> None:
    """Ask for what is known of the thread, its needles and the hand."""
    if window.store is None:
        return
    spool = Spool(window.store.job, window)
    if spool.exec():
        window.do("thread, needle and hand", spool.chosen)


def measure_thread(window: "Window", seam: str, text: str | None = None) -> None:
    """Take the length of thread in hand, from the last hole to its end: what is left is counted on from it."""
    if window.store is None:
        return
    if text is None:
        text, yes = QInputDialog.getText(
            window, "The thread in hand", f"All that is left on the {_title(window, seam)}, both ends"
        )
        if not yes:
            return
    try:
        mm = read("long", text, window.store.job.units)
    except VowLineError as error:
        window.say(str(error), wrong=True)
        return
    window.do("measure the thread", lambda j: steps.measure_thread(j, seam=seam, mm=mm))


def _title(window: "Window", seam: str) -> str:
    threading = window.store.plan.threading if window.store else None
    return threading.seam(seam).seam.title if threading else ""


def practise(window: "Window", stitch: str | None = None) -> None:
    """Practise a stitch on a strip of scrap."""
    if stitch is None:
        chosen, yes = QInputDialog.getItem(
            window, "Practise a stitch", "On a strip of scrap", [s.title for s in STITCHES.values()], editable=False
        )
        if not yes:
            return
        stitch = next(s.id for s in STITCHES.values() if s.title == chosen)
    window.say(STITCHES[stitch].says.capitalize() + ".")
    window.pages.setCurrentWidget(window.sew)
    window.sew.practise(stitch, window.ink)
    window.sew.setFocus(Qt.FocusReason.OtherFocusReason)
