"""Plausible things to measure, drawn at random with a seed: as a maker's bench might hold them, read twice."""

from typing import Literal

import numpy as np

from vow_line.core.curve import Line, arc_length, mirror, walk
from vow_line.core.measure import Thing
from vow_line.core.measure.panel import Panel, shape_of
from vow_line.core.measure.panel_set import LevelOn, PanelLevel
from vow_line.core.measure.readings import Reading
from vow_line.core.measure.things.box import Box
from vow_line.core.measure.things.fitting import Fitting
from vow_line.core.measure.things.girth import Girth
from vow_line.core.measure.things.hand import Hand
from vow_line.core.measure.things.knife import Guard, Knife, KnifeStation
from vow_line.core.measure.things.limb import LIMBS, Limb, LimbStation
from vow_line.core.measure.things.moulded import Moulded, Slice
from vow_line.core.measure.things.old_piece import OldPiece
from vow_line.core.measure.things.panels import Panels
from vow_line.core.measure.things.round import RoundThing
from vow_line.core.measure.things.shaft import GirthStation, Shaft
from vow_line.core.measure.things.tool import Depth, Tool
from vow_line.core.measure.things.tools import RollTool, Tools

Rng = np.random.Generator


def read(mm: float, rng: Rng | None = None) -> Reading:
    """A reading and its second, up to 0.2 mm apart."""
    again = 0.0 if rng is None else float(rng.uniform(-0.2, 0.2))
    return Reading(first=round(float(mm), 1), second=round(max(float(mm) + again, 0.1), 1))


def _places(rng: Rng, long: float, n: int, first: float = 0.0) -> list[float]:
    inner = np.sort(rng.uniform(0.12, 0.9, n)) * long
    kept = [first]
    for at in inner:
        if at - kept[-1] > 0.06 * long:
            kept.append(round(float(at), 1))
    return kept


def plain_blade(rng: Rng) -> Knife:
    """Width and thickness never grow from guard to tip, no guard, a handle thinner than the mouth gives."""
    long, wide, thick = rng.uniform(60, 240), rng.uniform(16, 45), rng.uniform(2, 5)
    at = _places(rng, long, int(rng.integers(2, 6)))
    narrower = wide * np.minimum.accumulate(np.append(1.0, rng.uniform(0.45, 1.0, len(at) - 1)))
    thinner = thick * np.minimum.accumulate(np.append(1.0, rng.uniform(0.6, 1.0, len(at) - 1)))
    grip, slab = 0.8 * wide, rng.uniform(6, 12)
    return Knife(
        stations=tuple(KnifeStation(at_mm=a, width=read(w), thick=read(t)) for a, w, t in zip(at, narrower, thinner,
                                                                                              strict=True)),
        length=read(long), tip_drop=round(float(rng.uniform(0.0, 0.5) * narrower[-1]), 1),
        handle=(KnifeStation(at_mm=5, width=read(grip), thick=read(slab)), KnifeStation(at_mm=60, width=read(grip),
                                                                                        thick=read(slab))),
        handle_length=read(rng.uniform(80, 130)),
    )  # fmt: skip


def knife(rng: Rng, *, guard: bool | None = None, edges: str = "one") -> Knife:
    """A blade with a belly or a neck as they come, its handle rounder and thicker than it, now and then a guard."""
    long, wide, thick = rng.uniform(60, 240), rng.uniform(16, 48), rng.uniform(2, 5.5)
    at = _places(rng, long, int(rng.integers(3, 7)))
    shape = wide * np.clip(1 + np.cumsum(rng.normal(0, 0.06, len(at))), 0.6, 1.25)
    shape = np.append(shape[:-1], shape[-1] * rng.uniform(0.5, 0.9))
    thin = thick * np.linspace(1, rng.uniform(0.6, 1.0), len(at))
    drop = (wide - shape) / 2 if edges == "two" else np.zeros(len(at))
    grip, slab = wide * rng.uniform(0.75, 1.1), rng.uniform(10, 26)
    guarded = rng.uniform() < 0.25 if guard is None else guard
    tall = wide * rng.uniform(1.05, 1.3)
    return Knife(
        edges=edges,  # type: ignore[arg-type]
        stations=tuple(
            KnifeStation(at_mm=a, width=read(w, rng), thick=read(t), drop=round(float(d), 1))
            for a, w, t, d in zip(at, shape, thin, drop, strict=True)
        ),
        length=read(long, rng), tip_drop=round(float(drop[-1] + rng.uniform(0.2, 0.5) * shape[-1]), 1),
        handle=(
            KnifeStation(at_mm=6, width=read(grip, rng), thick=read(slab * 0.85), drop=round(float((wide - grip) / 2), 1)),
            KnifeStation(at_mm=55, width=read(grip * rng.uniform(0.95, 1.12), rng), thick=read(slab),
                    drop=round(float((wide - grip) / 2), 1)),
        ),
        handle_length=read(rng.uniform(90, 140), rng),
        guard=Guard(length_mm=round(float(rng.uniform(3, 9)), 1), width=read(tall), thick=read(rng.uniform(8, 16)),
                    drop=round(float((wide - tall) / 2), 1)) if guarded else None,
    )  # fmt: skip


