import re
from datetime import date, datetime, timedelta
from importlib import import_module

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.jobs import demo, job_of, met, plain_job, words
from tests.many import examples
from vow_line.core import memory
from vow_line.core.draft.ids import number_of
from vow_line.core.draft.kinds import KINDS
from vow_line.core.draft.ornament import Ornament
from vow_line.core.job import Job, change
from vow_line.core.plan import plan
from vow_line.core.quantity import Units
from vow_line.core.steps import tick
from vow_line.core.texts import said, verbatim
from vow_line.core.work import Sitting, Step, Weighing
from vow_line.core.work.drying import deficit_kpa, dried, expected_tau_min
from vow_line.core.work.order import in_order
from vow_line.core.work.plan import Work
from vow_line.resources.demo import demo_jobs

TUESDAY = datetime(2027, 1, 5, 8)
WEEK_MIN = 7 * 24 * 60


def _work(**choices: object) -> Work:
    work = plan(plain_job(**choices)).work
    assert work is not None
    return work


def test_nothing_is_closed_in_before_it_is_finished() -> None:
    ids = [s.id for s in _work(formed=True).steps]

    def before(first: str, then: str) -> bool:
        return ids.index(first) < ids.index(then)

    assert before("sew/belt-loop", "glue/main-seam")
    assert before("edge/sheath/mouth", "glue/main-seam")
    assert before("edge/welt/inner", "glue/main-seam")
    assert before("edge/belt-loop/right", "sew/belt-loop")
    assert before("holes/main-seam", "form")
    assert before("form", "sew/main-seam")
    assert before("sew/main-seam", "edge/main-seam")
    assert ids[-1] == "finish"


def test_every_step_follows_what_it_needs_and_warns_where_it_can_hurt() -> None:
    done: set[str] = set()
    for step in _work(formed=True, drain_mm=4.0).steps:
        assert set(step.needs) <= done
        done.add(step.id)
        if step.id.startswith(("cut/", "skive/", "glue/", "holes/", "sew/", "form", "edge/")):
            assert step.caution, step.id


@given(st.lists(st.tuples(st.integers(0, 6), st.integers(0, 20 * 60), st.integers(30, 230)), min_size=1, max_size=4))
def test_the_hours_hold_one_pair_of_hands_and_every_wait(sessions: list[tuple[int, int, int]]) -> None:
    job = change(plain_job(formed=True), "work.begins", TUESDAY)
    job = change(job, "work.sessions", tuple(Sitting(weekday=d, begins_min=b, minutes=m) for d, b, m in sessions))
    work = plan(job).work
    assert work is not None
    assert work.ready is not None
    placed = sorted((s for s in work.steps if s.begins), key=lambda s: s.begins or TUESDAY)
    begins = {s.id: s.begins for s in placed}
    assert len(placed) == len(work.steps)
    for step in placed:
        assert step.begins is not None
        assert any(
            s[0] == step.begins.weekday()
            and s[1] <= step.begins.hour * 60 + step.begins.minute + step.begins.second / 60 + 0.1
            for s in sessions
        ), "it begins in one of the maker's hours"
        for need in step.needs:
            other = next(s for s in work.steps if s.id == need)
            start = begins[need]
            assert start is not None
            assert step.begins >= start + timedelta(minutes=min(other.minutes, 1) + other.wait[0]) - timedelta(
                seconds=1
            )


def test_what_sits_on_a_ring_is_fixed_before_it_is_one() -> None:
    """Jobs of every kind with an overlay on one of their pieces after the other: no clam reaches inside a loop that is closed.
    A dart is none, though it too joins a piece to itself.
    """
    rng, seen = np.random.default_rng(19), 0
    for kind in KINDS:
        job = met(job_of(kind, rng), rng)
        bare = plan(job)
        for piece in bare.draft.pieces if bare.draft is not None else ():
            planned = plan(change(job, "ornaments", (Ornament.usual("overlay", piece.id),)))
            if planned.draft is None or planned.work is None:
                continue
            order = [s.id.split("/", 1)[1] for s in planned.work.steps if s.id.startswith(("sew/", "fix/"))]
            joins = [j for j in planned.draft.assembly.joins if not j.id.startswith("dart")]
            closes = [j.id for j in joins if sum(x.piece == piece.id and not x.between for x in j.layers) > 1]
            sits = [j.id for j in joins if "overlay-1" in {x.piece for x in j.layers}]
            for closing in closes:
                for sitting in sits:
                    assert order.index(sitting) < order.index(closing), (kind, piece.id, sitting, closing)
                    seen += 1
    assert seen > 10


