"""The command `vow-line`: opens the desk, or plans and exports without one."""

import argparse
import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from .core.errors import VowLineError

if TYPE_CHECKING:
    from .core.quantity import Kind

UNREADABLE, HOLDS, FINE = 2, 1, 0


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command; the exit status is 0, 1 with holds, or 2 for input that cannot be read."""
    given = list(sys.argv[1:] if arguments is None else arguments)
    commands = {"demo", "plan", "export", "thread", "lace", "schema"}
    try:
        if not given or (given[0] not in commands and not given[0].startswith("-")):
            return _desk([Path(g) for g in given[:1]])
        told = _parser().parse_args(given)
        return int(told.command(told))
    except VowLineError as error:
        print(f"vow-line: {error}", file=sys.stderr)
        return UNREADABLE


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="vow-line",
        description="With nothing, or with a job file, it opens the desk. With a command it works without one.",
    )
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    demo = commands.add_parser("demo", help="open the demo shelf, or write its job files")
    demo.add_argument("--to", type=Path, metavar="DIR", help="write the demo job files there and open nothing")
    demo.set_defaults(command=_demo)
    plan_ = commands.add_parser("plan", help="print the whole reckoning of a job")
    plan_.add_argument("job", type=Path)
    plan_.add_argument("--json", action="store_true", help="as JSON, lengths in mm")
    plan_.set_defaults(command=_plan)
    export_ = commands.add_parser("export", help="write patterns, cutting list and calendar")
    export_.add_argument("job", type=Path)
    export_.add_argument("--to", type=Path, required=True, metavar="DIR")
    export_.set_defaults(command=_export)
    thread_ = commands.add_parser("thread", help="the length of thread for a straight seam")
    for name, default, what in (
        ("run", None, "length of the seam"), ("pitch", None, "hole pitch: 4mm, 6spi, 'no 7 french'"),
        ("stack", None, "thickness sewn through"), ("thread", "0.8mm", "thickness of the thread"),
        ("needle", "50mm", "length of a needle"), ("margin", "3mm", "from the edge to the seam"),
    ):  # fmt: skip
        thread_.add_argument(f"--{name}", required=default is None, default=default, help=f"{what} (default {default})")
    thread_.add_argument("--stitch", default="saddle")
    thread_.add_argument("--back", type=int, default=2, help="back stitches at the end (default 2)")
    thread_.add_argument("--loops", type=int, default=0, help="loops over the edge at the start (default 0)")
    thread_.add_argument("--slack", default="3%", help="beyond the path (default 3%%)")
    thread_.add_argument(
        "--sure", default="50%", help="how likely it should be enough; more than half adds a spare (default 50%%)"
    )
    thread_.add_argument("--json", action="store_true")
    thread_.set_defaults(command=_thread)
    lace_ = commands.add_parser("lace", help="a criss-cross of lace, and the disc it is cut from")
    for name, what in (("eyelets", "eyelets on a side"), ("gap", "between the rows"), ("spacing", "of eyelets"),
                       ("tail", "left at each end"), ("width", "of the lace"), ("core", "left of the disc")):  # fmt: skip
        lace_.add_argument(f"--{name}", help=what)
    lace_.add_argument("--json", action="store_true")
    lace_.set_defaults(command=_lace)
    schema_ = commands.add_parser("schema", help="print the JSON Schema of a job")
    schema_.set_defaults(command=_schema)
    return parser


def _desk(jobs: list[Path], demo: bool = False) -> int:
    from .desk.start import open_desk

    return open_desk(jobs, demo=demo)


def _demo(told: argparse.Namespace) -> int:
    if told.to is None:
        return _desk([], demo=True)
    from .files.job_json import JOB_SUFFIX, write_job
    from .resources.demo import demo_jobs

    for name, job in demo_jobs().items():
        path = told.to / f"{name}{JOB_SUFFIX}"
        write_job(job, path)
        print(path)
    return FINE


def _plan(told: argparse.Namespace) -> int:
    from .core.plan import SUMMED, plan
    from .files.job_json import read_job
    from .files.plan_json import as_json

    planned = plan(read_job(told.job))
    if told.json:
        print(json.dumps(as_json(planned), ensure_ascii=False))
        return HOLDS if planned.holds else FINE
    units = planned.job.units
    print(planned.job.name)
    for station in SUMMED:
        for line in planned.sums(station):
            print(f"  {line.name.write(units):<28} {line.value.write(units):>14}   {line.sum.write(units)}")
    for step in planned.work.steps if planned.work else ():
        when = step.begins.strftime("%d %b %H:%M") if step.begins else ""
        print(f"  {when:<13} {step.name.write(units)}: {step.says.write(units)}")
    for found in planned.findings:
        print(f"{found.level}: {found.says.write(units)}")
    return HOLDS if planned.holds else FINE


def _export(told: argparse.Namespace) -> int:
    from .core.plan import plan
    from .files import export
    from .files.job_json import file_name, read_job

    planned = plan(read_job(told.job))
    if planned.draft is None:
        for found in planned.holds:
            print(f"vow-line: {found.says.write(planned.job.units)}", file=sys.stderr)
        return HOLDS
    for path in export(planned, told.to, file_name(planned.job.name)):
        print(path)
    return HOLDS if planned.holds else FINE


THREAD_BOUNDS = {
    "run": (0.0, 100_000.0), "pitch": (1.0, 20.0), "stack": (0.0, 100.0), "thread": (0.0, 4.0), "needle": (0.0, 300.0),
    "margin": (0.0, 300.0),
}  # fmt: skip


def _read(told: argparse.Namespace, name: str, kind: "Kind") -> float:
    """What an option gives. Raises VowLineError that names it."""
    from .core.quantity import Units
    from .core.typed import read

    try:
        return read(kind, getattr(told, name), Units())
    except VowLineError as error:
        raise VowLineError(error.what, f"--{name}", error.mend) from error


def _stitch_named(words: str) -> str:
    """The id of a stitch by its id or its title."""
    from .core.thread.stitches import STITCHES

    named = {stitch.title.template: id for id, stitch in STITCHES.items()}
    id = named.get(words, "-".join(words.lower().replace(",", " ").split()))
    if id not in STITCHES:
        raise VowLineError(f"There is no stitch {words!r}.", "--stitch", f"Use {', '.join(STITCHES)}.")
    return id


def _thread(told: argparse.Namespace) -> int:
    from .core.stitch.straight import straight_seam
    from .core.thread import Slack, Thread, ThreadChoices, sewn_with
    from .core.thread.stitches import STITCHES

    id = _stitch_named(told.stitch)
    mm = {name: _read(told, name, "fine" if name == "pitch" else "length") for name in THREAD_BOUNDS}
    for name, (low, high) in THREAD_BOUNDS.items():
        if not low <= mm[name] <= high or (mm[name] == 0 and name != "margin"):
            least = f"from {low:g} mm" if low or name == "margin" else "a length above 0"
            raise VowLineError(f"{mm[name]:g} mm will not do.", f"--{name}", f"Give {least} up to {high:g} mm.")
    run, pitch, stack = mm["run"], mm["pitch"], mm["stack"]
    slack, sure = _read(told, "slack", "percent"), _read(told, "sure", "percent")
    for name, value, low, high, ways in (
        ("sure", sure, 0.5, 0.999, "from 50 % to 99.9 %"), ("slack", slack, 0, 1, "from 0 to 100 %"),
        ("back", told.back, 0, 10, "from 0 to 10"), ("loops", told.loops, 0, 4, "from 0 to 4"),
    ):  # fmt: skip
        if not low <= value <= high:
            raise VowLineError(f"{getattr(told, name)} will not do.", f"--{name}", f"Give {ways}.")
    if run < pitch / 2:
        raise VowLineError(f"A run of {run:g} mm has no room for a stitch of {pitch:g} mm.", "--run")
    choices = ThreadChoices(
        thread=Thread(diameter_mm=mm["thread"]), stitch=id, needle_mm=mm["needle"],
        back_stitches=told.back, edge_loops=told.loops, slack=Slack(value=slack), reach_mm=5000.0, sure=sure,
        butt_stitch=id,
    )  # fmt: skip
    stitch = STITCHES[id]
    sewn = sewn_with(stitch, straight_seam(run, pitch, stack, mm["margin"], stitch.sews[0]), choices)
    seam = sewn.seam
    told_of = {
        "holes": len(seam.points), "stitches": len(seam.points) - 1, "pitch_mm": seam.pitch_mm, "path_mm": sewn.path_mm,
        "slack_mm": sewn.slack_mm, "spare_mm": sewn.spare_mm, "reserve_mm": sewn.reserve_mm, "total_mm": sewn.total_mm,
        "ratio": sewn.path_mm / seam.run_mm, "total_ratio": sewn.total_mm / seam.run_mm,
        "lengths_mm": [mm for c in sewn.cuts for mm in c.thread_mm],
    }  # fmt: skip
    if told.json:
        print(json.dumps(told_of))
    else:
        print(f"{told_of['holes']} holes, {told_of['stitches']} stitches of {seam.pitch_mm:.2f} mm")
        print(
            f"{sewn.path_mm:.0f} mm of path ({sewn.path_mm / run:.1f} times the seam) + {sewn.slack_mm:.0f} slack "
            f"+ {sewn.reserve_mm:.0f} at the needles = {sewn.total_mm:.0f} mm to cut"
        )
    return FINE


def _lace(told: argparse.Namespace) -> int:
    from pydantic import ValidationError

    from .core.quantity import Units
    from .core.thread.lace import Lacing, sums

    units = Units()
    fields = {"gap": "gap_mm", "spacing": "spacing_mm", "tail": "tail_mm", "width": "wide_mm", "core": "core_mm"}
    given = {f: _read(told, n, "length") for n, f in fields.items() if getattr(told, n)}
    if told.eyelets:
        given["eyelets"] = _read(told, "eyelets", "count")
    try:
        lacing = Lacing.model_validate(given)
    except ValidationError as error:
        wrong = error.errors()[0]
        option = next((n for n, f in fields.items() if f == wrong["loc"][0]), wrong["loc"][0])
        raise VowLineError(f"{wrong['msg']}: {wrong['input']:g}.", f"--{option}", "Give another.") from error
    if told.json:
        print(json.dumps({"length_mm": lacing.long_mm, "disc_mm": lacing.disc_mm}))
        return FINE
    for line in sums(lacing):
        print(f"{line.name.write(units)}: {line.value.write(units)}   {line.sum.write(units)}")
    return FINE


def _schema(_: argparse.Namespace) -> int:
    from .files.job_json import schema

    print(json.dumps(schema(), indent=1))
    return FINE


if __name__ == "__main__":
    sys.exit(main())
