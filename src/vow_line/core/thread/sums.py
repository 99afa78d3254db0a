"""The sums of the thread, as a maker would write them."""

import numpy as np

from ..quantity import Q
from ..reckoning import Reckoning, count, fine, length, long, percent, reckon, times
from ..stitch import Seam
from ..texts import Said, amount, joined, listed, said, several, summed, verbatim
from .choices import Thread, ThreadChoices
from .sewn import JOIN_STITCHES, TAIL_MM, SewnSeam, by_spool


def sums(sewn: tuple[SewnSeam, ...], choices: ThreadChoices, total_mm: float, times: int = 1) -> tuple[Reckoning, ...]:
    """The sums of every seam, and of all; of each spool for so many of the thing."""
    reckonings = [r for s in sewn for r in (*_lengths(s, choices), *_joins(s))]
    spools = tuple((thread, taken * times) for thread, taken in by_spool(sewn))
    parts = said("{seams}", seams=summed([_taken(s) for s in sewn]))
    more = _spool(*spools[0]) if len(spools) == 1 else ()
    if times > 1:
        more = (said("{n} are made: {all} for all of them", n=count(times), all=long(total_mm * times)), *more)
    reckonings.append(reckon("thread/total", said("Thread to cut, in all"), long(total_mm),
                             parts if sewn else said("there is no seam to sew"), (), more))  # fmt: skip
    if len(spools) > 1:
        for k, (thread, taken) in enumerate(spools):
            of = [s.seam for s in sewn if s.thread == thread]
            left, *cost = _spool(thread, taken)
            each = [said("the {seam}", seam=seam.title) for seam in of]
            reckonings.append(reckon(f"thread/spool/{k}", said("Of {thread}", thread=_called(thread)), long(taken),
                                said("for {seams}; {left}", seams=listed(each), left=left),
                                tuple(k.id for k in of),
                                tuple(cost)))  # fmt: skip
    return tuple(reckonings)


def _taken(s: SewnSeam) -> Said:
    """What a seam takes, as often as it is sewn."""
    one = amount(long(s.total_mm))
    return said("{n} × {one}", n=count(s.seam.line.times), one=one) if s.seam.line.times > 1 else one


def _called(thread: Thread) -> Said:
    return said("{colour} {name}", colour=thread.colour, name=thread.name) if thread.colour else verbatim(thread.name)


def _spool(thread: Thread, taken_mm: float) -> tuple[Said, ...]:
    """What stays on a spool, and what was taken costs."""
    lines: tuple[Said, ...] = (
        said("{left} of {name} stays on the spool", name=_called(thread), left=long(thread.left_mm - taken_mm)),
    )
    if thread.price_m:
        lines += (
            said(
                "costs {c} at {p} a metre", c=Q("money", thread.price_m * taken_mm / 1000), p=Q("money", thread.price_m)
            ),
        )
    return lines