def edged(rng: Rng, beak: bool) -> tuple[Line, Line]:
    """A flat tool's outline and, along its lower side, its edge `(n, 2)`: bowed a little; with a beak it turns down at the end,
    round a hollow.
    """
    long, deep = rng.uniform(90, 260), rng.uniform(55, 120)
    bow = rng.uniform(-0.06, 0.1) * long
    s = np.linspace(0, 1, 25)
    edge = np.column_stack([s * long, deep + bow * 4 * s * (1 - s)])
    if beak:
        down = rng.uniform(0.15, 0.4) * deep
        edge[:, 1] += down * np.clip((s - 0.6) / 0.4, 0, 1) ** 2
    back = np.array(
        [[long * rng.uniform(0.9, 1.0), 0.1 * deep], [long * 0.55, 0.0], [0.0, rng.uniform(0, 0.15) * deep]]
    )
    return np.concatenate([edge, back]), edge


def tool(rng: Rng, beak: bool | None = None, ends: bool | None = None) -> Tool:
    """A hatchet or a hook with its edge along the lower side, thicker toward the back; its ends told in either order."""
    ring, edge = edged(rng, bool(rng.integers(2)) if beak is None else beak)
    outline = tuple((round(float(x), 1), round(float(y), 1)) for x, y in ring)
    first, last = (outline[0], outline[len(edge) - 1])[
        :: 1 if (bool(rng.integers(2)) if ends is None else ends) else -1
    ]
    thick = np.sort(rng.uniform(1.0, 8.0, 4))
    return Tool(
        outline=outline, edge_from=first, edge_to=last,
        depths=tuple(Depth(at_mm=a, thick=read(t)) for a, t in zip((3, 12, 30, 50), thick, strict=True)),
    )  # fmt: skip


def moulded(rng: Rng) -> Moulded:
    """Something to mould over: widest somewhere along it, slab or round."""
    long, wide, high = rng.uniform(70, 240), rng.uniform(25, 80), rng.uniform(10, 30)
    at = _places(rng, long, 4, first=0.0)
    shares = np.clip(1 + np.cumsum(rng.normal(0, 0.08, len(at))), 0.55, 1.2)
    return Moulded(
        section="slab" if rng.uniform() < 0.4 else "ellipse", length=read(long, rng),
        stations=tuple(
            Slice(at_mm=a, width=read(wide * k, rng), height=read(high * (0.5 + k / 2)),
                  drop=round(float(wide * (1 - k) / 2), 1))
            for a, k in zip(at, shares, strict=True)
        ),
    )  # fmt: skip


def shaft(rng: Rng) -> Shaft:
    """A shaft of some taper."""
    first, last, long = rng.uniform(60, 180), rng.uniform(0.8, 1.1), rng.uniform(170, 400)
    return Shaft(stations=tuple(
        GirthStation(at_mm=round(float(a * long), 1), girth=read(first * (1 + (last - 1) * a))) for a in (0.0, 0.3, 0.65, 1.0)
    ))  # fmt: skip


def fitting(rng: Rng) -> Fitting:
    """A ring or a bar."""
    return Fitting(opening=read(rng.uniform(23, 45)), bar=read(rng.uniform(2.5, 6)))


def girth(rng: Rng) -> Girth:
    """A neck or a waist, and a buckle."""
    where = ("neck", "waist", "head", "animal")[int(rng.integers(4))]
    low, high = {"neck": (300, 450), "waist": (600, 1100), "head": (520, 620), "animal": (180, 700)}[where]
    return Girth(where=where, around=read(rng.uniform(low, high), rng), opening=read(rng.uniform(25, 50)),
                 bar=read(rng.uniform(3, 6)))  # type: ignore[arg-type]  # fmt: skip


def round_thing(rng: Rng) -> RoundThing:
    """A stone, a roll or rods."""
    return RoundThing(across=read(rng.uniform(25, 120), rng), length=read(rng.uniform(80, 700), rng))


