"""What things of panels have in common: outlines traced from tape, paper, card or leather, each with its corners and the holes
in it; as they were traced, or stretched to what was read; and the girths they have to go round.
"""

from collections.abc import Iterator
from typing import Annotated, Any, ClassVar, Literal, Self

import numpy as np
import shapely
from pydantic import Field, field_validator

from ..curve import Line, arc_length, area_within, frozen, walk
from ..drawing import Callout, Handle, Label, Mark
from ..errors import RefusedChange
from ..finding import Finding, Mend
from ..frozen import Frozen
from ..quantity import FRENCH_INCH_MM, INCH_MM
from ..reckoning import Reckoning, count, fine, length, reckon, times
from ..ring import closed, place_on
from ..texts import Said, said, several, tell, verbatim
from .body import Body, FingerOn, Level, Measured, PanelsBody
from .fingers import FINGERS, spoke
from .hole_rows import hole_rows
from .panel import MOST_HOLES, STILL, Corner, Lengths, Letter, Panel, Sized, shape_of, stretch_of
from .people import unlikely
from .readings import MOST_LONG_MM, RIGID_MM, SPREAD_SAYS, Reading, beside_outline, read_so_far
from .thing import Thing
from .traced import DREW_WITH, Drawn, dragged_softly

APART_MM = 40.0  # between two panels as they are laid side by side
GIRTH_MM = 5.0  # two girths should agree to this (common practice)
NEAR_MM, AT_MM = 6.0, 2.0  # an outline pointed at so near is meant, and a point of it so near
LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWX"
OVER_MM = 120.0  # what is worn below adds so much at most to a girth of the trunk (from memory)
SIZED: dict[Sized, Said] = {"traced": said("as traced"), "read": said("as read")}
SIDE_MM, SIDE = 9.0, 0.07  # the side that is seen is named so far below the letter, or by a share of the height
LEAST_TURN_RAD = 0.5  # turned by less it stands as it did
SHORT_MM = 3.0  # a fold of leather 2 mm thick takes so much, π/2 of that
ROUND = {"chest": said("chest"), "waist": said("waist"), "hand": said("hand"), "other": said("elsewhere")}


class LevelOn(Frozen):
    """How far below its top a level crosses a panel."""

    letter: Letter
    at_mm: Annotated[float, Field(ge=-2000, le=2000)]


class PanelLevel(Frozen):
    """A girth of the wearer, over what is worn below, and where it crosses the panels; one it lies above or below it misses."""

    round: Literal["chest", "waist", "hand", "other"] = "chest"
    girth: Reading = Reading()
    on: Annotated[tuple[LevelOn, ...], Field(max_length=24)] = ()


