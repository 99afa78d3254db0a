"""Hours and rows of lengths, written and read back."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vow_line.core.errors import UnreadableQuantity
from vow_line.core.quantity import Units
from vow_line.core.typed import read_rings, read_rows, write_rings, write_rows
from vow_line.core.work.choices import Sitting
from vow_line.core.work.hours import hours_of, with_hours

sittings = st.lists(
    st.builds(Sitting, weekday=st.integers(0, 6), begins_min=st.integers(0, 1439), minutes=st.integers(1, 1439)),
    max_size=6,
).map(tuple)


@given(sittings, st.integers(0, 6))
def test_hours_come_back_as_they_were_written(week: tuple[Sitting, ...], day: int) -> None:
    again = with_hours(week, day, hours_of(week, day))
    key = lambda s: (s.weekday, s.begins_min, s.minutes)  # noqa: E731
    assert sorted(again, key=key) == sorted(week, key=key)
    assert not [s for s in with_hours(week, day, "") if s.weekday == day]


@pytest.mark.parametrize("text", ["19", "19:00", "25-26", "7-7", "evening", "19:00-21:00; 9-12", "19:75-20"])
def test_what_is_no_hours_is_refused_with_what_was_typed(text: str) -> None:
    with pytest.raises(UnreadableQuantity, match="19:00-21:00, 9-12"):
        with_hours((), 0, text)


point = st.tuples(st.floats(-500, 2000), st.floats(-500, 2000))


@given(st.lists(st.lists(point, min_size=3, max_size=5), max_size=4), st.sampled_from(["mm", "in"]))
def test_rings_come_back_to_what_was_shown_of_them(rings: list[list[tuple[float, float]]], unit: str) -> None:
    units = Units(length=unit)  # type: ignore[arg-type]
    again = read_rings(write_rings(tuple(tuple(r) for r in rings), units), units)
    assert [len(r) for r in again] == [len(r) for r in rings]
    for ring, was in zip(again, rings, strict=True):
        for got, told in zip(ring, was, strict=True):
            assert got == pytest.approx(told, abs=0.006 if unit == "mm" else 0.0005 * 25.4 + 1e-6)


def test_a_row_with_a_number_too_few_is_named() -> None:
    assert read_rows("1; 2\n\n 3 cm; 4", 2, Units()) == ((1, 2), (30, 4))
    assert read_rows(write_rows(((1.5, -2.25, 3.0),), Units()), 3, Units()) == ((1.5, -2.25, 3.0),)
    with pytest.raises(UnreadableQuantity, match="Line 3 has 1"):
        read_rows("1; 2\n3; 4\n5", 2, Units())
