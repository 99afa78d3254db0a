"""Sheaths, covers and holsters for what does not bend."""

from datetime import date, timedelta

from ...core.draft.kinds.edge_cover import EdgeCover, Straps
from ...core.draft.kinds.folded_sheath import FoldedSheath
from ...core.draft.kinds.pouch import Pouch
from ...core.draft.kinds.scabbard import Frog, Scabbard
from ...core.draft.kinds.shaft_cover import ShaftCover, StopRing
from ...core.draft.kinds.straight_goods import StraightGoods
from ...core.draft.kinds.two_part_sheath import TwoPartSheath
from ...core.draft.loop import BeltLoop
from ...core.job import Job, change
from ...core.measure.readings import Reading
from ...core.measure.things.fitting import Fitting
from ...core.measure.things.knife import Knife, KnifeStation
from ...core.measure.things.moulded import Moulded, Slice
from ...core.measure.things.shaft import GirthStation, Shaft
from ...core.measure.things.tool import Depth, Tool
from ...core.plan import plan
from ...core.quantity import FRENCH_INCH_MM
from ...core.record import Note, RecordEntries, ThreadLeft
from ...core.steps import sew_to, tick, vow
from ...core.stitch import StitchChoices
from ...core.thread import ThreadChoices
from ...core.work import Weighing, WorkChoices
from .bench import BEGUN, BEND, LINEN, SHOULDER, twice

BILLHOOK = (
    (0, 2), (14.4, 1.5), (29.1, 1), (44, 0.5), (59, 0), (74, -0.4), (88.9, -0.7), (103.6, -0.9), (118, -1), (132.1, -0.9),
    (145.8, -0.4), (159.1, 0.6), (171.8, 2.3), (184.1, 4.8), (195.6, 8.4), (206.3, 13.1), (215.9, 19.1), (224.2, 26.3),
    (231, 34.5), (236.1, 43.7), (239.2, 53.6), (240, 64), (235.7, 69), (230.7, 70.9), (225.1, 70.5), (219.1, 68.5),
    (213, 65.5), (206.9, 62.3), (200.6, 59.4), (193.7, 57.5), (186.2, 56.8), (178.1, 57), (169.4, 58.1), (160, 59.7),
    (150.2, 61.7), (140.2, 63.9), (130.1, 66), (120.1, 67.9), (110.2, 69.5), (100.4, 70.9), (90.6, 71.9), (80.9, 72.7),
    (71.3, 73.1), (61.7, 73.2), (52, 73), (44.3, 70.9), (38.9, 64.2), (34.5, 55.2), (30.1, 46.2), (24.6, 38.9),
    (17.8, 33.9), (9.7, 31.6), (0, 32),
)  # fmt: skip


def _stations(*rows: tuple[float, Reading, Reading, float]) -> tuple[KnifeStation, ...]:
    return tuple(KnifeStation(at_mm=a, width=w, thick=t, drop=d) for a, w, t, d in rows)


def laying_knife() -> Job:
    """Being drafted: a straight-backed knife with a belly wider than its neck, welt following it in, so it is tight."""
    thing = Knife(
        name="laying knife",
        stations=_stations(
            (0, twice(33.6, 33.8), twice(3.6), 0), (30, twice(33.0), twice(3.6, 3.5), 0),
            (60, twice(34.4, 34.2), Reading(first=3.4), 0), (90, twice(36.2, 36.4), twice(3.2), 0),
            (115, twice(34.0, 33.8), twice(3.0), 0), (132, twice(28.6, 28.4), twice(2.7), 0.4),
            (146, twice(18.6, 18.8), twice(2.4), 2.6),
        ),
        length=twice(154, 154.4), tip_drop=9.0,
        handle=_stations((6, twice(31.5, 31.4), twice(21.0), 1), (50, twice(35.0, 35.3), twice(25.5, 25.4), 0)),
        handle_length=twice(118, 118.3),
    )  # fmt: skip
    return Job(
        name="Laying knife", maker="Ansel Tarn", whose="Wren Hollin", promised=date(2027, 1, 30), thing=thing,
        leather=SHOULDER,
        piece=FoldedSheath(opened=False, seat_mm=32, mouth="sloped", mouth_depth_mm=6, loop=BeltLoop(belt_mm=38)),
        stitch=StitchChoices(pitch_mm=4.0, tool="iron", teeth=(6, 2, 1)),
        thread=ThreadChoices(thread=LINEN), work=WorkChoices(begins=BEGUN + timedelta(days=7)),
    )  # fmt: skip


