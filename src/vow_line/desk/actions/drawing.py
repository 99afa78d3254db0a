"""What a place pointed at on the drawing asks for: a station more, a correction of the mock-up, an ornament."""

from ...core import steps
from ...core.draft.ornament import TITLES
from ...core.reckoning import length
from ...core.stitch.pattern import beside, tried_at
from ...core.texts import said, tell
from ..session import Session

NOT_TRIED = said("Nothing goes round a body here: there is nothing to try.")


def ornament(session: Session, kind: str) -> None:
    """Put an ornament on the first piece; its piece and its numbers are chosen at Draft."""
    draft = session.plan.draft if session.open else None
    if draft is not None and session.do(
        tell("put on: {ornament}", ornament=TITLES[kind]),
        lambda j: steps.ornament(j, kind=kind, piece=draft.pieces[0].id),
    ):
        session.go("draft")


def correct_at_section(session: Session, section_at_mm: float) -> None:
    """Correct the mock-up where the section is cut."""
    draft = session.plan.draft if session.open else None
    if session.station == "draft" and draft is not None and draft.edges_of is not None:
        _let_out(session, None)
    elif session.station == "draft":
        placed(session, 1.0, section_at_mm)


def placed(session: Session, x: float, y: float) -> None:
    """A double click on the drawing puts a station there, or at Draft a correction of the mock-up that was tried."""
    draft = session.plan.draft if session.open else None
    if session.station == "draft" and draft is not None and draft.edges_of is not None:
        _let_out(session, (x, y))
        return
    if session.station == "draft" and draft is not None:
        body = session.plan.body
        if draft.station_of is None or body is None or body.untried:
            why = body.untried if body is not None and body.untried else NOT_TRIED
            session.say(why.write(session.units), wrong=True)
            return
        at_mm, side = draft.station_of(x, y)
        x_mm = getattr(body, "x_mm", None)
        if x_mm is not None and not x_mm[0] <= at_mm <= x_mm[-1]:
            session.say(said("Nothing of it lies at {at}: a mock-up is corrected where it goes round the thing.",
                             at=length(at_mm)), wrong=True)  # fmt: skip
            return
        today = session.now().date()
        if session.do(tell("correct the mock-up"), lambda job: steps.correct(job, at_mm=at_mm, side=side, on=today)):
            trials = session.job.trials
            session.point(f"trials.{len(trials) - 1}.corrections.{len(trials[-1].corrections) - 1}.by_mm")
    if session.station != "measure":
        return
    at = session.job.thing.place_of(x, y)
    if at is not None:
        session.do(tell("add a station"), lambda job: steps.add_station(job, at_mm=at))
    elif steps.point_more(session.job, x=x, y=y) is not None:
        session.do(tell("add a point"), lambda job: steps.point_more(job, x=x, y=y) or job)


def _let_out(session: Session, at: tuple[float, float] | None) -> None:
    """A correction of the mock-up at the edge that was pointed at, or at the middle of the first."""
    draft, stitching = session.plan.draft, session.plan.stitching
    if draft is None or stitching is None or draft.edges_of is None:
        return
    edges = draft.edges_of()
    spot = tried_at(edges, beside(draft, stitching, draft.shown), at)
    if spot is None:
        session.say(
            tell("Double-click at the edge of a panel to say where the mock-up was tight or loose."), wrong=True
        )
        return
    edge, at_mm = spot
    mirror, today = edges.mirrors.get(edge, ""), session.now().date()
    if session.do(
        tell("correct the mock-up"),
        lambda job: steps.correct(job, at_mm=at_mm, side="edge", on=today, edge=edge, mirror=mirror),
    ):
        trials = session.job.trials
        session.point(f"trials.{len(trials) - 1}.corrections.{len(trials[-1].corrections) - 1}.by_mm")


def lay(session: Session, path: str, by_rad: float = 0.0, *, over: bool = False) -> None:
    """Turn the panel that the reading at this path belongs to, or turn it over."""
    says = tell("turn a panel over") if over else tell("turn a panel")
    session.do(says, lambda j: steps.lay(j, path=path, by_rad=by_rad, over=over))


def remove_station(session: Session, path: str) -> None:
    """Take away the station that the reading at this path belongs to."""
    session.do(tell("take a station away"), lambda j: steps.remove_station(j, path=path))
