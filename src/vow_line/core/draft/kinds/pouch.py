"""The moulded holster or pouch: two faces worked down wet over the thing, or the front alone over a flat back, sewn close
round it.

Flat coordinates are the front's, seen from outside: u across from the middle line of the thing, v along it, growing to the
nose; the mouth lies where the thing still stands out of it.
"""

from dataclasses import dataclass
from functools import lru_cache, partial
from typing import Annotated, ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field
from shapely.geometry import Polygon

from ...curve import Line, Values, arc_length, frozen
from ...drawing import Callout, Label, Mark
from ...finding import Finding, Mend
from ...measure import Body, MouldedBody
from ...reckoning import Reckoning, length, percent, reckon, said
from ...ring import closed
from ..draw_out import squeeze_grade
from ..kind import KindOfPiece
from ..loop import BeltLoop, belt_loop
from ..pieces import Area, Draft, Edge, Piece, Placed, Ply, SeamLine, Section, WayOut, even_ply
from ..section import between_faces
from ..wrap import NEUTRAL_FORMED, drawn_over

EASED_MM = 8.0  # hollows of the outline are filled to this radius: a seam does not follow tighter ones
MOST_WORKED = 0.35  # height over width beyond which a face worked in one piece puckers (from memory)
FLOOR_MM = 0.1

Size = Annotated[float, Field(gt=0, le=200)]


@dataclass(frozen=True, slots=True, eq=False)
class _Shape:
    """What follows from the body: rows from mouth to nose, how much longer the front is to either side and over the nose, and
    the lines of back and front from the mouth's left round the nose to its right.
    """

    x: Values
    half: Values
    more: Values
    over_nose: float
    passing: float
    gives: float
    back_thread: Line
    front_thread: Line
    back_ring: Line
    front_ring: Line
    thing: Line
    mouth: float


