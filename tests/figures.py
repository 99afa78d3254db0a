"""`./run figures`: the figures of many jobs, kept as lines of text, so that a change says which of them it moved.

The kept lines are no truth: what is true is checked elsewhere, by other methods. They tell what moved, one name and its numbers
a line, for whoever moved it to say why in docs/figures-changed.md.
"""

import itertools
import pkgutil
import re
import sys
import zlib
from collections.abc import Callable, Iterable, Iterator
from datetime import datetime
from importlib import import_module
from pathlib import Path
from typing import Any

import numpy as np

from tests.jobs import as_chosen
from tests.soak.jobs import plausible_job
from vow_line import core
from vow_line.core.draft.kind import KindOfPiece
from vow_line.core.draft.kinds import KINDS
from vow_line.core.drawing import Callout, Label, Mark
from vow_line.core.frozen import Frozen
from vow_line.core.job import Job, change, value_at
from vow_line.core.measure import THINGS
from vow_line.core.plan import STATIONS, SUMMED, Plan, plan
from vow_line.core.quantity import Units
from vow_line.core.readback import read_back
from vow_line.core.steps import break_vow
from vow_line.core.stitch.pattern import sheet
from vow_line.core.stitch.strip import partner, strip
from vow_line.core.texts import NOTHING, Said
from vow_line.core.thread.picture import faces, schools, why
from vow_line.core.thread.stitches import STITCHES
from vow_line.core.work.picture import drying
from vow_line.core.work.practice import practice
from vow_line.files.job_json import JOB_SUFFIX, read_job, write_job
from vow_line.files.plan_json import as_json

HERE = Path(__file__).parent
KEPT = HERE / "figures"
OLD_JOBS = HERE / "files" / "format_1"
NUMBERS = "numbers"
LEAST, TRIES = 4, 60  # jobs of a kind kept at least, and how many more there may be
UNITS = Units()


def jobs() -> dict[str, Job]:
    """The jobs kept since format 1, and those kept here: random ones of every kind, that run lines which no other does."""
    return {
        p.name.removesuffix(JOB_SUFFIX): read_job(p)
        for folder in (OLD_JOBS, KEPT)
        for p in sorted(folder.glob(f"*{JOB_SUFFIX}"))
    }


def numbers() -> list[str]:
    """The named numbers of the core, by which it decides, and the things a maker begins from."""
    found: dict[str, str] = {}
    for at in pkgutil.walk_packages(core.__path__, "vow_line.core."):
        for name, value in sorted(vars(import_module(at.name)).items()):
            if name.isupper() and not name.startswith("_") and _value(value):
                found.setdefault(f"{name} = {_value(value)}", at.name.removeprefix("vow_line.core."))
    lines = [f"{where} {what}" for what, where in found.items()]
    lines += [f"a blank {thing.__name__} = {thing.blank().model_dump_json()}" for thing in THINGS]
    for stitch in STITCHES:
        sewn, steps = practice(stitch)
        lines.append(f"practising {stitch} = {sewn.path_mm:.9g} {sewn.total_mm:.9g} in {len(steps)} passes")
        lines += [f"practising {stitch} hole {p.hole} {p.hand} {p.left_before_mm:.9g}: "
                  + "; ".join(map(_said, (p.way, p.how, p.then))) for p in steps]  # fmt: skip
    return lines


def _value(value: Any) -> str:
    """A constant as it is written, where it is made of nothing but numbers, words and records of them; else nothing."""
    if isinstance(value, dict):
        inner = [_value(x) for pair in value.items() for x in pair]
    elif isinstance(value, tuple | frozenset | list):
        inner = sorted(map(_value, value)) if isinstance(value, frozenset) else [_value(x) for x in value]
    else:
        return repr(value) if isinstance(value, int | float | str | Frozen | None) else ""
    return f"({', '.join(inner)})" if all(inner) else ""


