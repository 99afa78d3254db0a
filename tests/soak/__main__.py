"""`./run soak [--minutes N] [--seed S]`: jobs, files, kills and a monkey on the desk, beside each other."""

import subprocess
import sys

from .trying import told

KINDS = ("jobs", "files", "kills", "monkey")


def main(arguments: list[str]) -> int:
    """Run all; the exit status is 1 where anything failed."""
    minutes, seed = told("./run soak", arguments)
    print(f"seed {seed}, {minutes:g} minutes; what fails is kept in soak-failures", flush=True)
    running = [
        subprocess.Popen([sys.executable, "-m", f"tests.soak.{kind}", "--minutes", str(minutes), "--seed", str(seed)])
        for kind in KINDS
    ]
    ended = [process.wait() for process in running]  # of all of them
    return int(any(ended))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
