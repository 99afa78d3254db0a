"""A thing's outline from a picture of it lying on a sheet of paper, or on the printed card, that gives the scale.

The four sides of the sheet, or the sixteen corners of the card's four squares, give the plane of the bench and the bend of the
lens (`sheet`); the picture is laid flat by them. What lies on it is told from paper and shadow (`matter`), and its edge
followed (`edges`). What rises above the paper is seen too far out, as far as the camera is not right above it: that is taken
back by how high its outline lies.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..core.curve import Line, frozen
from ..core.quantity import Sheet
from ..core.ring import turned_right
from ..core.texts import tell
from . import edges, hue, matter
from .sheet import NoOutline, Picture, Seen, WhichSheet, camera_over, find_sheet, homography, straightened

__all__ = [
    "CARD_MM",
    "SQUARE_MM",
    "MayTouch",
    "NoOutline",
    "Picture",
    "Traced",
    "WhichSheet",
    "card_squares",
    "square_corners",
    "trace",
    "trace_all",
]


class MayTouch(NoOutline):
    """What is seen as one thing may be two that touch: whoever laid it there knows."""

    def __init__(self, wide_mm: float) -> None:
        super().__init__(
            tell("Between two broad parts it is no more than {wide} mm wide: two things may touch there.", wide=f"{wide_mm:g}"),
            "", tell("Lay them apart, or say that it is one thing."),
        )  # fmt: skip


Progress = Callable[[float], bool]

CARD_MM = (170.0, 237.0)  # outer corner to outer corner of the card's squares
SQUARE_MM = 18.0
PX_PER_MM = 8.0
MOST = 24  # things in one picture
DARK = 55.0  # mean brightness of the sheet, of 255, below which a picture is too dark
NECKS_MM = (1.0, 2.0, 3.0, 4.0)
BROAD = 0.15  # of the whole: so much of it lies on either side of a place where two things may touch (from memory)
BESIDE_MM = 25.0  # from an outline: marks so near it are its own
FLAT_MM = 0.6  # how far a corner of the card may be off the others' plane
COARSE = 4  # px: so far apart it is reckoned where the picture shows a place of the paper
BURNT, BRIGHT_BENCH = 0.25, 105  # of the paper as white as can be, and its darker bench, of 255, as bright as this


@dataclass(frozen=True, slots=True, eq=False)
class Traced:
    """An outline `(n, 2)` in mm, right and down, from (0, 0); the middles of holes in it `(k, 2)`; how many dots beside it name
    it; whether it lay on a coloured sheet, where nothing as bright as paper is lost; whether the card gave the scale, or the
    sheet; how many px of the picture a mm was; how far out, for each mm that it lies above the paper, its farthest place is
    seen.
    """

    outline: Line
    holes: Line
    marks: int
    coloured: bool
    by_card: bool
    px_per_mm: float
    astray: float


def square_corners() -> NDArray[np.float64]:
    """The corners of the card's four squares `(4, 4, 2)` in mm, each from its top left round to the right."""
    w, h = CARD_MM
    one = np.array([[0, 0], [SQUARE_MM, 0], [SQUARE_MM, SQUARE_MM], [0, SQUARE_MM]])
    at = np.array([[0, 0], [w - SQUARE_MM, 0], [w - SQUARE_MM, h - SQUARE_MM], [0, h - SQUARE_MM]])
    return at[:, None] + one


def card_squares() -> list[tuple[Line, Picture]]:
    """The card's squares: the top left corner of each in mm, and its cells `(6, 6)`, black or white."""
    import cv2

    signs = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50)
    return [
        (box[0], np.asarray(cv2.aruco.generateImageMarker(signs, k, 6), dtype=np.uint8))
        for k, box in enumerate(square_corners())
    ]


def trace(
    picture: Picture, sheet: Sheet = "A4", progress: Progress = lambda _: True, *, high_mm: float = 0.0,
    card_share: float = 1.0, sure: bool = False, whole: bool = False
) -> Traced | None:  # fmt: skip
    """The outline of the one thing in a picture: the largest of `trace_all`."""
    found = trace_all(picture, sheet, progress, high_mm=high_mm, card_share=card_share, sure=sure, whole=whole, most=1)
    return found[0] if found else None


