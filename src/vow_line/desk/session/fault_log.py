"""A log of what failed, so that it can be looked into."""

from datetime import datetime
from pathlib import Path

from ...core.plan import Plan

LOG = "faults.log"
MOST_BYTES = 1_000_000  # a log longer than this is begun anew


def note(plan: Plan, folder: Path, now: datetime) -> None:
    """Write down the stages of a plan that failed."""
    for failure in plan.failures:
        write(f"{plan.job.name}, {failure.station}: {failure.error}\n{failure.traceback}\n", folder, now)


def write(trace: str, folder: Path, now: datetime) -> None:
    """Write this down where it is not in the log yet; a folder that cannot be written to is let be."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        log = folder / LOG
        before = log.read_text() if log.exists() and log.stat().st_size < MOST_BYTES else ""
        if trace not in before:
            log.write_text(f"{before}{now:%Y-%m-%d %H:%M} {trace}")
    except OSError:
        return
