"""Planned beside done, as bars to one scale."""

from ..curve import frozen
from ..drawing import Label, Mark
from ..reckoning import long, minutes
from ..texts import said
from ..thread import Threading
from ..work import Work, WorkChoices
from .record import RecordEntries

WIDE_MM = 200.0
ROW_MM = 24.0


def bars(
    threading: Threading, work: Work, entries: RecordEntries, choices: WorkChoices
) -> tuple[tuple[Mark, ...], tuple[Label, ...], dict[str, tuple[float, float]]]:
    """A bar planned and one done for each seam's thread and for the minutes noted; and where each seam's bars end."""
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
            "planned {p}; what was left is not written down yet", p=long(planned)
        )  # fmt: skip
        labels.append(Label(outcome, (WIDE_MM, y), align="right"))
        bar(y, planned, used, WIDE_MM / longest, id)
        ends[id] = (WIDE_MM, y + 9)
        y += ROW_MM + 8
    noted = [(t.minutes, s.minutes) for t in choices.done if t.minutes for s in work.steps if s.id == t.step]
    if noted:
        spent, plan = sum(n for n, _ in noted), sum(p for _, p in noted)
        labels.append(Label(said("minutes, where noted"), (0, y), align="left", strong=True))
        labels.append(
            Label(said("planned {p}, took {d}", p=minutes(plan), d=minutes(spent)), (WIDE_MM, y), align="right")
        )
        bar(y, plan, spent, WIDE_MM / max(spent, plan), "record/minutes")
        y += ROW_MM + 8
    marks.append(Mark("mark", frozen([[0, -6], [0, max(y - 4, 10)]])))
    return tuple(marks), tuple(labels), ends
