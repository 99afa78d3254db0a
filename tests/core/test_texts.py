"""What is said: in one catalogue, with the maker's words never taken for slots, and in any language."""

import ast
import re
from collections.abc import Iterator
from functools import cache
from gettext import NullTranslations
from importlib import import_module
from pkgutil import iter_modules

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.catalogue import KEYWORDS, SOURCE, catalogue
from tests.figures import jobs
from tests.jobs import demo
from tests.many import ALL
from vow_line import instruments
from vow_line.core import language, memory
from vow_line.core.errors import VowLineError
from vow_line.core.job import Job, change
from vow_line.core.measure.panel_set import PanelSet
from vow_line.core.plan import Plan, plan
from vow_line.core.quantity import Units
from vow_line.core.readback import read_back
from vow_line.core.reckoning import count, length
from vow_line.core.texts import Said, joined, listed, said, several
from vow_line.core.work.prompts import eye_says, prompts
from vow_line.resources.demo import demo_jobs

UNITS = Units()


class Brackets(NullTranslations):
    """A language in which every text stands between brackets."""

    def gettext(self, message: str) -> str:
        return f"⟦{message}⟧"

    def ngettext(self, msgid1: str, msgid2: str, n: int) -> str:
        return f"⟦{msgid1 if n == 1 else msgid2}⟧"

    def pgettext(self, context: str, message: str) -> str:
        return f"⟦{message}⟧"


def outside(text: str) -> str:
    """What stands outside all brackets."""
    while (bare := re.sub(r"⟦[^⟦⟧]*⟧", "", text)) != text:
        text = bare
    return text


@cache
def _templates() -> frozenset[str]:
    return frozenset(part for m in catalogue() if m.id for part in (m.id if isinstance(m.id, tuple) else (m.id,)))


def _letters(template: str) -> str:
    """What of a template is not a slot, a number or a sign."""
    return "".join(re.findall(r"[^\W\d_]+", re.sub(r"\{[^{}]*\}", "", template)))


def said_in(planned: Plan) -> Iterator[Said]:
    """All that a plan says."""
    for station in ("measure", "draft", "stitch", "thread", "layout", "vow", "record"):
        for r in planned.sums(station):
            yield from (r.name, r.value, r.sum, *r.more)
    for f in planned.findings:
        yield from (f.says, *(m.label for m in f.mends))
    draft = planned.draft
    callouts = (*planned.measured.callouts, *(draft.callouts if draft else ()))
    for c in callouts:
        yield from (c.name, *c.choices, *((c.beside[1],) if c.beside else ()))
    yield from (label.says for label in (*planned.job.thing.labels(), *(draft.labels if draft else ())))
    yield from (h.name for h in planned.job.thing.handles())
    yield planned.next
    if draft is not None:
        assembly = draft.assembly
        yield from (t.title for p in assembly.pieces for t in (p, p.stock, *p.edges, *p.skives, *p.punches))
        yield from (t.title for t in (*assembly.joins, *assembly.fasteners, *assembly.shells))
        yield from (p.heading for p in assembly.pieces)
    for step in planned.work.steps if planned.work else ():
        yield from (step.name, step.says, step.caution)
    for line in read_back(planned):
        yield from (line.part, line.says, *line.more)
    for checked in planned.checked:
        yield from (checked.title, checked.says)
    for sewn in planned.threading.seams if planned.threading else ():
        for p in prompts(sewn, planned.job.thread):
            yield from (p.way, p.how, p.then, p.reminds, eye_says(sewn, p))


def parts(text: Said) -> Iterator[Said]:
    """A text and every text in its slots."""
    yield text
    for _, value in text.values:
        if isinstance(value, Said):
            yield from parts(value)


def own_words(job: Job) -> set[str]:
    """What the maker wrote."""
    thread = job.thread.thread
    own = {o.thread.name for o in job.thread.own if o.thread} | {o.thread.colour for o in job.thread.own if o.thread}
    by = {word for _, r in texts_of_readings(job) for t in r.facts() for word in (t.by, t.using, t.over)}
    panels = job.thing.panels if isinstance(job.thing, PanelSet) else ()
    marks = {p.letter for p in panels} | {f"{p.letter}{c.n}" for p in panels for c in p.corners}
    return {job.name, job.maker, job.whose, job.leather.name, job.stitch.tool_name, thread.name, thread.colour, thread.sold_as,
            *own, *by, *marks, *(w.thing.name for w in job.wearers if job.others)}  # fmt: skip


