"""What lies on a coloured sheet in a picture laid flat: told from it by hue, which a shadow does not change.

A shadow takes light of every colour alike, so the sheet keeps its hue in it, from grey to nearly none; steel has none, and
wood and dark grips another. What has the sheet's own hue cannot be seen on it.
"""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..core.texts import tell
from .matter import (
    APART_MM,
    LEAST_MM2,
    SPECK_MM2,
    Ground,
    Levels,
    Lying,
    Mask,
    bordered,
    clear,
    odd,
    spots_of,
    too_near,
    two_things,
)
from .sheet import NoOutline, NothingThere

STRONG = 0.4  # of its brightest channel, how far a sheet's darkest is below it: with less it is white paper in coloured light
BLACK = 6.0  # of 255, added to every channel, so that the noise of what is nearly black has no hue
CALM_MM = 0.12  # standard deviation of the smoothing that hue is seen through
SHARE = 1 / 3  # of the way from the sheet's hue to none, or as far another way: what is farther is thing
SURE = 0.75  # so far from the sheet's hue a thing is seen by itself
NOISES = 4.0
UNEVEN_MM = 2.0  # the squares in which a kept picture's colour is coarse are not so large
RIM_MM = (2.0, 10.0)  # from the sheet's border: between these hardly anything lies
BESIDE_MM = 0.6  # from the edge: so far off lens and kept colour have blurred nothing
LEAST_MM = 0.2  # from the edge: nearer than that even the middle of what is narrow is blurred
ROOM_MM = 4.0  # about a thing within which its edge is looked for
ROUGH = 6.0  # of 255, how far a kept picture's colour strays
FAINT_STEP, FAINT_MM = 70.0, 0.6  # of 255, from sheet to thing: of what differs less what is within so much is averaged
SHADE = 0.2  # how far the light on the sheet may change in the last half mm, as a share


def strong(flat: Levels, per_mm: float) -> bool:
    """Whether a sheet laid flat `(h, w, 3)` is of so strong a colour that hue tells what lies on it."""
    ground = _rim(flat, per_mm)
    return bool(1 - ground.min() / max(ground.max(), 1.0) > STRONG)


