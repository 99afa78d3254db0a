"""The thread as it will lie, drawn from the moves, and the schools of thumb beside the length they would cut."""

import numpy as np

from ..curve import Line, frozen
from ..drawing import Label, Mark
from ..meanings import Meaning
from ..reckoning import count, long, times
from ..stitch.strip import along
from ..texts import Said, said
from .sewn import SCHOOLS, SewnSeam

BAND_MM = 14.0
BAR_MM = 8.0
ROW_MM = 12.0
WHY_MM = 34.0
USUAL_MM = 230.0  # a drawing so wide is shown large enough for rows this high; those of a wider one are higher


def rows_of(wide_mm: float) -> float:
    """How many times as high as usual the rows of a drawing so wide are, that their words stay between them."""
    return max(1.0, wide_mm / USUAL_MM)


def faces(
    sewn: SewnSeam, left_mm: float, top_mm: float, second_needle: str = "below"
) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """Front and back of the seam, straightened, with the thread that lies on each; 2 bands, about 40 mm high. An edge that
    thread goes over is the upper side of either.
    """
    seam = sewn.seam
    s = along(seam)
    first: dict[int, float] = {}
    for hole, x in zip(range(len(s)) if seam.line.shape != "box" else seam.order, s, strict=False):
        first.setdefault(hole, float(x))
    butt = seam.line.shape == "butt"
    end = float(s[-1]) + 3.0
    marks: list[Mark] = []
    labels: list[Label] = []
    for face, top in (("front", top_mm), ("back", top_mm + BAND_MM + 12)):
        band = np.array([[-3, 0], [end, 0], [end, BAND_MM], [-3, BAND_MM]]) + [left_mm, top]
        marks.append(Mark("grain" if face == "front" else "flesh", frozen(band), True, seam.id))
        name = said("{seam}, front", seam=seam.title) if face == "front" else said("{seam}, back", seam=seam.title)
        labels.append(Label(name, (left_mm - 3, top - 2), align="left"))
        if butt:
            gap = [[left_mm - 3, top + BAND_MM / 2], [left_mm + end, top + BAND_MM / 2]]
            marks.append(Mark("cut", frozen(gap), id=seam.id))
        meaning: Meaning = "front thread" if face == "front" else "back thread"
        lean = seam.pitch_mm * 0.22 * (1 if (face == "front") == (second_needle == "below") else -1)
        strokes = _strokes(sewn, face, first, lean)
        if strokes:
            lying = np.concatenate(strokes) + [left_mm, top + BAND_MM / 2]
            marks.append(Mark(meaning, frozen(lying), id=seam.id, pairs=True))
    for cut in sewn.cuts[:-1]:
        x = left_mm + first[seam.hole_of(cut.to_hole)]
        line = np.array([[x, top_mm - 1], [x, top_mm + 2 * BAND_MM + 13]])
        marks.append(Mark("dimension", frozen(line), id=f"{seam.id}/lengths"))
        labels.append(Label(said("join at hole {n}", n=count(cut.to_hole + 1)), (x, top_mm - 2)))
    return tuple(marks), tuple(labels)


def _strokes(sewn: SewnSeam, face: str, first: dict[int, float], lean: float) -> list[Line]:
    """What lies on a face, each `(2, 2)`, about the middle of its band: runs aslant, what goes over the edge as far as it."""
    seam = sewn.seam
    half, e = BAND_MM / 2, seam.line.margin_mm
    drawn: set[tuple[int, int]] = set()
    strokes: list[Line] = []
    for move in sewn.moves:
        a, b = first[seam.hole_of(move.hole)], first[seam.hole_of(move.to)]
        if move.act == "edge":
            share = e / (2 * e + float(seam.node_stack_mm[move.hole]))
            if face == "back":
                strokes.append(np.array([[a, 0.0], [a + (b - a) * share, -half]]))
            else:
                strokes.append(np.array([[b - (b - a) * share, -half], [b, 0.0]]))
        elif move.act == "run" and move.face == face and seam.line.shape == "butt":
            rows = [BAND_MM * 0.3 * seam.row_of(k) for k in (move.hole, move.to)]
            strokes.append(np.array([[a, rows[0]], [b, rows[1]]]))
        elif move.act == "run" and move.face == face:
            left, right = sorted((a, b))
            aside = 1.1 if (move.hole, move.to) in drawn or (move.to, move.hole) in drawn else 0.0
            drawn.add((move.hole, move.to))
            strokes.append(np.array([[left + 0.4, aside - lean], [right - 0.4, aside + lean]]))
    return strokes


