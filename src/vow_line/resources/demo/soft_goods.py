"""Straps, tubes, rolls, pouches, and what is worn on limbs."""

from datetime import date, timedelta

from ...core.draft.kinds.buckle_strap import BuckleStrap
from ...core.draft.kinds.flap_pouch import FlapPouch
from ...core.draft.kinds.folded_tab import FoldedTab
from ...core.draft.kinds.handle import Handle
from ...core.draft.kinds.limb_wrap import LimbWrap, Tongue
from ...core.draft.kinds.limb_wrap.closures.buckled import Buckled
from ...core.draft.kinds.limb_wrap.closures.laced import Laced
from ...core.draft.kinds.limb_wrap.closures.studs import Studs
from ...core.draft.kinds.limb_wrap.fold import FoldOver
from ...core.draft.kinds.needle_case import NeedleCase
from ...core.draft.kinds.strap import Pad, Strap
from ...core.draft.kinds.tool_roll import ToolRoll
from ...core.draft.kinds.tube import Lid, Tube
from ...core.draft.lead_ring import LeadRing
from ...core.draft.loop import BeltLoop
from ...core.draft.repeat import Makes
from ...core.job import Job, Other
from ...core.measure.things.box import Box
from ...core.measure.things.fitting import Fitting
from ...core.measure.things.girth import Girth
from ...core.measure.things.limb import Limb, LimbStation
from ...core.measure.things.round import RoundThing
from ...core.measure.things.tools import RollTool, Tools
from ...core.stitch import StitchChoices
from ...core.thread import ThreadChoices
from ...core.work import WorkChoices
from .bench import BEGUN, LINEN, SHOULDER, SIDE, STRAP_BUTT, twice


def goat_collar() -> Job:
    """Being stitched: a collar for the bell goat, over its winter coat."""
    thing = Girth(
        name="bell goat's neck", where="animal", around=twice(412.0, 418.0), opening=twice(26.0, 26.1), bar=twice(4.0),
    )  # fmt: skip
    return Job(
        name="Bell goat's collar", maker="Ansel Tarn", whose="the gang", promised=date(2027, 1, 23), thing=thing,
        leather=STRAP_BUTT, piece=BuckleStrap(width_mm=25, ease_mm=30, lead=LeadRing()),
        stitch=StitchChoices(pitch_mm=5.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=10)),
    )  # fmt: skip


def basket_handle() -> Job:
    """Being drafted: a handle for the gang's tool basket, rolled round a cord, from ring to ring."""
    thing = Fitting(name="basket's rings", opening=twice(26.0), bar=twice(4.0, 4.1))
    return Job(
        name="Tool basket's handle", maker="Ansel Tarn", whose="the gang", promised=date(2027, 5, 1), thing=thing,
        leather=STRAP_BUTT.model_copy(update={"thickness_mm": 2.2}),
        piece=Handle(load="nothing"), stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=75)),
    )  # fmt: skip


def mallet_tab() -> Job:
    """Read back and waiting for the vow: a tab of three plies for the ring of a stake mallet, through which two rivets go."""
    thing = Fitting(name="mallet's ring", opening=twice(28.0, 28.1), bar=twice(4.0))
    return Job(
        name="Mallet's tab", maker="Ansel Tarn", whose="Linnet Marl", promised=date(2027, 4, 10), thing=thing,
        leather=STRAP_BUTT.model_copy(update={"thickness_mm": 2.4}),
        piece=FoldedTab(length_mm=58.0, held="riveted"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=66)),
    )  # fmt: skip


def tool_sling() -> Job:
    """Being drafted: a padded sling for the long-handled slasher, a ring at either end."""
    thing = Fitting(name="sling rings", opening=twice(38.0), bar=twice(5.0, 5.1))
    return Job(
        name="Slasher's sling", maker="Ansel Tarn", whose="Perrin Oake", promised=date(2027, 3, 20), thing=thing,
        leather=STRAP_BUTT, piece=Strap(width_mm=36, long_mm=860, load="pulls", pad=Pad(long_mm=240)),
        stitch=StitchChoices(pitch_mm=5.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=54)),
    )  # fmt: skip


def stone_tube() -> Job:
    """Being drafted: a tube for the long scythe stone, worn on the belt, with a lid against the wet."""
    thing = RoundThing(name="scythe stone", across=twice(42.0, 42.2), length=twice(236.0, 236.4))
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
        stations=tuple(LimbStation(at_mm=at, girth=twice(g, g + 1), depth=twice(d)) for at, g, d in rows),
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
        stations=tuple(LimbStation(at_mm=at, girth=twice(g, g - 2)) for at, g in rows),
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


def gang_cuffs() -> Job:
    """Waiting for the vow: cuffs for three of the gang, two for each, held by studs; each size is measured by itself."""

    def forearm(name: str, *girths: float) -> Limb:
        return Limb(
            name=name, which="forearm", side="right", over="sleeve",
            stations=tuple(LimbStation(at_mm=at, girth=twice(g, g + 1), depth=twice(round(0.285 * g)))
                           for at, g in zip((0.0, 55.0, 110.0, 160.0), girths, strict=True)),
        )  # fmt: skip

    return Job(
        name="Cuffs for the gang", maker="Ansel Tarn", whose="the gang", promised=date(2027, 4, 24),
        thing=forearm("Perrin Oake's arm", 204.0, 232.0, 276.0, 296.0),
        others=(Other(number=2, thing=forearm("Linnet Marl's arm", 176.0, 202.0, 246.0, 264.0)),
                Other(number=3, thing=forearm("Wren Hollin's arm", 186.0, 216.0, 262.0, 282.0))),
        leather=SIDE.sized(1280.0, 610.0).model_copy(update={"thickness_mm": 2.0}),
        piece=LimbWrap(closed=Studs(), formed=True), makes=Makes(count=2, each="in-pairs"),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=70)),
    )  # fmt: skip


def file_roll() -> Job:
    """Being stitched: a roll for the files and the setting hammer that keep the saws sharp."""
    sizes = ((190, 22, 12), (215, 26, 14), (165, 16, 8), (172, 18, 18), (228, 34, 22))
    thing = Tools(name="saw files", tools=tuple(
        RollTool(long=twice(a), wide=twice(b), thick=twice(c)) for a, b, c in sizes))  # fmt: skip
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
        RollTool(long=twice(a), wide=twice(b), thick=twice(c)) for a, b, c in sizes))  # fmt: skip
    return Job(
        name="Needle case", maker="Ansel Tarn", whose="Linnet Marl", promised=date(2027, 2, 27), thing=thing,
        leather=SIDE.model_copy(update={"thickness_mm": 1.4}), piece=NeedleCase(),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=34)),
    )  # fmt: skip


def first_aid_pouch() -> Job:
    """Being drafted: a pouch on the belt for the gang's first-aid tin."""
    thing = Box(name="first-aid tin", wide=twice(112.0, 112.2), high=twice(84.0), deep=twice(34.0, 34.1))
    return Job(
        name="First-aid pouch", maker="Ansel Tarn", whose="the gang", promised=date(2027, 3, 3), thing=thing,
        leather=SIDE.model_copy(update={"thickness_mm": 2.0}), piece=FlapPouch(loop=BeltLoop(belt_mm=40, width_mm=40)),
        stitch=StitchChoices(pitch_mm=4.0, tool="awl"), thread=ThreadChoices(thread=LINEN),
        work=WorkChoices(begins=BEGUN + timedelta(days=37)),
    )  # fmt: skip
