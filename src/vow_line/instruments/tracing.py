"""A thing's outline from a picture of it lying on a sheet of paper, or on the printed card, that gives the scale.

The four corners of the sheet, or the sixteen of the card's four squares, give the plane of the bench: the picture is laid flat
by the homography through them, and the outline is where the paper's brightness has fallen half way to the thing's.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..core.curve import Line, Values, arc_length, frozen, thinned, walk
from ..core.errors import VowLineError
from ..core.quantity import SHEETS_MM, Sheet
from ..core.ring import closed, turned_right
from ..core.texts import tell

Picture = NDArray[np.uint8]
Progress = Callable[[float], bool]

CARD_MM = (170.0, 237.0)  # outer corner to outer corner of the card's squares
SQUARE_MM = 18.0
PX_PER_MM = 6.0
BORDER_MM = 3.0  # paper beside the thing that must be seen all round
FIND_PX = 1600  # the sheet is looked for in a picture made no larger than this
DARK = 55.0  # mean brightness of the sheet, of 255, below which a picture is too dark
FAINT = 0.12  # share of the paper's brightness by which a thing must be darker
LEAST_MM2 = 60.0
REACH_MM = 1.5  # how far from the coarse outline the true one is looked for
EASED_MM = 0.5  # standard deviation of the smoothing along the outline


class NoOutline(VowLineError):
    """A picture that gives no outline, with the reason and what to do."""


@dataclass(frozen=True, slots=True, eq=False)
class Traced:
    """An outline `(n, 2)` in mm, right and down, from (0, 0); what gave the scale, and how many px of the picture a mm was."""

    outline: Line
    scale_from: str
    px_per_mm: float


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


def trace(picture: Picture, sheet: Sheet = "A4", progress: Progress = lambda _: True) -> Traced | None:
    """The outline of the one thing in a picture `(h, w, 3)`; None when `progress(fraction)` said to stop.

    Raises NoOutline when no scale is found, the picture is too dark or too faint, or the thing touches the border.
    """
    import cv2

    grey = np.asarray(cv2.cvtColor(picture, cv2.COLOR_BGR2GRAY) if picture.ndim == 3 else picture, dtype=np.uint8)
    if not progress(0.1):
        return None
    found = _card(grey) or _sheet(grey, sheet)
    if found is None:
        if float(grey.mean()) < DARK:
            raise NoOutline(tell("The picture is too dark to find the paper in."), "", tell("Take it in more light."))
        raise NoOutline(
            tell("Neither the corners of a sheet nor the printed card were found."), "",
            tell("Lay the thing on white paper on a darker bench, all four corners in the picture, or on the printed card."),
        )  # fmt: skip
    corners, at_mm, size_mm, scale_from = found
    if not progress(0.3):
        return None
    to_flat, _ = cv2.findHomography(corners, at_mm * PX_PER_MM)
    wide, high = (round(s * PX_PER_MM) for s in size_mm)
    flat = cv2.warpPerspective(grey, to_flat, (wide, high), flags=cv2.INTER_AREA).astype(np.float32)
    if float(np.median(flat)) < DARK:
        raise NoOutline(
            tell("The picture is too dark: paper and thing run together."),
            "",
            tell("Take it in more light."),
        )
    even = _evened(flat)
    if not progress(0.6):
        return None
    coarse = _coarse(even, scale_from == "the card")
    outline = _refined(even, coarse)
    if not progress(0.9):
        return None
    outline = turned_right(_smoothed(outline) / PX_PER_MM)
    across = float(np.hypot(*(corners[1] - corners[0])) / np.hypot(*(at_mm[1] - at_mm[0])))
    progress(1.0)
    ring = thinned(closed(outline - outline.min(axis=0)), 0.03)[:-1]
    return Traced(frozen(ring), scale_from, across)


Found = tuple[NDArray[np.float32], NDArray[np.float32], tuple[float, float], str]


def _card(grey: Picture) -> Found | None:
    """The squares' corners in the picture and on the card."""
    import cv2

    detector = cv2.aruco.ArucoDetector(cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50))
    corners, ids, _ = detector.detectMarkers(grey)
    if ids is None:
        return None
    seen = {int(i): c.reshape(4, 2) for i, c in zip(ids.ravel(), corners, strict=True) if int(i) < 4}
    if len(seen) < 4:
        return None
    there = np.concatenate([seen[k] for k in range(4)]).astype(np.float32)
    return there, square_corners().reshape(-1, 2).astype(np.float32), CARD_MM, "the card"


