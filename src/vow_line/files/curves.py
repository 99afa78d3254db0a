"""What a drawing holds before anything is chosen in it: its curves, and whether it says how large they are."""

from dataclasses import dataclass
from pathlib import Path

import numpy as np

from ..core.curve import Line
from ..core.errors import UnreadableFile
from ..core.texts import tell

MOST_POINTS = 200_000
MOST_SHOWN = 200_000  # elements, with all that is shown again
OFTEN = 10  # so many times as many elements shown as there are is more than any drawing does, from here on:
MANY = 20_000
FAR_MM = 1e7  # from the origin: ten kilometres, no outline reaches
FLAT_MM = 0.05  # how far a curve may be from the straight pieces it is read as


@dataclass(frozen=True, slots=True, eq=False)
class Curves:
    """The curves of a drawing `(n, 2)`, y down, in mm when it says itself how large it is (`scaled`) or that was told, else in
    its own units; the page `(wide, high)` they lie on, from (0, 0), where the drawing has one.
    """

    lines: list[Line]
    scaled: bool
    page: tuple[float, float] | None = None


def refuse_shown(shown: float, drawn: int, path: Path) -> None:
    """Raise UnreadableFile where a drawing shows its own parts again more often than any outline's does."""
    if shown > MOST_SHOWN or (shown > MANY and shown > OFTEN * drawn):
        raise UnreadableFile(
            tell("It shows its own parts again and again, more than {n} of them in all.", n=str(MANY)),
            str(path), tell("Write only the outline into a file of its own."),
        )  # fmt: skip


def refuse_far(points: Line, unit_mm: float, path: Path) -> None:
    """Raise UnreadableFile where what is drawn reaches farther than any outline."""
    if len(points) and not np.abs(points).max() * unit_mm <= FAR_MM:
        raise UnreadableFile(
            tell("Something in it lies kilometres away."),
            str(path),
            tell("Write only the outline into a file of its own."),
        )


def refuse_many(points: int, path: Path) -> None:
    """Raise UnreadableFile where there are more points than any outline has."""
    if points > MOST_POINTS:
        raise UnreadableFile(tell("There are more points in it than any outline has."), str(path))
