"""The demo: a hedge-laying gang on Withy Common refits its kit in winter. All people, places, dates, measurements and
prices are invented.
"""

import math
from datetime import date, datetime, timedelta
from itertools import pairwise

from ..core.curve import frozen
from ..core.draft.kind import KindOfPiece
from ..core.draft.kinds.buckle_strap import BuckleStrap
from ..core.draft.kinds.edge_cover import EdgeCover, Straps
from ..core.draft.kinds.flap_pouch import FlapPouch
from ..core.draft.kinds.folded_sheath import FoldedSheath
from ..core.draft.kinds.limb_wrap import LimbWrap, Tongue
from ..core.draft.kinds.limb_wrap.closures.buckled import Buckled
from ..core.draft.kinds.limb_wrap.closures.laced import Laced
from ..core.draft.kinds.limb_wrap.fold import FoldOver
from ..core.draft.kinds.needle_case import NeedleCase
from ..core.draft.kinds.panelled import Meet, Panelled
from ..core.draft.kinds.pouch import Pouch
from ..core.draft.kinds.scabbard import Frog, Scabbard
from ..core.draft.kinds.shaft_cover import ShaftCover, StopRing
from ..core.draft.kinds.straight_goods import StraightGoods
from ..core.draft.kinds.strap import Pad, Strap
from ..core.draft.kinds.tool_roll import ToolRoll
from ..core.draft.kinds.tube import Lid, Tube
from ..core.draft.kinds.two_part_sheath import TwoPartSheath
from ..core.draft.loop import BeltLoop
from ..core.draft.repeat import Makes
from ..core.job import Job, change, sew_to, tick, vow
from ..core.leather import Hide
from ..core.measure import Thing
from ..core.measure.panel_set import Corner, LevelOn, Panel, PanelLevel
from ..core.measure.readings import Reading
from ..core.measure.things.box import Box
from ..core.measure.things.fitting import Fitting
from ..core.measure.things.girth import Girth
from ..core.measure.things.hand import Hand
from ..core.measure.things.knife import Knife, KnifeStation
from ..core.measure.things.limb import Limb, LimbStation
from ..core.measure.things.moulded import Moulded, Slice
from ..core.measure.things.old_piece import OldPiece
from ..core.measure.things.panels import Panels
from ..core.measure.things.round import RoundThing
from ..core.measure.things.shaft import GirthStation, Shaft
from ..core.measure.things.tool import Depth, Tool
from ..core.measure.things.tools import RollTool, Tools
from ..core.plan import plan
from ..core.quantity import FRENCH_INCH_MM
from ..core.record import Note, RecordEntries, ThreadLeft
from ..core.stitch import StitchChoices
from ..core.thread import Thread, ThreadChoices
from ..core.work import Weighing, WorkChoices

BEGUN = datetime(2027, 1, 5, 19, 0)

SHOULDER = Hide(
    name="veg-tan shoulder offcut", thickness_mm=3.2, price_dm2=1.15,
    outline=(
        (0, 22), (70, 0), (190, 8), (330, 0), (430, 18), (447, 90), (432, 170), (451, 236), (420, 301), (300, 290),
        (170, 306), (60, 297), (8, 262), (-6, 150),
    ),
    flaws=(((352, 205), (378, 196), (389, 214), (371, 231), (350, 223)), ((408, 60), (424, 52), (430, 74), (414, 83))),
)  # fmt: skip
STRAP_BUTT = Hide(
    name="veg-tan strap butt", thickness_mm=3.2, price_dm2=1.3,
    outline=((0, 0), (420, -6), (900, 0), (1240, 12), (1262, 120), (1250, 262), (880, 270), (400, 276), (10, 262), (-8, 130)),
    flaws=(((806, 196), (834, 190), (842, 214), (818, 222)),),
)  # fmt: skip
SIDE = Hide(
    name="oil-tanned side", tannage="oil", thickness_mm=2.2, price_dm2=1.0,
    outline=((0, 30), (220, 0), (560, 12), (900, 40), (930, 300), (890, 560), (520, 590), (180, 570), (12, 500), (-14, 250)),
    flaws=(((640, 420), (676, 410), (684, 440), (652, 448)),),
)  # fmt: skip
BEND = SHOULDER.model_copy(update={"name": "veg-tan bend, second grade", "thickness_mm": 2.6})
LINEN = Thread(
    name="dark linen", colour="dark brown", sold_as="18/4 lea", material="linen", diameter_mm=0.8, left_mm=42_000
)


