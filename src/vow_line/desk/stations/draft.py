"""Draft: the pieces flat and true to scale, the section under the pointer, the thing drawn out."""

from collections.abc import Iterator
from dataclasses import replace
from functools import lru_cache
from typing import Literal, TypeVar

import numpy as np

from ...core.curve import frozen, walk
from ...core.draft import Draft
from ...core.draft.drafted import Turned, WayOut
from ...core.draft.ornament import TITLES, Ornament
from ...core.draft.search import Near, Way
from ...core.drawing import Callout, Label, Mark
from ...core.job import Job
from ...core.meanings import Meaning
from ...core.measure import Trial
from ...core.measure.trial import Correction, lacking
from ...core.plan import Plan
from ...core.quantity import Q, write
from ...core.reckoning import Reckoning, length
from ...core.stitch.pattern import OnSheet, beside
from ...core.texts import Said, amount, heading, joined, listed, said, summed, tell, verbatim
from ..board import Inset, Scene, Turning, Worn
from ..lists.rows import Row
from .station import WAITS, Showing, View, for_whom, head, pick, sums

ORNAMENT_FIELDS = {
    "border": (("in_mm", said("in from the cut")),),
    "punched-row": (
        ("in_mm", said("in from the cut")),
        ("pitch_mm", said("apart")),
        ("large_mm", said("large hole")),
        ("small_mm", said("small hole")),
    ),
    "pinked-edge": (("pitch_mm", said("teeth, wide")), ("deep_mm", said("teeth, deep"))),
    "overlay": (
        ("in_mm", said("in from the cut")),
        ("thick_mm", said("overlay, thick")),
        ("large_by_mm", said("cut large by")),
    ),
    "stamped-area": (("in_mm", said("in from the cut")),),
    "binding": (("in_mm", said("reaches in")), ("thick_mm", said("binding, thick"))),
    "lining": (("thick_mm", said("lining, thick")), ("large_by_mm", said("cut large by"))),
    "natural-edge": (("in_mm", said("beyond its line, at most")),),
    "fringe": (
        ("deep_mm", said("fringe, long")),
        ("pitch_mm", said("strips, wide")),
        ("thick_mm", said("fringe, thick")),
    ),
}
STOCKS = {"felt": said("felt"), "foam": said("foam"), "card": said("card"), "cloth": said("cloth")}
TOUCH_MM = 9.0
SMALL, FLAT = 0.08, 0.5  # a piece so low beside all of them, and beside its own width, is named at its end
OVER_MM, OVER = 4.0, 0.012  # a name stands so far over its piece, or as a share of how wide all of them lie
WRAPPED_MM = 26.0  # from the pieces to what is wrapped again
UNDER = ("grain", "flesh", "glue")
OnPiece = TypeVar("OnPiece", Mark, Callout, Label)


def _scene(plan: Plan, view: View) -> Scene:
    draft, stitching = plan.draft, plan.stitching
    if draft is None or stitching is None:
        return for_whom(plan, Scene(waits=WAITS))
    laid = beside(draft, stitching, draft.shown)
    marks = [m for sheet in laid for m in sheet.marks]
    under = [m for m in marks if m.meaning in UNDER]
    over = [m for m in marks if m.meaning not in UNDER and m.meaning != "edge"]
    way = view.way or draft.way_out
    thing = [Mark("thing", way.at(view.drawn_mm), True, "thing")] if way else []
    shifts = {sheet.piece.id: sheet.shift for sheet in laid}
    own = [_moved(m, shifts[m.on]) if m.on in shifts else m for m in draft.marks]
    below = [m for m in own if m.meaning == "welt"]
    above = [m for m in own if m.meaning != "welt"]
    labels = _named(draft.labels, laid) + (_names(laid) if len(laid) > 1 else ())
    worn = None
    if draft.turned is not None:
        worn = view.worn or _worn(draft.turned, view.turned_rad, laid)
        above += (*worn.strains, *worn.marks)
        labels += (worn.label,)
    inset = None
    out = view.drawn_mm > 0 and draft.way_out is not None
    touch = _touch(plan, view)
    reach = None if way is None else np.concatenate([way.at(0.0), way.at(_far(way))]) if out else way.at(0.0)
    if touch is not None:  # what is said of the whole way is not said as if it were here
        labels = tuple(label for label in labels if label.meaning != "alarm")
        meaning: Meaning = "alarm" if touch.gap_mm < 0 else "done"
        above.append(Mark(meaning, frozen([touch.at]), id="touch", size_mm=TOUCH_MM))
        labels += (Label(_touches(touch.gap_mm), (touch.at[0], touch.at[1] - TOUCH_MM), meaning, strong=True),)
    if draft.section:
        section = draft.section(view.section_at_mm if touch is None else touch.at[1])
        outline, at = laid[0].piece.outline, section.at_mm
        above.insert(0, Mark("dimension", frozen([[outline[:, 0].min() - 6, at], [outline[:, 0].max() + 6, at]])))
        inset = Inset(section.title, lambda: (section.draw(), ()), section.says)
    elif draft.from_above is not None and (round_ := draft.from_above()) is not None:
        inset = Inset(round_.title, round_.draw, round_.says, labelled=True)
    return for_whom(plan, Scene(
        (*under, *below, *thing, *over, *above),
        (*_where(draft.callouts, laid), *_trial(plan.job, draft, laid), *_ornaments(plan, laid)),
        labels,
        inset,
        passing=frozenset(["thing"]),
        sentences=(*draft.sentences, *_added(plan)),
        reach=worn.turning.ends if worn else reach,
        worn=worn,
    ))  # fmt: skip


