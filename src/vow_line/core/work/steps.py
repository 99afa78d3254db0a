"""The steps of a job in an order that works: what is closed in later is finished first."""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Literal

import numpy as np

from ..curve import Values, arc_length
from ..draft import Draft, Edge, Piece
from ..finding import Finding
from ..reckoning import Reckoning, Said, count, length, minutes, percent, reckon, said
from ..stitch import Stitching
from ..thread import Threading
from .choices import WorkChoices
from .drying import TAKES_UP, expected_tau_min, fitted_tau_min, minutes_until_dry

CUT_MM_PER_MIN = 120.0  # curved outlines with a knife (from memory)
SKIVE_MM_PER_MIN = 8.0
HOLES_PER_MIN = 8.0
SET_UP_MIN = 5.0  # thread measured, waxed and on its needles, the piece in the clam (from memory)
EDGE_MM_PER_MIN = 12.0  # level, bevel, damp and rub, per pass over the edge (from memory)
BEVEL_FOR_MM = ((2.0, 1), (3.5, 2), (99.0, 3))  # bevel size by the thickness of the edge (common practice)

KNIFE = "Cut away from the hand that holds; a sharp knife, a fresh mat."
AWL = "Keep the hand out of the awl's line; a cork or a clam behind the work."
DRILL = "Drill: the work clamped flat, eyes covered, sleeves and hair tied back."
CEMENT = "Contact cement: open the window, gloves, no flame near."
GLUE = "Glue and clamps: fingers clear, window open."
SAW = "Saw and chisel: work held in a vice, both hands behind the edge; powered saws as their makers say."
FLAME = "Melt thread ends with care: the melt burns skin, and cement near it can catch."
DUST = "Sanding dust: mask, and away from the wax."
WATER = "Not over 50 °C: wet vegetable-tanned leather shrinks for good, about 70 °C from memory."
BLADE = "Tape the edge before the blade goes near the work."
HAMMER = "Setters and hammers: eyes covered, fingers off the post."
CARRYING = "Carrying blades is regulated: check local law."
SOLVENTS = "Dyes and solvents: ventilation, gloves, no flame; follow the maker's sheet."
CAUTIONS = (KNIFE, AWL, DRILL, BLADE, CEMENT, FLAME, DUST, HAMMER, GLUE, SAW, WATER, CARRYING, SOLVENTS)

_WITH = {
    "iron": "with the awl",
    "wheel": "marked with the wheel, then the awl",
    "awl": "with the awl",
    "drill": "drilled on a plate",
}
"""How holes are made where no prong is struck."""

VERBS = {"wood": "Saw and recess"}
"""What is done to a piece of another stock than leather."""

StepStation = Literal["cut", "form", "sew", "edge"]


@dataclass(frozen=True, slots=True)
class Step:
    """One step: minutes of hands, minutes to wait after it (least, greatest or None), the steps it needs."""

    id: str
    station: StepStation
    name: str
    minutes: float
    needs: tuple[str, ...]
    says: Said
    wait: tuple[float, float | None] = (0.0, None)
    caution: str = ""
    begins: datetime | None = None
    length_mm: float = 0.0


@dataclass(frozen=True, slots=True, eq=False)
class Work:
    """All steps in order, placed in the maker's hours when a beginning was given, and the drying curve."""

    steps: tuple[Step, ...]
    ready: datetime | None
    dry_minutes: float
    tau_min: float
    tau_from: Literal["readings", "expected"]
    reckonings: tuple[Reckoning, ...]
    findings: tuple[Finding, ...]

    def at(self, *stations: StepStation) -> tuple[Step, ...]:
        """The steps done at these stations, in order."""
        return tuple(s for s in self.steps if s.station in stations)

    def before(self, step: str) -> tuple[Step, ...]:
        """The steps that a step needs, directly or not, in order."""
        by_id = {s.id: s for s in self.steps}
        wanted, waiting = set[str](), [step]
        while waiting:
            at = by_id.get(waiting.pop())
            fresh = [n for n in at.needs if n not in wanted] if at else []
            wanted.update(fresh)
            waiting += fresh
        return tuple(s for s in self.steps if s.id in wanted)