def trace_all(
    picture: Picture, sheet: Sheet = "A4", progress: Progress = lambda _: True, *, high_mm: float = 0.0,
    card_share: float = 1.0, sure: bool = False, whole: bool = False, most: int = MOST
) -> tuple[Traced, ...] | None:  # fmt: skip
    """The outlines of the things in a picture `(h, w, 3)`, with the holes in them, that lie `high_mm` above the paper, from
    left to right; None when `progress(fraction)` said to stop. Where the printed card gives the scale it was printed at
    `card_share` of its size; `sure` where whoever laid the sheet says which it is, `whole` where each thing is one, however
    narrow. No more than `most` are looked for.

    Raises NoOutline when no scale is found or it cannot be trusted, the picture is too dark or too bright, nothing or too much
    lies on the paper, things lie too near each other, or one cannot be told from a shadow; WhichSheet, MayTouch.
    """
    import cv2

    colour = picture if picture.ndim == 3 else np.repeat(picture[..., None], 3, axis=2)
    grey = np.asarray(cv2.cvtColor(colour, cv2.COLOR_BGR2GRAY), dtype=np.uint8)
    if not progress(0.1):
        return None
    card = _card(grey)
    seen = card or find_sheet(colour, sheet, sure)
    if seen is None:
        if float(grey.mean()) < DARK:
            raise NoOutline(tell("The picture is too dark to find the paper in."), "", tell("Take it in more light."))
        raise NoOutline(
            tell("Neither the corners of a sheet nor the printed card were found."), "",
            tell("Lay it on a sheet of strong colour that is not on the tool, all four corners seen, or on the card."),
        )  # fmt: skip
    if not progress(0.3):
        return None
    flat = _flat(colour, seen)
    if float(np.median(flat[::4, ::4].max(axis=-1))) < DARK:
        raise NoOutline(
            tell("The picture is too dark: paper and thing run together."), "", tell("Take it in more light.")
        )
    if card is None and _burnt(grey, seen):
        raise NoOutline(
            tell("The paper is burnt out: too bright to see an edge by."), "", tell("Take it with less light on it.")
        )
    coloured = card is None and hue.strong(flat, PX_PER_MM)
    if coloured:
        ground = hue.lying(flat, PX_PER_MM, most)
    else:
        ground = matter.lying(flat, PX_PER_MM, list(square_corners()) if card else [], most)
    if not progress(0.6):
        return None
    by = card_share if card is not None else 1.0
    across = float(np.hypot(*(seen.px[1] - seen.px[0])) / np.hypot(*(seen.at_mm[1] - seen.at_mm[0])))
    found: list[tuple[float, Traced]] = []
    rings: list[Line] = []
    for thing in ground.things:
        if not progress(min(0.7 + 0.05 * len(rings), 0.95)):
            return None
        rings.append(edges.outline(thing.mask, thing.covers, PX_PER_MM))
        if not whole and (wide_mm := neck(rings[-1])) is not None:
            raise MayTouch(wide_mm)
    marks = _marks(rings, ground.spots)
    for thing, ring, named in zip(ground.things, rings, marks, strict=True):
        lowered = _lowered(ring, np.array(seen.camera_mm), high_mm / by) * by
        holes = matter.holes_in(thing, ring, PX_PER_MM) * by
        low = lowered.min(axis=0)
        far = float(np.hypot(*(ring - seen.camera_mm[:2]).T).max()) / seen.camera_mm[2]
        traced = Traced(frozen(lowered - low), frozen(holes - low), named, coloured, card is not None, across, far)
        found.append((float(low[0]), traced))
    progress(1.0)
    return tuple(t for _, t in sorted(found, key=lambda f: f[0]))


def neck(ring: Line) -> float | None:
    """How wide in mm an outline `(n, 2)` is where it is so narrow, between two broad parts, that two things may touch there."""
    whole = shapely.Polygon(ring).buffer(0)
    for wide_mm in NECKS_MM:
        parts = shapely.get_parts(whole.buffer(-wide_mm / 2))
        broad = [p for p in parts if p.area > BROAD * whole.area and not p.buffer(-wide_mm).is_empty]
        if len(broad) > 1:
            return wide_mm
    return None


def _marks(rings: list[Line], spots: Line) -> list[int]:
    """How many spots lie beside each outline and no other."""
    counts = [0] * len(rings)
    areas = [shapely.Polygon(r).buffer(0) for r in rings]
    for x, y in spots:
        far = [float(shapely.distance(a, shapely.Point(x, y))) for a in areas]
        if far and 0 < min(far) < BESIDE_MM:
            counts[int(np.argmin(far))] += 1
    return counts


