"""The first five minutes: at each station of a job just begun its next step in one line, which goes away by itself."""

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QWidget

from ...core.finding import Station
from ...core.plan import Plan
from ...core.texts import Said, said, tell
from ..look.ink import type_
from ..look.words import Words

SHOWN_MS = 20_000
NEXT: dict[Station, Said] = {
    "measure": said("Read what glows, and type it. Enter goes on to the next."),
    "draft": said("Change a bold word or a number, and the pattern follows. Enter on the drawing goes on."),
    "stitch": said("Say how the holes are made, and how far apart. Enter on the drawing goes on."),
    "thread": said("Say which thread is on the spool: its length follows. Enter on the drawing goes on."),
    "layout": said("Measure the leather; the pieces are laid on it. Enter on the drawing goes on to the vow."),
    "vow": said("Read it back. When nothing stands in the way, vow it."),
    "cut": said("Tick off each piece when it is cut: Space, on the list."),
    "form": said("Weigh the leather dry, then wet: the curve says when it is dry again."),
    "sew": said("Space at every hole. The hand that comes next is called."),
    "edge": said("Tick off each edge when it is done: Space, on the list."),
    "record": said("Write down what was left of the thread: the next job's lengths learn from it."),
}
HELD = said("Mend what is held, below the drawing: a press on what is underlined does it, or goes there.")
UNREAD = said("First read what is missing, at Measure.")
WAITS = said("Nothing to do here before the vow.")
DRY = said("Nothing to form: this piece stays dry.")
AFTER_VOW = ("cut", "form", "sew", "edge", "record")


def next_step(station: Station, plan: Plan) -> Said:
    """What is to be done at a station of a job that has just been begun."""
    if station != "measure" and (plan.draft if station in ("draft", "stitch") else plan.whole) is None:
        return UNREAD
    if station in AFTER_VOW and not plan.job.vowed:
        return WAITS
    if station == "form" and plan.draft is not None and not plan.draft.wet:
        return DRY
    held = any(f.level == "hold" and plan.accepted(f) is None for f in plan.at(station))
    if held and station not in ("measure", "vow"):
        return HELD
    return NEXT[station]


class Hint(Words):
    """Shown once at each station of a job begun since the program was, until something is done or some time has passed."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("state")
        self.setFont(type_(15))
        self.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.setAccessibleName(tell("The next step"))
        self._shown: set[tuple[str, Station]] = set()
        self._going = QTimer(self)
        self._going.setSingleShot(True)
        self._going.setInterval(SHOWN_MS)
        self._going.timeout.connect(self.clear)

    def arrive(self, job: str, station: Station, plan: Plan) -> None:
        """Say the next step, the first time at a station."""
        self.clear()
        if (job, station) not in self._shown:
            self._shown.add((job, station))
            self.setText(next_step(station, plan).write(plan.job.units))
            self._going.start()
