"""The made thing drawn in a box: its sides beside each other, or one above the other where that shows them larger."""

from functools import lru_cache

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QTransform
from PySide6.QtWidgets import QWidget

from ...core.made import Face, Made
from ...core.texts import heading, tell
from ..look.ink import DAY, SEMI, Ink, type_
from .painter import Paintable, paint, paintable

TITLE_PX, SAYS_PX, GAP_PX = 24.0, 22.0, 18.0
Size = tuple[float, float]


def boxes(sizes: tuple[Size, ...], wide: float, high: float, title: float = 0.0, gap: float = GAP_PX) -> list[QRectF]:
    """Where sides so large are drawn in a space, all at one scale: in a row, or one below another if they are larger so."""
    n = len(sizes)
    most = max(s[0] for s in sizes), max(s[1] for s in sizes)
    across, down = (wide - gap * (n - 1)) / n, high - title
    beside = min(across / most[0], down / most[1])
    below = min(wide / most[0], ((high - gap * (n - 1)) / n - title) / most[1])
    if beside >= below:
        return [QRectF(k * (across + gap), title, across, down) for k in range(n)]
    each = (high - gap * (n - 1)) / n
    return [QRectF(0, k * (each + gap) + title, wide, each - title) for k in range(n)]


@lru_cache(32)
def _ready(face: Face, scale: float) -> tuple[Paintable, ...]:
    return tuple(paintable(face.marks, scale))


def paint_made(
    painter: QPainter, made: Made, space: QRectF, ink: Ink, title: float = 0.0, fine: float = 1.0
) -> list[QRectF]:
    """Both sides at one scale in a space, room for a title left above each: the boxes they were painted in."""
    sizes = tuple((float(w), float(h)) for w, h in (f.box[1] for f in made.faces))
    placed = [b.translated(space.topLeft()) for b in boxes(sizes, space.width(), space.height(), title)]
    scale = min(min(b.width() / s[0], b.height() / s[1]) for b, s in zip(placed, sizes, strict=True))
    for face, box in zip(made.faces, placed, strict=True):
        low, size = face.box
        middle = low + size / 2
        to_px = QTransform.fromTranslate(box.center().x(), box.center().y()).scale(scale, scale)
        paint(painter, _ready(face, round(scale, 3)), ink, to_px.translate(-middle[0], -middle[1]), fine=fine)
    return [
        QRectF(0, 0, w * scale, h * scale).translated(b.center().x() - w * scale / 2, b.center().y() - h * scale / 2)
        for b, (w, h) in zip(placed, sizes, strict=True)
    ]


class MadeView(QWidget):
    """The finished thing from both sides, and how it is carried."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("made")
        self.made: Made | None = None
        self.ink: Ink = DAY

    def show_made(self, made: Made | None, ink: Ink, waits: str) -> None:
        """Show this, or say what it waits for."""
        self.made, self.ink = made, ink
        said = [heading(f.title) for f in made.faces] + [self._carried()] if made else [waits]
        self.setAccessibleName(tell("The finished thing"))
        self.setAccessibleDescription(". ".join(s for s in said if s))
        self._waits = waits
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(type_(15))
        painter.setPen(self.ink.colour("quiet"))
        if self.made is None:
            painter.drawText(self.rect(), int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap), self._waits)
            return
        says = self._carried()
        space = QRectF(self.rect()).adjusted(2, 0, -2, -SAYS_PX if says else -2)
        for face, box in zip(self.made.faces, paint_made(painter, self.made, space, self.ink, TITLE_PX), strict=True):
            painter.setFont(type_(15, SEMI))
            painter.setPen(self.ink.colour("ink"))
            above = QRectF(box.center().x() - self.width() / 2, box.top() - TITLE_PX, self.width(), TITLE_PX)
            painter.drawText(above, int(Qt.AlignmentFlag.AlignHCenter), heading(face.title))
        painter.setFont(type_(15))
        painter.setPen(self.ink.colour("quiet"))
        foot = QRectF(0, self.height() - SAYS_PX, self.width(), SAYS_PX)
        painter.drawText(foot, int(Qt.AlignmentFlag.AlignHCenter), says)

    def _carried(self) -> str:
        return " · ".join(heading(s) for s in self.made.says) if self.made else ""
