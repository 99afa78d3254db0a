"""Saves and typing killed at any time: the file is whole, what was shown a second before is kept; and windows that come and go
on one job, none of which loses what another left.
"""

import os
import signal
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from PySide6.QtCore import QCoreApplication

from tests.desk.test_elsewhere import killed_while_typing
from vow_line.core.job import change
from vow_line.desk.session import Autosave
from vow_line.files.job_json import read_job, write_job
from vow_line.files.whole import PART, STALE_S, last_good, sweep
from vow_line.resources.demo import demo_jobs

from .trying import Tried, go_on, told

MIN_MM, EDIT_MM = 3.0, 0.001


def killed_while_saving(folder: Path, rng: np.random.Generator) -> None:
    """A child saves one job after another, each with a margin of its own, and is killed."""
    path = folder / "a.vow.json"
    job = change(demo_jobs()["laying-knife"], "piece.margin_mm", MIN_MM)
    write_job(job, path)
    wait = float(rng.uniform(0.0, 0.12))
    child = os.fork()
    if child == 0:
        k = 0
        while True:
            k += 1
            write_job(change(job, "piece.margin_mm", MIN_MM + EDIT_MM * k), path)
    time.sleep(wait)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    now = read_job(path)
    if last_good(path).exists():
        before = read_job(last_good(path))
        assert before.piece.margin_mm <= now.piece.margin_mm
    for part in folder.glob(f"{PART}*"):
        os.utime(part, (time.time() - STALE_S - 1,) * 2)
    sweep([folder])
    assert {p.name for p in folder.iterdir()} <= {"a.vow.json", "a.vow.json~"}


def windows_come_and_go(folder: Path, rng: np.random.Generator) -> None:
    """Up to five at once on one job, that type, save, or are closed unsaved; what each left is there in the end."""
    path, job = folder / "a.vow.json", demo_jobs()["laying-knife"]
    write_job(job, path)
    here: dict[Autosave, float] = {}
    left: list[float] = []
    n = 0
    for _ in range(int(rng.integers(5, 40))):
        window = list(here)[int(rng.integers(len(here)))] if here else None
        match int(rng.integers(5)):
            case 0 if len(here) < 5:
                window = Autosave(folder / "unsaved")
                window.take(path)
                here[window] = 0.0
            case 1 if window is not None and here[window]:
                window.let_go()
                left.append(here.pop(window))
            case 2 if window is not None:
                window.drop(path)  # it was saved
                here[window] = 0.0
            case 3:
                Autosave(folder / "unsaved").works(path)  # the shelf is looked at
            case _ if window is not None:
                n += 1
                here[window] = MIN_MM + EDIT_MM * n
                window.keep(path, change(job, "piece.margin_mm", here[window]), "")
                window.settle()
    for window, margin in here.items():
        window.let_go()
        left += [margin] if margin else []
    kept = [w.job.piece.margin_mm for w in Autosave(folder / "unsaved").works(path) if w.job]
    assert sorted(kept) == sorted(left)


def while_typing(folder: Path, rng: np.random.Generator) -> None:
    """For some time, up to three seconds."""
    killed_while_typing(folder / "typed", float(rng.uniform(0.2, 3.0)))


def trial(rng: np.random.Generator) -> Tried:
    """Of ten, one kill while typing, three with windows, else kills while saving."""
    kinds: list[tuple[str, Callable[[Path, np.random.Generator], None]]] = [
        ("kills while typing", while_typing), *[("windows", windows_come_and_go)] * 3,
        *[("kills while saving", killed_while_saving)] * 6,
    ]  # fmt: skip
    what, try_ = kinds[int(rng.integers(len(kinds)))]

    def do() -> None:
        with tempfile.TemporaryDirectory() as folder:
            try_(Path(folder), rng)

    return Tried(what, do=do, hangs=False)


if __name__ == "__main__":
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    app = QCoreApplication([])
    minutes, seed = told("soak kills", sys.argv[1:])
    sys.exit(int(go_on("kills", trial, minutes, seed) > 0))
