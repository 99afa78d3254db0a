"""Stages of a plan that failed, written into a log so that they can be looked into."""

from datetime import datetime
from pathlib import Path

from ..core.plan import Plan

LOG = "faults.log"
MOST_BYTES = 1_000_000  # a log longer than this is begun anew


def note(plan: Plan, folder: Path, now: datetime) -> None:
    """Write down what failed in this plan and is not the last thing written; a folder that cannot be written to is let be."""
    for failure in plan.failures:
        told = f"{plan.job.name}, {failure.station}: {failure.error}\n{failure.traceback}\n"
        try:
            folder.mkdir(parents=True, exist_ok=True)
            log = folder / LOG
            before = log.read_text() if log.exists() and log.stat().st_size < MOST_BYTES else ""
            if told not in before:
                log.write_text(f"{before}{now:%Y-%m-%d %H:%M} {told}")
        except OSError:
            return