def plan_work(
    draft: Draft, stitching: Stitching, threading: Threading, leather_mm: float, choices: WorkChoices,
    promised: datetime | None,
) -> Work:  # fmt: skip
    """Order the work, fill the maker's hours, compare with the date promised. Never raises."""
    tau, source = expected_tau_min(leather_mm, choices.room_celsius, choices.humidity), "expected"
    excess = TAKES_UP
    if choices.dry_grams and choices.weighings:
        excess = max(choices.weighings[0].grams / choices.dry_grams - 1, 0)
        fitted = fitted_tau_min(choices.weighings, choices.dry_grams)
        if fitted:
            tau, source = fitted, "readings"
    dry = minutes_until_dry(tau, excess)
    steps = _in_order(_steps(draft, stitching, threading, choices, dry))
    placed, ready = _placed(steps, choices)
    hands = sum(s.minutes for s in steps)
    left = sum(s.minutes for s in steps if not choices.is_done(s.id))
    reckonings = [
        reckon("work/hands", "Hands on", minutes(hands),
               said("{n} steps; {left} still to do", n=count(len(steps)), left=minutes(left))),
        reckon("work/pace", "Sewing", minutes(sum(s.minutes for s in steps if s.id.startswith("sew/"))),
               said("{run} at {pace} a minute + {n} seams of {set} to set up",
                    n=count(len(stitching.seams)), set=minutes(SET_UP_MIN), run=length(sum(s.run_mm for s in stitching.seams)),
                    pace=length(choices.pace_mm_per_min))),
    ]  # fmt: skip
    edges = [s for s in steps if s.station == "edge" and s.length_mm]
    reckonings.append(reckon(
        "work/edges", "Edge to finish", length(sum(s.length_mm for s in edges)),
        said(" + ".join(f"{{e{i}:n}}" for i in range(len(edges))),
             **{f"e{i}": length(s.length_mm) for i, s in enumerate(edges)}),
    ))  # fmt: skip
    if draft.wet:
        reckonings.append(reckon(
            "work/dry", "Dry after", minutes(dry),
            said("{tau} × ln({excess} / {dry}): time constant {how}".replace(
                "{how}", "fitted to the weighings" if source == "readings" else "expected for this leather and air"),
                tau=minutes(tau), excess=percent(excess), dry=percent(0.02)),
        ))  # fmt: skip
    findings = []
    if ready and promised and ready > promised:
        findings.append(Finding(
            "look", "late", "vow",
            said("At these hours the work is ready {days} after the day promised.",
                 days=minutes((ready - promised).total_seconds() / 60)), "promised",
        ))  # fmt: skip
    return Work(placed, ready, dry, tau, "readings" if source == "readings" else "expected", tuple(reckonings),
                tuple(findings))  # fmt: skip