def _card(grey: Picture) -> Seen | None:
    """The card by the corners of its squares. Raises NoOutline where they do not lie in one plane."""
    import cv2
    from scipy.optimize import minimize_scalar

    detector = cv2.aruco.ArucoDetector(cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50))
    corners, ids, _ = detector.detectMarkers(grey)
    if ids is None:
        return None
    found = {int(i): c.reshape(4, 2) for i, c in zip(ids.ravel(), corners, strict=True) if int(i) < 4}
    if len(found) < 4:
        return None
    px, at_mm = np.concatenate([found[k] for k in range(4)]).astype(float), square_corners().reshape(-1, 2)

    def off(bend: float) -> NDArray[np.float64]:
        straight = straightened(px, bend, grey.shape)
        back = np.column_stack([straight, np.ones(len(px))]) @ np.linalg.inv(homography(straight, at_mm)).T
        return np.hypot(*(back[:, :2] / back[:, 2:] - at_mm).T)

    bend = float(minimize_scalar(lambda b: float((off(b) ** 2).sum()), bounds=(-0.2, 0.2), method="bounded").x)
    if off(bend).max() > FLAT_MM:
        raise NoOutline(
            tell("The card's squares do not lie in one plane: it curls, or was printed askew."), "",
            tell("Lay it flat; print it at 100 %."),
        )  # fmt: skip
    px = straightened(px, bend, grey.shape)
    return Seen(px, at_mm, CARD_MM, bend, camera_over(px, at_mm, None, grey.shape))


def _burnt(grey: Picture, seen: Seen) -> bool:
    """Whether so much light fell on it that the paper is as white as can be and the bench about it nearly so: of how much more
    the paper gave nothing is known, and thin points drown in it.
    """
    import cv2

    on_paper = np.zeros(grey.shape, np.uint8)
    cv2.fillConvexPoly(on_paper, np.rint(seen.px).astype(np.int32), 1)
    paper, bench = grey[on_paper > 0], grey[on_paper == 0]
    return bool((paper > 253).mean() > BURNT and np.median(bench) > BRIGHT_BENCH)


def _flat(colour: Picture, seen: Seen) -> Picture:
    """The paper seen from right above, `PX_PER_MM` to a mm."""
    import cv2

    wide, high = (round(s * PX_PER_MM) for s in seen.size_mm)
    across, down = (
        np.arange(-1, -(-n // COARSE) + 1) * COARSE + COARSE / 2 for n in (wide, high)
    )  # one more at each end
    x, y = np.meshgrid(across / PX_PER_MM, down / PX_PER_MM)
    to_px = homography(seen.px, seen.at_mm)
    u, v, w = (to_px[k, 0] * x + to_px[k, 1] * y + to_px[k, 2] for k in range(3))
    middle = [(n - 1) / 2 for n in colour.shape[1::-1]]
    half = float(np.hypot(*middle))
    straight_x, straight_y = (u / w - middle[0]) / half, (v / w - middle[1]) / half
    if seen.bend:  # where the lens bent it to
        bends, share = seen.bend * (straight_x * straight_x + straight_y * straight_y), np.ones_like(u)
        for _ in range(6):
            share = 1 / (1 + bends * share * share)
        straight_x, straight_y = straight_x * share, straight_y * share
    at = np.stack([straight_x * half + middle[0], straight_y * half + middle[1]], axis=-1).astype(np.float32)
    fine = cv2.resize(at, None, fx=COARSE, fy=COARSE, interpolation=cv2.INTER_LINEAR)  # it bends by less than is seen
    at_x, at_y = cv2.split(fine[COARSE : COARSE + high, COARSE : COARSE + wide])
    return np.asarray(cv2.remap(colour, at_x, at_y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE), colour.dtype)


def _lowered(ring: Line, camera_mm: Line, high_mm: float) -> Line:
    """The foot of a thing that rises straight to a height, from all that is seen of it: what stays within that however far up
    the camera's rays, which spread from the point under it, carry it.
    """
    if high_mm <= 0:
        return ring
    under, most = camera_mm[:2], 1 / max(1 - high_mm / camera_mm[2], 0.5)
    foot: BaseGeometry = shapely.Polygon(ring).buffer(0)
    for share in np.linspace(1.0, most, 12)[1:]:
        foot = foot.intersection(shapely.Polygon(under + (ring - under) / share).buffer(0))
    whole = max(getattr(foot, "geoms", [foot]), key=lambda g: g.area)
    return turned_right(shapely.get_coordinates(whole.exterior)[:-1])
