"""Pictures of tools on paper with a known truth, drawn at random: what a bench, a lamp and a telephone make of them.

Eight tools, of steel from dark to nearly as bright as the paper and of wood, horn or lacquer; on a bench of wood or stone; a
lamp to one side, its colour a cast over all, a rim that darkens; shadows hard or soft that widen away from the thing and take
three tenths to three quarters of the light; noise, blur, and the halved colour of a kept picture.
"""

from typing import Any, Literal, NamedTuple

import numpy as np
import shapely

from vow_line.core.curve import Line
from vow_line.core.ring import turned_right
from vow_line.instruments.camera import Colour, Part, Shadow, stand_in
from vow_line.instruments.tracing import Picture
from vow_line.resources.demo.hard_goods import BILLHOOK

UPRIGHT = np.array([[0.0, 1.0], [-1.0, 0.0]])
SHEETS: dict[str, Colour] = {
    "green": (80.0, 165.0, 62.0), "blue": (190.0, 110.0, 48.0), "magenta": (140.0, 58.0, 205.0)
}  # fmt: skip
HANDLES: dict[str, Colour] = {
    "walnut": (40.0, 50.0, 72.0), "ash": (130.0, 170.0, 200.0), "black": (28.0, 28.0, 28.0), "ox horn": (70.0, 82.0, 90.0),
    "vermilion": (40.0, 50.0, 190.0), "yellow": (60.0, 190.0, 215.0), "blue": (170.0, 90.0, 40.0), "green": (60.0, 120.0, 50.0),
}  # fmt: skip
KIN = {"green": {"green"}, "blue": {"blue"}, "magenta": {"vermilion"}}  # handles of the sheet's own hue, or near it


Light = Literal["easy", "hard", "flat"]


class Seen(NamedTuple):
    """A picture, the true outline of the thing in it in mm, and what it was made with."""

    picture: Picture
    truth: Line
    made_with: str


def _bent(points: list[tuple[float, float]], per: int = 8) -> Line:
    """A ring through points, rounded by corner cutting where it is not sharp."""
    ring = np.array(points, float)
    for _ in range(3):
        after = np.roll(ring, -1, axis=0)
        ring = np.stack([0.75 * ring + 0.25 * after, 0.25 * ring + 0.75 * after], 1).reshape(-1, 2)
    return ring


def _arc(x: float, y: float, wide: float, high: float, first: float, last: float, n: int = 40) -> Line:
    turn = np.radians(np.linspace(first, last, n))
    return np.column_stack([x + wide * np.cos(turn), y + high * np.sin(turn)])


def tools() -> dict[str, tuple[Line, Line]]:
    """Each tool's steel and its handle, lying along x, in mm."""
    hook = np.array(BILLHOOK, float)
    hook = hook - hook.min(axis=0)
    turn = np.radians(6.0)
    blade = np.array([[0, -7], [60, -8], [125, -0.6], [125, 0.2], [60, 5], [0, 5]], float)
    arm = _bent([(4, -6), (-60, -16), (-95, -14), (-95, 6), (-60, 6), (4, 5)])
    opened = [r @ np.array([[np.cos(a), np.sin(a)], [-np.sin(a), np.cos(a)]]) * [1, m] for r, a, m in
              ((blade, -turn, 1), (arm, -turn, 1), (blade, -turn, -1), (arm, -turn, -1))]  # fmt: skip
    shears = [shapely.get_coordinates(shapely.union_all([shapely.Polygon(r).buffer(0) for r in half]).exterior)[:-1]
              for half in (opened[0::2], opened[1::2])]  # fmt: skip
    return {
        "drop point": (np.array([[90, 6], [190, 6], [215, 12], [230, 26], [200, 32], [90, 34]], float),
                       np.array([[0, 8], [20, 2], [100, 4], [100, 36], [20, 38], [0, 32]], float)),
        "awl": (np.array([[50, 8], [150, 9.9], [150, 10.1], [50, 12]], float),
                _bent([(0, 4), (20, 0), (66, 4), (66, 16), (20, 20), (0, 16)])),
        "round knife": (np.vstack([_arc(120, 60, 40, 60, -90, 90), [[110, 66], [110, 54]]]),
                        _bent([(0, 50), (40, 48), (126, 54), (126, 66), (40, 72), (0, 70)])),
        "chisel": (np.array([[110, 14], [225, 8], [228, 8], [228, 32], [225, 32], [110, 26]], float),
                   _bent([(0, 12), (30, 6), (132, 10), (132, 30), (30, 34), (0, 28)])),
        "shears": (shears[0], shears[1]),
        "paring knife": (np.array([[72, 11], [170, 12], [185, 20], [160, 25], [72, 26]], float),
                         _bent([(0, 6), (30, 10), (94, 6), (94, 32), (30, 28), (0, 30)])),
        "mallet": (np.array([[150, 0], [230, 4], [230, 76], [150, 80]], float),
                   np.array([[0, 30], [160, 28], [160, 52], [0, 50]], float)),
        "billhook": (hook * 0.95, np.array([[-0.5, 8.0], [12, 2], [12, 24], [-0.5, 20]], float)),
    }  # fmt: skip


