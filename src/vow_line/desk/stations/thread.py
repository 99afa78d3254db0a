"""Thread: the thread as it will lie on both faces, the length to cut, and which rules of thumb would have run out."""

from ...core.drawing import Callout, Label
from ...core.plan import Plan
from ...core.texts import Said, heading, said, tell, verbatim
from ...core.thread.choices import Finish
from ...core.thread.picture import BAND_MM, faces, rows_in, schools, shares, tools, why
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

TERSE_PX = 420.0  # a narrower picture has fewer words
BETWEEN_MM = 11.0  # between the bands of both faces, where rows are as high as usual
ROWS, WHY_ROWS = 8.0, 5.5  # rows of words and what lies between them, on the picture
MUCH = 0.7  # of the width there is, that a picture is to fill


def _scene(plan: Plan, view: View) -> Scene:
    if plan.threading is None:
        return Scene(waits=WAITS)
    seams = plan.threading.seams
    if not seams:
        return Scene(waits=UNSEWN)
    sewn = seams[(len(seams) - 1 - view.seam) % len(seams)]
    choices = plan.job.thread
    marks, labels = faces(sewn, 0.0, 0.0, choices.second_needle)
    end = max(float(m.line[:, 0].max()) for m in marks)
    drawn, at = tools(choices.needle_mm, end, 0.0)
    left = min(float(m.line[:, 0].min()) for m in drawn)
    wide = max(float(m.line[:, 0].max()) for m in drawn) - left
    unit, wide_px = rows_in(wide, 2 * BAND_MM, ROWS + WHY_ROWS + 0.5 * len(seams), view.room_px)
    low = wide_px < MUCH * view.room_px[0]  # then why the rules differ, which the slip says too, is not drawn
    if low:
        unit, wide_px = rows_in(wide, 2 * BAND_MM, ROWS, view.room_px)
    marks, labels = faces(sewn, 0.0, 0.0, choices.second_needle, between := BETWEEN_MM * unit)
    below = 2 * BAND_MM + between
    bars, said_of = schools(sewn, left, below + 18.0 * unit, wide, unit, wide_px < TERSE_PX)
    parts, of_bar = shares(sewn, left, below + 18.0 * unit, wide, unit)
    under = below + (18.0 + 12 * 6 + 6 + 5 * len(seams)) * unit
    reasons, words = ((), ()) if low else why(seams, left, under, wide, unit)
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
        Callout("thread.finish", said("ends with"), "count", choices.finish, (end, 12.0), "right",
                choices=tuple(FINISHES[f] for f in finishes), meant=finishes),
        Callout("thread.ends", said("ends are"), "count", choices.ends, (end, 20.0), "right",
                choices=(said("trimmed"), said("melted"), said("glued"))),
        Callout("thread.join", said("joins by"), "count", choices.join, (end, 50.0), "right",
                choices=(said("back stitches"), said("overlap")), meant=("back-stitches", "overlap")),
        Callout("thread.doubled", said("thread taken"), "count", choices.doubled, (0.0, 8.0), "left", "",
                (said("single"), said("double")), (False, True)),
        Callout(spool, said("thread"), "count", sewn.thread, (0.0, 2.0), "left", sewn.seam.id,
                tuple(verbatim(t.name) for t in spools), spools),
        Callout(f"{own}.diameter_mm", said("thick, or its tex"), "thread", None, at["thread"], "left", "spool"),
        Callout("thread.needle_mm", said("needle, long"), "length", None, at["eye"], "right", "needle",
                to=at["point"], upon=True),
        Callout("thread.start", said("begin at"), "count", choices.start, (2.0, 30.0), "left",
                choices=(said("first hole"), said("third hole")), meant=("first-hole", "third-hole")),
        Callout("thread.slack.value", said("slack"), "percent", None, of_bar["path"], "right", "computed",
                to=of_bar["slack"], chain="computed"),
        Callout("thread.sure", said("sure"), "percent", None, of_bar["slack"], "right", "computed",
                to=of_bar["spare"], chain="computed"),
        Callout("thread.compression", said("leather gives"), "percent", None, (0.0, 95.0), "left", seldom=True),
        Callout("thread.back_stitches", said("back stitches"), "count", None, (end - 6.0, 4.0), "right", sewn.seam.id),
        Callout("thread.edge_loops", said("loops over the edge"), "count", None, (0.0, 1.5 * BAND_MM + between), "left",
                sewn.seam.id),
        Callout("thread.reach_mm", said("longest a hand draws"), "long", None, (end, 30.0), "right", seldom=True),
        Callout(f"{own}.left_mm", said("left on the spool"), "long", None, at["spool"], "left", "spool"),
    )  # fmt: skip
    idle = {f"thread.{f}" for f in ("start", "edge_loops", "finish", "back_stitches", "join") if f not in sewn.offers}
    callouts = tuple(c for c in callouts if c.path not in idle)
    if plan.draft is not None and plan.draft.wet:
        callouts += (
            Callout("thread.temporary", said("held while formed by"), "count", choices.temporary, (end, 99.0), "right", "",
                    (said("nothing"), said("a seam")), (False, True)),
        )  # fmt: skip
    if not single:
        words += (Label(said("N: the next seam"), (end, -2.0), align="right"),)
    return Scene(
        drawn + marks + bars + parts + reasons, callouts, labels + said_of + words, ruler=False, sentences=SENTENCES
    )


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


SHOWING = Showing("thread", said("Thread"), _scene, _slip, seams=True, shaped=True)
