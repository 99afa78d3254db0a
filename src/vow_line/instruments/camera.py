"""Pictures of things on paper made by the stand-in camera: what they show is known."""

from itertools import groupby
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..core.curve import Line
from ..core.quantity import SHEETS_MM, Sheet
from .tracing import CARD_MM, SQUARE_MM, Picture, card_squares

PER_MM = 7.0  # of what the stand-in draws on the paper
FINE = 4  # to each of which in either direction it is drawn
BENCH_MM = 60.0  # about the paper


def card_picture(px_per_mm: float = 12.0) -> Picture:
    """The card with its four squares as a picture, so many px to a mm."""
    wide, high = (round(s * px_per_mm) for s in CARD_MM)
    card = np.full((high, wide), 255, np.uint8)
    cell = round(SQUARE_MM * px_per_mm / 6)
    for corner, cells in card_squares():
        x, y = np.rint(corner * px_per_mm).astype(int)
        square = np.kron(cells, np.ones((cell, cell), np.uint8))
        card[y : y + len(square), x : x + len(square)] = square
    return card


Colour = tuple[float, float, float]  # blue, green, red


class Part(NamedTuple):
    """A flat part of a thing: its outline in mm, its colour, how high it rises above the paper; by what share its brightness
    goes up and down along it, as brushed steel's does, and what share of the paper's colour its rim takes.
    """

    outline: Line
    colour: Colour = (58.0, 58.0, 58.0)
    high_mm: float = 0.0
    sheen: float = 0.0
    tinted: float = 0.0


class Shadow(NamedTuple):
    """Where the shadow of the thing falls from it, in mm, how soft its edge is, and what share of the light it takes; `widens`
    where it is sharp at the thing and so soft only at its far end, as that of a tool standing on the paper.
    """

    by_mm: tuple[float, float] = (6.0, 4.0)
    soft_mm: float = 2.0
    takes: float = 0.4
    widens: bool = False


