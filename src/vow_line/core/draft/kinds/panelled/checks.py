"""What is wrong with panels: edges that differ, that are not there, that nothing is said of; halves, levels, laps."""

from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
import shapely

from ....curve import Line
from ....finding import Finding, Mend
from ....measure import PanelsBody
from ....measure.body import Level
from ....quantity import Q
from ....reckoning import count, length, percent
from ....texts import Said, said, verbatim
from ...inside_out import TURNS_ACROSS, TURNS_TO_MM
from ...wrap import NEUTRAL_DRY
from . import collar
from .meets import LAPPED, LEAST_LAP, MOST_MEETS, SEWN, Halves, Meet, alike, long, offered, together

if TYPE_CHECKING:
    from .draft import Panelled
    from .put import Put

EASED, MOST_EASED = 0.02, 0.05  # partner edges so much apart are eased unseen, and at most (common practice)
Changes = tuple[tuple[str, tuple[Meet, ...]], ...]
SAME_MM = 1.0  # halves nearer than this to each other are alike
OPENS_MM = 2.0  # thicker leather does not lie flat where a seam is opened (from memory)
LEFT_OUT = 0.25  # of an edge, and what its two corners take, may stay unsewn (from memory)
ROOM_MM = 3.0  # beyond a fingertip (from memory)
LEVEL_OFF = 0.02  # what panels give at a level may differ so much from what is wanted there (from memory)


def findings(put: "Put") -> tuple[Finding, ...]:
    """All of it."""
    return (
        *_gone(put), *_crossing(put), *_lengths(put), *_laps(put),
        *_ridges(put), *_buttons(put), *_holes(put), *_halves(put), *_levels(put),
        *_apart(put), *_astray(put), *_turned_in(put), *_fingers(put), *collar.findings(put),
        *_offered(put),
    )  # fmt: skip


def _without(put: "Put", k: int) -> tuple[tuple[str, tuple[Meet, ...]], ...]:
    return (("piece.meets", tuple(m for i, m in enumerate(put.by.meets) if i != k)),)


def _astray(put: "Put") -> Iterator[Finding]:
    """Corrections of a mock-up at edges that are not there any more."""
    for edge in put.body.astray:
        yield Finding(
            "look", "correction-astray", "draft",
            said("The mock-up was corrected at {edge}, and there is no such edge any more: that is left out.",
                 edge=verbatim(edge)),
            "trials",
        )  # fmt: skip


def _gone(put: "Put") -> Iterator[Finding]:
    """Meetings that name an edge that is not there, itself, or one that meets another already."""
    made = {k for k, _ in put.standing}
    for k, meet in enumerate(put.by.meets):
        if k in made or meet.how == "apart":
            continue
        gone = next((e for e in (meet.a, meet.b) if e not in put.edges), None)
        if gone is not None:
            says = said("{a} is to meet {b}, but there is no edge {gone}.", gone=verbatim(gone))
        elif meet.a == meet.b:
            says = said("{a} is to meet itself.")
        else:
            says = said("{a} is to meet {b}, but one of them meets another edge already.")
        yield Finding(
            "hold", "meets-nothing", "draft", says.filled(a=verbatim(meet.a), b=verbatim(meet.b)), f"piece.meets.{k}.how",
            Mend(said("take this meeting away"), _without(put, k)),
        )  # fmt: skip


def _crossing(put: "Put") -> Iterator[Finding]:
    for letter in (k for k, cut in put.cuts.items() if not cut.sound):
        k = next(k for k, m in put.standing if any(e[0] == letter and e in put.moved_mm for e in (m.a, m.b)))
        yield Finding(
            "hold", "panel-crosses", "draft",
            said("What panel {letter} runs on, or is drawn back, would make its outline cross itself: it is drawn as traced.",
                 letter=verbatim(letter)), f"piece.meets.{k}.how",
            Mend(said("sew it edge to edge"), ((f"piece.meets.{k}.how", "butt"),)),
        )  # fmt: skip