def limb(rng: Rng) -> Limb:
    """A forearm, an upper arm, a calf or a thigh as they are."""
    which = list(LIMBS)[int(rng.integers(len(LIMBS)))]
    shape = {"forearm": (0.66, 0.8, 0.97, 1.0), "upper-arm": (0.9, 0.97, 1.0, 0.98), "calf": (0.64, 0.75, 0.96, 1.0, 0.94),
             "thigh": (0.68, 0.8, 0.92, 1.0)}[which]  # fmt: skip
    least, high = {"forearm": (225, 310), "upper-arm": (250, 380), "calf": (310, 420), "thigh": (490, 660)}[which]
    most, times = rng.uniform(least, high), rng.uniform(0.85, 1.1)
    behind, off = bool(rng.integers(2)), float(rng.uniform(0.1, 0.2))
    stations = tuple(
        LimbStation(at_mm=round(float(at * times), 1), girth=read(most * k * rng.uniform(0.98, 1.02), rng),
                    off=read(most * (1 - k) * off) if behind else Reading())
        for at, k in zip(LIMBS[which].at_mm, shape, strict=True)
    )  # fmt: skip
    over: tuple[Literal["bare"], Literal["sleeve"]] = ("bare", "sleeve")
    return Limb(which=which, over=over[int(rng.integers(2))], stations=stations, edge="back" if behind else "front")  # type: ignore[arg-type]


def tools(rng: Rng) -> Tools:
    """Tools for a roll."""
    n = int(rng.integers(2, 9))
    long = rng.uniform(120, 260)
    return Tools(tools=tuple(
        RollTool(long=read(long * rng.uniform(0.75, 1.0), rng), wide=read(rng.uniform(8, 45), rng),
                 thick=read(rng.uniform(3, 25), rng)) for _ in range(n)))  # fmt: skip


def box(rng: Rng) -> Box:
    """A tin, a pack or a book."""
    return Box(
        wide=read(rng.uniform(60, 200), rng), high=read(rng.uniform(50, 160), rng), deep=read(rng.uniform(18, 70), rng)
    )


def panels(rng: Rng) -> Panels:
    """Panels that go round somebody: their sides alike from one to the next, their tops bowed; a level or none."""
    n, high = int(rng.integers(2, 5)), rng.uniform(200, 400)
    made, wide = [], 0.0
    for letter in "ABCD"[:n]:
        w, up, lean = rng.uniform(150, 300), rng.uniform(5, 20), rng.uniform(-8, 8)
        ring = [(0.0, high), (lean, 0.0), (w * 0.35, -up), (w * 0.65, -up), (w - lean, 0.0), (w, high)]
        panel = Panel.of_ring(letter, ring, "pencil" if letter == "B" else "nothing")
        made.append(panel.model_copy(update={"high": read(panel.high.outline or 0.0)}))
        wide += w
    on = tuple(LevelOn(letter=p.letter, at_mm=round(max(y for _, y in p.ring) - 10.0, 1)) for p in made)
    levels = (PanelLevel(round="other", girth=read(0.985 * wide), on=on),) if rng.random() < 0.5 else ()
    return Panels(panels=tuple(made), levels=levels)


def old_piece(rng: Rng) -> OldPiece:
    """Parts that were sewn down their sides, as many holes in each, here and there a little off their places."""
    wrap, n = panels(rng), int(rng.integers(20, 60))
    found = []
    for panel in wrap.panels:
        shape, holes = shape_of(panel), []
        for line in (e for e in shape.edges.values() if abs(e[-1, 0] - e[0, 0]) < 20):
            inward = np.sign(np.mean(panel.ring, axis=0)[0] - line[0, 0])
            at = np.linspace(line[0], line[-1], n + 2)[1:-1] + [4.0 * inward, 0.0]
            holes.append(at + rng.normal(0, 0.05, at.shape))
        found.append(
            panel.model_copy(update={"holes": tuple((float(x), float(y)) for x, y in np.concatenate(holes).round(2))})
        )
    return OldPiece(panels=tuple(found))


