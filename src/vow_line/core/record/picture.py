"""Planned beside done, as bars to one scale."""

from ..curve import frozen
from ..drawing import Label, Mark
from ..meanings import Meaning
from ..reckoning import long, minutes
from ..texts import said
from ..thread import Threading
from ..work import Work, WorkChoices
from .record import RecordEntries

WIDE_MM = 200.0
ROW_MM, STEP_MM = 24.0, 17.0
MOST_STEPS = 6  # those that strayed most from what was planned
BAND: Meaning = "band"
DONE: Meaning = "done"


def bars(
    threading: Threading, work: Work, entries: RecordEntries, choices: WorkChoices
) -> tuple[tuple[Mark, ...], tuple[Label, ...], dict[str, tuple[float, float]]]:
    """A bar planned and one done for each seam's thread, for the minutes noted, and for the steps that strayed most; and where
    each seam's bars end.
    """
    marks: list[Mark] = []
    labels: list[Label] = []
    ends: dict[str, tuple[float, float]] = {}
    left = {t.seam: t for t in entries.thread_left}
    longest = max([s.total_mm for s in threading.seams] + [t.cut_mm for t in entries.thread_left] + [1.0])
    y = 0.0

    def bar(y: float, planned: float, done: float | None, scale: float, key: str) -> None:
        for k, (value, meaning) in enumerate(((planned, "band"), (done, "done"))):
            if value is not None:
                top = y + 4 + k * 9.0
                ring = [[0, top], [value * scale, top], [value * scale, top + 7.4], [0, top + 7.4]]
                marks.append(Mark("band" if meaning == "band" else "done", frozen(ring), True, key))

    for sewn in threading.seams:
        id = sewn.seam.id
        planned, entry = sewn.path_mm + sewn.slack_mm, left.get(id)
        used = entry.cut_mm - entry.left_mm if entry else None
        labels.append(Label(said("thread in the {seam}", seam=sewn.seam.title), (0, y), align="left", strong=True))
        outcome = said("planned {p}, used {u}", p=long(planned), u=long(used)) if used is not None else said(
            "planned {p}", p=long(planned)
        )  # fmt: skip
        labels.append(Label(outcome, (WIDE_MM, y), align="right"))
        bar(y, planned, used, WIDE_MM / longest, id)
        ends[id] = (WIDE_MM, y + 9)
        y += ROW_MM + 8
    noted = [(t.minutes, s) for s in work.steps for t in choices.done if t.minutes and s.id == t.step]
    if noted:
        spent, plan = sum(took for took, _ in noted), sum(s.minutes for _, s in noted)
        labels.append(Label(said("minutes, where noted"), (0, y), align="left", strong=True))
        labels.append(
            Label(said("planned {p}, took {d}", p=minutes(plan), d=minutes(spent)), (WIDE_MM, y), align="right")
        )
        bar(y, plan, spent, WIDE_MM / max(spent, plan), "record/minutes")
        y += ROW_MM + 8
        most = max(max(took, s.minutes) for took, s in noted)
        astray = sorted(noted, key=lambda n: -abs(n[0] - n[1].minutes))[:MOST_STEPS]
        for took, step in (n for n in noted if n in astray):
            labels.append(Label(step.name, (0, y), align="left"))
            outcome = said("{p} planned, {d} taken", p=minutes(step.minutes), d=minutes(took))
            labels.append(Label(outcome, (WIDE_MM, y), align="right"))
            for top, value, meaning in ((y + 3.5, step.minutes, BAND), (y + 7.0, took, DONE)):
                ring = [[0, top], [value / most * WIDE_MM, top], [value / most * WIDE_MM, top + 3.0], [0, top + 3.0]]
                marks.append(Mark(meaning, frozen(ring), True, step.id))
            y += STEP_MM
    marks.append(Mark("mark", frozen([[0, -6], [0, max(y - 4, 10)]])))
    return tuple(marks), tuple(labels), ends
