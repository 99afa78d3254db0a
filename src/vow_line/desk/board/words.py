"""Words on a drawing: laid out once, and put where they have room."""

from collections import defaultdict
from collections.abc import Iterable
from functools import lru_cache

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QFont, QFontMetrics, QStaticText, QTransform

from ...core.drawing import Label
from ...core.language import spoken
from ...core.quantity import Units
from ..look.ink import BOLD, type_

LARGE, SMALL = (17, 15), (15, 13)
"""How high strong words and others are, in px, on a board and in its corner."""
STRIP_PX = 64
LINES_OFF = (0, -1, -2, -3, 1, 2, -4, 3)  # where words over a place are tried, in lines from where they belong
NEAREST = (0, 1, -1, 2, -2, 3, -3, -4)  # and words beside one
OF_WIDTH = {"left": 0.0, "centre": 0.5, "right": 1.0}  # left of where words are, by how they stand there
Placed = tuple[QRectF, Label, QStaticText]


@lru_cache(500)
def laid(text: str, font: QFont) -> QStaticText:
    """Words laid out once: their size, and how they are painted."""
    words = QStaticText(text)
    words.setTextFormat(Qt.TextFormat.PlainText)
    words.prepare(font=font)
    return words


@lru_cache(1000)
def _sized(label: Label, units: Units, sizes: tuple[int, int], _language: object) -> tuple[QStaticText, float, float]:
    """The words of a label in these units and the language spoken, laid out, and how wide and high they are."""
    words = laid(label.says.write(units), label_type(label, sizes))
    return words, words.size().width(), words.size().height()


def label_type(label: Label, sizes: tuple[int, int]) -> QFont:
    """The letters of a label."""
    return type_(sizes[0], BOLD) if label.strong else type_(sizes[1])


def placed(
    labels: Iterable[Label], to_px: QTransform, units: Units, sizes: tuple[int, int], low: float, most: float,
    stand: Iterable[QRectF] = (),
) -> list[Placed]:  # fmt: skip
    """Each label's words and where they stand, in pixels, between two heights: where it says, or a few lines up or down from
    there, not over others nor over what `stand` there; those that matter less are left out where there is no room.
    """
    found: list[Placed] = []
    taken: defaultdict[int, list[tuple[float, float, float, float]]] = defaultdict(list)  # left, top, right, bottom

    def take(left: float, top: float, right: float, bottom: float) -> None:
        for k in _strips(left, right):
            taken[k].append((left, top, right, bottom))

    for box in stand:
        take(box.left(), box.top(), box.right(), box.bottom())
    ascents = [QFontMetrics(type_(px, BOLD) if k == 0 else type_(px)).ascent() for k, px in enumerate(sizes)]
    scale, right, down = to_px.m11(), to_px.dx(), to_px.dy()
    for label in sorted(labels, key=lambda k: not k.strong):
        words, wide, high = _sized(label, units, sizes, spoken())
        left = label.at[0] * scale + right - wide * OF_WIDTH[label.align]
        first = label.at[1] * scale + down - ascents[not label.strong]
        beside = [
            (a, b)
            for k in _strips(left, left + wide)
            for x, a, y, b in taken[k]
            if left - 4 < y and left + wide + 4 > x
        ]
        top = _free(first, high, beside, low, most, LINES_OFF if label.align == "centre" else NEAREST)
        if top is not None or label.strong or label.meaning == "alarm":
            top = first if top is None else top
            take(left, top, left + wide, top + high)
            found.append((QRectF(left, top, wide, high), label, words))
    return found


def _strips(left: float, right: float) -> range:
    """In which strips of a drawing words and their room lie: only those of the same ones can be in each other's way."""
    return range(int((left - 4) // STRIP_PX), int((right + 4) // STRIP_PX) + 1)


def _free(
    first: float, high: float, beside: list[tuple[float, float]], low: float, most: float, tried: tuple[int, ...]
) -> float | None:
    """The first of the places where words are `tried`, that begin at `first` and are so `high`, clear of those beside and
    between two heights; None where there is none.
    """
    for off in tried:
        top = first + off * (high - 3)
        if top + 4 >= low and top + high - 4 <= most:
            for a, b in beside:
                if top + 3 < b and top + high - 3 > a:
                    break
            else:
                return top
    return None
