from datetime import date, datetime

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.bodies import knife
from tests.jobs import demo, plain_knife, read, words
from vow_line.core.entry import enter
from vow_line.core.job import change, mend
from vow_line.core.measure import LongBody
from vow_line.core.measure.readings import Reading
from vow_line.core.measure.things.knife import Knife, KnifeStation
from vow_line.core.measure.things.moulded import Moulded, Slice
from vow_line.core.measure.things.tool import Tool
from vow_line.core.plan import plan
from vow_line.core.quantity import Q, Units, write


def test_two_readings_agree_disagree_or_are_missing() -> None:
    def codes(reading: Reading) -> list[str]:
        return [f.code for f in reading.findings("p", "Width", 0.5)]

    assert codes(read(30, 30.4)) == []
    assert codes(read(30, 31)) == ["readings-disagree"]
    assert codes(Reading(first=30)) == ["read-once"]
    assert codes(Reading()) == ["reading-missing"]
    assert read(30, 31).mean_mm == 30.5
    assert read(30, 31).spread_mm == 0.5


def test_the_outline_goes_through_the_readings_and_ends_at_the_tip() -> None:
    body = plain_knife(width=28, long=100).measure().body
    assert body is not None
    at = int(abs(body.x_mm - 40).argmin())
    assert body.edge_mm[at] - body.top_mm[at] == pytest.approx(28, abs=0.2)
    assert tuple(body.outline[len(body.outline) // 2 - 1]) == pytest.approx((100, 0), abs=1e-9)


def test_an_outline_that_crosses_itself_and_a_station_beyond_the_tip_are_held() -> None:
    crossing = plain_knife().model_copy(update={"tip_drop": 0.0, "stations": (
        KnifeStation(at_mm=0, width=read(20), thick=read(3)), KnifeStation(at_mm=50, width=read(0), thick=read(3), drop=25),
        KnifeStation(at_mm=90, width=read(12), thick=read(3)),
    )})  # fmt: skip
    assert "outline-crosses" in {f.code for f in crossing.measure().findings}
    beyond = plain_knife(long=100).model_copy(update={"length": read(50)})
    found = beyond.measure()
    assert found.body is None
    assert "station-beyond-tip" in {f.code for f in found.findings}
    assert found.marks, "there is still something to hang the callouts on"


def test_stations_out_of_order_are_refused() -> None:
    with pytest.raises(ValidationError, match="follow one another"):
        Knife(
            stations=(
                KnifeStation(at_mm=40, width=read(20), thick=read(3)),
                KnifeStation(at_mm=10, width=read(20), thick=read(3)),
            ),
            handle=(KnifeStation(at_mm=1),),
        )


def test_a_reading_older_than_a_year_is_looked_at_again() -> None:
    job = demo("laying-knife")
    assert not [f for f in plan(job).findings if f.code == "reading-old"]
    old = change(job, "thing.stations.2.width.second_taken.on", date(2025, 11, 30))
    found = next(f for f in plan(old).findings if f.code == "reading-old")
    assert found.at == "thing.stations.2.width.first"
    assert "30 November 2025" in found.says.write(Units())
    assert "days old" in found.says.write(Units())
    fresh = change(job, "thing.stations.2.width.second_taken.on", date(2026, 2, 1))
    assert not [f for f in plan(fresh).findings if f.code == "reading-old"]


@pytest.mark.parametrize(
    ("name", "place", "first", "second"),
    [
        ("laying-knife", "thing.stations.3.thick", 3.0, 3.4), ("laying-knife", "thing.stations.3.width", 36.0, 36.3),
        ("secateurs-holster", "thing.stations.1.height", 22.0, 22.3), ("billhook-cover", "thing.depths.2.thick", 5.0, 5.3),
        ("slasher-grip", "thing.stations.1.girth", 108.0, 108.9),
    ],
)  # fmt: skip
def test_how_far_two_readings_lie_apart_is_a_bar_on_the_drawing(
    name: str, place: str, first: float, second: float
) -> None:
    job = change(change(demo(name), f"{place}.first", first), f"{place}.second", second)
    bars = [m for m in plan(job).measured.marks if m.id == place and m.meaning in ("void", "done")]
    assert len(bars) == 1
    high = np.ptp(bars[0].line[:, 1])
    share = {"thick": 0.5, "girth": 1 / (2 * np.pi)}.get(place.rpartition(".")[2], 1.0)
    assert high == pytest.approx(10 * share * (second - first))
    assert (bars[0].meaning == "void") == ("thick" in place or "girth" in place)


def _moulded(read_to_mm: float, long_mm: float = 260.0) -> Moulded:
    stations = tuple(Slice(at_mm=a, width=read(40), height=read(20)) for a in (0.0, read_to_mm / 2, read_to_mm))
    return Moulded(stations=stations, length=read(long_mm))


@pytest.mark.parametrize(
    ("read_to", "level"),
    [(260 * 0.61, None), (260 * 0.59, "look"), (260 * 0.51, "look"), (260 * 0.49, "hold"), (100, "hold")],
)
def test_where_the_readings_end_nothing_is_known_and_that_is_said(read_to: float, level: str | None) -> None:
    thing = _moulded(read_to)
    found = [f for f in thing.measure().findings if f.code == "end-not-read"]
    assert [f.level for f in found] == ([level] if level else [])
    if found:
        assert found[0].mend is not None
        ((path, stations),) = found[0].mend.changes
        assert path == "thing.stations"
        new = next(s for s in stations if not s.width.taken)
        assert read_to < new.at_mm < 260
        whole = (s if s.width.taken else Slice(at_mm=s.at_mm, width=read(40), height=read(20)) for s in stations)
        again = thing.model_copy(update={"stations": tuple(whole)}).measure().findings
        assert "end-not-read" not in {f.code for f in again if f.level == "hold"}, "read there it holds no more"


def test_a_short_thing_may_end_a_little_past_its_last_station() -> None:
    assert "end-not-read" not in {f.code for f in _moulded(22.0, 50.0).measure().findings}


@pytest.mark.parametrize(("read_to", "level"), [(245, None), (235, "look"), (90, "hold")])
def test_a_blade_that_was_not_read_towards_its_point_says_so(read_to: float, level: str | None) -> None:
    knife = plain_knife(30.0, 3.0, 400.0)
    stations = tuple(
        s.model_copy(update={"at_mm": a})
        for s, a in zip(knife.stations, (0.0, read_to / 2, float(read_to)), strict=True)
    )
    found = [f for f in knife.model_copy(update={"stations": stations}).measure().findings if f.code == "end-not-read"]
    assert [f.level for f in found if "point" in words(f.says)] == ([level] if level else [])


@given(st.integers(0, 5000))
def test_the_point_of_a_blade_thins_as_it_narrows_and_never_crosses(seed: int) -> None:
    """One angle of grind to the point: past the last station thickness and width keep their share."""
    rng = np.random.default_rng(seed)
    thing = knife(rng)
    thing = thing.model_copy(update={"tip_drop": round(float(rng.uniform(-12, 60)), 1)})
    measured = thing.measure()
    assert "outline-crosses" not in {f.code for f in measured.findings}
    body, last = measured.body, thing.stations[-1]
    assert isinstance(body, LongBody)
    there = (body.x_mm > last.at_mm) & (body.x_mm < 0.999 * body.length_mm)
    wide = (body.edge_mm - body.top_mm)[there]
    assert (wide > 0).all()
    assert body.thick_mm[-1] == pytest.approx(0, abs=1e-9)
    if thing.bevel is None:
        angle = np.minimum(wide / last.width.mean_mm, 1.0)
        assert body.thick_mm[there] == pytest.approx(last.thick.mean_mm * angle, rel=1e-6)


def test_what_was_not_read_is_drawn_as_assumed() -> None:
    marks = demo("laying-knife").thing.measure().marks
    last = demo("laying-knife").thing.stations[-1].at_mm
    for read_, assumed in (("blade", "point"), ("blade edge-on", "point edge-on")):
        one, other = (next(m for m in marks if m.id == name) for name in (read_, assumed))
        assert (one.meaning, other.meaning) == ("thing", "assumed")
        assert one.line[:, 0].max() == pytest.approx(last) == pytest.approx(other.line[:, 0].min())


@pytest.mark.parametrize(("mm", "level"), [(0.0, "hold"), (2000.0, "look"), (33.0, None)])
def test_a_width_of_nothing_or_of_two_metres_is_said(mm: float, level: str | None) -> None:
    job = change(change(demo("laying-knife"), "thing.stations.1.width.first", mm), "thing.stations.1.width.second", mm)
    odd = [f for f in job.thing.measure().findings if f.code == "reading-odd"]
    assert [f.level for f in odd] == ([level] if level else [])
    if odd:
        assert not [
            f for f in mend(job, odd[0].mend).thing.measure().findings if f.code == "reading-odd" and f.at == odd[0].at
        ]


def test_each_reading_says_how_it_was_taken() -> None:
    place, noon = "thing.stations.1.width", datetime(2027, 1, 4, 12)
    job = enter(demo("laying-knife"), f"{place}.first", 33.1, at=noon, using="caliper", over="the liner", by="Hazel")
    job = enter(job, f"{place}.second", 33.2, at=noon.replace(day=6), using="rule")
    one, other = job.thing.stations[1].width.facts()
    assert (one.on, one.by, one.using, one.over) == (noon.date(), "Hazel", "caliper", "the liner")
    assert (other.on, other.by, other.using, other.over) == (date(2027, 1, 6), job.maker, "rule", "")
    assert enter(job, f"{place}.first", None, at=noon).thing.stations[1].width.facts() == (other,)


def test_stations_that_wait_follow_the_length() -> None:
    job, noon = change(demo("laying-knife"), "thing", Knife.blank()), datetime(2027, 1, 4, 12)
    short = enter(job, "thing.length.first", 65.0, at=noon).thing
    assert [s.at_mm for s in short.stations] == pytest.approx(np.linspace(0, 0.92 * 65, 4), abs=0.06)
    begun = enter(job, "thing.stations.1.width.first", 30.0, at=noon)
    kept = [s.at_mm for s in enter(begun, "thing.length.first", 65.0, at=noon).thing.stations]
    assert kept[:2] == [0.0, 30.0], "what was read stays, and what stands before it"
    assert kept[2:] == pytest.approx([44.9, 59.8], abs=0.06)
    assert enter(begun, "thing.length.first", 120.0, at=noon).thing.stations == begun.thing.stations, (
        "they all lie on it"
    )


def test_readings_can_be_told_apart_in_inches() -> None:
    job = demo("laying-knife")
    callouts = {c.path: c.kind for c in job.thing.measure().callouts}
    one, other = (write(Q(callouts["thing.stations.1.thick"], mm), Units("in")) for mm in (4.3, 4.9))
    assert one != other


def test_a_tool_never_traced_is_held_and_gives_no_body() -> None:
    tool = Tool.blank()
    tool = tool.model_copy(update={"depths": tuple(d.model_copy(update={"thick": read(3.0)}) for d in tool.depths)})
    measured = tool.measure()
    assert measured.body is None
    assert "never-traced" in {f.code for f in measured.findings if f.level == "hold"}
