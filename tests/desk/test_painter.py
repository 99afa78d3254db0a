import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QImage, QPainter, QPen, QPolygonF, QTransform
from PySide6.QtWidgets import QApplication

from tests.desk.conftest import grey_of
from vow_line.core.drawing import Mark, Meaning
from vow_line.core.meanings import LOOKS
from vow_line.desk.board.painter import paint, paintable
from vow_line.desk.look.ink import DAY

SIZE, SCALE = 240, 4.0


def _image(mark: Mark) -> np.ndarray:
    """The mark as the board paints it, `(SIZE, SIZE)` of grey."""
    image = QImage(SIZE, SIZE, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    paint(painter, paintable([mark], SCALE), DAY, QTransform.fromScale(SCALE, SCALE))
    painter.end()
    return grey_of(image).astype(float)


def _stroked(mark: Mark) -> np.ndarray:
    """The same line as one bent stroke of Qt's."""
    image = QImage(SIZE, SIZE, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    look = LOOKS[mark.meaning]
    pen = QPen(DAY.colour(look.pen), look.width)
    pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
    painter.setPen(pen)
    points = QPolygonF([QPointF(x, y) for x, y in (mark.line * SCALE).tolist()])
    (painter.drawPolygon if mark.closed else painter.drawPolyline)(points)
    painter.end()
    return grey_of(image).astype(float)


@pytest.mark.parametrize("meaning", ["cut", "stitch"])
def test_strokes_side_by_side_look_like_one_bent_line(qapp: QApplication, meaning: Meaning) -> None:
    turn = np.linspace(0, 2 * np.pi, 40, endpoint=False)
    ring = 30 + 20 * np.column_stack([np.cos(turn), 0.7 * np.sin(turn)])
    square = np.array([[10, 10], [45, 12], [47, 48], [12, 40.0]])
    for line in (ring, square, square[[0, 2, 1, 3]]):
        ours, plain = (do(Mark(meaning, line, True)) for do in (_image, _stroked))
        drawn = plain < 250
        assert np.abs(ours - plain)[drawn].mean() < 10  # of 255
        assert (np.abs(ours - plain) > 110).sum() < 0.02 * drawn.sum() + 12  # the tips of acute corners
        assert (ours < 250).sum() == pytest.approx(drawn.sum(), rel=0.12)
    ours, plain = (do(Mark(meaning, square, True)) for do in (_image, _stroked))
    for x, y in (square * SCALE).astype(int).tolist():
        corner = (slice(y - 2, y + 3), slice(x - 2, x + 3))
        assert (255 - ours)[corner].sum() == pytest.approx((255 - plain)[corner].sum(), rel=0.1), "a notch at a corner"


@settings(deadline=None)
@given(arrays(np.float64, st.tuples(st.integers(1, 40), st.just(2)), elements=st.floats(-1e4, 1e4)), st.booleans())
def test_a_path_holds_the_points_of_its_mark(line: np.ndarray, closed: bool) -> None:
    path = paintable([Mark("thing", line, closed)], SCALE)[0].path
    got = [(path.elementAt(k).x, path.elementAt(k).y) for k in range(path.elementCount())]  # type: ignore[attr-defined]
    assert got[: len(line)] == [tuple(p) for p in line.tolist()]
    assert len(got) - len(line) in ((0, 1) if closed else (0,))
    strokes = paintable([Mark("stitch", np.repeat(line, 2, axis=0), pairs=True)], SCALE)[0].strokes
    assert [(p.x(), p.y()) for p in strokes.toList()[::2]] == [tuple(p) for p in line.tolist()]


def test_a_fill_under_its_outline_shows_no_step_beside_it(qapp: QApplication) -> None:
    turn = np.linspace(0, 2 * np.pi, 60, endpoint=False)
    ring = 30 + 22 * np.column_stack([np.cos(turn), np.sin(turn)])
    piece, cut = Mark("grain", ring, True, "piece"), Mark("cut", ring, True, "piece")
    image = QImage(SIZE, SIZE, QImage.Format.Format_RGB32)
    image.fill(DAY.colour("board"))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    paint(painter, paintable([piece, cut], SCALE), DAY, QTransform.fromScale(SCALE, SCALE))
    painter.end()
    grey = grey_of(image).astype(float)
    y, x = np.mgrid[:SIZE, :SIZE] + 0.5
    away = np.hypot(x - 30 * SCALE, y - 30 * SCALE) - 22 * SCALE
    assert np.ptp(grey[(away > 2) & (away < 12)]) == 0
    assert np.ptp(grey[(away < -2.5) & (away > -12)]) == 0
    assert len(np.unique(grey[np.abs(away) < 2])) > 20, "the line itself is smooth"
