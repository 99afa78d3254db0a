"""A sentence on the board whose bold words are choices: its words laid in lines, the choices among them."""

from collections.abc import Callable

from PySide6.QtCore import QRectF
from PySide6.QtGui import QFontMetrics

from ...core.drawing import Callout
from ...core.quantity import Units
from ...core.texts import Said, between_slots
from ..look.ink import type_
from .choice import Choice
from .drawn import SENTENCE_PX

LINE_PX = 27
TUCK_PX = 3  # so far a choice reaches under the words beside it
Part = str | Callout


def parts_of(sentences: tuple[Said, ...], callouts: tuple[Callout, ...], units: Units) -> list[Part]:
    """Words and choices of the sentences as they are read; one with a slot that nothing is offered for is not said."""
    offered = {c.slot: c for c in callouts if c.choices}
    parts: list[Part] = []
    for sentence in sentences:
        known, cut = dict(sentence.values), between_slots(sentence)
        used = {p.slot for p in parts if isinstance(p, Callout)}
        if any(slot and slot not in known and (slot not in offered or slot in used) for _, slot in cut):
            continue
        if parts:
            parts.append(" ")
        for words, slot in cut:
            value = known.get(slot, "")
            says = value.write(units) if isinstance(value, Said) else str(value)
            parts += [p for p in (words, says) if p] + (
                [offered[slot]] if slot in offered and slot not in known else []
            )
    return parts


def laid(
    parts: list[Part], combo_of: Callable[[Callout], Choice], left: float, top: float, right: float
) -> tuple[list[tuple[QRectF, str]], float]:
    """Puts the choices in their places between `left` and `right`; gives the words with theirs, and the height of it all."""
    metrics = QFontMetrics(type_(SENTENCE_PX))
    words: list[tuple[QRectF, str]] = []
    x, y = left, top
    for part in parts:
        if isinstance(part, Callout):
            combo = combo_of(part)
            if x + combo.width() > right and x > left:
                x, y = left, y + LINE_PX
            combo.move(round(x) - TUCK_PX, round(y + (LINE_PX - combo.height()) / 2))
            x += combo.width() - 2 * TUCK_PX
            continue
        for word in _words(part):
            wide = metrics.horizontalAdvance(word)
            if x + metrics.horizontalAdvance(word.rstrip()) > right and x > left:
                x, y, word = left, y + LINE_PX, word.lstrip()
                wide = metrics.horizontalAdvance(word)
            words.append((QRectF(x, y, wide + 2.0, LINE_PX), word))
            x += wide
    return _in_runs(words), (y + LINE_PX - top if parts else 0.0)


def _words(text: str) -> list[str]:
    """The words of a text, each with the space before it."""
    found: list[str] = []
    for k, word in enumerate(text.split(" ")):
        found.append(word if k == 0 else f" {word}")
    return [w for w in found if w]


def _in_runs(words: list[tuple[QRectF, str]]) -> list[tuple[QRectF, str]]:
    """Words that follow each other on a line, as one."""
    runs: list[tuple[QRectF, str]] = []
    for box, word in words:
        if runs and runs[-1][0].top() == box.top() and abs(runs[-1][0].right() - 2.0 - box.left()) < 0.5:
            before, text = runs.pop()
            runs.append((before.united(box), text + word))
        else:
            runs.append((box, word))
    return runs