class Pouch(KindOfPiece):
    """Choices for a moulded pouch; every length in mm. `worked_mm` is how far below a taut line a face is worked down;
    `moulded` says whether both faces are, or the front alone.
    """

    kind: Literal["pouch"] = "pouch"
    says: ClassVar[str] = "moulded holster or pouch"
    fits: ClassVar[type[Body]] = MouldedBody
    goes_in_mm: Annotated[float, Field(gt=0, le=1000)] = 120.0
    close_mm: Annotated[float, Field(ge=0, le=60)] = 3.0
    margin_mm: Annotated[float, Field(gt=0, le=60)] = 6.0
    worked_mm: Annotated[float, Field(ge=0, le=100)] = 15.0
    moulded: Literal["both", "front"] = "both"
    welts: Annotated[int, Field(ge=0, le=4)] = 0
    welt_mm: Annotated[float, Field(gt=0, le=15)] = 3.0
    mouth_ease_mm: Annotated[float, Field(ge=-30, le=60)] = 1.0
    worn: Literal["right", "left"] = "right"
    loop: BeltLoop | None = BeltLoop()

    def draft(self, body: MouldedBody, leather_mm: float) -> Draft:
        """Back, front, welts and their seam. Never raises."""
        shape = _shape(
            body, self.goes_in_mm, self.close_mm, self.margin_mm, self.worked_mm, self.welts * self.welt_mm,
            self.mouth_ease_mm, self.moulded == "both",
        )  # fmt: skip
        side = 1.0 if self.worn == "right" else -1.0
        front = self._panel("front", shape.front_ring, shape.front_thread, shape, leather_mm, side)
        back = self._panel("back", shape.back_ring, shape.back_thread, shape, leather_mm, -side)
        pieces, seams = [front, back], []
        if self.welts:
            pieces.append(self._welt(shape, side))
        if self.loop:
            loop, loop_seam = belt_loop(self.loop, "back", 0.0, shape.mouth, self.margin_mm, leather_mm, NEUTRAL_FORMED)
            pieces.append(loop)
            seams.append(loop_seam)
        seams.append(self._seam(shape, leather_mm, side))
        turned = np.array([side, 1.0])
        return Draft(
            pieces=tuple(pieces),
            seams=tuple(seams),
            marks=(Mark("dimension", frozen([[0.0, shape.mouth], [0.0, shape.x[-1]]])),),
            labels=(Label(said("outside"), (0.0, float(shape.x[-1]) - 16)),),
            callouts=self._callouts(shape, leather_mm),
            tell=partial(self._reckonings, body, shape, leather_mm),
            findings=self._findings(body, shape),
            shown=("front", "back", *(("welt",) if self.welts else ())),
            way_out=WayOut(float(np.ptp(shape.x)), lambda mm: frozen(shape.thing * turned - [0.0, mm]),
                           (shape.gives - shape.passing) / 2, 0.0),
            section=partial(self._section, body, leather_mm),
            wet=True,
        )  # fmt: skip

    def _panel(self, name: str, ring: Line, thread: Line, shape: _Shape, leather_mm: float, side: float) -> Piece:
        turned = np.array([side, 1.0])
        ring, thread = ring * turned, thread * turned
        inside = ring[:, 1] > shape.mouth + 1e-6
        seam_edge = ring[inside] if inside.any() else ring
        ends = ring[~inside]
        glue = _band(ring, thread)
        return Piece(
            name, frozen(ring), leather_mm,
            edges=(Edge("seam edge", "seam", frozen(seam_edge), "last", 2 + self.welts),
                   Edge("mouth", "mouth", frozen(ends if len(ends) > 1 else ring[:2]), "early")),
            glue=(Area(name, frozen(glue)),), mirrored=name == "back",
        )  # fmt: skip

    def _welt(self, shape: _Shape, side: float) -> Piece:
        turned = np.array([side, 1.0])
        inner = _inset(shape.front_thread, min(self.close_mm, self.margin_mm) * 0.9) * turned
        outer = _inset(shape.front_thread, -self.margin_mm) * turned
        ring = np.concatenate([outer, inner[::-1]])
        return Piece(
            "welt", frozen(ring), self.welt_mm,
            edges=(Edge("outer", "seam", frozen(outer), "last", 2 + self.welts), Edge("inner", "free", frozen(inner), "early")),
            count=self.welts,
        )  # fmt: skip

    def _seam(self, shape: _Shape, leather_mm: float, side: float) -> SeamLine:
        turned = np.array([side, 1.0])
        welts = [even_ply(f"welt {k + 1}" if self.welts > 1 else "welt", self.welt_mm) for k in range(self.welts)]
        plies: tuple[Ply, ...] = (even_ply("back", leather_mm), *welts, even_ply("front", leather_mm))
        placed = [Placed("front"), Placed("back", along=frozen(shape.back_thread * turned * [-1, 1]))]
        if self.welts:
            placed.append(Placed("welt"))
        return SeamLine(
            "round seam", frozen(shape.front_thread * turned), plies=plies, placed=tuple(placed), margin_mm=self.margin_mm,
            closes=("belt loop", "back/mouth", "front/mouth", "back/seam edge", "front/seam edge"),
            margin_at="piece.margin_mm", stack_at="leather.thickness_mm", begins="the mouth",
        )  # fmt: skip

    def _callouts(self, shape: _Shape, leather_mm: float) -> tuple[Callout, ...]:
        wide, mouth = float(shape.back_ring[:, 0].max()), shape.mouth
        long = float(shape.x[-1]) - mouth
        found = [
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (-wide, mouth + long * 0.3), "left",
                    "front"),
            Callout("piece.goes_in_mm", said("goes in"), "length", self.goes_in_mm, (0.0, mouth), "left"),
            Callout("piece.close_mm", said("thread to the thing"), "length", self.close_mm, (-wide, mouth + long * 0.6), "left",
                    "round seam"),
            Callout("piece.margin_mm", said("thread to the cut"), "length", self.margin_mm, (wide, mouth + long * 0.5), "right",
                    "round seam"),
            Callout("piece.mouth_ease_mm", said("ease at the mouth"), "length", self.mouth_ease_mm, (wide, mouth + 2),
                    "right"),
            Callout("piece.worked_mm", said("worked down by"), "length", self.worked_mm, (wide, mouth + long * 0.3), "right",
                    "front"),
            Callout("piece.moulded", said("faces worked"), "count", self.moulded, (wide, mouth + long * 0.65), "right", "",
                    ("both", "front")),
            Callout("piece.welts", said("welts between"), "count", self.welts, (wide, mouth + long * 0.8), "right", "welt"),
            Callout("piece.worn", said("worn on the"), "count", self.worn, (-wide, mouth + long * 0.9), "left",
                    choices=("right", "left")),
            Callout("piece.loop", said("for the belt"), "count", self.loop, (-wide, mouth + long), "left", "belt loop",
                    ("a loop", "nothing"), (self.loop or BeltLoop(), None)),
        ]  # fmt: skip
        if self.welts:
            found.append(Callout("piece.welt_mm", said("each welt, thick"), "leather", self.welt_mm,
                                 (wide, mouth + long * 0.9), "right", "welt"))  # fmt: skip
        if self.loop:
            found.append(Callout("piece.loop.belt_mm", said("belt, wide"), "length", self.loop.belt_mm,
                                 (-wide * 0.5, mouth + self.loop.down_mm), "left", "belt loop"))  # fmt: skip
        return tuple(found)

    def _reckonings(self, body: MouldedBody, shape: _Shape, leather_mm: float) -> tuple[Reckoning, ...]:
        k = int(np.argmax(shape.more))
        ease = shape.gives - shape.passing
        back, front = (float(arc_length(line)[-1]) for line in (shape.back_thread, shape.front_thread))
        return (
            reckon("front-more", "A worked face is wider by", length(2 * shape.more[k]),
                   said("the leather over a section {h:n} high and {w} wide, {at} from the butt",
                        h=length(float(np.interp(shape.x[k], body.x_mm, body.height_mm))), w=length(2 * shape.half[k]),
                        at=length(shape.x[k])), ("front",),
                   (said("it bends down off the thing and back onto the flange: its thickness takes nothing"),)),
            reckon("front-longer", "Longer over the nose", length(shape.over_nose),
                   said("the same along it, from its highest down to the seam"), ("front",)),
            Reckoning("squeeze", "Squeeze at the mouth", said(f"{squeeze_grade(ease, shape.passing)}, {{share}}",
                                                              share=percent(ease / shape.passing)),
                      said("{gives} inside over {needs} of what must pass", gives=length(shape.gives),
                           needs=length(shape.passing)), ("mouth",), ease / shape.passing),
            reckon("partner", "Front seam against back", percent(front / back - 1),
                   said("{f} over {b:n}: the holes are eased in", f=length(front), b=length(back)), ("round seam",)),
        )  # fmt: skip

    def _findings(self, body: MouldedBody, shape: _Shape) -> tuple[Finding, ...]:
        found: list[Finding] = []
        long = float(body.x_mm[-1])
        if self.goes_in_mm > long:
            found.append(Finding(
                "hold", "seat-past-butt", "draft",
                said("It goes in {want}, but is only {long} long.", want=length(self.goes_in_mm), long=length(long)),
                "piece.goes_in_mm", Mend("most of it", (("piece.goes_in_mm", round(0.7 * long, 1)),)),
            ))  # fmt: skip
        ease = shape.gives - shape.passing
        grade = squeeze_grade(ease, shape.passing)
        if grade in ("too tight", "very firm", "loose"):
            found.append(Finding(
                "hold" if grade == "too tight" else "look", "squeeze", "draft",
                said(f"The mouth is {grade}: {{gives}} inside for {{needs}} that must pass.", gives=length(shape.gives),
                     needs=length(shape.passing)), "piece.mouth_ease_mm",
                Mend("ease the mouth", (("piece.mouth_ease_mm",
                                         round(min(max(self.mouth_ease_mm + 1.0 - ease, -30.0), 60.0), 2)),)),
            ))  # fmt: skip
        steep = float((body.height_mm / np.maximum(body.low_mm - body.top_mm, 1)).max())
        steep = steep / 2 if self.moulded == "both" else steep
        if steep > MOST_WORKED and self.worked_mm > 0 and not self.welts:
            found.append(Finding(
                "look", "worked-deep", "draft",
                said("A face must rise to {s} of its width: worked in one piece it puckers beside the seam. "
                     "Work both faces, or let a welt take some of the height.", s=percent(steep)), "piece.moulded",
                Mend("work both", (("piece.moulded", "both"),)) if self.moulded == "front"
                else Mend("a welt", (("piece.welts", 1),)),
            ))  # fmt: skip
        if self.close_mm < body.spread_mm:
            found.append(Finding(
                "look", "spread-past-room", "draft",
                said("The thread keeps {c} off the thing; its readings spread {s}.", c=length(self.close_mm),
                     s=length(body.spread_mm)), "piece.close_mm",
            ))  # fmt: skip
        return tuple(found)

    def _section(self, body: MouldedBody, leather_mm: float, at_mm: float) -> Section:
        """Cut across at `at_mm` from the butt: the thing between its two faces."""
        k = int(np.argmin(np.abs(body.x_mm - at_mm)))
        mid, both = (body.top_mm[k] + body.low_mm[k]) / 2, self.moulded == "both"
        share = 0.5 if both else 1.0
        raised = np.column_stack([body.y_mm[k] - mid, body.z_mm[k] * share])
        w = self.welts * self.welt_mm * share
        reach = float(raised[-1, 0]) + self.close_mm
        cut = reach + self.margin_mm
        profile = np.concatenate([[[-cut, w], [-reach, w]], raised, [[reach, w], [cut, w]]])
        line, _, _ = drawn_over(_rising(profile), self.worked_mm + FLOOR_MM)
        faces = between_faces(line, raised, leather_mm)
        marks = [_upside(faces[0])]
        if both:
            marks += [_upside(faces[1]), faces[2]]
        else:
            marks.append(Mark("grain", frozen([[-cut, 0], [cut, 0], [cut, leather_mm], [-cut, leather_mm]]), True))
            marks.append(Mark("thing", frozen(raised * [1, -1]), True, "thing"))
        low = w if both else 0.0
        for s in (-1.0, 1.0):
            if w:
                box = [[s * reach, -w], [s * cut, -w], [s * cut, low], [s * reach, low]]
                marks.append(Mark("welt", frozen(box), True, "welt"))
            through = frozen([[s * reach, low + leather_mm + 1], [s * reach, -w - leather_mm - 1]])
            marks.append(Mark("stitch", through, id="round seam"))
        return Section(float(body.x_mm[k]), tuple(marks), said("Section, {at} from the butt", at=length(body.x_mm[k])),
                       said("{h} high there", h=length(body.height_mm[k])))  # fmt: skip