def _twice(first: float, second: float | None = None) -> Reading:
    return Reading(first=first, second=first if second is None else second)


def _stations(*rows: tuple[float, Reading, Reading, float]) -> tuple[KnifeStation, ...]:
    return tuple(KnifeStation(at_mm=a, width=w, thick=t, drop=d) for a, w, t, d in rows)


def laying_knife() -> Job:
    """Being drafted: a straight-backed knife with a belly wider than its neck, welt following it in, so it is tight."""
    thing = Knife(
        name="laying knife",
        stations=_stations(
            (0, _twice(33.6, 33.8), _twice(3.6), 0), (30, _twice(33.0), _twice(3.6, 3.5), 0),
            (60, _twice(34.4, 34.2), Reading(first=3.4), 0), (90, _twice(36.2, 36.4), _twice(3.2), 0),
            (115, _twice(34.0, 33.8), _twice(3.0), 0), (132, _twice(28.6, 28.4), _twice(2.7), 0.4),
            (146, _twice(18.6, 18.8), _twice(2.4), 2.6),
        ),
        length=_twice(154, 154.4), tip_drop=9.0,
        handle=_stations((6, _twice(31.5, 31.4), _twice(21.0), 1), (50, _twice(35.0, 35.3), _twice(25.5, 25.4), 0)),
        handle_length=_twice(118, 118.3),
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
            (0, _twice(26.0), _twice(4.2), 0), (25, _twice(27.2, 27.0), _twice(4.1), 0.0),
            (55, Reading(), _twice(3.9, 3.8), 0.4), (85, _twice(25.2, 25.4), _twice(3.4), 2.2),
            (105, _twice(17.4, 17.2), _twice(3.0), 6.0),
        ),
        length=_twice(124, 124.2), tip_drop=14.0,
        handle=_stations((5, _twice(27.5), _twice(19.0), 0), (60, _twice(31.0, 31.2), _twice(22.5), -1)),
        handle_length=_twice(110),
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
            (0, _twice(24.0, 24.2), _twice(3.0), 0), (30, _twice(24.2), _twice(3.0, 2.9), 0.2),
            (60, _twice(23.0, 22.8), _twice(2.8), 1.0), (85, _twice(18.4, 18.6), _twice(2.4), 3.2),
        ),
        length=_twice(106, 105.8), tip_drop=12.5,
        handle=_stations((5, _twice(25.0), _twice(18.0), -0.5), (50, _twice(28.0, 28.2), _twice(21.0, 21.1), -1)),
        handle_length=_twice(104),
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
            (0, _twice(17.0), _twice(2.2), 0), (25, _twice(16.8, 16.9), _twice(2.1), 0),
            (50, _twice(15.2, 15.3), _twice(1.9), 0),
        ),
        length=_twice(68, 68.1), tip_drop=0.5,
        handle=_stations((4, _twice(18.5), _twice(14.0), -1), (40, _twice(21.0), _twice(16.2, 16.1), -1.5)),
        handle_length=_twice(96),
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
            GirthStation(at_mm=10, girth=_twice(112.0, 112.3)), GirthStation(at_mm=90, girth=_twice(108.5, 108.2)),
            GirthStation(at_mm=180, girth=_twice(106.0)), GirthStation(at_mm=250, girth=_twice(105.2, 105.0)),
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
    thing = Fitting(name="key ring", opening=_twice(25.0), bar=_twice(3.2))
    job = Job(
        name="Key fob for the tool shed", maker="Ansel Tarn", whose="the gang", promised=date(2027, 1, 9), thing=thing,
        leather=BEND, piece=StraightGoods(width_mm=23.0, length_mm=85.0),
        stitch=StitchChoices(pitch_mm=3.38, tool="iron", teeth=(8, 4, 2), remainder="spread"),
        thread=ThreadChoices(thread=LINEN.model_copy(update={"diameter_mm": 0.6})), work=WorkChoices(begins=BEGUN),
    )  # fmt: skip
    job = vow(job, at=BEGUN)
    return tick(job, step="cut/strip", at=BEGUN + timedelta(minutes=4), minutes=4.0)


