"""`./run bench acts`: what each act on each demo job takes of the main thread, to its first picture and to all of it, as times
a fixed piece of work measured beside it. Goals: 15 and 45; of what goes on beside the longest time that a hand waits counts.
"""

import os
import statistics
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from . import deferred, pace

if TYPE_CHECKING:
    from vow_line.desk.window.desk import Desk

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

FIRST, WHOLE = 15, 45
TIMES = 3
WORST = 60


class Act(NamedTuple):
    """What was done, on which job, and what it took, in ms of the main thread and as times the fixed work."""

    what: str
    job: str
    first_ms: float
    whole_ms: float
    pace_ms: float

    @property
    def ratios(self) -> tuple[float, float]:
        """To the first picture, and to all of it."""
        return self.first_ms / self.pace_ms, self.whole_ms / self.pace_ms

    @property
    def over(self) -> float:
        """How much longer than it should."""
        return max(self.ratios[0] / FIRST, self.ratios[1] / WHOLE)


def acts() -> None:
    """Do everything to every demo job, and say what took longest."""
    from PySide6.QtCore import QEvent
    from PySide6.QtWidgets import QApplication

    from vow_line.desk.start import Places, application, lay_out_demo, make_window
    from vow_line.desk.window.desk import Desk

    app = application()
    found: list[Act] = []
    with tempfile.TemporaryDirectory() as folder:
        places = Places(Path(folder), Path(folder) / "state")
        frame = make_window(places, demo=True)
        frame.show()
        frame.fill()
        desk = frame.desk
        assert isinstance(desk, Desk)

        def turn() -> float:
            """One round of events: what it took of this thread, ms."""
            begin = time.thread_time()
            QApplication.processEvents()
            return 1000 * (time.thread_time() - begin)

        def settle() -> float:
            """Until nothing is under way: what that took of this thread, ms; where it went on beside, its longest turn."""
            turns, beside = [turn()], False
            while desk.session.worker.busy:
                beside = True
                time.sleep(0.002)
                turns.append(turn())
            turns += [turn() for _ in range(4)]
            return max(turns) if beside else sum(turns)

        def timed(what: str, job: str, does: list[Callable[[], object]]) -> None:
            firsts, wholes, paces = [], [], []
            for do in does:
                settle()
                deferred()
                paces.append(pace())
                begin = time.thread_time()
                do()
                QApplication.sendPostedEvents(None, QEvent.Type.LayoutRequest)
                QApplication.sendPostedEvents(
                    None, QEvent.Type.UpdateRequest
                )  # what is to be painted, and no timer yet
                firsts.append(1000 * (time.thread_time() - begin))
                wholes.append(firsts[-1] + settle())
            found.append(Act(what, job, *(statistics.median(v) for v in (firsts, wholes, paces))))

        for path in lay_out_demo(places):
            name = path.name.partition(".")[0]
            for what, does in _acts_on(desk, path):
                timed(what, name, does)
        timed("look at the shelf", "all", [desk.pages.show_shelf] * TIMES)
        frame.close()
    found.sort(key=lambda act: -act.over)
    slow = (sum(a.ratios[k] > goal for a in found) for k, goal in ((0, FIRST), (1, WHOLE)))
    says = "{} acts; {} over {} times the fixed work to the first picture, {} over {} to all of it"
    print(says.format(len(found), next(slow), FIRST, next(slow), WHOLE))
    for a in found[:WORST]:
        print(
            f"{a.what:<28} {a.job:<20} first {a.first_ms:6.1f} ms {a.ratios[0]:6.1f}   all {a.whole_ms:6.1f} ms "
            f"{a.ratios[1]:6.1f}   fixed work {a.pace_ms:.2f} ms"
        )
    del app


def _acts_on(desk: "Desk", path: Path) -> Iterator[tuple[str, list[Callable[[], object]]]]:
    """What is done to a job, each with how it is done several times over."""
    from vow_line.core import wearers
    from vow_line.core.job import change
    from vow_line.core.memory import forget
    from vow_line.desk.line import LINE

    session = desk.session

    def opened() -> None:
        session.open_file(path)

    def cold() -> None:
        forget()
        desk.pages.open_job(path)

    def do(step: Callable[..., object]) -> Callable[[], object]:
        return lambda: session.do("bench", step)  # type: ignore[arg-type]

    def on_shelf() -> None:
        desk.pages.show_shelf()

    yield "open, cold", [cold] * TIMES
    yield "open, again", [opened] * TIMES
    if session.job.vowed:
        yield "break the vow", [session.break_vow]
    for station, _ in LINE:
        session.go("record" if station != "record" else "measure")
        yield f"go to {station}", [lambda station=station: session.go(station)]  # type: ignore[misc]
    session.go("draft")
    edges = {"leather.thickness_mm": 0.05, "piece.margin_mm": 0.1, "stitch.pitch_mm": 0.05, "thread.needle_mm": 0.5}
    for place, by in edges.items():
        head, _, last = place.rpartition(".")
        held = getattr(session.job, head.split(".")[0])
        if not hasattr(held, last):
            continue
        now = float(getattr(held, last))
        yield f"edit {place}", [do(lambda j, v=now + by * (k + 1), p=place: change(j, p, v)) for k in range(TIMES)]
        yield f"undo {place}", [session.undo] * TIMES
    yield "units", [do(lambda j, u=u: change(j, "unit", u)) for u in ("in", "mm", "in", "mm")]
    yield "ink", [lambda ink=ink: session.prefer(ink=ink) for ink in ("evening", "day", "evening", "day")]  # type: ignore[misc]
    if type(session.job.thing).many is False:
        yield "one more wearer", [do(lambda j: wearers.one_more(j, name="another")) for _ in range(1)]
        yield "undo it", [session.undo]
    yield "vow", [session.vow]
    if session.job.vowed and session.plan.work:
        ids = [s.id for s in session.plan.work.steps[:TIMES]]
        yield "tick", [lambda id=id: session.tick(id) for id in ids]  # type: ignore[misc]
        yield "vow broken", [session.break_vow]
    yield "close", [on_shelf]