class PanelSet(Thing):
    """The panels in their order, `sized` as they were traced or stretched to what was read; the levels at which they are added
    up. A subclass says what they are of, and whether its panels are `holed`.
    """

    name: str = "panels"
    panels: Annotated[tuple[Panel, ...], Field(max_length=24)] = ()
    levels: Annotated[tuple[PanelLevel, ...], Field(max_length=8)] = ()
    sized: Sized = "traced"

    gives: ClassVar[type[Body]] = PanelsBody
    many: ClassVar[bool] = True
    holed: ClassVar[bool] = False
    """Whether what is pointed at within a panel is a hole of it."""
    of_hand: ClassVar[bool] = False
    rounds: ClassVar[tuple[str, ...]] = ("chest", "waist", "other")
    """What a level may go round, the likeliest first."""
    caution: ClassVar[Said] = said("A tape wrap is cut off with blunt-nosed scissors, away from the skin.")

    @field_validator("panels")
    @classmethod
    def _lettered(cls, panels: tuple[Panel, ...]) -> tuple[Panel, ...]:
        if len({p.letter for p in panels}) < len(panels):
            raise ValueError(tell("Two panels have one letter."))
        return panels

    @classmethod
    def blank(cls) -> Self:
        """No panel yet."""
        return cls.model_validate({})

    def traced(self, drawn: Drawn) -> tuple[tuple[str, Any], ...]:
        """One panel more, named by the marks beside it where that name is free. Raises RefusedChange when there is no room."""
        taken = {p.letter for p in self.panels}
        free = [letter for letter in LETTERS if letter not in taken and letter > max(taken, default="")]
        free += [letter for letter in LETTERS if letter not in taken]
        if not free:
            raise RefusedChange(tell("There are {n} panels already.", n=len(self.panels)), "thing.panels")
        named = LETTERS[drawn.marks - 1] if 0 < drawn.marks <= len(LETTERS) else ""
        panel = Panel.of_ring(named if named in free else free[0], drawn.ring, drawn.drawn_with, drawn.holes)
        middle = self.middle_of(panel)
        levels = tuple(
            k.model_copy(update={"on": (*k.on, LevelOn(letter=panel.letter, at_mm=round(middle, 1)))})
            for k in self.levels
        )
        return ("panels", (*self.panels, panel)), ("levels", levels)

    def with_station(self, at_mm: float | None = None) -> tuple[str, tuple[Any, ...]]:
        """A level more, across the middle of every panel. Raises RefusedChange when there is none."""
        if not self.panels:
            raise RefusedChange(tell("There is no panel yet that a level could cross."), "thing.levels")
        on = tuple(LevelOn(letter=p.letter, at_mm=round(self.middle_of(p), 1)) for p in self.panels)
        rounds = [k.round for k in self.levels]
        free = next((r for r in self.rounds if r not in rounds), "other")
        return "levels", (*self.levels, PanelLevel(round=free, on=on))

    def middle_of(self, panel: Panel) -> float:
        """Where a level that is put on a panel crosses it."""
        return max(y for _, y in panel.ring) / 2

    def place_of(self, x: float, y: float) -> float | None:
        """Levels are not set where the drawing is pointed at."""
        return None

    def without(self, path: str) -> tuple[str, Any]:
        """Without a corner, a hole, a level, or a panel with all that was said of it."""
        _, part, number, which, of, *_ = [*path.split("."), "", "", "", "", ""]
        if part == "panels" and which == "corners":
            panel = self.panels[int(number)]
            return f"thing.panels.{number}.corners", tuple(c for k, c in enumerate(panel.corners) if k != int(of))
        if part == "panels" and which == "holes":
            holes = self.panels[int(number)].holes
            return f"thing.panels.{number}.holes", tuple(h for k, h in enumerate(holes) if k != int(of))
        if part == "levels" and number.isdigit():
            return "thing.levels", tuple(k for i, k in enumerate(self.levels) if i != int(number))
        if part == "panels" and which == "fingers":
            fingers = self.panels[int(number)].fingers
            return f"thing.panels.{number}.fingers", tuple(f for k, f in enumerate(fingers) if k != int(of))
        if part == "panels" and number.isdigit():
            gone = self.panels[int(number)].letter
            levels = tuple(k.model_copy(update={"on": tuple(o for o in k.on if o.letter != gone)}) for k in self.levels)
            kept = tuple(p for p in self.panels if p.letter != gone)
            return "thing", self.model_copy(update={"panels": kept, "levels": levels})
        return super().without(path)

    def laid(self, path: str, *, by_rad: float = 0.0, over: bool = False) -> tuple[str, Any]:
        """A panel turned, or turned over; levels cross the middle of one that stands another way."""
        _, part, number, *_ = [*path.split("."), "", "", ""]
        k = int(number) if part == "panels" and number.isdigit() else 0 if len(self.panels) == 1 else -1
        if not 0 <= k < len(self.panels):
            raise RefusedChange(
                tell("Which panel?"),
                "thing.panels",
                tell("Put the focus on one of its readings, or hold a corner of it."),
            )
        panel = self.panels[k]
        new = panel.over() if over else panel.turned(by_rad)
        panels = (*self.panels[:k], new, *self.panels[k + 1 :])
        if over or abs(by_rad) < LEAST_TURN_RAD:
            return "thing.panels", panels
        middle = round(self.middle_of(new), 1)
        levels = tuple(
            v.model_copy(update={"on": tuple(o.model_copy(update={"at_mm": middle}) if o.letter == new.letter else o
                                             for o in v.on)}) for v in self.levels
        )  # fmt: skip
        return "thing", self.model_copy(update={"panels": panels, "levels": levels})

    def with_point(self, x: float, y: float) -> tuple[str, Any] | None:
        """A corner more where an outline was pointed at; a hole more within it, where its panels have some."""
        for k, (panel, left) in enumerate(zip(self.panels, self._lefts(), strict=True)):
            here, ring = np.array([x - left, y]), np.array(panel.ring)
            line = shapely.LineString(closed(ring))
            if line.distance(shapely.Point(here)) > NEAR_MM:
                if self.holed and len(panel.holes) < MOST_HOLES and shapely.contains_xy(area_within(ring), *here):
                    hole = (round(float(here[0]), 2), round(float(here[1]), 2))
                    return f"thing.panels.{k}.holes", (*panel.holes, hole)
                continue
            n = next(i for i in range(1, 100) if all(c.n != i for c in panel.corners))
            apart = np.hypot(*(ring - here).T)
            near = int(np.argmin(apart))
            if apart[near] < AT_MM:
                if any(c.at == near for c in panel.corners):
                    return None
                return self._with_corner(k, panel.ring, panel.corners, n, near)
            along = line.project(shapely.Point(here))
            after = int(np.searchsorted(arc_length(closed(ring)), along, side="right")) - 1
            on = line.interpolate(along)
            point = (round(float(on.x), 2), round(float(on.y), 2))
            moved = tuple(c if c.at <= after else Corner(n=c.n, at=c.at + 1) for c in panel.corners)
            return self._with_corner(
                k, (*panel.ring[: after + 1], point, *panel.ring[after + 1 :]), moved, n, after + 1
            )
        return None

    def _with_corner(self, k: int, ring: Any, old: tuple[Corner, ...], n: int, at: int) -> tuple[str, Any] | None:
        if len(old) >= 60 or len(ring) > 4000:
            return None
        found = tuple(sorted((*old, Corner(n=n, at=at)), key=lambda c: c.at))
        return f"thing.panels.{k}", self.panels[k].model_copy(update={"ring": ring, "corners": found})

    def handles(self) -> tuple[Handle, ...]:
        """The corners of every panel, its holes, and where each level crosses it."""
        found, lefts = [], dict(zip((p.letter for p in self.panels), self._lefts(), strict=True))
        for k, panel in enumerate(self.panels):
            for j, corner in enumerate(panel.corners):
                x, y = panel.ring[corner.at]
                name = said("corner {name}", name=verbatim(f"{panel.letter}{corner.n}"))
                found.append(Handle(f"thing.panels.{k}.corners.{j}.at", name, (x + lefts[panel.letter], y)))
            for j, finger in enumerate(panel.fingers):
                ends = (("from_mm", said("{finger} of panel {letter}, its base, one end")),
                        ("to_mm", said("{finger} of panel {letter}, its base, other end")))  # fmt: skip
                for end, name in ends:
                    x, y = walk(closed(np.array(panel.ring)), [getattr(finger, end)])[0].tolist()
                    name = name.filled(finger=FINGERS[finger.which], letter=verbatim(panel.letter))
                    found.append(Handle(f"thing.panels.{k}.fingers.{j}.{end}", name, (x + lefts[panel.letter], y)))
            for j, (x, y) in enumerate(panel.holes if self.holed else ()):
                name = said("hole {n} of panel {letter}", n=j + 1, letter=verbatim(panel.letter))
                found.append(Handle(f"thing.panels.{k}.holes.{j}", name, (x + lefts[panel.letter], y)))
        for k, level in enumerate(self.levels):
            for j, on in enumerate(level.on):
                if on.letter in lefts:
                    name = said("{level} on panel {letter}", level=ROUND[level.round], letter=verbatim(on.letter))
                    found.append(
                        Handle(f"thing.levels.{k}.on.{j}.at_mm", name, (lefts[on.letter] - APART_MM / 4, on.at_mm))
                    )
        return tuple(found)

    def dragged(self, path: str, to: Any) -> tuple[str, Any]:
        """A corner takes the outline beside it along, less the farther off that lies; a hole moves, a level up or down."""
        _, part, number, sort, which, *_ = path.split(".")
        if part == "levels":
            return path, float(to[1])
        k = int(number)
        if sort == "fingers":
            x, y = float(to[0]) - self._lefts()[k], float(to[1])
            return path, round(place_on(np.array(self.panels[k].ring), (x, y)), 1)
        if sort == "holes":
            return path, (round(float(to[0]) - self._lefts()[k], 2), round(float(to[1]), 2))
        panel = self.panels[k]
        ring, at = np.array(panel.ring), panel.corners[int(which)].at
        by = np.array(to) - ring[at] - [self._lefts()[k], 0.0]
        new = dragged_softly(ring, at, by, tuple(c.at for c in panel.corners if c.at != at))
        points = tuple((round(float(x), 2), round(float(y), 2)) for x, y in new)
        moved = panel.model_copy(update={"ring": points})
        return f"thing.panels.{k}", moved.measured() if panel.high.outline is not None else moved

    def _lefts(self) -> list[float]:
        """Where each panel begins as they are laid side by side."""
        wide = [max(x for x, _ in p.ring) - min(x for x, _ in p.ring) + APART_MM for p in self.panels]
        return [float(v) for v in np.concatenate([[0.0], np.cumsum(wide)])[: len(wide)]]

    def measure(self) -> Measured:
        """The panels by their edges, and the girths at the levels; holds where there is no panel, or one crosses itself."""
        findings: list[Finding] = []
        read = []
        for k, panel in enumerate(self.panels):
            name = said("The height of panel {letter}", letter=verbatim(panel.letter))
            read.append((f"thing.panels.{k}.high", name, panel.high))
            findings += panel.high.findings(f"thing.panels.{k}.high", name, RIGID_MM, MOST_LONG_MM)
            if panel.wide.by_hand:
                wide = said("The width of panel {letter}", letter=verbatim(panel.letter))
                findings += panel.wide.findings(f"thing.panels.{k}.wide", wide, RIGID_MM, MOST_LONG_MM)
                read.append((f"thing.panels.{k}.wide", wide, panel.wide))
            if not shapely.Polygon(panel.ring).is_valid:
                findings.append(Finding(
                    "hold", "outline-crosses", "measure",
                    said("The outline of panel {letter} crosses itself.", letter=verbatim(panel.letter)),
                    f"thing.panels.{k}.high",
                ))  # fmt: skip
        if self.sized == "traced":
            findings += beside_outline(read, self)
        findings += self._missing()
        findings += self._of_fingers()
        for k, level in enumerate(self.levels):
            path, name = f"thing.levels.{k}.girth", said("The girth, {level}", level=ROUND[level.round])
            findings += level.girth.findings(path, name, GIRTH_MM, MOST_LONG_MM)
            if level.round in ("chest", "waist"):
                findings += unlikely(level.round, level.girth, path, OVER_MM)
        body = None
        if self.panels and all(shapely.Polygon(p.ring).is_valid for p in self.panels):
            readings = [*(p.high for p in self.panels), *(k.girth for k in self.levels)]
            shapes = {p.letter: shape_of(p, self.sized, self.lengths) for p in self.panels}
            body = PanelsBody(
                self.name, max(r.spread_mm for r in readings), shapes, tuple(self._levels()),
                fingers=tuple(self._fingers_on()), across=self._across_to(), follow=self._following(),
                hand=self.of_hand,
            )  # fmt: skip
        elif not self.panels:
            findings.append(Finding(
                "hold", "no-panels", "measure",
                said("A panel has not been measured yet: trace one from a picture, or take its outline from a file."),
                "thing.panels",
            ))  # fmt: skip
        marks, callouts = self._drawn()
        return Measured(body, marks, callouts, lambda: self._sums(body), tuple(findings))

    @property
    def lengths(self) -> Lengths:
        """How long fingers are to be on its panels."""
        return ()

    def _of_fingers(self) -> Iterator[Finding]:
        """What there is to say of fingers."""
        yield from ()

    def _fingers_on(self) -> Iterator[FingerOn]:
        """Fingers that were read, where they lie on its panels."""
        yield from ()

    def _across_to(self) -> frozenset[str]:
        """Which of its panels grow across to the first girth."""
        return frozenset()

    def _following(self) -> frozenset[str]:
        """Which of its panels follow those they meet."""
        return frozenset()

    def more_readings(self) -> tuple[Reading, ...]:
        """What else was read."""
        return ()

    def _missing(self) -> Iterator[Finding]:
        """Rows of holes that lack some."""
        for k, panel in enumerate(self.panels):
            for edge, row in (
                hole_rows(shape_of(panel.model_copy(update={"short_mm": 0.0}))).items() if panel.holes else ()
            ):
                lacks = row.missing()
                if len(lacks):
                    more = tuple((round(float(x), 2), round(float(y), 2)) for x, y in lacks)
                    into = said("put it in") if len(more) == 1 else said("put them in")
                    yield Finding(
                        "look", "hole-missing", "measure",
                        several("Along {edge} a hole seems to be missing: there is room for one more at {pitch}.",
                                "Along {edge} {n} holes seem to be missing: there is room for them at {pitch}.",
                                n=count(len(lacks)), edge=verbatim(edge), pitch=fine(row.pitch_mm)), f"holes-{panel.letter}",
                        Mend(into, ((f"thing.panels.{k}.holes", (*panel.holes, *more)),)),
                    )  # fmt: skip

    def _levels(self) -> Iterator[Level]:
        """The levels that were read, with the lines across the panels that they cross."""
        panels = {p.letter: p for p in self.panels}
        for level in self.levels:
            if level.girth.taken and level.girth.mean_mm > 0:
                across = (
                    (o.letter, _across(p, o.at_mm) @ (stretch_of(p, self.lengths) if self.sized == "read" else STILL))
                    for o in level.on if (p := panels.get(o.letter)) is not None
                )  # fmt: skip
                yield Level(
                    ROUND[level.round], level.girth.mean_mm, tuple((k, line) for k, line in across if len(line))
                )

    def labels(self) -> tuple[Label, ...]:
        """A letter on each panel, and which side of it is seen."""
        found: list[Label] = []
        for p, left in zip(self.panels, self._lefts(), strict=True):
            x, y = _middle(np.array(p.ring), left)
            below = max(SIDE_MM, SIDE * max(v for _, v in p.ring))
            found += [Label(said("{letter}", letter=verbatim(p.letter)), (x, y), strong=True),
                      Label(said("outer side"), (x, y + below))]  # fmt: skip
        return tuple(found)

    def _drawn(self) -> tuple[tuple[Mark, ...], tuple[Callout, ...]]:
        marks: list[Mark] = []
        callouts: list[Callout] = []
        lefts = dict(zip((p.letter for p in self.panels), self._lefts(), strict=True))
        panels = {p.letter: p for p in self.panels}
        for k, panel in enumerate(self.panels):
            left, ring = lefts[panel.letter], np.array(panel.ring)
            here = frozen(ring + [left, 0.0])
            marks.append(Mark("thing", here, True, f"thing.panels.{k}.high"))
            if panel.corners:
                marks.append(Mark("done", frozen(here[[c.at for c in panel.corners]]), id="corners", size_mm=6.0))
            low = float(ring[:, 1].max())
            at = (float(here[int(np.argmax(ring[:, 1])), 0]), low)
            name = said("high, {letter}", letter=verbatim(panel.letter))
            callouts += [
                Callout(f"thing.panels.{k}.high", name, "length", None, at, "below", f"thing.panels.{k}.high", tape=True),
                Callout(f"thing.panels.{k}.wide", said("wide, {letter}", letter=verbatim(panel.letter)), "length", None,
                        at, "below", f"thing.panels.{k}.high", tape=True, unasked=True),
            ]  # fmt: skip
            if self.holed:
                fold = f"thing.panels.{k}.fold_mm"
                across = (
                    _across(panel, float(ring[:, 1].min()) + panel.fold_at_mm) if panel.short_mm else np.zeros((0, 2))
                )
                if len(across):
                    marks.append(Mark("fold", frozen(across + [left, 0.0]), id=fold, pairs=True))
                letter = verbatim(panel.letter)
                callouts.append(Callout(
                    f"thing.panels.{k}.short_mm", said("lost, {letter}", letter=letter), "length", panel.short_mm, at, "below",
                    fold, part=said("a fold of {letter}", letter=letter), usual=SHORT_MM,
                ))  # fmt: skip
                if panel.short_mm:
                    callouts.append(Callout(
                        fold, said("fold at, {letter}", letter=letter), "length", round(panel.fold_at_mm, 1), at, "below", fold,
                    ))  # fmt: skip
            if panel.holes:
                marks.append(
                    Mark("hole", frozen(np.array(panel.holes) + [left, 0.0]), id=f"holes-{panel.letter}", size_mm=2.0)
                )
            if panel.drawn_with != "nothing":
                name = said("{letter} was drawn with", letter=verbatim(panel.letter))
                top = (float(here[int(np.argmin(ring[:, 1])), 0]), 0.0)
                callouts.append(Callout(f"thing.panels.{k}.drawn_with", name, "count", panel.drawn_with, top, "above",
                                        choices=tuple(DREW_WITH.values()), meant=tuple(DREW_WITH)))  # fmt: skip
        for k, level in enumerate(self.levels):
            ends = []
            for on in (o for o in level.on if o.letter in panels):
                line = _across(panels[on.letter], on.at_mm)
                if len(line):
                    ends.append(line + [lefts[on.letter], 0.0])
            at = (float(ends[0][0, 0]), float(ends[0][0, 1])) if ends else (0.0, 0.0)
            if ends:
                marks.append(Mark("dimension", frozen(np.concatenate(ends)), id=f"thing.levels.{k}.girth", pairs=True))
            callouts += [
                Callout(f"thing.levels.{k}.girth", ROUND[level.round], "length", None, at, "left",
                        f"thing.levels.{k}.girth", tape=True),
                Callout(f"thing.levels.{k}.round", said("level {k} goes round", k=k + 1), "count", level.round, at, "left",
                        choices=tuple(ROUND[r] for r in self.rounds), meant=self.rounds, seldom=True),
            ]  # fmt: skip
        self._drawn_too(lefts, marks, callouts)
        if marks:
            callouts.append(Callout("thing.sized", said("made as large"), "count", self.sized, (0.0, 0.0), "left",
                                    choices=tuple(SIZED.values()), meant=tuple(SIZED)))  # fmt: skip
        else:
            marks.append(Mark("dimension", frozen([[0, 0], [160, 0], [160, 100], [0, 100]]), True, "panels"))
        return tuple(marks), tuple(callouts)

    def _drawn_too(self, lefts: dict[str, float], marks: list[Mark], callouts: list[Callout]) -> None:
        """What else is drawn on its panels, which begin at `lefts`."""

    def _sums(self, body: PanelsBody | None) -> tuple[Reckoning, ...]:
        if body is None:
            return ()
        each = [
            reckon(f"panel-{letter}", said("Panel {letter}, edges", letter=verbatim(letter)), count(len(shape.edges)),
                   said("{around} round in all", around=length(sum(float(arc_length(e)[-1]) for e in shape.edges.values()))),
                   (f"thing.panels.{k}.high",))
            for k, (letter, shape) in enumerate(body.panels.items())
        ]  # fmt: skip
        says = said("{p} apart, {stray} about it, {off} in: {inch:n} to the inch, {french:n} to the old French inch")
        rows = [
            reckon(f"holes-{edge}", said("Holes along {edge}", edge=verbatim(edge)), count(len(row.points)),
                   says.filled(p=fine(row.pitch_mm), stray=fine(row.stray_mm), off=length(row.in_mm),
                               inch=times(INCH_MM / row.pitch_mm), french=times(FRENCH_INCH_MM / row.pitch_mm)),
                   (f"holes-{edge[0]}",))
            for shape in body.panels.values() for edge, row in hole_rows(shape).items()
        ]  # fmt: skip
        spread = reckon("spread", said("Readings spread"), length(body.spread_mm), SPREAD_SAYS)
        return (
            *each,
            *rows,
            spread,
            *read_so_far([*(p.high for p in self.panels), *(k.girth for k in self.levels), *self.more_readings()]),
        )


def _across(panel: Panel, y: float) -> Line:
    """Where a panel is crossed so far below its top: strokes `(2 n, 2)` in its own frame; none where it does not reach."""
    ring = np.array(panel.ring)
    low, high = float(ring[:, 0].min()) - 1.0, float(ring[:, 0].max()) + 1.0
    area = area_within(ring)
    for finger in panel.fingers:  # a girth does not go round them
        lies = spoke(ring, finger)
        area = area if lies is None or finger.which == "fingers" else area.difference(area_within(lies.run))
    cut = area.intersection(shapely.LineString([(low, y), (high, y)]))
    pairs = [shapely.get_coordinates(g)[[0, -1]] for g in getattr(cut, "geoms", [cut]) if g.length > 0]
    return frozen(np.concatenate(pairs)) if pairs else np.zeros((0, 2))


def _middle(ring: Line, left: float) -> tuple[float, float]:
    """A place well within an outline."""
    at = area_within(ring).representative_point()
    return float(at.x) + left, float(at.y)
