"""What is wrong with a limb wrap, in a maker's words, and what would mend it."""

from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from ....curve import Line, arc_length
from ....finding import Finding, Level, Mend
from ....measure import LimbBody
from ....reckoning import length, percent
from ....texts import Said, said
from ...outside import FOLDED_SHOWS
from ...stretch import WITHIN
from . import darts, edge_darts
from .wrap import CLOSING_RAD, Closing, Girded, Wrap

if TYPE_CHECKING:
    from .draft import LimbWrap

TAKES = {"veg": 0.01, "oil": 0.04, "chrome": 0.08}  # so much leather stretches without a pucker (from memory)
TAKES_WET = 0.06  # and vegetable-tanned leather that is formed wet (from memory)
HELD_TIMES = 6.0  # stretched beyond so many times as much it tears or springs back (from memory); shrunk, it stands off
COARSE = (16, 8)  # steps round and along that tell whether another closing line is better, or more panels
COARSE_OFF = 1.25  # they find less strain, by so much as a rule (tests)
BETTER = 0.8  # another closing line is offered where it leaves so much of the strain, or less
CLOSING: dict[Closing, Said] = {
    "back": said("back"), "outside": said("outer side"), "inside": said("inner side"), "front": said("front"),
}  # fmt: skip
TWO: dict[tuple[darts.End, bool], Said] = {
    ("top", False): said("two darts from the top, {d} deep"), ("low", False): said("two darts from the low end, {d} deep"),
    ("top", True): said("two gussets from the top, {d} deep"), ("low", True): said("two gussets from the low end, {d} deep"),
}  # fmt: skip
AS: dict[Closing, tuple[Closing, ...]] = {  # a section is even from side to side: closed at either it strains alike
    "front": ("front", "inside"), "back": ("back", "inside"), "outside": ("outside", "inside"), "inside": ("outside", "inside"),
}  # fmt: skip
STRETCHES = said(
    "Flat leather is {words}. It must stretch by {s} and shrink by {h}, or stand off; tanned as this is it takes {most}."
)
SHRINKS = said(
    "Flat leather is {words}. It need not stretch by more than the {most} that it takes, tanned as this is; it must shrink "
    "by {h}, or stand off."
)
STANDS_OFF = said("cut so that it stretches by no more, and stands off")
LEAST_LONG_MM = 30.0
MIDDLE = 0.4  # a limb that turns most below so much of the wrap is not helped by darts from its top
PANELS = {1: said("one piece"), 2: said("two panels"), 3: said("three panels"), 4: said("four panels")}
MORE = (2, 3, 4)
BELOW_OVER_MM = 10.0  # as much is left to be seen below what is folded over
BESIDE_SEAM_MM = 8.0  # what closes it stays so far off a seam between panels (from memory)


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
    limit = wrap.most_stretch
    if limit:  # what would help is told by it as it lies by itself
        wrap = wrap.model_copy(update={"most_stretch": 0.0})
    if laid.folded:
        mends: list[Mend] = []
        if wrap.darts and not wrap.model_copy(update={"darts": None}).wrap(body, leather_mm).folded:
            mends.append(Mend(said("no gussets") if laid.filled else said("no darts"), (("piece.darts", None),)))
        n = next((n for n in MORE if n > wrap.panels and not wrap.wrap(body, leather_mm, panels=n).folded), None)
        mends += [Mend(said("in {panels}", panels=PANELS[n]), (("piece.panels", n),))] if n else []
        return (Finding(
            "hold", "does-not-lie-flat", "draft",
            said("The limb turns so sharply that this does not lie flat for it."), "piece.panels",
            mends[0] if mends else None, tuple(mends[1:]),
        ),)  # fmt: skip
    if strain <= most:
        return ()
    level: Level = "hold" if laid.stretched > HELD_TIMES * most else "look"
    stretches = laid.stretched > (WITHIN if limit else 1.0) * most
    says = (STRETCHES if stretches else SHRINKS).filled(
        words=in_words(worst(laid)), s=percent(laid.stretched), h=percent(laid.shrunk), most=percent(most)
    )
    if limit:
        evenly = wrap.wrap(body, leather_mm)
        strain = max(evenly.stretched, evenly.shrunk)
    helps = stretches and not laid.filled and not 0 < limit <= most
    ways = (
        *_elsewhere(wrap, body, leather_mm, strain), *_darted(wrap, body, leather_mm, strain),
        *_parted(wrap, body, leather_mm, most), *_softer(wrap, tannage, strain),
        *([Mend(STANDS_OFF, (("piece.most_stretch", most),))] if helps else []),
    )  # fmt: skip
    first, *more = ways or (None,)  # fmt: skip
    return (Finding(level, "limb-strained", "draft", says, "piece.closing", first, tuple(m for m in more if m)),)


