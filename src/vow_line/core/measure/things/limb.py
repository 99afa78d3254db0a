"""A limb by its girths: a forearm, an upper arm, a calf, a thigh, over what will be worn under the piece."""

from dataclasses import dataclass, replace
from functools import partial
from typing import Annotated, Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, field_validator

from ...curve import Values, frozen
from ...drawing import Callout, Handle, Mark
from ...finding import Finding, Mend
from ...frozen import Frozen
from ...reckoning import Reckoning, count, length, reckon
from ...texts import Said, said
from ..body import Body, LimbBody, Measured
from ..people import unlikely
from ..readings import RIGID_MM, SPREAD_SAYS, Reading, band, read_so_far
from ..thing import WEARERS_AGE, Thing, by_place, in_widest_gap, rising

GIRTH_MM = 5.0  # two girths of a limb should agree to this (common practice)
FEW = 4  # with fewer stations the curves of a limb are guessed (common practice)
SAMPLES = 61
OVER_MM = {
    "bare": 0.0,
    "sleeve": 25.0,
    "breeches": 45.0,
    "boot": 90.0,
}  # what is worn adds to a girth at most (from memory)
POSTURES = {"straight": said("at ease"), "bent": said("bent")}
FLATTEST, DEEPEST = 0.4, 2.5  # no limb is less deep for its width, or more (from memory)
OVER = {"bare": said("bare skin"), "sleeve": said("a sleeve"), "breeches": said("breeches"), "boot": said("a boot")}


@dataclass(frozen=True, slots=True)
class Sort:
    """A kind of limb: what its thin and its thick end are by the sample of people, how deep it is there for its width where
    that is not read (from memory), and where its stations are to begin with.
    """

    title: Said
    thin: str
    thick: str
    ratio: tuple[float, float]
    at_mm: tuple[float, ...]


LIMBS = {
    "forearm": Sort(said("a forearm"), "wrist", "forearm", (0.75, 0.85), (0.0, 60.0, 130.0, 190.0)),
    "upper-arm": Sort(said("an upper arm"), "upper-arm", "upper-arm", (1.0, 1.0), (0.0, 60.0, 120.0, 180.0)),
    "calf": Sort(said("a calf"), "ankle", "calf", (0.95, 0.85), (0.0, 70.0, 150.0, 230.0, 300.0)),
    "thigh": Sort(said("a thigh"), "knee", "thigh", (0.95, 1.0), (0.0, 90.0, 180.0, 270.0)),
}


class LimbStation(Frozen):
    """The girth at one place along a straight-edge, from the thin end; how deep it is there, front to back, by caliper, and how
    far off the edge its back lies, where that was read.
    """

    at_mm: Annotated[float, Field(ge=0, le=2000)]
    girth: Reading = Reading()
    depth: Reading = Reading()
    off: Reading = Reading()