def _lengths(put: "Put") -> Iterator[Finding]:
    """Lengths where they meet: up to 2 % eased unseen, to 5 % said, beyond it held (common practice)."""
    made = {k for k, _ in put.made}
    for k, meet in put.standing:
        a, b = put.lengths_mm(k, meet)
        apart = Mend(said("they do not meet"), ((f"piece.meets.{k}.how", "apart"),))
        if k not in made:
            yield Finding(
                "hold", "meet-short", "draft",
                said("{a} and {b} have no room for a seam between their corners.", a=verbatim(meet.a), b=verbatim(meet.b)),
                f"piece.meets.{k}.how", apart,
            )  # fmt: skip
            continue
        yield from _left_out(put, k, meet)
        share = abs(a - b) / max(a, b)
        if share <= EASED:
            continue
        longer, shorter = (meet.a, meet.b) if a > b else (meet.b, meet.a)
        says = said(
            "{longer} is {d} longer than {shorter} where they meet, {s}: ease it in evenly, mark by mark."
        ) if share <= MOST_EASED else said(
            "{longer} is {d} longer than {shorter} where they meet, {s}: it would pucker. Drag a corner of one of them at "
            "Measure until they agree, or trace it again.")  # fmt: skip
        says = says.filled(longer=verbatim(longer), shorter=verbatim(shorter), d=length(abs(a - b)), s=percent(share))
        yield Finding(
            "look" if share <= MOST_EASED else "hold", "meet-differs", "draft", says, f"piece.meets.{k}.how", apart
        )


def _left_out(put: "Put", k: int, meet: Meet) -> Iterator[Finding]:
    """Much of an edge that is not sewn, as it lies too near to another cut there: across a crotch, or beside what runs on."""
    if meet.how not in SEWN or put.kept(meet):
        return
    edge, sewn = min(long(put.edges[e]) for e in (meet.a, meet.b)), min(long(line) for line in put.along[k])
    if edge - sewn > LEFT_OUT * edge + 4 * put.by.margin_mm:
        yield Finding(
            "hold", "meet-part", "draft",
            said("Of {a} and {b} only {x} of {y} is sewn: elsewhere the thread comes too near to another cut.",
                 a=verbatim(meet.a), b=verbatim(meet.b), x=length(sewn), y=length(edge)), f"piece.meets.{k}.how",
            Mend(said("they do not meet"), ((f"piece.meets.{k}.how", "apart"),)),
        )  # fmt: skip


def _laps(put: "Put") -> Iterator[Finding]:
    """What lies under must be wide enough for its seam or its studs, and rows must lie on their panels."""
    for k, meet in put.standing:
        path = f"piece.meets.{k}"
        if put.kept(meet):
            continue
        least = LEAST_LAP * (put.by.margin_mm if meet.how in LAPPED else put.by.hole_mm)
        if meet.how in (*LAPPED, "studs") and meet.under_mm < least:
            yield Finding(
                "hold", "lap-narrow", "draft",
                said("{b} reaches {w} under {a}: {least} at least, for holes clear of both cuts.", a=verbatim(meet.a),
                     b=verbatim(meet.b), w=length(meet.under_mm), least=length(least)), f"{path}.under_mm",
                Mend(said("{least} under it", least=length(least)), ((f"{path}.under_mm", round(least, 2)),)),
            )  # fmt: skip
        if k in put.rows and (off := put.rows_off(k, meet)):
            yield Finding(
                "hold", "row-off", "draft",
                said("Holes along {name} do not lie on its panel.", name=verbatim(off[0])), f"{path}.how",
                Mend(said("they do not meet"), ((f"{path}.how", "apart"),)),
            )  # fmt: skip


def _ridges(put: "Put") -> Iterator[Finding]:
    """A seam that is opened lies double beside its thread, and folds both: stiff leather does not."""
    for k, meet in put.made:
        if meet.how == "turned" and put.leather_mm > OPENS_MM:
            yield Finding(
                "look", "seam-ridge", "draft",
                said("{a} and {b} are opened after they are sewn: leather of {t} stands there as a ridge. Skive it where it is "
                     "folded, or sew it edge on edge.", a=verbatim(meet.a), b=verbatim(meet.b),
                     t=Q("leather", put.leather_mm)), f"piece.meets.{k}.how",
                Mend(said("edge on edge"), ((f"piece.meets.{k}.how", "flush"),)),
            )  # fmt: skip


