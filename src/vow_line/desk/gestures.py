"""What a place pointed at on the drawing asks for: a station more, a correction of the mock-up, an ornament."""

from typing import TYPE_CHECKING

from ..core import job as steps
from ..core.draft.ornament import TITLES

if TYPE_CHECKING:
    from .window import Window


def ornament(window: "Window", kind: str) -> None:
    """Put an ornament on the first piece; its piece and its numbers are chosen at Draft."""
    draft = window.store.plan.draft if window.store else None
    if draft is not None and window.do(
        f"a {TITLES[kind]}", lambda j: steps.ornament(j, kind=kind, piece=draft.pieces[0].id)
    ):
        window.go("draft")


def correct_at_section(window: "Window") -> None:
    """Correct the mock-up where the section is cut."""
    if window.station == "draft" and window.store is not None and window.store.plan.draft is not None:
        placed(window, 1.0, window.bench.view.section_at_mm)


def placed(window: "Window", x: float, y: float) -> None:
    """A double click on the drawing puts a station there, or at Draft a correction of the mock-up that was tried."""
    draft = window.store.plan.draft if window.store else None
    if window.station == "draft" and draft is not None and draft.station_of is not None:
        at_mm, side = draft.station_of(x, y)
        today = window.now().date()
        if window.do("correct the mock-up", lambda job: steps.correct(job, at_mm=at_mm, side=side, on=today)):
            trials = window.store.job.trials if window.store else ()
            window.bench.board.show_field(
                f"trials.{len(trials) - 1}.corrections.{len(trials[-1].corrections) - 1}.by_mm"
            )
    if window.store is None or window.station != "measure":
        return
    at = window.store.job.thing.place_of(x, y)
    if at is not None:
        window.do("add a station", lambda job: steps.add_station(job, at_mm=at))


def remove_station(window: "Window") -> None:
    """Take away the station whose reading has the focus."""
    path = next((p for p, f in window.bench.board.fields.items() if f.hasFocus()), "")
    window.do("take a station away", lambda j: steps.remove_station(j, path=path))
