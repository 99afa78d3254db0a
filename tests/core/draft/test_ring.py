"""Panels seen from above: in the order in which a hand would lay them round, as wide as they are, each meeting named."""

from itertools import combinations

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.jobs import words
from tests.many import examples
from vow_line.core.draft.kinds.panelled import Meet, Panelled
from vow_line.core.draft.kinds.panelled.checks import at_levels
from vow_line.core.draft.kinds.panelled.put import Put
from vow_line.core.draft.kinds.panelled.ring import Ring, rings
from vow_line.core.job import Job, change
from vow_line.core.measure.panel import Panel
from vow_line.core.measure.things.panels import Panels
from vow_line.core.plan import plan
from vow_line.resources.demo import demo_jobs


def put_together(job: Job) -> Put:
    body = plan(job).body
    return Put(job.piece, body, job.leather.thickness_mm)  # type: ignore[arg-type]


def strips(wide: list[float], meets: tuple[Meet, ...], high: float = 200.0) -> Job:
    """Upright strips, their corners named clockwise from the top left: 1 the top, 2 the right side, 3 the foot, 4 the left."""
    panels = tuple(
        Panel.of_ring(letter, ((0.0, 0.0), (w, 0.0), (w, high), (0.0, high)))
        for letter, w in zip("ABCDEFGH", wide, strict=False)
    )
    job = demo_jobs()["waistcoat"]
    piece = Panelled(meets=meets, asked=False)
    return job.model_copy(update={"thing": Panels(name="strips", panels=panels), "piece": piece})