def stand_in(
    things: Line | tuple[Part, ...], *, sheet: Sheet | None = "A4", at_mm: tuple[float, float] = (30.0, 40.0),
    above_mm: float = 620.0, aside_mm: tuple[float, float] = (60.0, -40.0), turn_rad: float = 0.05, focal: float = 0.8,
    size_px: tuple[int, int] = (1575, 2100), shadow: Shadow | None = None,
    shade: tuple[float, float, float, float] | None = None, lamp: float = 0.3, vignette: float = 0.1, bend: float = 0.0,
    noise: float = 2.5, blur_px: float = 0.8, bright: float = 1.0, bench: float | Colour = 90.0, paper: float | Colour = 232.0,
    light: Colour = (1.0, 1.0, 1.0), jpeg: int | None = None, over: Line | None = None, seed: int = 3,
) -> Picture:  # fmt: skip
    """A picture `(h, w, 3)` of a thing, or of its parts, on a sheet, or on the card when `sheet` is None, as a pinhole sees it:
    from `above_mm` over the sheet's middle and `aside_mm` of it, looking there. One ray to each pixel.

    `focal` over the long side; `bend` of the lens at half the diagonal; `lamp` and `vignette` are shares of light lost across
    the picture and at its rim; `light` is its colour; `shade` is someone's soft shadow (x, y, how wide, the share it takes);
    `over` lies on the paper as the bench does, as a thumb; `jpeg` is the quality it is kept at, colour at half its width.
    """
    import cv2

    w, h = SHEETS_MM[sheet] if sheet else (CARD_MM[0] + 24, CARD_MM[1] + 24)
    parts = things if isinstance(things, tuple) else (Part(things),)
    shape = (round((h + 2 * BENCH_MM) * PER_MM), round((w + 2 * BENCH_MM) * PER_MM))

    def filled(*rings: Line) -> NDArray[Any]:
        """What share of each pixel rings cover: OpenCV's own smooth filling takes half a pixel about them with it."""
        covers = np.zeros(shape, np.float32)
        for ring in rings:
            px = (np.asarray(ring) + BENCH_MM) * PER_MM
            low = np.maximum(np.floor(px.min(axis=0)).astype(int) - 1, 0)
            high = np.minimum(np.ceil(px.max(axis=0)).astype(int) + 2, shape[::-1])
            if (high <= low).any():
                continue
            fine = np.zeros(tuple((high - low)[::-1] * FINE), np.uint8)
            cv2.fillPoly(fine, [np.rint(((px - low + 0.5) * FINE - 0.5) * 16).astype(np.int32)], 255, shift=4)
            box = np.s_[low[1] : high[1], low[0] : high[0]]
            wide, tall = (high - low).tolist()
            np.maximum(
                covers[box],
                cv2.resize(fine, (wide, tall), interpolation=cv2.INTER_AREA) / np.float32(255),
                out=covers[box],
            )
        return covers

    on_sheet = filled(np.array([[0, 0], [w, 0], [w, h], [0, h]], float))
    under = filled(over) if over is not None else None
    sheet_is, bench_is = (c if isinstance(c, tuple) else (c,) * 3 for c in (paper, bench))
    lit = np.ones(shape, np.float32)
    if shadow is not None:
        cast: NDArray[Any] = np.zeros(shape, np.float32)
        for share in np.linspace(0, 1, 12):
            fallen = filled(*(p.outline + at_mm + share * np.array(shadow.by_mm) for p in parts))
            if shadow.widens:
                _soften(fallen, share * shadow.soft_mm)
            np.maximum(cast, fallen, out=cast)
        if not shadow.widens:
            _soften(cast, shadow.soft_mm)
        lit *= 1 - shadow.takes * cast
    if shade is not None:
        at_x, at_y, wide, takes = shade
        gx, gy = np.meshgrid((np.arange(shape[1]) / PER_MM - BENCH_MM), (np.arange(shape[0]) / PER_MM - BENCH_MM))
        lit *= 1 - takes / (1 + np.exp((np.hypot(gx - at_x, gy - at_y) - wide) / 6.0)).astype(np.float32)
    grounds: dict[tuple[float, float], NDArray[Any]] = {}  # by what paper and bench are in a channel: most are grey
    for tones in zip(sheet_is, bench_is, strict=True):
        if tones in grounds:
            continue
        one = tones[1] + (tones[0] - tones[1]) * on_sheet
        if sheet is None:
            left = round((BENCH_MM + 12) * PER_MM)
            printed = card_picture(PER_MM)
            one[left : left + printed.shape[0], left : left + printed.shape[1]] = np.minimum(printed, tones[0])
        if under is not None:
            one += (tones[1] - one) * under
        grounds[tones] = one * lit
    wide_px, high_px = size_px
    u, v = np.meshgrid(np.arange(wide_px, dtype=np.float32), np.arange(high_px, dtype=np.float32))
    half = float(np.hypot(wide_px - 1, high_px - 1)) / 2  # numbers of Python leave single precision as it is
    x, y = (u - (wide_px - 1) / 2) / half, (v - (high_px - 1) / 2) / half
    r2 = x * x + y * y
    x, y = x * (1 + bend * r2), y * (1 + bend * r2)
    camera = np.array([w / 2 + aside_mm[0], h / 2 + aside_mm[1], above_mm])
    ahead = np.array([w / 2, h / 2, 0.0]) - camera
    ahead /= np.linalg.norm(ahead)
    turned = np.array([np.cos(turn_rad), np.sin(turn_rad), 0.0])
    right = turned - ahead * (turned @ ahead)
    right /= np.linalg.norm(right)
    down = np.cross(right, ahead)
    f = focal * max(size_px) / half
    ways = zip(*(way.tolist() for way in (ahead, right / f, down / f)), strict=True)
    ray = [a + x * r + y * d for a, r, d in ways]

    def on(plane: NDArray[Any], high_mm: float) -> NDArray[Any]:
        far = (high_mm - float(camera[2])) / ray[2]
        px = [(float(camera[k]) + far * ray[k] + BENCH_MM) * PER_MM for k in (0, 1)]
        return cv2.remap(plane, px[0], px[1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)

    flat = {tones: on(ground, 0.0) for tones, ground in grounds.items()}
    seen = [flat[tones] for tones in zip(sheet_is, bench_is, strict=True)]
    for (colour, high_mm, sheen, tinted), alike in groupby(parts, lambda p: p[1:]):
        mask = filled(*(p.outline + at_mm for p in alike))
        levels = np.linspace(0, high_mm, 5) if high_mm else [0.0]
        covers = np.max([on(mask, float(z)) for z in levels], axis=0)
        shines = 1 + sheen * np.sin(x * 40 + y * 25) if sheen else 1.0
        rim = tinted * (1 - cv2.GaussianBlur(covers, (0, 0), 4.0)) if tinted else 0.0
        for k, (c, ground_is) in enumerate(zip(colour, sheet_is, strict=True)):
            own = c * shines * (1 - rim * (1 - ground_is / max(sheet_is)))
            seen[k] = seen[k] + (own - seen[k]) * covers
    falls = (1 - lamp * (u / wide_px)) * (1 - vignette * r2) * bright
    noisy = np.random.default_rng(seed).standard_normal((*u.shape, 3), dtype=np.float32)
    noisy *= noise
    for k, one in enumerate(seen):
        noisy[..., k] += cv2.GaussianBlur(one, (0, 0), blur_px) * falls * light[k]
    picture = np.clip(noisy, 0, 255, out=noisy).astype(np.uint8)
    if jpeg is None:
        return picture
    return np.asarray(cv2.imdecode(cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, jpeg])[1], 1), np.uint8)


def _soften(plane: NDArray[Any], soft_mm: float) -> None:
    """Make the edges of a shadow on the paper so soft: about what lies in it, for beyond that it changes nothing."""
    import cv2

    sigma = max(soft_mm * PER_MM / 2.5, 0.3)
    smaller = max(int(sigma / 5), 1)  # what is so soft is as well blurred at a smaller size
    room = int(np.ceil(4 * sigma)) + 1
    rows, columns = (np.flatnonzero(plane.any(axis=k)) for k in (1, 0))
    if not len(rows):
        return
    box = np.s_[max(rows[0] - room, 0) : rows[-1] + room + 1, max(columns[0] - room, 0) : columns[-1] + room + 1]
    high, wide = plane[box].shape
    small = cv2.resize(plane[box], (-(-wide // smaller), -(-high // smaller)), interpolation=cv2.INTER_AREA)
    plane[box] = cv2.resize(
        cv2.GaussianBlur(small, (0, 0), sigma / smaller), (wide, high), interpolation=cv2.INTER_LINEAR
    )