def why(
    seams: tuple[SewnSeam, ...], left_mm: float, top_mm: float, wide_mm: float
) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """Why the rules of thumb differ: times the seam over stack by pitch, the rules and this job's seams on it."""
    at = [(float(s.seam.stack_mm.mean()) / max(s.seam.pitch_mm, 1e-3), s.path_mm / max(s.seam.run_mm, 1e-9), s.seam)
          for s in seams]  # fmt: skip
    most = max(3.5, *(t for t, _, _ in at)) if at else 3.5
    top = max(9.0, *(k for _, k, _ in at)) if at else 9.0
    unit = rows_of(wide_mm)
    high = WHY_MM * unit
    corner, size = np.array([left_mm, top_mm + high]), np.array([wide_mm, -high])

    def place(ratio: float, multiple: float) -> tuple[float, float]:
        u, v = corner + size * [ratio / most, multiple / top]
        return float(u), float(v)

    marks = [
        Mark("mark", frozen([place(0, top), place(0, 0), place(most, 0)])),
        Mark("dimension", frozen([place(0, 2), place(min(most, top / 2 - 1), min(2 * (1 + most), top))])),
    ]
    labels = [
        Label(said("times the seam"), (left_mm + 2, top_mm + unit), align="left"),
        Label(said("the line is saddle stitch"), (left_mm + 2, top_mm + high + 6 * unit), align="left"),
        Label(said("stack over pitch"), (left_mm + wide_mm, top_mm + high + 6 * unit), align="right"),
    ]
    for multiple, _ in SCHOOLS:
        ratio = multiple / 2 - 1
        if ratio <= most:
            marks.append(Mark("mark", frozen([place(ratio, multiple)]), id="school", size_mm=2.0))
            labels.append(
                Label(said("{m}", m=count(multiple)), (place(ratio, multiple)[0], place(ratio, multiple)[1] + 6 * unit))
            )
    free = top_mm + high
    for stacked, made, seam in sorted(at, key=lambda a: a[1]):
        u, v = place(stacked, made)
        marks.append(Mark("done", frozen([[u, v]]), id=seam.id, size_mm=3.4))
        free = min(v - 3.5 * unit, free - 6.0 * unit)
        left = stacked > most / 2
        beside = u - 4 * unit if left else u + 4 * unit
        labels.append(Label(said("{seam}, {k}", k=times(made), seam=seam.title), (beside, free), strong=True,
                            align="right" if left else "left"))  # fmt: skip
    return tuple(marks), tuple(labels)


def schools(
    sewn: SewnSeam, left_mm: float, top_mm: float, wide_mm: float
) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """A bar for each rule of thumb and one for the length computed, `wide_mm` for the longest; where a rule runs out."""
    unit = rows_of(wide_mm)
    longest = max([s.length_mm for s in sewn.schools] + [sewn.total_mm])
    scale = wide_mm / longest
    marks: list[Mark] = []
    labels: list[Label] = []
    rows: list[tuple[Said, float, Said, Meaning]] = [
        (said("computed, {l}", l=long(sewn.total_mm)), sewn.total_mm,
         said("enough to the last hole, and the needles"), "done"),
    ]  # fmt: skip
    for school in sewn.schools:
        name = said("{times} times, {school}, {l}", l=long(school.length_mm), times=school.times, school=school.says)
        if school.runs_out_at is None:
            sure = school.left_mm >= sewn.spare_mm
            rows.append((name, school.length_mm, (said("{l} left over") if sure else said("{l} left over, if nothing strays"))
                         .filled(l=long(max(school.left_mm, 0))), "band"))  # fmt: skip
        elif school.length_mm <= sewn.reserve_mm:
            rows.append((name, school.length_mm, said("not even the needles' own length"), "alarm"))
        else:
            rows.append(
                (name, school.length_mm, said("runs out at hole {n}", n=count(school.runs_out_at + 1)), "alarm")
            )
    y = top_mm
    for name, long_mm, outcome, meaning in rows:
        labels.append(Label(name, (left_mm, y), align="left", strong=meaning == "done"))
        bar = np.array([[0, 0], [long_mm * scale, 0], [long_mm * scale, BAR_MM * unit / 2], [0, BAR_MM * unit / 2]])
        marks.append(Mark(meaning, frozen(bar + [left_mm, y + 2.5 * unit]), True, sewn.seam.id))
        labels.append(Label(outcome, (left_mm + wide_mm, y), align="right", meaning=meaning))
        y += ROW_MM * unit
    return tuple(marks), tuple(labels)