def _elsewhere(wrap: "LimbWrap", body: LimbBody, leather_mm: float, strain: float) -> list[Mend]:
    """The closing line elsewhere, where that is clearly better."""
    tried = {
        other: max((laid := wrap.wrap(body, leather_mm, other, steps=COARSE)).stretched, laid.shrunk)
        for other in CLOSING_RAD if other not in AS[wrap.closing]
    }  # fmt: skip
    best = min(tried, key=lambda k: tried[k])
    if tried[best] > BETTER * strain:
        return []
    return [Mend(said("close it at the {side}", side=CLOSING[best]), (("piece.closing", best),))]


def _darted(wrap: "LimbWrap", body: LimbBody, leather_mm: float, strain: float) -> list[Mend]:
    """Darts from an end, where the limb turns in again towards that, gussets where it spreads: as deep as five sixths of the
    way to where it turns most; or darts in from both edges there. The way that helps most, where any does.
    """
    if not wrap.may_have_darts or wrap.darts:
        return []
    low, high = wrap.between(body)
    there = [(x, k) for x, k in turns(body) if low < x < high]
    tried = []
    for at, gussets in TWO:
        way = -1.0 if gussets else 1.0
        # how far towards that end, as a share of the way, and how much it turns there
        share = [(way * k, abs((high if at == "top" else low) - x)) for x, k in there]
        turning = [(k, far) for k, far in share if far < (1 - MIDDLE) * (high - low)]
        if not turning or max(turning)[0] <= 0:
            continue
        deep = float(np.clip(np.round(max(turning)[1] * 5 / 6), 20.0, 300.0))
        made = darts.Darts(n=2, deep_mm=deep, at=at, gussets=gussets)
        laid = wrap.model_copy(update={"darts": made}).wrap(body, leather_mm, steps=COARSE)
        left = max(laid.stretched, laid.shrunk)
        if left <= BETTER * strain and not laid.folded and not darts.findings(made, laid):
            label = TWO[at, gussets].filled(d=length(deep))
            tried.append((left, Mend(label, (("piece.darts", made),))))
    tried += _in_from_edges(wrap, body, leather_mm, strain, there)
    return [min(tried, key=lambda each: each[0])[1]] if tried else []


def _in_from_edges(
    wrap: "LimbWrap", body: LimbBody, leather_mm: float, strain: float, turns: list[tuple[float, float]]
) -> list[tuple[float, Mend]]:
    """Darts in from both edges where the limb turns in most, clear of what closes it, and what strain they leave."""
    if max((k for _, k in turns), default=0.0) <= 0:
        return []
    made = edge_darts.EdgeDarts(level_mm=max(turns, key=lambda each: each[1])[0])
    with_ = partial(_with_darts, wrap, body, leather_mm, 0.0)
    clear = edge_darts.clear_of(made, wrap.wrap(body, leather_mm), wrap.closed, wrap.margin_mm, with_)
    if clear is None:
        return []
    made = edge_darts.EdgeDarts(level_mm=clear)
    laid = with_(made)
    left = max(laid.stretched, laid.shrunk)
    if left > BETTER * strain or laid.folded or edge_darts.findings(made, laid, wrap.closed, wrap.margin_mm, with_):
        return []
    label = said("darts in from both edges, at {at}", at=length(made.level_mm))
    return [(left, Mend(label, (("piece.darts", made),)))]


def _with_darts(
    wrap: "LimbWrap", body: LimbBody, leather_mm: float, lining_mm: float, made: edge_darts.EdgeDarts
) -> Wrap:
    return wrap.model_copy(update={"darts": made}).wrap(body, leather_mm, lining_mm=lining_mm)