def lying(flat: Levels, per_mm: float, most: int) -> Ground:
    """What lies on a coloured sheet laid flat, the largest first. Raises NoOutline where there is nothing, where one touches
    the border, another lies too near it, or, where only one is looked for, another lies anywhere.
    """
    import cv2

    flat = flat.astype(np.float32)
    strays, noise = _strays(flat, per_mm)
    seen = (strays > np.maximum(SHARE, NOISES * noise)).astype(np.uint8)
    seen = clear(seen, per_mm)
    seen = np.asarray(cv2.morphologyEx(seen, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (3, 3))))
    contours, _ = cv2.findContours(seen, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    contours = sorted(
        (c for c in contours if cv2.contourArea(c) > SPECK_MM2 * per_mm**2), key=cv2.contourArea, reverse=True
    )
    if not contours or cv2.contourArea(contours[0]) < LEAST_MM2 * per_mm**2:
        raise NothingThere(
            tell("Nothing of any size on the sheet is of another colour than it."), "",
            tell("Lay the thing inside a sheet of a colour that is not on it."),
        )  # fmt: skip
    if most == 1 and len(contours) > 1:
        raise two_things()
    masks = [_filled(c, seen.shape) for c in contours[:most]]
    every = np.max(masks, axis=0)
    things = []
    for mask in masks:
        bordered(mask, per_mm)
        apart = cv2.distanceTransform(1 - mask, cv2.DIST_L2, 5)
        if ((apart <= APART_MM * per_mm) & (every > mask)).any():
            raise too_near()
        covers = _covers(flat, mask, strays, strays < np.maximum(SHARE / 3, 2 * noise), per_mm)
        parts, _ = cv2.findContours((covers > 0.5).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
        whole = _filled(max(parts, key=cv2.contourArea), mask.shape) if parts else mask
        things.append(Lying(whole, covers, np.clip(strays, 0, 1), 0.5))
    return Ground(things, spots_of(seen & (1 - every), per_mm)[0])


def _filled(contour: NDArray[Any], shape: tuple[int, ...]) -> Mask:
    import cv2

    mask = np.zeros(shape, np.uint8)
    cv2.drawContours(mask, [contour], -1, 1, cv2.FILLED)
    return mask


def _rim(flat: Levels, per_mm: float) -> NDArray[np.float64]:
    """What the sheet is near its border, in each channel."""
    low, high = (round(mm * per_mm) for mm in RIM_MM)
    within = flat[low:-low:4, low:-low:4]
    deep = (high - low) // 4
    sides = (within[:deep], within[-deep:], within[:, :deep], within[:, -deep:])
    return np.asarray(np.median(np.concatenate([s.reshape(-1, 3) for s in sides]), axis=0), float)


def _hues(flat: Levels) -> Levels:
    """The logs of green over red and green over blue, which light of any strength leaves as they are."""
    logs = np.log(np.maximum(flat, 0) + np.float32(BLACK))
    return np.stack([logs[..., 1] - logs[..., 2], logs[..., 1] - logs[..., 0]], -1)


def _strays(flat: Levels, per_mm: float) -> tuple[Levels, Levels]:
    """How far the hue of each pixel is from the sheet's about it, where none at all is 1 away; and how far noise takes it."""
    import cv2

    calm = cv2.GaussianBlur(flat, (0, 0), CALM_MM * per_mm)
    hues = _hues(calm)
    at_rim = _hues(_rim(flat, per_mm).astype(np.float32))
    small = cv2.resize(hues, None, fx=0.1, fy=0.1, interpolation=cv2.INTER_AREA)
    high, wide = small.shape[:2]
    y, x = np.mgrid[-1 : 1 : high * 1j, -1 : 1 : wide * 1j]
    basis = np.column_stack([(x**i * y**j).ravel() for i in range(3) for j in range(3 - i)])
    seen = small.reshape(-1, 2).astype(float)
    grey = float(np.hypot(*at_rim))
    ground = np.hypot(*(seen - at_rim).T) < SHARE / 2 * grey
    drifts = np.tile(at_rim, (len(seen), 1)).astype(float)
    for _ in range(
        3
    ):  # the sheet's hue drifts over it with the lamps': fitted to what looks like it, then looked for again
        if ground.mean() < 0.15:
            raise NoOutline(
                tell("Hardly any even paper is seen about the thing."), "",
                tell("Lay it on a larger sheet, in even light."),
            )  # fmt: skip
        weights, *_ = np.linalg.lstsq(basis[ground], seen[ground], rcond=None)
        drifts = basis @ weights
        ground = np.hypot(*(seen - drifts).T) < SHARE / 2 * grey
    own = cv2.resize(
        drifts.reshape(high, wide, 2).astype(np.float32), flat.shape[1::-1], interpolation=cv2.INTER_LINEAR
    )
    long = np.maximum(np.hypot(own[..., 0], own[..., 1]), 1e-3)
    strays = np.hypot(hues[..., 0] - own[..., 0], hues[..., 1] - own[..., 1]) / long
    on_sheet = (
        cv2.resize(ground.reshape(high, wide).astype(np.uint8), flat.shape[1::-1], interpolation=cv2.INTER_NEAREST) > 0
    )
    deep = round(4 * UNEVEN_MM * per_mm)
    rough = [  # in bands, a fifth of it all: noise is the same everywhere
        np.abs(band - cv2.GaussianBlur(band, (0, 0), UNEVEN_MM * per_mm))[on_sheet[top : top + deep]]
        for top in range(0, len(calm), 5 * deep) for band in (calm[top : top + deep],)
    ]  # fmt: skip
    noise = 1.48 * np.median(np.concatenate(rough), axis=0)
    log_noise = sum((float(n) / (calm[..., k] + BLACK)) ** 2 for k, n in enumerate(noise))
    return strays, np.sqrt(log_noise) / long


def _covers(flat: Levels, mask: Mask, strays: Levels, bare: Mask, per_mm: float) -> Levels:
    """What share of each pixel about a thing it covers.

    Beside its edge the sheet's colour is carried on from half a mm outside, the thing's from half a mm inside; the share is
    where between the two a pixel lies, by least squares, the sheet free to be lighter or darker than where it is carried from.
    """
    import cv2

    room = round(ROOM_MM * per_mm)
    x, y, wide, high = cv2.boundingRect(mask)
    box = np.s_[max(y - room, 0) : y + high + room, max(x - room, 0) : x + wide + room]
    seen, own = flat[box], mask[box]
    around = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (odd(3 * per_mm),) * 2)
    sure = strays[box] > np.minimum(SURE, 0.8 * cv2.dilate(strays[box], around))  # the bottom of a crotch is not
    sheet, thing = (
        _carried(seen, _beyond(1 - own, per_mm) & bare[box], per_mm),
        _carried(seen, _beyond(own, per_mm) & sure, per_mm),
    )
    step, at = thing - sheet, seen - sheet
    bright = np.einsum("hwc,hwc->hw", sheet, sheet)
    along = SHADE**2 / (ROUGH**2 + SHADE**2 * bright)  # by so much less counts what only lightens or darkens the sheet
    step_along, at_along = (np.einsum("hwc,hwc->hw", v, sheet) for v in (step, at))
    rises = np.einsum("hwc,hwc->hw", at, step) - along * at_along * step_along
    whole = np.einsum("hwc,hwc->hw", step, step) - along * step_along**2
    shares = np.clip(rises / np.maximum(whole, 1e-3), -0.5, 1.5)
    weak = np.clip(1 - np.sqrt(np.maximum(whole, 0.0)) / FAINT_STEP, 0, 1)  # noise stands out where they hardly differ
    covers = np.zeros(mask.shape, np.float32)
    covers[box] = shares + weak * (cv2.GaussianBlur(shares, (0, 0), FAINT_MM * per_mm) - shares)
    return covers


def _beyond(part: Mask, per_mm: float) -> Mask:
    """The places of a part that lie well within it; where it is too narrow for that, those of its middle."""
    import cv2

    deep = np.asarray(cv2.distanceTransform(part, cv2.DIST_L2, cv2.DIST_MASK_PRECISE) / per_mm, np.float32)
    near = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (odd(2 * BESIDE_MM * per_mm),) * 2)
    middle = (deep > LEAST_MM) & (deep > 0.8 * cv2.dilate(deep, near))
    return ((deep > BESIDE_MM) | middle).astype(np.uint8)


def _carried(seen: Levels, where: Mask, per_mm: float) -> Levels:
    """At every pixel the colour there, or where it is not known that of the nearest that is."""
    import cv2

    share = cv2.GaussianBlur(where.astype(np.float32), (0, 0), 0.25 * per_mm)
    calm = cv2.GaussianBlur(seen * where[..., None], (0, 0), 0.25 * per_mm) / np.maximum(share, 1e-3)[..., None]
    _, nearest = cv2.distanceTransformWithLabels(1 - where, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    colours = np.zeros((int(nearest.max()) + 1, 3), np.float32)
    colours[nearest[where > 0]] = calm[where > 0]
    return colours[nearest]
