"""The steps that an assembly takes: each piece by itself, then the joins in the order in which they can be made, and the edges
that are finished with them.
"""

from collections.abc import Sequence
from dataclasses import replace
from itertools import groupby

import numpy as np
import shapely

from ..curve import arc_length, area_within, walk
from ..draft import Draft, Edge, Piece
from ..draft.ids import number_of, own
from ..draft.joins import Fastener, Join, Turn
from ..draft.pieces import Skive
from ..reckoning import count, length
from ..stitch import Seam, Stitching
from ..texts import NOTHING, Said, joined, listed, said, several
from ..thread import Threading
from .choices import WorkChoices
from .step import Part, Step, StepStation

CUT_MM_PER_MIN = 120.0  # curved outlines with a knife (from memory)
SKIVE_MM_PER_MIN = 8.0
HOLES_PER_MIN = 8.0
SET_UP_MIN = 5.0  # thread measured, waxed and on its needles, the piece in the clam (from memory)
EDGE_MM_PER_MIN = 12.0  # level, bevel, damp and rub, per pass over the edge (from memory)
TAKE_UP_MIN = 1.0  # to take up a piece, or a skive
MARK_MIN = 2.0  # to mark a line of holes, to look an edge over
SLOTS_MIN, CRAFT_MIN, FIX_MIN, GLUE_MIN, FORM_MIN, OIL_MIN = (
    4.0,
    10.0,
    15.0,
    15.0,
    20.0,
    10.0,
)  # each, by itself (from memory)
SET_MIN = 3.0  # a rivet or a stud; a temporary seam begun, or drawn out (from memory)
TURN_OUT_MIN = 8.0  # to turn what was sewn inside out (from memory)
OPEN_MIN = 6.0  # a seam pressed open and cemented down (from memory)
TURN_MIN = 3.0  # a buckle or a ring put in, its strap turned (from memory)
TACKY_MIN = (15.0, 30.0)  # contact cement is dry to the touch, and no longer (common practice)
CLAMPED_MIN = 60.0  # until glued wood may be handled (common practice)
OVERNIGHT_MIN = 8 * 60.0
HELD_EVERY = 3  # a temporary seam goes through every so many holes
LEAST_BEVELLED_MM = 1.2  # a thinner edge has nothing to take off (common practice)
ON_MM = 0.1
BEVEL_FOR_MM = ((2.0, 1), (3.5, 2), (99.0, 3))  # bevel size by the thickness of the edge (common practice)

KNIFE = said("Cut away from the hand that holds; a sharp knife, a fresh mat.")
AWL = said("Keep the hand out of the awl's line; a cork or a clam behind the work.")
DRILL = said("Drill: the work clamped flat, eyes covered, sleeves and hair tied back.")
CEMENT = said("Contact cement: open the window, gloves, no flame near.")
GLUE = said("Glue and clamps: fingers clear, window open.")
SAW = said("Saw and chisel: work held in a vice, both hands behind the edge; powered saws as their makers say.")
FLAME = said("Melt thread ends with care: the melt burns skin, and cement near it can catch.")
DUST = said("Sanding dust: mask, and away from the wax.")
WATER = said("Not over 50 °C: wet vegetable-tanned leather shrinks for good, about 70 °C from memory.")
BLADE = said("Tape the edge before the blade goes near the work.")
HAMMER = said("Setters and hammers: eyes covered, fingers off the post.")
CARRYING = said("Carrying blades is regulated: check local law.")
SOLVENTS = said("Dyes and solvents: ventilation, gloves, no flame; follow the maker's sheet.")
CAUTIONS = (KNIFE, AWL, DRILL, BLADE, CEMENT, FLAME, DUST, HAMMER, GLUE, SAW, WATER, CARRYING, SOLVENTS)

_WITH = {
    "iron": said("with the awl"),
    "wheel": said("marked with the wheel, then the awl"),
    "awl": said("with the awl"),
    "drill": said("drilled on a plate"),
}
"""How holes are made where no prong is struck."""

