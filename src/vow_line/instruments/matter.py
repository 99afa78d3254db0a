"""What lies on the paper in a picture laid flat: told from the paper by brightness and colour, and from its shadow.

A shadow has no colour of its own, never shines, and its edge is soft; a thing has a sharp edge, a colour, or is far darker.
What is faint, colourless and sharp may be either: that is refused, for an outline without a bright blade looks like one.
"""

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..core.curve import Line, arc_length, walk
from ..core.ring import closed
from ..core.texts import tell
from .sheet import NoOutline, NothingThere

Levels = NDArray[Any]
Planes = Sequence[Levels]
"""A picture's channels `(h, w)`, each by itself: three at once are too large for memory used before."""
Mask = NDArray[Any]

DEGREE = 4  # of the polynomial for the light on the paper: a lamp to one side, a dark rim
SURE = 0.55  # of the paper's brightness: what is darker is no shadow of a lamp that lights the paper (from memory)
FAINT, COLOURED = 0.06, 0.07  # from the paper's brightness or colour: what differs less is paper, if its noise allows
NOISES = 6.0
BORDER_MM = 3.0  # paper beside the thing that must be seen all round
LEAST_MM2 = 60.0
APART_MM = 5.0  # so much paper about a thing is its own: no other may lie in it
HOLE_MM2, HOLE_MM = (0.2, 30.0), 8.0  # how large holes in a thing are, and how long a slanted one (from memory)
ROUND = 0.35  # a hole fills so much of the box about it
HOLE_STANDS = 0.10  # and stands out from what is about it by so much of the paper's brightness
SLIVER_MM2 = 25.0  # of faint matter beside a thing: less is the blur of its own edge
SHARP_MM = 1.1  # from a tenth to nine tenths of the way: a narrower edge is sharp
SHARES = (0.35, 0.6)  # of a faint edge that is sharp: below it is a shadow, above a thing, between them who knows
MOST_SHARP_MM = 15.0  # of sharp edge within what looks like a shadow: more is a thing that lies in it
SPECK_MM2 = 30.0  # what is smaller, by itself, is dirt or a mark
SPOT_MM2 = (1.5, 30.0)  # a dot of a pen
LONG_MM, FAINT_SHARP_MM = 6.0, 2.0  # of a faint edge on the paper, and how wide one is, eased, that no shadow has
MOST_FAINT_MM = 20.0
CALM = 0.002  # of the paper's brightness from pixel to pixel: burnt paper is calmer than any that is seen
SHINES = 1.05


class Lying(NamedTuple):
    """A thing on the paper: its mask `(h, w)`, what share of each pixel it covers, and the tones its holes are seen by, which
    stand out from what is about them by so much.
    """

    mask: Mask
    covers: Levels
    tones: Levels
    stands: float


class Ground(NamedTuple):
    """What lies on a sheet: the things on it, and the middles `(k, 2)` in mm of spots beside them, as marks are."""

    things: list[Lying]
    spots: Line


def lying(flat: Levels, per_mm: float, ignored: list[Line], most: int) -> Ground:
    """What lies on white paper laid flat `(h, w, 3)`, the darkest first; `ignored` are places printed on the paper. Raises
    NoOutline where there is nothing, where one cannot be told from a shadow, where another lies too near or, where only one is
    looked for, anywhere; and where there are faint edges on the paper besides.
    """
    import cv2

    even, noise = _evened(flat, per_mm)
    tones = greys(even)
    dark = clear((tones < SURE).astype(np.uint8), per_mm, ignored)
    spots, dots = spots_of(dark, per_mm)
    bare = even
    if dots.any():
        around = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (odd(1.5 * per_mm),) * 2)
        bare = _cleared(even, cv2.dilate(dots, around) > 0)
    things: list[Lying] = []
    while len(things) < most:
        try:
            mask = _lying_on(bare, noise, per_mm, ignored)
        except NothingThere:
            if not things:
                raise
            break
        strays = [np.square(plane - 1) for plane in bare]
        covers = np.sqrt(greys(strays))  # in proportion to what is covered
        things.append(Lying(mask, covers, tones, max(HOLE_STANDS, NOISES * noise)))
        if len(things) < most:
            bare = _taken_away(bare, mask, per_mm)
    every = things[0].mask if len(things) == 1 else np.asarray(np.max([t.mask for t in things], axis=0))
    near = _about(every, 1.5, per_mm)
    others, _ = cv2.findContours(
        (dark & (1 - dots) & (1 - near)).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE
    )
    if any(cv2.contourArea(c) > SPECK_MM2 * per_mm**2 for c in others):
        raise two_things()
    if _faint_edges(cv2.GaussianBlur(tones, (0, 0), 0.12 * per_mm), every | dark, ignored, per_mm) > MOST_FAINT_MM:
        raise NoOutline(
            tell("Faint edges are seen on the paper: a part of the thing nearly as bright as it, or lines printed on it."), "",
            tell("Lay it on a plain sheet of a strong colour that is not on the tool: then neither matters."),
        )  # fmt: skip
    return Ground(things, spots)


