"""Nothing that a job can hold is out of the maker's reach: the model walked field by field, beside what screens set.

What a board or a dialog has a field for is asked of it; what an action sets is what differs after it was done. A field that is
new fails here until a screen sets it.
"""

import re
import typing
from collections.abc import Iterator
from datetime import datetime
from functools import cache
from itertools import pairwise
from types import UnionType
from typing import Annotated, Any, Union

import numpy as np
from pydantic import BaseModel
from PySide6.QtWidgets import QWidget

from tests.bodies import plausible
from tests.desk.conftest import Desk
from tests.jobs import read
from vow_line.core import steps, wearers
from vow_line.core.draft.kinds import KINDS
from vow_line.core.draft.ornament import TITLES
from vow_line.core.entry import enter
from vow_line.core.errors import RefusedChange
from vow_line.core.job import Job, change, mend, put
from vow_line.core.measure import THINGS, Taken
from vow_line.core.measure.readings import every_reading
from vow_line.core.measure.traced import Drawn
from vow_line.core.plan import plan
from vow_line.core.stitch.tools import USUAL
from vow_line.core.thread import Slack
from vow_line.core.thread.stitches import STITCHES
from vow_line.desk.dialogs.bench import BenchDialog
from vow_line.desk.dialogs.names import NAMES
from vow_line.desk.dialogs.piece import LeatherDialog, PieceDialog
from vow_line.desk.dialogs.thread import ThreadDialog
from vow_line.desk.stations import SHOWINGS
from vow_line.desk.stations.draft import ORNAMENT_FIELDS
from vow_line.resources.demo import demo_jobs

NOON = datetime(2027, 3, 1, 12)
THE_PROGRAMS_OWN = {"format"}
NEVER_TRACED = re.compile(
    r"(thick|height|girth|across|bar|opening|around|depth|off)\.outline$|tools\.\*\.(long|wide)\.outline$|guard\.width\.outline$"
    r"|^thing\.(wide|high|deep|thumb|index|middle|ring|little|fingers)\.outline$"
)
"""An outline gives widths and lengths along it; these come from a reading alone."""
WRITTEN_AS_TEXT = {"leather.outline", "leather.flaws", "piece.relief", "work.sessions"}
"""What a dialog's lines of text stand for; each is changed through its dialog below."""


def any_number(path: str) -> str:
    """A place with `*` for every number in it."""
    return re.sub(r"\.\d+(?=\.|$)", ".*", path)


def leaves(of: Any, path: str = "") -> Iterator[str]:
    """The places of all values that a type can hold, `*` for every number."""
    args = [a for a in typing.get_args(of) if a is not type(None)]
    if isinstance(of, type) and issubclass(of, BaseModel):
        for name, field in of.model_fields.items():
            yield from leaves(field.annotation, f"{path}.{name}" if path else name)
    elif typing.get_origin(of) is Annotated:
        yield from leaves(args[0], path)
    elif typing.get_origin(of) is tuple and _holds_model(args[0]):
        yield from leaves(args[0], f"{path}.*")
    elif typing.get_origin(of) in (Union, UnionType):
        for arg in args:
            yield from leaves(arg, path) if _holds_model(arg) else [path]
    else:
        yield path


def _holds_model(of: Any) -> bool:
    if isinstance(of, type):
        return issubclass(of, BaseModel)
    return any(_holds_model(a) for a in typing.get_args(of))


def differing(one: Any, other: Any, path: str = "") -> Iterator[str]:
    """The places at which two dumped jobs differ."""
    if isinstance(other, dict):
        for name, value in other.items():
            was = one.get(name) if isinstance(one, dict) else None
            yield from differing(was, value, f"{path}.{name}" if path else name)
    elif isinstance(other, list | tuple) and other and isinstance(other[0], dict):
        for k, value in enumerate(other):
            before = one[k] if isinstance(one, list | tuple) and k < len(one) else None
            yield from differing(before, value, f"{path}.*")
    elif one != other:
        yield path