@settings(max_examples=examples(60), deadline=None)
@given(
    st.lists(st.tuples(st.integers(0, 6), st.integers(0, 24 * 60 - 1), st.integers(10, 230)), min_size=1, max_size=5),
    st.sampled_from(sorted(demo_jobs())),
)
def test_what_is_glued_is_joined_while_its_cement_is_tacky(sessions: list[tuple[int, int, int]], name: str) -> None:
    """Common practice: joined no sooner than a quarter of an hour, and before half an hour is over. Hours overlap, abut, run on
    past midnight and are too short for it; where all of them are, that is said.
    """
    hours = tuple(Sitting(weekday=d, begins_min=b, minutes=m) for d, b, m in sessions)
    planned = plan(change(change(demo(name), "work.sessions", hours), "work.begins", TUESDAY))
    assert planned.work is not None
    begun = {s.id: s.begins for s in planned.work.steps if s.begins}
    steps = [s for s in planned.work.steps if s.begins]
    glued = [s for s in steps if s.wait[1] is not None]
    if not glued:
        return
    at_bench = np.zeros(4 * WEEK_MIN, bool)  # minute by minute, weeks enough that those that run on are whole
    for k in range(3):
        for day, begins, long in sessions:
            at = (day + 7 * k) * 24 * 60 + begins
            at_bench[at : at + long] = True
    turns = np.flatnonzero(np.diff(np.concatenate([[0], at_bench.astype(int), [0]])))
    longest = int((turns[1::2] - turns[::2]).max())
    late = {f.code for f in planned.findings} & {"cement-dries"}
    takes = 15 + 15 + 5  # spread, dry, laid together
    assert bool(late) is (longest < takes)
    for glue in glued if not late else ():
        joined = min(begun[s.id] for s in steps if glue.id in s.needs)
        dry = (joined - begun[glue.id]).total_seconds() / 60 - glue.minutes
        assert 15 - 0.1 <= dry <= 30 + 0.1, (glue.id, dry)
    for id, start in begun.items():
        minute = ((start - TUESDAY).total_seconds() / 60 + 24 * 60 + 8 * 60) % WEEK_MIN + WEEK_MIN
        assert at_bench[int(minute + 0.02)], id


def test_a_day_promised_too_early_is_said() -> None:
    job = change(change(plain_job(), "work.begins", TUESDAY), "promised", date(2027, 1, 5))
    assert "late" in {f.code for f in plan(job).findings}


def test_what_was_ticked_is_not_placed_again() -> None:
    job = tick(change(plain_job(), "work.begins", TUESDAY), step="cut/sheath", at=TUESDAY)
    step = next(s for s in plan(job).work.steps if s.id == "cut/sheath")  # type: ignore[union-attr]
    assert step.begins is None


def test_before_a_seam_stands_all_that_leads_to_it() -> None:
    before = {s.id for s in _work().before("sew/main-seam")}
    assert {"cut/sheath", "cut/welt", "sew/belt-loop", "glue/main-seam", "holes/main-seam"} <= before
    assert "edge/main-seam" not in before


@given(st.floats(60, 2000), st.floats(30, 200), st.floats(0.1, 0.8))
def test_the_time_constant_comes_back_from_exact_weighings(tau: float, dry: float, excess: float) -> None:
    times = np.array([0, 0.3, 0.8, 1.5]) * tau
    weights = dry * (1 + excess * np.exp(-times / tau))
    told = [Weighing(minutes=float(t), grams=float(w)) for t, w in zip(times, weights, strict=True)]
    found = dried(told, dry, 360.0)
    assert found.tau_min == pytest.approx(tau, rel=1e-6)
    assert dry * (1 + excess * np.exp(-found.dry_minutes / tau)) == pytest.approx(dry * 1.02)


@given(st.floats(60, 900), st.floats(30, 200), st.floats(0.2, 0.8), st.floats(0, 600), st.integers(1, 4))
def test_it_is_dry_when_it_is_whenever_it_was_first_weighed(
    tau: float, dry: float, excess: float, first: float, many: int
) -> None:
    """Counted from the forming, as the clock is: the first weighing may come ten hours after it."""
    times = [first + 0.3 * k * tau for k in range(many)]
    told = [Weighing(minutes=t, grams=float(dry * (1 + excess * np.exp(-t / tau)))) for t in times]
    if told[-1].grams < 1.03 * dry:
        return
    truth = tau * np.log(excess / 0.02)
    assert dried(told, dry, tau).dry_minutes == pytest.approx(truth, rel=1e-6), "one weighing, with what is expected"


