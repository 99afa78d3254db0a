"""The thread as it will lie, drawn from the moves, and the schools of thumb beside the length they would cut."""

import numpy as np

from ..curve import Line, frozen
from ..drawing import Label, Mark
from ..meanings import Meaning
from ..memory import remembered
from ..reckoning import count, long, times
from ..stitch.seams import Seam
from ..stitch.strip import along
from ..texts import NOTHING, Said, said
from .sewn import SCHOOLS, SewnSeam

BAND_MM = 14.0
BAR_MM = 8.0
ROW_MM = 12.0
WHY_MM = 34.0
SPOOL_MM, LEAD_MM, NEEDLE_MM = 24.0, 14.0, 2.2  # the spool, from it to the first hole, a needle's thickness as drawn
ROW_PX, MOST_TIMES = 28.0, 4.0  # words of 15 px and a bar; rows are no higher than so many times the usual
USUAL_MM = 230.0  # a drawing so wide is shown large enough for rows this high; those of a wider one are higher


def rows_of(wide_mm: float) -> float:
    """How many times as high as usual the rows of a drawing so wide are, that their words stay between them."""
    return max(1.0, wide_mm / USUAL_MM)


def rows_in(wide_mm: float, bands_mm: float, rows: float, room_px: tuple[float, float]) -> tuple[float, float]:
    """The same for a drawing of bands and of `rows` rows shown in a room of so many px: at whatever scale it then has, each row
    is high enough for its words and its bar; and how wide the drawing then is, px.
    """
    wide_px, high_px = room_px
    by_width = ROW_PX * wide_mm / (ROW_MM * max(wide_px, 1.0))
    left = high_px - ROW_PX * rows
    by_height = ROW_PX * bands_mm / (ROW_MM * left) if left > 0 else 1.0
    times = float(np.clip(max(by_width, by_height), 1.0, MOST_TIMES))
    return times, min(wide_px, high_px / (bands_mm + rows * ROW_MM * times) * wide_mm)


def faces(
    sewn: SewnSeam, left_mm: float, top_mm: float, second_needle: str = "below", between_mm: float = 12.0
) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """Front and back of the seam, straightened, with the thread that lies on each; 2 bands, `between_mm` apart. An edge that
    thread goes over is the upper side of either.
    """
    seam = sewn.seam
    butt = seam.line.shape == "butt"
    end = float(along(seam)[-1]) + 3.0
    marks: list[Mark] = []
    labels: list[Label] = []
    for face, top in (("front", top_mm), ("back", top_mm + BAND_MM + between_mm)):
        band = np.array([[-3, 0], [end, 0], [end, BAND_MM], [-3, BAND_MM]]) + [left_mm, top]
        marks.append(Mark("grain" if face == "front" else "flesh", frozen(band), True, seam.id))
        name = said("{seam}, front", seam=seam.title) if face == "front" else said("{seam}, back", seam=seam.title)
        labels.append(Label(name, (left_mm - 3, top - 2), align="left"))
        if butt:
            gap = [[left_mm - 3, top + BAND_MM / 2], [left_mm + end, top + BAND_MM / 2]]
            marks.append(Mark("cut", frozen(gap), id=seam.id))
        meaning: Meaning = "front thread" if face == "front" else "back thread"
        lean = seam.pitch_mm * 0.22 * (1 if (face == "front") == (second_needle == "below") else -1)
        strokes = _strokes(sewn, face, lean)
        if len(strokes):
            lying = strokes + [left_mm, top + BAND_MM / 2]
            marks.append(Mark(meaning, frozen(lying), id=seam.id, pairs=True))
    first = _first(seam)
    for cut in sewn.cuts[:-1]:
        x = left_mm + first[seam.hole_of(cut.to_hole)]
        line = np.array([[x, top_mm - 1], [x, top_mm + 2 * BAND_MM + between_mm + 1]])
        marks.append(Mark("dimension", frozen(line), id=f"{seam.id}/lengths"))
        labels.append(Label(said("join at hole {n}", n=count(cut.to_hole + 1)), (x, top_mm - 2)))
    return tuple(marks), tuple(labels)


@remembered("seam")
def _first(seam: Seam) -> dict[int, float]:
    """Where each hole lies along the seam, straightened."""
    s = along(seam)
    first: dict[int, float] = {}
    for hole, x in zip(range(len(s)) if seam.line.shape != "box" else seam.order, s, strict=False):
        first.setdefault(hole, float(x))
    return first


@remembered("seam")
def _strokes(sewn: SewnSeam, face: str, lean: float) -> Line:
    """What lies on a face, in pairs `(2 n, 2)`, about the middle of its band: runs aslant, what goes over the edge as far as
    it.
    """
    seam = sewn.seam
    first = _first(seam)
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
    return frozen(np.concatenate(strokes)) if strokes else frozen(np.zeros((0, 2)))


Places = dict[str, tuple[float, float]]
"""Where on a picture what is said of its parts belongs."""


