"""Tabs folded in three to five plies: by hand arithmetic, and folded along their creases on the table."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.jobs import read, words
from tests.many import examples
from vow_line.core.draft.kinds.folded_tab import FoldedTab
from vow_line.core.job import Job, mend
from vow_line.core.leather import Hide
from vow_line.core.measure.things.fitting import Fitting
from vow_line.core.plan import Plan, plan
from vow_line.core.stitch import StitchChoices

HELD = ("sewn", "riveted", "tacked", "posted")


def tab(bar: float = 4.0, thick: float = 2.0, **choices: object) -> Plan:
    hide = Hide(thickness_mm=thick, outline=((0, 0), (900, 0), (900, 400), (0, 400)))
    return plan(Job(name="tab", thing=Fitting(opening=read(30), bar=read(bar)), piece=FoldedTab(**choices), leather=hide,
                    stitch=StitchChoices(tool="awl")))  # fmt: skip


def folded(made: Plan, points: np.ndarray) -> np.ndarray:
    """Where points of the flat strip come to lie below the bar, its plies laid on each other at its creases: walked along it
    from the bar, what each turn takes left out.
    """
    piece, thick = made.draft.piece("strip"), made.job.leather.thickness_mm
    creases = sorted((float(f[0, 1]) for f in piece.folds), reverse=True)
    upper, lower, *rest = creases
    take = np.pi * thick / 2
    out = []
    for v in points[:, 1]:
        if v >= lower:
            out.append(v - upper)
            continue
        below, way, at = lower - v, 1.0, 0.0
        start = lower
        for crease in rest:
            long = start - crease - take / 2
            if below <= start - crease:
                break
            at, way = at + way * long, -way
            below -= start - crease + take / 2
            start = crease - take / 2
        out.append(at + way * below)
    return np.array(out)


@given(
    plies=st.integers(3, 5),
    bar=st.floats(2, 8),
    thick=st.floats(1.2, 3.5),
    long=st.floats(40, 120),
    free=st.floats(0, 12),
)
@settings(max_examples=examples(20), deadline=None)
def test_the_strip_is_as_long_as_its_plies_its_turn_and_its_folds_by_hand(
    plies: int, bar: float, thick: float, long: float, free: float
) -> None:
    made = tab(bar, thick, plies=plies, length_mm=long, from_bar_mm=free)
    turn, fold = np.pi * (bar + thick) / 2, np.pi * thick / 2
    high = float(np.ptp(made.draft.piece("strip").outline[:, 1]))
    assert high == pytest.approx(2 * long + turn + (plies - 2) * (long - free + fold))
    assert len(made.draft.piece("strip").folds) == plies


@given(
    plies=st.integers(3, 5), thick=st.floats(1.2, 3.0), long=st.floats(45, 110), free=st.floats(2, 10),
    held=st.sampled_from(HELD),
)  # fmt: skip
@settings(max_examples=examples(20), deadline=None)
def test_folded_on_the_table_every_hole_lies_on_the_one_before_in_every_ply(
    plies: int, thick: float, long: float, free: float, held: str
) -> None:
    made = tab(3.0, thick, plies=plies, length_mm=long, from_bar_mm=free, held=held)
    if held == "sewn":
        seam = made.stitching.seam("seam")
        plies_of = [seam.on(k) for k in range(len(seam.line.placed))]
    else:
        at = {p.id: p.centre for p in made.draft.piece("strip").punches}
        plies_of = [np.array([at[f"ply-{k}-{n}"] for n in (1, 2)]) for k in range(1, plies + 1)]
    assert len(plies_of) == plies
    lie = [folded(made, p) for p in plies_of]
    for one in lie[1:]:
        assert np.abs(np.sort(one) - np.sort(lie[0])).max() < 0.05
    strip = shapely.Polygon(made.draft.piece("strip").outline)
    assert all(strip.covers(shapely.MultiPoint(p)) for p in plies_of)
    assert not [f for f in made.findings if f.level == "hold"]


@pytest.mark.parametrize("plies", [3, 4, 5])
def test_stacks_and_what_goes_through_them_are_counted_ply_by_ply(plies: int) -> None:
    """Common practice: a rivet's post is the stack and 3 mm; a tack goes 3 mm through; a screw post is as long as the stack."""
    thick = 2.2
    stack = plies * thick
    for held, least, most in (
        ("riveted", stack + 3, stack + 3),
        ("posted", stack, stack),
        ("tacked", stack + 3, stack + 8),
    ):
        made = tab(thick=thick, plies=plies, held=held)
        bought = next(h for h in made.hardware if h.count == 2)
        assert least - 0.05 <= bought.other_mm <= most + 0.05
        assert len([s for s in made.work.steps if s.id.startswith("set/")]) == 2
    sewn = tab(thick=thick, plies=plies)
    assert sewn.stitching.seam("seam").stack_mm == pytest.approx(stack)
    assert len(sewn.stitching.seam("seam").plies_mm) == plies
    assert [s.id for s in sewn.work.steps][:2] == ["cut/strip", "craft/strip/0"]


def test_a_tab_too_short_to_fold_is_held_and_mended() -> None:
    for held in HELD:
        made = tab(length_mm=14.0, held=held)
        found = next(f for f in made.findings if f.code == "tab-short")
        after = plan(mend(made.job, found.mend))
        assert "tab-short" not in {f.code for f in after.findings}
        assert not [f for f in after.findings if f.level == "hold"], held


def test_from_the_front_and_the_back_the_grain_is_seen_and_what_is_inside_is_not() -> None:
    for held in HELD:
        faces = tab(plies=5, held=held).made.faces
        for face in faces:
            top = [m for m in face.marks if m.id == "strip" and m.meaning in ("grain", "flesh")]
            assert top[-1].meaning == "grain", (held, words(face.title))
