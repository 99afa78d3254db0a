"""A body that leather is moulded over: secateurs, pliers, a tape measure, a whetstone, an inert replica.

It lies on the bench; widths are read across it and heights above the bench, at stations from its butt to its nose.
"""

from functools import partial
from typing import Annotated, Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, field_validator

from ...curve import Line, Values, frozen, smooth_through
from ...drawing import Callout, Handle, Mark
from ...finding import Finding, Mend
from ...frozen import Frozen
from ...reckoning import Reckoning, count, fine, length, reckon
from ...texts import Said, said
from ..body import Body, Measured, MouldedBody
from ..readings import MOST_LONG_MM, RIGID_MM, SPREAD_SAYS, Reading, band, beside_outline, read_so_far
from ..thing import (
    Thing,
    by_place,
    in_widest_gap,
    over_length,
    places_beside,
    rising,
    so_far,
    unread_end,
    with_read,
)
from ..traced import Drawn, across, laid_along

SAMPLES = 90
SECTION_POINTS = 33
PROFILE_POINTS = 41
EDGE_ON_MM = 26.0
BESIDE_MM = 18.0


class Slice(Frozen):
    """Readings at one place: how wide it is, how high above the bench, how far in from the straight-edge it begins."""

    at_mm: Annotated[float, Field(ge=0, le=2000)]
    width: Reading = Reading()
    height: Reading = Reading()
    drop: Annotated[float, Field(ge=-500, le=500)] = 0.0


