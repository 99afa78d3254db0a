"""A lace through folded loops riveted along both edges, or along one and over hooks or studs set off against them."""

import numpy as np
import pytest
import shapely

from tests.jobs import demo, job_of
from vow_line.core.draft.closures import TAIL_MM, how_many
from vow_line.core.draft.kinds.limb_wrap import LimbWrap
from vow_line.core.draft.kinds.limb_wrap.closures.looped import Looped
from vow_line.core.job import Job, change, mend
from vow_line.core.plan import Plan, plan

AGAINST = ["loops", "hooks", "studs"]


def closed(job: Job, **choices: object) -> Plan:
    return plan(change(change(job, "vows", ()), "piece.closed", Looped(**choices)))  # type: ignore[arg-type]


def rows_of(made: Plan) -> tuple[np.ndarray, np.ndarray]:
    left, right = made.draft.assembly.laces[0].rows
    at = {(p.id, k.id): np.array(k.centre) for p in made.draft.pieces for k in p.punches}
    return np.array([at[k] for k in left]), np.array([at[k] for k in right])


def test_seven_stand_on_either_side_of_fourteen_inches_two_apart() -> None:
    """Common practice: strips of 63 by 19, seven a side for 355 mm at 51."""
    usual = Looped()
    assert how_many(355.0, usual.spacing_mm, usual.ends_mm) == 7
    assert (usual.strip_mm, usual.strip_wide_mm) == (63.0, 19.0)


@pytest.mark.parametrize("against", AGAINST)
@pytest.mark.parametrize("name", ["gaiter", "gang-cuffs", "thorn-cuff"])
def test_the_lace_is_as_long_as_its_way_walked(name: str, against: str) -> None:
    """Put on the limb: left eyes up one line, right ones up another, as far apart as the gap less what the loops stand out, and
    walked in space from one to the next as the lace goes.
    """
    made = closed(demo(name), against=against, gap_low_mm=38.0, gap_high_mm=52.0)
    choice, lace = made.job.piece.closed, made.draft.assembly.laces[0]
    left, right = rows_of(made)
    n = len(left)
    assert len(right) == (n if against == "loops" else n - 1)
    up = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(left, axis=0).T))])
    gap = 38.0 + 14.0 * up / up[-1]
    out = 63 / 2 - 19 / 2 - choice.in_mm  # the doubled strip past its edge
    if against == "loops":
        eyes = [np.column_stack([side * (gap / 2 - out), up]) for side in (-1, 1)]
        way = np.hypot(*(eyes[1][0] - eyes[0][0]))
        for k in range(n - 1):
            way += np.hypot(*(eyes[1][k + 1] - eyes[0][k])) + np.hypot(*(eyes[0][k + 1] - eyes[1][k]))
    else:
        half = (up[1:] + up[:-1]) / 2
        loops = np.column_stack([-(gap / 2 - out), up])
        hooks = np.column_stack([(38.0 + 14.0 * half / up[-1]) / 2 + choice.in_mm, half])
        way = sum(np.hypot(*(hooks[k] - loops[k])) + np.hypot(*(loops[k + 1] - hooks[k])) for k in range(n - 1))
    assert lace.long_mm == pytest.approx(way + 2 * TAIL_MM, rel=0.01)
    assert not [f for f in made.findings if f.level == "hold" and f.station in ("draft", "stitch")]


@pytest.mark.parametrize("against", AGAINST)
def test_strips_are_counted_with_those_to_spare_and_folded_onto_their_own_holes(against: str) -> None:
    made = closed(demo("thorn-cuff"), against=against, spare=3)
    left, right = rows_of(made)
    strip = made.draft.piece("loop")
    loops = len(left) + (len(right) if against == "loops" else 0)
    assert strip.count == loops + 3
    near, far = (np.array(k.centre) for k in strip.punches)
    fold = shapely.LineString(strip.folds[0])
    assert fold.distance(shapely.Point(near)) == pytest.approx(fold.distance(shapely.Point(far)))
    rivets = [f for f in made.draft.assembly.fasteners if f.sort == "rivet"]
    assert len(rivets) == loops
    for f in rivets:
        stack = made.job.leather.thickness_mm * 3
        assert made.draft.assembly.stack_mm(f) == pytest.approx(stack)
    twice = plan(change(made.job, "makes", {"count": 2, "each": "in-pairs"}))
    assert twice.draft.piece("loop").count == 2 * strip.count
    assert "pieces-miscounted" not in {f.code for f in twice.findings}


@pytest.mark.parametrize("against", AGAINST)
def test_what_stands_against_them_is_halfway_between(against: str) -> None:
    made = closed(demo("gaiter"), against=against)
    left, right = rows_of(made)
    along = [np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(r, axis=0).T))]) for r in (left, right)]
    if against == "loops":
        assert np.diff(along[0]) == pytest.approx(np.diff(along[1]), rel=0.02)
    else:
        low = right[0] - left[0]
        assert np.diff(along[1]) == pytest.approx(np.diff(along[0])[:-1], rel=0.02)
        assert abs(low[1]) == pytest.approx(along[0][1] / 2, rel=0.15)


@pytest.mark.parametrize(
    ("choices", "code"),
    [({"strip_mm": 40.0}, "loop-short"), ({"gap_low_mm": 20.0, "gap_high_mm": 20.0}, "loops-meet"),
     ({"hole_mm": 8.0}, "eyelet-tears"), ({"spacing_mm": 15.0}, "closures-near")],
)  # fmt: skip
def test_what_is_wrong_with_loops_mends_in_one_press(choices: dict[str, float], code: str) -> None:
    made = closed(demo("thorn-cuff"), **choices)
    found = next(f for f in made.findings if f.code == code)
    assert code not in {f.code for f in plan(mend(made.job, found.mend)).findings}


def test_on_plausible_limbs_nothing_is_held_that_its_mends_do_not_mend() -> None:
    rng = np.random.default_rng(8)
    for k in range(12):
        job = job_of(LimbWrap, rng)
        made = closed(job, against=AGAINST[k % 3])
        for _ in range(4):
            holds = [f for f in made.findings if f.level == "hold" and f.station == "draft" and f.mend]
            if not holds:
                break
            made = plan(mend(made.job, holds[0].mend))
        assert not {f.code for f in made.findings if f.level == "hold" and f.station == "draft"}, made.job.thing
        assert made.made is not None