def two_things() -> NoOutline:
    """Two things lie where one is looked for."""
    return NoOutline(
        tell("Two things lie on the sheet, or a part between them has the sheet's own colour."), "",
        tell("Take the other away; or use a sheet of a colour that is not on the tool."),
    )  # fmt: skip


def too_near() -> NoOutline:
    """Two things lie too near each other."""
    return NoOutline(
        tell("Two things lie too near each other to be told apart."), "",
        tell("Lay them with a finger's breadth of paper between them."),
    )  # fmt: skip


def spots_of(seen: Mask, per_mm: float) -> tuple[Line, Mask]:
    """The middles `(k, 2)` in mm of what is seen that is no larger than a dot of a pen and as round; and those spots alone."""
    import cv2

    _, labels, stats, middles = cv2.connectedComponentsWithStats(seen)
    area = stats[:, cv2.CC_STAT_AREA] / per_mm**2
    sides = stats[:, [cv2.CC_STAT_WIDTH, cv2.CC_STAT_HEIGHT]]
    dots = (area > SPOT_MM2[0]) & (area < SPOT_MM2[1]) & (sides.max(axis=1) < 1.8 * sides.min(axis=1))
    dots &= area * per_mm**2 > 0.5 * sides.prod(axis=1)
    return (middles[dots] + 0.5) / per_mm, dots[labels].astype(np.uint8)


def clear(mask: Mask, per_mm: float, ignored: Sequence[Line] = ()) -> Mask:
    """A mask with nothing at the border, nor where something is printed."""
    rim = round(BORDER_MM / 3 * per_mm)
    mask[:rim], mask[-rim:], mask[:, :rim], mask[:, -rim:] = 0, 0, 0, 0
    for box in ignored:
        low, high = (np.rint(v * per_mm).astype(int) for v in (box.min(axis=0) - 2, box.max(axis=0) + 2))
        mask[max(low[1], 0) : max(high[1], 0), max(low[0], 0) : max(high[0], 0)] = 0
    return mask


def greys(planes: Planes) -> Levels:
    """The mean of the three channels of each pixel."""
    import cv2

    summed = cv2.add(planes[0], planes[1], dtype=cv2.CV_32F)
    cv2.add(summed, planes[2], dst=summed, dtype=cv2.CV_32F)
    return np.multiply(summed, np.float32(1 / 3), out=summed)


def _about(mask: Mask, within_mm: float, per_mm: float) -> Mask:
    """A mask and what lies so near it."""
    import cv2

    return np.asarray(cv2.distanceTransform(1 - mask, cv2.DIST_L2, 5) <= within_mm * per_mm + 0.5, np.uint8)


def _cleared(planes: Planes, of: Mask) -> Planes:
    """The channels with bare paper at some places."""
    cleared = [plane.copy() for plane in planes]
    for plane in cleared:
        plane[of] = 1.0
    return cleared


