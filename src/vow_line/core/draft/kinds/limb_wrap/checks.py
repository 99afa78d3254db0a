"""What is wrong with a limb wrap, in a maker's words, and what would mend it."""

from typing import TYPE_CHECKING

import numpy as np

from ....curve import Line
from ....finding import Finding, Level, Mend
from ....measure import LimbBody
from ....reckoning import length, percent
from ....texts import Said, said
from .wrap import CLOSING_RAD, Closing, Girded, Wrap

if TYPE_CHECKING:
    from .draft import LimbWrap

TAKES = {"veg": 0.01, "oil": 0.04, "chrome": 0.08}  # so much leather stretches without a pucker (from memory)
TAKES_WET = 0.06  # and vegetable-tanned leather that is formed wet (from memory)
HELD_TIMES = 6.0  # stretched beyond so many times as much it tears or springs back (from memory); shrunk, it stands off
COARSE = (16, 8)  # steps round and along that tell whether another closing line is better
BETTER = 0.8  # another closing line is offered where it leaves so much of the strain, or less
CLOSING: dict[Closing, Said] = {
    "back": said("back"), "outside": said("outer side"), "inside": said("inner side"), "front": said("front"),
}  # fmt: skip
LEAST_LONG_MM = 30.0


def takes(wrap: "LimbWrap", tannage: str) -> float:
    """How much the leather takes."""
    return TAKES_WET if wrap.formed and tannage == "veg" else TAKES[tannage]


def worst(laid: Wrap) -> Girded:
    """The girth line that is off most."""
    return max(laid.girded, key=lambda g: abs(g.over_mm))


def in_words(line: Girded) -> Said:
    """How far a girth line is off, as a hand would say it."""
    at, off = length(line.at_mm), length(abs(line.over_mm))
    if line.over_mm < 0:
        return said("{off} short at {at}: it must stretch there, or the closing stands open", off=off, at=at)
    return said("{off} too wide at {at}: {round} off all round, or a tuck of {off}", off=off, at=at,
                round=length(line.over_mm / (2 * np.pi)))  # fmt: skip


def suits(wrap: "LimbWrap", body: LimbBody, laid: Wrap, leather_mm: float, tannage: str) -> tuple[Finding, ...]:
    """Whether leather of a tannage takes what the piece must stretch and shrink."""
    most = takes(wrap, tannage)
    strain = max(laid.stretched, laid.shrunk)
    if laid.flat.folded:
        return (Finding(
            "hold", "does-not-lie-flat", "draft",
            said("The limb turns so sharply that one piece does not lie flat for it: cut it in two where it is thinnest."),
            "thing.stations.0.girth.first",
        ),)  # fmt: skip
    if strain <= most:
        return ()
    level: Level = "hold" if laid.stretched > HELD_TIMES * most else "look"
    says = said("Flat leather is {words}. It must stretch by {s} and shrink by {h}, or stand off; tanned as this is it takes "
                "{most}.")  # fmt: skip
    says = says.filled(
        words=in_words(worst(laid)), s=percent(laid.stretched), h=percent(laid.shrunk), most=percent(most)
    )
    first, *more = (*_elsewhere(wrap, body, leather_mm, strain), *_softer(wrap, tannage, strain)) or (None,)
    return (Finding(level, "limb-strained", "draft", says, "piece.closing", first, tuple(m for m in more if m)),)


def _elsewhere(wrap: "LimbWrap", body: LimbBody, leather_mm: float, strain: float) -> list[Mend]:
    """The closing line elsewhere, where that is clearly better."""
    tried = {
        other: max((laid := wrap.wrap(body, leather_mm, other, COARSE)).stretched, laid.shrunk)
        for other in CLOSING_RAD if other != wrap.closing
    }  # fmt: skip
    best = min(tried, key=lambda k: tried[k])
    if tried[best] > BETTER * strain:
        return []
    return [Mend(said("close it at the {side}", side=CLOSING[best]), (("piece.closing", best),))]


def _softer(wrap: "LimbWrap", tannage: str, strain: float) -> list[Mend]:
    """Worked wet, or another leather, where that takes it."""
    mends = []
    if tannage == "veg" and not wrap.formed:
        mends.append(Mend(said("work it wet"), (("piece.formed", True),)))
    for other, title in (("oil", said("oil-tanned leather")), ("chrome", said("chrome-tanned leather"))):
        if TAKES[other] > takes(wrap, tannage) and HELD_TIMES * TAKES[other] >= strain:
            mends.append(Mend(title, (("leather.tannage", other),)))
            break
    return mends


def findings(wrap: "LimbWrap", body: LimbBody, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Finding, ...]:
    """What is wrong whatever the leather is."""
    found: list[Finding] = []
    first, last = float(body.read_mm[0, 0]), float(body.read_mm[-1, 0])
    if wrap.low_mm + wrap.high_mm > last - first - LEAST_LONG_MM:
        found.append(Finding(
            "hold", "wrap-short", "draft",
            said("Beginning {low} up and ending {high} down leaves nothing of the {run} that was measured.",
                 low=length(wrap.low_mm), high=length(wrap.high_mm), run=length(last - first)), "piece.low_mm",
            Mend(said("all that was measured"), (("piece.low_mm", 0.0), ("piece.high_mm", 0.0))),
        ))  # fmt: skip
    if body.assumed:
        found.append(Finding(
            "look", "depth-assumed", "draft",
            said("How deep the limb is was not read everywhere: it is taken to be as deep for its girth as such limbs are, "
                 "and its front straight. What must stretch can be a third more or less."), "thing.stations.0.depth.first",
        ))  # fmt: skip
    return (*found, *wrap.closed.findings(laid, rows))
