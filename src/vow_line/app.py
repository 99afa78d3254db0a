"""The command `vow-line`: opens the desk, or plans and exports without one."""

import argparse
import json
import os
import re
import sys
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn, TextIO

from .core.errors import VowLineError

if TYPE_CHECKING:
    from .core.curve import Line
    from .core.measure.thing import Thing
    from .core.quantity import Kind
    from .files.outline import FileOutline

UNREADABLE, HOLDS, FINE = 2, 1, 0


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command; the exit status is 0, 1 with holds, or 2 for input that cannot be read."""
    given = list(sys.argv[1:] if arguments is None else arguments)
    commands = {"demo", "plan", "export", "thread", "lace", "prompts", "trace", "outline", "schema"}
    try:
        if not given or (given[0] not in commands and not given[0].startswith("-")):
            return _desk([_job(g) for g in given[:1]])
        args = _parser().parse_args(_with_values(given))
        status = int(args.command(args))
        sys.stdout.flush()
        return status
    except VowLineError as error:
        _say(f"vow-line: {error}", file=sys.stderr)
        return UNREADABLE
    except BrokenPipeError:  # whoever read it has had enough; what is flushed at the end goes nowhere
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return FINE


def _say(text: object, file: TextIO | None = None) -> None:
    """Print a line. Names and places come from outside: what a terminal would take as an order is shown as a box."""
    shown = str(text).encode(errors="replace").decode()  # a place need not be UTF-8
    print(re.sub(r"[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069]", "\ufffd", shown), file=file)


def _job(given: str) -> Path:
    """A job file to be opened. Raises VowLineError for what is none, a command misspelt for one."""
    path = Path(given)
    if not path.is_file():
        from .core.texts import tell

        raise VowLineError(
            tell("There is no command and no job file '{what}'.", what=given),
            mend=tell("{command} --help tells what can be given.", command="vow-line"),
        )
    return path


def _with_values(given: Sequence[str]) -> list[str]:
    """The arguments, each option joined to a value below nothing, which would be taken for an option itself."""
    joined: list[str] = []
    for word in given:
        if re.match(r"-[\d.,]", word) and joined and re.fullmatch(r"--[a-z-]+", joined[-1]):
            joined[-1] += f"={word}"
        else:
            joined.append(word)
    return joined


class _Help(argparse.HelpFormatter):
    """The library's own words in the maker's language."""

    def start_section(self, heading: str | None) -> None:
        from .core.texts import tell

        words = {"positional arguments": tell("what is given"), "options": tell("options")}
        super().start_section(words.get(heading or "", heading))

    def add_usage(self, usage, actions, groups, prefix=None) -> None:  # type: ignore[no-untyped-def]
        from .core.texts import tell

        super().add_usage(usage, actions, groups, tell("usage: ") if prefix is None else prefix)


class _Parser(argparse.ArgumentParser):
    """Says what is wrong in the program's own words."""

    def __init__(self, **more: Any) -> None:
        from .core.texts import tell

        super().__init__(**{**more, "add_help": False, "formatter_class": _Help})
        self.add_argument("-h", "--help", action="help", help=tell("show this help, and nothing else"))

    def error(self, message: str) -> NoReturn:
        from .core.quantity import Units
        from .core.texts import said, tell

        see = tell("{command} --help tells what can be given.", command=self.prog)
        for pattern, says in (
            (r"the following arguments are required: (.*)", said("Missing: {what}.")),
            (r"unrecognized arguments: (.*)", said("There is no {what}.")),
            (r"argument COMMAND: invalid choice: '(.*?)'.*", said("There is no command {what}.")),
            (r"argument ([^:]*): expected .*", said("{what} needs a value.")),
            (r"argument ([^:]*): invalid choice: .*", said("{what} cannot be that.")),
            (r"argument ([^:]*): invalid int value.*", said("{what} needs a whole number.")),
        ):
            if found := re.fullmatch(pattern, message, re.DOTALL):
                raise VowLineError(says.filled(what=found[1]).write(Units()), mend=see)
        raise VowLineError(tell("This cannot be read."), mend=see)


