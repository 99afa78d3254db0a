"""A log of what went wrong in the program, so that it can be looked into. Nothing of a maker's is in it: no names, no readings,
no places on the disk; of an error its kind and where in the program it was.
"""

import logging
import os
import platform
import re
import traceback
from datetime import datetime
from logging.handlers import RotatingFileHandler
from pathlib import Path

from ...core.plan import Plan

LOG = "faults.log"
MOST_BYTES, KEPT = 500_000, 2
OF_CODE = frozenset({
    "AssertionError", "AttributeError", "ImportError", "IndexError", "MemoryError", "ModuleNotFoundError", "NameError",
    "NotImplementedError", "RecursionError", "StopIteration", "TypeError", "UnboundLocalError", "ZeroDivisionError",
})  # fmt: skip


def log_in(state: Path) -> Path:
    """Where the log lies."""
    return state / LOG


def note(plan: Plan, folder: Path, now: datetime) -> None:
    """Write down the stages of a plan that failed."""
    for failure in plan.failures:
        write(failure.traceback, folder, now, f"{plan.job.thing.body}, {plan.job.piece.kind}, {failure.station}")


def told(error: BaseException) -> str:
    """What is written down of an error."""
    return "".join(traceback.format_exception(error))


def impersonal(trace: str) -> str:
    """A trace without the words of its errors, but of those that speak of code only; its files by their places in a program."""
    lines: list[str] = []
    code = False  # whether this line is the program's own, below the place it is at
    for line in trace.splitlines():
        if found := re.match(r'(\s*File )"(.*)"(, line .*)', line):
            inside = found[2].rpartition(f"{os.sep}site-packages{os.sep}")[2].rpartition(f"{os.sep}src{os.sep}")[2]
            lines.append(f'{found[1]}"{inside if inside != found[2] else Path(inside).name}"{found[3]}')
            code = True
        elif code and line.startswith("    "):
            lines.append(line)
        elif line.startswith(("Traceback", "During handling", "The above exception", "Qt: ")) or not line.strip():
            lines.append(line)
            code = False
        elif found := re.match(r"([A-Za-z_][\w.]*)(?:: |$)", line):
            lines.append(line if found[1] in OF_CODE else found[1])
            code = False
    return "\n".join(lines)


def write(trace: str, folder: Path, now: datetime, while_: str = "") -> None:
    """Write this down, and what was being done, where the log has it not yet; a folder that cannot be written to is let be."""
    words = f"{while_}\n{impersonal(trace)}".strip()
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        log = log_in(folder)
        if log.exists() and words in log.read_text(errors="replace"):
            return
        handler = RotatingFileHandler(log, maxBytes=MOST_BYTES, backupCount=KEPT, encoding="utf-8", delay=True)
        try:
            handler.emit(
                logging.makeLogRecord({"msg": "%s\n", "args": (f"{now:%Y-%m-%d %H:%M} {_versions()}\n{words}",)})
            )
        finally:
            handler.close()
        log.chmod(0o600)
    except OSError:
        return


def _versions() -> str:
    from PySide6.QtCore import qVersion

    return f"Python {platform.python_version()}, Qt {qVersion()}, {platform.system()} {platform.machine()}"