@cache
def _jobs() -> tuple[Job, ...]:
    """The demo jobs, a job of every kind for every thing it fits, and each choice of words made once."""
    jobs = list(demo_jobs().values())
    for kind in KINDS:
        tag = str(kind.model_fields["kind"].default)
        for thing in (t for t in THINGS if issubclass(t.gives, kind.fits)):
            job = Job(name="any", thing=plausible(thing, np.random.default_rng(1), tag), piece=kind(kind=tag))
            jobs.append(job)
            for name, field in kind.model_fields.items():
                words = [w for w in typing.get_args(field.annotation) if isinstance(w, str)]
                jobs += [change(job, f"piece.{name}", w) for w in words if name != "kind"]
                if field.annotation is bool:
                    jobs.append(change(job, f"piece.{name}", not getattr(job.piece, name)))
    for style in ("folded", "slots", "hanging"):
        jobs.append(change(demo_jobs()["laying-knife"], "piece.loop.style", style))
    guarded = steps.toggle_guard(demo_jobs()["laying-knife"])
    jobs += [guarded, change(guarded, "thing.guard", {"length_mm": 6.0, "width": read(40), "thick": read(12)})]
    jobs.append(change(demo_jobs()["secateurs-holster"], "piece.back_up_mm", 40.0))
    jobs.append(change(demo_jobs()["goat-collar"], "piece.lap.held", "riveted"))
    jobs.append(change(demo_jobs()["gaiter"], "piece.foot", {}))
    jobs += [change(demo_jobs()["thorn-cuff"], "piece.darts", {"gussets": way}) for way in (False, True)]
    jobs.append(change(demo_jobs()["staple-pouch"], "thing.panels.0.short_mm", 3.0))
    jobs.append(change(demo_jobs()["waistcoat"], "piece.collar", {"edge": "A4"}))
    jobs.append(change(demo_jobs()["hedging-mitten"], "thing.fingers", read(160)))
    jobs.append(change(demo_jobs()["bramble-glove"], "thing.little", read(50)))
    halves = change(demo_jobs()["waistcoat"], "piece.meets.0.how", "laced")
    jobs.append(change(halves, "piece.collar", {"edge": "A4", "over_mm": 30.0}))
    jobs.append(change(demo_jobs()["waistcoat"], "piece.meets.4.how", "buttons"))
    jobs.append(change(demo_jobs()["waistcoat"], "piece.meets.0.how", "bound"))
    jobs += [steps.ornament(demo_jobs()["secateurs-holster"], kind=k, piece="front") for k in TITLES]
    return tuple(jobs)


def on_boards(desk: Desk) -> Iterator[str]:
    """Places that a callout or a handle of any station stands for."""
    for job in _jobs():
        planned = plan(job)
        for showing in SHOWINGS.values():
            scene = showing.scene(planned, desk.window.pages.station.view)
            for callout in scene.callouts:
                for place in (callout.path, *([callout.beside[0]] if callout.beside else [])):
                    yield re.sub(r"^stitch\.of/[^/]+/", "stitch.own.*.", place)
                    whole = (
                        [m.model_dump() for m in callout.means if isinstance(m, BaseModel)] if callout.choices else []
                    )
                    for one, other in pairwise(whole):  # choosing one of them sets all in which they differ
                        yield from differing(one, other, re.sub(r"^stitch\.of/[^/]+/", "stitch.own.*.", place))
                yield from (f"{callout.path}.first", f"{callout.path}.second")
            yield from (handle.path for handle in scene.handles)


def in_dialogs(parent: QWidget) -> Iterator[str]:
    """Places that a dialog has a field for."""
    yield from (name for _, name in NAMES)
    yield from ("promised", "work.begins")
    for job in _jobs():
        for dialog in (ThreadDialog(job, parent), BenchDialog(job, "A4", parent), PieceDialog(job, parent),
                       LeatherDialog(job, parent)):  # fmt: skip
            yield from (*dialog.words, *dialog.choices, *dialog.numbers)
            dialog.deleteLater()


