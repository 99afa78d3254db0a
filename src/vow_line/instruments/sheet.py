"""The paper under a thing in a picture: its corners, whether it is the sheet it is said to be, and where the camera was.

A sheet of known size checks itself: its sides must be straight once the lens's bend is taken out of them, and seen through a
pinhole of a usual focal length its sides must be square and of its own proportion.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..core.curve import Line
from ..core.errors import VowLineError
from ..core.quantity import SHEETS_MM, Sheet
from ..core.texts import tell

Picture = NDArray[np.uint8]

FIND_PX = 1600  # the sheet is looked for in a picture made no larger than this
STRAIGHT = 0.003  # of its length: how far a side of paper may bow and still lie flat, about 1 mm of A4 (from memory)
USUAL_FOCAL = (0.55, 2.2)  # focal length over the picture's long side, from wide phones to a long lens (from memory)
LIKELY_FOCAL, FOCAL_SPREAD = 0.8, 0.5  # of a phone, and how far others stray, as a log (from memory)
SQUARE_WITHIN = 0.015  # how far proportion and square corners of the right sheet may be off: simulated, 99 % of views
TOLD_APART = 0.03  # how far those of another proportion must be off
LEAST_APART = 16  # of 255, between the ends of a colour, below which it is noise
MOST_BEND = 0.3  # of the lens, at half the picture's diagonal


class NoOutline(VowLineError):
    """A picture that gives no outline, with the reason and what to do."""


class NothingThere(NoOutline):
    """Nothing of any size lies on the paper."""


class WhichSheet(NoOutline):
    """The paper may be any of the `sheets`, seen so aslant: whoever laid it knows."""

    def __init__(self, sheet: Sheet, other: Sheet) -> None:
        super().__init__(
            tell("Seen so aslant the paper may be {sheet} or {other}.", sheet=sheet, other=other), "",
            tell("Say which it is, or take it from more nearly overhead."),
        )  # fmt: skip
        self.sheets = (sheet, other)


@dataclass(frozen=True, slots=True, eq=False)
class Seen:
    """Places known in mm `at_mm (n, 2)` on the paper and where they are in the picture `px (n, 2)`, the bend of the lens taken
    out with `bend`; how large the paper is; how far the camera was above it and over what point of it.
    """

    px: Line
    at_mm: Line
    size_mm: tuple[float, float]
    bend: float
    camera_mm: tuple[float, float, float]


def straightened(points: Line, bend: float, shape: tuple[int, ...]) -> Line:
    """Points `(n, 2)` of a picture `(h, w)` as a lens without bend would show them: r (1 + bend r²), r in half diagonals."""
    middle = (np.array(shape[::-1], float) - 1) / 2
    half = float(np.hypot(*middle))
    off = (np.asarray(points, float) - middle) / half
    return middle + off * (1 + bend * (off**2).sum(axis=1, keepdims=True)) * half


def find_sheet(colour: Picture, sheet: Sheet, sure: bool = False) -> Seen | None:
    """The sheet by its four sides, as they are seen best: by brightness or by colour; None where none is found. Raises
    NoOutline where it is seen but cannot be trusted, WhichSheet where it may be another, unless whoever laid it is `sure`.
    """
    found: list[tuple[float, Seen]] = []
    doubts: list[NoOutline] = []
    for view in _views(colour):
        try:
            one = _found_in(view, sheet, sure)
        except NoOutline as doubt:
            doubts.append(doubt)
        else:
            found += [one] if one else []
    if found:
        return min(found, key=lambda f: f[0])[1]
    if doubts:
        raise doubts[0]
    return None


def _views(colour: Picture) -> Iterator[Picture]:
    """A picture as one channel in which a sheet may be brighter than its bench: its brightness, and by the way its colours go,
    each from either end.
    """
    import cv2

    yield np.asarray(cv2.cvtColor(colour, cv2.COLOR_BGR2GRAY), np.uint8)
    calm = cv2.GaussianBlur(colour, (5, 5), 0)
    for channel in cv2.split(cv2.cvtColor(calm, cv2.COLOR_BGR2LAB)):
        low, high = np.percentile(channel[::8, ::8], (0.5, 99.5))
        if high - low > LEAST_APART:
            levels = (np.arange(256, dtype=np.float32) - np.float32(low)) * np.float32(255 / (high - low))
            spread = cv2.LUT(channel, np.clip(levels, 0, 255).astype(np.uint8))
            yield np.asarray(spread, np.uint8)
            yield np.asarray(cv2.bitwise_not(spread), np.uint8)


def _found_in(grey: Picture, sheet: Sheet, sure: bool) -> tuple[float, Seen] | None:
    """The sheet in one channel, and how far in px its sides stray from straight. Raises NoOutline."""
    found = _quad(grey)
    if found is None:
        return None
    quad, points = found
    sides = [_edge(grey, _along(points, quad[k], quad[(k + 1) % 4])) for k in range(4)]
    if any(len(s) < 30 for s in sides):
        return None
    bend = _bend(sides, grey.shape)
    lines = [_fit(straightened(s, bend, grey.shape)) for s in sides]
    strays = 0.0
    for side, (at, way) in zip(sides, lines, strict=True):
        off = _off(straightened(side, bend, grey.shape), at, way)
        strays = max(strays, float(np.sqrt((off**2).mean())))
        calm = np.convolve(off, np.ones(15) / 15, mode="valid")
        if np.abs(calm).max() > STRAIGHT * np.hypot(*np.ptp(side, axis=0)):
            raise NoOutline(
                tell("A side of the paper is not straight: something lies over it, or it curls."), "",
                tell("Lay it flat with all four sides free, and take it again."),
            )  # fmt: skip
    corners = np.array([_crossing(lines[k - 1], lines[k]) for k in range(4)])
    if _turn(corners[1] - corners[0], corners[2] - corners[1]) < 0:
        corners = corners[::-1]
    corners = np.roll(corners, -int(np.argmin(corners.sum(axis=1))), axis=0)
    across = np.hypot(*(corners[1] - corners[0])) + np.hypot(*(corners[2] - corners[3]))
    down = np.hypot(*(corners[3] - corners[0])) + np.hypot(*(corners[2] - corners[1]))
    lying = across > down
    misfits = proportions(corners, lying, grey.shape)
    misfit, focal = _pinhole(corners, _sized(sheet, lying), grey.shape)
    at_mm = _corners(_sized(sheet, lying))
    shape = {s: round(min(SHEETS_MM[s]) / max(SHEETS_MM[s]), 3) for s in SHEETS_MM}
    better = min((s for s in SHEETS_MM if shape[s] != shape[sheet]), key=lambda s: misfits[s], default=sheet)
    other = misfits[better] if better != sheet else np.inf
    if misfit > SQUARE_WITHIN and other < misfit:
        raise NoOutline(
            tell("The paper is not {sheet} by its proportion: it looks like {other}.", sheet=sheet, other=better), "",
            tell("Say which sheet it is, or lay it flat and whole in the picture."),
        )  # fmt: skip
    if misfit > SQUARE_WITHIN:
        raise NoOutline(
            tell("The paper's corners are not those of a flat {sheet} sheet.", sheet=sheet), "",
            tell("Lay it flat, all four corners free and in the picture."),
        )  # fmt: skip
    if other < TOLD_APART and not sure:
        raise WhichSheet(sheet, better)
    return strays, Seen(corners, at_mm, _sized(sheet, lying), bend, camera_over(corners, at_mm, focal, grey.shape))


def proportions(corners: Line, lying: bool, shape: tuple[int, ...]) -> dict[Sheet, float]:
    """How far the corners `(4, 2)` in px of a sheet, `lying` with its long side across, are off those of each sheet known."""
    return {s: _pinhole(corners, _sized(s, lying), shape)[0] for s in SHEETS_MM}


def _sized(sheet: Sheet, lying: bool) -> tuple[float, float]:
    w, h = SHEETS_MM[sheet]
    return (h, w) if lying else (w, h)


def _corners(size: tuple[float, float]) -> Line:
    return np.array([[0, 0], [size[0], 0], [size[0], size[1]], [0, size[1]]], float)


def _quad(grey: Picture) -> tuple[Line, Line] | None:
    """The rough corners of the largest bright thing with four of them, and the points of its contour, in the picture's px."""
    import cv2

    small = min(FIND_PX / max(grey.shape), 1.0)
    seen = cv2.resize(grey, None, fx=small, fy=small, interpolation=cv2.INTER_AREA) if small < 1 else grey
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
    if (quad < 2).any() or (quad > np.array(seen.shape[::-1]) - 3).any():
        return None  # a corner of it lies outside the picture
    points = largest.reshape(-1, 2).astype(float)
    return (quad + 0.5) / small - 0.5, (points + 0.5) / small - 0.5


