"""Pictures read from files, within bounds: how large one is, its header says before anything of it is made."""

import io
import warnings
from pathlib import Path

import numpy as np

from ..core.errors import UnreadableFile
from ..core.texts import tell
from ..instruments.tracing import Picture
from .whole import read_whole

MOST_BYTES = 60_000_000
MOST_PX = 80_000_000
HALVED_PX = 20_000_000  # with more, half of them show as much as is used of them
FORMATS = ("PNG", "JPEG", "TIFF", "BMP")


def read_picture(path: Path) -> Picture:
    """The picture in a file, turned as its camera was held. Raises UnreadableFile."""
    import cv2

    content = read_whole(path, MOST_BYTES)
    wide, high = _size(content, path)
    if wide * high > MOST_PX:
        raise UnreadableFile(
            tell("It has {n} million pixels; up to {most} are read.", n=str(wide * high // 1_000_000),
                 most=str(MOST_PX // 1_000_000)), str(path), tell("Make it smaller."),
        )  # fmt: skip
    cv2.utils.logging.setLogLevel(cv2.utils.logging.LOG_LEVEL_SILENT)  # what it cannot read is said here
    how = cv2.IMREAD_REDUCED_COLOR_2 if wide * high > HALVED_PX else cv2.IMREAD_COLOR
    try:
        picture = cv2.imdecode(np.frombuffer(content, np.uint8), how)
    except cv2.error as error:
        raise _damaged(path) from error
    if picture is None:
        raise _damaged(path)
    return np.asarray(picture, dtype=np.uint8)


def _size(content: bytes, path: Path) -> tuple[int, int]:
    """How wide and high its header says it is."""
    from PIL import Image

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(io.BytesIO(content), formats=FORMATS) as image:
                return image.size
    except Image.DecompressionBombError:
        return MOST_PX, MOST_PX
    except Exception as error:  # what a damaged header raises is of many kinds
        raise _damaged(path) from error


def _damaged(path: Path) -> UnreadableFile:
    return UnreadableFile(tell("It is damaged, or not a picture."), str(path), tell("PNG and JPEG are read."))
