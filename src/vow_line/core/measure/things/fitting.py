"""A fitting that leather is turned round: a ring, a bar, a buckle, the loop of a bell."""

from typing import ClassVar, Literal, Self

import numpy as np

from ...curve import frozen
from ...drawing import Callout, Mark
from ...finding import Finding
from ...reckoning import length, reckon
from ...texts import Said, said
from ..body import Body, FittingBody, Measured
from ..readings import MOST_THICK_MM, RIGID_MM, THICKNESS_MM, Reading, read_so_far
from ..thing import Thing


class Fitting(Thing):
    """The opening that the leather goes through, how thick the bar is that it turns round, and whether one of its faces is its
    front.
    """

    body: Literal["fitting"] = "fitting"
    name: str = "ring"
    opening: Reading = Reading()
    bar: Reading = Reading()
    faces: Literal["alike", "one-front"] = "alike"

    says: ClassVar[Said] = said("ring or buckle")
    hint: ClassVar[Said] = said("what a strap goes round")
    gives: ClassVar[type[Body]] = FittingBody

    @classmethod
    def blank(cls) -> Self:
        """Nothing measured yet."""
        return cls()

    def measure(self) -> Measured:
        """The fitting; its opening and its bar must both be read."""
        findings: tuple[Finding, ...] = self.opening.findings("thing.opening", said("Width of the opening"), RIGID_MM)
        findings += self.bar.findings("thing.bar", said("Thickness of the bar"), THICKNESS_MM, MOST_THICK_MM)
        body = None
        for at, reading, says in (("opening", self.opening, said("The opening was read as nothing.")),
                                  ("bar", self.bar, said("The bar was read as nothing."))):  # fmt: skip
            if reading.taken and reading.mean_mm == 0:
                findings += (Finding("hold", "reading-nothing", "measure", says, f"thing.{at}.first"),)
        if self.opening.taken and self.bar.taken and self.opening.mean_mm > 0 and self.bar.mean_mm > 0:
            spread = max(self.opening.spread_mm, self.bar.spread_mm)
            body = FittingBody(self.name, spread, self.opening.mean_mm, self.bar.mean_mm, self.faces == "one-front")
        wide = self.opening.mean_mm if self.opening.taken else 25.0
        bar = max(self.bar.mean_mm if self.bar.taken else 4.0, 0.5)
        turn = np.linspace(0, 2 * np.pi, 97)[:-1]
        round_ = np.column_stack([np.cos(turn), np.sin(turn)])
        inner, outer = round_ * wide / 2, round_ * (wide / 2 + bar)
        marks = (
            Mark("thing" if body else "dimension", frozen(outer), True, "fitting", rings=(frozen(inner),)),
            Mark("dimension", frozen([[-wide / 2, 0], [wide / 2, 0]]), id="thing.opening"),
            Mark("dimension", frozen([[wide / 2, 0], [wide / 2 + bar, 0]]), id="thing.bar"),
        )
        callouts = (
            Callout("thing.opening", said("opening, wide"), "length", None, (-wide / 2, 0.0), "left", "thing.opening"),
            Callout("thing.bar", said("bar, thick"), "fine", None, (wide / 2 + bar, 0.0), "right", "thing.bar"),
            Callout(
                "thing.faces",
                said("its faces"),
                "count",
                self.faces,
                (0.0, wide / 2 + bar),
                "right",
                choices=(said("alike"), said("one a front")),
                meant=("alike", "one-front"),
            ),
        )
        sums = (
            reckon("opening", said("Opening"), length(body.opening_mm), said("what a strap must pass"), ("thing.opening",)),
            reckon("turn", said("Half a turn round the bar alone"), length(np.pi * body.bar_mm / 2),
                   said("π × {b} / 2; the leather's own thickness comes to it at Draft", b=length(body.bar_mm)),
                   ("thing.bar",)),
            *read_so_far([self.opening, self.bar]),
        ) if body else ()  # fmt: skip
        return Measured(body, marks, callouts, lambda: sums, findings)
