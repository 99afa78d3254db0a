"""Thread: the thread as it will lie on both faces, the length to cut, and which rules of thumb would have run out."""

from ...core.drawing import Callout, Label
from ...core.plan import Plan
from ...core.texts import Said, heading, said, tell, verbatim
from ...core.thread.choices import Finish
from ...core.thread.picture import faces, rows_of, schools, why
from ...core.thread.stitches import STITCHES, that_sew
from ..board import Scene
from ..lists.rows import Row
from .station import UNSEWN, WAITS, Showing, View, head, sums

FINISHES: dict[Finish, Said] = {
    "back-stitches": said("back stitches"), "buried-knot": said("buried knot"), "overlap": said("overlap"),
}  # fmt: skip


SENTENCES = (
    said("A {stitch} stitch with {thread}, taken {doubled}."), said("A {butt_stitch} stitch with {thread}, taken {doubled}."),
    said("Begun at the {start}."), said("It ends with {finish}, {ends}."), said("Its ends are {ends}."),
    said("Joined by {join}."), said("Held while formed by {temporary}."),
)  # fmt: skip


def _scene(plan: Plan, view: View) -> Scene:
    if plan.threading is None:
        return Scene(waits=WAITS)
    seams = plan.threading.seams
    if not seams:
        return Scene(waits=UNSEWN)
    sewn = seams[(len(seams) - 1 - view.seam) % len(seams)]
    choices = plan.job.thread
    marks, labels = faces(sewn, 0.0, 0.0, choices.second_needle)
    wide = max(float(m.line[:, 0].max()) for m in marks)
    unit = rows_of(wide)
    bars, said_of = schools(sewn, 0.0, 40.0 + 18.0 * unit, wide)
    reasons, words = why(seams, 0.0, 40.0 + (18.0 + 12 * 6 + 10) * unit, wide)
    shape = sewn.seam.line.shape
    spools = tuple(dict.fromkeys((choices.thread, sewn.thread, *view.threads)))
    single, name = (
        len(seams) == 1,
        sewn.seam.id,
    )  # where there are more seams, each may have a stitch and a thread of its own
    stitch = f"thread.of/{name}/stitch" if not single else "thread.butt_stitch" if shape == "butt" else "thread.stitch"
    spool = "thread.thread" if single else f"thread.of/{name}/thread"
    own = next(
        (f"thread.own.{k}.thread" for k, o in enumerate(choices.own) if o.seam == name and o.thread), "thread.thread"
    )
    finishes = tuple(f for f in FINISHES if f != "buried-knot" or f == choices.finish or f in sewn.stitch.takes)
    callouts: tuple[Callout, ...] = (
        Callout(stitch, said("stitch"), "count", sewn.stitch.id, (0.0, 0.0), "left", sewn.seam.id,
                tuple(STITCHES[id].title for id in that_sew(shape)), that_sew(shape)),
        Callout("thread.finish", said("ends with"), "count", choices.finish, (wide, 12.0), "right",
                choices=tuple(FINISHES[f] for f in finishes), meant=finishes),
        Callout("thread.ends", said("ends are"), "count", choices.ends, (wide, 20.0), "right",
                choices=(said("trimmed"), said("melted"), said("glued"))),
        Callout("thread.join", said("joins by"), "count", choices.join, (wide, 50.0), "right",
                choices=(said("back stitches"), said("overlap")), meant=("back-stitches", "overlap")),
        Callout("thread.doubled", said("thread taken"), "count", choices.doubled, (0.0, 8.0), "left", "",
                (said("single"), said("double")), (False, True)),
        Callout("thread.sure", said("sure to be enough"), "percent", None, (wide, 90.0), "right"),
        Callout(spool, said("thread"), "count", sewn.thread, (0.0, 2.0), "left", sewn.seam.id,
                tuple(verbatim(t.name) for t in spools), spools),
        Callout(f"{own}.diameter_mm", said("thick, or its tex"), "thread", None, (0.0, 4.0), "left", sewn.seam.id),
        Callout("thread.needle_mm", said("needle, long"), "length", None, (0.0, 16.0), "left"),
        Callout("thread.start", said("begin at"), "count", choices.start, (2.0, 30.0), "left",
                choices=(said("first hole"), said("third hole")), meant=("first-hole", "third-hole")),
        Callout("thread.slack.value", said("slack"), "percent", None, (wide, 80.0), "right"),
        Callout("thread.compression", said("leather gives"), "percent", None, (0.0, 95.0), "left"),
        Callout("thread.back_stitches", said("back stitches"), "count", None, (wide, 4.0), "right"),
        Callout("thread.edge_loops", said("loops over the edge"), "count", None, (0.0, 40.0), "left"),
        Callout("thread.reach_mm", said("longest a hand draws"), "long", None, (wide, 30.0), "right"),
        Callout(f"{own}.left_mm", said("left on the spool"), "long", None, (wide, 70.0), "right"),
    )  # fmt: skip
    idle = {f"thread.{f}" for f in ("start", "edge_loops", "finish", "back_stitches", "join") if f not in sewn.offers}
    callouts = tuple(c for c in callouts if c.path not in idle)
    if plan.draft is not None and plan.draft.wet:
        callouts += (
            Callout("thread.temporary", said("held while formed by"), "count", choices.temporary, (wide, 99.0), "right", "",
                    (said("nothing"), said("a seam")), (False, True)),
        )  # fmt: skip
    if not single:
        words += (Label(said("N: the next seam"), (wide, -2.0), align="right"),)
    return Scene(marks + bars + reasons, callouts, labels + said_of + words, ruler=False, sentences=SENTENCES)


def _slip(plan: Plan, view: View) -> tuple[Row, ...]:
    if plan.threading is None:
        return (head(tell("Reckoning")),)
    units = plan.job.units
    total = tuple(r for r in plan.sums("thread") if r.key.startswith("thread/"))
    rows: list[Row] = [head(tell("Reckoning")), *sums(total, units)]
    for seam in reversed(plan.threading.seams):
        own = tuple(r for r in plan.sums("thread") if r.key.startswith(f"{seam.seam.id}/"))
        rows += [head(heading(seam.seam.title), True), *sums(own, units)]
    return tuple(rows)


SHOWING = Showing("thread", said("Thread"), _scene, _slip, seams=True)