def _parser() -> argparse.ArgumentParser:
    from .core.quantity import SHEETS_MM
    from .core.texts import tell

    parser = _Parser(
        prog="vow-line",
        description=tell("With nothing, or with a job file, it opens the desk. With a command it works without one."),
    )
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    demo = commands.add_parser("demo", help=tell("open the demo shelf, or write its job files"))
    demo.add_argument("--to", type=Path, metavar="DIR", help=tell("write the demo job files there and open nothing"))
    demo.set_defaults(command=_demo)
    plan_ = commands.add_parser("plan", help=tell("print the whole reckoning of a job"))
    plan_.add_argument("job", type=Path, metavar="JOB")
    plan_.add_argument("--json", action="store_true", help=tell("as JSON, lengths in mm"))
    plan_.set_defaults(command=_plan)
    export_ = commands.add_parser("export", help=tell("write patterns, cutting list and calendar"))
    export_.add_argument("job", type=Path, metavar="JOB")
    export_.add_argument("--to", type=Path, required=True, metavar="DIR")
    export_.add_argument("--over", action="store_true", help=tell("write over what is there"))
    export_.set_defaults(command=_export)
    thread_ = commands.add_parser("thread", help=tell("the length of thread for a straight seam"))
    for name, default, what in (
        ("run", None, tell("length of the seam")), ("pitch", None, tell("hole pitch: 4mm, 6spi, 'no 7 french'")),
        ("stack", None, tell("thickness sewn through: 9mm, '24 oz'")),
        ("thread", "0.8mm", tell("the thread: 0.8mm, '18/4 lea', '270 tex'")),
        ("needle", "50mm", tell("length of a needle")), ("margin", "3mm", tell("from the edge to the seam")),
        ("reach", "5m", tell("as far as an arm draws a thread: a longer one is cut in two")),
    ):  # fmt: skip
        thread_.add_argument(
            f"--{name}",
            required=default is None,
            default=default,
            help=what if default is None else tell("{what} (default {default})", what=what, default=default),
        )
    thread_.add_argument(
        "--stitch", default="saddle", help=tell("one of {these} (default saddle)", these=", ".join(_stitches()))
    )
    thread_.add_argument(
        "--back", type=int, help=tell("back stitches at the end (default 2, where the stitch has them)")
    )
    thread_.add_argument("--loops", type=int, default=0, help=tell("loops over the edge at the start (default 0)"))
    thread_.add_argument("--slack", default="3%", help=tell("beyond the path (default 3%%)"))
    thread_.add_argument(
        "--sure", default="50%", help=tell("how likely it should be enough; more than half adds a spare (default 50%%)")
    )
    thread_.add_argument("--json", action="store_true")
    thread_.set_defaults(command=_thread)
    lace_ = commands.add_parser("lace", help=tell("a criss-cross of lace, and the disc it is cut from"))
    for name, what in (
        ("eyelets", tell("eyelets on a side")), ("gap", tell("between the rows")), ("spacing", tell("of eyelets")),
        ("tail", tell("left at each end")), ("width", tell("of the lace")), ("core", tell("left of the disc")),
        ("leather", tell("thick, that it goes through")),
    ):  # fmt: skip
        lace_.add_argument(f"--{name}", help=what)
    lace_.add_argument("--json", action="store_true")
    lace_.set_defaults(command=_lace)
    prompts_ = commands.add_parser("prompts", help=tell("what Sew says, pass by pass"))
    prompts_.add_argument("job", type=Path, metavar="JOB")
    prompts_.add_argument("--seam", metavar="ID", help=tell("one seam; all of them where it is left out"))
    prompts_.add_argument("--json", action="store_true")
    prompts_.set_defaults(command=_prompts)
    trace_ = commands.add_parser("trace", help=tell("an outline in mm from a picture, or why not"))
    trace_.add_argument("picture", type=Path, metavar="PICTURE")
    trace_.add_argument("--sheet", choices=tuple(SHEETS_MM), help=tell("the paper under it (default A4)"))
    trace_.add_argument("--one", action="store_true", help=tell("it is one thing, however narrow in the middle"))
    trace_.add_argument("--high", metavar="MM", help=tell("how high above the paper its outline lies"))
    trace_.add_argument(
        "--line",
        default="100mm",
        metavar="MM",
        help=tell("how long the line on the printed card came out (default 100mm)"),
    )
    trace_.add_argument(
        "--kind", choices=_outlined(), help=tell("what it is: what its outline reads of it is told too")
    )
    trace_.add_argument("--check", metavar="MM", help=tell("its longest, measured by hand"))
    trace_.add_argument(
        "--gap", action="append", default=[], metavar="MM",
        help=tell("from the end of a gap that narrows out of sight to the place farthest from it, measured by hand"),
    )  # fmt: skip
    trace_.add_argument("--json", action="store_true")
    trace_.set_defaults(command=_trace)
    outline_ = commands.add_parser(
        "outline", help=tell("an outline in mm from an SVG or DXF file, or a file of points")
    )
    outline_.add_argument("file", type=Path, metavar="FILE")
    outline_.add_argument("--scale", metavar="MM", help=tell("how long one unit of it is, where the file does not say"))
    outline_.add_argument("--which", type=int, metavar="N", help=tell("the N-th largest closed curve in it"))
    outline_.add_argument("--json", action="store_true")
    outline_.set_defaults(command=_outline)
    schema_ = commands.add_parser("schema", help=tell("print the JSON Schema of a job"))
    schema_.set_defaults(command=_schema)
    return parser