def _evened(flat: Levels, per_mm: float) -> tuple[Planes, float]:
    """Each channel of a picture `(h, w, 3)` as a share of the paper's about it, so that neither lamp, rim nor the colour of the
    light matters; and how far the paper itself strays. Raises NoOutline where there is no paper to go by.
    """
    import cv2

    small = cv2.resize(flat, None, fx=0.1, fy=0.1, interpolation=cv2.INTER_AREA)
    high, wide = small.shape[:2]
    y, x = np.mgrid[-1 : 1 : high * 1j, -1 : 1 : wide * 1j]
    basis = np.column_stack([(x**i * y**j).ravel() for i in range(DEGREE + 1) for j in range(DEGREE + 1 - i)])
    small = small.astype(np.float32)
    grey = greys(cv2.split(small)).ravel().astype(float)
    paper = grey > 0.75 * np.percentile(grey, 80)
    light = grey
    for degree in (1, 2, DEGREE, DEGREE, DEGREE):  # fitted to what looks like paper, which is then looked for again
        terms = [
            k
            for k, (i, j) in enumerate((i, j) for i in range(DEGREE + 1) for j in range(DEGREE + 1 - i))
            if i + j <= degree
        ]
        weights, *_ = np.linalg.lstsq(basis[paper][:, terms], grey[paper], rcond=None)
        light = basis[:, terms] @ weights
        paper = np.abs(grey / np.maximum(light, 1.0) - 1) < 0.06
        if paper.mean() < 0.15:
            raise NoOutline(
                tell("Hardly any even paper is seen about the thing."), "",
                tell("Lay it on a larger sheet, in even light."),
            )  # fmt: skip
    ground = cv2.resize(light.reshape(high, wide).astype(np.float32), flat.shape[1::-1], interpolation=cv2.INTER_LINEAR)
    tint = np.median(small.reshape(-1, 3)[paper] / grey[paper, None], axis=0)
    even = [
        np.asarray(cv2.divide(plane, np.maximum(ground * np.float32(share), 1.0), dtype=cv2.CV_32F))
        for plane, share in zip(cv2.split(flat), tint.tolist(), strict=True)
    ]
    rough = greys(even)
    some = slice(None, None, 3)  # how far it strays is seen on a ninth of it as well
    strays = np.abs(rough - cv2.GaussianBlur(rough, (0, 0), 0.5 * per_mm))[some, some]
    on_paper = cv2.resize(
        paper.reshape(high, wide).astype(np.uint8), flat.shape[1::-1], interpolation=cv2.INTER_NEAREST
    )
    return even, float(1.48 * np.median(strays[on_paper[some, some] > 0]))


def _lying_on(even: Planes, noise: float, per_mm: float, ignored: list[Line]) -> Mask:
    """The thing that lies on the paper as a mask `(h, w)`, its shadow left out; `ignored` are places printed on the paper.

    Raises NoOutline where there is none, where it touches the border, or where it cannot be told from a shadow.
    """
    import cv2

    bright = cv2.GaussianBlur(greys(even), (0, 0), 0.12 * per_mm)
    blue, green, red = (cv2.GaussianBlur(plane, (0, 0), 0.25 * per_mm) for plane in even)
    colour = cv2.max(cv2.max(blue, green), red) - cv2.min(cv2.min(blue, green), red)
    faint, coloured = max(FAINT, NOISES * noise), max(COLOURED, NOISES * noise)
    any_ = ((np.abs(bright - 1) > faint) | (colour > coloured)).astype(np.uint8)
    sure = ((bright < SURE) | (colour > 2 * coloured) | (bright > SHINES + faint)).astype(np.uint8)
    any_, sure = (clear(mask, per_mm, ignored) for mask in (any_, sure))
    any_ = np.maximum(cv2.morphologyEx(any_, cv2.MORPH_OPEN, np.ones((2, 2), np.uint8)), sure)
    whole = _with_most(any_, sure if sure.any() else any_, per_mm)
    core = whole & sure
    inner = cv2.morphologyEx(core, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (5, 5)))
    beside = whole & (1 - cv2.dilate(inner, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (odd(0.9 * per_mm),) * 2)))
    beside = cv2.morphologyEx(
        beside, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (odd(0.6 * per_mm),) * 2)
    )
    return bordered(_parted(bright, whole, core, inner, beside, per_mm), per_mm)


def _parted(bright: Levels, whole: Mask, core: Mask, inner: Mask, beside: Mask, per_mm: float) -> Mask:
    """The thing without its shadow. Raises NoOutline where they cannot be told apart."""
    if beside.sum() / per_mm**2 <= SLIVER_MM2:
        return whole if not core.any() else _filled(whole, core, per_mm)
    share = _sharp(bright, whole, beside, per_mm)
    if core.sum() / per_mm**2 < LEAST_MM2 and share > SHARES[1]:
        return whole  # one faint thing by itself, its edge sharp all round: no shadow without a thing
    shaded = share < SHARES[0] and core.sum() / per_mm**2 >= LEAST_MM2
    if shaded and _sharp_within(bright, beside, inner, per_mm) < MOST_SHARP_MM:
        return _filled(inner, inner, per_mm)
    raise NoOutline(
        tell("Something faint lies against it, a shadow or a bright part of the thing: that cannot be told from this picture."),
        "", tell("Lay it on a sheet of a strong colour that is not on the tool: then shadows do not matter."),
    )  # fmt: skip