def texts_of_readings(job: Job) -> Iterator[tuple[str, object]]:
    from vow_line.core.measure.readings import every_reading

    return every_reading(job.thing, "thing")


JOBS = jobs() | demo_jobs()


@pytest.mark.parametrize("name", list(JOBS)[:: 1 if ALL else 4])
def test_every_text_of_a_plan_is_in_the_catalogue_and_only_the_makers_words_are_not(name: str) -> None:
    job = JOBS[name]
    own = own_words(job)
    for part in {part for text in set(said_in(plan(job))) for part in parts(text)}:
        assert not _letters(part.template) or part.template in _templates(), part.template
        pasted = {v for _, v in part.values if isinstance(v, str) and re.search("[^\\W\\d]", v)} - own
        assert not pasted, part.template


@pytest.mark.parametrize("name", demo_jobs())
def test_in_another_language_nothing_is_left_in_this_one(name: str) -> None:
    job = demo(name)
    language.speak(Brackets())
    try:
        memory.forget()
        for text in set(said_in(plan(job))):
            written = text.write(UNITS)
            assert not re.search("[^\\W\\d_]", outside(written)), written
            assert text.template == "" or written
    finally:
        language.speak(None)


@given(st.text(alphabet="{}ab: n!", min_size=1, max_size=12))
def test_what_the_maker_wrote_is_never_taken_for_a_slot(words: str) -> None:
    assert said("cut from {leather}", leather=words).write(UNITS) == f"cut from {words}"


def test_a_leather_with_braces_in_its_name_ends_nothing() -> None:
    planned = plan(change(demo("spar-knife").model_copy(update={"vows": ()}), "leather.name", "shoulder {2nd}"))
    told = [text.write(UNITS) for text in said_in(planned)]
    assert any("shoulder {2nd}" in line for line in told)
    assert not planned.failures


def test_a_number_decides_between_one_and_several() -> None:
    told = [
        several("{n} hole left of {seam}", "{n} holes left of {seam}", n=count(n), seam=said("seam")) for n in (0, 1, 2)
    ]
    assert [t.write(UNITS) for t in told] == ["0 holes left of seam", "1 hole left of seam", "2 holes left of seam"]


def test_a_text_is_not_pasted_into_another() -> None:
    with pytest.raises(TypeError, match="not pasted"):
        f"the {said('sheath')}"


def test_lists_and_units_inside_other_texts() -> None:
    gap = said("{gap} wide", gap=length(25.4))
    assert listed([said("a"), said("b"), said("c")]).write(UNITS) == "a, b and c"
    assert joined(said("a"), said(""), gap).write(Units("in")) == "a, 1 in wide"


def test_every_text_that_is_written_is_collected() -> None:
    """A text inside another is passed over by the collector: it then stands on a line of its own."""
    for path in SOURCE.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in KEYWORDS:
                texts = node.args[: 2 if node.func.id == "several" else 1]
                told = {t.value for t in texts if isinstance(t, ast.Constant) and t.value}
                assert told <= _templates(), f"{path.name}:{node.lineno}"


def _raised() -> Iterator[tuple[str, ast.expr]]:
    """Each text that an error of the program is raised with, and where."""
    kinds = {c.__name__ for c in (VowLineError, *VowLineError.__subclasses__())} - {
        "AssemblyError"
    }  # for whoever builds
    for path in SOURCE.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in kinds:
                told = [*node.args[:1], *node.args[2:3], *(k.value for k in node.keywords if k.arg in ("what", "mend"))]
                yield from ((f"{path.name}:{node.lineno}", text) for text in told)


def test_no_error_is_raised_with_words_that_cannot_be_translated() -> None:
    for module in iter_modules(instruments.__path__, "vow_line.instruments."):
        import_module(module.name)  # their errors are the program's too
    found = list(_raised())
    assert len(found) > 80
    assert not [at for at, text in found if isinstance(text, ast.JoinedStr | ast.BinOp)
                or (isinstance(text, ast.Constant) and text.value)]  # fmt: skip