def hedging_knife() -> Job:
    """Drafted and read back, standing at the vow with one hold: a width nobody measured."""
    thing = Knife(
        name="hedging knife",
        stations=_stations(
            (0, twice(26.0), twice(4.2), 0), (25, twice(27.2, 27.0), twice(4.1), 0.0),
            (55, Reading(), twice(3.9, 3.8), 0.4), (85, twice(25.2, 25.4), twice(3.4), 2.2),
            (105, twice(17.4, 17.2), twice(3.0), 6.0),
        ),
        length=twice(124, 124.2), tip_drop=14.0,
        handle=_stations((5, twice(27.5), twice(19.0), 0), (60, twice(31.0, 31.2), twice(22.5), -1)),
        handle_length=twice(110),
    )  # fmt: skip
    return Job(
        name="Hedging knife", maker="Ansel Tarn", whose="Perrin Oake", promised=date(2027, 2, 6), unit="in",
        thing=thing, leather=SHOULDER, piece=FoldedSheath(seat_mm=28, mouth="scooped", drain_mm=4, clearance_mm=1.2),
        stitch=StitchChoices(pitch_mm=FRENCH_INCH_MM / 7, tool="wheel"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=12)),
    )  # fmt: skip


def spar_knife() -> Job:
    """Vowed, cut, formed and half sewn."""
    thing = Knife(
        name="spar knife",
        stations=_stations(
            (0, twice(24.0, 24.2), twice(3.0), 0), (30, twice(24.2), twice(3.0, 2.9), 0.2),
            (60, twice(23.0, 22.8), twice(2.8), 1.0), (85, twice(18.4, 18.6), twice(2.4), 3.2),
        ),
        length=twice(106, 105.8), tip_drop=12.5,
        handle=_stations((5, twice(25.0), twice(18.0), -0.5), (50, twice(28.0, 28.2), twice(21.0, 21.1), -1)),
        handle_length=twice(104),
    )  # fmt: skip
    job = Job(
        name="Spar knife", maker="Ansel Tarn", whose="Wren Hollin", promised=date(2027, 1, 16), thing=thing,
        leather=BEND, piece=FoldedSheath(welt_mm=2.6, formed=True, seat_mm=34, margin_mm=3.2, edge_to_thread_mm=4.8),
        stitch=StitchChoices(pitch_mm=3.38, tool="iron", teeth=(8, 4, 2)),
        thread=ThreadChoices(thread=LINEN.model_copy(update={"diameter_mm": 0.6}), start="third-hole"),
        work=WorkChoices(
            begins=BEGUN, dry_grams=62.0,
            weighings=(
                Weighing(minutes=0, grams=86.5), Weighing(minutes=150, grams=78.9), Weighing(minutes=420, grams=70.6),
                Weighing(minutes=690, grams=66.4),
            ),
        ),
    )  # fmt: skip
    job = vow(job, at=BEGUN)
    work = plan(job).work
    assert work is not None
    clock = BEGUN
    for step in work.steps:
        if step.id == "sew/main-seam":
            break
        clock += timedelta(minutes=step.minutes + 4)
        job = tick(job, step=step.id, at=clock, minutes=float(round(step.minutes * 1.1)))
    return sew_to(job, seam="main-seam", passes=36)