BILLHOOK = (
    (0, 2), (14.4, 1.5), (29.1, 1), (44, 0.5), (59, 0), (74, -0.4), (88.9, -0.7), (103.6, -0.9), (118, -1), (132.1, -0.9),
    (145.8, -0.4), (159.1, 0.6), (171.8, 2.3), (184.1, 4.8), (195.6, 8.4), (206.3, 13.1), (215.9, 19.1), (224.2, 26.3),
    (231, 34.5), (236.1, 43.7), (239.2, 53.6), (240, 64), (235.7, 69), (230.7, 70.9), (225.1, 70.5), (219.1, 68.5),
    (213, 65.5), (206.9, 62.3), (200.6, 59.4), (193.7, 57.5), (186.2, 56.8), (178.1, 57), (169.4, 58.1), (160, 59.7),
    (150.2, 61.7), (140.2, 63.9), (130.1, 66), (120.1, 67.9), (110.2, 69.5), (100.4, 70.9), (90.6, 71.9), (80.9, 72.7),
    (71.3, 73.1), (61.7, 73.2), (52, 73), (44.3, 70.9), (38.9, 64.2), (34.5, 55.2), (30.1, 46.2), (24.6, 38.9),
    (17.8, 33.9), (9.7, 31.6), (0, 32),
)  # fmt: skip


def billhook_cover() -> Job:
    """Being drafted: a cover for a hooked edge, traced in pencil, that goes on sideways."""
    thing = Tool(
        name="billhook", outline=BILLHOOK, drawn_with="pencil", edge_from=(238, 66), edge_to=(52, 73),
        across=_twice(246.6, 246.9),
        depths=(
            Depth(at_mm=3, thick=_twice(1.1)), Depth(at_mm=12, thick=_twice(3.2, 3.1)), Depth(at_mm=30, thick=_twice(5.0)),
            Depth(at_mm=55, thick=_twice(6.2, 6.1)),
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
        name="secateurs", section="ellipse", length=_twice(206, 206.4),
        stations=tuple(
            Slice(at_mm=at, width=_twice(wide, wide + 0.2), height=_twice(high), drop=drop) for at, wide, high, drop in rows
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
        name="whetstone", section="slab", length=_twice(180.0),
        stations=tuple(Slice(at_mm=at, width=_twice(38.0, 38.1), height=_twice(20.0)) for at in (5.0, 90.0, 175.0)),
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
            (0, _twice(38.0, 38.2), _twice(4.6), 0), (50, _twice(42.0), _twice(4.4), -2.0),
            (100, _twice(44.4, 44.2), _twice(4.0, 3.9), -3.1), (140, _twice(36.0, 36.2), _twice(3.4), 1.0),
            (165, _twice(20.6), _twice(2.8), 8.7),
        ),
        length=_twice(182, 182.2), tip_drop=19.0,
        handle=_stations((6, _twice(30.0), _twice(24.0), 4), (60, _twice(33.0, 33.2), _twice(27.0), 2.5)),
        handle_length=_twice(132),
    )  # fmt: skip
    return Job(
        name="Turf knife", maker="Ansel Tarn", whose="Perrin Oake", promised=date(2027, 3, 13), thing=thing,
        leather=SHOULDER, piece=TwoPartSheath(seat_mm=24, loop=BeltLoop(belt_mm=45)),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=47)),
    )  # fmt: skip