def spread_hand(rng: Rng) -> tuple[Line, dict[str, tuple[float, float, float]]]:
    """The outline of a hand laid flat, to the right round, its thumb to the right; and where the tip of each finger is, and how
    long that is from the middle of its base.
    """
    k = float(rng.uniform(0.75, 1.2))
    wide, high = 100 * k, 215 * k
    thick = k * np.array([19, 22, 23, 22]) * rng.uniform(0.9, 1.1, 4)
    thick *= wide / thick.sum()
    long = k * np.array([58, 74, 82, 72]) * rng.uniform(0.9, 1.1, 4)
    lean = np.radians(np.array([-14, -5, 1, 8]) + rng.uniform(-3, 3, 4))
    left = np.append(0.0, np.cumsum(thick))
    base = k * np.array([86, 80, 78, 80, 86])
    ring: list[tuple[float, float]] = [(0.03 * wide, high)]
    tips = {}
    lies = [((left[j], base[j]), (left[j + 1], base[j + 1]), long[j], lean[j]) for j in range(4)]
    turn = float(np.radians(rng.uniform(40, 60)))
    lies.append(((wide, 122 * k), (wide, 156 * k), 62 * k * float(rng.uniform(0.9, 1.1)), turn))
    for name, (one, other, far, aside) in zip(("little", "ring", "middle", "index", "thumb"), lies, strict=True):
        (a, b), (c, d) = one, other
        way = np.array([np.sin(aside), -np.cos(aside)])
        across = np.array([-way[1], way[0]])
        half = 0.4 * abs(float(np.array([c - a, d - b]) @ across))
        middle = np.array([(a + c) / 2, (b + d) / 2])
        round_ = middle + way * (far - half)
        turns = np.linspace(np.pi, 0, 13)[:, None]
        arc = round_ + half * (np.cos(turns) * across + np.sin(turns) * way)
        ring += [one, *map(tuple, arc), other]
        tips[name] = (*map(float, middle + way * far), float(far))
    ring.append((0.97 * wide, high))
    points = np.array(ring)
    whole = np.vstack([points, points[:1]])
    s = arc_length(whole)
    return walk(whole, np.unique(np.concatenate([s[:-1], np.arange(0, s[-1], 4.0)]))), tips  # type: ignore[return-value]


def fingered_hand(rng: Rng) -> Hand:
    """A pattern whose fingers are made each as long as is read, its palm to the girth of the hand, corners at its wrist."""
    ring, tips = spread_hand(rng)
    panels = []
    for letter, own in (("A", ring), ("B", mirror(ring)[::-1])):
        panel = Panel.of_ring(letter, own).fingered()
        wrist = 0.95 * max(y for _, y in panel.ring)
        corners = tuple(c for c in panel.corners if panel.ring[c.at][1] > wrist)
        panels.append(panel.model_copy(update={"corners": corners}))
    by = float(rng.uniform(0.93, 1.07))
    on = tuple(LevelOn(letter=p.letter, at_mm=round(Hand().middle_of(p), 1)) for p in panels)
    girth = 2 * float(np.ptp(ring[ring[:, 1] > 0.8 * ring[:, 1].max(), 0])) * by - 12.0
    lengths = {
        name: read(long * by * rng.uniform(0.95, 1.05) - 7.0, rng)
        for name, (_, _, long) in tips.items()
        if rng.random() < 0.7
    }
    high = {"high": read(np.ptp(ring[:, 1]) * by, rng)} if rng.random() < 0.5 else {}
    return Hand(
        panels=tuple(p.model_copy(update=high) for p in panels), **lengths,
        levels=(PanelLevel(round="hand", girth=read(girth, rng), on=on),) if rng.random() < 0.7 else (),
    )  # fmt: skip


def hand(rng: Rng) -> Hand:
    """The back and the palm of somebody else's pattern, made a little larger or smaller; or finger by finger."""
    if rng.random() < 0.5:
        return fingered_hand(rng)
    w, h, thumb = rng.uniform(80, 110), rng.uniform(200, 270), rng.uniform(25, 45)
    back = [(0.0, h), (0.0, 40.0), (w * 0.3, 0.0), (w * 0.7, 0.0), (w, 40.0), (w, h * 0.5), (w + thumb, h * 0.45),
            (w + thumb, h * 0.6), (w, h * 0.8), (w, h)]  # fmt: skip
    made, by = [], rng.uniform(0.93, 1.07)
    for letter, ring in (("A", back), ("B", [(-x, y) for x, y in reversed(back)])):
        panel = Panel.of_ring(letter, ring)
        high, wide = ((r.outline or 0.0) * by for r in (panel.high, panel.wide))
        made.append(
            panel.model_copy(
                update={"high": read(round(high, 1)), "wide": read(round(wide * rng.uniform(0.99, 1.01), 1))}
            )
        )
    return Hand(panels=tuple(made))


PLAUSIBLE = {
    OldPiece: old_piece,
    Hand: hand,
    Knife: knife,
    Tool: tool,
    Moulded: moulded,
    Shaft: shaft,
    Fitting: fitting,
    Girth: girth,
    RoundThing: round_thing,
    Limb: limb,
    Tools: tools,
    Box: box,
    Panels: panels,
}


def plausible(sort: type[Thing], rng: Rng, kind: str = "") -> Thing:
    """A plausible thing of a sort, for a kind of piece."""
    if sort is Knife:
        return knife(rng, edges="two" if kind == "two_part_sheath" and rng.uniform() < 0.5 else "one")
    return PLAUSIBLE[sort](rng)
