"""Seam lines to seams: holes, stacks, strikes, and what is wrong with them."""

import itertools
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from ..curve import Line, Values, arc_length, area_within, corners, frozen, trim, walk
from ..draft import Draft, Ply, SeamLine
from ..finding import Finding, Mend
from ..reckoning import Reckoning, count, fine, length, percent, reckon, said
from .choices import StitchChoices
from .holes import STRIKE_GIVE_MM, Spacing, Strike, fitted, spread, strikes, struck

CORNER_RAD = np.radians(30)  # a line that turns more than this at once has a corner, and a hole on it
MOST_PITCH_CHANGE = 0.06  # a fitted pitch further than this from the wanted one is pointed out (common practice)
EASE_FINE, EASE_MOST = (
    0.02,
    0.05,
)  # partner edges may differ so much unseen, and at most when eased in (common practice)
MOST_THROUGH_MM = 10.0  # thicker stacks are marked from both faces, or drilled (common practice)


@dataclass(frozen=True, eq=False)
class Seam:
    """The holes of one seam in its frame: `points (n, 2)`, arc lengths `s_mm (n,)`, `stack_mm (n,)`, the `order` in which
    a needle visits them (a box with a cross visits some twice), `corner` holes; `teeth` of the prongs that make them.
    """

    name: str
    line: SeamLine
    points: Line
    s_mm: Values
    stack_mm: Values
    order: tuple[int, ...]
    corner: tuple[int, ...]
    teeth: tuple[int, ...]
    pitch_mm: float
    run_mm: float
    left_mm: float
    to_edge_mm: float | None

    @cached_property
    def strikes(self) -> tuple[Strike, ...]:
        """The strikes that make the holes; none when they are made one by one."""
        found: list[Strike] = []
        if self.teeth:
            for a, b in itertools.pairwise([0, *self.corner, len(self.points) - 1]):
                run = strikes(self.points[a : b + 1], self.stack_mm[a : b + 1], self.teeth)
                found += [Strike(k.first + a, k.teeth, k.fresh) for k in run]
        return tuple(found)

    @cached_property
    def nodes(self) -> Line:
        """Every place a needle can be, `(m, 2)`: the holes; of a butt seam, laid flat along its run, the holes of the left
        edge, those of the right, then the places between them in the gap.
        """
        if self.line.shape != "butt":
            return self.points
        across = self.line.margin_mm * np.repeat([-1.0, 1.0, 0.0], len(self.points))
        return frozen(np.column_stack([np.tile(self.s_mm, 3), across]))

    @property
    def node_stack_mm(self) -> Values:
        """The stack at every node."""
        return np.tile(self.stack_mm, 3) if self.line.shape == "butt" else self.stack_mm

    def hole_of(self, node: int) -> int:
        """The hole a node belongs to."""
        return node % len(self.points)

    def row_of(self, node: int) -> int:
        """-1 for a hole of the left edge of a butt seam, 1 for the right, 0 for the gap and for every other seam's holes."""
        return (0, -1, 1, 0)[node // len(self.points) + 1] if self.line.shape == "butt" else 0

    def on(self, k: int) -> Line:
        """The holes on the k-th piece the seam goes through, in that piece's frame."""
        return self.line.placed[k].onto(self.points, self.s_mm / max(float(arc_length(self.line.line)[-1]), 1e-9))

    @property
    def steps_mm(self) -> Values:
        """Distances along the order the needle takes, `(len(order) - 1,)`."""
        path = self.points[list(self.order)]
        return np.hypot(*np.diff(path, axis=0).T)


@dataclass(frozen=True, eq=False)
class Stitching:
    """All seams of a job with their sums and findings."""

    seams: tuple[Seam, ...]
    choices: StitchChoices
    findings: tuple[Finding, ...]

    @cached_property
    def reckonings(self) -> tuple[Reckoning, ...]:
        """The sums of every seam."""
        return tuple(r for s in self.seams for r in _reckonings(s, self.choices))

    def seam(self, name: str) -> Seam:
        """The seam of that name. Raises KeyError."""
        for seam in self.seams:
            if seam.name == name:
                return seam
        raise KeyError(name)


def stitch(draft: Draft, choices: StitchChoices) -> Stitching:
    """Holes on every seam line of the draft. Never raises: what will not fit becomes a finding."""
    seams: list[Seam] = []
    findings: list[Finding] = []
    for line in draft.seams:
        seam, found = _seam(line, choices)
        seams.append(seam)
        findings += found
    return Stitching(tuple(seams), choices, tuple(findings))


def seam_of(line: SeamLine, choices: StitchChoices) -> Seam:
    """The holes of one seam line."""
    return _seam(line, choices)[0]


def _seam(line: SeamLine, choices: StitchChoices) -> tuple[Seam, list[Finding]]:
    findings: list[Finding] = []
    if line.shape == "box":
        points, order, corner, changed = _box(line.line, choices.pitch_mm)
        s = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
        left = 0.0
    else:
        points, s, corner, left, changed, findings = _line(line, choices)
        order = tuple(range(len(points)))
    shares = s / max(float(arc_length(line.line)[-1]), 1e-9)
    stack = np.sum([_under(ply, line, points, shares) for ply in line.plies], axis=0)
    run = float(np.hypot(*np.diff(points[list(order)], axis=0).T).sum())
    to_edge = None
    if line.keep_off is not None:
        to_edge = float(shapely.distance(shapely.points(points), area_within(line.keep_off)).min())
    seam = Seam(
        name=line.name, line=line, points=frozen(points), s_mm=frozen(s), stack_mm=frozen(stack), order=order,
        corner=corner, teeth=choices.teeth if choices.tool == "iron" and line.shape != "box" else (),
        pitch_mm=run / max(len(order) - 1, 1) or choices.pitch_mm, run_mm=run, left_mm=left, to_edge_mm=to_edge,
    )  # fmt: skip
    return seam, findings + _seam_findings(seam, changed)


def _under(ply: Ply, line: SeamLine, points: Line, shares: Values) -> Values:
    """The thickness `(n,)` of one layer under the holes."""
    thick = ply.under(points)
    if ply.within is None:
        return thick
    area = area_within(ply.within).buffer(0.05)
    return thick * shapely.contains_xy(area, line.placed[ply.on].onto(points, shares))


def _line(line: SeamLine, choices: StitchChoices) -> tuple[Line, Values, tuple[int, ...], float, float, list[Finding]]:
    whole = float(arc_length(line.line)[-1])
    findings: list[Finding] = []
    if whole < choices.start_in_mm + choices.end_in_mm + choices.pitch_mm:
        findings.append(Finding(
            "hold", "seam-too-short", "stitch",
            said(f"The {line.name} is {{whole}} long: less than its ends and one stitch of {{pitch}}.",
                 whole=length(whole), pitch=fine(choices.pitch_mm)),
            "stitch.pitch_mm",
        ))  # fmt: skip
    sewn = trim(line.line, choices.start_in_mm, choices.end_in_mm)
    at = corners(sewn, CORNER_RAD)
    s = arc_length(sewn)
    bounds = [0.0, *s[at], float(s[-1])]
    places: list[float] = [0.0]
    corner: list[int] = []
    left = changed = 0.0
    most = max(choices.teeth)
    for a, b in itertools.pairwise(bounds):
        last_run = b == bounds[-1]
        spacing, found = _space(b - a, choices, most, line.name, last_run)
        findings += found
        places += [a + x for x in spacing.s_mm[1:]]
        left += spacing.left_mm
        changed = max(changed, spacing.changed, key=abs)
        if not last_run:
            corner.append(len(places) - 1)
    return walk(sewn, places), np.array(places) + choices.start_in_mm, tuple(corner), left, changed, findings


def _space(
    run_mm: float, choices: StitchChoices, most_teeth: int, name: str, last_run: bool
) -> tuple[Spacing, list[Finding]]:
    pitch = choices.pitch_mm
    if choices.tool != "iron":
        return fitted(run_mm, pitch), []
    plain = struck(run_mm, pitch)
    if last_run and choices.remainder == "end":
        return plain, []
    lost = spread(run_mm, pitch, most_teeth)
    if lost is not None:
        return lost, []
    finding = Finding(
        "look", "iron-does-not-fit", "stitch",
        said(f"The iron of {{pitch}} leaves {{left}} on a run of {{run}} of the {name}: more than {{give}} in each strike.",
             pitch=fine(pitch), left=length(plain.left_mm), run=length(run_mm), give=length(STRIKE_GIVE_MM)),
        "stitch.remainder",
        Mend("end the seam early", (("stitch.remainder", "end"),)) if last_run
        else Mend("mark with a wheel", (("stitch.tool", "wheel"),)),
    )  # fmt: skip
    return (plain if last_run else fitted(run_mm, pitch)), [finding]


def _box(ring: Line, pitch_mm: float) -> tuple[Line, tuple[int, ...], tuple[int, ...], float]:
    """A box with a cross: round the four sides, across, along one side again, across; all four corners are holes.

    The four corners have an odd number of lines each, so that one side must be sewn twice to do it in one go.
    """
    points: list[Line] = [ring]
    changed = 0.0

    def between(a: int, b: int, odd: bool = False) -> tuple[int, ...]:
        nonlocal changed
        span = float(np.hypot(*(ring[b] - ring[a])))
        n = max(1, round(span / pitch_mm))
        if odd and n % 2 == 0:  # an even count would put both diagonals through one hole in the middle
            n += 1 if span / pitch_mm > n else -1
        changed = max(changed, span / n / pitch_mm - 1, key=abs)
        start = sum(len(p) for p in points)
        points.append(ring[a] + (ring[b] - ring[a]) * (np.arange(1, n) / n)[:, None])
        return tuple(range(start, start + n - 1))

    ab, bc, cd, da = (between(a, b) for a, b in ((0, 1), (1, 2), (2, 3), (3, 0)))
    ac, db = between(0, 2, odd=True), between(3, 1, odd=True)
    order = (0, *ab, 1, *bc, 2, *cd, 3, *da, 0, *ac, 2, *cd, 3, *db, 1)
    return np.concatenate(points), order, (0, 1, 2, 3), changed


def _seam_findings(seam: Seam, changed: float) -> list[Finding]:
    found = _partner_findings(seam)
    if abs(changed) > MOST_PITCH_CHANGE and seam.line.shape != "box":
        found.append(Finding(
            "look", "pitch-changed", "stitch",
            said(f"The pitch on the {seam.name} comes out {{share}} off what was asked.", share=percent(abs(changed))),
            "stitch.pitch_mm",
        ))  # fmt: skip
    thick = float(seam.stack_mm.max())
    if thick > MOST_THROUGH_MM:
        found.append(Finding(
            "look", "stack-too-thick", "stitch",
            said(f"The stack on the {seam.name} reaches {{t}}; straight through goes to {{most}}. Mark both faces and "
                 "meet in the middle, or drill 1.5 mm on a plate (eyes, and a clamp).",
                 t=length(thick), most=length(MOST_THROUGH_MM)),
            seam.line.stack_at,
        ))  # fmt: skip
    if seam.to_edge_mm is not None and seam.to_edge_mm < seam.line.keep_off_mm - 0.05:
        found.append(Finding(
            "hold", "thread-near-edge", "stitch",
            said(f"A stitch of the {seam.name} comes within {{d}} of the cutting edge as the blade is drawn; {{least}} is "
                 "the least.", d=length(seam.to_edge_mm), least=length(seam.line.keep_off_mm)),
            seam.line.keep_off_at,
        ))  # fmt: skip
    if seam.line.margin_mm < thick / 2 and len(seam.line.plies) > 3:
        found.append(Finding(
            "look", "margin-thin", "stitch",
            said(f"The {seam.name} goes through more than three plies, {{t}} thick, with {{e}} of margin; half the stack is "
                 "wanted.", t=length(thick), e=length(seam.line.margin_mm)), seam.line.margin_at,
        ))  # fmt: skip
    return found


def eased(seam: Seam) -> float:
    """How much longer or shorter the partner that differs most is than the seam's own line, as a share."""
    own = max(float(arc_length(seam.line.line)[-1]), 1e-9)
    others = [float(arc_length(p.along)[-1]) / own - 1 for p in seam.line.placed if p.along is not None]
    return max(others, key=abs, default=0.0)


def _partner_findings(seam: Seam) -> list[Finding]:
    share = eased(seam)
    if abs(share) <= EASE_FINE:
        return []
    wrong = abs(share) > EASE_MOST
    how = "one would pucker" if wrong else "ease it in hole by hole, with marks to keep step"
    return [Finding(
        "hold" if wrong else "look", "partners-differ", "stitch",
        said(f"The edges of the {seam.name} differ by {{share}} in length: {how}. {{fine}} passes unseen, {{most}} at most.",
             share=percent(abs(share)), fine=percent(EASE_FINE), most=percent(EASE_MOST)), seam.line.margin_at,
    )]  # fmt: skip


def _reckonings(seam: Seam, choices: StitchChoices) -> tuple[Reckoning, ...]:
    name, n = seam.name, len(seam.points)
    thin, thick = float(seam.stack_mm.min()), float(seam.stack_mm.max())
    shares = seam.s_mm / max(float(arc_length(seam.line.line)[-1]), 1e-9)
    thicknesses = [(p.name, _under(p, seam.line, seam.points, shares)) for p in seam.line.plies]
    plies = [(name, float(np.max(t))) for name, t in thicknesses if np.any(t > 0)]
    if seam.line.shape != "box":
        holes = said("{run:n} by {pitch}, and one more", run=length(seam.run_mm), pitch=fine(seam.pitch_mm))
    else:
        holes = said("a box and its two diagonals, {n} stitches; one side twice", n=count(len(seam.order) - 1))
    found = [
        reckon(f"{name}/holes", f"Holes, {name}", count(n), holes, (name,)),
        reckon(f"{name}/pitch", f"Pitch, {name}", fine(seam.pitch_mm),
               said("the iron keeps it; {left} left over at the end", left=length(seam.left_mm))
               if choices.tool == "iron" and seam.line.shape != "box"
               else said("{run:n} over {n} stitches; {p} was asked", run=length(seam.run_mm),
                         n=count(len(seam.order) - 1), p=fine(choices.pitch_mm)), (name,)),
        reckon(f"{name}/stack", f"Stack, {name}", length(thick),
               said(" + ".join(f"{p} {{t{i}:n}}" for i, (p, _) in enumerate(plies))
                    + (", {thin} where the welt is skived" if thick - thin > 0.05 else ""),
                    thin=length(thin), **{f"t{i}": length(t) for i, (_, t) in enumerate(plies)}), (name,)),
    ]  # fmt: skip
    if seam.strikes:
        used = sorted({k.teeth for k in seam.strikes}, reverse=True)
        of = ", ".join(f"{sum(k.teeth == m for k in seam.strikes)} with {m}" for m in used)
        found.append(reckon(f"{name}/strikes", f"Strikes, {name}", count(len(seam.strikes)),
                            said(f"{of} {'teeth' if used != [1] else 'tooth'}, first tooth in the last hole"),
                            (name,)))  # fmt: skip
    if seam.to_edge_mm is not None:
        found.append(reckon(f"{name}/edge", "Blade edge to thread", length(seam.to_edge_mm),
                            said("least over the whole way out; {least} wanted", least=length(seam.line.keep_off_mm)),
                            (name, "blade")))  # fmt: skip
    return tuple(found)