def _steps(draft: Draft, stitching: Stitching, threading: Threading, choices: WorkChoices, dry: float) -> list[Step]:
    steps: list[Step] = []
    fixed: list[str] = []
    made: dict[str, list[str]] = {}  # the steps on each piece before it is joined to another
    for piece in draft.pieces:
        cut = f"cut/{piece.name}"
        around = float(arc_length(np.vstack([piece.outline, piece.outline[:1]]))[-1]) * piece.count
        steps.append(Step(
            cut, "cut", f"{VERBS.get(piece.stock, 'Cut')} the {piece.name}", 1 + around / CUT_MM_PER_MIN, (),
            said(f"{_way_up(piece)}{{n}} of it, {{around}} of cut",
                 n=count(piece.count), around=length(around)), caution=SAW if piece.stock == "wood" else KNIFE,
        ))  # fmt: skip
        own = [cut]
        for punch in piece.punches:
            own.append(f"punch/{piece.name}/{punch.name}")
            steps.append(Step(own[-1], "cut", f"Punch the {punch.name}", 1, (cut,),
                              said("{d} round", d=length(punch.diameter_mm))))  # fmt: skip
        if piece.slots:
            own.append(f"slots/{piece.name}")
            tall = float(np.ptp(piece.slots[0][:, 1]))
            steps.append(Step(own[-1], "cut", f"Cut the slots of the {piece.name}", 4, (cut,),
                              said("{n} of {l}: a round hole at each end first, or they tear on", n=count(len(piece.slots)),
                                   l=length(tall)), caution=KNIFE))  # fmt: skip
        for number, craft in enumerate(piece.crafts):
            own.append(f"craft/{piece.name}/{number}")
            steps.append(Step(own[-1], "cut", craft.name, 10, (cut,), craft.says, caution=KNIFE))
        for number, skive in enumerate(piece.skives if piece.stock != "wood" else ()):
            long = float(np.ptp(skive.ring, axis=0).max())
            own.append(f"skive/{piece.name}" + (f"/{number + 1}" if number else ""))
            steps.append(Step(own[-1], "cut", f"Skive the {piece.name}", 1 + long / SKIVE_MM_PER_MIN, (cut,),
                              said("from {a} {name} over {long}".replace("{name}", skive.name), a=length(skive.from_mm),
                                   long=length(long)), caution=KNIFE))  # fmt: skip
        before = tuple(own)
        for edge in piece.edges:
            if edge.when == "early":
                own.append(f"edge/{piece.name}/{edge.name}")
                steps.append(_edge_step(own[-1], f"{piece.name}, {edge.name}", edge.line, edge.plies * piece.thickness_mm,
                                        before, choices, "closed in later: finish it first"))  # fmt: skip
        made[piece.name] = own
    parts = [p for p in draft.pieces if p.first]
    for piece in reversed(parts):  # what lies inside first
        ready = [*(s for p in parts for s in made[p.name]), *fixed]
        fixed.append(f"fix/{piece.name}")
        steps.append(
            Step(fixed[-1], "cut", f"Fix the {piece.name}", 15, tuple(ready), said(piece.first), (60, None), GLUE)
        )
    if not stitching.seams:  # held by fasteners: the edges are finished as they are
        for piece in draft.pieces:
            for edge in piece.edges:
                if edge.when == "last":
                    step = f"edge/{piece.name}/{edge.name}"
                    steps.append(_edge_step(step, f"{piece.name}, {edge.name}", edge.line, edge.plies * piece.thickness_mm,
                                            tuple(f"set/{f.name}" for f in draft.fasteners), choices, "both"))  # fmt: skip
    for seam in stitching.seams:
        name = seam.name
        pieces = list(dict.fromkeys(p.piece for p in seam.line.placed))
        ready = [s for p in pieces for s in made[p]]
        ready += [f"sew/{c}" for c in seam.line.closes if "/" not in c and any(s.name == c for s in stitching.seams)]
        if seam.line.shape != "box":
            ready += fixed
        if seam.line.shape == "line" and any(draft.piece(p).glue for p in pieces):
            glue = f"glue/{name}"
            steps.append(Step(
                glue, "sew", f"Glue for the {name}", 15, tuple(ready),
                said("roughen the grain, two thin coats, join when dry to the touch: one chance to place it. Keep glue off "
                     "edges that will be dyed."), (15, 30), CEMENT,
            ))  # fmt: skip
            ready = [glue]
        holes = f"holes/{name}"
        tool = stitching.choices.tool
        how = f"{len(seam.strikes)} strikes" if seam.strikes else _WITH[tool]
        if seam.share < 1:
            how += "; half through from either face, the other marked through its transfer sheet"
        steps.append(Step(holes, "sew", f"Make the holes of the {name}", 2 + len(seam.points) / HOLES_PER_MIN,
                          tuple(ready), said(f"{{n}} holes, {how}", n=count(len(seam.points))),
                          caution=DRILL if tool == "drill" else AWL))  # fmt: skip
        need = holes
        if draft.wet and seam is stitching.seams[-1]:
            held = threading.temporary
            if held is not None:
                need = f"hold/{name}"
                steps.append(Step(
                    need, "form", f"A temporary seam along the {name}", 3 + seam.run_mm / 3 / choices.pace_mm_per_min,
                    (holes,), said("every third hole, {t} of any thread; it comes out again when the shape is dry",
                                   t=length(held.total_mm)), caution=AWL,
                ))  # fmt: skip
            steps.append(Step("form", "form", "Wet and form", 20, (need,),
                              said("dip until it stops bubbling, work by hand, no nails; wrap what goes in in thin film"),
                              (dry, None), f"{WATER} {BLADE}" if seam.line.keep_off is not None else WATER))  # fmt: skip
            need = "form"
            if held is not None:
                need = f"free/{name}"
                steps.append(Step(need, "form", "Take the temporary seam out", 3, ("form",),
                                  said("cut it at every second stitch; draw it out along the holes, not across")))  # fmt: skip
        sewn = threading.seam(name)
        steps.append(Step(
            f"sew/{name}", "sew", f"Sew the {name}", SET_UP_MIN + seam.run_mm / choices.pace_mm_per_min, (need,),
            said(f"in {sewn.stitch.name}, {{n}} holes, thread {{t}}", n=count(len(seam.points)), t=length(sewn.total_mm)),
            caution=f"{AWL} {FLAME}",
        ))  # fmt: skip
        last = [e for c in seam.line.closes if "/" in c for e in _edges(draft, c) if e.when == "last"]
        if last:
            longest = max(last, key=lambda e: float(arc_length(e.line)[-1]))
            steps.append(_edge_step(
                f"edge/{name}", f"the {name}", longest.line, float(seam.stack_mm.max()), (f"sew/{name}",), choices,
                f"{longest.plies} plies together",
            ))  # fmt: skip
    for fastener in draft.fasteners:
        after = (*made[fastener.piece], *(f"sew/{s.name}" for s in stitching.seams))
        steps.append(Step(
            f"set/{fastener.name}", "sew", f"Set the {fastener.name}", 3, after,
            said("post {p} through a stack of {t}; cover a sharp back", p=length(fastener.post_mm),
                 t=length(fastener.stack_mm)), caution=HAMMER,
        ))  # fmt: skip
    for piece in draft.pieces:
        if piece.fixed:
            after = (*made[piece.name], *(f"sew/{s.name}" for s in stitching.seams))
            steps.append(Step(f"fix/{piece.name}", "sew", f"Fix the {piece.name}", 10, after, said(piece.fixed), (15, 30),
                              CEMENT))  # fmt: skip
    steps.append(Step("finish", "edge", "Oil and wax", 10, tuple(s.id for s in steps), said("thin, then left overnight"),
                      (8 * 60, None)))  # fmt: skip
    return steps


