"""The thread as it will lie, drawn from the moves, and the schools of thumb beside the length they would cut."""

import numpy as np

from ..curve import Line, frozen
from ..drawing import Label, Mark, Meaning
from ..reckoning import Said, count, long, said
from ..stitch.strip import along
from .plan import SewnSeam

BAND_MM = 14.0
BAR_MM = 8.0
ROW_MM = 15.0


def faces(sewn: SewnSeam, left_mm: float, top_mm: float) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """Front and back of the seam, straightened, with the thread that runs on each; 2 bands, about 40 mm high."""
    seam = sewn.seam
    s = along(seam)
    first: dict[int, float] = {}
    for hole, x in zip(range(len(s)) if seam.line.shape != "box" else seam.order, s, strict=False):
        first.setdefault(hole, float(x))
    butt = seam.line.shape == "butt"
    end = float(s[-1]) + 3.0
    marks: list[Mark] = []
    labels: list[Label] = []
    lift = seam.pitch_mm * 0.22
    for face, top in (("front", top_mm), ("back", top_mm + BAND_MM + 12)):
        band = np.array([[-3, 0], [end, 0], [end, BAND_MM], [-3, BAND_MM]]) + [left_mm, top]
        marks.append(Mark("grain" if face == "front" else "flesh", frozen(band), True, seam.name))
        labels.append(Label(said(face), (left_mm - 3, top - 2), align="left"))
        if butt:
            gap = [[left_mm - 3, top + BAND_MM / 2], [left_mm + end, top + BAND_MM / 2]]
            marks.append(Mark("cut", frozen(gap), id=seam.name))
        middle = top + BAND_MM / 2
        meaning: Meaning = "front thread" if face == "front" else "back thread"
        drawn: set[tuple[int, int]] = set()
        strokes: list[Line] = []
        for move in sewn.moves:
            if move.act != "run" or move.face != face:
                continue
            if butt:
                ends = [(first[seam.hole_of(k)], middle + BAND_MM * 0.3 * seam.row_of(k)) for k in (move.hole, move.to)]
                strokes.append(np.array(ends) + [left_mm, 0])
                continue
            a, b = sorted((first[move.hole], first[move.to]))
            shift = 1.1 if (move.hole, move.to) in drawn or (move.to, move.hole) in drawn else 0.0
            drawn.add((move.hole, move.to))
            lean = lift if face == "front" else -lift
            strokes.append(
                np.array([[a + 0.4, middle - lean + shift], [b - 0.4, middle + lean + shift]]) + [left_mm, 0]
            )
        if strokes:
            marks.append(Mark(meaning, frozen(np.concatenate(strokes)), id=seam.name, pairs=True))
    for cut in sewn.cuts[:-1]:
        x = left_mm + first[cut.to_hole]
        line = np.array([[x, top_mm - 1], [x, top_mm + 2 * BAND_MM + 13]])
        marks.append(Mark("dimension", frozen(line), id=f"{seam.name}/lengths"))
        labels.append(Label(said("join at hole {n}", n=count(cut.to_hole + 1)), (x, top_mm - 2)))
    return tuple(marks), tuple(labels)


def schools(
    sewn: SewnSeam, left_mm: float, top_mm: float, wide_mm: float
) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """A bar for each rule of thumb and one for the length computed, `wide_mm` for the longest; where a rule runs out."""
    longest = max([s.length_mm for s in sewn.schools] + [sewn.total_mm])
    scale = wide_mm / longest
    marks: list[Mark] = []
    labels: list[Label] = []
    rows: list[tuple[Said, float, Said, Meaning]] = [
        (said("computed, {l}", l=long(sewn.total_mm)), sewn.total_mm,
         said("enough to the last hole, and the needles"), "done"),
    ]  # fmt: skip
    for school in sewn.schools:
        name = said(f"{school.times} times, {school.says}, {{l}}", l=long(school.length_mm))
        if school.runs_out_at is None:
            rows.append((name, school.length_mm, said("{l} left over", l=long(max(school.left_mm, 0))), "band"))
        elif school.length_mm <= sewn.reserve_mm:
            rows.append((name, school.length_mm, said("not even the needles' own length"), "alarm"))
        else:
            rows.append(
                (name, school.length_mm, said("runs out at hole {n}", n=count(school.runs_out_at + 1)), "alarm")
            )
    y = top_mm
    for name, long_mm, outcome, meaning in rows:
        labels.append(Label(name, (left_mm, y), align="left", strong=meaning == "done"))
        bar = np.array([[0, 0], [long_mm * scale, 0], [long_mm * scale, BAR_MM * 0.5], [0, BAR_MM * 0.5]])
        marks.append(Mark(meaning, frozen(bar + [left_mm, y + 2.5]), True, sewn.seam.name))
        labels.append(Label(outcome, (left_mm + wide_mm, y), align="right", meaning=meaning))
        y += ROW_MM
    return tuple(marks), tuple(labels)