def by_actions() -> Iterator[tuple[Job, Job]]:
    """Jobs before and after each thing that is done to them rather than typed."""
    knife, holster, cover = (demo_jobs()[n] for n in ("laying-knife", "secateurs-holster", "billhook-cover"))
    seam = "main-seam"
    ring = np.array([[0.0, 0.0], [200.0, 0.0], [200.0, 44.0], [90.0, 60.0], [0.0, 44.0]])
    yield tuple(
        steps.blank(name="any", thing=t, kind=next(k for k in KINDS if issubclass(t.gives, k.fits))) for t in THINGS[:2]
    )
    yield knife, steps.accept(knife, code="draw-out", at="draw-out", reason="tried it")
    yield knife, steps.vow(knife, at=NOON)
    yield steps.vow(knife, at=NOON), steps.break_vow(steps.vow(knife, at=NOON), at=NOON)
    yield knife, steps.tick(knife, step="cut/sheath", at=NOON)
    ticked = steps.tick(knife, step="form", at=NOON)
    yield ticked, steps.how_it_went(ticked, step="form", minutes=12.0, slip="tore")
    yield ticked, steps.weigh(ticked, grams=120.0, at=NOON.replace(hour=14))
    yield knife, steps.sew_to(knife, seam=seam, passes=3)
    yield knife, steps.measure_thread(knife, seam=seam, mm=400.0)
    yield knife, steps.note_left(knife, seam=seam, cut_mm=900.0, left_mm=100.0)
    yield knife, steps.write_note(knife, about="Sew", says="went well")
    yield knife, steps.close_record(knife)
    yield (
        knife,
        steps.another_kind(knife, kind=next(k for k in KINDS if "two_part" in str(k.model_fields["kind"].default))),
    )
    pair = wearers.one_more(knife, name="another")
    yield knife, pair
    yield pair, wearers.turn_to(pair, 1)
    yield steps.correct(pair, at_mm=60, side="low"), wearers.turn_to(steps.correct(pair, at_mm=60, side="low"), 1)
    yield steps.toggle_guard(knife), knife
    yield knife, steps.toggle_guard(knife)
    for kind in TITLES:
        after = steps.ornament(holster, kind=kind, piece="front")
        yield holster, after
        for field, _ in ORNAMENT_FIELDS[kind]:
            yield after, change(after, f"ornaments.0.{field}", 7.0)
    tried = steps.correct(knife, at_mm=60, side="low", on=NOON.date())
    yield knife, tried
    yield tried, change(tried, "trials.0.corrections.0.by_mm", 2.0)
    yield tried, change(change(tried, "trials.0.thick_mm", 3.0), "trials.0.stock", "foam")
    yield tried, steps.take_trial_back(tried)
    yield cover, steps.take_outline(cover, drawn=Drawn(ring, "pencil"))
    panels = demo_jobs()["waistcoat"]
    yield panels, steps.take_outline(panels, drawn=Drawn(ring, "pencil"))
    yield panels, steps.add_station(panels)
    halves = next(f for f in plan(panels).findings if f.code == "halves-differ")
    kept = mend(panels, halves.mend)
    yield panels, kept
    yield kept, change(kept, "piece.halves.0.keep", "mean")
    yield knife, steps.take_outline(change(knife, "thing.length", {}), drawn=Drawn(ring))
    yield holster, steps.take_outline(holster, drawn=Drawn(ring))
    yield holster, steps.take_section(holster, ring=np.array([[0.0, 9.0], [20.0, 0.0], [40.0, 9.0]]))
    taken = Taken(on=NOON.date(), by="Hazel", using="tape", over="a sock")
    for job in _jobs():
        whole = job
        for path, reading in every_reading(job.thing, "thing"):
            for which in ("first", "second"):
                if getattr(reading, which) is not None and not job.vowed:
                    whole = steps.say_taken(whole, reading=path, which=which, taken=taken)
        yield job, whole
    for tool in USUAL:
        yield knife, enter(knife, "stitch", tool, at=NOON)
    for stitch in STITCHES:
        yield knife, enter(knife, f"thread.of/{seam}/stitch", stitch, at=NOON)
    thread = knife.thread.thread.model_copy(update={
        "name": "another", "colour": "red", "diameter_mm": 1.2, "left_mm": 9e3, "material": "polyester", "price_m": 0.3,
        "sold_as": "5", "waxed": not knife.thread.thread.waxed})  # fmt: skip
    yield knife, enter(knife, f"thread.of/{seam}/thread", thread, at=NOON)
    own = put(knife, f"stitch.of/{seam}/tool", USUAL[-1].model_copy(update={"pitch_mm": 5.0}))
    yield knife, own
    for field, value in (("start_in_mm", 9.0), ("end_in_mm", 9.0), ("ends", "outside")):
        yield own, put(own, f"stitch.of/{seam}/{field}", value)
    yield knife, change(knife, "thread.slack", Slack(value=0.05, spread=0.06, jobs=3))
    cut = steps.tick(steps.vow(knife, at=NOON), step="cut/sheath", at=NOON)
    cut = steps.tick(cut, step="holes/main-seam", at=NOON)
    moved = change(steps.break_vow(cut, at=NOON), "piece.clearance_mm", 9.0)
    again = next(
        m for f in plan(moved).findings for m in (f.mend, *f.others) if m and "work.spoiled" in dict(m.changes)
    )
    yield moved, mend(moved, again)


