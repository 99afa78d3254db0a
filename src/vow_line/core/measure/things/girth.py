"""A wearer's girth that a strap goes round, and the buckle that closes it: a collar, a belt, a headband."""

from typing import ClassVar, Literal, Self

import numpy as np

from ...curve import frozen
from ...drawing import Callout, Mark
from ...finding import Finding
from ...reckoning import Reckoning, length, reckon
from ...texts import Said, said
from ..body import Body, GirthBody, Measured
from ..people import unlikely
from ..readings import MOST_THICK_MM, RIGID_MM, THICKNESS_MM, Reading, band, read_so_far
from ..thing import WEARERS_AGE, Thing

TORSO_MM = 10.0  # two girths of a neck, a head or a waist should agree to this (common practice)
MOST_GIRTH_MM = 1800.0
ACROSS_TO_DEEP = 0.8  # how the girth is drawn, no more


class Girth(Thing):
    """Round a neck, a waist or a head, over what is worn there; the buckle's opening and its bar."""

    body: Literal["girth"] = "girth"
    name: str = "neck"
    where: Literal["neck", "waist", "head", "animal"] = "neck"
    around: Reading = Reading()
    opening: Reading = Reading()
    bar: Reading = Reading()

    says: ClassVar[Said] = said("neck or waist")
    hint: ClassVar[Said] = said("a wearer and a buckle")
    ages: ClassVar[Said] = WEARERS_AGE
    gives: ClassVar[type[Body]] = GirthBody
    caution: ClassVar[Said] = said("The tape lies snug, not tight; two fingers stay free under it at a neck.")

    @classmethod
    def blank(cls) -> Self:
        """Nothing measured yet."""
        return cls()

    def measure(self) -> Measured:
        """The girth and the buckle; all three must be read."""
        findings: tuple[Finding, ...] = self.around.findings("thing.around", said("The girth"), TORSO_MM, MOST_GIRTH_MM)
        findings += unlikely("waist", self.around, "thing.around") if self.where == "waist" else ()
        findings += self.opening.findings("thing.opening", said("Width of the buckle's opening"), RIGID_MM)
        findings += self.bar.findings("thing.bar", said("Thickness of the bar"), THICKNESS_MM, MOST_THICK_MM)
        readings = (self.around, self.opening, self.bar)
        body = None
        if all(r.taken and r.mean_mm > 0 for r in readings):
            spread = max(r.spread_mm for r in (self.opening, self.bar))
            body = GirthBody(self.name, spread, *(r.mean_mm for r in readings))
        return Measured(body, self._marks(body), self._callouts(), lambda: self._sums(body), findings)

    def _sizes(self) -> tuple[float, float, float, float]:
        """Half how wide and how deep the girth is drawn, how wide the buckle's opening, how thick its bar."""
        around = self.around.mean_mm if self.around.taken and self.around.mean_mm > 0 else 400.0
        wide = around / (np.pi * (1 + ACROSS_TO_DEEP))
        opening = self.opening.mean_mm if self.opening.taken else 25.0
        return wide, wide * ACROSS_TO_DEEP, opening, max(self.bar.mean_mm if self.bar.taken else 4.0, 0.5)

    def _marks(self, body: GirthBody | None) -> tuple[Mark, ...]:
        wide, deep, opening, bar = self._sizes()
        turn = np.linspace(0, 2 * np.pi, 97)[:-1]
        section = np.column_stack([wide * np.cos(turn), deep * np.sin(turn)])
        left = wide + 0.5 * wide
        box = np.array([[left, -opening / 2], [left + 0.9 * opening, -opening / 2], [left + 0.9 * opening, opening / 2],
                        [left, opening / 2]])  # fmt: skip
        outer = box + np.array([[-bar, -bar], [bar, -bar], [bar, bar], [-bar, bar]])
        tongue = np.array([[left - bar / 2, 0.0], [left + 0.9 * opening + bar / 2, 0.0]])
        return (
            Mark("thing" if body else "dimension", frozen(section), True, "thing.around"),
            *band(self.around, wide, 0.0, TORSO_MM, "thing.around", 1 / (2 * np.pi)),
            Mark("thing" if body else "dimension", frozen(outer), True, "buckle", rings=(frozen(box),)),
            Mark("mark", frozen(tongue), id="tongue"),
            Mark("dimension", frozen([[left, -opening / 2], [left, opening / 2]]), id="thing.opening"),
            Mark("dimension", frozen([[left - bar, 0], [left, 0]]), id="thing.bar"),
        )  # fmt: skip

    def _callouts(self) -> tuple[Callout, ...]:
        wide, deep, opening, bar = self._sizes()
        left = 1.5 * wide
        return (
            Callout("thing.around", said("round"), "length", None, (-wide, 0.0), "left", "thing.around", tape=True),
            Callout("thing.where", said("round what"), "count", self.where, (0.0, -deep), "left",
                    choices=(said("a neck"), said("a waist"), said("a head"), said("an animal's neck")),
                    meant=("neck", "waist", "head", "animal")),
            Callout("thing.opening", said("buckle, wide inside"), "length", None, (left + 0.9 * opening, opening / 2),
                    "right", "thing.opening"),
            Callout("thing.bar", said("bar, thick"), "fine", None, (left - bar / 2, -opening / 2), "right", "thing.bar"),
        )  # fmt: skip

    def _sums(self, body: GirthBody | None) -> tuple[Reckoning, ...]:
        if body is None:
            return ()
        return (
            reckon("around", said("Round"), length(body.girth_mm), said("over what is worn there"), ("thing.around",)),
            reckon("round", said("As a circle"), length(body.girth_mm / np.pi), said("{g} over π", g=length(body.girth_mm)),
                   ("thing.around",)),
            reckon("opening", said("The buckle takes a strap"), length(body.opening_mm),
                   said("wide, or a little less"), ("thing.opening",)),
            *read_so_far([self.around, self.opening, self.bar]),
        )  # fmt: skip
