"""A shaft by its girths: an oar, a grip, a rail; round or nearly, straight or tapering."""

from functools import partial
from typing import Annotated, Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, field_validator

from ...curve import frozen, smooth_through
from ...drawing import Callout, Handle, Mark
from ...finding import Finding
from ...frozen import Frozen
from ...quantity import Q
from ...reckoning import Reckoning, count, fine, length, reckon
from ...texts import Said, said
from ..body import Body, Measured, ShaftBody
from ..readings import RIGID_MM, SPREAD_SAYS, Reading, band, read_so_far
from ..thing import Thing, by_place, in_widest_gap, rising

SAMPLES = 81


class GirthStation(Frozen):
    """The girth at one place, measured along the shaft from the end that is held."""

    at_mm: Annotated[float, Field(ge=0, le=5000)]
    girth: Reading = Reading()


class Shaft(Thing):
    """Girths at two places at least, because a shaft may taper."""

    body: Literal["shaft"] = "shaft"
    name: str = "shaft"
    stations: Annotated[tuple[GirthStation, ...], Field(min_length=1, max_length=40)]

    says: ClassVar[Said] = said("shaft")
    hint: ClassVar[Said] = said("a grip, an oar, a rail")
    gives: ClassVar[type[Body]] = ShaftBody
    caution: ClassVar[Said] = said(
        "Heavy tools off the bench: a head that is still on the shaft is taped or covered first."
    )

    _in_order = field_validator("stations")(rising)

    @classmethod
    def blank(cls) -> Self:
        """Nothing measured yet."""
        return cls(stations=(GirthStation(at_mm=10.0), GirthStation(at_mm=150.0)))

    def handles(self) -> tuple[Handle, ...]:
        """Its stations, along the axis."""
        return tuple(
            Handle(f"thing.stations.{i}.at_mm", said("station {n}", n=i + 1), (s.at_mm, 0.0), 1.0)
            for i, s in enumerate(self.stations)
        )

    def with_station(self, at_mm: float | None = None) -> tuple[str, tuple[Any, ...]]:
        """A girth more."""
        at = in_widest_gap([s.at_mm for s in self.stations], None) if at_mm is None else at_mm
        return "stations", by_place(self.stations, GirthStation(at_mm=at))

    def without_station(self, part: str, number: int) -> tuple[Any, ...]:
        """One girth fewer."""
        if part != "stations":
            return super().without_station(part, number)
        return tuple(s for i, s in enumerate(self.stations) if i != number)

    def measure(self) -> Measured:
        """The shaft between its first and its last station."""
        findings: tuple[Finding, ...] = ()
        for i, station in enumerate(self.stations):
            at = length(station.at_mm)
            findings += station.girth.findings(
                f"thing.stations.{i}.girth", said("Girth {at} from the end", at=at), RIGID_MM
            )
        read = [s for s in self.stations if s.girth.taken and s.girth.mean_mm > 0]
        body = None
        if len(read) >= 2:
            places = np.array([s.at_mm for s in read])
            x = np.linspace(places[0], places[-1], SAMPLES)
            girth = smooth_through(places, np.array([s.girth.mean_mm for s in read]))(x)
            body = ShaftBody(
                self.name,
                max(s.girth.spread_mm for s in read),
                frozen(x),
                frozen(girth),
                frozen(np.column_stack([places, [s.girth.mean_mm for s in read]])),
            )
        else:
            findings += (Finding(
                "hold", "too-few-stations", "measure",
                said("A shaft wants two girths at least, because it may taper; {n} are read.", n=count(len(read))),
                "thing.stations.0.girth.first",
            ),)  # fmt: skip
        return Measured(body, self._marks(body), self._callouts(), partial(self._reckonings, body), findings)

    def _marks(self, body: ShaftBody | None) -> tuple[Mark, ...]:
        low, high = self.stations[0].at_mm, max(self.stations[-1].at_mm, self.stations[0].at_mm + 40)
        x = body.x_mm if body else np.array([low, high])
        half = body.girth_mm / (2 * np.pi) if body else np.array([15.0, 15.0])
        ring = np.concatenate([np.column_stack([x, -half]), np.column_stack([x, half])[::-1]])
        marks = [Mark("thing" if body else "dimension", frozen(ring), True, "shaft")]
        for i, station in enumerate(self.stations):
            across = float(np.interp(station.at_mm, x, half))
            line = [[station.at_mm, -across], [station.at_mm, across]]
            marks.append(Mark("dimension", frozen(line), id=f"thing.stations.{i}.girth"))
            marks += band(station.girth, station.at_mm, across, RIGID_MM, f"thing.stations.{i}.girth", 1 / (2 * np.pi))
        return tuple(marks)

    def _callouts(self) -> tuple[Callout, ...]:
        return tuple(
            Callout(f"thing.stations.{i}.girth", said("round"), "length", None, (s.at_mm, 15.0), "below",
                    f"thing.stations.{i}.girth", beside=(f"thing.stations.{i}.at_mm", said("at")), tape=True)
            for i, s in enumerate(self.stations)
        )  # fmt: skip

    def _reckonings(self, body: ShaftBody | None) -> tuple[Reckoning, ...]:
        if body is None:
            return ()
        first, last = float(body.girth_mm[0]), float(body.girth_mm[-1])
        run = float(np.ptp(body.x_mm))
        return (
            reckon("thick", said("Thick at the first station"), length(first / np.pi),
                   said("{g} round, over π", g=length(first)), ("shaft",)),
            reckon("thin", said("Thick at the last"), length(last / np.pi), said("{g} round, over π", g=length(last)),
                   ("shaft",)),
            reckon("taper", said("Taper"), length(abs(first - last)),
                   said("of girth over {run}", run=length(run)), ("shaft",)),
            reckon("spread", said("Readings spread"), fine(body.spread_mm),
                   SPREAD_SAYS),
            reckon("surface", said("Skin of the shaft"), Q("area", float(np.trapezoid(body.girth_mm, body.x_mm))),
                   said("girth along the run")),
            *read_so_far([s.girth for s in self.stations]),
        )  # fmt: skip