def goat_collar() -> Job:
    """Being stitched: a collar for the bell goat, over its winter coat."""
    thing = Girth(
        name="bell goat's neck", where="animal", around=_twice(412.0, 418.0), opening=_twice(26.0, 26.1), bar=_twice(4.0),
    )  # fmt: skip
    return Job(
        name="Bell goat's collar", maker="Ansel Tarn", whose="the gang", promised=date(2027, 1, 23), thing=thing,
        leather=STRAP_BUTT, piece=BuckleStrap(width_mm=25, ease_mm=30, load="pulls"),
        stitch=StitchChoices(pitch_mm=5.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=10)),
    )  # fmt: skip


def tool_sling() -> Job:
    """Being drafted: a padded sling for the long-handled slasher, a ring at either end."""
    thing = Fitting(name="sling rings", opening=_twice(38.0), bar=_twice(5.0, 5.1))
    return Job(
        name="Slasher's sling", maker="Ansel Tarn", whose="Perrin Oake", promised=date(2027, 3, 20), thing=thing,
        leather=STRAP_BUTT, piece=Strap(width_mm=36, long_mm=860, load="pulls", pad=Pad(long_mm=240)),
        stitch=StitchChoices(pitch_mm=5.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=54)),
    )  # fmt: skip


def stone_tube() -> Job:
    """Being drafted: a tube for the long scythe stone, worn on the belt, with a lid against the wet."""
    thing = RoundThing(name="scythe stone", across=_twice(42.0, 42.2), length=_twice(236.0, 236.4))
    return Job(
        name="Scythe stone's tube", maker="Ansel Tarn", whose="Linnet Marl", promised=date(2027, 3, 27), thing=thing,
        leather=SHOULDER.model_copy(update={"thickness_mm": 2.4, "name": "veg-tan shoulder, split"}),
        piece=Tube(ease_mm=2.0, out_mm=40.0, lid=Lid(deep_mm=70.0), stiffened=True,
                   loop=BeltLoop(belt_mm=45, width_mm=20, down_mm=36)),
        stitch=StitchChoices(pitch_mm=5.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=61)),
    )  # fmt: skip


def thorn_cuff() -> Job:
    """Being drafted: a cuff against thorns for Wren Hollin's left arm, over a sleeve, laced at the back."""
    rows = ((0.0, 182.0, 52.0), (55.0, 214.0, 60.0), (120.0, 268.0, 78.0), (180.0, 282.0, 84.0))
    thing = Limb(
        name="left forearm", which="forearm", side="left", over="sleeve",
        stations=tuple(LimbStation(at_mm=at, girth=_twice(g, g + 1), depth=_twice(d)) for at, g, d in rows),
    )  # fmt: skip
    return Job(
        name="Thorn cuff", maker="Ansel Tarn", whose="Wren Hollin", promised=date(2027, 1, 28), thing=thing,
        leather=SIDE.model_copy(update={"thickness_mm": 2.2}),
        piece=LimbWrap(closed=Laced(gap_low_mm=10, gap_high_mm=14, tongue=Tongue())),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=14)),
    )  # fmt: skip