def test_the_band_holds_the_truth_nineteen_times_in_twenty() -> None:
    """Weighings on a scale that is off by half a gram either way, again and again; two standard errors of a normal error hold
    95 in 100.
    """
    rng, inside, wide = np.random.default_rng(7), 0, []
    for _ in range(600):
        tau, excess, dry = rng.uniform(150, 600), rng.uniform(0.3, 0.6), rng.uniform(60, 150)
        times = np.sort(rng.uniform(0, 2.2 * tau, rng.integers(2, 7)))
        grams = dry * (1 + excess * np.exp(-times / tau)) + rng.normal(0, 0.5, len(times))
        found = dried(
            [Weighing(minutes=float(t), grams=float(g)) for t, g in zip(times, grams, strict=True)], dry, 360.0
        )
        if found.source == "fitted":
            inside += abs(found.dry_minutes - tau * np.log(excess / 0.02)) <= found.spread_minutes
            wide.append(found.spread_minutes)
    assert 0.9 < inside / len(wide) < 0.99
    assert np.median(wide) < 200


def test_weighings_that_do_not_dry_teach_nothing() -> None:
    told = [Weighing(minutes=0, grams=80), Weighing(minutes=60, grams=82)]
    assert dried(told, 60, 360.0).source == "one"
    assert dried(told[:1], 60, 360.0).tau_min == 360.0


def test_thick_leather_and_damp_air_dry_slower() -> None:
    assert expected_tau_min(6.4, 18, 0.6) == pytest.approx(expected_tau_min(3.2, 18, 0.6) * 2**1.5)
    assert expected_tau_min(3.2, 18, 0.8) == pytest.approx(2 * expected_tau_min(3.2, 18, 0.6))
    assert deficit_kpa(20, 0.0) == pytest.approx(2.33, abs=0.02)


def test_forming_uses_the_weighings_of_the_demo() -> None:
    work = plan(demo("spar-knife")).work
    assert work is not None
    assert work.drying.source == "fitted"
    assert 300 < work.drying.tau_min < 600


def test_the_minutes_of_sewing_are_the_sum_they_show() -> None:
    job = plain_job()
    planned = plan(job)
    assert planned.work is not None
    assert planned.stitching is not None
    line = next(r for r in planned.work.reckonings if r.key == "work/pace")
    told = dict(line.sum.values)
    assert line.number == pytest.approx(told["run"].value / told["pace"].value + told["n"].value * told["set"].value)


def test_a_temporary_seam_is_sewn_before_the_water_and_out_before_the_thread() -> None:
    job = demo("spar-knife").model_copy(update={"vows": ()})
    work = plan(change(job, "thread.temporary", True)).work
    assert work is not None
    ids = [s.id for s in work.steps]
    order = [ids.index(i) for i in ("holes/main-seam", "hold/main-seam", "form", "free/main-seam", "sew/main-seam")]
    assert order == sorted(order)
    assert "hold/main-seam" not in [s.id for s in plan(job).work.steps]  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("tool", "says"), [("drill", "drilled on a plate"), ("wheel", "marked with the wheel"), ("iron", "strikes")]
)
def test_holes_are_made_with_the_tool_that_was_chosen(tool: str, says: str) -> None:
    job = change(change(demo("laying-knife"), "stitch.tool", tool), "stitch.through", "both-faces")
    step = next(s for s in plan(job).work.steps if s.id == "holes/main-seam")  # type: ignore[union-attr]
    told = step.says.write(job.units)
    assert says in told
    assert "transfer sheet" in told
    assert ("eyes covered" in words(step.caution)) == (tool == "drill")


@pytest.mark.parametrize(("thick_mm", "size"), [(1.6, 1), (3.0, 2), (4.5, 3)])
def test_a_thicker_edge_takes_a_larger_beveller(thick_mm: float, size: int) -> None:
    """Number 1 for light straps, 2 for belts and sheaths, 3 for heavy leather (common practice)."""
    job = change(plain_job(), "leather.thickness_mm", thick_mm)
    edge = next(s for s in plan(job).work.steps if s.id == "edge/sheath/mouth")  # type: ignore[union-attr]
    assert f"bevel no. {size} " in edge.says.write(job.units)


