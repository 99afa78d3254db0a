"""Points of one outline from a text file, in order: an x and a y on each line, y running up."""

import io
import re
from pathlib import Path

import numpy as np

from ..core.errors import UnreadableFile
from ..core.texts import tell
from .curves import Curves, refuse_many

SUFFIXES = (".txt", ".csv", ".xy")
LEAST_POINTS = 3


def read(content: bytes, path: Path, mm_per_unit: float | None) -> Curves:
    """The outline, closed from its last point to its first. Spaces, tabs, commas or semicolons part the two numbers; a comma
    in a number is its decimal point where a semicolon, a tab or a space parts them. Lines that begin with # and one heading are
    passed over. Raises UnreadableFile, naming the line.
    """
    try:
        rows = io.StringIO(content.decode("utf-8-sig"))
    except UnicodeDecodeError as error:
        raise UnreadableFile(tell("It is damaged, or not a text file."), str(path)) from error
    points: list[tuple[float, float]] = []
    heading = True
    for at, row in enumerate(rows, 1):
        if not row.strip() or row.lstrip().startswith("#"):
            continue
        point = _point(row.strip())
        if point is None and not heading:
            raise UnreadableFile(
                tell("Line {n} is not an x and a y: {row}.", n=str(at), row=row.strip()[:40]),
                str(path), tell("Write one x and one y on each line."),
            )  # fmt: skip
        heading = False
        if point is not None:
            points.append(point)
            refuse_many(len(points), path)
    if len(points) < LEAST_POINTS:
        raise UnreadableFile(
            tell("There are {n} points in it; an outline has at least {least}.", n=str(len(points)), least=str(LEAST_POINTS)),
            str(path), tell("Write one x and one y on each line."),
        )  # fmt: skip
    ring = np.array(points if points[0] == points[-1] else [*points, points[0]])
    return Curves([ring * [1, -1] * (mm_per_unit or 1.0)], False)


def _point(row: str) -> tuple[float, float] | None:
    """The two numbers of a line, or None."""
    apart = r"\s*[;\t]\s*" if re.search(r"[;\t]", row) else r"\s*,\s+|\s+" if re.search(r"\s", row) else r","
    words = [word.replace(",", ".") for word in re.split(apart, row)]
    try:
        x, y = (float(word) for word in words)
    except ValueError:
        return None
    return (x, y) if np.isfinite([x, y]).all() else None
