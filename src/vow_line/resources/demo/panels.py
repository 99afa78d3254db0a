"""What is made of panels: a waistcoat, an old pouch made anew, a mitten."""

import math
from datetime import date, timedelta
from itertools import pairwise

from ...core.curve import frozen
from ...core.draft.kinds.panelled import Meet, Panelled
from ...core.job import Job
from ...core.measure.panel import Corner, Panel
from ...core.measure.panel_set import LevelOn, PanelLevel
from ...core.measure.things.hand import Hand
from ...core.measure.things.old_piece import OldPiece
from ...core.measure.things.panels import Panels
from ...core.stitch import StitchChoices
from ...core.thread import ThreadChoices
from ...core.work import WorkChoices
from .bench import BEGUN, LINEN, SIDE, twice

WRIST = 0.95  # of its height, and lower, a glove has its wrist


def _curved(*through: tuple[float, float], steps: int = 14) -> list[tuple[float, float]]:
    """A bend from the first point to the last that leans toward the one between."""
    (a, b), (c, d), (e, f) = through
    found = []
    for k in range(steps):
        s, u = k / steps, 1 - k / steps
        found.append((round(u * u * a + 2 * s * u * c + s * s * e, 1), round(u * u * b + 2 * s * u * d + s * s * f, 1)))
    return found


def waistcoat() -> Job:
    """Being drafted: a thorn-proof waistcoat from a tape wrap, its back and two fronts; the shoulders are joined already."""
    back = (
        (0.0, 540.0), *_curved((14.0, 262.0), (70.0, 190.0), (58.0, 46.0)), (58.0, 46.0),
        *_curved((168.0, 0.0), (240.0, 34.0), (312.0, 0.0)), (312.0, 0.0),
        *_curved((422.0, 46.0), (410.0, 190.0), (466.0, 262.0)), (466.0, 262.0), (480.0, 540.0),
    )  # fmt: skip
    front = (
        (0.0, 540.0), *_curved((14.0, 262.0), (84.0, 196.0), (58.0, 46.0)), (58.0, 46.0),
        *_curved((168.0, 0.0), (186.0, 130.0), (252.0, 220.0)), (252.0, 220.0), (252.0, 560.0), (200.0, 590.0),
    )  # fmt: skip
    other = (
        (0.0, 540.0), *_curved((14.0, 262.0), (78.0, 200.0), (58.0, 49.0)), (58.0, 49.0),
        *_curved((167.0, 0.0), (186.0, 130.0), (252.0, 223.0)), (252.0, 223.0), (252.0, 560.0), (200.0, 587.0),
    )  # fmt: skip
    other = tuple((round(252.0 - x, 1), y) for x, y in reversed(other))
    panels = []
    for letter, ring in zip("ABC", (back, front, other), strict=True):
        panel = Panel.of_ring(letter, ring)
        by_tape = {"first": round(panel.high.outline or 0.0), "second": round(panel.high.outline or 0.0)}
        panels.append(panel.model_copy(update={"high": panel.high.model_copy(update=by_tape)}))
    chest = PanelLevel(girth=twice(905.0, 908.0), on=tuple(LevelOn(letter=k, at_mm=280.0) for k in "ABC"))
    thing = Panels(name="tape wrap", panels=tuple(panels), levels=(chest,))
    meets = (
        Meet(a="A3", b="C4"), Meet(a="A5", b="B3"), Meet(a="A1", b="C6", how="laced"), Meet(a="A7", b="B1", how="laced"),
        Meet(a="B5", b="C2", how="studs"),
    )  # fmt: skip
    sides_ = SIDE.model_copy(update={"thickness_mm": 1.6, "name": "two oil-tanned sides, laid together"})
    return Job(
        name="Thorn-proof waistcoat", maker="Ansel Tarn", whose="Wren Hollin", promised=date(2027, 4, 17), thing=thing,
        leather=sides_.sized(1500, 1150), piece=Panelled(meets=meets, asked=False, ease_mm=20.0),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=75)),
    )  # fmt: skip


def _rounded_pouch(wide: float, high: float, radius: float, inset: float = 0.0) -> list[tuple[float, float]]:
    """Down the left of a pouch, round its foot and up its right, so far in from its edge."""
    r, points = radius - inset, [(inset, 0.0)]
    for x, first in ((radius, 180.0), (wide - radius, 90.0)):
        for k in range(13):
            turn = math.radians(first - 7.5 * k)
            points.append((round(x + r * math.cos(turn), 2), round(high - radius + r * math.sin(turn), 2)))
    return [*points, (wide - inset, 0.0)]


def _pricked(line: list[tuple[float, float]], first: float, pitch: float) -> list[tuple[float, float]]:
    """Holes along a line, the first so far along it, a hand's small errors in them."""
    found: list[tuple[float, float]] = []
    along, due = 0.0, first
    for (x, y), (u, v) in pairwise(line):
        long = math.hypot(u - x, v - y)
        while due <= along + long:
            share, k = (due - along) / long, len(found)
            found.append((round(x + share * (u - x) + 0.1 * math.sin(7 * k), 2),
                          round(y + share * (v - y) + 0.1 * math.cos(5 * k), 2)))  # fmt: skip
            due += pitch
        along += long
    return found