def _lengths(s: SewnSeam, choices: ThreadChoices) -> tuple[Reckoning, ...]:
    id, title, slack = s.seam.id, s.seam.title, choices.slack
    runs = sum(float(c.move_mm[[m.act == "run" for m in c.moves]].sum()) for c in s.cuts)
    learned = (
        several("slack {u}, learned from {n} job", "slack {u}, learned from {n} jobs", u=percent(slack.value),
                n=count(slack.jobs)) if slack.jobs
        else said("slack {u}, until the record teaches better", u=percent(slack.value))
    )  # fmt: skip
    likely = s.path_mm + s.slack_mm
    reckonings = [
        reckon(f"{id}/thread", said("Thread, {title}", title=title), long(s.total_mm),
               said("{runs:n} along + {stack:n} through + {slack:n} slack + {spare:n} to be sure + {reserve:n} at "
                    "the needles: {all}",
                    runs=long(runs), stack=long(s.path_mm - runs), slack=long(s.slack_mm), spare=long(s.spare_mm),
                    reserve=long(s.reserve_mm), all=long(s.total_mm)), (id,),
               (*((said("sewn {n} times: {all}", n=count(s.seam.line.times), all=long(s.total_mm * s.seam.line.times)),)
                  if s.seam.line.times > 1 else ()),
                learned, said("each needle keeps its {needle} and {tail}, or the last hole cannot be sewn",
                              needle=length(choices.needle_mm), tail=length(TAIL_MM)))),
        Reckoning(f"{id}/range", said("Will take, {title}", title=title),
                  said("{a:n} to {b}", a=long(likely - 2 * s.spread_mm), b=long(likely + 2 * s.spread_mm)),
                  said("{l} ± 2 × {s}: stack known to {t}, pitch to {p}, the next job's slack to {u}; "
                       "what is cut does {sure} of the time",
                       l=long(likely), s=long(s.spread_mm), t=percent(choices.stack_spread), p=percent(choices.pitch_spread),
                       u=percent(slack.spread), sure=percent(choices.sure)), (id,), likely),
        reckon(f"{id}/times", said("Times the seam, {title}", title=title), times(s.path_mm / max(s.seam.run_mm, 1e-9)),
               _multiple(s.seam, s.stitch.id, s.cuts[0].strands), (id,)),
    ]  # fmt: skip
    if s.stitch.threads > 1:
        each = [sum(c.thread_mm[k] for c in s.cuts) for k in range(s.stitch.threads)]
        reckonings.append(Reckoning(
            f"{id}/threads", said("Of each thread, {title}", title=title), said("{a:n} and {b}", a=long(each[0]),
                                                                                b=long(each[1])),
            s.stitch.says, (id,), each[0],
        ))  # fmt: skip
    return tuple(reckonings)


def _joins(s: SewnSeam) -> tuple[Reckoning, ...]:
    if len(s.cuts) < 2:
        return ()
    id, title = s.seam.id, s.seam.title
    per_stitch = s.path_mm / max(len(s.seam.order) - 1, 1)
    cost = JOIN_STITCHES * per_stitch + s.cuts[-1].reserve_mm
    return (
        reckon(f"{id}/lengths", said("Lengths, {title}", title=title), count(len(s.cuts)),
               said("{lengths}, joined at hole {holes}", lengths=summed([amount(long(c.total_mm)) for c in s.cuts]),
                    holes=joined(*(amount(count(c.to_hole + 1)) for c in s.cuts[:-1]))), (id, f"{id}/lengths"),
               (said("a join costs {c}: {n} stitches sewn twice, and what the needles keep once more", c=long(cost),
                     n=count(JOIN_STITCHES)),)),
    )  # fmt: skip


def _multiple(seam: Seam, stitch: str, strands: int) -> Said:
    """What the multiple would be without bends and back stitches, as a sum."""
    t, p, e = float(seam.stack_mm.mean()), max(seam.pitch_mm, 1e-3), seam.line.margin_mm
    over, joint = float(np.hypot(2 * e + t, p)), float(np.hypot(2 * e, p))
    sums_of: dict[str, tuple[Said, float]] = {
        "butt": (said("2 (√({e:n}² + {p:n}²) + {e:n} + 2 × {t:n}) / {p}"), 2 * (np.hypot(e, p) + e + 2 * t) / p),
        "crosses": (said("2 (√(4 × {e:n}² + {p:n}²) + {p:n} + 2 × {t:n}) / {p}"), 2 * (joint + p + 2 * t) / p),
        "zigzag": (said("2 (√(4 × {e:n}² + {p:n}²) + {t:n}) / {p}"), 2 * (joint + t) / p),
        "whip": (said("({t:n} + √((2 × {e:n} + {t:n})² + {p:n}²)) / {p}"), (t + over) / p),
        "edge-lacing": (said("2 ({t:n} + √((2 × {e:n} + {t:n})² + {p:n}²)) / {p}"), 2 * (t + over) / p),
        "temporary": (said("1 + {t:n} / (3 × {p})"), 1 + t / (3 * p)),
    }
    lines, value = sums_of.get(stitch, (said("2 (1 + {t:n} stack / {p} pitch)"), 2 * (1 + t / p)))
    lines = lines.filled(t=fine(t), p=fine(p), e=fine(e))
    if strands > 1:
        lines, value = said("{n} strands × {sum}", n=count(strands), sum=lines), strands * value
    return said("{sum} is {r}; bends, back stitches and ends add the rest", sum=lines, r=times(float(value)))
