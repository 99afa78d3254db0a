"""What is wrong with a thread, a needle or a stitch for these seams."""

import numpy as np

from ..finding import Finding, Mend
from ..reckoning import count, fine, length, long
from ..texts import Said, amount, listed, said, several, verbatim
from .choices import MATERIALS, MELTS, MOST_REACH_MM, STRETCHES, Thread, ThreadChoices
from .moves import THROUGH
from .sewn import SewnSeam, by_spool
from .stitches import STITCHES

THIN, THICK = 0.12, 0.22  # thread over pitch: 0.4 mm for 3 mm to 1.0 mm for 5 mm (common practice)
HOLE_GIVES = 1.25  # a needle this much thicker than the hole still goes through leather (from memory)


def checks(sewn: tuple[SewnSeam, ...], choices: ThreadChoices, times: int = 1) -> tuple[Finding, ...]:
    """Findings of the station Thread, for so many of the thing."""
    findings: list[Finding] = []
    for field, shape, usual in (("stitch", "line", "saddle"), ("butt_stitch", "butt", "butt")):
        name = getattr(choices, field)
        if name not in STITCHES or shape not in STITCHES[name].sews:
            text = (said("The stitch '{name}' is not known here.", name=name) if name not in STITCHES
                    else said("Such a seam is not sewn with this stitch: {stitch}.", stitch=STITCHES[name].title))  # fmt: skip
            findings.append(Finding(
                "hold", "stitch-unknown", "thread", text,
                f"thread.{field}",
                Mend(said("the usual one, {usual}", usual=STITCHES[usual].title), ((f"thread.{field}", usual),)),
            ))  # fmt: skip
    for k, own in enumerate(choices.own):
        s = next((s for s in sewn if s.seam.id == own.seam), None)
        if own.stitch and s is not None and s.stitch.id != own.stitch:
            findings.append(Finding(
                "hold", "stitch-unknown", "thread",
                said("The {seam} cannot be sewn with the stitch {stitch}; it is planned in {usual}.",
                     seam=s.seam.title, usual=s.stitch.title,
                     stitch=STITCHES[own.stitch].title if own.stitch in STITCHES else verbatim(own.stitch)),
                f"thread.own.{k}.stitch",
                Mend(said("as the other seams"), ((f"thread.own.{k}.stitch", ""),)),
            ))  # fmt: skip
    for thread, for_one in by_spool(sewn):
        taken = for_one * times
        if taken > thread.left_mm:
            findings.append(Finding(
                "hold", "spool-short", "thread",
                said("The seams want {total}; {left} is left on the spool.", total=long(taken), left=long(thread.left_mm)),
                f"{_place(thread, choices)}.left_mm",
            ))  # fmt: skip
        findings += _pairing(thread, tuple(s for s in sewn if s.thread == thread), choices)
    for s in sewn:
        longest = max(c.drawn_mm for c in s.cuts)
        if longest > choices.reach_mm + 1e-6:
            pulls = min(float(np.ceil(longest / 10)) * 10, MOST_REACH_MM)
            findings.append(Finding(
                "hold", "length-past-reach", "thread",
                said("On the {seam} a needle draws {l}; a hand draws {r}, and it has too few stitches to be parted.",
                     l=long(longest), r=long(choices.reach_mm), seam=s.seam.title), "thread.reach_mm",
                Mend(said("draw it in two pulls"), (("thread.reach_mm", pulls),)),
            ))  # fmt: skip
    untied = [s for s in sewn if choices.finish == "buried-knot" and "buried-knot" not in s.stitch.takes]
    if untied:
        whole = len(untied) == len(sewn)
        findings.append(Finding(
            "look" if whole else "note", "knot-needs-two-ends", "thread",
            said("A knot is buried between two ends that meet in the last hole: that is for saddle stitch.") if whole else
            several("The {seams} ends with back stitches: no two ends meet in its last hole to be tied.",
                    "The {seams} end with back stitches: no two ends meet in their last holes to be tied.",
                    n=count(len(untied)), seams=listed([s.seam.title for s in untied])), "thread.finish",
            Mend(said("back stitches"), (("thread.finish", "back-stitches"),)),
        ))  # fmt: skip
    for s in sewn:
        if _empty(s):
            findings.append(Finding(
                "note", "holes-stay-empty", "thread",
                said("{stitch} takes every other hole of either edge of the {seam}: make only holes {left} of the left and "
                     "{right} of the right.", stitch=s.stitch.title, seam=s.seam.title,
                     left=_every_other(s, -1), right=_every_other(s, 1)), "thread.butt_stitch",
            ))  # fmt: skip
    thin = next(
        (
            s
            for s in sewn
            if choices.finish == "buried-knot"
            and s not in untied
            and s.seam.stack_mm[s.seam.order[-1]] < 4 * s.thread_mm
        ),
        None,
    )
    if thin is not None:
        findings.append(Finding(
            "look", "knot-shows", "thread",
            said("The {seam} ends in {t} of leather: too thin to hide a knot of {d} thread.",
                 t=length(float(thin.seam.stack_mm[thin.seam.order[-1]])), d=fine(thin.thread_mm), seam=thin.seam.title),
                 "thread.finish",
        ))  # fmt: skip
    return tuple(findings)


