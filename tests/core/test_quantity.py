import re
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vow_line.core.errors import UnreadableQuantity
from vow_line.core.quantity import Q, Units, write
from vow_line.core.reckoning import length
from vow_line.core.typed import lea_tex, read, read_leather, read_leather_range, read_length, read_pitch

MM, IN = Units("mm"), Units("in", 16)


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("3 5/8", 92.075), ('3-5/8"', 92.075), ("3 5/8 in", 92.075), ("12⅜ ″", 314.325), ("1' 2 1/2\"", 368.3),
        ("30,5", 774.7), ("92mm", 92.0), ("31,5 mm", 31.5), ("9.2 cm", 92.0), ("1.2m", 1200.0), ("½ in", 12.7), (".5 in", 12.7),
    ],
)  # fmt: skip
def test_lengths_as_makers_write_them(text: str, mm: float) -> None:
    assert read_length(text, IN) == pytest.approx(mm, abs=1e-12)


def test_a_bare_number_takes_the_units_of_the_job() -> None:
    assert read_length("10", MM) == 10
    assert read_length("10", IN) == 254


@pytest.mark.parametrize(
    ("text", "part"),
    [
        ("3 5/8 on", "'on'"),
        ("", "no length"),
        ("12 oz", "oz"),
        ("5 5 mm", "'5 5 mm'"),
        ("1/0", "zero"),
        ("3 5/x", "'/x'"),
        ("abc", "'abc'"),
    ],
)
def test_what_cannot_be_read_is_named(text: str, part: str) -> None:
    with pytest.raises(UnreadableQuantity, match=re.escape(part)) as caught:
        read_length(text, MM)
    assert caught.value.mend


def test_leather_by_ounces_and_ranges() -> None:
    assert read_leather_range("7-8 oz", MM) == pytest.approx((7 * 25.4 / 64, 8 * 25.4 / 64))
    assert read_leather("7-8 oz", MM) == pytest.approx(7.5 * 25.4 / 64)
    assert read_leather("3.2", MM) == pytest.approx(3.2)


def test_an_iron_number_without_its_system_is_refused_with_both_meanings() -> None:
    with pytest.raises(UnreadableQuantity, match=r"3\.87 mm by the French inch and 3\.63 mm by the inch"):
        read_pitch("no. 7", MM)
    assert read_pitch("no 8 french", MM) == pytest.approx(3.38, abs=0.005)
    assert read_pitch("6 spi", MM) == pytest.approx(25.4 / 6)


@given(st.integers(-20_000, 20_000))
def test_millimetres_come_back_as_written(tenths: int) -> None:
    value = tenths / 10
    assert read_length(write(Q("length", value), MM), MM) == pytest.approx(value, abs=1e-9)


@given(st.integers(-5000, 5000), st.sampled_from([16, 32]))
def test_inch_fractions_come_back_as_written(parts: int, fraction: int) -> None:
    units = Units("in", 32 if fraction == 32 else 16)
    value = parts * 25.4 / fraction
    assert read_length(write(Q("length", value), units), units) == pytest.approx(value, abs=1e-9)


@given(
    st.floats(0.01, 3000, allow_nan=False),
    st.sampled_from(["length", "fine", "leather", "percent", "minutes", "grams"]),
)
def test_writing_what_was_read_changes_nothing(value: float, kind: str) -> None:
    for units in (MM, IN, Units("in", 32, "oz")):
        once = write(Q(kind, value), units)  # type: ignore[arg-type]
        if kind == "minutes" and value >= 60:
            continue  # hours are for reading only
        assert write(Q(kind, read(kind, once, units)), units) == once  # type: ignore[arg-type]


def test_linen_counts() -> None:
    assert lea_tex(18, 3) == pytest.approx(275.6, abs=0.05)


def test_a_cancelled_value_is_not_minus_nothing() -> None:
    assert write(Q("length", -0.01), MM) == "0 mm"
    assert write(Q("length", -0.01), IN) == "0 in"


@pytest.mark.parametrize(("text", "mm"), [("0.8 mm", 0.8), ("1/32 in", 0.79375), ("270 tex", 0.6), ("tex 135", 0.425)])
def test_thread_by_its_thickness_or_its_weight(text: str, mm: float) -> None:
    assert read("thread", text, Units()) == pytest.approx(mm, abs=0.003)


def test_linen_by_lea_and_plies_is_the_tex_of_it() -> None:
    """18/4 lea is four plies of 1653.5/18 tex (ISO 1144 for tex; the lea from memory)."""
    assert read("thread", "18/4 lea", Units()) == pytest.approx(
        read("thread", f"{4 * 1653.5 / 18} tex", Units()), rel=1e-3
    )
    assert read("thread", "18/4 lea", Units()) > read("thread", "18/3 lea", Units())
    for bad in ("0 tex", "18/0 lea", "thick"):
        with pytest.raises(UnreadableQuantity):
            read("thread", bad, Units())


@pytest.mark.parametrize(
    ("minutes", "says"),
    [(59, "59 min"), (60, "1 h"), (90, "1.5 h"), (47 * 60, "47 h"), (48 * 60, "2 days"), (72 * 60, "3 days")],
)
def test_times_are_told_in_the_unit_a_maker_would_use(minutes: float, says: str) -> None:
    assert write(Q("minutes", minutes), Units()) == says


def test_a_bare_number_beside_another_takes_its_unit() -> None:
    assert write(Q("long", 250.0), Units(), unit=False, like=Q("long", 3000.0)) == "0.25"
    assert write(Q("long", 2500.0), Units(), unit=False, like=Q("long", 300.0)) == "250"
    assert write(Q("minutes", 30.0), Units(), unit=False, like=Q("minutes", 120.0)) == "0.5"


@given(st.integers(1, 64 * 40), st.sampled_from([16, 32, 64]), st.sampled_from([16, 32]))
def test_a_fraction_that_was_typed_comes_back_as_it_was_typed(parts: int, of: int, wanted: int) -> None:
    """5/32 is 5/32 where sixteenths are wanted too, whatever was typed in its lowest terms; what was reckoned is rounded."""
    units = Units("in", wanted)  # type: ignore[arg-type]
    whole, part = divmod(parts, of)
    typed = " ".join(str(x) for x in (whole, Fraction(part, of)) if x) + " in"
    assert write(length(read_length(typed, units)), units) == typed
    reckoned = parts * 25.4 / of + 0.0301
    assert write(length(reckoned), units).count("/") <= 1
    low = re.search(r"/(\d+)", write(length(reckoned), units))
    assert low is None or int(low[1]) <= wanted