def _names(laid: tuple[OnSheet, ...]) -> tuple[Label, ...]:
    """What each piece is called, over it; beside it where it is flat and small, and a name over it would lie on another."""
    rings = [sheet.marks[0].line for sheet in laid]
    whole = np.ptp(np.concatenate(rings), axis=0)
    over_mm = max(OVER_MM, OVER * float(whole[0]))
    found = []
    for sheet, ring in zip(laid, rings, strict=True):
        (left, top), (right, low) = ring.min(axis=0).tolist(), ring.max(axis=0).tolist()
        if low - top < min(SMALL * float(whole[1]), FLAT * (right - left)):
            found.append(Label(sheet.piece.named, (right + over_mm, low), align="left"))
        else:
            found.append(Label(sheet.piece.named, (float(ring[:, 0].mean()), top - over_mm)))
    return tuple(found)


def _worn(turned: Turned, by_rad: float, laid: tuple[OnSheet, ...]) -> Worn:
    """What is wrapped again, right of all the pieces, its middle level with that of the first; where a hand turns it; and how
    the pieces strain.
    """
    marks = turned.draw(by_rad)
    right = max(float(s.piece.outline[:, 0].max()) + s.shift[0] for s in laid)
    low, high = (float(f(np.concatenate([m.line[:, 1] for m in marks]))) for f in (np.min, np.max))
    first = laid[0].piece.outline
    centre, middle = right + WRAPPED_MM + turned.half_mm, float(first[:, 1].min() + first[:, 1].max()) / 2
    shift = np.array([centre, middle - (low + high) / 2])
    there = tuple(replace(m, line=frozen(m.line + shift)) for m in marks)
    top = float(low + shift[1])
    label = Label(said("as it is worn: drag turns it"), (centre, min(top, float(first[:, 1].min())) - 9.0))
    shifts = {sheet.piece.id: sheet.shift for sheet in laid}
    strains = tuple(_moved(m, shifts[m.on]) if m.on in shifts else m for m in turned.strained())
    return Worn(there, label, Turning((centre, middle), turned.half_mm, (high - low) / 2), strains)


@lru_cache(2048)
def _moved(drawn: OnPiece, shift: tuple[float, float]) -> OnPiece:
    """What is drawn on another piece than the first, where that lies: the same again while it does."""
    return drawn.moved(*shift)


def _touch(plan: Plan, view: View) -> Near | None:
    """Where the thing comes nearest to its walls, drawn out as far as it is looked at."""
    way = plan.draft.way_out if plan.draft else None
    return way.nearest(view.drawn_mm, view.way) if way is not None and view.drawn_mm > 0 else None


def _drawn(plan: Plan, view: View) -> tuple[Row, ...]:
    """How near it comes, as a line of the slip, and what that was measured between."""
    touch, units = _touch(plan, view), plan.job.units
    if touch is None:
        return ()
    says = said("its outline, {far} out, against the seam's inner side, {at} along", far=length(view.drawn_mm),
                at=length(touch.at[1]))  # fmt: skip
    return (Row("drawn", "sum", tell("Nearest, drawn out"), write(length(touch.gap_mm), units), says.write(units),
                marks=("touch",)),)  # fmt: skip


