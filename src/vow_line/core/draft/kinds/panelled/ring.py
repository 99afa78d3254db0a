"""Panels as they go round the wearer, seen from above: which edge meets which, and by how much the two differ in length."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING, Literal

import numpy as np
import shapely

from ....curve import Line, Values, area_within, frozen
from ....drawing import Label, Mark
from ....measure.body import Shape
from ....memory import remembered
from ....reckoning import length
from ....texts import Said, said, verbatim
from ...drafted import FromAbove
from ...surface import around, half_width
from .checks import across_of
from .meets import DRAWN, SEWN, Meet

if TYPE_CHECKING:
    from .put import Put

DEEP, DEEP_HAND = 0.7, 0.45  # how deep a body is for its width, and a hand (from memory); drawn as assumed
POINTS = 240
MOST = 2
THICK = 0.03  # panels are drawn so thick, as a share of the way round
APART = 0.15  # what is not closed stands open by such a share
BASE = 0.25  # words below the ring stand so much farther down, as a share of the way out
LEFT, RIGHT = 0, 1


@dataclass(frozen=True, slots=True)
class Ring:
    """Panels in the order in which they go round, to the right, how wide each is there, and the meeting between each and the
    next: None after the last where they do not close.
    """

    letters: tuple[str, ...]
    wide_mm: tuple[float, ...]
    joints: tuple[int | None, ...]


@remembered("piece")
def _chord(shape: Shape) -> Line:
    """Across a panel at half its height."""
    x, y = shape.ring[:, 0], shape.ring[:, 1]
    middle = float(y.min() + y.max()) / 2
    across = area_within(shape.ring).intersection(shapely.LineString([(x.min() - 1, middle), (x.max() + 1, middle)]))
    ends = np.append(shapely.get_coordinates(across)[:, 0], () if across.length else (x.min(), x.max()))
    return frozen([[float(ends.min()), middle], [float(ends.max()), middle]])


@remembered("piece")
def _ends(shape: Shape, left: tuple[float, float], right: tuple[float, float]) -> tuple[str, str]:
    """The edges that a line across a panel goes from and to."""
    lines = {id: shapely.LineString(line) for id, line in shape.edges.items()}
    one, other = (min(lines, key=lambda id: lines[id].distance(shapely.Point(at))) for at in (left, right))
    return one, other


def rings(put: "Put") -> list[Ring]:
    """The panels that go round at the first level, or all of them, in their order; without those that meet none."""
    level = next(iter(put.body.levels), None)
    strokes: Mapping[str, Line] = dict(level.across) if level else {k: _chord(shape) for k, shape in put.panels.items()}
    wide = across_of(put, level) if level else {k: float(np.ptp(line[:, 0])) for k, line in strokes.items()}
    ends: dict[str, tuple[str, str]] = {}
    for k, line in strokes.items():
        if k in put.panels:
            one, other = (tuple(line[f(line[:, 0])].tolist()) for f in (np.argmin, np.argmax))
            ends[k] = _ends(put.body.panels[k], one, other)
    links = {e: (k, other) for k, m in put.standing for e, other in ((m.a, m.b), (m.b, m.a))}
    found, used = [], set[str]()
    for letter in ends:
        if letter not in used:
            letters, joints = _round(letter, ends, links, used)
            used |= {*letters}
            if any(k is not None for k in joints):
                found.append(Ring(letters, tuple(_seen(put, wide[k], ends[k]) for k in letters), joints))
    return found


def _seen(put: "Put", wide_mm: float, ends: tuple[str, str]) -> float:
    """How wide a panel is without what is sewn or drawn away at its sides."""
    away = sum(put.taken_mm.get(e, 0.0) + max(-put.moved_mm.get(e, 0.0), 0.0) for e in ends)
    return max(wide_mm - away, 1.0)


def _round(
    start: str, ends: Mapping[str, tuple[str, str]], links: Mapping[str, tuple[int, str]], used: set[str]
) -> tuple[tuple[str, ...], tuple[int | None, ...]]:
    """From a panel on by its right side, edge to edge, until it is come to again or nothing more is met; then by its left."""
    letters, joints = [start], list[int | None]()
    for side in (RIGHT, LEFT):
        at, out = start, side
        while True:
            link = links.get(ends[at][out])
            other = link[1][0] if link else ""
            if link is None or other not in ends or link[1] not in ends[other] or other in used:
                break
            enters = LEFT if ends[other][LEFT] == link[1] and (out == RIGHT or ends[other][RIGHT] != link[1]) else RIGHT
            if other in letters:
                if (
                    other == start
                    and side == RIGHT
                    and ends[start][LEFT] == link[1]
                    and (other != at or len(letters) == 1)
                ):
                    return tuple(letters), (*joints, link[0])
                break
            letters, joints = ([*letters, other], [*joints, link[0]]) if side == RIGHT else (
                [other, *letters], [link[0], *joints])  # fmt: skip
            at, out = other, 1 - enters
    return tuple(letters), (*joints, None)


class _Way:
    """The way round an ellipse from its top: places on it at shares of the way. It goes by the left, as panels do whose outer
    sides are seen, each to the right of the one before, when they are looked at from above.
    """

    def __init__(self, long_mm: float, deep: float) -> None:
        half = float(half_width(np.array(long_mm), np.array(deep)))
        ring = around(deep, POINTS, 0.0) * half * [-1.0, 1.0]
        self.points = ring
        out = ring / [1.0, deep**2]  # square to an ellipse
        self.out = out / np.hypot(*out.T)[:, None]

    def at(self, share: Values | float, out_mm: float = 0.0) -> Line:
        """Places `(n, 2)`, so far outside it."""
        s = np.atleast_1d(np.asarray(share)) % 1.0 * POINTS
        k = np.arange(POINTS + 1)
        there, out = (np.column_stack([np.interp(s, k, c) for c in each.T]) for each in (self.points, self.out))
        return np.asarray(there + out_mm * out)


def from_above(put: "Put") -> FromAbove | None:
    """All rings side by side; None where no panels meet side to side, or these are of so many things that nothing is seen."""
    made = rings(put)
    if not 0 < len(made) <= MOST:
        return None
    level = next(iter(put.body.levels), None)
    title = (
        said("From above, as they meet") if level is None else said("Round the {level}, from above", level=level.name)
    )
    return FromAbove(partial(_all_drawn, put, made), title, said("edges that meet, and how far they differ"))


def _all_drawn(put: "Put", made: list[Ring]) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    deep, ties = DEEP_HAND if put.body.hand else DEEP, tuple(_ties(put))
    marks, labels, right = list[Mark](), list[Label](), 0.0
    for ring in made:
        one, words, half = _drawn(ring, tuple(_gap(put, k) for k in ring.joints), ties, deep)
        marks += [m.moved(right + half, 0.0) for m in one]
        labels += [w.moved(right + half, 0.0) for w in words]
        right += 2 * half
    return tuple(marks), tuple(labels)


def _gap(put: "Put", k: int | None) -> float:
    meet = None if k is None else put.by.meets[k]
    return meet.gap_mm if meet is not None and meet.how in DRAWN else 0.0


@dataclass(frozen=True, slots=True)
class Tie:
    """A meeting by its number, what it is and what is said of it."""

    k: int
    meet: Meet
    says: Said


def _ties(put: "Put") -> Iterator[Tie]:
    for k, meet in put.standing:
        a, b = put.lengths_mm(k, meet)
        yield Tie(k, meet, said("{a} – {b} {d}", a=verbatim(meet.a), b=verbatim(meet.b), d=length(abs(a - b))))


@remembered("part")
def _drawn(
    ring: Ring, gaps: tuple[float, ...], ties: tuple[Tie, ...], deep: float
) -> tuple[tuple[Mark, ...], tuple[Label, ...], float]:
    """A ring about (0, 0), what is said of it, and how far that reaches to either side."""
    total = sum(ring.wide_mm) + sum(gaps)
    total += APART * total if ring.joints[-1] is None else 0.0
    way, thick = _Way(total, deep), THICK * total
    marks = [Mark("assumed", frozen(way.at(np.arange(POINTS) / POINTS, -thick)), True, "wearer")]
    labels = list[Label]()
    says = {t.k: t for t in ties}
    begins = -ring.wide_mm[0] / (2 * total)  # the first of them at the top
    middles: dict[str, float] = {}
    for letter, wide, joint, gap in zip(ring.letters, ring.wide_mm, ring.joints, gaps, strict=True):
        ends = begins + wide / total
        run = np.linspace(begins, ends, 2 + int(60 * wide / total))
        band = frozen(np.concatenate([way.at(run), way.at(run, thick)[::-1]]))
        middles[letter] = (begins + ends) / 2
        marks += [Mark("grain", band, True, f"panel-{letter}"), Mark("cut", band, True, f"panel-{letter}")]
        labels.append(_label(said("{name}", name=verbatim(letter)), way, middles[letter], 2.0 * thick, strong=True))
        if joint is not None:
            marks += _joint(says[joint].meet, joint, way, ends, ends + gap / total, thick)
            labels.append(_label(says[joint].says, way, ends + gap / (2 * total), 2.6 * thick))
        begins = ends + gap / total
    others = [t for t in ties if t.k not in ring.joints and {t.meet.a[0], t.meet.b[0]} & middles.keys()]
    here = [t for t in others if {t.meet.a[0], t.meet.b[0]} <= middles.keys()]
    for n, tie in enumerate(here):  # over the shoulder, say: across what they go round
        off = (n - (len(here) - 1) / 2) * 0.02
        line = np.concatenate([way.at(middles[tie.meet.a[0]] - off), way.at(middles[tie.meet.b[0]] + off)])
        marks.append(Mark("dimension", frozen(line), id=f"meet-{tie.k}"))
        share = (n + 1) / (len(here) + 1)
        x, y = (line[0] + share * (line[1] - line[0])).tolist()
        labels.append(Label(tie.says, (x, y)))
    away = [t for t in others if t not in here]
    for n, tie in enumerate(away):  # to a panel that does not go round there
        on = next(e[0] for e in (tie.meet.a, tie.meet.b) if e[0] in middles)
        wide = ring.wide_mm[ring.letters.index(on)] / total
        share = middles[on] + ((n + 1) / (len(away) + 1) - 0.5) * 0.8 * wide
        marks.append(Mark("dimension", frozen(np.concatenate([way.at(share, thick), way.at(share, 2.4 * thick)])),
                          id=f"meet-{tie.k}"))  # fmt: skip
        labels.append(_label(tie.says, way, share, 2.8 * thick))
    half = float(np.abs(way.points[:, 0]).max()) + 0.05 * total
    return tuple(marks), tuple(labels), half


def _joint(meet: Meet, k: int, way: _Way, begins: float, ends: float, thick: float) -> list[Mark]:
    """Where two panels meet: a seam, a lace across its gap, or what closes a lap."""
    id = f"meet-{k}"
    if meet.how in SEWN:
        return [
            Mark("stitch", frozen(np.concatenate([way.at(begins, -0.6 * thick), way.at(begins, 1.6 * thick)])), id=id)
        ]
    if meet.how in DRAWN:
        line = np.concatenate([way.at(begins, 0.5 * thick), way.at(ends, 0.5 * thick)])
        return [Mark("stitch", frozen(line), id=id)]
    return [Mark("done", frozen(way.at(begins, 0.5 * thick)), id=id, size_mm=1.2 * thick)]


def _label(says: Said, way: _Way, share: float, out_mm: float, *, strong: bool = False) -> Label:
    """Words outside the ring, clear of it."""
    (x, y), (u, v) = way.at(share, out_mm)[0].tolist(), (way.at(share, 1.0) - way.at(share))[0].tolist()
    side: Literal["left", "centre", "right"] = "centre" if abs(u) < 0.35 else "left" if u > 0 else "right"
    return Label(
        says, (x, y + BASE * out_mm * (1 + v)), strong=strong, align=side
    )  # words stand on the place they are at