def gaiter() -> Job:
    """Read back and waiting for the vow: gaiters over breeches, closed by buckled billets, left and right."""
    rows = ((0.0, 262.0), (80.0, 296.0), (160.0, 362.0), (235.0, 384.0), (300.0, 366.0))
    thing = Limb(
        name="right calf", which="calf", side="right", over="breeches",
        stations=tuple(LimbStation(at_mm=at, girth=_twice(g, g - 2)) for at, g in rows),
    )  # fmt: skip
    return Job(
        name="Gaiters", maker="Ansel Tarn", whose="Perrin Oake", promised=date(2027, 4, 3), thing=thing,
        leather=SIDE.model_copy(
            update={"tannage": "chrome", "thickness_mm": 1.8, "name": "chrome-tanned side", "flaws": ()}
        ),
        piece=LimbWrap(closing="back", closed=Buckled(), ease_mm=10, over=FoldOver(deep_mm=45)),
        makes=Makes(count=2, each="in-pairs"),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=56)),
    )  # fmt: skip


def file_roll() -> Job:
    """Being stitched: a roll for the files and the setting hammer that keep the saws sharp."""
    sizes = ((190, 22, 12), (215, 26, 14), (165, 16, 8), (172, 18, 18), (228, 34, 22))
    thing = Tools(name="saw files", tools=tuple(
        RollTool(long=_twice(a), wide=_twice(b), thick=_twice(c)) for a, b, c in sizes))  # fmt: skip
    return Job(
        name="Saw files' roll", maker="Ansel Tarn", whose="Linnet Marl", promised=date(2027, 2, 24), thing=thing,
        leather=SIDE.model_copy(update={"thickness_mm": 1.8}), piece=ToolRoll(deep_mm=110, flap_mm=80),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=30)),
    )  # fmt: skip


def needle_case() -> Job:
    """Being stitched: a case for the harness needles that mend straps on the common."""
    sizes = ((48, 1.2, 1.2), (57, 1.6, 1.6), (64, 2.2, 2.2))
    thing = Tools(name="harness needles", tools=tuple(
        RollTool(long=_twice(a), wide=_twice(b), thick=_twice(c)) for a, b, c in sizes))  # fmt: skip
    return Job(
        name="Needle case", maker="Ansel Tarn", whose="Linnet Marl", promised=date(2027, 2, 27), thing=thing,
        leather=SIDE.model_copy(update={"thickness_mm": 1.4}), piece=NeedleCase(),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=34)),
    )  # fmt: skip


def first_aid_pouch() -> Job:
    """Being drafted: a pouch on the belt for the gang's first-aid tin."""
    thing = Box(name="first-aid tin", wide=_twice(112.0, 112.2), high=_twice(84.0), deep=_twice(34.0, 34.1))
    return Job(
        name="First-aid pouch", maker="Ansel Tarn", whose="the gang", promised=date(2027, 3, 3), thing=thing,
        leather=SIDE.model_copy(update={"thickness_mm": 2.0}), piece=FlapPouch(loop=BeltLoop(belt_mm=40, width_mm=40)),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=37)),
    )  # fmt: skip


def _curved(*through: tuple[float, float], steps: int = 14) -> list[tuple[float, float]]:
    """A bend from the first point to the last that leans toward the one between."""
    (a, b), (c, d), (e, f) = through
    found = []
    for k in range(steps):
        s, u = k / steps, 1 - k / steps
        found.append((round(u * u * a + 2 * s * u * c + s * s * e, 1), round(u * u * b + 2 * s * u * d + s * s * f, 1)))
    return found