def _upside(mark: Mark) -> Mark:
    return Mark(mark.meaning, frozen(mark.line * [1, -1]), mark.closed, mark.id)


def _rising(profile: Line) -> Line:
    """The points with their first coordinates made to rise, as little as will do."""
    y = np.maximum.accumulate(profile[:, 0] + 1e-6 * np.arange(len(profile)))
    return np.column_stack([y, profile[:, 1]])


@lru_cache(8)
def _shape(
    body: MouldedBody, goes_in_mm: float, close_mm: float, margin_mm: float, worked_mm: float, welt_mm: float,
    ease_mm: float, both: bool,
) -> _Shape:  # fmt: skip
    nose = float(body.x_mm[-1])
    mouth = max(nose - goes_in_mm, 0.0)
    x = np.concatenate([[mouth], body.x_mm[body.x_mm > mouth + 1e-6]])
    top, low, height = (np.interp(x, body.x_mm, v) for v in (body.top_mm, body.low_mm, body.height_mm))
    y, z = (
        np.stack([np.interp(x, body.x_mm, v[:, j]) for j in range(v.shape[1])], axis=1) for v in (body.y_mm, body.z_mm)
    )
    share = 0.5 if both else 1.0  # of its height and of the welt that one face must go over
    z, height, welt_mm = z * share, height * share, welt_mm * share
    more = np.array([_more(y[i], z[i], close_mm, worked_mm, welt_mm) for i in range(len(x))])
    through = float(((low - top) / 2 + more).max()) + close_mm
    # what lies deeper must pass whatever it comes through
    low, more = (np.maximum.accumulate(v[::-1])[::-1] for v in (low, more))
    top = np.minimum.accumulate(top[::-1])[::-1]
    middle = float((top[0] + low[0]) / 2)
    half = (low - top) / 2
    along = np.column_stack([x - x[0], height])
    over_nose = _over(np.concatenate([along, [[along[-1, 0] + 1e-3, 0.0]]]), close_mm, worked_mm, welt_mm)
    faces = 2 if both else 1
    flat_back = 0.0 if both else 2 * (half[0] + close_mm)
    passing = faces * 2 * through + flat_back
    gives = float(faces * 2 * (half[0] + close_mm + more[0]) + flat_back + ease_mm)
    plan = np.concatenate([np.column_stack([top - middle, x]), np.column_stack([low - middle, x])[::-1]])
    above = np.array([[low[0] - middle, mouth - 60.0], [top[0] - middle, mouth - 60.0]])
    area = Polygon(np.concatenate([plan, above])).buffer(0)
    eased = area.buffer(close_mm + EASED_MM).buffer(-EASED_MM)
    back_thread, back_cut = _round(eased, mouth), _round(eased.buffer(margin_mm), mouth)
    front_thread, front_cut = (
        _eased(_widened(line, x, more, over_nose), ease_mm / (2 * faces)) for line in (back_thread, back_cut)
    )
    if both:
        back_thread, back_cut = front_thread, front_cut
    return _Shape(
        x, half, more, over_nose, passing, gives, frozen(back_thread), frozen(front_thread), frozen(back_cut),
        frozen(front_cut), frozen(np.concatenate([np.column_stack([body.top_mm - middle, body.x_mm]),
                                                  np.column_stack([body.low_mm - middle, body.x_mm])[::-1]])), mouth,
    )  # fmt: skip