def grafting_knife() -> Job:
    """Done, and recorded: what was left of the thread teaches the next job's slack."""
    thing = Knife(
        name="grafting knife",
        stations=_stations(
            (0, twice(17.0), twice(2.2), 0), (25, twice(16.8, 16.9), twice(2.1), 0),
            (50, twice(15.2, 15.3), twice(1.9), 0),
        ),
        length=twice(68, 68.1), tip_drop=0.5,
        handle=_stations((4, twice(18.5), twice(14.0), -1), (40, twice(21.0), twice(16.2, 16.1), -1.5)),
        handle_length=twice(96),
    )  # fmt: skip
    job = Job(
        name="Grafting knife", maker="Ansel Tarn", whose="Linnet Marl", promised=date(2026, 12, 19), thing=thing,
        leather=BEND, piece=FoldedSheath(welt_mm=2.6, seat_mm=26, margin_mm=3.0, edge_to_thread_mm=4.5, loop=None),
        stitch=StitchChoices(pitch_mm=3.0, tool="awl"),
        thread=ThreadChoices(thread=LINEN.model_copy(update={"diameter_mm": 0.5})),
        work=WorkChoices(begins=BEGUN - timedelta(days=23)),
    )  # fmt: skip
    job = vow(job, at=BEGUN - timedelta(days=24))
    planned = plan(job)
    assert planned.work is not None
    assert planned.threading is not None
    clock = BEGUN - timedelta(days=23)
    for step in planned.work.steps:
        clock += timedelta(minutes=step.minutes + 3)
        slip = "a tooth too far at the toe; hidden under the finish" if step.id == "holes/main-seam" else ""
        job = tick(job, step=step.id, at=clock, minutes=float(round(step.minutes * 1.2)), slip=slip)
    main = planned.threading.seam("main-seam")
    job = sew_to(job, seam="main-seam", passes=len([m for m in main.moves if m.act == "pass"]))
    cut = round(main.total_mm, -1) + 10
    left = ThreadLeft(seam="main-seam", cut_mm=cut, left_mm=round(cut - main.path_mm * 1.062))
    entries = RecordEntries(
        thread_left=(left,), notes=(Note(about="fit", says="firm; holds upside down, comes out with one pull"),),
        closed=True,
    )  # fmt: skip
    return change(job, "record", entries)


def slasher_grip() -> Job:
    """Drafted: a grip on a slasher's shaft, its edges drawn together, with a ring so that the hand does not slide off."""
    thing = Shaft(
        name="slasher's shaft",
        stations=(
            GirthStation(at_mm=10, girth=twice(112.0, 112.3)), GirthStation(at_mm=90, girth=twice(108.5, 108.2)),
            GirthStation(at_mm=180, girth=twice(106.0)), GirthStation(at_mm=250, girth=twice(105.2, 105.0)),
        ),
    )  # fmt: skip
    return Job(
        name="Slasher grip", maker="Ansel Tarn", whose="Perrin Oake", promised=date(2027, 2, 13), thing=thing,
        leather=SHOULDER.model_copy(update={"thickness_mm": 2.2, "name": "veg-tan belly, split"}),
        piece=ShaftCover(length_mm=220, start_mm=14, ring=StopRing(at_mm=212)),
        stitch=StitchChoices(pitch_mm=6.0, tool="awl"),
        thread=ThreadChoices(thread=LINEN.model_copy(update={"diameter_mm": 1.0})),
        work=WorkChoices(begins=BEGUN + timedelta(days=20)),
    )  # fmt: skip


def key_fob() -> Job:
    """Cut, and to be sewn: a fob for the key of the tool shed."""
    thing = Fitting(name="key ring", opening=twice(25.0), bar=twice(3.2))
    job = Job(
        name="Key fob for the tool shed", maker="Ansel Tarn", whose="the gang", promised=date(2027, 1, 9), thing=thing,
        leather=BEND, piece=StraightGoods(width_mm=23.0, length_mm=85.0),
        stitch=StitchChoices(pitch_mm=3.38, tool="iron", teeth=(8, 4, 2), remainder="spread"),
        thread=ThreadChoices(thread=LINEN.model_copy(update={"diameter_mm": 0.6})), work=WorkChoices(begins=BEGUN),
    )  # fmt: skip
    job = vow(job, at=BEGUN)
    return tick(job, step="cut/strip", at=BEGUN + timedelta(minutes=4), minutes=4.0)


