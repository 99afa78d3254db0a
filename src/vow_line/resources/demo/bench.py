"""The leathers and the thread that the gang works with, and when they began."""

from datetime import datetime

from ...core.leather import Hide
from ...core.measure.readings import Reading
from ...core.thread import Thread

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


def twice(first: float, second: float | None = None) -> Reading:
    """A reading, and the same again."""
    return Reading(first=first, second=first if second is None else second)
