"""What is wrong with the holes of a seam by itself."""

import numpy as np

from ..curve import arc_length, corners, rounded
from ..finding import Finding, Mend
from ..reckoning import count, fine, length, percent
from ..texts import said
from .choices import StitchChoices
from .holes import STRIKE_GIVE_MM, drift, struck
from .seams import CORNER_RAD, Run, Seam, ends_outside, holes_of, to_sew
from .tools import WHEEL

NEARER_MM = 0.75  # a thread that turns a corner cuts it by no more without a word (from memory)
MOST_PITCH_CHANGE = 0.06  # a fitted pitch further than this from the wanted one is pointed out (common practice)
EASE_FINE, EASE_MOST = 0.02, 0.05  # so far partner edges may differ unseen, and eased in (common practice)
MOST_THROUGH_MM = 10.0  # thicker stacks are marked from both faces, or drilled (common practice)
LEAST_ROUND_MM = 0.2  # less is no rounding
MOST_ROUND_MM = 12.0  # a corner rounded further than this is another shape
MOST_KEPT_OFF_MM = 60.0  # no job holds more
FARTHER_TIMES = 1.2  # a thread goes out at an angle to the edge: so much more than is missing (from memory)


def checks(seam: Seam, choices: StitchChoices) -> tuple[Finding, ...]:
    """Findings of one seam by itself."""
    if seam.line.sewing.kept:
        return (*_own(seam, choices), *_partner_findings(seam))
    return (*_run_findings(seam, choices), *_own(seam, choices), *_partner_findings(seam))


def _run_findings(seam: Seam, choices: StitchChoices) -> list[Finding]:
    findings: list[Finding] = []
    whole, pitch = float(arc_length(seam.line.line)[-1]), choices.pitch_mm
    outside = ends_outside(seam.line, choices)
    if seam.line.shape != "box" and not outside and whole < choices.start_in_mm + choices.end_in_mm + pitch:
        findings.append(Finding(
            "hold", "seam-too-short", "stitch",
            said("The {seam} is {whole} long: less than its ends and one stitch of {pitch}.",
                 whole=length(whole), pitch=fine(pitch), seam=seam.title), "stitch.pitch_mm",
        ))  # fmt: skip
    asked: dict[float, Run] = {round(r.run_mm, 1): r for r in seam.runs if not r.as_asked}
    for run in asked.values():
        findings.append(Finding(
            "look", "iron-does-not-fit", "stitch",
            said("The iron of {pitch} leaves {left} on a run of {run} of the {seam}: more than {give} in each "
                 "strike.", pitch=fine(pitch), left=length(run.run_mm % pitch), run=length(run.run_mm),
                 give=length(STRIKE_GIVE_MM), seam=seam.title), "stitch.remainder",
        ).offering(lambda: (*(_early(seam, choices) or _wheel(seam, choices)), *_rounding(seam, choices))))  # fmt: skip
    left = seam.left_mm
    if choices.tool == "iron" and choices.remainder == "end" and seam.line.shape != "box" and left > STRIKE_GIVE_MM:
        findings.append(Finding(
            "note", "iron-remainder", "stitch",
            said("The iron of {pitch} leaves {left} over at the end of the {seam}.", pitch=fine(pitch),
                 left=length(left), seam=seam.title), "stitch.end_in_mm",
        ).offering(lambda: (*_shared(seam, choices), *_lost(seam, choices), *_rounding(seam, choices))))  # fmt: skip
    return findings


def _runs(seam: Seam, choices: StitchChoices, **other: object) -> tuple[Run, ...]:
    """The runs of the seam as they would be with other choices."""
    *_, runs = holes_of(seam.line, choices.model_copy(update=other))
    return runs


def _early(seam: Seam, choices: StitchChoices) -> tuple[Mend, ...]:
    """The seam ended early, where it is its last run alone that does not come out."""
    if seam.line.closed or not all(r.as_asked for r in _runs(seam, choices, remainder="end")):
        return ()
    return (Mend(said("end the seam early"), (("stitch.remainder", "end"),)),)


