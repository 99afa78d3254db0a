"""`./run mutants`: changes one number or operator of the core's formulas at a time, and sees whether a test notices.

Mutants are drawn by module with a seed; each is tried in a copy of the source with the tests that run its line, those named for
its module first, then the quickest. It is noticed when one of them fails, or takes far too long. Prints each that is not, and
the share noticed.
"""

import argparse
import gc
import json
import multiprocessing
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections import defaultdict
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache
from hashlib import sha256
from importlib import import_module
from pathlib import Path
from typing import NamedTuple

import libcst as cst
import pytest
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
    "strip",
    "drawing",
    "meanings",
    "errors",
    "texts",
    "language",
    "memory",
    "frozen",
    "__init__",
)  # drawn or said
SAID = (
    "said", "several", "tell", "length", "Finding", "Fault", "Field", "Callout", "Label", "Mark", "Handle", "reckon", "Mend",
    "lru_cache", "remembered", "round", "dataclass",
)  # fmt: skip
NO_VALUES = ("Literal", "Annotated", "tuple", "dict", "list")
SHOWN = ("_callouts", "_marks", "labels", "handles")
SKIPPED = ("proof/test_simulated.py", "core/test_total.py", "core/test_pictures.py")  # minutes each
HEAVY = ("numpy", "shapely", "scipy.interpolate", "scipy.optimize", "scipy.spatial")
OPERATORS = (
    (cst.BaseNumber, operator_number), (cst.Name, operator_name), (cst.AugAssign, operator_augmented_assignment),
    (cst.UnaryOperation, operator_remove_unary_ops), (cst.CSTNode, operator_keywords), (cst.CSTNode, operator_swap_op),
    (cst.IfExp, operator_if_exp),
)  # fmt: skip
MOST_S = 40.0  # of tests for one mutant; what those do not notice counts as unnoticed
SLOW = 4.0  # tests that take so many times as long as they should have noticed it
KEEP = ("unseen[numbers]", "the_schema_is")  # the tests that look at every constant and every default
ALONE = ""  # the name under which lines are kept that run as their module is imported


class Mutant(NamedTuple):
    """One change of a module: the line, the line where its statement begins, and what stands there instead."""

    path: str
    line: int
    begins: int
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
        Mutant(path, at[node].start.line, at[within].start.line, wrapper.module, node, changed)
        for node, within in _formulas(wrapper.module)
        for sort, operator in OPERATORS if isinstance(node, sort) for changed in operator(node)
    ]  # fmt: skip


def _formulas(module: cst.Module) -> Iterator[tuple[cst.CSTNode, cst.CSTNode]]:
    """Each part of a module that may be changed, and the simple statement it is in, if it is in one."""
    stack: list[tuple[cst.CSTNode, cst.CSTNode | None]] = [(module, None)]
    while stack:
        node, within = stack.pop()
        within = node if isinstance(node, cst.SimpleStatementLine) else within
        if isinstance(node, (cst.Annotation, cst.Decorator, cst.Import, cst.ImportFrom, cst.Raise, cst.Assert)):
            continue
        if isinstance(node, cst.Subscript) and isinstance(node.value, cst.Name) and node.value.value in NO_VALUES:
            continue
        if isinstance(node, cst.Call) and isinstance(node.func, cst.Name) and node.func.value in SAID:
            continue
        if isinstance(node, cst.Arg) and node.keyword and node.keyword.value == "strict":  # no formula, and raises
            continue
        if isinstance(node, cst.FunctionDef) and node.name.value in SHOWN:
            continue
        yield node, within or node
        stack.extend((child, within) for child in reversed(node.children))


class Covered(NamedTuple):
    """What a test runs: how long it takes, and the lines by module."""

    seconds: float
    lines: dict[str, frozenset[int]]


class _Watch:
    """Tells coverage which test runs, and lets none find anything remembered."""

    def __init__(self, coverage: Coverage) -> None:
        self.coverage = coverage
        self.took: dict[str, float] = {}

    @pytest.hookimpl(hookwrapper=True)
    def pytest_runtest_protocol(self, item: pytest.Item) -> Iterator[None]:
        for kept in gc.get_objects():
            if isinstance(kept, type(lru_cache(len))) and kept.__module__.startswith("vow_line"):
                kept.cache_clear()
        self.coverage.switch_context(item.nodeid)
        begin = time.monotonic()
        yield
        self.took[item.nodeid] = time.monotonic() - begin
        self.coverage.switch_context(ALONE)


