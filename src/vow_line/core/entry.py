"""Entries on a board that are more than one value in the job."""

from datetime import datetime
from typing import Any

from .job import Job, change, put, value_at
from .measure import Reading, Taken
from .plan import plan
from .steps import note_left, size_leather, take_tool, weigh
from .stitch.tools import HoleTool
from .wearers import turn_to


def enter(job: Job, path: str, value: Any, *, at: datetime, using: str = "", over: str = "", by: str = "") -> Job:
    """The job with what was entered at `path`: a place as `change` takes it, or the `wearer` in hand by number,
    `record.cut/SEAM`, `record.left/SEAM`, `work.weigh`, `leather.size/long`, `leather.size/wide`, a tool for `stitch`, or
    `thread.of/SEAM/stitch`, `thread.of/SEAM/thread`, `stitch.of/SEAM/FIELD`. A reading is stamped with the day, who
    took it (`by`, or else the maker), with what (`using`) and over what. Raises RefusedChange.
    """
    what, _, of = path.partition("/")
    match what:
        case "record.cut" | "record.left":
            return _left(job, what, of, float(value))
        case "work.weigh":
            return weigh(job, grams=float(value), at=at)
        case "leather.size":
            return size_leather(job, which=of, mm=float(value))
        case "wearer":
            return turn_to(job, int(value))
        case "stitch" if isinstance(value, HoleTool):
            return take_tool(job, tool=value)
        case _:
            job = _stamped(put(job, path, value), path, Taken(on=at.date(), by=by or job.maker, using=using, over=over))
            return change(job, "thing", job.thing.spread_out()) if path.startswith("thing.length.") else job


def _stamped(job: Job, path: str, taken: Taken) -> Job:
    """The job with how a reading was taken written down beside it."""
    place, _, which = path.rpartition(".")
    if which not in ("first", "second"):
        return job
    reading = value_at(job, place)
    if not isinstance(reading, Reading):
        return job
    there = getattr(reading, which) is not None
    return change(job, place, reading.model_copy(update={f"{which}_taken": taken if there else Taken()}))


def _left(job: Job, what: str, seam: str, mm: float) -> Job:
    """Thread cut or left; what was not said of the two is as planned, or nothing."""
    entry = next((t for t in job.record.thread_left if t.seam == seam), None)
    threading = plan(job).threading
    planned = threading.seam(seam).total_mm if threading else mm
    cut, left = (entry.cut_mm, entry.left_mm) if entry else (planned, 0.0)
    cut, left = (mm, left) if what == "record.cut" else (cut, mm)
    return note_left(job, seam=seam, cut_mm=cut, left_mm=left)