def test_a_waistcoat_goes_round_by_its_sides_and_its_front_and_over_the_shoulders() -> None:
    job = demo_jobs()["waistcoat"]
    put = put_together(job)
    (ring,) = rings(put)
    assert ring.letters == ("A", "B", "C")
    assert [frozenset((put.by.meets[k].a, put.by.meets[k].b)) for k in ring.joints if k is not None] == [
        {"A7", "B1"}, {"B5", "C2"}, {"C6", "A1"}
    ]  # fmt: skip
    gaps = sum(put.by.meets[k].gap_mm for k in ring.joints if k is not None and put.by.meets[k].how == "laced")
    assert sum(ring.wide_mm) + gaps == pytest.approx(next(at_levels(put)).gives_mm, abs=0.01), (
        "with their gaps, all round"
    )
    seen = plan(job).draft.from_above()  # type: ignore[union-attr]
    assert seen is not None
    marks, labels = seen.draw()
    said = {words(label.says): label.at for label in labels}
    for meet in put.by.meets:
        assert any(text.startswith(f"{meet.a} – {meet.b} ") for text in said)
    ring_x = np.concatenate([m.line for m in marks])[:, 0]
    middle = (ring_x.min() + ring_x.max()) / 2
    x_of = {text[:2]: at[0] for text, at in said.items()}
    assert x_of["A7"] < middle < x_of["A1"], "seen from above, what is to the right outside lies to the left"
    for letter, wide in zip(ring.letters, ring.wide_mm, strict=True):
        band = next(m.line for m in marks if m.id == f"panel-{letter}" and m.meaning == "grain")
        assert shapely.LineString(band[: len(band) // 2]).length == pytest.approx(wide, rel=0.02), "true to scale"
    bands = [next(m.line for m in marks if m.id == f"panel-{x}" and m.meaning == "grain") for x in ring.letters]
    for one, other, k in zip(bands, (*bands[1:], bands[0]), ring.joints, strict=True):
        assert k is not None
        gap = put.by.meets[k].gap_mm if put.by.meets[k].how == "laced" else 0.0
        assert np.hypot(*(one[len(one) // 2 - 1] - other[0])) == pytest.approx(gap, abs=1.5), "and they come round"
    areas = [shapely.Polygon(band) for band in bands]
    assert all(a.intersection(b).area < 1.0 for a, b in combinations(areas, 2)), "none over another"
    top = bands[0][: len(bands[0]) // 2]
    assert top[0, 1] == pytest.approx(top[-1, 1], abs=1.0), "the first of them at the top"


@settings(max_examples=examples(60), deadline=None)
@given(
    st.permutations(range(6)), st.integers(2, 6), st.lists(st.floats(60, 240), min_size=6, max_size=6),
    st.lists(st.booleans(), min_size=6, max_size=6), st.booleans(),
)  # fmt: skip
def test_strips_that_meet_in_any_order_are_laid_round_in_it(
    order: list[int], n: int, wide: list[float], turned: list[bool], closed: bool
) -> None:
    laid = [k for k in order if k < n]
    letters = "".join("ABCDEFGH"[k] for k in laid)
    pairs = [(a, b) for a, b in zip(letters, letters[1:] + letters[:1], strict=True)]
    pairs = pairs if closed else pairs[:-1]
    meets = tuple(
        Meet(a=f"{b}4", b=f"{a}2", how="butt") if back else Meet(a=f"{a}2", b=f"{b}4", how="butt")
        for (a, b), back in zip(pairs, turned, strict=False)
    )
    (ring,) = rings(put_together(strips(wide[:n], meets)))
    assert (ring.joints[-1] is not None) == closed
    start = letters.index("A") if closed else 0
    assert "".join(ring.letters) == letters[start:] + letters[:start]
    for k, joint in enumerate(ring.joints):
        if joint is not None:
            a, b = ring.letters[k], ring.letters[(k + 1) % n]
            assert {meets[joint].a, meets[joint].b} == {f"{a}2", f"{b}4"}
    assert ring.wide_mm == pytest.approx([wide["ABCDEFGH".index(x)] for x in ring.letters], abs=0.01)


def test_two_palms_sewn_all_round_meet_at_both_sides_and_what_meets_above_is_no_ring() -> None:
    put = put_together(demo_jobs()["bramble-glove"])
    (ring,) = rings(put)
    assert (ring.letters, ring.joints) == (("A", "B"), (0, 0))
    level = next(at_levels(put))
    assert sum(ring.wide_mm) == pytest.approx(level.gives_mm, abs=1.0), (
        "but for where its seam is not square to the level"
    )
    yoke = strips([200.0, 200.0], (Meet(a="A3", b="B1", how="butt"),))
    assert rings(put_together(yoke)) == []
    assert plan(yoke).draft.from_above() is None  # type: ignore[union-attr]
    pairs = tuple(Meet(a=f"{a}2", b=f"{b}4", how="butt") for a, b in ("AB", "CD", "EF"))
    three = plan(strips([200.0] * 6, pairs))
    assert len(rings(put_together(three.job))) == 3
    assert three.draft.from_above() is None, "so many by themselves are not seen in a corner"  # type: ignore[union-attr]
    tube = strips([200.0], (Meet(a="A2", b="A4", how="butt"),))
    assert rings(put_together(tube)) == [Ring(("A",), (200.0,), (0,))]


def test_what_the_edges_differ_by_is_what_they_are_long() -> None:
    job = change(
        strips([120.0, 160.0], (Meet(a="A2", b="B4", how="butt"), Meet(a="B2", b="A4", how="butt"))),
        "piece.asked",
        False,
    )
    taller = Panel.of_ring("B", ((0.0, 0.0), (160.0, 0.0), (160.0, 203.0), (0.0, 203.0)))
    thing = job.thing.model_copy(update={"panels": (job.thing.panels[0], taller)})  # type: ignore[attr-defined]
    seen = plan(job.model_copy(update={"thing": thing})).draft.from_above()  # type: ignore[union-attr]
    assert seen is not None
    _, labels = seen.draw()
    assert {"A2 – B4 3 mm", "B2 – A4 3 mm"} <= {words(label.says) for label in labels}


def test_where_the_flesh_side_is_shown_it_is_so_from_above() -> None:
    shown = []
    for outside in ("grain", "flesh"):
        seen = plan(change(demo_jobs()["waistcoat"], "leather.outside", outside)).draft.from_above()  # type: ignore[union-attr]
        assert seen is not None
        shown.append({m.meaning for m in seen.draw()[0]} & {"grain", "flesh"})
    assert shown == [{"grain"}, {"flesh"}]