def cover(file: str, out: str) -> int:
    """Run a test file and write down, for each of its tests, what it runs; in a process that has not imported the core."""
    with tempfile.TemporaryDirectory() as folder:
        coverage = Coverage(data_file=f"{folder}/data", source=[str(ROOT / CORE)])
        watch = _Watch(coverage)
        coverage.start()
        failed = pytest.main(_arguments([file, "--timeout=0"]), plugins=[watch])
        coverage.stop()
        measured = coverage.get_data()
        lines: dict[str, dict[str, list[int]]] = defaultdict(dict)
        for path in measured.measured_files():
            module = str(Path(path).relative_to(ROOT))
            for line, tests in measured.contexts_by_lineno(path).items():
                for test in tests:
                    lines[test].setdefault(module, []).append(line)
    ran = {test: (took, lines.get(test, {})) for test, took in {ALONE: 0.0, **watch.took}.items()}
    Path(out).write_text(json.dumps(ran))
    return int(failed)


def coverage_by_test(cache: Path) -> dict[str, Covered]:
    """What each test runs, and under ALONE what importing runs; kept for as long as neither its file nor the core changes."""
    core = b"".join(p.read_bytes() for p in sorted((ROOT / CORE).rglob("*.py")))
    files = [
        str(p.relative_to(ROOT)) for p in sorted((ROOT / "tests").rglob("test_*.py")) if not str(p).endswith(SKIPPED)
    ]
    cache.mkdir(parents=True, exist_ok=True)

    def run(file: str) -> dict[str, tuple[float, dict[str, list[int]]]]:
        kept = cache / f"{file.replace('/', '-')}-{sha256(core + (ROOT / file).read_bytes()).hexdigest()[:16]}.json"
        if not kept.exists():
            done = subprocess.run([sys.executable, "-m", "tests.mutants", "--cover", file, str(kept)], cwd=ROOT,
                                  env=_env(ROOT / "src"), capture_output=True, check=False)  # fmt: skip
            if done.returncode:
                kept.unlink(missing_ok=True)
                sys.exit(f"{file} fails before anything is changed:\n{done.stdout.decode()[-2000:]}")
        return json.loads(kept.read_text())  # type: ignore[no-any-return]

    lines: dict[str, Covered] = {}
    at_import: dict[str, set[int]] = defaultdict(set)
    with ThreadPoolExecutor(2) as two:
        for told in two.map(run, files):
            for test, (took, of) in told.items():
                if test == ALONE:
                    for module, found in of.items():
                        at_import[module] |= set(found)
                else:
                    lines[test] = Covered(took, {m: frozenset(n) for m, n in of.items()})
    return lines | {ALONE: Covered(0.0, {m: frozenset(n) for m, n in at_import.items()})}


def _arguments(tests: list[str]) -> list[str]:
    return ["-q", "-x", "-p", "no:cacheprovider", "-p", "no:xdist", "-p", "no:logging", *tests]


def _env(source: Path) -> dict[str, str]:
    return {**os.environ, "PYTHONPATH": f"{source}{os.pathsep}{ROOT}", "PYTHONDONTWRITEBYTECODE": "1",
            "OPENBLAS_NUM_THREADS": "1"}  # fmt: skip


def chosen(mutant: Mutant, covers: dict[str, Covered]) -> tuple[list[str], float]:
    """The tests that run its line (any test, where it runs at import), as many as there is time for; how long they take."""
    stem, folder = Path(mutant.path).stem, Path(mutant.path).parent.name
    where = {mutant.line, mutant.begins}  # of a statement over many lines only the first may be seen to run

    def runs(test: str) -> bool:
        return not where.isdisjoint(covers[test].lines.get(mutant.path, ()))

    def order(test: str) -> tuple[bool, bool, float]:
        return stem not in test, folder not in test, covers[test].seconds

    found = sorted((t for t in covers if t and runs(t)), key=order)
    if runs(ALONE):  # what it makes is used by tests that do not run it
        others = (t for t in covers if t and not runs(t))
        found += sorted(others, key=lambda t: (not any(k in t for k in KEEP), *order(t)))
    take, spent = list[str](), 0.0
    for test in found:
        if spent + covers[test].seconds <= MOST_S or not take:
            take.append(test)
            spent += covers[test].seconds
    return take, spent