def _faint_edges(bright: Levels, found: Mask, ignored: list[Line], per_mm: float) -> float:
    """How many mm of long sharp edges there are on the paper beside what was found on it, however faint."""
    import cv2

    calm = cv2.GaussianBlur(bright, (0, 0), 0.3 * per_mm)
    rises = [cv2.Sobel(calm, cv2.CV_32F, *way, ksize=3) for way in ((1, 0), (0, 1))]
    steep = float(np.median(np.hypot(*(r[::5, ::5] for r in rises))))
    dx, dy = (np.clip(r * (100 / max(steep, CALM)), -30000, 30000).astype(np.int16) for r in rises)
    edges = cv2.Canny(dx, dy, 300, 550, L2gradient=True)
    edges[_about(found, 2.5, per_mm) > 0] = 0
    edges = clear(edges, per_mm, ignored)
    n, labels, stats, _ = cv2.connectedComponentsWithStats(edges, connectivity=8)
    long = [k for k in range(1, n) if max(stats[k, cv2.CC_STAT_WIDTH], stats[k, cv2.CC_STAT_HEIGHT]) > LONG_MM * per_mm]
    points = np.argwhere(np.isin(labels, long))[:, ::-1].astype(float)
    if not len(points):
        return 0.0
    return float((_widths(calm, points, per_mm)[0] < FAINT_SHARP_MM).sum()) / per_mm


def _taken_away(even: Planes, mask: Mask, per_mm: float) -> Planes:
    """The paper without a thing that lay on it, and what is about that. Raises NoOutline where another lies too near."""
    import cv2

    apart = cv2.distanceTransform(1 - mask, cv2.DIST_L2, 5)
    about = apart <= APART_MM * per_mm
    rim = (apart > APART_MM * per_mm) & (apart <= APART_MM * per_mm + 2)
    if (greys(even)[rim] < SURE).any():
        raise too_near()
    return _cleared(even, about)


def holes_in(thing: Lying, ring: Line, per_mm: float) -> Line:
    """The middles of holes in a thing within its outline `(k, 2)`, in mm: small spots, round or slanted, lighter or darker than
    what is about them.
    """
    import cv2

    within, window = np.zeros(thing.mask.shape, np.uint8), odd(6.0 * per_mm)
    cv2.fillPoly(within, [np.rint(ring * per_mm - 0.5).astype(np.int32)], 1)
    inside = np.asarray(cv2.erode(within, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (odd(2.0 * per_mm),) * 2)))
    if not inside.any():
        return np.zeros((0, 2))
    x, y, wide, high = cv2.boundingRect(inside)
    there = slice(max(y - window, 0), y + high + window), slice(max(x - window, 0), x + wide + window)
    grey, inside = thing.tones[there], inside[there]
    alone = np.where(
        inside > 0, grey, np.median(grey[inside > 0])
    )  # at its corners what is about a place is mostly paper
    about = cv2.medianBlur(np.clip(alone * 200, 0, 255).astype(np.uint8), window).astype(np.float32) / 200
    stands = np.abs(cv2.GaussianBlur(grey, (0, 0), 0.1 * per_mm) - about)
    spots = ((stands > thing.stands) & (inside > 0)).astype(np.uint8)
    n, _, stats, middles = cv2.connectedComponentsWithStats(spots)
    found = [
        middles[k] for k in range(1, n)
        if HOLE_MM2[0] <= (area := stats[k, cv2.CC_STAT_AREA] / per_mm**2) <= HOLE_MM2[1]
        and max(stats[k, cv2.CC_STAT_WIDTH], stats[k, cv2.CC_STAT_HEIGHT]) <= HOLE_MM * per_mm
        and area * per_mm**2 >= ROUND * stats[k, cv2.CC_STAT_WIDTH] * stats[k, cv2.CC_STAT_HEIGHT]
    ]  # fmt: skip
    corner = [there[1].start, there[0].start]
    return (np.array(found).reshape(-1, 2) + corner + 0.5) / per_mm


def odd(px: float) -> int:
    """The odd number nearest to so many pixels: a window with a middle."""
    return 2 * round(px / 2) + 1


