"""A box-shaped thing: a tin, a pack, a book: how wide, how high and how deep it is."""

from typing import ClassVar, Literal, Self

import numpy as np

from ...curve import frozen
from ...drawing import Callout, Mark
from ...finding import Finding
from ...reckoning import Reckoning, length, reckon
from ...texts import Said, said
from ..body import Body, BoxBody, Measured
from ..readings import RIGID_MM, Reading, read_so_far
from ..thing import Thing

USUAL = (110.0, 80.0, 35.0)
ASLANT = np.array([0.5, -0.4])  # how what goes back is drawn


class Box(Thing):
    """Width and height as it stands in its pouch, depth from front to back, each where it is largest."""

    body: Literal["box"] = "box"
    name: str = "tin"
    wide: Reading = Reading()
    high: Reading = Reading()
    deep: Reading = Reading()

    says: ClassVar[Said] = said("box")
    hint: ClassVar[Said] = said("a tin, a pack, a book")
    gives: ClassVar[type[Body]] = BoxBody

    @classmethod
    def blank(cls) -> Self:
        """Nothing measured yet."""
        return cls()

    def measure(self) -> Measured:
        """The box; all three must be read."""
        findings: tuple[Finding, ...] = ()
        for at, reading, name in (("wide", self.wide, said("Its width")), ("high", self.high, said("Its height")),
                                  ("deep", self.deep, said("Its depth"))):  # fmt: skip
            findings += reading.findings(f"thing.{at}", name, RIGID_MM)
        read = (self.wide, self.high, self.deep)
        body = None
        if all(r.taken and r.mean_mm > 0 for r in read):
            body = BoxBody(self.name, max(r.spread_mm for r in read), *(r.mean_mm for r in read))
        w, h, d = (r.mean_mm if r.taken and r.mean_mm > 0 else usual for r, usual in zip(read, USUAL, strict=True))
        back = ASLANT * d
        front = np.array([[0.0, 0.0], [w, 0.0], [w, h], [0.0, h]])
        meaning: Literal["thing", "dimension"] = "thing" if body else "dimension"
        marks = (
            Mark(meaning, frozen([front[0], front[1], front[1] + back, front[0] + back]), True, "thing.deep"),
            Mark(meaning, frozen([front[1], front[2], front[2] + back, front[1] + back]), True, "thing.deep"),
            Mark(meaning, frozen(front), True, "thing"),
        )
        x, y = (front[1] + back).tolist()
        callouts = (
            Callout("thing.wide", said("wide"), "length", None, (w / 2, h), "below", "thing"),
            Callout("thing.high", said("high"), "length", None, (0.0, h / 2), "left", "thing"),
            Callout("thing.deep", said("deep"), "length", None, (x, y), "right", "thing.deep"),
        )
        return Measured(body, marks, callouts, lambda: self._sums(body), findings)

    def _sums(self, body: BoxBody | None) -> tuple[Reckoning, ...]:
        if body is None:
            return ()
        around = 2 * body.high_mm + body.deep_mm
        return (
            reckon("around", said("Down, under and up"), length(around),
                   said("2 × {h:n} high + {d} deep", h=length(body.high_mm), d=length(body.deep_mm)), ("thing",)),
            *read_so_far([self.wide, self.high, self.deep]),
        )  # fmt: skip