def _wheel(seam: Seam, choices: StitchChoices) -> tuple[Mend, ...]:
    """The seam marked with a wheel, where that does not change its pitch by so much that it would be pointed out."""
    if max((abs(r.changed) for r in _runs(seam, choices, tool="wheel")), default=0.0) > MOST_PITCH_CHANGE:
        return ()
    return (Mend(said("mark with a wheel"), ((f"stitch.of/{seam.id}/tool", WHEEL),)),)


def _shared(seam: Seam, choices: StitchChoices) -> tuple[Mend, ...]:
    """What is left over at the end shared between both ends, where the seam has no corner that its holes must come to."""
    if ends_outside(seam.line, choices) or len(seam.runs) > 1:
        return ()
    for less in range(
        8
    ):  # never a hair more than there is, or a stitch is lost: where a line curves the holes shift on it
        share = float(np.floor(seam.left_mm * 50)) / 100 - less / 100
        moved = {"start_in_mm": round(choices.start_in_mm + share, 2), "end_in_mm": round(choices.end_in_mm + share, 2)}
        _, line = to_sew(seam.line, choices.model_copy(update=moved))
        if len(struck(line, choices.pitch_mm).s_mm) == len(seam.points):
            return (Mend(said("share it between both ends"),
                         tuple((f"stitch.of/{seam.id}/{end}", at) for end, at in moved.items())),)  # fmt: skip
    return ()


def _lost(seam: Seam, choices: StitchChoices) -> tuple[Mend, ...]:
    """What is left over at the end lost where the last strikes are set, if they are enough for it."""
    if not all(r.as_asked for r in _runs(seam, choices, remainder="spread")):
        return ()
    return (Mend(said("lose it in the last strikes"), (("stitch.remainder", "spread"),)),)


def _first(*mends: Mend) -> tuple[Mend | None, tuple[Mend, ...]]:
    return (mends[0], mends[1:]) if mends else (None, ())


def _rounding(seam: Seam, choices: StitchChoices) -> tuple[Mend, ...]:
    """The corner radius that makes the pitch come out, where there is one: a mm of it shortens the line by 2 tan(θ/2) - θ."""
    if seam.line.closed or seam.line.shape != "line":
        return ()
    _, sewn = to_sew(seam.line, choices)
    at = corners(sewn, CORNER_RAD)
    sharp = float(arc_length(sewn)[-1])
    one = sharp - float(arc_length(rounded(sewn, 1.0, at))[-1]) if len(at) else 0.0
    short = sharp % choices.pitch_mm
    if one < 1e-3 or short / one > MOST_ROUND_MM:
        return ()

    def made(radius: float) -> tuple[bool, float]:
        runs = _runs(seam, choices, round_mm=radius)
        left = runs[-1].left_mm
        return all(r.as_asked for r in runs) and left <= STRIKE_GIVE_MM, left

    radius = short / one
    for _ in range(4):  # sides that curve, and the chords of the iron on the arc, make it a little more or less
        if not LEAST_ROUND_MM <= radius <= MOST_ROUND_MM:
            return ()
        _, left = made(radius)
        radius += (left if left < choices.pitch_mm / 2 else left - choices.pitch_mm) / one
    told = float(np.floor(radius * 100)) / 100
    for less in (0.0, 0.01, 0.02, 0.05, 0.1):  # never a hair more than will do, or a stitch is lost
        if LEAST_ROUND_MM <= told - less <= MOST_ROUND_MM and made(round(told - less, 2))[0]:
            return (Mend(said("round its corners until it comes out"), (("stitch.round_mm", round(told - less, 2)),)),)
    return ()


