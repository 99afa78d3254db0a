import time

import pytest

from vow_line.instruments.caliper import Caliper, Heard, LostCaliper, StandIn, Unit, heard


@pytest.mark.parametrize(
    ("line", "mm"),
    [(b"  31.42 mm\r", 31.42), (b"+1.2370 in", 31.4198), (b"0,50mm", 0.5), (b'12 "', 304.8),
     (b"01A+00031.42 mm", 31.42), (b"\x0231.42mm\x03\r", 31.42),
     (b" + 31.42   mm ", 31.42), (b"00031.42 mm", 31.42), (b"1.23705 in", 31.42107),
     (b"+000012.340 mm", 12.34), (b".4858 in", 12.33932), (b"12. mm", 12.0), (b"1 3/16 in", 30.1625), (b"1-3/16\"", 30.1625),
     (b"3/16", 4.7625), (b"1.2340E+01 mm", 12.34), (b"1.2340e-1 in", 3.13436), (b"12,5e0 mm", 12.5)],
)  # fmt: skip
def test_readings_in_either_unit(line: bytes, mm: float) -> None:
    assert heard(line).mm == pytest.approx(mm)


@pytest.mark.parametrize(("bare", "mm"), [("sent", None), ("mm", 1.25), ("in", 31.75)])
def test_a_reading_without_a_unit_is_what_it_was_said_to_be(bare: Unit, mm: float | None) -> None:
    assert heard(b"\x0201A+00001.25\x03", bare).mm == mm
    assert heard(b"2 mm", bare).mm == 2.0, "one that says its unit is in that"


@pytest.mark.parametrize(
    ("line", "says"),
    [(b"31.42", "without a unit"), (b"BAT LOW", "battery"), (b"\xff\x00??", "no reading"), (b"-3.0 mm", "Zero it"),
     (b"9999 in", "Zero it"), (b"12 34 mm", "no reading"), (b"slow", "no reading"), (b"follow", "no reading"),
     (b"LO BATT", "battery"), (b"low", "battery"), (b"1/0 in", "no reading"), (b". mm", "no reading"), (b"E5 mm", "no reading"),
     (b"1 2 3/16 in", "no reading"), (b"-1/8 in", "Zero it"), (b"1e30 mm", "Zero it")],
)  # fmt: skip
def test_what_is_no_reading_is_said(line: bytes, says: str) -> None:
    told = heard(line)
    assert told.mm is None
    assert says in told.says


def _wait(caliper: Caliper, n: int) -> list[Heard]:
    found: list[Heard] = []
    for _ in range(200):
        found += caliper.heard()
        if len(found) >= n:
            return found
        time.sleep(0.005)
    raise AssertionError(found)


def test_the_stand_in_is_heard_over_its_line_half_lines_and_all() -> None:
    stand_in = StandIn()
    caliper = Caliper(stand_in.port)
    stand_in.press(25.0, noise_mm=0.03)
    stand_in.press(1.5, "in")
    stand_in.send(b"  1")
    assert [h.mm for h in _wait(caliper, 2)] == [pytest.approx(25.0, abs=0.04), pytest.approx(38.1)]
    stand_in.send(b"2.50 mm\r\n\r\nbattery low\r\n")
    last, battery = _wait(caliper, 2)
    assert last.mm == 12.5
    assert "battery" in battery.says
    stand_in.unplug()
    with pytest.raises(LostCaliper, match="unplugged"):
        _wait(caliper, 1)


def test_a_port_with_nothing_on_it() -> None:
    with pytest.raises(LostCaliper, match="Nothing answers"):
        Caliper("/dev/no-such-port")
