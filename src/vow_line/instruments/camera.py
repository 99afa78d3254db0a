"""Pictures of things on paper: read from files, or made by the stand-in camera, whose pictures show a known outline."""

from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..core.curve import Line
from ..core.errors import UnreadableFile
from ..core.quantity import SHEETS_MM, Sheet
from ..core.texts import tell
from .tracing import CARD_MM, SQUARE_MM, Picture, card_squares

MOST_BYTES = 60_000_000
MOST_PX = 80_000_000


def read_picture(path: Path) -> Picture:
    """The picture in a file. Raises UnreadableFile."""
    import cv2

    try:
        if path.stat().st_size > MOST_BYTES:
            raise UnreadableFile(
                tell("It is larger than any picture this is for."), str(path), tell("Make it smaller.")
            )
        content = np.frombuffer(path.read_bytes(), np.uint8)
    except OSError as error:
        raise UnreadableFile(
            tell("It could not be opened: {why}.", why=str(error.strerror or error)), str(path)
        ) from error
    picture = cv2.imdecode(content, cv2.IMREAD_COLOR) if len(content) else None
    if picture is None:
        raise UnreadableFile(tell("It is damaged, or not a picture."), str(path), tell("PNG and JPEG are read."))
    if picture.shape[0] * picture.shape[1] > MOST_PX:
        raise UnreadableFile(
            tell("It has more pixels than any picture this is for."), str(path), tell("Make it smaller.")
        )
    return np.asarray(picture, dtype=np.uint8)


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


def stand_in(
    outline: Line, *, sheet: Sheet | None = "A4", at_mm: tuple[float, float] = (30.0, 40.0),
    size_px: tuple[int, int] = (4000, 3000), tilt: float = 0.12, turn_rad: float = 0.05, lamp: float = 0.35,
    grain: float = 3.0, bright: float = 1.0, seed: int = 7,
) -> Picture:  # fmt: skip
    """A picture `(h, w, 3)` of a thing with this outline in mm, its corner at `at_mm` of the sheet, or of the card when `sheet`
    is None: tilted, turned, lit by a lamp to one side (`lamp` is the share of light lost across it), with grain.
    """
    import cv2

    rng = np.random.default_rng(seed)
    w, h = SHEETS_MM[sheet] if sheet else (CARD_MM[0] + 24, CARD_MM[1] + 24)
    per_mm = 12.0
    bench = 40.0
    flat = np.full((round((h + 2 * bench) * per_mm), round((w + 2 * bench) * per_mm)), 92, np.uint8)

    def px(points: Line) -> NDArray[np.int32]:
        return np.rint(np.asarray(points) * per_mm * 16).astype(np.int32)

    paper = np.array([[0, 0], [w, 0], [w, h], [0, h]]) + bench
    cv2.fillPoly(flat, [px(paper)], 238, lineType=cv2.LINE_AA, shift=4)
    if sheet is None:
        card = card_picture(per_mm)
        x = y = round((bench + 12) * per_mm)
        flat[y : y + card.shape[0], x : x + card.shape[1]] = np.minimum(card, 238)
    origin = np.array(at_mm) + bench + (0 if sheet else 12)
    cv2.fillPoly(flat, [px(outline + origin)], 58, lineType=cv2.LINE_AA, shift=4)
    wide, high = size_px
    span = np.array([[0, 0], [flat.shape[1], 0], [flat.shape[1], flat.shape[0]], [0, flat.shape[0]]], np.float32)
    fit = min(wide / span[2, 0], high / span[2, 1]) * 0.98
    there = (span - span.mean(axis=0)) * fit
    there[:2] *= 1 - tilt
    there[[0, 3]] *= 1 - tilt / 3
    c, s = np.cos(turn_rad), np.sin(turn_rad)
    there = there @ np.array([[c, s], [-s, c]]) + [wide / 2, high / 2]
    to_picture = cv2.getPerspectiveTransform(span, there.astype(np.float32))
    warped = cv2.warpPerspective(flat, to_picture, size_px, flags=cv2.INTER_AREA, borderValue=92)
    seen = np.asarray(cv2.GaussianBlur(warped.astype(np.float32), (0, 0), 1.2), dtype=np.float32)
    far = np.outer(np.linspace(0.6, 1, high), np.linspace(0, 1, wide)).astype(np.float32)
    lit = seen * (1 - lamp * far) * bright + rng.normal(0, grain, seen.shape)
    return np.repeat(np.clip(lit, 0, 255).astype(np.uint8)[..., None], 3, axis=2)