def _sheet(grey: Picture, sheet: Sheet) -> Found | None:
    """The sheet's corners in the picture, each the crossing of two lines fitted to its sides."""
    import cv2

    small = FIND_PX / max(grey.shape)
    seen = cv2.resize(grey, None, fx=small, fy=small, interpolation=cv2.INTER_AREA) if small < 1 else grey
    scale = small if small < 1 else 1.0
    seen = cv2.GaussianBlur(seen, (5, 5), 0)
    level, bright = cv2.threshold(seen, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    contours, _ = cv2.findContours(bright, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not contours or level < 20:
        return None
    largest = max(contours, key=cv2.contourArea)
    hull = cv2.convexHull(largest)
    if cv2.contourArea(hull) < 0.08 * seen.size:
        return None
    around = cv2.arcLength(hull, True)
    rough = next((r for f in (0.02, 0.03, 0.05) if len(r := cv2.approxPolyDP(hull, f * around, True)) == 4), None)
    if rough is None:
        return None
    quad = rough.reshape(4, 2).astype(float)
    points = largest.reshape(-1, 2).astype(float)
    if (quad < 2).any() or (quad > np.array(seen.shape[::-1]) - 3).any():
        return None  # a corner of it lies outside the picture
    lines = [_side(points, quad[k], quad[(k + 1) % 4]) for k in range(4)]
    corners = np.array([_crossing(lines[k - 1], lines[k]) for k in range(4)])
    if not _turns_right(corners[1] - corners[0], corners[2] - corners[1]):
        corners = corners[::-1]
    w, h = SHEETS_MM[sheet]
    first = int(np.argmin(corners.sum(axis=1)))
    corners = np.roll(corners, -first, axis=0)
    across = np.hypot(*(corners[1] - corners[0])) + np.hypot(*(corners[2] - corners[3]))
    down = np.hypot(*(corners[3] - corners[0])) + np.hypot(*(corners[2] - corners[1]))
    size = (h, w) if across > down else (w, h)
    at = np.array([[0, 0], [size[0], 0], [size[0], size[1]], [0, size[1]]], dtype=np.float32)
    corners = (corners + 0.5) / scale - 0.5
    return corners.astype(np.float32), at, size, f"the {sheet} sheet"


def _side(points: Line, a: Line, b: Line) -> tuple[Line, Line]:
    """A line through the contour's points along the middle of a side: a point on it, and its direction."""
    along = (b - a) / np.hypot(*(b - a))
    off = points - a
    s, d = off @ along, np.abs(off[:, 0] * along[1] - off[:, 1] * along[0])
    near = points[(d < 4) & (s > 0.06 * np.hypot(*(b - a))) & (s < 0.94 * np.hypot(*(b - a)))]
    if len(near) < 10:
        return a, along
    middle = near.mean(axis=0)
    _, _, directions = np.linalg.svd(near - middle, full_matrices=False)
    return middle, directions[0]


def _turns_right(a: Line, b: Line) -> bool:
    return bool(a[0] * b[1] - a[1] * b[0] > 0)


def _crossing(one: tuple[Line, Line], other: tuple[Line, Line]) -> Line:
    (p, u), (q, v) = one, other
    t = np.linalg.solve(np.column_stack([u, -v]), q - p)
    return p + t[0] * u


def _evened(flat: NDArray[np.float32]) -> NDArray[np.float32]:
    """Brightness as a share of the paper's about it, so that a lamp to one side does not matter."""
    import cv2

    small = cv2.resize(flat, None, fx=0.1, fy=0.1, interpolation=cv2.INTER_AREA)
    high, wide = small.shape
    y, x = np.mgrid[0:high, 0:wide]
    basis = np.column_stack([np.ones(small.size), *(v.ravel() for v in (x, y, x * x, x * y, y * y))]).astype(float)
    light = np.percentile(small, 70)
    paper = small.ravel() > 0.75 * light
    fitted = small.astype(float)
    for _ in range(4):  # fitted to what looks like paper, which is then looked for again
        weights, *_ = np.linalg.lstsq(basis[paper], small.ravel()[paper], rcond=None)
        fitted = (basis @ weights).reshape(small.shape)
        paper = small.ravel() > 0.85 * fitted.ravel()
    ground = cv2.resize(fitted.astype(np.float32), flat.shape[::-1], interpolation=cv2.INTER_LINEAR)
    return np.asarray(flat / np.maximum(ground, 1.0), dtype=np.float32)


def _coarse(even: NDArray[np.float32], on_card: bool) -> Line:
    """The outline to the pixel."""
    import cv2

    seen = (np.clip(even, 0, 1.1) / 1.1 * 255).astype(np.uint8)
    inside = np.asarray(cv2.GaussianBlur(seen, (0, 0), 1.5), dtype=np.uint8)
    border = round(BORDER_MM * PX_PER_MM)
    level, _ = cv2.threshold(inside[border:-border, border:-border], 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    dark = (inside < level).astype(np.uint8)
    if on_card:
        for box in square_corners():
            low, high = (np.rint(v * PX_PER_MM).astype(int) for v in (box.min(axis=0) - 2, box.max(axis=0) + 2))
            dark[max(low[1], 0) : max(high[1], 0), max(low[0], 0) : max(high[0], 0)] = 0
    paper, thing = even[dark == 0], even[dark == 1]
    if not len(thing) or not len(paper) or float(np.median(paper) - np.median(thing)) < FAINT:
        raise NoOutline(
            tell("Nothing on the paper is darker than it by enough."), "",
            tell("Lay the thing on white paper, and light it from above."),
        )  # fmt: skip
    dark[: border // 3], dark[-border // 3 :], dark[:, : border // 3], dark[:, -border // 3 :] = 0, 0, 0, 0
    contours, _ = cv2.findContours(dark, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    largest = max(contours, key=cv2.contourArea, default=None)
    if largest is None or cv2.contourArea(largest) < LEAST_MM2 * PX_PER_MM**2:
        raise NoOutline(tell("Nothing of any size lies on the paper."), "", tell("Is the thing inside the sheet?"))
    ring = largest.reshape(-1, 2).astype(float)
    high, wide = dark.shape
    if ring.min() < border or (ring[:, 0] > wide - 1 - border).any() or (ring[:, 1] > high - 1 - border).any():
        raise NoOutline(
            tell("The thing touches the border of the paper."), "",
            tell("Lay it with paper to be seen all round, or use a larger sheet."),
        )  # fmt: skip
    return ring


def _refined(even: NDArray[np.float32], ring: Line) -> Line:
    """Points every half mm, moved square to the outline to where the brightness is half way from paper to thing."""
    from scipy.ndimage import gaussian_filter1d, map_coordinates

    eased = gaussian_filter1d(ring, 0.4 * PX_PER_MM, axis=0, mode="wrap")
    whole = closed(eased)
    around = float(arc_length(whole)[-1])
    points = walk(whole, np.arange(0.0, around, 0.5 * PX_PER_MM))
    run = np.roll(points, -1, axis=0) - np.roll(points, 1, axis=0)
    run = run / np.maximum(np.hypot(*run.T), 1e-9)[:, None]
    normal = np.column_stack([run[:, 1], -run[:, 0]])
    reach = REACH_MM * PX_PER_MM
    off = np.linspace(-reach, reach, 4 * round(reach) + 1)
    at = points[:, None] + off[None, :, None] * normal[:, None]
    seen = map_coordinates(even, [at[..., 1], at[..., 0]], order=1, mode="nearest")
    if seen[:, : len(off) // 4].mean() > seen[:, -len(off) // 4 :].mean():
        seen, normal = seen[:, ::-1], -normal
    inner, outer = seen[:, : len(off) // 4].mean(axis=1), seen[:, -len(off) // 4 :].mean(axis=1)
    level = (inner + outer) / 2
    above = seen > level[:, None]
    middle = len(off) // 2
    moved = np.zeros(len(points))
    for i in range(len(points)):
        changes = np.flatnonzero(above[i, 1:] & ~above[i, :-1])
        if not len(changes):
            continue
        k = int(changes[np.argmin(np.abs(changes - middle))])
        a, b = seen[i, k], seen[i, k + 1]
        moved[i] = off[k] + (off[k + 1] - off[k]) * (level[i] - a) / max(b - a, 1e-6)
    return np.asarray(points + moved[:, None] * normal)


def _smoothed(ring: Line) -> Line:
    from scipy.ndimage import gaussian_filter1d, median_filter

    calm: Any = median_filter(ring, size=(5, 1), mode="wrap")
    quiet: Values = gaussian_filter1d(calm, EASED_MM / 0.5, axis=0, mode="wrap")
    return quiet
