"""`./run mutants`: changes one number or operator of the core's formulas at a time, and sees whether a test notices.

Mutants are drawn by module with a seed; each is tried with the test files that run its line, those named for its module first,
in a copy of the source. It is noticed when one of them fails or takes too long. Prints each that is not, and the share noticed.
"""

import argparse
import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from queue import SimpleQueue
from typing import NamedTuple

import libcst as cst
from coverage import Coverage
from libcst.metadata import MetadataWrapper, PositionProvider
from mutmut.mutation.mutators import (
    operator_augmented_assignment,
    operator_if_exp,
    operator_keywords,
    operator_name,
    operator_number,
    operator_remove_unary_ops,
    operator_swap_op,
)

ROOT = Path(__file__).parent.parent
CORE = "src/vow_line/core"
NOT_FORMULAS = (
    "picture",
    "shown",
    "readback",
    "drawing",
    "meanings",
    "errors",
    "__init__",
)  # drawn or said, not reckoned
SKIPPED = (
    "tests/core/proof/test_simulated.py",
    "tests/core/test_total.py",
    "tests/core/test_pictures.py",
)  # minutes each
OPERATORS = (
    (cst.BaseNumber, operator_number), (cst.Name, operator_name), (cst.AugAssign, operator_augmented_assignment),
    (cst.UnaryOperation, operator_remove_unary_ops), (cst.CSTNode, operator_keywords), (cst.CSTNode, operator_swap_op),
    (cst.IfExp, operator_if_exp),
)  # fmt: skip
MOST_S = 90.0  # of tests for one mutant; what those do not notice counts as unnoticed
SLOW = 6.0  # a test file that takes so many times as long as it should has been killed


class Mutant(NamedTuple):
    """One change of a module: the line, and what stands there instead."""

    path: str
    line: int
    module: cst.Module
    node: cst.CSTNode
    changed: cst.CSTNode

    @property
    def code(self) -> str:
        """The whole module with the change."""
        return self.module.deep_replace(self.node, self.changed).code  # type: ignore[attr-defined]

    @property
    def told(self) -> str:
        """The place, and the line before and after."""
        before, after = (c.splitlines()[self.line - 1].strip() for c in (self.module.code, self.code))
        return f"{self.path.removeprefix(CORE + '/')}:{self.line}\n    {before}\n    {after}"


def mutants_of(path: str) -> list[Mutant]:
    """Every mutant of a module, those of words, types and what is only said left out."""
    wrapper = MetadataWrapper(cst.parse_module((ROOT / path).read_text()), unsafe_skip_copy=True)
    at = wrapper.resolve(PositionProvider)
    return [
        Mutant(path, at[node].start.line, wrapper.module, node, changed) for node in _formulas(wrapper.module)
        for sort, operator in OPERATORS if isinstance(node, sort) for changed in operator(node)
    ]  # fmt: skip


def _formulas(module: cst.Module) -> Iterator[cst.CSTNode]:
    stack: list[cst.CSTNode] = [module]
    while stack:
        node = stack.pop()
        if isinstance(
            node, (cst.Annotation, cst.Decorator, cst.Import, cst.ImportFrom, cst.Raise, cst.Assert, cst.Subscript)
        ):
            if not isinstance(node, cst.Subscript):
                continue
            if isinstance(node.value, cst.Name) and node.value.value in (
                "Literal",
                "Annotated",
                "tuple",
                "dict",
                "list",
            ):
                continue
        if isinstance(node, cst.Call) and isinstance(node.func, cst.Name) and node.func.value in (
            "said", "length", "Finding", "Fault", "Field", "Callout", "Label", "lru_cache", "reckon", "Mend", "round",
            "dataclass",
        ):  # fmt: skip
            continue
        yield node
        stack.extend(reversed(node.children))


def coverage_by_file(cache: Path) -> dict[str, tuple[float, dict[str, set[int]]]]:
    """For each test file how long it takes, and the lines of the core that it runs; each in a process of its own, so that what
    is remembered from one does not hide lines from another.
    """
    files = [str(p.relative_to(ROOT)) for p in sorted((ROOT / "tests").rglob("test_*.py")) if "desk" not in p.parts]

    def run(file: str) -> tuple[str, float, dict[str, list[int]]]:
        with tempfile.TemporaryDirectory() as folder:
            data = Path(folder) / "data"
            begin = time.monotonic()
            done = subprocess.run(_pytest(file), cwd=ROOT, env=_env(ROOT / "src"), capture_output=True, check=False)
            took = time.monotonic() - begin
            if done.returncode:
                sys.exit(f"{file} fails before anything is changed:\n{done.stdout.decode()[-2000:]}")
            covered = ["coverage", "run", f"--data-file={data}", f"--source={ROOT / CORE}", "-m", *_pytest(file)[2:]]
            subprocess.run(
                [sys.executable, "-m", *covered], cwd=ROOT, env=_env(ROOT / "src"), capture_output=True, check=False
            )
            measured = Coverage(data_file=str(data))
            measured.load()
            lines = measured.get_data()
            return (
                file,
                took,
                {str(Path(f).relative_to(ROOT)): list(lines.lines(f) or ()) for f in lines.measured_files()},
            )

    if cache.exists():
        kept = json.loads(cache.read_text())
    else:
        with ThreadPoolExecutor(2) as two:
            kept = list(two.map(run, [f for f in files if f not in SKIPPED]))
        cache.parent.mkdir(exist_ok=True)
        cache.write_text(json.dumps(kept))
    return {file: (took, {f: set(n) for f, n in lines.items()}) for file, took, lines in kept}