def _step(id: str, *needs: str) -> Step:
    return Step(id, "sew", verbatim(id.capitalize()), 5, needs, said("done"))


@given(st.permutations(range(8)), st.lists(st.tuples(st.integers(0, 7), st.integers(0, 7)), max_size=14))
def test_steps_follow_what_they_need_and_else_come_as_given(given_: list[int], pairs: list[tuple[int, int]]) -> None:
    """Beside the first of all orders, by trying: at each place the first given step whose needs are all done."""
    needs = {n: {a for a, b in pairs if b == n and a < n} for n in range(8)}
    steps = [_step(f"s{n}", *(f"s{m}" for m in sorted(needs[n]))) for n in given_]
    wanted: list[int] = []
    while len(wanted) < 8:
        wanted.append(next(n for n in given_ if n not in wanted and needs[n] <= set(wanted)))
    ordered, circle = in_order(steps)
    assert [s.id for s in ordered] == [f"s{n}" for n in wanted]
    assert not circle


def test_steps_that_wait_for_each_other_are_named() -> None:
    steps = [_step("cut"), _step("glue", "sew"), _step("form", "glue", "cut"), _step("sew", "form")]
    ordered, circle = in_order(steps)
    assert list(ordered) == steps
    assert sorted(map(words, circle)) == ["Form", "Glue", "Sew"]


def test_a_circle_of_steps_is_a_hold_that_names_them(monkeypatch: pytest.MonkeyPatch) -> None:
    working = import_module("vow_line.core.work.plan")
    monkeypatch.setattr(working, "steps_of", lambda *_: [_step("glue", "sew"), _step("sew", "glue")])
    memory.forget()
    planned = plan(plain_job())
    held = next(f for f in planned.holds if f.code == "steps-in-a-circle")
    assert {"Glue", "Sew"} <= set(held.says.write(planned.job.units).replace(".", "").replace(",", "").split())
    assert "stage-failed" not in {f.code for f in planned.holds}
    memory.forget()


def _steps(job: Job) -> dict[str, Step]:
    return {s.id: s for s in plan(job).work.steps}


@pytest.mark.parametrize("name", demo_jobs())
def test_edges_and_skives_are_told_as_they_are(name: str) -> None:
    """Each skived edge is as long as its thin side, by the ring's own points; an edge no thicker than it is skived to, no bevel
    on what is too thin, and no rubbing of what does not rub.
    """
    job = demo(name)
    planned, steps = plan(job), _steps(job)
    for piece in planned.whole.pieces:
        for skive in piece.skives if piece.stock.sort != "wood" else ():
            along = np.subtract(skive.thin, skive.thick)
            if not along.any():
                continue
            far = skive.ring @ (along / np.hypot(*along))
            thin = skive.ring[far > far.max() - 0.5]
            long = float(np.hypot(*(thin.max(axis=0) - thin.min(axis=0))))
            told = re.search(r"over ([\d.]+) mm", steps[f"skive/{piece.id}/{skive.id}"].says.write(Units()))
            if "welt" not in piece.id and len(thin) > 1:  # a welt's thin end follows its curve
                assert float(told[1]) == pytest.approx(long, abs=0.6), (piece.id, skive.id)
    thin = _steps(change(job.model_copy(update={"vows": ()}), "leather.thickness_mm", 1.0))
    for id, step in thin.items():
        thick = re.search(r"long|([\d.]+) mm thick", step.says.write(Units()))
        if id.startswith("edge/") and thick and thick[1]:
            assert ("no bevel" in step.says.write(Units())) is (float(thick[1]) < 1.2), id
    oily = _steps(change(job.model_copy(update={"vows": ()}), "leather.tannage", "oil"))
    assert not any("rub with wood" in s.says.write(Units()) for s in oily.values())


@pytest.mark.parametrize("name", demo_jobs())
def test_nothing_is_set_in_wet_leather(name: str) -> None:
    """Before the water, or after it with the drying waited for: followed from need to need."""
    work = plan(demo(name)).work
    steps = {s.id: s for s in work.steps}
    for form in [s for s in steps.values() if s.id.partition("~")[0] == "form"]:
        assert form.wait[0] > 0, "dry before what follows"
        before = {s.id for s in work.before(form.id)}
        for id in (i for i in steps if i.startswith("set/") and number_of(i) == number_of(form.id)):
            assert id in before or form.id in {s.id for s in work.before(id)}, (form.id, id)