def _own(seam: Seam, choices: StitchChoices) -> list[Finding]:
    findings: list[Finding] = []
    changed = max((r.changed for r in seam.runs), key=abs, default=0.0)
    if abs(changed) > MOST_PITCH_CHANGE:
        findings.append(Finding(
            "look", "pitch-changed", "stitch",
            said("The pitch on the {seam} comes out {share} off what was asked.", share=percent(abs(changed)), seam=seam.title),
            "stitch.pitch_mm",
        ))  # fmt: skip
    thick = float(seam.stack_mm.max())
    most = MOST_THROUGH_MM / seam.share
    if thick > most and choices.tool != "drill":
        both = Mend(said("mark both faces"), (("stitch.through", "both-faces"),))
        drill = Mend(said("drill them"), (("stitch.tool", "drill"), ("stitch.hole_mm", max(choices.hole_mm, 1.5))))
        findings.append(Finding(
            "look", "stack-too-thick", "stitch",
            said("The stack on the {seam} reaches {t}; straight through goes to {most}. Mark both faces "
                 "through the pattern and meet in the middle, or drill 1.5 mm on a plate (eyes, and a clamp).",
                 t=length(thick), most=length(most), seam=seam.title), seam.line.sewing.stack_at,
            *_first(*((drill,) if seam.share < 1 else (both, drill))),
        ))  # fmt: skip
    walks, every = drift(len(seam.points), seam.pitch_mm, choices.error_mm)
    if seam.teeth and walks > seam.pitch_mm / 4:
        findings.append(Finding(
            "note", "iron-drifts", "stitch",
            said("An iron {b:n} out at a hole walks {w} along the {seam}, more than a quarter of its pitch: "
                 "mark both faces every {k} holes and set it anew there.", b=fine(choices.error_mm),
                 w=fine(walks), k=count(every), seam=seam.title), "stitch.error_mm",
            Mend(said("mark as often"), (("stitch.mark_every", min(every, 100)),)) if choices.mark_every > every else None,
        ))  # fmt: skip
    sewing = seam.line.sewing
    if seam.to_edge_mm is not None and sewing.keep_off_mm <= seam.to_edge_mm < sewing.asked_off_mm - NEARER_MM:
        findings.append(Finding(
            "look", "thread-nearer", "stitch",
            said("Where it turns most, the thread of the {seam} comes to {d} from the cutting edge's way; {asked} was asked.",
                 seam=seam.title, d=length(seam.to_edge_mm), asked=length(sewing.asked_off_mm)), sewing.keep_off_at,
        ))  # fmt: skip
    if seam.to_edge_mm is not None and seam.to_edge_mm < sewing.keep_off_mm - 0.05:
        missing = sewing.keep_off_mm - seam.to_edge_mm + seam.deepest_mm
        farther = round(min(sewing.kept_off_mm + FARTHER_TIMES * missing + 0.25, MOST_KEPT_OFF_MM), 1)
        findings.append(Finding(
            "hold", "thread-near-edge", "stitch",
            said("A stitch of the {seam} comes within {d} of the cutting edge as the blade is drawn; {least} "
                 "is the least.", d=length(seam.to_edge_mm), least=length(sewing.keep_off_mm), seam=seam.title),
            sewing.keep_off_at, Mend(said("move the thread out"), ((sewing.keep_off_at, farther),)),
        ))  # fmt: skip
    if seam.line.margin_mm < thick / 2 and len(seam.line.plies) > 3:
        findings.append(Finding(
            "look", "margin-thin", "stitch",
            said("The {seam} goes through more than three plies, {t} thick, with {e} of margin; half the "
                 "stack is wanted.", t=length(thick), e=length(seam.line.margin_mm), seam=seam.title),
                 seam.line.sewing.margin_at,
        ))  # fmt: skip
    return findings


def _partner_findings(seam: Seam) -> list[Finding]:
    share = seam.eased
    sewing = seam.line.sewing  # aslant through a corner its rows are of two lengths
    if abs(share) <= EASE_FINE or sewing.through_mm > 0 or sewing.told:
        return []
    wrong = abs(share) > EASE_MOST
    how = said("one would pucker") if wrong else said("ease it in hole by hole, with marks to keep step")
    return [Finding(
        "hold" if wrong else "look", "partners-differ", "stitch",
        said("The edges of the {seam} differ by {share} in length: {how}. {fine} passes unseen, {most} at "
             "most.",
             share=percent(abs(share)), fine=percent(EASE_FINE), most=percent(EASE_MOST), seam=seam.title, how=how),
             seam.line.sewing.margin_at,
    )]  # fmt: skip
