"""Two faces in one piece: the front and the back of a thing folded about one long side of it, and sewn round the rest.

Flat coordinates: the fold is the line u = 0, the front lies at u > 0 seen from outside, v runs along as for two faces.
"""

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import substring

from ..curve import Line, area_within, frozen
from ..texts import said
from .drafted import WayOut
from .flat import short_of
from .joins import LEATHER, Join, Layer, Lies, Sewing
from .pieces import Edge, Piece, leather, parted
from .search import Progress, Way, search
from .two_faces import Faces, between_sides, inset, sewn_along, strip
from .wrap import flat_length

OPEN_MM = 1e-4
PAST_MM = 3.0  # the last hole lies so far in from the end of a line (common practice)

EDGES = {"front": said("front edge"), "back": said("back edge")}


@dataclass(frozen=True, slots=True, eq=False)
class FoldedFaces:
    """Faces with their fold: how far the thing's middle line lies from it on the front and on the back."""

    faces: Faces
    front_mm: float
    back_mm: float
    bend_mm: float
    neutral: float

    @property
    def thread(self) -> Line:
        """The front's line from the mouth round the nose to the fold."""
        return self._from_the_right(self.faces.front_thread)

    @property
    def back_thread(self) -> Line:
        """The back's, laid on the front."""
        return self._from_the_right(self.faces.back_thread, back=True)

    @property
    def _toe(self) -> float:
        """How far along the fold goes: to where the cut meets it."""
        return float(self._cut[-1, 1])

    @property
    def _cut(self) -> Line:
        """The front's cut, from the mouth's right to the fold."""
        return short_of(self.faces.front_ring + [self.front_mm, 0.0], OPEN_MM)

    def _from_the_right(self, line: Line, *, back: bool = False) -> Line:
        """A line inside the cut from the mouth round the nose, as far as there is an edge to sew: to where it is nearest
        to where the cut meets the fold, and so far past that as the last hole lies in from the end of a line.
        """
        cut, by = self._cut, self.front_mm
        if back:
            cut, by = short_of(self.faces.back_ring + [self.back_mm, 0.0], OPEN_MM), self.back_mm
        return _to(short_of(line + [by, 0.0], self.bend_mm), cut[-1], PAST_MM)

    @property
    def _outer(self) -> Line:
        """The cut as far as it is sewn."""
        return _to(self._cut, self.thread[-1])

    def piece(self, leather_mm: float, side: float) -> Piece:
        """Front and back in one; `side` is -1 where the whole thing is turned over."""
        halves = []
        for ring, by, way in ((self.faces.front_ring, self.front_mm, 1.0), (self.faces.back_ring, self.back_mm, -1.0)):
            cut = _largest(area_within(ring + [by, 0.0]).intersection(shapely.box(-OPEN_MM, -1e4, 1e4, 1e4)))
            halves.append(Polygon(shapely.get_coordinates(cut.exterior) * [way, 1.0]))
        whole = _largest(shapely.union_all(halves))
        turned = np.array([side, 1.0])
        ring = shapely.get_coordinates(whole.exterior.simplify(0.01))[:-1] * turned
        mouth, toe = self.faces.mouth, float(ring[np.abs(ring[:, 0]) < 0.01, 1].max(initial=self.faces.mouth + 1))
        rim = ring[ring[:, 1] < mouth + 1e-6]
        left, right = rim[int(np.argmin(rim[:, 0]))], rim[int(np.argmax(rim[:, 0]))]
        sides = ("front", "back") if side > 0 else ("back", "front")
        outline, edges = parted(
            ring,
            (Edge("mouth", said("mouth"), rim, "mouth"), (float(left[0]), float(left[1]))),
            (Edge(sides[0], EDGES[sides[0]], rim), (float(right[0]), float(right[1]))),
            (Edge(sides[1], EDGES[sides[1]], rim), (0.0, toe)),
        )
        return Piece(
            "pouch", said("pouch"), outline, edges, leather(leather_mm, self.neutral),
            folds=(frozen([[0.0, mouth], [0.0, toe]]),), turns="along",
        )  # fmt: skip

    def welt(self, welt_mm: float, count: int, side: float, leather_mm: float) -> Piece:
        """The strip between the faces, from just clear of the thing to the cut, as far as the fold."""
        turned = np.array([side, 1.0])
        return strip(self._outer * turned, self.inner * turned, welt_mm, count, leather_mm)

    @property
    def inner(self) -> Line:
        """Where a welt ends inside, or would, laid on the front."""
        return _to(short_of(self.faces.inner + [self.front_mm, 0.0], self.bend_mm), self._outer[-1], PAST_MM / 2)

    def join(self, count: int, side: float) -> Join:
        """Front joined to back from the mouth round the nose to the fold, the holes of both halves at the same shares of their
        lines.
        """
        turned = np.array([side, 1.0])
        welt = (Layer("welt", "outer", said("welt"), count, between=True),) if count else ()
        other = Layer("pouch", "back", said("back"), along=frozen(self.back_thread * turned * [-1.0, 1.0]))
        return Join(
            "round-seam", said("round seam"), "line", (Layer("pouch", "front", said("front")), *welt, other),
            Sewing(
                frozen(self.thread * turned), self.faces.margin_mm, margin_at="piece.margin_mm",
                stack_at="piece.welt_mm" if count else "leather.thickness_mm", begins=said("the mouth"),
                edge_ends=(True, False), stack_title=said("welt, thick") if count else LEATHER,
            ),
        )  # fmt: skip

    def lies(self, side: float, share: float) -> tuple[Lies, ...]:
        """Where the thing lies on the halves, from the fold to the thread, and where the fold has ended from thread to thread;
        `share` of its height lies under the front.
        """
        turned = np.array([side, 1.0])
        lying: list[Lies] = []
        for part, thread, way, high in (
            ("front", self.thread, 1.0, share),
            ("back", self.back_thread, -1.0, 1 - share),
        ):
            x, left, right = between_sides(thread, self.faces.x)
            folded, beyond = x <= self._toe, x > max(self._toe, float(thread[-1, 1]))
            for how, rows, at in (("half", folded, np.zeros(len(x))), ("face", beyond, left)):
                if rows.sum() > 1:
                    p, q = (np.column_stack([u, x])[rows] * turned * [way, 1.0] for u in (at, right))
                    lying.append(Lies("pocket", "pouch", how, x[rows], frozen(p), frozen(q), high, part=part))  # type: ignore[arg-type]
        return tuple(lying)

    def closed(self, side: float) -> tuple[Line, Line]:
        """The cut and the thread as they lie when the leather is worked to the thing, the fold beside it."""
        cut, thread = (line + [self.front_mm, 0.0] for line in self.faces.closed(1.0))
        fold = float((self.faces.thing[self.faces.thing[:, 1] >= self.faces.mouth - 0.1, 0]).min()) + self.front_mm
        beside = fold - 2 * self.bend_mm / np.pi  # as far out as its leather goes round
        whole = _largest(area_within(cut).intersection(shapely.box(beside, -1e4, 1e4, 1e4)))
        sewn = thread[: int(np.argmax(np.append(thread[:, 0] < fold, True)))]
        turned = np.array([side, 1.0])
        return frozen(shapely.get_coordinates(whole.exterior)[:-1] * turned), frozen(sewn * turned)

    def way_out(self, side: float) -> WayOut:
        """Straight out of the mouth."""
        turned = np.array([side, 1.0])
        thing = self.faces.thing + [self.front_mm, 0.0]
        long = float(np.ptp(self.faces.x))
        return WayOut(long, lambda mm: frozen(thing * turned - [0.0, mm]), self.faces.ease_mm / 2, 0.0,
                      lambda: (sewn_along(self.closed(side)[1]), self._passed(side)[1]))  # fmt: skip

    def _passed(self, side: float) -> tuple[BaseGeometry, Line]:
        """The seam's inner side to its cut, and what of the thing lies within."""
        turned = np.array([side, 1.0])
        inner, outer = self._from_the_right(inset(self.faces.front_thread, 0.05)) * turned, self._outer * turned
        thing = self.faces.thing + [self.front_mm, 0.0]
        inside = thing[thing[:, 1] >= self.faces.mouth - 0.1] * turned
        return area_within(np.concatenate([outer, inner[::-1]])), inside

    def search(self, side: float, *, progress: Progress) -> Way | None:
        """A way out of the mouth past the seam's inner side and the fold, shifting and turning."""
        turned = np.array([side, 1.0])
        walls, inside = self._passed(side)
        thing = self.faces.thing + [self.front_mm, 0.0]
        mouth, end = self.faces.mouth, float(self.faces.x[-1])
        near = float((thing[:, 0]).min())
        fold = shapely.transform(shapely.box(near - 20.0, mouth, near, end), lambda p: p * turned)
        up = np.array([0.0, -1.0])
        return search(inside, walls, up, float(np.ptp(self.faces.x)), behind=fold, progress=progress)


def folded_faces(faces: Faces, leather_mm: float, neutral: float) -> FoldedFaces:
    """The faces with one long side of the thing laid against a fold, which takes a quarter turn of the leather from either."""
    turn = flat_length(0.0, np.pi / 2, neutral, leather_mm)
    return FoldedFaces(faces, faces.front_fold_mm + turn, faces.back_fold_mm + turn, turn, neutral)


def _to(line: Line, end: Line, past_mm: float = 0.0) -> Line:
    """A line as far as to where it is nearest to a point, and a little past that where it goes on."""
    whole = shapely.LineString(line)
    return shapely.get_coordinates(substring(whole, 0.0, whole.project(shapely.Point(end)) + past_mm))


def _largest(area: BaseGeometry) -> Polygon:
    parts = [g for g in getattr(area, "geoms", [area]) if isinstance(g, Polygon)]
    return max(parts, key=lambda g: g.area)