def tools(needle_mm: float, end_mm: float, top_mm: float) -> tuple[tuple[Mark, ...], Places]:
    """The spool before the first hole and a needle, as long as it is, after the last: `spool` and `thread`, and the `eye` and
    `point` of the needle.
    """
    middle, half, flange = top_mm + BAND_MM / 2, SPOOL_MM * 0.55, SPOOL_MM * 0.1
    left, right = -SPOOL_MM - LEAD_MM, -LEAD_MM
    turns = np.arange(left + flange + 0.6, right - flange - 1, 1.6)
    wound = [[[x, middle - half * 0.75], [x + 1.2, middle + half * 0.75]] for x in turns]
    eye, point = (end_mm + LEAD_MM * 0.6, middle), (end_mm + LEAD_MM * 0.6 + needle_mm, middle)
    shoulder, thick = point[0] - needle_mm * 0.25, NEEDLE_MM / 2
    needle = [[eye[0], middle - thick], [shoulder, middle - thick * 0.8], list(point), [shoulder, middle + thick * 0.8],
              [eye[0], middle + thick]]  # fmt: skip
    ends = [
        [[x, middle - half], [x + flange, middle - half], [x + flange, middle + half], [x, middle + half]]
        for x in (left, right - flange)
    ]
    marks = (
        *(Mark("welt", frozen(ring), True, "spool") for ring in ends),
        Mark("stitch", frozen(np.array(wound).reshape(-1, 2)), id="spool", pairs=True),
        Mark("stitch", frozen([[right - flange, middle - half * 0.6], [-3.0, middle]]), id="spool"),
        Mark("stitch", frozen([[end_mm, middle], eye]), id="needle"),
        Mark("thing", frozen(needle), True, "needle"),
    )
    thread = ((right - flange - 3.0) / 2, middle - half * 0.3)
    return marks, {"spool": ((left + right) / 2, middle + half * 0.8), "thread": thread, "eye": eye, "point": point}


def why(
    seams: tuple[SewnSeam, ...], left_mm: float, top_mm: float, wide_mm: float, unit: float = 0.0
) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """Why the rules of thumb differ: times the seam over stack by pitch, the rules and this job's seams on it."""
    at = [(float(s.seam.stack_mm.mean()) / max(s.seam.pitch_mm, 1e-3), s.path_mm / max(s.seam.run_mm, 1e-9), s.seam)
          for s in seams]  # fmt: skip
    most = max(3.5, *(t for t, _, _ in at)) if at else 3.5
    top = max(9.0, *(k for _, k, _ in at)) if at else 9.0
    unit = unit or rows_of(wide_mm)
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
        Label(
            said("times the seam; the line is saddle stitch"), (left_mm + 2, top_mm + high + 13 * unit), align="left"
        ),
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


def shares(
    sewn: SewnSeam, left_mm: float, top_mm: float, wide_mm: float, unit: float
) -> tuple[tuple[Mark, ...], Places]:
    """What the bar of the length computed is made up of, ruled on it; where the `path` ends, the `slack` and the `spare`."""
    scale = wide_mm / max([s.length_mm for s in sewn.schools] + [sewn.total_mm])
    at = (np.cumsum([sewn.path_mm, sewn.slack_mm, sewn.spare_mm]) * scale + left_mm).tolist()
    low, high = top_mm + 2.5 * unit, top_mm + (2.5 + BAR_MM / 2) * unit
    lines = frozen([[x, y] for x in at for y in (low, high)])
    ends = {name: (x, (low + high) / 2) for name, x in zip(("path", "slack", "spare"), at, strict=True)}
    return (Mark("mark", lines, id="computed", pairs=True),), ends


def schools(
    sewn: SewnSeam, left_mm: float, top_mm: float, wide_mm: float, unit: float = 0.0, terse: bool = False
) -> tuple[tuple[Mark, ...], tuple[Label, ...]]:
    """A bar for each rule of thumb and one for the length computed, `wide_mm` for the longest; where a rule runs out. `terse`
    where there is little room for words.
    """
    unit = unit or rows_of(wide_mm)
    longest = max([s.length_mm for s in sewn.schools] + [sewn.total_mm])
    scale = wide_mm / longest
    marks: list[Mark] = []
    labels: list[Label] = []
    rows: list[tuple[Said, float, Said, Meaning]] = [
        (said("computed, {l}: enough", l=long(sewn.total_mm)), sewn.total_mm, NOTHING,
         "done"),
    ]  # fmt: skip
    for school in sewn.schools:
        name = said("{times} times, {school}, {l}") if not terse else said("{times} times, {l}")
        name = name.filled(l=long(school.length_mm), times=school.times, school=school.says)
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
        if outcome:
            labels.append(Label(outcome, (left_mm + wide_mm, y), align="right", meaning=meaning))
        y += ROW_MM * unit
    return tuple(marks), tuple(labels)