class Moulded(Thing):
    """Widths and heights along it, and whether its sections are slabs, ellipses or as traced: `profile` holds the heights of a
    section at even places across it, as shares of the highest.
    """

    body: Literal["moulded"] = "moulded"
    name: str = "secateurs"
    stations: Annotated[tuple[Slice, ...], Field(min_length=1, max_length=60)]
    length: Reading = Reading()
    section: Literal["slab", "ellipse", "traced"] = "ellipse"
    profile: Annotated[tuple[Annotated[float, Field(ge=0, le=1)], ...], Field(max_length=200)] = ()

    says: ClassVar[Said] = said("thing to mould")
    hint: ClassVar[Said] = said("secateurs, a stone")
    gives: ClassVar[type[Body]] = MouldedBody
    caution: ClassVar[Said] = said(
        "Tape or lock blades shut. Side-arms are moulded over an inert replica, or one unloaded and checked by its owner."
    )

    _in_order = field_validator("stations")(rising)

    @classmethod
    def blank(cls) -> Self:
        """Nothing measured yet."""
        return cls(name="thing", stations=tuple(Slice(at_mm=a) for a in (0.0, 50.0, 100.0)))

    def traced(self, drawn: Drawn) -> tuple[tuple[str, Any], ...]:
        """Widths read off the outline at seven stations or those it has, its length along; heights are still to be read."""
        laid = laid_along(drawn.ring, drawn.drawn_with)
        long = float(np.ptp(laid[:, 0]))
        rows = []
        for at in places_beside(self.stations, long, np.linspace(0.04, 0.94, 7) * long, few=6):
            top, bottom = across(laid, min(max(at, 0.5), long - 0.5))
            same = next((s for s in self.stations if abs(s.at_mm - at) < 1), Slice(at_mm=at))
            drop = same.drop if same.width.by_hand else round(float(np.clip(top, -500, 500)), 2)
            rows.append(same.model_copy(update={"width": same.width.traced(bottom - top), "drop": drop}))
        return ("stations", with_read(rows, self.stations)), ("length", self.length.traced(long))

    def spread_out(self) -> Self:
        """Stations that wait, over its length."""
        if not self.length.taken:
            return self
        return self.model_copy(update={"stations": over_length(self.stations, self.length.mean_mm)})

    def handles(self) -> tuple[Handle, ...]:
        """Its stations, along the axis."""
        return tuple(
            Handle(f"thing.stations.{i}.at_mm", said("station {n}", n=i + 1), (s.at_mm, s.drop), 1.0)
            for i, s in enumerate(self.stations)
        )

    def with_station(self, at_mm: float | None = None) -> tuple[str, tuple[Any, ...]]:
        """A station more."""
        end = self.length.mean_mm if self.length.taken else None
        at = in_widest_gap([s.at_mm for s in self.stations], end) if at_mm is None else at_mm
        return "stations", by_place(self.stations, Slice(at_mm=at))

    def without_station(self, part: str, number: int) -> tuple[Any, ...]:
        """One station fewer."""
        if part != "stations":
            return super().without_station(part, number)
        return tuple(s for i, s in enumerate(self.stations) if i != number)

    def sectioned(self, ring: Line) -> tuple[tuple[str, Any], ...]:
        """Heights of its upper side, lying as it was drawn, at even places across."""
        wide = ring[:, 0].min() + np.ptp(ring[:, 0]) * np.linspace(0.004, 0.996, PROFILE_POINTS)
        up = float(ring[:, 1].max()) - np.array([across(ring, float(x))[0] for x in wide])
        return ("profile", tuple(np.round(up / up.max(), 4).tolist())), ("section", "traced")

    def measure(self) -> Measured:
        """The body between its butt and its nose."""
        findings: tuple[Finding, ...] = self.length.findings("thing.length", said("Length"), RIGID_MM, MOST_LONG_MM)
        for i, s in enumerate(self.stations):
            at = length(s.at_mm)
            findings += s.width.findings(f"thing.stations.{i}.width", said("Width {at} from the butt", at=at), RIGID_MM)
            findings += s.height.findings(
                f"thing.stations.{i}.height", said("Height {at} from the butt", at=at), RIGID_MM
            )
        widths = [(f"thing.stations.{i}.width", said("The width {at} from the butt", at=length(s.at_mm)), s.width)
                  for i, s in enumerate(self.stations) if s.width.outline is not None]  # fmt: skip
        findings += beside_outline([("thing.length", said("The length"), self.length), *widths], self)
        if self.section == "traced" and not self.profile:
            findings += (Finding(
                "look", "no-section-traced", "measure",
                said("No section was traced yet; it is taken for an ellipse (Measure menu, take its section from a file)."),
                "thing.section", Mend(said("an ellipse"), (("thing.section", "ellipse"),)),
            ),)  # fmt: skip
        read = [s for s in self.stations if s.width.taken and s.height.taken and s.width.mean_mm > 0]
        body = None
        if len(read) < 2:
            findings += (Finding(
                "hold", "too-few-stations", "measure",
                said("It wants two stations at least with width and height; {n} are whole.", n=count(len(read))),
                "thing.stations.0.width.first",
            ),)  # fmt: skip
        elif self.length.taken and self.length.mean_mm <= read[-1].at_mm:
            findings += (Finding(
                "hold", "station-beyond-tip", "measure",
                said("It is {l} long, but a station stands at {at}.", l=length(self.length.mean_mm),
                     at=length(read[-1].at_mm)), "thing.length.first",
            ),)  # fmt: skip
        elif self.length.taken:
            body = self._body(read)
            findings += unread_end(
                read[-1].at_mm, self.length.mean_mm,
                said("From {at} on to its end at {end} it was not read: it is taken to go on as it is."), self.stations,
                lambda at: self.with_station(at)[1],
            )  # fmt: skip
        return Measured(body, self._marks(body), self._callouts(body), partial(self._reckonings, body), findings)

    def _body(self, read: list[Slice]) -> MouldedBody:
        at = np.array([s.at_mm for s in read])
        end = self.length.mean_mm
        x = np.linspace(0.0, end, SAMPLES)
        top = smooth_through(at, np.array([s.drop for s in read]))(x)
        width = smooth_through(at, np.array([s.width.mean_mm for s in read]))(x)
        height = np.maximum(smooth_through(at, np.array([s.height.mean_mm for s in read]))(x), 0.1)
        y, z = sections(top, width, height, self.section, self.profile)
        spread = max(r.spread_mm for s in read for r in (s.width, s.height))
        return MouldedBody(
            self.name, max(spread, self.length.spread_mm), frozen(x), frozen(top), frozen(top + width), frozen(height),
            frozen(y), frozen(z),
        )  # fmt: skip

    def _marks(self, body: MouldedBody | None) -> tuple[Mark, ...]:
        if body is None:
            end = self.length.mean_mm if self.length.taken else self.stations[-1].at_mm + 20
            ring = [[0.0, 0.0], [end, 0.0], [end, 40.0], [0.0, 40.0]]
            return (Mark("dimension", frozen(ring), True, "outline"),)
        x, mid = body.x_mm, self._edge_on(body)
        last = max(s.at_mm for s in self.stations if s.width.taken and s.height.taken)
        marks = so_far(x, body.top_mm, body.low_mm, last, "outline", "end")
        marks += so_far(x, mid - body.height_mm, np.full(len(x), mid), last, "from the side", "end from the side")
        marks.append(Mark("mark", frozen([[x[0] - 8, mid], [x[-1] + 8, mid]]), id="bench"))
        end_on = self._end_on(body)
        marks.append(Mark("thing", end_on, True, "section"))
        marks.append(Mark("mark", frozen([end_on[0] - [4, 0], end_on[-1] + [4, 0]]), id="bench"))
        for i, s in enumerate(self.stations):
            low = float(np.interp(s.at_mm, x, body.low_mm))
            marks.append(Mark("dimension", frozen([[s.at_mm, s.drop], [s.at_mm, low]]), id=f"thing.stations.{i}.width"))
            marks += band(s.width, s.at_mm, low, RIGID_MM, f"thing.stations.{i}.width")
            high = mid - (s.height.mean_mm if s.height.taken else 0.0)
            marks += band(s.height, s.at_mm, high, RIGID_MM, f"thing.stations.{i}.height")
        return tuple(marks)

    def _end_on(self, body: MouldedBody) -> Line:
        """The section at its highest, drawn beyond the nose on the same bench."""
        k = int(np.argmax(body.height_mm))
        y, z = body.y_mm[k], body.z_mm[k]
        return frozen(np.column_stack([y - y[0] + body.x_mm[-1] + BESIDE_MM, self._edge_on(body) - z]))

    def _edge_on(self, body: MouldedBody) -> float:
        return float(body.top_mm.min()) - EDGE_ON_MM

    def _callouts(self, body: MouldedBody | None) -> tuple[Callout, ...]:
        mid = self._edge_on(body) if body else -EDGE_ON_MM
        end = self.length.mean_mm if self.length.taken else self.stations[-1].at_mm + 20
        beside = (float(self._end_on(body)[-1, 0]), mid - 6.0) if body else (end, mid)
        callouts = [
            Callout("thing.length", said("long, butt to nose"), "length", None, (end, 10.0), "right"),
            Callout("thing.section", said("cut across it is"), "count", self.section, beside, "right", "section",
                    choices=(said("slab"), said("ellipse"), said("traced"))),
        ]  # fmt: skip
        for i, s in enumerate(self.stations):
            path = f"thing.stations.{i}"
            low = s.drop + (s.width.mean_mm if s.width.taken else 40.0)
            high = mid - (s.height.mean_mm if s.height.taken else 10.0)
            callouts.append(Callout(f"{path}.width", said("wide"), "length", None, (s.at_mm, low), "below", f"{path}.width",
                                 beside=(f"{path}.at_mm", said("at"))))  # fmt: skip
            callouts.append(Callout(f"{path}.height", said("high"), "fine", None, (s.at_mm, high), "above",
                                 "from the side", beside=(f"{path}.drop", said("drop"))))  # fmt: skip
        return tuple(callouts)

    def _reckonings(self, body: MouldedBody | None) -> tuple[Reckoning, ...]:
        if body is None:
            return ()
        girth = body.girth_mm()
        k = int(np.argmax(girth))
        wide = body.low_mm - body.top_mm
        return (
            reckon("girth", said("Greatest girth"), length(girth[k]),
                   said("round {w:n} by {h}, {at} from the butt", w=length(wide[k]), h=length(body.height_mm[k]),
                        at=length(body.x_mm[k])), ("outline",)),
            reckon("highest", said("Highest"), length(body.height_mm.max()),
                   said("{at} from the butt", at=length(body.x_mm[int(np.argmax(body.height_mm))])), ("from the side",)),
            reckon("spread", said("Readings spread"), fine(body.spread_mm),
                   SPREAD_SAYS),
            *read_so_far([self.length, *(r for s in self.stations for r in (s.width, s.height))]),
        )  # fmt: skip


def sections(
    top: Values, width: Values, height: Values, shape: str, profile: tuple[float, ...] = ()
) -> tuple[Values, Values]:
    """Upper sides of the sections, `(n, m)` each: y across from top on, z above the bench, both ends on it."""
    turn = np.linspace(0, np.pi, SECTION_POINTS)
    even = np.linspace(0, 1, SECTION_POINTS - 2)
    if shape == "slab" or (shape == "traced" and profile):
        across = np.concatenate([[0.0], even, [1.0]])
        up = np.concatenate(
            [
                [0.0],
                np.interp(even, np.linspace(0, 1, len(profile)), profile) if shape == "traced" else np.ones(len(even)),
                [0.0],
            ]
        )
    else:
        across, up = (1 - np.cos(turn)) / 2, np.sin(turn)
    return top[:, None] + np.outer(width, across), np.outer(height, up)