def test_every_field_of_a_job_can_be_set_from_a_screen(desk: Desk) -> None:
    want = {any_number(p) for p in leaves(Job)} - THE_PROGRAMS_OWN
    want = {p.removeprefix("others.*.") if p.count(".") > 2 else p for p in want}  # another is set when it is in hand
    want = {p for p in want if not NEVER_TRACED.search(p)}
    want = {p for p in want if not p.startswith("vows.*.") or p.count(".") < 3}  # a vow holds what was said before it
    told = {any_number(p) for p in (*on_boards(desk), *in_dialogs(desk.window))}
    for before, after in by_actions():
        told |= {any_number(p) for p in differing(before.model_dump(), after.model_dump())}
    out_of_reach = {p for p in want - told if not any(p.startswith(t) for t in WRITTEN_AS_TEXT)}
    assert not out_of_reach, sorted(out_of_reach)
    assert len(want) > 200


def test_what_is_written_as_text_comes_back(desk: Desk) -> None:
    job = demo_jobs()["laying-knife"]
    leather = LeatherDialog(job, desk.window)
    leather.lines[0].setPlainText("0; 0\n500; 0\n500; 300 mm\n0; 30 cm")  # type: ignore[union-attr]
    leather.lines[1].setPlainText("10; 10\n20; 10\n20; 20\n\n90; 90\n99; 90\n99; 99")  # type: ignore[union-attr]
    after = leather.chosen(job)
    assert after.leather.outline == ((0, 0), (500, 0), (500, 300), (0, 300))
    assert [len(f) for f in after.leather.flaws] == [3, 3]
    piece = PieceDialog(job, desk.window)
    piece.lines[0].setPlainText("20; 60; 1.5")  # type: ignore[union-attr]
    assert [(r.from_mm, r.to_mm, r.by_mm) for r in piece.chosen(job).piece.relief] == [(20, 60, 1.5)]
    bench = BenchDialog(job, "A4", desk.window)
    bench.lines[0].setText("18:30-20, 21-22:15")  # type: ignore[union-attr]
    monday = [(s.begins_min, s.minutes) for s in bench.chosen(job).work.sessions if s.weekday == 0]
    assert monday == [(18 * 60 + 30, 90), (21 * 60, 75)]
    assert BenchDialog(job, "A4", desk.window).chosen(job) == job, "what was not touched stays"
    assert PieceDialog(job, desk.window).chosen(job) == job
    assert LeatherDialog(job, desk.window).chosen(job) == job
    for text in ("18:30", "25-26", "7-7"):
        bench.lines[0].setText(text)  # type: ignore[union-attr]
        bench._take()
        assert bench.wrong.text()
    leather.lines[0].setPlainText("1; 2\n3")  # type: ignore[union-attr]
    leather._take()
    assert "Line 2" in leather.wrong.text()


def test_every_step_that_is_done_to_a_job_is_asked_for_by_the_desk() -> None:
    """The actions above are no dead ends: each is called from the desk's own code."""
    from pathlib import Path

    import vow_line.desk

    text = "\n".join(p.read_text() for p in Path(vow_line.desk.__file__).parent.rglob("*.py"))
    for name in ("accept", "vow", "break_vow", "tick", "how_it_went", "sew_to", "measure_thread", "write_note", "close_record",
                 "another_kind", "toggle_guard", "ornament", "correct", "take_trial_back", "take_outlines", "take_section",
                 "say_taken", "new_trial", "one_more", "one_fewer", "turn_to"):  # fmt: skip
        assert re.search(rf"\b{name}\(|steps\.{name}\b", text), name
    try:
        steps.how_it_went(demo_jobs()["laying-knife"], step="form", minutes=1.0, slip="")
    except RefusedChange:
        return
    raise AssertionError("a step not ticked off went in no way")
