"""Holes too near to what lies about them are found; those that are not are left alone."""

import numpy as np
import pytest

from tests.plates import plate, sewn
from vow_line.core.curve import frozen
from vow_line.core.draft import Draft
from vow_line.core.draft.pieces import Punch
from vow_line.core.finding import Finding
from vow_line.core.proof import prove
from vow_line.core.stitch import StitchChoices, stitch

OBLONG = [[0, 0], [100, 0], [100, 60], [0, 60]]


def _found(draft: Draft, **choices: object) -> list[Finding]:
    stitching = stitch(draft, StitchChoices(tool="awl", **choices))  # type: ignore[arg-type]
    return list(prove(draft.assembly, stitching.seams, None).findings)


@pytest.mark.parametrize(
    ("line", "more", "code", "least"),
    [
        ([[0, 3.0 / 1.2], [100, 3.0 / 1.2]], {}, "hole-near-edge", "look"),
        ([[0, -2.0], [100, -2.0]], {}, "hole-near-edge", "hold"),
        ([[0, 30 + 3.0 / 1.2], [100, 30 + 3.0 / 1.2]], {"folds": (frozen([[0, 30], [100, 30]]),)}, "hole-near-fold", "look"),
        ([[0, 20], [100, 20]], {"punches": (Punch("stud", "stud hole", (51.0, 20 + 1.5 + 3.0 / 1.2), 3.0),)},
         "hole-near-fastener", "look"),
        ([[0, 16], [100, 16]], {"slots": (frozen([[20, 18 - 0.4], [80, 18 - 0.4], [80, 24], [20, 24]]),)},
         "hole-near-fastener", "look"),
    ],
)  # fmt: skip
def test_a_hole_too_near_is_found_at_a_fifth_under_the_limit(
    line: list[list[float]], more: dict[str, object], code: str, least: str
) -> None:
    slots = more.pop("slots", ())
    near = plate(OBLONG, **more).with_slots(slots) if slots else plate(OBLONG, **more)
    found = [f for f in _found(sewn(near, line)) if f.code == code]
    assert [f.level for f in found] == [least]
    assert not [f for f in _found(sewn(near, [[0, 10], [100, 10]])) if f.code == code]


@pytest.mark.parametrize(("off", "there"), [(2.4 / 1.2, True), (2.4 + 0.2, False)])
def test_two_seams_keep_two_diameters_apart(off: float, there: bool) -> None:
    both = sewn(plate(OBLONG), [[0, 10], [100, 10]], [[0, 10 + off], [100, 10 + off]])
    assert ("seams-near" in {f.code for f in _found(both, start_in_mm=2, end_in_mm=2)}) is there


@pytest.mark.parametrize(("apart", "there"), [(2.0 / 1.2, True), (2.3, False)])
def test_holes_of_one_seam_keep_half_a_stitch_apart(apart: float, there: bool) -> None:
    """A line that turns back on itself brings holes together that do not follow each other."""
    bent = sewn(plate(OBLONG), [[10, 10], [50, 10], [50, 10 + apart], [10, 10 + apart]])
    codes = {f.code for f in _found(bent, pitch_mm=4.0, start_in_mm=0, end_in_mm=0)}
    assert ("holes-near" in codes) is there


def test_a_slot_near_the_cut_is_pointed_out() -> None:
    for high, there in ((10 / 1.2, True), (10.2, False)):
        slot = frozen([[20, high], [80, high], [80, high + 5], [20, high + 5]])
        codes = {f.code for f in _found(sewn(plate(OBLONG).with_slots((slot,)), [[0, 40], [100, 40]]))}
        assert ("slot-near-edge" in codes) is there


def test_the_hole_named_is_the_hole_that_lies_there() -> None:
    draft = sewn(plate(OBLONG, punches=(Punch("stud", "stud hole", (51.0, 22.5), 3.0),)), [[0, 20], [100, 20]])
    stitching = stitch(draft, StitchChoices(tool="awl"))
    (found,) = (f for f in prove(draft.assembly, stitching.seams, None).findings if f.code == "hole-near-fastener")
    hole = int(dict(found.says.values)["k"].value) - 1
    assert np.hypot(*(stitching.seams[0].points - [51.0, 22.5]).T).argmin() == hole