def _pytest(file: str) -> list[str]:
    return [sys.executable, "-m", "pytest", "-q", "-x", "-p", "no:cacheprovider", "-p", "no:xdist", "-p", "no:qt", file]


def _env(source: Path) -> dict[str, str]:
    return {
        **os.environ,
        "PYTHONPATH": f"{source}{os.pathsep}{ROOT}",
        "PYTHONDONTWRITEBYTECODE": "1",
        "OPENBLAS_NUM_THREADS": "1",
    }


def chosen(mutant: Mutant, covers: dict[str, tuple[float, dict[str, set[int]]]]) -> list[tuple[str, float]]:
    """The test files that run its line, with how long each takes: those named for its module first, then those that run most
    of the module for their time.
    """
    stem, folder = Path(mutant.path).stem, Path(mutant.path).parent.name
    found = [(f, took) for f, (took, lines) in covers.items() if mutant.line in lines.get(mutant.path, ())]
    return sorted(found, key=lambda t: (stem not in t[0], folder not in t[0], t[1] / len(covers[t[0]][1][mutant.path])))


def noticed(mutant: Mutant, tests: list[tuple[str, float]], source: Path) -> str:
    """The test file that notices the mutant, in a copy of the source; nothing where none does."""
    path, spent = source / Path(mutant.path).relative_to("src"), 0.0
    whole = path.read_text()
    path.write_text(mutant.code)
    try:
        for file, took in tests:
            if spent and spent + took > MOST_S:
                continue
            spent += took
            try:
                done = subprocess.run(_pytest(file), cwd=ROOT, env=_env(source), capture_output=True, check=False,
                                      timeout=SLOW * took + 10)  # fmt: skip
            except subprocess.TimeoutExpired:
                return file
            if done.returncode:
                return file
    finally:
        path.write_text(whole)
    return ""


def main() -> None:
    """Draw mutants, try them two at a time, and print what no test noticed."""
    asked = argparse.ArgumentParser(prog="./run mutants", description=__doc__)
    asked.add_argument("number", nargs="?", type=int, default=320)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--in", dest="within", default="", help="only modules whose path has this in it")
    told = asked.parse_args()
    draw = random.Random(told.seed)
    modules = [str(p.relative_to(ROOT)) for p in sorted((ROOT / CORE).rglob("*.py")) if told.within in str(p)
               and not any(n in p.stem for n in NOT_FORMULAS)]  # fmt: skip
    covers = coverage_by_file(ROOT / ".cache" / "mutants-coverage.json")
    pools = {m: mutants_of(m) for m in modules}
    pools = {m: draw.sample(pool, len(pool)) for m, pool in pools.items() if pool}
    drawn: list[Mutant] = []
    while len(drawn) < told.number and any(pools.values()):
        drawn += [pool.pop() for pool in pools.values() if pool]
    drawn = draw.sample(drawn, min(told.number, len(drawn)))
    copies: SimpleQueue[Path] = SimpleQueue()
    begin = time.monotonic()
    with tempfile.TemporaryDirectory() as folder:
        for k in range(2):
            copies.put(Path(shutil.copytree(ROOT / "src", Path(folder) / str(k))))

        def attempt(mutant: Mutant) -> tuple[Mutant, str]:
            source = copies.get()
            try:
                return mutant, noticed(mutant, chosen(mutant, covers), source)
            finally:
                copies.put(source)

        killed = 0
        with ThreadPoolExecutor(2) as two:
            for n, (mutant, by) in enumerate(two.map(attempt, drawn), 1):
                killed += bool(by)
                if not by:
                    print(mutant.told, flush=True)
                if n % 40 == 0 or n == len(drawn):
                    spent = (time.monotonic() - begin) / 60
                    print(
                        f"-- seed {told.seed}: {killed} of {n} noticed, {killed / n:.3f}, in {spent:.0f} min",
                        flush=True,
                    )


if __name__ == "__main__":
    main()