def _along(points: Line, a: Line, b: Line) -> Line:
    """The contour's points along the middle of a side, from its one end to the other."""
    long = float(np.hypot(*(b - a)))
    way = (b - a) / long
    s, d = (points - a) @ way, np.abs(_off(points, a, way))
    near = (d < 0.03 * long) & (s > 0.05 * long) & (s < 0.95 * long)
    return points[near][np.argsort(s[near])]


def _edge(grey: Picture, rough: Line) -> Line:
    """The points of a side, each moved square to it to where the picture is half way from bench to paper."""
    from scipy.ndimage import map_coordinates

    if len(rough) < 30:
        return rough
    at = rough[:: max(len(rough) // 300, 1)]
    run = np.gradient(
        np.column_stack([np.convolve(np.pad(c, 10, "edge"), np.ones(21) / 21, "valid") for c in at.T]), axis=0
    )
    square = np.column_stack([run[:, 1], -run[:, 0]]) / np.maximum(np.hypot(*run.T), 1e-9)[:, None]
    off = np.arange(-12.0, 12.25, 0.25) * max(max(grey.shape) / 4000, 0.5)
    across = at[:, None] + off[None, :, None] * square[:, None]
    places = [across[..., 1], across[..., 0]]
    seen = map_coordinates(grey, places, output=np.float32, order=1, mode="nearest")
    one, other = np.median(seen[:, :16], axis=1), np.median(seen[:, -16:], axis=1)
    over = (seen > ((one + other) / 2)[:, None]) != (one > other)[:, None]
    k = np.clip(np.argmax(over, axis=1), 1, len(off) - 1)
    rows = np.arange(len(at))
    a, b, level = seen[rows, k - 1], seen[rows, k], (one + other) / 2
    by = off[k - 1] + (off[k] - off[k - 1]) * np.clip((level - a) / np.where(a == b, 1e-6, b - a), 0, 1)
    known = np.abs(one - other) > 20
    return np.asarray((at + by[:, None] * square)[known])


def _fit(points: Line) -> tuple[Line, Line]:
    """The line nearest to points: one of it, and its direction."""
    middle = points.mean(axis=0)
    _, _, ways = np.linalg.svd(points - middle, full_matrices=False)
    return middle, ways[0]


def _off(points: Line, at: Line, way: Line) -> NDArray[np.float64]:
    return (points[:, 0] - at[0]) * way[1] - (points[:, 1] - at[1]) * way[0]


def _bend(sides: list[Line], shape: tuple[int, ...]) -> float:
    """The bend of the lens that makes the sides straightest."""
    from scipy.optimize import minimize_scalar

    some = [s[:: max(len(s) // 200, 1)] for s in sides]

    def bowed(bend: float) -> float:
        straight = [straightened(s, bend, shape) for s in some]
        return float(sum((_off(s, *_fit(s)) ** 2).mean() for s in straight))

    return float(minimize_scalar(bowed, bounds=(-MOST_BEND, MOST_BEND), method="bounded", options={"xatol": 1e-5}).x)


def _crossing(one: tuple[Line, Line], other: tuple[Line, Line]) -> Line:
    (p, u), (q, v) = one, other
    t = np.linalg.solve(np.column_stack([u, -v]), q - p)
    return p + t[0] * u


def _turn(a: Line, b: Line) -> float:
    return float(a[0] * b[1] - a[1] * b[0])


def homography(px: Line, at_mm: Line) -> NDArray[np.float64]:
    """From mm to px, by least squares on four points or more."""
    import cv2

    found, _ = cv2.findHomography(np.asarray(at_mm, np.float64), np.asarray(px, np.float64))
    return np.asarray(found, float)


def _square(h: NDArray[np.float64], focal: float) -> tuple[float, float]:
    """How far a homography from mm to centred px is off being seen through a pinhole: the log of the proportion, the cosine."""
    a, b = h[:, 0] / [focal, focal, 1.0], h[:, 1] / [focal, focal, 1.0]
    long, wide = float(np.sqrt(a @ a)), float(np.sqrt(b @ b))
    return float(np.log(long / wide)), float(a @ b) / (long * wide)


def _pinhole(corners: Line, size_mm: tuple[float, float], shape: tuple[int, ...]) -> tuple[float, float]:
    """How far corners are off those of a flat sheet so large, seen through the likeliest pinhole; its focal length in px."""
    h = homography(corners - (np.array(shape[::-1], float) - 1) / 2, _corners(size_mm))
    long = float(max(shape))
    best = (np.inf, np.inf, LIKELY_FOCAL * long)
    for share in np.geomspace(*USUAL_FOCAL, 60):
        misfit = float(np.hypot(*_square(h, share * long)))
        unlikely = misfit + 0.01 * abs(np.log(share / LIKELY_FOCAL)) / FOCAL_SPREAD
        best = min(best, (unlikely, misfit, share * long))
    return best[1], best[2]


def camera_over(px: Line, at_mm: Line, focal: float | None, shape: tuple[int, ...]) -> tuple[float, float, float]:
    """Over what point of the paper the camera was, and how far above, in mm; where none is known by a likely focal length."""
    h = homography(px - (np.array(shape[::-1], float) - 1) / 2, at_mm)
    focal = focal or LIKELY_FOCAL * max(shape)
    k = h / np.array([[focal], [focal], [1.0]])
    k = k / np.sqrt(np.linalg.norm(k[:, 0]) * np.linalg.norm(k[:, 1]))
    if k[2, 2] + k[2, :2] @ at_mm.mean(axis=0) < 0:
        k = -k
    right, down = k[:, 0], k[:, 1]
    turn, _, back = np.linalg.svd(np.column_stack([right, down, np.cross(right, down)]))
    centre = -(turn @ back).T @ k[:, 2]
    return float(centre[0]), float(centre[1]), abs(float(centre[2]))