def turns(body: LimbBody) -> list[tuple[float, float]]:
    """Each station but the ends, and how much the limb turns there: `K = (C2 - C1)/h1 - (C3 - C2)/h2`, a belly above 0, h the
    slant heights.
    """
    at, girth = body.read_mm.T
    rise = np.diff(girth)
    slant = np.hypot(np.diff(at), rise / (2 * np.pi))
    return list(zip(at[1:-1].tolist(), (rise[:-1] / slant[:-1] - rise[1:] / slant[1:]).tolist(), strict=True))


def _parted(wrap: "LimbWrap", body: LimbBody, leather_mm: float, most: float) -> list[Mend]:
    """In more panels: the fewest that the leather takes, or else the most."""
    for n in (n for n in MORE if n > wrap.panels):
        if COARSE_OFF * wrap.strain_in(body, leather_mm, n, COARSE) <= most or n == MORE[-1]:
            return [Mend(said("in {panels}", panels=PANELS[n]), (("piece.panels", n),))]
    return []


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


def _over(wrap: "LimbWrap", laid: Wrap) -> list[Finding]:
    """What is folded over farther than it is high, what that shows, and what it hides."""
    assert wrap.over is not None
    assert laid.over is not None
    high = float(laid.surface.at_mm[0] - laid.surface.at_mm[-1])
    if wrap.over.deep_mm > high - BELOW_OVER_MM:
        fits = float(np.floor(max(high / 3, 10.0)))
        mends = [Mend(said("{d} of it", d=length(fits)), (("piece.over.deep_mm", fits),)),
                 Mend(said("not folded over"), (("piece.over", None),))]  # fmt: skip
        return [Finding(
            "hold", "over-deep", "draft",
            said("{d} folded over is as much as all of the {h} that it is high.", d=length(wrap.over.deep_mm), h=length(high)),
            "piece.over.deep_mm", *((mends[0], (mends[1],)) if fits <= high - BELOW_OVER_MM else (mends[1],)),
        )]  # fmt: skip
    return [Finding("note", "over-flesh", "draft", FOLDED_SHOWS["grain"], "piece.over")]


def findings(
    wrap: "LimbWrap", body: LimbBody, laid: Wrap, rows: tuple[Line, Line], leather_mm: float
) -> tuple[Finding, ...]:
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
    if laid.over is not None:
        found += _over(wrap, laid)
    if wrap.darts_made:
        found += darts.findings(wrap.darts_made, laid)
    elif wrap.edge_darts:
        found += edge_darts.findings(wrap.edge_darts, laid, wrap.closed, wrap.margin_mm, partial(
            _with_darts, wrap, body, leather_mm, laid.lining_mm))  # fmt: skip
    elif wrap.darts:
        found.append(Finding(
            "look", "darts-idle", "draft",
            said("Darts and gussets are made in a wrap of one piece whose top is not folded over; in this there are none."),
            "piece.panels",
            Mend(said("no darts"), (("piece.darts", None),)),
        ))  # fmt: skip
    if wrap.foot and not body.heel:
        found.append(Finding(
            "look", "no-heel", "draft",
            said("A strap under the foot needs a heel to stay there: this is not measured over a boot, or not at the calf."),
            "piece.foot", Mend(said("no strap under the foot"), (("piece.foot", None),)),
        ))  # fmt: skip
    if body.bare and (backs := wrap.closed.lies_on_skin):
        says = said("Over bare skin {backs} lie on it.", backs=backs)
        found.append(Finding("look", "on-skin", "draft", says, "thing.over", wrap.closed.off_skin))
    narrow = min(float(arc_length(row)[-1]) for part in (laid.first, laid.last) for row in part.rows)
    if wrap.panels > 1 and narrow < wrap.closed.deep_mm + BESIDE_SEAM_MM:
        fits = max(int(laid.wide_mm.min() / (wrap.closed.deep_mm + BESIDE_SEAM_MM)), 1)
        found.append(Finding(
            "hold", "panel-narrow", "draft",
            said("What closes it reaches {d} in from its edges, and its panels are only {w} wide.",
                 d=length(wrap.closed.deep_mm), w=length(narrow)), "piece.panels",
            Mend(said("in {panels}", panels=PANELS[min(fits, wrap.panels - 1)]),
                 (("piece.panels", min(fits, wrap.panels - 1)),)),
        ))  # fmt: skip
    return (*found, *wrap.closed.findings(laid, rows))