def _far(way: Way | WayOut) -> float:
    """How far it is drawn at most."""
    return way.long_mm if isinstance(way, WayOut) else float(way.drawn_mm[-1])


def _touches(gap_mm: float) -> Said:
    """How near the thing is to its walls, drawn out so far."""
    if gap_mm < 0:
        return said("{d} too tight here", d=length(-gap_mm))
    return said("{d} to spare here", d=length(gap_mm)) if gap_mm >= 0.05 else said("it touches here")


def _added(plan: Plan) -> tuple[Said, ...]:
    """What is said of a trial and of the last ornament."""
    job, last = plan.job, _last_ornament(plan)
    tried = bool(job.trials) and not job.trials[-1].taken_back
    on = (said("{ornament} on the {piece}.", ornament=heading(TITLES[last.kind])),) if last else ()
    return ((said("Tried in {stock}."),) if tried else ()) + on


def _last_ornament(plan: Plan) -> Ornament | None:
    """The last ornament, where the piece it is on is still there."""
    there = {p.id for p in plan.draft.pieces} if plan.draft else set()
    return next((o for o in plan.job.ornaments[-1:] if o.piece in there), None)


def _trial(job: Job, draft: Draft, laid: tuple[OnSheet, ...]) -> tuple[Callout, ...]:
    """What the latest mock-up was made of, and its corrections, each beside its station."""
    if not job.trials or job.trials[-1].taken_back:
        return ()
    k, trial, first = len(job.trials) - 1, job.trials[-1], laid[0]
    right, left = float(first.piece.outline[:, 0].max()), float(first.piece.outline[:, 0].min())
    low = float(first.piece.outline[:, 1].max())
    callouts = [
        Callout(f"trials.{k}.stock", said("tried in"), "count", trial.stock, (left, low), "left",
                choices=tuple(STOCKS.values())),
        Callout(f"trials.{k}.thick_mm", said("mock-up, thick"), "length", trial.thick_mm, (left, low), "left"),
    ]  # fmt: skip
    sides = {
        "low": said("more here, at {at}"), "top": said("more, far side, at {at}"), "round": said("more round, at {at}"),
    }  # fmt: skip
    for n, c in enumerate(trial.corrections):
        if c.side == "edge":
            callouts += _of_edge(f"trials.{k}.corrections.{n}", c, draft, laid)
            continue
        at = (left if c.side == "top" else right, c.at_mm)
        name = sides[c.side].filled(at=length(c.at_mm))
        callouts.append(Callout(f"trials.{k}.corrections.{n}.by_mm", name, "length", c.by_mm, at, "left"))
    return tuple(callouts)


def _of_edge(path: str, correction: Correction, draft: Draft, laid: tuple[OnSheet, ...]) -> Iterator[Callout]:
    """A correction at an edge: by how much, where along it, over what, on the other half as well or not."""
    if draft.edges_of is None:
        return
    edges = draft.edges_of()
    names = tuple(edges.lines)
    on, line = edges.lines.get(correction.edge, (laid[0].piece.id, laid[0].piece.outline))
    shift = next((s.shift for s in laid if s.piece.id == on), (0.0, 0.0))
    (u, v), edge = walk(line, [correction.at_mm])[0].tolist(), verbatim(correction.edge)
    at = (u + shift[0], v + shift[1])
    side: Literal["left", "right"] = "left" if on == laid[0].piece.id else "right"
    yield Callout(f"{path}.by_mm", said("let out at {edge}", edge=edge), "length", correction.by_mm, at, side)
    yield Callout(f"{path}.at_mm", said("along {edge}", edge=edge), "length", correction.at_mm, at, side)
    yield Callout(f"{path}.over_mm", said("over so much of {edge}", edge=edge), "length", correction.over_mm, at, side)
    yield Callout(f"{path}.edge", said("mock-up: edge"), "count", correction.edge, at, side,
                  choices=tuple(said("{name}", name=verbatim(n)) for n in names), meant=names, seldom=True)  # fmt: skip
    mirror = edges.mirrors.get(correction.edge, correction.mirror)
    if mirror:
        yield Callout(f"{path}.mirror", said("let out"), "count", correction.mirror, at, side, seldom=True,
                      choices=(said("on {edge} alone", edge=edge),
                               said("on {edge} and {other}", edge=edge, other=verbatim(mirror))),
                      meant=("", mirror))  # fmt: skip