def figures(of: Plan) -> list[str]:
    """Every figure of a plan: its name, and the text, the number, or of an array what tells it from another."""
    told = as_json(of)
    del told["job"], told["revision"]
    lines = list(_told("", told))
    for station in (*(s for s in STATIONS if s in SUMMED and s != "vow"), "vow"):
        lines += [f"sum {r.key} = {_said(r.value)}; {_said(r.sum)}; {'; '.join(map(_said, r.more))}"
                  for r in of.sums(station)]  # type: ignore[arg-type]  # fmt: skip
    lines += [f"read back {_said(s.part)}: {'; '.join(map(_said, (s.says, *s.more)))}" for s in read_back(of)]
    lines += [f"verdict {v.piece} = {v.says} {v.by_mm:.6g}, {_said(v.why)}" for v in of.verdicts]
    lines.append(f"ready = {of.work.ready if of.work else None}")
    return lines + [f"drawn {name}: {' '.join(map(_number, what))}" for name, what in _drawings(of)]


def _drawings(of: Plan) -> Iterator[tuple[str, list[float]]]:
    yield "thing", _drawn(of.measured.marks, of.measured.callouts)
    draft, stitching, threading = of.draft, of.stitching, of.threading
    if draft is None or stitching is None or threading is None:
        return
    strained = draft.turned.strained() if draft.turned else ()
    yield "draft", _drawn((*draft.marks, *strained), (*draft.labels, *draft.callouts))
    if draft.section:
        yield "sections", _drawn([m for at_mm in (4, 30, 80) for m in draft.section(at_mm).marks])
    for laid in sheet(draft, stitching):
        yield laid.piece.id, _drawn(laid.marks)
    for seam in stitching.seams:
        yield f"strip of {seam.id}", _drawn(*strip(seam))
        yield f"partner of {seam.id}", _drawn(*partner(seam))
    for sewn in threading.seams:
        yield f"faces of {sewn.seam.id}", _drawn(*faces(sewn, 0, 0))
        yield f"schools of {sewn.seam.id}", _drawn(*schools(sewn, 0, 0, 100))
    yield "why", _drawn(*why(threading.seams, 0, 0, 100))
    if of.work:
        yield "drying", _drawn(*drying(of.work, of.job.work)[:2])


def _drawn(marks: Iterable[Mark], at: Iterable[Label | Callout] = ()) -> list[float]:
    """How many marks, then of all their points and of all that is said at some place; and their sizes."""
    marks = list(marks)
    points = [ring for m in marks for ring in (m.line, *m.rings)]
    return [
        len(marks),
        *_summary(np.vstack([*points, *([a.at] for a in at), np.zeros((1, 2))])),
        sum(m.size_mm for m in marks),
    ]


def _said(text: Said) -> str:
    return text.write(UNITS)


WORDS = ("id", "check", "seam", "code", "title", "name", "caution")  # what names a thing, not a figure of it


def _told(name: str, value: Any) -> Iterator[str]:
    if isinstance(value, dict):
        name = f"{name} {next((value[k] for k in WORDS if k in value), '')}".strip()
        figures = {k: v for k, v in value.items() if k not in WORDS}
        plain = {k: v for k, v in figures.items() if not isinstance(v, (dict, list))}
        if plain:
            yield f"{name}: {', '.join(f'{k} {_number(v)}' for k, v in plain.items())}"
        for key, inner in figures.items():
            if key not in plain:
                yield from _told(f"{name} {key}", inner)
    elif not isinstance(value, list):
        yield f"{name}: {_number(value)}"
    elif not value or isinstance(value[0], str):
        yield f"{name}: {' '.join(map(_number, value))}"
    elif _array(value):
        yield f"{name}: {' '.join(map(_number, _summary(np.array(value, float))))}"
    else:
        for inner in value:
            yield from _told(name, inner)