def _desk(jobs: list[Path], demo: bool = False) -> int:
    from .desk.start import open_desk

    return open_desk(jobs, demo=demo)


def _demo(args: argparse.Namespace) -> int:
    if args.to is None:
        return _desk([], demo=True)
    from .files.job_json import JOB_SUFFIX, write_job
    from .resources.demo import demo_jobs

    for name, job in demo_jobs().items():
        path = args.to / f"{name}{JOB_SUFFIX}"
        write_job(job, path)
        _say(path)
    return FINE


def _plan(args: argparse.Namespace) -> int:
    from .core.plan import SUMMED, plan
    from .files.job_json import read_job
    from .files.plan_json import as_json

    planned = plan(read_job(args.job))
    if args.json:
        _say(json.dumps(as_json(planned), ensure_ascii=False))
        return HOLDS if planned.holds else FINE
    units = planned.job.units
    _say(planned.job.name)
    for station in SUMMED:
        for line in planned.sums(station):
            _say(f"  {line.name.write(units):<28} {line.value.write(units):>14}   {line.sum.write(units)}")
    for step in planned.work.steps if planned.work else ():
        when = step.begins.strftime("%d %b %H:%M") if step.begins else ""
        _say(f"  {when:<13} {step.name.write(units)}: {step.says.write(units)}")
    for finding in planned.findings:
        _say(f"{finding.level}: {finding.says.write(units)}")
    return HOLDS if planned.holds else FINE


def _export(args: argparse.Namespace) -> int:
    from .core.plan import plan
    from .core.texts import tell
    from .files import export, formats
    from .files.job_json import file_name, read_job

    planned = plan(read_job(args.job))
    if planned.whole is None:
        for hold in planned.holds:
            _say(f"vow-line: {hold.says.write(planned.job.units)}", file=sys.stderr)
        return HOLDS
    name = file_name(planned.job.name)
    there = [path for form in formats(planned) if (path := args.to / f"{name}{form.suffix}").exists()]
    if there and not args.over:
        raise VowLineError(
            tell("It is there already: {files}.", files=", ".join(path.name for path in there)), str(args.to),
            tell("--over writes over it."),
        )  # fmt: skip
    for path in export(planned, args.to, name):
        _say(path)
    return HOLDS if planned.holds else FINE


MOST_HIGH_MM = 300.0
CHECK_MM, CHECK_SHARE = 1.5, 0.01  # how far a length measured by hand may be off what was traced (from memory)
THREAD_BOUNDS = {
    "run": (0.0, 100_000.0), "pitch": (1.0, 20.0), "stack": (0.0, 100.0), "thread": (0.0, 4.0), "needle": (0.0, 300.0),
    "margin": (0.0, 300.0), "reach": (200.0, 5000.0),
}  # fmt: skip


def _read(args: argparse.Namespace, name: str, kind: "Kind") -> float:
    """What an option gives. Raises VowLineError that names it."""
    return _read_text(getattr(args, name), name, kind)


def _read_text(text: str, name: str, kind: "Kind") -> float:
    from .core.quantity import Units
    from .core.typed import read

    try:
        return read(kind, text, Units())
    except VowLineError as error:
        raise VowLineError(error.what, f"--{name}", error.mend) from error


def _stitches() -> tuple[str, ...]:
    from .core.thread.stitches import STITCHES

    return tuple(STITCHES)