SET = {
    "tack": said("{p} long through a stack of {t}: drive it on iron, so that its point turns back into the leather; cover what "
                 "is sharp"),
    "post": said("{p} long through a stack of {t}: turned home by hand, no farther; a drop of thread lock holds it"),
}  # fmt: skip
"""How one of a sort is set that is not hammered together over a post."""
SET_EACH = {
    "hook": said("{n} of them in leather of {t}, open away from the edge"),
    "stud": said("{n} of them in leather of {t}, their backs covered"),
    "eyelet": said("{n} of them in leather of {t}, their round side out"),
    "button": said("{n} of them, {size} wide: twice through the hole and the button, the shank as long as a lace is thick and "
                   "wound round, the end sewn in"),
    "loop": said("{n} of them, each of {size} of lace: doubled, both ends through the hole, tried on its button, knotted "
                 "inside"),
}  # fmt: skip
"""How those that stand in a row of holes by themselves are set."""
VERBS = {"wood": said("Saw and recess the {piece}")}
"""What is done to a piece that is not leather, by the sort of its stock."""


def steps_of(
    draft: Draft, stitching: Stitching, threading: Threading, choices: WorkChoices, dry_min: float, tannage: str = "veg"
) -> list[Step]:
    """All steps, each after those it needs as far as joins go; leather that is formed is dry after `dry_min`."""
    making = _Making(draft, stitching, threading, choices, dry_min, tannage)
    for piece in draft.pieces:
        making.piece(piece)
    for id in draft.assembly.order:
        making.join(id)
    if draft.wet:
        making.worn()
    steps = _set_dry(making.steps)
    steps.append(Step("finish", "edge", said("Oil and wax"), OIL_MIN, tuple(s.id for s in steps),
                      said("thin, then left overnight"),
                      (OVERNIGHT_MIN, None)))  # fmt: skip
    return steps


def _set_dry(steps: list[Step]) -> list[Step]:
    """The steps with rivets and studs set before leather is wetted or when it is dry again: one that forming does not wait for
    waits for that.
    """
    by_id = {s.id: s for s in steps}

    def before(id: str) -> set[str]:
        found, waiting = set[str](), [id]
        while waiting:
            fresh = [n for n in by_id[waiting.pop()].needs if n in by_id and n not in found]
            found.update(fresh)
            waiting += fresh
        return found

    dried = []
    for step in steps:
        form = own("form", number_of(step.id))
        waits = step.id.startswith("set/") and form in by_id and step.id not in before(form)
        dried.append(replace(step, needs=tuple(dict.fromkeys((*step.needs, form)))) if waits else step)
    return dried


def _skived_mm(skive: Skive) -> float:
    """How long the edge is that a slope is skived to: across the way in which it thins; what is sunk, all of it."""
    way = np.subtract(skive.thin, skive.thick)
    if not way.any():
        return float(np.ptp(skive.ring, axis=0).max())
    across = np.array([-way[1], way[0]]) / float(np.hypot(*way))
    return float(np.ptp(skive.ring @ across))


def _thick_at(piece: Piece, edges: Sequence[Edge]) -> float:
    """How thick a piece is along most of its edges, skived as they are."""
    points = np.concatenate([walk(e.line, np.linspace(0, float(arc_length(e.line)[-1]), 9)) for e in edges])
    thick = np.full(len(points), piece.thickness_mm)
    for skive in piece.skives:
        on = shapely.dwithin(area_within(skive.ring), shapely.points(points), ON_MM)
        thick[on] = np.minimum(thick[on], skive.at(points[on]))
    return float(np.median(thick))