def _ornaments(plan: Plan, laid: tuple[OnSheet, ...]) -> tuple[Callout, ...]:
    """The choices of the last ornament, beside the piece it is on."""
    ornament = _last_ornament(plan)
    if ornament is None or plan.draft is None:
        return ()
    k = len(plan.job.ornaments) - 1
    on = [laid[0], *(s for s in laid if s.piece.id in (ornament.piece, f"{ornament.kind}-{k + 1}"))][-1]
    at = (float(on.piece.outline[:, 0].min()) + on.shift[0], float(on.piece.outline[:, 1].max()) + on.shift[1])
    pieces = tuple(p for p in plan.draft.pieces if not p.id.startswith(("overlay", "lining", "binding", "fringe")))
    callouts = [Callout(f"ornaments.{k}.piece", said("{ornament}, on the", ornament=TITLES[ornament.kind]), "count",
                     ornament.piece, at, "left",
                     f"ornament/{k}", tuple(p.title for p in pieces), tuple(p.id for p in pieces))]  # fmt: skip
    callouts += [
        Callout(f"ornaments.{k}.{field}", name, "length", getattr(ornament, field), at, "left", f"ornament/{k}")
        for field, name in ORNAMENT_FIELDS[ornament.kind]
    ]
    return tuple(callouts)


def _tried(k: int, trial: Trial, job: Job) -> Row:
    """A trial as a line of the slip."""
    units, piece, neutral_mm = job.units, job.piece, job.piece.neutral * job.leather.thickness_mm
    known = [c for c in trial.corrections if c.by_mm is not None]
    more = [lacking(c, trial, piece.turns.get(c.side, 0.0), neutral_mm) - (c.by_mm or 0.0) for c in known]
    adds = summed([amount(length(c.by_mm or 0.0)) for c in known]) or said("no corrections yet")
    if more and abs(more[0]) > 0.05:
        adds = said("{adds}; in its turns leather of {t} takes {more} more at each than a mock-up so thick",
                    adds=adds, t=Q("leather", job.leather.thickness_mm), more=length(more[0]))  # fmt: skip
    tried = said("Tried in {stock}", stock=STOCKS[trial.stock])
    tried = joined(tried, said("taken back")) if trial.taken_back else tried
    return Row(f"trial/{k}", "sum", tried.write(units), write(length(trial.thick_mm), units), adds.write(units))


def _named(labels: tuple[Label, ...], laid: tuple[OnSheet, ...]) -> tuple[Label, ...]:
    """Words on other pieces than the first go where those lie."""
    shifts = {sheet.piece.id: sheet.shift for sheet in laid}
    return tuple(_moved(k, shifts[k.on]) if k.on in shifts else k for k in labels)


def _where(callouts: tuple[Callout, ...], laid: tuple[OnSheet, ...]) -> tuple[Callout, ...]:
    """Callouts on other pieces than the first go where those lie."""
    shifts = {sheet.piece.id: sheet.shift for sheet in laid}
    return tuple(_moved(c, shifts[c.on]) if c.on in shifts else c for c in callouts)


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    if plan.draft is None or plan.stitching is None or plan.threading is None:
        return (head(tell("Reckoning")),)
    units = plan.job.units
    follows: tuple[Reckoning, ...] = ()
    if plan.stitching.seams:
        main = plan.stitching.seams[-1].id
        follows = pick(plan.sums("stitch"), f"{main}/edge", f"{main}/stack", f"{main}/holes")
        follows += pick(plan.sums("thread"), f"{main}/thread")
    tried = [_tried(k, trial, plan.job) for k, trial in enumerate(plan.job.trials)]
    if plan.tried is not None:
        by = listed([said("{piece} by {d}", piece=title, d=length(mm)) for title, mm in plan.tried])
        says = by or said("no piece: it lies where the pattern does not follow the thing")
        tried.append(Row("tried", "sum", tell("What the last of them moved"), "", says.write(units)))
    drafted = plan.sums("draft")
    area = pick(drafted, "area")
    own = tuple(r for r in drafted if r not in area)
    after = follows + area
    what_follows = (head(tell("What follows"), True), *sums(after, units)) if after else ()
    trials = (head(tell("Trials"), True), *tried) if tried else ()
    return (head(tell("Reckoning")), *_drawn(plan, view), *sums(own, units), *what_follows, *trials)


SHOWING = Showing("draft", said("Draft"), _scene, _slip, draws_out=True)