def waistcoat() -> Job:
    """Being drafted: a thorn-proof waistcoat from a tape wrap, its back and two fronts; the shoulders are joined already."""
    back = (
        (0.0, 540.0), *_curved((14.0, 262.0), (70.0, 190.0), (58.0, 46.0)), (58.0, 46.0),
        *_curved((168.0, 0.0), (240.0, 34.0), (312.0, 0.0)), (312.0, 0.0),
        *_curved((422.0, 46.0), (410.0, 190.0), (466.0, 262.0)), (466.0, 262.0), (480.0, 540.0),
    )  # fmt: skip
    front = (
        (0.0, 540.0), *_curved((14.0, 262.0), (84.0, 196.0), (58.0, 46.0)), (58.0, 46.0),
        *_curved((168.0, 0.0), (186.0, 130.0), (252.0, 220.0)), (252.0, 220.0), (252.0, 560.0), (200.0, 590.0),
    )  # fmt: skip
    other = (
        (0.0, 540.0), *_curved((14.0, 262.0), (78.0, 200.0), (58.0, 49.0)), (58.0, 49.0),
        *_curved((167.0, 0.0), (186.0, 130.0), (252.0, 223.0)), (252.0, 223.0), (252.0, 560.0), (200.0, 587.0),
    )  # fmt: skip
    other = tuple((round(252.0 - x, 1), y) for x, y in reversed(other))
    panels = []
    for letter, ring in zip("ABC", (back, front, other), strict=True):
        panel = Panel.of_ring(letter, ring)
        by_tape = {"first": round(panel.high.outline or 0.0), "second": round(panel.high.outline or 0.0)}
        panels.append(panel.model_copy(update={"high": panel.high.model_copy(update=by_tape)}))
    chest = PanelLevel(girth=_twice(905.0, 908.0), on=tuple(LevelOn(letter=k, at_mm=280.0) for k in "ABC"))
    thing = Panels(name="tape wrap", panels=tuple(panels), levels=(chest,))
    meets = (
        Meet(a="A3", b="C4"), Meet(a="A5", b="B3"), Meet(a="A1", b="C6", how="laced"), Meet(a="A7", b="B1", how="laced"),
        Meet(a="B5", b="C2", how="studs"),
    )  # fmt: skip
    sides_ = SIDE.model_copy(update={"thickness_mm": 1.6, "name": "two oil-tanned sides, laid together"})
    return Job(
        name="Thorn-proof waistcoat", maker="Ansel Tarn", whose="Wren Hollin", promised=date(2027, 4, 17), thing=thing,
        leather=sides_.sized(1500, 1150), piece=Panelled(meets=meets, asked=False, ease_mm=20.0),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=75)),
    )  # fmt: skip


def _rounded_pouch(wide: float, high: float, radius: float, inset: float = 0.0) -> list[tuple[float, float]]:
    """Down the left of a pouch, round its foot and up its right, so far in from its edge."""
    r, points = radius - inset, [(inset, 0.0)]
    for x, first in ((radius, 180.0), (wide - radius, 90.0)):
        for k in range(13):
            turn = math.radians(first - 7.5 * k)
            points.append((round(x + r * math.cos(turn), 2), round(high - radius + r * math.sin(turn), 2)))
    return [*points, (wide - inset, 0.0)]


def _pricked(line: list[tuple[float, float]], first: float, pitch: float) -> list[tuple[float, float]]:
    """Holes along a line, the first so far along it, a hand's small errors in them."""
    found: list[tuple[float, float]] = []
    along, due = 0.0, first
    for (x, y), (u, v) in pairwise(line):
        long = math.hypot(u - x, v - y)
        while due <= along + long:
            share, k = (due - along) / long, len(found)
            found.append((round(x + share * (u - x) + 0.1 * math.sin(7 * k), 2),
                          round(y + share * (v - y) + 0.1 * math.cos(5 * k), 2)))  # fmt: skip
            due += pitch
        along += long
    return found


def old_pouch() -> Job:
    """Measured: the gang's old staple pouch taken apart, front and back with their holes; one is torn out of the back."""
    ring = _rounded_pouch(110.0, 150.0, 34.0)
    holes = _pricked(_rounded_pouch(110.0, 150.0, 34.0, 5.0), 6.0, 4.5)
    front = Panel.of_ring("A", ring, holes=frozen(holes))
    back = Panel.of_ring("B", ring, holes=frozen([h for k, h in enumerate(holes) if k != 31]))
    thing = OldPiece(name="old staple pouch", panels=tuple(
        p.model_copy(update={"high": p.high.model_copy(update={"first": 150.0, "second": 150.5})}) for p in (front, back)
    ))  # fmt: skip
    return Job(
        name="Staple pouch, anew", maker="Ansel Tarn", whose="the gang", promised=date(2027, 2, 17), thing=thing,
        leather=SIDE, piece=Panelled(meets=(Meet(a="A1", b="B1", how="flush", holes="kept"),), asked=False),
        stitch=StitchChoices(pitch_mm=4.5, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=35)),
    )  # fmt: skip