def _turned_in(put: "Put") -> Iterator[Finding]:
    """What is turned in along a curve is longer or shorter than where it lies: it is notched, or slit."""
    for k, meet in put.made:
        if meet.how != "folded":
            continue
        turn = put.turn(meet)
        off = long(turn.cut) / long(turn.lies) - 1
        if abs(off) > EASED:
            says = said("What is turned in at {a} is {off} longer than where it lies: notch it, or it puckers.")
            if off < 0:
                says = said(
                    "What is turned in at {a} is {off} shorter than where it lies: slit it, or it draws the edge in."
                )
            yield Finding(
                "look", "turn-curved", "draft", says.filled(a=verbatim(meet.a), off=percent(abs(off))), f"piece.meets.{k}.how",
                Mend(said("not folded"), ((f"piece.meets.{k}.how", "over"),)),
            )  # fmt: skip


def _buttons(put: "Put") -> Iterator[Finding]:
    """Loops that go over their button hang slack where the way across is shorter."""
    least = put.by.button_mm + put.by.high_mm
    for k, meet in put.made:
        across = meet.gap_mm + 2 * put.by.in_mm
        if meet.how == "buttons" and across < least:
            yield Finding(
                "look", "loop-slack", "draft",
                said("A loop that goes over a button {d} wide and {h} thick is {least} long; closed it has {across} to go and "
                     "hangs slack.", d=length(put.by.button_mm), h=length(put.by.high_mm), least=length(least),
                     across=length(across)), f"piece.meets.{k}.gap_mm",
                Mend(said("a gap that fits"), ((f"piece.meets.{k}.gap_mm", round(least - 2 * put.by.in_mm, 1)),)),
            )  # fmt: skip


def _holes(put: "Put") -> Iterator[Finding]:
    """Holes that are to be kept and are not as many on either edge."""
    for k, meet in put.standing:
        if meet.holes == "anew" or meet.how not in SEWN or put.kept(meet):
            continue
        n = [len(row.points) if row else 0 for row in put.old_rows(meet)]
        yield Finding(
            "hold", "holes-differ", "draft",
            said("There are {n} holes along {a} and {m} along {b}: they cannot be kept. Look for the missing ones at Measure.",
                 n=count(n[0]), a=verbatim(meet.a), m=count(n[1]), b=verbatim(meet.b)), f"piece.meets.{k}.holes",
            Mend(said("space them anew"), ((f"piece.meets.{k}.holes", "anew"),)),
        )  # fmt: skip


def _halves(put: "Put") -> Iterator[Finding]:
    """Panels that are nearly each other's mirror image and of which nothing is said; what was said of panels that are none."""
    told = {frozenset((h.a, h.b)) for h in put.by.halves}
    for k, both in enumerate(put.by.halves):
        others = tuple(h for i, h in enumerate(put.by.halves) if i != k)
        shapes = [put.body.panels.get(x) for x in (both.a, both.b)]
        if both.a == both.b or any(s is None for s in shapes) or len({len(s.edges) for s in shapes if s}) > 1:
            yield Finding(
                "hold", "halves-gone", "draft",
                said("{a} and {b} are said to be halves, but they are not two panels with as many corners.",
                     a=verbatim(both.a), b=verbatim(both.b)), f"piece.halves.{k}.keep",
                Mend(said("they are no halves"), (("piece.halves", others),)),
            )  # fmt: skip
    for a, b, found in alike(put.body):
        if found.off_mm < SAME_MM or frozenset((a, b)) in told:
            continue

        def with_(keep: str, a: str = a, b: str = b) -> tuple[tuple[str, tuple[Halves, ...]], ...]:
            return (("piece.halves", (*put.by.halves, Halves(a=a, b=b, keep=keep))),)

        yield Finding(
            "look", "halves-differ", "draft",
            said("{a} and {b} are each other's mirror image but for {d}, at {at}: which is the better half?", a=verbatim(a),
                 b=verbatim(b), d=length(found.off_mm), at=verbatim(found.at)), f"piece.halves/{a}{b}",
            Mend(said("{a}, for both", a=verbatim(a)), with_("a")),
            (Mend(said("{b}, for both", b=verbatim(b)), with_("b")), Mend(said("their mean"), with_("mean")),
             Mend(said("neither: they differ"), with_("neither"))),
        )  # fmt: skip


class AtLevel(NamedTuple):
    """A level: its number and name, how wide the panels are there together, what of that their edges take, the girth read, how
    thick linings are, all round, and what is wanted: that girth, the ease, and a whole turn of the leather's own and round the
    linings.
    """

    k: int
    name: Said
    across_mm: float
    taken_mm: float
    girth_mm: float
    lining_mm: float
    wants_mm: float

    @property
    def gives_mm(self) -> float:
        """What the panels give there together."""
        return self.across_mm - self.taken_mm


