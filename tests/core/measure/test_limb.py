"""What is wrong with how a limb was read is said at the reading, and ends with one press or with the reading itself."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.special import ellipe

from tests.jobs import demo, read
from vow_line.core.draft.kinds.limb_wrap import LimbWrap
from vow_line.core.draft.repeat import Makes
from vow_line.core.finding import Finding
from vow_line.core.job import Job, change, mend
from vow_line.core.measure.readings import Reading
from vow_line.core.measure.things.limb import Limb, LimbStation
from vow_line.core.plan import plan


def limb(girths: list[float], **more: object) -> Limb:
    return Limb(stations=tuple(LimbStation(at_mm=60.0 * k, girth=read(g)) for k, g in enumerate(girths)), **more)  # type: ignore[arg-type]


def found(thing: Limb, code: str) -> Finding | None:
    return next((f for f in thing.measure().findings if f.code == code), None)


def round_an_ellipse(wide: float, deep: float) -> float:
    """By the complete elliptic integral of the second kind."""
    a, b = max(wide, deep) / 2, min(wide, deep) / 2
    return float(4 * a * ellipe(1 - (b / a) ** 2))


@given(st.floats(120, 500), st.floats(0.25, 4.0))
def test_a_depth_that_no_limb_of_such_a_girth_has_is_held(girth: float, ratio: float) -> None:
    """A limb is between 0.4 and 2.5 times as deep as wide (from memory); what is nearly so is left aside here."""
    by = girth / round_an_ellipse(1.0, ratio)
    stations = [
        LimbStation(at_mm=60.0 * k, girth=read(girth), depth=read(by * ratio) if k == 1 else Reading())
        for k in range(4)
    ]
    odd = found(Limb(stations=tuple(stations)), "depth-odd")
    if 0.41 < ratio < 2.45 or ratio < 0.39 or ratio > 2.55:
        assert (odd is not None) is not (0.4 < ratio < 2.5)
    if odd is not None:
        assert odd.at == "thing.stations.1.depth.first"
        after = mend(Job(name="any", thing=Limb(stations=tuple(stations)), piece=LimbWrap()), odd.mend)
        assert found(after.thing, "depth-odd") is None
        assert plan(after).measured.body is not None


def test_a_depth_of_half_the_girth_goes_round_more_than_it() -> None:
    odd = found(
        Limb(stations=tuple(LimbStation(at_mm=60.0 * k, girth=read(250), depth=read(130)) for k in range(4))),
        "depth-odd",
    )
    assert odd is not None
    assert "go round more" in odd.says.template


def test_girths_that_fall_are_turned_end_for_end() -> None:
    rising = limb([170, 200, 240, 250])
    falling = limb([250, 240, 200, 170])
    assert found(rising, "girths-fall") is None
    fall = found(falling, "girths-fall")
    assert fall is not None
    turned = mend(Job(name="any", thing=falling, piece=LimbWrap()), fall.mend).thing
    assert [s.girth.mean_mm for s in turned.stations] == [170, 200, 240, 250]
    assert turned.measure().body is not None
    assert found(limb([250, 240, 200, 170], which="upper-arm"), "girths-fall") is None, "as thick at either end"


def test_a_stand_off_read_at_some_places_is_said() -> None:
    for there, said in (((), False), ((0, 4), True), ((0, 1, 2, 3), True), ((0, 1, 2, 3, 4), False)):
        stations = tuple(
            LimbStation(at_mm=60.0 * k, girth=read(200 + 10 * k), off=read(5.0) if k in there else Reading())
            for k in range(5)
        )
        few = found(Limb(stations=stations, edge="back"), "off-few")
        assert (few is not None) is said
        if few is not None:
            assert few.at == f"thing.stations.{min(set(range(5)) - set(there))}.off.first"


def test_a_station_that_is_not_read_can_be_left_out() -> None:
    stations = [LimbStation(at_mm=60.0 * k, girth=read(200 + 10 * k) if k != 2 else Reading()) for k in range(4)]
    job = Job(name="any", thing=Limb(stations=tuple(stations)), piece=LimbWrap())
    missing = next(f for f in plan(job).findings if f.code == "reading-missing")
    after = mend(job, missing.mend)
    assert [s.at_mm for s in after.thing.stations] == [0, 60, 180]
    assert not {f.code for f in plan(after).findings} & {"reading-missing"}


def test_a_pair_by_one_side_is_said_and_the_other_can_be_read() -> None:
    job = change(change(demo("thorn-cuff"), "makes", Makes(count=2, each="in-pairs")), "vows", ())
    one = next(f for f in plan(job).findings if f.code == "one-side-read")
    both = mend(job, one.mend)
    assert [w.thing.side for w in both.wearers] == [job.thing.side, {"left": "right", "right": "left"}[job.thing.side]]
    assert not any(s.girth.taken for s in both.others[-1].thing.stations)
    assert both.makes.count == 1
    assert "one-side-read" not in {f.code for f in plan(both).findings}
    assert "one-side-read" not in {f.code for f in plan(change(job, "makes", Makes(count=2))).findings}


@pytest.mark.parametrize("posture", ["straight", "bent"])
def test_what_was_read_bent_is_said(posture: str) -> None:
    assert (found(limb([170, 200, 240, 250], posture=posture), "read-bent") is not None) is (posture == "bent")


def test_depths_that_were_read_are_kept() -> None:
    """An ellipse of that girth and that depth, by the elliptic integral."""
    rng = np.random.default_rng(3)
    for _ in range(20):
        girth, ratio = rng.uniform(150, 450), rng.uniform(0.5, 2.0)
        by = girth / round_an_ellipse(1.0, ratio)
        thing = Limb(
            stations=tuple(LimbStation(at_mm=60.0 * k, girth=read(girth), depth=read(by * ratio)) for k in range(4))
        )
        body = thing.measure().body
        assert body is not None
        assert body.ratio == pytest.approx(ratio, rel=2e-3)  # type: ignore[attr-defined]
