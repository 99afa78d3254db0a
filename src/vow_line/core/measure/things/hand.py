"""A hand for a glove or a mitten: the pattern of one that fits somebody, stretched to what is read of this one."""

from collections.abc import Iterator
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field

from ...curve import frozen
from ...drawing import Callout, Mark
from ...finding import Finding, Mend
from ...reckoning import count
from ...texts import Said, said, several, verbatim
from ..body import FingerOn
from ..fingers import FINGERS, Spoke, Which, spoke
from ..panel import Lengths, Panel, Sized, shape_of, stretch_of
from ..panel_set import PanelSet
from ..readings import Reading
from ..thing import WEARERS_AGE
from ..traced import Drawn

FINGER_MM, MOST_FINGER_MM = 2.0, 260.0  # two readings of a finger should agree to this (common practice)


class Hand(PanelSet):
    """The panels of a pattern; each as long and as wide as is read on this hand, each finger as long as it is read, from the
    crotch to the tip, and what the pattern has `beyond_mm` that for its seam and some room.
    """

    body: Literal["hand"] = "hand"
    name: str = "hand"
    sized: Sized = "read"
    thumb: Reading = Reading()
    index: Reading = Reading()
    middle: Reading = Reading()
    ring: Reading = Reading()
    little: Reading = Reading()
    fingers: Reading = Reading()
    beyond_mm: Annotated[float, Field(ge=0, le=40)] = 7.0  # a seam of 4 and some room (from memory)

    says: ClassVar[Said] = said("hand")
    hint: ClassVar[Said] = said("a glove made to fit")
    ages: ClassVar[Said] = WEARERS_AGE
    of_hand: ClassVar[bool] = True
    rounds: ClassVar[tuple[str, ...]] = ("hand", "other")
    caution: ClassVar[Said] = said(
        "Measure the hand that works more, over what is worn in the glove, the fingers a little bent."
    )

    def traced(self, drawn: Drawn) -> tuple[tuple[str, Any], ...]:
        """One panel more, its fingers found. Raises RefusedChange when there is no room for it."""
        (field, panels), *rest = super().traced(drawn)
        *before, panel = panels
        return ((field, (*before, panel.fingered())), *rest)

    def middle_of(self, panel: Panel) -> float:
        """Where the girth of a hand crosses it: between its thumb and its other fingers."""
        bases = {f.which: s.base[:, 1] for f in panel.fingers if (s := spoke(np.array(panel.ring), f)) is not None}
        thumb = bases.pop("thumb", None)
        if thumb is None or not bases:
            return super().middle_of(panel)
        return float((thumb.min() + max(base.max() for base in bases.values())) / 2)

    def reading_of(self, which: Which) -> Reading:
        """How long a finger was read."""
        reading: Reading = getattr(self, which)
        return reading

    @property
    def lengths(self) -> Lengths:
        """How long the fingers that were read are to be on the pattern."""
        return tuple(
            (which, r.mean_mm + self.beyond_mm)
            for which in FINGERS
            if (r := self.reading_of(which)).by_hand and r.mean_mm > 0
        )

    def more_readings(self) -> tuple[Reading, ...]:
        """The fingers that were read."""
        return tuple(r for which in FINGERS if (r := self.reading_of(which)).by_hand)

    def _there(self) -> Iterator[tuple[int, Panel, int, Which, Spoke]]:
        """Every finger on every panel, as it was traced."""
        for k, panel in enumerate(self.panels):
            for j, finger in enumerate(panel.fingers):
                lies = spoke(np.array(panel.ring), finger)
                if lies is not None:
                    yield k, panel, j, finger.which, lies

    def _of_fingers(self) -> Iterator[Finding]:
        on = {which for *_, which, _ in self._there()}
        for which, name in FINGERS.items():
            reading = self.reading_of(which)
            if reading.by_hand:
                long = said("The length of the {finger}", finger=name)
                yield from reading.findings(f"thing.{which}", long, FINGER_MM, MOST_FINGER_MM)
                if which not in on and self.panels:
                    yield Finding(
                        "look", "finger-nowhere", "measure",
                        said("The {finger} was read, but no panel has it: nothing is stretched for it.", finger=name),
                        f"thing.{which}.first", Mend(said("not read"), ((f"thing.{which}", Reading()),)),
                    )  # fmt: skip
        for k, panel in enumerate(self.panels):
            seen = () if panel.fingers else panel.fingered().fingers
            if seen and shapely.Polygon(panel.ring).is_valid:
                yield Finding(
                    "note", "fingers-seen", "measure",
                    several("A finger is seen on panel {letter}: its length could be read.",
                            "{n} fingers are seen on panel {letter}: each could be read by itself.", n=count(len(seen)),
                            letter=verbatim(panel.letter)), f"thing.panels.{k}.high",
                    Mend(said("mark them") if len(seen) > 1 else said("mark it"), ((f"thing.panels.{k}.fingers", seen),)),
                )  # fmt: skip

    def _fingers_on(self) -> Iterator[FingerOn]:
        as_read = self.sized == "read"
        lengths = dict(self.lengths) if as_read else {}
        for _, panel, _, which, lies in self._there():
            edges = shape_of(panel, self.sized, self.lengths).edges
            made = lies.mapped(stretch_of(panel, self.lengths)) if as_read else lies
            made = made.as_long(lengths[which]) if which in lengths else made
            tip = shapely.Point(made.tip)
            edge = min(edges, key=lambda e: float(shapely.LineString(edges[e]).distance(tip)))
            own = {id: made.holds(line) for id, line in edges.items()}
            read = self.reading_of(which).mean_mm if which in lengths else None
            yield FingerOn(FINGERS[which], edge, made, read, own)

    def _girded(self) -> set[str]:
        """The panels that the first girth goes over, if it was read."""
        return {o.letter for v in self.levels[:1] if v.girth.by_hand for o in v.on}

    def _across_to(self) -> frozenset[str]:
        there = {p.letter for p in self.panels if not p.wide.by_hand} if self.sized == "read" else set()
        return frozenset(there & self._girded())

    def _following(self) -> frozenset[str]:
        if self.sized == "traced":
            return frozenset()
        read = {p.letter for p in self.panels if p.high.by_hand or p.wide.by_hand}
        read |= {panel.letter for _, panel, _, which, _ in self._there() if self.reading_of(which).by_hand}
        return frozenset(p.letter for p in self.panels) - read - self._girded()

    def _drawn_too(self, lefts: dict[str, float], marks: list[Mark], callouts: list[Callout]) -> None:
        """Each finger from the middle of its base to its tip, and its length where it is drawn first."""
        asked: set[str] = set()
        for k, panel, j, which, lies in self._there():
            left, id = np.array([lefts[panel.letter], 0.0]), f"thing.{which}"
            marks.append(Mark("dimension", frozen([lies.middle + left, lies.tip + left]), id=id))
            marks.append(Mark("dimension", frozen(lies.base + left), id=f"thing.panels.{k}.fingers.{j}"))
            at = (float(lies.tip[0] + left[0]), float(lies.tip[1]))
            if which not in asked:
                callouts.append(
                    Callout(id, FINGERS[which], "length", None, at, "above", id, tape=True, unasked=not self.lengths)
                )
                asked.add(which)
            callouts.append(Callout(
                f"thing.panels.{k}.fingers.{j}.which", said("finger {j} of {letter}", j=j + 1, letter=verbatim(panel.letter)),
                "count", which, at, "right", choices=tuple(FINGERS.values()), meant=tuple(FINGERS), seldom=True,
            ))  # fmt: skip
        if asked:
            callouts.append(Callout("thing.beyond_mm", said("beyond a fingertip"), "length", self.beyond_mm,
                                    (0.0, 0.0), "left", seldom=True))  # fmt: skip
