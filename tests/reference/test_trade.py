"""The trade's own figures. Those marked 'common practice' have no published source; definitions name theirs."""

import numpy as np
import pytest
from scipy import integrate

from vow_line.core.curve import arc_length, chord_error, walk
from vow_line.core.draft.loop import BeltLoop
from vow_line.core.draft.wrap import flat_length
from vow_line.core.quantity import Units
from vow_line.core.stitch.holes import CHORD_ALLOWED_MM, strikes
from vow_line.core.stitch.straight import straight_seam
from vow_line.core.thread import Slack, Thread, ThreadChoices, sew_plan
from vow_line.core.typed import lea_tex, read_leather_range, read_pitch
from vow_line.core.work.drying import deficit_kpa

BARE = ThreadChoices(
    thread=Thread(diameter_mm=1e-9), compression=0.0, back_stitches=0, slack=Slack(value=0.0), reach_mm=5000.0
)


@pytest.mark.parametrize(("stack_over_pitch", "times"), [(0.5, 3), (1, 4), (1.5, 5), (2.5, 7), (3, 8)])
def test_rules_of_thumb_are_each_true_for_their_stack(stack_over_pitch: float, times: float) -> None:
    """3, 4, 5, 7, 8 times the seam (common practice) are 2(1 + t/p) for t/p = 0.5, 1, 1.5, 2.5, 3."""
    pitch, run = 4.0, 1000.0
    got = sew_plan(straight_seam(run, pitch, stack_over_pitch * pitch), BARE).path_mm / run
    assert got == pytest.approx(times, rel=3e-3)


def test_ten_inches_ordinary_take_35_to_40() -> None:
    """10 in of ordinary seam take 35 to 40 in of thread, needles aside (common practice): stacks of 3/4 to one pitch."""
    few, many = (sew_plan(straight_seam(254, 254 / 64, t * 254 / 64), BARE).path_mm / 25.4 for t in (0.75, 1.0))
    assert few == pytest.approx(35, abs=0.2)
    assert many == pytest.approx(40, abs=0.2)


def test_a_short_seam_is_decided_by_its_needles() -> None:
    """25 mm, 3 stitches, doubled over the edge, back-stitched twice, two 75 mm needles: 16 in, 400 mm (common practice)."""
    seam = straight_seam(25, 25 / 3, 6.4, margin_mm=4)
    assert len(seam.points) == 4
    sewn = sew_plan(seam, ThreadChoices(needle_mm=75, back_stitches=2, edge_loops=2))
    assert sewn.total_mm == pytest.approx(400, rel=0.06)
    assert sewn.reserve_mm == 200
    assert sewn.reserve_mm > 0.45 * sewn.total_mm


def test_thread_against_the_three_dimensional_line_it_follows() -> None:
    """Each needle's path as a polyline in space, measured without the program's own lengths."""
    pitch, stack, n = 5.0, 8.0, 21
    seam = straight_seam(pitch * (n - 1), pitch, stack)
    total = 0.0
    for start in (0.0, stack):
        z, points = start, [[0.0, 0.0, start]]
        for k in range(1, n):
            points.append([k * pitch, 0.0, z])
            z = stack - z
            points.append([k * pitch, 0.0, z])
        total += float(np.linalg.norm(np.diff(np.array(points), axis=0), axis=1).sum())
    total += stack  # the one pass through the first hole
    assert sew_plan(seam, BARE).path_mm == pytest.approx(total)


def test_two_quarter_bends_of_half_a_diameter() -> None:
    """Rounding two corners of a path with radius d/2 adds (π/2 - 1) d to what passes between the faces."""
    thick = Thread(diameter_mm=1.0)
    one = sew_plan(straight_seam(40, 4, 5), BARE)
    other = sew_plan(straight_seam(40, 4, 5), BARE.model_copy(update={"thread": thick}))
    passes = sum(m.act == "pass" for m in one.moves)
    assert (other.path_mm - one.path_mm) / passes == pytest.approx(np.pi / 2 - 1, abs=2e-3)


@pytest.mark.parametrize(("low", "high", "oz"), [(1.6, 2.0, "4-5 oz"), (2.8, 3.2, "7-8 oz")])
def test_ounces_of_leather(low: float, high: float, oz: str) -> None:
    """As sold: 4-5 oz is 1.6-2.0 mm, 7-8 oz is 2.8-3.2 mm, 12 oz about 4.8 mm (common practice)."""
    assert read_leather_range(oz, Units()) == pytest.approx((low, high), abs=0.05)
    assert read_leather_range("12 oz", Units())[0] == pytest.approx(4.8, abs=0.05)