def _stitch_named(words: str) -> str:
    """The id of a stitch by its id or its title."""
    from .core.texts import tell
    from .core.thread.stitches import STITCHES

    named = {stitch.title.template: id for id, stitch in STITCHES.items()}
    id = named.get(words, "-".join(words.lower().replace(",", " ").split()))
    if id not in STITCHES:
        raise VowLineError(
            tell("There is no stitch '{words}'.", words=words),
            "--stitch",
            tell("Use {these}.", these=", ".join(STITCHES)),
        )
    return id


def _thread(args: argparse.Namespace) -> int:
    from .core.quantity import Units
    from .core.stitch.straight import straight_seam
    from .core.texts import said, tell
    from .core.thread import Slack, Thread, ThreadChoices, sewn_with
    from .core.thread.stitches import STITCHES

    id = _stitch_named(args.stitch)
    kinds: dict[str, Kind] = {"pitch": "fine", "thread": "thread", "stack": "leather"}
    mm = {name: _read(args, name, kinds.get(name, "length")) for name in THREAD_BOUNDS}
    for name, (low, high) in THREAD_BOUNDS.items():
        if not low <= mm[name] <= high or (mm[name] == 0 and name != "margin"):
            give = said("Give from {low} mm up to {high} mm.") if low or name == "margin" else said(
                "Give a length above 0 up to {high} mm.")  # fmt: skip
            raise VowLineError(
                tell("{mm} mm will not do.", mm=f"{mm[name]:g}"), f"--{name}",
                give.filled(low=f"{low:g}", high=f"{high:g}").write(Units()),
            )  # fmt: skip
    run, pitch, stack = mm["run"], mm["pitch"], mm["stack"]
    slack, sure = _read(args, "slack", "percent"), _read(args, "sure", "percent")
    for name, value, low, high, ways in (
        ("sure", sure, 0.5, 0.999, tell("Give from 50 % to 99.9 %.")), ("slack", slack, 0, 1, tell("Give from 0 to 100 %.")),
        ("back", args.back or 0, 0, 10, tell("Give from 0 to 10.")), ("loops", args.loops, 0, 4, tell("Give from 0 to 4.")),
    ):  # fmt: skip
        if not low <= value <= high:
            raise VowLineError(tell("{value} will not do.", value=str(getattr(args, name))), f"--{name}", ways)
    if run < pitch / 2:
        raise VowLineError(
            tell("A run of {run} mm has no room for a stitch of {pitch} mm.", run=f"{run:g}", pitch=f"{pitch:g}"),
            "--run",
        )
    stitch = STITCHES[id]
    for name, value, option in (("back", args.back, "back-stitches"), ("loops", args.loops, "edge-loops")):
        if value and option not in stitch.takes:
            these = ", ".join(s.id for s in STITCHES.values() if option in s.takes)
            raise VowLineError(
                tell("A seam in {stitch} is sewn without them.", stitch=id), f"--{name}",
                tell("They go with {these}.", these=these),
            )  # fmt: skip
    line = straight_seam(run, pitch, stack, mm["margin"], stitch.sews[0])
    most = len(line.points) - 1
    if (args.back or 0) > most:
        raise VowLineError(
            tell("{n} back stitches are more than the {most} stitches there are.", n=str(args.back), most=str(most)), "--back",
            tell("Give from 0 to {most}.", most=str(most)),
        )  # fmt: skip
    back = min(2, most) if args.back is None else args.back
    choices = ThreadChoices(
        thread=Thread(diameter_mm=mm["thread"]), stitch=id, needle_mm=mm["needle"],
        back_stitches=back, edge_loops=args.loops, slack=Slack(value=slack), reach_mm=mm["reach"], sure=sure,
        butt_stitch=id,
    )  # fmt: skip
    sewn = sewn_with(stitch, line, choices)
    seam, lengths = sewn.seam, [length for c in sewn.cuts for length in c.thread_mm]
    says_of = {
        "holes": len(seam.points), "stitches": len(seam.points) - 1, "pitch_mm": seam.pitch_mm, "path_mm": sewn.path_mm,
        "slack_mm": sewn.slack_mm, "spare_mm": sewn.spare_mm, "reserve_mm": sewn.reserve_mm, "total_mm": sewn.total_mm,
        "ratio": sewn.path_mm / seam.run_mm, "total_ratio": sewn.total_mm / seam.run_mm,
        "lengths_mm": lengths,
    }  # fmt: skip
    if args.json:
        _say(json.dumps(says_of))
    else:
        stitches = f"{len(seam.points) - 1} × {seam.pitch_mm:.2f} mm"
        _say(tell("{n} holes: {stitches}", n=str(len(seam.points)), stitches=stitches))
        _say(tell(
            "{path} mm of path ({times} times the seam) + {slack} slack + {spare} to be sure + {reserve} at the needles "
            "= {total} mm to cut",
            path=f"{sewn.path_mm:.0f}", times=f"{sewn.path_mm / run:.1f}", slack=f"{sewn.slack_mm:.0f}",
            spare=f"{sewn.spare_mm:.0f}", reserve=f"{sewn.reserve_mm:.0f}", total=f"{sewn.total_mm:.0f}",
        ))  # fmt: skip
        if len(lengths) > 1:
            _say(tell("in lengths of {these} mm", these=", ".join(f"{length:.0f}" for length in lengths)))
    return FINE