def _filled(whole: Mask, core: Mask, per_mm: float) -> Mask:
    """The part of a mask that has the core, its holes filled."""
    import cv2

    contours, _ = cv2.findContours(_with_most(whole, core, per_mm), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    filled = np.zeros_like(whole)
    cv2.drawContours(filled, [max(contours, key=cv2.contourArea)], -1, 1, cv2.FILLED)
    return filled


def _with_most(mask: Mask, of: Mask, per_mm: float) -> Mask:
    """The connected part of a mask that has the most of another in it. Raises NoOutline where it is too small."""
    import cv2

    n, labels = cv2.connectedComponents(mask)
    counts = np.bincount(labels[of > 0], minlength=n)
    counts[0] = 0
    k = int(np.argmax(counts)) if n > 1 else 0
    part = np.asarray(labels == k, np.uint8) if k else np.zeros_like(mask)
    if part.sum() / per_mm**2 < LEAST_MM2:
        raise NothingThere(
            tell("Nothing of any size on the paper is darker than it, or of another colour, by enough."), "",
            tell("Lay the thing on white paper, inside the sheet, and light it from above."),
        )  # fmt: skip
    return part


def bordered(mask: Mask, per_mm: float) -> Mask:
    """A thing's mask itself. Raises NoOutline where it touches the border."""
    border = round(BORDER_MM * per_mm)
    if mask[:border].any() or mask[-border:].any() or mask[:, :border].any() or mask[:, -border:].any():
        raise NoOutline(
            tell("The thing touches the border of the paper."), "",
            tell("Lay it with paper to be seen all round, or use a larger sheet."),
        )  # fmt: skip
    return mask


def _sharp_within(bright: Levels, beside: Mask, inner: Mask, per_mm: float) -> float:
    """How many mm of sharp edge there are in or round what lies faint beside the thing: a blade that a shade has run into."""
    import cv2

    levels = np.clip(bright * 200, 0, 255).astype(np.uint8)
    edges = cv2.Canny(levels, 6, 12)
    near_inner = cv2.distanceTransform(1 - inner, cv2.DIST_L2, cv2.DIST_MASK_PRECISE) <= 4.5 * per_mm
    edges[(cv2.dilate(beside, np.ones((odd(1.2 * per_mm),) * 2, np.uint8)) == 0) | near_inner] = 0
    rim = round(BORDER_MM * per_mm)  # beyond it the sheet's own edge is seen
    points = np.argwhere(edges[rim:-rim, rim:-rim])[:, ::-1].astype(float) + rim
    if len(points) < 5:
        return 0.0
    wide, step = _widths(bright, points, per_mm)
    return float(((wide < SHARP_MM) & (step > 2 * FAINT)).sum()) / per_mm


def _sharp(bright: Levels, whole: Mask, beside: Mask, per_mm: float) -> float:
    """What share of the outer edge of what lies faint beside the thing is sharp."""
    import cv2
    from scipy.ndimage import gaussian_filter1d

    near = cv2.dilate(beside, np.ones((odd(1.2 * per_mm),) * 2, np.uint8))
    contours, _ = cv2.findContours(whole, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    ring = max(contours, key=cv2.contourArea).reshape(-1, 2).astype(float)
    whole_ring = closed(gaussian_filter1d(ring, 0.3 * per_mm, axis=0, mode="wrap"))
    points = walk(whole_ring, np.arange(0.0, float(arc_length(whole_ring)[-1]), 1.0 * per_mm))
    at = np.clip(np.rint(points).astype(int), 0, np.array(whole.shape[::-1]) - 1)
    points = points[near[at[:, 1], at[:, 0]] > 0]
    if len(points) < 5:
        return 1.0
    return float((_widths(bright, points, per_mm)[0] < SHARP_MM).mean())


def _widths(bright: Levels, points: Line, per_mm: float) -> tuple[Levels, Levels]:
    """How wide the edge at each point is in mm, from dark to bright, square to it; and how large a step it is."""
    import cv2
    from scipy.ndimage import map_coordinates

    gx, gy = cv2.Sobel(bright, cv2.CV_32F, 1, 0, ksize=5), cv2.Sobel(bright, cv2.CV_32F, 0, 1, ksize=5)
    way = np.column_stack([map_coordinates(g, points.T[::-1], order=1) for g in (gx, gy)])
    way = way / np.maximum(np.hypot(*way.T), 1e-9)[:, None]
    off = np.linspace(-3.0, 3.0, 61) * per_mm
    across = points[:, None] + off[None, :, None] * way[:, None]
    seen = map_coordinates(bright, [across[..., 1], across[..., 0]], order=1, mode="nearest")
    low, high = np.percentile(seen, 8, axis=1), np.percentile(seen, 92, axis=1)
    part = (seen - low[:, None]) / np.maximum(high - low, 1e-3)[:, None]
    middle = np.argmin(np.abs(part - 0.5) + 0.02 * np.abs(off)[None] / per_mm, axis=1)
    wide = np.empty(len(points))
    for k in range(len(points)):
        up = np.flatnonzero(part[k, middle[k] :] >= 0.85)
        down = np.flatnonzero(part[k, : middle[k] + 1][::-1] <= 0.15)
        wide[k] = ((up[0] if len(up) else 30) + (down[0] if len(down) else 30)) * 0.1
    return wide, high - low