class _Making:
    """The steps so far; those on each piece by itself; the step after which a join or a fastener is made."""

    def __init__(
        self,
        draft: Draft,
        stitching: Stitching,
        threading: Threading,
        choices: WorkChoices,
        dry_min: float,
        tannage: str,
    ) -> None:
        self.draft, self.stitching, self.threading = draft, stitching, threading
        self.choices, self.dry_min, self.tannage = choices, dry_min, tannage
        self.steps: list[Step] = []
        self.on_piece: dict[str, list[str]] = {}
        self.made: dict[str, str] = {}

    def add(
        self, id: str, station: StepStation, name: Said, minutes: float, needs: Sequence[str], says: Said,
        wait: tuple[float, float | None] = (0.0, None), caution: Said = NOTHING, uses: Sequence[Part] = (), times: int = 1,
    ) -> str:  # fmt: skip
        self.steps.append(
            Step(
                id,
                station,
                name,
                minutes,
                tuple(dict.fromkeys(needs)),
                says,
                wait,
                caution,
                uses=tuple(uses),
                times=times,
            )
        )
        return id

    def alike(self, piece: Piece) -> int:
        """How many of a piece are worked by themselves for one of the thing: plies that lie together are worked as one."""
        plies = max((x.count for j in self.draft.assembly.joins for x in j.layers if x.piece == piece.id), default=1)
        return max(piece.count // self.draft.makes // plies, 1)

    def piece(self, piece: Piece) -> None:
        """What is done to a piece before it is joined to another."""
        cut = f"cut/{piece.id}"
        grown = [e for e in piece.edges if e.grown]
        around = (float(arc_length(np.vstack([piece.outline, piece.outline[:1]]))[-1])
                  - sum(float(arc_length(e.line)[-1]) for e in grown)) * piece.count  # fmt: skip
        wood = piece.stock.sort == "wood"
        self.add(
            cut, "cut", VERBS.get(piece.stock.sort, said("Cut the {piece}")).filled(piece=piece.title),
            TAKE_UP_MIN + around / CUT_MM_PER_MIN, (),
            joined(piece.way_up, said("{n} of it, {around} of cut", n=count(piece.count), around=length(around)),
                   *(said("the {edge} as it grew, on the leather's own edge", edge=e.title) for e in grown)),
            caution=SAW if wood else KNIFE,
            uses=[("cut", piece.id), *(("skive", piece.id, s.id) for s in piece.skives if wood)],
        )  # fmt: skip
        own, each = [cut], self.alike(piece)
        for row, alike in groupby(piece.punches, lambda p: p.row or p.id):
            punches = tuple(alike)
            where = said("in the {piece}, {d} round", d=length(punches[0].diameter_mm), piece=piece.title)
            n = len(punches)
            own.append(self.add(
                f"punch/{piece.id}/{row}", "cut", said("Punch the {punch}", punch=punches[0].title), n, (cut,),
                said("{n} of them {where}", n=count(n), where=where) if n > 1 else where,
                uses=[("punch", piece.id, p.id) for p in punches], times=each,
            ))  # fmt: skip
        if piece.slots:
            tall = float(np.ptp(piece.slots[0], axis=0).max())
            own.append(self.add(
                f"slots/{piece.id}", "cut", said("Cut the slots of the {piece}", piece=piece.title), SLOTS_MIN, (cut,),
                said("{n} of {l}: a round hole at each end first, or they tear on", n=count(len(piece.slots)), l=length(tall)),
                caution=KNIFE, uses=[("slot", piece.id, str(n)) for n in range(len(piece.slots))], times=each,
            ))  # fmt: skip
        for skive in piece.skives if not wood else ():
            long = _skived_mm(skive)
            own.append(self.add(
                f"skive/{piece.id}/{skive.id}", "cut", said("Skive the {piece}", piece=piece.title),
                TAKE_UP_MIN + long / SKIVE_MM_PER_MIN, (cut,),
                said("from {a} {skive} over {long}", a=length(skive.from_mm), long=length(long), skive=skive.title),
                caution=KNIFE,
                uses=[("skive", piece.id, skive.id)], times=each,
            ))  # fmt: skip
        thin = (cut, *(step for step in own if step.startswith("skive/")))
        for number, craft in enumerate(piece.crafts):
            own.append(self.add(f"craft/{piece.id}/{number}", "cut", craft.name, CRAFT_MIN, thin, craft.says, caution=KNIFE,
                                uses=[("craft", piece.id, str(number))], times=each))  # fmt: skip
        before = tuple(own)
        for edge in piece.edges:
            if self.draft.assembly.finish(piece, edge).when == "early" and not edge.beside:
                lines = [e for e in piece.edges if e is edge or e.beside == edge.id]
                titles = [e.title for e in lines] if len({e.title for e in lines}) == len(lines) else [edge.title]
                own.append(self.edge(f"edge/{piece.id}/{edge.id}", said("{piece}, {edge}", piece=piece.title,
                                                                        edge=listed(titles)), lines, _thick_at(piece, lines),
                                     before, said("closed in later: finish it first"),
                                     [("edge", piece.id, e.id) for e in lines], each))  # fmt: skip
        self.on_piece[piece.id] = own

    def join(self, id: str) -> None:
        """What is done to make a join or set a fastener, and to the edges that are finished with it."""
        assembly = self.draft.assembly
        join = next((j for j in assembly.joins if j.id == id), None)
        if join is None:
            self.fastener(next(f for f in assembly.fasteners if f.id == id))
            return
        needs = [self.made[n] for n in assembly.needs[id] if n in self.made]
        for turn in (t for t in assembly.turns if t.join == id):
            self.turn(turn)
        ready = [*(s for x in join.layers for s in self.on_piece[x.piece]), *needs]
        if join.sewing is not None:
            self.sew(self.stitching.seam(id), join, ready)
        elif join.says is not None:
            inside = not any(n.startswith("sew/") for n in needs)
            self.made[id] = self.add(
                f"fix/{id}", "cut" if inside else "sew", said("Fix the {join}", join=join.title), FIX_MIN, ready, join.says,
                (CLAMPED_MIN if inside else TACKY_MIN[0], None), GLUE if inside else CEMENT, [("join", id)], join.times,
            )  # fmt: skip
        self.turn_out(join)
        edges = assembly.finished_with(id)
        if not edges:
            return
        if id in self.made:
            after: tuple[str, ...] = (self.made[id],)
        else:  # riveted: its fasteners make it
            after = tuple(f"set/{f.id}" for f in assembly.fasteners)
        longest = max((e for _, e in edges), key=lambda e: float(arc_length(e.line)[-1]))
        thick = (
            float(np.median(self.stitching.seam(id).stack_mm)) if join.sewing is not None
            else sum(assembly.piece(x.piece).thickness_mm * x.count for x in join.layers)
        )  # fmt: skip
        plies = max(assembly.finish(p, e).plies for p, e in edges)
        self.edge(f"edge/{id}", said("the {join}", join=join.title), [longest], thick, after, said("{plies} plies together",
                                                                                                   plies=plies),
                  [("edge", p.id, e.id) for p, e in edges], join.times)  # fmt: skip

    def turn_out(self, join: Join) -> None:
        """When the last of the seams that are sewn inside out is sewn, what they make is turned."""
        shells = self.draft.assembly.shells
        if join.turned and not any(j.id == join.id for shell in shells for j in self.draft.assembly.closes(shell)):
            self.made[join.id] = self.add(
                f"open/{join.id}", "sew", said("Open the {title}", title=join.title), OPEN_MIN, [self.made[join.id]],
                said("press it apart with a bone, snip its edges where it curves, cement them down flat; what it "
                     "closes is turned right side out"),
                (TACKY_MIN[0], None), CEMENT, [("open", join.id)], join.times,
            )  # fmt: skip
            for layer in join.layers:  # a seam across it comes when it lies flat
                self.on_piece[layer.piece].append(self.made[join.id])
        for shell in shells:
            turned = [j.id for j in self.draft.assembly.closes(shell) if j.turned]
            if join.turned and join.id in turned and all(id in self.made for id in turned):
                self.made[join.id] = self.add(
                    f"out/{shell.id}", "sew", said("Turn the {shell} right side out", shell=shell.title), TURN_OUT_MIN,
                    [self.made[id] for id in turned],
                    said("seams pressed open, their edges thinned where they cross; damp it, push the far end through the "
                         "mouth, work the seams out with a bone"), uses=[("out", shell.id)],
                )  # fmt: skip

    def turn(self, turn: Turn) -> None:
        """What a turn holds goes in before its end is fixed; all that is done to the piece later waits for it."""
        piece, own = self.draft.piece(turn.piece), self.on_piece[turn.piece]
        own.append(self.add(
            f"turn/{turn.piece}/{turn.join}", "sew", said("Turn the {piece} round the {holds}", piece=piece.title,
                                                          holds=turn.holds), TURN_MIN, tuple(own),
            said("{which}, what slides on the {piece} put on first; damp a stiff turn", piece=piece.title,
                 which=said("the front of the {holds} on the side that is shown", holds=turn.holds) if turn.has_front else
                 said("the {holds} the right way round", holds=turn.holds)),
            uses=[("turn", turn.piece, turn.join)], times=self.alike(piece),
        ))  # fmt: skip

    def sew(self, seam: Seam, join: Join, ready: list[str]) -> None:
        """Glue, holes, forming where it is formed, and the seam."""
        id, title, draft = seam.id, seam.title, self.draft
        if join.shape == "line" and any(x.piece in draft.assembly.glue for x in join.layers):
            ready = [self.add(
                f"glue/{id}", "sew", said("Glue for the {title}", title=title), GLUE_MIN, ready,
                said("roughen grain that is glued, two thin coats, join when dry to the touch: one chance to place it. Keep "
                     "glue off edges that will be dyed."), TACKY_MIN, CEMENT, times=join.times,
            )]  # fmt: skip
        tool = self.stitching.choices.of(id).tool
        how = several("{n} strike", "{n} strikes", n=count(len(seam.strikes))) if seam.strikes else _WITH[tool]
        if seam.share < 1:
            how = said("{how}; half through from either face, the other marked through its transfer sheet", how=how)
        n = len(seam.points)
        need = self.add(f"holes/{id}", "sew", said("Make the holes of the {title}", title=title),
                        MARK_MIN + n / HOLES_PER_MIN, ready,
                        said("{n} holes, {how}", n=count(n), how=how), caution=DRILL if tool == "drill" else AWL,
                        uses=[("holes", id)], times=join.times)  # fmt: skip
        if draft.wet and seam in self.stitching.last and not join.shaped:
            need = self.form(seam, need)
        sewn = self.threading.seam(id)
        told = said("in {stitch}, {n} holes, thread {t}", n=count(len(seam.points)), t=length(sewn.total_mm),
                    stitch=sewn.stitch.title)  # fmt: skip
        if join.turned:
            told = said("{how}; inside out: the sides that will be seen lie on each other", how=told)
        self.made[id] = self.add(
            f"sew/{id}", "sew", said("Sew the {title}", title=title), SET_UP_MIN + seam.run_mm / self.choices.pace_mm_per_min,
            (need,), told,
            caution=said("{one} {other}", one=AWL, other=FLAME), uses=[("join", id)], times=join.times,
        )  # fmt: skip

    def wetted(self, number: int, needs: Sequence[str], how: Said, caution: Said) -> str:
        """Wetting and forming, of the wearer of that number."""
        name = next((said("Wet and form it, {name}", name=one.name) for one in self.draft.each if one.number == number),
                    said("Wet and form"))  # fmt: skip
        id = own("form", number)
        return self.add(id, "form", name, FORM_MIN, needs, how, (self.dry_min, None), caution, [(id,)])

    def worn(self) -> None:
        """What is formed and has no seam that closes it is worked to what wears it when all else of it is done."""
        made = {s.id for s in self.steps}
        for number in dict.fromkeys(number_of(p.id) for p in self.draft.pieces):
            if own("form", number) not in made:
                needs = [s for id, own_steps in self.on_piece.items() for s in own_steps if number_of(id) == number]
                needs += [step for id, step in self.made.items() if number_of(id) == number]
                how = said("dip until it stops bubbling, close it round a padded form as thick as the limb, work it down by "
                           "hand, and let it dry there")  # fmt: skip
                self.wetted(number, needs, how, WATER)

    def form(self, seam: Seam, need: str) -> str:
        """Wetting and forming before the last seam, held by a temporary one where that is chosen."""
        held = self.threading.temporary.get(seam.id)
        if held is not None:
            need = self.add(
                f"hold/{seam.id}", "form", said("A temporary seam along the {seam}", seam=seam.title),
                SET_MIN + seam.run_mm / HELD_EVERY / self.choices.pace_mm_per_min, (need,),
                said("every third hole, {t} of any thread; it comes out again when the shape is dry", t=length(held.total_mm)),
                caution=AWL,
            )  # fmt: skip
        caution = said("{one} {other}", one=WATER, other=BLADE) if seam.line.sewing.keep_off is not None else WATER
        how = said("dip until it stops bubbling, work by hand, no nails; wrap what goes in in thin film")
        stamped = [p.title for p in self.draft.pieces if number_of(p.id) == number_of(seam.id)
                   and any(m.meaning == "stamp" for m in p.ornament)]  # fmt: skip
        if stamped:
            how = said(
                "{how}; keep hand, tool and cord off the stamped area of the {pieces}", how=how, pieces=listed(stamped)
            )
        need = self.wetted(number_of(seam.id), (need,), how, caution)
        if held is None:
            return need
        return self.add(f"free/{seam.id}", "form", said("Take the temporary seam out"), SET_MIN, (need,),
                        said("cut it at every second stitch; draw it out along the holes, not across"))  # fmt: skip

    def fastener(self, fastener: Fastener) -> None:
        """Set a rivet or a stud."""
        assembly = self.draft.assembly
        ready = [s for piece, _ in fastener.through for s in self.on_piece[piece]]
        ready += [self.made[n] for n in assembly.needs[fastener.id] if n in self.made]
        how = SET.get(fastener.sort, said("post {p} through a stack of {t}; cover a sharp back")).filled(
            p=length(assembly.post_mm(fastener)), t=length(assembly.stack_mm(fastener))
        )
        n = len(fastener.through) if fastener.each else 1
        if fastener.each:
            how = SET_EACH[fastener.sort].filled(
                n=count(n), t=length(assembly.stack_mm(fastener)), size=length(fastener.size_mm)
            )
        self.made[fastener.id] = self.add(
            f"set/{fastener.id}", "sew", said("Set the {fastener}", fastener=fastener.title), SET_MIN * n, ready,
            how, caution=HAMMER, uses=[("fastener", fastener.id)],
        )  # fmt: skip

    def edge(
        self, id: str, name: Said, edges: Sequence[Edge], thick_mm: float, needs: tuple[str, ...], why: Said,
        uses: Sequence[Part], times: int = 1,
    ) -> str:  # fmt: skip
        """Finish edges in one go."""
        long = sum(float(arc_length(e.line)[-1]) for e in edges)
        size = next(size for limit, size in BEVEL_FOR_MM if thick_mm <= limit)
        bevel = said("no bevel, it is too thin") if thick_mm < LEAST_BEVELLED_MM else said(
            "bevel no. {size} both sides", size=size)  # fmt: skip
        school = said("damp and rub with wood, wax")
        if self.choices.edge_school == "paint":
            school = said("three thin coats of paint")
        elif self.tannage != "veg":
            school = said("it does not rub: leave it raw, or three thin coats of paint")
        self.steps.append(Step(
            id, "edge", said("Edge: {name}", name=name), MARK_MIN + long / EDGE_MM_PER_MIN, needs,
            said("{long}, {thick} thick: sand 120 then 220, {bevel}, {school}; {why}",
                 long=length(long), thick=length(thick_mm), bevel=bevel, school=school, why=why), caution=DUST,
                 length_mm=long, uses=tuple(uses), times=times,
        ))  # fmt: skip
        return id