def whole(parts: tuple[Part, ...]) -> Line:
    """The outline of all its parts together."""
    joined = shapely.union_all([shapely.Polygon(p.outline).buffer(0).buffer(0.02, join_style="mitre") for p in parts])
    return shapely.get_coordinates(joined.buffer(-0.02, join_style="mitre").exterior)[:-1]


def at_random(rng: np.random.Generator, sheet: str, light: Light = "hard") -> Seen:
    """A tool on a sheet of A4, `green`, `blue`, `magenta` or `white`: in `easy` light its steel is dark, its shadow weak; in
    `flat` light it is nearly as bright as white paper, and hardly any shadow shows where it lies.
    """
    easy = light == "easy"
    name = str(rng.choice(sorted(tools())))
    steel, handle = tools()[name]
    turn = rng.uniform(-0.25, 0.25) + np.pi / 2 * rng.choice([1, -1])
    turned = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    steel, handle = steel @ turned, handle @ turned
    low = np.vstack([steel, handle]).min(axis=0)
    wide = np.ptp(np.vstack([steel, handle]), axis=0)
    ground = SHEETS.get(sheet, (232.0, 232.0, 232.0))
    level = 232 * (rng.uniform(*{"easy": (0.17, 0.4), "hard": (0.55, 0.98), "flat": (0.94, 1.02)}[light]))
    grey = tuple(float(level * c) for c in rng.uniform(0.985, 1.015, 3))
    kinds = [h for h in sorted(HANDLES) if h not in KIN.get(sheet, set())]
    made_of = str(rng.choice(kinds))
    tinted = float(rng.uniform(0, 0.3))
    parts = (Part(turned_right(steel - low), grey, 0.0, float(rng.uniform(0, 0.12)), tinted),
             Part(turned_right(handle - low), HANDLES[made_of], 0.0, 0.0, tinted))  # fmt: skip
    far, way = rng.uniform(1, 14), rng.uniform(0, 2 * np.pi)
    sharp = rng.random() < 0.5
    by = (float(far * np.cos(way)), float(far * np.sin(way)))
    shadow = Shadow(by, float(rng.uniform(0.1, 0.5) if sharp else far * rng.uniform(0.3, 1)),
                    float(rng.uniform(0.3, 0.75)), widens=True)  # fmt: skip
    if light != "hard":
        shadow = shadow._replace(takes=float(rng.uniform(0.1, 0.3) if easy else rng.uniform(0, 0.06)), soft_mm=4.0)
    cast = float(np.exp(rng.uniform(-0.13, 0.13)))
    more: dict[str, Any] = {
        "at_mm": (float(rng.uniform(12, 210 - 12 - wide[0])), float(rng.uniform(14, 297 - 14 - wide[1]))),
        "above_mm": float(rng.uniform(400, 540)), "aside_mm": (float(rng.uniform(-90, 90)), float(rng.uniform(-90, 90))),
        "size_px": (1800, 2400), "turn_rad": float(rng.uniform(-0.15, 0.15)), "shadow": shadow,
        "lamp": float(rng.uniform(0, 0.45)),
        "vignette": float(rng.uniform(0, 0.3)), "bend": float(rng.uniform(-0.03, 0.05)), "noise": float(rng.uniform(1, 4)),
        "blur_px": float(rng.uniform(0.6, 1.3)), "bright": float(rng.uniform(0.75, 1.08)), "paper": ground,
        "bench": [(60.0, 85.0, 115.0), (90.0, 90.0, 90.0), (45.0, 55.0, 75.0), (150.0, 180.0, 200.0), (200.0, 200.0, 200.0)][
            rng.integers(5 if sheet != "white" else 3)
        ],
        "light": (1 / cast, 1.0, cast), "jpeg": int(rng.integers(80, 96)), "seed": int(rng.integers(1 << 30)),
    }  # fmt: skip
    kept = ", ".join(f"{k}={v}" for k, v in more.items() if k not in ("paper", "seed"))
    return Seen(stand_in(parts, **more), whole(parts), f"{name}, {made_of}, steel {level / 232:.2f}, {kept}")
