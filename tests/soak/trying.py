"""One kind of trial after another until the time is up: what was tried, what failed, and what it failed on is kept."""

import argparse
import resource
import signal
import sys
import time
import traceback
from collections import Counter
from collections.abc import Callable, Sequence
from datetime import date
from pathlib import Path
from types import FrameType

import numpy as np

from bench import pace

KEPT = Path("soak-failures")
HANG_S, STOP_S = 2.0, 30.0  # of CPU: longer is a fault, and so long is broken off
QUIET_MS = 1.1  # what the bench's fixed work takes on the machine the goals are for
MOST_MB = 600.0  # above what the process had when it began

Trial = Callable[[np.random.Generator], "Tried"]


class Tried:
    """What a trial tried: a word for it, and the input to be kept where it fails. `begin` is called when that is known; CPU is
    counted from there, of this thread alone.
    """

    def __init__(self, what: str, kept: bytes = b"", suffix: str = "", do: Callable[[], object] = lambda: None, *,
                 hangs: bool = True) -> None:  # fmt: skip
        self.what, self.kept, self.suffix, self.do, self.hangs = what, kept, suffix, do, hangs
        self.did = ""  # what is known of it only when it is done


class Hang(Exception):
    """It went on far too long."""


def _stop(_: int, __: FrameType | None) -> None:
    raise Hang(f"more than {STOP_S:g} s of CPU")


def told(prog: str, arguments: Sequence[str]) -> tuple[float, int]:
    """Minutes and seed."""
    parser = argparse.ArgumentParser(prog=prog)
    parser.add_argument("--minutes", type=float, default=10.0)
    parser.add_argument("--seed", type=int, default=date.today().toordinal())
    given = parser.parse_args(arguments)
    return given.minutes, given.seed


def go_on(name: str, trial: Trial, minutes: float, seed: int) -> int:
    """Try until the time is up; prints what was tried. Gives how many failed."""
    signal.signal(signal.SIGVTALRM, _stop)
    until, k = time.monotonic() + 60 * minutes, 0
    tried: Counter[str] = Counter()
    failed: Counter[str] = Counter()
    had = _mb()
    slowest = 0.0
    while time.monotonic() < until:
        one, what, why = None, name, ""
        k += 1
        try:
            one = trial(np.random.default_rng([seed, k]))
            what = one.what
            signal.setitimer(signal.ITIMER_VIRTUAL, STOP_S)
            begun = time.thread_time()
            one.do()
            took = time.thread_time() - begun
            signal.setitimer(signal.ITIMER_VIRTUAL, 0)
            if one.hangs:
                slowest = max(slowest, took)
                if (
                    took > HANG_S and (took := took * QUIET_MS / pace()) > HANG_S
                ):  # as on a machine that does nothing else
                    why = f"{one.did} {took:.1f} s of CPU"
        except Exception:  # whatever it is, it is what is looked for
            signal.setitimer(signal.ITIMER_VIRTUAL, 0)
            why = traceback.format_exc()
        tried[what] += 1
        if why:
            failed[what] += 1
            KEPT.mkdir(exist_ok=True)
            stem = f"{name}-{seed}-{k}"
            (KEPT / f"{stem}.txt").write_text(f"{what}\n{why}")
            if one is not None and one.kept:
                (KEPT / f"{stem}{one.suffix}").write_bytes(one.kept)
            print(f"{stem}: {what}: {why.strip().splitlines()[-1]}", file=sys.stderr, flush=True)
    grown = _mb() - had
    if grown > MOST_MB:
        failed["memory"] += 1
    counts = ", ".join(f"{n} {what}" for what, n in sorted(tried.items()))
    print(f"{name}, seed {seed}: {counts}; slowest {slowest:.1f} s of CPU, {grown:.0f} MB grown, {sum(failed.values())} failed"
          + (f" ({dict(failed)})" if failed else ""), flush=True)  # fmt: skip
    return sum(failed.values())


def _mb() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