def noticed(mutant: Mutant, tests: list[str], seconds: float, source: Path) -> bool:
    """Whether one of the tests fails with the mutant in a copy of the source, each mutant in a process forked for it."""
    path = source / Path(mutant.path).relative_to("src")
    whole = path.read_text()
    path.write_text(mutant.code)
    child = os.fork()
    if not child:
        os.setpgid(0, 0)
        quiet = os.open(os.devnull, os.O_WRONLY)
        os.dup2(quiet, 1)
        os.dup2(quiet, 2)
        sys.path.insert(0, str(source))
        try:
            os._exit(int(pytest.main(_arguments(tests))))
        finally:
            os._exit(1)
    try:
        until = time.monotonic() + SLOW * seconds + 10
        while time.monotonic() < until:
            done, status = os.waitpid(child, os.WNOHANG)
            if done:
                return status != 0
            time.sleep(0.02)
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        return True
    finally:
        path.write_text(whole)


def _try(told: tuple[Mutant, list[str], float]) -> tuple[str, bool]:
    mutant, tests, seconds = told
    return mutant.told, bool(tests) and noticed(mutant, tests, seconds, Path(os.environ["VOW_LINE_COPY"]))


def _begin(folder: str) -> None:
    """Each of the two workers: a copy of the source of its own, what takes long to import imported, but nothing of the core."""
    copy = Path(folder) / str(os.getpid())
    shutil.copytree(ROOT / "src", copy)
    os.environ["VOW_LINE_COPY"] = str(copy)
    os.environ |= _env(copy)
    for name in HEAVY:
        import_module(name)


def main() -> int:
    """Draw mutants, try them two at a time, and print what no test noticed."""
    asked = argparse.ArgumentParser(prog="./run mutants", description=__doc__)
    asked.add_argument("number", nargs="?", type=int, default=320)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--in", dest="within", default="", help="only modules whose path has this in it")
    asked.add_argument("--cover", nargs=2, help=argparse.SUPPRESS)
    told = asked.parse_args()
    if told.cover:
        return cover(*told.cover)
    draw, begin = random.Random(told.seed), time.monotonic()
    modules = [str(p.relative_to(ROOT)) for p in sorted((ROOT / CORE).rglob("*.py")) if told.within in str(p)
               and not any(n in p.stem for n in NOT_FORMULAS)]  # fmt: skip
    covers = coverage_by_test(ROOT / ".cache" / "mutants")
    print(f"-- {len(covers)} tests watched in {(time.monotonic() - begin) / 60:.0f} min", flush=True)
    pools = {m: mutants_of(m) for m in modules}
    pools = {m: draw.sample(pool, len(pool)) for m, pool in pools.items() if pool}
    drawn: list[Mutant] = []
    while len(drawn) < told.number and any(pools.values()):
        drawn += [pool.pop() for pool in pools.values() if pool]
    drawn = draw.sample(drawn, min(told.number, len(drawn)))
    begin, killed = time.monotonic(), 0
    with tempfile.TemporaryDirectory() as folder, multiprocessing.get_context("fork").Pool(2, _begin, (folder,)) as two:
        same = [m._replace(changed=m.node) for m in drawn[:4]]
        if any(by for _, by in two.map(_try, [(m, *chosen(m, covers)) for m in same])):
            sys.exit("The tests fail before anything is changed.")
        tried = two.imap_unordered(_try, ((m, *chosen(m, covers)) for m in drawn))
        for n, (mutant, by) in enumerate(tried, 1):
            killed += by
            if not by:
                print(mutant, flush=True)
            if n % 40 == 0 or n == len(drawn):
                spent = (time.monotonic() - begin) / 60
                print(
                    f"-- seed {told.seed}: {killed} of {n} noticed, {killed / n:.3f}, in {spent:.0f} min",
                    flush=True,
                )
    return 0


if __name__ == "__main__":
    sys.exit(main())
