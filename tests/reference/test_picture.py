"""Pictures with a known truth: homographies, and outlines traced back from the stand-in camera's tilted, lamp-lit pictures."""

from functools import cache

import cv2
import numpy as np
import pytest
import shapely

from vow_line.core.curve import Line
from vow_line.core.quantity import Sheet
from vow_line.core.ring import turned_right
from vow_line.instruments.camera import stand_in
from vow_line.instruments.tracing import NoOutline, Picture, trace
from vow_line.resources.demo import BILLHOOK

UPRIGHT = np.array([[0.0, 1.0], [-1.0, 0.0]])


@cache
def _hook(size: float = 1.0) -> Line:
    """The billhook standing on the sheet, from (0, 0)."""
    ring = np.array(BILLHOOK, float) * size @ UPRIGHT
    return turned_right(ring - ring.min(axis=0))


def _star() -> Line:
    turn = np.linspace(0, 2 * np.pi, 360, endpoint=False)
    far = 60 + 12 * np.cos(5 * turn)
    ring = np.column_stack([far * np.cos(turn), far * np.sin(turn)])
    return ring - ring.min(axis=0)


def off(traced: Line, truth: Line) -> tuple[float, float]:
    """Root mean square and worst distance in mm of the traced points from the true outline, laid on it as well as can be."""
    ring = shapely.LinearRing(truth)
    points = traced.copy()
    for _ in range(60):
        near = shapely.get_coordinates(
            shapely.line_interpolate_point(ring, shapely.line_locate_point(ring, shapely.points(points)))
        )
        a, b = points.mean(axis=0), near.mean(axis=0)
        u, _, v = np.linalg.svd((points - a).T @ (near - b))
        points = (points - a) @ (u @ v) + b
    apart = shapely.distance(shapely.points(points), ring)
    return float(np.sqrt((apart**2).mean())), float(apart.max())


@pytest.mark.parametrize(
    ("sheet", "truth", "at", "tilt", "turn", "lamp"),
    [
        ("A4", _hook(), (20, 30), 0.12, 0.05, 0.35), ("A4", _hook(0.9), (60, 20), 0.25, -0.3, 0.5),
        ("A3", _hook(1.25), (60, 50), 0.15, 0.1, 0.4), ("Letter", _star(), (40, 60), 0.2, 1.7, 0.3),
        (None, _hook(0.75), (35, 25), 0.2, 0.2, 0.45),
    ],
)  # fmt: skip
def test_the_outline_comes_back_within_half_a_millimetre(
    sheet: Sheet | None, truth: Line, at: tuple[float, float], tilt: float, turn: float, lamp: float
) -> None:
    """At up to 300 mm: 0.5 mm root mean square, 1 mm at the worst."""
    picture = stand_in(truth, sheet=sheet, at_mm=at, tilt=tilt, turn_rad=turn, lamp=lamp, size_px=(3200, 2400))
    traced = trace(picture, sheet or "A4")
    rms, worst = off(traced.outline, truth)
    assert rms < 0.5
    assert worst < 1.0
    assert traced.scale_from == ("the card" if sheet is None else f"the {sheet} sheet")


def test_a_known_homography_is_taken_back_out() -> None:
    """A plain rectangle seen through a stated homography comes back with its sides in mm."""
    truth = np.array([[0, 0], [80, 0], [80, 120], [0, 120]], float)
    flat = np.full((3000, 2300), 60, np.uint8)
    flat[100:2476, 100:1780] = 240  # 8 px a mm: 210 by 297
    flat[100 + 480 : 100 + 480 + 960, 100 + 400 : 100 + 400 + 640] = 70
    known = np.array([[0.9, 0.12, 60.0], [-0.05, 0.95, 140.0], [2.5e-5, 4.0e-5, 1.0]])
    seen = cv2.warpPerspective(flat, known, (2400, 3000), borderValue=60)
    traced = trace(np.asarray(seen, dtype=np.uint8))
    assert np.ptp(traced.outline, axis=0) == pytest.approx(np.ptp(truth, axis=0), abs=0.3)
    assert shapely.Polygon(traced.outline).area == pytest.approx(80 * 120, rel=0.005)


def _bad(picture: Picture) -> str:
    with pytest.raises(NoOutline) as error:
        trace(picture)
    return str(error.value)


def test_what_cannot_be_traced_says_why() -> None:
    small = {"size_px": (1600, 1200)}
    assert "too dark" in _bad(stand_in(_hook(), at_mm=(20, 30), bright=0.15, **small))
    assert "touches the border" in _bad(stand_in(_hook(), at_mm=(60, 90), **small))
    assert "Neither the corners" in _bad(np.full((900, 1200, 3), 180, np.uint8))
    assert "Nothing" in _bad(stand_in(_hook(0.01), at_mm=(90, 90), **small))


def test_tracing_stops_when_told() -> None:
    told: list[float] = []

    def stop(share: float) -> bool:
        told.append(share)
        return share < 0.5

    assert trace(stand_in(_hook(), at_mm=(20, 30), size_px=(1600, 1200)), progress=stop) is None
    assert told == sorted(told)
    assert told[-1] < 1