def _entered(sewn: SewnSeam, row: int) -> list[int]:
    """The holes of one edge of a butt seam that thread goes into, in order."""
    seam = sewn.seam
    return sorted({seam.hole_of(m.to) for m in sewn.moves if m.act in THROUGH and seam.row_of(m.to) == row})


def _empty(sewn: SewnSeam) -> bool:
    """Whether a butt seam leaves holes of its edges empty."""
    return sewn.seam.line.shape == "butt" and any(len(_entered(sewn, r)) < len(sewn.seam.points) for r in (-1, 1))


def _every_other(sewn: SewnSeam, row: int) -> Said:
    """The first holes of an edge that are sewn, and the last."""
    a, *more = [h + 1 for h in _entered(sewn, row)]
    if len(more) < 3:
        return listed([amount(count(h)) for h in (a, *more)])
    return said("{a}, {b} … {z}", a=count(a), b=count(more[0]), z=count(more[-1]))


def _place(thread: Thread, choices: ThreadChoices) -> str:
    """Where in the job a thread is chosen."""
    own = next((k for k, o in enumerate(choices.own) if o.thread == thread), None)
    return "thread.thread" if own is None or thread == choices.thread else f"thread.own.{own}.thread"


def _pairing(thread: Thread, sewn: tuple[SewnSeam, ...], choices: ThreadChoices) -> list[Finding]:
    """What does not go together about a thread, its needle, its holes and its seams."""
    hole_mm = min((s.seam.hole_mm for s in sewn), default=np.inf)
    findings: list[Finding] = []
    place = _place(thread, choices)
    strands = 2 if choices.doubled else 1
    d, pitch = thread.diameter_mm, min((s.seam.pitch_mm for s in sewn), default=4.0)
    if not THIN <= d / pitch <= THICK:
        fits = round(pitch * (THIN + THICK) / 2, 1)
        findings.append(Finding(
            "look", "thread-for-pitch", "thread",
            (said("Thread of {d} is thin for a pitch of {p}; {a} goes with {b}, {c} with {e}.") if d / pitch < THIN
             else said("Thread of {d} is thick for a pitch of {p}; {a} goes with {b}, {c} with {e}.")).filled(
                d=fine(d), p=fine(pitch), a=fine(0.8), b=fine(4.0), c=fine(0.5), e=fine(3.0)),
            f"{place}.diameter_mm", Mend(said("the usual thickness"), ((f"{place}.diameter_mm", min(fits, 4.0)),)),
        ))  # fmt: skip
    if choices.needle_thick_mm > HOLE_GIVES * hole_mm:
        findings.append(Finding(
            "look", "needle-for-hole", "thread",
            said("A needle {n} thick does not go through a hole of {h} without pliers: a finer needle, or wider holes.",
                 n=fine(choices.needle_thick_mm), h=fine(hole_mm)), "thread.needle_thick_mm",
            Mend(said("a needle that goes through"), (("thread.needle_thick_mm", round(hole_mm, 2)),)),
        ))  # fmt: skip
    passes = max((s.stitch.needles for s in sewn), default=1)
    if strands * d * passes > 2 * HOLE_GIVES * hole_mm:
        findings.append(Finding(
            "look", "thread-for-hole", "thread",
            said("{k} threads of {d} in one hole of {h}: the last needle pierces what lies there.",
                 k=strands * passes, d=fine(d), h=fine(hole_mm)), "stitch.hole_mm",
        ))  # fmt: skip
    loaded = next((s.seam.title for s in sewn if s.seam.line.sewing.carries), None)
    if thread.material in STRETCHES and loaded:
        findings.append(Finding(
            "look", "thread-stretches", "thread",
            said("Thread of {material} stretches, and the {seam} carries a load: it would gape.",
                 material=MATERIALS[thread.material], seam=loaded),
            f"{place}.material", Mend(said("linen"), ((f"{place}.material", "linen"),)),
        ))  # fmt: skip
    if choices.ends == "melted" and thread.material not in MELTS:
        findings.append(Finding(
            "hold", "ends-do-not-melt", "thread",
            said("Thread of {material} burns, it does not melt: trim its ends, or a drop of glue.",
                 material=MATERIALS[thread.material]), "thread.ends",
            Mend(said("trim them"), (("thread.ends", "trimmed"),)),
        ))  # fmt: skip
    return findings
