"""A knife by its readings: blade stations from the guard to the tip, a handle behind it, perhaps a guard between."""

from functools import partial
from typing import Annotated, Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, field_validator

from ...curve import Line, Values, frozen, smooth_through
from ...drawing import Callout, Handle, Mark
from ...errors import RefusedChange
from ...finding import Finding
from ...frozen import Frozen
from ...quantity import Q
from ...reckoning import Reckoning, count, fine, length, reckon
from ...texts import Said, said, tell
from ..body import Body, LongBody, Measured
from ..readings import (
    MOST_LONG_MM,
    MOST_THICK_MM,
    RIGID_MM,
    SPREAD_SAYS,
    THICKNESS_MM,
    Reading,
    band,
    beside_outline,
    read_so_far,
)
from ..thing import (
    LAST_AT,
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

SECTION_POINTS = 32  # an ellipse drawn with so many sides a half is short by 0.04 %
GUARD_WITHIN_MM = 15.0  # a guard is looked for so near to where blade and handle meet (from memory)
GUARD_PROUD_MM = 4.0  # and is one where it is so much wider than both (from memory)
LEAST_WIDTH_MM = 1.0  # no blade is narrower than this short of its point
BLADE_SAMPLES = 110
HANDLE_SAMPLES = 32
TRACED_SAMPLES = 160


class KnifeStation(Frozen):
    """Readings square to the axis at one place: width across, thickness through, how far the top lies below the spine
    line (0 when not given).
    """

    at_mm: Annotated[float, Field(ge=0, le=2000)]
    width: Reading = Reading()
    thick: Reading = Reading()
    drop: Annotated[float, Field(ge=-200, le=200)] = 0.0


class Guard(Frozen):
    """A guard standing proud between blade and handle: how long along the axis, how wide, how thick, its top."""

    length_mm: Annotated[float, Field(gt=0, le=100)]
    width: Reading
    thick: Reading
    drop: Annotated[float, Field(ge=-200, le=200)] = 0.0


class Knife(Thing):
    """Everything read off a knife. Blade stations are measured from the guard towards the tip, handle stations from
    the guard towards the butt. `bevel` is how far the ground bevel reaches up from an edge; not given, the blade is
    a full wedge from spine to edge, or from the middle to either of two edges.
    """

    body: Literal["knife"] = "knife"
    name: str = "knife"
    stations: Annotated[tuple[KnifeStation, ...], Field(min_length=1, max_length=60)]
    length: Reading = Reading()
    tip_drop: Annotated[float, Field(ge=-200, le=500)] = 0.0
    edges: Literal["one", "two"] = "one"
    bevel: Annotated[float, Field(ge=0, le=500)] | None = None
    handle: Annotated[tuple[KnifeStation, ...], Field(min_length=1, max_length=20)]
    handle_length: Reading = Reading()
    guard: Guard | None = None

    says: ClassVar[Said] = said("knife")
    hint: ClassVar[Said] = said("a blade on a handle")
    gives: ClassVar[type[Body]] = LongBody
    caution: ClassVar[Said] = said(
        "Tape the edge before you measure; bring the caliper to the blade, not the blade to the hand."
    )

    _in_order = field_validator("stations", "handle")(rising)

    @classmethod
    def blank(cls) -> Self:
        """Nothing measured yet."""
        return cls(
            stations=tuple(KnifeStation(at_mm=a) for a in (0.0, 30.0, 60.0, 90.0)),
            handle=(KnifeStation(at_mm=5.0), KnifeStation(at_mm=50.0)),
        )

    def handles(self) -> tuple[Handle, ...]:
        """Its stations, along the axis."""
        return tuple(
            Handle(f"thing.{part}.{i}.at_mm", name.filled(n=i + 1), (sign * s.at_mm, s.drop), sign)
            for part, name, sign in (
                ("stations", said("station {n} of the blade"), 1.0),
                ("handle", said("station {n} of the handle"), -1.0),
            )
            for i, s in enumerate(getattr(self, part))
        )

    def with_station(self, at_mm: float | None = None) -> tuple[str, tuple[Any, ...]]:
        """A blade station more."""
        end = self.length.mean_mm if self.length.taken else None
        at = in_widest_gap([s.at_mm for s in self.stations], end) if at_mm is None else at_mm
        return "stations", by_place(self.stations, KnifeStation(at_mm=at))

    def spread_out(self) -> Self:
        """Blade stations that wait, over the blade's length."""
        if not self.length.taken:
            return self
        return self.model_copy(update={"stations": over_length(self.stations, self.length.mean_mm)})

    def guarded_or_not(self) -> Self:
        """With a guard, or without the one it has."""
        return self.model_copy(
            update={"guard": None if self.guard else Guard(length_mm=6.0, width=Reading(), thick=Reading())}
        )

    def without_station(self, part: str, number: int) -> tuple[Any, ...]:
        """One station fewer on the blade or the handle."""
        if part not in ("stations", "handle"):
            return super().without_station(part, number)
        return tuple(s for i, s in enumerate(getattr(self, part)) if i != number)

    def traced(self, drawn: Drawn) -> tuple[tuple[str, Any], ...]:
        """Widths read off the outline of the whole knife, its straighter side taken for the spine and its narrower end for the
        point. The guard stands where the length read by hand puts it; not read, where the width steps most. Thicknesses are
        still to be read.
        """
        laid = laid_along(drawn.ring, drawn.drawn_with)
        long = float(np.ptp(laid[:, 0]))
        at = np.linspace(0.02, 0.98, TRACED_SAMPLES) * long
        sides = np.array([across(laid, float(x)) for x in at])
        if np.ptp(sides[at > 0.93 * long], axis=1).mean() > np.ptp(sides[at < 0.07 * long], axis=1).mean():
            laid = long - laid[:, :1] * [1, 0] + laid * [0, 1]
            sides = sides[::-1]
        guard = long - self.length.mean_mm if self.length.by_hand else _steps_most(laid, 0.2 * long, 0.75 * long)
        if not 0.05 * long < guard < 0.95 * long:
            raise RefusedChange(
                tell("The outline is {long} mm long over all; a blade of {n} mm leaves no handle.", long=f"{long:.1f}",
                     n=f"{long - guard:.1f}"),
                "thing.length", tell("Check the scale of the outline, and the length read by hand."),
            )  # fmt: skip
        blade = at[(at > guard + 0.05 * (long - guard)) & (at < guard + 0.7 * (long - guard))]
        top, low = (np.array([across(laid, float(x))[k] for x in blade]) for k in (0, 1))
        bent = [float(np.abs(v - np.polyval(np.polyfit(blade, v, 1), blade)).max()) for v in (top, low)]
        if bent[1] < bent[0] - 0.05:
            laid = laid * [1, -1] + [0, float(laid[:, 1].max())]
        spine = across(laid, guard + 0.5)[0]

        def read(x: float, before: tuple[KnifeStation, ...], own: float) -> KnifeStation:
            high, deep = across(laid, x)
            same = next((s for s in before if abs(s.at_mm - own) < 1), KnifeStation(at_mm=round(own, 1)))
            drop = same.drop if same.width.by_hand else round(float(np.clip(high - spine, -200, 200)), 2)
            return same.model_copy(update={"width": same.width.traced(deep - high), "drop": drop})

        reach, behind = long - guard, guard
        blades = places_beside(self.stations, reach, np.linspace(0.0, LAST_AT, 7) * reach, few=4)
        handles = places_beside(self.handle, behind, np.array([0.1, 0.6]) * behind, few=0)
        point = laid[int(np.argmax(laid[:, 0])), 1] - spine
        return (
            ("stations", with_read([read(guard + max(a, 0.5), self.stations, a) for a in blades], self.stations)),
            ("handle", with_read([read(guard - max(a, 0.5), self.handle, a) for a in handles], self.handle)),
            ("length", self.length if self.length.by_hand else self.length.traced(reach)),
            ("handle_length", self.handle_length.traced(behind)),
            *(() if self.guard else _guard_of(laid, guard, spine)),
            ("tip_drop", self.tip_drop if self.tip_drop else round(float(np.clip(point, -200, 500)), 2)),
        )

    def measure(self) -> Measured:
        """The body these readings describe, or holds that say which readings it waits for."""
        findings = self._reading_findings()
        blade = [s for s in self.stations if s.width.taken and s.thick.taken]
        handle = [s for s in self.handle if s.width.taken and s.thick.taken]
        body = None
        if len(blade) >= 2 and handle and self.length.taken:
            reach = blade[-1].at_mm
            if self.length.mean_mm <= reach:
                findings += (
                    Finding(
                        "hold", "station-beyond-tip", "measure",
                        said("The blade is {length} long, but a station stands at {reach}.",
                             length=length(self.length.mean_mm), reach=length(reach)),
                        "thing.length.first",
                    ),
                )  # fmt: skip
            else:
                body = self._body(tuple(blade), tuple(handle), self.length.mean_mm)
                findings += self._unread(blade)
                crossing = _crossing(body, reach)
                if crossing is not None:
                    findings += (
                        Finding(
                            "hold", "outline-crosses", "measure",
                            said("Spine and edge cross {at} from the guard: the spine lies below the edge there.",
                                 at=length(crossing)),
                            "thing.tip_drop",
                        ),
                    )  # fmt: skip
                    body = None
        elif len(blade) < 2:
            findings += (
                Finding(
                    "hold", "too-few-stations", "measure",
                    said("A blade wants at least two stations with width and thickness; {n} are whole.",
                         n=count(len(blade))),
                    "thing.stations.0.width.first",
                ),
            )  # fmt: skip
        marks = self._marks(body)
        return Measured(body, marks, self._callouts(marks), partial(self._reckonings, body), findings)

    def _unread(self, blade: list[KnifeStation]) -> tuple[Finding, ...]:
        """Whether the blade was read towards its point; of the handle only what a sheath takes in matters, and that is read."""
        return unread_end(
            blade[-1].at_mm, self.length.mean_mm,
            said("From {at} on to its point at {end} the blade was not read: it is taken to narrow evenly."), self.stations,
            lambda at: self.with_station(at)[1],
        )  # fmt: skip

    def _reading_findings(self) -> tuple[Finding, ...]:
        findings: tuple[Finding, ...] = self.length.findings(
            "thing.length", said("Length of the blade"), RIGID_MM, MOST_LONG_MM
        )
        for part, stations, width, thick in (
            ("stations", self.stations, said("Width {at} from the guard"), said("Thickness {at} from the guard")),
            ("handle", self.handle, said("Width {at} behind the guard"), said("Thickness {at} behind the guard")),
        ):
            for i, station in enumerate(stations):
                path, at = f"thing.{part}.{i}", length(station.at_mm)
                findings += station.width.findings(f"{path}.width", width.filled(at=at), RIGID_MM)
                findings += station.thick.findings(f"{path}.thick", thick.filled(at=at), THICKNESS_MM, MOST_THICK_MM)
        findings += self.handle_length.findings(
            "thing.handle_length", said("Length of the handle"), RIGID_MM, MOST_LONG_MM
        )
        if self.guard:
            findings += self.guard.width.findings("thing.guard.width", said("Width of the guard"), RIGID_MM)
            findings += self.guard.thick.findings("thing.guard.thick", said("Thickness of the guard"), RIGID_MM)
        beside = [("thing.length", said("The blade"), self.length),
                  ("thing.handle_length", said("The handle"), self.handle_length)]  # fmt: skip
        beside += [(f"thing.{part}.{i}.width", name.filled(at=length(s.at_mm)), s.width)
                   for part, stations, name in (("stations", self.stations, said("The width {at} from the guard")),
                                                ("handle", self.handle, said("The width {at} behind the guard")))
                   for i, s in enumerate(stations) if s.width.outline is not None]  # fmt: skip
        return findings + beside_outline(beside, self)

    def _spread_mm(self) -> float:
        readings = [r for s in self.stations + self.handle for r in (s.width, s.thick)] + [self.length]
        return max(r.spread_mm for r in readings)

    def _body(self, blade: tuple[KnifeStation, ...], handle: tuple[KnifeStation, ...], end: float) -> LongBody:
        at = np.array([s.at_mm for s in blade])
        drop = np.array([s.drop for s in blade])
        edge = drop + [s.width.mean_mm for s in blade]
        tip_y = self.tip_drop
        top_curve = smooth_through(np.append(at, end), np.append(drop, tip_y))
        edge_curve = smooth_through(np.append(at, end), np.append(edge, tip_y))
        thick_curve = smooth_through(at, np.array([s.thick.mean_mm for s in blade]))
        bx = end * np.sin(np.linspace(0, np.pi / 2, BLADE_SAMPLES))
        bx[-1] = end
        top, low, thick = top_curve(bx), edge_curve(bx), thick_curve(bx)
        beyond = bx > at[-1]
        if np.any(
            (low <= top)[beyond & (bx < end)]
        ):  # both rise or fall to the point: there the width narrows by itself
            narrowing = smooth_through(np.append(at, end), np.append(edge - drop, 0.0))
            low = np.where(beyond, top + narrowing(bx), low)
        wide = np.maximum(low - top, 0)
        two = self.edges == "two"  # ground from both sides, thickest in the middle
        last = (edge - drop)[-1] / (2 if two else 1)
        ground = max(
            min(last if self.bevel is None else self.bevel, last), 1e-9
        )  # it is ground at one angle to the point: as it narrows into that, it thins
        thick = np.where(beyond, thick * np.minimum(wide / (2 if two else 1) / ground, 1.0), thick)
        bevel = wide / (2 if two else 1) if self.bevel is None else np.minimum(self.bevel, wide / (2 if two else 1))
        by = np.stack([top, top + bevel if two else top, low - bevel, low], axis=1)
        bz = np.stack([np.zeros_like(bx), thick / 2, thick / 2, np.zeros_like(bx)], axis=1)
        pad = np.repeat(by[:, -1:], SECTION_POINTS + 1 - 4, axis=1)
        by = np.concatenate([by, pad], axis=1)
        bz = np.concatenate([bz, np.zeros_like(pad)], axis=1)

        long = self.handle_length.mean_mm if self.handle_length.taken else handle[-1].at_mm + 1
        hx = np.linspace(-max(long, handle[-1].at_mm + 1), -0.05, HANDLE_SAMPLES)
        hy, hz, htop, hlow, hthick = self._handle_sections(hx, handle)
        return LongBody(
            name=self.name,
            x_mm=frozen(np.concatenate([hx, bx])),
            top_mm=frozen(np.concatenate([htop, top])),
            edge_mm=frozen(np.concatenate([hlow, low])),
            thick_mm=frozen(np.concatenate([hthick, thick])),
            y_mm=frozen(np.concatenate([hy, by])),
            z_mm=frozen(np.concatenate([hz, bz])),
            blade=np.concatenate([np.zeros(len(hx), bool), np.ones(len(bx), bool)]),
            spread_mm=self._spread_mm(),
            outline=frozen(np.concatenate([np.column_stack([bx, top]), np.column_stack([bx, low])[::-1]])),
        )

    def _handle_sections(
        self, x: Values, handle: tuple[KnifeStation, ...]
    ) -> tuple[Values, Values, Values, Values, Values]:
        behind = np.array([s.at_mm for s in handle])
        through = [np.array(v) for v in zip(*((s.drop, s.width.mean_mm, s.thick.mean_mm) for s in handle), strict=True)]
        if len(handle) == 1:
            top, width, thick = (np.full(len(x), v[0]) for v in through)
        else:
            top, width, thick = (smooth_through(behind, v)(-x) for v in through)
        turn = np.linspace(0, np.pi, SECTION_POINTS + 1)
        y = (top + width / 2)[:, None] - np.outer(width / 2, np.cos(turn))
        z = np.outer(thick / 2, np.sin(turn))
        low = top + width
        guard = self.guard
        if guard and guard.width.taken and guard.thick.taken:
            there = x >= -guard.length_mm
            g_top, g_width, g_half = guard.drop, guard.width.mean_mm, guard.thick.mean_mm / 2
            slab_y = np.concatenate([[g_top, g_top, g_top + g_width], np.full(SECTION_POINTS - 2, g_top + g_width)])
            slab_z = np.concatenate([[0, g_half, g_half], np.zeros(SECTION_POINTS - 2)])
            y[there], z[there] = slab_y, slab_z
            top = np.where(there, g_top, top)
            low = np.where(there, g_top + g_width, low)
            thick = np.where(there, 2 * g_half, thick)
        return y, z, top, low, thick

    def _marks(self, body: LongBody | None) -> tuple[Mark, ...]:
        if body is None:
            return self._guessed()
        blade, grip = body.blade, ~body.blade
        handle = np.concatenate(
            [
                np.column_stack([body.x_mm[grip], body.top_mm[grip]]),
                np.column_stack([body.x_mm[grip], body.edge_mm[grip]])[::-1],
            ]
        )
        last = max((s.at_mm for s in self.stations if s.width.taken and s.thick.taken), default=0.0)
        x, half, centre = body.x_mm, body.thick_mm / 2, self.edge_on_mm(body)
        side = np.concatenate(
            [np.column_stack([x[grip], centre - half[grip]]), np.column_stack([x[grip], centre + half[grip]])[::-1]]
        )
        marks = [
            Mark("ghost", frozen(handle), closed=True, id="handle"),
            *so_far(x[blade], body.top_mm[blade], body.edge_mm[blade], last, "blade", "point"),
            Mark("ghost", frozen(side), closed=True, id="handle edge-on"),
            *so_far(x[blade], centre - half[blade], centre + half[blade], last, "blade edge-on", "point edge-on"),
        ]
        for i, station in enumerate(self.stations):
            y = np.interp(station.at_mm, body.x_mm, body.edge_mm)
            line = np.array([[station.at_mm, station.drop], [station.at_mm, y]])
            marks.append(Mark("dimension", frozen(line), id=f"thing.stations.{i}.width"))
            marks += band(station.width, station.at_mm, float(y), RIGID_MM, f"thing.stations.{i}.width")
            marks += self._thick_band(body, station, station.at_mm, f"thing.stations.{i}.thick")
        for i, station in enumerate(self.handle):
            y = np.interp(-station.at_mm, body.x_mm, body.edge_mm)
            line = np.array([[-station.at_mm, station.drop], [-station.at_mm, y]])
            marks.append(Mark("dimension", frozen(line), id=f"thing.handle.{i}.width"))
            marks += band(station.width, -station.at_mm, float(y), RIGID_MM, f"thing.handle.{i}.width")
            marks += self._thick_band(body, station, -station.at_mm, f"thing.handle.{i}.thick")
        return tuple(marks)

    def _thick_band(self, body: LongBody, station: KnifeStation, x: float, mark: str) -> tuple[Mark, ...]:
        """How far two readings of a thickness lie apart, on the upper side of the edge-on view."""
        half = station.thick.mean_mm / 2 if station.thick.taken else 0.0
        return band(station.thick, x, self.edge_on_mm(body) - half, THICKNESS_MM, mark, 0.5)

    def _guessed(self) -> tuple[Mark, ...]:
        """An outline to hang the callouts on while readings are missing: dashed, and nothing is planned from it."""

        def filled(stations: tuple[KnifeStation, ...], width: float, thick: float) -> tuple[KnifeStation, ...]:
            return tuple(
                s.model_copy(
                    update={
                        "width": s.width if s.width.taken else Reading(first=width),
                        "thick": s.thick if s.thick.taken else Reading(first=thick),
                    }
                )
                for s in stations
            )

        reach = max(self._reach(), self.stations[-1].at_mm + 10)
        guess = self._body(filled(self.stations, 28.0, 3.0), filled(self.handle, 28.0, 20.0), reach)
        return tuple(
            Mark("dimension", m.line, m.closed, m.id) if m.meaning in ("thing", "ghost", "assumed") else m
            for m in self._marks(guess)
        )

    @staticmethod
    def edge_on_mm(body: LongBody) -> float:
        """Where, above the plan view, the middle plane of the edge-on view is drawn."""
        return float(body.top_mm.min() - body.thick_mm.max() / 2 - 18)

    def _callouts(self, marks: tuple[Mark, ...]) -> tuple[Callout, ...]:
        edge_on = next((float(m.line[:, 1].mean()) for m in marks if m.id == "blade edge-on"), 0.0)
        callouts = [
            Callout(
                "thing.length", said("blade, guard to tip"), "length", None, (self._reach(), self.tip_drop), "right"
            )
        ]
        for part, stations, sign in (("stations", self.stations, 1.0), ("handle", self.handle, -1.0)):
            for i, s in enumerate(stations):
                path = f"thing.{part}.{i}"
                width = s.width.mean_mm if s.width.taken else 0.0
                thick = s.thick.mean_mm if s.thick.taken else 0.0
                callouts.append(
                    Callout(f"{path}.width", said("wide"), "length", None, (sign * s.at_mm, s.drop + width), "below",
                            f"{path}.width", beside=(f"{path}.at_mm", said("at") if sign > 0 else said("behind")))
                )  # fmt: skip
                callouts.append(
                    Callout(f"{path}.thick", said("thick"), "fine", None, (sign * s.at_mm, edge_on - thick / 2),
                            "above",
                            f"{path}.thick", beside=(f"{path}.drop", said("drop")))
                )  # fmt: skip
        callouts.append(Callout("thing.handle_length", said("handle, guard to butt"), "length", None,
                             (-self._handle_reach(), 0.0), "left"))  # fmt: skip
        callouts.append(Callout("thing.edges", said("cutting edges"), "count", self.edges, (-self._handle_reach(), 45.0),
                             "left", "blade", (said("one"), said("two"))))  # fmt: skip
        if self.guard:
            callouts += [
                Callout("thing.guard.width", said("guard, wide"), "length", None, (-0.5, self.guard.drop), "below"),
                Callout("thing.guard.thick", said("guard, thick"), "fine", None, (-0.5, edge_on), "above",
                        beside=("thing.guard.length_mm", said("along"))),
            ]  # fmt: skip
        callouts.append(Callout("thing.tip_drop", said("drop of the point"), "length", self.tip_drop,
                             (self._reach(), self.tip_drop), "right"))  # fmt: skip
        callouts.append(Callout("thing.bevel", said("bevel, if not full"), "length",
                             "" if self.bevel is None else self.bevel, (-self._handle_reach(), 30.0), "left"))  # fmt: skip
        return tuple(callouts)

    def _reach(self) -> float:
        return self.length.mean_mm if self.length.taken else self.stations[-1].at_mm + 20

    def _handle_reach(self) -> float:
        return self.handle_length.mean_mm if self.handle_length.taken else self.handle[-1].at_mm

    def _reckonings(self, body: LongBody | None) -> tuple[Reckoning, ...]:
        if body is None:
            return ()
        widest = int(np.argmax(np.where(body.blade, body.edge_mm - body.top_mm, 0)))
        girth = body.girth_mm()
        fattest = int(np.argmax(np.where(body.blade, 0, girth)))
        area = float(np.trapezoid((body.edge_mm - body.top_mm)[body.blade], body.x_mm[body.blade]))
        return (
            reckon("length", said("Blade, guard to tip"), length(body.length_mm),
                   _mean_of(self.length), ("blade",)),
            reckon("widest", said("Widest"), length(body.edge_mm[widest] - body.top_mm[widest]),
                   said("{at} from the guard", at=length(body.x_mm[widest])), ("blade",)),
            reckon("thickest", said("Thickest spine"), length(body.thick_mm[body.blade].max()),
                   said("half of it each side of the fold: {half}", half=length(body.thick_mm[body.blade].max() / 2)),
                   ("blade edge-on",)),
            reckon("handle-girth", said("Handle at its fattest"), length(girth[fattest]),
                   said("round an oval {w:n} by {t}, {at} behind the guard",
                        w=length(body.edge_mm[fattest] - body.top_mm[fattest]), t=length(body.thick_mm[fattest]),
                        at=length(-body.x_mm[fattest])), ("handle",)),
            reckon("spread", said("Readings spread"), fine(body.spread_mm),
                   SPREAD_SAYS),
            *read_so_far([*(r for s in self.stations + self.handle for r in (s.width, s.thick)), self.length]),
            reckon("blade-area", said("Side of the blade"), Q("area", area), said("under the curve through the stations")),
        )  # fmt: skip


def _crossing(body: LongBody, last_mm: float) -> float | None:
    """Where on the blade, as far as it was read, there is hardly any width between spine and edge."""
    thin = np.flatnonzero(body.blade & (body.edge_mm - body.top_mm < LEAST_WIDTH_MM) & (body.x_mm <= last_mm))
    return float(body.x_mm[thin[0]]) if len(thin) else None


def _guard_of(laid: Line, at: float, spine: float) -> tuple[tuple[str, Any], ...]:
    """The guard that an outline shows about the place `at` where blade and handle meet, where it stands proud of both."""
    x = np.arange(at - GUARD_WITHIN_MM, at + GUARD_WITHIN_MM, 0.25)
    wide = np.array([np.ptp(across(laid, float(a))) for a in x])
    beside = max(float(np.median(wide[:8])), float(np.median(wide[-8:])))
    proud = np.flatnonzero(wide > beside + GUARD_PROUD_MM)
    if not len(proud) or np.ptp(proud) + 1 > len(proud) + 2:
        return ()
    first, last = x[proud[0]], x[proud[-1]]
    top, low = across(laid, float((first + last) / 2))
    guard = Guard(length_mm=round(float(max(last - first, 1.0)), 1), width=Reading().traced(low - top), thick=Reading(),
                  drop=round(float(np.clip(top - spine, -200, 200)), 2))  # fmt: skip
    return (("guard", guard),)


def _steps_most(ring: Line, start: float, end: float) -> float:
    """Where between `start` and `end` the width of a ring changes most sharply."""
    for _ in range(2):
        at = np.linspace(start, end, 80)
        step = np.abs(np.diff([np.ptp(across(ring, float(x))) for x in at]))
        k = int(np.argmax(step))
        start, end = float(at[max(k - 1, 0)]), float(at[min(k + 2, len(at) - 1)])
    return float(at[k + 1])


def _mean_of(reading: Reading) -> Said:
    if reading.first is not None and reading.second is not None:
        return said("({a:n} + {b}) / 2", a=length(reading.first), b=length(reading.second))
    return said("read once")