@pytest.mark.parametrize(
    ("text", "mm"),
    [("no 7 french", 3.87), ("no 8 french", 3.38), ("no 7 inch", 3.63), ("1/4 in", 6.35), ("7 spi", 3.63)],
)
def test_pitch_systems(text: str, mm: float) -> None:
    """Irons by the French inch of 27.07 mm and by the inch; 1/8 in tooth and 1/8 in gap (common practice)."""
    assert read_pitch(text, Units()) == pytest.approx(mm, abs=0.005)


def test_tex_of_linen() -> None:
    """Tex is g per km (ISO 1144); one lea is 300 yd to the pound avoirdupois of 453.59237 g (from memory)."""
    assert lea_tex(1) == pytest.approx(453.59237 / (300 * 0.9144) * 1000, rel=1e-4)


def test_full_turn_on_a_cylinder() -> None:
    """π(D + 2kt), the wrap of a cylinder with the neutral layer at k·t."""
    assert flat_length(np.pi * 60, 2 * np.pi, 0.4, 2.5) == pytest.approx(np.pi * (60 + 2 * 0.4 * 2.5))


def test_a_turn_round_a_bar_in_a_loop() -> None:
    """A turned end takes half a turn, π(b/2 + kt) (common practice), beside its straight parts."""
    loop = BeltLoop(box_mm=25, belt_mm=40, belt_thick_mm=4)
    assert loop.cut_length_mm(3.0, 0.5) == pytest.approx(2 * (25 + 40 + 2) + np.pi * (2 + 1.5))


def test_arc_length_against_integration() -> None:
    """The length of a parabola by SciPy's quadrature against the walked polyline."""
    x = np.linspace(0, 80, 4001)
    line = np.column_stack([x, 0.004 * x**2])
    exact, _ = integrate.quad(lambda u: np.sqrt(1 + (0.008 * u) ** 2), 0, 80)
    assert arc_length(line)[-1] == pytest.approx(exact, rel=1e-7)


@pytest.mark.parametrize(("teeth", "radius"), [(6, 41.8), (4, 15.15), (2, 3.0)])
def test_the_chord_a_prong_may_cut_short(teeth: int, radius: float) -> None:
    """R - √(R² - ((m-1)p/2)²) against the drawn arc; radii at which it comes to about 0.3 mm for p = 4 and m = 4, 6."""
    pitch = 4.0
    half = (teeth - 1) * pitch / 2
    sagitta = radius - np.sqrt(radius**2 - half**2) if radius > half else radius
    turn = 2 * np.arcsin(min(half / radius, 1))
    a = np.linspace(-turn / 2, turn / 2, 401)
    arc = radius * np.column_stack([np.sin(a), np.cos(a)])
    assert chord_error(arc) == pytest.approx(sagitta, rel=1e-3)


@pytest.mark.parametrize("radius", [10.0, 20.0, 40.0, 80.0, 300.0])
def test_strikes_on_arcs_use_the_widest_prong_that_fits(radius: float) -> None:
    """On an arc the widest prong allowed is the one whose sagitta stays within the limit."""
    pitch, n = 4.0, 31
    a = np.arange(n) * 2 * np.arcsin(pitch / 2 / radius)
    if a[-1] > 2 * np.pi:
        a = a[a < 2 * np.pi]
    points = radius * np.column_stack([np.cos(a), np.sin(a)])
    plan = strikes(points, np.full(len(points), 2.0), (10, 6, 4, 2), pitch)
    for strike in plan:
        half = np.hypot(*(points[strike.first + strike.teeth - 1] - points[strike.first])) / 2
        assert radius - np.sqrt(radius**2 - half**2) <= CHORD_ALLOWED_MM + 0.02
    assert len(walk(points, [0.0])) == 1


def test_vapour_pressure_of_water() -> None:
    """Saturation by the Magnus formula: 2.339 kPa at 20 °C, 1.228 kPa at 10 °C (steam tables, from memory)."""
    assert deficit_kpa(20, 0.0) == pytest.approx(2.339, rel=5e-3)
    assert deficit_kpa(10, 0.0) == pytest.approx(1.228, rel=5e-3)


@pytest.mark.parametrize(("margin", "pitch", "stack"), [(4.0, 6.0, 2.2), (3.0, 3.4, 1.6), (5.0, 8.0, 3.0)])
def test_a_butt_seam_takes_what_the_trade_says_a_pitch(margin: float, pitch: float, stack: float) -> None:
    """Common practice: each needle √(e² + p²) + e + 2t for every pitch; here from the moves of one stitch more."""
    few, many = (
        sew_plan(
            straight_seam(pitch * n, pitch, stack, margin, "butt"),
            BARE,
        )
        for n in (10, 11)
    )
    each = np.hypot(margin, pitch) + margin + 2 * stack
    assert many.path_mm - few.path_mm == pytest.approx(2 * each, rel=1e-9)