def _way_up(piece: Piece) -> str:
    side = f"{piece.side_up} side up, " if piece.stock == "leather" else ""
    return f"{side}mirrored, " if piece.mirrored else side


def _edges(draft: Draft, place: str) -> list[Edge]:
    piece, _, name = place.partition("/")
    return [e for p in draft.pieces if p.name == piece for e in p.edges if e.name == name]


def _edge_step(
    step_id: str, name: str, line: Values, thick_mm: float, needs: tuple[str, ...], choices: WorkChoices, why: str
) -> Step:
    long = float(arc_length(line)[-1])
    bevel = next(size for limit, size in BEVEL_FOR_MM if thick_mm <= limit)
    school = "damp and rub with wood, wax" if choices.edge_school == "burnish" else "three thin coats of paint"
    return Step(
        step_id, "edge", f"Edge: {name}", 2 + long / EDGE_MM_PER_MIN, needs,
        said(f"{{long}}, {{thick}} thick: sand 120 then 220, bevel no. {bevel} both sides, {school}; {why}",
             long=length(long), thick=length(thick_mm)), caution=DUST, length_mm=long,
    )  # fmt: skip


def _in_order(steps: list[Step]) -> tuple[Step, ...]:
    """The steps so that each follows what it needs, otherwise as given."""
    placed: list[Step] = []
    ids: set[str] = set()
    waiting = list(steps)
    while waiting:
        k = next((i for i, s in enumerate(waiting) if set(s.needs) <= ids), 0)
        step = waiting.pop(k)
        placed.append(step)
        ids.add(step.id)
    return tuple(placed)


def _placed(steps: tuple[Step, ...], choices: WorkChoices) -> tuple[tuple[Step, ...], datetime | None]:
    """Fill the sessions: at any time the first step that can begin, one pair of hands; long steps go on next time."""
    if choices.begins is None or not choices.sessions:
        return steps, None
    now = choices.begins
    over: dict[str, datetime] = {}
    begun: dict[str, datetime] = {}
    waiting = [s for s in steps if not choices.is_done(s.id)]
    for step in steps:
        if choices.is_done(step.id):
            over[step.id] = now
    while waiting:
        ready = [s for s in waiting if all(n in over for n in s.needs)]
        free = {s.id: max([over[n] for n in s.needs], default=now) for s in ready}
        step = next((s for s in ready if free[s.id] <= now), None) or min(ready, key=lambda s: free[s.id])
        now = max(now, free[step.id])
        left = step.minutes
        while left > 1e-9:
            start, room = _bench_time(now, choices)
            if room < left <= max(s.minutes for s in choices.sessions) and left == step.minutes:
                now = start + timedelta(minutes=room)
                continue
            begun.setdefault(step.id, start)
            spent = min(room, left)
            now, left = start + timedelta(minutes=spent), left - spent
        over[step.id] = now + timedelta(minutes=step.wait[0])
        waiting.remove(step)
    return tuple(replace(s, begins=begun.get(s.id)) for s in steps), max(over.values())


def _bench_time(now: datetime, choices: WorkChoices) -> tuple[datetime, float]:
    """The next moment at the bench from `now` on, and the minutes left in that session."""
    midnight = now.replace(hour=0, minute=0, second=0, microsecond=0)
    for day in range(9):
        date = midnight + timedelta(days=day)
        for session in sorted(choices.sessions, key=lambda s: s.begins_min):
            if session.weekday != date.weekday():
                continue
            start = date + timedelta(minutes=session.begins_min)
            end = start + timedelta(minutes=session.minutes)
            if now < end - timedelta(seconds=1):
                at = max(now, start)
                return at, (end - at).total_seconds() / 60
    raise AssertionError("a week holds every session")  # sessions is not empty