def _prompts(args: argparse.Namespace) -> int:
    from .core.plan import plan
    from .core.quantity import Units
    from .core.texts import tell
    from .core.work.prompts import eye_says, prompts
    from .files.job_json import read_job

    planned = plan(read_job(args.job))
    seams = planned.threading.seams if planned.threading else ()
    if args.seam and args.seam not in {s.seam.id for s in seams}:
        these = ", ".join(s.seam.id for s in seams) or tell("none: the job waits for readings")
        raise VowLineError(
            tell("There is no seam '{name}'.", name=args.seam), "--seam", tell("Use {these}.", these=these)
        )
    outlines = {p.id: p.outline for p in planned.whole.pieces} if planned.whole else {}
    units, pace = planned.job.units if not args.json else Units(), planned.job.work.pace_mm_per_min
    told = [
        {
            "seam": s.seam.id, "hole": p.hole + 1, "needle": s.moves[p.move].needle + 1, "hand": p.hand, "face": p.toward,
            "says": "; ".join(t.write(units) for t in (p.way, p.how, p.then, p.reminds, eye_says(s, p, outlines)) if t),
            "left_mm": p.left_before_mm, "wanted_mm": p.wanted_before_mm, "minutes_left": p.to_go_mm / pace,
        }
        for s in seams if args.seam in (None, s.seam.id) for p in prompts(s, planned.job.thread.of(s.seam.id))
    ]  # fmt: skip
    if args.json:
        _say(json.dumps(told, ensure_ascii=False))
    else:
        for line in told:
            _say(f"{line['seam']} {line['hole']}: {line['says']}")
    return HOLDS if planned.holds else FINE


def _trace(args: argparse.Namespace) -> int:
    from .core.ring import sides
    from .core.texts import tell
    from .files.picture import read_picture
    from .instruments.tracing import trace

    high_mm = _read(args, "high", "length") if args.high else 0.0
    if not 0 <= high_mm <= MOST_HIGH_MM:
        raise VowLineError(
            tell("{mm} mm will not do.", mm=f"{high_mm:g}"), "--high",
            tell("Give from 0 mm to {most} mm.", most=f"{MOST_HIGH_MM:g}"),
        )  # fmt: skip
    check_mm = _read(args, "check", "length") if args.check else None
    line_mm = _read(args, "line", "length")
    if not 50 <= line_mm <= 200:
        raise VowLineError(
            tell("{mm} mm will not do.", mm=f"{line_mm:g}"), "--line", tell("Give from 50 mm to 200 mm.")
        )
    try:
        traced = trace(read_picture(args.picture), args.sheet or "A4", high_mm=high_mm, card_share=line_mm / 100,
                       sure=args.sheet is not None, whole=args.one)  # fmt: skip
        assert traced is not None
        ring = _with_gaps(traced.outline, [_read_text(text, "gap", "length") for text in args.gap])
        longest, across = sides(ring)
        if check_mm is not None and abs(longest - check_mm) > max(CHECK_MM, CHECK_SHARE * check_mm):
            raise VowLineError(
                tell("It is {traced} mm at its longest, {read} mm was measured.", traced=f"{longest:.1f}",
                     read=f"{check_mm:.1f}"),
                "--check", tell("Another sheet, a card printed at another scale, or a thing that lies high: see which."),
            )  # fmt: skip
        thing = _read_off(args.kind, ring) if args.kind else None
    except VowLineError as error:
        return _no_outline(error, args)
    if args.high is None:
        says = tell(
            "How high its outline lies was not told: for each mm above the paper it is drawn up to {far} mm too far out. "
            "--high tells it.", far=f"{traced.astray:.2f}",
        )  # fmt: skip
        _say(f"vow-line: {args.picture}: {says}", file=sys.stderr)
    if check_mm is None and not traced.coloured:
        says = tell(
            "White paper hides what is as bright as it. This is {long} mm at its longest and {across} mm across: measure it. "
            "--check tells its longest.", long=f"{longest:.1f}", across=f"{across:.1f}",
        )  # fmt: skip
        _say(f"vow-line: {args.picture}: {says}", file=sys.stderr)
    return _an_outline(ring, args, thing)