def across_of(put: "Put", level: Level) -> dict[str, float]:
    """How wide each panel is at a level: the other half as wide as the one that is kept."""
    across = {x: _long(line) for x, line in level.across}
    for both in put.by.halves:
        if {both.a, both.b} <= across.keys() and both.keep in ("a", "b"):
            across |= dict.fromkeys((both.a, both.b), across[both.a if both.keep == "a" else both.b])
    return across


def _long(strokes: Line) -> float:
    return float(np.hypot(*(strokes[1::2] - strokes[::2]).T).sum())


def at_levels(put: "Put") -> Iterator[AtLevel]:
    """What is read and given at each level."""
    own = 2 * np.pi * NEUTRAL_DRY * put.leather_mm
    for k, level in enumerate(put.body.levels):
        across = across_of(put, level)
        traced = {x: _long(line) for x, line in level.across}
        taken = sum(traced[x] - _seen(put, x, line) for x, line in level.across if any(e[0] == x for e in put.taken_mm))
        wide = sum(across.values())
        lining = sum(put.thick.get(f"panel-{x}", 0.0) * w for x, w in across.items()) / max(wide, 1e-9)
        wants = level.girth_mm + put.by.ease_mm + own + 2 * np.pi * lining
        yield AtLevel(k, level.name, wide, taken, level.girth_mm, lining, wants)


def _seen(put: "Put", letter: str, strokes: Line) -> float:
    """How much of the strokes across a panel is seen of it when it is sewn."""
    worn = put.worn(letter)
    return float(sum(worn.intersection(shapely.LineString(stroke)).length for stroke in strokes.reshape(-1, 2, 2)))


def _levels(put: "Put") -> Iterator[Finding]:
    for level in at_levels(put):
        k, name, wide, girth, wants = level.k, level.name, level.gives_mm, level.girth_mm, level.wants_mm
        off = wide - wants
        if abs(off) <= LEVEL_OFF * girth:
            continue
        says = said("At the {level} the panels give {wide}; {wants} are wanted, {d} more: they pull.") if off < 0 else said(
            "At the {level} the panels give {wide}; {wants} are wanted, {d} less: they stand off.")  # fmt: skip
        says = says.filled(level=name, wide=length(wide), wants=length(wants), d=length(abs(off)))
        least = wide - (wants - put.by.ease_mm)
        mend = Mend(said("{e} of ease is meant", e=length(least)), (("piece.ease_mm", round(float(least), 1)),))
        fits = -100 <= least <= 500 and (off > 0 or least >= 0)
        yield Finding(
            "look" if off > 0 or least >= 0 else "hold",
            "level-off",
            "draft",
            says,
            f"level-{k}",
            mend if fits else None,
        )


class Inside(NamedTuple):
    """How long a finger of the pattern is, what the seam round its tip and a lining take of that, how long it was read."""

    name: Said
    edge: str
    long_mm: float
    taken_mm: float
    read_mm: float

    @property
    def room_mm(self) -> float:
        """What is left beyond the fingertip."""
        return self.long_mm - self.taken_mm - self.read_mm


def fingers_inside(put: "Put") -> Iterator[Inside]:
    """Every finger that was read."""
    for f in (f for f in put.body.fingers if f.read_mm is not None):
        taken = put.taken_mm.get(f.edge, 0.0) + put.thick.get(f"panel-{f.edge[0]}", 0.0)
        yield Inside(f.name, f.edge, f.lies.long_mm, taken, f.read_mm or 0.0)


