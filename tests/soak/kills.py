"""Saves and typing killed at any time: the file is whole, what was shown a second before is kept."""

import os
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from tests.desk.test_elsewhere import TYPING
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


def killed_while_typing(folder: Path, rng: np.random.Generator) -> None:
    """Another process types every 150 ms."""
    home = folder / "typed"
    home.mkdir()
    write_job(change(demo_jobs()["laying-knife"], "piece.margin_mm", MIN_MM), home / "a.vow.json")
    typing = subprocess.Popen([sys.executable, "-c", TYPING, str(home)], stdout=subprocess.PIPE, text=True)
    assert typing.stdout is not None
    begun = time.monotonic()
    shown = [(int(typing.stdout.readline()), time.monotonic())]
    for_s = float(rng.uniform(0.2, 3.0))
    while time.monotonic() < begun + for_s or len(shown) < 2:
        shown.append((int(typing.stdout.readline()), time.monotonic()))
    typing.kill()
    typing.wait()
    killed = time.monotonic()
    typing.stdout.close()
    works = Autosave(home / "unsaved").works(home / "a.vow.json")
    kept = max((round((w.job.piece.margin_mm - MIN_MM) / EDIT_MM) for w in works if w.job), default=0)
    due = max((n for n, at in shown if killed - at > 1.0), default=0)
    assert kept >= due, (kept, due, shown)


def trial(rng: np.random.Generator) -> Tried:
    """One kill in ten while typing."""
    typing = rng.random() < 0.1

    def do() -> None:
        with tempfile.TemporaryDirectory() as folder:
            (killed_while_typing if typing else killed_while_saving)(Path(folder), rng)

    return Tried("kills while typing" if typing else "kills while saving", do=do, hangs=False)


if __name__ == "__main__":
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    minutes, seed = told("soak kills", sys.argv[1:])
    sys.exit(int(go_on("kills", trial, minutes, seed) > 0))