def _with_gaps(ring: "Line", told_mm: list[float]) -> "Line":
    """An outline whose gaps end where they were measured. Raises VowLineError where one was not, or is elsewhere."""
    from .core.texts import tell
    from .instruments.gaps import ended, gaps_of

    gaps = gaps_of(ring)
    if len(told_mm) > len(gaps):
        raise VowLineError(
            tell("Of {n} gaps it is told how deep they go, and the picture shows the ends of all but {seen}.",
                 n=str(len(told_mm)), seen=str(len(gaps))),
            "--gap", tell("Leave it out where the end of a gap is seen."),
        )  # fmt: skip
    if len(told_mm) < len(gaps):
        these = "; ".join(
            tell("{seems} mm, {off} mm more or less", seems=f"{g.seems_mm:.1f}", off=f"{g.off_mm:.1f}") for g in gaps
        )
        raise VowLineError(
            tell("A gap narrows so much that its end is not seen. From it to the place farthest off seems to be: {these}.",
                 these=these),
            "--gap", tell("Measure that, and tell it once for each gap, in this order."),
        )  # fmt: skip
    for gap, mm in zip(gaps, told_mm, strict=True):
        deeper = ended(ring, gap, mm)
        if deeper is None:
            raise VowLineError(
                tell("In the picture it is {least} to {most} mm, not {mm} mm.", least=f"{gap.least_mm:.1f}",
                     most=f"{gap.most_mm:.1f}", mm=f"{mm:.1f}"),
                "--gap", tell("Measure from the end of the gap to the place farthest from it, the blades as they lay."),
            )  # fmt: skip
        ring = deeper
    return ring


def _outlined() -> tuple[str, ...]:
    """The kinds of things that are measured by an outline."""
    from .core.measure import THINGS
    from .core.measure.thing import Thing

    return tuple(str(t.model_fields["body"].default) for t in THINGS if t.traced is not Thing.traced)


def _read_off(kind: str, ring: "Line") -> "Thing":
    """A thing of a kind with what its outline reads of it. Raises RefusedChange."""
    from .core.measure import THINGS
    from .core.measure.traced import Drawn

    blank = next(t for t in THINGS if t.model_fields["body"].default == kind).blank()
    return blank.model_copy(update=dict(blank.traced(Drawn(ring))))


def _outline(args: argparse.Namespace) -> int:
    from .core.texts import tell
    from .files.outline import read_outline

    scale = _read(args, "scale", "length") if args.scale else None
    if scale is not None and scale <= 0:
        raise VowLineError(tell("{mm} mm will not do.", mm=f"{scale:g}"), "--scale", tell("Give a length above 0."))
    try:
        drawn = read_outline(args.file, scale, None if args.which is None else max(args.which, 1) - 1)
        if args.which is not None and not 1 <= args.which <= len(drawn.candidates):
            raise VowLineError(
                tell("There is no curve {n}; {many} may be meant.", n=str(args.which), many=str(len(drawn.candidates))),
                "--which", tell("Give from 1 to {many}.", many=str(len(drawn.candidates))),
            )  # fmt: skip
        if not drawn.scaled and scale is None:
            raise VowLineError(
                tell("The file does not say how large it is."),
                str(args.file),
                tell("Give --scale: one unit of it in mm."),
            )
        if drawn.framed and args.which is None:
            raise VowLineError(
                tell("Whether the largest curve is the frame of a page cannot be known: {sizes}.", sizes=_sizes(drawn)),
                str(args.file), tell("Give --which, from 1 to {many}.", many=str(len(drawn.candidates))),
            )  # fmt: skip
        if drawn.absurd and scale is None:
            wide, high = drawn.outline.max(axis=0) - drawn.outline.min(axis=0)
            raise VowLineError(
                tell("It comes out {wide} × {high} mm.", wide=f"{wide:.1f}", high=f"{high:.1f}"),
                str(args.file), tell("Give --scale: one unit of it in mm."),
            )  # fmt: skip
    except VowLineError as error:
        return _no_outline(error, args)
    if drawn.doubtful and args.which is None:
        says = tell("Took {k} of {sizes}. --which takes another.", k=str(drawn.taken + 1), sizes=_sizes(drawn))
        _say(f"vow-line: {args.file}: {says}", file=sys.stderr)
    return _an_outline(drawn.outline, args)


