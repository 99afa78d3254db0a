"""Jobs to test with: the demo's, and generated ones that validate but may be as odd as a job can be."""

from functools import cache

from hypothesis import strategies as st

from vow_line.core.draft.kinds.folded_sheath import BeltLoop, FoldedSheath, Relief
from vow_line.core.job import Job
from vow_line.core.measure.readings import Reading
from vow_line.core.measure.things.knife import Guard, Knife, Station
from vow_line.core.stitch import StitchChoices
from vow_line.core.thread import Thread, ThreadChoices
from vow_line.resources.demo import demo_jobs


@cache
def demo(name: str) -> Job:
    return demo_jobs()[name]


def read(first: float, second: float | None = None) -> Reading:
    return Reading(first=first, second=first if second is None else second)


def plain_knife(width: float = 30.0, thick: float = 3.0, long: float = 120.0) -> Knife:
    """A blade of one width and thickness nearly to its tip, a plain handle."""
    return Knife(
        stations=tuple(Station(at_mm=a, width=read(width), thick=read(thick)) for a in (0.0, long * 0.4, long * 0.7)),
        length=read(long),
        handle=(
            Station(at_mm=5, width=read(width), thick=read(18)),
            Station(at_mm=60, width=read(width), thick=read(18)),
        ),
        handle_length=read(100),
    )


def plain_job(**choices: object) -> Job:
    return Job(name="plain", thing=plain_knife(), piece=FoldedSheath(**choices))


def _floats(low: float, high: float) -> st.SearchStrategy[float]:
    return st.floats(low, high, allow_nan=False).map(lambda x: round(x, 2))


readings = st.one_of(
    st.builds(Reading, first=st.one_of(st.none(), _floats(0, 300)), second=st.one_of(st.none(), _floats(0, 300))),
    _floats(1, 60).map(read),
)


@st.composite
def _stations(draw: st.DrawFn, low: int = 1) -> tuple[Station, ...]:
    gaps = draw(st.lists(_floats(0.6, 60), min_size=low, max_size=6))
    at, found = 0.0, []
    for gap in gaps:
        at = round(at + gap, 2)
        found.append(
            Station(
                at_mm=at,
                width=draw(readings),
                thick=draw(readings),
                drop=draw(st.one_of(st.just(0.0), _floats(-20, 20))),
            )
        )
    return tuple(found)


knives = st.builds(
    Knife,
    stations=_stations(),
    length=st.one_of(readings, _floats(60, 400).map(read)),
    tip_drop=_floats(-30, 60),
    bevel=st.one_of(st.none(), _floats(0, 80)),
    handle=_stations(),
    handle_length=readings,
    guard=st.one_of(st.none(), st.builds(Guard, length_mm=_floats(1, 20), width=readings, thick=readings)),
)

sheaths = st.builds(
    FoldedSheath,
    welt_mm=_floats(0.1, 15),
    clearance_mm=_floats(0, 30),
    edge_to_thread_mm=_floats(0.1, 60),
    margin_mm=_floats(0.1, 60),
    skive_mm=_floats(0.1, 200),
    seat_mm=_floats(0, 300),
    mouth_ease_mm=_floats(-20, 40),
    mouth=st.sampled_from(["straight", "sloped", "scooped"]),
    mouth_depth_mm=_floats(0, 60),
    drain_mm=_floats(0, 10),
    opened=st.booleans(),
    formed=st.booleans(),
    worn=st.sampled_from(["left", "right"]),
    loop=st.one_of(st.none(), st.builds(BeltLoop, width_mm=_floats(0.5, 200), box_mm=_floats(0.5, 200))),
    relief=st.lists(
        st.builds(Relief, from_mm=_floats(-50, 50), to_mm=_floats(50, 200), by_mm=_floats(0.1, 20)), max_size=2
    ).map(tuple),
)

stitchings = st.builds(
    StitchChoices,
    pitch_mm=_floats(1, 20),
    tool=st.sampled_from(["iron", "wheel", "awl"]),
    teeth=st.lists(st.integers(1, 20), min_size=1, max_size=4).map(tuple),
    start_in_mm=_floats(0, 50),
    end_in_mm=_floats(0, 50),
    remainder=st.sampled_from(["end", "spread"]),
)

threadings = st.builds(
    ThreadChoices,
    thread=st.builds(Thread, diameter_mm=_floats(0.05, 4), left_mm=_floats(0, 100_000)),
    needle_mm=_floats(1, 300),
    start=st.sampled_from(["first hole", "third hole"]),
    edge_loops=st.integers(0, 4),
    back_stitches=st.integers(0, 10),
    first_needle=st.sampled_from(["left", "right"]),
    reach_mm=_floats(200, 5000),
)

any_job = st.builds(
    Job, name=st.just("any"), thing=knives, piece=sheaths, stitch=stitchings, thread=threadings,
    unit=st.sampled_from(["mm", "in"]),
)  # fmt: skip
