"""Something round that stands in a tube: a stone, a roll, a bundle of rods: how thick it is at its thickest, and how long."""

from typing import ClassVar, Literal, Self

import numpy as np

from ...curve import frozen
from ...drawing import Callout, Mark
from ...finding import Finding
from ...reckoning import Reckoning, length, reckon
from ...texts import Said, said
from ..body import Body, Measured, RoundBody
from ..readings import MOST_LONG_MM, RIGID_MM, Reading, band, read_so_far
from ..thing import Thing

MOST_ACROSS_MM = 400.0


class RoundThing(Thing):
    """Across at its thickest (over the corners where it has some), and its whole length."""

    body: Literal["round"] = "round"
    name: str = "roll"
    across: Reading = Reading()
    length: Reading = Reading()

    says: ClassVar[Said] = said("round thing")
    hint: ClassVar[Said] = said("a stone, a roll, rods")
    gives: ClassVar[type[Body]] = RoundBody

    @classmethod
    def blank(cls) -> Self:
        """Nothing measured yet."""
        return cls()

    def measure(self) -> Measured:
        """The thing; both must be read."""
        findings: tuple[Finding, ...] = self.across.findings(
            "thing.across", said("Across, at its thickest"), RIGID_MM, MOST_ACROSS_MM
        )
        findings += self.length.findings("thing.length", said("The whole length"), RIGID_MM, MOST_LONG_MM)
        read = (self.across, self.length)
        body = None
        if all(r.taken and r.mean_mm > 0 for r in read):
            body = RoundBody(self.name, max(r.spread_mm for r in read), self.across.mean_mm, self.length.mean_mm)
        across, long = (
            r.mean_mm if r.taken and r.mean_mm > 0 else usual for r, usual in zip(read, (40.0, 180.0), strict=True)
        )
        half = across / 2
        turn = np.linspace(0, 2 * np.pi, 97)[:-1]
        side = frozen([[0.0, -half], [long, -half], [long, half], [0.0, half]])
        end = frozen(np.column_stack([np.cos(turn), np.sin(turn)]) * half + [long + across, 0.0])
        marks = (
            Mark("thing" if body else "dimension", side, True, "thing"),
            Mark("thing" if body else "dimension", end, True, "thing"),
            Mark("dimension", frozen([[long + across - half, 0.0], [long + across + half, 0.0]]), id="thing.across"),
            Mark("dimension", frozen([[0.0, half + 4.0], [long, half + 4.0]]), id="thing.length"),
            *band(self.across, long + across, half, RIGID_MM, "thing.across"),
        )
        callouts = (
            Callout("thing.length", said("whole length"), "length", None, (long / 2, half + 4.0), "below", "thing.length",
                    tape=True),
            Callout("thing.across", said("across"), "length", None, (long + across, -half), "above", "thing.across"),
        )  # fmt: skip
        return Measured(body, marks, callouts, lambda: self._sums(body), findings)

    def _sums(self, body: RoundBody | None) -> tuple[Reckoning, ...]:
        if body is None:
            return ()
        return (
            reckon("round", said("Round it"), length(np.pi * body.across_mm), said("π × {d}", d=length(body.across_mm)),
                   ("thing.across",)),
            reckon("long", said("Long"), length(body.length_mm), said("the depth it wants"), ("thing.length",)),
            *read_so_far([self.across, self.length]),
        )  # fmt: skip