def suits(by: "Panelled", body: PanelsBody, leather_mm: float, tannage: str) -> tuple[Finding, ...]:
    """Whether a glove that is sewn inside out can be turned: its leather, and its narrowest finger."""
    seams = [k for k, meet in enumerate(by.meets) if meet.how == "turned"]
    if not body.hand or not seams:
        return ()
    flush = Mend(said("edge on edge"), tuple((f"piece.meets.{k}.how", "flush") for k in seams))
    most = TURNS_TO_MM[tannage]
    if leather_mm > most:
        says = said("Leather of {t}, tanned as this is, does not turn: {most} would.", t=Q("leather", leather_mm),
                    most=Q("leather", most))  # fmt: skip
        return (Finding("hold", "does-not-turn", "draft", says, f"piece.meets.{seams[0]}.how", flush),)
    across = {f.name: 2 * float(np.hypot(*(f.lies.base[1] - f.lies.base[0]))) / np.pi for f in body.fingers}
    narrow = min(across, key=lambda name: across[name], default=None)
    if narrow is None or across[narrow] >= TURNS_ACROSS * leather_mm:
        return ()
    says = said("The {finger}, {d} thick at its base, does not turn in leather of {t}: {least} would.", finger=narrow,
                d=length(across[narrow]), t=Q("leather", leather_mm), least=length(TURNS_ACROSS * leather_mm))  # fmt: skip
    return (Finding("hold", "does-not-turn", "draft", says, f"piece.meets.{seams[0]}.how", flush),)


def _fingers(put: "Put") -> Iterator[Finding]:
    """A finger that is longer than what is made for it."""
    tight = min((f for f in fingers_inside(put) if f.room_mm < 0), key=lambda f: f.room_mm, default=None)
    if tight is not None:
        beyond = round(tight.taken_mm + ROOM_MM, 1)
        yield Finding(
            "look", "finger-short", "draft",
            said("The {finger} on panel {letter} is {long} long inside its seam; it was read as {read}.", finger=tight.name,
                 letter=verbatim(tight.edge[0]), long=length(tight.long_mm - tight.taken_mm), read=length(tight.read_mm)),
            f"panel-{tight.edge[0]}",
            Mend(said("a pattern {d} longer than a finger", d=length(beyond)), (("thing.beyond_mm", beyond),)),
        )  # fmt: skip


def _offered(put: "Put") -> Iterator[Finding]:
    if not put.by.asked or len(put.by.meets) >= MOST_MEETS:
        return
    mirrored = tuple(p for _, _, like in alike(put.body) for p in like.pairs)
    pair = offered(put.by.meets, put.edges, mirrored, likely=put.by.asked != "all")
    if pair is None:
        if put.by.asked != "all" and offered(put.by.meets, put.edges, likely=False) is not None:
            yield Finding(
                "note", "more-alike", "draft", said("Other edges are as long as each other, and hardly meant to meet."),
                "piece.asked", Mend(said("ask about them too"), (("piece.asked", "all"),)),
            )  # fmt: skip
        return
    a, b = pair

    def with_(how: str) -> Changes:
        return (("piece.meets", (*put.by.meets, Meet(a=a, b=b, how=how))),)

    yield Finding(
        "look", "edges-alike", "draft",
        said("{a} and {b} are alike, {x:n} and {y} long: do they meet?", a=verbatim(a), b=verbatim(b),
             x=length(long(put.edges[a])), y=length(long(put.edges[b]))), f"piece.meets/{a}{b}",
        *_ways(a, b, with_, hand=put.body.hand),
    )  # fmt: skip


def _ways(a: str, b: str, with_: Callable[[str], Changes], *, hand: bool) -> tuple[Mend, tuple[Mend, ...]]:
    """How two edges may meet, the likeliest first: of a glove edge on edge."""
    butt = Mend(said("edge to edge"), with_("butt"))
    no = Mend(said("they do not meet"), with_("apart")), Mend(said("no others meet"), (("piece.asked", False),))
    if hand:
        return Mend(said("edge on edge"), with_("flush")), (butt, *no)
    over = Mend(said("{a} over {b}", a=verbatim(a), b=verbatim(b)), with_("over"))
    return over, (butt, Mend(said("laced"), with_("laced")), Mend(said("studs"), with_("studs")), *no)


def _apart(put: "Put") -> Iterator[Finding]:
    """Panels that are sewn, but not all of them to each other: two things, or more."""
    hang = together(put.panels, [m for _, m in put.made])
    sewn = {e[0] for _, m in put.made for e in (m.a, m.b)} | {
        p.edge[0] for p in (put.collar.neck.parts if put.collar else ())
    }
    things = sorted({", ".join(sorted(hang[letter])) for letter in sewn})
    if len(things) > 1:
        yield Finding(
            "hold", "panels-apart", "draft",
            said("There is a seam on {one}, and one on {other}, but nothing holds the one and the other together.",
                 one=verbatim(things[0]), other=verbatim(things[1])), "piece.meets",
        )  # fmt: skip