def hedging_mitten() -> Job:
    """Read back: a mitten against thorns for Perrin Oake's right hand, from a pattern that fits somebody else's."""
    back = (
        *_curved((18.0, 260.0), (4.0, 150.0), (14.0, 90.0)), *_curved((14.0, 90.0), (22.0, 8.0), (62.0, 6.0)),
        *_curved((62.0, 6.0), (106.0, 8.0), (113.0, 92.0)), *_curved((113.0, 92.0), (116.0, 130.0), (117.0, 156.0)),
        *_curved((117.0, 156.0), (123.0, 178.0), (131.0, 156.0)), *_curved((131.0, 156.0), (142.0, 116.0), (156.0, 115.0)),
        *_curved((156.0, 115.0), (174.0, 120.0), (161.0, 168.0)), *_curved((161.0, 168.0), (147.0, 214.0), (122.0, 236.0)),
        *_curved((122.0, 236.0), (112.0, 246.0), (112.0, 260.0)), (112.0, 260.0),
    )  # fmt: skip
    palm = tuple((round(180.0 - x, 1), y) for x, y in reversed(back))
    panels = []
    for letter, ring in (("A", back), ("B", palm)):
        panel = Panel.of_ring(letter, ring)
        wrist = [c.at for c in panel.corners if panel.ring[c.at][1] > 250.0]
        panels.append(panel.model_copy(update={
            "corners": tuple(Corner(n=n, at=at) for n, at in enumerate(wrist, 1)),
            "high": panel.high.model_copy(update={"first": 266.0, "second": 266.5}),
            "wide": panel.wide.model_copy(update={"first": 158.0, "second": 158.0}),
        }))  # fmt: skip
    thing = Hand(name="right hand", panels=tuple(panels))
    return Job(
        name="Hedging mitten", maker="Ansel Tarn", whose="Perrin Oake", promised=date(2027, 3, 31), thing=thing,
        leather=SIDE.model_copy(update={"thickness_mm": 1.8}),
        piece=Panelled(meets=(Meet(a="A1", b="B1", how="flush"),), asked=False),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=68)),
    )  # fmt: skip


def demo_jobs() -> dict[str, Job]:
    """The demo jobs by file name."""
    return {
        "laying-knife": laying_knife(),
        "hedging-knife": hedging_knife(),
        "spar-knife": spar_knife(),
        "grafting-knife": grafting_knife(),
        "slasher-grip": slasher_grip(),
        "key-fob": key_fob(),
        "billhook-cover": billhook_cover(),
        "secateurs-holster": secateurs_holster(),
        "whetstone-case": whetstone_case(),
        "turf-knife": turf_knife(),
        "goat-collar": goat_collar(),
        "tool-sling": tool_sling(),
        "stone-tube": stone_tube(),
        "thorn-cuff": thorn_cuff(),
        "gaiter": gaiter(),
        "file-roll": file_roll(),
        "needle-case": needle_case(),
        "first-aid-pouch": first_aid_pouch(),
        "waistcoat": waistcoat(),
        "staple-pouch": old_pouch(),
        "hedging-mitten": hedging_mitten(),
    }


def sample_of(sort: type[KindOfPiece] | type[Thing]) -> Job | None:
    """A demo job with a thing or a piece of this sort, to show what one looks like; None where the demo has none."""
    return next((j for j in demo_jobs().values() if isinstance(j.piece, sort) or isinstance(j.thing, sort)), None)