def _array(value: list[Any]) -> bool:
    flat = np.array(value, dtype=object).ravel()
    return all(isinstance(x, (int, float)) and not isinstance(x, bool) for x in flat)


def _summary(values: np.ndarray) -> list[float]:
    """How many, and by column the sum, the sum of squares, and the sum by place, which tells their order."""
    columns = values.reshape(len(values), -1).T
    place = np.linspace(0, 1, len(values))
    return [len(values), *(float(x) for c in columns for x in (c.sum(), c @ c, c @ place))]


def _number(value: Any) -> str:
    return f"{value:.9g}" if isinstance(value, (int, float)) and not isinstance(value, bool) else str(value)


def kept() -> Iterator[tuple[str, Callable[[], list[str]]]]:
    """What is kept, by the name of its file."""
    yield NUMBERS, numbers
    for name, job in jobs().items():
        yield name, lambda job=job: figures(plan(job))  # type: ignore[misc]


def _offers(of: Plan) -> Iterator[tuple[Callout, tuple[str, str], Any]]:
    """What the drawing of a piece lets be chosen, and each part it can do without, there and not there: the callout, the name
    of what is chosen, and its value.
    """
    for c in of.draft.callouts if of.draft else ():
        path = re.sub(r"\d+", "n", c.path)
        if not path.startswith("piece.") or c.slot in ("a", "b", "edge"):
            continue
        if c.choices:
            yield from ((c, (path, _plain(means)), means) for means in c.means)
        elif c.part != NOTHING:
            yield from ((c, (path, "there"), c.usual), (c, (path, "not there"), 0.0))


def chosen(of: Plan) -> set[tuple[str, str]]:
    """What of all that is so in this plan."""
    found = set()
    for c, (path, _), _ in _offers(of):
        if c.choices:
            found.add((path, _plain(value_at(of.job, c.path) if c.value is None else c.value)))
        else:
            found.add((path, "not there" if c.absent else "there"))
    return found


def _plain(means: Any) -> str:
    """What a choice means, but for its measures."""
    return re.sub(r"\d+(\.\d+)?", "n", str(means))


def lacking(plans: Iterable[Plan]) -> dict[tuple[str, str], Job]:
    """What is offered on these and chosen on none of them; a job for each on which it is chosen."""
    there = {c for p in plans for c in chosen(p)}
    found = {}
    for p in plans:
        job = break_vow(p.job, at=datetime(2027, 1, 6)) if p.job.vowed else p.job
        for c, what, means in _offers(p):
            if what not in there and what not in found:
                found[what] = change(job, c.path, means)
    return found


def plans_of(kind: type[KindOfPiece]) -> list[Plan]:
    """The kept jobs of a kind, planned."""
    return [plan(j) for j in jobs().values() if type(j.piece) is kind]


def grow() -> None:
    """Keep a few random jobs of every kind, and such as have what is offered on them and chosen on none."""
    for kind in KINDS:
        tag = str(kind.model_fields["kind"].default)
        rng, plans = np.random.default_rng(zlib.crc32(tag.encode())), plans_of(kind)
        for n in range(TRIES):
            if len(plans) >= LEAST:
                short = lacking(plans)
                if not short:
                    break
                job = short[min(short)]
            else:
                job = as_chosen(plausible_job(rng, KINDS.index(kind)), rng, 3)
            planned = plan(job)
            if planned.draft is not None:
                plans.append(planned)
                free = (KEPT / f"{tag.replace('_', '-')}-r{k}{JOB_SUFFIX}" for k in itertools.count(n))
                write_job(job, next(path for path in free if not path.exists()))


def main() -> int:
    """Write all figures anew, of every kind that is there."""
    grow()
    for old in KEPT.glob("*.txt"):
        old.unlink()
    for name, lines in kept():
        (KEPT / f"{name}.txt").write_text("\n".join(lines()) + "\n")
    return 0


if __name__ == "__main__":
    sys.exit(main())