def _sizes(drawn: "FileOutline") -> str:
    """The closed curves that may be meant, numbered, with their sizes in mm."""
    from .core.texts import tell

    return "; ".join(
        f"{k}: {c.wide:.1f} × {c.high:.1f} mm"
        + (tell(", perhaps a frame") if c.frame else tell(", within another") if c.within else "")
        for k, c in enumerate(drawn.candidates, 1)
    )


def _readings_of(thing: "Thing") -> Iterator[str]:
    """A line for each reading that its outline gave, with the place of its station."""
    from .core.measure.readings import Reading
    from .core.quantity import Q, Units, write

    def at(path: str) -> Any:
        of: Any = thing
        for part in path.split(".")[1:]:
            of = of[int(part)] if part.isdigit() else getattr(of, part)
        return of

    units = Units()
    for callout in thing.measure().callouts:
        read = at(callout.path)
        if isinstance(read, Reading) and read.outline is not None:
            path, says = callout.beside or ("", None)
            where = f" {says.write(units)} {write(Q('length', at(path)), units)}" if says else ""
            yield f"{callout.name.write(units)}{where}: {write(Q(callout.kind, read.outline), units)}"


def _an_outline(ring: "Line", args: argparse.Namespace, thing: "Thing | None" = None) -> int:
    from .core.ring import sides
    from .core.texts import tell

    long, wide = sides(ring)
    if args.json:
        told = {"outline_mm": ring.tolist(), "length_mm": long, "width_mm": wide, "reason": ""}
        read = {} if thing is None else {"thing": thing.model_dump(mode="json")}
        _say(json.dumps(told | read, ensure_ascii=False))
    else:
        _say(
            tell(
                "{n} points, {long} mm at its longest, {wide} mm wide",
                n=len(ring),
                long=f"{long:.1f}",
                wide=f"{wide:.1f}",
            )
        )
        for line in _readings_of(thing) if thing else ():
            _say(line)
    return FINE


def _no_outline(error: VowLineError, args: argparse.Namespace) -> int:
    if not args.json:
        raise error
    _say(
        json.dumps({"outline_mm": None, "length_mm": None, "width_mm": None, "reason": str(error)}, ensure_ascii=False)
    )
    return UNREADABLE


def _lace(args: argparse.Namespace) -> int:
    from pydantic import ValidationError

    from .core.job import refused
    from .core.quantity import Units
    from .core.texts import tell
    from .core.thread.lace import Lacing, sums

    units = Units()
    fields = {"gap": "gap_mm", "spacing": "spacing_mm", "tail": "tail_mm", "width": "wide_mm", "core": "core_mm",
              "leather": "leather_mm"}  # fmt: skip
    given = {f: _read(args, n, "length") for n, f in fields.items() if getattr(args, n)}
    if args.eyelets:
        given["eyelets"] = _read(args, "eyelets", "count")
    try:
        lacing = Lacing.model_validate(given)
    except ValidationError as error:
        wrong = error.errors()[0]
        option = next((n for n, f in fields.items() if f == wrong["loc"][0]), wrong["loc"][0])
        raise VowLineError(refused(wrong), f"--{option}", tell("Give another.")) from error
    if args.json:
        _say(json.dumps({"length_mm": lacing.long_mm, "disc_mm": lacing.disc_mm}))
        return FINE
    for line in sums(lacing):
        _say(f"{line.name.write(units)}: {line.value.write(units)}   {line.sum.write(units)}")
    return FINE


def _schema(_: argparse.Namespace) -> int:
    from .files.job_json import schema

    _say(json.dumps(schema(), indent=1))
    return FINE


if __name__ == "__main__":
    sys.exit(main())