def _more(y: Values, z: Values, close_mm: float, worked_mm: float, welt_mm: float) -> float:
    """How much wider a worked face is than the thing and its seam are apart, to one side, over one section."""
    centre = (y[0] + y[-1]) / 2
    right = np.column_stack([y - centre, z])
    right = right[right[:, 0] >= 0]
    return _over(np.concatenate([[[0.0, right[0, 1]]], right]), close_mm, worked_mm, welt_mm)


def _over(profile: Line, close_mm: float, worked_mm: float, welt_mm: float) -> float:
    """How much longer leather is that goes over a profile and down to a seam beside it, than it is from end to end.

    It bends down off the thing and back again onto the flange, so that its thickness takes nothing: the two turns cancel.
    """
    end = profile[-1, 0] + max(close_mm, 0.05)
    whole = _rising(np.concatenate([np.maximum(profile, [-np.inf, welt_mm]), [[end, welt_mm]]]))
    return max(drawn_over(whole, worked_mm)[1] - (end - profile[0, 0]), 0.0)


def _round(area: Polygon, mouth: float) -> Line:
    """The boundary below the mouth, from its left round the nose to its right."""
    whole = area if isinstance(area, Polygon) else max(area.geoms, key=lambda g: g.area)
    ring = shapely.get_coordinates(whole.exterior.simplify(0.05))[:-1]
    ring = np.roll(ring, -int(np.argmin(ring[:, 1])), axis=0)
    if ring[0, 0] > ring[len(ring) // 2, 0] or ring[1, 0] > ring[-1, 0]:
        ring = ring[::-1]
    line = closed(ring)
    inside = line[:, 1] > mouth
    first, last = int(np.argmax(inside)), len(inside) - 1 - int(np.argmax(inside[::-1]))
    found = line[max(first, 1) : last + 1]

    def at_mouth(outer: Line, inner: Line) -> Line:
        share = (mouth - outer[1]) / (inner[1] - outer[1]) if inner[1] != outer[1] else 0.0
        return outer + share * (inner - outer)

    start = at_mouth(line[max(first, 1) - 1], line[max(first, 1)])
    end = at_mouth(line[min(last + 1, len(line) - 1)], line[last])
    return np.vstack([start, found, end])


def _widened(line: Line, x: Values, more: Values, over_nose: float) -> Line:
    """The back's line with the front's extra length laid on square to it: across by what its section takes, along by what the
    nose takes.
    """
    run = np.gradient(line, axis=0)
    run = run / np.maximum(np.hypot(*run.T), 1e-9)[:, None]
    normal = np.column_stack([run[:, 1], -run[:, 0]])
    outward = np.sign((normal * (line - [0.0, float(line[:, 1].mean())])).sum(axis=1))
    normal = normal * np.where(outward == 0, 1.0, outward)[:, None]
    by = np.interp(line[:, 1], x, more) * normal[:, 0] ** 2 + over_nose * np.maximum(normal[:, 1], 0) ** 2
    moved = line + normal * by[:, None]
    moved[[0, -1], 1] = line[[0, -1], 1]
    return moved


def _eased(line: Line, by_mm: float) -> Line:
    """The line let out by `by_mm` to either side."""
    return line + np.column_stack([np.sign(line[:, 0]) * by_mm, np.zeros(len(line))])


def _inset(line: Line, by_mm: float) -> Line:
    """A line moved towards the thing, or away from it when negative."""
    moved = shapely.LineString(line).offset_curve(by_mm)
    inner = shapely.get_coordinates(moved)
    if (np.ptp(inner[:, 0]) > np.ptp(line[:, 0]) and by_mm > 0) or (
        np.ptp(inner[:, 0]) < np.ptp(line[:, 0]) and by_mm < 0
    ):
        inner = shapely.get_coordinates(shapely.LineString(line).offset_curve(-by_mm))
    return inner if len(inner) > 1 else line


def _band(ring: Line, thread: Line) -> Line:
    """The glued band between the cut and the thread."""
    return np.concatenate([ring, thread[::-1]])