class Limb(Thing):
    """Girths at four places at least, one at each bulge and hollow, in the order in which a helper calls them out. The
    straight-edge lies along its front, which is then taken to be straight, or behind its back, which stands off it as is read.
    """

    body: Literal["limb"] = "limb"
    name: str = "limb"
    which: Literal["forearm", "upper-arm", "calf", "thigh"] = "forearm"
    side: Literal["left", "right"] = "left"
    over: Literal["bare", "sleeve", "breeches", "boot"] = "sleeve"
    posture: Literal["straight", "bent"] = "straight"
    edge: Literal["front", "back"] = "front"
    stations: Annotated[tuple[LimbStation, ...], Field(min_length=1, max_length=20)]

    says: ClassVar[Said] = said("arm or leg")
    hint: ClassVar[Said] = said("a forearm, a calf")
    ages: ClassVar[Said] = WEARERS_AGE
    gives: ClassVar[type[Body]] = LimbBody
    caution: ClassVar[Said] = said("Standing, over what will be worn; the tape snug, square to the limb, not drawn in.")

    _in_order = field_validator("stations")(rising)

    @classmethod
    def blank(cls) -> Self:
        """Nothing measured yet."""
        return cls(stations=tuple(LimbStation(at_mm=at) for at in LIMBS["forearm"].at_mm))

    def handles(self) -> tuple[Handle, ...]:
        """Its stations, along the reference."""
        return tuple(
            Handle(f"thing.stations.{i}.at_mm", said("station {n}", n=i + 1), (s.at_mm, 0.0), 1.0)
            for i, s in enumerate(self.stations)
        )

    def with_station(self, at_mm: float | None = None) -> tuple[str, tuple[Any, ...]]:
        """A girth more."""
        at = in_widest_gap([s.at_mm for s in self.stations], None) if at_mm is None else at_mm
        return "stations", by_place(self.stations, LimbStation(at_mm=at))

    def without_station(self, part: str, number: int) -> tuple[Any, ...]:
        """One girth fewer."""
        if part != "stations":
            return super().without_station(part, number)
        return tuple(s for i, s in enumerate(self.stations) if i != number)

    def other_side(self) -> Self:
        """That of the other side, nothing of it read yet."""
        unread = tuple(LimbStation(at_mm=s.at_mm) for s in self.stations)
        return self.model_copy(update={"side": "left" if self.side == "right" else "right", "stations": unread})

    def measure(self) -> Measured:
        """The limb between its first and its last station."""
        findings: list[Finding] = []
        for i, station in enumerate(self.stations):
            at = length(station.at_mm)
            found = station.girth.findings(
                f"thing.stations.{i}.girth", said("Girth {at} from the thin end", at=at), GIRTH_MM, 1200.0
            )
            if not station.girth.taken and sum(s.girth.taken for s in self.stations) >= 2:
                left_out = Mend(said("leave it out"), (("thing.stations", self.without_station("stations", i)),))
                found = tuple(replace(f, mend=left_out) if f.code == "reading-missing" else f for f in found)
            findings += found
            if station.depth.taken:
                findings += station.depth.findings(
                    f"thing.stations.{i}.depth", said("Depth {at} from the thin end", at=at), RIGID_MM, 400.0
                )
            if self.edge == "back" and station.off.taken:
                findings += station.off.findings(
                    f"thing.stations.{i}.off",
                    said("Off the edge {at} from the thin end", at=at),
                    RIGID_MM,
                    300.0,
                    touches=True,
                )
            findings += self._depth(i, station)
        read = [s for s in self.stations if s.girth.taken and s.girth.mean_mm > 0]
        body = None
        if len(read) >= 2:
            places = np.array([s.at_mm for s in read])
            girth = np.array([s.girth.mean_mm for s in read])
            body = LimbBody(
                self.name, max(s.girth.spread_mm for s in read), frozen(np.column_stack([places, girth])),
                frozen(self._ratios(read, girth)), self._off(read), any(not s.depth.taken for s in read),
                self.over == "bare", self.which == "calf" and self.over == "boot", OVER[self.over], OVER_MM[self.over],
                self.side == "right",
            )  # fmt: skip
            findings += [*self._few(len(read)), *self._the_wrong_way_round(read), *self._bent(), *self._some_off(read)]
            if self.edge == "back" and body.off_mm is None:
                findings.append(Finding(
                    "look", "off-unread", "measure",
                    said("How far its back stands off the edge is read at none or one of its places: its front is taken to be "
                         "straight."), "thing.stations.0.off.first",
                    Mend(said("the edge at its front"), (("thing.edge", "front"),)),
                ))  # fmt: skip
        else:
            findings.append(Finding(
                "hold", "too-few-stations", "measure",
                said("A limb wants two girths at least, and four to be fitted; {n} are read.", n=count(len(read))),
                "thing.stations.0.girth.first",
            ))  # fmt: skip
        findings += self._people()
        return Measured(body, self._marks(body), self._callouts(), partial(self._reckonings, body), tuple(findings))

    def _depth(self, i: int, station: LimbStation) -> list[Finding]:
        """A depth that no section of such a girth has, or no limb: that of what is drawn flat is half its girth."""
        if not (
            station.depth.taken and station.girth.taken and station.depth.mean_mm > 0 and station.girth.mean_mm > 0
        ):
            return []
        girth, depth = station.girth.mean_mm, station.depth.mean_mm
        deep = {ratio: _depth_of(girth, ratio) for ratio in (FLATTEST, DEEPEST)}
        if deep[FLATTEST] - station.depth.spread_mm <= depth <= deep[DEEPEST] + station.depth.spread_mm:
            return []
        never = 2 * depth >= girth
        says = said(
            "{d} deep {at} from the thin end, it would go round more than the {g} that were read: {low} to {high} may be."
        ) if never else said(
            "{d} deep {at} from the thin end, {g} round: no limb is so, but from {low} to {high} deep."
        )  # fmt: skip
        return [Finding(
            "hold", "depth-odd", "measure",
            says.filled(d=length(depth), g=length(girth), at=length(station.at_mm), low=length(deep[FLATTEST]),
                        high=length(deep[DEEPEST])), f"thing.stations.{i}.depth.first",
            Mend(said("read again"), ((f"thing.stations.{i}.depth", Reading()),)),
        )]  # fmt: skip

    def _the_wrong_way_round(self, read: list[LimbStation]) -> list[Finding]:
        """Girths that fall from the thin end on."""
        thin, thick = read[0].girth.mean_mm, read[-1].girth.mean_mm
        if thin <= thick + GIRTH_MM or LIMBS[self.which].thin == LIMBS[self.which].thick:
            return []
        far = self.stations[0].at_mm + self.stations[-1].at_mm
        turned = tuple(s.model_copy(update={"at_mm": round(far - s.at_mm, 1)}) for s in self.stations[::-1])
        return [Finding(
            "look", "girths-fall", "measure",
            said("At its thin end it is {a} round, and {b} at the other: was it read from the thick end?", a=length(thin),
                 b=length(thick)), "thing.stations.0.girth.first",
            Mend(said("turn it end for end"), (("thing.stations", turned),)),
        )]  # fmt: skip

    def _bent(self) -> list[Finding]:
        if self.posture == "straight":
            return []
        return [Finding(
            "look", "read-bent", "measure",
            said("It was read bent: muscles are thicker then, and what is fitted to them hangs loose when it is straight."),
            "thing.posture", Mend(said("it was at ease"), (("thing.posture", "straight"),)),
        )]  # fmt: skip

    def _some_off(self, read: list[LimbStation]) -> list[Finding]:
        """A stand-off that was read at some of its places and not at others."""
        there = [s for s in read if s.off.taken]
        if self.edge == "front" or not 2 <= len(there) < len(read):
            return []
        first = next(i for i, s in enumerate(self.stations) if s.girth.taken and not s.off.taken)
        return [Finding(
            "look", "off-few", "measure",
            said("How far its back stands off the edge is read at {n} of {m} places: straight between them, and as at the "
                 "nearest beyond.", n=count(len(there)), m=count(len(read))), f"thing.stations.{first}.off.first",
        )]  # fmt: skip

    def _few(self, n: int) -> list[Finding]:
        if n >= FEW:
            return []
        mend = None if len(self.stations) > n else Mend(
            said("one more station"), (("thing.stations", self.with_station()[1]),))  # fmt: skip
        return [Finding(
            "look", "few-stations", "measure",
            said("{n} girths leave the bulges and hollows between them guessed: four at least, one at each.", n=count(n)),
            f"thing.stations.{min(n, len(self.stations) - 1)}.girth.first", mend,
        )]  # fmt: skip

    def _people(self) -> tuple[Finding, ...]:
        """The thinnest and the thickest girth beside those of people."""
        sort, over = LIMBS[self.which], OVER_MM[self.over]
        read = [(s.girth.mean_mm, i, s.girth) for i, s in enumerate(self.stations) if s.girth.by_hand]
        if not read:
            return ()
        findings: tuple[Finding, ...] = ()
        for place, (_, i, girth) in ((sort.thin, min(read)[:3]), (sort.thick, max(read)[:3])):
            findings += unlikely(place, girth, f"thing.stations.{i}.girth", over, (sort.thin, sort.thick))
        return tuple({f.at: f for f in findings}.values())

    def _ratios(self, read: list[LimbStation], girth: Values) -> Values:
        """How many times as deep as wide it is at each station: by its depth where that was read, else as limbs are."""
        first, last = LIMBS[self.which].ratio
        thick = np.argmax(girth)
        at = np.array([s.at_mm for s in read])
        share = np.clip((at - at[0]) / max(float(at[thick] - at[0]), 1.0), 0, 1)
        usual = first + (last - first) * share
        for k, station in enumerate(read):
            if station.depth.taken and station.depth.mean_mm > 0:
                usual[k] = _ratio(float(girth[k]), station.depth.mean_mm)
        return usual

    def _off(self, read: list[LimbStation]) -> Values | None:
        """How far the back stands off the edge at each station, between those where that was read as on a straight line; None
        where it was read at fewer than two, or the edge lies at the front.
        """
        there = [s for s in read if s.off.taken]
        if self.edge == "front" or len(there) < 2:
            return None
        return frozen(np.interp([s.at_mm for s in read], [s.at_mm for s in there], [s.off.mean_mm for s in there]))

    def _profile(self, body: LimbBody | None) -> tuple[Values, Values]:
        """Places along it, and how deep it is there."""
        if body is None:
            low, high = self.stations[0].at_mm, max(self.stations[-1].at_mm, self.stations[0].at_mm + 60)
            return np.array([low, high]), np.array([60.0, 80.0])
        x = np.linspace(body.read_mm[0, 0], body.read_mm[-1, 0], SAMPLES)
        girth, ratio = body.girth_at(x), body.ratio_at(x)
        return x, girth / np.pi * np.sqrt(ratio)  # near enough to draw it by

    def _marks(self, body: LimbBody | None) -> tuple[Mark, ...]:
        x, deep = self._profile(body)
        low = np.zeros(len(x))
        if body is not None and body.off_at is not None:
            low = body.off_at(x)
        ring = np.concatenate([np.column_stack([x, low]), np.column_stack([x, low + deep])[::-1]])
        meaning: Literal["assumed", "thing", "dimension"] = "dimension" if body is None else (
            "assumed" if body.assumed else "thing")  # fmt: skip
        marks = [Mark(meaning, frozen(ring), True, "limb"),
                 Mark("mark", frozen([[x[0] - 10, 0.0], [x[-1] + 10, 0.0]]), id="reference")]  # fmt: skip
        for i, station in enumerate(self.stations):
            a, d = (float(np.interp(station.at_mm, x, v)) for v in (low, low + deep))
            marks.append(
                Mark("dimension", frozen([[station.at_mm, a], [station.at_mm, d]]), id=f"thing.stations.{i}.girth")
            )
            marks += band(station.girth, station.at_mm, d, GIRTH_MM, f"thing.stations.{i}.girth", 1 / (2 * np.pi))
        return tuple(marks)

    def _callouts(self) -> tuple[Callout, ...]:
        low, deep = self.stations[0].at_mm, 70.0
        return (
            *(
                Callout(f"thing.stations.{i}.girth", said("round"), "length", None, (s.at_mm, deep), "below",
                        f"thing.stations.{i}.girth", beside=(f"thing.stations.{i}.at_mm", said("at")), tape=True)
                for i, s in enumerate(self.stations)
            ),
            *(
                Callout(f"thing.stations.{i}.depth", said("deep"), "length", None, (s.at_mm, 0.0), "above",
                        f"thing.stations.{i}.girth", unasked=True)
                for i, s in enumerate(self.stations)
            ),
            *(
                Callout(f"thing.stations.{i}.off", said("back, off it"), "length", None, (s.at_mm, 0.0), "above", "reference",
                        unasked=True)
                for i, s in enumerate(self.stations if self.edge == "back" else ())
            ),
            Callout("thing.edge", said("the straight-edge"), "count", self.edge, (low, 50.0), "left",
                    choices=(said("at its front"), said("at its back")), meant=("front", "back")),
            Callout("thing.which", said("which"), "count", self.which, (low, 20.0), "left",
                    choices=tuple(s.title for s in LIMBS.values()), meant=tuple(LIMBS)),
            Callout("thing.side", said("side"), "count", self.side, (low, 30.0), "left",
                    choices=(said("left"), said("right"))),
            Callout("thing.posture", said("held"), "count", self.posture, (low, 60.0), "left",
                    choices=tuple(POSTURES.values()), meant=tuple(POSTURES)),
            Callout("thing.over", said("over"), "count", self.over, (low, 40.0), "left",
                    choices=tuple(OVER.values()), meant=tuple(OVER)),
        )  # fmt: skip

    def _reckonings(self, body: LimbBody | None) -> tuple[Reckoning, ...]:
        if body is None:
            return ()
        places, girth = body.read_mm.T
        most, least = int(np.argmax(girth)), int(np.argmin(girth))
        deep = said("as deep as was read") if not body.assumed else said("as deep as such limbs usually are: assumed")
        return (
            reckon("thin", said("Thinnest"), length(float(girth[least])), said("{at} from the thin end",
                   at=length(float(places[least]))), (f"thing.stations.{least}.girth",)),
            reckon("thick", said("Thickest"), length(float(girth[most])), said("{at} from the thin end",
                   at=length(float(places[most]))), (f"thing.stations.{most}.girth",)),
            reckon("run", said("Measured over"), length(float(np.ptp(places))),
                   said("along a straight-edge at the front") if body.off_mm is None else
                   said("along a straight-edge behind its back, which stands up to {off} off it",
                        off=length(float(body.off_mm.max()))), ("reference",)),
            reckon("across", said("Wide where it is thickest"), length(float(girth[most]) / np.pi / np.sqrt(body.ratio[most])),
                   deep, ("limb",)),
            reckon("spread", said("Readings spread"), length(body.spread_mm), SPREAD_SAYS),
            *read_so_far([s.girth for s in self.stations]),
        )  # fmt: skip


def _ratio(girth_mm: float, depth_mm: float) -> float:
    """How many times as deep as wide an ellipse of a girth is that is so deep, as far as a limb may be: by halving."""
    low, high = FLATTEST, DEEPEST
    for _ in range(60):
        f = (low * high) ** 0.5
        low, high = (f, high) if _depth_of(girth_mm, f) < depth_mm else (low, f)
    return float((low * high) ** 0.5)


def _depth_of(girth_mm: float, ratio: float) -> float:
    """How deep an ellipse of a girth is that is so many times as deep as wide."""
    turn = np.linspace(0, 2 * np.pi, 256, endpoint=False)
    return float(girth_mm * ratio / (np.hypot(0.5 * np.sin(turn), 0.5 * ratio * np.cos(turn)).mean() * 2 * np.pi))