def billhook_cover() -> Job:
    """Being drafted: a cover for a hooked edge, traced in pencil, that goes on sideways."""
    thing = Tool(
        name="billhook", outline=BILLHOOK, drawn_with="pencil", edge_from=(238, 66), edge_to=(52, 73),
        across=twice(246.6, 246.9),
        depths=(
            Depth(at_mm=3, thick=twice(1.1)), Depth(at_mm=12, thick=twice(3.2, 3.1)), Depth(at_mm=30, thick=twice(5.0)),
            Depth(at_mm=55, thick=twice(6.2, 6.1)),
        ),
    )  # fmt: skip
    return Job(
        name="Billhook cover", maker="Ansel Tarn", whose="Linnet Marl", promised=date(2027, 2, 20), thing=thing,
        leather=SHOULDER, piece=EdgeCover(depth_mm=30, straps=Straps(count=2)),
        stitch=StitchChoices(pitch_mm=5.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=26)),
    )  # fmt: skip


def secateurs_holster() -> Job:
    """Being stitched: a holster worked down wet over a pair of secateurs."""
    rows = (
        (0, 44.0, 20.0, 6.0),
        (55, 50.0, 22.5, 3.0),
        (105, 56.0, 25.0, 0.0),
        (140, 49.0, 18.0, 3.0),
        (180, 27.0, 12.0, 13.0),
    )
    thing = Moulded(
        name="secateurs", section="ellipse", length=twice(206, 206.4),
        stations=tuple(
            Slice(at_mm=at, width=twice(wide, wide + 0.2), height=twice(high), drop=drop) for at, wide, high, drop in rows
        ),
    )  # fmt: skip
    return Job(
        name="Secateurs holster", maker="Ansel Tarn", whose="Linnet Marl", promised=date(2027, 2, 27), thing=thing,
        leather=BEND.model_copy(update={"thickness_mm": 2.8}),
        piece=Pouch(goes_in_mm=118, welts=1, welt_mm=3.0, worked_mm=14, loop=BeltLoop(belt_mm=38, width_mm=26)),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=33)),
    )  # fmt: skip


def whetstone_case() -> Job:
    """Read back and waiting for the vow: a case in wood and leather for a whetstone."""
    thing = Moulded(
        name="whetstone", section="slab", length=twice(180.0),
        stations=tuple(Slice(at_mm=at, width=twice(38.0, 38.1), height=twice(20.0)) for at in (5.0, 90.0, 175.0)),
    )  # fmt: skip
    return Job(
        name="Whetstone case", maker="Ansel Tarn", whose="the gang", promised=date(2027, 3, 6), thing=thing,
        leather=SHOULDER.model_copy(update={"thickness_mm": 2.0, "name": "veg-tan side, light"}),
        piece=Scabbard(goes_in_mm=150.0, frog=Frog(belt_mm=45)),
        stitch=StitchChoices(pitch_mm=5.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=40)),
    )  # fmt: skip


def turf_knife() -> Job:
    """Being drafted: a blade with two edges, for which leather cannot be folded at a spine."""
    thing = Knife(
        name="turf knife", edges="two",
        stations=_stations(
            (0, twice(38.0, 38.2), twice(4.6), 0), (50, twice(42.0), twice(4.4), -2.0),
            (100, twice(44.4, 44.2), twice(4.0, 3.9), -3.1), (140, twice(36.0, 36.2), twice(3.4), 1.0),
            (165, twice(20.6), twice(2.8), 8.7),
        ),
        length=twice(182, 182.2), tip_drop=19.0,
        handle=_stations((6, twice(30.0), twice(24.0), 4), (60, twice(33.0, 33.2), twice(27.0), 2.5)),
        handle_length=twice(132),
    )  # fmt: skip
    return Job(
        name="Turf knife", maker="Ansel Tarn", whose="Perrin Oake", promised=date(2027, 3, 13), thing=thing,
        leather=SHOULDER, piece=TwoPartSheath(seat_mm=24, loop=BeltLoop(belt_mm=45)),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=47)),
    )  # fmt: skip