def old_pouch() -> Job:
    """Measured: the gang's old staple pouch taken apart, front and back with their holes; one is torn out of the back."""
    ring = _rounded_pouch(110.0, 150.0, 34.0)
    holes = _pricked(_rounded_pouch(110.0, 150.0, 34.0, 5.0), 6.0, 4.5)
    front = Panel.of_ring("A", ring, holes=frozen(holes))
    back = Panel.of_ring("B", ring, holes=frozen([h for k, h in enumerate(holes) if k != 31]))
    thing = OldPiece(name="old staple pouch", panels=tuple(
        p.model_copy(update={"high": p.high.model_copy(update={"first": 150.0, "second": 150.5})}) for p in (front, back)
    ))  # fmt: skip
    return Job(
        name="Staple pouch, anew", maker="Ansel Tarn", whose="the gang", promised=date(2027, 2, 17), thing=thing,
        leather=SIDE, piece=Panelled(meets=(Meet(a="A1", b="B1", how="flush", holes="kept"),), asked=False),
        stitch=StitchChoices(pitch_mm=4.5, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=35)),
    )  # fmt: skip


def _both_sides(ring: tuple[tuple[float, float], ...], across: float, **read: tuple[float, float]) -> tuple[Panel, ...]:
    """A side of a glove and its mirror image, fingers found, corners at their wrists alone, with what was read of both."""
    other = tuple((round(across - x, 1), y) for x, y in reversed(ring))
    panels = []
    for letter, side in (("A", ring), ("B", other)):
        panel = Panel.of_ring(letter, side).fingered()
        low = WRIST * max(y for _, y in panel.ring)
        wrist = [c.at for c in panel.corners if panel.ring[c.at][1] > low]
        readings = {
            name: getattr(panel, name).model_copy(update=dict(zip(("first", "second"), two, strict=True)))
            for name, two in read.items()
        }
        corners = tuple(Corner(n=n, at=at) for n, at in enumerate(wrist, 1))
        panels.append(panel.model_copy(update={"corners": corners, **readings}))
    return tuple(panels)


def hedging_mitten() -> Job:
    """Read back: a mitten against thorns for Perrin Oake's right hand, from a pattern that fits somebody else's."""
    back = (
        *_curved((18.0, 260.0), (4.0, 150.0), (14.0, 90.0)), *_curved((14.0, 90.0), (22.0, 8.0), (62.0, 6.0)),
        *_curved((62.0, 6.0), (106.0, 8.0), (113.0, 92.0)), *_curved((113.0, 92.0), (116.0, 130.0), (117.0, 156.0)),
        *_curved((117.0, 156.0), (123.0, 178.0), (131.0, 156.0)), *_curved((131.0, 156.0), (142.0, 116.0), (156.0, 115.0)),
        *_curved((156.0, 115.0), (174.0, 120.0), (161.0, 168.0)), *_curved((161.0, 168.0), (147.0, 214.0), (122.0, 236.0)),
        *_curved((122.0, 236.0), (112.0, 246.0), (112.0, 260.0)), (112.0, 260.0),
    )  # fmt: skip
    thing = Hand(name="right hand", panels=_both_sides(back, 180.0, high=(266.0, 266.5), wide=(158.0, 158.0)))
    return Job(
        name="Hedging mitten", maker="Ansel Tarn", whose="Perrin Oake", promised=date(2027, 3, 31), thing=thing,
        leather=SIDE.model_copy(update={"thickness_mm": 1.8}),
        piece=Panelled(meets=(Meet(a="A1", b="B1", how="flush"),), asked=False),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=68)),
    )  # fmt: skip


def _finger(
    left: tuple[float, float], right: tuple[float, float], tip: tuple[float, float]
) -> list[tuple[float, float]]:
    """Up the left of a finger, round its tip and down its right, all but its last point: it narrows to seven tenths."""
    (a, b), (c, d), (e, f) = left, right, tip
    u, v = e - (a + c) / 2, f - (b + d) / 2

    def up(x: float, y: float, side: int, share: float) -> tuple[float, float]:
        return round(x + share * (u + 0.18 * side * (c - a)), 1), round(y + share * (v + 0.18 * side * (d - b)), 1)

    one, other = (up(a, b, 1, s) for s in (0.82, 1.0)), (up(c, d, -1, s) for s in (0.82, 1.0))
    (g, over), (k, back) = one, other
    return [left, up(a, b, 1, 0.4), *_curved(g, over, tip, steps=7), *_curved(tip, back, k, steps=7), k]


def bramble_glove() -> Job:
    """Being measured: a glove for Wren Hollin's left hand, each finger by itself, from a pattern that fits Perrin Oake."""
    palm = (
        (4.0, 216.0), (0.0, 96.0),
        *_finger((0.0, 92.0), (24.0, 84.0), (0.0, 26.0)), *_finger((24.0, 84.0), (50.0, 82.0), (33.0, 3.0)),
        *_finger((50.0, 82.0), (76.0, 84.0), (66.0, -6.0)), *_finger((76.0, 84.0), (101.0, 92.0), (98.0, 10.0)),
        (102.0, 96.0), *_finger((104.0, 128.0), (101.0, 160.0), (156.0, 106.0)), (101.0, 160.0), (98.0, 216.0),
    )  # fmt: skip
    girth = PanelLevel(round="hand", girth=twice(196.0, 197.0), on=tuple(LevelOn(letter=k, at_mm=118.0) for k in "AB"))
    thing = Hand(
        name="left hand", panels=_both_sides(palm, 160.0, high=(214.0, 214.5)), levels=(girth,),
        thumb=twice(58.0, 58.5), index=twice(69.0, 69.5),
        middle=twice(76.0, 76.5), ring=twice(70.5, 70.0),
    )  # fmt: skip
    return Job(
        name="Bramble glove", maker="Ansel Tarn", whose="Wren Hollin", promised=date(2027, 5, 8), thing=thing,
        leather=SIDE.model_copy(update={"thickness_mm": 1.4, "tannage": "oil"}),
        piece=Panelled(meets=(Meet(a="A1", b="B1", how="flush"),), asked=False, margin_mm=3.0, ease_mm=8.0),
        stitch=StitchChoices(pitch_mm=3.5, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=96)),
    )  # fmt: skip
