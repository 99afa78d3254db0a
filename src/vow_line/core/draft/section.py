"""A sewn pocket cut across: what lies in it, the leather drawn taut round it, the welt and the thread."""

import numpy as np
import shapely

from ..curve import Line, frozen, thinned
from ..drawing import Mark

SIMPLER_MM = 0.02  # so much less than this drawing shows


def cut_across(
    upper: Line,
    start_mm: float,
    thread_mm: float,
    end_mm: float,
    welt_mm: float,
    leather_mm: float,
    seam: str = "main-seam",
) -> tuple[Mark, ...]:
    """Marks in mm, y to the right from the fold, z up and down.

    `upper (m, 2)` is the half section of what lies inside; the welt of `welt_mm` runs from `start_mm` to the cut at
    `end_mm`, the thread goes through at `thread_mm`.
    """
    half = welt_mm / 2
    corners = np.array([[0, 0], [start_mm, half], [start_mm, -half]])
    around = shapely.multipoints(np.concatenate([upper, upper * [1, -1], corners]))
    assert isinstance(around, shapely.MultiPoint)
    filled = around.convex_hull.union(shapely.box(start_mm * 0.98, -half - 0.01, end_mm + 20, half + 0.01))
    shell, inside = (
        frozen(shapely.get_coordinates(shapely.clip_by_rect(g, -100, -200, end_mm, 200))[:-1])
        for g in (filled.buffer(leather_mm, quad_segs=8), filled)
    )
    marks = [Mark("grain", shell, True, rings=(inside,))]
    if welt_mm > 0.05:
        box = [[start_mm, -half], [end_mm, -half], [end_mm, half], [start_mm, half]]
        marks.append(Mark("welt", frozen(box), closed=True, id="welt"))
    marks.append(Mark("thing", frozen(np.concatenate([upper, upper[::-1] * [1, -1]])), closed=True, id="blade"))
    through = half + leather_mm + 0.6
    marks.append(Mark("stitch", frozen([[thread_mm, -through], [thread_mm, through]]), id=seam))
    return tuple(marks)


def between_faces(upper: Line, thing: Line, leather_mm: float) -> tuple[Mark, ...]:
    """Two faces of leather over a thing, even about the middle plane: `upper (n, 2)` is the line the inner side of the upper
    one follows, `thing (m, 2)` the upper half of what lies between them.
    """
    under = thinned(upper, SIMPLER_MM)
    over = shapely.get_coordinates(shapely.LineString(under).offset_curve(leather_mm, join_style="mitre"))
    leather = np.concatenate([under, over[::-1]])
    faces = [Mark("grain", frozen(leather * [1, side]), True) for side in (1.0, -1.0)]
    whole = np.concatenate([thing, thing[::-1] * [1, -1]])
    return (*faces, Mark("thing", frozen(whole), closed=True, id="thing"))
